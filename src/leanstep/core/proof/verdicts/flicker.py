"""Pictures that flicker although nothing changes.

In a constant run nothing is left to choose, so it ends in a cycle of places.  A cycle that flickers is a closed chain of
short stays whose boxes have values in common.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import networkx as nx
import numpy as np

from leanstep.core.proof.search.reach import Reach, once, ways_in
from leanstep.core.proof.states.cache import Stay
from leanstep.core.proof.states.free_world import FreeWorld, Halt, Tried
from leanstep.core.proof.states.places import Place, View
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.verdicts.chains import FAR, Links, Path, words
from leanstep.core.proof.verdicts.short_stays import stays_of
from leanstep.core.work import DEFAULT, Work

MOST = 30_000_000
"""Short stays that are followed for one layer."""

MOST_EACH = 5_000_000
"""Short stays that are followed for one state, once chains of any length are looked for."""


@dataclass(frozen=True)
class Flicker:
    """A cycle of ``states`` (one: it restarts itself) of a layer, every stay shorter than the flicker window.

    Reached at ``place``; from there values of ``masks`` kept for ``lap`` ticks lead round once.  ``ticks`` are those of the
    way there and once round.
    """

    layer: int
    states: frozenset[int]
    place: int
    lap: int
    masks: Masks
    ticks: int


@dataclass
class Flickers:
    """What was found; ``complete`` is False when the work was cut short."""

    found: list[Flicker]
    complete: bool = True


def flickers(reach: Reach, layers: tuple[int, ...], limits: Work = DEFAULT) -> Flickers:
    """Flickers of ``layers`` that between them show every state that can flicker, each in the fewest ticks any flicker
    through one of its states needs.  One whose states others show already, sooner, is left out; states that restart
    themselves are listed on their own."""

    listed: list[Flicker] = []
    complete = reach.complete
    for layer in layers:
        hunt = _CycleSearch(reach, layer)
        found = list(hunt.run(limits))
        for alone in (True, False):
            shown: set[int] = set()
            some = [one for one in found if (len(one.states) == 1) == alone]
            for one in sorted(some, key=lambda one: (one.ticks, sorted(one.states))):
                if not one.states <= shown:
                    listed.append(one)
                    shown |= one.states
        complete = complete and hunt.left > 0 and not hunt.given_up
    return Flickers(sorted(listed, key=lambda one: (one.layer, one.ticks, sorted(one.states))), complete)


def entered_places(reach: Reach, layer: int) -> list[int]:
    """Places in which the layer's state has just been entered, in order."""
    return sorted({0, *(after for _, _, after in ways_in(reach, layer))})


def suspected(reach: Reach, layer: int) -> set[int]:
    """States on a cycle of transitions that can be taken after a short stay without any pulse or edge."""
    graph = nx.DiGraph()
    graph.add_edges_from(sorted(quick_edges(reach, layer)))
    return {
        state
        for component in nx.strongly_connected_components(graph)
        for state in component
        if len(component) > 1 or graph.has_edge(state, state)
    }


def quick_edges(reach: Reach, layer: int, settled: bool = True) -> dict[tuple[int, int], list[Masks]]:
    """The pairs of states between which a transition can be taken after a short stay without any pulse or edge, with the
    values that do it."""
    found: dict[tuple[int, int], list[Masks]] = {}
    for (source, target, _), boxes in quick_ways(reach, layer, settled).items():
        found.setdefault((source, target), []).extend(boxes)
    return found


@once
def quick_ways(reach: Reach, layer: int, settled: bool) -> dict[tuple[int, int, bool], list[Masks]]:
    """Source, target and urgency of what can be taken after a short stay without any pulse or edge, with the values that
    do it; when an untracked past has ``settled``, or whatever it says."""
    found: dict[tuple[int, int, bool], list[Masks]] = {}
    done: set[View] = set()
    window = max(reach.machine.window, 1)
    for number, view in enumerate(reach.views):
        if view in done or reach.places[number].stays[layer] + 1 >= window:
            continue
        done.add(view)
        ways = reach.machine.layers[layer].ways[view.states[layer]]
        for position, boxes in _calm_fires(reach.world, view, layer, settled).items():
            way = ways[position]
            found.setdefault((view.states[layer], way.target, way.urgent), []).extend(boxes)
    return found


def _calm_fires(world: FreeWorld, view: View, layer: int, settled: bool) -> dict[int, list[Masks]]:
    """What can fire in a view's layer without any pulse or edge, and the values that do it."""
    if settled and (view, layer) in world.kept.fires:
        return world.kept.fires[view, layer]
    found: dict[int, list[Masks]] = {}

    def answer(masks: Masks, then: Tried | Halt | None) -> Split | bool:
        step = world.evaluate(view, masks, then)
        if isinstance(step, Split):
            return step
        if step.fired[layer] >= 0 and world.completed(masks) is not None:
            found.setdefault(step.fired[layer], []).append(masks)
        return False

    calm = world.calm_masks(view)
    world.divide(calm if settled else world.opened_past(calm), answer)
    if settled:
        world.kept.fires[view, layer] = found
    return found


@dataclass(frozen=True, slots=True)
class _Chain:
    """A closed chain: the places it passes, its ticks, the fewest ticks to any of its places, and values that keep it up."""

    places: tuple[Place, ...]
    ticks: int
    depth: int
    masks: Masks

    @property
    def total(self) -> int:
        """The ticks of the way there and once round."""
        return self.depth + self.ticks


class _Best:
    """By state the chain that shows it in the fewest ticks, and these ticks."""

    def __init__(self, states: int) -> None:
        self.chains: dict[int, _Chain] = {}
        self.totals = np.full(states, FAR)

    def note(self, chain: _Chain, states: set[int]) -> None:
        """Keep a chain for those of these states that it shows sooner."""
        for state in states:
            if chain.total < self.totals[state]:
                self.chains[state], self.totals[state] = chain, chain.total


@dataclass
class _CycleSearch:
    """Looks for closed chains of short stays in one layer; ``left`` stays may still be followed.

    A run with constant values passes the same places over and over, so every closed chain is found from the one of its
    places that comes first in some order, among those that come later.  Short ones are looked for so; long ones are of use
    only to states that no short one shows as soon, and are looked for from each of those.
    """

    reach: Reach
    layer: int
    left: int = MOST
    given_up: bool = False

    def __post_init__(self) -> None:
        states = len(self.reach.machine.layers[self.layer].states)
        self.best = {mixed: _Best(states) for mixed in (False, True)}

    def run(self, limits: Work) -> list[Flicker]:
        """For every state the flicker of it alone, and that of it with others, shown in the fewest ticks."""
        stays = self._short()
        if not stays:
            return []
        window = self.reach.machine.window
        self._lay_out(stays)
        for limit in (window, 2 * window):
            self._close_short(limit, limits)
        self._close_long(2 * window, limits)
        # many states may be shown by one chain
        chains = {id(chain): chain for best in self.best.values() for _, chain in sorted(best.chains.items())}
        return [self._flicker(chain) for chain in chains.values()]

    def _short(self) -> dict[Place, list[Stay]]:
        """The short stays between states that may be part of a flicker, by the places just entered in which they begin, those
        with most of them first."""
        suspects, stays = suspected(self.reach, self.layer), stays_of(self.reach, self.layer)
        found: dict[Place, list[Stay]] = {}
        for number in entered_places(self.reach, self.layer):
            place = self.reach.places[number]
            if place.states[self.layer] in suspects:
                short = [stay for stay in stays.of(place) if stay.way.target in suspects]
                boxes = [self.reach.world.lasting(stay.box) for stay in short]
                found[place] = [stay.of(box) for stay, box in zip(short, boxes) if all(box)]
        some = {place: row for place, row in found.items() if row}
        return dict(sorted(some.items(), key=lambda one: (-len(one[1]), self.reach.numbers[one[0]])))

    def _lay_out(self, stays: dict[Place, list[Stay]]) -> None:
        """Stays as arrays."""
        places = list(stays)
        numbers = {place: number for number, place in enumerate(places)}
        self.stays = [stay for place in places for stay in stays[place]]
        boxes, symbols = words([stay.box for stay in self.stays])
        self.links = Links(
            np.cumsum([0, *(len(stays[place]) for place in places)]),
            np.array([numbers.get(stay.after, -1) for stay in self.stays]),
            np.array([stay.ticks for stay in self.stays]),
            np.array([self._depth(stay.on_the_way) for stay in self.stays]),
            np.array([stay.way.target for stay in self.stays]),
            boxes,
            symbols,
        )
        self.state = np.array([place.states[self.layer] for place in places])
        self.again = set(itertools.product(range(len(places)), (False, True)))

    def _depth(self, places: tuple[Place, ...]) -> int:
        """The fewest ticks to any of these places."""
        return min(self.reach.depths[self.reach.numbers[place]] for place in places if place in self.reach.numbers)

    def _close_short(self, limit: int, limits: Work) -> None:
        """Look for chains of at most ``limit`` ticks from every place from which there may be new ones.  What is left in
        ``again`` are those from which longer ones may be of use."""
        asked, self.again = sorted(self.again), set()
        for first, mixed in asked:
            if self._stopped(limits):
                break
            known = self.best[mixed].totals
            cut, self.left = self._close(first, np.arange(len(self.state)) >= first, mixed, limit, known, self.left)
            if cut:
                self.again.add((first, mixed))

    def _close_long(self, looked: int, limits: Work) -> None:
        """Look for chains of more than the ``looked`` ticks through each state they may show sooner, from its places in
        turn."""
        soonest = looked + 1 + int(self.links.depth.min())
        kinds = sorted({mixed for _, mixed in self.again})
        states = len(self.reach.machine.layers[self.layer].states)
        for state, mixed in itertools.product(np.unique(self.state).tolist(), kinds):
            allowed = np.ones(len(self.state), np.bool_)
            left = before = min(MOST_EACH, self.left)
            for first in np.flatnonzero(self.state == state).tolist():
                if self.best[mixed].totals[state] <= soonest or self._stopped(limits):
                    break
                known = np.zeros(states, np.int64)
                known[state] = self.best[mixed].totals[state]
                _, left = self._close(first, allowed, mixed, FAR, known, left)
                allowed[first] = False
            self.left -= before - left
            self.given_up = self.given_up or left <= 0

    def _stopped(self, limits: Work) -> bool:
        """Whether nothing more may be followed."""
        limits.at(len(self.reach.places))
        return self.left <= 0

    def _close(
        self, first: int, allowed: np.ndarray, mixed: bool, limit: int, known: np.ndarray, left: int
    ) -> tuple[bool, int]:
        """Note the chains from a place through ``allowed`` ones that are shown sooner than what is ``known`` of their states;
        whether longer ones may be of use, and how many of the ``left`` stays are left.  Those of any length are followed once
        for every stay that closes them."""
        # compiled code takes its time to load, and only a hunt needs this
        from leanstep.core.proof.verdicts.following import back, follow

        links, best = self.links, self.best[mixed]
        home = back(links, first, allowed if mixed else allowed & (self.state == self.state[first]))
        if home[first] + int(links.depth.min()) >= known.max():
            return False, left
        states = np.unique(self.state[home < FAR])
        inside = np.flatnonzero(np.repeat(home < FAR, np.diff(links.begin)))
        if mixed != (len(states) > 1):
            return False, left
        least = int(links.depth[inside].min())
        cut = False
        for last in np.flatnonzero(links.after == first).tolist() if limit == FAR else [-1]:
            path = Path.over(links)
            closed = True
            while closed:
                most = int(known[states].max())
                closed, given_up, left = follow(
                    links, first, last, home, known, mixed, limit, most, least, left, *vars(path).values()
                )
                cut = cut or given_up
                if closed:
                    self._note([self.stays[number] for number in path.stays[: path.level[0] + 1]], best)
                    np.minimum(known, best.totals, out=known)
        return cut, left

    def _note(self, stays: list[Stay], best: _Best) -> None:
        """Keep a closed chain for those of its states that it shows sooner, if the assumptions allow it."""
        box = stays[0].box
        for stay in stays[1:]:
            box = tuple(one & other for one, other in zip(box, stay.box))
        masks = self.reach.world.completed(box)
        if masks is None:
            return
        passed = tuple(place for stay in stays for place in stay.on_the_way)
        chain = _Chain(passed, sum(stay.ticks for stay in stays), self._depth(passed), masks)
        best.note(chain, {stay.way.target for stay in stays})

    def _flicker(self, chain: _Chain) -> Flicker:
        """The flicker of a closed chain, entered where it is reached first."""
        reach = self.reach
        passed = [reach.numbers[place] for place in chain.places if place in reach.numbers]
        earliest = min(passed, key=lambda number: (reach.depths[number], number))
        states = frozenset(place.states[self.layer] for place in chain.places)
        return Flicker(self.layer, states, earliest, chain.ticks, chain.masks, chain.total)
