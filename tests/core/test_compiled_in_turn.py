"""Compiled code is kept by several programs at once: none deletes what another one writes, and one compiles for all."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

from leanstep import warm
from leanstep.core import jit

HOLD = """
import sys
from pathlib import Path
from leanstep.core import jit
jit._enter(Path(sys.argv[1]))
print("in", flush=True)
sys.stdin.read()
"""


ALONE = "import sys; from pathlib import Path; from leanstep.core import jit; print(jit._enter(Path(sys.argv[1])))"


def alone(folder: Path) -> bool:
    """Whether a program that comes now is alone with the folder."""
    words = [sys.executable, "-c", ALONE, str(folder)]
    return subprocess.run(words, capture_output=True, text=True, check=True).stdout == "True\n"


def names(folder: Path) -> set[str]:
    return {path.name for path in folder.glob("*.nb?")}


@pytest.mark.long
def test_what_another_program_has_just_written_stays(tmp_path: Path) -> None:
    other = subprocess.Popen(
        [sys.executable, "-c", HOLD, str(tmp_path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert other.stdout is not None and other.stdout.readline() == "in\n"
    (tmp_path / "new.nbi").write_bytes(b"just written")
    (tmp_path / "old.nbi").write_bytes(b"whole")
    jit._list(tmp_path)
    (tmp_path / "old.nbi").write_bytes(b"garbled")
    (tmp_path / "newer.nbi").write_bytes(b"written since")
    assert not alone(tmp_path)
    jit._distrust(tmp_path, False)
    assert names(tmp_path) == {"new.nbi", "newer.nbi"}, "what is garbled goes, what is not listed yet stays"
    other.communicate("")
    assert alone(tmp_path), "it has ended"
    jit._distrust(tmp_path, True)
    assert names(tmp_path) == {"new.nbi"}, "what nobody has listed is not trusted"


def test_one_compiles_and_the_others_wait(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(jit, "KEPT", tmp_path)
    done: list[str] = []
    monkeypatch.setattr(warm, "load", lambda: done.append("loaded"))
    monkeypatch.setattr(warm, "check_character", lambda character: done.append("checked"))
    monkeypatch.setattr(warm.os, "nice", lambda by: 0)
    assert not jit.is_whole()
    warm.main()
    warm.main()
    assert done == ["loaded", "checked"] and jit.is_whole()
    monkeypatch.setattr(warm.subprocess, "run", lambda *_, **__: pytest.fail("there is nothing to compile"))
    warm.compiled_once()
