"""What build servers ask for: nothing twice, many at once, on a cluster, and sweeps of takes nobody would play."""

from __future__ import annotations

import hashlib
import html
import json
import os
import re
import shutil
import signal
import time
import xml.etree.ElementTree as ElementTree
from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from typing import Any

import jsonschema
import msgspec
import pytest
from PIL import Image
from typer.testing import CliRunner, Result

from leanstep import __version__
from leanstep.cli import batch, result_cache
from leanstep.cli.batch import Outcome, check_all, on_cluster
from leanstep.cli.clusters import client_of, results_of
from leanstep.cli.main import app
from leanstep.cli.result_cache import ResultCache
from leanstep.core.character.files import dump, load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.takes import Expectation, Take
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.sweeping import LOT, lots, never_seen, shorter, sweep_lot, take_of, together
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Reason, Work
from tests.support.build import DEMO, PARAMETERS, sketch, way

WORK = Work(1000)


def call(*words: str) -> Result:
    return CliRunner().invoke(app, list(words))


@pytest.fixture
def files(tmp_path: Path) -> list[Path]:
    """A few small characters, the second with a dead end."""
    found = []
    for number in range(4):
        ways = [way("a>b", "jump pressed"), *([] if number == 1 else [way("b>a", "hurt")])]
        path = tmp_path / f"c{number}.leanstep"
        path.write_bytes(dump(sketch(*ways, takes=(Take(name=f"t{number}", ticks=number),))))
        found.append(path)
    return found


def count(paths: list[Path], monkeypatch: pytest.MonkeyPatch) -> list[Path]:
    """The paths that are really checked from now on."""
    done: list[Path] = []
    check_one = batch.check_one

    def checked(path: Path, *words: Any) -> Outcome:
        done.append(path)
        return check_one(path, *words)

    monkeypatch.setattr(batch, "check_one", checked)
    return done


def test_what_has_not_changed_is_not_checked_again(files: list[Path], monkeypatch: pytest.MonkeyPatch) -> None:
    done = count(files, monkeypatch)
    words = ["check", *map(str, files), "--play", "0", "--format", "json"]
    first = call(*words)
    assert len(done) == 4 and first.exit_code == 1
    assert call(*words).stdout == first.stdout and len(done) == 4
    files[2].write_bytes(dump(sketch(way("a>b", "speed > 3"))))
    again = call(*words)
    assert done[4:] == [files[2]] and again.stdout != first.stdout
    assert call(*words[:-3], "1", "--format", "json").exit_code == 1 and len(done) == 9
    call(*words, "--anew")
    assert len(done) == 13


def test_another_program_or_another_picture_is_another_result(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    shutil.copytree(DEMO, tmp_path / "demo", ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    cat = tmp_path / "demo" / "harbour-cat.leanstep"
    done = count([cat], monkeypatch)
    words = ["check", str(cat), "--play", "0", "--format", "sarif"]
    first = call(*words)
    assert call(*words).stdout == first.stdout and len(done) == 1
    image = tmp_path / "demo" / "art" / "harbour-cat.png"
    picture = Image.open(image).convert("RGBA")
    picture.putpixel((0, 0), (1, 2, 3, 255))
    picture.save(image)
    call(*words)
    assert len(done) == 2
    result_cache._program.cache_clear()
    monkeypatch.setattr(result_cache, "_program", lambda: b"other")
    call(*words)
    assert len(done) == 3


def told(*words: str) -> str:
    """What a check says, but for how long it took."""
    return re.sub(r'"seconds": [0-9.e-]+', "", call(*words).stdout)


def test_kept_results_that_are_torn_or_cannot_be_kept_do_no_harm(
    files: list[Path], results: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    words = ["check", *map(str, files), "--play", "0", "--format", "json"]
    first = told(*words)
    for path in results.glob("*.json"):
        path.write_text("{")
    assert told(*words) == first
    shutil.rmtree(results)
    results.write_text("a file where the folder should be")
    assert told(*words) == first
    monkeypatch.setattr(result_cache, "MOST", 1)
    results.unlink()
    call(*words)
    assert len(list(results.glob("*.json"))) == 1


@pytest.mark.parametrize("limit", [("--time-limit", "0"), ("--memory-limit", "1")])
def test_a_check_that_ran_out_of_time_or_memory_is_not_kept(files: list[Path], results: Path, limit: list[str]) -> None:
    call("check", str(files[0]), *limit, "--format", "json")
    assert not list(results.glob("*.json"))


@pytest.fixture(scope="module")
def cluster() -> Iterator[Any]:
    """A real local cluster of two workers, each a process of its own."""
    from distributed import LocalCluster

    with LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None, silence_logs=50
    ) as made:
        yield made


@pytest.mark.long
def test_a_cluster_says_what_one_process_says_in_the_same_order(cluster: Any, files: list[Path]) -> None:
    here = list(check_all(files, batch.here, WORK, None, lambda *_: None))
    there = list(check_all(files, on_cluster(cluster.scheduler_address), WORK, None, lambda *_: None))
    assert [one.path.name for one in there] == [one.path.name for one in here]
    for one, other in zip(here, there):
        assert one.report is not None and other.report is not None
        assert [finding.key for finding in one.report.findings] == [finding.key for finding in other.report.findings]
    result = call("check", *map(str, files), "--play", "0", "--cluster", cluster.scheduler_address)
    assert result.exit_code == 1 and "dead end" in result.stdout


def deadly_once(number: int, flag: str) -> int:
    """Kills its worker in mid-run, the first time; after that it does its work."""
    time.sleep(0.1)
    if number == 2:
        try:
            os.close(os.open(flag, os.O_CREAT | os.O_EXCL))
        except FileExistsError:
            return number
        os.kill(os.getpid(), signal.SIGKILL)
    return number


@pytest.mark.long
def test_a_worker_that_is_killed_in_mid_run_loses_nothing(cluster: Any, tmp_path: Path) -> None:
    flag = tmp_path / "killed"
    tasks = [(number, str(flag)) for number in range(8)]
    client = client_of(cluster.scheduler_address)
    assert list(results_of(client, deadly_once, tasks, lambda task, error: -1)) == list(range(8))
    assert flag.exists()


@pytest.mark.long
def test_a_cluster_without_workers_ends_with_a_sentence(files: list[Path], monkeypatch: pytest.MonkeyPatch) -> None:
    from distributed import LocalCluster

    from leanstep.cli import clusters

    monkeypatch.setattr(clusters, "LONELY", 1.5)
    with LocalCluster(n_workers=0, dashboard_address=None) as empty:
        begun = time.monotonic()
        result = call("check", str(files[0]), "--anew", "--play", "0", "--cluster", empty.scheduler_address)
    assert isinstance(result.exception, LeanStepError) and "it has no workers" in str(result.exception)
    assert time.monotonic() - begun < 30


def test_no_cluster_is_a_sentence(files: list[Path], monkeypatch: pytest.MonkeyPatch) -> None:
    from leanstep.cli import clusters

    monkeypatch.setattr(clusters, "PATIENCE", 0.3)
    result = call("check", str(files[0]), "--cluster", "tcp://127.0.0.1:9")
    assert isinstance(result.exception, LeanStepError) and "no scheduler answers there" in str(result.exception)
    result = call("check", str(files[0]), "--cluster", "nonsense address")
    assert isinstance(result.exception, LeanStepError)


# --- sweeps


def test_lots_follow_from_the_seed_alone_wherever_they_are_played(tmp_path: Path) -> None:
    path = tmp_path / "lamplighter.leanstep"
    path.write_bytes((DEMO / "lamplighter.leanstep").read_bytes())
    words = ["sweep", str(path), "--takes", str(2 * LOT + 5), "--ticks", "120", "--seed", "4", "--format", "json"]
    one, two = call(*words), call(*words, "--jobs", "2")
    assert one.exit_code == two.exit_code == 0 and one.stdout == two.stdout
    assert json.loads(one.stdout)["takes"] == 2 * LOT + 5
    other = call(*words[:-3], "5", "--format", "json")
    assert other.stdout != one.stdout


@pytest.mark.long
def test_a_cluster_sweeps_as_one_process_does(cluster: Any, tmp_path: Path) -> None:
    words = ["sweep", str(DEMO / "lamplighter.leanstep"), "--takes", str(2 * LOT), "--ticks", "60", "--format", "json"]
    assert call(*words, "--cluster", cluster.scheduler_address).stdout == call(*words).stdout


def test_what_a_sweep_tells_is_shown_by_its_takes_and_they_are_the_shortest_it_saw() -> None:
    character = load(DEMO / "lamplighter-faulty.leanstep")
    machine = compile_character(character)
    parts = [sweep_lot(machine, 1, begin, end, 200) for begin, end in lots(3 * LOT)]
    found = together(parts)
    assert {kind for kind, _, _ in found.seen} >= {"state", "flicker"}
    for key, one in found.seen.items():
        assert one.ticks == min(part.seen[key].ticks for part in parts if key in part.seen)
        small = shorter(machine, key, one)
        take = take_of(machine, key, small)
        assert sum(len(each.set) for each in take.changes) <= sum(
            len(each.set) for each in take_of(machine, key, one).changes
        )
        trace = rehearse(machine, take)
        kind, layer, state = key
        at = next(number for number, table in enumerate(machine.layers) if table.name == layer)
        shown = [machine.layers[at].states[number] for number in (trace.first.states[at], *trace.states(at))]
        if kind == "state":
            assert shown[-1] == state != shown[-2]
        if kind == "flicker":
            assert shown[-1] == state and state in shown[:-1]


def test_states_nobody_comes_to_and_expectations_that_break_are_told(tmp_path: Path) -> None:
    parameters = (*PARAMETERS, Parameter(name="wet", kind="flag"))
    states = (State(name="a"), State(name="b", expects="not jump held", grace=0.0), State(name="c"))
    character = sketch(
        way("a>b", "jump pressed"), way("b>a", "not jump held"), way("b>c", "false"),
        states=states, parameters=parameters, assumptions=("not wet",),
    )  # fmt: skip
    path = tmp_path / "s.leanstep"
    path.write_bytes(dump(character))
    result = call("sweep", str(path), "--takes", "40", "--ticks", "50")
    assert result.exit_code == 1 and "c of base was never seen." in result.stdout
    assert "b of base is shown while what it expects is false" in result.stdout
    machine = compile_character(character)
    found = together([sweep_lot(machine, 1, *lot, 50) for lot in lots(40)])
    assert never_seen(machine, found) == [("base", "c")]
    wet = machine.index["wet"]
    assert not any(row[wet] for one in found.seen.values() for row in one.rows)


def test_limits_on_how_often_and_how_fast_are_kept() -> None:
    slow = (Parameter(name="speed", min=0, max=8, per_second=60.0), Parameter(name="hurt", kind="pulse", once_per=0.5))
    machine = compile_character(sketch(way("a>b", "speed > 3 or hurt"), way("b>a", "speed < 1"), parameters=slow))
    found = together([sweep_lot(machine, 2, *lot, 200) for lot in lots(2 * LOT)])
    speed, hurt = machine.index["speed"], machine.index["hurt"]
    for one in found.seen.values():
        values = [0.0, *(float(row[speed]) for row in one.rows)]
        assert all(abs(after - before) <= 1.0000001 for before, after in pairwise(values))
        raised = [tick for tick, row in enumerate(one.rows) if row[hurt]]
        assert all(after - before >= 30 for before, after in pairwise(raised))


def test_a_hook_names_a_command_there_is() -> None:
    text = (DEMO.parent / ".pre-commit-hooks.yaml").read_text()
    assert "entry: lean-step check" in text and msgspec.yaml.decode(text)[0]["files"] == r"\.leanstep$"


def test_results_of_kept_checks_have_their_characters_when_they_are_asked_for(files: list[Path], results: Path) -> None:
    kept = ResultCache((1000, 0), results)
    first = list(check_all(files, batch.here, WORK, kept, lambda *_: None))
    again = list(check_all(files, batch.here, WORK, kept, lambda *_: None))
    assert all(one.kept for one in again)
    assert [one.document.takes[0].name for one in again] == [one.document.takes[0].name for one in first]


def test_what_a_limit_in_seconds_cut_off_is_no_result_whatever_it_cut(files: list[Path], results: Path) -> None:
    data = files[0].read_bytes()
    report = check_character(load(files[0]))
    cache = ResultCache((1000, 0), results)
    late = replace(report, complete=False, aborted="the search for flicker was cut short", reason=Reason.TIME)
    cache.keep(data, {}, late)
    assert cache.find(data, files[0].parent) is None
    cache.keep(data, {}, replace(late, reason=Reason.BUDGET))
    assert cache.find(data, files[0].parent) is not None


def test_what_is_saved_while_it_is_checked_does_not_get_the_old_result(
    files: list[Path], monkeypatch: pytest.MonkeyPatch
) -> None:
    from leanstep.core.findings import report

    path, faulty = files[1], files[1].read_bytes()
    check, sound = report.check_character, dump(sketch(way("a>b", "speed > 3"), way("b>a", "speed < 1")))
    path.write_bytes(sound)

    def checked(*words: Any, **more: Any) -> Any:
        found = check(*words, **more)
        path.write_bytes(faulty)
        return found

    monkeypatch.setattr(report, "check_character", checked)
    words = ["check", str(path), "--play", "0", "--format", "sarif"]
    during = call(*words)
    monkeypatch.setattr(report, "check_character", check)
    assert during.exit_code == 0
    assert call(*words).exit_code == 1


def test_a_picture_that_changes_during_a_check_is_not_vouched_for(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from leanstep.core.findings import report

    shutil.copytree(DEMO, tmp_path / "demo", ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    cat, image = tmp_path / "demo" / "harbour-cat.leanstep", tmp_path / "demo" / "art" / "harbour-cat.png"
    check, picture = report.check_character, image.read_bytes()

    def checked(*words: Any, **more: Any) -> Any:
        found = check(*words, **more)
        image.write_bytes(picture + b" ")
        return found

    monkeypatch.setattr(report, "check_character", checked)
    (one,) = batch.here([cat], WORK)
    assert one.report is not None and one.images is None


GARBLED: dict[str, Callable[[dict[str, Any]], Any]] = {
    "no object": lambda made: [made],
    "no report": lambda made: {"made": made["made"], "images": {}},
    "images that are none": lambda made: made | {"images": ["a"]},
    "findings of nothing": lambda made: made | {"report": made["report"] | {"findings": [None]}},
    "a severity nobody knows": lambda made: made | {"report": made["report"] | {"findings": [FINDING]}},  # type: ignore[has-type]
    "a state of other fields": lambda made: made | {"report": made["report"] | {"states": [{"colour": 3}]}},
    "another version": lambda made: made | {"made": made["made"] | {"version": "0"}},
    "other limits": lambda made: made | {"made": made["made"] | {"limits": [1]}},
    "a field more": lambda made: made | {"more": 1},
}
FINDING = {
    "id": "x",
    "severity": "terrible",
    "subject": {},
    "sentence": "",
    "world": None,
    "verdict": "proved",
    "witness": None,
    "why": "",
}


@pytest.mark.parametrize("how", list(GARBLED))
@pytest.mark.parametrize("signed", [False, True])
def test_kept_results_that_others_wrote_are_none(how: str, signed: bool, files: list[Path], results: Path) -> None:
    words = ["check", str(files[0]), "--play", "0", "--format", "json"]
    first = told(*words)
    for path in results.glob("*.json"):
        digest, _, text = path.read_bytes().partition(b"\n")
        changed = json.dumps(GARBLED[how](json.loads(text))).encode()
        digest = hashlib.sha256(changed).hexdigest().encode() if signed else digest
        path.write_bytes(digest + b"\n" + changed)
    assert told(*words) == first


def test_a_kept_result_says_what_made_it(files: list[Path], results: Path) -> None:
    call("check", str(files[0]), "--play", "0", "--budget", "777")
    (path,) = results.glob("*.json")
    made = json.loads(path.read_bytes().partition(b"\n")[2])["made"]
    assert made["version"] == __version__ and made["limits"] == [777, 0]


def test_a_file_that_cannot_be_opened_is_an_error_in_every_document(tmp_path: Path) -> None:
    inner = tmp_path / "cast"
    inner.mkdir()
    (inner / "broken.leanstep").write_text("{")
    (inner / "fine.leanstep").write_bytes(dump(sketch(way("a>b", "hurt"), way("b>a", "hurt"))))
    runner = CliRunner()
    done = runner.invoke(app, ["check", str(inner), "--format", "junit", "--anew"])
    assert done.exit_code == 2
    whole = ElementTree.fromstring(done.stdout)
    suites = {suite.get("name"): suite for suite in whole}
    broken = suites[(inner / "broken.leanstep").as_posix()]
    error = broken.find("testcase/error")
    assert broken.get("errors") == "1" and error is not None and str(inner) in error.get("message", "")
    assert suites[(inner / "fine.leanstep").as_posix()].get("errors") == "0"
    done = runner.invoke(app, ["check", str(inner), "--format", "sarif", "--anew"])
    (run,) = json.loads(done.stdout)["runs"]
    (result,) = [one for one in run["results"] if one["ruleId"] == "file.refused"]
    assert result["level"] == "error" and str(inner) in result["message"]["text"]
    assert (
        result["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] == (inner / "broken.leanstep").as_posix()
    )
    driver = run["tool"]["driver"]
    assert driver["rules"][result["ruleIndex"]]["id"] == "file.refused"
    assert driver["rules"][result["ruleIndex"]]["helpUri"] == f"{driver['informationUri']}#file.refused"
    assert run["invocations"][0]["executionSuccessful"] is False


def test_a_folder_is_one_page(tmp_path: Path) -> None:
    for name in ("one", "two"):
        crossed = sketch(way("a>b", "speed > 1"), way("b>a", "speed < 2"))
        (tmp_path / f"{name}.leanstep").write_bytes(dump(msgspec.structs.replace(crossed, name=f"{name} & all")))
    (tmp_path / "three.leanstep").write_text("[]")
    done = CliRunner().invoke(
        app, ["check", str(tmp_path), "--format", "html", "--anew", "--out", str(tmp_path / "page.html")]
    )
    assert done.exit_code == 2
    text = (tmp_path / "page.html").read_text()
    inner = [html.unescape(one) for one in re.findall(r'srcdoc="(.*?)"', text, re.DOTALL)]
    assert [one.count("<!doctype html>") for one in inner] == [1, 1] and "<h1>one &amp; all</h1>" in inner[0]
    assert "not checked" in text and "three.leanstep" in text


def test_a_take_that_does_not_do_what_it_expects_fails_in_junit(tmp_path: Path) -> None:
    wrong = Take(name="hit", ticks=9, changes=(), expects=(Expectation(what="end-in", name="b"),))
    path = tmp_path / "hero.leanstep"
    path.write_bytes(dump(sketch(way("a>b", "hurt"), way("b>a", "hurt"), takes=(wrong,))))
    done = CliRunner().invoke(app, ["check", str(path), "--format", "junit", "--anew"])
    case = next(one for one in ElementTree.fromstring(done.stdout).iter("testcase") if one.get("name") == "hit")
    failure = case.find("failure")
    assert failure is not None and failure.get("type") == "warning"


def test_flickers_of_a_sweep_fail_where_that_is_asked_and_its_takes_can_be_kept_and_played(tmp_path: Path) -> None:
    path, runner = tmp_path / "crossed.leanstep", CliRunner()
    path.write_bytes(dump(sketch(way("a>b", "speed > 1"), way("b>a", "speed < 7"))))
    words = ["sweep", str(path), "--takes", "40", "--ticks", "300"]
    assert runner.invoke(app, words).exit_code == 0
    assert runner.invoke(app, [*words, "--fail-on", "flicker"]).exit_code == 1
    before = path.read_bytes()
    assert runner.invoke(app, [*words, "--keep"]).exit_code == 0 and path.read_bytes() != before
    takes = [take.name for take in load(path).takes]
    assert takes and all(name.startswith("sweep: flicker") for name in takes)
    runner.invoke(app, [*words, "--keep"])
    assert [take.name for take in load(path).takes] == takes, "the same takes are replaced"
    played = runner.invoke(app, ["rehearse", str(path), "--take", takes[0]])
    assert played.exit_code == 0 and len(played.stdout.splitlines()) > 3


def test_every_condition_that_was_tried_is_told_with_its_values(tmp_path: Path) -> None:
    done = CliRunner().invoke(app, ["rehearse", str(DEMO / "lamplighter.leanstep"), "--take", "walk-and-jump", "--why"])
    rows = [json.loads(line) for line in done.stdout.splitlines()]
    character = load(DEMO / "lamplighter.leanstep")
    trace = rehearse(compile_character(character), next(one for one in character.takes if one.name == "walk-and-jump"))
    assert len(rows) == len(trace.steps) * len(character.layers)
    for row in rows:
        layer = [one.name for one in character.layers].index(row["layer"])
        fired = trace.steps[row["tick"]].fired[layer]
        assert (row["taken"] is not None) == (fired >= 0)
        assert all(one["true"] == (one["transition"] == row["taken"]) for one in row["tried"] if not one["untried"])
    jump = next(row for row in rows if row["taken"] and "take-off" in row["taken"])
    (taken,) = [one for one in jump["tried"] if one["transition"] == jump["taken"]]
    assert any(part["true"] for part in taken["parts"])


@pytest.mark.long(but=2)
@pytest.mark.parametrize("of", ["character", "table", "atlas", "findings", "trace"])
def test_what_is_written_is_as_its_schema_says(of: str, tmp_path: Path) -> None:
    made = json.loads(CliRunner().invoke(app, ["schema", "--of", of]).stdout)
    assert made["$id"].startswith(f"urn:lean-step:schema:{of}:") and made["$schema"].endswith("2020-12/schema")
    demo = str(DEMO / "lamplighter-faulty.leanstep")
    words = {
        "findings": ["check", demo, "--format", "json"],
        "trace": ["rehearse", demo, "--take", "walk-and-jump", "--format", "json"],
    }
    if of in words:
        text = CliRunner().invoke(app, words[of]).stdout
    elif of == "character":
        text = Path(demo).read_text()
    else:
        CliRunner().invoke(app, ["export", demo, "--to", of, "--out", str(tmp_path)])
        text = next(tmp_path.glob(f"*.{of}.json")).read_text()
    jsonschema.Draft202012Validator(made).validate(json.loads(text))
