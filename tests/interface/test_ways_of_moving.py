"""Ways of moving by mouse and keyboard: what is played instead of what, when, and chosen beside the mirror."""

from __future__ import annotations

import pytest
from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.character.alternates import Instead
from leanstep.core.character.document import Character
from leanstep.core.rehearsal.stepping import shown
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.window import Window
from tests.interface.test_pins_by_hand import chosen, written

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def station(window: Window) -> ClipsStation:
    """The station with the clip limp idle, a slow idle, and one more for the walk."""

    def with_more(document: Character) -> Character:
        clips = {clip.name: clip for clip in document.clips}
        idle = replace(clips["idle"], name="limp idle", marks=(), pins=(), loop="once")
        walk = replace(clips["walk"], name="limp walk", marks=(), pins=(), contacts=())
        return replace(document, clips=(*document.clips, idle, walk))

    window.session.edit("prepared", with_more)
    window.go("Clips")
    made = window.station(ClipsStation)
    made.choose("limp idle")
    return made


@pytest.mark.long
def test_clips_stand_in_for_others_by_a_choice_and_by_their_names(station: ClipsStation) -> None:
    row, session = station.alternate, station.session
    assert not row.isVisible()
    chosen(row.choice, "Instead of idle")
    assert row.isVisible() and row.name.text() == "limp idle"
    written(row.name, "limp")
    (one,) = session.document.alternates
    assert (one.name, one.clips) == ("limp", (Instead(clip="idle", by="limp idle"),))
    assert row.lacks.text() == "lacks 12 clips" and "walk, run, skid" in row.lacks.toolTip() and row.match.isEnabled()
    QTest.mouseClick(row.match, LEFT)
    assert session.document.alternates[0].clips[1:] == (Instead(clip="walk", by="limp walk"),)
    QTest.mouseClick(row.new_choice, LEFT)
    assert session.document.parameters[-1].choices == ("usual", "limp") and not row.new_choice.isVisible()
    assert row.parameter.currentText() == "moves" and row.value.currentText() == "limp"
    # each was one step
    for _ in range(4):
        session.undo()
    assert session.document.alternates == ()


@pytest.mark.long
def test_a_way_of_moving_is_chosen_beside_the_mirror_and_in_a_state(station: ClipsStation) -> None:
    window = station.window()
    assert isinstance(window, Window)
    moves = window.mirror.moves
    assert not moves.isVisible()
    chosen(station.alternate.choice, "Instead of idle")
    QTest.mouseClick(station.alternate.new_choice, LEFT)
    assert moves.isVisible() and moves.choice.currentText() == "as usual"
    window.live.tick()
    assert _played(window) == "idle"
    chosen(moves.choice, "limp idle")
    window.live.tick()
    assert _played(window) == "limp idle" and moves.now == "limp idle"
    chosen(moves.choice, "as usual")
    window.live.tick()
    assert _played(window) == "idle"
    window.go("Graph")
    window.session.select_state(0, "idle")
    drawer = window.station(GraphStation).drawer
    chosen(drawer.rows.alternate, "moves limp idle")
    assert window.session.document.layers[0].states[0].alternate == "limp idle"
    window.live.tick()
    assert _played(window) == "limp idle"


def _played(window: Window) -> str:
    now, machine = window.live.situation, window.live.machine
    seen = shown(machine.pictures[0][now.states[0]], now.picks[0], now.playheads[0], now.values)
    assert seen is not None
    return seen[0]


def test_a_clip_that_stands_for_itself_again_leaves_no_way_behind(station: ClipsStation) -> None:
    row, session = station.alternate, station.session
    chosen(row.choice, "Instead of idle")
    assert "limp idle instead of idle" in station.sentence.text()
    chosen(row.choice, "Stands for itself")
    assert session.document.alternates == () and not row.isVisible()
    chosen(row.choice, "Instead of walk")
    QTest.mouseClick(row.remove, LEFT)
    assert session.document.alternates == () and "limp idle" in [clip.name for clip in session.document.clips]
