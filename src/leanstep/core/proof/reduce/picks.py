"""Spans that only some clips of a blend space have, written out into the conditions that ask for them.

Where one number from outside picks the clip, by borders that do not stick, a span of some of the clips is on exactly while the number
is between the borders of one of these and the playhead is in the span: the pick is made on the tick on which the condition is tried,
of the same value.  (Not so while time stands, when the pick stays what it was.)  So a condition can say that by itself, and the number
is cut at the borders like at any constant.  The borders are those doubles between which the pick changes, found by halving with the
very arithmetic that picks.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from itertools import pairwise

from leanstep.core.bearings import MOST
from leanstep.core.conditions import expression as x
from leanstep.core.graph.clip_tables import Picture, Window
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.inlining import reworded

_Spans = dict[str, list[x.Expression]]


def picks_written_out(machine: Machine) -> Machine:
    """The machine with such spans written out in its conditions; its pictures tell for which no condition needs to know the pick."""
    if machine.freezes or not any(picture and picture.varying for row in machine.pictures for picture in row):
        return machine
    return machine.once(picks_written_out, lambda: _written_out(machine))


def _written_out(machine: Machine) -> Machine:
    spans: _Spans = defaultdict(list)
    pictures = [list(row) for row in machine.pictures]
    for layer, row in enumerate(machine.pictures):
        for state, picture in enumerate(row):
            if picture is not None and picture.followed and picture.varying and _picked_by_one(machine, picture):
                pictures[layer][state] = replace(picture, written_out=True)
                for name, on in _spans_of(machine, layer, picture):
                    spans[name].append(x.Every((x.Active(layer, state), *on)))
    made = reworded(machine, lambda condition: _with(condition, spans))
    return replace(made, pictures=tuple(map(tuple, pictures)))


def _picked_by_one(machine: Machine, picture: Picture) -> bool:
    """Whether it is one number from outside that picks its clips, whatever was picked before."""
    if (
        picture.space is None
        or picture.space.sticky > 0
        or picture.moved
        or len(picture.axes) != 1
        or picture.axes[0] < 0
    ):
        return False
    symbol = machine.symbols[picture.axes[0]]
    return symbol.free and symbol.kind in x.NUMERIC and not symbol.countdown


def _spans_of(machine: Machine, layer: int, picture: Picture) -> Iterator[tuple[str, tuple[x.Expression, ...]]]:
    """The spans that not all clips have, each with what has to be so while the state is active for it to be on."""
    clips: dict[Window, list[int]] = defaultdict(list)
    for pick, reel in enumerate(picture.reels):
        for window in reel.windows:
            if window.name in picture.varying and window not in picture.common.windows:
                clips[window].append(pick)
    picked, length = _picked(machine, picture), picture.common.timing.length
    for window, picks in clips.items():
        # halfway between whole units, so that no rounding matters
        begins, ends = (x.ClipAt(layer, (at - 0.5) / length) for at in (window.start, window.end))
        yield window.name, (begins, x.Inverse(ends), x.Some(tuple([picked[pick] for pick in picks])))


def _picked(machine: Machine, picture: Picture) -> dict[int, x.Expression]:
    """By clip, between which values it is picked."""
    symbol = picture.axes[0]
    found: dict[int, list[x.Expression]] = defaultdict(list)
    for pick, low, high in _stretches(picture, machine.symbols[symbol]):
        value = x.Value(symbol)
        above = () if low is None else (x.Compared(">", value, x.Fixed(low)),)
        below = () if high is None else (x.Compared("<=", value, x.Fixed(high)),)
        found[pick].append(x.Every((*above, *below)))
    return {pick: x.Some(tuple(found[pick])) for pick in range(len(picture.reels))}


def _stretches(picture: Picture, symbol: x.Symbol) -> Iterator[tuple[int, float | None, float | None]]:
    """What is picked from where on (not in) to where (in), from low to high; None: from or to the end."""
    assert picture.space is not None
    axis, places = picture.axes[0], {place[0] for place in picture.space.places if not math.isnan(place[0])}

    def pick(value: float) -> int:
        values = [0.0] * (axis + 1)
        values[axis] = value
        return picture.pick(values)

    ends = [0.0, MOST] if symbol.kind == "bearing" else []
    tried = sorted({*places, *ends})
    here, low = pick(tried[0]) if tried else 0, None
    for one, other in pairwise(tried):
        there = pick(other)
        if there != here:
            border = _last(pick, one, other, here)
            yield here, low, border
            here, low = there, border
    yield here, low, None


def _last(pick: Callable[[float], int], low: float, high: float, here: int) -> float:
    """The last double from ``low`` on at which the same is picked as there, another being picked at ``high``."""
    while True:
        middle = low + (high - low) / 2
        if not low < middle < high:
            return low
        low, high = (middle, high) if pick(middle) == here else (low, middle)


def _with(expression: x.Expression, spans: Mapping[str, list[x.Expression]]) -> x.Expression:
    """An expression in which spans are on as well where these say so."""
    match expression:
        case x.SpanOn(name) if name in spans:
            return x.Some((expression, *spans[name]))
        case x.Every(operands) | x.Some(operands):
            return type(expression)(tuple(_with(one, spans) for one in operands))
        case x.Inverse(operand):
            return x.Inverse(_with(operand, spans))
    return expression
