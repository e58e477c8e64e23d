"""A machine laid out for the compiled engine: its table, and behind it the body."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import chain
from typing import NamedTuple

import numpy as np

from leanstep.core.body.body_state import boxed, floors, numbers_of
from leanstep.core.body.records import IN_ZONE, MODELS, TOLD, WAYS
from leanstep.core.character.body import Shape
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.engine.records import Driven, Published
from leanstep.core.tick.columns import INNER, NAMED, SECTIONS, Row, rules
from leanstep.core.tick.loading import laid_size, lay
from leanstep.core.tick.places import (
    CLIP,
    CUE_SIZE,
    HEAD,
    SAMPLE,
    SAMPLE_SIZE,
    STATE,
    STATE_SIZE,
    WIDTHS,
    Head,
)
from leanstep.core.tick.table import Writer


class Tables(NamedTuple):
    """What the compiled engine reads."""

    m: np.ndarray
    r: np.ndarray


class Unfit(Exception):
    """A machine with numbers too large for the tables; only the plain engine steps it."""


_INNER = {
    section: [at for at, rule in enumerate(rules(section).values()) if rule == INNER]
    for section in SECTIONS
    if section != "programs"
}
"""The places of the columns that only the engine reads."""


class Laid:
    """Lays a machine out.  ``marks`` are the names by number, ``head`` says where things are, ``counts`` and ``values`` how long a
    situation's two arrays are, without and with the room for what is only known on the tick.

    Raises
    ------
    Unfit : some number is too large.
    """

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        writer = Writer(machine)
        try:
            names = writer.write()
        except LeanStepError as error:
            raise Unfit(error.reason) from error
        self.marks = names.marks
        self._words, self._numbers = names.words, {word: at for at, word in enumerate(names.words)}
        counts = np.array([len(rows) for rows in writer.rows.values()], np.int64)
        size = laid_size(counts)
        self._whole, self._real = np.zeros(size, np.int64), np.zeros(size)
        lay(
            _cells(writer.rows),
            counts,
            np.array([len(getattr(names, kind)) for kind in NAMED], np.int64),
            self._whole,
            self._real,
        )
        self._fill(writer.rows)
        self._more: list[tuple[int, float]] = []
        self._whole[HEAD.more] = self._body()
        whole, real = zip(*self._more)
        self.tables = Tables(
            np.concatenate([self._whole, np.array(whole, np.int64)]), np.concatenate([self._real, np.array(real)])
        )
        self.head = Head(*self.tables.m[: len(HEAD)].tolist())
        self.counts = self.head.spans, self.head.counts
        self.values = self.head.kept, self.head.values

    def coded(self, value: Symbolic) -> float:
        """A value as a number."""
        if not isinstance(value, str):
            return float(value)
        if value not in self._numbers:
            self._numbers[value] = len(self._words)
            self._words.append(value)
        return float(self._numbers[value])

    def word(self, number: float) -> str:
        """The choice that is kept as ``number``."""
        return self._words[int(number)]

    def first_cue(self, state: int, pick: int) -> int:
        """The row of the first mark of the clip that is sample ``pick`` of a state (its row)."""
        m, head = self._whole, self.head
        samples = m[head.states + state * STATE_SIZE + STATE.samples]
        clip = m[samples + pick * SAMPLE_SIZE + SAMPLE.clip]
        return int(m[clip + CLIP.cues] - head.cues) // CUE_SIZE

    def _fill(self, rows: dict[str, list[Row]]) -> None:
        """Put in the columns that do not go out."""
        begin = 0
        for number, (section, kind) in enumerate(SECTIONS.items()):
            begin, size = int(self._whole[2 * number]), len(kind._fields)
            for at in _INNER.get(section, ()) if rows[section] else ():
                column = [row[at] or 0 for row in rows[section]]
                end = begin + len(column) * size
                self._whole[begin + at : end : size] = column
                self._real[begin + at : end : size] = column

    def _row(self, row: Iterable[int]) -> int:
        at = len(self._whole) + len(self._more)
        self._more += [(one, 0.0) for one in row]
        return at

    def _numbers_at(self, *numbers: float) -> int:
        at = len(self._whole) + len(self._more)
        self._more += [(0, one) for one in numbers]
        return at

    def _body(self) -> int:
        machine, body = self.machine, self.machine.character.body
        numbers = self._numbers_at(*numbers_of(body, machine.character.rate))
        floor, floor_end = self._boxes(floors(body, machine.character.course))
        ladder, ladder_end = self._boxes(self._shapes("ladder"))
        slope, slope_end = self._boxes(self._shapes("slope"))
        published = self._published()
        begin = self._row(chain.from_iterable(published))
        end = len(self._whole) + len(self._more)
        return self._row(
            Driven(
                MODELS.index(body.model),
                WAYS.index(body.ways),
                numbers,
                floor,
                floor_end,
                ladder,
                ladder_end,
                slope,
                slope_end,
                **machine.steered_by,
                published=begin,
                published_end=end,
            )
        )

    def _shapes(self, kind: str) -> list[Shape]:
        return [shape for shape in self.machine.character.course.shapes if shape.kind == kind]

    def _boxes(self, shapes: Iterable[Shape]) -> tuple[int, int]:
        begin = self._numbers_at(*chain.from_iterable(boxed(shapes)))
        return begin, len(self._whole) + len(self._more)

    def _published(self) -> list[Published]:
        """What of the body's telling has a parameter of the body's.  A zone with the name of one of the body's own
        parameters adds to it."""
        machine, own = self.machine, list(TOLD)
        zones = self._shapes("zone")
        rows = []
        for name in dict.fromkeys([*own, *(one.name for one in zones if one.name)]):
            at = machine.index.get(name, -1)
            if at >= 0 and machine.symbols[at].owner == "body":
                what = own.index(name) if name in own else IN_ZONE
                boxes = self._boxes(one for one in zones if one.name == name)
                symbol = machine.symbols[at]
                rest = int(self.coded(symbol.rest)) if symbol.kind == "choice" else 0
                rows.append(Published(what, at, *boxes, rest))
        return rows


def _cells(rows: dict[str, list[Row]]) -> np.ndarray:
    """The cells of the columns that go out, row by row."""
    parts = [
        np.array([row[:width] for row in some], np.float64).ravel()
        for some, width in zip(rows.values(), WIDTHS)
        if some
    ]
    return np.concatenate(parts) if parts else np.zeros(0)
