"""Parts by mouse and keyboard: a still picture cut into pieces that hang together, breathe, slide and hop."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from leanstep.core.character.cut_outs import CutOut, CutOutPart
from leanstep.core.character.edits import change
from leanstep.core.character.files import dump, load
from leanstep.core.cut_outs.edits import cels_of, track_of
from leanstep.core.naming.references import Thing
from leanstep.desk.art import Loaded
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.clips import part_edits
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_drawer import typed
from tests.support.build import DEMO

LEFT = Qt.MouseButton.LeftButton
SHIFT, ALT, NONE = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.NoModifier

PIECES = {
    "hat": (24, 2, 40, 8),
    "head": (25, 8, 39, 20),
    "near arm": (16, 22, 23, 42),
    "far arm": (41, 22, 48, 42),
    "lamp": (44, 42, 54, 52),
    "near leg": (24, 46, 31, 62),
    "far leg": (33, 46, 40, 62),
}
"""What is drawn around on the still picture: left, top, right, bottom; the rest is the body."""


@pytest.fixture
def still(tmp_path: Path) -> Path:
    """The picture of a figure that stands."""
    pixels = np.zeros((64, 64, 4), np.uint8)
    for number, (left, top, right, low) in enumerate([*PIECES.values(), (23, 20, 41, 46)]):
        pixels[top:low, left:right] = (60 + 20 * number, 200 - 18 * number, 90 + 9 * number, 255)
    path = tmp_path / "rope-maker.png"
    Image.fromarray(pixels).save(path)
    return path


def choose(box: QComboBox, text: str) -> None:
    box.setCurrentText(text)
    box.activated.emit(box.currentIndex())


def drawn_around(station: SheetsStation, rect: tuple[int, int, int, int]) -> None:
    """Drag around a rectangle of frame 0."""
    view = station.view
    left, top, right, low = rect
    corners = [(left, top), (right, top), (right, low), (left, low), (left, top + 1)]
    places = [view._place(0, corner).toPoint() for corner in corners]
    QTest.mousePress(view, LEFT, pos=places[0])
    for before, after in itertools.pairwise(places):
        for step in range(1, 9):
            QTest.mouseMove(view, before + (after - before) * (step / 8))
    QTest.mouseRelease(view, LEFT, pos=places[-1])


def figure(window: Window, still: Path) -> SheetsStation:
    """The still picture, brought in and cut as one frame, with the parts tool in hand."""
    window.session.new()
    window.go("Sheets")
    station = window.station(SheetsStation)
    station.take_files([still])
    window.session.edit("one", lambda document: change(document, ("sheets", 0), foot=(32.0, 62.0)))
    QTest.mouseClick(station.tools.tools["parts"], LEFT)
    return station


def parts(window: Window) -> dict[str, CutOutPart]:
    return {part.name: part for part in window.session.document.sheets[0].parts}


def cut_out(window: Window, sheet: str) -> CutOut:
    found = next(one for one in window.session.document.sheets if one.name == sheet).cut_out
    assert found is not None
    return found


def picture(window: Window, sheet: str, frame: int) -> np.ndarray:
    loaded = window.session.art.sheet(sheet)
    assert isinstance(loaded, Loaded)
    return loaded.cut.picture(frame)


def cut_up(window: Window, still: Path) -> SheetsStation:
    station = figure(window, still)
    for name, rect in PIECES.items():
        drawn_around(station, rect)
        typed(station.parts.name, name)
    return station


def test_a_part_is_drawn_around_by_keyboard(window: Window, still: Path) -> None:
    station = figure(window, still)
    view = station.view
    view.choose([0])
    view.setFocus()

    def press(*keys: Qt.Key, shift: bool = False) -> None:
        for key in keys:
            QTest.keyClick(view, key, SHIFT if shift else NONE)

    left, up, right, down = Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Right, Qt.Key.Key_Down
    press(Qt.Key.Key_Return)
    press(left, up, up, shift=True)
    press(Qt.Key.Key_Space)
    press(right, Qt.Key.Key_Space, Qt.Key.Key_Backspace, left)
    press(right, right, shift=True)
    press(Qt.Key.Key_Return)
    assert not parts(window), "an outline of one corner encloses nothing"
    press(Qt.Key.Key_Space)
    press(down, shift=True)
    press(Qt.Key.Key_Space, Qt.Key.Key_Return)
    body, part = parts(window).values()
    assert body.name == "body" and part.outline == ((22.0, 12.0), (42.0, 12.0), (42.0, 22.0))
    press(Qt.Key.Key_Return, Qt.Key.Key_Space, down, Qt.Key.Key_Escape)
    press(Qt.Key.Key_Down)
    moved = parts(window)[part.name]
    assert moved.joint and moved.joint != part.joint, "after Esc arrow keys nudge the joint again"
    press(Qt.Key.Key_Up)
    window.session.undo()


def answers(monkeypatch: pytest.MonkeyPatch, *values: float) -> None:
    left = list(values)
    monkeypatch.setattr(part_edits, "ask_number", lambda *_, **__: left.pop(0))


def test_a_still_picture_is_cut_into_eight_parts_and_breathes_slides_and_hops(
    window: Window, still: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    station = cut_up(window, still)
    assert list(parts(window)) == ["body", *PIECES]
    # what is drawn around hangs on the body; the lamp is held, the hat sits on the head
    for name, parent in (("lamp", "far arm"), ("hat", "head")):
        choose(station.parts.which, name)
        choose(station.parts.parent_part, parent)
    assert parts(window)["lamp"].parent == "far arm" and parts(window)["near leg"].behind == "body"
    # joints are dragged: the arm turns at its shoulder
    choose(station.parts.which, "near arm")
    ring = station.view.joint_of(parts(window)["near arm"])
    assert ring is not None
    shoulder = station.view._place(0, (20, 23)).toPoint()
    QTest.mousePress(station.view, LEFT, pos=ring.toPoint())
    QTest.mouseMove(station.view, shoulder + QPoint(4, 4))
    QTest.mouseMove(station.view, shoulder)
    QTest.mouseRelease(station.view, LEFT, pos=shoulder)
    assert parts(window)["near arm"].joint == (20, 23)
    QTest.keyClick(station.view, Qt.Key.Key_Right)
    assert parts(window)["near arm"].joint == (21, 23)

    QTest.mouseClick(station.parts.let_move, LEFT)
    clips = window.station(ClipsStation)
    assert clips.isVisible() and clips.parts.on.isChecked() and clips.clip is not None
    name = clips.clip.sheet
    # breathing: the body
    clips.parts.choose("body")
    answers(monkeypatch, 5.0, 60.0)
    clips.parts.row.starters.actions()[0].trigger()
    assert [key.high for key in track_of(cut_out(window, name), "body").keys] == [1.0, 1.05]
    assert not np.array_equal(picture(window, name, 0), picture(window, name, 7))

    # a slide: another motion of the same parts, all of it leaning and low
    window.go("Sheets")
    station.choose("rope-maker")
    QTest.mouseClick(station.parts.let_move, LEFT)
    slide = clips.clip.sheet
    assert slide != name
    clips.parts.choose("body")
    answers(monkeypatch, -60.0, 8.0)
    clips.parts.row.starters.actions()[-1].trigger()
    (key,) = track_of(cut_out(window, slide), "body").keys
    assert (key.turn, key.y) == (-60.0, -8.0)
    across = picture(window, slide, 0)[:, :, 3].any(axis=0).sum()
    assert across > picture(window, name, 0)[:, :, 3].any(axis=0).sum()

    # a hop: shorter, up in the middle by hand
    window.go("Sheets")
    station.choose("rope-maker")
    QTest.mouseClick(station.parts.let_move, LEFT)
    hop = clips.clip.sheet
    typed(clips.parts.row.ticks.lineEdit(), "24")
    assert clips.clip.cels == cels_of(cut_out(window, hop)) and len(clips.clip.cels) == 6
    clips.go_to_cel(3)
    clips.parts.choose("body")
    clips.large.setFocus()
    QTest.keyClick(clips.large, Qt.Key.Key_Up, SHIFT)
    assert [(key.at, key.y) for key in track_of(cut_out(window, hop), "body").keys] == [(0.0, 0.0), (12.0, 10.0)]
    # one gesture is one step back
    window.session.undo()
    assert not cut_out(window, hop).tracks

    path = still.parent / "rope-maker.leanstep"
    window.session.save(path)
    assert load(path) == window.session.document


def gull(open_window: Callable[..., Window], demo: Path, clip: str, cel: int = 0) -> tuple[Window, ClipsStation]:
    """The harbour gull with a clip and its parts in hand."""
    window = open_window(demo / "harbour-gull.leanstep")
    window.go("Clips")
    window.session.select(Thing("clip", clip))
    station = window.station(ClipsStation)
    QTest.mouseClick(station.parts.on, LEFT, pos=QPoint(8, station.parts.on.height() // 2))
    assert station.parts.rows.isVisible() and not station.playing
    station.go_to_cel(cel)
    assert station.large.moment is not None
    height = 0
    while height != station.large.height():  # rows come, and the picture has its place
        height = station.large.height()
        QTest.qWait(60)
    return window, station


def middle(station: ClipsStation, name: str) -> QPoint:
    """A place on the screen at which a part is seen alone."""
    joint = station.large.joint_place(name)
    assert joint is not None
    spread = [QPointF(x, y) for x in range(-90, 91, 6) for y in range(-90, 91, 6)]
    far = [joint + one for one in spread if station.large.part_at(joint + one) == name and one.manhattanLength() > 20]
    assert far, name
    return far[0].toPoint()


def test_a_part_is_turned_and_moved_on_the_picture_and_keys_lie_on_its_row(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window, station = gull(open_window, demo, "flap", 2)
    before = dump(window.session.document)
    where = middle(station, "head")
    steps = window.session.history.undo_name
    QTest.mousePress(station.large, LEFT, pos=where)
    for by in (4, 8, 14):
        QTest.mouseMove(station.large, where + QPoint(0, by))
    QTest.mouseRelease(station.large, LEFT, pos=where + QPoint(0, 14))
    assert station.parts.chosen == "head"
    keys = {key.at: key for key in track_of(cut_out(window, "flap"), "head").keys}
    assert set(keys) == {0.0, 6.0, 12.0} and keys[6.0].turn > 12
    assert window.session.history.undo_name != steps
    window.session.undo()
    assert dump(window.session.document) == before, "a drag is one step"
    # with Shift it is moved, from where it is seen now: the picture may have got another height
    where = middle(station, "head")
    QTest.mousePress(station.large, LEFT, SHIFT, where)
    for by in (4, 12):
        QTest.mouseMove(station.large, where + QPoint(by, 0))
    QTest.mouseRelease(station.large, LEFT, SHIFT, where + QPoint(12, 0))
    moved = next(key for key in track_of(cut_out(window, "flap"), "head").keys if key.at == 6.0)
    assert moved.x > 0
    # its peg is dragged to another tick, and taken away
    lane = station.parts.lane
    peg = lane.peg("head", 6.0).toPoint()
    QTest.mousePress(lane, LEFT, pos=peg)
    QTest.mouseMove(lane, QPoint(round(lane.x_of(9)), peg.y()))
    QTest.mouseRelease(lane, LEFT, pos=QPoint(round(lane.x_of(9)), peg.y()))
    assert [key.at for key in track_of(cut_out(window, "flap"), "head").keys] == [0.0, 9.0, 12.0]
    station.go_to_cel(3)
    lane.setFocus()
    QTest.keyClick(lane, Qt.Key.Key_Delete)
    assert [key.at for key in track_of(cut_out(window, "flap"), "head").keys] == [0.0, 12.0]
    # a double click sets one where the part is
    QTest.mouseDClick(lane, LEFT, pos=QPoint(round(lane.x_of(6)), peg.y()))
    assert [key.at for key in track_of(cut_out(window, "flap"), "head").keys] == [0.0, 6.0, 12.0]


def test_a_part_is_chosen_turned_and_taken_off_by_keys(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = gull(open_window, demo, "flap", 1)
    large = station.large
    large.setFocus()
    QTest.keyClick(large, Qt.Key.Key_PageDown)
    QTest.keyClick(large, Qt.Key.Key_PageDown)
    assert station.parts.chosen == "tail"
    QTest.keyClick(large, Qt.Key.Key_Right, ALT)
    QTest.keyClick(large, Qt.Key.Key_Right, ALT | SHIFT)
    assert [(key.at, key.turn) for key in track_of(cut_out(window, "flap"), "tail").keys] == [(0.0, 0.0), (3.0, 11.0)]
    QTest.keyClick(large, Qt.Key.Key_Delete)
    assert [key.at for key in track_of(cut_out(window, "flap"), "tail").keys] == [0.0]


def test_the_other_half_does_the_same_half_the_length_later(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = gull(open_window, demo, "hop")
    station.parts.choose("near thigh")
    QTest.mouseClick(station.parts.row.half, LEFT)
    own, other = (track_of(cut_out(window, "hop"), f"{side} thigh").keys for side in ("near", "far"))
    assert {(key.at + 12) % 24: key.turn for key in own} == {key.at: key.turn for key in other}


def test_what_reaches_stays_where_it_stands_and_is_aimed_by_hand(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window, station = gull(open_window, demo, "hop")
    station.parts.choose("near shin")
    lying = station.large.lying()["near shin"]
    QTest.mouseClick(station.parts.row.reach, LEFT)
    (reach,) = cut_out(window, "hop").reaches
    assert reach.part == "near shin" and reach.tip[1] > 10
    assert station.large.lying()["near shin"].x == pytest.approx(lying.x, abs=0.6)
    QTest.keyClick(station.large, Qt.Key.Key_Right)
    QTest.keyClick(station.large, Qt.Key.Key_Up, SHIFT)
    moved = cut_out(window, "hop").reaches[0].keys[0]
    assert (moved.x, moved.y) == pytest.approx((reach.keys[0].x + 1, reach.keys[0].y + 10))
    # a second target, later; its peg lies on the row of the part
    station.go_to_cel(4)
    typed(station.parts.row.target_x.lineEdit(), "9")
    assert [(key.at, key.x) for key in cut_out(window, "hop").reaches[0].keys][1] == (12.0, 9.0)
    lane = station.parts.lane
    peg = lane.peg("near shin", 12.0).toPoint()
    QTest.mousePress(lane, LEFT, pos=peg)
    QTest.mouseMove(lane, QPoint(round(lane.x_of(15)), peg.y()))
    QTest.mouseRelease(lane, LEFT, pos=QPoint(round(lane.x_of(15)), peg.y()))
    assert [key.at for key in cut_out(window, "hop").reaches[0].keys] == [0.0, 15.0]
    QTest.mouseClick(station.parts.row.let_go, LEFT)
    assert not cut_out(window, "hop").reaches


def test_a_renamed_part_is_followed_by_all_that_moves_it(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "harbour-gull.leanstep")
    window.go("Sheets")
    station = window.station(SheetsStation)
    station.choose("gull")
    station.tools.use("parts")
    choose(station.parts.which, "near wing")
    typed(station.parts.name, "left wing")
    assert not [one for one in window.session.document.sheets if b"near wing" in dump(window.session.document)]
    assert track_of(cut_out(window, "flap"), "left wing").keys and parts(window)["near hand"].parent == "left wing"
    # a name that is there already is refused, and said
    said = list[str]()
    window.session.said.connect(said.append)
    typed(station.parts.name, "head")
    assert "left wing" in parts(window) and "head" in said[-1]
    # a part that goes leaves what hung on it where its parent is
    QTest.mouseClick(station.parts.remove, LEFT)
    assert "left wing" not in parts(window) and parts(window)["near hand"].parent == "body"
    assert not track_of(cut_out(window, "flap"), "left wing").keys and track_of(cut_out(window, "flap"), "head").keys


def test_frames_become_parts_and_a_part_is_drawn_anew(window: Window, still: Path) -> None:
    station = figure(window, still)
    station.view.choose([0])
    QTest.mouseClick(station.parts.make, LEFT)
    assert [part.frame for part in parts(window).values()] == [0] and not next(iter(parts(window).values())).outline
    drawn_around(station, PIECES["head"])
    QTest.mouseClick(station.parts.round, LEFT)
    drawn_around(station, PIECES["hat"])
    assert len(parts(window)) == 2
    outline = list(parts(window).values())[1].outline
    assert max(y for _, y in outline) < 10


def test_a_sheet_drawn_from_parts_wears_the_pictures_of_another_one(
    open_window: Callable[..., Window], demo: Path, tmp_path: Path
) -> None:
    window = open_window(demo / "harbour-gull.leanstep")
    pixels = np.array(Image.open(DEMO / "art" / "harbour-gull.png"))
    pixels[:, :, 0] //= 2
    Image.fromarray(pixels).save(tmp_path / "dark.png")
    window.go("Sheets")
    station = window.station(SheetsStation)
    station.take_files([tmp_path / "dark.png"])
    cut = window.session.document.sheets[0].cut
    last = len(window.session.document.sheets) - 1
    window.session.edit("cut", lambda document: change(document, ("sheets", last), cut=cut))
    station.choose("flap")
    assert station.drawn.isVisible() and not station.ways.isVisible()
    choose(station.drawn.pictures, "dark")
    assert cut_out(window, "flap").pictures == "dark"
    assert int(picture(window, "flap", 0)[:, :, 0].max()) < 130


def test_between_two_samples_the_figure_is_mixed(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "harbour-gull.leanstep")
    window.go("Blends")
    station = window.station(BlendsStation)
    station.choose("bank")
    view = station.view
    view.phase = 0
    shown = []
    for value in (-1.0, 0.0, 1.0):
        station._probe((value,))
        mixed = view.mixed()
        assert mixed is not None
        shown.append(mixed)
    assert len({one.cacheKey() for one, _ in shown}) == 3
    # a figure without parts cannot be mixed
    window.session.open(demo / "lamplighter.leanstep")
    assert view.mixed() is None
