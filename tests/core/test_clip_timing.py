"""How clips run: to the end and gone, from a cel in the middle again, and the frames that stand still."""

from __future__ import annotations

from itertools import product

import msgspec
import pytest

from leanstep.core.character.clips import Cel, Clip, Mark, Playback
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.clips.timing import TICK, Timing, timing
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.naming.references import Thing
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.drawable import Piece, of_situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.sheets.recutting import Recut, recut


def _clip(loop: str, *ticks: float, **fields: object) -> Clip:
    cels = tuple(Cel(frame=at, ticks=each) for at, each in enumerate(ticks))
    return Clip(name="swing", sheet="art", loop=loop, cels=cels, **fields)  # type: ignore[arg-type]


def test_a_clip_that_repeats_from_a_cel_plays_its_beginning_once() -> None:
    made = timing(_clip("repeat", 3, 2, 2, repeat_from=1))
    head, shown = 0, []
    for _ in range(13):
        shown.append(made.cel_at(head))
        head, _ = made.step(head)
    assert shown == [0, 0, 0, 1, 1, 2, 2, 1, 1, 2, 2, 1, 1]


def test_one_that_vanishes_shows_nothing_after_its_end_and_one_that_holds_its_last_cel() -> None:
    assert timing(_clip("once-and-gone", 2, 2)).cel_at(4 * TICK) is None
    assert timing(_clip("once-and-gone", 2, 2)).cel_at(4 * TICK - 1) == 1
    assert timing(_clip("once", 2, 2)).cel_at(4 * TICK) == 1


@pytest.mark.parametrize("back", [0, 1, 4, 9])
def test_marks_are_passed_as_often_as_a_walk_in_single_units_passes_them(back: int) -> None:
    """The plainest way to say when a mark is passed: go on by the smallest step there is."""
    made = Timing((0,), (0,), 10, True, back)
    for at, head, amount in product(range(12), range(10), range(35)):
        plain, now = 0, head
        for _ in range(amount):
            now += 1
            plain += now == at
            if now == made.length:
                now = back
                plain += now == at
        assert made.passed(at, head, amount) == plain, (at, head, amount)


@pytest.mark.parametrize("back", [0, 1])
def test_marks_fire_in_the_order_of_time_across_a_lap(back: int) -> None:
    marks = tuple(Mark(name=f"m{at}", at=float(at)) for at in (0, 1, 2, 3))
    made = _machine(_clip("repeat", 1, 2, repeat_from=back, marks=marks))
    (reel,) = made.pictures[0][0].reels
    fired = [cue.name for cue in reel.fired(2 * TICK, 3 * TICK)]
    assert fired == (["m1", "m3", "m2", "m1", "m3"] if back else ["m0", "m3", "m1", "m2"])


def _machine(clip: Clip, **state: object) -> Machine:
    speed = Parameter(name="speed", min=0, max=10)
    shown = State(name="one", clip=clip.name, **state)  # type: ignore[arg-type]
    layers = (Layer(name="base", states=(shown,)),)
    return compile_character(Character(parameters=(speed,), clips=(clip,), layers=layers))


def test_the_resting_frame_is_shown_while_the_bound_rate_is_0() -> None:
    playback = Playback(parameter="speed", at=5, min=0, resting=Cel(frame=7))
    machine = _machine(_clip("repeat", 2, 2, playback=playback))
    stepper = Stepper(machine, free=True)
    now, shown = stepper.first(), []
    for speed in (0.0, 5.0, 5.0, 0.0, 5.0):
        now = stepper.step(now, {machine.index["speed"]: speed}).situation
        shown.append(of_situation(machine, now).pieces[0].frame)
    assert shown == [7, 0, 1, 7, 1]


def test_a_state_can_hold_one_frame_that_is_over_after_its_ticks() -> None:
    held = State(name="one", held=Cel(sheet="art", frame=4, ticks=3, mirrored=True))
    layer = Layer(
        name="base",
        states=(held, State(name="two")),
        transitions=(Transition(source="one", to="two", when="clip done"),),
    )
    machine = compile_character(Character(layers=(layer,)))
    assert not machine.faults
    stepper = Stepper(machine, free=True)
    now, pieces = stepper.first(), []
    while now.states[0] == 0:
        pieces.append(of_situation(machine, now).pieces[0])
        now = stepper.step(now, {}).situation
    assert pieces == [Piece("art", 4, mirrored=True)] * 3


def test_behind_a_clear_state_the_layer_below_is_seen() -> None:
    base = Layer(name="base", states=(State(name="stand", held=Cel(sheet="art", frame=1)),))
    over = Layer(name="over", states=(State(name="glow", held=Cel(sheet="art", frame=2)),))

    def frames(character: Character) -> list[int]:
        machine = compile_character(character)
        return [piece.frame for piece in of_situation(machine, Stepper(machine).first()).pieces]

    glow = msgspec.structs.replace(over.states[0], clear=True)
    assert frames(Character(layers=(base, over))) == [2]
    assert frames(Character(layers=(base, msgspec.structs.replace(over, states=(glow,))))) == [1, 2]
    assert frames(Character(layers=(base, msgspec.structs.replace(over, clear=True)))) == [1, 2]


def test_held_and_resting_frames_follow_a_cut_and_a_sheets_new_name() -> None:
    sheet = Sheet(name="art", cut=Cut(columns=4, rows=1))
    playback = Playback(parameter="speed", resting=Cel(frame=3))
    state = State(name="one", held=Cel(sheet="art", frame=2))
    document = Character(
        sheets=(sheet,),
        clips=(_clip("repeat", 2, playback=playback),),
        layers=(Layer(name="base", states=(state,)),),
    )
    new = recut(document, 0, Recut(sheet.cut, (8, 8), {0: 1, 2: 0, 3: 2}))
    assert new.layers[0].states[0].held.frame == 0
    assert new.clips[0].playback.resting.frame == 2
    renamed = rename(document, Thing("sheet", "art"), "drawn")
    assert renamed.layers[0].states[0].held.sheet == "drawn"
