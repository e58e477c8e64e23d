"""How the sources are cut."""

from __future__ import annotations

import ast
from graphlib import TopologicalSorter
from pathlib import Path

import leanstep

SOURCES = Path(leanstep.__file__).parent
MOST = 400
"""Lines of a module that people write."""
MOST_OF_PROOF = 350
PRINTED = {"runtime/leanstep_player.py"}
"""Modules that are printed from others."""


def test_no_module_is_longer_than_can_be_read_at_once() -> None:
    modules = sorted(path for path in SOURCES.rglob("*.py") if path.relative_to(SOURCES).as_posix() not in PRINTED)
    lengths = {path: len(path.read_text("utf-8").splitlines()) for path in modules}
    assert len(lengths) > 300
    assert {path: lines for path, lines in lengths.items() if lines > MOST} == {}
    proof = {path: lengths[path] for path in modules if "proof" in path.parts}
    assert len(proof) > 40 and max(proof.values()) <= MOST_OF_PROOF


TOGETHER = {"leanstep.core.conditions.scope", "leanstep.core.conditions.checking"}
"""What cannot be parted: a condition reads formulas, which are conditions themselves."""


def test_no_module_needs_one_that_needs_it() -> None:
    modules = {
        "leanstep." + ".".join(path.relative_to(SOURCES).with_suffix("").parts).removesuffix(".__init__"): path
        for path in SOURCES.rglob("*.py")
    }
    needs: dict[str, set[str]] = {}
    for name, path in modules.items():
        froms = [node for node in ast.walk(ast.parse(path.read_text("utf-8"))) if isinstance(node, ast.ImportFrom)]
        found = {f"{one.module}.{alias.name}" for one in froms for alias in one.names} | {
            str(one.module) for one in froms
        }
        needs[name] = (found & modules.keys()) - ({name} | TOGETHER if name in TOGETHER else {name})
    assert sum(map(len, needs.values())) > 1000
    # raises where there is no order, names for types alone included
    assert len(list(TopologicalSorter(needs).static_order())) == len(modules)
