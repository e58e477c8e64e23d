"""What contact with another figure raises, and when strikes are guarded."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QGridLayout, QVBoxLayout, QWidget

from leanstep.core.character.contact import RAISED
from leanstep.core.character.contact_edits import declared, fitting, with_rule
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, button, fill_combo, label
from leanstep.desk.widgets.condition import ConditionLine

NOTHING = "nothing"
WORDS = {
    "hit": ("when it is hit", "A pulse that is raised on the tick after"),
    "guarded": ("when it guards", "A pulse that is raised on the tick after"),
    "stun": ("stunned by", "A countdown that is given the stun"),
    "strength": ("how strong by", "A number that is given the strength of what touches it"),
    "lands": ("when it hits", "A pulse: its own strike has hit"),
    "stopped": ("when it is guarded", "A pulse: its own strike has been guarded"),
}


class ContactPanel(QWidget):
    """Each thing is a parameter of the game that fits; one button makes the usual three."""

    def __init__(self, session: Session, labels: int) -> None:
        super().__init__()
        self.session = session
        self.declare_button = button(
            "Say what contact raises",
            "Make pulses for being hit and for guarding, and a countdown for the stun",
            self._declare,
        )
        self.guards = ConditionLine()
        self.guards.setAccessibleName("Guards while")
        self.guards.setToolTip("While this holds a strike does not hit, as far as its guard reach goes")
        self.guards.setPlaceholderText("never; for example: in base.parry")
        self.guards.written.connect(lambda text: self._set("guards", text))
        self.choices: dict[str, QComboBox] = {}
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        grid.setContentsMargins(0, 0, 0, 0)
        self._lines: list[QWidget] = [label("guards while", "soft"), self.guards]
        grid.addWidget(self._lines[0], 0, 0)
        grid.addWidget(self.guards, 0, 1)
        for row, what in enumerate(RAISED, 1):
            words, tip = WORDS[what]
            box = DropDown()
            box.setAccessibleName(words.capitalize())
            box.setToolTip(tip)
            box.activated.connect(lambda at, what=what: self._choose(what, self.choices[what].itemText(at)))
            self.choices[what] = box
            said = label(words, "soft")
            grid.addWidget(said, row, 0)
            grid.addWidget(box, row, 1)
            self._lines += [said, box]
        grid.setColumnMinimumWidth(0, labels)
        grid.setColumnStretch(1, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("Contact", "title"))
        column.addWidget(self.declare_button)
        column.addLayout(grid)

    def refresh(self) -> None:
        """Show the document as it is now."""
        document = self.session.document
        rules = document.contact
        self.declare_button.setVisible(rules is None)
        for line in self._lines:
            line.setVisible(rules is not None)
        self.guards.show_names(document, 0)
        text = rules.guards if rules is not None else ""
        if self.guards.text() != text and not self.guards.hasFocus():
            self.guards.setText(text)
            self.guards.setCursorPosition(0)
        for what, box in self.choices.items():
            now = getattr(rules, what) if rules is not None else ""
            names = [NOTHING, *fitting(document, what)]
            fill_combo(box, names if now in names or not now else [*names, now], now or NOTHING)

    def _declare(self) -> None:
        self.session.edit("said what contact raises", declared)

    def _choose(self, what: str, name: str) -> None:
        self._set(what, "" if name == NOTHING else name)

    def _set(self, what: str, value: str) -> None:
        rules = self.session.document.contact
        if value != (getattr(rules, what) if rules is not None else ""):
            self.session.edit(
                "changed what contact raises", lambda document: with_rule(document, what, value), f"contact {what}"
            )
