"""The names panel: parameters with their live values, controls, assumptions, and the character itself."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QPoint, Qt, QTimer
from PySide6.QtWidgets import QFrame, QHBoxLayout, QMenu, QScrollArea, QVBoxLayout, QWidget

from leanstep.core.body.records import TOLD
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name, remove
from leanstep.core.character.inputs import Button, Parameter, Stick
from leanstep.core.character.validation import validate
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.naming.told import of_body, tellable, with_formulas_told, with_told
from leanstep.desk.parameters.control_rows import ControlRow, clashes
from leanstep.desk.parameters.fields import MeantLine
from leanstep.desk.parameters.parameter_row import ParameterRow
from leanstep.desk.selection import Chosen
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.widgets.basics import NumberField, button, label, replace_inner
from leanstep.desk.widgets.condition import ConditionLine, judged
from leanstep.desk.widgets.timeline import thresholds

NEW: tuple[tuple[str, dict[str, Any]], ...] = (
    ("A number of the game", {"name": "value", "min": 0.0, "max": 1.0}),
    ("A whole number of the game", {"name": "count", "kind": "whole", "min": 0.0, "max": 9.0}),
    ("A direction of the game", {"name": "towards", "kind": "bearing"}),
    ("A flag of the game", {"name": "sign", "kind": "flag"}),
    ("A countdown of the game", {"name": "stun", "kind": "whole", "max": 60.0, "countdown": True}),
    ("A pulse of the game", {"name": "call", "kind": "pulse"}),
    ("A choice of the game", {"name": "mood", "kind": "choice", "choices": ("calm", "angry")}),
    ("A flag of the graph", {"name": "drawn", "kind": "flag", "owner": "graph"}),
    ("A pulse of the graph", {"name": "told", "kind": "pulse", "owner": "graph"}),
    ("A number of the graph", {"name": "hits", "owner": "graph", "min": 0.0, "max": 9.0}),
    ("A formula", {"name": "sum", "owner": "formula", "formula": "0"}),
)
"""What a new parameter can be, in words."""


class NamesPanel(QScrollArea):
    """Every change is an edit of its own and can be undone."""

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.opened = ""
        self.rows: list[ParameterRow] = []
        self.controls: list[ControlRow] = []
        self.assumptions: list[ConditionLine] = []
        self._built: tuple[object, ...] | None = None
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Parameters and controls")
        self._make_character()
        self.new_menu = QMenu(self)
        session.editing.follow(self, self.refresh, session.changed)
        session.editing.follow(self, self._selected, session.selected)
        live.ticked.connect(self._show_values)
        live.watchers.append(lambda ticks, situation, truths: situation.values if self.isVisible() else None)
        self.refresh()

    def _make_character(self) -> None:
        self.name = MeantLine("Name of the character", "What the character is called")
        self.name.meant.connect(self._set_name)
        self.rate = NumberField("Rate", "How many ticks there are in a second", 1, 1000, "ticks a second", whole=False)
        self.rate.settled.connect(lambda value: self._character("rate", rate=value))
        self.window_field = NumberField(
            "Flicker window", "A stay shorter than this is a flicker", 0, 10, "s", whole=False
        )
        self.window_field.setSingleStep(0.01)
        self.window_field.settled.connect(lambda value: self._character("flicker window", flicker_window=value))

    # --- what is shown

    def refresh(self) -> None:
        """Show the document as it is now."""
        document = self.session.document
        if not self.isVisible():
            self._built = None
            return
        shape = (
            len(document.parameters),
            tuple(type(one) for one in controls_of(document)),
            len(document.assumptions),
        )
        if shape != self._built:
            self._built = shape
            self._build(document)
        cuts = {
            self.session.machine.symbols[index].name: values
            for index, values in thresholds(self.session.machine).items()
        }
        for row, parameter in zip(self.rows, document.parameters):
            row.show_parameter(parameter, cuts.get(parameter.name, []))
        self.opened = next((row.head.parameter.name for row in self.rows if row.head.open), "")
        twice = clashes(document.controls)
        for control, shown in zip(controls_of(document), self.controls):
            shown.show_control(control, twice)
        for line, text in zip(self.assumptions, document.assumptions):
            line.show_names(document, 0)
            if line.text() != text:
                line.setText(text)
        self.name.show_text(document.name)
        self.rate.show_value(document.rate)
        self.window_field.show_value(document.flicker_window)
        self._show_values()

    def showEvent(self, event: object) -> None:
        self.refresh()

    def _show_values(self) -> None:
        if self.isVisible() and self.live.machine is self.session.machine:
            values, index = self.live.situation.values, self.live.machine.index
            for row in self.rows:
                at = index.get(row.head.parameter.name)
                row.head.show_value(None if at is None else values[at])

    def _build(self, document: Character) -> None:
        """Rows for what there is now."""
        for one in (self.name, self.rate, self.window_field):
            one.setParent(None)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 6, 6)
        column.setSpacing(2)
        self.rows, self.controls, self.assumptions = [], [], []
        column.addLayout(_heading("Parameters", button("Add …", "A new parameter for conditions to read", self.add)))
        for number in range(len(document.parameters)):
            row = ParameterRow(self.session)
            row.toggled.connect(partial(self._toggle, row))
            row.head.handled.connect(partial(self._handle, row))
            row.changed.connect(lambda values, number=number: self._change(number, **values))
            row.removal.connect(partial(self._remove, row))
            self.rows.append(row)
            column.addWidget(row)
        adders = (
            button("Add a button", "A new button", self.add_button),
            button("Add a stick", "A stick on the arrow keys", self.add_stick),
        )
        column.addLayout(_heading("Controls", *adders))
        buttons = len(document.controls.buttons)
        for number, control in enumerate(controls_of(document)):
            made = ControlRow(self.session, control)
            place = ("buttons", number) if number < buttons else ("sticks", number - buttons)
            path = ("controls", *place)
            made.changed.connect(lambda values, path=path: self._control(path, **values))
            made.removal.connect(lambda made=made: self.session.remove(Thing(made.kind, made.control.name)))
            self.controls.append(made)
            column.addWidget(made)
        column.addLayout(
            _heading("Assumptions", button("Add", "A sentence that holds on every tick", self.add_assumption))
        )
        for number in range(len(document.assumptions)):
            column.addLayout(self._assumption(number))
        column.addLayout(_heading("The character"))
        for part in (self.name, self.rate, self.window_field):
            column.addWidget(part)
        column.addStretch(1)
        replace_inner(self, inner)
        for row, parameter in zip(self.rows, document.parameters):
            row.head.parameter = parameter
            row.open(parameter.name == self.opened)

    def _assumption(self, number: int) -> QHBoxLayout:
        line = ConditionLine()
        line.setAccessibleName(f"Assumption {number + 1}")
        line.setToolTip("Holds on every tick, whatever is pressed; proofs rely on it")
        line.setPlaceholderText("for example: lives >= 0")
        line.written.connect(lambda text: self._assume(number, text))
        self.assumptions.append(line)
        row = QHBoxLayout()
        row.addWidget(line, 1)
        row.addWidget(button("Remove", "Take this assumption out", lambda: self._unassume(number)))
        return row

    def _toggle(self, row: ParameterRow) -> None:
        self.open("" if row.head.open else row.head.parameter.name)

    def _handle(self, row: ParameterRow, value: Symbolic) -> None:
        """The game sets a value, as the person says."""
        self.live.set_handle(row.head.parameter.name, value)

    def _remove(self, row: ParameterRow) -> None:
        self.session.remove(Thing("parameter", row.head.parameter.name))

    def open(self, name: str) -> None:
        """Show everything about one parameter; an empty name closes all."""
        self.opened = name
        for row in self.rows:
            row.open(bool(name) and row.head.parameter.name == name)

    def _selected(self) -> None:
        chosen = self.session.selection.latest
        if chosen is not None:
            self.choose(chosen)

    def choose(self, chosen: Chosen) -> bool:
        """Bring the row of a parameter or control into view; False when it is neither."""
        if not isinstance(chosen, Thing) or chosen.kind not in ("parameter", "button", "stick"):
            return False
        if chosen.kind == "parameter":
            self.open(chosen.name)
        rows: list[QWidget] = []
        if chosen.kind == "parameter":
            rows += [row for row in self.rows if row.head.parameter.name == chosen.name]
        rows += [row for row in self.controls if (row.kind, row.control.name) == (chosen.kind, chosen.name)]
        inner = self.widget()
        if rows and inner is not None:
            inner.layout().activate()  # type: ignore[union-attr]
            self.verticalScrollBar().setValue(rows[0].mapTo(inner, QPoint(0, 0)).y())
        return True

    # --- edits

    def _sound(self, after: Character, refuse: Callable[[str], object]) -> bool:
        """Whether a document keeps the rules; what it breaks is told."""
        try:
            validate(after, "")
        except LeanStepError as error:
            refuse(f"Not changed: {error.reason}. {error.way_out}")
            return False
        return True

    def _change(self, number: int, **values: Any) -> None:
        document = self.session.document
        if number < len(document.parameters):
            name = document.parameters[number].name
            after = with_formulas_told(change(document, ("parameters", number), **values))
            if self._sound(after, self.rows[number].refuse):
                self.session.edit(f"changed parameter {name}", lambda document: after)

    def _control(self, path: tuple[str | int, ...], **values: Any) -> None:
        self.session.edit("changed the keys of a control", lambda document: change(document, path, **values))

    def _taken(self) -> list[str]:
        document = self.session.document
        return [*(one.name for one in document.parameters), *(one.name for one in controls_of(document))]

    def add(self) -> None:
        """Ask what a new parameter shall be, and add it."""
        self.new_menu.clear()
        for text, values in NEW:
            self.new_menu.addAction(text, lambda values=values: self._add(Parameter(**values)))
        self.new_menu.addSeparator()
        for name in tellable(self.session.document):
            action = self.new_menu.addAction(f"{name}, set by the body", lambda name=name: self._add(of_body(name)))
            action.setToolTip(TOLD.get(name, "the body is inside the zone"))
        self.new_menu.popup(self.mapToGlobal(QPoint(20, 30)))

    def _add(self, parameter: Parameter) -> None:
        name = free_name(parameter.name, self._taken(), "_")
        made = change(parameter, (), name=name)
        self.opened = name
        self.session.edit(f"added parameter {name}", lambda document: append(document, ("parameters",), made))
        self.session.select(Thing("parameter", name))

    def add_button(self) -> None:
        """Add a button on a key that is still free."""
        name = free_name("press", self._taken(), "_")
        used = clashes(self.session.document.controls).keys() | {
            key for one in self.session.document.controls.buttons for key in one.keys
        }
        key = next((letter for letter in "ZXCVBNMASDFGHJKLQWERTYUIOP" if letter not in used), "Space")
        made = Button(name=name, keys=(key,))
        self._add_control("buttons", made)

    def add_stick(self) -> None:
        """Add a stick on the arrow keys."""
        name = free_name("stick", self._taken(), "_")
        made = Stick(name=name, left=("Left",), right=("Right",), down=("Down",), up=("Up",))
        self._add_control("sticks", made)

    def _add_control(self, field: str, made: Button | Stick) -> None:
        """A new control, in sight and ready to be named."""
        kind = field[:-1]
        self.session.edit(f"added {kind} {made.name}", lambda document: append(document, ("controls", field), made))
        self.session.select(Thing(kind, made.name))
        for row in self.controls:
            if row.control.name == made.name:
                row.name.ask()
                # once everything above it has its height
                QTimer.singleShot(0, row, partial(self.ensureWidgetVisible, row, 0, 20))

    def add_assumption(self) -> None:
        """Add an assumption, ready to be written."""
        self.session.edit(
            "added an assumption", lambda document: change(document, (), assumptions=(*document.assumptions, "true"))
        )
        if self.assumptions:
            self.assumptions[-1].setFocus()
            self.assumptions[-1].selectAll()

    def _assume(self, number: int, text: str) -> None:
        assumptions = self.session.document.assumptions
        if number < len(assumptions) and text != assumptions[number]:
            sentence, fine = judged(self.session.document, 0, text)
            after = (*assumptions[:number], text, *assumptions[number + 1 :])
            self.session.edit(
                "changed an assumption",
                lambda document: change(with_told(document, text), (), assumptions=after),
            )
            if not fine:
                self.session.said.emit(sentence)

    def _unassume(self, number: int) -> None:
        if number < len(self.session.document.assumptions):
            self.session.edit("took an assumption out", lambda document: remove(document, ("assumptions", number)))

    def _set_name(self, name: str) -> None:
        if name:
            self._character("name", name=name)
        else:
            self.name.show_text(self.session.document.name)

    def _character(self, what: str, **values: Any) -> None:
        self.session.edit(f"changed the {what} of the character", lambda document: change(document, (), **values), what)


def controls_of(document: Character) -> tuple[Button | Stick, ...]:
    """Buttons, then sticks."""
    return (*document.controls.buttons, *document.controls.sticks)


def _heading(text: str, *buttons: QWidget) -> QHBoxLayout:
    row = QHBoxLayout()
    row.setContentsMargins(0, 8, 0, 2)
    row.addWidget(label(text, "title"), 1)
    for one in buttons:
        row.addWidget(one)
    return row
