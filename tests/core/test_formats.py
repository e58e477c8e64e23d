"""Graphs and findings in open formats, read back by libraries that are not ours."""

from __future__ import annotations

import io
import json
import sys
from functools import cache
from pathlib import Path
from typing import Any

import junitparser
import msgspec
import networkx
import pydot
import pytest
from jsonschema import Draft4Validator
from sarif import loader as sarif_loader

from leanstep.core.character.document import Character, Muted
from leanstep.core.character.files import dump, load
from leanstep.core.character.graph import State
from leanstep.core.character.takes import Take
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.formats.graphs import dot, graph_of, graphml
from leanstep.core.formats.json_lines import line_of, path_of
from leanstep.core.formats.junit import junit
from leanstep.core.formats.sarif import sarif
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.targets import Subject
from leanstep.core.work import Work
from tests.support.build import DEMO, sketch, way

READERS = Path(sys.prefix) / "readers" / "node_modules"
FAULTY = DEMO / "lamplighter-faulty.leanstep"


@cache
def checked() -> tuple[Character, Report]:
    character = load(FAULTY)
    return character, check_character(character, DEMO)


def run() -> dict[str, Any]:
    character, report = checked()
    found: dict[str, Any] = sarif([("lamplighter-faulty.leanstep", FAULTY.read_text(), character, report)])["runs"][0]
    return found


def line(number: int) -> str:
    return FAULTY.read_text().splitlines()[number - 1]


@pytest.mark.long
def test_every_finding_has_the_line_of_what_it_is_about() -> None:
    _, report = checked()
    results = run()["results"]
    assert len(results) == len(report.findings)
    for one, finding in zip(results, report.findings):
        written = line(one["locations"][0]["physicalLocation"]["region"]["startLine"])
        subject = finding.subject
        if subject.transition is not None:
            character, _ = checked()
            layer = next(layer for layer in character.layers if layer.name == subject.layer)
            assert json.dumps(layer.transitions[subject.transition].to) in written
        elif subject.all_states:
            names = subject.all_states
            # a state that takes several lines begins with a bracket
            assert written.strip() == "{" or any(f'"name": "{name}"' in written for name in names)


def test_levels_rules_witnesses_and_marks_are_as_the_standard_says() -> None:
    _, report = checked()
    found = run()
    rules = [rule["id"] for rule in found["tool"]["driver"]["rules"]]
    assert len(rules) == len(set(rules))
    for one, finding in zip(found["results"], report.findings):
        assert one["level"] in ("error", "warning", "note") and rules[one["ruleIndex"]] == one["ruleId"] == finding.id
        assert ("codeFlows" in one) == (finding.witness is not None)
        if finding.witness is not None:
            (flow,) = one["codeFlows"]
            steps = [step["location"]["message"]["text"] for step in flow["threadFlows"][0]["locations"]]
            assert steps and all(step.startswith("tick ") for step in steps)
    marks = [one["partialFingerprints"]["leanStep/v1"] for one in found["results"]]
    again = [one["partialFingerprints"]["leanStep/v1"] for one in run()["results"]]
    assert marks == again and len(set(marks)) > len(marks) / 2


@pytest.mark.long
def test_a_repair_is_a_fix_that_makes_the_repaired_file() -> None:
    character, report = checked()
    text = dump(character).decode()
    finding = next(one for one in report.findings if one.id == "flicker.steady")
    mended = repair(character, finding, DEMO)
    assert mended is not None
    made = sarif([("a", text, character, report)], {("a", finding.key): mended})["runs"][0]["results"]
    (fix,) = next(one["fixes"] for one in made if one["ruleId"] == "flicker.steady")
    lines = text.splitlines(keepends=True)
    for change in reversed(fix["artifactChanges"][0]["replacements"]):
        region = change["deletedRegion"]
        lines[region["startLine"] - 1 : region["endLine"] - 1] = [change["insertedContent"]["text"]]
    assert "".join(lines) == dump(mended.character).decode()
    assert fix["description"]["text"] == mended.sentence


def test_an_independent_reader_counts_the_same_findings(tmp_path: Path) -> None:
    _, report = checked()
    path = tmp_path / "all.sarif"
    path.write_text(json.dumps(sarif([("a.leanstep", FAULTY.read_text(), *checked())])))
    read = sarif_loader.load_sarif_file(str(path))
    records = read.get_records()
    for severity in ("error", "warning", "note"):
        assert sum(one["Severity"] == severity for one in records) == report.count(severity)
    assert [one["Code"] for one in records] == [one.id for one in report.findings]
    assert all(one["Location"] == "a.leanstep" and int(one["Line"]) > 0 for one in records)


@pytest.mark.long
def test_the_published_schema_holds(tmp_path: Path) -> None:
    path = READERS / "@microsoft" / "jest-sarif" / "lib" / "schemas" / "sarif-2.1.0-rtm.5.json"
    if not path.is_file():
        pytest.skip("the schema of SARIF is not there: ./test installs it where there is npm")
    character, report = checked()
    finding = next(one for one in report.findings if one.id == "flicker.steady")
    mended = repair(character, finding, DEMO)
    assert mended is not None
    muted = msgspec.structs.replace(character, muted=(Muted(id=report.findings[-1].id, reason="known"),))
    made = sarif(
        [
            ("a.leanstep", FAULTY.read_text(), character, report),
            ("b", dump(muted).decode(), muted, check_character(muted, DEMO)),
        ],
        {("a.leanstep", finding.key): mended},
    )
    faults = [
        f"{list(one.path)}: {one.message}" for one in Draft4Validator(json.loads(path.read_text())).iter_errors(made)
    ]
    assert not faults


@pytest.mark.long
def test_a_muted_finding_is_a_suppression_with_its_reason() -> None:
    character, report = checked()
    one = next(finding for finding in report.findings if finding.id == "frame.duplicate")
    muted = msgspec.structs.replace(
        character, muted=(Muted(id=one.id, about="sheet lamplighter", reason="held twice"),)
    )
    results = sarif([("a", dump(muted).decode(), muted, check_character(muted, DEMO))])["runs"][0]["results"]
    (found,) = [one for one in results if "suppressions" in one]
    assert found["suppressions"] == [{"kind": "inSource", "justification": "held twice"}]


def test_junit_is_read_by_a_library_with_a_case_for_each_kind_and_each_take() -> None:
    character, report = checked()
    suites = junitparser.JUnitXml.fromstring(junit([("a.leanstep", character, report)]).encode())
    (suite,) = list(suites)
    cases = {case.name: case for case in suite}
    assert set(cases) >= {take.name for take in character.takes} | {"flicker.steady", "everything was decided"}
    failing = {name for name, case in cases.items() if any(isinstance(one, junitparser.Failure) for one in case.result)}
    broken = {one.details["take"] for one in report.findings if one.id == "expectation.broken"}
    assert broken and failing == {one.id for one in report.findings if one.severity == "error"} | broken
    assert suite.failures == len(failing) and suite.tests == len(cases)
    stricter = junitparser.JUnitXml.fromstring(junit([("a", character, report)], "warning").encode())
    assert next(iter(stricter)).failures > suite.failures


def test_letters_xml_cannot_hold_do_no_harm() -> None:
    character = sketch(way("a>b", "speed > 3"), takes=(Take(name="a\x01\ud7ff<&", ticks=3),))
    junitparser.JUnitXml.fromstring(junit([("\x0c", character, check_character(character))]).encode())


def test_a_search_that_left_something_open_is_a_skipped_case() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    report = check_character(character, DEMO, work=Work(budget=3))
    suite = next(iter(junitparser.JUnitXml.fromstring(junit([("a", character, report)]).encode())))
    assert suite.skipped == 1


@pytest.mark.long
@pytest.mark.parametrize("name", ["lamplighter", "lamplighter-faulty", "ferry-hand", "harbour-cat"])
def test_graphml_and_dot_are_read_back_with_every_state_and_way(name: str) -> None:
    character = load(DEMO / f"{name}.leanstep")
    report = check_character(character, DEMO)
    graph = graph_of(character, report)
    machine = compile_character(character)
    assert graph.number_of_nodes() == sum(len(layer.states) for layer in character.layers)
    assert graph.number_of_edges() == sum(len(row) for layer in machine.layers for row in layer.ways)
    back = networkx.read_graphml(io.BytesIO(graphml(character, report)), force_multigraph=True)
    assert set(back.nodes) == set(graph.nodes) and back.number_of_edges() == graph.number_of_edges()
    for source, target, values in graph.edges(data=True):
        assert any(
            other["when"] == values["when"] and other["order"] == values["order"]
            for other in back.get_edge_data(source, target).values()
        )
    (drawn,) = pydot.graph_from_dot_data(dot(character, report)) or ()  # type: ignore[misc]
    assert len(drawn.get_edges()) == graph.number_of_edges()
    nodes = [node for part in drawn.get_subgraphs() for lane in part.get_subgraphs() for node in lane.get_nodes()]
    assert {json.loads(node.get_name()) for node in nodes} == set(graph.nodes)


def test_strange_names_and_conditions_survive_in_both() -> None:
    name = "a \\ b; {x} -> <y> é\\"
    states = (State(name=name, note="50 % \\n"), State(name="b"))
    character = sketch(way(f"{name}>b", "speed > 3"), states=states)
    (drawn,) = pydot.graph_from_dot_data(dot(character)) or ()  # type: ignore[misc]
    lane = drawn.get_subgraphs()[0].get_subgraphs()[0]
    assert {json.loads(node.get_name()) for node in lane.get_nodes()} == {f"base.{name}", "base.b"}
    assert f"base.{name}" in networkx.read_graphml(io.BytesIO(graphml(character)))


def test_lines_are_found_however_a_file_is_laid_out(tmp_path: Path) -> None:
    character = load(FAULTY)
    text = json.dumps(json.loads(FAULTY.read_text()), indent=3)
    path = path_of(character, Subject(layer="base", transition=4))
    number = line_of(text, path)
    begun = text.splitlines()[number - 1 : number + 4]
    assert begun[0].strip() == "{" and any('"stride"' in one for one in begun)
    assert line_of(text, (*path, "source")) == number + 1
    one_line = json.dumps(json.loads(FAULTY.read_text()))
    assert line_of(one_line, path) == 1 and line_of(text, ("nowhere", 3)) == 1
    assert path_of(character, Subject()) == () and path_of(character, Subject(layer="base", state="gone")) == (
        "layers",
        0,
    )
