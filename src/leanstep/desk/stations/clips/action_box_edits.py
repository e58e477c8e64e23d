"""Edits of the boxes of a clip that hit, can be hit, or guard."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from leanstep.core.character.action_boxes import Rect, keyed, over_range, rect_at, shortened, unkeyed, with_box, without
from leanstep.core.character.clips import Clip
from leanstep.core.sheets.boxes import usual
from leanstep.desk.stations.clips.action_box_row import ActionBoxRow
from leanstep.desk.stations.clips.boxed_preview import BoxedPreview
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.picture_tool import PictureTool

DEFAULT: Rect = (4.0, 8.0, 16.0, 16.0)
"""Where a new box lies when nothing is drawn."""


class ActionBoxEdits(PictureTool):
    """The picture on which boxes are drawn, the row of their numbers, and its switch; changes the station's clip as the person means
    it."""

    def __init__(self, station: ClipPlayer, large: BoxedPreview) -> None:
        self.large, self.row = large, ActionBoxRow()
        tip = "Draw on the picture what of the action hits, what of it can be hit, and how far a guard reaches"
        super().__init__(station, "boxes", tip, self.row, large.edit)
        large.drew.connect(self.make)
        large.changed.connect(self._move)
        large.picked.connect(self.choose)
        large.dropped.connect(self.session.end_merge)
        large.removal.connect(self._off)
        large.held.connect(station.stand)
        row = self.row
        row.meant.connect(self._set_kind)
        row.renamed.connect(lambda name: self._set(f"called a box {name}", name=name))
        row.name.refused.connect(self.session.said)
        row.moved.connect(lambda rect: self._move(self.large.box_chosen, rect))
        row.ranged.connect(self._range)
        row.copied.connect(self._same)
        row.picked.connect(self.choose)
        row.unkeyed.connect(self._off)
        row.removal.connect(self._remove)

    @property
    def chosen(self) -> tuple[Clip, int] | None:
        """The clip, and the place of its box that is chosen; None where none is."""
        clip, at = self.station.clip, self.large.box_chosen
        return (clip, at) if clip is not None and 0 <= at < len(clip.boxes) else None

    def show(self, clip: Clip | None) -> None:
        """Show the clip's boxes; the chosen one stays chosen while it is there."""
        if clip is None or self.large.box_chosen >= len(clip.boxes):
            self.large.box_chosen = -1
        if clip is not None:
            self.row.show_box(clip, self.large.box_chosen, self.cel)

    def choose(self, at: int) -> None:
        """Choose a box (-1: none); where it is not on the cel that is shown, time goes to its first one."""
        self.large.box_chosen = at
        clip = self.station.clip
        if clip is not None and 0 <= at < len(clip.boxes) and rect_at(clip.boxes[at], self.cel) is None:
            self.station.go_to_cel(clip.boxes[at].keys[0].cel)
        self.show(clip)
        self.large.update()

    def _edit(self, said: str, made: Clip, merge: str = "") -> None:
        if self.station.edit_clip(said, merge, boxes=made.boxes):
            self.large.update()

    def make(self, rect: Rect | None) -> None:
        """A new box on this cel, of the kind chosen; without a place where the figure usually is."""
        clip = self.station.clip
        if clip is None or not clip.cels:
            return
        if rect is None:
            found = self.session.art.boxes_of(clip)
            rect = usual(found).written if found else DEFAULT
        made = with_box(clip, self.large.new_kind, self.cel, rect)
        self.large.box_chosen = len(clip.boxes)
        self._edit(f"drew the box {made.boxes[-1].name}", made)

    def _move(self, at: int, rect: Rect) -> None:
        clip = self.station.clip
        if clip is not None and 0 <= at < len(clip.boxes) and rect_at(clip.boxes[at], self.cel) != rect:
            name = clip.boxes[at].name
            self._edit(f"moved the box {name}", keyed(clip, at, self.cel, rect), f"box {clip.name} {name} {self.cel}")

    def _set(self, said: str, **values: Any) -> None:
        if self.chosen is not None:
            clip, at = self.chosen
            boxes = tuple(replace(one, **values) if place == at else one for place, one in enumerate(clip.boxes))
            self._edit(said, replace(clip, boxes=boxes))

    def _set_kind(self, kind: str) -> None:
        self.large.new_kind = kind  # type: ignore[assignment]
        self._set("changed what a box is", kind=kind)

    def _range(self, first: int, last: int) -> None:
        if self.chosen is None:
            return
        clip, at = self.chosen
        if first > last:
            self.session.said.emit("A box cannot end before it begins; nothing was changed.")
            self.show(clip)
            return
        name = clip.boxes[at].name
        said = f"let the box {name} lie on the cels {first} to {last}"
        self._edit(said, shortened(clip, at, first, last), f"cels {name}")

    def _same(self) -> None:
        if self.chosen is None:
            return
        clip, at = self.chosen
        one = clip.boxes[at]
        if rect_at(one, self.cel) is not None:
            made = over_range(clip, at, self.cel, one.keys[0].cel, one.keys[-1].cel)
            self._edit(f"let the box {one.name} lie the same on all its cels", made)

    def _off(self) -> None:
        if self.chosen is None:
            return
        clip, at = self.chosen
        name = clip.boxes[at].name
        if self.cel not in [key.cel for key in clip.boxes[at].keys]:
            self.session.said.emit(f"The box {name} has no key on cel {self.cel}: it goes evenly between two.")
            return
        self._edit(f"took the box {name} off cel {self.cel}", unkeyed(clip, at, self.cel))

    def _remove(self) -> None:
        if self.chosen is not None:
            clip, at = self.chosen
            self._edit(f"took the box {clip.boxes[at].name} out", without(clip, at))
