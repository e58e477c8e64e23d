"""What a check comes to: findings, and what became of every state.  Nothing here works anything out."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, field, replace
from functools import cached_property
from typing import Any

import msgspec

from leanstep.core.character.files import plain
from leanstep.core.character.takes import Take
from leanstep.core.findings.rules import RULES
from leanstep.core.naming.targets import Subject
from leanstep.core.proof.verdict import Certainty, Verdict
from leanstep.core.work import Reason

SEVERITIES = ("error", "warning", "note")
VERDICTS = ("proved", "shown", "not found", "written", "undecided")
Details = dict[str, Any]
"""What a finding says in names and numbers, as it stands in JSON: what it is about, and what repairs go by."""


@dataclass(frozen=True)
class Finding:
    """One problem.

    ``world``: ``free``, ``body`` or None (it stands in the file).  ``verdict``: ``proved``, ``shown`` (by a take), ``not
    found`` (by a search), ``written`` (it stands in the file) or ``undecided``.  ``witness`` is a take to play; ``why``
    explains at length.
    """

    id: str
    severity: str
    details: Details
    sentence: str
    world: str | None
    verdict: str
    witness: Take | None = None
    why: str = ""

    @cached_property
    def subject(self) -> Subject:
        """What it is about."""
        return Subject.of(self.details)

    @cached_property
    def key(self) -> tuple[str, str]:
        """What makes a finding of two checks the same one: its kind, and what it is about; its numbers may be others."""
        kept = {name: self.details[name] for name in RULES[self.id].about if name in self.details}
        return self.id, json.dumps(kept, sort_keys=True, default=list)

    def judged(self, verdict: Verdict[Any]) -> Finding:
        """This finding as sure as a verdict is, with its take; a take that does not replay is owned up to."""
        witness, why, sentence = verdict.witness, self.why, self.sentence
        if verdict.certainty is Certainty.SHOWN:
            why = f"{why} The take is not proved shortest.".strip()
        elif witness is not None and witness.take is None:
            why = f"{why} The shortest take that shows it has {witness.ticks} ticks, more than are replayed.".strip()
        if verdict.reason is Reason.REPLAY:
            sentence += " The witness does not replay: that is a bug in Lean Step, please report it."
        take = None if witness is None else witness.take
        return replace(self, witness=take, verdict=verdict.certainty.value, why=why, sentence=sentence)

    def to_json(self) -> dict[str, Any]:
        """The finding as it stands in the JSON of a check."""
        return {
            "id": self.id,
            "severity": self.severity,
            "subject": self.details,
            "sentence": self.sentence,
            "why": self.why,
            "world": self.world,
            "verdict": self.verdict,
            "witness": None if self.witness is None else {"take": plain(self.witness), "ticks": self.witness.ticks},
        }


@dataclass(frozen=True)
class StateFate:
    """Whether a state can be entered in the free world, and the ticks of a take that does so: the ``fewest``, where that is
    proved.

    ``body``: ``reached`` or ``not found`` by the search of the body world, or empty when it was not asked for.
    """

    layer: str
    name: str
    free: str
    ticks: int | None
    body: str = ""
    fewest: bool = True

    def to_json(self) -> dict[str, Any]:
        """The JSON of a state in a check; ``fewest`` is written only where it is not so."""
        return {key: value for key, value in asdict(self).items() if key != "fewest" or not value}


@dataclass(frozen=True)
class Report:
    """The result of a check.  ``complete``: nothing was left open; else ``aborted`` says in words what
    was, and ``reason``, of a check that was made here, of which kind that is, or that a time limit was reached anywhere;
    ``played`` are the ticks the search of the body world tried.  ``muted`` are findings that are not to be told, each with the
    reason."""

    character: str
    findings: tuple[Finding, ...]
    states: tuple[StateFate, ...]
    situations: int
    seconds: float
    complete: bool
    aborted: str = ""
    played: int = 0
    muted: tuple[tuple[Finding, str], ...] = ()
    reason: Reason | None = field(default=None, compare=False)

    def count(self, severity: str) -> int:
        """How many findings of a severity there are."""
        return sum(finding.severity == severity for finding in self.findings)

    def to_json(self) -> dict[str, Any]:
        """The JSON of a check, version 1."""
        return {
            "version": 1,
            "character": self.character,
            "findings": [finding.to_json() for finding in self.findings],
            "states": [fate.to_json() for fate in self.states],
            "search": {
                "situations": self.situations,
                "seconds": round(self.seconds, 4),
                "complete": self.complete,
                "aborted": self.aborted,
                "played": self.played,
            },
            "muted": [finding.to_json() | {"reason": reason} for finding, reason in self.muted],
        }


def finding_from_json(data: dict[str, Any]) -> Finding:
    """A finding as :meth:`Finding.to_json` wrote it.

    Raises
    ------
    ValueError, KeyError, TypeError : it is not one.
    """
    if data["severity"] not in SEVERITIES or data["verdict"] not in VERDICTS:
        raise ValueError(f"{data['severity']}, {data['verdict']}")
    return Finding(
        data["id"],
        data["severity"],
        data["subject"],
        data["sentence"],
        data["world"],
        data["verdict"],
        msgspec.convert(data["witness"]["take"], Take) if data["witness"] else None,
        data["why"],
    )


def report_from_json(data: dict[str, Any]) -> Report:
    """A report as :meth:`Report.to_json` wrote it."""
    findings = [finding_from_json(one) for one in data["findings"]]
    states = [StateFate(**one) for one in data["states"]]
    search = data["search"]
    return Report(
        data["character"],
        tuple(findings),
        tuple(states),
        search["situations"],
        search["seconds"],
        search["complete"],
        search["aborted"],
        search["played"],
        tuple((finding_from_json(one), one["reason"]) for one in data["muted"]),
    )
