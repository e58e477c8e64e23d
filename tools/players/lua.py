"""How Lua writes kernels.  Arrays begin at 0, and truths are kept as 0 and 1."""

from __future__ import annotations

import ast
import textwrap
from collections.abc import Iterator

from tools.players.languages import rounded_down, wrapped
from tools.players.printer import AND, ATOM, CHOICE, EQUAL, ORDER, UNARY, WIDTH, Printer, Text, plain_words
from tools.players.source import Constant, Kernel

_WORDS = {"end": "finish", "repeat": "again", "local": "inner", "then": "onward"}
"""Names that mean something in Lua."""

COMPARED = """function K.compared(sign, left, right)
  if left < right then return sign & K.LESS ~= 0 end
  if left == right then return sign & K.EQUAL ~= 0 end
  return sign & (left > right and K.GREATER or K.NEITHER) ~= 0
end"""
"""Truths are no bits here."""


class Lua(Printer):
    """Lua 5.4, as functions of one table, since a function may have no more than 200 locals around it."""

    equal, unequal = "==", "~="
    CALLED = {"np.floor": "K.floor", "math.floor": "K.floor", "np.rint": "K.rounded", "abs": "math.abs"}
    CALLED |= {"np.sqrt": "math.sqrt", "math.sqrt": "math.sqrt"}

    def function(self, name: str) -> str:
        return f"K.{name}"

    def local(self, name: str) -> str:
        return _WORDS.get(name, name)

    def constant(self, name: str) -> str:
        return f"K.{name}"

    def literal(self, value: float | bool) -> str:
        return str(value).lower() if isinstance(value, bool) else repr(value)

    def head(self, kernel: Kernel) -> str:
        return f"function {self.function(kernel.name)}({self.parameters_of(kernel)})"

    def declare(self, values: dict[str, str], kinds: dict[str, str]) -> str:
        names = ", ".join(map(self.local, values))
        given = [value for value in values.values() if value]
        return f"local {names}{' = ' + ', '.join(given) if given else ''}"

    def cast(self, name: str, node: ast.expr) -> str:
        down = rounded_down(node) if name == "int" else None
        if name == "float":
            return f"({self.text(node, 13)} + 0.0)"
        return f"math.floor({self.text(down if down is not None else node)})"

    def divided(self, left: ast.expr, right: ast.expr) -> str:
        return f"({self.text(left, 13)} // {self.text(right, UNARY)})"

    def grown(self, target: ast.expr, sign: str, value: ast.expr) -> str:
        return f"{self.text(target)} = {self.text(target)} {sign} {self.text(value, ATOM)}"

    def stored(self, target: ast.expr, value: ast.expr) -> str:
        if self.kind(value) == "bool" and isinstance(target, ast.Subscript):
            return f"{self.text(value, AND)} and 1 or 0"
        return self.text(value)

    def comment(self, says: str) -> list[str]:
        return [f"-- {line}" for line in textwrap.wrap(plain_words(says), WIDTH - 3)]

    def _expression(self, node: ast.expr) -> Text:
        if isinstance(node, ast.IfExp):
            test, body, rest = (self.text(one, AND + 1) for one in (node.test, node.body, node.orelse))
            if self.kind(node) == "bool":
                return f"({test} and {body}) or (not ({test}) and {rest})", CHOICE
            return f"{test} and {body} or {rest}", CHOICE
        if isinstance(node, ast.BoolOp):
            word, tightness = ("and", AND) if isinstance(node.op, ast.And) else ("or", AND - 1)
            return f" {word} ".join(self.text(one, tightness + 1) for one in node.values), tightness
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            return f"not {self.text(node.operand, UNARY)}", AND + 1
        written, tightness = super()._expression(node)
        if isinstance(node, ast.Compare):
            return written.replace(" && ", " and "), AND if len(node.ops) > 1 else EQUAL
        return written, tightness

    def _call(self, name: str, node: ast.Call) -> str:
        if name in ("min", "max"):
            return f"math.{name}({', '.join(map(self.text, node.args))})"
        return super()._call(name, node)

    def _statement(self, node: ast.stmt, deep: str, declared: set[str]) -> Iterator[str]:
        if isinstance(node, ast.Continue):
            yield f"{deep}goto continue"
        elif isinstance(node, ast.While):
            yield f"{deep}while {self.text(node.test)} do"
            yield from self._loop(node.body, deep, declared)
        else:
            yield from (line.removesuffix(";") for line in super()._statement(node, deep, declared))

    def _with_body(self, head: str, body: list[ast.stmt], deep: str, declared: set[str]) -> Iterator[str]:
        yield head if head.strip() == "else" else f"{head} then"
        yield from self._block(body, deep + self.indent, declared)
        yield f"{deep}end"

    def _if(self, node: ast.If, deep: str, declared: set[str]) -> Iterator[str]:
        lines = list(self._with_body(f"{deep}if {self.text(node.test)}", node.body, deep, declared))
        rest: list[ast.stmt] = node.orelse
        while rest:
            inner = rest[0] if len(rest) == 1 and isinstance(rest[0], ast.If) else None
            head = f"{deep}elseif {self.text(inner.test)}" if inner is not None else f"{deep}else"
            lines = [*lines[:-1], *self._with_body(head, inner.body if inner is not None else rest, deep, declared)]
            rest = inner.orelse if inner is not None else []
        if len(lines) == 3 and len(f"{lines[0]} {lines[1].strip()} end") <= WIDTH:
            lines = [f"{lines[0]} {lines[1].strip()} end"]
        yield from lines

    def _for(self, node: ast.For, deep: str, declared: set[str]) -> Iterator[str]:
        assert isinstance(node.target, ast.Name)
        name, inner = self.local(node.target.id), {*declared, node.target.id}
        if isinstance(node.iter, ast.Name):
            count = len(self.values[node.iter.id])  # type: ignore[arg-type]
            yield f"{deep}for number = 0, {count - 1} do"
            yield f"{deep}{self.indent}local {name} = {self.constant(node.iter.id)}[number]"
        else:
            assert isinstance(node.iter, ast.Call)
            words = [self.text(one, ORDER + 1) for one in node.iter.args]
            begin, end, step = {1: ["0", *words, ""], 2: [*words, ""], 3: words}[len(words)]
            yield f"{deep}for {name} = {begin}, {end} - 1{', ' + step if step else ''} do"
        yield from self._loop(node.body, deep, inner)

    def _loop(self, body: list[ast.stmt], deep: str, declared: set[str]) -> Iterator[str]:
        yield from self._block(body, deep + self.indent, declared)
        if any(isinstance(one, ast.Continue) for part in body for one in _in_loop(part)):
            yield f"{deep}{self.indent}::continue::"
        yield f"{deep}end"

    def _function(self, kernel: Kernel) -> list[str]:
        if kernel.name == "compared":
            return COMPARED.splitlines()
        return [*super()._function(kernel)[:-1], "end"]

    def constant_lines(self, kind: str, named: dict[str, Constant]) -> list[str]:
        if kind == "list":
            lists = ((name, value) for name, value in named.items() if isinstance(value, tuple))
            return [
                f"K.{name} = {{\n{wrapped(['[0]=' + repr(value[0]), *map(repr, value[1:])])}\n}}"
                for name, value in lists
            ]
        names = list(named)
        rows = [names[at : at + 4] for at in range(0, len(names), 4)]
        return [
            f"{', '.join(f'K.{name}' for name in row)} = {', '.join(repr(named[name]) for name in row)}" for row in rows
        ]


def _in_loop(node: ast.AST) -> Iterator[ast.AST]:
    """A statement and what is in it, but for what is in loops of its own."""
    yield node
    if not isinstance(node, ast.For | ast.While):
        for child in ast.iter_child_nodes(node):
            yield from _in_loop(child)
