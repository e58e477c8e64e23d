"""What the README names runs: its benchmarks, briefly."""

from __future__ import annotations

import importlib
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
NAMED = sorted(set(re.findall(r"python -m (benchmarks[.\w]*)", (ROOT / "README.md").read_text(encoding="utf-8"))))


@pytest.mark.long
@pytest.mark.parametrize("name", NAMED)
def test_a_benchmark_runs(name: str, tmp_path: Path) -> None:
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "LEANSTEP_STATE": str(tmp_path)}
    words = [sys.executable, "-m", name, "--briefly"]
    done = subprocess.run(words, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert done.stdout.strip()


@pytest.mark.parametrize("name", NAMED)
def test_a_benchmark_finds_what_it_imports(name: str) -> None:
    made = importlib.import_module(f"{name}.__main__" if name == "benchmarks" else name)
    assert callable(made.main)


def test_every_benchmark_there_is_is_named() -> None:
    there = {path.stem for path in (ROOT / "benchmarks").glob("*.py") if "def main" in path.read_text(encoding="utf-8")}
    assert {name.removeprefix("benchmarks").removeprefix(".") or "__main__" for name in NAMED} == there
