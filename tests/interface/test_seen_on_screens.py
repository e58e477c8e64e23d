"""What people saw on screens and should not: cut words, numbers over heads, things that move."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPoint, QPointF, QSettings, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractSpinBox, QApplication, QComboBox, QDialog, QPushButton

from leanstep.core.character.edits import change
from leanstep.core.clips.strides import usual_speed
from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.drawable import NOTHING, of_cel, of_situation
from leanstep.desk import paint
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.camera import fitting
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.widgets.basics import NumberField
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.interface.test_sheets import wait_until


@pytest.mark.long
@pytest.mark.parametrize("size", ["pocket", "column", "stage"])
def test_no_tab_or_button_of_the_mirror_is_cut(window: Window, size: str) -> None:
    window.mirror.set_size(size)
    QTest.qWait(50)
    for one in (*window.mirror.tabs.values(), window.mirror.drive_button, window.mirror.restart_button):
        wide = one.fontMetrics().horizontalAdvance(one.text())
        assert one.width() >= wide + 4, one.text()


@pytest.mark.long
@pytest.mark.parametrize("tool", ["choose", "draw", "feet", "boxes"])
def test_lists_of_the_tools_show_what_is_chosen_whole(window: Window, tool: str) -> None:
    window.go("Sheets")
    tools = window.station(SheetsStation).tools
    tools.use(tool)  # type: ignore[arg-type]
    QTest.qWait(50)
    shown = [one for one in tools.findChildren(QComboBox) if one.isVisible()]
    for one in shown:
        wide = one.fontMetrics().horizontalAdvance(one.currentText())
        assert one.width() >= wide + 40, one.currentText()
    assert shown or tool == "draw"


@pytest.mark.long
def test_the_drawer_is_low_until_something_is_chosen_and_nothing_moves_when_it_opens(window: Window) -> None:
    window.go("Graph")
    station = window.station(GraphStation)
    QTest.qWait(50)
    before = {name: (slot.x, slot.ground) for name, slot in station.page.page.slots.items()}
    assert station.drawer.height() < 80
    window.session.select_state(0, "hurt")
    QTest.qWait(100)
    assert station.drawer.height() > 200
    assert {name: (slot.x, slot.ground) for name, slot in station.page.page.slots.items()} == before
    slot, area = station.page.page.slots[0, "hurt"], station.page.visibleRegion().boundingRect()
    assert area.contains(QPoint(int(slot.x), int(slot.ground))), "what is chosen stays in sight"


@pytest.mark.long
def test_numbers_cover_no_head_and_are_shown_under_the_pointer(window: Window) -> None:
    window.go("Sheets")
    view = window.station(SheetsStation).view
    wait_until(lambda: len(view.frames) == 55, "the sheet")
    view.zoom_to(1 / 2)
    box = view.box(view.frames[0]).toRect()
    corner = box.adjusted(0, 0, -box.width() // 2, -box.height() // 2)
    bare = view.grab(corner).toImage()
    QTest.mouseMove(view, box.center())
    wait_until(lambda: view._under == 0, "the pointer")
    assert view.grab(corner).toImage() != bare
    QTest.mouseMove(view, QPoint(2, 2))
    wait_until(lambda: view._under is None, "the pointer to go")
    assert view.grab(corner).toImage() == bare


@pytest.mark.long
def test_what_follows_speed_begins_at_the_speed_of_its_feet(window: Window) -> None:
    window.go("Clips")
    station = window.station(ClipsStation)
    choice = station.playback.choice
    index = next(at for at, one in enumerate(window.session.document.clips) if one.name == "skid")
    station.list.setCurrentIndex(station.model.index(index))
    clip = station.clip
    wanted = round(usual_speed(window.session.document, clip), 1)
    assert wanted > 10 and clip.playback is None
    choice.setCurrentText("Follows speed")
    choice.activated.emit(choice.currentIndex())
    assert station.clip.playback.at == wanted
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)


@pytest.mark.long(but=1)
@pytest.mark.parametrize(("rule", "lifted"), [("row", False), ("centre", True)])
def test_a_figure_whose_foot_is_its_centre_is_seen_whole(window: Window, rule: str, lifted: bool) -> None:
    window.session.edit(
        "moved feet", lambda document: change(document, ("sheets", 0), foot_rule=rule, feet={}, foot=())
    )
    window.go("Clips")
    station = window.station(ClipsStation)
    station.toggle()
    image = station.large.grab().toImage()
    # what is drawn ends on the ground line, above the lowest rows
    ground = station.large.height() - 19
    dark = [
        y
        for y in range(ground + 4, image.height() - 2)
        if any(image.pixelColor(x, y).value() < 90 for x in range(300, 480))
    ]
    assert not dark
    below = paint.below(window.session.art, of_cel(station.clip, station.clip.cels[0]))
    assert (below > 20) is lifted


def test_empty_places_say_their_sentence_whole(window: Window) -> None:
    window.session.new()
    for name in ("Sheets", "Clips", "Blends"):
        window.go(name)
        QApplication.processEvents()
        station: Any = window.stations[name]
        words = station.pages.currentWidget().words
        assert words.height() >= words.heightForWidth(words.width()), name
        assert not any(one.isEnabled() for one in station.of_part), "there is nothing to duplicate or to remove"


@pytest.mark.long
def test_a_new_control_is_in_sight_and_named_at_once(window: Window) -> None:
    window.go("Graph")
    window.mirror.show_tab("Parameters")
    panel = window.mirror.names
    panel.add_button()
    QApplication.processEvents()
    row = panel.controls[len(window.session.document.controls.buttons) - 1]
    inside = panel.viewport().rect()
    assert inside.contains(row.name.mapTo(panel.viewport(), row.name.rect().center()))
    QTest.keyClicks(QApplication.focusWidget(), "duck")
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert window.session.document.controls.buttons[-1].name == "duck"


def test_a_number_is_asked_for_without_the_arrows_of_the_system(
    window: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[NumberField] = []

    def answered(dialog: QDialog) -> int:
        (field,) = dialog.findChildren(QAbstractSpinBox)
        assert isinstance(field, NumberField)
        field.setValue(3)
        asked.append(field)
        return 1

    monkeypatch.setattr(QDialog, "exec", answered)
    window.go("Sheets")
    sheets: Any = window.station(SheetsStation)
    sheets.view.choose([])
    sheets.picks.choose_every()
    assert asked and asked[0].buttonSymbols() == QAbstractSpinBox.ButtonSymbols.NoButtons
    assert sheets.view.chosen[:3] == [0, 3, 6]


def rehearse(window: Window) -> Any:
    window.go("Rehearse")
    QApplication.processEvents()
    return window.station(RehearseStation)


def wheel_over(course: Any, at: QPointF, turn: int) -> None:
    where = QPointF(course.mapToGlobal(at.toPoint()))
    none = Qt.KeyboardModifier.NoModifier
    event = QWheelEvent(
        at, where, QPoint(), QPoint(0, turn), Qt.MouseButton.NoButton, none, Qt.ScrollPhase.NoScrollPhase, False
    )
    QApplication.sendEvent(course, event)


@pytest.mark.long
def test_the_course_is_zoomed_and_moved_and_follows_the_figure_again(window: Window) -> None:
    course = rehearse(window).course
    camera, body = course.camera, window.live.situation.body
    fits, at = camera.scale, QPointF(300, 120)
    under = camera.on_course(at)
    wheel_over(course, at, 120)
    assert camera.scale > fits and (camera.on_course(at) - under).manhattanLength() < 1e-6, (
        "what is under it stays there"
    )
    course.fit()
    assert camera.scale == fits and course.zooms.fit.text() == f"{fits:g}×"
    before = course.place(body.x, body.y)
    QTest.mousePress(course, Qt.MouseButton.LeftButton, pos=QPoint(500, 60))
    QTest.mouseMove(course, QPoint(440, 80))
    QTest.mouseRelease(course, Qt.MouseButton.LeftButton, pos=QPoint(440, 80))
    moved = course.place(body.x, body.y) - before
    assert (moved.x(), moved.y()) == (-60, 20)
    window.live.drive()
    course._aim()
    assert course.place(body.x, body.y) == before, "who steers looks at the figure"
    QTest.mouseClick(course.zooms.findChildren(QPushButton)[2], Qt.MouseButton.LeftButton)
    place = course.place(body.x, body.y)
    assert camera.scale > fits and course.rect().contains(place.toPoint()), "the figure stays in sight"


@pytest.mark.parametrize(
    ("height", "figure", "zoom"), [(296, 76, 1), (296, 30, 2), (296, 14, 3), (620, 76, 2), (296, 300, 0.5)]
)
def test_a_small_figure_is_shown_larger(height: float, figure: float, zoom: float) -> None:
    assert fitting(height, figure) == zoom


def test_an_empty_course_seen_from_above_has_lines_that_move(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "harbour-cat.leanstep")
    window.session.edit("nothing", lambda document: change(document, ("course",), shapes=()))
    course = rehearse(window).course
    image = course.grab().toImage()
    row = [image.pixel(x, 40) for x in range(image.width())]
    assert len(set(row)) > 1, "there are lines on the ground"


def test_a_wall_is_called_a_wall(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "ferry-hand.leanstep")
    station = rehearse(window)
    QTest.mouseClick(station.course_button, Qt.MouseButton.LeftButton)
    walls = [at for at, one in enumerate(window.session.document.course.shapes) if one.kind == "floor"]
    station.course_row.choose(walls[0])
    station.course_row.fields["x"].setValue(station.course_row.fields["x"].value() + 8)
    assert window.session.history.undo_name == "changed a wall of the course"
    station.course_row.remove()
    assert window.session.history.undo_name == "removed a wall"


def test_what_was_kept_is_said(window: Window) -> None:
    station = rehearse(window)
    window.live.drive()
    window.live.hands.key("Right", True)
    ticks(window, 90)
    station.keep()
    assert "kept the last 1.5 s of steering as take" in window.session.history.undo_name


def test_a_file_is_looked_for_where_the_persons_files_are(window: Window, settings: QSettings, demo: Path) -> None:
    """Opening a demo of the program is not where somebody keeps their files."""
    kept = window.session.last_folder
    window.session.demos = demo
    settings.remove("folder")
    window.session.open(demo / "ferry-hand.leanstep")
    assert window.session.last_folder == Path.home() and kept is not None
    (demo.parent / "mine").mkdir()
    window.session.save(demo.parent / "mine" / "cat.leanstep")
    assert window.session.last_folder == demo.parent / "mine"


@pytest.mark.long
def test_the_timeline_has_room_for_its_rows_when_it_is_first_seen(window: Window) -> None:
    station = rehearse(window)
    assert station.scroller.height() >= min(station.timeline.height(), 250)


@pytest.mark.long
def test_the_name_of_a_squash_is_whole(window: Window) -> None:
    window.mirror.show_tab("Shape")
    QApplication.processEvents()
    for card in window.mirror.shape.cards:
        wide = card.name.fontMetrics().horizontalAdvance(card.name.text())
        assert card.name.width() >= wide + 20, card.name.text()


@pytest.mark.long
def test_the_mirror_says_why_it_is_empty(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    glass, live = window.mirror.glass, window.mirror.live
    shown = of_situation(live.machine, live.situation)
    monkeypatch.setattr(window.session.art, "sheet", lambda name: None)
    assert glass._why_empty(shown) == "Reading the image …"
    monkeypatch.setattr(window.session.art, "sheet", lambda name: LeanStepError(name, "gone", "bring it back"))
    assert "missing" in glass._why_empty(shown)
    assert "no picture yet" in glass._why_empty(NOTHING)
