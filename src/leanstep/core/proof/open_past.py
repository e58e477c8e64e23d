"""The verdicts of a search that had to leave the past open.

Such a search allows more than can happen: what it does not find is impossible.  What it finds is shown by a take, or ruled out
by a closer look at one state, or else it is undecided.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property, partial
from itertools import chain
from typing import Any, Concatenate, ParamSpec, TypeVar

import networkx as nx

from leanstep.core.proof.search.reach import Reach, first_places, kept_where
from leanstep.core.proof.search.refinement import Hint, alone, apart, hint, light, plain
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.verdicts.closed_sets import Idle, can_hold, dead_ends, first_caught, idle_transitions, reachable_states
from leanstep.core.proof.verdicts.events import Contest, contests, together_in
from leanstep.core.proof.verdicts.flashes import Flash, flashes
from leanstep.core.proof.verdicts.flicker import Flicker, quick_ways
from leanstep.core.proof.verdicts.resting import Restless
from leanstep.core.proof.verdicts.settled import asks_for_ages, left_for_sure
from leanstep.core.proof.verdicts.wobble import Wobble, wobbles
from leanstep.core.proof.witness import building, open_takes
from leanstep.core.proof.witness.playing import Played
from leanstep.core.proof.witness.shrinking import Witness

_T = TypeVar("_T")
_P = ParamSpec("_P")

MOST_THINNED = 40
"""Findings of a kind up to which the take of each is thinned out."""

MOST_NEAR = 5_000
"""Places that are looked at to rule a wobble out."""


def _once(work: Callable[Concatenate[Opened, _P], _T]) -> Callable[Concatenate[Opened, _P], _T]:
    """What is looked for once, because only so many takes are tried."""
    return kept_where(work, lambda opened: opened.kept)


@dataclass(frozen=True)
class Opened:
    """A search that left the past open, the layers asked about and what has been played of them."""

    reach: Reach
    layers: tuple[int, ...]
    played: Played
    kept: dict[tuple[object, ...], Any] = field(default_factory=dict)

    @cached_property
    def exact(self) -> bool:
        """Whether nothing but the past is open, and there is nothing about these layers that is not looked at."""
        world, part = self.reach.world, self.reach.world.slice
        return (
            not world.together.open
            and world.only_past_open
            and apart(part, world.clocked)
            and part.layers == set(self.layers) == {min(self.layers)}
            and not any(reel.cues for reel in part.reels)
            # where a character that is left alone comes to may depend on ages
            and (world.clocked or not any(part.machine.layers[layer].restful for layer in self.layers))
        )

    @cached_property
    def settling(self) -> bool:
        """Whether every memory comes to say the same for good when values are kept."""
        part = self.reach.world.slice
        return all(plain(part.machine, index) for index in part.memories)

    @cached_property
    def unsure(self) -> list[tuple[int, int]]:
        """(layer, transition index) of the transitions of which it is not known whether they can be taken."""
        asked = {key for key in self.reach.fired if key[0] in self.layers} - self.played.transitions.keys()
        return sorted(key for key in asked if not self._out_of_reach(*key))

    @cached_property
    def idle(self) -> list[tuple[Idle, Witness | None]]:
        """Transitions that are never taken, each of those that are shadowed with a take in which it is true."""
        found: list[tuple[Idle, Witness | None]] = []
        known = idle_transitions(self.reach, self.layers)
        for key in sorted(self.reach.fired - self.played.transitions.keys() - set(self.unsure)):
            known += [Idle(*key, self._kind_alone(*key))] if key[0] in self.layers else []
        for idle in known:
            witness = self._true(idle) if idle.kind == "shadowed" else None
            if idle.kind == "shadowed" and witness is None:
                idle = Idle(idle.layer, idle.transition, self._kind_alone(idle.layer, idle.transition))
            found.append((idle, witness))
        return found

    def _true(self, idle: Idle) -> Witness | None:
        """A take in which a shadowed transition is true."""
        layer, index = idle.layer, idle.transition
        own = [(self.reach.places[idle.place].states[layer], [self._hint(layer, idle)])] if idle.place >= 0 else []
        near = ((state, self._where_true(layer, state, index)) for state in self._states(layer, [index]))
        tries = (self._by_hints(open_takes.Truth(state, index), layer, hints) for state, hints in chain(own, near))
        return next((witness for witness in tries if witness is not None), None)

    def _where_true(self, layer: int, state: int, index: int) -> list[Hint]:
        """Values with which a look at a state saw one of its transitions true."""
        near = alone(self.reach, layer, state)
        if near is None:
            return []
        position = self.reach.machine.layers[layer].position(state, index)
        views = [(view, place) for view, place in first_places(near).items() if view.states[layer] == state]
        seen = ((place, can_hold(near.world, view, layer, position)) for view, place in views)
        return [hint(self.reach, near, place, masks) for place, masks in seen if masks is not None]

    def _by_hints(self, truth: open_takes.Truth, layer: int, hints: list[Hint], thin: bool = True) -> Witness | None:
        """A take in which a transition is true, as a look at its state alone suggests it."""
        stage = self.played.stages[layer]
        tries = (open_takes.on_tick(stage, truth, by, harder, thin) for by in hints for harder in (False, True))
        return next((witness for witness in tries if witness is not None), None)

    def _out_of_reach(self, layer: int, index: int) -> bool:
        """Whether a look at each state it leads from rules out that a transition is taken."""
        return all(self._never_taken(layer, state, index) for state in self._states(layer, [index]))

    def _never_taken(self, layer: int, state: int, index: int) -> bool:
        """Whether a closer look rules out that a transition is taken from a state; if it is, that is played."""
        near = alone(self.reach, layer, state)
        if near is not None and (layer, index) not in near.fired:
            return True
        return self.played.stages[layer].asks_for(state, index) is None

    def _kind_alone(self, layer: int, index: int) -> str:
        """Why a transition is never taken, as far as a look at each state it leads from tells."""
        kinds = set()
        for state in self._states(layer, [index]):
            near = alone(self.reach, layer, state)
            if near is None:
                return "shadowed"
            kinds |= {one.kind for one in idle_transitions(near, (layer,)) if one.transition == index}
        return "shadowed" if "shadowed" in kinds else "never"

    def _states(self, layer: int, indices: Iterable[int]) -> list[int]:
        """The states of a layer that can be active and from which all of these transitions lead."""
        rows, wanted = self.reach.machine.layers[layer].ways, set(indices)
        inside = (state for at, state in self.reach.entered if at == layer)
        return sorted(state for state in inside if wanted <= {way.index for way in rows[state]})

    def flickering(self, flickers: Sequence[Flicker]) -> list[tuple[Flicker, Witness | None]]:
        """Flickers with their takes; of those without one, those that have states no other shows."""
        thin = len(flickers) <= MOST_THINNED
        some = [(one, open_takes.flickering(self.played.stages[one.layer], one, thin)) for one in flickers]
        seen = {(one.layer, len(one.states) > 1, at) for one, witness in some if witness for at in one.states}
        return [
            (one, witness)
            for one, witness in some
            if witness or any((one.layer, len(one.states) > 1, at) not in seen for at in one.states)
        ]

    @_once
    def wobbling(self, found: tuple[Wobble, ...]) -> list[tuple[Wobble, Witness | None]]:
        """Wobbles, or what may be one, with takes that show them."""
        some = []
        for one in found:
            witness = open_takes.wobbling(self.played.stages[one.layer], one) if self.settling else None
            if witness is not None or self._may_wobble(one):
                some.append((one, witness))
        return some

    def _may_wobble(self, wobble: Wobble) -> bool:
        """Whether a look at its states does not rule a wobble out."""
        near = alone(self.reach, wobble.layer, *sorted(wobble.states))
        if near is None:
            return True
        found = wobbles(near, (wobble.layer,), most=MOST_NEAR)
        kinds = {(one.states, one.symbol) for one in found.found}
        return not found.complete or (wobble.states, wobble.symbol) in kinds

    @_once
    def flashes(self, known: frozenset[tuple[int, int]]) -> list[tuple[int, int, open_takes.Passing | None]]:
        """(layer, state) of what only flashes by or may do so, with how; but for those that are ``known`` to flicker."""
        found = []
        for layer in self.layers:
            quick: dict[int, list[Masks]] = {}
            for (state, target, urgent), boxes in quick_ways(self.reach, layer, False).items():
                if not urgent and target != state and (layer, state) not in known:
                    quick.setdefault(state, []).extend(boxes)
            for state, boxes in sorted(quick.items()):
                stage = self.played.stages[layer]
                passing = open_takes.flashing(stage, state, boxes)
                if passing is None:
                    if not self._may_pass(layer, state, boxes):
                        continue
                    answer = self.played.guided.ask(partial(_flash, layer, state), building.flashing)
                    if answer.found is None:
                        continue
                    if answer.witness is not None:
                        passing = open_takes.Passing(answer.found.stay, answer.found.to, answer.witness)
                    else:
                        passing = open_takes.flashing_sampled(stage, state)
                found.append((layer, state, passing))
        return found

    def _may_pass(self, layer: int, state: int, boxes: list[Masks]) -> bool:
        """Whether nothing rules out that a state only flashes by."""
        if not self._entered_with(layer, state, boxes):
            return False
        near = alone(self.reach, layer, state)
        return near is None or any(one.state == state for one in flashes(near, (layer,)))

    def _entered_with(self, layer: int, state: int, boxes: list[Masks]) -> bool:
        """Whether the search saw a state entered with values of some of the boxes, whatever the past."""
        world = self.reach.world
        free = [at for at in range(len(world.full)) if at not in world.brief]
        for view in dict.fromkeys(self.reach.views):
            row = self.reach.machine.layers[layer].ways[view.states[layer]]
            for position, outcome in enumerate(world.outcomes(view)):
                fired = outcome.fired[layer]
                if fired < 0 or row[fired].target != state or view.states[layer] == state:
                    continue
                for one in world.boxes(view, position):
                    if any(all(one[at] & other[at] for at in free) for other in boxes):
                        return True
        return False

    @cached_property
    def contests(self) -> list[tuple[Contest, Witness | None, bool]]:
        """Transitions that are true together, each with a take if there is one yet, and whether that is known or only may
        be."""
        found = []
        for one in contests(self.reach, self.layers):
            witness, sure = (None, True) if self._plain_to_see(one) else self._looked_for(one)
            if sure is not None:
                found.append((one, witness, sure))
        return found

    def _plain_to_see(self, contest: Contest) -> bool:
        """Whether transitions are true together some time after a state is entered, whatever the past."""
        world, place = self.reach.world, self.reach.places[contest.place]
        without_past = all(contest.masks[symbol] == world.full[symbol] for symbol in world.open_past)
        if not self.exact or not without_past or self.reach.machine.limited:
            return False
        layer = contest.layer
        return self.played.stages[layer].stays(place.states[layer], place.stays[layer]) is not None

    def _looked_for(self, contest: Contest) -> tuple[Witness | None, bool | None]:
        """A take on whose last tick transitions are true together, and whether they are; None when that is ruled out."""
        witness = self.together(contest, False)
        if witness is not None:
            return witness, True
        pair = contest.layer, contest.first, contest.other
        answer = self.played.guided.ask(partial(_contest, *pair), building.together, partial(_are_together, *pair))
        if answer.found is None:
            return None, None
        witness = answer.witness or open_takes.together(self.played.stages[contest.layer], contest.first, contest.other)
        return witness, witness is not None

    @_once
    def together(self, contest: Contest, thin: bool) -> Witness | None:
        """A take on whose last tick two transitions are true together; ``thin`` as elsewhere."""
        state = self.reach.places[contest.place].states[contest.layer]
        truth = open_takes.Truth(state, contest.other, contest.first)
        by = self._hint(contest.layer, contest)
        return open_takes.on_tick(self.played.stages[contest.layer], truth, by, thin=thin)

    def _hint(self, layer: int, what: Idle | Contest) -> Hint:
        """What the search says of the values in the place in which it saw something."""
        return Hint(what.masks, self.reach.places[what.place].stays[layer])

    @_once
    def closed_sets(self, layer: int) -> list[tuple[frozenset[int], Witness | None]]:
        """Dead ends, or what may be one, with takes that enter them."""
        stage, table, states = self.played.stages[layer], self.reach.machine.layers[layer], self.entered(layer)
        all_played = states == stage.seen.keys()
        most, least = (dead_ends(table, states, edges) for edges in (self.reach.edges[layer], stage.edges))
        if most != least:
            most, least = (dead_ends(table, states, edges) for edges in (self._possible(layer), stage.edges))
        found: list[tuple[frozenset[int], Witness | None]] = []
        for closed in dict.fromkeys([*most, *least]):
            sure = all_played and closed in most and closed in least
            first = min(closed, key=lambda state: len(self.played.states.get((layer, state), ())))
            found.append((closed, open_takes.entering(stage, first) if sure else None))
        return found

    def entered(self, layer: int) -> set[int]:
        """The states that may be active."""
        played = set(self.played.stages[layer].seen)
        if played == reachable_states(self.reach, layer):
            return played
        start = self.reach.machine.layers[layer].start
        graph = nx.DiGraph(sorted(self._possible(layer)))
        return {start, *(nx.descendants(graph, start) if start in graph else ())}

    @_once
    def _possible(self, layer: int) -> set[tuple[int, int]]:
        """The pairs of states between which a transition may be taken."""
        stage, edges = self.played.stages[layer], self.reach.edges[layer]
        ruled_out = {edge for edge in sorted(edges - stage.edges) if edge not in stage.edges and self._no_way(layer, *edge)}
        return edges - ruled_out

    def _no_way(self, layer: int, state: int, target: int) -> bool:
        """Whether a look at one state rules out that it gives way to another; what shows it is played."""
        ways = self.reach.machine.layers[layer].ways[state]
        return all(self._never_taken(layer, state, way.index) for way in ways if way.target == target)

    @_once
    def restless(self, found: tuple[Restless, ...]) -> list[tuple[Restless, Witness | None]]:
        """Where a layer does not come to rest, or may not, with takes that lead there."""
        return [(one, open_takes.restless(self.played.stages[one.layer], one)) for one in found]

    @_once
    def reaching(self, layer: int, place: int) -> Witness | None:
        """A take that ends in a place."""
        return open_takes.reaching(self.played.stages[layer], place)

    def may_trap(self, layer: int) -> list[int]:
        """States that the past may keep from being left; none are named where more than the past is open."""
        if not self.exact:
            return []
        asking = {state for (at, state), asked in self.reach.world.asked.items() if at == layer and asked}
        asking |= {
            state
            for state in range(len(self.reach.machine.layers[layer].states))
            if asks_for_ages(self.reach, layer, state)
        }
        doubtful = sorted(
            state for state in asking - left_for_sure(self.reach, layer) if (layer, state) in self.reach.entered
        )
        return [state for state in doubtful if self._may_catch(layer, state)]

    def _may_catch(self, layer: int, state: int) -> bool:
        """Whether a look at one state does not rule out that it is a trap; where ages are open it allows too much to do so."""
        if asks_for_ages(self.reach, layer, state):
            return True
        near = alone(self.reach, layer, state)
        return near is None or state in first_caught(near, layer)


def _flash(layer: int, state: int, reach: Reach) -> Flash | None:
    """How a state only flashes by, as far as a search tells."""
    return next((one for one in flashes(reach, (layer,)) if one.state == state), None)


def _contest(layer: int, first: int, other: int, reach: Reach) -> Contest | None:
    """Where two transitions are true together, as far as a search tells."""
    return next((one for one in contests(reach, (layer,)) if (one.first, one.other) == (first, other)), None)


def _are_together(layer: int, first: int, other: int, world: FreeWorld, view: View) -> bool:
    """Whether two transitions can be true together in a view."""
    if view.frozen or view.blocked[layer]:
        return False
    return (first, other) in together_in(world, view, layer, ())
