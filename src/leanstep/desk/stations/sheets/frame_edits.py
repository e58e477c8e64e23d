"""Edits of a sheet's frames: by hand, their feet, and which way they look."""

from __future__ import annotations

from leanstep.core.character import sheet_edits as edits
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.sheets import recutting
from leanstep.core.sheets.boxes import Box, usual
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.drawings import boxes_of, rows_of
from leanstep.core.sheets.recutting import Recut, with_feet
from leanstep.core.wording import counted
from leanstep.desk.art import Loaded
from leanstep.desk.stations.sheets.shown_sheet import ShownSheet


class FrameEdits:
    """Changes the document as the station's person means it: its chosen sheet, and the frames chosen there."""

    def __init__(self, station: ShownSheet) -> None:
        self.station, self.session, self.view = station, station.session, station.view

    def recut(self, said: str, new: Recut) -> None:
        """Cut the sheet anew; what shows its frames follows, and what cannot is said."""
        sheet, at = self.station.sheet, self.station.index
        assert sheet is not None
        left = recutting.lost(self.session.document, sheet, new)
        self.session.edit(said, lambda document: recutting.recut(document, at, new))
        if left:
            gone = "no longer show" if new.gone else "keep the numbers of"
            self.session.said.emit(
                f"{said[0].upper()}{said[1:]}. {', '.join(left)} {gone} frames that have no place now."
            )

    def draw(self, rect: Rect) -> None:
        size = self.station.image_size()
        assert size is not None
        self.recut(f"drew frame {len(self.view.frames)}", recutting.with_new(self.view.frames, rect, size))
        self.view.choose([len(self.view.frames) - 1])

    def reshape(self, number: int, rect: Rect) -> None:
        sheet = self.station.sheet
        if sheet is None or rect == self.view.frames[number]:
            return
        at = self.station.index
        cut = recutting.with_rect(sheet.cut, number, rect)
        self.session.edit(
            f"changed frame {number} of {sheet.name}", lambda document: change(document, ("sheets", at), cut=cut)
        )
        self.view.choose([number])

    def remove(self) -> None:
        """Remove the chosen frames."""
        chosen, size = list(self.view.chosen), self.station.image_size()
        if not chosen or size is None or len(chosen) == len(self.view.frames):
            self.session.said.emit("Choose frames first; one has to stay.")
            return
        self.recut(f"removed {counted(len(chosen), 'frame')}", recutting.without(self.view.frames, chosen, size))
        self.view.choose([])

    def merge(self) -> None:
        """Make the chosen frames one."""
        chosen, size = list(self.view.chosen), self.station.image_size()
        if len(chosen) < 2 or size is None:
            self.session.said.emit("Choose two frames or more first: they become one.")
            return
        self.recut(f"merged {len(chosen)} frames", recutting.merged(self.view.frames, chosen, size))
        self.view.choose([min(chosen)])

    def split(self, down: bool) -> None:
        """Halve the chosen frame."""
        chosen, size = list(self.view.chosen), self.station.image_size()
        one = self.view.frames[chosen[0]] if len(chosen) == 1 else None
        if one is None or size is None or (one.height if down else one.width) < 2:
            self.session.said.emit("Choose one frame of at least two pixels first: it is halved.")
            return
        self.recut(f"split frame {chosen[0]}", recutting.split(self.view.frames, chosen[0], down, size))
        self.view.choose([chosen[0], chosen[0] + 1])

    def move_feet(self, across: float, down: float) -> None:
        """Move the feet of the chosen frames."""
        loaded = self.view.loaded
        if not isinstance(loaded, Loaded) or not self.view.chosen:
            return
        points = {number: loaded.cut.frames[number].foot for number in self.view.chosen}
        self._set_feet("moved", {number: (x + across, y + down) for number, (x, y) in points.items()})

    def feet_as_neighbour(self) -> None:
        """Give the chosen frames the foot of the frame before them."""
        loaded, chosen = self.view.loaded, self.view.chosen
        if not isinstance(loaded, Loaded) or not chosen or min(chosen) == 0:
            self.session.said.emit("Choose frames that have one before them first: they get its foot.")
            return
        foot = loaded.cut.frames[min(chosen) - 1].foot
        self._set_feet("set", dict.fromkeys(chosen, foot))

    def _set_feet(self, done: str, points: dict[int, tuple[float, float]]) -> None:
        """Give frames feet of their own."""
        sheet = self.station.sheet
        assert sheet is not None
        what = "a foot" if len(points) == 1 else f"{len(points)} feet"
        self._change_feet(f"{done} {what} of {sheet.name}", feet=edits.with_own(sheet, "feet", points))

    def _change_feet(self, said: str, **values: object) -> None:
        """Let a sheet say otherwise where its frames stand; boxes of actions stay on the drawings."""
        at, loaded = self.station.index, self.view.loaded

        def changed(document: Character) -> Character:
            if not isinstance(loaded, Loaded):
                return change(document, ("sheets", at), **values)
            return with_feet(document, at, loaded.cut.frames, loaded.cut.pixels, **values)

        self.session.edit(said, changed)

    def forget_feet(self) -> None:
        """Take back the feet of the chosen frames."""
        self._forget("feet", "a foot", "feet")

    def forget_boxes(self) -> None:
        """Take back the body boxes of the chosen frames."""
        self._forget("boxes", "a body box", "body boxes")

    def _forget(self, field: str, one: str, several: str) -> None:
        """Take back what the chosen frames have of their own."""
        sheet, chosen = self.station.sheet, set(self.view.chosen)
        if sheet is None or not chosen & {int(number) for number in getattr(sheet, field)}:
            self.session.said.emit(f"None of the chosen frames has {one} of its own.")
            return
        at, said = self.station.index, f"took back {several} of {sheet.name}"
        if field == "feet":
            self._change_feet(said, feet=edits.without_own(sheet, field, chosen))
        else:
            self.session.edit(said, lambda document: edits.without_boxes(document, at, chosen))

    def set_rule(self, rule: str) -> None:
        self._change_feet(f"changed the rule for feet of {self.station.current}", foot_rule=rule, foot=())

    def set_boxes(self, boxes: dict[int, Box]) -> None:
        """Give frames body boxes of their own."""
        sheet, at = self.station.sheet, self.station.index
        assert sheet is not None
        written = {number: box.written for number, box in boxes.items()}
        what = "the body box of a frame" if len(boxes) == 1 else f"the body boxes of {len(boxes)} frames"
        self.session.edit(f"changed {what} of {sheet.name}", lambda document: edits.with_boxes(document, at, written))

    def set_box_rule(self, rule: str) -> None:
        """Another rule for body boxes; ``sheet``: one box for all frames, where their drawings usually are."""
        sheet, loaded, at = self.station.sheet, self.view.loaded, self.station.index
        assert sheet is not None
        values: dict[str, object] = {"box_rule": rule, "box": ()}
        if rule == "sheet":
            drawn = loaded.cut.drawn_boxes if isinstance(loaded, Loaded) else []
            if not drawn:
                self.session.said.emit("Nothing is drawn in these frames yet.")
                return
            values = {"box_rule": "none", "box": usual(drawn).wider(sheet.box_margin).written}
        self.session.edit(
            f"changed the rule for body boxes of {sheet.name}",
            lambda document: change(document, ("sheets", at), **values),
        )

    def set_box_margin(self, margin: float) -> None:
        """How far boxes found by a rule reach beyond the drawing."""
        at, name = self.station.index, self.station.current
        self.session.edit(
            f"changed the margin of body boxes of {name}",
            lambda document: change(document, ("sheets", at), box_margin=margin),
            f"box margin {name}",
        )

    def set_scale(self, **values: float | bool) -> None:
        """Another size at which the frames are shown."""
        sheet, at = self.station.sheet, self.station.index
        assert sheet is not None
        self.session.edit(f"scaled {sheet.name}", lambda document: edits.with_scale(document, at, **values))

    def set_facing(self, facing: str) -> None:
        at = self.station.index
        said = "in drawings of its own for both ways" if facing == "both" else f"facing {facing}"
        self.session.edit(
            f"said that {self.station.current} is drawn {said}",
            lambda document: edits.facing(document, at, facing),
        )

    def set_row_facing(self, facing: str) -> None:
        """Say which way the rows of the chosen frames look."""
        sheet, chosen = self.station.sheet, set(self.view.chosen)
        rows = [number for number, row in enumerate(rows_of(boxes_of(self.view.frames))) if chosen & set(row)]
        if sheet is None or not rows:
            self.session.said.emit("Choose frames first: it is said of their rows.")
            return
        at = self.station.index
        self.session.edit(
            f"said that {counted(len(rows), 'row')} of {sheet.name} look{'s' if len(rows) == 1 else ''} {facing}",
            lambda document: edits.with_rows_facing(document, at, rows, facing),
        )
