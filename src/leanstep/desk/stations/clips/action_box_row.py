"""The chosen box of an action in words and numbers."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.action_boxes import Rect, rect_at
from leanstep.core.character.clips import Clip
from leanstep.core.wording import listed
from leanstep.desk.stations.clips.box_row import FIELDS
from leanstep.desk.widgets.basics import NameField, NumberField, button, choice_of, fill_combo, label

KINDS = {"strike": "hits", "vulnerable": "can be hit", "guard": "guard reach"}
NONE = "no box"


class ActionBoxRow(QWidget):
    """``meant``: the chosen box is another kind, or one is drawn of that kind; ``renamed``; ``moved``: it lies elsewhere on this cel;
    ``ranged``: it lies on these cels; ``picked`` another one; ``unkeyed``: it is not keyed on this cel; ``removal`` of all of it."""

    meant = Signal(str)
    renamed = Signal(str)
    moved = Signal(object)
    ranged = Signal(int, int)
    copied = Signal()
    picked = Signal(int)
    unkeyed = Signal()
    removal = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.which = choice_of("Box of the action", "Which box the numbers are of", {"": NONE})
        self.which.activated.connect(lambda at: self.picked.emit(at - 1))
        self.kind = choice_of("Kind of the box", "What the chosen box is, or the next one that is drawn", KINDS)
        self.kind.activated.connect(lambda at: self.meant.emit(self.kind.itemData(at)))
        self.name = NameField("box")
        self.name.setMaximumWidth(110)
        self.name.renamed.connect(self.renamed)
        self.first = NumberField("First cel of the box", "It is there from this cel on, counted from 0", 0, 0)
        self.last = NumberField("Last cel of the box", "It is there up to this cel", 0, 0)
        for field, prefix in ((self.first, "cels "), (self.last, "to ")):
            field.setPrefix(prefix)
            field.setMinimumWidth(76)
            field.settled.connect(lambda value: self.ranged.emit(int(self.first.value()), int(self.last.value())))
        self.same = button("Same on all", "On all its cels it lies as on this one", self.copied.emit)
        self.off = button("Off this cel", "Take its key off this cel (Delete)", self.unkeyed.emit)
        self.remove = button("Remove", "Take the box out of the clip", self.removal.emit)
        self.fields = [NumberField(f"Action box {name}", tip, low, high, "px") for name, tip, low, high in FIELDS]
        for (name, *_), field in zip(FIELDS, self.fields):
            field.setPrefix(f"{name} ")
            field.setMinimumWidth(104)
            field.settled.connect(lambda value: self.moved.emit(tuple(one.value() for one in self.fields)))
        self.words = label("", "soft", wrap=True)
        top, low = QHBoxLayout(), QHBoxLayout()
        heads: tuple[QWidget, ...] = (self.which, self.kind, self.name, self.first, self.last)
        for row, parts in ((top, (*heads, self.same, self.off, self.remove)), (low, tuple(self.fields))):
            row.setSpacing(8)
            for part in parts:
                row.addWidget(part)
        top.addStretch(1)
        low.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(top)
        column.addLayout(low)

    def show_box(self, clip: Clip, at: int, cel: int) -> None:
        """Show a box of a clip (-1: none is chosen) as it lies on a cel."""
        there = 0 <= at < len(clip.boxes)
        fill_combo(self.which, [NONE, *(one.name for one in clip.boxes)], clip.boxes[at].name if there else NONE)
        for part in (self.name, self.first, self.last, self.same, self.off, self.remove, *self.fields):
            part.setVisible(there)
        if not there:
            self.words.setText("Drag on the picture: a new box. Click one for its numbers.")
            return
        one = clip.boxes[at]
        rect: Rect | None = rect_at(one, cel)
        self.kind.setCurrentIndex(list(KINDS).index(one.kind))
        self.name.show_name(one.name, lambda name: _fault(clip, at, name))
        for field, value in ((self.first, one.keys[0].cel), (self.last, one.keys[-1].cel)):
            field.setMaximum(max(0, len(clip.cels) - 1))
            field.show_value(value)
        for number, field in enumerate(self.fields):
            field.setEnabled(rect is not None)
            if rect is not None:
                field.show_value(rect[number])
        keyed = [key.cel for key in one.keys]
        self.same.setEnabled(rect is not None and len(keyed) > 1)
        self.off.setEnabled(cel in keyed)
        where = "on this cel" if cel in keyed else "between two keys" if rect is not None else "not on this cel"
        self.words.setText(f"Keyed on {listed([str(one) for one in keyed])}; cel {cel}: {where}.")


def _fault(clip: Clip, at: int, name: str) -> str | None:
    """Why a box cannot have a name; None when it can."""
    if not name.strip():
        return "a box needs a name"
    if any(one.name == name for place, one in enumerate(clip.boxes) if place != at):
        return f"there is already a box {name} in this clip"
    return None
