"""Repairs of states that flicker: a gap between thresholds, a condition that has to hold."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.graph import Layer, Transition
from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import text_of
from leanstep.core.conditions.scope import scope_of
from leanstep.core.findings.repairs.registry import Repair, layer_of, mends
from leanstep.core.findings.results import Finding


def _between(layer: Layer, states: list[str]) -> Iterator[tuple[int, Transition]]:
    """The transitions that lead from one of these states to another."""
    lanes = {state.name: state.lane for state in layer.states}
    for number, one in enumerate(layer.transitions):
        sources = (
            [one.source]
            if one.source
            else [name for name in states if not one.from_lane or lanes[name] == one.from_lane]
        )
        if one.to in states and any(source in states and source != one.to for source in sources):
            yield number, one


def _gap(character: Character, finding: Finding) -> Iterator[Repair]:
    """Two thresholds on one value, with a gap just wider than its wobble between them."""
    at, layer = layer_of(character, finding)
    wobbles = {symbol.name: symbol.wobble for symbol in scope_of(character).symbols if symbol.kind == "number"}
    found = list(_between(layer, finding.details["states"]))
    for number, one in reversed(found):
        for name, sign, value in _thresholds(one.when):
            for _, other in found:
                for other_name, other_sign, against in _thresholds(other.when):
                    if other is one or other_name != name or other_sign == sign or name not in wobbles:
                        continue
                    width = float(f"{max(wobbles[name] * 1.25, 1e-6):.3g}")
                    wanted = float(f"{against - width if sign == '<' else against + width:.6g}")
                    when = _with_threshold(one.when, name, sign, wanted)
                    yield Repair(
                        f"{one.source or 'the whole graph'} → {one.to} asks for {name} {sign} {wanted:g} instead of {value:g}: "
                        f"a gap of {width:g}, wider than the wobble.",
                        change(character, ("layers", at, "transitions", number), when=when),
                    )


def _calm(character: Character, finding: Finding) -> Iterator[Repair]:
    """A condition that has to hold for as long as the flicker window."""
    at, layer = layer_of(character, finding)
    window = character.flicker_window
    for number, one in _between(layer, finding.details["states"]):
        held = f"({one.when}) for {window:g} s"
        yield Repair(
            f"{one.source or 'the whole graph'} → {one.to} waits until its condition has held for {window:g} s.",
            change(character, ("layers", at, "transitions", number), when=text_of(parse(held))),
        )


@mends("flicker.steady", "flicker.wobble")
def _steady(character: Character, finding: Finding) -> Iterator[Repair]:
    yield from _gap(character, finding)
    yield from _calm(character, finding)


def _thresholds(when: str) -> Iterator[tuple[str, str, float]]:
    """Name, ``<`` or ``>``, and constant of every comparison with a constant that a condition asks for outright."""
    try:
        node = parse(when)
    except ConditionError:
        return
    for one in node.operands if isinstance(node, tree.All) else (node,):
        if isinstance(one, tree.Compare) and one.operator[0] in "<>":
            left, right = one.left, one.right
            if isinstance(left, tree.Name) and (value := _constant(right)) is not None:
                yield left.name, one.operator[0], value


def _constant(node: tree.Node) -> float | None:
    if isinstance(node, tree.Negative) and isinstance(node.operand, tree.Number):
        return -node.operand.value
    return node.value if isinstance(node, tree.Number) else None


def _with_threshold(when: str, name: str, sign: str, wanted: float) -> str:
    """A condition with the constant of one of its comparisons replaced."""
    constant: tree.Node = tree.Number(abs(wanted))
    if wanted < 0:
        constant = tree.Negative(constant)

    def mended(one: tree.Node) -> tree.Node:
        named = isinstance(one, tree.Compare) and isinstance(one.left, tree.Name) and one.left.name == name
        if isinstance(one, tree.Compare) and named and one.operator[0] == sign and _constant(one.right) is not None:
            return replace(one, right=constant)
        return one

    node = parse(when)
    if isinstance(node, tree.All):
        return text_of(replace(node, operands=tuple(mended(one) for one in node.operands)))
    return text_of(mended(node))


@mends("flicker.restart")
def _restart(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without restart."""
    at, layer = layer_of(character, finding)
    state = finding.details["state"]
    for number, one in enumerate(layer.transitions):
        if one.to == state and one.restart:
            yield Repair(
                f"{one.source or 'the whole graph'} → {state} no longer restarts {state}.",
                change(character, ("layers", at, "transitions", number), restart=False),
            )
