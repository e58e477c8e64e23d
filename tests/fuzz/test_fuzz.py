"""A little of what ``python -m tests.fuzz`` does for long."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from tests.fuzz.__main__ import everything

SHARE = float(os.environ.get("LEANSTEP_FUZZ", "0.5"))
"""How much more than usual is fed."""


@pytest.mark.long(but=1)
@pytest.mark.parametrize("seed", [0, 1_000_000])
def test_nothing_that_is_fed_to_the_core_ends_in_a_traceback_or_hangs(seed: int) -> None:
    counts = (int(SHARE * count) for count in (1200, 250, 12, 200, 250, 150))
    assert everything(*counts, seed=seed) == []  # type: ignore[misc]


@pytest.mark.long
@pytest.mark.parametrize("seed", [1, 2])
def test_hands_on_everything_that_is_enabled(seed: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from PySide6.QtWidgets import QDialog, QFileDialog, QMenu, QMessageBox

    from tests.fuzz.hands import Hands

    for owner, names in (
        (QFileDialog, ["getOpenFileName", "getOpenFileNames", "getSaveFileName", "getExistingDirectory"]),
        (QMessageBox, ["exec"]),
        (QDialog, ["exec"]),
        (QMenu, ["exec"]),
    ):
        for name in names:
            monkeypatch.setattr(owner, name, getattr(owner, name))
    monkeypatch.setenv("LEANSTEP_STATE", str(tmp_path / "state"))
    assert Hands(tmp_path, seed).run(int(SHARE * 240)) == []
