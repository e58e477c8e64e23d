"""The dial and the plane: filling rings from rows of a sheet, trying directions, dragging samples, by mouse and by keyboard."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from leanstep.core.bearings import bearing_of, turn
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Mark
from leanstep.core.character.edits import change
from leanstep.core.character.files import save
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.starting import empty
from leanstep.core.findings.report import check_character
from leanstep.core.sheets.cutting import rectangles
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_drop_to_drive import drop
from tests.interface.test_sheets import wait_until

LEFT = Qt.MouseButton.LeftButton


def figure(demo: Path) -> Path:
    """A character with the sheets that are seen from above, and nothing made of them yet."""
    hand = Sheet(
        name="hand", image="art/ferry-hand-above.png", size=(336, 1792), cut=Cut(columns=6, rows=32), foot=(28, 46)
    )
    cat = Sheet(name="cat", image="art/harbour-cat.png", size=(192, 320), cut=Cut(columns=6, rows=10), foot=(16, 21))
    parameters = (
        Parameter(name="heading", kind="bearing"),
        Parameter(name="speed", min=0, max=180, unit="units/s"),
        *empty().parameters[1:],
    )
    dial = BlendSpace(name="gait", axes=(Axis(parameter="heading"), Axis(parameter="speed", min=0, max=180, step=90)))
    layer = msgspec.structs.replace(empty().layers[0], states=(State(name="idle", lane="ground", blend="gait"),))
    path = demo / "above.leanstep"
    save(
        path,
        msgspec.structs.replace(empty(), parameters=parameters, sheets=(hand, cat), blends=(dial,), layers=(layer,)),
    )
    return path


@pytest.fixture
def window(demo: Path, open_window: Callable[..., Window]) -> Window:
    made = open_window(figure(demo))
    made.resize(1280, 800)
    made.go("Blends")
    return made


def station(window: Window) -> Any:
    return window.station(BlendsStation)


def press(window: Window, text: str) -> None:
    (found,) = [one for one in station(window).findChildren(QPushButton) if one.text() == text and one.isVisible()]
    QTest.mouseClick(found, LEFT)


def at(dial: Any, *values: float) -> QPoint:
    return dial.spot(values).toPoint()


def point(window: Window, *values: float) -> None:
    dial = station(window).view
    QTest.mouseClick(dial, LEFT, pos=at(dial, *values))


def fill(window: Window) -> None:
    """Idle, walk and run in eight directions, from rows whose order is said nowhere."""
    press(window, "Hub")
    point(window, 20, 90)
    press(window, "Ring")
    point(window, 20, 180)
    press(window, "Ring")


@pytest.mark.long
def test_hub_and_rings_are_filled_from_rows_and_the_order_of_rows_is_remembered(window: Window) -> None:
    fill(window)
    document = window.session.document
    samples = document.blends[0].samples
    assert len(samples) == 24 and not any(one.mirrored for one in samples)
    assert {one.at[1] for one in samples} == {0.0, 90.0, 180.0}
    walk = {one.at[0]: one.clip for one in samples if one.at[1] == 90.0}
    assert walk[180.0] == "walk down" and walk[270.0] == "walk left" and walk[45.0] == "walk up-right"
    clips = {clip.name: clip for clip in document.clips}
    assert clips["walk down"].cels[0].frame == 48 and clips["run up-left"].cels[0].frame == (16 + 3) * 6
    assert document.sheets[0].row_bearing["0"] == 180.0 and document.sheets[0].row_bearing["9"] == 225.0
    for _ in range(3):
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not window.session.document.blends[0].samples and not window.session.document.clips


def test_five_drawn_directions_become_eight_and_what_is_mirrored_is_marked(window: Window) -> None:
    row = station(window).fill
    source = next(number for number, one in enumerate(row.sources) if one.said == "rows 6 to 10 of cat")
    row.source.setCurrentIndex(source)
    assert row.order.currentText() == "down, then anticlockwise"
    point(window, 90, 90)
    press(window, "Ring")
    samples = {one.at[0]: one for one in window.session.document.blends[0].samples}
    assert len(samples) == 8 and {place for place, one in samples.items() if one.mirrored} == {225.0, 270.0, 315.0}
    assert samples[270.0].clip == samples[90.0].clip
    assert "3 directions of 8 are mirrored" in window.status.text()


def test_a_sheet_that_must_not_be_mirrored_fills_only_what_is_drawn(window: Window) -> None:
    sheets = window.session.document.sheets
    fixed = (sheets[0], msgspec.structs.replace(sheets[1], mirrors=False))
    window.session.edit("test", lambda document: msgspec.structs.replace(document, sheets=fixed))
    row = station(window).fill
    row.source.setCurrentIndex(next(n for n, one in enumerate(row.sources) if one.said == "rows 1 to 5 of cat"))
    point(window, 90, 90)
    press(window, "Ring")
    assert len(window.session.document.blends[0].samples) == 5


@pytest.mark.long
def test_a_spoke_is_filled_from_families(window: Window) -> None:
    fill(window)
    kept = tuple(one for one in window.session.document.blends[0].samples if one.at[0] != 270.0)
    missing = msgspec.structs.replace(window.session.document.blends[0], samples=kept)
    window.session.edit("test", lambda document: msgspec.structs.replace(document, blends=(missing,)))
    point(window, 275, 150)
    press(window, "Spoke")
    found = [(one.at[1], one.clip) for one in window.session.document.blends[0].samples if one.at[0] == 270.0]
    assert found == [(0.0, "idle left"), (90.0, "walk left"), (180.0, "run left")]


@pytest.mark.long
def test_the_needle_goes_where_it_is_pointed_and_the_sentence_says_what_is_shown(window: Window) -> None:
    fill(window)
    dial = station(window).view
    for bearing, speed, clip in ((0, 90, "walk up"), (135, 180, "run down-right"), (270, 0, "idle left")):
        target = at(dial, bearing, speed) if speed else dial.centre.toPoint() - QPoint(12, 0)
        QTest.mousePress(dial, LEFT, pos=dial.centre.toPoint() + QPoint(0, 150))
        QTest.mouseMove(dial, target)
        QTest.mouseRelease(dial, LEFT, pos=target)
        assert f"it shows {clip}" in station(window).sentence.text()
        off = QPointF(target) - dial.centre
        assert abs(turn(dial.probe[0], bearing_of(off.x(), -off.y()))) < 1.0
    assert dial.probe[1] == 0.0, "the hub stands for standing"


@pytest.mark.long
def test_the_keyboard_turns_the_needle_and_moves_what_was_touched_last(window: Window) -> None:
    fill(window)
    dial = station(window).view
    dial.setFocus()
    QTest.keyClick(dial, Qt.Key.Key_Home)
    dial.probed.emit((350.0, 90.0))
    for _ in range(10):
        QTest.keyClick(dial, Qt.Key.Key_Right)
    assert dial.probe == (10.0, 90.0), "round past up"
    QTest.keyClick(dial, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert dial.probe[1] == 126.0
    QTest.keyClick(dial, Qt.Key.Key_PageDown)
    before = window.session.document.blends[0].samples[dial.chosen]
    QTest.keyClick(dial, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.document.blends[0].samples[dial.chosen].at[0] == (before.at[0] + 10) % 360
    QTest.keyClick(dial, Qt.Key.Key_Delete)
    assert len(window.session.document.blends[0].samples) == 23


@pytest.mark.long
def test_a_sample_is_dragged_round_the_dial_and_caught_by_the_rulings(window: Window) -> None:
    fill(window)
    dial = station(window).view
    number = next(n for n, one in enumerate(dial.blend.samples) if one.at == (90.0, 90.0))
    QTest.mousePress(dial, LEFT, pos=at(dial, 90, 90))
    QTest.mouseMove(dial, at(dial, 60, 140))
    QTest.mouseMove(dial, at(dial, 46, 178) + QPoint(1, 1))
    QTest.mouseRelease(dial, LEFT, pos=at(dial, 46, 178))
    assert window.session.document.blends[0].samples[number].at == (45.0, 180.0)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.document.blends[0].samples[number].at == (90.0, 90.0), "one drag, one step"


@pytest.mark.long
def test_a_second_axis_is_added_and_taken_away_and_any_is_a_tick(window: Window) -> None:
    fill(window)
    made = station(window)
    row = made.axes[1]
    row.read.emit("nothing more")
    assert len(made.blend.axes) == 1 and made.view is made.dial and all(len(one.at) == 1 for one in made.blend.samples)
    row.read.emit("rise")
    assert [axis.parameter for axis in made.blend.axes] == ["heading", "rise"] and made.view is made.dial
    made.axes[0].read.emit("stick.x")
    assert made.view is made.plane and made.views.currentWidget() is made.plane
    made.anywhere[0].click()
    assert made.blend.samples[made.view.chosen].at[0] == "any"
    row.read.emit("stick.x")
    assert [axis.parameter for axis in made.blend.axes] == ["stick.x", "rise"], "both cannot read the same"


@pytest.mark.long
def test_a_needle_over_what_the_game_sets_turns_the_character(window: Window) -> None:
    fill(window)
    window.live.restart()
    point(window, 230, 150)
    window.live.tick()
    values = window.live.situation.values
    index = window.live.machine.index
    assert abs(float(values[index["heading"]]) - 230) < 2 and abs(float(values[index["speed"]]) - 150) < 3
    picked = window.live.machine.character.blends[0].samples[window.live.situation.picks[0]]
    assert picked.clip == "run down-left"


@pytest.mark.long
def test_a_dial_of_many_samples_keeps_its_picture_from_one_drawing_to_the_next(window: Window) -> None:
    samples = tuple(Sample(at=(float(n * 18 % 360), float(n // 20 * 9)), clip=f"c{n}") for n in range(400))
    many = msgspec.structs.replace(window.session.document.blends[0], samples=samples)
    window.session.edit("test", lambda document: msgspec.structs.replace(document, blends=(many,)))
    dial = station(window).view
    first = dial.grab().toImage()
    kept = dial._cells._lines
    assert dial.grab().toImage() == first and dial._cells._lines is kept
    dial.probed.emit((100.0, 100.0))
    assert dial.grab().toImage() != first and dial._cells._lines is kept


@pytest.mark.long
def test_from_an_empty_window_to_a_figure_that_goes_eight_ways_in_few_gestures(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window()
    window.session.new()
    window.resize(1280, 800)
    gestures = 0

    def gesture(done: Callable[[], object]) -> None:
        nonlocal gestures
        done()
        gestures += 1

    gesture(lambda: drop(window, demo / "art" / "ferry-hand-above.png"))
    suggested = window.station(SheetsStation).ways.suggested.apply
    wait_until(suggested.isEnabled, "the suggestion")
    gesture(lambda: QTest.mouseClick(suggested, LEFT))
    sheet = window.session.document.sheets[0]
    assert len(rectangles(sheet.cut, *sheet.size)) == 192
    gesture(lambda: QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier))
    station(window).new_dial()  # the button in the place for the first one, and the one in the list, do this
    gestures += 1
    assert window.session.document.body.model == "above" and station(window).view is station(window).dial
    gesture(lambda: press(window, "Hub"))
    for speed in (70, 140):
        gesture(lambda speed=speed: point(window, 20, speed))  # type: ignore[misc]
        gesture(lambda: press(window, "Ring"))
    gesture(lambda: press(window, "Let idle show it"))
    gesture(lambda: QTest.keyClick(window, Qt.Key.Key_5, Qt.KeyboardModifier.ControlModifier))
    row = window.station(RehearseStation).course_row
    gesture(lambda: row.ready.activated.emit(row.ready.findText("quay, from above")))
    gestures += 1  # the list is opened, and the course is chosen
    gesture(lambda: QTest.keyClick(window, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier))
    assert window.live.mode == "driving" and gestures <= 15
    shown = []
    for keys in (
        ["Right"],
        ["Right", "Down"],
        ["Down"],
        ["Down", "Left"],
        ["Left"],
        ["Left", "Up"],
        ["Up"],
        ["Up", "Right"],
    ):
        for key in keys:
            window.live.hands.key(key, True)
        for _ in range(20):
            window.live.tick()
        machine = window.live.machine
        shown.append(machine.character.blends[0].samples[window.live.situation.picks[0]].clip)
        for key in keys:
            window.live.hands.key(key, False)
    ways = ("right", "down-right", "down", "down-left", "left", "up-left", "up", "up-right")
    assert shown == [f"walk {way}" for way in ways]
    report = check_character(window.session.document, window.session.folder)
    assert not [one for one in report.findings if one.severity == "error"]


@pytest.mark.long
def test_rows_on_a_dial_are_a_family_of_which_one_edit_is_one_of_all(window: Window) -> None:
    fill(window)
    window.go("Clips")
    clips: Any = window.station(ClipsStation)
    clips.choose("walk up-left")
    family = clips.family
    assert family.isVisible() and [clip.name for clip in family.strip.clips if clip.name == "walk up"]
    assert not clips.family.make.isVisible()
    at = [clip.name for clip in window.session.document.clips].index("walk up-left")
    step = Mark(name="step", at=6.0)
    slow = tuple(msgspec.structs.replace(cel, ticks=9.0) for cel in window.session.document.clips[at].cels)
    window.session.edit("test", lambda document: change(document, ("clips", at), cels=slow, marks=(step,)))
    found = {clip.name: clip for clip in window.session.document.clips}
    walks = [clip for name, clip in found.items() if name.startswith("walk ")]
    assert len(walks) == 8 and all(
        clip.marks == (step,) and {cel.ticks for cel in clip.cels} == {9.0} for clip in walks
    )
    assert len({clip.cels[0].frame for clip in walks}) == 8 and not found["run up"].marks
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not next(clip for clip in window.session.document.clips if clip.name == "walk up").marks
