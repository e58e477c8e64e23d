"""States nobody can reach, and states nobody can leave."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.proof.door import Proof, Restless, Witness, closed_sets, entering, left_alone, names, reaching, traps
from leanstep.core.wording import counted, listed


@check
def dead_end(evidence: Evidence) -> Iterator[Finding]:
    """A set of states that is entered and never left."""
    for proof, layer in _decided_layers(evidence):
        for closed, witness in _closed(proof, layer):
            states = names(proof.reach, layer, closed)
            one = len(states) == 1
            yield Finding(
                "state.dead-end",
                "error",
                {"layer": evidence.layer_name(layer), **({"state": states[0]} if one else {"states": states})},
                f"{listed(states)} {'is a dead end' if one else 'are a dead end together'}: "
                f"once there, no input leads out again.",
                "free",
                "proved",
                why="No transition that leads out can ever be taken, and none of it is declared an ending. "
                "Add a way out, or declare the ending.",
            ).with_witness(witness, proof.is_open)


def _closed(proof: Proof, layer: int) -> Iterator[tuple[frozenset[int], Witness | None]]:
    """Dead ends, each with the take that enters it."""
    if proof.is_open:
        yield from proof.opened.closed_sets(layer)
        return
    depths, entered = proof.reach.depths, proof.reach.entered
    for closed in closed_sets(proof.reach, layer):
        first = min(closed, key=lambda state: (depths[entered[layer, state]], state))
        yield closed, proof.witness(entering, layer, first)


@check
def trap(evidence: Evidence) -> Iterator[Finding]:
    """A state that can be left, but not always."""
    for proof, layer in _decided_layers(evidence):
        for state, witness in _traps(proof, layer):
            name = evidence.state_name(layer, state)
            yield Finding(
                "state.trap",
                "error",
                {"layer": evidence.layer_name(layer), "state": name},
                f"{name} can become a trap: {'after this take ' if witness else ''}no input ever leads out of it.",
                "free",
                "proved",
                why="Its ways out need something that has passed by then, such as a short stay. "
                "Give it a way out that stays open.",
            ).with_witness(witness, proof.is_open)


def _traps(proof: Proof, layer: int) -> Iterator[tuple[int, Witness | None]]:
    """Traps, or what may be one, that are no dead ends, with the takes that lead there."""
    caught = sorted(traps(proof.reach, layer).items())
    if not proof.is_open:
        yield from ((state, proof.witness(reaching, place)) for state, place in caught)
        return
    opened = proof.opened
    found = {state: opened.reaching(layer, place) for state, place in caught}
    ends = {state for closed, _ in opened.closed_sets(layer) if len(closed) == 1 for state in closed}
    for state in [*found, *(state for state in opened.may_trap(layer) if state not in found)]:
        if state not in ends:
            yield state, found.get(state)


@check
def no_rest(evidence: Evidence) -> Iterator[Finding]:
    """Left alone, the character never comes to rest."""
    for proof in evidence.decided:
        for one, witness in _restless(proof):
            states = names(proof.reach, one.layer, one.states)
            stays = f"stays in {states[0]}" if len(states) == 1 else f"goes round between {listed(states)}"
            ticks = proof.reach.depths[one.place] if witness is None or witness.take is None else witness.take.ticks
            yield Finding(
                "state.no-rest",
                "warning",
                {
                    "layer": evidence.layer_name(one.layer),
                    **({"state": states[0]} if len(states) == 1 else {"states": states}),
                },
                f"Left alone after this take, with everything at rest, {evidence.layer_name(one.layer)} {stays} and never "
                f"comes to a state that is declared restful.",
                "free",
                "proved",
                why=f"It is so from tick {ticks} on. Add a way from {listed(states)} to a restful state that opens by itself, "
                f"or declare where it stays restful.",
            ).with_witness(witness, proof.is_open)


def _restless(proof: Proof) -> Iterator[tuple[Restless, Witness | None]]:
    if proof.is_open:
        yield from proof.opened.restless(tuple(proof.restless))
        return
    for one in proof.restless:
        yield one, proof.witness(left_alone, one)


@check
def unreachable(evidence: Evidence) -> Iterator[Finding]:
    """A state no input sequence enters."""
    for _, layer in _decided_layers(evidence):
        leading = Counter(transition.to for transition in evidence.character.layers[layer].transitions)
        for name in evidence.machine.layers[layer].states:
            if (evidence.layer_name(layer), name) not in evidence.lost:
                continue
            if not leading[name]:
                why = "No transition leads to it. Add one, or remove the state."
            else:
                why = f"Of the {counted(leading[name], 'transition')} to it, none can ever be taken."
            yield Finding(
                "state.unreachable",
                "error",
                {"layer": evidence.layer_name(layer), "state": name},
                f"{name} can never be reached: no input sequence, however long, enters it.",
                "free",
                "proved",
                why=why,
            )


def _decided_layers(evidence: Evidence) -> Iterator[tuple[Proof, int]]:
    for proof in evidence.decided:
        for layer in proof.layers:
            yield proof, layer
