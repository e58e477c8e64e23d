"""What is said of a sheet's frames is said once, and taken back whole."""

from __future__ import annotations

from leanstep.core.character import sheet_edits as edits
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet

OWN = Sheet(name="art", image="art.png", facing="right", boxes={"9": (0, 0, 1, 1), "10": (0, 0, 2, 2)})


def only(document: Character) -> Sheet:
    return document.sheets[1]


def made(**values: object) -> Character:
    other = Sheet(name="other", image="other.png")
    own = Sheet(**{field: getattr(OWN, field) for field in ("name", "image", "facing", "boxes")} | values)
    return Character(name="Ferry hand", sheets=(other, own))


def test_boxes_of_frames_are_in_the_order_of_their_numbers_and_taken_back() -> None:
    after = edits.with_boxes(made(), 1, {2: (1, 1, 3, 3), 10: (5, 5, 6, 6)})
    assert list(only(after).boxes) == ["2", "9", "10"] and only(after).boxes["10"] == (5, 5, 6, 6)
    assert after.sheets[0] == made().sheets[0]
    assert list(only(edits.without_boxes(after, 1, {2, 9, 77})).boxes) == ["10"]


def test_frames_that_are_shown_as_they_are_drawn_have_no_size() -> None:
    larger = edits.with_scale(made(), 1, by=2.0)
    assert only(larger).scale is not None and only(larger).scale.by == 2.0
    assert only(edits.with_scale(larger, 1, by=1.0)).scale is None


def test_a_sheet_drawn_for_both_ways_is_not_mirrored_and_keeps_the_way_it_looked() -> None:
    both = edits.facing(made(), 1, "both")
    assert not only(both).mirrors and only(both).facing == "right"
    left = edits.facing(both, 1, "left")
    assert only(left).mirrors and only(left).facing == "left"


def test_rows_that_look_as_their_sheet_does_are_not_listed() -> None:
    after = edits.with_rows_facing(made(), 1, [3, 1], "left")
    assert only(after).row_facing == {"1": "left", "3": "left"} and list(only(after).row_facing) == ["1", "3"]
    assert only(edits.with_rows_facing(after, 1, [1], "right")).row_facing == {"3": "left"}
