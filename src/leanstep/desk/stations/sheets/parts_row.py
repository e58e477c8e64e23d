"""The parts of a cut-out figure in words and numbers."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from PySide6.QtWidgets import QWidget

from leanstep.core.character.cut_outs import FARTHEST, MOST_TURNED, CutOutPart
from leanstep.core.character.edits import put
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs import edits
from leanstep.core.naming.references import Thing
from leanstep.core.naming.removing import without_part
from leanstep.core.wording import counted
from leanstep.desk.session import Session
from leanstep.desk.stations.sheets.parts_view import PartsView
from leanstep.desk.widgets.basics import NameField, NumberField, button, fill_combo, label, lay_in_lines, name_choice

NONE, NOTHING = "no part", "nothing"


class PartsRow(QWidget):
    """Which part is chosen, what it hangs on, and where it turns; changes the chosen sheet as the person means it."""

    def __init__(self, session: Session, view: PartsView, index: Callable[[], int]) -> None:
        super().__init__()
        self.session, self.view, self._index = session, view, index
        self.sheet: Sheet | None = None
        view.part_drawn.connect(self._draw)
        view.part_picked.connect(self.choose)
        view.joint_moved.connect(lambda x, y: self._joint(x, y))
        view.joint_dropped.connect(session.end_merge)
        self.which = name_choice(
            "Part", "Which part the numbers are of", lambda name: self.choose(self.which.currentIndex() - 1)
        )
        self.name = NameField("part")
        self.name.setMinimumWidth(100)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(session.said)
        self.parent_part = name_choice("Hangs on", "The part it hangs on, and moves with", self._set_parent)
        self.behind = name_choice(
            "Goes on under it",
            "The part of the same frame that is continued where this one covers it",
            self._set_behind,
        )
        far = FARTHEST
        self.frame = self._number(
            "Frame of the part", "The frame its picture is cut from", 0, 99_999, "frame ", "frame", True
        )
        self.order = self._number(
            "Order of the part", "What is greater is more in front", -1000, 1000, "in front ", "order", True
        )
        self.turn = self._number(
            "Rest turn of the part",
            "How it is turned before anything moves, in degrees clockwise",
            -MOST_TURNED,
            MOST_TURNED,
            "turned ",
            "turn",
        )
        self.joint_x = NumberField(
            "Joint across", "Where it turns, from the left edge of its frame", -far, far, "px", False
        )
        self.joint_y = NumberField(
            "Joint down", "Where it turns, from the upper edge of its frame", -far, far, "px", False
        )
        self.at_x = NumberField(
            "Place across",
            "Where its joint lies on the frame of what it hangs on, from the left",
            -far,
            far,
            "px",
            False,
        )
        self.at_y = NumberField(
            "Place down", "Where its joint lies on the frame of what it hangs on, from above", -far, far, "px", False
        )
        for field, prefix in (
            (self.joint_x, "turns at x "),
            (self.joint_y, "y "),
            (self.at_x, "lies at x "),
            (self.at_y, "y "),
        ):
            field.setPrefix(prefix)
            field.setMinimumWidth(80 if field in (self.joint_y, self.at_y) else 124)
        for field in (self.joint_x, self.joint_y):
            field.settled.connect(lambda value: self._joint(self.joint_x.value(), self.joint_y.value(), "joint"))
        for field in (self.at_x, self.at_y):
            field.settled.connect(lambda value: self._place())
        self.make = button(
            "The chosen frames are parts", "Each of the chosen frames is the picture of a part", self._make
        )
        self.round = button("Draw it anew", "Draw around the part once more: drag on the sheet", self._anew)
        self.remove = button("Remove", "Remove the part; its picture stays", self._remove)
        self.let_move = button(
            "Let it move", "Make a clip in which the parts are moved, and open it", self._move, main=True
        )
        self.words = label("", "soft", wrap=True)
        self._redrawn = -1
        hangs = (label("hangs on", "soft"), self.parent_part, label("under it goes on", "soft"), self.behind)
        self._of_one: tuple[QWidget, ...] = (
            self.name,
            *hangs,
            self.frame,
            self.order,
            self.turn,
            self.joint_x,
            self.joint_y,
            self.at_x,
            self.at_y,
            self.round,
            self.remove,
        )
        lines = (
            (self.which, self.name, *hangs, self.remove),
            (self.joint_x, self.joint_y, self.at_x, self.at_y, self.turn, self.order, self.frame),
            (self.make, self.round, self.let_move, self.words),
        )
        lay_in_lines(self, lines, self.words).addStretch(1)

    def _number(
        self, name: str, tip: str, low: float, high: float, prefix: str, field: str, whole: bool = False
    ) -> NumberField:
        made = NumberField(name, tip, low, high, "" if whole else "°", whole)
        made.setPrefix(prefix)
        made.setMinimumWidth(96)
        made.settled.connect(
            lambda value: self._change(f"changed the {field} of", **{field: int(value) if whole else value})
        )
        return made

    # --- what is shown

    @property
    def part(self) -> CutOutPart | None:
        """The part that is chosen."""
        at, parts = self.view.part_chosen, self.sheet.parts if self.sheet is not None else ()
        return parts[at] if 0 <= at < len(parts) else None

    def show_sheet(self, sheet: Sheet | None) -> None:
        """Show the parts of a sheet."""
        if sheet is None or self.sheet is None or sheet.name != self.sheet.name:
            self.view.part_chosen = 0 if sheet is not None and sheet.parts else -1
        self.sheet = sheet
        parts = sheet.parts if sheet is not None else ()
        if self.view.part_chosen >= len(parts):
            self.view.part_chosen = len(parts) - 1
        one = self.part
        fill_combo(self.which, [NONE, *(part.name for part in parts)], one.name if one is not None else NONE)
        for widget in self._of_one:
            widget.setVisible(one is not None)
        self.let_move.setEnabled(bool(parts))
        self.make.setEnabled(sheet is not None and bool(self.view.chosen))
        self.words.setText(self._words(one))
        if one is None or sheet is None:
            return
        self.name.show_name(one.name, lambda name: self.session.rename_fault(Thing("part", one.name), name))
        others = [part.name for part in parts if part is not one]
        fill_combo(self.parent_part, [NOTHING, *others], one.parent or NOTHING)
        beside = [part.name for part in parts if part is not one and part.frame == one.frame]
        fill_combo(self.behind, [NOTHING, *beside], one.behind or NOTHING)
        self.behind.setEnabled(bool(one.outline))
        foot = self._foot(one.frame)
        joint = one.joint or foot
        at = one.at or joint
        for field, value in (
            (self.joint_x, joint[0]),
            (self.joint_y, joint[1]),
            (self.at_x, at[0]),
            (self.at_y, at[1]),
        ):
            field.show_value(value)
        for field, number in ((self.frame, one.frame), (self.order, one.order), (self.turn, one.turn)):
            field.show_value(number)
        for choice in (self.which, self.parent_part, self.behind):
            choice.updateGeometry()

    def _foot(self, frame: int) -> tuple[float, ...]:
        loaded = self.view.loaded
        frames = getattr(getattr(loaded, "cut", None), "frames", ())
        return frames[frame].foot if frame < len(frames) else (0.0, 0.0)

    def _words(self, one: CutOutPart | None) -> str:
        if self._redrawn >= 0 and one is not None:
            return f"Draw around {one.name}: drag on the sheet, or press Return there for a cross."
        if one is None:
            return "Draw around a part of the figure, or choose frames that are parts. Then set where each turns: drag its ring."
        return "Drag around another part; drag a ring to say where a part turns."

    def choose(self, at: int) -> None:
        """Choose a part (-1: none)."""
        self.view.part_chosen, self._redrawn = at, -1
        self.show_sheet(self.sheet)
        self.view.update()

    # --- edits

    def _edit(self, said: str, made: Sheet, merge: str = "") -> None:
        at = self._index()
        self.session.edit(f"{said} ({made.name})", lambda document: put(document, ("sheets", at), made), merge)

    def _change(self, said: str, **values: object) -> None:
        one, sheet, at = self.part, self.sheet, self.view.part_chosen
        if one is not None and sheet is not None:
            made = msgspec.structs.replace(one, **values)
            parts = (*sheet.parts[:at], made, *sheet.parts[at + 1 :])
            self._edit(f"{said} {one.name}", msgspec.structs.replace(sheet, parts=parts))

    def _set_parent(self, name: str) -> None:
        self._change("hung elsewhere", parent="" if name == NOTHING else name)

    def _set_behind(self, name: str) -> None:
        self._change("changed what goes on under", behind="" if name == NOTHING else name)

    def _joint(self, x: float, y: float, what: str = "") -> None:
        sheet, at, one = self.sheet, self.view.part_chosen, self.part
        if sheet is not None and one is not None:
            merge = f"joint {sheet.name} {one.name}" if not what else ""
            self._edit(f"moved the joint of {one.name}", edits.with_joint(sheet, at, (x, y)), merge)

    def _place(self) -> None:
        at = self.at_x.value(), self.at_y.value()
        one = self.part
        joint = (one.joint or self._foot(one.frame)) if one is not None else ()
        self._change("moved where it lies", at=() if at == tuple(joint) else at)

    def _draw(self, frame: int, outline: list[tuple[float, float]]) -> None:
        sheet, at = self.sheet, self._redrawn
        if sheet is None:
            return
        if at >= 0 and self.part is not None:
            self._redrawn = -1
            self._change("drew around", frame=frame, outline=tuple(outline))
            return
        made = edits.with_part(sheet, frame, outline)
        self._added(made)

    def _added(self, made: Sheet) -> None:
        assert self.sheet is not None
        count = len(made.parts) - len(self.sheet.parts)
        self.view.part_chosen = len(made.parts) - 1
        self._edit(f"made {counted(count, 'part')}", made)

    def _make(self) -> None:
        sheet = self.sheet
        taken = {part.frame for part in sheet.parts if not part.outline} if sheet is not None else set()
        made = sheet
        for frame in self.view.chosen:
            if made is not None and frame not in taken:
                made = edits.with_part(made, frame)
        if made is None or made == sheet:
            self.session.said.emit("Choose frames first, with Shift: each becomes the picture of a part.")
            return
        self._added(made)

    def _anew(self) -> None:
        self._redrawn = self.view.part_chosen
        self.show_sheet(self.sheet)

    def _rename(self, name: str) -> None:
        if self.part is not None:
            self.session.rename(Thing("part", self.part.name), name)

    def _remove(self) -> None:
        one, at = self.part, self._index()
        if one is not None:
            name = one.name
            self.session.edit(f"removed the part {name}", lambda document: without_part(document, at, name))

    def _move(self) -> None:
        sheet = self.sheet
        if sheet is None:
            return
        made, name = edits.moving(self.session.document, sheet.name)
        self.session.edit(f"made {name}, in which parts of {sheet.name} move", lambda _: made)
        self.session.show(Thing("clip", name))
        self.session.pointed.emit({"clip": name, "part": sheet.parts[0].name if sheet.parts else ""})
