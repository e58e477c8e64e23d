"""A take's inputs as bars and back."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as st

from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.expression import Symbol
from leanstep.desk.widgets.input_bars import Bar, bars_of, with_bars

JUMP = Symbol("jump", "button", "controls")
STICK = Symbol("stick.x", "number", "controls", -1.0, 1.0)
HIT = Symbol("hit", "pulse", "game")
TICKS = 40

changes = st.lists(
    st.builds(
        Change,
        at=st.integers(0, TICKS - 1),
        set=st.dictionaries(st.just("jump"), st.booleans(), max_size=1)
        | st.dictionaries(st.just("stick.x"), st.sampled_from([-1.0, 0.0, 0.5, 1.0]), max_size=1)
        | st.dictionaries(st.just("hit"), st.booleans(), max_size=1),
    ),
    max_size=12,
    unique_by=lambda change: change.at,
)


def values_of(take: Take, symbol: Symbol) -> list[float | bool | str]:
    """The symbol's value on every tick."""
    at = {change.at: change.set[symbol.name] for change in take.changes if symbol.name in change.set}
    found: list[float | bool | str] = []
    value = symbol.rest
    for tick in range(take.ticks):
        value = at.get(tick, False if symbol.momentary else value)
        found.append(value)
    return found


@settings(max_examples=200, deadline=None)
@given(changes)
def test_bars_say_what_the_take_says(made: list[Change]) -> None:
    take = Take(name="t", ticks=TICKS, changes=tuple(made))
    for symbol in (JUMP, STICK, HIT):
        painted = [symbol.rest] * TICKS
        for bar in bars_of(take, symbol):
            assert 0 <= bar.start < bar.end <= TICKS
            painted[bar.start : bar.end] = [bar.value] * (bar.end - bar.start)
        assert painted == values_of(take, symbol)


@settings(max_examples=200, deadline=None)
@given(changes)
def test_writing_the_same_bars_back_changes_no_value_and_touches_nothing_else(made: list[Change]) -> None:
    take = Take(name="t", ticks=TICKS, changes=tuple(made))
    for symbol in (JUMP, STICK, HIT):
        again = with_bars(take, symbol, bars_of(take, symbol))
        for one in (JUMP, STICK, HIT):
            assert values_of(again, one) == values_of(take, one)


def test_a_moved_bar_moves_both_its_changes() -> None:
    take = Take(name="t", ticks=30, changes=(Change(at=5, set={"jump": True}), Change(at=9, set={"jump": False})))
    moved = with_bars(take, JUMP, [Bar(10, 20, True)])
    assert [(change.at, change.set) for change in moved.changes] == [(10, {"jump": True}), (20, {"jump": False})]
    assert with_bars(take, JUMP, []).changes == ()


def test_bars_are_cut_to_the_take_and_neighbours_share_their_border() -> None:
    take = Take(name="t", ticks=30)
    made = with_bars(take, STICK, [Bar(-5, 10, 1.0), Bar(10, 90, -1.0)])
    assert [(change.at, change.set["stick.x"]) for change in made.changes] == [(0, 1.0), (10, -1.0)]
    assert bars_of(made, STICK) == [Bar(0, 10, 1.0), Bar(10, 30, -1.0)]


def test_a_pulse_is_a_bar_of_one_tick_each() -> None:
    take = Take(name="t", ticks=30, changes=(Change(at=4, set={"hit": True}),))
    assert bars_of(take, HIT) == [Bar(4, 5, True)]
    longer = with_bars(take, HIT, [Bar(4, 7, True)])
    assert [change.at for change in longer.changes] == [4, 5, 6]
