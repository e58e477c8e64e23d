"""What numbers of a table stand for: kinds, owners, signs, what acts and boxes do, and the steps of programs."""

from __future__ import annotations

from enum import IntEnum

from leanstep.core.conditions.evaluation import NEVER as NEVER
from leanstep.core.conditions.expression import MEMORY_KINDS

EXACT = 1 << 53
"""Up to this, a double holds every whole number."""
LONGEST, FASTEST = 1 << 31, 1000.0
"""The length of a clip in playhead units up to which a player can count, and how many times faster than written one is played."""
MOST_MARKS = 10_000
"""How many marks of a clip may fire in one tick."""
KINDS = ("number", "whole", "bearing", "flag", "choice", "pulse", "button")
NUMBER, WHOLE, BEARING, FLAG, CHOICE, PULSE, BUTTON = range(7)
OWNERS = ("game", "controls", "body", "graph", "formula")
GRAPH = OWNERS.index("graph")
"""What is set from here on is set by the character itself."""
SIGNS = ("<", "<=", "=", "!=", ">", ">=")
OPERATORS = ("+", "-", "*", "/", "abs", "neg", "min", "max", "turn", "bearing")
PLUS, MINUS, TIMES, OVER_BY, ABSOLUTE, NEGATIVE, LEAST, MOST, TURN, DIRECTION = range(10)
SIGN_COUNT, OPERATOR_COUNT = len(SIGNS), len(OPERATORS)
TAKES = (2, 2, 2, 2, 1, 1, 0, 0, 2, 1)
"""How many numbers each operator takes; 0: as many as it is told."""
SET, ADD, RAISE, LOCK, UNLOCK, FREEZE, MODE, PUSH, PUSH_UP = range(9)
"""What acts do (:data:`leanstep.core.graph.effects.ACTS`)."""
SQUASHED, HELD_SQUASH, LET_GO, LEANED, HELD_LEAN = range(5)
"""What changes how a figure is drawn: a squash begins, one begins that its state holds, the one there is springs back, a lean begins,
there is a lean as long as the state is active."""
STRIKE_BOX, VULNERABLE_BOX, GUARD_BOX = range(3)
"""What boxes do (:data:`leanstep.core.character.clips.BoxKind`)."""
HELD_FOR, SEEN_WITHIN = MEMORY_KINDS.index("for"), MEMORY_KINDS.index("within")


class Op(IntEnum):
    """What a row of a program does to a stack of numbers, on which true is 1 and false 0."""

    NUMBER = 0
    """Put ``value`` on top."""
    PARAMETER = 1
    """Put the value of parameter ``a`` on top."""
    PRESSED = 2
    """Whether button ``a`` is held and was not on the tick before."""
    RELEASED = 3
    """Whether button ``a`` was held on the tick before and is not."""
    STAY = 4
    """The stay of layer ``a``, in ticks."""
    SINCE = 5
    """The ticks since the state of clock ``a`` was left; :data:`NEVER` if it was not."""
    BUFFERED = 6
    """Whether the press of buffer ``a`` is less than ``value`` ticks old."""
    DONE = 7
    """Whether the clip of layer ``a`` has come to its end."""
    AT = 8
    """Whether the playhead of layer ``a`` is at or past the share ``value`` of its clip."""
    SPAN = 9
    """Whether a span of the name ``a`` is on."""
    STATE = 10
    """Whether layer ``a`` is in state ``b``."""
    MEMORY = 11
    """Memory ``a`` on this tick."""
    NOT = 12
    """Turn the truth on top round."""
    COMPARE = 13
    """Take two numbers off; whether the first stands to the second as sign ``a`` says."""
    COMPUTE = 14
    """Take ``b`` numbers off and put on top what sum ``a`` makes of them; a division by zero gives 0."""
    SKIP_FALSE = 15
    """If the truth on top is false, leave it and go ``a`` rows further than the next; else take it off."""
    SKIP_TRUE = 16
    """The same for true."""


(OP_NUMBER, OP_PARAMETER, OP_PRESSED, OP_RELEASED, OP_STAY, OP_SINCE, OP_BUFFERED, OP_DONE, OP_AT) = map(
    int, list(Op)[:9]
)
(OP_SPAN, OP_STATE, OP_MEMORY, OP_NOT, OP_COMPARE, OP_COMPUTE, OP_SKIP_FALSE, OP_SKIP_TRUE) = map(int, list(Op)[9:])
"""The same for the kernels."""
