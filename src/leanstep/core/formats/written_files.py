"""Writing files that are handed over, and not over those of others."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from leanstep.core.character.storage import write_atomically
from leanstep.core.errors import LeanStepError

OURS = (b"Lean Step", b"leanstep", b"tick,", b"clip,shown by,")
"""What stands near the beginning of everything that is written here: one of these."""
BEGINNING = 4096


class Foreign(LeanStepError):
    """Something would be written over that somebody else wrote."""


def write(made: Mapping[str, bytes], folder: Path, force: bool = False) -> list[Path]:
    """Write files into a folder, which is made where it is missing: each is there as a whole or not at all.

    Raises
    ------
    Foreign : there is a file of that name that was not written here, unless ``force``.
    LeanStepError : it cannot be written.
    """
    paths = {folder / name: data for name, data in made.items()}
    for path in paths if not force else ():
        _refuse_foreign(path)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise LeanStepError(str(folder), error.strerror or "it cannot be made", "Choose another folder.") from None
    for path, data in paths.items():
        write_atomically(path, data)
    return list(paths)


def _refuse_foreign(path: Path) -> None:
    """Nothing is written over that somebody else wrote."""
    if not path.exists():
        return
    try:
        with path.open("rb") as there:
            beginning = there.read(BEGINNING)
    except OSError as error:
        raise LeanStepError(str(path), error.strerror or "it cannot be read", "Choose another folder.") from None
    if not any(mark in beginning for mark in OURS):
        reason = "there is a file of this name that Lean Step did not write"
        raise Foreign(str(path), reason, "Move it, or let it be written over (--force).")
