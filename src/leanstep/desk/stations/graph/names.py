"""The names conditions can use: parameters, buttons and sticks, in one table."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.body.side_view import PUBLISHED
from leanstep.core.character.edits import append, change, free_name
from leanstep.core.character.model import Button, Character, Parameter, Stick
from leanstep.core.character.validation import validate
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.places import Thing
from leanstep.core.naming.removing import removal_sentence
from leanstep.desk.selection import Chosen
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import button, label

KINDS = ("number", "whole", "flag", "choice", "pulse")
OWNERS = ("game", "body", "controls", "graph", "formula")
COLUMNS = ("name", "kind", "set by", "from", "to", "unit", "choices", "limit", "start or formula")
TIPS = {
    "limit": "A number: the most it changes in a second. A pulse: the fewest seconds from one to the next.",
    "start or formula": "Set by the graph: its first value. Set by a formula: the formula, such as speed * 2.",
}


class NamesDialog(QDialog):
    """Every change is an edit of its own and can be undone."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle("Parameters and controls")
        self.resize(1000, 560)
        self._filling = False
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setAccessibleName("Parameters")
        self.table.setHorizontalHeaderLabels(list(COLUMNS))
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.verticalHeader().hide()
        self.table.itemChanged.connect(self._typed)
        self.controls = QTableWidget(0, 2)
        self.controls.setAccessibleName("Controls")
        self.controls.setHorizontalHeaderLabels(["control", "keys (separated by spaces)"])
        self.controls.horizontalHeader().setStretchLastSection(True)
        self.controls.verticalHeader().hide()
        self.controls.itemChanged.connect(self._control_typed)
        self.message = label("", "soft", wrap=True)
        first = QHBoxLayout()
        first.addWidget(label("Parameters", "title"), 1)
        first.addWidget(button("Add a parameter", "A new parameter for conditions to read", self.add))
        first.addWidget(button("Remove", "Remove the chosen parameter", self.remove))
        second = QHBoxLayout()
        second.addWidget(label("Controls", "title"), 1)
        second.addWidget(button("Add a button", "A new button", self.add_button))
        second.addWidget(button("Add a stick", "A stick on the arrow keys", self.add_stick))
        second.addWidget(button("Remove", "Remove the chosen control", self.remove_control))
        close = QHBoxLayout()
        close.addStretch(1)
        close.addWidget(button("Close", "Back to the graph (Esc)", self.reject))
        column = QVBoxLayout(self)
        column.addLayout(first)
        column.addWidget(self.table, 3)
        column.addLayout(second)
        column.addWidget(self.controls, 2)
        column.addWidget(self.message)
        column.addLayout(close)
        session.changed.connect(self._renew)
        self._fill()

    def _renew(self) -> None:
        """The document changed, here or elsewhere."""
        if self.isVisible() and not self._filling:
            self._fill()

    def showEvent(self, event: QShowEvent) -> None:
        self._fill()
        super().showEvent(event)

    def choose(self, chosen: Chosen) -> bool:
        """Put the cursor on the row of a parameter or a control; False when it is neither."""
        names = [one.name for one in self.session.document.parameters]
        controls = [name.split(" ")[0] for name, *_ in self._control_rows()]
        for table, kinds, rows in (
            (self.table, ("parameter",), names),
            (self.controls, ("button", "stick"), controls),
        ):
            if chosen.kind in kinds and isinstance(chosen, Thing) and chosen.name in rows:
                self._fill()
                table.setCurrentCell(rows.index(chosen.name), 0)
                return True
        return False

    def _fill(self) -> None:
        self._filling = True
        document = self.session.document
        self.table.setRowCount(len(document.parameters))
        for row, parameter in enumerate(document.parameters):
            texts: tuple[str, ...] = (parameter.name, "", "", _number(parameter.min), _number(parameter.max))
            limit = parameter.once_per if parameter.kind == "pulse" else parameter.per_second
            made = parameter.formula if parameter.owner == "formula" else _value(parameter.start)
            texts = (*texts, parameter.unit, " ".join(parameter.choices), _limit(parameter.kind, limit), made)
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                item.setToolTip(TIPS.get(COLUMNS[column], ""))
                self.table.setItem(row, column, item)
            self._choice(row, 1, KINDS, parameter.kind, "kind")
            self._choice(row, 2, OWNERS, parameter.owner, "owner")
        controls = self._control_rows()
        self.controls.setRowCount(len(controls))
        for row, (name, keys, _, _) in enumerate(controls):
            item = QTableWidgetItem(name)
            self.controls.setItem(row, 0, item)
            self.controls.setItem(row, 1, QTableWidgetItem(" ".join(keys)))
        self._filling = False

    def _control_rows(self) -> list[tuple[str, tuple[str, ...], tuple[str | int, ...], str]]:
        """Name, keys, path and field of every row of the controls' table."""
        controls = self.session.document.controls
        rows: list[tuple[str, tuple[str, ...], tuple[str | int, ...], str]] = []
        for at, one in enumerate(controls.buttons):
            rows.append((one.name, one.keys, ("controls", "buttons", at), "keys"))
        for at, stick in enumerate(controls.sticks):
            for side in ("left", "right", "down", "up"):
                rows.append((f"{stick.name} {side}", getattr(stick, side), ("controls", "sticks", at), side))
        return rows

    def _choice(self, row: int, column: int, options: tuple[str, ...], current: str, field: str) -> None:
        kept = self.table.cellWidget(row, column)
        box = kept if isinstance(kept, QComboBox) else QComboBox()
        if box is not kept:
            box.addItems(options)
            box.activated.connect(lambda index: self._change(row, **self._with_defaults(row, field, options[index])))
            self.table.setCellWidget(row, column, box)
        box.setCurrentText(current)
        box.setAccessibleName(f"{field} of {self.session.document.parameters[row].name}")
        box.setToolTip({"kind": "What values it takes", "owner": "Who sets it"}[field])

    def _with_defaults(self, row: int, field: str, value: str) -> dict[str, Any]:
        if row >= len(self.session.document.parameters):
            return {}
        parameter = self.session.document.parameters[row]
        values: dict[str, Any] = {field: value}
        if field == "kind":
            values |= {"once_per": None, "per_second": None}
        if value == "choice" and not parameter.choices:
            values["choices"] = ("one", "another")
        return values

    def _change(self, row: int, **values: Any) -> None:
        """Change a parameter unless that would break a rule of the document."""
        if row >= len(self.session.document.parameters):
            return
        name = self.session.document.parameters[row].name
        try:
            validate(change(self.session.document, ("parameters", row), **values), "")
        except LeanStepError as error:
            self._refuse(f"{error.reason}. {error.way_out}")
            return
        self._edit(f"changed parameter {name}", lambda document: change(document, ("parameters", row), **values))

    def _refuse(self, reason: str) -> None:
        self.message.setText(f"Not changed: {reason}")
        self._fill()

    def _edit(self, name: str, change_of: Callable[[Character], Character]) -> None:
        self.message.setText("")
        self.session.edit(name, change_of)
        self._fill()

    def _typed(self, item: QTableWidgetItem) -> None:
        if self._filling:
            return
        row, text = item.row(), item.text().strip()
        parameter = self.session.document.parameters[row]
        column = COLUMNS[item.column()]
        if column == "name":
            if text != parameter.name:
                self._rename(Thing("parameter", parameter.name), text)
        elif column in ("from", "to", "limit"):
            limit = "once_per" if parameter.kind == "pulse" else "per_second"
            number = re.sub(r"^once in|per s$|s$", "", text).strip() if column == "limit" else text
            try:
                value = float(number) if number else None
            except ValueError:
                self._refuse(f"{text} is no number")
                return
            self._change(row, **{{"from": "min", "to": "max", "limit": limit}[column]: value})
        elif column == "unit":
            self._change(row, unit=text)
        elif column == "choices":
            self._change(row, choices=tuple(text.split()))
        elif parameter.owner == "formula":
            self._change(row, formula=text)
        else:
            self._change(row, start=_typed_value(parameter, text))

    def _rename(self, thing: Thing, name: str) -> None:
        fault = self.session.rename_fault(thing, name)
        if fault:
            self._refuse(fault)
        else:
            self.message.setText("")
            self.session.rename(thing, name)
            self._fill()

    def _remove(self, thing: Thing) -> None:
        self.message.setText(removal_sentence(self.session.document, thing))
        self.session.remove(thing)
        self._fill()

    def _names(self) -> list[str]:
        document = self.session.document
        buttons = [one.name for one in document.controls.buttons]
        return [one.name for one in document.parameters] + buttons + [one.name for one in document.controls.sticks]

    def add(self) -> None:
        """Add a parameter: the first value of the body that is not used yet, else a number of the game's."""
        names = self._names()
        free = next((name for name in ("speed", "rise", "grounded") if name not in names), None)
        if free is not None and free in PUBLISHED:
            kind = "flag" if free == "grounded" else "number"
            limits = {} if kind == "flag" else {"min": 0.0 if free == "speed" else -600.0, "max": 400.0}
            made = Parameter(name=free, kind=kind, owner="body", **limits)  # type: ignore[arg-type]
        else:
            made = Parameter(name=free_name("value", names, "_"), min=0.0, max=1.0)
        self._edit(f"added parameter {made.name}", lambda document: append(document, ("parameters",), made))

    def remove(self) -> None:
        """Remove the chosen parameter; conditions that name it become findings."""
        row = self.table.currentRow()
        if row >= 0:
            self._remove(Thing("parameter", self.session.document.parameters[row].name))

    def _control_typed(self, item: QTableWidgetItem) -> None:
        if self._filling:
            return
        name, keys, path, field = self._control_rows()[item.row()]
        text = item.text().strip()
        if item.column() == 1:
            if tuple(text.split()) != keys:
                values = {field: tuple(text.split())}
                self._edit(f"changed the keys of {name}", lambda document: change(document, path, **values))
            return
        wanted = text if field == "keys" else text.split(" ")[0]
        if wanted in (name, name.rsplit(" ", 1)[0]):
            self._fill()
            return
        kind = "button" if field == "keys" else "stick"
        self._rename(Thing(kind, name if kind == "button" else name.rsplit(" ", 1)[0]), wanted)

    def add_button(self) -> None:
        """Add a button on the space bar."""
        name = free_name("jump", self._names(), "_")
        made = Button(name=name, keys=("Space",))
        self._edit(f"added button {name}", lambda document: append(document, ("controls", "buttons"), made))

    def add_stick(self) -> None:
        """Add a stick on the arrow keys."""
        name = free_name("stick", self._names(), "_")
        made = Stick(name=name, left=("Left",), right=("Right",), down=("Down",), up=("Up",))
        self._edit(f"added stick {name}", lambda document: append(document, ("controls", "sticks"), made))

    def remove_control(self) -> None:
        """Remove the chosen control; conditions that name it become findings."""
        row = self.controls.currentRow()
        if row >= 0:
            name, _, _, field = self._control_rows()[row]
            self._remove(Thing("button", name) if field == "keys" else Thing("stick", name.rsplit(" ", 1)[0]))

    def keyPressEvent(self, event: Any) -> None:
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)


def _limit(kind: str, value: float | None) -> str:
    """A declared limit in words, which can be typed back as they are."""
    return "" if value is None else f"once in {value:g} s" if kind == "pulse" else f"{value:g} per s"


def _value(value: float | bool | str | None) -> str:
    """A start value as it can be typed."""
    if isinstance(value, bool):
        return "on" if value else "off"
    return "" if value is None else value if isinstance(value, str) else f"{value:g}"


def _typed_value(parameter: Parameter, text: str) -> float | bool | str | None:
    """What was typed as a start value; what is no value of its kind is told by the document's rules."""
    if not text:
        return None
    if parameter.kind in ("flag", "pulse"):
        return {"on": True, "true": True, "off": False, "false": False}.get(text.lower(), text)
    try:
        return text if parameter.kind == "choice" else float(text)
    except ValueError:
        return text


def _number(value: float | None) -> str:
    return "" if value is None else f"{value:g}"
