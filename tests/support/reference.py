"""Writes what follows from the code into the documents anew: ``python -m tests.support.reference``."""

from __future__ import annotations

from leanstep.core.character.schema import reference
from leanstep.core.findings.rules import index
from tests.support.build import DOCS

DERIVED = {"format.md": ("## Every field\n\n", reference), "semantics.md": ("### Every kind\n\n", index)}
"""Documents, the heading under which something follows from the code, and what makes it."""


def main() -> None:
    """Replace what stands under each heading, up to the next one of its rank."""
    for name, (heading, made) in DERIVED.items():
        before, _, after = (DOCS / name).read_text().partition(heading)
        _, rank, rest = after.partition("\n## ")
        (DOCS / name).write_text(before + heading + made() + rank + rest)


if __name__ == "__main__":
    main()
