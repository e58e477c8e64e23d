"""Public functions of the core say in words what they do, and what they raise."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import leanstep.core

CORE = Path(leanstep.core.__path__[0])


def functions(body: list[ast.stmt], owner: str = "", told: str = "") -> Iterator[tuple[str, ast.FunctionDef, str]]:
    """The public functions of a module or class, with what the class says."""
    for one in body:
        if isinstance(one, ast.ClassDef) and not one.name.startswith("_"):
            yield from functions(one.body, f"{owner}{one.name}.", ast.get_docstring(one) or "")
        elif isinstance(one, ast.FunctionDef) and (not one.name.startswith("_") or one.name == "__init__"):
            yield f"{owner}{one.name}", one, told


def raised(node: ast.AST) -> Iterator[str]:
    """What a function raises itself, by name."""
    for child in ast.iter_child_nodes(node):
        if isinstance(child, ast.Raise) and child.exc is not None:
            thing = child.exc.func if isinstance(child.exc, ast.Call) else child.exc
            yield ast.unparse(thing)
        if not isinstance(child, ast.FunctionDef | ast.Lambda | ast.ClassDef):
            yield from raised(child)


def test_whoever_raises_says_what() -> None:
    silent, looked_at = [], 0
    for path in sorted(CORE.rglob("*.py")):
        for name, function, told in functions(ast.parse(path.read_text()).body):
            text = f"{ast.get_docstring(function) or ''} {told if name.endswith('__init__') else ''}"
            for what in raised(function):
                looked_at += 1
                # what is derived of LeanStepError may be told as that; an error made elsewhere, or by a helper, has no name here
                if not any(one in text for one in (what, "LeanStepError", "aise")):
                    silent.append(f"{path.relative_to(CORE)} {name}: {what}")
    assert not silent and looked_at > 20


def test_public_functions_and_classes_are_said_in_words() -> None:
    silent = [
        f"{path.relative_to(CORE)} {name}"
        for path in sorted(CORE.rglob("*.py"))
        for name, function, _ in functions(ast.parse(path.read_text()).body)
        if name.count(".") == 0 and not ast.get_docstring(function)
    ]
    assert not silent
