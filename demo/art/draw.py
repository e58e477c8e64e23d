"""Draws the demo's figures: a lamplighter with a lantern pole, and a ferry hand, as pixel sheets.

Run ``python demo/art/draw.py``: it writes the PNGs beside itself, the same bytes every time.  A figure is a small
skeleton; every part is drawn large, brought down to pixels, shaded from the lantern's side and outlined in ink.
Angles are in degrees: 0 hangs straight down, positive swings forward (to the right).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw

CELL = 112
FOOT = (50, 106)
FINE = 6
"""Drawing is done this many times larger."""
COLUMNS = 11

INK = (33, 29, 43)
Point = tuple[float, float]
Tone = tuple[tuple[int, int, int], tuple[int, int, int], tuple[int, int, int]]


def tone(base: str, shade: str, light: str) -> Tone:
    """Three colours of one material from hex text."""
    return tuple(tuple(int(text[at : at + 2], 16) for at in (0, 2, 4)) for text in (base, shade, light))  # type: ignore[return-value]


@dataclass(frozen=True)
class Dress:
    """What a figure wears."""

    coat: Tone
    coat_far: Tone
    trousers: Tone
    trousers_far: Tone
    boot: Tone
    skin: Tone
    hair: Tone
    scarf: Tone
    hat: Tone
    band: Tone
    pole: Tone
    lantern: bool
    long: float = 0.0
    """Pixels by which the coat reaches further down."""


LAMPLIGHTER = Dress(
    coat=tone("2f6069", "21464f", "458892"),
    coat_far=tone("254d55", "1b3a41", "2f6069"),
    trousers=tone("5b4a63", "43374b", "73607c"),
    trousers_far=tone("46394d", "352b3b", "55465d"),
    boot=tone("6e4a30", "4f3421", "8e6542"),
    skin=tone("e3b28b", "c18a66", "f3cda9"),
    hair=tone("e7dfcf", "c3b8a4", "faf5ea"),
    scarf=tone("d6902b", "ac6c1c", "eeb554"),
    hat=tone("2c2a3a", "1f1d2a", "454259"),
    band=tone("d6902b", "ac6c1c", "eeb554"),
    pole=tone("9a7448", "745533", "bb9461"),
    lantern=True,
)
WINTER = replace(
    LAMPLIGHTER,
    coat=tone("7a3f3a", "5a2c2b", "9a564d"),
    coat_far=tone("62322f", "482423", "7a3f3a"),
    trousers=tone("3d3a44", "2c2a32", "524e5b"),
    trousers_far=tone("302d36", "232127", "423f4a"),
    scarf=tone("d8d2c4", "b2ab9b", "f2ede1"),
    hat=tone("5a4636", "423226", "765d49"),
    band=tone("c9a46a", "a3814d", "e6c58e"),
    long=6.0,
)
"""The same in his winter coat."""
FERRY_HAND = Dress(
    coat=tone("c8ba97", "a09272", "e6dbbd"),
    coat_far=tone("a49779", "83785d", "c0b391"),
    trousers=tone("2f4f74", "223a57", "436a98"),
    trousers_far=tone("264160", "1b3047", "34557b"),
    boot=tone("3a3f49", "292d35", "565d6b"),
    skin=tone("a8724d", "865636", "c58f69"),
    hair=tone("3b2b26", "2a1e1a", "58433b"),
    scarf=tone("3f7d6d", "2d5c50", "5aa391"),
    hat=tone("2f4f74", "223a57", "436a98"),
    band=tone("e6dbbd", "c0b391", "fbf5e2"),
    pole=tone("7d6a50", "5e4f3b", "a08a6b"),
    lantern=False,
)


@dataclass(frozen=True)
class Leg:
    """Thigh angle, how far the knee bends back, and the pitch of the boot (positive: toe up)."""

    thigh: float = 0.0
    knee: float = 6.0
    boot: float = 0.0


@dataclass(frozen=True)
class Arm:
    """Upper arm angle and how far the elbow bends forward."""

    upper: float = -8.0
    elbow: float = 20.0


@dataclass(frozen=True)
class Pose:
    """One drawing.  ``lift`` raises the whole figure above the ground, ``crouch`` lowers the hip, in pixels."""

    near: Leg = field(default_factory=Leg)
    far: Leg = field(default_factory=Leg)
    arm: Arm = field(default_factory=lambda: Arm(24, 62))
    far_arm: Arm = field(default_factory=Arm)
    lean: float = 2.0
    head: float = 0.0
    breath: float = 0.0
    lift: float = 0.0
    pole: float = -14.0
    grip: float = 0.36
    tail: float = 0.0
    eye: str = "open"
    spark: int = 0
    on_back: bool = False


THIGH, SHIN, TORSO, UPPER, LOWER, POLE = 13.5, 13.0, 20.0, 10.5, 10.0, 58.0


class Canvas:
    """Pixels of one cell, painted part by part from back to front."""

    def __init__(self, side: int = CELL) -> None:
        self.side = side
        self.rgba = np.zeros((side, side, 4), dtype=np.uint8)

    def part(self, shape: Callable[[ImageDraw.ImageDraw], None], colours: Tone, outline: bool = True) -> None:
        """Paint a shape drawn by ``shape`` on a fine mask."""
        fine = Image.new("L", (self.side * FINE, self.side * FINE))
        shape(ImageDraw.Draw(fine))
        mask = np.asarray(fine.resize((self.side, self.side), Image.Resampling.BOX)) >= 120
        if outline:
            self._paint(_grown(mask) & ~mask, INK)
        self._paint(mask, colours[0])
        self._paint(mask & ~_moved(mask, 2, 1), colours[1])
        self._paint(mask & ~_moved(mask, -2, 1) & _moved(mask, 2, 1), colours[2])

    def dot(self, x: float, y: float, colour: tuple[int, int, int]) -> None:
        """One pixel."""
        self._paint_at(round(x), round(y), colour)

    def _paint_at(self, x: int, y: int, colour: tuple[int, int, int]) -> None:
        if 0 <= x < CELL and 0 <= y < CELL:
            self.rgba[y, x] = (*colour, 255)

    def _paint(self, mask: np.ndarray, colour: tuple[int, int, int]) -> None:
        self.rgba[mask] = (*colour, 255)


def _moved(mask: np.ndarray, dx: int, dy: int) -> np.ndarray:
    """The mask shifted by (dx, dy) pixels."""
    out = np.zeros_like(mask)
    height, width = mask.shape
    out[max(dy, 0) : height + min(dy, 0), max(dx, 0) : width + min(dx, 0)] = mask[
        max(-dy, 0) : height + min(-dy, 0), max(-dx, 0) : width + min(-dx, 0)
    ]
    return out


def _grown(mask: np.ndarray) -> np.ndarray:
    return mask | _moved(mask, 1, 0) | _moved(mask, -1, 0) | _moved(mask, 0, 1) | _moved(mask, 0, -1)


def along(start: Point, angle: float, length: float) -> Point:
    """The point ``length`` from ``start`` at an angle (0 down, positive forward)."""
    turn = math.radians(angle)
    return start[0] + math.sin(turn) * length, start[1] + math.cos(turn) * length


def limb(a: Point, b: Point, wide: float, narrow: float) -> Callable[[ImageDraw.ImageDraw], None]:
    """A tapered limb with round ends."""

    def draw(on: ImageDraw.ImageDraw) -> None:
        turn = math.atan2(b[1] - a[1], b[0] - a[0])
        nx, ny = -math.sin(turn), math.cos(turn)
        points = [
            (a[0] + nx * wide, a[1] + ny * wide),
            (b[0] + nx * narrow, b[1] + ny * narrow),
            (b[0] - nx * narrow, b[1] - ny * narrow),
            (a[0] - nx * wide, a[1] - ny * wide),
        ]
        on.polygon([(x * FINE, y * FINE) for x, y in points], fill=255)
        for (x, y), r in ((a, wide), (b, narrow)):
            on.ellipse([(x - r) * FINE, (y - r) * FINE, (x + r) * FINE, (y + r) * FINE], fill=255)

    return draw


def solid(*points: Point) -> Callable[[ImageDraw.ImageDraw], None]:
    """A polygon."""
    return lambda on: on.polygon([(x * FINE, y * FINE) for x, y in points], fill=255)


def oval(x: float, y: float, rx: float, ry: float) -> Callable[[ImageDraw.ImageDraw], None]:
    """An upright ellipse."""
    return lambda on: on.ellipse([(x - rx) * FINE, (y - ry) * FINE, (x + rx) * FINE, (y + ry) * FINE], fill=255)


def turned(centre: Point, angle: float, points: list[Point]) -> list[Point]:
    """Points given relative to ``centre``, turned forward by ``angle`` degrees."""
    c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    return [(centre[0] + x * c - y * s, centre[1] + x * s + y * c) for x, y in points]


def boot_points(ankle: Point, pitch: float) -> list[Point]:
    """The outline of a boot at an ankle."""
    return turned(ankle, -pitch, [(-3.4, -3), (2.6, -3), (3.2, 0.4), (8, 1.4), (8.4, 4), (-3.8, 4)])


def leg_joints(hip: Point, leg: Leg) -> tuple[Point, Point]:
    """Knee and ankle."""
    knee = along(hip, leg.thigh, THIGH)
    return knee, along(knee, leg.thigh - leg.knee, SHIN)


def draw_leg(canvas: Canvas, hip: Point, leg: Leg, cloth: Tone, boot: Tone) -> None:
    """A leg from the hip to the boot."""
    knee, ankle = leg_joints(hip, leg)
    canvas.part(solid(*boot_points(ankle, leg.boot)), boot)
    canvas.part(limb(knee, ankle, 3.3, 2.9), boot)
    canvas.part(limb(hip, knee, 4.6, 3.5), cloth)


def draw_pole(canvas: Canvas, hand: Point, pose: Pose, dress: Dress) -> None:
    """The pole through the hand, with its lantern or a boat hook."""
    low, high = along(hand, pose.pole, POLE * pose.grip), along(hand, pose.pole + 180, POLE * (1 - pose.grip))
    canvas.part(limb(low, high, 1.0, 1.0), dress.pole)
    if not dress.lantern:
        canvas.part(limb(high, along(high, pose.pole + 180, 4), 1.2, 0.7), dress.boot)
        canvas.part(limb(along(high, pose.pole + 180, -2), along(high, pose.pole + 95, 5), 0.9, 0.8), dress.boot)
        return
    top, _ = lamp_hook(hand, pose)
    canvas.part(limb(high, (top[0], top[1] - 2), 0.9, 0.8), dress.hat)
    for number in range(pose.spark):
        angle = number * 360 / max(1, pose.spark) + 20
        x, y = along((top[0], top[1] + 5), angle, 9 + (number % 2) * 3)
        canvas.dot(x, y, (255, 214, 92))
        canvas.dot(x + 0.8, y, (255, 244, 190))


def lamp_hook(hand: Point, pose: Pose) -> tuple[Point, float]:
    """Where the lamp hangs from the pole, and by how many degrees it swings forward."""
    high = along(hand, pose.pole + 180, POLE * (1 - pose.grip))
    sway = pose.tail * 0.25
    return (high[0] + 6 - sway * 0.2, high[1] + 3.5), sway


LAMP = 40
"""Pixels a side of a picture of the lamp, which hangs from the middle of its upper third."""
LAMP_HOOK = (20.0, 12.0)


def draw_lamp(lit: bool) -> np.ndarray:
    """The lamp as it hangs straight down: dark, or only what is seen of its light."""
    canvas = Canvas(LAMP)
    brass = LAMPLIGHTER.hat
    if lit:
        middle = (LAMP_HOOK[0], LAMP_HOOK[1] + 5)
        for radius, strength in ((17.0, 40), (12.0, 70), (8.0, 110)):
            rows, columns = np.mgrid[0:LAMP, 0:LAMP]
            near = (columns + 0.5 - middle[0]) ** 2 + (rows + 0.5 - middle[1]) ** 2 <= radius**2
            canvas.rgba[near] = (255, 214, 120, strength)
    glass = tone("ffd257", "f2a93a", "fff2b0") if lit else tone("5d6b70", "47545a", "8b9a9c")

    def at(*points: Point) -> list[Point]:
        return [(LAMP_HOOK[0] + x, LAMP_HOOK[1] + y) for x, y in points]

    canvas.part(solid(*at((-3, 1.5), (3, 1.5), (4, 8.5), (-4, 8.5))), glass)
    canvas.part(solid(*at((-1, -2), (1, -2), (4, 1.8), (-4, 1.8))), brass, outline=False)
    canvas.part(solid(*at((-4.5, 8.5), (4.5, 8.5), (4.5, 10.3), (-4.5, 10.3))), brass, outline=False)
    if lit:
        for x, y in at((0, 5), (0, 6)):
            canvas.dot(x, y, (255, 252, 226))
    return canvas.rgba


def draw_head(canvas: Canvas, neck: Point, pose: Pose, dress: Dress) -> None:
    """Head, beard or hair, and hat."""
    tilt = pose.lean * 0.5 + pose.head
    centre = along(neck, tilt * -1 + 180, 7.2)
    canvas.part(oval(centre[0], centre[1], 6.6, 7.0), dress.skin)
    if dress.lantern:
        beard = turned(centre, tilt, [(-4.5, 1), (0, 3), (6.6, 2.5), (7.2, 6), (4, 11.5), (-1, 9), (-4.6, 5)])
        canvas.part(solid(*beard), dress.hair, outline=False)
    hair = turned(centre, tilt, [(-7, -3), (-2.6, -4), (-2.8, 2.8), (-4.4, 5.4), (-7, 2)])
    canvas.part(solid(*hair), dress.hair, outline=False)
    nose = turned(centre, tilt, [(6, -1), (9, 1.8), (6, 2.6)])
    canvas.part(solid(*nose), dress.skin)
    eye = turned(centre, tilt, [(3.6, -1.4), (3.6, -0.4), (2.6, -0.9), (4.6, -0.9)])
    if pose.eye == "open":
        for x, y in eye[:2]:
            canvas.dot(x, y, INK)
    else:
        for x, y in (eye[2], eye[0] if pose.eye == "wince" else eye[1], eye[3]):
            canvas.dot(x, y, INK)
    if dress.lantern:
        canvas.part(solid(*turned(centre, tilt, [(-6, -17), (5.2, -16), (6, -5), (-6.6, -5)])), dress.hat)
        canvas.part(
            solid(*turned(centre, tilt, [(-6.6, -8), (6, -8), (6, -5.4), (-6.6, -5.4)])), dress.band, outline=False
        )
        canvas.part(solid(*turned(centre, tilt, [(-9.6, -5.6), (10, -5.6), (9.4, -3.4), (-9, -3.4)])), dress.hat)
    else:
        canvas.part(solid(*turned(centre, tilt, [(-7, -5), (-5, -10), (4, -10), (7, -5)])), dress.hat)
        canvas.part(solid(*turned(centre, tilt, [(-7, -6.4), (7, -6.4), (7.4, -3.6), (-7.2, -3.6)])), dress.band)


Held = Callable[["Canvas", Point, Pose, Dress], None]
"""What draws something at a hand, or a head at a neck."""


def draw(pose: Pose, dress: Dress, tool: Held = draw_pole, head: Held = draw_head) -> np.ndarray:
    """One frame: height × width × 4 bytes; ``tool`` is what the near hand holds."""
    canvas = Canvas()
    hip = _hip(pose)
    neck, shoulder, elbow, hand = near_joints(pose)
    far_elbow = along(shoulder, pose.far_arm.upper, UPPER)
    far_hand = along(far_elbow, pose.far_arm.upper + pose.far_arm.elbow, LOWER)
    if pose.on_back:
        tool(canvas, *held(pose), dress)

    canvas.part(limb(far_elbow, far_hand, 3.0, 2.6), dress.coat_far)
    canvas.part(limb(shoulder, far_elbow, 3.6, 3.0), dress.coat_far)
    canvas.part(oval(far_hand[0], far_hand[1], 2.5, 2.5), dress.skin)
    draw_leg(canvas, (hip[0] + 1, hip[1]), pose.far, dress.trousers_far, dress.boot)
    tail = turned(
        hip,
        pose.lean * 0.3,
        [
            (-6, -4),
            (4.6, -4),
            (5.8 + dress.long * 0.1, 7 + dress.long),
            (-1.5, 9.5 + dress.long + pose.tail * 0.02),
            (-8 - pose.tail * 0.22, 11 + dress.long - abs(pose.tail) * 0.1),
        ],
    )
    draw_leg(canvas, (hip[0] - 1, hip[1]), pose.near, dress.trousers, dress.boot)
    canvas.part(solid(*tail), dress.coat)
    canvas.part(
        limb(
            along(hip, 180 - pose.lean, 1),
            along(hip, 180 - pose.lean, TORSO - 4 + pose.breath),
            6.2,
            6.4 + pose.breath * 0.4,
        ),
        dress.coat,
    )
    belt = turned(hip, pose.lean, [(-6.6, -4.4), (6.4, -4.4), (6.4, -2.2), (-6.6, -2.2)])
    canvas.part(solid(*belt), dress.boot, outline=False)
    for step in (9, 14):
        x, y = along(along(hip, 180 - pose.lean, step), 90 - pose.lean, 3.5)
        canvas.dot(x, y, dress.band[2])
    ends = along(neck, 200 + pose.tail * 1.2, -9)
    canvas.part(limb((neck[0] - 3, neck[1] + 1), (ends[0] - 6 - pose.tail * 0.12, ends[1] - 3), 2.2, 1.7), dress.scarf)
    head(canvas, (neck[0] + 0.6, neck[1]), pose, dress)
    canvas.part(limb((neck[0] - 4, neck[1] + 1.2), (neck[0] + 4.6, neck[1] + 0.8), 2.4, 2.4), dress.scarf)
    if not pose.on_back:
        tool(canvas, *held(pose), dress)
    canvas.part(limb(elbow, hand, 3.1, 2.7), dress.coat)
    canvas.part(limb(shoulder, elbow, 4.0, 3.1), dress.coat)
    canvas.part(oval(hand[0], hand[1], 2.7, 2.7), dress.skin)
    return canvas.rgba


def near_joints(pose: Pose) -> tuple[Point, Point, Point, Point]:
    """Neck, shoulder, elbow and hand of the near arm."""
    hip = _hip(pose)
    neck = along(hip, 180 - pose.lean, TORSO + pose.breath)
    shoulder = along(hip, 180 - pose.lean, TORSO - 3.5 + pose.breath)
    elbow = along(shoulder, pose.arm.upper, UPPER)
    return neck, shoulder, elbow, along(elbow, pose.arm.upper + pose.arm.elbow, LOWER)


def held(pose: Pose) -> tuple[Point, Pose]:
    """Where what the figure carries is held, and how: in the hand, or on its back."""
    _, shoulder, _, hand = near_joints(pose)
    if pose.on_back:
        return (shoulder[0] - 6, shoulder[1] + 8), replace(pose, pole=-14, grip=0.5)
    return hand, pose


def mouth(pose: Pose) -> tuple[Point, float]:
    """Where the mouth is, and by how many degrees it looks down."""
    neck = near_joints(pose)[0]
    tilt = pose.lean * 0.5 + pose.head
    centre = along((neck[0] + 0.6, neck[1]), tilt * -1 + 180, 7.2)
    return turned(centre, tilt, [(6.8, 3.4)])[0], tilt


def _hip(pose: Pose) -> Point:
    """The hip, so that the lower boot stands on the ground (raised by ``lift``)."""
    lowest = -1e9
    for leg in (pose.near, pose.far):
        _, ankle = leg_joints((0, 0), leg)
        lowest = max(lowest, *(y for _, y in boot_points(ankle, leg.boot)))
    return FOOT[0], FOOT[1] - 1 - lowest - pose.lift


def _wave(phase: float) -> float:
    return math.sin(2 * math.pi * phase)


def _stride(phase: float, swing: float, lift: float, back: float) -> Leg:
    """A leg of a walk or run: forward at 0, on the ground until a half, then swung through."""
    phase %= 1.0
    thigh = swing * math.cos(2 * math.pi * phase) + back
    if phase < 0.5:
        return Leg(
            thigh,
            5 + lift * 0.22 * math.sin(2 * math.pi * phase),
            12 * math.cos(math.pi * phase * 2) if phase < 0.12 else -26 * max(0.0, (phase - 0.34) / 0.16),
        )
    through = (phase - 0.5) * 2
    return Leg(thigh, 6 + lift * math.sin(math.pi * through), -34 * (1 - through) + 10 * through)


def idle(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(-4, 4),
            far=Leg(9, 6),
            arm=Arm(20 - 2 * _wave(at / count), 58),
            far_arm=Arm(-10 + 2 * _wave(at / count), 16),
            breath=0.9 * _wave(at / count) + 0.3,
            head=1.5 * _wave(at / count - 0.1),
            tail=6 * _wave(at / count - 0.2),
            pole=-13 - 1.2 * _wave(at / count - 0.15),
        )
        for at in range(count)
    ]


def walk(count: int) -> list[Pose]:
    poses = []
    for at in range(count):
        phase = at / count
        sway = math.cos(2 * math.pi * phase)
        poses.append(
            Pose(
                near=_stride(phase, 27, 46, 2),
                far=_stride(phase + 0.5, 27, 46, 2),
                lean=5,
                arm=Arm(24 - 7 * sway, 54 + 5 * sway),
                far_arm=Arm(26 * sway - 2, 20 + 10 * sway),
                pole=-15 + 3 * _wave(2 * phase),
                tail=16 + 8 * _wave(2 * phase - 0.2),
                head=2 * _wave(2 * phase),
            )
        )
    return poses


def run(count: int) -> list[Pose]:
    poses = []
    for at in range(count):
        phase = at / count
        sway = math.cos(2 * math.pi * phase)
        poses.append(
            Pose(
                near=_stride(phase, 46, 92, 8),
                far=_stride(phase + 0.5, 46, 92, 8),
                lean=17,
                lift=3.4 * abs(_wave(phase)) ** 1.0,
                arm=Arm(12 - 12 * sway, 74 + 8 * sway),
                far_arm=Arm(46 * sway - 4, 66),
                pole=48 + 5 * _wave(2 * phase),
                grip=0.42,
                tail=42 + 10 * _wave(2 * phase - 0.2),
                head=-6,
            )
        )
    return poses


def take_off(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(42, 84),
            far=Leg(50, 92),
            lean=18,
            arm=Arm(-24, 56),
            far_arm=Arm(-42, 30),
            pole=-30,
            tail=2,
            head=-6,
        ),
        Pose(
            near=Leg(58, 108),
            far=Leg(64, 112),
            lean=24,
            arm=Arm(-34, 60),
            far_arm=Arm(-58, 34),
            pole=-44,
            tail=-4,
            head=-10,
        ),
        Pose(
            near=Leg(-6, 10, -34),
            far=Leg(12, 22, -30),
            lean=6,
            arm=Arm(64, 40),
            far_arm=Arm(100, 20),
            pole=-22,
            tail=14,
            head=4,
        ),
    ][:count]


def rise(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(-14, 30, -40),
            far=Leg(52 + 4 * at, 78, -14),
            lean=8,
            lift=5 + at,
            arm=Arm(74, 40),
            far_arm=Arm(118 - 8 * at, 14),
            pole=-34 + 4 * at,
            tail=26 + 8 * at,
            head=8,
        )
        for at in range(count)
    ]


def fall(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(30 - 8 * at, 52, -4),
            far=Leg(-16 + 8 * at, 40, -20),
            lean=-4,
            lift=5,
            arm=Arm(96 + 6 * at, 36),
            far_arm=Arm(-96 - 10 * at, -18),
            pole=-30 - 5 * at,
            tail=-40 - 14 * at,
            head=10,
        )
        for at in range(count)
    ]


def land(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(56, 104),
            far=Leg(70, 112),
            lean=28,
            arm=Arm(10, 60),
            far_arm=Arm(-50, 20),
            pole=-24,
            tail=-26,
            head=-14,
            eye="shut",
        ),
        Pose(
            near=Leg(38, 72),
            far=Leg(52, 84),
            lean=18,
            arm=Arm(16, 60),
            far_arm=Arm(-30, 20),
            pole=-19,
            tail=-6,
            head=-8,
        ),
        Pose(near=Leg(14, 30), far=Leg(26, 36), lean=8, arm=Arm(20, 58), far_arm=Arm(-16, 18), pole=-15, tail=4),
    ][:count]


def climb(count: int) -> list[Pose]:
    poses = []
    for at in range(count):
        sway = _wave(at / count)
        poses.append(
            Pose(
                near=Leg(46 + 26 * sway, 74 + 36 * sway, -6),
                far=Leg(46 - 26 * sway, 74 - 36 * sway, -6),
                lean=5,
                arm=Arm(128 - 26 * sway, 30 + 14 * sway),
                far_arm=Arm(128 + 26 * sway, 30 - 14 * sway),
                on_back=True,
                tail=4 * sway,
                head=10 + 3 * sway,
                lift=1,
            )
        )
    return poses


def crouch(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(26 + 22 * at, 52 + 40 * at, 0),
            far=Leg(38 + 22 * at, 60 + 40 * at, 0),
            lean=10 + 8 * at,
            arm=Arm(26, 56),
            far_arm=Arm(-8 + 16 * at, 30 + 10 * at),
            pole=-13 - 4 * at,
            tail=-6 * at,
            head=-5 * at,
        )
        for at in range(count)
    ]


def light(count: int) -> list[Pose]:
    poses = []
    for at in range(count):
        up = min(1.0, at / 3) if at < count - 2 else (count - 1 - at) / 2
        reach = 0.5 - 0.5 * math.cos(math.pi * up)
        poses.append(
            Pose(
                near=Leg(-10 - 4 * reach, 4),
                far=Leg(12 + 6 * reach, 6),
                lean=2 - 7 * reach,
                arm=Arm(24 + 96 * reach, 58 - 38 * reach),
                far_arm=Arm(-10 + 62 * reach, 16 + 40 * reach),
                pole=-13 - 24 * reach,
                grip=0.36 - 0.12 * reach,
                head=16 * reach,
                tail=4,
                spark=(0, 0, 0, 4, 7, 4, 0, 0)[at],
                breath=reach,
            )
        )
    return poses


def hurt(count: int) -> list[Pose]:
    backs = (16, 30, 22, 10)
    return [
        Pose(
            near=Leg(6 + back * 0.4, 20, 8),
            far=Leg(18 + back, 26, 20),
            lean=-back,
            arm=Arm(64 + back, 50),
            far_arm=Arm(-40 - back, -10),
            pole=-30 - back,
            tail=-back,
            head=-back * 0.6,
            eye="wince",
            lift=max(0, back - 20) * 0.3,
        )
        for back in backs[:count]
    ]


def skid(count: int) -> list[Pose]:
    return [
        Pose(
            near=Leg(34 - 6 * at, 12, 22 - 6 * at),
            far=Leg(-8 + 4 * at, 30, -10),
            lean=-18 + 7 * at,
            arm=Arm(30, 60),
            far_arm=Arm(58 - 12 * at, 30),
            pole=-28 + 5 * at,
            tail=-34 + 12 * at,
            head=10 - 3 * at,
        )
        for at in range(count)
    ]


ROWS: list[list[tuple[str, Callable[[int], list[Pose]], int]]] = [
    [("idle", idle, 6), ("crouch", crouch, 3), ("rise", rise, 2)],
    [("walk", walk, 8), ("take-off", take_off, 3)],
    [("run", run, 8), ("land", land, 3)],
    [("climb", climb, 6), ("fall", fall, 2), ("skid", skid, 3)],
    [("light", light, 7), ("hurt", hurt, 4)],
]


def sheet(
    dress: Dress,
    rows: Sequence[Sequence[tuple[str, Callable[[int], list[Pose]], int]]],
    tool: Held = draw_pole,
    head: Held = draw_head,
) -> Image.Image:
    """A sheet with a row of cells for each row of actions."""
    columns = max(sum(count for _, _, count in row) for row in rows)
    pixels = np.zeros((CELL * len(rows), CELL * columns, 4), dtype=np.uint8)
    for y, row in enumerate(rows):
        poses = [pose for _, action, count in row for pose in action(count)]
        for x, pose in enumerate(poses):
            pixels[y * CELL : (y + 1) * CELL, x * CELL : (x + 1) * CELL] = draw(pose, dress, tool, head)
    return Image.fromarray(pixels)


def main() -> None:
    """Write the sheets beside this file."""
    here = Path(__file__).parent
    sheet(LAMPLIGHTER, ROWS).save(here / "lamplighter.png", optimize=True)
    sheet(WINTER, ROWS).save(here / "lamplighter-winter.png", optimize=True)
    lamp = np.hstack([draw_lamp(False), draw_lamp(True)])
    Image.fromarray(lamp).save(here / "lamp.png", optimize=True)
    walks: list[list[tuple[str, Callable[[int], list[Pose]], int]]]
    walks = [[("idle", idle, 6), ("rise", rise, 2)], [("walk", walk, 8)], [("run", run, 8)]]
    sheet(FERRY_HAND, walks).save(here / "ferry-hand.png", optimize=True)


if __name__ == "__main__":
    main()
