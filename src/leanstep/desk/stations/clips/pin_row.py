"""The chosen pin point in words and numbers."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.clips import Clip
from leanstep.core.character.pin_edits import spot_at
from leanstep.core.character.pins import FARTHEST
from leanstep.core.wording import listed
from leanstep.desk.widgets.basics import NameField, NumberField, button, choice_of, fill_combo, label

NONE = "no pin point"


class PinRow(QWidget):
    """``renamed``; ``moved``: it lies elsewhere on this cel (x, y, angle, whether behind); ``picked`` another one; ``copied``: it lies
    as on the cel before; ``evened`` or ``followed`` over the chosen cels; ``taken`` or ``left`` what was followed; ``unkeyed`` on this
    cel; ``removal`` of all of it."""

    renamed = Signal(str)
    moved = Signal(float, float, float, bool)
    picked = Signal(int)
    copied = Signal()
    evened = Signal()
    followed = Signal()
    taken = Signal()
    left = Signal()
    unkeyed = Signal()
    removal = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.which = choice_of("Pin point", "Which pin point the numbers are of", {"": NONE})
        self.which.activated.connect(lambda at: self.picked.emit(at - 1))
        self.name = NameField("pin point")
        self.name.setMinimumWidth(90)
        self.name.setMaximumWidth(120)
        self.name.renamed.connect(self.renamed)
        far = FARTHEST
        self.across = NumberField(
            "Pin point across", "To the right of the foot, as the frame is drawn", -far, far, "px", False
        )
        self.up = NumberField("Pin point up", "Above the foot, as the frame is drawn", -far, far, "px", False)
        self.angle = NumberField(
            "Angle of the pin point", "Where it points: 0 is up, 90 to the right, as drawn", 0, 359.999, "°", False
        )
        self.angle.setWrapping(True)
        for field, prefix in ((self.across, "x "), (self.up, "y "), (self.angle, "points ")):
            field.setPrefix(prefix)
            field.setMinimumWidth(92 if field is not self.angle else 124)
            field.settled.connect(lambda value: self._move())
        self.behind = QCheckBox("behind")
        self.behind.setAccessibleName("Pinned behind the figure")
        self.behind.setToolTip("From this cel to the next key what is pinned there is drawn behind the figure")
        self.behind.clicked.connect(lambda on: self._move())
        self.copy = button("As before", "On this cel it lies as on the one before", self.copied.emit)
        self.even = button(
            "Even",
            "Let it go evenly from the first of the chosen cels to the last, without keys between",
            self.evened.emit,
        )
        self.follow = button(
            "Follow",
            "Look for what is drawn about it on the chosen cels (of one: on all that come after) and offer what is found",
            self.followed.emit,
        )
        self.off = button("Off this cel", "Take its key off this cel (Delete)", self.unkeyed.emit)
        self.remove = button("Remove", "Take the pin point out of the clip", self.removal.emit)
        self.take = button("Take it", "Let it lie where it was followed", self.taken.emit, main=True)
        self.leave = button("Leave it", "Forget what was followed", self.left.emit)
        self.words = label("", "soft", wrap=True)
        numbers = (self.name, self.across, self.up, self.angle, self.behind, self.off, self.remove)
        ways = (self.copy, self.even, self.follow)
        self._of_one: tuple[QWidget, ...] = (*numbers, *ways)
        top, low = QHBoxLayout(), QHBoxLayout()
        for row, parts in ((top, (self.which, *numbers)), (low, (*ways, self.take, self.leave))):
            row.setSpacing(6)
            for part in parts:
                row.addWidget(part)
        top.addStretch(1)
        low.insertWidget(0, self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(top)
        column.addLayout(low)

    def _move(self) -> None:
        self.moved.emit(self.across.value(), self.up.value(), self.angle.value(), self.behind.isChecked())

    def show_pin(self, clip: Clip, at: int, cel: int, offered: str, fault: Callable[[str, str], str | None]) -> None:
        """Show a pin point of a clip (-1: none is chosen) as it lies on a cel; ``offered`` says what was followed, if anything was,
        ``fault`` why a pin point cannot have another name."""
        there = 0 <= at < len(clip.pins)
        fill_combo(self.which, [NONE, *(one.name for one in clip.pins)], clip.pins[at].name if there else NONE)
        for part in self._of_one:
            part.setVisible(there)
        for part in (self.take, self.leave):
            part.setVisible(bool(offered))
        if not there:
            self.words.setText("Click on the picture: a new pin point. Click one for its numbers.")
            return
        one = clip.pins[at]
        spot = spot_at(one, cel)
        self.name.show_name(one.name, lambda name: _fault(clip, at, name) or fault(one.name, name))
        for field, value in ((self.across, spot.x), (self.up, spot.y), (self.angle, spot.angle)):
            field.show_value(value)
        self.behind.setChecked(spot.behind)
        keyed = [key.cel for key in one.keys]
        self.off.setEnabled(cel in keyed)
        several = len(clip.cels) > 1
        for part in (self.copy, self.even, self.follow):
            part.setEnabled(several)
        where = (
            "on this cel" if cel in keyed else "as on the nearest key" if _outside(keyed, cel) else "between two keys"
        )
        self.words.setText(offered or f"Keyed on {listed([str(one) for one in keyed])}; cel {cel}: {where}.")


def _outside(keyed: list[int], cel: int) -> bool:
    return cel < keyed[0] or cel > keyed[-1]


def _fault(clip: Clip, at: int, name: str) -> str | None:
    """Why a pin point cannot have a name; None when it can."""
    if not name.strip():
        return "a pin point needs a name"
    if any(one.name == name for place, one in enumerate(clip.pins) if place != at):
        return f"there is already a pin point {name} in this clip"
    return None
