"""Faults planted in many places of the sound demo are found; harmless changes raise nothing."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec
import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, insert, move, put
from leanstep.core.character.files import load
from leanstep.core.character.graph import State, Transition
from leanstep.core.findings.report import check_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.renaming import rename
from tests.support.build import DEMO

DEMO_CHARACTER = load(DEMO / "lamplighter.leanstep")
SOUND = msgspec.structs.replace(DEMO_CHARACTER, layers=DEMO_CHARACTER.layers[:1], takes=())
"""The sound demo's first layer: the other one looks at it and would only make every check longer."""
KNOWN = {finding.id for finding in check_character(SOUND).findings}
BASE = SOUND.layers[0]
NAMES = [state.name for state in BASE.states]
WAYS = ("layers", 0, "transitions")
STATES = ("layers", 0, "states")


def with_way(character: Character, transition: Transition, first: bool = False) -> Character:
    """The character with one more transition, tried last or first."""
    return insert(character, WAYS, 0, transition) if first else append(character, WAYS, transition)


def tamed() -> Character:
    """The sound demo with the whole-graph transition said lane by lane, so that new states are not left by it."""
    at = next(number for number, one in enumerate(BASE.transitions) if not one.source and not one.from_lane)
    old = BASE.transitions[at]
    lanes = [msgspec.structs.replace(old, from_lane=lane) for lane in BASE.lanes]
    return put(SOUND, WAYS, (*BASE.transitions[:at], *lanes, *BASE.transitions[at + 1 :]))


def planted() -> Iterator[tuple[str, str, Character]]:
    """Label, expected id, and the faulty character."""
    for number, transition in enumerate(BASE.transitions):
        for name in ("speed", "grounded", "climbing", "rise", "stick.y", "hit"):
            if name in transition.when:
                wrong = transition.when.replace(name, name[0] + "x" + name[1:], 1)
                yield f"misspelt {name} in {number}", "name.unknown", change(SOUND, (*WAYS, number), when=wrong)
                break
        if not transition.source:
            continue
        twin = next(one for one in ("idle", "crouch", "hurt") if one not in (transition.to, transition.source))
        copy = msgspec.structs.replace(transition, to=twin, note="copy")
        yield f"copy of {number}", "transition.shadowed", insert(SOUND, WAYS, number + 1, copy)
    for name in NAMES:
        pit = append(tamed(), STATES, State(name="pit", lane="pit"))
        into = Transition(source=name, to="pit", when="run held and jump released")
        yield f"dead end behind {name}", "state.dead-end", with_way(pit, into)
        out = Transition(source="pit", to="idle", when="stay < 0.05 s and light pressed")
        yield f"trap behind {name}", "state.trap", with_way(with_way(pit, into), out)
        lost = append(SOUND, STATES, State(name="lost", lane="ground"))
        never = Transition(source=name, to="lost", when="speed > 50 and speed < 40")
        yield f"lost state beside {name}", "state.unreachable", with_way(lost, never)
        yield f"contradiction from {name}", "transition.never", with_way(lost, never)
        twin_state = append(SOUND, STATES, State(name="twin", lane="twins"))
        there = Transition(source=name, to="twin", when="run held")
        back = Transition(source="twin", to=name, when="run held")
        yield f"chatter at {name}", "flicker.steady", with_way(with_way(twin_state, back, True), there, True)
        again = Transition(source=name, to=name, when="run held", restart=True)
        yield f"restart of {name}", "flicker.restart", with_way(SOUND, again, True)


def harmless() -> Iterator[tuple[str, Character]]:
    """Label and a character that is as sound as before."""
    for at, name in enumerate(NAMES):
        yield f"{name} renamed", rename(SOUND, Thing("state", name, "base"), f"{name} anew")
        yield f"{name} moved", change(move(SOUND, (*STATES, at), 0), ("layers", 0), start="idle")
    for at, parameter in enumerate(SOUND.parameters):
        if parameter.owner == "game" or parameter.name == "at_lamp":
            yield (
                f"{parameter.name} renamed",
                rename(SOUND, Thing("parameter", parameter.name), f"{parameter.name}_anew"),
            )
        yield f"{parameter.name} moved", move(SOUND, ("parameters", at), 0)
    yield "clips the other way round", put(SOUND, ("clips",), SOUND.clips[::-1])
    yield "lanes the other way round", put(SOUND, ("layers", 0, "lanes"), BASE.lanes[::-1])
    yield "said lane by lane", tamed()


PLANTED = list(planted())
HARMLESS = list(harmless())[::3]


def test_there_are_at_least_a_hundred() -> None:
    assert len(PLANTED) >= 100


@pytest.mark.long(but=5)
@pytest.mark.parametrize(("kind", "character"), [one[1:] for one in PLANTED], ids=[one[0] for one in PLANTED])
def test_a_planted_fault_is_found(kind: str, character: Character) -> None:
    findings = check_character(character).findings
    assert kind in {finding.id for finding in findings}
    assert not [finding for finding in findings if "bug in Lean Step" in finding.sentence]


@pytest.mark.long(but=6)
@pytest.mark.parametrize("character", [one[1] for one in HARMLESS], ids=[one[0] for one in HARMLESS])
def test_a_harmless_change_raises_nothing(character: Character) -> None:
    assert {finding.id for finding in check_character(character).findings} <= KNOWN
