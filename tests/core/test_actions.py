"""The table of actions, and what lets go of one before its clip does."""

from __future__ import annotations

from typing import Any

import pytest

from leanstep.core.character.clips import Strike
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Stick
from leanstep.core.findings.report import check_character
from leanstep.core.formats.html import page
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import Action, LetGo, actions, actions_csv, sentence
from tests.core.test_phases import clip
from tests.support.build import sketch, way

BUTTONS = tuple(Button(name=name, keys=(key,)) for name, key in (("jump", "Space"), ("dash", "X"), ("guard", "C")))
CONTROLS = Controls(buttons=BUTTONS, sticks=(Stick(name="stick"),))


def fencer(*ways: str, **values: Any) -> Machine:
    """A character with a cut of 30 ticks that can hit from 9 to 12, and ways out of it."""
    made = [way("stand>cut", "jump pressed"), *(way("cut>stand", when) for when in ways)]
    states = (State(name="stand"), State(name="cut", clip="cut"))
    one = clip(("active", 9, 13), strike=Strike(stun=24, guard_stun=9), **values)
    return compile_character(sketch(*made, states=states, clips=(one,), controls=CONTROLS))


def only(machine: Machine) -> Action:
    assert not machine.faults
    (found,) = actions(machine)
    return found


def test_the_sentence_says_when_it_can_hit_and_who_is_free_first() -> None:
    found = only(fencer("clip done"))
    assert found.let_go is None and found.states == ((0, 1),)
    assert sentence(found) == (
        "starts in 9, is active for 4, recovers in 17 ticks: plus 3 to plus 6 on hit and minus 12 to minus 9 on guard"
    )


@pytest.mark.parametrize(
    ("ways", "found"),
    [
        (["clip done", "phase recovery and dash pressed"], LetGo(13, 2, True)),
        (["clip done", "dash held and guard held and stay > 15 ticks"], LetGo(16, 2, True)),
        (["clip done", "stick.x < -0.5 and phase recovery"], LetGo(13, 2, True)),
        (["clip done", "stick.bearing between 170 and 190 and guard held"], LetGo(10, 2, True)),
        (["stay >= 20 ticks"], LetGo(20, 1, False)),
        (["clip done", "(dash held) for 3 ticks and stay > 14 ticks"], None),
        (["clip done", "dash pressed and phase startup"], None),
        (["stay >= 5 ticks"], None),
        (["clip done", "hurt"], None),
        (["clip done", "speed > 3"], None),
    ],
)
def test_what_lets_go_of_it_earlier_is_found(ways: list[str], found: LetGo | None) -> None:
    assert only(fencer(*ways)).let_go == found


def test_where_it_is_let_go_earlier_both_figures_are_told() -> None:
    found = only(fencer("clip done", "phase recovery and dash pressed"))
    assert sentence(found).endswith(
        "minus 12 to minus 9 on guard; let go after 13: plus 20 to plus 23 on hit and plus 5 to plus 8 on guard"
    )
    assert found.advantages(24) == (3, 6) and found.advantages(24, let_go=True) == (20, 23)


def test_a_way_out_while_it_is_active_counts_for_contact_before_it() -> None:
    found = only(fencer("clip done", "dash pressed"))
    # let go on tick 10, so that only tick 9 hits before it
    assert found.let_go == LetGo(10, 2, True) and found.advantages(24, let_go=True) == (23, 23)


def test_the_table_has_a_line_for_each_action() -> None:
    text = actions_csv(fencer("clip done", "phase recovery and dash pressed"))
    assert text.splitlines() == [
        "clip,shown by,starts in,active for,recovers in,on hit,on guard,let go after,on hit if let go,on guard if let go",
        "cut,cut,9,4,17,3,-12,13,20,5",
    ]
    assert actions_csv(compile_character(sketch())).count("\n") == 1


def test_an_action_that_is_played_again_and_again_says_so() -> None:
    found = only(fencer("dash pressed", loop="repeat"))
    assert sentence(found) == "starts in 9, is active for 4 ticks, and is played again and again"
    assert found.row(fencer("dash pressed", loop="repeat"))[4:7] == (None, None, None)


def test_the_page_of_a_check_has_the_table() -> None:
    machine = fencer("clip done")
    text = page(machine.character, check_character(machine.character))
    assert "<h2>Actions</h2>" in text and "<td>-12</td>" in text
    assert "Actions" not in page(sketch(), check_character(sketch()))
