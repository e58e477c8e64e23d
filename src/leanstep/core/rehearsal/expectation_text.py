"""What a take expects, written as sentences that can be read back: ``enter light within 3 s; never enter hurt``."""

from __future__ import annotations

import re
from collections.abc import Sequence

from leanstep.core.character.document import Character
from leanstep.core.character.takes import Expectation
from leanstep.core.errors import LeanStepError

FORMS = (
    "end in STATE",
    "enter STATE within 3 s",
    "never enter STATE",
    "mark NAME fires at least 2 times",
    "of layer LAYER behind a state",
)
"""What a take can expect, in words."""

_STATE = re.compile(r"(end in|enter|never enter) (.+?)(?: of layer (.+?))?(?: within (\S+) ?s)?", re.IGNORECASE)
_MARK = re.compile(r"mark (.+?) fires(?: (?:at least )?(\d+) times?)?(?: within (\S+) ?s)?", re.IGNORECASE)
_WHAT = {"end in": "end-in", "enter": "enter", "never enter": "never-enter"}
_WORDS = {what: words for words, what in _WHAT.items()}


def expectation_words(expects: Sequence[Expectation]) -> str:
    """Expectations as sentences."""
    return "; ".join(map(_words, expects))


def read_expectations(text: str) -> tuple[Expectation, ...]:
    """Expectations from their sentences; raises :class:`LeanStepError` for the first that cannot be read."""
    clauses = (" ".join(clause.split()) for clause in text.split(";"))
    return tuple(_expectation(clause) for clause in clauses if clause)


def phrases(character: Character) -> list[str]:
    """What can be written, for completion."""
    states = [state.name for layer in character.layers for state in layer.states]
    marks = dict.fromkeys(mark.name for clip in character.clips for mark in clip.marks)
    found = [f"{words} {state}" for state in states for words in _WHAT]
    return found + [f"mark {name} fires at least 1 time" for name in marks]


def _words(one: Expectation) -> str:
    within = "" if one.within is None else f" within {one.within:g} s"
    if one.what == "mark":
        return f"mark {one.name} fires at least {one.times} {'time' if one.times == 1 else 'times'}{within}"
    layer = f" of layer {one.layer}" if one.layer else ""
    return f"{_WORDS[one.what]} {one.name}{layer}{within}"


def _expectation(clause: str) -> Expectation:
    mark = _MARK.fullmatch(clause)
    if mark is not None:
        return Expectation(what="mark", name=mark[1], times=int(mark[2] or 1), within=_seconds(mark[3]))
    state = _STATE.fullmatch(clause)
    if state is None:
        way_out = f"Write one of: {', '.join(FORMS)}; a ; between two."
        raise LeanStepError(clause, f"“{clause}” cannot be read", way_out)
    what = _WHAT[state[1].lower()]
    return Expectation(what=what, name=state[2], layer=state[3] or "", within=_seconds(state[4]))  # type: ignore[arg-type]


def _seconds(text: str | None) -> float | None:
    if text is None:
        return None
    try:
        return float(text)
    except ValueError:
        raise LeanStepError(text, f"“{text}” is no number of seconds", "Write a number, such as 2.5.") from None
