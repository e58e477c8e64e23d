"""Writes the fencing teacher: what hits, what can be hit and when, with phases, boxes and cancels.

Run ``python -m demo.fencing`` after ``python -m demo.art.fencing``; it writes the same bytes every time.
"""

from __future__ import annotations

from itertools import accumulate
from pathlib import Path
from typing import Literal

from msgspec.structs import replace

from demo.art.draw import CELL, FOOT
from demo.art.fencing import ROWS
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import ActionBox, BoxKey, BoxKind, Cel, Clip, Mark, Phase, Strike
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.document import Character
from leanstep.core.character.files import save
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.takes import Change, Expectation, SecondFigure, Take

HERE = Path(__file__).parent
COLUMNS = max(sum(count for _, _, count in row) for row in ROWS)
TICKS: dict[str, tuple[float, ...]] = {
    "guard": (8.0,) * 6,
    "advance": (5.0,) * 4,
    "retreat": (5.0,) * 4,
    "lunge": (6.0, 3.0, 3.0, 4.0, 8.0, 6.0),
    "riposte": (3.0, 3.0, 4.0, 6.0, 4.0),
    "parry-high": (3.0, 10.0, 5.0),
    "parry-low": (3.0, 10.0, 5.0),
    "struck": (4.0, 6.0, 6.0, 6.0),
    "blocked": (3.0, 5.0, 4.0),
    "salute": (8.0, 6.0, 14.0, 6.0, 8.0),
    "stumble": (6.0, 6.0, 6.0, 6.0),
}
LOOPS = ("guard", "advance", "retreat")
Rect = tuple[float, float, float, float]


def box(name: str, kind: BoxKind, *keys: tuple[int, Rect]) -> ActionBox:
    """A box with keys on cels."""
    return ActionBox(name=name, kind=kind, keys=tuple(BoxKey(cel=cel, box=rect) for cel, rect in keys))


def body(name: str, lean: float = 0.0) -> ActionBox:
    """The box that can be hit, on all cels of a clip."""
    rect = (-13.0 + lean, 0.0, 28.0, 64.0)
    return box("body", "vulnerable", *((cel, rect) for cel in dict.fromkeys((0, len(TICKS[name]) - 1))))


def clips() -> list[Clip]:
    """A clip for each action of the sheet."""
    made = []
    for row, actions in enumerate(ROWS):
        column = row * COLUMNS
        for name, _, count in actions:
            cels = tuple(Cel(frame=column + at, ticks=ticks) for at, ticks in enumerate(TICKS[name]))
            loop: Literal["repeat", "once"] = "repeat" if name in LOOPS else "once"
            made.append(_acting(Clip(name=name, sheet="fencing teacher", cels=cels, loop=loop, boxes=(body(name),))))
            column += count
    return made


def _acting(clip: Clip) -> Clip:
    """A clip with what it does to whom it hits, and what is heard."""
    starts = (0.0, *accumulate(cel.ticks for cel in clip.cels))
    if clip.name in ("advance", "retreat"):
        steps = tuple(Mark(name="step", at=at, says={"foot": foot}) for at, foot in ((5.0, "front"), (15.0, "back")))
        return replace(clip, marks=steps)
    if clip.name == "lunge":
        blade, reach = (22.0, 36.0, 38.0, 8.0), (0.0, 8.0, 66.0, 56.0)
        return replace(
            clip,
            phases=(Phase(start=starts[2], end=starts[4]),),
            strike=Strike(stun=26, guard_stun=13, strength=2.0, push=90.0, freeze=4),
            marks=(Mark(name="whoosh", at=starts[1], says={"strength": 1.0}),),
            boxes=(
                body(clip.name, 4.0),
                box("blade", "strike", (2, blade), (3, blade)),
                box("reach", "guard", (1, reach), (3, reach)),
            ),
        )
    if clip.name == "riposte":
        blade, reach = (22.0, 38.0, 32.0, 8.0), (0.0, 8.0, 60.0, 58.0)
        return replace(
            clip,
            phases=(Phase(start=starts[2], end=starts[3]),),
            strike=Strike(stun=18, guard_stun=10, strength=1.0, push=60.0, freeze=3),
            marks=(Mark(name="whoosh", at=starts[1], says={"strength": 0.6}),),
            boxes=(
                body(clip.name, 2.0),
                box("blade", "strike", (2, blade)),
                box("reach", "guard", (1, reach), (2, reach)),
            ),
        )
    return clip


STATES = (
    State(name="guard", lane="piste", clip="guard", restful=True, backward=True),
    State(name="advance", lane="piste", clip="advance", backward=True),
    State(name="retreat", lane="piste", clip="retreat", backward=True),
    State(name="lunge", lane="piste", clip="lunge", hold_still=True, backward=True),
    State(name="riposte", lane="piste", clip="riposte", hold_still=True, backward=True),
    State(name="parry high", lane="piste", clip="parry-high", hold_still=True, backward=True),
    State(name="parry low", lane="piste", clip="parry-low", hold_still=True, backward=True),
    State(name="salute", lane="piste", clip="salute", hold_still=True, backward=True),
    State(name="struck", lane="piste", clip="struck", hold_still=True, backward=True),
    State(name="blocked", lane="piste", clip="blocked", hold_still=True, backward=True),
    State(name="stumble", lane="piste", clip="stumble", hold_still=True, backward=True),
)


def _way(source: str, to: str, when: str, urgent: bool = False) -> Transition:
    return Transition(source=source, to=to, when=when, urgent=urgent)


WAYS = (
    *(_way(name, "struck", "struck", urgent=True) for name in ("guard", "advance", "retreat", "lunge", "riposte")),
    *(_way(name, "blocked", "touched", urgent=True) for name in ("parry high", "parry low")),
    *(_way(name, "lunge", "thrust pressed") for name in ("guard", "advance")),
    *(_way(name, "parry high", "parry pressed and stick.y >= 0") for name in ("guard", "retreat")),
    *(_way(name, "parry low", "parry pressed and stick.y < 0") for name in ("guard", "retreat")),
    _way("guard", "salute", "salute pressed"),
    _way("guard", "advance", "stick.x > 0.3 and stay >= 0.1 s"),
    _way("guard", "retreat", "stick.x < -0.3 and stay >= 0.1 s"),
    _way("advance", "retreat", "stick.x < -0.3 and stay >= 0.15 s"),
    _way("retreat", "advance", "stick.x > 0.3 and stay >= 0.15 s"),
    _way("advance", "guard", "stick.x between -0.3 and 0.2 and stay >= 0.15 s"),
    _way("retreat", "guard", "stick.x between -0.2 and 0.3 and stay >= 0.15 s"),
    _way("lunge", "riposte", "phase recovery and thrust pressed"),
    *(_way(name, "riposte", "thrust pressed and stay >= 0.1 s") for name in ("parry high", "parry low")),
    *(_way(name, "guard", "stun = 0 and stay >= 0.1 s") for name in ("struck", "blocked")),
    _way("struck", "stumble", "clip done"),
    _way("stumble", "guard", "stun = 0"),
    *(_way(name, "guard", "clip done") for name in ("lunge", "riposte", "parry high", "parry low", "salute")),
)
TAKES = (
    Take(
        name="lesson",
        ticks=360,
        changes=(
            Change(at=10, set={"salute": True}),
            Change(at=12, set={"salute": False}),
            Change(at=70, set={"stick.x": 1}),
            Change(at=110, set={"stick.x": 0}),
            Change(at=130, set={"thrust": True}),
            Change(at=134, set={"thrust": False}),
            Change(at=148, set={"thrust": True}),
            Change(at=152, set={"thrust": False}),
            Change(at=200, set={"stick.x": -1}),
            Change(at=240, set={"stick.x": 0}),
            Change(at=260, set={"parry": True}),
            Change(at=264, set={"parry": False}),
            Change(at=270, set={"thrust": True}),
            Change(at=274, set={"thrust": False}),
            Change(at=300, set={"stick.y": -1}),
            Change(at=304, set={"parry": True}),
            Change(at=308, set={"parry": False, "stick.y": 0}),
        ),
        expects=(Expectation(what="mark", name="whoosh", times=3), Expectation(what="end-in", name="guard")),
        note="The salute, forward, a lunge that goes on as a riposte, back, and both parries.",
    ),
    Take(
        name="touched-twice",
        ticks=200,
        changes=(
            Change(at=20, set={"thrust": True}),
            Change(at=24, set={"thrust": False}),
            Change(at=28, set={"struck": True, "stun": 26}),
            Change(at=110, set={"parry": True}),
            Change(at=114, set={"parry": False}),
            Change(at=116, set={"touched": True, "stun": 13}),
        ),
        note="Struck out of a lunge, and a parry that holds.",
    ),
    Take(
        name="hit",
        ticks=120,
        changes=(Change(at=10, set={"thrust": True}), Change(at=14, set={"thrust": False})),
        second=SecondFigure(x=176.0),
        expects=(Expectation(what="end-in", name="guard"),),
        note="A lunge on the straw man.",
    ),
    Take(
        name="guarded",
        ticks=120,
        changes=(Change(at=10, set={"thrust": True}), Change(at=14, set={"thrust": False})),
        second=SecondFigure(x=176.0, changes=(Change(at=0, set={"braced": True}),)),
        note="The same on a straw man that guards.",
    ),
    Take(
        name="whiffed",
        ticks=120,
        changes=(Change(at=10, set={"thrust": True}), Change(at=14, set={"thrust": False})),
        second=SecondFigure(x=236.0),
        note="Out of reach.",
    ),
    Take(
        name="bout",
        ticks=240,
        changes=(
            Change(at=10, set={"parry": True}),
            Change(at=14, set={"parry": False}),
            Change(at=40, set={"thrust": True}),
            Change(at=44, set={"thrust": False}),
        ),
        second=SecondFigure(
            who="itself",
            x=176.0,
            changes=(Change(at=4, set={"thrust": True}), Change(at=8, set={"thrust": False})),
        ),
        note="She parries a pupil's lunge and answers.",
    ),
)


def teacher() -> Character:
    """The fencing teacher on a piste between two boards."""
    boards = tuple(Shape(x=x, y=-60, width=20, height=360) for x in (-20, 460))
    return Character(
        name="Fencing teacher",
        parameters=(
            Parameter(name="struck", kind="pulse"),
            Parameter(name="touched", kind="pulse"),
            Parameter(name="stun", kind="whole", max=60, countdown=True),
        ),
        contact=ContactRules(
            guards='in "base"."parry high" or in "base"."parry low" or in base.blocked',
            hit="struck",
            guarded="touched",
            stun="stun",
        ),
        controls=Controls(
            sticks=(Stick(name="stick", left=("Left",), right=("Right",), down=("Down",), up=("Up",)),),
            buttons=(
                Button(name="thrust", keys=("X",)),
                Button(name="parry", keys=("C",)),
                Button(name="salute", keys=("V",)),
            ),
        ),
        sheets=(
            Sheet(
                name="fencing teacher",
                image="art/fencing-teacher.png",
                size=(CELL * COLUMNS, CELL * len(ROWS)),
                cut=Cut(columns=COLUMNS, rows=len(ROWS)),
                foot=(float(FOOT[0]), float(FOOT[1])),
            ),
        ),
        clips=tuple(clips()),
        layers=(Layer(name="base", start="guard", lanes=("piste",), states=STATES, transitions=WAYS),),
        body=Body(jump="", run="", width=28, height=64, walk_speed=48, turn_time=10.0),
        course=Course(start=(120.0, 0.0), shapes=(Shape(x=-20, y=-60, width=500, height=60), *boards)),
        takes=TAKES,
    )


def faulty() -> Character:
    """The teacher with the mistakes people make: the lunge is active a cel too late, its guard reach too short on one, and whoever is
    struck by it is struck again before the stun ends; the salute has a box that hits and never does, the riposte is left before it can
    hit and does not link into the lunge as its note says, the low parry cannot be hit, and who retreats cannot parry."""
    made = teacher()

    def wrong(clip: Clip) -> Clip:
        if clip.name == "lunge":
            starts = (0.0, *accumulate(cel.ticks for cel in clip.cels))
            near = (0.0, 8.0, 50.0, 56.0)
            reach = box("reach", "guard", (1, (0.0, 8.0, 66.0, 56.0)), (2, near), (3, near))
            strike = Strike(stun=60, guard_stun=13, strength=2.0, freeze=4)
            phases = (Phase(start=starts[3], end=starts[5]),)
            return replace(clip, phases=phases, boxes=(*clip.boxes[:2], reach), strike=strike)
        if clip.name == "salute":
            return replace(clip, boxes=(*clip.boxes, box("blade", "strike", (2, (4.0, 60.0, 6.0, 30.0)))))
        return replace(clip, boxes=()) if clip.name == "parry-low" else clip

    layer = made.layers[0]
    ways = tuple(
        replace(way, when="stay >= 5 ticks") if (way.source, way.to) == ("riposte", "guard") else way
        for way in layer.transitions
        if not (way.source == "retreat" and way.to.startswith("parry"))
    )
    states = tuple(
        replace(one, note="Links into lunge." if one.name == "riposte" else one.note) for one in layer.states
    )
    return replace(
        made,
        name="Fencing teacher, gone wrong",
        clips=tuple(map(wrong, made.clips)),
        layers=(replace(layer, states=states, transitions=ways),),
    )


def main() -> None:
    """Write both."""
    save(HERE / "fencing-teacher.leanstep", teacher())
    save(HERE / "fencing-teacher-faulty.leanstep", faulty())


if __name__ == "__main__":
    main()
