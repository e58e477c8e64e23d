"""The character's pictures for Qt.  Images are read and cut beside the window, never on its thread."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import Future, wait
from dataclasses import dataclass
from functools import partial
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from PySide6.QtCore import QObject, QPointF, QRect, QTimer, Signal
from PySide6.QtGui import QImage, QPixmap

from leanstep.core.character.clips import Clip
from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.blending import Mixture
from leanstep.core.cut_outs.loading import Figure, drawn_poses, figure, loaded, sources
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.costumes import stands_in
from leanstep.core.rehearsal.drawable import AS_IT_IS, Piece
from leanstep.core.sheets.boxes import Box, of_clip
from leanstep.core.sheets.feet import bounds
from leanstep.core.sheets.images import CutSheet, Pixels, Uncut, cut_sheet
from leanstep.core.sheets.scaling import scaled
from leanstep.desk.workers import Workers

PATIENCE = 0.04
"""Seconds the window waits for an image that was asked for just now, so that small ones are there at once."""
LOOK_AGAIN = 1000
"""Milliseconds after which files are looked at again."""


@dataclass(frozen=True)
class Loaded:
    """A sheet's pixels, frames and picture."""

    cut: CutSheet
    image: QImage


class Unfitted(LeanStepError):
    """A sheet whose image is there but cannot be cut as the sheet says: its ``pixels`` and ``image``, and why."""

    def __init__(self, error: Uncut) -> None:
        self.pixels, self.image = error.pixels, picture_of(error.pixels)
        super().__init__(error.thing, error.reason, error.way_out)


@dataclass
class _Entry:
    """One sheet as it was when it was asked for, with those it is drawn from; ``shown`` is what came of it, or what there was before.
    ``older`` is the sheet before its image was saved again, until the new one could be read."""

    of: list[Sheet]
    paths: list[Path]
    stamp: list[tuple[float, int]]
    coming: Future[Loaded | LeanStepError] | None
    shown: Loaded | LeanStepError | None = None
    older: Loaded | None = None
    right_for: tuple[Character, Path] | None = None


class Art(QObject):
    """Sheets, frames and feet of the document; ``changed`` tells when a picture has come or changed, ``exported`` that the
    image of a sheet (its name) was saved again: as it was (:class:`Loaded`) and as it is now."""

    changed = Signal()
    exported = Signal(str, object, object)

    def __init__(self, document: Callable[[], Character], folder: Callable[[], Path]) -> None:
        super().__init__()
        self._document, self._folder = document, folder
        self._entries: dict[str, _Entry] = {}
        self._pictures: dict[tuple[str, int, bool], tuple[QPixmap, QRect]] = {}
        self._figure: tuple[CutSheet, CutSheet, Figure] | None = None
        self.worn: str | None = None
        """The costume that every preview shows."""
        self._known: dict[tuple[str, int], tuple[str, int]] = {}
        self._known_of: Character | None = None
        self._workers = Workers("art", 2)
        self._timer = QTimer(self, interval=LOOK_AGAIN)
        self._timer.timeout.connect(self._look_again)
        self._timer.start()

    def forget(self) -> None:
        """Another document is open."""
        self.worn = None
        self._entries.clear()
        self._pictures.clear()

    def close(self) -> None:
        """Let go of the threads."""
        self._timer.stop()
        self._workers.close()

    def prepare(self) -> None:
        """Begin to read every sheet of the document; those that are read quickly are there afterwards."""
        for sheet in self._document().sheets:
            self._entry(sheet)
        wait([one.coming for one in self._entries.values() if one.coming is not None], PATIENCE)
        self._take_in()

    def sheet(self, name: str) -> Loaded | LeanStepError | None:
        """A sheet with its pixels, or why it cannot be shown; None while it is being read."""
        document, folder, entry = self._document(), self._folder(), self._entries.get(name)
        if entry is not None and entry.right_for is not None:
            known, there = entry.right_for
            if known is document and there is folder:
                return entry.shown
        sheet = next((one for one in document.sheets if one.name == name), None)
        if sheet is None:
            return LeanStepError(f"sheet {name!r}", "there is no such sheet", "Choose another one.")
        if entry is None or entry.of != sources(sheet, document.sheets) or entry.paths != self._paths(entry.of):
            entry = self._entry(sheet)
            if entry.coming is not None:
                wait([entry.coming], PATIENCE)
                self._take_in()
        entry.right_for = document, folder
        return entry.shown

    def wear(self, costume: str | None) -> None:
        """Let every preview show a costume (empty: none), whatever the graph says; None: what the graph says."""
        if costume != self.worn:
            self.worn, self._known = costume, {}
            self.changed.emit()

    def _dressed(self, piece: Piece) -> Piece:
        """A piece as it is worn."""
        if self.worn is None or piece.bare == AS_IT_IS:
            return piece
        document = self._document()
        if self._known_of is not document:
            self._known_of, self._known = document, {}
        bare = piece.bare or (piece.sheet, piece.frame)
        if bare not in self._known:
            self._known[bare] = self._worn_instead(document, *bare)
        sheet, frame = self._known[bare]
        return piece if (sheet, frame) == (piece.sheet, piece.frame) else replace(piece, sheet=sheet, frame=frame)

    def _worn_instead(self, document: Character, sheet: str, frame: int) -> tuple[str, int]:
        """What is shown in place of a frame."""
        parts = (part for one in document.costumes if one.name == self.worn for part in one.sheets)
        part = next((one for one in parts if one.sheet == sheet), None)
        other = self.sheet(part.by) if part is not None else None
        found = (
            stands_in(part, len(other.cut.frames), frame) if part is not None and isinstance(other, Loaded) else None
        )
        return found or (sheet, frame)

    def pixmap(self, piece: Piece) -> QPixmap | None:
        """A piece's picture; None when it cannot be shown."""
        found = self._picture(piece)
        return found[0] if found is not None else None

    def drawn(self, piece: Piece) -> QRect:
        """All of a piece's picture that is not empty, with a pixel around it, in its pixels."""
        found = self._picture(piece)
        return found[1] if found is not None else QRect()

    def _picture(self, piece: Piece) -> tuple[QPixmap, QRect] | None:
        piece = self._dressed(piece)
        key = (piece.sheet, piece.frame, piece.mirrored)
        if key not in self._pictures:
            loaded = self.sheet(piece.sheet)
            if not isinstance(loaded, Loaded) or not 0 <= piece.frame < len(loaded.cut.frames):
                return None
            part = _part(loaded, piece.frame)
            part = part.mirrored(True, False) if piece.mirrored else part
            self._pictures[key] = QPixmap.fromImage(part), _drawn(part)
        return self._pictures[key]

    def figure(self, cut_out: CutOut) -> Figure | None:
        """The parts that a cut-out, as it was written, is drawn from; None where they cannot be put together, or are being read."""
        rig, pictures = self.sheet(cut_out.of), self.sheet(cut_out.pictures or cut_out.of)
        if not isinstance(rig, Loaded) or not isinstance(pictures, Loaded):
            return None
        if self._figure is None or self._figure[0] is not rig.cut or self._figure[1] is not pictures.cut:
            try:
                self._figure = rig.cut, pictures.cut, figure(rig.cut, pictures.cut)
            except LeanStepError:
                return None
        return self._figure[2]

    def mixed(self, mixture: Mixture) -> tuple[QPixmap, QPointF] | None:
        """The picture of a mixed figure, with its foot in it; None where it cannot be drawn."""
        sheet = next((one for one in self._document().sheets if one.name == mixture.sheet), None)
        of = self.figure(mixture.cut_outs[0])
        if sheet is None or of is None:
            return None
        try:
            made = drawn_poses(sheet, mixture.cut_outs[0], of, [mixture.poses(of.bones)])
        except LeanStepError:
            return None
        image, foot = picture_of(made.picture(0)), made.frames[0].foot
        if mixture.mirrored:
            return QPixmap.fromImage(image.mirrored(True, False)), QPointF(image.width() - foot[0], foot[1])
        return QPixmap.fromImage(image), QPointF(*foot)

    def foot(self, piece: Piece) -> tuple[float, float]:
        """The foot point of a piece's picture, in pixels from its top left corner."""
        piece = self._dressed(piece)
        loaded = self.sheet(piece.sheet)
        if not isinstance(loaded, Loaded) or not 0 <= piece.frame < len(loaded.cut.frames):
            return (0.0, 0.0)
        one, by = loaded.cut.frames[piece.frame], loaded.cut.scale
        return ((one.rect.width - one.foot[0] if piece.mirrored else one.foot[0]) * by[0], one.foot[1] * by[1])

    def scale(self, sheet: str) -> tuple[float, float]:
        """By how much the frames of a sheet are enlarged when they are shown."""
        loaded = self.sheet(sheet)
        return loaded.cut.scale if isinstance(loaded, Loaded) else (1.0, 1.0)

    def width(self, sheet: str) -> float:
        """How wide a room about the foot is that figures of a sheet usually need, in units."""
        loaded = self.sheet(sheet)
        return loaded.cut.usual_width * loaded.cut.scale[0] if isinstance(loaded, Loaded) else 0.0

    def depth(self, sheet: str) -> float:
        """How far the figures of a sheet usually reach below their foot, in units."""
        loaded = self.sheet(sheet)
        return loaded.cut.usual_depth * loaded.cut.scale[1] if isinstance(loaded, Loaded) else 0.0

    def box(self, piece: Piece, own: tuple[float, ...] = ()) -> Box | None:
        """The body box of a piece's picture, in units from its foot; ``own`` is that of the clip.  None where it has none."""
        if piece.bare is not None and piece.bare != AS_IT_IS:
            # what collides is that of what the costume is worn over
            piece = replace(piece, sheet=piece.bare[0], frame=piece.bare[1])
        loaded = self.sheet(piece.sheet)
        if not isinstance(loaded, Loaded) or not 0 <= piece.frame < len(loaded.cut.frames):
            return None
        frame, by = loaded.cut.frames[piece.frame], loaded.cut.scale
        box = of_clip(own, str(piece.frame) in loaded.cut.sheet.boxes, frame.box)
        return None if box is None else box.shown(by, piece.mirrored)

    def boxes_of(self, clip: Clip) -> list[Box]:
        """The body boxes of a clip's frames as their sheets say, in pixels from their feet; where there are none, the boxes
        around their drawings."""
        cels = [(self.sheet(clip.sheet_of(cel)), cel.frame) for cel in clip.cels]
        cuts = [(one.cut, at) for one, at in cels if isinstance(one, Loaded) and at < len(one.cut.frames)]
        boxes = [cut.frames[at].box or cut.drawn_box(at) for cut, at in cuts]
        return [box for box in boxes if box is not None]

    def figure_height(self) -> float:
        """How high the highest figure of the sheets that clips are made of usually stands above its foot, in units."""
        names = dict.fromkeys(clip.sheet for clip in self._document().clips)
        found = [self.sheet(name) for name in names]
        return max((one.cut.shown_height for one in found if isinstance(one, Loaded)), default=1.0)

    # --- reading

    def _paths(self, of: Sequence[Sheet]) -> list[Path]:
        return [self._folder() / image for sheet in of for image in sheet.all_images]

    def _entry(self, sheet: Sheet) -> _Entry:
        sheets = self._document().sheets
        known, of = self._entries.get(sheet.name), sources(sheet, sheets)
        paths = self._paths(of)
        stamp = [_stamp(path) for path in paths]
        if known is not None and (known.of, known.paths, known.stamp) == (of, paths, stamp):
            return known
        same = known is not None and (known.paths, known.stamp, _steps(known.of)) == (paths, stamp, _steps(of))
        before = known.shown if same and known is not None and sheet.cut_out is None else None
        coming = self._workers.begin(
            partial(_load, sheet, self._folder(), sheets, before), lambda done: self._take_in()
        )
        entry = self._entries[sheet.name] = _Entry(of, paths, stamp, coming)
        if known is not None:
            entry.shown = known.shown
            if sheet.cut_out is not None:
                return entry  # its frames stay its frames, whatever is drawn in them
            if known.paths == paths and known.stamp != stamp:
                entry.older = known.shown if isinstance(known.shown, Loaded) else known.older
            elif known.paths == paths:
                entry.older = known.older
        return self._entries[sheet.name]

    def _take_in(self) -> None:
        came = False
        exported = []
        for name, entry in self._entries.items():
            if entry.coming is not None and entry.coming.done() and not entry.coming.cancelled():
                entry.shown, entry.coming = entry.coming.result(), None
                self._pictures = {key: one for key, one in self._pictures.items() if key[0] != name}
                came = True
                if entry.older is not None and isinstance(entry.shown, Loaded | Unfitted):
                    exported.append((name, entry.older, entry.shown))
                    entry.older = None
        if came:
            self._known = {}
            self.changed.emit()
        for one in exported:
            self.exported.emit(*one)

    def _look_again(self) -> None:
        """Read files anew that have changed meanwhile."""
        for sheet in self._document().sheets:
            if sheet.name in self._entries:
                self._entry(sheet)


def _steps(of: Sequence[Sheet]) -> tuple[object, ...]:
    """What is done to the pixels of a sheet before it is cut."""
    return of[0].ground, of[0].colours, of[0].cut_out


def _stamp(path: Path) -> tuple[float, int]:
    try:
        facts = path.stat()
    except (OSError, ValueError):
        return (0.0, -1)
    return facts.st_mtime, facts.st_size


def _load(
    sheet: Sheet, folder: Path, sheets: Sequence[Sheet], before: Loaded | LeanStepError | None
) -> Loaded | LeanStepError:
    """A sheet from its image; ``before`` is what came of the same pixels when they were cut in another way."""
    try:
        if isinstance(before, Loaded):
            cut, image = cut_sheet(sheet, before.cut.source, before.cut.pixels), before.image
        else:
            cut = loaded(sheet, folder, sheets)
            image = picture_of(cut.pixels)
    except Uncut as error:
        return Unfitted(error)
    except LeanStepError as error:
        return error
    _ = cut.scale
    return Loaded(cut, image)


def _part(loaded: Loaded, frame: int) -> QImage:
    """A frame as it is shown."""
    if loaded.cut.scale == (1.0, 1.0):
        rect = loaded.cut.frames[frame].rect
        return loaded.image.copy(rect.x, rect.y, rect.width, rect.height)
    scale = loaded.cut.sheet.scale
    return picture_of(scaled(loaded.cut.picture(frame), loaded.cut.scale, scale is not None and scale.smooth))


def _drawn(image: QImage) -> QRect:
    """All of an image that is not empty, with a pixel around it."""
    bytes_of = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())
    solid = bytes_of[:, 3 : 4 * image.width() : 4] > 0
    found = bounds(solid)
    if found is None:
        return QRect()
    left, top, right, low = found
    return QRect(left - 1, top - 1, right - left + 2, low - top + 2) & image.rect()


def picture_of(pixels: Pixels) -> QImage:
    """Pixels (height × width × 4, RGBA) for Qt."""
    height, width = pixels.shape[:2]
    image = QImage(np.ascontiguousarray(pixels).data, width, height, width * 4, QImage.Format.Format_RGBA8888)
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)
