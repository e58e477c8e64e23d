"""The sheet with its cut lines, as it is drawn, zoomed and moved."""

from __future__ import annotations

import math
from typing import Literal

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QPixmap, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.errors import LeanStepError
from leanstep.core.findings.results import SEVERITIES, Finding
from leanstep.core.sheets.cutting import Rect
from leanstep.desk import paint
from leanstep.desk.art import Loaded, Unfitted
from leanstep.desk.stations.sheets.rect_drag import RectDrag
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.zooming import zoom_after

ZOOMS = (1 / 16, 1 / 8, 1 / 6, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64)
"""Screen pixels an image pixel may be wide."""
Tool = Literal["choose", "draw", "feet", "boxes", "costume", "parts"]
FLAGS = {"error": "error", "warning": "warning", "note": "soft"}
"""Colours of the corners of frames with which something is wrong."""
COVERED = 96
"""Screen pixels of height below which a number would cover what is drawn in a cell."""


class DrawnSheet(QWidget):
    """The sheet without hands: which part of it is on screen, and what is drawn there."""

    def __init__(self) -> None:
        super().__init__()
        self.loaded: Loaded | LeanStepError | None = None
        self.preview: list[Rect] = []
        self._under: int | None = None
        self.problems: dict[int, list[Finding]] = {}
        self.chosen: list[int] = []
        self.image: QImage | None = None
        self.waiting = False
        self.tool: Tool = "choose"
        self._smaller: tuple[float, QPixmap] | None = None
        self._zoom: float | None = None
        self._centre = QPointF()
        self._band: QRectF | None = None
        self._drag: RectDrag | None = None
        self._foot: tuple[QPointF, QPointF] | None = None
        self.setMinimumHeight(160)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_sheet(
        self,
        loaded: Loaded | LeanStepError | None,
        preview: list[Rect],
        waiting: bool = False,
        instead: QImage | None = None,
    ) -> None:
        """Show a sheet; ``preview`` are the rectangles of a cut that is not yet made.  ``waiting``: it is being read.
        ``instead`` is a picture of the same size that is shown for it."""
        self.waiting = waiting
        if loaded is not self.loaded:
            before = self.frames
            self.loaded, self._drag = loaded, None
            if self.frames != before:
                self.chosen = []
        image = instead or (loaded.image if isinstance(loaded, Loaded | Unfitted) else None)
        if image is not self.image:
            self.image, self._smaller = image, None
        # what is cut so already is shown as it is, with feet and boxes
        self.preview = preview if preview != self.frames else []
        self.update()

    @property
    def frames(self) -> list[Rect]:
        """The rectangles of the sheet as it is cut."""
        return [frame.rect for frame in self.loaded.cut.frames] if isinstance(self.loaded, Loaded) else []

    @property
    def zoom(self) -> float:
        """Screen pixels an image pixel is wide."""
        if self._zoom is not None or self.image is None:
            return self._zoom or 1.0
        return paint.whole_scale((self.image.width(), self.image.height()), self.width() - 8, self.height() - 8)

    def fit(self) -> None:
        """Show all of the sheet."""
        self._zoom = None
        self.update()

    def zoom_to(self, zoom: float, at: QPointF | None = None) -> None:
        """Show the sheet so large, the place ``at`` of the screen (the middle when left out) staying where it is."""
        if self.image is None:
            return
        at = at or QPointF(self.width() / 2, self.height() / 2)
        fixed = self.on_image(at)
        self._zoom = min(max(zoom, ZOOMS[0]), ZOOMS[-1])
        self._centre = fixed + (QPointF(self.width() / 2, self.height() / 2) - at) * (1 / self._zoom)
        self._hold()
        self.update()

    def zoom_by(self, steps: int, at: QPointF | None = None) -> None:
        """So many steps larger."""
        zoom = zoom_after(ZOOMS, self.zoom, steps)
        if zoom != self.zoom:
            self.zoom_to(zoom, at)

    def _hold(self) -> None:
        """Keep some of the image in view."""
        assert self.image is not None
        self._centre.setX(min(max(self._centre.x(), 0.0), float(self.image.width())))
        self._centre.setY(min(max(self._centre.y(), 0.0), float(self.image.height())))

    def _corner(self) -> QPointF:
        """Where the image's top left corner is."""
        assert self.image is not None
        zoom = self.zoom
        if self._zoom is None:
            left, top = (self.width() - self.image.width() * zoom) / 2, (self.height() - self.image.height() * zoom) / 2
        else:
            left, top = self.width() / 2 - self._centre.x() * zoom, self.height() / 2 - self._centre.y() * zoom
        return QPointF(round(left), round(top))

    def on_image(self, at: QPointF) -> QPointF:
        """The place of the image at a place of the screen, in pixels."""
        return (at - self._corner()) * (1 / self.zoom)

    def box(self, rect: Rect) -> QRectF:
        """Where a rectangle is on screen."""
        zoom, corner = self.zoom, self._corner()
        return QRectF(corner.x() + rect.x * zoom, corner.y() + rect.y * zoom, rect.width * zoom, rect.height * zoom)

    def cell(self, frame: int) -> QRectF:
        """Where a frame is on screen."""
        return self.box(self.frames[frame])

    def foot_place(self, frame: int) -> QPointF:
        """Where a frame's foot is on screen."""
        assert isinstance(self.loaded, Loaded)
        one = self.loaded.cut.frames[frame]
        return self._corner() + QPointF(one.rect.x + one.foot[0], one.rect.y + one.foot[1]) * self.zoom

    def frame_at(self, at: QPointF) -> int | None:
        """The frame at a place of the view."""
        place = self.on_image(at)
        inside = (
            number
            for number, one in enumerate(self.frames)
            if one.x <= place.x() < one.x + one.width and one.y <= place.y() < one.y + one.height
        )
        return next(inside, None) if self.image is not None else None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self.image is None:
            painter.setPen(theme.colour("error" if isinstance(self.loaded, LeanStepError) else "soft"))
            painter.setFont(font(14))
            text = "Reading the image …" if self.waiting else "Drop an image here, or press “Add a sheet …”."
            if isinstance(self.loaded, LeanStepError):
                text = _sentence(self.loaded, "\n")
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)
            return
        self._picture(painter)
        self._frames(painter)
        if isinstance(self.loaded, LeanStepError):
            self._fault(painter, self.loaded)

    def _picture(self, painter: QPainter) -> None:
        assert self.image is not None
        zoom, corner = self.zoom, self._corner()
        area = QRectF(corner.x(), corner.y(), self.image.width() * zoom, self.image.height() * zoom)
        seen = area.intersected(QRectF(self.rect()))
        paint.checker(painter, seen)
        if zoom < 1:
            if self._smaller is None or self._smaller[0] != zoom:
                small = self.image.scaled(
                    area.size().toSize(),
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
                self._smaller = zoom, QPixmap.fromImage(small)
            painter.drawPixmap(corner, self._smaller[1])
        else:
            left, top = math.floor((seen.x() - corner.x()) / zoom), math.floor((seen.y() - corner.y()) / zoom)
            right = math.ceil((seen.right() - corner.x()) / zoom)
            low = math.ceil((seen.bottom() - corner.y()) / zoom)
            part = QRectF(left, top, right - left, low - top)
            place = QRectF(corner + part.topLeft() * zoom, part.size() * zoom)
            painter.drawImage(place, self.image, part)

    def _frames(self, painter: QPainter) -> None:
        previewing = bool(self.preview)
        rects = self.preview or self.frames
        painter.setFont(font(11, MEDIUM))
        metrics, chosen = painter.fontMetrics(), set() if previewing else set(self.chosen)
        line = paint.pen("chosen" if previewing else "faint", 1)
        if previewing:
            line.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(line)
        seen = self._seen(rects)
        painter.drawRects([box for _, box in seen])
        for number, box in seen:
            if number in chosen:
                fill = theme.colour("chosen")
                fill.setAlpha(46)
                painter.fillRect(box, fill)
                painter.setPen(paint.pen("chosen", 2))
                painter.drawRect(box.adjusted(1, 1, -1, -1))
        room, leaf, ink = metrics.horizontalAdvance(str(len(rects))) + 11, theme.colour("leaf"), theme.colour("ink")
        painter.setPen(ink)
        for number, box in seen:
            # where not every number has room, every second, third … is shown
            # and on small cells, which it would cover, only that of the one under the pointer
            if box.height() < COVERED and number != self._under:
                continue
            if box.height() > 16 and number % math.ceil(room / max(1.0, box.width())) == 0:
                text = str(number)
                tag = QRectF(box.x() + 1, box.y() + 1, metrics.horizontalAdvance(text) + 7, 15)
                painter.fillRect(tag, leaf)
                painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, text)
        if not previewing:
            self._marks(painter, seen)
        if self._drag is not None and self._drag.frame is None:
            painter.setPen(paint.pen("chosen", 2))
            painter.drawRect(self.box(self._drag.rect))
        if self._band is not None:
            painter.setPen(paint.pen("chosen", 1))
            painter.drawRect(self._band)

    def _seen(self, rects: list[Rect]) -> list[tuple[int, QRectF]]:
        """The numbers and places of the rectangles that are on screen."""
        held = self._drag if self.tool == "draw" else None
        zoom, corner = self.zoom, self._corner()
        left, top, width, height = corner.x(), corner.y(), self.width(), self.height()
        found = []
        for number, one in enumerate(rects):
            if held is not None and number == held.frame:
                one = held.rect
            x, y = left + one.x * zoom, top + one.y * zoom
            if x < width and y < height and x + one.width * zoom > 0 and y + one.height * zoom > 0:
                found.append((number, QRectF(x, y, one.width * zoom, one.height * zoom)))
        return found

    def _marks(self, painter: QPainter, seen: list[tuple[int, QRectF]]) -> None:
        """What is wrong with frames, and what belongs to the tool in hand."""
        for number, box in seen if self.problems or self.tool in ("feet", "boxes") else ():
            if number in self.problems:
                self._flag(painter, box, self.problems[number])
            if self.tool == "feet":
                self._foot_mark(painter, number)
            if self.tool == "boxes":
                self._body_box(painter, number)

    def _foot_mark(self, painter: QPainter, number: int) -> None:
        at = self.foot_place(number)
        if self._foot is not None and number in self.chosen:
            at += self._foot[1] * self.zoom
        painter.setPen(paint.pen("mark", 2))
        painter.drawLine(at + QPointF(-7, 0), at + QPointF(7, 0))
        painter.drawLine(at + QPointF(0, -7), at + QPointF(0, 3))

    def _flag(self, painter: QPainter, box: QRectF, problems: list[Finding]) -> None:
        """A corner that says that something is wrong with a frame."""
        size = min(11.0, box.width() / 3)
        corner = QPolygonF([box.topRight(), box.topRight() + QPointF(-size, 0), box.topRight() + QPointF(0, size)])
        worst = min(SEVERITIES.index(one.severity) for one in problems)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour(FLAGS[SEVERITIES[worst]]))
        painter.drawPolygon(corner)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def body_rect(self, frame: int) -> Rect | None:
        """A frame's body box on the image, to whole pixels; None where it has none."""
        assert isinstance(self.loaded, Loaded)
        one = self.loaded.cut.frames[frame]
        if one.box is None:
            return None
        left, top = round(one.rect.x + one.foot[0] + one.box.left), round(one.rect.y + one.foot[1] - one.box.top)
        return Rect(left, top, max(1, round(one.box.width)), max(1, round(one.box.height)))

    def _body_box(self, painter: QPainter, number: int) -> None:
        rect = self.body_rect(number)
        if self._drag is not None and number == self._drag.frame:
            rect = self._drag.rect
        if rect is None:
            return
        box = self.box(rect)
        fill = theme.colour("mark")
        fill.setAlpha(34)
        painter.fillRect(box, fill)
        painter.setPen(paint.pen("mark", 2 if number in self.chosen else 1))
        painter.drawRect(box)
        self._foot_mark(painter, number)

    def _fault(self, painter: QPainter, error: LeanStepError) -> None:
        """Why the image cannot be cut, over it."""
        painter.setFont(font(14))
        text = _sentence(error, " ")
        flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        room = QRectF(20, 6, self.width() - 40, 80)
        box = painter.boundingRect(room, flags, text).adjusted(-8, -4, 8, 4)
        painter.fillRect(box, theme.colour("leaf"))
        painter.setPen(theme.colour("error"))
        painter.drawText(box, flags, text)


def _sentence(error: LeanStepError, joint: str) -> str:
    return f"{error.reason[0].upper()}{error.reason[1:]}.{joint}{error.way_out}"
