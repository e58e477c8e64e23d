"""From an empty window and a sheet: a figure that stands, walks, runs and jumps, with footsteps and a landing that holds it
still.  Every step is a gesture of mouse or keyboard; no file is touched."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from leanstep.core.findings.report import check_character
from leanstep.desk.stations.clips.event_choice import ROW
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.conftest import name_it, ticks
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import typed
from tests.interface.test_drop_to_drive import drop
from tests.interface.test_graph_hands import drag
from tests.interface.test_sheets import wait_until

LEFT = Qt.MouseButton.LeftButton
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier

CLIPS = {
    "idle": (0, 5),
    "walk": (11, 18),
    "run": (22, 29),
    "take-off": (19, 21),
    "rise": (9, 10),
    "fall": (39, 40),
    "land": (30, 32),
}
WAYS = (
    ("idle", "walk", "speed > 12"),
    ("walk", "idle", "speed < 6"),
    ("walk", "run", "speed > 120"),
    ("run", "walk", "speed < 100"),
    ("take-off", "rise", "clip done"),
    ("rise", "fall", "rise <= 0"),
    ("fall", "land", "grounded"),
    ("land", "idle", "clip done"),
    ("ground", "take-off", "jump pressed and rise > 0"),
    ("ground", "fall", "not grounded for 0.08 s"),
)


class Hands:
    """A person at the window; every method is one gesture or a few, and counts them."""

    def __init__(self, window: Window) -> None:
        self.window, self.gestures = window, 0

    @property
    def sheets(self) -> SheetsStation:
        return self.window.station(SheetsStation)

    @property
    def clips(self) -> ClipsStation:
        return self.window.station(ClipsStation)

    @property
    def graph(self) -> GraphStation:
        return self.window.station(GraphStation)

    def go(self, number: int) -> None:
        QTest.keyClick(self.window, getattr(Qt.Key, f"Key_{number}"), CTRL)
        self.gestures += 1

    def cut(self, sheet: Path) -> None:
        drop(self.window, sheet)
        wait_until(lambda: self.sheets.ways.suggested.apply.isEnabled(), "the suggestion")
        QTest.mouseClick(self.sheets.ways.suggested.apply, LEFT)
        self.gestures += 2

    def clip(self, name: str, first: int, last: int) -> None:
        """A drag over the frames, a click on the button, a name."""
        self.go(1)
        view = self.sheets.view
        drag(view, view.cell(first).center(), view.cell(last).center())
        QTest.mouseClick(self.sheets.make_clip, LEFT)
        name_it(self.window, name)
        self.gestures += 3

    def play_once(self, name: str) -> None:
        self.clips.choose(name)
        pick(self.clips.settings.loop, "once, then hold")
        self.gestures += 2

    def footsteps(self, name: str) -> None:
        """Two marks of one name where the feet come down."""
        self.clips.choose(name)
        events, length = self.clips.events, sum(cel.ticks for cel in self.clips.clip.cels)
        for share in (0.125, 0.625):
            QTest.mouseClick(events, LEFT, pos=QPoint(int(events.x_of(length * share)), int(2 + ROW / 2)))
            if share < 0.5:
                typed(self.clips.event_row.name, "step")
        self.gestures += 4

    def landing_lock(self) -> None:
        """A span over the whole of the landing, and what it does."""
        self.clips.choose("land")
        events, length = self.clips.events, sum(cel.ticks for cel in self.clips.clip.cels)
        drag(events, QPointF(events.x_of(0) + 1, 2 + ROW / 2), QPointF(events.x_of(length), 2 + ROW / 2))
        line = self.clips.event_row.span_entries
        typed(line, "lock movement")
        self.gestures += 3

    def state(self, name: str, lane: str = "") -> None:
        """A new state is named like a clip, and shows it."""
        QTest.keyClick(self.window, Qt.Key.Key_T, CTRL | SHIFT)
        name_it(self.window, name)
        self.gestures += 2
        if lane:
            self.graph.drawer.lane.setEditText(lane)
            QTest.keyClick(self.graph.drawer.lane.lineEdit(), Qt.Key.Key_Return)
            self.gestures += 1

    def way(self, source: str, target: str, when: str) -> None:
        """A drag from the knob of a figure, or from a lane's name, to another figure; then the condition."""
        page = self.graph.page
        slots = page.page.slots
        if (0, source) in slots:
            QTest.mouseClick(page, LEFT, pos=page.box_of(slots[0, source]).center().toPoint())
            begin = page._knob(page.page.slots[0, source])
            self.gestures += 1
        else:
            row = next(one for one in page.page.rows if one.lane == source)
            begin = QPointF(60, row.ground - 20)
        drag(page, begin, page.box_of(page.page.slots[0, target]).center())
        line = self.graph.drawer.line
        assert line.hasFocus(), "the condition is asked for at once"
        QTest.keyClicks(line, when)
        line._popup.hide()
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.gestures += 2


def test_a_figure_that_stands_walks_runs_and_jumps_is_made_by_hand(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window()
    window.session.new()
    hands = Hands(window)
    hands.cut(demo / "art" / "lamplighter.png")
    assert len(hands.sheets.view.frames) == 55
    QTest.keyClick(window, Qt.Key.Key_Escape)
    for name, (first, last) in CLIPS.items():
        hands.clip(name, first, last)
    for name in ("take-off", "land"):
        hands.play_once(name)
    for name in ("walk", "run"):
        hands.footsteps(name)
    hands.landing_lock()

    hands.go(4)
    page = hands.graph.page
    QTest.mouseClick(page, LEFT, pos=page.box_of(page.page.slots[0, "idle"]).center().toPoint())
    pick(hands.graph.drawer.shows, "clip idle")
    hands.gestures += 2
    for name in ("walk", "run", "land"):
        hands.state(name)
    for name in ("take-off", "rise", "fall"):
        hands.state(name, "air")
    for source, target, when in WAYS:
        hands.way(source, target, when)

    document = window.session.document
    assert {state.name: state.clip for state in document.layers[0].states} == {name: name for name in CLIPS}
    assert {state.lane for state in document.layers[0].states if state.name in ("take-off", "rise", "fall")} == {"air"}
    assert [(one.source or one.from_lane, one.to, one.when) for one in document.layers[0].transitions] == list(WAYS)
    errors = [one.sentence for one in check_character(document).findings if one.severity == "error"]
    assert not errors
    assert hands.gestures < 100

    live = window.live
    live.drive()
    seen, steps = [], 0

    def play(count: int) -> None:
        nonlocal steps
        for _ in range(count):
            ticks(window, 1)
            seen.append(document.layers[0].states[live.situation.states[0]].name)
            steps += sum(name == "step" for _, name in live.last.marks)

    live.hands.key("Right", True)
    live.hands.key("Shift", True)
    play(120)
    assert steps >= 3, "the feet are heard"
    live.hands.key("Space", True)
    play(20)
    live.hands.key("Space", False)
    while seen[-1] != "land":
        play(1)
    play(2)
    assert live.situation.locked and live.situation.body.vx < 165, "the landing holds it still"
    play(60)
    assert list(dict.fromkeys(seen)) == ["idle", "walk", "run", "take-off", "rise", "fall", "land"]
