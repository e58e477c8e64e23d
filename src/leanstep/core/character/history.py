"""The documents a person has been through, so that every step can be taken back."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from leanstep.core.character import files, storage
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Edit
from leanstep.core.character.part import Part

MOST_BYTES = 256 << 20
"""About how much the documents of a history may take; beyond it the oldest steps become one."""


class History:
    """A list of documents, the names of the edits between them, and where the file is.

    Undo always reaches back to the document that was opened.  When the document is that one, saving writes the very bytes
    that were opened.  ``note`` keeps beside the present document whatever a window wants to have back with it.
    """

    def __init__(
        self, character: Character, path: Path | None = None, opened: bytes | None = None, most: int = MOST_BYTES
    ) -> None:
        self.path = path
        self._documents = [character]
        self._names: list[str] = []
        self._merging: list[str] = []
        self._notes: list[object] = [None]
        self._sizes = [0]
        self._most = most
        self._at = 0
        self._opened = (character, opened) if opened is not None else None
        self._saved = character
        self.on_disk = opened
        """What the file held when it was last read or written; None: there was none."""

    @classmethod
    def open(cls, path: Path) -> History:
        """Read a file; raises :class:`~leanstep.core.errors.LeanStepError` and changes nothing when it cannot be opened."""
        data = storage.read_bytes(path)
        return cls(files.parse(data, path.name), path, data)

    @property
    def document(self) -> Character:
        """The document as it is now."""
        return self._documents[self._at]

    @property
    def note(self) -> object:
        """What is kept beside the present document."""
        return self._notes[self._at]

    @note.setter
    def note(self, value: object) -> None:
        self._notes[self._at] = value

    @property
    def changed(self) -> bool:
        """Whether there is something to save."""
        return self.document is not self._saved and self.document != self._saved

    @property
    def saved(self) -> Character:
        """The document as it was opened or last saved."""
        return self._saved

    @property
    def undo_name(self) -> str:
        """What undo would take back; empty when there is nothing."""
        return self._names[self._at - 1] if self._at else ""

    @property
    def redo_name(self) -> str:
        """What redo would bring back; empty when there is nothing."""
        return self._names[self._at] if self._at < len(self._names) else ""

    def apply(self, edit: Edit, merge: str = "") -> bool:
        """Take a step; returns whether anything changed.  Steps one after the other with the same ``merge`` become one."""
        after = edit.apply(self.document)
        if after == self.document:
            return False
        before = self.document
        for kept in (self._documents, self._notes, self._sizes):
            del kept[self._at + 1 :]
        del self._names[self._at :], self._merging[self._at :]
        if merge and self._at and self._merging[-1] == merge:
            self._documents[-1] = after
            self._sizes[-1] = added(self._documents[-2], after)
            return True
        self._documents.append(after)
        self._notes.append(self.note)
        self._sizes.append(added(before, after))
        self._names.append(edit.name)
        self._merging.append(merge)
        self._at += 1
        while sum(self._sizes) > self._most and self._at > 1:
            self._join_oldest()
        return True

    def everywhere(self, change: Callable[[Character], Character]) -> Callable[[], None]:
        """Change every document of the history in the same way, without a step; what comes back takes that back."""
        before = self._documents, self._saved
        made = {id(one): change(one) for one in (*self._documents, self._saved)}
        self._documents, self._saved = [made[id(one)] for one in self._documents], made[id(self._saved)]

        def back() -> None:
            self._documents, self._saved = before

        return back

    def _join_oldest(self) -> None:
        """The two oldest steps become one, so that the document that was opened stays within reach."""
        del self._documents[1], self._notes[1], self._sizes[1], self._merging[1]
        self._names[:2] = ["the earliest changes"]
        self._sizes[1] = added(self._documents[0], self._documents[1])
        self._at -= 1

    def end_merge(self) -> None:
        """The next step starts anew even if it has the same ``merge``."""
        if self._merging:
            self._merging[-1] = ""

    def undo(self) -> str:
        """Take the last step back and return its name; empty when there is none."""
        name = self.undo_name
        self._at -= bool(name)
        return name

    def redo(self) -> str:
        """Bring the next step back and return its name; empty when there is none."""
        name = self.redo_name
        self._at += bool(name)
        return name

    def unsaved(self) -> list[str]:
        """The names of the steps since the document was last saved, as far as it was on this way."""
        saved = next((at for at, one in enumerate(self._documents[: self._at + 1]) if one is self._saved), 0)
        return self._names[saved : self._at]

    def save(self, path: Path | None = None, over: bool = False) -> Path:
        """Write the document, to where it came from unless said.  What somebody else has put there meanwhile is written
        ``over`` only when that is said.

        Raises
        ------
        ChangedOnDisk : somebody else has changed the file.
        LeanStepError : it cannot be written.
        """
        target = path or self.path
        assert target is not None
        same = self._opened is not None and self.document == self._opened[0]
        data = self._opened[1] if same and self._opened is not None else files.dump(self.document)
        elsewhere = self.path is None or target != self.path
        storage.write_atomically(target, data, self.on_disk, guarded=not over and not elsewhere)
        self.path, self.on_disk = target, data
        self._saved = self.document
        return target

    def recover(self, document: Character) -> None:
        """Put unsaved edits of an earlier time on top, as one step."""
        self.apply(Edit("brought back unsaved edits", lambda before: document))

    def take_from_disk(self, data: bytes) -> None:
        """Go on with what somebody else has saved, as one step; raises :class:`LeanStepError` when it cannot be read."""
        document = files.parse(data, self.path.name if self.path else "character")
        self.apply(Edit("took over what is on disk", lambda before: document))
        self.on_disk, self._saved = data, self.document


def added(before: object, after: object) -> int:
    """About how many bytes a document takes beside an earlier one whose parts it shares."""
    total, waiting = 0, [(before, after)]
    while waiting:
        old, new = waiting.pop()
        if old is new:
            continue
        total += 64
        if isinstance(new, Part):
            fields = new.__struct_fields__
            waiting += [(getattr(old, name, None), getattr(new, name)) for name in fields]
        elif isinstance(new, tuple):
            total += 8 * len(new)
            known = set(map(id, old)) if isinstance(old, tuple) else set()
            pairs = zip(old, new) if isinstance(old, tuple) and len(old) == len(new) else ((None, one) for one in new)
            waiting += [(one, item) for one, item in pairs if id(item) not in known]
        elif isinstance(new, dict):
            waiting += [(None, item) for pair in new.items() for item in pair]
        elif isinstance(new, str):
            total += len(new)
    return total
