"""How the sources are cut."""

from __future__ import annotations

from pathlib import Path

import leanstep

SOURCES = Path(leanstep.__file__).parent
MOST = 400
"""Lines of a module that people write."""
PRINTED = {"runtime/leanstep_player.py"}
"""Modules that are printed from others."""


def test_no_module_is_longer_than_can_be_read_at_once() -> None:
    modules = sorted(path for path in SOURCES.rglob("*.py") if path.relative_to(SOURCES).as_posix() not in PRINTED)
    lengths = {path.name: len(path.read_text("utf-8").splitlines()) for path in modules}
    assert len(lengths) > 300
    assert {name: lines for name, lines in lengths.items() if lines > MOST} == {}
