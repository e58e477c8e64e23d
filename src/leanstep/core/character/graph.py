"""The document's part about states and the transitions between them."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import Condition, Defines, Names, Numbers, Within
from leanstep.core.character.clips import Cel, Effect
from leanstep.core.character.inputs import LARGEST
from leanstep.core.character.part import Part

Speed = Annotated[float, Within(0, LARGEST, "units a second")]


class State(Part, frozen=True, kw_only=True):
    """What the character is doing, and what shows it: a clip, a blend space or one ``held`` frame, which is over after its ticks.

    It may ask more of the body while it is active: a ``mode``, a ``cap``, a ``box``; and a ``push`` once, when it is entered.
    """

    name: Annotated[str, Defines("state"), "how conditions and transitions name it"]
    lane: Annotated[str, Defines("lane", "field"), "the lane it lies in"] = ""
    clip: Annotated[str, Names("clip"), "what shows it"] = ""
    blend: Annotated[str, Names("blend"), "a blend space that shows it"] = ""
    held: Annotated[Cel | None, "one frame that shows it"] = None
    clear: Annotated[bool, "layers below are seen behind what it shows"] = False
    restful: Annotated[bool, "a character may stay here when nobody touches anything"] = False
    safe: Annotated[bool, "it cannot be hit, and is meant so"] = False
    ending: Annotated[bool, "a character may stay here for good"] = False
    hold_still: Annotated[bool, "movement is locked while it is active"] = False
    backward: Annotated[bool, "the body may move against the facing"] = False
    face: Annotated[float, "seen from above, the figure turns to the wall it touches, by so many degrees a second"] = (
        0.0
    )
    mode: Annotated[Literal["", "walk", "climb", "float", "still"], "how the body moves meanwhile"] = ""
    cap: Annotated[Speed | None, "the body moves no faster, in units a second"] = None
    fall_cap: Annotated[Speed | None, "it falls no faster"] = None
    box: Annotated[
        tuple[float, ...],
        Numbers(2, "[width, height] in units, such as [20, 30]", size=True),
        "the body box meanwhile: width and height, seen from above width and depth",
    ] = ()
    push: Annotated[
        tuple[float, ...], Numbers(2, "[along, up] in units a second"), "when it is entered: along the facing, and up"
    ] = ()
    squash: Annotated[str, Names("squash"), "begins when it is entered; drawn only"] = ""
    lean: Annotated[str, Names("lean"), "holds while it is active; drawn only"] = ""
    costume: Annotated[str, Names("costume"), "worn in it, whatever is worn else; drawn only"] = ""
    alternate: Annotated[str, Names("alternate"), "moved so in it, whatever is chosen else"] = ""
    expects: Annotated[str, Condition(), "a condition that should hold while it is shown"] = ""
    grace: Annotated[float, Within(0, 3600, "seconds"), "but for so many seconds"] = 0.1
    on_entry: Annotated[tuple[Effect, ...], "effects when it is entered"] = ()
    on_leave: Annotated[tuple[Effect, ...], "effects when it is left"] = ()
    note: Annotated[str, "for people"] = ""


class Transition(Part, frozen=True, kw_only=True, rename={"source": "from"}):
    """A way to the state ``to``: from a state, from every state of a lane, or (neither given) from the whole graph."""

    source: Annotated[str, Names("state", "item"), "the state it leads from"] = ""
    from_lane: Annotated[str, Names("lane", "item"), "the lane it leads from, from every state"] = ""
    to: Annotated[str, Names("state", "item"), "the state it leads to"] = ""
    when: Annotated[str, Condition(), "the condition on which it is taken"] = ""
    urgent: Annotated[bool, "tried before all that are not; it is no flicker"] = False
    restart: Annotated[bool, "it may lead from the state it leads to, which is entered anew"] = False
    fade: Annotated[float, Within(0, 60, "seconds"), "a crossfade"] = 0.0
    interruptible: Annotated[bool, "false: no other transition is taken while its fade runs"] = True
    keep_phase: Annotated[bool, "the new clip goes on where the old one was, as a share of its length"] = False
    squash: Annotated[str, Names("squash"), "begins when it is taken; drawn only"] = ""
    lean: Annotated[str, Names("lean"), "holds until the next; drawn only"] = ""
    ordered: Annotated[bool, "it was put on purpose where it is tried among the others"] = False
    note: Annotated[str, "for people"] = ""


class Layer(Part, frozen=True, kw_only=True):
    """A graph of states."""

    name: Annotated[str, Defines("layer"), "how conditions and takes name it"]
    clear: Annotated[bool, "all its states are"] = False
    start: Annotated[str, Names("state"), "the state it begins in; left out, the first"] = ""
    lanes: Annotated[
        tuple[str, ...], Defines("lane"), "in the order they are drawn; those only states name come behind"
    ] = ()
    states: Annotated[tuple[State, ...], "at least one"] = ()
    transitions: Annotated[tuple[Transition, ...], "the ways between them"] = ()

    @property
    def start_name(self) -> str:
        """The start state's name."""
        return self.start or (self.states[0].name if self.states else "")

    @property
    def lane_names(self) -> tuple[str, ...]:
        """Lanes in order: the declared ones, then those only states name."""
        return tuple(dict.fromkeys((*self.lanes, *(state.lane for state in self.states))))
