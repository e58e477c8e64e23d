"""What stands in the table of a character, and where: its sections and their columns.

The same description serves the table that goes out as JSON, whose cells are numbers of rows, and the two arrays that the kernels read,
``m`` of whole numbers and ``r`` of doubles, in which a row begins at the same address in both and leads to other addresses.
"""

from __future__ import annotations

from typing import Annotated, Any, NamedTuple, get_type_hints

import msgspec

from leanstep.core.conditions.expression import MEMORY_KINDS
from leanstep.core.tick.drawn_columns import DrawnColumns

VERSION = 7
"""Of the table.  Players refuse a greater one, and read older ones, whose sections have fewer columns."""
NAMED = ("parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes")
"""The kinds of names a table has."""
Number = int | float | None
Row = list[Number]
INNER = ""
"""The rule of a column that does not go out: it is filled when the table is laid out."""


class Columns(DrawnColumns):
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
