"""Short ways to write characters in tests."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter

DEMO = Path(__file__).parents[2] / "demo"
DOCS = DEMO.parent / "docs"

PARAMETERS = (
    Parameter(name="speed", min=0.0, max=8.0, unit="m/s"),
    Parameter(name="lives", kind="whole", min=0, max=3),
    Parameter(name="grounded", kind="flag"),
    Parameter(name="hurt", kind="pulse"),
    Parameter(name="mood", kind="choice", choices=("calm", "angry")),
)


def sketch(*transitions: Transition, states: str | tuple[State, ...] = "a b", **values: Any) -> Character:
    """A character without art: states by name, transitions as made by :func:`way`."""
    made = tuple(State(name=name) for name in states.split()) if isinstance(states, str) else states
    values.setdefault("parameters", PARAMETERS)
    values.setdefault("controls", Controls(buttons=(Button(name="jump", keys=("Space",)),)))
    return Character(name="Sketch", layers=(Layer(name="base", states=made, transitions=transitions),), **values)


def way(path: str, when: str = "true", **values: Any) -> Transition:
    """A transition from text: ``a>b``, ``lane:low>b`` or ``>b`` for the whole graph."""
    source, _, target = path.partition(">")
    if source.startswith("lane:"):
        return Transition(from_lane=source[5:], to=target, when=when, **values)
    return Transition(source=source, to=target, when=when, **values)
