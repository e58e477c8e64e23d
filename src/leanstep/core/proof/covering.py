"""Takes for what the takes of a character leave out: found by playing, shrunk, and told what they show."""

from __future__ import annotations

from dataclasses import dataclass

from msgspec.structs import replace

from leanstep.core.character.edits import free_name
from leanstep.core.character.model import Expectation, Take
from leanstep.core.deadline import look
from leanstep.core.defaults import TICKS
from leanstep.core.naming.wording import described
from leanstep.core.proof.body_world import BodyWorld
from leanstep.core.proof.search import Limits
from leanstep.core.proof.written_out import written_out
from leanstep.core.rehearsal.coverage import Coverage, Key, coverage


@dataclass(frozen=True)
class Rest:
    """Takes that cover more, and what they still leave out, a sentence each."""

    takes: tuple[Take, ...]
    left: tuple[str, ...]


MOST_TICKS = 2 * TICKS
"""Ticks that are played to find them, unless said."""


def takes_for_the_rest(covered: Coverage, ticks: int = MOST_TICKS, limits: Limits | None = None) -> Rest:
    """Takes in which a body enters the states and takes the transitions that are not covered, as few as do, each as short as it
    could be made and expecting the state it comes to.

    The body world is searched for so many ``ticks``, within ``limits``.
    """
    machine = covered.machine
    character = machine.character
    states = {(layer, at) for layer, table in enumerate(machine.layers) for at in range(len(table.states))}
    states -= covered.impossible_states | set(covered.states)
    ways = set(covered.conditions) - covered.impossible_ways - set(covered.transitions)
    if not states and not ways:
        return Rest((), ())
    world = BodyWorld(written_out(machine))
    found = world.search(states, ways, ticks, limits or Limits(progress=_going_on))
    taken = [take.name for take in character.takes]
    takes: list[tuple[Take, set[Key]]] = []
    wanted = ways & set(found.transitions)
    while wanted:
        look()
        key = min(wanted)
        layer, index = key
        to = character.layers[layer].transitions[index].to
        made = world.take(found.transitions[key], ("transition", layer, index))
        name = free_name(f"to {to}", taken)
        taken.append(name)
        expects = (Expectation(what="end-in", name=to, layer=machine.layers[layer].name if layer else ""),)
        take = replace(made, name=name, expects=expects)
        does = set(coverage(machine, [take]).transitions) & ways
        if key not in does:
            # what the shrunk take shows is what counts
            wanted.discard(key)
            continue
        takes.append((take, does))
        wanted -= does
    kept = list(takes)
    for one in takes:
        others = set[Key]().union(*(does for other, does in kept if other is not one[0]))
        if one[1] <= others:
            kept.remove(one)
    reached = set[Key]().union(*(does for _, does in kept))
    left = [
        f"{described(character.layers[layer].transitions[index])} was not taken by playing {found.ticks} ticks"
        for layer, index in sorted(ways - reached)
    ]
    return Rest(tuple(take for take, _ in kept), tuple(left))


def _going_on(ticks: int) -> bool:
    """Whether nobody has stopped the work; raises :class:`Stopped` where somebody did."""
    look()
    return True
