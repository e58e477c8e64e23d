"""Characters to measure with: the same seed gives the same one."""

from __future__ import annotations

import random

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter


def generated(
    states: int, seed: int = 1, timed: float = 0.25, remembering: float = 0.5, parameters: int | None = None
) -> Character:
    """A character of ``states`` states with four transitions each over so many ``parameters`` (None: 8 to 16, more for
    larger characters).

    The share ``timed`` of the conditions asks about time: of these, the share ``remembering`` with ``for`` or ``within``,
    the rest with ``stay``.
    """
    pick = random.Random(seed)
    each = 4 + min(4, states // 100) if parameters is None else parameters // 2
    declared = [Parameter(name=f"p{at}", min=0, max=10) for at in range(each)]
    declared += [Parameter(name=f"f{at}", kind="flag") for at in range(each)]

    def comparison() -> str:
        return f"p{pick.randrange(each)} {pick.choice('<>')} {pick.randrange(1, 10)}"

    def condition() -> str:
        flag = f"f{pick.randrange(each)}"
        if pick.random() >= timed:
            return f"{comparison()} and {flag}"
        if pick.random() >= remembering:
            return f"{comparison()} and {flag} and stay >= {pick.randrange(1, 30)} ticks"
        kind = pick.choice(["for", "within"])
        return f"{pick.choice([comparison(), flag])} {kind} {pick.randrange(2, 30)} ticks and f{pick.randrange(each)}"

    names = [f"s{at}" for at in range(states)]
    transitions = tuple(
        Transition(source=name, to=pick.choice(names), when=condition()) for name in names for _ in range(4)
    )
    layer = Layer(name="base", states=tuple(State(name=name) for name in names), transitions=transitions)
    return Character(name=f"{states} states", parameters=tuple(declared), layers=(layer,))
