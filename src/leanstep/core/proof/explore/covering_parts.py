"""Takes in which single parts of conditions decide: what leads to a transition, with one thing done otherwise shortly before."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from leanstep.core.character.takes import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.parts import deciding
from leanstep.core.graph.tick_state import TickState
from leanstep.core.proof.explore.archive import Inputs
from leanstep.core.proof.explore.body_world import BodyWorld
from leanstep.core.rehearsal.changed_inputs import other_values
from leanstep.core.rehearsal.coverage import Coverage, Decided, Key
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, recorded
from leanstep.core.work import look

BACK = (0, 1, 3, 8, 20)
"""Ticks before a transition from which something is done otherwise."""
AT_RANDOM = 60
"""Times that several things are done otherwise."""
AHEAD = 12
"""Ticks after it for which the transition may still be tried."""


def takes_for_parts(
    covered: Coverage, world: BodyWorld, leading: Mapping[Key, Take], parts: set[Decided], ticks: int
) -> list[tuple[Take, Key]]:
    """Takes on whose last tick parts of conditions decide, and of which transition; made from takes that end with these
    (``leading``).  So many ``ticks`` are tried."""
    found, tried = list[tuple[Take, Key]](), 0
    for key, take in leading.items():
        wanted = {one for one in parts if one[0] == key}
        trial = _Trial(covered, world, key, take)
        for rows, begin in trial.variations():
            if not wanted or tried >= ticks:
                break
            look()
            shown, played = trial.shown(rows, begin, wanted)
            tried += played
            short = rows[: begin + played]
            if shown and world.may_be(short):
                found.append((recorded(covered.machine, "found", short, "body"), key))
                wanted -= shown
    return found


class _Trial:
    """A take that ends with a transition, and what becomes of it when something is done otherwise."""

    def __init__(self, covered: Coverage, world: BodyWorld, key: Key, take: Take) -> None:
        self.world, self.key = world, key
        self.condition = covered.conditions[key]
        self.rows = world.whole(inputs_of(covered.machine, take))
        self.machine = covered.machine
        self.stepper = Stepper(self.machine)
        self.befores = [self.stepper.first()]
        for row in self.rows:
            self.befores.append(self.stepper.step(self.befores[-1], row).situation)

    def variations(self) -> Iterator[tuple[list[Inputs], int]]:
        """The inputs of every tick, and the tick from which they are others: one thing for as short as it may be first, then several
        at random."""
        if not self.rows:
            return
        symbols, last = self.machine.symbols, len(self.rows) - 1
        longer = [*self.rows, *[self._kept(self.rows[-1])] * AHEAD]

        def changed(begin: int, index: int, value: Symbolic, rows: list[Inputs]) -> list[Inputs]:
            once = symbols[index].countdown or (symbols[index].momentary and value)
            return [
                {**row, index: value} if at == begin or (at > begin and not once) else row
                for at, row in enumerate(rows)
            ]

        begins = list(dict.fromkeys(max(0, last - back) for back in BACK))
        for begin in begins:
            for index in self.world.choices:
                for value in other_values(symbols[index], longer[begin].get(index, symbols[index].rest)):
                    yield changed(begin, index, value, longer), begin
        for _ in range(AT_RANDOM):
            rows, begin = longer, self.world.pick.choice(begins)
            for index, values in self.world.choices.items():
                if self.world.pick.random() < 0.5:
                    rows = changed(begin, index, self.world.pick.choice(values or [True]), rows)
            yield rows, begin

    def _kept(self, row: Inputs) -> Inputs:
        """The same without its pulses, and without giving anything to count down from."""
        symbols = self.machine.symbols
        kept = {at: value for at, value in row.items() if not symbols[at].countdown}
        return {at: value if not symbols[at].momentary else False for at, value in kept.items()}

    def shown(self, rows: list[Inputs], begin: int, wanted: set[Decided]) -> tuple[set[Decided], int]:
        """Which of these the inputs show, on the last of so many ticks from ``begin`` on."""
        shown, before = set[Decided](), self.befores[begin]
        sources = self.world.sources[self.key]

        def watch(layer: int, now: TickState) -> None:
            if layer == self.key[0] and self._tried(now):
                values = self.condition.worth(now)
                shown.update({(self.key, at, values[at]) for at in deciding(self.condition.shape, values)} & wanted)

        for played, row in enumerate(rows[begin:], 1):
            there: Situation = before
            before = self.stepper.step(before, row, watch).situation
            if shown or (there.states[self.key[0]] in sources and before.states[self.key[0]] not in sources):
                return shown, played
        return shown, len(rows) - begin

    def _tried(self, now: TickState) -> bool:
        """Whether the transition's turn comes in a moment."""
        layer, wanted = self.key
        for holds, way in self.machine.tests[layer][now.states[layer]]:
            if way.index == wanted:
                return True
            if holds(now):
                return False
        return False
