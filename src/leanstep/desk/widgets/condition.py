"""The line in which a condition is written: completes names, reads it aloud, and points at what is wrong."""

from __future__ import annotations

import re

from PySide6.QtCore import Signal

from leanstep.core.character.document import Character
from leanstep.core.character.names import reference
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import reading
from leanstep.core.conditions.scope import scope_of
from leanstep.core.naming.told import tellable, with_told
from leanstep.desk.widgets.completed_line import CompletedLine

WORDS = (
    *("and", "or", "not", "stay", "for", "within", "between", "clip done", "clip at", "pressed", "released", "held"),
    *("phase startup", "phase active", "phase recovery"),
    *("buffered", "since(", "in", "span", "true", "false", "abs(", "min(", "max(", "turn(", "ticks", "ms", "s"),
)
"""The words of the language, for completion."""


def judged(character: Character, layer: int, text: str) -> tuple[str, bool]:
    """What a condition says, in words, or what is wrong with it; and whether it is sound."""
    # what the body can tell is taken in with the condition
    compiled, faults = scope_of(with_told(character, text, layer)).compile(text, layer)
    if faults:
        sentence = faults[0].sentence
        return sentence[0].upper() + sentence[1:] + ("" if sentence.endswith("?") else "."), False
    return ("Taken " + reading(parse(text), character.bearings) + ".", compiled is not None)


def in_words(character: Character, condition: str) -> str:
    """A condition read aloud, or what is wrong with it."""
    try:
        return reading(parse(condition), character.bearings)
    except ConditionError as error:
        return f"when “{condition}” – cannot be read: {error.reason}"


class ConditionLine(CompletedLine):
    """``written`` tells the text when it is meant: after Enter or when the line is left."""

    written = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Condition")
        self.setToolTip("When this transition is taken, for example: speed > 12 and stay >= 0.1 s")
        self.setPlaceholderText("When? For example: speed > 12 and grounded")
        self.editingFinished.connect(lambda: self.written.emit(self.text()))

    def show_names(self, character: Character, layer: int) -> None:
        """Complete with the names of this character."""
        states = [reference(table.name, state.name) for table in character.layers for state in table.states]
        names = [symbol.name for symbol in scope_of(character).symbols]
        choices = dict.fromkeys(choice for one in character.parameters for choice in one.choices)
        spans = dict.fromkeys(span.name for clip in character.clips for span in clip.spans)
        about = [f"{word}{name}{end}" for name in states for word, end in (("in ", ""), ("since(", ")"))]
        names += tellable(character)
        self.offer([*names, *WORDS, *choices, *(f"span {name}" for name in spans), *about])

    def start(self) -> int:
        """Where the word under the cursor begins."""
        before = self.text()[: self.cursorPosition()]
        match = re.search(r"[\w.]+$", before)
        return match.start() if match else len(before)
