"""The bridge from the core to Qt: the document, its art, its checks, and who wants to know."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QObject, QSettings, Signal

from leanstep.core.character import artwork, files
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Edit
from leanstep.core.character.history import History
from leanstep.core.character.starting import empty
from leanstep.core.character.storage import ChangedOnDisk, is_file
from leanstep.core.clips.families import followed
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.repairs.registry import Repair
from leanstep.core.findings.results import Finding, Report
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.naming.doubling import doubled
from leanstep.core.naming.references import Thing
from leanstep.core.naming.removing import left_naming, without
from leanstep.core.naming.renaming import rename, rename_fault
from leanstep.core.naming.transitions import name_of
from leanstep.core.rehearsal.saved_situations import remembered_alike
from leanstep.core.rehearsal.second_figures import compile_in
from leanstep.core.wording import counted
from leanstep.desk.art import Art
from leanstep.desk.autosave import Autosave, state_folder
from leanstep.desk.blocking_wait import BlockingWait
from leanstep.desk.checker import Checker
from leanstep.desk.editing import Editing
from leanstep.desk.recovery import Unsaved, backup_of
from leanstep.desk.selection import Chosen, Selection

MOST_RECENT = 8
MOST_SAID = 2
"""Sentences about what still names what was removed."""
KINDS = {"blend": "blend space"}
"""Kinds of things in words, where they are not the same."""


class Session(QObject):
    """One open document.  Widgets draw :attr:`document` and send edits with :meth:`edit`; nothing else keeps it."""

    changed = Signal()
    opened = Signal()
    saved = Signal()
    noted = Signal()
    """Something that is kept beside the document, for its file, is another."""
    closing = Signal()
    """Another document takes the place of this one."""
    said = Signal(str)
    complained = Signal(object)
    """Something did not work: a :class:`LeanStepError` to be shown."""
    progressed = Signal(str)
    selected = Signal()
    wanted = Signal(str)
    """Somebody wants to see the chosen thing of a kind where it is shown."""
    body_shown = Signal(str)
    """A number of the body is looked at (its name; empty: none any more)."""
    pointed = Signal(object)
    """Within what is shown, the subject of a finding is pointed at."""

    def __init__(self, settings: QSettings, state: Path | None = None) -> None:
        super().__init__()
        self.settings = settings
        self.demos: Path | None = None
        """The folder of the program's demos, where nobody keeps their own files."""
        self.history = History(empty())
        self.selection = Selection()
        self.finding: Finding | None = None
        self._scratch = tempfile.TemporaryDirectory(prefix="leanstep-")
        self._lies: tuple[Path | None, Path] | None = None
        """The file, and the folder in which images lie: asked for each picture that is drawn."""
        self.editing = Editing()
        self.beside = BlockingWait()
        self.beside.told.connect(self.progressed)
        self.document = self.history.document
        """The document as it is shown: the one of the history, once it is compiled."""
        self.machine: Machine = compile_character(self.document)
        self.art = Art(lambda: self.document, lambda: self.folder)
        self.keeper = Autosave(state or state_folder(), lambda: self.history)
        self.keeper.said.connect(self.said)
        self.keeper.took_over.connect(lambda: self._stepped("Took over what is on disk.", True))
        self.keeper.wants_saving.connect(self._save_over)
        self.changed.connect(self.keeper.changed)
        self.checker = Checker(lambda: (self.document, self.folder), self.beside)
        self.checker.progressed.connect(self.progressed)
        self.checker.said.connect(self.said)
        self.checker.ask_soon()

    @property
    def report(self) -> Report | None:
        """The last complete check."""
        return self.checker.report

    @property
    def folder(self) -> Path:
        """Where images lie: the file's folder, or a scratch folder until the document is saved."""
        path = self.history.path
        if self._lies is None or self._lies[0] is not path:
            self._lies = path, path.parent if path else Path(self._scratch.name)
        return self._lies[1]

    # --- documents

    def new(self) -> None:
        """Start an empty character."""
        self._take(History(empty()))
        self.said.emit("Started a new character.")

    def begin(self, document: Character, said: str) -> None:
        """Start a new character that is there already, without a file."""
        self._take(History(empty()))
        self.edit(said, lambda before: document)

    def open(self, path: Path) -> None:
        """Open a file; raises :class:`LeanStepError` and keeps the present document when it cannot be."""
        self._take(self.beside.wait_for(f"Opening {path.name} …", lambda: History.open(path.absolute())))
        self._remember(path.absolute())
        self.said.emit(f"Opened {path.name}.")

    def save(self, path: Path | None = None, over: bool = False) -> None:
        """Save, with the images when the folder is another one.  What somebody else has saved meanwhile is noticed, and
        written ``over`` only when that is said.

        Raises
        ------
        LeanStepError : it could not be saved; what is open stays as it is.
        """
        before = self.folder
        target = (path or self.history.path or Path()).absolute()
        back = None
        if target.parent.resolve() != before.resolve():
            artwork.copy_images(self.document, before, target.parent)
            back = self.history.everywhere(lambda document: artwork.moved(document, before, target.parent))
        self.keeper.before_saving(target)
        try:
            self.history.save(target, over)
        except LeanStepError as error:
            if back is not None:
                back()
            if isinstance(error, ChangedOnDisk):
                self.keeper.tell_changed(error.now, self.keeper.words(error.now), True)
            raise
        if back is not None:
            self._fresh()
        self.keeper.saved(target)
        self._remember(target)
        self.said.emit(f"Saved {target.name}.")
        self.changed.emit()
        self.saved.emit()

    def _save_over(self, over: bool) -> None:
        try:
            self.save(over=over)
        except LeanStepError as error:
            self.complained.emit(error)

    def bring_back(self, unsaved: Unsaved) -> None:
        """Open what a program that ended had not saved: its file, with the edits on top as one step."""
        history, said = History(empty()), f"Brought back what was not saved of {unsaved.document.name}."
        if unsaved.path is not None:
            try:
                history = History.open(unsaved.path)
            except LeanStepError as error:
                said = f"{error.thing}: {error.reason}. Its edits are brought back without it; save them anew."
        history.recover(unsaved.document)
        self._take(history)
        self.keeper.keep(instead_of=unsaved)
        self.said.emit(said)

    @property
    def backup(self) -> Path | None:
        """The version of the file that was saved before the present one."""
        path = self.history.path
        return backup_of(self.keeper.folder, path) if path is not None else None

    def bring_back_backup(self) -> None:
        """Put the version that was saved before the present one on top, as one step."""
        if self.backup is None:
            self.said.emit(
                "There is no earlier version: it is kept from the second time on that the file is saved here."
            )
            return
        try:
            document = files.load(self.backup)
        except LeanStepError as error:
            self.complained.emit(error)
            return
        self.edit("brought back the version saved before", lambda before: document)

    def _take(self, history: History) -> None:
        machine = self._compiled(history.document, history.path.parent if history.path else None)
        self.closing.emit()
        self.history = history
        self.document, self.machine = history.document, machine
        self.keeper.opened(history.path)
        self.selection, self.finding = Selection(), None
        self.checker.forget()
        self.art.forget()
        self._renewed()
        self.opened.emit()
        self.changed.emit()

    @property
    def last_folder(self) -> Path:
        """Where a person last opened or saved something; their home until then."""
        kept = Path(str(self.settings.value("folder", "")))
        return kept if str(kept) != "." and kept.is_dir() else Path.home()

    def bring_in(self, take: Callable[[list[Path]], None], paths: list[Path]) -> None:
        """Give files to whoever takes them; what is wrong with them is shown."""
        try:
            take(paths)
        except LeanStepError as error:
            self.complained.emit(error)
            return
        self.settings.setValue("folder", str(paths[0].resolve().parent))

    def recent(self) -> list[Path]:
        """Files opened lately that still exist, newest first."""
        value = self.settings.value("recent", [])
        listed = value if isinstance(value, list) else [value]
        return [Path(str(one)) for one in listed if one and is_file(str(one))]

    def _remember(self, path: Path) -> None:
        if path.parent != self.demos:
            self.settings.setValue("folder", str(path.parent))
        rest = [str(one) for one in self.recent() if one != path]
        self.settings.setValue("recent", [str(path), *rest][:MOST_RECENT])

    # --- edits

    def edit(
        self,
        name: str,
        change: Callable[[Character], Character],
        merge: str = "",
        select: Callable[[Selection], None] | None = None,
    ) -> None:
        """Take a step: ``change`` is a function from document to document; ``select`` makes the choice after it.  What it changes in a
        clip of a family it changes in all of it."""
        self.history.note = self.selection.copy()
        if self.history.apply(Edit(name, lambda document: followed(document, change(document))), merge):
            self._fresh()
            if select is not None:
                select(self.selection)
            self.said.emit(f"{name[0].upper()}{name[1:]}.")
            self.changed.emit()

    def rename(self, thing: Thing, name: str, then: Callable[[Character], Character] = lambda same: same) -> None:
        """Rename a thing everywhere, and do what follows of it, as one step; what keeps it from having that name is said."""
        try:
            renamed = then(remembered_alike(self.document, rename(self.document, thing, name)))
        except LeanStepError as error:
            self.said.emit(f"Not renamed: {error.reason}. {error.way_out}")
            return
        said = f"renamed {KINDS.get(thing.kind, thing.kind)} {thing.name} to {name}"
        self.edit(said, lambda document: renamed, select=lambda selection: selection.follow(thing, name))

    def rename_fault(self, thing: Thing, name: str) -> str | None:
        """Why a thing cannot have another name; None when it can."""
        return rename_fault(self.document, thing, name)

    def remove(self, *things: Thing) -> None:
        """Remove things of one kind with what cannot stand without them; who still names them is said."""
        after = self.document
        for thing in things:
            after = without(after, thing)
        left = [sentence for thing in things if (sentence := left_naming(after, thing))]
        name = f"removed {_named(things)}"
        self.edit(name, lambda document: after)
        if left:
            self.said.emit(" ".join([f"{name[0].upper()}{name[1:]}.", *left[:MOST_SAID]]))

    def duplicate(self, *things: Thing) -> None:
        """Copies of things of one kind, under free names, which are the chosen ones then."""
        made, copies = doubled(self.document, things)
        self.edit(
            f"duplicated {_named(things)}", lambda document: made, select=lambda selection: selection.choose(*copies)
        )

    def end_merge(self) -> None:
        """A gesture is over: what comes next is a step of its own."""
        self.history.end_merge()

    def undo(self) -> None:
        """Take the last step back."""
        self.history.note = self.selection.copy()
        name = self.history.undo()
        self._stepped(f"Took back: {name}." if name else "There is nothing to take back.", bool(name))

    def redo(self) -> None:
        """Bring the last step that was taken back again."""
        self.history.note = self.selection.copy()
        name = self.history.redo()
        self._stepped(f"Did again: {name}." if name else "There is nothing to do again.", bool(name))

    def _stepped(self, sentence: str, moved: bool) -> None:
        if moved:
            if isinstance(self.history.note, Selection):
                self.selection = self.history.note.copy()
            self._fresh()
            self.changed.emit()
        self.said.emit(sentence)

    def _fresh(self) -> None:
        """The history has another document: show it as soon as it is compiled."""
        document = self.history.document
        machine = self._compiled(document, self.folder)
        self.document, self.machine = document, machine
        self._renewed()

    def _compiled(self, document: Character, folder: Path | None) -> Machine:
        return self.beside.wait_for("Taking in the change …", lambda: compile_in(folder, document))

    def _renewed(self) -> None:
        self.art.prepare()
        self.checker.renew()

    # --- selection

    @property
    def state(self) -> tuple[int, str] | None:
        """Layer and name of the chosen state."""
        return self.selection.state(self.document)

    @property
    def transition(self) -> tuple[int, int] | None:
        """Layer and place of the chosen transition."""
        return self.selection.transition(self.document)

    @property
    def states(self) -> list[tuple[int, str]]:
        """Layers and names of all chosen states, the one chosen last at the end."""
        return self.selection.states(self.document)

    @property
    def transitions(self) -> list[tuple[int, int]]:
        """Layers and places of all chosen transitions, the one chosen last at the end."""
        return self.selection.transitions(self.document)

    def select(self, *chosen: Chosen) -> None:
        """Choose something of one kind, by name; the last of it is the one that is shown."""
        self.selection.choose(*chosen)
        self.selected.emit()

    def select_also(self, chosen: Chosen) -> None:
        """Choose something beside what is chosen of its kind, or no longer."""
        self.selection.add(chosen)
        self.selected.emit()

    def select_state(self, layer: int, name: str) -> None:
        """Choose a state; its ways out are listed in the mirror."""
        self.select(Thing("state", name, self.document.layers[layer].name))

    def select_transition(self, layer: int, index: int) -> None:
        """Choose a transition for editing."""
        self.select(name_of(self.document, layer, index))

    def clear_selection(self) -> None:
        """Choose no state and no transition."""
        self.selection.let_go("state", "transition", "lane")
        self.selected.emit()

    def show(self, chosen: Chosen) -> None:
        """Choose something and go where it is shown."""
        self.select(chosen)
        self.wanted.emit(chosen.kind)

    def mend(self, repair: Repair) -> None:
        """Make a repair as one step."""
        self.edit(f"mended: {repair.sentence.rstrip('.')}", lambda document: repair.character)

    def close(self) -> None:
        """Let go of the worker and of what reads images."""
        self.editing.forget()
        self.beside.close()
        self.art.close()
        self.keeper.close()
        self.checker.close()


def _named(things: Sequence[Thing]) -> str:
    """Things of one kind in words."""
    kind = KINDS.get(things[0].kind, things[0].kind)
    return f"{kind} {things[0].name}" if len(things) == 1 else counted(len(things), kind)
