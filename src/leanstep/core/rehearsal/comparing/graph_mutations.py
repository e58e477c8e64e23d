"""What a game does otherwise all over: with every transition of a layer, with clips, marks and effects, with every condition, or from
another beginning."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import replace

from leanstep.core.character.edits import change
from leanstep.core.clips.timing import TICK
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.printing import number_text
from leanstep.core.graph.clip_tables import Cue, Picture, Reel
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.rehearsal.comparing import mutations
from leanstep.core.rehearsal.comparing.mutations import Change
from leanstep.core.rehearsal.comparing.words import value_words
from leanstep.core.wording import counted

RATES = (30.0, 60.0, 50.0, 120.0, 24.0, 25.0, 100.0, 144.0, 20.0, 15.0)
"""Ticks a second at which games run."""
MOST_STARTS = 24
"""Other start values that are tried of a parameter."""


def of_layer(machine: Machine, layer: int) -> Iterator[Change]:
    """What a game may do otherwise with all transitions of a layer."""
    table = machine.layers[layer]
    ways = {way.index: way for row in table.ways for way in row}

    def all_with(**values: object) -> Machine:
        return mutations.with_ways(
            machine,
            layer,
            lambda state, row: tuple(replace(one, **values) for one in row),  # type: ignore[arg-type]
        )

    if any(way.urgent for way in ways.values()):
        ordered = mutations.with_ways(
            machine,
            layer,
            lambda state, row: tuple(sorted(row, key=lambda one: (not one.owner.startswith("state"), one.index))),
        )
        yield Change("urgent", "the game knows no urgent transitions", ordered)
    if any(way.blocks for way in ways.values()):
        yield Change("fade", "in the game crossfades let transitions through", all_with(blocks=False))
    if any(way.keep_phase for way in ways.values()):
        yield Change("phase", "in the game no transition keeps the phase", all_with(keep_phase=False))
    if any(way.restart for way in ways.values()):
        without = mutations.with_ways(
            machine, layer, lambda state, row: tuple(one for one in row if one.target != state)
        )
        yield Change("restart", "in the game no state restarts itself", without)
    if any(way.uses for way in ways.values()):
        yield Change("unused", "in the game a buffered press is not used up", all_with(uses=()))


def of_clips(machine: Machine) -> Iterator[Change]:
    """Clips a tick longer or shorter; marks that do something and spans a little later or earlier, and marks that are not there."""
    reels = [reel for row in machine.pictures for picture in row if picture is not None for reel in picture.reels]
    for reel in {reel.clip.name: reel for reel in reels}.values():
        name, timing = reel.clip.name, reel.timing
        for by in (1, -1):
            other = replace(timing, length=max(1, timing.length + by * TICK))
            sentence = f"the clip {name} is a tick {'longer' if by > 0 else 'shorter'} there"
            yield Change("clip", sentence, _with_reels(machine, name, timing=other))
        for number, cue in enumerate(reel.cues):
            if cue.acts:
                yield from _of_mark(machine, reel, number)
        for number, window in enumerate(reel.windows):
            for by, part in itertools.product((1, -1, 2, -2), ("start", "end")):
                moved = replace(window, **{part: getattr(window, part) + by * TICK})
                does = "begins" if part == "start" else "ends"
                sentence = f"the {x.span_words(window.name)} of the clip {name} {does} {_sooner(by)} there"
                windows = (*reel.windows[:number], moved, *reel.windows[number + 1 :])
                yield Change("span", sentence, _with_reels(machine, name, windows=windows))


def _of_mark(machine: Machine, reel: Reel, number: int) -> Iterator[Change]:
    """A mark of a clip that is not there, or comes a little later or earlier."""
    cue, clip = reel.cues[number], reel.clip.name

    def put(*instead: Cue) -> Machine:
        return _with_reels(machine, clip, cues=(*reel.cues[:number], *instead, *reel.cues[number + 1 :]))

    words = f"the mark {cue.name} of the clip {clip}"
    yield Change("mark", f"{words} does nothing there", put())
    for by in (1, -1, 2, -2, 3, -3):
        if cue.at + by * TICK >= 0:
            yield Change("mark", f"{words} comes {_sooner(by)} there", put(replace(cue, at=cue.at + by * TICK)))


def _sooner(by: int) -> str:
    return f"{counted(abs(by), 'tick')} {'later' if by > 0 else 'sooner'}"


def _with_reels(machine: Machine, clip: str, **values: object) -> Machine:
    """A machine in which a clip is laid out otherwise, wherever it is shown."""

    def changed(picture: Picture | None) -> Picture | None:
        if picture is None:
            return None
        reels = (replace(one, **values) if one.clip.name == clip else one for one in picture.reels)  # type: ignore[arg-type]
        return replace(picture, reels=tuple(reels))

    return replace(machine, pictures=tuple(tuple(map(changed, row)) for row in machine.pictures))


def of_effects(machine: Machine) -> Iterator[Change]:
    """Effects that a game does not have."""
    for at, table in enumerate(machine.layers):
        for words, part in (("entering", "entry"), ("leaving", "leave")):
            rows = getattr(table, part)
            for state, acts in enumerate(rows):
                for number, act in enumerate(acts):
                    without = (*acts[:number], *acts[number + 1 :])
                    made = replace(table, **{part: (*rows[:state], without, *rows[state + 1 :])})  # type: ignore[arg-type]
                    layers = (*machine.layers[:at], made, *machine.layers[at + 1 :])
                    what = machine.symbols[act.target].name if act.do in ("set", "add", "raise") else ""
                    yield Change(
                        "effect",
                        f"{words} {table.states[state]} does not {act.do} {what}".rstrip() + " there",
                        replace(machine, layers=layers),
                    )


def of_start(machine: Machine) -> Iterator[Change]:
    """Other values that parameters of the graph start with, and other states that layers begin in."""
    for at, symbol in enumerate(machine.symbols):
        if symbol.owner != "graph" or symbol.momentary:
            continue
        for value in other_values(symbol, symbol.first):
            symbols = (*machine.symbols[:at], replace(symbol, start=value), *machine.symbols[at + 1 :])
            sentence = f"{symbol.name} starts as {value_words(value)} there, not as {value_words(symbol.first)}"
            yield Change("start", sentence, replace(machine, symbols=symbols))
    for at, table in enumerate(machine.layers):
        for state, name in enumerate(table.states):
            if state != table.start:
                layers = (*machine.layers[:at], replace(table, start=state), *machine.layers[at + 1 :])
                yield Change("start", f"{table.name} begins in {name} there", replace(machine, layers=layers))


def other_values(symbol: x.Symbol, now: Symbolic) -> list[Symbolic]:
    """What else a parameter may be than ``now``, the near first."""
    if symbol.kind == "flag":
        return [not now]
    if symbol.kind == "choice":
        return [choice for choice in symbol.choices if choice != now]
    assert isinstance(now, int | float) and not isinstance(now, bool)
    steps = [now + by * sign for by in range(1, MOST_STARTS) for sign in (1, -1)]
    found = [value for value in steps if symbol.low <= value <= symbol.high][:MOST_STARTS]
    return list(dict.fromkeys([*found, float(symbol.low), float(symbol.high)] if found else []))


def of_rate(machine: Machine) -> Iterator[Change]:
    """Other rates at which the game may run."""
    for rate in RATES:
        if rate != machine.character.rate:
            made = compile_character(change(machine.character, (), rate=rate))
            yield Change("rate", f"the game runs at {number_text(rate)} ticks a second", made)


def of_owner(machine: Machine, layer: int, state: int, way: CompiledTransition) -> Iterator[Change]:
    """A transition that in the game leads from more or from fewer states: it is tried in ``state`` where here it is not, or the other
    way round."""
    of = machine.character.layers[layer]
    here = of.transitions[way.index]
    tried = way in machine.layers[layer].ways[state]
    lane = of.states[state].lane
    lanes = [one for one in of.lane_names if one and (one == lane) != tried]
    states = [one.name for at, one in enumerate(of.states) if (at == state) != tried and one.name != here.to]
    places = [("", "")] * (not tried) + [("", one) for one in lanes] + [(one, "") for one in states[:MOST_STARTS]]
    for source, from_lane in places:
        if (source, from_lane) != (here.source, here.from_lane):
            other = change(
                machine.character, ("layers", layer, "transitions", way.index), source=source, from_lane=from_lane
            )
            ours, theirs = _leads(here.source, here.from_lane), _leads(source, from_lane)
            sentence = f"the way to {here.to} that leads {ours} here leads {theirs} there"
            yield Change("owner", sentence, compile_character(other))


def _leads(source: str, lane: str) -> str:
    return f"from {source}" if source else f"from every state of lane {lane}" if lane else "from every state"


def everywhere(machine: Machine) -> Iterator[Change]:
    """What a game may do otherwise with all conditions."""
    for by in (1, -1):
        words = f"every time counts {'a tick longer' if by > 0 else 'a tick shorter'} there"

        def timed(part: x.Expression, by: int = by) -> x.Expression | None:
            return replace(part, ticks=max(0, part.ticks + by)) if isinstance(part, x.Stayed | x.SinceLeft) else None

        made = mutations.everywhere(machine, timed)
        memories = tuple(replace(memory, ticks=max(1, memory.ticks + by)) for memory in made.memories)
        yield Change("timers", words, replace(made, memories=memories))

    def held(part: x.Expression) -> x.Expression | None:
        return x.IsOn(part.symbol) if isinstance(part, x.Pressed) else None

    yield Change("held", "everywhere a held button counts as pressed there", mutations.everywhere(machine, held))

    def edged(part: x.Expression) -> x.Expression | None:
        if isinstance(part, x.Compared) and part.operator in mutations.OTHER_EDGE:
            return replace(part, operator=mutations.OTHER_EDGE[part.operator])
        return None

    yield Change("edge", "everywhere bounds count the other way there", mutations.everywhere(machine, edged))
