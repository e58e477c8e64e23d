"""Where the compiled engine finds things: the places of fields in records of whole numbers.

A machine is one array of whole numbers ``m`` and one of real numbers ``r``.  A record begins at an address in ``m``; a range
of records goes from ``things`` to before ``things_end``.  A situation is one array of counts ``z`` and one of values ``v``,
the symbols' values first; both end in room for what is only known on the tick.
"""

from __future__ import annotations

from typing import Any, NamedTuple, TypeVar

_T = TypeVar("_T", bound=tuple[Any, ...])


def _numbered(kind: type[_T]) -> _T:
    """A record whose every field is its place."""
    return kind(*range(len(kind._fields)))  # type: ignore[attr-defined]


class Head(NamedTuple):
    """What stands at address 0.  From ``model`` to ``slopes_end`` it is the plan of a body (:mod:`leanstep.core.body.records`); from
    ``counters`` on places in ``z``, from ``place`` on in ``v``; ``kept`` are the sticks' bearings of the tick before."""

    layers: int
    layers_end: int
    symbols: int
    momentary: int
    momentary_end: int
    buttons: int
    buttons_end: int
    holds: int
    holds_end: int
    memories: int
    memories_end: int
    buffers: int
    buffers_end: int
    clocks: int
    clocks_end: int
    formulas: int
    formulas_end: int
    published: int
    published_end: int
    sticks: int
    sticks_end: int
    model: int
    ways: int
    numbers: int
    floors: int
    floors_end: int
    ladders: int
    ladders_end: int
    slopes: int
    slopes_end: int
    aim_push: int
    aim: int
    aim_held: int
    stick_x: int
    stick_y: int
    jump: int
    run: int
    spanned: int
    counters: int
    ages: int
    since: int
    held: int
    raised: int
    locks: int
    spans: int
    spans_end: int
    remembered: int
    held_now: int
    held_before: int
    changed: int
    place: int
    kept: int
    stack: int


class Layer(NamedTuple):
    """A layer; ``player`` is the place of its part of ``z``."""

    player: int
    start: int
    states: int


class State(NamedTuple):
    """A state; ``clock`` is the number of the clock its leaving starts (-1: none), ``axes`` are the axes of the blend space it
    shows.  ``sticky`` is where in ``r`` stands how sticky its borders are; ``mode`` how it asks the body to move, ``asks`` a record
    of what else it asks."""

    ways: int
    ways_end: int
    entry: int
    entry_end: int
    leave: int
    leave_end: int
    reels: int
    reels_end: int
    clock: int
    still: int
    mode: int
    asks: int
    blend: int
    axes: int
    axes_end: int
    sticky: int


class Axis(NamedTuple):
    """An axis of a blend space; ``numbers`` is a record in ``r``."""

    symbol: int
    round: int
    numbers: int


class Transition(NamedTuple):
    """A transition; ``number`` is its place in the layer's list."""

    number: int
    target: int
    program: int
    fade: int
    blocks: int
    keep: int
    uses: int
    uses_end: int


class Use(NamedTuple):
    """A buffered press that a transition uses up: the number of the buffer and its ticks."""

    buffer: int
    ticks: int


class Act(NamedTuple):
    """An effect; ``value`` is an address in ``r``."""

    do: int
    target: int
    value: int


class Reel(NamedTuple):
    """A clip; ``numbers`` is a record in ``r``, ``places`` are its places on the axes there, ``pace`` the symbol it is paced by or
    -1.  ``goes`` is what its path does to the body, as bits; the path itself is in ``r``."""

    length: int
    begin: int
    phase: int
    pace: int
    numbers: int
    places: int
    cues: int
    cues_end: int
    windows: int
    windows_end: int
    goes: int
    path: int
    path_end: int


class Cue(NamedTuple):
    """A mark."""

    at: int
    name: int
    acts: int
    acts_end: int


class Window(NamedTuple):
    """A span; ``hold`` is a symbol or -1."""

    start: int
    end: int
    hold: int
    lock: int
    name: int


class Symbol(NamedTuple):
    """A symbol; ``numbers`` is a record in ``r``."""

    kind: int
    free: int
    numbers: int


class Momentary(NamedTuple):
    """A symbol that is true for one tick at a time."""

    symbol: int
    free: int


class Memory(NamedTuple):
    """A memory; ``lasts``: its operand stays as it is while no value from outside changes."""

    within: int
    program: int
    ticks: int
    lasts: int


class Buffer(NamedTuple):
    """A button whose presses are remembered."""

    symbol: int
    most: int


class Formula(NamedTuple):
    """A symbol that is computed."""

    symbol: int
    program: int
    number: int


class Stick(NamedTuple):
    """The symbols of a stick."""

    x: int
    y: int
    push: int
    bearing: int


class Published(NamedTuple):
    """Something the body tells; ``zones`` is a range of boxes in ``r``."""

    what: int
    symbol: int
    zones: int
    zones_end: int


class Instruction(NamedTuple):
    """One step of a program; ``value`` is an address in ``r``."""

    op: int
    a: int
    b: int
    c: int
    value: int
    yes: int
    no: int


class Range(NamedTuple):
    """A symbol's numbers, in ``r``."""

    low: int
    high: int
    rest: int


class Pacing(NamedTuple):
    """A clip's playback rate, in ``r``."""

    at: int
    low: int
    high: int


class Asks(NamedTuple):
    """What a state asks of the body, in ``r``; 0 where it asks nothing."""

    face: int
    cap: int
    fall: int
    wide: int
    high: int


class Ruled(NamedTuple):
    """An axis's numbers, in ``r``."""

    low: int
    high: int
    step: int


class Now(NamedTuple):
    """What ``z`` begins with; the layers' parts follow."""

    tick: int
    locked: int
    freeze: int


class Player(NamedTuple):
    """A layer's part of ``z``; a fade that is not under way has -1 ticks left."""

    state: int
    stay: int
    head: int
    pick: int
    over: int
    fade_state: int
    fade_pick: int
    fade_head: int
    fade_left: int
    fade_blocks: int


HEAD = _numbered(Head)
LAYER, STATE, WAY, USE, ACT = _numbered(Layer), _numbered(State), _numbered(Transition), _numbered(Use), _numbered(Act)
REEL, CUE, WINDOW = _numbered(Reel), _numbered(Cue), _numbered(Window)
SYMBOL, MOMENTARY, MEMORY, BUFFER = _numbered(Symbol), _numbered(Momentary), _numbered(Memory), _numbered(Buffer)
FORMULA, PUBLISHED, INSTRUCTION = _numbered(Formula), _numbered(Published), _numbered(Instruction)
STICK = _numbered(Stick)
RANGE, PACING = _numbered(Range), _numbered(Pacing)
RULED, AXIS, ASKS = _numbered(Ruled), _numbered(Axis), _numbered(Asks)
NOW, PLAYER = _numbered(Now), _numbered(Player)

NUMBER, WHOLE, BEARING, FLAG, CHOICE, PULSE, BUTTON = range(7)
SET, ADD, RAISE, LOCK, UNLOCK, FREEZE, MODE, PUSH, PUSH_UP = range(9)
