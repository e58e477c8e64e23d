"""A character as one table of numbers, which players in any language read: nothing in it is left to be parsed or looked up.

Every section is a list of rows of numbers; ``columns`` says what stands where.  A column ``x`` beside ``x_end`` is a range of rows of
the section that the column is named after.  Conditions are postfix programs, told in :class:`Op`.
"""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Mapping
from typing import TYPE_CHECKING

import msgspec

from leanstep.core.body.records import MODES
from leanstep.core.character.pins import Accessory
from leanstep.core.conditions import expression as x
from leanstep.core.graph.clip_tables import Picture, bare_reel
from leanstep.core.graph.costumes import wardrobe
from leanstep.core.graph.facing import is_turned
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.tick.clip_rows import ClipRows
from leanstep.core.tick.codes import KINDS, OWNERS
from leanstep.core.tick.columns import OLDER_WIDTHS, SECTIONS, VERSION, Columns, Names, Table, columns
from leanstep.core.tick.places import WIDTHS
from leanstep.core.tick.pose_rows import PoseRows
from leanstep.core.tick.programs import numbered

if TYPE_CHECKING:
    from leanstep.core.cut_outs.frame_poses import PosesBySheet


def table_of(machine: Machine, poses: PosesBySheet | None = None) -> Table:
    """A machine as a table; ``poses`` are those of the parts that frames are drawn from, where players are to give them.

    Raises
    ------
    LeanStepError : it has a clip too long, too fast or with a time too great for a player to count.
    """
    return Writer(machine, poses).table()


class Writer(ClipRows):
    """Writes a machine down, section by section."""

    def __init__(self, machine: Machine, poses: PosesBySheet | None = None) -> None:
        super().__init__(machine)
        self.poses = PoseRows(poses or {}, self._put, self.numbers.words)

    def table(self) -> Table:
        """The whole table."""
        names = self.write()
        version = next((one for one in OLDER_WIDTHS if self._fits(OLDER_WIDTHS[one])), VERSION)
        # the order of columns never changes: an older table has fewer
        widths = dict(zip(SECTIONS, WIDTHS)) | OLDER_WIDTHS.get(version, {})
        widths = {name: width for name, width in widths.items() if width}
        return Table(
            version,
            "Lean Step",
            self.machine.character.name,
            self.machine.character.rate,
            msgspec.structs.replace(names, clips=self._unique_clips()),
            self.says,
            {name: columns(name)[:width] for name, width in widths.items()},
            {name: [row[:width] for row in self.rows[name]] for name, width in widths.items()},
        )

    def _fits(self, widths: Mapping[str, int]) -> bool:
        """Whether a table whose sections have no more columns than these holds all that there is."""
        if self.aside and widths == OLDER_WIDTHS[1]:
            return False
        known = dict(zip(SECTIONS, WIDTHS))
        more = (row[width : known[name]] for name, width in widths.items() for row in self.rows[name])
        return not any(any(row) for row in more)

    def write(self) -> Names:
        """Write the rows of every section, with the columns that do not go out; what is named in them."""
        machine = self.machine
        for symbol in machine.symbols:
            for word in symbol.choices:
                numbered(self.numbers.words, word)
        self._put(
            "parameters",
            (
                Columns.Parameter(
                    KINDS.index(one.kind),
                    OWNERS.index(one.owner),
                    self._value(one.first),
                    one.low,
                    one.high,
                )
                for one in machine.symbols
            ),
        )
        self._put("sticks", (Columns.Stick(*one) for one in machine.sticks))
        self._put(
            "memories",
            (
                Columns.Memory(x.MEMORY_KINDS.index(one.kind), one.ticks, *self._program(one.operand), self._lasts(one))
                for one in machine.memories
            ),
        )
        self._put("buffers", (Columns.Buffer(*one) for one in machine.buffers))
        self._put("clocks", (Columns.Clock(most) for _, most in machine.clocks))
        self._put("formulas", (Columns.Formula(symbol, *self._program(one)) for symbol, one in machine.formulas))
        self._put("holds", (Columns.Hold(symbol) for symbol in sorted(machine.holds)))
        self._put("countdowns", (Columns.Countdown(at) for at, one in enumerate(machine.symbols) if one.countdown))
        if machine.character.contact is not None:
            touched = machine.touched
            program = self._program(touched.guards or x.Constant(False))
            raised = (touched.hit, touched.guarded, touched.stun, touched.strength, touched.lands, touched.stopped)
            self._put("contact", [Columns.Contact(*program, *raised)])
        self._put("squashes", self.shapes.squashes())
        self._put("leans", self.shapes.leans())
        states = [
            self._state(at, number) for at, layer in enumerate(machine.layers) for number in range(len(layer.states))
        ]
        self._put("states", states)
        self._put(
            "accessories",
            [row for at, one in enumerate(machine.character.accessories) for row in self._accessory(at, one)],
        )
        self._put("costumes", self._costumes())
        self._put("posed", self.poses.posed(self.frames))
        self._put(
            "layers",
            (
                Columns.Layer(
                    self.numbers.states[at] + layer.start, self.numbers.states[at], self.numbers.states[at + 1]
                )
                for at, layer in enumerate(machine.layers)
            ),
        )
        return Names(
            [symbol.name for symbol in machine.symbols],
            list(self.numbers.words),
            [layer.name for layer in machine.layers],
            [name for layer in machine.layers for name in layer.states],
            self.clips,
            list(self.frames),
            list(self.marks),
            list(self.numbers.spans),
            list(machine.locks),
            list(MODES),
        )

    def _unique_clips(self) -> list[str]:
        names: list[str] = []
        for name in self.clips:
            names.append(unique(name, names))
        return names

    def _lasts(self, memory: x.Memory) -> bool:
        """Whether a memory's operand stays as it is while no value from outside changes, and its counter says what that is."""
        operand = memory.operand
        symbols = [self.machine.symbols[index] for index in x.symbols_in(operand)]
        timed = any(isinstance(part, x.TIMED | x.Remembered) for part in x.parts(operand))
        return memory.tells_operand and not timed and all(symbol.free and symbol.lasts for symbol in symbols)

    def _state(self, at: int, number: int) -> Columns.State:
        machine, layer = self.machine, self.machine.layers[at]
        picture, one = machine.pictures[at][number], machine.character.layers[at].states[number]
        blend = picture.blend if picture is not None else None
        wide, high = machine.boxes[at][number] or (0.0, 0.0)
        cells, edges = self.poses.mix(picture.space if picture is not None else None)
        return Columns.State(
            *self._put("ways", (self._way(at, one) for one in layer.ways[number] if one.condition is not None)),
            *self._acts(layer.entry[number]),
            *self._acts(layer.leave[number]),
            *self._samples(picture),
            *self._axes(picture),
            blend is not None,
            float(blend.sticky) if blend is not None else 0.0,
            self.numbers.clocks.get((at, number), -1),
            number in layer.locks,
            machine.character.layers[at].clear or one.clear,
            picture is not None and is_turned(machine, picture),
            MODES.index(one.mode),
            one.backward,
            one.face,
            one.cap or 0.0,
            one.fall_cap or 0.0,
            wide,
            high,
            *self._put("shapes", self.shapes.of_state(one)),
            *self._put("shapes", self.shapes.of_effects(one.on_leave)),
            *self._worn(at, number),
            *self._put("moved", self._moved(picture)),
            *cells,
            *edges,
        )

    def _worn(self, at: int, number: int) -> tuple[int, int]:
        """The row of the costume a state has of its own; none."""
        own = wardrobe(self.machine).states[at][number]
        return (own, own + 1) if own >= 0 else (0, 0)

    def _moved(self, picture: Picture | None) -> list[Columns.Moved]:
        """The other ways of moving of what a state shows."""
        ways = picture.moved if picture is not None else ()
        return [Columns.Moved(symbol, self._value(value)) for symbol, value in ways]

    def _costumes(self) -> Iterable[Columns.Costume]:
        """Every costume, with what it shows in place of the frames that clips show."""
        found = wardrobe(self.machine)
        frames = [name.rpartition("/") for name in self.frames]
        for costume, (symbol, value) in enumerate(found.worn_by):
            dressed = []
            for number, (sheet, _, frame) in enumerate(frames):
                other, by = found.shown(costume, sheet, int(frame))
                if (other, by) != (sheet, int(frame)):
                    dressed.append(Columns.Dressed(number, numbered(self.frames, f"{other}/{by}")))
            word = self._value(value) if symbol >= 0 else 0.0
            yield Columns.Costume(symbol, word, *self._put("dressed", dressed))

    def _accessory(self, at: int, one: Accessory) -> Iterator[Columns.Accessory]:
        """The row of an accessory; none of one that has no picture."""
        machine, clip = (
            self.machine,
            next((clip for clip in self.machine.character.clips if clip.name == one.clip), None),
        )
        shows = one.sheet in self.views if not one.clip else clip is not None and bool(clip.cels)
        if not shows:
            return
        rows, frame = (0, 0), f"{one.sheet}/{one.frame}"
        if clip is not None:
            row = self._clip(machine.once((bare_reel, one.clip), lambda: bare_reel(clip)))
            rows, frame = (row, row + 1), f"{clip.sheet_of(clip.cels[0])}/{clip.cels[0].frame}"
        yield Columns.Accessory(
            numbered(self.numbers.words, one.name),
            numbered(self.numbers.words, one.pin),
            *self._program(machine.shown[at]),
            *rows,
            numbered(self.frames, frame),
            one.angle,
            ("pin", "before", "behind").index(one.order),
        )

    def _way(self, at: int, way: CompiledTransition) -> Columns.Transition:
        assert way.condition is not None
        uses = [one for one in way.uses if one.symbol in self.numbers.buffers]
        return Columns.Transition(
            way.index,
            self.numbers.states[at] + way.target,
            *self._program(way.condition),
            way.fade,
            way.blocks,
            way.keep_phase,
            *self._put("uses", (Columns.Use(self.numbers.buffers[one.symbol], one.ticks) for one in uses)),
            *self._put("shapes", self.shapes.of_way(self.machine.character.layers[at].transitions[way.index])),
        )

    def _samples(self, picture: Picture | None) -> tuple[int, int]:
        if picture is None:
            return self._put("samples", [])
        places = picture.space.places if picture.space is not None else ((),) * picture.each
        places *= 1 + len(picture.moved)
        rows = []
        for at, (reel, place) in enumerate(zip(picture.reels, places)):
            begin, _ = self._put("places", (Columns.Place(one) for one in place))
            rows.append(Columns.Sample(self._clip(reel), picture.phase(at), begin, picture.mirrors(at)))
        return self._put("samples", rows)

    def _axes(self, picture: Picture | None) -> tuple[int, int]:
        if picture is None or picture.space is None:
            return self._put("axes", [])
        return self._put(
            "axes",
            (
                Columns.Axis(symbol, axis.round, axis.low, axis.high, axis.step)
                for symbol, axis in zip(picture.axes, picture.space.axes)
            ),
        )

    def _program(self, root: x.Expression) -> tuple[int, int]:
        return self._put("programs", self.numbers.steps(root))


def unique(name: str, taken: Container[str]) -> str:
    """A name that is not taken: itself, or with a number behind it."""
    found, number = name, 2
    while found in taken:
        found, number = f"{name} {number}", number + 1
    return found
