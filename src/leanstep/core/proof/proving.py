"""The door to the proofs: what the free world says of a machine, slice by slice, and what follows from it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from functools import cached_property

from leanstep.core.deadline import look
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.open_past import Opened
from leanstep.core.proof.reduce.playheads import without_strays
from leanstep.core.proof.reduce.slices import Slice, slices
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.search.reuse import inherit
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.verdicts import closed_sets, events, flicker, wobble
from leanstep.core.proof.verdicts.flashes import Flash, flashes
from leanstep.core.proof.verdicts.marks import Marks, marks_of
from leanstep.core.proof.verdicts.resting import Restless, restless
from leanstep.core.proof.witness import building
from leanstep.core.proof.witness.playing import Played, played
from leanstep.core.proof.witness.shrinking import Witness
from leanstep.core.proof.work import Reason, TooLong, Work


@dataclass
class Proof:
    """What one slice's search found about ``layers``; what follows from it is worked out once, as far as the ``limits`` of
    the check under way let it."""

    layers: tuple[int, ...]
    reach: Reach
    flickers: flicker.Flickers
    limits: Work = field(default_factory=Work)
    known: dict[tuple[object, ...], Witness] = field(default_factory=dict)

    @cached_property
    def played(self) -> Played:
        """What could be played of a search that had to leave the past open."""
        return played(self.reach, self.layers, lambda: self.limits.late(len(self.reach.places)))

    def let_go(self) -> None:
        """Forget what only helped to find things out, before the proof is kept for later checks."""
        if "played" in vars(self):
            self.played.sampling = None

    @property
    def is_open(self) -> bool:
        """Whether the search left nothing out, but had to leave the past open."""
        return self.reach.complete and (bool(self.reach.world.history) or not self.reach.world.clocked)

    @cached_property
    def opened(self) -> Opened:
        """What can be told of a search that had to leave the past open."""
        return Opened(self.reach, self.layers, self.played)

    @property
    def decided(self) -> bool:
        """Whether a search that had to leave the past open leaves nothing undecided."""
        opened = self.opened
        if not self.is_open or not opened.exact or opened.unsure or not self.flickers.complete:
            return False
        return (
            all(witness is not None for _, witness in self.flickering)
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

    @cached_property
    def flickering(self) -> list[tuple[flicker.Flicker, Witness | None]]:
        """Every flicker with its take."""
        found = self.flickers.found
        if self.is_open:
            return self.opened.flickering(found)
        return [(one, self.witness(building.flickering, one)) for one in found]

    @cached_property
    def idle(self) -> list[closed_sets.Idle]:
        """Transitions that are never taken."""
        return closed_sets.idle_transitions(self.reach, self.layers)

    @cached_property
    def steady(self) -> set[tuple[int, frozenset[int]]]:
        """Layer and states of every steady flicker."""
        return {(one.layer, one.states) for one, _ in self.flickering if len(one.states) > 1}

    @property
    def flickering_states(self) -> frozenset[tuple[int, int]]:
        """Layer and state of all that flicker steadily."""
        return frozenset((layer, state) for layer, states in self.steady for state in states)

    @cached_property
    def wobbles(self) -> wobble.Wobbles:
        """Flicker for which one value has to wobble."""
        return wobble.wobbles(self.reach, self.layers, self.limits)

    @cached_property
    def flashes(self) -> list[Flash]:
        """States that only flash by."""
        return flashes(self.reach, self.layers)

    @cached_property
    def restless(self) -> list[Restless]:
        """Where the character does not come to rest."""
        return restless(self.reach, self.layers)

    @cached_property
    def marks(self) -> Marks:
        """Which marks fire, and which can be cut off."""
        return marks_of(self.reach, self.layers)

    @cached_property
    def stuck(self) -> list[events.Stuck]:
        """Flags and locks that stay set for good."""
        return events.stuck(self.reach, self.layers)

    @cached_property
    def contests(self) -> list[events.Contest]:
        """Transitions between which only their order decides."""
        return events.contests(self.reach, self.layers)

    def work_within(self, limits: Work) -> None:
        """Work out what is still to be worked out within these limits, and again what others left no time for."""
        self.limits = limits
        if "wobbles" in vars(self) and self.wobbles.late:
            del self.wobbles
        if "played" in vars(self) and any(stage.cut for stage in self.played.stages.values()):
            for name in {"played", "opened", "entered", "flickering", "steady"} & vars(self).keys():
                delattr(self, name)

    def witness(self, make: Callable[..., Witness], *what: object, **how: object) -> Witness:
        """The witness that ``make`` makes of something, made once."""
        key = (make, *what, *how.items())
        if key not in self.known:
            look()
            try:
                self.known[key] = make(self.reach, *what, **how)
            except TooLong as error:
                self.known[key] = Witness(None, True, error.ticks)
        return self.known[key]


@dataclass
class Earlier:
    """Proofs of earlier checks, the newest last.  A slice whose part of the character is the same needs no other proof."""

    most: int = 12
    proofs: list[tuple[tuple[object, ...], Proof]] = field(default_factory=list)

    def find(self, part: Slice, limits: Work) -> Proof | None:
        """The proof of an equal slice."""
        wanted = _content(part, limits)
        for at, (content, proof) in enumerate(self.proofs):
            if content == wanted:
                self.proofs.append(self.proofs.pop(at))
                return proof
        return None

    def keep(self, part: Slice, limits: Work, proof: Proof) -> None:
        """Remember a proof that left nothing out."""
        if proof.reach.complete and proof.flickers.complete:
            self.proofs.append((_content(part, limits), proof))
            del self.proofs[: -self.most]

    def searches(self, layers: tuple[int, ...], most: int) -> list[Reach]:
        """The searches of these layers that came to no more than so many places."""
        some = (proof.reach for _, proof in self.proofs if proof.layers == layers)
        return [reach for reach in some if len(reach.places) <= most]


def _content(part: Slice, limits: Work) -> tuple[object, ...]:
    """All of a machine that a proof of a slice depends on."""
    machine = part.machine
    layers = sorted(part.layers)
    return (
        *(
            limits.budget,
            limits.effort,
            layers,
            [machine.layers[at] for at in layers],
            [machine.pictures[at] for at in layers],
        ),
        *(machine.symbols, machine.memories, machine.assumptions, machine.formulas, machine.buffers, machine.clocks),
        *(machine.locks, machine.window, len(machine.layers), [table.start for table in machine.layers]),
    )


def prove(machine: Machine, work: Work, earlier: Earlier | None = None) -> Iterator[Proof]:
    """What the free world says of each slice, as soon as it has been searched; ``work`` is for all of them together, and ``earlier``
    is what is known from checks before.

    Raises
    ------
    Stopped : the person stopped the work.
    """
    done, earlier = 0, earlier or Earlier()
    for whole, layers in slices(machine):
        part, own = without_strays(whole, work.effort.playheads), work.after(done)
        proof = earlier.find(part, work)
        if proof is None or proof.layers != layers:
            proof = _Prover(part, layers, own, earlier).proved()
            earlier.keep(part, work, proof)
        proof.work_within(own)
        done += len(proof.reach.places)
        yield proof


@dataclass(frozen=True)
class _Prover:
    """Proves one slice, within limits."""

    part: Slice
    layers: tuple[int, ...]
    limits: Work
    earlier: Earlier

    def proved(self) -> Proof:
        """What is found out about a slice: with all memories and ages followed where few situations can be reached; else with these
        left open; and where that leaves something undecided, with all followed again as far as the limits allow."""
        part, limits, effort = self.part, self.limits, self.limits.effort
        light = part.weight <= effort.heavy and part.weight * part.clocks <= effort.ages
        timed = bool(part.memories) or part.clocks > 1
        first = replace(limits, budget=min(limits.budget, effort.followed)) if timed else limits
        reach = self._searched(first, None, True)
        if not reach.complete and reach.reason is Reason.BUDGET and timed:
            reach = self._searched(limits, frozenset(), part.clocks <= 1)
            found = self._flickering(reach)
            if not light or not reach.complete or found.decided:
                return found
            whole = self._searched(limits, None, True)
            if not whole.complete:
                return found
            reach = whole
        return self._flickering(reach)

    def _flickering(self, reach: Reach) -> Proof:
        searched = reach.stuck < 0
        found = flicker.flickers(reach, self.layers, self.limits) if searched else flicker.Flickers([])
        return Proof(self.layers, reach, found, self.limits)

    def _searched(self, limits: Work, tracked: frozenset[int] | None, clocked: bool) -> Reach:
        """The search of the slice, with limits on how fast numbers change if that does not make it too large."""
        earlier = self.earlier.searches(self.layers, limits.budget)
        world = FreeWorld(self.part, tracked, False, clocked)
        reach = inherit(world, earlier) or explore(world, limits)
        if not world.limit_ignored or not reach.complete:
            return reach
        slower = FreeWorld(self.part, tracked, True, clocked)
        if not slower.paced or slower.leeway * sum(map(len, reach.successors)) > limits.effort.ways:
            return reach
        return inherit(slower, earlier) or explore(slower, limits)
