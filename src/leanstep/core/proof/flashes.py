"""States that only flash by: entered and left again by an ordinary transition while the values stay."""

from __future__ import annotations

from dataclasses import dataclass, field

from leanstep.core.proof.flicker import quick_ways
from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.places import Split, View
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach
from leanstep.core.proof.stays import stays_of


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
    return [flash for layer in layers for flash in _Search(reach, layer).run()]


@dataclass
class _Search:
    """Looks for the flashes of one layer's states, from the earliest ways in on."""

    reach: Reach
    layer: int
    entering: dict[tuple[View, int, Masks], Masks | None] = field(default_factory=dict)

    def run(self) -> list[Flash]:
        reach, layer = self.reach, self.layer
        best: dict[int, Flash] = {}
        fleeting = _left_at_once(reach, layer)
        stays = stays_of(reach, layer)
        for number in reach.nearest_first():
            place, depth = reach.places[number], reach.depths[number]
            if not fleeting - {place.states[layer]} or not reach.successors[number]:
                continue
            for position, outcome in enumerate(reach.world.outcomes(reach.views[number])):
                if outcome.fired[layer] < 0:
                    continue
                state = reach.machine.layers[layer].ways[place.states[layer]][outcome.fired[layer]].target
                known = best.get(state)
                if state not in fleeting or state == place.states[layer] or (known and known.ticks <= depth + 2):
                    continue
                after = reach.places[reach.successors[number][position][0]]
                for stay in stays.of(after):
                    ticks = depth + 1 + stay.ticks
                    onward = not stay.way.urgent and stay.way.target != state
                    if onward and (known is None or ticks < known.ticks):
                        masks = self._enters(reach.views[number], position, stay.box)
                        if masks is not None:
                            kept = _calm(reach.world, masks, stay.box)
                            to = stay.way.target
                            known = best[state] = Flash(layer, state, to, number, masks, kept, stay.ticks, ticks)
        return [best[state] for state in sorted(best)]

    def _enters(self, view: View, position: int, calm: Masks) -> Masks | None:
        """Values that bring an outcome of a view about and are, but for pulses, among those kept."""
        key = (view, position, calm)
        if key not in self.entering:
            world = self.reach.world
            wanted = world.outcomes(view)[position]
            shown: list[Masks] = []

            def answer(masks: Masks) -> Split | bool:
                outcome = world.tick(view, masks)
                if isinstance(outcome, Split):
                    return outcome
                if outcome.brings(wanted):
                    shown.extend(_kept_up(world, masks, calm))
                return bool(shown)

            masks = tuple(
                opened if _brief(world, index) else opened & kept
                for index, (opened, kept) in enumerate(zip(world.open_masks(view), calm))
            )
            world.divide(masks, answer)
            self.entering[key] = shown[0] if shown else None
        return self.entering[key]


def _brief(world: FreeWorld, index: int) -> bool:
    """Whether what a symbol stands for may be another on the tick of entry: a pulse, or the past."""
    symbols = world.machine.symbols
    return index in world.open_past or (index < len(symbols) and symbols[index].momentary)


def _calm(world: FreeWorld, masks: Masks, calm: Masks) -> Masks:
    """The same values without pulses, with a settled past."""
    return tuple(calm[index] if _brief(world, index) else mask for index, mask in enumerate(masks))


def _kept_up(world: FreeWorld, masks: Masks, calm: Masks) -> list[Masks]:
    """A part of ``masks`` that the assumptions allow, and go on to allow without pulses; none if there is none."""
    stack = [masks]
    while stack:
        current = stack.pop()
        answers = world.assumed(current), world.assumed(_calm(world, current, calm))
        needed = next((one for one in answers if isinstance(one, Split)), None)
        if not all(answers):
            continue
        if needed is None:
            return [current]
        stack.extend(needed.of(current))
    return []


def _left_at_once(reach: Reach, layer: int) -> set[int]:
    """States some ordinary transition leaves within the window without any pulse or edge."""
    return {state for state, target, urgent in quick_ways(reach, layer) if not urgent and state != target}
