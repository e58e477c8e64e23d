"""Takes on which a pick changes and changes back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from leanstep.core.character.takes import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.concrete import Rows
from leanstep.core.proof.witness.shrinking import Witness, made
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace


def flipping_picks(
    reach: Reach,
    layer: int,
    state: int,
    entry: Take,
    values: Sequence[Mapping[int, Symbolic]],
    picks: tuple[int, int],
) -> Witness | None:
    """A take that goes on from one that enters a state, whose pick is then the first of ``picks``, the second, and the first again,
    as ``values`` say; None where the state is left with these values, or they are not permitted."""
    calm = {index: False for index in reach.machine.free if reach.machine.symbols[index].momentary}

    def goal(trace: Trace) -> bool:
        last = [trace.after(len(trace.steps) - back) for back in (2, 1, 0)]
        stays = all(one.states[layer] == state for one in last)
        unbroken = not any(tick > len(trace.steps) - 3 for tick, _ in trace.entries(layer))
        return stays and unbroken and tuple(one.picks[layer] for one in last) == (picks[0], picks[1], picks[0])

    begin: Rows = [list(row) for row in rehearse(reach.machine, entry).values()]
    first = begin[-1] if begin else [symbol.first for symbol in reach.machine.symbols]
    # from the tick of entry on, or one tick later
    for late in (False, True):
        rows = [list(row) for row in begin]
        if rows and not late:
            rows[-1] = _with(rows[-1], values[0])
        for each in (values[0], values[1], values[0]):
            rows.append(_with(first, {**calm, **each}))
        found = made(reach, rows, goal)
        if found.replays:
            return found
    return None


def _with(row: Sequence[Symbolic], values: Mapping[int, Symbolic]) -> list[Symbolic]:
    return [values.get(at, value) for at, value in enumerate(row)]
