"""Several things chosen with Ctrl and Shift, set for all; copies of what has a name; and the menu under the right button."""

from __future__ import annotations

from typing import Any

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractScrollArea, QApplication, QMenu, QWidget

from leanstep.core.character.graph import Layer
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.widgets.menu import ContextMenu
from leanstep.desk.window import Window

LEFT = Qt.MouseButton.LeftButton
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
NONE = Qt.KeyboardModifier.NoModifier


def at(window: Window, name: str) -> Any:
    window.go(name)
    return window.stations[name]


def menu_of(view: QWidget, where: QPoint) -> QMenu:
    """The menu that the right button opens at a place of a view."""
    seen = view.viewport() if isinstance(view, QAbstractScrollArea) else view
    QTest.mousePress(seen, Qt.MouseButton.RightButton, pos=where)
    QTest.mouseRelease(seen, Qt.MouseButton.RightButton, pos=where)
    QApplication.sendEvent(seen, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, where, seen.mapToGlobal(where)))
    menu = next(one.menu for one in view.findChildren(ContextMenu) if one.parent() is view)
    assert menu is not None and menu.isVisible()
    return menu


def entries(menu: QMenu) -> list[str]:
    return [one.text().split("\t")[0] for one in menu.actions() if one.text()]


def do(menu: QMenu, name: str) -> None:
    action = next(one for one in menu.actions() if one.text().split("\t")[0] == name)
    assert action.isEnabled()
    menu.close()  # as it does before what is chosen from it is done
    action.trigger()


def base(window: Window) -> Layer:
    return window.session.document.layers[0]


# --- cels


@pytest.fixture
def film(window: Window) -> Any:
    clips = at(window, "Clips")
    window.session.select(Thing("clip", "walk"))
    clips.toggle()
    return clips.film


def band(film: Any, cel: int) -> QPoint:
    return film.band(cel).center().toPoint()


@pytest.mark.long
def test_what_is_set_for_a_cel_is_set_for_all_chosen_ones(window: Window, film: Any) -> None:
    clips, count = window.station(ClipsStation), len(film.clip.cels)
    QTest.mouseClick(film, LEFT, pos=band(film, 1))
    QTest.mouseClick(film, LEFT, SHIFT, band(film, 3))
    assert film.all == [1, 2, 3] and clips.cel_row.which.text().startswith("3 cels")
    QTest.mouseClick(film, LEFT, CTRL, band(film, 2))
    assert film.all == [1, 3]
    QTest.mouseClick(clips.cel_row.mirrored, LEFT)
    assert [cel.mirrored for cel in film.clip.cels] == [at in (1, 3) for at in range(count)]
    before = [cel.ticks for cel in film.clip.cels]
    film.setFocus()
    QTest.keyClick(film, Qt.Key.Key_Plus)
    assert [cel.ticks for cel in film.clip.cels] == [ticks + (at in (1, 3)) for at, ticks in enumerate(before)]
    window.session.undo()
    window.session.undo()
    assert not any(cel.mirrored for cel in film.clip.cels), "one step each, for all of them"


@pytest.mark.long
def test_chosen_cels_are_moved_and_taken_out_together(window: Window, film: Any) -> None:
    frames = [cel.frame for cel in film.clip.cels]
    film.setFocus()
    film.choose(0)
    QTest.keyClick(film, Qt.Key.Key_Right, CTRL | SHIFT)
    QTest.keyClick(film, Qt.Key.Key_Right, SHIFT)
    assert [cel.frame for cel in film.clip.cels] == [frames[2], *frames[:2], *frames[3:]] and film.all == [1, 2]
    QTest.keyClick(film, Qt.Key.Key_Left, SHIFT)
    QTest.keyClick(film, Qt.Key.Key_Left, SHIFT)
    assert [cel.frame for cel in film.clip.cels] == frames, "no farther than the edge"
    QTest.keyClick(film, Qt.Key.Key_Delete)
    assert [cel.frame for cel in film.clip.cels] == frames[2:]
    QTest.keyClick(film, Qt.Key.Key_A, CTRL)
    assert film.all == list(range(len(frames) - 2))


@pytest.mark.long
def test_a_cel_can_do_under_the_right_button_what_it_can_elsewhere(window: Window, film: Any) -> None:
    count = len(film.clip.cels)
    menu = menu_of(film, band(film, 2))
    assert film.all == [2] and film._drag is None, "the right button chooses, and drags nothing"
    assert {"Mirrored", "A quarter turn on", "Duplicate", "Take out", "Choose all"} <= set(entries(menu))
    do(menu, "Duplicate")
    assert len(film.clip.cels) == count + 1 and film.clip.cels[3] == film.clip.cels[2] and film.all == [3]
    do(menu_of(film, band(film, 3)), "Take out")
    assert len(film.clip.cels) == count


# --- lists


def row(window: Window, station: str, name: str) -> QPoint:
    clips: Any = window.stations[station]
    return clips.list.visualRect(clips.model.index(clips.model.row_of(name))).center()


@pytest.mark.long
def test_what_is_set_for_a_clip_is_set_for_all_chosen_ones(window: Window) -> None:
    clips = at(window, "Clips")
    names = clips.names[:3]
    QTest.mouseClick(clips.list.viewport(), LEFT, NONE, row(window, "Clips", names[0]))
    QTest.mouseClick(clips.list.viewport(), LEFT, SHIFT, row(window, "Clips", names[2]))
    assert [one.name for one in clips.chosen] == names and "3 clips" in clips.several.text()
    clips.settings.facing.setCurrentIndex(2)
    clips.settings.facing.activated.emit(2)
    clips.settings.all_ticks.setValue(9)
    chosen = [clip for clip in window.session.document.clips if clip.name in names]
    assert {clip.facing for clip in chosen} == {"left"}
    assert {cel.ticks for clip in chosen for cel in clip.cels} == {9.0}
    assert not any(clip.facing == "left" for clip in window.session.document.clips if clip.name not in names)
    assert [one.name for one in clips.chosen] == names, "they stay chosen"


@pytest.mark.long
def test_parts_of_a_list_are_duplicated_and_removed_together(window: Window) -> None:
    clips = at(window, "Clips")
    before = window.session.document.clips
    names = [clip.name for clip in before[:2]]
    window.session.select(*(Thing("clip", name) for name in names))
    QTest.keyClick(clips.list, Qt.Key.Key_D, CTRL)
    copies = [one.name for one in clips.chosen]
    assert copies == [f"{name} 2" for name in names] and len(window.session.document.clips) == len(before) + 2
    do(menu_of(clips.list, row(window, "Clips", copies[0])), "Remove")
    assert window.session.document.clips == before
    window.session.undo()
    assert [one.name for one in clips.chosen] == copies, "undo brings back what was chosen, too"


@pytest.mark.long
def test_a_list_chooses_what_the_right_button_is_over_and_lets_it_be_renamed(window: Window) -> None:
    clips = at(window, "Clips")
    name = clips.names[2]
    do(menu_of(clips.list, row(window, "Clips", name)), "Rename")
    assert clips.current == name
    QTest.keyClicks(clips.name, "strolling")
    QTest.keyClick(clips.name, Qt.Key.Key_Return)
    assert "strolling" in clips.names and name not in clips.names


# --- the graph


def figure(window: Window, name: str) -> QPoint:
    page: Any = window.station(GraphStation).page
    return page.box_of(page.page.slots[0, name]).center().toPoint()


@pytest.mark.long
def test_what_is_set_for_a_state_is_set_for_all_chosen_ones(window: Window) -> None:
    graph = at(window, "Graph")
    names = [state.name for state in base(window).states][:3]
    for number, name in enumerate(names):
        QTest.mouseClick(graph.page, LEFT, CTRL if number else NONE, figure(window, name))
    assert [name for _, name in window.session.states] == names
    assert "3 states" in graph.drawer.fate.text() and not graph.drawer.name.isEnabled()
    QTest.mouseClick(graph.drawer.ending, LEFT)
    graph.drawer._set_lane("together")
    assert [state.name for state in base(window).states if state.ending and state.lane == "together"] == names
    QTest.mouseClick(graph.page, LEFT, CTRL, figure(window, names[0]))
    assert [name for _, name in window.session.states] == names[1:]
    graph.page.setFocus()
    QTest.keyClick(graph.page, Qt.Key.Key_Delete)
    left = {state.name for state in base(window).states}
    assert names[0] in left and not left & set(names[1:])
    window.session.undo()
    assert len(base(window).states) == len(left) + 2, "one step"


@pytest.mark.long
def test_chosen_states_are_dragged_and_duplicated_together(window: Window) -> None:
    graph = at(window, "Graph")
    lane = base(window).lane_names[0]
    names = [state.name for state in base(window).states if state.lane == lane][:2]
    window.session.select(*(Thing("state", name, "base") for name in names))
    target = next(row for row in graph.page.page.rows if row.lane != lane and row.layer == 0)
    start = figure(window, names[0])
    end = QPoint(start.x(), int((target.top + target.bottom) / 2))
    QTest.mousePress(graph.page, LEFT, NONE, start)
    QTest.mouseMove(graph.page, end)
    QTest.mouseRelease(graph.page, LEFT, NONE, end)
    assert {state.name for state in base(window).states if state.lane == target.lane} >= set(names)
    window.session.undo()
    QTest.keyClick(graph.page, Qt.Key.Key_D, CTRL)
    assert [name for _, name in window.session.states] == [f"{name} 2" for name in names]


def test_a_fade_is_set_for_all_chosen_transitions_and_they_are_duplicated_and_removed(window: Window) -> None:
    graph = at(window, "Graph")
    before = base(window).transitions
    window.session.select_transition(0, 0)
    arcs = [arc for arc in graph.page.page.arcs if arc.layer == 0 and 0 not in arc.transitions and arc.points]
    arc = next(one for one in arcs if graph.page.arc_at(middle(one)) is one and graph.page.slot_at(middle(one)) is None)
    QTest.mouseClick(graph.page, LEFT, CTRL, middle(arc).toPoint())
    chosen = [number for _, number in window.session.transitions]
    assert chosen == [0, *arc.transitions] and f"{len(chosen)} are chosen" in graph.drawer.several.text()
    graph.drawer.more.changed.emit("fade", {"fade": 7.0})
    assert [at for at, way in enumerate(base(window).transitions) if way.fade == 7.0] == sorted(chosen)
    assert sorted(number for _, number in window.session.transitions) == sorted(chosen), "they stay chosen"
    graph.drawer.duplicate()
    assert len(base(window).transitions) == len(before) + len(chosen)
    assert all(base(window).transitions[at] == base(window).transitions[at - 1] for _, at in window.session.transitions)
    graph.page.setFocus()
    QTest.keyClick(graph.page, Qt.Key.Key_Delete)
    assert [(one.source, one.to, one.when) for one in base(window).transitions] == [
        (one.source, one.to, one.when) for one in before
    ]


def middle(arc: Any) -> QPointF:
    (x0, y0), (x1, y1) = arc.points[1], arc.points[2]
    return QPointF((x0 + x1) / 2, (y0 + y1) / 2)


@pytest.mark.long
def test_figures_lanes_and_paper_have_their_menus(window: Window) -> None:
    graph = at(window, "Graph")
    name = base(window).states[1].name
    menu = menu_of(graph.page, figure(window, name))
    assert window.session.state == (0, name) and graph.page._drag is None
    assert {"Rename", "New transition to", "Copy", "Duplicate", "Remove"} <= set(entries(menu))
    do(menu, "Start here")
    assert base(window).start_name == name
    states = len(base(window).states)
    lane = next(row for row in graph.page.page.rows if row.first and row.lane)
    do(menu_of(graph.page, QPoint(60, int(lane.ground - 20))), "Duplicate the lane")
    inside = [state for state in base(window).states if state.lane == lane.lane]
    assert len(base(window).states) == states + len(inside) and f"{lane.lane} 2" in base(window).lane_names
    row = graph.page.page.rows[-1]
    paper = QPoint(graph.page.width() - 8, int(row.bottom - 2))
    do(menu_of(graph.page, paper), "Add a state")
    assert len(base(window).states) == states + len(inside) + 1


# --- blend spaces


@pytest.mark.long
def test_what_is_set_for_a_sample_is_set_for_all_chosen_ones(window: Window) -> None:
    blends = at(window, "Blends")
    view, samples = blends.view, blends.blend.samples
    spots = [view.spot(place).toPoint() for place in view.space.places]
    QTest.mouseClick(view, LEFT, NONE, spots[0])
    QTest.mouseClick(view, LEFT, CTRL, spots[1])
    assert blends.samples.all == [0, 1] and blends.which.text().startswith("2 samples")
    QTest.mouseClick(blends.mirrored, LEFT)
    blends.phase.setValue(0.25)
    made = blends.blend.samples
    assert [(one.mirrored, one.phase) for one in made[:2]] == [(True, 0.25)] * 2 and made[2:] == samples[2:]
    before = [one.at[0] for one in made]
    view.setFocus()
    view.touched = "sample"
    QTest.keyClick(view, Qt.Key.Key_Right)
    moved = [one.at[0] - was for one, was in zip(blends.blend.samples, before, strict=True)]
    assert moved[0] == moved[1] != 0 and not any(moved[2:]), "they move together"
    blends.samples.choose(0)
    do(menu_of(view, view.spot(view.space.places[1]).toPoint()), "Duplicate")
    assert len(blends.blend.samples) == len(samples) + 1 and blends.samples.all == [len(samples)]
    window.session.undo()
    blends.samples.choose(0, 1)
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Delete)
    assert blends.blend.samples == samples[2:]


# --- elsewhere


@pytest.mark.long
def test_frames_are_added_and_let_go_with_ctrl(window: Window) -> None:
    sheets = at(window, "Sheets")
    places = [sheets.view.cell(number).center().toPoint() for number in (2, 0, 4)]
    for number, place in enumerate(places):
        QTest.mouseClick(sheets.view, LEFT, CTRL if number else NONE, place)
    assert sheets.view.chosen == [2, 0, 4], "in the order in which they were chosen"
    QTest.mouseClick(sheets.view, LEFT, CTRL, places[1])
    assert sheets.view.chosen == [2, 4]
    before = len(window.session.document.clips)
    do(menu_of(sheets.view, places[2]), "Make a clip of them")
    made = window.session.document.clips[-1]
    assert len(window.session.document.clips) == before + 1 and [cel.frame for cel in made.cels] == [2, 4]


@pytest.mark.long
def test_an_event_is_duplicated_a_tick_later_or_under_a_free_name(window: Window) -> None:
    clips = at(window, "Clips")
    clip = next(one for one in window.session.document.clips if len(one.marks) > 1)
    window.session.select(Thing("clip", clip.name))
    mark = clip.marks[0]
    do(menu_of(clips.events, clips.events.place(clips.events._events(0)[0]).center().toPoint()), "Duplicate")
    assert {(one.name, one.at) for one in clips.clip.marks} > {(mark.name, mark.at), (mark.name, mark.at + 1)}


@pytest.mark.long
def test_takes_shapes_parameters_controls_and_deformings_are_duplicated(window: Window) -> None:
    rehearse = at(window, "Rehearse")
    take = rehearse.take
    QTest.keyClick(rehearse, Qt.Key.Key_D, CTRL)
    assert rehearse.current == f"{take.name} 2" and rehearse.take.changes == take.changes
    QTest.mouseClick(rehearse.course_button, LEFT)
    shapes = window.session.document.course.shapes
    rehearse.course_row.choose(0)
    do(
        menu_of(rehearse.course, rehearse.course.place(shapes[0].x + 4, shapes[0].y + shapes[0].height / 2).toPoint()),
        "Duplicate",
    )
    assert len(window.session.document.course.shapes) == len(shapes) + 1
    window.mirror.show_tab("Parameters")
    panel: Any = window.mirror.names
    head = panel.rows[0].head
    count = len(window.session.document.parameters)
    do(menu_of(head, head.rect().center()), "Duplicate")
    assert len(window.session.document.parameters) == count + 1


@pytest.mark.long
@pytest.mark.checks
def test_a_finding_has_its_menu(open_window: Any, demo: Any) -> None:
    from tests.interface.test_sheets import wait_until

    window = open_window(demo / "lamplighter-faulty.leanstep")
    findings = at(window, "Findings")
    wait_until(lambda: window.session.report is not None, "the check")
    index = findings.model.index(1)
    menu = menu_of(findings.list, findings.list.visualRect(index).center())
    assert findings.list.currentIndex() == index and {"Show the place", "Mute …"} <= set(entries(menu))
    do(menu, "Mute …")
    assert findings.reason.isVisible()
