"""Repairs keep their promise: nothing as bad is new, no take that held breaks, and what takes do otherwise is said."""

from __future__ import annotations

import os
import random

import msgspec
import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.repairs.proving import MENDED, repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import SEVERITIES, Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.targets import about
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.takes import recorded, rehearse
from leanstep.core.rehearsal.traces import Trace
from tests.property.test_engine_against_plain import anything
from tests.support.build import sketch, way
from tests.support.cases import case
from tests.support.random_characters import random_character

COUNT = 800 if os.environ.get("LEANSTEP_LONG") else 48
CHUNKS = 4


def with_takes(character: Character, seed: int) -> Character:
    """The character with takes that expect what they show."""
    machine, pick = compile_character(character), random.Random(seed)
    takes = []
    for number in range(2):
        take = recorded(machine, f"take {number}", list(spread(anything(pick, machine, 60), 60)), "free")
        layer = machine.layers[0]
        shown = [layer.states[state] for state in rehearse(machine, take).states(0)]
        never = next((name for name in layer.states if name not in shown and name != layer.states[layer.start]), None)
        expects = [Expectation(what="end-in", name=shown[-1]), Expectation(what="enter", name=pick.choice(shown))]
        expects += [Expectation(what="never-enter", name=never)] if never else []
        takes.append(msgspec.structs.replace(take, expects=tuple(expects)))
    return msgspec.structs.replace(character, takes=tuple(takes))


def bad(character: Character, findings: tuple[Finding, ...], worst: str) -> list[tuple[str, str]]:
    """What is as bad as something, each as often as it is told."""
    most = SEVERITIES.index(worst)
    return sorted((one.id, about(character, one.subject)) for one in findings if SEVERITIES.index(one.severity) <= most)


def traces(character: Character) -> dict[str, Trace]:
    machine = compile_character(character)
    return {take.name: rehearse(machine, take) for take in character.takes}


def kept(character: Character) -> int:
    """How many repairs of a character were looked at; each keeps its promise."""
    memo, done = Memo(), 0
    report = check_character(character, memo=memo)
    played = traces(character)
    for finding in report.findings:
        if finding.id not in MENDED or finding.id.startswith(("sheet.", "frame.", "expectation.")):
            continue
        mended = repair(character, finding, memo=memo)
        if mended is None:
            continue
        done += 1
        after = check_character(mended.character, memo=memo)
        new, old = (
            bad(one, there.findings, finding.severity)
            for one, there in ((mended.character, after), (character, report))
        )
        for one in old:
            if one in new:
                new.remove(one)
        assert not new, (finding.sentence, mended.sentence)
        then = traces(mended.character)
        for take in character.takes:
            was, now = (set(number for number, _ in unmet(one[take.name], take)) for one in (played, then))
            assert now <= was, (take.name, mended.sentence)
            layers = range(len(character.layers))
            if any(played[take.name].states(at) != then[take.name].states(at) for at in layers):
                assert f"{take.name} from tick " in mended.sentence and "otherwise" in mended.sentence
    return done


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_repairs_of_random_characters_keep_their_promise(chunk: int) -> None:
    done = sum(
        kept(with_takes(random_character(seed, rich=seed % 8 < 4), seed)) for seed in range(chunk, COUNT, CHUNKS)
    )
    assert done


def test_a_crossfade_that_holds_off_a_flicker_stays() -> None:
    character = load(case("fade_repair_brings_flicker"))
    finding = next(one for one in check_character(character).findings if one.id == "fade.dissolves")
    assert repair(character, finding) is None


def flickers(*takes: Take) -> Character:
    base = sketch(way("a>b", "speed > 1"), way("b>a", "speed < 2"), states=(State(name="a"), State(name="b")))
    return msgspec.structs.replace(base, takes=takes)


def walk(name: str, speed: float, *expects: Expectation) -> Take:
    return Take(name=name, ticks=30, world="free", changes=(Change(at=0, set={"speed": speed}),), expects=expects)


def test_a_repair_that_would_break_an_expectation_is_not_offered() -> None:
    # every way out of the flicker at 1.5 changes what the take ends in on an odd or an even tick
    character = flickers(walk("t", 1.9, Expectation(what="enter", name="b"), Expectation(what="end-in", name="a")))
    finding = next(one for one in check_character(character).findings if one.id == "flicker.steady")
    mended = repair(character, finding)
    if mended is not None:
        then = traces(mended.character)["t"]
        assert not list(unmet(then, character.takes[0]))


def test_what_takes_do_otherwise_is_said() -> None:
    character = flickers(walk("stroll", 1.5))
    finding = next(one for one in check_character(character).findings if one.id == "flicker.steady")
    mended = repair(character, finding)
    assert mended is not None
    assert "Take stroll from tick 1 on (b instead of a) then goes otherwise." in mended.sentence
