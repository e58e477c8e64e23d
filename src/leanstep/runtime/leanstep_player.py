"""Plays a character from its table (``NAME.table.json``), tick for tick and bit for bit as Lean Step does.

One file, standard library only: copy it into your game.

    player = Player(Table.load("hero.table.json"))
    player.hold("jump", True)            # buttons; player.push("stick", 1, 0) for sticks
    player.set("speed", 3.5)             # what your game and your physics set; player.pulse("hurt")
    player.step()                        # once a tick
    player.frame("base")                 # what to draw: clip, cel, frame
    player.marks, player.spans, player.locked, player.travel
"""

from __future__ import annotations

import json
import math
import struct
import sys
from bisect import bisect_right
from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

IntSet = set[int]

VERSION = 1
TICK = 65536
NEVER = 1 << 60
NUMBER, WHOLE, BEARING, FLAG, CHOICE, PULSE, BUTTON = range(7)
GAME, CONTROLS, BODY, GRAPH, FORMULA = range(5)
SIGNS = ("<", "<=", "==", "!=", ">", ">=")
COLUMNS = {
    "parameters": "kind owner first low high",
    "sticks": "x y push bearing",
    "layers": "start states states_end",
    "states": "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still",
    "ways": "number target program program_end fade blocks keep uses uses_end",
    "uses": "buffer ticks",
    "acts": "do target value",
    "samples": "clip phase places",
    "axes": "parameter round low high step",
    "places": "value",
    "clips": "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end "
    "resting goes keys keys_end",
    "cues": "at mark acts acts_end",
    "windows": "start end hold lock span",
    "pieces": "start cel",
    "cels": "frame mirrored turns",
    "keys": "at x y ease",
    "memories": "within ticks program program_end",
    "buffers": "parameter most",
    "clocks": "most",
    "formulas": "parameter program program_end",
    "holds": "parameter",
    "programs": "op a b value",
}
"""What stands in the rows of each section."""
RULES = {
    "parameters": "0..6 0..4 # # #",
    "sticks": "@parameters @parameters @parameters @parameters",
    "layers": "@states <states >",
    "states": "<ways > <acts > <acts > <samples > <axes > 0..1 # @clocks? 0..1",
    "ways": "i @states <programs > t 0..1 0..1 <uses >",
    "uses": "@buffers t",
    "acts": "0..8 i #",
    "samples": "@clips t t",
    "axes": "@parameters? 0..1 # # #",
    "places": "?",
    "clips": "t i 0..1 @parameters? # # # <cues > <windows > <pieces > <cels > i 0..7 <keys >",
    "cues": "t %marks <acts >",
    "windows": "i i @parameters? 0..1 %spans",
    "pieces": "t t",
    "cels": "%frames 0..1 0..3",
    "keys": "# # # 0..3",
    "memories": "0..1 t <programs >",
    "buffers": "@parameters t",
    "clocks": "t",
    "formulas": "@parameters <programs >",
    "holds": "@parameters",
    "programs": "0..16 i i #",
}
"""What each column may hold: ``#`` a finite number, ``?`` one or null, ``i`` a whole number, ``t`` a time, ``a..b`` from a to b, ``@``
the row of a section, with ``?`` or -1, ``%`` the number of a name, ``<`` and ``>`` the beginning and end of rows of a section."""
KINDS = ("parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes")
EXACT = 1 << 53
LONGEST = 1 << 31
MOST_MARKS = 10_000
"""Of a clip in a tick."""
TAKEN = (2, 2, 2, 2, 1, 1, 0, 0, 2, 1)
"""How many numbers each sum takes; 0: as many as it is told."""


class TableError(ValueError):
    """What is wrong with a table, or with what a player is asked, in a sentence."""


def reduced(value: float) -> float:
    """Degrees as a bearing from 0 to below 360; what is no finite number is 0."""
    if not -1e15 < value < 1e15:
        return 0.0
    turned = value - 360.0 * math.floor(value / 360.0)
    return turned if 0.0 < turned < 360.0 else 0.0


def turn(start: float, end: float) -> float:
    """The shorter way from one bearing to another; clockwise is positive."""
    way = end - start
    return way - 360.0 if way > 180.0 else way + 360.0 if way <= -180.0 else way


_SERIES = [(-1.0 if n % 2 else 1.0) * (180.0 / math.pi) / (2 * n + 1) for n in range(20, -1, -1)]


def bearing_of(x: float, y: float) -> float:
    """The bearing of a vector with ``y`` up: 0 is up, 90 right.  Gregory's series; the same bits on every machine."""
    wide, high = abs(x), abs(y)
    if not (wide > 0.0 or high > 0.0):
        return 0.0
    share = wide / high if wide <= high else high / wide
    near = share > 0.41421356237309503
    rest = (share - 1.0) / (share + 1.0) if near else share
    square, total = rest * rest, 0.0
    for factor in _SERIES:
        total = total * square + factor
    angle = total * rest
    if near:
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
    return min(math.sqrt(x * x + y * y), 1.0)


class Clip:
    """A clip of the table, laid out for playing."""

    def __init__(self, table: Table, row: int) -> None:
        one = table.row("clips", row)
        self.row, self.name = row, table.names["clips"][row]
        self.length, self.begin, self.vanishes = one["length"], one["begin"], one["vanishes"]
        self.pace, self.at, self.low, self.high = one["pace"], one["at"], one["low"], one["high"]
        self.cues = [
            (cue[0], cue[1], table.acts(cue[2], cue[3]), one["cues"] + at)
            for at, cue in enumerate(table.rows("cues", one, "cues"))
        ]
        self.windows = [tuple(window) for window in table.rows("windows", one, "windows")]
        self.starts = [piece[0] for piece in table.rows("pieces", one, "pieces")]
        self.pieces = [piece[1] for piece in table.rows("pieces", one, "pieces")]
        self.cels = [tuple(cel) for cel in table.rows("cels", one, "cels")]
        self.resting, self.goes = one["resting"], one["goes"]
        self.keys = [tuple(map(float, key)) for key in table.rows("keys", one, "keys")]

    def folded(self, head: int) -> int:
        """A playhead brought into the clip."""
        if head < self.length:
            return head
        if self.begin < 0:
            return self.length
        return self.begin + (head - self.begin) % (self.length - self.begin)

    def amount(self, values: list[float]) -> int:
        """Playhead units one tick adds."""
        if self.pace < 0:
            return TICK
        rate = values[self.pace] / self.at
        rate = self.low if not rate >= self.low else self.high if rate > self.high else rate
        return math.floor(rate * TICK + 0.5)

    def fired(self, head: int, amount: int) -> list[tuple[Any, ...]]:
        """The cues in (head, head + amount], in time order."""
        times = []
        lap = self.length - self.begin
        for order, cue in enumerate(self.cues):
            at = cue[0]
            if self.begin < 0 or at < self.begin:
                if head < at <= min(head + amount, self.length):
                    times.append((at - head, order))
                continue
            if at > self.length:
                continue
            at = 0 if at == self.length and not self.begin else at
            since, before = head + amount - at, head - at
            laps = (since // lap + 1 if since >= 0 else 0) - (before // lap + 1 if before >= 0 else 0)
            first = at - head if at > head else at - head + lap
            times += [(first + number * lap, order) for number in range(laps)]
        return [self.cues[order] for _, order in sorted(times)]

    def at_start(self, at: int) -> bool:
        """Whether an instant is the start of the clip."""
        return at == 0 or (self.begin == 0 and at == self.length)

    def cel_at(self, head: int) -> int:
        """The cel shown at a playhead; -1: none."""
        if not self.pieces or (self.vanishes and head >= self.length):
            return -1
        return int(self.pieces[bisect_right(self.starts, min(self.folded(head), self.length - 1)) - 1])

    def place(self, head: int, which: int) -> float:
        """Where its path is at a playhead, ahead (1) or up (2)."""
        keys, at = self.keys, 0
        while at + 1 < len(keys) and keys[at + 1][0] <= head:
            at += 1
        if at + 1 >= len(keys) or head <= keys[at][0]:
            return keys[at][which]
        one, two = keys[at], keys[at + 1]
        t = (head - one[0]) / (two[0] - one[0])
        if two[3] == 1:
            t = t * t
        elif two[3] == 2:
            t = t * (2.0 - t)
        elif two[3] == 3:
            t = t * t * (3.0 - 2.0 * t)
        return one[which] + (two[which] - one[which]) * t

    def gone(self, head: int, amount: int, which: int) -> float:
        """How far its path goes in a step of the playhead."""
        length, back, moved, place = self.length, self.begin, head + amount, self.place
        if moved < length or back < 0:
            return place(min(moved, length), which) - place(min(head, length), which)
        lap, over = length - back, moved - length
        whole = place(length, which) - place(back, which)
        first = place(length, which) - place(head, which)
        rest = place(back + over % lap, which) - place(back, which)
        return first + (over // lap) * whole + rest


class State:
    """A state of the table, ready to be entered."""

    def __init__(self, table: Table, row: int, clips: list[Clip]) -> None:
        one = table.row("states", row)
        self.row = row
        self.ways = [
            (
                way[1],
                table.program(way[2], way[3]),
                way[0],
                way[4],
                way[5],
                way[6],
                table.sections["uses"][way[7] : way[8]],
            )
            for way in table.rows("ways", one, "ways")
        ]
        self.entry = table.acts(one["entry"], one["entry_end"])
        self.leave = table.acts(one["leave"], one["leave_end"])
        samples = table.rows("samples", one, "samples")
        self.axes = [tuple(axis) for axis in table.rows("axes", one, "axes")]
        self.clips = [clips[sample[0]] for sample in samples]
        self.phases = [sample[1] for sample in samples]
        places = [place[0] for place in table.sections["places"]]
        self.places = [places[sample[2] : sample[2] + len(self.axes)] for sample in samples]
        self.blends, self.sticky, self.clock, self.still = one["blends"], one["sticky"], one["clock"], one["still"]

    def pick(self, values: list[float], before: int) -> int:
        """Which of its clips is shown, after the one picked ``before`` (-1: none was)."""
        if not self.blends:
            return 0
        inside = [
            (reduced(value) if axis[1] else min(max(value, axis[2]), axis[3]))
            for axis, value in zip(self.axes, (values[axis[0]] if axis[0] >= 0 else 0.0 for axis in self.axes))
        ]
        best, nearest, distance = 0, math.inf, 0.0
        for number, place in enumerate(self.places):
            total = 0.0
            for axis, at, value in zip(self.axes, place, inside):
                if at is not None:
                    away = (turn(at, value) if axis[1] else value - at) / axis[4]
                    total = total + away * away
            if number == before:
                distance = total
            if total < nearest or number == 0:
                best, nearest = number, total
        if self.sticky > 0 and before >= 0:
            return best if math.sqrt(nearest) < math.sqrt(distance) - self.sticky else before
        return best

    def kept_from(self, left: State, picked: int) -> int:
        """What counts as picked before when this is entered from another state; -1: nothing."""
        if not self.blends or not left.blends or picked < 0:
            return -1
        read = [axis[0] for axis in left.axes]
        both = [(read.index(axis[0]), at) for at, axis in enumerate(self.axes) if axis[0] >= 0 and axis[0] in read]
        if not both:
            return -1
        for number, place in enumerate(self.places):
            if all(left.places[picked][one] == place[other] for one, other in both):
                return number
        return -1


class Table:
    """A character's table.  ``sections`` are lists of rows of numbers, as its ``columns`` say."""

    def __init__(self, made: dict[str, Any]) -> None:
        version = made.get("leanstep_table") if isinstance(made, dict) else None
        version = _whole(version)
        if version is None or version < 1:
            raise TableError("this is no table of Lean Step: export one with  lean-step export FILE --to table")
        if version > VERSION:
            raise TableError(
                f"the table has version {version}, and this player knows {VERSION}: take the player beside it"
            )
        for kind, part in (("columns", dict), ("sections", dict), ("names", dict), ("says", dict), ("name", str)):
            if not isinstance(made.get(kind), part):
                raise _damaged(kind)
        for section, columns in COLUMNS.items():
            if made["columns"].get(section) != columns.split():
                raise TableError(
                    f"the table's {section} have other columns than this player reads: take the player beside it"
                )
        self.name, self.rate, self.names, self.says = made["name"], made.get("rate"), made["names"], made["says"]
        self.sections: dict[str, list[list[Any]]] = {section: made["sections"].get(section) for section in COLUMNS}
        self._check()
        self._index = {kind: {name: at for at, name in enumerate(self.names[kind])} for kind in KINDS}
        self.clips = [Clip(self, row) for row in range(len(self.sections["clips"]))]
        self.states = [State(self, row, self.clips) for row in range(len(self.sections["states"]))]
        self.memories = [(*one[:2], self.program(*one[2:])) for one in self.sections["memories"]]
        self.formulas = [(one[0], self.program(*one[1:])) for one in self.sections["formulas"]]
        self.spanned = any(clip.windows for clip in self.clips)

    @classmethod
    def load(cls, path: str) -> Table:
        """Read a table's file."""
        with open(path, encoding="utf-8") as file:
            try:
                made = json.load(file, parse_constant=_no_number)
            except (ValueError, RecursionError) as error:
                raise TableError(f"{path} is no JSON: {error}") from None
        return cls(made)

    def _check(self) -> None:
        """Check a table once, so that playing needs no checks."""
        for kind in KINDS:
            names = self.names.get(kind)
            if not isinstance(names, list) or not all(isinstance(name, str) for name in names):
                raise _damaged(f"names of {kind}")
        for part in ("cues", "windows"):
            said = self.says.get(part)
            if not isinstance(said, dict) or not all(isinstance(one, dict) for one in said.values()):
                raise _damaged(f"says of {part}")
        rate = _finite(self.rate)
        if rate is None or rate <= 0:
            raise _damaged("rate")
        for section, columns in COLUMNS.items():
            rows, width = self.sections[section], len(columns.split())
            if not isinstance(rows, list) or not all(isinstance(row, list) and len(row) == width for row in rows):
                raise _damaged(section)
        for section in COLUMNS:
            rules = RULES[section].split()
            self.sections[section] = [
                self._cells(section, at, row, rules) for at, row in enumerate(self.sections[section])
            ]
        if not self._agrees():
            raise _damaged("rows that lead to each other")
        for section, begin in (("ways", 2), ("memories", 2), ("formulas", 1)):
            for row in self.sections[section]:
                if not self._is_program(row[begin], row[begin + 1]):
                    raise _damaged("programs")

    def _cells(self, section: str, at: int, row: list[Any], rules: list[str]) -> list[Any]:
        """The cells of a row, whole numbers as such, each of what its column may hold."""
        made: list[Any] = []
        for place, (cell, rule) in enumerate(zip(row, rules)):
            value: Any = _finite(cell) if rule in "#?" else _whole(cell)
            if rule == "?" and cell is None:
                made.append(None)
                continue
            name = rule[1:].rstrip("?")
            if value is None:
                fine = False
            elif rule == "i":
                fine = -EXACT <= value <= EXACT
            elif rule == "t":
                fine = 0 <= value <= EXACT or value == NEVER
            elif rule[0] == "@":
                fine = (-1 if rule[-1] == "?" else 0) <= value < len(self.sections[name])
            elif rule[0] == "%":
                fine = 0 <= value < len(self.names[name])
            elif rule[0] == "<":
                fine = value >= 0
            elif rule == ">":
                fine = made[-1] <= value <= len(self.sections[rules[place - 1][1:]])
            elif rule in "#?":
                fine = True
            else:
                low, _, high = rule.partition("..")
                fine = int(low) <= value <= int(high)
            if not fine:
                raise _damaged(f"{section}, row {at + 1}, {COLUMNS[section].split()[place]}")
            made.append(value)
        return made

    def _agrees(self) -> bool:
        """Whether what stands in several rows goes together."""
        s, names = self.sections, self.names
        if any(len(names[kind]) != len(s[kind]) for kind in ("parameters", "layers", "states", "clips")):
            return False
        for kind, _, first, low, high in s["parameters"]:
            if (kind <= WHOLE and low > high) or (
                kind == CHOICE and not (0 <= first < len(names["words"]) and first % 1 == 0)
            ):
                return False
        if not all(begin <= start < end for start, begin, end in s["layers"]):
            return False
        if not all(low <= high and step > 0 for _, _, low, high, step in s["axes"]):
            return False
        for do, target, value in s["acts"]:
            if do <= 2 and not 0 <= target < len(s["parameters"]):
                return False
            if do in (3, 4) and not 0 <= target < len(names["locks"]):
                return False
            if do == 5 and not (0 <= value <= 1e15 and value % 1 == 0):
                return False
        return all(map(self._clip_agrees, range(len(s["clips"])))) and all(map(self._state_agrees, s["states"]))

    def _clip_agrees(self, at: int) -> bool:
        one = self.row("clips", at)
        length, begin, cels, cues = (
            one["length"],
            one["begin"],
            one["cels_end"] - one["cels"],
            one["cues_end"] - one["cues"],
        )
        rate = 1.0 if one["pace"] < 0 else one["high"]
        if not 1 <= length <= LONGEST or not -1 <= begin < length or not -1 <= one["resting"] < cels:
            return False
        if one["pace"] >= 0 and (one["at"] == 0 or one["low"] < 0 or one["low"] > rate or rate > 1000):
            return False
        if one["goes"] and one["keys"] == one["keys_end"]:
            return False
        if cues * (math.floor(rate * TICK) // (length - max(begin, 0)) + 2) > MOST_MARKS:
            return False
        pieces, keys = self.rows("pieces", one, "pieces"), self.rows("keys", one, "keys")
        ordered = all(row[at][0] < row[at + 1][0] for row in (pieces, keys) for at in range(len(row) - 1))
        return ordered and (not pieces or pieces[0][0] == 0) and all(cel < cels for _, cel in pieces)

    def _state_agrees(self, row: list[Any]) -> bool:
        one = dict(zip(COLUMNS["states"].split(), row))
        axes, samples = one["axes_end"] - one["axes"], self.rows("samples", one, "samples")
        if one["sticky"] < 0 or (one["blends"] and not samples):
            return False
        clips, places = self.sections["clips"], len(self.sections["places"])
        return all(phase <= clips[clip][0] and first + axes <= places for clip, phase, first in samples)

    def _is_program(self, begin: int, end: int) -> bool:
        """Whether a postfix program leaves one number, whichever way its skips go."""
        s, depth, waiting = self.sections, 0, [(end, 0)]
        ranges = {1: len(s["parameters"]), 5: len(s["clocks"]), 6: len(s["buffers"]), 9: len(self.names["spans"])}
        ranges |= {2: ranges[1], 3: ranges[1], 11: len(s["memories"]), **dict.fromkeys((4, 7, 8, 10), len(s["layers"]))}
        at = begin
        while True:
            while len(waiting) > 1 and at == waiting[-1][0]:
                if depth != waiting.pop()[1] + 1:
                    return False
            if at == end:
                return depth == 1
            limit, base = waiting[-1]
            op, a, b, _ = s["programs"][at]
            at += 1
            if op in (15, 16):
                if depth < base + 1 or not 1 <= a <= limit - at:
                    return False
                depth -= 1
                waiting.append((at + a, depth))
                continue
            if op in ranges and not 0 <= a < ranges[op]:
                return False
            if op == 13 and not 0 <= a < len(SIGNS):
                return False
            if op == 14 and (not 0 <= a < len(TAKEN) or b < 1 or (TAKEN[a] and b != TAKEN[a])):
                return False
            taken = {12: 1, 13: 2, 14: b}.get(op, 0)
            if depth - base < taken:
                return False
            depth += 1 - taken

    def row(self, section: str, at: int) -> dict[str, Any]:
        """A row by the names of its columns."""
        return dict(zip(COLUMNS[section].split(), self.sections[section][at]))

    def rows(self, section: str, of: dict[str, Any], column: str) -> list[list[Any]]:
        """The rows a range of columns leads to."""
        return self.sections[section][of[column] : of[column + "_end"]]

    def acts(self, begin: int, end: int) -> tuple[tuple[Any, ...], ...]:
        """Effects."""
        return tuple((do, target, float(value)) for do, target, value in self.sections["acts"][begin:end])

    def index(self, kind: str, name: str) -> int:
        """The number of a name."""
        if name not in self._index[kind]:
            raise TableError(
                f"{self.name} has no {kind.rstrip('s')} called {name}; it has {', '.join(self.names[kind])}"
            )
        return self._index[kind][name]

    def program(self, begin: int, end: int) -> Callable[[list[float], Player], Any]:
        """A postfix program as a function of the values and the player: the same operations in the same order."""
        names = {"turn": turn, "reduced": reduced, "divided": _divided, **_PLAIN}
        try:
            return eval(f"lambda v, p: {self._written(begin, end)}", names)
        except (SyntaxError, MemoryError, RecursionError):
            raise TableError("a condition of the table is nested too deeply for this player") from None

    def _written(self, begin: int, end: int) -> str:
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
            op, a, b, value = self.sections["programs"][at]
            at += 1
            if op == 12:
                stack.append((f"(not {taken()})", ""))
            elif op == 13:
                right, left = taken(), taken()
                stack.append((f"({left} {SIGNS[a]} {right})", ""))
            elif op == 14:
                parts = [taken() for _ in range(b)][::-1]
                stack.append((_SUMS[a].format(*parts, all=", ".join(parts)), ""))
            elif op in (15, 16):
                word = "and" if op == 15 else "or"
                waiting.append((at + a, taken(word), word))
            else:
                stack.append((_ATOMS[op].format(a=a, b=b, value=repr(float(value))), ""))


def _damaged(what: str) -> TableError:
    return TableError(f"the table is damaged ({what}): export it again")


def _finite(value: Any) -> float | None:
    """A finite number; None for what is none."""
    if isinstance(value, bool) or not isinstance(value, int | float) or abs(value) > sys.float_info.max:
        return None
    return float(value) if value == value else None


def _whole(value: Any) -> int | None:
    """A whole number that every player can hold; None for what is none."""
    number = _finite(value)
    return None if number is None or number % 1 or abs(number) > NEVER else int(number)


def _no_number(text: str) -> None:
    raise ValueError(f"{text} is no number")


def _divided(one: float, other: float) -> float:
    return one / other if other else 0.0


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
_ATOMS = {
    0: "{value}",
    1: "v[{a}]",
    2: "(v[{a}] != 0.0 and {a} not in p.held)",
    3: "(v[{a}] == 0.0 and {a} in p.held)",
    4: "p.stays[{a}]",
    5: "p.since[{a}]",
    6: "(p.ages[{a}] < {value})",
    7: "p.is_done({a})",
    8: "p.is_at({a}, {value})",
    9: "({a} in p.on)",
    10: "(p.states[{a}] == {b})",
    11: "p.memories[{a}]",
}


class Shown(NamedTuple):
    """What a layer shows: the names of clip and frame, the cel's number, and how it is turned."""

    clip: str
    cel: int
    frame: str
    mirrored: bool
    turns: int


class Player:
    """A figure that plays a table.  After each :meth:`step`: ``states`` (rows of the table, layer by layer), ``stays`` in ticks,
    ``heads`` in 1/65536 tick, ``picks``, ``taken`` (the transition of each layer, -1: none), ``fired`` (layer, mark, cue), ``on`` (the
    spans), ``locked``, ``freeze``, and what is asked of the body: ``travelled`` (ahead, up, what counts), ``mode``, ``pushed``."""

    def __init__(self, table: Table) -> None:
        self.table = table
        self._rows = table.sections["parameters"]
        self._graph_pulses = [at for at, one in enumerate(self._rows) if one[0] == PULSE and one[1] == GRAPH]
        self._pulses = [at for at, one in enumerate(self._rows) if one[0] == PULSE and one[1] < GRAPH]
        self._buttons = [at for at, one in enumerate(self._rows) if one[0] == BUTTON]
        self._given: dict[int, float] = {}
        self._layers = range(len(table.sections["layers"]))
        self.restart()

    def restart(self) -> None:
        """Begin again, just before tick 0."""
        table, layers = self.table, len(self._layers)
        self.values = [float(one[2]) for one in self._rows]
        self.held: IntSet = set()
        self.states = [int(one[0]) for one in table.sections["layers"]]
        self.stays, self.heads, self.picks = [0] * layers, [0] * layers, [0] * layers
        self.over = [False] * layers
        self.fades: list[tuple[int, int, int, int, int] | None] = [None] * layers
        self.counters, self.memories = [0] * len(table.memories), [False] * len(table.memories)
        self.ages = [NEVER] * len(table.sections["buffers"])
        self.since = [NEVER] * len(table.sections["clocks"])
        self.raised: IntSet = set()
        self.locks: IntSet = set()
        self.freeze = 0
        self.on: IntSet = set()
        self.saying: list[tuple[int, int]] = []
        self._given.clear()
        self._begin()
        self._compute()
        for layer in self._layers:
            self._enter(layer, 0, 0, None, -1)
        self._see_spans(set())
        self.locked = self._is_locked()
        self._kept = [self.values[stick[3]] for stick in table.sections["sticks"]]

    def _begin(self) -> None:
        self.taken = [-1] * len(self._layers)
        self.fired: list[tuple[int, int, int]] = []
        self.travelled, self.pushed, self.mode = (0.0, 0.0, 0), (0.0, 0.0), 0.0

    # -- what the game says ------------------------------------------------------------------------------------------

    def set(self, name: str, value: float | bool | str) -> None:
        """Set a parameter that the game, the controls or the body sets; it is kept until it is set again."""
        at = self.table.index("parameters", name)
        if self._rows[at][1] >= GRAPH:
            raise TableError(f"{name} is set by effects or formulas, not by the game")
        self._given[at] = self._fitted(at, float(self.table.index("words", value) if isinstance(value, str) else value))

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

    # -- what the game is told ---------------------------------------------------------------------------------------

    def value(self, name: str) -> float | bool | str:
        """The value of any parameter."""
        at = self.table.index("parameters", name)
        kind, value = self._rows[at][0], self.values[at]
        return str(self.table.names["words"][int(value)]) if kind == CHOICE else value != 0 if kind > BEARING else value

    def state(self, layer: str) -> str:
        """The name of a layer's state."""
        return str(self.table.names["states"][self.states[self.table.index("layers", layer)]])

    def frame(self, layer: str) -> Shown | None:
        """What a layer shows; None: nothing."""
        at = self.table.index("layers", layer)
        cel = self.cel(at)
        if cel < 0:
            return None
        clip = self._clip(at)
        assert clip is not None
        frame, mirrored, turns = clip.cels[cel]
        return Shown(clip.name, cel, self.table.names["frames"][frame], bool(mirrored), turns)

    @property
    def marks(self) -> list[tuple[str, dict[str, Any]]]:
        """The marks that fired on this tick, in order, with what they say."""
        said = self.table.says["cues"]
        return [(self.table.names["marks"][mark], said.get(str(cue), {})) for _, mark, cue in self.fired]

    @property
    def spans(self) -> dict[str, dict[str, Any]]:
        """The spans that are on, with what they say."""
        said, names = self.table.says["windows"], self.table.names["spans"]
        return {names[span]: said.get(str(window), {}) for span, window in self.saying}

    def cel(self, layer: int) -> int:
        """The number of the cel a layer shows; -1: none."""
        clip = self._clip(layer)
        if clip is None:
            return -1
        if clip.resting >= 0 and not clip.amount(self.values):
            return int(clip.resting)
        return clip.cel_at(self.heads[layer])

    # -- a tick ------------------------------------------------------------------------------------------------------

    def step(self) -> None:
        """One tick with what has been set."""
        table, values = self.table, self.values
        for at in self._pulses:
            values[at] = 0.0
        for at in self._graph_pulses:
            values[at] = 1.0 if at in self.raised else 0.0
        for at, value in self._given.items():
            values[at] = value
        self._given.clear()
        for stick, kept in zip(table.sections["sticks"], self._kept):
            if not values[stick[2]]:
                values[stick[3]] = kept
        self._begin()
        self._compute()
        self.raised.clear()
        self._fade_on()
        frozen = self.freeze > 0
        if frozen:
            self.freeze -= 1
            self._see_spans(set())
        else:
            self._advance()
        self._remember()
        locked = self._is_locked()
        if not frozen:
            states, fades = table.states, self.fades
            for layer in self._layers:
                fade = fades[layer]
                if fade is not None and fade[4]:
                    continue
                for way in states[self.states[layer]].ways:
                    if way[1](values, self):
                        self._take(layer, way)
                        break
        self.held = {at for at in self._buttons if values[at]}
        self.locked = locked or self._is_locked()
        self._kept = [values[stick[3]] for stick in table.sections["sticks"]]

    def is_at(self, layer: int, share: float) -> bool:
        """Whether a layer's playhead is at or past a share of its clip."""
        clip = self._clip(layer)
        return clip is not None and self.heads[layer] >= share * clip.length

    def is_done(self, layer: int) -> bool:
        """Whether the clip of a layer is done: it repeats and has wrapped since entry, or stands at its length."""
        clip = self._clip(layer)
        if clip is None:
            return False
        return self.over[layer] if clip.begin >= 0 else self.heads[layer] >= clip.length

    def _clip(self, layer: int) -> Clip | None:
        clips = self.table.states[self.states[layer]].clips
        return clips[self.picks[layer]] if clips else None

    def _advance(self) -> None:
        held = self._held_by_spans()
        for layer in self._layers:
            self.stays[layer] += 1
            state = self.table.states[self.states[layer]]
            if not state.clips:
                continue
            before, head = self.picks[layer], self.heads[layer]
            pick = state.pick(self.values, before)
            clip = state.clips[pick]
            if pick != before:
                old = state.clips[before]
                moved = (head - state.phases[before]) * clip.length // old.length + state.phases[pick]
                head = clip.folded(moved if moved >= 0 else moved + clip.length if clip.begin >= 0 else 0)
                self.picks[layer] = pick
            amount = clip.amount(self.values)
            if head + amount >= clip.length and clip.begin >= 0:
                self.over[layer] = True
            self.heads[layer] = clip.folded(head + amount)
            if clip.goes:
                ahead, up, goes = self.travelled
                self.travelled = ahead + clip.gone(head, amount, 1), up + clip.gone(head, amount, 2), goes | clip.goes
            if clip.cues:
                for _, mark, acts, cue in clip.fired(head, amount):
                    self.fired.append((layer, mark, cue))
                    self._apply(acts, True)
        self._see_spans(held)

    def _fade_on(self) -> None:
        for layer, fade in enumerate(self.fades):
            if fade is not None:
                state, pick, head, left, blocks = fade
                clips = self.table.states[state].clips
                head = clips[pick].folded(head + TICK) if clips else head
                self.fades[layer] = (state, pick, head, left - 1, blocks) if left > 0 else None

    def _remember(self) -> None:
        for slot, (at, most) in enumerate(self.table.sections["buffers"]):
            if self.values[at] and at not in self.held:
                self.ages[slot] = 0
            elif self.ages[slot] != NEVER:
                self.ages[slot] = self.ages[slot] + 1 if self.ages[slot] + 1 < most else NEVER
        for slot, (most,) in enumerate(self.table.sections["clocks"]):
            if self.since[slot] != NEVER:
                self.since[slot] = self.since[slot] + 1 if self.since[slot] + 1 < most else NEVER
        counters, memories = self.counters, self.memories
        for at in range(len(memories)):
            memories[at] = False
        for at, (within, ticks, program) in enumerate(self.table.memories):
            true = program(self.values, self)
            if within:
                counters[at] = ticks if true else max(counters[at] - 1, 0)
                memories[at] = counters[at] > 0
            else:
                counters[at] = min(counters[at] + 1, ticks) if true else 0
                memories[at] = counters[at] >= ticks

    def _take(self, layer: int, way: tuple[Any, ...]) -> None:
        target, _, self.taken[layer], fade, blocks, keep, uses = way
        held = self._held_by_spans()
        old = self.table.states[self.states[layer]]
        for slot, ticks in uses:
            if self.ages[slot] < ticks:
                self.ages[slot] = NEVER
        self._apply(old.leave, False)
        self._end_spans(held, layer)
        if target != old.row and old.clock >= 0:
            self.since[old.clock] = 0
        pick, head = self.picks[layer], self.heads[layer]
        self.fades[layer] = (old.row, pick, head, fade, blocks) if fade else None
        length = old.clips[pick].length if old.clips else 0
        self.states[layer], self.stays[layer] = target, 0
        self._enter(layer, head if keep else 0, length, old, pick if old.clips else -1)
        self._see_spans(set())

    def _end_spans(self, held: IntSet, layer: int) -> None:
        ended = held - self._held_by_spans(layer) - {-1}
        for at in ended:
            self.values[at] = 0.0
        if ended:
            self._compute()

    def _enter(self, layer: int, head: int, old_length: int, left: State | None, picked: int) -> None:
        state = self.table.states[self.states[layer]]
        self.heads[layer] = self.picks[layer] = 0
        self.over[layer] = False
        self._apply(state.entry, False)
        if not state.clips:
            return
        self.picks[layer] = state.pick(self.values, state.kept_from(left, picked) if left is not None else -1)
        clip = state.clips[self.picks[layer]]
        if head and old_length:
            self.heads[layer] = clip.folded(head * clip.length // old_length)
        if not self.heads[layer]:
            for at, mark, acts, cue in clip.cues:
                if clip.at_start(at):
                    self.fired.append((layer, mark, cue))
                    self._apply(acts, False)

    def _apply(self, acts: tuple[tuple[Any, ...], ...], now: bool) -> None:
        for do, target, value in acts:
            if do == 0:
                self.values[target] = value
            elif do == 1:
                self.values[target] = self._fitted(target, self.values[target] + value)
            elif do == 2 and now:
                self.values[target] = 1.0
            elif do == 2:
                self.raised.add(target)
            elif do == 3:
                self.locks.add(target)
            elif do == 4:
                self.locks.discard(target)
            elif do == 5:
                self.freeze = max(self.freeze, int(value))
            elif do == 6:
                self.mode = value
            elif do == 7:
                self.pushed = self.pushed[0] + value, self.pushed[1]
            elif do == 8:
                self.pushed = self.pushed[0], self.pushed[1] + value
            self._compute()

    def _compute(self) -> None:
        for at, program in self.table.formulas:
            self.values[at] = float(program(self.values, self))

    def _fitted(self, at: int, value: float) -> float:
        kind, _, _, low, high = self._rows[at]
        if kind > BEARING:
            return value if kind == CHOICE else 1.0 if value else 0.0
        if kind == BEARING:
            return reduced(value)
        value = float(min(max(value, low), high))
        return float(round(value)) if kind == WHOLE and value == value else value

    def _windows(self, but: int = -1) -> Iterator[tuple[Any, ...]]:
        """The spans that are on, of every layer ``but`` one, with the rows of their windows."""
        for layer in self._layers:
            clip = self._clip(layer) if layer != but else None
            if clip is not None and clip.windows:
                head, first = self.heads[layer], self.table.sections["clips"][clip.row][9]
                for number, window in enumerate(clip.windows):
                    if window[0] <= head < window[1]:
                        yield (*window, first + number)

    def _held_by_spans(self, but: int = -1) -> IntSet:
        return {window[2] for window in self._windows(but)} if self.table.spanned else set()

    def _see_spans(self, before: IntSet) -> None:
        if not self.table.spanned:
            return
        windows = list(self._windows())
        held = {window[2] for window in windows}
        for at in (before | held) - {-1}:
            self.values[at] = 1.0 if at in held else 0.0
        self.on = {window[4] for window in windows}
        self.saying = [(window[4], window[5]) for window in windows]
        if before | held:
            self._compute()

    def _is_locked(self) -> bool:
        if self.locks or any(self.table.states[state].still for state in self.states):
            return True
        return self.table.spanned and any(window[3] for window in self._windows())


def replay(table: Table, golden: str) -> Iterator[str]:
    """Play what a golden trace sets, and write down what comes out, line by line in the same format."""
    player = Player(table)
    told = [at for at, one in enumerate(table.sections["parameters"]) if one[1] >= GRAPH]
    for line in golden.splitlines():
        if line.startswith("in"):
            for word in line.split()[1:]:
                at, bits = word.split("=")
                if int(at) < len(player.values):
                    player._given[int(at)] = struct.unpack(">d", bytes.fromhex(bits))[0]
            player.step()
        if not line.startswith("out"):
            yield line
        if line.startswith(("in", "begin")):
            yield _told(player, told)


def _told(player: Player, told: list[int]) -> str:
    layers = range(len(player.states))
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
    return "out " + " ".join(f"{name}={','.join(map(str, row))}" for name, row in fields.items())


def _bits(value: float) -> str:
    # what is no number has many bits
    return struct.pack(">d", value if value == value else math.nan).hex()


def main(paths: list[str]) -> int:
    """Replay golden traces, each behind its table; print what comes out."""
    if not paths or len(paths) % 2:
        print("usage: leanstep_player.py NAME.table.json TAKE.golden.txt ...", file=sys.stderr)
        return 2
    for at in range(0, len(paths), 2):
        with open(paths[at + 1], encoding="utf-8") as file:
            for line in replay(Table.load(paths[at]), file.read()):
                print(line)
    return 0


if __name__ == "__main__":
    try:
        sys.exit(main(sys.argv[1:]))
    except (TableError, OSError) as error:
        sys.exit(str(error))
