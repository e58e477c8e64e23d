"""What the numbers of a body do, by moving it on level ground: how it jumps, sets off and stops."""

from __future__ import annotations

from dataclasses import dataclass

from msgspec.structs import replace

from leanstep.core.body.body_state import BodyState, Motion
from leanstep.core.body.records import Steer
from leanstep.core.character.body import Body, Course, Shape


def _on_level_ground(body: Body, rate: float) -> Motion:
    """The body seen from the side, which jumps and sets off by the same numbers, on level ground."""
    return Motion(replace(body, model="side"), LEVEL, rate)


LEVEL = Course(shapes=(Shape(kind="floor", x=-1e6, y=-100.0, width=2e6, height=100.0),))
LONGEST = 600
"""Ticks after which a preview ends."""

Point = tuple[float, float]


@dataclass(frozen=True)
class Run:
    """Setting off or stopping: the ``distance`` in units and the ``seconds`` it takes."""

    distance: float
    seconds: float


def jump_arc(body: Body, speed: float, rate: float, held: bool = True) -> list[Point]:
    """Where the foot goes in a jump from a run at ``speed`` units a second, tick by tick, the button being held or let go at
    once; the first point is where it takes off."""
    state, motion = BodyState(0.0, 0.0, vx=speed, grounded=True), _on_level_ground(body, rate)
    share = speed / max(body.run_speed, 1e-9)
    points = [(0.0, 0.0)]
    for tick in range(LONGEST):
        state = motion.step(state, Steer(x=share, jump=held or tick == 0, run=True))
        points.append((state.x, state.y))
        if state.grounded:
            break
    return points


def setting_off(body: Body, run: bool, rate: float) -> Run:
    """From standing to the full walking or running speed."""
    goal = body.run_speed if run else body.walk_speed
    state, motion = BodyState(0.0, 0.0, grounded=True), _on_level_ground(body, rate)
    for tick in range(LONGEST):
        if state.vx >= goal:
            return Run(state.x, tick / rate)
        state = motion.step(state, Steer(x=1.0, run=run))
    return Run(state.x, LONGEST / rate)


def stopping(body: Body, rate: float) -> Run:
    """From the full running speed to standing."""
    state, motion = BodyState(0.0, 0.0, vx=body.run_speed, grounded=True), _on_level_ground(body, rate)
    for tick in range(LONGEST):
        if state.vx <= 0:
            return Run(state.x, tick / rate)
        state = motion.step(state, Steer())
    return Run(state.x, LONGEST / rate)


def in_words(body: Body, rate: float) -> str:
    """What the numbers come to, as sentences."""
    arc = jump_arc(body, body.run_speed, rate)
    high, far = max(y for _, y in arc), arc[-1][0]
    low = max(y for _, y in jump_arc(body, body.run_speed, rate, held=False))
    off, stop = setting_off(body, True, rate), stopping(body, rate)
    return (
        f"A jump rises {high:.0f} units ({low:.0f} when the button is let go at once) and goes {far:.0f} units far from a run. "
        f"Full speed is reached after {off.distance:.0f} units in {off.seconds:.2f} s; stopping takes {stop.distance:.0f} units."
    )
