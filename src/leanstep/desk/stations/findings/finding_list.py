"""The list of findings, and muting what is meant so."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit, QListView

from leanstep.core.character.document import Muted
from leanstep.core.character.edits import append, change
from leanstep.core.findings.results import Finding
from leanstep.core.naming.targets import about
from leanstep.desk.context import Context
from leanstep.desk.stations.findings.sentences import Key, SentenceDelegate
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import button
from leanstep.desk.widgets.list_model import ITEM, ListModel


class FindingList(Station):
    """The list of what was found, and what is said to be meant so: that is not told any more."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        self.model = ListModel(
            lambda finding: str(finding.sentence),
            key=lambda finding: finding.key,
            spoken=lambda finding: f"{finding.severity}: {finding.sentence}",
        )
        self.list = QListView()
        self.list.setModel(self.model)
        self.list.setAccessibleName("Findings")
        self.list.setItemDelegate(SentenceDelegate(self.list))
        self.list.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setToolTip("Enter plays the witness of the chosen finding in the mirror")
        self.muted_button = button("", "Show or hide the findings that are muted", self._fold)
        self.muted_button.setFlat(True)
        self.shows_muted = False
        self.meant_button = button(
            "That is meant", "It is meant so: do not tell it any more (kept in the file)", self.mean
        )
        self.mute_button = button("Mute …", "Do not tell this finding any more, and say why", self._ask_reason)
        self.reason = QLineEdit()
        self.reason.setAccessibleName("Reason for muting")
        self.reason.setToolTip("Kept in the file with the finding")
        self.reason.setPlaceholderText("Why is this no problem? Enter mutes it, Esc does not.")
        self.reason.returnPressed.connect(self.mute)
        self.reason.hide()
        self._asked_for: Key | None = None
        """The finding of which it is asked why it is muted."""

    def refresh(self) -> None:
        """Show the findings of the last check."""
        raise AssertionError("a station shows its findings")

    @property
    def finding(self) -> Finding | None:
        """The chosen finding."""
        found: Finding | None = self.list.currentIndex().data(ITEM)
        return found

    def _reason_of(self, finding: Finding | None) -> str | None:
        """Why a finding is muted; None when it is not."""
        report = self.session.report
        return next((reason for one, reason in report.muted if one is finding), None) if report else None

    def _fold(self) -> None:
        self.shows_muted = not self.shows_muted
        self.refresh()

    def _ask_reason(self) -> None:
        """Ask why a finding is to be muted; one that is muted is taken back."""
        finding = self.finding
        if finding is None:
            return
        if self._reason_of(finding) is not None or finding.id == "mute.stale":
            self._take_back(finding)
            return
        self._asked_for = finding.key
        self.reason.clear()
        self.reason.show()
        self.reason.setFocus()

    def mean(self) -> None:
        """What the chosen finding asks about is meant."""
        if self.finding is not None:
            self._mute(self.finding, "that is meant")

    def mute(self) -> None:
        """Mute the chosen finding with the reason that is written."""
        finding, reason = self.finding, self.reason.text().strip()
        if finding is None or not reason:
            self.session.said.emit("Say why: somebody will ask.")
            return
        self._mute(finding, reason)

    def _mute(self, finding: Finding, reason: str) -> None:
        muted = Muted(id=finding.id, about=about(self.session.document, finding.subject), reason=reason)
        self.reason.hide()
        self.list.setFocus()
        self.session.edit(f"muted {finding.id}", lambda document: append(document, ("muted",), muted))

    def _take_back(self, finding: Finding) -> None:
        if finding.id == "mute.stale":
            key = finding.details["muted"], finding.details["about"]
        else:
            key = finding.id, about(self.session.document, finding.subject)
        kept = tuple(one for one in self.session.document.muted if (one.id, one.about) != key)
        self.session.edit(f"took back the muting of {key[0]}", lambda document: change(document, (), muted=kept))
