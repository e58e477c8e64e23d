"""Each station does its work, and people's mistakes cost nothing."""

from __future__ import annotations

import dataclasses
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QByteArray, QPoint, QProcess, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QLabel, QMessageBox, QWidget

from leanstep.core.errors import LeanStepError
from leanstep.core.findings import messages
from leanstep.desk.command_search import CommandSearch
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks, wait_checked

LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier


@pytest.mark.long
@pytest.mark.checks
def test_the_first_start_opens_on_the_flickering_lamplighter(
    open_window: Callable[..., Window], settings: QSettings
) -> None:
    settings.remove("started")
    window = open_window()
    findings = window.station(FindingsStation)
    for _ in range(2400):
        QTest.qWait(25)
        if window.live.mode == "playing":
            break
    assert window.stack.currentWidget() is findings
    assert findings.finding.id == "flicker.steady"
    ticks(window, 12)
    past, layer = window.live.past, window.live.machine.layers[0]
    assert {layer.states[run.state] for run in past.runs(0, past.ticks - 8)} == {"idle", "stride"}
    QTest.keyClick(findings.list, Qt.Key.Key_Escape)
    assert window.live.mode == "idle"
    QTest.keyClick(findings.list, Qt.Key.Key_Return)
    assert window.live.mode == "playing" and window.live.take.ticks > findings.finding.witness.ticks
    assert findings.stills.trace is not None and findings.timeline.isVisible()


@pytest.mark.long
@pytest.mark.parametrize(
    ("verdict", "said"), [("proved", "The shortest witness takes"), ("shown", "The witness takes")]
)
def test_only_the_witness_of_what_is_proved_is_called_shortest(
    verdict: str, said: str, open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    wait_checked(window)
    findings = window.station(FindingsStation)
    window.go("Findings")
    findings.model.items[0] = dataclasses.replace(findings.model.items[0], verdict=verdict)
    findings.list.setCurrentIndex(findings.model.index(1))
    findings.list.setCurrentIndex(findings.model.index(0))
    assert findings.witness.text().startswith(said)


@pytest.mark.long
def test_a_check_that_left_something_open_is_not_called_sound_and_says_what(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    wait_checked(window)
    findings, session = window.station(FindingsStation), window.session
    window.go("Findings")
    first = dataclasses.replace(session.report.findings[0], verdict="undecided")
    for found, where in (((first,), findings.sure), ((), findings.head)):
        session.checker.report = dataclasses.replace(session.report, findings=found, aborted="the budget was used up")
        session.checker.checked.emit()
        findings.list.setCurrentIndex(findings.model.index(0))
        assert "Not everything was decided: the budget was used up." in where.text()
    assert findings.summary.text() == "Nothing found so far."
    session.checker.report = dataclasses.replace(session.report, aborted="")
    session.checker.checked.emit()
    assert findings.summary.text() == "All sound: nothing to mend."
    assert findings.head.text().startswith("Every state can be reached")


@pytest.mark.long
def test_findings_lead_to_the_place_and_vanish_when_it_is_mended(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    wait_checked(window)
    findings, graph = window.station(FindingsStation), window.station(GraphStation)
    window.go("Findings")
    row = next(row for row in range(len(findings.model.items)) if findings.model.items[row].id == "name.unknown")
    findings.list.setCurrentIndex(findings.model.index(row))
    assert "Did you mean at_lamp?" in findings.head.text()
    assert not findings.play_button.isEnabled()
    QTest.mouseClick(findings.show_button, LEFT)
    assert window.stack.currentWidget() is graph
    assert graph.drawer.line.text() == "light pressed and at_lmap"
    assert "did you mean at_lamp" in graph.drawer.reading.text()
    graph.drawer.line.selectAll()
    QTest.keyClicks(graph.drawer.line, "light pressed and at_lamp")
    QTest.keyClick(graph.drawer.line, Qt.Key.Key_Return)
    wait_checked(window)
    assert "name.unknown" not in {finding.id for finding in window.session.report.findings}
    assert window.route.counts[5] == "6 errors"


@pytest.mark.long
def test_a_way_out_in_the_mirror_shows_its_truth_and_opens_for_editing(window: Window) -> None:
    window.go("Graph")
    window.session.select_state(0, "idle")
    row = next(row for row in window.mirror.ways.rows if "stride" in row.accessibleName())
    assert not row.true
    window.live.drive()
    window.live.hands.key("Right", True)
    ticks(window, 3)
    window.mirror.ways.refresh()
    assert row.true
    QTest.mouseClick(row, LEFT)
    assert window.station(GraphStation).drawer.line.text() == "speed > 12"


@pytest.mark.long
def test_the_film_is_worked_by_keyboard_and_undone(window: Window) -> None:
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.list.setCurrentIndex(clips.model.index(1))
    film = clips.film
    film.setFocus()
    QTest.keyClick(film, Qt.Key.Key_Right)
    assert film.chosen == 1
    QTest.keyClick(film, Qt.Key.Key_Plus)
    assert film.clip.cels[1].ticks == 6 and "41 ticks" in clips.sentence.text()
    QTest.keyClick(film, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert [cel.frame for cel in film.clip.cels[:3]] == [11, 13, 12]
    QTest.keyClick(film, Qt.Key.Key_Delete)
    assert len(film.clip.cels) == 7
    for _ in range(3):
        QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
    assert [cel.frame for cel in film.clip.cels] == list(range(11, 19)) and film.clip.cels[1].ticks == 5


@pytest.mark.long
def test_dragging_a_cels_edge_is_one_undo_step(window: Window) -> None:
    window.go("Clips")
    film = window.station(ClipsStation).film
    edge = film.band(0).topRight().toPoint() + QPoint(0, 5)
    QTest.mousePress(film, LEFT, pos=edge)
    for step in range(1, 6):
        QTest.mouseMove(film, edge + QPoint(step * 14, 0))
    QTest.mouseRelease(film, LEFT, pos=edge + QPoint(70, 0))
    assert film.clip.cels[0].ticks > 9
    window.session.undo()
    assert film.clip.cels[0].ticks == 9 and not window.session.history.undo_name


@pytest.mark.long
def test_the_clip_plays_at_true_speed(window: Window) -> None:
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.list.setCurrentIndex(clips.model.index(1))
    start, began = clips.playhead, time.perf_counter()
    QTest.qWait(500)
    # on a busy machine the wait is longer, and the clip has played as far
    played, due = (clips.playhead - start) / 65536, 60 * (time.perf_counter() - began)
    assert due - 12 <= played <= due + 12
    QTest.mouseClick(clips.play_button, LEFT)
    stopped = clips.playhead
    QTest.qWait(80)
    assert clips.playhead == stopped


@pytest.mark.long
def test_sticky_borders_are_drawn_as_bands_and_keep_the_needles_pick(window: Window) -> None:
    window.go("Blends")
    station = window.station(BlendsStation)
    rail = station.rail
    sharp = rail.grab().toImage()
    for field, text in ((station.axes[0].step, "30"), (station.sticky, "0.5")):
        field.lineEdit().selectAll()
        QTest.keyClicks(field.lineEdit(), text)
        QTest.keyClick(field.lineEdit(), Qt.Key.Key_Return)
    blend = window.session.document.blends[0]
    assert (blend.axes[0].step, blend.sticky) == (30.0, 0.5)
    assert rail.grab().toImage() != sharp
    border = sum(sample.at[0] for sample in blend.samples) / 2  # type: ignore[misc]
    shown = []
    for value in (border - 20, border + 5, border + 10, border - 5, border - 10):
        rail.probed.emit((value,))
        shown.append(blend.samples[rail.picked].clip)
    assert shown == ["walk", "walk", "run", "run", "walk"]
    place = QPoint(int(rail.x_of(blend.samples[0].at[0])), int(rail.rail_y))  # type: ignore[arg-type]
    QTest.mousePress(rail, LEFT, pos=place)
    QTest.mouseMove(rail, QPoint(int(rail.x_of(61)), place.y()))
    QTest.mouseRelease(rail, LEFT, pos=QPoint(int(rail.x_of(61)), place.y()))
    assert window.session.document.blends[0].samples[0].at == (60.0,), "caught by the ruling"


@pytest.mark.long
def test_a_rail_sample_is_dragged_and_the_probe_picks(window: Window) -> None:
    window.go("Blends")
    station = window.station(BlendsStation)
    rail = station.rail
    y = int(rail.rail_y) + 20
    start = QPoint(int(rail.x_of(70)), y)
    QTest.mousePress(rail, LEFT, pos=start)
    QTest.mouseMove(rail, QPoint(int(rail.x_of(100)), y))
    QTest.mouseRelease(rail, LEFT, pos=QPoint(int(rail.x_of(100)), y))
    assert abs(rail.blend.samples[0].at[0] - 100) <= 2  # type: ignore[operator]
    QTest.mouseClick(rail, LEFT, pos=QPoint(int(rail.x_of(170)), 60))
    assert "it shows run." in station.sentence.text()
    window.session.undo()
    assert rail.blend.samples[0].at[0] == 70


@pytest.mark.long
def test_states_are_moved_by_drag_and_renamed_everywhere(window: Window) -> None:
    window.go("Graph")
    page = window.station(GraphStation).page
    land, climb = page.page.slots[0, "land"], page.page.slots[0, "climb"]
    QTest.mousePress(page, LEFT, pos=QPoint(int(land.x), int(land.ground - 10)))
    QTest.mouseMove(page, QPoint(int(climb.x) + 60, int(climb.ground - 10)))
    QTest.mouseRelease(page, LEFT, pos=QPoint(int(climb.x) + 60, int(climb.ground - 10)))
    moved = next(state for state in window.session.document.layers[0].states if state.name == "land")
    assert moved.lane == "ladder"
    QTest.keyClick(page, Qt.Key.Key_F2)
    name = window.station(GraphStation).drawer.name
    name.selectAll()
    QTest.keyClicks(name, "touch down")
    QTest.keyClick(name, Qt.Key.Key_Return)
    layer = window.session.document.layers[0]
    assert "touch down" in [state.name for state in layer.states]
    assert "land" not in {part for one in layer.transitions for part in (one.source, one.to)}


@pytest.mark.long
def test_a_name_that_is_taken_is_refused_and_nothing_is_lost(window: Window) -> None:
    window.go("Graph")
    window.session.select_state(0, "idle")
    name = window.station(GraphStation).drawer.name
    name.selectAll()
    QTest.keyClicks(name, "climb")
    QTest.keyClick(name, Qt.Key.Key_Return)
    assert "already a state called climb" in window.status.text()
    assert name.text() == "idle" and not window.session.history.undo_name


@pytest.mark.long
def test_a_bar_on_the_timeline_is_stretched(window: Window) -> None:
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.choose("walk-and-jump")
    jump = window.session.machine.index["jump"]
    line = next(line for line in station.timeline._lines if line.kind == "control" and line.index == jump)
    y = int(line.top + line.height / 2)
    timeline = station.timeline
    QTest.mousePress(timeline, LEFT, pos=QPoint(round(timeline.x_of(146)), y))
    QTest.mouseMove(timeline, QPoint(round(timeline.x_of(170)), y))
    QTest.mouseRelease(timeline, LEFT, pos=QPoint(round(timeline.x_of(170)), y))
    change = [change for change in station.take.changes if change.set.get("jump") is False]
    assert len(change) == 1 and abs(change[0].at - 170) <= 1
    timeline.setFocus()
    QTest.keyClick(timeline, Qt.Key.Key_Right)
    assert window.live.mode == "looking"


def test_a_file_that_cannot_be_opened_is_explained_and_the_document_stays(
    window: Window, demo: Path, boxes: list[str]
) -> None:
    before = window.session.document
    broken = demo / "broken.leanstep"
    broken.write_text("{")
    assert not window.open(broken)
    assert window.session.document is before
    assert "not JSON" in boxes[0] and "repair it in an editor" in boxes[0]
    assert broken.read_text() == "{"


@pytest.mark.long
def test_a_missing_image_is_shown_where_it_should_be(window: Window, demo: Path) -> None:
    (demo / "art" / "lamplighter.png").unlink()
    window.go("Sheets")
    for _ in range(2000):
        QTest.qWait(30)
        if isinstance(window.station(SheetsStation).view.loaded, LeanStepError):
            break
    assert "There is no such image" in str(window.station(SheetsStation).view.loaded.reason).capitalize()  # type: ignore[union-attr]
    wait_checked(window)
    assert "sheet.missing" in {finding.id for finding in window.session.report.findings}
    assert window.route.faults[0] == 1


@pytest.mark.long
def test_no_image_is_brought_in_from_what_is_none(window: Window, demo: Path, boxes: list[str]) -> None:
    (demo / "notes.png").write_text("only words")
    before = window.session.document.sheets
    window.bring_in(demo / "notes.png")
    assert "cannot be read as an image" in boxes[0]
    assert window.session.document.sheets == before


@pytest.mark.long
@pytest.mark.parametrize(
    ("reply", "closes", "saved"),
    [
        (QMessageBox.StandardButton.Cancel, False, False),
        (QMessageBox.StandardButton.Discard, True, False),
        (QMessageBox.StandardButton.Save, True, True),
    ],
)
def test_unsaved_changes_are_guarded(
    window: Window,
    demo: Path,
    monkeypatch: pytest.MonkeyPatch,
    reply: QMessageBox.StandardButton,
    closes: bool,
    saved: bool,
) -> None:
    path = demo / "lamplighter.leanstep"
    before = path.read_bytes()
    window.station(ClipsStation).cels.set_all_ticks(7.0)
    assert "•" in window.windowTitle()
    monkeypatch.setattr(QMessageBox, "exec", lambda box: reply)
    assert window._may_leave() is closes
    assert (path.read_bytes() != before) is saved


@pytest.mark.long
def test_saving_elsewhere_takes_the_images_along(window: Window, tmp_path: Path) -> None:
    target = tmp_path / "elsewhere"
    target.mkdir()
    window._save(target / "other.leanstep")
    assert (target / "art" / "lamplighter.png").is_file()
    assert window.session.recent()[0] == target / "other.leanstep"


@pytest.mark.long
def test_every_command_is_found_with_its_shortcut(window: Window) -> None:
    search = CommandSearch(window, window.commands)
    QTest.keyClicks(search.line, "record")
    texts = [search.list.item(row).text() for row in range(search.list.count())]
    assert texts == ["Record a take    Ctrl+T"]
    QTest.keyClick(search.line, Qt.Key.Key_Return)
    assert window.live.recording is not None
    window.live.leave()


@pytest.mark.long
def test_anything_is_gone_to_by_its_name(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    wait_checked(window)
    found = window.session.report.findings[0]

    def typing(text: str) -> Callable[[CommandSearch], int]:
        def typed(search: CommandSearch) -> int:
            QTest.keyClicks(search.line, text)
            QTest.keyClick(search.line, Qt.Key.Key_Return)
            return 1

        return typed

    for text, shown, kind in (
        ("crouch", "Clips", "clip"),
        ("state crouch", "Graph", "state"),
        ("gait", "Blends", "blend"),
    ):
        window.go("Sheets")
        monkeypatch.setattr(CommandSearch, "exec", typing(text))
        QTest.keyClick(window, Qt.Key.Key_K, CTRL)
        chosen = window.session.selection.thing(kind)
        assert window.route.current == shown and chosen is not None and chosen.name == text.split()[-1]
    monkeypatch.setattr(CommandSearch, "exec", typing(found.sentence[:40]))
    QTest.keyClick(window, Qt.Key.Key_K, CTRL)
    assert window.route.current == "Findings" and window.station(FindingsStation).finding == found


@pytest.mark.long
def test_an_empty_character_says_what_to_do_and_undo_beyond_the_start_is_harmless(window: Window) -> None:
    window.new()
    assert window.stack.currentIndex() == 0
    for _ in range(10):
        QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
    for name in window.stations:
        window.go(name)
        QApplication.processEvents()
        assert not window.grab().isNull()
    assert "Choose frames in Sheets" in window.station(ClipsStation).sentence.text()
    assert "Record one" in window.station(RehearseStation).sentence.text()


@pytest.mark.long
@pytest.mark.parametrize("height", [720, 800])
def test_no_text_is_clipped_or_smaller_than_11_pixels(window: Window, height: int) -> None:
    window.resize(1280, height)
    for name in window.stations:
        window.go(name)
        QApplication.processEvents()
        for widget in window.findChildren(QWidget):
            if not widget.isVisibleTo(window):
                continue
            assert widget.font().pixelSize() >= 11, widget
            text = widget.text() if isinstance(widget, QAbstractButton | QLabel) else ""
            wraps = isinstance(widget, QLabel) and widget.wordWrap()
            if text and not wraps:
                assert widget.sizeHint().width() <= widget.width() + 1, (name, text)
                assert widget.sizeHint().height() <= widget.height() + 4, (name, text)


@pytest.mark.long
def test_every_control_has_a_name_or_text_and_says_what_it_is_for(window: Window) -> None:
    from PySide6.QtWidgets import QAbstractSpinBox, QComboBox, QLineEdit, QListView

    kinds = (QAbstractButton, QAbstractSpinBox, QComboBox, QLineEdit, QListView)
    for widget in window.findChildren(QWidget):
        inner = isinstance(widget.parent(), QAbstractSpinBox | QComboBox) or widget.objectName().startswith("qt_")
        inner = inner or (isinstance(widget, QListView) and widget.window() is not window)
        if isinstance(widget, kinds) and not inner:
            named = widget.accessibleName() or (isinstance(widget, QAbstractButton) and widget.text())
            assert named, widget
            assert widget.toolTip() or isinstance(widget, QListView), (widget, named)


@pytest.mark.long
@pytest.mark.checks
def test_a_check_is_stopped_and_the_next_edit_checks_again(window: Window) -> None:
    window.session.checker.report = None
    window.session.checker.send()
    QApplication.processEvents()
    assert window.stop_button.isVisible() and "Checking" in window.running.text()
    QTest.mouseClick(window.stop_button, LEFT)
    assert window.route.counts[5] == "not checked" and not window.stop_button.isVisible()
    assert "the next edit checks again" in window.status.text()
    window.station(ClipsStation).cels.set_all_ticks(7.0)
    for _ in range(2400):
        QTest.qWait(25)
        if window.session.report is not None:
            break
    assert window.route.counts[5] == "3 warnings"


@pytest.mark.long
def test_a_check_of_the_document_before_is_not_shown_with_the_one_that_was_opened(window: Window, demo: Path) -> None:
    session = window.session
    wait_checked(window)
    lines = [messages.line(messages.Checked(session.checker._request, session.report.to_json()))]

    class Worker:
        """Answers late."""

        def canReadLine(self) -> bool:
            return bool(lines)

        def readLine(self) -> QByteArray:
            return QByteArray(lines.pop())

        def state(self) -> QProcess.ProcessState:
            return QProcess.ProcessState.Running

        def write(self, request: bytes) -> None:
            """What is asked of it is lost."""

        def waitForBytesWritten(self, milliseconds: int) -> bool:
            return True

    worker, session.checker._worker = session.checker._worker, Worker()  # type: ignore[assignment]
    session.open(demo / "lamplighter-faulty.leanstep")
    session.checker._receive()
    session.checker._worker = worker
    assert not lines and session.report is None


@pytest.mark.long
def test_a_check_that_breaks_off_is_owned_up_to(window: Window) -> None:
    wait_checked(window)
    window.session.checker._worker.kill()
    for _ in range(3000):
        QTest.qWait(20)
        if "broke off" in window.status.text():
            break
    assert "a bug in Lean Step" in window.status.text()
