"""A take's inputs as bars: stretches of ticks over which something is not at rest."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from leanstep.core.character.inputs import NUMBER_MAX
from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import Symbol
from leanstep.core.graph.effects import fitted


@dataclass(frozen=True)
class Bar:
    """``value`` holds from tick ``start`` up to but not including ``end``."""

    start: int
    end: int
    value: Symbolic


def first_value(symbol: Symbol, upper: bool = True) -> Symbolic:
    """What a new bar of a symbol is worth: on, another choice than the one at rest, or all the way; ``upper`` says which way
    where there are two."""
    if symbol.kind in ("flag", "pulse", "button"):
        return True
    if symbol.kind == "choice":
        return next((choice for choice in symbol.choices if choice != symbol.rest), symbol.rest)
    rest = float(symbol.rest)
    wanted = symbol.high if upper or symbol.low >= rest else symbol.low
    if abs(wanted) >= NUMBER_MAX:
        wanted = rest + (1.0 if wanted > 0 else -1.0)
    return float(wanted) if wanted != rest else float(symbol.low)


def stepped_value(symbol: Symbol, value: Symbolic, step: int) -> Symbolic:
    """The next value of a bar up or down: a twentieth of the range, a whole, or the next choice."""
    if symbol.kind == "choice":
        at = symbol.choices.index(str(value)) if value in symbol.choices else 0
        return symbol.choices[(at + step) % len(symbol.choices)]
    if symbol.kind in ("flag", "pulse", "button"):
        return value
    span = symbol.high - symbol.low
    each = 1.0 if symbol.kind == "whole" or span >= NUMBER_MAX else span / 20
    return fitted(symbol, round(float(value) + step * each, 9))


def bars_of(take: Take, symbol: Symbol) -> list[Bar]:
    """The bars of one symbol, in order."""
    if symbol.countdown:
        return _counting(take, symbol)
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


def _counting(take: Take, symbol: Symbol) -> list[Bar]:
    """The bars of a countdown: from each tick on which it is given something for as long as it counts."""
    given = {change.at: change.set[symbol.name] for change in take.changes if symbol.name in change.set}
    starts = sorted(at for at in given if at < take.ticks)
    ends = [*starts[1:], take.ticks]
    return [
        Bar(at, min(at + max(1, int(float(given[at]))), after), given[at])
        for at, after in zip(starts, ends, strict=True)
    ]


def with_bars(take: Take, symbol: Symbol, bars: list[Bar]) -> Take:
    """The take with one symbol's bars replaced; bars are cut to the take's length, later ones win where they overlap."""
    values: dict[int, Symbolic] = {}
    previous: Bar | None = None
    for bar in sorted(bars, key=lambda bar: bar.start):
        start, end = max(0, bar.start), min(take.ticks, bar.end)
        if end <= start:
            continue
        if previous is not None and previous.end < start and symbol.lasts:
            values[previous.end] = symbol.rest
        for tick in range(start, end) if symbol.momentary else (start,):
            values[tick] = bar.value
        previous = Bar(start, end, bar.value)
    if previous is not None and previous.end < take.ticks and symbol.lasts:
        values[previous.end] = symbol.rest
    at: dict[int, dict[str, Symbolic]] = {}
    for change in take.changes:
        rest = {name: value for name, value in change.set.items() if name != symbol.name}
        if rest:
            at.setdefault(change.at, {}).update(rest)
    for tick, value in values.items():
        at.setdefault(tick, {})[symbol.name] = value
    return msgspec.structs.replace(take, changes=tuple(Change(at=tick, set=at[tick]) for tick in sorted(at)))
