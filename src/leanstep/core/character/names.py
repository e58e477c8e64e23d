"""What may be a name."""

from __future__ import annotations

import re

NAME = re.compile(r"[A-Za-z_][A-Za-z0-9_]*\Z")
WORD = re.compile(r"[A-Za-z_][\w-]*")
"""What a layer or a state must be to stand in a condition without quotes."""
RESERVED = frozenset(
    {"and", "or", "not", "for", "within", "between", "abs", "min", "max", "true", "false"}
    | {"stay", "clip", "in", "at", "span", "since", "pressed", "released", "held", "buffered"}
)
LONGEST_NAME = 80
SYMBOLS = ("parameter", "button", "stick")
"""Kinds that share one space of names: what conditions can read."""
IN_CONDITIONS = (*SYMBOLS, "choice", "span")
"""Kinds whose names stand in conditions without quotes."""


def name_fault(name: str, in_conditions: bool = True) -> str | None:
    """Why ``name`` cannot be used as a name, as a clause; None when it can."""
    if not name.strip() or name != name.strip():
        return "a name may not be empty or begin or end with a space"
    if len(name) > LONGEST_NAME:
        return f"a name has at most {LONGEST_NAME} characters"
    if any(ord(letter) < 32 or letter == '"' for letter in name):
        return "a name may not hold line breaks, tabs or double quotes"
    if in_conditions and not NAME.match(name):
        return f"{name!r} cannot be written in a condition: use letters, digits and _, and begin with a letter"
    if in_conditions and name in RESERVED:
        return f"{name!r} is a word of the condition language"
    return None


def reference(layer: str, state: str) -> str:
    """How a condition names a state: ``LAYER.STATE``, in quotes where a name is more than a word."""
    plain = WORD.fullmatch(layer) and WORD.fullmatch(state)
    return f"{layer}.{state}" if plain else f'"{layer}"."{state}"'
