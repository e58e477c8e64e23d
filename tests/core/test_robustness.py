"""What a take does at other rates and with hands a little early or late."""

from __future__ import annotations

import math

import msgspec
import pytest

from leanstep.core.character.clips import Cel, Clip, Contact, Key, Phase, Strike, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.robustness import at_rate, differences, fragile
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Stopped, Work
from tests.support.build import DEMO, sketch, way


def pressed(*ticks: int, length: int = 60) -> Take:
    changes = [Change(at=tick, set={"jump": True}) for tick in ticks]
    changes += [Change(at=tick + 4, set={"jump": False}) for tick in ticks]
    return Take(name="t", ticks=length, world="free", changes=tuple(sorted(changes, key=lambda one: one.at)))


def found(character: Character, take: Take) -> list[str]:
    return [one.sentence for one in differences(character, take)]


def test_time_in_seconds_does_the_same_at_every_rate() -> None:
    character = sketch(way("a>b", "jump pressed"), way("b>a", "stay >= 0.5 s"))
    assert not [one for one in found(character, pressed(20)) if "ticks a second" in one]


def test_time_in_ticks_is_found_out_by_another_rate() -> None:
    ways = (way("a>b", "jump pressed"), way("b>a", "jump pressed and stay >= 20 ticks"))
    sentences = found(sketch(*ways), pressed(10, 35))
    assert any(one.startswith("At 30 ticks a second, after 0.58 s base does not go on") for one in sentences)
    assert not any(one.startswith("At 120") for one in sentences)


def test_a_press_with_a_tick_to_spare_is_found_out_by_a_hand_that_is_early() -> None:
    ways = (way("a>b", "jump pressed"), way("b>a", "jump pressed and stay >= 0.5 s"))
    sentences = found(sketch(*ways), pressed(10, 41))
    early = [one for one in sentences if "early" in one and "of tick 41" in one]
    assert [one.split(" early")[0][-7:] for one in early] == ["3 ticks", "2 ticks"]
    late = [one for one in sentences if "late" in one and "of tick 10" in one]
    assert len(late) == 2 and "where the take as it is comes to a" in late[0]


@pytest.mark.parametrize("rate", [30.0, 120.0, 144.0])
def test_clips_last_as_long_in_seconds_at_another_rate(rate: float) -> None:
    clips = (Clip(name="swing", sheet="art", loop="once", cels=(Cel(frame=0, ticks=24),)),)
    states = (State(name="a"), State(name="b", clip="swing"))
    character = sketch(way("a>b", "jump pressed"), way("b>a", "clip done"), states=states, clips=clips)
    other, take = at_rate(character, pressed(10), rate)
    fired = [tick for tick, step in enumerate(rehearse(compile_character(other), take).steps) if step.fired[0] >= 0]
    assert (fired[1] - fired[0]) / rate == pytest.approx(24 / 60, abs=1 / rate)


@pytest.mark.parametrize("rate", [30.0, 120.0])
def test_all_that_a_clip_has_in_ticks_lasts_as_long_at_another_rate(rate: float) -> None:
    clip = Clip(
        name="swing",
        cels=(Cel(frame=0, ticks=24),),
        phases=(Phase(start=6, end=10),),
        contacts=(Contact(start=2, end=4, x=1, to=-1),),
        travel=Travel(keys=(Key(at=0), Key(at=12, x=9))),
        strike=Strike(stun=13, guard_stun=6),
    )
    other, _ = at_rate(sketch(clips=(clip,)), pressed(10), rate)
    (one,), ratio = other.clips, rate / 60
    assert one.travel is not None and one.strike is not None
    assert (one.phases[0].start, one.phases[0].end) == (6 * ratio, 10 * ratio)
    assert (one.contacts[0].start, one.contacts[0].end) == (2 * ratio, 4 * ratio)
    assert [key.at for key in one.travel.keys] == [0, 12 * ratio]
    assert (one.strike.stun, one.strike.guard_stun) == (math.ceil(13 * ratio), 6 * ratio)


def test_the_demo_take_is_robust_and_the_work_can_be_stopped() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    take = next(one for one in character.takes if one.name == "hit-in-the-air")
    tried: list[int] = []

    with pytest.raises(Stopped):
        list(differences(character, take, work=Work(told=tried.append, stop=lambda: len(tried) > 3)))
    assert tried == [0, 1, 2, 3]


def expecting(take: Take) -> Take:
    expects = (Expectation(what="end-in", name="a"),)
    return msgspec.structs.replace(take, expects=expects)


def test_a_take_that_meets_what_it_expects_by_a_tick_is_a_finding_with_the_late_hand_as_its_take() -> None:
    ways = (way("a>b", "jump pressed"), way("b>a", "jump pressed and stay >= 0.5 s"))
    tight = sketch(*ways, takes=(expecting(pressed(10, 41)),))
    (found,) = [one for one in check_character(tight, work=Work(play=200)).findings if one.id == "take.fragile"]
    assert "with jump of tick 10 2 ticks late" in found.sentence and "it ends in b, but a is expected" in found.sentence
    assert found.witness is not None and found.witness.changes[0].at == 12
    ample = sketch(*ways, takes=(expecting(pressed(10, 50)),))
    assert not [one for one in check_character(ample, work=Work(play=200)).findings if one.id == "take.fragile"]


def test_a_take_that_does_not_meet_it_as_it_is_is_no_matter_of_a_late_hand() -> None:
    ways = (way("a>b", "jump pressed"), way("b>a", "jump pressed and stay >= 0.5 s"))
    assert fragile(sketch(*ways), expecting(pressed(10, 20))) is None
    assert fragile(sketch(*ways), pressed(10, 41)) is None
