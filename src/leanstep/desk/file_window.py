"""The files of the desk: new, opened, saved, brought in and dropped."""

from __future__ import annotations

from os.path import isdir
from pathlib import Path

from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QFileDialog, QMessageBox

from leanstep.core.character.storage import ChangedOnDisk
from leanstep.core.errors import LeanStepError
from leanstep.core.formats import scxml_in
from leanstep.desk.stations.registry import STATIONS
from leanstep.desk.stations.station import Specification
from leanstep.desk.widgets.basics import paper_box
from leanstep.desk.widgets.notice import Choice, Notice
from leanstep.desk.window_frame import WindowFrame

CHARACTER, STATE_GRAPH = ".leanstep", ".scxml"
MOST_LEFT_OUT = 6
"""Things left out of a state graph that are told one by one."""


class FileWindow(WindowFrame):
    """Opens, saves and takes in files; what is unsaved is asked about before it is left."""

    def _may_leave(self) -> bool:
        """Whether the document may be left: asks when there is something unsaved."""
        self.session.editing.finish()
        if self.live.recording is not None:
            self.live.leave()
        if not self.session.history.changed:
            return True
        choices = (
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel
        )
        text = f"{self.session.document.name} has changes that are not saved. Save them first?"
        answer = paper_box(self, "Unsaved changes", text, "", choices).exec()
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def new(self) -> None:
        """Start an empty character."""
        if self._may_leave():
            self.session.new()
            self.go(STATIONS[0].name)

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        kinds = "Characters (*.leanstep);;State graphs as SCXML (*.scxml)"
        name, _ = QFileDialog.getOpenFileName(self, "Open a character", str(self.session.last_folder), kinds)
        if name:
            self.bring_in(Path(name))

    def open(self, path: Path) -> bool:
        """Open a file; what is wrong with it is said and the present document stays."""
        if not self._may_leave():
            return False
        try:
            self.session.open(path)
        except LeanStepError as error:
            self.complain(error)
            return False
        return True

    def open_graph(self, path: Path) -> bool:
        """Start a new character from a state graph of another program, and say what was left out of it."""
        if not self._may_leave():
            return False
        try:
            brought = scxml_in.load(path)
        except LeanStepError as error:
            self.complain(error)
            return False
        self.session.begin(brought.character, f"brought in {path.name}")
        self.go("Graph")
        if brought.left_out:
            some = brought.left_out[:MOST_LEFT_OUT]
            more = len(brought.left_out) - len(some)
            text = "\n".join(
                [f"{path.name} says more than a graph can hold.", *some, *([f"and {more} more"] if more else [])]
            )
            self.notices.put(Notice("graph", text, (Choice("All right", "Take this away", lambda: None),)))
        return True

    def save(self) -> bool:
        """Save; asks where when the document has no file yet."""
        if self.session.history.path is None:
            return self.save_as()
        return self._save(None)

    def save_as(self) -> bool:
        """Ask where to save, and do it."""
        start = self.session.history.path or self.session.last_folder / "character.leanstep"
        name, _ = QFileDialog.getSaveFileName(self, "Save the character", str(start), "Characters (*.leanstep)")
        if not name:
            return False
        path = Path(name)
        return self._save(path if path.suffix else path.with_suffix(".leanstep"))

    def _save(self, path: Path | None) -> bool:
        try:
            self.session.save(path)
        except ChangedOnDisk as error:
            self.say(f"{error.thing}: {error.reason}.")
            return False
        except LeanStepError as error:
            self.complain(error)
            return False
        return True

    def bring_in(self, *paths: Path) -> None:
        """Open a character, or give other files to the stations that take them; of a folder, the files in it."""
        some = [one for path in paths for one in (sorted(path.iterdir()) if isdir(path) else [path])]
        for suffix, opens in ((CHARACTER, self.open), (STATE_GRAPH, self.open_graph)):
            found = [path for path in some if path.suffix.lower() == suffix]
            if found:
                opens(found[0])
                return
        for taker in STATIONS:
            taken = [path for path in some if _taker(path) is taker]
            if taken:
                self.session.bring_in(self.stations[taker.name].take_files, taken)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls()]
        if any(
            path.suffix.lower() in (CHARACTER, STATE_GRAPH) or _taker(path) is not None or isdir(path) for path in paths
        ):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.bring_in(*(Path(url.toLocalFile()) for url in event.mimeData().urls()))
        event.acceptProposedAction()


def _taker(path: Path) -> Specification | None:
    """The station that brings in a file, by its suffix."""
    return next((one for one in STATIONS if path.suffix.lower() in one.suffixes), None)
