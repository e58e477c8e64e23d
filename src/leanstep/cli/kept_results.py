"""Results of checks, kept by content: what has not changed costs nothing."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

import platformdirs

if TYPE_CHECKING:
    from leanstep.core.character.model import Character
    from leanstep.core.findings.results import Report

MOST = 5000
"""Results that are kept at most; the oldest go."""


def results_folder() -> Path:
    """Where results are kept: the user's folder for what can be made again."""
    chosen = os.environ.get("LEANSTEP_RESULTS")
    return Path(chosen) if chosen else platformdirs.user_cache_path("lean-step") / "results"


@cache
def _program() -> bytes:
    """What the program is: another one checks otherwise."""
    found = hashlib.sha256()
    core = Path(__file__).parents[1] / "core"
    for path in sorted(core.rglob("*")):
        if path.suffix in (".py", ".lark"):
            found.update(path.relative_to(core).as_posix().encode() + b"\0" + path.read_bytes())
    return found.digest()


class KeptResults:
    """The results of checks with the same ``options``.  A folder that cannot be written keeps nothing."""

    def __init__(self, options: Iterable[object], folder: Path | None = None) -> None:
        self.folder = folder or results_folder()
        self.options = json.dumps(list(options)).encode()

    def _place(self, data: bytes) -> Path:
        key = hashlib.sha256(_program() + b"\0" + self.options + b"\0" + data).hexdigest()
        return self.folder / f"{key}.json"

    def find(self, path: Path) -> Report | None:
        """The result of a file whose content and images are as they were; None: it has to be checked."""
        from leanstep.core.findings.results import report_from_json

        try:
            kept = json.loads(self._place(path.read_bytes()).read_bytes())
            if all(_digest(path.parent / name) == digest for name, digest in kept["images"].items()):
                return report_from_json(kept["report"])
        except (OSError, ValueError, KeyError, TypeError):
            pass
        return None

    def keep(self, path: Path, character: Character, report: Report) -> None:
        """Keep a result; what a limit in seconds cut off is not one."""
        if "time limit" in report.aborted:
            return
        images = {
            image: _digest(path.parent / image) for sheet in character.sheets for image in sheet.all_images if image
        }
        text = json.dumps({"images": images, "report": report.to_json()})
        with contextlib.suppress(OSError):
            self.folder.mkdir(parents=True, exist_ok=True)
            place = self._place(path.read_bytes())
            new = place.with_suffix(f".{os.getpid()}.new")
            new.write_text(text)
            os.replace(new, place)

    def tidy(self) -> None:
        """Let the oldest results go where there are too many."""
        with contextlib.suppress(OSError):
            found = sorted(self.folder.glob("*.json"), key=lambda one: one.stat().st_mtime)
            for one in found[: max(0, len(found) - MOST)]:
                one.unlink()


def _digest(path: Path) -> str:
    """What a file holds; empty when it cannot be read."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return ""
