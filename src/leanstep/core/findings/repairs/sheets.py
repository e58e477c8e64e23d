"""Repairs of sheets and body boxes."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.edits import by_number, change
from leanstep.core.character.sheets import Scale
from leanstep.core.findings.repairs.registry import Repair, clip_of, mends, sheet_of
from leanstep.core.findings.results import Finding
from leanstep.core.sheets import scaling
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.recutting import with_rect
from leanstep.core.wording import counted


@mends("body.size")
def _fitting_body(character: Character, finding: Finding) -> Iterator[Repair]:
    """A body as high as the figure, and as wide in proportion as it was."""
    body = character.body
    high = max(1.0, float(round(finding.details["height"])))
    wide = max(1.0, float(round(body.width * high / body.height)))
    sentence = f"The body is {high:g} units high and {wide:g} wide, instead of {body.height:g} and {body.width:g}."
    yield Repair(sentence, change(character, ("body",), height=high, width=wide))


@mends("sheet.cut-through")
def _whole(character: Character, finding: Finding) -> Iterator[Repair]:
    """Rectangles of their own for frames that are cut through, feet staying where they are on the image."""
    at = sheet_of(character, finding.details["sheet"])
    sheet = character.sheets[at]
    for margin in (1, 0):
        cut, feet = sheet.cut, dict(sheet.feet)
        for number, (rect, foot) in finding.details["whole"].items():
            x, y, right, low = (
                rect[0] - margin,
                rect[1] - margin,
                rect[0] + rect[2] + margin,
                rect[1] + rect[3] + margin,
            )
            x, y = max(0, x), max(0, y)
            if sheet.size:
                right, low = min(right, sheet.size[0]), min(low, sheet.size[1])
            cut = with_rect(cut, int(number), Rect(x, y, right - x, low - y))
            feet[number] = (foot[0] - x, foot[1] - y)
        count = len(finding.details["whole"])
        yield Repair(
            f"{counted(count, 'frame')} of {sheet.name} {'gets a rectangle' if count == 1 else 'get rectangles'} of "
            f"{'its' if count == 1 else 'their'} own around the whole drawing.",
            change(character, ("sheets", at), cut=cut, feet=by_number(feet)),
        )


@mends("frame.outside-box")
def _lower_boxes(character: Character, finding: Finding) -> Iterator[Repair]:
    """Body boxes that reach down to the feet."""
    details = finding.details
    if "clip" in details:
        yield _one_box(character, finding, f"The body box of clip {details['clip']} reaches down to the feet.")
    elif "boxes" in details:
        at = sheet_of(character, details["sheet"])
        boxes = character.sheets[at].boxes | {
            str(one): tuple(box) for one, box in zip(details["frames"], details["boxes"])
        }
        sentence = f"The body boxes of {counted(len(details['frames']), 'frame')} reach down to the feet."
        yield Repair(sentence, change(character, ("sheets", at), boxes=by_number(boxes)))


@mends("frame.box-jumps")
def _still_box(character: Character, finding: Finding) -> Iterator[Repair]:
    """One body box for all of a clip."""
    yield _one_box(character, finding, f"Clip {finding.details['clip']} gets one body box for all of it.")


def _one_box(character: Character, finding: Finding, sentence: str) -> Repair:
    at, _ = clip_of(character, finding)
    return Repair(sentence, change(character, ("clips", at), box=tuple(finding.details["box"])))


@mends("sheet.scale")
def _fitting(character: Character, finding: Finding) -> Iterator[Repair]:
    """A scale at which figures stand about as high as the others."""
    at, factor = sheet_of(character, finding.details["sheet"]), finding.details["factor"]
    before = character.sheets[at].scale or Scale()
    scale = msgspec.structs.replace(before, by=before.by * factor, height=before.height * factor)
    sentence = f"Sheet {finding.details['sheet']} is scaled by {scaling.in_words(factor)}."
    yield Repair(sentence, change(character, ("sheets", at), scale=scale))
