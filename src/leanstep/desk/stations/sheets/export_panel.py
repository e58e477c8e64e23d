"""What became of the frames of an image that was saved again, side by side, before it counts."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.recutting import of_new_image
from leanstep.core.wording import counted
from leanstep.desk import paint
from leanstep.desk.stations.sheets.suggesting import Export
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.basics import button, label

WIDE, HIGH, PICTURE = 118.0, 96.0, 52.0

HOWS = {"exact": "the same", "shifted": "moved", "similar": "redrawn", "place": "by its place"}


class Pairs(QWidget):
    """Frames before and after, with how they were matched; those that stay as they were are left out."""

    def __init__(self) -> None:
        super().__init__()
        self.pairs: list[tuple[int | None, int | None, str]] = []
        self.export: Export | None = None
        self.setAccessibleName("Frames before and after")

    def sizeHint(self) -> QSize:
        return QSize(int(WIDE * max(1, len(self.pairs))), int(HIGH))

    def show_export(self, export: Export) -> None:
        """Show what became of the frames."""
        self.export = export
        found = export.matching
        self.pairs = [(None, new, "new") for new in found.added] + [(old, None, "gone") for old in found.gone]
        others = [one for one in found.matches if one.how != "exact" or one.old != one.new]
        others.sort(key=lambda one: -list(HOWS).index(one.how))
        self.pairs += [(one.old, one.new, HOWS[one.how]) for one in others]
        self.setFixedSize(self.sizeHint())
        said = [f"{'–' if old is None else old} → {'–' if new is None else new}: {how}" for old, new, how in self.pairs]
        self.setAccessibleDescription("; ".join(said))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self.export is None:
            return
        before = self.export.before
        seen = event.rect()
        for place, (old, new, how) in enumerate(self.pairs):
            left = WIDE * place
            if left > seen.right() or left + WIDE < seen.left():
                continue
            painter.setFont(font(11))
            if old is not None:
                self._picture(painter, before.image, before.cut.frames[old].rect, QPointF(left + 4, 4))
            if new is not None:
                self._picture(painter, self.export.image, self.export.rects[new], QPointF(left + 60, 4))
            painter.setPen(theme.colour("ink"))
            for number, x in ((old, left + 4), (new, left + 60)):
                text = "–" if number is None else str(number)
                painter.drawText(QRectF(x, 4 + PICTURE, PICTURE, 16), Qt.AlignmentFlag.AlignCenter, text)
            painter.setPen(theme.colour("error" if old is None or new is None else "soft"))
            painter.setFont(font(12, MEDIUM))
            painter.drawText(QRectF(left, 20 + PICTURE, WIDE - 4, 18), Qt.AlignmentFlag.AlignCenter, how)

    def _picture(self, painter: QPainter, image: QImage, rect: Rect, corner: QPointF) -> None:
        box = QRectF(corner.x(), corner.y(), PICTURE, PICTURE)
        paint.checker(painter, box, 6)
        scale = min(PICTURE / rect.width, PICTURE / rect.height)
        target = QRectF(0, 0, rect.width * scale, rect.height * scale)
        target.moveCenter(box.center())
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
        painter.drawImage(target, image, QRectF(rect.x, rect.y, rect.width, rect.height))


class ExportPanel(QFrame):
    """``followed``: clips and feet are to follow the drawings; ``kept``: frames are to keep their numbers;
    ``asks``: it is shown or hidden."""

    followed = Signal(object)
    kept = Signal()
    asks = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("exported")
        self.export: Export | None = None
        self.words = label("", wrap=True)
        self.follow = button(
            "Follow the drawings", "Clips, feet and marks go with their drawings", self._follow, main=True
        )
        self.keep = button("Keep the numbers", "Frames keep their numbers, whatever is drawn in them now", self._keep)
        self.pairs = Pairs()
        scroll = QScrollArea()
        scroll.setWidget(self.pairs)
        scroll.setFixedHeight(int(HIGH) + 16)
        side = QVBoxLayout()
        side.addWidget(self.words, 1)
        side.addWidget(self.follow)
        side.addWidget(self.keep)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 6, 8, 6)
        row.addLayout(side, 2)
        row.addWidget(scroll, 5)
        self.hide()

    def show_export(self, export: Export) -> None:
        """Ask about an image that was saved again."""
        self.export = export
        found = export.matching
        moved = sum(one.old != one.new for one in found.matches)
        parts = [
            f"{counted(many, 'drawing')} {what}"
            for many, what in (
                (moved, "elsewhere"),
                (len(found.added), "new"),
                (len(found.gone), "gone"),
                (sum(one.how == "similar" for one in found.matches), "redrawn"),
            )
            if many
        ]
        self.words.setText(f"{export.sheet} was exported again: {', '.join(parts)}.")
        self.pairs.show_export(export)
        self.show()

    def setVisible(self, visible: bool) -> None:
        super().setVisible(visible)
        self.asks.emit(visible)

    def _follow(self) -> None:
        export = self.export
        self.hide()
        if export is not None:
            self.followed.emit((export, of_new_image(export.pixels, export.matching, export.cut)))

    def _keep(self) -> None:
        self.hide()
        self.kept.emit()
