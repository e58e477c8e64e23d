"""How the parts of a figure are moved that is drawn from them: by the frames that are seen, or mixed between a blend space's samples.

The plain form is :mod:`leanstep.core.rehearsal.part_poses`.  ``w`` is room for twice as many numbers as there are samples: how much of
each is in the mix, and behind these where the poses of its frame begin.
"""

from __future__ import annotations

from leanstep.core import bearings
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.clips import cel_of, cel_row, cel_shown, samples_each, taken_over, value_on
from leanstep.core.tick.conditions import state_of, turn
from leanstep.core.tick.drawing import dressed, frame_of, is_flipped, is_mirrored, lowest_seen
from leanstep.core.tick.places import (
    AXIS,
    AXIS_SIZE,
    CEL,
    CEL_SIZE,
    CLIP,
    FIRST_PLAYER,
    HEAD,
    MIX_CELL,
    MIX_CELL_SIZE,
    MIX_EDGE,
    MIX_EDGE_SIZE,
    MIX_PLACE,
    MIX_SHARE,
    MIX_SHARE_SIZE,
    PART_POSE,
    PART_POSE_SIZE,
    PARTED,
    PARTED_SIZE,
    PLAYER,
    PLAYER_SIZE,
    POSED,
    POSED_SIZE,
    SAMPLE,
    SAMPLE_SIZE,
    STATE,
)

FARTHEST = 1e308
"""Farther away than any place is."""

reduced = kernel(bearings.reduced)


@kernel
def list_parts(m: Whole, r: Real, z: Whole, v: Real, left: bool, w: Real, b: Real) -> int:  # pragma: no cover
    """Write down how the parts of what is seen are moved, layer by layer from the back to the front, in rows of ``b``; how many there
    are."""
    count, lowest = 0, lowest_seen(m, r, z, v)
    if lowest < 0 or m[HEAD.posed] == m[HEAD.posed_end]:
        return 0
    for layer in range(lowest, m[HEAD.layer_count]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        posed = posed_row(m, frame_of(m, r, z, v, layer, cel))
        if posed < 0:
            continue
        first, mixes = m[posed + POSED.poses], mixes_parts(m, r, z, v, layer, posed, left, w)
        for pose in range(first, m[posed + POSED.poses_end], PART_POSE_SIZE):
            at = count * PARTED_SIZE
            b[at + PARTED.layer] = float(layer)
            b[at + PARTED.part] = float(m[pose + PART_POSE.part])
            if mixes:
                mix_part(r, w, samples_each(m, state_of(m, z, layer)), pose - first, b, at)
            else:
                b[at + PARTED.x] = r[pose + PART_POSE.x]
                b[at + PARTED.y] = r[pose + PART_POSE.y]
                b[at + PARTED.turn] = r[pose + PART_POSE.turn]
                b[at + PARTED.wide] = r[pose + PART_POSE.wide]
                b[at + PARTED.high] = r[pose + PART_POSE.high]
            count += 1
    return count


@kernel
def most_parts(m: Whole) -> int:  # pragma: no cover
    """How many parts can be listed at most."""
    most = 0
    for posed in range(m[HEAD.posed], m[HEAD.posed_end], POSED_SIZE):
        most = max(most, (m[posed + POSED.poses_end] - m[posed + POSED.poses]) // PART_POSE_SIZE)
    return most * m[HEAD.layer_count]


@kernel
def posed_row(m: Whole, frame: int) -> int:  # pragma: no cover
    """The row that says how a frame moves parts; -1: it is not drawn from any."""
    low, high = m[HEAD.posed], m[HEAD.posed_end]
    while low < high:
        middle = low + (high - low) // POSED_SIZE // 2 * POSED_SIZE
        if m[middle + POSED.frame] < frame:
            low = middle + POSED_SIZE
        else:
            high = middle
    return low if low < m[HEAD.posed_end] and m[low + POSED.frame] == frame else -1


@kernel
def mixes_parts(
    m: Whole, r: Real, z: Whole, v: Real, layer: int, posed: int, left: bool, w: Real
) -> bool:  # pragma: no cover
    """Whether what a layer shows mixes: all samples that count show frames drawn from the parts of the one that is picked (its row
    is ``posed``), the same way round and not turned.  How much of each there is and where its poses begin are written in ``w``."""
    state = state_of(m, z, layer)
    if m[state + STATE.mix_edges] == m[state + STATE.mix_edges_end]:
        return False
    each, pick = samples_each(m, state), z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.pick]
    cel = cel_of(m, r, z, v, layer)
    mirrored, way = is_mirrored(m, z, layer, cel, left), pick // each
    if m[cel_row(m, z, layer, cel) + CEL.turns] != 0:
        return False
    weigh(m, r, v, state, w)
    for number in range(each):
        if w[number] > 0.0:
            sample = m[state + STATE.samples] + (way * each + number) * SAMPLE_SIZE
            row = cel_if_picked(m, r, z, v, layer, way * each + number)
            if row < 0 or m[row + CEL.turns] != 0 or is_flipped(m, state, sample, row, left) != mirrored:
                return False
            other = posed_row(m, dressed(m, r, z, v, layer, m[row + CEL.frame]))
            if other < 0 or m[other + POSED.figure] != m[posed + POSED.figure]:
                return False
            parts = m[other + POSED.poses_end] - m[other + POSED.poses]
            if parts != m[posed + POSED.poses_end] - m[posed + POSED.poses]:
                return False
            w[each + number] = float(m[other + POSED.poses])
    return True


@kernel
def cel_if_picked(m: Whole, r: Real, z: Whole, v: Real, layer: int, number: int) -> int:  # pragma: no cover
    """The row of the cel that a layer would show if a sample of its state were picked now; -1: none."""
    player, state = FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer)
    pick, head = z[player + PLAYER.pick], z[player + PLAYER.head]
    if number != pick:
        head = taken_over(m, state, pick, number, head)
    clip = m[m[state + STATE.samples] + number * SAMPLE_SIZE + SAMPLE.clip]
    cel = cel_shown(m, r, v, clip, head)
    return m[clip + CLIP.cels] + cel * CEL_SIZE if cel >= 0 else -1


@kernel
def weigh(m: Whole, r: Real, v: Real, state: int, w: Real) -> None:  # pragma: no cover
    """Write down how much of every sample of a state's blend space is in the mix (:mod:`leanstep.core.blends.mixing`)."""
    each = samples_each(m, state)
    for number in range(each):
        w[number] = 0.0
    axis, x, y = m[state + STATE.axes], 0.0, 0.0
    if axis < m[state + STATE.axes_end]:
        x = value_on(m, r, v, axis) / r[axis + AXIS.step]
        axis += AXIS_SIZE
    if axis < m[state + STATE.axes_end]:
        y = value_on(m, r, v, axis) / r[axis + AXIS.step]
    for cell in range(m[state + STATE.mix_cells], m[state + STATE.mix_cells_end], MIX_CELL_SIZE):
        a, b, c = m[cell + MIX_CELL.first], m[cell + MIX_CELL.second], m[cell + MIX_CELL.third]
        ax, ay = r[a + MIX_PLACE.x], r[a + MIX_PLACE.y]
        wide, high = r[b + MIX_PLACE.x] - ax, r[b + MIX_PLACE.y] - ay
        far_wide, far_high = r[c + MIX_PLACE.x] - ax, r[c + MIX_PLACE.y] - ay
        whole = wide * far_high - high * far_wide
        if whole == 0.0:
            continue
        second = ((x - ax) * far_high - (y - ay) * far_wide) / whole
        third = (wide * (y - ay) - high * (x - ax)) / whole
        first = 1.0 - second - third
        if first >= 0.0 and second >= 0.0 and third >= 0.0:
            give_share(m, r, a, first, each, w)
            give_share(m, r, b, second, each, w)
            give_share(m, r, c, third, each, w)
            return
    nearest, one, other, along = FARTHEST, -1, -1, 0.0
    for edge in range(m[state + STATE.mix_edges], m[state + STATE.mix_edges_end], MIX_EDGE_SIZE):
        a, b = m[edge + MIX_EDGE.first], m[edge + MIX_EDGE.second]
        ax, ay = r[a + MIX_PLACE.x], r[a + MIX_PLACE.y]
        wide, high = r[b + MIX_PLACE.x] - ax, r[b + MIX_PLACE.y] - ay
        length, share = wide * wide + high * high, 0.0
        if length != 0.0:
            share = ((x - ax) * wide + (y - ay) * high) / length
            share = 0.0 if share < 0.0 else 1.0 if share > 1.0 else share
        right, up = x - ax - share * wide, y - ay - share * high
        away = right * right + up * up
        if one < 0 or away < nearest:
            nearest, one, other, along = away, a, b, share
    give_share(m, r, one, 1.0 - along, each, w)
    give_share(m, r, other, along, each, w)


@kernel
def give_share(m: Whole, r: Real, place: int, share: float, each: int, w: Real) -> None:  # pragma: no cover
    """Add the share of a place to the samples that stand there."""
    for row in range(m[place + MIX_PLACE.mix_shares], m[place + MIX_PLACE.mix_shares_end], MIX_SHARE_SIZE):
        number = m[row + MIX_SHARE.sample]
        if number < each:
            w[number] = w[number] + share * r[row + MIX_SHARE.share]


@kernel
def mix_part(r: Real, w: Real, each: int, part: int, b: Real, at: int) -> None:  # pragma: no cover
    """Write from place ``at`` on how a part is moved in the mix (:func:`leanstep.core.cut_outs.poses.mixed`); ``part`` is how far
    behind the first part of its frame its pose stands."""
    x, y, way, wide, high = 0.0, 0.0, 0.0, 0.0, 0.0
    start, begun, rests = 0.0, False, True
    for number in range(each):
        weight = w[number]
        if weight > 0.0:
            pose = int(w[each + number]) + part
            angle = reduced(r[pose + PART_POSE.turn])
            if not begun:
                start, begun = angle, True
            x = x + r[pose + PART_POSE.x] * weight
            y = y + r[pose + PART_POSE.y] * weight
            wide = wide + r[pose + PART_POSE.wide] * weight
            high = high + r[pose + PART_POSE.high] * weight
            way = way + turn(start, angle) * weight
            moves = r[pose + PART_POSE.x] != 0.0 or r[pose + PART_POSE.y] != 0.0 or r[pose + PART_POSE.turn] != 0.0
            scales = r[pose + PART_POSE.wide] != 1.0 or r[pose + PART_POSE.high] != 1.0
            rests = rests and not moves and not scales
    b[at + PARTED.x] = 0.0 if rests else x
    b[at + PARTED.y] = 0.0 if rests else y
    b[at + PARTED.turn] = 0.0 if rests else start + way
    b[at + PARTED.wide] = 1.0 if rests else wide
    b[at + PARTED.high] = 1.0 if rests else high
