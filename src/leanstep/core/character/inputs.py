"""The document's part about what conditions read and hands do: parameters, buttons and sticks."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.bearings import MOST
from leanstep.core.character.annotations import ChoiceOf, Condition, Defines, Within
from leanstep.core.character.part import Part, Valued

NUMBER_MIN, NUMBER_MAX = -1_000_000.0, 1_000_000.0
LARGEST = 1e15
"""Bound of a parameter's range: beyond it doubles no longer tell whole numbers apart."""
LONGEST_WAIT = 10.0
"""Seconds that a press is waited for or remembered."""
Waited = Annotated[float, Within(0, LONGEST_WAIT, "seconds")]


class Parameter(Valued, frozen=True, kw_only=True):
    """A named value that conditions read.  A ``bearing`` is a direction in degrees, 0 is up and 90 right; it has no range.  A
    ``graph`` parameter begins at ``start`` and changes only by effects, a ``formula`` one is computed.  A ``countdown`` begins at 0
    and takes what the game gives it on a tick."""

    name: Annotated[str, Defines("parameter"), "letters, digits and `_`; no word of the condition language"]
    kind: Annotated[
        Literal["number", "whole", "bearing", "flag", "choice", "pulse"],
        "what it can be: a bearing is a direction in degrees (0 up, 90 right), a pulse is true for one tick",
    ] = "number"
    owner: Annotated[Literal["game", "controls", "body", "graph", "formula"], "who sets it"] = "game"
    min: Annotated[
        Annotated[float, Within(-LARGEST, LARGEST)] | None, "least value of a number or a whole; left out, -1 000 000"
    ] = None
    max: Annotated[
        Annotated[float, Within(-LARGEST, LARGEST)] | None, "largest value; left out, 1 000 000; writes are clamped"
    ] = None
    unit: Annotated[str, "shown beside the value"] = ""
    choices: Annotated[
        tuple[str, ...],
        Defines("", by="kind", of={"choice": "choice"}),
        "the values of a choice; the first is its rest value",
    ] = ()
    rest: Annotated[
        float | bool | str | None, ChoiceOf("name"), "the value it comes to rest at, where that is not the usual one"
    ] = None
    start: Annotated[
        float | bool | str | None, ChoiceOf("name"), "what a parameter of the graph begins at; left out, its rest value"
    ] = None
    formula: Annotated[str, Condition("owner", "formula"), "what a parameter of the owner `formula` comes to"] = ""
    wobble: Annotated[
        Annotated[float, Within(0)] | None,
        "total width by which a number or a bearing shakes by itself; left out, 1 % of its range",
    ] = None
    chatters: Annotated[bool, "a flag goes on and off by itself"] = False
    countdown: Annotated[
        bool, "a whole of the game that goes down by one on every tick until it is 0: a stun, a cooldown"
    ] = False
    once_per: Annotated[
        Annotated[float, Within(0, 3600, "seconds")] | None, "a pulse comes at most once in so many seconds"
    ] = None
    per_second: Annotated[
        Annotated[float, Within(0, LARGEST, open_low=True)] | None,
        "a number or a bearing from outside changes at most by so much in a second",
    ] = None
    note: Annotated[str, "for people"] = ""

    @property
    def low(self) -> float:
        """Smallest value, in the parameter's unit."""
        if self.kind == "bearing" or (self.countdown and self.min is None):
            return 0.0
        return NUMBER_MIN if self.min is None else float(self.min)

    @property
    def high(self) -> float:
        """Largest value, in the parameter's unit."""
        if self.kind == "bearing":
            return MOST
        return NUMBER_MAX if self.max is None else float(self.max)


class Button(Part, frozen=True, kw_only=True):
    """A named button."""

    name: Annotated[str, Defines("button"), "as of a parameter; they share one space of names"]
    keys: Annotated[tuple[str, ...], "keys of the keyboard that hold it: `Space`, `Z`, `Left` …"] = ()
    pad: Annotated[
        tuple[str, ...],
        "buttons of a game controller that hold it: `south`, `left-shoulder` …; left out, the next one in order",
    ] = ()
    within: Annotated[Waited, "seconds within which a press should show; 0: it may take its time"] = 0.0


STICK_PARTS = ("x", "y", "push", "bearing")
"""What a stick says, behind its name and a dot."""


class Stick(Part, frozen=True, kw_only=True):
    """A stick with two axes, NAME.x and NAME.y, each from -1 to 1; up and right are positive.  NAME.push, from 0 to 1, and the
    bearing NAME.bearing follow from them."""

    name: Annotated[str, Defines("stick"), "as of a parameter"]
    left: Annotated[tuple[str, ...], "keys that push it left"] = ()
    right: Annotated[tuple[str, ...], "keys that push it right"] = ()
    down: Annotated[tuple[str, ...], "keys that push it down"] = ()
    up: Annotated[tuple[str, ...], "keys that push it up"] = ()
    opposite: Annotated[
        Literal["last", "first", "cancel"], "of two opposite keys the last wins, the first does, or they cancel"
    ] = "last"
    pad: Annotated[
        Literal["", "left", "right"], "the stick of a game controller that pushes it; left out, the next one in order"
    ] = ""
    dead_zone: Annotated[
        float, Within(0, 1, "of a whole push", open_high=True), "the share up to which a push is none"
    ] = 0.15
    rounding: Annotated[Literal[0, 4, 8], "pushes are rounded to so many ways; 0: they are not"] = 0
    release: Annotated[
        Waited,
        "seconds for which a diagonal is kept when one of its keys is let go, and for good if the other follows within them",
    ] = 0.05

    @property
    def values(self) -> tuple[str, ...]:
        """The names of what it says."""
        return tuple(f"{self.name}.{part}" for part in STICK_PARTS)


class Controls(Part, frozen=True, kw_only=True):
    """The buttons and sticks a player has."""

    sticks: Annotated[tuple[Stick, ...], "the sticks"] = ()
    buttons: Annotated[tuple[Button, ...], "the buttons"] = ()
