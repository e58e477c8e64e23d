"""The JSON Schemas of what is written for other programs, each with an id that says its version."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from leanstep.core.character import schema as of_characters
from leanstep.core.findings.results import SEVERITIES, VERDICTS
from leanstep.core.formats import atlas_index, table
from leanstep.core.tick.columns import VERSION

DRAFT = "https://json-schema.org/draft/2020-12/schema"
_TEXT, _NUMBER, _WHOLE, _TRUTH = ({"type": kind} for kind in ("string", "number", "integer", "boolean"))


def _object(required: dict[str, Any], more: dict[str, Any] | None = None) -> dict[str, Any]:
    return {"type": "object", "required": list(required), "properties": required | (more or {})}


def _list(of: dict[str, Any]) -> dict[str, Any]:
    return {"type": "array", "items": of}


def findings() -> dict[str, Any]:
    """What ``lean-step check --format json`` writes of each file."""
    witness = {"anyOf": [{"type": "null"}, _object({"take": {"type": "object"}, "ticks": _WHOLE})]}
    finding = _object(
        {
            "id": _TEXT,
            "severity": {"enum": list(SEVERITIES)},
            "subject": {"type": "object"},
            "sentence": _TEXT,
            "why": _TEXT,
            "world": {"enum": [None, "free", "body"]},
            "verdict": {"enum": list(VERDICTS)},
            "witness": witness,
        },
        {"reason": _TEXT},
    )
    ticks = {"anyOf": [{"type": "null"}, _WHOLE]}
    state = _object({"layer": _TEXT, "name": _TEXT, "free": _TEXT, "ticks": ticks, "body": _TEXT}, {"fewest": _TRUTH})
    search = _object({"situations": _WHOLE, "seconds": _NUMBER, "complete": _TRUTH, "aborted": _TEXT, "played": _WHOLE})
    whole = {"version": {"const": 1}, "character": _TEXT, "findings": _list(finding), "states": _list(state)}
    return {"title": "Lean Step findings"} | _object(whole | {"search": search, "muted": _list(finding)})


def trace() -> dict[str, Any]:
    """What ``lean-step rehearse --format json`` writes."""
    tick = _object({"tick": _WHOLE}) | {"additionalProperties": True}
    whole = {"leanstep_trace": {"const": 1}, "character": _TEXT, "rate": _NUMBER, "take": _TEXT, "ticks": _list(tick)}
    return {"title": "Lean Step trace"} | _object(whole)


SCHEMAS: dict[str, tuple[int, Callable[[], dict[str, Any]]]] = {
    "character": (1, of_characters.schema),
    "table": (VERSION, table.schema),
    "atlas": (1, atlas_index.schema),
    "findings": (1, findings),
    "trace": (1, trace),
}
"""What there are schemas of, with the version each has."""


def schema(of: str) -> dict[str, Any]:
    """The schema of one of :data:`SCHEMAS`; raises :class:`KeyError` for another."""
    version, make = SCHEMAS[of]
    return {"$schema": DRAFT, "$id": f"urn:lean-step:schema:{of}:{version}"} | make()
