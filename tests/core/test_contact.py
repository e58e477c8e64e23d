"""Contact on the straw man: worked cases, computed from the clips and measured by playing them."""

from __future__ import annotations

from dataclasses import replace as with_
from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.character.clips import ActionBox, BoxKey, Cel, Clip, Phase, Strike
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Scale
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.contact import Figure
from leanstep.core.rehearsal.pair_traces import Measured, PairTrace
from leanstep.core.rehearsal.second_figures import compile_in, figure_of
from leanstep.core.rehearsal.straw_man import straw_man
from leanstep.core.sheets.images import load_sheet
from tests.support.build import DEMO, sketch, way

STUN = Parameter(name="stun", kind="whole", max=99, countdown=True)
FAR = 60.0
"""Where nothing reaches."""


def striker(
    strike: Strike,
    cels: tuple[float, ...] = (4.0, 4.0, 4.0),
    phases: tuple[Phase, ...] = (Phase(start=4.0, end=8.0),),
    reach: tuple[float, float, float, float] | None = None,
    box: tuple[float, float, float, float] = (0.0, 0.0, 30.0, 30.0),
    on: tuple[int, ...] | None = None,
    **more: Any,
) -> Character:
    """A figure that strikes on its first tick, and stands again when the clip is done."""
    cels_made = tuple(Cel(frame=at, ticks=ticks) for at, ticks in enumerate(cels))
    keyed = on or tuple(range(len(cels)))
    keys = tuple(BoxKey(cel=at, box=box) for at in keyed)
    boxes = [ActionBox(name="fist", kind="strike", keys=keys)]
    if reach is not None:
        boxes.append(
            ActionBox(name="reach", kind="guard", keys=(BoxKey(cel=0, box=reach), BoxKey(cel=len(cels) - 1, box=reach)))
        )
    clip = Clip(name="blow", loop="once", cels=cels_made, phases=phases, boxes=tuple(boxes), strike=strike)
    ways = more.pop("ways", ())
    return sketch(
        way("stands>blow", "stay >= 1 ticks and not since(blow) < 500 ticks"),
        *ways,
        way("blow>stands", "clip done"),
        states=(State(name="stands"), State(name="blow", clip="blow")),
        clips=(clip,),
        parameters=(STUN,),
        contact=ContactRules(stun="stun"),
        **more,
    )


def bout(
    character: Character, apart: float = 20.0, guards: bool = False, ticks: int = 120, left: bool = True
) -> PairTrace:
    machine, straw = compile_character(character), compile_character(straw_man(character))
    one, other = Figure(machine), Figure(straw)
    pair = PairTrace((one, other), (one.first(0.0, 0.0), other.first(apart, 0.0, left)))
    braced = [(0, straw.index["braced"], True)] if guards else []
    for _ in pair.play(([], braced), ticks):
        pass
    return pair


def first(pair: PairTrace, number: int = 0) -> Measured:
    return pair.measured(pair.contacts[number])


BLOW = Strike(stun=20, guard_stun=9)
TWO = (Phase(start=2.0, end=4.0), Phase(start=8.0, end=9.0))
AGAIN = (TWO[0], replace(TWO[1], again=True))
PLUS: list[tuple[str, dict[str, Any], dict[str, Any], int, int]] = [
    # what is told, the striker, the bout, the tick of the blow on which it touches, and by hand: stun - (free - tick)
    ("a hit on the first active tick", {}, {}, 4, 20 - (12 - 4)),
    ("guarded", {}, {"guards": True}, 4, 9 - (12 - 4)),
    ("recovery as long as the stun", {"strike": Strike(stun=8)}, {}, 4, 0),
    ("a tick less of it", {"strike": Strike(stun=7)}, {}, 4, -1),
    ("a tick more", {"strike": Strike(stun=9)}, {}, 4, 1),
    ("no stun at all: free on the tick after", {"strike": Strike()}, {}, 4, 1 - 8),
    ("a stun of one is the same", {"strike": Strike(stun=1)}, {}, 4, 1 - 8),
    ("and of two", {"strike": Strike(stun=2)}, {}, 4, 2 - 8),
    ("guard stun of none", {"strike": Strike(stun=20)}, {"guards": True}, 4, 1 - 8),
    ("active from the start", {"phases": (Phase(start=0.0, end=3.0),)}, {}, 0, 20 - 12),
    ("active to the end", {"phases": (Phase(start=8.0, end=12.0),)}, {}, 8, 20 - 4),
    ("the last tick alone", {"phases": (Phase(start=11.0, end=12.0),)}, {}, 11, 20 - 1),
    ("the last tick alone, guarded", {"phases": (Phase(start=11.0, end=12.0),)}, {"guards": True}, 11, 9 - 1),
    ("uneven cels", {"cels": (3.0, 1.0, 7.0, 2.0), "phases": (Phase(start=3.0, end=4.0),)}, {}, 3, 20 - (13 - 3)),
    ("cels that are no whole ticks", {"cels": (2.5, 2.5, 2.5)}, {}, 4, 20 - (8 - 4)),
    ("a phase that begins between ticks", {"phases": (Phase(start=4.5, end=8.0),)}, {}, 5, 20 - (12 - 5)),
    ("a phase that ends between ticks", {"phases": (Phase(start=4.0, end=4.5),)}, {}, 4, 20 - (12 - 4)),
    (
        "written recovery changes nothing",
        {"phases": (Phase(start=4.0, end=8.0), Phase(kind="recovery", start=8.0, end=12.0))},
        {},
        4,
        12,
    ),
    (
        "written startup changes nothing",
        {"phases": (Phase(kind="startup", start=0.0, end=4.0), Phase(start=4.0, end=8.0))},
        {},
        4,
        12,
    ),
    ("the first of two windows", {"phases": TWO}, {}, 2, 20 - (12 - 2)),
    ("a box on the second window's cel only", {"phases": TWO, "on": (2,)}, {}, 8, 20 - (12 - 8)),
    ("a box on the last cel of the window", {"on": (1,), "phases": (Phase(start=2.0, end=8.0),)}, {}, 4, 20 - 8),
    ("a freeze stops both", {"strike": Strike(stun=20, freeze=5)}, {}, 4, 12),
    ("a freeze, guarded", {"strike": Strike(stun=20, guard_stun=9, freeze=5)}, {"guards": True}, 4, 9 - 8),
    ("a freeze and no stun: the struck one is free before it", {"strike": Strike(freeze=5)}, {}, 4, 1 - (8 + 5)),
    (
        "a freeze as the blow ends",
        {"strike": Strike(stun=20, freeze=5), "phases": (Phase(start=11.0, end=12.0),)},
        {},
        11,
        20 + 5 - 1,
    ),
    ("a freeze of one", {"strike": Strike(stun=3, freeze=1)}, {}, 4, 3 - 8),
    ("within the guard reach", {"reach": (0.0, 0.0, 40.0, 40.0)}, {"guards": True}, 4, 9 - 8),
    ("beyond the guard reach it hits", {"reach": (-9.0, 0.0, 5.0, 40.0)}, {"guards": True}, 4, 20 - 8),
    ("at half the rate", {"rate": 30.0}, {}, 4, 12),
    ("at a rate of 50, guarded", {"rate": 50.0}, {"guards": True}, 4, 1),
    ("pushed away all the same", {"strike": Strike(stun=20, push=240.0)}, {}, 4, 12),
]


@pytest.mark.long(but=23)
@pytest.mark.parametrize(("made", "how", "tick", "plus"), [case[1:] for case in PLUS], ids=[case[0] for case in PLUS])
def test_the_advantage_by_hand_is_computed_and_measured(
    made: dict[str, Any], how: dict[str, Any], tick: int, plus: int
) -> None:
    character = striker(**{"strike": BLOW, **made})
    found = first(bout(character, **how))
    # the blow begins on tick 0
    assert found.contact.tick == tick
    assert (found.computed, found.advantage) == (plus, plus)
    assert bout(character, **how).differs(found) == ""


def test_two_windows_hit_once_and_one_that_says_so_again() -> None:
    once, again = (bout(striker(BLOW, phases=phases)) for phases in (TWO, AGAIN))
    assert [one.tick for one in once.contacts] == [2] and [one.tick for one in again.contacts] == [2, 8]
    assert first(again, 1).advantage == first(again, 1).computed == 20 - (12 - 8)


def test_what_is_out_of_reach_is_missed_and_an_edge_does_not_touch() -> None:
    assert bout(striker(BLOW), FAR).contacts == []
    width = straw_man(striker(BLOW)).body.width
    assert bout(striker(BLOW), 30.0 + width / 2).contacts == []
    assert len(bout(striker(BLOW), 30.0 + width / 2 - 0.5).contacts) == 1


def test_a_figure_that_looks_the_other_way_strikes_the_other_way() -> None:
    character = striker(BLOW)
    view = compile_character(character)
    one = Figure(view)
    assert one.boxes(one.first(0.0, 0.0).situation) == []


def test_the_struck_is_pushed_away_and_is_stunned_for_as_long_as_it_says() -> None:
    pair = bout(striker(Strike(stun=20, push=240.0)))
    straw = pair.traces[1]
    names = straw.machine.layers[0].states
    states = [names[state] for state in straw.states(0)]
    # touched on 4, told on 5, free 20 ticks after the contact
    assert states[4:6] == ["stands", "stunned"] and states[23:25] == ["stunned", "stands"]
    assert straw.after(40).body.x > 21


def test_a_cancel_frees_the_striker_earlier_and_is_named() -> None:
    character = striker(BLOW, ways=(Transition(source="blow", to="stands", when="phase recovery"),))
    pair = bout(character)
    found = first(pair)
    # recovery is seen on tick 8, so it is free on 8 and not on 12
    assert (found.computed, found.advantage) == (12, 16)
    assert pair.differs(found) == "blow → stands of who strikes, on tick 8, ate the ticks"


def test_contact_waits_while_time_stands() -> None:
    two = striker(
        Strike(stun=20, freeze=6),
        cels=(2.0, 2.0, 8.0),
        phases=(Phase(start=2.0, end=4.0), Phase(start=4.0, end=6.0, again=True)),
    )
    # the second window would begin on tick 4, but both stand from 4 to 9
    assert [one.tick for one in bout(two).contacts] == [2, 10]


def test_both_strike_at_once() -> None:
    machine = compile_character(
        replace(
            striker(Strike(stun=30)),
            clips=tuple(
                replace(
                    clip,
                    boxes=(*clip.boxes, ActionBox(name="b", kind="vulnerable", keys=(BoxKey(cel=0), BoxKey(cel=2)))),
                )
                for clip in striker(Strike(stun=30)).clips
            ),
        )
    )
    one = Figure(machine)
    pair = PairTrace((one, one), (one.first(0.0, 0.0), one.first(12.0, 0.0, True)))
    for _ in pair.play(([], []), 60):
        pass
    assert [(each.tick, each.who) for each in pair.contacts] == [(4, 0), (4, 1)]
    assert [first(pair, at).advantage for at in (0, 1)] == [0, 0]


def test_what_contact_raises_is_what_each_declares() -> None:
    rules = ContactRules(hit="hurt", strength="speed", lands="hurt")
    character = replace(striker(Strike(strength=99.0)), contact=rules)
    names = sketch().parameters
    character = replace(character, parameters=(*names, STUN))
    pair = bout(character)
    trace = pair.traces[0]
    assert trace.values_on(5)[trace.machine.index["hurt"]] is True
    assert trace.values_on(4)[trace.machine.index["hurt"]] is False


def test_what_is_declared_and_is_not_there_or_of_another_kind_is_said() -> None:
    for name, kind in (("nobody", "name.unknown"), ("speed", "kind.mismatch")):
        character = replace(sketch(), contact=ContactRules(hit=name))
        machine = compile_character(character)
        assert [one.fault.id for one in machine.faults] == [kind] and machine.touched.hit == -1
    edges = compile_character(replace(sketch(), contact=ContactRules(guards="jump pressed")))
    assert [one.fault.id for one in edges.faults] == ["condition.unreadable"] and edges.touched.guards is None
    assert with_(Figure(edges), scale=(2.0, 2.0)).scale == (2.0, 2.0)


def test_figures_are_as_large_as_their_sheets_say_also_by_a_height_of_the_picture() -> None:
    teacher = load(DEMO / "fencing-teacher.leanstep")

    def sized(**scale: Any) -> tuple[float, float]:
        sheet = replace(teacher.sheets[0], scale=Scale(**scale))
        return figure_of(compile_in(DEMO, replace(teacher, sheets=(sheet,)))).scale

    drawn = load_sheet(teacher.sheets[0], DEMO).usual_height
    assert sized(by=2.0, stretch=1.5) == (3.0, 2.0)
    assert sized(height=drawn * 2) == (2.0, 2.0) and sized(height=drawn / 2, stretch=2.0) == (1.0, 0.5)
    gone = replace(teacher.sheets[0], image="art/gone.png", scale=Scale(height=200.0))
    assert figure_of(compile_in(DEMO, replace(teacher, sheets=(gone,)))).scale == (1.0, 1.0)


def test_a_figure_half_as_large_reaches_half_as_far() -> None:
    """The same strike reaches 30 pixels: drawn half as large, it no longer reaches over 20 units."""
    made = striker(BLOW)
    machine = compile_character(made)
    straw = Figure(compile_character(straw_man(made)))
    for scale, contacts in ((1.0, 1), (0.5, 0)):
        figure = Figure(machine, (scale, scale))
        pair = PairTrace((figure, straw), (figure.first(0.0, 0.0), straw.first(30.0, 0.0, True)))
        for _ in pair.play(([], []), 60):
            pass
        assert len(pair.contacts) == contacts, scale
