"""What follows from a complete search: closed sets, traps, and transitions that never get their turn."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import chain
from typing import Any

import networkx as nx
import numpy as np
from numpy.typing import NDArray

from leanstep.core.graph.machine import LayerTable
from leanstep.core.proof.search.reach import Reach, first_places, once, once_for_all
from leanstep.core.proof.states.free_world import FreeWorld, Halt, Tried
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks, Split

Numbers = NDArray[Any]


@dataclass(frozen=True)
class Idle:
    """A transition that is never taken.  ``kind``: ``never`` true, ``untried``, or ``shadowed`` by what comes before it.

    For a shadowed one, its condition holds in ``place`` with the values ``masks``.
    """

    layer: int
    transition: int
    kind: str
    place: int = -1
    masks: Masks = ()


def reachable_states(reach: Reach, layer: int) -> set[int]:
    """The states of a layer that can be entered."""
    return {state for at, state in reach.entered if at == layer}


def closed_sets(reach: Reach, layer: int) -> list[frozenset[int]]:
    """The dead ends of a layer."""
    return dead_ends(reach.machine.layers[layer], reachable_states(reach, layer), reach.edges[layer])


def dead_ends(table: LayerTable, states: set[int], edges: set[tuple[int, int]]) -> list[frozenset[int]]:
    """Bottom components of the graph of the states that are reachable, without an ending, smaller than what is reachable; or
    the start alone when there are other states but none can be reached."""
    graph = nx.DiGraph()
    graph.add_nodes_from(sorted(states))
    graph.add_edges_from(sorted(edge for edge in edges if states.issuperset(edge)))
    found = []
    for component in nx.strongly_connected_components(graph):
        leaves = any(target not in component for state in component for target in graph.successors(state))
        whole = len(component) == len(states)
        alone = len(states) == 1 and len(table.states) > 1
        if not leaves and (not whole or alone) and not component & table.endings:
            found.append(frozenset(component))
    return sorted(found, key=sorted)


def traps(reach: Reach, layer: int) -> dict[int, int]:
    """States with a reachable situation that can never leave them, each with the first such place.

    Left out: declared endings, states that are a dead end by themselves, and a layer's only state.
    """
    table = reach.machine.layers[layer]
    if len(table.states) == 1:
        return {}
    alone = {next(iter(closed)) for closed in closed_sets(reach, layer) if len(closed) == 1}
    first = first_caught(reach, layer)
    return {state: place for state, place in first.items() if state not in table.endings and state not in alone}


@once_for_all
def first_caught(reach: Reach, layer: int) -> dict[int, int]:
    """States with a place from which nothing leaves them, each with the nearest."""
    states = np.array([place.core.key.states[layer] for place in reach.places])
    source, target = edges_of(reach)
    escapes = np.zeros(len(states), dtype=bool)
    escapes[source[states[source] != states[target]]] = True
    inside = states[source] == states[target]
    can_come_to(escapes, source[inside], target[inside])
    found: dict[int, int] = {}
    for place in sorted(np.flatnonzero(~escapes).tolist(), key=lambda place: (reach.depths[place], place)):
        found.setdefault(int(states[place]), place)
    return found


@once_for_all
def edges_of(reach: Reach) -> tuple[Numbers, Numbers]:
    """The edges between places, as two arrays of place numbers."""
    lengths = [len(row) for row in reach.successors]
    source = np.repeat(np.arange(len(lengths)), lengths)
    return source, np.array(list(chain.from_iterable(reach.successors)), dtype=np.int64)


def can_come_to(marked: Numbers, source: Numbers, target: Numbers) -> None:
    """Mark every place from which a marked one can be reached along the edges."""
    # it takes its time to load, and not every check needs it
    from scipy.sparse import csr_matrix
    from scipy.sparse.csgraph import breadth_first_order

    count, begins = len(marked), np.flatnonzero(marked)
    # backwards, from one more place that leads to all that are marked
    edges = np.concatenate([target, np.full(len(begins), count)]), np.concatenate([source, begins])
    graph = csr_matrix((np.ones(len(edges[0])), edges), shape=(count + 1, count + 1))
    found = breadth_first_order(graph, count, return_predecessors=False)
    marked[found[found < count]] = True


def idle_transitions(reach: Reach, layers: tuple[int, ...]) -> list[Idle]:
    """Transitions that can never be taken, and whether their condition is ever true when they are tried."""
    found = []
    views = first_places(reach)
    for at in layers:
        layer = reach.machine.layers[at]
        tried: dict[int, list[tuple[View, int]]] = {}
        for view in views:
            if view.frozen or view.blocked[at]:
                continue
            for position, way in enumerate(layer.ways[view.states[at]]):
                if (at, way.index) not in reach.fired:
                    tried.setdefault(way.index, []).append((view, position))
        for index in range(layer.count):
            if (at, index) in reach.fired:
                continue
            if index not in tried:
                found.append(Idle(at, index, "untried"))
                continue
            able = ((view, can_hold(reach.world, view, at, position)) for view, position in tried[index])
            shown = next(((view, masks) for view, masks in able if masks is not None), None)
            if shown is None:
                found.append(Idle(at, index, "never"))
            else:
                found.append(Idle(at, index, "shadowed", views[shown[0]], shown[1]))
    return found


def can_hold(world: FreeWorld, view: View, layer: int, position: int, trusting: bool = True) -> Masks | None:
    """Values with which the way at ``position`` would be true in a view, whatever comes before it in its layer; where what is open
    is not to be trusted (``trusting``), those that trust in least of it.  None when there are none."""
    judge = world.conditions[layer][view.states[layer]][position]
    shown: list[Masks] = []

    def answer(masks: Masks, then: Tried | Halt | None) -> Split | bool:
        step = world.evaluate(view, masks, then, until=layer)
        if isinstance(step, Split):
            return step
        setting = step.setting
        true = judge(setting) if judge is not None else False
        if true is None:
            return Split(setting.symbol, setting.part, step)
        allowed = world.completed(masks) if true else None
        if allowed is not None:
            shown.append(allowed)
        return allowed is not None

    world.divide(world.open_masks(view), answer, None if trusting else world.trust)
    return shown[0] if shown else None


def where_true(layer: int, index: int, world: FreeWorld, view: View) -> Masks | None:
    """Values with which a transition would be true in a view, whatever comes before it."""
    positions = [
        at for at, way in enumerate(world.machine.layers[layer].ways[view.states[layer]]) if way.index == index
    ]
    if not positions or view.frozen or view.blocked[layer]:
        return None
    some = can_hold(world, view, layer, positions[0])
    if some is None or not world.trust(some):
        return some
    return can_hold(world, view, layer, positions[0], trusting=False)


def shadowing(reach: Reach, idle: Idle) -> list[int]:
    """Indices of the transitions that are taken instead where a shadowed one's condition can hold, in order."""
    found: set[int] = set()
    for state, position in _offered(reach, idle.layer).get(idle.transition, ()):
        taken = _taken(reach, idle.layer, state)
        found |= {way for before, way in taken[: bisect_left(taken, (position, -1))]}
    return sorted(found)


@once
def _offered(reach: Reach, layer: int) -> dict[int, list[tuple[int, int]]]:
    """By transition the states that can be shown and offer it, each with its place among that state's ways."""
    found: dict[int, list[tuple[int, int]]] = {}
    for state in {view.states[layer] for view in first_places(reach)}:
        for position, way in enumerate(reach.machine.layers[layer].ways[state]):
            found.setdefault(way.index, []).append((state, position))
    return found


@once
def _taken(reach: Reach, layer: int, state: int) -> list[tuple[int, int]]:
    """Places among a state's ways, in order, and transitions, of those that are ever taken."""
    ways = enumerate(reach.machine.layers[layer].ways[state])
    return [(position, way.index) for position, way in ways if (layer, way.index) in reach.fired]


def names(reach: Reach, layer: int, states: Iterable[int]) -> list[str]:
    """Names of states, sorted."""
    return sorted(reach.machine.layers[layer].states[state] for state in states)
