"""What the index of an atlas says: where frames are, and what clips do with them."""

from __future__ import annotations

from typing import Any

import msgspec

VERSION = 1


class Page(msgspec.Struct):
    """One picture."""

    image: str
    width: int
    height: int


class Placed(msgspec.Struct):
    """Where a frame is: on ``page`` at ``x``, ``y``, so large there (turned clockwise where ``rotated``).  ``trim`` is what of the
    frame is there, x, y, width and height from its top left corner; ``size`` its whole size; ``foot`` where it stands and ``box``
    what collides, left, bottom, width and height from the foot with y up; all in pixels as they are shown."""

    name: str
    page: int
    x: int
    y: int
    width: int
    height: int
    rotated: bool
    trim: tuple[int, int, int, int]
    size: tuple[int, int]
    foot: tuple[float, float]
    box: tuple[float, float, float, float] | None


class PlacedBox(msgspec.Struct):
    """A box that hits, can be hit, or shows how far a guard reaches, on one cel.

    It is [left, bottom, width, height] from the frame's foot, as that is drawn, in pixels as shown, and mirrored and turned with the
    cel.
    """

    name: str
    kind: str
    box: tuple[float, float, float, float]


class PlacedPin(msgspec.Struct, omit_defaults=True):
    """A pin point on one cel: pixels as shown to the right of the frame's foot and above it, and a bearing, as the frame is drawn;
    both are mirrored and turned with the cel.  ``behind``: what is pinned there is drawn behind the figure."""

    name: str
    x: float
    y: float
    angle: float
    behind: bool = False


class ShownAccessory(msgspec.Struct, omit_defaults=True):
    """What is pinned to a pin point: a frame, or a clip that begins with each state; ``angle`` is where it points as it is drawn,
    ``order`` whether it is drawn ``before`` the figure or ``behind``, or as the ``pin`` point says; ``shown`` a condition."""

    name: str
    pin: str
    angle: float
    frame: str = ""
    clip: str = ""
    order: str = "pin"
    shown: str = ""


class ShownCel(msgspec.Struct, omit_defaults=True):
    """A frame in a clip: mirrored about its foot, then turned clockwise by quarter turns; for so many ticks."""

    frame: str
    ticks: float
    mirrored: bool
    turns: int
    box: tuple[float, float, float, float] | None
    boxes: list[PlacedBox] = []
    pins: list[PlacedPin] = []


class Event(msgspec.Struct, omit_defaults=True):
    """A mark (``end`` is None) or a span of a clip, in ticks, with what it says; ``pin`` is where a mark fires."""

    name: str
    start: float
    end: float | None
    says: dict[str, float | bool | str]
    pin: str = ""


class ShownClip(msgspec.Struct, omit_defaults=True):
    """A clip: its length in ticks, how it runs, and what happens in it.  ``again``: the tick at which it goes on after its end;
    None: it does not.  ``phases`` are startup, active and recovery, one after another."""

    name: str
    loop: str
    ticks: float
    again: float | None
    cels: list[ShownCel]
    marks: list[Event]
    spans: list[Event]
    phases: list[Event] = []


class WornCostume(msgspec.Struct):
    """What a costume shows in place of the frames that clips show; ``parameter`` and ``value`` are empty where only states wear it."""

    name: str
    parameter: str
    value: str
    frames: dict[str, str]


class ShownPart(msgspec.Struct, omit_defaults=True):
    """A part of a figure: its picture is the frame ``frame``, which stands with its joint; it lies ``x`` to the right of the joint of
    its ``parent`` (of the figure's foot, where it has none) and ``y`` above it, turned by ``turn`` degrees clockwise before anything
    moves.  Parts are listed parents first; ``drawn`` says in which order they are drawn, from the back to the front."""

    name: str
    frame: str
    x: float
    y: float
    drawn: int
    parent: str = ""
    turn: float = 0.0


class ShownFigure(msgspec.Struct):
    """The parts of a figure, and how frames drawn from them move each: x, y, turn, width and height of each part in the order of the
    parts, by the names of the frames; all in pixels as shown."""

    name: str
    parts: list[ShownPart]
    poses: dict[str, list[tuple[float, float, float, float, float]]]


class Index(msgspec.Struct, omit_defaults=True):
    """The whole index."""

    leanstep_atlas: int
    generator: str
    name: str
    rate: float
    padding: int
    extrude: int
    pages: list[Page]
    frames: list[Placed]
    clips: list[ShownClip]
    costumes: list[WornCostume] = []
    accessories: list[ShownAccessory] = []
    figures: list[ShownFigure] = []


def schema() -> dict[str, Any]:
    """The JSON Schema of an index."""
    return {"title": "Lean Step atlas", **msgspec.json.schema(Index)}
