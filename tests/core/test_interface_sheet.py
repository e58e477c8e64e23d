"""The sheet for programmers: what goes in and comes out, and names that a compiler knows."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from leanstep.core.character.files import load
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.interface_sheet import constants_of, facts, files
from leanstep.core.graph.compilation import compile_character
from leanstep.core.tick.table import table_of
from tests.property.test_players import asking, everything
from tests.support.build import DEMO


def test_the_sheet_tells_inputs_marks_and_what_states_ask() -> None:
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    told = facts(machine, table_of(machine))
    inputs = {row["name"]: row for row in told["inputs"]}
    assert inputs["jump"]["kind"] == "button" and inputs["speed"]["set_by"] == "body"
    assert {row["name"] for row in told["inputs"] + told["told"]} == {symbol.name for symbol in machine.symbols}
    assert {row["name"] for row in told["marks"]} == set(table_of(machine).names.marks)
    assert [layer["name"] for layer in told["layers"]] == [layer.name for layer in machine.layers]
    machine = compile_character(asking())
    (back, front) = facts(machine, table_of(machine))["layers"]
    assert back["states"][0]["asks"]["fall_cap"] == 50.0 and back["states"][0]["asks"]["box"] == (12.0, 20.0)
    assert [state["clear"] for state in front["states"]] == [True, False, False]
    machine = compile_character(everything())
    assert facts(machine, table_of(machine))["marks"] == [{"name": "beat", "says": {"loud": [2.5]}}]


def test_names_that_look_alike_become_different_constants() -> None:
    table = table_of(compile_character(everything()))
    table.names.marks[:] = ["foot step", "foot-step", "2nd", "ü", "class"]
    assert constants_of(table)["marks"] == {
        "FOOT_STEP": "foot step", "FOOT_STEP_2": "foot-step", "_2ND": "2nd", "NAMELESS": "ü", "_CLASS": "class",
    }  # fmt: skip


USES = {
    "c": (
        ["cc", "-std=c99", "-Werror", "-fsyntax-only"],
        '#include "hero_names.h"\nint f(void) {{ return EVERYTHING_PARAMETER_{name}; }}\n',
    ),
    "java": (["javac", "-d", "."], "class Game {{ String f() {{ return HeroNames.Parameters.{name}; }} }}\n"),
    "lua": (["lua5.4"], 'local names = require("hero_names")\nassert(names.parameters.{name})\n'),
    "py": ([sys.executable], "from hero_names import Parameters\nassert Parameters.{name}\n"),
    "mts": (
        ["tsc"],
        'import {{ parameters }} from "./hero_names.mjs";\nexport const one: string = parameters.{name};\n',
    ),
}
FILES = {"c": "game.c", "java": "Game.java", "lua": "game.lua", "py": "game.py", "mts": "game.mts"}


@pytest.mark.long(but=1)
@pytest.mark.parametrize("language", USES)
def test_a_misspelt_name_fails_when_the_game_is_compiled(language: str, tmp_path: Path) -> None:
    words, text = USES[language]
    if words == ["tsc"]:
        compiler = Path(sys.prefix) / "readers" / "node_modules" / "typescript" / "bin" / "tsc"
        node = shutil.which("node") or shutil.which("nodejs")
        if node is None or not compiler.exists():
            pytest.skip("it needs what ./test installs from npm")
        words = [node, str(compiler), "--strict", "--noEmit", "--module", "nodenext"]
    elif shutil.which(words[0]) is None:
        pytest.skip(f"{words[0]} is not installed; ./test says how")
    machine = compile_character(everything())
    for name, data in files("hero", machine, table_of(machine)).items():
        (tmp_path / name).write_bytes(data.replace(b"SKETCH", b"EVERYTHING"))
    for name, fine in (("JUMP", True), ("STICK_PUSH", True), ("JUMPP", False)):
        (tmp_path / FILES[language]).write_text(text.format(name=name))
        some = [FILES[language], "HeroNames.java"] if language == "java" else [FILES[language]]
        done = subprocess.run([*words, *some], cwd=tmp_path, capture_output=True, text=True, timeout=120, check=False)
        assert (done.returncode == 0) is fine, done.stdout + done.stderr


def test_the_sheet_comes_out_with_the_others() -> None:
    path = DEMO / "lamplighter.leanstep"
    made = FORMATS["interface"].make(Source(path, load(path)))
    assert "LamplighterNames.java" in made and "lamplighter_names.h" in made
    told = json.loads(made["lamplighter.interface.json"])
    page = made["lamplighter.interface.html"].decode()
    assert all(row["name"] in page for row in told["inputs"] + told["marks"]) and "http" not in page
