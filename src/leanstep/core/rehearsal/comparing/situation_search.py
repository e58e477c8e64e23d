"""In which situation a log begins that does not begin with the game: searched among those that the character was seen to come to."""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from contextlib import suppress
from dataclasses import replace

from leanstep.core.clips.timing import TICK
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.comparing.graph_mutations import other_values
from leanstep.core.rehearsal.comparing.logs import FoundStart, Log
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace, player_of
from leanstep.core.work import DEFAULT, Work

STRETCHES = (10, 30, 90, 270)
"""Ticks of a stretch of the log that is played in another order."""
PLAYED = 12_000
"""Ticks that are played in other orders."""
MOST = 1500
"""Situations that are tried at most."""
FIRST = 40
"""Ticks of the log with which every situation is tried; what fits is tried with ten times as many, and then with all."""
LONGEST = 240
"""Ticks that anything may have lasted, where nothing that was played fits to the end."""
ROUNDS, VARIED = 4, 3
"""How often what goes on longest is varied, and how many of it."""


def begun(machine: Machine, log: Log, work: Work = DEFAULT) -> Log:
    """The log from the situation on that was found for it; as it is where it begins at tick 0.  Its first tick only says where it
    begins.  ``work`` is told the situations tried.

    Situations are those in which takes, and stretches of the log played in other orders, come to the states of the log's first tick;
    where none goes on like the log to its end, those that go on longest are tried with other stays, clocks and counters.

    Raises
    ------
    Stopped : somebody stopped the work.
    LeanStepError : nothing that was played came to the states the log begins in.
    """
    if log.first == 0 or log.begins is not None:
        return log
    rest = Log(
        log.inputs[1:],
        tuple(None if row is None else row[1:] for row in log.states),
        log.first + 1,
        aside=log.aside,
    )
    wanted = [None if row is None else row[0] for row in log.states]
    met = _distinct(machine, _met(machine, log, wanted), log.inputs[0])
    if not met:
        names = [layer.states[state] for layer, state in zip(machine.layers, wanted) if state is not None]
        reason = f"it begins at tick {log.first} in {' and '.join(names)}, and nothing that was played comes there"
        raise LeanStepError("the log", reason, "Log from tick 0 on, or make a take that comes there.")
    tries = _Tries(machine, rest, work)
    best = tries.longest(met)
    for _ in range(ROUNDS):
        before = tries.fits
        if before == rest.ticks:
            break
        best = tries.longest([*best, *(other for one in best[:VARIED] for other in _other_pasts(machine, one))])
        if tries.fits <= before:
            break
    begins = FoundStart(machine, best[0], tries.fits, len(best), tries.tried)
    return replace(rest, begins=begins)


class _Tries:
    """Plays a log from situations; ``fits`` are the ticks the best of them go on like it."""

    def __init__(self, machine: Machine, log: Log, work: Work) -> None:
        self.machine, self.log, self.work = machine, log, work
        self.tried, self.fits = 0, 0

    def longest(self, situations: Sequence[Situation]) -> list[Situation]:
        """Those that go on like the log for longest."""
        best, before = list(situations), 0
        for ticks in (FIRST, 10 * FIRST, self.log.ticks):
            ticks = min(ticks, self.log.ticks)
            if ticks <= before:
                break
            fits = list(self._fits(best, ticks))
            self.tried += len(fits) if not before else 0
            self.fits = max(fits)
            best = [one for one, fit in zip(best, fits) if fit == self.fits]
            if self.fits < ticks:
                break
            before = ticks
        return best

    def _fits(self, situations: Sequence[Situation], ticks: int) -> Iterator[int]:
        """For how many ticks each goes on like the log."""
        changes, player = gathered(self.machine, self.log.inputs[:ticks]), player_of(self.machine, True)
        for number, one in enumerate(situations):
            self.work.at(self.tried + number)
            trace = player.play(changes, ticks, one)
            yield min(
                next((at for at, (mine, game) in enumerate(zip(trace.states(layer), states)) if mine != game), ticks)
                for layer, states in enumerate(self.log.states)
                if states is not None
            )


def _met(machine: Machine, log: Log, wanted: Sequence[int | None]) -> Iterator[Situation]:
    """The situations of what is played in which the layers are in the states that are wanted."""
    traces = []
    for take in machine.character.takes:
        # one that sets what is not there any more shows nothing
        with suppress(LeanStepError):
            traces.append(rehearse(machine, take))
    pick = random.Random(1)
    for length in STRETCHES:
        rows: list[dict[int, Symbolic]] = []
        while len(rows) < PLAYED // len(STRETCHES):
            at = pick.randrange(log.ticks)
            rows += log.inputs[at : at + length]
        traces.append(player_of(machine, True).play(gathered(machine, rows), len(rows)))
    places = [place for trace in traces for place in _places(trace, wanted)]
    for trace, tick in places if len(places) <= 2 * MOST else pick.sample(places, 2 * MOST):
        yield trace.after(tick + 1)


def _places(trace: Trace, wanted: Sequence[int | None]) -> Iterator[tuple[Trace, int]]:
    rows = [(state, trace.states(layer)) for layer, state in enumerate(wanted) if state is not None]
    ticks = len(rows[0][1])
    return ((trace, tick) for tick in range(ticks) if all(states[tick] == state for state, states in rows))


def _distinct(machine: Machine, situations: Iterator[Situation], row: dict[int, Symbolic]) -> list[Situation]:
    """Situations with what the log says comes in, those that differ."""
    found: dict[object, Situation] = {}
    buttons = [at for at, symbol in enumerate(machine.symbols) if symbol.kind == "button"]
    for one in situations:
        values = tuple(row.get(at, value) for at, value in enumerate(one.values))
        held = frozenset(at for at in buttons if values[at])
        made = replace(one, values=values, held=held, tick=0)
        found.setdefault(replace(made, body=None), made)  # type: ignore[arg-type]
        if len(found) >= MOST:
            break
    return list(found.values())


def _other_pasts(machine: Machine, one: Situation) -> Iterator[Situation]:
    """A situation in which one thing has lasted for another time: the stay of a layer, its clip played on from its beginning; what
    a state was left ago; a memory's counter; or a value of the graph is another."""
    for layer, state in enumerate(one.states):
        picture = machine.pictures[layer][state]
        for stay in range(LONGEST):
            stays = (*one.stays[:layer], stay, *one.stays[layer + 1 :])
            made = replace(one, stays=stays)
            if picture is not None:
                playhead, _ = picture.reels[one.picks[layer]].timing.step(0, stay * TICK)
                made = replace(made, playheads=(*one.playheads[:layer], playhead, *one.playheads[layer + 1 :]))
            yield made
    known = {(layer, state): ticks for layer, state, ticks in one.since}
    for place, most in machine.clocks:
        for ticks in range(min(most, LONGEST)):
            since = sorted((*where, since) for where, since in (known | {place: ticks}).items())
            yield replace(one, since=tuple(since))
    for at, memory in enumerate(machine.memories):
        for counter in range(min(memory.ticks, LONGEST) + 1):
            yield replace(one, counters=(*one.counters[:at], counter, *one.counters[at + 1 :]))
    for at, symbol in enumerate(machine.symbols):
        if symbol.owner == "graph" and not symbol.momentary:
            for value in other_values(symbol, one.values[at]):
                yield replace(one, values=(*one.values[:at], value, *one.values[at + 1 :]))
