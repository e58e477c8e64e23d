"""Time that runs back shows the figure as it was drawn, whichever tick it comes from."""

from __future__ import annotations

import random

from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.deforming import PLAIN, Deformed
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.desk import rewinding
from leanstep.desk.input_log import InputLog
from tests.support.build import DEMO


def test_a_rewound_figure_has_the_shape_it_had() -> None:
    """Blocks are worked out ahead, a few ticks on every tick back; each tick is drawn as the trace itself says."""
    document = load(DEMO / "lamplighter.leanstep")
    states = tuple(
        change(document, ("layers", 0, "states", at), squash="dip", lean="into").layers[0].states[at]
        for at in range(len(document.layers[0].states))
    )
    dip, into = Squash(name="dip", high=0.8, every=0.7), Lean(name="into", speeding=2.0)
    shaped = change(document, (), squashes=(dip,), leans=(into,))
    machine = compile_character(change(shaped, ("layers", 0), states=states))
    stepper, log, pick = Stepper(machine), InputLog(), random.Random(3)
    now, held, jump = stepper.first(), 0.0, False
    for tick in range(1500):
        if tick % 40 == 0:
            held, jump = pick.choice([-1.0, 0.0, 1.0]), pick.random() < 0.4
        inputs: dict[int, Symbolic] = {machine.index["stick.x"]: held, machine.index["jump"]: jump}
        log.add(inputs, now, 10_000)
        now = stepper.step(now, inputs).situation
    rewound = rewinding.Rewind(machine, log)
    rewound.trace.followed = rewinding.FOLLOWED
    shown = list[Deformed]()
    while rewound.at > 0:
        rewound.back()
        expected = rewound.trace.deformed(rewound.at - 1)
        assert rewound.deformed() == expected, rewound.at
        if expected not in shown[-3:]:
            shown.append(expected)
    assert len(shown) > 50 and rewound.deformed() == PLAIN
