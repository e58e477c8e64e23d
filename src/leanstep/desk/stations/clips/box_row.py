"""The body box of a clip: those of its frames, or one for all of it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.sheets.boxes import Box
from leanstep.desk.widgets.basics import DropDown, NumberField

FIELDS = (
    ("left", "Where the box begins, from the foot; to the left is below 0", -4096.0, 4096.0),
    ("bottom", "How high the box stands above the foot", -4096.0, 4096.0),
    ("width", "How wide the box is", 1.0, 8192.0),
    ("height", "How high the box is", 1.0, 8192.0),
)


class BoxRow(QWidget):
    """``meant``: the clip's box is to be this (left, bottom, width, height; empty: those of its frames).  ``usual`` makes the
    box that one for all of the clip begins with; None where there is none.  The ``choice`` stands beside, the row is there
    for a box of the clip's own."""

    meant = Signal(object)

    def __init__(self, usual: Callable[[], Box | None]) -> None:
        super().__init__()
        self.usual = usual
        self.choice = DropDown()
        self.choice.setAccessibleName("Body box of the clip")
        self.choice.setToolTip("What collides while this clip is shown; the box is drawn over the picture")
        self.choice.addItems(["Frames’ boxes", "One body box"])
        self.choice.activated.connect(self._choose)
        self.fields = [NumberField(f"Box {name}", tip, low, high, "px") for name, tip, low, high in FIELDS]
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for (name, *_), field in zip(FIELDS, self.fields):
            field.setPrefix(f"{name} ")
            field.setMinimumWidth(104)
            field.settled.connect(lambda value: self.meant.emit(tuple(one.value() for one in self.fields)))
            row.addWidget(field)
        row.addStretch(1)

    def show_box(self, box: tuple[float, ...]) -> None:
        """Show what the clip says."""
        self.choice.setCurrentIndex(bool(box))
        self.setVisible(bool(box))
        for at, field in enumerate(self.fields):
            if box:
                field.show_value(box[at])

    def _choose(self, at: int) -> None:
        box = self.usual() if at else None
        self.show_box(box.written if box is not None else ())
        if box is not None or not at:
            self.meant.emit(box.written if box is not None else ())
