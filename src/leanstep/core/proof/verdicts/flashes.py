"""States that only flash by: entered and left again by an ordinary transition while the values stay."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from operator import and_

from leanstep.core.proof.search.reach import Reach, ways_in
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.verdicts.flicker import quick_ways
from leanstep.core.proof.verdicts.short_stays import stays_of


@dataclass(frozen=True)
class Flash:
    """A state that is entered from ``place`` with the values ``masks`` and left ``stay`` ticks later with the same, calm.

    ``to`` is the state it gives way to; ``ticks`` the fewest ticks until then.
    """

    layer: int
    state: int
    to: int
    place: int
    masks: Masks
    calm: Masks
    stay: int
    ticks: int


def flashes(reach: Reach, layers: tuple[int, ...]) -> list[Flash]:
    """Every state that can flash by, each with its earliest showing."""
    return [flash for layer in layers for flash in _of_layer(reach, layer)]


def _of_layer(reach: Reach, layer: int, only: set[int] | None = None) -> list[Flash]:
    """The flashes of one layer's states, or of ``only`` some, looked for from the earliest ways in on."""
    world = reach.world
    best: dict[int, Flash] = {}
    entering: dict[tuple[View, int], dict[Masks, Masks | None]] = defaultdict(dict)
    fleeting = _left_at_once(reach, layer) if only is None else only
    stays = stays_of(reach, layer)
    into = [way for way in ways_in(reach, layer) if reach.places[way[2]].states[layer] in fleeting]
    for number, position, after in sorted(into, key=lambda way: (reach.depths[way[0]], way[:2])):
        view, depth, state = reach.views[number], reach.depths[number], reach.places[after].states[layer]
        if len(best) == len(fleeting) and all(flash.ticks <= depth + 2 for flash in best.values()):
            break
        known = best.get(state)
        if state == view.states[layer] or (known and known.ticks <= depth + 2):
            continue
        entered = entering[view, position]
        for stay in stays.of(reach.places[after]):
            ticks = depth + 1 + stay.ticks
            if stay.way.urgent or stay.way.target == state or (known is not None and ticks >= known.ticks):
                continue
            if stay.box not in entered:
                entered[stay.box] = _enters(world, view, position, stay.box)
            masks = entered[stay.box]
            if masks is not None:
                calm = _calm(world, masks, stay.box)
                known = best[state] = Flash(layer, state, stay.way.target, number, masks, calm, stay.ticks, ticks)
    return [best[state] for state in sorted(best)]


def _enters(world: FreeWorld, view: View, position: int, calm: Masks) -> Masks | None:
    """Values that bring an outcome of a view about and are, but for pulses, among those kept."""
    brief = world.brief
    kept = tuple([world.full[at] if at in brief else mask for at, mask in enumerate(calm)])
    for masks in world.boxes(view, position):
        box = tuple(map(and_, masks, kept))
        if all(box):
            found = world.completed(box, also=lambda part: _calm(world, part, calm))
            if found is not None:
                return found
    return None


def _calm(world: FreeWorld, masks: Masks, calm: Masks) -> Masks:
    """The same values without pulses, with a settled past."""
    return tuple([calm[at] if at in world.brief else mask for at, mask in enumerate(masks)])


def _left_at_once(reach: Reach, layer: int) -> set[int]:
    """States some ordinary transition leaves within the window without any pulse or edge."""
    return {state for state, target, urgent in quick_ways(reach, layer, True) if not urgent and state != target}


def flash_of(layer: int, state: int, reach: Reach) -> Flash | None:
    """How a state only flashes by, as far as a search tells."""
    return next(iter(_of_layer(reach, layer, {state})), None)
