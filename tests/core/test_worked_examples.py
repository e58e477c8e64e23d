"""The examples of CONTRIBUTING, put into a copy of the sources: they do there what is said of them."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from tests.support.build import DOCS
from tools.players.__main__ import PLAYERS

ROOT = DOCS.parent
STEP = re.compile(
    r"In\s+`(?P<file>src/[^`]+)`, (?:before `(?P<before>[^`]+(?:`[^`:]+)*?)`|(?P<end>at the end)|(?P<new>a new file)):"
    r"\n\n```\n(?P<code>.*?)```\n",
    re.DOTALL,
)


def section(title: str) -> str:
    text = (ROOT / "CONTRIBUTING.md").read_text()
    return text[text.index(f"## {title}\n") :].split("\n## ")[0]


@pytest.fixture
def sources(tmp_path: Path) -> Path:
    """A copy of the sources."""
    shutil.copytree(
        ROOT / "src" / "leanstep", tmp_path / "src" / "leanstep", ignore=shutil.ignore_patterns("__pycache__")
    )
    return tmp_path


def follow(sources: Path, title: str) -> set[str]:
    """Do what a section says; the files that it touches."""
    touched = set()
    for step in STEP.finditer(section(title)):
        file = sources / step["file"]
        touched.add(step["file"])
        if step["new"]:
            file.parent.mkdir(exist_ok=True)
            file.write_text(step["code"])
        elif step["end"]:
            file.write_text(f"{file.read_text()}\n\n{step['code']}")
        else:
            text = file.read_text()
            assert text.count(step["before"]) == 1, step["before"]
            file.write_text(text.replace(step["before"], step["code"] + step["before"]))
    return touched


def run(sources: Path, code: str) -> str:
    """What a program with these sources prints; the plain stepper plays, so that nothing is compiled anew."""
    head = "from leanstep.core.rehearsal import engine_readiness\nengine_readiness.serve_meanwhile()\n"
    environment = os.environ | {"PYTHONPATH": f"{sources / 'src'}:{ROOT}", "QT_QPA_PLATFORM": "offscreen"}
    environment |= {"LEANSTEP_STATE": str(sources / "state"), "NUMBA_CACHE_DIR": str(sources / "compiled")}
    done = subprocess.run(
        [sys.executable, "-c", head + code], env=environment, cwd=sources, capture_output=True, text=True, timeout=120
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_a_field_is_one_line_and_followed_by_all_that_handles_names(sources: Path) -> None:
    assert follow(sources, "Add a field to the document") == {"src/leanstep/core/character/graph.py"}
    made = run(
        sources,
        """
from msgspec.structs import replace
from leanstep.core.character.clips import Clip
from leanstep.core.character.files import dump, parse
from leanstep.core.character.schema import reference, schema
from leanstep.core.naming.references import Thing, users
from leanstep.core.naming.removing import without
from leanstep.core.naming.renaming import rename
from tests.support.build import sketch, way
from leanstep.core.character.graph import State
document = sketch(way("a>b"), states=(State(name="a", wave="hello"), State(name="b")), clips=(Clip(name="hello"),))
hello = Thing("clip", "hello")
assert parse(dump(document)) == document
assert [one.path[-1] for one in users(document, hello)] == ["wave"]
assert rename(document, hello, "greeting").layers[0].states[0].wave == "greeting"
assert without(document, hello).layers[0].states[0].wave == ""
assert "wave" in schema()["$defs"]["State"]["properties"] and "| `wave` |" in reference()
print("done")
""",
    )
    assert made == "done\n"


@pytest.mark.long
def test_a_kind_of_memory_touches_eight_files_and_the_players_are_printed(sources: Path) -> None:
    players = tuple(PLAYERS)
    before = {name: (sources / "src/leanstep/runtime" / name).read_text() for name in players}
    touched = follow(sources, "Add a kind of memory")
    run(sources, "from tools.players.__main__ import main\nmain()")
    made = run(
        sources,
        """
import random
from leanstep.core.findings.report import check_character
from leanstep.core.formats.golden import golden
from leanstep.core.formats.scxml import scxml
from leanstep.core.formats.table import encoded
from leanstep.core.graph.compilation import compile_character
from leanstep.core.tick.table import table_of
from leanstep.runtime import Table, replay
from tests.property.test_engine_against_plain import anything
from leanstep.core.rehearsal.step_trace import spread
from tests.support.build import sketch, way
import json
mostly = way("a>b", "grounded mostly 4 ticks"), way("b>a", "not (grounded mostly 2 ticks)")
document = sketch(*mostly, way("a>c", "grounded mostly 4 ticks and not grounded"), way("c>a"), states="a b c")
machine = compile_character(document)
assert not machine.faults, machine.faults
table = table_of(machine)
trace = golden(machine, table, "anything", spread(anything(random.Random(2), machine, 300), 300))
assert "\\n".join(replay(Table(json.loads(encoded(table))), trace)) + "\\n" == trace
assert {line.split()[1] for line in trace.splitlines() if line.startswith("out")} == {"states=0", "states=1"}
report = check_character(document)
assert [fate.free for fate in report.states] == ["reachable", "reachable", "unreachable"]
assert "mostly: true" in scxml(machine).decode()
print("done")
""",
    )
    assert made == "done\n"
    after = {name: (sources / "src/leanstep/runtime" / name).read_text() for name in players}
    assert all(before[name] != after[name] for name in players)
    assert len(touched) == 8


@pytest.mark.long
def test_a_verdict_is_a_module_and_what_others_see_of_it(sources: Path) -> None:
    assert len(follow(sources, "Add a verdict")) == 4
    made = run(
        sources,
        """
from leanstep.core.findings.report import check_character
from tests.support.build import sketch, way
def never(*ways):
    found = [one for one in check_character(sketch(*ways, states="a b c")).findings if one.id == "state.once"]
    assert all(one.verdict == "proved" and one.witness is not None for one in found)
    return [one.subject.state for one in found]
assert never(way("a>b", "hurt"), way("b>c", "hurt"), way("c>b", "hurt")) == ["a"]
assert never(way("a>b", "hurt"), way("b>c", "hurt"), way("c>a", "hurt")) == []
print("done")
""",
    )
    assert made == "done\n"


@pytest.mark.long
def test_a_dimension_is_a_module_and_an_entry(sources: Path) -> None:
    code = """
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.door import prove
from leanstep.core.work import Work
from tests.support.build import sketch, way
ways = way("a>b", "hurt", fade=0.1), way("b>c", "stay > 0.05 s and grounded"), way("c>a", "not grounded", fade=0.05)
document = sketch(*ways, states="a b c")
proof = prove(compile_character(document), Work())
found = [(one.id, one.subject.state, one.witness and one.witness.ticks) for one in check_character(document).findings]
print(sum(len(slice.reach.places) for slice in proof), found)
"""
    places, found = run(sources, code).split(" ", 1)
    assert len(follow(sources, "Add a dimension")) == 2
    more, same = run(sources, code).split(" ", 1)
    assert same == found and "flash" in found
    assert int(more) > int(places) + 5


@pytest.mark.long
def test_a_check_with_its_repair_touches_three_files(sources: Path) -> None:
    assert len(follow(sources, "Add a check with a repair")) == 3
    made = run(
        sources,
        """
from leanstep.core.character.graph import State
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.rules import index
from tests.support.build import sketch, way
states = (State(name="a", note="TODO: draw it"), State(name="b", note="drawn"))
document = sketch(way("a>b", "hurt"), way("b>a", "hurt"), states=states)
(one,) = [one for one in check_character(document).findings if one.id == "state.to-do"]
assert one.subject.state == "a" and one.sentence == "a: TODO: draw it" and "state.to-do" in index()
mended = repair(document, one)
assert mended is not None and mended.character.layers[0].states[0].note == ""
print("done")
""",
    )
    assert made == "done\n"


@pytest.mark.long
def test_a_format_is_a_module_and_an_entry(sources: Path) -> None:
    assert len(follow(sources, "Add a format")) == 2
    made = run(
        sources,
        """
import sys
from pathlib import Path
from typer.testing import CliRunner
from leanstep.cli.main import app
from leanstep.core.character.files import save
from tests.support.build import sketch, way
save(Path("hero.leanstep"), sketch(way("a>b")))
done = CliRunner().invoke(app, ["export", "hero.leanstep", "--to", "names", "--out", "."])
assert done.exit_code == 0, done.output
print(next(Path(".").glob("hero*.names.txt")).read_text(), end="")
assert "Names of states" in CliRunner().invoke(app, ["export", "hero.leanstep", "--list"]).output
""",
    )
    assert made == "base.a\nbase.b\n"


@pytest.mark.long
def test_a_station_is_its_folder_and_one_line(sources: Path) -> None:
    touched = follow(sources, "Add a station")
    assert touched == {"src/leanstep/desk/stations/notes/__init__.py", "src/leanstep/desk/stations/registry.py"}
    made = run(
        sources,
        """
from pathlib import Path
from PySide6.QtCore import QSettings
from leanstep.core.character.files import save
from leanstep.core.character.graph import State
from leanstep.desk.app import make_app, make_window
from leanstep.desk.stations.notes import NotesStation
from tests.support.build import sketch, way
save(Path("hero.leanstep"), sketch(way("a>b"), states=(State(name="a", note="drawn anew"), State(name="b"))))
make_app()
window = make_window(QSettings("one.ini", QSettings.Format.IniFormat), Path("hero.leanstep"))
window.show()
window.go("Notes")
station = window.station(NotesStation)
assert station.isVisible()
print(station.words.text())
window.close()
""",
    )
    assert made == "a: drawn anew\n"
