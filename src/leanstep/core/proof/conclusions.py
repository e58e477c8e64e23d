"""What follows from a search of the free world: a verdict on everything that is asked of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import TypeVar

from leanstep.core.proof.open_past import Opened
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.verdict import Certainty, Verdict, by_take
from leanstep.core.proof.verdicts import closed_sets, events, flicker, wobble
from leanstep.core.proof.verdicts.flashes import Flash, flashes
from leanstep.core.proof.verdicts.marks import Marks, marks_of
from leanstep.core.proof.verdicts.resting import Restless, restless
from leanstep.core.proof.witness import building
from leanstep.core.proof.witness.playing import Played, played
from leanstep.core.proof.witness.shrinking import Aim, Witness, witness_of
from leanstep.core.work import Reason, TooLong, Work, look

_T = TypeVar("_T")


@dataclass(frozen=True)
class Passing:
    """A state that only flashes by: after ``stay`` ticks (0: a few) it gives way to ``to`` (-1: to another)."""

    layer: int
    state: int
    stay: int = 0
    to: int = -1


@dataclass
class Proof:
    """What one slice's search found about ``layers``; what follows from it is worked out once, as far as the ``limits`` of
    the check under way let it.  Verdicts come one after the other, as soon as the take of each is made."""

    layers: tuple[int, ...]
    reach: Reach
    flickers: flicker.Flickers
    limits: Work = field(default_factory=Work)
    known: dict[tuple[object, ...], Witness] = field(default_factory=dict)

    @cached_property
    def played(self) -> Played:
        """What could be played of a search that had to leave the past open."""
        return played(self.reach, self.layers, lambda: self.limits)

    def let_go(self) -> None:
        """Forget what only helped to find things out, before the proof is kept for later checks."""
        if "played" in vars(self):
            self.played.guided.let_go()

    @property
    def is_open(self) -> bool:
        """Whether the search left nothing out, but had to leave the past open."""
        return self.reach.complete and (bool(self.reach.world.history) or not self.reach.world.clocked)

    @cached_property
    def opened(self) -> Opened:
        """What can be told of a search that had to leave the past open."""
        return Opened(self.reach, self.layers, self.played, self.limits.effort)

    @property
    def decided(self) -> bool:
        """Whether a search that had to leave the past open leaves nothing undecided."""
        opened = self.opened
        if not self.is_open or not opened.exact or opened.unsure or not self.flickers.complete:
            return False
        return (
            all(one.witness is not None for one in self.flickering)
            and all(sure for _, _, sure in opened.contests)
            and all(witness is not None for layer in self.layers for _, witness in opened.closed_sets(layer))
            and not any(opened.may_trap(layer) for layer in self.layers)
            and all(passing is not None for _, _, passing in opened.flashes(self.flickering_states))
        )

    @cached_property
    def entered(self) -> set[tuple[int, int]]:
        """(layer, state) of every state that can be active, or may be."""
        if self.is_open:
            return {(layer, state) for layer in self.layers for state in self.opened.entered(layer)}
        return set(self.reach.entered)

    def doubts(self, undecided: bool) -> list[str]:
        """What is not followed exactly; nothing of a search that had to leave the past open and of which nothing is ``undecided``."""
        settled = self.is_open and self.opened.exact and not undecided
        return [] if settled else self.reach.world.doubts

    def _by_take(self, found: Iterable[tuple[_T, Witness | None]]) -> Iterator[Verdict[_T]]:
        return (by_take(one, witness, self.is_open) for one, witness in found)

    def _shown(
        self,
        found: Sequence[_T],
        make: Callable[[Reach, _T], Aim],
        opened: Callable[[Opened, tuple[_T, ...]], Iterable[tuple[_T, Witness | None]]],
    ) -> Iterator[Verdict[_T]]:
        """What was found, each with the take that is made of it, or what is told of it where the past is open."""
        if self.is_open:
            return self._by_take(opened(self.opened, tuple(found)))
        return self._by_take((one, self.witness(make, one)) for one in found)

    @cached_property
    def flickering(self) -> list[Verdict[flicker.Flicker]]:
        """Every flicker."""
        return list(self._shown(self.flickers.found, building.flickering, Opened.flickering))

    @cached_property
    def _idle(self) -> list[closed_sets.Idle]:
        return closed_sets.idle_transitions(self.reach, self.layers)

    @property
    def idle(self) -> Iterator[Verdict[closed_sets.Idle]]:
        """Transitions that are never taken; of those that are shadowed a take shows that they are true at times."""
        for one, witness in self.opened.idle if self.is_open else ((one, None) for one in self._idle):
            if one.kind != "shadowed":
                yield Verdict(one)
            elif self.is_open:
                yield by_take(one, witness, True)
            else:
                yield by_take(one, self.witness(building.on_tick, one.place, one.masks))

    @property
    def unsure(self) -> Iterator[Verdict[closed_sets.Idle]]:
        """Transitions of which it is not known whether they can be taken."""
        unsure = self.opened.unsure if self.is_open else []
        return self._by_take((closed_sets.Idle(layer, index, "never"), None) for layer, index in unsure)

    def dead_ends(self, layer: int) -> Iterator[Verdict[frozenset[int]]]:
        """States of a layer that are entered and never left, with takes that enter them."""
        if self.is_open:
            return self._by_take(self.opened.closed_sets(layer))
        depths, entered = self.reach.depths, self.reach.entered
        found = closed_sets.closed_sets(self.reach, layer)
        firsts = [min(closed, key=lambda state: (depths[entered[layer, state]], state)) for closed in found]
        return self._by_take((one, self.witness(building.entering, layer, first)) for one, first in zip(found, firsts))

    def traps(self, layer: int) -> Iterator[Verdict[int]]:
        """States of a layer that are no dead ends and cannot always be left, with takes that lead there."""
        caught = sorted(closed_sets.traps(self.reach, layer).items())
        if not self.is_open:
            return self._by_take((state, self.witness(building.reaching, place)) for state, place in caught)
        opened = self.opened
        found = {state: opened.reaching(layer, place) for state, place in caught}
        ends = {state for closed, _ in opened.closed_sets(layer) if len(closed) == 1 for state in closed}
        some = [*found, *(state for state in opened.may_trap(layer) if state not in found)]
        return self._by_take((state, found.get(state)) for state in some if state not in ends)

    @property
    def flickering_states(self) -> frozenset[tuple[int, int]]:
        """Layer and state of all that flicker steadily."""
        steady = (one.about for one in self.flickering if len(one.about.states) > 1)
        return frozenset((one.layer, state) for one in steady for state in one.states)

    @cached_property
    def wobbles(self) -> wobble.Wobbles:
        """Flicker for which one value has to wobble."""
        return wobble.wobbles(self.reach, self.layers, self.limits)

    @property
    def wobbling(self) -> Iterator[Verdict[wobble.Wobble]]:
        """The same with the takes."""
        return self._shown(self.wobbles.found, building.wobbling, Opened.wobbling)

    @cached_property
    def _flashes(self) -> list[Flash]:
        return flashes(self.reach, self.layers)

    @property
    def passing(self) -> Iterator[Verdict[Passing]]:
        """States that only flash by and do not flicker."""
        flickering = self.flickering_states
        if self.is_open:
            shown = self.opened.flashes(flickering)
            return self._by_take(
                (Passing(layer, state, how.stay, how.to), how.witness) if how else (Passing(layer, state), None)
                for layer, state, how in shown
            )
        some = [one for one in self._flashes if (one.layer, one.state) not in flickering]
        return self._by_take(
            (Passing(one.layer, one.state, one.stay, one.to), self.witness(building.flashing, one)) for one in some
        )

    @cached_property
    def _restless(self) -> list[Restless]:
        return restless(self.reach, self.layers)

    @property
    def restless(self) -> Iterator[Verdict[Restless]]:
        """Where the character does not come to rest."""
        return self._shown(self._restless, building.left_alone, Opened.restless)

    @cached_property
    def marks(self) -> Marks:
        """Which marks fire, and which can be cut off."""
        return marks_of(self.reach, self.layers)

    @cached_property
    def _stuck(self) -> list[events.Stuck]:
        return events.stuck(self.reach, self.layers)

    @property
    def stuck(self) -> Iterator[Verdict[events.Stuck]]:
        """Flags and locks that stay set for good; nothing is said of them where the past is open."""
        found = [] if self.is_open else self._stuck
        return self._by_take((one, self.witness(building.reaching, one.place)) for one in found)

    @cached_property
    def _contests(self) -> list[events.Contest]:
        return events.contests(self.reach, self.layers)

    @property
    def contests(self) -> list[Verdict[events.Contest]]:
        """Transitions between which only their order decides, without a take where :meth:`together` makes one."""
        if not self.is_open:
            return [Verdict(one) for one in self._contests]
        return [
            Verdict(one, Certainty.SHOWN, witness) if sure else Verdict(one, Certainty.UNDECIDED, None, Reason.PAST)
            for one, witness, sure in self.opened.contests
        ]

    def together(self, contests: Sequence[Verdict[events.Contest]], thin: bool) -> Verdict[events.Contest]:
        """One of some contests that are equally sure with a take that shows it; ``thin``: what is not needed is left out."""
        one = contests[0].about
        if not self.is_open:
            return by_take(one, self.witness(building.on_tick, one.place, one.masks, thin=thin))
        shown = next((verdict.witness for verdict in contests if verdict.witness is not None), None)
        if contests[0].certainty is Certainty.SHOWN and (shown is None or thin):
            shown = self.opened.together(one, thin)[1] or shown
        return by_take(one, shown, True)

    def work_within(self, limits: Work) -> None:
        """Work out what is still to be worked out within these limits."""
        self.limits = limits

    def witness(self, make: Callable[..., Aim], *what: object, **how: object) -> Witness:
        """The witness that ``make`` makes of something, made once."""
        key = (make, *what, *how.items())
        if key not in self.known:
            look()
            try:
                self.known[key] = witness_of(self.reach, make(self.reach, *what, **how))
            except TooLong as error:
                self.known[key] = Witness(None, True, error.ticks)
        return self.known[key]
