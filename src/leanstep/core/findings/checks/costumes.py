"""Costumes that cannot be worn as they are written, lack frames, stand elsewhere, or are never worn."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.document import Character
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.findings.stand_ins import never_chosen, not_there
from leanstep.core.graph.costumes import compared
from leanstep.core.sheets.analysis import SheetAnalysis
from leanstep.core.sheets.images import Frame
from leanstep.core.sheets.recutting import frames_shown
from leanstep.core.wording import numbered

NAMED = 6
"""Frames that are named in a sentence."""


@check
def written_costumes(evidence: Evidence) -> Iterator[Finding]:
    """Costumes that name what is not there, or that nothing says when to wear."""
    character = evidence.character
    worn = {state.costume for layer in character.layers for state in layer.states}
    for costume in character.costumes:
        for sheet, reason, way_out in _broken(character, costume):
            sentence = f"Costume {costume.name}: {reason}."
            yield written("costume.broken", "error", {"costume": costume.name, "sheet": sheet}, sentence, way_out)
        if not costume.parameter and costume.name not in worn:
            yield written(
                "costume.unworn",
                "note",
                {"costume": costume.name},
                f"Nothing says when costume {costume.name} is worn.",
                "Choose a parameter and a choice for it, or wear it in a state.",
            )


def _broken(character: Character, costume: Costume) -> Iterator[tuple[str, str, str]]:
    """What is wrong with a costume: the sheet it is about, why, and the way out."""
    names = [sheet.name for sheet in character.sheets]
    dressed = {part.sheet for one in character.costumes for part in one.sheets}
    seen = set[str]()
    for part in costume.sheets:
        for name in (part.sheet, part.by):
            yield from ((part.sheet, *wrong) for wrong in not_there("sheet", name, names))
        if part.sheet == part.by:
            yield part.sheet, f"sheet {part.sheet} stands in for itself", "Choose another one, or take it out."
        elif part.by in dressed:
            yield (
                part.sheet,
                f"{part.by} is shown for {part.sheet}, and has a costume itself",
                "Only one is worn at once.",
            )
        if part.sheet in seen:
            yield part.sheet, f"two sheets stand in for {part.sheet}", "Take one of them out."
        seen.add(part.sheet)
    wrong = never_chosen(character, costume.parameter, costume.value, "it is never worn by it")
    yield from (("", *one) for one in wrong)


@check
def drawn_costumes(evidence: Evidence) -> Iterator[Finding]:
    """Frames that clips show and a costume lacks, and those that have another size or stand elsewhere in it."""
    if evidence.folder is None:
        return
    for costume in evidence.character.costumes:
        for part in costume.sheets:
            own, other = (evidence.facts.get(name) for name in (part.sheet, part.by))
            if isinstance(own, SheetAnalysis) and isinstance(other, SheetAnalysis) and own is not other:
                yield from _compared(costume.name, part, frames_shown(evidence.character, part.sheet), own, other)


def _compared(
    costume: str, part: StandIn, shown: list[int], own: SheetAnalysis, other: SheetAnalysis
) -> Iterator[Finding]:
    found = compared(part, shown, _frames(own), _frames(other))
    lacks, elsewhere, larger = list(found.lacks), found.elsewhere, list(found.larger)
    if lacks:
        yield _about(
            "costume.lacks",
            "warning",
            costume,
            part,
            lacks,
            f"Costume {costume} lacks {{frames}} of sheet {part.sheet}.",
            "A frame that is not there is shown as it is, and of an empty one nothing is seen.",
        )
    if elsewhere:
        yield _about(
            "costume.elsewhere",
            "note",
            costume,
            part,
            sorted(elsewhere),
            f"In costume {costume} the foot of {{frames}} of sheet {part.by} is not where it is in sheet {part.sheet}.",
            "The figure jumps when it changes clothes, unless the drawing stands elsewhere as well.",
            feet={str(number): list(foot) for number, foot in sorted(elsewhere.items())},
        )
    if larger:
        yield _about(
            "costume.size",
            "note",
            costume,
            part,
            larger,
            f"In costume {costume} {{frames}} of sheet {part.sheet} have another size.",
            "That is no fault where their feet stand right.",
        )


def _frames(seen: SheetAnalysis) -> list[Frame]:
    return [Frame(rect, foot, at in seen.empty) for at, (rect, foot) in enumerate(zip(seen.rects, seen.feet))]


def _about(
    kind: str, severity: str, costume: str, part: StandIn, frames: list[int], sentence: str, why: str, **more: object
) -> Finding:
    about = {"costume": costume, "sheet": part.sheet, "frames": frames, **more}
    return written(kind, severity, about, sentence.replace("{frames}", numbered("frame", frames, NAMED)), why)
