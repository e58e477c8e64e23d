"""Marks and spans stay with their cels, share names, and say words to the game."""

from __future__ import annotations

import csv
import io
import json

import msgspec
import pytest

from leanstep.core.character.clips import Cel, Clip, Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.takes import Take
from leanstep.core.character.validation import validate
from leanstep.core.clips import events
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse, trace_csv, trace_rows
from tests.support.build import sketch, way

CELS = tuple(Cel(frame=frame, ticks=10.0) for frame in range(4))
CLIP = Clip(
    name="walk",
    cels=CELS,
    marks=(Mark(name="step", at=5.0), Mark(name="step", at=20.0), Mark(name="late", at=45.0)),
    spans=(Span(name="cut", start=10.0, end=30.0),),
)


def times(clip: Clip) -> tuple[list[float], tuple[float, float]]:
    return [mark.at for mark in clip.marks], (clip.spans[0].start, clip.spans[0].end)


def test_longer_and_shorter_cels_take_their_events_along() -> None:
    longer = (CELS[0], msgspec.structs.replace(CELS[1], ticks=30.0), *CELS[2:])
    assert times(events.with_cels(CLIP, longer, range(4))) == ([5.0, 40.0, 65.0], (10.0, 50.0))
    shorter = (msgspec.structs.replace(CELS[0], ticks=4.0), *CELS[1:])
    assert times(events.with_cels(CLIP, shorter, range(4))) == ([2.0, 14.0, 39.0], (4.0, 24.0))


def test_events_go_with_cels_that_are_moved_and_stay_where_one_was_taken_out() -> None:
    moved = (CELS[1], CELS[0], *CELS[2:])
    assert times(events.with_cels(CLIP, moved, (1, 0, 2, 3)))[0] == [15.0, 20.0, 45.0]
    without = CELS[:2] + CELS[3:]
    assert times(events.with_cels(CLIP, without, (0, 1, 3))) == ([5.0, 20.0, 35.0], (10.0, 20.0))
    inserted = (CELS[0], Cel(frame=9, ticks=6.0), *CELS[1:])
    assert times(events.with_cels(CLIP, inserted, (0, -1, 1, 2, 3))) == ([5.0, 26.0, 51.0], (16.0, 36.0))
    assert times(events.with_cels(CLIP, (), ()))[0] == [0.0, 0.0, 5.0]


def test_times_are_caught_by_edges_of_cels_and_by_whole_ticks() -> None:
    assert events.caught(18.8, CLIP, 1.5) == 20.0
    assert events.caught(14.3, CLIP, 1.5) == 14.0
    assert events.caught(-3.0, CLIP, 0.5) == 0.0


def test_marks_may_share_a_name_but_not_at_one_time() -> None:
    made = msgspec.structs.replace(sketch(way("a>b", "go")), clips=(CLIP,))
    validate(made, "file")
    twice = msgspec.structs.replace(CLIP, marks=(*CLIP.marks, Mark(name="step", at=20.0)))
    with pytest.raises(LeanStepError, match="two of them are called 'step' at 20"):
        validate(msgspec.structs.replace(made, clips=(twice,)), "file")


def talking() -> Character:
    left = Mark(name="step", at=5.0, says={"foot": "left", "volume": 0.5})
    right = Mark(name="step", at=25.0, says={"foot": "right"})
    span = Span(name="cut", start=10.0, end=12.0, says={"strength": 3.0})
    clip = msgspec.structs.replace(CLIP, marks=(left, right, Mark(name="still", at=15.0)), spans=(span,))
    states = (State(name="a", clip="walk"), State(name="b"))
    return msgspec.structs.replace(sketch(way("a>b", "go"), states=states), clips=(clip,))


def test_what_events_say_stands_in_traces() -> None:
    trace = rehearse(compile_character(talking()), Take(name="t", ticks=40, world="free"))
    said = {row["tick"]: row["says"] for row in trace_rows(trace) if row["says"]}
    assert said == {
        4: {"step": {"foot": "left", "volume": 0.5}},
        9: {"cut": {"strength": 3.0}},
        10: {"cut": {"strength": 3.0}},
        24: {"step": {"foot": "right"}},
    }
    rows = list(csv.DictReader(io.StringIO(trace_csv(trace))))
    assert json.loads(rows[4]["says"]) == {"step": {"foot": "left", "volume": 0.5}} and rows[5]["says"] == ""


def test_a_trace_of_silent_events_has_no_column_for_words() -> None:
    made = msgspec.structs.replace(talking(), clips=(CLIP,))
    trace = rehearse(compile_character(made), Take(name="t", ticks=6, world="free"))
    assert "says" not in next(iter(trace_rows(trace)))
