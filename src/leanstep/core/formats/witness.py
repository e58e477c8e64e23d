"""The witness of a finding as a moving picture: the figure, the ribbon and the sentence, for whoever has no Lean Step."""

from __future__ import annotations

import io
import math
import textwrap
from collections.abc import Mapping, Sequence
from importlib import resources

from PIL import Image, ImageDraw, ImageFont

from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.results import Finding
from leanstep.core.formats.animations import delays
from leanstep.core.formats.png import png
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import Piece, of_situation
from leanstep.core.rehearsal.situation import Step
from leanstep.core.rehearsal.takes import changes_of, rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.sheets.images import CutSheet
from leanstep.core.sheets.scaling import scaled

PAPER, INK, RULE, SHADE = "#faf6ec", "#2a2620", "#8a7f68", "#5b5344"
TINTS = ("#cfdfe8", "#e8d9b8", "#d8e3c4", "#e6cfc6", "#d9d0e4", "#c9e0d9")
WIDTH, STAGE, ROW, MARGIN = 640, 190, 24, 16
"""In pixels: the picture, the place for the figure, a row of the ribbon, and the margin."""
HIGH = 120
"""How high a figure stands about, in pixels."""
LONGEST, MANY = 600, 240
"""Ticks of a witness that are drawn at most, and from how many on every second one is."""


def given_words(machine: Machine, take: Take, ticks: int) -> list[str]:
    """What hands and the game do on each tick, in words."""
    changes = changes_of(machine, take)
    on: dict[int, str] = {}
    made, at = [], 0
    for tick in range(ticks):
        now = []
        while at < len(changes) and changes[at][0] <= tick:
            _, index, value = changes[at]
            symbol = machine.symbols[index]
            at += 1
            if symbol.momentary:
                now += [symbol.name] if value else []
            elif symbol.kind in ("flag", "button"):
                on[index] = symbol.name if value else ""
            else:
                rests = value == symbol.rest
                on[index] = "" if rests else f"{symbol.name} {value if isinstance(value, str) else f'{value:g}'}"
        made.append(", ".join([*now, *(words for words in on.values() if words)]))
    return made


def moving_witness(machine: Machine, finding: Finding, sheets: Mapping[str, CutSheet]) -> bytes:
    """The witness of a finding as APNG.

    Raises
    ------
    LeanStepError : the finding has none.
    """
    if finding.witness is None:
        raise LeanStepError(finding.id, "it has no witness to be played", "Choose a finding that is shown by a take.")
    trace = rehearse(machine, finding.witness, most=LONGEST)
    return _Drawer(machine, finding, trace, sheets).moving()


class _Drawer:
    """Draws every tick of a witness."""

    def __init__(self, machine: Machine, finding: Finding, trace: Trace, sheets: Mapping[str, CutSheet]) -> None:
        assert finding.witness is not None
        self.machine, self.trace, self.sheets = machine, trace, sheets
        self.plain, self.strong = (
            _font(name, size) for name, size in (("ClearSans-Regular", 14), ("Vollkorn-SemiBold", 18))
        )
        self.lines = textwrap.wrap(finding.sentence, 66)
        self.top = MARGIN + 25 * len(self.lines) + 8
        self.words = given_words(machine, finding.witness, len(trace.steps))
        self.height = self.top + STAGE + 24 + ROW * len(machine.layers) + MARGIN
        tallest = max((sheet.shown_height for sheet in sheets.values()), default=1.0)
        self.scale = max(1, math.floor(HIGH / tallest + 0.5))
        self.drawn: dict[Piece, tuple[Image.Image, tuple[int, int]]] = {}

    def moving(self) -> bytes:
        still, total = self._still(), len(self.trace.steps)
        every = 1 if total <= MANY else 2
        pictures = [self._tick(still, tick, self.trace.steps[tick]) for tick in range(0, total, every)] or [still]
        palette = _palette(pictures)
        # what looks the same is one picture, for longer; the end is held for a second, so that it is seen
        kept, ticks = list[Image.Image](), list[float]()
        for picture in (one.quantize(palette=palette, dither=Image.Dither.NONE) for one in pictures):
            if kept and picture.tobytes() == kept[-1].tobytes():
                ticks[-1] += every
            else:
                kept.append(picture)
                ticks.append(float(every))
        rate = self.machine.character.rate
        ticks[-1] += rate
        times, _ = delays(ticks, rate)
        return png(kept[0], kept[1:], duration=times, loop=0)

    def _still(self) -> Image.Image:
        """What is the same on every tick: the sentence, the ground, the ribbon."""
        picture = Image.new("RGB", (WIDTH, self.height), PAPER)
        pen = ImageDraw.Draw(picture)
        for number, line in enumerate(self.lines):
            pen.text((MARGIN, MARGIN + 25 * number), line, INK, self.strong)
        ground = self.top + STAGE - 20
        pen.line((MARGIN, ground, WIDTH - MARGIN, ground), RULE)
        for layer, table in enumerate(self.machine.layers):
            y = self._row(layer)
            for run in self.trace.ribbon(layer):
                left, right = self._place(run.start), max(self._place(run.start) + 1, self._place(run.end))
                pen.rectangle((left, y, right, y + ROW - 4), TINTS[run.state % len(TINTS)], RULE)
                name = table.states[run.state]
                if pen.textlength(name, self.plain) < right - left - 8:
                    pen.text((left + 4, y + 1), name, INK, self.plain)
        return picture

    def _row(self, layer: int) -> int:
        return self.top + STAGE + 24 + ROW * layer

    def _place(self, tick: float) -> int:
        return MARGIN + round(tick / max(1, len(self.trace.steps)) * (WIDTH - 2 * MARGIN))

    def _tick(self, still: Image.Image, tick: int, step: Step) -> Image.Image:
        picture = still.copy()
        pen = ImageDraw.Draw(picture)
        now, first = step.situation, self.trace.first.body
        middle, ground = WIDTH // 2, self.top + STAGE - 20
        along = (now.body.x - first.x) * self.scale
        lift = max(-15.0, min(STAGE - HIGH - 20.0, (now.body.y + now.body.lift - first.y) * self.scale))
        for at in range(MARGIN, WIDTH - MARGIN):
            if (at - middle + round(along)) % (32 * self.scale) == 0:
                pen.line((at, ground, at - 4, ground + 6), RULE)
        pieces = of_situation(self.machine, now, self.trace.deformed(tick)).pieces
        for piece in pieces:
            drawn = self._piece(piece)
            if drawn is not None:
                image, foot = drawn
                by = self.sheets[piece.to].scale if piece.to in self.sheets else (1.0, 1.0)
                across, up = piece.x + piece.pinned[0] * by[0], piece.y + piece.pinned[1] * by[1]
                x = middle + round(across * self.scale) - foot[0]
                picture.paste(image, (x, ground - round(lift + up * self.scale) - foot[1]), image)
        states = " · ".join(table.states[state] for table, state in zip(self.machine.layers, now.states))
        given = self.words[tick]
        pen.text(
            (MARGIN, self.top + STAGE), f"tick {tick}: {states}{' – ' + given if given else ''}", SHADE, self.plain
        )
        place = self._place(tick + 0.5)
        pen.line((place, self._row(0) - 4, place, self.height - MARGIN + 2), INK, 2)
        return picture

    def _piece(self, piece: Piece) -> tuple[Image.Image, tuple[int, int]] | None:
        """A frame as it is drawn, with its foot in it; tilts are left out."""
        sheet = self.sheets.get(piece.sheet)
        if sheet is None or piece.frame >= len(sheet.frames):
            return None
        if piece not in self.drawn:
            by = tuple(one * self.scale * two for one, two in zip(sheet.scale, piece.scale))
            smooth = sheet.sheet.scale is not None and sheet.sheet.scale.smooth
            image = Image.fromarray(scaled(sheet.picture(piece.frame), (by[0], by[1]), smooth))
            foot = [round(place * one) for place, one in zip(sheet.frames[piece.frame].foot, by)]
            if piece.mirrored:
                image = image.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
                foot[0] = image.width - foot[0]
            image, foot = _turned(image, foot, piece.turn)
            if piece.opacity < 1:
                image.putalpha(image.getchannel("A").point(lambda value: round(value * piece.opacity)))
            self.drawn[piece] = image, (foot[0], foot[1])
        return self.drawn[piece]


def _turned(image: Image.Image, foot: list[int], turn: float) -> tuple[Image.Image, list[int]]:
    """A picture turned clockwise about its foot, and where that is then; hard, and by quarters without a loss."""
    for _ in range(round(turn / 90) % 4 if turn % 90 == 0 else 0):
        foot = [image.height - foot[1], foot[0]]
        image = image.transpose(Image.Transpose.ROTATE_270)
    if turn % 90 == 0:
        return image, foot
    side = 2 * max(foot[0], foot[1], image.width - foot[0], image.height - foot[1]) + 2
    middle = side // 2
    large = Image.new("RGBA", (side, side))
    large.paste(image, (middle - foot[0], middle - foot[1]))
    return large.rotate(-turn, center=(middle, middle)), [middle, middle]


def _palette(pictures: Sequence[Image.Image]) -> Image.Image:
    """The colours of the first, the middle and the last picture."""
    some = [pictures[at] for at in sorted({0, len(pictures) // 2, len(pictures) - 1})]
    together = Image.new("RGB", (some[0].width, some[0].height * len(some)))
    for number, picture in enumerate(some):
        together.paste(picture, (0, number * picture.height))
    return together.quantize(256, dither=Image.Dither.NONE)


def _font(name: str, size: int) -> ImageFont.FreeTypeFont:
    data = resources.files("leanstep").joinpath("fonts", f"{name}.ttf").read_bytes()
    return ImageFont.truetype(io.BytesIO(data), size)
