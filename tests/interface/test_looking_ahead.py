"""Ticks that are worked out ahead: what is shown is what the plain stepper does with what hands did."""

from __future__ import annotations

import random

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.rehearsal.deforming import after, at_start
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.window import Window
from tests.interface.conftest import ticks

KEYS = (Qt.Key.Key_Right, Qt.Key.Key_Left, Qt.Key.Key_Space, Qt.Key.Key_X, Qt.Key.Key_Down)


@pytest.mark.parametrize("seed", range(3))
def test_a_steered_figure_does_what_its_stepper_does(window: Window, seed: int) -> None:
    rng, live = random.Random(seed), window.live
    live.record()
    stepper = Stepper(live.machine)
    assert live.situation == stepper.first()
    held: set[Qt.Key] = set()
    shown = []
    for _ in range(60):
        key = rng.choice(KEYS)
        (QTest.keyRelease if key in held else QTest.keyPress)(window, key)
        held ^= {key}
        if rng.random() < 0.2:
            window.session.select_state(0, rng.choice(live.machine.layers[0].states))
        for _ in range(rng.choice((1, 2, 3, 7, 20))):
            ticks(window, 1)
            shown.append((live.situation, live.last, live.figure()))
    situation = stepper.first()
    deformed = at_start(live.machine, situation)
    assert live.recording is not None and len(live.recording) == len(shown)
    for inputs, (seen, last, figure) in zip(live.recording, shown):
        step = stepper.step(situation, inputs)
        deformed = after(live.machine, deformed, situation, step)
        situation = step.situation
        assert (seen, last) == (situation, step)
        assert figure == of_situation(live.machine, situation, deformed)


def test_a_take_that_is_played_does_what_it_does_when_rehearsed(window: Window) -> None:
    live = window.live
    for take in window.session.document.takes:
        trace = rehearse(live.machine, take)
        live.play(take)
        for tick in range(take.ticks):
            ticks(window, 1)
            assert live.situation == trace.after(tick + 1), (take.name, tick)
        live.leave()
