"""Strings of strikes: which action links into which, and which go round for ever on a figure that never comes free.

An action links into another where the other's first active tick comes before the stun of the first ends.  What the numbers let go
round is played on the straw man: hands take every way into an action as soon as they can.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import networkx as nx
from msgspec.structs import replace

from leanstep.core.character.action_boxes import boxes_on
from leanstep.core.character.takes import SecondFigure, Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import Action, actions, controls_of
from leanstep.core.rehearsal.contact import Side, meet
from leanstep.core.rehearsal.second_figures import figure_of, second_machine
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import recorded

ROUNDS = 3
"""How often a string goes round before it is called endless."""
MOST, PATIENCE = 900, 60
"""Ticks for which one is played, and those that its first strike may be late."""


def gap(action: Action, other: Action, contact: int) -> int | None:
    """The ticks from contact on an active tick of an action to the first active tick of another that follows as soon as it can; None
    where nothing follows."""
    free = action.timed.free
    early = action.let_go.tick if action.let_go is not None else None
    begins = min((one for one in (free, early) if one is not None), default=None)
    return None if begins is None else begins - contact + other.timed.starts_in


def links(action: Action, other: Action) -> bool:
    """Whether contact on some active tick of an action leaves the struck figure stunned until the other is active."""
    found = gap(action, other, action.timed.last)
    return found is not None and found < action.strike.stun


@dataclass(frozen=True)
class String:
    """Strikes that go round: the clips of one round, and a take that shows ``ROUNDS`` of them on the straw man."""

    clips: tuple[str, ...]
    take: Take


def endless(machine: Machine) -> list[String]:
    """The strings that go round for ever, one for each set of clips."""
    some = [one for one in actions(machine) if one.states and one.strike.stun]
    graph = nx.DiGraph((one.clip.name, other.clip.name) for one in some for other in some if _at_once(one, other))
    rounds = [clips for clips in nx.strongly_connected_components(graph) if _goes_round(graph, clips)]
    found: dict[frozenset[str], String] = {}
    for clips in rounds:
        for first in (one for one in some if one.clip.name in clips):
            played = _played(machine, [first, *(one for one in some if one is not first and one.clip.name in clips)])
            if played is not None:
                found.setdefault(frozenset(played.clips), played)
                break
    return list(found.values())


def _at_once(one: Action, other: Action) -> bool:
    """Whether it links from contact on its first active tick, as figures stand that are struck again and again."""
    found = gap(one, other, one.timed.starts_in)
    return found is not None and found < one.strike.stun


def _goes_round(graph: nx.DiGraph, clips: set[str]) -> bool:
    return len(clips) > 1 or any(graph.has_edge(one, one) for one in clips)


def _played(machine: Machine, some: Sequence[Action]) -> String | None:
    """Play strikes on the straw man, the first of these whenever it can be; None where he comes free."""
    figure = figure_of(machine)
    straw = figure_of(second_machine(machine, SecondFigure()))
    begun = figure.begun(Stepper(machine).first())
    x = begun.situation.body.x + _reach(some[0]) * figure.scale[0] + straw.machine.character.body.width / 4
    written = SecondFigure(x=round(x), y=round(begun.situation.body.y))
    sides = begun, straw.first(written.x, written.y, True)
    rows: list[Mapping[int, Symbolic]] = []
    # the first action is preferred: it is looked for before the others
    struck, wanted = list[str](), [{*one.states} for one in some]
    for tick in range(MOST):
        rows.append(_inputs(machine, sides[0], wanted, rows[-1] if rows else {}))
        met = meet(figure, straw, sides, (rows[-1], {}))
        sides = met.sides
        if struck and straw.is_free(sides[1].situation):
            return None
        struck += [one.clip for one in met.touches[0] if not one.guarded]
        if not struck and tick > some[0].timed.starts_in + PATIENCE:
            return None
        lap = _lap(struck)
        if lap:
            made = recorded(machine, f"{lap[0]} for ever", rows)
            return String(tuple(lap), replace(made, second=written))
    return None


def _lap(struck: Sequence[str]) -> list[str]:
    """What has gone round so often at the end of a list; empty where nothing has."""
    for size in range(1, len(struck) // ROUNDS + 1):
        lap = list(struck[-size:])
        if list(struck[-size * ROUNDS :]) == lap * ROUNDS:
            return lap
    return []


def _inputs(
    machine: Machine, side: Side, wanted: Sequence[set[tuple[int, int]]], before: Mapping[int, Symbolic]
) -> dict[int, Symbolic]:
    """What hands do on a tick so that a way into one of these states is taken, the first of them where it can be; nothing is held
    where none can."""
    stepper = machine.once((endless, Stepper), lambda: Stepper(machine))
    idle: dict[int, Symbolic] = {index: machine.symbols[index].rest for index in before}
    for states in wanted:
        for layer in sorted({layer for layer, _ in states}):
            here = side.situation.states[layer]
            targets = {way.index: way.target for way in machine.layers[layer].ways[here]}
            if not any((layer, target) in states for target in targets.values()):
                continue
            for inputs in controls_of(machine, layer, here):
                taken = stepper.true_when_tried(side.situation, {**side.due.given, **idle, **inputs}, layer)
                if taken and (layer, targets[taken[0]]) in states:
                    return {**idle, **inputs}
    return idle


def _reach(action: Action) -> float:
    """How far an action reaches on its first active cels, in pixels from the foot."""
    clip = action.clip
    rights = [
        rect[0] + rect[2]
        for cel in range(len(clip.cels))
        for at, rect in boxes_on(clip, cel)
        if clip.boxes[at].kind == "strike"
    ]
    return max(rights, default=0.0) * 0.8


def promised(machine: Machine) -> Iterator[tuple[Action, Action, str]]:
    """What notes on states promise: an action, that into which it links, and the state."""
    some = actions(machine)
    by_name = {one.clip.name: one for one in some}
    layers = machine.character.layers
    by_state = {layers[layer].states[state].name: one for one in some for layer, state in one.states}
    for one in some:
        for layer, state in one.states:
            written = layers[layer].states[state]
            for other in {**by_name, **by_state}.items():
                if f"links into {other[0]}".lower() in written.note.lower():
                    yield one, other[1], written.name
