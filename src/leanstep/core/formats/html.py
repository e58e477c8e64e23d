"""A check as one self-contained HTML page, whose witnesses play."""

from __future__ import annotations

import base64
import json
import re
from collections.abc import Iterable
from html import escape
from importlib import resources
from pathlib import Path
from typing import Any

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.cut_outs.loading import loaded
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.evidence import played_takes
from leanstep.core.findings.results import SEVERITIES, Report
from leanstep.core.formats import atlas
from leanstep.core.formats.golden import inputs_of, moves
from leanstep.core.formats.html_takes import html_table, of_takes
from leanstep.core.formats.witness import TINTS, given_words
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import HEADINGS, actions
from leanstep.core.rehearsal.deforming import deforms
from leanstep.core.rehearsal.drawable import looks_left
from leanstep.core.rehearsal.second_figures import compile_in
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.sheets.images import CutSheet
from leanstep.core.tick.table import table_of
from leanstep.core.wording import counted

_STYLE = """
body{font:16px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;background:#faf6ec;color:#2a2620}
h1{font-family:serif}section{border-top:1px solid #cfc5ae;padding:.8rem 0}
.error b{color:#a8231d}.warning b{color:#6b4a00}.note b{color:#5b5344}small{color:#5b5344}
table{border-collapse:collapse}td,th{padding:.2rem .8rem;text-align:left;border-bottom:1px solid #e2d9c4}
canvas{display:block;background:#fffdf6;border:1px solid #cfc5ae;margin:.4rem 0}
button{font:inherit;padding:.1rem 1rem;background:#fffdf6;border:1px solid #8a7f68;border-radius:3px}
input[type=range]{width:420px;vertical-align:middle;accent-color:#6b4a00}output{display:block;color:#5b5344}
"""
LONGEST = 2000
"""Ticks of a witness that are shown at most."""
SHORT = 60
"""Ticks below which a witness begins slowly."""
WIDTH, HEIGHT, HIGH = 760, 210, 150
"""The canvas of a witness, and how high a figure stands in it about, in pixels."""


def page(character: Character, report: Report, folder: Path | None = None) -> str:
    """The page: a summary, every finding with the ribbon of its witness, which plays, and every state's fate.  Pictures are read below
    ``folder``; without it, or where they cannot be read, there are none."""
    machine = compile_in(folder, character)
    counts = ", ".join(f"{report.count(severity)} {severity}s" for severity in ("error", "warning", "note"))
    rows = "".join(
        f"<tr><td>{escape(fate.layer)}</td><td>{escape(fate.name)}</td><td>{fate.free}</td>"
        f"<td>{'' if fate.ticks is None else fate.ticks}{'' if fate.fewest else ' or fewer'}</td><td>{fate.body}</td></tr>"
        for fate in report.states
    )
    sheets = _sheets(character, folder)
    scale = max(1, round(HIGH / max(sheet.shown_height for sheet in sheets.values()))) if sheets else 1
    witnesses: list[dict[str, Any]] = []
    playable = _data(machine, sheets)
    parts = []
    for finding in report.findings:
        shown, number = "", ""
        if finding.witness is not None:
            trace = rehearse(machine, finding.witness, most=LONGEST)
            shown = _ribbon(machine, trace)
            alone = finding.witness.begins is None and finding.witness.second is None
            if playable is not None and alone and len(trace.steps):
                number = f' data-witness="{len(witnesses)}"'
                witnesses.append(_witness(machine, finding.witness, trace, playable["table"], scale))
                shown += _stage(len(trace.steps))
        parts.append(
            f'<section class="{finding.severity}"{number}><b>{finding.severity}</b> {escape(finding.sentence)}<br>'
            f"<small>{finding.id} · {finding.verdict}{' in the ' + finding.world + ' world' if finding.world else ''}. "
            f"{escape(finding.why)}</small>{shown}</section>"
        )
    scripts = _scripts({**playable, "witnesses": witnesses}) if playable is not None and witnesses else ""
    return (
        '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="generator" content="Lean Step">'
        f'<link rel="icon" href="data:,"><title>{escape(character.name)}: findings</title>'
        f"<style>{_STYLE}</style><h1>{escape(character.name)}</h1><p>{counts}. "
        f"{report.situations} situations{'' if report.complete else ', not complete: ' + escape(report.aborted)}.</p>"
        f"{''.join(parts)}<h2>States</h2><table><tr><th>layer<th>state<th>free world<th>fewest ticks<th>body world</tr>"
        f"{rows}</table>{_actions(machine)}{of_takes(machine, report, played_takes(machine, {}))}{scripts}</html>\n"
    )


def _actions(machine: Machine) -> str:
    """The table of actions; nothing where there is none."""
    found = actions(machine)
    if not found:
        return ""
    rows = (["" if cell is None else str(cell) for cell in one.row(machine)] for one in found)
    return f"<h2>Actions</h2>{html_table(HEADINGS, rows)}"


def pages(made: Iterable[tuple[str, Report, str]], refused: Iterable[tuple[str, str]]) -> str:
    """One page with those of several characters, each with its address, and the files that could not be checked, with why."""
    parts = [
        f'<section class="error"><b>not checked</b> {escape(uri)}<br><small>{escape(sentence)}</small></section>'
        for uri, sentence in refused
    ]
    for uri, report, text in made:
        found = [severity for severity in SEVERITIES if report.count(severity)]
        counts = ", ".join(counted(report.count(severity), severity) for severity in found) or "nothing found"
        opened = " open" if "error" in found else ""
        parts.append(
            f'<section class="{found[0] if found else ""}"><details{opened}><summary><b>{escape(uri)}</b> {counts}</summary>'
            f'<iframe title="{escape(uri)}" loading="lazy" srcdoc="{escape(text)}"></iframe></details></section>'
        )
    return (
        '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="generator" content="Lean Step">'
        f'<link rel="icon" href="data:,"><title>Findings</title><style>{_STYLE}'
        "body{max-width:72rem}iframe{width:100%;height:44rem;border:1px solid #cfc5ae}summary{cursor:pointer}</style>"
        f"<h1>Findings</h1>{''.join(parts)}</html>\n"
    )


def _sheets(character: Character, folder: Path | None) -> dict[str, CutSheet]:
    """The sheets that can be read."""
    found: dict[str, CutSheet] = {}
    if folder is None:
        return found
    for sheet in character.sheets:
        try:
            found[sheet.name] = loaded(sheet, folder, character.sheets)
        except LeanStepError:
            continue
    return found


def _data(machine: Machine, sheets: dict[str, CutSheet]) -> dict[str, Any] | None:
    """What playing needs: the table, the frames and their picture; None where a player cannot play the character."""
    try:
        table = msgspec.to_builtins(table_of(machine))
    except LeanStepError:
        return None
    scales = {name: list(sheet.scale) for name, sheet in sheets.items() if sheet.scale != (1.0, 1.0)}
    made: dict[str, Any] = {"table": table, "frames": [], "image": "", "scales": scales}
    if sheets:
        packing = atlas.Packing(padding=1, largest=16_384)
        pictures, index, _ = atlas.atlas(machine.character, sheets, "frames", packing)
        made["frames"] = msgspec.to_builtins(index.frames)
        (picture,) = pictures.values()
        made["image"] = "data:image/png;base64," + base64.b64encode(atlas.encoded(picture)).decode()
    return made


def _witness(machine: Machine, take: Take, trace: Trace, table: dict[str, Any], scale: int) -> dict[str, Any]:
    """A witness as the page plays it: what goes in, where the body is, and what should come out."""
    words = {name: number for number, name in enumerate(table["names"]["words"])}
    first = [row[1] for row in table["sections"]["layers"]]
    inputs, bodies, states, moved = [], [], [], []
    for row, step in zip(inputs_of(trace), trace.steps):
        inputs.append(
            [[at, words[value] if isinstance(value, str) else float(value)] for at, value in sorted(row.items())]
        )
        body = step.situation.body
        bodies.append([round(body.x, 2), round(body.y + body.lift, 2), int(looks_left(machine, body))])
        if deforms(machine):
            moved.append([round(one, 4) for one in moves(machine, body)])
        states.append([first[layer] + state for layer, state in enumerate(step.situation.states)])
    return {
        "inputs": inputs,
        "bodies": bodies,
        **({"moves": moved} if moved else {}),
        "states": states,
        "words": given_words(machine, take, len(inputs)),
        "scale": scale,
    }


def _stage(ticks: int) -> str:
    return (
        f'<canvas width="{WIDTH}" height="{HEIGHT}"></canvas><button type="button">Play</button> '
        '<button type="button" aria-label="a tick back">−1</button><button type="button" aria-label="a tick on">+1</button> '
        f'<input type="range" min="0" max="{ticks - 1}" value="0" aria-label="tick"> '
        f"<label>speed <select>{_speeds(ticks)}</select></label> "
        '<label><input type="checkbox" checked> again and again</label><output></output>'
    )


def _speeds(ticks: int) -> str:
    """How fast a witness can be played; a short one begins slowly, or nobody sees it."""
    first = "1/8" if ticks < SHORT else "1"
    speeds = (("1", 1.0), ("1/2", 0.5), ("1/4", 0.25), ("1/8", 0.125))
    return "".join(f'<option value="{value}"{" selected" * (name == first)}>{name}</option>' for name, value in speeds)


def _scripts(data: dict[str, Any]) -> str:
    """The player that games use, what it plays, and what shows it."""
    player = resources.files("leanstep.runtime").joinpath("leanstep_player.mjs").read_text("utf-8")
    player = re.sub(r"^export ", "", player, flags=re.MULTILINE)
    shows = resources.files("leanstep.core.formats").joinpath("page.js").read_text("utf-8")
    # what could end the script is escaped
    text = json.dumps(data, ensure_ascii=False).replace("<", "\\u003c")
    return f'<script type="application/json" id="data">{text}</script><script type="module">{player}\n{shows}</script>'


def _ribbon(machine: Machine, trace: Trace) -> str:
    """The ribbon of a take as SVG, one row per layer."""
    ticks = max(1, len(trace.steps))
    parts = []
    for layer, table in enumerate(machine.layers):
        for run in trace.ribbon(layer):
            x, w = run.start / ticks * WIDTH, max(1.0, (run.end - run.start) / ticks * WIDTH)
            name = escape(table.states[run.state])
            parts.append(
                f'<rect x="{x:.1f}" y="{layer * 26}" width="{w:.1f}" height="22" '
                f'fill="{TINTS[run.state % len(TINTS)]}" stroke="#8a7f68"><title>{name}</title></rect>'
            )
            if w > 8 * len(name):
                parts.append(f'<text x="{x + 4:.1f}" y="{layer * 26 + 16}" font-size="13">{name}</text>')
    high = 26 * len(machine.layers)
    parts.append(f'<line x1="0" x2="0" y1="0" y2="{high}" stroke="#2a2620"/>')
    return f'<div><svg viewBox="0 0 {WIDTH} {high}" width="{WIDTH}" role="img">{"".join(parts)}</svg></div>'
