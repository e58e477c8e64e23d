"""The rows for what a clip travels and where its feet stand: the chosen key or contact in numbers, and what they come to."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.clips import Clip, Contact, Key, Travel
from leanstep.core.character.document import Character
from leanstep.core.clips.path_edits import time_after, with_key, with_next_contact, without_key
from leanstep.core.clips.strides import skating, speeds_of, stride_of
from leanstep.core.rehearsal.path_checks import measured
from leanstep.desk.widgets.basics import DropDown, NumberField, button, choice_of, label

EASES = {"even": "evenly", "in": "speeding up", "out": "slowing down", "both": "softly"}
MOVES = {"body": "moves the body", "drawing": "moves only the drawing"}
FAR = 1e6


def _number(name: str, tip: str, low: float, high: float, unit: str, prefix: str, wide: int = 92) -> NumberField:
    made = NumberField(name, tip, low, high, unit, whole=False)
    made.setPrefix(prefix)
    made.setMinimumWidth(wide)
    return made


class TravelRow(QWidget):
    """``meant``: the clip's travel is to be this (None: it stays in place), said so; ``stepped``: another key is chosen.  The
    ``choice`` stands elsewhere, the row is there while the clip travels."""

    meant = Signal(object, str)
    stepped = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.travel: Travel | None = None
        self.key = 0
        self.length = 1.0
        self.choice = DropDown()
        self.choice.setAccessibleName("Travel of the clip")
        self.choice.setToolTip("Whether the clip goes a path of its own, as up a ladder or over an edge")
        self.choice.addItems(["Stays in place", "Travels a path"])
        self.choice.activated.connect(self._choose)
        self.which = label("", "soft")
        self.at = _number("Time of the key", "When the path is there, from the clip’s start", 0, FAR, "ticks", "", 80)
        self.ahead = _number(
            "Ahead", "How far ahead of where it began, in the facing", -FAR, FAR, "units", "ahead ", 120
        )
        self.up = _number("Up", "How far above where it began", -FAR, FAR, "units", "up ", 100)
        for field, name in ((self.at, "at"), (self.ahead, "x"), (self.up, "y")):
            field.settled.connect(lambda value, name=name: self.set_key(**{name: value}))
        self.ease = choice_of("Way to the key", "How the path goes there from the key before", EASES)
        self.ease.activated.connect(lambda at: self.set_key(ease=self.ease.itemData(at)))
        self.moves = choice_of("What the path moves", "The body, or only how the figure is drawn", MOVES)
        self.moves.activated.connect(lambda at: self._set("what the path moves", moves=self.moves.itemData(at)))
        self.through = QCheckBox("through walls")
        self.through.setToolTip("Walls and floors do not stop the path")
        self.through.clicked.connect(lambda on: self._set("whether the path goes through walls", through=on))
        self.scale_x = _number("Times as far", "Stretches the whole path ahead", 0.001, 1000, "", "× ahead ", 96)
        self.scale_y = _number("Times as high", "Stretches the whole path upwards", 0.001, 1000, "", "× up ", 84)
        self.scale_x.settled.connect(lambda value: self._set("how far the path goes", scale_x=value))
        self.scale_y.settled.connect(lambda value: self._set("how high the path goes", scale_y=value))
        self.sentence = label("", "soft", wrap=True)
        self.sentence.setMinimumWidth(200)
        first, second = QHBoxLayout(), QHBoxLayout()
        previous = button("‹", "Choose the key before", lambda: self.stepped.emit(self.key - 1))
        following = button("›", "Choose the key after", lambda: self.stepped.emit(self.key + 1))
        for part in (previous, self.which, following, self.at, self.ahead, self.up, self.ease):
            first.addWidget(part)
        first.addStretch(1)
        first.addWidget(button("Add a key", "A key half way to the next one", self.add))
        first.addWidget(button("Remove", "Take the chosen key out (Delete)", self.remove))
        for one in (self.moves, self.through, self.scale_x, self.scale_y):
            second.addWidget(one)
        second.addWidget(self.sentence, 1)
        _column(self, first, second)

    def show_clip(self, character: Character, clip: Clip, key: int) -> None:
        """Show what a clip travels, and one of its keys."""
        self.travel, self.key = clip.travel, key
        self.length = sum(cel.ticks for cel in clip.cels) or 1.0
        self.choice.setCurrentIndex(clip.travel is not None)
        self.setVisible(clip.travel is not None)
        travel = clip.travel
        if travel is None or not travel.keys:
            return
        self.key = max(0, min(key, len(travel.keys) - 1))
        one = travel.keys[self.key]
        self.which.setText(f"key {self.key + 1} of {len(travel.keys)}")
        for field, value in ((self.at, one.at), (self.ahead, one.x), (self.up, one.y)):
            field.show_value(value)
        self.ease.setCurrentIndex(self.ease.findData(one.ease))
        self.moves.setCurrentIndex(self.moves.findData(travel.moves))
        self.through.setChecked(travel.through)
        self.scale_x.show_value(travel.scale_x)
        self.scale_y.show_value(travel.scale_y)
        self.sentence.setText(measured(character, clip))

    def _choose(self, at: int) -> None:
        if not at:
            self.meant.emit(None, "let it stay in place")
        elif self.travel is None:
            self.meant.emit(Travel(keys=(Key(at=self.length, x=40.0),)), "gave it a path of 40 units ahead")

    def _set(self, said: str, **values: Any) -> None:
        if self.travel is not None:
            self.meant.emit(replace(self.travel, **values), f"changed {said}")

    def set_key(self, number: int = -1, **values: Any) -> None:
        """Change a key of the path (the chosen one)."""
        if self.travel is None:
            return
        number = self.key if number < 0 else number
        keys = list(self.travel.keys)
        keys[number] = replace(keys[number], **values)
        self.meant.emit(replace(self.travel, keys=tuple(keys)), f"moved key {number + 1} of the path")

    def add(self, at: float = -1.0) -> None:
        """A key at a tick (half way to the next one), where the path would be then if it went evenly."""
        if self.travel is None:
            return
        at = time_after(self.travel, self.key, self.length) if at < 0 else at
        made, number = with_key(self.travel, at)
        if made != self.travel:
            self.key = number
            self.meant.emit(made, "added a key to the path")

    def remove(self) -> None:
        """Take the chosen key out; with the last one the path goes."""
        if self.travel is None:
            return
        left = without_key(self.travel, self.key)
        self.meant.emit(left, "took the path out" if left is None else "took a key out of the path")


class FeetRow(QWidget):
    """``meant``: the clip's contacts are to be these; ``stepped``: another one is chosen; ``paced``: the clip is to play as its feet
    walk at this speed.  The ``maker`` stands elsewhere, the row is there while there are contacts."""

    meant = Signal(object, str)
    stepped = Signal(int)
    paced = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self.contacts: tuple[Contact, ...] = ()
        self.number, self.length, self.natural = 0, 1.0, 0.0
        self.maker = button("Key a foot", "Say when a foot is on the ground, and how far ahead it is then", self.add)
        self.which = label("", "soft")
        self.start = _number("Foot comes down", "When the foot comes to the ground", 0, FAR, "ticks", "down at ", 132)
        self.end = _number("Foot goes up", "When it leaves the ground", 0, FAR, "ticks", "up at ", 118)
        self.lands = _number(
            "Where it comes down", "How far ahead of the foot point it comes down", -FAR, FAR, "", "at ", 74
        )
        self.lifts = _number("Where it goes up", "How far ahead it is when it goes up", -FAR, FAR, "", "then at ", 92)
        for field, name in ((self.start, "start"), (self.end, "end"), (self.lands, "x"), (self.lifts, "to")):
            field.settled.connect(lambda value, name=name: self.set_contact(self.number, **{name: value}))
        self.sentence = label("", "soft", wrap=True)
        self.pace = button(
            "Play it so", "Bind the clip's speed to the body's, so that its feet do not skate", self._pace
        )
        row = QHBoxLayout()
        previous = button("‹", "Choose the contact before", lambda: self.stepped.emit(self.number - 1))
        following = button("›", "Choose the contact after", lambda: self.stepped.emit(self.number + 1))
        for part in (previous, self.which, following, self.start, self.lands, self.end, self.lifts):
            row.addWidget(part)
        row.addStretch(1)
        row.addWidget(button("Another foot", "Key the next contact", self.add))
        row.addWidget(button("Remove foot", "Take the chosen contact out (Delete)", self.remove))
        second = QHBoxLayout()
        second.addWidget(self.sentence, 1)
        second.addWidget(self.pace)
        _column(self, row, second)

    def show_clip(self, character: Character, clip: Clip, number: int) -> None:
        """Show where a clip's feet stand, and one of its contacts."""
        self.contacts = clip.contacts
        self.length = sum(cel.ticks for cel in clip.cels) or 1.0
        self.setVisible(bool(clip.contacts))
        if not clip.contacts:
            return
        self.number = max(0, min(number, len(clip.contacts) - 1))
        one = clip.contacts[self.number]
        self.which.setText(f"{self.number + 1} of {len(clip.contacts)}")
        for field, value in ((self.start, one.start), (self.end, one.end), (self.lands, one.x), (self.lifts, one.to)):
            field.show_value(value)
        stride, speeds = stride_of(clip, character.rate), speeds_of(character, clip)
        self.natural = stride.speed if stride is not None else 0.0
        self.pace.setVisible(False)
        if stride is None:
            self.sentence.setText("A foot moves back while it stands: let it go up behind where it came down.")
            return
        words = f"The feet walk {stride.speed:.4g} units/s."
        if speeds:
            worst = max((skating(stride, speed) for speed in speeds), key=lambda one: abs(one.share))
            words += f" Shown at {worst.speed:.4g} they skate {abs(worst.step):.1f} units a step, {abs(worst.share):.0%} of a stride."
            self.pace.setVisible(abs(worst.share) > 0.005)
        self.sentence.setText(words)

    def _pace(self) -> None:
        self.paced.emit(float(f"{self.natural:.4g}"))

    def add(self) -> None:
        """A contact behind the last one."""
        self.number = len(self.contacts)
        self.meant.emit(with_next_contact(self.contacts, self.length), "keyed a foot")

    def set_contact(self, number: int, **values: Any) -> None:
        """Change a contact."""
        made = list(self.contacts)
        made[number] = replace(made[number], **values)
        self.meant.emit(tuple(made), "moved a foot")

    def remove(self) -> None:
        """Take the chosen contact out."""
        left = tuple(one for at, one in enumerate(self.contacts) if at != self.number)
        self.meant.emit(left, "took a foot out")


def _column(widget: QWidget, *rows: QHBoxLayout) -> None:
    column = QVBoxLayout(widget)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(4)
    for row in rows:
        row.setSpacing(8)
        column.addLayout(row)
