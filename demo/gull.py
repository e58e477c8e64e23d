"""Writes the harbour gull: a figure put together from parts, which stands, breathes, hops and flies.

Run ``python -m demo.gull`` after ``python -m demo.art.gull``; it writes the same bytes every time.
"""

from __future__ import annotations

from pathlib import Path

from demo.art.gull import CELL, COLUMNS, PARTS
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Clip, Mark
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.files import save
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.cut_outs.edits import cels_of

HERE = Path(__file__).parent
GROUND = (28.0, 56.0)
"""The foot of the figure, on the frame of the body."""
FRAMES = list(PARTS)


def part(
    name: str,
    joint: tuple[float, float],
    at: tuple[float, float],
    parent: str = "body",
    order: int = 0,
    turn: float = 0.0,
) -> CutOutPart:
    """A part with its own cell."""
    return CutOutPart(
        name=name, frame=FRAMES.index(name), parent=parent, joint=joint, at=at, order=order, turn=turn
    )


RIG = (
    CutOutPart(name="body", frame=0, joint=(28, 24)),
    part("tail", (40, 20), (12, 24), order=-1),
    part("head", (27, 28), (42, 19), order=1),
    part("eye", (28, 18), (33, 17), "head", order=2),
    part("near wing", (10, 13), (38, 17), order=3, turn=165),
    part("near hand", (8, 13), (38, 14), "near wing", order=2, turn=18),
    part("far wing", (10, 13), (36, 16), order=-3, turn=168),
    part("far hand", (8, 13), (38, 14), "far wing", order=-4, turn=16),
    part("near thigh", (28, 9), (26, 29), order=-1, turn=14),
    part("near shin", (28, 9), (28, 17), "near thigh", order=-1, turn=-14),
    part("far thigh", (28, 9), (31, 29), order=-2, turn=14),
    part("far shin", (28, 9), (28, 17), "far thigh", order=-2, turn=-14),
)


def track(name: str, *keys: tuple[float, dict[str, float]]) -> Track:
    """Keys of a part: each a tick and what is other than at rest."""
    return Track(part=name, keys=tuple(PartKey(at=at, ease="both", **values) for at, values in keys))  # type: ignore[arg-type]


def feet() -> tuple[Reach, ...]:
    """Both feet stand where they stand, whatever the body does."""
    return tuple(
        Reach(part=f"{side} shin", tip=(28, 20), bend="left", keys=(ReachKey(x=x, y=2),))
        for side, x in (("near", -3.0), ("far", 3.0))
    )
