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
    match = _PATTERN.fullmatch(pattern)
    if match is None:
        match = _unbraced(pattern, count)
    words = [word.strip() for word in match[2].split(",")]
    if len(words) != count:
        reason = f"it names {len(words)} clips, and there are {count} rows"
        raise LeanStepError("the pattern", reason, "Write one word for each row, with commas between them.")
    names = [" ".join(f"{match[1]}{word}{match[3]}".split()) for word in words]
    if len(set(names)) < count or not all(names):
        raise LeanStepError("the pattern", "names in it are equal or empty", "Give every row a word of its own.")
    return names


def _unbraced(pattern: str, count: int) -> re.Match[str]:
    """A pattern without braces as one with them: what stands before the first word is said once."""
    plain = pattern.strip()
    if not plain or set("{}") & set(plain):
        raise LeanStepError("the pattern", "it has no words", "Write for example: walk left, right.")
    if "," not in plain:
        words = [""] if count == 1 else [str(number) for number in range(1, count + 1)]
        return _braced(plain, words)
    first, *rest = (part.strip() for part in plain.split(","))
    said = direction_in(first)
    at = said.start if said is not None and said.end == len(first) else first.rfind(" ") + 1
    action, word = first[:at].strip(), first[at:]
    # every word with the action said again is a list of whole names
    whole = bool(action) and all(part.startswith(f"{action} ") for part in rest)
    return _braced(action, [word, *(part[len(action) :].strip() if whole else part for part in rest)])


def _braced(action: str, words: list[str]) -> re.Match[str]:
    found = _PATTERN.fullmatch(f"{action} {{{', '.join(words)}}}")
    assert found is not None
    return found
