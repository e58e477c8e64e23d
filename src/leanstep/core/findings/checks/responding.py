"""Presses that show later than is allowed."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.rehearsal.responsiveness import responses
from leanstep.core.wording import counted, some


@check
def late(evidence: Evidence) -> Iterator[Finding]:
    """A button shows in some state later than its budget, in what was tried in the takes."""
    allowed = {
        one.name: ticks_of(Duration(one.within, "s"), evidence.character.rate)
        for one in evidence.character.controls.buttons
        if one.within
    }
    if not allowed:
        return
    found = list(responses(evidence.machine, evidence.traces, tuple(allowed)))
    for button, most in allowed.items():
        slow = sorted((one for one in found if one.button == button and one.late > most), key=lambda one: -one.late)
        if not slow:
            continue
        worst, others = slow[0], [one.state for one in slow[1:]]
        also = f" It is late in {some(others, 4)}, too." if others else ""
        yield Finding(
            "button.late",
            "warning",
            {"layer": worst.layer, "state": worst.state, "button": button},
            f"Pressed in {worst.state}, {button} shows after {counted(worst.late, 'tick')}; {most} are allowed.{also}",
            "body",
            "shown",
            worst.worst,
            "The press lasts, and nothing else is done. It was tried in up to six moments of each state that takes come to.",
        )
