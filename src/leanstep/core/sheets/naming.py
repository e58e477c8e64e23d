"""Names of many clips at once, from a pattern."""

from __future__ import annotations

import re

from leanstep.core.direction_words import direction_in
from leanstep.core.errors import LeanStepError

_PATTERN = re.compile(r"([^{}]*)\{([^{}]*)\}([^{}]*)")

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
    return f"{action} {', '.join(DIRECTIONS.get(rows, map(str, range(1, rows + 1))))}"


def names_from(pattern: str, count: int) -> list[str]:
    """``count`` names from a pattern: ``walk left, right`` or ``walk {left, right} fast``, one for each word between the commas;
    ``walk`` alone is numbered.

    Raises
    ------
    LeanStepError : there are more or fewer words than names are needed, or names that are equal.
    """
    braced = _PATTERN.fullmatch(pattern)
    if braced is None:
        before, words, after = *_unbraced(pattern, count), ""
    else:
        before, words, after = braced[1], [word.strip() for word in braced[2].split(",")], braced[3]
    if len(words) != count:
        reason = f"it names {len(words)} clips, and there are {count} rows"
        raise LeanStepError("the pattern", reason, "Write one word for each row, with commas between them.")
    names = [" ".join(f"{before}{word}{after}".split()) for word in words]
    if len(set(names)) < count or not all(names):
        raise LeanStepError("the pattern", "names in it are equal or empty", "Give every row a word of its own.")
    return names


def _unbraced(pattern: str, count: int) -> tuple[str, list[str]]:
    """What stands before the words of a pattern without braces, and the words: what is before the first one is said once."""
    plain = pattern.strip()
    if not plain or set("{}") & set(plain):
        raise LeanStepError("the pattern", "it has no words", "Write for example: walk left, right.")
    if "," not in plain:
        return f"{plain} ", [""] if count == 1 else [str(number) for number in range(1, count + 1)]
    first, *rest = (part.strip() for part in plain.split(","))
    said = direction_in(first)
    at = said.start if said is not None and said.end == len(first) else first.rfind(" ") + 1
    action = first[:at].strip()
    # every word with the action said again is a list of whole names
    whole = bool(action) and all(part.startswith(f"{action} ") for part in rest)
    return f"{action} ", [first[at:], *(part[len(action) :].strip() if whole else part for part in rest)]
