"""Pin points that marks and accessories name and no clip has, accessories without a picture, and pin points that jump where the
drawing does not."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.pin_edits import Spot, as_drawn, as_shown, spot_at
from leanstep.core.character.pins import Accessory
from leanstep.core.cut_outs.loading import loaded
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.findings.stand_ins import meant, not_there
from leanstep.core.sheets.analysis import SheetAnalysis
from leanstep.core.sheets.images import CutSheet
from leanstep.core.sheets.pin_guesses import guesses, likeness_of

JUMPS, LEAST = 0.08, 6.0
"""From which share of a frame's height on, and how many pixels at least, a pin point jumps there and back."""
STILL = 0.9
"""How sure it has to be that the drawing stays where the pin point does not."""
OTHER = 0.6
"""How alike the drawing may be where the pin point jumps to."""


@check
def written_pins(evidence: Evidence) -> Iterator[Finding]:
    """Marks and accessories that name what is not there."""
    character = evidence.character
    for clip in character.clips:
        pins = [pin.name for pin in clip.pins]
        for mark in clip.marks:
            if mark.pin and mark.pin not in pins:
                subject = {"clip": clip.name, "mark": mark.name, "pin": mark.pin}
                sentence = f"Mark {mark.name} of clip {clip.name} names the pin point {mark.pin}, which the clip does not have."
                yield written(
                    "pin.missing", "warning", subject, sentence, f"The game is told no place.{meant(mark.pin, pins)}"
                )
    for one in character.accessories:
        for reason, way_out in _broken(character, one):
            sentence = f"Accessory {one.name}: {reason}."
            yield written("accessory.broken", "error", {"accessory": one.name}, sentence, way_out)


def _broken(character: Character, one: Accessory) -> Iterator[tuple[str, str]]:
    """Why an accessory is never seen, and the way out."""
    pins = list(dict.fromkeys(pin.name for clip in character.clips for pin in clip.pins))
    if not one.pin:
        yield "it is pinned to nothing", "Choose a pin point."
    elif one.pin not in pins:
        yield (
            f"no clip has a pin point called {one.pin}",
            f"Draw it in Clips, or choose another one.{meant(one.pin, pins)}",
        )
    clips, sheets = [clip.name for clip in character.clips], [sheet.name for sheet in character.sheets]
    own = next((clip for clip in character.clips if clip.name == one.clip), None)
    if one.clip:
        yield from not_there("clip", one.clip, clips)
    elif one.sheet:
        yield from not_there("sheet", one.sheet, sheets)
    else:
        yield "it has no picture", "Choose a frame for it."
    if own is not None and any(pin.name == one.pin for pin in own.pins):
        yield f"its clip {one.clip} has the pin point {one.pin}, so it is pinned to itself", "Choose another clip."


@check
def pictures_of_accessories(evidence: Evidence) -> Iterator[Finding]:
    """Accessories whose frame is not on their sheet."""
    for one in evidence.character.accessories if evidence.folder is not None else ():
        seen = evidence.facts.get(one.sheet) if not one.clip else None
        if isinstance(seen, SheetAnalysis) and not (one.frame < len(seen.rects) and one.frame not in seen.empty):
            reason = "nothing is drawn there" if one.frame < len(seen.rects) else f"that has {len(seen.rects)}"
            sentence = f"Accessory {one.name}: it is frame {one.frame} of sheet {one.sheet}, and {reason}."
            yield written(
                "accessory.broken", "error", {"accessory": one.name}, sentence, "Choose another frame for it."
            )


@check
def jumps(evidence: Evidence) -> Iterator[Finding]:
    """Pin points that lie elsewhere on one cel than on those around it, while what is drawn there stays where it was."""
    if evidence.folder is None:
        return
    sheets = dict[str, CutSheet]()
    for clip in evidence.character.clips:
        for at, pin in enumerate(clip.pins):
            for cel in _leaps(clip, at, evidence):
                seen = tuple(evidence.facts.get(clip.sheet_of(clip.cels[one])) for one in (cel - 1, cel))
                found = evidence.memo.once(
                    ("pin", clip.name, at, cel),
                    (clip.cels, pin, *seen),
                    partial(_drawn_still, evidence, clip, at, cel, sheets),
                )
                if found is not None:
                    sentence = f"Pin point {pin.name} of {clip.name} jumps on cel {cel}, and the drawing does not."
                    where = {"x": found.x, "y": found.y}
                    yield written(
                        "pin.jump",
                        "warning",
                        {"clip": clip.name, "pin": pin.name, "cel": cel, **where},
                        sentence,
                        "What is pinned to it flies off for a moment.",
                    )


def _leaps(clip: Clip, at: int, evidence: Evidence) -> list[int]:
    """The cels on which a pin point is keyed and lies far from the two around it, which lie near each other."""
    pin, count = clip.pins[at], len(clip.cels)
    found = []
    for key in pin.keys:
        if not 0 < key.cel < count - 1:
            continue
        seen = evidence.facts.get(clip.sheet_of(clip.cels[key.cel]))
        if not isinstance(seen, SheetAnalysis) or clip.cels[key.cel].frame >= len(seen.rects):
            continue
        least = max(LEAST, JUMPS * seen.rects[clip.cels[key.cel].frame].height)
        before, now, after = (
            as_shown(spot_at(pin, cel), clip.cels[cel]) for cel in (key.cel - 1, key.cel, key.cel + 1)
        )
        away, apart = _far(now, _middle(before, after)), _far(before, after)
        if away > least and apart < away / 2:
            found.append(key.cel)
    return found


def _drawn_still(evidence: Evidence, clip: Clip, at: int, cel: int, sheets: dict[str, CutSheet]) -> Spot | None:
    """Where the drawing about a pin point is on a cel, when it is surely near where it is on the cel before, and not where the pin
    point lies."""
    assert evidence.folder is not None
    for name in {clip.sheet_of(clip.cels[one]) for one in (cel - 1, cel)}:
        sheet = next((one for one in evidence.character.sheets if one.name == name), None)
        if sheet is None:
            return None
        if name not in sheets:
            try:
                sheets[name] = loaded(sheet, evidence.folder, evidence.character.sheets)
            except LeanStepError:
                return None
    pin = clip.pins[at]
    found = guesses(clip, at, (cel - 1, cel), sheets)
    if not found or found[0].sure < STILL:
        return None
    before, now, after = (as_shown(spot_at(pin, one), clip.cels[one]) for one in (cel - 1, cel, cel + 1))
    guess = as_shown(found[0].spot, clip.cels[cel])
    if _far(guess, _middle(before, after)) > _far(now, _middle(before, after)) / 3:
        return None
    if likeness_of(clip, cel - 1, spot_at(pin, cel - 1), cel, spot_at(pin, cel), sheets) > OTHER:
        return None
    return as_drawn(guess, clip.cels[cel])


def _middle(one: Spot, other: Spot) -> Spot:
    return Spot((one.x + other.x) / 2, (one.y + other.y) / 2)


def _far(one: Spot, other: Spot) -> float:
    return math.hypot(one.x - other.x, one.y - other.y)
