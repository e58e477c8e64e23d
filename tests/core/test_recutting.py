"""Sheets cut anew, frames changed by hand, and names for many clips."""

from __future__ import annotations

import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets import recutting
from leanstep.core.sheets.cutting import Rect, rectangles
from leanstep.core.sheets.naming import names_from, usual_pattern
from leanstep.core.sheets.recutting import Recut, by_place, recut

SIZE = (40, 20)
FRAMES = rectangles(Cut(columns=4, rows=2), *SIZE)


def document(*shown: int) -> Character:
    sheet = Sheet(name="art", size=SIZE, cut=Cut(columns=4, rows=2), feet={"2": (1, 2), "5": (3, 4)})
    clips = (
        Clip(name="walk", sheet="art", cels=tuple(Cel(frame=frame, ticks=frame + 1) for frame in shown)),
        Clip(name="other", sheet="coat", cels=(Cel(frame=2),)),
    )
    return Character(sheets=(sheet,), clips=clips)


def shown(character: Character) -> list[int]:
    return [cel.frame for cel in character.clips[0].cels]


def test_clips_and_feet_follow_frames_when_one_is_removed() -> None:
    after = recut(document(1, 2, 5, 2), 0, recutting.without(FRAMES, [1], SIZE))
    assert shown(after) == [1, 4, 1] and [cel.ticks for cel in after.clips[0].cels] == [3, 6, 3]
    assert after.sheets[0].feet == {"1": (1, 2), "4": (3, 4)}
    assert after.clips[1] == document().clips[1], "clips of other sheets are left alone"
    assert rectangles(after.sheets[0].cut, *SIZE) == [*FRAMES[:1], *FRAMES[2:]]


def test_merged_frames_stand_in_the_place_of_the_first_and_all_cels_show_it() -> None:
    after = recut(document(1, 2, 3), 0, recutting.merged(FRAMES, [1, 2], SIZE))
    assert shown(after) == [1, 1, 2]
    assert rectangles(after.sheets[0].cut, *SIZE)[1] == Rect(10, 0, 20, 10)


@pytest.mark.parametrize(
    ("down", "parts"),
    [(False, [Rect(10, 0, 5, 10), Rect(15, 0, 5, 10)]), (True, [Rect(10, 0, 10, 5), Rect(10, 5, 10, 5)])],
)
def test_a_split_frame_keeps_its_number_for_its_first_half(down: bool, parts: list[Rect]) -> None:
    after = recut(document(1, 2), 0, recutting.split(FRAMES, 1, down, SIZE))
    assert shown(after) == [1, 3] and rectangles(after.sheets[0].cut, *SIZE)[1:3] == parts


def test_a_changed_cell_of_a_grid_gets_a_rectangle_of_its_own() -> None:
    cut = recutting.with_rect(Cut(columns=4, rows=2), 3, Rect(28, 1, 11, 9))
    cut = recutting.with_rect(cut, 1, Rect(9, 0, 11, 10))
    assert list(cut.cells) == ["1", "3"] and rectangles(cut, *SIZE)[3] == Rect(28, 1, 11, 9)
    by_hand = recutting.with_rect(recutting.by_hand(FRAMES), 3, Rect(0, 0, 1, 1))
    assert rectangles(by_hand, *SIZE)[2:4] == [FRAMES[2], Rect(0, 0, 1, 1)]


def test_frames_of_another_cut_are_known_by_their_place() -> None:
    tight = [Rect(one.x + 1, one.y + 1, 8, 9) for one in FRAMES[::-1]]
    assert by_place(FRAMES, tight) == {number: 7 - number for number in range(8)}
    assert by_place(FRAMES, [Rect(0, 0, 40, 20)]) == {} and by_place([], FRAMES) == {}
    new = Recut(Cut(columns=2, rows=2), SIZE, {0: 0})
    assert recutting.lost(document(0, 3, 3), document().sheets[0], new) == ["clip walk (frame 3)"]
    assert shown(recut(document(0, 3), 0, new)) == [0, 3], "what has no place keeps its number"


@pytest.mark.parametrize(
    ("pattern", "names"),
    [
        ("walk left, right", ["walk left", "walk right"]),
        ("walk up left, down right", ["walk up left", "walk down right"]),
        ("walk NW, SE", ["walk NW", "walk SE"]),
        ("walk left, walk right", ["walk left", "walk right"]),
        ("up, down", ["up", "down"]),
        ("keeper 1, 2", ["keeper 1", "keeper 2"]),
        ("walk", ["walk 1", "walk 2"]),
    ],
)
def test_names_need_no_braces(pattern: str, names: list[str]) -> None:
    assert names_from(pattern, 2) == names


def test_names_come_from_the_words_between_braces() -> None:
    assert names_from("walk {left, up right}", 2) == ["walk left", "walk up right"]
    assert names_from("{in,out} of the boat", 2) == ["in of the boat", "out of the boat"]
    assert names_from("walk", 1) == ["walk"]
    assert names_from(usual_pattern("keeper", 4), 4)[0] == "keeper down"
    assert names_from(usual_pattern("keeper", 3), 3) == ["keeper 1", "keeper 2", "keeper 3"]


@pytest.mark.parametrize(
    ("pattern", "said"),
    [
        ("", "no words"),
        ("walk left, right", "names 2 clips"),
        ("walk {a, b}", "names 2 clips"),
        ("{a, a, b}", "equal"),
        ("w {a", "no words"),
    ],
)
def test_patterns_that_do_not_fit_are_named(pattern: str, said: str) -> None:
    with pytest.raises(LeanStepError, match=said):
        names_from(pattern, 3)
