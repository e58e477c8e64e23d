"""The document's part about costumes: sheets of the same layout that stand in for others."""

from __future__ import annotations

from typing import Annotated

from leanstep.core.character.annotations import SYMBOL, ByNumber, ChoiceOf, Defines, Names, Within
from leanstep.core.character.part import Part


class StandIn(Part, frozen=True, kw_only=True):
    """A sheet that is shown in place of another.

    A frame of the other is shown as the frame of the same number here, or as ``frames`` says; where there is none, and where it is
    meant so, the other's own is shown.
    """

    sheet: Annotated[str, Names("sheet", "item"), "the sheet it stands in for"]
    by: Annotated[str, Names("sheet", "item"), "the sheet that is shown instead"]
    frames: Annotated[
        dict[str, int], Within(0), ByNumber("frames"), "frames of the one that is shown, where they have other numbers"
    ] = {}
    original: Annotated[tuple[int, ...], Within(0), "frames that are shown as they are, and are meant to be"] = ()


class Costume(Part, frozen=True, kw_only=True):
    """Other pictures for a character; times, marks, phases and boxes stay what they are.

    It is worn in the states that name it, and else while a parameter has a value.
    """

    name: Annotated[str, Defines("costume"), "how states name it"]
    sheets: Annotated[tuple[StandIn, ...], "what stands in for what"] = ()
    parameter: Annotated[str, Names(SYMBOL), "a choice by which it is worn"] = ""
    value: Annotated[str, ChoiceOf("parameter"), "the choice with which it is"] = ""
