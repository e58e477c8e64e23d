"""How often each transition was taken while somebody steered."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from leanstep.core.character.document import Character

Sign = tuple[str, str, str, str, str]
"""A transition by its layer, where it comes from (state and lane), where it leads and when: another condition is another one."""


class Steered:
    """Counts since a file was opened; they stay with their transitions, wherever edits put these."""

    def __init__(self) -> None:
        self.counts: Counter[Sign] = Counter()

    def add(self, document: Character, fired: Sequence[int]) -> None:
        """A tick: the transition every layer has taken, by its place, or -1."""
        for layer, index in enumerate(fired):
            if index >= 0:
                self.counts[_sign(document, layer, index)] += 1

    def of(self, document: Character, layer: int, index: int) -> int:
        """How often a transition was taken."""
        return self.counts[_sign(document, layer, index)]


def _sign(document: Character, layer: int, index: int) -> Sign:
    table = document.layers[layer]
    one = table.transitions[index]
    return table.name, one.source, one.from_lane, one.to, one.when
