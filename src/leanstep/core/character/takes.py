"""The document's part about input sequences: what they set, where they begin, and what they should do."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import SYMBOL, ChoiceOf, Defines, Names, OwnNames, Settings, Within
from leanstep.core.character.clips import FARTHEST
from leanstep.core.character.part import Part, Valued

LONGEST_TAKE = 50_000_000
"""Ticks: more than a week at 60 a second."""
Count = Annotated[int, Within(0, float(1 << 53), open_high=True)]


class Change(Valued, frozen=True, kw_only=True):
    """From a tick on, the named values hold (pulses: on that tick only)."""

    at: Annotated[int, Within(0, unit="ticks"), "the tick, from 0"]
    set: Annotated[dict[str, float | bool | str], Settings(), "values by the names of parameters, buttons and axes"]


class Expectation(Part, frozen=True, kw_only=True):
    """What a take should do."""

    what: Annotated[
        Literal["end-in", "enter", "never-enter", "mark"], "end in a state, enter it, never enter it, or fire a mark"
    ]
    name: Annotated[str, Names("state", "item", by="what", of={"mark": "mark"}), "of the state or the mark"]
    layer: Annotated[str, Names("layer", "item"), "the state's layer; left out, the first"] = ""
    times: Annotated[int, "a mark fires so often or more"] = 1
    within: Annotated[float | None, "seconds from the take's start that it has; left out, the whole take"] = None


class Standing(Part, frozen=True, kw_only=True):
    """Where a layer is when a take begins."""

    layer: Annotated[str, Names("layer", "item"), "the layer"]
    state: Annotated[str, Names("state", "item"), "its state"]
    stay: Annotated[Count, "ticks in it"] = 0
    playhead: Annotated[Count, "in 1/65536 of a tick"] = 0
    pick: Annotated[Count, "the sample of its blend space"] = 0
    over: Annotated[bool, "its clip is over"] = False
    fading: Annotated[str, Names("state", "item"), "the state left by a crossfade under way"] = ""
    fade: Annotated[
        tuple[int, ...],
        Within(0, float(1 << 53), open_high=True),
        "its pick, playhead, the ticks left, and 1 if it blocks",
    ] = ()


class Given(Valued, frozen=True, kw_only=True):
    """Something that has a value when a take begins."""

    name: Annotated[str, Names(SYMBOL, "item"), "what"]
    value: Annotated[float | bool | str, ChoiceOf("name", "item"), "its value, or how old a press is, in ticks"]


class Left(Part, frozen=True, kw_only=True):
    """A state that was left before a take begins."""

    layer: Annotated[str, Names("layer", "item"), "its layer"]
    state: Annotated[str, Names("state", "item"), "its name"]
    ticks: Annotated[Count, "so many ticks before"]


class Beginning(Valued, frozen=True, kw_only=True):
    """The situation a take begins in, where it is not the character's start."""

    layers: Annotated[tuple[Standing, ...], "where each layer is"] = ()
    values: Annotated[tuple[Given, ...], "of graph and body"] = ()
    presses: Annotated[tuple[Given, ...], "not used yet, with their age in ticks"] = ()
    left: Annotated[tuple[Left, ...], "states whose leaving is asked for"] = ()
    memories: Annotated[
        dict[str, int], Within(0, float(1 << 53), open_high=True), "counts by a key of what is remembered"
    ] = {}
    held: Annotated[tuple[str, ...], Names(SYMBOL, "item"), "buttons"] = ()
    raised: Annotated[tuple[str, ...], Names(SYMBOL, "item"), "pulses of the graph"] = ()
    locks: Annotated[tuple[str, ...], Names("lock", "item"), "names of locks on movement"] = ()
    locked: Annotated[bool, "movement was locked on the tick before"] = False
    freeze: Annotated[Count, "ticks for which time still stands"] = 0
    body: Annotated[dict[str, float | bool], "where it is and how it moves, by name"] = {}


class SecondFigure(Valued, frozen=True, kw_only=True):
    """Somebody else on the course, who can be struck and strikes."""

    who: Annotated[
        Literal["straw man", "itself", "file"],
        "the straw man, which is stunned and can guard, the same character once more, or that of a file",
    ] = "straw man"
    file: Annotated[str, "a character file, from the folder of this one, with /"] = ""
    digest: Annotated[str, "of what it was when the take was made; a change of it is told"] = ""
    x: Annotated[float, Within(-FARTHEST, FARTHEST, "units"), "where it stands"] = 0.0
    y: Annotated[float, Within(-FARTHEST, FARTHEST, "units"), "how high, or seen from above how far up"] = 0.0
    facing: Annotated[Literal["left", "right"], "which way it looks at first"] = "left"
    changes: Annotated[
        tuple[Change, ...], OwnNames("who", "itself"), "what is set of it, by the names it has for it"
    ] = ()


class Take(Part, frozen=True, kw_only=True):
    """An input sequence."""

    name: Annotated[str, Defines("take"), "what it is called"]
    ticks: Annotated[int, Within(0, LONGEST_TAKE, "ticks"), "how long it is"]
    world: Annotated[Literal["body", "free"], "in the free one it also says what the body would have set"] = "body"
    begins: Annotated[Beginning | None, "where it starts in the middle"] = None
    changes: Annotated[tuple[Change, ...], "what is set"] = ()
    expects: Annotated[tuple[Expectation, ...], "what it should do"] = ()
    second: Annotated[SecondFigure | None, "somebody else on the course"] = None
    note: Annotated[str, "for people"] = ""
