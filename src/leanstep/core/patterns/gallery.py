"""The patterns there are: those that come with the program, and those somebody keeps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files as resources
from pathlib import Path

from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name
from leanstep.core.character.files import load, parse, save
from leanstep.core.character.storage import make_folder, set_aside
from leanstep.core.errors import LeanStepError

ENDING = ".leanstep"
BUILT_IN = (
    "stand-walk-run",
    "jump",
    "dial",
    "ladder",
    "crouch",
    "slide",
    "strike",
    "hurt",
    "turn",
    "sit-sleep",
    "charge",
    "wall-slide",
    "dash",
)
"""The files of the program's patterns, in the order in which they are shown."""


@dataclass(frozen=True)
class Kept:
    """A pattern, and the file it is kept in; None for one of the program's."""

    document: Character
    path: Path | None = None


@cache
def built_in() -> tuple[Character, ...]:
    """The patterns that come with the program."""
    folder = resources("leanstep") / "patterns"
    return tuple(parse((folder / f"{name}{ENDING}").read_bytes(), name) for name in BUILT_IN)


def gallery(folder: Path | None) -> tuple[list[Kept], list[LeanStepError]]:
    """All patterns, and what is wrong with files of the folder that cannot be read."""
    kept, faults = [Kept(one) for one in built_in()], []
    own: Sequence[Path] = sorted(folder.glob(f"*{ENDING}")) if folder is not None and folder.is_dir() else ()
    for path in own:
        try:
            document = load(path)
        except LeanStepError as error:
            faults.append(error)
            continue
        if document.pattern is None:
            faults.append(LeanStepError(path.name, "it is no pattern", "Keep one from the chosen states of a graph."))
        else:
            kept.append(Kept(document, path))
    return kept, faults


def forget(path: Path) -> None:
    """Take a pattern out of the gallery; its file stays beside, as one that is no pattern any more.  Raises
    :class:`LeanStepError` where the folder may not be written."""
    set_aside(path, path.with_suffix(".gone"))


def keep(document: Character, folder: Path) -> Path:
    """Keep a pattern in the folder, in a file of its own; its path."""
    plain = (
        "".join(letter if letter.isalnum() or letter in " -_" else "_" for letter in document.name).strip() or "pattern"
    )
    make_folder(folder)
    path = folder / f"{free_name(plain, [one.stem for one in folder.iterdir()])}{ENDING}"
    save(path, document)
    return path
