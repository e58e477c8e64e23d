"""Reading W3C SCXML as elements, refusing what is too large, too deep or no chart."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any
from xml.parsers import expat

from leanstep.core.errors import LeanStepError

SPACE = "http://www.w3.org/2005/07/scxml"
LARGEST = 4_000_000
"""Bytes a document may have."""
DEEPEST = 60
"""Levels of nesting."""


@dataclass
class Element:
    """An element of the document.  ``line`` counts from 1."""

    tag: str
    at: dict[str, str]
    line: int
    within: Element | None = None
    below: list[Element] = field(default_factory=list)

    def all(self, *tags: str) -> list[Element]:
        """The elements directly below with one of these tags."""
        return [one for one in self.below if one.tag in tags]


def parsed(data: bytes, what: str) -> Element:
    """The document as a tree, without following anything it points to.  Raises :class:`LeanStepError` for what is no chart, or too
    large or too deep."""
    parser = expat.ParserCreate(namespace_separator=" ")
    root: list[Element] = []
    open_: list[Element] = []

    def start(tag: str, attributes: dict[str, str]) -> None:
        space, _, plain = tag.rpartition(" ")
        made = Element(plain if space in ("", SPACE) else tag, attributes, parser.CurrentLineNumber)
        if len(open_) >= DEEPEST:
            reason = f"line {made.line}: elements are nested more than {DEEPEST} deep"
            raise LeanStepError(what, reason, "Take levels out: a graph has layers, lanes and states.")
        if open_:
            made.within = open_[-1]
            open_[-1].below.append(made)
        else:
            root.append(made)
        open_.append(made)

    def end(tag: str) -> None:
        open_.pop()

    def refuse(*words: Any) -> int:
        reason = f"line {parser.CurrentLineNumber}: it declares a document type or entities"
        raise LeanStepError(what, reason, "Take the declaration out; SCXML needs none.")

    parser.StartElementHandler, parser.EndElementHandler = start, end
    parser.StartDoctypeDeclHandler = parser.EntityDeclHandler = parser.ExternalEntityRefHandler = refuse
    try:
        parser.Parse(data, True)
    except expat.ExpatError as error:
        reason = f"line {error.lineno}: {expat.ErrorString(error.code)}"
        raise LeanStepError(what, reason, "It is no XML; mend it or export it again.") from None
    except (LookupError, ValueError) as error:
        raise LeanStepError(what, f"it is written in a way nobody knows ({error})", "Save it in UTF-8.") from None
    if root[0].tag != "scxml":
        raise LeanStepError(what, f"its first element is {root[0].tag}, not scxml", "Choose an SCXML document.")
    return root[0]


def everything(element: Element) -> list[Element]:
    """An element and all that lies in it."""
    found, waiting = [], [element]
    while waiting:
        one = waiting.pop()
        found.append(one)
        waiting += one.below
    return found
