"""The clip's pictures: the frame at the playhead as large as it fits, or all cels beside each other as a contact sheet."""

from __future__ import annotations

import math
from collections.abc import Hashable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.drawable import Drawable, of_cel, of_cel_number
from leanstep.desk import paint
from leanstep.desk.kept_pictures import KeptPictures
from leanstep.desk.session import Session
from leanstep.desk.theme import font, theme

WORDS = 16.0
"""Pixels below a picture of the contact sheet for what is written there."""


class Preview(QWidget):
    """Shows ``cel`` of the clip (None: nothing is seen at this moment), with its neighbours as an ``onion`` skin if wanted; as
    a ``contact`` sheet, every cel.  ``chose``: a cel of the contact sheet was clicked."""

    chose = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.clip: Clip | None = None
        self.cel: int | None = 0
        self.onion = self.contact = False
        self.every = False
        """Whether every accessory is shown, whatever its condition says."""
        self._pictures = KeptPictures(session)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumHeight(110)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Preview")
        self.setToolTip("Plays at true speed")

    def show_clip(self, clip: Clip | None) -> None:
        """Show a clip."""
        self.clip = clip
        self._pictures.forget()
        self.update()

    def fixed_by(self) -> Hashable:
        """What a hand holds that decides how a cel is drawn."""
        return None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        shown = self.cel, self.onion, self.contact, self.every, self.fixed_by()
        self._pictures.put(painter, shown, self.rect(), self._draw_clip, "leaf")
        seen = self._seen()
        if seen is not None:
            self.draw_over(painter, seen)

    def draw_over(self, painter: QPainter, at: int) -> None:
        """Draw what hands change of a cel; a subclass does."""

    def _seen(self) -> int | None:
        """The cel that is seen as a large picture."""
        if self.contact or self.clip is None or not self.clip.cels or self.cel is None:
            return None
        return min(self.cel, len(self.clip.cels) - 1)

    def _area(self) -> tuple[QRectF, float]:
        """The picture, and how far down its ground line is."""
        area = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        return area, area.bottom() - 18

    def _draw_clip(self, painter: QPainter) -> None:
        """Everything but what hands change."""
        area, ground = self._area()
        paint.checker(painter, QRectF(self.rect()))
        paint.frame(painter, area)
        if self.contact and self.clip is not None and self.clip.cels:
            self._sheet(painter)
            return
        painter.fillRect(QRectF(area.left(), ground - 0.5, area.width(), 1), theme.colour("faint"))
        seen = self._seen()
        if seen is not None:
            self._large(painter, area, ground, seen)

    def _large(self, painter: QPainter, area: QRectF, ground: float, at: int) -> None:
        assert self.clip is not None
        cels = self.clip.cels
        if self.onion and len(cels) > 1:
            for step, opacity in ((-1, 0.28), (1, 0.18)):
                self._cel(painter, area, ground, (at + step) % len(cels), opacity)
        if not self._cel(painter, area, ground, at, 1.0):
            text, role = self._why_not(cels[at])
            painter.setPen(theme.colour(role))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)
        elif not cels[at].turns:
            piece = of_cel(self.clip, cels[at]).pieces[0]
            box = self.session.art.box(piece, self.clip.box)
            scale = self._scale(area, ground, cels[at]) or 1.0
            paint.body_box(painter, box, self._place(area, ground, cels[at], scale), scale)

    def _why_not(self, cel: Cel) -> tuple[str, str]:
        """Why a cel is not seen, and the colour in which that is said."""
        assert self.clip is not None
        if self.clip.undrawn:
            return "This clip has times and no drawings yet: choose a sheet and frames for its cels below.", "soft"
        name = self.clip.sheet_of(cel)
        found = self.session.art.sheet(name)
        if found is None:
            return "Reading the image …", "soft"
        drawn = any(one.name == name and one.cut_out is not None for one in self.session.document.sheets)
        if drawn and isinstance(found, LeanStepError):
            return f"{found.thing[0].upper()}{found.thing[1:]}: {found.reason}. {found.way_out}", "error"
        return "This frame is not on the sheet, or its image is missing.", "error"

    def _scale(self, area: QRectF, ground: float, cel: Cel) -> float | None:
        """How much a cel is enlarged; None when it has no picture."""
        assert self.clip is not None
        room = paint.room_of(self.session.art, of_cel(self.clip, cel))
        return None if room is None else paint.whole_scale(room[:2], area.width(), ground - area.top() + 8)

    def _place(self, area: QRectF, ground: float, cel: Cel, scale: float) -> QPointF:
        """Where the foot of a cel stands, so that what reaches below it is seen."""
        assert self.clip is not None
        lift = paint.below(self.session.art, of_cel(self.clip, cel)) * scale
        return QPointF(area.center().x(), ground - lift)

    def _cel(self, painter: QPainter, area: QRectF, ground: float, at: int, opacity: float) -> bool:
        assert self.clip is not None
        cel = self.clip.cels[at]
        scale = self._scale(area, ground, cel)
        if scale is None:
            return False
        place = self._place(area, ground, cel, scale)
        return paint.figure(painter, self.session.art, self.drawn(at), place, scale, opacity)

    def drawn(self, at: int) -> Drawable:
        """A cel of the clip as it is drawn, with what is pinned to it."""
        assert self.clip is not None
        return of_cel_number(self.session.machine, self.clip, at, self.every)

    # --- the contact sheet

    def cells(self) -> list[QRectF]:
        """Where the cels of the contact sheet are: in as many columns as make their cells largest."""
        count = len(self.clip.cels) if self.clip is not None else 0
        if not count:
            return []
        width, height = self.width() - 8.0, self.height() - 8.0

        def side(columns: int) -> float:
            return min(width / columns, height / math.ceil(count / columns) - WORDS)

        columns = max(range(1, count + 1), key=side)
        across, down = width / columns, height / math.ceil(count / columns)
        return [
            QRectF(4 + at % columns * across, 4 + at // columns * down, across, down).adjusted(2, 2, -2, -2)
            for at in range(count)
        ]

    def _sheet(self, painter: QPainter) -> None:
        assert self.clip is not None
        cells = self.cells()
        scales = [
            self._scale(cell, cell.bottom() - WORDS, cel) for cell, cel in zip(cells, self.clip.cels, strict=True)
        ]
        scale = min((one for one in scales if one is not None), default=None)
        for at, (cell, cel) in enumerate(zip(cells, self.clip.cels)):
            ground = cell.bottom() - WORDS
            painter.setPen(paint.pen("chosen", 2) if at == self.cel else paint.pen("edge"))
            painter.drawRect(cell)
            painter.save()
            painter.setClipRect(cell.adjusted(1, 1, -1, -1))
            place = self._place(cell, ground, cel, scale or 1.0)
            drawn = scale is not None and paint.figure(painter, self.session.art, self.drawn(at), place, scale)
            painter.restore()
            painter.setPen(theme.colour("ink" if drawn else "error"))
            painter.setFont(font(11))
            words = QRectF(cell.left(), ground, cell.width(), WORDS)
            text = f"{cel.frame} · {cel.ticks:g}" if drawn else f"{cel.frame} ?"
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for at, cell in enumerate(self.cells() if self.contact else ()):
            if cell.contains(event.position()):
                self.chose.emit(at)
