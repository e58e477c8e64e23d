"""What is left of the past once values have been kept until every memory says the same for good."""

from __future__ import annotations

from leanstep.core.conditions import expression as x
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.values.predicates import Masks


def left_for_sure(reach: Reach, layer: int) -> set[int]:
    """States that are left, wherever they are entered from, when some values are kept until every memory has settled."""
    table, views = reach.machine.layers[layer], dict.fromkeys(reach.views)
    last: dict[int, int] = {}
    for view in views:
        last[view.states[layer]] = max(last.get(view.states[layer], 0), view.stays[layer])
    found = set[int]()
    for view in views:
        state = view.states[layer]
        if view.stays[layer] == last[state] and not any(way.target == state for way in table.ways[state]):
            for position, outcome in enumerate(reach.world.outcomes(view)):
                boxes = reach.world.boxes(view, position) if outcome.fired[layer] >= 0 else ()
                if any(_when_settled(reach, box) for box in boxes):
                    found.add(state)
    return found


def asks_for_ages(reach: Reach, layer: int, state: int) -> bool:
    """Whether a transition from a state asks for ages that are open."""
    ways = reach.machine.layers[layer].ways[state] if not reach.world.clocked else ()
    parts = (part for way in ways if way.condition is not None for part in x.parts(way.condition))
    return any(isinstance(part, x.Buffered | x.SinceLeft) for part in parts)


def _when_settled(reach: Reach, box: Masks) -> bool:
    """Whether values of a box are allowed and every memory may have settled with them, all states been left long ago, and buttons
    been pressed just now."""
    world, masks = reach.world, list(box)
    for symbol, mask in world.past.items():
        masks[symbol] &= mask
    for atom, symbol in world.opened.items():
        if isinstance(atom, x.SinceLeft):
            masks[symbol] &= 0b10 if atom.operator in (">", ">=", "!=") else 0b01
        elif isinstance(atom, x.Buffered) and not _can_press(reach, atom, box):
            masks[symbol] &= 0b01
    return all(masks) and world.completed(tuple(masks)) is not None


def _can_press(reach: Reach, atom: x.Buffered, box: Masks) -> bool:
    """Whether a button can be let go and pressed while values of a box are kept, without a memory looking on; where a press counts
    for one tick, so that it is held on that."""
    world, button = reach.world, atom.symbol
    operands = (world.machine.memories[index].operand for index in world.slice.memories)
    if any(button in x.symbols_in(operand) for operand in operands) or (atom.ticks == 1 and box[button] != 0b10):
        return False
    ways = ((*box[:button], held, *box[button + 1 :]) for held in (0b01, 0b10))
    return all(world.completed(one) is not None for one in ways)
