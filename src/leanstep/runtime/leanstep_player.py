"""Plays a character from its table (``NAME.table.json``), tick for tick and bit for bit as Lean Step does.

One file, standard library only: copy it into your game.

    player = Player(Table.load("hero.table.json"))
    player.hold("jump", True)            # buttons; player.push("stick", 1, 0) for sticks
    player.set("speed", 3.5)             # what your game and your physics set; player.pulse("hurt")
    player.step()                        # once a tick
    player.frame("base")                 # what to draw: clip, cel, frame
    player.marks, player.spans, player.locked, player.travelled
"""

from __future__ import annotations

import json
import math
import struct
import sys
from collections.abc import Callable, Iterator
from itertools import chain
from typing import Any, NamedTuple

Whole = list[Any]
"""Whole numbers; where a program begins, its function."""
Real = list[float]
IntSet = set[int]


class TableError(ValueError):
    """What is wrong with a table, or with what a player is asked, in a sentence."""


class Table:
    """A character's table.  ``sections`` are lists of rows of numbers, as its ``columns`` say; ``m`` and ``r`` are the same as the
    functions below read them."""

    def __init__(self, made: dict[str, Any]) -> None:
        version = made.get("leanstep_table") if isinstance(made, dict) else None
        if isinstance(version, bool) or not isinstance(version, (int, float)) or version < 1 or version % 1:
            raise TableError("this is no table of Lean Step: export one with  lean-step export FILE --to table")
        if version > VERSION:
            raise TableError(
                f"the table has version {version}, and this player knows {VERSION}: take the player beside it"
            )
        for kind, part in (("columns", dict), ("sections", dict), ("names", dict), ("says", dict), ("name", str)):
            if not isinstance(made.get(kind), part):
                raise _damaged(kind)
        self._widths = {section: len(columns.split()) for section, columns in COLUMNS.items()}
        self._widths.update(OLDER_WIDTHS.get(int(version), {}))
        for section, columns in COLUMNS.items():
            width = self._widths[section]
            if width and made["columns"].get(section) != columns.split()[:width]:
                raise TableError(
                    f"the table's {section} have other columns than this player reads: take the player beside it"
                )
        self.version = int(version)
        self.name, self.rate, self.names, self.says = made["name"], made.get("rate"), made["names"], made["says"]
        self.sections: dict[str, list[list[Any]]] = {
            section: made["sections"].get(section) if width else [] for section, width in self._widths.items()
        }
        self._check_words()
        self.m, self.r = self._laid()
        self._index = {kind: {name: at for at, name in enumerate(self.names[kind])} for kind in NAMED}

    @classmethod
    def load(cls, path: str) -> Table:
        """Read a table's file."""
        with open(path, encoding="utf-8") as file:
            try:
                made = json.load(file, parse_constant=_no_number)
            except (ValueError, RecursionError) as error:
                raise TableError(f"{path} is no JSON: {error}") from None
        return cls(made)

    def _check_words(self) -> None:
        for kind in NAMED:
            names = self.names.get(kind)
            if not isinstance(names, list) or not all(isinstance(name, str) for name in names):
                raise _damaged(f"names of {kind}")
        for part in ("cues", "windows"):
            said = self.says.get(part)
            if not isinstance(said, dict) or not all(isinstance(one, dict) for one in said.values()):
                raise _damaged(f"says of {part}")
        if not 0 < _cell(self.rate) < math.inf:
            raise _damaged("rate")
        for section, width in self._widths.items():
            rows = self.sections[section]
            if not isinstance(rows, list) or not all(isinstance(row, list) and len(row) == width for row in rows):
                raise _damaged(section)

    def _laid(self) -> tuple[Whole, Real]:
        """The arrays of the table, checked once, so that playing needs no checks."""
        missing = {
            section: [0] * (len(columns.split()) - self._widths[section]) for section, columns in COLUMNS.items()
        }
        rows_in_order = (row + missing[section] for section, some in self.sections.items() for row in some)
        cells = [_cell(cell) for cell in chain.from_iterable(rows_in_order)]
        counts, names = [len(rows) for rows in self.sections.values()], [len(self.names[kind]) for kind in NAMED]
        wrong = wrong_cell(cells, counts, names)
        if wrong >= 0:
            raise _damaged(self._place(wrong))
        rows = [0] * len(counts)
        rows_of(counts, rows)
        if not agrees(cells, counts, names, rows, [0] * (4 * len(self.sections["programs"]) + 1)):
            raise _damaged("rows that lead to each other")
        size = laid_size(counts)
        m, r = [0] * size, [0.0] * size
        lay(cells, counts, names, m, r)
        return m, r

    def _place(self, cell: int) -> str:
        for section, columns in COLUMNS.items():
            size = len(self.sections[section]) * len(columns.split())
            if cell < size:
                row, column = divmod(cell, len(columns.split()))
                return f"{section}, row {row + 1}, {columns.split()[column]}"
            cell -= size
        raise IndexError(cell)

    def index(self, kind: str, name: str) -> int:
        """The number of a name."""
        if name not in self._index[kind]:
            raise TableError(
                f"{self.name} has no {kind.rstrip('s')} called {name}; it has {', '.join(self.names[kind])}"
            )
        return self._index[kind][name]


def _damaged(what: str) -> TableError:
    return TableError(f"the table is damaged ({what}): export it again")


def _cell(value: Any) -> float:
    """What a cell holds as a number: null is none, and what cannot stand there is infinite."""
    if value is None:
        return math.nan
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not abs(value) <= sys.float_info.max:
        return math.inf
    return float(value)


def _no_number(text: str) -> None:
    raise ValueError(f"{text} is no number")


class Shown(NamedTuple):
    """What a layer shows: the names of clip and frame, the cel's number, how it is mirrored and then turned (quarter turns clockwise), and
    how far ahead (as it looks) and up of the figure's foot a path has taken the drawing."""

    clip: str
    cel: int
    frame: str
    mirrored: bool
    turns: int
    x: float = 0.0
    y: float = 0.0
    layer: int = 0


class Pin(NamedTuple):
    """Where a pin point lies in what is drawn: pixels of the drawing from the figure's foot, to the right and up, and the bearing in which
    it points (0 up, 90 to the right).  Of a mark that fires there ``layer`` is that of its clip."""

    name: str
    layer: int
    x: float
    y: float
    angle: float
    behind: bool


class Pinned(NamedTuple):
    """An accessory: its frame, how it is mirrored and then turned (degrees clockwise) about its own foot, which lies so many pixels of the
    figure's drawing to the right of the figure's foot and above it; then it is squashed and tilted as the figure is.  ``behind``: it is
    drawn before the layer with which it is, else after it."""

    name: str
    layer: int
    behind: bool
    frame: str
    mirrored: bool
    turn: float
    x: float
    y: float


class PartPose(NamedTuple):
    """How a part of a figure is moved in its parent, in pixels of the drawing to the right and up, then turned about its joint, in degrees
    clockwise, and how many times as wide and high it is, which comes first of all."""

    name: str
    layer: int
    x: float
    y: float
    turn: float
    wide: float
    high: float


class Requests(NamedTuple):
    """What the active states ask of the body: the number of a mode, whether it may move against its facing, how fast to turn to what it
    touches (degrees a second), how fast to be at most, and falling (units a second), and its box; 0: nothing."""

    mode: int
    backward: bool
    face: float
    cap: float
    fall: float
    wide: float
    high: float


class Shape(NamedTuple):
    """How a figure is drawn: so many times as wide and high, about its foot, then tilted by so many degrees clockwise; ``whole``: its
    height is a whole number of pixels."""

    wide: float
    high: float
    tilt: float
    whole: bool


class At(NamedTuple):
    """Where a figure stands for contact, and how large a pixel of its drawings is, in the same units; ``along`` is how much of a push to
    the right goes along its facing, where that is not just 1 or, of one that looks left, -1."""

    x: float
    y: float = 0.0
    left: bool = False
    wide: float = 1.0
    high: float = 1.0
    along: float | None = None


class Contact(NamedTuple):
    """A strike of figure ``who`` (0 or 1) of a pair has met the other: the clip, whether it was guarded, and what it does."""

    who: int
    layer: int
    clip: str
    guarded: bool
    stun: int
    freeze: int
    strength: float
    push: float


class Player:
    """A figure that plays a table.  After each :meth:`step`: ``states`` (rows of the table, layer by layer), ``stays`` in ticks,
    ``heads`` in 1/65536 tick, ``picks``, ``taken`` (the transition of each layer, -1: none), ``fired`` (layer, mark, cue), ``on`` (the
    spans), ``locked``, ``freeze``, ``values`` (of every parameter), and what is asked of the body: ``travelled`` (ahead, up, what
    counts), ``mode``, ``pushed``."""

    def __init__(self, table: Table) -> None:
        self.table = table
        self._rows = table.sections["parameters"]
        self._given: dict[int, float] = {}
        self.restart()

    def restart(self) -> None:
        """Begin again, just before tick 0."""
        m, r = self.table.m, self.table.r
        self.z: Whole = [0] * m[HEAD_COUNTS]
        self.v: Real = [0.0] * m[HEAD_VALUES]
        self.k: Whole = [0, m[HEAD_MOST_TOLD], *[0] * (TOLD_SIZE * m[HEAD_MOST_TOLD])]
        self.taken = [-1] * m[HEAD_LAYER_COUNT]
        self.s: Real = [0.0] * (DRAWN_SIZE + m[HEAD_LAYER_COUNT])
        self.due: Real = [0.0] * DUE_SIZE
        self._given.clear()
        enter_start(m, r, self.z, self.v, self.k)
        begin_shape(m, r, self.z, self.s)

    # -- what the game says ------------------------------------------------------------------------------------------

    def set(self, name: str, value: float | bool | str) -> None:
        """Set a parameter that the game, the controls or the body sets; it is kept until it is set again."""
        at = self.table.index("parameters", name)
        if self._rows[at][1] >= GRAPH:
            raise TableError(f"{name} is set by effects or formulas, not by the game")
        number = float(self.table.index("words", value) if isinstance(value, str) else value)
        self._given[at] = fitted(self.table.m, self.table.r, at, number)

    def hold(self, button: str, held: bool) -> None:
        """A button is held, or let go."""
        self.set(button, held)

    def pulse(self, name: str) -> None:
        """Something happens on this tick."""
        self.set(name, True)

    def push(self, stick: str, x: float, y: float) -> None:
        """A stick is pushed so far right and up, each from -1 to 1."""
        self.set(f"{stick}.x", x)
        self.set(f"{stick}.y", y)
        self.set(f"{stick}.push", push_of(x, y))
        self.set(f"{stick}.bearing", bearing_of(x, y))

    def step(self) -> None:
        """One tick with what has been set."""
        m, r, z, v, k = self.table.m, self.table.r, self.z, self.v, self.k
        open_tick(m, z, v)
        raise_due(m, r, v, self.due)
        for at, value in self._given.items():
            v[at] = value
        self._given.clear()
        k[0] = 0
        keep_bearings(m, v)
        forget_asked(m, v)
        tick(m, r, z, v, k, True, self.taken, 0)
        settle(m, z, v, self.due)

    def shape(self, velocity: float, up: float = 0.0, facing: float = 90.0, grounded: bool = True) -> Shape:
        """How the figure is drawn; called once after each step, with what the body does: its velocity to the right (seen from above: its
        speed) and up, in units a second, where it looks, as a bearing (90 is right, 270 left), and whether it stands."""
        told = float(velocity), float(up), reduced(float(facing)), bool(grounded)
        follow_shape(self.table.m, self.table.r, self.z, self.k, self.taken, self.s, *told)
        return self._shape()

    def _shape(self) -> Shape:
        s = self.s
        return Shape(s[DRAWN_WIDE], s[DRAWN_HIGH], s[DRAWN_TILT], s[DRAWN_WHOLE] != 0.0)

    # -- what the game is told ---------------------------------------------------------------------------------------

    def value(self, name: str) -> float | bool | str:
        """The value of any parameter."""
        at = self.table.index("parameters", name)
        kind, value = self._rows[at][0], self.v[at]
        return str(self.table.names["words"][int(value)]) if kind == CHOICE else value != 0 if kind > BEARING else value

    def state(self, layer: str) -> str:
        """The name of a layer's state."""
        return str(self.table.names["states"][self.states[self.table.index("layers", layer)]])

    def frame(self, layer: str, left: bool = False) -> Shown | None:
        """What a layer shows of a figure that looks right, or ``left``; None: nothing."""
        return self._shown(self.table.index("layers", layer), left)

    def frames(self, left: bool = False) -> list[Shown]:
        """What is seen of a figure that looks right, or ``left``, from the back to the front."""
        lowest = lowest_seen(self.table.m, self.table.r, self.z, self.v)
        shown = (self._shown(layer, left) for layer in range(lowest, len(self.taken))) if lowest >= 0 else ()
        return [one for one in shown if one is not None]

    def _shown(self, layer: int, left: bool) -> Shown | None:
        m, z, names, cel = self.table.m, self.z, self.table.names, self.cel(layer)
        if cel < 0:
            return None
        clip = (clip_of(m, z, layer) - m[HEAD_CLIPS]) // CLIP_SIZE
        frame = frame_of(m, self.table.r, z, self.v, layer, cel)
        mirrored, turns = is_mirrored(m, z, layer, cel, left), quarter_turns(m, z, layer, cel, left)
        x, y = aside(m, self.table.r, z, layer, 1), aside(m, self.table.r, z, layer, 2)
        return Shown(names["clips"][clip], cel, names["frames"][frame], mirrored, turns, -x if left else x, y, layer)

    def pins(self, left: bool = False) -> list[Pin]:
        """The pin points of what is seen, as the figure is drawn since :meth:`shape` was called last, from the back to the front."""
        out = [0.0] * (len(self.taken) * len(self.table.sections["spots"]) * PLACED_SIZE)
        count = list_pins(self.table.m, self.table.r, self.z, self.v, left, *self._shape()[:3], out)
        return [self._pin(row, int(row[PLACED_NUMBER])) for row in _rows(out, count, PLACED_SIZE)]

    def pinned(self, left: bool = False) -> list[Pinned]:
        """The accessories that are seen, from the back to the front of each layer."""
        out = [0.0] * (len(self.taken) * len(self.table.sections["accessories"]) * PINNED_SIZE)
        count = list_pinned(self.table.m, self.table.r, self.z, self.v, left, *self._shape()[:3], out)
        words, frames = self.table.names["words"], self.table.names["frames"]
        return [
            Pinned(
                words[int(row[PINNED_NAME])],
                int(row[PINNED_LAYER]),
                row[PINNED_BEHIND] != 0.0,
                frames[int(row[PINNED_FRAME])],
                row[PINNED_MIRRORED] != 0.0,
                row[PINNED_TURN],
                row[PINNED_X],
                row[PINNED_Y],
            )
            for row in _rows(out, count, PINNED_SIZE)
        ]

    def parts(self, left: bool = False) -> list[PartPose]:
        """How the parts are moved of what is seen and drawn from parts, layer by layer from the back to the front, parents first; mixed
        where samples of a blend space mix.  They are mirrored as :meth:`frames` are."""
        m, w = self.table.m, [0.0] * (2 * len(self.table.sections["samples"]))
        out = [0.0] * (most_parts(m) * PARTED_SIZE)
        rows = _rows(out, list_parts(m, self.table.r, self.z, self.v, left, w, out), PARTED_SIZE)
        words = self.table.names["words"]
        return [PartPose(words[int(row[PARTED_PART])], int(row[PARTED_LAYER]), *row[PARTED_X:]) for row in rows]

    def mark_pins(self, left: bool = False) -> dict[int, Pin]:
        """Where the marks that fired on this tick did, by their number in :attr:`fired`, of those that name a pin point."""
        out = [0.0] * (self.k[1] * PLACED_SIZE)
        count = list_places(self.table.m, self.table.r, self.k, left, *self._shape()[:3], out)
        fired, rows = self.fired, _rows(out, count, PLACED_SIZE)
        return {int(row[PLACED_NUMBER]): self._pin(row, fired[int(row[PLACED_NUMBER])][0]) for row in rows}

    def _pin(self, row: Real, layer: int) -> Pin:
        name = self.table.names["words"][int(row[PLACED_PIN])]
        return Pin(name, layer, row[PLACED_X], row[PLACED_Y], row[PLACED_ANGLE], row[PLACED_BEHIND] != 0.0)

    @property
    def requests(self) -> Requests:
        """What the active states ask of the body."""
        m, r, z = self.table.m, self.table.r, self.z
        columns = (STATE_FACE, STATE_CAP, STATE_FALL, STATE_WIDE, STATE_HIGH)
        return Requests(requested_mode(m, z), goes_backward(m, z), *(requested(m, r, z, one) for one in columns))

    def cel(self, layer: int) -> int:
        """The number of the cel a layer shows; -1: none."""
        return cel_of(self.table.m, self.table.r, self.z, self.v, layer)

    @property
    def marks(self) -> list[tuple[str, dict[str, Any]]]:
        """The marks that fired on this tick, in order, with what they say."""
        said = self.table.says["cues"]
        return [(self.table.names["marks"][mark], said.get(str(cue), {})) for _, mark, cue in self.fired]

    @property
    def spans(self) -> dict[str, dict[str, Any]]:
        """The spans that are on, with what they say."""
        out = [0] * (2 * len(self.table.sections["windows"]) * len(self.taken))
        count = list_spans(self.table.m, self.z, out)
        said, names = self.table.says["windows"], self.table.names["spans"]
        return {names[out[2 * at]]: said.get(str(out[2 * at + 1]), {}) for at in range(count)}

    def _each(self, what: int) -> list[int]:
        return self.z[FIRST_PLAYER + what : FIRST_PLAYER + len(self.taken) * PLAYER_SIZE : PLAYER_SIZE]

    @property
    def states(self) -> list[int]:
        """The row of each layer's state."""
        return self._each(PLAYER_STATE)

    @property
    def stays(self) -> list[int]:
        """How long each layer is in its state, in ticks."""
        return self._each(PLAYER_STAY)

    @property
    def heads(self) -> list[int]:
        """Each layer's playhead, in 1/65536 tick."""
        return self._each(PLAYER_HEAD)

    @property
    def picks(self) -> list[int]:
        """The number of the sample each layer shows."""
        return self._each(PLAYER_PICK)

    @property
    def locked(self) -> bool:
        """Whether movement is locked."""
        return bool(self.z[NOW_LOCKED])

    @property
    def freeze(self) -> int:
        """For how many ticks more everything stands."""
        return int(self.z[NOW_FREEZE])

    @property
    def values(self) -> list[float]:
        """The value of every parameter."""
        return self.v[: len(self._rows)]

    @property
    def fired(self) -> list[tuple[int, int, int]]:
        """The layer, mark and cue of each mark that fired on this tick."""
        told = range(TOLD, TOLD + TOLD_SIZE * self.k[0], TOLD_SIZE)
        return [(self.k[at + 1], self.k[at + 2], self.k[at + 3]) for at in told]

    @property
    def on(self) -> IntSet:
        """The spans that are on."""
        first, end = self.table.m[HEAD_SPANS], self.table.m[HEAD_SPANS_END]
        return {at - first for at in range(first, end) if self.z[at]}

    def _asked(self, what: int) -> float:
        return self.v[self.table.m[HEAD_PLACE] + what]

    @property
    def travelled(self) -> tuple[float, float, int]:
        """How far paths go on this tick, ahead and up, and what of it counts."""
        return self._asked(FIELDS_TRAVEL), self._asked(FIELDS_TRAVEL_UP), int(self._asked(FIELDS_TRAVELS))

    @property
    def pushed(self) -> tuple[float, float]:
        """How the body is pushed, ahead and up."""
        return self._asked(FIELDS_PUSH), self._asked(FIELDS_PUSH_UP)

    @property
    def mode(self) -> float:
        """How the body is asked to move."""
        return self._asked(FIELDS_MODE)


def _rows(out: Real, count: int, size: int) -> list[Real]:
    return [out[at * size : (at + 1) * size] for at in range(count)]


class Pair:
    """Two figures that can touch; what one has spent on the other is kept here, so make one for every two."""

    def __init__(self, one: Player, other: Player) -> None:
        self.figures = one, other
        self._spent = [[0] * len(player.taken) for player in self.figures]

    def meet(self, at: At, other_at: At) -> list[Contact]:
        """What touches, called once after both have done a tick, with where they stand.  What that raises on both, a stun, a freeze and
        the rest, comes on their next tick; so does the push, along the facing in ``pushed``."""
        hits = [[0] * len(player.taken) for player in self.figures]
        sides: Any = []
        for number, (player, place) in enumerate(zip(self.figures, (at, other_at))):
            along = (-1.0 if place.left else 1.0) if place.along is None else place.along
            sides += [player.table.m, player.table.r, player.z, player.v, player.taken, place.left, along]
            sides += [place.x, place.y, place.wide, place.high, self._spent[number], hits[number], player.due]
        meet(*sides, [0.0] * 8)  # type: ignore[call-arg]
        return [self._contact(number, layer, how) for number in (0, 1) for layer, how in enumerate(hits[number]) if how]

    def _contact(self, who: int, layer: int, how: int) -> Contact:
        table = self.figures[who].table
        m, clip = table.m, clip_of(table.m, self.figures[who].z, layer)
        name = table.names["clips"][(clip - m[HEAD_CLIPS]) // CLIP_SIZE]
        stun = m[clip + (CLIP_STUN if how == 1 else CLIP_GUARD_STUN)]
        does = (table.r[clip + CLIP_STRENGTH], table.r[clip + CLIP_PUSH])
        return Contact(who, layer, name, how == 2, stun, m[clip + CLIP_FREEZE], *does)


# -- programs ----------------------------------------------------------------------------------------------------------


def link_all(m: Whole, r: Real) -> None:
    """Put a function where each program begins, that does the same operations in the same order."""
    for way in range(m[HEAD_WAYS], m[HEAD_WAYS_END], WAY_SIZE):
        m[way + WAY_PROGRAM] = _program(m, r, m[way + WAY_PROGRAM], m[way + WAY_PROGRAM_END])
    for memory in range(m[HEAD_MEMORIES], m[HEAD_MEMORIES_END], MEMORY_SIZE):
        m[memory + MEMORY_PROGRAM] = _program(m, r, m[memory + MEMORY_PROGRAM], m[memory + MEMORY_PROGRAM_END])
    for formula in range(m[HEAD_FORMULAS], m[HEAD_FORMULAS_END], FORMULA_SIZE):
        m[formula + FORMULA_PROGRAM] = _program(m, r, m[formula + FORMULA_PROGRAM], m[formula + FORMULA_PROGRAM_END])
    for rules in range(m[HEAD_CONTACT], m[HEAD_CONTACT_END], CONTACT_SIZE):
        m[rules + CONTACT_GUARDS] = _program(m, r, m[rules + CONTACT_GUARDS], m[rules + CONTACT_GUARDS_END])
    for one in range(m[HEAD_ACCESSORIES], m[HEAD_ACCESSORIES_END], ACCESSORY_SIZE):
        m[one + ACCESSORY_SHOWN] = _program(m, r, m[one + ACCESSORY_SHOWN], m[one + ACCESSORY_SHOWN_END])


def run(m: Whole, r: Real, z: Whole, v: Real, program: Callable[[Whole, Whole, Real], Any]) -> bool:
    """Whether a condition holds."""
    return bool(program(m, z, v))


def worth(m: Whole, r: Real, z: Whole, v: Real, program: Callable[[Whole, Whole, Real], Any], number: bool) -> float:
    """What a program comes to: its number, or 1 for true and 0 for false."""
    found = program(m, z, v)
    return float(found) if number else 1.0 if found else 0.0


def rounded(value: float) -> float:
    """To the nearest whole number, halves to the even one."""
    return float(round(value)) if value == value else value


def _program(m: Whole, r: Real, begin: int, end: int) -> Callable[[Whole, Whole, Real], Any]:
    names = {"turn": turn, "reduced": reduced, "divided": _divided, "is_done": is_done, "is_at": is_at, **_PLAIN}
    try:
        made: Callable[[Whole, Whole, Real], Any] = eval(f"lambda m, z, v: {_written(m, r, begin, end)}", names)
    except (SyntaxError, MemoryError, RecursionError):
        raise TableError("a condition of the table is nested too deeply for this player") from None
    return made


def _written(m: Whole, r: Real, begin: int, end: int) -> str:
    """A program as an expression.  What ``and`` joins, or ``or``, stands in one bracket however much it is."""
    stack: list[tuple[str, str]] = []
    waiting: list[tuple[int, str, str]] = []

    def taken(word: str = "") -> str:
        text, joined = stack.pop()
        return text if joined in ("", word) else f"({text})"

    at = begin
    while True:
        while waiting and at == waiting[-1][0]:
            _, left, word = waiting.pop()
            stack.append((f"{left} {word} {taken(word)}", word))
        if at == end:
            return stack[-1][0]
        op, a, b, value = m[at + STEP_OP], m[at + STEP_A], m[at + STEP_B], r[at + STEP_VALUE]
        at += STEP_SIZE
        if op == OP_NOT:
            stack.append((f"(not {taken()})", ""))
        elif op == OP_COMPARE:
            right, left = taken(), taken()
            stack.append((f"({left} {_SIGNS[a]} {right})", ""))
        elif op == OP_COMPUTE:
            parts = [taken() for _ in range(b)][::-1]
            stack.append((_SUMS[a].format(*parts, all=", ".join(parts)), ""))
        elif op >= OP_SKIP_FALSE:
            word = "and" if op == OP_SKIP_FALSE else "or"
            waiting.append((at + a * STEP_SIZE, taken(word), word))
        else:
            stack.append((_atom(m, op, a, b, value), ""))


def _atom(m: Whole, op: int, a: int, b: int, value: float) -> str:
    player, held = FIRST_PLAYER + a * PLAYER_SIZE, m[HEAD_HELD] + a
    age, since = m[HEAD_AGES] + a, m[HEAD_SINCE] + a
    return {
        0: repr(value),
        1: f"v[{a}]",
        2: f"(v[{a}] != 0.0 and not z[{held}])",
        3: f"(v[{a}] == 0.0 and z[{held}])",
        4: f"z[{player + PLAYER_STAY}]",
        5: f"(z[{since}] if z[{since}] >= 0 else {NEVER})",
        6: f"(0 <= z[{age}] < {value!r})",
        7: f"is_done(m, z, {a})",
        8: f"is_at(m, z, {a}, {value!r})",
        9: f"z[{m[HEAD_SPANS] + a}]",
        10: f"(z[{player + PLAYER_STATE}] == {b})",
        11: f"z[{m[HEAD_REMEMBERED] + a}]",
    }[op]


def _divided(one: float, other: float) -> float:
    return one / other if other else 0.0


_SIGNS = ("<", "<=", "==", "!=", ">", ">=")
_PLAIN: dict[str, Any] = {"inf": math.inf, "nan": math.nan, "abs": abs, "min": min, "max": max, "__builtins__": {}}
_SUMS = (
    "({0} + {1})",
    "({0} - {1})",
    "({0} * {1})",
    "divided({0}, {1})",
    "abs({0})",
    "(-{0})",
    "min({all})",
    "max({all})",
    "turn({0}, {1})",
    "reduced({0})",
)

# -- printed from the kernels of the tick --
# fmt: off
COLUMNS = {
    "parameters": "kind owner first low high",
    "sticks": "x y push bearing",
    "layers": "start states states_end",
    "states": "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still clear turned mode backward face cap fall wide high shapes shapes_end last_shapes last_shapes_end worn worn_end moved moved_end mix_cells mix_cells_end mix_edges mix_edges_end",
    "ways": "number target program program_end fade blocks keep uses uses_end shapes shapes_end",
    "uses": "buffer ticks",
    "acts": "do target value",
    "samples": "clip phase places mirrored",
    "axes": "parameter round low high step",
    "places": "value",
    "clips": "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end resting goes keys keys_end actives actives_end reach stun guard_stun freeze strength push",
    "cues": "at mark acts acts_end shapes shapes_end cel spots spots_end",
    "windows": "start end hold lock span",
    "pieces": "start cel",
    "cels": "frame mirrored turns looks rects rects_end spots spots_end",
    "keys": "at x y ease",
    "memories": "within ticks program program_end",
    "buffers": "parameter most",
    "clocks": "most",
    "formulas": "parameter program program_end",
    "holds": "parameter",
    "programs": "op a b value",
    "squashes": "high wide over hold back every by_fall recent whole",
    "leans": "speeding turning most share dt signed",
    "shapes": "do which",
    "countdowns": "parameter",
    "actives": "start end window",
    "rects": "kind left bottom width height",
    "contact": "guards guards_end hit guarded stun strength lands stopped",
    "costumes": "parameter value dressed dressed_end",
    "dressed": "frame by",
    "spots": "pin x y angle behind",
    "accessories": "name pin shown shown_end clip clip_end frame angle order",
    "moved": "parameter value",
    "mix_places": "x y mix_shares mix_shares_end",
    "mix_shares": "sample share",
    "mix_cells": "first second third",
    "mix_edges": "first second",
    "posed": "frame figure poses poses_end",
    "poses": "part x y turn wide high",
}
NAMED = ('parameters', 'words', 'layers', 'states', 'clips', 'frames', 'marks', 'spans', 'locks', 'modes')
OLDER_WIDTHS = {1: {'states': 14, 'samples': 3, 'cels': 3, 'ways': 9, 'cues': 4, 'squashes': 0, 'leans': 0, 'shapes': 0, 'clips': 19, 'countdowns': 0, 'actives': 0, 'rects': 0, 'contact': 0, 'costumes': 0, 'dressed': 0, 'spots': 0, 'accessories': 0, 'moved': 0, 'mix_places': 0, 'mix_shares': 0, 'mix_cells': 0, 'mix_edges': 0, 'posed': 0, 'poses': 0}, 2: {'states': 23, 'cels': 4, 'ways': 9, 'cues': 4, 'squashes': 0, 'leans': 0, 'shapes': 0, 'clips': 19, 'countdowns': 0, 'actives': 0, 'rects': 0, 'contact': 0, 'costumes': 0, 'dressed': 0, 'spots': 0, 'accessories': 0, 'moved': 0, 'mix_places': 0, 'mix_shares': 0, 'mix_cells': 0, 'mix_edges': 0, 'posed': 0, 'poses': 0}, 3: {'states': 27, 'cels': 4, 'cues': 6, 'clips': 19, 'countdowns': 0, 'actives': 0, 'rects': 0, 'contact': 0, 'costumes': 0, 'dressed': 0, 'spots': 0, 'accessories': 0, 'moved': 0, 'mix_places': 0, 'mix_shares': 0, 'mix_cells': 0, 'mix_edges': 0, 'posed': 0, 'poses': 0}, 4: {'states': 27, 'cels': 6, 'cues': 6, 'costumes': 0, 'dressed': 0, 'spots': 0, 'accessories': 0, 'moved': 0, 'mix_places': 0, 'mix_shares': 0, 'mix_cells': 0, 'mix_edges': 0, 'posed': 0, 'poses': 0}, 5: {'states': 29, 'cels': 6, 'cues': 6, 'spots': 0, 'accessories': 0, 'moved': 0, 'mix_places': 0, 'mix_shares': 0, 'mix_cells': 0, 'mix_edges': 0, 'posed': 0, 'poses': 0}, 6: {'states': 31, 'mix_places': 0, 'mix_shares': 0, 'mix_cells': 0, 'mix_edges': 0, 'posed': 0, 'poses': 0}}
ACCESSORY_NAME, ACCESSORY_PIN, ACCESSORY_SHOWN, ACCESSORY_SHOWN_END = 0, 1, 2, 3
ACCESSORY_CLIP, ACCESSORY_CLIP_END, ACCESSORY_FRAME, ACCESSORY_ANGLE = 4, 5, 6, 7
ACCESSORY_ORDER, ACCESSORY_SIZE, ACT_DO, ACT_TARGET = 8, 9, 0, 1
ACT_VALUE, ACT_SIZE, ACTIVE_START, ACTIVE_END = 2, 3, 0, 1
ACTIVE_WINDOW, ACTIVE_SIZE, AXIS_PARAMETER, AXIS_ROUND = 2, 3, 0, 1
AXIS_LOW, AXIS_HIGH, AXIS_STEP, AXIS_SIZE = 2, 3, 4, 5
BUFFER_PARAMETER, BUFFER_MOST, BUFFER_SIZE, CEL_FRAME = 0, 1, 2, 0
CEL_MIRRORED, CEL_TURNS, CEL_LOOKS, CEL_RECTS = 1, 2, 3, 4
CEL_RECTS_END, CEL_SPOTS, CEL_SPOTS_END, CEL_SIZE = 5, 6, 7, 8
CLIP_LENGTH, CLIP_BEGIN, CLIP_VANISHES, CLIP_PACE = 0, 1, 2, 3
CLIP_AT, CLIP_LOW, CLIP_HIGH, CLIP_CUES = 4, 5, 6, 7
CLIP_CUES_END, CLIP_WINDOWS, CLIP_WINDOWS_END, CLIP_PIECES = 8, 9, 10, 11
CLIP_PIECES_END, CLIP_CELS, CLIP_CELS_END, CLIP_RESTING = 12, 13, 14, 15
CLIP_GOES, CLIP_KEYS, CLIP_KEYS_END, CLIP_ACTIVES = 16, 17, 18, 19
CLIP_ACTIVES_END, CLIP_REACH, CLIP_STUN, CLIP_GUARD_STUN = 20, 21, 22, 23
CLIP_FREEZE, CLIP_STRENGTH, CLIP_PUSH, CLIP_SIZE = 24, 25, 26, 27
CONTACT_GUARDS, CONTACT_GUARDS_END, CONTACT_HIT, CONTACT_GUARDED = 0, 1, 2, 3
CONTACT_STUN, CONTACT_STRENGTH, CONTACT_LANDS, CONTACT_STOPPED = 4, 5, 6, 7
CONTACT_SIZE, COSTUME_PARAMETER, COSTUME_VALUE, COSTUME_DRESSED = 8, 0, 1, 2
COSTUME_DRESSED_END, COSTUME_SIZE, CUE_AT, CUE_MARK = 3, 4, 0, 1
CUE_ACTS, CUE_ACTS_END, CUE_SHAPES, CUE_SHAPES_END = 2, 3, 4, 5
CUE_CEL, CUE_SPOTS, CUE_SPOTS_END, CUE_SIZE = 6, 7, 8, 9
DRAWN_WIDE, DRAWN_HIGH, DRAWN_TILT, DRAWN_WHOLE = 0, 1, 2, 3
DRAWN_SQUASH, DRAWN_HOLDER, DRAWN_AMOUNT, DRAWN_SINCE = 4, 5, 6, 7
DRAWN_FREED, DRAWN_FROM_WIDE, DRAWN_FROM_HIGH, DRAWN_LEANING = 8, 9, 10, 11
DRAWN_FALL, DRAWN_LANDED, DRAWN_VELOCITY, DRAWN_UP = 12, 13, 14, 15
DRAWN_FACING, DRAWN_GROUNDED, DRAWN_FREEZE, DRAWN_SIZE = 16, 17, 18, 19
DRESSED_FRAME, DRESSED_BY, DRESSED_SIZE, DUE_ANY = 0, 1, 2, 0
DUE_FREEZE, DUE_PUSH, DUE_HIT, DUE_GUARDED = 1, 2, 3, 4
DUE_STUN, DUE_STRENGTH, DUE_LANDS, DUE_STOPPED = 5, 6, 7, 8
DUE_SIZE, FIELDS_MODE, FIELDS_PUSH, FIELDS_PUSH_UP = 9, 22, 23, 24
FIELDS_TRAVEL, FIELDS_TRAVEL_UP, FIELDS_TRAVELS, FIRST_PLAYER = 30, 31, 32, 3
FORMULA_PARAMETER, FORMULA_PROGRAM, FORMULA_PROGRAM_END, FORMULA_SIZE = 0, 1, 2, 3
FROM_TO, GUARD_BOX, HEAD_PARAMETERS, HEAD_STICKS = 4, 2, 0, 2
HEAD_STICKS_END, HEAD_LAYERS, HEAD_LAYERS_END, HEAD_STATES = 3, 4, 5, 6
HEAD_WAYS, HEAD_WAYS_END, HEAD_PLACES, HEAD_CLIPS = 8, 9, 18, 20
HEAD_CUES, HEAD_WINDOWS, HEAD_WINDOWS_END, HEAD_MEMORIES = 22, 24, 25, 32
HEAD_MEMORIES_END, HEAD_BUFFERS, HEAD_BUFFERS_END, HEAD_CLOCKS = 33, 34, 35, 36
HEAD_CLOCKS_END, HEAD_FORMULAS, HEAD_FORMULAS_END, HEAD_HOLDS = 37, 38, 39, 40
HEAD_HOLDS_END, HEAD_SQUASHES, HEAD_SQUASHES_END, HEAD_LEANS = 41, 44, 45, 46
HEAD_LEANS_END, HEAD_COUNTDOWNS, HEAD_COUNTDOWNS_END, HEAD_CONTACT = 47, 50, 51, 56
HEAD_CONTACT_END, HEAD_COSTUMES, HEAD_COSTUMES_END, HEAD_SPOTS = 57, 58, 59, 62
HEAD_SPOTS_END, HEAD_ACCESSORIES, HEAD_ACCESSORIES_END, HEAD_POSED = 63, 64, 65, 76
HEAD_POSED_END, HEAD_PULSES, HEAD_PULSES_END, HEAD_BUTTONS = 77, 80, 81, 82
HEAD_BUTTONS_END, HEAD_LAYER_COUNT, HEAD_COUNTERS, HEAD_AGES = 83, 84, 85, 86
HEAD_SINCE, HEAD_HELD, HEAD_RAISED, HEAD_LOCKS = 87, 88, 89, 90
HEAD_SPANS, HEAD_SPANS_END, HEAD_REMEMBERED, HEAD_HELD_NOW = 91, 92, 93, 94
HEAD_HELD_BEFORE, HEAD_CHANGED, HEAD_COUNTS, HEAD_PLACE = 95, 96, 97, 98
HEAD_KEPT, HEAD_STACK, HEAD_VALUES, HEAD_MOST_TOLD = 99, 100, 101, 102
HEAD_SIZE, HELD_FOR, HELD_SQUASH, HELD_LEAN = 104, 0, 1, 4
KEY_AT, KEY_SIZE, LAYER_START, LAYER_STATES = 0, 4, 0, 1
LAYER_STATES_END, LAYER_SIZE, LEAN_SPEEDING, LEAN_TURNING = 2, 3, 0, 1
LEAN_MOST, LEAN_SHARE, LEAN_DT, LEAN_SIGNED = 2, 3, 4, 5
LEAN_SIZE, LET_GO, MEMORY_WITHIN, MEMORY_TICKS = 6, 2, 0, 1
MEMORY_PROGRAM, MEMORY_PROGRAM_END, MEMORY_LASTS, MEMORY_SIZE = 2, 3, 4, 5
MIX_SHARE_SAMPLE, MIX_CELL_FIRST, MIX_PLACE_X, MIX_EDGE_FIRST = 0, 0, 0, 0
MIX_SHARE_SHARE, MIX_CELL_SECOND, MIX_PLACE_Y, MIX_EDGE_SECOND = 1, 1, 1, 1
MIX_PLACE_MIX_SHARES, MIX_SHARE_SIZE, MIX_CELL_THIRD, MIX_EDGE_SIZE = 2, 2, 2, 2
MIX_PLACE_MIX_SHARES_END, MIX_CELL_SIZE, MOVED_PARAMETER, MOVED_VALUE = 3, 3, 0, 1
MOVED_SIZE, NAMED_PARAMETERS, NAMED_WORDS, NAMED_LAYERS = 2, 0, 1, 2
NAMED_STATES, NAMED_CLIPS, NAMED_SPANS, NAMED_LOCKS = 3, 4, 7, 8
NOW_TICK, NOW_LOCKED, NOW_FREEZE, OP_NUMBER = 0, 1, 2, 0
OP_PARAMETER, OP_PRESSED, OP_RELEASED, OP_STAY = 1, 2, 3, 4
OP_SINCE, OP_BUFFERED, OP_SPAN, OP_MEMORY = 5, 6, 9, 11
OP_NOT, OP_COMPARE, OP_COMPUTE, OP_SKIP_FALSE = 12, 13, 14, 15
OPERATOR_COUNT, PARAMETER_KIND, PARAMETER_OWNER, PARAMETER_FIRST = 10, 0, 1, 2
PARAMETER_LOW, PARAMETER_HIGH, PARAMETER_SIZE, PART_POSE_PART = 3, 4, 5, 0
PART_POSE_X, PART_POSE_Y, PART_POSE_TURN, PART_POSE_WIDE = 1, 2, 3, 4
PART_POSE_HIGH, PART_POSE_SIZE, PARTED_LAYER, PARTED_PART = 5, 6, 0, 1
PARTED_X, PARTED_Y, PARTED_TURN, PARTED_WIDE = 2, 3, 4, 5
PARTED_HIGH, PARTED_SIZE, PIECE_START, PIECE_CEL = 6, 7, 0, 1
PIECE_SIZE, PINNED_NAME, PINNED_LAYER, PINNED_BEHIND = 2, 0, 1, 2
PINNED_FRAME, PINNED_MIRRORED, PINNED_X, PINNED_Y = 3, 4, 5, 6
PINNED_TURN, PINNED_SIZE, PLACED_NUMBER, PLACED_PIN = 7, 8, 0, 1
PLACED_X, PLACED_Y, PLACED_ANGLE, PLACED_BEHIND = 2, 3, 4, 5
PLACED_SIZE, PLAYER_STATE, PLAYER_STAY, PLAYER_HEAD = 6, 0, 1, 2
PLAYER_PICK, PLAYER_OVER, PLAYER_FADE_STATE, PLAYER_FADE_PICK = 3, 4, 5, 6
PLAYER_FADE_HEAD, PLAYER_FADE_LEFT, PLAYER_FADE_BLOCKS, PLAYER_SIZE = 7, 8, 9, 10
POSED_FRAME, POSED_FIGURE, POSED_POSES, POSED_POSES_END = 0, 1, 2, 3
POSED_SIZE, PULSE_SIZE, PUSH_UP, RECT_KIND = 4, 2, 8, 0
RECT_LEFT, RECT_BOTTOM, RECT_WIDTH, RECT_HEIGHT = 1, 2, 3, 4
RECT_SIZE, ROW_OR_NONE, SAMPLE_CLIP, SAMPLE_PHASE = 5, 6, 0, 1
SAMPLE_PLACES, SAMPLE_MIRRORED, SAMPLE_SIZE, SECTION_COUNT = 2, 3, 4, 40
SEEN_WITHIN, SHAPE_DO, SHAPE_WHICH, SHAPE_SIZE = 1, 0, 1, 2
SIGN_COUNT, SPOT_PIN, SPOT_X, SPOT_Y = 6, 0, 1, 2
SPOT_ANGLE, SPOT_BEHIND, SPOT_SIZE, SQUASH_HIGH = 3, 4, 5, 0
SQUASH_WIDE, SQUASH_OVER, SQUASH_HOLD, SQUASH_BACK = 1, 2, 3, 4
SQUASH_EVERY, SQUASH_BY_FALL, SQUASH_RECENT, SQUASH_WHOLE = 5, 6, 7, 8
SQUASH_SIZE, STATE_WAYS, STATE_WAYS_END, STATE_ENTRY = 9, 0, 1, 2
STATE_ENTRY_END, STATE_LEAVE, STATE_LEAVE_END, STATE_SAMPLES = 3, 4, 5, 6
STATE_SAMPLES_END, STATE_AXES, STATE_AXES_END, STATE_BLENDS = 7, 8, 9, 10
STATE_STICKY, STATE_CLOCK, STATE_STILL, STATE_CLEAR = 11, 12, 13, 14
STATE_TURNED, STATE_MODE, STATE_BACKWARD, STATE_FACE = 15, 16, 17, 18
STATE_CAP, STATE_FALL, STATE_WIDE, STATE_HIGH = 19, 20, 21, 22
STATE_SHAPES, STATE_SHAPES_END, STATE_LAST_SHAPES, STATE_LAST_SHAPES_END = 23, 24, 25, 26
STATE_WORN, STATE_WORN_END, STATE_MOVED, STATE_MOVED_END = 27, 28, 29, 30
STATE_MIX_CELLS, STATE_MIX_CELLS_END, STATE_MIX_EDGES, STATE_MIX_EDGES_END = 31, 32, 33, 34
STATE_SIZE, STEP_OP, STEP_A, STEP_B = 35, 0, 1, 2
STEP_VALUE, STEP_SIZE, STICK_PUSH, STICK_BEARING = 3, 6, 2, 3
STICK_SIZE, STRIKE_BOX, TOLD_SIZE, USE_BUFFER = 4, 0, 6, 0
USE_TICKS, USE_SIZE, VULNERABLE_BOX, WAY_NUMBER = 1, 2, 1, 0
WAY_TARGET, WAY_PROGRAM, WAY_PROGRAM_END, WAY_FADE = 1, 2, 3, 4
WAY_BLOCKS, WAY_KEEP, WAY_USES, WAY_USES_END = 5, 6, 7, 8
WAY_SHAPES, WAY_SHAPES_END, WAY_SIZE, WINDOW_START = 9, 10, 11, 0
WINDOW_END, WINDOW_HOLD, WINDOW_LOCK, WINDOW_SPAN = 1, 2, 3, 4
WINDOW_SIZE = 5
BEARING, CHOICE, WHOLE, TICK = 2, 4, 1, 65536
AT, EASE, IN, OUT = 0, 3, 1, 2
BOTH, TOLD, LEANED, WITHIN = 3, 2, 3, 11
FINITE, INTEGER, EXACT, TIME = 1, 2, 9007199254740992, 3
NEVER, ROW, ADDRESS, NAME = 1152921504606846976, 5, 7, 8
FIRST, END, RAISE, PARAMETERS = 9, 10, 2, 0
LOCK, UNLOCK, FREEZE, LONGEST = 3, 4, 5, 2147483648
MOST_MARKS, CUES, PIECES, KEYS = 10000, 11, 13, 15
SAMPLES, CLIPS, PLACES, SQUASHES = 7, 10, 9, 22
LEANS, SHAPES, SQUASHED, CLOCKS = 23, 24, 0, 18
BUFFERS, MEMORIES, LAYERS, PROGRAMS = 17, 16, 2, 21
AMOUNT, TRUTH, EITHER, WAYS = 1, 2, 0, 4
FORMULAS, CONTACTS, ACCESSORIES, STATES = 19, 28, 32, 3
AXES, ACTS, PULSE, GRAPH = 8, 6, 5, 3
BUTTON, PLAYED, STICKS, SET = 6, 35, 1, 0
ADD, MODE, PUSH, X = 1, 6, 7, 1
Y, VERSION = 2, 7
RADIAN, FARTHEST, FASTEST = 0.017453292519943295, 1e+308, 1000.0
SERIES = (1.397458036904447, -1.4691225516174955, 1.5485345814346574, -1.6370222718023522, 1.7362357428206765, -1.8482509520349137, 1.9757165349338732, -2.1220659078919377, 2.291831180523293, -2.4911208483948837, 2.72837045300392, -3.0155673427938066, 3.3703399713577835, -3.819718634205488, 4.407367654852487, -5.208707228462029, 6.366197723675814, -8.18511135901176, 11.459155902616464, -19.098593171027442, 57.29577951308232)
SINES = (-8.22063524662433e-18, 2.8114572543455206e-15, -7.647163731819816e-13, 1.6059043836821613e-10, -2.505210838544172e-08, 2.7557319223985893e-06, -0.0001984126984126984, 0.008333333333333333, -0.16666666666666666, 1.0)
COSINES = (-1.5619206968586225e-16, 4.779477332387385e-14, -1.1470745597729725e-11, 2.08767569878681e-09, -2.755731922398589e-07, 2.48015873015873e-05, -0.001388888888888889, 0.041666666666666664, -0.5, 1.0)
WIDTHS = (5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6)
SIZES = (5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 5, 2, 1, 3, 1, 6, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6)
RULE = (4, 4, 1, 1, 1, 5, 5, 5, 5, 5, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 4, 1, 6, 4, 4, 4, 4, 4, 1, 1, 1, 1, 1, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 2, 5, 9, 10, 3, 4, 4, 9, 10, 9, 10, 5, 3, 4, 2, 1, 7, 3, 3, 4, 6, 4, 1, 1, 1, 0, 3, 2, 4, 6, 1, 1, 1, 9, 10, 9, 10, 9, 10, 9, 10, 2, 4, 9, 10, 9, 10, 4, 3, 3, 3, 1, 1, 3, 8, 9, 10, 9, 10, 3, 9, 10, 2, 2, 6, 4, 8, 3, 3, 8, 4, 4, 4, 9, 10, 9, 10, 1, 1, 1, 4, 4, 3, 9, 10, 11, 5, 3, 3, 5, 9, 10, 5, 4, 2, 2, 1, 11, 11, 1, 0, 1, 0, 1, 1, 1, 1, 4, 1, 1, 1, 1, 1, 4, 4, 2, 5, 2, 2, 3, 4, 1, 1, 1, 1, 9, 10, 6, 6, 6, 6, 6, 6, 6, 1, 9, 10, 8, 8, 8, 1, 1, 1, 4, 8, 8, 9, 10, 9, 10, 8, 1, 4, 5, 1, 1, 1, 9, 10, 3, 1, 7, 7, 7, 7, 7, 8, 3, 9, 10, 8, 1, 1, 1, 1, 1)
ABOUT = (6, 4, 0, 0, 0, 0, 0, 0, 0, 3, 3, 0, 4, 0, 6, 0, 6, 0, 7, 0, 8, 0, 1, 0, 18, 1, 1, 1, 4, 1, 0, 0, 0, 0, 0, 24, 0, 24, 0, 29, 0, 33, 0, 36, 0, 37, 0, 0, 3, 21, 0, 0, 1, 1, 5, 0, 24, 0, 17, 0, 8, 0, 0, 10, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 11, 0, 12, 0, 13, 0, 14, 0, 0, 7, 15, 0, 26, 0, 1, 0, 0, 0, 0, 0, 0, 6, 6, 0, 24, 0, 0, 31, 0, 0, 0, 0, 1, 7, 0, 0, 5, 1, 3, 2, 27, 0, 31, 0, 0, 0, 0, 3, 1, 0, 21, 0, 0, 0, 0, 0, 0, 21, 0, 0, 16, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 4, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 21, 0, 0, 0, 0, 0, 0, 0, 0, 0, 30, 0, 5, 5, 1, 0, 0, 0, 1, 1, 1, 21, 0, 10, 0, 5, 0, 2, 0, 0, 0, 0, 35, 0, 0, 0, 34, 34, 34, 34, 34, 5, 0, 39, 0, 1, 0, 0, 0, 0, 0)
TAKES = (2, 2, 2, 2, 1, 1, 0, 0, 2, 1)
REAL = (0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1)


def bearing_of(x: float, y: float) -> float:
    """The bearing of a vector with y up; exact for the eight main directions, within 1e-12 degrees else; 0 for no vector."""
    wide, high = (abs(x), abs(y))
    if not (wide > 0.0 or high > 0.0):
        return 0.0
    share = wide / high if wide <= high else high / wide
    is_near = share > 0.41421356237309503
    rest = (share - 1.0) / (share + 1.0) if is_near else share
    square, total = (rest * rest, 0.0)
    for factor in SERIES:
        total = total * square + factor
    angle = total * rest
    if is_near:
        angle = 45.0 + angle
    if wide > high:
        angle = 90.0 - angle
    if y < 0.0:
        angle = 180.0 - angle
    if x < 0.0:
        angle = 360.0 - angle
    return angle if angle < 360.0 else 0.0


def push_of(x: float, y: float) -> float:
    """How far a stick is pushed, from 0 to 1."""
    length = math.sqrt(x * x + y * y)
    return 1.0 if 1.0 < length else length


def state_of(m: Whole, z: Whole, layer: int) -> int:
    """Where a layer's active state begins."""
    return m[HEAD_STATES] + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STATE] * STATE_SIZE


def clip_of(m: Whole, z: Whole, layer: int) -> int:
    """Where the clip begins that a layer shows; -1 when it shows none."""
    state = state_of(m, z, layer)
    first = m[state + STATE_SAMPLES]
    if first == m[state + STATE_SAMPLES_END]:
        return -1
    return m[first + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK] * SAMPLE_SIZE + SAMPLE_CLIP]


def is_done(m: Whole, z: Whole, layer: int) -> bool:
    """Whether a layer's clip is done: it repeats and has wrapped since entry, or stands at its length."""
    clip = clip_of(m, z, layer)
    if clip < 0:
        return False
    player = FIRST_PLAYER + layer * PLAYER_SIZE
    if m[clip + CLIP_BEGIN] < 0:
        return z[player + PLAYER_HEAD] >= m[clip + CLIP_LENGTH]
    return z[player + PLAYER_OVER] != 0


def is_at(m: Whole, z: Whole, layer: int, share: float) -> bool:
    """Whether a layer's playhead is at or past a share of its clip."""
    clip = clip_of(m, z, layer)
    return clip >= 0 and z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD] >= share * m[clip + CLIP_LENGTH]


def reduced(value: float) -> float:
    """A number of degrees as a bearing, from 0 to below 360; what is no finite number is 0."""
    if not -1000000000000000.0 < value < 1000000000000000.0:
        return 0.0
    turned = value - 360.0 * math.floor(value / 360.0)
    return turned if 0.0 < turned < 360.0 else 0.0


def fitted(m: Whole, r: Real, parameter: int, value: float) -> float:
    """A value brought into a parameter's kind and range; a choice stays what it is."""
    one = m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE
    kind = m[one + PARAMETER_KIND]
    if kind > BEARING:
        if kind == CHOICE:
            return value
        return 1.0 if value != 0.0 else 0.0
    if kind == BEARING:
        return reduced(value)
    if r[one + PARAMETER_LOW] > value:
        value = r[one + PARAMETER_LOW]
    if r[one + PARAMETER_HIGH] < value:
        value = r[one + PARAMETER_HIGH]
    return rounded(value) + 0.0 if kind == WHOLE else value


def pace_of(m: Whole, r: Real, v: Real, clip: int) -> int:
    """The playhead units that one tick adds."""
    if m[clip + CLIP_PACE] < 0:
        return TICK
    rate = v[m[clip + CLIP_PACE]] / r[clip + CLIP_AT]
    if not rate >= r[clip + CLIP_LOW]:
        rate = r[clip + CLIP_LOW]
    elif rate > r[clip + CLIP_HIGH]:
        rate = r[clip + CLIP_HIGH]
    return math.floor(rate * TICK + 0.5)


def folded(m: Whole, clip: int, head: int) -> int:
    """A playhead brought into its clip: past the length it is somewhere in what repeats, or at the length."""
    length, back = (m[clip + CLIP_LENGTH], m[clip + CLIP_BEGIN])
    if head < length:
        return head
    return length if back < 0 else back + (head - back) % (length - back)


def cel_at(m: Whole, clip: int, head: int) -> int:
    """The number of the cel a clip shows at a playhead; -1: none."""
    piece, end, length = (m[clip + CLIP_PIECES], m[clip + CLIP_PIECES_END], m[clip + CLIP_LENGTH])
    if piece == end or (m[clip + CLIP_VANISHES] != 0 and head >= length):
        return -1
    head = folded(m, clip, head)
    head = length - 1 if length - 1 < head else head
    while piece + PIECE_SIZE < end and m[piece + PIECE_SIZE + PIECE_START] <= head:
        piece += PIECE_SIZE
    return m[piece + PIECE_CEL]


def cel_shown(m: Whole, r: Real, v: Real, clip: int, head: int) -> int:
    """The number of the cel a clip shows at a playhead, its resting one while it stands; -1: none."""
    if m[clip + CLIP_RESTING] >= 0 and pace_of(m, r, v, clip) == 0:
        return m[clip + CLIP_RESTING]
    return cel_at(m, clip, head)


def cel_of(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> int:
    """The number of the cel a layer shows, counted from its clip's first; -1: none."""
    clip = clip_of(m, z, layer)
    return cel_shown(m, r, v, clip, z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]) if clip >= 0 else -1


def cel_row(m: Whole, z: Whole, layer: int, cel: int) -> int:
    """Where a cel of the clip begins that a layer shows."""
    return m[clip_of(m, z, layer) + CLIP_CELS] + cel * CEL_SIZE


def requested(m: Whole, r: Real, z: Whole, what: int) -> float:
    """How fast to turn, to be at most or to fall, or how wide or high to be, as what (a column of states) says; 0: nothing is
    asked."""
    for layer in range(m[HEAD_LAYER_COUNT]):
        asked = r[state_of(m, z, layer) + what]
        if asked > 0.0:
            return asked
    return 0.0


def requested_mode(m: Whole, z: Whole) -> int:
    """How to move, as the number of a mode; 0: nothing is asked."""
    for layer in range(m[HEAD_LAYER_COUNT]):
        mode = m[state_of(m, z, layer) + STATE_MODE]
        if mode != 0:
            return mode
    return 0


def goes_backward(m: Whole, z: Whole) -> bool:
    """Whether the body may move against its facing."""
    for layer in range(m[HEAD_LAYER_COUNT]):
        if m[state_of(m, z, layer) + STATE_BACKWARD] != 0:
            return True
    return False


def lowest_seen(m: Whole, r: Real, z: Whole, v: Real) -> int:
    """The layer to begin to draw with: from it on each that shows a cel is drawn, the last in front; -1: nothing is shown."""
    seen = -1
    for back in range(m[HEAD_LAYER_COUNT]):
        layer = m[HEAD_LAYER_COUNT] - 1 - back
        if cel_of(m, r, z, v, layer) >= 0:
            seen = layer
            if m[state_of(m, z, layer) + STATE_CLEAR] == 0:
                return seen
    return seen


def turns_round(m: Whole, state: int, row: int, left: bool) -> bool:
    """Whether a state turns a cel (its row) to where the figure looks, which may be left."""
    looks = m[row + CEL_LOOKS]
    if looks == 0:
        return False
    if m[state + STATE_TURNED] == 0:
        return looks == 2
    return left != (looks == 2)


def is_flipped(m: Whole, state: int, sample: int, row: int, left: bool) -> bool:
    """Whether a cel (its row) of a state's sample is drawn the other way round."""
    mirrored = m[row + CEL_MIRRORED] != m[sample + SAMPLE_MIRRORED]
    return mirrored != turns_round(m, state, row, left)


def is_mirrored(m: Whole, z: Whole, layer: int, cel: int, left: bool) -> bool:
    """Whether a cel of the clip that a layer shows is drawn the other way round."""
    sample = m[state_of(m, z, layer) + STATE_SAMPLES] + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK] * SAMPLE_SIZE
    return is_flipped(m, state_of(m, z, layer), sample, cel_row(m, z, layer, cel), left)


def is_turned(m: Whole, z: Whole, layer: int, cel: int, left: bool) -> bool:
    """Whether a cel of the clip that a layer shows is turned to where the figure looks, which may be left."""
    return turns_round(m, state_of(m, z, layer), cel_row(m, z, layer, cel), left)


def quarter_turns(m: Whole, z: Whole, layer: int, cel: int, left: bool) -> int:
    """By how many quarter turns clockwise it is turned, after it has been mirrored."""
    turns = m[cel_row(m, z, layer, cel) + CEL_TURNS]
    return (4 - turns) % 4 if is_turned(m, z, layer, cel, left) else turns


def worn(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> int:
    """The costume that a layer wears; -1: none."""
    state = state_of(m, z, layer)
    if m[state + STATE_WORN] < m[state + STATE_WORN_END]:
        return m[state + STATE_WORN]
    for costume in range(m[HEAD_COSTUMES], m[HEAD_COSTUMES_END], COSTUME_SIZE):
        parameter = m[costume + COSTUME_PARAMETER]
        if parameter >= 0 and v[parameter] == r[costume + COSTUME_VALUE]:
            return costume
    return -1


def dressed(m: Whole, r: Real, z: Whole, v: Real, layer: int, frame: int) -> int:
    """The frame that is drawn in place of one in the costume that a layer wears."""
    costume = worn(m, r, z, v, layer)
    if costume >= 0:
        for row in range(m[costume + COSTUME_DRESSED], m[costume + COSTUME_DRESSED_END], DRESSED_SIZE):
            if m[row + DRESSED_FRAME] == frame:
                return m[row + DRESSED_BY]
    return frame


def frame_of(m: Whole, r: Real, z: Whole, v: Real, layer: int, cel: int) -> int:
    """The frame that a cel of the clip which a layer shows is drawn as: its own, or that of the costume worn."""
    return dressed(m, r, z, v, layer, m[cel_row(m, z, layer, cel) + CEL_FRAME])


def place(r: Real, begin: int, end: int, head: int, which: int) -> float:
    """Where a path laid out in r is at a playhead, ahead (X) or up (Y)."""
    key = begin
    while key + KEY_SIZE < end and r[key + KEY_SIZE + AT] <= head:
        key += KEY_SIZE
    after = key + KEY_SIZE
    if after >= end or head <= r[key + AT]:
        return r[key + which]
    t = (head - r[key + AT]) / (r[after + AT] - r[key + AT])
    ease = int(r[after + EASE])
    if ease == IN:
        t = t * t
    elif ease == OUT:
        t = t * (2.0 - t)
    elif ease == BOTH:
        t = t * t * (3.0 - 2.0 * t)
    return r[key + which] + (r[after + which] - r[key + which]) * t


def aside(m: Whole, r: Real, z: Whole, layer: int, which: int) -> float:
    """How far a path that moves only the drawing has taken it, ahead (1) or up (2)."""
    clip = clip_of(m, z, layer)
    if clip < 0 or m[clip + CLIP_GOES] != 0 or m[clip + CLIP_KEYS] == m[clip + CLIP_KEYS_END]:
        return 0.0
    head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]
    return place(r, m[clip + CLIP_KEYS], m[clip + CLIP_KEYS_END], head, which)


def across(bearing: float) -> float:
    """How far right a step of length 1 along a bearing goes; exact along the axes."""
    folded = bearing if bearing <= 90.0 else 180.0 - bearing if bearing <= 270.0 else bearing - 360.0
    if folded == 90.0:
        return 1.0
    if folded == -90.0:
        return -1.0
    flat = folded if -45.0 <= folded <= 45.0 else 90.0 - folded if folded > 0.0 else -90.0 - folded
    angle = flat * RADIAN
    square, total = (angle * angle, 0.0)
    if flat == folded:
        for factor in SINES:
            total = total * square + factor
        return total * angle
    for factor in COSINES:
        total = total * square + factor
    return total if folded > 0.0 else -total


def along(bearing: float) -> float:
    """How far up a step of length 1 along a bearing goes; exact along the axes."""
    shifted = bearing + 90.0
    return across(shifted if shifted < 360.0 else shifted - 360.0)


def place_spot(r: Real, spot: int, mirrored: bool, turns: int, wide: float, high: float, tilt: float, b: Real, at: int) -> None:
    """Write from place at on where a pin point comes to lie: across, up, and a bearing."""
    x, y, angle = (r[spot + SPOT_X], r[spot + SPOT_Y], r[spot + SPOT_ANGLE])
    if mirrored:
        x = 0.0 - x
        angle = reduced(360.0 - angle)
    for again in range(turns):
        back = 0.0 - x
        x = y
        y = back
        angle = reduced(angle + 90.0)
    if wide != high:
        angle = bearing_of(across(angle) * wide, along(angle) * high)
    x = x * wide
    y = y * high
    if tilt != 0.0:
        leaned = reduced(tilt)
        right, up = (across(leaned), along(leaned))
        to = x * up + y * right
        y = y * up - x * right
        x = to
        angle = reduced(angle + tilt)
    b[at] = x
    b[at + 1] = y
    b[at + 2] = angle


def list_pins(m: Whole, r: Real, z: Whole, v: Real, left: bool, wide: float, high: float, tilt: float, b: Real) -> int:
    """Write down the pin points of the layers that are seen, from the back to the front, in rows of b; how many there are."""
    count, lowest = (0, lowest_seen(m, r, z, v))
    if lowest < 0 or m[HEAD_SPOTS] == m[HEAD_SPOTS_END]:
        return 0
    for layer in range(lowest, m[HEAD_LAYER_COUNT]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        row, mirrored = (cel_row(m, z, layer, cel), is_mirrored(m, z, layer, cel, left))
        turns = quarter_turns(m, z, layer, cel, left)
        for spot in range(m[row + CEL_SPOTS], m[row + CEL_SPOTS_END], SPOT_SIZE):
            at = count * PLACED_SIZE
            b[at + PLACED_NUMBER] = float(layer)
            b[at + PLACED_PIN] = float(m[spot + SPOT_PIN])
            place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED_X)
            b[at + PLACED_BEHIND] = float(m[spot + SPOT_BEHIND])
            count += 1
    return count


def pinned_at(m: Whole, row: int, accessory: int) -> int:
    """The pin point of a cel (its row) to which an accessory is pinned; -1: none."""
    for spot in range(m[row + CEL_SPOTS], m[row + CEL_SPOTS_END], SPOT_SIZE):
        if m[spot + SPOT_PIN] == m[accessory + ACCESSORY_PIN]:
            return spot
    return -1


def lies_behind(m: Whole, accessory: int, spot: int) -> bool:
    """Whether an accessory is drawn behind the figure at a pin point."""
    order = m[accessory + ACCESSORY_ORDER]
    return order == 2 or (order == 0 and m[spot + SPOT_BEHIND] != 0)


def accessory_cel(m: Whole, z: Whole, accessory: int, layer: int) -> int:
    """The row of the cel that an accessory shows beside a layer, of one that shows a clip; -1: none."""
    clip = m[accessory + ACCESSORY_CLIP]
    stay = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STAY]
    cel = cel_at(m, clip, folded(m, clip, stay * TICK))
    return m[clip + CLIP_CELS] + cel * CEL_SIZE if cel >= 0 else -1


def list_pinned(m: Whole, r: Real, z: Whole, v: Real, left: bool, wide: float, high: float, tilt: float, b: Real) -> int:
    """Write down the accessories that are seen, from the back to the front, in rows of b; how many there are."""
    count, lowest = (0, lowest_seen(m, r, z, v))
    if lowest < 0 or m[HEAD_ACCESSORIES] == m[HEAD_ACCESSORIES_END]:
        return 0
    for layer in range(lowest, m[HEAD_LAYER_COUNT]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        row, mirrored = (cel_row(m, z, layer, cel), is_mirrored(m, z, layer, cel, left))
        turns = quarter_turns(m, z, layer, cel, left)
        for before in range(2):
            for accessory in range(m[HEAD_ACCESSORIES], m[HEAD_ACCESSORIES_END], ACCESSORY_SIZE):
                spot = pinned_at(m, row, accessory)
                if spot < 0 or lies_behind(m, accessory, spot) == (before == 1):
                    continue
                if not m[accessory + ACCESSORY_SHOWN](m, z, v):
                    continue
                shown, flips, quarters = (m[accessory + ACCESSORY_FRAME], False, 0)
                if m[accessory + ACCESSORY_CLIP] < m[accessory + ACCESSORY_CLIP_END]:
                    own = accessory_cel(m, z, accessory, layer)
                    if own < 0:
                        continue
                    shown, flips, quarters = (m[own + CEL_FRAME], m[own + CEL_MIRRORED] != 0, m[own + CEL_TURNS])
                at = count * PINNED_SIZE
                place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + PINNED_X)
                turn = reduced(r[spot + SPOT_ANGLE] - r[accessory + ACCESSORY_ANGLE]) + 90.0 * quarters
                b[at + PINNED_TURN] = reduced(90.0 * turns + (0.0 - turn if mirrored else turn))
                b[at + PINNED_NAME] = float(m[accessory + ACCESSORY_NAME])
                b[at + PINNED_LAYER] = float(layer)
                b[at + PINNED_BEHIND] = 1.0 - float(before)
                b[at + PINNED_FRAME] = float(dressed(m, r, z, v, layer, shown))
                b[at + PINNED_MIRRORED] = 1.0 if mirrored != flips else 0.0
                count += 1
    return count


def list_places(m: Whole, r: Real, k: Whole, left: bool, wide: float, high: float, tilt: float, b: Real) -> int:
    """Write down where the marks that fired and name pin points did, in rows of b; how many there are."""
    count = 0
    for mark in range(k[1] if k[1] < k[0] else k[0]):
        told = TOLD + mark * TOLD_SIZE
        cue = m[HEAD_CUES] + k[told + 3] * CUE_SIZE
        state = m[HEAD_STATES] + k[told + 4] * STATE_SIZE
        sample = m[state + STATE_SAMPLES] + k[told + 5] * SAMPLE_SIZE
        row = m[m[sample + SAMPLE_CLIP] + CLIP_CELS] + m[cue + CUE_CEL] * CEL_SIZE
        for spot in range(m[cue + CUE_SPOTS], m[cue + CUE_SPOTS_END], SPOT_SIZE):
            mirrored, turns = (is_flipped(m, state, sample, row, left), m[row + CEL_TURNS])
            if turns_round(m, state, row, left):
                turns = (4 - turns) % 4
            at = count * PLACED_SIZE
            b[at + PLACED_NUMBER] = float(mark)
            b[at + PLACED_PIN] = float(m[spot + SPOT_PIN])
            place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED_X)
            b[at + PLACED_BEHIND] = float(m[spot + SPOT_BEHIND])
            count += 1
    return count


def posed_row(m: Whole, frame: int) -> int:
    """The row that says how a frame moves parts; -1: it is not drawn from any."""
    low, high = (m[HEAD_POSED], m[HEAD_POSED_END])
    while low < high:
        middle = low + (high - low) // POSED_SIZE // 2 * POSED_SIZE
        if m[middle + POSED_FRAME] < frame:
            low = middle + POSED_SIZE
        else:
            high = middle
    return low if low < m[HEAD_POSED_END] and m[low + POSED_FRAME] == frame else -1


def samples_each(m: Whole, state: int) -> int:
    """How many samples a state has for each way of moving."""
    ways = 1 + (m[state + STATE_MOVED_END] - m[state + STATE_MOVED]) // MOVED_SIZE
    return (m[state + STATE_SAMPLES_END] - m[state + STATE_SAMPLES]) // SAMPLE_SIZE // ways


def value_on(m: Whole, r: Real, v: Real, axis: int) -> float:
    """The value an axis reads, brought into its range."""
    value = v[m[axis + AXIS_PARAMETER]] if m[axis + AXIS_PARAMETER] >= 0 else 0.0
    if m[axis + AXIS_ROUND] != 0:
        return value
    if r[axis + AXIS_LOW] > value:
        value = r[axis + AXIS_LOW]
    if r[axis + AXIS_HIGH] < value:
        value = r[axis + AXIS_HIGH]
    return value


def give_share(m: Whole, r: Real, place: int, share: float, each: int, w: Real) -> None:
    """Add the share of a place to the samples that stand there."""
    for row in range(m[place + MIX_PLACE_MIX_SHARES], m[place + MIX_PLACE_MIX_SHARES_END], MIX_SHARE_SIZE):
        number = m[row + MIX_SHARE_SAMPLE]
        if number < each:
            w[number] = w[number] + share * r[row + MIX_SHARE_SHARE]


def weigh(m: Whole, r: Real, v: Real, state: int, w: Real) -> None:
    """Write down how much of every sample of a state's blend space is in the mix (:mod:`leanstep.core.blends.mixing`)."""
    each = samples_each(m, state)
    for number in range(each):
        w[number] = 0.0
    axis, x, y = (m[state + STATE_AXES], 0.0, 0.0)
    if axis < m[state + STATE_AXES_END]:
        x = value_on(m, r, v, axis) / r[axis + AXIS_STEP]
        axis += AXIS_SIZE
    if axis < m[state + STATE_AXES_END]:
        y = value_on(m, r, v, axis) / r[axis + AXIS_STEP]
    for cell in range(m[state + STATE_MIX_CELLS], m[state + STATE_MIX_CELLS_END], MIX_CELL_SIZE):
        a, b, c = (m[cell + MIX_CELL_FIRST], m[cell + MIX_CELL_SECOND], m[cell + MIX_CELL_THIRD])
        ax, ay = (r[a + MIX_PLACE_X], r[a + MIX_PLACE_Y])
        wide, high = (r[b + MIX_PLACE_X] - ax, r[b + MIX_PLACE_Y] - ay)
        far_wide, far_high = (r[c + MIX_PLACE_X] - ax, r[c + MIX_PLACE_Y] - ay)
        whole = wide * far_high - high * far_wide
        if whole == 0.0:
            continue
        second = ((x - ax) * far_high - (y - ay) * far_wide) / whole
        third = (wide * (y - ay) - high * (x - ax)) / whole
        first = 1.0 - second - third
        if first >= 0.0 and second >= 0.0 and (third >= 0.0):
            give_share(m, r, a, first, each, w)
            give_share(m, r, b, second, each, w)
            give_share(m, r, c, third, each, w)
            return
    nearest, one, other, along = (FARTHEST, -1, -1, 0.0)
    for edge in range(m[state + STATE_MIX_EDGES], m[state + STATE_MIX_EDGES_END], MIX_EDGE_SIZE):
        a, b = (m[edge + MIX_EDGE_FIRST], m[edge + MIX_EDGE_SECOND])
        ax, ay = (r[a + MIX_PLACE_X], r[a + MIX_PLACE_Y])
        wide, high = (r[b + MIX_PLACE_X] - ax, r[b + MIX_PLACE_Y] - ay)
        length, share = (wide * wide + high * high, 0.0)
        if length != 0.0:
            share = ((x - ax) * wide + (y - ay) * high) / length
            share = 0.0 if share < 0.0 else 1.0 if share > 1.0 else share
        right, up = (x - ax - share * wide, y - ay - share * high)
        away = right * right + up * up
        if one < 0 or away < nearest:
            nearest, one, other, along = (away, a, b, share)
    give_share(m, r, one, 1.0 - along, each, w)
    give_share(m, r, other, along, each, w)


def taken_over(m: Whole, state: int, before: int, pick: int, head: int) -> int:
    """The playhead when a state's pick changes: at the same share of the other clip, counted from where each cycle begins."""
    old = m[state + STATE_SAMPLES] + before * SAMPLE_SIZE
    shown = m[state + STATE_SAMPLES] + pick * SAMPLE_SIZE
    clip = m[shown + SAMPLE_CLIP]
    length = m[clip + CLIP_LENGTH]
    head = (head - m[old + SAMPLE_PHASE]) * length // m[m[old + SAMPLE_CLIP] + CLIP_LENGTH] + m[shown + SAMPLE_PHASE]
    if head < 0:
        head = head + length if m[clip + CLIP_BEGIN] >= 0 else 0
    return folded(m, clip, head)


def cel_if_picked(m: Whole, r: Real, z: Whole, v: Real, layer: int, number: int) -> int:
    """The row of the cel that a layer would show if a sample of its state were picked now; -1: none."""
    player, state = (FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer))
    pick, head = (z[player + PLAYER_PICK], z[player + PLAYER_HEAD])
    if number != pick:
        head = taken_over(m, state, pick, number, head)
    clip = m[m[state + STATE_SAMPLES] + number * SAMPLE_SIZE + SAMPLE_CLIP]
    cel = cel_shown(m, r, v, clip, head)
    return m[clip + CLIP_CELS] + cel * CEL_SIZE if cel >= 0 else -1


def mixes_parts(m: Whole, r: Real, z: Whole, v: Real, layer: int, posed: int, left: bool, w: Real) -> bool:
    """Whether what a layer shows mixes: all samples that count show frames drawn from the parts of the one that is picked (its row
    is posed), the same way round and not turned. How much of each there is and where its poses begin are written in w."""
    state = state_of(m, z, layer)
    if m[state + STATE_MIX_EDGES] == m[state + STATE_MIX_EDGES_END]:
        return False
    each, pick = (samples_each(m, state), z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK])
    cel = cel_of(m, r, z, v, layer)
    mirrored, way = (is_mirrored(m, z, layer, cel, left), pick // each)
    if m[cel_row(m, z, layer, cel) + CEL_TURNS] != 0:
        return False
    weigh(m, r, v, state, w)
    for number in range(each):
        if w[number] > 0.0:
            sample = m[state + STATE_SAMPLES] + (way * each + number) * SAMPLE_SIZE
            row = cel_if_picked(m, r, z, v, layer, way * each + number)
            if row < 0 or m[row + CEL_TURNS] != 0 or is_flipped(m, state, sample, row, left) != mirrored:
                return False
            other = posed_row(m, dressed(m, r, z, v, layer, m[row + CEL_FRAME]))
            if other < 0 or m[other + POSED_FIGURE] != m[posed + POSED_FIGURE]:
                return False
            parts = m[other + POSED_POSES_END] - m[other + POSED_POSES]
            if parts != m[posed + POSED_POSES_END] - m[posed + POSED_POSES]:
                return False
            w[each + number] = float(m[other + POSED_POSES])
    return True


def turn(start: float, end: float) -> float:
    """The shorter way from one bearing to another, in degrees, above -180 to 180; clockwise is positive."""
    way = end - start
    if way > 180.0:
        return way - 360.0
    if way <= -180.0:
        return way + 360.0
    return way


def mix_part(r: Real, w: Real, each: int, part: int, b: Real, at: int) -> None:
    """Write from place at on how a part is moved in the mix (:func:`leanstep.core.cut_outs.poses.mixed`); part is how far behind
    the first part of its frame its pose stands."""
    x, y, way, wide, high = (0.0, 0.0, 0.0, 0.0, 0.0)
    start, begun, rests = (0.0, False, True)
    for number in range(each):
        weight = w[number]
        if weight > 0.0:
            pose = int(w[each + number]) + part
            angle = reduced(r[pose + PART_POSE_TURN])
            if not begun:
                start, begun = (angle, True)
            x = x + r[pose + PART_POSE_X] * weight
            y = y + r[pose + PART_POSE_Y] * weight
            wide = wide + r[pose + PART_POSE_WIDE] * weight
            high = high + r[pose + PART_POSE_HIGH] * weight
            way = way + turn(start, angle) * weight
            moves = r[pose + PART_POSE_X] != 0.0 or r[pose + PART_POSE_Y] != 0.0 or r[pose + PART_POSE_TURN] != 0.0
            scales = r[pose + PART_POSE_WIDE] != 1.0 or r[pose + PART_POSE_HIGH] != 1.0
            rests = rests and (not moves) and (not scales)
    b[at + PARTED_X] = 0.0 if rests else x
    b[at + PARTED_Y] = 0.0 if rests else y
    b[at + PARTED_TURN] = 0.0 if rests else start + way
    b[at + PARTED_WIDE] = 1.0 if rests else wide
    b[at + PARTED_HIGH] = 1.0 if rests else high


def list_parts(m: Whole, r: Real, z: Whole, v: Real, left: bool, w: Real, b: Real) -> int:
    """Write down how the parts of what is seen are moved, layer by layer from the back to the front, in rows of b; how many there
    are."""
    count, lowest = (0, lowest_seen(m, r, z, v))
    if lowest < 0 or m[HEAD_POSED] == m[HEAD_POSED_END]:
        return 0
    for layer in range(lowest, m[HEAD_LAYER_COUNT]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        posed = posed_row(m, frame_of(m, r, z, v, layer, cel))
        if posed < 0:
            continue
        first, mixes = (m[posed + POSED_POSES], mixes_parts(m, r, z, v, layer, posed, left, w))
        for pose in range(first, m[posed + POSED_POSES_END], PART_POSE_SIZE):
            at = count * PARTED_SIZE
            b[at + PARTED_LAYER] = float(layer)
            b[at + PARTED_PART] = float(m[pose + PART_POSE_PART])
            if mixes:
                mix_part(r, w, samples_each(m, state_of(m, z, layer)), pose - first, b, at)
            else:
                b[at + PARTED_X] = r[pose + PART_POSE_X]
                b[at + PARTED_Y] = r[pose + PART_POSE_Y]
                b[at + PARTED_TURN] = r[pose + PART_POSE_TURN]
                b[at + PARTED_WIDE] = r[pose + PART_POSE_WIDE]
                b[at + PARTED_HIGH] = r[pose + PART_POSE_HIGH]
            count += 1
    return count


def most_parts(m: Whole) -> int:
    """How many parts can be listed at most."""
    most = 0
    for posed in range(m[HEAD_POSED], m[HEAD_POSED_END], POSED_SIZE):
        most = (m[posed + POSED_POSES_END] - m[posed + POSED_POSES]) // PART_POSE_SIZE if (m[posed + POSED_POSES_END] - m[posed + POSED_POSES]) // PART_POSE_SIZE > most else most
    return most * m[HEAD_LAYER_COUNT]


def let_go(s: Real) -> None:
    """The squash there is begins to spring back, unless it does already."""
    if s[DRAWN_SQUASH] > 0.0 and s[DRAWN_FREED] < 0.0:
        s[DRAWN_FREED] = s[DRAWN_SINCE]


def begin_all(m: Whole, r: Real, s: Real, begin: int, end: int, state: int) -> None:
    """What some rows say begins; state holds what it holds."""
    for shape in range(begin, end, SHAPE_SIZE):
        does, which = (m[shape + SHAPE_DO], m[shape + SHAPE_WHICH])
        if does == LEANED:
            s[DRAWN_LEANING] = float(which)
        elif does == LET_GO:
            let_go(s)
        elif does != HELD_LEAN:
            whole_at = r[m[HEAD_SQUASHES] + which * SQUASH_SIZE + SQUASH_BY_FALL]
            s[DRAWN_SQUASH] = which + 1.0
            s[DRAWN_HOLDER] = state + 1.0 if does == HELD_SQUASH else 0.0
            s[DRAWN_AMOUNT] = 1.0 if whole_at == 0.0 else 1.0 if 1.0 < s[DRAWN_FALL] / whole_at else s[DRAWN_FALL] / whole_at
            s[DRAWN_SINCE] = 0.0
            s[DRAWN_FREED] = -1.0
            s[DRAWN_FROM_WIDE] = s[DRAWN_WIDE]
            s[DRAWN_FROM_HIGH] = s[DRAWN_HIGH]


def keep_seen(m: Whole, z: Whole, s: Real) -> None:
    """Note what the next tick begins with."""
    s[DRAWN_FREEZE] = float(z[NOW_FREEZE])
    for layer in range(m[HEAD_LAYER_COUNT]):
        s[DRAWN_SIZE + layer] = float(state_of(m, z, layer))


def wide_between(wide: float, high: float, to_wide: float, to_high: float, share: float, keeps: bool) -> float:
    """The width of a shape between two; keeps: its area goes evenly, not its width."""
    if not keeps:
        return wide + (to_wide - wide) * share
    area, to_area = (wide * high, to_wide * to_high)
    return (area + (to_area - area) * share) / (high + (to_high - high) * share)


def form(m: Whole, r: Real, s: Real) -> None:
    """The figure's width and height now; what has sprung back is over."""
    if s[DRAWN_SQUASH] == 0.0:
        return
    one = m[HEAD_SQUASHES] + (int(s[DRAWN_SQUASH]) - 1) * SQUASH_SIZE
    over, hold, back = (r[one + SQUASH_OVER], r[one + SQUASH_HOLD], r[one + SQUASH_BACK])
    keeps, since = (r[one + SQUASH_WIDE] != r[one + SQUASH_WIDE], s[DRAWN_SINCE])
    if s[DRAWN_FREED] < 0.0 and hold == hold and (since >= over + hold):
        s[DRAWN_FREED] = since
    freed = s[DRAWN_FREED]
    ticks = (freed if freed < since else since) if freed >= 0.0 else since
    share, every = (s[DRAWN_AMOUNT], r[one + SQUASH_EVERY])
    if every > 0.0:
        quarter = reduced(360.0 * ticks / every) + 90.0
        share *= (1.0 - across(quarter if quarter < 360.0 else quarter - 360.0)) / 2.0
    high = 1.0 + (r[one + SQUASH_HIGH] - 1.0) * share
    wide = 1.0 / high if keeps else 1.0 + (r[one + SQUASH_WIDE] - 1.0) * share
    t = (1.0 if 1.0 < ticks / over else ticks / over) if over > 0.0 else 1.0
    wide = wide_between(s[DRAWN_FROM_WIDE], s[DRAWN_FROM_HIGH], wide, high, t * (2.0 - t), keeps)
    high = s[DRAWN_FROM_HIGH] + (high - s[DRAWN_FROM_HIGH]) * (t * (2.0 - t))
    if freed >= 0.0:
        gone_by = (since - freed) / back if back > 0.0 else 1.0
        if gone_by >= 1.0:
            s[DRAWN_WIDE] = 1.0
            s[DRAWN_HIGH] = 1.0
            s[DRAWN_WHOLE] = 0.0
            s[DRAWN_SQUASH] = 0.0
            s[DRAWN_HOLDER] = 0.0
            return
        left = 1.0 - gone_by * gone_by * (3.0 - 2.0 * gone_by)
        wide = wide_between(1.0, 1.0, wide, high, left, keeps)
        high = 1.0 + (high - 1.0) * left
    s[DRAWN_WIDE] = wide
    s[DRAWN_HIGH] = high
    s[DRAWN_WHOLE] = float(m[one + SQUASH_WHOLE])


def begin_shape(m: Whole, r: Real, z: Whole, s: Real) -> None:
    """The figure before tick 0, of a body at rest that looks right; s is an array of zeros."""
    s[DRAWN_WIDE] = 1.0
    s[DRAWN_HIGH] = 1.0
    s[DRAWN_FREED] = -1.0
    s[DRAWN_FACING] = 90.0
    s[DRAWN_GROUNDED] = 1.0
    for layer in range(m[HEAD_LAYER_COUNT]):
        state = state_of(m, z, layer)
        begin_all(m, r, s, m[state + STATE_SHAPES], m[state + STATE_SHAPES_END], state)
    keep_seen(m, z, s)
    form(m, r, s)


def note_fall(m: Whole, r: Real, s: Real) -> None:
    """Note how fast a fall was."""
    if m[HEAD_SQUASHES] == m[HEAD_SQUASHES_END]:
        return
    if s[DRAWN_UP] < 0.0 and s[DRAWN_GROUNDED] == 0.0:
        s[DRAWN_FALL] = -s[DRAWN_UP]
        s[DRAWN_LANDED] = 0.0
    elif s[DRAWN_LANDED] > r[m[HEAD_SQUASHES] + SQUASH_RECENT]:
        s[DRAWN_FALL] = 0.0
    else:
        s[DRAWN_LANDED] += 1.0


def lean_over(m: Whole, r: Real, z: Whole, s: Real, velocity: float, facing: float) -> None:
    """The tilt follows how the body speeds up and turns."""
    if m[HEAD_LEANS] == m[HEAD_LEANS_END]:
        return
    which = -1
    for layer in range(m[HEAD_LAYER_COUNT]):
        state = state_of(m, z, layer)
        for shape in range(m[state + STATE_SHAPES], m[state + STATE_SHAPES_END], SHAPE_SIZE):
            if which < 0 and m[shape + SHAPE_DO] == HELD_LEAN:
                which = m[shape + SHAPE_WHICH]
    if which < 0:
        which = int(s[DRAWN_LEANING])
    if which == 0 and s[DRAWN_TILT] == 0.0:
        return
    lean = m[HEAD_LEANS] + which * LEAN_SIZE
    ahead, gained, sideways = (facing, velocity - s[DRAWN_VELOCITY], facing + 90.0)
    if m[lean + LEAN_SIGNED] != 0:
        ahead = 90.0 if facing < 180.0 else 270.0
        gained = gained if facing < 180.0 else -gained
    if sideways >= 360.0:
        sideways -= 360.0
    dt, most = (r[lean + LEAN_DT], r[lean + LEAN_MOST])
    goal = r[lean + LEAN_TURNING] * turn(s[DRAWN_FACING], facing) / dt / 100.0 * across(sideways)
    goal += r[lean + LEAN_SPEEDING] * (gained / dt) / 100.0 * across(ahead)
    goal = most if most < (-most if -most > goal else goal) else -most if -most > goal else goal
    leaned = s[DRAWN_TILT] + (goal - s[DRAWN_TILT]) * r[lean + LEAN_SHARE]
    s[DRAWN_TILT] = leaned if abs(leaned) > 0.001 else 0.0


def follow_shape(m: Whole, r: Real, z: Whole, k: Whole, taken: Whole, s: Real, velocity: float, up: float, facing: float, grounded: bool) -> None:
    """The figure one tick later; velocity of the body to the right, or of one seen from above along its facing, and up, in units a
    second, facing as a bearing."""
    note_fall(m, r, s)
    if s[DRAWN_SQUASH] > 0.0 and s[DRAWN_FREEZE] == 0.0:
        s[DRAWN_SINCE] += 1.0
    for mark in range(k[1] if k[1] < k[0] else k[0]):
        cue = m[HEAD_CUES] + k[TOLD + mark * TOLD_SIZE + 3] * CUE_SIZE
        begin_all(m, r, s, m[cue + CUE_SHAPES], m[cue + CUE_SHAPES_END], -1)
    for layer in range(m[HEAD_LAYER_COUNT]):
        if taken[layer] < 0:
            continue
        old, state = (int(s[DRAWN_SIZE + layer]), state_of(m, z, layer))
        if s[DRAWN_HOLDER] == old + 1.0:
            let_go(s)
        begin_all(m, r, s, m[old + STATE_LAST_SHAPES], m[old + STATE_LAST_SHAPES_END], -1)
        for way in range(m[old + STATE_WAYS], m[old + STATE_WAYS_END], WAY_SIZE):
            if m[way + WAY_NUMBER] == taken[layer]:
                begin_all(m, r, s, m[way + WAY_SHAPES], m[way + WAY_SHAPES_END], -1)
                break
        begin_all(m, r, s, m[state + STATE_SHAPES], m[state + STATE_SHAPES_END], state)
    lean_over(m, r, z, s, velocity, facing)
    keep_seen(m, z, s)
    s[DRAWN_VELOCITY] = velocity
    s[DRAWN_UP] = up
    s[DRAWN_FACING] = facing
    s[DRAWN_GROUNDED] = 1.0 if grounded else 0.0
    form(m, r, s)


def list_spans(m: Whole, z: Whole, out: Whole) -> int:
    """Write the spans that are on to out, pairs of a name and the row of a window; how many there are."""
    count = 0
    for layer in range(m[HEAD_LAYER_COUNT]):
        clip = clip_of(m, z, layer)
        if clip < 0:
            continue
        head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]
        for window in range(m[clip + CLIP_WINDOWS], m[clip + CLIP_WINDOWS_END], WINDOW_SIZE):
            if m[window + WINDOW_START] <= head < m[window + WINDOW_END]:
                out[2 * count] = m[window + WINDOW_SPAN]
                out[2 * count + 1] = (window - m[HEAD_WINDOWS]) // WINDOW_SIZE
                count += 1
    return count


def pulse_on(v: Real, parameter: int, on: float) -> None:
    """A pulse comes on, where there is one."""
    if parameter >= 0 and on != 0.0:
        v[parameter] = 1.0


def give_value(m: Whole, r: Real, v: Real, parameter: int, value: float) -> None:
    """A number gets a value, where there is one."""
    if parameter >= 0:
        v[parameter] = fitted(m, r, parameter, value)


def raise_due(m: Whole, r: Real, v: Real, w: Real) -> None:
    """Set what contact on the tick before raises, once a tick has begun."""
    rules = m[HEAD_CONTACT]
    if w[DUE_ANY] == 0.0 or rules >= m[HEAD_CONTACT_END]:
        return
    pulse_on(v, m[rules + CONTACT_HIT], w[DUE_HIT])
    pulse_on(v, m[rules + CONTACT_GUARDED], w[DUE_GUARDED])
    pulse_on(v, m[rules + CONTACT_LANDS], w[DUE_LANDS])
    pulse_on(v, m[rules + CONTACT_STOPPED], w[DUE_STOPPED])
    if w[DUE_HIT] != 0.0 or w[DUE_GUARDED] != 0.0:
        give_value(m, r, v, m[rules + CONTACT_STUN], w[DUE_STUN])
        give_value(m, r, v, m[rules + CONTACT_STRENGTH], w[DUE_STRENGTH])


def settle(m: Whole, z: Whole, v: Real, w: Real) -> None:
    """What contact on the tick before does at the end of this one: time stands, and the body is pushed."""
    if w[DUE_ANY] != 0.0:
        z[NOW_FREEZE] = int(w[DUE_FREEZE]) if int(w[DUE_FREEZE]) > z[NOW_FREEZE] else z[NOW_FREEZE]
        v[m[HEAD_PLACE] + FIELDS_PUSH] += w[DUE_PUSH]
        for due in range(DUE_SIZE):
            w[due] = 0.0


def forget_spent(m: Whole, taken: Whole, spent: Whole) -> None:
    """A strike whose state is entered anew can hit again."""
    for layer in range(m[HEAD_LAYER_COUNT]):
        if taken[layer] >= 0:
            spent[layer] = 0


def window_of(m: Whole, z: Whole, layer: int) -> int:
    """The number of the active phase a layer stands in, counted from 1 and further for each that hits again; 0: in none."""
    clip = clip_of(m, z, layer)
    if clip < 0:
        return 0
    head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]
    for active in range(m[clip + CLIP_ACTIVES], m[clip + CLIP_ACTIVES_END], ACTIVE_SIZE):
        if m[active + ACTIVE_START] <= head < m[active + ACTIVE_END]:
            return m[active + ACTIVE_WINDOW]
    return 0


def place_box(m: Whole, r: Real, z: Whole, layer: int, cel: int, rect: int, left: bool, x: float, y: float, wide: float, high: float, b: Real, at: int) -> None:
    """Write where a box of a cel is: its edges, from place at on."""
    low, bottom = (r[rect + RECT_LEFT], r[rect + RECT_BOTTOM])
    width, height = (r[rect + RECT_WIDTH], r[rect + RECT_HEIGHT])
    if is_mirrored(m, z, layer, cel, left):
        low = -low - width
    for again in range(quarter_turns(m, z, layer, cel, left)):
        turned = -low - width
        low = bottom
        bottom = turned
        turned = width
        width = height
        height = turned
    ahead = aside(m, r, z, layer, 1)
    across = x + (-ahead if left and ahead != 0.0 else ahead)
    up = y + aside(m, r, z, layer, 2)
    b[at] = across + low * wide
    b[at + 1] = up + bottom * high
    b[at + 2] = across + (low + width) * wide
    b[at + 3] = up + (bottom + height) * high


def meets_any(m: Whole, r: Real, z: Whole, v: Real, left: bool, x: float, y: float, wide: float, high: float, b: Real) -> bool:
    """Whether the box that stands first in b overlaps some vulnerable box of a figure in an area."""
    lowest = lowest_seen(m, r, z, v)
    if lowest < 0:
        return False
    for layer in range(lowest, m[HEAD_LAYER_COUNT]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        row = cel_row(m, z, layer, cel)
        for rect in range(m[row + CEL_RECTS], m[row + CEL_RECTS_END], RECT_SIZE):
            if m[rect + RECT_KIND] != VULNERABLE_BOX:
                continue
            place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 4)
            if (b[6] if b[6] < b[2] else b[2]) - (b[4] if b[4] > b[0] else b[0]) > 0.0 and (b[7] if b[7] < b[3] else b[3]) - (b[5] if b[5] > b[1] else b[1]) > 0.0:
                return True
    return False


def is_guarding(m: Whole, r: Real, z: Whole, v: Real) -> bool:
    """Whether a figure guards, after the transitions of a tick."""
    rules = m[HEAD_CONTACT]
    return rules < m[HEAD_CONTACT_END] and m[rules + CONTACT_GUARDS](m, z, v)


def strikes(m: Whole, r: Real, z: Whole, v: Real, left: bool, x: float, y: float, wide: float, high: float, other_m: Whole, other_r: Real, other_z: Whole, other_v: Real, other_left: bool, other_x: float, other_y: float, other_wide: float, other_high: float, spent: Whole, out: Whole, b: Real) -> bool:
    """Decide which strikes of a figure meet another: out is told by layer 0 for none, 1 for a hit and 2 for one that is guarded,
    and spent which windows have hit."""
    found = False
    for layer in range(m[HEAD_LAYER_COUNT]):
        out[layer] = 0
        window = window_of(m, z, layer)
        if window <= spent[layer]:
            continue
        cel, lowest = (cel_of(m, r, z, v, layer), lowest_seen(m, r, z, v))
        if cel < 0 or layer < lowest:
            continue
        row, struck, reached = (cel_row(m, z, layer, cel), False, m[clip_of(m, z, layer) + CLIP_REACH] == 0)
        for rect in range(m[row + CEL_RECTS], m[row + CEL_RECTS_END], RECT_SIZE):
            kind = m[rect + RECT_KIND]
            if kind == VULNERABLE_BOX or (kind == STRIKE_BOX and struck) or (kind == GUARD_BOX and reached):
                continue
            place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 0)
            if meets_any(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, b):
                if kind == STRIKE_BOX:
                    struck = True
                else:
                    reached = True
        if struck:
            guarded = reached and is_guarding(other_m, other_r, other_z, other_v)
            out[layer] = 2 if guarded else 1
            spent[layer] = window
            found = True
    return found


def add_due(m: Whole, r: Real, z: Whole, out: Whole, w: Real, other: Real, side: float) -> None:
    """Add what strikes raise on who strikes, w, and on the other, along whose facing side of a push goes."""
    for layer in range(m[HEAD_LAYER_COUNT]):
        if out[layer] == 0:
            continue
        clip, hits = (clip_of(m, z, layer), out[layer] == 1)
        w[DUE_ANY] = 1.0
        other[DUE_ANY] = 1.0
        if hits:
            w[DUE_LANDS] = 1.0
            other[DUE_HIT] = 1.0
        else:
            w[DUE_STOPPED] = 1.0
            other[DUE_GUARDED] = 1.0
        stun, freeze = (float(m[clip + CLIP_STUN] if hits else m[clip + CLIP_GUARD_STUN]), float(m[clip + CLIP_FREEZE]))
        other[DUE_STUN] = stun if stun > other[DUE_STUN] else other[DUE_STUN]
        other[DUE_STRENGTH] = r[clip + CLIP_STRENGTH] if r[clip + CLIP_STRENGTH] > other[DUE_STRENGTH] else other[DUE_STRENGTH]
        w[DUE_FREEZE] = freeze if freeze > w[DUE_FREEZE] else w[DUE_FREEZE]
        other[DUE_FREEZE] = freeze if freeze > other[DUE_FREEZE] else other[DUE_FREEZE]
        push = r[clip + CLIP_PUSH] * side
        if abs(push) > abs(other[DUE_PUSH]):
            other[DUE_PUSH] = push


def meet(m: Whole, r: Real, z: Whole, v: Real, taken: Whole, left: bool, along: float, x: float, y: float, wide: float, high: float, spent: Whole, out: Whole, w: Real, other_m: Whole, other_r: Real, other_z: Whole, other_v: Real, other_taken: Whole, other_left: bool, other_along: float, other_x: float, other_y: float, other_wide: float, other_high: float, other_spent: Whole, other_out: Whole, other_w: Real, b: Real) -> bool:
    """Contact of two figures that have both done a tick: out is told by layer 0 for none, 1 for a hit, 2 for one that is guarded,
    w what that raises on the next tick. along is how much of a push to the right goes along the facing."""
    forget_spent(m, taken, spent)
    forget_spent(other_m, other_taken, other_spent)
    for layer in range(m[HEAD_LAYER_COUNT]):
        out[layer] = 0
    for layer in range(other_m[HEAD_LAYER_COUNT]):
        other_out[layer] = 0
    if z[NOW_FREEZE] > 0 or other_z[NOW_FREEZE] > 0:
        return False
    first = strikes(m, r, z, v, left, x, y, wide, high, other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, spent, out, b)
    second = strikes(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, m, r, z, v, left, x, y, wide, high, other_spent, other_out, b)
    if first:
        add_due(m, r, z, out, w, other_w, other_along if other_x >= x else -other_along)
    if second:
        add_due(other_m, other_r, other_z, other_out, other_w, w, along if x >= other_x else -along)
    return first or second


def rows_of(counts: Whole, rows: Whole) -> int:
    """Write where the cells of each section begin; how many cells there are in all."""
    total = 0
    for section in range(SECTION_COUNT):
        rows[section] = total
        total += counts[section] * WIDTHS[section]
    return total


def is_whole(value: float, low: float, high: float) -> bool:
    """Whether a cell is a whole number from low to high."""
    return low <= value <= high and math.floor(value) == value


def wrong_cell(cells: Real, counts: Whole, names: Whole) -> int:
    """The number of the first cell that is not what its column may hold; -1: none."""
    at, first = (0, 0)
    for section in range(SECTION_COUNT):
        for again in range(counts[section]):
            target = 0
            for column in range(first, first + SIZES[section]):
                rule, about = (RULE[column], ABOUT[column])
                if rule == WITHIN:
                    continue
                value, fine = (cells[at], True)
                if rule == FINITE:
                    fine = value - value == 0.0
                elif rule == INTEGER:
                    fine = is_whole(value, -EXACT, EXACT)
                elif rule == TIME:
                    fine = is_whole(value, 0.0, EXACT) or value == NEVER
                elif rule == FROM_TO:
                    fine = is_whole(value, 0.0, about)
                elif rule == ROW or rule == ADDRESS:
                    fine = is_whole(value, 0.0, counts[about] - 1)
                elif rule == ROW_OR_NONE:
                    fine = is_whole(value, -1.0, counts[about] - 1)
                elif rule == NAME:
                    fine = is_whole(value, 0.0, names[about] - 1)
                elif rule == FIRST:
                    target = about
                    fine = is_whole(value, 0.0, counts[about])
                elif rule == END:
                    fine = is_whole(value, cells[at - 1], counts[target])
                else:
                    fine = value != value or value - value == 0.0
                if not fine:
                    return at
                at += 1
        first += SIZES[section]
    return -1


def act_agrees(cells: Real, counts: Whole, names: Whole, one: int) -> bool:
    """Whether an act changes what there is."""
    does, target, value = (cells[one + ACT_DO], cells[one + ACT_TARGET], cells[one + ACT_VALUE])
    if does <= RAISE:
        return 0.0 <= target < counts[PARAMETERS]
    if does == LOCK or does == UNLOCK:
        return 0.0 <= target < names[NAMED_LOCKS]
    return does != FREEZE or is_whole(value, 0.0, 1000000000000000.0)


def clip_agrees(cells: Real, rows: Whole, one: int) -> bool:
    """Whether a clip's times can be counted, and its pieces and keys come one after another, and where marks fire."""
    length, back = (cells[one + CLIP_LENGTH], cells[one + CLIP_BEGIN])
    paced = cells[one + CLIP_PACE] >= 0.0
    cels, cues = (cells[one + CLIP_CELS_END] - cells[one + CLIP_CELS], cells[one + CLIP_CUES_END] - cells[one + CLIP_CUES])
    rate = cells[one + CLIP_HIGH] if paced else 1.0
    if not 1.0 <= length <= LONGEST or not -1.0 <= back < length:
        return False
    if not -1.0 <= cells[one + CLIP_RESTING] < cels:
        return False
    if paced and (cells[one + CLIP_AT] == 0.0 or not 0.0 <= cells[one + CLIP_LOW] <= rate <= FASTEST):
        return False
    if cells[one + CLIP_GOES] != 0.0 and cells[one + CLIP_KEYS] == cells[one + CLIP_KEYS_END]:
        return False
    lap = length - (back if back > 0.0 else 0.0)
    if cues * (math.floor(math.floor(rate * TICK) / lap) + 2.0) > MOST_MARKS:
        return False
    for row in range(int(cells[one + CLIP_CUES]), int(cells[one + CLIP_CUES_END])):
        cue = rows[CUES] + row * WIDTHS[CUES]
        spots = cells[cue + CUE_SPOTS_END] - cells[cue + CUE_SPOTS]
        if spots > 1.0 or (spots > 0.0 and cells[cue + CUE_CEL] >= cels):
            return False
    before = -1.0
    for row in range(int(cells[one + CLIP_PIECES]), int(cells[one + CLIP_PIECES_END])):
        piece = rows[PIECES] + row * WIDTHS[PIECES]
        start = cells[piece + PIECE_START]
        if start <= before or (before < 0.0 and start != 0.0) or cells[piece + PIECE_CEL] >= cels:
            return False
        before = start
    for row in range(int(cells[one + CLIP_KEYS]) + 1, int(cells[one + CLIP_KEYS_END])):
        key = rows[KEYS] + row * WIDTHS[KEYS]
        if not cells[key + KEY_AT] > cells[key - WIDTHS[KEYS] + KEY_AT]:
            return False
    return True


def state_agrees(cells: Real, counts: Whole, rows: Whole, one: int) -> bool:
    """Whether a state's samples have their places, begin within their clips, and are as many for each way of moving."""
    samples, samples_end = (int(cells[one + STATE_SAMPLES]), int(cells[one + STATE_SAMPLES_END]))
    axes = cells[one + STATE_AXES_END] - cells[one + STATE_AXES]
    if cells[one + STATE_STICKY] < 0.0 or (cells[one + STATE_BLENDS] != 0.0 and samples == samples_end):
        return False
    ways = int(cells[one + STATE_MOVED_END]) - int(cells[one + STATE_MOVED]) + 1
    if (samples_end - samples) % ways != 0 or (ways > 1 and samples == samples_end):
        return False
    for row in range(samples, samples_end):
        sample = rows[SAMPLES] + row * WIDTHS[SAMPLES]
        clip = rows[CLIPS] + int(cells[sample + SAMPLE_CLIP]) * WIDTHS[CLIPS]
        if cells[sample + SAMPLE_PHASE] > cells[clip + CLIP_LENGTH]:
            return False
        if cells[sample + SAMPLE_PLACES] + axes > counts[PLACES]:
            return False
    return True


def shapes_agree(cells: Real, counts: Whole, rows: Whole) -> bool:
    """Whether squashes and leans can be followed, and what begins them is there."""
    for number in range(counts[SQUASHES]):
        one = rows[SQUASHES] + number * WIDTHS[SQUASHES]
        if not cells[one + SQUASH_HIGH] > 0.0 or cells[one + SQUASH_WIDE] <= 0.0:
            return False
        if cells[one + SQUASH_OVER] < 0.0 or cells[one + SQUASH_HOLD] < 0.0 or cells[one + SQUASH_BACK] < 0.0:
            return False
        if cells[one + SQUASH_EVERY] < 0.0 or cells[one + SQUASH_BY_FALL] < 0.0:
            return False
    for number in range(counts[LEANS]):
        one = rows[LEANS] + number * WIDTHS[LEANS]
        if cells[one + LEAN_MOST] < 0.0 or not cells[one + LEAN_DT] > 0.0:
            return False
    for number in range(counts[SHAPES]):
        one = rows[SHAPES] + number * WIDTHS[SHAPES]
        does, which = (cells[one + SHAPE_DO], cells[one + SHAPE_WHICH])
        if which < 0.0 or (which >= counts[LEANS] and (does == LEANED or does == HELD_LEAN)):
            return False
        if which >= counts[SQUASHES] and (does == SQUASHED or does == HELD_SQUASH):
            return False
    return True


def leads(counts: Whole, names: Whole, op: int, a: float) -> bool:
    """Whether what a row of a program puts on the stack is there."""
    if op == OP_NUMBER:
        return True
    if op == OP_PARAMETER or op == OP_PRESSED or op == OP_RELEASED:
        return 0.0 <= a < counts[PARAMETERS]
    if op == OP_SINCE:
        return 0.0 <= a < counts[CLOCKS]
    if op == OP_BUFFERED:
        return 0.0 <= a < counts[BUFFERS]
    if op == OP_SPAN:
        return 0.0 <= a < names[NAMED_SPANS]
    if op == OP_MEMORY:
        return 0.0 <= a < counts[MEMORIES]
    return 0.0 <= a < counts[LAYERS]


def is_program(cells: Real, counts: Whole, names: Whole, rows: Whole, room: Whole, begin: int, end: int, amount: bool) -> bool:
    """Whether a postfix program leaves one number (an amount) or one truth, whichever way its skips go."""
    ends, used = (counts[PROGRAMS], 3 * counts[PROGRAMS])
    depth, base, limit, waiting, at = (0, 0, end, 0, begin)
    while True:
        while waiting > 0 and at == limit:
            if depth != base + 1 or room[depth - 1] == AMOUNT:
                return False
            room[depth - 1] = TRUTH
            waiting -= 1
            limit = room[ends + 2 * waiting - 2] if waiting > 0 else end
            base = room[ends + 2 * waiting - 1] if waiting > 0 else 0
        if at == end:
            return depth == 1 and room[0] != (TRUTH if amount else AMOUNT)
        row = rows[PROGRAMS] + at * WIDTHS[PROGRAMS]
        op, a, b = (int(cells[row + STEP_OP]), cells[row + STEP_A], cells[row + STEP_B])
        if room[used + at] != 0:
            return False
        room[used + at] = 1
        at += 1
        if op >= OP_SKIP_FALSE:
            if depth < base + 1 or room[depth - 1] == AMOUNT or (not 1.0 <= a <= limit - at):
                return False
            depth -= 1
            limit, base = (at + int(a), depth)
            room[ends + 2 * waiting] = limit
            room[ends + 2 * waiting + 1] = base
            waiting += 1
            continue
        taken, made = (0, TRUTH)
        if op == OP_NOT:
            taken = 1
        elif op == OP_COMPARE:
            taken = 2
            if not 0.0 <= a < SIGN_COUNT:
                return False
        elif op == OP_COMPUTE:
            if not 0.0 <= a < OPERATOR_COUNT or not 1.0 <= b <= depth - base:
                return False
            taken, made = (int(b), AMOUNT)
            if TAKES[int(a)] != 0 and TAKES[int(a)] != taken:
                return False
        else:
            if not leads(counts, names, op, a):
                return False
            if op == OP_NUMBER or op == OP_PARAMETER:
                made = EITHER
            elif op == OP_STAY or op == OP_SINCE:
                made = AMOUNT
        if depth - base < taken:
            return False
        depth -= taken
        for below in range(depth, depth + taken):
            if room[below] == (AMOUNT if op == OP_NOT else TRUTH):
                return False
        room[depth] = made
        depth += 1


def programs_agree(cells: Real, counts: Whole, names: Whole, rows: Whole, room: Whole) -> bool:
    """Whether each program comes to what it is asked for, and no two have a row in common."""
    for row in range(counts[PROGRAMS]):
        room[3 * counts[PROGRAMS] + row] = 0
    for number in range(counts[WAYS]):
        one = rows[WAYS] + number * WIDTHS[WAYS] + WAY_PROGRAM
        if not is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    for number in range(counts[MEMORIES]):
        one = rows[MEMORIES] + number * WIDTHS[MEMORIES] + MEMORY_PROGRAM
        if not is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    for number in range(counts[FORMULAS]):
        one = rows[FORMULAS] + number * WIDTHS[FORMULAS]
        parameter = rows[PARAMETERS] + int(cells[one + FORMULA_PARAMETER]) * WIDTHS[PARAMETERS]
        amount = cells[parameter + PARAMETER_KIND] <= BEARING
        begin, end = (int(cells[one + FORMULA_PROGRAM]), int(cells[one + FORMULA_PROGRAM_END]))
        if not is_program(cells, counts, names, rows, room, begin, end, amount):
            return False
    for number in range(counts[CONTACTS]):
        one = rows[CONTACTS] + number * WIDTHS[CONTACTS] + CONTACT_GUARDS
        if not is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    for number in range(counts[ACCESSORIES]):
        one = rows[ACCESSORIES] + number * WIDTHS[ACCESSORIES] + ACCESSORY_SHOWN
        if not is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    return True


def agrees(cells: Real, counts: Whole, names: Whole, rows: Whole, room: Whole) -> bool:
    """Whether what stands in several rows goes together; room is for four whole numbers a row of a program."""
    if names[NAMED_PARAMETERS] != counts[PARAMETERS] or names[NAMED_LAYERS] != counts[LAYERS]:
        return False
    if names[NAMED_STATES] != counts[STATES] or names[NAMED_CLIPS] != counts[CLIPS]:
        return False
    for number in range(counts[PARAMETERS]):
        one = rows[PARAMETERS] + number * WIDTHS[PARAMETERS]
        kind = cells[one + PARAMETER_KIND]
        if kind <= WHOLE and cells[one + PARAMETER_LOW] > cells[one + PARAMETER_HIGH]:
            return False
        if kind == CHOICE and (not is_whole(cells[one + PARAMETER_FIRST], 0.0, names[NAMED_WORDS] - 1)):
            return False
    for number in range(counts[LAYERS]):
        one = rows[LAYERS] + number * WIDTHS[LAYERS]
        start = cells[one + LAYER_START]
        if start < cells[one + LAYER_STATES] or start >= cells[one + LAYER_STATES_END]:
            return False
    for number in range(counts[AXES]):
        one = rows[AXES] + number * WIDTHS[AXES]
        if cells[one + AXIS_LOW] > cells[one + AXIS_HIGH] or not cells[one + AXIS_STEP] > 0.0:
            return False
    for number in range(counts[ACTS]):
        if not act_agrees(cells, counts, names, rows[ACTS] + number * WIDTHS[ACTS]):
            return False
    for number in range(counts[CLIPS]):
        if not clip_agrees(cells, rows, rows[CLIPS] + number * WIDTHS[CLIPS]):
            return False
    for number in range(counts[STATES]):
        if not state_agrees(cells, counts, rows, rows[STATES] + number * WIDTHS[STATES]):
            return False
    if not shapes_agree(cells, counts, rows):
        return False
    return programs_agree(cells, counts, names, rows, room)


def laid_size(counts: Whole) -> int:
    """How long the arrays of a table are, that has so many rows in each section."""
    total = HEAD_SIZE + 3 * counts[PARAMETERS]
    for section in range(SECTION_COUNT):
        total += counts[section] * SIZES[section]
    return total


def lay_kinds(counts: Whole, m: Whole, to: int) -> None:
    """List the pulses, with whether they come from outside, and the buttons."""
    m[HEAD_PULSES] = to
    for parameter in range(counts[PARAMETERS]):
        one = m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE
        if m[one + PARAMETER_KIND] == PULSE:
            m[to] = parameter
            m[to + 1] = m[one + PARAMETER_OWNER] < GRAPH
            to += 2
    m[HEAD_PULSES_END] = to
    m[HEAD_BUTTONS] = to
    for parameter in range(counts[PARAMETERS]):
        if m[m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_KIND] == BUTTON:
            m[to] = parameter
            to += 1
    m[HEAD_BUTTONS_END] = to


def lay_situation(counts: Whole, names: Whole, m: Whole) -> None:
    """Say where a situation has what."""
    symbols = counts[PARAMETERS]
    m[HEAD_LAYER_COUNT] = counts[LAYERS]
    m[HEAD_COUNTERS] = FIRST_PLAYER + counts[LAYERS] * PLAYER_SIZE
    m[HEAD_AGES] = m[HEAD_COUNTERS] + counts[MEMORIES]
    m[HEAD_SINCE] = m[HEAD_AGES] + counts[BUFFERS]
    m[HEAD_HELD] = m[HEAD_SINCE] + counts[CLOCKS]
    m[HEAD_RAISED] = m[HEAD_HELD] + symbols
    m[HEAD_LOCKS] = m[HEAD_RAISED] + symbols
    m[HEAD_SPANS] = m[HEAD_LOCKS] + names[NAMED_LOCKS]
    m[HEAD_SPANS_END] = m[HEAD_SPANS] + names[NAMED_SPANS]
    m[HEAD_REMEMBERED] = m[HEAD_SPANS_END]
    m[HEAD_HELD_NOW] = m[HEAD_REMEMBERED] + counts[MEMORIES]
    m[HEAD_HELD_BEFORE] = m[HEAD_HELD_NOW] + symbols
    m[HEAD_CHANGED] = m[HEAD_HELD_BEFORE] + symbols
    m[HEAD_COUNTS] = m[HEAD_CHANGED] + 1
    m[HEAD_PLACE] = symbols
    m[HEAD_KEPT] = symbols + PLAYED
    m[HEAD_STACK] = m[HEAD_KEPT] + counts[STICKS]
    m[HEAD_VALUES] = m[HEAD_STACK] + counts[PROGRAMS] + 1


def most_told(m: Whole, r: Real) -> int:
    """How many marks can fire in one tick at most: in each layer those of a step of a clip, and those of one that is entered."""
    total = 0
    for layer in range(m[HEAD_LAYERS], m[HEAD_LAYERS_END], LAYER_SIZE):
        most, begun = (0, 0)
        for state in range(m[layer + LAYER_STATES], m[layer + LAYER_STATES_END], STATE_SIZE):
            for sample in range(m[state + STATE_SAMPLES], m[state + STATE_SAMPLES_END], SAMPLE_SIZE):
                clip = m[sample + SAMPLE_CLIP]
                cues = (m[clip + CLIP_CUES_END] - m[clip + CLIP_CUES]) // CUE_SIZE
                fastest = 1.0 if m[clip + CLIP_PACE] < 0 else r[clip + CLIP_HIGH]
                lap = m[clip + CLIP_LENGTH] - (0 if 0 > m[clip + CLIP_BEGIN] else m[clip + CLIP_BEGIN])
                most = cues * (int(fastest * TICK) // lap + 2) if cues * (int(fastest * TICK) // lap + 2) > most else most
                begun = cues if cues > begun else begun
        total += most + begun
    return total


def lay(cells: Real, counts: Whole, names: Whole, m: Whole, r: Real) -> None:
    """Lay a table out in m and r, arrays of zeros; names are how many of each kind there are."""
    end = HEAD_SIZE
    for section in range(SECTION_COUNT):
        m[2 * section] = end
        end += counts[section] * SIZES[section]
        m[2 * section + 1] = end
    cell, to, first = (0, HEAD_SIZE, 0)
    for section in range(SECTION_COUNT):
        for again in range(counts[section]):
            target = 0
            for column in range(first, first + SIZES[section]):
                if RULE[column] != WITHIN:
                    if REAL[column] != 0:
                        r[to] = cells[cell]
                    else:
                        m[to] = int(cells[cell])
                        if RULE[column] == FIRST or RULE[column] == ADDRESS:
                            target = ABOUT[column]
                        if RULE[column] == FIRST or RULE[column] == END or RULE[column] == ADDRESS:
                            m[to] = m[2 * target] + m[to] * SIZES[target]
                    cell += 1
                to += 1
        first += SIZES[section]
    lay_kinds(counts, m, to)
    lay_situation(counts, names, m)
    link_all(m, r)
    m[HEAD_MOST_TOLD] = most_told(m, r)


def open_tick(m: Whole, z: Whole, v: Real) -> None:
    """Before the inputs are set: pulses go off, or on where one was raised, and the sticks' bearings are kept."""
    for pulse in range(m[HEAD_PULSES], m[HEAD_PULSES_END], PULSE_SIZE):
        v[m[pulse]] = 0.0 if m[pulse + 1] != 0 else float(z[m[HEAD_RAISED] + m[pulse]])
    kept = m[HEAD_KEPT]
    for stick in range(m[HEAD_STICKS], m[HEAD_STICKS_END], STICK_SIZE):
        v[kept] = v[m[stick + STICK_BEARING]]
        kept += 1


def keep_bearings(m: Whole, v: Real) -> None:
    """A stick's bearing is what it was while there is no push."""
    kept = m[HEAD_KEPT]
    for stick in range(m[HEAD_STICKS], m[HEAD_STICKS_END], STICK_SIZE):
        if v[m[stick + STICK_PUSH]] == 0.0:
            v[m[stick + STICK_BEARING]] = v[kept]
        kept += 1


def forget_asked(m: Whole, v: Real) -> None:
    """Nothing has been asked of the body on this tick yet; for games that move it by their own rules."""
    place = m[HEAD_PLACE]
    v[place + FIELDS_TRAVEL] = 0.0
    v[place + FIELDS_TRAVEL_UP] = 0.0
    v[place + FIELDS_TRAVELS] = 0.0
    v[place + FIELDS_MODE] = 0.0
    v[place + FIELDS_PUSH] = 0.0
    v[place + FIELDS_PUSH_UP] = 0.0


def compute_formulas(m: Whole, r: Real, z: Whole, v: Real) -> None:
    """Bring the parameters that are computed from others up to date."""
    for formula in range(m[HEAD_FORMULAS], m[HEAD_FORMULAS_END], FORMULA_SIZE):
        parameter = m[formula + FORMULA_PARAMETER]
        number = m[m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_KIND] <= BEARING
        v[parameter] = worth(m, r, z, v, m[formula + FORMULA_PROGRAM], number)


def fade_on(m: Whole, z: Whole) -> None:
    """Crossfades run on by one tick."""
    for layer in range(m[HEAD_LAYER_COUNT]):
        player = FIRST_PLAYER + layer * PLAYER_SIZE
        left = z[player + PLAYER_FADE_LEFT] - 1
        if left < -1:
            continue
        z[player + PLAYER_FADE_LEFT] = left
        if left < 0:
            z[player + PLAYER_FADE_STATE] = 0
            z[player + PLAYER_FADE_PICK] = 0
            z[player + PLAYER_FADE_HEAD] = 0
            z[player + PLAYER_FADE_BLOCKS] = 0
            continue
        state = m[HEAD_STATES] + z[player + PLAYER_FADE_STATE] * STATE_SIZE
        if m[state + STATE_SAMPLES] < m[state + STATE_SAMPLES_END]:
            sample = m[state + STATE_SAMPLES] + z[player + PLAYER_FADE_PICK] * SAMPLE_SIZE
            z[player + PLAYER_FADE_HEAD] = folded(m, m[sample + SAMPLE_CLIP], z[player + PLAYER_FADE_HEAD] + TICK)


def look(m: Whole, z: Whole, held: int, spans: int, but: int) -> None:
    """Write the parameters that spans of every layer but one hold from place held on, and from spans on (-1: nowhere) which are
    on."""
    for one in range(m[HEAD_HOLDS], m[HEAD_HOLDS_END]):
        z[held + m[one]] = 0
    for layer in range(m[HEAD_LAYER_COUNT]):
        clip = clip_of(m, z, layer)
        if clip < 0 or layer == but:
            continue
        head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]
        for window in range(m[clip + CLIP_WINDOWS], m[clip + CLIP_WINDOWS_END], WINDOW_SIZE):
            if m[window + WINDOW_START] <= head < m[window + WINDOW_END]:
                if m[window + WINDOW_HOLD] >= 0:
                    z[held + m[window + WINDOW_HOLD]] = 1
                if spans >= 0:
                    z[spans + m[window + WINDOW_SPAN]] = 1


def see_spans(m: Whole, r: Real, z: Whole, v: Real, before: bool) -> None:
    """Work out which spans are on; flags they hold go on, and off again where they were held before."""
    if m[HEAD_WINDOWS] == m[HEAD_WINDOWS_END]:
        return
    held_now, held_before = (m[HEAD_HELD_NOW], m[HEAD_HELD_BEFORE])
    for span in range(m[HEAD_SPANS], m[HEAD_SPANS_END]):
        z[span] = 0
    look(m, z, held_now, m[HEAD_SPANS], -1)
    changed = False
    for one in range(m[HEAD_HOLDS], m[HEAD_HOLDS_END]):
        parameter = m[one]
        if z[held_now + parameter] != 0 or (before and z[held_before + parameter] != 0):
            v[parameter] = float(z[held_now + parameter])
            changed = True
    if changed:
        compute_formulas(m, r, z, v)


def count_down(m: Whole, r: Real, z: Whole, v: Real) -> None:
    """Countdowns go down by one."""
    for countdown in range(m[HEAD_COUNTDOWNS], m[HEAD_COUNTDOWNS_END]):
        v[m[countdown]] = v[m[countdown]] - 1.0 if v[m[countdown]] > 1.0 else 0.0
    if m[HEAD_COUNTDOWNS] < m[HEAD_COUNTDOWNS_END]:
        compute_formulas(m, r, z, v)


def note_held(m: Whole, z: Whole) -> None:
    """Note the parameters that spans hold on, before anything moves."""
    if m[HEAD_WINDOWS] < m[HEAD_WINDOWS_END] and m[HEAD_HOLDS] < m[HEAD_HOLDS_END]:
        look(m, z, m[HEAD_HELD_BEFORE], -1, -1)


def way_of(m: Whole, r: Real, v: Real, state: int) -> int:
    """The way of moving in a state: the first whose choice it is, counted from 1; 0: none of them."""
    number = 0
    for way in range(m[state + STATE_MOVED], m[state + STATE_MOVED_END], MOVED_SIZE):
        number += 1
        if v[m[way + MOVED_PARAMETER]] == r[way + MOVED_VALUE]:
            return number
    return 0


def rulings_to(m: Whole, r: Real, v: Real, axis: int, at: float) -> float:
    """How far the value an axis reads is from a place on it, in rulings."""
    value = value_on(m, r, v, axis)
    if m[axis + AXIS_ROUND] != 0:
        return turn(at, value) / r[axis + AXIS_STEP]
    return (value - at) / r[axis + AXIS_STEP]


def picked(m: Whole, r: Real, v: Real, state: int, before: int) -> int:
    """The sample a state would show now, after the one picked before (-1: none was)."""
    way = way_of(m, r, v, state)
    if m[state + STATE_BLENDS] == 0:
        return way
    block = samples_each(m, state)
    number = way * block
    if before >= 0:
        before = number + before % block
    best, first = (number, m[state + STATE_SAMPLES] + number * SAMPLE_SIZE)
    nearest, distance = (-1.0, -1.0)
    for sample in range(first, first + block * SAMPLE_SIZE, SAMPLE_SIZE):
        total, place = (0.0, m[HEAD_PLACES] + m[sample + SAMPLE_PLACES])
        for axis in range(m[state + STATE_AXES], m[state + STATE_AXES_END], AXIS_SIZE):
            at = r[place]
            place += 1
            if at == at:
                away = rulings_to(m, r, v, axis, at)
                total = total + away * away
        if number == before:
            distance = total
        if nearest < 0.0 or total < nearest:
            best, nearest = (number, total)
        number += 1
    sticky = r[state + STATE_STICKY]
    if sticky > 0.0 and before >= 0:
        return best if math.sqrt(nearest) < math.sqrt(distance) - sticky else before
    return best


def gone(r: Real, begin: int, end: int, length: int, back: int, head: int, amount: int, which: int) -> float:
    """How far a path goes while the playhead steps from head by amount, in a clip of length that goes back to there from its end
    (-1: it stays there)."""
    moved = head + amount
    if moved < length or back < 0:
        return place(r, begin, end, length if length < moved else moved, which) - place(r, begin, end, length if length < head else head, which)
    lap, over = (length - back, moved - length)
    whole = place(r, begin, end, length, which) - place(r, begin, end, back, which)
    first = place(r, begin, end, length, which) - place(r, begin, end, head, which)
    rest = place(r, begin, end, back + over % lap, which) - place(r, begin, end, back, which)
    return first + over // lap * whole + rest


def passed(m: Whole, clip: int, at: int, head: int, amount: int) -> int:
    """How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start."""
    length, back = (m[clip + CLIP_LENGTH], m[clip + CLIP_BEGIN])
    if at < back or back < 0:
        return 1 if head < at <= (length if length < head + amount else head + amount) else 0
    if at > length:
        return 0
    if at == length and back == 0:
        at = 0
    if amount < length - head:
        return 1 if head < at <= head + amount else 0
    since, before = (head + amount - at, head - at)
    laps = since // (length - back) + 1 if since >= 0 else 0
    return laps - (before // (length - back) + 1 if before >= 0 else 0)


def tell(m: Whole, z: Whole, k: Whole, layer: int, cue: int) -> None:
    """Note that a mark fires, where there is room."""
    if k[0] < k[1]:
        at = TOLD + k[0] * TOLD_SIZE
        k[at] = z[NOW_TICK]
        k[at + 1] = layer
        k[at + 2] = m[cue + CUE_MARK]
        k[at + 3] = (cue - m[HEAD_CUES]) // CUE_SIZE
        k[at + 4] = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STATE]
        k[at + 5] = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK]
    k[0] += 1


def apply(m: Whole, r: Real, z: Whole, v: Real, begin: int, end: int, at_once: bool) -> None:
    """Effects; a pulse raised at_once is true for the rest of this tick, else throughout the next."""
    for act in range(begin, end, ACT_SIZE):
        does, target, value = (m[act + ACT_DO], m[act + ACT_TARGET], r[act + ACT_VALUE])
        if does == SET:
            v[target] = value
        elif does == ADD:
            v[target] = fitted(m, r, target, v[target] + value)
        elif does == RAISE:
            if at_once:
                v[target] = 1.0
            else:
                z[m[HEAD_RAISED] + target] = 1
        elif does == LOCK:
            z[m[HEAD_LOCKS] + target] = 1
        elif does == UNLOCK:
            z[m[HEAD_LOCKS] + target] = 0
        elif does == FREEZE:
            z[NOW_FREEZE] = int(value) if int(value) > z[NOW_FREEZE] else z[NOW_FREEZE]
        elif does == MODE:
            v[m[HEAD_PLACE] + FIELDS_MODE] = value
        elif does == PUSH:
            v[m[HEAD_PLACE] + FIELDS_PUSH] += value
        elif does == PUSH_UP:
            v[m[HEAD_PLACE] + FIELDS_PUSH_UP] += value
        compute_formulas(m, r, z, v)


def fire(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, clip: int, head: int, amount: int) -> None:
    """The marks in (head, head + amount], in time order: again and again the next one."""
    length, back = (m[clip + CLIP_LENGTH], m[clip + CLIP_BEGIN])
    last, last_cue = (-1, -1)
    while True:
        best, best_cue = (-1, -1)
        for cue in range(m[clip + CLIP_CUES], m[clip + CLIP_CUES_END], CUE_SIZE):
            at = m[cue + CUE_AT]
            laps = passed(m, clip, at, head, amount)
            if laps <= 0:
                continue
            if at == length and back == 0:
                at = 0
            time = at - head if back < 0 or at > head else at - head + length - back
            for again in range(laps):
                if (time > last or (time == last and cue > last_cue)) and (best < 0 or time < best):
                    best, best_cue = (time, cue)
                    break
                time += length - back
        if best < 0:
            return
        last, last_cue = (best, best_cue)
        tell(m, z, k, layer, best_cue)
        apply(m, r, z, v, m[best_cue + CUE_ACTS], m[best_cue + CUE_ACTS_END], True)


def play_on(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int) -> None:
    """A layer's stay goes up, its playhead steps, and the marks passed fire."""
    player, state = (FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer))
    z[player + PLAYER_STAY] += 1
    first = m[state + STATE_SAMPLES]
    if first == m[state + STATE_SAMPLES_END]:
        return
    before, head = (z[player + PLAYER_PICK], z[player + PLAYER_HEAD])
    pick = picked(m, r, v, state, before)
    clip = m[first + pick * SAMPLE_SIZE + SAMPLE_CLIP]
    length, back = (m[clip + CLIP_LENGTH], m[clip + CLIP_BEGIN])
    if pick != before:
        head = taken_over(m, state, before, pick, head)
        z[player + PLAYER_PICK] = pick
    amount = pace_of(m, r, v, clip)
    if head + amount >= length and back >= 0:
        z[player + PLAYER_OVER] = 1
    z[player + PLAYER_HEAD] = folded(m, clip, head + amount)
    if m[clip + CLIP_GOES] != 0:
        begin, end, place = (m[clip + CLIP_KEYS], m[clip + CLIP_KEYS_END], m[HEAD_PLACE])
        v[place + FIELDS_TRAVEL] += gone(r, begin, end, length, back, head, amount, X)
        v[place + FIELDS_TRAVEL_UP] += gone(r, begin, end, length, back, head, amount, Y)
        v[place + FIELDS_TRAVELS] = float(int(v[place + FIELDS_TRAVELS]) | m[clip + CLIP_GOES])
    if m[clip + CLIP_CUES] < m[clip + CLIP_CUES_END]:
        fire(m, r, z, v, k, layer, clip, head, amount)


def older(z: Whole, age: int, most: int) -> None:
    """A press or a leaving a tick ago more; one that is too old for any condition to ask is forgotten."""
    if z[age] >= 0:
        z[age] = z[age] + 1 if z[age] + 1 < most else -1


def counted(kind: int, counter: int, ticks: int, holds: bool) -> int:
    """A memory's counter after a tick on which its operand was true or not (holds)."""
    if kind == HELD_FOR:
        return (ticks if ticks < counter + 1 else counter + 1) if holds else 0
    return ticks if holds else 0 if 0 > counter - 1 else counter - 1


def remember(m: Whole, r: Real, z: Whole, v: Real, changed: bool) -> None:
    """Step 5: a press begins its age, other ages grow, and memories count; where nothing has changed, an operand that lasts is
    what it was, which the counters tell."""
    age = m[HEAD_AGES]
    for buffer in range(m[HEAD_BUFFERS], m[HEAD_BUFFERS_END], BUFFER_SIZE):
        parameter = m[buffer + BUFFER_PARAMETER]
        if v[parameter] != 0.0 and z[m[HEAD_HELD] + parameter] == 0:
            z[age] = 0
        else:
            older(z, age, m[buffer + BUFFER_MOST])
        age += 1
    age = m[HEAD_SINCE]
    for clock in range(m[HEAD_CLOCKS], m[HEAD_CLOCKS_END]):
        older(z, age, m[clock])
        age += 1
    at = 0
    for memory in range(m[HEAD_MEMORIES], m[HEAD_MEMORIES_END], MEMORY_SIZE):
        counter, ticks = (z[m[HEAD_COUNTERS] + at], m[memory + MEMORY_TICKS])
        kind, holds = (m[memory + MEMORY_WITHIN], False)
        if changed or m[memory + MEMORY_LASTS] == 0:
            holds = m[memory + MEMORY_PROGRAM](m, z, v)
        else:
            holds = counter > 0 if kind == HELD_FOR else counter >= ticks
        counter = counted(kind, counter, ticks, holds)
        z[m[HEAD_REMEMBERED] + at] = counter > 0 if kind == SEEN_WITHIN else counter >= ticks
        z[m[HEAD_COUNTERS] + at] = counter
        at += 1


def locked(m: Whole, z: Whole) -> bool:
    """Whether anything locks movement: a state that holds still, a span, or a named lock."""
    for at in range(m[HEAD_LOCKS], m[HEAD_SPANS]):
        if z[at] != 0:
            return True
    spanned = m[HEAD_WINDOWS] < m[HEAD_WINDOWS_END]
    for layer in range(m[HEAD_LAYER_COUNT]):
        if m[state_of(m, z, layer) + STATE_STILL] != 0:
            return True
        if not spanned:
            continue
        clip = clip_of(m, z, layer)
        if clip < 0:
            continue
        head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]
        for window in range(m[clip + CLIP_WINDOWS], m[clip + CLIP_WINDOWS_END], WINDOW_SIZE):
            if m[window + WINDOW_LOCK] != 0 and m[window + WINDOW_START] <= head < m[window + WINDOW_END]:
                return True
    return False


def end_spans(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> None:
    """The spans of a layer's state that is left are over: flags that only they held go off."""
    if m[HEAD_HOLDS] >= m[HEAD_HOLDS_END]:
        return
    look(m, z, m[HEAD_HELD_NOW], -1, layer)
    ended = False
    for one in range(m[HEAD_HOLDS], m[HEAD_HOLDS_END]):
        if z[m[HEAD_HELD_BEFORE] + m[one]] != 0 and z[m[HEAD_HELD_NOW] + m[one]] == 0:
            v[m[one]] = 0.0
            ended = True
    if ended:
        compute_formulas(m, r, z, v)


def axis_like(m: Whole, state: int, parameter: int) -> int:
    """The number of the first axis of a state's that reads a parameter; -1: none."""
    number = 0
    for axis in range(m[state + STATE_AXES], m[state + STATE_AXES_END], AXIS_SIZE):
        if parameter >= 0 and m[axis + AXIS_PARAMETER] == parameter:
            return number
        number += 1
    return -1


def kept_from(m: Whole, r: Real, left: int, pick: int, state: int) -> int:
    """The sample of a state that counts as picked before, when the sample pick was shown in the state left; -1: none."""
    if left < 0 or pick < 0 or m[left + STATE_BLENDS] == 0 or (m[state + STATE_BLENDS] == 0):
        return -1
    shown = m[HEAD_PLACES] + m[m[left + STATE_SAMPLES] + pick * SAMPLE_SIZE + SAMPLE_PLACES]
    number = 0
    for sample in range(m[state + STATE_SAMPLES], m[state + STATE_SAMPLES_END], SAMPLE_SIZE):
        place = m[HEAD_PLACES] + m[sample + SAMPLE_PLACES]
        both, same = (False, True)
        for axis in range(m[state + STATE_AXES], m[state + STATE_AXES_END], AXIS_SIZE):
            old = axis_like(m, left, m[axis + AXIS_PARAMETER])
            if old >= 0:
                one, two = (r[shown + old], r[place])
                both = True
                same = same and (one == two or (one != one and two != two))
            place += 1
        if not both:
            return -1
        if same:
            return number
        number += 1
    return -1


def fire_first(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, clip: int) -> None:
    """The marks at the very start of a clip that is entered there."""
    length, back = (m[clip + CLIP_LENGTH], m[clip + CLIP_BEGIN])
    for cue in range(m[clip + CLIP_CUES], m[clip + CLIP_CUES_END], CUE_SIZE):
        if m[cue + CUE_AT] == 0 or (back == 0 and m[cue + CUE_AT] == length):
            tell(m, z, k, layer, cue)
            apply(m, r, z, v, m[cue + CUE_ACTS], m[cue + CUE_ACTS_END], False)


def enter(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, head: int, old_length: int, left: int, shown: int) -> None:
    """The layer's new state begins, at the same share of its clip as a head in a clip of old_length; left is the state before (-1:
    none), which showed the sample shown (-1: none)."""
    player, state = (FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer))
    z[player + PLAYER_HEAD] = 0
    z[player + PLAYER_PICK] = 0
    z[player + PLAYER_OVER] = 0
    apply(m, r, z, v, m[state + STATE_ENTRY], m[state + STATE_ENTRY_END], False)
    first = m[state + STATE_SAMPLES]
    if first == m[state + STATE_SAMPLES_END]:
        return
    pick = picked(m, r, v, state, kept_from(m, r, left, shown, state))
    z[player + PLAYER_PICK] = pick
    clip = m[first + pick * SAMPLE_SIZE + SAMPLE_CLIP]
    if head != 0 and old_length != 0:
        z[player + PLAYER_HEAD] = folded(m, clip, head * m[clip + CLIP_LENGTH] // old_length)
    if z[player + PLAYER_HEAD] == 0:
        fire_first(m, r, z, v, k, layer, clip)


def take(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, way: int) -> None:
    """Take a transition: leave, change over, enter."""
    note_held(m, z)
    player, state = (FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer))
    old, target = (z[player + PLAYER_STATE], m[way + WAY_TARGET])
    pick, head, length = (z[player + PLAYER_PICK], z[player + PLAYER_HEAD], 0)
    for use in range(m[way + WAY_USES], m[way + WAY_USES_END], USE_SIZE):
        age = m[HEAD_AGES] + m[use + USE_BUFFER]
        if z[age] < m[use + USE_TICKS]:
            z[age] = -1
    shown = m[state + STATE_SAMPLES] < m[state + STATE_SAMPLES_END]
    if shown:
        length = m[m[m[state + STATE_SAMPLES] + pick * SAMPLE_SIZE + SAMPLE_CLIP] + CLIP_LENGTH]
    apply(m, r, z, v, m[state + STATE_LEAVE], m[state + STATE_LEAVE_END], False)
    end_spans(m, r, z, v, layer)
    if target != old and m[state + STATE_CLOCK] >= 0:
        z[m[HEAD_SINCE] + m[state + STATE_CLOCK]] = 0
    fading = m[way + WAY_FADE] > 0
    z[player + PLAYER_FADE_STATE] = old if fading else 0
    z[player + PLAYER_FADE_PICK] = pick if fading else 0
    z[player + PLAYER_FADE_HEAD] = head if fading else 0
    z[player + PLAYER_FADE_LEFT] = m[way + WAY_FADE] if fading else -1
    z[player + PLAYER_FADE_BLOCKS] = m[way + WAY_BLOCKS] if fading else 0
    z[player + PLAYER_STATE] = target
    z[player + PLAYER_STAY] = 0
    enter(m, r, z, v, k, layer, head if m[way + WAY_KEEP] != 0 else 0, length, state, pick if shown else -1)
    see_spans(m, r, z, v, False)


def tick(m: Whole, r: Real, z: Whole, v: Real, k: Whole, changed: bool, taken: Whole, at: int) -> None:
    """One tick, after inputs and body have been set; taken is told each layer's transition from place at on (-1: none). changed:
    values from outside are not all what they were on the tick before."""
    frozen = z[NOW_FREEZE] > 0
    compute_formulas(m, r, z, v)
    for pulse in range(m[HEAD_PULSES], m[HEAD_PULSES_END], PULSE_SIZE):
        z[m[HEAD_RAISED] + m[pulse]] = 0
    fade_on(m, z)
    if frozen:
        z[NOW_FREEZE] -= 1
        see_spans(m, r, z, v, False)
    else:
        count_down(m, r, z, v)
        note_held(m, z)
        for layer in range(m[HEAD_LAYER_COUNT]):
            play_on(m, r, z, v, k, layer)
        see_spans(m, r, z, v, True)
    remember(m, r, z, v, changed)
    still, moved = (locked(m, z), False)
    for layer in range(m[HEAD_LAYER_COUNT]):
        taken[at + layer] = -1
        player = FIRST_PLAYER + layer * PLAYER_SIZE
        if not frozen and (z[player + PLAYER_FADE_LEFT] < 0 or z[player + PLAYER_FADE_BLOCKS] == 0):
            state = state_of(m, z, layer)
            for way in range(m[state + STATE_WAYS], m[state + STATE_WAYS_END], WAY_SIZE):
                if m[way + WAY_PROGRAM](m, z, v):
                    taken[at + layer] = m[way + WAY_NUMBER]
                    take(m, r, z, v, k, layer, way)
                    moved = True
                    break
    for button in range(m[HEAD_BUTTONS], m[HEAD_BUTTONS_END]):
        z[m[HEAD_HELD] + m[button]] = v[m[button]] != 0.0
    z[NOW_LOCKED] = still or (moved and locked(m, z))
    z[NOW_TICK] += 1


def enter_start(m: Whole, r: Real, z: Whole, v: Real, k: Whole) -> None:
    """Enter every layer's start state, just before tick 0, in a situation of zeros."""
    for parameter in range(m[HEAD_PLACE]):
        v[parameter] = r[m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_FIRST]
    for age in range(m[HEAD_AGES], m[HEAD_HELD]):
        z[age] = -1
    for layer in range(m[HEAD_LAYER_COUNT]):
        player = FIRST_PLAYER + layer * PLAYER_SIZE
        z[player + PLAYER_FADE_LEFT] = -1
        z[player + PLAYER_STATE] = m[m[HEAD_LAYERS] + layer * LAYER_SIZE + LAYER_START]
    compute_formulas(m, r, z, v)
    for layer in range(m[HEAD_LAYER_COUNT]):
        enter(m, r, z, v, k, layer, 0, 0, -1, -1)
    see_spans(m, r, z, v, False)
    z[NOW_LOCKED] = locked(m, z)
# fmt: on

# -- printed until here --


def replay(table: Table, golden: str, other: Table | None = None) -> Iterator[str]:
    """Play what a golden trace sets, and write down what comes out, line by line in the same format.  Of two figures both tables are
    given (``other``: that of the second)."""
    players = [Player(one) for one in (table, other) if one is not None]
    both, turn = Pair(*players) if len(players) > 1 else None, 0
    for line in golden.splitlines():
        kind = line.split(" ")[0]
        if kind not in ("out", "met"):
            yield line
        if kind == "in":
            _set_and_step(players[turn], line)
            turn = (turn + 1) % len(players)
        met = both.meet(*map(_at, line.split()[1:])) if both is not None and kind == "at" else []
        if kind in ("begin", "at") or (kind == "in" and both is None):
            yield from map(_told, players)
        if kind == "at":
            yield " ".join(["met", *(f"{one.who}:{one.layer}:{1 + one.guarded}" for one in met)])


def _set_and_step(player: Player, line: str) -> None:
    """One tick with what a line sets, and with what the body does."""
    body = [0.0, 0.0, 90.0, 1.0]
    for word in line.split()[1:]:
        at, bits = word.split("=")
        numbers = _numbers(bits)
        if at == "body":
            body = numbers
        elif int(at) < len(player.table.names["parameters"]):
            player._given[int(at)] = numbers[0]
    player.step()
    velocity, up, facing, stands = body
    player.shape(velocity, up, facing, stands != 0.0)


def _at(text: str) -> At:
    x, y, wide, high, along, left = _numbers(text)
    return At(x, y, left != 0.0, wide, high, along)


def _numbers(text: str) -> list[float]:
    return [struct.unpack(">d", bytes.fromhex(one))[0] for one in text.split(",")]


def _told(player: Player) -> str:
    layers = range(len(player.states))
    told = [at for at, one in enumerate(player.table.sections["parameters"]) if one[1] >= GRAPH]
    fields: dict[str, Any] = {
        "states": player.states,
        "stays": player.stays,
        "heads": player.heads,
        "picks": player.picks,
        "cels": [player.cel(layer) for layer in layers],
        "taken": player.taken,
        "marks": [f"{layer}:{mark}" for layer, mark, _ in player.fired],
        "spans": sorted(player.on),
        "locked": [int(player.locked)],
        "freeze": [player.freeze],
        "travel": [*map(_bits, player.travelled[:2]), player.travelled[2]],
        "asked": list(map(_bits, (player.mode, *player.pushed))),
        "values": [_bits(player.values[at]) for at in told],
    }
    if player.table.version > 1:
        asked = player.requests
        fields["requests"] = [asked.mode, int(asked.backward), *map(_bits, asked[2:])]
        frames = {name: at for at, name in enumerate(player.table.names["frames"])}
        fields["draws"] = [
            f"{one.layer}:{frames[one.frame]}:{int(one.mirrored)}:{one.turns}:{_bits(one.x)}:{_bits(one.y)}"
            for one in player.frames()
        ]
    if player.table.version > 5:
        left = player.s[DRAWN_FACING] > 180.0
        words = {name: at for at, name in enumerate(player.table.names["words"])}
        fields["pins"] = [f"{one.layer}:{words[one.name]}:{_place(one)}:{int(one.behind)}" for one in player.pins(left)]
        fields["pinned"] = [
            f"{words[one.name]}:{one.layer}:{int(one.behind)}:{frames[one.frame]}:{int(one.mirrored)}:"
            + ":".join(map(_bits, (one.x, one.y, one.turn)))
            for one in player.pinned(left)
        ]
        fields["places"] = [f"{at}:{words[one.name]}:{_place(one)}" for at, one in player.mark_pins(left).items()]
    if player.table.version > 6:
        fields["parts"] = [
            f"{one.layer}:{words[one.name]}:{':'.join(map(_bits, one[2:]))}" for one in player.parts(left)
        ]
    if player.table.version > 2:
        *numbers, whole = player._shape()
        fields["shape"] = [*map(_bits, numbers), int(whole)]
    return "out " + " ".join(f"{name}={','.join(map(str, row))}" for name, row in fields.items())


def _place(one: Pin) -> str:
    return ":".join(map(_bits, (one.x, one.y, one.angle)))


def _bits(value: float) -> str:
    # what is no number has many bits
    return struct.pack(">d", value if value == value else math.nan).hex()


def main(paths: list[str]) -> int:
    """Replay golden traces, each behind its table, or behind both of two figures; print what comes out."""
    tables: list[Table] = []
    if not paths or paths[-1].endswith(".json"):
        print("usage: leanstep_player.py NAME.table.json [OTHER.table.json] TAKE.golden.txt ...", file=sys.stderr)
        return 2
    for path in paths:
        if path.endswith(".json"):
            tables.append(Table.load(path))
            continue
        with open(path, encoding="utf-8") as file:
            text = file.read()
        if len(tables) != 1 + text.startswith("leanstep golden pair"):
            raise TableError(f"{path}: a golden trace stands behind its table, one of two figures behind both")
        for line in replay(tables[0], text, *tables[1:]):
            print(line)
        tables = []
    return 0


if __name__ == "__main__":
    try:
        sys.exit(main(sys.argv[1:]))
    except (TableError, OSError) as error:
        sys.exit(str(error))
