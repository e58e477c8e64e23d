"""What would be handed over, before it is: pictures as pictures, text as text."""

from __future__ import annotations

import io

from PIL import Image
from PySide6.QtCore import QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QHideEvent, QImage, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QPlainTextEdit, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.formats.handover_source import Files
from leanstep.core.wording import counted
from leanstep.desk import paint
from leanstep.desk.theme import font
from leanstep.desk.widgets.basics import DropDown, label

MOST_TEXT = 60_000
"""Letters of a text that are shown."""


class Picture(QWidget):
    """A picture on a checker, as large as whole pixels allow; one that moves does."""

    def __init__(self) -> None:
        super().__init__()
        self.pixmap = QPixmap()
        self._moving: Image.Image | None = None
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self._next)
        self.setAccessibleName("The picture")
        self.setMinimumSize(QSize(200, 120))

    def show_picture(self, data: bytes) -> None:
        """Show a picture from its file's bytes."""
        self._timer.stop()
        self._moving = None
        found = Image.open(io.BytesIO(data))
        if getattr(found, "n_frames", 1) > 1:
            self._moving = found
            self._place(0)
        else:
            self.pixmap.loadFromData(data)
            self.update()

    def hideEvent(self, event: QHideEvent) -> None:
        self._timer.stop()

    def _next(self) -> None:
        if self._moving is not None:
            self._place((self._moving.tell() + 1) % self._moving.n_frames)  # type: ignore[attr-defined]

    def _place(self, number: int) -> None:
        """Show one picture of those that move, and wait as long as it is shown."""
        moving = self._moving
        assert moving is not None
        moving.seek(number)
        shown = moving.convert("RGBA")
        image = QImage(shown.tobytes(), shown.width, shown.height, QImage.Format.Format_RGBA8888)
        self.pixmap = QPixmap.fromImage(image)
        self._timer.start(max(10, int(moving.info.get("duration", 100))))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        pixmap = self.pixmap
        if pixmap.isNull():
            return
        painter = QPainter(self)
        scale = min(self.width() / pixmap.width(), self.height() / pixmap.height())
        scale = min(6.0, float(int(scale))) if scale >= 1 else scale
        box = QRectF(0, 0, pixmap.width() * scale, pixmap.height() * scale)
        box.moveCenter(QRectF(self.rect()).center())
        paint.checker(painter, box, 8)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
        painter.drawPixmap(box, pixmap, QRectF(pixmap.rect()))


class Preview(QWidget):
    """One of the files that were made; the others are chosen above it."""

    def __init__(self) -> None:
        super().__init__()
        self.files: Files = {}
        self.which = DropDown()
        self.which.setAccessibleName("Which file is shown")
        self.which.setToolTip("Every file that would be written")
        self.which.currentTextChanged.connect(self._show)
        self.size_words = label("", "soft")
        self.picture = Picture()
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setAccessibleName("The text")
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.text.setFont(font(12))
        self.words = label("", "soft", wrap=True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.pages = QStackedWidget()
        for page in (self.words, self.picture, self.text):
            self.pages.addWidget(page)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.which)
        column.addWidget(self.size_words)
        column.addWidget(self.pages, 1)
        self.say("")

    def say(self, words: str) -> None:
        """Show words instead of a file."""
        self.files = {}
        self.which.hide()
        self.size_words.hide()
        self.words.setText(words)
        self.pages.setCurrentWidget(self.words)

    def show_files(self, files: Files) -> None:
        """Show files that were made, the one that was shown first if it is there."""
        if not files:
            self.say("There is nothing of this kind in the character yet.")
            return
        before = self.which.currentText()
        self.files = files
        self.which.blockSignals(True)
        self.which.clear()
        self.which.addItems(list(files))
        self.which.setCurrentText(before if before in files else next(iter(files)))
        self.which.blockSignals(False)
        self.which.show()
        self.size_words.show()
        self._show(self.which.currentText())

    def _show(self, name: str) -> None:
        data = self.files.get(name)
        if data is None:
            return
        total = sum(map(len, self.files.values()))
        self.size_words.setText(
            f"{size_words(len(data))}; {counted(len(self.files), 'file')}, {size_words(total)} in all"
            if len(self.files) > 1
            else size_words(len(data))
        )
        if name.endswith((".png", ".gif")):
            self.picture.show_picture(data)
            self.pages.setCurrentWidget(self.picture)
        else:
            text = data[:MOST_TEXT].decode("utf-8", "replace")
            self.text.setPlainText(text + ("\n…" if len(data) > MOST_TEXT else ""))
            self.pages.setCurrentWidget(self.text)


def size_words(size: int) -> str:
    """Bytes in words."""
    if size < 1000:
        return counted(size, "byte")
    return f"{size / 1000:.0f} kB" if size < 1_000_000 else f"{size / 1_000_000:.1f} MB"
