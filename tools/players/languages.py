"""How C, JavaScript and Python write kernels."""

from __future__ import annotations

import ast
import re
import textwrap
from collections.abc import Iterator

from tools.players.printer import WIDTH, Printer, plain_words
from tools.players.source import Constant, Kernel, constants, groups


def rounded_down(inner: ast.expr) -> ast.expr | None:
    """What is rounded down where ``int`` is asked of ``np.floor(…)``."""
    is_floor = isinstance(inner, ast.Call) and ast.unparse(inner.func) in ("np.floor", "math.floor")
    return inner.args[0] if is_floor and isinstance(inner, ast.Call) else None


def _is_great(value: Constant) -> bool:
    return isinstance(value, int) and abs(value) >= 1 << 31


class C(Printer):
    """C99, with names of its own."""

    TYPES = {"int": "int64_t ", "float": "double ", "bool": "int ", "None": "void "}
    TYPES |= {"Whole": "int64_t *", "Real": "double *"}
    CALLED = {"np.floor": "floor", "math.floor": "floor", "np.rint": "nearbyint", "abs": "fabs"}
    CALLED |= {"np.sqrt": "sqrt", "math.sqrt": "sqrt"}

    def function(self, name: str) -> str:
        return f"ls_{name}"

    def constant(self, name: str) -> str:
        return f"LS_{name}"

    def literal(self, value: float | bool) -> str:
        if isinstance(value, bool):
            return str(int(value))
        return f"{value}LL" if _is_great(value) else repr(value)

    def head(self, kernel: Kernel) -> str:
        return (
            f"static inline {self.TYPES[kernel.returns]}{self.function(kernel.name)}({self.parameters_of(kernel)}) {{"
        )

    def declare(self, values: dict[str, str], kinds: dict[str, str]) -> str:
        return f"{self.TYPES[kinds[next(iter(values))]]}{self.declared(values)};"

    def cast(self, name: str, node: ast.expr) -> str:
        down = rounded_down(node) if name == "int" else None
        inner = f"floor({self.text(down)})" if down is not None else self.text(node, 14)
        return f"({'int64_t' if name == 'int' else 'double'}){inner}"

    def divided(self, left: ast.expr, right: ast.expr) -> str:
        return f"ls_floor_div({self.text(left)}, {self.text(right)})"

    def constant_lines(self, kind: str, named: dict[str, Constant]) -> list[str]:
        if kind == "int":
            great = [f"#define LS_{name} {value}LL" for name, value in named.items() if _is_great(value)]
            small = [f"LS_{name} = {value}" for name, value in named.items() if not _is_great(value)]
            return [*great, *([f"enum {{\n{wrapped(small)}\n}};"] if small else [])]
        if kind == "float":
            return [f"#define LS_{name} {value!r}" for name, value in named.items()]
        return [
            f"static const {'double' if isinstance(value[0], float) else 'int64_t'} LS_{name}[] = {{\n{_listed(value)}\n}};"
            for name, value in named.items()
            if isinstance(value, tuple)
        ]

    def comment(self, says: str) -> list[str]:
        lines = textwrap.wrap(plain_words(says), WIDTH - 6)
        return ["/* " + "\n   ".join(lines) + " */"] if lines else []


class JavaScript(Printer):
    """An ES module."""

    equal, unequal = "===", "!=="
    CALLED = {"np.floor": "Math.floor", "math.floor": "Math.floor", "np.rint": "rounded", "abs": "Math.abs"}
    CALLED |= {"np.sqrt": "Math.sqrt", "math.sqrt": "Math.sqrt"}

    def function(self, name: str) -> str:
        return re.sub(r"_(\w)", lambda match: match.group(1).upper(), name)

    local = function

    def literal(self, value: float | bool) -> str:
        if isinstance(value, bool):
            return "true" if value else "false"
        return str(int(value)) if float(value).is_integer() and abs(value) < 1e15 else repr(value)

    def head(self, kernel: Kernel) -> str:
        return f"function {self.function(kernel.name)}({self.parameters_of(kernel)}) {{"

    def declare(self, values: dict[str, str], kinds: dict[str, str]) -> str:
        return f"let {self.declared(values)};"

    def cast(self, name: str, node: ast.expr) -> str:
        if name == "float":
            return f"Number({self.text(node)})" if self.kind(node) == "bool" else f"({self.text(node)})"
        down = rounded_down(node)
        return f"Math.floor({self.text(down)})" if down is not None else f"Math.trunc({self.text(node)})"

    def divided(self, left: ast.expr, right: ast.expr) -> str:
        if isinstance(left, ast.BinOp) and isinstance(left.op, ast.Mult):
            return f"shareOf({self.text(left.left)}, {self.text(left.right)}, {self.text(right)})"
        return f"floorDiv({self.text(left)}, {self.text(right)})"

    def constant_lines(self, kind: str, named: dict[str, Constant]) -> list[str]:
        if kind == "list":
            return [
                f"const {name} = [\n{_listed(value)}\n];" for name, value in named.items() if isinstance(value, tuple)
            ]
        written = [f"{name} = {self.literal(value)}" for name, value in named.items() if not isinstance(value, tuple)]
        return ["const", f"{wrapped(written)};"]


class Python:
    """Python without numpy.  Programs are functions (``PROGRAM``), which stand where others keep addresses of instructions."""

    def printed(self, kernels: list[Kernel], more: dict[str, Constant]) -> str:
        """Constants, ``more`` of them than the kernels name, and functions."""
        lines: list[str] = []
        for kind, named in groups(constants(kernels) | more):
            if kind == "list":
                lines += [f"{name} = {value!r}" for name, value in named.items()]
            else:
                lines += _unpacked(named)
        for kernel in kernels:
            tree = ast.fix_missing_locations(_Plain().visit(kernel.tree))
            tree.decorator_list, tree.name = [], kernel.name
            says = "\n    ".join(textwrap.wrap(plain_words(kernel.says), WIDTH - 8))
            tree.body.insert(0, ast.Expr(ast.Constant(says)))
            lines += ["", "", ast.unparse(ast.fix_missing_locations(tree))]
        return "\n".join(lines)


def _unpacked(named: dict[str, Constant]) -> Iterator[str]:
    """Constants, four a line."""
    names = list(named)
    for first in range(0, len(names), 4):
        some = names[first : first + 4]
        yield f"{', '.join(some)} = {', '.join(repr(named[name]) for name in some)}"


class _Plain(ast.NodeTransformer):
    """What numpy does, done without."""

    def visit_Call(self, node: ast.Call) -> ast.AST:
        self.generic_visit(node)
        name = ast.unparse(node.func)
        if name == "int" and (down := rounded_down(node.args[0])) is not None:
            return ast.Call(_named("math.floor"), [down], [])
        if name == "run":
            return ast.Call(node.args[-1], node.args[:1] + node.args[2:4], [])
        if name in ("np.floor", "np.sqrt"):
            return ast.Call(_named(name.replace("np", "math")), node.args, [])
        if name == "np.rint":
            return ast.Call(ast.Name("rounded", ast.Load()), node.args, [])
        if name in ("min", "max"):
            one, other = node.args
            sign = ast.Lt() if name == "min" else ast.Gt()
            return ast.IfExp(ast.Compare(other, [sign], [one]), other, one)
        return node


def _named(name: str) -> ast.expr:
    return ast.parse(name, mode="eval").body


def wrapped(words: list[str]) -> str:
    """Words with commas between them, on as many lines as they take."""
    whole = textwrap.fill(
        ", ".join(word.replace(" ", "~") for word in words), WIDTH - 2, initial_indent="  ", subsequent_indent="  "
    )
    return whole.replace("~", " ")


def _listed(values: tuple[int, ...] | tuple[float, ...]) -> str:
    return wrapped([repr(value) for value in values])
