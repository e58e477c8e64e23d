"""The columns of what a figure is drawn with: squashes and leans, costumes, pin points, ways of moving, and parts."""

from __future__ import annotations

from typing import Annotated, NamedTuple


class DrawnColumns:
    """What each may hold is said as in :class:`leanstep.core.tick.columns.Columns`."""

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
