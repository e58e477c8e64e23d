"""What can happen in a few states, whatever came before: a search that follows only the memories these read.

Every other state may stay as long as it likes, with whatever values, and come to these on any tick on which the values let
some transition lead there.  That allows more than can happen, so what this search does not find is impossible.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import CompiledTransition, LayerTable, Machine
from leanstep.core.proof.reduce.slices import Slice, acts_of
from leanstep.core.proof.search.reach import Reach, once
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.search.tabled import TabledSearch
from leanstep.core.proof.search.tables import Tables
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.work import Work


@once
def alone(reach: Reach, most: int, layer: int, *states: int) -> Reach | None:
    """The search of a few states of a slice of one layer; None when it would come to more situations
    than ``most``, or would leave out what other states do."""
    world = _world(reach, layer, states)
    found = None if world is None else explore(world, Work(most))
    return found if found is not None and found.complete else None


@once
def _questions(reach: Reach, layer: int, *states: int) -> TabledSearch | None:
    """What is asked of a few states by themselves, one question after the other."""
    world = _world(reach, layer, states)
    tables = None if world is None else Tables.of(world)
    return None if tables is None else TabledSearch(tables)


def rules_out(reach: Reach, most: int, until: Callable[[FreeWorld, View], bool], layer: int, *states: int) -> bool:
    """Whether a search of a few states by themselves shows that no view of some kind is come to."""
    search = _questions(reach, layer, *states)
    return search is not None and search.run(Work(most), partial(until, search.tables.world)).complete


def _world(reach: Reach, layer: int, states: tuple[int, ...]) -> FreeWorld | None:
    """The world of a few states by themselves; None where it would leave out what other states do."""
    part = reach.world.slice
    if (
        part.layers != {layer}
        or not apart(part, reach.world.clocked)
        or len(part.machine.layers[layer].states) <= len(states)
    ):
        return None
    few = Slice(_alone(reach, layer, states), part.layers)
    return FreeWorld(few, paced=False, aged=frozenset(reach.world.aged))


def apart(part: Slice, clocked: bool = True) -> bool:
    """Whether states of a slice leave nothing behind but what memories remember of the values from outside, and ages where these are
    not ``clocked`` but open."""
    machine = part.machine
    ways = [way for layer in part.layers for row in machine.layers[layer].ways for way in row]
    return (
        not any(way.keep_phase or way.blocks or (way.uses and clocked) for way in ways)
        and not any(True for layer in part.layers for _ in acts_of(machine, layer))
        and not any(window.hold >= 0 or window.lock for reel in part.reels for window in reel.windows)
        and not (machine.clocks and clocked)
        and all(plain(machine, index) for index in part.memories)
    )


def plain(machine: Machine, memory: int) -> bool:
    """Whether a memory remembers nothing but values from outside that stay as they are while nothing changes: pulses are off then."""
    operand = machine.memories[memory].operand
    symbols = (machine.symbols[symbol] for symbol in x.symbols_in(operand))
    return all(symbol.free and not symbol.countdown for symbol in symbols) and not any(
        isinstance(part, x.TIMED | x.Remembered) for part in x.parts(operand)
    )


def _alone(reach: Reach, layer: int, states: tuple[int, ...]) -> Machine:
    """The machine in which nothing leads from other states but to some."""
    machine = reach.machine
    table = machine.layers[layer]
    other = next(at for at in (table.start, *range(len(table.states))) if at not in states)
    known = {other, *(way.target for state in states for way in table.ways[state])}
    come = x.IsOn(len(machine.symbols))
    into = dict[tuple[int, x.Expression], None]()
    for source, row in enumerate(table.ways):
        for way in row if source not in states else ():
            if way.target in states and way.condition is not None and (layer, way.index) in reach.fired:
                into[way.target, loosened(machine, way.condition)] = None
    back = tuple(
        CompiledTransition(table.count + at, to, x.Every((come, when)), False) for at, (to, when) in enumerate(into)
    )
    rows = [table.ways[at] if at in states else back if at in known else () for at in range(len(table.states))]
    none = frozenset[int]()
    start = table.start if table.start in states else other
    few: LayerTable = replace(
        table, ways=tuple(rows), start=start, count=table.count + len(back), endings=none, restful=none, locks=none
    )
    pictures = tuple(row if at in states else None for at, row in enumerate(machine.pictures[layer]))
    return replace(
        machine,
        symbols=(*machine.symbols, x.Symbol("come", "pulse", "game")),
        layers=(*machine.layers[:layer], few, *machine.layers[layer + 1 :]),
        pictures=(*machine.pictures[:layer], pictures, *machine.pictures[layer + 1 :]),
    )


def loosened(machine: Machine, condition: x.Expression, holds: bool = True) -> x.Expression:
    """What has to be so of the values on a tick for a condition to hold, or not to hold, whatever else is the case."""
    match condition:
        case x.Every(operands) | x.Some(operands):
            parts = tuple(loosened(machine, operand, holds) for operand in operands)
            return x.Every(parts) if isinstance(condition, x.Every) is holds else x.Some(parts)
        case x.Inverse(operand):
            return loosened(machine, operand, not holds)
        case x.Remembered(index) if machine.memories[index].strict is holds:
            return loosened(machine, machine.memories[index].operand, holds)
    if isinstance(condition, x.Remembered | x.TIMED):
        return x.Constant(True)
    return condition if holds else x.Inverse(condition)
