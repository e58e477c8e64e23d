"""The command line, as a build server uses it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from leanstep.core.character.files import dump, load
from leanstep.core.findings import messages
from tests.cli.conftest import Command
from tests.support.build import DEMO, sketch, way


@pytest.mark.long
def test_check_says_what_is_wrong_and_exits_with_1(lean_step: Command) -> None:
    result = lean_step("check", DEMO / "lamplighter-faulty.leanstep", "--play", "3000")
    assert result.returncode == 1
    assert "idle and stride flicker" in result.stdout
    assert "Did you mean at_lamp?" in result.stdout


@pytest.mark.long
def test_check_of_several_files_is_one_object_a_line(lean_step: Command) -> None:
    result = lean_step(
        "check",
        *map(DEMO.joinpath, ("lamplighter.leanstep", "lamplighter-faulty.leanstep")),
        "--format",
        "json",
        "--play",
        "0",
    )
    assert result.returncode == 1
    sound, faulty = (json.loads(line) for line in result.stdout.splitlines())
    assert {one["severity"] for one in sound["findings"]} == {"warning", "note"} and sound["search"]["complete"] is True
    assert set(faulty) == {"version", "character", "findings", "states", "search", "muted"}
    first = faulty["findings"][0]
    assert (first["id"], first["subject"]) == ("flicker.steady", {"layer": "base", "states": ["idle", "stride"]})
    assert (first["severity"], first["world"], first["verdict"]) == ("error", "free", "proved")
    assert first["witness"]["ticks"] == first["witness"]["take"]["ticks"] == 2
    light = next(state for state in faulty["states"] if state["name"] == "light")
    assert light == {"layer": "base", "name": "light", "free": "unreachable", "ticks": None, "body": ""}


@pytest.mark.long
def test_a_file_that_cannot_be_opened_is_a_sentence_and_exit_code_2(tmp_path: Path, lean_step: Command) -> None:
    broken = tmp_path / "broken.leanstep"
    broken.write_text('{"leanstep": 1, "layers": [{"name": "b", "states": [{"name": "s"}, {"name": "s"}]}]}')
    result = lean_step("check", broken, DEMO / "lamplighter-faulty.leanstep", "--format", "json", "--play", "0")
    assert result.returncode == 2
    assert "two of them are called 's'" in result.stderr and "Traceback" not in result.stderr
    assert json.loads(result.stdout)["character"] == "Lamplighter with faults"
    assert lean_step("check", tmp_path / "nobody.leanstep").returncode == 2


@pytest.mark.parametrize(
    "words",
    [
        ("check",),
        ("chekc",),
        ("check", "x", "--budget", "none"),
        ("cut", "x.png"),
        ("cut", "x.png", "--size", "8"),
        ("cut", "x.png", "--size", "8x8", "--gap", "a"),
    ],
)
def test_a_wrong_command_line_is_exit_code_2(words: tuple[str, ...], lean_step: Command) -> None:
    result = lean_step(*words)
    assert result.returncode == 2
    assert "Traceback" not in result.stderr and result.stderr


def test_a_condition_that_does_not_parse_opens_and_is_a_finding(tmp_path: Path, lean_step: Command) -> None:
    path = tmp_path / "a.leanstep"
    path.write_text(
        '{"leanstep": 1, "layers": [{"name": "b", "states": [{"name": "s"}, {"name": "t"}],'
        ' "transitions": [{"from": "s", "to": "t", "when": "speed >"}]}]}'
    )
    result = lean_step("check", path, "--format", "json", "--play", "0")
    assert result.returncode == 1
    assert "condition.unreadable" in {finding["id"] for finding in json.loads(result.stdout)["findings"]}


@pytest.mark.long
def test_rehearse_prints_a_trace_as_csv_or_json(tmp_path: Path, lean_step: Command) -> None:
    path = DEMO / "lamplighter.leanstep"
    table = lean_step("rehearse", path, "--take", "walk-and-jump")
    assert table.returncode == 0 and len(table.stdout.splitlines()) == 301
    data = json.loads(lean_step("rehearse", path, "--take", "walk-and-jump", "--format", "json").stdout)
    assert [row["base"] for row in data["ticks"]][128] == "take-off"
    presses = tmp_path / "presses.csv"
    presses.write_text("tick,stick.x\n0,1\n60,0\n90,\n")
    assert len(lean_step("rehearse", path, "--take", presses).stdout.splitlines()) == 92
    wrong = lean_step("rehearse", path, "--take", "walk-and-jmp")
    assert wrong.returncode == 2 and "Did you mean walk-and-jump?" in wrong.stderr


@pytest.mark.long
def test_cover_says_what_takes_leave_out_and_fails_under_a_share(lean_step: Command) -> None:
    path = DEMO / "lamplighter.leanstep"
    told = lean_step("cover", path)
    assert told.returncode == 0 and "skid → stride is never taken." in told.stdout and "% covered" in told.stdout
    data = json.loads(lean_step("cover", path, "--format", "json").stdout)
    assert data["states"] == {"covered": 14, "of": 14} and 80 < data["percent"] < 100
    assert lean_step("cover", path, "--fail-under", "99").returncode == 1
    assert lean_step("cover", path.with_name("gone.leanstep")).returncode == 2


def test_cut_lists_frames_and_refuses_a_remainder(lean_step: Command) -> None:
    image = DEMO / "art" / "ferry-hand.png"
    data = json.loads(lean_step("cut", image, "--columns", 8, "--rows", 3, "--format", "json").stdout)
    assert len(data["frames"]) == 24
    assert data["frames"][9] | {"foot": None} == {
        "frame": 9, "x": 112, "y": 112, "width": 112, "height": 112, "foot": None, "empty": False
    }  # fmt: skip
    same = json.loads(lean_step("cut", image, "--size", "112x112", "--format", "json").stdout)
    assert same["frames"] == data["frames"]
    refused = lean_step("cut", image, "--columns", 5, "--rows", 3)
    assert refused.returncode == 2 and "left over" in refused.stderr


@pytest.mark.long
def test_cut_suggests_and_finds_in_json(lean_step: Command) -> None:
    image = DEMO / "art" / "ferry-hand.png"
    data = json.loads(lean_step("cut", image, "--suggest", "--format", "json").stdout)
    first = data["suggestions"][0]
    assert (data["version"], data["image"], data["width"], data["height"]) == (1, "ferry-hand.png", 896, 336)
    assert first | {"confidence": None} == {
        "kind": "grid", "columns": 8, "rows": 3, "cell": [112, 112], "margin": [0, 0], "gap": [0, 0],
        "empty": first["empty"], "confidence": None,
        "reason": "8 × 3 of 112 × 112: every cut line runs through empty pixels.",
    }  # fmt: skip
    found = json.loads(lean_step("cut", image, "--find", "--format", "json").stdout)
    assert (found["version"], found["order"], len(found["rects"])) == (1, "rows", 24)
    assert all(len(rect) == 4 for rect in found["rects"])
    words = lean_step("cut", image, "--suggest").stdout
    assert "--size 112x112 --columns 8 --rows 3 --margin 0,0 --gap 0,0" in words
    assert lean_step("cut", image, "--suggest", "--columns", 3).returncode == 2


def test_schema_version_and_help(lean_step: Command) -> None:
    schema = json.loads(lean_step("schema").stdout)
    assert schema["$schema"].startswith("https://json-schema.org/")
    assert lean_step("--version").stdout.startswith("lean-step ")
    assert "Examples" in lean_step("check", "--help").stdout


@pytest.mark.long
def test_report_writes_one_page(tmp_path: Path, lean_step: Command) -> None:
    out = tmp_path / "page.html"
    assert lean_step("report", DEMO / "lamplighter-faulty.leanstep", "--out", out).returncode == 0
    text = out.read_text()
    assert "idle and stride flicker" in text and "<svg" in text and "http" not in text


@pytest.mark.long
def test_the_worker_answers_the_newest_request() -> None:
    document = (DEMO / "lamplighter.leanstep").read_text()
    faulty = (DEMO / "lamplighter-faulty.leanstep").read_text()
    requests = [
        messages.Check(1, str(DEMO), document),
        messages.Check(2, str(DEMO), faulty),
    ]
    process = subprocess.Popen(
        [sys.executable, "-m", "leanstep.cli.worker"], stdin=subprocess.PIPE, stdout=subprocess.PIPE
    )
    assert process.stdin is not None and process.stdout is not None
    for request in requests:
        process.stdin.write(messages.line(request))
    process.stdin.flush()
    answer = next(made for made in map(messages.answer, process.stdout) if isinstance(made, messages.Checked))
    process.stdin.close()
    process.wait(30)
    assert answer.id == 2
    assert answer.report["character"] == load(DEMO / "lamplighter-faulty.leanstep").name


@pytest.mark.long
def test_fix_shows_a_difference_and_writes_only_when_asked(tmp_path: Path, lean_step: Command) -> None:
    path = tmp_path / "crossed.leanstep"
    crossed = dump(sketch(way("a>b", "speed > 1"), way("b>a", "speed < 2")))
    path.write_bytes(crossed)
    shown = lean_step("check", path, "--fix", "flicker.steady")
    assert shown.returncode == 0 and '-        {"from": "b", "to": "a", "when": "speed < 2"}' in shown.stdout
    assert path.read_bytes() == crossed
    written = lean_step("check", path, "--fix", "flicker.steady", "--write")
    assert written.returncode == 0 and '"speed < 0.9"' in path.read_text()
    again = lean_step("check", path, "--fix", "flicker.steady")
    assert again.returncode == 2 and "has no finding flicker.steady" in again.stderr
