"""From text to tree."""

from __future__ import annotations

import difflib
import math
import re
from functools import cache, lru_cache
from importlib.resources import files
from typing import Any, cast

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedInput, v_args

from leanstep.core.character.names import RESERVED
from leanstep.core.conditions import tree

KEYWORDS = sorted(RESERVED | {"done", "s", "ms", "ticks"})
"""The words of the language."""
DEEPEST = 120
"""Levels of nesting a condition may have; deeper ones are refused rather than risked."""

LONGEST = 20_000


class ConditionError(Exception):
    """A condition that cannot be read.  ``line`` and ``column`` count from 1; ``word`` is what stands there."""

    def __init__(self, reason: str, text: str, at: int, word: str) -> None:
        self.reason = reason
        self.at = at
        self.line = text.count("\n", 0, at) + 1
        self.column = at - (text.rfind("\n", 0, at) + 1) + 1
        self.word = word
        super().__init__(f"line {self.line}, column {self.column}: {reason}")


@v_args(inline=True)
class _Build(Transformer[Token, tree.Node]):
    """Makes the tree while the parser reduces, so that no deep recursion is needed."""

    def any_of(self, *operands: tree.Node) -> tree.Node:
        return _joined(tree.Any, operands)

    def all_of(self, *operands: tree.Node) -> tree.Node:
        return _joined(tree.All, operands)

    def held_for(self, operand: tree.Node, length: Token) -> tree.Node:
        return tree.Timed("for", operand, _duration(length), at=operand.at)

    def within(self, operand: tree.Node, length: Token) -> tree.Node:
        return tree.Timed("within", operand, _duration(length), at=operand.at)

    def inverse(self, operand: tree.Node) -> tree.Node:
        return tree.Not(operand, at=operand.at)

    def compare(self, left: tree.Node, operator: Token, right: tree.Node) -> tree.Node:
        return tree.Compare(str(operator), left, right, at=left.at)

    def between(self, operand: tree.Node, low: tree.Node, high: tree.Node) -> tree.Node:
        return tree.Between(operand, low, high, at=operand.at)

    def arithmetic(self, left: tree.Node, operator: Token, right: tree.Node) -> tree.Node:
        return tree.Arithmetic(str(operator), left, right, at=left.at)

    def signed(self, sign: Token, operand: tree.Node) -> tree.Node:
        if sign == "+":
            return operand
        if isinstance(operand, tree.Number):
            return tree.Number(-operand.value, at=_start(sign))
        return tree.Negative(operand, at=_start(sign))

    def number(self, token: Token) -> tree.Node:
        return tree.Number(_finite(token), at=_start(token))

    def duration(self, token: Token) -> tree.Node:
        return _duration(token)

    def name(self, token: Token) -> tree.Node:
        return tree.Name(_no_word(token), at=_start(token))

    def edge(self, token: Token, kind: Token) -> tree.Node:
        return tree.Edge(_no_word(token), str(kind), at=_start(token))

    def buffered(self, token: Token, length: Token) -> tree.Node:
        return tree.Buffered(_no_word(token), _duration(length), at=_start(token))

    def stay(self) -> tree.Node:
        return tree.Stay()

    def since(self, token: Token) -> tree.Node:
        layer, state = _place(str(token))
        return tree.Since(layer, state, at=_start(token), end=_start(token) + len(token))

    def clip_at(self, token: Token) -> tree.Node:
        return tree.ClipAt(_finite(token), at=_start(token))

    def span_on(self, token: Token) -> tree.Node:
        return tree.SpanOn(_no_word(token), at=_start(token))

    def phase_on(self, token: Token) -> tree.Node:
        return tree.PhaseOn(token.split()[1], at=_start(token))

    def clip_done(self) -> tree.Node:
        return tree.ClipDone()

    def yes(self) -> tree.Node:
        return tree.Truth(True)

    def no(self) -> tree.Node:
        return tree.Truth(False)

    def in_state(self, token: Token) -> tree.Node:
        layer, state = _place(str(token))
        return tree.InState(layer, state, at=_start(token), end=_start(token) + len(token))

    def call(self, function: Token, *operands: tree.Node) -> tree.Node:
        return tree.Call(str(function), operands, at=_start(function))

    def bracket(self, operand: tree.Node) -> tree.Node:
        return operand


class _TooLarge(Exception):
    """A number no double holds."""


def _finite(token: Token) -> float:
    value = float(token)
    if not math.isfinite(value):
        raise _TooLarge(_start(token), str(token))
    return value


class _Misplaced(Exception):
    """A word of the language where a name should be."""


def _no_word(token: Token) -> str:
    """A name, which may be no word of the language."""
    if token in RESERVED:
        raise _Misplaced(_start(token), str(token))
    return str(token)


def _start(token: Token) -> int:
    return token.start_pos or 0


def _place(text: str) -> tuple[str, str]:
    """Layer and state of ``LAYER.STATE`` or ``"LAYER"."STATE"``; the layer is empty where only a state is named."""
    separator = '"."' if text.startswith('"') else "."
    before, _, state = text.strip('"').rpartition(separator) if text.startswith('"') else text.partition(separator)
    return (before, state) if state and _ else ("", text.strip('"'))


def _duration(token: Token) -> tree.Duration:
    text = str(token)
    unit = "ms" if text.endswith("ms") else "ticks" if text.endswith(("tick", "ticks")) else "s"
    amount = text[: -len("tick")] if text.endswith("tick") else text[: -len(unit)]
    if not math.isfinite(float(amount)):
        raise _TooLarge(_start(token), text)
    return tree.Duration(float(amount), unit, at=_start(token))


def _joined(kind: type[tree.All] | type[tree.Any], operands: tuple[tree.Node, ...]) -> tree.Node:
    flat: list[tree.Node] = []
    for operand in operands:
        flat.extend(operand.operands if isinstance(operand, kind) else (operand,))
    return flat[0] if len(flat) == 1 else kind(tuple(flat), at=flat[0].at)


@cache
def _parser() -> Lark:
    text = files("leanstep.core.conditions").joinpath("condition.lark").read_text("utf-8")
    return Lark(text, parser="lalr", transformer=_Build(), maybe_placeholders=False)


@lru_cache(maxsize=16384)
def parse(text: str) -> tree.Node:
    """The tree of a condition.

    Raises
    ------
    ConditionError : the text is empty, too long, nested too deep, or breaks the grammar.
    """
    if not text.strip():
        raise ConditionError("the condition is empty", text, 0, "")
    if len(text) > LONGEST:
        raise ConditionError(f"it is longer than {LONGEST} characters", text, 0, "")
    deepest = depth = 0
    for letter in text:
        depth += (letter == "(") - (letter == ")")
        deepest = max(deepest, depth)
    if deepest > DEEPEST or text.count("not ") + text.count("-") > LONGEST // 40:
        raise ConditionError(f"it is nested more than {DEEPEST} levels deep", text, 0, "(")
    try:
        node = cast(tree.Node, cast(Any, _parser().parse(text)))
    except UnexpectedCharacters as error:
        at = error.pos_in_stream or 0
        word = _word(text, at)
        hint = ' (write "=" once)' if word == "=" else " (write and, or, not)" if word in "&|!" else _meant(word)
        raise ConditionError(f"{word!r} does not belong in a condition here{hint}", text, at, word) from None
    except _TooLarge as error:
        at, word = error.args
        raise ConditionError(f"{word} is larger than any number that can be worked with", text, at, word) from None
    except _Misplaced as error:
        at, word = error.args
        raise ConditionError(f"{word!r} is not expected here", text, at, word) from None
    except UnexpectedInput as error:
        token = getattr(error, "token", None)
        if token is None or token.type == "$END":
            raise ConditionError("the condition stops in the middle", text, len(text), "") from None
        at = _start(token)
        word = _word(text, at)
        raise ConditionError(f"{word!r} is not expected here{_meant(word)}", text, at, word) from None
    if _depth(node) > DEEPEST:
        raise ConditionError(f"it is nested more than {DEEPEST} levels deep", text, 0, "")
    return node


def _word(text: str, at: int) -> str:
    """The whole word at a place, or the one character there."""
    match = re.compile(r"[A-Za-z_][\w.]*|\d[\w.]*").match(text, at)
    return match.group() if match else text[at : at + 1]


def _meant(word: str) -> str:
    """A hint at the word of the language that ``word`` is close to."""
    close = difflib.get_close_matches(word.lower(), KEYWORDS, 1, 0.7)
    return f" (did you mean {close[0]}?)" if close and close[0] != word else ""


def _depth(node: tree.Node) -> int:
    deepest, stack = 0, [(node, 1)]
    while stack:
        current, level = stack.pop()
        deepest = max(deepest, level)
        stack.extend((child, level + 1) for child in tree.children(current))
    return deepest
