"""All takes as they were when the character was last saved and as they are now: which do otherwise, those first."""

from __future__ import annotations

from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.findings.outcomes import Outcome, first_difference, outcomes
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.wording import counted
from leanstep.desk.session import Session
from leanstep.desk.stations.rehearse.found_table import FoundTable, Row

COLUMNS = {
    "Take": (150, ""),
    "Expectations": (190, "Of the take, and of the states it goes through"),
    "From tick": (80, "The first tick on which it does otherwise than before"),
    "What is otherwise": (0, ""),
}
EXPECTATIONS = 1
Both = tuple[Machine, dict[str, Outcome], dict[str, Outcome]]
Unmet = frozenset[tuple[str, object]]


class BeforeAfter(FoundTable):
    """Played anew whenever the character is another one; a row is played with what it did before beside it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Takes before and after", COLUMNS)
        self.keep.hide()
        self.work.ended.connect(self._show)
        """The character as it was last saved."""
        self._for: Character | None = None
        self._known: tuple[Machine, dict[str, Outcome]] | None = None

    def refresh(self) -> None:
        now, saved = self.session.document, self.session.history.saved
        same = self.before is not None and self.before.character is saved
        if not self.isVisible() or (same and self._for is now):
            return
        self._for = now
        if self.before is None or not same:
            self.before = compile_character(saved)
        machine, before, known = self.session.machine, self.before, self._known

        def work() -> Both:
            old = known[1] if known is not None and known[0] is before else outcomes(before)
            return before, old, outcomes(machine)

        self.work.start(work, "Playing every take before and after …")

    def _show(self, both: Both) -> None:
        machine, before, after = both
        self._known = machine, before
        layers = [layer.name for layer in self.session.machine.layers]
        takes = [take for take in self.session.document.takes if take.name in after]
        ranked = sorted(
            (_compared(take, layers, before.get(take.name), after[take.name]) for take in takes), key=lambda one: one[0]
        )
        changed = sum(not same for (_, same, _), _ in ranked)
        does = "does" if changed == 1 else "do"
        words = f"{counted(changed, 'take')} of {len(ranked)} {does} otherwise than when it was last saved."
        self.fill(
            [row for _, row in ranked],
            f"{words} Enter plays one beside what it did." if ranked else "There are no takes yet.",
        )


def _compared(take: Take, layers: list[str], one: Outcome | None, other: Outcome) -> tuple[tuple[bool, bool, int], Row]:
    """A take's row, and what it is ordered by: whether nothing is broken that held, whether it does the same, and from when on it
    does not; ``one`` is what it came to before, None where it is new."""
    if one is None:
        return (True, True, 0), Row((take.name, _held(other.unmet, other.unmet), "", "it is new"), take)
    found, lost = first_difference(layers, one, other), other.unmet - one.unmet
    tick, what = (str(found[0]), found[1]) if found is not None else ("", "as before")
    row = Row(
        (take.name, _held(one.unmet, other.unmet), tick, what),
        take,
        EXPECTATIONS if lost else -1,
        "It held when the character was last saved",
    )
    return (not lost, found is None, found[0] if found is not None else 0), row


def _held(before: Unmet, after: Unmet) -> str:
    """What became of expectations, in words."""
    said = [f"{len(after - before)} broken that held"] if after - before else []
    said += [f"{len(before - after)} hold that did not"] if before - after else []
    return ", ".join(said) or ("still broken" if after else "hold")
