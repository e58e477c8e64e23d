"""Both bodies do what they do written down plainly, and every planted mistake in them is noticed by that comparison."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

import pytest

from leanstep.core.body import above, body_state, sensors, side_view, slopes, walls
from leanstep.core.body.body_state import Motion
from leanstep.core.body.records import Steer
from leanstep.core.character.clips import GOES_AHEAD, GOES_THROUGH, GOES_UP
from tests.property.test_bodies import random_body, random_course
from tests.support.planting import Mutant, planted
from tests.support.reference_body import Reference

TICKS = 240
TOLD = (
    "x",
    "y",
    "vx",
    "vy",
    "facing",
    "grounded",
    "climbing",
    "blocked",
    "jump_held",
    "lift",
    "rise",
    "heading",
    "speed",
)
TOLD += ("pushing", "slope", "turning")  # type: ignore[assignment]
CHANCES: dict[str, tuple[list[Any], float]] = {
    "x": ([-1.0, 0.0, 1.0, 1.0, 0.4], 0.06),
    "y": ([-1.0, 0.0, 1.0, 0.6], 0.05),
    "jump": ([True, False], 0.08),
    "run": ([True, False], 0.05),
    "free": ([True, True, True, False], 0.03),
    "aims": ([True, False, False], 0.03),
    "aim": ([0.0, 77.0, 200.0], 0.03),
    "face": ([0.0, 0.0, 200.0], 0.03),
    "mode": ([0, 0, 0, 1, 2, 3, 4], 0.03),
    "cap": ([0.0, 0.0, 40.0], 0.03),
    "high": ([0.0, 0.0, 9.0, 70.0], 0.02),
}


def steering(pick: random.Random) -> Iterator[Steer]:
    now: dict[str, Any] = Steer()._asdict()
    falls = random.Random(pick.getstate()[1][0])
    for _ in range(TICKS):
        for name, (options, chance) in CHANCES.items():
            if pick.random() < chance:
                now[name] = pick.choice(options)
        if falls.random() < 0.03:
            now["fall"] = falls.choice([0.0, 0.0, 60.0])
        now["wide"] = 12.0 if now["high"] else 0.0
        yield Steer(**now)


def unlike(seed: int) -> str:
    """What differs between a body and its plain double on a random course; empty when nothing does."""
    pick = random.Random(seed)
    model = pick.choice(["side", "above"])
    body, course = random_body(pick, model), random_course(pick, model == "above")
    motion, double = Motion(body, course, 60), Reference(body, course, 1 / 60)
    state, carried, goes, ahead, up = motion.first, 0, 0, 0.0, 0.0
    for tick, steer in enumerate(steering(pick)):
        if pick.random() < 0.02:
            state, double.push = replace(state, push=50.0, push_up=20.0), (50.0, 20.0)
        if tick >= carried:
            carried = tick + pick.randint(1, 40)
            goes = pick.choice([*[0] * 12, 1, 1, 2, 3, 5, 7])
            ahead, up = pick.choice([0.0, 1.5, -2.0, 6.0]), pick.choice([0.0, 1.0, -1.5, 4.0])
        if goes:
            double.travel = (ahead if goes & GOES_AHEAD else None, up if goes & GOES_UP else None)
            double.through = goes & GOES_THROUGH > 0
            far, high = double.travel
            state = replace(state, travel=far or 0.0, travel_up=high or 0.0, travels=float(goes))
        before = state
        state = motion.step(state, steer)
        double.step(steer)
        if abs(state.x - before.x) + abs(state.y - before.y) < 1e-12:
            # where the rest of a speed points to is rounding alone
            double.heading = state.heading
        for name in TOLD:
            away = float(getattr(state, name)) - float(getattr(double, name))
            if model == "above" and name in ("facing", "heading"):
                away = (away + 180) % 360 - 180
            if not abs(away) < 1e-6:
                return f"tick {tick}: {name} is {getattr(state, name)}, not {getattr(double, name)}"
    return ""


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(4))
def test_bodies_do_what_is_written_down_plainly(chunk: int) -> None:
    for seed in range(chunk * 75, chunk * 75 + 75):
        assert not unlike(seed), seed


MUTANTS: tuple[Mutant, ...] = (
    (side_view, "s[p + FIELDS.jump_held] == 0.0", "s[p + FIELDS.jump_held] != 0.0"),
    (side_view, "vy = vy * r[n + NUMBERS.jump_cut]", "vy = vy / 1.0"),
    (side_view, "if vy > 0.0 else r[n + NUMBERS.gravity_down]", "if vy >= -1.0 else r[n + NUMBERS.gravity_down]"),
    (side_view, "r[n + NUMBERS.gravity_up] if", "r[n + NUMBERS.gravity_down] if"),
    (side_view, "vy = -fall", "vy = -fall / 2"),
    (side_view, "s[p + FIELDS.grace] = r[n + NUMBERS.jump_grace]", "pass"),
    (side_view, "r[n + NUMBERS.jump_buffer] if pressed", "0.0 if pressed"),
    (side_view, "s[p + FIELDS.buffer] - 1.0", "s[p + FIELDS.buffer]"),
    (side_view, "s[p + FIELDS.grace] - 1.0", "s[p + FIELDS.grace]"),
    (side_view, "s[p + FIELDS.grace], s[p + FIELDS.buffer] = 0.0, 0.0", "pass"),
    (side_view, "if jump else r[n + NUMBERS.jump_speed] * r[n + NUMBERS.jump_cut]", ""),
    (above, "rise = -fall", "rise = -fall / 2"),
    (sensors, "if not 0.0 < fall < r[n + NUMBERS.fall_speed]:", "if True:"),
    (walls, "left - half, left", "left, left"),
    (walls, "r[box + BOX.width] + half", "half"),
    (walls, "low - over", "low"),
    (walls, "r[box + BOX.height] + under", "under"),
    (walls, "if start <= low < end:", "if False:"),
    (walls, "if start >= high > end:", "if False:"),
    (side_view, "blocked, x, vx = 1.0, to, 0.0", "blocked, x, vx = 1.0, to, vx"),
    (side_view, "blocked, x, vx = 1.0, to, 0.0", "blocked, x, vx = 0.0, to, 0.0"),
    (side_view, "if not through:", "if True:"),
    (side_view, "if low < y < top and not leads_up(r, under, box):", "if low < y < top:"),
    (side_view, "min(x, edge - near if", "min(x, edge if"),
    (side_view, "max(x, edge + near if", "max(x, edge if"),
    (side_view, "0.0 if leads_over(r, under, edge, top) else half", "half"),
    (side_view, "if not rises and up <= min(down, beside):", "if not rises:"),
    (side_view, "elif rises and down < up and down <= beside:", "elif False:"),
    (side_view, "if through or not within", "if not within"),
    (side_view, " or _beside_slope(m, at, r, x, was, box)", ""),
    (side_view, "and _ceiling(m, at, r, s, p, x, y)", "and False"),
    (side_view, "and not _under_floor(m, at, r, s, p, x, high, box)", ""),
    (side_view, "bottom - REACH <= y <=", "bottom <= y - 4 * REACH and y <="),
    (side_view, "if sy > PUSH:", "if sy > -PUSH:"),
    (side_view, "return y < bottom + r[ladder + BOX.height] - REACH", "return True"),
    (side_view, "if y >= top:", "if y >= top + 5.0:"),
    (side_view, "elif y <= bottom:", "elif y <= bottom - 5.0:"),
    (side_view, "r[ladder + BOX.x] + r[ladder + BOX.width] / 2", "r[ladder + BOX.x]"),
    (side_view, "vy = sy * r[n + NUMBERS.climb_speed]", "vy = sy * r[n + NUMBERS.walk_speed]"),
    (side_view, "r[n + NUMBERS.run_speed] if run", "r[n + NUMBERS.walk_speed] if run"),
    (side_view, "goal * before >= 0.0", "goal * before <= 0.0"),
    (side_view, "amount = amount * share", "amount = amount"),
    (side_view, "goal if goal > before - amount", "goal if goal < before - amount"),
    (side_view, "min(max(found, -cap), cap)", "min(found, cap)"),
    (side_view, "s[p + FIELDS.push] * s[p + FIELDS.facing]", "s[p + FIELDS.push]"),
    (side_view, "asked * vx > 0.0", "asked * vx >= 0.0 or True"),
    (side_view, "way = way * wide / math.sqrt(wide * wide + high * high)", "way = way"),
    (slopes, "if r[box + BOX.rises] < 0.0:", "if r[box + BOX.rises] > 0.0:"),
    (side_view, "+ REACH if stood else 0.0", "* 0.0 if stood else 0.0"),
    (side_view, "mode == CLIMB or s[p + FIELDS.climbing]", "s[p + FIELDS.climbing]"),
    (above, "wide and s[p + FIELDS.was_x] == 0.0", "wide"),
    (above, "s[p + FIELDS.leading] == 1.0 and not wide", "s[p + FIELDS.leading] == 3.0 and not wide"),
    (above, "90.0 if sx > 0.0 else 270.0", "90.0 if sx < 0.0 else 270.0"),
    (above, "way / 45.0 + 0.5", "way / 45.0"),
    (above, "* turn(way, s[p + FIELDS.facing])", "* turn(s[p + FIELDS.facing], way)"),
    (above, "far <= amount", "far <= 3.0 * amount"),
    (above, "amount * r[n + NUMBERS.air_control]", "amount"),
    (above, "edges(r, box, half, deep, deep)", "edges(r, box, half, half, half)"),
    (above, "_halted(m, at, r, s, p, new_x, y, y + dy, True)", "_halted(m, at, r, s, p, x, y, y + dy, True)"),
    (above, "or _halted(m, at, r, s, p, goal_x, y, goal_y, True) != goal_y", ""),
    (above, "hit and new_x == x and new_y == y", "hit and new_x == x"),
    (above, "r[box + BOX.tall] < s[p + FIELDS.lift]", "r[box + BOX.tall] > s[p + FIELDS.lift]"),
    (above, "pushing - dt * r[n + NUMBERS.along_back]", "pushing - dt"),
    (above, "if pushing < wait:", "if pushing < 0.0:"),
    (above, "(pushing - wait) / after", "pushing / after"),
    (above, "wish != s[p + FIELDS.asked] and", "True and"),
    (
        above,
        "s[p + FIELDS.following] = 0.0\n            if step",
        "s[p + FIELDS.following] = step\n            if step",
    ),
    (above, "reach = reach - left", "reach = 0.0"),
    (above, "rise = rise * r[n + NUMBERS.jump_cut]", "rise = rise"),
    (above, "if lift <= 0.0:", "if lift <= -9.0:"),
    (above, "best, found = TOUCH * TOUCH, -1", "best, found = 50.0 * TOUCH, -1"),
    (above, "min(max(y, r[box + BOX.y])", "min(max(x, r[box + BOX.y])"),
    (above, "(most if way > 0.0 else -most)", "most"),
    (above, "if push > 0.0 and s[p + FIELDS.blocked] == 0.0:", "if push > 0.0:"),
    (above, "vx, vy = vx * cap / speed, vy * cap / speed", "vx, vy = vx, vy"),
    (side_view, "goes == 0 and (mode == 0 or mode == CLIMB)", "mode == 0 or mode == CLIMB"),
    (side_view, "goes |= GOES_AHEAD | GOES_UP", "goes |= GOES_AHEAD"),
    (side_view, "s[p + FIELDS.travel] * s[p + FIELDS.facing]", "s[p + FIELDS.travel]"),
    (side_view, "vy, stood = rise / dt, False", "stood = False"),
    (side_view, "if through and goes & GOES_UP != 0:", "if False:"),
    (side_view, "under >= 0 and goes & GOES_AHEAD == 0", "under >= 0"),
    (side_view, "if goes & GOES_AHEAD == 0:\n        _turn_round", "if True:\n        _turn_round"),
    (side_view, "goes & GOES_UP != 0 and vy <= 0.0", "False and vy <= 0.0"),
    (above, "s[p + FIELDS.travel] * across(facing)", "s[p + FIELDS.travel] * along(facing)"),
    (above, "s[p + FIELDS.stepping], s[p + FIELDS.following] = 0.0, 0.0", "pass"),
    (above, "elif goes & GOES_AHEAD != 0:", "elif False:"),
    (above, "if carried:", "if False:"),
    (sensors, "s[p + FIELDS.travel], s[p + FIELDS.travel_up], s[p + FIELDS.travels] = 0.0, 0.0, 0.0", "pass"),
    (sensors, "if not free or mode == STILL:", "if mode == STILL:"),
    (sensors, "if new and not", "if"),
    (sensors, "under, over = high / 2, high / 2", "under, over = 0.0, high"),
)


TELLING = (1, 8, 553)
"""Bodies in which nearly every mistake is seen; where none of them tells, all others are tried."""


def planted_move(mutant: Mutant) -> Callable[..., None]:
    """The plain form of moving a body, with a mistake in one of its modules; what would be compiled is taken as it stands."""

    def plain(source: str) -> str:
        return source.replace("@kernel\n", "").replace("kernel(bearings.", "(bearings.")

    made = planted((walls, slopes, side_view, above, sensors), mutant, plain)
    whole = made[sensors.__name__]
    for one in (side_view, above, sensors):
        made[one.__name__] |= {name: made[walls.__name__][name] for name in ("edges", "halted")}
    of_slopes = ("high_side", "high_end", "leads_over", "leads_up", "slope_at", "surface", "too_steep", "bearing_of")
    made[side_view.__name__] |= {name: made[slopes.__name__][name] for name in of_slopes}
    whole["high_side"] = made[slopes.__name__]["high_side"]
    whole["move_above"] = made[above.__name__]["move"]
    whole["move_sideways"] = made[side_view.__name__]["move"]
    whole["ladder_at"] = made[side_view.__name__]["ladder_at"]
    return whole["move"]


@pytest.mark.long(but=24)
@pytest.mark.parametrize("number", range(len(MUTANTS)))
def test_every_planted_mistake_is_noticed(number: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(body_state._PLAIN, "move", planted_move(MUTANTS[number]))
    assert any(unlike(seed) for seed in (*TELLING, *range(900))), MUTANTS[number][1:]


def test_without_a_mistake_the_plain_form_is_the_body(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(body_state._PLAIN, "move", planted_move((sensors, "free", "free")))
    assert not any(unlike(seed) for seed in range(20))
