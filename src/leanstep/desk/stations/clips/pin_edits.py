"""Edits of the pin points of a clip, and of what is pinned to them."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from leanstep.core.character import pin_edits
from leanstep.core.character.clips import Clip
from leanstep.core.character.pin_edits import Spot, spot_at
from leanstep.core.naming.references import Thing, things
from leanstep.core.sheets.following import SURE
from leanstep.core.sheets.pin_guesses import Guess, guesses
from leanstep.desk.art import Loaded
from leanstep.desk.stations.clips.accessory_row import AccessoryRow
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.picture_tool import PictureTool
from leanstep.desk.stations.clips.pin_row import PinRow
from leanstep.desk.stations.clips.pinned_preview import PinnedPreview

HIGH = 0.6
"""How high a pin point is that is made without a place, as a share of the figure's height."""


class PinEdits(PictureTool):
    """The picture on which pin points lie, the rows of their numbers, and their switch; changes the station's clip as the person means
    it."""

    def __init__(self, station: ClipPlayer, large: PinnedPreview) -> None:
        self.large, self.row, self.accessory = large, PinRow(), AccessoryRow(station.session)
        rows = QWidget()
        column = QVBoxLayout(rows)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.row)
        column.addWidget(self.accessory)
        tip = "Put named spots on the picture, such as a hand, and pin pictures to them"
        super().__init__(station, "pins", tip, rows, large.edit_pins)
        self._offered: list[Guess] = []
        self._offered_for: tuple[Clip, int] | None = None
        large.pin_made.connect(self.make)
        large.pin_changed.connect(self._lie)
        large.pin_picked.connect(self.choose)
        large.pin_dropped.connect(self.session.end_merge)
        large.pin_off.connect(self._off)
        row = self.row
        row.renamed.connect(self._rename)
        row.name.refused.connect(self.session.said)
        row.moved.connect(self._moved)
        row.picked.connect(self.choose)
        row.copied.connect(self._as_before)
        row.evened.connect(self._even)
        row.followed.connect(self.follow)
        row.taken.connect(self.take)
        row.left.connect(self.leave)
        row.unkeyed.connect(self._off)
        row.removal.connect(self._remove)

    @property
    def chosen(self) -> tuple[Clip, int] | None:
        """The clip, and the place of its pin point that is chosen; None where none is."""
        clip, at = self.station.clip, self.large.pin_chosen
        return (clip, at) if clip is not None and 0 <= at < len(clip.pins) else None

    def show(self, clip: Clip | None) -> None:
        """Show the clip's pin points; the chosen one stays chosen while it is there, one alone is."""
        if clip is None or self.large.pin_chosen >= len(clip.pins):
            self.large.pin_chosen = -1
        if self._offered_for is not None and (clip, self.large.pin_chosen) != self._offered_for:
            self._forget()
        if clip is None:
            return
        if self.large.pin_chosen < 0 and len(clip.pins) == 1:
            self.large.pin_chosen = 0
        at = self.large.pin_chosen
        self.row.show_pin(clip, at, self.cel, self._offer(), self._fault)
        self.accessory.setVisible(at >= 0)
        self.accessory.show_pin(clip.pins[at].name if at >= 0 else "")

    def point_at(self, name: str, cel: int | None) -> None:
        """Take a pin point of the clip in hand, on a cel."""
        clip = self.station.clip
        names = [pin.name for pin in clip.pins] if clip is not None else []
        if name in names:
            self.on.setChecked(True)
            if cel is not None:
                self.station.go_to_cel(cel)
            self.choose(names.index(name))

    def point_at_accessory(self, name: str) -> None:
        """Take an accessory in hand, in a clip that has the pin point it is pinned to."""
        document = self.session.document
        one = next((one for one in document.accessories if one.name == name), None)
        clip = next((clip.name for clip in document.clips for pin in clip.pins if one and pin.name == one.pin), None)
        if one is not None and clip is not None:
            self.station.choose(clip)
            self.accessory.chosen = name
            self.point_at(one.pin, None)

    def _fault(self, old: str, name: str) -> str | None:
        """Why pin points cannot be called so; None when they can, or when it becomes one of that name."""
        known = Thing("pin", name) in things(self.session.document)
        return None if known else self.session.rename_fault(Thing("pin", old), name)

    def choose(self, at: int) -> None:
        """Choose a pin point (-1: none)."""
        self.large.pin_chosen = at
        self.show(self.station.clip)
        self.large.update()

    def _edit(self, said: str, made: Clip, merge: str = "") -> bool:
        done = self.station.edit_clip(said, merge, pins=made.pins, marks=made.marks)
        self.large.update()
        return done

    def make(self, spot: Spot | None) -> None:
        """A new pin point on this cel; without a place above the foot."""
        clip = self.station.clip
        if clip is None or not clip.cels:
            return
        if spot is None:
            spot = Spot(0.0, float(round(self.session.art.figure_height() * HIGH)))
        made = pin_edits.with_pin(clip, self.cel, spot)
        self.large.pin_chosen = len(clip.pins)
        self._edit(f"put the pin point {made.pins[-1].name} on", made)

    def _lie(self, at: int, spot: Spot) -> None:
        clip = self.station.clip
        if clip is not None and 0 <= at < len(clip.pins) and spot_at(clip.pins[at], self.cel) != spot:
            name = clip.pins[at].name
            merge = f"pin {clip.name} {name} {self.cel}"
            self._edit(f"moved the pin point {name}", pin_edits.keyed(clip, at, self.cel, spot), merge)

    def _moved(self, x: float, y: float, angle: float, behind: bool) -> None:
        self._lie(self.large.pin_chosen, Spot(x, y, angle, behind))

    def _rename(self, name: str) -> None:
        if self.chosen is None:
            return
        clip, at = self.chosen
        thing, place = Thing("pin", clip.pins[at].name), self.station.index
        if Thing("pin", name) in things(self.session.document):
            self.session.edit(
                f"made a pin point of {clip.name} a {name} like the others",
                lambda document: pin_edits.joined(document, place, at, name),
            )
        else:
            self.session.rename(thing, name)

    def _as_before(self) -> None:
        if self.chosen is not None:
            clip, at = self.chosen
            name = clip.pins[at].name
            self._edit(f"let the pin point {name} lie as before", pin_edits.as_before(clip, at, self.cel))

    def _cels(self) -> list[int]:
        """The chosen cels from first to last; of one, from it to the end."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is None or not clip.cels:
            return []
        if len(chosen) > 1:
            return list(range(chosen[0], chosen[-1] + 1))
        return list(range(self.cel, len(clip.cels)))

    def _even(self) -> None:
        cels = self._cels()
        if self.chosen is None or len(cels) < 2:
            self.session.said.emit("Choose two cels or more: it goes evenly from the first to the last.")
            return
        clip, at = self.chosen
        name = clip.pins[at].name
        made = pin_edits.even_between(clip, at, cels[0], cels[-1])
        self._edit(f"let the pin point {name} go evenly from cel {cels[0]} to {cels[-1]}", made)

    # --- following what is drawn

    def follow(self) -> None:
        """Look for what is drawn about the pin point on the cels that come after, and offer what is found."""
        cels = self._cels()
        if self.chosen is None or len(cels) < 2:
            self.session.said.emit("There is no cel after this one on which it could be followed.")
            return
        clip, at = self.chosen
        loaded = {name: self.session.art.sheet(name) for name in {clip.sheet_of(clip.cels[cel]) for cel in cels}}
        cut = {name: one.cut for name, one in loaded.items() if isinstance(one, Loaded)}
        found = self.session.beside.wait_for("Following …", lambda: guesses(clip, at, cels, cut))
        if not found or found[0].sure < SURE:
            self.session.said.emit(
                f"What is drawn about {clip.pins[at].name} was not found again; nothing was changed."
            )
            return
        self._offered, self._offered_for = found, (clip, at)
        self.large.guesses = {one.cel: one.spot for one in self._sure()}
        self.show(clip)
        self.large.update()

    def _sure(self) -> list[Guess]:
        """What was followed, up to where that was not sure any more."""
        end = next((at for at, one in enumerate(self._offered) if one.sure < SURE), len(self._offered))
        return self._offered[:end]

    def _offer(self) -> str:
        sure = self._sure()
        if not sure:
            return ""
        least = min(one.sure for one in sure)
        text = f"Followed from cel {sure[0].cel} to {sure[-1].cel}, at least {least:.0%} alike; shown faintly."
        lost = self._offered[len(sure) :]
        return f"{text} On cel {lost[0].cel} it was lost." if lost else text

    def take(self) -> None:
        """Let the pin point lie where it was followed."""
        if self._offered_for is None:
            return
        (clip, at), sure = self._offered_for, self._sure()
        self._forget()
        first = min(one.cel for one in sure) - 1
        spots = {first: spot_at(clip.pins[at], first)} | {one.cel: one.spot for one in sure}
        said = f"let the pin point {clip.pins[at].name} follow the drawing over {len(sure)} cels"
        self._edit(said, pin_edits.with_spots(clip, at, spots))

    def leave(self) -> None:
        """Forget what was followed."""
        self._forget()
        self.show(self.station.clip)

    def _forget(self) -> None:
        self._offered, self._offered_for, self.large.guesses = [], None, {}
        self.large.update()

    def _off(self) -> None:
        if self.chosen is None:
            return
        clip, at = self.chosen
        name = clip.pins[at].name
        if self.cel not in [key.cel for key in clip.pins[at].keys]:
            self.session.said.emit(f"The pin point {name} has no key on cel {self.cel}.")
            return
        self._edit(f"took the pin point {name} off cel {self.cel}", pin_edits.unkeyed(clip, at, self.cel))

    def _remove(self) -> None:
        if self.chosen is not None:
            clip, at = self.chosen
            self._edit(f"took the pin point {clip.pins[at].name} out", pin_edits.without(clip, at))
