"""What decides what follows: where it is the same again, the same follows."""

from __future__ import annotations

from pathlib import Path

import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.laps import essence
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from tests.support.build import sketch, way

DEMOS = sorted((Path(__file__).parents[2] / "demo").glob("*.leanstep"))
WAITING = sketch(way("a>b", "stay >= 1 s"), way("b>a", "stay = 2 s"))


def first_lap(character: Character, ticks: int = 1500) -> tuple[list[Situation], int, int]:
    """What happens with nothing held, and from which tick to which it is the same again."""
    machine = compile_character(character)
    stepper = Stepper(machine)
    found, known = [stepper.first()], dict[object, int]()
    begin = end = 0
    for tick in range(ticks):
        found.append(stepper.step(found[-1], {}).situation)
        before = known.setdefault(essence(machine, found[-1]), tick + 1)
        if before <= tick and not end:
            begin, end = before, tick + 1
    return found, begin, end


@pytest.mark.long(but=8)
@pytest.mark.parametrize("character", [*(load(path) for path in DEMOS), WAITING], ids=lambda one: one.name or "waiting")
def test_after_the_same_the_same_follows(character: Character) -> None:
    found, begin, end = first_lap(character)
    machine = compile_character(character)
    assert end
    for one, other in zip(found[begin:], found[end:]):
        assert essence(machine, one) == essence(machine, other)


def test_a_stay_that_something_waits_for_is_told_apart() -> None:
    found, begin, end = first_lap(WAITING)
    assert end - begin > 120 and len({one.states for one in found[begin:end]}) == 2
