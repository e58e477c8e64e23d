"""Draws the fencing teacher of the harbour: guard, steps, lunge, riposte, parries, being hit, stumbling, and the salute.

Run ``python -m demo.art.fencing``: it writes ``fencing-teacher.png`` beside itself, the same bytes every time.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

from demo.art.draw import INK, Arm, Canvas, Dress, Leg, Point, Pose, along, limb, oval, sheet, solid, tone, turned

TEACHER = Dress(
    coat=tone("e9e2d0", "c3b99f", "fbf7ea"),
    coat_far=tone("c9bfa6", "a1977f", "ddd4bd"),
    trousers=tone("5a3d3f", "402b2e", "745153"),
    trousers_far=tone("452f31", "332325", "5a3d3f"),
    boot=tone("3b3340", "2a242f", "544a5b"),
    skin=tone("c98f68", "a36d4a", "e2b08b"),
    hair=tone("8d8a92", "6a6770", "b3b0b8"),
    scarf=tone("a33b3a", "7c2a2a", "c75a55"),
    hat=tone("3b3340", "2a242f", "544a5b"),
    band=tone("c9a24a", "a07c2e", "e6c673"),
    pole=tone("b9bec8", "8a909c", "e6e9ef"),
    lantern=False,
)
BLADE = 31.0
"""How long the foil is, in pixels."""


def foil(canvas: Canvas, hand: Point, pose: Pose, dress: Dress) -> None:
    """A foil in the hand; the pose's ``pole`` is where it points, as the angle of an arm."""
    tip = along(hand, pose.pole, BLADE)
    canvas.part(limb(along(hand, pose.pole, 3), tip, 0.75, 0.45), dress.pole)
    canvas.part(oval(*along(hand, pose.pole, 3.4), 2.6, 2.6), dress.band)
    canvas.part(limb(along(hand, pose.pole + 180, 4), hand, 0.9, 1.1), dress.boot)
    for number in range(pose.spark):
        x, y = along(tip, number * 360 / max(1, pose.spark) + 15, 4 + number % 2 * 2)
        canvas.dot(x, y, (255, 236, 178))


def bare(canvas: Canvas, neck: Point, pose: Pose, dress: Dress) -> None:
    """A grey head with a knot of hair and a moustache."""
    tilt = pose.lean * 0.5 + pose.head
    centre = along(neck, tilt * -1 + 180, 7.2)
    canvas.part(oval(*turned(centre, tilt, [(-7.4, -1.5)])[0], 3.0, 3.2), dress.hair)
    canvas.part(oval(centre[0], centre[1], 6.6, 7.0), dress.skin)
    crown = [(-7, 2.4), (-7.4, -4), (-4, -8), (3, -8.2), (6.4, -4.4), (1, -3.6), (-2.4, -1), (-3.4, 4.2)]
    canvas.part(solid(*turned(centre, tilt, crown)), dress.hair)
    canvas.part(solid(*turned(centre, tilt, [(6, -1), (9, 1.8), (6, 2.6)])), dress.skin)
    canvas.part(solid(*turned(centre, tilt, [(2, 2.6), (7.4, 2.2), (8.6, 4.2), (3, 4.6)])), dress.hair, outline=False)
    for x, y in turned(
        centre, tilt, [(3.6, -1.4), (3.6, -0.4)] if pose.eye == "open" else [(2.8, -0.8), (3.8, -0.6), (4.6, -0.8)]
    ):
        canvas.dot(x, y, INK)


def _between(one: float, other: float, share: float) -> float:
    return one + (other - one) * share


def _ease(share: float) -> float:
    return 0.5 - 0.5 * math.cos(math.pi * min(max(share, 0.0), 1.0))


def stance(drop: float = 0.0, wide: float = 0.0, **values: object) -> Pose:
    """The guard: knees bent, the foil forward, the other hand behind; ``drop`` sinks, ``wide`` opens it."""
    made = {
        "near": Leg(34 + drop + wide, 46 + drop * 1.5, 0),
        "far": Leg(-14 - wide, 34 + drop, -2),
        "arm": Arm(52, 34),
        "far_arm": Arm(-96, -62),
        "lean": 4.0,
        "pole": 96.0,
        "tail": 3.0,
    }
    return Pose(**(made | values))  # type: ignore[arg-type]


def guard(count: int) -> list[Pose]:
    return [
        stance(
            drop=2 * math.sin(2 * math.pi * at / count),
            breath=0.7 * math.sin(2 * math.pi * at / count - 0.6),
            pole=96 + 4 * math.sin(2 * math.pi * at / count - 0.9),
            tail=4 * math.sin(2 * math.pi * at / count - 1.2),
        )
        for at in range(count)
    ]


def advance(count: int) -> list[Pose]:
    steps = ((0, 0, 0), (16, -8, -10), (24, 2, -6), (8, 12, 8))
    return [stance(wide=wide, drop=drop, tail=-tail, lean=5.0) for wide, drop, tail in steps[:count]]


def retreat(count: int) -> list[Pose]:
    steps = ((0, 0, 0), (-10, -4, 8), (14, 4, 14), (6, 8, 4))
    return [stance(wide=wide, drop=drop, tail=tail, lean=1.0, pole=92.0) for wide, drop, tail in steps[:count]]


def _thrust(reach: float, **values: object) -> Pose:
    """A lunge as far as it has gone, from 0 to 1."""
    made: dict[str, object] = {
        "near": Leg(_between(34, 74, reach), _between(46, 84, reach), 0),
        "far": Leg(_between(-14, -52, reach), _between(34, 4, reach), _between(-2, -30, reach)),
        "arm": Arm(_between(52, 84, reach), _between(34, 6, reach)),
        "far_arm": Arm(_between(-96, -74, reach), _between(-62, -8, reach)),
        "lean": _between(4, 20, reach),
        "pole": _between(96, 90, reach),
        "tail": 16 * reach,
        "head": -10 * reach,
    }
    return Pose(**(made | values))  # type: ignore[arg-type]


def lunge(count: int) -> list[Pose]:
    """Gather, reach, strike twice as long, and back."""
    drawn = stance(drop=8, arm=Arm(30, 70), lean=-2, pole=98)
    return [drawn, _thrust(0.45), _thrust(1.0, spark=5), _thrust(1.0), _thrust(0.7, tail=2.0), stance(drop=5)][:count]


def riposte(count: int) -> list[Pose]:
    drawn = stance(drop=4, arm=Arm(96, 46), pole=112)
    return [drawn, _thrust(0.35, pole=100.0), _thrust(0.72, spark=4), _thrust(0.5), stance(drop=3)][:count]


def parry_high(count: int) -> list[Pose]:
    return [
        stance(drop=2 + 3 * share, arm=Arm(52 + 54 * share, 34 + 10 * share), pole=96 + 54 * share, head=6 * share)
        for share in (0.4, 1.0, 1.0)[:count]
    ]


def parry_low(count: int) -> list[Pose]:
    return [
        stance(drop=4 + 12 * share, arm=Arm(52 - 26 * share, 34 - 8 * share), pole=96 - 44 * share, head=-8 * share)
        for share in (0.4, 1.0, 1.0)[:count]
    ]


def struck(count: int) -> list[Pose]:
    return [
        stance(
            wide=6,
            drop=back * 0.3,
            lean=-back,
            arm=Arm(70 + back, 50),
            pole=130 + back,
            head=-back * 0.7,
            eye="wince",
            tail=-back,
        )
        for back in (18, 26, 20, 10)[:count]
    ]


def blocked(count: int) -> list[Pose]:
    return [
        stance(drop=6, lean=-share, arm=Arm(74 + share, 60), pole=126 + share, tail=-share, head=-4.0)
        for share in (14, 9, 4)[:count]
    ]


def stumble(count: int) -> list[Pose]:
    return [
        stance(
            wide=-10 + 6 * at,
            drop=14 - 3 * at,
            lean=-14 + 6 * at,
            far_arm=Arm(-130 + 20 * at, -10),
            arm=Arm(96 - 14 * at, 30),
            pole=120 - 8 * at,
            tail=-20 + 8 * at,
        )
        for at in range(count)
    ]


def salute(count: int) -> list[Pose]:
    poses = []
    for at in range(count):
        up = _ease(min(at, count - 1 - at) / ((count - 1) / 2))
        poses.append(
            Pose(
                near=Leg(4, 6),
                far=Leg(-6, 6),
                arm=Arm(30 + 16 * up, 40 + 88 * up),
                far_arm=Arm(-10, 12),
                lean=1 - 2 * up,
                pole=70 + 108 * up,
                head=3 * up,
                tail=2,
            )
        )
    return poses


ROWS: list[list[tuple[str, Callable[[int], list[Pose]], int]]] = [
    [("guard", guard, 6), ("parry-high", parry_high, 3)],
    [("advance", advance, 4), ("retreat", retreat, 4)],
    [("lunge", lunge, 6), ("parry-low", parry_low, 3)],
    [("riposte", riposte, 5), ("struck", struck, 4)],
    [("salute", salute, 5), ("blocked", blocked, 3)],
    [("stumble", stumble, 4)],
]


def main() -> None:
    """Write the sheet beside this file."""
    sheet(TEACHER, ROWS, foil, bare).save(Path(__file__).parent / "fencing-teacher.png", optimize=True)


if __name__ == "__main__":
    main()
