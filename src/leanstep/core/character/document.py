"""The document: a character as frozen structs.

Every struct keeps what it does not know in ``extra`` (field name → raw JSON value), so that a file written by a newer
program passes through unharmed.  Defaults are the values a field has when the file leaves it out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.alternates import Alternate
from leanstep.core.character.annotations import Condition, Names, Within
from leanstep.core.character.blends import BlendSpace
from leanstep.core.character.body import Body, Course
from leanstep.core.character.clips import Clip
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.costumes import Costume
from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.graph import Layer
from leanstep.core.character.inputs import Controls, Parameter
from leanstep.core.character.part import Part
from leanstep.core.character.pins import Accessory
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.takes import Take

FORMAT = 1
"""The number under ``"leanstep"`` that this program writes."""


class Muted(Part, frozen=True, kw_only=True):
    """A finding that is not to be told again."""

    id: Annotated[str, "the finding's"]
    about: Annotated[str, "what it is about (:func:`leanstep.core.naming.targets.about`)"] = ""
    reason: Annotated[str, "why not"] = ""


class Pattern(Part, frozen=True, kw_only=True):
    """What a character is as a pattern, from which states are put into others."""

    says: Annotated[str, "what it does"] = ""
    bodies: Annotated[tuple[Literal["side", "above"], ...], "the models of the body it is for; none: its own"] = ()
    joins: Annotated[
        tuple[str, ...],
        Names("state", "item"),
        "states that are used where the other character has them, and not brought",
    ] = ()


class Character(Part, frozen=True, kw_only=True):
    """Everything about one figure."""

    leanstep: Annotated[int, "the format's number: 1"] = FORMAT
    name: Annotated[str, "the character's name"] = "Untitled"
    rate: Annotated[float, Within(1, 1000, "ticks a second"), "ticks a second"] = 60.0
    flicker_window: Annotated[float, Within(0, 10, "seconds"), "a stay shorter than this is a flicker"] = 0.1
    parameters: Annotated[tuple[Parameter, ...], "what conditions read"] = ()
    assumptions: Annotated[
        tuple[str, ...], Condition(), "conditions over parameters alone that hold on every tick"
    ] = ()
    controls: Annotated[Controls, "buttons and sticks"] = Controls()
    sheets: Annotated[tuple[Sheet, ...], "images"] = ()
    clips: Annotated[tuple[Clip, ...], "frames in time"] = ()
    blends: Annotated[tuple[BlendSpace, ...], "blend spaces"] = ()
    layers: Annotated[tuple[Layer, ...], "graphs that run beside each other"] = ()
    body: Annotated[Body, "how the figure moves"] = Body()
    course: Annotated[Course, "and on what"] = Course()
    costumes: Annotated[tuple[Costume, ...], "other pictures for it"] = ()
    alternates: Annotated[tuple[Alternate, ...], "other ways of moving"] = ()
    accessories: Annotated[tuple[Accessory, ...], "what is pinned to its pin points"] = ()
    squashes: Annotated[tuple[Squash, ...], "changes of shape"] = ()
    leans: Annotated[tuple[Lean, ...], "tilts"] = ()
    contact: Annotated[ContactRules | None, "what it is told of contact with another figure"] = None
    takes: Annotated[tuple[Take, ...], "input sequences"] = ()
    muted: Annotated[tuple[Muted, ...], "findings that are told apart from the others"] = ()
    pattern: Annotated[Pattern | None, "what it is as a pattern"] = None

    @property
    def bearings(self) -> frozenset[str]:
        """The names of everything that is a direction."""
        return frozenset(
            [one.name for one in self.parameters if one.kind == "bearing"]
            + [f"{stick.name}.bearing" for stick in self.controls.sticks]
        )
