"""Takes made of values tick by tick, with what is not needed left out, and replayed before anyone sees them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from leanstep.core.character.takes import Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.concrete import Rows, permitted
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.rehearsal.limits import first_broken
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import given, spread
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import recorded
from leanstep.core.rehearsal.traces import Trace

Goal = Callable[[Trace], bool]
"""Whether a replay shows what it should."""
Early = tuple[int, Goal]
"""What a replay of so many ticks must show already; if it does not, the rest need not be played."""
MOST_REPLAYED = 3_000
"""Ticks that may be replayed to thin one witness out."""


@dataclass(frozen=True)
class Witness:
    """A free-world take that shows a verdict; ``replays`` is False only through a bug.  ``take`` is None where it would have
    more ``ticks`` than are replayed."""

    take: Take | None
    replays: bool
    ticks: int = 0


@dataclass(frozen=True)
class Aim:
    """What a take is to show: the sets of values that a search went through, tick by tick, values out of them, and what must be seen
    when these are played.  ``thin``: with every change undone that is not needed; ``early``: what must be seen of the beginning.  On
    the last ``fixed`` ticks the values must be of these sets, before that any do with which the same happens.
    ``surprise``: the condition because of which a replay does not show it."""

    path: list[Masks]
    rows: Rows
    goal: Goal
    thin: bool = True
    early: Early | None = None
    fixed: int = 0
    surprise: Callable[[Trace], x.Expression | None] = lambda trace: None


def witness_of(reach: Reach, aim: Aim) -> Witness:
    """The take with which a search shows something."""
    return made(reach, aim.rows, aim.goal, aim.thin, aim.early)


def replayed(reach: Reach, rows: Rows) -> Trace:
    """What these values do."""
    rows = pushed(reach, rows)
    return reach.player.play(_changes(reach, rows)[::-1], len(rows))


def made(reach: Reach, rows: Rows, goal: Goal, thin: bool = True, early: Early | None = None) -> Witness:
    """The take of these values, if ``thin`` with every change undone that is not needed."""
    rows = pushed(reach, rows)
    changes = _changes(reach, rows)
    shown = _shows(reach, changes, len(rows), goal, early)
    if shown and thin:
        changes = _thinned(reach, changes, len(rows), goal, early)
    return Witness(recorded(reach.machine, "witness", spread(changes, len(rows)), "free"), shown)


def pushed(reach: Reach, rows: Rows) -> Rows:
    """The rows with the sticks pushed whose bearings change."""
    machine = reach.machine
    for _, _, push, bearing in machine.sticks:
        if any(row[bearing] != machine.symbols[bearing].first for row in rows) and len(reach.world.values[push]) == 1:
            rows = [[*row[:push], 1.0, *row[push + 1 :]] for row in rows]
    return rows


def _changes(reach: Reach, rows: Rows) -> list[Setting]:
    """What changes, with the last tick first."""
    found: list[Setting] = []
    machine = reach.machine
    if machine.countdowns:
        return [
            (tick, index, value)
            for tick, row in reversed([*enumerate(settings_for(machine, rows))])
            for index, value in row
        ]
    before: list[Symbolic] = [symbol.first for symbol in machine.symbols]
    pulses = [index for index in machine.free if machine.symbols[index].momentary]
    for tick, row in enumerate(rows):
        if (row is before or row == before) and not any(row[index] for index in pulses):
            continue
        for index in reversed(reach.machine.free):
            if row[index] if reach.machine.symbols[index].momentary else row[index] != before[index]:
                found.append((tick, index, row[index]))
        before = row
    return found[::-1]


def settings_for(machine: Machine, rows: Rows) -> Iterator[list[tuple[int, Symbolic]]]:
    """What is set on each tick, so that countdowns, too, come to what the rows say."""
    stepper = Stepper(machine, free=True)
    now, before = stepper.first(), tuple(symbol.first for symbol in machine.symbols)
    freezes = machine.freezes
    for row in rows:
        some = given(machine, before, row, now.freeze > 0)
        yield [*some.items()]
        before = tuple(row)
        if freezes:
            now = stepper.step(now, some).situation


def _thinned(reach: Reach, changes: list[Setting], ticks: int, goal: Goal, early: Early | None) -> list[Setting]:
    """Undo changes one by one, the last first, as long as the replay still shows the goal."""
    work, at, undone = 0, 0, False
    while at < len(changes):
        work += ticks
        if work > MOST_REPLAYED:
            break
        trial = _needed(reach, changes[:at] + changes[at + 1 :])
        if _shows(reach, trial, ticks, goal, early):
            changes, undone = trial, True
        else:
            at += 1
        if at >= len(changes) and undone:
            at, undone = 0, False
    return changes


def _needed(reach: Reach, changes: list[Setting]) -> list[Setting]:
    """The changes without those to the value there is."""
    now = [symbol.first for symbol in reach.machine.symbols]
    found = []
    for change in reversed(changes):
        _, index, value = change
        if not reach.machine.symbols[index].lasts or now[index] != value:
            now[index] = value
            found.append(change)
    return found[::-1]


def _shows(reach: Reach, changes: list[Setting], ticks: int, goal: Goal, early: Early | None) -> bool:
    """Whether changes, the last first, are as declared and permitted, and show the goal."""
    in_order = changes[::-1]
    if first_broken(reach.machine, in_order) is not None or not _permitted(reach, in_order, ticks):
        return False
    if early is not None and not early[1](reach.player.play(in_order, early[0])):
        return False
    return goal(reach.player.play(in_order, ticks))


def _permitted(reach: Reach, changes: list[Setting], ticks: int) -> bool:
    """Whether the assumptions allow the values of every tick."""
    if not reach.world.assumptions:
        return True
    symbols = reach.machine.symbols
    if reach.machine.countdowns:
        played = reach.player.play(changes, ticks)
        return all(permitted(reach.world, dict(enumerate(values))) for values in played.values())
    row: dict[int, Symbolic] = {index: symbol.first for index, symbol in enumerate(symbols)}
    raised: list[int] = []
    for tick, changed in enumerate(spread(changes, ticks)):
        if tick and not changed and not raised:
            continue
        row |= dict.fromkeys(raised, False) | changed
        raised = [index for index in changed if symbols[index].momentary]
        if not permitted(reach.world, row):
            return False
    return True
