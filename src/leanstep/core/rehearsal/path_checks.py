"""How far clips took the body in a trace, and where that ended."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from leanstep.core.body.body_state import BodyState, floors
from leanstep.core.character.body import Shape
from leanstep.core.character.clips import GOES_AHEAD, GOES_THROUGH, GOES_UP, Clip
from leanstep.core.character.document import Character
from leanstep.core.clips.travel import total
from leanstep.core.rehearsal.stepping import moment_of
from leanstep.core.rehearsal.traces import Run, Trace
from leanstep.core.wording import listed

LEAST = 0.5
"""Units below which nothing is told."""
EDGE = 24.0
"""How far above the foot an edge is looked for that was not reached, in units, and how far ahead of the body."""
GIVES_BACK = ("unlock", "mode")
"""Effects of marks that give control back."""


@dataclass(frozen=True)
class Journey:
    """A stay of a state whose ``clip`` travels, from tick ``start`` to before ``end``: how far it was to go, ``planned``, and
    ``made``, ahead and up in units, and the body then.

    ``inside``: by how much it ends in a wall, the way back out and the way up (0: there is none); ``short``: how far below an edge
    it ends; ``stopped``: by how much a wall or a ceiling stopped it, ahead or up; ``lost``: the mark that would have given control
    back, and had not fired.
    """

    layer: int
    state: int
    clip: Clip
    start: int
    end: int
    planned: tuple[float, float]
    made: tuple[float, float]
    body: BodyState
    inside: tuple[float, float] = (0.0, 0.0)
    short: float = 0.0
    stopped: tuple[float, float] = (0.0, 0.0)
    lost: str = ""

    def cure(self, by: tuple[float, float]) -> tuple[float, float]:
        """The factors ahead and up by which the path has to be stretched to end so much farther."""
        ahead, up = ((goal + more) / goal if goal else 1.0 for goal, more in zip(self.planned, by))
        return ahead, up


def journeys(trace: Trace) -> Iterator[Journey]:
    """Every journey of a trace, layer by layer."""
    machine = trace.machine
    fired = [(tick, layer, name) for tick, layer, name in trace.marks()]
    for layer, row in enumerate(machine.pictures):
        if not any(picture is not None and any(reel.goes for reel in picture.reels) for picture in row):
            continue
        for run in trace.ribbon(layer):
            picture = row[run.state]
            if picture is None or not any(reel.goes for reel in picture.reels):
                continue
            found = _journey(trace, layer, run, {name for tick, at, name in fired if at == layer and _in(run, tick)})
            if found is not None:
                yield found


def _in(run: Run, tick: int) -> bool:
    return run.start <= tick <= run.end


def _journey(trace: Trace, layer: int, run: Run, fired: set[str]) -> Journey | None:
    picture = trace.machine.pictures[layer][run.state]
    planned, made = [0.0, 0.0], [0.0, 0.0]
    goes, last, pick = 0, None, 0
    # what a clip asks for on the tick it is left on is still obeyed
    for tick in range(run.start + 1 if run.start else 0, min(run.end + 1, len(trace.steps) - 1)):
        situation = trace.steps[tick].situation
        body = situation.body
        if not body.travels or situation.freeze:
            continue
        after = trace.steps[tick + 1].situation.body
        goes |= int(body.travels)
        planned[0] += body.travel
        planned[1] += body.travel_up
        for at, way in enumerate(_displacement(trace, body, after)):
            made[at] += way
        last = after
        pick = situation.picks[layer] if tick < run.end else pick
    if last is None or picture is None:
        return None
    clip = picture.reels[pick].clip
    back = [mark.name for mark in clip.marks if any(effect.do in GIVES_BACK for effect in mark.effects)]
    left = run.end < len(trace.steps)
    lost = next((name for name in back if name not in fired), "") if left else ""
    stopped = (0.0, 0.0)
    if not goes & GOES_THROUGH:
        less = [abs(one) - abs(other) for one, other in zip(planned, made)]
        ahead = less[0] if goes & GOES_AHEAD and less[0] > LEAST else 0.0
        up = less[1] if goes & GOES_UP and planned[1] > 0 and less[1] > LEAST else 0.0
        stopped = ahead, up
    over = left or moment_of(trace.machine, trace.after(len(trace.steps))).is_done(layer)
    inside = _inside(trace, last) if over and goes & GOES_THROUGH else (0.0, 0.0)
    short = _short(trace, last) if over and goes & GOES_UP and planned[1] > 0 else 0.0
    return Journey(
        layer,
        run.state,
        clip,
        run.start,
        run.end,
        (planned[0], planned[1]),
        (made[0], made[1]),
        last,
        inside,
        short,
        stopped,
        lost,
    )


def _displacement(trace: Trace, before: BodyState, after: BodyState) -> tuple[float, float]:
    """How far a body went ahead and up."""
    if trace.machine.character.body.model == "above":
        way = ((after.x - before.x) ** 2 + (after.y - before.y) ** 2) ** 0.5
        return (way if before.travel >= 0 else -way), after.lift - before.lift
    return (after.x - before.x) * before.facing, after.y - before.y


def measured(character: Character, clip: Clip) -> str:
    """How far a clip's path goes, and what that is beside the ladder or wall of the course whose height is nearest to it, in words."""
    ahead, up = total(clip)
    words = [f"{abs(ahead):.4g} units {'ahead' if ahead > 0 else 'back'}" for _ in range(abs(ahead) > 0)]
    words += [f"{abs(up):.4g} {'up' if up > 0 else 'down'}" for _ in range(abs(up) > 0)]
    goes = f"Goes {listed(words)}" if words else "Ends where it began"
    tall = [shape for shape in character.course.shapes if shape.kind in ("ladder", "floor") and shape.height > 1]
    if up <= 0 or not tall or character.body.model == "above":
        return f"{goes}."
    one = min(tall, key=lambda shape: abs(shape.height - up))
    what = f"the {one.height:.4g}-unit {'ladder' if one.kind == 'ladder' else 'wall'}"
    if up >= one.height:
        return f"{goes}: clears {what} by {up - one.height:.4g} units."
    return f"{goes}: ends {one.height - up:.4g} units below the top of {what}."


def _walls(trace: Trace) -> list[Shape]:
    character = trace.machine.character
    return floors(character.body, character.course)


def _inside(trace: Trace, body: BodyState) -> tuple[float, float]:
    """How far a body is in a wall: the way out against its facing, and up onto it."""
    above = trace.machine.character.body.model == "above"
    low = body.y - body.high / 2 if above else body.y
    for wall in _walls(trace):
        right, left = wall.x + wall.width - (body.x - body.wide / 2), body.x + body.wide / 2 - wall.x
        top, bottom = wall.y + wall.height - low, low + body.high - wall.y
        if min(right, left, top, bottom) <= LEAST or (above and wall.tall is not None and wall.tall < body.lift):
            continue
        out = left if body.facing > 0 else right
        return (min(right, left, top, bottom), 0.0) if above else (out, top)
    return 0.0, 0.0


def _short(trace: Trace, body: BodyState) -> float:
    """How far below an edge ahead a body in the air is; 0 where there is none near."""
    if body.grounded or trace.machine.character.body.model == "above":
        return 0.0
    near, far = sorted((body.x, body.x + body.facing * (body.wide / 2 + EDGE)))
    tops = [wall.y + wall.height - body.y for wall in _walls(trace) if wall.x < far and wall.x + wall.width > near]
    return min((top for top in tops if LEAST < top <= EDGE), default=0.0)
