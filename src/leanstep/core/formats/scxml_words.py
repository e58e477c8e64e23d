"""How what a chart says is written in ECMAScript and XML."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from typing import NamedTuple
from xml.etree import ElementTree as Xml

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.formats.xml_text import legal
from leanstep.core.graph.machine import CompiledTransition


class Order(NamedTuple):
    """One turn in which transitions are tried: urgent ones or not, of the graph, a lane or a state."""

    urgent: bool
    owner: str


ORDER = (
    Order(True, "graph"),
    Order(True, "lane"),
    Order(True, "state"),
    Order(False, "state"),
    Order(False, "lane"),
    Order(False, "graph"),
)
COMPARED = {"=": "===", "!=": "!=="}
FUNCTIONS = {"/": "div", "abs": "Math.abs", "min": "least", "max": "most", "turn": "turn", "bearing": "reduced"}


def order_of(way: CompiledTransition) -> Order:
    """In which turn a transition is tried: urgent ones first, then by who it belongs to."""
    return Order(way.urgent, way.owner.split(" ")[0] or "state")


def kind_of(symbol: x.Symbol) -> str:
    """What a symbol can be, in words."""
    if symbol.kind in ("number", "whole"):
        return f"{symbol.kind} from {symbol.low:g} to {symbol.high:g} {symbol.unit}".rstrip()
    return f"one of {', '.join(symbol.choices)}" if symbol.kind == "choice" else symbol.kind


def script_of(within: Xml.Element, text: str) -> None:
    """Put a script into an element."""
    Xml.SubElement(within, "script").text = text


def comment_of(text: str) -> str:
    """Text that may stand in a comment."""
    return f" {re.sub('-(?=-)', '- ', legal(text))}\n"


def span_of(name: str) -> str:
    """The key of a span, which no object has by itself."""
    return f"span {name}"


def word_of(value: bool) -> str:
    """True or false, as ECMAScript writes them."""
    return "true" if value else "false"


def value_of(value: Symbolic) -> str:
    """A value as ECMAScript writes it."""
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return f"({value:.0f})" if value < 0 or str(value) == "-0.0" else f"{value:.0f}"
    return json.dumps(value) if not isinstance(value, float) or value >= 0 else f"({value!r})"


def list_of(items: Iterable[str]) -> str:
    """A list as ECMAScript writes it."""
    return f"[{', '.join(items)}]"


def object_of(items: dict[str, str]) -> str:
    """An object as ECMAScript writes it."""
    lines = ",\n ".join(f"{json.dumps(name)}: {text}" for name, text in items.items())
    return f"{{\n {lines}\n}}" if lines else "{}"
