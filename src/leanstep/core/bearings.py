"""Directions in degrees: 0 is up on the screen, 90 right, clockwise, from 0 to below 360.

Everything here is + − × ÷ and comparisons of doubles in a fixed order, so that it gives the same bits everywhere; each
function is also compiled as it stands.
"""

from __future__ import annotations

import math

CIRCLE = 360.0
MOST = math.nextafter(CIRCLE, 0.0)
"""The greatest bearing there is."""

WAYS = ("up", "up-right", "right", "down-right", "down", "down-left", "left", "up-left")
"""The eight main directions, every 45 degrees from 0 on."""

_SERIES = tuple((-1.0 if power % 2 else 1.0) * (180.0 / math.pi) / (2 * power + 1) for power in range(20, -1, -1))
"""Gregory's series of the arc tangent, in degrees, from the highest power down."""
_SINES = tuple((-1.0 if power % 2 else 1.0) / math.factorial(2 * power + 1) for power in range(9, -1, -1))
_COSINES = tuple((-1.0 if power % 2 else 1.0) / math.factorial(2 * power) for power in range(9, -1, -1))
"""Taylor's series of sine and cosine, from the highest power down."""
_RADIAN = math.pi / 180.0


def reduced(value: float) -> float:
    """A number of degrees as a bearing, from 0 to below 360; what is no finite number is 0."""
    if not -1e15 < value < 1e15:
        return 0.0
    turned = value - 360.0 * math.floor(value / 360.0)
    return turned if 0.0 < turned < 360.0 else 0.0


def turn(start: float, end: float) -> float:
    """The shorter way from one bearing to another, in degrees, above -180 to 180; clockwise is positive."""
    way = end - start
    if way > 180.0:
        return way - 360.0
    if way <= -180.0:
        return way + 360.0
    return way


def bearing_of(x: float, y: float) -> float:
    """The bearing of a vector with ``y`` up; exact for the eight main directions, within 1e-12 degrees else; 0 for no vector."""
    wide, high = abs(x), abs(y)
    if not (wide > 0.0 or high > 0.0):
        return 0.0
    share = wide / high if wide <= high else high / wide
    near = share > 0.41421356237309503
    rest = (share - 1.0) / (share + 1.0) if near else share
    square, total = rest * rest, 0.0
    for factor in _SERIES:
        total = total * square + factor
    angle = total * rest
    if near:
        angle = 45.0 + angle
    if wide > high:
        angle = 90.0 - angle
    if y < 0.0:
        angle = 180.0 - angle
    if x < 0.0:
        angle = 360.0 - angle
    return angle if angle < 360.0 else 0.0


def across(bearing: float) -> float:
    """How far right a step of length 1 along a bearing goes; exact along the axes."""
    folded = bearing if bearing <= 90.0 else 180.0 - bearing if bearing <= 270.0 else bearing - 360.0
    if folded == 90.0:
        return 1.0
    if folded == -90.0:
        return -1.0
    flat = folded if -45.0 <= folded <= 45.0 else 90.0 - folded if folded > 0.0 else -90.0 - folded
    angle = flat * _RADIAN
    square, total = angle * angle, 0.0
    if flat == folded:
        for factor in _SINES:
            total = total * square + factor
        return total * angle
    for factor in _COSINES:
        total = total * square + factor
    return total if folded > 0.0 else -total


def along(bearing: float) -> float:
    """How far up a step of length 1 along a bearing goes; exact along the axes."""
    shifted = bearing + 90.0
    return across(shifted if shifted < 360.0 else shifted - 360.0)


def push_of(x: float, y: float) -> float:
    """How far a stick is pushed, from 0 to 1."""
    length = math.sqrt(x * x + y * y)
    return min(length, 1.0)


def way_word(bearing: float) -> str:
    """The main direction a bearing is nearest to."""
    return WAYS[int((bearing + 22.5) // 45) % 8]


def in_words(bearing: float) -> str:
    """A bearing for people: one of the main directions, or the one it is nearest to with the degrees off."""
    word = way_word(bearing)
    off = turn(45.0 * WAYS.index(word), bearing)
    if off == 0:
        return word
    return f"{abs(off):g}° {'clockwise' if off > 0 else 'anticlockwise'} of {word}"


def arc_middle(low: float, high: float) -> float:
    """The bearing half way from one to another, clockwise."""
    return reduced(low + ((high - low) % CIRCLE) / 2)
