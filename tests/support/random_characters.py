"""Small random characters: the same seed gives the same one."""

from __future__ import annotations

import random

from leanstep.core.character.model import Button, Cel, Character, Clip, Controls, Layer, Parameter, State, Transition


def random_character(seed: int) -> Character:
    """A character of one or two layers, few parameters and short timers."""
    pick = random.Random(seed)
    parameters = pick.sample(
        [
            Parameter(name="speed", min=pick.choice([0.0, -4.0]), max=4.0),
            Parameter(name="lives", kind="whole", min=0, max=2),
            Parameter(name="grounded", kind="flag"),
            Parameter(name="hurt", kind="pulse"),
            Parameter(name="mood", kind="choice", choices=("calm", "angry")),
        ],
        pick.randint(1, 3),
    )
    buttons = (Button(name="jump"),) if pick.random() < 0.5 else ()
    clips = (Clip(name="swing", sheet="art", loop=pick.choice(["once", "repeat"]), cels=(Cel(frame=0, ticks=2.5),)),)
    layers: list[Layer] = []
    for number in range(pick.choice([1, 1, 1, 2])):
        lanes = ("low", "high")
        states = tuple(
            State(
                name=f"s{at}",
                lane=pick.choice(lanes),
                clip="swing" if pick.random() < 0.3 else "",
                ending=pick.random() < 0.08,
            )
            for at in range(pick.randint(1, 4))
        )
        names = [state.name for state in states]
        earlier = [(layer.name, state.name) for layer in layers for state in layer.states]
        transitions = []
        for _ in range(pick.randint(1, 6)):
            owner = pick.random()
            transitions.append(
                Transition(
                    source=pick.choice(names) if owner < 0.7 else "",
                    from_lane=pick.choice(lanes) if 0.7 <= owner < 0.85 else "",
                    to=pick.choice(names),
                    when=_condition(
                        pick, parameters, bool(buttons), earlier + [(f"l{number}", name) for name in names], 2
                    ),
                    urgent=pick.random() < 0.2,
                    restart=pick.random() < 0.3,
                )
            )
        layers.append(
            Layer(
                name=f"l{number}", start=pick.choice(names), lanes=lanes, states=states, transitions=tuple(transitions)
            )
        )
    assumptions = (_condition(pick, parameters, False, [], 1, timed=False),) if pick.random() < 0.25 else ()
    return Character(
        name=f"Random {seed}",
        rate=10,
        flicker_window=pick.choice([0.0, 0.2, 0.3, 0.4]),
        parameters=tuple(parameters),
        assumptions=assumptions,
        controls=Controls(buttons=buttons),
        clips=clips,
        layers=tuple(layers),
    )


def _condition(
    pick: random.Random,
    parameters: list[Parameter],
    buttons: bool,
    states: list[tuple[str, str]],
    depth: int,
    timed: bool = True,
) -> str:
    def again(less: int = 1) -> str:
        return _condition(pick, parameters, buttons, states, depth - less, timed)

    if depth > 0 and pick.random() < 0.6:
        kinds = ["and", "or", "not", *(["for", "within"] if timed else [])]
        kind = pick.choice(kinds)
        if kind == "not":
            return f"not ({again()})"
        if kind in ("for", "within"):
            return f"({again()}) {kind} {pick.choice(['0', '1', '2', '3'])} ticks"
        return f"({again()}) {kind} ({again()})"
    if timed and pick.random() < 0.3:
        layer, state = pick.choice(states)
        return pick.choice(
            [
                f"stay {pick.choice(['<', '<=', '=', '!=', '>', '>='])} {pick.randint(0, 3)} ticks",
                f"stay between 1 ticks and {pick.randint(1, 3)} ticks",
                "clip done",
                f"in {layer}.{state}",
            ]
        )
    if buttons and pick.random() < 0.3:
        return f"jump {pick.choice(['pressed', 'released', 'held'])}"
    parameter = pick.choice(parameters)
    if parameter.kind == "number":
        left = pick.choice(["speed", "speed", "speed", "abs(speed)", "speed * 2", "-speed", "min(speed, 1)"])
        return f"{left} {pick.choice(['<', '<=', '=', '>', '>='])} {pick.choice(['-1', '0', '1', '2'])}"
    if parameter.kind == "whole":
        return f"lives {pick.choice(['<', '=', '!=', '>='])} {pick.choice(['0', '1', '1.5', '2'])}"
    if parameter.kind == "choice":
        return f"mood {pick.choice(['=', '!='])} {pick.choice(['calm', 'angry'])}"
    return parameter.name
