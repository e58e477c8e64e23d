"""What is wrong with a sheet."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from PySide6.QtWidgets import QMenu

from leanstep.core.findings.results import Finding
from leanstep.core.wording import counted
from leanstep.desk.session import Session
from leanstep.desk.stations.sheets.parts_view import PartsView
from leanstep.desk.widgets.basics import button


class SheetProblems:
    """A button with a menu of what the last check found in a sheet; ``point_at`` shows a place."""

    def __init__(self, session: Session, view: PartsView, point_at: Callable[[Mapping[str, Any]], None]) -> None:
        self.session, self.view, self._point_at = session, view, point_at
        self.button = button("", "What is wrong with this sheet, and where", self.open)
        self.menu = QMenu(view)

    def show(self, name: str) -> None:
        """What the last check found in a sheet, on its frames and in a list."""
        report = self.session.report
        found = [one for one in report.findings if name and one.details.get("sheet") == name] if report else []
        by_frame: dict[int, list[Finding]] = {}
        for finding in found:
            for frame in finding.details.get("frames", ()):
                by_frame.setdefault(int(frame), []).append(finding)
        self.view.problems = by_frame
        self.view.update()
        self.button.setVisible(bool(found))
        self.button.setText(counted(len(found), "problem"))
        self.menu.clear()
        for finding in found:
            self.menu.addAction(finding.sentence, partial(self._point_at, finding.details))
        if found:
            self.menu.addSeparator()
            self.menu.addAction("Read more in Findings", partial(self._read_more, found[0]))

    def _read_more(self, finding: Finding) -> None:
        self.session.finding = finding
        self.session.wanted.emit("finding")

    def open(self) -> None:
        """Show what was found."""
        if not self.menu.actions():
            self.session.said.emit("The last check found nothing wrong with this sheet.")
            return
        self.menu.popup(self.button.mapToGlobal(self.button.rect().topLeft()))
