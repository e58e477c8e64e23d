"""Where lanes, figures and arcs go, without a window."""

from __future__ import annotations

import itertools
import random

import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.desk.stations.graph.layout import MARGIN, PER_ROW, Page, lay_out
from tests.support.build import DEMO


def uneven(seed: int, lanes: tuple[int, ...] = (16, 8, 4, 2), transitions: int = 90) -> Character:
    """Lanes of uneven length with random transitions, some from lanes and the whole graph."""
    pick = random.Random(seed)
    states = tuple(
        State(name=f"{lane}-{at}", lane=f"lane {lane}") for lane, count in enumerate(lanes) for at in range(count)
    )
    names = [state.name for state in states]
    made = []
    for _ in range(transitions):
        kind = pick.random()
        made.append(
            Transition(
                source=pick.choice(names) if kind < 0.85 else "",
                from_lane=f"lane {pick.randrange(len(lanes))}" if 0.85 <= kind < 0.95 else "",
                to=pick.choice(names),
                when="true",
                restart=True,
            )
        )
    layer = Layer(name="base", states=states, transitions=tuple(made))
    return Character(layers=(layer,))


def segments(page: Page, arc: int) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """The straight pieces of an arc."""
    return list(itertools.pairwise(page.arcs[arc].points))


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("width", [700.0, 980.0, 1600.0])
def test_figures_and_names_do_not_lie_on_each_other(seed: int, width: float) -> None:
    page = lay_out(uneven(seed), width)
    slots = list(page.slots.values())
    for a, b in itertools.combinations(slots, 2):
        beside = abs(a.x - b.x) >= (a.size + b.size) / 2 * 0.95
        above = a.bottom <= b.top or b.bottom <= a.top
        assert beside or above, (a, b)
    for slot in slots:
        assert MARGIN <= slot.x <= width and slot.size >= 32


@pytest.mark.parametrize("seed", range(6))
def test_every_transition_is_in_exactly_one_arc(seed: int) -> None:
    character = uneven(seed)
    drawn = [number for arc in lay_out(character, 980).arcs for number in arc.transitions]
    assert sorted(drawn) == list(range(len(character.layers[0].transitions)))


@pytest.mark.parametrize("seed", range(6))
def test_level_pieces_of_arcs_run_through_no_figure_or_name(seed: int) -> None:
    page = lay_out(uneven(seed), 980)
    for arc in range(len(page.arcs)):
        for (x0, y0), (x1, y1) in segments(page, arc):
            if y0 != y1:
                continue
            for slot in page.slots.values():
                inside = slot.top + 1 < y0 < slot.bottom - 1
                crosses = min(x0, x1) < slot.x + slot.size / 3 and max(x0, x1) > slot.x - slot.size / 3
                assert not (inside and crosses), (page.arcs[arc], slot)


@pytest.mark.parametrize("seed", range(6))
def test_arcs_begin_and_end_at_their_states(seed: int) -> None:
    page = lay_out(uneven(seed), 980)
    for arc in page.arcs:
        end = page.slots[arc.layer, arc.target]
        x, y = arc.points[-1]
        assert abs(x - end.x) <= end.size / 2 + 1 and y in (end.top, end.bottom)
        if arc.kind == "state":
            start = page.slots[arc.layer, arc.source]
            x, y = arc.points[0]
            assert abs(x - start.x) <= start.size / 2 + 1 and y in (start.top, start.bottom)


def test_long_lanes_wrap_and_keep_their_order() -> None:
    page = lay_out(uneven(1), 980)
    rows = [row for row in page.rows if row.lane == "lane 0"]
    assert [len(row.slots) for row in rows] == [PER_ROW, 6]
    assert [slot.name for row in rows for slot in row.slots] == [f"0-{at}" for at in range(16)]
    assert [row.first for row in rows] == [True, False]


def test_rightward_arcs_run_over_the_figures_and_leftward_ones_under() -> None:
    page = lay_out(load(DEMO / "lamplighter.leanstep"), 980)
    for arc in page.arcs:
        if arc.kind != "state":
            continue
        a, b = page.slots[arc.layer, arc.source], page.slots[arc.layer, arc.target]
        if a.row == b.row:
            crest = arc.points[1][1]
            assert crest < a.top if a.x < b.x else crest > a.bottom


def test_two_transitions_of_one_pair_are_one_counted_arc() -> None:
    states = (State(name="a"), State(name="b"))
    ways = tuple(Transition(source="a", to="b", when="true") for _ in range(3))
    page = lay_out(Character(layers=(Layer(name="base", states=states, transitions=ways),)), 980)
    assert [arc.transitions for arc in page.arcs] == [[0, 1, 2]]


def test_figures_grow_to_fill_a_tall_page_and_shrink_for_a_low_one() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    sizes = [lay_out(character, 980, room).slots[0, "idle"].size for room in (300.0, 560.0, 900.0)]
    assert sizes == sorted(sizes) and sizes[0] == 40 and sizes[2] > 64


def test_the_same_document_is_laid_out_the_same() -> None:
    assert lay_out(uneven(3), 980) == lay_out(uneven(3), 980)


def test_layers_and_empty_lanes_have_rows() -> None:
    character = Character(layers=(Layer(name="base", lanes=("one", "two"), states=(State(name="a", lane="two"),)),))
    page = lay_out(character, 980)
    assert [(row.lane, len(row.slots)) for row in page.rows] == [("one", 0), ("two", 1)]
    assert lay_out(Character(), 980).rows == []


@pytest.mark.long
@pytest.mark.parametrize("seed", range(6))
def test_upright_pieces_of_arcs_pass_rows_between_their_figures(seed: int) -> None:
    character = uneven(seed, (9, 6, 4, 2))
    page = lay_out(character, 980)
    names = {(slot.layer, slot.name): slot.row for slot in page.slots.values()}
    for number, arc in enumerate(page.arcs):
        if arc.kind != "state":
            continue
        ends = sorted((names[arc.layer, arc.source], names[arc.layer, arc.target]))
        for (x0, y0), (x1, y1) in segments(page, number):
            for slot in page.slots.values():
                beside = abs(x0 - slot.x) > slot.size / 2
                apart = max(y0, y1) <= slot.top or min(y0, y1) >= slot.bottom
                assert x0 != x1 or beside or apart or not ends[0] < slot.row < ends[1], (arc, slot)


def test_an_arc_to_a_lane_two_rows_away_takes_the_way_between() -> None:
    character = uneven(1, (4, 4, 4), 0)
    ways = (Transition(source="0-1", to="2-1", when="true"), Transition(source="2-2", to="0-2", when="true"))
    layer = Layer(name="base", states=character.layers[0].states, transitions=ways)
    for arc in lay_out(Character(layers=(layer,)), 980).arcs:
        assert max(x for x, _ in arc.points) - min(x for x, _ in arc.points) < 200, "not round the whole page"
