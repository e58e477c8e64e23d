"""A family of platformers: a jump buffer, holds and what was seen within a while, cooldowns, and a stay that may be long or short."""

from __future__ import annotations

import random

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter

LONGEST_BUFFER, LONGEST_MEMORY, LONGEST_COOLDOWN = 12, 30, 180
"""Ticks."""


def platformer(number: int, part: int = 1) -> Character:
    """One of the family, by its number; with times of only one ``part`` of so many."""
    pick = random.Random(f"platformer {number}")
    left = pick.randint(0, 5)

    def ticks(low: int, high: int) -> str:
        return f"{-(-pick.randint(low, high) // part)} ticks"

    def remembered(operand: str) -> str:
        """An operand, often with a memory of it."""
        nonlocal left
        if left == 0 or pick.random() < 0.3:
            return operand
        left -= 1
        return f"({operand}) {pick.choice(('for', 'for', 'within'))} {ticks(1, LONGEST_MEMORY)}"

    buffer = pick.randint(0, LONGEST_BUFFER)
    jumps = f"jump buffered {-(-buffer // part)} ticks" if buffer else "jump pressed"
    dashes = [("dash", "dash pressed"), ("slide", "run and dash pressed"), ("hurt", "hit")][: pick.randint(0, 3)]
    ways: list[Transition] = []
    for name, when in dashes:
        ways.append(way(f">{name}", f"{when} and since({name}) > {ticks(1, LONGEST_COOLDOWN)}"))
        ways.append(way(f"{name}>idle", f"stay >= {ticks(3, 20)}"))
    ways += [
        way("idle>run", remembered("run")),
        way("run>idle", remembered("not run")),
        way("idle>jump", f"{jumps} and {remembered('grounded')}"),
        way("run>jump", f"{jumps} and grounded"),
        way("jump>fall", f"stay >= {ticks(2, 20)} or {remembered('not jump')}"),
        way("idle>fall", remembered("not grounded")),
        way("run>fall", remembered("not grounded")),
        way("fall>land", remembered("grounded")),
        way("land>idle", pick.choice((f"stay >= {ticks(2, 12)}", f"run or stay >= {ticks(2, 12)}"))),
    ]
    names = ["idle", "run", "jump", "fall", "land", *(name for name, _ in dashes)]
    base = Layer(name="base", states=tuple(State(name=name) for name in names), transitions=tuple(ways))
    blinks = (way("open>shut", f"stay >= {ticks(20, 90)}"), way("shut>open", f"stay >= {ticks(2, 6)} or hit"))
    eyes = Layer(name="eyes", states=(State(name="open"), State(name="shut")), transitions=blinks)
    return Character(
        name="Platformer",
        rate=60,
        parameters=(
            *(Parameter(name=name, kind="flag") for name in ("run", "grounded")),
            Parameter(name="hit", kind="pulse"),
        ),
        controls=Controls(buttons=(Button(name="jump"), Button(name="dash"))),
        layers=(base, eyes) if pick.random() < 0.5 else (base,),
    )


def way(path: str, when: str) -> Transition:
    """A transition ``from>to``; from the whole graph where nothing stands before."""
    source, _, target = path.partition(">")
    return Transition(source=source, to=target, when=when)
