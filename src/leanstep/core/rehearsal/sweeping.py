"""Playing very many takes nobody would: buttons mashed, hands that wander, every button in every state.

Takes come in lots of :data:`LOT`; each follows from the seed and its number alone, so that lots may be played anywhere, in any order.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace

from leanstep.core.character.takes import Take
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.evaluation import Moment, Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.expectations import missed_expectations
from leanstep.core.rehearsal.limits import towards
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.takes import recorded
from leanstep.core.rehearsal.traces import Trace, player_of
from leanstep.core.work import DEFAULT, Work, look

LOT = 40
"""Takes in a lot: the first half of mashing and wandering, the second of every button in the states these came to."""
HOLDS = (2, 4, 8, 16, 32, 64)
"""Ticks for which hands that wander hold still."""
AFTER = 40
"""Ticks that are played on after a button is pressed in a state."""
Rows = list[dict[int, Symbolic]]
Key = tuple[str, str, str]
"""What was seen: ``state``, ``flicker`` or ``expectation``, with layer and state."""


@dataclass(frozen=True)
class Seen:
    """The shortest take so far that shows something, on its last tick; ``number`` is that of the take it was cut from."""

    ticks: int
    number: int
    rows: tuple[dict[int, Symbolic], ...]


@dataclass
class Sweep:
    """What was seen in so many takes and ticks."""

    takes: int = 0
    ticks: int = 0
    seen: dict[Key, Seen] = field(default_factory=dict)

    def add(self, other: Sweep) -> None:
        """Take in what another lot has shown; of two takes the shorter, then the earlier, counts."""
        self.takes += other.takes
        self.ticks += other.ticks
        for key, one in other.seen.items():
            self._keep(key, one)

    def _keep(self, key: Key, one: Seen) -> None:
        before = self.seen.get(key)
        if before is None or (one.ticks, one.number) < (before.ticks, before.number):
            self.seen[key] = one

    def look_at(self, trace: Trace, rows: Rows, number: int) -> None:
        """Keep what a take shows."""
        machine = trace.machine
        self.takes += 1
        self.ticks += len(rows)

        def keep(kind: str, layer: int, state: int, tick: int) -> None:
            table = machine.layers[layer]
            self._keep((kind, table.name, table.states[state]), Seen(tick + 1, number, tuple(rows[: tick + 1])))

        for layer in range(len(machine.layers)):
            left: dict[int, int] = {}
            state = trace.first.states[layer]
            for tick, entered in trace.entries(layer):
                if entered != state:
                    left[state] = tick
                    if entered in left and tick - left[entered] < machine.window:
                        keep("flicker", layer, entered, tick)
                    keep("state", layer, entered, tick)
                state = entered
        for expects, ticks in missed_expectations(trace) if machine.expects else ():
            keep("expectation", expects.layer, expects.state, ticks[0])


def lots(takes: int) -> list[tuple[int, int]]:
    """The numbers of the takes in each lot: from, up to but not including."""
    return [(begin, min(begin + LOT, takes)) for begin in range(0, takes, LOT)]


def sweep(machine: Machine, seed: int, takes: int, ticks: int, work: Work = DEFAULT) -> Sweep:
    """Play so many takes of ``ticks`` ticks, lot by lot; ``work`` is told how many are played.

    Raises
    ------
    Stopped : somebody stopped the work.
    """
    found = Sweep()
    for begin, end in lots(takes):
        found.add(sweep_lot(machine, seed, begin, end, ticks))
        work.at(found.takes)
    return found


def sweep_lot(machine: Machine, seed: int, begin: int, end: int, ticks: int) -> Sweep:
    """Play one lot of takes of ``ticks`` ticks."""
    found, hands = Sweep(), _Hands(machine)
    middle = begin + (end - begin + 1) // 2
    for number in range(begin, end):
        look()
        pick = random.Random(f"{seed} {number}")
        rows = hands.mash(pick, ticks) if number % 2 else hands.wander(pick, ticks)
        if number >= middle:
            rows = hands.press_in(pick, found, ticks)
        rows = hands.within_limits(rows)
        trace = player_of(machine, False).play(gathered(machine, rows), len(rows))
        rows = rows[: hands.allowed(trace)]
        if len(rows) < len(trace.steps):
            trace = player_of(machine, False).play(gathered(machine, rows), len(rows))
        found.look_at(trace, rows, number)
    return found


def never_seen(machine: Machine, found: Sweep) -> list[tuple[str, str]]:
    """Layer and state of the states no take came to."""
    return [
        (table.name, state)
        for table in machine.layers
        for at, state in enumerate(table.states)
        if at != table.start and ("state", table.name, state) not in found.seen
    ]


def take_of(machine: Machine, key: Key, one: Seen) -> Take:
    """A take to be replayed."""
    return recorded(machine, " ".join(key), one.rows)


def shorter(machine: Machine, key: Key, one: Seen) -> Seen:
    """What still shows the same, with as much as possible not done: pushes and presses are left out as far as that goes."""
    rows = list(one.rows)
    for index in sorted({index for row in rows for index in row}):
        rest = machine.symbols[index].rest
        if all(row.get(index, rest) == rest for row in rows):
            continue
        tried = [{at: value for at, value in row.items() if at != index} for row in rows]
        if _shows(machine, key, tried):
            rows = tried
    return replace(one, rows=tuple(rows))


def _shows(machine: Machine, key: Key, rows: Rows) -> bool:
    trace = player_of(machine, False).play(gathered(machine, rows), len(rows))
    again = Sweep()
    again.look_at(trace, rows, 0)
    return key in again.seen and again.seen[key].ticks <= len(rows)


class _Hands:
    """Makes inputs, tick by tick: of the controls and of what the game sets."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        symbols = machine.symbols
        self.buttons = [at for at, one in enumerate(symbols) if one.kind == "button"]
        self.sticks = [(across, up) for across, up, _, _ in machine.sticks]
        self.game = [at for at, one in enumerate(symbols) if one.owner == "game"]
        self.pulses = [at for at in self.game if symbols[at].momentary]
        self.countdowns = [at for at in self.game if symbols[at].countdown]
        self.assumed = [truth(one) for one in machine.assumptions]

    def start(self) -> dict[int, Symbolic]:
        """Nothing held, everything at rest."""
        axes = [axis for stick in self.sticks for axis in stick]
        kept = (at for at in self.game if at not in self.countdowns)
        return {at: self.machine.symbols[at].rest for at in (*self.buttons, *axes, *kept)}

    def mash(self, pick: random.Random, ticks: int) -> Rows:
        """Buttons pressed and let go of as fast as hands can."""
        often = pick.choice([0.1, 0.3, 0.5])

        def go_on(now: dict[int, Symbolic], tick: int) -> None:
            for at in self.buttons:
                if pick.random() < often:
                    now[at] = not now[at]
            if pick.random() < often / 2:
                self._push(pick, now)
            if pick.random() < often / 8:
                self._set_game(pick, now)

        return self._made(ticks, go_on)

    def wander(self, pick: random.Random, ticks: int) -> Rows:
        """Everything may change now and then, and is held for a while."""
        due = 0

        def go_on(now: dict[int, Symbolic], tick: int) -> None:
            nonlocal due
            if tick < due:
                return
            due = tick + pick.choice(HOLDS)
            for at in self.buttons:
                now[at] = pick.random() < 0.3
            self._push(pick, now)
            if pick.random() < 0.3:
                self._set_game(pick, now)

        return self._made(ticks, go_on)

    def press_in(self, pick: random.Random, found: Sweep, ticks: int) -> Rows:
        """A way to a state that was seen, then one thing that hands or the game can do there, for a while."""
        known = sorted(key for key in found.seen if key[0] == "state")
        way = list(found.seen[pick.choice(known)].rows) if known and pick.random() < 0.9 else []
        if way and pick.random() < 0.5:
            # hands let go first
            way += [self.start()] * pick.choice([1, 2, 8])
        now = dict(way[-1]) if way else self.start()
        pressed = pick.choice([*self.buttons, *self.pulses, *range(-1, -1 - len(self.sticks), -1)] or [0])
        rows = self._made(AFTER, lambda row, tick: self._do(pick, row, pressed) if tick == 1 else None, now)
        return [*way, *rows][: max(ticks, AFTER)]

    def _do(self, pick: random.Random, now: dict[int, Symbolic], pressed: int) -> None:
        if pressed < 0:
            self._push(pick, now)
        elif pressed in now:
            now[pressed] = not now[pressed]

    def _push(self, pick: random.Random, now: dict[int, Symbolic]) -> None:
        for across, up in self.sticks:
            if pick.random() < 0.25:
                now[across], now[up] = round(pick.uniform(-1.0, 1.0), 2), round(pick.uniform(-1.0, 1.0), 2)
            else:
                now[across], now[up] = pick.choice(((0.0, 0.0), (1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)))

    def _set_game(self, pick: random.Random, now: dict[int, Symbolic]) -> None:
        if not self.game:
            return
        at = pick.choice(self.game)
        symbol = self.machine.symbols[at]
        if symbol.kind in ("flag", "pulse"):
            now[at] = not now[at]
        elif symbol.kind == "choice":
            now[at] = pick.choice(symbol.choices)
        else:
            value = pick.choice([symbol.low, symbol.high, symbol.rest, pick.uniform(symbol.low, symbol.high)])
            now[at] = float(round(float(value))) if symbol.kind == "whole" else float(value)

    def _made(
        self, ticks: int, go_on: Callable[[dict[int, Symbolic], int], None], now: dict[int, Symbolic] | None = None
    ) -> Rows:
        """So many ticks of inputs."""
        now, rows = dict(now or self.start()), []
        for tick in range(ticks):
            for at in self.pulses:
                now[at] = False
            for at in self.countdowns:
                now.pop(at, None)
            go_on(now, tick)
            rows.append(dict(now))
        return rows

    def within_limits(self, rows: Rows) -> Rows:
        """The inputs with numbers that change only so fast, and pulses that come only so often."""
        if not self.machine.limited:
            return rows
        now, made, raised = self.start(), [], dict[int, int]()
        for tick, row in enumerate(rows):
            now = towards(self.machine, now, row)
            for at in self.pulses:
                spacing = self.machine.symbols[at].spacing
                if now[at] and tick - raised.get(at, -spacing) < spacing:
                    now[at] = False
                elif now[at]:
                    raised[at] = tick
            made.append(dict(now))
        return made

    def allowed(self, trace: Trace) -> int:
        """Ticks of a take up to which every assumption holds."""
        if not self.assumed:
            return len(trace.steps)
        for tick, values in enumerate(trace.values()):
            moment = Moment(list(values))
            if not all(holds(moment) for holds in self.assumed):
                return tick
        return len(trace.steps)


def together(parts: Iterable[Sweep]) -> Sweep:
    """What lots have shown together."""
    found = Sweep()
    for one in parts:
        found.add(one)
    return found
