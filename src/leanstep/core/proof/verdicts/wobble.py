"""Pictures that flicker although only one value wobbles a little."""

from __future__ import annotations

import itertools
from collections.abc import Container, Sequence
from dataclasses import dataclass
from fractions import Fraction
from operator import and_

import networkx as nx

from leanstep.core.conditions.expression import NUMERIC
from leanstep.core.proof.reduce.slices import read_by
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.cache import Stay
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Outcome, Place
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.values.regions import Span, further_round
from leanstep.core.proof.verdicts.flicker import entered_places, quick_edges
from leanstep.core.proof.verdicts.short_stays import stays_of
from leanstep.core.work import DEFAULT, Work

MOST_CHAINS = 20_000
"""Chains of stays that are followed to see whether a pair flickers with nothing moving at all."""

_Node = tuple[Place, int]
_Link = tuple[_Node, Outcome]


@dataclass(frozen=True)
class Wobble:
    """States of a layer that give way to each other for ever while ``symbol`` moves inside the regions ``window``.

    Reached at ``place``; the values of ``laps``, one a tick, lead round once.
    """

    layer: int
    states: frozenset[int]
    symbol: int
    window: int
    place: int
    laps: tuple[Masks, ...]
    ticks: int


@dataclass
class Wobbles:
    """What was found; ``complete`` is False when the work was cut short."""

    found: list[Wobble]
    complete: bool = True


def wobbles(reach: Reach, layers: tuple[int, ...], limits: Work = DEFAULT, most: int | None = None) -> Wobbles:
    """Every pair of states that wobbles, but for those that flicker with nothing changing at all; ``most`` places are looked
    at, or as many as the limits say."""
    world = reach.world
    hunt = _WobbleSearch(world, reach.machine.window, limits.effort.wobbled if most is None else most)
    best: dict[tuple[int, frozenset[int], int], Wobble] = {}
    # a number that is compared with others would carry their comparisons along: those wobbles are not looked for
    alone = [symbol for symbol in reach.machine.free if symbol not in world.together.symbols]
    moves = [(symbol, window) for symbol in alone for window in windows_of(world, symbol)]
    for layer in layers:
        edges = quick_edges(reach, layer, not world.history)
        pairs = {frozenset(edge) for edge in edges if edge[0] != edge[1] and (edge[1], edge[0]) in edges}
        steady = dict[frozenset[int], bool]()
        starts = sorted(entered_places(reach, layer), key=lambda number: (reach.depths[number], number))
        for pair in sorted(pairs, key=sorted):
            read = _read_between(reach, layer, min(pair), max(pair)) | _read_between(reach, layer, max(pair), min(pair))
            there, back = edges[min(pair), max(pair)], edges[max(pair), min(pair)]
            for symbol, window in moves:
                if (
                    symbol not in read
                    or steady.get(pair)
                    or not _may_alternate(there, back, world.past, symbol, window)
                ):
                    continue
                for done, start in enumerate(starts):
                    if done % 64 == 0:
                        limits.at(len(reach.places))
                    if hunt.left <= 0:
                        break
                    place = reach.places[start]
                    if place.states[layer] != min(pair):
                        continue
                    known = best.get((layer, pair, symbol))
                    if steady.get(pair):
                        break
                    if known is not None and known.ticks <= reach.depths[start] + 2:
                        continue
                    laps = hunt.laps(layer, place, pair, symbol, window)
                    if laps is not None and pair not in steady:
                        steady[pair] = _steady(reach, layer, pair)
                    if laps is not None and not steady[pair]:
                        ticks = reach.depths[start] + len(laps)
                        if known is None or ticks < known.ticks:
                            best[layer, pair, symbol] = Wobble(layer, pair, symbol, window, start, laps, ticks)
    found = [best[key] for key in sorted(best, key=lambda key: (key[0], sorted(key[1]), key[2]))]
    return Wobbles(found, hunt.left > 0)


def _steady(reach: Reach, layer: int, pair: frozenset[int]) -> bool:
    """Whether two states give way to each other for ever with nothing changing at all."""
    stays, follows, left = stays_of(reach, layer), dict[Place, list[Stay]](), MOST_CHAINS
    for start in entered_places(reach, layer):
        first = reach.places[start]
        waiting = (
            [(first, reach.world.lasting(reach.world.full), frozenset({first}))]
            if first.states[layer] == min(pair)
            else []
        )
        while waiting and left > 0:
            place, box, passed = waiting.pop()
            left -= 1
            if place not in follows:
                follows[place] = [stay for stay in stays.of(place) if stay.way.target in pair]
            for stay in follows[place]:
                both = tuple(map(and_, box, stay.box))
                if not all(both) or reach.world.completed(both) is None:
                    continue
                if stay.after == first and {one.states[layer] for one in passed} == pair:
                    return True
                if stay.after not in passed:
                    waiting.append((stay.after, both, passed | {stay.after}))
    return False


def _may_alternate(there: list[Masks], back: list[Masks], past: Container[int], symbol: int, window: int) -> bool:
    """Whether some values lead there and some back that differ in nothing but a symbol inside the window, and in what stands
    for the ``past``."""
    return any(
        one[symbol] & window
        and other[symbol] & window
        and all(a & b for at, (a, b) in enumerate(zip(one, other)) if at != symbol and at not in past)
        for one in there
        for other in back
    )


def _read_between(reach: Reach, layer: int, state: int, target: int) -> set[int]:
    """The symbols that decide whether a state gives way to another: those of its ways there and of what is tried before
    them, and those of the other layers, whose states and effects it may feel; memories included."""
    machine = reach.machine
    ways = machine.layers[layer].ways[state]
    last = max((position for position, way in enumerate(ways) if way.target == target), default=-1)
    others = [way for at in reach.world.layers if at != layer for row in machine.layers[at].ways for way in row]
    return read_by(machine, [*ways[: last + 1], *others])


def windows_of(world: FreeWorld, symbol: int) -> list[int]:
    """The sets of a symbol's regions an interval as wide as its wobble can meet: those with more than one region, of which
    none is part of another."""
    one = world.machine.symbols[symbol]
    if one.kind == "flag":
        return [0b11] if one.wobble else []
    if one.kind not in NUMERIC or one.wobble <= 0:
        return []
    spans = world.spans[symbol]
    if one.kind == "bearing":
        return _arcs(spans, one.wobble)
    # what changes only so fast gets from any end of a window to any other in a tick if it is no wider
    width = min(one.wobble, float(one.step)) if symbol in world.paced else one.wobble
    found: list[tuple[int, int]] = []
    for first in range(len(spans)):
        last = first
        while last + 1 < len(spans) and _fits(spans[first], spans[last + 1], width):
            last += 1
        if last > first and (not found or last > found[-1][1]):
            found.append((first, last))
    return [sum(1 << at for at in range(first, last + 1)) for first, last in found]


def _arcs(spans: Sequence[Span], width: float) -> list[int]:
    """The sets of a bearing's regions an arc can meet."""
    count = len(spans)
    unrolled = [*spans, *map(further_round, spans)]
    found: dict[int, None] = {}
    for first in range(count):
        last = first
        while last + 1 < first + count and _fits(unrolled[first], unrolled[last + 1], width):
            last += 1
        if last > first:
            found[sum(1 << at % count for at in range(first, last + 1))] = None
    return [one for one in found if not any(one != other and one & other == one for other in found)]


def _fits(first: Span, last: Span, width: float) -> bool:
    """Whether some value of one region and some value of a later one are no farther apart than ``width``."""
    return Fraction(last.least) - Fraction(first.most) <= width


@dataclass
class _WobbleSearch:
    """Looks for closed walks; ``left`` places may still be looked at."""

    world: FreeWorld
    window: int
    left: int

    def laps(
        self, layer: int, start: Place, pair: frozenset[int], symbol: int, window: int
    ) -> tuple[Masks, ...] | None:
        """The values, tick by tick, that lead from a place round to itself through the other state of ``pair``."""
        masks = list(self.world.lasting(self.world.steady_masks(start)))
        masks[symbol] = window
        stack: list[Masks] = [tuple(masks)]
        while stack and self.left > 0:
            current = stack.pop()
            if self.world.allowed(current) is False:
                continue
            walked = self._walk(layer, start, pair, symbol, current)
            if isinstance(walked, Split):
                stack.extend(walked.of(current))
            elif walked is not None:
                return walked
        return None

    def _walk(
        self, layer: int, start: Place, pair: frozenset[int], symbol: int, masks: Masks
    ) -> tuple[Masks, ...] | Split | None:
        first: _Node = (start, 0)
        links: dict[_Node, list[_Link]] = {}
        waiting = [first]
        while waiting and self.left > 0:
            node = waiting.pop()
            if node in links:
                continue
            self.left -= 1
            made = self._links(layer, node, pair, symbol, masks)
            if isinstance(made, Split):
                return made
            links[node] = made
            waiting += [after for after, _ in made]
        graph = nx.DiGraph()
        graph.add_edges_from((node, after) for node, row in links.items() for after, _ in row)
        if first not in graph:
            return None
        back = [node for node, row in links.items() if any(after == first for after, _ in row)]
        ways = nx.single_source_shortest_path(graph, first)
        shortest = min((ways[node] for node in back if node in ways), key=len, default=None)
        if shortest is None:
            return None
        walk = itertools.pairwise([*shortest, first])
        return tuple(next(outcome.masks for after, outcome in links[node] if after == then) for node, then in walk)

    def _links(self, layer: int, node: _Node, pair: frozenset[int], symbol: int, masks: Masks) -> list[_Link] | Split:
        """What can follow on a tick on which only ``symbol`` is open, and what memories say that look at it."""
        place, stay = node
        moved = self.world.move(place)
        found: list[_Link] = []
        opened, loose = self.world.open_masks(moved.view), [symbol]
        begin = (*masks[:symbol], opened[symbol] & masks[symbol], *masks[symbol + 1 :])
        if self.world.asked:
            loose += self.world.moved_by(symbol, place.states, masks)
            begin = tuple([opened[at] if at in loose[1:] else mask for at, mask in enumerate(begin)])
        stack = [begin]
        while stack:
            current = stack.pop()
            outcome = self.world.tick(moved.view, current)
            allowed = self.world.assumed(current) if isinstance(outcome, Outcome) else outcome
            if isinstance(allowed, Split):
                if allowed.symbol not in loose:
                    return allowed
                stack.extend(allowed.of(current))
                continue
            if isinstance(outcome, Split) or not allowed or stay + 1 >= self.window:
                continue
            state = place.states[layer]
            after = self.world.after(place, moved, outcome)
            fired = outcome.fired[layer] >= 0
            if not fired or (after.states[layer] != state and after.states[layer] in pair):
                found.append(((after, 0 if fired else stay + 1), outcome))
        return found
