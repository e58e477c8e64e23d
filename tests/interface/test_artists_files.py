"""Art that lies where the artist keeps it: shown from there, followed when the character moves, copied when asked."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from PySide6.QtCore import QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from leanstep.core.character import files
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_sheets import of, wait_until

RED, BLUE = (200, 30, 30, 255), (30, 30, 200, 255)


def drawn(path: Path, colour: tuple[int, ...]) -> Path:
    """A picture as the artist saves it."""
    path.parent.mkdir(parents=True, exist_ok=True)
    Image.new("RGBA", (16, 16), colour).save(path)
    return path


def shown(window: Window) -> tuple[int, ...]:
    image = window.station(SheetsStation).view.image
    return image.pixelColor(8, 8).getRgb() if image is not None else ()  # type: ignore[return-value]


@pytest.fixture
def window(open_window: Callable[..., Window], tmp_path: Path) -> Window:
    """A new character, with a picture from a folder of its own."""
    window = open_window()
    window.session.new()
    window.bring_in(drawn(tmp_path / "artist" / "hero.png", RED))
    wait_until(lambda: shown(window) == RED, "the picture")
    return window


def save_as(window: Window, path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path.parent.mkdir(exist_ok=True)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    assert window.save_as()


@pytest.mark.long
def test_the_original_is_referred_to_and_watched(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert "artist/hero.png" in window.station(SheetsStation).sentence.text()
    save_as(window, tmp_path / "game" / "hero.leanstep", monkeypatch)
    assert of(window).image == "../artist/hero.png" and list((tmp_path / "game").glob("**/*.png")) == []
    assert files.load(tmp_path / "game" / "hero.leanstep").sheets[0].image == "../artist/hero.png"
    drawn(tmp_path / "artist" / "hero.png", BLUE)
    wait_until(lambda: shown(window) == BLUE, "what the artist saved")


@pytest.mark.long
def test_it_is_followed_to_another_folder_and_through_undo(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    save_as(window, tmp_path / "game" / "hero.leanstep", monkeypatch)
    window.session.rename(window.session.selection.thing("sheet"), "keeper")
    (tmp_path / "other").mkdir()
    save_as(window, tmp_path / "other" / "deep" / "hero.leanstep", monkeypatch)
    assert of(window).image == "../../artist/hero.png"
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert (of(window).name, of(window).image) == ("hero", "../../artist/hero.png")
    wait_until(lambda: shown(window) == RED, "the picture")


def test_it_is_copied_when_asked_and_undo_takes_that_back(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    station = window.station(SheetsStation)
    save_as(window, tmp_path / "game" / "hero.leanstep", monkeypatch)
    assert station.copy_button.isVisible()
    QTest.mouseClick(station.copy_button, Qt.MouseButton.LeftButton)
    assert of(window).image == "art/hero.png" and (tmp_path / "game" / "art" / "hero.png").is_file()
    wait_until(lambda: not station.copy_button.isVisible(), "nothing left to copy")
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert of(window).image == "../artist/hero.png"


def test_what_cannot_be_saved_keeps_its_paths(window: Window, tmp_path: Path) -> None:
    before = of(window).image
    (tmp_path / "file").write_text("no folder")
    window.session.complained.connect(lambda error: None)
    with pytest.raises(Exception, match=r"file|folder|director"):
        window.session.save(tmp_path / "file" / "hero.leanstep")
    assert of(window).image == before and window.session.history.document.sheets[0].image == before


@pytest.mark.long
def test_a_restart_opens_the_file_of_last_time(
    open_window: Callable[..., Window], settings: QSettings, demo: Path
) -> None:
    settings.remove("started")
    open_window(demo / "lamplighter.leanstep")
    assert open_window().session.history.path == demo / "lamplighter.leanstep"
