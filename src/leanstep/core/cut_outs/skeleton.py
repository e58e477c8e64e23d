"""Where the parts of a cut-out lie: joints in joints, and two parts that reach for a target."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from leanstep.core.bearings import across, along, bearing_of, reduced
from leanstep.core.character.cut_outs import CutOut, CutOutPart, Reach
from leanstep.core.cut_outs.poses import RESTING, Pose, Poses, keyed, target_of
from leanstep.core.errors import LeanStepError

Point = tuple[float, float]


class BrokenPart(LeanStepError):
    """A ``part``, by its name, that cannot be put together with the others."""

    def __init__(self, part: str, reason: str, way_out: str) -> None:
        self.part = part
        super().__init__(f"part {part!r}", reason, way_out)


@dataclass(frozen=True)
class Placed:
    """How a part lies: what is ``u`` pixels to the right of its joint and ``v`` above it, as it is drawn, lies
    ``x + a u + b v`` to the right of the figure's foot and ``y + c u + d v`` above it."""

    x: float = 0.0
    y: float = 0.0
    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0

    def carried(self, u: float, v: float) -> Point:
        """Where a point of the part lies."""
        return self.x + (self.a * u + self.b * v), self.y + (self.c * u + self.d * v)

    def taken_back(self, x: float, y: float) -> Point:
        """Where a point of the figure lies in the part; its joint where the part has no extent."""
        area = self.a * self.d - self.b * self.c
        if area == 0.0:
            return 0.0, 0.0
        right, up = x - self.x, y - self.y
        return (self.d * right - self.b * up) / area, (self.a * up - self.c * right) / area

    def then(self, u: float, v: float, pose: Pose) -> Placed:
        """A part whose joint lies at (u, v) in this one, in a pose of its own: moved, then turned, and scaled first of all."""
        x, y = self.carried(u + pose.x, v + pose.y)
        bearing = reduced(pose.turn)
        sine, cosine = across(bearing), along(bearing)
        a, b, c, d = cosine * pose.wide, sine * pose.high, -sine * pose.wide, cosine * pose.high
        return Placed(
            x,
            y,
            self.a * a + self.b * c,
            self.a * b + self.b * d,
            self.c * a + self.d * c,
            self.c * b + self.d * d,
        )


@dataclass(frozen=True)
class Skeleton:
    """The parts of a sheet, parents before their children: each with the number of its parent (-1: none), its joint on its frame, and
    where that lies in its parent, to the right of the parent's joint (of the foot, without a parent) and above it.  ``drawn``: their
    numbers from the back to the front."""

    parts: tuple[CutOutPart, ...]
    parents: tuple[int, ...]
    joints: tuple[Point, ...]
    places: tuple[Point, ...]
    drawn: tuple[int, ...]

    def number(self, name: str) -> int:
        """The number of a part; -1 where there is none of that name."""
        return next((at for at, part in enumerate(self.parts) if part.name == name), -1)


def skeleton(parts: Sequence[CutOutPart], feet: Mapping[int, Point]) -> Skeleton:
    """How parts hang together; ``feet`` are the foot points of frames, in pixels from their top left corners.

    Raises
    ------
    BrokenPart : a part hangs on itself, or on none that is there; two have one name.
    """
    at = {part.name: number for number, part in enumerate(parts)}
    for part in parts:
        if parts[at[part.name]] is not part:
            raise BrokenPart(part.name, "two parts are called so", "Rename one of them.")
        if part.parent and part.parent not in at:
            way_out = "Choose another parent, or none."
            raise BrokenPart(part.name, f"it hangs on {part.parent!r}, which is not there", way_out)
    order = _parents_first(parts, at)
    new = {old: place for place, old in enumerate(order)}
    listed = [parts[old] for old in order]
    parents = tuple(new[at[part.parent]] if part.parent else -1 for part in listed)
    joints = tuple(_joint(part, feet) for part in listed)
    places = []
    for part, parent, joint in zip(listed, parents, joints):
        x, y = (part.at[0], part.at[1]) if part.at else joint
        root_x, root_y = joints[parent] if parent >= 0 else feet.get(part.frame, (0.0, 0.0))
        places.append((x - root_x, root_y - y))
    drawn = sorted(range(len(listed)), key=lambda place: (listed[place].order, order[place]))
    return Skeleton(tuple(listed), parents, joints, tuple(places), tuple(drawn))


def _joint(part: CutOutPart, feet: Mapping[int, Point]) -> Point:
    return (part.joint[0], part.joint[1]) if part.joint else feet.get(part.frame, (0.0, 0.0))


def _parents_first(parts: Sequence[CutOutPart], at: Mapping[str, int]) -> list[int]:
    order: list[int] = []
    for number in range(len(parts)):
        chain: list[int] = []
        while number >= 0 and number not in order:
            if number in chain:
                names = " on ".join(f"{parts[one].name!r}" for one in (*chain[chain.index(number) :], number))
                reason = f"it hangs on itself: {names}"
                raise BrokenPart(parts[number].name, reason, "Let one of them hang on another part.")
            chain.append(number)
            number = at[parts[number].parent] if parts[number].parent else -1
        order += reversed(chain)
    return order


def placed(bones: Skeleton, poses: Poses) -> list[Placed]:
    """How all parts lie in a pose, in the order of the skeleton."""
    found: list[Placed] = []
    for part, parent, (u, v) in zip(bones.parts, bones.parents, bones.places):
        pose = poses.get(part.name, RESTING)
        if part.turn:
            pose = replace(pose, turn=part.turn + pose.turn)
        found.append((found[parent] if parent >= 0 else Placed()).then(u, v, pose))
    return found


def poses_at(bones: Skeleton, cut_out: CutOut, ticks: float) -> dict[str, Pose]:
    """How parts are moved so many ticks after the beginning: by their keys, and so that they reach what they reach for."""
    poses = keyed(cut_out, ticks)
    for reach in cut_out.reaches:
        if reach.keys:
            poses |= reaching(bones, poses, reach, target_of(cut_out, reach, ticks))
    return poses


def reaching(bones: Skeleton, poses: Poses, reach: Reach, target: Point) -> dict[str, Pose]:
    """The poses of the two parts of a chain whose tip lies on ``target``, to the right of the foot and above it; stretched towards it
    where it is too far, and folded where it is too near.  Nothing where the part or its parent is not there.

    The middle joint lies where the circles about both ends meet (law of cosines; Euclid, Elements II, 12 and 13): with lengths l, m
    and distance d it is (l² − m² + d²) / 2d along the line to the target, and as far beside it as the rest of l.
    """
    lower = bones.number(reach.part)
    upper = bones.parents[lower] if lower >= 0 else -1
    if upper < 0:
        return {}
    names = bones.parts[upper].name, bones.parts[lower].name
    still = {name: replace(poses.get(name, RESTING), turn=0.0, wide=1.0, high=1.0) for name in names}
    first = placed(bones, {**poses, **still})
    above = bones.parents[upper]
    space = first[above] if above >= 0 else Placed()
    u, v = bones.places[upper]
    start_x, start_y = u + still[names[0]].x, v + still[names[0]].y
    goal_x, goal_y = space.taken_back(*target)
    right, up = goal_x - start_x, goal_y - start_y
    joint = bones.places[lower]
    middle = joint[0] + still[names[1]].x, joint[1] + still[names[1]].y
    tip = reach.tip or bones.joints[lower]
    end = tip[0] - bones.joints[lower][0], bones.joints[lower][1] - tip[1]
    one, other, far = (math.sqrt(x * x + y * y) for x, y in (middle, end, (right, up)))
    if not (one > 0.0 and other > 0.0):
        return {}
    right, up = (right / far, up / far) if far > 0.0 else (0.0, -1.0)
    reachable = min(max(far, abs(one - other)), one + other)
    along_line = (one * one - other * other + reachable * reachable) / (2.0 * reachable) if reachable > 0.0 else one
    beside = math.sqrt(max(0.0, one * one - along_line * along_line))
    side = -1.0 if reach.bend == "left" else 1.0
    elbow_x, elbow_y = along_line * right + side * beside * up, along_line * up - side * beside * right
    first_turn = bearing_of(elbow_x, elbow_y) - bearing_of(*middle)
    toward = goal_x - start_x - elbow_x, goal_y - start_y - elbow_y
    second_turn = bearing_of(*toward) - bearing_of(*end) - first_turn
    rests = bones.parts[upper].turn, bones.parts[lower].turn
    return {
        names[0]: replace(still[names[0]], turn=reduced(first_turn - rests[0])),
        names[1]: replace(still[names[1]], turn=reduced(second_turn - rests[1])),
    }
