"""The Sheets station by mouse and keyboard: cut as suggested, by gaps and by hand; zoom; choose; grounds and feet."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialogButtonBox, QPushButton

from leanstep.core.character.sheets import Sheet
from leanstep.core.sheets.cutting import Rect
from leanstep.desk.stations.sheets.row_names import RowNames
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.support.drawn_sheets import Drawn, drawn

LEFT, SHIFT, ALT = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier


def wait_until(done: Callable[[], object], what: str) -> None:
    for _ in range(6000):
        if done():
            return
        QTest.qWait(10)
    raise AssertionError(f"waited in vain for {what}")


def brought(window: Window, folder: Path, image: Image.Image) -> SheetsStation:
    """The station with an image dropped on the window, looked at."""
    image.save(folder / "art" / "harbour.png")
    window.go("Sheets")
    window.bring_in(folder / "art" / "harbour.png")
    station = window.station(SheetsStation)
    assert isinstance(station, SheetsStation)
    wait_until(lambda: station.suggesting.found is not None, "the suggestion")
    return station


def of(window: Window) -> Sheet:
    return window.session.document.sheets[-1]


def click(one: QPushButton) -> None:
    assert one.isVisible() and one.isEnabled(), one.text()
    QTest.mouseClick(one, LEFT)


def drag(station: SheetsStation, start: QPointF, end: QPointF) -> None:
    view = station.view
    QTest.mousePress(view, LEFT, pos=start.toPoint())
    QTest.mouseMove(view, ((start + end) * 0.5).toPoint())
    QTest.mouseMove(view, end.toPoint())
    QTest.mouseRelease(view, LEFT, pos=end.toPoint())


def screen(station: SheetsStation, x: float, y: float) -> QPointF:
    """Where a place of the image is in the view."""
    view = station.view
    return view.box(Rect(0, 0, 1, 1)).topLeft() + QPointF(x, y) * view.zoom


@pytest.fixture
def tail() -> Drawn:
    return drawn("tail", 7)


@pytest.mark.long
def test_a_dropped_image_is_cut_as_suggested_by_enter(window: Window, demo: Path, tail: Drawn) -> None:
    station = brought(window, demo, tail.picture())
    assert "9 × 3 of 48 × 48: every cut line runs through empty pixels." in station.ways.suggested.outcome.text()
    assert len(station.view.preview) == 27, "the outcome is shown on the sheet before it counts"
    assert station.ways.suggested.thumb.rects and not station.view.frames[1:]
    QTest.keyClick(QApplication.focusWidget() or window, Qt.Key.Key_Return)
    assert len(station.view.frames) == 27 and not station.view.preview
    assert "It is cut so." in station.ways.suggested.outcome.text() and not station.ways.suggested.apply.isEnabled()
    assert of(window).cut.width == 48


@pytest.mark.long
def test_another_suggestion_is_one_click_away(window: Window, demo: Path, tail: Drawn) -> None:
    station = brought(window, demo, tail.picture())
    first = station.ways.suggested.outcome.text()
    click(station.ways.next)
    assert station.ways.suggested.outcome.text() != first
    click(station.ways.suggested.apply)
    assert station.view.frames == station.ways.suggested.rects and len(station.view.frames) != 27


@pytest.mark.long
def test_a_frame_a_drawing_with_specks_and_joins_as_they_are_set(window: Window, demo: Path) -> None:
    pixels = np.zeros((40, 100, 4), np.uint8)
    pixels[5:35, 5:35] = pixels[5:35, 60:90] = pixels[10:14, 40:44] = (200, 40, 40, 255)
    station = brought(window, demo, Image.fromarray(pixels))

    def frames(speck: int, near: int) -> list[Rect]:
        station.ways.speck.setValue(speck)
        station.ways.near.setValue(near)
        wait_until(lambda: not station.suggesting.busy, "the drawings")
        return station.ways.by_gaps.rects

    assert len(frames(4, 0)) == 3 and len(frames(20, 0)) == 2
    assert frames(20, 6) == [Rect(5, 5, 39, 30), Rect(60, 5, 30, 30)]
    assert station.view.preview == station.ways.by_gaps.rects
    click(station.ways.by_gaps.apply)
    assert of(window).cut.rects == ((5, 5, 39, 30), (60, 5, 30, 30))
    assert "2 frames, as it is cut now." in station.ways.by_gaps.outcome.text()


@pytest.mark.long
def test_pixels_left_over_by_cells_of_a_size_are_named_and_left(window: Window, demo: Path, tail: Drawn) -> None:
    station = brought(window, demo, tail.picture())
    for field, value in (
        (station.ways.width_field, 50),
        (station.ways.height_field, 40),
        (station.ways.margins[0], 2),
        (station.ways.gaps[1], 3),
    ):
        field.setValue(value)
    assert station.ways.by_size.outcome.text() == "24 frames of 50 × 40 pixels, 30 px right and 18 px below left over."
    click(station.ways.by_size.apply)
    assert (of(window).cut.margin, of(window).cut.gap) == ((2, 0), (0, 3)) and len(station.view.frames) == 24


# --- by hand


def drawn_by_hand(window: Window, demo: Path) -> SheetsStation:
    """Three frames in a row, the clip "hand" of them, and the tool for drawing."""
    pixels = np.zeros((60, 120, 4), np.uint8)
    for left in (10, 50, 90):
        pixels[10:40, left : left + 20] = (30, 90, 200, 255)
    station = brought(window, demo, Image.fromarray(pixels))
    click(station.ways.by_gaps.apply)
    wait_until(lambda: len(station.view.frames) == 3, "three frames")
    click(station.tools.tools["draw"])
    return station


def shown(window: Window) -> list[int]:
    return [cel.frame for cel in window.session.document.clips[-1].cels]


@pytest.mark.long
def test_frames_are_drawn_moved_resized_and_nudged_and_caught_by_others(window: Window, demo: Path) -> None:
    station = drawn_by_hand(window, demo)
    view = station.view
    drag(station, screen(station, 35, 45), screen(station, 45, 55))
    assert view.frames[3] == Rect(35, 45, 10, 10) and view.chosen == [3]
    drag(station, screen(station, 40, 50), screen(station, 40, 48))
    assert view.frames[3] == Rect(35, 43, 10, 10)
    # dragged until nearly under the second frame's left edge: it catches
    drag(station, screen(station, 40, 48), screen(station, 54, 48))
    assert view.frames[3] == Rect(50, 43, 10, 10)
    drag(station, screen(station, 60, 48), screen(station, 65, 48))
    assert view.frames[3] == Rect(50, 43, 15, 10)
    view.setFocus()
    for key, modifier in ((Qt.Key.Key_Up, None), (Qt.Key.Key_Right, SHIFT), (Qt.Key.Key_Down, ALT)):
        QTest.keyClick(view, key, modifier or Qt.KeyboardModifier.NoModifier)
    assert view.frames[3] == Rect(60, 42, 15, 11)
    assert of(window).cut.rects[3] == (60, 42, 15, 11)
    for _ in range(7):
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(view.frames) == 3


@pytest.mark.long
def test_clips_follow_split_merged_and_removed_frames(window: Window, demo: Path) -> None:
    station = drawn_by_hand(window, demo)
    station.view.choose([0, 1, 2])
    click(station.make_clip)
    window.go("Sheets")
    station.view.choose([0])
    click(station.tools.split_button)
    assert shown(window) == [0, 2, 3] and station.view.frames[:2] == [Rect(10, 10, 10, 30), Rect(20, 10, 10, 30)]
    assert station.view.chosen == [0, 1]
    click(station.tools.merge_button)
    assert shown(window) == [0, 1, 2] and station.view.frames[0] == Rect(10, 10, 20, 30)
    station.view.choose([1])
    station.view.setFocus()
    QTest.keyClick(station.view, Qt.Key.Key_Delete)
    assert shown(window) == [0, 1] and len(station.view.frames) == 2
    assert "clip clip (frame 1) no longer show" in window.status.text()


@pytest.mark.long
def test_a_single_cell_of_a_grid_is_changed_and_the_grid_stays(window: Window, demo: Path, tail: Drawn) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)
    click(station.tools.tools["draw"])
    station.view.zoom_to(4)
    station.view.choose([0])
    station.view.setFocus()
    QTest.keyClick(station.view, Qt.Key.Key_Right, ALT)
    assert of(window).cut.cells == {"0": (0, 0, 49, 48)} and of(window).cut.way == "size"
    assert len(station.view.frames) == 27 and station.view.frames[1] == Rect(48, 0, 48, 48)


# --- seeing and choosing


@pytest.mark.long
def test_the_sheet_is_zoomed_about_the_pointer_and_moved(window: Window, demo: Path, tail: Drawn) -> None:
    station = brought(window, demo, tail.picture())
    view = station.view
    fitted, at = view.zoom, QPointF(200, 100)
    place = view.on_image(at)
    for _ in range(6):
        turn = QWheelEvent(
            at, view.mapToGlobal(at), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(view, turn)
    assert view.zoom > fitted and (view.on_image(at) - place).manhattanLength() <= 1
    middle = view.on_image(at)
    QTest.mousePress(view, Qt.MouseButton.MiddleButton, pos=QPoint(200, 100))
    QTest.mouseMove(view, QPoint(230, 100))
    QTest.mouseRelease(view, Qt.MouseButton.MiddleButton, pos=QPoint(230, 100))
    assert view.on_image(at + QPointF(30, 0)).x() == pytest.approx(middle.x(), abs=1)
    view.setFocus()
    for key, zoom in ((Qt.Key.Key_1, 1.0), (Qt.Key.Key_Plus, 2.0), (Qt.Key.Key_Minus, 1.0), (Qt.Key.Key_0, fitted)):
        QTest.keyClick(view, key)
        assert view.zoom == zoom
    for _ in range(30):
        view.zoom_by(1)
    assert view.zoom == 64
    click(station.tools.zooms[1])
    assert view.zoom == fitted


@pytest.mark.long
def test_enlarged_pixels_stay_crisp(window: Window, demo: Path) -> None:
    pixels = np.zeros((4, 4, 4), np.uint8)
    pixels[:, ::2] = (255, 0, 0, 255)
    pixels[:, 1::2] = (0, 0, 255, 255)
    station = brought(window, demo, Image.fromarray(pixels))
    station.ways.trying = None
    station.refresh()
    station.view.zoom_to(32)
    seen = station.view.grab().toImage()
    left = screen(station, 0, 1)
    ratio = seen.width() / station.view.width()
    colours = {
        seen.pixelColor(int((left.x() + step) * ratio), int((left.y() + 40) * ratio)).name() for step in range(70, 120)
    }
    assert colours == {"#ff0000", "#0000ff"}


@pytest.mark.long
def test_rows_columns_blocks_and_every_second_frame_are_chosen(
    window: Window, demo: Path, tail: Drawn, monkeypatch: pytest.MonkeyPatch
) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)
    view = station.view
    drag(station, view.cell(1).center(), view.cell(11).center())
    assert view.chosen == [1, 2, 10, 11]
    QTest.mousePress(view, LEFT, SHIFT, view.cell(20).center().toPoint())
    QTest.mouseRelease(view, LEFT, SHIFT, view.cell(20).center().toPoint())
    assert view.chosen == [1, 2, 10, 11, 20]
    view.choose([20])
    pick = {action.text(): action for action in station.tools.pick_menu.actions()}
    pick["Choose the whole row"].trigger()
    assert view.chosen == list(range(18, 25)), "empty cells are no part of a row"
    view.choose([4])
    pick["Choose the whole column"].trigger()
    assert view.chosen == [4, 13, 22]
    pick["Choose all frames"].trigger()
    monkeypatch.setattr("leanstep.desk.stations.sheets.frame_picks.ask_number", lambda *_, **__: 9.0)
    pick["Choose every so many …"].trigger()
    assert view.chosen == [0, 9, 18]
    view.setFocus()
    pick["Choose no frames"].trigger()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down):
        QTest.keyClick(view, key)
    assert view.chosen == [10]
    QTest.keyClick(view, Qt.Key.Key_Right, SHIFT)
    assert view.chosen == [10, 11]


def answering(monkeypatch: pytest.MonkeyPatch, use: Callable[[RowNames], None]) -> None:
    """Use the dialog for the names of rows as soon as it is open."""

    def exec_(dialog: RowNames) -> int:
        dialog.show()
        use(dialog)
        return dialog.result()

    monkeypatch.setattr(RowNames, "exec", exec_)


def ok_of(dialog: RowNames) -> QPushButton:
    return dialog.buttons.button(QDialogButtonBox.StandardButton.Ok)


def typed(dialog: RowNames, text: str) -> None:
    dialog.line.selectAll()
    QTest.keyClicks(dialog.line, text)


@pytest.mark.long
def test_a_clip_a_row_with_names_that_are_shown_with_what_is_wrong(
    window: Window, demo: Path, tail: Drawn, monkeypatch: pytest.MonkeyPatch
) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)

    def use(dialog: RowNames) -> None:
        typed(dialog, "row a, b")
        assert "names 2 clips, and there are 3 rows" in dialog.fault.text() and not ok_of(dialog).isEnabled()
        typed(dialog, "walk")
        assert [row.text() for row in dialog.rows] == ["walk 1", "walk 2", "walk 3"]
        typed(dialog, "walk, run, hurt")
        assert dialog.fault.text() == "There is already a clip called walk." and not ok_of(dialog).isEnabled()
        typed(dialog, "row in, by, out")
        assert [row.text() for row in dialog.rows] == ["row in", "row by", "row out"] and not dialog.fault.text()
        click(ok_of(dialog))

    answering(monkeypatch, use)
    before = len(window.session.document.clips)
    click(station.clip_rows)
    made = window.session.document.clips[before:]
    assert [clip.name for clip in made] == ["row in", "row by", "row out"]
    assert [len(clip.cels) for clip in made] == [9, 9, 7]
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(window.session.document.clips) == before, "one gesture, one undo"


@pytest.mark.long
def test_a_clip_a_row_takes_the_chosen_columns_and_rows_turn_from_any_direction(
    window: Window, demo: Path, tail: Drawn, monkeypatch: pytest.MonkeyPatch
) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)
    station.view.choose([1, 2, 10, 11])

    def use(dialog: RowNames) -> None:
        assert len(dialog.rows) == 2
        typed(dialog, "stroll in, out")
        dialog.first.setCurrentText("left")
        dialog.first.activated.emit(dialog.first.currentIndex())
        assert [row.text() for row in dialog.rows] == ["stroll left", "stroll right"]
        dialog.first.setCurrentText("down")
        dialog.first.activated.emit(dialog.first.currentIndex())
        assert [row.text() for row in dialog.rows] == ["stroll down", "stroll up"]
        click(ok_of(dialog))

    answering(monkeypatch, use)
    click(station.clip_rows)
    made = window.session.document.clips[-2:]
    assert [[cel.frame for cel in clip.cels] for clip in made] == [[1, 2], [10, 11]]


# --- ground and feet


@pytest.mark.long
def test_an_opaque_ground_is_tried_cleared_hole_by_hole_and_put_back(window: Window, demo: Path) -> None:
    pixels = np.full((32, 32, 4), (255, 0, 255, 255), np.uint8)
    pixels[6:26, 6:26] = (20, 120, 60, 255)
    pixels[10:12, 10:12] = pixels[16:22, 12:20] = (255, 0, 255, 255)
    station = brought(window, demo, Image.fromarray(pixels))
    source = (demo / "art" / "harbour.png").read_bytes()

    def alpha(x: int, y: int) -> int:
        assert station.view.image is not None
        return station.view.image.pixelColor(x, y).alpha()

    assert station.ground.isVisible() and alpha(0, 0) == 255
    station.ground.tolerance.setValue(6)
    wait_until(lambda: alpha(0, 0) == 0, "the preview")
    assert of(window).ground is None and alpha(16, 18) == 255, "tried, not yet meant; what is enclosed stays"
    click(station.ground.clear)
    ground = of(window).ground
    assert ground is not None and (ground.colour, ground.tolerance) == ("#ff00ff", 6)
    wait_until(lambda: station.ground.hole.isEnabled(), "holes")
    assert station.ground.hole.text() == "Clear a hole (2)"
    click(station.ground.hole)
    wait_until(lambda: alpha(16, 18) == 0, "the hole")
    assert alpha(10, 10) == 255
    wait_until(lambda: station.ground.hole.text() == "Clear a hole (1)", "the other hole")
    click(station.ground.holes_all)
    wait_until(lambda: len(of(window).ground.holes) == 2, "the last hole")
    wait_until(lambda: not station.ground.hole.isEnabled(), "no more holes")
    assert station.ground.back.geometry().right() < station.ground.hole.geometry().left(), "they keep their places"
    click(station.ground.back)
    wait_until(lambda: alpha(0, 0) == 255, "the ground")
    assert of(window).ground is None and (demo / "art" / "harbour.png").read_bytes() == source


@pytest.mark.long
def test_feet_are_dragged_nudged_ruled_and_taken_back(window: Window, demo: Path, tail: Drawn) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)
    click(station.tools.tools["feet"])
    view = station.view
    view.zoom_to(4)
    view.choose([10, 11])

    def feet() -> list[tuple[float, float]]:
        return [frame.foot for frame in view.loaded.cut.frames]  # type: ignore[union-attr]

    before = feet()
    start = view.foot_place(10)
    drag(station, start, start + QPointF(8, -12))
    assert feet()[10] == (before[10][0] + 2, before[10][1] - 3) and feet()[11] == (before[11][0] + 2, before[11][1] - 3)
    assert feet()[12] == before[12] and sorted(of(window).feet) == ["10", "11"]
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Down, SHIFT)
    assert feet()[11][1] == before[11][1] + 7
    view.choose([11])
    click(station.tools.own_feet)
    assert feet()[11] == before[11] and sorted(of(window).feet) == ["10"]
    station.tools.foot_rule.setFocus()
    QTest.keyClick(station.tools.foot_rule, Qt.Key.Key_Down)
    QTest.keyClick(station.tools.foot_rule, Qt.Key.Key_End)
    if of(window).foot_rule != "centre":
        station.tools.foot_rule.activated.emit(station.tools.foot_rule.findData("centre"))
    assert feet()[0] == (24, 24) and feet()[10] != (24, 24)


@pytest.mark.long
def test_frames_get_the_foot_of_the_one_before_and_are_compared_with_it(
    window: Window, demo: Path, tail: Drawn
) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)
    click(station.tools.tools["feet"])
    view, strip = station.view, station.strip
    view.choose([3])
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Right, SHIFT)
    view.choose([4, 5])
    click(station.tools.as_neighbour)
    feet = [frame.foot for frame in view.loaded.cut.frames]  # type: ignore[union-attr]
    assert feet[3] == feet[4] == feet[5] != feet[2] and sorted(of(window).feet) == ["3", "4", "5"]

    def seen(mode: str) -> np.ndarray:
        station.compare.setCurrentIndex(station.compare.findData(mode))
        image = strip.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
        return np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.width(), 4).copy()

    view.choose([0, 1])
    alone, onion, difference = seen(""), seen("onion"), seen("difference")
    half = alone.shape[1] * 58 // strip.width()
    assert np.array_equal(alone[:, :half], onion[:, :half]), "the first frame has none before it"
    assert not np.array_equal(alone[:, half : 2 * half], onion[:, half : 2 * half])
    assert (difference[:80, half : 2 * half, :3].max(axis=2) < 20).sum() > 20, "what is equal is black"


@pytest.mark.long
def test_an_image_that_cannot_be_cut_is_shown_with_the_reason_and_a_suggestion(
    window: Window, demo: Path, tail: Drawn
) -> None:
    station = brought(window, demo, tail.picture())
    click(station.ways.suggested.apply)
    Image.fromarray(tail.pixels[:96]).save(demo / "art" / "harbour.png")
    wait_until(lambda: station.view.image is not None and station.view.image.height() == 96, "the new image")
    assert "the sheet was cut at 432 × 144" in str(station.view.loaded)
    wait_until(lambda: "9 × 2 of 48 × 48" in station.ways.suggested.outcome.text(), "a suggestion for it")
    click(station.ways.suggested.apply)
    assert len(station.view.frames) == 18 and of(window).size == (432, 96)


# --- moving images and several at once


def test_a_moving_image_comes_in_as_a_sheet_and_a_clip_with_its_durations(window: Window, demo: Path) -> None:
    frames = [Image.new("RGB", (10, 12), (60 * at, 90, 20)) for at in range(4)]
    frames[0].save(demo / "gull.gif", save_all=True, append_images=frames[1:], duration=[50, 100, 100, 200], loop=0)
    before = window.session.document.sheets
    window.bring_in(demo / "gull.gif")
    clip = window.session.document.clips[-1]
    assert (of(window).name, clip.name, clip.sheet, clip.loop) == ("gull", "gull", "gull", "repeat")
    assert [cel.ticks for cel in clip.cels] == [3, 6, 6, 12]
    station = window.station(SheetsStation)
    wait_until(lambda: len(station.view.frames) == 4, "four frames")
    # it came cut: nothing else is suggested
    wait_until(lambda: "came as 4 pictures. It is cut so." in station.ways.suggested.outcome.text(), "how it came")
    assert not station.ways.next.isVisible() and station.ways.suggested.rects == station.view.frames
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.document.sheets == before and clip.name not in {
        one.name for one in window.session.document.clips
    }


@pytest.mark.long
def test_a_folder_of_numbered_pictures_comes_in_as_one_sheet(window: Window, demo: Path) -> None:
    folder = demo / "keeper"
    folder.mkdir()
    for number in (2, 10, 1):
        Image.new("RGB", (8 + number, 12), (20 * number, 90, 20)).save(folder / f"keeper_{number}.png")
    window.bring_in(folder)
    assert of(window).name == "keeper" and of(window).image == "keeper/keeper_1.png"
    assert of(window).images == ("keeper/keeper_2.png", "keeper/keeper_10.png")
    station = window.station(SheetsStation)
    wait_until(lambda: len(station.view.frames) == 3, "three frames")
    assert station.view.image.pixelColor(2 * 18 + 9, 6).red() == 200
    Image.new("RGB", (18, 12), (250, 0, 0)).save(folder / "keeper_10.png")
    wait_until(lambda: station.view.image.pixelColor(2 * 18 + 9, 6).red() == 250, "the new picture")
