"""Numbers of a pattern made to fit another body: what was a walk there is a walk here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, replace
from typing import Any

import msgspec
import numpy as np

from leanstep.core.character.body import Body
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State
from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import text_of

Scale = Callable[[float], float]


def fitted(pattern: Character, body: Body) -> Character:
    """The pattern with its speeds and boxes as a body of other numbers needs them.

    Speeds are kept as shares between standing, walking and running, boxes as shares of the body's.
    """
    own = pattern.body
    if _numbers(own) == _numbers(body):
        return pattern
    speed = _between((0.0, own.walk_speed, own.run_speed), (0.0, body.walk_speed, body.run_speed))
    fall = _between((0.0, own.fall_speed), (0.0, body.fall_speed))
    shares = [new / old for new, old in zip(_numbers(body)[:2], _numbers(own)[:2])]

    def of_state(state: State) -> State:
        return msgspec.structs.replace(
            state,
            cap=None if state.cap is None else speed(state.cap),
            fall_cap=None if state.fall_cap is None else fall(state.fall_cap),
            box=tuple(float(round(side * share)) for side, share in zip(state.box, shares)),
            push=tuple(speed(part) for part in state.push),
            expects=_with_speeds(state.expects, speed),
        )

    def of_layer(layer: Layer) -> Layer:
        ways = (msgspec.structs.replace(way, when=_with_speeds(way.when, speed)) for way in layer.transitions)
        return msgspec.structs.replace(layer, states=tuple(map(of_state, layer.states)), transitions=tuple(ways))

    return msgspec.structs.replace(pattern, layers=tuple(map(of_layer, pattern.layers)))


def _numbers(body: Body) -> tuple[float, ...]:
    """What of a body patterns depend on: its box, and its speeds."""
    high = body.depth if body.model == "above" else body.height
    return body.width, high, body.walk_speed, body.run_speed, body.fall_speed


def _between(old: tuple[float, ...], new: tuple[float, ...]) -> Scale:
    """From speeds of one body to those of another; beyond the last one in proportion."""

    def scale(value: float) -> float:
        size = abs(value)
        if size > old[-1] or old != tuple(sorted(set(old))):
            found = size * new[-1] / old[-1] if old[-1] else size
        else:
            found = float(np.interp(size, old, new))
        return (found if found < 10 else float(round(found))) * (1 if value >= 0 else -1)

    return scale


def _with_speeds(text: str, scale: Scale) -> str:
    """A condition with the constants that it compares ``speed`` with scaled."""
    try:
        node = parse(text)
    except ConditionError:
        return text
    made = _scaled(node, scale)
    return text if made == node else text_of(made)


def _scaled(node: tree.Node, scale: Scale) -> tree.Node:
    if isinstance(node, tree.Compare):
        match node.left, node.right:
            case tree.Name("speed"), tree.Number(value):
                return replace(node, right=replace(node.right, value=round(scale(value), 1)))
            case tree.Number(value), tree.Name("speed"):
                return replace(node, left=replace(node.left, value=round(scale(value), 1)))
    changed: dict[str, Any] = {}
    for field in fields(node):
        part = getattr(node, field.name)
        if isinstance(part, tree.Node):
            changed[field.name] = _scaled(part, scale)
        elif isinstance(part, tuple) and part and all(isinstance(one, tree.Node) for one in part):
            changed[field.name] = tuple(_scaled(one, scale) for one in part)
    return replace(node, **changed) if changed else node
