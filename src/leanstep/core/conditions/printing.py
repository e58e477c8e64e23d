"""From tree to text (canonical) and to plain words."""

from __future__ import annotations

from collections.abc import Collection

from leanstep.core.bearings import arc_middle, in_words, reduced, way_word
from leanstep.core.character.names import WORD, reference
from leanstep.core.conditions import tree
from leanstep.core.conditions.expression import phase_span

_LEVEL = {tree.Any: 1, tree.All: 2, tree.Timed: 3, tree.Not: 4, tree.Compare: 5, tree.Between: 5}


def number_text(value: float) -> str:
    """A number as a person writes it: the fewest digits that read back the same."""
    text = repr(float(value))
    return text.removesuffix(".0")


def text_of(node: tree.Node) -> str:
    """The canonical text: parsing it gives an equal tree."""
    return _text(node)[0]


def _inside(node: tree.Node, least: int) -> str:
    text, level = _text(node)
    return text if level >= least else f"({text})"


def _text(node: tree.Node) -> tuple[str, int]:
    match node:
        case tree.Truth(value):
            return ("true" if value else "false"), 9
        case tree.Number(value):
            return number_text(value), 9 if value >= 0 else 8
        case tree.Duration(amount, unit):
            return f"{number_text(amount)} {unit}", 9
        case tree.Name(name):
            return name, 9
        case tree.Edge(button, kind):
            return f"{button} {kind}", 9
        case tree.Stay():
            return "stay", 9
        case tree.Buffered(button, duration):
            return f"{button} buffered {text_of(duration)}", 9
        case tree.Since(layer, state):
            return f"since({since_place(layer, state) if layer else since_place(state)})", 9
        case tree.ClipDone():
            return "clip done", 9
        case tree.ClipAt(share):
            return f"clip at {number_text(share)}", 9
        case tree.SpanOn(name):
            return f"span {name}", 9
        case tree.PhaseOn(kind):
            return phase_span(kind), 9
        case tree.InState(layer, state):
            return f"in {reference(layer, state)}", 9
        case tree.Negative(operand):
            return "-" + _inside(operand, 9), 8
        case tree.Call(function, operands):
            return f"{function}({', '.join(text_of(part) for part in operands)})", 9
        case tree.Arithmetic(operator, left, right):
            level = 6 if operator in "+-" else 7
            return f"{_inside(left, level)} {operator} {_inside(right, level + 1)}", level
        case tree.Compare(operator, left, right):
            return f"{_inside(left, 6)} {operator} {_inside(right, 6)}", 5
        case tree.Between(operand, low, high):
            return f"{_inside(operand, 6)} between {_inside(low, 6)} and {_inside(high, 6)}", 5
        case tree.Not(operand):
            return "not " + _inside(operand, 4), 4
        case tree.Timed(kind, operand, duration):
            return f"{_inside(operand, 3)} {kind} {text_of(duration)}", 3
        case tree.All(operands):
            return " and ".join(_inside(part, 3) for part in operands), 2
        case tree.Any(operands):
            return " or ".join(_inside(part, 2) for part in operands), 1
    raise TypeError(f"no text for {type(node).__name__}")


def since_place(*names: str) -> str:
    """How ``since`` names a state of another layer (layer, state) or of its own (state alone)."""
    if len(names) == 2:
        return reference(*names)
    return names[0] if WORD.fullmatch(names[0]) else f'"{names[0]}"'


_COMPARED = {
    "<": "is below",
    "<=": "is at most",
    "=": "is",
    "!=": "is not",
    ">": "is above",
    ">=": "is at least",
}


def words_of(node: tree.Node, bearings: Collection[str] = ()) -> str:
    """A reading in plain words, without the leading "when"; ``bearings`` are the names of directions beside those of sticks."""

    def words(part: tree.Node) -> str:
        return words_of(part, bearings)

    def worded(part: tree.Node) -> str:
        return f"{part.name} is on" if isinstance(part, tree.Name) else words(part)

    def way(part: tree.Node) -> str:
        return in_words(reduced(part.value)) if isinstance(part, tree.Number) else words(part)

    def turns(part: tree.Node) -> bool:
        return isinstance(part, tree.Name) and (part.name in bearings or part.name.endswith(".bearing"))

    match node:
        case tree.Truth(value):
            return "always" if value else "never"
        case tree.Duration(amount, unit):
            return f"{number_text(amount)} {unit}"
        case tree.Name(name):
            return name
        case tree.Edge(button, kind):
            verb = {"pressed": "has just been pressed", "released": "has just been let go", "held": "is held down"}
            return f"{button} {verb[kind]}"
        case tree.Stay():
            return "the time in this state"
        case tree.Buffered(button, duration):
            return f"{button} has been pressed in the last {words(duration)} and nothing has used that press"
        case tree.Since(_, state):
            return f"the time since {state} was left"
        case tree.ClipDone():
            return "the clip has played to its end"
        case tree.ClipAt(share):
            return f"{number_text(round(share * 100, 6))} % of the clip has played"
        case tree.SpanOn(name):
            return f"the span {name} is on"
        case tree.PhaseOn(kind):
            return {"startup": "an action starts up", "active": "an action can hit", "recovery": "an action recovers"}[
                kind
            ]
        case tree.InState(layer, state):
            return f"{layer} is in {state}"
        case tree.Compare(operator, left, tree.Number(value)) if turns(left):
            return f"{words(left)} {_COMPARED[operator]} {in_words(reduced(value))}"
        case tree.Between(operand, tree.Number(low), tree.Number(high)) if turns(operand):
            start, end = reduced(low), reduced(high)
            return (
                f"{words(operand)} is between {in_words(start)} and {in_words(end)}, "
                f"by way of {way_word(arc_middle(start, end))}"
            )
        case tree.Between(operand, low, high) if any(map(turns, (operand, low, high))):
            return f"{words(operand)} is between {words(low)} and {words(high)}, clockwise"
        case tree.Call("turn", (start, end)):
            return f"the turn from {way(start)} to {way(end)} (clockwise is positive)"
        case tree.Call("abs", (tree.Call("turn", (start, end)),)):
            return f"the angle between {way(start)} and {way(end)}"
        case tree.Compare(operator, left, right):
            return f"{words(left)} {_COMPARED[operator]} {words(right)}"
        case tree.Between(operand, low, high):
            return f"{words(operand)} is from {words(low)} to {words(high)}"
        case tree.Not(tree.Name(name)):
            return f"{name} is off"
        case tree.Not(operand):
            return f"it is not so that {worded(operand)}"
        case tree.Timed("for", tree.Not(tree.Name(name)), duration):
            return f"{name} has been off for {words(duration)}"
        case tree.Timed("for", tree.Name(name), duration):
            return f"{name} has been on for {words(duration)}"
        case tree.Timed("for", operand, duration):
            return f"for {words(duration)} without a break {worded(operand)}"
        case tree.Timed(_, operand, duration):
            return f"at some time in the last {words(duration)} {worded(operand)}"
        case tree.All(operands):
            return " and ".join(worded(part) for part in operands)
        case tree.Any(operands):
            return ", or ".join(worded(part) for part in operands)
    return text_of(node)


def reading(node: tree.Node, bearings: Collection[str] = ()) -> str:
    """A sentence fragment that says when the condition holds; ``bearings`` are the names of directions."""
    if node == tree.Truth(True):
        return "always"
    return f"when {node.name} is on" if isinstance(node, tree.Name) else f"when {words_of(node, bearings)}"
