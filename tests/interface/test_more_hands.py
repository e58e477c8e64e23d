"""The smaller things hands do: order, sizes, zoom, night, lists, drops."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, load, save
from leanstep.core.character.takes import Change, Take
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.migration import carried
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.theme import DAY, NIGHT, theme
from leanstep.desk.widgets.notice import Notice
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.support.build import DEMO, sketch, way

LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier


def luminance(colour: str) -> float:
    """Relative luminance of an sRGB colour (WCAG 2.1)."""
    parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    """Contrast ratio of two colours."""
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def test_text_colours_have_enough_contrast_by_day_and_by_night() -> None:
    for paper in (DAY, NIGHT):
        for ground in (paper.paper, paper.leaf):
            for text in (paper.ink, paper.soft, paper.error, paper.mark):
                assert contrast(text, ground) >= 4.5, (text, ground)
        assert contrast(paper.on_chosen, paper.chosen) >= 4.5
        assert contrast(paper.on_warning, paper.warning) >= 4.5
        for tint in paper.tints:
            assert contrast(paper.ink, tint) >= 4.5, tint
        for hue in paper.hues:
            assert contrast(hue, paper.leaf) >= 3, hue


@pytest.mark.long
def test_night_and_day_switch_and_are_remembered(window: Window) -> None:
    window.toggle_night()
    assert theme.night and window.session.settings.value("night")
    window.toggle_night()
    assert not theme.night


def test_a_notice_that_is_shown_changes_its_paper_too(window: Window) -> None:
    window.notices.put(Notice("test", "Something is to be said.", ()))
    at = window.notices.width() - 4, window.notices.height() // 2
    day = window.notices.grab().toImage().pixelColor(*at).lightness()
    window.toggle_night()
    night = window.notices.grab().toImage().pixelColor(*at).lightness()
    window.toggle_night()
    assert day > 200 > 100 > night


def test_no_part_of_the_window_keeps_a_colour_of_the_day(window: Window) -> None:
    window.notices.put(Notice("test", "Something is to be said.", ()))
    for name in window.stations:
        window.go(name)
    colours = [colour for colour in asdict(DAY).values() if isinstance(colour, str)]
    dressed = [one.styleSheet() for one in window.findChildren(QWidget) if one.styleSheet()]
    assert dressed
    assert not [sheet for sheet in dressed if any(colour in sheet for colour in colours)]


@pytest.mark.long
def test_the_route_is_walked_by_keyboard(window: Window) -> None:
    window.go("Graph")
    window.route.setFocus()
    QTest.keyClick(window.route, Qt.Key.Key_Right)
    assert window.stack.currentIndex() == 4
    QTest.mouseClick(window.route, LEFT, pos=window.route.stop(1).center().toPoint())
    assert window.stack.currentIndex() == 1


@pytest.mark.long
def test_the_mirror_has_three_sizes_remembered_per_station(window: Window) -> None:
    window.go("Clips")
    widths = set()
    for _ in range(3):
        widths.add(window.mirror.width())
        QTest.keyClick(window, Qt.Key.Key_M, CTRL)
        QApplication.processEvents()
    assert len(widths) == 3
    QTest.keyClick(window, Qt.Key.Key_M, CTRL)
    stage = window.mirror.width()
    window.go("Blends")
    other = window.mirror.width()
    window.go("Clips")
    assert window.mirror.width() == stage != other


@pytest.mark.long
def test_order_decides_and_is_changed_in_the_drawer(window: Window) -> None:
    window.go("Graph")
    before = [one.to for one in window.session.document.layers[0].transitions if one.source == "idle"]
    window.session.select_transition(0, 0)
    drawer = window.station(GraphStation).drawer
    drawer.order(1)
    after = [one.to for one in window.session.document.layers[0].transitions if one.source == "idle"]
    assert after == [before[1], before[0], *before[2:]]
    assert window.session.document.layers[0].transitions[window.session.transition[1]].to == before[0]
    drawer.order(-1)
    drawer.order(-1)
    assert "already tried first" in window.status.text()
    window.session.undo()
    window.session.undo()
    assert dump(window.session.document) == window.session.history.path.read_bytes()


@pytest.mark.long
def test_a_removed_state_comes_back_with_undo(window: Window) -> None:
    window.go("Graph")
    page = window.station(GraphStation).page
    window.session.select_state(0, "skid")
    page.setFocus()
    QTest.keyClick(page, Qt.Key.Key_Delete)
    assert (0, "skid") not in page.page.slots
    assert "removed state skid" in window.undo_button.toolTip()
    QTest.mouseClick(window.undo_button, LEFT)
    assert (0, "skid") in page.page.slots
    QTest.mouseClick(window.redo_button, LEFT)
    assert (0, "skid") not in page.page.slots


@pytest.mark.long
def test_the_last_state_of_a_layer_stays(window: Window) -> None:
    window.new()
    window.go("Graph")
    window.session.select_state(0, "idle")
    window.station(GraphStation).drawer.remove()
    assert "needs at least one state" in window.status.text()
    assert len(window.session.document.layers[0].states) == 1


@pytest.mark.long
def test_arrow_keys_walk_over_the_figures(window: Window) -> None:
    window.go("Graph")
    page = window.station(GraphStation).page
    window.session.clear_selection()
    page.setFocus()
    seen = []
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Up):
        QTest.keyClick(page, key)
        seen.append(window.session.state[1])
    assert seen == ["idle", "stride", "rise", "over", "rise"]
    QTest.keyClick(page, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    lane = [state.name for state in window.session.document.layers[0].states if state.lane == "air"]
    assert lane == ["take-off", "fall", "rise"]


@pytest.mark.long
def test_an_arc_is_chosen_by_a_click_and_its_source_changed(window: Window) -> None:
    window.go("Graph")
    page, drawer = window.station(GraphStation).page, window.station(GraphStation).drawer
    arc = next(arc for arc in page.page.arcs if (arc.source, arc.target) == ("idle", "crouch"))
    (x0, y0), (x1, _) = arc.points[1], arc.points[2]
    QTest.mouseClick(page, LEFT, pos=QPoint(int((x0 + 3 * x1) / 4), int(y0)))
    assert window.session.document.layers[0].transitions[window.session.transition[1]].to == "crouch"
    drawer.source.setCurrentText("lane ground")
    drawer.source.activated.emit(drawer.source.currentIndex())
    chosen = window.session.document.layers[0].transitions[window.session.transition[1]]
    assert (chosen.source, chosen.from_lane) == ("", "ground")
    drawer.source.setCurrentText("the whole graph")
    drawer.source.activated.emit(drawer.source.currentIndex())
    chosen = window.session.document.layers[0].transitions[window.session.transition[1]]
    assert (chosen.source, chosen.from_lane) == ("", "")


@pytest.mark.long
def test_names_complete_in_the_condition_line(window: Window) -> None:
    window.go("Graph")
    window.session.select_transition(0, 0)
    line = window.station(GraphStation).drawer.line
    line.clear()
    QTest.keyClicks(line, "gro")
    completions = [line._completer.completionModel().index(row, 0).data() for row in range(3)]
    assert "grounded" in completions
    line._insert("grounded")
    assert line.text() == "grounded"


@pytest.mark.long
def test_the_timeline_zooms_with_the_wheel(window: Window) -> None:
    window.go("Rehearse")
    timeline = window.station(RehearseStation).timeline
    whole = timeline.last - timeline.first
    middle = QPointF(timeline.width() / 2, 30)

    def turn(steps: int) -> None:
        event = QWheelEvent(
            middle, timeline.mapToGlobal(middle), QPoint(), QPoint(0, 120 * steps), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(timeline, event)

    turn(1)
    assert timeline.last - timeline.first < whole
    for _ in range(12):
        turn(-1)
    assert (timeline.first, timeline.last) == (0, whole)


@pytest.mark.long
def test_a_new_bar_is_drawn_and_removed_on_an_empty_row(window: Window) -> None:
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.choose("walk-and-jump")
    timeline, light = station.timeline, window.session.machine.index["light"]
    row = next(row for row in timeline._lines if row.kind == "control" and row.index == light)
    y = int(row.top + row.height / 2)
    QTest.mousePress(timeline, LEFT, pos=QPoint(round(timeline.x_of(40)), y))
    QTest.mouseMove(timeline, QPoint(round(timeline.x_of(80)), y))
    QTest.mouseRelease(timeline, LEFT, pos=QPoint(round(timeline.x_of(80)), y))
    pressed = [change.at for change in station.take.changes if "light" in change.set]
    assert len(pressed) == 2 and abs(pressed[0] - 40) <= 1 and abs(pressed[1] - 80) <= 1
    QTest.mouseDClick(timeline, LEFT, pos=QPoint(round(timeline.x_of(60)), y))
    assert not [change for change in station.take.changes if "light" in change.set]


@pytest.mark.long
def test_a_long_take_is_rehearsed_in_slices(
    open_window: Callable[..., Window], demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("leanstep.desk.stations.rehearse.station.SLICE", 0.0)
    path = demo / "lamplighter.leanstep"
    character = load(path)
    changes = tuple(Change(at=at, set={"stick.x": (-1.0, 0.0, 1.0)[at // 100 % 3]}) for at in range(0, 9000, 100))
    save(path, Character(**{key: getattr(character, key) for key in character.__struct_fields__ if key != "takes"},
                         takes=(Take(name="long", ticks=9000, changes=changes),)))  # fmt: skip
    window = open_window(path)
    window.go("Rehearse")
    station = window.station(RehearseStation)
    assert "Rehearsing" in station.sentence.text()
    window.live.stop()
    station.course.grab()
    for _ in range(3000):
        QTest.qWait(20)
        if "ends in" in station.sentence.text():
            break
    assert len(station.trace.steps) == 9000 and station.timeline.trace is station.trace
    in_slices = station.course.grab().toImage()
    monkeypatch.setattr("leanstep.desk.stations.rehearse.station.SLICE", 60.0)
    station.refresh()
    assert "ends in" in station.sentence.text()
    assert station.course.grab().toImage() == in_slices, "the path of the take is whole"


@pytest.mark.long
def test_takes_are_renamed_and_removed(window: Window) -> None:
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.name.selectAll()
    QTest.keyClicks(station.name, "along the quay")
    QTest.keyClick(station.name, Qt.Key.Key_Return)
    assert window.session.document.takes[0].name == "along the quay"
    station.remove()
    assert [take.name for take in window.session.document.takes] == ["ladder-and-lamp", "hit-in-the-air", "down-again"]
    window.session.undo()
    window.session.undo()
    assert window.session.document.takes[0].name == "walk-and-jump"


@pytest.mark.long
def test_a_dropped_image_becomes_a_sheet(window: Window, demo: Path) -> None:
    before = [sheet.name for sheet in window.session.document.sheets]
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(demo / "art" / "ferry-hand.png"))])
    event = QDropEvent(QPointF(200, 300), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(event)
    assert [sheet.name for sheet in window.session.document.sheets] == [*before, "ferry-hand"]
    assert window.session.document.sheets[-1].image == "art/ferry-hand.png"
    assert window.stack.currentIndex() == 0


@pytest.mark.long
def test_a_new_character_can_be_steered_at_once(window: Window) -> None:
    window.new()
    window.live.drive()
    QTest.keyPress(window.station(SheetsStation), Qt.Key.Key_Right)
    ticks(window, 30)
    assert window.live.situation.body.x > 10


def test_an_edit_keeps_the_character_in_its_place() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    old = compile_character(character)
    before = rehearse(old, character.takes[0], most=150).steps[-1].situation
    new = compile_character(rename(character, Thing("state", character.layers[0].states[5].name, "base"), "leap"))
    after = carried(old, new, before, rehearse(new, Take(name="none", ticks=0)).first)
    assert after.body == before.body and after.values == before.values and after.states == before.states
    other = compile_character(sketch(way("a>b")))
    lost = carried(old, other, before, rehearse(other, Take(name="none", ticks=0)).first)
    assert lost.states == (0,) and lost.body == before.body


@pytest.mark.long
def test_a_character_without_layers_opens_and_gets_its_first_state(
    open_window: Callable[..., Window], tmp_path: Path
) -> None:
    path = tmp_path / "bare.leanstep"
    path.write_text('{"leanstep": 1}')
    window = open_window(path)
    for name in window.stations:
        window.go(name)
        QApplication.processEvents()
    window.go("Graph")
    window.station(GraphStation).add_state()
    assert [state.name for state in window.session.document.layers[0].states] == ["idle"]
    window.session.undo()
    ticks(window, 3)
    assert window.session.document.layers == ()


@pytest.mark.long
def test_a_cel_is_turned_and_takes_its_frame_from_another_sheet(window: Window, demo: Path) -> None:
    window.bring_in(demo / "art" / "ferry-hand.png")
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.choose("walk")
    clips.film.setFocus()
    QTest.keyClick(clips.film, Qt.Key.Key_Right)
    at = clips.film.chosen
    assert at == 1
    clips.cel_row.turns.setValue(3)
    clips.cel_row.from_sheet.setCurrentText("ferry-hand")
    clips.cel_row.from_sheet.activated.emit(clips.cel_row.from_sheet.currentIndex())
    clips.settings.facing.activated.emit(clips.settings.facing.findData("left"))
    clip = next(one for one in window.session.document.clips if one.name == "walk")
    assert (clip.cels[at].turns, clip.cels[at].sheet, clip.facing) == (3, "ferry-hand", "left")
    clips.cel_row.from_sheet.setCurrentText("lamplighter")
    clips.cel_row.from_sheet.activated.emit(clips.cel_row.from_sheet.currentIndex())
    clip = next(one for one in window.session.document.clips if one.name == "walk")
    assert clip.cels[at].sheet == "", "its clip's own sheet needs not be said"
    assert clips.settings.facing.currentData() == "left"
