"""Repairs: edits that make a finding go away, offered only after a check has shown that they do and bring nothing new."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from leanstep.core.character.document import Character
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.outcomes import Outcome, broken, outcomes, told
from leanstep.core.findings.repairs import (
    actions,
    alternates,
    blends,
    clips,
    costumes,
    cut_outs,
    flickers,
    pins,
    sheets,
    states,
)
from leanstep.core.findings.repairs.registry import MAKERS, Repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import SEVERITIES, Finding, Report
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.targets import about
from leanstep.core.work import DEFAULT, Work

_OFFERS = ("expectation.offered",)
"""Findings that are questions: their repair may bring findings to light, which is its purpose."""

MODULES = (actions, flickers, states, clips, sheets, costumes, pins, cut_outs, alternates, blends)
"""The modules of repairs; each says in ``mends`` which kinds of findings its repairs are for."""
MENDED = frozenset(MAKERS)
"""The kinds of findings for which repairs are known."""


def repair(
    character: Character,
    finding: Finding,
    folder: Path | None = None,
    memo: Memo | None = None,
    work: Work = DEFAULT,
) -> Repair | None:
    """The first repair after which a check no longer has the finding, nothing as bad or worse is new, and every expectation of a
    take that held still does; None when there is none.  Its sentence says what takes then do otherwise.  ``work``
    is for all of it.

    Raises
    ------
    Stopped : somebody stopped the work.
    Exhausted : it came to one of its limits.
    """
    if finding.id in _OFFERS:
        return next(candidates(character, finding), None)
    with work.under_way() as own:
        return _proved(character, finding, folder, memo or Memo(), own)


def _proved(character: Character, finding: Finding, folder: Path | None, memo: Memo, work: Work) -> Repair | None:
    """The first repair that a check and all takes speak for."""
    report = check_character(character, folder, work, memo)
    before, wanted = _troubles(character, report, finding), _subject(character, finding)
    played: dict[str, Outcome] | None = None
    for candidate in candidates(character, finding):
        there = check_character(candidate.character, folder, work, memo)
        after = _troubles(candidate.character, there, finding)
        if after[wanted] >= before[wanted] or after - before:
            continue
        machine = compile_character(character)
        played = outcomes(machine) if played is None else played
        then = outcomes(compile_character(candidate.character))
        if broken(played, then):
            continue
        left = {one.key for one in there.findings}
        gone = tuple(one.key for one in report.findings if one.key not in left and one.key != finding.key)
        sentence = f"{candidate.sentence} {told(machine, played, then)}".strip()
        return replace(candidate, sentence=sentence, also=gone)
    return None


def _troubles(character: Character, report: Report, finding: Finding) -> Counter[tuple[str, str]]:
    """How many findings as bad as one there are of each kind about each thing."""
    worst = SEVERITIES.index(finding.severity)
    return Counter(_subject(character, one) for one in report.findings if SEVERITIES.index(one.severity) <= worst)


def _subject(character: Character, finding: Finding) -> tuple[str, str]:
    """What a finding says of which thing, whatever the numbers in it."""
    return finding.id, about(character, finding.subject)


def candidates(character: Character, finding: Finding) -> Iterator[Repair]:
    """Edits that may help, the smallest first."""
    make = MAKERS.get(finding.id)
    if make is not None:
        yield from make(character, finding)
