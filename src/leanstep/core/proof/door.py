"""What others see of the proofs: how to prove, what comes out, and how takes are made that show it."""

from __future__ import annotations

from leanstep.core.proof.conclusions import Passing as Passing
from leanstep.core.proof.conclusions import Proof as Proof
from leanstep.core.proof.explore.body_world import BodyWorld as BodyWorld
from leanstep.core.proof.explore.body_world import Found as Found
from leanstep.core.proof.open_past import MOST_THINNED as MOST_THINNED
from leanstep.core.proof.proving import Earlier as Earlier
from leanstep.core.proof.proving import prove as prove
from leanstep.core.proof.reduce.inlining import written_out as written_out
from leanstep.core.proof.search.reach import Reach as Reach
from leanstep.core.proof.states.concrete import chosen as chosen
from leanstep.core.proof.verdict import Certainty as Certainty
from leanstep.core.proof.verdict import Verdict as Verdict
from leanstep.core.proof.verdict import by_take as by_take
from leanstep.core.proof.verdicts.closed_sets import Idle as Idle
from leanstep.core.proof.verdicts.closed_sets import names as names
from leanstep.core.proof.verdicts.closed_sets import shadowing as shadowing
from leanstep.core.proof.verdicts.events import Contest as Contest
from leanstep.core.proof.verdicts.events import is_given_back as is_given_back
from leanstep.core.proof.verdicts.events import missed_marks as missed_marks
from leanstep.core.proof.verdicts.events import sets_back as sets_back
from leanstep.core.proof.verdicts.events import shown_marks as shown_marks
from leanstep.core.proof.verdicts.flicker import Flicker as Flicker
from leanstep.core.proof.witness.building import close_together as close_together
from leanstep.core.proof.witness.building import entering as entering
from leanstep.core.proof.witness.building import on_tick as on_tick
from leanstep.core.proof.witness.building import reaching as reaching
from leanstep.core.proof.witness.picks import flipping_picks as flipping_picks
from leanstep.core.proof.witness.shrinking import Witness as Witness
from leanstep.core.proof.witness.shrinking import witness_of as witness_of
