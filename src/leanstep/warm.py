"""Run ``python -m leanstep.warm`` to compile what is compiled, so that no one has to wait for it later."""

from __future__ import annotations

import os
import subprocess

import numpy as np

from leanstep import launching
from leanstep.core import jit
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.cut_outs.rendering import lay_over
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.tabled import TabledSearch
from leanstep.core.proof.search.tables import Tables
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.rehearsal.contact import Figure
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.engine.pairs import play_both
from leanstep.core.work import DEFAULT

NICE = 10
"""By how much others go before compiling."""
_WAYS = (Transition(source="a", to="b", when="true"), Transition(source="b", to="a", when="true"))
SMALLEST = Character(
    name="smallest", layers=(Layer(name="base", states=(State(name="a"), State(name="b")), transitions=_WAYS),)
)
"""The smallest character that flickers."""


def load() -> None:
    """Load what plays takes and draws parts, compiling it if need be."""
    engine = Engine(compile_character(SMALLEST))
    list(EngineTrace(engine).play([], 1))
    engine.play_many([([], 1)])
    one = Figure(engine.machine)
    play_both((one, one), (one.first(0.0, 0.0), one.first(1.0, 0.0)), ([], []), 1)
    dot, none, nowhere = np.zeros(4, np.uint8), np.zeros(0, np.int64), np.zeros(0)
    lay_over(dot, (1, 1), (0.0, 0.0), dot, none, nowhere, none, nowhere, False, False)


def prove() -> None:
    """Load what is proved with, compiling it if need be."""
    check_character(SMALLEST)
    for part, layers in slices(compile_character(SMALLEST)):
        TabledSearch(Tables(FreeWorld(part))).run(DEFAULT, into=(layers[0], 0))


def compiled_once() -> None:
    """See to it that everything is compiled, by a process of its own; it takes turns with others that do the same."""
    if jit.KEPT is not None and not jit.is_whole():
        program, *words = launching.words("leanstep.warm")
        subprocess.run([program, *words], check=False, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL)


def main() -> None:
    """Compile everything, beside what people do, unless another process has done it meanwhile."""
    os.nice(NICE)
    with jit.in_turn() as done:
        if not done:
            load()
            prove()


if __name__ == "__main__":
    main()
