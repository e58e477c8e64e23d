"""What a station is: a widget with commands, and the one specification by which the window knows it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QWidget

from leanstep.core.wording import counted
from leanstep.desk.context import Context
from leanstep.desk.session import Session


class Station(QWidget):
    """The middle of the window.  A station draws ``desk.session.document`` and sends edits; it knows no other station."""

    def __init__(self, desk: Context) -> None:
        super().__init__()
        self.desk = desk
        self.session = desk.session
        self.session.pointed.connect(self.point_at)

    def point_at(self, details: Mapping[str, Any]) -> None:
        """Choose what a finding is about within the thing that is shown."""

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return []

    def take_files(self, paths: list[Path]) -> None:
        """Bring in files that were dropped on the window together; raises :class:`LeanStepError` when one cannot be."""

    def let_go(self) -> None:
        """The window closes: let go of threads and the like."""

    def greet(self) -> None:
        """What the station does on the first start of all."""


@dataclass(frozen=True)
class Specification:
    """How the window knows a station.

    ``purpose`` is its tooltip on the route; ``handed_on`` says what it hands on.  ``subjects`` are the keys of findings'
    subjects that are mended here, ``kinds`` the kinds of things chosen here, ``suffixes`` the files it brings in.
    ``mirror``: the mirror's picture stands beside it; ``greets``: the first start of all begins here; ``judges``: every
    error counts as its own.
    """

    name: str
    purpose: str
    make: Callable[[Context], Station]
    handed_on: Callable[[Session], str]
    subjects: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    suffixes: tuple[str, ...] = ()
    mirror: bool = True
    greets: bool = False
    judges: bool = False


def count_of(number: int, noun: str) -> str:
    """How many there are of what a station hands on."""
    return f"no {noun} yet" if not number else counted(number, noun)
