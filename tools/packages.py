"""Write packages of the players alone, which bring no window and no compiler: ``python -m tools.packages FOLDER``.

``FOLDER/python`` is a project that ``pip`` installs (Python 3.9 and later), ``FOLDER/npm`` one that ``npm`` does; both have the
version of Lean Step whose tables they play.
"""

from __future__ import annotations

import json
import shutil
import sys
from pathlib import Path

from leanstep import __version__, runtime

RUNTIME = Path(runtime.__file__).parent
NAME, SAYS = "lean-step-runtime", "Plays characters of Lean Step in games"
PYTHON = f"""[build-system]
requires = ["setuptools"]
build-backend = "setuptools.build_meta"

[project]
name = "{NAME}"
version = "{__version__}"
description = "{SAYS}"
requires-python = ">=3.9"

[tool.setuptools]
py-modules = ["leanstep_player"]
"""
NPM = {
    "name": NAME,
    "version": __version__,
    "description": SAYS,
    "type": "module",
    "exports": {".": {"types": "./leanstep_player.d.mts", "default": "./leanstep_player.mjs"}},
    "files": ["leanstep_player.mjs", "leanstep_player.d.mts", "leanstep_replay.mjs"],
}


def write(folder: Path) -> None:
    """Write both projects below a folder."""
    for name, files in (("python", ["leanstep_player.py"]), ("npm", NPM["files"])):
        (folder / name).mkdir(parents=True, exist_ok=True)
        for file in files:
            shutil.copy(RUNTIME / file, folder / name)
    (folder / "python" / "pyproject.toml").write_text(PYTHON, "utf-8")
    (folder / "npm" / "package.json").write_text(json.dumps(NPM, indent=2) + "\n", "utf-8")


if __name__ == "__main__":
    write(Path(sys.argv[1]))
