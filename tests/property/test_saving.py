"""Whatever is written says exactly what was read."""

from __future__ import annotations

import copy
import os
import random
from collections.abc import Iterator
from functools import cache, partial
from typing import Any

import msgspec
import pytest

from leanstep.core.character import files
from leanstep.core.character.clips import Effect
from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.effect_text import read_effects
from leanstep.core.graph.machine import Machine
from leanstep.core.naming.differences import differences
from leanstep.core.rehearsal.takes import rehearse, trace_csv
from tests.support.build import DEMO
from tests.support.cases import case
from tests.support.documents import ROOT, WHOLE, all_fields, put, slots
from tests.support.random_characters import random_character

COUNT = 6000 if os.environ.get("LEANSTEP_LONG") else 80
CHUNKS = 4
TRIES = 400
"""Values tried until one of a field opens."""


def played(character: Character) -> str:
    """What a character does in a few takes, in which everything may happen."""
    take = Take(name="for saving", ticks=40)
    first = [one for one in character.takes if one.ticks <= 400][:2]
    machine = compile_character(character)
    return "".join(map(partial(_played, machine), (take, *first)))


def _played(machine: Machine, take: Take) -> str:
    try:
        return trace_csv(rehearse(machine, take))
    except LeanStepError as error:
        return str(error)


def assert_kept(character: Character, plays: bool = True) -> None:
    """Written and read it is the same: the document, what it does, and its bytes the second time."""
    data = files.dump(character)
    again = files.parse(data)
    assert again == character
    assert files.dump(again) == data
    assert not differences(character, again)
    if plays:
        assert played(again) == played(character)


@cache
def bases() -> list[dict[str, Any]]:
    demos = [files.plain(files.load(DEMO / f"{name}.leanstep")) for name in ("lamplighter", "ferry-hand")]
    return [*demos, *(files.plain(random_character(seed, rich=True)) for seed in range(12)), *[WHOLE] * 4]


def changed(pick: random.Random, times: int) -> Character | None:
    """A document with some of its fields exchanged; None when that does not open."""
    raw = copy.deepcopy(pick.choice(bases()))
    for _ in range(times):
        put(pick, pick.choice([*slots(raw, ROOT)]))
    return opened(raw)


def opened(raw: dict[str, Any]) -> Character | None:
    try:
        return files.parse(msgspec.json.encode(raw))
    except LeanStepError:
        return None


@pytest.mark.long(but=2)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_what_is_written_is_what_was_read(chunk: int) -> None:
    done = 0
    for seed in range(chunk, COUNT * 20, CHUNKS):
        pick = random.Random(seed)
        character = changed(pick, pick.choice([1, 1, 2, 4]))
        if character is not None:
            assert_kept(character, plays=seed % 3 == 0)
            done += 1
        if done >= COUNT // CHUNKS:
            break
    assert done >= COUNT // CHUNKS


def filled(pick: random.Random, place: tuple[str, str]) -> Iterator[Character]:
    """Documents that open, with something in one field."""
    struct = place[0]
    for _ in range(TRIES):
        raw = copy.deepcopy(WHOLE)
        there = [one for one in slots(raw, ROOT)]
        fitting = [one for one in there if one[:2] == place]
        if not fitting:
            # something that has the field has to be put there first
            put(pick, pick.choice([one for one in there if _holds(one[3], struct)] or there))
            fitting = [one for one in slots(raw, ROOT) if one[:2] == place]
        if fitting:
            put(pick, pick.choice(fitting))
            character = opened(raw)
            if character is not None:
                yield character


def _holds(kind: Any, struct: str) -> bool:
    kinds = [kind, *getattr(kind, "types", ()), getattr(kind, "item_type", None)]
    return any(getattr(getattr(one, "cls", None), "__name__", "") == struct for one in kinds)


@pytest.mark.long(but=78)
@pytest.mark.parametrize("place", sorted(all_fields()), ids=".".join)
def test_every_field_is_written_as_it_was_read(place: tuple[str, str]) -> None:
    character = next(filled(random.Random(".".join(place)), place), None)
    assert character is not None, f"nothing that was tried for {place} opens"
    assert_kept(character, plays=place[0] in ("Effect", "State", "Transition", "Given"))


def test_one_is_not_left_out_as_if_it_were_true() -> None:
    character = files.load(case("add_one_lost_on_save"))
    assert b'"value": 1' in files.dump(character)
    assert_kept(character)


def test_one_and_true_are_told_apart_and_said() -> None:
    one = files.load(case("add_one_lost_on_save"))
    effect = Effect(do="add", name="count")
    state = msgspec.structs.replace(one.layers[0].states[0], on_entry=(effect,))
    layer = msgspec.structs.replace(one.layers[0], states=(state, *one.layers[0].states[1:]))
    other = msgspec.structs.replace(one, layers=(layer,))
    assert one != other
    assert differences(one, other)


def test_what_is_no_number_is_not_taken_for_one() -> None:
    for text in ("set count to nan", "add inf to count", "push 1e999"):
        with pytest.raises(LeanStepError):
            read_effects(text)
