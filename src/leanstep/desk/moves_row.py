"""How the live figure moves: the ways of moving that a choice sets, chosen beside the mirror."""

from __future__ import annotations

from leanstep.core.character.alternates import Alternate
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.widgets.basics import ChoiceRow, fill_combo

USUAL = "as usual"


class MovesRow(ChoiceRow):
    """Sets the parameter by which a way of moving is chosen, as the game would; hidden for a character without one."""

    def __init__(self, session: Session, live: Simulation) -> None:
        tip = "The way of moving the figure has from now on, as if the game had chosen it"
        super().__init__("Moves", "How it moves", tip, self._choose)
        self.session, self.live = session, live
        session.editing.follow(self, self.refresh, session.changed, session.opened)
        live.ticked.connect(self._follow)
        self.refresh()

    @property
    def ways(self) -> list[Alternate]:
        """The ways of moving that a choice sets."""
        index = self.live.machine.index
        return [one for one in self.session.document.alternates if one.parameter in index]

    def refresh(self) -> None:
        """Show the ways there are."""
        names = [one.name for one in self.ways]
        fill_combo(self.choice, [USUAL, *names], self.now)
        self.setVisible(bool(names))

    @property
    def now(self) -> str:
        """How the figure moves."""
        values, index = self.live.situation.values, self.live.machine.index
        found = (one.name for one in self.ways if values[index[one.parameter]] == one.value)
        return next(found, USUAL)

    def _follow(self) -> None:
        if self.isVisible() and self.choice.currentText() != self.now and not self.choice.view().isVisible():
            self.refresh()

    def _choose(self, at: int) -> None:
        name, machine = self.choice.itemText(at), self.live.machine
        chosen = next((one for one in self.ways if one.name == name), None)
        if chosen is not None:
            self.live.set_handle(chosen.parameter, chosen.value)
            return
        for parameter in dict.fromkeys(one.parameter for one in self.ways):
            taken = {one.value for one in self.ways if one.parameter == parameter}
            rest = [choice for choice in machine.symbols[machine.index[parameter]].choices if choice not in taken]
            if rest:
                self.live.set_handle(parameter, rest[0])
