"""Findings about actions, each with a near miss, and their repairs."""

from __future__ import annotations

from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.character.clips import ActionBox, BoxKey, Clip, Playback
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from tests.core.test_phases import clip
from tests.support.build import sketch, way


def box(kind: Any, *cels: int, name: str = "", rect: tuple[float, ...] = (0.0, 0.0, 9.0, 9.0)) -> ActionBox:
    return ActionBox(name=name or kind, kind=kind, keys=tuple(BoxKey(cel=cel, box=rect) for cel in cels))


def fencer(one: Clip, *more: Clip, leave: str = "clip done", **state: Any) -> Character:
    """A character that stands and cuts; the clip's cels have 9, 4 and 17 ticks."""
    states = (
        State(name="stand", restful=True, clip=more[0].name if more else ""),
        State(name="cut", clip="cut", **state),
    )
    return sketch(way("stand>cut", "jump pressed"), way("cut>stand", leave), states=states, clips=(one, *more))


def found(character: Character, kind: str) -> list[Finding]:
    return [one for one in check_character(character).findings if one.id == kind]


def mended(character: Character, finding: Finding) -> Character:
    made = repair(character, finding, None)
    assert made is not None, finding.sentence
    assert not found(made.character, finding.id), made.sentence
    return made.character


ACTIVE = ("active", 9, 13)


@pytest.mark.parametrize(
    ("one", "says"),
    [
        (clip(("startup", 0, 9)), "None of the phases of cut is active"),
        (clip(boxes=(box("strike", 1),)), "has a box that hits, and no phase"),
    ],
)
def test_an_action_that_never_hits_is_found(one: Clip, says: str) -> None:
    (finding,) = found(fencer(one), "action.inactive")
    assert says in finding.sentence
    assert not found(fencer(clip(ACTIVE, boxes=(box("strike", 1),))), "action.inactive")
    assert not found(fencer(clip(boxes=(box("vulnerable", 1),))), "action.inactive")


def test_a_box_that_hits_gets_an_active_phase_over_its_cels() -> None:
    character = fencer(clip(boxes=(box("strike", 1),)))
    (finding,) = found(character, "action.inactive")
    (made, *_) = mended(character, finding).clips
    assert [(one.kind, one.start, one.end) for one in made.phases] == [ACTIVE]


@pytest.mark.parametrize(
    ("phase", "fastest", "missed"),
    [
        (("active", 9, 11), 3.0, True),
        (("active", 9, 12), 3.0, False),
        (("active", 9.25, 9.75), None, True),
        (("active", 9.25, 10.25), None, False),
        (("active", 9, 10), 1.0, False),
    ],
)
def test_an_active_phase_that_can_be_stepped_over_is_found(phase: Any, fastest: float | None, missed: bool) -> None:
    playback = Playback(parameter="speed", at=1.0, max=fastest) if fastest is not None else None
    character = fencer(clip(phase, playback=playback))
    kinds = found(character, "action.skipped")
    assert bool(kinds) == missed
    for finding in kinds:
        assert "can step over its active phase" in finding.sentence
        made = mended(character, finding).clips[0].phases[0]
        assert made.end - made.start == (3 if fastest else 1)


def test_where_there_is_no_room_the_clip_plays_no_faster() -> None:
    playback = Playback(parameter="speed", at=1.0, max=3.0)
    character = fencer(clip(("active", 9, 11), ("startup", 11, 13), ("active", 13, 19), playback=playback))
    (finding,) = found(character, "action.skipped")
    made = mended(character, finding).clips[0]
    assert made.playback is not None and made.playback.max == 2.0 and made.phases[0].end == 11


def test_active_cels_without_a_box_that_hits_are_found_where_there_are_boxes() -> None:
    character = fencer(clip(("active", 9, 20), boxes=(box("strike", 1),)))
    (finding,) = found(character, "action.boxless")
    assert finding.sentence == "cut is active on cel 2, and no box of it hits there."
    assert [key.cel for key in mended(character, finding).clips[0].boxes[0].keys] == [1, 2]
    # a character that has no such boxes has phases for its cancels
    assert not found(fencer(clip(("active", 9, 20))), "action.boxless")
    assert not found(fencer(clip(ACTIVE, boxes=(box("strike", 1),))), "action.boxless")
    other = replace(clip(("active", 9, 13)), name="kick")
    (of_other,) = found(fencer(clip(ACTIVE, boxes=(box("strike", 1),)), other), "action.boxless")
    assert of_other.details["clip"] == "kick" and repair(fencer(clip(), other), of_other, None) is None


def test_a_guard_reach_that_does_not_cover_what_hits_is_found_and_made_larger() -> None:
    hit = box("strike", 1, 2, rect=(4.0, 0.0, 20.0, 8.0))
    reach = box("guard", 1, 2, rect=(0.0, 0.0, 24.0, 20.0))
    long = ("active", 9, 20)
    assert not found(fencer(clip(long, boxes=(hit, reach))), "action.reach")
    assert not found(fencer(clip(long, boxes=(hit,))), "action.reach")
    short = ActionBox(name="reach", kind="guard", keys=(reach.keys[0], BoxKey(cel=2, box=(0.0, 0.0, 23.0, 20.0))))
    character = fencer(clip(long, boxes=(hit, short)))
    (finding,) = found(character, "action.reach")
    assert "does not cover what hits on cel 2" in finding.sentence
    cured = mended(character, finding).clips[0].boxes[1]
    assert cured.keys[1].box == (0.0, 0.0, 24.0, 20.0) and cured.keys[0] == reach.keys[0]
    # one that is not there at all
    (gone,) = found(fencer(clip(long, boxes=(hit, box("guard", 1, rect=(0.0, 0.0, 24.0, 20.0))))), "action.reach")
    assert "on cel 2" in gone.sentence


@pytest.mark.parametrize(
    ("leave", "cut"),
    [
        ("stay >= 9 ticks", True),
        ("stay >= 10 ticks", False),
        ("clip at 0.2", True),
        ("stay >= 3 ticks and not grounded", False),
        ("stay >= 3 ticks and jump held", False),
        ("phase startup and stay > 2 ticks", True),
    ],
)
def test_a_state_that_is_always_left_before_it_can_hit_is_found(leave: str, cut: bool) -> None:
    character = fencer(clip(ACTIVE), leave=leave)
    kinds = found(character, "action.cut")
    assert bool(kinds) == cut
    for finding in kinds:
        assert finding.sentence.endswith("and cut first hits after 9.") and finding.details["state"] == "cut"


def test_a_state_that_cannot_be_hit_is_a_note_unless_it_is_meant_so() -> None:
    soft = replace(clip(boxes=(box("vulnerable", 0, 2),), sheet="art"), name="soft")
    character = fencer(clip(boxes=(box("vulnerable", 0, 1),), sheet="art"), soft)
    (finding,) = found(character, "state.unhittable")
    assert (
        finding.severity == "note"
        and finding.sentence == "cut cannot be hit on cel 2: cut has no box there that can be."
    )
    assert [key.cel for key in mended(character, finding).clips[0].boxes[0].keys] == [0, 1, 2]
    assert not found(fencer(clip(boxes=(box("vulnerable", 0, 1),), sheet="art"), soft, safe=True), "state.unhittable")
    assert not found(fencer(clip(ACTIVE, sheet="art")), "state.unhittable")
    bare = fencer(clip(ACTIVE, sheet="art"), soft)
    (of_bare,) = found(bare, "state.unhittable")
    assert of_bare.sentence.startswith("cut cannot be hit: ") and mended(bare, of_bare).layers[0].states[1].safe
