"""What a proof says of one thing: how sure that is, and the take that shows it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from typing import Generic, TypeVar

from leanstep.core.proof.witness.shrinking import Witness
from leanstep.core.work import Reason

_T = TypeVar("_T")


class Certainty(Enum):
    """How sure it is."""

    PROVED = "proved"
    SHOWN = "shown"
    UNDECIDED = "undecided"


@dataclass(frozen=True)
class Verdict(Generic[_T]):
    """What is said of ``about``: proved (with the shortest take, where a take shows it), shown (by a take that is not proved
    shortest), or undecided, for a ``reason``."""

    about: _T
    certainty: Certainty = Certainty.PROVED
    witness: Witness | None = None
    reason: Reason | None = None


def by_take(about: _T, witness: Witness | None, is_open: bool = False) -> Verdict[_T]:
    """What its take makes of something that a search has found: the search proves it where it followed everything; where it
    left the past open (``is_open``) only a take shows it, and there may be none."""
    if witness is None or (witness.take is None and is_open):
        return Verdict(about, Certainty.UNDECIDED, reason=Reason.PAST)
    if witness.take is not None and not witness.replays:
        return Verdict(about, Certainty.UNDECIDED, witness, Reason.REPLAY)
    return Verdict(about, Certainty.SHOWN if is_open else Certainty.PROVED, witness)
