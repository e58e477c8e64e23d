"""Sticks and buttons as devices push them: dead zones, rounding, diagonals that stay, and controllers' events."""

from __future__ import annotations

import math

import pytest

from leanstep.core.bearings import bearing_of
from leanstep.core.character.inputs import Button, Controls, Stick
from leanstep.desk.devices import Devices
from leanstep.desk.gamepads import ABSOLUTE, KEY, Pad

KEYS = {"left": ("Left",), "right": ("Right",), "down": ("Down",), "up": ("Up",)}


def devices(**stick: object) -> Devices:
    made = Stick(name="stick", **KEYS, **stick)  # type: ignore[arg-type]
    return Devices(
        Controls(sticks=(made, Stick(name="look")), buttons=(Button(name="jump"), Button(name="run", pad=("start",))))
    )


def vector(one: Devices, name: str = "stick") -> tuple[float, float]:
    values = one.values()
    return float(values[f"{name}.x"]), float(values[f"{name}.y"])


def test_a_diagonal_stays_for_a_moment_and_for_good_if_the_other_way_follows() -> None:
    one = devices()
    one.press("Right")
    one.press("Up")
    one.release("Up")
    assert vector(one) == (1, 1)
    one.pass_time(0.03)
    assert vector(one) == (1, 1)
    one.release("Right")
    assert vector(one) == (0, 0), "what was pushed last is the diagonal"
    one.press("Right")
    one.press("Up")
    one.release("Up")
    one.pass_time(0.05)
    assert vector(one) == (1, 0), "the other way did not follow"
    one.press("Up")
    one.release("Right")
    one.press("Left")
    assert vector(one) == (-1, 1), "a new key counts at once"


def test_without_release_a_diagonal_ends_at_once() -> None:
    one = devices(release=0.0)
    one.press("Right")
    one.press("Up")
    one.release("Up")
    assert vector(one) == (1, 0)


def test_a_push_inside_the_dead_zone_is_none_and_beyond_it_begins_at_nothing() -> None:
    one = devices(dead_zone=0.2)
    for push, told in ((0.1, 0.0), (0.2, 0.0), (0.6, 0.5), (1.0, 1.0)):
        one.push_pad({"left": (0.0, push)})
        assert vector(one) == pytest.approx((0, told))


@pytest.mark.parametrize("ways", [4, 8])
def test_rounded_pushes_go_one_of_so_many_ways_and_stay_a_little_beyond_the_middle(ways: int) -> None:
    one, each = devices(rounding=ways, dead_zone=0.0), 360 / ways
    seen = []
    for degrees in (*range(361), *range(359, -1, -1)):
        angle = math.radians(degrees)
        one.push_pad({"left": (math.sin(angle), math.cos(angle))})
        seen.append(round(bearing_of(*vector(one))) % 360)
    assert set(seen) == {round(each * at) for at in range(ways)}
    up, down = seen[:361], seen[361:][::-1]
    changes = [at for at in range(1, 361) if up[at] != up[at - 1]]
    backwards = [at for at in range(1, 360) if down[at] != down[at - 1]]
    assert changes[0] == each // 2 + 6 and backwards[0] <= each // 2 - 4, "a thumb at the border does not flicker"


def test_keys_are_rounded_to_four_ways_too() -> None:
    one = devices(rounding=4)
    one.press("Right")
    assert vector(one) == pytest.approx((1, 0))
    one.press("Up")
    assert vector(one) == pytest.approx((1, 0)) or vector(one) == pytest.approx((0, 1))
    assert 0.0 in [round(value, 9) for value in vector(one)]


def test_sticks_and_buttons_of_a_controller_are_taken_in_order_unless_said() -> None:
    one = devices(dead_zone=0.0)
    one.push_pad({"left": (1.0, 0.0), "right": (0.0, -1.0)})
    for button in ("south", "start"):
        one.hold_pad(button, True)
    values = one.values()
    assert vector(one) == (1, 0) and vector(one, "look")[1] == -1 and values["jump"] is True and values["run"] is True
    one.hold_pad("start", False)
    one.hold_pad("east", True)
    assert one.values()["run"] is False, "another one was said"


def test_a_controller_that_is_unplugged_lets_go_and_no_number_is_no_push() -> None:
    one = devices()
    one.push_pad({"left": (1.0, 0.0)})
    one.hold_pad("south", True)
    one.unplug()
    assert vector(one) == (0, 0) and one.values()["jump"] is False
    one.push_pad({"left": (math.nan, 1.0)})
    one.push("stick", math.inf, 0.0)
    assert vector(one) == (0, 0)


def test_keys_count_before_the_screen_and_the_screen_before_the_controller() -> None:
    one = devices(dead_zone=0.0)
    one.push_pad({"left": (0.0, 1.0)})
    one.push("stick", -0.5, 0.0)
    assert vector(one) == (-0.5, 0)
    one.press("Right")
    assert vector(one) == (1, 0)
    one.let_go()
    assert vector(one) == (0, 0)


def test_a_recorded_stream_of_events_moves_sticks_triggers_and_the_direction_pad() -> None:
    pad = Pad(
        {
            0: (0, 255),
            1: (0, 255),
            3: (-32768, 32767),
            4: (-32768, 32767),
            2: (0, 255),
            16: (-1, 1),
            17: (-1, 1),
            9: (3, 3),
        }
    )
    for event in (
        (ABSOLUTE, 0, 255),
        (ABSOLUTE, 1, 0),
        (ABSOLUTE, 4, 32767),
        (KEY, 0x130, 1),
        (ABSOLUTE, 2, 200),
        (2, 8, 1),
    ):
        pad.feed(*event)
    assert pad.pushed["left"] == (1.0, 1.0) and pad.pushed["right"][1] == -1.0
    assert pad.buttons == {"south", "left-trigger"}
    for event in ((KEY, 0x130, 0), (ABSOLUTE, 2, 20), (ABSOLUTE, 17, -1), (ABSOLUTE, 9, 3)):
        pad.feed(*event)
    assert pad.pushed["left"] == (0.0, 1.0) and pad.buttons == set()
    pad.feed(ABSOLUTE, 17, 0)
    assert pad.pushed["left"] == (1.0, 1.0)
    pad.feed(ABSOLUTE, 0, math.nan)
    assert pad.pushed["left"][0] == 0.0
