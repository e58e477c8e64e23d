"""Characters that went wrong once, each in a file of its own."""

from __future__ import annotations

from pathlib import Path

CASES = Path(__file__).parent.parent / "cases"


def case(name: str) -> Path:
    """The file of one of them."""
    return CASES / f"{name}.leanstep"
