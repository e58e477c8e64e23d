"""What is handed over: a character as its file holds it, and what is made of it."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path

from leanstep.core.character.document import Character
from leanstep.core.cut_outs.loading import loaded
from leanstep.core.defaults import TICKS
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.formats import animations
from leanstep.core.formats.atlas import Packing
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.second_figures import compile_in
from leanstep.core.sheets.images import CutSheet, within_bounds
from leanstep.core.work import Work


@dataclass
class Source:
    """A character to be handed over, from the file ``path``.

    ``play`` ticks are searched by playing; every pixel of a picture is shown ``scale`` times as large; ``packing`` says how an
    atlas is made; with ``fixes`` SARIF has repairs.  ``text`` is that of the file (None: as it is on disk), ``checked`` what a check
    has found (None: it is checked when that is needed).  ``notes`` collects what is to be said about what was made.
    """

    path: Path
    character: Character
    scale: int = 1
    play: int = TICKS
    packing: Packing = field(default_factory=Packing)
    fixes: bool = False
    text: str | None = None
    checked: Report | None = None
    notes: list[str] = field(default_factory=list)

    @property
    def stem(self) -> str:
        """What the names of files begin with."""
        return self.path.stem

    @cached_property
    def machine(self) -> Machine:
        return compile_in(self.path.parent, self.character)

    @cached_property
    def report(self) -> Report:
        if self.checked is not None:
            return self.checked
        return check_character(self.character, self.path.parent, Work(play=self.play))

    @cached_property
    def all_sheets(self) -> dict[str, CutSheet]:
        """Every sheet, cut, by name.  Raises :class:`LeanStepError` for the first that cannot be."""
        found = {}
        for sheet, error in within_bounds(self.character.sheets, self.path.parent):
            if error is not None:
                raise error
            found[sheet.name] = loaded(sheet, self.path.parent, self.character.sheets)
        return found

    @cached_property
    def sheets(self) -> dict[str, CutSheet]:
        return animations.sheets_of(self.character, self.character.clips, self.path.parent)


Files = dict[str, bytes]
"""What was made, by the name of the file."""
LONGEST = 120
"""Bytes of a name that become part of a file's."""


def name_of(source: Source, part: str, ending: str, taken: Files) -> str:
    """The name of a file about a part of the character: what no file may be called is replaced, and each is there once."""
    plain = re.sub(r"[^\w .()+-]|^\.+", "_", part).encode()[:LONGEST].decode(errors="ignore")
    name, number = f"{source.stem}.{plain}{ending}", 2
    while name in taken:
        name, number = f"{source.stem}.{plain} {number}{ending}", number + 1
    return name


@dataclass(frozen=True)
class Format:
    """One of the things a character can be handed over as: ``title`` and ``purpose`` in words, ``lacks`` what it cannot hold;
    ``judged``: it holds what a check found."""

    key: str
    title: str
    purpose: str
    lacks: str
    make: Callable[[Source], Files]
    judged: bool = False
