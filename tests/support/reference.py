"""Writes the reference of the format anew: ``python -m tests.support.reference``."""

from __future__ import annotations

from leanstep.core.character.schema import reference
from tests.support.build import DOCS

HEAD = "## Every field\n\n"

if __name__ == "__main__":
    path = DOCS / "format.md"
    text = path.read_text()
    begin = text.index(HEAD) + len(HEAD)
    path.write_text(text[:begin] + reference())
