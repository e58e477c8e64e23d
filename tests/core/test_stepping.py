"""What happens on a tick, in its order."""

from __future__ import annotations

import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import Layer, State
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import recorded, rehearse, take_from_csv, trace_csv
from tests.support.build import DEMO, sketch, way


def ribbon(character: Character, *rows: dict[str, object], ticks: int = 0, layer: int = 0) -> str:
    """State names after each tick of a free take whose first ticks set ``rows``."""
    machine = compile_character(character)
    inputs = [{machine.index[name]: value for name, value in row.items()} for row in rows]
    inputs += [{} for _ in range(ticks - len(rows))]
    take = recorded(machine, "test", inputs, "free")  # type: ignore[arg-type]
    trace = rehearse(machine, take)
    return " ".join(machine.layers[layer].states[step.situation.states[layer]] for step in trace.steps)


def test_stay_is_one_on_the_first_tick_after_entry() -> None:
    character = sketch(way("a>b", "stay = 1 ticks"), way("b>a", "stay = 2 ticks"))
    assert ribbon(character, ticks=6) == "b b a b b a"


def test_a_pulse_lasts_one_tick() -> None:
    character = sketch(way("a>b", "hurt"), way("b>a", "not hurt"))
    assert ribbon(character, {"hurt": True}, ticks=3) == "b a a"


def test_pressed_and_released_are_edges_against_the_tick_before() -> None:
    character = sketch(way("a>b", "jump pressed"), way("b>a", "jump released"))
    assert ribbon(character, {"jump": True}, {}, {"jump": False}, {}, ticks=5) == "b b a a a"


def test_for_needs_every_tick_and_before_the_start_counts_as_false() -> None:
    character = sketch(way("a>b", "not grounded for 3 ticks"))
    assert ribbon(character, ticks=4) == "a a b b"
    assert ribbon(character, {}, {"grounded": True}, {"grounded": False}, ticks=6) == "a a a a b b"


def test_within_remembers_for_that_many_ticks() -> None:
    character = sketch(way("a>b", "hurt within 3 ticks and stay >= 3 ticks"))
    assert ribbon(character, {"hurt": True}, ticks=4) == "a a b b"
    late = sketch(way("a>b", "hurt within 3 ticks and stay >= 4 ticks"))
    assert ribbon(late, {"hurt": True}, ticks=5) == "a a a a a"


@pytest.mark.parametrize("word", ["for", "within"])
def test_a_memory_of_no_ticks_is_its_operand(word: str) -> None:
    character = sketch(way("a>b", f"hurt {word} 0 s"))
    assert ribbon(character, {}, {"hurt": True}, ticks=3) == "a b b"


def test_memories_see_the_state_before_the_transition() -> None:
    character = sketch(way("a>b", "stay >= 2 ticks"), way("b>a", "in base.b for 2 ticks"))
    assert ribbon(character, ticks=6) == "a b b a a b"


def test_order_urgent_graph_lane_state_then_state_lane_graph() -> None:
    states = tuple(State(name=name, lane="low") for name in ["a", "b", "c", "d", "e", "f", "g"])
    ways = [
        way(">g"),
        way("lane:low>f"),
        way("a>e"),
        way("a>d", urgent=True),
        way("lane:low>c", urgent=True),
        way(">b", urgent=True),
    ]
    for count, expected in ((6, "b"), (5, "c"), (4, "d"), (3, "e"), (2, "f"), (1, "g")):
        assert ribbon(sketch(*ways[:count], states=states), ticks=1) == expected


def test_a_state_gives_way_to_itself_only_with_restart() -> None:
    assert ribbon(sketch(way("a>a"), way("a>b", "stay >= 3 ticks")), ticks=4) == "a a b b"
    assert ribbon(sketch(way("a>a", restart=True), way("a>b", "stay >= 3 ticks")), ticks=4) == "a a a a"


def test_a_later_layer_sees_the_new_state_of_an_earlier_one() -> None:
    first = sketch(way("a>b", "stay >= 2 ticks"))
    second = Layer(name="over", states=(State(name="off"), State(name="on")), transitions=(way("off>on", "in base.b"),))
    character = Character(layers=(*first.layers, second), parameters=first.parameters)
    assert ribbon(character, ticks=3, layer=1) == "off on on"


@pytest.mark.parametrize(("loop", "ticks"), [("once", 3), ("repeat", 3), ("there-and-back", 5)])
def test_clip_done_comes_when_one_pass_is_over(loop: str, ticks: int) -> None:
    clip = Clip(name="swing", loop=loop, cels=(Cel(frame=0, ticks=1.5), Cel(frame=1, ticks=1), Cel(frame=2, ticks=0.5)))  # type: ignore[arg-type]
    states = (State(name="a", clip="swing"), State(name="b"))
    character = sketch(way("a>b", "clip done"), states=states, clips=(clip,))
    length = 4 if loop == "there-and-back" else 3
    assert ribbon(character, ticks=6).split().index("b") + 1 == length, ticks


def test_clip_done_never_comes_without_a_clip() -> None:
    assert ribbon(sketch(way("a>b", "clip done")), ticks=50).split() == ["a"] * 50


def test_broken_conditions_count_as_never_true() -> None:
    assert ribbon(sketch(way("a>b", "nonsense >"), way("a>b", "not unknown")), ticks=2) == "a a"


def test_a_take_replays_byte_for_byte() -> None:
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    for take in machine.character.takes:
        assert trace_csv(rehearse(machine, take)) == trace_csv(rehearse(machine, take))


@pytest.mark.parametrize("take", ["walk-and-jump", "ladder-and-lamp", "hit-in-the-air"])
def test_the_demo_takes_give_their_golden_traces(take: str) -> None:
    character = load(DEMO / "lamplighter.leanstep")
    machine = compile_character(character)
    trace = rehearse(machine, next(one for one in character.takes if one.name == take))
    golden = DEMO.parent / "tests" / "golden" / f"{take}.csv"
    assert trace_csv(trace) == golden.read_text()


def test_a_recorded_take_replays_what_was_done() -> None:
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    take = next(one for one in machine.character.takes if one.name == "walk-and-jump")
    trace = rehearse(machine, take)
    controls = [index for index, symbol in enumerate(machine.symbols) if symbol.owner != "body"]
    rows = [{index: step.situation.values[index] for index in controls} for step in trace.steps]
    again = rehearse(machine, recorded(machine, "again", rows))
    assert trace_csv(again) == trace_csv(trace)


def test_a_take_comes_in_as_csv() -> None:
    machine = compile_character(sketch(way("a>b", "jump pressed and speed > 2 and mood = angry")))
    take = take_from_csv(
        "tick,jump,speed,mood,world\n0,,1,calm,free\n4,1,3.5,angry,free\n9,0,,,free\n", "t.csv", machine
    )
    trace = rehearse(machine, take)
    assert take.ticks == 10
    assert [step.situation.states[0] for step in trace.steps] == [0] * 4 + [1] * 6


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("jump\n1\n", "no column called tick"),
        ("tick,jmp\n0,1\n", "Did you mean jump"),
        ("tick,jump\n0,perhaps\n", "neither 1 nor 0"),
        ("tick,speed\n0,fast\n", "is no number"),
        ("tick,jump\n5,1\n3,0\n", "ticks must go up"),
        ("tick,jump\nx,1\n", "is no tick"),
    ],
)
def test_a_wrong_csv_says_where(text: str, said: str) -> None:
    machine = compile_character(sketch())
    with pytest.raises(LeanStepError, match=said):
        take_from_csv(text, "t.csv", machine)


def test_takes_that_set_something_unknown_are_refused() -> None:
    machine = compile_character(sketch())
    other = compile_character(load(DEMO / "lamplighter.leanstep"))
    take = next(one for one in other.character.takes if one.name == "walk-and-jump")
    with pytest.raises(LeanStepError, match=r"nothing is called stick\.x"):
        rehearse(machine, take)
