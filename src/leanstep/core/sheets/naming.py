"""Names of many clips at once, from a pattern."""

from __future__ import annotations

import re

from leanstep.core.errors import LeanStepError

DIRECTIONS = {
    1: ("",),
    2: ("left", "right"),
    4: ("down", "left", "right", "up"),
    5: ("down", "down right", "right", "up right", "up"),
    8: ("down", "down left", "left", "up left", "up", "up right", "right", "down right"),
}
"""What rows usually show, by how many there are."""


def usual_pattern(action: str, rows: int) -> str:
    """A pattern for the clips of a sheet with so many rows."""
    if rows == 1:
        return action
    return f"{action} {{{', '.join(DIRECTIONS.get(rows, map(str, range(1, rows + 1))))}}}"


def names_from(pattern: str, count: int) -> list[str]:
    """``count`` names from a pattern such as ``walk {left, right}``: one for each word in braces.

    Raises
    ------
    LeanStepError : there are more or fewer words than names are needed, or names that are equal.
    """
    match = re.fullmatch(r"([^{}]*)\{([^{}]*)\}([^{}]*)", pattern)
    if match is None:
        if count == 1 and pattern.strip() and not set("{}") & set(pattern):
            return [pattern.strip()]
        raise LeanStepError("the pattern", "it has no words in braces", "Write for example: walk {left, right}.")
    words = [word.strip() for word in match[2].split(",")]
    if len(words) != count:
        reason = f"it names {len(words)} clips, and there are {count} rows"
        raise LeanStepError("the pattern", reason, "Write one word for each row between the braces, with commas.")
    names = [" ".join(f"{match[1]}{word}{match[3]}".split()) for word in words]
    if len(set(names)) < count or not all(names):
        raise LeanStepError("the pattern", "names in it are equal or empty", "Give every row a word of its own.")
    return names
