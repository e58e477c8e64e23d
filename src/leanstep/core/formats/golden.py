"""Golden traces: what goes into a character on every tick and what comes out, by which a player in any language is judged.

Text, one tick in two lines: ``in`` with what is set, ``out`` with what there is after it.  Doubles are the 16 hexadecimal digits of
their bits, so that two traces are the same when their bytes are.
"""

from __future__ import annotations

import struct
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from leanstep.core.body.body_state import BodyState
from leanstep.core.character.pin_edits import Spot
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.contact import Figure, Side, decided
from leanstep.core.rehearsal.deforming import Deformed, after, at_start
from leanstep.core.rehearsal.drawable import layers_seen, looks_left
from leanstep.core.rehearsal.pair_traces import PairTrace
from leanstep.core.rehearsal.part_poses import part_poses
from leanstep.core.rehearsal.pin_places import accessories_of, mark_places, pins_of
from leanstep.core.rehearsal.situation import Setting, Situation, Step
from leanstep.core.rehearsal.step_trace import given, spread
from leanstep.core.rehearsal.stepping import Stepper, requests_of
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.tick.columns import Table

if TYPE_CHECKING:
    from leanstep.core.cut_outs.frame_poses import PosesBySheet

Changes = Sequence[Setting]
STILL = BodyState(0.0, 0.0)
"""A body of which nothing is asked."""
AT_REST = BodyState(0.0, 0.0, grounded=True)


def golden(
    machine: Machine,
    table: Table,
    name: str,
    inputs: Iterable[Mapping[int, Symbolic]],
    bodies: Iterable[BodyState] = (),
    poses: PosesBySheet | None = None,
) -> str:
    """A golden trace of what ``inputs`` set, tick by tick, in the world in which the game moves the body; ``bodies`` are how it does,
    at rest where nothing is said, ``poses`` those that the table was made with."""
    figure, moving = _Told(Figure(machine), table, poses), iter(bodies)
    lines = [_title("golden", machine, name), "begin", figure.told()]
    for row in inputs:
        moved = next(moving, figure.body)
        figure.step(row, moved)
        lines += [figure.writer.given(row, moved), figure.told()]
    return "\n".join(lines) + "\n"


def golden_pair(
    pair: PairTrace,
    tables: tuple[Table, Table],
    name: str,
    changes: tuple[Changes, Changes],
    poses: tuple[PosesBySheet, PosesBySheet] = ({}, {}),
) -> str:
    """A golden trace of what two figures have done with these ``changes``; ``poses`` are those of the tables.  Of each tick
    ``in`` and ``out`` of both, between them ``at``, where they stand, and then ``met``, what touched: who strikes, the layer, 1 for a
    hit or 2 for guarded."""
    both = [_Told(*one) for one in zip(pair.figures, tables, poses)]
    lines = [_title("golden pair", pair.figures[0].machine, name), "begin", *(one.told() for one in both)]
    rows = [spread(some, len(trace.steps)) for some, trace in zip(changes, pair.traces)]
    inputs = [_set_by_game(trace, some) for trace, some in zip(pair.traces, rows)]
    moving = [trace.bodies() for trace in pair.traces]
    sides = pair.figures[0].begun(both[0].now), pair.figures[1].begun(both[1].now)
    for given_both, bodies in zip(zip(*inputs), zip(*moving)):
        for one, side, row, body in zip(both, sides, given_both, bodies):
            one.step(row, body, side)
        met = decided(pair.figures, sides, (both[0].moved, both[1].moved))
        sides = met.sides
        places = (_place(*some) for some in zip(pair.figures, bodies))
        lines += [one.writer.given(*some) for one, *some in zip(both, given_both, bodies)]
        lines += [f"at {' '.join(','.join(map(_bits, place)) for place in places)}", *(one.told() for one in both)]
        touches = sorted((who, one.layer, 1 + one.guarded) for who in (0, 1) for one in met.touches[who])
        lines.append(" ".join(["met", *(":".join(map(str, one)) for one in touches)]))
    return "\n".join(lines) + "\n"


def _title(kind: str, machine: Machine, name: str) -> str:
    return " ".join(f"leanstep {kind} 1: {machine.character.name}, {name}".split())


class _Told:
    """A figure in the world in which the game moves the body, as far as it has come, and how it is written down."""

    def __init__(self, figure: Figure, table: Table, poses: PosesBySheet | None = None) -> None:
        machine = figure.machine
        self.figure, self.writer = figure, _Writer(machine, table, poses or {})
        self.stepper = Stepper(machine, free=True)
        self.now = self.stepper.first()
        self.body = replace(AT_REST, facing=90.0) if machine.character.body.model == "above" else AT_REST
        self.shape = at_start(machine, self.now)
        self.done = _began(machine, self.now)

    def step(self, row: Mapping[int, Symbolic], moved: BodyState, due: Side | None = None) -> None:
        """One tick of what is set, and of what contact on the tick before raises (``due``); then the game has moved the body."""
        before, still = replace(self.now, body=self.body), replace(self.now, body=STILL)
        side = self.figure.begun(still) if due is None else replace(due, situation=still)
        self.done = self.figure.settled(side, self.stepper.step(still, {**side.due.given, **row}))
        self.now, self.body = self.done.situation, moved
        self.shape = after(self.figure.machine, self.shape, before, self.moved)

    @property
    def moved(self) -> Step:
        """What was done, with the body where the game has moved it."""
        return replace(self.done, situation=replace(self.now, body=self.body))

    def told(self) -> str:
        """What there is now, written down."""
        left = moves(self.figure.machine, self.body)[2] > 180.0
        return self.writer.told(self.done, self.shape, left)


def _set_by_game(trace: Trace, rows: Iterable[Mapping[int, Symbolic]]) -> Iterator[dict[int, Symbolic]]:
    """What a game would set of a figure that is touched: what contact raises only where it is set besides."""
    touched = trace.machine.touched
    raised = touched.pulses | {touched.stun, touched.strength}
    for row, told in zip(rows, inputs_of(trace)):
        asked = {index: value for index, value in row.items() if index in raised}
        yield {index: value for index, value in told.items() if index not in raised} | asked


def _place(figure: Figure, body: BodyState) -> tuple[float, ...]:
    """Where a figure stands for contact: x, y, how wide and high a pixel is, how much of a push goes along, whether it looks left."""
    return body.x, body.y + body.lift, *figure.scale, figure.along(body), float(looks_left(figure.machine, body))


def moves(machine: Machine, body: BodyState) -> tuple[float, ...]:
    """How a body moves, as a game tells it: velocity, up, facing as a bearing, whether it stands."""
    if machine.character.body.model == "above":
        return body.speed, body.rise, body.facing, float(body.grounded)
    return body.vx, body.vy, 90.0 if body.facing > 0 else 270.0, float(body.grounded)


def inputs_of(trace: Trace) -> Iterator[dict[int, Symbolic]]:
    """What a game would set on every tick of a trace: what changes of the values from outside, the body's among them."""
    machine = trace.machine
    before: Sequence[Symbolic] = [symbol.first for symbol in machine.symbols]
    for tick, values in enumerate(trace.values()):
        yield given(machine, before, values, bool(machine.countdowns) and trace.after(tick).freeze > 0)
        before = values


def _began(machine: Machine, now: Situation) -> Step:
    """What there is before tick 0, as a step."""
    marks, fired_in = list[tuple[int, str]](), list[tuple[int, int, int]]()
    for layer, state in enumerate(now.states):
        picture = machine.pictures[layer][state]
        if picture is not None:
            cues = picture.reels[now.picks[layer]].fired_on_entry(0)
            marks += [(layer, cue.name) for cue in cues]
            fired_in += [(state, now.picks[layer], cue.number) for cue in cues]
    return Step(now, (-1,) * len(now.states), tuple(marks), tuple(fired_in))


class _Writer:
    """Writes lines down with the numbers that a table gives to names."""

    def __init__(self, machine: Machine, table: Table, poses: PosesBySheet) -> None:
        self.machine, self.poses = machine, poses
        self.words = {name: at for at, name in enumerate(table.names.words)}
        self.marks = {name: at for at, name in enumerate(table.names.marks)}
        self.spans = {name: at for at, name in enumerate(table.names.spans)}
        self.first = [row[1] for row in table.sections["layers"]]
        self.frames = {name: at for at, name in enumerate(table.names.frames)}
        self.version = table.leanstep_table
        self.told_symbols = [at for at, one in enumerate(machine.symbols) if not one.free]

    def given(self, row: Mapping[int, Symbolic], body: BodyState) -> str:
        """What is set on a tick."""
        words = ["in", *(f"{index}={self._bits(value)}" for index, value in sorted(row.items()))]
        if self.version > 2:
            words.append(f"body={','.join(map(self._bits, moves(self.machine, body)))}")
        return " ".join(words)

    def told(self, step: Step, shape: Deformed, left: bool) -> str:
        """What there is after a tick; ``left``: the figure looks there."""
        now, layers = step.situation, range(len(step.fired))
        body = now.body
        fields: dict[str, Iterable[object]] = {
            "states": [int(self.first[at] or 0) + now.states[at] for at in layers],
            "stays": now.stays,
            "heads": now.playheads,
            "picks": now.picks,
            "cels": [self._cel(now, at) for at in layers],
            "taken": step.fired,
            "marks": [f"{layer}:{self.marks[name]}" for layer, name in step.marks],
            "spans": sorted(self._spans(now)),
            "locked": [int(now.locked)],
            "freeze": [now.freeze],
            "travel": [self._bits(body.travel), self._bits(body.travel_up), int(body.travels)],
            "asked": map(self._bits, (body.mode, body.push, body.push_up)),
            "values": [self._bits(now.values[at]) for at in self.told_symbols],
        }
        if self.version > 1:
            fields |= {"requests": self._requests(now), "draws": self._drawn(now)}
        if self.version > 5:
            fields |= self._pinned(step, shape, left)
        if self.version > 6:
            fields["parts"] = self._parts(now, left)
        if self.version > 2:
            fields["shape"] = [*map(self._bits, (shape.wide, shape.high, shape.lean)), int(shape.whole_pixels)]
        return "out " + " ".join(f"{name}={','.join(map(str, row))}" for name, row in fields.items())

    def _bits(self, value: Symbolic) -> str:
        return _bits(self.words[value] if isinstance(value, str) else value)

    def _requests(self, now: Situation) -> Iterator[object]:
        """What the states ask of the body."""
        layers, asked = self.machine.character.layers, requests_of(self.machine, now.states)
        yield asked.mode
        yield int(any(layer.states[at].backward for layer, at in zip(layers, now.states)))
        yield from map(self._bits, (asked.face, asked.cap, asked.fall, asked.wide, asked.high))

    def _drawn(self, now: Situation) -> Iterator[str]:
        """What is drawn of a figure that looks right, from the back to the front."""
        for layer, piece in reversed([*layers_seen(self.machine, now)]):
            frame, turns = self.frames[f"{piece.sheet}/{piece.frame}"], int(piece.turn // 90) % 4
            yield f"{layer}:{frame}:{int(piece.mirrored)}:{turns}:{self._bits(piece.x)}:{self._bits(piece.y)}"

    def _pinned(self, step: Step, shape: Deformed, left: bool) -> dict[str, Iterable[object]]:
        """Where pin points lie, what is pinned to them, and where marks fire, of a figure that looks ``left`` or right."""
        now = _looking(step.situation, left)
        pins = (
            f"{layer}:{self.words[name]}:{self._spot(spot)}:{int(spot.behind)}"
            for layer, name, spot in pins_of(self.machine, now, shape)
        )
        held = (
            f"{self.words[one.name]}:{layer}:{int(behind)}:{self.frames[f'{piece.sheet}/{piece.frame}']}:{int(piece.mirrored)}:"
            + ":".join(map(self._bits, (*piece.pinned, piece.turn)))
            for layer, one, behind, piece in accessories_of(self.machine, now, shape)
        )
        places = enumerate(mark_places(self.machine, replace(step, situation=now), shape))
        marks = (f"{at}:{self.words[one[0]]}:{self._spot(one[1])}" for at, one in places if one is not None)
        return {"pins": pins, "pinned": held, "places": marks}

    def _parts(self, now: Situation, left: bool) -> Iterator[str]:
        """How the parts of what is seen are moved."""
        for layer, part, pose in part_poses(self.machine, self.poses, _looking(now, left)):
            moved = map(self._bits, (pose.x, pose.y, pose.turn, pose.wide, pose.high))
            yield f"{layer}:{self.words[part]}:{':'.join(moved)}"

    def _spot(self, spot: Spot) -> str:
        return ":".join(map(self._bits, (spot.x, spot.y, spot.angle)))

    def _cel(self, now: Situation, layer: int) -> int:
        picture = self.machine.pictures[layer][now.states[layer]]
        if picture is None:
            return -1
        at = picture.reels[now.picks[layer]].number_shown(now.playheads[layer], now.values)
        return -1 if at is None else at

    def _spans(self, now: Situation) -> set[int]:
        found = set()
        for layer, state in enumerate(now.states):
            picture = self.machine.pictures[layer][state]
            if picture is not None:
                windows = picture.reels[now.picks[layer]].on(now.playheads[layer])
                found |= {self.spans[window.name] for window in windows}
        return found


def _looking(now: Situation, left: bool) -> Situation:
    """A situation of a figure of whose body nothing is asked, which looks ``left`` or right."""
    way = -1.0 if left else 1.0
    return replace(now, body=replace(STILL, facing=way, side=way))


def _bits(value: float) -> str:
    return struct.pack(">d", value).hex()
