"""What stands in the table of a character, and where: its sections, their columns, and the steps of its programs.

The same description serves the table that goes out as JSON, whose cells are numbers of rows, and the two arrays that the kernels read,
``m`` of whole numbers and ``r`` of doubles, in which a row begins at the same address in both and leads to other addresses.
"""

from __future__ import annotations

from enum import IntEnum
from typing import Annotated, Any, NamedTuple, get_type_hints

import msgspec

from leanstep.core.conditions.evaluation import NEVER as NEVER
from leanstep.core.conditions.expression import MEMORY_KINDS

VERSION = 7
"""Of the table.  Players refuse a greater one, and read older ones, whose sections have fewer columns."""
EXACT = 1 << 53
"""Up to this, a double holds every whole number."""
LONGEST, FASTEST = 1 << 31, 1000.0
"""The length of a clip in playhead units up to which a player can count, and how many times faster than written one is played."""
MOST_MARKS = 10_000
"""How many marks of a clip may fire in one tick."""
KINDS = ("number", "whole", "bearing", "flag", "choice", "pulse", "button")
NUMBER, WHOLE, BEARING, FLAG, CHOICE, PULSE, BUTTON = range(7)
OWNERS = ("game", "controls", "body", "graph", "formula")
GRAPH = OWNERS.index("graph")
"""What is set from here on is set by the character itself."""
SIGNS = ("<", "<=", "=", "!=", ">", ">=")
OPERATORS = ("+", "-", "*", "/", "abs", "neg", "min", "max", "turn", "bearing")
PLUS, MINUS, TIMES, OVER_BY, ABSOLUTE, NEGATIVE, LEAST, MOST, TURN, DIRECTION = range(10)
SIGN_COUNT, OPERATOR_COUNT = len(SIGNS), len(OPERATORS)
TAKES = (2, 2, 2, 2, 1, 1, 0, 0, 2, 1)
"""How many numbers each operator takes; 0: as many as it is told."""
SET, ADD, RAISE, LOCK, UNLOCK, FREEZE, MODE, PUSH, PUSH_UP = range(9)
"""What acts do (:data:`leanstep.core.graph.effects.ACTS`)."""
SQUASHED, HELD_SQUASH, LET_GO, LEANED, HELD_LEAN = range(5)
"""What changes how a figure is drawn: a squash begins, one begins that its state holds, the one there is springs back, a lean begins,
there is a lean as long as the state is active."""
STRIKE_BOX, VULNERABLE_BOX, GUARD_BOX = range(3)
"""What boxes do (:data:`leanstep.core.character.clips.BoxKind`)."""
HELD_FOR, SEEN_WITHIN = MEMORY_KINDS.index("for"), MEMORY_KINDS.index("within")
NAMED = ("parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes")
"""The kinds of names a table has."""

Number = int | float | None
Row = list[Number]
INNER = ""
"""The rule of a column that does not go out: it is filled when the table is laid out."""


class Op(IntEnum):
    """What a row of a program does to a stack of numbers, on which true is 1 and false 0."""

    NUMBER = 0
    """Put ``value`` on top."""
    PARAMETER = 1
    """Put the value of parameter ``a`` on top."""
    PRESSED = 2
    """Whether button ``a`` is held and was not on the tick before."""
    RELEASED = 3
    """Whether button ``a`` was held on the tick before and is not."""
    STAY = 4
    """The stay of layer ``a``, in ticks."""
    SINCE = 5
    """The ticks since the state of clock ``a`` was left; :data:`NEVER` if it was not."""
    BUFFERED = 6
    """Whether the press of buffer ``a`` is less than ``value`` ticks old."""
    DONE = 7
    """Whether the clip of layer ``a`` has come to its end."""
    AT = 8
    """Whether the playhead of layer ``a`` is at or past the share ``value`` of its clip."""
    SPAN = 9
    """Whether a span of the name ``a`` is on."""
    STATE = 10
    """Whether layer ``a`` is in state ``b``."""
    MEMORY = 11
    """Memory ``a`` on this tick."""
    NOT = 12
    """Turn the truth on top round."""
    COMPARE = 13
    """Take two numbers off; whether the first stands to the second as sign ``a`` says."""
    COMPUTE = 14
    """Take ``b`` numbers off and put on top what sum ``a`` makes of them; a division by zero gives 0."""
    SKIP_FALSE = 15
    """If the truth on top is false, leave it and go ``a`` rows further than the next; else take it off."""
    SKIP_TRUE = 16
    """The same for true."""


(OP_NUMBER, OP_PARAMETER, OP_PRESSED, OP_RELEASED, OP_STAY, OP_SINCE, OP_BUFFERED, OP_DONE, OP_AT) = map(
    int, list(Op)[:9]
)
(OP_SPAN, OP_STATE, OP_MEMORY, OP_NOT, OP_COMPARE, OP_COMPUTE, OP_SKIP_FALSE, OP_SKIP_TRUE) = map(int, list(Op)[9:])
"""The same for the kernels."""


class Columns:
    """The columns of each section, with what each may hold: ``#`` a finite number, ``?`` one or null, ``i`` a whole number, ``t`` a
    time, ``a..b`` from a to b, ``@`` the row of a section, with ``?`` or -1, ``&`` the same, laid out as its address, ``%`` the
    number of a name, ``<`` and ``>`` the beginning and end of rows of a section."""

    class Parameter(NamedTuple):
        kind: Annotated[int, "0..6"]
        owner: Annotated[int, "0..4"]
        first: Annotated[float, "#"]
        low: Annotated[float, "#"]
        high: Annotated[float, "#"]

    class Stick(NamedTuple):
        x: Annotated[int, "@parameters"]
        y: Annotated[int, "@parameters"]
        push: Annotated[int, "@parameters"]
        bearing: Annotated[int, "@parameters"]

    class Layer(NamedTuple):
        start: Annotated[int, "@states"]
        states: Annotated[int, "<states"]
        states_end: Annotated[int, ">"]

    class State(NamedTuple):
        """``clear``: the layers below are seen behind it; ``turned``: its pictures turn to where the figure looks; ``shapes`` begin
        with it, ``last_shapes`` when it is left; ``worn`` is the costume it has of its own, one row or none; ``moved`` are
        other ways of moving: its samples are those of none of them, and then as many for each; ``mix_cells`` and ``mix_edges`` are
        how the samples of its blend space mix, where figures are drawn from parts.

        ``mode`` to ``high`` are what it asks of a body: how to move, whether it may move against its facing, how fast to turn to
        what it touches, how fast to be at most, and falling, and its box; 0: nothing.
        """

        ways: Annotated[int, "<ways"]
        ways_end: Annotated[int, ">"]
        entry: Annotated[int, "<acts"]
        entry_end: Annotated[int, ">"]
        leave: Annotated[int, "<acts"]
        leave_end: Annotated[int, ">"]
        samples: Annotated[int, "<samples"]
        samples_end: Annotated[int, ">"]
        axes: Annotated[int, "<axes"]
        axes_end: Annotated[int, ">"]
        blends: Annotated[int, "0..1"]
        sticky: Annotated[float, "#"]
        clock: Annotated[int, "@clocks?"]
        still: Annotated[int, "0..1"]
        clear: Annotated[int, "0..1"] = 0
        turned: Annotated[int, "0..1"] = 0
        mode: Annotated[int, "0..4"] = 0
        backward: Annotated[int, "0..1"] = 0
        face: Annotated[float, "#"] = 0.0
        cap: Annotated[float, "#"] = 0.0
        fall: Annotated[float, "#"] = 0.0
        wide: Annotated[float, "#"] = 0.0
        high: Annotated[float, "#"] = 0.0
        shapes: Annotated[int, "<shapes"] = 0
        shapes_end: Annotated[int, ">"] = 0
        last_shapes: Annotated[int, "<shapes"] = 0
        last_shapes_end: Annotated[int, ">"] = 0
        worn: Annotated[int, "<costumes"] = 0
        worn_end: Annotated[int, ">"] = 0
        moved: Annotated[int, "<moved"] = 0
        moved_end: Annotated[int, ">"] = 0
        mix_cells: Annotated[int, "<mix_cells"] = 0
        mix_cells_end: Annotated[int, ">"] = 0
        mix_edges: Annotated[int, "<mix_edges"] = 0
        mix_edges_end: Annotated[int, ">"] = 0

    class Transition(NamedTuple):
        number: Annotated[int, "i"]
        target: Annotated[int, "@states"]
        program: Annotated[int, "<programs"]
        program_end: Annotated[int, ">"]
        fade: Annotated[int, "t"]
        blocks: Annotated[int, "0..1"]
        keep: Annotated[int, "0..1"]
        uses: Annotated[int, "<uses"]
        uses_end: Annotated[int, ">"]
        shapes: Annotated[int, "<shapes"] = 0
        shapes_end: Annotated[int, ">"] = 0

    class Use(NamedTuple):
        buffer: Annotated[int, "@buffers"]
        ticks: Annotated[int, "t"]

    class Act(NamedTuple):
        do: Annotated[int, "0..8"]
        target: Annotated[int, "i"]
        value: Annotated[float, "#"]

    class Sample(NamedTuple):
        clip: Annotated[int, "&clips"]
        phase: Annotated[int, "t"]
        places: Annotated[int, "t"]
        mirrored: Annotated[int, "0..1"] = 0

    class Axis(NamedTuple):
        parameter: Annotated[int, "@parameters?"]
        round: Annotated[int, "0..1"]
        low: Annotated[float, "#"]
        high: Annotated[float, "#"]
        step: Annotated[float, "#"]

    class Place(NamedTuple):
        value: Annotated[float | None, "?"]

    class Clip(NamedTuple):
        """Where ``goes`` is 0, its keys are those of a path that moves only the drawing.  ``reach``: it can be guarded
        only where a box of guard reach meets who is struck; what it does to whom follows, of a clip with strike boxes."""

        length: Annotated[int, "t"]
        begin: Annotated[int, "i"]
        vanishes: Annotated[int, "0..1"]
        pace: Annotated[int, "@parameters?"]
        at: Annotated[float, "#"]
        low: Annotated[float, "#"]
        high: Annotated[float, "#"]
        cues: Annotated[int, "<cues"]
        cues_end: Annotated[int, ">"]
        windows: Annotated[int, "<windows"]
        windows_end: Annotated[int, ">"]
        pieces: Annotated[int, "<pieces"]
        pieces_end: Annotated[int, ">"]
        cels: Annotated[int, "<cels"]
        cels_end: Annotated[int, ">"]
        resting: Annotated[int, "i"]
        goes: Annotated[int, "0..7"]
        keys: Annotated[int, "<keys"]
        keys_end: Annotated[int, ">"]
        actives: Annotated[int, "<actives"] = 0
        actives_end: Annotated[int, ">"] = 0
        reach: Annotated[int, "0..1"] = 0
        stun: Annotated[int, "t"] = 0
        guard_stun: Annotated[int, "t"] = 0
        freeze: Annotated[int, "t"] = 0
        strength: Annotated[float, "#"] = 0.0
        push: Annotated[float, "#"] = 0.0

    class Cue(NamedTuple):
        """``spots``: where the pin point lies that it names, on the cel (its number in the clip) it stands on; one row or none."""

        at: Annotated[int, "t"]
        mark: Annotated[int, "%marks"]
        acts: Annotated[int, "<acts"]
        acts_end: Annotated[int, ">"]
        shapes: Annotated[int, "<shapes"] = 0
        shapes_end: Annotated[int, ">"] = 0
        cel: Annotated[int, "t"] = 0
        spots: Annotated[int, "<spots"] = 0
        spots_end: Annotated[int, ">"] = 0

    class Window(NamedTuple):
        start: Annotated[int, "i"]
        end: Annotated[int, "i"]
        hold: Annotated[int, "@parameters?"]
        lock: Annotated[int, "0..1"]
        span: Annotated[int, "%spans"]

    class Piece(NamedTuple):
        start: Annotated[int, "t"]
        cel: Annotated[int, "t"]

    class Cel(NamedTuple):
        """``looks``: whether the drawing looks right (1) or left (2), and is turned to where the figure looks; 0: it is not."""

        frame: Annotated[int, "%frames"]
        mirrored: Annotated[int, "0..1"]
        turns: Annotated[int, "0..3"]
        looks: Annotated[int, "0..2"] = 0
        rects: Annotated[int, "<rects"] = 0
        rects_end: Annotated[int, ">"] = 0
        spots: Annotated[int, "<spots"] = 0
        spots_end: Annotated[int, ">"] = 0

    class Key(NamedTuple):
        """All four are doubles, as the kernels of paths read them (:mod:`leanstep.core.clips.paths`)."""

        at: Annotated[float, "#"]
        x: Annotated[float, "#"]
        y: Annotated[float, "#"]
        ease: Annotated[float, "0..3"]

    class Memory(NamedTuple):
        """``within`` is the number of its kind; ``lasts``: its operand stays as it is while no value from outside changes, and its
        counter says what that is."""

        within: Annotated[int, f"0..{len(MEMORY_KINDS) - 1}"]
        ticks: Annotated[int, "t"]
        program: Annotated[int, "<programs"]
        program_end: Annotated[int, ">"]
        lasts: Annotated[int, INNER] = 0

    class Buffer(NamedTuple):
        parameter: Annotated[int, "@parameters"]
        most: Annotated[int, "t"]

    class Clock(NamedTuple):
        most: Annotated[int, "t"]

    class Formula(NamedTuple):
        parameter: Annotated[int, "@parameters"]
        program: Annotated[int, "<programs"]
        program_end: Annotated[int, ">"]

    class Hold(NamedTuple):
        parameter: Annotated[int, "@parameters"]

    class Step(NamedTuple):
        """``yes`` and ``no`` are where a laid out program goes on (:mod:`leanstep.core.tick.loading`)."""

        op: Annotated[int, "0..16"]
        a: Annotated[int, "i"]
        b: Annotated[int, "i"]
        value: Annotated[float, "#"]
        yes: Annotated[int, INNER] = 0
        no: Annotated[int, INNER] = 0

    class Squash(NamedTuple):
        """Times are in ticks, with shares of one; without ``wide`` the area stays, without ``hold`` it springs back when it is let go.
        ``recent``: for how long the speed of a fall counts after its end."""

        high: Annotated[float, "#"]
        wide: Annotated[float | None, "?"]
        over: Annotated[float, "#"]
        hold: Annotated[float | None, "?"]
        back: Annotated[float, "#"]
        every: Annotated[float, "#"]
        by_fall: Annotated[float, "#"]
        recent: Annotated[float, "#"]
        whole: Annotated[int, "0..1"]

    class Lean(NamedTuple):
        """The first one is upright.  ``share`` of the way to where it leads is gone in a tick of ``dt`` seconds; ``signed``: the
        body's velocity counts to the right and not along its facing."""

        speeding: Annotated[float, "#"]
        turning: Annotated[float, "#"]
        most: Annotated[float, "#"]
        share: Annotated[float, "#"]
        dt: Annotated[float, "#"]
        signed: Annotated[int, "0..1"]

    class Countdown(NamedTuple):
        """A parameter that goes down by one on every tick."""

        parameter: Annotated[int, "@parameters"]

    class Active(NamedTuple):
        """When a clip with strike boxes can hit; ``window`` is counted from 1, and further for each that hits again."""

        start: Annotated[int, "i"]
        end: Annotated[int, "i"]
        window: Annotated[int, "t"]

    class Rect(NamedTuple):
        """A box of a cel in pixels from the foot, as the frame is drawn.  ``kind``: it hits (0), can be hit (1), or is guard
        reach (2)."""

        kind: Annotated[int, "0..2"]
        left: Annotated[float, "#"]
        bottom: Annotated[float, "#"]
        width: Annotated[float, "#"]
        height: Annotated[float, "#"]

    class Contact(NamedTuple):
        """``guards`` is asked after the transitions of a tick; the rest are the parameters contact sets for the next one."""

        guards: Annotated[int, "<programs"]
        guards_end: Annotated[int, ">"]
        hit: Annotated[int, "@parameters?"]
        guarded: Annotated[int, "@parameters?"]
        stun: Annotated[int, "@parameters?"]
        strength: Annotated[int, "@parameters?"]
        lands: Annotated[int, "@parameters?"]
        stopped: Annotated[int, "@parameters?"]

    class Costume(NamedTuple):
        """Worn where a state says so, and else, the first of them, while a parameter has the word of the number ``value``."""

        parameter: Annotated[int, "@parameters?"]
        value: Annotated[float, "#"]
        dressed: Annotated[int, "<dressed"]
        dressed_end: Annotated[int, ">"]

    class Dressed(NamedTuple):
        """A frame, and the one that a costume shows in its place."""

        frame: Annotated[int, "%frames"]
        by: Annotated[int, "%frames"]

    class Moved(NamedTuple):
        """Another way of moving, while a parameter has the word of the number ``value``."""

        parameter: Annotated[int, "@parameters"]
        value: Annotated[float, "#"]

    class Spot(NamedTuple):
        """Where a pin point lies on a cel, in pixels from the foot, as the frame is drawn, and where it points; its name is among the
        words.  ``behind``: what is pinned there is drawn behind the figure."""

        pin: Annotated[int, "%words"]
        x: Annotated[float, "#"]
        y: Annotated[float, "#"]
        angle: Annotated[float, "#"]
        behind: Annotated[int, "0..1"]

    class Accessory(NamedTuple):
        """What is pinned to a pin point; its name is among the words.  ``shown`` is asked when a tick is done;
        ``clip`` is what begins with each state and is shown at its written speed, one row, or none: it is just the ``frame``.
        ``angle`` is where it points as it is drawn, ``order``: as the pin point says (0), before the figure (1) or behind it (2)."""

        name: Annotated[int, "%words"]
        pin: Annotated[int, "%words"]
        shown: Annotated[int, "<programs"]
        shown_end: Annotated[int, ">"]
        clip: Annotated[int, "<clips"]
        clip_end: Annotated[int, ">"]
        frame: Annotated[int, "%frames"]
        angle: Annotated[float, "#"]
        order: Annotated[int, "0..2"]

    class MixPlace(NamedTuple):
        """A place in a blend space, in rulings, where samples stand, or stand for."""

        x: Annotated[float, "#"]
        y: Annotated[float, "#"]
        mix_shares: Annotated[int, "<mix_shares"]
        mix_shares_end: Annotated[int, ">"]

    class MixShare(NamedTuple):
        """A sample (its number in the blend space) at a place, and how much of that is its own."""

        sample: Annotated[int, "t"]
        share: Annotated[float, "#"]

    class MixCell(NamedTuple):
        """Three places, counterclockwise: in between their samples mix."""

        first: Annotated[int, "&mix_places"]
        second: Annotated[int, "&mix_places"]
        third: Annotated[int, "&mix_places"]

    class MixEdge(NamedTuple):
        """Two places with nothing beyond the line between them, or places next to each other on one line."""

        first: Annotated[int, "&mix_places"]
        second: Annotated[int, "&mix_places"]

    class Posed(NamedTuple):
        """A frame that is drawn from the parts of a ``figure``, and how it moves each; they come in the order of the frames."""

        frame: Annotated[int, "%frames"]
        figure: Annotated[int, "t"]
        poses: Annotated[int, "<poses"]
        poses_end: Annotated[int, ">"]

    class PartPose(NamedTuple):
        """How a part (its name is among the words) is moved in its parent, in pixels of the drawing to the right and up, turned, in
        degrees clockwise, and how many times as wide and high it is."""

        part: Annotated[int, "%words"]
        x: Annotated[float, "#"]
        y: Annotated[float, "#"]
        turn: Annotated[float, "#"]
        wide: Annotated[float, "#"]
        high: Annotated[float, "#"]

    class Shape(NamedTuple):
        """``which`` is the row of a squash or of a lean."""

        do: Annotated[int, "0..4"]
        which: Annotated[int, "i"]


_SINCE_7 = {"mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}
_SINCE_6 = {"spots": 0, "accessories": 0, "moved": 0, **_SINCE_7}
_SINCE_5 = {"costumes": 0, "dressed": 0, **_SINCE_6}
_SINCE_4 = {"clips": 19, "countdowns": 0, "actives": 0, "rects": 0, "contact": 0, **_SINCE_5}
_SINCE_3 = {"ways": 9, "cues": 4, "squashes": 0, "leans": 0, "shapes": 0, **_SINCE_4}
OLDER_WIDTHS: dict[int, dict[str, int]] = {
    1: {"states": 14, "samples": 3, "cels": 3, **_SINCE_3},
    2: {"states": 23, "cels": 4, **_SINCE_3},
    3: {"states": 27, "cels": 4, "cues": 6, **_SINCE_4},
    4: {"states": 27, "cels": 6, "cues": 6, **_SINCE_5},
    5: {"states": 29, "cels": 6, "cues": 6, **_SINCE_6},
    6: {"states": 31, **_SINCE_7},
}
"""By version, how many columns sections had then, where that is not all they have; 0: it had no such section."""
SECTIONS: dict[str, Any] = {
    "parameters": Columns.Parameter,
    "sticks": Columns.Stick,
    "layers": Columns.Layer,
    "states": Columns.State,
    "ways": Columns.Transition,
    "uses": Columns.Use,
    "acts": Columns.Act,
    "samples": Columns.Sample,
    "axes": Columns.Axis,
    "places": Columns.Place,
    "clips": Columns.Clip,
    "cues": Columns.Cue,
    "windows": Columns.Window,
    "pieces": Columns.Piece,
    "cels": Columns.Cel,
    "keys": Columns.Key,
    "memories": Columns.Memory,
    "buffers": Columns.Buffer,
    "clocks": Columns.Clock,
    "formulas": Columns.Formula,
    "holds": Columns.Hold,
    "programs": Columns.Step,
    "squashes": Columns.Squash,
    "leans": Columns.Lean,
    "shapes": Columns.Shape,
    "countdowns": Columns.Countdown,
    "actives": Columns.Active,
    "rects": Columns.Rect,
    "contact": Columns.Contact,
    "costumes": Columns.Costume,
    "dressed": Columns.Dressed,
    "spots": Columns.Spot,
    "accessories": Columns.Accessory,
    "moved": Columns.Moved,
    "mix_places": Columns.MixPlace,
    "mix_shares": Columns.MixShare,
    "mix_cells": Columns.MixCell,
    "mix_edges": Columns.MixEdge,
    "posed": Columns.Posed,
    "poses": Columns.PartPose,
}


class Names(msgspec.Struct):
    """The names of rows, in their order; ``words`` are the choices, ``states`` stand layer by layer."""

    parameters: list[str]
    words: list[str]
    layers: list[str]
    states: list[str]
    clips: list[str]
    frames: list[str]
    marks: list[str]
    spans: list[str]
    locks: list[str]
    modes: list[str]


class Table(msgspec.Struct):
    """The whole of it.  ``says``: what marks and spans say to the game, by the row of their cue or window."""

    leanstep_table: int
    generator: str
    name: str
    rate: float
    names: Names
    says: dict[str, dict[str, dict[str, float | bool | str]]]
    columns: dict[str, list[str]]
    sections: dict[str, list[Row]]


def rules(section: str) -> dict[str, str]:
    """What each column of a section may hold (:class:`Columns`), by name, those that do not go out last."""
    hints = get_type_hints(SECTIONS[section], include_extras=True)
    return {name: hints[name].__metadata__[0] for name in SECTIONS[section]._fields}


def columns(section: str) -> list[str]:
    """The columns of a section that go out."""
    return [name for name, rule in rules(section).items() if rule != INNER]
