"""Proving: each slice of a machine is searched, or its proof taken over from an earlier check."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from leanstep.core.graph.machine import Machine
from leanstep.core.proof.conclusions import Proof
from leanstep.core.proof.reduce.observables import AgeKey
from leanstep.core.proof.reduce.playheads import without_strays
from leanstep.core.proof.reduce.slices import Slice, slices
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.search.reuse import inherit
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.verdicts import flicker
from leanstep.core.work import Reason, Work

_NOTHING = frozenset[int]()


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
        few = len(part.memories) <= effort.memories
        reach = self._searched(first) if few else None
        if reach is None or (not reach.complete and reach.reason is Reason.BUDGET and timed):
            reach = self._searched(limits, _NOTHING, _NOTHING)
            found = self._flickering(reach)
            if not (light and few) or not reach.complete or found.decided:
                return found
            whole = self._searched(limits)
            if not whole.complete:
                return found
            reach = whole
        return self._flickering(reach)

    def _flickering(self, reach: Reach) -> Proof:
        searched = reach.stuck < 0
        found = flicker.flickers(reach, self.layers, self.limits) if searched else flicker.Flickers([])
        return Proof(self.layers, reach, found, self.limits)

    def _searched(
        self, limits: Work, tracked: frozenset[int] | None = None, aged: frozenset[AgeKey] | None = None
    ) -> Reach:
        """The search of the slice, with limits on how fast numbers change if that does not make it too large."""
        earlier = self.earlier.searches(self.layers, limits.budget)
        world = FreeWorld(self.part, tracked, False, aged)
        reach = inherit(world, earlier, limits.effort.handed_on) or explore(world, limits)
        if not world.limit_ignored or not reach.complete:
            return reach
        slower = FreeWorld(self.part, tracked, True, aged)
        if not slower.paced or slower.leeway * sum(map(len, reach.successors)) > limits.effort.ways:
            return reach
        return inherit(slower, earlier, limits.effort.handed_on) or explore(slower, limits)
