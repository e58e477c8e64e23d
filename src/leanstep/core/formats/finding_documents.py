"""Checks as one document: SARIF, JUnit XML or an HTML page, the same for every place that writes one."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from leanstep.core.character.document import Character
    from leanstep.core.findings.repairs.registry import Repair
    from leanstep.core.findings.results import Report


class Checked(NamedTuple):
    """A file that was checked: the address it is named by, where it is, its character and its report; ``text`` where that is not what
    is on disk."""

    uri: str
    path: Path
    character: Character
    report: Report
    text: str | None = None

    @property
    def written(self) -> str:
        """The text of the file."""
        return self.path.read_text("utf-8-sig") if self.text is None else self.text


class Refused(NamedTuple):
    """A file that could not be checked, and the sentence that says why."""

    uri: str
    sentence: str


def sarif_of(checked: list[Checked], refused: list[Refused] | None = None, fixes: bool = False) -> str:
    """Findings as SARIF; with ``fixes`` a repair is looked for each, which takes its time."""
    from leanstep.core.formats.sarif import sarif

    runs = [(one.uri, one.written, one.character, one.report) for one in checked]
    return json.dumps(sarif(runs, _repairs(checked) if fixes else None, refused or []), ensure_ascii=False, indent=1)


def _repairs(checked: list[Checked]) -> dict[tuple[str, tuple[str, str]], Repair]:
    """The repairs there are, by address and key of a finding."""
    from leanstep.core.findings.evidence import Memo
    from leanstep.core.findings.repairs.proving import repair

    found = {}
    for uri, path, character, report, _ in checked:
        memo = Memo()
        for finding in report.findings:
            mended = repair(character, finding, path.parent, memo)
            if mended is not None:
                found[uri, finding.key] = mended
    return found


def junit_of(checked: list[Checked], refused: list[Refused] | None = None, fails: str = "error") -> str:
    """Checks as JUnit XML, in which what is at least as bad as ``fails`` is a failure."""
    from leanstep.core.formats.junit import junit

    return junit([(one.uri, one.character, one.report) for one in checked], fails, refused or [])


def html_of(checked: list[Checked], refused: list[Refused] | None = None) -> str:
    """The page of a character, or one page with those of several."""
    from leanstep.core.formats.html import page, pages

    if len(checked) == 1 and not refused:
        (one,) = checked
        return page(one.character, one.report, one.path.parent)
    made = [(one.uri, one.report, page(one.character, one.report, one.path.parent)) for one in checked]
    return pages(made, refused or [])
