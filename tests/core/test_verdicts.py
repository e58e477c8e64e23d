"""Each verdict with a character that shows it and a near miss that must not."""

from __future__ import annotations

from pathlib import Path

import pytest

from leanstep.core.character.clips import Cel, Clip, Effect
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.takes import Change, Take
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding, report_from_json
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Work
from tests.support.build import DEMO, PARAMETERS, sketch, way


def found(character: Character, kind: str) -> list[Finding]:
    """The findings of one kind."""
    return [finding for finding in check_character(character).findings if finding.id == kind]


def ids(character: Character) -> set[str]:
    """The ids of all findings."""
    return {finding.id for finding in check_character(character).findings}


BACK_AND_FORTH = (way("a>b", "speed > 2"), way("b>a", "speed < 1"))


def test_a_state_without_a_way_in_is_unreachable() -> None:
    findings = found(sketch(*BACK_AND_FORTH, states="a b c"), "state.unreachable")
    assert [finding.details for finding in findings] == [{"layer": "base", "state": "c"}]
    assert (findings[0].verdict, findings[0].world, findings[0].witness) == ("proved", "free", None)


def test_a_state_behind_an_impossible_pair_of_values_is_unreachable() -> None:
    impossible = way("a>c", "speed > 1 and grounded and not grounded")
    assert found(sketch(*BACK_AND_FORTH, impossible, states="a b c"), "state.unreachable")


def test_a_state_behind_a_single_double_is_reachable() -> None:
    character = sketch(*BACK_AND_FORTH, way("a>c", "speed = 1.5"), way("c>a", "speed != 1.5"), states="a b c")
    assert "state.unreachable" not in ids(character)


def test_no_double_lies_between_neighbours() -> None:
    between = "speed > 1 and speed < 1.0000000000000002"
    assert found(sketch(*BACK_AND_FORTH, way("a>c", between), way("c>a"), states="a b c"), "state.unreachable")
    wider = "speed > 1 and speed < 1.0000000000000005"
    assert not found(sketch(*BACK_AND_FORTH, way("a>c", wider), way("c>a"), states="a b c"), "state.unreachable")


def test_an_assumption_can_make_a_state_unreachable() -> None:
    ways = (*BACK_AND_FORTH, way("a>c", "grounded and lives = 0"), way("c>a"))
    assert "state.unreachable" not in ids(sketch(*ways, states="a b c"))
    assert found(sketch(*ways, states="a b c", assumptions=("not (grounded and lives = 0)",)), "state.unreachable")


def test_only_the_unreachable_state_itself_is_named_not_its_transitions() -> None:
    character = sketch(*BACK_AND_FORTH, way("c>a", "speed > 9"), states="a b c")
    assert "transition.never" not in ids(character)


def test_two_states_that_only_lead_to_each_other_are_one_dead_end() -> None:
    character = sketch(way("a>b", "hurt"), way("b>c", "jump pressed"), way("c>b", "hurt"), states="a b c")
    findings = found(character, "state.dead-end")
    assert [finding.details for finding in findings] == [{"layer": "base", "states": ["b", "c"]}]


def test_a_declared_ending_is_no_dead_end() -> None:
    states = (State(name="a"), State(name="b", ending=True))
    assert "state.dead-end" not in ids(sketch(way("a>b", "hurt"), states=states))
    assert "state.dead-end" in ids(sketch(way("a>b", "hurt")))


def test_a_graph_one_goes_round_in_is_no_dead_end() -> None:
    assert "state.dead-end" not in ids(sketch(*BACK_AND_FORTH))


def test_the_start_alone_is_a_dead_end_when_nothing_leads_on() -> None:
    assert found(sketch(way("a>b", "lives > 3")), "state.dead-end")[0].details == {"layer": "base", "state": "a"}
    assert "state.dead-end" not in ids(sketch(states="a"))


def test_a_way_out_that_closes_is_a_trap() -> None:
    findings = found(sketch(way("a>b", "hurt"), way("b>a", "stay < 0.1 s and jump pressed")), "state.trap")
    assert [finding.details for finding in findings] == [{"layer": "base", "state": "b"}]
    assert findings[0].witness is not None


def test_a_way_out_that_opens_late_is_no_trap() -> None:
    assert "state.trap" not in ids(sketch(way("a>b", "hurt"), way("b>a", "stay >= 0.1 s and jump pressed")))


def test_a_memory_that_can_be_filled_again_is_no_trap() -> None:
    assert "state.trap" not in ids(sketch(way("a>b", "hurt"), way("b>a", "hurt within 0.1 s and stay > 1 s")))


def test_crossed_thresholds_flicker_steadily() -> None:
    findings = found(sketch(way("a>b", "speed > 1"), way("b>a", "speed < 2")), "flicker.steady")
    assert [finding.details for finding in findings] == [{"layer": "base", "states": ["a", "b"]}]
    witness = findings[0].witness
    assert witness is not None and witness.ticks == 2


def test_thresholds_that_meet_in_one_value_flicker_there() -> None:
    assert "flicker.steady" in ids(sketch(way("a>b", "speed >= 2"), way("b>a", "speed <= 2")))
    assert "flicker.steady" not in ids(sketch(way("a>b", "speed > 2"), way("b>a", "speed <= 2")))


def test_a_flicker_that_needs_a_pulse_each_time_is_none() -> None:
    assert "flicker.steady" not in ids(sketch(way("a>b", "hurt"), way("b>a", "hurt")))
    assert "flicker.steady" not in ids(sketch(way("a>b", "jump pressed"), way("b>a", "jump released")))


@pytest.mark.parametrize(("stay", "flickers"), [(5, True), (6, False)])
def test_a_stay_as_long_as_the_window_is_no_flicker(stay: int, flickers: bool) -> None:
    character = sketch(way("a>b", f"stay >= {stay} ticks"), way("b>a", f"stay >= {stay} ticks"))
    assert ("flicker.steady" in ids(character)) is flickers


def test_three_states_in_a_ring_flicker_as_one_set() -> None:
    character = sketch(way("a>b", "grounded"), way("b>c"), way("c>a"), states="a b c")
    assert [finding.details["states"] for finding in found(character, "flicker.steady")] == [["a", "b", "c"]]


@pytest.mark.parametrize("effect", [Effect(do="raise", name="spark"), Effect(do="add", name="rounds", value=1.0)])
def test_a_flicker_that_changes_the_graphs_own_parameters_each_time_round_is_proved(effect: Effect) -> None:
    own = (Parameter(name="spark", kind="pulse", owner="graph"), Parameter(name="rounds", owner="graph", max=9.0))
    states = (State(name="a"), State(name="b", on_entry=(effect,)))
    ways = (way("a>b", "grounded"), way("b>a", "grounded"))
    (finding,) = found(sketch(*ways, states=states, parameters=(*PARAMETERS, *own)), "flicker.steady")
    assert (finding.verdict, finding.sentence.count("does not replay")) == ("proved", 0)


def test_a_restart_that_stays_true_restarts_for_ever() -> None:
    findings = found(sketch(*BACK_AND_FORTH, way(">b", "grounded", restart=True)), "flicker.restart")
    assert [finding.details for finding in findings] == [{"layer": "base", "state": "b"}]


def test_a_restart_by_a_pulse_or_a_slow_one_is_fine() -> None:
    assert "flicker.restart" not in ids(sketch(*BACK_AND_FORTH, way(">b", "hurt", restart=True)))
    slow = way("b>b", "stay >= 0.1 s", restart=True)
    assert "flicker.restart" not in ids(sketch(*BACK_AND_FORTH, slow))
    assert "flicker.restart" not in ids(sketch(*BACK_AND_FORTH, way(">b", "grounded")))


def test_a_condition_that_contradicts_itself_is_never_true() -> None:
    findings = found(sketch(*BACK_AND_FORTH, way("a>b", "speed > 5 and speed < 4")), "transition.never")
    assert [finding.details for finding in findings] == [{"layer": "base", "transition": 2}]


def test_a_transition_to_its_own_state_is_never_tried() -> None:
    findings = found(sketch(*BACK_AND_FORTH, way("a>a", "hurt")), "transition.never")
    assert "does not say restart" in findings[0].sentence


def test_a_condition_true_in_one_corner_is_not_never() -> None:
    corner = "lives = 3 and mood = angry and speed = 8 and not grounded and hurt"
    assert "transition.never" not in ids(sketch(*BACK_AND_FORTH, way("a>c", corner), way("c>a"), states="a b c"))


def test_what_a_wider_condition_before_it_takes_is_shadowed() -> None:
    ways = (way("a>b", "speed > 2"), way("a>c", "speed > 3"), way("a>c", "hurt"), way("b>a"), way("c>a"))
    findings = found(sketch(*ways, states="a b c"), "transition.shadowed")
    assert [finding.details for finding in findings] == [{"layer": "base", "transition": 1}]
    assert findings[0].witness is not None


def test_what_two_others_take_together_is_shadowed() -> None:
    ways = (way("a>b", "grounded"), way("a>c", "not grounded"), way("a>b", "hurt"), way("b>a"), way("c>a"))
    assert [one.details["transition"] for one in found(sketch(*ways, states="a b c"), "transition.shadowed")] == [2]


def test_what_is_tried_first_because_it_is_urgent_is_not_shadowed() -> None:
    ways = (way("a>b", "speed > 2"), way("a>c", "speed > 3", urgent=True), way("b>a"), way("c>a"))
    assert "transition.shadowed" not in ids(sketch(*ways, states="a b c"))


def test_a_take_that_blinks_is_shown_and_a_slow_one_is_not() -> None:
    def take(gap: int) -> Take:
        changes = (Change(at=5, set={"grounded": True}), Change(at=5 + gap, set={"grounded": False}))
        return Take(name="t", ticks=60, world="free", changes=changes)

    ways = (way("a>b", "grounded"), way("b>a", "not grounded"))
    fast = found(sketch(*ways, takes=(take(5),)), "flicker.take")
    assert [finding.details for finding in fast] == [{"layer": "base", "state": "a", "take": "t"}]
    assert not found(sketch(*ways, takes=(take(6),)), "flicker.take")


def test_unknown_names_are_found_wherever_they_stand() -> None:
    character = sketch(
        way("a>b", "sped > 1"),
        way("b>x", "hurt"),
        way("lane:nowhere>a", "hurt"),
        states=(State(name="a", clip="wlak"), State(name="b", blend="gait")),
        clips=(Clip(name="walk", sheet="art", cels=(Cel(frame=0),)),),
        takes=(Take(name="t", ticks=1, changes=(Change(at=0, set={"jmp": True}),)),),
        assumptions=("gronded",),
    )
    subjects = [finding.details for finding in found(character, "name.unknown")]
    assert {"layer": "base", "transition": 0} in subjects
    assert {"layer": "base", "transition": 1} in subjects
    assert {"layer": "base", "transition": 2} in subjects
    assert {"layer": "base", "state": "a"} in subjects
    assert {"layer": "base", "state": "b"} in subjects
    assert {"clip": "walk"} in subjects and {"take": "t"} in subjects and {"assumption": 0} in subjects
    assert any("Did you mean walk?" in finding.sentence for finding in found(character, "name.unknown"))


def test_assumptions_that_cannot_hold_prove_nothing() -> None:
    report = check_character(sketch(*BACK_AND_FORTH, states="a b c", assumptions=("grounded", "not grounded")))
    assert "assumption.impossible" in {finding.id for finding in report.findings}
    assert not [finding for finding in report.findings if finding.verdict == "proved"]
    assert [fate.free for fate in report.states] == ["reachable", "undecided", "undecided"]


def test_assumptions_about_nothing_forbid_everything_or_nothing() -> None:
    assert found(sketch(*BACK_AND_FORTH, assumptions=("1 > 2",)), "assumption.impossible")
    assert not found(sketch(*BACK_AND_FORTH, assumptions=("1 < 2",)), "assumption.impossible")


def test_a_take_that_breaks_an_assumption_is_shown() -> None:
    take = Take(name="t", ticks=3, world="free", changes=(Change(at=1, set={"grounded": True}),))
    character = sketch(*BACK_AND_FORTH, takes=(take,), assumptions=("not grounded",))
    assert "on tick 1" in found(character, "assumption.broken")[0].sentence


def test_images_that_are_missing_are_errors(tmp_path: Path) -> None:
    character = sketch(*BACK_AND_FORTH, sheets=(Sheet(name="art", image="nobody.png"),))
    report = check_character(character, tmp_path)
    assert [finding.id for finding in report.findings if finding.severity == "error"] == ["sheet.missing"]


def test_a_used_up_budget_claims_nothing_but_what_it_saw() -> None:
    character = sketch(way("a>b", "grounded for 100 ticks"), way("b>a", "hurt"), states="a b c")
    report = check_character(character, work=Work(budget=1))
    assert not report.complete
    assert {fate.name: fate.free for fate in report.states} == {"a": "reachable", "b": "reachable", "c": "undecided"}
    assert "state.unreachable" not in {finding.id for finding in report.findings}


def test_what_is_too_much_to_count_within_the_budget_is_decided_without_counting() -> None:
    """A hundred ticks are more than twenty situations."""
    character = sketch(way("a>b", "grounded for 100 ticks"), way("b>a", "hurt"), states="a b c")
    report = check_character(character, work=Work(budget=20))
    assert report.complete and report.situations < 20
    assert {fate.name: fate.free for fate in report.states} == {"a": "reachable", "b": "reachable", "c": "unreachable"}


def test_comparisons_of_two_numbers_are_never_called_proved_beyond_what_they_allow() -> None:
    two = "speed > lives and grounded"
    report = check_character(sketch(way("a>b", two), way("b>a", "hurt"), way("a>c", "lives > 3"), states="a b c"))
    fates = {fate.name: fate.free for fate in report.states}
    assert fates["c"] == "unreachable" and fates["b"] in ("reachable", "undecided")


TWO = (Parameter(name="pull", min=0.0, max=10.0), Parameter(name="wind", min=0.0, max=10.0))


@pytest.mark.parametrize(
    ("when", "free"),
    [
        ("pull + wind > 20", "unreachable"),
        ("pull + wind >= 20", "reachable"),
        ("pull * 0.1 + wind * 0.7 > 8.001", "unreachable"),
        ("pull * 0.1 + wind * 0.7 > 7.999", "reachable"),
        ("pull > wind and wind > pull", "unreachable"),
        ("pull >= wind and wind >= pull", "reachable"),
        ("pull - wind > 4 and pull + wind < 4", "undecided"),
        ("pull - wind > 4 and pull + wind < 3.9", "unreachable"),
        ("pull - wind > 4 and pull + wind < 4.5", "reachable"),
        ("pull > wind and wind > 3 and pull < 3", "unreachable"),
        ("pull * wind > 3", "undecided"),
    ],
)
def test_sums_of_two_numbers_are_decided_but_for_a_margin_of_rounding_and_products_are_not(
    when: str, free: str
) -> None:
    report = check_character(sketch(way("a>b", when), way("b>a", "hurt"), parameters=(*TWO, *PARAMETERS)))
    assert [fate.free for fate in report.states] == ["reachable", free]
    assert ("state.unreachable" in {finding.id for finding in report.findings}) == (free == "unreachable")
    doubt = "not followed exactly: a comparison of pull and wind"
    assert report.aborted == (doubt if free == "undecided" else "")


def test_a_flicker_over_a_sum_is_proved_with_values_that_add_up() -> None:
    character = sketch(way("a>b", "pull + wind > 12"), way("b>a", "wind + pull > 12.5"), parameters=TWO)
    (flicker,) = found(character, "flicker.steady")
    assert flicker.verdict == "proved"
    set_to = {name: value for change in flicker.witness.changes for name, value in change.set.items()}
    assert set_to.get("pull", 0) + set_to.get("wind", 0) > 12.5  # type: ignore[operator]
    assert not found(
        sketch(way("a>b", "pull + wind > 12"), way("b>a", "wind + pull < 11.5"), parameters=TWO), "flicker.steady"
    )


def test_an_assumption_about_a_sum_rules_out_what_it_leaves_no_values_for() -> None:
    ways = (way("a>b", "pull > 6 and wind > 6"), way("b>a", "wind > 9"))
    open_to_all = check_character(sketch(*ways, parameters=TWO))
    limited = check_character(sketch(*ways, parameters=TWO, assumptions=("pull + wind <= 12",)))
    assert [fate.free for fate in open_to_all.states] == ["reachable", "reachable"]
    assert [fate.free for fate in limited.states] == ["reachable", "unreachable"]


def test_an_assumption_that_compares_two_small_whole_numbers_is_followed() -> None:
    counts = (Parameter(name="lamps", kind="whole", min=0, max=3), Parameter(name="lit", kind="whole", min=0, max=3))
    report = check_character(sketch(way("a>b", "lit > lamps"), parameters=counts, assumptions=("lit <= lamps",)))
    assert [fate.free for fate in report.states] == ["reachable", "unreachable"]


def test_comparisons_of_small_whole_numbers_are_exact() -> None:
    same = "lives * 2 = lives + 3"
    report = check_character(sketch(way("a>b", same), way("b>a", "hurt")))
    assert [fate.free for fate in report.states] == ["reachable", "reachable"]
    assert report.complete


def test_the_fewest_ticks_are_counted_from_the_start() -> None:
    character = sketch(
        way("a>b", "grounded for 0.1 s"), way("b>c", "stay >= 3 ticks"), way("c>a", "hurt"), states="a b c"
    )
    assert [fate.ticks for fate in check_character(character).states] == [0, 6, 9]


@pytest.mark.long
def test_a_report_survives_its_json() -> None:
    report = check_character(load(DEMO / "lamplighter-faulty.leanstep"), DEMO)
    again = report_from_json(report.to_json())
    assert again.findings == report.findings and again.states == report.states


@pytest.mark.long
def test_the_faulty_demo_shows_every_planted_fault_and_every_witness_replays() -> None:
    character = load(DEMO / "lamplighter-faulty.leanstep")
    report = check_character(character, DEMO)
    subjects = {
        (finding.id, str(finding.details.get("states") or finding.details.get("state"))) for finding in report.findings
    }
    assert ("flicker.steady", "['idle', 'stride']") in subjects
    assert ("flicker.restart", "fall") in subjects
    assert ("state.dead-end", "out") in subjects
    assert ("state.unreachable", "light") in subjects
    planted = {"name.unknown", "transition.shadowed", "transition.never", "flicker.wobble", "flag.stuck"}
    planted |= {"mark.missable", "mark.never", "expectation.broken", "flicker.take"}
    assert planted <= {finding.id for finding in report.findings}
    machine = compile_character(character)
    for finding in report.findings:
        assert "bug in Lean Step" not in finding.sentence
        if finding.witness is not None:
            assert len(rehearse(machine, finding.witness).steps) == finding.witness.ticks


@pytest.mark.long
def test_the_sound_demo_is_sound() -> None:
    report = check_character(load(DEMO / "lamplighter.leanstep"), DEMO)
    assert report.complete and {finding.id for finding in report.findings} == {
        "flash",
        "blend.phase",
        "order.decides",
        "frame.duplicate",
    }
    assert {fate.free for fate in report.states} == {"reachable"}


GEAR = Parameter(name="gear", kind="whole", owner="graph", min=0, max=3)


@pytest.mark.parametrize(
    ("condition", "fate"), [("speed > gear * 3", "unreachable"), ("speed >= gear * 2", "reachable")]
)
def test_a_number_is_compared_exactly_with_what_effects_have_set(condition: str, fate: str) -> None:
    """In b the gear is 3, and speed goes up to 8."""
    states = (State(name="a"), State(name="b", on_entry=(Effect(do="set", name="gear", value=3),)), State(name="c"))
    speed = Parameter(name="speed", min=0, max=8)
    character = sketch(way("a>b", condition), way("b>c", condition), parameters=(speed, GEAR), states=states)
    report = check_character(character)
    assert {one.name: one.free for one in report.states} == {"a": "reachable", "b": "reachable", "c": fate}
    assert report.complete and not report.aborted
    ticks = {"reachable": [0, 1, 2], "unreachable": [0, 1, None]}[fate]
    assert [one.ticks for one in report.states] == ticks


def test_a_number_of_the_graph_that_grows_by_effects_leaves_a_comparison_open() -> None:
    grows = Parameter(name="gear", owner="graph", min=0, max=3)
    states = (State(name="a"), State(name="b", on_entry=(Effect(do="add", name="gear", value=0.5),)))
    speed = Parameter(name="speed", min=0, max=8)
    report = check_character(sketch(way("a>b", "speed > gear"), way("b>a"), parameters=(speed, grows), states=states))
    assert "a comparison of gear and speed" in report.aborted
