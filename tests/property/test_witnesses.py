"""Witnesses replay, are as short as they say, and hold nothing that is not needed."""

from __future__ import annotations

import os
from collections.abc import Iterator

import msgspec
import pytest

from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.evaluation import Moment, decide
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.verdicts.flicker import flickers
from leanstep.core.proof.witness.building import entering, flickering
from leanstep.core.proof.witness.shrinking import witness_of
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Work
from tests.support.random_characters import counting_character, mixed_character, random_character, slow_character

COUNT = int(os.environ.get("LEANSTEP_WITNESSES", "800"))
"""Random characters all of whose witnesses are replayed."""

CHUNKS = 8

MAKERS = [random_character] * 5 + [mixed_character, slow_character, counting_character]


def reaches(machine: Machine) -> Iterator[tuple[Reach, tuple[int, ...]]]:
    """What every slice can reach, and the layers it is asked about; nothing where no tick may follow."""
    for part, layers in slices(machine):
        reach = explore(FreeWorld(part), Work(3000))
        if reach.stuck < 0:
            yield reach, layers


def last_states(machine: Machine, take: Take) -> tuple[int, ...] | None:
    """The states a take ends in; None when it breaks an assumption on the way."""
    trace = rehearse(machine, take)
    for step in trace.steps:
        moment = Moment(list(step.situation.values))
        if not all(decide(assumption, moment) for assumption in machine.assumptions):
            return None
    return trace.steps[-1].situation.states if trace.steps else trace.first.states


def without_each_change(take: Take) -> list[Take]:
    """The take with one change left out, once for each."""
    found = []
    for at, change in enumerate(take.changes):
        for name in change.set:
            values = {key: value for key, value in change.set.items() if key != name}
            changed = Change(at=change.at, set=values)
            changes = (*take.changes[:at], changed, *take.changes[at + 1 :])
            found.append(msgspec.structs.replace(take, changes=changes))
    return found


@pytest.mark.parametrize("seed", range(80))
def test_the_way_to_every_state_is_shortest_and_needs_each_of_its_changes(seed: int) -> None:
    machine = compile_character(random_character(seed))
    asked = [(reach, key, place) for reach, _ in reaches(machine) for key, place in reach.entered.items()]
    for reach, (layer, state), place in asked[:6]:
        witness = witness_of(reach, entering(reach, layer, state))
        assert witness.replays
        assert witness.take.ticks == reach.depths[place]
        states = last_states(machine, witness.take)
        assert states is not None and states[layer] == state
        for less in without_each_change(witness.take):
            fewer = last_states(machine, less)
            kept = fewer is not None and fewer[layer] == state
            later = any(
                change.at > at and name in change.set
                for at, name in [(one.at, key) for one in witness.take.changes for key in one.set]
                for change in witness.take.changes
            )
            assert not kept or later, less.changes


@pytest.mark.parametrize("seed", range(0, 200, 2))
def test_a_flicker_witness_goes_once_round(seed: int) -> None:
    machine = compile_character(random_character(seed))
    shown = [(reach, flicker) for reach, layers in reaches(machine) for flicker in flickers(reach, layers).found]
    for reach, flicker in shown[:5]:
        witness = witness_of(reach, flickering(reach, flicker))
        assert witness.replays and witness.take.ticks == flicker.ticks
        steps = rehearse(machine, witness.take).steps[-flicker.lap :]
        assert {step.situation.states[flicker.layer] for step in steps} == flicker.states
        free = [index for index, symbol in enumerate(machine.symbols) if symbol.free]
        assert len({tuple(step.situation.values[index] for index in free) for step in steps}) == 1
        entries = [at for at, step in enumerate(steps) if step.fired[flicker.layer] >= 0]
        gaps = [after - before for before, after in zip(entries, [*entries[1:], entries[0] + flicker.lap], strict=True)]
        assert all(gap < machine.window for gap in gaps)


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_every_witness_of_a_report_shows_what_it_should(chunk: int) -> None:
    replayed = 0
    for seed in range(chunk, COUNT, CHUNKS):
        findings = check_character(MAKERS[seed // CHUNKS % len(MAKERS)](seed)).findings
        replayed += sum(finding.witness is not None for finding in findings)
        assert not [finding.sentence for finding in findings if "does not replay" in finding.sentence], f"seed {seed}"
    assert replayed > COUNT / CHUNKS
