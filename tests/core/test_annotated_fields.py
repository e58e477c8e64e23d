"""What fields say of themselves is kept everywhere: names are followed, bounds are refused, schema and reference tell them."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import jsonschema
import pytest
from msgspec.structs import replace

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.annotations import (
    ByNumber,
    ChoiceOf,
    Condition,
    Field,
    Names,
    Numbers,
    Settings,
    Within,
    fields_of,
)
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import (
    ActionBox,
    BoxKey,
    Cel,
    Clip,
    Contact,
    Effect,
    Key,
    Mark,
    Phase,
    Playback,
    Span,
    Strike,
    Travel,
)
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.document import Character, Muted, Pattern
from leanstep.core.character.edits import put
from leanstep.core.character.files import dump, parse, plain
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.part import Part
from leanstep.core.character.pins import Accessory, Pin, PinKey
from leanstep.core.character.schema import parts, reference, schema
from leanstep.core.character.sheets import Cut, Ground, Scale, Sheet
from leanstep.core.character.takes import (
    Beginning,
    Change,
    Expectation,
    Given,
    Left,
    SecondFigure,
    Standing,
    Take,
)
from leanstep.core.character.validation import validate
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import references, things
from leanstep.core.naming.removing import without
from leanstep.core.naming.renaming import rename
from tests.support.build import DOCS

EFFECTS = (
    Effect(do="set", name="mood", value="angry"),
    Effect(do="lock", name="bar"),
    Effect(do="squash", name="dip"),
    Effect(do="lean", name="into"),
)


def full() -> Character:
    """A character in which every field that can name something does."""
    cel = Cel(frame=0, sheet="figure")
    clip = Clip(
        name="go",
        sheet="figure",
        cels=(cel,),
        box=(1.0, 0.0, 3.0, 4.0),
        playback=Playback(parameter="speed", min=0.0, resting=cel),
        marks=(Mark(name="step", effects=EFFECTS, pin="hand"),),
        spans=(Span(name="cut", hold="sharp"),),
        phases=(Phase(start=1, end=2),),
        strike=Strike(stun=3),
        boxes=(ActionBox(name="blade", keys=(BoxKey(cel=0, box=(1.0, 2.0, 3.0, 4.0)),)),),
        pins=(Pin(name="hand", keys=(PinKey(cel=0, x=3.0, y=4.0, angle=5.0, behind=True),)),),
        travel=Travel(keys=(Key(at=1.0, x=2.0),)),
        contacts=(Contact(start=0.0, end=1.0, x=1.0, to=-1.0),),
    )
    state = State(
        name="a",
        lane="low",
        clip="go",
        blend="round",
        held=cel,
        box=(2.0, 3.0),
        push=(1.0, 2.0),
        squash="dip",
        lean="into",
        costume="coat",
        alternate="limp",
        expects="speed > 1 and base.a",
        on_entry=EFFECTS,
        on_leave=EFFECTS,
    )
    ways = (
        Transition(source="a", to="b", when="speed > lever.x and mood = angry", squash="dip", lean="into"),
        Transition(from_lane="low", to="a", when="leap pressed and since(a) > 1 s and span cut"),
    )
    standing = Standing(layer="base", state="a", fading="b", fade=(0, 1, 2, 0))
    given = (Given(name="mood", value="angry"), Given(name="leap", value=3))
    begins = Beginning(
        layers=(standing,),
        values=given[:1],
        presses=given[1:],
        left=(Left(layer="base", state="b", ticks=3),),
        memories={"x": 1},
        held=("leap",),
        raised=("ring",),
        locks=("bar",),
    )
    take = Take(
        name="one",
        ticks=9,
        begins=begins,
        changes=(Change(at=1, set={"lever.x": 1.0, "mood": "angry"}),),
        expects=(Expectation(what="enter", name="b", layer="base"), Expectation(what="mark", name="step")),
        second=SecondFigure(x=9.0, y=1.0, changes=(Change(at=2, set={"braced": True}),)),
    )
    return Character(
        parameters=(
            Parameter(name="speed", min=0.0, max=9.0, wobble=1.0, per_second=2.0),
            Parameter(name="mood", kind="choice", owner="graph", choices=("calm", "angry"), rest="calm", start="angry"),
            Parameter(name="twice", owner="formula", formula="speed * 2"),
            Parameter(name="sharp", kind="flag", owner="graph"),
            Parameter(name="ring", kind="pulse", once_per=1.0),
            Parameter(name="dazed", kind="whole", max=9.0, countdown=True),
        ),
        contact=ContactRules(
            guards="in base.a", hit="ring", guarded="ring", stun="dazed", strength="speed", lands="ring", stopped="ring"
        ),
        assumptions=("speed < 9",),
        controls=Controls(sticks=(Stick(name="lever"),), buttons=(Button(name="leap"),)),
        sheets=(
            Sheet(
                name="figure",
                image="a.png",
                size=(8, 8),
                foot=(1.0, 2.0),
                feet={"0": (1.0, 2.0)},
                box=(0.0, 0.0, 1.0, 1.0),
                boxes={"0": (0.0, 0.0, 1.0, 1.0)},
                row_facing={"0": "left"},
                row_bearing={"0": 90.0},
                scale=Scale(by=2.0),
                ground=Ground(colour="#ff00ff", holes=((1, 2),)),
                cut=Cut(way="rects", rects=((0, 0, 1, 1),), cells={"0": (0, 0, 1, 1)}),
                parts=(
                    CutOutPart(
                        name="arm",
                        frame=1,
                        outline=((0.0, 0.0), (1.0, 0.0), (1.0, 1.0)),
                        behind="chest",
                        parent="chest",
                        joint=(1.0, 2.0),
                        at=(2.0, 3.0),
                        turn=4.0,
                        order=5,
                    ),
                    CutOutPart(name="chest"),
                ),
            ),
            Sheet(
                name="waving",
                cut_out=CutOut(
                    of="figure",
                    like="waving",
                    pictures="figure",
                    ticks=30,
                    every=3,
                    tracks=(Track(part="arm", keys=(PartKey(at=1.0, x=2.0, y=3.0, turn=4.0, wide=5.0, high=6.0),)),),
                    reaches=(Reach(part="arm", tip=(1.0, 2.0), keys=(ReachKey(at=1.0, x=2.0, y=3.0),)),),
                ),
            ),
        ),
        costumes=(
            Costume(
                name="coat",
                sheets=(StandIn(sheet="figure", by="figure", frames={"0": 1}, original=(2,)),),
                parameter="mood",
                value="angry",
            ),
        ),
        alternates=(Alternate(name="limp", clips=(Instead(clip="go", by="go"),), parameter="mood", value="angry"),),
        accessories=(
            Accessory(name="lamp", pin="hand", sheet="figure", frame=1, clip="go", angle=4.0, shown="mood = angry"),
        ),
        clips=(clip,),
        blends=(
            BlendSpace(name="round", axes=(Axis(parameter="speed", max=9.0),), samples=(Sample(at=(1.0,), clip="go"),)),
        ),
        layers=(Layer(name="base", start="a", lanes=("low",), states=(state, State(name="b")), transitions=ways),),
        body=Body(stick="lever", jump="leap", run="leap", aim="lever", aim_held="leap"),
        course=Course(shapes=(Shape(kind="zone", name="sharp"),)),
        squashes=(Squash(name="dip", wide=1.0, hold=1.0),),
        leans=(Lean(name="into"),),
        takes=(take,),
        muted=(Muted(id="flash", about="base, a"),),
        pattern=Pattern(joins=("b",)),
    )


def held(part: Part, path: tuple[str | int, ...] = ()) -> Iterator[tuple[tuple[str | int, ...], Part, Field]]:
    """Every field of a document with the part it lies in and the path to it."""
    for field in fields_of(type(part)):
        yield (*path, field.name), part, field
        if field.part is not None:
            for number, one in field.parts(part):
                yield from held(one, (*path, field.name) if number is None else (*path, field.name, number))


def test_every_annotated_name_of_the_schema_is_renamed() -> None:
    """In a document that uses every field that names something, nothing is called as before once all is renamed."""
    document = full()
    validate(document, "full")
    named = {(kind.__name__, field.name) for kind in parts() for field in fields_of(kind) if field.note(Names)}
    seen = {
        (type(part).__name__, field.name)
        for _, part, field in held(document)
        if field.note(Names) and getattr(part, field.name)
    }
    assert named == seen, "the document leaves no field out"
    before = things(document)
    assert {one.kind for one in before} >= {
        *("parameter", "choice", "button", "stick", "sheet", "clip", "blend", "layer", "state", "lane", "take", "mark"),
        *("span", "lock", "squash", "lean", "costume", "pin", "accessory", "alternate"),
    }
    after = document
    for number, thing in enumerate(before):
        same = next(one for one in things(after) if one.kind == thing.kind and one.name == thing.name)
        after = rename(after, same, f"new{number}")
    left = {one.name for place in references(after) for one in place.things} & {one.name for one in before}
    assert not left and len(list(references(after))) == len(list(references(document)))
    text = dump(replace(after, sheets=(), muted=(), name="")).decode()
    for thing in before:
        assert f'"{thing.name}"' not in text, thing


@pytest.mark.parametrize("number", range(len(things(full()))))
def test_what_is_removed_leaves_a_document_that_opens(number: int) -> None:
    document = full()
    thing = things(document)[number]
    if thing in [one for one in things(document) if one.kind == "layer"]:
        return
    after = without(document, thing)
    assert parse(dump(after)) == after
    assert "" not in after.pattern.joins if after.pattern is not None else True


def wrong_values(field: Field, value: Any) -> Iterator[Any]:
    """Values that a field says it cannot have."""
    bounds, numbers = field.note(Within), field.note(Numbers)

    def outside() -> Iterator[float]:
        whole = isinstance(value, int) or (isinstance(value, tuple) and isinstance(value[0], int))
        low, high = (int, int) if whole else (float, float)
        if bounds.low > -float("inf"):
            yield low(bounds.low) if bounds.open_low else low(bounds.low - 1)
        if bounds.high < float("inf"):
            yield high(bounds.high) if bounds.open_high else high(bounds.high * 2 + 1)

    if bounds is not None:
        for one in outside():
            yield {"x": one} if isinstance(value, dict) else (one,) * len(value) if isinstance(value, tuple) else one
    if numbers is not None:
        one = (1,) * (numbers.count + 1)
        yield {"0": one} if isinstance(value, dict) else (one,) if isinstance(value[0], tuple) else one
    if field.note(ByNumber):
        yield {"first": next(iter(value.values()))}


@pytest.mark.long
def test_every_bound_is_refused_by_the_rules_and_by_the_schema() -> None:
    document, tried = full(), set()
    validator = jsonschema.Draft202012Validator(schema())
    assert not list(validator.iter_errors(plain(document)))
    for path, part, field in held(document):
        value = getattr(part, field.name)
        if value in ((), {}, None, "") or isinstance(value, str):
            continue
        for wrong in wrong_values(field, value):
            after = put(document, path, wrong)
            with pytest.raises(LeanStepError, match=field.key) as said:
                validate(after, "full")
            assert said.value.way_out.startswith("Write")
            assert list(validator.iter_errors(plain(after))), f"the schema allows {wrong} for {path}"
            tried.add((type(part).__name__, field.name))
    bounded = {
        (kind.__name__, field.name)
        for kind in parts()
        for field in fields_of(kind)
        if any(field.note(one) for one in (Within, Numbers, ByNumber))
    }
    # what the document leaves at none
    assert bounded - tried <= {("State", "cap"), ("State", "fall_cap")}


def test_every_field_is_said_in_words() -> None:
    for kind in parts():
        assert kind.__doc__
        for field in fields_of(kind):
            assert field.about or field.part is not None, f"{kind.__name__}.{field.name}"
            assert not field.note(Settings | ChoiceOf | Condition) or field.about


def test_the_reference_of_the_format_is_what_the_fields_say() -> None:
    """After a change, python -m tests.support.reference writes it anew."""
    assert reference() in (DOCS / "format.md").read_text()


def test_fields_a_newer_program_wrote_are_kept_wherever_they_stand() -> None:
    raw = plain(full())

    def add(part: Part, made: dict[str, Any]) -> None:
        made["colour of tomorrow"] = 1
        for field in fields_of(type(part)):
            if field.part is None or field.key not in made:
                continue
            for number, one in field.parts(part):
                add(one, made[field.key] if number is None else made[field.key][number])

    add(full(), raw)
    text = json.dumps(raw)
    again = plain(parse(text.encode()))
    assert json.dumps(again).count("colour of tomorrow") == text.count("colour of tomorrow") > 30
