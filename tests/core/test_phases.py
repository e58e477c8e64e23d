"""Phases: where they lie, how an action is timed, and who is free first."""

from __future__ import annotations

from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.character.clips import Cel, Clip, Phase, Playback, Strike
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, parse
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.clips.events import with_cels
from leanstep.core.clips.phases import laid_phases, timed, with_active, with_phase
from leanstep.core.clips.timing import TICK
from leanstep.core.conditions.grammar import parse as read
from leanstep.core.conditions.printing import text_of
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.stepping import Stepper
from tests.support.build import sketch, way


def clip(*phases: tuple[Any, ...], ticks: tuple[float, ...] = (9, 4, 17), **values: Any) -> Clip:
    """A clip of cels of so many ticks; phases as (kind, from, to)."""
    cels = tuple(Cel(frame=at, ticks=one) for at, one in enumerate(ticks))
    made = tuple(Phase(kind=kind, start=start, end=end) for kind, start, end in phases)
    return Clip(name="cut", cels=cels, phases=made, **({"loop": "once"} | values))


def laid(one: Clip) -> list[tuple[str, float, float]]:
    return [(part.kind, part.start / TICK, part.end / TICK) for part in laid_phases(one)]


def test_what_is_not_written_is_startup_before_and_recovery_after() -> None:
    assert laid(clip(("active", 9, 13))) == [("startup", 0, 9), ("active", 9, 13), ("recovery", 13, 30)]
    assert laid(clip(("active", 0, 13))) == [("active", 0, 13), ("recovery", 13, 30)]
    assert laid(clip(("active", 20, 90))) == [("startup", 0, 20), ("active", 20, 30)]
    assert laid(clip(("startup", 3, 9))) == [] and laid(clip()) == []


def test_between_two_active_ones_is_what_is_written() -> None:
    one = clip(("active", 4, 6), ("startup", 8, 10), ("active", 10, 12), ("recovery", 1, 3))
    assert laid(one) == [
        ("startup", 0, 4),
        ("active", 4, 6),
        ("recovery", 6, 8),
        ("startup", 8, 10),
        ("active", 10, 12),
        ("recovery", 12, 30),
    ]


CASES = [
    # phases and cels, units a tick as a share, (windows, free), stun, (advantage of the first and of the last active tick)
    (clip(("active", 9, 13)), 1.0, (((9, 13),), 30), 24, (3, 6)),
    (clip(("active", 9, 13)), 1.0, (((9, 13),), 30), 0, (-20, -17)),
    (clip(("active", 9, 13)), 1.0, (((9, 13),), 30), 1, (-20, -17)),
    (clip(("active", 9, 13)), 1.0, (((9, 13),), 30), 2, (-19, -16)),
    (clip(("active", 9, 13)), 2.0, (((5, 7),), 15), 24, (14, 15)),
    (clip(("active", 9, 13)), 0.5, (((18, 26),), 60), 24, (-18, -11)),
    (clip(("active", 9, 13)), 0.75, (((12, 18),), 40), 12, (-16, -11)),
    (clip(("active", 4, 6), ("active", 10, 12)), 1.0, (((4, 6), (10, 12)), 30), 20, (-6, 1)),
    (clip(("active", 4, 6), ("active", 6, 8)), 1.0, (((4, 8),), 30), 20, (-6, -3)),
    (clip(("active", 0, 1), ticks=(1,)), 1.0, (((0, 1),), 1), 5, (4, 4)),
    (clip(("active", 2.5, 3.5), ticks=(2.5, 1.0, 2.75)), 1.0, (((3, 4),), 7), 3, (-1, -1)),
    (clip(("active", 4, 5), ("active", 9, 13)), 4.0, (((1, 2), (3, 4)), 8), 8, (1, 3)),
    (clip(("active", 5, 6), ("active", 9, 13)), 4.0, (((3, 4),), 8), 8, (3, 3)),
]


@pytest.mark.parametrize(("one", "rate", "when", "stun", "advantages"), CASES)
def test_actions_are_timed_and_weighed(
    one: Clip, rate: float, when: tuple[Any, int], stun: int, advantages: tuple[int, int]
) -> None:
    found = timed(one, int(rate * TICK))
    assert found is not None and (found.active, found.free) == when
    assert (found.advantage(found.starts_in, stun), found.advantage(found.last, stun)) == advantages
    assert found.recovers_in == when[1] - 1 - found.last


@pytest.mark.parametrize(
    ("end", "stun", "freeze", "advantage"),
    # free on tick 30 or, where the last active tick is the clip's last, on the tick after it
    [(13, 24, 0, 3), (13, 24, 8, 3), (13, 1, 8, -28), (30, 24, 8, 3), (30, 0, 8, -28)],
)
def test_a_freeze_holds_both_who_are_not_free_by_then(end: int, stun: int, freeze: int, advantage: int) -> None:
    found = timed(clip(("active", 9, end)))
    assert found is not None and found.advantage(9, stun, freeze) == advantage
    if end == 30:
        # the acting one is free before the freeze begins
        assert found.advantage(29, 24, freeze) == 23 + freeze


@pytest.mark.parametrize("loop", ["repeat", "there-and-back"])
def test_an_action_that_is_played_again_and_again_is_never_free(loop: str) -> None:
    found = timed(clip(("active", 9, 13), loop=loop))
    assert found is not None and found.free is None
    assert found.recovers_in is None and found.advantage(9, 10) is None


def test_an_action_without_a_tick_on_which_it_can_hit_is_not_timed() -> None:
    assert timed(clip(("active", 9.25, 9.75))) is None and timed(clip()) is None
    assert timed(clip(("active", 9, 13)), 0) is None


def test_phases_are_asked_for_by_conditions() -> None:
    ways = (way("a>b", "jump pressed"), way("b>a", "phase recovery and jump pressed"))
    states = (State(name="a"), State(name="b", clip="cut"))
    document = sketch(*ways, states=states, clips=(clip(("active", 2, 4), ticks=(8,)),))
    machine = compile_character(document)
    assert not machine.faults
    stepper, jump = Stepper(machine, free=True), machine.index["jump"]
    now = stepper.first()
    told = []
    for tick in range(9):
        now = stepper.step(now, {jump: tick in (0, 2, 5)}).situation
        told.append(now.states[0])
    # pressed on tick 2 it is still startup or active; on tick 5 it recovers
    assert told == [1, 1, 1, 1, 1, 0, 0, 0, 0]
    assert text_of(read("phase   active  and jump pressed")) == "phase active and jump pressed"


def test_a_parameter_may_be_called_phase() -> None:
    ways = (way("a>b", "phase > 3 and not phase < 1"), way("b>a", "phase\n<1"))
    document = sketch(*ways, parameters=(Parameter(name="phase", min=0, max=8),))
    assert not compile_character(document).faults


def test_asking_for_phases_nobody_has_is_a_fault() -> None:
    machine = compile_character(sketch(way("a>b", "phase active")))
    assert [fault.fault.reason for fault in machine.faults] == ["no clip has an active phase"]


def test_phases_stay_with_their_cels() -> None:
    one = clip(("active", 9, 13))
    later = with_cels(one, (one.cels[1], one.cels[0], one.cels[2]), (1, 0, 2))
    assert laid(later) == [("active", 0, 4), ("recovery", 4, 30)]
    longer = with_cels(one, (one.cels[0], replace(one.cels[1], ticks=8), one.cels[2]), (0, 1, 2))
    assert laid(longer)[1] == ("active", 9, 17)
    both = clip(("active", 0, 9), ("active", 9, 13))
    assert [(part.start, part.end) for part in with_cels(both, both.cels[1:], (1, 2)).phases] == [(0, 1), (1, 4)]


def test_a_window_drawn_over_others_takes_their_place() -> None:
    one = clip(("active", 4, 8), ("startup", 10, 14))
    assert laid(with_active(one, 6, 12)) == [
        ("startup", 0, 4),
        ("active", 4, 6),
        ("active", 6, 12),
        ("startup", 12, 14),
        ("recovery", 14, 30),
    ]
    with pytest.raises(ValueError, match="ends after"):
        with_active(one, 6, 6)
    assert with_phase(one, 0, 2, 12).phases[0] == Phase(start=2, end=10)
    assert with_phase(one, 1, 20, 2) == one


@pytest.mark.parametrize(
    ("phases", "says"),
    [
        ((("active", 4, 8), ("recovery", 6, 9)), "active up to tick 8 and recovery from tick 6 overlap"),
        ((("active", 4, 4),), "its end is not after its start"),
    ],
)
def test_phases_that_cannot_be_are_refused_with_the_way_out(phases: tuple[Any, ...], says: str) -> None:
    document = sketch(clips=(clip(*phases),))
    with pytest.raises(LeanStepError, match=says):
        parse(dump(document), "a.leanstep")


def test_phases_are_kept_in_the_file() -> None:
    one = replace(clip(("active", 9, 13)), strike=Strike(stun=24), playback=Playback(parameter="speed"))
    document: Character = sketch(clips=(one,))
    assert parse(dump(document), "a.leanstep") == document
