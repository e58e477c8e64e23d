"""Phases by mouse and keyboard: drawn, moved, typed, removed; the sentence above the film, and the table of all actions."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest

from leanstep.core.character.clips import Phase, Strike
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.phase_band import HIGH, PhaseBand
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.widgets.basics import NumberField
from leanstep.desk.window import Window

LEFT = Qt.MouseButton.LeftButton
PLAIN, ALT = Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.AltModifier


@pytest.fixture
def station(window: Window) -> ClipsStation:
    """The station with the clip light (7 cels of 7 ticks, once), paused."""
    window.go("Clips")
    window.session.select(Thing("clip", "light"))
    made = window.station(ClipsStation)
    made.toggle()
    return made


def at(band: PhaseBand, tick: float) -> QPoint:
    return QPointF(band.x_of(tick), HIGH / 2).toPoint()


def dragged(band: PhaseBand, start: float, end: float, keys: Qt.KeyboardModifier = PLAIN) -> None:
    QTest.mousePress(band, LEFT, keys, at(band, start))
    QTest.mouseMove(band, (at(band, start) + at(band, end)) * 0.5)
    QTest.mouseMove(band, at(band, end))
    QTest.mouseRelease(band, LEFT, keys, at(band, end))


def typed(field: NumberField, text: str) -> None:
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def phases(station: ClipsStation) -> list[tuple[str, float, float]]:
    assert station.clip is not None
    return [(one.kind, one.start, one.end) for one in station.clip.phases]


def shown(station: ClipsStation) -> list[tuple[str, int]]:
    return [(one.kind, (one.end - one.start) // 65536) for one in station.phases.band.stretches]


@pytest.mark.long
def test_one_drag_says_when_it_can_hit_and_all_the_rest(station: ClipsStation) -> None:
    band = station.phases.band
    assert not station.phases.sentence.isVisible() and not station.phases.row.isVisible()
    # near the edges of cels, which catch
    dragged(band, 14.2, 20.8)
    assert phases(station) == [("active", 14, 21)]
    assert shown(station) == [("startup", 14), ("active", 7), ("recovery", 28)]
    assert station.phases.sentence.text() == (
        "Starts in 14, is active for 7, recovers in 28 ticks: minus 34 to minus 28 on hit and minus 34 to minus 28 on guard."
    )
    station.session.undo()
    assert phases(station) == [] and not station.phases.sentence.isVisible()


@pytest.mark.long
def test_ends_and_all_of_it_are_dragged_each_in_one_step(station: ClipsStation) -> None:
    band = station.phases.band
    dragged(band, 14, 21)
    dragged(band, 21, 27.9)
    assert phases(station) == [("active", 14, 28)]
    dragged(band, 14, 10, ALT)
    assert phases(station) == [("active", 10, 28)]
    dragged(band, 19, 22)
    assert phases(station) == [("active", 13, 31)]
    for before in ((10, 28), (14, 28), (14, 21)):
        station.session.undo()
        assert phases(station) == [("active", *before)]
    # not before the clip begins
    dragged(band, 20, 1)
    assert phases(station)[0][1] >= 0


@pytest.mark.long
def test_the_numbers_of_the_chosen_one_are_typed(station: ClipsStation) -> None:
    band, row = station.phases.band, station.phases.row
    dragged(band, 14, 21)
    typed(row.start, "9")
    typed(row.end, "13")
    typed(row.stun, "45")
    typed(row.guard_stun, "27")
    assert phases(station) == [("active", 9, 13)] and station.clip is not None
    assert station.clip.strike == Strike(stun=45, guard_stun=27)
    assert station.phases.sentence.text().endswith("plus 5 to plus 8 on hit and minus 13 to minus 10 on guard.")
    assert row.start.value() == 9
    # what cannot be is said, and nothing is changed
    said: list[str] = []
    station.session.said.connect(said.append)
    typed(row.end, "4")
    assert phases(station) == [("active", 9, 13)] and "not after its start" in said[-1] and row.end.value() == 13


@pytest.mark.long
def test_a_second_window_a_gap_that_starts_up_and_one_that_hits_again(station: ClipsStation) -> None:
    band, row = station.phases.band, station.phases.row
    dragged(band, 7, 14)
    dragged(band, 28, 35)
    assert shown(station) == [("startup", 7), ("active", 7), ("recovery", 14), ("active", 7), ("recovery", 14)]
    QTest.mouseClick(row.again, LEFT, pos=QPoint(8, row.again.height() // 2))
    assert station.clip is not None and station.clip.phases[1] == Phase(start=28, end=35, again=True)
    # a click on what lies between chooses it, and it can be called something else
    QTest.mouseClick(band, LEFT, PLAIN, at(band, 21))
    assert row.which.text() == "Between phases" and not row.start.isEnabled()
    row.kind.setFocus()
    QTest.keyClick(row.kind, Qt.Key.Key_Up)
    QTest.keyClick(row.kind, Qt.Key.Key_Up)
    assert phases(station) == [("active", 7, 14), ("startup", 14, 28), ("active", 28, 35)]
    assert "is active again for 7 after 14" in station.phases.sentence.text()
    QTest.mouseClick(band, LEFT, PLAIN, at(band, 3))
    assert row.which.text() == "Before the first" and not row.kind.isEnabled()


@pytest.mark.long
def test_phases_are_worked_by_keyboard_alone(station: ClipsStation) -> None:
    band = station.phases.band
    band.setFocus()
    station.step(9)
    QTest.keyClick(band, Qt.Key.Key_Insert)
    start = phases(station)[0][1]
    assert phases(station) == [("active", start, start + 2)]
    QTest.keyClick(band, Qt.Key.Key_Right)
    QTest.keyClick(band, Qt.Key.Key_Right, ALT)
    assert phases(station) == [("active", start + 1, start + 4)]
    QTest.keyClick(band, Qt.Key.Key_Down)
    assert band.stretch is not None and band.stretch.kind == "recovery"
    QTest.keyClick(band, Qt.Key.Key_Up)
    QTest.keyClick(band, Qt.Key.Key_Delete)
    assert phases(station) == []


def test_what_nobody_wrote_cannot_be_removed_and_that_is_said(station: ClipsStation) -> None:
    dragged(station.phases.band, 14, 21)
    said: list[str] = []
    station.session.said.connect(said.append)
    QTest.mouseClick(station.phases.band, LEFT, PLAIN, at(station.phases.band, 40))
    QTest.keyClick(station.phases.band, Qt.Key.Key_Delete)
    assert "Choose a phase first" in said[-1] and len(phases(station)) == 1


@pytest.mark.long
def test_the_last_active_one_called_recovery_can_be_called_active_again(station: ClipsStation) -> None:
    band, row = station.phases.band, station.phases.row
    dragged(band, 14, 21)
    row.kind.setFocus()
    QTest.keyClick(row.kind, Qt.Key.Key_Down)
    assert phases(station) == [("recovery", 14, 21)]
    assert station.phases.sentence.text().startswith("It cannot hit")
    QTest.mouseClick(band, LEFT, PLAIN, at(band, 17))
    row.kind.setFocus()
    QTest.keyClick(row.kind, Qt.Key.Key_Up)
    assert phases(station) == [("active", 14, 21)]


@pytest.mark.long
def test_a_stretched_cel_takes_the_phase_along(station: ClipsStation) -> None:
    dragged(station.phases.band, 14, 21)
    station.film.choose(0)
    typed(station.cel_row.ticks, "10")
    assert phases(station) == [("active", 17, 24)]


@pytest.mark.long
def test_all_actions_stand_beside_each_other_and_are_sorted(window: Window, station: ClipsStation) -> None:
    dragged(station.phases.band, 14, 21)
    window.session.select(Thing("clip", "hurt"))
    dragged(station.phases.band, 3, 6)
    QTest.mouseClick(station.phases.all, LEFT)
    table = station.phases.table.table
    assert table.isVisible() and not station.large.isVisible()

    def column(number: int) -> list[str]:
        cells = (table.item(row, number) for row in range(table.rowCount()))
        return [cell.text() for cell in cells if cell is not None]

    assert column(0) == ["light", "hurt"] and column(2) == ["14", "3"]
    head = table.horizontalHeader()
    QTest.mouseClick(head.viewport(), LEFT, PLAIN, QPoint(head.sectionViewportPosition(2) + 20, 8))
    assert column(2) == ["3", "14"]
    # by keyboard, too
    chosen = station.phases.table.sorted_by
    chosen.setFocus()
    QTest.keyClick(chosen, Qt.Key.Key_Down)
    assert column(0) == ["hurt", "light"]
    QTest.mouseClick(station.phases.table.copy_button, LEFT)
    assert QGuiApplication.clipboard().text().splitlines()[1].startswith("light,light,14,7,28")
    table.setFocus()
    table.setCurrentCell(column(0).index("light"), 0)
    QTest.keyClick(table, Qt.Key.Key_Return)
    assert station.current == "light" and station.large.isVisible()


@pytest.mark.long
def test_a_condition_may_ask_for_it(station: ClipsStation) -> None:
    dragged(station.phases.band, 14, 21)
    machine = station.live.machine
    assert not machine.faults and any(
        one.name == "phase active" for picture in machine.pictures[0] if picture for one in picture.reels[0].windows
    )
