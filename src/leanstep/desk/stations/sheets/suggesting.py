"""What an image asks for, worked out beside the window."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import Future
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeGuard

import numpy as np
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.sheets import Ground as WrittenGround
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.background import DRAWN, Ground, Pixels, cleared, drawn, ground_of, holes_of
from leanstep.core.sheets.cutting import Rect, rectangles
from leanstep.core.sheets.drawings import drawings, tight_rects
from leanstep.core.sheets.matching import Matching, matched
from leanstep.core.sheets.reading import made_of
from leanstep.core.sheets.suggestion import Evidence, Suggestion, suggested
from leanstep.desk.art import Loaded, Unfitted, picture_of
from leanstep.desk.workers import Workers


@dataclass(frozen=True)
class Seen:
    """What was seen in an image: ways to cut it, the best first, its opaque ground, places of the ground's colour that
    the drawings enclose once it is cleared, and the cut into the pictures it came with."""

    evidence: Evidence
    suggestions: list[Suggestion]
    ground: Ground | None
    holes: list[tuple[int, int]]
    made_of: Cut | None


@dataclass(frozen=True)
class Export:
    """An image that was saved again, with the cut that fits it now, and what became of the frames."""

    sheet: str
    before: Loaded
    pixels: Pixels
    image: QImage
    cut: Cut
    rects: list[Rect]
    matching: Matching
    changed: int


class Suggesting(QObject):
    """Looks at one image after the other; ``came`` tells that ``seen``, ``found`` or ``picture`` (the image
    without a ground) is there for the one asked for last."""

    came = Signal()
    compared = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._workers = Workers("suggesting")
        self._pixels: Pixels | None = None
        self._coming: Future[Seen] | None = None
        self._finding: tuple[tuple[int, int], Future[list[Rect]]] | None = None
        self.seen: Seen | None = None
        self.found: list[Rect] | None = None
        self.picture: QImage | None = None
        self._clearing: Future[QImage] | None = None

    @property
    def busy(self) -> bool:
        """Whether anything is being worked out."""
        return self._coming is not None or self._finding is not None

    def look_at(
        self,
        pixels: Pixels | None,
        source: Pixels | None = None,
        ground: WrittenGround | None = None,
        paths: Sequence[Path] = (),
    ) -> None:
        """Begin to look at an image, unless it is the one looked at already; ``source`` is what it was before its ``ground``
        was cleared, ``paths`` where its files are."""
        if pixels is self._pixels:
            return
        self._pixels, self.seen, self.found, self.picture = pixels, None, None, None
        self._coming = self._finding = self._clearing = None
        if pixels is not None:
            self._coming = self._begin(lambda: _see(pixels, source, ground, paths))

    def find(self, speck: int, near: int) -> None:
        """Begin to find the drawings of the image looked at; see :func:`drawings`."""
        if self.seen is None or (self._finding is not None and self._finding[0] == (speck, near)):
            return
        pieces = self.seen.evidence.pieces
        self._finding = (speck, near), self._begin(lambda: tight_rects(drawings(pieces, speck, near)))

    def clear(self, pixels: Pixels, written: WrittenGround) -> None:
        """Begin to make a picture of an image without a ground."""
        ground = Ground.written(written.colour, written.tolerance)
        self._clearing = self._begin(lambda: picture_of(cleared(pixels, ground, written.holes)))

    def compare(self, sheet: Sheet, before: Loaded, after: Loaded | Unfitted) -> None:
        """Begin to find the frames of a sheet in its image that was saved again; ``compared`` tells the :class:`Export`."""
        self._workers.begin(lambda: _compared(sheet, before, after), self._tell_compared)

    def _tell_compared(self, done: Future[Export | None]) -> None:
        found = done.result()
        if found is not None:
            self.compared.emit(found)

    def close(self) -> None:
        """Let go of the thread."""
        self._workers.close()

    def _begin(self, work: Callable[[], object]) -> Future:
        return self._workers.begin(work, lambda done: self._take_in())

    def _take_in(self) -> None:
        came = False
        if _ready(self._coming):
            self.seen, self._coming, came = self._coming.result(), None, True
        if self._finding is not None and _ready(self._finding[1]):
            self.found, self._finding, came = self._finding[1].result(), None, True
        if _ready(self._clearing):
            self.picture, self._clearing, came = self._clearing.result(), None, True
        if came:
            self.came.emit()


def _ready(coming: Future[Any] | None) -> TypeGuard[Future[Any]]:
    """Whether work is done; what is dropped when the window closes never is."""
    return coming is not None and coming.done() and not coming.cancelled()


def _see(pixels: Pixels, source: Pixels | None, written: WrittenGround | None, paths: Sequence[Path]) -> Seen:
    made = None
    if paths:
        with suppress(LeanStepError):
            made = made_of(paths)
    evidence = Evidence(pixels, drawn(pixels))
    holes: list[tuple[int, int]] = []
    if source is not None and written is not None:
        found = holes_of(source, Ground.written(written.colour, written.tolerance))
        holes = [(x, y) for x, y in found if pixels[y, x, 3] >= DRAWN]
    return Seen(evidence, suggested(evidence), ground_of(pixels), holes, made)


def _compared(sheet: Sheet, before: Loaded, after: Loaded | Unfitted) -> Export | None:
    """None when the image is the same, or cannot be cut in any way."""
    if isinstance(after, Loaded):
        if np.array_equal(before.cut.source, after.cut.source):
            return None
        pixels, cut, rects = after.cut.pixels, sheet.cut, [frame.rect for frame in after.cut.frames]
    else:
        found = suggested(Evidence(after.pixels, drawn(after.pixels)))
        if not found:
            return None
        pixels, cut = after.pixels, found[0].cut
        rects = rectangles(cut, pixels.shape[1], pixels.shape[0])
    matching = matched(before.cut.pixels, [frame.rect for frame in before.cut.frames], pixels, rects)
    changed = sum(one.how != "exact" for one in matching.matches)
    return Export(sheet.name, before, pixels, after.image, cut, rects, matching, changed)
