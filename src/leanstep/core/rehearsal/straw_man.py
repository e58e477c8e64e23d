"""The straw man: a figure to practise strikes on, which stands, is stunned, and guards where it is told to."""

from __future__ import annotations

from leanstep.core.character.body import Body
from leanstep.core.character.clips import ActionBox, BoxKey, Cel, Clip
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter

NAME = "straw man"
LONGEST_STUN = 100_000.0


def straw_man(beside: Character) -> Character:
    """A straw man as tall as a character, on its course and at its rate.

    Its flag ``braced`` says whether it guards.
    """
    body = beside.body
    above = body.model == "above"
    width, height = body.width, body.depth if above else body.height
    box = ActionBox(name="straw", kind="vulnerable", keys=(BoxKey(cel=0, box=(-width / 2, 0.0, width, height)),))
    clips = tuple(
        Clip(name=name, loop="repeat", cels=(Cel(frame=0, ticks=6.0),), boxes=(box,))
        for name in ("stands", "stunned", "braced")
    )
    return Character(
        name=NAME,
        rate=beside.rate,
        parameters=(
            Parameter(name="hit", kind="pulse"),
            Parameter(name="stun", kind="whole", max=LONGEST_STUN, countdown=True),
            Parameter(name="braced", kind="flag"),
        ),
        clips=clips,
        layers=(
            Layer(
                name="base",
                states=tuple(State(name=clip.name, clip=clip.name, safe=False) for clip in clips),
                transitions=(
                    Transition(to="stunned", when="hit or stun > 0"),
                    Transition(source="stunned", to="stands", when="stun = 0"),
                    Transition(source="stands", to="braced", when="braced"),
                    Transition(source="braced", to="stands", when="not braced"),
                ),
            ),
        ),
        body=Body(
            model=body.model,
            walk_speed=0.0,
            run_speed=0.0,
            jump="",
            run="",
            width=width,
            height=body.height,
            depth=body.depth,
        ),
        course=beside.course,
        contact=ContactRules(guards="braced", hit="hit", stun="stun"),
    )
