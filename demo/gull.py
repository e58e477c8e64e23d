"""Writes the harbour gull: a figure put together from parts, which stands, breathes, hops and flies.

Run ``python -m demo.gull`` after ``python -m demo.art.gull``; it writes the same bytes every time.
"""

from __future__ import annotations

from pathlib import Path

from demo.art.gull import CELL, COLUMNS, PARTS
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Clip
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.files import save
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.cut_outs.edits import cels_of

HERE = Path(__file__).parent
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
    return CutOutPart(name=name, frame=FRAMES.index(name), parent=parent, joint=joint, at=at, order=order, turn=turn)


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
        Reach(part=f"{side} shin", tip=(28, 20), bend="left", keys=(ReachKey(x=x, y=0),))
        for side, x in (("near", -3.0), ("far", 3.0))
    )


def standing() -> CutOut:
    """It breathes, and looks about; both feet stay where they stand."""
    return CutOut(
        of="gull",
        ticks=96,
        every=6,
        tracks=(
            track("body", (0, {}), (48, {"y": -1.5, "turn": 1.5})),
            track("head", (0, {}), (30, {"turn": 4, "y": 0.5}), (60, {"turn": -5})),
            track("tail", (0, {}), (48, {"turn": -5})),
            track("near wing", (0, {}), (48, {"turn": 2})),
            track("eye", (0, {}), (60, {}), (64, {"high": 0.2}), (68, {})),
        ),
        reaches=feet(),
    )


def hopping() -> CutOut:
    """One hop: down, up and down again, with the wings a little out."""
    return CutOut(
        of="gull",
        ticks=24,
        every=3,
        tracks=(
            track("body", (0, {"y": -3}), (6, {"y": 4, "turn": -6}), (12, {"y": 7}), (20, {"y": 0, "turn": 3})),
            track("head", (0, {"turn": 4}), (12, {"turn": -6})),
            track("tail", (0, {}), (8, {"turn": 9})),
            track("near wing", (0, {}), (9, {"turn": 14, "y": 1})),
            track("near thigh", (0, {"turn": 20}), (12, {"turn": -18})),
            track("near shin", (0, {"turn": -30}), (12, {"turn": 20})),
            track("far thigh", (0, {"turn": 14}), (12, {"turn": -22})),
            track("far shin", (0, {"turn": -24}), (12, {"turn": 24})),
        ),
    )


TUCKED = (
    track("near thigh", (0, {"turn": 62})),
    track("near shin", (0, {"turn": 20})),
    track("far thigh", (0, {"turn": 66})),
    track("far shin", (0, {"turn": 18})),
)


def flapping() -> CutOut:
    """The wings beat: the outer half goes after the inner one."""
    return CutOut(
        of="gull",
        ticks=24,
        every=3,
        tracks=(
            track("body", (0, {"y": 16, "turn": -14}), (12, {"y": 12, "turn": -10})),
            track("head", (0, {"turn": 12}), (12, {"turn": 9})),
            track("near wing", (0, {"turn": 62}), (12, {"turn": -52})),
            track("near hand", (3, {"turn": 22}), (15, {"turn": -48})),
            track("far wing", (0, {"turn": 66}), (12, {"turn": -46})),
            track("far hand", (3, {"turn": 20}), (15, {"turn": -44})),
            *TUCKED,
        ),
    )


def gliding(bank: float) -> CutOut:
    """The wings are out and still; ``bank`` (-1 to 1) is how far it leans to one side."""
    near, far = 34.0 - 44.0 * bank, 34.0 + 44.0 * bank
    return CutOut(
        of="gull",
        ticks=48,
        every=6,
        tracks=(
            track("body", (0, {"y": 14, "turn": 6.0 * bank}), (24, {"y": 12, "turn": 6.0 * bank})),
            track("head", (0, {"turn": -5.0 * bank}), (24, {"turn": 3 - 5.0 * bank})),
            track("near wing", (0, {"turn": near}), (24, {"turn": near - 6.0})),
            track("near hand", (0, {"turn": -16.0})),
            track("far wing", (0, {"turn": far}), (24, {"turn": far - 6.0})),
            track("far hand", (0, {"turn": -16.0})),
            *TUCKED,
        ),
    )


MOTIONS = {
    "stand": standing(),
    "hop": hopping(),
    "flap": flapping(),
    "glide left": gliding(-1.0),
    "glide right": gliding(1.0),
}
"""What it does, by the names of the clips."""


def gull() -> Character:
    """The gull on the quay."""
    width, height = CELL
    rows = -(-len(PARTS) // COLUMNS)
    rig = Sheet(
        name="gull",
        image="art/harbour-gull.png",
        size=(COLUMNS * width, rows * height),
        cut=Cut(columns=COLUMNS, rows=rows),
        feet={"0": (28.0, 47.0)},
        parts=RIG,
    )
    drawn = tuple(Sheet(name=name, cut_out=cut_out) for name, cut_out in MOTIONS.items())
    clips = tuple(Clip(name=name, sheet=name, cels=cels_of(cut_out)) for name, cut_out in MOTIONS.items())
    states = (
        State(name="stand", lane="ground", clip="stand", restful=True),
        State(name="hop", lane="ground", clip="hop"),
        State(name="flap", lane="air", clip="flap"),
        State(name="glide", lane="air", blend="bank"),
    )
    ways = (
        Transition(from_lane="ground", to="flap", when="not grounded"),
        Transition(source="stand", to="hop", when="speed > 14"),
        Transition(source="hop", to="stand", when="grounded and speed < 8 and stay >= 12 ticks"),
        Transition(source="flap", to="glide", when="rise < 0 and stay >= 12 ticks"),
        Transition(from_lane="air", to="hop", when="grounded and speed > 14 and stay >= 6 ticks"),
        Transition(from_lane="air", to="stand", when="grounded and stay >= 6 ticks"),
    )
    return Character(
        name="Harbour gull",
        parameters=(
            Parameter(name="speed", owner="body", min=0, max=120, unit="units/s", wobble=2),
            Parameter(name="rise", owner="body", min=-400, max=320, unit="units/s"),
            Parameter(name="grounded", kind="flag", owner="body", rest=True),
        ),
        controls=Controls(
            sticks=(
                Stick(name="stick", left=("Left", "A"), right=("Right", "D")),
                Stick(name="bank", left=("Q",), right=("E",)),
            ),
            buttons=(Button(name="jump", keys=("Space",)),),
        ),
        sheets=(rig, *drawn),
        clips=clips,
        blends=(
            BlendSpace(
                name="bank",
                sticky=0.1,
                axes=(Axis(parameter="bank.x", min=-1, max=1, step=1),),
                samples=(Sample(at=(-1.0,), clip="glide left"), Sample(at=(1.0,), clip="glide right")),
            ),
        ),
        layers=(Layer(name="base", lanes=("ground", "air"), states=states, transitions=ways),),
        body=Body(run_speed=100, walk_speed=60, jump="jump", run=""),
        course=Course(
            start=(80, 0),
            shapes=(
                Shape(y=-60, width=900, height=60, name=""),
                Shape(x=-30, y=-60, width=30, height=360, name=""),
                Shape(x=900, y=-60, width=30, height=360, name=""),
                Shape(x=320, width=80, height=40, name="the bollard"),
            ),
        ),
        takes=(
            Take(
                name="up and over",
                ticks=260,
                changes=(
                    Change(at=20, set={"stick.x": 1.0}),
                    Change(at=70, set={"jump": True}),
                    Change(at=110, set={"jump": False, "bank.x": 1.0}),
                    Change(at=180, set={"bank.x": 0.0, "stick.x": 0.0}),
                ),
                expects=(
                    Expectation(what="enter", name="flap"),
                    Expectation(what="enter", name="glide"),
                    Expectation(what="end-in", name="stand"),
                ),
            ),
        ),
    )


def main() -> None:
    """Write it."""
    save(HERE / "harbour-gull.leanstep", gull())


if __name__ == "__main__":
    main()
