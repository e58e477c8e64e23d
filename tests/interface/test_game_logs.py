"""A game's log in the window: its ribbon under ours, the difference, and what explains it."""

from __future__ import annotations

import re
import time
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.comparing.logs import Log
from leanstep.core.rehearsal.takes import rehearse, take_csv, take_json, trace_csv
from leanstep.core.work import Work
from leanstep.desk.stations.rehearse import comparison
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import press
from tests.interface.test_handover import wait_for

LEFT, CTRL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def log(demo: Path, tmp_path: Path) -> Path:
    """What a game logged in which walking begins only above 40."""
    text = (demo / "lamplighter.leanstep").read_text()
    game = demo / "game.leanstep"
    game.write_text(re.sub(r"speed > 12\b", "speed > 40", text))
    machine = compile_character(load(game))
    take = next(one for one in machine.character.takes if one.name == "walk-and-jump")
    path = tmp_path / "logged.csv"
    path.write_text(trace_csv(rehearse(machine, take)))
    return path


@pytest.fixture
def station(window: Window, log: Path, monkeypatch: pytest.MonkeyPatch) -> Any:
    """The station, with the log brought in by hand."""
    press(window, Qt.Key.Key_5, CTRL)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(log), ""))
    found: Any = window.station(RehearseStation)
    QTest.mouseClick(found.log_button, LEFT)
    return found


@pytest.mark.long
def test_the_game_s_ribbon_stands_under_ours_with_the_first_difference_and_its_reason(station: Any) -> None:
    wait_for(lambda: station.comparison.difference is not None)
    words = station.comparison.words.text().splitlines()
    assert "the game's base is still in idle, and Lean Step's is in stride" in words[0]
    assert "  speed > 12: true, for speed is" in words[2]
    assert any("speed > 12 has another bound there, from" in line and "whole log" in line for line in words)
    lines = [line for line in station.timeline._lines if line.kind == "game"]
    assert len(lines) == 2
    lane = station.timeline._game(lines[0])
    red = [block for block in lane.blocks if block.ink == "error"]
    assert red and red[0].start == station.comparison.difference.tick and red[0].texts == ("idle",)
    # nothing lies over anything else
    parts = [station.course, station.scroller, station.comparison, station.take_row]
    tops = [part.geometry() for part in parts if part.isVisible()]
    assert all(above.bottom() < below.top() for above, below in pairwise(tops))


@pytest.mark.long
def test_mending_the_character_ends_the_difference_and_undoing_brings_it_back(station: Any, window: Window) -> None:
    wait_for(lambda: station.comparison.difference is not None)
    ways = window.session.document.layers[0].transitions
    at = next(number for number, one in enumerate(ways) if one.when == "speed > 12")
    window.session.edit("mended", lambda one: change(one, ("layers", 0, "transitions", at), when="speed > 40"))
    wait_for(
        lambda: station.comparison.words.text().startswith("The game does the same as Lean Step on all 300 ticks.")
    )
    lanes = [station.timeline._game(line) for line in station.timeline._lines if line.kind == "game"]
    assert lanes and not [block for lane in lanes for block in lane.blocks if block.ink == "error"]
    press(window, Qt.Key.Key_Z, CTRL)
    wait_for(lambda: station.comparison.difference is not None)


@pytest.mark.long
def test_what_went_in_is_a_take_and_undo_takes_both_away(station: Any, window: Window) -> None:
    wait_for(lambda: station.comparison.difference is not None)
    take = station.take
    assert take.name == "log logged" and take.world == "free" and take.ticks == 300
    press(window, Qt.Key.Key_Z, CTRL)
    assert "log logged" not in [one.name for one in window.session.document.takes]
    assert station.comparison.log is None and not station.comparison.isVisible()


@pytest.mark.long
def test_the_log_is_taken_away_and_the_take_stays(station: Any, window: Window) -> None:
    wait_for(lambda: station.comparison.difference is not None)
    QTest.mouseClick(station.comparison.away_button, LEFT)
    assert not station.comparison.isVisible() and station.take.name == "log logged"
    assert not [line for line in station.timeline._lines if line.kind == "game"]


@pytest.mark.long
def test_a_log_that_cannot_be_read_is_a_sentence_and_changes_nothing(
    station: Any, window: Window, log: Path, boxes: list[str]
) -> None:
    wait_for(lambda: station.comparison.difference is not None)
    before = window.session.document
    log.write_text("tick,base\n0,idle\n")
    QTest.mouseClick(station.log_button, LEFT)
    assert "no column called speed" in boxes[0] and window.session.document is before
    log.write_bytes(b"\xff\xfe\x00")
    QTest.mouseClick(station.log_button, LEFT)
    assert "UTF-8" in boxes[1]


@pytest.mark.long
def test_takes_are_dropped_as_csv_and_json_and_a_log_is_known_by_its_layers(
    window: Window, log: Path, tmp_path: Path
) -> None:
    document, machine = window.session.document, window.session.machine
    take = document.takes[0]
    (tmp_path / "again.take.json").write_text(take_json(take))
    (tmp_path / "again.csv").write_text(take_csv(machine, take))
    window.bring_in(tmp_path / "again.take.json", tmp_path / "again.csv")
    made = window.session.document.takes[-2:]
    assert {one.name for one in made} == {"again", "again 2"}
    wanted = rehearse(machine, take)
    for one in made:
        assert [step.situation.states for step in rehearse(machine, one).steps] == [
            step.situation.states for step in wanted.steps
        ]
    assert take.expects in [one.expects for one in made]
    window.bring_in(log)
    station: Any = window.station(RehearseStation)
    wait_for(lambda: station.comparison.difference is not None)


@pytest.mark.long
def test_a_take_that_sets_what_there_is_not_is_a_sentence(window: Window, tmp_path: Path, boxes: list[str]) -> None:
    for name, text, says in (
        (
            "a.json",
            '{"leanstep_take": 1, "name": "a", "ticks": 3, "changes": [{"at": 0, "set": {"jmp": true}}]}',
            "jmp",
        ),
        ("b.json", '{"leanstep_take": 2, "name": "a", "ticks": 3}', "version 2"),
        ("c.json", '{"leanstep_take": 1, "ticks": "x"}', "no take as JSON"),
        ("d.csv", "tick,jmp\n0,1\n", "jmp"),
    ):
        (tmp_path / name).write_text(text)
        before = window.session.document
        window.bring_in(tmp_path / name)
        assert says in boxes[-1] and window.session.document is before


@pytest.mark.long
def test_a_state_graph_is_opened_as_a_new_character_and_what_was_left_out_is_told(
    window: Window, tmp_path: Path, boxes: list[str]
) -> None:
    path = tmp_path / "door.scxml"
    path.write_text(
        '<scxml xmlns="http://www.w3.org/2005/07/scxml" version="1.0">\n<script>x()</script>\n'
        '<state id="shut"><transition event="push" target="open"/></state><state id="open"/></scxml>'
    )
    window.bring_in(path)
    document = window.session.document
    assert [state.name for state in document.layers[0].states] == ["shut", "open"] and document.name == "door"
    assert window.route.current == "Graph" and window.session.history.path is None and window.session.history.changed
    assert "line 2: <script> is left out" in window.notices.text.text() and window.notices.isVisible()
    QTest.mouseClick(window.notices.buttons[0], LEFT)
    assert not window.notices.isVisible()
    window.session.history._saved = document
    path.write_text("<html/>")
    window.bring_in(path)
    assert "not scxml" in boxes[-1] and window.session.document is document


@pytest.mark.long
def test_a_log_that_begins_in_the_middle_is_searched_for_and_its_take_begins_there(window: Window, log: Path) -> None:
    head, *rows = log.read_text().splitlines()
    log.write_text("\n".join([head, *rows[12:]]))
    press(window, Qt.Key.Key_5, CTRL)
    found: Any = window.station(RehearseStation)
    found.comparison.bring_in(log)
    wait_for(lambda: found.comparison.difference is not None)
    words = found.comparison.words.text().splitlines()
    assert words[0].startswith("The log begins in the middle, on tick 12: of ")
    take = window.session.document.takes[-1]
    assert take.name == "log logged" and take.ticks == 287 and take.begins is not None
    assert found.comparison.difference.tick == 21


def test_searching_where_a_log_begins_is_shown_and_stopped_and_what_is_not_found_is_said(
    window: Window, log: Path, boxes: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    head, *rows = log.read_text().splitlines()
    log.write_text("\n".join([head, *rows[12:]]))
    press(window, Qt.Key.Key_5, CTRL)
    found: Any = window.station(RehearseStation)
    takes = window.session.document.takes
    monkeypatch.setattr(comparison, "begun", forever)
    found.comparison.bring_in(log)
    wait_for(lambda: "Searching where it begins: 7 situations tried" in found.comparison.words.text())
    assert found.comparison.isVisible() and found.comparison.geometry().top() > found.scroller.geometry().bottom()
    QTest.mouseClick(found.comparison.stop_button, LEFT)
    assert not found.comparison.isVisible() and window.session.document.takes == takes
    monkeypatch.setattr(comparison, "begun", nowhere)
    found.comparison.bring_in(log)
    wait_for(lambda: bool(boxes))
    assert "nothing that was played comes there" in boxes[0] and not found.comparison.isVisible()


def forever(machine: Machine, log: Log, work: Work) -> Log:
    while True:
        work.at(7)
        time.sleep(0.01)


def nowhere(machine: Machine, log: Log, work: Work) -> Log:
    raise LeanStepError("the log", "nothing that was played comes there", "Log from tick 0 on.")
