"""Values out of sets of them: one for each symbol, as the assumptions allow it, so that as little as possible changes."""

from __future__ import annotations

from collections.abc import Iterable

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.values.predicates import Masks

Rows = list[list[Symbolic]]
"""The values of every symbol, tick by tick."""


def _counting(world: FreeWorld, index: int, mask: int, wanted: Symbolic) -> Symbolic:
    """What a countdown is to be: what it comes to by itself, else as much as it can be, so that it lasts."""
    if world.regions.bit_of(index, wanted) & mask:
        return wanted
    return world.spans[index][mask.bit_length() - 1].high


def chosen(world: FreeWorld, masks: Masks, before: list[Symbolic]) -> list[Symbolic]:
    """One value per symbol out of ``masks`` that the assumptions allow: what it was before (pulses: off) where it can be,
    else the rest value, else the first region."""
    symbols = world.machine.symbols
    wanted = [False if symbol.momentary else value for symbol, value in zip(symbols, before)]
    for index in world.machine.countdowns:
        wanted[index] = max(float(before[index]) - 1.0, 0.0)
    allowed = masks
    if world.linked:
        near = [world.regions.bit_of(index, value) for index, value in enumerate(wanted)] + [0] * (
            len(masks) - len(symbols)
        )
        allowed = world.completed(masks, tuple(near)) or masks
    values: list[Symbolic] = list(before)
    for index in world.machine.free:
        options = world.options(index, allowed[index])
        if symbols[index].countdown:
            values[index] = _counting(world, index, allowed[index], wanted[index])
        elif wanted[index] in options:
            values[index] = wanted[index]
        else:
            values[index] = symbols[index].rest if symbols[index].rest in options else options[0]
    return world.together.values(allowed, values)


def values_along(world: FreeWorld, path: Iterable[Masks]) -> Rows:
    """Values for every tick, so that as little as possible changes."""
    before: list[Symbolic] = [symbol.first for symbol in world.machine.symbols]
    rows: Rows = []
    known: dict[tuple[Masks, tuple[Symbolic, ...]], list[Symbolic]] = {}
    for masks in path:
        key = (masks, tuple(before))
        if key not in known:
            known[key] = chosen(world, masks, before)
        before = known[key]
        rows.append(list(before))
    return rows


def permitted(world: FreeWorld, row: dict[int, Symbolic]) -> bool:
    """Whether the assumptions allow these values on one tick."""
    if not world.assumptions:
        return True
    key = tuple(row[index] for index in world.machine.free)
    known = world.kept.permitted.get(key)
    if known is None:
        known = world.kept.permitted[key] = _permitted_row(world, row)
    return known


def _permitted_row(world: FreeWorld, row: dict[int, Symbolic]) -> bool:
    masks = [
        world.regions.bit_of(index, row[index]) if symbol.free else world.full[index]
        for index, symbol in enumerate(world.machine.symbols)
    ]
    masks += world.full[len(world.machine.symbols) :]
    for symbol, mask in world.together.outcomes([row[index] for index in range(len(world.machine.symbols))]).items():
        masks[symbol] = mask
    return world.allowed(tuple(masks)) is not False
