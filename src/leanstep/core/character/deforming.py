"""The document's part about changes of shape that are drawn only: squashes and leans."""

from __future__ import annotations

from typing import Annotated

from leanstep.core.character.annotations import Defines, Within
from leanstep.core.character.part import Part

REMEMBERED = 0.1
"""Seconds for which the speed of a fall counts after it has ended, and over which a figure without a lean becomes upright."""
LEAST, MOST = 0.05, 20.0
"""How high or wide a squash may make the figure, as a factor."""
Factor = Annotated[float, Within(LEAST, MOST, "times")]
Time = Annotated[float, Within(0, 3600, "seconds")]


class Squash(Part, frozen=True, kw_only=True):
    """A change of shape with a name.  Without ``hold`` it springs back when the state that began it is left; begun by a mark or a
    transition, when another one begins."""

    name: Annotated[str, Defines("squash"), "how states, transitions and effects name it"]
    high: Annotated[Factor, "times as high"] = 1.0
    wide: Annotated[Factor | None, "times as wide; left out, so that its area stays"] = None
    over: Annotated[Time, "seconds until it is whole"] = 0.05
    hold: Annotated[Time | None, "seconds after which it springs back by itself"] = None
    back: Annotated[Time, "seconds for which it springs back"] = 0.15
    every: Annotated[Time, "it comes and goes once in so many seconds; 0: it does not"] = 0.0
    by_fall: Annotated[
        float,
        Within(0, unit="units a second"),
        "whole after a fall of that speed, and less after a slower one; 0: always",
    ] = 0.0
    whole_pixels: Annotated[bool, "heights are whole pixels"] = False
    box: Annotated[bool, "while a state is active that begins it, the body box has its whole shape, too"] = False


class Lean(Part, frozen=True, kw_only=True):
    """A tilt with a name, in degrees towards where the figure goes."""

    name: Annotated[str, Defines("lean"), "how states, transitions and effects name it"]
    speeding: Annotated[float, "degrees for each 100 units a second gained in a second"] = 0.0
    turning: Annotated[float, "degrees for each 100 degrees turned in a second"] = 0.0
    most: Annotated[float, Within(0, 90, "degrees"), "at most so many degrees"] = 15.0
    smooth: Annotated[float, Within(0, 60, "seconds"), "smoothed over so many seconds"] = 0.1
