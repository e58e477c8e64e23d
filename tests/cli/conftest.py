"""Every test of a command keeps its results in a folder of its own."""

from __future__ import annotations

import subprocess
from collections.abc import Callable
from functools import partial
from pathlib import Path

import pytest

from tests.support import warm_process

Command = Callable[..., subprocess.CompletedProcess[str]]


@pytest.fixture
def lean_step(warm: str) -> Command:
    """The real command, in a process of its own."""
    return partial(warm_process.run, warm, "leanstep.cli.main")


@pytest.fixture(autouse=True)
def results(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The folder for results of checks."""
    monkeypatch.setenv("LEANSTEP_RESULTS", str(tmp_path / "results"))
    return tmp_path / "results"
