"""Cels and events of a clip are edited as lists are, and keep to what they belong to."""

import msgspec
import pytest

from leanstep.core.character.clips import Cel, Clip, Contact, Key, Mark, Span, Travel
from leanstep.core.clips import cel_edits, event_edits

CELS = tuple(Cel(frame=frame, ticks=ticks) for frame, ticks in ((3, 10), (1, 20), (2, 30)))
STEP, LAND = Mark(name="step", at=5.0), Mark(name="land", at=40.0)
OPEN = Span(name="open", start=10.0, end=30.0)
CLIP = Clip(name="walk", cels=CELS, marks=(STEP, LAND), spans=(OPEN,), repeat_from=1)


def frames(clip: Clip) -> list[int]:
    return [cel.frame for cel in clip.cels]


def times(clip: Clip) -> list[float]:
    return [mark.at for mark in clip.marks]


def test_cels_change_places_and_marks_and_the_repeat_go_with_them() -> None:
    later = cel_edits.moved(CLIP, [0, 1], 1)
    assert (frames(later), sorted(times(later)), later.repeat_from) == ([2, 3, 1], [10.0, 35.0], 2)
    back = cel_edits.moved(later, [1, 2], -1)
    assert (frames(back), times(back), back.repeat_from) == (frames(CLIP), times(CLIP), 1)
    assert frames(cel_edits.turned_round(CLIP)) == [2, 1, 3]


def test_cels_are_added_doubled_and_taken_out() -> None:
    added = cel_edits.added(CLIP, 0)
    assert (frames(added), times(added)) == ([3, 4, 1, 2], [5.0, 50.0])
    assert added.cels[1].ticks == 10 and added.repeat_from == 2
    doubled = cel_edits.doubled(CLIP, [0, 1])
    assert (frames(doubled), times(doubled)) == ([3, 1, 3, 1, 2], [5.0, 70.0])
    assert cel_edits.without(doubled, [2, 3]) == CLIP
    assert frames(cel_edits.added(msgspec.structs.replace(CLIP, cels=(), repeat_from=0), 0)) == [0]


def test_cels_are_shown_longer_and_never_for_less_than_a_tick() -> None:
    assert [cel.ticks for cel in cel_edits.shown_for(CLIP, 4).cels] == [4, 4, 4]
    made = cel_edits.changed(CLIP, [1], lambda cel: cel_edits.longer(cel, -50))
    assert [cel.ticks for cel in made.cels] == [10, 1, 30] and times(made) == [5.0, 21.0]
    half = Cel(frame=0, ticks=0.5)
    assert cel_edits.longer(half, -1) == half and cel_edits.longer(half, 1).ticks == 1.5


@pytest.mark.parametrize(
    ("part", "by", "start", "end"),
    [
        ("all", 3.0, 13.0, 33.0),
        ("all", -99.0, 0.0, 20.0),
        ("start", 99.0, 29.75, 30.0),
        ("start", -99.0, 0.0, 30.0),
        ("end", -99.0, 10.0, 10.25),
    ],
)
def test_a_span_is_moved_as_far_as_it_goes(part: str, by: float, start: float, end: float) -> None:
    assert event_edits.moved([OPEN], part, by) == [Span(name="open", start=start, end=end)]


def test_events_move_together_and_none_of_them_before_the_beginning() -> None:
    assert event_edits.moved([LAND, STEP], "all", -20.0) == [
        Mark(name="land", at=35.0),
        Mark(name="step", at=0.0),
    ]
    assert event_edits.moved([STEP], "end", 4.0) == [STEP]


def test_two_marks_of_a_name_cannot_fire_at_once_nor_two_spans_have_one() -> None:
    again = Mark(name="step", at=40.0)
    assert event_edits.clash(CLIP, [LAND], [again]) is None
    assert event_edits.clash(CLIP, [], [again, again]) == again
    assert event_edits.clash(CLIP, [], [STEP]) == STEP and event_edits.clash(CLIP, [STEP], [STEP]) is None
    other = Span(name="open", start=0.0, end=1.0)
    assert event_edits.clash(CLIP, [], [other]) == other and event_edits.clash(CLIP, [OPEN], [other]) is None
    made = event_edits.replaced(CLIP, [STEP, OPEN], [again, other])
    assert made.marks == (LAND, again) and made.spans == (other,)


def test_what_was_copied_lies_where_it_was_if_there_is_room() -> None:
    empty = msgspec.structs.replace(CLIP, marks=(), spans=())
    assert event_edits.pasted(empty, [LAND, OPEN], 2.0) == [LAND, OPEN]
    assert event_edits.pasted(CLIP, [LAND, OPEN], 2.0) == [
        Mark(name="land", at=32.0),
        Span(name="open", start=2.0, end=22.0),
    ]


def test_copies_come_a_tick_later_and_spans_get_names_of_their_own() -> None:
    assert event_edits.copies(CLIP, [STEP, OPEN, OPEN]) == [
        Mark(name="step", at=6.0),
        Span(name="open_2", start=11.0, end=31.0),
        Span(name="open_3", start=11.0, end=31.0),
    ]


def test_a_span_that_ends_with_the_clip_stays_with_its_cel() -> None:
    clip = msgspec.structs.replace(CLIP, spans=(Span(name="open", start=30.0, end=60.0),))

    def lies(made: Clip) -> tuple[float, float]:
        return made.spans[0].start, made.spans[0].end

    assert lies(cel_edits.moved(clip, [2], -1)) == (10.0, 40.0)
    assert lies(cel_edits.added(clip, 2)) == (30.0, 60.0)
    assert lies(cel_edits.shown_for(clip, 5)) == (10.0, 15.0)
    assert lies(cel_edits.without(clip, [0])) == (20.0, 50.0)
    late = msgspec.structs.replace(clip, spans=(Span(name="open", start=30.0, end=70.0),))
    assert lies(cel_edits.shown_for(late, 5)) == (10.0, 25.0)


def test_feet_on_the_ground_and_the_path_stay_with_the_cels_as_they_get_longer() -> None:
    foot = Contact(start=10.0, end=30.0, x=8.0, to=-8.0)
    path = Travel(keys=(Key(at=10.0), Key(at=30.0, x=16.0), Key(at=45.0, x=20.0)))
    clip = msgspec.structs.replace(CLIP, contacts=(foot,), travel=path)

    def lies(made: Clip) -> tuple[list[float], list[float]]:
        assert made.travel is not None
        return [made.contacts[0].start, made.contacts[0].end], [key.at for key in made.travel.keys]

    assert lies(cel_edits.shown_for(clip, 4)) == ([4.0, 8.0], [4.0, 8.0, 10.0])
    assert lies(cel_edits.added(clip, 1)) == ([10.0, 30.0], [10.0, 30.0, 65.0])
    fewer = cel_edits.without(clip, [1])
    assert fewer.travel is not None and [(key.at, key.x) for key in fewer.travel.keys] == [(10.0, 16.0), (25.0, 20.0)]
    assert lies(cel_edits.moved(clip, [2], -1)) == ([40.0, 60.0], [10.0, 30.0, 45.0]), "a path is no matter of order"
