"""How fast a clip plays: as it is written, or bound to a parameter."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.character.clips import Cel, Clip, Playback
from leanstep.core.character.document import Character
from leanstep.core.clips.strides import SPEED, usual_speed
from leanstep.core.clips.timing import rhythm, seconds
from leanstep.desk.widgets.basics import DropDown, NumberField, label

AS_WRITTEN = "Plays as written"


class PlaybackRow(QWidget):
    """``meant``: the clip's playback is to be this (None: as it is written)."""

    meant = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.playback: Playback | None = None
        self._speed = 1.0
        self.choice = DropDown()
        self.choice.setAccessibleName("Speed of the clip")
        self.choice.setToolTip("Whether the clip plays at its own speed or follows a parameter")
        self.choice.activated.connect(self._choose)
        self.at = NumberField("Value as written", "At this value it plays as it is written", 0.001, 1e6, whole=False)
        self.low = NumberField("Slowest", "It never plays slower than this many times", 0, 1000, "times", whole=False)
        self.high = NumberField("Fastest", "It never plays faster than this many times", 0, 1000, "times", whole=False)
        self.at.setPrefix("as written at ")
        self.low.setPrefix("at least ")
        self.high.setPrefix("at most ")
        for field, name in ((self.at, "at"), (self.low, "min"), (self.high, "max")):
            field.setMinimumWidth(128)
            field.settled.connect(lambda value, name=name: self._set(name, value))
        self.resting = NumberField("Resting frame", "Shown instead of the clip while its speed is 0", -1, 99999)
        self.resting.setSpecialValueText("no resting frame")
        self.resting.setPrefix("rests on frame ")
        self.resting.setMinimumWidth(128)
        self.resting.settled.connect(self._rest)
        self.sentence = label("", "soft", wrap=True)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for part in (self.at, self.low, self.high, self.resting):
            row.addWidget(part)
        row.addWidget(self.sentence, 1)

    def show_clip(self, character: Character, clip: Clip) -> None:
        """Show what a clip says."""
        self.playback = clip.playback
        self._speed = round(usual_speed(character, clip), 1)
        numbers = [one.name for one in character.parameters if one.kind in ("number", "whole")]
        bound = clip.playback.parameter if clip.playback is not None else ""
        names = numbers if not bound or bound in numbers else [*numbers, bound]
        self.choice.clear()
        self.choice.addItem(AS_WRITTEN)
        self.choice.addItems([f"Follows {name}" for name in names])
        self.choice.setCurrentIndex(names.index(bound) + 1 if bound else 0)
        self.setVisible(clip.playback is not None)
        if clip.playback is not None:
            self.at.show_value(clip.playback.at)
            self.low.show_value(clip.playback.min)
            self.high.show_value(clip.playback.max)
            self.resting.show_value(clip.playback.resting.frame if clip.playback.resting is not None else -1)

    def show_now(self, character: Character, clip: Clip, value: float) -> None:
        """Say how fast the clip plays at the value its parameter has now."""
        playback = clip.playback
        if playback is None:
            return
        rate = min(max(value / playback.at, playback.min), playback.max)
        unit = next((one.unit for one in character.parameters if one.name == playback.parameter), "")
        lasts = rhythm(clip, seconds(clip, character.rate) / rate) if rate else "it stands still"
        self.sentence.setText(f"Now {value:.4g} {unit}: {rate:.2f} times as fast, {lasts}.")

    def _choose(self, at: int) -> None:
        if not at:
            self.meant.emit(None)
            return
        name = self.choice.itemText(at).removeprefix("Follows ")
        before = self.playback or Playback(parameter=name, at=self._speed if name == SPEED else 1.0)
        self.meant.emit(msgspec.structs.replace(before, parameter=name))

    def _rest(self, frame: float) -> None:
        if self.playback is None:
            return
        before = self.playback.resting or Cel(frame=0)
        resting = msgspec.structs.replace(before, frame=int(frame)) if frame >= 0 else None
        self.meant.emit(msgspec.structs.replace(self.playback, resting=resting))

    def _set(self, name: str, value: float) -> None:
        if self.playback is not None:
            self.meant.emit(msgspec.structs.replace(self.playback, **{name: value}))
