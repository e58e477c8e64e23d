"""Results of checks, kept by content: what has not changed costs nothing."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
from collections.abc import Iterable, Mapping
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

import platformdirs

from leanstep import __version__

if TYPE_CHECKING:
    from leanstep.core.character.document import Character
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


class ResultCache:
    """The results of checks with the same ``options``.  A folder that cannot be written keeps nothing."""

    def __init__(self, options: Iterable[object], folder: Path | None = None) -> None:
        self.folder = folder or results_folder()
        self.options = json.dumps(list(options)).encode()

    def _place(self, data: bytes) -> Path:
        key = hashlib.sha256(_program() + b"\0" + self.options + b"\0" + data).hexdigest()
        return self.folder / f"{key}.json"

    def _written(self, images: Mapping[str, str], report: Report) -> bytes:
        """A result as it is kept, with what made it: the program and the limits of the check."""
        made = {"version": __version__, "program": _program().hex(), "limits": json.loads(self.options)}
        return json.dumps({"made": made, "images": dict(images), "report": report.to_json()}).encode()

    def find(self, data: bytes, folder: Path) -> Report | None:
        """The result of a file of these bytes in a folder whose images are as they were; None: it has to be checked.  What is not
        exactly as it was written is none."""
        from leanstep.core.findings.results import report_from_json

        try:
            digest, _, text = self._place(data).read_bytes().partition(b"\n")
            if digest.decode() != hashlib.sha256(text).hexdigest():
                return None
            kept = json.loads(text)
            report = report_from_json(kept["report"])
            if self._written(kept["images"], report) != text:
                return None
            return report if all(_digest(folder / name) == one for name, one in kept["images"].items()) else None
        except Exception:
            # whatever somebody else wrote there
            return None

    def keep(self, data: bytes, images: Mapping[str, str], report: Report) -> None:
        """Keep the result of these bytes, with what their images held, if it would be the same on any machine."""
        from leanstep.core.work import ON_THIS_MACHINE

        if report.reason in ON_THIS_MACHINE:
            return
        text = self._written(images, report)
        with contextlib.suppress(OSError):
            self.folder.mkdir(parents=True, exist_ok=True)
            place = self._place(data)
            new = place.with_suffix(f".{os.getpid()}.new")
            new.write_bytes(hashlib.sha256(text).hexdigest().encode() + b"\n" + text)
            os.replace(new, place)

    def tidy(self) -> None:
        """Let the oldest results go where there are too many."""
        with contextlib.suppress(OSError):
            found = sorted(self.folder.glob("*.json"), key=lambda one: one.stat().st_mtime)
            for one in found[: max(0, len(found) - MOST)]:
                one.unlink()


def images_of(character: Character, folder: Path) -> dict[str, str]:
    """What the images of a character hold, by their names."""
    names = (image for sheet in character.sheets for image in sheet.all_images if image)
    return {name: _digest(folder / name) for name in names}


def _digest(path: Path) -> str:
    """What a file holds; empty when it cannot be read."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return ""
