"""The document's part about blend spaces."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import SYMBOL, Defines, Names, Within
from leanstep.core.character.inputs import LARGEST
from leanstep.core.character.part import Part


class Axis(Part, frozen=True, kw_only=True):
    """One axis of a blend space; that of a bearing is the whole circle."""

    parameter: Annotated[str, Names(SYMBOL, "stays"), "what it reads"]
    min: Annotated[float | None, "where it begins, in the parameter's unit; left out, 0"] = None
    max: Annotated[float | None, "where it ends; left out, 1"] = None
    step: Annotated[
        float | None,
        "its ruling, by which samples are caught, and its unit of distance; left out, a quarter of the range, or 45 degrees",
    ] = None

    @property
    def low(self) -> float:
        """Where it begins."""
        return 0.0 if self.min is None else float(self.min)

    @property
    def high(self) -> float:
        """Where it ends."""
        return 1.0 if self.max is None else float(self.max)

    @property
    def ruling(self) -> float:
        """The unit of distance of one that is no bearing's, in the parameter's unit."""
        return (self.high - self.low) / 4 if self.step is None else float(self.step)


ANY: Literal["any"] = "any"
"""The place of a sample on an axis that does not matter for it."""


class Sample(Part, frozen=True, kw_only=True):
    """A clip placed in a blend space."""

    at: Annotated[
        tuple[float | Literal["any"], ...],
        Within(-LARGEST, LARGEST),
        "one number an axis, or `any` for one that does not matter",
    ]
    clip: Annotated[str, Names("clip", "item"), "what is shown near it"]
    phase: Annotated[
        float, Within(0, 1, "of its length", open_high=True), "the share of its length at which its cycle begins"
    ] = 0.0
    mirrored: Annotated[bool, "shown the other way round"] = False


class BlendSpace(Part, frozen=True, kw_only=True):
    """Clips arranged along one or two axes; the nearest one is picked, the first listed of those at one distance."""

    name: Annotated[str, Defines("blend"), "how states name it"]
    sticky: Annotated[
        float, Within(0, 1000, "rulings"), "by how many rulings another sample has to be nearer until the pick changes"
    ] = 0.0
    axes: Annotated[tuple[Axis, ...], "one or two"] = ()
    samples: Annotated[tuple[Sample, ...], "the clips and where they lie"] = ()
