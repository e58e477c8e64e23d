"""What can happen in a few states, whatever came before: a search that follows only the memories these read.

Every other state may stay as long as it likes, with whatever values, and come to these on any tick.  That allows more than can
happen, so what this search does not find is impossible.
"""

from __future__ import annotations

from dataclasses import replace

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import LayerTable, Machine, Way
from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.search import Limits, Reach, explore, once
from leanstep.core.proof.slices import Slice, acts_of

MOST = 20_000
"""Situations that are visited for a few states."""


@once
def alone(reach: Reach, layer: int, *states: int) -> Reach | None:
    """The search of a few states of a slice of one layer; None when it would not be complete, or would leave out what other
    states do."""
    part = reach.world.slice
    if part.layers != {layer} or not apart(part) or len(part.machine.layers[layer].states) <= len(states):
        return None
    found = explore(FreeWorld(Slice(_alone(part.machine, layer, states), part.layers), paced=False), Limits(MOST))
    return found if found.complete else None


def apart(part: Slice) -> bool:
    """Whether states of a slice leave nothing behind but what memories remember of the values from outside."""
    machine = part.machine
    ways = [way for layer in part.layers for row in machine.layers[layer].ways for way in row]
    return (
        not any(way.keep_phase or way.blocks or way.uses for way in ways)
        and not any(True for layer in part.layers for _ in acts_of(machine, layer))
        and not any(window.hold >= 0 or window.lock for reel in part.reels for window in reel.windows)
        and not machine.clocks
        and all(plain(machine, index) for index in part.memories)
    )


def plain(machine: Machine, memory: int) -> bool:
    """Whether a memory remembers nothing but values from outside that stay as long as they are kept."""
    operand = machine.memories[memory].operand
    symbols = (machine.symbols[symbol] for symbol in x.symbols_in(operand))
    return all(symbol.free and not symbol.momentary for symbol in symbols) and not any(
        isinstance(part, x.TIMED | x.Remembered) for part in x.parts(operand)
    )


def _alone(machine: Machine, layer: int, states: tuple[int, ...]) -> Machine:
    """The machine in which nothing leads from other states but to some."""
    table = machine.layers[layer]
    other = next(at for at in (table.start, *range(len(table.states))) if at not in states)
    known = {other, *(way.target for state in states for way in table.ways[state])}
    symbols = range(len(machine.symbols), len(machine.symbols) + len(states))
    come = tuple(x.Symbol(f"come to {table.states[state]}", "pulse", "game") for state in states)
    back = tuple(Way(table.count, state, x.IsOn(index), False) for index, state in zip(symbols, states))
    rows = [table.ways[at] if at in states else back if at in known else () for at in range(len(table.states))]
    none = frozenset[int]()
    start = table.start if table.start in states else other
    alone: LayerTable = replace(
        table, ways=tuple(rows), start=start, count=table.count + 1, endings=none, restful=none, locks=none
    )
    pictures = tuple(row if at in states else None for at, row in enumerate(machine.pictures[layer]))
    return replace(
        machine,
        symbols=(*machine.symbols, *come),
        layers=(*machine.layers[:layer], alone, *machine.layers[layer + 1 :]),
        pictures=(*machine.pictures[:layer], pictures, *machine.pictures[layer + 1 :]),
    )
