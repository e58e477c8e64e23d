"""What several fields of a part must be together for a document to be opened at all."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable, Iterator, Sequence
from pathlib import PurePosixPath
from typing import Any

from leanstep.core.character.blends import Axis, BlendSpace
from leanstep.core.character.clips import ActionBox, Clip, Contact, Phase, Playback, Span, Travel
from leanstep.core.character.cut_outs import MOST_DRAWN, MOST_PARTS, CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, Transition
from leanstep.core.character.inputs import LARGEST, Parameter
from leanstep.core.character.names import name_fault
from leanstep.core.character.part import Part
from leanstep.core.character.pins import Pin
from leanstep.core.character.sheets import MOST_PIXELS, Cut, Exchange, Ground, Sheet
from leanstep.core.character.takes import Beginning

LEAST_STEP = 1e-9
"""The least ruling of an axis: squares of distances are counted in rulings."""
MOST_SHEETS = 256
"""Sheets a character can have."""
BODY = (
    *(
        "x",
        "y",
        "vx",
        "vy",
        "facing",
        "grounded",
        "climbing",
        "blocked",
        "jump_held",
        "lift",
        "rise",
        "heading",
        "speed",
    ),
    *("pushing", "leading", "was_x", "was_y", "goal_x", "goal_y", "stepping", "asked", "following"),
    *("mode", "push", "push_up", "wide", "high", "slope", "turning", "side", "travel", "travel_up", "travels"),
    *("grace", "buffer"),
)
"""What a take that begins in the middle says of the body."""
Fault = tuple[str, str, str]
"""Where it is, what is wrong, and what to do."""


def _parameter(one: Parameter, document: Character) -> Iterator[Fault]:
    if one.kind == "bearing" and (one.min is not None or one.max is not None):
        yield "", "a bearing goes all the way round and has no min and max", "Take them out."
    if one.low > one.high:
        yield "", f"min {one.low:g} is above max {one.high:g}", "Swap them."
    if one.kind == "whole" and math.ceil(one.low) > math.floor(one.high):
        yield "", "no whole number lies between min and max", "Widen the range."
    if one.kind == "choice":
        if not one.choices:
            yield "", "a choice needs choices", 'Write "choices": ["one", "another"].'
        if len(set(one.choices)) != len(one.choices):
            yield "", "a choice is listed twice", "Remove one."
        for choice in one.choices:
            if fault := name_fault(choice):
                yield "", fault, "Rename the choice."
    if one.once_per is not None and one.kind != "pulse":
        yield "", "once_per is for pulses", "Take it out, or make it a pulse."
    if one.per_second is not None and (one.kind not in ("number", "bearing") or one.owner in ("graph", "formula")):
        reason = "a limit on how fast it changes (per_second) is for numbers and bearings from outside"
        yield "", reason, "Take it out, or let game, controls or body set it."
    if one.chatters and one.kind != "flag":
        yield "", "only a flag can chatter", "Give a number a wobble instead."
    if one.countdown:
        if (one.kind, one.owner) != ("whole", "game"):
            yield (
                "",
                "only a whole that the game sets can be a countdown",
                "Make it a whole of the game, or let it not count.",
            )
        if one.low != 0 or one.rest not in (None, 0):
            yield "", "a countdown goes down to 0 and rests there", "Take min and rest out."
    for field in ("rest", "start"):
        value = getattr(one, field)
        if value is not None and not _fits(one, value):
            yield "", f"{field} is {value!r}, which is no value of it", "Write a value of its kind and range."


def _fits(parameter: Parameter, value: float | bool | str) -> bool:
    if parameter.kind in ("flag", "pulse"):
        return isinstance(value, bool)
    if parameter.kind == "choice":
        return value in parameter.choices
    if parameter.kind == "bearing":
        return not isinstance(value, bool | str)
    if isinstance(value, bool | str) or not parameter.low <= value <= parameter.high:
        return False
    return parameter.kind == "number" or float(value).is_integer()


def _sheet(sheet: Sheet, document: Character) -> Iterator[Fault]:
    if len(sheet.parts) > MOST_PARTS:
        yield "parts", f"{len(sheet.parts)} of them are too many", f"{MOST_PARTS} are the most: put some together."
    for image in sheet.all_images:
        path = PurePosixPath(image)
        if "\0" in image:
            yield "", "the image's name holds a zero character", "Write the name of a file."
        up = next((at for at, part in enumerate(path.parts) if part != ".."), len(path.parts))
        if "\\" in image or path.is_absolute() or ".." in path.parts[up:] or ":" in image:
            reason = f"the image {image!r} is not named by a path from the file's folder"
            yield "", reason, "Write one with /, like art/keeper.png or ../art/keeper.png."


def _ground(ground: Ground, document: Character) -> Iterator[Fault]:
    yield from _colour(ground.colour)


def _exchange(exchange: Exchange, document: Character) -> Iterator[Fault]:
    yield from _colour(exchange.was)
    yield from _colour(exchange.to)


def _colour(text: str) -> Iterator[Fault]:
    if re.fullmatch("#[0-9a-fA-F]{6}", text) is None:
        yield "", f"{text!r} is no colour", "Write one like #ff00ff."


def _cut(cut: Cut, document: Character) -> Iterator[Fault]:
    pairs = [pair if isinstance(pair, tuple) else (pair, pair) for pair in (cut.margin, cut.gap)]
    fit = all(len(pair) == 2 and 0 <= min(pair) <= max(pair) <= MOST_PIXELS for pair in pairs)
    if cut.way == "size" and (min(cut.width, cut.height) < 1 or not fit):
        yield "", "the cell needs a width and height, margin and gap may not be below 0", "Write pixels."


def _playback(playback: Playback, document: Character) -> Iterator[Fault]:
    if playback.min > playback.max:
        yield "", f"min {playback.min:g} is above max {playback.max:g}", "Swap them."


def _clip(clip: Clip, document: Character) -> Iterator[Fault]:
    for before, after in itertools.pairwise(sorted(clip.phases, key=lambda one: one.start)):
        if before.end > after.start:
            reason = (
                f"its phases {before.kind} up to tick {before.end:g} and {after.kind} from tick {after.start:g} overlap"
            )
            yield "", reason, "End the one where the other starts."
    names = [one.name for one in clip.boxes]
    for name in dict.fromkeys(names):
        if names.count(name) > 1:
            yield "", f"{names.count(name)} of its boxes are called {name!r}", "Call one of them something else."
    placed: tuple[tuple[str, Sequence[ActionBox | Pin]], ...] = (("box", clip.boxes), ("pin point", clip.pins))
    for what, part in ((what, part) for what, parts in placed for part in parts):
        past = next((cel for cel in _cels_of(part) if cel >= len(clip.cels)), None)
        if past is not None:
            reason = f"its {what} {part.name!r} lies on cel {past}, and counted from 0 there is none"
            yield "", reason, "Put it on another one, or add cels."


def _cels_of(part: ActionBox | Pin) -> list[int]:
    """The cels on which it is keyed."""
    return [key.cel for key in part.keys]


def _keyed_on_cels(part: ActionBox | Pin, document: Character) -> Iterator[Fault]:
    if not part.name.strip():
        yield "", "it has no name", "Give it one."
    if not part.keys:
        yield "", "it lies on no cel", "Give it a key, or take it out."
    for before, after in itertools.pairwise(_cels_of(part)):
        if before >= after:
            yield "", f"its key on cel {after} does not come after that on cel {before}", "Put them in order."


def _ends_after_start(part: Span | Contact | Phase, document: Character) -> Iterator[Fault]:
    if part.start >= part.end:
        yield "", "its end is not after its start", "Write start below end, in ticks."


def _travel(travel: Travel, document: Character) -> Iterator[Fault]:
    if not travel.keys:
        yield "", "the path has no keys", "Give it one, or take the path out."
    for before, after in itertools.pairwise(travel.keys):
        if before.at == after.at:
            yield "", f"two keys lie at tick {after.at:g}", "Move one of them."
        if before.at > after.at:
            yield "", f"the key at tick {after.at:g} comes after that at {before.at:g}", "Put them in order of time."
    if travel.keys and not any(key.x or key.y for key in travel.keys):
        yield "", "the path has no length", "Move one of its keys, or take the path out."


def _in_order(part: Track | Reach, document: Character) -> Iterator[Fault]:
    keys: tuple[PartKey | ReachKey, ...] = part.keys
    for before, after in itertools.pairwise(keys):
        if before.at == after.at:
            yield f"part {part.part}", f"two keys lie at tick {after.at:g}", "Move one of them."
        if before.at > after.at:
            reason = f"the key at tick {after.at:g} comes after that at {before.at:g}"
            yield f"part {part.part}", reason, "Put them in order of time."


def _cut_out(cut_out: CutOut, document: Character) -> Iterator[Fault]:
    if cut_out.count > MOST_DRAWN:
        reason = f"its {cut_out.count} frames are too many"
        yield "", reason, f"Let it be shorter, or each frame longer: {MOST_DRAWN} are the most."
    for parts in (cut_out.tracks, cut_out.reaches):
        names = [one.part for one in parts]
        for name in dict.fromkeys(names):
            if names.count(name) > 1:
                yield "", f"part {name} stands there {names.count(name)} times", "Put its keys together."


def _outlined(part: CutOutPart, document: Character) -> Iterator[Fault]:
    if 0 < len(part.outline) < 3:
        yield "outline", f"{len(part.outline)} corners go round nothing", "Give it three at least."


def _blend(blend: BlendSpace, document: Character) -> Iterator[Fault]:
    if not 1 <= len(blend.axes) <= 2:
        yield "", f"it has {len(blend.axes)} axes", "Give it one or two."
    for axis in blend.axes:
        for fault in _axis(axis, axis.parameter in document.bearings):
            yield f"axis {axis.parameter}", *fault
    if len({axis.parameter for axis in blend.axes}) < len(blend.axes):
        yield "", "both axes read the same", "Let one read something else."
    if any(len(sample.at) != len(blend.axes) for sample in blend.samples):
        yield "", "a sample's place has the wrong count of numbers", "Write one an axis."


def _axis(axis: Axis, is_round: bool) -> Iterator[tuple[str, str]]:
    if is_round and (axis.min is not None or axis.max is not None):
        yield "a bearing goes all the way round and has no min and max", "Take them out."
    if not is_round and axis.low >= axis.high:
        yield f"its min {axis.low:g} is not below its max {axis.high:g}", "Widen it."
    if not is_round and max(abs(axis.low), abs(axis.high)) > LARGEST:
        yield f"its range is beyond {LARGEST:g}", "Write smaller numbers."
    if not (axis.step is None and is_round) and not LEAST_STEP <= axis.ruling <= LARGEST:
        way_out = f"Write a step in the parameter's unit, {LEAST_STEP:g} at least."
        yield f"its step is {axis.ruling:g}, which is not far enough above 0", way_out


def _layer(layer: Layer, document: Character) -> Iterator[Fault]:
    if not layer.states:
        yield "", "it has no states", "Give it at least one state."


def _transition(way: Transition, document: Character) -> Iterator[Fault]:
    if way.source and way.from_lane:
        yield "", "it has both from and from_lane", "Keep one of them; neither means the whole graph."


def _beginning(begins: Beginning, document: Character) -> Iterator[Fault]:
    if any(isinstance(one.value, str) or one.value < 0 for one in begins.presses):
        yield "presses", "a press is below 0 ticks old", "Write whole numbers from 0 on, or keep the take anew."
    for name in begins.body:
        if name not in BODY:
            yield "", f"the body has no {name}", f"It has {', '.join(BODY)}."


def _character(character: Character, document: Character) -> Iterator[Fault]:
    if len(character.sheets) > MOST_SHEETS:
        reason = f"there are {len(character.sheets)} of them, and at most {MOST_SHEETS} are read"
        yield "sheets", reason, "Lay them together."


TOGETHER: dict[type[Part], tuple[Callable[[Any, Character], Iterator[Fault]], ...]] = {
    Parameter: (_parameter,),
    Sheet: (_sheet,),
    Ground: (_ground,),
    Exchange: (_exchange,),
    Cut: (_cut,),
    Playback: (_playback,),
    Span: (_ends_after_start,),
    Contact: (_ends_after_start,),
    Phase: (_ends_after_start,),
    Clip: (_clip,),
    ActionBox: (_keyed_on_cels,),
    Pin: (_keyed_on_cels,),
    Travel: (_travel,),
    Track: (_in_order,),
    Reach: (_in_order,),
    CutOut: (_cut_out,),
    CutOutPart: (_outlined,),
    BlendSpace: (_blend,),
    Layer: (_layer,),
    Transition: (_transition,),
    Beginning: (_beginning,),
    Character: (_character,),
}
