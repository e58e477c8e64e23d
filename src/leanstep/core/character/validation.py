"""Rules a document must keep to be opened at all.

What a person could be half way through (a condition that names something unknown, a missing image) is not here: such a
character opens, and the fault is a finding.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from pathlib import PurePosixPath
from typing import Any

import msgspec

from leanstep.core.character import motion_rules
from leanstep.core.character.model import ANY, Axis, Beginning, Character, Parameter
from leanstep.core.character.part import Part
from leanstep.core.errors import LeanStepError

NAME = re.compile(r"[A-Za-z_][A-Za-z0-9_]*\Z")
WORD = re.compile(r"[A-Za-z_][\w-]*")
"""What a layer or a state must be to stand in a condition without quotes."""
RESERVED = frozenset(
    {"and", "or", "not", "for", "within", "between", "abs", "min", "max", "true", "false"}
    | {"stay", "clip", "in", "at", "span", "since", "pressed", "released", "held", "buffered"}
)
LARGEST = 1e15
"""Bound of a parameter's range: beyond it doubles no longer tell whole numbers apart."""
MOST_PIXELS = 65_535
"""Pixels that a side of an image can have at all."""
LEAST_STEP = 1e-9
"""The least ruling of an axis: squares of distances are counted in rulings."""
MOST_SHEETS = 256
"""Sheets a character can have."""
LEAST_SCALE, MOST_SCALE = 1 / 64, 64.0
"""By how much frames can be enlarged."""
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
LONGEST_NAME = 80
LONGEST_WAIT = 10.0
"""Seconds that a body remembers a press or the ground."""
LONGEST_TAKE = 50_000_000
"""Ticks: more than a week at 60 a second."""


def name_fault(name: str, in_conditions: bool = True) -> str | None:
    """Why ``name`` cannot be used as a name, as a clause; None when it can."""
    if not name.strip() or name != name.strip():
        return "a name may not be empty or begin or end with a space"
    if len(name) > LONGEST_NAME:
        return f"a name has at most {LONGEST_NAME} characters"
    if any(ord(letter) < 32 or letter == '"' for letter in name):
        return "a name may not hold line breaks, tabs or double quotes"
    if in_conditions and not NAME.match(name):
        return f"{name!r} cannot be written in a condition: use letters, digits and _, and begin with a letter"
    if in_conditions and name in RESERVED:
        return f"{name!r} is a word of the condition language"
    return None


def reference(layer: str, state: str) -> str:
    """How a condition names a state: ``LAYER.STATE``, in quotes where a name is more than a word."""
    plain = WORD.fullmatch(layer) and WORD.fullmatch(state)
    return f"{layer}.{state}" if plain else f'"{layer}"."{state}"'


def validate(character: Character, label: str) -> None:
    """Raise :class:`LeanStepError` for the first rule the document breaks."""

    def fail(place: str, reason: str, way_out: str) -> None:
        raise LeanStepError(f"{label}, {place}", reason, way_out)

    def unique(parts: Iterable[Any], place: str, in_conditions: bool) -> None:
        seen: set[str] = set()
        for part in parts:
            if fault := name_fault(part.name, in_conditions):
                fail(place, fault, "Rename it.")
            if part.name in seen:
                fail(place, f"two of them are called {part.name!r}", "Rename one of them.")
            seen.add(part.name)

    for place, value in _numbers(character, ""):
        if not math.isfinite(value):
            fail(place, "the number is not finite", "Write an ordinary number.")
    if not 1 <= character.rate <= 1000:
        fail("rate", f"{character.rate:g} ticks a second cannot be stepped", "Write a number from 1 to 1000.")
    if not 0 <= character.flicker_window <= 10:
        fail("flicker_window", f"{character.flicker_window:g} s is out of range", "Write seconds from 0 to 10.")
    controls = character.controls
    named: Sequence[Any] = [*character.parameters, *controls.buttons, *controls.sticks]
    unique(named, "parameters and controls", True)
    for parameter in character.parameters:
        _check_parameter(parameter, fail)
    for one in controls.buttons:
        if not 0 <= one.within <= LONGEST_WAIT:
            fail(f"button {one.name!r}", f"within must be from 0 to {LONGEST_WAIT:g} seconds", "Write for example 0.1.")
    for stick in controls.sticks:
        if not 0 <= stick.dead_zone < 1 or not 0 <= stick.release <= 10:
            way_out = "Write a dead zone from 0 to below 1, and seconds from 0 to 10."
            fail(f"stick {stick.name!r}", "its dead zone or release is out of range", way_out)
    if len(character.sheets) > MOST_SHEETS:
        fail(
            "sheets",
            f"there are {len(character.sheets)} of them, and at most {MOST_SHEETS} are read",
            "Lay them together.",
        )
    for parts, place in ((character.sheets, "sheets"), (character.clips, "clips"), (character.blends, "blends")):
        unique(parts, place, False)
    unique(character.takes, "takes", False)
    unique(character.layers, "layers", False)
    for layer in character.layers:
        unique(layer.states, f"states of layer {layer.name!r}", False)
        if not layer.states:
            fail(f"layer {layer.name!r}", "it has no states", "Give it at least one state.")
        for state in layer.states:
            if not 0 <= state.grace <= 3600:
                fail(f"state {state.name!r}", "grace is out of range", "Write seconds from 0 to 3600.")
            if state.cap is not None and not 0 <= state.cap <= LARGEST:
                fail(f"state {state.name!r}", "its cap is below 0", "Write a speed in units a second.")
            if state.fall_cap is not None and not 0 <= state.fall_cap <= LARGEST:
                fail(f"state {state.name!r}", "its fall_cap is below 0", "Write a speed in units a second.")
            if state.box and (len(state.box) != 2 or min(state.box) <= 0):
                fail(f"state {state.name!r}", "its box must be a width and a height above 0", "Write [20, 30].")
            if state.push and len(state.push) != 2:
                fail(f"state {state.name!r}", "its push must be two numbers", "Write [along, up] in units a second.")
            _check_cel(state.held, f"state {state.name!r}, held", fail)
        for index, transition in enumerate(layer.transitions):
            if not 0 <= transition.fade <= 60:
                fail(f"layer {layer.name!r}, transition {index}", "fade is out of range", "Write seconds from 0 to 60.")
            if transition.source and transition.from_lane:
                fail(
                    f"layer {layer.name!r}, transition {index}",
                    "it has both from and from_lane",
                    "Keep one of them; neither means the whole graph.",
                )
    for sheet in character.sheets:
        _check_sheet(sheet, fail)
    for clip in character.clips:
        _check_clip(clip, fail)
        motion_rules.check_clip(clip, fail)
        _check_marks(clip, fail)
        unique(clip.spans, f"spans of clip {clip.name!r}", True)
    unique(character.squashes, "squashes", False)
    unique(character.leans, "leans", False)
    motion_rules.check_shapes(character.squashes, character.leans, fail)
    bearings = character.bearings
    for blend in character.blends:
        if not 1 <= len(blend.axes) <= 2:
            fail(f"blend space {blend.name!r}", f"it has {len(blend.axes)} axes", "Give it one or two.")
        for axis in blend.axes:
            _check_axis(axis, f"blend space {blend.name!r}, axis {axis.parameter}", axis.parameter in bearings, fail)
        if len({axis.parameter for axis in blend.axes}) < len(blend.axes):
            fail(f"blend space {blend.name!r}", "both axes read the same", "Let one read something else.")
        if not 0 <= blend.sticky <= 1000:
            fail(f"blend space {blend.name!r}", "sticky is below 0", "Write rulings, such as 0.1.")
        for sample in blend.samples:
            if len(sample.at) != len(blend.axes):
                fail(
                    f"blend space {blend.name!r}",
                    "a sample's place has the wrong count of numbers",
                    "Write one an axis.",
                )
            if any(place != ANY and abs(place) > LARGEST for place in sample.at):
                fail(f"blend space {blend.name!r}", f"a sample lies beyond {LARGEST:g}", "Write smaller numbers.")
            if not 0 <= sample.phase < 1:
                fail(f"blend space {blend.name!r}", "a sample's phase is no share", "Write a share from 0 to below 1.")
    if len(character.course.start) != 2:
        fail("course.start", "it needs two numbers", "Write [x, y].")
    body = character.body
    if min(body.width, body.height, body.depth, body.cell) <= 0:
        fail("body", "width, height, depth and cell must be above 0", "Write them in units.")
    if not 0 <= body.slope < 90 or body.turn_time < 0:
        fail("body", "slope must be degrees from 0 to below 90, turn_time 0 or more seconds", "Write ordinary numbers.")
    if not (0 <= body.jump_grace <= LONGEST_WAIT and 0 <= body.jump_buffer <= LONGEST_WAIT):
        fail("body", f"jump_grace and jump_buffer must be from 0 to {LONGEST_WAIT:g} seconds", "Write for example 0.1.")
    if min(body.turn_rate, body.along_after, body.along_wait, body.along_back) < 0 or not 0 <= body.along <= 1:
        fail(
            "body",
            "a turn rate or a time is below 0, or along is no share",
            "Write along from 0 to 1, and the others from 0 on.",
        )
    for take in character.takes:
        if not 0 <= take.ticks <= LONGEST_TAKE:
            fail(f"take {take.name!r}", f"{take.ticks} ticks is out of range", "Write a count of ticks.")
        if any(change.at < 0 for change in take.changes):
            fail(f"take {take.name!r}", "a change lies before tick 0", "Write ticks from 0 on.")
        if take.begins is not None:
            _check_beginning(take.begins, f"take {take.name!r}, begins", fail)


def _check_axis(axis: Axis, place: str, is_round: bool, fail: Any) -> None:
    if is_round and (axis.min is not None or axis.max is not None):
        fail(place, "a bearing goes all the way round and has no min and max", "Take them out.")
    if not is_round and axis.low >= axis.high:
        fail(place, f"its min {axis.low:g} is not below its max {axis.high:g}", "Widen it.")
    if not is_round and max(abs(axis.low), abs(axis.high)) > LARGEST:
        fail(place, f"its range is beyond {LARGEST:g}", "Write smaller numbers.")
    if not (axis.step is None and is_round) and not LEAST_STEP <= axis.ruling <= LARGEST:
        way_out = f"Write a step in the parameter's unit, {LEAST_STEP:g} at least."
        fail(place, f"its step is {axis.ruling:g}, which is not far enough above 0", way_out)


def _check_beginning(begins: Beginning, place: str, fail: Any) -> None:
    counts = [begins.freeze, *begins.memories.values(), *(one.ticks for one in begins.left)]
    for one in begins.layers:
        counts += [one.stay, one.playhead, one.pick, *one.fade]
    ages = [one.value for one in begins.presses]
    if any(isinstance(age, str) or age < 0 for age in ages) or not all(0 <= count < 1 << 53 for count in counts):
        fail(place, "a count is below 0 or beyond measure", "Write whole numbers from 0 on, or keep the take anew.")
    strange = [name for name in begins.body if name not in BODY]
    if strange:
        fail(place, f"the body has no {strange[0]}", f"It has {', '.join(BODY)}.")


def _check_parameter(parameter: Parameter, fail: Any) -> None:
    place = f"parameter {parameter.name!r}"
    if max(abs(parameter.low), abs(parameter.high)) > LARGEST:
        fail(place, f"its range goes beyond {LARGEST:g}", "Write a smaller min and max.")
    if parameter.kind == "bearing" and (parameter.min is not None or parameter.max is not None):
        fail(place, "a bearing goes all the way round and has no min and max", "Take them out.")
    if parameter.low > parameter.high:
        fail(place, f"min {parameter.low:g} is above max {parameter.high:g}", "Swap them.")
    if parameter.kind == "whole" and math.ceil(parameter.low) > math.floor(parameter.high):
        fail(place, "no whole number lies between min and max", "Widen the range.")
    if parameter.kind == "choice":
        if not parameter.choices:
            fail(place, "a choice needs choices", 'Write "choices": ["one", "another"].')
        if len(set(parameter.choices)) != len(parameter.choices):
            fail(place, "a choice is listed twice", "Remove one.")
        for choice in parameter.choices:
            if fault := name_fault(choice):
                fail(place, fault, "Rename the choice.")
    if parameter.wobble is not None and parameter.wobble < 0:
        fail(place, "wobble is below 0", "Write a width of 0 or more.")
    if parameter.once_per is not None and (parameter.kind != "pulse" or not 0 <= parameter.once_per <= 3600):
        fail(place, "once_per is for pulses, in seconds from 0 to 3600", "Take it out, or make it a pulse.")
    if parameter.per_second is not None:
        if parameter.kind not in ("number", "bearing") or parameter.owner in ("graph", "formula"):
            reason = "a limit on how fast it changes (per_second) is for numbers and bearings from outside"
            fail(place, reason, "Take it out, or let game, controls or body set it.")
        if not 0 < parameter.per_second <= LARGEST:
            fail(place, f"per_second is {parameter.per_second:g}", f"Write an amount above 0, up to {LARGEST:g}.")
    if parameter.chatters and parameter.kind != "flag":
        fail(place, "only a flag can chatter", "Give a number a wobble instead.")
    for field in ("rest", "start"):
        value = getattr(parameter, field)
        if value is not None and not _fits(parameter, value):
            fail(place, f"{field} is {value!r}, which is no value of it", "Write a value of its kind and range.")


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


def _check_clip(clip: Any, fail: Any) -> None:
    place = f"clip {clip.name!r}"
    _check_box(clip.box, place, fail)
    for index, cel in enumerate(clip.cels):
        _check_cel(cel, f"{place}, cel {index}", fail)
    if clip.repeat_from < 0:
        fail(place, "repeat_from is below 0", "Write the number of a cel, from 0.")
    for mark in clip.marks:
        if not 0 <= mark.at <= 1_000_000:
            fail(f"{place}, mark {mark.name!r}", "it lies before the clip's start", "Write ticks from 0 on.")
    for span in clip.spans:
        if not 0 <= span.start < span.end <= 1_000_000:
            fail(f"{place}, span {span.name!r}", "its end is not after its start", "Write start below end, in ticks.")
    playback = clip.playback
    if playback is not None and (playback.at <= 0 or not 0 <= playback.min <= playback.max <= 1000):
        fail(f"{place}, playback", "at must be above 0, and min from 0 to max", "See docs/format.md.")
    if playback is not None:
        _check_cel(playback.resting, f"{place}, resting frame", fail)


def _check_cel(cel: Any, place: str, fail: Any) -> None:
    if cel is not None and (not 0 < cel.ticks <= 1_000_000 or cel.frame < 0):
        fail(place, "frame and ticks must be positive", "Write ticks above 0.")


def _check_marks(clip: Any, fail: Any) -> None:
    """Marks may share a name, but not at one time."""
    seen = set()
    for mark in clip.marks:
        if fault := name_fault(mark.name, False):
            fail(f"marks of clip {clip.name!r}", fault, "Rename it.")
        if (mark.name, mark.at) in seen:
            fail(
                f"marks of clip {clip.name!r}",
                f"two of them are called {mark.name!r} at {mark.at:g}",
                "Move one of them.",
            )
        seen.add((mark.name, mark.at))


def _check_sheet(sheet: Any, fail: Any) -> None:
    place = f"sheet {sheet.name!r}"
    for image in sheet.all_images:
        path = PurePosixPath(image)
        if "\0" in image:
            fail(place, "the image's name holds a zero character", "Write the name of a file.")
        up = next((at for at, part in enumerate(path.parts) if part != ".."), len(path.parts))
        if "\\" in image or path.is_absolute() or ".." in path.parts[up:] or ":" in image:
            reason = f"the image {image!r} is not named by a path from the file's folder"
            fail(place, reason, "Write one with /, like art/keeper.png or ../art/keeper.png.")
    if sheet.size and (len(sheet.size) != 2 or min(sheet.size) < 1):
        fail(place, "size must be width and height in pixels", "Write [width, height].")
    if sheet.foot and len(sheet.foot) != 2:
        fail(place, "foot must be two numbers", "Write [x, y] from the cell's top left corner.")
    if any(len(point) != 2 or not number.isdigit() for number, point in sheet.feet.items()):
        fail(place, "feet must be points by the numbers of frames", 'Write {"3": [x, y]}.')
    for box in (sheet.box, *sheet.boxes.values()):
        _check_box(box, place, fail)
    if any(not number.isdigit() for number in sheet.boxes):
        fail(place, "boxes must be boxes by the numbers of frames", 'Write {"3": [left, bottom, width, height]}.')
    if abs(sheet.box_margin) > MOST_PIXELS:
        fail(place, "box_margin is out of range", "Write a number of pixels.")
    scale = sheet.scale
    if scale is not None and not (
        LEAST_SCALE <= scale.by <= MOST_SCALE
        and LEAST_SCALE <= scale.stretch <= MOST_SCALE
        and 0 <= scale.height <= MOST_PIXELS
    ):
        reason = f"scale must be from {LEAST_SCALE:g} to {MOST_SCALE:g}, a height 0 or more pixels"
        fail(place, reason, 'Write {"by": 2} or {"height": 52}.')
    if any(not number.isdigit() for number in sheet.row_facing):
        fail(place, "row_facing must be left or right by the numbers of rows", 'Write {"0": "left"}.')
    if any(not number.isdigit() for number in sheet.row_bearing):
        fail(place, "row_bearing must be degrees by the numbers of rows", 'Write {"0": 180}.')
    ground = sheet.ground
    if ground is not None:
        if re.fullmatch("#[0-9a-fA-F]{6}", ground.colour) is None or not 0 <= ground.tolerance <= 255:
            fail(place, "ground must be a colour like #ff00ff, with a tolerance from 0 to 255", "See docs/format.md.")
        if any(len(hole) != 2 for hole in ground.holes):
            fail(place, "a hole of the ground must be two numbers", "Write [x, y] in pixels of the image.")
    _check_cut(sheet.cut, place, fail)


def _check_box(box: Any, place: str, fail: Any) -> None:
    if box and (len(box) != 4 or min(box[2:]) <= 0 or max(map(abs, box)) > MOST_PIXELS):
        fail(place, f"{list(box)} is no body box", "Write [left, bottom, width, height] in pixels from the foot.")


def _check_cut(cut: Any, place: str, fail: Any) -> None:
    if min(cut.columns, cut.rows) < 0 or max(cut.columns, cut.rows) > MOST_PIXELS:
        fail(place, "columns and rows must be at least 1", "Write how many there are.")
    pairs = [pair if isinstance(pair, tuple) else (pair, pair) for pair in (cut.margin, cut.gap)]
    if cut.way == "size" and (
        min(cut.width, cut.height) < 1
        or any(len(pair) != 2 or min(pair) < 0 or max(pair) > MOST_PIXELS for pair in pairs)
    ):
        fail(place, "the cell needs a width and height, margin and gap may not be below 0", "Write pixels.")
    for rect in (*cut.rects, *cut.cells.values()):
        if len(rect) != 4 or min(rect) < 0 or min(rect[2:]) < 1 or max(rect) > MOST_PIXELS:
            fail(place, f"{list(rect)} is no rectangle", "Write [x, y, width, height] in pixels.")
    if any(not number.isdigit() for number in cut.cells):
        fail(place, "cells must be rectangles by the numbers of cells", 'Write {"3": [x, y, width, height]}.')


def _numbers(part: Any, place: str) -> Iterable[tuple[str, float]]:
    if isinstance(part, float):
        yield place, part
    elif isinstance(part, Part):
        for field in msgspec.structs.fields(type(part)):
            if field.name != "extra":
                yield from _numbers(getattr(part, field.name), f"{place}.{field.encode_name}".lstrip("."))
    elif isinstance(part, tuple):
        for index, item in enumerate(part):
            yield from _numbers(item, f"{place}[{index}]")
    elif isinstance(part, dict):
        for key, item in part.items():
            yield from _numbers(item, f"{place}.{key}")
