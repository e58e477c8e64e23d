"""What a character that is left alone is told by its body: that it stands on a floor."""

from __future__ import annotations

from dataclasses import replace

import msgspec
import pytest

from leanstep.core.body.records import TOLD
from leanstep.core.character.body import Course
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.standing import STANDING
from leanstep.core.character.starting import empty
from leanstep.core.conditions.scope import scope_of
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.stepping import Stepper

NUMBERS = ("speed", "rise", "ahead", "ledge")


def told(model: str) -> Character:
    """One state, and everything the body tells."""
    parameters = tuple(
        Parameter(name=name, owner="body", kind="number" if name in NUMBERS else "flag", min=0.0, max=900.0)
        if name in NUMBERS
        else Parameter(name=name, owner="body", kind="bearing" if name in ("heading", "facing") else "flag")
        for name in TOLD
    )
    parameters = tuple(msgspec.structs.replace(one, min=-900.0) if one.name == "rise" else one for one in parameters)
    return change(change(empty(), (), parameters=parameters, course=Course()), ("body",), model=model)


@pytest.mark.parametrize("model", ["side", "above"])
def test_what_is_said_of_standing_is_what_the_body_says_there(model: str) -> None:
    character = told(model)
    machine = compile_character(character)
    stepper = Stepper(machine)
    situation = stepper.first()
    for _ in range(90):
        situation = stepper.step(situation, {}).situation
    for symbol, value in zip(machine.symbols, situation.values):
        if symbol.owner == "body" and symbol.kind != "bearing":
            assert symbol.alone == value, symbol.name
    assert set(STANDING) <= set(TOLD)


def test_a_declared_rest_value_counts_before_that() -> None:
    grounded = Parameter(name="grounded", kind="flag", owner="body", rest=False)
    (symbol, *_) = scope_of(change(empty(), (), parameters=(grounded,))).symbols
    assert symbol.alone is False and replace(symbol, given=None).alone is True


def jumping() -> Character:
    """A jump in four parts, as one makes it in an empty window."""
    once = {name: Clip(name=name, loop="once", cels=(Cel(frame=0, ticks=6.0),)) for name in ("crouch", "land")}
    states = (
        State(name="idle", lane="ground", restful=True),
        State(name="crouch", lane="ground", clip="crouch"),
        State(name="rise", lane="air"),
        State(name="fall", lane="air"),
        State(name="land", lane="ground", clip="land"),
    )
    ways = (
        Transition(source="idle", to="crouch", when="jump pressed"),
        Transition(source="crouch", to="rise", when="rise > 0 and not grounded"),
        Transition(source="crouch", to="idle", when="clip done"),
        Transition(source="rise", to="fall", when="rise <= 0"),
        Transition(source="idle", to="fall", when="not grounded"),
        Transition(source="fall", to="land", when="grounded"),
        Transition(source="land", to="idle", when="clip done"),
    )
    layer = Layer(name="base", start="idle", lanes=("ground", "air"), states=states, transitions=ways)
    return change(empty(), (), layers=(layer,), clips=tuple(once.values()))


def test_a_jump_that_lands_comes_to_rest() -> None:
    found = {one.id for one in check_character(jumping()).findings}
    assert "state.no-rest" not in found


def test_a_fall_that_never_lands_does_not() -> None:
    character = jumping()
    kept = tuple(one for one in character.layers[0].transitions if one.source != "fall")
    found = [one for one in check_character(change(character, ("layers", 0), transitions=kept)).findings]
    assert {"state.no-rest", "state.dead-end", "state.trap"} & {one.id for one in found}


def test_what_mends_a_fall_does_not_let_it_stand_in_mid_air() -> None:
    character = jumping()
    ways = tuple(one for one in character.layers[0].transitions if one.source != "fall")
    faulty = change(character, ("layers", 0), transitions=ways)
    finding = next(one for one in check_character(faulty).findings if one.id in ("state.dead-end", "state.trap"))
    mended = repair(faulty, finding)
    assert mended is not None and "standing on the ground" in mended.sentence
    (new,) = [one for one in mended.character.layers[0].transitions if one not in ways]
    assert "grounded" in new.when
