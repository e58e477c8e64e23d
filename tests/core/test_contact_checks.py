"""What is found of strikes and contact, each with what is nearly it and is not."""

from __future__ import annotations

from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.character.body import Body
from leanstep.core.character.clips import ActionBox, BoxKey, Cel, Clip, Phase, Strike
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.takes import Change, SecondFigure, Take
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.second_figures import PairSteps, noted
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import sketch, way

PARAMETERS = (Parameter(name="hit", kind="pulse"), Parameter(name="stun", kind="whole", max=99, countdown=True))


def action(name: str, strike: Strike, *phases: Phase, ticks: float = 12.0) -> Clip:
    """A clip of three cels that hits in front."""
    cels = tuple(Cel(frame=at, ticks=ticks / 3) for at in range(3))
    keys = tuple(BoxKey(cel=at, box=(0.0, 0.0, 60.0, 30.0)) for at in (0, 2))
    boxes = (ActionBox(name="fist", kind="strike", keys=keys), ActionBox(name="b", kind="vulnerable", keys=keys))
    return Clip(
        name=name, loop="once", cels=cels, phases=phases or (Phase(start=4.0, end=6.0),), boxes=boxes, strike=strike
    )


def fighter(*clips: Clip, note: str = "", **more: Any) -> Character:
    """A figure that strikes on a button, and stands again when a clip is done."""
    ways = [way(f"stands>{clip.name}", f"jump pressed and {at} = {at}") for at, clip in enumerate(clips)]
    ways += [way(f"{clip.name}>stands", "clip done") for clip in clips]
    ways += more.pop("ways", [])
    states = [State(name="stands"), *(State(name=clip.name, clip=clip.name, note=note, safe=True) for clip in clips)]
    more = {
        "controls": Controls(buttons=(Button(name="jump", keys=("Space",)),)),
        "parameters": PARAMETERS,
        "contact": ContactRules(hit="hit", stun="stun"),
        **more,
    }
    return sketch(*ways, states=tuple(states), clips=clips, **more)


def found(character: Character, kind: str) -> list[Finding]:
    return [one for one in check_character(character).findings if one.id == kind]


def mended(character: Character, kind: str) -> Character:
    (one,) = found(character, kind)
    made = repair(character, one, None)
    assert made is not None
    assert not found(made.character, kind)
    return made.character


def test_a_phase_that_hits_again_at_once_is_an_accident_and_one_later_is_not() -> None:
    def windows(apart: float, again: bool) -> Character:
        return fighter(
            action("blow", Strike(), Phase(start=2, end=3), Phase(start=3 + apart, end=4 + apart, again=again))
        )

    (one,) = found(windows(1, True), "action.twice")
    assert one.sentence == "blow hits twice within 1 tick: the phase from tick 4 hits again."
    assert not found(windows(1, False), "action.twice") and not found(windows(6, True), "action.twice")
    assert [phase.again for phase in mended(windows(1, True), "action.twice").clips[0].phases] == [False, False]


def test_a_link_that_a_note_promises_is_held_against_the_numbers() -> None:
    def linking(stun: int, note: str = "Short, links into blow.") -> Character:
        return fighter(action("blow", Strike(stun=stun)), note=note)

    # contact on the last active tick, 5: free on 12, and active 4 ticks later
    (one,) = found(linking(11), "action.link")
    assert (
        one.sentence == "blow does not link into blow: blow stuns for 11, and blow hits 11 ticks later at the soonest."
    )
    assert not found(linking(12), "action.link") and not found(linking(11, note="Goes well with blow."), "action.link")
    strike = mended(linking(11), "action.link").clips[0].strike
    assert strike is not None and strike.stun == 12


def test_a_string_that_goes_round_on_the_straw_man_is_shown_and_one_that_pushes_away_is_not() -> None:
    def striking(**does: Any) -> Character:
        return fighter(action("blow", Strike(**does)))

    character = striking(stun=14)
    (one,) = found(character, "action.endless")
    assert one.sentence == "blow goes round for ever: who is struck never comes free." and one.verdict == "shown"
    assert one.witness is not None
    steps = rehearse(compile_character(character), one.witness).steps
    assert isinstance(steps, PairSteps)
    contacts = steps.pair.contacts
    assert [contact.words for contact in contacts] == ["blow hits"] * 3
    straw = steps.pair.traces[1]
    free = [steps.pair.figures[1].is_free(straw.after(tick + 1)) for tick in range(len(steps))]
    assert not any(free[contacts[0].tick + 1 : contacts[-1].tick])
    assert not found(striking(stun=12), "action.endless")
    assert not found(striking(stun=14, push=900.0), "action.endless")
    strike = mended(character, "action.endless").clips[0].strike
    assert strike is not None and strike.stun == 12


def test_a_crossfade_that_keeps_a_layer_from_hearing_contact_is_named() -> None:
    def fading(condition: str, interruptible: bool = False) -> Character:
        ways = [
            way("stands>down", condition),
            way("down>stands", "stay > 4 ticks", fade=0.1, interruptible=interruptible),
        ]
        made = fighter(action("blow", Strike()), ways=ways)
        return replace(
            made, layers=(replace(made.layers[0], states=(*made.layers[0].states, State(name="down", safe=True))),)
        )

    (one,) = found(fading("hit"), "contact.unheard")
    assert one.sentence == "For 6 ticks after down → stands nothing in layer base hears hit."
    assert not found(fading("stun > 0"), "contact.unheard")
    assert not found(fading("hit", interruptible=True), "contact.unheard")
    assert not found(fading("hit within 0.2 s"), "contact.unheard")
    mended(fading("hit"), "contact.unheard")


@pytest.mark.parametrize("field", ["hit", "guarded", "stun", "strength", "lands", "stopped"])
def test_a_parameter_that_is_not_there_is_named_with_the_nearest(field: str) -> None:
    character = replace(fighter(action("blow", Strike())), contact=replace(ContactRules(), **{field: "stunn"}))
    (one,) = found(character, "name.unknown")
    assert one.details == {"contact": field} and one.sentence.startswith(
        f"Contact, {field}: no parameter is called stunn."
    )


def test_a_strike_that_could_be_guarded_where_nothing_guards_is_noted() -> None:
    def guarding(**rules: Any) -> Character:
        return fighter(action("blow", Strike(guard_stun=3)), contact=replace(ContactRules(hit="hit"), **rules))

    (one,) = found(guarding(), "action.unguarded")
    assert one.sentence == "blow can be guarded, and no state of Sketch guards."
    assert not found(guarding(guards="stun > 0"), "action.unguarded")
    assert not found(fighter(action("blow", Strike()), contact=ContactRules(hit="hit")), "action.unguarded")


def test_a_second_figure_that_is_not_what_it_was_is_noted() -> None:
    character = fighter(action("blow", Strike()))
    made = compile_character(character)
    take = Take(name="bout", ticks=30, second=noted(made, SecondFigure(who="itself", x=30.0)))
    character = replace(character, takes=(take,))
    assert not found(character, "take.other")
    changed = replace(character, clips=(action("blow", Strike(stun=9)),))
    (one,) = found(changed, "take.other")
    assert one.sentence == "Sketch, the second figure of take bout, is not what it was when the take was made."


def test_who_walks_backwards_and_cannot_guard_is_shown_and_who_can_is_not() -> None:
    """The figure keeps looking to the right; its retreat leads to what guards, or does not, or guards by itself."""

    def walking(*more: Any, guards: str = "in base.parry", turn_time: float = 60.0) -> Character:
        ways = (
            way("stands>back", "stick.x < -0.3"),
            way("back>stands", "stick.x >= -0.3 and stay > 4 ticks"),
            way("stands>parry", "jump pressed"),
            way("parry>stands", "not jump"),
            *more,
        )
        states = (State(name="stands"), State(name="back", backward=True), State(name="parry", hold_still=True))
        return sketch(
            *ways,
            states=states,
            controls=Controls(buttons=(Button(name="jump", keys=("Space",)),), sticks=(Stick(name="stick"),)),
            contact=ContactRules(guards=guards),
            body=Body(turn_time=turn_time, run="", walk_speed=60.0),
        )

    (one,) = found(walking(), "contact.backwards")
    assert one.sentence == (
        "Who walks backwards, in back, cannot guard: nothing that is pressed there leads to what guards."
    )
    assert one.details == {"layer": "base", "state": "back"} and one.witness is not None
    trace = rehearse(compile_character(walking()), one.witness)
    end = trace.after(one.witness.ticks)
    assert end.states == (1,) and end.body.x < trace.after(one.witness.ticks - 5).body.x and end.body.facing > 0
    made = mended(walking(), "contact.backwards").layers[0].transitions
    assert (made[-1].source, made[-1].to, made[-1].when) == ("back", "parry", "jump pressed")
    assert not found(walking(way("back>parry", "jump pressed and stick.x < 0")), "contact.backwards")
    assert not found(walking(guards="in base.back or in base.parry"), "contact.backwards")
    # whoever turns round does not walk backwards
    assert not found(walking(turn_time=0.0), "contact.backwards")
    assert not found(walking(guards="jump"), "contact.backwards")


def test_contact_that_a_take_shows_to_be_unheard_has_that_take() -> None:
    def striking(fade: float, x: float = 40.0) -> Character:
        made = fighter(
            action("blow", Strike()), ways=[way("blow>stands", "hit")], contact=ContactRules(lands="hit", stun="stun")
        )
        first, *rest = made.layers[0].transitions
        ways = (replace(first, fade=fade, interruptible=False), *rest)
        take = Take(name="bout", ticks=40, changes=(Change(at=2, set={"jump": True}),), second=SecondFigure(x=x))
        return replace(made, layers=(replace(made.layers[0], transitions=ways),), takes=(take,))

    # taken on tick 2, active from the 4th tick on: the contact of tick 6 raises its pulse on tick 7, the 5th of the fade
    (one,) = found(striking(0.1), "contact.unheard")
    assert one.sentence.endswith("nothing in layer base hears hit; in take bout that is hit, on tick 7.")
    assert one.verdict == "shown" and one.witness is not None and one.witness.name == "bout"
    steps = rehearse(compile_character(striking(0.1)), one.witness).steps
    assert isinstance(steps, PairSteps) and [contact.tick for contact in steps.pair.contacts] == [6]
    for character in (striking(4 / 60), striking(0.1, x=400.0)):
        (one,) = found(character, "contact.unheard")
        assert one.verdict == "written" and "bout" not in one.sentence
    mended(striking(0.1), "contact.unheard")
