"""Making what is handed over, beside the window."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from leanstep.core.formats.handover import FORMATS, hand_over
from leanstep.core.formats.handover_source import Files, Source
from leanstep.core.formats.written_files import write
from leanstep.core.work import look
from leanstep.desk.background import Background


@dataclass
class Made:
    """What was made: ``files`` in memory, or ``paths`` where they were written."""

    key: str = ""
    files: Files = field(default_factory=dict)
    paths: list[Path] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


def make(
    background: Background, source: Source, wanted: Sequence[str], folder: Path | None, force: bool = False
) -> None:
    """Make what is wanted in the background, where it ends in a :class:`Made`; without a folder only in memory."""

    def work() -> Made:
        made = Made(wanted[0] if len(wanted) == 1 else "")
        for _, files in hand_over(source, wanted, background.telling(lambda done: FORMATS[wanted[done]].title)):
            made.files |= files
        made.notes = source.notes
        look()
        if folder is not None:
            made.paths = write(made.files, folder, force)
        return made

    background.start(work, FORMATS[wanted[0]].title)
