"""What is on screen: pictures with their places, turns and scales, from the back to the front.

Everything that draws a figure takes a :class:`Drawable`, never a sheet and a frame number, so that a picture composed of
several needs no other way of drawing.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator, Sequence

import msgspec
from msgspec.structs import replace

from leanstep.core.bearings import reduced
from leanstep.core.body.body_state import BodyState
from leanstep.core.character import pin_edits
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.graph import Layer
from leanstep.core.character.pin_edits import Spot, spots_on
from leanstep.core.character.pins import Accessory
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.clips.travel import at
from leanstep.core.conditions.evaluation import Symbolic, decide
from leanstep.core.graph.clip_tables import Picture, Reel
from leanstep.core.graph.costumes import wardrobe
from leanstep.core.graph.facing import is_turned, views
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, alone
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper, moment_of


class Piece(msgspec.Struct, frozen=True):
    """One frame of a sheet.  ``x`` and ``y`` are where its foot stands, in units from the figure's foot, up is positive;
    ``turn`` is in degrees clockwise, then it is made ``scale`` times as wide and high about its foot (``whole``: by whole pixels),
    and tilted by ``tilt`` degrees clockwise; ``opacity`` is from 0 to 1.  ``bare`` is the frame in place of which a costume shows
    this one.  ``pinned`` is where it is pinned to a picture of the sheet ``to``: pixels from that picture's foot, to the right and up.
    """

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
    pinned: tuple[float, float] = (0.0, 0.0)
    to: str = ""


class Seen(msgspec.Struct, frozen=True):
    """What is seen of a layer: a piece as it is drawn, which shows a cel of a clip (its number, that of the resting one being the one
    after the last); ``ticks`` the state has been active, ``costume``: the one worn (-1: none); ``leaving``: a crossfade has left
    the state."""

    layer: int
    piece: Piece
    clip: Clip
    cel: int
    ticks: int
    costume: int = -1
    leaving: bool = False


AS_IT_IS = ("", 0)
"""The ``bare`` of a piece that is shown as it is, whatever is worn."""


class Drawable(msgspec.Struct, frozen=True):
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
    return Drawable((_piece(clip, cel, mirrored),))


def at_share(machine: Machine, clip: Clip, share: float, mirrored: bool = False) -> Drawable:
    """A clip of a figure that looks right, after a share (0 to 1) of its length, the other way round if ``mirrored``."""
    made = timing(clip)
    at = made.cel_at(int(share * made.length))
    if at is None:
        return NOTHING
    piece = _looking_right(machine, clip, clip.cels[at], mirrored)
    return _of_clip(machine, Seen(0, piece, clip, at, int(share * made.length) // TICK))


def of_cel_number(machine: Machine, clip: Clip, number: int, every: bool = False, mirrored: bool = False) -> Drawable:
    """A cel of a clip as it stands there, the other way round if ``mirrored``, with what is pinned to it: what is shown at first, or
    ``every`` accessory."""
    ticks = int(sum(cel.ticks for cel in clip.cels[:number]))
    return _of_clip(machine, Seen(0, _piece(clip, clip.cels[number], mirrored), clip, number, ticks), every)


def _of_clip(machine: Machine, one: Seen, every: bool = False) -> Drawable:
    def made() -> tuple[Drawable, Clip]:
        shown = (True,) * len(machine.shown) if every else shown_at_first(machine)
        return Drawable(tuple(with_pinned(machine, one, shown))), one.clip

    # the same few are asked for over and over; a clip that is kept shares its number with no other
    return machine.once((_of_clip, one.piece, id(one.clip), one.cel, _held(machine, one.ticks), every), made)[0]


def _held(machine: Machine, ticks: int) -> tuple[Cel | None, ...]:
    """The cels of accessories that play a clip of their own, after so many ticks."""
    return tuple(accessory_cel(machine, one, ticks)[0] for one in machine.character.accessories if one.clip)


def _piece(clip: Clip, cel: Cel, mirrored: bool = False) -> Piece:
    return Piece(clip.sheet_of(cel), cel.frame, cel.mirrored ^ mirrored, turn=QUARTER * cel.turns)


def _looking_right(machine: Machine, clip: Clip, cel: Cel, mirrored: bool) -> Piece:
    """A cel as it is shown of a figure that looks right: what is drawn facing left is turned."""
    view = views(machine).get(clip.sheet_of(cel))
    turned = view is not None and view.mirrors and view.facing(clip, cel.frame) == "left"
    return _piece(clip, cel, mirrored ^ turned)


def of_state(machine: Machine, layer: int, state: int, ticks: int = 0, deformed: Deformed | None = None) -> Drawable:
    """What a state shows after so many ticks, by itself; ``deformed`` where it is known."""
    picture = machine.pictures[layer][state]
    if picture is None:
        return NOTHING
    reel = picture.reels[0]
    cel = reel.timing.cel_at(reel.timing.step(0, ticks * TICK)[0])
    if cel is None:
        return NOTHING
    deformed = deformed or alone(machine, layer, state, ticks)
    if not deformed.plain:
        return _of_state(machine, layer, state, reel.clip, cel, ticks, deformed)
    # the same few are asked for over and over
    key = (of_state, layer, state, cel, _held(machine, ticks))
    return machine.once(key, lambda: _of_state(machine, layer, state, reel.clip, cel, ticks, deformed))


def _of_state(
    machine: Machine, layer: int, state: int, clip: Clip, cel: int, ticks: int, deformed: Deformed
) -> Drawable:
    picture = machine.pictures[layer][state]
    piece = _looking_right(machine, clip, clip.cels[cel], picture is not None and picture.mirrors(0))
    costume = wardrobe(machine).worn(firsts(machine), layer, state)
    one = Seen(layer, deformed_piece(_dressed(machine, piece, costume), deformed), clip, cel, ticks, costume)
    return Drawable(tuple(with_pinned(machine, one, shown_at_first(machine, layer, state))))


def shown_at_first(machine: Machine, layer: int = 0, state: int | None = None) -> tuple[bool, ...]:
    """Which accessories are shown while every value is what it begins with, and a layer is in a state (None: that it begins with)."""
    if not machine.shown:
        return ()
    first = machine.once((shown_at_first, Stepper), lambda: Stepper(machine).first())
    states = tuple(state if at == layer and state is not None else one for at, one in enumerate(first.states))
    return shown_now(machine, dataclasses.replace(first, states=states))


def firsts(machine: Machine) -> tuple[Symbolic, ...]:
    """The value that every symbol begins with."""
    return machine.once(firsts, lambda: tuple(one.first for one in machine.symbols))


def deformed_piece(piece: Piece, deformed: Deformed) -> Piece:
    """A piece as the figure is squashed and leans."""
    if deformed.plain:
        return piece
    scale, whole = (deformed.wide, deformed.high), deformed.whole_pixels
    return replace(piece, scale=scale, whole=whole, tilt=piece.tilt + deformed.lean)


def of_situation(machine: Machine, situation: Situation, deformed: Deformed = PLAIN) -> Drawable:
    """The figure as it is, squashed, tilted and turned the way the body faces: what the topmost layer that shows a picture shows,
    and behind a clear state what the layers below do.  While a crossfade runs, the picture of the state left is in front and lets
    more and more through.  What is pinned to a picture is drawn with it."""
    found = seen(machine, situation, deformed)
    if not machine.character.accessories:
        return Drawable(tuple(one.piece for one in found))
    shown = shown_now(machine, situation)
    return Drawable(tuple(piece for one in found for piece in with_pinned(machine, one, shown)))


def shown_now(machine: Machine, situation: Situation) -> tuple[bool, ...]:
    """Which accessories are shown."""
    if not machine.shown:
        return ()
    moment = moment_of(machine, situation)
    return tuple(decide(condition, moment) for condition in machine.shown)


def seen(machine: Machine, situation: Situation, deformed: Deformed = PLAIN) -> list[Seen]:
    """What is seen of the figure, from the back to the front."""
    found: list[Seen] = []
    for now in _layers_seen(machine, situation):
        layer, both = now.layer, [now]
        fade = situation.fades[layer]
        if fade is not None and fade.left:
            left = machine.pictures[layer][fade.state]
            share = fade.left / (fade.left + situation.stays[layer])
            old = _seen(machine, situation, left, layer, fade.state, fade.pick, fade.playhead, share)
            both += [old] if old is not None else []
        found = [*both, *found]
    return found if deformed.plain else [replace(one, piece=deformed_piece(one.piece, deformed)) for one in found]


def layers_seen(machine: Machine, situation: Situation) -> Iterator[tuple[int, Piece]]:
    """The layers of which something is seen, the foremost first, with what they show."""
    return ((one.layer, one.piece) for one in _layers_seen(machine, situation))


def _layers_seen(machine: Machine, situation: Situation) -> Iterator[Seen]:
    for layer in range(len(machine.layers) - 1, -1, -1):
        state = situation.states[layer]
        picture, pick, playhead = machine.pictures[layer][state], situation.picks[layer], situation.playheads[layer]
        now = _seen(machine, situation, picture, layer, state, pick, playhead)
        if now is not None:
            yield now
            if not _clear(machine.character.layers[layer], state):
                return


def _clear(layer: Layer, state: int) -> bool:
    return layer.clear or layer.states[state].clear


def _seen(
    machine: Machine,
    situation: Situation,
    picture: Picture | None,
    layer: int,
    state: int,
    pick: int,
    playhead: int,
    left: float | None = None,
) -> Seen | None:
    """What a state of a layer shows at a playhead, in the costume worn; ``left``: it was left, and so much of it is seen yet."""
    if picture is None:
        return None
    reel = picture.reels[pick]
    number = reel.number_shown(playhead, situation.values)
    if number is None:
        return None
    cel = reel.cel(number)
    piece = turned(machine, situation, picture, pick, cel)
    x, y = _aside(reel, playhead)
    if x and looks_left(machine, situation.body):
        x = -x
    costume = wardrobe(machine).worn(situation.values, layer, state)
    piece = _dressed(machine, replace(piece, x=x, y=y, opacity=1.0 if left is None else left), costume)
    ticks = situation.stays[layer] if left is None else playhead // TICK
    return Seen(layer, piece, reel.clip, number, ticks, costume, left is not None)


def turned(machine: Machine, situation: Situation, picture: Picture, pick: int, cel: Cel) -> Piece:
    """A cel of what a state shows, the way round it is drawn while the body is so."""
    clip = picture.reels[pick].clip
    sheet = clip.sheet_of(cel)
    view = views(machine).get(sheet)
    left = is_turned(machine, picture) and looks_left(machine, situation.body)
    facing = view is not None and view.mirrors and left ^ (view.facing(clip, cel.frame) == "left")
    mirrored = cel.mirrored ^ picture.mirrors(pick) ^ facing
    # what is turned stays turned towards where the figure looks
    turn = QUARTER * cel.turns * (-1 if facing else 1)
    tilt = -situation.body.slope if machine.character.body.tilts else 0.0
    return Piece(sheet, cel.frame, mirrored, turn=turn, tilt=tilt)


def carried(spot: Spot, piece: Piece) -> Spot:
    """Where a pin point of a piece's picture comes to lie, in pixels from its foot, up is positive, and where it points."""
    return pin_edits.carried(spot, piece.mirrored, round(piece.turn / QUARTER) % 4, piece.scale, piece.tilt)


def pinned(machine: Machine, one: Seen, shown: Sequence[bool]) -> Iterator[tuple[Accessory, bool, Piece]]:
    """The accessories that are pinned to a picture, whether each is drawn behind it, and how; ``shown`` says which are."""
    spots = dict(spots_on(one.clip, one.cel))
    for accessory, is_shown in zip(machine.character.accessories, shown, strict=True):
        spot = spots.get(accessory.pin)
        piece = _pinned(machine, accessory, spot, one) if spot is not None and is_shown else None
        if spot is not None and piece is not None:
            yield accessory, accessory.order == "behind" or (accessory.order == "pin" and spot.behind), piece


def with_pinned(machine: Machine, one: Seen, shown: Sequence[bool]) -> list[Piece]:
    """A piece with the accessories that are pinned to its picture, from the back to the front; ``shown`` says which are."""
    found = [(behind, piece) for _, behind, piece in pinned(machine, one, shown)]
    return [*(piece for behind, piece in found if behind), one.piece, *(piece for behind, piece in found if not behind)]


def _pinned(machine: Machine, accessory: Accessory, spot: Spot, one: Seen) -> Piece | None:
    """An accessory as it is drawn at a pin point of a picture; None where it has no picture."""
    cel, clip = accessory_cel(machine, accessory, one.ticks)
    if cel is None:
        return None
    sheet = clip.sheet_of(cel) if clip is not None else accessory.sheet
    piece, place = one.piece, carried(spot, one.piece)
    quarters = round(piece.turn / QUARTER) % 4
    # the picture is squashed itself, so it is turned by what is not
    turn = reduced(spot.angle - accessory.angle) + QUARTER * cel.turns
    made = replace(
        piece,
        sheet=sheet,
        frame=cel.frame,
        mirrored=piece.mirrored ^ cel.mirrored,
        turn=reduced(QUARTER * quarters + (-turn if piece.mirrored else turn)),
        bare=None,
        pinned=(place.x, place.y),
        # a costume has a foot and a size of its own, pin points are those of what it is worn over
        to=piece.bare[0] if piece.bare else piece.sheet,
    )
    return _dressed(machine, made, one.costume)


def accessory_cel(machine: Machine, accessory: Accessory, ticks: int) -> tuple[Cel | None, Clip | None]:
    """What an accessory shows so many ticks after a state began: a cel, and the clip it is of (None: it is one picture)."""
    if not accessory.clip:
        return (Cel(frame=accessory.frame) if accessory.sheet in views(machine) else None), None
    clip = machine.once((accessory_cel, accessory.clip), lambda: _clip_called(machine, accessory.clip))
    if clip is None:
        return None, None
    made = timing(clip)
    at = made.cel_at(made.folded(ticks * TICK))
    return (None if at is None else clip.cels[at]), clip


def _clip_called(machine: Machine, name: str) -> Clip | None:
    return next((clip for clip in machine.character.clips if clip.name == name), None)


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
