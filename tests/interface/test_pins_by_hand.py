"""Pin points by mouse and keyboard: put on the picture, moved, turned, followed, and what is pinned to them."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit

from leanstep.core.character.pin_edits import Spot, spot_at
from leanstep.core.character.pins import Accessory, Pin
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.window import Window
from tests.interface.test_action_boxes import dragged
from tests.interface.test_phases import typed

LEFT = Qt.MouseButton.LeftButton
SHIFT, ALT, NONE = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.NoModifier


@pytest.fixture
def station(window: Window) -> ClipsStation:
    """The station with the clip light (7 cels), standing on cel 2, its pin points in hand."""
    window.go("Clips")
    window.session.select(Thing("clip", "light"))
    made = window.station(ClipsStation)
    QTest.mouseClick(made.pins.on, LEFT, pos=QPoint(8, made.pins.on.height() // 2))
    assert made.pins.rows.isVisible() and not made.playing and not made.cel_row.isVisible()
    made.go_to_cel(2)
    return made


def pins(station: ClipsStation) -> tuple[Pin, ...]:
    assert station.clip is not None
    return station.clip.pins


def at(station: ClipsStation, number: int = -1) -> Spot:
    return spot_at(pins(station)[number], station.large.cel or 0)


def on_screen(station: ClipsStation, spot: Spot, tip: bool = False) -> QPoint:
    assert station.clip is not None
    cel = station.clip.cels[station.large.cel or 0]
    return (station.large.tip_of(spot, cel) if tip else station.large.place_of(spot, cel)).toPoint()


def put(station: ClipsStation, spot: Spot) -> None:
    QTest.mouseClick(station.large, LEFT, pos=on_screen(station, spot))


def chosen(box: QComboBox, text: str) -> None:
    box.setCurrentText(text)
    box.activated.emit(box.currentIndex())


def written(line: QLineEdit, text: str) -> None:
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)
    QTest.keyClick(line, Qt.Key.Key_Return)


def accessories(station: ClipsStation) -> tuple[Accessory, ...]:
    return station.session.document.accessories


@pytest.mark.long
def test_a_pin_point_is_put_moved_and_turned_with_the_mouse(station: ClipsStation) -> None:
    before = len(pins(station))
    put(station, Spot(-12.0, 30.0))
    assert [one.name for one in pins(station)[before:]] == ["pin"] and at(station) == Spot(-12.0, 30.0, 90.0)
    start = on_screen(station, at(station))
    step = on_screen(station, Spot(-20.0, 44.0)) - on_screen(station, Spot(-12.0, 30.0))
    dragged(station.large, start, start + step)
    assert at(station) == Spot(-20.0, 44.0, 90.0)
    tip = on_screen(station, at(station), tip=True)
    middle = on_screen(station, at(station))
    dragged(station.large, tip, middle + QPoint(0, 40))
    assert (at(station).x, at(station).y) == (-20.0, 44.0) and at(station).angle == pytest.approx(180.0, abs=2)
    for wanted in (Spot(-20.0, 44.0, 90.0), Spot(-12.0, 30.0, 90.0)):
        station.session.undo()
        assert at(station) == wanted
    station.session.undo()
    assert len(pins(station)) == before


@pytest.mark.long
def test_a_pin_point_is_worked_by_keyboard_alone(station: ClipsStation) -> None:
    large, before = station.large, len(pins(station))
    large.setFocus()
    QTest.keyClick(large, Qt.Key.Key_Insert)
    assert len(pins(station)) == before + 1
    start = at(station)
    QTest.keyClick(large, Qt.Key.Key_Right)
    QTest.keyClick(large, Qt.Key.Key_Down, SHIFT)
    QTest.keyClick(large, Qt.Key.Key_Right, ALT)
    QTest.keyClick(large, Qt.Key.Key_Left, ALT | SHIFT)
    assert at(station) == Spot(start.x + 1, start.y - 10, start.angle + 4.0)
    QTest.keyClick(large, Qt.Key.Key_PageUp)
    assert large.pin_chosen == before - 1
    QTest.keyClick(large, Qt.Key.Key_PageDown)
    QTest.keyClick(large, Qt.Key.Key_Delete)
    assert len(pins(station)) == before
    # looking changed nothing: each was one step
    for _ in range(3):
        station.session.undo()
    assert len(pins(station)) == before


@pytest.mark.long
def test_keys_are_copied_evened_and_taken_off(station: ClipsStation) -> None:
    row = station.pins.row
    put(station, Spot(-12.0, 30.0))
    station.go_to_cel(5)
    typed(row.across, "-6")
    typed(row.angle, "30")
    assert [key.cel for key in pins(station)[-1].keys] == [2, 5]
    station.go_to_cel(4)
    assert at(station) == Spot(-8.0, 30.0, 50.0)
    assert row.words.text() == "Keyed on 2 and 5; cel 4: between two keys." and not row.off.isEnabled()
    QTest.mouseClick(row.behind, LEFT, pos=QPoint(8, row.behind.height() // 2))
    assert pins(station)[-1].keys[1].behind and at(station).behind
    QTest.mouseClick(row.off, LEFT)
    assert [key.cel for key in pins(station)[-1].keys] == [2, 5]
    QTest.mouseClick(row.copy, LEFT)
    assert at(station) == Spot(-10.0, 30.0, 70.0)
    station.film.choose(2, 3, 4, 5)
    QTest.mouseClick(row.even, LEFT)
    assert [key.cel for key in pins(station)[-1].keys] == [2, 5]


@pytest.mark.long
def test_a_pin_point_is_followed_and_offered_before_it_counts(station: ClipsStation) -> None:
    window = station.window()
    assert isinstance(window, Window)
    window.session.select(Thing("clip", "walk"))
    station.go_to_cel(0)
    row, wanted = station.pins.row, [spot_at(pins(station)[0], cel) for cel in range(8)]
    put(station, Spot(wanted[0].x - 60.0, wanted[0].y))
    said = list[str]()
    station.session.said.connect(said.append)
    QTest.mouseClick(row.follow, LEFT)
    assert "not found again" in said[-1] and not row.take.isVisible()
    QTest.mouseClick(row.remove, LEFT)
    # of the pole's own pin only the first key is left, and it finds the others
    station.pins.choose(0)
    for cel in range(1, 8):
        station.go_to_cel(cel)
        QTest.mouseClick(row.off, LEFT)
    station.go_to_cel(0)
    assert len(pins(station)[0].keys) == 1
    QTest.mouseClick(row.follow, LEFT)
    assert row.words.text().startswith("Followed from cel 1 to 7, at least") and len(pins(station)[0].keys) == 1
    QTest.mouseClick(row.leave, LEFT)
    assert not row.take.isVisible() and not station.large.guesses
    QTest.mouseClick(row.follow, LEFT)
    QTest.mouseClick(row.take, LEFT)
    for cel, spot in enumerate(wanted):
        found = spot_at(pins(station)[0], cel)
        assert abs(found.x - spot.x) < 3 and abs(found.y - spot.y) < 3
    station.session.undo()
    assert len(pins(station)[0].keys) == 1


@pytest.mark.long
def test_names_of_pin_points_are_followed_by_marks_and_two_of_a_name_are_refused(station: ClipsStation) -> None:
    row, said = station.pins.row, list[str]()
    station.session.said.connect(said.append)
    put(station, Spot(-12.0, 30.0))
    written(row.name, "pole")
    assert pins(station)[-1].name == "pin" and "already a pin point pole" in said[-1]
    written(row.name, "hand")
    QTest.mouseClick(station.pins.on, LEFT, pos=QPoint(8, station.pins.on.height() // 2))
    station.event_edits.make("mark", "spark", 4.0, 0.0)
    chosen(station.event_row.pin, "hand")
    assert station.clip is not None and station.clip.marks[-1].pin == "hand"
    station.pins.on.setChecked(True)
    station.pins.choose(len(pins(station)) - 1)
    written(row.name, "palm")
    assert station.clip.marks[-1].pin == "palm" and pins(station)[-1].name == "palm"
    # what is pinned to it follows; called as one of another clip it becomes one of those
    QTest.mouseClick(station.pins.accessory.pin_button, LEFT)
    written(row.name, "claw")
    assert accessories(station)[-1].pin == station.clip.marks[-1].pin == "claw"
    written(row.name, "mouth")
    assert accessories(station)[-1].pin == pins(station)[-1].name == "mouth"
    written(row.name, " ")
    assert pins(station)[-1].name == "mouth" and "Not renamed" in said[-1]
    QTest.mouseClick(row.remove, LEFT)
    assert station.clip.marks[-1].pin == ""


@pytest.mark.long
def test_a_picture_is_pinned_chosen_turned_shown_by_a_condition_and_removed(station: ClipsStation) -> None:
    row, before = station.pins.accessory, len(accessories(station))
    put(station, Spot(-12.0, 30.0))
    assert row.which.currentText() == "nothing" and not row.name.isVisible()
    QTest.mouseClick(row.pin_button, LEFT)
    made = accessories(station)[-1]
    assert (made.pin, made.sheet) == ("pin", "lamp") and len(accessories(station)) == before + 1
    shown = station.large.drawn(station.large.cel or 0)
    assert shown.pieces[-1].sheet == "lamp" and shown.pieces[-1].pinned == (-12.0, 30.0)
    written(row.name, "moth")
    typed(row.frame, "1")
    typed(row.angle, "180")
    chosen(row.picture, "clip idle")
    chosen(row.picture, "sheet lamp")
    row.order.setFocus()
    QTest.keyClick(row.order, Qt.Key.Key_Down)
    written(row.shown, "in lantern.out")
    made = accessories(station)[-1]
    assert made == Accessory(
        name="moth", pin="pin", sheet="lamp", frame=1, angle=180.0, order="before", shown="in lantern.out"
    )
    QTest.mouseClick(row.remove_button, LEFT)
    assert len(accessories(station)) == before
    station.session.undo()
    assert accessories(station)[-1] == made


def test_the_lamp_hangs_on_the_pole_in_the_mirror_and_its_glow_goes_out(window: Window) -> None:
    live = window.live
    shown = of_situation(live.machine, live.situation).pieces
    assert [(piece.sheet, piece.to) for piece in shown] == [("lamplighter", ""), *[("lamp", "lamplighter")] * 2]
    live.set_handle("hit", True)
    live.tick()
    shown = of_situation(live.machine, live.situation).pieces
    assert [(piece.sheet, piece.frame) for piece in shown[1:]] == [("lamp", 0)]
