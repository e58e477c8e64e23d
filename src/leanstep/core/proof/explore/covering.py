"""Takes for what the takes of a character leave out: found by playing, shrunk, and told what they show."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from msgspec.structs import replace

from leanstep.core.character.edits import free_name
from leanstep.core.character.takes import Expectation, Take
from leanstep.core.graph.machine import Machine
from leanstep.core.naming.wording import described
from leanstep.core.proof.explore.body_world import BodyWorld
from leanstep.core.proof.explore.covering_parts import takes_for_parts
from leanstep.core.proof.reduce.inlining import written_out
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reach import Reach, nearest_first
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.witness.building import on_tick
from leanstep.core.proof.witness.shrinking import Witness, witness_of
from leanstep.core.rehearsal.coverage import Coverage, Decided, Key, coverage
from leanstep.core.rehearsal.takes import from_outside, inputs_of, rehearse
from leanstep.core.work import DEFAULT, Work, look


@dataclass(frozen=True)
class Rest:
    """Takes that cover more, and what they still leave out, a sentence each."""

    takes: tuple[Take, ...]
    left: tuple[str, ...]


MOST_TICKS = 40_000
"""Ticks that are played to find them, unless said."""


_SITUATIONS = 4_000
"""Situations in which all values may jump that are looked at for transitions which playing did not take."""
PART_TICKS = 8_000
"""Ticks that are tried for parts of conditions."""


def takes_for_the_rest(covered: Coverage, ticks: int = MOST_TICKS, work: Work = DEFAULT) -> Rest:
    """Takes in which a body enters the states, takes the transitions and has the parts of conditions decide that are not covered,
    as few as do, each as short as it could be made and expecting the state it comes to.

    The body world is searched for so many ``ticks``; ``work`` is told how many were.
    """
    machine = covered.machine
    states = {(layer, at) for layer, table in enumerate(machine.layers) for at in range(len(table.states))}
    states -= covered.impossible_states | set(covered.states)
    ways = set(covered.conditions) - covered.impossible_ways - set(covered.transitions)
    parts = covered.undecided()
    if not states and not ways and not parts:
        return Rest((), ())
    world = BodyWorld(written_out(machine))
    found = world.search(states, ways | {key for key, _, _ in parts}, ticks, work)
    made, leading = _Made(machine, ways, parts), dict[Key, Take]()
    for key in sorted(found.transitions):
        if key in made.ways or any(one[0] == key for one in made.parts):
            look()
            leading[key] = world.take(found.transitions[key], ("transition", *key))
            made.add(leading[key], key)
    for take, key in _taken_freely(machine, made.ways, _SITUATIONS):
        if world.may_be(world.whole(inputs_of(machine, take))):
            leading[key] = take
            made.add(take, key)
    for take, key in takes_for_parts(covered, world, leading, set(made.parts), PART_TICKS):
        made.add(take, key)
    left = [
        f"{described(machine.character.layers[layer].transitions[index])} was not taken by playing {found.ticks} ticks"
        for layer, index in sorted(made.ways)
    ]
    for key, at, value in sorted(one for one in made.parts if one[0] not in made.ways):
        name = described(machine.character.layers[key[0]].transitions[key[1]])
        words = covered.conditions[key].words[at]
        left.append(f"{name}: “{words}” was not seen to decide while it is {'true' if value else 'false'}")
    return Rest(made.fewest(), tuple(left))


def _taken_freely(machine: Machine, ways: set[Key], situations: int) -> Iterator[tuple[Take, Key]]:
    """Takes that end with a transition where all values may jump, without what they set of the body: hands and the game may do the
    same where there is one."""
    outside = {symbol.name for at, symbol in enumerate(machine.symbols) if from_outside(machine, at, "body")}
    for part, layers in slices(machine):
        wanted = {key for key in ways if key[0] in layers}
        if not wanted:
            continue
        reach = explore(FreeWorld(part), Work(situations))
        for key in sorted(wanted & reach.fired):
            witness = _firing(reach, key)
            if witness is None or witness.take is None or not witness.replays:
                continue
            changes = tuple(
                replace(change, set={name: value for name, value in change.set.items() if name in outside})
                for change in witness.take.changes
            )
            yield replace(witness.take, world="body", changes=changes), key


def _firing(reach: Reach, key: Key) -> Witness | None:
    """The shortest take that ends with a transition."""
    layer, index = key
    for number in nearest_first(reach):
        view = reach.views[number]
        for outcome in reach.world.outcomes(view) if reach.successors[number] else ():
            fired = outcome.fired[layer]
            if fired >= 0 and reach.machine.layers[layer].ways[view.states[layer]][fired].index == index:
                return witness_of(reach, on_tick(reach, number, outcome.masks))
    return None


class _Made:
    """Takes, and what each shows of ``ways`` and ``parts`` that no other one has shown."""

    def __init__(self, machine: Machine, ways: set[Key], parts: set[Decided]) -> None:
        self.machine, self.ways, self.parts = machine, set(ways), set(parts)
        self._wanted: set[Key | Decided] = {*ways, *parts}
        self._takes: list[tuple[Take, set[Key | Decided]]] = []

    def add(self, take: Take, key: Key) -> None:
        """A take that was made for a transition; it is kept if it shows anything new."""
        machine = self.machine
        one = coverage(machine, [take])
        shows = self._wanted & {*one.transitions, *(part for way in one.seen for part in one.decided(way))}
        if not shows & {*self.ways, *self.parts}:
            return
        layer, to = key[0], machine.character.layers[key[0]].transitions[key[1]].to
        table = machine.layers[layer]
        ends = table.states[rehearse(machine, take).states(layer)[-1]]
        expects = (Expectation(what="end-in", name=ends, layer=table.name if layer else ""),)
        self._takes.append((replace(take, name=f"to {to}" if ends == to else f"not to {to}", expects=expects), shows))
        self.ways -= set(one.transitions)
        self.parts -= shows

    def fewest(self) -> tuple[Take, ...]:
        """The takes without those that show nothing which the others do not."""
        kept = list(self._takes)
        for one in self._takes:
            others = set[Key | Decided]().union(*(shows for take, shows in kept if take is not one[0]))
            if one[1] <= others:
                kept.remove(one)
        names = [take.name for take in self.machine.character.takes]
        for take, _ in kept:
            names.append(free_name(take.name, names))
        return tuple(replace(take, name=name) for (take, _), name in zip(kept, names[-len(kept) :]))
