"""A sheet for programmers: what goes into a character and what comes out of it, as a page, as JSON, and its names as constants, so
that a misspelt one fails when the game is compiled."""

from __future__ import annotations

import json
import keyword
import re
from collections.abc import Callable, Iterable, Mapping
from html import escape
from typing import Any

from leanstep.core.graph.machine import Machine
from leanstep.core.tick.columns import Table

Names = dict[str, dict[str, str]]
"""Names by the constants that stand for them, by kind."""
KINDS = ("parameters", "words", "layers", "states", "marks", "spans", "locks", "modes")
TITLES = {
    "rate": "Ticks a second",
    "sticks": "Sticks",
    "inputs": "What the game sets",
    "told": "What the character sets itself",
    "layers": "Layers, from the back to the front, and what their states ask of the body",
    "marks": "Marks, and what they say",
    "spans": "Spans, and what they say",
    "locks": "Locks",
    "modes": "Modes of the body",
    "freezes": "Does it freeze? The body stands meanwhile",
    "set_by": "set by",
    "first": "begins at",
    "fall_cap": "fall cap",
    "hold_still": "hold still",
}
"""What stands over each part of the page, where that is not its key."""
ASKED = ("mode", "cap", "fall_cap", "box", "face", "backward", "hold_still", "push")
"""What states ask of a body."""


def facts(machine: Machine, table: Table) -> dict[str, Any]:
    """What a game has to know of a character: its inputs with kinds, ranges and rest, what it tells, what its states ask of the
    body, and its layers from the back to the front."""
    character = machine.character
    notes = {one.name: one.note for one in character.parameters}
    units = {one.name: one.unit for one in character.parameters}
    inputs: list[dict[str, Any]] = []
    told: list[dict[str, Any]] = []
    for symbol in machine.symbols:
        row: dict[str, Any] = {"name": symbol.name, "kind": symbol.kind, "set_by": symbol.owner}
        if symbol.kind in ("number", "whole"):
            row |= {"from": symbol.low, "to": symbol.high}
        if symbol.choices:
            row["choices"] = list(symbol.choices)
        row |= {"rest": symbol.rest, "first": symbol.first, "unit": units.get(symbol.name, "")}
        (inputs if symbol.free else told).append(row | {"note": notes.get(symbol.name, "")})
    layers = []
    for layer in character.layers:
        states = []
        for state in layer.states:
            asked = {name: value for name in ASKED if (value := getattr(state, name)) not in (None, "", (), 0.0, False)}
            shows = state.clip or state.blend or ("one frame" if state.held is not None else "")
            seen = layer.clear or state.clear
            states.append({"name": state.name, "shows": shows, "clear": seen, "asks": asked, "note": state.note})
        layers.append({"name": layer.name, "states": states})
    marks, spans = _said(table, "cues", "mark", table.names.marks), _said(table, "windows", "span", table.names.spans)
    locking = {span.name for clip in character.clips for span in clip.spans if span.lock}
    stops = any(effect.do == "freeze" for effects in _effects(machine) for effect in effects)
    return {
        "leanstep_interface": 1,
        "character": character.name,
        "rate": character.rate,
        "sticks": [stick.name for stick in character.controls.sticks],
        "inputs": inputs,
        "told": told,
        "layers": layers,
        "marks": marks,
        "spans": [one | {"locks": one["name"] in locking} for one in spans],
        "locks": list(table.names.locks),
        "modes": [mode for mode in table.names.modes if mode],
        "freezes": stops,
    }


def _effects(machine: Machine) -> Iterable[tuple[Any, ...]]:
    for layer in machine.character.layers:
        for state in layer.states:
            yield from (state.on_entry, state.on_leave)
    for clip in machine.character.clips:
        yield from (mark.effects for mark in clip.marks)


def _said(table: Table, section: str, column: str, names: list[str]) -> list[dict[str, Any]]:
    """What marks or spans say to the game: of each key all values there are."""
    place = table.columns[section].index(column)
    found: dict[str, dict[str, list[Any]]] = {name: {} for name in names}
    for row, cells in enumerate(table.sections[section]):
        for key, value in table.says[section].get(str(row), {}).items():
            values = found[names[int(cells[place] or 0)]].setdefault(key, [])
            if value not in values:
                values.append(value)
    return [{"name": name, "says": says} for name, says in found.items()]


def constants_of(table: Table) -> Names:
    """The names of a table as constants: capitals, digits and underscores, each once for its kind."""
    found: Names = {}
    for kind in KINDS:
        taken: dict[str, str] = {}
        for name in dict.fromkeys(getattr(table.names, kind)):
            if not name:
                continue
            plain = re.sub(r"\W+", "_", name, flags=re.ASCII).strip("_").upper() or "NAMELESS"
            plain = f"_{plain}" if plain[0].isdigit() or keyword.iskeyword(plain.lower()) else plain
            made, number = plain, 2
            while made in taken:
                made, number = f"{plain}_{number}", number + 1
            taken[made] = name
        found[kind] = taken
    return found


def page(told: Mapping[str, Any]) -> str:
    """The sheet as a page."""
    parts = []
    for title, value in told.items():
        if title in ("leanstep_interface", "character"):
            continue
        parts.append(f"<h2>{escape(TITLES.get(title, title))}</h2>{_shown(value)}")
    return (
        '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="generator" content="Lean Step">'
        f'<link rel="icon" href="data:,"><title>{escape(told["character"])}: for programmers</title><style>'
        "body{font:16px/1.5 sans-serif;max-width:64rem;margin:2rem auto;padding:0 1rem;background:#faf6ec;color:#2a2620}"
        "h1,h2{font-family:serif}table{border-collapse:collapse}td,th{padding:.2rem .8rem;text-align:left;vertical-align:top;"
        f"border-bottom:1px solid #e2d9c4}}</style><h1>{escape(told['character'])}, for programmers</h1>{''.join(parts)}</html>\n"
    )


def _shown(value: Any) -> str:
    if isinstance(value, list) and value and isinstance(value[0], dict):
        columns = [
            key
            for key in dict.fromkeys(key for row in value for key in row)
            if any(_shown(row.get(key, "")) for row in value)
        ]
        head = "".join(f"<th>{escape(TITLES.get(column, column))}" for column in columns)
        rows = "".join(
            "<tr>" + "".join(f"<td>{_shown(row.get(column, ''))}</td>" for column in columns) + "</tr>" for row in value
        )
        return f"<table><tr>{head}</tr>{rows}</table>"
    if isinstance(value, dict):
        return "<br>".join(f"{escape(TITLES.get(key, str(key)))}: {_shown(one)}" for key, one in value.items())
    if isinstance(value, list | tuple):
        return ", ".join(map(_shown, value)) or "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    return escape(f"{value:g}" if isinstance(value, float) else str(value))


def _python(title: str, names: Names) -> str:
    parts = [f'"""The names of {title}, written by Lean Step."""']
    for kind, some in names.items():
        lines = [f"    {constant} = {name!r}" for constant, name in some.items()] or ["    pass"]
        parts.append("\n".join([f"class {kind.capitalize()}:", *lines]))
    return "\n\n\n".join(parts) + "\n"


def _c(title: str, names: Names, table: Table) -> str:
    """Numbers, as the functions of the player take them."""
    prefix = re.sub(r"\W+", "_", title, flags=re.ASCII).upper().strip("_") or "HERO"
    lines = [
        f"/* The numbers of what {title} has, written by Lean Step with its table, for the player in C. */",
        f"#ifndef {prefix}_NAMES_H",
    ]
    lines += [f"#define {prefix}_NAMES_H", ""]
    for kind, some in names.items():
        all_names = list(getattr(table.names, kind))
        if some:
            each = [
                f"  {prefix}_{kind[:-1].upper()}_{constant} = {all_names.index(name)}"
                for constant, name in some.items()
            ]
            lines += ["enum {", ",\n".join(each), "};", ""]
    return "\n".join([*lines, "#endif", ""])


def _javascript(names: Names) -> str:
    parts = [
        f"export const {kind} = Object.freeze({json.dumps(some, ensure_ascii=False, indent=2)});"
        for kind, some in names.items()
    ]
    return "\n".join(["// Written by Lean Step.", *parts, ""])


def _typescript(names: Names) -> str:
    parts = ["// Written by Lean Step.\n"]
    for kind, some in names.items():
        rows = "".join(
            f"  readonly {constant}: {json.dumps(name, ensure_ascii=False)};\n" for constant, name in some.items()
        )
        parts.append(f"export declare const {kind}: {{\n{rows}}};\n")
    return "".join(parts)


def _java(stem: str, names: Names) -> str:
    lines = ["/** Names, written by Lean Step. */", f"public final class {stem} {{"]
    for kind, some in names.items():
        lines.append(f"    public static final class {kind.capitalize()} {{")
        lines += [
            f"        public static final String {constant} = {json.dumps(name)};" for constant, name in some.items()
        ]
        lines.append("    }")
    return "\n".join([*lines, "}", ""])


def _lua(names: Names) -> str:
    lines = [
        "-- Written by Lean Step.",
        "local function named(kind, some)",
        '  local function missing(_, name) error("there is no " .. kind .. " called " .. tostring(name), 2) end',
        "  return setmetatable(some, { __index = missing })",
        "end",
        "return {",
    ]
    for kind, some in names.items():
        rows = ", ".join(f"{constant} = {_lua_text(name)}" for constant, name in some.items())
        lines.append(f'  {kind} = named("{kind[:-1]}", {{ {rows} }}),')
    return "\n".join([*lines, "}", ""])


def _lua_text(name: str) -> str:
    """A name as Lua writes it: other bytes than letters, digits and such by their numbers."""
    return (
        '"'
        + "".join(chr(byte) if 32 <= byte < 127 and byte not in b'"\\' else f"\\{byte:03d}" for byte in name.encode())
        + '"'
    )


def files(stem: str, machine: Machine, table: Table) -> dict[str, bytes]:
    """The sheet and the constants, by the names of files that begin with ``stem``."""
    told, names = facts(machine, table), constants_of(table)
    plain = re.sub(r"\W+", "_", stem, flags=re.ASCII).strip("_").lower() or "hero"
    plain = f"_{plain}" if plain[0].isdigit() else plain
    java = "".join(part.capitalize() for part in plain.split("_")) + "Names"
    title = machine.character.name
    made: dict[str, Callable[[], str]] = {
        f"{stem}.interface.html": lambda: page(told),
        f"{stem}.interface.json": lambda: json.dumps(told, ensure_ascii=False, indent=1) + "\n",
        f"{plain}_names.py": lambda: _python(title, names),
        f"{plain}_names.h": lambda: _c(title, names, table),
        f"{plain}_names.mjs": lambda: _javascript(names),
        f"{plain}_names.d.mts": lambda: _typescript(names),
        f"{java}.java": lambda: _java(java, names),
        f"{plain}_names.lua": lambda: _lua(names),
    }
    return {name: write().encode() for name, write in made.items()}
