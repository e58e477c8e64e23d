"""How the samples of a blend space would mix: linear along a line, barycentric in the cells of a Delaunay triangulation.

Places are in rulings; a bearing is unrolled round its circle, and ``any`` stands at every place used on its axis.  The cells are
grown edge by edge from the shortest one: beyond an edge lies the place (or the several on one circle) whose circle through the
edge's ends holds no other (B. Delaunay, Sur la sphère vide, 1934), found with exact fractions.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

import numpy as np

from leanstep.core.blends.space import Space, circle_of

LEVEL = 1e-10
"""Up to this, in squared rulings, a place lies on the line of an edge."""
CLOSE = 1e-9
"""By what share two circles may differ in doubles and still be one."""

Point = tuple[Fraction, Fraction]
Place = tuple[float, float]
Cell = tuple[int, ...]


@dataclass(frozen=True)
class Mesh:
    """Places that stand for samples: ``owners[place]`` has the samples that stand there, each with its share.  ``cells`` are
    triangles of places, ``edges`` lines that weights are looked for on beyond them."""

    places: tuple[Place, ...]
    owners: tuple[tuple[tuple[int, float], ...], ...]
    cells: tuple[Cell, ...]
    edges: tuple[tuple[int, int], ...]


def weights(space: Space, values: Sequence[float]) -> list[float]:
    """How much of every sample is in the mix at ``values``: continuous, 1 in all; beyond the outermost samples as at the nearest
    place between them.  Samples on one place share their weight equally."""
    found = [0.0] * len(space.places)
    if not found:
        return found
    mesh = mesh_of(space)
    inside = [axis.inside(value) / axis.step for axis, value in zip(space.axes, values)]
    for place, share in _shares(mesh, (inside[0], inside[1] if len(inside) > 1 else 0.0)):
        for sample, part in mesh.owners[place]:
            found[sample] += share * part
    return found


def _shares(mesh: Mesh, at: Place) -> list[tuple[int, float]]:
    for cell in mesh.cells:
        shares = _barycentric([mesh.places[one] for one in cell], at)
        if min(shares) >= 0.0:
            return list(zip(cell, shares))
    best: tuple[float, list[tuple[int, float]]] = (math.inf, [(0, 1.0)])
    for one, other in mesh.edges:
        (ax, ay), (bx, by) = mesh.places[one], mesh.places[other]
        wide, high = bx - ax, by - ay
        length = wide * wide + high * high
        share = min(max(((at[0] - ax) * wide + (at[1] - ay) * high) / length, 0.0), 1.0) if length else 0.0
        right, up = at[0] - ax - share * wide, at[1] - ay - share * high
        away = right * right + up * up
        if away < best[0]:
            best = away, [(one, 1.0 - share), (other, share)]
    return best[1]


def _barycentric(corners: Sequence[Place], at: Place) -> tuple[float, float, float]:
    (ax, ay), (bx, by), (cx, cy) = corners
    whole = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
    second = ((at[0] - ax) * (cy - ay) - (at[1] - ay) * (cx - ax)) / whole
    third = ((bx - ax) * (at[1] - ay) - (by - ay) * (at[0] - ax)) / whole
    return 1.0 - second - third, second, third


@lru_cache(maxsize=64)
def mesh_of(space: Space) -> Mesh:
    """The places of a space that has samples, with the cells and edges between them."""
    stands: dict[Place, list[int]] = {}
    for sample, place in enumerate(space.places):
        rows = [_stands_at(space, axis, at) for axis, at in enumerate(place)]
        for spot in itertools.product(*rows, *([[0.0]] if len(rows) == 1 else [])):
            stands.setdefault((spot[0], spot[1]), []).append(sample)
    rounds = [circle_of(axis) for axis in space.axes] + [0.0] * (2 - len(space.axes))
    turns = [(-one, 0.0, one) if one else (0.0,) for one in rounds]
    places: list[Place] = []
    owners: list[tuple[tuple[int, float], ...]] = []
    for spot, samples in sorted(stands.items(), key=lambda one: one[1][0]):
        for across, up in itertools.product(*turns):
            places.append((spot[0] + across, spot[1] + up))
            owners.append(tuple((sample, 1.0 / len(samples)) for sample in samples))
    points = [(Fraction(across), Fraction(up)) for across, up in places]
    polygons, rim = _cells(points)
    first = {place: min(sample for sample, _ in some) for place, some in enumerate(owners)}
    triangles = [triangle for polygon in polygons for triangle in _fan(polygon, first)]
    return Mesh(tuple(places), tuple(owners), tuple(triangles), tuple(rim))


def _stands_at(space: Space, axis: int, at: float) -> list[float]:
    """The places of a sample on an axis, in rulings; any stands at every place that is used there."""
    if not math.isnan(at):
        return [at / space.axes[axis].step]
    used = {place[axis] for place in space.places if not math.isnan(place[axis])}
    return sorted(place / space.axes[axis].step for place in used) or [0.0]


def _fan(polygon: Cell, first: dict[int, int]) -> list[Cell]:
    """A cell of several places on one circle, split through the one whose sample is listed first."""
    begin = min(range(len(polygon)), key=lambda at: (first[polygon[at]], polygon[at]))
    ring = polygon[begin:] + polygon[:begin]
    return [(ring[0], ring[at], ring[at + 1]) for at in range(1, len(ring) - 1)]


def _cells(points: Sequence[Point]) -> tuple[list[Cell], list[tuple[int, int]]]:
    """The cells of the triangulation, counterclockwise, and the edges on its rim; of places on one line the pieces of the line."""
    if len(points) == 1:
        return [], [(0, 0)]
    begin = min(range(1, len(points)), key=lambda at: (_square(points[0], points[at]), at))
    near = np.array([(float(across), float(up)) for across, up in points])
    waiting, cells, rim = [(0, begin), (begin, 0)], list[Cell](), list[tuple[int, int]]()
    done = set[tuple[int, int]]()
    while waiting:
        edge = waiting.pop()
        if edge in done:
            continue
        ring = _beyond(points, near, *edge)
        if not ring:
            done.add(edge)
            rim.append(edge)
            continue
        sides = list(zip(ring, ring[1:] + ring[:1]))
        done.update(sides)
        cells.append(ring)
        waiting += [(b, a) for a, b in sides if (b, a) not in done]
    if not cells:
        order = sorted(range(len(points)), key=lambda at: points[at])
        return [], list(itertools.pairwise(order))
    return cells, rim


def _square(one: Point, other: Point) -> Fraction:
    return (one[0] - other[0]) ** 2 + (one[1] - other[1]) ** 2


def _beyond(points: Sequence[Point], near: np.ndarray, a: int, b: int) -> Cell:
    """The cell on the left of an edge, as a ring that begins with it; empty where there is nothing.  Doubles (``near``) say which
    places come into question, fractions which it is."""
    (ax, ay), (bx, by) = near[a], near[b]
    x, y = near[:, 0], near[:, 1]
    side = (bx - ax) * (y - ay) - (by - ay) * (x - ax)
    left = np.flatnonzero(side > LEVEL)
    if not left.size:
        return ()
    # the way of the circle's middle from that of the edge, to the left, in units of the edge, twice
    far = ((x[left] - ax) * (x[left] - bx) + (y[left] - ay) * (y[left] - by)) / side[left]
    least = far.min()
    some = left[far <= least + CLOSE * (1 + abs(least))].tolist()
    exact = {at: _far(points[a], points[b], points[at]) for at in some}
    ring = [at for at in some if exact[at] == min(exact.values())]
    # seen from a, those on the circle come in the order of their angle from the edge
    ring.sort(key=lambda at: _slope(points[a], points[b], points[at]))
    return (a, b, *ring)


def _far(a: Point, b: Point, point: Point) -> Fraction:
    """How far to the left of an edge the middle of the circle through its ends and a point is."""
    side = (b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0])
    return ((point[0] - a[0]) * (point[0] - b[0]) + (point[1] - a[1]) * (point[1] - b[1])) / side


def _slope(a: Point, b: Point, point: Point) -> Fraction:
    """What grows with the angle at ``a`` from ``b`` to a point on the left."""
    along = (b[0] - a[0]) * (point[0] - a[0]) + (b[1] - a[1]) * (point[1] - a[1])
    side = (b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0])
    return -along / side
