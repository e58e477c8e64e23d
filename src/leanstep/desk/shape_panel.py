"""Squashes and leans, each with its numbers, beside the mirror: what changes how the figure is drawn."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QCheckBox, QFrame, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name
from leanstep.core.character.validation import validate
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing, users
from leanstep.core.naming.wording import place_in_words
from leanstep.core.wording import some
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.widgets.basics import NameField, NumberField, button, label, replace_inner
from leanstep.desk.widgets.menu import ContextMenu, thing_entries

Numbers = tuple[tuple[str, str, str, float, float, float, str], ...]
SQUASH: Numbers = (
    ("high", "gets high", "times", 0.05, 20, 0.05, "How many times as high the figure becomes"),
    ("wide", "and wide", "times", 0.05, 20, 0.05, "How many times as wide; not asked for while its area is kept"),
    ("over", "within", "s", 0, 60, 0.01, "How long it takes to get there"),
    ("hold", "holds for", "s", 0, 60, 0.01, "How long it stays so before it springs back"),
    ("back", "then back in", "s", 0, 60, 0.01, "How long it takes to spring back"),
    ("every", "comes every", "s", 0, 60, 0.1, "It comes and goes once in so many seconds, like breath; 0: it does not"),
    ("by_fall", "whole after", "units/s", 0, 10_000, 10, "The speed of a fall after which it is whole; 0: always"),
)
LEAN: Numbers = (
    ("speeding", "speeding up", "°", -90, 90, 0.5, "Degrees for each 100 units a second gained in a second"),
    ("turning", "turning", "°", -90, 90, 0.5, "Seen from above: degrees for each 100 degrees turned in a second"),
    ("most", "at most", "°", 0, 90, 1, "It never leans farther"),
    ("smooth", "smoothed over", "s", 0, 60, 0.01, "How slowly it follows"),
)
MOST_LISTED = 2


class ShapePanel(QScrollArea):
    """A card for every squash and every lean; what is changed is seen on the next tick."""

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.cards: list[Card] = []
        self._built: tuple[int, int] | None = None
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setAccessibleName("Squash and lean")
        session.editing.follow(self, self.refresh, session.changed)
        session.editing.follow(self, self._selected, session.selected)
        self.refresh()

    def _selected(self) -> None:
        """Bring the chosen squash or lean into view."""
        chosen = self.session.selection.latest
        card = next((one for one in self.cards if one.thing == chosen), None)
        inner = self.widget()
        if card is not None and inner is not None and self.isVisible():
            inner.layout().activate()  # type: ignore[union-attr]
            self.verticalScrollBar().setValue(card.mapTo(inner, QPoint(0, 0)).y())

    def showEvent(self, event: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        """Show the document as it is now."""
        document = self.session.document
        if not self.isVisible():
            self._built = None
            return
        shape = len(document.squashes), len(document.leans)
        if shape != self._built:
            self._built = shape
            self._build(document)
        for card in self.cards:
            card.show_part(document, getattr(document, card.field)[card.number])

    def _build(self, document: Character) -> None:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 6, 6)
        column.setSpacing(6)
        self.cards = []
        for title, field, adder in (
            ("Squashes", "squashes", button("Add a squash", "A shape the figure springs back from", self.add_squash)),
            ("Leans", "leans", button("Add a lean", "A tilt into where the figure speeds up or turns", self.add_lean)),
        ):
            head = QHBoxLayout()
            head.addWidget(label(title, "title"), 1)
            head.addWidget(adder)
            column.addLayout(head)
            parts = getattr(document, field)
            if not parts:
                text = (
                    "None yet: a landing that gives way, a stretch before a jump, a breath. States, marks and transitions begin them."
                    if field == "squashes"
                    else "None yet. States, marks and transitions begin them."
                )
                column.addWidget(label(text, "soft", wrap=True))
            for number in range(len(parts)):
                card = Card(self, field, number)
                self.cards.append(card)
                column.addWidget(card)
        column.addStretch(1)
        replace_inner(self, inner)

    # --- edits

    def add_squash(self) -> None:
        """A squash as of a landing."""
        name = free_name("squash", [one.name for one in self.session.document.squashes])
        self._add("squashes", Squash(name=name, high=0.8, over=0.03, hold=0.03))

    def add_lean(self) -> None:
        """A lean as into a run."""
        name = free_name("lean", [one.name for one in self.session.document.leans])
        self._add("leans", Lean(name=name, speeding=1.0, turning=2.0, most=10.0))

    def _add(self, field: str, part: Squash | Lean) -> None:
        self.session.edit(f"added {part.name}", lambda document: append(document, (field,), part))
        card = next(card for card in self.cards if (card.field, card.part.name) == (field, part.name))
        card.name.ask()
        self.ensureWidgetVisible(card)

    def set(self, field: str, number: int, **values: Any) -> None:
        """Change a squash or a lean; what cannot be is said."""
        name = getattr(self.session.document, field)[number].name
        after = change(self.session.document, (field, number), **values)
        try:
            validate(after, "")
        except LeanStepError as error:
            self.session.said.emit(f"Not changed: {error.reason}. {error.way_out}")
            self.refresh()
            return
        self.session.edit(f"changed {name}", lambda document: after, f"{field} {number} {sorted(values)}")


class Card(QFrame):
    """One squash or lean."""

    def __init__(self, panel: ShapePanel, field: str, number: int) -> None:
        super().__init__()
        self.panel, self.field, self.number = panel, field, number
        self.part: Squash | Lean = getattr(panel.session.document, field)[number]
        kind = "squash" if field == "squashes" else "lean"
        self.kind = kind
        self.name = NameField(kind)
        self.name.renamed.connect(lambda name: panel.session.rename(self.thing, name))
        self.name.refused.connect(panel.session.said)
        # the name stands alone: beside the buttons it would be cut
        head = QHBoxLayout()
        if kind == "squash":
            head.addWidget(button("Try it", "Begin it now, on the figure above", partial(self._try)))
        head.addWidget(button("Duplicate", f"A copy of the {kind}", lambda: panel.session.duplicate(self.thing)))
        head.addWidget(button("Remove", f"Remove the {kind}", lambda: panel.session.remove(self.thing)))
        head.addStretch(1)
        self.menu = ContextMenu(self, lambda where: thing_entries(panel.session, self.name.ask, self.thing))
        self.keeps = QCheckBox("keeps its area")
        self.keeps.setToolTip("It becomes as much wider as it becomes lower")
        self.keeps.clicked.connect(lambda on: self._set(wide=None if on else 1.0))
        self.springs = QCheckBox("springs back by itself")
        self.springs.setToolTip("Otherwise when the state that began it is left")
        self.springs.clicked.connect(lambda on: self._set(hold=0.05 if on else None))
        self.whole = QCheckBox("by whole pixels")
        self.whole.setToolTip("Heights are whole pixels of the art")
        self.whole.clicked.connect(lambda on: self._set(whole_pixels=on))
        self.box = QCheckBox("the body box follows")
        self.box.setToolTip("While a state is active that begins it, the body is as high and wide, too")
        self.box.clicked.connect(lambda on: self._set(box=on))
        self.fields: dict[str, NumberField] = {}
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        for row, (name, words, unit, low, high, step, tip) in enumerate(SQUASH if kind == "squash" else LEAN):
            made = NumberField(words.capitalize(), tip, low, high, unit, whole=False)
            made.setSingleStep(step)
            made.settled.connect(lambda value, name=name: self._set(**{name: value}))
            self.fields[name] = made
            grid.addWidget(label(words, "soft"), row, 0)
            grid.addWidget(made, row, 1)
        grid.setColumnStretch(1, 1)
        self.used = label("", "soft", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 8)
        column.setSpacing(3)
        column.addWidget(self.name)
        column.addLayout(head)
        for check in (self.keeps, self.springs, self.whole, self.box) if kind == "squash" else ():
            column.addWidget(check)
        column.addLayout(grid)
        column.addWidget(self.used)

    @property
    def thing(self) -> Thing:
        """What it is called."""
        return Thing(self.kind, self.part.name)

    def show_part(self, document: Character, part: Squash | Lean) -> None:
        """Show its numbers, and what begins it."""
        self.part = part
        self.name.show_name(part.name, lambda name: self.panel.session.rename_fault(self.thing, name))
        if isinstance(part, Squash):
            self.keeps.setChecked(part.wide is None)
            self.springs.setChecked(part.hold is not None)
            self.whole.setChecked(part.whole_pixels)
            self.box.setChecked(part.box)
            self.fields["wide"].setEnabled(part.wide is not None)
            self.fields["hold"].setEnabled(part.hold is not None)
        for name, field in self.fields.items():
            value = getattr(part, name)
            if value is None and name == "wide" and isinstance(part, Squash):
                value = 1 / part.high
            field.show_value(value or 0.0)
        words = list(dict.fromkeys(place_in_words(document, place) for place in users(document, self.thing)))
        self.used.setText(
            f"Begun by {some(words, MOST_LISTED)}." if words else "Nothing begins it yet: choose it for a state."
        )

    def _set(self, **values: Any) -> None:
        self.panel.set(self.field, self.number, **values)

    def _try(self) -> None:
        if isinstance(self.part, Squash):
            self.panel.live.try_squash(self.part)
