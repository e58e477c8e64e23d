"""The document's part about ways of moving: sets of clips that stand in for others."""

from __future__ import annotations

from typing import Annotated

from leanstep.core.character.annotations import SYMBOL, ChoiceOf, Defines, Names
from leanstep.core.character.part import Part


class Instead(Part, frozen=True, kw_only=True):
    """A clip that is played in place of another."""

    clip: Annotated[str, Names("clip", "item"), "the clip it stands in for"]
    by: Annotated[str, Names("clip", "item"), "the clip that is played instead"]


class Alternate(Part, frozen=True, kw_only=True):
    """A way of moving: other clips for a character, such as limping or carrying; what it does not have is moved as without it.

    It is moved so in the states that name it, and else while a parameter has a value.
    """

    name: Annotated[str, Defines("alternate"), "how states name it"]
    clips: Annotated[tuple[Instead, ...], "what is played instead of what"] = ()
    parameter: Annotated[str, Names(SYMBOL), "a choice by which it is moved so"] = ""
    value: Annotated[str, ChoiceOf("parameter"), "the choice with which it is"] = ""
