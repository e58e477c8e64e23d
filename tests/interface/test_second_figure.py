"""Somebody else on the course: put there, struck, measured, kept in a take, steered against it, and gone."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QLineEdit

from leanstep.core.character.edits import change
from leanstep.core.character.files import load, save
from leanstep.core.rehearsal.pair_traces import PairTrace
from leanstep.core.rehearsal.second_figures import PairSteps
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.stations.rehearse.second_row import SecondRow
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import typed

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def teacher(open_window: Callable[..., Window], demo: Path) -> Window:
    """The window with the fencing teacher, on Rehearse, with the row of somebody else open."""
    window = open_window(demo / "fencing-teacher.leanstep")
    window.go("Rehearse")
    QTest.mouseClick(station(window).second_button, LEFT)
    return window


def station(window: Window) -> RehearseStation:
    found = window.station(RehearseStation)
    assert isinstance(found, RehearseStation)
    return found


def row(window: Window) -> SecondRow:
    found = station(window).second_row
    assert found.isVisible()
    return found


def place(window: Window, at: str) -> None:
    typed(row(window).across.lineEdit(), at)


def thrust(window: Window, before: int = 3, after: int = 90) -> None:
    """Steer, and thrust once, with keys."""
    if window.live.mode == "idle":
        QTest.mouseClick(station(window).drive_button, LEFT)
    ticks(window, before)
    QTest.keyPress(station(window).course, Qt.Key.Key_X)
    ticks(window, 3)
    QTest.keyRelease(station(window).course, Qt.Key.Key_X)
    ticks(window, after)


def told(window: Window) -> str:
    """What is said of the take, once it has been rehearsed."""
    sentence = station(window).sentence
    for _ in range(2000):
        if not sentence.text().startswith("Rehearsing"):
            break
        QTest.qWait(5)
    return sentence.text()


def pair(window: Window, name: str) -> PairTrace:
    take = next(take for take in window.session.document.takes if take.name == name)
    steps = rehearse(window.session.machine, take).steps
    assert isinstance(steps, PairSteps)
    return steps.pair


@pytest.mark.long
def test_the_straw_man_is_struck_and_it_is_said_who_is_free_first(teacher: Window) -> None:
    assert row(teacher).said.text().startswith("Put somebody on the course")
    pick(row(teacher).who, "the straw man")
    place(teacher, "176")
    thrust(teacher)
    assert row(teacher).said.text() == "Lunge hits, plus 5 as it was played, as lunge says."
    second = teacher.live.second
    assert second is not None and second.figure.is_free(second.side.situation)
    pick(row(teacher).does, "guards")
    thrust(teacher)
    assert row(teacher).said.text() == "Lunge is guarded, minus 8 as it was played, as lunge says."
    place(teacher, "236")
    thrust(teacher)
    assert row(teacher).said.text() == "The straw man is there. Strike it."


@pytest.mark.long
def test_a_cancel_is_named_where_it_makes_another_advantage(teacher: Window) -> None:
    pick(row(teacher).who, "the straw man")
    place(teacher, "176")
    thrust(teacher, after=20)
    # time stands for four ticks; the lunge recovers, and goes on as a riposte
    QTest.keyPress(station(teacher).course, Qt.Key.Key_X)
    ticks(teacher, 80)
    QTest.keyRelease(station(teacher).course, Qt.Key.Key_X)
    lunge, riposte = row(teacher).said.text().splitlines()
    assert lunge.endswith(
        "plus 4 as it was played; lunge says plus 5. Lunge → riposte of who strikes, on tick 27, ate the ticks."
    )
    assert riposte.endswith("Riposte hits, plus 4 as it was played, as riposte says.")


@pytest.mark.long
def test_both_are_put_back_and_the_second_goes_where_it_is_said_to(teacher: Window) -> None:
    pick(row(teacher).who, "the same again")
    place(teacher, "200")
    pick(row(teacher).does, "walks in")
    second = teacher.live.second
    assert second is not None
    ticks(teacher, 120)
    assert second.side.situation.body.x < 190
    QTest.mouseClick(row(teacher).back_button, LEFT)
    assert second.side.situation.body.x == 200
    pick(row(teacher).facing, "looks right")
    pick(row(teacher).who, "nobody else")
    assert teacher.live.second is None and not row(teacher).across.isVisible()


@pytest.mark.long
def test_a_recorded_take_holds_who_was_there_and_does_the_same_again(teacher: Window) -> None:
    pick(row(teacher).who, "the straw man")
    place(teacher, "176")
    QTest.mouseClick(station(teacher).record_button, LEFT)
    thrust(teacher)
    QTest.mouseClick(station(teacher).record_button, LEFT)
    take = teacher.session.document.takes[-1]
    assert take.second is not None and (take.second.who, take.second.x) == ("straw man", 176)
    assert [one.words for one in pair(teacher, take.name).contacts] == ["lunge hits"]
    assert "Lunge hits on tick 12, plus 5." in told(teacher)
    teacher.session.undo()
    assert take not in teacher.session.document.takes


@pytest.mark.long
def test_a_take_is_given_a_second_figure_which_is_then_steered_against_it(teacher: Window) -> None:
    station(teacher).choose("whiffed")
    pick(row(teacher).who, "the same again")
    place(teacher, "176")
    before = teacher.session.document
    QTest.mouseClick(row(teacher).keep_button, LEFT)
    made = next(take for take in teacher.session.document.takes if take.name == "whiffed")
    assert made.second is not None and made.second.who == "itself" and made.second.digest
    assert [one.words for one in pair(teacher, "whiffed").contacts] == ["lunge hits"]
    # it parries in time
    QTest.mouseClick(row(teacher).steer_button, LEFT)
    ticks(teacher, 12)
    QTest.keyPress(station(teacher).course, Qt.Key.Key_C)
    ticks(teacher, 4)
    QTest.keyRelease(station(teacher).course, Qt.Key.Key_C)
    ticks(teacher, 110)
    assert teacher.live.mode == "idle"
    assert [one.words for one in pair(teacher, "whiffed").contacts] == ["lunge is guarded"]
    teacher.session.undo()
    teacher.session.undo()
    assert teacher.session.document == before


@pytest.mark.long
def test_a_take_with_a_second_figure_plays_it_and_then_whoever_was_there_is_there_again(teacher: Window) -> None:
    pick(row(teacher).who, "the straw man")
    station(teacher).choose("bout")
    QTest.mouseClick(station(teacher).play_button, LEFT)
    second = teacher.live.second
    assert second is not None and second.written.who == "itself"
    ticks(teacher, 60)
    assert [one.contact.words for one in second.contacts] == ["lunge is guarded", "lunge hits"]
    QTest.mouseClick(station(teacher).play_button, LEFT)
    assert teacher.live.second is not None and teacher.live.second.written.who == "straw man"


@pytest.mark.long
def test_a_file_that_is_gone_or_does_not_go_with_it_is_said_and_nothing_is_lost(
    teacher: Window, demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    chosen = demo / "lamplighter.leanstep"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(chosen), ""))
    pick(row(teacher).who, "a character file …")
    assert teacher.live.second is not None and teacher.live.second.written.file == "lamplighter.leanstep"
    station(teacher).choose("whiffed")
    QTest.mouseClick(row(teacher).keep_button, LEFT)
    assert "Nothing touches." in told(teacher)
    document = teacher.session.document
    # another one stands there now
    save(chosen, replace(load(chosen), name="somebody else"))
    teacher.session.save()
    teacher.session.open(demo / "fencing-teacher.leanstep")
    station(teacher).choose("whiffed")
    assert "The second figure is not what it was when the take was made." in told(teacher)
    chosen.unlink()
    teacher.session.open(demo / "fencing-teacher.leanstep")
    station(teacher).choose("whiffed")
    assert told(teacher).startswith("This take cannot be played: it cannot be opened")
    assert teacher.session.document == document


def test_what_is_missing_for_anything_to_touch_is_said(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    window.go("Rehearse")
    QTest.mouseClick(station(window).second_button, LEFT)
    pick(row(window).who, "the straw man")
    assert row(window).said.text() == "No clip has a box that hits: draw one in Clips, with “Boxes”."


@pytest.mark.long
def test_contact_is_declared_in_one_gesture_and_taken_back_in_one(window: Window) -> None:
    window.go("Rehearse")
    window.mirror.show_tab("Body")
    panel = window.mirror.body.contact
    before = window.session.document
    QTest.mouseClick(panel.declare_button, LEFT)
    rules = window.session.document.contact
    assert rules is not None and (rules.hit, rules.guarded, rules.stun) == ("hit", "guarded", "stun")
    kinds = {one.name: (one.kind, one.countdown) for one in window.session.document.parameters}
    assert kinds["hit"] == ("pulse", False) and kinds["stun"] == ("whole", True)
    line = panel.guards
    assert isinstance(line, QLineEdit)
    typed(line, "in base.crouch")
    assert window.session.document.contact is not None and window.session.document.contact.guards == "in base.crouch"
    window.session.undo()
    window.session.undo()
    assert window.session.document == before


@pytest.mark.long
def test_an_edit_while_somebody_is_there_leaves_it_there(teacher: Window) -> None:
    pick(row(teacher).who, "the same again")
    place(teacher, "200")
    pick(row(teacher).does, "walks in")
    ticks(teacher, 60)
    second = teacher.live.second
    assert second is not None
    at = second.side.situation.body.x
    teacher.session.edit("test", lambda document: change(document, ("body",), walk_speed=60.0))
    now = teacher.live.second
    assert now is not None and now is not second and now.side.situation.body.x == at


@pytest.mark.long
def test_whoever_is_there_is_dragged_and_stands_where_a_hand_lets_go(teacher: Window) -> None:
    pick(row(teacher).who, "the straw man")
    place(teacher, "190")
    course, second = station(teacher).course, teacher.live.second
    assert second is not None

    def spot(x: float, y: float) -> QPoint:
        return course.place(x, y).toPoint()

    def stands() -> tuple[float, float]:
        assert teacher.live.second is not None
        body = teacher.live.second.side.situation.body
        return body.x, body.y

    before = course.camera.on_course(QPointF(0, 0))
    QTest.mousePress(course, LEFT, Qt.KeyboardModifier.NoModifier, spot(190, 20))
    QTest.mouseMove(course, spot(230, 21))
    QTest.mouseMove(course, spot(250, 21))
    assert stands() == (190, 0), "it is put there when it is let go"
    QTest.mouseRelease(course, LEFT, Qt.KeyboardModifier.NoModifier, spot(250, 21))
    assert abs(stands()[0] - 250) <= 1 and stands()[1] == 0
    assert row(teacher).across.value() == stands()[0] and teacher.live.second is not second
    assert course.camera.on_course(QPointF(0, 0)) == before, "the course stays where it was"
    # a press that only looks, and one beside it, change nothing
    there = teacher.live.second
    QTest.mouseClick(course, LEFT, Qt.KeyboardModifier.NoModifier, spot(stands()[0], 20))
    assert teacher.live.second is there
    QTest.mousePress(course, LEFT, Qt.KeyboardModifier.NoModifier, spot(60, 60))
    QTest.mouseMove(course, spot(80, 60))
    QTest.mouseRelease(course, LEFT, Qt.KeyboardModifier.NoModifier, spot(80, 60))
    assert teacher.live.second is there and course.camera.on_course(QPointF(0, 0)) != before
    entries = {entry.name: entry for entry in course.menu_entries(spot(140, 30)) if entry is not None}
    entries["Put the second figure here"].do()
    assert abs(stands()[0] - 140) <= 1 and abs(stands()[1] - 30) <= 1
