"""Findings as SARIF 2.1.0, the static analysis results interchange format of OASIS."""

from __future__ import annotations

import difflib
import hashlib
from collections.abc import Mapping, Sequence
from typing import Any

from leanstep import __version__
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump
from leanstep.core.character.takes import Change, Take
from leanstep.core.findings.repairs.registry import Repair
from leanstep.core.findings.results import Finding, Report
from leanstep.core.findings.rule import Rule
from leanstep.core.findings.rules import RULES
from leanstep.core.formats.json_lines import line_of, path_of
from leanstep.core.naming.targets import about

SCHEMA = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
DOCS = "urn:lean-step:docs:semantics"
"""The address of ``docs/semantics.md``, in which each rule has its paragraph; a name, since no host has it."""
MOST_STEPS = 200
"""Changes of a witness that are listed."""


REFUSED = Rule(
    "file.refused", ("error",), "The file cannot be checked", "It is not there, cannot be read, or is no character.", ()
)
"""What files are told as that could not be checked."""


def sarif(
    runs: list[tuple[str, str, Character, Report]],
    repairs: Mapping[tuple[str, tuple[str, str]], Repair] | None = None,
    refused: Sequence[tuple[str, str]] = (),
) -> dict[str, Any]:
    """One run over some files, each with its address, text, character and report.  ``repairs`` by address and key of a finding,
    ``refused`` the addresses of files that could not be checked, with why.

    Every finding has the line of what it is about, its witness as a code flow, its repair as a fix, and where it is muted a
    suppression with the reason.
    """
    rules: dict[str, int] = {}
    results: list[dict[str, Any]] = []
    for uri, text, character, report in runs:
        told = [(finding, "") for finding in report.findings] + [*report.muted]
        for finding, reason in told:
            rule = rules.setdefault(finding.id, len(rules))
            made = _result(uri, text, character, finding, rule)
            if reason:
                made["suppressions"] = [{"kind": "inSource", "justification": reason}]
            repair = (repairs or {}).get((uri, finding.key))
            if repair is not None:
                made["fixes"] = [_fix(uri, text, repair)]
            results.append(made)
    for uri, sentence in refused:
        rule = rules.setdefault(REFUSED.id, len(rules))
        made = {"ruleId": REFUSED.id, "ruleIndex": rule, "level": REFUSED.severity, "message": {"text": sentence}}
        results.append({**made, "locations": [_place(uri, 1)]})
    known = {**RULES, REFUSED.id: REFUSED}
    told_by = [_rule(known[rule]) for rule in rules]
    driver = {"name": "Lean Step", "version": __version__, "informationUri": DOCS, "rules": told_by}
    run: dict[str, Any] = {"tool": {"driver": driver}, "columnKind": "unicodeCodePoints", "results": results}
    if refused:
        notes = [
            {"level": "error", "message": {"text": sentence}, "locations": [_place(uri, 1)]}
            for uri, sentence in refused
        ]
        run["invocations"] = [{"executionSuccessful": False, "toolExecutionNotifications": notes}]
    return {"$schema": SCHEMA, "version": "2.1.0", "runs": [run]}


def _rule(rule: Rule) -> dict[str, Any]:
    """A kind of finding, as viewers explain it."""
    return {
        "id": rule.id,
        "shortDescription": {"text": rule.title},
        "help": {"text": f"{rule.title}. {rule.help}"},
        "helpUri": f"{DOCS}#{rule.id}",
        "defaultConfiguration": {"level": rule.severity},
    }


def _result(uri: str, text: str, character: Character, finding: Finding, rule: int) -> dict[str, Any]:
    said = f"{finding.sentence} {finding.why}".strip()
    subject = about(character, finding.subject)
    place = _place(uri, line_of(text, path_of(character, finding.subject)))
    made: dict[str, Any] = {
        "ruleId": finding.id,
        "ruleIndex": rule,
        "level": finding.severity,
        "message": {"text": said},
        "locations": [{**place, "logicalLocations": [{"fullyQualifiedName": subject}]}],
        "partialFingerprints": {"leanStep/v1": mark_of(uri, character, finding)},
        "properties": {"verdict": finding.verdict, "world": finding.world or "file"},
    }
    if finding.witness is not None:
        made["codeFlows"] = [_flow(uri, finding.witness, place)]
    return made


def mark_of(uri: str, character: Character, finding: Finding) -> str:
    """What a finding is known by again in a later check: its file's name, its kind and what it is about, by names."""
    said = f"{uri.rpartition('/')[2]} {finding.id} {about(character, finding.subject)}"
    return hashlib.sha256(said.encode("utf-8", "surrogateescape")).hexdigest()[:32]


def _place(uri: str, line: int) -> dict[str, Any]:
    return {"physicalLocation": {"artifactLocation": {"uri": uri}, "region": {"startLine": line}}}


def _flow(uri: str, take: Take, place: dict[str, Any]) -> dict[str, Any]:
    """A witness: what is pressed and set, tick by tick."""
    changes = take.changes[:MOST_STEPS] or (Change(at=0, set={}),)
    steps = [{"location": {**place, "message": {"text": step_words(change)}}} for change in changes]
    return {"message": {"text": f"A take of {take.ticks} ticks shows it."}, "threadFlows": [{"locations": steps}]}


def step_words(change: Change) -> str:
    """One change of a take in words."""
    said = [f"{name} {_value(value)}" for name, value in change.set.items()]
    return f"tick {change.at}: {', '.join(said) or 'nothing is done'}"


def _value(value: float | bool | str) -> str:
    return ("on" if value else "off") if isinstance(value, bool) else value if isinstance(value, str) else f"{value:g}"


def _fix(uri: str, text: str, repair: Repair) -> dict[str, Any]:
    """A repair as replaced lines of the file."""
    before, after = text.splitlines(keepends=True), dump(repair.character).decode().splitlines(keepends=True)
    replacements = []
    for tag, start, end, new, last in difflib.SequenceMatcher(None, before, after, autojunk=False).get_opcodes():
        if tag != "equal":
            region = {"startLine": start + 1, "startColumn": 1, "endLine": end + 1, "endColumn": 1}
            replacements.append({"deletedRegion": region, "insertedContent": {"text": "".join(after[new:last])}})
    change = {"artifactLocation": {"uri": uri}, "replacements": replacements}
    return {"description": {"text": repair.sentence}, "artifactChanges": [change]}
