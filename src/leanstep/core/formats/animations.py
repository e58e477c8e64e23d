"""Clips as moving pictures at true speed (APNG, GIF) and as strips, for those who have no Lean Step."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.cut_outs.loading import loaded
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.png import SAYS, png
from leanstep.core.sheets.background import Pixels
from leanstep.core.sheets.images import CutSheet
from leanstep.core.sheets.scaling import scaled

GIF_STEP, GIF_LEAST = 10, 20
"""Milliseconds that a delay of a GIF is counted in, and that one lasts at least: many programs play shorter ones slower."""
OPAQUE = 128
"""From this alpha on a pixel is there in a GIF, which knows nothing between."""


@dataclass(frozen=True)
class Moving:
    """The pictures of one pass of a clip, all of one size with the foot at the same place, and how long each is shown, in ticks;
    ``again``: it starts over."""

    pictures: tuple[Pixels, ...]
    ticks: tuple[float, ...]
    again: bool
    rate: float


def delays(ticks: Sequence[float], rate: float, step: int = 1, least: int = 1) -> tuple[list[int], float]:
    """How long each picture is shown, in whole steps of so many milliseconds and at least ``least``, with what rounding leaves over
    carried to the next one; and by how many milliseconds a picture at most comes early or late."""
    made: list[int] = []
    due = shown = worst = 0.0
    for one in ticks:
        due += one / rate * 1000
        delay = max(least, round((due - shown) / step) * step)
        made.append(delay)
        shown += delay
        worst = max(worst, abs(shown - due))
    return made, worst


def sheets_of(character: Character, clips: Sequence[Clip], folder: Path) -> dict[str, CutSheet]:
    """The sheets that clips show, by name; raises :class:`LeanStepError` where one cannot be read."""
    names = {clip.sheet_of(cel) for clip in clips for cel in clip.cels}
    return {sheet.name: loaded(sheet, folder, character.sheets) for sheet in character.sheets if sheet.name in names}


def moving(character: Character, clip: Clip, sheets: dict[str, CutSheet], enlarge: int = 1) -> Moving:
    """A clip's pictures, every pixel ``enlarge`` times as large.

    Raises
    ------
    LeanStepError : it shows nothing, or a frame that is not there.
    """
    if not clip.cels:
        raise LeanStepError(f"clip {clip.name!r}", "it has no cels", "Give it one, or leave it out.")
    made = timing(clip)
    drawn = {at: _drawn(clip, cel, sheets) for at, cel in enumerate(clip.cels)}
    left, up = (max(foot[side] for _, foot in drawn.values()) for side in (0, 1))
    right = max(picture.shape[1] - foot[0] for picture, foot in drawn.values())
    down = max(picture.shape[0] - foot[1] for picture, foot in drawn.values())
    canvas: dict[int, Pixels] = {}
    for at, (picture, foot) in drawn.items():
        whole = np.zeros((up + down, left + right, 4), np.uint8)
        y, x = up - foot[1], left - foot[0]
        whole[y : y + picture.shape[0], x : x + picture.shape[1]] = picture
        canvas[at] = scaled(whole, (float(enlarge), float(enlarge)), False)
    ends = [*made.starts[1:], made.length]
    ticks = tuple((end - start) / TICK for start, end in zip(made.starts, ends))
    return Moving(tuple(canvas[at] for at in made.order), ticks, made.repeats, character.rate)


def _drawn(clip: Clip, cel: Cel, sheets: dict[str, CutSheet]) -> tuple[Pixels, tuple[int, int]]:
    """A cel's picture as it is shown, and its foot in it, in whole pixels."""
    name = clip.sheet_of(cel)
    sheet = sheets.get(name)
    if sheet is None or cel.frame >= len(sheet.frames):
        raise LeanStepError(f"clip {clip.name!r}", f"frame {cel.frame} of {name} is not there", "Choose another frame.")
    scale = sheet.sheet.scale
    picture = scaled(sheet.picture(cel.frame), sheet.scale, scale is not None and scale.smooth)
    foot = [round(place * by) for place, by in zip(sheet.frames[cel.frame].foot, sheet.scale)]
    if cel.mirrored:
        picture, foot[0] = picture[:, ::-1], picture.shape[1] - foot[0]
    for _ in range(cel.turns):
        # clockwise: what was above is right
        foot = [picture.shape[0] - foot[1], foot[0]]
        picture = np.rot90(picture, -1)
    return np.ascontiguousarray(picture), (foot[0], foot[1])


def apng(one: Moving) -> bytes:
    """A moving PNG, exact to the millisecond; what repeats does so for ever."""
    times, _ = delays(one.ticks, one.rate)
    first, *rest = map(Image.fromarray, one.pictures)
    if not rest:
        return png(first)
    return png(first, rest, duration=times, loop=0 if one.again else 1, disposal=1, blend=0)


def gif(one: Moving) -> tuple[bytes, float]:
    """A GIF, and by how many milliseconds it is out of time at most."""
    times, worst = delays(one.ticks, one.rate, GIF_STEP, GIF_LEAST)
    first, *rest = map(_paletted, one.pictures)
    out = io.BytesIO()
    repeats = {"loop": 0} if one.again else {}
    first.save(
        out, "GIF", save_all=True, append_images=rest, duration=times, disposal=2, transparency=0, optimize=False,
        comment=SAYS.encode(), **repeats,
    )  # fmt: skip
    return out.getvalue(), worst


def _paletted(pixels: Pixels) -> Image.Image:
    """A picture in at most 255 colours, the first of the palette being clear."""
    there = pixels[:, :, 3] >= OPAQUE
    flat = Image.fromarray(np.ascontiguousarray(pixels[:, :, :3])).quantize(255, dither=Image.Dither.NONE)
    palette = flat.getpalette() or []
    numbers = np.where(there, np.asarray(flat) + 1, 0).astype(np.uint8)
    made = Image.fromarray(numbers, "P")
    made.putpalette([0, 0, 0, *palette[: 255 * 3]])
    return made


def strip(one: Moving) -> bytes:
    """All pictures of a pass beside each other, once each, as a PNG."""
    return png(Image.fromarray(np.concatenate(one.pictures, axis=1)))
