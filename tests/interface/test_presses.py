"""No press is lost between ticks, however late or early they come."""

from __future__ import annotations

import random

import pytest

from leanstep.desk.presses import Presses


def after(presses: Presses, tick: float, down: bool) -> bool:
    """Whether the one button is down on a tick, by whether it was before."""
    return dict(presses.take(tick)).get("jump", down)


def played(events: list[tuple[float, bool]], ticks: list[float]) -> list[bool]:
    """Whether a button counts as down on each tick, where events and ticks come in the order of time."""
    presses, down, seen = Presses(), False, []
    waiting = list(events)
    for tick in ticks:
        while waiting and waiting[0][0] <= tick:
            presses.put(waiting[0][0], "jump", waiting[0][1])
            waiting.pop(0)
        down = after(presses, tick, down)
        seen.append(down)
    return seen


def presses_in(seen: list[bool]) -> int:
    return sum(now and not before for before, now in zip([False, *seen], seen))


def test_a_tap_between_two_ticks_is_down_for_one() -> None:
    assert played([(0.020, True), (0.025, False)], [0.016, 0.033, 0.05, 0.066]) == [False, True, False, False]


def test_a_second_tap_waits_for_the_tick_after() -> None:
    events = [(0.001, True), (0.005, False), (0.009, True), (0.014, False)]
    assert played(events, [0.016, 0.033, 0.05, 0.066])[:3] == [True, False, True]


def test_a_tick_that_is_made_up_for_takes_what_was_pressed_up_to_then() -> None:
    """The window stood still for six ticks: what was pressed in that time goes to the ticks it belongs to."""
    presses = Presses()
    for at, down in ((0.035, True), (0.070, False)):
        presses.put(at, "jump", down)
    seen, down = [], False
    for tick in range(1, 7):
        down = after(presses, tick / 60, down)
        seen.append(down)
    assert seen == [False, False, True, True, False, False]


def test_a_key_that_the_machine_repeats_stays_down() -> None:
    presses = Presses()
    presses.put(0.0, "jump", True)
    assert presses.take(0.016) == [("jump", True)]
    presses.put(0.030, "jump", False)
    presses.put(0.0301, "jump", True)
    assert presses.take(0.033) == [] and presses.take(1.0) == []


def test_what_is_pressed_faster_than_ticks_come_is_late_by_a_few_changes_at_most() -> None:
    presses = Presses()
    for at in range(41):
        presses.put(at * 0.003, "jump", at % 2 == 0)
    ticks = [presses.take(1.0 + tick) for tick in range(6)]
    assert [bool(one) for one in ticks] == [True, True, True, False, False, False]
    assert ticks[2] == [("jump", True)], "it ends as it is held"


def test_two_buttons_keep_their_order() -> None:
    presses = Presses()
    for at, button in ((0.001, "left"), (0.002, "jump"), (0.003, "right")):
        presses.put(at, button, True)
    assert [button for button, _ in presses.take(0.016)] == ["left", "jump", "right"]


@pytest.mark.parametrize("seed", range(5))
def test_a_thousand_taps_under_load_are_a_thousand_presses(seed: int) -> None:
    """Taps of 5 to 100 ms, while the window comes to its ticks up to 300 ms late and makes up for what it missed."""
    rng = random.Random(seed)
    presses, events, at = Presses(), [], 0.0
    for _ in range(1000):
        at += rng.uniform(0.035, 0.2)
        held = rng.uniform(0.005, 0.1)
        events += [(at, True), (at + held, False)]
        at += held
    now, done, seen, down = 0.0, 0, [], False
    while done / 60 < at + 1:
        now += rng.choice((0.016, 0.016, 0.03, rng.uniform(0.05, 0.3)))
        while events and events[0][0] <= now:
            presses.put(events[0][0], "jump", events[0][1])
            events.pop(0)
        while (done + 1) / 60 <= now:
            done += 1
            down = after(presses, done / 60, down)
            seen.append(down)
    assert presses_in(seen) == 1000
