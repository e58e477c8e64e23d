"""The bodies once more, as plainly as they can be written, to hold the real ones against."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

from leanstep.core.body.records import Steer
from leanstep.core.character.body import Body, Course, Shape

MODES = ("", "walk", "climb", "float", "still")


def toward(start: float, end: float) -> float:
    """The shorter way from one bearing to another."""
    return (end - start + 180) % 360 - 180 if (end - start) % 360 != 180 else 180.0


def unit(bearing: float) -> tuple[float, float]:
    return round(math.sin(math.radians(bearing)), 15), round(math.cos(math.radians(bearing)), 15)


def bearing(x: float, y: float) -> float:
    return math.degrees(math.atan2(x, y)) % 360


@dataclass
class Reference:
    """One body on one course; everything it knows of itself is here."""

    body: Body
    course: Course
    dt: float
    x: float = 0.0
    y: float = 0.0
    vx: float = 0.0
    vy: float = 0.0
    facing: float = 1.0
    grounded: bool = False
    climbing: bool = False
    blocked: bool = False
    jump_held: bool = False
    lift: float = 0.0
    rise: float = 0.0
    heading: float = 90.0
    speed: float = 0.0
    pushing: float = 0.0
    slope: float = 0.0
    turning: float = 0.0
    airtime: int = 0
    press_age: int | None = None
    push: tuple[float, float] = (0.0, 0.0)
    travel: tuple[float | None, float | None] | None = None
    through: bool = False
    size: tuple[float, float] = (0.0, 0.0)
    ways: dict[str, Any] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.above = self.body.model == "above"
        self.usual = (self.body.width, self.body.depth if self.above else self.body.height)
        self.size = self.usual
        self.x, self.y = self.course.start
        self.walls = [one for one in self.course.shapes if one.kind == "floor"]
        if self.above:
            self.facing, self.grounded = 90.0, True
            self.ways = {
                "lead": "",
                "x": False,
                "y": False,
                "step": None,
                "goal": (self.x, self.y),
                "asked": None,
                "next": None,
            }
        else:
            if not self.walls:
                self.walls = [Shape(x=-1e7, y=-1000, width=2e7, height=1000)]
            self.grounded = any(s.x <= self.x <= s.x + s.width and self.y == s.y + s.height for s in self.walls)

    # --- boxes

    def grown(self, wall: Shape, size: tuple[float, float]) -> tuple[tuple[float, float], tuple[float, float]]:
        """A wall larger by the body, so that the body is in it as its foot is in this: from and to, across and up."""
        wide, high = size
        under, over = (high / 2, high / 2) if self.above else (high, 0.0)
        across = wall.x - wide / 2, wall.x + wall.width + wide / 2
        return across, (wall.y - under, wall.y + wall.height + over)

    def hits(self, wall: Shape, x: float, y: float, size: tuple[float, float]) -> bool:
        (left, right), (low, top) = self.grown(wall, size)
        return left < x < right and low < y < top

    def stopped(self, walls: list[Shape], at: tuple[float, float], axis: int, goal: float) -> float:
        """Where a way along an axis ends: at the nearest edge that is met from outside, or at its goal."""
        found = [goal]
        for wall in walls:
            ends = self.grown(wall, self.size)
            low, high = ends[axis]
            if ends[1 - axis][0] < at[1 - axis] < ends[1 - axis][1]:
                found += [low] if at[axis] <= low < goal else [high] if at[axis] >= high > goal else []
        return min(found, key=lambda one: abs(one - at[axis]))

    def over(self, wall: Shape) -> bool:
        return self.above and wall.tall is not None and wall.tall < self.lift

    def step(self, steer: Steer, mode: str = "") -> None:
        """One tick."""
        mode = MODES[steer.mode] or mode
        sx, sy, jump, run = steer.x, steer.y, steer.jump, steer.run
        if not steer.free or mode == "still":
            sx = sy = 0.0
            jump = run = False
        self._resize((steer.wide or self.usual[0], steer.high or self.usual[1]))
        if self.above:
            self._above(sx, sy, jump, run, steer, mode)
        else:
            self._side(sx, sy, jump, run, steer, mode)
        self.push, self.travel = (0.0, 0.0), None

    def _resize(self, wanted: tuple[float, float]) -> None:
        grows = wanted[0] > self.size[0] or wanted[1] > self.size[1]
        walls = [wall for wall in self.walls if not self.over(wall)]
        new = any(self.hits(w, self.x, self.y, wanted) and not self.hits(w, self.x, self.y, self.size) for w in walls)
        if not (grows and new):
            self.size = wanted

    # --- from the side

    def _side(self, sx: float, sy: float, jump: bool, run: bool, steer: Steer, mode: str) -> None:
        body, pressed = self.body, jump and not self.jump_held
        ladder = self._ladder() if mode in ("", "climb") and self.travel is None else None
        self.slope = 0.0
        self.airtime = 0 if self.grounded or self.climbing else self.airtime + 1
        self.press_age = 0 if pressed else None if self.press_age is None else self.press_age + 1
        if mode == "still" and self.travel is not None:
            self.travel = (self.travel[0] or 0.0, self.travel[1] or 0.0)
        if mode == "still" and self.travel is None:
            self.vx = self.vy = 0.0
            self.climbing = self.blocked = False
        elif ladder is not None and not pressed and (mode == "climb" or self.climbing or self._grabs(ladder, sy)):
            self._climb(ladder, sy)
        else:
            self._walk(body, sx, sy, jump, run, steer, mode)
        self.jump_held, self.speed, self.rise = jump, abs(self.vx), self.vy

    def _ladder(self) -> Shape | None:
        for one in self.course.shapes:
            if (
                one.kind == "ladder"
                and one.x <= self.x <= one.x + one.width
                and one.y - 1 <= self.y <= one.y + one.height + 1
            ):
                return one
        return None

    def _grabs(self, ladder: Shape, sy: float) -> bool:
        return (sy > 0.5 and self.y < ladder.y + ladder.height - 1) or (sy < -0.5 and self.y > ladder.y + 1)

    def _climb(self, ladder: Shape, sy: float) -> None:
        self.x, self.vx, self.blocked = ladder.x + ladder.width / 2, 0.0, False
        y, top = self.y + sy * self.body.climb_speed * self.dt, ladder.y + ladder.height
        self.climbing, self.grounded = ladder.y < y < top, not ladder.y < y < top
        self.vy = sy * self.body.climb_speed if self.climbing else 0.0
        self.y = min(max(y, ladder.y), top)

    def _speed_to(self, before: float, goal: float, share: float) -> float:
        faster = goal != 0 and goal * before >= 0 and abs(goal) > abs(before)
        most = (self.body.acceleration if faster else self.body.braking) * self.dt * share
        return before + min(max(goal - before, -most), most)

    def _waited(self, seconds: float) -> int:
        return math.ceil(seconds / self.dt - 1e-9)

    def _jumps(self) -> bool:
        """Whether a press, now or a while ago, meets ground, now or a while ago; both are used then."""
        pressed = self.press_age is not None and self.press_age <= self._waited(self.body.jump_buffer)
        found = pressed and self.airtime <= self._waited(self.body.jump_grace)
        if found:
            self.press_age, self.airtime = None, 1 << 30
        return found

    def _walk(self, body: Body, sx: float, sy: float, jump: bool, run: bool, steer: Steer, mode: str) -> None:
        stood, before, cap = self.grounded, (self.x, self.y), steer.cap
        vx = self._speed_to(
            self.vx + self.push[0] * self.facing,
            sx * (body.run_speed if run else body.walk_speed),
            1.0 if stood else body.air_control,
        )
        if cap:
            vx = min(max(vx, -cap), cap)
        if mode == "float":
            vy = self.push[1] + self._speed_to(self.vy, sy * body.walk_speed, 1.0)
        else:
            vy = self.vy + self.push[1]
            if self._jumps():
                vy = body.jump_speed * (1.0 if jump else body.jump_cut)
            elif self.jump_held and not jump and vy > 0:
                vy *= body.jump_cut
            vy = max(vy - (body.gravity_up if vy > 0 else body.gravity_down) * self.dt, -self._falls(steer))
        ahead, up = self.travel or (None, None)
        way, rise = vx * self.dt, vy * self.dt
        if ahead is not None:
            way = ahead * self.facing
            vx = way / self.dt
        if up is not None:
            rise, vy, stood = up, up / self.dt, False
        through = self.travel is not None and self.through
        if through and up is not None:
            self.x, self.y, self.vx, self.vy = self.x + way, self.y + rise, vx, vy
            self.grounded = self.climbing = self.blocked = False
            return
        under = self._slope_at(self.x, self.y) if stood else None
        if under is not None and ahead is None:
            way *= under.width / math.hypot(under.width, under.height)
        x, blocked = self.x + way, False
        if not through:
            met = self.stopped([wall for wall in self.walls if not self._leads(under, wall)], before, 0, x)
            met = self._high_sides(under, met)
            steep = self._slope_at(met, self.y)
            if steep is not None and bearing(steep.height, steep.width) > body.slope and _surface(steep, met) > self.y:
                met = self.x
            if met != x:
                blocked, x, vx = True, met, 0.0
        y, grounded, up_there = self.y + rise, False, (x, self.y)
        met, rises = self.stopped(self.walls, up_there, 1, y), vy > 0
        if met != y:
            grounded, y, vy = not rises, met, 0.0
        if not through:
            for wall in self.walls:
                (left, right), (low, top) = self.grown(wall, self.size)
                led = any(self.y >= one.y - 1 and self._leads(one, wall) for one in self._slopes(x))
                if led or not self.hits(wall, *up_there, self.size):
                    continue
                nearest = min((top - self.y, 0), (self.y - low, 1), (x - left, 2), (right - x, 2))[1]
                if not rises and nearest == 0:
                    y, grounded, vy = max(y, top), True, 0.0
                elif rises and nearest == 1:
                    y, vy = min(y, low), 0.0
        if vy <= 0:
            y, on = self._land(x, y, before, stood)
            if on is not None:
                if any(
                    (g := self.grown(wall, self.size))[0][0] < x < g[0][1] and self.y <= g[1][0] < y
                    for wall in self.walls
                ):
                    blocked, x, y, vx = True, *before, 0.0
                grounded, vy = True, 0.0
                self.slope = (1 if on.rises == "right" else -1) * bearing(on.height, on.width)
            elif under is not None and not grounded:
                low = y - abs(way) * 3 - 1
                tops = [
                    w.y + w.height
                    for w in self.walls
                    if self.grown(w, self.size)[0][0] < x < self.grown(w, self.size)[0][1]
                ]
                tops = [top for top in tops if low <= top <= y]
                if tops:
                    y, grounded, vy = max(tops), True, 0.0
        if (
            up is not None
            and vy <= 0
            and any(w.y + w.height == y and self.hits(w, x, y - 0.001, self.size) for w in self.walls)
        ):
            grounded, vy = True, 0.0
        asked = (sx > 0) - (sx < 0)
        if ahead is not None:
            pass
        elif asked == 0 or asked == self.facing:
            self.turning = 0.0
        else:
            self.turning = min(self.turning + self.dt, body.turn_time)
            if asked * vx > 0 and self.turning >= body.turn_time:
                self.facing, self.turning = float(asked), 0.0
        self.x, self.y, self.vx, self.vy = x, y, vx, vy
        self.grounded, self.climbing, self.blocked = grounded, False, blocked

    def _slopes(self, x: float) -> list[Shape]:
        return [one for one in self.course.shapes if one.kind == "slope" and one.x <= x <= one.x + one.width]

    def _slope_at(self, x: float, y: float) -> Shape | None:
        found = [one for one in self._slopes(x) if one.y - 1 <= y <= _surface(one, x) + 1]
        return max(found, key=lambda one: _surface(one, x), default=None)

    def _leads(self, slope: Shape | None, wall: Shape) -> bool:
        if slope is None or wall.y + wall.height > slope.y + slope.height + 1:
            return False
        if slope.rises == "right":
            return abs(slope.x + slope.width - wall.x) <= 1
        return abs(wall.x + wall.width - slope.x) <= 1

    def _high_sides(self, under: Shape | None, goal: float) -> float:
        """How far the high sides of slopes let the body go; to one that the slope under it leads up to, the foot may go."""
        for one in self.course.shapes:
            top, right = one.y + one.height, one.rises == "right"
            if one.kind != "slope" or not one.y - self.size[1] < self.y < top - 1:
                continue
            edge, out = (one.x + one.width, 1) if right else (one.x, -1)
            led = False
            if under is not None and under.y + under.height + 1 >= top:
                led = under.x + under.width <= edge + 1 if under.rises == "right" else under.x >= edge - 1
            beside = edge + (0 if led else out * self.size[0] / 2)
            for place in (beside, edge):
                if (self.x - place) * out >= 0:
                    goal = max(goal, place) if right else min(goal, place)
        return goal

    def _land(self, x: float, y: float, before: tuple[float, float], stood: bool) -> tuple[float, Shape | None]:
        down = abs(x - before[0]) * 3 + 1 if stood else 0.0
        found = None
        for one in self._slopes(x):
            high = _surface(one, x)
            near = y <= high + down and (y <= high or stood) and before[1] + down >= high - 1
            for wall in self.walls:
                (left, right), (_, top) = self.grown(wall, self.size)
                near = near and not (left < x < right and high < top <= before[1] and not self._leads(one, wall))
            if before[1] >= one.y - 1 and near and (found is None or high > y):
                y, found = high, one
        return y, found

    # --- from above

    def _above(self, sx: float, sy: float, jump: bool, run: bool, steer: Steer, mode: str) -> None:
        body, before = self.body, (self.x, self.y)
        push, way = self._asked(sx, sy)
        top = body.run_speed if run else body.walk_speed
        top = min(top, steer.cap) if steer.cap else top
        ux, uy = unit(self.facing)
        vx, vy = self.vx + self.push[0] * ux, self.vy + self.push[0] * uy
        length = math.hypot(vx, vy)
        if mode == "still":
            vx = vy = 0.0
        elif steer.cap and length > steer.cap:
            vx, vy = vx * steer.cap / length, vy * steer.cap / length
        ahead = self.travel[0] if self.travel is not None else None
        if ahead is not None:
            self._carry(ahead)
        elif body.ways == "square":
            self._squares(push, way, top * self.dt)
        else:
            self._glide(push, way, top, vx, vy)
        dx, dy = self.x - before[0], self.y - before[1]
        moved = dx != 0 or dy != 0
        self.speed = math.hypot(dx, dy) / self.dt
        if moved:
            self.heading = bearing(dx, dy)
        self._jump(jump, mode, steer)
        self._face(steer, push, way, moved)

    def _face(self, steer: Steer, push: float, way: float, moved: bool) -> None:
        body, rate = self.body, self.body.turn_rate
        goal: float | None = None
        if steer.face:
            touched = [(self._gap(one), -at, one) for at, one in enumerate(self.walls) if self._gap(one) <= 1]
            rate = steer.face
            if touched:
                least = min(gap for gap, _, _ in touched)
                wall = next(one for gap, _, one in touched if gap == least)
                nx, ny = min(max(self.x, wall.x), wall.x + wall.width), min(max(self.y, wall.y), wall.y + wall.height)
                goal = bearing(nx - self.x, ny - self.y) if (nx, ny) != (self.x, self.y) else None
        elif steer.aims and steer.free:
            goal = steer.aim
        elif self.travel is not None and self.travel[0] is not None:
            goal = None
        elif steer.free and body.along > 0 and body.ways != "square":
            goal = way if push > 0 and not self.blocked else None
        elif steer.free and moved:
            goal = self.heading
        if goal is not None:
            turn, most = toward(self.facing, goal), rate * self.dt
            self.facing = goal if most == 0 or abs(turn) <= most else (self.facing + math.copysign(most, turn)) % 360

    def _gap(self, wall: Shape) -> float:
        wide = max(wall.x - self.x - self.size[0] / 2, self.x - self.size[0] / 2 - wall.x - wall.width, 0)
        high = max(wall.y - self.y - self.size[1] / 2, self.y - self.size[1] / 2 - wall.y - wall.height, 0)
        return math.hypot(wide, high)

    def _asked(self, sx: float, sy: float) -> tuple[float, float]:
        if self.body.ways in ("four", "square"):
            now = {"x": abs(sx) > 0.5, "y": abs(sy) > 0.5}
            risen = [axis for axis in "xy" if now[axis] and not self.ways[axis]]
            if risen:
                self.ways["lead"] = risen[0]
            self.ways.update(now)
            if not now.get(self.ways["lead"], False):
                self.ways["lead"] = next((axis for axis in "xy" if now[axis]), "")
            if not self.ways["lead"]:
                return 0.0, 0.0
            value = sx if self.ways["lead"] == "x" else sy
            return min(abs(value), 1), (90 if value > 0 else 270) if self.ways["lead"] == "x" else (
                0 if value > 0 else 180
            )
        push = min(1.0, math.hypot(sx, sy))
        way = bearing(sx, sy) if push else 0.0
        return push, (math.floor(way / 45 + 0.5) * 45 % 360 if push and self.body.ways == "eight" else way)

    def _glide(self, push: float, way: float, top: float, vx: float, vy: float) -> None:
        body = self.body
        self.pushing += self.dt if push else -self.dt * body.along_back
        self.pushing = min(max(self.pushing, 0.0), body.along_wait + body.along_after)
        share = body.along
        if self.pushing < body.along_wait:
            share = 0.0
        elif body.along_after > 0:
            share *= min((self.pushing - body.along_wait) / body.along_after, 1.0)
        ux, uy = unit(way + share * toward(way, self.facing))
        goal = push * top * ux, push * top * uy
        faster = (
            push > 0 and math.hypot(*goal) >= math.hypot(vx, vy) * (1 - 1e-9) and goal[0] * vx + goal[1] * vy >= -1e-6
        )
        most = (body.acceleration if faster else body.braking) * self.dt * (1.0 if self.grounded else body.air_control)
        far = math.hypot(goal[0] - vx, goal[1] - vy)
        if far <= most:
            vx, vy = goal
        else:
            vx, vy = vx + (goal[0] - vx) * most / far, vy + (goal[1] - vy) * most / far
        self._go(vx, vy)

    def _carry(self, ahead: float) -> None:
        ux, uy = unit(self.facing)
        self.ways["step"] = self.ways["next"] = None
        vx, vy = ahead * ux / self.dt, ahead * uy / self.dt
        if self.through:
            self.x, self.y, self.vx, self.vy, self.blocked = self.x + ahead * ux, self.y + ahead * uy, vx, vy, False
        else:
            self._go(vx, vy)

    def _go(self, vx: float, vy: float) -> None:
        start, hit = (self.x, self.y), False
        for axis, speed in ((0, vx), (1, vy)):
            at = [self.x, self.y]
            goal = at[axis] + speed * self.dt
            at[axis] = self.stopped([wall for wall in self.walls if not self.over(wall)], (self.x, self.y), axis, goal)
            if at[axis] != goal:
                hit, speed = True, 0.0
            self.x, self.y = at
            vx, vy = (speed, vy) if axis == 0 else (vx, speed)
        self.vx, self.vy = vx, vy
        self.blocked = hit and (self.x, self.y) == start

    def _squares(self, push: float, way: float, reach: float) -> None:
        wish, w, begin = (way if push else None), self.ways, (self.x, self.y)
        if wish is not None and wish != w["asked"] and w["step"] is not None:
            w["next"] = wish
        w["asked"], self.blocked = wish, False
        for _ in range(8):
            if w["step"] is None:
                step, w["next"] = (w["next"] if w["next"] is not None else wish), None
                if step is None:
                    break
                goal = self.x + round(unit(step)[0]) * self.body.cell, self.y + round(unit(step)[1]) * self.body.cell
                walls = [wall for wall in self.walls if not self.over(wall)]
                self.blocked = any(
                    self.stopped(walls, (self.x, self.y), axis, goal[axis]) != goal[axis] for axis in (0, 1)
                )
                if self.blocked:
                    break
                w["step"], w["goal"] = step, goal
            left = abs(w["goal"][0] - self.x) + abs(w["goal"][1] - self.y)
            if reach < left:
                self.x += round(unit(w["step"])[0]) * reach
                self.y += round(unit(w["step"])[1]) * reach
                break
            (self.x, self.y), w["step"], reach = w["goal"], None, reach - left
        self.vx, self.vy = (self.x - begin[0]) / self.dt, (self.y - begin[1]) / self.dt

    def _falls(self, steer: Steer) -> float:
        return min(self.body.fall_speed, steer.fall or math.inf)

    def _jump(self, jump: bool, mode: str, steer: Steer) -> None:
        body, rise = self.body, self.rise + self.push[1]
        if jump and not self.jump_held and self.grounded:
            rise = body.jump_speed
        elif self.jump_held and not jump and rise > 0:
            rise *= body.jump_cut
        self.jump_held = jump
        if self.travel is not None and self.travel[1] is not None:
            self.lift = max(self.lift + self.travel[1], 0.0)
            self.rise, self.grounded = (self.travel[1] / self.dt if self.lift else 0.0), self.lift == 0
            return
        if self.lift == 0 and rise <= 0:
            self.rise, self.grounded = 0.0, True
            return
        if mode == "still":
            rise = 0.0
        elif mode != "float":
            rise -= (body.gravity_up if rise > 0 else body.gravity_down) * self.dt
        rise = max(rise, -self._falls(steer))
        self.lift = max(self.lift + rise * self.dt, 0.0)
        self.rise, self.grounded = (rise if self.lift else 0.0), self.lift == 0


def _surface(slope: Shape, x: float) -> float:
    share = min(max((x - slope.x) / slope.width, 0.0), 1.0)
    return slope.y + (share if slope.rises == "right" else 1 - share) * slope.height
