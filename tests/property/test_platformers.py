"""A family of platformers whose clocks are too many to count: nothing false is said of them, and nothing is left open.

``LEANSTEP_LONG=1`` checks ten times as many.
"""

from __future__ import annotations

import os

import pytest

from benchmarks.platformers import platformer
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.work import Effort, Work
from tests.property.test_open_past import hold_against, said

COUNT = 300 if os.environ.get("LEANSTEP_LONG") else 30
SHORT, CHUNKS = 12, 6
"""Times of which only so great a part is counted, so that everything can be."""


def followed(number: int, most: int) -> Report:
    """The report when memories and ages are followed up to so many situations, and nothing else decides whether they are."""
    return check_character(platformer(number, SHORT), work=Work(20_000, effort=Effort(most, most, most)))


@pytest.mark.long(but=2)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_what_is_said_without_counting_is_what_counting_says(chunk: int) -> None:
    whole = compared = 0
    for number in range(chunk, COUNT, CHUNKS):
        counted, opened = followed(number, 10**9), followed(number, 0)
        if not counted.complete:
            continue
        compared += 1
        hold_against(platformer(number, SHORT), counted, opened)
        if opened.complete:
            whole += 1
            assert not said(counted).keys() - said(opened).keys(), f"platformer {number}: something is left out"
    assert whole == compared > 0


@pytest.mark.long
def test_platformers_are_decided_in_full() -> None:
    for number in range(COUNT // 2):
        report = check_character(platformer(number))
        unsure = [one.sentence for one in report.findings if one.verdict == "undecided"]
        assert report.complete and not unsure, (number, unsure)
        assert not any(state.free == "undecided" for state in report.states), number


@pytest.mark.parametrize("number", [1, 13, 54, 69])
def test_what_is_too_much_to_follow_whole_is_shown_by_following_a_part(number: int) -> None:
    report = check_character(platformer(number))
    assert report.complete and len([one for one in report.findings if one.verdict == "shown"]) >= 6


def test_cooldowns_that_are_few_situations_are_followed_whatever_their_product() -> None:
    """Three of 40 ticks are some 200 000 combinations, of which 2 586 come about."""
    report = check_character(platformer(3))
    assert report.complete and report.situations > 1_000
