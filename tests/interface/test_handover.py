"""The end of the route: what goes out is chosen, looked at, written, and written again."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from leanstep.core.formats.handover import FORMATS
from leanstep.core.work import look
from leanstep.desk.stations.handover import work
from leanstep.desk.stations.handover.station import HandoverStation
from leanstep.desk.window import Window
from tests.interface.conftest import press, wait_checked

LEFT, CTRL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def station(window: Window) -> Any:
    """The place, with the lamplighter."""
    press(window, Qt.Key.Key_7, CTRL)
    assert window.route.current == "Hand over"
    return window.station(HandoverStation)


def wait_for(what: Callable[[], object]) -> None:
    for _ in range(4000):
        if what():
            return
        QTest.qWait(15)
    raise AssertionError("it did not come")


def look_at(station: Any, key: str) -> None:
    """Choose a row of the list, and wait for what it would give."""
    station.list.setCurrentIndex(station.model.index(list(FORMATS).index(key)))
    wait_for(lambda: station.preview.files or not station.preview.words.text().startswith("Making"))


def tick(station: Any, key: str) -> None:
    """Click the box of a row."""
    index = station.model.index(list(FORMATS).index(key))
    station.list.scrollTo(index)
    area = station.list.visualRect(index)
    QTest.mouseClick(station.list.viewport(), LEFT, pos=QPoint(20, area.center().y()))


@pytest.mark.long
def test_each_thing_says_what_it_is_for_and_cannot_hold_and_is_shown_before_it_goes(
    station: Any, window: Window
) -> None:
    look_at(station, "table")
    assert station.title.text() == "Table for games" and station.lacks.text().startswith("It cannot hold: pictures")
    assert json.loads(station.preview.files["lamplighter.table.json"])["name"] == "Lamplighter"
    assert station.preview.text.isVisible() and '"leanstep_table": 6' in station.preview.text.toPlainText()
    look_at(station, "atlas")
    assert station.preview.picture.isVisible() and not station.preview.picture.pixmap.isNull()
    assert "frames fill" in station.preview.size_words.text()
    assert station.padding.isVisible() and station.scale.isVisible() and not station.boxes["fixes"].isVisible()
    wide = station.preview.picture.pixmap.width()
    station.scale.setFocus()
    QTest.keyClick(station.scale, Qt.Key.Key_Up)
    wait_for(lambda: station.preview.picture.pixmap.width() > 1.5 * wide)
    look_at(station, "gif")
    station.preview.which.setCurrentText("lamplighter.walk.gif")
    first = station.preview.picture.pixmap.toImage()
    wait_for(lambda: station.preview.picture.pixmap.toImage() != first)


@pytest.mark.long
def test_findings_are_shown_once_the_check_is_done(station: Any, window: Window) -> None:
    look_at(station, "junit")
    assert station.preview.words.isVisible() and "once the check is done" in station.preview.words.text()
    wait_checked(window)
    wait_for(lambda: station.preview.files)
    assert "<testsuite" in station.preview.text.toPlainText()


@pytest.mark.long
def test_what_is_ticked_is_written_and_kept_for_the_character(station: Any, window: Window, tmp_path: Path) -> None:
    for key in ("players", "atlas", "dot"):
        tick(station, key)
    assert station.kept.wanted == ["table", "dot"] and station.go_button.text() == "Hand over 2 things"
    station.place.setFocus()
    station.place.selectAll()
    QTest.keyClicks(station.place, str(tmp_path / "out" / "here"))
    QTest.keyClick(station.place, Qt.Key.Key_Return)
    QTest.mouseClick(station.go_button, LEFT)
    wait_for(lambda: station.done.text().startswith("Written"))
    names = {path.name for path in (tmp_path / "out" / "here").iterdir()}
    assert {"lamplighter.table.json", "lamplighter.dot", "lamplighter.walk-and-jump.golden.txt"} <= names
    assert "lamplighter.table.json" in station.done.text() and "Handed over" in window.status.text()
    path = window.session.history.path
    assert path is not None
    window.open(path.parent / "ferry-hand.leanstep")
    assert station.kept.wanted == ["table", "players", "atlas"]
    window.open(path)
    assert station.kept.wanted == ["table", "dot"] and station.place.text() == str(tmp_path / "out" / "here")


@pytest.mark.long
def test_again_after_every_save(station: Any, window: Window, tmp_path: Path) -> None:
    for key in ("players", "atlas"):
        tick(station, key)
    station._keep(folder=str(tmp_path / "out"))
    QTest.mouseClick(station.again, LEFT, pos=QPoint(8, station.again.height() // 2))
    assert "after every save" in window.route.counts[-1]
    window.session.edit("renamed", lambda document: type(document)(**{**_values(document), "name": "Wick"}))
    press(window, Qt.Key.Key_S, CTRL)
    target = tmp_path / "out" / "lamplighter.table.json"
    wait_for(target.exists)
    assert json.loads(target.read_text())["name"] == "Wick"


def _values(document: Any) -> dict[str, Any]:
    return {name: getattr(document, name) for name in document.__struct_fields__}


@pytest.mark.long
@pytest.mark.parametrize("answer", ["Yes", "Cancel"])
def test_what_is_foreign_is_asked_for(
    answer: str, station: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[str] = []

    def shown(box: QMessageBox) -> QMessageBox.StandardButton:
        asked.append(box.text())
        return getattr(QMessageBox.StandardButton, answer)

    monkeypatch.setattr(QMessageBox, "exec", shown)
    (tmp_path / "out").mkdir()
    foreign = tmp_path / "out" / "lamplighter.table.json"
    foreign.write_text("mine")
    for key in ("players", "atlas"):
        tick(station, key)
    station._keep(folder=str(tmp_path / "out"))
    QTest.mouseClick(station.go_button, LEFT)
    wait_for(lambda: asked)
    assert "Lean Step did not write" in asked[0] and str(foreign) in asked[0]
    if answer == "Yes":
        wait_for(lambda: foreign.read_text() != "mine")
    else:
        QTest.qWait(200)
        assert [path.name for path in (tmp_path / "out").iterdir()] == [foreign.name] and foreign.read_text() == "mine"


@pytest.mark.long
def test_a_folder_that_cannot_be_made_is_a_sentence(station: Any, tmp_path: Path, boxes: list[str]) -> None:
    (tmp_path / "file").write_text("")
    station._keep(folder=str(tmp_path / "file" / "out"))
    QTest.mouseClick(station.go_button, LEFT)
    wait_for(lambda: boxes)
    assert str(tmp_path / "file" / "out") in boxes[0] and "Choose another folder" in boxes[0]


@pytest.mark.long
def test_stopped_in_the_middle_nothing_is_written(
    station: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    begun: list[str] = []

    def slowly(source: Any, wanted: list[str]) -> Any:
        begun.append("begun")
        while begun:
            look()
            QTest.qSleep(5)
        yield "table", {}

    monkeypatch.setattr(work, "hand_over", slowly)
    station._keep(folder=str(tmp_path / "out"))
    QTest.mouseClick(station.go_button, LEFT)
    wait_for(lambda: begun and station.stop_button.isVisible())
    QTest.mouseClick(station.stop_button, LEFT)
    assert station.done.text() == "Stopped; nothing was written." and not station.making.busy
    assert not (tmp_path / "out").exists()


def test_with_nothing_ticked_nothing_goes_out(station: Any, window: Window) -> None:
    for key in ("table", "players", "atlas"):
        tick(station, key)
    assert not station.go_button.isEnabled() and station.go_button.text() == "Nothing is ticked"
    station.list.setCurrentIndex(station.model.index(0))
    QTest.keyClick(station.list, Qt.Key.Key_Space)
    assert station.kept.wanted == ["table"]
