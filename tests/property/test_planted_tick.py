"""Every mistake planted in the plain tick is noticed by comparison with the compiled one, which is written separately."""

from __future__ import annotations

import random
from functools import cache
from typing import Any

import pytest

from leanstep.core.character.clips import Cel, Clip, Effect, Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.conditions import expression
from leanstep.core.graph import tick_state
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal import stepping
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import spread
from tests.property.test_bodies import random_walker, steering
from tests.property.test_engine_against_plain import anything
from tests.property.test_picks import random_figure, walk
from tests.support.build import sketch, way
from tests.support.cases import case
from tests.support.planting import Mutant, planted
from tests.support.random_characters import random_character

TICKS = 60
MUTANTS: tuple[Mutant, ...] = (
    (tick_state, "self.stays[at] += 1", "self.stays[at] += 2"),
    (tick_state, "self.over[at] or (ended", "(ended"),
    (tick_state, "self.over[at] or (ended and reel.timing.repeats)", "self.over[at] or ended"),
    (tick_state, "self._end_spans(held, layer)", "pass"),
    (tick_state, "self.apply(cue.acts, now=True)", "self.apply(cue.acts, now=False)"),
    (tick_state, "left = fade.left - 1", "left = fade.left - 2"),
    (tick_state, "return fade is not None and fade.blocks", "return fade is not None"),
    (tick_state, "self.apply(self.machine.layers[layer].leave[old], now=False)", "pass"),
    (tick_state, "self.apply(self.machine.layers[layer].entry[state], now=False)", "pass"),
    (tick_state, "picture.kept_from(*left)", "-1"),
    (tick_state, "playhead = picture.taken_over(playhead, self.picks[at], pick)", "playhead = 0"),
    (
        tick_state,
        "self._enter(layer, way.target, playhead if way.keep_phase else 0",
        "self._enter(layer, way.target, playhead",
    ),
    (tick_state, "self.since[layer, old] = 0", "self.since[layer, old] = 1"),
    (tick_state, "self.freeze = max(self.freeze, int(act.value))", "self.freeze = int(act.value) + 1"),
    (
        expression,
        "min(counter + 1, self.ticks) if operand else 0",
        "min(counter + 1, self.ticks) if operand else counter",
    ),
    (expression, "max(counter - 1, 0)", "0"),
    (
        expression,
        'if self.kind == "within" else counter >= self.ticks',
        'if self.kind == "within" else counter > self.ticks',
    ),
    (tick_state, "self.ages.pop(used.symbol, None)", "pass"),
    (stepping, "if not values[push]:", "if values[push]:"),
    (stepping, "if not self.free and not frozen:", "if not self.free:"),
    (stepping, "locked or now.locked()", "now.locked()"),
    (stepping, "now.freeze -= 1", "now.freeze -= 2"),
    (stepping, "not before.locked", "True"),
    (stepping, "body = asked_of(body, now.asked)", "pass"),
    (tick_state, "self.asked += reel.travelled(playhead, rate)", "pass"),
    (
        tick_state,
        "self.asked += reel.travelled(playhead, rate)",
        "self.asked += reel.travelled(self.playheads[at], rate)",
    ),
    (stepping, "pushed and (held or", "(held or"),
)


def drummer() -> Character:
    """A figure whose clip raises a pulse that leads on."""
    beat = Mark(name="beat", at=3.0, effects=(Effect(do="raise", name="thump"),))
    clip = Clip(name="drum", sheet="art", cels=(Cel(frame=0, ticks=8.0),), marks=(beat,))
    states = (State(name="a", clip="drum"), State(name="b", clip="drum"))
    thump = Parameter(name="thump", kind="pulse", owner="graph")
    return sketch(way("a>b", "thump"), way("b>a", "thump"), states=states, clips=(clip,), parameters=(thump,))


def striker() -> Character:
    """A figure whose clip holds a flag that is off again when it is left."""
    clip = Clip(
        name="cut",
        sheet="art",
        cels=(Cel(frame=0, ticks=8.0),),
        spans=(Span(name="edge", start=0.0, end=6.0, hold="sharp"),),
    )
    states = (State(name="a", clip="cut"), State(name="b"))
    sharp = Parameter(name="sharp", kind="flag", owner="graph")
    ways = (way("a>b", "stay >= 3 ticks"), way("b>a", "stay >= 2 ticks"))
    return sketch(*ways, states=states, clips=(clip,), parameters=(sharp,))


@cache
def machines() -> list[tuple[Machine, bool, tuple[Setting, ...], EngineTrace]]:
    """What both engines play: characters of every kind, with what they are told."""
    found = []
    drum = compile_character(drummer())
    for seed in range(240):
        pick, kind = random.Random(seed), "walker" if seed % 8 == 0 else "figure" if seed % 8 == 1 else "character"
        if kind == "walker":
            machine, free = compile_character(random_walker(seed)), False
            changes = steering(pick, machine)
        elif kind == "figure":
            machine, free = compile_character(random_figure(seed)), True
            changes = walk(machine, pick, TICKS)
        else:
            machine, free = compile_character(random_character(seed)), seed % 2 == 0
            changes = anything(pick, machine, TICKS)
        if seed == 2:
            machine, changes = drum, []
        if seed == 3:
            machine, free, changes = compile_character(load(case("held_flag_set_on_entry"))), True, []
        if seed == 4:
            machine, changes = compile_character(striker()), []
        tape = EngineTrace(Engine(machine, free))
        list(tape.play(changes, TICKS))
        found.append((machine, free, tuple(changes), tape))
    return found


def planted_stepper(mutant: Mutant, patch: pytest.MonkeyPatch) -> Any:
    """The plain stepper with a mistake in one of its modules, or in what memories are."""
    if mutant[0] is expression:
        memory = planted((expression,), mutant)[expression.__name__]["Memory"]
        for name in ("after", "holds"):
            patch.setattr(expression.Memory, name, getattr(memory, name))
        return stepping.Stepper
    made = planted((tick_state, stepping), mutant)
    whole = made[stepping.__name__]
    whole["TickState"] = made[tick_state.__name__]["TickState"]
    return whole["Stepper"]


def unlike(stepper: Any, number: int) -> bool:
    """Whether it does something else than the compiled engine on one of the characters."""
    machine, free, changes, tape = machines()[number]
    plain = stepper(machine, free)
    try:
        now = plain.first()
        if repr(now) != repr(tape.engine.situation(*tape.engine.first)):
            return True
        for tick, row in enumerate(spread(changes, TICKS)):
            step = plain.step(now, row)
            now = step.situation
            if repr(step) != repr(tape[tick]):
                return True
    except (ArithmeticError, LookupError, ValueError):
        return True
    return False


@pytest.mark.long(but=9)
@pytest.mark.parametrize("number", range(len(MUTANTS)))
def test_every_planted_mistake_is_noticed(number: int, monkeypatch: pytest.MonkeyPatch) -> None:
    machines()
    stepper = planted_stepper(MUTANTS[number], monkeypatch)
    assert any(unlike(stepper, at) for at in range(len(machines()))), MUTANTS[number][1:]


@pytest.mark.long
def test_without_a_mistake_nothing_is_noticed(monkeypatch: pytest.MonkeyPatch) -> None:
    stepper = planted_stepper((tick_state, "self.stays[at] += 1", "self.stays[at] += 1"), monkeypatch)
    assert not any(unlike(stepper, at) for at in range(len(machines())))
