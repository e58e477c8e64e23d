"""Which names mean the same in characters that different people made."""

from __future__ import annotations

import re

SAME: tuple[tuple[str, ...], ...] = (
    ("idle", "stand", "standing", "stand still", "resting"),
    ("walk", "walking", "stride", "stroll"),
    ("run", "running", "sprint"),
    ("take-off", "take off", "takeoff", "jump off", "set off"),
    ("rise", "rising", "jump rise", "jump up"),
    ("fall", "falling", "drop", "jump fall", "jump down"),
    ("land", "landing", "touch down", "jump land"),
    ("jump", "jumping", "leap"),
    ("climb", "climbing"),
    ("crouch", "crouching", "duck", "ducking"),
    ("slide", "sliding"),
    ("hurt", "hit", "struck"),
    ("stun", "stunned", "dizzy"),
    ("turn", "turning", "turn round"),
    ("sit", "sitting", "sit down"),
    ("sleep", "sleeping", "asleep"),
    ("strike 1", "strike", "attack", "slash", "blow", "attack 1", "slash 1"),
    ("strike 2", "attack 2", "slash 2"),
    ("strike 3", "attack 3", "slash 3"),
    ("dash", "dashing", "air dash"),
    ("wall slide", "wall sliding"),
)
"""Words for one thing, first the one that patterns use."""

PARTS: dict[str, tuple[tuple[str, float], ...]] = {
    "jump": (("take-off", 1.0), ("rise", 2.0), ("fall", 2.0), ("land", 1.0)),
}
"""What is often drawn in one go, and its parts in order with their usual share of the frames."""

_BREAK = re.compile(r"[\s_\-.]+")


def plainly(name: str) -> str:
    """A name as it compares with others: small letters, one space between words."""
    return _BREAK.sub(" ", name).strip().lower()


_MEANINGS = {plainly(word): words[0] for words in SAME for word in words}


def meaning(name: str) -> str:
    """The word patterns use for what a name means; where none is known, the name itself, plainly."""
    plain = plainly(name)
    return _MEANINGS.get(plain, plain)


def found(name: str, among: list[str]) -> str | None:
    """The one of some names that means the same as ``name``: one equal to it before any other; None without any."""
    if name in among:
        return name
    return next((other for other in among if meaning(other) == meaning(name)), None)
