"""What the desk asks the worker that checks for it, and what that answers: one tagged JSON object a line."""

from __future__ import annotations

from typing import Any

import msgspec


class Request(msgspec.Struct, tag_field="ask"):
    """Something about a document; ``folder`` is where its images lie."""

    id: int
    folder: str
    document: str


class Check(Request, tag="check"):
    """Check the document."""


class Mend(Request, tag="mend"):
    """What mends a finding of the document?"""

    finding: dict[str, Any]


class Answer(msgspec.Struct, tag_field="told"):
    """Something about the request of a number."""

    id: int


class Situations(Answer, tag="situations"):
    """How many situations have been looked at."""

    count: int


class Certain(Answer, tag="certain"):
    """The findings that are certain already."""

    findings: list[dict[str, Any]]


class Checked(Answer, tag="checked"):
    """The whole of a check."""

    report: dict[str, Any]


class Refused(Answer, tag="refused"):
    """The document cannot be checked."""

    sentence: str


class Mended(Answer, tag="mended"):
    """What mends the finding: a sentence, the document, and what else is told then; None where nothing is known."""

    repair: tuple[str, str, list[tuple[str, str]]] | None


def line(message: Request | Answer) -> bytes:
    """A message as a line."""
    return msgspec.json.encode(message) + b"\n"


def request(text: str | bytes) -> Check | Mend:
    """A request from its line; raises :class:`msgspec.DecodeError` for what is none."""
    return msgspec.json.decode(text, type=Check | Mend)


def answer(text: str | bytes) -> Situations | Certain | Checked | Refused | Mended:
    """An answer from its line; raises :class:`msgspec.DecodeError` for what is none."""
    return msgspec.json.decode(text, type=Situations | Certain | Checked | Refused | Mended)
