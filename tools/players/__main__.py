"""Print the kernels of the tick into the players anew.  ``python -m tools.players``"""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from leanstep import runtime
from leanstep.core import bearings
from leanstep.core.body import records
from leanstep.core.clips import timing
from leanstep.core.tick import (
    checks,
    clips,
    codes,
    columns,
    conditions,
    contact,
    drawing,
    effects,
    layers,
    loading,
    pinning,
    places,
    posing,
    requests,
    shapes,
    spans,
)
from leanstep.core.tick.columns import NAMED, OLDER_WIDTHS, SECTIONS
from tools.players.java import Java
from tools.players.languages import C, JavaScript, Python
from tools.players.lua import Lua
from tools.players.source import Constant, kernels, known

ROOTS: list[Callable[..., Any]] = [
    bearings.bearing_of,
    bearings.push_of,
    conditions.is_done,
    conditions.is_at,
    conditions.fitted,
    clips.cel_of,
    clips.cel_row,
    requests.requested,
    requests.requested_mode,
    requests.goes_backward,
    drawing.lowest_seen,
    drawing.is_mirrored,
    drawing.quarter_turns,
    drawing.frame_of,
    drawing.aside,
    pinning.list_pins,
    pinning.list_pinned,
    pinning.list_places,
    posing.list_parts,
    posing.most_parts,
    shapes.begin_shape,
    shapes.follow_shape,
    spans.list_spans,
    contact.raise_due,
    contact.settle,
    contact.meet,
    checks.rows_of,
    checks.wrong_cell,
    checks.agrees,
    loading.laid_size,
    loading.lay,
    layers.open_tick,
    layers.keep_bearings,
    layers.forget_asked,
    layers.tick,
    layers.enter_start,
]
"""What the written parts of the players call."""
BEGIN, END = "-- printed from the kernels of the tick --", "-- printed until here --"
RUNTIME = Path(runtime.__file__).parent


def _described(opening: str, row: str, closing: str) -> str:
    """The sections of a table and their columns, a line each."""
    rows = (row.format(section, " ".join(columns.columns(section))) for section in SECTIONS)
    return "\n".join([opening, *rows, closing])


def _older() -> list[list[int]]:
    """How many columns the sections of each older version have, in their order."""
    now = dict(zip(SECTIONS, places.WIDTHS))
    return [[(now | widths)[name] for name in SECTIONS] for widths in OLDER_WIDTHS.values()]


def python(more: dict[str, Constant]) -> str:
    """What is printed into the player in Python."""
    sections, named = (
        _described("COLUMNS = {", '    "{}": "{}",', "}"),
        f"NAMED = {NAMED!r}\nOLDER_WIDTHS = {OLDER_WIDTHS!r}",
    )
    kernels_but = kernels(ROOTS, {"run", "worth", "link_all"})
    return "\n".join(["# fmt: off", sections, named, Python().printed(kernels_but, more), "# fmt: on", ""])


def c(more: dict[str, Constant]) -> str:
    """What is printed into the player in C."""
    opening = "/* the sections of a table and their columns */\nstatic const char *const ls_columns[][2] = {"
    older = "".join(f"  {{{', '.join(map(str, row))}}},\n" for row in _older())
    widths = f"static const int64_t LS_OLDER_WIDTHS[][{len(SECTIONS)}] = {{\n{older}}};"
    return "\n".join([_described(opening, '  {{"{}", "{}"}},', "};"), widths, C().printed(kernels(ROOTS, set()), more)])


def javascript(more: dict[str, Constant]) -> str:
    """What is printed into the player in JavaScript."""
    sections, named = _described("const COLUMNS = {", '  {}: "{}",', "};"), f"const NAMED = {json.dumps(NAMED)};"
    named += f"\nconst OLDER_WIDTHS = {json.dumps(OLDER_WIDTHS)};"
    return "\n".join([sections, named, JavaScript().printed(kernels(ROOTS, set()), more)])


def java(more: dict[str, Constant]) -> str:
    """What is printed into the player in Java."""
    sections = _described("private static final String[][] COLUMNS = {", '  {{"{}", "{}"}},', "};")
    named = f"private static final String[] NAMED = {{{json.dumps(NAMED)[1:-1]}}};"
    older = ", ".join(f"{{{', '.join(map(str, row))}}}" for row in _older())
    widths = f"private static final int[][] OLDER_WIDTHS = {{{older}}};"
    return "\n".join([sections, named, widths, Java().printed(kernels(ROOTS, set()), more)])


def lua(more: dict[str, Constant]) -> str:
    """What is printed into the player in Lua."""
    sections = _described("K.COLUMNS = {", '  {{ "{}", "{}" }},', "}")
    older = ", ".join(f"{{ {', '.join(map(str, row))} }}" for row in _older())
    named = f"K.NAMED = {{ {json.dumps(NAMED)[1:-1]} }}\nK.OLDER_WIDTHS = {{ {older} }}"
    return "\n".join([sections, named, Lua().printed(kernels(ROOTS, set()), more)])


PLAYERS = {"leanstep_player.py": (python, ""), "leanstep_player.h": (c, "LS_"), "leanstep_player.mjs": (javascript, "")}
PLAYERS |= {"LeanStepPlayer.java": (java, ""), "leanstep_player.lua": (lua, "K.")}
"""How each player is printed, and what its constants begin with."""


def printed(name: str) -> str:
    """The text of a player with its kernels printed anew."""
    text = (RUNTIME / name).read_text("utf-8")
    begin = text.index("\n", text.index(BEGIN)) + 1
    end = text.rindex("\n", 0, text.index(END)) + 1
    make, prefix = PLAYERS[name]
    words = set(re.findall(rf"\b{prefix}([A-Z][A-Z0-9_]*)\b", text[:begin] + text[end:]))
    more = {
        word: value
        for word, value in known([columns, codes, places, conditions, effects, records, timing]).items()
        if word in words
    }
    return f"{text[:begin]}{make(more)}\n{text[end:]}"


def main() -> None:
    """Write each player with its kernels printed anew."""
    for name in PLAYERS:
        (RUNTIME / name).write_text(printed(name), "utf-8")


if __name__ == "__main__":
    main()
