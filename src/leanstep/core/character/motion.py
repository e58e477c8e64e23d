"""The document's part about motion the drawings do not have: paths that clips travel, contacts of feet, squash and lean."""

from __future__ import annotations

from typing import Literal

from leanstep.core.character.part import Part

GOES_AHEAD, GOES_UP, GOES_THROUGH = 1, 2, 4
"""What a path does to the body, as bits: it goes ahead or back, up or down, and through walls and floors."""
Easing = Literal["even", "in", "out", "both"]


class Key(Part, frozen=True, kw_only=True):
    """Where a path is at the instant ``at`` (ticks from the clip's start): ``x`` units ahead of where it began, in the facing, and
    ``y`` above.  ``ease`` is how it is gone to from the key before: evenly, speeding up (``in``), slowing down (``out``) or both."""

    at: float
    x: float = 0.0
    y: float = 0.0
    ease: Easing = "even"


class Travel(Part, frozen=True, kw_only=True):
    """A displacement keyed over a clip; before its first key a path is where it begins, after the last one it stays.

    ``moves`` the body, which then goes this way in place of its own in each direction the path has (or only the ``drawing``, and
    the body stays); ``through`` walls and floors, or stopped by them.  ``scale_x`` and ``scale_y`` stretch the path.
    """

    keys: tuple[Key, ...] = ()
    moves: Literal["body", "drawing"] = "body"
    through: bool = False
    scale_x: float = 1.0
    scale_y: float = 1.0


class Contact(Part, frozen=True, kw_only=True):
    """A foot on the ground, from ``start`` to ``end`` (ticks): in the drawings it is first ``x`` and last ``to`` units ahead of the
    figure's foot point."""

    start: float
    end: float
    x: float
    to: float


class Squash(Part, frozen=True, kw_only=True):
    """A change of shape with a name: the figure becomes ``high`` times as high and ``wide`` times as wide (left out: so that its
    area stays), over so many seconds; after ``hold`` seconds it springs ``back`` within as many.  Without ``hold`` it does so when
    the state that began it is left; begun by a mark or a transition, when another one begins.

    With ``every`` it comes and goes once in so many seconds, as long as it holds.  With ``by_fall`` it is whole after a fall of
    that speed, in units a second, and less after a slower one.  ``whole_pixels`` makes heights whole pixels.  ``box``: while
    a state is active that begins it, the body box has its whole shape, too.
    """

    name: str
    high: float = 1.0
    wide: float | None = None
    over: float = 0.05
    hold: float | None = None
    back: float = 0.15
    every: float = 0.0
    by_fall: float = 0.0
    whole_pixels: bool = False
    box: bool = False


class Lean(Part, frozen=True, kw_only=True):
    """A tilt with a name, in degrees towards where the figure goes: ``speeding`` for each 100 units a second gained in a second,
    ``turning`` for each 100 degrees turned in a second; at ``most`` so many, smoothed over ``smooth`` seconds."""

    name: str
    speeding: float = 0.0
    turning: float = 0.0
    most: float = 15.0
    smooth: float = 0.1
