"""The first tick on which a game and Lean Step differ, why, and what would explain it."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass

from leanstep.core.conditions.evaluation import decide
from leanstep.core.conditions.printing import number_text
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.comparing.explanations import Explanations, way_name
from leanstep.core.rehearsal.comparing.game_variants import Variant
from leanstep.core.rehearsal.comparing.logs import FoundStart, Log
from leanstep.core.rehearsal.comparing.words import parts_told
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.wording import counted
from leanstep.core.work import DEFAULT, Work

AHEAD = 400
"""Ticks beyond the first difference over which an explanation is tried first."""
TOLD = 3
"""Explanations that are told at most."""
ENOUGH = 6
"""Explanations of the whole log after which no others are tried."""
DRASTIC = ("missing", "lacking", "memory", "owner")
"""Kinds of explanations that are told behind smaller changes that explain as much, as are values that are open."""


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
    return Variant("", "", machine, log.inputs).states(log.ticks, log.start(machine))


def compare(machine: Machine, log: Log, work: Work = DEFAULT) -> Difference | None:
    """The first difference between a game's log and what Lean Step does with the same inputs; None: there is none.  A log that does
    not begin at tick 0 is compared from where it begins (:func:`~leanstep.core.rehearsal.comparing.situation_search.begun`).

    ``work`` is told the explanations tried.

    Raises
    ------
    Stopped : somebody stopped the work.
    """
    states = ours(machine, log)
    found = log.first_mismatch(states)
    if found is None:
        return None
    tick, layer = found
    game = log.states[layer]
    assert game is not None
    table = machine.layers[layer]
    before = states[layer][tick - 1] if tick else log.start(machine).states[layer]
    moment = _moment(machine, log, tick, layer)
    reasons = tuple(_reasons(moment, layer, game[tick]))
    suspects = tuple(_suspects(Explanations(moment, log, tick, layer, states), work))
    names = table.states
    return Difference(
        log.first + tick, table.name, names[before], names[states[layer][tick]], names[game[tick]], reasons, suspects
    )


def _moment(machine: Machine, log: Log, tick: int, layer: int) -> TickState:
    """The moment in which a layer's transitions are tried on a tick."""
    stepper = Stepper(machine, True)
    now = log.start(machine)
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


def _suspects(explanations: Explanations, work: Work) -> list[Suspect]:
    """What explains the game beyond the tick, the best first: what explains most, of those the smaller change, then what was tried
    first."""
    log, tick = explanations.log, explanations.tick
    near = min(log.ticks, tick + AHEAD)

    def until(one: Variant, ticks: int) -> int | None:
        mismatch = one.first_mismatch(log, ticks)
        return None if mismatch is None else mismatch[0]

    found: list[tuple[int, bool, int, Variant]] = []
    whole = set[str]()
    for number, one in enumerate(explanations):
        work.at(number)
        if len(whole) >= ENOUGH and one.sentence not in whole:
            break
        end = until(one, near)
        if end is None and near < log.ticks:
            end = until(one, log.ticks)
        if end is None or end > tick:
            drastic = one.kind in DRASTIC or one.about is not None
            found.append((-(log.ticks if end is None else end), drastic, number, one))
            whole |= {one.sentence} if end is None and not drastic else set()
    found.sort(key=lambda each: each[:3])
    told: dict[str, list[tuple[int, Variant]]] = {}
    for end, _, _, one in found:
        told.setdefault(one.sentence, []).append((-end, one))
    return [
        Suspect(
            ways[0][1].kind,
            sentence + _between(sorted(one.about for _, one in ways if one.about is not None)),
            None if ways[0][0] == log.ticks else log.first + ways[0][0],
        )
        for sentence, ways in itertools.islice(told.items(), TOLD)
    ]


def _between(values: list[float]) -> str:
    """Values that explain, in words."""
    if not values:
        return ""
    low, high = (number_text(float(f"{value:.4g}")) for value in (values[0], values[-1]))
    return f", such as {low}" if low == high else f", from {low} to {high}"


def summary(difference: Difference | None, log: Log) -> list[str]:
    """A comparison in lines."""
    return [*_found(difference, log), *log.aside]


def _found(difference: Difference | None, log: Log) -> Iterator[str]:
    if log.begins is not None:
        yield _how_sure(log, log.begins)
    if difference is None:
        yield f"The game does the same as Lean Step on all {counted(log.ticks, 'tick')}."
        return
    yield f"{difference.sentence[0].upper()}{difference.sentence[1:]}; both were in {difference.before}."
    yield from difference.reasons
    for one in difference.suspects:
        reach = "explains the whole log" if one.until is None else f"explains the log up to tick {one.until}"
        yield f"It {reach} that {one.sentence}."
    if not difference.suspects:
        yield "Nothing that was tried explains it."


def _how_sure(log: Log, begins: FoundStart) -> str:
    """What was searched, and how far what was found can be trusted."""
    sentence = (
        f"The log begins in the middle, on tick {log.first - 1}: of {counted(begins.tried, 'situation')} it may begin in, "
        f"{begins.alike} {'goes' if begins.alike == 1 else 'go'} on like the log "
    )
    if begins.fits >= log.ticks:
        return sentence + "to its end."
    doubt = "either the game does otherwise there, or it came from a situation that was not tried"
    return f"{sentence}up to tick {log.first + begins.fits}, none further; {doubt}."
