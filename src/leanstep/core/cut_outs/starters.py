"""Small motions of one part in one gesture, with two numbers each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from leanstep.core.character.cut_outs import CutOut, PartKey
from leanstep.core.cut_outs.edits import with_keys
from leanstep.core.cut_outs.poses import Pose

LEAST = 0.05
"""How high a closed eye is, of how high it is drawn."""
CLOSING = 2.0
"""Ticks in which an eye closes, and opens."""


@dataclass(frozen=True)
class Number:
    """A number that is asked for: what it says, what it begins with, and its bounds."""

    says: str
    start: float
    low: float
    high: float
    unit: str


@dataclass(frozen=True)
class Starter:
    """A motion: its name, what it does, and its two numbers."""

    name: str
    says: str
    numbers: tuple[Number, Number]
    keys: Callable[[CutOut, float, float], list[PartKey]]

    def done(self, cut_out: CutOut, part: str, one: float, other: float) -> CutOut:
        """The cut-out in which a part moves so."""
        return with_keys(cut_out, part, self.keys(cut_out, one, other))


def _to_and_fro(cut_out: CutOut, period: float, first: Pose, second: Pose) -> list[PartKey]:
    """Keys from one pose to another and back, as often as whole periods of about that length fit."""
    times = max(1, round(cut_out.ticks / period))
    step = cut_out.ticks / (2 * times)
    poses = (first, second)
    return [
        PartKey(at=at * step, x=one.x, y=one.y, turn=one.turn, wide=one.wide, high=one.high, ease="both")
        for at, one in ((at, poses[at % 2]) for at in range(2 * times))
    ]


def _breathe(cut_out: CutOut, percent: float, period: float) -> list[PartKey]:
    grown = Pose(high=1.0 + percent / 100.0, wide=1.0 - percent / 400.0)
    return _to_and_fro(cut_out, period, Pose(), grown)


def _bob(cut_out: CutOut, pixels: float, period: float) -> list[PartKey]:
    return _to_and_fro(cut_out, period, Pose(), Pose(y=-pixels))


def _sway(cut_out: CutOut, degrees: float, period: float) -> list[PartKey]:
    return _to_and_fro(cut_out, period, Pose(turn=-degrees), Pose(turn=degrees))


def _blink(cut_out: CutOut, closed: float, at: float) -> list[PartKey]:
    """Open, and from a tick on closed for some ticks; as far as that fits before the end."""
    end = float(cut_out.ticks)
    shut = min(max(at, CLOSING), max(CLOSING, end - closed - CLOSING))
    instants = (0.0, shut - CLOSING, shut, shut + closed, shut + closed + CLOSING)
    heights = (1.0, 1.0, LEAST, LEAST, 1.0)
    keys = {at: PartKey(at=at, high=high, ease="even") for at, high in zip(instants, heights) if at <= end}
    return list(keys.values())


def _slide(cut_out: CutOut, degrees: float, lower: float) -> list[PartKey]:
    return [PartKey(turn=degrees, y=-lower)]


def _period(ticks: float) -> Number:
    return Number("How many ticks does one take?", ticks, 2, 10_000, "ticks")


STARTERS = (
    Starter(
        "Breathe",
        "It grows and becomes a little narrower, and back",
        (Number("By how much does it grow?", 3, 0.1, 50, "%"), _period(60)),
        _breathe,
    ),
    Starter("Bob", "It goes down and up again", (Number("How far down?", 2, 0.1, 500, "px"), _period(30)), _bob),
    Starter(
        "Sway",
        "It turns to one side and to the other",
        (Number("How far to each side?", 6, 0.1, 180, "°"), _period(60)),
        _sway,
    ),
    Starter(
        "Blink",
        "It closes and opens",
        (Number("For how long is it closed?", 4, 1, 600, "ticks"), Number("At which tick?", 30, 0, 10_000, "ticks")),
        _blink,
    ),
    Starter(
        "Slide",
        "It leans back and lies lower, all the time",
        (
            Number("How far does it lean back?", -60, -180, 180, "°"),
            Number("How much lower does it lie?", 8, 0, 500, "px"),
        ),
        _slide,
    ),
)
"""The motions there are, in the order in which they are offered."""
