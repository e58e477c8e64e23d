"""The order of a tick and what words mean, where engines, proof and documents could differ."""

from __future__ import annotations

from pathlib import Path

import pytest

from leanstep.core.character.files import load
from leanstep.core.character.inputs import Parameter
from leanstep.core.findings.report import check_character
from leanstep.core.formats.golden import inputs_of
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.step_trace import StepTrace
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import changes_of, rehearse, trace_rows
from leanstep.core.rehearsal.traces import Trace
from tests.property.test_players import LANGUAGES, put
from tests.property.test_players import agree as players_agree
from tests.property.test_players import compiled as compiled
from tests.property.test_scxml import Played, add
from tests.property.test_scxml import agree as interpreter_agrees
from tests.support.build import sketch, way
from tests.support.cases import case

CASES = ("held_flag_set_on_entry", "clip_done_after_pick_change", "resting_frame_in_trace")


def machine_of(name: str) -> Machine:
    return compile_character(load(case(name)))


def columns(trace: Trace, *names: str) -> list[tuple[object, ...]]:
    return [tuple(row[name] for name in names) for row in trace_rows(trace)]


def both(name: str, *names: str) -> list[tuple[object, ...]]:
    """Columns of a case's take; the plain engine shows what the compiled one does."""
    machine = machine_of(name)
    take = machine.character.takes[0]
    fast = rehearse(machine, take)
    plain = StepTrace(Stepper(machine, free=True), start=None)
    for _ in plain.play(changes_of(machine, take), take.ticks):
        pass
    found = columns(fast, *names)
    assert columns(Trace(machine, fast.first, plain), *names) == found
    return found


def test_a_held_flag_goes_off_before_effects_of_entry() -> None:
    assert both("held_flag_set_on_entry", "base", "sharp")[1:3] == [("guard", True), ("safe", True)]
    found = check_character(machine_of("held_flag_set_on_entry").character).findings
    assert "state.unreachable" not in {one.id for one in found}


def test_clip_done_is_about_the_clip_that_is_shown() -> None:
    shown = both("clip_done_after_pick_change", "base", "base clip", "base sample")
    assert shown[3:6] == [("go", "walk", 0), ("go", "fall", 1), ("go", "fall", 1)]
    assert [row[0] for row in shown].index("down") == 10


def test_a_resting_cel_is_seen_in_traces() -> None:
    shown = both("resting_frame_in_trace", "base cel", "over clip", "over cel")
    assert shown == [
        (2, "puff", 1),
        (0, "puff", 0),
        *[(1, None, None)] * 2,
        *[(0, None, None)] * 2,
        *[(2, "puff", 1)] * 2,
    ]


@pytest.mark.long(but=1)
@pytest.mark.parametrize("language", LANGUAGES)
def test_players_mean_the_same(language: str, tmp_path: Path, compiled: object) -> None:
    pairs = []
    for number, name in enumerate(CASES):
        machine = machine_of(name)
        pairs.append(put(tmp_path, number, machine, inputs_of(rehearse(machine, machine.character.takes[0]))))
    players_agree(language, compiled, pairs)  # type: ignore[arg-type]


@pytest.mark.long
def test_an_interpreter_of_scxml_means_the_same(tmp_path: Path) -> None:
    played: Played = []
    for name in CASES:
        machine = machine_of(name)
        add(played, tmp_path, machine, inputs_of(rehearse(machine, machine.character.takes[0])))
    interpreter_agrees(played)


@pytest.mark.parametrize("ends", ["0 and 360", "360 and 0", "90 and 450", "-10 and 350", "0 and 720"])
def test_a_whole_circle_that_holds_one_direction_warns(ends: str) -> None:
    heading = (Parameter(name="heading", kind="bearing"),)
    character = sketch(way("a>b", f"heading between {ends}"), way("b>a", "stay > 1 s"), parameters=heading)
    (found,) = (one for one in check_character(character).findings if one.id == "value.impossible")
    assert found.severity == "warning" and "the same direction" in found.sentence


def test_an_arc_does_not_warn() -> None:
    heading = (Parameter(name="heading", kind="bearing"),)
    character = sketch(way("a>b", "heading between 315 and 45"), way("b>a", "stay > 1 s"), parameters=heading)
    assert "value.impossible" not in {one.id for one in check_character(character).findings}
