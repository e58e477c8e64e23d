"""How soon a press shows, and how soon the stick is obeyed again: each button tried in each state that the takes come to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import islice
from statistics import median_low

from msgspec.structs import replace

from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.expression import phase_span
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.answers import Answers
from leanstep.core.rehearsal.saved_situations import beginning_of
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import shown
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.work import look

TICKS = 60
"""Ticks for which it is waited that a press shows, or the stick is obeyed."""
TRIES = 6
"""Moments of a state in which each button is tried: as far apart in its stays as the takes have them."""


@dataclass(frozen=True)
class Response:
    """What comes of presses of a button in a state of a layer.

    ``pictures`` are the ticks from a press to the first other picture than without it, ``hits`` those to the first active phase from
    then on, and ``steering`` those to the first on which the stick is obeyed, shortest first; 1 is the tick of the press itself.
    ``eaten`` presses of ``tries`` showed nothing within :data:`TICKS`, ``why`` says what kept them mostly.  ``worst`` is the take of
    the slowest, or of an eaten one.
    """

    button: str
    layer: str
    state: str
    pictures: tuple[int, ...]
    hits: tuple[int, ...]
    steering: tuple[int, ...]
    eaten: int
    tries: int
    why: str
    worst: Take

    @property
    def texts(self) -> tuple[str, ...]:
        """A line of a table of it: button, state, pictures, hits, steering, how many were eaten, and why."""
        eaten = f"{self.eaten} of {self.tries}" if self.eaten else ""
        told = map(in_words, (self.pictures, self.hits, self.steering))
        return self.button, self.state, *told, eaten, self.why

    @property
    def late(self) -> int:
        """Ticks until the slowest press shows; 0 where none does."""
        return self.pictures[-1] if self.pictures else 0


def in_words(ticks: tuple[int, ...]) -> str:
    """Best, usual and worst of some ticks: ``1``, ``1 to 4, mostly 2``; empty without any."""
    if not ticks:
        return ""
    best, usual, worst = ticks[0], median_low(ticks), ticks[-1]
    return str(best) if best == worst else f"{best} to {worst}, mostly {usual}"


def responses(
    machine: Machine, traces: Mapping[str, Trace], buttons: tuple[str, ...] | None = None
) -> Iterator[Response]:
    """What comes of pressing each button (or only some) in each state that takes come to with a body; states of further layers are
    told where a press shows."""
    moments = _moments(machine, traces)
    for index, symbol in enumerate(machine.symbols):
        if symbol.kind != "button" or (buttons is not None and symbol.name not in buttons):
            continue
        for (layer, state), found in moments.items():
            tried = [one for one in found if not one.situation.values[index]]
            if tried:
                response = _tried(machine, index, layer, state, tried)
                if layer == 0 or response.pictures:
                    yield response


class _Moment:
    """A moment of a stay, and what comes of it while nothing more is done: worked out once for all buttons."""

    def __init__(self, machine: Machine, situation: Situation) -> None:
        self.machine, self.situation = machine, situation

    @cached_property
    def idle(self) -> Take:
        """Nothing is done but what is held already."""
        return Take(name="idle", ticks=TICKS, begins=beginning_of(self.machine, self.situation))

    @cached_property
    def _pictures(self) -> list[tuple[object, ...]]:
        trace = rehearse(self.machine, self.idle)
        return [_picture(self.machine, trace.after(tick + 1)) for tick in range(len(trace.steps))]

    def parts_from(self, other: Trace) -> int | None:
        """The first tick on which another trace from here shows another picture; None where none does."""
        pictures = enumerate(self._pictures)
        return next((at for at, one in pictures if one != _picture(self.machine, other.after(at + 1))), None)


def _moments(machine: Machine, traces: Mapping[str, Trace]) -> dict[tuple[int, int], list[_Moment]]:
    """By layer and state, moments of its stays: early, late and between."""
    takes = {take.name: take for take in machine.character.takes}
    stays: dict[tuple[int, int], list[tuple[str, int, int]]] = {}
    for name, trace in traces.items():
        if takes[name].world == "body":
            for layer in range(len(machine.layers)):
                for run in trace.ribbon(layer):
                    stays.setdefault((layer, run.state), []).append((name, run.start, run.end))
    found: dict[tuple[int, int], list[_Moment]] = {}
    for place, runs in sorted(stays.items(), key=lambda one: one[0]):
        # first the middle of each stay, then nearer to its ends
        ticks = dict.fromkeys(
            (name, start + min(int((end - start) * share), end - start - 1) + 1)
            for share in (0.5, 0.0, 0.9, 0.25, 0.7)
            for name, start, end in runs
            if end > start
        )
        found[place] = [
            _Moment(machine, traces[name].after(min(tick, len(traces[name].steps))))
            for name, tick in islice(ticks, TRIES)
        ]
    return found


def _tried(machine: Machine, button: int, layer: int, state: int, moments: list[_Moment]) -> Response:
    name = machine.symbols[button].name
    pictures: list[tuple[int, Take]] = []
    hits: list[int] = []
    steering: list[int] = []
    eaten: list[tuple[str, Take]] = []
    for moment in moments:
        look()
        base = replace(moment.idle, name=f"{name} in {machine.layers[layer].states[state]}")
        press = replace(base, changes=(Change(at=0, set={name: True}),))
        pressed = rehearse(machine, press)
        at = moment.parts_from(pressed)
        if at is None:
            eaten.append((_why(machine, pressed, press, button, layer, state, moment.situation), press))
            continue
        pictures.append((at + 1, press))
        hit = next(
            (tick for tick in range(at, len(pressed.steps)) if is_active(machine, pressed.after(tick + 1))), None
        )
        if hit is not None:
            hits.append(hit + 1)
        obeyed = _obeyed(machine, base, name)
        if obeyed is not None:
            steering.append(obeyed + 1)
    pictures.sort(key=lambda one: one[0])
    usual = Counter(why for why, _ in eaten).most_common(1)
    return Response(
        name,
        machine.layers[layer].name,
        machine.layers[layer].states[state],
        tuple(ticks for ticks, _ in pictures),
        tuple(sorted(hits)),
        tuple(sorted(steering)),
        len(eaten),
        len(moments),
        usual[0][0] if usual else "",
        pictures[-1][1] if pictures else eaten[0][1],
    )


def is_active(machine: Machine, now: Situation) -> bool:
    """Whether some layer shows a clip that stands in an active phase."""
    name = phase_span("active")
    return any(
        window.name == name
        for row, state, pick, playhead in zip(machine.pictures, now.states, now.picks, now.playheads)
        for picture in (row[state],)
        for window in (picture.reels[pick].on(playhead) if picture is not None else ())
    )


def _picture(machine: Machine, now: Situation) -> tuple[object, ...]:
    cels = (
        shown(row[state], pick, playhead, now.values)
        for row, state, pick, playhead in zip(machine.pictures, now.states, now.picks, now.playheads)
    )
    # a state without a picture is a shape of its own
    bare = (state if row[state] is None else -1 for row, state in zip(machine.pictures, now.states))
    return (*cels, *bare, now.body.facing)


def _obeyed(machine: Machine, base: Take, button: str) -> int | None:
    """The first tick after a press on which pushing the stick one way or the other moves the body otherwise."""
    stick = machine.character.body.stick
    ways = [f"{stick}.{axis}" for axis in ("x", "y") if f"{stick}.{axis}" in machine.index]
    found = []
    for way in ways:
        pushed = [
            rehearse(machine, replace(base, changes=(Change(at=0, set={button: True, way: push}),)))
            for push in (1.0, -1.0)
        ]
        first, second = (trace.bodies() for trace in pushed)
        unlike = (
            at for at, (a, b) in enumerate(zip(first, second)) if (a.vx, a.vy, a.x, a.y) != (b.vx, b.vy, b.x, b.y)
        )
        found.append(next(unlike, None))
    return min((one for one in found if one is not None), default=None)


def _why(machine: Machine, trace: Trace, take: Take, button: int, layer: int, state: int, moment: Situation) -> str:
    """What keeps a press from showing: parts of conditions that read it, a lock, or that nothing reads it."""
    reading = [
        way
        for way in machine.layers[layer].ways[state]
        if way.condition is not None and button in x.symbols_in(way.condition) and way.target != state
    ]
    answers = Answers(trace, take)
    for way in reading:
        for one in answers.why_not(0, layer, way.target).ways:
            if one.index == way.index and one.untried:
                return one.untried
            if one.index == way.index and one.missing:
                return f"it asks for: {one.asks}"
    if moment.locked and machine.symbols[button].name in (machine.character.body.jump, machine.character.body.run):
        return "movement is locked"
    if any(fade is not None and fade.left and fade.blocks for fade in moment.fades):
        return "a crossfade is not to be interrupted"
    return "nothing asks for it here"
