"""The chosen event: its name, its time, and what it does in words."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from leanstep.core.character.clips import Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.graph import effect_text
from leanstep.desk.widgets.basics import DropDown, NameField, NumberField, button, fill_combo, label
from leanstep.desk.widgets.effects_line import EffectsLine

EFFECTS_TIP = "What happens at this instant: raise step; set drawn to on; lock movement as landing; say foot = left"
NOWHERE = "at no pin point"
SPAN_TIP = "What holds while it is on: hold sharp; lock movement; say strength = 3"


class EventRow(QWidget):
    """``changed``: the chosen event has these other values; ``renamed`` and ``refused`` as of a name."""

    changed = Signal(object)
    renamed = Signal(str)
    removal = Signal()
    listed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.kind = label("", "soft")
        self.name = NameField("event")
        self.name.setMaximumWidth(120)
        self.name.renamed.connect(self.renamed)
        self.at = NumberField("Time of the mark", "When it fires, from the clip's start", 0, 1e6, "ticks", whole=False)
        self.at.settled.connect(lambda value: self.changed.emit({"at": value}))
        self.start = NumberField("Start of the span", "When it begins", 0, 1e6, "ticks", whole=False)
        self.start.settled.connect(lambda value: self.changed.emit({"start": value}))
        self.end = NumberField("End of the span", "When it ends; it is off from then on", 0, 1e6, "ticks", whole=False)
        self.end.settled.connect(lambda value: self.changed.emit({"end": value}))
        self.mark_entries = EffectsLine(
            "What the mark does", EFFECTS_TIP, "Does nothing by itself. For example: raise step", effect_text.read_mark
        )
        self.span_entries = EffectsLine(
            "What the span does", SPAN_TIP, "Does nothing by itself. For example: hold sharp", effect_text.read_span
        )
        self.pin = DropDown()
        self.pin.setAccessibleName("Pin point of the mark")
        self.pin.setToolTip("The pin point at which it fires: the game is told where that lies and points")
        self.pin.activated.connect(lambda at: self.changed.emit({"pin": self.pin.itemText(at) if at else ""}))
        self.fault = label("", "fault", wrap=True)
        self.fault.hide()
        row = QHBoxLayout()
        row.setSpacing(8)
        for part in (self.kind, self.name, self.at, self.pin, self.start, self.end):
            row.addWidget(part)
        for line in (self.mark_entries, self.span_entries):
            line.written.connect(self.changed)
            line.refused.connect(self._refuse)
            row.addWidget(line, 1)
        self.remove_button = button("Remove", "Remove the chosen events (Delete)", self.removal.emit)
        row.addWidget(self.remove_button)
        self.list_button = button(
            "All events …", "Every event: in which clips and states, and how often in the takes", self.listed.emit
        )
        self.list_button.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        row.addStretch(0)
        row.addWidget(self.list_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        column.addLayout(row)
        column.addWidget(self.fault)

    def show_event(self, character: Character, event: Mark | Span | None, count: int, pins: Sequence[str] = ()) -> None:
        """Show the event that is chosen, one of ``count``; ``pins`` are the pin points of its clip."""
        is_mark, is_span = isinstance(event, Mark), isinstance(event, Span)
        for part in (self.name, self.remove_button):
            part.setVisible(event is not None)
        self.at.setVisible(is_mark and count == 1)
        self.mark_entries.setVisible(is_mark and count == 1)
        self.pin.setVisible(isinstance(event, Mark) and count == 1 and bool(pins or event.pin))
        for field in (self.start, self.end, self.span_entries):
            field.setVisible(is_span and count == 1)
        self.fault.hide()
        if event is None:
            self.kind.setText("Click on a row under the film for a mark, drag for a span.")
            return
        self.kind.setText(("Mark" if is_mark else "Span") if count == 1 else f"{count} events, the last one")
        self.name.show_name(event.name, lambda name: None)
        if isinstance(event, Mark):
            self.at.show_value(event.at)
            fill_combo(self.pin, [NOWHERE, *pins], event.pin or NOWHERE)
            self.mark_entries.show_words(
                effect_text.mark_words(event), [*effect_text.phrases(character), "say foot = left"], event.name
            )
            self._refuse(effect_text.fault_of(character, event.effects))
        else:
            self.start.show_value(event.start)
            self.end.show_value(event.end)
            self.span_entries.show_words(
                effect_text.span_words(event), effect_text.phrases(character, span=True), event.name
            )

    def _refuse(self, sentence: str) -> None:
        self.fault.setText(sentence)
        self.fault.setVisible(bool(sentence))
