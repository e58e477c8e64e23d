"""The part of a page that tells what takes cover, and how soon presses show in them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from html import escape

from leanstep.core.findings.feasible import leave_out_impossible
from leanstep.core.findings.results import Report
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.coverage import coverage
from leanstep.core.rehearsal.responsiveness import TICKS, responses
from leanstep.core.rehearsal.traces import Trace

KINDS = {"parts": "parts of conditions, each both ways"}
MOST_MISSING = 60
"""Sentences of what is left out that are shown."""


def of_takes(machine: Machine, report: Report, traces: dict[str, Trace]) -> str:
    """What the takes cover, with what they leave out, and a line for each button in each state they come to; nothing without takes
    that can be played."""
    if not traces:
        return ""
    covered = coverage(machine, [take for take in machine.character.takes if take.name in traces])
    leave_out_impossible(covered, report)
    counted = [(KINDS.get(kind, kind), f"{done} of {of}") for kind, (done, of) in covered.counted.items()]
    missing = covered.missing()
    left = "".join(f"<li>{escape(sentence)}</li>" for sentence in missing[:MOST_MISSING])
    more = f"<p>and {len(missing) - MOST_MISSING} more.</p>" if len(missing) > MOST_MISSING else ""
    made = f"<h2>What the takes cover: {covered.percent:.0f} %</h2>{html_table(('', 'covered'), counted)}"
    made += f"<details><summary>What they leave out</summary><ul>{left}</ul>{more}</details>" if missing else ""
    pressed = [one.texts for one in responses(machine, traces)]
    if pressed:
        head = ("button", "in state", "shows after", "hits after", "steers again", "nothing happens", "mostly because")
        made += f"<h2>How soon presses show</h2>{html_table(head, pressed)}"
        made += f"<p><small>In ticks; 1 is that of the press, and {TICKS} are waited for.</small></p>"
    return made


def html_table(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """A table of texts."""
    cells = "".join(f"<tr>{''.join(f'<td>{escape(cell)}</td>' for cell in row)}</tr>" for row in rows)
    return f"<table><tr>{''.join(f'<th>{escape(one)}' for one in head)}</tr>{cells}</table>"
