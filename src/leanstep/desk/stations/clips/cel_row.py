"""The row of the chosen cels: which frame they show, how long, and how it is turned."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QWidget

from leanstep.core.character.clips import Clip
from leanstep.core.character.sheets import Sheet
from leanstep.desk.stations.clips.cel_edits import CelEdits
from leanstep.desk.widgets.basics import DropDown, NumberField, button, fill_combo, label


class CelRow(QWidget):
    """What is set here is set for every chosen cel."""

    def __init__(self, edits: CelEdits) -> None:
        super().__init__()
        self.which = label("Cel: frame", "soft")
        self.frame = NumberField("Frame", "Which frame the chosen cel shows", 0, 99999)
        self.frame.settled.connect(lambda value: edits.set_chosen("the frame", frame=int(value)))
        self.ticks = NumberField("Ticks", "How long the chosen cel is shown", 0.25, 10000, "ticks", whole=False)
        self.ticks.setMinimumWidth(78)
        self.ticks.settled.connect(lambda value: edits.set_chosen("the time", ticks=value))
        self.mirrored = QCheckBox("mirrored")
        self.mirrored.setToolTip("Show the chosen cel the other way round; no picture is copied")
        self.mirrored.clicked.connect(lambda checked: edits.set_chosen("the mirroring", mirrored=checked))
        self.turns = NumberField("Quarter turns", "How far the chosen cel is turned, in quarters clockwise", 0, 3)
        self.turns.settled.connect(lambda value: edits.set_chosen("the turn", turns=int(value)))
        self.from_sheet = DropDown()
        self.from_sheet.setAccessibleName("Sheet of the cel")
        self.from_sheet.setToolTip("Which sheet the chosen cel's frame is on")
        self.from_sheet.activated.connect(lambda at: edits.set_sheet(self.from_sheet.itemText(at)))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for part in (self.which, self.frame, label("for", "soft"), self.ticks, self.from_sheet, self.mirrored):
            row.addWidget(part)
        row.addWidget(label("turns", "soft"))
        row.addWidget(self.turns)
        row.addStretch(1)
        row.addWidget(button("Add a cel", "Put another cel behind the chosen one", edits.add))
        row.addWidget(button("Take it out", "Take the chosen cels out (Delete)", edits.remove))

    def show_cel(self, sheets: Sequence[Sheet], clip: Clip | None, at: int, several: int) -> bool:
        """Show the cel chosen last of so many; whether there is one."""
        there = clip is not None and at < len(clip.cels)
        for part in (self.frame, self.ticks, self.mirrored, self.turns, self.from_sheet):
            part.setEnabled(there)
        self.which.setText(f"{several} cels: frame" if several > 1 else "Cel: frame")
        if there and clip is not None:
            cel = clip.cels[at]
            self.frame.show_value(cel.frame)
            self.ticks.show_value(cel.ticks)
            self.mirrored.setChecked(cel.mirrored)
            self.turns.show_value(cel.turns)
            fill_combo(self.from_sheet, [one.name for one in sheets], clip.sheet_of(cel))
        return there
