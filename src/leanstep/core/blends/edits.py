"""Edits of a blend space: what its axes read, and where its samples lie.

``at`` is the number of the blend space in the document, axes and samples are numbered from 0; places are in the unit of what
an axis reads.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from typing import Any, Literal

from msgspec.structs import replace

from leanstep.core.bearings import reduced
from leanstep.core.blends.space import AROUND, Ruled, space_of
from leanstep.core.character.blends import ANY, Axis, BlendSpace, Sample
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change
from leanstep.core.character.starting import with_directions

At = float | Literal["any"]


def axis_over(document: Character, name: str) -> Axis:
    """An axis over all that a number, a bearing or a value of a stick can be."""
    if name in document.bearings:
        return Axis(parameter=name)
    parameter = next((one for one in document.parameters if one.name == name), None)
    low, high = (parameter.low, parameter.high) if parameter else (0.0 if name.endswith(".push") else -1.0, 1.0)
    return Axis(parameter=name, min=low, max=high)


def with_dial(document: Character, name: str) -> Character:
    """The document with an empty blend space over a direction and the speed; where nothing sets a direction, the body is seen from
    above."""
    made = with_directions(document)
    around = sorted(made.bearings - {name for one in made.controls.sticks for name in one.values})[0]
    axes = [Axis(parameter=around)]
    if any(one.name == "speed" for one in made.parameters):
        body = made.body
        axes.append(Axis(parameter="speed", min=0.0, max=max(body.run_speed, 1.0), step=max(body.walk_speed, 1.0)))
    return _made(append(made, ("blends",), BlendSpace(name=name, axes=tuple(axes))))


def reading(document: Character, at: int, number: int, name: str) -> Character:
    """An axis reads something else; one that is not there yet is added, and taken away where it is to read nothing (empty)."""
    blend = document.blends[at]
    axes, samples = list(blend.axes), blend.samples
    if not name:
        axes = axes[:1]
        samples = tuple([replace(one, at=one.at[:1]) for one in samples])
    elif number >= len(axes):
        axes.append(axis_over(document, name))
        low = 0.0 if name in document.bearings else axes[-1].low
        samples = tuple([replace(one, at=(*one.at, low)) for one in samples])
    elif name in document.bearings or axes[number].parameter in document.bearings:
        axes[number] = axis_over(document, name)
    else:
        axes[number] = replace(axes[number], parameter=name)
    return _made(change(document, ("blends", at), axes=tuple(axes), samples=samples))


def with_samples(document: Character, at: int, numbers: Collection[int], made: Callable[[Sample], Sample]) -> Character:
    """Some samples become what is made of each."""
    samples = [made(one) if number in numbers else one for number, one in enumerate(document.blends[at].samples)]
    return _made(change(document, ("blends", at), samples=tuple(samples)))


def placed(document: Character, at: int, numbers: Collection[int], axis: int, value: At) -> Character:
    """Some samples lie elsewhere on one axis."""
    return with_samples(
        document, at, numbers, lambda one: replace(one, at=(*one.at[:axis], value, *one.at[axis + 1 :]))
    )


def moved(document: Character, at: int, numbers: Collection[int], steps: Sequence[float]) -> Character:
    """Some samples lie a step on along every axis, where they lie somewhere on it."""
    axes = _axes(document, at)

    def beyond(one: Sample) -> Sample:
        places = zip(one.at, steps, axes, strict=True)
        return replace(one, at=tuple([at if at == ANY else _beyond(at, step, axis) for at, step, axis in places]))

    return with_samples(document, at, numbers, beyond)


def doubled(document: Character, at: int, numbers: Sequence[int]) -> Character:
    """Some samples once more at the end, each a little beside its own on the first axis: by the ruling of a bearing, or by a tenth of
    what there is."""
    axis, samples = _axes(document, at)[0], document.blends[at].samples
    step = AROUND if axis.round else (axis.high - axis.low) / 10

    def beside(one: Sample) -> Sample:
        first = one.at[0]
        if first == ANY:
            return one
        back = not axis.round and first + step > axis.high
        return replace(one, at=(round(_beyond(first, -step if back else step, axis), 6), *one.at[1:]))

    more = [beside(samples[number]) for number in numbers]
    return _made(change(document, ("blends", at), samples=(*samples, *more)))


def without_samples(document: Character, at: int, numbers: Collection[int]) -> Character:
    """Some samples are taken out."""
    kept = [one for number, one in enumerate(document.blends[at].samples) if number not in numbers]
    return _made(change(document, ("blends", at), samples=tuple(kept)))


def _beyond(place: float, step: float, axis: Ruled) -> float:
    return reduced(place + step) if axis.round else round(place + step, 6)


def _axes(document: Character, at: int) -> tuple[Ruled, ...]:
    return space_of(document.blends[at], document.bearings).axes


def _made(document: Any) -> Character:
    made: Character = document
    return made
