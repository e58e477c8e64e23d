"""The bridge from the core to Qt: the document, its art, its checks, and who wants to know."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from PySide6.QtCore import QObject, QProcess, QSettings, QTimer, Signal
from PySide6.QtGui import QImage, QPixmap

from leanstep.core.character import files
from leanstep.core.character.edits import Edit
from leanstep.core.character.history import History
from leanstep.core.character.model import Button, Character, Controls, Layer, Parameter, Sheet, State, Stick
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.model import Finding
from leanstep.core.findings.report import Report, report_from_json
from leanstep.core.graph.machine import Machine, compile_character
from leanstep.core.naming.places import Thing
from leanstep.core.naming.removing import removal_sentence, without
from leanstep.core.naming.renaming import rename, rename_fault
from leanstep.core.sheets.images import CutSheet, load_sheet

MOST_RECENT = 8
KINDS = {"blend": "blend space"}
"""Kinds of things in words, where they are not the same."""


class Session(QObject):
    """One open document.  Widgets draw :attr:`document` and send edits with :meth:`edit`; nothing else keeps it."""

    changed = Signal()
    opened = Signal()
    checked = Signal()
    said = Signal(str)
    progressed = Signal(str)
    selected = Signal()
    pointed = Signal(str, str)
    """Somebody wants to see a sheet, clip, blend or take: its kind and its name."""

    def __init__(self, settings: QSettings) -> None:
        super().__init__()
        self.settings = settings
        self.history = History(_empty())
        self.report: Report | None = None
        self.state: tuple[int, str] | None = None
        self.transition: tuple[int, int] | None = None
        self.finding: Finding | None = None
        self._scratch = tempfile.TemporaryDirectory(prefix="leanstep-")
        self._machine: Machine | None = None
        self._sheets: dict[str, tuple[Sheet, float, CutSheet | LeanStepError]] = {}
        self._pictures: dict[tuple[str, int, bool], QPixmap] = {}
        self._worker: QProcess | None = None
        self.stopped = False
        self._request = 0
        self._later = QTimer(self, singleShot=True, interval=60)
        self._later.timeout.connect(self._send)
        self._later.start()

    @property
    def document(self) -> Character:
        """The document as it is now."""
        return self.history.document

    @property
    def machine(self) -> Machine:
        """The document compiled."""
        if self._machine is None:
            self._machine = compile_character(self.document)
        return self._machine

    @property
    def folder(self) -> Path:
        """Where images lie: the file's folder, or a scratch folder until the document is saved."""
        return self.history.path.parent if self.history.path else Path(self._scratch.name)

    # --- documents

    def new(self) -> None:
        """Start an empty character."""
        self._take(History(_empty()))
        self.said.emit("Started a new character.")

    def open(self, path: Path) -> None:
        """Open a file; raises :class:`LeanStepError` and keeps the present document when it cannot be."""
        history = History.open(path.resolve())
        self._take(history)
        self._remember(path.resolve())
        self.said.emit(f"Opened {path.name}.")

    def save(self, path: Path | None = None) -> None:
        """Save, with the images when the folder is another one."""
        before = self.folder
        target = (path or self.history.path or Path()).resolve()
        if target.parent != before.resolve():
            files.copy_images(self.document, before, target.parent)
        self.history.save(target)
        self._remember(target)
        self.said.emit(f"Saved {target.name}.")
        self.changed.emit()

    def _take(self, history: History) -> None:
        self.history = history
        self.state = self.transition = self.finding = None
        self.report = None
        self._sheets.clear()
        self._fresh()
        self.opened.emit()
        self.changed.emit()

    def recent(self) -> list[Path]:
        """Files opened lately that still exist, newest first."""
        value = self.settings.value("recent", [])
        listed = value if isinstance(value, list) else [value]
        return [Path(str(one)) for one in listed if one and Path(str(one)).exists()]

    def _remember(self, path: Path) -> None:
        rest = [str(one) for one in self.recent() if one != path]
        self.settings.setValue("recent", [str(path), *rest][:MOST_RECENT])

    # --- edits

    def edit(self, name: str, change: object, merge: str = "") -> None:
        """Take a step: ``change`` is a function from document to document."""
        if self.history.apply(Edit(name, change), merge):  # type: ignore[arg-type]
            self._fresh()
            self.said.emit(f"{name[0].upper()}{name[1:]}.")
            self.changed.emit()

    def rename(self, thing: Thing, name: str) -> None:
        """Rename a thing everywhere; what keeps it from having that name is said."""
        try:
            renamed = rename(self.document, thing, name)
        except LeanStepError as error:
            self.said.emit(f"Not renamed: {error.reason}. {error.way_out}")
            return
        self.edit(f"renamed {KINDS.get(thing.kind, thing.kind)} {thing.name} to {name}", lambda document: renamed)

    def rename_fault(self, thing: Thing, name: str) -> str | None:
        """Why a thing cannot have another name; None when it can."""
        return rename_fault(self.document, thing, name)

    def remove(self, thing: Thing) -> None:
        """Remove a thing with what cannot stand without it; who still names it is said."""
        left = removal_sentence(self.document, thing)
        name = f"removed {KINDS.get(thing.kind, thing.kind)} {thing.name}"
        self.edit(name, lambda document: without(document, thing))
        if left:
            self.said.emit(f"{name[0].upper()}{name[1:]}. {left}")

    def undo(self) -> None:
        """Take the last step back."""
        name = self.history.undo()
        self._stepped(f"Took back: {name}." if name else "There is nothing to take back.", bool(name))

    def redo(self) -> None:
        """Bring the last step that was taken back again."""
        name = self.history.redo()
        self._stepped(f"Did again: {name}." if name else "There is nothing to do again.", bool(name))

    def _stepped(self, sentence: str, moved: bool) -> None:
        if moved:
            self._fresh()
            self.changed.emit()
        self.said.emit(sentence)

    def _fresh(self) -> None:
        self._machine = None
        self._pictures.clear()
        self._later.start()

    # --- selection

    def select_state(self, layer: int, name: str) -> None:
        """Choose a state; its ways out are listed in the mirror."""
        self.state, self.transition = (layer, name), None
        self.selected.emit()

    def select_transition(self, layer: int, index: int) -> None:
        """Choose a transition for editing."""
        self.transition = (layer, index)
        self.selected.emit()

    def clear_selection(self) -> None:
        """Choose nothing."""
        self.state = self.transition = None
        self.selected.emit()

    # --- art

    def sheet(self, name: str) -> CutSheet | LeanStepError:
        """A sheet with its pixels, or why it cannot be shown; read again when the file changed."""
        sheet = next((one for one in self.document.sheets if one.name == name), None)
        if sheet is None:
            return LeanStepError(f"sheet {name!r}", "there is no such sheet", "Choose another one.")
        path = self.folder / sheet.image
        stamp = path.stat().st_mtime if path.is_file() else 0.0
        known = self._sheets.get(name)
        if known is None or known[0] != sheet or known[1] != stamp:
            loaded: CutSheet | LeanStepError
            try:
                loaded = load_sheet(sheet, self.folder)
            except LeanStepError as error:
                loaded = error
            known = self._sheets[name] = (sheet, stamp, loaded)
            self._pictures = {key: value for key, value in self._pictures.items() if key[0] != name}
        return known[2]

    def picture(self, sheet: str, frame: int, mirrored: bool = False) -> QPixmap | None:
        """One frame as a pixmap; None when it cannot be shown."""
        key = (sheet, frame, mirrored)
        if key not in self._pictures:
            loaded = self.sheet(sheet)
            if isinstance(loaded, LeanStepError) or not 0 <= frame < len(loaded.frames):
                return None
            self._pictures[key] = pixmap(loaded, frame, mirrored)
        return self._pictures[key]

    def thumbnail(self, layer: int, state: int, at: int = 0) -> tuple[QPixmap, tuple[float, float], float] | None:
        """A state's picture after ``at`` ticks, its foot, and how high the figure usually is; None when it shows nothing."""
        picture = self.machine.pictures[layer][state]
        if picture is None or not picture.reels[0].clip.cels:
            return None
        clip, timing = picture.reels[0].clip, picture.reels[0].timing
        cel = clip.cels[timing.cel_at(timing.step(0, at << 16)[0]) or 0]
        found = self.picture(clip.sheet, cel.frame, cel.mirrored)
        if found is None:
            return None
        return found, self.foot(clip.sheet, cel.frame, cel.mirrored), self.figure_height(clip.sheet)

    def foot(self, sheet: str, frame: int, mirrored: bool = False) -> tuple[float, float]:
        """The foot point of a frame, in pixels from its top left corner."""
        loaded = self.sheet(sheet)
        if isinstance(loaded, LeanStepError) or not 0 <= frame < len(loaded.frames):
            return (0.0, 0.0)
        one = loaded.frames[frame]
        return (one.rect.width - one.foot[0] if mirrored else one.foot[0], one.foot[1])

    def figure_height(self, sheet: str) -> float:
        """How high the figure of a sheet usually stands above its foot, in pixels."""
        loaded = self.sheet(sheet)
        if isinstance(loaded, LeanStepError):
            return 1.0
        return loaded.usual_height

    # --- checks

    def _send(self) -> None:
        """Ask the worker to check the document; an older check is dropped."""
        if self._worker is None or self._worker.state() == QProcess.ProcessState.NotRunning:
            self._worker = QProcess(self)
            self._worker.readyReadStandardOutput.connect(self._receive)
            self._worker.finished.connect(self._ended)
            self._worker.start(sys.executable, ["-m", "leanstep.cli.worker"])
        self._request += 1
        self.stopped = False
        request = {
            "id": self._request,
            "folder": str(self.folder),
            "document": files.dump(self.document).decode(),
        }
        self._worker.write((json.dumps(request) + "\n").encode())
        self.progressed.emit("Checking …")

    def _receive(self) -> None:
        while self._worker is not None and self._worker.canReadLine():
            answer = json.loads(bytes(self._worker.readLine().data()))
            if answer["id"] != self._request:
                continue
            if "situations" in answer:
                self.progressed.emit(f"Checking: {answer['situations']} situations …")
            elif "report" in answer:
                self.report = report_from_json(answer["report"])
                self.progressed.emit("")
                self.checked.emit()
            else:
                self.progressed.emit("")
                self.said.emit(answer["error"])

    def _ended(self, code: int) -> None:
        """The worker ended by itself: say so instead of waiting for ever."""
        if self._worker is not None and self.sender() is self._worker:
            reason = bytes(self._worker.readAllStandardError().data()).decode(errors="replace").strip().splitlines()
            self._worker = None
            self._stop_waiting(f"The check broke off ({reason[-1] if reason else f'code {code}'}): a bug in Lean Step.")

    def stop_check(self) -> None:
        """Stop the check that is running."""
        worker, self._worker = self._worker, None
        if worker is not None:
            worker.kill()
            worker.waitForFinished(1000)
        known = "are those of the last complete one" if self.report else "are not known; the next edit checks again"
        self._stop_waiting(f"Stopped the check; the findings {known}.")

    def _stop_waiting(self, sentence: str) -> None:
        self.stopped = True
        self.progressed.emit("")
        self.said.emit(sentence)
        self.checked.emit()

    def close(self) -> None:
        """Let go of the worker."""
        self._later.stop()
        worker, self._worker = self._worker, None
        if worker is not None:
            worker.closeWriteChannel()
            if not worker.waitForFinished(300):
                worker.kill()
                worker.waitForFinished(1000)


def pixmap(loaded: CutSheet, frame: int, mirrored: bool) -> QPixmap:
    """A frame's pixels for Qt."""
    pixels = loaded.picture(frame)
    if mirrored:
        pixels = pixels[:, ::-1]
    height, width = pixels.shape[:2]
    data = pixels.tobytes()
    return QPixmap.fromImage(QImage(data, width, height, width * 4, QImage.Format.Format_RGBA8888).copy())


def _empty() -> Character:
    """What a new character starts from: one state, the controls people expect, and a body that can be steered."""
    state = State(name="idle", lane="ground", restful=True)
    stick = Stick(name="stick", left=("Left",), right=("Right",), down=("Down",), up=("Up",))
    buttons = (Button(name="jump", keys=("Space",)), Button(name="run", keys=("Shift",)))
    parameters = (
        Parameter(name="speed", owner="body", min=0.0, max=240.0, unit="units/s"),
        Parameter(name="rise", owner="body", min=-600.0, max=400.0, unit="units/s"),
        Parameter(name="grounded", kind="flag", owner="body"),
    )
    return Character(
        name="Untitled",
        parameters=parameters,
        controls=Controls(sticks=(stick,), buttons=buttons),
        layers=(Layer(name="base", start="idle", lanes=("ground",), states=(state,)),),
    )
