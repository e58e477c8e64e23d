"""How Java writes kernels."""

from __future__ import annotations

import ast

from tools.players.languages import JavaScript, rounded_down, wrapped
from tools.players.printer import Text
from tools.players.source import Constant, Kernel


class Java(JavaScript):
    """Static methods, named as in JavaScript; truths are no numbers."""

    equal, unequal, indent = "==", "!=", "    "
    TYPES = {"int": "long ", "float": "double ", "bool": "boolean ", "None": "void "}
    TYPES |= {"Whole": "long[] ", "Real": "double[] "}
    FIRST = {"int": "0", "float": "0.0", "bool": "false"}
    CALLED = {**JavaScript.CALLED, "np.rint": "Math.rint"}

    def literal(self, value: float | bool) -> str:
        if isinstance(value, bool):
            return "true" if value else "false"
        return f"{value}L" if isinstance(value, int) and abs(value) >= 1 << 31 else repr(value)

    def head(self, kernel: Kernel) -> str:
        return (
            f"private static {self.TYPES[kernel.returns]}{self.function(kernel.name)}({self.parameters_of(kernel)}) {{"
        )

    def declare(self, values: dict[str, str], kinds: dict[str, str]) -> str:
        kind = kinds[next(iter(values))]
        return (
            f"{self.TYPES[kind]}{self.declared({name: value or self.FIRST[kind] for name, value in values.items()})};"
        )

    def cast(self, name: str, node: ast.expr) -> str:
        down = rounded_down(node) if name == "int" else None
        inner = f"Math.floor({self.text(down)})" if down is not None else self.text(node, 14)
        return f"({'long' if name == 'int' else 'double'}) {inner}"

    def divided(self, left: ast.expr, right: ast.expr) -> str:
        return f"Math.floorDiv({self.text(left)}, {self.text(right)})"

    def stored(self, target: ast.expr, value: ast.expr) -> str:
        if self.kind(value) == "bool" and self.kind(target) != "bool":
            return f"{self.text(value, 2)} ? 1 : 0"
        return self.text(value)

    def index(self, written: str) -> str:
        return written if written.isdigit() or (written.isupper() and written.isidentifier()) else f"(int) {written}"

    def _expression(self, node: ast.expr) -> Text:
        if isinstance(node, ast.Subscript):
            return f"{self.text(node.value)}[{self.index(self.text(node.slice, 14))}]", 20
        if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Mult) and self.kind(node.left) == "bool":
            return f"({self.text(node.left, 2)} ? 1 : 0) * {self.text(node.right, 14)}", 13
        return super()._expression(node)

    def constant_lines(self, kind: str, named: dict[str, Constant]) -> list[str]:
        if kind == "list":
            lists = ((name, value) for name, value in named.items() if isinstance(value, tuple))
            types = {name: "double" if isinstance(value[0], float) else "long" for name, value in lists}
            return [
                f"private static final {types[name]}[] {name} = {{\n{wrapped(list(map(repr, named[name])))}\n}};"  # type: ignore[arg-type]
                for name in types
            ]
        small = {name: value for name, value in named.items() if isinstance(value, int) and abs(value) < 1 << 31}
        lines = (
            [f"private static final int\n{wrapped([f'{name} = {value}' for name, value in small.items()])};"]
            if small
            else []
        )
        rest = {name: value for name, value in named.items() if name not in small and not isinstance(value, tuple)}
        words = {True: "long", False: "double"}
        return lines + [
            f"private static final {words[isinstance(value, int)]} {name} = {self.literal(value)};"
            for name, value in rest.items()
        ]
