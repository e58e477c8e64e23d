"""In the window nothing is lost: crashes, other programs, other windows, removed parameters."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.character import files
from leanstep.core.character.edits import change
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk import recovery
from leanstep.desk.recovery import Recovery
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.fuzz.kills import HEADLESS, LOST, WINDOW, kill
from tests.interface.conftest import ticks


def choose(window: Window, text: str) -> None:
    """Press the button with a text in the notice."""
    found = next(one for one in window.notices.buttons if one.text() == text)  # type: ignore[attr-defined]
    QTest.mouseClick(found, Qt.MouseButton.LeftButton)


def until(true: Callable[[], object], seconds: float = 6.0) -> None:
    """Let the window work until something is so."""
    end = time.monotonic() + seconds
    while not true() and time.monotonic() < end:
        QTest.qWait(30)
    assert true()


def say_name(window: Window, name: str) -> None:
    window.session.edit(f"called it {name}", lambda document: change(document, (), name=name))


@pytest.mark.long
def test_unsaved_edits_are_kept_within_five_seconds_and_gone_when_saved(window: Window, state: Path) -> None:
    say_name(window, "Edited")
    file = window.session.keeper.recovery.file
    until(file.is_file, 5.0)
    assert '"edits": ["called it Edited"]' in file.read_text()
    window.save()
    until(lambda: not file.exists())


@pytest.mark.long
def test_what_a_crash_left_is_offered_with_what_it_holds_and_brought_back(
    open_window: Callable[..., Window], demo: Path, state: Path
) -> None:
    path = demo / "lamplighter.leanstep"
    edited = change(files.load(path), (), name="Before the crash")
    Recovery(state, "999999999-1").keep(edited, path, ["called it", "changed state idle", "called it"], 1_000_000.0)
    window = open_window(path)
    assert window.notices.isVisible()
    said = window.notices.text.text()
    assert "lamplighter.leanstep: 3 edits" in said and "(called it and changed state idle)" in said
    choose(window, "Bring them back")
    assert window.session.document.name == "Before the crash" and window.session.history.changed
    assert not window.notices.isVisible()
    window.session.undo()
    assert window.session.document == files.load(path)
    until(lambda: not (state / "recovery" / "999999999-1.json").exists())


@pytest.mark.long
def test_what_is_brought_back_is_thrown_away_only_once_it_is_kept_again(
    open_window: Callable[..., Window], demo: Path, state: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = demo / "lamplighter.leanstep"
    left = Recovery(state, "999999999-1")
    left.keep(change(files.load(path), (), name="Before the crash"), path, ["called it"], 1_000_000.0)
    window = open_window(path)

    def full(*kept: object) -> None:
        raise LeanStepError("the recovery file", "the disk is full", "Make room.")

    with monkeypatch.context() as disk:
        disk.setattr(window.session.keeper.recovery, "keep", full)
        choose(window, "Bring them back")
        assert window.session.document.name == "Before the crash"
        until(lambda: window.session.keeper._complained)
    assert left.file.exists()


@pytest.mark.long
def test_what_somebody_else_saved_is_noticed_and_nothing_is_written_over(window: Window, demo: Path) -> None:
    path = demo / "lamplighter.leanstep"
    theirs = change(files.load(path), ("layers", 0, "transitions", 0), when="speed > 4")
    say_name(window, "Mine")
    files.save(path, theirs)
    window.session.keeper.look()
    until(window.notices.isVisible)
    assert "when is “speed > 4” instead of “speed > 12”" in window.notices.text.text()
    choose(window, "Keep both for now")
    assert not window.save() and files.load(path) == theirs
    assert "Nothing was saved" in window.notices.text.text()
    choose(window, "Save mine over it")
    assert files.load(path).name == "Mine"
    assert window.session.backup is not None and files.load(window.session.backup) == theirs
    window.session.bring_back_backup()
    assert window.session.document == theirs
    window.session.undo()
    assert window.session.document.name == "Mine"


@pytest.mark.long
def test_theirs_can_be_taken_and_taken_back(window: Window, demo: Path) -> None:
    path = demo / "lamplighter.leanstep"
    files.save(path, change(files.load(path), (), name="Theirs"))
    window.session.keeper.look()
    until(window.notices.isVisible)
    choose(window, "Take theirs")
    assert window.session.document.name == "Theirs" and not window.session.history.changed
    window.session.undo()
    assert window.session.document.name == "Lamplighter"


def test_a_second_window_on_the_file_is_told(open_window: Callable[..., Window], demo: Path, state: Path) -> None:
    path = demo / "lamplighter.leanstep"
    recovery.mark_open(state, path, "1")
    window = open_window(path)
    assert "open in 1 other window too" in window.notices.text.text()
    choose(window, "I know")
    assert not window.notices.isVisible()


def test_removing_a_parameter_that_is_being_recorded_ends_the_take_with_what_is_valid(window: Window) -> None:
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.record()
    QTest.keyPress(station, Qt.Key.Key_Right)
    ticks(window, 30)
    window.session.remove(Thing("button", "run"))
    until(lambda: station.take is not None and station.take.ticks == 30)
    assert window.live.recording is None and "ended" in window.status.text()
    assert all("run" not in one.set for one in station.take.changes)
    rehearse(window.session.machine, station.take)


def test_a_folder_that_cannot_be_written_is_said_and_nothing_is_lost(
    window: Window, tmp_path: Path, boxes: list[str]
) -> None:
    say_name(window, "Mine")
    (tmp_path / "file").write_text("")
    assert not window._save(tmp_path / "file" / "inside" / "hero.leanstep")
    assert "nothing was changed" in boxes[0] and window.session.history.changed
    assert not window._save(tmp_path / ("x" * 300 + ".leanstep"))
    assert "too long" in boxes[1]
    window.bring_in(tmp_path / ("y" * 300 + ".png"))
    assert len(boxes) == 3


@pytest.mark.long
def test_kills_lose_nothing_and_leave_nothing_behind() -> None:
    assert kill(HEADLESS, 5, 0.3, LOST) == []
    assert kill(WINDOW, 1, 2.0, LOST) == []
