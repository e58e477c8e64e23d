"""What is drawn once and kept looks as if it had been drawn now, whatever hands did since."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from leanstep.core.character.edits import change
from leanstep.core.clips.timing import TICK
from leanstep.core.naming.references import Thing
from leanstep.desk import kept_pictures
from leanstep.desk.kept_pictures import KeptPictures
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.theme import dress
from leanstep.desk.window import Window

Hand = Callable[[], object]


def picture(widget: QWidget) -> QImage:
    return widget.grab().toImage()


def assert_fresh(window: Window, widget: QWidget, hands: dict[str, Hand | list[Hand]]) -> None:
    """After each thing that hands do the widget looks as it does when everything is drawn again."""
    for said, does in hands.items():
        for hand in does if isinstance(does, list) else [does]:
            hand()
        QTest.qWait(1)
        kept = picture(widget)
        window.session.art.changed.emit()
        assert picture(widget) == kept, said


def ticks(window: Window, count: int) -> None:
    for _ in range(count):
        window.live.tick()


def edited(window: Window, path: tuple[str | int, ...], **values: object) -> None:
    window.session.edit("changed", lambda document: change(document, path, **values))


def test_what_comes_again_is_drawn_once_and_so_much_is_kept(window: Window) -> None:
    drawn: list[int] = []
    pictures = KeptPictures(window.session)

    def asked(number: int) -> None:
        def draw(painter: QPainter) -> None:
            drawn.append(number)

        pictures.of(number, QSize(512, 512), 1.0, draw)

    for number in (1, 2, 1, 2):
        asked(number)
    assert drawn == [1, 2]
    most = kept_pictures.MOST_KEPT // (512 * 512 * 4)
    for number in range(3, most + 2):
        asked(number)
    drawn.clear()
    # the one that was not used for longest has gone
    asked(2)
    assert drawn == []
    asked(1)
    assert drawn == [1]
    edited(window, ("clips", 0, "cels", 0), frame=3)
    drawn.clear()
    asked(1)
    assert drawn == [1]


def test_the_mirror_looks_as_if_drawn_now(window: Window, application: QApplication) -> None:
    live, glass = window.live, window.mirror.glass
    live.stop()
    stick = window.stations["Sheets"]
    assert_fresh(
        window,
        glass,
        {
            "a tick": lambda: ticks(window, 1),
            "another cel": lambda: ticks(window, 20),
            "steered": live.drive,
            "running": [lambda: QTest.keyPress(stick, Qt.Key.Key_Right), lambda: ticks(window, 9)],
            "in the air": [lambda: QTest.keyPress(stick, Qt.Key.Key_Space), lambda: ticks(window, 6)],
            "let go": [live.leave, lambda: ticks(window, 60)],
            "rest": lambda: ticks(window, 300),
            "another costume": lambda: window.session.art.wear(""),
            "an edit": lambda: edited(window, ("clips", 0, "cels", 0), frame=3),
            "night": lambda: dress(application, True),
            "day": lambda: dress(application, False),
        },
    )


def test_a_blend_space_looks_as_if_drawn_now(window: Window) -> None:
    window.live.stop()
    window.go("Blends")
    station = window.stations["Blends"]
    assert isinstance(station, BlendsStation)
    station._timer.stop()
    view = station.view

    def phase(at: int) -> None:
        view.phase = at
        view.look()

    assert_fresh(
        window,
        view,
        {
            "as it is": lambda: None,
            "walked on": lambda: phase(TICK // 3),
            "once round": lambda: phase(0),
            "needle": lambda: QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier),
            "another sample": lambda: QTest.keyClick(view, Qt.Key.Key_PageDown),
            "moved": lambda: QTest.keyClick(view, Qt.Key.Key_Left),
            "all": lambda: QTest.keyClick(view, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier),
            "mirrored": lambda: edited(window, ("blends", 0, "samples", 0), mirrored=True),
            "a cel": lambda: edited(window, ("clips", 1, "cels", 0), frame=3),
            "undone": window.session.undo,
            "larger": lambda: view.setFixedHeight(300),
        },
    )


def test_a_clip_looks_as_if_drawn_now(window: Window) -> None:
    window.live.stop()
    window.go("Clips")
    station = window.stations["Clips"]
    assert isinstance(station, ClipsStation)
    station.stand()
    large = station.large
    assert_fresh(
        window,
        large,
        {
            "the next cel": lambda: station.step(30),
            "and back": lambda: station.step(-30),
            "another clip": lambda: window.session.show(Thing("clip", "walk")),
            "onion": lambda: station.onion.setChecked(True),
            "all cels": lambda: station.contact.setChecked(True),
            "one cel": lambda: station.contact.setChecked(False),
            "an edit": lambda: edited(window, ("clips", 1, "cels", 0), frame=3),
            "undone": window.session.undo,
        },
    )


def test_the_graph_looks_as_if_drawn_now(window: Window) -> None:
    live = window.live
    live.stop()
    window.go("Graph")
    station = window.stations["Graph"]
    assert isinstance(station, GraphStation)
    assert_fresh(
        window,
        # what is seen of the page
        station.page.parentWidget(),
        {
            "a tick": lambda: ticks(window, 1),
            "another cel": lambda: ticks(window, 20),
            "a state": lambda: window.session.show(Thing("state", "climb", "base")),
            "steered": live.drive,
            "running": [lambda: QTest.keyPress(station, Qt.Key.Key_Right), lambda: ticks(window, 9)],
            "let go": [lambda: QTest.keyRelease(station, Qt.Key.Key_Right), live.leave, lambda: ticks(window, 60)],
            "an edit": lambda: edited(window, ("layers", 0, "states", 0), ending=True),
            "undone": window.session.undo,
        },
    )


def test_a_course_looks_as_if_drawn_now(window: Window) -> None:
    window.live.stop()
    window.go("Rehearse")
    station = window.stations["Rehearse"]
    assert isinstance(station, RehearseStation)
    course = station.course
    assert_fresh(
        window,
        course,
        {
            "as it is": lambda: None,
            "it scrolls": [
                window.live.drive,
                lambda: QTest.keyPress(station, Qt.Key.Key_Right),
                lambda: ticks(window, 200),
            ],
            "let go": [lambda: QTest.keyRelease(station, Qt.Key.Key_Right), window.live.leave],
            "larger": lambda: course.zoom_by(1, QPointF(100, 100)),
            "smaller": lambda: course.zoom_by(-1, QPointF(100, 100)),
            "a shape": lambda: edited(window, ("course", "shapes", 3), height=60.0),
            "undone": window.session.undo,
        },
    )
