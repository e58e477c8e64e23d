"""The proof says of random characters what trying everything says."""

from __future__ import annotations

import os

import pytest

from leanstep.core.findings.report import check_character
from leanstep.core.graph.machine import compile_character
from leanstep.core.proof import verdicts
from leanstep.core.proof.flicker import flickers
from leanstep.core.proof.search import explore
from tests.support.plain import enumerate_verdicts
from tests.support.random_characters import random_character

COUNT = int(os.environ.get("LEANSTEP_RANDOM", "240"))
CHUNKS = 12


def compare(seed: int) -> bool:
    """Hold one character's verdicts against enumeration; False when it is too large to enumerate."""
    character = random_character(seed)
    machine = compile_character(character)
    plain = enumerate_verdicts(machine, 1500)
    if plain is None:
        return False
    reach = explore(machine)
    assert reach.complete
    assert {key: reach.depths[place] for key, place in reach.entered.items()} == plain.depths
    layers = range(len(machine.layers))
    assert {(layer, closed) for layer in layers for closed in verdicts.closed_sets(reach, layer)} == plain.dead_ends
    assert {(layer, state) for layer in layers for state in verdicts.traps(reach, layer)} == plain.traps
    idle = verdicts.idle_transitions(reach)
    assert {(one.layer, one.transition) for one in idle if one.kind == "shadowed"} == plain.shadowed
    assert {(one.layer, one.transition) for one in idle if one.kind != "shadowed"} == plain.never
    assert {(one.layer, one.states) for one in flickers(reach).found} == plain.flickers
    report = check_character(character)
    assert not [finding for finding in report.findings if "bug in Lean Step" in finding.sentence]
    return True


@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_verdicts_agree_with_plain_enumeration(chunk: int) -> None:
    done = 0
    for seed in range(chunk, COUNT, CHUNKS):
        try:
            done += compare(seed)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
    assert done >= COUNT // CHUNKS * 0.6
