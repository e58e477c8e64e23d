"""Families by hand: made in one gesture, edited at once, with exceptions that are made, shown and taken back."""

from __future__ import annotations

import msgspec
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from leanstep.core.character.clips import SHARED, Cel, Clip
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.family_row import HIGH, WIDE
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.window import Window
from tests.interface.test_phases import dragged, typed

LEFT = Qt.MouseButton.LeftButton
WAYS = ("up", "right", "down")


@pytest.fixture
def station(window: Window) -> ClipsStation:
    """The station with three clips step up, step right and step down, each of four cels of six ticks."""
    clips = tuple(
        Clip(name=f"step {way}", sheet="lamplighter", cels=tuple(Cel(frame=4 * row + at, ticks=6) for at in range(4)))
        for row, way in enumerate(WAYS)
    )
    window.session.edit("prepared", lambda document: msgspec.structs.replace(document, clips=(*document.clips, *clips)))
    window.go("Clips")
    window.session.select(Thing("clip", "step up"))
    made = window.station(ClipsStation)
    made.toggle()
    return made


def ticks(station: ClipsStation) -> dict[str, set[float]]:
    clips = station.session.document.clips[-3:]
    return {clip.name[5:]: {cel.ticks for cel in clip.cels} for clip in clips}


def clicked(station: ClipsStation, what: str) -> None:
    box = station.family.own[what]  # type: ignore[index]
    QTest.mouseClick(box, LEFT, pos=QPoint(8, box.height() // 2))


@pytest.mark.long
def test_the_clips_of_a_name_become_a_family_in_one_gesture(station: ClipsStation) -> None:
    row = station.family
    assert not row.isVisible() and row.make.text() == "Make step {direction} a family"
    QTest.mouseClick(row.make, LEFT)
    assert row.isVisible() and not row.make.isVisible()
    assert [clip.family for clip in station.session.document.clips[-3:]] == ["step {direction}"] * 3
    typed(station.settings.all_ticks, "9")
    assert ticks(station) == {"up": {9.0}, "right": {9.0}, "down": {9.0}}
    station.session.undo()
    assert ticks(station) == {"up": {6.0}, "right": {6.0}, "down": {6.0}}, "one step for all of them"
    dragged(station.phases.band, 6, 12)
    assert all(clip.phases for clip in station.session.document.clips[-3:])


def test_an_exception_is_made_shown_made_the_rule_and_taken_back(station: ClipsStation) -> None:
    row = station.family
    QTest.mouseClick(row.make, LEFT)
    clicked(station, "timing")
    typed(station.settings.all_ticks, "9")
    assert ticks(station) == {"up": {9.0}, "right": {6.0}, "down": {6.0}}
    assert "its timing is its own" in row.toolTip() and row.strip.clips[0].own == ("timing",)
    # the strip leads to another member
    QTest.mouseClick(row.strip, LEFT, pos=QPoint(WIDE + 5, HIGH // 2))
    assert station.current == "step right" and not any(box.isChecked() for box in row.own.values())
    typed(station.settings.all_ticks, "4")
    assert ticks(station) == {"up": {9.0}, "right": {4.0}, "down": {4.0}}
    row.strip.setFocus()
    QTest.keyClick(row.strip, Qt.Key.Key_Left)
    assert station.current == "step up" and row.own["timing"].isChecked()
    clicked(station, "timing")
    assert ticks(station)["up"] == {4.0}
    station.session.undo()
    QTest.mouseClick(row.rule, LEFT)
    assert ticks(station) == {"up": {9.0}, "right": {9.0}, "down": {9.0}}
    assert not any(row.own[what].isChecked() for what in SHARED)
    QTest.mouseClick(row.part, LEFT)
    assert not row.isVisible() and row.make.isVisible()


@pytest.mark.long
def test_what_a_family_lacks_is_named_and_mirrored(station: ClipsStation) -> None:
    row = station.family
    QTest.mouseClick(row.make, LEFT)
    assert row.toolTip() == "step {direction}: 3 clips; it lacks left" and row.mirror.isVisible()
    QTest.mouseClick(row.mirror, LEFT)
    made = station.session.document.clips[-1]
    assert made.name == "step left" and all(cel.mirrored for cel in made.cels)
    assert not row.mirror.isVisible() and len(row.strip.clips) == 4
