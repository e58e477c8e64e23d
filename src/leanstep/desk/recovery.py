"""Unsaved edits kept for after a crash, the last saved version as a backup, and who has which file open.

All of it lies in one folder of the user's (``folder``), never beside the character.  Times are given by the caller, in
seconds since 1970.  Nothing here may keep a person from working: a folder that cannot be written raises
:class:`LeanStepError`, which is said once.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
from dataclasses import dataclass
from pathlib import Path

from leanstep.core.character import files, storage
from leanstep.core.character.document import Character
from leanstep.core.errors import LeanStepError


def this_process() -> str:
    """What names this process, also after another one has got its number."""
    return f"{os.getpid()}-{_began(os.getpid())}"


def _began(process: int) -> str:
    """When a process began, in the clock of the machine; empty where that cannot be known."""
    try:
        facts = Path(f"/proc/{process}/stat").read_bytes().rsplit(b")", 1)[1].split()
        return facts[19].decode()
    except (OSError, IndexError):
        return ""


def is_alive(owner: str) -> bool:
    """Whether the process a name stands for still runs."""
    number, _, began = owner.partition("-")
    if not number.isdigit() or not storage.is_running(int(number)):
        return False
    return not began or _began(int(number)) in ("", began)


@dataclass(frozen=True)
class Unsaved:
    """What a recovery file holds: the document as it was at ``when``, the ``edits`` since it was last saved, and the
    ``path`` of its file (None: it never had one)."""

    file: Path
    path: Path | None
    when: float
    edits: tuple[str, ...]
    document: Character


class Recovery:
    """The recovery file of one open document."""

    def __init__(self, folder: Path, owner: str | None = None) -> None:
        self.folder = folder / "recovery"
        self.owner = owner or this_process()
        self.file = self.folder / f"{self.owner}.json"

    def keep(self, document: Character, path: Path | None, edits: list[str], when: float) -> None:
        """Keep unsaved edits; raises :class:`LeanStepError` when that cannot be."""
        held = {
            "recovery": 1,
            "path": None if path is None else str(path),
            "when": when,
            "edits": edits,
            "document": files.dump(document).decode(),
        }
        storage.make_folder(self.folder)
        storage.write_atomically(self.file, json.dumps(held, ensure_ascii=False).encode())

    def clear(self) -> None:
        """Everything is saved."""
        with contextlib.suppress(OSError):
            self.file.unlink()


def left_behind(folder: Path) -> list[Unsaved]:
    """The unsaved edits of programs that are gone, the newest first; what cannot be read is left where it is."""
    found = []
    with contextlib.suppress(OSError):
        storage.sweep_folder(folder / "recovery")
        for file in (folder / "recovery").iterdir():
            if file.suffix == ".json" and not is_alive(file.stem):
                with contextlib.suppress(
                    LeanStepError, ValueError, KeyError, TypeError, AttributeError, RecursionError, OSError
                ):
                    found.append(_read(file))
    return sorted(found, key=lambda one: -one.when)


def _read(file: Path) -> Unsaved:
    held = json.loads(storage.read_bytes(file))
    path = None if held["path"] is None else Path(held["path"])
    document = files.parse(held["document"].encode(), file.name)
    return Unsaved(file, path, float(held["when"]), tuple(map(str, held["edits"])), document)


def discard(unsaved: Unsaved) -> None:
    """Throw a recovery file away."""
    with contextlib.suppress(OSError):
        unsaved.file.unlink()


# --- backups


def keep_backup(folder: Path, path: Path, data: bytes) -> None:
    """Keep what a file held before it was saved over; one version is kept."""
    storage.make_folder(folder / "backups")
    storage.write_atomically(_backup(folder, path), data)


def backup_of(folder: Path, path: Path) -> Path | None:
    """The version of a file that was saved before the present one; None when there is none."""
    kept = _backup(folder, path)
    return kept if kept.is_file() else None


def _backup(folder: Path, path: Path) -> Path:
    return folder / "backups" / f"{_mark(path)}-{path.name[-60:]}"


def _mark(path: Path) -> str:
    return hashlib.sha256(os.fsencode(os.path.realpath(path))).hexdigest()[:16]


# --- who has what open


def mark_open(folder: Path, path: Path, owner: str | None = None) -> None:
    """Note that a process has a file open."""
    storage.make_folder(folder / "open")
    with contextlib.suppress(OSError):
        (folder / "open" / f"{_mark(path)}.{owner or this_process()}").touch()


def mark_closed(folder: Path, path: Path, owner: str | None = None) -> None:
    """Note that it has not any more."""
    with contextlib.suppress(OSError):
        (folder / "open" / f"{_mark(path)}.{owner or this_process()}").unlink()


def others_with(folder: Path, path: Path, owner: str | None = None) -> list[str]:
    """The other processes that have a file open; notes of those that are gone are removed."""
    found = []
    with contextlib.suppress(OSError):
        for note in (folder / "open").glob(f"{_mark(path)}.*"):
            other = note.name.partition(".")[2]
            if not is_alive(other):
                note.unlink(missing_ok=True)
            elif other != (owner or this_process()):
                found.append(other)
    return found
