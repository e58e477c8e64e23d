"""The documents a person has been through, so that every step can be taken back."""

from __future__ import annotations

from pathlib import Path

from leanstep.core.character import files
from leanstep.core.character.edits import Edit
from leanstep.core.character.model import Character

MOST = 500
"""Steps that can be taken back."""


class History:
    """A list of documents, the names of the edits between them, and where the file is.

    When the document is the one that was opened, saving writes the very bytes that were opened.
    """

    def __init__(self, character: Character, path: Path | None = None, opened: bytes | None = None) -> None:
        self.path = path
        self._documents = [character]
        self._names: list[str] = []
        self._merging: list[str] = []
        self._at = 0
        self._opened = (character, opened) if opened is not None else None
        self._saved = character

    @classmethod
    def open(cls, path: Path) -> History:
        """Read a file; raises :class:`~leanstep.core.errors.LeanStepError` and changes nothing when it cannot be opened."""
        data = files.read_bytes(path)
        return cls(files.parse(data, path.name), path, data)

    @property
    def document(self) -> Character:
        """The document as it is now."""
        return self._documents[self._at]

    @property
    def changed(self) -> bool:
        """Whether there is something to save."""
        return self.document is not self._saved and self.document != self._saved

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
        del self._documents[self._at + 1 :], self._names[self._at :], self._merging[self._at :]
        if merge and self._at and self._merging[-1] == merge:
            self._documents[-1] = after
            return True
        self._documents.append(after)
        self._names.append(edit.name)
        self._merging.append(merge)
        self._at += 1
        if len(self._names) > MOST:
            del self._documents[0], self._names[0], self._merging[0]
            self._at -= 1
        return True

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

    def save(self, path: Path | None = None) -> Path:
        """Write the document, to where it came from unless said; raises when it cannot be written."""
        target = path or self.path
        assert target is not None
        if self._opened is not None and self._opened[1] is not None and self.document == self._opened[0]:
            files.write_atomically(target, self._opened[1])
        else:
            files.save(target, self.document)
        self.path = target
        self._saved = self.document
        return target
