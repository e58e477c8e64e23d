"""Marks that never fire or are cut off, what stays set for good, and conditions between which only their order decides."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from hashlib import blake2b

import numpy as np

from leanstep.core.graph.effects import Act
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.proof.reduce.slices import acts_of, reels_of
from leanstep.core.proof.search.reach import Reach, first_places
from leanstep.core.proof.states.dimensions import Locks, Values
from leanstep.core.proof.states.free_world import FreeWorld, Halt, Tried
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.verdicts.closed_sets import can_come_to, edges_of
from leanstep.core.proof.verdicts.marks import Cut, Marks


@dataclass(frozen=True)
class Missed:
    """A mark of a state's clip that a transition cuts off, first by ``cut``.  ``gives_back``: it undoes what was set
    before."""

    layer: int
    state: int
    name: str
    cut: Cut
    gives_back: bool


@dataclass(frozen=True)
class Stuck:
    """A flag of the graph or a lock that stays set for good from ``place`` on.  ``act`` is what would set it back."""

    name: str
    place: int
    act: Act


@dataclass(frozen=True)
class Contest:
    """Two ordinary transitions of one owner, true together in ``place`` with ``masks``; ``first`` is taken."""

    layer: int
    first: int
    other: int
    place: int
    masks: Masks


def shown_marks(
    reach: Reach, marks: Marks, layers: tuple[int, ...]
) -> dict[tuple[str, str], dict[tuple[int, int], bool]]:
    """(clip, mark) of every mark whose clip some state shows that these layers can be in; by each such (layer, state) whether
    the mark can fire in it."""
    found: dict[tuple[str, str], dict[tuple[int, int], bool]] = {}
    for layer, state in reach.entered:
        picture = reach.machine.pictures[layer][state]
        if layer not in layers or picture is None:
            continue
        for reel in picture.reels:
            for cue in reel.cues:
                sometimes = not picture.followed or cue.event not in picture.common.events
                fires = sometimes or (layer, state, cue.name) in marks.fired
                found.setdefault((reel.clip.name, cue.name), {})[layer, state] = fires
    return found


def missed_marks(reach: Reach, marks: Marks, layers: tuple[int, ...]) -> list[Missed]:
    """Marks that fire if they are left to, and can be cut off: those of clips that play once, and those that give
    something back which leaving the state does not give back as well."""
    found = []
    for (layer, state, name), cut in marks.missed.items():
        picture = reach.machine.pictures[layer][state]
        if picture is None or layer not in layers or (layer, state, name) not in marks.fired:
            continue
        reel = picture.common
        gives_back = is_given_back(reach.machine, layer, state, name)
        if gives_back or not reel.timing.repeats:
            found.append(Missed(layer, state, name, cut, gives_back))
    return sorted(found, key=lambda one: (one.layer, one.state, one.name))


def is_given_back(machine: Machine, layer: int, state: int, name: str) -> bool:
    """Whether a mark of a state's clip gives something back that is not given back on leaving, whichever way."""
    picture = machine.pictures[layer][state]
    on_leave = machine.layers[layer].leave[state]
    cues = picture.common.cues if picture is not None else ()
    return any(sets_back(machine, act) and act not in on_leave for cue in cues if cue.name == name for act in cue.acts)


def sets_back(machine: Machine, act: Act) -> bool:
    """Whether an effect undoes what was set: it frees a lock, or sets something to its start."""
    return act.do == "unlock" or (act.do == "set" and act.value == machine.symbols[act.target].first)


def stuck(reach: Reach, layers: tuple[int, ...]) -> list[Stuck]:
    """Flags of the graph and locks that something sets back, and that can nevertheless stay set for good.

    A situation from which a layer that changes it can come to a declared ending does not count: there the story is over.
    """
    machine, world = reach.machine, reach.world
    found = []
    source, target = edges_of(reach)
    for act in _backs(machine, layers):
        if act.do == "unlock":
            name = machine.locks[act.target]
            clear = [not world.part_of(place, Locks, 0) >> act.target & 1 for place in reach.places]
        else:
            at = world.slice.values.index(act.target)
            name = machine.symbols[act.target].name
            clear = [world.part_of(place, Values, ())[0][at] == act.value for place in reach.places]
        changing = [layer for layer in world.layers if _changes(machine, layer, act)]
        over = [
            any(place.states[layer] in machine.layers[layer].endings for layer in changing) for place in reach.places
        ]
        escapes = np.array(clear) | np.array(over)
        can_come_to(escapes, source, target)
        caught = np.flatnonzero(~escapes).tolist()
        if caught:
            found.append(Stuck(name, min(caught, key=lambda place: (reach.depths[place], place)), act))
    return found


def _changes(machine: Machine, layer: int, back: Act) -> bool:
    """Whether a layer's effects or spans change what an effect sets back."""
    about = ("lock", "unlock") if back.do == "unlock" else ("set",)
    if any(act.do in about and act.target == back.target for act in acts_of(machine, layer)):
        return True
    windows = (window for reel in reels_of(machine, layer) for window in reel.windows)
    return back.do == "set" and any(window.hold == back.target for window in windows)


def _backs(machine: Machine, layers: tuple[int, ...]) -> list[Act]:
    """What sets flags back to their start and frees locks, once for each."""
    found: dict[tuple[bool, int], Act] = {}
    for layer in layers:
        for act in acts_of(machine, layer):
            about_flag = act.do == "set" and machine.symbols[act.target].kind == "flag"
            if (about_flag or act.do == "unlock") and sets_back(machine, act):
                found.setdefault((act.do == "unlock", act.target), act)
    return list(found.values())


def contests(reach: Reach, layers: tuple[int, ...]) -> list[Contest]:
    """Pairs of ordinary transitions of one owner that lead to different states and can be true together, the first of
    them taken."""
    found: dict[tuple[int, int, int], Contest] = {}
    for view, place in first_places(reach).items():
        for layer in layers:
            if view.frozen or view.blocked[layer]:
                continue
            for pair, masks in together_in(reach.world, view, layer, found).items():
                found[layer, *pair] = Contest(layer, *pair, place, masks)
    return [found[key] for key in sorted(found)]


def together_in(
    world: FreeWorld,
    view: View,
    layer: int,
    known: Collection[tuple[int, int, int]],
    trusting: bool = True,
) -> dict[tuple[int, int], Masks]:
    """The pairs of transitions that can be true together in one view and are not ``known``, each with values that show it; where
    what is open is not to be trusted (``trusting``), those that trust in least of it."""
    ways = world.machine.layers[layer].ways[view.states[layer]]
    rivals = _rivals(ways)
    for position, way in enumerate(ways):
        for later in np.flatnonzero(rivals[position]) if known else ():
            rivals[position, later] = (layer, way.index, ways[later].index) not in known
    pairs = int(rivals.sum())
    if not pairs:
        return {}
    key = (view, layer, blake2b(rivals.tobytes()).digest())
    if trusting and key in world.kept.rivals:
        return world.kept.rivals[key]
    found = dict[tuple[int, int], Masks]()
    if trusting:
        world.kept.rivals[key] = found
    judges = world.conditions[layer][view.states[layer]]

    def answer(masks: Masks, then: Tried | Halt | None) -> Split | bool:
        step = world.evaluate(view, masks, then, until=layer)
        if isinstance(step, Split):
            return step
        setting = step.setting
        first = -1
        for position, judge in enumerate(judges):
            if first >= 0 and not rivals[first, position]:
                continue
            true = judge(setting) if judge is not None else False
            if true is None:
                return Split(setting.symbol, setting.part, step)
            if true and first < 0:
                first = position
            elif true and (ways[first].index, ways[position].index) not in found:
                allowed = world.completed(masks)
                if allowed is not None:
                    found[ways[first].index, ways[position].index] = allowed
        return len(found) == pairs

    world.divide(world.open_masks(view), answer, None if trusting else world.trust)
    return found


def where_together(layer: int, first: int, other: int, world: FreeWorld, view: View) -> Masks | None:
    """Values with which two transitions are true together in a view, the first of them taken."""
    if view.frozen or view.blocked[layer]:
        return None
    if not {first, other} <= {way.index for way in world.machine.layers[layer].ways[view.states[layer]]}:
        return None
    some = together_in(world, view, layer, ()).get((first, other))
    if some is None or not world.trust(some):
        return some
    return together_in(world, view, layer, (), trusting=False)[first, other]


def _rivals(ways: Sequence[CompiledTransition]) -> np.ndarray:
    """Which ordinary ways (columns) come after which (rows) of the same owner and lead elsewhere."""
    owners = {way.owner: number for number, way in enumerate(ways)}
    owner, target, urgent = np.array([(owners[way.owner], way.target, way.urgent) for way in ways]).reshape(-1, 3).T
    ordinary = urgent == 0
    return np.triu((owner[:, None] == owner) & (target[:, None] != target) & ordinary[:, None] & ordinary, 1)
