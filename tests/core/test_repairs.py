"""Repairs: every one offered makes its finding go away and nothing as bad come; where none does, none is offered."""

from __future__ import annotations

import pytest

from leanstep.core.character.clips import Cel, Clip, Effect, Mark
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.findings.repairs import proving
from leanstep.core.findings.repairs.proving import candidates, repair
from leanstep.core.findings.report import check_character
from leanstep.core.graph.machine import Machine
from leanstep.core.work import Stopped, Work, look
from tests.support.build import PARAMETERS, sketch, way

FLAG = (*PARAMETERS, Parameter(name="drawn", kind="flag", owner="graph"))
CHATTERING = (Parameter(name="grounded", kind="flag", chatters=True), *PARAMETERS[:2])
WOBBLING = (Parameter(name="speed", min=0.0, max=8.0, wobble=1.0),)


def swinging() -> Character:
    mark = Mark(name="sheathe", at=5, effects=(Effect(do="set", name="drawn", value=False),))
    clips = (Clip(name="swing", sheet="art", loop="once", cels=(Cel(frame=0, ticks=10),), marks=(mark,)),)
    drawn = (Effect(do="set", name="drawn"),)
    states = (State(name="a"), State(name="b", clip="swing", on_entry=drawn))
    return sketch(way("a>b", "hurt"), way("b>a", "jump pressed"), states=states, parameters=FLAG, clips=clips)


CASES = {
    "flicker.steady": (sketch(way("a>b", "speed > 1"), way("b>a", "speed < 2")), "a gap of 0.1"),
    "flicker.wobble": (
        sketch(way("a>b", "speed > 2"), way("b>a", "speed < 2"), parameters=WOBBLING),
        "speed < 0.75 instead of 2",
    ),
    "flicker.restart": (
        sketch(way("a>b", "hurt"), way("b>a", "speed < 1"), way(">b", "grounded", restart=True)),
        "no longer restarts b",
    ),
    "state.dead-end": (sketch(way("a>b", "hurt")), "from b back to a"),
    "state.trap": (sketch(way("a>b", "hurt"), way("b>a", "stay < 0.1 s and jump pressed")), "from b back to a"),
    "state.no-rest": (
        sketch(way("a>b", "hurt"), way("b>a", "jump pressed"), states=(State(name="a", restful=True), State(name="b"))),
        "from b back to a",
    ),
    "transition.shadowed": (
        sketch(
            way("a>b", "speed > 2"), way("a>c", "speed > 3"), way("b>a", "hurt"), way("c>a", "hurt"), states="a b c"
        ),
        "→ c is tried before → b",
    ),
    "mark.missable": (swinging(), "given back on leaving b"),
    "name.unknown": (sketch(way("a>b", "sped > 1"), way("b>a", "speed < 1")), "speed instead of sped"),
}


@pytest.mark.parametrize("kind", list(CASES))
def test_a_repair_mends_its_finding_and_brings_nothing_as_bad(kind: str) -> None:
    character, sentence = CASES[kind]
    report = check_character(character)
    finding = next(one for one in report.findings if one.id == kind)
    mended = repair(character, finding)
    assert mended is not None and sentence in mended.sentence
    after = check_character(mended.character)
    assert (kind, finding.severity, finding.details) not in [
        (one.id, one.severity, one.details) for one in after.findings
    ]
    assert after.count("error") <= report.count("error") - (finding.severity == "error")


def test_a_chattering_flag_has_to_hold() -> None:
    character = sketch(way("a>b", "grounded"), way("b>a", "not grounded"), parameters=CHATTERING)
    finding = next(one for one in check_character(character).findings if one.id == "flicker.wobble")
    mended = repair(character, finding)
    assert mended is not None and "for 0.1 s" in mended.character.layers[0].transitions[0].when


def test_wrong_names_are_mended_where_they_stand() -> None:
    states = (State(name="a", clip="swign"), State(name="b"))
    clips = (Clip(name="swing", sheet="art", cels=(Cel(frame=0),)),)
    for character, sentence in (
        (sketch(way("a>bb", "hurt"), way("b>a")), "b instead of bb"),
        (sketch(way("a>b", "hurt"), way("b>a"), states=states, clips=clips), "swing instead of swign"),
        (sketch(way("a>b", "hurt"), way("b>a"), assumptions=("gronded or hurt",)), "grounded instead of gronded"),
    ):
        found = [one for one in check_character(character).findings if one.id == "name.unknown"]
        mended = [one for one in (repair(character, finding) for finding in found) if one is not None]
        assert sentence in [one.sentence.rstrip(".") for one in mended]


def test_no_repair_is_offered_that_brings_something_as_bad() -> None:
    character = sketch(way("a>b", "speed > 1"), way("b>a", "speed < 2 and grounded"), way("b>a", "lives < 2"))
    finding = next(one for one in check_character(character).findings if one.id == "flicker.steady")
    mended = repair(character, finding)
    if mended is not None:
        assert "flicker.steady" not in {one.id for one in check_character(mended.character).findings}
    assert list(candidates(character, finding))


def test_what_no_edit_is_known_for_has_no_repair() -> None:
    character = sketch(way("a>b", "hurt"), way("b>a"), states="a b c")
    finding = next(one for one in check_character(character).findings if one.id == "state.unreachable")
    assert repair(character, finding) is None


def test_a_repair_can_be_stopped_while_takes_are_played(monkeypatch: pytest.MonkeyPatch) -> None:
    playing: list[Machine] = []

    def played(machine: Machine) -> dict[str, proving.Outcome]:
        playing.append(machine)
        look()
        return {}

    monkeypatch.setattr(proving, "outcomes", played)
    character, _ = CASES["state.dead-end"]
    finding = next(one for one in check_character(character).findings if one.id == "state.dead-end")
    with pytest.raises(Stopped):
        repair(character, finding, work=Work(stop=lambda: bool(playing)))
