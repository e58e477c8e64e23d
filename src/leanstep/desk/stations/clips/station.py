"""The Clips station."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.character.clips import Cel, Clip, Playback
from leanstep.core.character.edits import free_name
from leanstep.core.clips.timing import TICK, seconds, timing
from leanstep.core.sheets.boxes import Box, usual
from leanstep.core.wording import counted
from leanstep.desk.context import Context
from leanstep.desk.stations.clips.action_box_edits import ActionBoxEdits
from leanstep.desk.stations.clips.alternate_row import AlternateRow
from leanstep.desk.stations.clips.box_row import BoxRow
from leanstep.desk.stations.clips.cel_edits import CelEdits
from leanstep.desk.stations.clips.cel_row import CelRow
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.clip_settings import ClipSettings
from leanstep.desk.stations.clips.event_choice import Events
from leanstep.desk.stations.clips.event_edits import EventEdits
from leanstep.desk.stations.clips.event_row import EventRow
from leanstep.desk.stations.clips.family_row import FamilyRow
from leanstep.desk.stations.clips.motion_edits import MotionEdits
from leanstep.desk.stations.clips.part_edits import PartEdits
from leanstep.desk.stations.clips.phase_edits import PhaseEdits
from leanstep.desk.stations.clips.pin_edits import PinEdits
from leanstep.desk.stations.clips.playback_row import PlaybackRow
from leanstep.desk.widgets.basics import button, command, label
from leanstep.desk.widgets.empty_place import EmptyPlace, film_drawing
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, MenuEntry

ROOM = 112
"""Pixels the rows of events take at most in a low window."""


class ClipsStation(ClipPlayer):
    """Clips on the left, the large frame in the middle, the film below."""

    field, what, kind = "clips", "clip", "clip"

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session = desk.session
        self.list.setAccessibleName("Clips")
        self.sentence = label("", wrap=True)
        self.large.chose.connect(self._cel_clicked)
        self.cels = CelEdits(self)
        self.film.chose.connect(self._cel_chosen)
        self.film.stretched.connect(self.cels.stretch)
        self.film.longer.connect(self.cels.longer)
        self.film.moved.connect(self.cels.move)
        self.film.removed.connect(self.cels.remove)
        self.film_menu = ContextMenu(self.film, self.cels.menu_entries)
        self.onion = QCheckBox("onion")
        self.onion.setToolTip("Show the neighbouring cels faintly")
        self.onion.toggled.connect(self._show_onion)
        self.contact = QCheckBox("all cels")
        self.contact.setToolTip("Show every cel beside the others, as a contact sheet; a click chooses one")
        self.contact.toggled.connect(self._show_contact)
        self.audible = QCheckBox("clicks")
        self.audible.setEnabled(desk.clicks.player is not None)
        self.audible.setToolTip(
            "Let marks be heard as they fire, here and while you steer; each name has its own pitch"
            if desk.clicks.player is not None
            else "There is no program here to play sounds: install pw-play, paplay or aplay (package alsa-utils)"
        )
        self.audible.toggled.connect(self._let_click)
        self.cel_row = CelRow(self.cels)
        self.settings = ClipSettings(self, self.cels)
        self.events = Events()
        self.film.widened.connect(self.events.stand_below)
        self.event_row = EventRow()
        self.event_edits = EventEdits(self, self.events, self.event_row)
        self._connect_events()
        self.motion = MotionEdits(self)
        self.box = BoxRow(self._usual_box)
        self.box.meant.connect(self._set_box)
        self.alternate = AlternateRow(session)
        self.playback = PlaybackRow()
        self.playback.meant.connect(self._set_playback)
        self.live = desk.live
        self.family = FamilyRow(self)
        self.phases = PhaseEdits(self)
        self.boxes = ActionBoxEdits(self, self.large)
        self.pins = PinEdits(self, self.large)
        self.parts = PartEdits(self, self.large)
        self.tools = (self.boxes, self.pins, self.parts)
        self.lanes = (self.events, self.motion.lane, self.phases.band)
        self.phases.all.toggled.connect(self._show_actions)
        self.phases.table.wanted.connect(self._open_action)
        self.film.widened.connect(self.phases.band.stand_below)
        self._lay_out()
        session.wanted.connect(self._wanted)
        self.follow()

    def _connect_events(self) -> None:
        events, edits, row = self.events, self.event_edits, self.event_row
        events.chose.connect(edits.show)
        events.made.connect(edits.make)
        events.moved.connect(edits.move)
        events.removal.connect(edits.remove)
        events.copied.connect(edits.copy)
        events.pasted.connect(edits.paste)
        self.events_menu = ContextMenu(events, edits.menu_entries)
        row.changed.connect(edits.change)
        row.renamed.connect(edits.rename)
        row.name.refused.connect(self.session.said)
        row.removal.connect(edits.remove)
        row.listed.connect(edits.list_all)

    def _lay_out(self) -> None:
        maker = button(
            "New clip",
            "Make an empty clip and type its name; or choose frames in Sheets and make one of them",
            self.new,
        )
        head = QHBoxLayout()
        head.addWidget(self.name)
        head.addWidget(self.sentence, 1)
        head.addWidget(self.alternate.choice)
        head.addWidget(self.motion.feet.maker)
        head.addWidget(self.phases.all)
        bar = QHBoxLayout()
        bar.setSpacing(4)
        bar.addWidget(self.play_button)
        bar.addWidget(button("‹", "One tick back", lambda: self.step(-1)))
        bar.addWidget(button("›", "One tick on", lambda: self.step(1)))
        for widget in (self.half, self.onion, self.contact, self.audible, *(tool.on for tool in self.tools)):
            bar.addSpacing(5)
            bar.addWidget(widget)
        bar.addStretch(1)
        bar.addWidget(self.settings.loop)
        bar.addWidget(self.settings.back)
        self.more_row = QWidget()
        middle = QVBoxLayout()
        middle.addLayout(head)
        self.place = QStackedWidget()
        self.place.addWidget(self.large)
        self.place.addWidget(self.phases.table)
        middle.addWidget(self.place, 1)
        more = QHBoxLayout(self.more_row)
        more.setContentsMargins(0, 0, 0, 0)
        more.setSpacing(8)
        more.addWidget(self.box.choice)
        more.addWidget(self.playback.choice)
        more.addWidget(self.motion.travel.choice)
        more.addWidget(self.settings.facing)
        more.addStretch(1)
        more.addWidget(self.family.make)
        more.addWidget(self.settings.frequency)
        more.addWidget(self.settings.all_ticks)
        middle.addWidget(self.more_row)
        middle.addWidget(self.box)
        middle.addWidget(self.playback)
        middle.addWidget(self.alternate)
        middle.addLayout(bar)
        middle.addWidget(self.family)
        middle.addWidget(self.phases.sentence)
        middle.addWidget(self.film)
        middle.addWidget(self.phases.band)
        middle.addWidget(self.phases.row)
        for tool in self.tools:
            middle.addWidget(tool.rows)
        self.motion_rows = QWidget()
        motion = QVBoxLayout(self.motion_rows)
        motion.setContentsMargins(0, 0, 0, 0)
        for part in (self.motion.lane, self.motion.travel, self.motion.feet):
            motion.addWidget(part)
        middle.addWidget(self.motion_rows)
        rows = QScrollArea()
        rows.setWidgetResizable(True)
        rows.setWidget(self.events)
        rows.setMinimumHeight(26)
        rows.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows = rows
        middle.addWidget(rows)
        middle.addWidget(self.event_row)
        middle.addWidget(self.cel_row)
        empty = EmptyPlace(
            film_drawing,
            "Clips stand here: frames in time, with what happens at which moment. Choose frames in Sheets and make a clip of "
            "them, or begin with an empty one.",
            "Make the first clip",
            "Make a clip and give it cels here",
            self.new,
        )
        self.beside_list(self.list_column(maker), middle, empty)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [
            *super().commands(),
            command(self, "Make a new clip", "", self.new),
            command(self, "Play or pause the clip", "", self.toggle),
            command(self, "All events, and where they fire", "", self.event_edits.list_all),
            command(self, "Reverse the cels of the clip", "", self.cels.reverse),
        ]

    # --- what is shown

    def chosen_anew(self) -> None:
        self.playhead = 0
        self.film.start_over()

    def show_part(self, part: Clip | None) -> None:
        self.film.show_clip(part)
        self.events.show_clip(part, self.film.first, self.film.last)
        self.motion.show(part)
        self.phases.show(part)
        if self.phases.all.isChecked():
            self.phases.table.fill(self.session.machine)
        self.family.show_clip(part)
        self.rows.setFixedHeight(
            min(max(ROOM, self.height() - (620 if self.phases.band.stretches else 550)), self.events.height() + 2)
        )
        self.event_edits.show()
        self.large.show_clip(part)
        for tool in self.tools:
            tool.show(part)
        self.show_rows()
        if part is not None:
            self.settings.show_clip(part)
            self.box.show_box(part.box)
            self.alternate.show_clip(part)
            self.playback.show_clip(self.session.document, part)
        self._sentence()
        self._cel_chosen(self.film.chosen)

    def show_rows(self) -> None:
        """Show the row of boxes, of pin points or of parts and a large picture, or in their place the other rows: there is no room for
        both."""
        boxed, with_pins, parted = (tool.on.isChecked() and self.clip is not None for tool in self.tools)
        for tool, there in zip(self.tools, (boxed, with_pins, parted), strict=True):
            tool.rows.setVisible(there)
        pinned = with_pins or parted
        self.motion_rows.setVisible(not pinned)
        self.alternate.setVisible(not boxed and not pinned and self.alternate.place is not None)
        self.phases.band.setVisible(not pinned)
        for part in (self.event_row, self.rows, self.cel_row, self.more_row):
            part.setVisible(not boxed and not pinned)
        self.phases.row.setVisible(not boxed and not pinned and bool(self.phases.band.stretches))

    def _sentence(self) -> None:
        clip, rate = self.clip, self.session.document.rate
        if clip is None:
            self.sentence.setText("No clips yet. Choose frames in Sheets and make one of them.")
            return
        users = [
            state.name for layer in self.session.document.layers for state in layer.states if state.clip == clip.name
        ]
        users += [
            f"blend space {blend.name}"
            for blend in self.session.document.blends
            if any(sample.clip == clip.name for sample in blend.samples)
        ]
        users += [
            f"{one.name} instead of {part.clip}"
            for one in self.session.document.alternates
            for part in one.clips
            if part.by == clip.name
        ]
        length = timing(clip).length / TICK
        self.sentence.setText(
            f"{counted(len(clip.cels), 'cel')}, {length:g} ticks: {seconds(clip, rate):.2f} s on screen at {rate:g} ticks a "
            f"second. {'Shown by ' + ', '.join(users) if users else 'Nothing shows it yet'}."
        )

    def _cel_chosen(self, at: int) -> None:
        there = self.cel_row.show_cel(self.session.document.sheets, self.clip, at, len(self.film.all))
        if not self.playing and there:
            self._see_cel(at)

    def _show_onion(self, on: bool) -> None:
        self.large.onion = on
        self.large.update()

    def _show_actions(self, on: bool) -> None:
        self.place.setCurrentIndex(int(on))
        if on:
            self.phases.table.fill(self.session.machine)

    def _open_action(self, name: str) -> None:
        self.phases.all.setChecked(False)
        self.choose(name)

    def _show_contact(self, on: bool) -> None:
        self.large.contact = on
        self.large.update()

    def _cel_clicked(self, at: int) -> None:
        """A cel of the contact sheet: time goes there and stands."""
        self.go_to_cel(at)

    def _let_click(self, on: bool) -> None:
        self.clicks.on = on

    # --- edits

    def new(self) -> None:
        """Make an empty clip on the first sheet."""
        sheets = self.session.document.sheets
        name = free_name("clip", self.names)
        sheet = self.clip.sheet if self.clip else sheets[0].name if sheets else ""
        self.make(f"made {name}", Clip(name=name, sheet=sheet, cels=(Cel(frame=0),) if sheet else ()))
        self.ask_name()

    def _usual_box(self) -> Box | None:
        """One box for the clip: where those of its frames, or else their drawings, usually are."""
        clip = self.clip
        found = self.session.art.boxes_of(clip) if clip is not None else []
        if not found:
            self.session.said.emit("Nothing is drawn in this clip yet.")
        return usual(found) if found else None

    def _set_box(self, box: tuple[float, ...]) -> None:
        if self.clip is not None and box != self.clip.box:
            said = "changed the body box of" if box else "took the body boxes of the frames for"
            self.set_all(said, "box", box=box)

    def look_again(self) -> None:
        """How fast the clip plays at the value its parameter has in the mirror."""
        clip = self.clip
        if clip is None or clip.playback is None:
            return
        parameter = clip.playback.parameter
        at = self.live.machine.index.get(parameter)
        value = self.live.situation.values[at] if at is not None else 0.0
        if not isinstance(value, str):
            self.playback.show_now(self.session.document, clip, float(value))

    def _set_playback(self, playback: Playback | None) -> None:
        if self.clip is None:
            return
        if playback is not None and playback.min > playback.max:
            self.session.said.emit("The slowest may not be above the fastest; nothing was changed.")
            self.playback.show_clip(self.session.document, self.clip)
            return
        said = f"let {playback.parameter} set the speed of" if playback is not None else "took the speed as written for"
        self.set_all(said, "playback", playback=playback)

    def _wanted(self, kind: str) -> None:
        """Show the accessory or the way of moving that is chosen, if one is wanted."""
        thing = self.session.selection.thing(kind) if kind in ("accessory", "alternate") else None
        if thing is not None:
            self.point_at({kind: thing.name})

    def _point_at_stand_in(self, name: str, clip: str | None) -> None:
        """Choose a clip of a way of moving: the one for a clip, or the first."""
        one = next((one for one in self.session.document.alternates if one.name == name), None)
        shown = [part.by for part in one.clips if clip in (None, "", part.clip)] if one is not None else []
        if shown and shown[0] in self.names:
            self.choose(shown[0])

    def point_at(self, details: Mapping[str, Any]) -> None:
        if details.get("alternate"):
            self._point_at_stand_in(details["alternate"], details.get("clip"))
        if details.get("part"):
            self.parts.point_at(details["part"])
        if details.get("accessory"):
            self.pins.point_at_accessory(details["accessory"])
        elif details.get("pin"):
            self.pins.point_at(details["pin"], details.get("cel"))
        if details.get("clip") == self.current and details.get("new"):
            self.ask_name()
        if details.get("clip") == self.current and details.get("cels"):
            if self.playing:
                self.toggle()
            self.film.choose(int(details["cels"][0]))

    # --- menus

    def menu_entries(self) -> MenuEntries:
        offered = self.family.offered(self.clip)
        make = [MenuEntry(f"Make {offered[0]} a family", self.family.make.click)] if offered is not None else []
        more = [MenuEntry("Reverse its cels", self.cels.reverse), *make, MenuEntry("New clip", self.new)]
        return [*super().menu_entries(), None, *more]
