"""The document's part about how the figure moves, and on what."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import SYMBOL, Names, Numbers, Within
from leanstep.core.character.inputs import Waited
from leanstep.core.character.part import Part

Length = Annotated[float, Within(0, unit="units", open_low=True)]
Time = Annotated[float, Within(0, unit="seconds")]


class Body(Part, frozen=True, kw_only=True):
    """How the figure moves, seen from the side or from above.  Lengths in units, times in seconds; up is positive."""

    model: Annotated[Literal["side", "above"], "how it is seen"] = "side"
    ways: Annotated[
        Literal["free", "eight", "four", "square"],
        "from above: where it goes; `square`: by whole cells of `cell` units",
    ] = "eight"
    stick: Annotated[str, Names("stick"), "what steers it"] = "stick"
    jump: Annotated[str, Names("button"), "the button on which it jumps"] = "jump"
    run: Annotated[str, Names("button"), "the button while which it runs"] = "run"
    width: Annotated[Length, "of the body box"] = 20.0
    height: Annotated[Length, "of the body box"] = 52.0
    walk_speed: Annotated[float, "units a second"] = 70.0
    run_speed: Annotated[float, "units a second"] = 165.0
    acceleration: Annotated[float, "units a second, a second"] = 600.0
    braking: Annotated[float, "units a second, a second"] = 900.0
    air_control: Annotated[float, "the share of acceleration there is in the air"] = 0.6
    gravity_up: Annotated[float, "while it rises, units a second, a second"] = 900.0
    gravity_down: Annotated[float, "while it falls"] = 1300.0
    fall_speed: Annotated[float, "at most, units a second"] = 520.0
    jump_speed: Annotated[float, "upwards, units a second"] = 330.0
    jump_cut: Annotated[float, "the share of upward speed kept when the jump button is let go early"] = 0.45
    jump_grace: Annotated[Waited, "it still jumps so many seconds after it left the ground"] = 0.0
    jump_buffer: Annotated[Waited, "a press counts so many seconds before it is on the ground"] = 0.0
    climb_speed: Annotated[float, "units a second"] = 60.0
    depth: Annotated[Length, "from above: how far its foot reaches up and down"] = 12.0
    cell: Annotated[Length, "from above: a cell of the `square`"] = 32.0
    turn_rate: Annotated[
        float,
        Within(0, unit="degrees a second"),
        "from above: the figure turns by at most so many degrees a second; 0: at once",
    ] = 0.0
    along: Annotated[
        float, Within(0, 1), "from above: the share by which it goes where it looks instead of where the stick points"
    ] = 0.0
    along_after: Annotated[Time, "reached over so many seconds of pushing"] = 0.0
    along_wait: Annotated[Time, "which count only after so many"] = 0.0
    along_back: Annotated[float, Within(0, unit="times"), "given back so many times as fast"] = 1.0
    aim: Annotated[
        str, Names("aim"), "from above: a second stick or a bearing along which it looks while that is pushed"
    ] = ""
    aim_held: Annotated[
        str, Names("button"), "or while this button is held; without `aim` it keeps looking where it does"
    ] = ""
    slope: Annotated[float, Within(0, 90, "degrees", open_high=True), "from the side: the steepest it walks on"] = 45.0
    tilts: Annotated[bool, "the figure tilts with slopes"] = False
    turn_time: Annotated[Time, "from the side: it turns round after the stick has asked for it for so many seconds"] = (
        0.0
    )


class Shape(Part, frozen=True, kw_only=True):
    """A rectangle of the course."""

    kind: Annotated[
        Literal["floor", "ladder", "zone", "slope"],
        "seen from above a floor is a wall; a slope is what lies below the diagonal of its rectangle",
    ] = "floor"
    rises: Annotated[Literal["right", "left"], "to which side a slope goes up"] = "right"
    x: Annotated[float, "left edge, in units"] = 0.0
    y: Annotated[float, "bottom edge, in units"] = 0.0
    width: Annotated[float, "in units"] = 100.0
    height: Annotated[float, "in units"] = 20.0
    tall: Annotated[float | None, "from above: how high it stands for whoever jumps; left out, too high"] = None
    name: Annotated[
        str, Names(by="kind", of={"zone": SYMBOL}, gone="stays"), "of a zone: the flag of the body that is on inside"
    ] = ""


class Course(Part, frozen=True, kw_only=True):
    """What the figure moves on."""

    start: Annotated[tuple[float, ...], Numbers(2, "[x, y] in units"), "where its foot is set down"] = (0.0, 0.0)
    shapes: Annotated[tuple[Shape, ...], "what there is"] = ()
