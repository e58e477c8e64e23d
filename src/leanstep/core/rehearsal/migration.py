"""Going on in an edited character from the same place."""

from __future__ import annotations

from dataclasses import replace

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import Fade
from leanstep.core.rehearsal.situation import Situation


def carried(old: Machine, new: Machine, before: Situation, first: Situation) -> Situation:
    """The situation of an old machine in a new one: states, values, ages, locks, fades and the freeze by name, as far as they
    still mean something; everything else as in ``first``."""
    layers = {table.name: at for at, table in enumerate(old.layers)}
    states, stays, playheads = list(first.states), list(first.stays), list(first.playheads)
    overs, fades, picks = list(first.overs), list(first.fades), list(first.picks)
    for at, layer in enumerate(new.layers):
        there = layers.get(layer.name)
        name = old.layers[there].states[before.states[there]] if there is not None else ""
        if there is None or name not in layer.states:
            continue
        state = states[at] = layer.states.index(name)
        stays[at], overs[at] = before.stays[there], before.overs[there]
        fades[at] = _fade(old, new, there, at, before.fades[there])
        picture = new.pictures[at][state]
        brought = picture.within(before.picks[there], before.playheads[there]) if picture is not None else (0, 0)
        picks[at], playheads[at] = brought
    return replace(
        first,
        states=tuple(states),
        stays=tuple(stays),
        playheads=tuple(playheads),
        overs=tuple(overs),
        fades=tuple(fades),
        picks=tuple(picks),
        counters=_counters(old, new, before, first),
        ages=_ages(old, new, before),
        since=_since(old, new, before),
        held=frozenset(_moved(old, new, index) for index in before.held) - {-1},
        values=_values(old, new, before),
        raised=frozenset(_moved(old, new, index) for index in before.raised) - {-1},
        locks=sum(1 << at for at, name in enumerate(new.locks) if _locked(old, before, name)),
        locked=before.locked,
        freeze=before.freeze,
        body=before.body if old.character.body.model == new.character.body.model else first.body,
        tick=before.tick,
    )


def behaves_alike(old: Machine, new: Machine) -> bool:
    """Whether two machines do the same with the same inputs, whatever else differs in their characters."""
    one, other = old.character, new.character
    if (one.rate, one.body, one.course, _asks(old)) != (other.rate, other.body, other.course, _asks(new)):
        return False
    same = ("symbols", "memories", "layers", "pictures", "formulas", "buffers", "clocks", "locks")
    return all(getattr(old, field) == getattr(new, field) for field in same)


def _asks(machine: Machine) -> list[tuple[object, ...]]:
    """What states ask of the body while they are active."""
    layers = zip(machine.character.layers, machine.boxes)
    return [
        (one.mode, one.cap, one.fall_cap, one.face, box) for layer, row in layers for one, box in zip(layer.states, row)
    ]


def _moved(old: Machine, new: Machine, index: int) -> int:
    """Where a symbol is in the new machine; -1 when it is gone or of another kind."""
    symbol = old.symbols[index]
    there = new.index.get(symbol.name, -1)
    return there if there >= 0 and new.symbols[there].kind == symbol.kind else -1


def _values(old: Machine, new: Machine, before: Situation) -> tuple[float | bool | str, ...]:
    values = []
    for symbol in new.symbols:
        at = old.index.get(symbol.name)
        same = at is not None and (old.symbols[at].kind, old.symbols[at].owner) == (symbol.kind, symbol.owner)
        value = before.values[at] if at is not None and same else symbol.first
        if symbol.kind == "choice" and value not in symbol.choices:
            value = symbol.first
        if symbol.kind in x.NUMERIC:
            value = min(max(float(value), symbol.low), symbol.high)
        values.append(value)
    return tuple(values)


def _locked(old: Machine, before: Situation, name: str) -> bool:
    return name in old.locks and bool(before.locks >> old.locks.index(name) & 1)


def _fade(old: Machine, new: Machine, there: int, at: int, fade: Fade | None) -> Fade | None:
    """A crossfade, as long as the state left still shows as much."""
    if fade is None:
        return None
    name = old.layers[there].states[fade.state]
    if name not in new.layers[at].states:
        return None
    state = new.layers[at].states.index(name)
    picture = new.pictures[at][state]
    if picture is None or fade.pick >= len(picture.reels):
        return None
    return replace(fade, state=state, playhead=min(fade.playhead, picture.reels[fade.pick].timing.length - 1))


def _ages(old: Machine, new: Machine, before: Situation) -> tuple[tuple[int, int], ...]:
    known = {old.symbols[button].name: age for button, age in before.ages}
    named = ((button, most, new.symbols[button].name) for button, most in new.buffers)
    return tuple((button, known[name]) for button, most, name in named if known.get(name, most) < most)


def _since(old: Machine, new: Machine, before: Situation) -> tuple[tuple[int, int, int], ...]:
    known = {(old.layers[at].name, old.layers[at].states[state]): age for at, state, age in before.since}
    found = []
    for (at, state), most in new.clocks:
        age = known.get((new.layers[at].name, new.layers[at].states[state]), most)
        if age < most:
            found.append((at, state, age))
    return tuple(sorted(found))


def _counters(old: Machine, new: Machine, before: Situation, first: Situation) -> tuple[int, ...]:
    """The counters of memories that are the same in both; the others begin anew."""
    same = [one.name for one in old.symbols] == [one.name for one in new.symbols]
    same = same and [(one.name, one.states) for one in old.layers] == [(one.name, one.states) for one in new.layers]
    known: dict[x.Memory, int] = {}
    for memory, counter in zip(old.memories, before.counters) if same else ():
        if not any(isinstance(part, x.Remembered) for part in x.parts(memory.operand)):
            known[memory] = counter
    return tuple(known.get(memory, counter) for memory, counter in zip(new.memories, first.counters))
