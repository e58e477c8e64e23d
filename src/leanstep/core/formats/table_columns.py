"""What stands in the table of a character: its sections, their columns, and the steps of its programs."""

from __future__ import annotations

from enum import IntEnum
from typing import Any, NamedTuple

import msgspec

VERSION = 1
"""Of the table.  Players refuse a greater one."""
EXACT = 1 << 53
"""Up to this, a double holds every whole number."""
LONGEST, FASTEST = 1 << 31, 1000.0
"""The length of a clip in playhead units up to which a player can count, and how many times faster than written one is played."""
KINDS = ("number", "whole", "bearing", "flag", "choice", "pulse", "button")
OWNERS = ("game", "controls", "body", "graph", "formula")
SIGNS = ("<", "<=", "=", "!=", ">", ">=")
OPERATORS = ("+", "-", "*", "/", "abs", "neg", "min", "max", "turn", "bearing")
Number = int | float | None
Row = list[Number]


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


class Columns:
    """The columns of each section."""

    class Parameter(NamedTuple):
        kind: int
        owner: int
        first: float
        low: float
        high: float

    class Stick(NamedTuple):
        x: int
        y: int
        push: int
        bearing: int

    class Layer(NamedTuple):
        start: int
        states: int
        states_end: int

    class State(NamedTuple):
        ways: int
        ways_end: int
        entry: int
        entry_end: int
        leave: int
        leave_end: int
        samples: int
        samples_end: int
        axes: int
        axes_end: int
        blends: int
        sticky: float
        clock: int
        still: int

    class Transition(NamedTuple):
        number: int
        target: int
        program: int
        program_end: int
        fade: int
        blocks: int
        keep: int
        uses: int
        uses_end: int

    class Use(NamedTuple):
        buffer: int
        ticks: int

    class Act(NamedTuple):
        do: int
        target: int
        value: float

    class Sample(NamedTuple):
        clip: int
        phase: int
        places: int

    class Axis(NamedTuple):
        parameter: int
        round: int
        low: float
        high: float
        step: float

    class Clip(NamedTuple):
        length: int
        begin: int
        vanishes: int
        pace: int
        at: float
        low: float
        high: float
        cues: int
        cues_end: int
        windows: int
        windows_end: int
        pieces: int
        pieces_end: int
        cels: int
        cels_end: int
        resting: int
        goes: int
        keys: int
        keys_end: int

    class Cue(NamedTuple):
        at: int
        mark: int
        acts: int
        acts_end: int

    class Window(NamedTuple):
        start: int
        end: int
        hold: int
        lock: int
        span: int

    class Piece(NamedTuple):
        start: int
        cel: int

    class Cel(NamedTuple):
        frame: int
        mirrored: int
        turns: int

    class Key(NamedTuple):
        at: float
        x: float
        y: float
        ease: int

    class Memory(NamedTuple):
        within: int
        ticks: int
        program: int
        program_end: int

    class Buffer(NamedTuple):
        parameter: int
        most: int

    class Clock(NamedTuple):
        most: int

    class Formula(NamedTuple):
        parameter: int
        program: int
        program_end: int

    class Hold(NamedTuple):
        parameter: int

    class Place(NamedTuple):
        value: float | None

    class Step(NamedTuple):
        op: int
        a: int
        b: int
        value: float


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
