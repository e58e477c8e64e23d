"""Boxes of values: dividing them, and what of them the assumptions allow."""

from __future__ import annotations

from collections.abc import Callable
from heapq import heappop, heappush
from operator import itemgetter
from typing import Any

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.values.linear_constraints import Together
from leanstep.core.proof.values.predicates import Answer, Masks, Regional, Setting, Split

MOST_KEPT = 100_000
"""Answers that are remembered, of a kind."""


class Boxes:
    """The values of a machine's symbols by region.  ``linked``: not all of them go together.

    ``values`` and ``spans`` are the regions of every symbol, ``full`` holds them all; ``together`` knows what sums allow.
    """

    def __init__(self, machine: Machine, regional: Regional) -> None:
        self.spans = regional.regions.spans
        self.together = Together.of(machine, regional.regions)
        self.assumptions = [regional.judge(assumption) for assumption in machine.assumptions]
        self.linked = bool(self.assumptions or self.together.open)
        self._compared = self.together.symbols.union(*map(x.symbols_in, machine.assumptions))
        self._unknown = Moment([False] * len(machine.symbols))
        self._assumed: dict[object, Split | bool] = {}
        self._options: dict[tuple[int, int], tuple[float | bool | str, ...]] = {}
        self.close(regional)

    def close(self, regional: Regional) -> None:
        """Take in what has come to stand for something open."""
        self.full = regional.full
        self.values = tuple(regional.values)
        # all that an assumption or a sum may look at: of what is open, everything
        self._linking = frozenset(self._compared) | set(range(len(self._unknown.values), len(self.full)))
        self._looked_at = itemgetter(*sorted(self._linking)) if self._linking else None

    def options(self, symbol: int, mask: int) -> tuple[float | bool | str, ...]:
        """The values of a symbol that stand for the regions of a set."""
        known = self._options.get((symbol, mask))
        if known is None:
            values = enumerate(self.values[symbol])
            known = self._options[symbol, mask] = tuple(value for bit, value in values if mask >> bit & 1)
        return known

    def divide(self, masks: Masks, answer: Answer, cost: Callable[[Masks], int] | None = None) -> None:
        """Ask ``answer`` about ever smaller sets of values, leaving out what the assumptions forbid; with a ``cost`` about those first
        that cost least."""
        stack: list[tuple[int, int, Masks, Any]] = [(0, 0, masks, None)]
        number = 0
        while stack:
            _, _, current, then = heappop(stack) if cost is not None else stack.pop()
            result = answer(current, then)
            if isinstance(result, Split):
                yes, no = result.of(current)
                # what a split does not touch has been looked at before it, but for what there was from the outset
                touched = self.linked and (current is masks or result.symbol in self._linking)
                for part in (no, yes):
                    if touched and self.allowed(part) is False:
                        continue
                    if cost is None:
                        stack.append((0, 0, part, result.then))
                    else:
                        number -= 1
                        heappush(stack, (cost(part), number, part, result.then))
            elif result:
                return

    def allowed(self, masks: Masks) -> bool | None:
        """Whether the assumptions allow these values; None when they allow some of them perhaps."""
        result = self.assumed(masks)
        return None if isinstance(result, Split) else result

    def assumed(self, masks: Masks) -> Split | bool:
        """Whether the assumptions allow these values and the values each other, or the split that is needed to tell."""
        if not self.linked:
            return True
        key = self._looked_at(masks) if self._looked_at is not None else ()
        known = self._assumed.get(key)
        if known is None:
            if len(self._assumed) > MOST_KEPT:
                self._assumed.clear()
            known = self._assumed[key] = self._assume(masks)
        return known

    def _assume(self, masks: Masks) -> Split | bool:
        setting = Setting(masks, self._unknown)
        needed: Split | None = None
        for judge in self.assumptions:
            answer = judge(setting)
            if answer is False:
                return False
            if answer is None and needed is None:
                needed = Split(setting.symbol, setting.part)
        return needed or self.together.possible(masks)

    def completed(
        self, masks: Masks, wanted: Masks | None = None, also: Callable[[Masks], Masks] | None = None
    ) -> Masks | None:
        """A part of ``masks`` in which every assumption holds, near the single values ``wanted`` where it can be; None
        when there is none.  With ``also`` they hold as well in what it makes of the part, where a symbol either stays as
        it is or has a single value."""
        stack = [masks]
        while stack:
            current = stack.pop()
            result = self.assumed(current)
            if result is True and also is not None:
                result = self.assumed(also(current))
            if isinstance(result, Split):
                yes, no = result.of(current)
                if wanted is not None and not wanted[result.symbol] & yes[result.symbol]:
                    yes, no = no, yes
                stack += [no, yes]
            elif result:
                return current
        return None
