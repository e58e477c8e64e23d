"""Rules that paths, contacts, squashes and leans must keep to be opened at all."""

from __future__ import annotations

import itertools
from collections.abc import Callable

from leanstep.core.character.model import Clip
from leanstep.core.character.motion import Lean, Squash, Travel

Fail = Callable[[str, str, str], None]
LATEST = 1_000_000
"""The last tick a key may lie at."""
FARTHEST = 1_000_000.0
"""How far a path may lead, in units."""
LEAST, MOST = 0.05, 20.0
"""How high or wide a squash may make the figure, as a factor."""


def check_clip(clip: Clip, fail: Fail) -> None:
    """The path and the contacts of a clip."""
    place = f"clip {clip.name!r}"
    if clip.travel is not None:
        _check_travel(clip.travel, f"{place}, travel", fail)
    for contact in clip.contacts:
        if not 0 <= contact.start < contact.end <= LATEST:
            fail(f"{place}, contact", "its end is not after its start", "Write start below end, in ticks.")


def _check_travel(travel: Travel, place: str, fail: Fail) -> None:
    if not travel.keys:
        fail(place, "the path has no keys", "Give it one, or take the path out.")
    for key in travel.keys:
        if not 0 <= key.at <= LATEST:
            fail(place, f"a key lies at tick {key.at:g}", f"Write ticks from 0 to {LATEST}.")
        if max(abs(key.x), abs(key.y)) > FARTHEST:
            fail(
                place, f"a key lies {max(abs(key.x), abs(key.y)):g} units away", "Write a place that can be walked to."
            )
    for before, after in itertools.pairwise(travel.keys):
        if before.at == after.at:
            fail(place, f"two keys lie at tick {after.at:g}", "Move one of them.")
        if before.at > after.at:
            fail(place, f"the key at tick {after.at:g} comes after that at {before.at:g}", "Put them in order of time.")
    if min(travel.scale_x, travel.scale_y) <= 0:
        scale = min(travel.scale_x, travel.scale_y)
        fail(place, f"its scale is {scale:g}", "Write a scale above 0; to go the other way, change the keys.")
    if not any(key.x or key.y for key in travel.keys):
        fail(place, "the path has no length", "Move one of its keys, or take the path out.")


def check_shapes(squashes: tuple[Squash, ...], leans: tuple[Lean, ...], fail: Fail) -> None:
    """The squashes and leans of a character."""
    for squash in squashes:
        place = f"squash {squash.name!r}"
        factors = [squash.high, *([] if squash.wide is None else [squash.wide])]
        if not LEAST <= min(factors) <= max(factors) <= MOST:
            fail(place, "it makes the figure too small or too large", f"Write factors from {LEAST:g} to {MOST:g}.")
        times = [squash.over, squash.back, squash.every, *([] if squash.hold is None else [squash.hold])]
        if not 0 <= min(times) <= max(times) <= 3600:
            fail(place, "one of its times is out of range", "Write seconds from 0 to 3600.")
        if squash.by_fall < 0:
            fail(place, "by_fall is below 0", "Write the speed of a fall, in units a second, above 0.")
    for lean in leans:
        place = f"lean {lean.name!r}"
        if not 0 <= lean.most <= 90:
            fail(place, f"it leans by up to {lean.most:g} degrees", "Write degrees from 0 to 90.")
        if not 0 <= lean.smooth <= 60:
            fail(place, "its smoothing is out of range", "Write seconds from 0 to 60.")
