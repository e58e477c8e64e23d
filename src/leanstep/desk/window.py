"""The window: the route on top, a station in the middle, the mirror on the right, one sentence at the bottom."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import TypeVar

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QCloseEvent, QGuiApplication, QKeySequence
from PySide6.QtWidgets import QApplication

from leanstep.core.findings.results import Finding
from leanstep.core.naming.references import things
from leanstep.core.naming.transitions import name_of
from leanstep.desk.clicks import Clicks
from leanstep.desk.command_search import CommandSearch, Goal
from leanstep.desk.context import Context
from leanstep.desk.controllers import Controllers
from leanstep.desk.figure_view import FigureView
from leanstep.desk.file_window import FileWindow
from leanstep.desk.session import KINDS, Session
from leanstep.desk.starts import Starts
from leanstep.desk.stations.registry import STATIONS, showing
from leanstep.desk.stations.station import Specification, Station
from leanstep.desk.steering_keys import SteeringKeys
from leanstep.desk.theme import dress, theme
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.list_station import ListStation
from leanstep.desk.widgets.notice import Choice, Notice

FIRST = "Graph"
"""The station the window opens in."""


S = TypeVar("S", bound=Station)
DEMOS = (
    ("the lamplighter, sound", "lamplighter.leanstep"),
    ("the lamplighter with faults", "lamplighter-faulty.leanstep"),
    ("the ferry hand, seen from above", "ferry-hand.leanstep"),
    ("the ferry hand with faults", "ferry-hand-faulty.leanstep"),
    ("the harbour cat, seen from above", "harbour-cat.leanstep"),
    ("the fencing teacher, with phases and boxes", "fencing-teacher.leanstep"),
    ("the fencing teacher with faults", "fencing-teacher-faulty.leanstep"),
    ("the harbour gull, put together from parts", "harbour-gull.leanstep"),
    ("the net mender, as the sheet was sent", "net-mender-before.leanstep"),
    ("the net mender, put right", "net-mender-after.leanstep"),
)
"""Demos in words, and their files."""


BESIDE = {
    "parameter": "Parameters",
    "button": "Parameters",
    "stick": "Parameters",
    "squash": "Shape",
    "lean": "Shape",
}
"""Where beside the mirror a kind of thing is shown."""


class Window(FileWindow):
    """The desk."""

    def __init__(self, session: Session, demo: Path | None = None) -> None:
        super().__init__(session)
        self.demo = demo
        self.steering = SteeringKeys(self)
        self.starts = Starts(self.live)
        self.controllers = Controllers(self.live)
        self._before = self.live.mode
        """What the live character did last: idled, was driven, played, or looked at."""
        self.clicks = Clicks()
        desk = Context(session, self.live, self.starts, self.clicks)
        self.stations = {one.name: one.make(desk) for one in STATIONS}
        for station in self.stations.values():
            self.stack.addWidget(station)
        self.lay_out()
        self._actions()
        self._connect()
        self.go(FIRST)
        self._show_document()
        self.live.start()

    # --- commands

    def _actions(self) -> None:
        self.commands: list[QAction] = []

        def command(name: str, keys: str | QKeySequence.StandardKey, function: object) -> QAction:
            action = QAction(name, self)
            if keys:
                action.setShortcut(QKeySequence(keys))
            action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
            action.triggered.connect(lambda checked=False: function())  # type: ignore[operator]
            self.addAction(action)
            self.commands.append(action)
            return action

        self.new_action = command("New character", QKeySequence.StandardKey.New, self.new)
        self.open_action = command("Open …", QKeySequence.StandardKey.Open, self.ask_open)
        self.save_action = command("Save", QKeySequence.StandardKey.Save, self.save)
        self.save_as_action = command("Save as …", "Ctrl+Shift+S", self.save_as)
        command("Bring back the version saved before", "", self.session.bring_back_backup)
        self.undo_action = command("Undo", QKeySequence.StandardKey.Undo, self.session.undo)
        self.redo_action = command("Redo", "Ctrl+Shift+Z", self.session.redo)
        self.search_action = command("Find a command, or go to anything by its name", "Ctrl+K", self.search)
        for number, one in enumerate(STATIONS, 1):
            command(f"Go to {one.name}", f"Ctrl+{number}", lambda name=one.name: self.go(name))
        command("Steer the character", "Ctrl+Space", self.live.toggle)
        command("Put the character back to its start", "Ctrl+R", self.live.restart)
        command("Parameters and controls", "Ctrl+Shift+P", lambda: self.mirror.show_tab("Parameters"))
        command("The body's numbers", "Ctrl+Shift+B", lambda: self.mirror.show_tab("Body"))
        command("Squash and lean", "Ctrl+Shift+L", lambda: self.mirror.show_tab("Shape"))
        command("Do the same once more, beside what it did before", "Ctrl+G", self.live.repeat)
        command("Set a bookmark at this moment", "Ctrl+B", self.starts.set_bookmark)
        command("Back to the bookmark", "Ctrl+J", self.starts.come_back)
        command(
            "Steer from the chosen state, or from one that shows the chosen clip",
            "Ctrl+Shift+J",
            self.steer_from_chosen,
        )
        command("Put in a pattern", "Ctrl+Shift+I", lambda: self.session.wanted.emit("pattern"))
        command("Ways out", "Ctrl+Shift+O", lambda: self.mirror.show_tab("Ways out"))
        command("Mirror size: pocket, column, stage", "Ctrl+M", self._next_size)
        self.night_action = command("Night paper", "Ctrl+Shift+N", self.toggle_night)
        self.picture_action = command("Copy the window as a picture", "Ctrl+Shift+C", self.copy_picture)
        if self.demo is not None:
            for what, name in DEMOS:
                command(f"Open the demo: {what}", "", lambda name=name: self.open(self._demo(name)))
        of_station = {name: station.commands() for name, station in self.stations.items()}
        for actions in of_station.values():
            for action in actions:
                self.addAction(action)
                self.commands.append(action)
        keys = Counter(action.shortcut().toString() for action in self.commands if not action.shortcut().isEmpty())
        self._shared = [
            (name, action, action.shortcut())
            for name, actions in of_station.items()
            for action in actions
            if keys[action.shortcut().toString()] > 1
        ]
        """Commands of several stations with one shortcut, which is that of the station that is shown."""
        self.quit_action = command("Quit", QKeySequence.StandardKey.Quit, self.close)
        self.file_menu.aboutToShow.connect(self._fill_file_menu)

    def _demo(self, name: str) -> Path:
        assert self.demo is not None
        return self.demo / name

    def _fill_file_menu(self) -> None:
        self.file_menu.clear()
        self.file_menu.addActions([self.new_action, self.open_action])
        recent = self.file_menu.addMenu("Open recent")
        for path in self.session.recent():
            recent.addAction(f"{path.name}  –  {path.parent}", lambda path=path: self.open(path))
        recent.setEnabled(bool(self.session.recent()))
        self.file_menu.addActions([self.save_action, self.save_as_action])
        self.file_menu.addSeparator()
        self.file_menu.addActions([action for action in self.commands if action.text().startswith("Open the demo")])
        self.file_menu.addSeparator()
        self.file_menu.addActions([self.night_action, self.picture_action, self.quit_action])

    def _connect(self) -> None:
        self.route.went.connect(self.go)
        self.session.changed.connect(self._show_document)
        self.session.checker.checked.connect(self._show_document)
        self.session.noted.connect(lambda: self.route.show_state(self.session))
        self.session.said.connect(self.say)
        self.controllers.said.connect(self.say)
        self.live.said.connect(self.say)
        self.live.fell.connect(self._fell)
        self.session.progressed.connect(self._progress)
        self.live.mode_changed.connect(self._mode)
        self.live.ticked.connect(self._click)
        self.mirror.drive_button.clicked.connect(self.live.toggle)
        self.mirror.restart_button.clicked.connect(self.live.restart)
        self.mirror.size_button.clicked.connect(self._next_size)
        self.mirror.ways.wanted.connect(self._edit_transition)
        self.undo_button.clicked.connect(self.session.undo)
        self.redo_button.clicked.connect(self.session.redo)
        self.search_button.clicked.connect(self.search)
        self.stop_button.clicked.connect(self.session.checker.stop)
        self.session.wanted.connect(self._go_to_kind)
        self.session.complained.connect(self.complain)
        self.session.keeper.noticed.connect(self.notices.put)
        self.session.keeper.settled.connect(self.notices.take_away)

    def _click(self) -> None:
        """The marks that fire while the character is steered or played are heard."""
        last = self.live.last
        if last is not None and last.marks and self.live.mode != "idle":
            self.clicks.sound(self.live.machine.character, [name for _, name in last.marks])

    # --- what is shown

    def go(self, name: str) -> None:
        """Go to a station, by its name."""
        super().go(name)
        for owner, action, keys in self._shared:
            action.setShortcut(keys if owner == name else QKeySequence())
        self.mirror.set_size(self._size(name) if self._here.mirror else "away")
        self.stations[name].setFocus()
        self.live.wake()

    def _go_to_kind(self, kind: str) -> None:
        if kind in BESIDE:
            self.mirror.show_tab(BESIDE[kind])
        station = showing(kind)
        if station is not None:
            self.go(station.name)

    def station(self, kind: type[S]) -> S:
        """The station of a kind."""
        return next(one for one in self.stations.values() if isinstance(one, kind))

    @property
    def _here(self) -> Specification:
        return next(one for one in STATIONS if one.name == self.route.current)

    def _size(self, name: str) -> str:
        size = str(self.session.settings.value(f"mirror/{name}", "column"))
        return size if size in FigureView.SIZES else "column"

    def _next_size(self) -> None:
        if self._here.mirror:
            sizes = list(FigureView.SIZES)
            size = sizes[(sizes.index(self._size(self._here.name)) + 1) % len(sizes)]
            self.session.settings.setValue(f"mirror/{self._here.name}", size)
            self.mirror.set_size(size)

    def _show_document(self) -> None:
        self.route.show_state(self.session)
        path = self.session.history.path
        name = path.name if path else "Untitled"
        star = " •" if self.session.history.changed else ""
        self.file_button.setText(f"{name}{star} ▾")
        self.setWindowTitle(f"{name}{star} – Lean Step")
        undo, redo = self.session.history.undo_name, self.session.history.redo_name
        for action, button, verb, what, keys in (
            (self.undo_action, self.undo_button, "Undo", undo, "Ctrl+Z"),
            (self.redo_action, self.redo_button, "Redo", redo, "Ctrl+Shift+Z"),
        ):
            action.setText(f"{verb}: {what}" if what else verb)
            button.setEnabled(bool(what))
            button.setToolTip(plain_tip(f"{verb}: {what} ({keys})") if what else f"Nothing to {verb.lower()} ({keys})")

    def _mode(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        # every event of the program comes through the filter, so it is there only while keys steer
        app.removeEventFilter(self.steering)
        if self.live.mode != "idle":
            app.installEventFilter(self.steering)
        if self.live.mode == "driving" and self.session.editing.line is not None:
            # whoever steers from here on does not write any more
            self.session.editing.finish()
            self.stations[self.route.current].setFocus()
        before, self._before = self._before, self.live.mode
        ended = {"driving": "Let go of every key.", "looking": "Not looking at that tick any more; it goes on."}
        said = (
            "You steer now; Esc lets go, Backspace held lets time run back."
            if self.live.mode == "driving"
            else ended.get(before, "Stopped.")
        )
        if self.live.mode in ("driving", "idle") and before != self.live.mode:
            self.say(said)

    def _fell(self, fallen: bool) -> None:
        if not fallen:
            self.notices.take_away("fallen")
            return
        back = Choice("Put it back", "Back to its start (Ctrl+R)", self.live.restart)
        text = "The figure has fallen out of the course and is held there."
        self.notices.put(Notice("fallen", text, (back,)))

    def _edit_transition(self, layer: int, index: int) -> None:
        self.session.show(name_of(self.session.document, layer, index))

    # --- the rest

    def search(self) -> None:
        """Find a command by its name, or go to anything that has one."""
        actions = [action for action in self.commands if action is not self.search_action]
        CommandSearch(self, actions, list(self._goals())).exec()

    def _goals(self) -> Iterator[Goal]:
        """Everything in the document that has a name and is shown somewhere, and what was found."""
        several = len(self.session.document.layers) > 1
        for thing in things(self.session.document):
            if thing.kind in BESIDE or showing(thing.kind) is not None:
                where = f" ({thing.within})" if thing.within and several else ""
                kind = KINDS.get(thing.kind, thing.kind)
                yield Goal(kind, f"{thing.name}{where}", partial(self.session.show, thing))
        for finding in self.session.report.findings if self.session.report is not None else ():
            yield Goal("finding", finding.sentence, partial(self._show_finding, finding))

    def _show_finding(self, finding: Finding) -> None:
        self.session.finding = finding
        self.session.wanted.emit("finding")

    def toggle_night(self) -> None:
        """Change between day and night paper."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        dress(app, not theme.night)
        self.session.settings.setValue("night", theme.night)
        for widget in app.allWidgets():
            widget.update()

    def steer_from_chosen(self) -> None:
        """Start in the middle: in the chosen state, one that shows the chosen clip or blend space, or on the tick looked at."""
        session, station = self.session, self.stack.currentWidget()
        thing = station.thing if isinstance(station, ListStation) and station.kind in ("clip", "blend") else None
        if self.live.mode == "looking":
            self.live.drive()
        elif thing is not None:
            found = [
                (at, state.name)
                for at, layer in enumerate(session.document.layers)
                for state in layer.states
                if getattr(state, thing.kind) == thing.name
            ]
            if found:
                self.starts.start_in(*found[0])
            else:
                self.say(f"No state shows {thing.name}.")
        elif session.state is not None:
            self.starts.start_in(*session.state)
        else:
            self.say("Choose a state in Graph, or a clip that one shows.")

    def copy_picture(self) -> None:
        """Copy what is on screen, for the programmer next door."""
        QGuiApplication.clipboard().setPixmap(self.grab())
        self.say("Copied the window as a picture.")

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self._may_leave():
            event.ignore()
            return
        self.live.stop()
        self.clicks.stop()
        self.mirror.why_not.close_work()
        for station in self.stations.values():
            station.let_go()
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.removeEventFilter(self.steering)
        self.session.close()
        event.accept()
