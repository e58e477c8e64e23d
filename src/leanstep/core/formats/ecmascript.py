"""The part of ECMAScript expressions that conditions can say, read into the tree of a condition."""

from __future__ import annotations

import re
from collections.abc import Callable

from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import DEEPEST, KEYWORDS

_TOKEN = re.compile(
    r"\s*(?:(?P<number>(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(?![\w.])"
    r"|(?P<word>[A-Za-z_$][\w$]*(?:\.[A-Za-z_$][\w$]*)*)"
    r"|(?P<text>'[^'\\]*'|\"[^\"\\]*\")"
    r"|(?P<sign>===|!==|==|!=|<=|>=|&&|\|\||[-+*/!<>(),]))"
)
_COMPARED = {"===": "=", "==": "=", "!==": "!=", "!=": "!=", "<": "<", "<=": "<=", ">": ">", ">=": ">="}
_CALLS = {"Math.abs": "abs", "Math.min": "min", "Math.max": "max"}


class Unreadable(Exception):
    """Why an expression cannot be said as a condition."""


def read(text: str, place: Callable[[str], tuple[str, str] | None]) -> tree.Node:
    """The tree of an expression; ``place`` gives layer and state for an id that ``In`` names, or None.

    Raises :class:`Unreadable` with the reason.
    """
    try:
        return _Reader(text, place).whole()
    except RecursionError:
        raise Unreadable("it is nested too deeply") from None


class _Reader:
    def __init__(self, text: str, place: Callable[[str], tuple[str, str] | None]) -> None:
        self.place = place
        self.tokens: list[tuple[str, str]] = []
        at = 0
        while at < len(text.rstrip()):
            found = _TOKEN.match(text, at)
            if found is None:
                raise Unreadable(f"“{text[at : at + 20].strip()}” is nothing a condition can say")
            self.tokens.append((str(found.lastgroup), found[str(found.lastgroup)]))
            at = found.end()
        self.at = self.depth = 0

    def whole(self) -> tree.Node:
        found = self.any_of()
        if self.at < len(self.tokens):
            raise Unreadable(f"“{self.tokens[self.at][1]}” stands where nothing more is expected")
        return found

    def taken(self, *signs: str) -> str:
        """The next sign, if it is one of these."""
        if self.at < len(self.tokens) and self.tokens[self.at][0] == "sign" and self.tokens[self.at][1] in signs:
            self.at += 1
            return self.tokens[self.at - 1][1]
        return ""

    def any_of(self) -> tree.Node:
        self.depth += 1
        if self.depth > DEEPEST:
            raise Unreadable("it is nested too deeply")
        parts = [self.all_of()]
        while self.taken("||"):
            parts.append(self.all_of())
        self.depth -= 1
        return parts[0] if len(parts) == 1 else tree.Any(tuple(parts))

    def all_of(self) -> tree.Node:
        parts = [self.compared()]
        while self.taken("&&"):
            parts.append(self.compared())
        return parts[0] if len(parts) == 1 else tree.All(tuple(parts))

    def compared(self) -> tree.Node:
        left = self.sum()
        sign = self.taken(*_COMPARED)
        if not sign:
            return left
        right, operator = self.sum(), _COMPARED[sign]
        if isinstance(left, tree.Truth):
            left, right = right, left
        if isinstance(right, tree.Truth) and operator in ("=", "!="):
            return left if right.value == (operator == "=") else tree.Not(left)
        return tree.Compare(operator, left, right)

    def sum(self) -> tree.Node:
        left = self.product()
        while sign := self.taken("+", "-"):
            left = tree.Arithmetic(sign, left, self.product())
        return left

    def product(self) -> tree.Node:
        left = self.signed()
        while sign := self.taken("*", "/"):
            left = tree.Arithmetic(sign, left, self.signed())
        return left

    def signed(self) -> tree.Node:
        signs = []
        while sign := self.taken("!", "-"):
            signs.append(sign)
        if len(signs) > DEEPEST:
            raise Unreadable("it is nested too deeply")
        found = self.atom()
        for sign in reversed(signs):
            if sign == "!":
                found = tree.Not(found)
            else:
                found = tree.Number(-found.value) if isinstance(found, tree.Number) else tree.Negative(found)
        return found

    def atom(self) -> tree.Node:
        if self.taken("("):
            found = self.any_of()
            self.closed()
            return found
        if self.at >= len(self.tokens):
            raise Unreadable("it breaks off")
        kind, word = self.tokens[self.at]
        self.at += 1
        if kind == "number":
            return tree.Number(float(word))
        if kind == "text":
            return tree.Name(_plain(word[1:-1]))
        if kind == "word" and self.taken("("):
            return self.call(word)
        if word in ("true", "false"):
            return tree.Truth(word == "true")
        if kind == "word":
            return tree.Name(_plain(word))
        raise Unreadable(f"“{word}” stands where a value is expected")

    def closed(self) -> None:
        if not self.taken(")"):
            raise Unreadable("a bracket is not closed")

    def call(self, function: str) -> tree.Node:
        if function == "In" and self.at < len(self.tokens) and self.tokens[self.at][0] == "text":
            name = self.tokens[self.at][1][1:-1]
            self.at += 1
            self.closed()
            found = self.place(name)
            if found is None:
                raise Unreadable(f"In('{name}') names no state that was brought in")
            return tree.InState(*found)
        if function not in _CALLS:
            raise Unreadable(f"{function}(…) is nothing a condition can say")
        operands = [self.any_of()]
        while self.taken(","):
            operands.append(self.any_of())
        self.closed()
        return tree.Call(_CALLS[function], tuple(operands))


def _plain(word: str) -> str:
    if not re.fullmatch(r"[A-Za-z_]\w*", word):
        raise Unreadable(f"{word} is no name of a parameter or of a choice")
    if word in KEYWORDS:
        raise Unreadable(f"{word} is a word of the language of conditions")
    return word
