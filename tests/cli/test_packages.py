"""The packages of the players alone: they install, and bring nothing else."""

from __future__ import annotations

import shutil
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from tools.packages import write


@pytest.mark.long
def test_the_python_package_is_one_module_without_dependencies(tmp_path: Path) -> None:
    write(tmp_path)
    words = [
        sys.executable,
        "-m",
        "pip",
        "wheel",
        "--no-deps",
        "--wheel-dir",
        str(tmp_path),
        "-q",
    ]
    subprocess.run([*words, str(tmp_path / "python")], check=True, timeout=300)
    (wheel,) = tmp_path.glob("*.whl")
    with zipfile.ZipFile(wheel) as made:
        assert {name for name in made.namelist() if name.endswith(".py")} == {"leanstep_player.py"}
        metadata = next(made.read(name).decode() for name in made.namelist() if name.endswith("METADATA"))
    assert "Requires-Dist" not in metadata and "Requires-Python: >=3.9" in metadata
    code = (
        f"import sys; sys.path.insert(0, {str(wheel)!r}); from leanstep_player import Player; print(Player.__module__)"
    )
    done = subprocess.run([sys.executable, "-S", "-c", code], capture_output=True, text=True, timeout=60, check=True)
    assert done.stdout == "leanstep_player\n"


def test_the_npm_package_is_imported_by_its_name(tmp_path: Path) -> None:
    node = shutil.which("node") or shutil.which("nodejs")
    if node is None:
        pytest.skip("it needs node; ./test says how")
    write(tmp_path)
    shutil.copytree(tmp_path / "npm", tmp_path / "node_modules" / "lean-step-runtime")
    (tmp_path / "game.mjs").write_text(
        'import { Player, VERSION } from "lean-step-runtime"; console.log(Player.name, VERSION);'
    )
    done = subprocess.run([node, "game.mjs"], cwd=tmp_path, capture_output=True, text=True, timeout=60, check=True)
    assert done.stdout.split()[0] == "Player"
