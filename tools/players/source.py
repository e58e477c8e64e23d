"""The kernels as they are to be printed: which there are, in an order in which each comes after what it calls, and what they name."""

from __future__ import annotations

import ast
import inspect
import sys
import textwrap
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from types import ModuleType
from typing import Any

import numpy as np

NAMES = {"_": "again", "near": "is_near", "do": "does"}
"""Names that mean something else in one of the languages, and what stands for them."""
Constant = int | float | tuple[int, ...] | tuple[float, ...]


@dataclass
class Kernel:
    """A function to be printed.  ``parameters`` and ``returns`` are its types in words: ``int``, ``float``, ``bool``, ``Whole``,
    ``Real``; ``names`` is what it calls, ``constants`` what it reads, as they are called in its text."""

    name: str
    module: ModuleType
    tree: ast.FunctionDef
    parameters: dict[str, str]
    returns: str
    says: str
    calls: dict[str, str] = field(default_factory=dict)
    constants: dict[str, Constant] = field(default_factory=dict)


def plain(function: Callable[..., Any]) -> Callable[..., Any]:
    """A kernel's function as it stands."""
    found: Callable[..., Any] = getattr(function, "py_func", function)
    return found


def kernels(roots: list[Callable[..., Any]], left_out: set[str]) -> list[Kernel]:
    """These kernels and all they call but those ``left_out``, each after what it calls.

    Raises
    ------
    ValueError : two constants or kernels of one name are not the same.
    """
    found: dict[str, Kernel] = {}
    for root in roots:
        _add(plain(root), found, left_out)
    constants: dict[str, Constant] = {}
    for kernel in found.values():
        for name, value in kernel.constants.items():
            if constants.setdefault(name, value) != value:
                raise ValueError(f"{name} is {value} in {kernel.name} and {constants[name]} elsewhere: rename one")
    return list(found.values())


def _add(function: Callable[..., Any], found: dict[str, Kernel], left_out: set[str]) -> None:
    name = function.__name__.lstrip("_")
    if name in left_out:
        return
    module = sys.modules[function.__module__]
    if name in found:
        if found[name].module is not module:
            raise ValueError(f"there are two kernels called {name}: rename one")
        return
    tree = ast.parse(textwrap.dedent(inspect.getsource(function))).body[0]
    assert isinstance(tree, ast.FunctionDef)
    says = inspect.cleandoc(ast.get_docstring(tree) or "")
    if says:
        del tree.body[0]
    parameters = {one.arg: ast.unparse(one.annotation) if one.annotation else "" for one in tree.args.args}
    kernel = Kernel(name, module, tree, parameters, ast.unparse(tree.returns) if tree.returns else "None", says)
    reader = _Reader(module, kernel)
    tree.body = [reader.visit(one) for one in tree.body]
    if clash := reader.locals & set(kernel.calls):
        raise ValueError(f"{name} has a variable called as a kernel: rename {', '.join(clash)}")
    for called in reader.called:
        _add(called, found, left_out)
    found[name] = kernel


class _Reader(ast.NodeTransformer):
    """Gives constants and kernels the names under which they are printed."""

    def __init__(self, module: ModuleType, kernel: Kernel) -> None:
        self.module, self.kernel = module, kernel
        self.called: list[Callable[..., Any]] = []
        self.locals = {
            one.id for one in ast.walk(kernel.tree) if isinstance(one, ast.Name) and isinstance(one.ctx, ast.Store)
        }

    def visit_Attribute(self, node: ast.Attribute) -> ast.AST:
        assert isinstance(node.value, ast.Name)
        owner = vars(self.module)[node.value.id]
        if owner.__class__ is ModuleType and owner.__name__ in ("numpy", "math"):
            return node
        value = getattr(owner, node.attr)
        name = node.attr if isinstance(owner, ModuleType) else f"{node.value.id}_{node.attr.upper()}"
        return self._constant(name, value)

    def visit_Name(self, node: ast.Name) -> ast.AST:
        name = NAMES.get(node.id, node.id)
        if node.id in self.kernel.parameters or node.id in self.locals or not hasattr(self.module, node.id):
            return ast.Name(name, node.ctx)
        value = vars(self.module)[node.id]
        if callable(value) and not isinstance(value, tuple):
            function = plain(value)
            self.called.append(function)
            called = function.__name__.lstrip("_")
            self.kernel.calls[called] = called
            return ast.Name(called, node.ctx)
        return self._constant(node.id.lstrip("_"), value)

    def visit_arg(self, node: ast.arg) -> ast.AST:
        node.arg = NAMES.get(node.arg, node.arg)
        return node

    def _constant(self, name: str, value: Any) -> ast.AST:
        if isinstance(value, np.ndarray):
            value = tuple(value.tolist())
        if not isinstance(value, int | float | tuple):
            raise ValueError(f"{name} is no number")
        self.kernel.constants[name] = value
        return ast.Name(name, ast.Load())


def known(modules: list[ModuleType]) -> dict[str, Constant]:
    """The whole numbers of modules by name, places of records among them."""
    found: dict[str, Constant] = {}
    for module in modules:
        for name, value in vars(module).items():
            if isinstance(value, tuple) and hasattr(value, "_fields"):
                found |= {f"{name}_{place.upper()}": at for place, at in zip(value._fields, value)}
            elif isinstance(value, int) and not isinstance(value, bool):
                found.setdefault(name, int(value))
    return found


def constants(found: list[Kernel]) -> dict[str, Constant]:
    """All constants, in the order they are met."""
    return {name: value for kernel in found for name, value in kernel.constants.items()}


def groups(named: dict[str, Constant]) -> Iterator[tuple[str, dict[str, Constant]]]:
    """Constants that belong together: the places of one record, other whole numbers, other numbers, lists."""
    records = {
        name: value for name, value in named.items() if "_" in name and isinstance(value, int) and 0 <= value < 200
    }
    yield (
        "int",
        {name: value for name, value in sorted(records.items(), key=lambda one: (one[0].split("_")[0], one[1]))},
    )
    rest = {name: value for name, value in named.items() if name not in records}
    yield "int", {name: value for name, value in rest.items() if isinstance(value, int)}
    yield "float", {name: value for name, value in rest.items() if isinstance(value, float)}
    yield "list", {name: value for name, value in rest.items() if isinstance(value, tuple)}
