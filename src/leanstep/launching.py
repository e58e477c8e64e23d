"""How programs of ours are started: what lies in the folder of a character, or in what the environment names, is never run.

Python looks for modules in the folder it is started in and in those of ``PYTHONPATH``.  A file called like a library beside somebody's
character would be run by whoever opens it from there.
"""

from __future__ import annotations

import os
import sys
from multiprocessing import get_context
from multiprocessing.context import BaseContext
from pathlib import Path


def words(module: str) -> list[str]:
    """The command that runs a module of ours in a process of its own: the environment (``-E``) and the folder (``-P``) add nothing."""
    return [sys.executable, "-E", "-P", "-m", module]


def processes() -> BaseContext:
    """How processes for work are made: as copies of this one, which look for modules where it does."""
    return get_context("fork")


def guard() -> None:
    """Look for modules neither in the folder this was started in nor in those that the environment names, but for that of ours."""
    ours = Path(__file__).resolve().parents[1]
    named = {_resolved(one) for one in os.environ.get("PYTHONPATH", "").split(os.pathsep)} - {ours}
    sys.path[:] = [one for one in sys.path if os.path.isabs(one) and _resolved(one) not in named]


def _resolved(path: str) -> Path:
    return Path(path or os.curdir).resolve()
