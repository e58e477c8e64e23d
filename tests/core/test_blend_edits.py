"""Edits of blend spaces as functions of the document."""

from __future__ import annotations

from leanstep.core.blends import edits
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.inputs import Parameter

PARAMETERS = (
    Parameter(name="speed", min=0, max=100),
    Parameter(name="lean", min=-4, max=4),
    Parameter(name="heading", kind="bearing"),
)


def harbour(*places: tuple[edits.At, ...], axes: str = "speed") -> Character:
    """A blend space over some axes, with samples there, after another one."""
    document = Character(name="Ferry hand", parameters=PARAMETERS)
    made = tuple(edits.axis_over(document, name) for name in axes.split())
    samples = tuple(Sample(at=at, clip="row") for at in places)
    spaces = (BlendSpace(name="other"), BlendSpace(name="rowing", axes=made, samples=samples))
    return change(document, (), blends=spaces)


def places(document: Character) -> list[tuple[edits.At, ...]]:
    assert document.blends[0] == BlendSpace(name="other")
    return [one.at for one in document.blends[1].samples]


def test_an_axis_spans_all_that_is_read() -> None:
    document = harbour(axes="speed heading")
    assert document.blends[1].axes == (Axis(parameter="speed", min=0, max=100), Axis(parameter="heading"))
    assert edits.axis_over(document, "stick.push") == Axis(parameter="stick.push", min=0.0, max=1.0)
    assert edits.axis_over(document, "stick.x") == Axis(parameter="stick.x", min=-1.0, max=1.0)


def test_a_second_axis_puts_samples_at_its_begin_and_takes_that_away_again() -> None:
    both = edits.reading(harbour((10.0,), (50.0,)), 1, 1, "lean")
    assert places(both) == [(10.0, -4.0), (50.0, -4.0)]
    assert edits.reading(both, 1, 1, "") == harbour((10.0,), (50.0,))
    around = edits.reading(both, 1, 1, "heading")
    assert around.blends[1].axes[1] == Axis(parameter="heading")
    other = edits.reading(harbour((10.0,)), 1, 0, "lean").blends[1].axes
    assert other == (Axis(parameter="lean", min=0, max=100),), "the range of what was read before stays"


def test_samples_are_moved_together_and_those_that_are_anywhere_stay_so() -> None:
    document = harbour((350.0, 10.0), ("any", 20.0), (0.0, 30.0), axes="heading speed")
    assert places(edits.moved(document, 1, {0, 1}, (20.0, 5.0))) == [(10.0, 15.0), ("any", 25.0), (0.0, 30.0)]
    assert places(edits.placed(document, 1, {2}, 0, "any"))[2] == ("any", 30.0)


def test_doubles_lie_beside_their_own_and_within_the_axis() -> None:
    assert places(edits.doubled(harbour((10.0,), (95.0,)), 1, [1, 0])) == [(10.0,), (95.0,), (85.0,), (20.0,)]
    assert places(edits.doubled(harbour((330.0,), ("any",), axes="heading"), 1, [0, 1]))[2:] == [(15.0,), ("any",)]
    assert places(edits.without_samples(harbour((1.0,), (2.0,), (3.0,)), 1, {0, 2})) == [(2.0,)]


def test_a_dial_is_over_a_direction_and_the_speed() -> None:
    made = edits.with_dial(Character(name="Ferry hand"), "gait")
    first, *more = made.blends[0].axes
    assert first.parameter in made.bearings and made.blends[0].name == "gait"
    assert all(axis.parameter == "speed" for axis in more)
