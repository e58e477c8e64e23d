"""Faults of sheets, their frames, and the cels that show them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from statistics import median

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.loading import sources
from leanstep.core.cut_outs.skeleton import BrokenPart
from leanstep.core.findings.checks.body_boxes import body_size, boxes_of, outside
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.frames import NAMED, frames_with, of_parts
from leanstep.core.findings.results import Finding
from leanstep.core.sheets.analysis import SheetAnalysis
from leanstep.core.sheets.matching import unlike
from leanstep.core.sheets.recutting import frames_shown, held_frames
from leanstep.core.sheets.scaling import fitting, in_words
from leanstep.core.wording import some

TILES = 0.5
"""The share of frames drawn up to their edges from which that is the art's way, and no fault."""

ODD = 2.5
"""How many times as much as its clip's cels usually do a cel has to differ from the next one to be odd."""

LEAST_ODD = 0.45
"""How much it has to differ at least (1: nothing in common)."""

DRIFT = 0.3
"""How far, as a share of its width, a drawing has to move through its cells."""


@check
def sheets(evidence: Evidence) -> Iterator[Finding]:
    """Images that are missing, changed or cannot be cut, frames with faults, and cels that show the wrong ones."""
    if evidence.folder is None:
        return
    seen: dict[str, SheetAnalysis] = {}
    missing = set[tuple[str, ...]]()
    for sheet in evidence.character.sheets:
        facts = evidence.facts[sheet.name]
        if isinstance(facts, SheetAnalysis):
            seen[sheet.name] = facts
            yield from _of_sheet(evidence, sheet.name, facts)
            yield from outside(evidence, sheet, facts)
        else:
            kind, error = facts
            if kind == "sheet.missing" and sheet.all_images in missing:
                continue  # an image that is not there is told once, whoever shows it
            if kind == "sheet.parts" and (isinstance(error, BrokenPart) or _told_of_source(evidence, sheet)):
                continue  # what is wrong with a part, or with what it is drawn from, is told there
            missing |= {sheet.all_images} if kind == "sheet.missing" else set()
            yield written(kind, "error", {"sheet": sheet.name}, f"Sheet {sheet.name}: {error.reason}.", error.way_out)
    small = _only_pinned(evidence.character) | of_parts(evidence.character)
    yield from _sizes({name: facts.height for name, facts in seen.items() if name not in small})
    yield from body_size(evidence.character, seen)
    looks = {sheet.name: sheet.facing for sheet in evidence.character.sheets}
    for clip in evidence.character.clips:
        if all(clip.sheet_of(cel) in seen for cel in clip.cels):
            yield from _of_clip(clip, [seen[clip.sheet_of(cel)] for cel in clip.cels], looks)
    for at, number, held in held_frames(evidence.character):
        if held.sheet in seen and held.frame >= len(seen[held.sheet].pictures):
            layer = evidence.character.layers[at]
            state = layer.states[number].name
            yield written(
                "frame.missing",
                "error",
                {"layer": layer.name, "state": state},
                f"State {state} holds frame {held.frame}, but sheet {held.sheet} has frames 0 to "
                f"{len(seen[held.sheet].pictures) - 1}.",
                "Choose another frame, or cut the sheet so that it has more.",
            )


def _told_of_source(evidence: Evidence, sheet: Sheet) -> bool:
    """Whether a sheet from which another one is drawn cannot be shown itself."""
    others = (one.name for one in sources(sheet, evidence.character.sheets) if one is not sheet)
    return any(not isinstance(evidence.facts[name], SheetAnalysis) for name in others)


def _only_pinned(character: Character) -> set[str]:
    """The sheets that only accessories show: what is on them is no figure."""
    shown = {clip.sheet_of(cel) for clip in character.clips for cel in clip.cels}
    shown |= {held.sheet for _, _, held in held_frames(character)}
    return {one.sheet for one in character.accessories if not one.clip} - shown


def _sizes(heights: dict[str, float]) -> Iterator[Finding]:
    """Sheets whose figures stand many times higher or lower than those of the others."""
    names = list(heights)
    for name in names if len(names) > 2 else names[1:]:
        others = median(height for other, height in heights.items() if other != name)
        factor = fitting(heights[name], others)
        if factor is not None:
            times = factor if factor > 1 else 1 / factor
            yield written(
                "sheet.scale",
                "note",
                {"sheet": name, "factor": factor},
                f"Figures of sheet {name} stand {times:g} times as {'low' if factor > 1 else 'high'} as those of the others "
                f"({heights[name]:.0f} against {others:.0f} px).",
                f"A scale of {in_words(factor)} would fit, if they are meant to stand side by side.",
            )


def _of_sheet(evidence: Evidence, name: str, facts: SheetAnalysis) -> Iterator[Finding]:
    """Faults of a sheet's frames."""
    count = len(facts.pictures)
    shown = set(frames_shown(evidence.character, name))
    if any(facts.over):
        over = [f"{many} px {where}" for many, where in zip(facts.over, ("right", "below")) if many]
        yield written(
            "sheet.remainder",
            "note",
            {"sheet": name},
            f"The cells of sheet {name} leave {' and '.join(over)} of the image unused.",
            "If something is drawn there, the cell, the margin or the gap is wrong.",
        )
    drawn = count - len(facts.empty)
    if facts.through and len(facts.through) < TILES * drawn:
        yield frames_with(
            "sheet.cut-through",
            "warning",
            name,
            facts.through,
            "{frames} of sheet {name} {is_are} cut through: the drawing goes on beyond the edge.",
            "Cut with other numbers, or give such a frame a rectangle of its own by hand.",
            **_held_whole(facts),
        )
    if facts.touching and len(facts.touching) < TILES * drawn:
        yield frames_with(
            "frame.touches-edge",
            "note",
            name,
            facts.touching,
            "The drawing touches the edge in {frames} of sheet {name}.",
            "A pixel may have been cut off.",
        )
    double = [group for group in facts.equal if len(shown & set(group)) > 1]
    # what is drawn from parts stands still where it stands still
    if double and name not in of_parts(evidence.character):
        pairs = some([" = ".join(map(str, group)) for group in double], NAMED)
        yield written(
            "frame.duplicate",
            "note",
            {"sheet": name, "frames": [number for group in double for number in group]},
            f"Frames of sheet {name} show the same pictures: {pairs}.",
            "One of them would do: a clip may show a frame more than once.",
        )
    wander = facts.wander
    if wander:
        most = max(map(abs, wander.values()))
        yield frames_with(
            "frame.foot-wanders",
            "warning",
            name,
            tuple(wander),
            f"The figure wanders by up to {most} px in {{frames}} of sheet {{name}}, beside the other frames of its clip.",
            "It will tremble when it is shown. Align the feet.",
            feet=[[facts.feet[number][0] + by, facts.feet[number][1]] for number, by in wander.items()],
        )
    unused = [number for number in range(count) if number not in shown and number not in facts.empty]
    if shown and unused:
        yield frames_with(
            "frame.unused",
            "note",
            name,
            unused,
            "No clip shows {frames} of sheet {name}.",
            "Make a clip of them, or leave them for later.",
        )


def _of_clip(clip: Clip, facts: Sequence[SheetAnalysis], looks: Mapping[str, str]) -> Iterator[Finding]:
    """Faults of the frames a clip shows; ``facts`` of each cel's sheet, ``looks`` says which way the sheets do."""
    for at, (cel, seen) in enumerate(zip(clip.cels, facts)):
        count = len(seen.pictures)
        if cel.frame >= count:
            yield written(
                "frame.missing",
                "error",
                {"clip": clip.name, "cels": [at]},
                f"Clip {clip.name} shows frame {cel.frame}, but sheet {clip.sheet_of(cel)} has frames 0 to {count - 1}.",
                "Choose another frame, or cut the sheet so that it has more.",
            )
            return
    empty = [at for at, (cel, seen) in enumerate(zip(clip.cels, facts)) if cel.frame in seen.empty]
    if empty:
        frame = clip.cels[empty[0]].frame
        yield written(
            "frame.empty",
            "warning",
            {"clip": clip.name, "cels": empty},
            f"Clip {clip.name} shows frame {frame}, in which nothing is drawn.",
            "The figure vanishes for a moment. Take the cel out, or cut the sheet so that the frame has its drawing.",
        )
    yield from boxes_of(clip, facts)
    odd = _odd_cel(clip, facts)
    if odd is not None:
        yield written(
            "clip.odd-frame",
            "warning",
            {"clip": clip.name, "cels": [odd]},
            f"In clip {clip.name} cel {odd} (frame {clip.cels[odd].frame}) looks far less like its neighbour than the others do.",
            "It may be the first drawing of another action. Take it out if it is.",
        )
    drift = _drift(clip, facts)
    if drift:
        yield written(
            "clip.drifts",
            "note",
            {"clip": clip.name, **_pinned(clip, facts, looks)},
            f"In clip {clip.name} the drawing moves {abs(drift)} px {'right' if drift > 0 else 'left'} through its cells.",
            "If the body moves it, too, it goes twice as far. Put the feet below the drawing to keep it in place.",
        )


def _odd_cel(clip: Clip, facts: Sequence[SheetAnalysis]) -> int | None:
    """The first or last cel, when it differs from its neighbour far more than the others among themselves."""
    pictures = [seen.pictures[cel.frame] for cel, seen in zip(clip.cels, facts)]
    if len(pictures) < 4 or any(one is None for one in pictures):
        return None
    steps = [unlike(one, other) for one, other in pairwise(pictures) if one is not None and other is not None]
    for at, step, others in ((len(pictures) - 1, steps[-1], steps[:-1]), (0, steps[0], steps[1:])):
        if step > LEAST_ODD and step > ODD * max(median(others), 1e-3) and step > 1.8 * max(others):
            return at
    return None


def _drift(clip: Clip, facts: Sequence[SheetAnalysis]) -> int:
    """By how many pixels the drawing moves steadily through its cells; 0 when it does not."""
    frames = [(cel.frame, seen) for cel, seen in zip(clip.cels, facts)]
    if len(frames) < 4 or any(frame in seen.empty for frame, seen in frames):
        return 0
    middles = [seen.middles[frame] for frame, seen in frames]
    steps = [after - before for before, after in pairwise(middles)]
    whole = middles[-1] - middles[0]
    steady = all(step * whole > 0 for step in steps)
    return round(whole) if steady and abs(whole) > DRIFT * median(_width(seen, frame) for frame, seen in frames) else 0


def _width(facts: SheetAnalysis, frame: int) -> float:
    drawing = facts.drawings[frame]
    return 0.0 if drawing is None else drawing.width


def _pinned(clip: Clip, facts: Sequence[SheetAnalysis], looks: Mapping[str, str]) -> dict[str, object]:
    """Feet that keep the drawing of a clip in place, where all its cels are on one sheet: the sheet, frames and points, and the path
    it drifts, as ticks and units ahead; ``looks`` says which way the sheets do."""
    if len({clip.sheet_of(cel) for cel in clip.cels}) > 1:
        return {}
    seen, frames = facts[0], list(dict.fromkeys(cel.frame for cel in clip.cels))
    first = seen.middles[frames[0]]
    feet = [(seen.feet[one][0] + round(seen.middles[one] - first), seen.feet[one][1]) for one in frames]
    by, path, at = clip.sheet_of(clip.cels[0]), [], 0.0
    ahead = -1.0 if (clip.facing or looks.get(by, "right")) == "left" else 1.0
    for cel in clip.cels:
        if at:
            path.append([at, ahead * round(seen.middles[cel.frame] - first) * seen.scale[0]])
        at += cel.ticks
    return {"on": by, "frames": frames, "feet": feet, "path": path}


def _held_whole(facts: SheetAnalysis) -> dict[str, object]:
    """Rectangles (x, y, width, height) that hold the whole drawings of frames that are cut through, with the feet of these
    frames where they are on the image now, by number."""
    whole = {
        str(frame): (
            (one.x, one.y, one.width, one.height),
            (facts.rects[frame].x + facts.feet[frame][0], facts.rects[frame].y + facts.feet[frame][1]),
        )
        for frame, one in facts.whole.items()
    }
    return {"whole": whole}
