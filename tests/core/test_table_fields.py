"""Every field of the document changes the table for games, or the list of formats says that a table cannot hold it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.annotations import Part, fields_of
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import ActionBox, BoxKey, Effect, Key, Mark, Phase, Playback, Strike, Travel
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.pins import Accessory, Pin, PinKey
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.table import encoded
from leanstep.core.graph.compilation import compile_character
from leanstep.core.tick.table import table_of
from tests.property.test_players import asking, everything

NOT_HELD = {
    "pictures, their feet and body boxes": "Sheet Ground Exchange Cut Scale Clip.box CutOutPart CutOut Track PartKey Reach ReachKey",
    "how the body moves and what it meets": "Body Course Shape",
    "keys and pads": "Controls Stick Button",
    "feet on the ground": "Contact Clip.contacts",
    "assumptions": "Character.assumptions",
    "expectations": "State.expects State.grace Expectation",
    "limits of inputs": "Parameter.wobble Parameter.chatters Parameter.once_per Parameter.per_second Character.flicker_window "
    "State.restful State.safe State.ending Transition.urgent Transition.ordered Transition.restart",
    "takes": "Take Character.takes Beginning Standing Given Left Change SecondFigure",
    "lanes": "State.lane Layer.lanes Transition.from_lane",
    "units": "Parameter.unit",
    "notes": "Parameter.note State.note Transition.note Take.note",
    "what is muted": "Muted Character.muted",
    "the slots of a pattern": "Pattern Character.pattern",
}
"""What a table cannot hold, in the words of the list, and the parts and fields that are meant."""
SETTLED = {
    "Character.leanstep": "the version of the file",
    "Character.sheets": "through the frames that are shown",
    "Character.body": "asked of the game by states",
    "Character.course": "of the body",
    "Parameter.rest": "where a parameter is momentary it is 0, else where it starts",
    "Controls.sticks": "the sticks are rows of their own",
    "Clip.family": "of edits in the window",
    "Clip.own": "of edits in the window",
    "ActionBox.name": "for people",
    "Character.controls": "through its sticks and buttons",
    "Lean.turning": "only where a figure is seen from above",
    "Squash.box": "through the box of states without one of their own",
}
"""Fields that change nothing by themselves, and why."""


def rich() -> Character:
    """A character with something of everything that a table can hold."""
    one, other = asking(), everything()
    effects = (Effect(do="push", value=2.0, up=1.0), Effect(do="set", name="count", value=2.0))
    clips = (
        *(replace(clip, playback=Playback(parameter="speed", at=2.0, min=0.5, max=3.0)) for clip in one.clips[:1]),
        *one.clips[1:],
        *other.clips,
    )
    marks = (Mark(name="step", at=1.0, effects=effects, says={"loud": 1.0}, pin="hand"),)
    spots = PinKey(cel=0, x=1.0, y=2.0, angle=30.0), PinKey(cel=1, x=4.0, y=1.0, angle=50.0, behind=True)
    pins = (Pin(name="hand", keys=spots),)
    phases = (Phase(start=1, end=2), Phase(kind="startup", start=3, end=4), Phase(start=4, end=4.5, again=True))
    keys = BoxKey(cel=0, box=(1.0, 2.0, 3.0, 4.0)), BoxKey(cel=1, box=(2.0, 2.0, 3.0, 4.0))
    boxes = (ActionBox(name="fist", kind="strike", keys=keys), ActionBox(name="reach", kind="guard", keys=keys[:1]))
    strike = Strike(stun=3, guard_stun=2, strength=1.5, push=4.0, freeze=1)
    clips = (replace(clips[0], marks=marks, phases=phases, boxes=boxes, pins=pins, strike=strike), *clips[1:])
    ahead = Travel(keys=(Key(at=0), Key(at=2, x=3.0)))
    clips = tuple(replace(clip, travel=ahead) if clip.name == "fast" else clip for clip in clips)
    parameters = (
        *one.parameters,
        *other.parameters[len(one.parameters) - 1 :],
        Parameter(name="ends", kind="flag", owner="graph"),
        Parameter(name="stun", kind="whole", max=9.0, countdown=True),
        Parameter(name="force", max=9.0),
    )
    samples = (Sample(at=(0.0,), clip="walk"), Sample(at=(6.0,), clip="look", phase=0.5))
    gait = BlendSpace(name="gait", sticky=0.1, axes=(Axis(parameter="speed", min=0, max=8, step=2),), samples=samples)
    third = replace(other.layers[0], name="third", states=(*other.layers[0].states, State(name="moves", blend="gait")))
    layers, blends = (*one.layers, third, *other.layers[1:]), (*one.blends, gait)
    begun = replace(layers[0].transitions[0], squash="dip", lean="into")
    shaped = replace(layers[0].states[0], squash="dip", lean="into")
    first = replace(
        layers[0],
        states=(shaped, *layers[0].states[1:]),
        transitions=(begun, *layers[0].transitions[1:]),
    )
    frames = sorted({cel.frame for clip in clips for cel in clip.cels})
    sheets = tuple(
        Sheet(name=name, image=f"{name}.png", size=(64, 16), cut=Cut(columns=64)) for name in ("art", "coat")
    )
    coat = StandIn(sheet="art", by="coat", frames={str(frames[0]): 9}, original=tuple(frames[1:2]))
    costumes = (Costume(name="hot", sheets=(coat,), parameter="mood", value="angry"),)
    first = replace(first, states=(replace(first.states[0], costume="hot"), *first.states[1:]))
    return replace(
        one,
        clips=clips,
        sheets=sheets,
        costumes=costumes,
        alternates=(
            Alternate(name="hot", clips=(Instead(clip="walk", by="look"),), parameter="mood", value="angry"),
            Alternate(name="c", clips=(Instead(clip="look", by="fast"),)),
        ),
        accessories=(
            Accessory(name="lamp", pin="hand", sheet="art", frame=3, angle=5.0, order="before", shown="mood = angry"),
            Accessory(name="moth", pin="hand", clip="fast"),
        ),
        parameters=parameters,
        layers=(first, *layers[1:]),
        blends=blends,
        controls=other.controls,
        contact=ContactRules(
            guards="hurt", hit="hurt", guarded="hurt", stun="stun", strength="force", lands="hurt", stopped="hurt"
        ),
        squashes=(Squash(name="dip", high=0.8),),
        leans=(Lean(name="into", speeding=3.0),),
    )


def text(document: Character) -> bytes | None:
    try:
        return encoded(table_of(compile_character(document)))
    except (LeanStepError, ValueError, TypeError, IndexError, KeyError, AttributeError):
        return None


def others(value: Any) -> Iterator[Any]:
    """Other values of the same kind, of which some should matter."""
    if isinstance(value, bool):
        yield not value
    elif isinstance(value, int | float):
        yield from (value + 1, value / 2, 0.25, 3)
    elif isinstance(value, str):
        yield from (
            "",
            *[
                "c",
                "look",
                "speed",
                "once",
                "even",
                "in",
                "float",
                "lock",
                "flag",
                "game",
                "left",
                "hot",
                "body",
                "angry",
                "moves",
                "ends",
                "dip",
                "vulnerable",
                "behind",
            ],
            "lives > 2",
            "lives * 2",
        )
    elif isinstance(value, tuple):
        yield from (value[:-1], (), (4.0, 8.0), ("calm",), value[::-1])
    elif isinstance(value, dict):
        yield from ({}, {"more": 2.0})
    elif value is None:
        yield from (0.5, 3.0, True)
    else:
        yield None


def places(part: Part, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Part]]:
    """Every part of a document with the way to it."""
    yield path, part
    for field in fields_of(type(part)):
        value = getattr(part, field.name)
        for at, one in enumerate(value) if isinstance(value, tuple) else ((None, value),):
            if isinstance(one, Part):
                yield from places(one, (*path, (field.name, at)))


def put(part: Any, path: tuple[Any, ...], change: Any) -> Any:
    """A document in which a part is another."""
    if not path:
        return change
    (name, at), rest = path[0], path[1:]
    value = getattr(part, name)
    inner = put(value if at is None else value[at], rest, change)
    return replace(part, **{name: inner if at is None else (*value[:at], inner, *value[at + 1 :])})


@pytest.fixture(scope="module")
def held() -> dict[str, bool]:
    """Whether each field of the parts of a rich character changes its table."""
    document = rich()
    before, found = text(document), dict[str, bool]()
    assert before is not None
    fields: dict[str, list[tuple[tuple[Any, ...], Part, str]]] = {}
    for path, part in places(document):
        for field in fields_of(type(part)):
            fields.setdefault(f"{type(part).__name__}.{field.name}", []).append((path, part, field.name))
    for key, found_in in fields.items():
        # where it says something, it is likelier to matter
        some = sorted(found_in, key=lambda one: not getattr(one[1], one[2]))
        made = (
            put(document, path, replace(part, **{name: other}))
            for path, part, name in (*some[:4], *some[4:][-3:])
            for other in others(getattr(part, name))
        )
        found[key] = any((after := text(one)) is not None and after != before for one in made)
    return found


@pytest.mark.long
def test_every_field_is_in_the_table_or_named_as_what_it_cannot_hold(held: dict[str, bool]) -> None:
    named = {name for names in NOT_HELD.values() for name in names.split()}
    lost = {key for key, there in held.items() if not there} - set(SETTLED)
    lost = {key.replace(".source", ".from") for key in lost}
    missing = {key for key in lost if key not in named and key.split(".")[0] not in named}
    assert not missing, f"these change no table, and nothing says so: {sorted(missing)}"


def test_the_list_says_what_the_table_cannot_hold() -> None:
    lacks = FORMATS["table"].lacks
    for words in NOT_HELD:
        assert words in lacks, words


@pytest.mark.long
def test_nothing_is_said_to_be_lost_that_is_there(held: dict[str, bool]) -> None:
    single = {name for names in NOT_HELD.values() for name in names.split() if "." in name}
    there = {key for key in single if held.get(key)}
    assert there <= {"Transition.from_lane", "Transition.urgent", "Transition.restart", "State.lane", "Layer.lanes"}
