"""What a character starts from: an empty one, and the first graph of a figure that stands and walks."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from leanstep.core.character.body import Body
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick

SETS_OFF, STOPS = 12, 6
"""Speeds, in units a second, above which a figure is shown walking and below which standing."""

SHOWN = 0.1
"""Seconds for which standing and walking are shown at least, so that neither only flashes by."""

GIRTH = 0.4
"""A figure's width as a share of its height."""


def empty() -> Character:
    """One state, the controls people expect, and a body that can be steered."""
    state = State(name="idle", lane="ground", restful=True)
    return Character(
        name="Untitled",
        parameters=_of_body(),
        controls=_controls(),
        layers=(Layer(name="base", start="idle", lanes=("ground",), states=(state,)),),
    )


def _of_body() -> tuple[Parameter, ...]:
    return (
        Parameter(name="speed", owner="body", min=0.0, max=240.0, unit="units/s"),
        Parameter(name="rise", owner="body", min=-600.0, max=400.0, unit="units/s"),
        Parameter(name="grounded", kind="flag", owner="body"),
    )


def _controls() -> Controls:
    stick = Stick(name="stick", left=("Left",), right=("Right",), down=("Down",), up=("Up",))
    buttons = (Button(name="jump", keys=("Space",)), Button(name="run", keys=("Shift",)))
    return Controls(sticks=(stick,), buttons=buttons)


def with_directions(document: Character) -> Character:
    """The character with a body seen from above that sets the bearing ``facing``, where it has no bearing yet."""
    if any(one.kind == "bearing" for one in document.parameters):
        return document
    facing = Parameter(
        name=free_name("facing", [one.name for one in document.parameters], "_"), kind="bearing", owner="body"
    )
    body = msgspec.structs.replace(document.body, model="above")
    return msgspec.structs.replace(document, parameters=(*document.parameters, facing), body=body)


def shows_nothing(document: Character) -> bool:
    """Whether no state of the character shows a picture yet."""
    return not any(state.clip or state.blend for layer in document.layers for state in layer.states)


def walking(document: Character, sheet: str, idle: Sequence[int], walk: Sequence[int], height: float) -> Character:
    """A character that shows nothing yet with a figure of ``sheet`` that stands and walks.

    ``idle`` and ``walk`` are the numbers of the frames; ``height`` is how high the figure stands, in pixels, which become
    units.  What the character has else stays; its first layer gets the states.
    """
    taken = [clip.name for clip in document.clips]
    names = [free_name("idle", taken), free_name("walk", taken)]
    clips = tuple(
        Clip(name=name, sheet=sheet, cels=tuple(Cel(frame=frame, ticks=ticks) for frame in frames))
        for name, frames, ticks in zip(names, (idle, walk), (10.0, 6.0))
    )
    states = (
        State(name="idle", lane="ground", clip=names[0], restful=True),
        State(name="walk", lane="ground", clip=names[1]),
    )
    ways = (
        Transition(source="idle", to="walk", when=f"speed > {SETS_OFF} and stay >= {SHOWN} s"),
        Transition(source="walk", to="idle", when=f"speed < {STOPS} and stay >= {SHOWN} s"),
    )
    first = document.layers[0] if document.layers else Layer(name="base")
    layer = Layer(name=first.name, start="idle", lanes=("ground",), states=states, transitions=ways)
    known = {one.name for one in document.parameters}
    parameters = tuple(one for one in _of_body() if one.name not in known)
    body = msgspec.structs.replace(document.body, height=round(height), width=max(4, round(GIRTH * height)))
    return msgspec.structs.replace(
        document,
        clips=(*document.clips, *clips),
        layers=(layer, *document.layers[1:]),
        parameters=(*document.parameters, *parameters),
        controls=document.controls if document.controls != Controls() else _controls(),
        body=body if document.body == Body() else document.body,
    )
