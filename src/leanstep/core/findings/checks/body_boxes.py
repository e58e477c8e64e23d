"""Body boxes that drawings hang out of, that jump from cel to cel, and figures of another size than their body."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from statistics import median

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet
from leanstep.core.findings.evidence import Evidence, written
from leanstep.core.findings.frames import frames_with, of_parts
from leanstep.core.findings.results import Finding
from leanstep.core.sheets.analysis import SheetAnalysis
from leanstep.core.sheets.boxes import Box, of_clip, usual

MISFIT = 1.6
"""How many times as high as the body the figure has to be, or the other way round, to be told."""

OUTSIDE = 0.25
"""The share of a drawing that has to lie outside its body box on one axis."""

SUNK = 1.0
"""Pixels by which a drawing may reach below its body box."""

JUMPS = 0.25
"""How far, as a share of its width or height, an edge of a body box has to move from one cel to the next; at least three
pixels."""


def body_size(character: Character, seen: Mapping[str, SheetAnalysis]) -> Iterator[Finding]:
    """Figures far from the size of the body that stands for them, seen from the side, where no body box is drawn."""
    drawn = of_parts(character)
    shown = dict.fromkeys(clip.sheet_of(cel) for clip in character.clips for cel in clip.cels)
    heights = {
        name: seen[name].height for name in shown if name not in drawn and name in seen and seen[name].height > 0
    }
    boxed = any(clip.box for clip in character.clips) or any(any(seen[name].boxes) for name in heights)
    if boxed or not heights or character.body.model == "above":
        return
    name = max(heights, key=lambda one: heights[one])
    figure, body = heights[name], character.body.height
    if max(figure / body, body / figure) > MISFIT:
        yield written(
            "body.size",
            "note",
            {"sheet": name, "height": figure},
            f"The figure of sheet {name} stands {figure:.0f} units high, and its body {body:g}.",
            "It is the body that stops at walls and passes below ceilings, whatever is drawn.",
        )


def outside(evidence: Evidence, sheet: Sheet, facts: SheetAnalysis) -> Iterator[Finding]:
    """Frames whose drawings hang out of the body boxes that their sheet gives them, by more than it says."""
    clips, name = evidence.character.clips, sheet.name
    other = {frame for clip in clips if clip.box for frame in clip.frames_of(name)}
    other -= {frame for clip in clips if not clip.box for frame in clip.frames_of(name)} | facts.own
    boxes = {frame: box for frame, box in enumerate(facts.boxes) if box is not None and frame not in other}
    sunk, out = _hanging_out(facts, boxes, max(0.0, -sheet.box_margin))
    if sunk:
        deep = round(max(sunk.values()))
        lower = [boxes[frame].down_to(boxes[frame].bottom - by).written for frame, by in sunk.items()]
        yield frames_with(
            "frame.outside-box",
            "warning",
            name,
            tuple(sunk),
            f"The drawing hangs up to {deep} px below its body box in {{frames}} of sheet {{name}}.",
            "The box stands on the floor, so the feet sink into it.",
            boxes=lower,
        )
    if out:
        yield frames_with(
            "frame.outside-box",
            "note",
            name,
            out,
            f"More than {OUTSIDE:.0%} of the drawing lie outside the body box in {{frames}} of sheet {{name}}.",
            "What is outside goes through walls. That may be meant: of a pole, of a scarf.",
        )


def _hanging_out(
    facts: SheetAnalysis, boxes: Mapping[int, Box], room: float = 0.0
) -> tuple[dict[int, float], list[int]]:
    """By how many pixels drawings reach below their boxes, and the other frames much of which lies more than ``room`` pixels
    outside."""
    drawn = {frame: drawing for frame in boxes if (drawing := facts.drawings[frame]) is not None}
    low = {frame: boxes[frame].bottom - drawing.bottom for frame, drawing in drawn.items()}
    sunk = {frame: by for frame, by in low.items() if by > SUNK}
    return sunk, [one for one in drawn if one not in sunk and facts.outside(one, boxes[one].wider(room)) > OUTSIDE]


def boxes_of(clip: Clip, facts: Sequence[SheetAnalysis]) -> Iterator[Finding]:
    """Faults of the body boxes a clip shows; ``facts`` of each cel's sheet."""
    boxes = [of_clip(clip.box, one.frame in of.own, of.boxes[one.frame]) for one, of in zip(clip.cels, facts)]
    known = [box for box in boxes if box is not None]
    if clip.box:
        own = Box(*clip.box)
        sunk = [
            _hanging_out(of, {cel.frame: own})[0].get(cel.frame, 0.0)
            for cel, of in zip(clip.cels, facts)
            if cel.frame not in of.own
        ]
        deep = max(sunk, default=0.0)
        if deep:
            yield written(
                "frame.outside-box",
                "warning",
                {"clip": clip.name, "box": own.down_to(own.bottom - deep).written},
                f"The drawing hangs up to {deep:.0f} px below the body box of clip {clip.name}.",
                "The box stands on the floor, so the feet sink into it.",
            )
    if len(known) < len(boxes) or len(known) < 2:
        return
    again = clip.repeat_from if clip.repeat_from < len(known) else 0
    steps = list(pairwise([*known, known[again]] if clip.loop == "repeat" else known))
    room = max(3.0, JUMPS * median(box.width for box in known)), max(3.0, JUMPS * median(box.height for box in known))
    jumps = [
        at
        for at, (one, other) in enumerate(steps)
        if any(abs(by) > room[axis] for axis, by in _edges_moved(one, other))
    ]
    if jumps:
        most = max(abs(by) for at in jumps for _, by in _edges_moved(*steps[at]))
        yield written(
            "frame.box-jumps",
            "warning",
            {
                "clip": clip.name,
                "cels": [at + 1 if at + 1 < len(known) else again for at in jumps],
                "box": usual(known).written,
            },
            f"In clip {clip.name} the body box jumps by up to {most:.0f} px from one cel to the next.",
            "A box that grows beside a wall enters it. One box for the whole clip stays still.",
        )


def _edges_moved(one: Box, other: Box) -> list[tuple[int, float]]:
    """By how much each edge (0: left and right, 1: bottom and top) is elsewhere in another box."""
    return [(side % 2, after - before) for side, (before, after) in enumerate(zip(one.edges, other.edges))]
