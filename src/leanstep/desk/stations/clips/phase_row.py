"""The chosen phase in numbers, and what the action does to whom it hits."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.clips import FARTHEST, PHASES, Clip, Strike
from leanstep.core.character.instants import LATEST
from leanstep.core.clips.phases import Stretch
from leanstep.core.clips.timing import TICK
from leanstep.desk.widgets.basics import NumberField, button, choice_of, label


def _ticks(name: str, tip: str, prefix: str, whole: bool = False) -> NumberField:
    made = NumberField(name, tip, 0, LATEST, "ticks", whole=whole)
    made.setPrefix(prefix)
    made.setMinimumWidth(112)
    return made


class PhaseRow(QWidget):
    """``changed``: the chosen phase has these other values; ``struck``: the action does this to whom it hits; ``removal`` of the
    phase."""

    changed = Signal(object)
    struck = Signal(object)
    removal = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.strike = Strike()
        self.which = label("", "soft")
        self.kind = choice_of("Kind of the phase", "What these ticks are", dict[str, str](zip(PHASES, PHASES)))
        self.kind.activated.connect(lambda at: self.changed.emit({"kind": self.kind.itemData(at)}))
        self.start = _ticks("Start of the phase", "When it begins, from the clip’s start", "from ")
        self.end = _ticks("End of the phase", "When it ends; it is over from then on", "to ")
        for field, name in ((self.start, "start"), (self.end, "end")):
            field.settled.connect(lambda value, name=name: self.changed.emit({name: value}))
        self.again = QCheckBox("hits again")
        self.again.setToolTip("Whom an earlier active phase of this action has hit, this one hits once more")
        self.again.clicked.connect(lambda on: self.changed.emit({"again": on}))
        self.remove_button = button("Remove", "Take the chosen phase out (Delete)", self.removal.emit)
        self.stun = _ticks("Stun on hit", "For how long a figure that is hit can do nothing", "stuns ", whole=True)
        self.guard_stun = _ticks("Stun on guard", "The same for one that guards", "on guard ", whole=True)
        self.freeze = _ticks("Freeze on contact", "For how long time stands for both", "freezes ", whole=True)
        self.strength = NumberField("Strength", "How strong it is, for the game", 0, FARTHEST, whole=False)
        self.strength.setPrefix("strength ")
        self.push = NumberField("Push", "How fast it pushes whom it touches away", 0, FARTHEST, "units/s", whole=False)
        self.push.setPrefix("pushes ")
        self.numbers = {
            "stun": self.stun,
            "guard_stun": self.guard_stun,
            "freeze": self.freeze,
            "push": self.push,
            "strength": self.strength,
        }
        for name, field in self.numbers.items():
            field.setMinimumWidth(126)
            field.settled.connect(lambda value, name=name: self._set(name, value))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        row, does = QHBoxLayout(), QHBoxLayout()
        for line in (row, does):
            line.setSpacing(8)
            column.addLayout(line)
        parts = (self.which, self.kind, self.start, self.end, self.again, self.remove_button)
        for part in parts:
            row.addWidget(part)
        row.addStretch(1)
        does.addWidget(label("To whom it touches", "soft"))
        for field in self.numbers.values():
            does.addWidget(field)
        does.addStretch(1)
        self._phase = parts[1:]

    def _set(self, name: str, value: float) -> None:
        whole = name in ("stun", "guard_stun", "freeze")
        made = replace(self.strike, **{name: int(value) if whole else value})
        self.struck.emit(made if made != Strike() else None)

    def show_clip(self, clip: Clip, one: Stretch | None, first: bool) -> None:
        """Show a stretch of a clip's phases (None: none is chosen); the ``first`` one is startup for ever unless it is active."""
        self.strike = clip.strike or Strike()
        for name, field in self.numbers.items():
            field.show_value(getattr(self.strike, name))
        for part in self._phase:
            part.setVisible(one is not None)
        if one is None:
            self.which.setText("Click on a phase for its numbers.")
            return
        self.which.setText("Phase" if one.written >= 0 else "Between phases" if not first else "Before the first")
        self.kind.setCurrentIndex(PHASES.index(one.kind))
        self.kind.setEnabled(one.written >= 0 or not first)
        written = one.written >= 0
        for field, value in ((self.start, one.start), (self.end, one.end)):
            field.show_value(value / TICK)
            field.setEnabled(written)
        self.again.setVisible(one.kind == "active")
        self.again.setChecked(one.again)
        self.remove_button.setVisible(written)
