"""The numbers of the body, each with its unit, beside the mirror."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QCheckBox, QComboBox, QFrame, QGridLayout, QScrollArea, QVBoxLayout, QWidget

from leanstep.core.body.previews import in_words
from leanstep.core.character.edits import change
from leanstep.desk.contact_panel import ContactPanel
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, NumberField, fill_combo, label

GROUPS: tuple[tuple[str, tuple[tuple[str, str, str, float, float, str], ...]], ...] = (
    (
        "On the ground",
        (
            ("walk_speed", "walks at", "units/s", 0, 5000, "How fast it walks"),
            ("run_speed", "runs at", "units/s", 0, 5000, "How fast it runs"),
            ("acceleration", "speeds up by", "units/s²", 0, 100_000, "How quickly it comes to its speed"),
            ("braking", "slows down by", "units/s²", 0, 100_000, "How quickly it stops"),
        ),
    ),
    (
        "In the air",
        (
            ("jump_speed", "takes off at", "units/s", 0, 5000, "How fast it leaves the ground"),
            (
                "jump_cut",
                "let go early, keeps",
                "of the rise",
                0,
                1,
                "The share of the upward speed kept when the button is let go early",
            ),
            (
                "jump_grace",
                "may jump late by",
                "s",
                0,
                10,
                "How long after it left the ground a press still makes it jump",
            ),
            ("jump_buffer", "may press early by", "s", 0, 10, "How long before it is on the ground a press may come"),
            ("gravity_up", "rising, slows by", "units/s²", 0, 100_000, "Gravity while it rises"),
            ("gravity_down", "falling, speeds up by", "units/s²", 0, 100_000, "Gravity while it falls"),
            ("fall_speed", "falls no faster than", "units/s", 0, 10_000, "It falls no faster"),
            (
                "air_control",
                "gains speed by",
                "of the ground's",
                0,
                1,
                "The share of speeding up and slowing down there is in the air",
            ),
        ),
    ),
    (
        "The body itself",
        (
            ("width", "width", "units", 1, 2000, "How wide it is"),
            ("height", "height", "units", 1, 2000, "How high it is"),
            ("climb_speed", "climbs ladders at", "units/s", 0, 5000, "How fast it climbs ladders"),
            ("slope", "walks up slopes to", "°", 0, 89, "The steepest slope it walks on"),
            ("turn_time", "turns round after", "s", 0, 10, "For how long it has to be asked to turn round"),
        ),
    ),
)
ABOVE = (
    "Seen from above",
    (
        ("depth", "depth", "units", 1, 2000, "How far its foot reaches up and down on the ground"),
        ("cell", "cells of", "units", 1, 5000, "How large the cells are it goes by"),
        ("turn_rate", "turns by", "°/s", 0, 100_000, "How fast it turns; 0: at once"),
        (
            "along",
            "heeds its facing",
            "of the way",
            0,
            1,
            "By what share it goes where it looks instead of where the stick points",
        ),
        ("along_after", "fully within", "s", 0, 60, "After how long it goes so, once it begins to"),
        ("along_wait", "begins after", "s", 0, 60, "How long the stick is pushed before that begins"),
        (
            "along_back",
            "stops heeding",
            "times as fast",
            0,
            100,
            "How much faster it is given back when the stick is let go",
        ),
    ),
)
CHOICES: tuple[tuple[str, str, dict[str, str], str], ...] = (
    ("model", "seen from", {"side": "the side", "above": "above"}, "How the world is seen that it moves in"),
    (
        "ways",
        "goes",
        {"free": "every way", "eight": "eight ways", "four": "four ways", "square": "by whole cells"},
        "Which ways it can go",
    ),
)
LABELS = 116
"""Pixels that words before a field take."""

CONTROLS = (
    ("stick", "steered by", "sticks"),
    ("jump", "jumps with", "buttons"),
    ("run", "runs with", "buttons"),
    ("aim", "looks along", "aims"),
    ("aim_held", "only holding", "buttons"),
)
"""What it obeys; the last two where it is seen from above."""
NOTHING = "nothing"


class BodyPanel(QScrollArea):
    """Every change acts on the next tick; what the numbers come to is said, and drawn on the course while one has the focus."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setAccessibleName("The body")
        self.fields: dict[str, NumberField] = {}
        self.controls: dict[str, QComboBox] = {}
        self.sentence = label("", "soft", wrap=True)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 6, 6)
        column.setSpacing(4)
        column.addWidget(self.sentence)
        self.choices: dict[str, QComboBox] = {}
        self.above: list[QWidget] = []
        self.tilts = QCheckBox("tilts on slopes")
        self.tilts.setToolTip("The figure is turned as the slope it stands on")
        self.tilts.clicked.connect(lambda on: self._set("tilts", on))
        column.addLayout(self._choices())
        for title, numbers in (ABOVE, *GROUPS):
            box = QWidget()
            within = QVBoxLayout(box)
            within.setContentsMargins(0, 0, 0, 0)
            within.setSpacing(4)
            within.addWidget(label(title, "title"))
            self.above += [box] if title == ABOVE[0] else []
            grid = QGridLayout()
            grid.setVerticalSpacing(4)
            for row, (name, words, unit, low, high, tip) in enumerate(numbers):
                field = NumberField(words.capitalize(), tip, low, high, unit, whole=False)
                if high <= 1:
                    field.setSingleStep(0.05)
                field.settled.connect(lambda value, name=name: self._set(name, value))
                field.installEventFilter(self)
                self.fields[name] = field
                grid.addWidget(label(words, "soft"), row, 0)
                grid.addWidget(field, row, 1)
                grid.setColumnMinimumWidth(0, LABELS)
            grid.setColumnStretch(1, 1)
            within.addLayout(grid)
            column.addWidget(box)
        grid = QGridLayout()
        for row, (name, words, _) in enumerate(CONTROLS):
            box = DropDown()
            box.setAccessibleName(words.capitalize())
            box.setToolTip("The control that the body obeys")
            box.activated.connect(lambda at, name=name: self._obey(name, self.controls[name].itemText(at)))
            self.controls[name] = box
            said = label(words, "soft")
            self.above += [said, box] if name.startswith("aim") else []
            grid.addWidget(said, row, 0)
            grid.addWidget(box, row, 1)
        grid.setColumnMinimumWidth(0, LABELS)
        grid.setColumnStretch(1, 1)
        column.addLayout(grid)
        column.addWidget(self.tilts)
        self.contact = ContactPanel(session, LABELS)
        column.addWidget(self.contact)
        column.addStretch(1)
        self.setWidget(inner)
        session.editing.follow(self, self.refresh, session.changed)
        self.refresh()

    def _choices(self) -> QGridLayout:
        """How it is seen, and which ways it goes."""
        grid = QGridLayout()
        for row, (name, words, options, tip) in enumerate(CHOICES):
            box = DropDown()
            box.setAccessibleName(words.capitalize())
            box.setToolTip(tip)
            for key, text in options.items():
                box.addItem(text, key)
            box.activated.connect(lambda at, name=name: self._set(name, self.choices[name].itemData(at)))
            self.choices[name] = box
            said = label(words, "soft")
            self.above += [said, box] if name == "ways" else []
            grid.addWidget(said, row, 0)
            grid.addWidget(box, row, 1)
        grid.setColumnMinimumWidth(0, LABELS)
        grid.setColumnStretch(1, 1)
        return grid

    def _obey(self, name: str, control: str) -> None:
        self._set(name, "" if control == NOTHING else control)

    def refresh(self) -> None:
        """Show the document as it is now."""
        document = self.session.document
        above = document.body.model == "above"
        for widget in self.above:
            widget.setVisible(above)
        for name, choice in self.choices.items():
            choice.setCurrentIndex(choice.findData(getattr(document.body, name)))
        self.tilts.setChecked(document.body.tilts)
        for name, field in self.fields.items():
            field.show_value(getattr(document.body, name))
        for name, _, kind in CONTROLS:
            bearings = [one.name for one in document.parameters if one.kind == "bearing" and one.owner != "body"]
            sticks = [one.name for one in document.controls.sticks]
            names = [*sticks, *bearings] if kind == "aims" else [one.name for one in getattr(document.controls, kind)]
            fill_combo(self.controls[name], [NOTHING, *names], getattr(document.body, name) or NOTHING)
        self.contact.refresh()
        self.sentence.setText(in_words(document.body, document.rate) if self.isVisible() else "")

    def showEvent(self, event: object) -> None:
        self.refresh()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            name = next((name for name, field in self.fields.items() if field is watched), "")
            self.session.body_shown.emit(name if event.type() == QEvent.Type.FocusIn else "")
        return super().eventFilter(watched, event)

    def _set(self, name: str, value: Any) -> None:
        words = name.replace("_", " ")
        self.session.edit(
            f"changed the {words} of the body",
            lambda document: change(document, ("body",), **{name: value}),
            f"body {name}",
        )
