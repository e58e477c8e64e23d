"""Players see walking in mid-air first: what states seem to expect is offered, and accepted in one step."""

from __future__ import annotations

import msgspec

from leanstep.core.character.body import Course, Shape
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.starting import empty
from leanstep.core.character.takes import Change, Take
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding

LEDGE = Course(
    shapes=(
        Shape(kind="floor", x=-200, y=-40, width=800, height=40),
        Shape(kind="floor", x=600, y=-240, width=800, height=40),
    )
)
WALKS = Take(name="over the ledge", ticks=900, changes=(Change(at=4, set={"stick.x": 1.0}),))


def character(take: Take = WALKS, **walk: object) -> Character:
    """A figure that walks over a ledge, and has nothing to show for falling."""
    states = (State(name="idle", restful=True), State(name="walk", **walk))  # type: ignore[arg-type]
    ways = (
        Transition(source="idle", to="walk", when="speed > 12"),
        Transition(source="walk", to="idle", when="speed < 6"),
    )
    layer = Layer(name="base", states=states, transitions=ways)
    return msgspec.structs.replace(empty(), layers=(layer,), course=LEDGE, takes=(take,))


def offers(made: Character) -> list[Finding]:
    return [one for one in check_character(made).findings if one.id == "expectation.offered"]


def test_a_state_shown_in_mid_air_is_asked_about_and_expects_the_ground_then() -> None:
    made = character()
    (one,) = offers(made)
    assert (one.details["state"], one.details["expects"], one.severity) == ("walk", "grounded", "note")
    assert "walk was shown 0.6 s while not grounded" in one.sentence and one.witness == WALKS
    assert 500 < one.details["tick"] < 560 and f"tick {one.details['tick']}" in one.why
    accepted = repair(made, one)
    assert accepted is not None and "walk expects “grounded” from now on" in accepted.sentence
    assert accepted.character.layers[0].states[1].expects == "grounded" and not offers(accepted.character)
    assert "expectation.broken" in {one.id for one in check_character(accepted.character).findings}


def test_nothing_is_offered_where_it_would_mean_nothing() -> None:
    assert not offers(character(expects="speed > 0")), "it expects something already"
    assert not offers(character(grace=2.0)), "it is off the ground for less than its grace"
    short = msgspec.structs.replace(WALKS, ticks=300)
    assert not offers(character(short)), "it never leaves the ground"
    much = change(character(), ("course",), shapes=LEDGE.shapes[:1])
    assert not offers(change(much, ("takes", 0), ticks=1400)), "it is off the ground for most of the time"
