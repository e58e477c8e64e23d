"""Blend spaces: what their numbers show to be wrong, each with a near miss."""

from __future__ import annotations

import random
from typing import Any

import msgspec
import pytest

from leanstep.core.blends import coverage
from leanstep.core.blends.picking import pick
from leanstep.core.blends.space import space_of
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip, Mark
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.graph import Layer, State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Sheet
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from tests.support.build import DEMO


def figure(*samples: Sample, high: float = 180.0, mirrors: bool = True) -> Character:
    return Character(
        parameters=(Parameter(name="speed", min=0, max=high),),
        sheets=(Sheet(name="art", mirrors=mirrors),),
        clips=tuple(Clip(name=name, sheet="art", cels=(Cel(frame=0),)) for name in ("idle", "walk", "run")),
        blends=(BlendSpace(name="gait", axes=(Axis(parameter="speed", min=0, max=240),), samples=samples),),
        layers=(Layer(name="base", states=(State(name="go", blend="gait", restful=True),)),),
    )


def found(character: Character, kind: str) -> list[Finding]:
    return [one for one in check_character(character).findings if one.id == kind]


WALK, RUN = Sample(at=(70,), clip="walk"), Sample(at=(165,), clip="run")


def test_samples_on_one_place_are_named_and_the_later_one_is_taken_out() -> None:
    character = figure(WALK, RUN, Sample(at=(70,), clip="run"))
    (one,) = found(character, "blend.coincident")
    assert "walk and run lie on one place, 70" in one.sentence and one.details == {"blend": "gait", "samples": [2]}
    made = repair(character, one)
    assert made is not None and [sample.clip for sample in made.character.blends[0].samples] == ["walk", "run"]
    assert not found(figure(WALK, RUN, Sample(at=(71,), clip="idle")), "blend.coincident")


def test_a_sample_beyond_all_values_is_never_picked() -> None:
    far = Sample(at=(240,), clip="idle")
    (one,) = found(figure(WALK, RUN, far), "sample.unpicked")
    assert "idle at 240 is never picked" in one.sentence
    assert not found(figure(WALK, RUN, far, high=204.0), "sample.unpicked")


def test_mirrored_art_that_must_not_be_is_named() -> None:
    turned = Sample(at=(165,), clip="run", mirrored=True)
    assert len(found(figure(WALK, turned, mirrors=False), "blend.mirrored")) == 1
    assert not found(figure(WALK, turned), "blend.mirrored") and not found(
        figure(WALK, RUN, mirrors=False), "blend.mirrored"
    )


@pytest.mark.long(but=30)
@pytest.mark.parametrize("seed", range(40))
def test_what_is_called_unpicked_no_value_picks_and_all_else_some_value_does(seed: int) -> None:
    rng = random.Random(seed)
    places = [float(rng.choice([-20, 0, 30, 60, 61, 120, 180, 239, 300])) for _ in range(rng.randint(1, 5))]
    high = rng.choice([50.0, 90.0, 180.0, 400.0])
    character = figure(*(Sample(at=(place,), clip="walk") for place in places), high=high)
    picked = {pick(space_of(character.blends[0], ()), (high * step / 4000,)) for step in range(4001)}
    lost = found(character, "sample.unpicked") + found(character, "blend.coincident")
    assert {number for one in lost for number in one.details["samples"]} == set(range(len(places))) - picked


def stepping(*ticks: float, marks: tuple[float, float]) -> Character:
    """Two clips, of these lengths, with one footstep each."""
    clips = tuple(
        Clip(name=name, sheet="art", cels=(Cel(frame=0, ticks=length),), marks=(Mark(name="step", at=at),))
        for name, length, at in zip(("walk", "run"), ticks, marks, strict=True)
    )
    return msgspec.structs.replace(figure(WALK, RUN), clips=clips)


def test_neighbours_whose_feet_come_down_at_other_moments_are_put_in_phase() -> None:
    character = stepping(40, 40, marks=(10.0, 30.0))
    (one,) = found(character, "blend.phase")
    assert "step comes 50% of a pass apart" in one.sentence
    made = repair(character, one)
    assert made is not None and made.character.blends[0].samples[1].phase == 0.5
    assert not found(made.character, "blend.phase") and not found(stepping(40, 40, marks=(10.0, 13.0)), "blend.phase")


def test_neighbours_of_other_lengths_are_named_but_not_mended() -> None:
    (one,) = found(stepping(40, 30, marks=(10.0, 7.0)), "blend.phase")
    assert "they last 40 and 30 ticks" in one.sentence and repair(stepping(40, 30, marks=(10.0, 7.0)), one) is None
    assert not found(stepping(40, 32, marks=(10.0, 8.0)), "blend.phase")


def ring(length: float, at: float, **inner: bool) -> Character:
    """Walking and running in eight directions; running lasts so many ticks, and its foot comes down ``at`` one of them."""
    ways = [45.0 * number for number in range(8)]
    samples = [Sample(at=(way, 70), clip=f"walk {way:g}", **inner) for way in ways]  # type: ignore[arg-type]
    samples += [Sample(at=(way, 165), clip=f"run {way:g}") for way in ways]
    clips = [
        Clip(
            name=f"{name} {way:g}", sheet="art", cels=(Cel(frame=0, ticks=ticks),), marks=(Mark(name="step", at=mark),)
        )
        for name, ticks, mark in (("walk", 40.0, 10.0), ("run", length, at))
        for way in ways
    ]
    axes = (Axis(parameter="heading", step=45), Axis(parameter="speed", max=240, step=80))
    return msgspec.structs.replace(
        figure(mirrors=not inner),
        parameters=(Parameter(name="heading", kind="bearing"), Parameter(name="speed", max=180)),
        clips=tuple(clips),
        blends=(BlendSpace(name="gait", axes=axes, samples=tuple(samples)),),
    )


@pytest.mark.long
@pytest.mark.parametrize(
    ("character", "kind", "words"),
    [
        (
            ring(24.0, 6.0),
            "blend.phase",
            "walk 0 and run 0 are not in phase: they last 40 and 24 ticks (7 more like it).",
        ),
        (ring(40.0, 30.0), "blend.phase", "step comes 50% of a pass apart (7 more like it)."),
        (ring(40.0, 10.0, mirrored=True), "blend.mirrored", "walk 0, walk 45, walk 90"),
    ],
)
def test_a_fault_of_a_whole_ring_is_one_finding(character: Character, kind: str, words: str) -> None:
    (one,) = found(character, kind)
    assert words in one.sentence


@pytest.mark.long
def test_a_ring_out_of_phase_is_put_in_phase_in_one_step() -> None:
    (one,) = found(ring(40.0, 30.0), "blend.phase")
    made = repair(ring(40.0, 30.0), one)
    assert made is not None and not found(made.character, "blend.phase")
    assert {sample.phase for sample in made.character.blends[0].samples[8:]} == {0.5}


def test_samples_that_lie_on_others_are_one_finding_and_go_together() -> None:
    character = figure(WALK, RUN, WALK, RUN, WALK)
    (one,) = found(character, "blend.coincident")
    assert "walk and walk lie on one place, 70 (2 more like it)" in one.sentence
    made = repair(character, one)
    assert made is not None and made.character.blends[0].samples == (WALK, RUN)


def test_picks_that_flip_are_looked_for_again_only_where_their_space_has_changed(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    seen: list[int] = []

    def counted(*of: Any) -> list[coverage.Flip]:
        seen.append(len(of))
        return flips(*of)

    flips, memo = coverage.flips, Memo()
    monkeypatch.setattr(coverage, "flips", counted)
    faulty = load(DEMO / "ferry-hand-faulty.leanstep")
    first = check_character(faulty, DEMO, memo=memo)
    spaces = len(seen)
    slower = change(faulty, ("layers", 0, "transitions", 0), when="speed > 3 and stay > 0.2 s")
    check_character(slower, DEMO, memo=memo)
    assert spaces > 0 and len(seen) == spaces
    sticky = change(slower, ("blends", 0), sticky=0.5)
    again = check_character(sticky, DEMO, memo=memo)
    assert len(seen) == spaces + 1
    assert {one.key for one in again.findings} == {one.key for one in check_character(sticky, DEMO).findings}
    assert any(one.id == "flicker.pick" for one in first.findings)
