"""Checks as one document: SARIF, JUnit XML or an HTML page, the same for every place that writes one."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from leanstep.core.character.model import Character
    from leanstep.core.findings.repairs import Repair
    from leanstep.core.findings.report import Report

Checked = tuple[str, Path, "Character", "Report"]
"""A file that was checked: the address it is named by, where it is, its character and its report."""


def sarif_of(checked: list[Checked], fails: str = "error", fixes: bool = False) -> str:
    """Findings as SARIF; with ``fixes`` a repair is looked for each, which takes its time."""
    from leanstep.core.formats.sarif import sarif

    runs = [(uri, path.read_text("utf-8-sig"), character, report) for uri, path, character, report in checked]
    return json.dumps(sarif(runs, _repairs(checked) if fixes else None), ensure_ascii=False, indent=1)


def _repairs(checked: list[Checked]) -> dict[tuple[str, tuple[str, str]], Repair]:
    """The repairs there are, by address and key of a finding."""
    from leanstep.core.findings.model import Memo
    from leanstep.core.findings.repairs import repair

    found = {}
    for uri, path, character, report in checked:
        memo = Memo()
        for finding in report.findings:
            mended = repair(character, finding, path.parent, memo)
            if mended is not None:
                found[uri, finding.key] = mended
    return found


def junit_of(checked: list[Checked], fails: str = "error") -> str:
    """Checks as JUnit XML, in which what is at least as bad as ``fails`` is a failure."""
    from leanstep.core.formats.junit import junit

    return junit([(uri, character, report) for uri, _, character, report in checked], fails)


def html_of(checked: list[Checked], fails: str = "error") -> str:
    """The page of a character."""
    from leanstep.core.formats.html import page

    return "".join(page(character, report, path.parent) for _, path, character, report in checked)
