"""A machine written down as records."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from leanstep.core.body.body_state import boxed, floors, numbers_of
from leanstep.core.body.records import FIELDS, IN_ZONE, MODELS, MODES, TOLD, WAYS
from leanstep.core.character.body import Shape
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.clip_tables import Picture, Reel
from leanstep.core.graph.effects import ACTS, Act
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.rehearsal.engine import records
from leanstep.core.rehearsal.engine.programs import FALSE, Programs
from leanstep.core.rehearsal.engine.records import HEAD, NOW, PLAYER

LARGEST = 1 << 60
"""Up to this, numbers can be counted up without running over."""

LONGEST = 1 << 31
"""A clip's length, in playhead units, up to which a product of two is exact."""

FASTEST = 1000.0
"""How many times faster or slower than written a clip may be played."""

KINDS = ("number", "whole", "bearing", "flag", "choice", "pulse", "button")
Row = tuple[int, ...]


class Tables(NamedTuple):
    """What the compiled engine reads."""

    m: np.ndarray
    r: np.ndarray


class Unfit(Exception):
    """A machine with numbers too large for the tables; only the plain engine steps it."""


class Laid:
    """Lays a machine out.  ``marks`` and ``spans`` are the names by number, ``head`` says where things are, ``counts`` and
    ``values`` how long a situation's two arrays are, without and with the room for what is only known on the tick.

    Raises
    ------
    Unfit : some number is too large.
    """

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.marks: dict[str, int] = {}
        self.spans: dict[str, int] = {}
        self._words: dict[str, int] = {}
        self._names: list[str] = []
        self._whole: list[int] = [0] * len(HEAD)
        self._real: list[float] = []
        self._slots = {symbol: slot for slot, (symbol, _) in enumerate(machine.buffers)}
        self._clocks = {place: slot for slot, (place, _) in enumerate(machine.clocks)}
        self._programs = Programs(
            self._row, self._number, self._word, lambda name: _numbered(self.spans, name), self._slots, self._clocks
        )
        ranges = self._ranges()
        self.counts, self.values, places = self._places()
        self.head = records.Head(**ranges, **self._body(), **places)
        self._whole[: len(HEAD)] = self.head
        if max(map(abs, self._whole)) > LARGEST:
            raise Unfit("a time is too long")
        self.tables = Tables(np.array(self._whole, np.int64), np.array(self._real, np.float64))

    def coded(self, symbol: int, value: Symbolic) -> float:
        """A value as a number."""
        return float(self._word(value)) if isinstance(value, str) else float(value)

    def word(self, number: float) -> str:
        """The choice that is kept as ``number``."""
        if len(self._names) < len(self._words):
            self._names = list(self._words)
        return self._names[int(number)]

    def _word(self, word: str) -> int:
        return _numbered(self._words, word)

    def _row(self, row: Row) -> int:
        at = len(self._whole)
        self._whole.extend(row)
        return at

    def _number(self, *numbers: float) -> int:
        at = len(self._real)
        self._real.extend(map(float, numbers))
        return at

    def _rows(self, rows: Iterable[Row]) -> Row:
        """Where a range of records begins and ends; what the rows lead to is written down before them."""
        made = list(rows)
        begin = len(self._whole)
        for row in made:
            self._whole.extend(row)
        return begin, len(self._whole)

    def _ranges(self) -> dict[str, int]:
        machine, condition = self.machine, self._programs.condition
        symbols = machine.symbols
        ranges = {
            "layers": self._rows(map(self._layer, range(len(machine.layers)))),
            "momentary": self._rows(records.Momentary(at, one.free) for at, one in enumerate(symbols) if one.momentary),
            "buttons": self._rows((at,) for at, one in enumerate(symbols) if one.kind == "button"),
            "holds": self._rows((at,) for at in sorted(machine.holds)),
            "memories": self._rows(
                records.Memory(one.kind == "within", condition(one.operand), one.ticks, self._lasts(one.operand))
                for one in machine.memories
            ),
            "buffers": self._rows(records.Buffer(*one) for one in machine.buffers),
            "clocks": self._rows((most,) for _, most in machine.clocks),
            "formulas": self._rows(map(self._formula, machine.formulas)),
            "published": self._rows(self._published()),
            "sticks": self._rows(records.Stick(*one) for one in machine.sticks),
            "floors": self._boxes(floors(machine.character.body, machine.character.course)),
            "ladders": self._boxes(self._shapes("ladder")),
            "slopes": self._boxes(self._shapes("slope")),
        }
        begin, _ = self._rows(
            records.Symbol(KINDS.index(one.kind), one.free, self._number(one.low, one.high, self.coded(at, one.rest)))
            for at, one in enumerate(symbols)
        )
        ends = {f"{name}_end": end for name, (_, end) in ranges.items()}
        return {"symbols": begin} | {name: start for name, (start, _) in ranges.items()} | ends

    def _lasts(self, operand: x.Expression) -> bool:
        """Whether an operand stays as it is while no value from outside changes."""
        symbols = [self.machine.symbols[index] for index in x.symbols_in(operand)]
        timed = any(isinstance(part, x.TIMED | x.Remembered) for part in x.parts(operand))
        return not timed and all(symbol.free and not symbol.momentary for symbol in symbols)

    def _layer(self, at: int) -> Row:
        machine, layer, condition = self.machine, self.machine.layers[at], self._programs.condition

        def way(one: CompiledTransition) -> Row:
            kept = [use for use in one.uses if use.symbol in self._slots]
            uses = self._rows(records.Use(self._slots[use.symbol], use.ticks) for use in kept)
            program = condition(one.condition) if one.condition is not None else FALSE
            return records.Transition(one.index, one.target, program, one.fade, one.blocks, one.keep_phase, *uses)

        def state(number: int) -> Row:
            picture = self.machine.pictures[at][number]
            still, blend = number in layer.locks, picture is not None and picture.blend is not None
            one = machine.character.layers[at].states[number]
            asks = self._number(
                one.face, one.cap or 0.0, one.fall_cap or 0.0, *(machine.boxes[at][number] or (0.0, 0.0))
            )
            axes, axes_end = self._rows(self._axes(picture))
            sticky = self._number(picture.blend.sticky) if picture is not None and picture.blend is not None else 0
            ways, ways_end = self._rows(map(way, layer.ways[number]))
            ranges = (self._deeds(layer.entry[number]), self._deeds(layer.leave[number]), self._reels(picture))
            (entry, entry_end), (leave, leave_end), (reels, reels_end) = ranges
            clock = self._clocks.get((at, number), -1)
            return records.State(
                ways,
                ways_end,
                entry,
                entry_end,
                leave,
                leave_end,
                reels,
                reels_end,
                clock,
                still,
                MODES.index(one.mode),
                asks,
                blend,
                axes,
                axes_end,
                sticky,
            )

        begin, _ = self._rows(map(state, range(len(layer.states))))
        return records.Layer(len(NOW) + at * len(PLAYER), layer.start, begin)

    def _axes(self, picture: Picture | None) -> list[Row]:
        if picture is None or picture.space is None:
            return []
        return [
            records.Axis(symbol, axis.round, self._number(axis.low, axis.high, axis.step))
            for symbol, axis in zip(picture.axes, picture.space.axes)
        ]

    def _deeds(self, acts: Sequence[Act]) -> Row:
        return self._rows(
            records.Act(ACTS.index(act.do), act.target, self._number(self.coded(act.target, act.value))) for act in acts
        )

    def _reels(self, picture: Picture | None) -> Row:
        if picture is None:
            return self._rows([])
        places = picture.space.places if picture.space is not None else [()]
        phases = map(picture.phase, range(len(picture.reels)))
        return self._rows(self._reel(*each) for each in zip(picture.reels, places, phases))

    def _reel(self, reel: Reel, places: Sequence[float], phase: int) -> Row:
        pace = reel.pace
        if reel.timing.length > LONGEST or (pace is not None and max(abs(pace.low), abs(pace.high)) > FASTEST):
            raise Unfit(f"{reel.clip.name} is too long or too fast")
        cues = self._rows(
            records.Cue(cue.at, _numbered(self.marks, cue.name), *self._deeds(cue.acts)) for cue in reel.cues
        )
        windows = self._rows(
            records.Window(one.start, one.end, one.hold, one.lock, _numbered(self.spans, one.name))
            for one in reel.windows
        )
        numbers = self._number(*((pace.at, pace.low, pace.high) if pace is not None else (1.0, 1.0, 1.0)))
        symbol = pace.symbol if pace is not None else -1
        begin = reel.timing.begin if reel.timing.repeats else -1
        path = self._number(*reel.path) if reel.goes else 0
        travel: Row = (reel.goes, path, path + len(reel.path) if reel.goes else 0)
        place = self._number(*places)
        return records.Reel(reel.timing.length, begin, phase, symbol, numbers, place, *cues, *windows, *travel)

    def _formula(self, formula: tuple[int, x.Expression]) -> Row:
        index, one = formula
        if isinstance(one, x.Amount):
            return records.Formula(index, self._programs.amount(one), True)
        return records.Formula(index, self._programs.condition(one), False)

    def _shapes(self, kind: str) -> list[Shape]:
        return [shape for shape in self.machine.character.course.shapes if shape.kind == kind]

    def _boxes(self, shapes: Iterable[Shape]) -> Row:
        begin = len(self._real)
        for row in boxed(shapes):
            self._number(*row)
        return begin, len(self._real)

    def _published(self) -> list[Row]:
        """What of the body's telling has a parameter of the body's.  A zone with the name of one of the body's own
        parameters adds to it."""
        machine, own = self.machine, list(TOLD)
        zones = self._shapes("zone")
        rows: list[Row] = []
        for name in dict.fromkeys([*own, *(one.name for one in zones if one.name)]):
            at = machine.index.get(name, -1)
            if at >= 0 and machine.symbols[at].owner == "body":
                what = own.index(name) if name in own else IN_ZONE
                rows.append(records.Published(what, at, *self._boxes(one for one in zones if one.name == name)))
        return rows

    def _body(self) -> dict[str, int]:
        machine, body = self.machine, self.machine.character.body
        return {
            "model": MODELS.index(body.model),
            "ways": WAYS.index(body.ways),
            "numbers": self._number(*numbers_of(body, machine.character.rate)),
        } | machine.steered_by

    def _places(self) -> tuple[tuple[int, int], tuple[int, int], dict[str, int]]:
        """How long a situation's arrays are, and where it has what."""
        machine = self.machine
        symbols = len(machine.symbols)
        sizes = {
            "counters": len(machine.memories),
            "ages": len(machine.buffers),
            "since": len(machine.clocks),
            "held": symbols,
            "raised": symbols,
            "locks": len(machine.locks),
            "spans": len(self.spans),
            "remembered": len(machine.memories),
            "held_now": symbols,
            "held_before": symbols,
            "changed": 1,
        }
        places, at = {"spanned": int(machine.spanned)}, len(NOW) + len(machine.layers) * len(PLAYER)
        for name, size in sizes.items():
            places[name] = at
            at += size
        kept = symbols + len(FIELDS)
        stack = kept + len(machine.sticks)
        places |= {"spans_end": places["remembered"], "place": symbols, "kept": kept, "stack": stack}
        return (places["spans"], at), (kept, stack + self._programs.depth), places


def _numbered(names: dict[str, int], name: str) -> int:
    return names.setdefault(name, len(names))
