"""What is on screen: pictures with their places, turns and scales, from the back to the front.

Everything that draws a figure takes a :class:`Drawable`, never a sheet and a frame number, so that a picture composed of
several needs no other way of drawing.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from leanstep.core.body.body_state import BodyState
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.graph import Layer
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.clips.travel import at
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.clip_tables import Picture, Reel
from leanstep.core.graph.costumes import wardrobe
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, alone
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.tick.table import is_turned, views


@dataclass(frozen=True)
class Piece:
    """One frame of a sheet.  ``x`` and ``y`` are where its foot stands, in units from the figure's foot, up is positive;
    ``turn`` is in degrees clockwise, then it is made ``scale`` times as wide and high about its foot (``whole``: by whole pixels),
    and tilted by ``tilt`` degrees clockwise; ``opacity`` is from 0 to 1.  ``bare`` is the frame in place of which a costume shows
    this one."""

    sheet: str
    frame: int
    mirrored: bool = False
    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0
    scale: tuple[float, float] = (1.0, 1.0)
    whole: bool = False
    tilt: float = 0.0
    opacity: float = 1.0
    bare: tuple[str, int] | None = None


AS_IT_IS = ("", 0)
"""The ``bare`` of a piece that is shown as it is, whatever is worn."""


@dataclass(frozen=True)
class Drawable:
    """A figure: its pieces from the back to the front; none when nothing is shown."""

    pieces: tuple[Piece, ...] = ()


NOTHING = Drawable()

QUARTER = 90
"""Degrees of a quarter turn."""


def of_frame(sheet: str, frame: int, mirrored: bool = False) -> Drawable:
    """One frame of a sheet, without a costume."""
    return Drawable((Piece(sheet, frame, mirrored, bare=AS_IT_IS),))


def of_cel(clip: Clip, cel: Cel, mirrored: bool = False) -> Drawable:
    """A cel as it stands in its clip, the other way round if ``mirrored``."""
    return Drawable((Piece(clip.sheet_of(cel), cel.frame, cel.mirrored ^ mirrored, turn=QUARTER * cel.turns),))


def at_share(machine: Machine, clip: Clip, share: float, mirrored: bool = False) -> Drawable:
    """A clip of a figure that looks right, after a share (0 to 1) of its length, the other way round if ``mirrored``."""
    made = timing(clip)
    at = made.cel_at(int(share * made.length))
    return NOTHING if at is None else _looking_right(machine, clip, clip.cels[at], mirrored)


def _looking_right(machine: Machine, clip: Clip, cel: Cel, mirrored: bool) -> Drawable:
    """A cel as it is shown of a figure that looks right: what is drawn facing left is turned."""
    view = views(machine).get(clip.sheet_of(cel))
    turned = view is not None and view.mirrors and view.facing(clip, cel.frame) == "left"
    return of_cel(clip, cel, mirrored ^ turned)


def of_state(machine: Machine, layer: int, state: int, ticks: int = 0, deformed: Deformed | None = None) -> Drawable:
    """What a state shows after so many ticks, by itself; ``deformed`` where it is known."""
    picture = machine.pictures[layer][state]
    if picture is None:
        return NOTHING
    reel = picture.reels[0]
    cel = reel.timing.cel_at(reel.timing.step(0, ticks * TICK)[0])
    if cel is None:
        return NOTHING
    shown = _looking_right(machine, reel.clip, reel.clip.cels[cel], picture.mirrors(0))
    costume = wardrobe(machine).worn(firsts(machine), layer, state)
    return Drawable(
        _deformed(
            [_dressed(machine, one, costume) for one in shown.pieces], deformed or alone(machine, layer, state, ticks)
        )
    )


def firsts(machine: Machine) -> tuple[Symbolic, ...]:
    """The value that every symbol begins with."""
    return machine.once(firsts, lambda: tuple(one.first for one in machine.symbols))


def _deformed(pieces: Sequence[Piece], deformed: Deformed) -> tuple[Piece, ...]:
    """Pieces as the figure is squashed and leans."""
    if deformed.plain:
        return tuple(pieces)
    scale, whole = (deformed.wide, deformed.high), deformed.whole_pixels
    return tuple(replace(one, scale=scale, whole=whole, tilt=one.tilt + deformed.lean) for one in pieces)


def of_situation(machine: Machine, situation: Situation, deformed: Deformed = PLAIN) -> Drawable:
    """The figure as it is, squashed, tilted and turned the way the body faces: what the topmost layer that shows a picture shows,
    and behind a clear state what the layers below do.  While a crossfade runs, the picture of the state left is in front and lets
    more and more through."""
    pieces: list[Piece] = []
    for layer, now in layers_seen(machine, situation):
        fade, old = situation.fades[layer], None
        if fade is not None and fade.left:
            left = machine.pictures[layer][fade.state]
            share = fade.left / (fade.left + situation.stays[layer])
            old = _piece(machine, situation, left, fade.pick, fade.playhead, share)
            if old is not None:
                old = _dressed(machine, old, wardrobe(machine).worn(situation.values, layer, fade.state))
        pieces = [now, *([old] if old is not None else []), *pieces]
    return Drawable(_deformed(pieces, deformed))


def layers_seen(machine: Machine, situation: Situation) -> Iterator[tuple[int, Piece]]:
    """The layers of which something is seen, the foremost first, with what they show."""
    for layer in range(len(machine.layers) - 1, -1, -1):
        picture = machine.pictures[layer][situation.states[layer]]
        now = _piece(machine, situation, picture, situation.picks[layer], situation.playheads[layer])
        if now is not None:
            costume = wardrobe(machine).worn(situation.values, layer, situation.states[layer])
            yield layer, _dressed(machine, now, costume)
            if not _clear(machine.character.layers[layer], situation.states[layer]):
                return


def _clear(layer: Layer, state: int) -> bool:
    return layer.clear or layer.states[state].clear


def _piece(
    machine: Machine, situation: Situation, picture: Picture | None, pick: int, playhead: int, opacity: float = 1.0
) -> Piece | None:
    if picture is None:
        return None
    clip = picture.reels[pick].clip
    use = picture.reels[pick].shown(playhead, situation.values)
    if use is None:
        return None
    sheet = clip.sheet_of(use)
    view = views(machine).get(sheet)
    left = is_turned(machine, picture) and looks_left(machine, situation.body)
    turned = view is not None and view.mirrors and left ^ (view.facing(clip, use.frame) == "left")
    mirrored = use.mirrored ^ picture.mirrors(pick) ^ turned
    # what is turned stays turned towards where the figure looks
    turn = QUARTER * use.turns * (-1 if turned else 1)
    tilt = -situation.body.slope if machine.character.body.tilts else 0.0
    x, y = _aside(picture.reels[pick], playhead)
    if x and left:
        x = -x
    return Piece(sheet, use.frame, mirrored, x, y, turn, tilt=tilt, opacity=opacity)


def _dressed(machine: Machine, piece: Piece, costume: int) -> Piece:
    """A piece as a costume shows it (-1: without one)."""
    if costume < 0:
        return piece
    sheet, frame = wardrobe(machine).shown(costume, piece.sheet, piece.frame)
    if (sheet, frame) == (piece.sheet, piece.frame):
        return piece
    return replace(piece, sheet=sheet, frame=frame, bare=(piece.sheet, piece.frame))


def _aside(reel: Reel, playhead: int) -> tuple[float, float]:
    """How far a path that moves only the drawing has taken it."""
    return at(reel.path, playhead) if reel.path and not reel.goes else (0.0, 0.0)


def looks_left(machine: Machine, body: BodyState) -> bool:
    """Whether the figure looks left."""
    return (body.facing if machine.character.body.model == "side" else body.side) < 0
