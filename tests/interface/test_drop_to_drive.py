"""From a dropped sheet to a figure that is steered, in a handful of gestures."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from leanstep.core.findings.report import check_character
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_sheets import wait_until
from tests.support.drawn_figures import Traits, walker

SIDE = 48


def sheet_of_two_rows() -> Image.Image:
    """A figure that breathes in the second row and walks in the first."""
    traits = Traits.of(np.random.default_rng(8))
    pixels = np.zeros((2 * SIDE, 6 * SIDE, 4), np.uint8)
    still = walker(40, 0.0, traits)
    for number in range(6):
        pixels[4:44, SIDE * number + 4 : SIDE * number + 44] = walker(40, number / 6, traits)
        pixels[52 + number % 2 : 92, SIDE * number + 4 : SIDE * number + 44] = still[: 40 - number % 2]
    return Image.fromarray(pixels)


def drop(window: Window, path: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(
        QPointF(400, 400), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)


@pytest.mark.long
def test_a_dropped_sheet_is_steered_after_four_gestures(
    open_window: Callable[..., Window], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    sheet_of_two_rows().save(tmp_path / "keeper.png")
    window = open_window()
    window.session.new()
    station = window.station(SheetsStation)

    drop(window, tmp_path / "keeper.png")  # 1
    wait_until(lambda: "6 × 2 of 48 × 48" in station.ways.suggested.outcome.text(), "the suggestion")
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)  # 2
    assert station.walk.isVisible()
    assert (station.walk.idle.currentIndex(), station.walk.walk.currentIndex()) == (1, 0), "the stillest row stands"
    assert station.walk.march.frames == list(range(6))
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)  # 3

    document, live = window.session.document, window.live
    assert [state.clip for state in document.layers[0].states] == ["idle", "walk"]
    assert live.mode == "driving" and window.session.art.sheet("keeper") is not None
    assert not [one for one in check_character(document, window.session.folder).findings if one.severity == "error"]
    QTest.keyPress(window, Qt.Key.Key_Right)  # 4
    for _ in range(30):
        live.tick()
    assert live.situation.body.vx > 0 and document.layers[0].states[live.situation.states[0]].name == "walk"
    QTest.keyRelease(window, Qt.Key.Key_Right)
    for _ in range(60):
        live.tick()
    assert document.layers[0].states[live.situation.states[0]].name == "idle"
    QTest.keyClick(window, Qt.Key.Key_Escape)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not window.session.document.clips, "one gesture, one undo"


@pytest.mark.long
def test_a_figure_that_walks_backwards_is_turned(open_window: Callable[..., Window], tmp_path: Path) -> None:
    sheet_of_two_rows().transpose(Image.Transpose.FLIP_LEFT_RIGHT).save(tmp_path / "keeper.png")
    window = open_window()
    window.session.new()
    station = window.station(SheetsStation)
    drop(window, tmp_path / "keeper.png")
    wait_until(lambda: station.ways.suggested.apply.isEnabled(), "the suggestion")
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert not station.walk.march.mirrored
    QTest.mouseClick(station.walk.turn, Qt.MouseButton.LeftButton)
    assert station.walk.march.mirrored
    QTest.mouseClick(station.walk.steer, Qt.MouseButton.LeftButton)
    assert window.session.document.sheets[0].facing == "left"


def test_nobody_is_asked_once_there_is_a_figure(window: Window, demo: Path) -> None:
    sheet_of_two_rows().save(demo / "keeper.png")
    window.bring_in(demo / "keeper.png")
    station = window.station(SheetsStation)
    wait_until(lambda: station.ways.suggested.apply.isEnabled(), "the suggestion")
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert not station.walk.isVisible()
    station.maker.ask_to_steer()
    assert "There is a figure already" in window.status.text()
