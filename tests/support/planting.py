"""Planting a mistake in a module's source and running what comes of it, beside the real one."""

from __future__ import annotations

import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from types import ModuleType
from typing import Any

Mutant = tuple[ModuleType, str, str]
"""A module, what stands there, and what shall stand there instead."""


def planted(
    modules: Sequence[ModuleType], mutant: Mutant, prepared: Callable[[str], str] = str
) -> dict[str, dict[str, Any]]:
    """The names of these modules, by the modules' names, as they are with a mistake in one of them; ``prepared`` does something to
    every source."""
    wrong, old, new = mutant
    made: dict[str, dict[str, Any]] = {}
    for one in modules:
        source = Path(str(one.__file__)).read_text("utf-8")
        if one is wrong:
            assert source.count(old) >= 1, old
            source = source.replace(old, new, 1)
        # dataclasses look their module up by its name
        name = f"planted.{one.__name__}"
        sys.modules[name] = ModuleType(name)
        made[one.__name__] = vars(sys.modules[name])
        exec(compile(prepared(source), name, "exec"), made[one.__name__])
    return made
