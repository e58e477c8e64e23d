"""Whatever is renamed, to whatever name: every trace and every verdict stays the same, and renaming back restores the bytes."""

from __future__ import annotations

import os
import random
from collections import Counter

import msgspec
import pytest

from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Effect, Playback
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change
from leanstep.core.character.files import dump
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.names import SYMBOLS
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.printing import text_of
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing, things
from leanstep.core.naming.renaming import rename, rename_fault
from leanstep.core.rehearsal.takes import rehearse
from tests.support.random_characters import random_character

COUNT = int(os.environ.get("LEANSTEP_RENAMED", "24"))
"""Random characters whose things are renamed."""

WORDS = ["s", "ms", "done", "ticks", "tick", "x", "e1", "_", "In", "clip_at", "x" * 80, "and_", "l0"]
TEXTS = [
    "Ärger",
    "two words",
    "a.b",
    "in",
    "-x",
    "1 s",
    "clip done",
    "not (a)",
    "s.x",
    "'",
    "<b>",
    "speed",
    "s0 s1",
    "…",
]
"""Awkward names, of things conditions name without quotes and of others."""


def dressed(seed: int) -> Character:
    """A random character with takes, expectations, a blend space, playback and locks."""
    pick = random.Random(seed)
    character = random_character(seed)
    numbers = [one for one in character.parameters if one.kind == "number" and one.owner != "formula"]
    for at in range(len(character.layers)):
        names = [state.name for state in character.layers[at].states]
        path = ("layers", at, "states", pick.randrange(len(names)))
        lock = Effect(do=pick.choice(["lock", "unlock"]), name="hold")
        character = change(character, path, on_leave=(lock,), expects=f"in {character.layers[at].name}.{names[0]}")
    if numbers:
        blend = BlendSpace(
            name="gait",
            axes=(Axis(parameter=numbers[0].name, min=-4, max=4),),
            samples=(Sample(at=(0.0,), clip="swing"), Sample(at=(2.0,), clip="sway")),
        )
        character = change(append(character, ("blends",), blend), ("layers", 0, "states", 0), blend="gait", clip="")
        character = change(character, ("clips", 0), playback=Playback(parameter=numbers[0].name))
        haste = Parameter(name="limit_ignored", kind="flag", owner="formula", formula=f"{numbers[0].name} > 1")
        character = append(character, ("parameters",), haste)
    changes = tuple(Change(at=tick, set=set_at_random(character, pick)) for tick in range(0, 40, 4))
    layer = character.layers[0]
    expects = (Expectation(what="enter", name=layer.states[0].name, layer=pick.choice(["", layer.name])),)
    character = append(character, ("takes",), Take(name="t", ticks=44, world="free", changes=changes, expects=expects))
    return append(character, ("sheets",), Sheet(name="art"))


def set_at_random(character: Character, pick: random.Random) -> dict[str, float | bool | str]:
    """Values for some of what comes from outside."""
    values: dict[str, float | bool | str] = {one.name: pick.random() < 0.5 for one in character.controls.buttons}
    for one in character.parameters:
        if one.owner in ("graph", "formula"):
            continue
        if one.kind in ("flag", "pulse"):
            values[one.name] = pick.random() < 0.5
        else:
            values[one.name] = pick.choice(one.choices) if one.choices else float(pick.randint(0, 2))
    return values


def trace_of(character: Character) -> list[object]:
    """All that a take of the character does, without names."""
    trace = rehearse(compile_character(character), character.takes[0])
    choices = {choice: at for one in character.parameters for at, choice in enumerate(one.choices)}
    return [
        (
            msgspec.structs.astuple(one) if isinstance(one, msgspec.Struct) else one.situation.states,
            one.situation.stays,
            one.situation.playheads,
            one.situation.picks,
            tuple(choices.get(value, -1) if isinstance(value, str) else value for value in one.situation.values),
            one.situation.locks,
            one.fired,
            len(one.marks),
        )
        for one in trace.steps
    ]


def verdicts_of(character: Character) -> tuple[object, ...]:
    """All that a check of the character says, without names and sentences."""
    report = check_character(character)
    found = Counter(
        (one.id, one.severity, one.verdict, one.world, one.witness.ticks if one.witness else -1)
        for one in report.findings
    )
    return found, [(one.free, one.ticks) for one in report.states], report.complete


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(4))
def test_a_renamed_character_does_and_is_the_same(chunk: int) -> None:
    for seed in range(chunk, COUNT, 4):
        character, pick = dressed(seed), random.Random(seed)
        trace, verdicts, bytes_before = trace_of(character), verdicts_of(character), dump(character)
        renamed = character
        for thing in things(character):
            name = pick.choice(WORDS if thing.kind in (*SYMBOLS, "choice", "span") else TEXTS)
            if rename_fault(character, thing, name) is None:
                back = rename(rename(character, thing, name), Thing(thing.kind, name, thing.within), thing.name)
                assert dump(back) == bytes_before, (seed, thing, name)
            owner = next((one for one in _followed(character, renamed, thing)), None)
            if owner is not None and rename_fault(renamed, owner, name) is None:
                renamed = rename(renamed, owner, name)
        assert trace_of(renamed) == trace, seed
        assert verdicts_of(renamed) == verdicts, seed


def _followed(before: Character, now: Character, thing: Thing) -> list[Thing]:
    """What a thing is called by now: it stands at the same place among the things of its kind."""
    return [two for one, two in zip(things(before), things(now), strict=True) if one == thing]


@pytest.mark.parametrize("seed", range(200))
def test_what_is_printed_is_read_back_the_same(seed: int) -> None:
    for layer in dressed(seed).layers:
        for one in layer.transitions:
            assert parse(text_of(parse(one.when))) == parse(one.when)
