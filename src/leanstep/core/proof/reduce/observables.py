"""What matters where: the stays, playheads and edges that anything can tell while a state is active."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import NamedTuple

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.slices import Slice, reachable_from

_TURNS = {"<": (0,), ">=": (0,), "<=": (1,), ">": (1,), "=": (0, 1), "!=": (0, 1)}
"""From how many ticks beyond the one it is compared with on a stay compares otherwise than before."""


AgeKey = int | tuple[int, int]
"""A button whose press has an age, or a (layer, state) that was left so long ago."""


def age_turns(part: Slice) -> dict[AgeKey, tuple[int, ...]]:
    """By button, and by (layer, state), the ages of its press, and of leaving it, from which on something reads differently."""
    found: dict[AgeKey, set[int]] = defaultdict(set)
    rows = (row for layer in part.layers for row in part.machine.layers[layer].ways)
    for one in (*part.expressions, *(use for row in rows for way in row for use in way.uses)):
        if isinstance(one, x.Buffered):
            found[one.symbol].add(one.ticks)
        elif isinstance(one, x.SinceLeft):
            found[one.layer, one.state] |= {one.ticks + turn for turn in _TURNS[one.operator]}
    return {key: tuple(sorted(turns)) for key, turns in found.items()}


class _Read(NamedTuple):
    """What conditions ask for: the buttons whose edges, by layer the stays from which on they say otherwise than for shorter
    ones, the layers whose clip may be over."""

    buttons: frozenset[int]
    stays: dict[int, set[int]]
    clips: set[int]

    @classmethod
    def of(cls, conditions: Iterable[x.Expression]) -> _Read:
        """All that these conditions ask for."""
        atoms = [atom for condition in conditions for atom in x.parts(condition)]
        stays = defaultdict[int, set[int]](set)
        for atom in atoms:
            if isinstance(atom, x.Stayed):
                stays[atom.layer] |= {atom.ticks + later for later in _TURNS[atom.operator]}
        buttons = frozenset(atom.symbol for atom in atoms if isinstance(atom, x.Pressed | x.Released))
        return cls(buttons, stays, {atom.layer for atom in atoms if isinstance(atom, x.ClipOver)})


class Layout:
    """By layer of a slice and state: ``thresholds`` are the stays from which on something reads differently, in order,
    ``caps`` the stay up to which they have to be told apart; ``heads``: the playhead matters; ``edges`` are the buttons
    whose edges are asked for; ``age_turns`` those of :func:`age_turns`."""

    def __init__(self, machine: Machine, part: Slice, turns: dict[AgeKey, tuple[int, ...]]) -> None:
        self.machine = machine
        self.slice = part
        self.age_turns = turns
        self.layers = tuple(sorted(part.layers))
        self._watched: dict[tuple[int, ...], frozenset[int]] = {}
        operands = [machine.memories[index].operand for index in sorted(self.slice.memories)]
        always = _Read.of(operands)
        self.edges: dict[int, list[frozenset[int]]] = {}
        self.thresholds: dict[int, list[list[int]]] = {}
        self.heads: dict[int, list[bool]] = {}
        pressable = frozenset(button for button, _ in machine.buffers)
        for at in self.layers:
            # what memories ask is asked in every state
            buttons = always.buttons | pressable
            reads = [_Read.of(way.condition for way in row if way.condition) for row in machine.layers[at].ways]
            over = [at in read.clips or at in always.clips for read in reads]
            edges, thresholds, heads = [], [], self._playheads(at, over)
            for state, read in enumerate(reads):
                edges.append(read.buttons | buttons)
                found = read.stays[at] | always.stays[at]
                picture = machine.pictures[at][state]
                if over[state] and picture is not None and picture.followed and not heads[state]:
                    found.add(picture.common.timing.ticks)
                thresholds.append(sorted(found - {0}))
            self.edges[at], self.thresholds[at], self.heads[at] = edges, thresholds, heads
        # a stay is read a tick later, but for ticks on which time stands still
        later = 0 if any(act.do == "freeze" for act in self.slice.acts) else 1
        self.caps = {at: [max(row[-1] - later, 0) if row else 0 for row in self.thresholds[at]] for at in self.layers}

    def of(self, layer: int, state: int) -> tuple[object, ...]:
        """All of what matters in a state."""
        rows = (
            self.caps[layer][state],
            self.thresholds[layer][state],
            self.heads[layer][state],
            self.edges[layer][state],
        )
        return (*rows, self.idle_cues(layer, state))

    def _playheads(self, layer: int, over: list[bool]) -> list[bool]:
        """By state whether the playhead matters; ``over`` are the states that ask whether the clip is over."""
        reels = self.slice.reels_followed(layer)
        table = self.machine.layers[layer]
        kept = {(state, to) for state, to in table.kept_phases if state in reels and to in reels}
        needed = {state for state, reel in reels.items() if self.slice.reads_playhead(layer, reel)}
        needed |= {state for _, state in kept if over[state] or reels[state].cues}
        needed = reachable_from(needed, {(to, state) for state, to in kept})
        return [state in needed for state in range(len(table.states))]

    def idle_cues(self, layer: int, state: int) -> bool:
        """Whether a state's clip has marks that decide nothing, so that no stay is told apart for them."""
        picture = self.machine.pictures[layer][state]
        return picture is not None and picture.followed and bool(picture.common.cues) and not self.heads[layer][state]

    def watched(self, states: tuple[int, ...]) -> frozenset[int]:
        """Buttons whose edges are asked for while these states are active."""
        if states not in self._watched:
            self._watched[states] = frozenset().union(*(self.edges[at][states[at]] for at in self.layers))
        return self._watched[states]

    def stay_class(self, layer: int, state: int, stay: int) -> int:
        """The stay, rounded down to where something last began to read differently."""
        reached = 0
        if layer in self.thresholds:
            for threshold in self.thresholds[layer][state]:
                if threshold > stay:
                    break
                reached = threshold
        return reached
