"""Buttons and sticks in the names panel: their names, their keys, and keys that are taken twice."""

from __future__ import annotations

from collections import Counter

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.inputs import Button, Controls, Stick
from leanstep.core.naming.references import Thing
from leanstep.desk.devices import PAD_BUTTONS, PAD_STICKS
from leanstep.desk.parameters.fields import KeysField
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, NameField, NumberField, button, label
from leanstep.desk.widgets.menu import ContextMenu, thing_entries

SIDES = ("left", "right", "down", "up")
OPPOSITE = {"last": "the last key wins", "first": "the first key wins", "cancel": "opposite keys cancel"}


def clashes(controls: Controls) -> dict[str, list[str]]:
    """Keys that hold more than one thing, with the names of these."""
    held = [(key, one.name) for one in controls.buttons for key in one.keys]
    held += [(key, f"{one.name} {side}") for one in controls.sticks for side in SIDES for key in getattr(one, side)]
    counts = Counter(key for key, _ in held)
    return {key: [name for other, name in held if other == key] for key, count in counts.items() if count > 1}


class _PadLine(QWidget):
    """What of a game controller moves a control, and how pushes are read.  ``changed``: it has these other values."""

    changed = Signal(object)

    def __init__(self, control: Button | Stick) -> None:
        super().__init__()
        self.pad = DropDown()
        self.pad.setAccessibleName(f"{control.name} on a controller")
        self.pad.setToolTip("What of a game controller moves it")
        stick = isinstance(control, Stick)
        for name in ("", *(PAD_STICKS if stick else PAD_BUTTONS)):
            self.pad.addItem((f"{name} stick" if stick else name) if name else "the next one", name)
        self.pad.activated.connect(lambda at: self.changed.emit({"pad": self._meant(self.pad.itemData(at))}))
        self._stick = stick
        self.rounding = DropDown()
        self.rounding.setAccessibleName(f"{control.name} rounded")
        self.rounding.setToolTip("To how many ways pushes are rounded")
        for count, text in ((0, "every way"), (8, "eight ways"), (4, "four ways")):
            self.rounding.addItem(text, count)
        self.rounding.activated.connect(lambda at: self.changed.emit({"rounding": self.rounding.itemData(at)}))
        self.dead = NumberField(f"{control.name} dead zone", "A push up to this share is none", 0, 0.95, whole=False)
        self.dead.setSingleStep(0.05)
        self.dead.settled.connect(lambda value: self.changed.emit({"dead_zone": value}))
        self.release = NumberField(
            f"{control.name} release",
            "For how long a diagonal is kept when one of its keys is let go",
            0,
            10,
            "s",
            False,
        )
        self.release.setSingleStep(0.01)
        self.release.settled.connect(lambda value: self.changed.emit({"release": value}))
        self.within = NumberField(
            f"{control.name} shows within",
            "How soon a press should show in every state; later is a finding (0: it may take its time)",
            0,
            10,
            "s",
            False,
        )
        self.within.setSingleStep(0.01)
        self.within.setSpecialValueText("any time")
        self.within.settled.connect(lambda value: self.changed.emit({"within": value}))
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(4)
        lines: list[tuple[str, QWidget]] = [("controller", self.pad)]
        lines += (
            [("rounded to", self.rounding), ("dead zone", self.dead), ("diagonals stay", self.release)]
            if stick
            else [("shows within", self.within)]
        )
        for row, (words, widget) in enumerate(lines):
            grid.addWidget(label(words, "soft"), row, 0)
            grid.addWidget(widget, row, 1)
        grid.setColumnStretch(1, 1)

    def _meant(self, name: str) -> object:
        if self._stick:
            return name
        return (name,) if name else ()

    def show_control(self, control: Button | Stick) -> None:
        """Show a control."""
        name = control.pad if isinstance(control, Stick) else (control.pad or ("",))[0]
        self.pad.setCurrentIndex(max(0, self.pad.findData(name)))
        if isinstance(control, Stick):
            self.rounding.setCurrentIndex(self.rounding.findData(control.rounding))
            self.dead.show_value(control.dead_zone)
            self.release.show_value(control.release)
        else:
            self.within.show_value(control.within)


class ControlRow(QFrame):
    """One button or stick.  ``changed``: it has these other values; ``removal``: it is to be removed."""

    changed = Signal(object)
    removal = Signal()

    def __init__(self, session: Session, control: Button | Stick) -> None:
        super().__init__()
        self.session, self.control = session, control
        self.kind = "button" if isinstance(control, Button) else "stick"
        self.name = NameField(self.kind)
        self.name.renamed.connect(lambda name: session.rename(Thing(self.kind, self.control.name), name))
        self.name.refused.connect(self.refuse)
        self.fault = label("", "fault", wrap=True)
        self.fields: dict[str, KeysField] = {}
        head = QHBoxLayout()
        head.addWidget(label(self.kind, "soft"))
        head.addWidget(self.name, 1)
        head.addWidget(button("Remove", f"Remove the {self.kind}; what names it is said", self.removal.emit))
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        for row, side in enumerate(("keys",) if isinstance(control, Button) else SIDES):
            field = KeysField(control.name if side == "keys" else f"{control.name} {side}")
            field.meant.connect(lambda keys, side=side: self.changed.emit({side: keys}))
            field.refused.connect(self.refuse)
            self.fields[side] = field
            grid.addWidget(label(side, "soft"), row, 0)
            grid.addWidget(field, row, 1)
        self.opposite = DropDown()
        self.opposite.setAccessibleName("Opposite keys")
        self.opposite.setToolTip("What it means when two opposite keys are held")
        for key, text in OPPOSITE.items():
            self.opposite.addItem(text, key)
        self.opposite.activated.connect(lambda at: self.changed.emit({"opposite": self.opposite.itemData(at)}))
        self.devices = _PadLine(control)
        self.devices.changed.connect(self.changed)
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 4, 4, 6)
        column.setSpacing(4)
        column.addLayout(head)
        column.addLayout(grid)
        column.addWidget(self.opposite)
        # not before it stands somewhere: it would be a window of its own
        self.opposite.setVisible(self.kind == "stick")
        column.addWidget(self.devices)
        column.addWidget(self.fault)
        self._inner: QWidget = self
        self.menu = ContextMenu(
            self, lambda where: thing_entries(session, self.name.ask, Thing(self.kind, self.control.name))
        )

    def show_control(self, control: Button | Stick, twice: dict[str, list[str]]) -> None:
        """Show a control; ``twice`` are keys that hold more than one thing."""
        self.control = control
        self.name.show_name(control.name, lambda name: self.session.rename_fault(Thing(self.kind, control.name), name))
        for side, field in self.fields.items():
            field.show_keys(getattr(control, side))
        if isinstance(control, Stick):
            self.opposite.setCurrentIndex(self.opposite.findData(control.opposite))
        self.devices.show_control(control)
        mine = {key for side in self.fields for key in getattr(control, side)}
        words = [f"{key} holds {' and '.join(names)}." for key, names in twice.items() if key in mine]
        self.fault.setText(" ".join(words))
        self.fault.setVisible(bool(words))

    def refuse(self, sentence: str) -> None:
        """Say why it was not changed."""
        self.fault.setText(sentence)
        self.fault.show()
