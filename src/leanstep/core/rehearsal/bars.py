"""A take's inputs as bars: stretches of ticks over which something is not at rest."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from leanstep.core.character.model import Change, Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import Symbol


@dataclass(frozen=True)
class Bar:
    """``value`` holds from tick ``start`` up to but not including ``end``."""

    start: int
    end: int
    value: Symbolic


def bars_of(take: Take, symbol: Symbol) -> list[Bar]:
    """The bars of one symbol, in order."""
    bars: list[Bar] = []
    value, since = symbol.rest, 0
    for change in sorted(take.changes, key=lambda change: change.at):
        if symbol.name not in change.set or change.at >= take.ticks:
            continue
        new = change.set[symbol.name]
        if symbol.momentary:
            bars.extend([Bar(change.at, change.at + 1, True)] if new else [])
        elif new != value:
            if value != symbol.rest and change.at > since:
                bars.append(Bar(since, change.at, value))
            value, since = new, change.at
    if not symbol.momentary and value != symbol.rest and take.ticks > since:
        bars.append(Bar(since, take.ticks, value))
    return bars


def with_bars(take: Take, symbol: Symbol, bars: list[Bar]) -> Take:
    """The take with one symbol's bars replaced; bars are cut to the take's length, later ones win where they overlap."""
    values: dict[int, Symbolic] = {}
    previous: Bar | None = None
    for bar in sorted(bars, key=lambda bar: bar.start):
        start, end = max(0, bar.start), min(take.ticks, bar.end)
        if end <= start:
            continue
        if previous is not None and previous.end < start and not symbol.momentary:
            values[previous.end] = symbol.rest
        for tick in range(start, end) if symbol.momentary else (start,):
            values[tick] = bar.value
        previous = Bar(start, end, bar.value)
    if previous is not None and previous.end < take.ticks and not symbol.momentary:
        values[previous.end] = symbol.rest
    at: dict[int, dict[str, Symbolic]] = {}
    for change in take.changes:
        rest = {name: value for name, value in change.set.items() if name != symbol.name}
        if rest:
            at.setdefault(change.at, {}).update(rest)
    for tick, value in values.items():
        at.setdefault(tick, {})[symbol.name] = value
    return msgspec.structs.replace(take, changes=tuple(Change(at=tick, set=at[tick]) for tick in sorted(at)))
