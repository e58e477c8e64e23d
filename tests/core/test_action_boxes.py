"""Boxes of actions: where they lie on each cel, and how they follow cels, feet and frames."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from msgspec.structs import replace

from leanstep.core.character.action_boxes import (
    boxes_on,
    keyed,
    over_range,
    placed,
    rect_at,
    shortened,
    unkeyed,
    unplaced,
    with_box,
    with_moved_feet,
    without,
)
from leanstep.core.character.clips import ActionBox, BoxKey, Cel, Clip
from leanstep.core.character.files import dump, parse
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.clips.events import with_cels
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.images import frames_of
from leanstep.core.sheets.recutting import Recut, recut, with_feet
from tests.support.build import sketch


def box(*keys: tuple[int, tuple[float, ...]], name: str = "blade", kind: Any = "strike") -> ActionBox:
    return ActionBox(name=name, kind=kind, keys=tuple(BoxKey(cel=cel, box=rect) for cel, rect in keys))


def clip(*boxes: ActionBox, cels: int = 6) -> Clip:
    return Clip(name="cut", sheet="art", cels=tuple(Cel(frame=at) for at in range(cels)), boxes=boxes)


def cels_of(one: Clip, at: int = 0) -> list[int]:
    return [cel for cel in range(len(one.cels)) if rect_at(one.boxes[at], cel) is not None]


def test_between_keys_edges_go_evenly_and_are_rounded_away_from_zero() -> None:
    one = box((1, (0.0, 0.0, 10.0, 4.0)), (3, (5.0, -5.0, 10.0, 4.0)))
    assert rect_at(one, 0) is None and rect_at(one, 4) is None
    assert rect_at(one, 1) == (0.0, 0.0, 10.0, 4.0) and rect_at(one, 3) == (5.0, -5.0, 10.0, 4.0)
    # edges 2.5 and 12.5, -2.5 and 1.5
    assert rect_at(one, 2) == (3.0, -3.0, 10.0, 5.0)
    four = box((0, (0.0, 0.0, 3.0, 9.0)), (4, (10.0, 0.0, 1.0, 9.0)))
    assert [rect_at(four, cel) for cel in (1, 2, 3)] == [
        (3.0, 0.0, 2.0, 9.0),
        (5.0, 0.0, 2.0, 9.0),
        (8.0, 0.0, 1.0, 9.0),
    ]
    # as thin as a pixel, never nothing
    assert rect_at(box((0, (0.0, 0.0, 0.4, 1.0)), (2, (0.4, 0.0, 0.2, 1.0))), 1) == (0.0, 0.0, 1.0, 1.0)


@pytest.mark.parametrize(
    ("cel", "shown"),
    [
        (Cel(frame=0), (2.0, 1.0, 4.0, 8.0)),
        (Cel(frame=0, mirrored=True), (-6.0, 1.0, 4.0, 8.0)),
        (Cel(frame=0, turns=1), (1.0, -6.0, 8.0, 4.0)),
        (Cel(frame=0, turns=2), (-6.0, -9.0, 4.0, 8.0)),
        (Cel(frame=0, turns=3), (-9.0, 2.0, 8.0, 4.0)),
        (Cel(frame=0, turns=1, mirrored=True), (1.0, 2.0, 8.0, 4.0)),
    ],
)
def test_a_box_is_mirrored_and_turned_with_its_cel(cel: Cel, shown: tuple[float, ...]) -> None:
    rect = (2.0, 1.0, 4.0, 8.0)
    assert placed(rect, cel) == shown and unplaced(placed(rect, cel), cel) == rect


def test_boxes_are_made_keyed_ranged_and_taken_out() -> None:
    one = with_box(with_box(clip(), "strike", 2, (1.0, 2.0, 3.0, 4.0)), "strike", 2, (0.0, 0.0, 1.0, 1.0))
    assert [part.name for part in one.boxes] == ["strike", "strike 2"]
    one = keyed(one, 0, 4, (9.0, 2.0, 3.0, 4.0))
    assert cels_of(one) == [2, 3, 4] and [at for at, _ in boxes_on(one, 2)] == [0, 1]
    assert cels_of(over_range(one, 0, 2, 1, 5)) == [1, 2, 3, 4, 5]
    assert {rect_at(over_range(one, 0, 2, 1, 5).boxes[0], cel) for cel in range(1, 6)} == {(1.0, 2.0, 3.0, 4.0)}
    with pytest.raises(ValueError, match="not there"):
        over_range(one, 0, 0, 1, 2)
    assert cels_of(shortened(one, 0, 3, 3)) == [3] and cels_of(shortened(one, 0, 0, 3)) == [0, 1, 2, 3]
    assert rect_at(shortened(one, 0, 3, 5).boxes[0], 5) == (9.0, 2.0, 3.0, 4.0)
    assert cels_of(unkeyed(one, 0, 4)) == [2]
    assert [part.name for part in unkeyed(one, 1, 2).boxes] == ["strike"] and without(one, 0).boxes == one.boxes[1:]


def test_boxes_stay_with_their_cels() -> None:
    one = clip(box((1, (0.0, 0.0, 4.0, 4.0)), (3, (8.0, 0.0, 4.0, 4.0))))
    cels = one.cels
    # taken out before, in the middle, at an end, and all
    assert cels_of(with_cels(one, cels[1:], range(1, 6))) == [0, 1, 2]
    assert cels_of(with_cels(one, (*cels[:2], *cels[3:]), (0, 1, 3, 4, 5))) == [1, 2]
    shorter = with_cels(one, (*cels[:3], *cels[4:]), (0, 1, 2, 4, 5))
    assert cels_of(shorter) == [1, 2] and rect_at(shorter.boxes[0], 2) == (4.0, 0.0, 4.0, 4.0)
    assert with_cels(one, (cels[0], *cels[4:]), (0, 4, 5)).boxes == ()
    # reversed, each cel has what it had
    turned = with_cels(one, tuple(reversed(cels)), (5, 4, 3, 2, 1, 0))
    assert [rect_at(turned.boxes[0], 5 - cel) for cel in range(6)] == [rect_at(one.boxes[0], cel) for cel in range(6)]
    # a new cel within it goes between
    wider = with_cels(one, (*cels[:2], Cel(frame=9), *cels[2:]), (0, 1, -1, 2, 3, 4, 5))
    assert cels_of(wider) == [1, 2, 3, 4] and rect_at(wider.boxes[0], 3) == rect_at(one.boxes[0], 2)


def test_boxes_stay_on_the_drawing_when_its_foot_moves() -> None:
    one = clip(box((1, (0.0, 0.0, 4.0, 4.0)), (3, (8.0, 0.0, 4.0, 4.0))))
    moved = with_moved_feet(one, "art", {3: (2.0, 5.0)})
    assert rect_at(moved.boxes[0], 1) == (0.0, 0.0, 4.0, 4.0) and rect_at(moved.boxes[0], 3) == (6.0, -5.0, 4.0, 4.0)
    assert with_moved_feet(one, "other", {3: (2.0, 5.0)}) is one


def test_boxes_follow_when_frames_are_cut_away() -> None:
    one = clip(box((1, (0.0, 0.0, 4.0, 4.0)), (3, (8.0, 0.0, 4.0, 4.0))))
    sheet = Sheet(name="art", image="art.png", size=(96, 16), cut=Cut(width=16, height=16))
    document = sketch(sheets=(sheet,), clips=(one,))
    new = Recut(cut=sheet.cut, size=(96, 16), frames={0: 0, 1: 1, 3: 2, 4: 3, 5: 4}, gone={2})
    (after,) = recut(document, 0, new).clips
    assert len(after.cels) == 5 and cels_of(after) == [1, 2]


def test_boxes_stay_on_drawings_that_a_new_cut_puts_elsewhere_in_their_cells() -> None:
    one = clip(box((1, (0.0, 0.0, 4.0, 4.0)), (3, (8.0, 0.0, 4.0, 4.0))))
    cut, frames = Cut(width=16, height=16), {number: number for number in range(6)}
    new = Recut(cut=cut, size=(96, 16), frames=frames, moved={1: (3, 2), 3: (3, 2)})
    sheet = Sheet(name="art", image="art.png", size=(96, 16), cut=cut, foot=(8.0, 15.0), feet={"3": (9.0, 15.0)})
    (after,) = recut(sketch(sheets=(sheet,), clips=(one,)), 0, new).clips
    # the foot stays where it was in its cell, and the drawing went right and down; an own foot goes with it
    assert rect_at(after.boxes[0], 1) == (3.0, -2.0, 4.0, 4.0) and rect_at(after.boxes[0], 3) == (8.0, 0.0, 4.0, 4.0)
    ruled = Sheet(name="art", image="art.png", size=(96, 16), cut=cut)
    (same,) = recut(sketch(sheets=(ruled,), clips=(one,)), 0, new).clips
    assert same.boxes == one.boxes


@pytest.mark.parametrize(("rule", "up"), [("cell", 6.0), ("centre", 2.0)])
def test_boxes_stay_on_drawings_where_the_cell_says_the_foot_and_has_another_size(rule: Any, up: float) -> None:
    """Cells of 16 become cells of 24 × 24, in which the drawings stand 3 further right and 2 further down."""
    one = clip(box((1, (0.0, 0.0, 4.0, 4.0))))
    sheet = Sheet(name="art", image="art.png", size=(96, 16), cut=Cut(way="size", width=16, height=16), foot_rule=rule)
    new = Recut(cut=Cut(way="size", width=24, height=24), size=(144, 24), frames={1: 1}, moved={1: (3, 2)})
    (after,) = recut(sketch(sheets=(sheet,), clips=(one,)), 0, new).clips
    # the foot went 4 to the right in its cell, and 8 down, or 4 from the middle
    assert rect_at(after.boxes[0], 1) == (-1.0, up, 4.0, 4.0)


def test_boxes_stay_on_drawings_under_another_rule_for_feet_and_where_feet_are_taken_back() -> None:
    pixels = np.zeros((16, 96, 4), np.uint8)
    pixels[4:12, 16 + 2 : 16 + 8] = 255
    one = clip(box((1, (0.0, 0.0, 4.0, 4.0)), (2, (0.0, 0.0, 4.0, 4.0))))
    sheet = Sheet(
        name="art", image="art.png", size=(96, 16), cut=Cut(way="size", width=16, height=16), foot_rule="drawing"
    )
    document = sketch(sheets=(sheet,), clips=(one,))
    # the drawing stands on (5, 12), its cell on (8, 16): 3 to the right and 4 down
    (after,) = with_feet(document, 0, frames_of(sheet, pixels), pixels, foot_rule="cell").clips
    assert rect_at(after.boxes[0], 1) == (-3.0, 4.0, 4.0, 4.0)
    # where nothing is drawn the foot is the cell's by either rule
    assert rect_at(after.boxes[0], 2) == (0.0, 0.0, 4.0, 4.0)
    own = replace(sheet, feet={"1": (6.0, 10.0)})
    document = sketch(sheets=(own,), clips=(one,))
    (back,) = with_feet(document, 0, frames_of(own, pixels), pixels, feet={}).clips
    assert rect_at(back.boxes[0], 1) == (1.0, 2.0, 4.0, 4.0)


@pytest.mark.parametrize(
    ("boxes", "says"),
    [
        ((box((0, (0.0, 0.0, 0.0, 4.0))),), "box"),
        ((box((0, (0.0, 0.0, 4.0, 4.0)), (0, (0.0, 0.0, 4.0, 4.0))),), "does not come after"),
        ((box(),), "it lies on no cel"),
        ((box((0, (0.0, 0.0, 4.0, 4.0)), name=" "),), "it has no name"),
        ((box((0, (0.0, 0.0, 4.0, 4.0))), box((1, (0.0, 0.0, 4.0, 4.0)))), "2 of its boxes are called 'blade'"),
        ((box((6, (0.0, 0.0, 4.0, 4.0))),), "lies on cel 6"),
    ],
)
def test_boxes_that_cannot_be_are_refused_with_the_way_out(boxes: tuple[ActionBox, ...], says: str) -> None:
    with pytest.raises(LeanStepError, match=says):
        parse(dump(sketch(clips=(clip(*boxes),))), "a.leanstep")


def test_boxes_are_kept_in_the_file() -> None:
    document = sketch(
        clips=(clip(box((1, (0.0, 0.0, 4.0, 4.0))), box((2, (1.0, 0.0, 4.0, 4.0)), name="b", kind="guard")),)
    )
    assert parse(dump(document), "a.leanstep") == document
