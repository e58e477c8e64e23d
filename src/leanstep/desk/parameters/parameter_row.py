"""A parameter in the names panel: its live value on a line, and when it is opened everything that is said of it."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QFrame, QGridLayout, QMenu, QVBoxLayout, QWidget

from leanstep.core.character.inputs import Parameter
from leanstep.core.naming.references import Thing, users
from leanstep.core.naming.targets import chosen_at
from leanstep.core.naming.wording import place_in_words
from leanstep.desk.parameters.fields import MeantLine, OptionalNumber
from leanstep.desk.parameters.parameter_head import OWNERS, Head
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, NameField, button, label
from leanstep.desk.widgets.condition import ConditionLine
from leanstep.desk.widgets.menu import ContextMenu, thing_entries

KINDS = {
    "number": "a number",
    "whole": "a whole number",
    "bearing": "a direction",
    "flag": "a flag",
    "choice": "a choice",
    "pulse": "a pulse",
}


class ParameterRow(QFrame):
    """``changed``: the parameter has these other values; ``removal``: it is to be removed; ``toggled``: it was opened or closed."""

    changed = Signal(object)
    removal = Signal()
    toggled = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.head = Head()
        self.head.toggled.connect(self.toggled)
        self.menu = ContextMenu(self.head, lambda where: thing_entries(session, self._ask_name, self.thing))
        self.fault = label("", "fault", wrap=True)
        self.fault.hide()
        self.inside = QWidget()
        self.inside.hide()
        self.reader_menu = QMenu(self)
        self._make_fields()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        for part in (self.head, self.inside, self.fault):
            column.addWidget(part)

    @property
    def thing(self) -> Thing:
        """The parameter, as everything that uses it knows it."""
        return Thing("parameter", self.head.parameter.name)

    def _ask_name(self) -> None:
        if not self.head.open:
            self.toggled.emit()
        self.name.ask()

    def _make_fields(self) -> None:
        def told(field: str) -> Any:
            return lambda value: self.changed.emit({field: value})

        self.name = NameField("parameter")
        self.name.renamed.connect(lambda name: self.session.rename(self.thing, name))
        self.name.refused.connect(self.refuse)
        self.kind = DropDown()
        self.owner = DropDown()
        for box, name, tip, words in (
            (self.kind, "Kind", "What values it takes", KINDS),
            (self.owner, "Set by", "Who sets it", OWNERS),
        ):
            box.setAccessibleName(name)
            box.setToolTip(tip)
            for key, text in words.items():
                box.addItem(text, key)
        self.kind.activated.connect(lambda at: self._set_kind(self.kind.itemData(at)))
        self.owner.activated.connect(lambda at: self._set_owner(self.owner.itemData(at)))
        self.low = OptionalNumber("From", "The smallest value; nothing: no bound", "no bound")
        self.high = OptionalNumber("To", "The largest value; nothing: no bound", "no bound")
        self.wobble = OptionalNumber("Wobble", "By how much it shakes by itself, in all", "1 % of the range")
        self.limit = OptionalNumber(
            "Limit", "Numbers: the most it changes in a second; pulses: seconds from one to the next", "none"
        )
        for field, key in ((self.low, "min"), (self.high, "max"), (self.wobble, "wobble")):
            field.settled.connect(told(key))
        self.limit.settled.connect(lambda value: self.changed.emit({self._limit_field(): value}))
        for field in (self.low, self.high, self.wobble, self.limit):
            field.refused.connect(self.refuse)
        self.unit = MeantLine("Unit", "Shown beside the value", "none")
        self.unit.meant.connect(told("unit"))
        self.choices = MeantLine("Choices", "The values, with spaces between them; the first is its rest")
        self.choices.meant.connect(lambda text: self.changed.emit({"choices": tuple(text.split())}))
        self.rest = MeantLine("Rest", "The value it comes to rest at, where that is not the usual one", "as usual")
        self.rest.meant.connect(lambda text: self.changed.emit({"rest": value_of(self.head.parameter, text)}))
        self.start = MeantLine("Start", "What it is at first", "its rest value")
        self.start.meant.connect(lambda text: self.changed.emit({"start": value_of(self.head.parameter, text)}))
        self.formula = ConditionLine()
        self.formula.setAccessibleName("Formula")
        self.formula.setToolTip("What it comes to, such as speed * 2")
        self.formula.setPlaceholderText("for example: speed * 2")
        self.formula.written.connect(self._set_formula)
        self.chatters = QCheckBox("goes on and off by itself")
        self.chatters.setToolTip("As a switch that bounces, or a sensor at its edge")
        self.chatters.clicked.connect(told("chatters"))
        self.countdown = QCheckBox("goes down by one on every tick")
        self.countdown.setToolTip("The game gives it a value now and then, such as a stun; it counts down to 0")
        self.countdown.clicked.connect(lambda on: self.changed.emit({"countdown": on, "min": None, "rest": None}))
        self.note = MeantLine("Note", "A note for people", "none")
        self.note.meant.connect(told("note"))
        self.readers = button("", "Where it is read or set; choose one to go there", self._list_readers)
        self.remove_button = button("Remove", "Remove the parameter; what names it is said", self.removal.emit)
        grid = QGridLayout(self.inside)
        grid.setContentsMargins(6, 2, 6, 6)
        grid.setVerticalSpacing(4)
        self._lines: dict[str, tuple[QWidget, QWidget]] = {}
        fields: list[tuple[str, str, QWidget]] = [
            ("name", "name", self.name),
            ("kind", "it is", self.kind),
            ("owner", "set by", self.owner),
            ("formula", "formula", self.formula),
            ("min", "from", self.low),
            ("max", "to", self.high),
            ("unit", "unit", self.unit),
            ("choices", "choices", self.choices),
            ("start", "starts at", self.start),
            ("rest", "rests at", self.rest),
            ("wobble", "wobbles by", self.wobble),
            ("chatters", "", self.chatters),
            ("countdown", "", self.countdown),
            ("limit", "", self.limit),
            ("note", "note", self.note),
        ]
        for row, (key, text, widget) in enumerate(fields):
            said = label(text, "soft")
            grid.addWidget(said, row, 0)
            grid.addWidget(widget, row, 1)
            self._lines[key] = said, widget
        grid.addWidget(self.readers, len(fields), 0, 1, 2)
        grid.addWidget(self.remove_button, len(fields) + 1, 0, 1, 2)
        grid.setColumnStretch(1, 1)

    def show_parameter(self, parameter: Parameter, cuts: list[float]) -> None:
        """Show a parameter; ``cuts`` are the values conditions compare it with."""
        self.head.parameter, self.head.cuts = parameter, cuts
        self.head.setAccessibleName(f"Parameter {parameter.name}")
        self.head.update()
        self.fault.hide()
        if self.head.open:
            self._fill(parameter)

    def open(self, on: bool) -> None:
        """Show everything about it, or its line only."""
        self.head.open = on
        self.inside.setVisible(on)
        self.fault.hide()
        self.head.update()
        if on:
            self._fill(self.head.parameter)

    def refuse(self, sentence: str) -> None:
        """Say why it was not changed."""
        self.fault.setText(sentence)
        self.fault.show()
        self._fill(self.head.parameter)

    def _fill(self, one: Parameter) -> None:
        document = self.session.document
        self.name.show_name(one.name, lambda name: self.session.rename_fault(Thing("parameter", one.name), name))
        self.kind.setCurrentIndex(self.kind.findData(one.kind))
        self.owner.setCurrentIndex(self.owner.findData(one.owner))
        self.low.show_number(one.min)
        self.high.show_number(one.max)
        self.wobble.show_number(one.wobble)
        self.limit.show_number(one.once_per if one.kind == "pulse" else one.per_second)
        self.unit.show_text(one.unit)
        self.choices.show_text(" ".join(one.choices))
        self.rest.show_text(_words(one.rest))
        self.start.show_text(_words(one.start))
        self.formula.show_names(document, 0)
        if self.formula.text() != one.formula:
            self.formula.setText(one.formula)
        self.chatters.setChecked(one.chatters)
        self.countdown.setChecked(one.countdown)
        self.note.show_text(one.note)
        number, outside = one.kind in ("number", "whole"), one.owner not in ("graph", "formula")
        means = {
            "formula": one.owner == "formula" or bool(one.formula),
            "min": number and not one.countdown,
            "max": number,
            "unit": number,
            "choices": one.kind == "choice",
            "start": one.owner == "graph" or one.start is not None,
            "rest": one.kind != "pulse" and one.owner not in ("formula",) and not one.countdown,
            "countdown": one.countdown or (one.kind == "whole" and one.owner == "game"),
            "wobble": one.kind in ("number", "bearing") and outside,
            "chatters": one.kind == "flag" and outside,
            "limit": one.kind in ("pulse", "number", "bearing") and outside,
        }
        for key, (words, widget) in self._lines.items():
            words.setVisible(means.get(key, True))
            widget.setVisible(means.get(key, True))
        words = self._lines["limit"][0]
        words.setText("s apart" if one.kind == "pulse" else "most a second")  # type: ignore[attr-defined]
        count = len(users(document, Thing("parameter", one.name)))
        self.readers.setText(f"Named in {count} places …" if count != 1 else "Named in 1 place …")
        self.readers.setEnabled(count > 0)

    def _limit_field(self) -> str:
        return "once_per" if self.head.parameter.kind == "pulse" else "per_second"

    def _set_kind(self, kind: str) -> None:
        values: dict[str, object] = {"kind": kind, "once_per": None, "per_second": None, "rest": None, "start": None}
        if kind == "choice" and not self.head.parameter.choices:
            values["choices"] = ("one", "another")
        if kind != "flag":
            values["chatters"] = False
        if kind != "whole":
            values["countdown"] = False
        if kind == "bearing":
            values |= {"min": None, "max": None, "unit": ""}
        self.changed.emit(values)

    def _set_owner(self, owner: str) -> None:
        counts = self.head.parameter.countdown and owner == "game"
        self.changed.emit({"owner": owner, "countdown": counts})

    def _set_formula(self, text: str) -> None:
        if text != self.head.parameter.formula:
            self.changed.emit({"formula": text})

    def _list_readers(self) -> None:
        document = self.session.document
        menu = self.reader_menu
        menu.clear()
        for place in users(document, self.thing):
            chosen = chosen_at(document, place.path)
            words = place_in_words(document, place)
            action = menu.addAction(
                words, lambda chosen=chosen: self.session.show(chosen) if chosen is not None else None
            )
            action.setEnabled(chosen is not None)
        menu.popup(self.readers.mapToGlobal(self.readers.rect().bottomLeft()))


def _words(value: float | bool | str | None) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    return "" if value is None else value if isinstance(value, str) else f"{value:g}"


def value_of(parameter: Parameter, text: str) -> float | bool | str | None:
    """What was typed as a value; what is no value of its kind is told by the document's rules."""
    if not text:
        return None
    if parameter.kind in ("flag", "pulse"):
        return {"on": True, "true": True, "off": False, "false": False}.get(text.lower(), text)
    try:
        return text if parameter.kind == "choice" else float(text)
    except ValueError:
        return text
