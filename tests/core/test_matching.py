"""Frames known by their pictures in an image that was exported again."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.sheets import recutting
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.matching import matched
from tests.support.drawn_figures import FIGURES, Traits
from tests.support.drawn_sheets import paste

SIDE = 64


def laid_out(pictures: list[np.ndarray]) -> tuple[np.ndarray, list[Rect]]:
    pixels = np.zeros((SIDE, SIDE * len(pictures), 4), np.uint8)
    for number, picture in enumerate(pictures):
        paste(pixels, picture, number * SIDE + 6, 10)
    return pixels, [Rect(number * SIDE, 0, SIDE, SIDE) for number in range(len(pictures))]


def redrawn(picture: np.ndarray, pick: np.random.Generator) -> np.ndarray:
    """The picture with a patch of another colour."""
    found = picture.copy()
    y, x = pick.choice(np.argwhere(found[:, :, 3] > 0))
    found[max(0, y - 3) : y + 3, max(0, x - 3) : x + 3] = (255, 255, 0, 255)
    return found


@pytest.mark.long
def test_frames_survive_inserted_removed_redrawn_and_swapped_drawings() -> None:
    right = Counter[bool]()
    for seed in range(40):
        pick = np.random.default_rng(seed)
        traits = Traits.of(pick)
        drawings = [FIGURES[seed % 10](50, phase / 16, traits) for phase in range(16)]
        order: list[int] = list(range(16))
        order[3], order[12] = 12, 3
        order.remove(6)
        new = [redrawn(drawings[one], pick) if one == 9 else drawings[one] for one in order]
        for place in (2, 10):
            order.insert(place, -1)
            new.insert(place, FIGURES[(seed + place + 1) % 10](50, 0.3, Traits.of(pick)))
        found = matched(*laid_out(drawings), *laid_out(new))
        where = {one.old: one.new for one in found.matches}
        for one in set(range(16)) - {6}:
            same = [
                place
                for place, other in enumerate(order)
                if other >= 0 and np.array_equal(drawings[other], drawings[one])
            ]
            right[where.get(one) in same or where.get(one) == order.index(one)] += 1
    assert right[True] >= 0.99 * right.total()


def test_it_says_how_a_frame_was_known_and_by_how_much_it_moved() -> None:
    pick = np.random.default_rng(1)
    traits = Traits.of(pick)
    drawings = [FIGURES[0](40, phase / 4, traits) for phase in range(4)]
    pixels, rects = laid_out(drawings)
    moved = pixels.copy()
    moved[:, SIDE : 2 * SIDE] = np.roll(pixels[:, SIDE : 2 * SIDE], (-2, 3), axis=(0, 1))
    moved[:, 2 * SIDE : 3 * SIDE, :] = laid_out([redrawn(drawings[2], pick)])[0]
    moved[:, 3 * SIDE :] = 0
    moved[5:60, 3 * SIDE + 20 : 3 * SIDE + 24] = (9, 9, 9, 255)
    found = matched(pixels, rects, moved, rects)
    assert [(one.old, one.new, one.how) for one in found.matches] == [
        (0, 0, "exact"), (1, 1, "shifted"), (2, 2, "similar"), (3, 3, "place")
    ]  # fmt: skip
    assert found.matches[1].moved == (3, -2) and found.stays and not found.gone and not found.added


def test_equal_pictures_keep_their_order() -> None:
    picture = FIGURES[1](40, 0.1, Traits.of(np.random.default_rng(2)))
    other = FIGURES[2](40, 0.1, Traits.of(np.random.default_rng(3)))
    found = matched(*laid_out([picture, picture, other, picture]), *laid_out([other, picture, picture, picture]))
    assert [(one.old, one.new) for one in found.matches] == [(0, 1), (1, 2), (2, 0), (3, 3)]


def test_empty_frames_are_neither_gone_nor_new() -> None:
    picture, nothing = FIGURES[1](40, 0.1, Traits.of(np.random.default_rng(2))), np.zeros((40, 40, 4), np.uint8)
    found = matched(*laid_out([picture, nothing, nothing]), *laid_out([picture, nothing]))
    assert not found.gone and not found.added


@pytest.mark.parametrize("way", ["place", "picture"])
def test_feet_move_with_their_drawings_when_the_same_image_is_cut_otherwise(way: str) -> None:
    traits = Traits.of(np.random.default_rng(5))
    pixels, cells = laid_out([FIGURES[0](28 if way == "picture" else 50, phase / 3, traits) for phase in range(3)])
    from leanstep.core.sheets.background import drawn
    from leanstep.core.sheets.drawings import found_rects

    tight = found_rects(drawn(pixels))
    new = recutting.of_same_image(pixels, cells, tight, recutting.by_hand(tight))
    sheet = Sheet(name="s", size=(3 * SIDE, SIDE), cut=Cut(columns=3, rows=1), feet={"1": (30, 50)})
    character = Character(sheets=(sheet,), clips=(Clip(name="c", sheet="s", cels=(Cel(frame=2),)),))
    after = recutting.recut(character, 0, new)
    x, y = after.sheets[0].feet["1"]
    assert (x + tight[1].x, y + tight[1].y) == (SIDE + 30, 50), "the foot stays where it is in the image"
    assert after.clips[0].cels[0].frame == 2
