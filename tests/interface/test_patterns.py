"""Patterns from the gallery: a driven figure in a handful of gestures, what they merge with, and what people do wrong."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.patterns.gallery import built_in, keep
from leanstep.desk.stations.graph.patterns import PatternGallery
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_drop_to_drive import SIDE, drop
from tests.interface.test_sheets import wait_until
from tests.support.drawn_figures import Traits, walker

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def sheet_of_four_rows() -> Image.Image:
    """A figure that stands, walks, runs and jumps, row by row."""
    traits = Traits.of(np.random.default_rng(8))
    pixels = np.zeros((4 * SIDE, 6 * SIDE, 4), np.uint8)
    still = walker(40, 0.0, traits)
    for number in range(6):
        left, high = SIDE * number + 4, (0, 2, 4, 4, 2, 0)[number]
        pixels[4 + number // 5 : 44, left : left + 40] = still[: 40 - number // 5]
        pixels[52:92, left : left + 40] = walker(40, number / 6, traits)
        pixels[100:140, left : left + 40] = walker(40, 2 * number / 6 + 0.1, traits)
        pixels[148 - high : 188 - high, left : left + 40] = walker(40, 0.2 + number / 20, traits)
    return Image.fromarray(pixels)


def drop_and_cut(window: Window, folder: Path) -> None:
    """Drop the sheet on the window, and cut it as suggested: two gestures."""
    sheet_of_four_rows().save(folder / "keeper.png")
    station = window.station(SheetsStation)
    drop(window, folder / "keeper.png")
    wait_until(lambda: "6 × 4 of 48 × 48" in station.ways.suggested.outcome.text(), "the suggestion")
    press(Qt.Key.Key_Return)


def gallery(window: Window) -> PatternGallery:
    return window.station(GraphStation).patterns


def press(*keys: Qt.Key, with_: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    for key in keys:
        QTest.keyClick(QApplication.focusWidget(), key, with_)


def open_gallery(window: Window) -> PatternGallery:
    press(Qt.Key.Key_I, with_=CTRL | SHIFT)
    found = gallery(window)
    assert found.isVisible() and found.list.hasFocus()
    return found


def choose(shown: PatternGallery, name: str) -> None:
    """Click on a pattern."""
    (item,) = shown.list.findItems(name, Qt.MatchFlag.MatchExactly)
    shown.list.scrollToItem(item)
    QTest.mouseClick(shown.list.viewport(), Qt.MouseButton.LeftButton, pos=shown.list.visualItemRect(item).center())
    assert shown.title.text() == name


def states(document: Character) -> list[str]:
    return [state.name for state in document.layers[0].states]


def clean(window: Window) -> list[str]:
    found = check_character(window.session.document, window.session.folder).findings
    return [one.sentence for one in found if one.severity != "note"]


@pytest.mark.long
def test_a_sheet_of_four_rows_stands_walks_runs_and_jumps_after_eight_gestures(
    open_window: Callable[..., Window], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    window = open_window()
    window.session.new()
    drop_and_cut(window, tmp_path)  # 1, 2
    press(Qt.Key.Key_Return)  # 3: it stands and walks
    shown = open_gallery(window)  # 4
    assert list(shown.slots) == ["run"], "only what could not be known is asked"
    assert shown.slots["run"][0].currentText() == "keeper, frames 12 to 17"
    assert "Uses your idle and walk" in shown.brings.text()
    press(Qt.Key.Key_Return)  # 5
    assert states(window.session.document) == ["idle", "walk", "run"]
    shown = open_gallery(window)  # 6
    press(Qt.Key.Key_Down)  # 7
    parts = {slot: box.currentText() for slot, (box, _) in shown.slots.items()}
    assert parts == {
        "take-off": "keeper, frame 18",
        "rise": "keeper, frames 19 to 20",
        "fall": "keeper, frames 21 to 22",
        "land": "keeper, frame 23",
    }
    press(Qt.Key.Key_Return)  # 8

    document, live = window.session.document, window.live
    assert states(document) == ["idle", "walk", "run", "take-off", "rise", "fall", "land"]
    assert not clean(window)
    seen = []
    live.drive()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Shift, Qt.Key.Key_Space):
        QTest.keyPress(window, key)
        for _ in range(40):
            live.tick()
            seen.append(states(live.machine.character)[live.situation.states[0]])
    assert list(dict.fromkeys(seen)) == ["idle", "walk", "run", "take-off", "rise", "fall", "land"]
    QTest.keyClick(window, Qt.Key.Key_Escape)

    before = window.session.document
    shown = open_gallery(window)
    choose(shown, "Wall slide")
    press(Qt.Key.Key_Return)
    shown = open_gallery(window)
    choose(shown, "Dash once in the air")
    assert "No drawings yet: air dash" in shown.brings.text()
    press(Qt.Key.Key_Return)
    assert states(window.session.document)[-2:] == ["wall slide", "air dash"] and not clean(window)
    for _ in range(2):
        press(Qt.Key.Key_Z, with_=CTRL)
    assert window.session.document == before, "one undo for each"


def test_an_empty_window_begins_with_a_pattern_and_drawings_come_later(open_window: Callable[..., Window]) -> None:
    window = open_window()
    window.session.new()
    window.go("Sheets")
    button = next(
        one for one in window.findChildren(type(window.file_button)) if one.text().startswith("What should it do")
    )
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    shown = gallery(window)
    assert shown.isVisible()
    choose(shown, "Eight directions")
    assert len(shown.slots) == 10 and "No drawings yet" in shown.brings.text()
    QTest.mouseClick(shown.put_button, Qt.MouseButton.LeftButton)
    assert window.session.document.body.model == "above" and not clean(window)
    assert window.session.state == (0, "walk"), "what was put in is chosen on the page"
    shown = open_gallery(window)
    choose(shown, "Ladder")
    assert not shown.put_button.isEnabled()
    assert "it is for a body seen from the side, and this one is seen from above" in shown.brings.text()
    before = window.session.document
    press(Qt.Key.Key_Return)
    assert window.session.document is before, "it is refused and nothing happens"
    press(Qt.Key.Key_Escape)
    assert window.station(GraphStation).scroller.isVisible()


@pytest.mark.long
def test_a_hit_is_asked_for_where_a_pulse_of_the_game_might_be_one(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    document = window.session.document
    shown = open_gallery(window)
    choose(shown, "Hurt and stun")
    assert list(shown.named) == ["stunned"], "its hit is known by its name"
    box = shown.named["stunned"]
    assert [box.itemText(at) for at in range(box.count())] == ["a new one, stunned", "hit"]
    press(Qt.Key.Key_Return)
    assert {one.name for one in window.session.document.parameters} - {one.name for one in document.parameters} == {
        "stunned"
    }
    assert "hurt" in shown.brings.text() or window.session.document.layers[0].states[-1].name == "stun"


@pytest.mark.long
def test_chosen_states_are_kept_as_a_pattern_and_put_into_another_character(
    open_window: Callable[..., Window], demo: Path, tmp_path: Path
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    graph = window.station(GraphStation)
    graph.patterns.folder = lambda: tmp_path / "patterns"
    window.go("Graph")
    graph.patterns.keep_chosen()
    assert not (tmp_path / "patterns").exists(), "nothing is chosen, and nothing is kept"
    window.session.select_state(0, "climb")
    next(one for one in graph.commands() if one.text() == "Keep the chosen states as a pattern").trigger()
    (path,) = (tmp_path / "patterns").iterdir()
    kept = load(path)
    assert kept.pattern is not None and set(kept.pattern.joins) >= {"idle", "fall"}
    assert all(clip.undrawn for clip in kept.clips) and not kept.takes

    window.session.new()
    shown = open_gallery(window)
    shown.list.setCurrentRow(shown.list.count() - 1)
    assert shown.title.text() == "climb" and "climb" in shown.slots
    press(Qt.Key.Key_Return)
    assert "climb" in states(window.session.document)
    shown = open_gallery(window)
    shown.list.setCurrentRow(shown.list.count() - 1)
    shown.name_line.clear()
    QTest.keyClicks(shown.name_line, "up a rope")
    shown.says_line.setFocus()
    QTest.keyClicks(shown.says_line, "Climbs.")
    press(Qt.Key.Key_Return)
    assert load(path).name == "up a rope" and load(path).pattern.says == "Climbs."
    assert [item.text() for item in (shown.list.item(13),)] == ["up a rope"]
    assert shown.isVisible(), "Enter in a line puts nothing in"
    QTest.mouseClick(shown.forget_button, Qt.MouseButton.LeftButton)
    assert shown.list.count() == 13, "only those of the program are left"


@pytest.mark.long
def test_a_broken_file_among_the_patterns_is_said_and_harms_nothing(
    open_window: Callable[..., Window], demo: Path, tmp_path: Path
) -> None:
    window = open_window()
    (tmp_path / "bad.leanstep").write_text("{")
    gallery(window).folder = lambda: tmp_path
    shown = open_gallery(window)
    assert shown.list.count() == 13 and "bad.leanstep: this is not JSON" in shown.faults.text()


@pytest.mark.long
def test_putting_a_pattern_in_again_fills_what_has_no_drawings_yet(
    open_window: Callable[..., Window], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    window = open_window()
    window.session.new()
    window.session.wanted.emit("pattern")
    press(Qt.Key.Key_Return)
    document = window.session.document
    assert [clip.name for clip in document.clips if clip.undrawn] == ["idle", "walk", "run"]
    drop_and_cut(window, tmp_path)
    shown = open_gallery(window)
    assert list(shown.slots) == ["idle", "walk", "run"]
    press(Qt.Key.Key_Return)
    now = window.session.document
    assert [(clip.name, clip.cels[0].frame, clip.sheet) for clip in now.clips] == [
        ("idle", 0, "keeper"),
        ("walk", 6, "keeper"),
        ("run", 12, "keeper"),
    ]
    assert now.layers == document.layers, "states and ways are those there were"


@pytest.mark.long
def test_rows_of_a_sheet_that_is_read_late_are_offered_as_soon_as_it_is_there(
    open_window: Callable[..., Window], demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    art, shown = window.session.art, gallery(window)
    with monkeypatch.context() as patched:
        patched.setattr(art, "sheet", lambda name: None)
        assert not shown.rows(), "nothing can be said of it yet"
    assert shown.rows(), "the document is the same, and the sheet is there"


@pytest.mark.long
def test_what_was_chosen_for_a_slot_stays_chosen_while_art_changes_on_disk(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    shown = open_gallery(window)
    shown.list.setCurrentRow(next(at for at in range(13) if shown.list.item(at).text() == "Hold to charge"))
    slot, (box, _) = next(iter(shown.slots.items()))
    other = next(at for at in range(box.count()) if at != box.currentIndex())
    box.setCurrentIndex(other)
    box.activated.emit(other)
    chosen = box.currentData()
    window.session.art.changed.emit()
    assert shown.slots[slot][0] is not box and shown.slots[slot][0].currentData() == chosen
    shown.list.setCurrentRow(0)
    shown.list.setCurrentRow(next(at for at in range(13) if shown.list.item(at).text() == "Hold to charge"))
    assert shown.slots[slot][0].currentData() != chosen, "who comes back to it begins anew"


@pytest.mark.long
def test_a_pattern_that_cannot_be_thrown_away_stays_and_the_reason_is_said(
    open_window: Callable[..., Window], tmp_path: Path
) -> None:
    window = open_window()
    path = keep(built_in()[0], tmp_path)
    (path.with_suffix(".gone") / "in the way").mkdir(parents=True)
    gallery(window).folder = lambda: tmp_path
    said: list[LeanStepError] = []
    window.session.complained.disconnect()
    window.session.complained.connect(said.append)
    shown = open_gallery(window)
    shown.list.setCurrentRow(13)
    QTest.mouseClick(shown.forget_button, Qt.MouseButton.LeftButton)
    assert path.exists() and shown.list.count() == 14 and said[0].thing == str(path)
