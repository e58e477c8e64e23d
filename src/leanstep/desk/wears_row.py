"""The row in which a costume is chosen that every preview shows."""

from __future__ import annotations

from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import ChoiceRow, fill_combo


class WearsRow(ChoiceRow):
    """Which costume every preview shows; hidden for a character without any."""

    AS_SAID, BARE = "as the graph says", "no costume"

    def __init__(self, session: Session) -> None:
        tip = "The costume that is seen everywhere here; the character stays as it is"
        super().__init__("Wears", "What is worn", tip, self._choose)
        self.session = session
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
