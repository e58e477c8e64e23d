"""How soon presses show, as a table: every button in every state that the takes come to."""

from __future__ import annotations

from leanstep.core.character.document import Character
from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.rehearsal.responsiveness import TICKS, Response, responses
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.session import Session
from leanstep.desk.stations.rehearse.found_table import FoundTable, Row

COLUMNS = {
    "Button": (80, ""),
    "In state": (110, ""),
    "Shows after": (
        130,
        "Ticks from the press to the first other picture than without it, best to worst; 1 is the tick of the press",
    ),
    "Hits after": (100, "Ticks from the press to the first active phase from then on"),
    "Steers again": (110, "Ticks from the press until the stick is obeyed"),
    "Nothing happens": (110, f"Presses that showed nothing within {TICKS} ticks, of those that were tried"),
    "Mostly because": (0, ""),
}
BUTTON, STATE, SHOWS, HITS, STEERS, NOTHING, WHY = range(len(COLUMNS))


class Responding(FoundTable):
    """Worked out anew whenever the character is another one."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "How soon presses show", COLUMNS)
        self.work.ended.connect(self._show)
        self._for: Character | None = None

    def refresh(self) -> None:
        document, machine = self.session.document, self.session.machine
        if not self.isVisible() or self._for is document:
            return
        self._for = document
        takes = [take for take in document.takes if take.world == "body"]
        if not takes or not document.controls.buttons:
            self._show([])
            return

        def work() -> list[Response]:
            return list(responses(machine, {take.name: rehearse(machine, take) for take in takes}))

        self.work.start(work, "Pressing every button in every state …")

    def _show(self, found: list[Response]) -> None:
        """Show what was found: what shows first, slowest first, then what shows nothing."""
        ordered = sorted(found, key=lambda one: (one.button, not one.pictures, -one.late, one.state))
        self.fill(
            [self._row(one) for one in ordered],
            "In ticks, 1 is that of the press. Enter plays the slowest press of a row."
            if found
            else "No take steers a body here: keep one, and every button is tried in every state it comes to.",
        )

    def _row(self, one: Response) -> Row:
        budgets = {button.name: button.within for button in self.session.document.controls.buttons}
        within = budgets.get(one.button, 0.0)
        late = within and one.late > ticks_of(Duration(within, "s"), self.session.document.rate)
        return Row(one.texts, one.worst, SHOWS if late else -1, f"{within:g} s are allowed")
