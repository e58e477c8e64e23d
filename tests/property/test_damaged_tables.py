"""Tables that somebody tampered with are refused or played by all players alike, and the one in C touches no foreign memory.

``LEANSTEP_LONG=1`` damages 100 000 of them.
"""

from __future__ import annotations

import copy
import importlib.util
import json
import os
import random
import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from leanstep.core.formats.golden import golden
from leanstep.core.formats.table import encoded
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.tick.table import table_of
from tests.property.test_engine_against_plain import anything
from tests.property.test_picks import random_figure
from tests.property.test_players import HERE, MAKERS, everything, tool
from tests.support.random_characters import random_character
from tests.support.random_parts import parted_character, poses_without_art

COUNT = 100_000 if os.environ.get("LEANSTEP_LONG") else 2_400
LOT = 2_000
TICKS = 12
HARNESS = Path(__file__).parents[1] / "support" / "players"
WILD: list[Any] = [
    0,
    1,
    -1,
    2,
    3,
    5,
    7,
    16,
    17,
    65536,
    2**31,
    2**31 + 1,
    2**53,
    2**53 + 1,
    2**60,
    2**63,
    -(2**31),
    1e300,
    -1e300,
]
WILD += [0.5, -0.5, 1e-300, 12345.678, None, True, "x", "", [], {}, [0]]
TEXT = [
    "NaN",
    "Infinity",
    "01",
    "+1",
    ".5",
    "1.",
    "1e",
    "-",
    "null",
    "{",
    "[",
    "]",
    ",",
    ",,",
    '"',
    "\\",
    "\n",
    "\x00",
    "\x01",
    "1e999",
    "\\u12",
]


def bases() -> list[tuple[dict[str, Any], str]]:
    """Whole tables, each with a golden trace."""
    made = []
    characters = [
        everything(),
        *(random_character(seed, rich=True) for seed in (1, 4, 6)),
        random_figure(3),
        MAKERS["long"](1),
        parted_character(1),
        parted_character(2),
    ]
    for number, character in enumerate(characters):
        machine = compile_character(character)
        poses = poses_without_art(character)
        table = table_of(machine, poses)
        inputs = spread(anything(random.Random(number), machine, TICKS), TICKS)
        made.append((json.loads(encoded(table)), golden(machine, table, "damaged", inputs, (), poses)))
    return made


def near(pick: random.Random, value: Any) -> Any:
    """Something else than a value, now and then not far from it."""
    if isinstance(value, int | float) and pick.random() < 0.5:
        return value + pick.choice([-2, -1, 1, 2, 100])
    return pick.choice(WILD)


def damage(pick: random.Random, table: dict[str, Any]) -> None:
    """Exchange, take out or add something somewhere in a table."""
    sections = table["sections"]
    how = pick.random()
    if how < 0.7:
        # what has few rows is damaged as often as what has many
        name = pick.choice(
            [name for name, rows in sections.items() if rows] if isinstance(sections, dict) and sections else [""]
        )
        rows = sections.get(name)
        if not isinstance(rows, list) or not rows or not isinstance(rows[0], list):
            return
        row = pick.choice(rows)
        if pick.random() < 0.85 and isinstance(row, list) and row:
            at = pick.randrange(len(row))
            row[at] = near(pick, row[at])
        elif pick.random() < 0.5:
            rows.remove(row)
        else:
            pick.choice(
                [lambda: rows.append(copy.deepcopy(row)), lambda: row.append(0), row.pop, lambda: pick.shuffle(rows)]
            )()
    elif how < 0.85:
        kind = pick.choice(list(table["names"]) or [""])
        names = table["names"].get(kind)
        if isinstance(names, list) and names:
            pick.choice(
                [names.pop, lambda: names.append("more"), lambda: names.__setitem__(0, pick.choice([1, None, "x", []]))]
            )()
    else:
        part = pick.choice(list(table))
        if pick.random() < 0.4:
            del table[part]
        elif isinstance(table[part], dict) and table[part] and pick.random() < 0.7:
            key = pick.choice(list(table[part]))
            table[part][key] = pick.choice(WILD)
        else:
            table[part] = near(pick, table[part])


def damaged(seed: int, whole: list[tuple[dict[str, Any], str]]) -> tuple[bytes, str]:
    """The text of a damaged table, and a golden trace of the whole one."""
    pick = random.Random(seed)
    table, trace = pick.choice(whole)
    table = copy.deepcopy(table)
    for _ in range(pick.choice([0, 1, 1, 1, 2, 3])):
        try:
            damage(pick, table)
        except (KeyError, TypeError, AttributeError, IndexError):
            break  # there is nothing left to damage so
    text = json.dumps(table)
    if pick.random() < 0.15:
        at = pick.randrange(len(text))
        text = pick.choice(
            [text[:at], text[:at] + text[at + 1 :], text[:at] + pick.choice(TEXT) + text[at:], text + pick.choice(TEXT)]
        )
    return text.encode(), trace


def told(words: list[str], lines: str, **environment: str) -> list[str]:
    """What a player says of each table: ``refused``, or its trace."""
    done = subprocess.run(
        words, input=lines, capture_output=True, text=True, timeout=3000, env={**os.environ, **environment}, check=False
    )
    assert done.returncode == 0, done.stderr[-3000:]
    parts = done.stdout.split("== ")
    found, before = [], parts[0]
    for part in parts[1:]:
        code, _, rest = part.partition("\n")
        assert code in "01", code
        found.append("refused" if code == "1" else before)
        before = rest
    return found


def python_player() -> Any:
    spec = importlib.util.spec_from_file_location("damaged_player", HERE / "leanstep_player.py")
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def in_python(player: Any, pairs: list[tuple[Path, Path]]) -> Iterator[str]:
    for table, trace in pairs:
        try:
            made = player.Table.load(str(table))
        except player.TableError as error:
            assert str(error) and "\n" not in str(error).strip()
            yield "refused"
            continue
        yield "".join(f"{line}\n" for line in player.replay(made, trace.read_text()))


@pytest.fixture(scope="module")
def checked_c(tmp_path_factory: pytest.TempPathFactory) -> str:
    """The player in C, compiled so that what touches foreign memory or is undefined ends it."""
    program = tmp_path_factory.mktemp("checked") / "many"
    checkers = ["-fsanitize=address,undefined", "-fsanitize=float-cast-overflow", "-fno-sanitize-recover=all"]
    words = [
        tool("cc", "gcc", "clang"),
        "-std=c99",
        "-O1",
        "-g",
        *checkers,
        f"-I{HERE}",
        str(HARNESS / "many.c"),
        "-lm",
        "-o",
    ]
    done = subprocess.run([*words, str(program)], capture_output=True, text=True, timeout=300, check=False)
    if done.returncode and "sanitize" in done.stderr:
        pytest.skip("this compiler has no checkers for memory")
    assert not done.returncode, done.stderr
    return str(program)


@pytest.mark.long
def test_damaged_tables_are_refused_or_played_alike(checked_c: str, tmp_path: Path) -> None:
    whole, player, node = bases(), python_player(), tool("node", "nodejs")
    refused = 0
    for first in range(0, COUNT, LOT):
        pairs = []
        for seed in range(first, min(first + LOT, COUNT)):
            text, trace = damaged(seed, whole)
            table, traced = tmp_path / f"{seed - first}.json", tmp_path / f"{seed - first}.txt"
            table.write_bytes(text)
            traced.write_text(trace)
            pairs.append((table, traced))
        lines = "".join(f"{table}\t{trace}\n" for table, trace in pairs)
        in_c = told([checked_c], lines)
        in_js = told([node, str(HARNESS / "many.mjs"), (HERE / "leanstep_player.mjs").as_uri()], lines)
        for number, (one, other, third) in enumerate(zip(in_c, in_js, in_python(player, pairs), strict=True)):
            assert one == other, (first + number, "C and JavaScript", one[:60], other[:60])
            assert one == third, (first + number, "C and Python", one[:60], third[:60])
            refused += one == "refused"
    assert COUNT * 0.2 < refused < COUNT * 0.95


@pytest.mark.long
def test_whole_tables_are_played(checked_c: str, tmp_path: Path) -> None:
    lines, wanted = "", []
    for number, (table, trace) in enumerate(bases()):
        (tmp_path / f"{number}.json").write_text(json.dumps(table))
        (tmp_path / f"{number}.txt").write_text(trace)
        lines += f"{tmp_path / f'{number}.json'}\t{tmp_path / f'{number}.txt'}\n"
        wanted.append(trace)
    assert told([checked_c], lines) == wanted
