"""States that only flash by: entered and left again by an ordinary transition while the values stay."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.core.proof.free_world import FreeWorld, Place, Split
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach


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
    best: dict[tuple[int, int], Flash] = {}
    world = reach.world
    order = sorted(range(len(reach.places)), key=lambda number: (reach.depths[number], number))
    fleeting = {layer: _left_at_once(reach, layer) for layer in layers}
    for number in order:
        if not reach.successors[number]:
            continue
        place = reach.places[number]
        outcomes = world.outcomes(reach.views[number])
        for layer in layers:
            entered = {
                after.target
                for outcome in outcomes
                if outcome.fired[layer] >= 0
                for after in [reach.machine.layers[layer].ways[place.states[layer]][outcome.fired[layer]]]
            }
            wanted = {
                state
                for state in entered & fleeting[layer] - {place.states[layer]}
                if (layer, state) not in best or reach.depths[number] + 2 < best[layer, state].ticks
            }
            if wanted:
                for flash in _from(reach, number, layer, wanted):
                    known = best.get((layer, flash.state))
                    if known is None or flash.ticks < known.ticks:
                        best[layer, flash.state] = flash
    return [best[key] for key in sorted(best)]


def _left_at_once(reach: Reach, layer: int) -> set[int]:
    """States some ordinary transition leaves within the window."""
    window = reach.machine.window
    found = set()
    for number, view in enumerate(reach.views):
        place = reach.places[number]
        state = place.states[layer]
        if state in found or place.stays[layer] + 1 >= window or not reach.successors[number]:
            continue
        ways = reach.machine.layers[layer].ways[state]
        for outcome in reach.world.outcomes(view):
            fired = outcome.fired[layer]
            if fired >= 0 and not ways[fired].urgent and ways[fired].target != state:
                found.add(state)
    return found


def _from(reach: Reach, number: int, layer: int, wanted: set[int]) -> list[Flash]:
    """The flashes of a layer's states that begin on the tick after a place: all values are tried, split as needed."""
    world, place = reach.world, reach.places[number]
    moved = world.move(place)
    found: list[Flash] = []

    def answer(masks: Masks) -> Split | bool:
        outcome = world.tick(moved.view, masks)
        if isinstance(outcome, Split):
            return outcome
        fired = outcome.fired[layer]
        target = reach.machine.layers[layer].ways[place.states[layer]][fired].target if fired >= 0 else -1
        if target not in wanted:
            return False
        calm = _calm(world, masks, outcome.held)
        after = world.after(place, moved, outcome)
        left = _left(world, layer, after, calm, reach.machine.window)
        if isinstance(left, Split):
            return left
        if left is not None:
            shown, kept = world.completed(masks), world.completed(calm)
            if shown is not None and kept is not None:
                to, stay = left
                ticks = reach.depths[number] + 1 + stay
                found.append(Flash(layer, target, to, number, shown, calm, stay, ticks))
        return False

    world.divide(world.open_masks(moved.view), answer)
    return found


def _calm(world: FreeWorld, masks: Masks, held: frozenset[int]) -> Masks:
    """The same values without pulses; buttons stay as they are, so that edges are off."""
    calm = list(masks)
    for index, symbol in enumerate(world.machine.symbols):
        if symbol.momentary and symbol.free:
            calm[index] = 0b01
    return world.settled(calm)


def _left(world: FreeWorld, layer: int, place: Place, masks: Masks, window: int) -> tuple[int, int] | Split | None:
    """The state a layer's state gives way to by an ordinary transition within the window while these values stay, and its
    stay; None when it does not."""
    if world.allowed(masks) is False:
        return None
    for stay in range(1, window):
        moved = world.move(place)
        outcome = world.tick(moved.view, masks)
        if isinstance(outcome, Split):
            return outcome
        fired = outcome.fired[layer]
        if fired >= 0:
            way = world.machine.layers[layer].ways[place.states[layer]][fired]
            return (way.target, stay) if not way.urgent and way.target != place.states[layer] else None
        place = world.after(place, moved, outcome)
    return None
