"""What is certain is told before a check is done, worst first."""

from __future__ import annotations

import pytest

from leanstep.core.character.document import Muted
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.findings import report
from leanstep.core.findings.results import SEVERITIES, Finding
from leanstep.core.naming.targets import about
from tests.support.build import DEMO

FAULTY = DEMO / "lamplighter-faulty.leanstep"


@pytest.mark.long
def test_every_telling_holds_the_one_before_and_the_report_holds_the_last() -> None:
    told: list[list[Finding]] = []
    whole = report.check_character(load(FAULTY), DEMO, certain=told.append)
    assert len(told) > 4
    for before, after in zip(told, [*told[1:], list(whole.findings)]):
        assert [one for one in after if one in before] == [one for one in before if one in after]
        assert all(one in after for one in before)
        assert [SEVERITIES.index(one.severity) for one in after] == sorted(
            SEVERITIES.index(one.severity) for one in after
        )


def test_what_needs_no_search_is_told_before_one_begins(monkeypatch: pytest.MonkeyPatch) -> None:
    class Begun(Exception):
        pass

    def begins(*_: object) -> None:
        raise Begun

    monkeypatch.setattr("leanstep.core.proof.proving.explore", begins)
    told: list[list[Finding]] = []
    with pytest.raises(Begun):
        report.check_character(load(FAULTY), DEMO, certain=told.append)
    assert "name.unknown" in {one.id for one in told[-1]}


@pytest.mark.long
def test_the_order_in_which_checks_are_done_is_not_that_of_the_report() -> None:
    plain = report.check_character(load(FAULTY), DEMO)
    modules = [one.__name__ for one in report.CHECK_MODULES]
    assert [name for name, _ in report._in_turn()] != sorted((name for name, _ in report._in_turn()), key=modules.index)
    assert plain.findings == report.check_character(load(FAULTY), DEMO, certain=lambda found: None).findings


@pytest.mark.long
def test_a_muted_finding_is_not_told_early_either() -> None:
    character = load(FAULTY)
    first = next(one for one in report.check_character(character, DEMO).findings if one.id == "name.unknown")
    muted = (Muted(id=first.id, about=about(character, first.subject), reason="known"),)
    told: list[list[Finding]] = []
    report.check_character(change(character, (), muted=muted), DEMO, certain=told.append)
    assert all(one.sentence != first.sentence for found in told for one in found)
