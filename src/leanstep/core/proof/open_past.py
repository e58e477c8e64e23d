"""The verdicts of a search that had to leave the past open.

Such a search allows more than can happen: what it does not find is impossible.  What it finds is shown by a take, or ruled out
by a closer look at one state, or else it is undecided.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import Any, Concatenate, ParamSpec, TypeVar

import networkx as nx

from leanstep.core.proof.search.few_states import alone, apart, plain, rules_out
from leanstep.core.proof.search.reach import Reach, kept_where
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.verdicts.closed_sets import (
    Idle,
    dead_ends,
    first_caught,
    idle_transitions,
    reachable_states,
    where_true,
)
from leanstep.core.proof.verdicts.events import Contest, contests, where_together
from leanstep.core.proof.verdicts.flashes import flash_of
from leanstep.core.proof.verdicts.flicker import Flicker, quick_ways
from leanstep.core.proof.verdicts.resting import Restless, comes_to_rest
from leanstep.core.proof.verdicts.settled import asks_for_ages, left_for_sure
from leanstep.core.proof.verdicts.wobble import Wobble, wobbles
from leanstep.core.proof.witness import building, open_takes
from leanstep.core.proof.witness.guided import Until, where_taken
from leanstep.core.proof.witness.plans import Where
from leanstep.core.proof.witness.playing import Played
from leanstep.core.proof.witness.shrinking import Witness
from leanstep.core.work import Effort

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
    effort: Effort
    kept: dict[tuple[object, ...], Any] = field(default_factory=dict)

    def _alone(self, layer: int, *states: int) -> Reach | None:
        """The search of a few states by themselves, if that is possible and not too much."""
        return alone(self.reach, self.effort.closely, layer, *states)

    def _rules_out(self, until: Until, layer: int, *states: int) -> bool:
        """Whether the search of a few states by themselves comes to no view of some kind."""
        return rules_out(self.reach, self.effort.asked[0], until, layer, *states)

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
            and (
                world.clocked
                or not part.machine.layers[min(self.layers)].restful
                or comes_to_rest(self.reach, min(self.layers))
            )
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
            known += [Idle(*key, "shadowed")] if key[0] in self.layers else []
        for idle in known:
            if idle.kind != "shadowed":
                found.append((idle, None))
                continue
            where = partial(where_true, idle.layer, idle.transition)
            may_be, witness = self._on_a_tick(where, idle, -1, idle.transition)
            found.append((idle if may_be else Idle(idle.layer, idle.transition, "never"), witness))
        return found

    def _on_a_tick(
        self, where: Where, what: Idle | Contest, first: int, other: int, thin: bool = False
    ) -> tuple[bool, Witness | None]:
        """Whether a transition may be true on a tick on which the ``first`` is taken (-1: whichever), and a take that shows it;
        ``where`` has the values for it in a view, ``what`` where the search saw it."""
        layer = what.layer
        stage = self.played.stages[layer]
        witness = (
            open_takes.true_with(stage, what.place, what.masks, where, first, other, thin) if what.place >= 0 else None
        )
        if witness is not None:
            return True, witness
        states = self._states(layer, {other, first} - {-1})
        if all(self._rules_out(lambda world, view: where(world, view) is not None, layer, state) for state in states):
            return False, None
        make = partial(building.true, layer=layer, first=first, other=other, thin=thin)
        guided = self.played.guided
        answer = guided.on_tick(where, make, guided.memories_of(layer, states, {first, other}))
        return not answer.ruled_out, answer.witness

    def _out_of_reach(self, layer: int, index: int) -> bool:
        """Whether a look at each state it leads from rules out that a transition is taken."""
        return all(self._never_taken(layer, state, index) for state in self._states(layer, [index]))

    def _never_taken(self, layer: int, state: int, index: int) -> bool:
        """Whether a closer look rules out that a transition is taken from a state; if it is, that is played."""
        if self._rules_out(lambda world, view: where_taken(layer, state, index, world, view) is not None, layer, state):
            return True
        return self.played.stages[layer].rules_out(state, index)

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
        near = self._alone(wobble.layer, *sorted(wobble.states))
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
                    guided = self.played.guided
                    # what a memory that is not followed says while values are kept is not what it may say at first
                    answer = guided.ask(
                        partial(flash_of, layer, state),
                        building.flashing,
                        into=(layer, state),
                        followed=guided.memories_of(layer, [state]),
                    )
                    if answer.ruled_out:
                        continue
                    if answer.found is not None and answer.witness is not None:
                        passing = open_takes.Passing(answer.found.stay, answer.found.to, answer.witness)
                found.append((layer, state, passing))
        return found

    def _may_pass(self, layer: int, state: int, boxes: list[Masks]) -> bool:
        """Whether nothing rules out that a state only flashes by."""
        if not self._entered_with(layer, state, boxes):
            return False
        near = self._alone(layer, state)
        return near is None or flash_of(layer, state, near) is not None

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
        found: list[tuple[Contest, Witness | None, bool]] = []
        for one in contests(self.reach, self.layers):
            if self._plain_to_see(one):
                found.append((one, None, True))
                continue
            may_be, witness = self.together(one)
            if may_be:
                found.append((one, witness, witness is not None))
        return found

    def _plain_to_see(self, contest: Contest) -> bool:
        """Whether transitions are true together some time after a state is entered, whatever the past."""
        world, place = self.reach.world, self.reach.places[contest.place]
        without_past = all(contest.masks[symbol] == world.full[symbol] for symbol in world.open_past)
        if not self.exact or not without_past or self.reach.machine.limited:
            return False
        layer = contest.layer
        return self.played.stages[layer].stays(place.states[layer], place.stays[layer]) is not None

    @_once
    def together(self, contest: Contest, thin: bool = False) -> tuple[bool, Witness | None]:
        """Whether two transitions may be true together, and a take on whose last tick they are; ``thin`` as elsewhere."""
        where = partial(where_together, contest.layer, contest.first, contest.other)
        return self._on_a_tick(where, contest, contest.first, contest.other, thin)

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
        ruled_out = {
            edge for edge in sorted(edges - stage.edges) if edge not in stage.edges and self._no_way(layer, *edge)
        }
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
        near = self._alone(layer, state)
        return near is None or state in first_caught(near, layer)
