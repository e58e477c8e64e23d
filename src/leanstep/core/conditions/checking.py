"""From tree to compiled form: looks names up, checks kinds, and says what is wrong and where."""

from __future__ import annotations

import difflib
import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from leanstep.core.bearings import reduced
from leanstep.core.conditions import expression as x
from leanstep.core.conditions import tree
from leanstep.core.conditions.evaluation import compute
from leanstep.core.conditions.printing import number_text, text_of

if TYPE_CHECKING:
    from leanstep.core.conditions.scope import Scope

_FLAGS = ("flag", "pulse", "button")


@dataclass(frozen=True)
class Fault:
    """Something wrong in a condition.  ``id`` is a finding's id; ``at`` counts characters from 0; ``severity`` is how bad it is."""

    id: str
    reason: str
    at: int
    word: str
    nearest: str = ""
    severity: str = "error"

    @property
    def sentence(self) -> str:
        """Place, reason and the way out."""
        hint = f"; did you mean {self.nearest}?" if self.nearest else ""
        return f"column {self.at + 1}: {self.reason}{hint}"


class Broken(Exception):
    def __init__(self, fault: Fault) -> None:
        self.fault = fault


def nearest(word: str, names: Sequence[str]) -> str:
    """The name closest to ``word``, or an empty text when none is close."""
    lower = {name.lower(): name for name in reversed(names)}
    if word.lower() in lower:
        return lower[word.lower()]
    close = difflib.get_close_matches(word.lower(), list(lower), 1, 0.6)
    return lower[close[0]] if close else ""


@dataclass
class Checker:
    scope: Scope
    layer: int | None
    role: str
    warnings: list[Fault] = field(default_factory=list)

    def only_from_outside(self, compiled: x.Expression) -> None:
        """Raise :class:`Broken` for an assumption about something effects set: what comes from outside cannot promise that."""
        waiting, seen = sorted(x.symbols_in(compiled)), set[int]()
        while waiting:
            index = waiting.pop(0)
            if index in seen:
                continue
            seen.add(index)
            symbol = self.scope.symbols[index]
            formula = self.scope.compiled_formulas()[index][0] if index in self.scope.formulas else None
            waiting += sorted(x.symbols_in(formula)) if formula is not None else []
            if symbol.owner == "graph":
                reason = f"{symbol.name} is set by effects, and an assumption is about what comes from outside"
                raise Broken(Fault("kind.mismatch", reason, 0, symbol.name))

    def truth(self, node: tree.Node) -> x.Expression:
        """What a part of a condition that is true or false comes to; raises :class:`Broken` for one that is neither."""
        match node:
            case tree.Truth(value):
                return x.Constant(value)
            case tree.Name(name):
                index = self._symbol(node, name)
                if self.scope.symbols[index].kind not in _FLAGS:
                    self._fail(
                        node, "kind.mismatch", f"{name} is a {self._kind(index)}: compare it with something", name
                    )
                self._sound(node, index)
                return x.IsOn(index)
            case tree.Buffered(button, duration):
                index = self._button(node, button, "buffered")
                self._own_layer(node, "buffered")
                return x.Buffered(index, max(1, tree.ticks_of(duration, self.scope.rate)))
            case tree.Edge(button, kind):
                index = self._button(node, button, kind)
                if kind != "held":
                    self._own_layer(node, kind)
                return {"pressed": x.Pressed, "released": x.Released, "held": x.IsOn}[kind](index)
            case tree.ClipDone():
                return x.ClipOver(self._own_layer(node, "clip done"))
            case tree.ClipAt(share):
                if not 0 <= share <= 1:
                    reason = f"a share of a clip runs from 0 to 1, so it is never at {number_text(share)}"
                    self.warnings.append(Fault("value.impossible", reason, node.at, number_text(share)))
                return x.ClipAt(self._own_layer(node, "clip at"), share)
            case tree.SpanOn(name):
                self._own_layer(node, "spans")
                if name not in self.scope.spans:
                    close = nearest(name, self.scope.spans)
                    self._fail(node, "name.unknown", f"no clip has a span {name}", name, close)
                return x.SpanOn(name)
            case tree.PhaseOn(kind):
                self._own_layer(node, "phases")
                if not self.scope.acts:
                    self._fail(node, "name.unknown", "no clip has an active phase", x.phase_span(kind))
                return x.SpanOn(x.phase_span(kind))
            case tree.InState(layer, state):
                self._own_layer(node, "states")
                return x.Active(*self._state(node, layer, state))
            case tree.Not(operand):
                return x.Inverse(self.truth(operand))
            case tree.All(operands):
                return x.Every(tuple(self.truth(part) for part in operands))
            case tree.Any(operands):
                return x.Some(tuple(self.truth(part) for part in operands))
            case tree.Timed(kind, operand, duration):
                return self._memory(node, kind, operand, duration)
            case tree.Compare(operator, left, right):
                return self._compare(node, operator, left, right)
            case tree.Between(operand, low, high):
                if any(map(self._is_bearing, (operand, low, high))):
                    return self._between_bearings(operand, low, high)
                return x.Every((self._compare(node, ">=", operand, low), self._compare(node, "<=", operand, high)))
        self._fail(node, "kind.mismatch", f"{text_of(node)} is neither true nor false", text_of(node))
        raise AssertionError

    def _fail(self, node: tree.Node, kind: str, reason: str, word: str, close: str = "") -> None:
        raise Broken(Fault(kind, reason, node.at, word, close))

    def _kind(self, index: int) -> str:
        return self.scope.symbols[index].kind

    def _symbol(self, node: tree.Node, name: str, kind: str = "") -> int:
        index = self.scope.index.get(name)
        if index is None:
            names = [symbol.name for symbol in self.scope.symbols if not kind or symbol.kind == kind]
            self._fail(node, "name.unknown", f"nothing is called {name}", name, nearest(name, names))
            raise AssertionError
        return index

    def _button(self, node: tree.Node, name: str, kind: str) -> int:
        index = self._symbol(node, name, "button")
        if self.scope.symbols[index].kind != "button":
            self._fail(node, "kind.mismatch", f"{name} is no button, so it cannot be {kind}", name)
        return index

    def _sound(self, node: tree.Node, index: int) -> None:
        """Fail for a symbol whose formula is broken."""
        if index in self.scope.formulas and self.scope.compiled_formulas()[index][0] is None:
            name = self.scope.symbols[index].name
            self._fail(node, "kind.mismatch", f"the formula of {name} is broken", name)

    def _own_layer(self, node: tree.Node, word: str) -> int:
        if self.layer is None:
            self._fail(node, "kind.mismatch", f"{self.role} is about parameters alone, not about {word}", word)
            raise AssertionError
        return self.layer

    def _state(self, node: tree.Node, layer: str, state: str) -> tuple[int, int]:
        """Layer and state index of a named state; without a layer, of the condition's own."""
        own = self._own_layer(node, "states")
        layer = layer or self.scope.layers[own]
        if layer not in self.scope.layers:
            self._fail(node, "name.unknown", f"no layer is called {layer}", layer, nearest(layer, self.scope.layers))
        at = self.scope.layers.index(layer)
        states = self.scope.states[at]
        if state not in states:
            self._fail(node, "name.unknown", f"layer {layer} has no state {state}", state, nearest(state, states))
        return at, states.index(state)

    def _memory(self, node: tree.Node, kind: str, operand: tree.Node, duration: tree.Duration) -> x.Expression:
        self._own_layer(node, kind)
        memory = x.Memory(kind, self.truth(operand), max(1, tree.ticks_of(duration, self.scope.rate)))
        if memory not in self.scope.memories:
            self.scope.memories.append(memory)
        return x.Remembered(self.scope.memories.index(memory))

    def _compare(self, node: tree.Node, operator: str, left: tree.Node, right: tree.Node) -> x.Expression:
        if isinstance(right, tree.Stay | tree.Since) and not isinstance(left, tree.Stay | tree.Since):
            left, right = right, left
            operator = {"<": ">", "<=": ">=", ">": "<", ">=": "<="}.get(operator, operator)
        if isinstance(left, tree.Stay | tree.Since):
            layer = self._own_layer(node, "stay" if isinstance(left, tree.Stay) else "since")
            if not isinstance(right, tree.Duration):
                word = "stay" if isinstance(left, tree.Stay) else "since"
                reason = f"{word} is compared with a duration: write 0.2 s, 200 ms or 12 ticks"
                self._fail(right, "kind.mismatch", reason, text_of(right))
                raise AssertionError
            ticks = tree.ticks_of(right, self.scope.rate)
            if isinstance(left, tree.Stay):
                return x.Stayed(layer, operator, ticks)
            return x.SinceLeft(*self._state(left, left.layer, left.state), operator, ticks)
        choice = self._choice_comparison(operator, left, right)
        if choice is not None:
            return choice
        if self._is_bearing(left) or self._is_bearing(right):
            return self._compare_bearings(operator, left, right)
        low, high = self.amount(left), self.amount(right)
        self._warn_impossible(node, operator, low, high)
        return x.Compared(operator, low, high)

    def _choice_comparison(self, operator: str, left: tree.Node, right: tree.Node) -> x.Expression | None:
        first = self._choice_symbol(left)
        if first is None and (swapped := self._choice_symbol(right)) is not None:
            first, left, right = swapped, right, left
        if first is None:
            return None
        symbol = self.scope.symbols[first]
        if operator not in ("=", "!="):
            self._fail(
                left, "kind.mismatch", f"{symbol.name} is a choice: it can be = or != to one of its choices", operator
            )
        if not isinstance(right, tree.Name):
            self._fail(
                right, "kind.mismatch", f"{symbol.name} is a choice: {text_of(right)} is none of them", text_of(right)
            )
            raise AssertionError
        other = self._choice_symbol(right)
        result: x.Expression
        if right.name in symbol.choices:
            result = x.Chosen(first, right.name)
        elif other is not None:
            result = x.SameChoice(first, other)
        else:
            self._fail(
                right,
                "name.unknown",
                f"{symbol.name} is never {right.name}: it can be {', '.join(symbol.choices)}",
                right.name,
                nearest(right.name, symbol.choices),
            )
            raise AssertionError
        return x.Inverse(result) if operator == "!=" else result

    def _choice_symbol(self, node: tree.Node) -> int | None:
        if not isinstance(node, tree.Name):
            return None
        index = self.scope.index.get(node.name)
        return index if index is not None and self.scope.symbols[index].kind == "choice" else None

    # Bearings

    def _is_bearing(self, node: tree.Node) -> bool:
        index = self.scope.index.get(node.name) if isinstance(node, tree.Name) else None
        return index is not None and self._kind(index) == "bearing"

    def _compare_bearings(self, operator: str, left: tree.Node, right: tree.Node) -> x.Expression:
        if operator not in ("=", "!="):
            name = text_of(left if self._is_bearing(left) else right)
            reason = (
                f"{name} is a direction, which is neither more nor less than another: "
                f"write {name} between 315 and 45, or turn({name}, 90) {operator} 10"
            )
            self._fail(left, "kind.mismatch", reason, operator)
        first, second = self.bearing(left), self.bearing(right)
        return (
            x.Compared(operator, second, first) if isinstance(first, x.Fixed) else x.Compared(operator, first, second)
        )

    def _between_bearings(self, operand: tree.Node, low: tree.Node, high: tree.Node) -> x.Expression:
        """Clockwise from one end to the other, both in."""
        at, start, end = self.bearing(operand), self.bearing(low), self.bearing(high)
        above, below = x.Compared(">=", at, start), x.Compared("<=", at, end)
        if isinstance(start, x.Fixed) and isinstance(end, x.Fixed):
            if start.value == end.value and self.amount(low) != self.amount(high):
                reason = f"{text_of(high)} is the same direction as {text_of(low)}: this holds only {number_text(start.value)}"
                self.warnings.append(Fault("value.impossible", reason, high.at, text_of(high), severity="warning"))
            return x.Every((above, below)) if start.value <= end.value else x.Some((above, below))
        straight, wraps = x.Compared("<=", start, end), x.Compared(">", start, end)
        return x.Some((x.Every((straight, above, below)), x.Every((wraps, x.Some((above, below))))))

    def bearing(self, node: tree.Node) -> x.Amount:
        """A bearing or a constant taken as one; raises :class:`Broken` for anything else."""
        if self._is_bearing(node):
            assert isinstance(node, tree.Name)
            index = self._symbol(node, node.name)
            self._sound(node, index)
            return x.Value(index)
        amount = self.amount(node)
        if not isinstance(amount, x.Fixed):
            reason = f"{text_of(node)} is a number; a direction is a bearing or a fixed number of degrees"
            self._fail(node, "kind.mismatch", reason, text_of(node))
            raise AssertionError
        return x.Fixed(reduced(amount.value))

    def number_or_bearing(self, node: tree.Node) -> x.Amount:
        """What a formula of a bearing says."""
        return self.bearing(node) if self._is_bearing(node) else self.amount(node)

    def amount(self, node: tree.Node) -> x.Amount:
        """What a part of a condition that is a number comes to; raises :class:`Broken` for one that is none."""
        match node:
            case tree.Number(value):
                return x.Fixed(value)
            case tree.Name(name):
                index = self._symbol(node, name)
                if self._kind(index) == "bearing":
                    reason = f"{name} is a direction: nothing is added to it; write turn({name}, 90) for the way to it"
                    self._fail(node, "kind.mismatch", reason, name)
                if self._kind(index) not in ("number", "whole"):
                    self._fail(node, "kind.mismatch", f"{name} is a {self._kind(index)}, not a number", name)
                self._sound(node, index)
                return x.Value(index)
            case tree.Negative(operand):
                return self._folded(node, "neg", (operand,))
            case tree.Arithmetic(operator, left, right):
                return self._folded(node, operator, (left, right))
            case tree.Call("turn", operands):
                if len(operands) != 2:
                    self._fail(node, "kind.mismatch", "turn takes two bearings: turn(from, to)", "turn")
                return _worked_out("turn", (self.bearing(operands[0]), self.bearing(operands[1])))
            case tree.Call(function, operands):
                if (function == "abs") != (len(operands) == 1):
                    count = "one number" if function == "abs" else "two or more numbers"
                    self._fail(node, "kind.mismatch", f"{function} takes {count}", function)
                return self._folded(node, function, operands)
            case tree.Duration():
                self._fail(node, "kind.mismatch", "a duration can only be compared with stay or since", text_of(node))
            case tree.Stay() | tree.Since():
                self._fail(node, "kind.mismatch", f"{text_of(node)} can only be compared with a duration", "stay")
        self._fail(node, "kind.mismatch", f"{text_of(node)} is not a number", text_of(node))
        raise AssertionError

    def _folded(self, node: tree.Node, operator: str, operands: tuple[tree.Node, ...]) -> x.Amount:
        """A computation, done at once when every operand is fixed."""
        amounts = tuple(self.amount(operand) for operand in operands)
        made = _worked_out(operator, amounts)
        if isinstance(made, x.Fixed) and not math.isfinite(made.value):
            reason = f"{text_of(node)} is larger than any number that can be worked with"
            self._fail(node, "condition.unreadable", reason, text_of(node))
        return made

    def _warn_impossible(self, node: tree.Node, operator: str, left: x.Amount, right: x.Amount) -> None:
        if isinstance(right, x.Value) and isinstance(left, x.Fixed):
            left, right = right, left
            operator = {"<": ">", "<=": ">=", ">": "<", ">=": "<="}.get(operator, operator)
        if not isinstance(left, x.Value) or not isinstance(right, x.Fixed):
            return
        symbol, value = self.scope.symbols[left.symbol], right.value
        low, high = symbol.low, symbol.high
        if symbol.kind == "whole" and operator == "=" and value != int(value) and abs(value) < 1e15:
            reason = f"{symbol.name} is a whole number, so it is never {number_text(value)}"
        elif (
            (operator == "=" and not low <= value <= high)
            or (operator == ">" and value >= high)
            or (operator == ">=" and value > high)
            or (operator == "<" and value <= low)
            or (operator == "<=" and value < low)
        ):
            reason = (
                f"{symbol.name} runs from {number_text(low)} to {number_text(high)}, "
                f"so it is never {operator} {number_text(value)}"
            )
        else:
            return
        self.warnings.append(Fault("value.impossible", reason, node.at, symbol.name))


def _worked_out(operator: str, amounts: tuple[x.Amount, ...]) -> x.Amount:
    """A computation, done at once when every operand is fixed."""
    fixed = [amount.value for amount in amounts if isinstance(amount, x.Fixed)]
    return x.Fixed(compute(operator, fixed)) if len(fixed) == len(amounts) else x.Computed(operator, amounts)
