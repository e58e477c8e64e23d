"""The further rows of the drawer: what a state does and expects, and how a transition changes over."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from leanstep.core.character.body import Body
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State, Transition
from leanstep.core.graph import effect_text
from leanstep.desk.widgets.basics import DropDown, NumberField, button, fill_combo, label
from leanstep.desk.widgets.condition import ConditionLine, judged
from leanstep.desk.widgets.effects_line import EffectsLine

MODE_WORDS = {
    "": "its own rules",
    "walk": "walking",
    "climb": "climbing",
    "float": "floating",
    "still": "standing still",
}


def note_line(what: str) -> QLineEdit:
    """A line for a note."""
    made = QLineEdit()
    made.setAccessibleName(f"Note on the {what}")
    made.setPlaceholderText("note")
    made.setToolTip("A note for people; kept in the file")
    return made


def shape_choice(kind: str, tip: str) -> QComboBox:
    """A choice of a squash or a lean."""
    made = DropDown()
    made.setAccessibleName(kind.capitalize())
    made.setToolTip(f"{tip}; they are made under Shape, beside the mirror")
    made.setMinimumWidth(140)
    return made


def show_shapes(choice: QComboBox, kind: str, names: list[str], current: str) -> None:
    """The squashes or leans there are, and the one that is meant."""
    fill_combo(
        choice, [f"no {kind}", *(f"{kind} {name}" for name in names)], f"{kind} {current}" if current else f"no {kind}"
    )


def chosen_shape(choice: QComboBox, at: int) -> str:
    """The name that was chosen; empty for none."""
    return choice.itemText(at).partition(" ")[2] if at else ""


class StateRows(QWidget):
    """``changed``: the chosen state has these other values; ``breathes``: it is to have a breath."""

    changed = Signal(object)
    breathes = Signal()

    def __init__(self) -> None:
        super().__init__()
        hint = "nothing; for example: set drawn to on"
        self.entry = EffectsLine("On entry", "What happens when the state is entered", hint, effect_text.read_effects)
        self.entry.written.connect(lambda effects: self.changed.emit({"on_entry": effects}))
        self.leave = EffectsLine(
            "On leaving", "What happens when the state is left, whichever way", hint, effect_text.read_effects
        )
        self.leave.written.connect(lambda effects: self.changed.emit({"on_leave": effects}))
        self.expects = ConditionLine()
        self.expects.setAccessibleName("Expects")
        self.expects.setToolTip("What should hold while this state is shown; takes in which it does not are findings")
        self.expects.setPlaceholderText("nothing; for example: grounded")
        self.expects.written.connect(self._expect)
        self.grace = NumberField("Grace", "For how long it may not hold", 0, 3600, "s", whole=False)
        self.grace.setSingleStep(0.05)
        self.grace.settled.connect(lambda value: self.changed.emit({"grace": value}))
        self.face = NumberField("Turns to what it touches", "Seen from above: how fast it does", 0, 10_000, "°/s")
        self.face.setSpecialValueText("no")
        self.face.settled.connect(lambda value: self.changed.emit({"face": value}))
        self.face_words = label("turns to what it touches", "soft")
        self.note = note_line("state")
        self.note.editingFinished.connect(self._note)
        self.fault = label("", "fault")
        for line in (self.entry, self.leave):
            line.refused.connect(self.fault.setText)
        self._state, self._body = State(name=""), Body()
        first = QHBoxLayout()
        for text, line in (("On entry", self.entry), ("on leaving", self.leave)):
            first.addWidget(label(text, "soft"))
            first.addWidget(line, 1)
        second = QHBoxLayout()
        second.addWidget(label("Expects", "soft"))
        second.addWidget(self.expects, 2)
        second.addWidget(label("but for", "soft"))
        second.addWidget(self.grace)
        second.addWidget(self.face_words)
        second.addWidget(self.face)
        second.addWidget(self.note, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addLayout(first)
        column.addLayout(second)
        column.addLayout(self._asks())
        column.addLayout(self._shapes())
        column.addWidget(self.fault)

    def _asks(self) -> QHBoxLayout:
        """What the state asks of the body."""
        self.mode = DropDown()
        self.mode.setAccessibleName("Moves by")
        self.mode.setToolTip("How the body moves while the state is active")
        for mode, words in MODE_WORDS.items():
            self.mode.addItem(words, mode)
        self.mode.activated.connect(lambda at: self.changed.emit({"mode": self.mode.itemData(at)}))
        self.cap = NumberField("No faster than", "The top speed while the state is active", 0, 100_000, "units/s")
        self.cap.setSpecialValueText("no limit")
        self.cap.settled.connect(lambda value: self.changed.emit({"cap": value or None}))
        self.fall_cap = NumberField(
            "Falls no faster than", "The fastest fall while the state is active", 0, 100_000, "units/s"
        )
        self.fall_cap.setSpecialValueText("as ever")
        self.fall_cap.settled.connect(lambda value: self.changed.emit({"fall_cap": value or None}))
        tip = "The body box while the state is active; a bigger one is taken once there is room"
        self.box = [NumberField(name, tip, 0, 5000) for name in ("Box wide", "Box high")]
        tip = "A push when the state is entered, in units a second"
        self.push = [NumberField(name, tip, -100_000, 100_000) for name in ("Push along", "Push up")]
        for fields, name in ((self.box, "box"), (self.push, "push")):
            for field in fields:
                field.settled.connect(lambda _, fields=fields, name=name: self._pair(name, fields))
        self.box[0].setSpecialValueText("as ever")
        self.box[1].setSpecialValueText("as ever")
        row = QHBoxLayout()
        row.addWidget(label("The body moves by", "soft"))
        row.addWidget(self.mode)
        row.addWidget(label("no faster than", "soft"))
        row.addWidget(self.cap)
        row.addWidget(label("falls no faster than", "soft"))
        row.addWidget(self.fall_cap)
        for words, fields in (("box", self.box), ("push along, up", self.push)):
            row.addWidget(label(words, "soft"))
            for field in fields:
                field.setMinimumWidth(64)
                row.addWidget(field)
        row.addStretch(1)
        return row

    def _shapes(self) -> QHBoxLayout:
        """How the figure is drawn while the state is active."""
        self.squash = shape_choice("squash", "The shape the figure takes when the state is entered")
        self.squash.activated.connect(lambda at: self.changed.emit({"squash": chosen_shape(self.squash, at)}))
        self.lean = shape_choice("lean", "How the figure tilts while the state is active")
        self.lean.activated.connect(lambda at: self.changed.emit({"lean": chosen_shape(self.lean, at)}))
        self.costume = DropDown()
        self.costume.setAccessibleName("Costume")
        self.costume.setToolTip("What is worn in the state, whatever is worn else; costumes are made in Sheets")
        self.costume.activated.connect(lambda at: self.changed.emit({"costume": chosen_shape(self.costume, at)}))
        self.alternate = DropDown()
        self.alternate.setAccessibleName("Way of moving")
        self.alternate.setToolTip(
            "How it is moved in the state, whatever is chosen else; ways of moving are made in Clips"
        )
        self.alternate.activated.connect(lambda at: self.changed.emit({"alternate": chosen_shape(self.alternate, at)}))
        self.breath = button(
            "Let it breathe",
            "A slow stretch by two pixels, for a figure that nobody drew breathing",
            self.breathes.emit,
        )
        row = QHBoxLayout()
        row.addWidget(label("The drawing", "soft"))
        for one in (self.squash, self.lean, self.breath, self.costume, self.alternate):
            row.addWidget(one)
        row.addStretch(1)
        return row

    def _pair(self, name: str, fields: list[NumberField]) -> None:
        """Two numbers that are one value; nothing while both are 0 (or one side of a box is)."""
        values = tuple(field.value() for field in fields)
        body = self._body
        if name == "box" and any(values):
            usual = (body.width, body.depth if body.model == "above" else body.height)
            values = tuple(value or old for value, old in zip(values, usual))
        self.changed.emit({name: values if any(values) else ()})

    def show_state(self, character: Character, layer: int, state: State) -> None:
        """Show a state."""
        self._state, self._body = state, character.body
        self.mode.setCurrentIndex(self.mode.findData(state.mode))
        self.cap.show_value(state.cap or 0.0)
        self.fall_cap.show_value(state.fall_cap or 0.0)
        for fields, pair in ((self.box, state.box), (self.push, state.push)):
            for field, value in zip(fields, pair or (0.0, 0.0)):
                field.show_value(value)
        show_shapes(self.squash, "squash", [one.name for one in character.squashes], state.squash)
        show_shapes(self.lean, "lean", [one.name for one in character.leans], state.lean)
        self.breath.setEnabled(not state.squash)
        wears = [f"wears {one.name}" for one in character.costumes]
        fill_combo(self.costume, ["no costume", *wears], f"wears {state.costume}" if state.costume else "no costume")
        self.costume.setVisible(bool(wears or state.costume))
        moves = [f"moves {one.name}" for one in character.alternates]
        fill_combo(
            self.alternate,
            ["moves as usual", *moves],
            f"moves {state.alternate}" if state.alternate else "moves as usual",
        )
        self.alternate.setVisible(bool(moves or state.alternate))
        phrases = effect_text.phrases(character)
        self.entry.show_words(effect_text.effect_words(state.on_entry), phrases, (layer, state.name))
        self.leave.show_words(effect_text.effect_words(state.on_leave), phrases, (layer, state.name))
        self.expects.show_names(character, layer)
        if self.expects.text() != state.expects:
            self.expects.setText(state.expects)
        self.grace.show_value(state.grace)
        self.face.show_value(state.face)
        for part in (self.face, self.face_words):
            part.setVisible(character.body.model == "above" or state.face > 0)
        if self.note.text() != state.note:
            self.note.setText(state.note)
        fault = effect_text.fault_of(character, (*state.on_entry, *state.on_leave))
        if not fault and state.expects:
            sentence, fine = judged(character, layer, state.expects)
            fault = "" if fine else sentence
        self.fault.setText(fault)

    def _expect(self, text: str) -> None:
        if text != self._state.expects:
            self.changed.emit({"expects": text})

    def _note(self) -> None:
        if self.note.text() != self._state.note:
            self.changed.emit({"note": self.note.text()})


class TransitionRow(QWidget):
    """``changed``: what of the chosen transition, in words, and its values."""

    changed = Signal(str, object)

    def __init__(self) -> None:
        super().__init__()
        self.fade = NumberField(
            "Fade", "How long the old picture goes while the new one comes", 0, 60, "s", whole=False
        )
        self.fade.setSingleStep(0.05)
        self.fade.settled.connect(lambda value: self.changed.emit("fade", {"fade": value}))
        self.interruptible = QCheckBox("may be interrupted")
        self.interruptible.setToolTip("While the fade runs another transition may be taken")
        self.interruptible.clicked.connect(lambda on: self.changed.emit("fade", {"interruptible": on}))
        self.keep_phase = QCheckBox("keeps the phase")
        self.keep_phase.setToolTip("The new clip goes on where the old one was, as a share of its length")
        self.keep_phase.clicked.connect(lambda on: self.changed.emit("phase", {"keep_phase": on}))
        self.squash = shape_choice("squash", "The shape the figure takes when the transition is taken")
        self.squash.activated.connect(lambda at: self.changed.emit("squash", {"squash": chosen_shape(self.squash, at)}))
        self.lean = shape_choice("lean", "How the figure tilts from then on")
        self.lean.activated.connect(lambda at: self.changed.emit("lean", {"lean": chosen_shape(self.lean, at)}))
        self.note = note_line("transition")
        self.note.editingFinished.connect(self._note)
        self._transition = Transition()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label("fades for", "soft"))
        for part in (self.fade, self.interruptible, self.keep_phase, self.squash, self.lean):
            row.addWidget(part)
        row.addWidget(self.note, 1)

    def show_transition(self, character: Character, transition: Transition) -> None:
        """Show a transition."""
        show_shapes(self.squash, "squash", [one.name for one in character.squashes], transition.squash)
        show_shapes(self.lean, "lean", [one.name for one in character.leans], transition.lean)
        self._transition = transition
        self.fade.show_value(transition.fade)
        self.interruptible.setChecked(transition.interruptible)
        self.interruptible.setEnabled(transition.fade > 0)
        self.keep_phase.setChecked(transition.keep_phase)
        if self.note.text() != transition.note:
            self.note.setText(transition.note)

    def _note(self) -> None:
        if self.note.text() != self._transition.note:
            self.changed.emit("note", {"note": self.note.text()})
