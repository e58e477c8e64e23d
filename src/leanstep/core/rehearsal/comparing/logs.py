"""What a game has logged: the state of each layer, and what went in, tick by tick."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from leanstep.core.bearings import bearing_of, push_of
from leanstep.core.character.takes import Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.checking import nearest
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.migration import carried
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import LONGEST_PLAYED, cell_of, checked, csv_rows
from leanstep.core.wording import listed

HOW = "Log a column tick, one for each layer with the name of its state, and one for everything the game sets."


Inputs = tuple[dict[int, Symbolic], ...]
"""The values from outside, by symbol, tick by tick."""


@dataclass(frozen=True)
class FoundStart:
    """The situation a log begins in, as far as it was found: for ``fits`` ticks it goes on like the log, as ``alike`` of the ``tried``
    situations do."""

    machine: Machine
    situation: Situation
    fits: int
    alike: int
    tried: int


@dataclass(frozen=True)
class Log:
    """A game's log.  ``inputs`` are the values from outside on each tick, by symbol; ``states`` those of each layer, by tick, None for
    a layer that was not logged.  ``first`` is the number of its first tick; where that is not 0, ``begins`` is the situation before
    it, once it was searched.  ``aside`` says what is not compared."""

    inputs: Inputs
    states: tuple[tuple[int, ...] | None, ...]
    first: int = 0
    begins: FoundStart | None = None
    aside: tuple[str, ...] = ()

    @property
    def ticks(self) -> int:
        """How many were logged."""
        return len(self.inputs)

    def first_mismatch(self, states: Sequence[Sequence[int]]) -> tuple[int, int] | None:
        """The first tick, and on it the first layer, in which states, layer by layer, are not those of the log; ticks that ``states``
        lacks do not count."""
        best: tuple[int, int] | None = None
        for layer, (mine, theirs) in enumerate(zip(states, self.states)):
            if theirs is None:
                continue
            end = len(mine) if best is None else best[0]
            found = next((tick for tick in range(end) if mine[tick] != theirs[tick]), None)
            if found is not None:
                best = found, layer
        return best

    def start(self, machine: Machine) -> Situation:
        """The situation before its first tick, in a machine."""
        first = Stepper(machine, True).first()
        if self.begins is None or self.begins.machine is machine:
            return first if self.begins is None else self.begins.situation
        return carried(self.begins.machine, machine, self.begins.situation, first)


def log_of(text: str, name: str, machine: Machine) -> Log:
    """A log from CSV, or from JSON as traces are written.

    Raises
    ------
    LeanStepError : a column is missing or unknown, ticks are left out, another rate was logged, or a value is none.
    """
    if text.lstrip()[:1] == "{":
        return _Reader(machine, name).log(*_from_json(text, name, machine))
    head, rows = csv_rows(text, name)
    return _Reader(machine, name).log(head, [(f"line {line}", dict(zip(head, cells))) for line, cells in rows])


Row = tuple[str, Mapping[str, Any]]
"""Where a row stands, and its cells by column."""


def _from_json(text: str, name: str, machine: Machine) -> tuple[list[str], list[Row]]:
    try:
        made = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise LeanStepError(name, f"this is no JSON ({error})", "Mend it, or log CSV.") from None
    ticks = made.get("ticks")
    if not isinstance(ticks, list) or not ticks or not all(isinstance(row, dict) for row in ticks):
        raise LeanStepError(name, "it has no list called ticks with an object for each tick", HOW)
    rate = made.get("rate", machine.character.rate)
    if rate != machine.character.rate:
        reason = f"it was logged at {rate} ticks a second, and the character runs at {machine.character.rate:g}"
        raise LeanStepError(name, reason, "Log at the character's rate, or give a copy of it the game's rate.")
    head = list(dict.fromkeys(column for row in ticks for column in row))
    return head, [(f"entry {number}", row) for number, row in enumerate(ticks)]


class _Reader:
    def __init__(self, machine: Machine, name: str) -> None:
        self.machine, self.name = machine, name
        self.take = Take(name=name, ticks=0)

    def log(self, head: Sequence[str], rows: Sequence[Row]) -> Log:
        machine = self.machine
        self._look_at_ticks(rows)
        layers = [layer.name if layer.name in head else None for layer in machine.layers]
        if not any(layers):
            wanted = machine.layers[0].name
            close = nearest(wanted, list(head))
            raise LeanStepError(
                self.name,
                f"it has no column called {wanted}, in which the state of that layer stands",
                f"Is it {close}? Call it {wanted}." if close and close != "tick" else HOW,
            )
        columns = self._columns(head)
        before: dict[int, Symbolic] = {}
        inputs, states = [], [list[int]() for _ in machine.layers]
        for where, row in rows:
            values = self._values(columns, row, f"{self.name}, {where}", before)
            inputs.append(values)
            before = values
            for at, layer in enumerate(layers):
                if layer is not None:
                    states[at].append(self._state(at, row.get(layer), f"{self.name}, {where}"))
        return Log(
            tuple(inputs),
            tuple(tuple(found) if layer is not None else None for found, layer in zip(states, layers)),
            int(rows[0][1]["tick"]),
            aside=tuple(self._aside(head, columns)),
        )

    def _aside(self, head: Sequence[str], columns: Mapping[str, int]) -> Iterator[str]:
        """What is not compared: layers without a column, what is taken to rest, and columns that nothing is compared with."""
        machine = self.machine
        layers = [layer.name for layer in machine.layers]
        lacking = [name for name in layers if name not in head]
        if lacking:
            yield f"{listed(lacking)}: the log has no such column, and so what that layer does is not compared."
        outside = [symbol.name for symbol in machine.symbols if symbol.free and symbol.owner != "controls"]
        resting = [name for name in outside if name not in columns]
        if resting:
            yield f"{listed(resting)}: not in the log, taken to rest; no condition reads that."
        known = {"tick", *layers, *columns}
        over = [name for name in head if name not in known]
        if over:
            yield f"{listed(over)}: in the log, and not compared."

    def _look_at_ticks(self, rows: Sequence[Row]) -> None:
        ticks = []
        for where, row in rows:
            try:
                ticks.append(int(row.get("tick", "")))
            except (TypeError, ValueError, OverflowError):
                raise LeanStepError(
                    f"{self.name}, {where}", f"{str(row.get('tick'))[:40]!r} is no tick", "Write a whole number."
                ) from None
        if len(ticks) > LONGEST_PLAYED:
            raise LeanStepError(self.name, f"it has more than {LONGEST_PLAYED} ticks", "Cut it into several.")
        if ticks[0] < 0 or (ticks[0] > 0 and len(ticks) < 2):
            reason = f"it begins at tick {ticks[0]}" + (" and has no other" if ticks[0] > 0 else "")
            raise LeanStepError(self.name, reason, "Log from tick 0 on: what came before decides what follows.")
        for (where, _), (one, other) in zip(rows[1:], pairwise(ticks)):
            if other != one + 1:
                often = (
                    f": perhaps the game logs every {other - one} ticks, or runs at another rate"
                    if other > one + 1
                    else ""
                )
                reason = f"tick {other} follows tick {one}{often}"
                raise LeanStepError(f"{self.name}, {where}", reason, "Log every tick, one after another.")

    def _columns(self, head: Sequence[str]) -> dict[str, int]:
        """The columns of what comes from outside.  What conditions read must be there, but for what follows from a stick's x and y."""
        machine = self.machine
        found = {name: machine.index[name] for name in head if name in machine.index and name != "tick"}
        found = {name: at for name, at in found.items() if machine.symbols[at].free}
        derived = {
            at
            for across, up, push, bearing in machine.sticks
            if {across, up} <= set(found.values())
            for at in (push, bearing)
        }
        missing = [
            machine.symbols[at].name
            for at in sorted(self._read())
            if machine.symbols[at].free and at not in derived and at not in found.values()
        ]
        if missing:
            close = nearest(missing[0], [name for name in head if name not in machine.index])
            way_out = (
                f"Is it {close}? Call it {missing[0]}." if close else "Log what the game sets, under its own names."
            )
            raise LeanStepError(
                self.name, f"it has no column called {listed(missing)}, and conditions read that", way_out
            )
        return found

    def _read(self) -> set[int]:
        """The symbols that decide anything."""
        machine = self.machine
        found = {symbol for root in machine.roots for symbol in x.symbols_in(root)}
        found |= {symbol for _, formula in machine.formulas for symbol in x.symbols_in(formula)}
        for picture in (picture for row in machine.pictures for picture in row if picture is not None):
            found |= {axis for axis in picture.axes if axis >= 0}
            found |= {reel.pace.symbol for reel in picture.reels if reel.pace is not None}
        return found

    def _values(
        self, columns: Mapping[str, int], row: Mapping[str, Any], place: str, before: Mapping[int, Symbolic]
    ) -> dict[int, Symbolic]:
        machine, found = self.machine, dict[int, Symbolic]()
        for name, at in columns.items():
            cell = row.get(name)
            if cell is None or cell == "":
                if machine.symbols[at].momentary:
                    found[at] = False
                elif at in before and machine.symbols[at].lasts:
                    found[at] = before[at]
                continue
            if not isinstance(cell, bool | int | float | str):
                raise LeanStepError(
                    place, f"{name} is {str(cell)[:40]}, which is no value", "Log numbers, flags and texts."
                )
            value: Symbolic = cell_of(machine, self.take, name, cell, place) if isinstance(cell, str) else cell
            if machine.symbols[at].kind in ("flag", "pulse", "button") and value in (0, 1):
                value = bool(value)
            if isinstance(value, int | float) and not abs(value) <= sys.float_info.max:
                raise LeanStepError(place, f"{name} is {str(value)[:40]}, which is no number", "Log numbers only.")
            found[at] = checked(machine, self.take, at, value)
        for across, up, push, bearing in machine.sticks:
            if across in found and up in found:
                x_axis, y_axis = float(found[across]), float(found[up])
                found.setdefault(push, push_of(x_axis, y_axis))
                found.setdefault(bearing, bearing_of(x_axis, y_axis))
        return found

    def _state(self, at: int, cell: Any, place: str) -> int:
        layer = self.machine.layers[at]
        if cell not in layer.states:
            close = nearest(str(cell), layer.states)
            known = f"It has {listed(list(layer.states))}."
            raise LeanStepError(
                place, f"layer {layer.name} has no state called {str(cell)[:60]}", f"Is it {close}?" if close else known
            )
        return layer.states.index(cell)
