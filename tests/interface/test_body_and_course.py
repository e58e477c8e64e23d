"""The body's numbers, the course drawn by hand, and what is said of a take."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from leanstep.core.body import courses
from leanstep.core.character.body import Shape
from leanstep.core.character.takes import Expectation, Take
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import typed
from tests.interface.test_sheets import wait_until

LEFT, ALT = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.AltModifier


@pytest.fixture
def station(window: Window) -> RehearseStation:
    window.go("Rehearse")
    made = window.station(RehearseStation)
    assert isinstance(made, RehearseStation)
    return made


def shapes(window: Window) -> tuple[Shape, ...]:
    return window.session.document.course.shapes


def dragged(station: RehearseStation, start: tuple[float, float], end: tuple[float, float]) -> None:
    """Drag from one place of the course to another."""
    course = station.course
    first, last = course.place(*start), course.place(*end)
    QTest.mousePress(course, LEFT, pos=first.toPoint())
    QTest.mouseMove(course, ((first + last) * 0.5).toPoint())
    QTest.mouseMove(course, last.toPoint())
    QTest.mouseRelease(course, LEFT, pos=last.toPoint())


@pytest.mark.long
def test_numbers_of_the_body_act_at_once_and_are_drawn(window: Window, station: RehearseStation) -> None:
    window.mirror.show_tab("Body")
    panel = window.mirror.body
    assert "A jump rises 58 units" in panel.sentence.text()
    before = station.course.grab().toImage()
    panel.fields["jump_speed"].setFocus()
    assert station.course.number == "jump_speed" and station.course.grab().toImage() != before, "the jump is drawn"
    typed(panel.fields["jump_speed"].lineEdit(), "500")
    assert window.session.document.body.jump_speed == 500 and "A jump rises 13" in panel.sentence.text()
    window.live.drive()
    window.live.hands.key("Space", True)
    ticks(window, 1)
    assert window.live.situation.body.vy > 450, "on the next tick"
    window.live.leave()
    pick(panel.controls["jump"], "run")
    assert window.session.document.body.jump == "run"
    for _ in range(2):
        window.session.undo()
    assert window.session.document.body.jump_speed == 330


def test_the_course_is_drawn_moved_resized_named_and_removed(window: Window, station: RehearseStation) -> None:
    QTest.mouseClick(station.course_button, LEFT)
    row, count = station.course_row, len(shapes(window))
    assert row.isVisible()
    station.course.grab()
    pick(row.kind, "zone")
    dragged(station, (120, 100), (168, 140))
    made = shapes(window)[-1]
    assert len(shapes(window)) == count + 1 and row.chosen == count
    assert (made.kind, made.x, made.y, made.width, made.height) == ("zone", 120, 100, 48, 40)
    typed(row.name, "in_fog")
    assert shapes(window)[-1].name == "in_fog"
    dragged(station, (140, 120), (180, 140))
    made = shapes(window)[-1]
    assert (made.x, made.y, made.width, made.height) == (160, 120, 48, 40)
    dragged(station, (208, 140), (240, 140))
    assert shapes(window)[-1].width == 80, "an edge resizes"
    station.course.setFocus()
    QTest.keyClick(station.course, Qt.Key.Key_Right)
    QTest.keyClick(station.course, Qt.Key.Key_Up, ALT)
    assert (shapes(window)[-1].x, shapes(window)[-1].height) == (164, 44)
    typed(row.fields["width"].lineEdit(), "33")
    assert shapes(window)[-1].width == 33
    station.course.setFocus()
    QTest.keyClick(station.course, Qt.Key.Key_Delete)
    assert len(shapes(window)) == count and not row.remove_button.isEnabled()


def test_the_start_is_dragged_and_ready_courses_are_put_down(window: Window, station: RehearseStation) -> None:
    QTest.mouseClick(station.course_button, LEFT)
    station.course.grab()
    x, y = window.session.document.course.start
    dragged(station, (x, y + 4), (x + 40, y + 4))
    assert window.session.document.course.start == (x + 40, y)
    pick(station.course_row.ready, "harbour roofs")
    assert window.session.document.course == courses.ROOFS
    window.session.undo()
    assert window.session.document.course.start == (x + 40, y)
    assert station.course.place(0, 0) != QPointF()


def test_what_is_said_of_a_take(window: Window, station: RehearseStation) -> None:
    row = station.take_row

    def take() -> Take:
        return window.session.document.takes[0]

    typed(row.expects, "end in idle; never enter hurt; enter climb within 2 s")
    assert take().expects == (
        Expectation(what="end-in", name="idle"),
        Expectation(what="never-enter", name="hurt"),
        Expectation(what="enter", name="climb", within=2.0),
    )
    assert [missing for _, missing in station.timeline.met][:2] == ["", ""]
    assert "climb is never entered within 2 s" in station.timeline.met[2][1]
    typed(row.expects, "end in idle; never enter hurt")
    assert [missing for _, missing in station.timeline.met] == ["", ""]
    typed(row.expects, "finish somewhere")
    assert row.fault.isVisible() and "cannot be read" in row.fault.text() and len(take().expects) == 2
    typed(row.note, "along the quay")
    assert take().note == "along the quay"
    last = max(change.at for change in take().changes)
    typed(row.ticks.lineEdit(), str(last))
    assert take().ticks == last and all(change.at < last for change in take().changes)
    typed(row.ticks.lineEdit(), str(last + 200))
    assert take().ticks == last + 200 and station.timeline.last == last + 200
    pick(row.world, "the take says everything")
    assert take().world == "free"


def test_how_robust_a_take_is_with_progress(window: Window, station: RehearseStation) -> None:
    QTest.mouseClick(station.robust_button, LEFT)
    assert station.robust_button.text() == "Stop trying"
    wait_until(
        lambda: "Trying the take otherwise" in station.sentence.text() or not station.robust_button.work.busy,
        "progress",
    )
    wait_until(lambda: "obust: " in station.sentence.text(), "the outcome")
    assert station.robust_button.text() == "How robust"
    QTest.mouseClick(station.robust_button, LEFT)
    QTest.mouseClick(station.robust_button, LEFT)
    wait_until(lambda: station.sentence.text() == "Stopped trying." or "obust: " in station.sentence.text(), "the end")


@pytest.mark.long
def test_another_character_is_opened_while_a_moment_of_a_take_is_looked_at(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    window.go("Rehearse")
    station: Any = window.station(RehearseStation)
    station.choose("ladder-and-lamp")
    station.look(550)
    assert window.live.mode == "looking"
    window.open(demo / "ferry-hand.leanstep")
    assert window.live.mode == "idle"
    window.live.tick()
    assert not station.course.grab().isNull()
