"""Two figures on one course: their boxes, what touches, and what that raises on both on the tick after.

Each figure does steps 1 to 6 of a tick by itself; then contact is decided for both at once from what both show, so that it does not
matter which is stepped first.  The order is told in ``docs/semantics.md``, under *Contact*.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from leanstep.core.body.body_state import BodyState, asked_of
from leanstep.core.character.action_boxes import Rect, boxes_on, placed
from leanstep.core.character.clips import BoxKind, Cel, Strike
from leanstep.core.clips.phases import strike_window
from leanstep.core.conditions.evaluation import Symbolic, decide
from leanstep.core.graph.clip_tables import Reel
from leanstep.core.graph.effects import fitted
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import QUARTER, Piece, layers_seen
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper, moment_of

Inputs = Mapping[int, Symbolic]


@dataclass(frozen=True)
class PlacedBox:
    """A box of what a layer shows, where it is on the course: its edges in units, up is positive."""

    layer: int
    kind: BoxKind
    name: str
    left: float
    bottom: float
    right: float
    top: float

    def meets(self, other: PlacedBox) -> bool:
        """Whether the two overlap in an area."""
        across = min(self.right, other.right) - max(self.left, other.left)
        up = min(self.top, other.top) - max(self.bottom, other.bottom)
        return across > 0 and up > 0


@dataclass(frozen=True)
class Touch:
    """A strike of a layer's clip meets the other figure, which guards it or is hit; ``window`` counts the strikes of the clip that
    hit anew, from 1."""

    layer: int
    clip: str
    strike: Strike
    guarded: bool
    window: int


@dataclass(frozen=True)
class Due:
    """What contact raises on a figure on the next tick: values by symbol, ticks for which time stands, and a push along its facing, in
    units a second."""

    given: Mapping[int, Symbolic] = field(default_factory=dict)
    freeze: int = 0
    push: float = 0.0


@dataclass(frozen=True)
class Side:
    """One of two figures: its situation, the last strike spent on the other by layer (0: none), and what is due."""

    situation: Situation
    spent: tuple[int, ...]
    due: Due = Due()


@dataclass(frozen=True)
class Met:
    """What happened on one tick to two figures; ``touches`` are the strikes of each that met the other."""

    sides: tuple[Side, Side]
    steps: tuple[Step, Step]
    touches: tuple[tuple[Touch, ...], tuple[Touch, ...]]


@dataclass(frozen=True)
class Figure:
    """Who stands there: its machine, and how wide and high a pixel of its drawings is, in units."""

    machine: Machine
    scale: tuple[float, float] = (1.0, 1.0)

    def first(self, x: float, y: float, left: bool = False) -> Side:
        """The figure before tick 0, at a place, looking left or right."""
        now = Stepper(self.machine).first()
        above = self.machine.character.body.model == "above"
        facing = (270.0 if left else 90.0) if above else (-1.0 if left else 1.0)
        body = replace(now.body, x=x, y=y, facing=facing, side=-1.0 if left else 1.0, goal_x=x, goal_y=y)
        return self.begun(replace(now, body=body))

    def begun(self, now: Situation) -> Side:
        """The figure in a situation in which nothing has touched."""
        return Side(now, (0,) * len(self.machine.layers))

    def step(self, before: Side, inputs: Inputs) -> Step:
        """One tick by itself, with what is due."""
        stepper = self.machine.once((Figure, Stepper), lambda: Stepper(self.machine))
        return self.settled(before, stepper.step(before.situation, {**before.due.given, **inputs}))

    def settled(self, before: Side, step: Step) -> Step:
        """A step at the end of which time stands and the body is pushed, as is due."""
        now, due = step.situation, before.due
        body = asked_of(now.body, [("push", due.push)]) if due.push else now.body
        return replace(step, situation=replace(now, freeze=max(now.freeze, due.freeze), body=body))

    def boxes(self, now: Situation) -> list[PlacedBox]:
        """The boxes of what it shows, those of the foremost layer first."""
        found = []
        for layer, piece in layers_seen(self.machine, now):
            reel = _reel(self.machine, now, layer)
            number = reel.number_shown(now.playheads[layer], now.values)
            for at, rect in boxes_on(reel.clip, number) if number is not None else ():
                box = reel.clip.boxes[at]
                found.append(PlacedBox(layer, box.kind, box.name, *self._edges(_turned(rect, piece), now.body, piece)))
        return found

    def _edges(self, rect: Rect, body: BodyState, piece: Piece) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of a box about the foot, on the course."""
        left, bottom, width, height = rect
        x, y = body.x + piece.x, body.y + body.lift + piece.y
        wide, high = self.scale
        return x + left * wide, y + bottom * high, x + (left + width) * wide, y + (bottom + height) * high

    def guards(self, now: Situation) -> bool:
        """Whether it guards, after step 6 of a tick."""
        condition = self.machine.touched.guards
        return condition is not None and decide(condition, moment_of(self.machine, now))

    def is_free(self, now: Situation) -> bool:
        """Whether no phase is on and no stun counts."""
        stun = self.machine.touched.stun
        if stun >= 0 and now.values[stun]:
            return False
        return not any(
            window.name.startswith(PHASE)
            for layer in range(len(now.states))
            if self.machine.pictures[layer][now.states[layer]] is not None
            for window in _reel(self.machine, now, layer).on(now.playheads[layer])
        )

    def strikes(self, side: Side, boxes: Sequence[PlacedBox], struck: Figure, on: Side) -> tuple[Touch, ...]:
        """The strikes of what it shows (``boxes`` are all of both kinds) that meet the other figure and are not spent."""
        found = []
        vulnerable = [box for box in struck.boxes(on.situation) if box.kind == "vulnerable"]
        for layer in dict.fromkeys(box.layer for box in boxes if box.kind == "strike"):
            clip = _reel(self.machine, side.situation, layer).clip
            window = strike_window(clip, side.situation.playheads[layer])
            own = [box for box in boxes if box.layer == layer]
            if window <= side.spent[layer] or not _meet(own, "strike", vulnerable):
                continue
            reaches = not any(box.kind == "guard" for box in clip.boxes) or _meet(own, "guard", vulnerable)
            guarded = reaches and struck.guards(on.situation)
            found.append(Touch(layer, clip.name, clip.strike or Strike(), guarded, window))
        return tuple(found)

    def due(self, side: Side, from_x: float, taken: Sequence[Touch], given: Sequence[Touch]) -> Due:
        """What contact raises on it: strikes it has ``taken`` from a figure at ``from_x``, and those it has ``given``."""
        touched, values = self.machine.touched, dict[int, Symbolic]()
        hits = [one for one in taken if not one.guarded]
        for symbol, on in (
            (touched.hit, bool(hits)),
            (touched.guarded, len(hits) < len(taken)),
            (touched.lands, any(not one.guarded for one in given)),
            (touched.stopped, any(one.guarded for one in given)),
        ):
            if symbol >= 0 and on:
                values[symbol] = True
        if taken:
            stun = max(one.strike.guard_stun if one.guarded else one.strike.stun for one in taken)
            for symbol, value in (
                (touched.stun, float(stun)),
                (touched.strength, max(one.strike.strength for one in taken)),
            ):
                if symbol >= 0:
                    values[symbol] = fitted(self.machine.symbols[symbol], value)
        freeze = max((one.strike.freeze for one in (*taken, *given)), default=0)
        push = max((one.strike.push for one in taken), default=0.0)
        return Due(values, freeze, self._away(side.situation.body, from_x) * push if push else 0.0)

    def _away(self, body: BodyState, from_x: float) -> float:
        """How much of a push to the side a figure at ``from_x`` is not on goes along the facing: from -1 to 1."""
        along = self.along(body)
        return along if body.x >= from_x else -along

    def along(self, body: BodyState) -> float:
        """How much of a push to the right goes along the facing: from -1 to 1."""
        if self.machine.character.body.model == "side":
            return 1.0 if body.facing > 0 else -1.0
        return math.sin(math.radians(body.facing))


PHASE = "phase "
"""What the spans begin with that stand for phases."""


def meet(one: Figure, other: Figure, before: tuple[Side, Side], inputs: tuple[Inputs, Inputs]) -> Met:
    """One tick of two figures."""
    steps = one.step(before[0], inputs[0]), other.step(before[1], inputs[1])
    return decided((one, other), before, steps)


def _after(before: Side, step: Step) -> Side:
    """A side after a step; a strike whose state is entered anew can hit again."""
    return Side(step.situation, tuple(0 if fired >= 0 else spent for fired, spent in zip(step.fired, before.spent)))


def decided(figures: tuple[Figure, Figure], before: tuple[Side, Side], steps: tuple[Step, Step]) -> Met:
    """Contact after a step of each figure, for both at once."""
    sides = _after(before[0], steps[0]), _after(before[1], steps[1])
    if any(side.situation.freeze for side in sides):
        return Met(sides, steps, ((), ()))
    boxes = [figure.boxes(side.situation) for figure, side in zip(figures, sides)]
    first = figures[0].strikes(sides[0], boxes[0], figures[1], sides[1])
    second = figures[1].strikes(sides[1], boxes[1], figures[0], sides[0])
    if not first and not second:
        return Met(sides, steps, ((), ()))
    places = [side.situation.body.x for side in sides]
    made = (
        _spent(sides[0], first, figures[0].due(sides[0], places[1], second, first)),
        _spent(sides[1], second, figures[1].due(sides[1], places[0], first, second)),
    )
    return Met(made, steps, (first, second))


def _spent(side: Side, touches: Iterable[Touch], due: Due) -> Side:
    spent = list(side.spent)
    for one in touches:
        spent[one.layer] = one.window
    return replace(side, spent=tuple(spent), due=due)


def _meet(boxes: Iterable[PlacedBox], kind: BoxKind, others: Sequence[PlacedBox]) -> bool:
    return any(box.meets(other) for box in boxes if box.kind == kind for other in others)


def _reel(machine: Machine, now: Situation, layer: int) -> Reel:
    """The clip that a layer shows."""
    picture = machine.pictures[layer][now.states[layer]]
    assert picture is not None
    return picture.reels[now.picks[layer]]


def _turned(rect: Rect, piece: Piece) -> Rect:
    """A box of a cel as a piece is drawn."""
    return placed(rect, Cel(frame=0, mirrored=piece.mirrored, turns=round(piece.turn / QUARTER) % 4))  # type: ignore[arg-type]
