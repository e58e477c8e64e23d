"""Keys of paths and contacts of feet, added where one would expect them."""

from __future__ import annotations

from leanstep.core.character.clips import Contact, Key, Travel
from leanstep.core.clips.path_edits import time_after, with_key, with_next_contact, without_key

PATH = Travel(keys=(Key(at=10, x=8.0, y=2.0), Key(at=20, x=4.0, y=0.0)))


def test_a_new_key_lies_on_the_way_and_behind_the_last_one_a_little_onward() -> None:
    between, number = with_key(PATH, 15)
    assert number == 1 and between.keys[1] == Key(at=15, x=6.0, y=1.0)
    first, number = with_key(PATH, 5)
    assert number == 0 and first.keys[0] == Key(at=5, x=4.0, y=1.0)
    last, number = with_key(PATH, 30)
    assert number == 2 and last.keys[2] == Key(at=30, x=14.0, y=0.0)
    assert with_key(PATH, 20) == (PATH, 1)


def test_the_time_of_a_new_key_is_half_way_to_what_comes_next() -> None:
    assert time_after(PATH, 0, 40) == 15 and time_after(PATH, 1, 40) == 30
    assert time_after(PATH, 1, 20) == 24, "no room is left in the clip"


def test_a_path_that_leads_nowhere_is_none() -> None:
    assert without_key(PATH, 0) == Travel(keys=(Key(at=20, x=4.0, y=0.0),))
    assert without_key(Travel(keys=(Key(at=0), Key(at=10, x=3.0))), 1) is None


def test_the_next_contact_lasts_as_long_as_the_one_before() -> None:
    (one,) = with_next_contact((), 24)
    assert (one.start, one.end, one.x, one.to) == (0, 12, 10, -10)
    assert with_next_contact((Contact(start=2, end=7, x=5.0, to=-4.0),), 24)[1] == Contact(
        start=7, end=12, x=5.0, to=-4.0
    )
