"""Every test of a command keeps its results in a folder of its own."""

from __future__ import annotations

from pathlib import Path

import pytest


@pytest.fixture(autouse=True)
def results(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The folder for results of checks."""
    monkeypatch.setenv("LEANSTEP_RESULTS", str(tmp_path / "results"))
    return tmp_path / "results"
