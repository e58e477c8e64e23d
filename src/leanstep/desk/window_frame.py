"""The frame of the desk: the bar above, the stations, the mirror beside them, the status line below."""

from __future__ import annotations

from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QHBoxLayout, QMainWindow, QMenu, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.errors import LeanStepError
from leanstep.desk.figure_view import FigureView
from leanstep.desk.paint import pen
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.station_bar import StationBar
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import label, paper_box, plain_tip
from leanstep.desk.widgets.notice import NoticeBar


class WindowFrame(QMainWindow):
    """What stands where, and what is said in the status line."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.live = Simulation(session)
        self.setAcceptDrops(True)
        self.setMinimumSize(1060, 640)
        self.resize(1280, 800)
        self.route = StationBar()
        self.mirror = FigureView(session, self.live)
        self.stack = QStackedWidget()
        self.stations: dict[str, Station] = {}

    def go(self, name: str) -> None:
        """Go to a station, by its name."""
        self.route.current = name
        self.route.update()
        self.stack.setCurrentWidget(self.stations[name])

    def lay_out(self) -> None:
        """Put everything in its place, once the stations are there."""
        self.file_button = QPushButton("Untitled ▾")
        self.file_button.setAccessibleName("File")
        self.file_button.setToolTip("New, open, save …")
        self.file_menu = QMenu(self)
        self.file_button.setMenu(self.file_menu)
        self.file_button.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        self.file_button.setMaximumWidth(210)
        self.undo_button, self.redo_button, self.search_button = (
            QPushButton("↶"),
            QPushButton("↷"),
            QPushButton("Find …"),
        )
        self.undo_button.setAccessibleName("Undo")
        self.redo_button.setAccessibleName("Redo")
        self.search_button.setToolTip("Find any command, state, clip, parameter, take or finding by its name (Ctrl+K)")
        for button in (self.undo_button, self.redo_button):
            button.setFixedWidth(38)
        top = QWidget()
        bar = QHBoxLayout(top)
        bar.setContentsMargins(10, 2, 10, 0)
        bar.setSpacing(6)
        bar.addWidget(self.file_button)
        bar.addWidget(self.route, 1)
        for button in (self.undo_button, self.redo_button, self.search_button):
            bar.addWidget(button)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.stack, 1)
        middle.addWidget(_Rule(False))
        middle.addWidget(self.mirror)
        self.notices = NoticeBar()
        self.status = label("Ready.")
        self.status.setAccessibleName("Status")
        self.running = label("", "soft")
        self.stop_button = QPushButton("Stop")
        self.stop_button.setToolTip("Stop the check that is running")
        self.stop_button.setFlat(True)
        self.stop_button.hide()
        foot = QHBoxLayout()
        foot.setContentsMargins(14, 2, 10, 2)
        foot.addWidget(self.status, 1)
        foot.addWidget(self.running)
        foot.addWidget(self.stop_button)
        bottom = QWidget()
        bottom.setFixedHeight(28)
        bottom.setLayout(foot)
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(top)
        column.addWidget(_Rule(True))
        column.addWidget(self.notices)
        column.addLayout(middle, 1)
        column.addWidget(_Rule(True))
        column.addWidget(bottom)
        self.setCentralWidget(whole)

    def say(self, sentence: str) -> None:
        """Say in the status line what was done."""
        self.status.setText(sentence)
        self.status.setToolTip(plain_tip(sentence))

    def _progress(self, sentence: str) -> None:
        self.running.setText(sentence)
        self.stop_button.setVisible(bool(sentence))

    def complain(self, error: LeanStepError) -> None:
        """Say what is wrong, where and what to do, in a box and in the status line."""
        self.say(str(error))
        paper_box(self, "That did not work", f"{error.thing}: {error.reason}.", error.way_out).exec()


class _Rule(QWidget):
    """A thin line."""

    def __init__(self, across: bool) -> None:
        super().__init__()
        if across:
            self.setFixedHeight(1)
        else:
            self.setFixedWidth(1)

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setPen(pen("edge"))
        painter.drawLine(0, 0, self.width(), self.height() if self.width() == 1 else 0)
