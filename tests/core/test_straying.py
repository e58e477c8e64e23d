"""Playheads that come to too many places are left open, so that a proof comes to an end; others are followed."""

from __future__ import annotations

import msgspec
import pytest

from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip, Effect, Mark, Playback, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report, report_from_json
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.playheads import without_strays
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.work import USUAL
from tests.support.build import PARAMETERS, sketch, way

OWN = (*PARAMETERS, Parameter(name="lit", kind="flag", owner="graph"))


def clip(name: str, ticks: float, mark: Mark | None = None, loop: str = "repeat") -> Clip:
    """Four cels, a span over the second, and perhaps a mark."""
    span = Span(name=f"{name}_down", start=ticks / 4, end=ticks / 2)
    cels = tuple(Cel(frame=frame, ticks=ticks / 4) for frame in range(4))
    return Clip(name=name, sheet="art", loop=loop, cels=cels, spans=(span,), marks=(mark,) if mark else ())  # type: ignore[arg-type]


def walker(*more: Transition, walk: float = 40, run: float = 24, mark: Mark | None = None) -> Character:
    """Walks and runs, and keeps the phase between the two."""
    states = (State(name="idle"), State(name="walk", clip="walk"), State(name="run", clip="run"), State(name="end"))
    ways = (
        *(way("idle>walk", "speed > 1"), way("walk>idle", "speed < 0.5"), way("end>idle", "hurt")),
        *(way("walk>run", "speed > 4", keep_phase=True), way("run>walk", "speed < 3", keep_phase=True)),
    )
    return sketch(*ways, *more, states=states, clips=(clip("walk", walk, mark), clip("run", run)), parameters=OWN)


def open_states(character: Character) -> list[str]:
    """The states whose playheads are not followed."""
    machine = compile_character(character)
    return [
        name
        for part, (layer,) in slices(machine)
        for name, picture in zip(
            machine.layers[layer].states, without_strays(part, USUAL.playheads).machine.pictures[layer]
        )
        if picture is not None and not picture.followed
    ]


def fates(report: Report) -> dict[str, str]:
    return {one.name: one.free for one in report.states}


def test_a_phase_kept_to_and_fro_between_clips_of_different_lengths_is_no_obstacle_where_nothing_reads_it() -> None:
    report = check_character(walker(way("run>end", "hurt"), mark=Mark(name="step", at=10)))
    assert report.complete and not report.aborted and report.situations < 100
    assert set(fates(report).values()) == {"reachable"}


def test_a_state_behind_such_a_phase_is_reached_by_a_take_or_undecided() -> None:
    reached = check_character(walker(way("run>end", "clip at 0.5")))
    assert "not followed" in reached.aborted and reached.situations < 100
    assert fates(reached)["end"] == "reachable" and not reached.states[-1].fewest
    assert report_from_json(reached.to_json()).states == reached.states
    never = check_character(walker(way("run>end", "clip at 0.5 and speed < 1 and speed > 2")))
    assert fates(never)["end"] == "unreachable"


def test_marks_with_effects_in_such_a_clip_leave_everything_but_takes_open() -> None:
    report = check_character(walker(mark=Mark(name="step", at=10, effects=(Effect(do="set", name="lit"),))))
    assert not report.complete and "the marks and spans of walk" in report.aborted


@pytest.mark.parametrize(
    ("walk", "run", "strays"), [(40, 24, ["walk", "run"]), (40, 40, []), (40, 20, []), (40, 41, ["walk", "run"])]
)
def test_phases_that_come_back_to_the_same_places_are_followed(walk: float, run: float, strays: list[str]) -> None:
    assert open_states(walker(walk=walk, run=run)) == strays


@pytest.mark.parametrize(
    ("ticks", "loop", "condition", "strays"),
    [
        (39.84, "repeat", "span walk_down", ["walk"]),
        (39.84, "repeat", "clip done", []),
        (39.84, "once", "span walk_down", []),
        (37.5, "repeat", "span walk_down", []),
    ],
)
def test_a_clip_that_repeats_after_no_whole_number_of_ticks_is_not_followed_where_it_is_read(
    ticks: float, loop: str, condition: str, strays: list[str]
) -> None:
    states = (State(name="idle"), State(name="walk", clip="walk"))
    ways = (way("idle>walk", "speed > 1"), way("walk>idle", condition))
    assert open_states(sketch(*ways, states=states, clips=(clip("walk", ticks, loop=loop),))) == strays


def test_a_phase_kept_from_a_clip_that_a_parameter_paces_is_not_known() -> None:
    """With the clip of a at eight times its speed for a tick, b begins in the middle of its own."""
    paced = msgspec.structs.replace(clip("walk", 16), playback=Playback(parameter="speed", at=1.0, min=0.0, max=8.0))
    states = (State(name="a", clip="walk"), State(name="b", clip="run"), State(name="c"))
    ways = (way("a>b", "hurt", keep_phase=True), way("b>c", "clip at 0.5"))
    character = sketch(*ways, states=states, clips=(paced, clip("run", 16)))
    assert open_states(character) == ["a", "b"]
    fate = next(one for one in check_character(character).states if one.name == "c")
    assert fate.free == "reachable" and not fate.fewest


def rower(
    when: str, *marks: Mark, spans: tuple[Span, ...] = (), sticky: float = 0.0, axes: tuple[str, ...] = ("speed",)
) -> Report:
    """Leaves a blend space by speed, whose second clip has these marks and spans besides, for ``when``."""
    first = clip("near", 8, loop="once")
    other = msgspec.structs.replace(first, name="far", marks=marks, spans=(*first.spans, *spans))
    samples = tuple(Sample(at=(float(at),) * len(axes), clip=name) for at, name in enumerate(("near", "far")))
    ruled = tuple(Axis(parameter=name, min=0, max=9) for name in axes)
    blend = BlendSpace(name="row", axes=ruled, sticky=sticky, samples=samples)
    states = (State(name="row", blend="row"), State(name="end"))
    ways = way("row>end", when), way("end>row", "hurt")
    document = sketch(*ways, states=states, clips=(first, other), parameters=OWN)
    return check_character(msgspec.structs.replace(document, blends=(blend,)))


@pytest.mark.parametrize("when", ["clip over", "clip at 0.5", "span near_down"])
def test_clips_of_one_length_are_followed_though_they_differ_in_what_decides_nothing(when: str) -> None:
    step = Mark(name="step", at=3), Mark(name="pushed", at=3, effects=(Effect(do="push", value=4.0),))
    report = rower(when, *step, spans=(Span(name="splash", start=2, end=5),))
    plain = rower(when)
    assert report.complete and [one.ticks for one in report.states] == [one.ticks for one in plain.states]
    assert not any(one.id == "mark.never" for one in report.findings)


PICKED = "which clip of a blend space is shown, as they differ in a span that is asked for"
SPLASH = (Span(name="splash", start=2, end=5),)


def test_a_span_that_only_some_of_them_have_is_on_while_these_are_picked() -> None:
    report = rower("span splash", spans=SPLASH)
    assert report.complete and [(one.free, one.ticks) for one in report.states] == [("reachable", 0), ("reachable", 2)]
    # a clip that plays once is past it for ever
    assert "state.trap" in [one.id for one in report.findings]
    never = rower("span splash and speed < 0.5", spans=SPLASH)
    assert never.complete and fates(never)["end"] == "unreachable"
    assert fates(rower("span splash and speed <= 0.5000001", spans=SPLASH))["end"] == "reachable"


def test_where_the_border_sticks_the_value_decides_but_near_it() -> None:
    """The border is at 0.5; what was picked stays for 0.225 beyond it."""
    shown = rower("span splash", spans=SPLASH, sticky=0.2)
    assert [(one.free, one.ticks) for one in shown.states] == [("reachable", 0), ("reachable", 2)]
    assert PICKED in shown.aborted, "not all that can be said of it is"
    for below, fate in ((0.27, "unreachable"), (0.28, "reachable")):
        report = rower(f"span splash and speed < {below}", spans=SPLASH, sticky=0.2)
        assert fates(report)["end"] == fate
    assert fates(rower("span splash and hurt and not hurt", spans=SPLASH, sticky=0.2))["end"] == "unreachable"


def test_where_two_values_pick_such_a_span_is_left_open_and_named() -> None:
    report = rower("span splash", spans=SPLASH, axes=("speed", "lives"))
    assert PICKED in report.aborted and fates(report)["end"] == "undecided"
    never = rower("span splash and hurt and not hurt", spans=SPLASH, axes=("speed", "lives"))
    assert fates(never)["end"] == "unreachable"


def test_a_mark_that_only_some_of_them_have_is_left_open_where_it_decides() -> None:
    report = rower("lit", Mark(name="light", at=3, effects=(Effect(do="set", name="lit", value=True),)))
    assert not report.complete and fates(report)["end"] == "undecided"
