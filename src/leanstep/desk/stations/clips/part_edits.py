"""Edits of how the parts of a cut-out move."""

from __future__ import annotations

from dataclasses import replace

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from leanstep.core.character.clips import Clip
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, ReachKey
from leanstep.core.character.instants import Easing
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.validation import check
from leanstep.core.cut_outs import edits
from leanstep.core.cut_outs.loading import Figure, written
from leanstep.core.cut_outs.poses import target_of
from leanstep.core.cut_outs.starters import STARTERS
from leanstep.core.errors import LeanStepError
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.part_lane import PartLane
from leanstep.desk.stations.clips.part_row import PartRow
from leanstep.desk.stations.clips.parted_preview import PartedPreview
from leanstep.desk.stations.clips.picture_tool import PictureTool
from leanstep.desk.widgets.number_dialog import ask_number

LOW = 96
"""Pixels that the rows of parts take at most."""


class PartEdits(PictureTool):
    """The picture on which parts are moved, their rows of keys and numbers, and their switch; changes the sheet that the station's
    clip shows."""

    def __init__(self, station: ClipPlayer, large: PartedPreview) -> None:
        self.large, self.row, self.lane, self.area = large, PartRow(), PartLane(), QScrollArea()
        self.area.setWidget(self.lane)
        self.area.setWidgetResizable(True)
        self.area.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        rows = QWidget()
        column = QVBoxLayout(rows)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.area)
        column.addWidget(self.row)
        tip = "Move the parts of the figure: drag them on the picture, and keys stand below the film"
        super().__init__(station, "parts", tip, rows, large.edit_parts)
        large.part_picked.connect(self.choose)
        large.part_turned.connect(lambda by: self._by(turn=by))
        large.part_moved.connect(lambda x, y: self._by(x=x, y=y))
        large.part_aimed.connect(self._aim_by)
        large.part_dropped.connect(self.session.end_merge)
        large.part_off.connect(self._off)
        lane = self.lane
        lane.chose.connect(self._chosen_in_lane)
        lane.moved.connect(self._retime)
        lane.dropped.connect(self.session.end_merge)
        lane.wanted.connect(self._wanted)
        lane.removal.connect(self._off)
        row = self.row
        row.picked.connect(self.choose)
        row.keyed.connect(self._key)
        row.retimed.connect(lambda tick: self._retime(self.chosen, self.row.at, tick))
        row.unkeyed.connect(self._off)
        row.halved.connect(self._other_half)
        row.started.connect(self._start)
        row.reached.connect(self._reach)
        row.bent.connect(self._bend)
        row.tipped.connect(self._tip)
        row.timed.connect(lambda ticks, every: self._whole("gave another length to", ticks=ticks, every=every))
        row.looped.connect(lambda on: self._whole("let it repeat" if on else "let it end in", repeats=on))

    # --- what is there

    @property
    def chosen(self) -> str:
        """The part that is chosen; empty: none."""
        return self.large.part_chosen

    def sheet_of(self, clip: Clip | None) -> Sheet | None:
        """The sheet drawn from parts that a clip shows."""
        names = {clip.sheet, *(cel.sheet for cel in clip.cels)} if clip is not None else set()
        found = (one for one in self.session.document.sheets if one.name in names and one.cut_out is not None)
        return next(found, None)

    @property
    def _there(self) -> tuple[Sheet, CutOut, list[CutOutPart]] | None:
        """The sheet that is drawn, how, and the parts it is drawn from; None where it is none that has keys of its own."""
        sheet = self.sheet_of(self.station.clip)
        if sheet is None or sheet.cut_out is None or sheet.cut_out.like:
            return None
        rig = next((one for one in self.session.document.sheets if one.name == sheet.cut_out.of), None)
        return sheet, sheet.cut_out, list(rig.parts) if rig is not None else []

    def _figure(self, sheet: Sheet) -> Figure | None:
        """The parts a sheet is drawn from, with their pictures; None where they cannot be put together."""
        try:
            cut_out = written(sheet, self.session.document.sheets)
        except LeanStepError:
            return None
        return self.session.art.figure(cut_out)

    # --- what is shown

    def show(self, clip: Clip | None) -> None:
        """Show the keys of the clip's parts; the chosen part stays chosen while it is there."""
        sheet = self.sheet_of(clip)
        self.on.setVisible(sheet is not None)
        if sheet is None and self.on.isChecked():
            self.on.setChecked(False)
        self.large.of_parts = None
        if sheet is None or not self.on.isChecked():
            return
        there = self._there
        for part in (self.area, self.row):
            part.setVisible(there is not None)
        if there is None:
            return
        _, cut_out, parts = there
        found = self._figure(sheet)
        self.large.of_parts = (found, cut_out) if found is not None else None
        if self.chosen not in [part.name for part in parts]:
            self.large.part_chosen = ""
        at = self.large.moment
        self.row.show_part(cut_out, parts, self.chosen, at)
        self.lane.show_keys(cut_out, [part.name for part in parts], self.chosen, -1.0 if at is None else at)
        row = self.lane.row_of(self.chosen)
        if row is not None:
            self.area.ensureVisible(0, int(row), 0, 14)
        self.area.setFixedHeight(min(LOW, self.lane.height() + 2))
        self.lane.show_playhead(-1.0 if at is None else at)
        self.large.update()

    def choose(self, name: str) -> None:
        """Choose a part (empty: none)."""
        self.large.part_chosen = name
        self.show(self.station.clip)

    def point_at(self, name: str) -> None:
        """Take a part in hand."""
        self.on.setChecked(True)
        self.choose(name)

    def _chosen_in_lane(self, name: str, at: float) -> None:
        self.large.part_chosen = name
        clip, there = self.station.clip, self._there
        if at >= 0 and clip is not None and there is not None:
            frame = int(at // there[1].every)
            cels = [number for number, cel in enumerate(clip.cels) if cel.frame <= frame]
            if cels:
                self.station.go_to_cel(cels[-1])
        self.show(clip)

    # --- edits

    def _put(self, cut_out: CutOut, said: str, merge: str = "") -> None:
        """Draw the sheet otherwise; what cannot be is said, and nothing is changed."""
        sheet = self.sheet_of(self.station.clip)
        if sheet is None:
            return
        at = self.session.document.sheets.index(sheet)
        try:
            check(cut_out, sheet.name, self.session.document)
        except LeanStepError as error:
            self.session.said.emit(f"Not changed: {error.reason}. {error.way_out}")
            self.show(self.station.clip)
            return
        self.session.edit(f"{said} ({sheet.name})", lambda document: edits.with_cut_out(document, at, cut_out), merge)

    def _at(self) -> tuple[CutOut, float] | None:
        """How the sheet is drawn, and the tick of the cel that is shown, where a part is chosen."""
        there, at = self._there, self.large.moment
        if there is None or at is None or not self.chosen:
            return None
        return there[1], at

    def _by(self, x: float = 0.0, y: float = 0.0, turn: float = 0.0) -> None:
        """The chosen part is moved or turned by so much more here."""
        now = self._at()
        if now is not None:
            cut_out, at = now
            pose = edits.pose_of(cut_out, self.chosen, at)
            made = replace(pose, x=round(pose.x + x, 2), y=round(pose.y + y, 2), turn=round(pose.turn + turn, 2))
            name = self.chosen
            self._put(edits.posed(cut_out, name, at, made), f"moved {name}", f"part {name} {at:g}")

    def _aim_by(self, x: float, y: float) -> None:
        """The chosen part reaches for a place that far from where it does here."""
        now = self._at()
        reach = edits.reach_of(now[0], self.chosen) if now is not None else None
        if now is None or reach is None:
            return
        cut_out, at = now
        before = target_of(cut_out, reach, at)
        ease: Easing = next((key.ease for key in reach.keys if key.at == at), "both")
        self._key(ReachKey(at=at, x=round(before[0] + x, 2), y=round(before[1] + y, 2), ease=ease))

    def _key(self, key: PartKey | ReachKey) -> None:
        now, name = self._at(), self.chosen
        if now is None:
            return
        if isinstance(key, ReachKey):
            made, said = edits.target_at(now[0], name, key), f"let {name} reach elsewhere"
        else:
            made, said = edits.with_key(now[0], name, key), f"moved {name}"
        self._put(made, said, f"part {name} {key.at:g}")

    def _wanted(self, name: str, tick: float) -> None:
        """A key of a part where it is at a tick."""
        there = self._there
        if there is not None:
            self.large.part_chosen = name
            cut_out = there[1]
            made = edits.posed(cut_out, name, tick, edits.pose_of(cut_out, name, tick))
            self._put(made, f"set a key of {name}")

    def _retime(self, name: str, old: float, new: float) -> None:
        there = self._there
        if there is None or old == new:
            return
        made = edits.retimed(there[1], name, old, new)
        self._put(made, f"moved a key of {name} to tick {new:g}", f"key {name}")

    def _off(self) -> None:
        now, name = self._at(), self.chosen
        if now is None:
            return
        cut_out, at = now
        made = edits.without_key(cut_out, name, at)
        if made == cut_out:
            self.session.said.emit(f"Part {name} has no key at tick {at:g}.")
        else:
            self._put(made, f"took the key of {name} away")

    def _other_half(self) -> None:
        there, name = self._there, self.chosen
        other = edits.partner(name, there[2]) if there is not None else ""
        if there is not None and other:
            made = edits.other_half(there[1], name, other, self._apart(name, other))
            self._put(made, f"let {other} do what {name} does, half the length later")

    def _apart(self, name: str, other: str) -> bool:
        """Whether two parts hang on both sides of what they hang on, as arms do that are seen from the front."""
        if self.large.of_parts is None or not edits.seen_from_ahead(name, other):
            return False
        bones = self.large.of_parts[0].bones
        one, two = (bones.places[bones.number(each)][0] for each in (name, other))
        return one * two < 0

    def _start(self, number: int) -> None:
        now, name, starter = self._at(), self.chosen, STARTERS[number]
        if now is None:
            return
        values = []
        for one in starter.numbers:
            value = ask_number(self.station, starter.name, one.says, one.start, one.low, one.high, one.unit)
            if value is None:
                return
            values.append(value)
        self._put(starter.done(now[0], name, *values), f"let {name} {starter.name.lower()}")

    def _reach(self, on: bool) -> None:
        now, name = self._at(), self.chosen
        if now is None or self.large.of_parts is None:
            return
        cut_out = now[0]
        if not on:
            self._put(edits.with_reach(cut_out, name, None), f"let {name} reach for nothing")
            return
        bones, pictures = self.large.of_parts[0].bones, self.large.of_parts[0].pictures
        at = bones.number(name)
        tip = edits.far_end(bones, pictures, at)
        self._put(edits.reaching_for(bones, cut_out, name, tip, now[1]), f"let {name} reach for where it is")

    def _whole(self, said: str, **values: object) -> None:
        there = self._there
        if there is not None:
            self._put(msgspec.structs.replace(there[1], **values), said)

    def _bend(self, side: str) -> None:
        self._change_reach(f"bent the chain of {self.chosen} to the {side}", bend=side)

    def _tip(self, x: float, y: float) -> None:
        self._change_reach(f"moved the tip of {self.chosen}", tip=(x, y))

    def _change_reach(self, said: str, **values: object) -> None:
        now = self._at()
        reach = edits.reach_of(now[0], self.chosen) if now is not None else None
        if now is not None and reach is not None:
            self._put(edits.with_reach(now[0], self.chosen, msgspec.structs.replace(reach, **values)), said)
