"""Families of clips: one edit is one of all of them, but for what is a clip's own."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from leanstep.core.character.clips import ActionBox, BoxKey, Cel, Clip, Contact, Key, Mark, Phase, Span, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, parse
from leanstep.core.clips.events import with_cels
from leanstep.core.clips.families import (
    clips_of_rows,
    exceptions,
    followed,
    joined,
    lacking,
    made_rule,
    mirrored_for,
    parted,
    set_own,
    with_families,
)
from tests.support.build import sketch

WAYS = ("up", "up-right", "right", "down-right", "down", "down-left", "left", "up-left")
FAMILY = "walk {direction}"


def walker(ways: tuple[str, ...] = WAYS, cels: int = 4) -> Character:
    clips = tuple(
        Clip(
            name=f"walk {way}",
            sheet="art",
            cels=tuple(Cel(frame=row * cels + at, ticks=6) for at in range(cels)),
            family=FAMILY,
        )
        for row, way in enumerate(ways)
    )
    return sketch(clips=(*clips, Clip(name="idle", cels=(Cel(frame=0),))))


def edited(character: Character, name: str, **values: Any) -> Character:
    clips = tuple(replace(clip, **values) if clip.name == name else clip for clip in character.clips)
    return followed(character, replace(character, clips=clips))


def of(character: Character, name: str) -> Clip:
    return next(clip for clip in character.clips if clip.name == name)


def timed(character: Character, name: str, *ticks: float) -> Character:
    cels = tuple(replace(cel, ticks=one) for cel, one in zip(of(character, name).cels, ticks, strict=True))
    return edited(character, name, cels=cels)


def times(character: Character) -> dict[str, tuple[float, ...]]:
    return {clip.name: tuple(cel.ticks for cel in clip.cels) for clip in character.clips}


def test_one_edit_of_a_time_is_one_of_all_eight() -> None:
    after = timed(walker(), "walk left", 6, 9, 6, 3)
    assert {one for name, one in times(after).items() if name != "idle"} == {(6, 9, 6, 3)} and times(after)["idle"] == (
        6,
    )
    assert [clip.cels[0].frame for clip in after.clips] == [*range(0, 32, 4), 0], "each keeps its drawings"


def test_what_is_a_clips_own_stays_with_its_cels_when_another_clip_is_retimed() -> None:
    foot, path = Contact(start=6, end=12, x=4, to=-4), Travel(keys=(Key(at=12, x=5), Key(at=24, x=9)))
    own = edited(walker(), "walk up", contacts=(foot,), travel=path)
    own = edited(set_own(own, "walk up", "marks", True), "walk up", marks=(Mark(name="step", at=15),))
    up = of(timed(own, "walk left", 6, 9, 6, 3), "walk up")
    assert (up.contacts[0].start, up.contacts[0].end, up.marks[0].at) == (6, 15, 18)
    assert up.travel is not None and [key.at for key in up.travel.keys] == [15, 24]


def test_marks_spans_phases_and_the_end_are_shared_and_feet_and_boxes_of_the_body_are_not() -> None:
    values: dict[str, Any] = {
        "marks": (Mark(name="step", at=6),),
        "spans": (Span(name="sharp", start=2, end=4),),
        "phases": (Phase(start=3, end=5),),
        "loop": "once",
    }
    after = edited(walker(), "walk up", **values, box=(1.0, 0.0, 4.0, 4.0))
    for clip in after.clips[:8]:
        assert (clip.marks, clip.spans, clip.phases, clip.loop) == tuple(values.values())
    assert of(after, "walk up").box and not of(after, "walk down").box


def test_boxes_share_the_cels_they_lie_on_and_each_lies_where_it_was() -> None:
    blade = ActionBox(name="blade", keys=(BoxKey(cel=1, box=(1.0, 2.0, 3.0, 4.0)),))
    drawn = edited(walker(), "walk up", boxes=(blade,))
    assert all(clip.boxes == (blade,) for clip in drawn.clips[:8])
    elsewhere = replace(blade, keys=(BoxKey(cel=1, box=(9.0, 2.0, 3.0, 4.0)),))
    moved = edited(drawn, "walk left", boxes=(elsewhere,))
    assert of(moved, "walk left").boxes == (elsewhere,) and of(moved, "walk up").boxes == (blade,)
    longer = replace(blade, keys=(*blade.keys, BoxKey(cel=3, box=(5.0, 2.0, 3.0, 4.0))))
    ranged = edited(moved, "walk up", boxes=(longer,))
    assert [key.box[0] for key in of(ranged, "walk left").boxes[0].keys] == [9.0, 9.0]
    assert not of(edited(ranged, "walk up", boxes=()), "walk left").boxes


def test_an_exception_is_made_kept_shown_and_taken_back() -> None:
    own = set_own(walker(), "walk up", "timing", True)
    assert exceptions(own, of(own, "walk up")) == ["its timing is its own"] and not exceptions(
        own, of(own, "walk left")
    )
    slow = timed(own, "walk up", 9, 9, 9, 9)
    assert times(slow)["walk up"] == (9, 9, 9, 9) and times(slow)["walk left"] == (6, 6, 6, 6)
    others = timed(slow, "walk left", 3, 3, 3, 3)
    assert times(others)["walk up"] == (9, 9, 9, 9) and times(others)["walk down"] == (3, 3, 3, 3)
    back = set_own(others, "walk up", "timing", False)
    assert times(back)["walk up"] == (3, 3, 3, 3) and of(back, "walk up").own == ()
    rule = made_rule(others, "walk up")
    assert {one for name, one in times(rule).items() if name != "idle"} == {(9, 9, 9, 9)} and of(
        rule, "walk up"
    ).own == ()


def test_a_member_with_other_cels_keeps_its_times_and_says_so() -> None:
    character = walker()
    fewer = replace(
        character, clips=(replace(character.clips[0], cels=character.clips[0].cels[:3]), *character.clips[1:])
    )
    after = timed(fewer, "walk left", 3, 3, 3, 3)
    assert times(after)["walk up"] == (6, 6, 6) and times(after)["walk down"] == (3, 3, 3, 3)
    assert exceptions(after, after.clips[0]) == ["it has 3 cels and the others 4, so its times and boxes stay its own"]
    assert edited(after, "walk left", marks=(Mark(name="step", at=2),)).clips[0].marks


def test_a_cel_that_is_put_in_moves_no_marks_of_the_others() -> None:
    marked = edited(walker(), "walk up", marks=(Mark(name="step", at=12),))
    one = of(marked, "walk up")
    longer = with_cels(one, (one.cels[0], Cel(frame=9), *one.cels[1:]), (0, -1, 1, 2, 3))
    after = followed(marked, replace(marked, clips=(longer, *marked.clips[1:])))
    assert of(after, "walk up").marks[0].at == 18 and of(after, "walk left").marks[0].at == 12


def test_joining_and_parting() -> None:
    character = replace(walker(), clips=tuple(replace(clip, family="") for clip in walker().clips))
    slow = timed(character, "walk up", 9, 9, 9, 9)
    assert times(slow)["walk left"] == (6, 6, 6, 6), "no family yet"
    family = joined(slow, [clip.name for clip in slow.clips[:8]], FAMILY, "walk up")
    assert times(family)["walk left"] == (9, 9, 9, 9) and of(family, "walk left").family == FAMILY
    assert of(family, "idle").family == ""
    assert parted(family, FAMILY).clips[3].family == "" and times(parted(family, FAMILY)) == times(family)
    named = with_families(character, [clip.name for clip in character.clips])
    assert [clip.family for clip in named.clips] == [FAMILY] * 8 + [""]


def test_directions_that_are_lacking_are_named_and_mirrored() -> None:
    some = walker(("up", "up-right", "right", "down"))
    assert lacking(some, FAMILY) == [(135, ""), (225, ""), (270, "walk right"), (315, "walk up-right")]
    assert lacking(walker(("up", "right", "down")), FAMILY) == [(270, "walk right")] and not lacking(walker(), FAMILY)
    after = mirrored_for(some, FAMILY)
    assert [clip.name for clip in after.clips[5:]] == ["walk left", "walk up-left"]
    assert after.clips[5].cels == tuple(replace(cel, mirrored=True) for cel in of(some, "walk right").cels)
    assert after.clips[5].family == FAMILY


def test_rows_of_a_sheet_become_a_family_and_the_file_keeps_it() -> None:
    made = clips_of_rows("art", "run", [[0, 1], [2, 3]], [0.0, 90.0])
    assert [clip.family for clip in made] == ["run {direction}"] * 2
    assert clips_of_rows("art", "run", [[0, 1]], [0.0])[0].family == ""
    document = set_own(walker(), "walk up", "marks", True)
    assert parse(dump(document), "a.leanstep") == document
