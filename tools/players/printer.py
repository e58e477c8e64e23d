"""Prints kernels in languages that look like C: one class walks Python's own syntax tree, and each language says how it writes things.

A kernel is written in a small part of Python: whole numbers, doubles and truths in variables and in arrays, ``+ - * / // % | &``,
comparisons, ``if``, ``while``, ``for … in range(…)`` and over a list of numbers, and calls.  ``%`` is only asked of numbers from 0
on; a product that is divided, ``a * b // c``, may be greater than any double counts.
"""

from __future__ import annotations

import ast
import textwrap
from collections.abc import Iterator

from tools.players.source import NAMES, Constant, Kernel, constants, groups

WIDTH = 132
_SIGNS = {
    ast.Add: ("+", 12),
    ast.Sub: ("-", 12),
    ast.Mult: ("*", 13),
    ast.Div: ("/", 13),
    ast.Mod: ("%", 13),
    ast.BitOr: ("|", 7),
    ast.BitAnd: ("&", 7),
}
_COMPARED = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">="}
OR, AND, EQUAL, ORDER, UNARY, ATOM, CHOICE = 3, 4, 9, 10, 14, 20, 1
Text = tuple[str, int]
"""What is written, and how tightly it holds together."""


class Printer:
    """Prints kernels; what differs between languages is asked of the methods that come first."""

    equal, unequal = "==", "!="
    indent = "  "
    TYPES: dict[str, str] = {}
    """The words for kinds, with what stands between them and a name; empty where nothing says them."""

    def function(self, name: str) -> str:
        """How a kernel is called."""
        return name

    def local(self, name: str) -> str:
        """How a variable is called."""
        return name

    def constant(self, name: str) -> str:
        """How a constant is called."""
        return name

    def literal(self, value: float | bool) -> str:
        """A number as it is written."""
        return str(int(value)) if isinstance(value, bool) else repr(value)

    def head(self, kernel: Kernel) -> str:
        """The line that begins a function."""
        raise NotImplementedError

    def parameters_of(self, kernel: Kernel) -> str:
        """The parameters of a function, with their kinds where the language says them."""
        return ", ".join(
            self.TYPES.get(kind, "") + self.local(NAMES.get(name, name)) for name, kind in kernel.parameters.items()
        )

    def declare(self, values: dict[str, str], kinds: dict[str, str]) -> str:
        """New variables of one kind with their first values, where they have any."""
        raise NotImplementedError

    def declared(self, values: dict[str, str]) -> str:
        """Variables with their first values, as they stand behind the word that says their kind."""
        return ", ".join(
            f"{self.local(name)} = {value}" if value else self.local(name) for name, value in values.items()
        )

    CALLED: dict[str, str]
    """What stands for functions of numbers."""

    def index(self, written: str) -> str:
        """Where something stands in an array."""
        return written

    def stored(self, target: ast.expr, value: ast.expr) -> str:
        """What is assigned, as what it is assigned to takes it."""
        return self.text(value)

    def cast(self, name: str, node: ast.expr) -> str:
        """A number as a whole one (``int``) or as a double (``float``)."""
        raise NotImplementedError

    def divided(self, left: ast.expr, right: ast.expr) -> str:
        """A whole number divided, rounded down."""
        raise NotImplementedError

    def grown(self, target: ast.expr, sign: str, value: ast.expr) -> str:
        """What is changed by a value, without what ends a line."""
        return f"{self.text(target)} {sign}= {self.text(value)}"

    def constant_lines(self, kind: str, named: dict[str, Constant]) -> list[str]:
        """Constants of a kind (``int``, ``float`` or ``list``)."""
        raise NotImplementedError

    def kind(self, node: ast.expr) -> str:
        """The kind of what an expression comes to: ``int``, ``float`` or ``bool``."""
        if isinstance(node, ast.Constant):
            return type(node.value).__name__
        if isinstance(node, ast.Name):
            return self._kind_of_name(node.id)
        if isinstance(node, ast.Subscript):
            array = self.kind(node.value)
            return {"Whole": "int", "Real": "float", "ints": "int", "floats": "float"}[array]
        if isinstance(node, ast.Compare | ast.BoolOp) or (
            isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not)
        ):
            return "bool"
        if isinstance(node, ast.UnaryOp):
            return self.kind(node.operand)
        if isinstance(node, ast.IfExp):
            return _wider(self.kind(node.body), self.kind(node.orelse))
        if isinstance(node, ast.BinOp):
            if isinstance(node.op, ast.Div):
                return "float"
            return _wider("int", _wider(self.kind(node.left), self.kind(node.right)))
        assert isinstance(node, ast.Call), ast.dump(node)
        return self._kind_of_call(node)

    def _kind_of_name(self, name: str) -> str:
        if name in self.kinds:
            return self.kinds[name]
        value = self.values[name]
        if isinstance(value, tuple):
            return "floats" if isinstance(value[0], float) else "ints"
        return type(value).__name__

    def _kind_of_call(self, node: ast.Call) -> str:
        name = ast.unparse(node.func)
        if name in self.kernels:
            return self.kernels[name].returns
        if name in ("min", "max"):
            return _wider(self.kind(node.args[0]), self.kind(node.args[1]))
        if name == "abs":
            return self.kind(node.args[0])
        return "int" if name == "int" else "float"

    def text(self, node: ast.expr, around: int = 0) -> str:
        """An expression, in brackets where what is ``around`` it holds tighter."""
        written, tightness = self._expression(node)
        return f"({written})" if tightness < around else written

    def _expression(self, node: ast.expr) -> Text:
        if isinstance(node, ast.Constant):
            assert isinstance(node.value, bool | int | float)
            return self.literal(node.value), ATOM
        if isinstance(node, ast.Name):
            local = node.id in self.kinds
            return (self.local(node.id) if local else self.constant(node.id)), ATOM
        if isinstance(node, ast.Subscript):
            return f"{self.text(node.value)}[{self.text(node.slice)}]", ATOM
        if isinstance(node, ast.IfExp):
            return (
                f"{self.text(node.test, AND)} ? {self.text(node.body, AND)} : {self.text(node.orelse, CHOICE)}",
                CHOICE,
            )
        if isinstance(node, ast.BoolOp):
            word, tightness = ("&&", AND) if isinstance(node.op, ast.And) else ("||", OR)
            # compilers ask for brackets about an and in an or
            inner = EQUAL if word == "||" else tightness
            return f" {word} ".join(self.text(one, inner) for one in node.values), tightness
        if isinstance(node, ast.UnaryOp):
            sign = {ast.Not: "!", ast.USub: "-"}[type(node.op)]
            return f"{sign}{self.text(node.operand, UNARY)}", UNARY
        if isinstance(node, ast.Compare):
            return self._compare(node)
        if isinstance(node, ast.BinOp):
            if isinstance(node.op, ast.FloorDiv):
                return self.divided(node.left, node.right), ATOM
            sign, tightness = _SIGNS[type(node.op)]
            # compilers ask for brackets about a comparison or a product in an or of bits
            left = UNARY if sign in "|&" and isinstance(node.left, ast.Compare) else tightness
            return f"{self.text(node.left, left)} {sign} {self.text(node.right, tightness + 1)}", tightness
        assert isinstance(node, ast.Call), ast.dump(node)
        return self._call(ast.unparse(node.func), node), ATOM

    def _call(self, name: str, node: ast.Call) -> str:
        if name in ("min", "max"):
            one, other = (self.text(part, ORDER + 1) for part in node.args)
            return f"({other} {'<' if name == 'min' else '>'} {one} ? {other} : {one})"
        if name in ("int", "float"):
            return self.cast(name, node.args[0])
        called = self.function(name) if name in self.kernels else self.CALLED[name]
        return f"{called}({', '.join(map(self.text, node.args))})"

    def _compare(self, node: ast.Compare) -> Text:
        sides = [node.left, *node.comparators]
        parts = []
        for left, sign, right in zip(sides, node.ops, sides[1:]):
            equality = {ast.Eq: self.equal, ast.NotEq: self.unequal}.get(type(sign))
            word, tightness = (equality, EQUAL) if equality else (_COMPARED[type(sign)], ORDER)
            parts.append((f"{self.text(left, tightness + 1)} {word} {self.text(right, tightness + 1)}", tightness))
        return parts[0] if len(parts) == 1 else (" && ".join(text for text, _ in parts), AND)

    def _block(self, body: list[ast.stmt], deep: str, declared: set[str]) -> Iterator[str]:
        """The lines of a block; ``declared`` are the variables there are outside it."""
        declared = set(declared)
        early = self._to_declare(body, declared)
        for kind in ("int", "float", "bool"):
            some = {name: "" for name in early if self.kinds[name] == kind}
            if some:
                yield deep + self.declare(some, self.kinds)
        declared |= set(early)
        for one in body:
            yield from self._statement(one, deep, declared)

    def _to_declare(self, body: list[ast.stmt], declared: set[str]) -> list[str]:
        """The variables that several statements of this block use and that no assignment right in it brings in."""
        seen: dict[str, list[int]] = {}
        for at, one in enumerate(body):
            for name in _free(one):
                if name in self.kinds and name not in self.parameters and name not in declared:
                    seen.setdefault(name, []).append(at)
        return [name for name, places in seen.items() if len(places) > 1 and name not in _brings(body[places[0]])]

    def _statement(self, node: ast.stmt, deep: str, declared: set[str]) -> Iterator[str]:
        if isinstance(node, ast.Assign):
            yield from (deep + line for line in self._assigned(_pairs(node), declared))
        elif isinstance(node, ast.AugAssign):
            yield f"{deep}{self.grown(node.target, _SIGNS[type(node.op)][0], node.value)};"
        elif isinstance(node, ast.Expr):
            yield f"{deep}{self.text(node.value)};"
        elif isinstance(node, ast.Return):
            yield f"{deep}return{' ' + self.text(node.value) if node.value is not None else ''};"
        elif isinstance(node, ast.Break | ast.Continue):
            yield f"{deep}{'break' if isinstance(node, ast.Break) else 'continue'};"
        elif isinstance(node, ast.If):
            yield from self._if(node, deep, declared)
        elif isinstance(node, ast.While):
            yield from self._with_body(f"{deep}while ({self.text(node.test)})", node.body, deep, declared)
        elif isinstance(node, ast.For):
            yield from self._for(node, deep, declared)
        else:
            raise ValueError(f"kernels have no {type(node).__name__}")

    def _assigned(self, pairs: list[tuple[ast.expr, ast.expr]], declared: set[str]) -> Iterator[str]:
        """What is assigned, new variables of one kind together."""
        waiting: dict[str, str] = {}
        for target, value in pairs:
            new = isinstance(target, ast.Name) and target.id not in declared and target.id not in self.parameters
            if waiting and (not new or self.kinds[target.id] != self.kinds[next(iter(waiting))]):  # type: ignore[attr-defined]
                yield self.declare(waiting, self.kinds)
                waiting = {}
            if isinstance(target, ast.Name) and new:
                declared.add(target.id)
                waiting[target.id] = self.stored(target, value)
            else:
                yield f"{self.text(target)} = {self.stored(target, value)};"
        if waiting:
            yield self.declare(waiting, self.kinds)

    def _with_body(self, head: str, body: list[ast.stmt], deep: str, declared: set[str]) -> Iterator[str]:
        """A statement with its body, behind it on the same line where that is short."""
        lines = list(self._block(body, deep + self.indent, declared))
        short = f"{head} {lines[0].strip()}"
        if len(lines) == 1 and len(short) <= WIDTH and not lines[0].lstrip().startswith("if "):
            yield short
        else:
            yield from (f"{head} {{", *lines, f"{deep}}}")

    def _if(self, node: ast.If, deep: str, declared: set[str]) -> Iterator[str]:
        head = f"if ({self.text(node.test)})"
        lines = list(self._with_body(deep + head, node.body, deep, declared))
        rest: list[ast.stmt] = node.orelse
        while rest:
            inner = rest[0] if len(rest) == 1 and isinstance(rest[0], ast.If) else None
            head = f"else if ({self.text(inner.test)})" if inner is not None else "else"
            joined = f"{deep}}} {head}" if lines[-1] == f"{deep}}}" else deep + head
            if lines[-1] == f"{deep}}}":
                lines.pop()
            lines += self._with_body(joined, inner.body if inner is not None else rest, deep, declared)
            rest = inner.orelse if inner is not None else []
        yield from lines

    def _for(self, node: ast.For, deep: str, declared: set[str]) -> Iterator[str]:
        assert isinstance(node.target, ast.Name)
        name, inner = node.target.id, {*declared, node.target.id}
        if isinstance(node.iter, ast.Name):
            count = len(self.values[node.iter.id])  # type: ignore[arg-type]
            yield f"{deep}for ({self.declare({'number': '0'}, {'number': 'int'})} number < {count}; number++) {{"
            yield (
                deep
                + self.indent
                + self.declare({name: f"{self.constant(node.iter.id)}[{self.index('number')}]"}, self.kinds)
            )
        else:
            assert isinstance(node.iter, ast.Call)
            # the end is compared with, so whatever is looser than a sum needs brackets
            words = [self.text(one, ORDER + 1) for one in node.iter.args]
            begin, end, step = {1: ["0", *words, "1"], 2: [*words, "1"], 3: words}[len(words)]
            variable = self.local(name)
            onward = f"{variable}++" if step == "1" else f"{variable} += {step}"
            head = f"{deep}for ({self.declare({name: begin}, self.kinds)} {variable} < {end}; {onward})"
            yield from self._with_body(head, node.body, deep, inner)
            return
        yield from self._block(node.body, deep + self.indent, inner)
        yield f"{deep}}}"

    def printed(self, kernels: list[Kernel], more: dict[str, Constant]) -> str:
        """Constants, ``more`` of them than the kernels name, and functions."""
        self.kernels = {one.name: one for one in kernels}
        self.values = constants(kernels) | more
        lines: list[str] = []
        for kind, named in groups(self.values):
            lines += self.constant_lines(kind, named) if named else []
        for kernel in kernels:
            lines += ["", *self.comment(kernel.says), *self._function(kernel)]
        return "\n".join(lines)

    def comment(self, says: str) -> list[str]:
        """What a function is for, above it."""
        return [f"// {line}" for line in textwrap.wrap(plain_words(says), WIDTH - 3)]

    def _function(self, kernel: Kernel) -> list[str]:
        self.parameters = {NAMES.get(name, name): kind for name, kind in kernel.parameters.items()}
        self.kinds = dict(self.parameters)
        for _ in range(2):  # what is assigned later may be wider
            self._find_kinds(kernel.tree)
        return [self.head(kernel), *self._block(kernel.tree.body, self.indent, set()), "}"]

    def _find_kinds(self, tree: ast.AST) -> None:
        for node in _in_order(tree):
            if isinstance(node, ast.Assign):
                for target, value in _pairs(node):
                    if isinstance(target, ast.Name):
                        kind = self.kind(value)
                        self.kinds[target.id] = _wider(self.kinds.get(target.id, kind), kind)
            if isinstance(node, ast.For) and isinstance(node.target, ast.Name):
                over = self._kind_of_name(node.iter.id) if isinstance(node.iter, ast.Name) else "ints"
                self.kinds[node.target.id] = "float" if over == "floats" else "int"


def plain_words(says: str) -> str:
    """The first paragraph of a docstring, without its marks."""
    return " ".join(says.split("\n\n")[0].replace("``", "").split())


def _in_order(tree: ast.AST) -> Iterator[ast.AST]:
    yield tree
    for child in ast.iter_child_nodes(tree):
        yield from _in_order(child)


def _wider(one: str, other: str) -> str:
    """The kind of what may be either."""
    return "float" if "float" in (one, other) else "int" if "int" in (one, other) else one


def _pairs(node: ast.Assign) -> list[tuple[ast.expr, ast.expr]]:
    """What is assigned to what, one after the other."""
    (target,) = node.targets
    if not isinstance(target, ast.Tuple):
        return [(target, node.value)]
    assert isinstance(node.value, ast.Tuple), ast.unparse(node)
    pairs = list(zip(target.elts, node.value.elts))
    for at, (one, _) in enumerate(pairs):
        for _, later in pairs[at + 1 :]:
            assert ast.unparse(one) not in {
                ast.unparse(part) for part in ast.walk(later) if isinstance(part, ast.expr)
            }, f"assign one after the other: {ast.unparse(node)}"
    return pairs


def _free(node: ast.AST) -> dict[str, None]:
    """The variables a statement uses that are not those of loops in it."""
    if isinstance(node, ast.Name):
        return {node.id: None}
    found = {name: None for child in ast.iter_child_nodes(node) for name in _free(child)}
    if isinstance(node, ast.For) and isinstance(node.target, ast.Name):
        del found[node.target.id]
    return found


def _brings(node: ast.stmt) -> set[str]:
    """The variables that a statement brings in where it stands."""
    if not isinstance(node, ast.Assign):
        return set()
    return {target.id for target, _ in _pairs(node) if isinstance(target, ast.Name)}
