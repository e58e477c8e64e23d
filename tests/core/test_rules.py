"""Every kind of finding has one declaration, which documents, SARIF and checks keep to."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import leanstep.core.findings as package
from leanstep.core.character.files import load
from leanstep.core.findings.repairs.proving import MENDED
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import SEVERITIES, Finding
from leanstep.core.findings.rules import RULES, index
from leanstep.core.formats.sarif import sarif
from leanstep.core.naming.targets import Subject
from leanstep.core.work import Work
from tests.core.test_motion_checks import found, walker
from tests.support.build import DEMO, DOCS

SOURCES = Path(package.__path__[0])
# what says in which part of a thing, which cels, and which muting
MORE = {"in", "cels", "muted", "about", "phase", "other", "clips"}


def test_rules_are_whole_and_their_severities_known() -> None:
    assert len(RULES) > 60 and set(MENDED) <= set(RULES) and len(MENDED) > 25
    for rule in RULES.values():
        assert rule.title and rule.help and set(rule.severities) <= set(SEVERITIES)
        assert set(rule.about) <= set(Subject.__dataclass_fields__) | MORE
        assert not rule.title.endswith(".") and rule.help.endswith(".")


def test_no_check_says_what_is_not_declared() -> None:
    said = set()
    for path in SOURCES.rglob("*.py"):
        if not path.name.endswith("rules.py"):
            said |= set(re.findall(r'"((?:[a-z]+\\.[a-z-]+)|flash)"', path.read_text()))
    ids = {one for one in said if one.split(".")[0] in {rule.split(".")[0] for rule in RULES}}
    assert ids - set(RULES) == set()


@pytest.mark.long
@pytest.mark.parametrize("name", ["lamplighter-faulty", "ferry-hand-faulty", "harbour-cat"])
def test_findings_are_about_what_their_rule_says(name: str) -> None:
    for finding in check_character(load(DEMO / f"{name}.leanstep"), DEMO, work=Work(play=3000)).findings:
        rule = RULES[finding.id]
        assert finding.severity in rule.severities or finding.verdict == "undecided"
        named = {one for one in Subject.__dataclass_fields__ if finding.subject.has(one)}
        assert named <= set(rule.about), finding


def test_the_documents_and_sarif_tell_every_kind() -> None:
    text = (DOCS / "semantics.md").read_text()
    assert index() in text
    for rule in RULES:
        assert f"**`{rule}`**" in text, f"{rule} has no paragraph"
    character = load(DEMO / "lamplighter-faulty.leanstep")
    report = check_character(character, DEMO)
    (run,) = sarif([("a", "{}", character, report)])["runs"]
    rules = run["tool"]["driver"]["rules"]
    assert {one["id"] for one in rules} == {one.id for one in report.findings}
    assert all(one["shortDescription"]["text"] and one["help"]["text"] for one in rules)


def test_a_finding_is_the_same_one_though_its_numbers_are_others() -> None:
    """A changed speed mends nothing and brings nothing new."""
    slow, slower = found(walker(50), "clip.slide"), found(walker(45), "clip.slide")
    assert slow[0].details != slower[0].details and slow[0].key == slower[0].key
    one = Finding("clip.slide", "warning", {"clip": "go", "speed": 1.0}, "", None, "written")
    other = Finding("clip.slide", "warning", {"clip": "go", "speed": 2.0}, "", None, "written")
    assert one.key == other.key != Finding("clip.slide", "warning", {"clip": "run"}, "", None, "written").key
