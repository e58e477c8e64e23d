"""Takes that begin in the middle: a situation written down by name, and found again in the character as it is now."""

from __future__ import annotations

import dataclasses
import hashlib
from collections.abc import Iterator
from dataclasses import replace

from msgspec import structs

from leanstep.core.body.body_state import BodyState
from leanstep.core.character.document import Character
from leanstep.core.character.takes import Beginning, Given, Left, Standing
from leanstep.core.conditions import expression as x
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.effects import fits, fitted
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import Fade
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper

KEPT = ("graph", "body")
"""Owners of the values that are written down; what comes from outside a take sets itself, before its first tick it is at rest."""


def beginning_of(machine: Machine, situation: Situation) -> Beginning:
    """A situation as a take can keep it."""
    names = [symbol.name for symbol in machine.symbols]
    body = situation.body
    return Beginning(
        layers=tuple(_standing(machine, situation, at) for at in range(len(machine.layers))),
        values=tuple(
            Given(name=symbol.name, value=value)
            for at, (symbol, value) in enumerate(zip(machine.symbols, situation.values))
            if _is_kept(machine, at) and value != symbol.first
        ),
        presses=tuple(Given(name=names[button], value=age) for button, age in situation.ages),
        left=tuple(
            Left(layer=machine.layers[at].name, state=machine.layers[at].states[state], ticks=ticks)
            for at, state, ticks in situation.since
        ),
        memories={
            key: counter for key, counter in zip(fingerprints(machine), situation.counters, strict=True) if counter
        },
        held=tuple(names[index] for index in sorted(situation.held)),
        raised=tuple(names[index] for index in sorted(situation.raised)),
        locks=tuple(name for at, name in enumerate(machine.locks) if situation.locks >> at & 1),
        locked=situation.locked,
        freeze=situation.freeze,
        body={field.name: getattr(body, field.name) for field in dataclasses.fields(BodyState)},
    )


def _is_kept(machine: Machine, at: int) -> bool:
    """Whether a symbol's value is written down: also where to a stick was pushed last, which stays while it is let go."""
    return machine.symbols[at].owner in KEPT or at in {bearing for _, _, _, bearing in machine.sticks}


def _standing(machine: Machine, situation: Situation, at: int) -> Standing:
    layer, fade = machine.layers[at], situation.fades[at]
    return Standing(
        layer=layer.name,
        state=layer.states[situation.states[at]],
        stay=situation.stays[at],
        playhead=situation.playheads[at],
        pick=situation.picks[at],
        over=situation.overs[at],
        fading=layer.states[fade.state] if fade is not None else "",
        fade=(fade.pick, fade.playhead, fade.left, int(fade.blocks)) if fade is not None else (),
    )


def situation_of(machine: Machine, beginning: Beginning) -> Situation:
    """The situation just before tick 0 of a take with this beginning.  What the character no longer has begins as it does at its
    start; memories count on as far as there is one of the same condition."""
    first, index = Stepper(machine).first(), machine.index
    tables = {layer.name: at for at, layer in enumerate(machine.layers)}
    states, stays, playheads = list(first.states), list(first.stays), list(first.playheads)
    picks, overs, fades = list(first.picks), list(first.overs), list(first.fades)
    for one in beginning.layers:
        at = tables.get(one.layer, -1)
        if at < 0 or one.state not in machine.layers[at].states:
            continue
        states[at], stays[at] = machine.layers[at].states.index(one.state), one.stay
        picture = machine.pictures[at][states[at]]
        picks[at], playheads[at] = picture.within(one.pick, one.playhead) if picture is not None else (0, 0)
        overs[at], fades[at] = one.over, _fade(machine, at, one)
    values = [symbol.first if symbol.owner in KEPT else value for symbol, value in zip(machine.symbols, first.values)]
    for given in beginning.values:
        at = index.get(given.name, -1)
        if at >= 0 and _is_kept(machine, at) and fits(machine.symbols[at], given.value):
            values[at] = fitted(machine.symbols[at], given.value)
    presses = {one.name: int(one.value) for one in beginning.presses}
    left = {(one.layer, one.state): one.ticks for one in beginning.left}
    return replace(
        first,
        states=tuple(states),
        stays=tuple(stays),
        playheads=tuple(playheads),
        picks=tuple(picks),
        overs=tuple(overs),
        fades=tuple(fades),
        counters=tuple(min(beginning.memories.get(key, 0), most) for key, most in _memories(machine)),
        ages=tuple(
            (button, presses[name])
            for button, most in machine.buffers
            if presses.get(name := machine.symbols[button].name, most) < most
        ),
        since=tuple(
            sorted((*place, age) for place, most in machine.clocks if (age := _left(machine, left, place)) < most)
        ),
        held=frozenset(index[name] for name in beginning.held if name in index),
        values=tuple(values),
        raised=frozenset(index[name] for name in beginning.raised if name in index),
        locks=sum(1 << at for at, name in enumerate(machine.locks) if name in beginning.locks),
        locked=beginning.locked,
        freeze=beginning.freeze,
        body=_body(first.body, beginning.body),
    )


def in_state(machine: Machine, situation: Situation, layer: str, state: str) -> Situation:
    """A situation in which a layer is in another state, just entered; all else is as it was.  Nothing is left of a crossfade."""
    whole = beginning_of(machine, situation)
    layers = tuple(Standing(layer=layer, state=state) if one.layer == layer else one for one in whole.layers)
    return situation_of(machine, structs.replace(whole, layers=layers))


def _body(first: BodyState, said: dict[str, float | bool]) -> BodyState:
    """The body as it is said, every value of its own kind."""
    return replace(first, **{name: type(getattr(first, name))(value) for name, value in said.items()})


def _fade(machine: Machine, at: int, one: Standing) -> Fade | None:
    if not one.fading or one.fading not in machine.layers[at].states or len(one.fade) != 4:
        return None
    pick, playhead, left, blocks = one.fade
    state = machine.layers[at].states.index(one.fading)
    picture = machine.pictures[at][state]
    return Fade(state, min(pick, len(picture.reels) - 1) if picture is not None else 0, playhead, left, bool(blocks))


def _left(machine: Machine, left: dict[tuple[str, str], int], place: tuple[int, int]) -> int:
    layer = machine.layers[place[0]]
    return left.get((layer.name, layer.states[place[1]]), 1 << 60)


def _memories(machine: Machine) -> Iterator[tuple[str, int]]:
    """Of every memory its fingerprint and the most it counts to."""
    return zip(fingerprints(machine), (memory.ticks for memory in machine.memories))


def fingerprints(machine: Machine) -> list[str]:
    """A short key for every memory, from what it remembers; the same for the same condition in another version."""
    return machine.once(fingerprints, lambda: [_fingerprint(machine, memory) for memory in machine.memories])


def _fingerprint(machine: Machine, memory: x.Memory) -> str:
    text = f"{memory.kind} {memory.ticks} {_words(machine, memory.operand)}"
    return hashlib.sha256(text.encode()).hexdigest()[:12]


def _words(machine: Machine, part: x.Expression) -> str:
    """An expression with names instead of numbers."""
    found = [type(part).__name__]
    for field in dataclasses.fields(part):  # type: ignore[arg-type]
        value = getattr(part, field.name)
        if field.name in ("symbol", "other"):
            found.append(machine.symbols[value].name)
        elif field.name == "state":
            found.append(machine.layers[part.layer].states[value])  # type: ignore[attr-defined]
        elif field.name == "layer":
            found.append(machine.layers[value].name)
        elif isinstance(part, x.Remembered):
            found.append(_fingerprint(machine, machine.memories[value]))
        elif isinstance(value, x.Expression):
            found.append(_words(machine, value))
        elif isinstance(value, tuple) and value and isinstance(value[0], x.Expression):
            found += [_words(machine, one) for one in value]
        else:
            found.append(repr(value))
    return f"({' '.join(found)})"


def remembered_alike(before: Character, after: Character) -> Character:
    """``after`` is ``before`` with other names: what beginnings of its takes remember is of the same memories as there."""
    if not any(take.begins is not None and take.begins.memories for take in after.takes):
        return after
    keys = dict(zip(fingerprints(compile_character(before)), fingerprints(compile_character(after))))
    takes = []
    for take in after.takes:
        if take.begins is not None:
            memories = {keys.get(key, key): count for key, count in take.begins.memories.items()}
            take = structs.replace(take, begins=structs.replace(take.begins, memories=memories))
        takes.append(take)
    return structs.replace(after, takes=tuple(takes))
