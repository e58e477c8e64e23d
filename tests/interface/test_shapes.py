"""Squash and lean in the window: made, tried, chosen, renamed, and seen on the figure."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.graph.effect_text import effect_words, read_effects
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.window import Window
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import click, typed
from tests.interface.test_ground import wait_checked

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def panel(window: Window) -> Any:
    """The panel beside the mirror."""
    window.go("Graph")
    window.mirror.show_tab("Shape")
    return window.mirror.shape


def card(panel: Any, name: str) -> Any:
    return next(one for one in panel.cards if one.part.name == name)


@pytest.mark.long
def test_a_squash_is_made_named_chosen_for_a_state_and_seen(window: Window, panel: Any) -> None:
    click(panel, "Add a squash")
    made = card(panel, "squash")
    typed(made.name, "dip")
    assert window.session.document.squashes[-1].name == "dip"
    typed(card(panel, "dip").fields["high"].lineEdit(), "0.5")
    window.session.select_state(0, "crouch")
    station: Any = window.station(GraphStation)
    pick(station.drawer.rows.squash, "squash dip")
    state = next(one for one in window.session.document.layers[0].states if one.name == "crouch")
    assert state.squash == "dip" and card(panel, "dip").used.text() == "Begun by state crouch."
    window.live.drive()
    window.live.hands.key("Down", True)
    begun = window.live.ticks
    while window.live.deformed.high > 0.52:
        window.live.tick()
        assert window.live.ticks < begun + 20
    pieces = of_situation(window.live.machine, window.live.situation, window.live.deformed).pieces
    # the lamp on his pole is squashed with him
    assert len(pieces) == 3 and {piece.scale[1] for piece in pieces} == {window.live.deformed.high}


@pytest.mark.long
def test_a_squash_is_tried_on_the_figure(window: Window, panel: Any) -> None:
    click(card(panel, "brace"), "Try it")
    assert window.live.deformed.begun is not None
    heights = []
    for _ in range(90):
        window.live.tick()
        heights.append(window.live.deformed.high)
    assert min(heights) == pytest.approx(0.92) and heights[-1] == 1.0, "and springs back though it is said to hold"


@pytest.mark.long
def test_renaming_goes_everywhere_and_removing_lets_go(window: Window, panel: Any) -> None:
    typed(card(panel, "into the run").name, "into it")
    state = next(one for one in window.session.document.layers[0].states if one.name == "stride")
    assert state.lean == "into it"
    click(card(panel, "into it"), "Remove")
    state = next(one for one in window.session.document.layers[0].states if one.name == "stride")
    assert state.lean == "" and not window.session.document.leans
    window.session.undo()
    assert card(panel, "into it").part.most == 8.0


@pytest.mark.long
def test_a_name_that_is_taken_and_a_number_that_cannot_be_are_said(window: Window, panel: Any) -> None:
    said = list[str]()
    window.session.said.connect(said.append)
    before = window.session.document
    typed(card(panel, "stretch").name, "landing")
    assert window.session.document == before and "already a squash called landing" in said[-1]


@pytest.mark.long
def test_an_idle_nobody_drew_breathing_breathes_after_one_gesture(window: Window, panel: Any) -> None:
    window.session.select_state(0, "idle")
    station: Any = window.station(GraphStation)
    QTest.mouseClick(station.drawer.rows.breath, LEFT)
    breath = window.session.document.squashes[-1]
    state = next(one for one in window.session.document.layers[0].states if one.name == "idle")
    assert state.squash == breath.name == "breath" and breath.whole_pixels and breath.every
    heights = []
    for _ in range(150):
        window.live.tick()
        heights.append(window.live.deformed.high)
    assert max(heights) == pytest.approx(breath.high, abs=1e-3) and min(heights) == pytest.approx(1.0, abs=1e-3)
    assert not station.drawer.rows.breath.isEnabled()
    window.session.undo()
    assert window.session.document.squashes[-1].name == "brace"


@pytest.mark.parametrize("words", ["squash landing", "lean into the run", "end squash", "end lean; squash brace"])
def test_effects_are_written_in_words(words: str) -> None:
    assert effect_words(read_effects(words)) == words


@pytest.mark.long
def test_a_mark_can_squash_and_a_squash_nobody_has_is_said(window: Window) -> None:
    window.go("Graph")
    window.session.select_state(0, "crouch")
    station: Any = window.station(GraphStation)
    typed(station.drawer.rows.entry, "squash landing")
    state = next(one for one in window.session.document.layers[0].states if one.name == "crouch")
    assert state.on_entry[0].do == "squash" and not station.drawer.rows.fault.text()
    typed(station.drawer.rows.entry, "squash lnading")
    assert "no squash is called lnading" in station.drawer.rows.fault.text()
    assert "landing" in station.drawer.rows.fault.text()


@pytest.mark.long
def test_findings_of_motion_lead_to_what_is_mended(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    wait_checked(window)
    station: Any = window.station(FindingsStation)
    for kind, where, chosen in (
        ("squash.stays", "Graph", Thing("squash", "brace")),
        ("travel.inside", "Clips", Thing("clip", "over")),
        ("clip.slide", "Clips", Thing("clip", "run")),
    ):
        window.go("Findings")
        row = next(at for at, one in enumerate(station.model.items) if one.id == kind)
        station.list.setCurrentIndex(station.model.index(row))
        station.show_place()
        assert window.route.current == where and window.session.selection.latest == chosen
        assert window.mirror.shape.isVisible() or kind != "squash.stays"
