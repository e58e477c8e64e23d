"""Random figures that are drawn from parts, and mixed from them."""

from __future__ import annotations

import random

from msgspec.structs import replace

from leanstep.core.character.clips import Cel, Playback
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.cut_outs.frame_poses import FramePoses, frame_poses
from leanstep.core.cut_outs.loading import written
from leanstep.core.cut_outs.skeleton import skeleton
from tests.property.test_picks import random_figure

FRAMES = 8


def poses_without_art(character: Character) -> dict[str, FramePoses]:
    """How frames move parts, of sheets whose parts say where their joints lie."""
    sheets = {sheet.name: sheet for sheet in character.sheets}
    found = {}
    for sheet in character.sheets:
        if sheet.cut_out is not None:
            cut_out = written(sheet, character.sheets)
            found[sheet.name] = frame_poses(cut_out, skeleton(sheets[cut_out.of].parts, {}))
    return found


def parted_character(seed: int) -> Character:
    """A random figure of blend spaces most of whose frames are drawn from the same parts, with a costume of other pictures of
    them, and a layer in front of it."""
    pick, plain = random.Random(f"{seed} parts"), random_figure(seed)
    rig = ("body", "arm", "hand", "eye")
    sheets = (
        *(Sheet(name=name, image=f"{name}.png", size=(64, 16), cut=Cut(columns=4)) for name in ("flat", "other rig")),
        Sheet(name="rig", image="rig.png", size=(64, 16), cut=Cut(columns=4), parts=_parts(pick, rig)),
        Sheet(name="art", cut_out=_cut_out(pick, rig)),
        Sheet(name="more", cut_out=_cut_out(pick, rig)),
        Sheet(name="dressed", cut_out=CutOut(like="art", pictures="other rig")),
    )
    clips = tuple(replace(clip, cels=_cels(pick), playback=_playback(pick)) for clip in plain.clips)
    blends = tuple(
        replace(blend, samples=tuple(replace(one, mirrored=pick.random() < 0.2) for one in blend.samples))
        for blend in plain.blends
    )
    front = Layer(name="front", states=(State(name="over", blend="two", clear=pick.random() < 0.7),))
    base = plain.layers[0]
    states = tuple(replace(one, costume=pick.choice(("", "", "dressed"))) for one in base.states)
    worn = Costume(name="dressed", sheets=(StandIn(sheet="art", by="dressed"),), parameter="wears", value="dressed")
    choice = Parameter(name="wears", kind="choice", choices=("nothing", "dressed"))
    return replace(
        plain,
        sheets=sheets,
        clips=clips,
        blends=blends,
        layers=(replace(base, states=states), front),
        costumes=(worn,),
        parameters=(*plain.parameters, choice),
    )


def _parts(pick: random.Random, names: tuple[str, ...]) -> tuple[CutOutPart, ...]:
    """Parts that hang on parts before them, listed in any order."""
    parts = [
        CutOutPart(
            name=name,
            parent="" if at == 0 else pick.choice(names[:at]),
            joint=(pick.uniform(0, 16), pick.uniform(0, 16)),
            turn=pick.choice((0.0, pick.uniform(-90, 90))),
            order=pick.randint(-1, 1),
        )
        for at, name in enumerate(names)
    ]
    pick.shuffle(parts)
    return tuple(parts)


def _cut_out(pick: random.Random, names: tuple[str, ...]) -> CutOut:
    every, track = pick.randint(1, 3), 3 * FRAMES

    def keys() -> tuple[PartKey, ...]:
        times = sorted(pick.sample(range(track), pick.randint(1, 4)))
        return tuple(
            PartKey(
                at=at,
                x=pick.uniform(-9, 9),
                y=pick.uniform(-9, 9),
                turn=pick.choice((0.0, pick.uniform(-400, 400))),
                wide=pick.choice((1.0, pick.uniform(0.5, 2))),
                ease=pick.choice(("even", "in", "out", "both")),
            )
            for at in times
        )

    target = ReachKey(x=pick.uniform(-9, 9), y=pick.uniform(-9, 9))
    return CutOut(
        of="rig",
        ticks=FRAMES * every,
        every=every,
        repeats=pick.random() < 0.5,
        tracks=tuple(Track(part=name, keys=keys()) for name in names if pick.random() < 0.7),
        reaches=(Reach(part="hand", keys=(target,), tip=(3.0, 4.0)),) if pick.random() < 0.3 else (),
    )


def _cels(pick: random.Random) -> tuple[Cel, ...]:
    return tuple(
        Cel(
            frame=pick.randrange(FRAMES),
            sheet=pick.choices(("art", "more", "flat"), (12, 4, 1))[0],
            ticks=pick.choice((1, 2, 2.5)),
            mirrored=pick.random() < 0.05,
            turns=pick.choice((0,) * 15 + (1,)),
        )
        for _ in range(pick.randint(1, 4))
    )


def _playback(pick: random.Random) -> Playback | None:
    if pick.random() < 0.7:
        return None
    return Playback(parameter="speed", at=5, min=0, max=3, resting=Cel(frame=1, sheet="art"))
