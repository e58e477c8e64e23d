"""Handing over on the command line: several formats at once, folders and patterns, what counts as failed, and what goes wrong."""

from __future__ import annotations

import json
import os
import resource
import shutil
import signal
import subprocess
import sys
import xml.etree.ElementTree as ElementTree
from pathlib import Path
from typing import Any

import msgspec
import pytest
from typer.testing import CliRunner, Result

from leanstep.cli import batch
from leanstep.cli.main import app
from leanstep.core.character.files import dump, load
from leanstep.core.character.graph import State
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.work import Work
from tests.support.build import DEMO, sketch, way

CHECK_ONE = batch.check_one


def call(*words: str) -> Result:
    return CliRunner().invoke(app, list(words))


@pytest.fixture
def file(tmp_path: Path) -> Path:
    """A small character with a dead end."""
    path = tmp_path / "small.leanstep"
    path.write_bytes(dump(sketch(way("a>b", "jump pressed"))))
    return path


@pytest.fixture
def sound(tmp_path: Path) -> Path:
    """A small character with notes only."""
    path = tmp_path / "more" / "sound.leanstep"
    path.parent.mkdir()
    states = (State(name="a", restful=True), State(name="b", restful=True))
    path.write_bytes(dump(sketch(way("a>b", "jump pressed"), way("b>a", "not jump held for 0.5 s"), states=states)))
    return path


def test_everything_is_written_at_once_and_again(file: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    words = [word for target in ("dot", "graphml", "sarif", "junit", "json", "html") for word in ("--to", target)]
    for _ in range(2):
        result = call("export", str(file), *words, "--out", str(out), "--play", "0")
        assert result.exit_code == 0, result.output
    names = {"small.dot", "small.graphml", "small.sarif", "small.junit.xml", "small.findings.json", "small.html"}
    assert {path.name for path in out.iterdir()} == names
    assert json.loads((out / "small.sarif").read_text())["version"] == "2.1.0"


def test_traces_of_takes_go_out(tmp_path: Path) -> None:
    result = call("export", str(DEMO / "harbour-cat.leanstep"), "--to", "traces", "--out", str(tmp_path))
    assert result.exit_code == 0
    shutil.copytree(DEMO, tmp_path / "demo", ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    result = call("export", str(tmp_path / "demo" / "lamplighter.leanstep"), "--to", "traces", "--out", str(tmp_path))
    assert result.exit_code == 0
    golden = DEMO.parent / "tests" / "golden" / "walk-and-jump.csv"
    assert (tmp_path / "lamplighter.walk-and-jump.trace.csv").read_text() == golden.read_text()


def test_what_somebody_else_wrote_is_not_written_over(file: Path, tmp_path: Path) -> None:
    other = tmp_path / "small.dot"
    other.write_text("digraph { mine }")
    result = call("export", str(file), "--to", "dot", "--to", "sarif", "--out", str(tmp_path), "--play", "0")
    assert result.exit_code != 0 and "did not write" in str(result.exception)
    assert other.read_text() == "digraph { mine }" and not (tmp_path / "small.sarif").exists(), "nothing half written"
    assert call("export", str(file), "--to", "dot", "--out", str(tmp_path), "--play", "0", "--force").exit_code == 0
    assert "Lean Step" in other.read_text()


def test_a_folder_that_cannot_be_made_is_a_sentence(file: Path) -> None:
    result = call("export", str(file), "--to", "dot", "--out", str(file / "below"), "--play", "0")
    assert result.exit_code != 0 and "Choose another folder" in str(result.exception)


def test_checks_take_folders_and_patterns_each_file_once(file: Path, sound: Path, tmp_path: Path) -> None:
    result = call("check", str(tmp_path), str(file), str(tmp_path / "**/*.leanstep"), "--format", "json", "--play", "0")
    assert len(result.stdout.splitlines()) == 2 and result.exit_code == 1
    nothing = tmp_path / "empty"
    nothing.mkdir()
    result = call("check", str(nothing))
    assert result.exit_code != 0 and "no character files" in str(result.exception)


@pytest.mark.parametrize(("fails", "code"), [("error", 0), ("warning", 0), ("note", 1)])
def test_what_fails_a_check_is_said(sound: Path, fails: str, code: int) -> None:
    assert call("check", str(sound), "--fail-on", fails, "--play", "0").exit_code == code


def test_documents_hold_all_files(file: Path, sound: Path, tmp_path: Path) -> None:
    result = call("check", str(file), str(sound), "--format", "sarif", "--play", "0")
    uris = {
        one["locations"][0]["physicalLocation"]["artifactLocation"]["uri"]
        for one in json.loads(result.stdout)["runs"][0]["results"]
    }
    assert uris == {file.as_posix(), sound.as_posix()} and result.exit_code == 1
    place = tmp_path / "results.xml"
    result = call("check", str(file), str(sound), "--format", "junit", "--out", str(place), "--play", "0")
    suites = ElementTree.fromstring(place.read_bytes()).findall("testsuite")
    assert [suite.get("failures") != "0" for suite in suites] == [True, False] and result.stdout == ""


def test_clips_go_out_as_moving_pictures_and_strips(tmp_path: Path) -> None:
    shutil.copytree(DEMO, tmp_path / "demo", ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    cat = tmp_path / "demo" / "harbour-cat.leanstep"
    out = tmp_path / "out"
    words = ("--to", "apng", "--to", "gif", "--to", "strips", "--scale", "2", "--out", str(out))
    for _ in range(2):
        result = call("export", str(cat), *words)
        assert result.exit_code == 0, result.output
    clips = len(load(cat).clips)
    assert len(list(out.glob("*.gif"))) == clips and len(list(out.glob("*.strip.png"))) == clips
    assert len(list(out.glob("*.clip.png"))) == clips
    (tmp_path / "demo" / "art" / "harbour-cat.png").unlink()
    result = call("export", str(cat), *words)
    assert result.exit_code != 0 and "harbour-cat.png" in str(result.exception)


def test_everything_there_is_comes_out(tmp_path: Path) -> None:
    for path in (DEMO / "net-mender-after.leanstep", DEMO / "harbour-cat.leanstep"):
        out = tmp_path / path.stem
        result = call("export", str(path), "--to", "all", "--out", str(out), "--play", "0")
        assert result.exit_code == 0, result.output
        names = {one.name for one in out.iterdir()}
        assert {
            f"{path.stem}.table.json",
            f"{path.stem}.atlas.json",
            f"{path.stem}.scxml",
            "leanstep_player.h",
        } <= names
        assert all(one.stat().st_size for one in out.iterdir())
    assert call("export", str(path), "--to", "all", "--out", str(out), "--play", "0").exit_code == 0


def test_what_there_is_is_listed_and_a_wrong_name_gets_the_nearest(file: Path) -> None:
    told = call("export", str(file), "--list").stdout
    assert "scxml" in told and "cannot hold:" in told
    for words, says in ((("--to", "scml"), "Did you mean scxml?"), ((), "it is not said as what")):
        result = call("export", str(file), *words)
        assert isinstance(result.exception, LeanStepError) and says in str(result.exception)


def test_names_no_file_can_have_become_others_and_a_sketch_without_art_comes_out_too(tmp_path: Path) -> None:
    names = ("../../up", "a/b", "a_b", "灯" * 80, ".", "con:*?")
    character = sketch(way("a>b", "jump pressed"), takes=tuple(Take(name=name, ticks=2) for name in names))
    path = tmp_path / "in" / "odd.leanstep"
    path.parent.mkdir()
    path.write_bytes(dump(msgspec.structs.replace(character, name="two\nin 3=4\nlines")))
    out = tmp_path / "out" / "deep"
    result = call("export", str(path), "--to", "all", "--out", str(out), "--play", "0")
    assert result.exit_code == 0 and "there is no atlas" in result.output
    assert sorted(one.name for one in (tmp_path / "out").iterdir()) == ["deep"]
    golden = next(out.glob("*.golden.txt")).read_text().splitlines()
    assert golden[0].startswith("leanstep golden 1: two in 3=4 lines,") and golden[1] == "begin"
    assert len(list(out.glob("*.take.json"))) == len(list(out.glob("*.golden.txt"))) == len(names)


def test_takes_go_out_and_come_in_again(tmp_path: Path) -> None:
    demo = DEMO / "lamplighter.leanstep"
    assert call("export", str(demo), "--to", "takes", "--out", str(tmp_path)).exit_code == 0
    wanted = call("rehearse", str(demo), "--take", "walk-and-jump").stdout
    for ending in ("csv", "json"):
        path = tmp_path / f"lamplighter.walk-and-jump.take.{ending}"
        assert call("rehearse", str(demo), "--take", str(path)).stdout == wanted


@pytest.mark.long
def test_a_disk_that_is_full_in_the_middle_leaves_nothing_half_written(tmp_path: Path) -> None:
    """No file may grow beyond a limit, as on a full disk: what is too large is not there, what was there before is as it was."""
    out = tmp_path / "out"
    words = [sys.executable, "-m", "leanstep.cli.main", "export", str(DEMO / "lamplighter.leanstep"), "--out", str(out)]

    def full() -> None:
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000))

    subprocess.run([*words, "--to", "atlas"], check=True, capture_output=True, timeout=300)
    before = (out / "lamplighter.atlas.png").read_bytes()
    done = subprocess.run(
        [*words, "--to", "atlas", "--to", "table", "--scale", "3"],
        preexec_fn=full, capture_output=True, text=True, check=False, timeout=300,
    )  # fmt: skip
    assert done.returncode == 2 and "lamplighter.atlas.png" in done.stderr and "Traceback" not in done.stderr
    assert (out / "lamplighter.atlas.png").read_bytes() == before
    assert not [path for path in out.iterdir() if path.name.startswith(".")]


def test_several_processes_say_the_same_in_the_same_order(file: Path, sound: Path, tmp_path: Path) -> None:
    broken = tmp_path / "broken.leanstep"
    broken.write_text("{")
    files = [str(sound), str(broken), str(file)]
    one, two = (call("check", *files, "--format", "sarif", "--play", "0", "--jobs", jobs) for jobs in ("1", "2"))
    assert one.stdout == two.stdout and one.stderr == two.stderr and one.exit_code == two.exit_code == 2
    assert "broken.leanstep" in two.stderr


def test_a_file_whose_check_kills_its_process_fails_alone(
    file: Path, sound: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    deadly = tmp_path / "deadly.leanstep"
    shutil.copy(file, deadly)
    monkeypatch.setattr(batch, "check_one", dying)
    found = list(batch.check_all([sound, deadly, file], batch.on_processes(2), Work(1000), None, lambda *_: None))
    assert [one.path for one in found] == [sound, deadly, file]
    assert [bool(one.error) for one in found] == [False, True, False] and "died" in found[1].error


def dying(path: Path, *words: Any) -> batch.Outcome:
    """Check a file, unless it is a deadly one."""
    if path.stem == "deadly":
        os._exit(9)
    return CHECK_ONE(path, *words)


def test_only_what_an_earlier_check_did_not_know_fails(file: Path, tmp_path: Path) -> None:
    known = tmp_path / "known.sarif"
    assert call("check", str(file), "--format", "sarif", "--out", str(known), "--play", "0").exit_code == 1
    result = call("check", str(file), "--baseline", str(known), "--play", "0")
    assert result.exit_code == 0 and "0 errors" in result.stdout
    file.write_bytes(dump(sketch(way("a>b", "jump pressed and spede > 3"))))
    result = call("check", str(file), "--baseline", str(known), "--play", "0")
    assert result.exit_code == 1 and "name.unknown" in result.stdout and "b is a dead end" not in result.stdout
    known.write_text("[]")
    result = call("check", str(file), "--baseline", str(known))
    assert result.exit_code != 0 and "no SARIF file" in str(result.exception)
