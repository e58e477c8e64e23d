"""Where the kernels find things: the places of columns in a row, what stands at address 0, and the rules of columns as numbers."""

from __future__ import annotations

from typing import Any, NamedTuple, get_type_hints

import numpy as np

from leanstep.core.body.records import numbered as numbered_fields
from leanstep.core.tick.columns import INNER, NAMED, SECTIONS, Columns, columns, rules


def numbered(kind: Any) -> Any:
    """A record whose every field is its place; as nothing of a kind, since columns of doubles have places too."""
    return numbered_fields(kind)


PARAMETER, STICK, LAYER, STATE = (
    numbered(Columns.Parameter),
    numbered(Columns.Stick),
    numbered(Columns.Layer),
    numbered(Columns.State),
)
WAY, USE, ACT, SAMPLE = (
    numbered(Columns.Transition),
    numbered(Columns.Use),
    numbered(Columns.Act),
    numbered(Columns.Sample),
)
AXIS, PLACE, CLIP, CUE = numbered(Columns.Axis), numbered(Columns.Place), numbered(Columns.Clip), numbered(Columns.Cue)
WINDOW, PIECE, CEL, KEY = (
    numbered(Columns.Window),
    numbered(Columns.Piece),
    numbered(Columns.Cel),
    numbered(Columns.Key),
)
MEMORY, BUFFER, CLOCK = numbered(Columns.Memory), numbered(Columns.Buffer), numbered(Columns.Clock)
FORMULA, HOLD, STEP = numbered(Columns.Formula), numbered(Columns.Hold), numbered(Columns.Step)
ACTIVE, RECT, CONTACT = numbered(Columns.Active), numbered(Columns.Rect), numbered(Columns.Contact)
COSTUME, DRESSED = numbered(Columns.Costume), numbered(Columns.Dressed)
COSTUME_SIZE, DRESSED_SIZE = len(COSTUME), len(DRESSED)
SPOT, ACCESSORY = numbered(Columns.Spot), numbered(Columns.Accessory)
SPOT_SIZE, ACCESSORY_SIZE = len(SPOT), len(ACCESSORY)
MOVED = numbered(Columns.Moved)
MOVED_SIZE = len(MOVED)
MIX_PLACE, MIX_SHARE = numbered(Columns.MixPlace), numbered(Columns.MixShare)
MIX_CELL, MIX_EDGE = numbered(Columns.MixCell), numbered(Columns.MixEdge)
MIX_SHARE_SIZE, MIX_CELL_SIZE, MIX_EDGE_SIZE = len(MIX_SHARE), len(MIX_CELL), len(MIX_EDGE)
POSED, PART_POSE = numbered(Columns.Posed), numbered(Columns.PartPose)
POSED_SIZE, PART_POSE_SIZE = len(POSED), len(PART_POSE)
ACTIVE_SIZE, RECT_SIZE, CONTACT_SIZE = len(ACTIVE), len(RECT), len(CONTACT)
SQUASH, LEAN, SHAPE = numbered(Columns.Squash), numbered(Columns.Lean), numbered(Columns.Shape)
PARAMETER_SIZE, STICK_SIZE, LAYER_SIZE, STATE_SIZE = len(PARAMETER), len(STICK), len(LAYER), len(STATE)
WAY_SIZE, USE_SIZE, ACT_SIZE, SAMPLE_SIZE, AXIS_SIZE = len(WAY), len(USE), len(ACT), len(SAMPLE), len(AXIS)
CLIP_SIZE, CUE_SIZE, WINDOW_SIZE, PIECE_SIZE, CEL_SIZE = len(CLIP), len(CUE), len(WINDOW), len(PIECE), len(CEL)
MEMORY_SIZE, BUFFER_SIZE, FORMULA_SIZE, STEP_SIZE = len(MEMORY), len(BUFFER), len(FORMULA), len(STEP)
KEY_SIZE, PULSE_SIZE = len(KEY), 2
SQUASH_SIZE, LEAN_SIZE, SHAPE_SIZE = len(SQUASH), len(LEAN), len(SHAPE)

ANYTHING, FINITE, INTEGER, TIME, FROM_TO, ROW, ROW_OR_NONE, ADDRESS, NAME, FIRST, END, WITHIN = range(12)
"""The rules as numbers, with what they are about in :data:`ABOUT`: the number of a section or of a kind of names, or the highest
value."""


def _rule(section: str, name: str, rule: str) -> tuple[int, int, int]:
    """A rule as numbers: which, what it is about, and whether the column is of doubles."""
    real = int(get_type_hints(SECTIONS[section])[name] not in (int,))
    sections = list(SECTIONS)
    if rule == INNER:
        return WITHIN, 0, real
    if rule in "?#it>":
        return {"?": ANYTHING, "#": FINITE, "i": INTEGER, "t": TIME, ">": END}[rule], 0, real
    if rule[0] == "@" and rule.endswith("?"):
        return ROW_OR_NONE, sections.index(rule[1:-1]), real
    if rule[0] in "@&<":
        return {"@": ROW, "&": ADDRESS, "<": FIRST}[rule[0]], sections.index(rule[1:]), real
    if rule[0] == "%":
        return NAME, NAMED.index(rule[1:]), real
    low, high = map(int, rule.split(".."))
    assert low == 0, f"{section} {name}: {rule}"
    return FROM_TO, high, real


_ALL = [_rule(section, name, rule) for section in SECTIONS for name, rule in rules(section).items()]
# arrays, since compiling a long tuple that is looked up takes long
RULE = np.array([rule for rule, _, _ in _ALL])
ABOUT = np.array([about for _, about, _ in _ALL])
REAL = np.array([real for _, _, real in _ALL])
"""Column by column of all sections: its rule, what that is about, and whether it holds doubles."""
SIZES = tuple(len(kind._fields) for kind in SECTIONS.values())
"""How many columns each section has, those that do not go out with them."""
WIDTHS = tuple(len(columns(section)) for section in SECTIONS)
"""How many go out."""
SECTION_COUNT = len(SECTIONS)
(
    PARAMETERS,
    STICKS,
    LAYERS,
    STATES,
    WAYS,
    USES,
    ACTS,
    SAMPLES,
    AXES,
    PLACES,
    CLIPS,
    CUES,
    WINDOWS,
    PIECES,
    CELS,
    KEYS,
) = range(16)
MEMORIES, BUFFERS, CLOCKS, FORMULAS, HOLDS, PROGRAMS, SQUASHES, LEANS, SHAPES, COUNTDOWNS, ACTIVES, RECTS, CONTACTS = (
    range(16, 29)
)
ACCESSORIES = 32
(
    NAMED_PARAMETERS,
    NAMED_WORDS,
    NAMED_LAYERS,
    NAMED_STATES,
    NAMED_CLIPS,
    NAMED_FRAMES,
    NAMED_MARKS,
    NAMED_SPANS,
    NAMED_LOCKS,
) = range(9)


class Head(NamedTuple):
    """What stands at address 0 of ``m``: where each section begins and ends, the pulses and buttons, and where a situation has
    what: from ``counters`` on in its counts ``z``, from ``place`` on in its values ``v``.  ``counts`` and ``kept`` are how long the
    two are without the room for what is only known on the tick.  ``kept`` are the sticks' bearings of the tick before, ``more`` is
    where an engine has its own."""

    parameters: int
    parameters_end: int
    sticks: int
    sticks_end: int
    layers: int
    layers_end: int
    states: int
    states_end: int
    ways: int
    ways_end: int
    uses: int
    uses_end: int
    acts: int
    acts_end: int
    samples: int
    samples_end: int
    axes: int
    axes_end: int
    places: int
    places_end: int
    clips: int
    clips_end: int
    cues: int
    cues_end: int
    windows: int
    windows_end: int
    pieces: int
    pieces_end: int
    cels: int
    cels_end: int
    keys: int
    keys_end: int
    memories: int
    memories_end: int
    buffers: int
    buffers_end: int
    clocks: int
    clocks_end: int
    formulas: int
    formulas_end: int
    holds: int
    holds_end: int
    programs: int
    programs_end: int
    squashes: int
    squashes_end: int
    leans: int
    leans_end: int
    shapes: int
    shapes_end: int
    countdowns: int
    countdowns_end: int
    actives: int
    actives_end: int
    rects: int
    rects_end: int
    contact: int
    contact_end: int
    costumes: int
    costumes_end: int
    dressed: int
    dressed_end: int
    spots: int
    spots_end: int
    accessories: int
    accessories_end: int
    moved: int
    moved_end: int
    mix_places: int
    mix_places_end: int
    mix_shares: int
    mix_shares_end: int
    mix_cells: int
    mix_cells_end: int
    mix_edges: int
    mix_edges_end: int
    posed: int
    posed_end: int
    poses: int
    poses_end: int
    pulses: int
    pulses_end: int
    buttons: int
    buttons_end: int
    layer_count: int
    counters: int
    ages: int
    since: int
    held: int
    raised: int
    locks: int
    spans: int
    spans_end: int
    remembered: int
    held_now: int
    held_before: int
    changed: int
    counts: int
    place: int
    kept: int
    stack: int
    values: int
    most_told: int
    more: int


class Due(NamedTuple):
    """What contact raises on a figure on the next tick: whether ``any`` does, for how long time stands, a push along the facing, and
    what is set."""

    any: int
    freeze: int
    push: int
    hit: int
    guarded: int
    stun: int
    strength: int
    lands: int
    stopped: int


class Now(NamedTuple):
    """What ``z`` begins with; the layers' parts follow."""

    tick: int
    locked: int
    freeze: int


class Player(NamedTuple):
    """A layer's part of ``z``; ``state`` is the row of the state, ``pick`` the number of its sample; a fade that is not under way
    has -1 ticks left."""

    state: int
    stay: int
    head: int
    pick: int
    over: int
    fade_state: int
    fade_pick: int
    fade_head: int
    fade_left: int
    fade_blocks: int


class Drawn(NamedTuple):
    """How a figure is drawn, and what that hangs on; the rows of the layers' states follow.

    ``squash`` is the row of the one under way and ``holder`` of the state that holds it, each plus 1 (0: none), ``amount`` how much of
    it, ``since`` the ticks since it began, ``freed`` those after which it began to spring back (-1: it has not), from a shape of
    ``from_wide`` and ``from_high``; ``leaning`` the row of the lean a mark or a transition began; ``fall`` how fast the last fall was,
    ``landed`` the ticks since.  The rest is what the game told of the body on the tick before.
    """

    wide: int
    high: int
    tilt: int
    whole: int
    squash: int
    holder: int
    amount: int
    since: int
    freed: int
    from_wide: int
    from_high: int
    leaning: int
    fall: int
    landed: int
    velocity: int
    up: int
    facing: int
    grounded: int
    freeze: int


class Placed(NamedTuple):
    """Where a pin point lies in a figure that is drawn, or a mark fires that names one: the ``number`` of the layer or of the mark,
    the word that is its name, pixels from the foot to the right and up, and a bearing."""

    number: int
    pin: int
    x: int
    y: int
    angle: int
    behind: int


class Pinned(NamedTuple):
    """An accessory in a figure that is drawn: the word that is its name, the layer with which it is, whether ``behind`` or before it,
    its frame, how that is mirrored, where it lies with its foot, in pixels from the figure's, and how it is turned, in degrees
    clockwise."""

    name: int
    layer: int
    behind: int
    frame: int
    mirrored: int
    x: int
    y: int
    turn: int


class Parted(NamedTuple):
    """A part of a figure that is drawn: its layer, the word that is its name, and how it is moved, turned and scaled in its parent."""

    layer: int
    part: int
    x: int
    y: int
    turn: int
    wide: int
    high: int


PARTED = numbered(Parted)
PARTED_SIZE = len(PARTED)
PLACED, PINNED = numbered(Placed), numbered(Pinned)
PLACED_SIZE, PINNED_SIZE = len(PLACED), len(PINNED)
HEAD, NOW, PLAYER, DRAWN, DUE = numbered(Head), numbered(Now), numbered(Player), numbered(Drawn), numbered(Due)
DUE_SIZE = len(DUE)
DRAWN_SIZE = len(DRAWN)
HEAD_SIZE, FIRST_PLAYER, PLAYER_SIZE = len(HEAD), len(NOW), len(PLAYER)
