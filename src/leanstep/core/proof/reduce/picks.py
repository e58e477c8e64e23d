"""Spans that only some clips of a blend space have, written out into the conditions that ask for them.

Where one number from outside picks the clip, by borders that do not stick, a span of some of the clips is on exactly while the number
is between the borders of one of these and the playhead is in the span: the pick is made on the tick on which the condition is tried,
of the same value.  (Not so while time stands, when the pick stays what it was.)  So a condition can say that by itself, and the number
is cut at the borders like at any constant.  The borders are those doubles between which the pick changes, found by halving with the
very arithmetic that picks.

Where the borders stick, what was picked before counts only near them: elsewhere the value alone says whether it can be one of these
clips that is picked, and whether any other can (:mod:`leanstep.core.proof.reduce.sticky_picks`).  A condition says that much by
itself, and asks for the span only where both can be.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Set
from itertools import groupby, pairwise

from leanstep.core.bearings import MOST
from leanstep.core.conditions import expression as x
from leanstep.core.graph.clip_tables import Picture, Window
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.inlining import reworded
from leanstep.core.proof.reduce.sticky_picks import Stretch, sticky_stretches


def picks_written_out(machine: Machine) -> Machine:
    """The machine with such spans written out in its conditions."""
    if machine.freezes or not any(picture.varying for _, _, picture in _shown(machine)):
        return machine
    return machine.once(picks_written_out, lambda: _written_out(machine))


def _written_out(machine: Machine) -> Machine:
    names = set[str]()
    for _, _, picture in _shown(machine):
        names |= picture.varying if picture.followed and _picked_by_one(machine, picture) else frozenset()
    spans: dict[str, list[x.Expression]] = {name: [] for name in names}
    for layer, state, picture in _shown(machine):
        for name, on in _spans_of(machine, layer, picture) if names & picture.spans else ():
            if name in names:
                spans[name].append(x.Every((x.Active(layer, state), *on)))
    return reworded(machine, lambda condition: _with(condition, spans)) if names else machine


def _shown(machine: Machine) -> Iterator[tuple[int, int, Picture]]:
    """Layer and state of everything that is shown, with what it is."""
    for layer, row in enumerate(machine.pictures):
        yield from ((layer, state, picture) for state, picture in enumerate(row) if picture is not None)


def _picked_by_one(machine: Machine, picture: Picture) -> bool:
    """Whether it is one number from outside that picks its clips, by borders that may stick."""
    if picture.space is None or picture.moved or len(picture.axes) != 1 or picture.axes[0] < 0:
        return False
    symbol = machine.symbols[picture.axes[0]]
    return symbol.free and symbol.kind in x.NUMERIC and not symbol.countdown


def _spans_of(machine: Machine, layer: int, picture: Picture) -> Iterator[tuple[str, tuple[x.Expression, ...]]]:
    """The spans of what is shown, each with what has to be so while its state is active for it to be on."""
    length = picture.common.timing.length
    if not picture.followed or not length:
        yield from ((name, (x.SpanOn(name),)) for name in picture.spans)
        return
    clips: dict[Window, set[int]] = defaultdict(set)
    for pick, reel in enumerate(picture.reels):
        for window in reel.windows:
            clips[window].add(pick)
    stretches = [*_stretches(machine, picture)] if _picked_by_one(machine, picture) else []
    for window, picks in clips.items():
        # halfway between whole units, so that no rounding matters
        begins, ends = (x.ClipAt(layer, (at - 0.5) / length) for at in (window.start, window.end))
        on: tuple[x.Expression, ...] = (begins, x.Inverse(ends))
        if len(picks) < len(picture.reels):
            span = x.SpanOn(window.name)
            on = (*on, _while_picked(picture.axes[0], stretches, picks, span) if stretches else span)
        yield window.name, on


def _while_picked(symbol: int, stretches: Iterable[Stretch], picks: set[int], span: x.SpanOn) -> x.Expression:
    """That one of some clips is picked, where the value tells; where it does not, that the span is on."""
    on = list[x.Expression]()
    for tells, group in groupby(stretches, lambda one: _among(one.picks, picks)):
        if tells is not False:
            some = list(group)
            between = _between(symbol, some[0].low, some[-1].high)
            on.append(between if tells else x.Every((between, span)))
    return x.Some(tuple(on))


def _among(some: Set[int], picks: set[int]) -> bool | None:
    """Whether these are among the picks: all (True), none (False), or some (None)."""
    return True if some <= picks else None if some & picks else False


def _between(symbol: int, low: float | None, high: float | None) -> x.Expression:
    """That a value is above ``low`` and not above ``high``."""
    value = x.Value(symbol)
    above = () if low is None else (x.Compared(">", value, x.Fixed(low)),)
    below = () if high is None else (x.Compared("<=", value, x.Fixed(high)),)
    return x.Every((*above, *below))


def _stretches(machine: Machine, picture: Picture) -> Iterator[Stretch]:
    """What may be picked from where on to where, from low to high."""
    assert picture.space is not None
    if picture.space.sticky > 0:
        yield from sticky_stretches(picture.space)
        return
    axis, places = picture.axes[0], {place[0] for place in picture.space.places if not math.isnan(place[0])}

    def pick(value: float) -> int:
        values = [0.0] * (axis + 1)
        values[axis] = value
        return picture.pick(values)

    ends = [0.0, MOST] if machine.symbols[axis].kind == "bearing" else []
    tried = sorted({*places, *ends})
    here, low = pick(tried[0]) if tried else 0, None
    for one, other in pairwise(tried):
        there = pick(other)
        if there != here:
            border = _last(pick, one, other, here)
            yield Stretch(low, border, frozenset({here}))
            here, low = there, border
    yield Stretch(low, None, frozenset({here}))


def _last(pick: Callable[[float], int], low: float, high: float, here: int) -> float:
    """The last double from ``low`` on at which the same is picked as there, another being picked at ``high``."""
    while True:
        middle = low + (high - low) / 2
        if not low < middle < high:
            return low
        low, high = (middle, high) if pick(middle) == here else (low, middle)


def _with(expression: x.Expression, spans: Mapping[str, list[x.Expression]]) -> x.Expression:
    """An expression in which spans are on where these say so."""
    match expression:
        case x.SpanOn(name) if name in spans:
            return x.Some(tuple(spans[name]))
        case x.Every(operands) | x.Some(operands):
            return type(expression)(tuple(_with(one, spans) for one in operands))
        case x.Inverse(operand):
            return x.Inverse(_with(operand, spans))
    return expression
