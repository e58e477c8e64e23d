"""Where memories are too many to follow, verdicts are shown by takes or ruled out by a look at a few states."""

from __future__ import annotations

import contextlib
import itertools
from dataclasses import replace
from functools import partial

import pytest

from leanstep.core.character.clips import Effect
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter
from leanstep.core.character.takes import Take
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding, Report
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.verdicts.resting import comes_to_rest, restless
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import begun, changes_of, rehearsing
from leanstep.core.work import Effort, Reason, Stopped, Work
from tests.support.build import sketch, way

VALUES = (
    Parameter(name="pull", min=0, max=10, wobble=0.5),
    *(Parameter(name=name, kind="flag") for name in ("f", "g", "h")),
)


OPENLY = Work(effort=Effort(followed=0, heavy=0))
check_openly = partial(check_character, work=OPENLY)
"""Every memory is one too many."""


def remembering(*ways: Transition, states: str | tuple[State, ...] = "a b c d", **values: object) -> Character:
    return sketch(*ways, states=states, parameters=VALUES, **values)


def found(character: Character, kind: str) -> list[Finding]:
    return [one for one in check_openly(character).findings if one.id == kind]


def exactly(character: Character) -> Report:
    """The report when every memory is followed."""
    return check_character(character, work=Work(effort=Effort(followed=2_000_000)))


SHOWN = {
    "flicker.steady": [way("a>b", "f for 9 ticks"), way("b>a", "f and pull > 3 for 4 ticks")],
    "flicker.restart": [way("a>a", "f for 9 ticks", restart=True), way("a>b", "g")],
    "flicker.wobble": [way("a>b", "pull > 4 and f for 9 ticks"), way("b>a", "pull <= 4")],
    "flash": [way("a>b", "f for 5 ticks"), way("b>c", "f for 6 ticks"), way("c>a", "not f")],
    "transition.shadowed": [way("a>b", "f for 3 ticks"), way("a>c", "f for 5 ticks"), way("b>a"), way("c>a")],
    "order.decides": [way("a>b", "f for 3 ticks"), way("a>c", "g and stay >= 5 ticks"), way("b>a"), way("c>a")],
    "state.dead-end": [way("a>b", "f for 4 ticks"), way("b>c"), way("c>b", "g for 2 ticks")],
    "state.trap": [way("a>b", "f for 4 ticks"), way("b>a", "g within 2 ticks and stay < 3 ticks")],
}


@pytest.mark.parametrize("kind", SHOWN)
def test_what_is_proved_when_memories_are_followed_is_shown_when_they_are_not(kind: str) -> None:
    character = remembering(*SHOWN[kind], states="a b c")
    shown, proved = found(character, kind), [one for one in exactly(character).findings if one.id == kind]
    assert proved and [one.details for one in shown] == [one.details for one in proved]
    assert all(one.verdict == "shown" and one.witness is not None for one in shown)
    assert all(one.witness.ticks <= two.witness.ticks for one, two in zip(proved, shown) if one.witness and two.witness)


def test_a_flicker_that_raises_a_pulse_of_the_graph_each_time_round_is_shown() -> None:
    states = (State(name="a"), State(name="b", on_entry=(Effect(do="raise", name="spark"),)))
    character = sketch(
        *SHOWN["flicker.steady"],
        states=states,
        parameters=(*VALUES, Parameter(name="spark", kind="pulse", owner="graph")),
    )
    (finding,) = found(character, "flicker.steady")
    assert finding.verdict == "shown"


NOT_SO = {
    "a flicker whose memory forbids it": ("flicker.steady", way("a>b", "f for 9 ticks"), way("b>a", "not f")),
    "a flash that needs another value": ("flash", way("a>b", "f for 5 ticks"), way("b>a", "not f")),
    "a wobble that a memory outlasts": (
        "flicker.wobble",
        way("a>b", "pull > 4 for 20 ticks"),
        way("b>a", "pull <= 4"),
    ),
    "a shadow that lets something through": (
        "transition.shadowed",
        way("a>b", "f for 5 ticks"),
        way("a>c", "f for 3 ticks"),
        way("b>a"),
        way("c>a"),
    ),
    "a trap that patience opens": ("state.trap", way("a>b", "f for 4 ticks"), way("b>a", "g for 9 ticks")),
    "a dead end with a patient way out": ("state.dead-end", way("a>b", "f for 4 ticks"), way("b>a", "g for 9 ticks")),
}


@pytest.mark.parametrize("why", NOT_SO)
def test_what_is_not_so_is_not_claimed_and_the_check_is_complete(why: str) -> None:
    kind, *ways = NOT_SO[why]
    report = check_openly(remembering(*ways, states="a b c"))  # type: ignore[arg-type]
    assert report.complete and not report.aborted
    assert kind not in {one.id for one in report.findings}


def test_one_memory_that_implies_another_rules_out_that_both_decide() -> None:
    ways = [
        way("a>b", "pull > 4 for 2 ticks and f"),
        way("a>c", "pull > 7 for 3 ticks and g"),
        way("a>d", "pull > 3 and f"),
        *(way(f"{name}>a") for name in "bcd"),
    ]
    report = check_openly(remembering(*ways))
    pairs = {
        (one.details["transition"], *one.details["others"]) for one in report.findings if one.id == "order.decides"
    }
    assert report.complete and (0, 1, 2) in pairs and not any(first == 1 for first, *_ in pairs)


def test_values_that_lead_into_a_state_rule_out_what_they_forbid_there() -> None:
    ways = [way("a>b", "pull > 9"), way("b>a", "pull > 9 within 8 ticks and f"), way("b>c", "f and stay < 5 ticks")]
    report = check_openly(remembering(*ways, way("c>a"), way("b>a", "f"), states="a b c"))
    assert [one.details["transition"] for one in report.findings if one.id == "transition.shadowed"] == [2]
    assert {one.name: one.free for one in report.states}["c"] == "unreachable" and report.complete


def test_a_memory_is_brought_along_from_the_state_before() -> None:
    ways = [way("a>b", "g and f for 9 ticks"), way("b>c", "f for 12 ticks"), way("b>a", "f")]
    report = check_openly(remembering(*ways, way("c>a"), states="a b c"))
    fates = {one.name: (one.free, one.ticks) for one in report.states}
    assert fates["c"][0] == "reachable" and fates["c"][1] >= 12 and report.complete


TIMED = {
    "a memory that is not to come true before a stay is long": ("f for 4 ticks", "g and stay >= 9 ticks"),
    "one that would take the state away half-way": ("f for 7 ticks", "pull > 5 and g and stay >= 12 ticks"),
    "memories of different length": ("f for 5 ticks", "g for 9 ticks"),
    "a memory that is as long as the stay": ("f for 6 ticks", "g and stay >= 6 ticks"),
    "what must not have been for a while": ("not (f within 6 ticks)", "g for 3 ticks"),
}


@pytest.mark.parametrize("why", TIMED)
def test_memories_are_timed_to_the_tick_on_which_both_are_true(why: str) -> None:
    first, other = TIMED[why]
    # d waits until neither is held, so that little is brought along
    ways = (way("a>b", first), way("a>c", other), way("b>d"), way("c>d"), way("d>a", "not f and not g"))
    character = remembering(*ways, states="a b c d")
    unasked = Work(effort=Effort(followed=0, heavy=0, asked=(0, 0)))
    (finding,) = (one for one in check_character(character, work=unasked).findings if one.id == "order.decides")
    assert finding.verdict == "shown" and finding.witness is not None


WALKED = {
    "what is kept all the way": ("f for 9 ticks and h", "f for 6 ticks"),
    "what is not so all the way": ("f and not (h within 9 ticks)", "f"),
    "what is so once on the way": ("g and h within 6 ticks and not h", "g"),
    "what is kept, and what is so once": ("f for 6 ticks and h within 4 ticks and not h", "f for 5 ticks"),
}


@pytest.mark.parametrize("why", WALKED)
def test_memories_are_kept_on_a_walk_where_no_state_waits_for_them(why: str) -> None:
    first, other = WALKED[why]
    walk = way("a>b", "f or h"), way("b>a", "g"), way("b>y", "not g")
    ways = (*walk, way("y>p", first), way("y>q", other), way("y>a"), way("p>a"), way("q>a"))
    unasked = Work(effort=Effort(followed=0, heavy=0, asked=(0, 0)))
    report = check_character(remembering(*ways, states="a b y p q"), work=unasked)
    assert len([one for one in report.findings if one.id == "order.decides"]) == 2
    assert all(one.verdict != "undecided" for one in report.findings)


@pytest.mark.parametrize(("leaves", "rests"), [("not f for 5 ticks", True), ("f for 5 ticks", False)])
def test_a_character_left_alone_comes_to_rest_or_is_shown_not_to(leaves: str, rests: bool) -> None:
    states = (State(name="a", restful=True), State(name="b"))
    character = remembering(way("a>b", "f"), way("b>a", leaves), states=states)
    shown = found(character, "state.no-rest")
    assert [one.verdict for one in shown] == ([] if rests else ["shown"])
    assert exactly(character).count("warning") == len(shown)


def test_a_take_to_where_there_is_no_rest_does_not_begin_before_a_restful_state() -> None:
    states = (State(name="b"), State(name="a", restful=True), State(name="c"))
    ways = (way("b>a", "not f for 3 ticks"), way("a>c", "not f for 2 ticks"), way("c>b", "f"))
    (shown,) = found(remembering(*ways, states=states), "state.no-rest")
    assert shown.details["state"] == "c" and shown.witness is not None and shown.witness.ticks >= 3


@pytest.mark.parametrize(("most", "named"), [(20_000, []), (0, ["undecided"])])
def test_a_state_that_restarts_may_be_a_trap_unless_a_look_at_it_rules_that_out(most: int, named: list[str]) -> None:
    ways = (way("a>b", "f for 4 ticks"), way("b>b", "g and h", restart=True), way("b>a", "g for 9 ticks"))
    effort = Effort(followed=0, heavy=0, closely=most)
    report = check_character(remembering(*ways, states="a b c"), work=Work(effort=effort))
    assert [one.verdict for one in report.findings if one.id == "state.trap"] == named
    assert report.complete == (not named)


def test_the_take_of_an_order_ends_where_both_are_true() -> None:
    (finding,) = found(remembering(*SHOWN["order.decides"], states="a b c"), "order.decides")
    machine = compile_character(remembering(*SHOWN["order.decides"], states="a b c"))
    take = finding.witness
    assert isinstance(take, Take)
    trace = begun(machine, take)
    assert list(rehearsing(trace, take))
    last = {index: value for tick, index, value in changes_of(machine, take) if tick == take.ticks - 1}
    assert Stepper(machine, free=True).true_when_tried(trace.after(take.ticks - 1), last, 0) == [0, 1]


def test_looking_for_takes_can_be_stopped() -> None:
    character = remembering(*itertools.chain(*SHOWN.values()), states="a b c")
    asked = itertools.count()
    with pytest.raises(Stopped):
        check_openly(character, work=replace(OPENLY, stop=lambda: next(asked) >= 12))


def test_what_was_stopped_anywhere_is_looked_for_again() -> None:
    character = remembering(*SHOWN["flicker.steady"], states="a b")
    whole = check_openly(character).to_json()["findings"]
    for most in range(0, 400, 37):
        memo, few = Memo(), iter([False] * most)
        with contextlib.suppress(Stopped):
            check_openly(character, memo=memo, work=replace(OPENLY, stop=partial(next, few, True)))
        assert check_openly(character, memo=memo).to_json()["findings"] == whole


def test_effects_that_depend_on_memories_leave_a_check_open_although_nothing_is_named() -> None:
    parameters = (*VALUES, Parameter(name="armed", kind="flag", owner="graph"))
    states = (State(name="a"), State(name="b", on_entry=(Effect(do="set", name="armed", value=True),)))
    ways = (way("a>b", "f for 9 ticks"), way("b>a", "armed"))
    report = check_openly(sketch(*ways, states=states, parameters=parameters))
    assert not report.complete and report.aborted == "not followed exactly: 1 memories at once, too many to follow"


@pytest.mark.parametrize(
    ("leaves", "rests"),
    [("g and since(b) > 5 ticks", True), ("g buffered 4 ticks", True), ("since(b) > 5 ticks", False)],
)
def test_whether_a_character_left_alone_comes_to_rest_whatever_its_ages(leaves: str, rests: bool) -> None:
    states = (State(name="a", restful=rests), State(name="b"), State(name="c", restful=True))
    ways = (way("a>b", leaves), way("b>a", "stay >= 2 ticks"))
    character = sketch(*ways, states=states, controls=Controls(buttons=(Button(name="g"),)))
    ((part, _),) = slices(compile_character(character))
    nothing = frozenset[int]()
    assert comes_to_rest(explore(FreeWorld(part, nothing, aged=nothing)), 0) == rests
    assert bool(restless(explore(FreeWorld(part)), (0,))) != rests


def test_too_many_memories_are_not_followed_side_by_side() -> None:
    names = [f"s{at}" for at in range(70)]
    flags = [Parameter(name=f"f{at}", kind="flag") for at in range(70)]
    ways = [way(f"s{at}>s{(at + 1) % 70}", f"f{at} for 5 ticks") for at in range(70)]
    character = sketch(*ways, states=" ".join(names), parameters=tuple(flags))
    report = check_character(character, work=Work(seconds=60))
    assert report.reason is not Reason.TIME and report.situations < 1_000
    assert all(one.free == "reachable" for one in report.states)
