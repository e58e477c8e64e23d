"""What a check hands on to the next does not grow with the number of edits."""

from __future__ import annotations

import os

import pytest

from leanstep.core.character.edits import change
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.report import check_character
from leanstep.core.proof.search.reuse import MOST_USELESS
from leanstep.core.work import Effort, Work
from tests.support.build import sketch, way

EDITS = 5_000 if os.environ.get("LEANSTEP_LONG") else 150


@pytest.mark.long
def test_what_edits_leave_behind_is_bounded() -> None:
    work = Work(effort=Effort(handed_on=60))
    ways = [way("a>b", "grounded"), way("b>c", "stay > 3 ticks"), way("c>a", "hurt")]
    character, memo = sketch(*ways, states="a b c"), Memo()
    for edit in range(EDITS):
        edited = change(character, ("layers", 0, "transitions", 1), when=f"stay > {3 + edit} ticks or speed > {edit}")
        assert check_character(edited, work=work, memo=memo).complete
        for _, proof in memo.earlier.proofs:
            pool, places = proof.reach.world.pool, len(proof.reach.places)
            assert len(pool.cores) + len(pool.views) <= 2 * (MOST_USELESS * places + 60)
