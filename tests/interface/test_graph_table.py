"""The graph as a table: opened, sorted, filtered, chosen from, edited in place, with what the takes take."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from leanstep.core.character.edits import change
from leanstep.core.naming.references import Thing
from leanstep.core.naming.transitions import name_of
from leanstep.core.rehearsal.coverage import coverage
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.graph.table import DECIDED, FROM, STEERED, TAKEN, TO, WHEN, TransitionTable
from leanstep.desk.window import Window
from tests.interface.conftest import wait_checked
from tests.interface.test_sheets import wait_until

LEFT = Qt.MouseButton.LeftButton


def table_of(window: Window) -> TransitionTable:
    window.go("Graph")
    station = window.station(GraphStation)
    assert station.page.isVisible()
    modifiers = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    QTest.keyClick(window, Qt.Key.Key_E, modifiers)
    assert station.table.isVisible() and not station.page.isVisible()
    return station.table


def shown(table: TransitionTable, column: int) -> list[Any]:
    return [table.sorted.index(row, column).data() for row in range(table.sorted.rowCount())]


@pytest.mark.long
def test_every_transition_has_a_row_and_how_often_the_takes_take_it(window: Window) -> None:
    table = table_of(window)
    ways = [way for layer in window.session.document.layers for way in layer.transitions]
    assert shown(table, TO) == [way.to for way in ways] and shown(table, WHEN) == [way.when for way in ways]
    wait_until(lambda: table.model.covered is not None, "what is covered")
    covered = coverage(window.session.machine, window.session.document.takes)
    counts = covered.transitions
    places = [
        (at, number)
        for at, layer in enumerate(window.session.document.layers)
        for number in range(len(layer.transitions))
    ]
    assert shown(table, TAKEN) == [counts[place] for place in places]
    assert 0 in shown(table, TAKEN) and max(shown(table, TAKEN)) > 1
    decided = [[one for _, *each in covered.parts(place) for one in each] for place in places]
    assert shown(table, DECIDED) == [f"{sum(each)} of {len(each)}" for each in decided]


@pytest.mark.long
def test_it_counts_what_was_taken_while_somebody_steered(window: Window) -> None:
    live = window.live
    table = table_of(window)
    assert set(shown(table, STEERED)) == {0}
    live.stop()
    live.drive()
    live.hands.key("Space", True)
    fired = [0] * len(window.session.document.layers[0].transitions)
    for _ in range(60):
        live.tick()
        if live.last is not None and live.last.fired[0] >= 0:
            fired[live.last.fired[0]] += 1
    assert sum(fired) > 1 and shown(table, STEERED)[: len(fired)] == fired
    hot = table.sorted.index(fired.index(max(fired)), STEERED).data(Qt.ItemDataRole.BackgroundRole)
    assert hot is not None and hot.alpha() == 110
    live.leave()
    window.session.edit(
        "moved one", lambda document: change(document, ("layers", 0), transitions=document.layers[0].transitions[::-1])
    )
    assert shown(table, STEERED)[: len(fired)] == fired[::-1], "they stay with their transitions"
    live.play(window.session.document.takes[0])
    for _ in range(60):
        live.tick()
    assert shown(table, STEERED)[: len(fired)] == fired[::-1], "takes are counted by themselves"


@pytest.mark.long
def test_what_no_take_takes_is_dashed_on_the_page_until_the_character_is_another_one(window: Window) -> None:
    window.go("Graph")
    station = window.station(GraphStation)
    page = station.page
    QTest.qWait(20)
    before = page.grab().toImage()
    table = table_of(window)
    wait_until(lambda: table.model.covered is not None, "what is covered")
    station.table_button.click()
    assert page.isVisible() and "Dashed: no take takes it." in station.sentence.text()
    counts = coverage(window.session.machine, window.session.document.takes).transitions
    dashed = [arc for arc in page.page.arcs if page._never_taken(arc)]
    assert dashed and all(not counts[arc.layer, number] for arc in dashed for number in arc.transitions)
    plain = [arc for arc in page.page.arcs if arc not in dashed]
    assert all(any(counts[arc.layer, number] for number in arc.transitions) for arc in plain)
    assert page.grab().toImage() != before
    stride = next(arc for arc in plain if (arc.source, arc.target) == ("idle", "stride"))
    assert f"taken {counts[0, 0]} times by takes" in page._tip(stride)
    window.session.edit("a name", lambda document: change(document, (), name="Somebody"))
    assert "Dashed" not in station.sentence.text() and not any(map(page._never_taken, page.page.arcs))


@pytest.mark.long
def test_it_is_filtered_by_what_a_condition_reads_and_sorted_by_a_column(window: Window) -> None:
    table = table_of(window)
    table.words.setFocus()
    QTest.keyClicks(table.words, "climbing")
    assert shown(table, WHEN) and all("climbing" in text for text in shown(table, WHEN))
    table.words.clear()
    table.table.sortByColumn(FROM, Qt.SortOrder.AscendingOrder)
    assert shown(table, FROM) == sorted(shown(table, FROM))


def test_what_is_chosen_in_it_is_chosen_on_the_page_and_the_other_way_round(window: Window) -> None:
    table = table_of(window)
    view = table.table
    for row, keys in ((1, Qt.KeyboardModifier.NoModifier), (3, Qt.KeyboardModifier.ControlModifier)):
        QTest.mouseClick(view.viewport(), LEFT, keys, view.visualRect(table.sorted.index(row, TO)).center())
    assert window.session.transitions == [(0, 1), (0, 3)]
    assert "2 are chosen" in window.station(GraphStation).drawer.several.text()
    window.session.select(name_of(window.session.document, 0, 5))
    assert [index.row() for index in view.selectionModel().selectedRows()] == [5]


@pytest.mark.long
def test_a_condition_is_written_in_its_row(window: Window) -> None:
    table = table_of(window)
    index = table.sorted.index(2, WHEN)
    table.table.setCurrentIndex(index)
    table.table.edit(index)
    line = table.table.findChild(QLineEdit)
    assert isinstance(line, QLineEdit)
    line.selectAll()
    QTest.keyClicks(line, "speed > 33 and ledge < 4")
    QTest.keyClick(line, Qt.Key.Key_Return)
    QApplication.processEvents()
    document = window.session.document
    assert document.layers[0].transitions[2].when == "speed > 33 and ledge < 4"
    assert "ledge" in {one.name for one in document.parameters}, "what the body can tell is told in the same step"
    wait_until(lambda: shown(table, WHEN)[2] == "speed > 33 and ledge < 4", "the row")
    window.session.undo()
    assert "ledge" not in {one.name for one in window.session.document.parameters}
    QTest.mouseClick(window.station(GraphStation).table_button, LEFT)
    assert window.station(GraphStation).page.isVisible()


@pytest.mark.long
def test_takes_for_the_rest_are_found_added_in_one_step_and_the_search_is_stopped(window: Window) -> None:
    table = table_of(window)
    wait_until(lambda: table.model.covered is not None, "what is covered")
    assert "% is covered" in table.sentence.text()
    before, table.most_ticks = window.session.document, 8_000
    QTest.mouseClick(table.rest_button, LEFT)
    wait_until(lambda: table.rest_button.text() == "Stop looking", "the search")
    QTest.mouseClick(table.rest_button, LEFT)
    assert not table.finding.busy and window.session.document is before
    QTest.mouseClick(table.rest_button, LEFT)
    wait_until(lambda: not table.finding.busy, "the takes")
    added = window.session.document.takes[len(before.takes) :]
    assert added and all(take.expects for take in added)
    window.session.undo()
    assert window.session.document.takes == before.takes


@pytest.mark.long
def test_a_check_of_the_document_before_proves_nothing_about_this_one(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    wait_checked(window)
    table = table_of(window)
    window.session.rename(Thing("state", "light", "base"), "lamp")
    wait_until(lambda: table.model.covered is not None, "what is covered")
    assert not table.model.covered.impossible_states, "the check of the new document has not come yet"
    table.most_ticks = 1_000
    table.make_takes()
    wait_until(lambda: not table.finding.busy, "the takes")
    wait_checked(window)
    wait_until(lambda: table.model.covered is not None, "what is covered with the new takes")
    known = table.model.covered
    table.make_takes()
    table.make_takes()
    assert known.impossible_states, "nobody looks for takes that come to what cannot be reached"
