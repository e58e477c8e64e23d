"""Marks without effects in clips longer than anything else asks about."""

from __future__ import annotations

import random

import pytest

from leanstep.core.character.clips import Cel, Clip, Effect, Mark
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.verdicts.marks import marks_of
from leanstep.core.proof.witness.building import on_tick
from leanstep.core.proof.witness.shrinking import witness_of
from tests.support.build import sketch, way
from tests.support.plain import enumerate_verdicts


@pytest.mark.long(but=15)
@pytest.mark.parametrize("seed", range(40))
def test_marks_fire_and_are_cut_off_when_trying_everything_says_so(seed: int) -> None:
    rng = random.Random(seed)
    clips = tuple(
        Clip(
            name=name,
            sheet="art",
            loop=rng.choice(["once", "repeat"]),
            cels=(Cel(frame=0, ticks=float(rng.randrange(8, 15))),),
            marks=tuple(
                Mark(name=f"{name}{n * (seed % 2)}", at=rng.choice([0.0, 3.0, 7.5, 10.0, 14.0])) for n in range(2)
            ),
        )
        for name in ("sway", "nod")
    )
    freeze = (Effect(do="freeze", value=2),) if rng.random() < 0.4 else ()
    states = (
        State(name="a", clip="sway"),
        State(name="b", clip=rng.choice(["nod", "sway"]), on_entry=freeze),
        State(name="c"),
    )
    when = [
        "on",
        "on and stay >= 4 ticks",
        "stay >= 11 ticks",
        "on for 3 ticks",
        "clip done",
        "not on and stay = 9 ticks",
    ]
    ways = [way(f"{one}>{rng.choice('abc'.replace(one, ''))}", rng.choice(when)) for one in "abcab"]
    ways += [way("b>b", "on and stay >= 2 ticks", restart=True)] * (rng.random() < 0.3)
    parameters = (Parameter(name="on", kind="flag"),)
    machine = compile_character(sketch(*ways, states=states, clips=clips, parameters=parameters))
    plain = enumerate_verdicts(machine, 20_000)
    assert plain is not None
    for part, layers in slices(machine):
        reach = explore(FreeWorld(part))
        marks = marks_of(reach, layers)
        assert set(marks.fired) == plain.marks
        assert {key: cut.tick + 1 for key, cut in marks.missed.items()} == plain.missed
        for cut in marks.missed.values():
            outcome = reach.world.outcomes(reach.views[cut.place])[cut.position]
            assert witness_of(reach, on_tick(reach, cut.place, outcome.masks, path=cut.path)).replays
