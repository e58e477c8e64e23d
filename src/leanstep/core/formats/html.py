"""A check as one self-contained HTML page."""

from __future__ import annotations

from html import escape

from leanstep.core.character.model import Character, Take
from leanstep.core.findings.report import Report
from leanstep.core.graph.machine import Machine, compile_character
from leanstep.core.rehearsal.takes import rehearse

_STYLE = """
body{font:16px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;background:#faf6ec;color:#2a2620}
h1{font-family:serif}section{border-top:1px solid #cfc5ae;padding:.8rem 0}
.error b{color:#a8231d}.warning b{color:#6b4a00}.note b{color:#5b5344}small{color:#5b5344}
table{border-collapse:collapse}td,th{padding:.2rem .8rem;text-align:left;border-bottom:1px solid #e2d9c4}
"""
_TINTS = ("#cfdfe8", "#e8d9b8", "#d8e3c4", "#e6cfc6", "#d9d0e4", "#c9e0d9")


def page(character: Character, report: Report) -> str:
    """The page: a summary, every finding with the ribbon of its witness, and every state's fate."""
    machine = compile_character(character)
    counts = ", ".join(f"{report.count(severity)} {severity}s" for severity in ("error", "warning", "note"))
    rows = "".join(
        f"<tr><td>{escape(fate.layer)}</td><td>{escape(fate.name)}</td><td>{fate.free}</td>"
        f"<td>{'' if fate.ticks is None else fate.ticks}{'' if fate.fewest else ' or fewer'}</td><td>{fate.body}</td></tr>"
        for fate in report.states
    )
    findings = "".join(
        f'<section class="{finding.severity}"><b>{finding.severity}</b> {escape(finding.sentence)}<br>'
        f"<small>{finding.id} · {finding.verdict}{' in the ' + finding.world + ' world' if finding.world else ''}. "
        f"{escape(finding.why)}</small>{_ribbon(machine, finding.witness) if finding.witness else ''}</section>"
        for finding in report.findings
    )
    return (
        '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="generator" content="Lean Step">'
        f"<title>{escape(character.name)}: findings</title>"
        f"<style>{_STYLE}</style><h1>{escape(character.name)}</h1><p>{counts}. "
        f"{report.situations} situations{'' if report.complete else ', not complete: ' + escape(report.aborted)}.</p>"
        f"{findings}<h2>States</h2><table><tr><th>layer<th>state<th>free world<th>fewest ticks<th>body world</tr>"
        f"{rows}</table></html>\n"
    )


def _ribbon(machine: Machine, take: Take) -> str:
    """The ribbon of a take as SVG, one row per layer."""
    trace = rehearse(machine, take, most=2000)
    width, height = 760, 22
    ticks = max(1, len(trace.steps))
    parts = []
    for layer, table in enumerate(machine.layers):
        for run in trace.ribbon(layer):
            x, w = run.start / ticks * width, max(1.0, (run.end - run.start) / ticks * width)
            name = escape(table.states[run.state])
            parts.append(
                f'<rect x="{x:.1f}" y="{layer * 26}" width="{w:.1f}" height="{height}" '
                f'fill="{_TINTS[run.state % len(_TINTS)]}" stroke="#8a7f68"><title>{name}</title></rect>'
            )
            if w > 8 * len(name):
                parts.append(f'<text x="{x + 4:.1f}" y="{layer * 26 + 16}" font-size="13">{name}</text>')
    box = f"0 0 {width} {26 * len(machine.layers)}"
    return f'<div><svg viewBox="{box}" width="{width}" role="img">{"".join(parts)}</svg></div>'
