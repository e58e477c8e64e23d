"""Nothing is lost: unsaved edits are kept for after a crash, and what others do to the file is noticed."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass
from functools import partial
from pathlib import Path

import platformdirs
from PySide6.QtCore import QObject, QTimer, Signal

from leanstep.core.character import files
from leanstep.core.character.document import Character
from leanstep.core.character.history import History
from leanstep.core.character.storage import read_bytes
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.differences import differences
from leanstep.core.wording import counted, some
from leanstep.desk import recovery
from leanstep.desk.recovery import Recovery, Unsaved
from leanstep.desk.widgets.notice import Choice, Notice
from leanstep.desk.workers import Workers

SOON = 1500
"""Milliseconds after a change until unsaved edits are kept."""
LOOK = 2000
"""Milliseconds after which it is looked whether somebody else has changed the file."""
MOST_SAID = 5
"""Differences and edits that are named; of the others the count is said."""


Stamp = tuple[int, int]


@dataclass(frozen=True)
class _Changed:
    """A file that somebody else has changed: its stamp before and now, what it holds (None: it is gone), and what differs in
    words (None: what it holds is known)."""

    path: Path
    before: Stamp | None
    now: Stamp | None
    held: bytes | None
    words: str | None


def state_folder() -> Path:
    """The user's folder for what outlives the program; a temporary one where they have none."""
    chosen = os.environ.get("LEANSTEP_STATE")
    try:
        return Path(chosen) if chosen else platformdirs.user_state_path("lean-step")
    except (RuntimeError, OSError, KeyError):
        return Path(tempfile.gettempdir()) / f"lean-step-{os.getuid()}"


class Autosave(QObject):
    """Looks after one open document's file.  All reading and writing is done beside the window."""

    noticed = Signal(object)
    settled = Signal(str)
    """A notice does not matter any more: what it was about."""
    said = Signal(str)
    took_over = Signal()
    wants_saving = Signal(bool)
    """The document is to be saved; True: over what somebody else has saved."""

    def __init__(self, folder: Path, history: Callable[[], History]) -> None:
        super().__init__()
        self.folder, self.history = folder, history
        self.recovery = Recovery(folder)
        self._path: Path | None = None
        self._stamp: Stamp | None = None
        self._ignored: bytes | None = None
        self._complained = False
        self._workers = Workers("keeper")
        self._later = QTimer(self, singleShot=True, interval=SOON)
        self._later.timeout.connect(lambda: self.keep())
        self._watch = QTimer(self, interval=LOOK)
        self._watch.timeout.connect(self.look)
        self._watch.start()

    # --- unsaved edits

    def changed(self) -> None:
        """The document is another one."""
        if self.history().changed:
            if not self._later.isActive():
                self._later.start()
        else:
            self._later.stop()
            self._workers.begin(self.recovery.clear)

    def keep(self, instead_of: Unsaved | None = None) -> None:
        """Keep the unsaved edits now, beside the window; what they were brought back from is thrown away after that."""
        history = self.history()
        work = partial(self._keep, history.document, history.path, history.unsaved(), instead_of)
        self._workers.begin(work, self._kept)

    def _keep(self, document: Character, path: Path | None, edits: list[str], instead_of: Unsaved | None) -> None:
        self.recovery.keep(document, path, edits, time.time())
        if instead_of is not None:
            recovery.discard(instead_of)

    def _kept(self, done: Future[None]) -> None:
        try:
            done.result()
            self._complained = False
        except LeanStepError as error:
            if not self._complained:
                self._complained = True
                self.said.emit(f"Unsaved edits cannot be kept for after a crash: {error.reason}. Save often.")

    def offer(self, take: Callable[[Unsaved], None]) -> None:
        """Offer what programs that ended without saving have left behind."""
        for one in recovery.left_behind(self.folder):
            name = one.path.name if one.path else f"{one.document.name}, which was never saved"
            what = some(list(dict.fromkeys(one.edits)), MOST_SAID) if one.edits else "nothing"
            when = time.strftime("%H:%M on %d %B", time.localtime(one.when))
            text = f"{name}: {counted(len(one.edits), 'edit')} from {when} not saved ({what})."
            choices = (
                Choice("Bring them back", "Open the file with these edits on top; undo takes them off", partial(take, one)),
                Choice("Throw them away", "They are gone for good", partial(recovery.discard, one)),
                Choice("Later", "Ask again at the next start", lambda: None),
            )  # fmt: skip
            self.noticed.emit(Notice(f"recovery {one.file.name}", text, choices))

    # --- the file

    def opened(self, path: Path | None) -> None:
        """Another file is open (None: a document without one)."""
        if self._path is not None:
            recovery.mark_closed(self.folder, self._path)
        self._later.stop()
        self._workers.begin(self.recovery.clear)
        self._path, self._stamp, self._ignored = path, _stamp(path), None
        self.settled.emit("disk")
        self.settled.emit("others")
        if path is not None:
            try:
                recovery.mark_open(self.folder, path)
            except LeanStepError:
                return
            others = recovery.others_with(self.folder, path)
            if others:
                text = f"{path.name} is open in {counted(len(others), 'other window')} too. What one saves, the other is told."
                self.noticed.emit(Notice("others", text, (Choice("I know", "Go on working", lambda: None),)))

    def before_saving(self, path: Path) -> None:
        """Keep what the file held as the one backup."""
        known = self.history().on_disk
        if known is not None and path == self._path:
            try:
                recovery.keep_backup(self.folder, path, known)
            except LeanStepError as error:
                self.said.emit(f"No backup was kept: {error.reason}.")

    def saved(self, path: Path) -> None:
        """The document was saved."""
        if path != self._path:
            self.opened(path)
        self._stamp, self._ignored = _stamp(path), None
        self._later.stop()
        self._workers.begin(self.recovery.clear)
        self.settled.emit("disk")

    def look(self) -> None:
        """See whether somebody else has changed the file."""
        if self._path is not None:
            self._workers.begin(partial(self._look, self._path, self._stamp, self.history()), self._looked)

    def _look(self, path: Path, stamp: Stamp | None, history: History) -> _Changed | None:
        now = _stamp(path)
        if now == stamp:
            return None
        try:
            held = read_bytes(path) if now is not None else None
        except LeanStepError:
            return None
        known = held is not None and held in (history.on_disk, self._ignored)
        return _Changed(path, stamp, now, held, None if known else self.words(held))

    def _looked(self, done: Future[_Changed | None]) -> None:
        found = done.result()
        if found is None or (found.path, found.before) != (self._path, self._stamp):
            return
        self._stamp = found.now
        if found.words is not None:
            self.tell_changed(found.held, found.words, False)

    def words(self, held: bytes | None) -> str:
        """What a file that holds this differs in from the document, in words."""
        if held is None:
            return "the file is gone"
        try:
            theirs = files.parse(held, "the file")
        except LeanStepError as error:
            return f"it cannot be opened now: {error.reason}"
        found = differences(self.history().document, theirs)
        return some(found, MOST_SAID) if found else "nothing that matters"

    def tell_changed(self, held: bytes | None, words: str, saving: bool) -> None:
        """Say that somebody else has changed the file, what differs from what is open here, and what can be done."""
        name = self._path.name if self._path is not None else "The file"
        begun = "Nothing was saved: s" if saving else "S"
        if held is None:
            text = f"{begun}omebody else has removed {name}. What is open here is still whole."
            choices = [Choice("Save it again", "Write the file anew", lambda: self.wants_saving.emit(True))]
        else:
            text = f"{begun}omebody else has changed {name}. Compared with what is open here: {words}."
            choices = [
                Choice("Take theirs", "Go on with what is on disk; undo brings yours back", lambda: self._take(held)),
                Choice("Save mine over it", "Write what is open here; theirs is kept as the backup", lambda: self._over(held)),
            ]  # fmt: skip
        choices.append(Choice("Keep both for now", "Nothing is written; saving asks again", lambda: self._ignore(held)))
        self.noticed.emit(Notice("disk", text, tuple(choices)))

    def _take(self, held: bytes) -> None:
        try:
            self.history().take_from_disk(held)
        except LeanStepError as error:
            self.said.emit(f"{error.thing}: {error.reason}. What is open here stays.")
            return
        self.took_over.emit()

    def _over(self, held: bytes) -> None:
        self.history().on_disk = held
        self.wants_saving.emit(True)

    def _ignore(self, held: bytes | None) -> None:
        self._ignored = held

    def close(self) -> None:
        """The window is closed and everything is saved or given up."""
        self._watch.stop()
        self._later.stop()
        if self._path is not None:
            recovery.mark_closed(self.folder, self._path)
        self._workers.begin(self.recovery.clear)
        self._workers.close(wait=True)


def _stamp(path: Path | None) -> Stamp | None:
    try:
        facts = path.stat() if path is not None else None
    except OSError:
        return None
    return (facts.st_mtime_ns, facts.st_size) if facts is not None else None
