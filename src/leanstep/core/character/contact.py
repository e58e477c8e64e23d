"""The document's part about contact with another figure: what guards, and what the game is told when boxes touch."""

from __future__ import annotations

from typing import Annotated

from leanstep.core.character.annotations import SYMBOL, Condition, Names
from leanstep.core.character.part import Part


class ContactRules(Part, frozen=True, kw_only=True):
    """What contact of strike boxes and vulnerable boxes raises on this figure.

    All are parameters of the game; they have their values on the tick after the contact.
    """

    guards: Annotated[str, Condition(), "a condition; while it holds, a strike that can be guarded does not hit"] = ""
    hit: Annotated[str, Names(SYMBOL), "a pulse: it is hit"] = ""
    guarded: Annotated[str, Names(SYMBOL), "a pulse: it guards a strike"] = ""
    stun: Annotated[str, Names(SYMBOL), "a countdown: for how many ticks it can do nothing"] = ""
    strength: Annotated[str, Names(SYMBOL), "a number: how strong the strike is that it is hit by"] = ""
    lands: Annotated[str, Names(SYMBOL), "a pulse: its own strike hits"] = ""
    stopped: Annotated[str, Names(SYMBOL), "a pulse: its own strike is guarded"] = ""


RAISED = {
    "hit": "pulse",
    "guarded": "pulse",
    "stun": "countdown",
    "strength": "number",
    "lands": "pulse",
    "stopped": "pulse",
}
"""What each of them has to be."""


def can_raise(what: str, owner: str, kind: str, countdown: bool) -> bool:
    """Whether contact can set a value of this owner and kind for one of the things it raises."""
    needed = RAISED[what]
    if owner != "game":
        return False
    if needed == "countdown":
        return countdown
    if needed == "pulse":
        return kind == "pulse"
    return kind in ("number", "whole") and not countdown
