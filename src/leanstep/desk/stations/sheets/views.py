"""The sheet with its cut lines, and the strip of frames on one ground line."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.drawable import of_frame
from leanstep.core.sheets.cutting import Rect
from leanstep.desk import paint
from leanstep.desk.art import Loaded
from leanstep.desk.session import Session
from leanstep.desk.theme import MEDIUM, font, theme


class SheetView(QWidget):
    """The image at a whole multiple where it fits, its frames numbered; a drag over cells chooses them."""

    chose = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.loaded: Loaded | LeanStepError | None = None
        self.preview: list[Rect] = []
        self.chosen: list[int] = []
        self.image: QImage | None = None
        self.waiting = False
        self._from: int | None = None
        self.setMinimumHeight(160)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Sheet")
        self.setToolTip("Drag over cells to choose frames for a clip; Shift adds to them")

    def show_sheet(self, loaded: Loaded | LeanStepError | None, preview: list[Rect], waiting: bool = False) -> None:
        """Show a sheet; ``preview`` are the rectangles of a cut that is not yet made.  ``waiting``: it is being read."""
        self.waiting = waiting
        if loaded is not self.loaded:
            self.chosen = []
            self.image = loaded.image if isinstance(loaded, Loaded) else None
        self.loaded, self.preview = loaded, preview
        self.update()

    def _place(self) -> tuple[float, QPointF]:
        """Scale and the place of the image's top left corner."""
        assert self.image is not None
        scale = paint.whole_scale((self.image.width(), self.image.height()), self.width() - 8, self.height() - 8)
        left = (self.width() - self.image.width() * scale) / 2
        return scale, QPointF(max(4.0, left), max(4.0, (self.height() - self.image.height() * scale) / 2))

    def cell(self, frame: int) -> QRectF:
        """Where a frame is on screen."""
        assert isinstance(self.loaded, Loaded)
        return self._box(self.loaded.cut.frames[frame].rect)

    def _box(self, rect: Rect) -> QRectF:
        scale, corner = self._place()
        return QRectF(corner.x() + rect.x * scale, corner.y() + rect.y * scale, rect.width * scale, rect.height * scale)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self.image is None or not isinstance(self.loaded, Loaded):
            painter.setPen(theme.colour("error" if isinstance(self.loaded, LeanStepError) else "soft"))
            painter.setFont(font(14))
            text = "Reading the image …" if self.waiting else "Drop an image here, or press “Add a sheet …”."
            if isinstance(self.loaded, LeanStepError):
                text = f"{self.loaded.reason[0].upper()}{self.loaded.reason[1:]}.\n{self.loaded.way_out}"
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)
            return
        scale, corner = self._place()
        area = QRectF(corner.x(), corner.y(), self.image.width() * scale, self.image.height() * scale)
        paint.checker(painter, area)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
        painter.drawImage(area, self.image, QRectF(self.image.rect()))
        self._frames(painter)

    def _frames(self, painter: QPainter) -> None:
        assert isinstance(self.loaded, Loaded)
        previewing = bool(self.preview)
        rects = self.preview or [frame.rect for frame in self.loaded.cut.frames]
        painter.setFont(font(11, MEDIUM))
        metrics = painter.fontMetrics()
        for number, rect in enumerate(rects):
            box = self._box(rect)
            line = paint.pen("chosen" if previewing else "faint", 1)
            if previewing:
                line.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(line)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            if number in self.chosen and not previewing:
                fill = theme.colour("chosen")
                fill.setAlpha(46)
                painter.fillRect(box, fill)
                painter.setPen(paint.pen("chosen", 2))
                painter.drawRect(box.adjusted(1, 1, -1, -1))
            text = str(number)
            tag = QRectF(box.x() + 1, box.y() + 1, metrics.horizontalAdvance(text) + 7, 15)
            if box.width() > tag.width() + 4 and box.height() > 22:
                painter.fillRect(tag, theme.colour("leaf"))
                painter.setPen(theme.colour("ink"))
                painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, text)

    def _frame_at(self, where: QPointF) -> int | None:
        if not isinstance(self.loaded, Loaded) or self.image is None:
            return None
        return next((at for at in range(len(self.loaded.cut.frames)) if self.cell(at).contains(where)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        frame = self._frame_at(event.position())
        self._from = frame
        adds = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if frame is None:
            self.chosen = []
        elif adds:
            self.chosen = [*self.chosen, frame]
        else:
            self.chosen = [frame]
        self.chose.emit()
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        frame = self._frame_at(event.position())
        if self._from is None or frame is None or not event.buttons():
            return
        step = 1 if frame >= self._from else -1
        self.chosen = list(range(self._from, frame + step, step))
        self.chose.emit()
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._from = None


STEP = 58.0


class Strip(QWidget):
    """The frames side by side with their feet on one ground line: a wandering foot is seen at once."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.sheet = ""
        self.frames: list[int] = []
        self.setFixedHeight(112)
        self.setAccessibleName("Frames on the ground line")
        self.setToolTip("The frames in order, feet on one line")

    def sizeHint(self) -> QSize:
        return QSize(600, 112)

    def show_frames(self, sheet: str, frames: list[int]) -> None:
        """Show some frames of a sheet."""
        self.sheet, self.frames = sheet, frames
        self.setFixedWidth(max(300, int(STEP * len(frames)) + 8))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        ground = self.height() - 22.0
        painter.setPen(paint.pen("ink", 1))
        painter.drawLine(QPointF(0, ground), QPointF(self.width(), ground))
        painter.setFont(font(11))
        drawn = [(frame, of_frame(self.sheet, frame)) for frame in self.frames]
        rooms = [(frame, shown, room) for frame, shown in drawn if (room := paint.room_of(self.session.art, shown))]
        if not rooms:
            return
        tallest = max(room[1] for _, _, room in rooms)
        scale = min(1.0, (ground - 4) / tallest) if tallest > ground - 4 else float(int((ground - 4) / tallest))
        for place, (frame, shown, _) in enumerate(rooms):
            x = STEP * (place + 0.5)
            paint.figure(painter, self.session.art, shown, QPointF(x, ground), scale)
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(x - STEP / 2, ground + 3, STEP, 16), Qt.AlignmentFlag.AlignCenter, str(frame))
