"""Writes the characters that are seen from above: the ferry hand on the quay, his faulty twin, and the harbour cat.

Run ``python -m demo.quay`` after ``python -m demo.art.above``; it writes the same bytes every time.
"""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace

from demo.art.above import HAND, HAND_FOOT
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Clip, Mark
from leanstep.core.character.deforming import Lean
from leanstep.core.character.document import Character
from leanstep.core.character.files import save
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.clips.families import clips_of_rows, directions, ring

HERE = Path(__file__).parent
ROWS = 8
LONG = 6
"""Frames of a row."""
SPEEDS = {"idle": 0.0, "walk": 90.0, "haul": 180.0}
TICKS = {"idle": 6.0, "walk": 6.0, "haul": 5.0, "throw": 6.0}
STICK = Stick(name="stick", left=("Left",), right=("Right",), down=("Down",), up=("Up",))


def wall(x: float, y: float, width: float, height: float, tall: float | None = None) -> Shape:
    """A wall of the quay."""
    return Shape(kind="floor", x=x, y=y, width=width, height=height, tall=tall)


QUAY = Course(
    start=(0.0, 0.0),
    shapes=(
        wall(-260, 150, 520, 24),
        wall(-284, -190, 24, 364),
        wall(260, -190, 24, 364),
        wall(-260, -190, 190, 24),
        wall(-20, -190, 280, 24),
        wall(-180, 60, 90, 60),
        wall(110, -70, 24, 24, 10.0),
        wall(60, 90, 16, 16),
        Shape(kind="zone", name="at_bollard", x=42, y=50, width=52, height=74),
        Shape(kind="zone", name="gangway", x=-70, y=-190, width=50, height=40),
    ),
)


def family(name: str, first: int) -> list[Clip]:
    """The eight clips of a movement, with its steps."""
    frames = [tuple(range((first + row) * LONG, (first + row + 1) * LONG)) for row in range(ROWS)]
    made = clips_of_rows("ferry hand", name, frames, directions(ROWS, 180.0, True))
    ticks = TICKS[name]
    steps = (
        tuple(Mark(name="step", at=ticks * LONG * share) for share in (0.25, 0.75)) if name in ("walk", "haul") else ()
    )
    return [
        replace(
            clip,
            loop="once" if name == "throw" else "repeat",
            cels=tuple(replace(cel, ticks=ticks) for cel in clip.cels),
            marks=steps,
        )
        for clip in made
    ]


def ferry_hand() -> Character:
    """The ferry hand as he should be."""
    clips: list[Clip] = []
    samples: list[Sample] = []
    throws: list[Sample] = []
    for at, name in enumerate(TICKS):
        made = family(name, at * ROWS)
        clips += made
        by_way = dict(zip(directions(ROWS, 180.0, True), (clip.name for clip in made)))
        if name in SPEEDS:
            samples += ring(by_way, 2, 0, SPEEDS[name])
        else:
            throws = ring(by_way, 1, 0, 0.0)
    told = {str(row): bearing for row, bearing in enumerate(directions(ROWS, 180.0, True) * len(TICKS))}
    sheet = Sheet(
        name="ferry hand",
        image="art/ferry-hand-above.png",
        size=(HAND * LONG, HAND * ROWS * len(TICKS)),
        cut=Cut(columns=LONG, rows=ROWS * len(TICKS)),
        foot=HAND_FOOT,
        row_bearing=told,
        mirrors=False,
    )
    turns = Axis(parameter="facing")
    gait = BlendSpace(
        name="gait", sticky=0.1, axes=(turns, Axis(parameter="speed", max=180.0, step=90.0)), samples=tuple(samples)
    )
    throwing = BlendSpace(name="throwing", sticky=0.1, axes=(turns,), samples=tuple(throws))
    states = (
        State(name="stand", lane="quay", blend="gait", restful=True),
        State(name="go", lane="quay", blend="gait", restful=True),
        State(
            name="throw",
            lane="work",
            blend="throwing",
            hold_still=True,
            face=540.0,
            lean="into the throw",
            note="He turns to the bollard first.",
        ),
    )
    ways = (
        Transition(source="stand", to="go", when="speed > 6"),
        Transition(source="go", to="stand", when="speed < 3"),
        Transition(from_lane="quay", to="throw", when="throw pressed and at_bollard", urgent=True),
        Transition(source="throw", to="stand", when="clip done and speed < 3"),
        Transition(source="throw", to="go", when="clip done and speed >= 3"),
    )
    return Character(
        name="Ferry hand",
        parameters=(
            Parameter(name="facing", kind="bearing", owner="body"),
            Parameter(name="speed", owner="body", min=0.0, max=180.0, unit="units/s"),
            Parameter(name="at_bollard", kind="flag", owner="body"),
        ),
        controls=Controls(
            sticks=(STICK,), buttons=(Button(name="haul", keys=("Shift",)), Button(name="throw", keys=("Z",)))
        ),
        sheets=(sheet,),
        clips=tuple(clips),
        blends=(gait, throwing),
        layers=(Layer(name="base", start="stand", lanes=("quay", "work"), states=states, transitions=ways),),
        body=Body(
            model="above",
            run="haul",
            jump="",
            width=16.0,
            depth=10.0,
            height=34.0,
            walk_speed=90.0,
            run_speed=180.0,
            acceleration=720.0,
            braking=900.0,
            turn_rate=900.0,
        ),
        course=QUAY,
        leans=(Lean(name="into the throw", turning=2.0, most=12.0, smooth=0.08),),
        takes=(round_the_quay(), throw_a_line()),
    )


def steer(at: int, x: float, y: float, **more: bool) -> Change:
    """From a tick on the stick points there."""
    return Change(at=at, set={"stick.x": x, "stick.y": y, **more})


def round_the_quay() -> Take:
    """Once round all eight ways."""
    ways = ((1, 0), (1, -1), (0, -1), (-1, -1), (-1, 0), (-1, 1), (0, 1), (1, 1))
    changes = [steer(10 + 40 * at, float(x), float(y)) for at, (x, y) in enumerate(ways)]
    stop = 10 + 40 * len(ways)
    return Take(
        name="round the quay",
        ticks=stop + 40,
        changes=(*changes, steer(stop, 0.0, 0.0)),
        expects=(Expectation(what="end-in", name="stand"), Expectation(what="mark", name="step", times=12)),
    )


def throw_a_line() -> Take:
    """To the bollard at a haul, and a line thrown over it."""
    return Take(
        name="throw a line",
        ticks=170,
        changes=(
            steer(5, 1.0, 1.0, haul=True),
            steer(38, 0.0, 1.0, haul=False),
            steer(62, 0.0, 0.0),
            Change(at=80, set={"throw": True}),
            Change(at=86, set={"throw": False}),
        ),
        expects=(Expectation(what="enter", name="throw"), Expectation(what="end-in", name="stand")),
    )


def faulty() -> Character:
    """The same with everything that goes wrong with directions."""
    made = ferry_hand()
    gait = made.blends[0]
    samples = [one for one in gait.samples if one.at[0] != 225.0 or one.at[1] == 0.0]
    samples = [replace(one, clip="walk right", mirrored=True) if one.at == (270.0, 90.0) else one for one in samples]
    clips = []
    for clip in made.clips:
        if clip.name == "walk up-right":
            clip = replace(clip, marks=tuple(replace(one, at=(one.at + 9.0) % 36.0) for one in clip.marks))
        clips.append(clip)
    sheet = replace(made.sheets[0], feet={str(12 * LONG + 2): (HAND_FOOT[0] + 6, HAND_FOOT[1])})
    return replace(
        made,
        name="Ferry hand, gone wrong",
        sheets=(sheet,),
        clips=tuple(clips),
        blends=(replace(gait, sticky=0.0, samples=tuple(samples)), made.blends[1]),
    )


def harbour_cat() -> Character:
    """The cat, drawn in five directions and mirrored."""
    five = directions(5, 180.0, False)
    clips: list[Clip] = []
    samples: list[Sample] = []
    for at, (name, out) in enumerate((("sit", 0.0), ("prowl", 70.0))):
        frames = [tuple(range((at * 5 + row) * LONG, (at * 5 + row + 1) * LONG)) for row in range(5)]
        rows = clips_of_rows("cat", name, frames, five)
        clips += rows
        samples += ring(dict(zip(five, (clip.name for clip in rows))), 2, 0, out)
    sheet = Sheet(
        name="cat",
        image="art/harbour-cat.png",
        size=(32 * LONG, 320),
        cut=Cut(columns=LONG, rows=10),
        foot=(16.0, 21.0),
        row_bearing={str(row): bearing for row, bearing in enumerate(five * 2)},
    )
    gait = BlendSpace(
        name="gait",
        sticky=0.1,
        axes=(Axis(parameter="facing"), Axis(parameter="speed", max=70.0, step=70.0)),
        samples=tuple(samples),
    )
    return Character(
        name="Harbour cat",
        parameters=(
            Parameter(name="facing", kind="bearing", owner="body"),
            Parameter(name="speed", owner="body", min=0.0, max=70.0, unit="units/s"),
        ),
        controls=Controls(sticks=(STICK,)),
        sheets=(sheet,),
        clips=tuple(clips),
        blends=(gait,),
        layers=(
            Layer(name="base", lanes=("quay",), states=(State(name="about", lane="quay", blend="gait", restful=True),)),
        ),
        body=Body(
            model="above", ways="free", run="", jump="", width=12, depth=8, height=14, walk_speed=70, turn_rate=540
        ),
        course=QUAY,
    )


def main() -> None:
    """Write all three."""
    save(HERE / "ferry-hand.leanstep", ferry_hand())
    save(HERE / "ferry-hand-faulty.leanstep", faulty())
    save(HERE / "harbour-cat.leanstep", harbour_cat())


if __name__ == "__main__":
    main()
