"""Edits of a clip's phases and of what it does to whom it hits."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QPushButton

from leanstep.core.character.clips import Clip, Phase, Strike
from leanstep.core.clips.phases import apart, with_active, with_phase
from leanstep.core.clips.timing import TICK
from leanstep.core.rehearsal.actions import action_of, sentence
from leanstep.desk.stations.clips.action_table import ActionTable
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.phase_band import PhaseBand
from leanstep.desk.stations.clips.phase_row import PhaseRow
from leanstep.desk.widgets.basics import label


class PhaseEdits:
    """The sentence above the film, the band below it, the row of numbers, and the table of all actions; changes the station's clip as
    the person means it."""

    def __init__(self, station: ClipPlayer) -> None:
        self.station, self.session = station, station.session
        self.sentence = label("", wrap=True)
        self.sentence.setAccessibleName("How the action is timed")
        self.band, self.row, self.table = PhaseBand(), PhaseRow(), ActionTable(station.session)
        self.all = QPushButton("Actions")
        self.all.setCheckable(True)
        self.all.setToolTip("Every action of the character beside the others, in place of the picture")
        self.band.chose.connect(self._show_row)
        self.band.made.connect(self.make)
        self.band.moved.connect(self._move)
        self.band.dropped.connect(self.session.end_merge)
        self.band.removal.connect(self.remove)
        self.row.changed.connect(self._change)
        self.row.struck.connect(self._strike)
        self.row.removal.connect(self.remove)

    def show(self, clip: Clip | None) -> None:
        """Show a clip's phases, and how it is timed."""
        film = self.station.film
        self.band.show_clip(clip, film.first, film.last)
        action = action_of(self.session.machine, clip) if clip is not None and clip.phases else None
        self.sentence.setVisible(clip is not None and bool(self.band.stretches))
        if action is not None:
            words = sentence(action)
            written = ", at the speed it is written with" if action.clip.playback is not None else ""
            self.sentence.setText(f"{words[0].upper()}{words[1:]}{written}.")
        else:
            self.sentence.setText("It cannot hit: no tick of it meets an active phase. Draw one, or make it longer.")
        self._show_row()

    def _show_row(self) -> None:
        clip, one = self.station.clip, self.band.stretch
        if clip is not None:
            self.row.show_clip(clip, one, first=one is not None and one.start == 0)

    def _edit(self, said: str, merge: str = "", **values: Any) -> None:
        self.station.edit_clip(said, merge, **values)

    def make(self, start: float, end: float) -> None:
        """An active phase from tick to tick, in place of what lies there."""
        clip = self.station.clip
        if clip is None:
            return
        made = with_active(clip, start, end)
        self._edit(f"let it hit from tick {start:g} to {end:g}", phases=made.phases)
        self._choose(Phase(start=start, end=end))

    def _choose(self, one: Phase) -> None:
        """Choose a phase that has been written."""
        starts = [at for at, part in enumerate(self.band.stretches) if part.written >= 0]
        self.band.choose(min(starts, key=lambda at: abs(self.band.stretches[at].start / TICK - one.start), default=-1))

    def _move(self, at: int, start: float, end: float) -> None:
        clip = self.station.clip
        if clip is None:
            return
        moved = with_phase(clip, at, start, end)
        if moved != clip:
            self._edit(f"moved the phase {clip.phases[at].kind}", f"phase {clip.name} {at}", phases=moved.phases)

    def _change(self, values: dict[str, Any]) -> None:
        clip, one = self.station.clip, self.band.stretch
        if clip is None or one is None:
            return
        if one.written < 0:
            # what nobody has written is written now
            made = Phase(**{"kind": one.kind, "start": one.start / TICK, "end": one.end / TICK} | values)
            self._edit(f"called it {made.kind}", phases=tuple(apart((*clip.phases, made))))
            return
        old = clip.phases[one.written]
        made = replace(old, **values)
        phases = tuple(made if at == one.written else other for at, other in enumerate(clip.phases))
        said = ", ".join(values)
        self._edit(f"changed the {said} of the phase {made.kind}", f"phase {clip.name} {said}", phases=phases)
        self._show_row()

    def _strike(self, strike: Strike | None) -> None:
        self._edit("changed for how long it stuns", f"strike {self.station.current}", strike=strike)

    def remove(self) -> None:
        """Take the chosen phase out."""
        clip, one = self.station.clip, self.band.stretch
        if clip is None or one is None or one.written < 0:
            self.session.said.emit("Choose a phase first: what lies before and after the active ones goes with them.")
            return
        phases = tuple(other for at, other in enumerate(clip.phases) if at != one.written)
        self._edit(f"took the phase {one.kind} out", phases=phases)
