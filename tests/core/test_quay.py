"""The characters that are seen from above: what is wrong with the faulty one is named and mended, the others are sound."""

from __future__ import annotations

import msgspec
import pytest

from demo import quay
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.takes import Take
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding, Report
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import DEMO

MADE = {"ferry-hand": quay.ferry_hand, "ferry-hand-faulty": quay.faulty, "harbour-cat": quay.harbour_cat}


def checked(name: str) -> Report:
    return check_character(load(DEMO / f"{name}.leanstep"), DEMO)


def of(report: Report, kind: str) -> list[Finding]:
    return [one for one in report.findings if one.id == kind]


@pytest.mark.parametrize("name", MADE)
def test_the_files_are_what_their_script_makes(name: str) -> None:
    assert load(DEMO / f"{name}.leanstep") == MADE[name]()


@pytest.mark.parametrize("name", ["ferry-hand", "harbour-cat"])
def test_the_sound_ones_have_no_errors_and_no_warnings(name: str) -> None:
    report = checked(name)
    assert report.complete and not [one for one in report.findings if one.severity != "note"]
    assert not [one for one in report.findings if one.id.startswith(("blend.", "sample.", "flicker.", "frame."))]


@pytest.mark.long
def test_every_mistake_of_the_faulty_one_is_named() -> None:
    report = checked("ferry-hand-faulty")
    assert "down-left" in of(report, "blend.gap")[0].sentence
    assert "walk right is mirrored" in of(report, "blend.mirrored")[0].sentence
    assert all("walk up-right" in one.sentence for one in of(report, "blend.phase")) and of(report, "blend.phase")
    assert of(report, "frame.foot-wanders") and of(report, "flicker.pick")
    assert {one.details["clip"] for one in of(report, "clip.unused")} >= {"walk down-left", "haul down-left"}


@pytest.mark.long
def test_borders_that_flicker_are_made_sticky_in_one_step() -> None:
    character = load(DEMO / "ferry-hand-faulty.leanstep")
    (one,) = of(check_character(character, DEMO), "flicker.pick")
    assert one.verdict == "proved"
    made = repair(character, one)
    assert made is not None and made.character.blends[0].sticky == pytest.approx(0.09)
    assert not of(check_character(made.character, DEMO), "flicker.pick")


@pytest.mark.long
def test_a_missing_direction_is_put_back_on_every_ring_from_its_family() -> None:
    character = load(DEMO / "ferry-hand-faulty.leanstep")
    (one,) = of(check_character(character, DEMO), "blend.gap")
    made = repair(character, one)
    assert made is not None and "walk down-left and haul down-left stand down-left" in made.sentence
    added = made.character.blends[0].samples[len(character.blends[0].samples) :]
    assert [(sample.at, sample.clip, sample.mirrored) for sample in added] == [
        ((225.0, 90.0), "walk down-left", False),
        ((225.0, 180.0), "haul down-left", False),
    ]


def trace_of(character: Character, take: Take) -> list[tuple[float, float, str]]:
    machine = compile_character(character)
    steps = rehearse(machine, take).steps
    names = machine.layers[0].states
    clips = [machine.pictures[0][step.situation.states[0]] for step in steps]
    assert all(clip is not None for clip in clips)
    return [
        (
            step.situation.body.facing,
            step.situation.body.speed,
            f"{names[step.situation.states[0]]}: {picture.reels[step.situation.picks[0]].clip.name}",
        )
        for step, picture in zip(steps, clips)
    ]


def test_round_the_quay_he_shows_all_eight_directions_in_order_and_stands_as_he_came() -> None:
    character = quay.ferry_hand()
    rows = trace_of(character, character.takes[0])
    shown = [row[2].split(": walk ")[1] for row in rows if ": walk " in row[2]]
    order = [one for at, one in enumerate(shown) if at == 0 or shown[at - 1] != one]
    assert order == ["right", "down-right", "down", "down-left", "left", "up-left", "up", "up-right"]
    assert rows[-1][2] == "stand: idle up-right" and rows[-1][1] == 0


def test_thrown_while_hauling_he_turns_to_the_bollard_and_back_to_standing() -> None:
    character = quay.ferry_hand()
    rows = trace_of(character, character.takes[1])
    assert any("go: haul up-right" in row[2] for row in rows)
    throwing = [row for row in rows if row[2].startswith("throw")]
    assert throwing[-1][2] == "throw: throw up" and throwing[-1][0] == 0
    assert rows[-1][2] == "stand: idle up"


def test_letting_go_between_two_drawn_directions_keeps_the_one_he_walked_in() -> None:
    """Also on a diagonal between four drawn ones, where standing has a blend space of its own."""
    character = quay.ferry_hand()
    gait = character.blends[0]
    four = [one for one in gait.samples if one.at[0] in (0.0, 90.0, 180.0, 270.0)]
    going = msgspec.structs.replace(gait, samples=tuple(one for one in four if one.at[1] != 0.0))
    still = tuple(msgspec.structs.replace(one, at=one.at[:1]) for one in four if one.at[1] == 0.0)
    standing = msgspec.structs.replace(gait, name="standing", axes=gait.axes[:1], samples=still)
    stand = msgspec.structs.replace(character.layers[0].states[0], blend="standing")
    layer = msgspec.structs.replace(character.layers[0], states=(stand, *character.layers[0].states[1:]))
    character = msgspec.structs.replace(character, blends=(going, standing, character.blends[1]), layers=(layer,))
    for first, x, y in (("right", 1.0, 0.0), ("up", 0.0, 1.0)):
        changes = (quay.steer(0, x, y), quay.steer(30, 1.0, 1.0), quay.steer(60, 0.0, 0.0))
        rows = trace_of(character, Take(name="t", ticks=90, changes=changes))
        assert rows[55][2] == f"go: walk {first}" and rows[-1][2] == f"stand: idle {first}"


def test_the_cats_left_side_is_its_right_side_mirrored() -> None:
    samples = quay.harbour_cat().blends[0].samples
    assert {one.at[0] for one in samples if one.mirrored} == {225.0, 270.0, 315.0} and len(samples) == 16
