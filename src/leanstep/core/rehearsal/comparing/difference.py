"""The first tick on which a game and Lean Step differ, why, and what would explain it."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import amount, decide
from leanstep.core.conditions.printing import number_text
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.comparing import mutations
from leanstep.core.rehearsal.comparing.game_variants import Variant, other_ways
from leanstep.core.rehearsal.comparing.logs import Log
from leanstep.core.rehearsal.comparing.words import atom_words, parts_told
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper, moment_of
from leanstep.core.wording import counted

NEAR = 40
"""Ticks around the first difference in which other bounds are looked for."""
AHEAD = 400
"""Ticks beyond the first difference over which an explanation is tried first."""
TOLD = 3
"""Explanations that are told at most."""


@dataclass(frozen=True)
class Suspect:
    """What a game may do otherwise.  ``until`` is the first tick that this does not explain either; None: it explains the whole
    log."""

    kind: str
    sentence: str
    until: int | None


@dataclass(frozen=True)
class Difference:
    """On ``tick`` the game is in ``game``, Lean Step in ``ours``; both were in ``before`` (names of states of ``layer``).  ``reasons``
    say why Lean Step is, ``suspects`` what would explain the game, the best first."""

    tick: int
    layer: str
    before: str
    ours: str
    game: str
    reasons: tuple[str, ...]
    suspects: tuple[Suspect, ...]

    @property
    def sentence(self) -> str:
        """The difference in words."""
        stays = " still" if self.game == self.before else ""
        mine = " still" if self.ours == self.before else ""
        return f"on tick {self.tick} the game's {self.layer} is{stays} in {self.game}, and Lean Step's is{mine} in {self.ours}"


def ours(machine: Machine, log: Log) -> list[list[int]]:
    """The states of each layer, tick by tick, with what the game has logged as going in."""
    return Variant("", "", machine, log.inputs).states(log.ticks)


def compare(machine: Machine, log: Log, progress: Callable[[int], bool] | None = None) -> Difference | None:
    """The first difference between a game's log and what Lean Step does with the same inputs; None: there is none.

    ``progress`` is told the explanations tried, and returns False to stop trying.
    """
    states = ours(machine, log)
    found = first_mismatch(states, log)
    if found is None:
        return None
    tick, layer = found
    game = log.states[layer]
    assert game is not None
    table = machine.layers[layer]
    before = states[layer][tick - 1] if tick else table.start
    moment = _moment(machine, log, tick, layer)
    reasons = tuple(_reasons(moment, layer, game[tick]))
    suspects = tuple(_suspects(moment, log, tick, layer, progress))
    names = table.states
    return Difference(tick, table.name, names[before], names[states[layer][tick]], names[game[tick]], reasons, suspects)


def first_mismatch(states: list[list[int]], log: Log) -> tuple[int, int] | None:
    """The first tick, and on it the first layer, in which states are not those of a log; ticks that ``states`` lacks do not count."""
    best: tuple[int, int] | None = None
    for layer, (mine, theirs) in enumerate(zip(states, log.states)):
        if theirs is None:
            continue
        end = len(mine) if best is None else best[0]
        found = next((tick for tick in range(end) if mine[tick] != theirs[tick]), None)
        if found is not None:
            best = found, layer
    return best


def _moment(machine: Machine, log: Log, tick: int, layer: int) -> TickState:
    """The moment in which a layer's transitions are tried on a tick."""
    stepper = Stepper(machine, True)
    now: Situation = stepper.first()
    for row in log.inputs[:tick]:
        now = stepper.step(now, dict(row)).situation
    return stepper.when_tried(now, dict(log.inputs[tick]), layer)


def _reasons(moment: TickState, layer: int, theirs: int) -> Iterator[str]:
    """Why Lean Step takes what it takes in a moment, and does not take what the game took."""
    machine = moment.machine
    state, table = moment.states[layer], machine.layers[layer]
    if moment.blocked(layer):
        yield "a crossfade that may not be interrupted still runs"
        return
    taken = Stepper(machine, True).first_true(moment, layer)
    if taken is not None and taken.condition is not None:
        yield f"Lean Step takes {way_name(machine, layer, state, taken)}:"
        yield from (f"  {line}" for line in parts_told(machine, taken.condition, moment))
    if theirs == state:
        return
    there = [way for way in table.ways[state] if way.target == theirs]
    if not there:
        yield f"nothing leads from {table.states[state]} to {table.states[theirs]} in one step"
    for way in there:
        name = way_name(machine, layer, state, way)
        if way.condition is None:
            yield f"{name} is broken and counts as never true"
        elif taken is not None and decide(way.condition, moment):
            yield f"{name} is true as well, but is tried later"
        else:
            yield f"Lean Step does not take {name}:"
            yield from (f"  {line}" for line in parts_told(machine, way.condition, moment))


def way_name(machine: Machine, layer: int, state: int, way: CompiledTransition) -> str:
    """A transition as people say it."""
    states = machine.layers[layer].states
    kind, _, name = way.owner.partition(" ")
    owner = {"lane": f" (of lane {name})", "graph": " (of the whole graph)"}.get(kind, "")
    return f"{states[state]} → {states[way.target]}{owner}"


def _suspects(
    moment: TickState, log: Log, tick: int, layer: int, progress: Callable[[int], bool] | None
) -> list[Suspect]:
    """What explains the game beyond the tick, the best first: what explains most, of those what was tried first."""
    near = min(log.ticks, tick + AHEAD)
    found: list[tuple[int, int, Variant]] = []
    for number, one in enumerate(_tried(moment, log, tick, layer)):
        if progress is not None and not progress(number):
            break
        mismatch = first_mismatch(one.states(near), log)
        until = near if mismatch is None else mismatch[0]
        if until > tick:
            found.append((-until, number, one))
    found.sort(key=lambda each: each[:2])
    told: dict[str, list[Variant]] = {}
    for _, _, one in found:
        told.setdefault(one.sentence, []).append(one)
    made = []
    for sentence, ways in itertools.islice(told.items(), 2 * TOLD):
        mismatch = first_mismatch(ways[0].states(log.ticks), log)
        about = sorted(one.about for one in ways if one.about is not None)
        made.append(Suspect(ways[0].kind, sentence + _between(about), None if mismatch is None else mismatch[0]))
    made.sort(key=lambda one: (one.until is not None, -(one.until or 0)))
    return made[:TOLD]


def _between(values: list[float]) -> str:
    """Values that explain, in words."""
    if not values:
        return ""
    low, high = (number_text(float(f"{value:.4g}")) for value in (values[0], values[-1]))
    return f", such as {low}" if low == high else f", from {low} to {high}"


def _tried(moment: TickState, log: Log, tick: int, layer: int) -> Iterator[Variant]:
    """Everything that may be the reason, the simple first."""

    def made(changed: Iterator[mutations.Change]) -> Iterator[Variant]:
        return (Variant(one.kind, one.sentence, one.machine, log.inputs) for one in changed)

    machine = moment.machine
    table, game, state = machine.layers[layer], log.states[layer], moment.states[layer]
    assert game is not None
    taken = Stepper(machine, True).first_true(moment, layer)
    wanted = [way for way in table.ways[state] if way.target == game[tick] and way is not taken]
    named = [(way, way_name(machine, layer, state, way)) for way in ([taken] if taken is not None else []) + wanted]
    for way, name in named:
        yield from made(mutations.of_way(machine, layer, way, name))
    yield from made(_orders(machine, layer, table.ways[state]))
    yield from made(_of_layer(machine, layer))
    yield from other_ways(machine, log.inputs, tick)
    yield from made(_of_clips(machine))
    yield from made(_of_effects(machine))
    yield from made(_everywhere(machine))
    around = _around(machine, log, tick) if named else []
    for way, name in named:
        yield from _bounds(machine, log, around, layer, way, name)


def _orders(machine: Machine, layer: int, row: tuple[CompiledTransition, ...]) -> Iterator[mutations.Change]:
    states = machine.layers[layer].states
    for one, other in itertools.combinations(row, 2):
        yield mutations.Change(
            "order",
            f"the game tries → {states[other.target]} before → {states[one.target]}",
            mutations.swapped_order(machine, layer, one.index, other.index),
        )


def _of_layer(machine: Machine, layer: int) -> Iterator[mutations.Change]:
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
        yield mutations.Change("urgent", "the game knows no urgent transitions", ordered)
    if any(way.blocks for way in ways.values()):
        yield mutations.Change("fade", "in the game crossfades let transitions through", all_with(blocks=False))
    if any(way.keep_phase for way in ways.values()):
        yield mutations.Change("phase", "in the game no transition keeps the phase", all_with(keep_phase=False))
    if any(way.restart for way in ways.values()):
        without = mutations.with_ways(
            machine, layer, lambda state, row: tuple(one for one in row if one.target != state)
        )
        yield mutations.Change("restart", "in the game no state restarts itself", without)
    if any(way.uses for way in ways.values()):
        yield mutations.Change("unused", "in the game a buffered press is not used up", all_with(uses=()))


def _of_clips(machine: Machine) -> Iterator[mutations.Change]:
    """Clips a tick longer or shorter."""
    names = dict.fromkeys(
        reel.clip.name for row in machine.pictures for picture in row if picture is not None for reel in picture.reels
    )
    for name in names:
        for by in (1, -1):

            def other(picture: object, name: str = name, by: int = by) -> object:
                if picture is None:
                    return None
                reels = tuple(
                    replace(reel, timing=replace(reel.timing, length=max(1, reel.timing.length + by * 65536)))
                    if reel.clip.name == name
                    else reel
                    for reel in picture.reels  # type: ignore[attr-defined]
                )
                return replace(picture, reels=reels)  # type: ignore[type-var]

            pictures = tuple(tuple(map(other, row)) for row in machine.pictures)
            yield mutations.Change(
                "clip",
                f"the clip {name} is a tick {'longer' if by > 0 else 'shorter'} there",
                replace(machine, pictures=pictures),  # type: ignore[arg-type]
            )


def _of_effects(machine: Machine) -> Iterator[mutations.Change]:
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
                    yield mutations.Change(
                        "effect",
                        f"{words} {table.states[state]} does not {act.do} {what}".rstrip() + " there",
                        replace(machine, layers=layers),
                    )


def _everywhere(machine: Machine) -> Iterator[mutations.Change]:
    """What a game may do otherwise with all conditions."""
    for by in (1, -1):
        words = f"every time counts {'a tick longer' if by > 0 else 'a tick shorter'} there"

        def timed(part: x.Expression, by: int = by) -> x.Expression | None:
            return replace(part, ticks=max(0, part.ticks + by)) if isinstance(part, x.Stayed | x.SinceLeft) else None

        made = mutations.everywhere(machine, timed)
        memories = tuple(replace(memory, ticks=max(1, memory.ticks + by)) for memory in made.memories)
        yield mutations.Change("timers", words, replace(made, memories=memories))

    def held(part: x.Expression) -> x.Expression | None:
        return x.IsOn(part.symbol) if isinstance(part, x.Pressed) else None

    yield mutations.Change(
        "held", "everywhere a held button counts as pressed there", mutations.everywhere(machine, held)
    )

    def edged(part: x.Expression) -> x.Expression | None:
        if isinstance(part, x.Compared) and part.operator in mutations.OTHER_EDGE:
            return replace(part, operator=mutations.OTHER_EDGE[part.operator])
        return None

    yield mutations.Change("edge", "everywhere bounds count the other way there", mutations.everywhere(machine, edged))


def _bounds(
    machine: Machine, log: Log, around: list[TickState], layer: int, way: CompiledTransition, name: str
) -> Iterator[Variant]:
    """Other values of the constants in a condition: between what the compared amount was when the game did not take it yet and
    when it did, as far as the log tells."""
    if way.condition is None:
        return
    compared = [
        part
        for part in x.parts(way.condition)
        if isinstance(part, x.Compared) and isinstance(part.right, x.Fixed) and not isinstance(part.left, x.Fixed)
    ]
    if not compared:
        return
    for part in dict.fromkeys(compared):
        values = [amount(part.left, one) for one in around]
        tried = sorted(set(values), key=lambda value: abs(value - values[0]))[:24]
        near = sorted({(one + other) / 2 for one, other in itertools.pairwise(sorted(set(values)))})
        near.sort(key=lambda value: abs(value - values[0]))
        for value in [*near[:24], *(one * share for one in tried[:2] for share in (0.999, 1.001)), *tried]:
            if part.right == x.Fixed(value):
                continue
            other = replace(part, right=x.Fixed(value))
            changed = mutations.with_condition(machine, layer, way.index, mutations.swapped(way.condition, part, other))
            yield Variant(
                "bound",
                f"{name}: {atom_words(machine, part)} has another bound there",
                changed,
                log.inputs,
                about=value,
            )


def _around(machine: Machine, log: Log, tick: int) -> list[TickState]:
    """The ends of a tick and of those around it, the nearest first."""
    stepper = Stepper(machine, True)
    now, found = stepper.first(), []
    for number, row in enumerate(log.inputs[: tick + NEAR]):
        now = stepper.step(now, dict(row)).situation
        if number >= tick - NEAR:
            found.append((abs(number - tick), number, moment_of(machine, now)))
    return [moment for _, _, moment in sorted(found, key=lambda each: each[:2])]


def summary(difference: Difference | None, log: Log) -> list[str]:
    """A comparison in lines."""
    if difference is None:
        return [f"The game does the same as Lean Step on all {counted(log.ticks, 'tick')}."]
    lines = [
        f"{difference.sentence[0].upper()}{difference.sentence[1:]}; both were in {difference.before}.",
        *difference.reasons,
    ]
    for one in difference.suspects:
        reach = "explains the whole log" if one.until is None else f"explains the log up to tick {one.until}"
        lines.append(f"It {reach} that {one.sentence}.")
    if not difference.suspects:
        lines.append("Nothing that was tried explains it.")
    return lines
