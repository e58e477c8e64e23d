"""What a document has and nothing uses."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.naming.references import Reference, Thing, references


@check
def unused(evidence: Evidence) -> Iterator[Finding]:
    """Clips that no state and no blend space shows, and parameters that nothing reads."""
    used = [place for place in references(evidence.character) if not place.defines]
    shown = {thing for place in used for thing in place.things if thing.kind == "clip"}
    read = {thing for place in used if _reads(place) for thing in place.things}
    for clip in evidence.character.clips:
        if Thing("clip", clip.name) not in shown:
            yield _unused("clip.unused", "clip", clip.name, f"No state and no blend space shows clip {clip.name}.")
    for one in evidence.character.parameters:
        if Thing("parameter", one.name) not in read:
            yield _unused("parameter.unread", "parameter", one.name, f"Nothing reads the parameter {one.name}.")


def _reads(place: Reference) -> bool:
    """Whether a place does something else than setting a parameter."""
    return place.start >= 0 or any(part in place.path for part in ("axes", "playback", "costumes", "alternates"))


def _unused(kind: str, what: str, name: str, sentence: str) -> Finding:
    return Finding(kind, "note", {what: name}, sentence, None, "written", why="Remove it, or use it.")
