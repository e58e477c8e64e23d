"""Graphs brought in from SCXML: what is understood, what is named and left out, and what is refused."""

from __future__ import annotations

from pathlib import Path

import pytest
from typer.testing import CliRunner

from leanstep.cli.main import app
from leanstep.core.character.files import load
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.formats.ecmascript import Unreadable, read
from leanstep.core.formats.scxml_in import Brought, bring_in
from leanstep.core.formats.scxml_parsing import DEEPEST, LARGEST
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.work import Work

SPACE = 'xmlns="http://www.w3.org/2005/07/scxml" version="1.0"'


def brought(inside: str, **attributes: str) -> Brought:
    words = " ".join(f'{name}="{value}"' for name, value in attributes.items())
    return bring_in(f"<scxml {SPACE} {words}>\n{inside}\n</scxml>".encode(), "door", "door.scxml")


DOOR = """
<datamodel><data id="speed" expr="0"/><data id="locked" expr="false"/><data id="mood" expr="'calm'"/></datamodel>
<parallel id="whole">
 <state id="leaf" initial="shut">
  <state id="moving">
   <onentry><log expr="'moving'"/></onentry>
   <transition event="stop.now" target="shut"/>
   <state id="opening">
    <onentry><send event="arrived" delay="1.5s" id="a"/><assign location="locked" expr="false"/></onentry>
    <onexit><cancel sendid="a"/></onexit>
    <transition event="arrived" target="open"/>
   </state>
   <state id="closing"><transition event="bump" cond="speed &gt; 0.5 &amp;&amp; !locked" target="opening"/></state>
  </state>
  <state id="open"><transition event="close" cond="mood === 'calm' || Math.abs(speed) &lt;= 1" target="closing"/></state>
  <state id="shut">
   <onentry><assign location="locked" expr="true"/><raise event="click"/></onentry>
   <transition event="knock push" target="moving"/>
  </state>
 </state>
 <state id="lamp">
  <state id="dark"><transition cond="In('open')" target="bright"/></state>
  <state id="bright"><transition event="click" target="dark"/></state>
 </state>
</parallel>
"""


def test_states_regions_events_conditions_and_stays_come_in() -> None:
    made = brought(DOOR)
    leaf, lamp = made.character.layers
    assert [(state.name, state.lane) for state in leaf.states] == [
        ("opening", "moving"), ("closing", "moving"), ("open", ""), ("shut", ""),
    ]  # fmt: skip
    assert leaf.start == "shut" and lamp.start == "dark"
    assert [(way.source or way.from_lane, way.to, way.when) for way in (*leaf.transitions, *lamp.transitions)] == [
        ("opening", "open", "stay >= 1.5 s"),
        ("closing", "opening", "bump and speed > 0.5 and not locked"),
        ("moving", "shut", "stop_now"),
        ("open", "closing", "close and (mood = calm or abs(speed) <= 1)"),
        ("shut", "opening", "knock or push"),
        ("dark", "bright", "in leaf.open"),
        ("bright", "dark", "click"),
    ]
    owners = {one.name: (one.kind, one.owner) for one in made.character.parameters}
    assert owners["locked"] == ("flag", "graph") and owners["click"] == ("pulse", "graph")
    assert owners["speed"] == ("number", "game") and owners["bump"] == ("pulse", "game")
    assert owners["mood"] == ("choice", "game")
    said = [line for line in made.left_out if "range" not in line and "nothing in the document sets" not in line]
    assert said == [
        "line 7: <onentry> is left out: only single states do something when they are entered or left",
        "line 18: <raise>: click is answered a tick later, not at once",
        "line 23: <transition>: without an event it is taken a tick after its state was entered, not at once",
    ]
    assert "line 3: <data>: speed has no range in the document: from -1000 to 1000 is made up" in made.left_out
    assert not compile_character(made.character).faults


def test_what_is_brought_in_plays_as_the_document_says() -> None:
    machine = compile_character(brought(DOOR).character)
    stepper = Stepper(machine, free=True)
    now, shown = stepper.first(), []
    for tick in range(200):
        inputs = {
            machine.index["knock"]: tick == 3,
            machine.index["close"]: tick == 110,
            machine.index["bump"]: tick == 120,
        }
        now = stepper.step(now, {**inputs, machine.index["speed"]: 0.8}).situation
        shown.append(machine.layers[0].states[now.states[0]])
    assert shown[2:5] == ["shut", "opening", "opening"] and shown.index("open") == 3 + 90
    assert shown[110] == "closing" and shown[120] == "opening" and shown[-1] == "opening"


def test_compound_states_within_lanes_give_their_ways_to_each_of_their_states() -> None:
    made = brought(
        """<state id="out" initial="in2"><state id="deep"><transition event="up" target="far"/>
        <state id="in1"><transition event="up" target="in2"/></state><state id="in2"/></state><state id="far"/></state>"""
    )
    (layer,) = made.character.layers
    assert {state.lane for state in layer.states} == {"out"} and layer.start == "in2"
    assert [(way.source, way.to) for way in layer.transitions] == [("in1", "in2"), ("in1", "far"), ("in2", "far")]


@pytest.mark.parametrize(
    ("inside", "says"),
    [
        ('<state id="a"><history id="h"/></state>', "<history> is left out: states here remember nothing"),
        ('<state id="a"><invoke src="x"/></state>', "<invoke> is left out: nothing is started"),
        ('<state id="a"><onentry><script>evil()</script></onentry></state>', "<script> is left out: scripts are not run"),
        ('<state id="a"/><script>evil()</script>', "<script> is left out: scripts are not run"),
        ('<state id="a"><transition event="x"/></state>', "it leads nowhere"),
        ('<state id="a"><transition event="x" target="b"/></state>', "no state has the id b"),
        ('<state id="a"><transition event="x*" target="a"/></state>', "x* is no event"),
        ('<state id="a"><transition event="error.x" target="a"/></state>', "comes from an interpreter"),
        ('<state id="a"><transition event="y" target="h"/></state><state id="b"><history id="h"/></state>', "h is a history"),
        ('<state id="a"><transition cond="f(x)" target="a"/></state>', "f(…) is nothing a condition can say"),
        ('<state id="a"><transition cond="_event.data.x" target="a"/></state>', "_event.data.x is no name"),
        ('<state id="a"><transition cond="for &gt; 1" target="a"/></state>', "for is a word of the language"),
        ('<state id="a"><transition event="x" target="a"><log/></transition></state>', "do nothing on the way"),
        ('<state id="a"><onentry><send event="x" delayexpr="d"/></onentry></state>', "only an event to itself"),
        ('<state id="a"><onentry><assign location="n" expr="n*2"/></onentry></state>', "“n*2” is no value"),
        ('<state id="o"><parallel id="p"><state id="a"/><state id="b"/></parallel></state>', "as layers only"),
        ('<state id="a"/><datamodel><data id="d" src="file:///etc/passwd"/></datamodel>', "d is no number"),
    ],
)  # fmt: skip
def test_what_cannot_be_said_is_named_with_its_line_and_left_out(inside: str, says: str) -> None:
    made = brought(inside)
    assert any(line.startswith("line 2: ") and says in line for line in made.left_out), made.left_out
    assert not compile_character(made.character).faults
    assert not [way for layer in made.character.layers for way in layer.transitions if way.when == "true"]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"<scxml", "It is no XML"),
        (b"", "It is no XML"),
        (b"<html/>", "its first element is html, not scxml"),
        (f"<scxml {SPACE}/>".encode(), "it has no states"),
        (
            b'<!DOCTYPE s [<!ENTITY a "aaaaaaaa"><!ENTITY b "&a;&a;&a;">]><scxml>&b;</scxml>',
            "it declares a document type",
        ),
        (b'<!DOCTYPE s SYSTEM "file:///etc/passwd"><scxml/>', "it declares a document type"),
        (b'<!DOCTYPE s [<!ENTITY x SYSTEM "file:///etc/passwd">]><scxml>&x;</scxml>', "it declares a document type"),
        (b"<scxml>" + b"<state>" * 400_000, f"nested more than {DEEPEST} deep"),
        (b"<scxml>" + b"<state id='a'></state>" * (LARGEST // 15), "at most 4000000 are read"),
        (f'<scxml {SPACE}><state id="a{chr(10)}"/><state id="{"x" * 5000}"/></scxml>'.encode(), "x"),
    ],
    ids=["torn", "empty", "html", "stateless", "entities", "outside", "file", "deep", "large", "long"],
)
def test_what_is_no_document_is_a_sentence(data: bytes, says: str) -> None:
    try:
        made = bring_in(data, "door", "door.scxml")
    except LeanStepError as error:
        assert says in str(error) and "door.scxml" in str(error)
    else:
        assert says == "x" and not compile_character(made.character).faults


@pytest.mark.parametrize(
    "text",
    ["a +", "(a", "a b", "a ? b : c", "a = 1", "x['y']", "!" * 500 + "a", "(" * 500 + "a" + ")" * 500, "", "1a", "a.b"],
)
def test_expressions_outside_the_part_are_refused(text: str) -> None:
    with pytest.raises(Unreadable):
        read(text, lambda name: None)


def test_on_the_command_line(tmp_path: Path) -> None:
    document = tmp_path / "door.scxml"
    document.write_text(f"<scxml {SPACE}>\n{DOOR}</scxml>")
    result = CliRunner().invoke(app, ["import", str(document)])
    assert result.exit_code == 0 and "only single states do something" in result.output
    character = load(tmp_path / "door.leanstep")
    assert check_character(character, tmp_path, work=Work(play=0)).complete
    again = CliRunner().invoke(app, ["import", str(document)])
    assert isinstance(again.exception, LeanStepError) and "--force" in str(again.exception)
    assert CliRunner().invoke(app, ["import", str(document), "--force"]).exit_code == 0


def ways(made: Brought) -> list[tuple[str, str, str]]:
    return [(way.source, way.to, way.when) for layer in made.character.layers for way in layer.transitions]


def test_an_event_catches_those_that_begin_with_it() -> None:
    made = brought(
        """<state id="a"><onentry><raise event="ev.sub.deep"/></onentry><transition event="ev" target="b"/></state>
        <state id="b"><transition event="ev.sub.*" target="a"/><transition event="evening" target="a"/></state>"""
    )
    assert ways(made) == [
        ("a", "b", "ev or ev_sub_deep"), ("b", "a", "ev_sub_deep"), ("b", "a", "evening"),
    ]  # fmt: skip


def test_what_comes_from_an_interpreter_takes_no_other_event_with_it() -> None:
    made = brought('<state id="a"><transition event="start error.*" target="b"/></state><state id="b"/>')
    assert ways(made) == [("a", "b", "start")]
    assert any("the event error.* comes from an interpreter" in line for line in made.left_out)


def test_any_event_is_each_that_the_document_names() -> None:
    made = brought(
        '<state id="a"><transition event="*" target="b"/></state><state id="b"><transition event="x y.z" target="a"/></state>'
    )
    assert ways(made)[0] == ("a", "b", "x or y_z")


def test_what_data_begin_with_is_kept_and_what_is_made_up_is_said() -> None:
    made = brought(
        """<datamodel><data id="lives" expr="3"/><data id="mood" expr="'calm'"/><data id="words" expr="'two words'"/>
        <data id="odd" expr="'9lives'"/><data id="on" expr="true"/></datamodel>
        <state id="a"><transition cond="lives &gt; 2 &amp;&amp; on" target="b"/></state><state id="b"/>""",
        name="keeper",
        datamodel="lua",
    )
    assert made.character.name == "keeper"
    first = {symbol.name: symbol.first for symbol in compile_character(made.character).symbols}
    assert first["lives"] == 3.0 and first["on"] is True and first["mood"] == "calm"
    said = "\n".join(made.left_out)
    assert (
        "its data model is lua" in said
        and "words is no number, no truth and no word" in said
        and "odd is no number" in said
    )
    assert "nothing in the document sets lives: the game does" in said


def test_an_event_sent_later_that_another_state_awaits_is_named() -> None:
    made = brought(
        """<state id="a"><onentry><send event="late" delay="2s"/></onentry><transition event="go" target="b"/></state>
        <state id="b"><transition event="late" target="a"/></state>"""
    )
    assert any(
        "late comes after a as a stay there; elsewhere it is an event that the game sends" in line
        for line in made.left_out
    )


def test_a_beginning_that_is_not_there_is_named() -> None:
    made = brought('<state id="a"/><state id="b"/>', initial="nowhere")
    assert made.character.layers[0].start == "a"
    assert any("no state has the id nowhere, in which it is to begin" in line for line in made.left_out)


def test_what_begins_in_itself_begins_in_its_first_state() -> None:
    text = b"""<scxml xmlns="http://www.w3.org/2005/07/scxml" version="1.0" initial="a">
      <state id="a" initial="a"><state id="b" initial="a"><state id="c"/></state></state></scxml>"""
    brought = bring_in(text, "graph", "graph.scxml")
    assert brought.character.layers[0].start == "c"
