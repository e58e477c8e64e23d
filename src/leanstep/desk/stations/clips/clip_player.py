"""A clip as it plays: its large picture and its film under one playhead."""

from __future__ import annotations

import math
from typing import Any, Protocol

from msgspec.structs import replace
from PySide6.QtCore import QElapsedTimer, Qt, QTimer
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import QCheckBox, QWidget

from leanstep.core.character.clips import Clip
from leanstep.core.character.edits import put
from leanstep.core.character.validation import check
from leanstep.core.clips.timing import TICK, Timing, timing, units
from leanstep.core.errors import LeanStepError
from leanstep.desk.context import Context
from leanstep.desk.stations.clips.film import Film
from leanstep.desk.stations.clips.parted_preview import PartedPreview
from leanstep.desk.widgets.basics import button
from leanstep.desk.widgets.lanes import Lanes
from leanstep.desk.widgets.list_station import ListStation

RESTS = 250
"""Milliseconds after which it is looked again at most, while a cel stays."""


class OnPicture(Protocol):
    """What can be done on the large picture while it is switched ``on``."""

    on: QCheckBox
    rows: QWidget

    def show(self, clip: Clip | None) -> None:
        """Show what it changes of a clip."""
        ...


class ClipPlayer(ListStation):
    """The large picture and the film of the chosen clip, and how time goes on them; plays at the project's tick rate.

    ``lanes`` show the playhead below the film, ``tools`` are what can be done on the picture.
    """

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        self.playhead = 0
        self.playing = True
        self.large = PartedPreview(desk.session)
        self.film = Film(desk.session)
        self.film.scrubbed.connect(self._scrub)
        self.lanes: tuple[Lanes, ...] = ()
        self.tools: tuple[OnPicture, ...] = ()
        self.play_button = button("Pause", "Play or pause (Space)", self.toggle)
        self.half = QCheckBox("half speed")
        self.half.setToolTip("Play at half the true speed")
        self.clicks = desk.clicks
        self._laid: tuple[Clip, Timing] | None = None
        self._clock = QElapsedTimer()
        self._clock.start()
        self._timer = QTimer(self, singleShot=True, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._advance)

    @property
    def clip(self) -> Clip | None:
        """The chosen clip."""
        return self.part

    def show_rows(self) -> None:
        """Show the rows that there is room for, as the tools are in hand or not."""
        raise AssertionError("a station says which rows it shows")

    def look_again(self) -> None:
        """Time goes on: what else is to be seen of it may be another thing."""

    def showEvent(self, event: QShowEvent) -> None:
        self._clock.restart()
        self._timer.start(0)

    def hideEvent(self, event: QHideEvent) -> None:
        self._timer.stop()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self.toggle()
        else:
            super().keyPressEvent(event)

    def toggle(self) -> None:
        """Play or pause."""
        self.playing = not self.playing
        self.play_button.setText("Pause" if self.playing else "Play")
        self._clock.restart()
        if self.isVisible():
            self._timer.start(0)

    def step(self, ticks: int) -> None:
        """Pause and go some ticks on or back."""
        if self.playing:
            self.toggle()
        self._show(max(0, self.playhead + ticks * TICK))

    def stand(self) -> None:
        """Pause."""
        if self.playing:
            self.toggle()

    def _scrub(self, playhead: int) -> None:
        self.stand()
        self._show(playhead)

    def go_to_cel(self, at: int) -> None:
        """Pause at the beginning of a cel, which is chosen then."""
        if self.clip is not None:
            self.film.choose(at)
            self._scrub(int(sum(cel.ticks for cel in self.clip.cels[:at]) * TICK))

    def _advance(self) -> None:
        elapsed = self._clock.restart() / 1000
        clip = self.clip
        self.look_again()
        self._timer.start(RESTS)
        if not self.playing or clip is None:
            return
        made = self._timed(clip)
        rate = self.session.document.rate * (0.5 if self.half.isChecked() else 1.0)
        before = self.playhead
        after = before + int(elapsed * rate * TICK)
        if not made.repeats and after > made.length + TICK * 30:
            after = 0
        if self.clicks.on:
            head = made.folded(before)
            passed = [mark.name for mark in clip.marks if made.passed(units(mark.at), head, after - before)]
            self.clicks.sound(self.session.document, passed)
        self._show(after)
        marks = [made.until(units(mark.at), made.folded(after)) for mark in clip.marks] if self.clicks.on else []
        coming = [made.until_next(after), *(one for one in marks if one > 0)]
        self._timer.start(min(RESTS, math.ceil(1000 * min(coming) / TICK / rate)))

    def _show(self, playhead: int) -> None:
        self.playhead = playhead
        clip = self.clip
        if clip is not None:
            self._see_cel(self._timed(clip).cel_at(playhead))
            self.film.show_time(playhead)
            for lane in self.lanes:
                lane.show_playhead(self.film.playhead)

    def _timed(self, clip: Clip) -> Timing:
        """When a clip shows which cel, worked out once."""
        if self._laid is None or self._laid[0] is not clip:
            self._laid = clip, timing(clip)
        return self._laid[1]

    def _see_cel(self, cel: int | None) -> None:
        """Show a cel in the large picture, and the chosen box or pin point as it lies on it."""
        if cel != self.large.cel:
            self.large.cel = cel
            self.large.update()
            for tool in self.tools:
                if tool.on.isChecked():
                    tool.show(self.clip)

    def edit_clip(self, said: str, merge: str = "", **values: Any) -> bool:
        """Take a step to a clip with these other values; what cannot be is said, and nothing is changed."""
        clip, at = self.clip, self.index
        assert clip is not None
        made = replace(clip, **values)
        try:
            check(made, clip.name, self.session.document)
        except LeanStepError as error:
            self.session.said.emit(f"Not changed: {error.reason}. {error.way_out}")
            self.refresh()
            return False
        self.session.edit(f"{said} ({clip.name})", lambda document: put(document, ("clips", at), made), merge)
        return True
