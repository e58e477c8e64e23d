"""The chosen part of a cut-out in numbers, as it is at the moment that is shown."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QMenu, QVBoxLayout, QWidget

from leanstep.core.character.cut_outs import FARTHEST, MOST_TIMES, MOST_TURNED, CutOut, CutOutPart, PartKey, ReachKey
from leanstep.core.character.instants import LATEST
from leanstep.core.cut_outs.edits import partner, pose_of, reach_of, track_of
from leanstep.core.cut_outs.poses import Pose, target_of
from leanstep.core.cut_outs.starters import STARTERS
from leanstep.desk.widgets.basics import NumberField, button, choice_of, fill_combo, label

NONE = "no part"
ROW = 31
"""Pixels that a row of numbers is high."""
EASES = {"even": "evenly", "in": "faster and faster", "out": "slower and slower", "both": "softly"}
BENDS = {"left": "bends to the left", "right": "bends to the right"}


class PartRow(QWidget):
    """``picked`` another part; ``keyed``: it has this key here (:class:`PartKey`, :class:`ReachKey`); ``retimed``: the key of this
    moment lies at another tick; ``unkeyed``; ``halved``: another part is to do the same half the length later; ``started``: a starter
    is wanted, by its place; ``reached``: it reaches for where it is, or no more; ``bent``: to the other side; ``tipped``: its tip is
    elsewhere on its frame; ``timed``: all of it lasts so many ticks, each frame so many; ``looped``: it repeats."""

    picked = Signal(str)
    keyed = Signal(object)
    retimed = Signal(float)
    unkeyed = Signal()
    halved = Signal()
    started = Signal(int)
    reached = Signal(bool)
    bent = Signal(str)
    tipped = Signal(float, float)
    timed = Signal(int, int)
    looped = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.at = 0.0
        self._ease = "both"
        self.which = choice_of("Part", "Which part the numbers are of", {"": NONE})
        self.which.activated.connect(lambda at: self.picked.emit(self.which.itemText(at) if at else ""))
        self.tick = NumberField("Tick of the key", "When the key of this moment lies", 0, LATEST, "", False)
        self.tick.setPrefix("key at ")
        self.tick.setMinimumWidth(84)
        self.tick.settled.connect(self.retimed)
        far = FARTHEST
        self.across = NumberField("Part across", "Moved to the right, as its parent lies", -far, far, "px", False)
        self.up = NumberField("Part up", "Moved up, as its parent lies", -far, far, "px", False)
        turned = MOST_TURNED
        self.turn = NumberField("Turn of the part", "Turned clockwise about its joint", -turned, turned, "°", False)
        self.wide = NumberField("Width of the part", "Times as wide as drawn", 0.001, MOST_TIMES, "", False)
        self.high = NumberField("Height of the part", "Times as high as drawn", 0.001, MOST_TIMES, "", False)
        for field, prefix in (
            (self.across, "x "),
            (self.up, "y "),
            (self.turn, "turned "),
            (self.wide, "wide × "),
            (self.high, "high × "),
        ):
            field.setPrefix(prefix)
            field.setMinimumWidth(100 if field is self.turn else 76)
            field.settled.connect(lambda value: self._key())
        for field in (self.wide, self.high):
            field.setSingleStep(0.05)
        self.ease = choice_of("Easing of the key", "How it is gone to from the key before", EASES)
        self.ease.activated.connect(lambda at: self._key())
        self.off = button("Off here", "Take the key of this moment away (Delete)", self.unkeyed.emit)
        self.half = button(
            "The other half", "The part of the other side does the same half the length later", self.halved.emit
        )
        self.starters = QMenu(self)
        for number, one in enumerate(STARTERS):
            self.starters.addAction(
                f"{one.name}: {one.says[0].lower()}{one.says[1:]}", lambda number=number: self.started.emit(number)
            )
        self.starter = button(
            "Let it …", "Breathe, bob, sway, blink or slide: two numbers each, in place of its keys", self._open
        )
        self.words = label("", "soft")
        self.reach = button(
            "Let it reach",
            "The end of the part stays where it is now, whatever the others do",
            lambda: self.reached.emit(True),
        )
        self.let_go = button("Reaches no more", "It is turned by its own keys again", lambda: self.reached.emit(False))
        self.bend = choice_of("Bend", "To which side of the line to its target the middle joint lies", BENDS)
        self.bend.activated.connect(lambda at: self.bent.emit(self.bend.itemData(at)))
        self.target_x = NumberField("Target across", "To the right of the figure's foot", -far, far, "px", False)
        self.target_y = NumberField("Target up", "Above the figure's foot", -far, far, "px", False)
        self.target_ease = choice_of("Easing of the target", "How it is gone to from the key before", EASES)
        self.target_ease.activated.connect(lambda at: self._aim())
        self.tip_x = NumberField(
            "Tip across", "The end of the part, from the left edge of its frame", -far, far, "px", False
        )
        self.tip_y = NumberField(
            "Tip down", "The end of the part, from the upper edge of its frame", -far, far, "px", False
        )
        for field, prefix in (
            (self.target_x, "to x "),
            (self.target_y, "y "),
            (self.tip_x, "tip x "),
            (self.tip_y, "y "),
        ):
            field.setPrefix(prefix)
            field.setMinimumWidth(78)
        for field in (self.target_x, self.target_y):
            field.settled.connect(lambda value: self._aim())
        for field in (self.tip_x, self.tip_y):
            field.settled.connect(lambda value: self.tipped.emit(self.tip_x.value(), self.tip_y.value()))
        self.ticks = NumberField("Length of the motion", "How long it lasts", 1, LATEST, "ticks")
        self.every = NumberField("Ticks of a frame", "How long each frame lasts", 1, LATEST, "ticks a frame")
        for field, wide in ((self.ticks, 82), (self.every, 120)):
            field.setMinimumWidth(wide)
            field.settled.connect(lambda value: self.timed.emit(int(self.ticks.value()), int(self.every.value())))
        self.repeats = QCheckBox("repeats")
        self.repeats.setAccessibleName("Motion repeats")
        self.repeats.setToolTip("After the last key of a part it goes on to its first")
        self.repeats.clicked.connect(self.looped)
        self._posing: tuple[QWidget, ...] = (
            self.tick,
            self.across,
            self.up,
            self.turn,
            self.wide,
            self.high,
            self.ease,
        )
        self._reaching: tuple[QWidget, ...] = (
            self.target_x,
            self.target_y,
            self.target_ease,
            self.bend,
            self.tip_x,
            self.tip_y,
            self.let_go,
        )
        self._ways: tuple[QWidget, ...] = (self.off, self.half, self.starter)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        whole = (
            label("It lasts", "soft"),
            self.ticks,
            label("in frames of", "soft"),
            self.every,
            self.repeats,
            self.words,
        )
        for parts in ((self.which, *self._posing), (*self._ways, self.reach, *self._reaching), whole):
            # what comes and goes with the chosen part moves nothing under the hand
            line = QWidget()
            line.setMinimumHeight(ROW)
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(6)
            for part in parts:
                row.addWidget(part, int(part is self.words))
            if parts is not whole:
                row.addStretch(1)
            column.addWidget(line)

    def _open(self) -> None:
        self.starters.popup(self.starter.mapToGlobal(self.starter.rect().bottomLeft()))

    def _key(self) -> None:
        fields = (self.across, self.up, self.turn, self.wide, self.high)
        x, y, turn, wide, high = (field.value() for field in fields)
        self.keyed.emit(PartKey(at=self.at, x=x, y=y, turn=turn, wide=wide, high=high, ease=self.ease.currentData()))

    def _aim(self) -> None:
        x, y = self.target_x.value(), self.target_y.value()
        self.keyed.emit(ReachKey(at=self.at, x=x, y=y, ease=self.target_ease.currentData()))

    def show_part(self, cut_out: CutOut, parts: Sequence[CutOutPart], chosen: str, at: float | None) -> None:
        """Show a part (empty: none is chosen) as it is at a tick (None: what is shown is none of the frames)."""
        fill_combo(self.which, [NONE, *(part.name for part in parts)], chosen or NONE)
        self.which.updateGeometry()
        there = next((part for part in parts if part.name == chosen), None)
        reach = reach_of(cut_out, chosen) if there is not None else None
        can = there is not None and at is not None
        for widget in self._posing:
            widget.setVisible(can)
        self.off.setVisible(can)
        for widget in (self.half, self.starter):
            widget.setVisible(can and reach is None)
        self.reach.setVisible(can and reach is None and there is not None and bool(there.parent))
        for widget in self._reaching:
            widget.setVisible(can and reach is not None)
        self.ticks.show_value(cut_out.ticks)
        self.every.show_value(cut_out.every)
        self.repeats.setChecked(cut_out.repeats)
        self.words.setText(
            "Drag a part: it turns; with Shift it moves." if at is not None else "Nothing can be moved on this cel."
        )
        if there is None or at is None:
            return
        self.at = at
        keys = track_of(cut_out, chosen).keys
        here = next((key for key in keys if key.at == at), None)
        self._show_pose(pose_of(cut_out, chosen, at))
        self.tick.setVisible(here is not None)
        self.tick.show_value(at)
        self.ease.setCurrentIndex(self.ease.findData(here.ease if here is not None else "both"))
        on_reach = reach is not None and any(key.at == at for key in reach.keys)
        self.off.setEnabled(here is not None or on_reach)
        other = partner(chosen, parts)
        self.half.setEnabled(bool(other and keys))
        self.half.setToolTip(
            f"{other} does the same half the length later"
            if other
            else "There is no part whose name says that it is the other one: left and right, near and far, front and back"
        )
        if reach is not None:
            for field, value in zip((self.target_x, self.target_y), target_of(cut_out, reach, at), strict=True):
                field.show_value(value)
            ease = next((key.ease for key in reach.keys if key.at == at), "both")
            self.target_ease.setCurrentIndex(self.target_ease.findData(ease))
            self.bend.setCurrentIndex(self.bend.findData(reach.bend))
            self.tip_x.show_value(reach.tip[0] if reach.tip else 0.0)
            self.tip_y.show_value(reach.tip[1] if reach.tip else 0.0)

    def _show_pose(self, pose: Pose) -> None:
        fields = [self.across, self.up, self.turn, self.wide, self.high]
        for field, value in zip(fields, (pose.x, pose.y, pose.turn, pose.wide, pose.high)):
            field.show_value(value)
