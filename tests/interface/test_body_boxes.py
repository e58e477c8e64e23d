"""Body boxes, scales and problems of a sheet by mouse and keyboard."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from leanstep.core.rehearsal.drawable import Piece
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.window import Window
from tests.interface.test_sheets import LEFT, brought, click, drag, of, screen, wait_until
from tests.support.drawn_sheets import drawn

ALT, SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier


def pick(choice: QComboBox, text: str) -> None:
    """Choose an entry as a person does who opens the list and presses Enter."""
    assert choice.isVisible() and choice.isEnabled()
    at = choice.findText(text)
    assert at >= 0, [choice.itemText(one) for one in range(choice.count())]
    choice.setFocus()
    choice.showPopup()
    choice.view().setCurrentIndex(choice.model().index(at, 0))
    QTest.keyClick(choice.view(), Qt.Key.Key_Return)


def boxes(window: Window) -> list[tuple[float, ...] | None]:
    loaded = window.session.art.sheet("harbour")
    return [None if one.box is None else one.box.written for one in loaded.cut.frames]  # type: ignore[union-attr]


@pytest.mark.long
def test_body_boxes_by_rule_by_hand_and_taken_back(window: Window, demo: Path) -> None:
    station = brought(window, demo, drawn("tail", 7).picture())
    click(station.ways.suggested.apply)
    assert set(boxes(window)) == {None}
    click(station.tools.tools["boxes"])
    assert not station.tools.margin.isVisible(), "a margin means nothing without a rule"
    pick(station.tools.box_rule, "Boxes: one a row")
    row = boxes(window)
    assert row[0] == row[3] and row[0] != row[10]
    station.tools.margin.setFocus()
    station.tools.margin.selectAll()
    QTest.keyClicks(station.tools.margin, "2")
    QTest.keyClick(station.tools.margin, Qt.Key.Key_Return)
    wide = boxes(window)
    left, bottom, width, height = row[0] or ()
    assert wide[0] == (left - 2, bottom, width + 4, height + 2), "it stands on the same ground"
    pick(station.tools.box_rule, "Boxes: one for the sheet")
    assert len(set(boxes(window))) == 1 and of(window).box
    pick(station.tools.box_rule, "Boxes: around each drawing")
    assert len(set(boxes(window))) > 8 and not of(window).box

    view = station.view
    view.zoom_to(4)
    view.choose([10, 11])
    rect = view.body_rect(10)
    assert rect is not None
    drag(station, view.box(rect).center(), view.box(rect).center() + QPointF(8, -12))
    moved = boxes(window)
    assert moved[10] == moved[11] and sorted(of(window).boxes) == ["10", "11"], "all chosen frames get the box"
    after = view.body_rect(10)
    assert after is not None and (after.x, after.y) == (rect.x + 2, rect.y - 3)
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Right, SHIFT)
    QTest.keyClick(view, Qt.Key.Key_Up, ALT)
    now = boxes(window)
    left, bottom, width, height = moved[11] or ()
    assert now[11] == (left + 10, bottom, width, height + 1)
    view.choose([11])
    click(station.tools.own_boxes)
    assert sorted(of(window).boxes) == ["10"] and boxes(window)[11] not in (moved[11], now[11])
    assert not station.tools.own_boxes.isEnabled()


@pytest.mark.long
def test_a_box_is_drawn_in_a_frame_that_has_none(window: Window, demo: Path) -> None:
    station = brought(window, demo, drawn("tail", 7).picture())
    click(station.ways.suggested.apply)
    click(station.tools.tools["boxes"])
    station.view.zoom_to(4)
    frame = station.view.loaded.cut.frames[0]  # type: ignore[union-attr]
    drag(station, screen(station, 10, 8), screen(station, 30, 40))
    assert of(window).boxes == {"0": (10 - frame.foot[0], frame.foot[1] - 40, 20, 32)}
    assert station.view.chosen == [0]


def test_a_clip_gets_one_box_and_gives_it_back(window: Window) -> None:
    window.go("Clips")
    station = window.station(ClipsStation)
    assert not station.box.isVisible()
    pick(station.box.choice, "One body box")
    clip = window.session.document.clips[0]
    assert len(clip.box) == 4 and station.box.fields[2].value() == clip.box[2]
    station.box.fields[3].setFocus()
    station.box.fields[3].selectAll()
    QTest.keyClicks(station.box.fields[3], "40")
    QTest.keyClick(station.box.fields[3], Qt.Key.Key_Return)
    assert window.session.document.clips[0].box == (*clip.box[:3], 40.0)
    pick(station.box.choice, "Frames’ boxes")
    assert window.session.document.clips[0].box == () and not station.box.isVisible()


@pytest.mark.long
def test_frames_are_shown_larger_and_smaller_and_keep_their_foot(
    window: Window, demo: Path, monkeypatch: object
) -> None:
    station = brought(window, demo, drawn("tail", 7).picture())
    source = (demo / "art" / "harbour.png").read_bytes()
    click(station.ways.suggested.apply)
    art, piece = window.session.art, Piece("harbour", 0)
    foot, picture = art.foot(piece), art.pixmap(piece)
    assert picture is not None
    pick(station.tools.scale, "3 times")
    large = art.pixmap(piece)
    assert large is not None and large.size() == picture.size() * 3
    assert art.foot(piece) == (foot[0] * 3, foot[1] * 3)
    small, big = picture.toImage(), large.toImage()
    assert all(big.pixel(x * 3 + 1, 60) == small.pixel(x, 20) for x in range(48)), "pixels stay squares"
    pick(station.tools.smooth, "smooth")
    smooth = art.pixmap(piece)
    assert smooth is not None and smooth.toImage() != big
    usual = station.view.loaded.cut.usual_height  # type: ignore[union-attr]
    monkeypatch.setattr("leanstep.desk.stations.sheets.tool_row.ask_number", lambda *args: 2 * usual)  # type: ignore[attr-defined]
    pick(station.tools.scale, "To a height …")
    assert of(window).scale is not None and art.sheet("harbour").cut.shown_height == 2 * usual  # type: ignore[union-attr]
    assert station.tools.scale.currentText() == f"{2 * usual:g} px high"
    pick(station.tools.scale, "Size as drawn")
    assert art.pixmap(piece).size() == picture.size()
    for _ in range(4):
        window.session.undo()
    assert of(window).scale is None and (demo / "art" / "harbour.png").read_bytes() == source


@pytest.mark.long
@pytest.mark.checks
def test_problems_stand_on_the_sheet_and_lead_to_their_frames(window: Window, demo: Path) -> None:
    sheet = drawn("tail", 7)
    pixels = np.asarray(sheet.picture().convert("RGBA")).copy()
    pixels[20:22, 40:60] = (200, 30, 30, 255)
    station = brought(window, demo, Image.fromarray(pixels))
    click(station.ways.suggested.apply)
    assert len(station.view.frames) == 27
    wait_until(lambda: 0 in station.view.problems and 1 in station.view.problems, "the problems")
    assert station.problems.button.isVisible() and "problem" in station.problems.button.text()
    corner = station.view.cell(0).topRight() + QPointF(-3, 2)
    colour = station.view.grab().toImage().pixelColor(corner.toPoint())
    assert colour.red() > 180 and colour.blue() < 120, "the corner is ochre"
    texts = [one.text() for one in station.problems.menu.actions()]
    cut = next(at for at, text in enumerate(texts) if "cut through" in text)
    station.problems.menu.actions()[cut].trigger()
    assert station.view.chosen == [0, 1]

    window.go("Findings")
    findings = window.station(FindingsStation)
    row = next(at for at, one in enumerate(window.session.report.findings) if one.id == "sheet.cut-through")
    findings.list.setCurrentIndex(findings.model.index(row))
    station.view.choose([5])
    QTest.mouseClick(findings.show_button, LEFT)
    assert window.route.current == "Sheets" and station.view.chosen == [0, 1]
