"""Names and pictures that formats cannot hold as they are: nothing is merged, nothing is broken, and what is renamed is said."""

from __future__ import annotations

import io
import random
from collections.abc import Callable
from pathlib import Path
from xml.etree import ElementTree as Xml

import networkx
import pytest

from leanstep.core.character.clips import Cel, Clip, Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import Layer, State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.formats.golden import inputs_of
from leanstep.core.formats.graphs import dot, graphml
from leanstep.core.formats.scxml import scxml
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.tick.table import table_of
from tests.property.test_engine_against_plain import anything
from tests.property.test_players import LANGUAGES, put
from tests.property.test_players import agree as players_agree
from tests.property.test_players import compiled as compiled
from tests.property.test_scxml import Played, add, agree
from tests.support.build import sketch, way
from tests.support.cases import case

BAD = "a\uffffb\x7f\ufffe"


def test_a_frame_held_for_two_times_is_two_clips() -> None:
    machine = compile_character(load(case("held_same_frame_two_times")))
    table = table_of(machine)
    assert table.names.clips == ["frame 1 of s", "frame 1 of s 2"]
    assert [row[0] for row in table.sections["clips"]] == [8 << 16, 2 << 16]


def test_a_held_frame_is_not_a_clip_of_the_same_name() -> None:
    clip = Clip(name="frame 1 of s", sheet="s", loop="once", cels=(Cel(frame=0, ticks=3),))
    states = (
        State(name="a", held=Cel(sheet="s", frame=1, ticks=5)),
        State(name="b", clip="frame 1 of s"),
        State(name="c", held=Cel(sheet="s", frame=1, ticks=5, mirrored=True)),
    )
    machine = compile_character(sketch(way("a>b", "clip done"), way("b>c", "clip done"), states=states, clips=(clip,)))
    assert len(set(table_of(machine).names.clips)) == 3


@pytest.mark.long(but=1)
@pytest.mark.parametrize("language", LANGUAGES)
def test_players_follow_the_golden_trace_of_a_frame_held_for_two_times(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    character = load(case("held_same_frame_two_times"))
    machine = compile_character(character)
    inputs = inputs_of(rehearse(machine, character.takes[0]))
    players_agree(language, compiled, [put(tmp_path, 0, machine, inputs)])


@pytest.mark.long
def test_an_interpreter_of_scxml_holds_a_frame_for_two_times(tmp_path: Path) -> None:
    character = load(case("held_same_frame_two_times"))
    machine = compile_character(character)
    played: Played = []
    add(played, tmp_path, machine, inputs_of(rehearse(machine, character.takes[0])))
    agree(played)


def strange() -> Character:
    """Layers and states that come out as one node, characters that XML does not hold, and names that every object has."""
    names = ["__proto__", "constructor", "toString", "hasOwnProperty", "constructor_"]
    parameters = tuple(Parameter(name=name, kind="flag", unit=BAD) for name in names)
    clip = Clip(
        name="__proto__",
        sheet="s",
        cels=(Cel(frame=0, ticks=4),),
        spans=(Span(name="__proto__", start=1, end=3),),
        marks=(Mark(name="valueOf", at=2),),
    )
    layers = (
        Layer(
            name="a",
            states=(State(name="b.c", clip="__proto__"), State(name=BAD, note=BAD), State(name="third")),
            transitions=(
                way("b.c>third", "__proto__ and not toString and span __proto__"),
                way("third>b.c", "constructor or (hasOwnProperty and constructor_) or valueOf pressed"),
            ),
        ),
        Layer(
            name="a.b", states=(State(name="c"), State(name="d")), transitions=(way("c>d", "isPrototypeOf.x > 0.5"),)
        ),
    )
    controls = Controls(buttons=(Button(name="valueOf"),), sticks=(Stick(name="isPrototypeOf"),))
    return Character(name=BAD, parameters=parameters, clips=(clip,), layers=layers, controls=controls)


def test_graphml_holds_strange_names_and_every_state_once() -> None:
    data = graphml(strange())
    graph = networkx.read_graphml(io.BytesIO(data))
    assert len(graph) == 5
    assert any("a.b.c 2: state c of layer a.b" in text for text in Xml.fromstring(data).itertext())


def test_dot_has_every_state_once() -> None:
    text = dot(strange())
    assert '"a.b.c" [' in text and '"a.b.c 2" [' in text
    assert '"a.b.c 2" -> "a.b.d"' in text


@pytest.mark.long
def test_scxml_holds_strange_names_and_says_what_it_calls_otherwise(tmp_path: Path) -> None:
    machine = compile_character(strange())
    data = scxml(machine)
    Xml.fromstring(data)
    assert "__proto___: __proto__" in data.decode() and "constructor_ 2: constructor" in data.decode()
    played: Played = []
    for seed in range(8):
        add(played, tmp_path, machine, inputs(machine, seed))
    agree(played)


@pytest.mark.long(but=4)
@pytest.mark.parametrize("language", LANGUAGES)
def test_a_parameter_may_be_called_as_every_object_is(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    machine = compile_character(strange())
    players_agree(language, compiled, [put(tmp_path, seed, machine, inputs(machine, seed)) for seed in range(4)])


def inputs(machine: Machine, seed: int) -> list[dict[int, Symbolic]]:
    """Anything, for a second."""
    return list(spread(anything(random.Random(seed), machine, 60), 60))
