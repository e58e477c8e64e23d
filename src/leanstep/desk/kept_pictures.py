"""Pictures that come again and again, such as the cels of a figure at rest: each is drawn once and kept for a while."""

from __future__ import annotations

from collections.abc import Callable, Hashable

from PySide6.QtCore import QRect, QSize
from PySide6.QtGui import QPainter, QPixmap

from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.theme import theme

MOST_KEPT = 24 << 20
"""Bytes that the kept pictures of a widget take at most, unless a few are larger."""
FEW = 3
"""Pictures as large as the largest that there is always room for: a widget may be drawn from several."""
PIXEL = 4
"""Bytes of a pixel."""


class KeptPictures:
    """Pictures by what they show, those used last; forgotten when the document or its art changes."""

    def __init__(self, session: Session) -> None:
        self._kept: dict[Hashable, QPixmap] = {}
        self._bytes = self._largest = 0
        session.changed.connect(self.forget)
        session.art.changed.connect(self.forget)

    def forget(self) -> None:
        """What was drawn would be drawn in another way now."""
        self._kept.clear()
        self._bytes = self._largest = 0

    def put(
        self, painter: QPainter, shown: Hashable, area: QRect, draw: Callable[[QPainter], None], ground: str = "paper"
    ) -> None:
        """Put the picture of what is shown, which ``draw`` draws, into its area."""

        def at_corner(on: QPainter) -> None:
            on.translate(-area.topLeft())
            draw(on)

        ratio = painter.device().devicePixelRatioF()
        painter.drawPixmap(area.topLeft(), self.of(shown, area.size(), ratio, at_corner, ground))

    def of(
        self, shown: Hashable, size: QSize, ratio: float, draw: Callable[[QPainter], None], ground: str = "paper"
    ) -> QPixmap:
        """The picture of what is shown, of this size, at so many pixels of the screen a pixel: drawn on a ground of a colour
        (empty: on nothing) unless it is kept."""
        key = shown, size.width(), size.height(), ratio, theme.night
        found = self._kept.pop(key, None)
        if found is None:
            found = paint.blank(size, ratio, ground)
            with QPainter(found) as painter:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                draw(painter)
            self._bytes += _bytes(found)
            self._largest = max(self._largest, _bytes(found))
        # those used last come last
        self._kept[key] = found
        while self._bytes > max(MOST_KEPT, FEW * self._largest):
            self._bytes -= _bytes(self._kept.pop(next(iter(self._kept))))
        return found


def _bytes(picture: QPixmap) -> int:
    return picture.width() * picture.height() * PIXEL
