"""The row in which a costume is chosen that every preview shows."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, fill_combo, label


class WearsRow(QWidget):
    """Which costume every preview shows; hidden for a character without any."""

    AS_SAID, BARE = "as the graph says", "no costume"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.choice = DropDown()
        self.choice.setAccessibleName("What is worn")
        self.choice.setToolTip("The costume that is seen everywhere here; the character stays as it is")
        self.choice.activated.connect(self._choose)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label("Wears", "soft"))
        row.addWidget(self.choice, 1)
        session.editing.follow(self, self.refresh, session.changed, session.opened)
        self.refresh()

    def refresh(self) -> None:
        """Show the costumes there are."""
        names, worn = [one.name for one in self.session.document.costumes], self.session.art.worn
        if worn and worn not in names:
            worn = None
            self.session.art.wear(None)
        fill_combo(
            self.choice, [self.AS_SAID, self.BARE, *names], {None: self.AS_SAID, "": self.BARE}.get(worn, worn or "")
        )
        self.setVisible(bool(names))

    def _choose(self, at: int) -> None:
        self.session.art.wear(None if at == 0 else "" if at == 1 else self.choice.itemText(at))
