"""Parts that hang on themselves or on nothing, and keys of parts that move nothing or come too late."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.cut_outs import Reach, Track
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.skeleton import BrokenPart, skeleton
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.findings.stand_ins import Wrong, meant
from leanstep.core.sheets.analysis import SheetAnalysis


@check
def parts(evidence: Evidence) -> Iterator[Finding]:
    """Parts that cannot be put together, and those without a picture."""
    for sheet in evidence.character.sheets:
        for name, reason, way_out in _broken(sheet, evidence.facts.get(sheet.name)):
            sentence = f"Part {name} of sheet {sheet.name}: {reason}."
            yield written("part.broken", "error", {"sheet": sheet.name, "part": name}, sentence, way_out)


def _broken(sheet: Sheet, seen: object) -> Iterator[tuple[str, str, str]]:
    """What is wrong with a part: its name, why, and the way out."""
    try:
        skeleton(sheet.parts, {})
    except BrokenPart as error:
        yield error.part, error.reason, error.way_out
    frames = {part.name: part.frame for part in sheet.parts}
    for part in sheet.parts:
        if isinstance(seen, SheetAnalysis) and part.frame >= len(seen.rects):
            yield (
                part.name,
                f"its picture is frame {part.frame}, and the sheet has frames 0 to {len(seen.rects) - 1}",
                "Choose another frame, or cut the sheet so that it has more.",
            )
        elif part.behind and frames.get(part.behind) != part.frame:
            reason = f"{part.behind} cannot go on under it, since it is not cut from the same frame"
            yield part.name, reason, f"Choose a part of frame {part.frame}.{meant(part.behind, list(frames))}"


@check
def keys(evidence: Evidence) -> Iterator[Finding]:
    """Keys of parts that are not there, and keys beyond the end."""
    sheets = {sheet.name: sheet for sheet in evidence.character.sheets}
    for sheet in evidence.character.sheets:
        cut_out = sheet.cut_out
        if cut_out is None or cut_out.like or cut_out.of not in sheets:
            continue
        known = {part.name: part for part in sheets[cut_out.of].parts}
        for name, (reason, way_out) in _moves_nothing(sheet, set(known)):
            sentence = f"Sheet {sheet.name}: {reason}."
            yield written("part.unknown", "warning", {"sheet": sheet.name, "part": name}, sentence, way_out)
        for reach in cut_out.reaches:
            if reach.part in known and not known[reach.part].parent:
                sentence = f"Sheet {sheet.name}: part {reach.part} reaches for something, and hangs on no other part."
                way_out = "Let the lower of two parts reach: a shin, a forearm."
                yield written("part.unknown", "warning", {"sheet": sheet.name, "part": reach.part}, sentence, way_out)
        for name, late in _beyond(sheet):
            yield written(
                "part.late",
                "note",
                {"sheet": sheet.name, "part": name, "ticks": cut_out.ticks},
                f"Sheet {sheet.name} lasts {cut_out.ticks} ticks, and a key of {name} lies at tick {late:g}: it is not reached.",
                "Let it last longer, move the key, or take it out.",
            )


def _moves_nothing(sheet: Sheet, known: set[str]) -> Iterator[tuple[str, Wrong]]:
    assert sheet.cut_out is not None
    moved: tuple[Track | Reach, ...] = (*sheet.cut_out.tracks, *sheet.cut_out.reaches)
    for name in dict.fromkeys(one.part for one in moved):
        if name not in known:
            reason = f"keys move a part {name}, and sheet {sheet.cut_out.of} has none"
            yield name, (reason, f"Take them out, or give it that part.{meant(name, known)}")


def _beyond(sheet: Sheet) -> Iterator[tuple[str, float]]:
    """Parts with keys that are not reached, and the first of those."""
    assert sheet.cut_out is not None
    end = sheet.cut_out.ticks
    moved: tuple[Track | Reach, ...] = (*sheet.cut_out.tracks, *sheet.cut_out.reaches)
    for one in moved:
        late = [key.at for key in one.keys if key.at > end]
        if late:
            yield one.part, late[0]
