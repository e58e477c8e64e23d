"""Edits of what a clip travels and of where its feet stand."""

from __future__ import annotations

from msgspec.structs import replace

from leanstep.core.character.clips import Clip, Contact, Playback, Travel
from leanstep.core.clips.strides import SPEED
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.path_lane import PathLane
from leanstep.desk.stations.clips.travel_rows import FeetRow, TravelRow


class MotionEdits:
    """The lane of the path and the feet, and the rows below it; changes the station's clip as the person means it."""

    def __init__(self, station: ClipPlayer) -> None:
        self.station, self.session = station, station.session
        self.lane, self.travel, self.feet = PathLane(), TravelRow(), FeetRow()
        self.lane.chose.connect(lambda kind, number: self.show(station.clip))
        self.lane.moved.connect(self._move)
        self.lane.dropped.connect(self.session.end_merge)
        self.lane.wanted.connect(self.travel.add)
        self.lane.removal.connect(self._remove)
        self.travel.meant.connect(self._travel)
        self.travel.stepped.connect(lambda number: self._step("key", number))
        self.feet.meant.connect(self._contacts)
        self.feet.stepped.connect(lambda number: self._step("contact", number))
        self.feet.paced.connect(self._pace)

    def show(self, clip: Clip | None) -> None:
        """Show what a clip travels, and where its feet stand."""
        film = self.station.film
        self.lane.show_clip(clip, film.first, film.last)
        self.travel.choice.setEnabled(clip is not None)
        self.feet.maker.setEnabled(clip is not None)
        if clip is None:
            self.travel.hide()
            self.feet.hide()
            return
        kind, number = self.lane.chosen
        document = self.session.document
        self.travel.show_clip(document, clip, number if kind == "key" else self.travel.key)
        self.feet.show_clip(document, clip, number if kind == "contact" else self.feet.number)
        # one of the two rows at a time: there is no room for both
        self.travel.setVisible(kind == "key" and clip.travel is not None)
        self.feet.setVisible(kind == "contact" and bool(clip.contacts))
        if kind == "key" and clip.travel is not None and self.travel.key != number:
            self.lane.chosen = "key", self.travel.key

    def _travel(self, travel: Travel | None, said: str) -> None:
        self.lane.chosen = "key", self.travel.key
        merge = f"path {self.station.current} {self.travel.key}" if said.startswith("moved") else ""
        self.station.edit_clip(said, merge, travel=travel)

    def _contacts(self, contacts: tuple[Contact, ...], said: str) -> None:
        self.lane.chosen = "contact", min(self.feet.number, max(0, len(contacts) - 1))
        merge = f"feet {self.station.current} {self.feet.number}" if said.startswith("moved") else ""
        self.station.edit_clip(said, merge, contacts=contacts)

    def _move(self, kind: str, number: int, start: float, end: float) -> None:
        if kind == "key":
            self.travel.set_key(number, at=start)
        else:
            self.feet.set_contact(number, start=start, end=end)

    def _step(self, kind: str, number: int) -> None:
        clip = self.station.clip
        if clip is not None:
            count = len(clip.contacts) if kind == "contact" else len(clip.travel.keys) if clip.travel else 0
            if 0 <= number < count:
                self.lane.choose(kind, number)

    def _remove(self) -> None:
        (self.travel if self.lane.chosen[0] == "key" else self.feet).remove()

    def _pace(self, natural: float) -> None:
        clip = self.station.clip
        if clip is None:
            return
        if not any(one.name == SPEED for one in self.session.document.parameters):
            self.session.said.emit("No parameter is called speed: add it among the parameters, owned by the body.")
            return
        before = (
            clip.playback
            if clip.playback is not None and clip.playback.parameter == SPEED
            else Playback(parameter=SPEED)
        )
        self.station.edit_clip(
            f"let the feet walk as fast as the body, {natural:g} units/s as written",
            playback=replace(before, at=natural),
        )
