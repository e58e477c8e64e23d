"""A hand that only looks changes nothing: wheels, clicks where something lies on top, and what moves under the pointer."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QEvent, QObject, QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractSlider, QAbstractSpinBox, QApplication, QComboBox, QScrollBar, QWidget

from leanstep.core.character.body import Course
from leanstep.core.character.edits import change
from leanstep.core.character.takes import Change
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.interface.test_every_field import TABLE, Control

NONE, LEFT, CTRL = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier


class Shown(QObject):
    """Sees which windows come up."""

    def __init__(self, seen: list[QWidget]) -> None:
        super().__init__()
        self.seen = seen

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
            self.seen.append(watched)
        return False


def wheel(widget: QWidget) -> None:
    where = QPointF(widget.rect().center())
    for turn in (120, -120, -120):
        event = QWheelEvent(
            where,
            widget.mapToGlobal(where),
            QPoint(),
            QPoint(0, turn),
            Qt.MouseButton.NoButton,
            NONE,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(widget, event)


@pytest.mark.long
@pytest.mark.parametrize("focused", [False, True])
def test_the_wheel_changes_no_value_anywhere(window: Window, focused: bool) -> None:
    """Over every number, list and slider that is seen anywhere, whether it has the focus or not."""
    seen: set[int] = set()
    for opened in dict.fromkeys(how.opened for how in TABLE.values() if isinstance(how, Control)):
        inside = opened(window)
        before, history = window.session.document, window.session.history.undo_name
        for kind in (QComboBox, QAbstractSpinBox, QAbstractSlider):
            for widget in inside.findChildren(kind):
                if widget.isVisible() and widget.isEnabled() and id(widget) not in seen:
                    if isinstance(widget, QScrollBar):
                        continue
                    seen.add(id(widget))
                    said = widget.accessibleName()
                    if focused:
                        widget.setFocus()
                    wheel(widget)
                    assert window.session.document is before, said
        assert window.session.history.undo_name == history
        while window.session.history.undo_name:
            window.session.undo()
    assert len(seen) > 80


@pytest.mark.long
def test_no_two_commands_that_can_be_meant_have_one_shortcut(window: Window) -> None:
    for name in window.stations:
        window.go(name)
        keys = Counter(action.shortcut().toString() for action in window.commands if not action.shortcut().isEmpty())
        assert [key for key, count in keys.items() if count > 1] == []


@pytest.mark.long
def test_ctrl_return_does_what_the_station_says(window: Window) -> None:
    done: list[str] = []
    for name in ("Sheets", "Hand over"):
        station = window.stations[name]
        action = next(
            one
            for one in window.commands
            if one.text() in ("Cut as suggested", "Hand over what is ticked") and one.parent() is station
        )
        action.triggered.disconnect()
        action.triggered.connect(lambda checked=False, name=name: done.append(name))
    for name in ("Sheets", "Hand over"):
        window.go(name)
        QTest.keyClick(window, Qt.Key.Key_Return, CTRL)
    assert done == ["Sheets", "Hand over"]


@pytest.mark.long
def test_nothing_comes_up_as_a_window_of_its_own(window: Window) -> None:
    """A part that is shown before it stands anywhere is a window, which takes the keys from what is typed."""
    for name in window.stations:
        window.go(name)
        for tab in window.mirror.tabs:
            window.mirror.show_tab(tab)
            QApplication.processEvents()
            shown = [one for one in QApplication.topLevelWidgets() if one.isVisible() and one is not window]
            assert shown == [] and QApplication.activeWindow() is window, (name, tab)
    seen: list[QWidget] = []
    window.mirror.show_tab("Parameters")
    app = QApplication.instance()
    assert app is not None

    watching = Shown(seen)
    app.installEventFilter(watching)
    window.mirror.names.add_stick()
    window.mirror.names.add_button()
    QApplication.processEvents()
    app.removeEventFilter(watching)
    assert seen == []


@pytest.mark.long
def test_the_first_shape_of_a_course_leaves_ground_to_stand_on(window: Window) -> None:
    window.session.edit("test", lambda document: change(document, (), course=Course()))
    window.go("Rehearse")
    station = window.station(RehearseStation)
    QTest.mouseClick(station.course_button, LEFT)
    course = station.course
    window.live.restart()
    start, end = course.place(400, 300).toPoint(), course.place(480, 340).toPoint()
    QTest.mousePress(course, LEFT, NONE, start)
    QTest.mouseMove(course, end)
    QTest.mouseRelease(course, LEFT, NONE, end)
    assert len(window.session.document.course.shapes) == 2
    ticks(window, 200)
    assert window.live.situation.body.y == 0 and not window.live.fallen


@pytest.mark.long
def test_what_falls_out_of_the_course_is_held_said_and_put_back(window: Window) -> None:
    shapes = window.session.document.course.shapes[:1]
    window.session.edit("test", lambda document: change(document, ("course",), shapes=shapes, start=(5000.0, 0.0)))
    window.live.restart()
    window.live.start()
    for _ in range(600):
        window.live.tick()
        if window.live.fallen:
            break
    assert window.live.fallen and "fallen out" in window.notices.text.text()
    before = window.live.situation.body.y
    QTest.qWait(120)
    assert window.live.situation.body.y == before, "it is held"
    window.session.edit("test", lambda document: change(document, ("course",), start=(0.0, 0.0)))
    QTest.mouseClick(window.notices.buttons[0], LEFT)
    window.live.stop()
    assert not window.live.fallen and window.live.situation.body.y >= 0
    assert not window.notices.isVisible()


@pytest.mark.long
def test_rows_that_come_do_not_move_the_timeline(window: Window) -> None:
    window.go("Rehearse")
    station = window.station(RehearseStation)
    window.session.select(Thing("take", window.session.document.takes[0].name))
    QApplication.processEvents()
    before = station.scroller.height(), station.course.height()
    take = station.take
    assert take is not None
    names = [one.name for one in window.session.document.parameters if one.kind == "number"]
    more = (*take.changes, *(Change(at=20, set={name: 1.0}) for name in names))
    station._edited(replace(take, changes=tuple(sorted(more, key=lambda one: one.at))))
    QApplication.processEvents()
    assert (station.scroller.height(), station.course.height()) == before


@pytest.mark.long
def test_the_needle_is_dragged_off_the_sample_it_lies_on(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "ferry-hand.leanstep")
    window.go("Blends")
    station = window.station(BlendsStation)
    dial = station.dial
    place = dial.space.places[3]
    dial.probed.emit(tuple(place))
    tip = dial.tip()
    assert tip is not None
    spot = tip.toPoint()
    before, probe = window.session.document, dial.probe
    if dial.sample_at(QPointF(spot)) is None:
        pytest.skip("no sample lies under the needle here")
    QTest.mousePress(dial, LEFT, NONE, spot)
    QTest.mouseMove(dial, spot + QPoint(25, 30))
    QTest.mouseRelease(dial, LEFT, NONE, spot + QPoint(25, 30))
    assert window.session.document is before and dial.probe != probe


def test_ways_out_tell_what_is_true_while_a_button_of_the_mouse_is_held(window: Window) -> None:
    """The stick on the screen is pushed with the mouse: what it makes true is seen meanwhile."""
    window.go("Graph")
    window.session.select_state(0, "idle")
    window.live.drive()
    ticks(window, 10)
    place = window.mirror.mapTo(window, QPoint(20, 60))
    QTest.mousePress(window.windowHandle(), LEFT, NONE, place)
    row = window.mirror.ways.rows[0]
    window.live.truths = {(row.layer, row.index): True}
    seen: list[bool] = []
    row.show_truth = lambda true, of_tick: seen.append(true)  # type: ignore[assignment, method-assign, misc]
    window.live.ticked.emit()
    QTest.mouseRelease(window.windowHandle(), LEFT, NONE, place)
    assert seen == [True]
