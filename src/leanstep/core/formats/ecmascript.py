"""The part of ECMAScript expressions that conditions can say, read into the tree of a condition."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import cache
from importlib.resources import files
from itertools import accumulate
from typing import Any

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedInput, v_args
from lark.exceptions import VisitError

from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import DEEPEST, KEYWORDS

_COMPARED = {"===": "=", "==": "=", "!==": "!="}
_CALLS = {"Math.abs": "abs", "Math.min": "min", "Math.max": "max"}
Place = Callable[[str], tuple[str, str] | None]
"""Layer and state for an id that ``In`` names, or None."""


class Unreadable(Exception):
    """Why an expression cannot be said as a condition."""


def read(text: str, place: Place) -> tree.Node:
    """The tree of an expression.  Raises :class:`Unreadable` with the reason."""
    try:
        parsed = _parser().parse(text)
    except UnexpectedCharacters as error:
        at = error.pos_in_stream or 0
        raise Unreadable(f"“{text[at : at + 20].strip()}” is nothing a condition can say") from None
    except UnexpectedInput as error:
        token = getattr(error, "token", None)
        if token is None or token.type == "$END":
            raise Unreadable("it breaks off") from None
        raise Unreadable(f"“{token}” stands where nothing like it is expected") from None
    if _levels(parsed, text) > 2 * DEEPEST:
        raise Unreadable("it is nested too deeply")
    try:
        return _Build(place).transform(parsed)
    except VisitError as error:
        raise error.orig_exc from None


def _levels(parsed: Any, text: str) -> int:
    """Levels of nesting, those of brackets counted twice, since they leave nothing in the tree."""
    signs = [(letter == "(") - (letter == ")") for letter in text]
    deepest, waiting = 2 * max(accumulate(signs), default=0), [(parsed, 1)]
    while waiting:
        one, level = waiting.pop()
        deepest = max(deepest, level)
        waiting += [(child, level + 1) for child in getattr(one, "children", ())]
    return deepest


@cache
def _parser() -> Lark:
    text = files("leanstep.core.formats").joinpath("ecmascript.lark").read_text("utf-8")
    return Lark(text, parser="lalr", maybe_placeholders=False)


@v_args(inline=True)
class _Build(Transformer[Token, tree.Node]):
    def __init__(self, place: Place) -> None:
        super().__init__()
        self.place = place

    def any_of(self, *parts: tree.Node) -> tree.Node:
        return parts[0] if len(parts) == 1 else tree.Any(parts)

    def all_of(self, *parts: tree.Node) -> tree.Node:
        return parts[0] if len(parts) == 1 else tree.All(parts)

    def compared(self, left: tree.Node, sign: Token, right: tree.Node) -> tree.Node:
        operator = _COMPARED.get(sign, str(sign))
        if isinstance(left, tree.Truth):
            left, right = right, left
        if isinstance(right, tree.Truth) and operator in ("=", "!="):
            return left if right.value == (operator == "=") else tree.Not(left)
        return tree.Compare(operator, left, right)

    def arithmetic(self, left: tree.Node, sign: Token, right: tree.Node) -> tree.Node:
        return tree.Arithmetic(str(sign), left, right)

    def inverse(self, sign: Token, part: tree.Node) -> tree.Node:
        return tree.Not(part)

    def negative(self, sign: Token, part: tree.Node) -> tree.Node:
        if sign == "+":
            raise Unreadable("“+” stands where a value is expected")
        return tree.Number(-part.value) if isinstance(part, tree.Number) else tree.Negative(part)

    def number(self, token: Token) -> tree.Node:
        return tree.Number(float(token))

    def text(self, token: Token) -> tree.Node:
        return tree.Name(_plain(token[1:-1]))

    def word(self, token: Token) -> tree.Node:
        return tree.Truth(token == "true") if token in ("true", "false") else tree.Name(_plain(token))

    def in_state(self, name: Token) -> tree.Node:
        found = self.place(name[1:-1])
        if found is None:
            raise Unreadable(f"In({name}) names no state that was brought in")
        return tree.InState(*found)

    def call(self, function: Token, *operands: tree.Node) -> tree.Node:
        if function not in _CALLS or not operands:
            raise Unreadable(f"{function}(…) is nothing a condition can say")
        return tree.Call(_CALLS[function], operands)


def _plain(word: str) -> str:
    if not re.fullmatch(r"[A-Za-z_]\w*", word):
        raise Unreadable(f"{word} is no name of a parameter or of a choice")
    if word in KEYWORDS:
        raise Unreadable(f"{word} is a word of the language of conditions")
    return str(word)
