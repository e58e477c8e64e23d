"""What is pinned to the chosen pin point: a picture or a clip, how it lies, and when it is shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name, remove
from leanstep.core.character.pins import Accessory
from leanstep.core.naming.references import Thing
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, NameField, NumberField, button, choice_of, fill_combo, label
from leanstep.desk.widgets.condition import ConditionLine

NOTHING = "nothing"
ORDERS = {"pin": "as the pin point", "before": "before the figure", "behind": "behind the figure"}
SHEET, CLIP = "sheet ", "clip "


class AccessoryRow(QWidget):
    """One of what is pinned to the chosen pin point."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.pin = ""
        self.chosen = ""
        self.which = DropDown()
        self.which.setAccessibleName("Accessory")
        self.which.setToolTip("What is pinned there; the numbers are of the one that is chosen")
        self.which.activated.connect(lambda at: self._choose(self.which.itemText(at) if at else ""))
        self.name = NameField("accessory")
        self.name.setMinimumWidth(90)
        self.name.setMaximumWidth(120)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(session.said)
        self.picture = DropDown()
        self.picture.setAccessibleName("Picture of the accessory")
        self.picture.setMinimumWidth(130)
        self.picture.setToolTip(
            "The sheet its picture is on, or a clip that begins with each state; it lies with its foot on the pin"
        )
        self.picture.activated.connect(lambda at: self._set_picture(self.picture.itemText(at)))
        self.frame = NumberField("Frame of the accessory", "Which frame of the sheet is shown", 0, 99_999)
        self.frame.setPrefix("frame ")
        self.frame.setMinimumWidth(84)
        self.frame.settled.connect(lambda value: self._set("changed the frame of", frame=int(value)))
        self.angle = NumberField(
            "Angle of the accessory",
            "Where its drawing points, which is laid along the pin point",
            0,
            359.999,
            "°",
            False,
        )
        self.angle.setPrefix("drawn along ")
        self.angle.setMinimumWidth(146)
        self.angle.settled.connect(lambda value: self._set("turned", angle=value))
        self.order = choice_of("Order of the accessory", "Whether it is drawn before the figure or behind it", ORDERS)
        self.order.setMinimumWidth(150)
        self.order.activated.connect(lambda at: self._set("ordered", order=self.order.itemData(at)))
        self.shown = ConditionLine()
        self.shown.setAccessibleName("Accessory shown while")
        self.shown.setToolTip("It is shown while this holds: parameters, and states as in base.idle")
        self.shown.setPlaceholderText("always; for example: lit")
        self.shown.written.connect(lambda text: self._set("said when to show", shown=text))
        self.pin_button = button("Pin a picture", "Pin a frame of a sheet there; then choose which", self.add)
        self.remove_button = button("Remove", "Take this accessory out; its picture stays", self.remove)
        self.while_words = label("shown while", "soft")
        which = (self.name, self.picture, self.frame, self.remove_button)
        lies = (self.angle, self.order, self.while_words, self.shown)
        self._of_one: tuple[QWidget, ...] = (*which, *lies)
        top, low = QHBoxLayout(), QHBoxLayout()
        for row, parts in ((top, (label("Pinned to it", "soft"), self.which, *which, self.pin_button)), (low, lies)):
            row.setSpacing(6)
            for part in parts:
                row.addWidget(part)
        top.addStretch(1)
        low.setStretch(3, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(top)
        column.addLayout(low)

    # --- what is shown

    @property
    def here(self) -> list[Accessory]:
        """What is pinned to the pin point."""
        return [one for one in self.session.document.accessories if one.pin == self.pin]

    @property
    def accessory(self) -> Accessory | None:
        """The one that is chosen."""
        return next((one for one in self.here if one.name == self.chosen), None)

    def show_pin(self, pin: str) -> None:
        """Show what is pinned to a pin point."""
        self.pin = pin
        document, here = self.session.document, self.here
        if self.accessory is None:
            self.chosen = here[0].name if here else ""
        one = self.accessory
        fill_combo(self.which, [NOTHING, *(each.name for each in here)], one.name if one is not None else NOTHING)
        for part in self._of_one:
            part.setVisible(one is not None)
        self.pin_button.setEnabled(bool(document.sheets))
        if one is None:
            return
        self.name.show_name(one.name, lambda name: self.session.rename_fault(Thing("accessory", one.name), name))
        pictures = [*(SHEET + each.name for each in document.sheets), *(CLIP + each.name for each in document.clips)]
        fill_combo(self.picture, pictures, CLIP + one.clip if one.clip else SHEET + one.sheet)
        self.frame.setVisible(not one.clip)
        self.frame.show_value(one.frame)
        self.angle.show_value(one.angle)
        self.order.setCurrentIndex(list(ORDERS).index(one.order))
        self.shown.show_names(document, 0)
        if self.shown.text() != one.shown and not self.shown.hasFocus():
            self.shown.setText(one.shown)
            self.shown.setCursorPosition(0)

    def _choose(self, name: str) -> None:
        self.chosen = name
        self.show_pin(self.pin)

    # --- edits

    def add(self) -> None:
        """Pin the first frame of a sheet that no clip and no costume shows, or else of the last one."""
        document = self.session.document
        if not document.sheets or not self.pin:
            return
        used = {clip.sheet_of(cel) for clip in document.clips for cel in clip.cels}
        used |= {part.by for costume in document.costumes for part in costume.sheets}
        sheet = next((one.name for one in document.sheets if one.name not in used), document.sheets[-1].name)
        self.chosen = free_name("accessory", [one.name for one in document.accessories])
        made = Accessory(name=self.chosen, pin=self.pin, sheet=sheet)
        self.session.edit(f"pinned {made.name} to {self.pin}", lambda old: append(old, ("accessories",), made))

    def remove(self) -> None:
        """Take the chosen accessory out."""
        name = self.chosen
        self._at(f"took {name} off", lambda document, at: remove(document, ("accessories", at)))

    def _rename(self, name: str) -> None:
        one = self.accessory
        if one is not None:
            self.chosen = name
            self.session.rename(Thing("accessory", one.name), name)

    def _set_picture(self, text: str) -> None:
        one = self.accessory
        if one is None:
            return
        if text.startswith(CLIP):
            self._set("pinned a clip as", clip=text.removeprefix(CLIP))
        else:
            self._set("pinned a picture as", sheet=text.removeprefix(SHEET), clip="")

    def _set(self, said: str, **values: Any) -> None:
        one = self.accessory
        if one is not None and msgspec.structs.replace(one, **values) != one:
            merge = f"accessory {one.name} {'-'.join(values)}"
            self._at(f"{said} {one.name}", lambda document, at: change(document, ("accessories", at), **values), merge)

    def _at(self, said: str, made: Callable[[Character, int], Character], merge: str = "") -> None:
        names = [one.name for one in self.session.document.accessories]
        if self.chosen in names:
            at = names.index(self.chosen)
            self.session.edit(said, lambda document: made(document, at), merge)
