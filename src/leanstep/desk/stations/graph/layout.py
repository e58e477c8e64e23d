"""Where lanes, figures and arcs go.  No drawing here: numbers in, numbers out (pixels, y grows downwards).

Lanes are rows; a lane with more than ten states wraps.  Inside a row arcs run over the figures to the right and under
the names to the left.  Between rows, risers run in gutters that are reserved for them, each in a track of its own, and
through the rows they only pass between the figures, so that no arc crosses a figure or a name of such a row.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Transition

PER_ROW = 10
MARGIN, RIGHT = 118.0, 46.0
NAME, LONG_NAME = 18.0, 31.0
"""Heights of a name on one line and on two."""
LETTER = 7.6
"""About how wide a letter of a name is."""
LEVEL, TRACK = 8.0, 5.0
WHOLE, LANE = "whole", "lane"

Bundle = tuple[int, str, str]
"""Risers that share a track: those that leave one state, or those that arrive at one state, from one side."""


@dataclass
class Slot:
    """A state's place: ``x`` is its middle, ``ground`` where it stands, ``top`` the top of its figure."""

    layer: int
    name: str
    row: int
    x: float = 0.0
    top: float = 0.0
    ground: float = 0.0
    size: float = 64.0
    name_height: float = NAME

    @property
    def bottom(self) -> float:
        """Below the name."""
        return self.ground + self.name_height


def lines_of(name: str) -> tuple[str, str]:
    """A name in two lines: broken after the space or sign nearest to its middle, or else in the middle."""
    breaks = [at + 1 for at, letter in enumerate(name[:-1]) if not letter.isalnum()]
    middle = (len(name) + 1) // 2
    at = min(breaks, key=lambda one: abs(one - middle), default=middle)
    if abs(at - middle) > len(name) // 4:
        at = middle
    return name[:at].rstrip(), name[at:].lstrip()


@dataclass
class Row:
    """A row of states of one lane."""

    layer: int
    lane: str
    slots: list[Slot]
    first: bool
    top: float = 0.0
    bottom: float = 0.0
    ground: float = 0.0


@dataclass
class Arc:
    """All transitions of one pair, drawn once.  ``points`` is the bent line from start to end."""

    layer: int
    source: str
    target: str
    transitions: list[int]
    kind: str
    points: list[tuple[float, float]] = field(default_factory=list)


@dataclass
class Page:
    """The laid-out graph."""

    rows: list[Row]
    slots: dict[tuple[int, str], Slot]
    arcs: list[Arc]
    height: float


def lay_out(character: Character, width: float, room: float = 0.0) -> Page:
    """Lay out every layer on a page of ``width``.  Figures are 64 pixels high; they grow or shrink, between 40 and 96, as
    far as that makes the page fill ``room`` without scrolling."""
    page = _laid(character, width, 64.0)
    if room > 0:
        size = 64.0 + (room - page.height) / max(1, len(page.rows))
        page = _laid(character, width, max(40.0, min(96.0, size)))
    return page


def _laid(character: Character, width: float, tallest: float) -> Page:
    rows = list(_rows(character, width, tallest))
    slots = {(slot.layer, slot.name): slot for row in rows for slot in row.slots}
    arcs = list(_arcs(character, slots))
    _place(rows, slots, arcs, width)
    return Page(rows, slots, arcs, rows[-1].bottom + 14 if rows else 100.0)


def _rows(character: Character, width: float, tallest: float) -> Iterable[Row]:
    number = 0
    for at, layer in enumerate(character.layers):
        for lane in layer.lane_names:
            names = [state.name for state in layer.states if state.lane == lane]
            for start in range(0, max(1, len(names)), PER_ROW):
                chunk = names[start : start + PER_ROW]
                step = (width - MARGIN - RIGHT) / max(len(chunk), 4)
                size = max(32.0, min(tallest, step * 0.9))
                long = any(len(name) * LETTER + 16 > step for name in chunk)
                slots = [
                    Slot(at, name, number, MARGIN + step * (place + 0.5), 0.0, 0.0, size, LONG_NAME if long else NAME)
                    for place, name in enumerate(chunk)
                ]
                yield Row(at, lane, slots, start == 0)
                number += 1


def _arcs(character: Character, slots: dict[tuple[int, str], Slot]) -> Iterable[Arc]:
    for at, layer in enumerate(character.layers):
        pairs: dict[tuple[str, str, str], list[int]] = {}
        for number, transition in enumerate(layer.transitions):
            if (at, transition.to) in slots:
                pairs.setdefault((*_source(transition), transition.to), []).append(number)
        for (kind, source, target), numbers in pairs.items():
            if kind != "state" or (at, source) in slots:
                yield Arc(at, source, target, numbers, kind)


def _source(transition: Transition) -> tuple[str, str]:
    if transition.source:
        return "state", transition.source
    return (LANE, transition.from_lane) if transition.from_lane else (WHOLE, "")


def _place(rows: list[Row], slots: dict[tuple[int, str], Slot], arcs: list[Arc], width: float) -> None:
    """Heights of rows and gutters, then the points of every arc."""
    inside = [
        arc for arc in arcs if arc.kind == "state" and _row(slots, arc.source, arc) == _row(slots, arc.target, arc)
    ]
    risers = [arc for arc in arcs if arc not in inside]
    over = {id(arc): level for row in range(len(rows)) for arc, level in _levels(inside, slots, row, True)}
    under = {id(arc): level for row in range(len(rows)) for arc, level in _levels(inside, slots, row, False)}
    tracks: list[list[Bundle]] = [[] for _ in range(len(rows) + 1)]
    for arc in risers:
        for gutter in _gutters(arc, rows, slots):
            bundle = _bundle(arc, slots, gutter)
            if bundle not in tracks[gutter]:
                tracks[gutter].append(bundle)
    y = 8.0
    for number, row in enumerate(rows):
        y += (
            6 + TRACK * len(tracks[number]) + (8 if row.first and number and row.layer != rows[number - 1].layer else 0)
        )
        row.top = y
        highest = max(
            [over[id(arc)] for arc in inside if id(arc) in over and _row(slots, arc.source, arc) == number] or [0]
        )
        lowest = max(
            [under[id(arc)] for arc in inside if id(arc) in under and _row(slots, arc.source, arc) == number] or [0]
        )
        size = row.slots[0].size if row.slots else 40.0
        row.ground = y + 6 + LEVEL * highest + size
        row.bottom = row.ground + (row.slots[0].name_height if row.slots else NAME) + 4 + LEVEL * lowest
        for slot in row.slots:
            slot.ground, slot.top = row.ground, row.ground - slot.size
        y = row.bottom
    ports = _ports(arcs, inside, slots)
    for arc in inside:
        a, b = slots[arc.layer, arc.source], slots[arc.layer, arc.target]
        start, end = a.x + ports[id(arc), "out"], b.x + ports[id(arc), "in"]
        if id(arc) in over:
            crest = a.top - 4 - LEVEL * over[id(arc)]
            arc.points = [(start, a.top), (start, crest), (end, crest), (end, b.top)]
        else:
            crest = a.bottom + 4 + LEVEL * under[id(arc)]
            arc.points = [(start, a.bottom), (start, crest), (end, crest), (end, b.bottom)]
    channels: list[tuple[float, range]] = []
    for arc in risers:
        _route(arc, rows, slots, tracks, ports, width, channels)


def _row(slots: dict[tuple[int, str], Slot], name: str, arc: Arc) -> int:
    return slots[arc.layer, name].row


def _levels(
    arcs: list[Arc], slots: dict[tuple[int, str], Slot], row: int, rightward: bool
) -> Iterable[tuple[Arc, int]]:
    """Nesting levels of the arcs of one row: short ones inside, long ones over them."""
    spans = []
    for arc in arcs:
        a, b = slots[arc.layer, arc.source], slots[arc.layer, arc.target]
        if a.row == row and ((a.x <= b.x) == rightward):
            spans.append((abs(b.x - a.x), min(a.x, b.x), max(a.x, b.x), arc))
    placed: list[tuple[float, float, int]] = []
    for _, low, high, arc in sorted(spans, key=lambda span: span[:3]):
        level = 1 + max([other for left, right, other in placed if left < high and low < right] or [0])
        placed.append((low, high, level))
        yield arc, level


def _gutters(arc: Arc, rows: list[Row], slots: dict[tuple[int, str], Slot]) -> list[int]:
    """The gutters a riser runs through: gutter n lies above row n."""
    target = _row(slots, arc.target, arc)
    if arc.kind != "state":
        return [target]
    source = _row(slots, arc.source, arc)
    if target > source:
        return [source + 1] if target == source + 1 else [source + 1, target]
    return [source] if source == target + 1 else [source, target + 1]


def _bundle(arc: Arc, slots: dict[tuple[int, str], Slot], gutter: int) -> Bundle:
    """What an arc shares its track in a gutter with."""
    target = _row(slots, arc.target, arc)
    if gutter in (target, target + 1):
        return arc.layer, arc.target, "from above" if gutter == target else "from below"
    return arc.layer, arc.source, "leaving"


def _ports(arcs: list[Arc], inside: list[Arc], slots: dict[tuple[int, str], Slot]) -> dict[tuple[int, str], float]:
    """Where along a figure arcs leave and arrive, so that they do not lie on each other."""
    sides: dict[tuple[int, str, bool], dict[tuple[float, str], list[tuple[int, str]]]] = {}
    for arc in arcs:
        b = slots[arc.layer, arc.target]
        a = slots[arc.layer, arc.source] if arc.kind == "state" else None
        if a is not None and arc in inside:
            top = a.x <= b.x
            sides.setdefault((arc.layer, arc.source, top), {})[b.x, f"to {arc.target}"] = [(id(arc), "out")]
            sides.setdefault((arc.layer, arc.target, top), {})[a.x, f"of {arc.source}"] = [(id(arc), "in")]
            continue
        from_above = a is None or a.row < b.row
        if a is not None:
            leaving = sides.setdefault((arc.layer, arc.source, not from_above), {})
            leaving.setdefault((a.x + 0.1, "leaving"), []).append((id(arc), "out"))
        arriving = sides.setdefault((arc.layer, arc.target, from_above), {})
        arriving.setdefault((b.x - 0.1, "arriving"), []).append((id(arc), "in"))
    found: dict[tuple[int, str], float] = {}
    for (layer, name, _), ends in sides.items():
        reach = min(30.0, slots[layer, name].size * 0.45)
        step = min(11.0, 2 * reach / max(1, len(ends) - 1)) if len(ends) > 1 else 0.0
        for place, key in enumerate(sorted(ends)):
            for arc_id, end in ends[key]:
                found[arc_id, end] = (place - (len(ends) - 1) / 2) * step
    return found


def _route(
    arc: Arc,
    rows: list[Row],
    slots: dict[tuple[int, str], Slot],
    tracks: list[list[Bundle]],
    ports: dict[tuple[int, str], float],
    width: float,
    channels: list[tuple[float, range]],
) -> None:
    """The points of a riser; ``channels`` are those in use, with the rows they pass."""

    def track(gutter: int) -> float:
        place = tracks[gutter].index(_bundle(arc, slots, gutter))
        if gutter == len(rows):
            return rows[-1].bottom + 4 + TRACK * place
        return rows[gutter].top - 4 - TRACK * place

    target = slots[arc.layer, arc.target]
    end = target.x + ports[id(arc), "in"]
    if arc.kind != "state":
        y = track(target.row)
        if arc.kind == WHOLE:
            first = next(row for row in rows if row.layer == arc.layer)
            arc.points = [(30.0, first.top + 4), (30.0, y), (end, y), (end, target.top)]
        else:
            lane = next(row for row in rows if row.layer == arc.layer and row.lane == arc.source)
            x = MARGIN - 10 - 5 * (tracks[target.row].index(_bundle(arc, slots, target.row)) % 5)
            arc.points = [(x, lane.ground), (x, y), (end, y), (end, target.top)]
        return
    source = slots[arc.layer, arc.source]
    start = source.x + ports[id(arc), "out"]
    down = target.row > source.row
    leave, arrive = (source.bottom, target.top) if down else (source.top, target.bottom)
    gutters = _gutters(arc, rows, slots)
    if len(gutters) == 1:
        y = track(gutters[0])
        arc.points = [(start, leave), (start, y), (end, y), (end, arrive)]
        return
    passed = range(min(source.row, target.row) + 1, max(source.row, target.row))
    beside = [x for x, others in channels if set(others) & set(passed)]
    channel = _channel([rows[at] for at in passed], start, end, beside, width)
    channels.append((channel, passed))
    first_y, second_y = track(gutters[0]), track(gutters[1])
    arc.points = [
        (start, leave),
        (start, first_y),
        (channel, first_y),
        (channel, second_y),
        (end, second_y),
        (end, arrive),
    ]


def _channel(passed: list[Row], start: float, end: float, beside: list[float], width: float) -> float:
    """Where a riser passes rows between their figures, with the least way to go: apart from channels that are in use there, as
    far as there is room; at the right edge at the latest."""
    last = width - RIGHT + 6

    figures = [(slot.x, _half(slot) + TRACK) for row in passed for slot in row.slots]
    places = [place * TRACK for place in range(int((MARGIN + 6) / TRACK), int(last / TRACK) + 1)]
    places.sort(key=lambda x: (abs(x - start) + abs(x - end), x))
    free = [x for x in places if all(abs(x - middle) > half for middle, half in figures)]
    return next((x for x in free if all(abs(x - other) >= TRACK for other in beside)), free[0] if free else last)


def _half(slot: Slot) -> float:
    """How far a figure and its name reach to both sides."""
    longest = max(map(len, lines_of(slot.name))) if slot.name_height == LONG_NAME else len(slot.name)
    return max(slot.size / 2, longest * LETTER / 2 + 8)
