"""Boxes of an action by mouse and keyboard: drawn on the large picture, moved, sized, ranged over cels, renamed, removed."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtTest import QTest

from leanstep.core.character.action_boxes import Rect, rect_at
from leanstep.core.character.clips import ActionBox
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.boxed_preview import BoxedPreview
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_phases import typed

LEFT = Qt.MouseButton.LeftButton
SHIFT, ALT = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier


@pytest.fixture
def station(window: Window) -> ClipsStation:
    """The station with the clip light (7 cels), standing on cel 2, its boxes in hand."""
    window.go("Clips")
    window.session.select(Thing("clip", "light"))
    made = window.station(ClipsStation)
    QTest.mouseClick(made.boxes.on, LEFT, pos=QPoint(8, made.boxes.on.height() // 2))
    assert made.boxes.row.isVisible() and not made.playing
    made.go_to_cel(2)
    return made


def boxes(station: ClipsStation) -> tuple[ActionBox, ...]:
    assert station.clip is not None
    return station.clip.boxes


def on_screen(station: ClipsStation, rect: Rect) -> tuple[QPoint, QPoint]:
    """The upper left and lower right corners of a rectangle of the image."""
    large = station.large
    assert station.clip is not None
    box = large.on_screen(rect, station.clip.cels[large.cel or 0])
    return box.topLeft().toPoint(), box.bottomRight().toPoint()


def dragged(large: BoxedPreview, start: QPoint, end: QPoint) -> None:
    QTest.mousePress(large, LEFT, pos=start)
    QTest.mouseMove(large, (start + end) * 0.5)
    QTest.mouseMove(large, end)
    QTest.mouseRelease(large, LEFT, pos=end)


def drawn(station: ClipsStation, rect: Rect) -> None:
    dragged(station.large, *on_screen(station, rect))


def at(station: ClipsStation, number: int = 0) -> Rect | None:
    return rect_at(boxes(station)[number], station.large.cel or 0)


BLADE: Rect = (12.0, 30.0, 20.0, 16.0)


@pytest.mark.long
def test_a_box_is_drawn_moved_and_sized_with_the_mouse(station: ClipsStation) -> None:
    drawn(station, BLADE)
    assert [(one.name, one.kind) for one in boxes(station)] == [("strike", "strike")] and at(station) == BLADE
    one, other = on_screen(station, BLADE)
    middle, step = QRect(one, other).center(), on_screen(station, (17.0, 36.0, 20.0, 16.0))[0] - one
    dragged(station.large, middle, middle + step)
    assert at(station) == (17.0, 36.0, 20.0, 16.0)
    # its right edge, then its upper left corner
    one, other = on_screen(station, (17.0, 36.0, 20.0, 16.0))
    wide = on_screen(station, (17.0, 36.0, 30.0, 16.0))[1]
    dragged(station.large, QPoint(other.x(), (one.y() + other.y()) // 2), QPoint(wide.x(), (one.y() + other.y()) // 2))
    assert at(station) == (17.0, 36.0, 30.0, 16.0)
    corner = on_screen(station, (13.0, 36.0, 34.0, 20.0))[0]
    dragged(station.large, one, corner)
    assert at(station) == (13.0, 36.0, 34.0, 20.0)
    # each was one step
    for before in ((17.0, 36.0, 30.0, 16.0), (17.0, 36.0, 20.0, 16.0), BLADE):
        station.session.undo()
        assert at(station) == before
    station.session.undo()
    assert boxes(station) == ()


@pytest.mark.long
def test_a_box_lies_on_a_range_of_cels_and_goes_evenly_between_its_keys(station: ClipsStation) -> None:
    drawn(station, BLADE)
    row = station.boxes.row
    typed(row.last, "4")
    assert [key.cel for key in boxes(station)[0].keys] == [2, 4]
    station.go_to_cel(4)
    station.boxes.choose(0)
    typed(row.fields[0], "32")
    station.go_to_cel(3)
    assert at(station) == (22.0, 30.0, 20.0, 16.0) and row.fields[0].value() == 22
    assert row.words.text() == "Keyed on 2 and 4; cel 3: between two keys." and not row.off.isEnabled()
    station.go_to_cel(2)
    QTest.mouseClick(row.same, LEFT)
    assert {key.box for key in boxes(station)[0].keys} == {BLADE}
    typed(row.first, "5")
    assert [key.cel for key in boxes(station)[0].keys] == [2, 4]


@pytest.mark.long
def test_boxes_of_every_kind_are_told_apart_renamed_and_removed(station: ClipsStation) -> None:
    row, said = station.boxes.row, list[str]()
    station.session.said.connect(said.append)
    drawn(station, BLADE)
    station.boxes.choose(-1)
    row.kind.setFocus()
    QTest.keyClick(row.kind, Qt.Key.Key_Down)
    drawn(station, (-10.0, 0.0, 20.0, 20.0))
    assert [(one.name, one.kind) for one in boxes(station)] == [("strike", "strike"), ("body", "vulnerable")]
    row.name.setFocus()
    row.name.selectAll()
    QTest.keyClicks(row.name, "strike")
    QTest.keyClick(row.name, Qt.Key.Key_Return)
    assert boxes(station)[1].name == "body" and "already a box strike" in said[-1]
    row.name.selectAll()
    QTest.keyClicks(row.name, "coat")
    QTest.keyClick(row.name, Qt.Key.Key_Return)
    assert boxes(station)[1].name == "coat"
    QTest.keyClick(row.kind, Qt.Key.Key_Down)
    assert boxes(station)[1].kind == "guard"
    QTest.mouseClick(row.remove, LEFT)
    assert [one.name for one in boxes(station)] == ["strike"]


@pytest.mark.long
def test_boxes_are_worked_by_keyboard_alone(station: ClipsStation) -> None:
    large = station.large
    large.setFocus()
    QTest.keyClick(large, Qt.Key.Key_Insert)
    left, bottom, width, height = at(station) or BLADE
    QTest.keyClick(large, Qt.Key.Key_Right)
    QTest.keyClick(large, Qt.Key.Key_Up, SHIFT)
    QTest.keyClick(large, Qt.Key.Key_Right, ALT)
    assert at(station) == (left + 1, bottom + 10, width + 1, height)
    QTest.keyClick(large, Qt.Key.Key_Insert)
    assert station.large.box_chosen == 1
    QTest.keyClick(large, Qt.Key.Key_PageDown)
    assert station.large.box_chosen == 0
    QTest.keyClick(large, Qt.Key.Key_Delete)
    assert len(boxes(station)) == 1


@pytest.mark.long
def test_a_mirrored_cel_shows_its_box_the_other_way_round_and_takes_hands_so(station: ClipsStation) -> None:
    drawn(station, BLADE)
    before = on_screen(station, BLADE)[0].x()
    station.cel_row.mirrored.click()
    large = station.large
    assert station.clip is not None and station.clip.cels[2].mirrored
    box = large.on_screen(BLADE, station.clip.cels[2])
    assert box.right() < before and at(station) == BLADE
    middle = box.center().toPoint()
    further = large.on_screen((16.0, 30.0, 20.0, 16.0), station.clip.cels[2]).center().toPoint()
    dragged(large, middle, further)
    assert at(station) == (16.0, 30.0, 20.0, 16.0)


@pytest.mark.long
def test_a_hand_that_only_looks_changes_no_box(station: ClipsStation) -> None:
    drawn(station, BLADE)
    QTest.mouseClick(station.boxes.on, LEFT, pos=QPoint(8, station.boxes.on.height() // 2))
    assert not station.boxes.row.isVisible() and station.event_row.isVisible()
    one, other = on_screen(station, BLADE)
    dragged(station.large, QRect(one, other).center(), QPoint(5, 5))
    assert at(station) == BLADE and len(boxes(station)) == 1


def test_taking_a_cel_out_takes_its_keys_along(station: ClipsStation) -> None:
    drawn(station, BLADE)
    typed(station.boxes.row.last, "4")
    station.film.choose(3)
    station.cels.remove()
    assert [key.cel for key in boxes(station)[0].keys] == [2, 3]


@pytest.mark.long
def test_moving_a_foot_leaves_the_box_on_the_drawing(window: Window, station: ClipsStation) -> None:
    drawn(station, BLADE)
    frame = station.clip.cels[2].frame if station.clip is not None else 0
    window.go("Sheets")
    sheets = window.station(SheetsStation)
    sheets.view.choose([frame])
    sheets.view.setFocus()
    sheets.edits.move_feet(3.0, -2.0)
    assert at(station) == (9.0, 28.0, 20.0, 16.0)
    window.session.undo()
    assert at(station) == BLADE
