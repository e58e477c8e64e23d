"""What is called shown is shown by its take, for as long as the sentence says; what is undecided has none."""

from __future__ import annotations

import os
import random

import msgspec
import pytest

from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip, Playback
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import way
from tests.support.cases import case
from tests.support.random_characters import random_character

COUNT = 1000 if os.environ.get("LEANSTEP_LONG") else 60
CHUNKS = 4
LATER = 200
"""Ticks for which a flicker is looked at after its take."""


def unfollowed(seed: int) -> Character:
    """A random character some of whose states show what a proof does not follow: other lengths by pick, other rates by a number."""
    character, pick = random_character(seed, rich=True), random.Random(f"{seed} unfollowed")
    numbers = [one.name for one in character.parameters if one.kind in ("number", "whole") and one.owner == "game"]
    if not numbers:
        return character
    cels = [tuple(Cel(frame=0, ticks=ticks) for _ in range(2)) for ticks in (1, 2, 3)]
    clips = tuple(Clip(name=f"pace {at}", sheet="art", cels=each) for at, each in enumerate(cels))
    slow = Clip(name="slow", sheet="art", cels=cels[1], playback=Playback(parameter=numbers[0], at=2, min=0))
    samples = tuple(
        Sample(at=(float(at * 2),), clip=one.name, phase=pick.choice([0, 0.5]), mirrored=pick.random() < 0.2)
        for at, one in enumerate(clips)
    )
    blend = BlendSpace(
        name="paces",
        sticky=pick.choice([0, 0, 0.3]),
        axes=(Axis(parameter=numbers[0], min=0, max=4),),
        samples=samples,
    )
    layers = []
    for layer in character.layers:
        states = []
        for one in layer.states:
            how = pick.choice(["blend", "clip", "", ""])
            shown = {"blend": "paces", "clip": ""} if how == "blend" else {"clip": "slow", "blend": ""} if how else {}
            states.append(msgspec.structs.replace(one, **shown))
        layers.append(msgspec.structs.replace(layer, states=tuple(states)))
    return msgspec.structs.replace(
        character,
        clips=(*character.clips, *clips, slow),
        blends=(*character.blends, blend),
        layers=tuple(layers),
    )


def wrong(machine: Machine, finding: Finding) -> str:
    """What a finding says that its take does not show; empty where it shows all of it."""
    if finding.verdict == "undecided":
        return "a take of what is undecided" if finding.witness is not None else ""
    if finding.verdict == "shown" and finding.witness is None:
        return "nothing is shown"
    if finding.witness is None or "layer" not in finding.details:
        return ""
    layer = [one.name for one in machine.layers].index(finding.details["layer"])
    names = machine.layers[layer].states
    take = finding.witness
    if finding.id in ("flicker.steady", "flicker.restart"):
        trace = rehearse(machine, msgspec.structs.replace(take, ticks=take.ticks + LATER))
        wanted = set(finding.details.get("states") or [finding.details["state"]])
        runs = [run for run in trace.ribbon(layer) if run.end > take.ticks]
        if {names[run.state] for run in runs[1:]} != wanted:
            return f"later it is in {[names[run.state] for run in runs[:9]]}"
        if any(run.end - run.start >= machine.window for run in runs[1:-1]):
            return "it stays for longer than the window"
    if finding.id == "flash":
        trace = rehearse(machine, take)
        left = trace.steps[len(trace.steps) - 1].fired[layer]
        before = trace.steps[len(trace.steps) - 2].situation.states[layer]
        ways = {way.index: way for way in machine.layers[layer].ways[before]}
        if names[before] != finding.details["state"] or ways[left].urgent:
            return "it is not left by an ordinary transition"
    return ""


@pytest.mark.long(but=2)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_takes_show_what_is_said(chunk: int) -> None:
    for seed in range(chunk, COUNT, CHUNKS):
        for character in (unfollowed(seed), random_character(seed, rich=True)):
            machine = compile_character(character)
            for finding in check_character(character).findings:
                assert not wrong(machine, finding), (seed, finding.id, finding.sentence, wrong(machine, finding))


def findings(name: str) -> tuple[Machine, dict[str, Finding]]:
    character = load(case(name))
    return compile_character(character), {one.id: one for one in check_character(character).findings}


def test_a_flicker_that_ends_when_the_pick_has_changed_is_not_shown() -> None:
    _, found = findings("steady_shown_but_not_for_ever")
    assert found["flicker.steady"].verdict == "undecided"
    assert found["flicker.steady"].witness is None


def test_a_flash_is_left_by_an_ordinary_transition() -> None:
    machine, found = findings("flash_take_leaves_urgently")
    assert found["flash"].witness is not None
    assert not wrong(machine, found["flash"])


def test_two_samples_that_look_the_same_do_not_flicker() -> None:
    character = load(case("steady_shown_but_not_for_ever"))

    def paired(**second: object) -> list[Finding]:
        samples = (Sample(at=(0.0,), clip="long"), msgspec.structs.replace(Sample(at=(2.0,), clip="long"), **second))
        blends = (msgspec.structs.replace(character.blends[0], samples=samples),)
        report = check_character(msgspec.structs.replace(character, blends=blends))
        return [one for one in report.findings if one.id == "flicker.pick"]

    assert not paired()
    for other in ({"mirrored": True}, {"phase": 0.5}, {"clip": "short"}):
        (one,) = paired(**other)
        # the state is left after a tick
        assert one.verdict == "undecided" and one.witness is None


def test_a_flickering_pick_has_its_take() -> None:
    character = load(case("steady_shown_but_not_for_ever"))
    samples = (Sample(at=(0.0,), clip="long"), Sample(at=(4.0,), clip="short"))
    layer = character.layers[0]
    ways = (way("a>b", "clip at 0.9 and v > 6"), way("b>a", "v < 2"))
    calm = msgspec.structs.replace(layer, states=layer.states[:2], transitions=ways)
    changed = msgspec.structs.replace(
        character, blends=(msgspec.structs.replace(character.blends[0], samples=samples),), layers=(calm,)
    )
    (one,) = (each for each in check_character(changed).findings if each.id == "flicker.pick")
    assert one.verdict == "shown" and one.witness is not None
    trace = rehearse(compile_character(changed), one.witness)
    last = [trace.after(len(trace.steps) - back).picks[0] for back in (2, 1, 0)]
    assert last[0] == last[2] != last[1]
