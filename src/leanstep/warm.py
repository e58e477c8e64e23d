"""Run ``python -m leanstep.warm`` to compile what is compiled, so that no one has to wait for it later."""

from __future__ import annotations

from leanstep.core.character.model import Character, Layer, State, Transition
from leanstep.core.findings.report import check_character
from leanstep.core.graph.machine import compile_character
from leanstep.core.rehearsal.engine.engine import Engine


def main() -> None:
    """Play and check the smallest character that uses everything compiled."""
    ways = (Transition(source="a", to="b", when="true"), Transition(source="b", to="a", when="true"))
    layer = Layer(name="base", states=(State(name="a"), State(name="b")), transitions=ways)
    character = Character(name="smallest", layers=(layer,))
    engine = Engine(compile_character(character))
    engine.play(engine.changes([]), 1)
    engine.play_many([([], 1)])
    check_character(character)


if __name__ == "__main__":
    main()
