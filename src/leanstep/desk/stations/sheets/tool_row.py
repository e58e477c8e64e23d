"""The tools of the Sheets station and what belongs to each: choosing, drawing, feet, body boxes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QComboBox, QHBoxLayout, QMenu, QPushButton, QWidget

from leanstep.core.character.sheets import Scale, Sheet
from leanstep.core.sheets.scaling import in_words
from leanstep.desk.stations.sheets.drawn_sheet import Tool
from leanstep.desk.stations.sheets.frame_edits import FrameEdits
from leanstep.desk.stations.sheets.sheet_view import SheetView
from leanstep.desk.widgets.basics import NumberField, button, choice_of
from leanstep.desk.widgets.number_dialog import ask_number

TOOLS: tuple[tuple[Tool, str, str], ...] = (
    ("choose", "Choose", "Choose frames"),
    ("draw", "Draw", "Draw, move, split and merge frames by hand"),
    ("feet", "Feet", "Set where frames stand"),
    ("boxes", "Boxes", "Set what of a frame collides: its body box"),
    ("parts", "Parts", "Cut a figure into parts that move"),
    ("costume", "Costume", "Say what the sheet is shown instead of, and when"),
)

CUTTING: tuple[Tool, ...] = ("draw", "feet", "parts")
"""The tools for sheets that are cut from an image."""

FOOT_RULES = {
    "row": "Feet: one a row",
    "drawing": "Feet: below the drawing",
    "solid": "Feet: lowest solid run",
    "cell": "Feet: below the cell",
    "centre": "Feet: centre of the cell",
}

BOX_RULES = {
    "none": "Boxes: none",
    "row": "Boxes: one a row",
    "drawing": "Boxes: around each drawing",
    "sheet": "Boxes: one for the sheet",
}

FACINGS = {"right": "Faces right", "left": "Faces left", "both": "Faces both ways"}

SCALES = (1.0, 2.0, 3.0, 4.0, 1 / 2, 1 / 3, 1 / 4)

OTHER_HEIGHT, OTHER_SHAPE = "height", "shape"
"""Entries of the scales that ask for a number."""


class ToolRow(QWidget):
    """One row: the tools, what belongs to the one in hand, and the zoom.  ``took``: another tool is in hand.

    ``picks`` are ways to choose frames, in words.
    """

    took = Signal(str)

    def __init__(self, view: SheetView, edits: FrameEdits, picks: list[tuple[str, Callable[[], object]]]) -> None:
        super().__init__()
        self.view, self.edits = view, edits
        self.drawn_height = 1.0
        group = QButtonGroup(self)
        self.tools: dict[Tool, QPushButton] = {}
        for tool, text, tip in TOOLS:
            made = button(text, tip, partial(self.use, tool))
            made.setCheckable(True)
            made.setProperty("tab", True)
            group.addButton(made)
            self.tools[tool] = made
        self.pick = button("Rows …", "Choose rows, columns, every so many, all or none", self._open_picks)
        self.pick.setProperty("tab", True)
        self.pick_menu = QMenu(self)
        for text, work in picks:
            self.pick_menu.addAction(text, work)
        self.foot_rule = choice_of("Rule for feet", "Where frames stand that have no foot of their own", FOOT_RULES)
        self.foot_rule.activated.connect(lambda at: edits.set_rule(self.foot_rule.itemData(at)))
        self.as_neighbour = button(
            "As before it", "Give the chosen frames the foot of the frame before them", edits.feet_as_neighbour
        )
        self.own_feet = button("Back to the rule", "Take back the feet of the chosen frames", edits.forget_feet)
        self.box_rule = choice_of("Rule for body boxes", "Body boxes of frames that have none of their own", BOX_RULES)
        self.box_rule.activated.connect(lambda at: edits.set_box_rule(self.box_rule.itemData(at)))
        self.margin = NumberField(
            "Margin", "How far boxes reach beyond the drawing, left, right and above", -999, 999, "px"
        )
        self.margin.setPrefix("margin ")
        self.margin.setMinimumWidth(104)
        self.margin.settled.connect(edits.set_box_margin)
        self.own_boxes = button("Back to the rule", "Take back the boxes of the chosen frames", edits.forget_boxes)
        self.facing = choice_of("Facing", "Which way the drawings look", FACINGS)
        self.facing.activated.connect(lambda at: edits.set_facing(self.facing.itemData(at)))
        self.scale = choice_of("Scale", "How large frames are shown; the image file stays as it is", {})
        self.scale.activated.connect(self._scale_chosen)
        self.smooth = choice_of("Kind of scaling", "Whether pixels stay squares", {False: "hard", True: "smooth"})
        self.smooth.activated.connect(lambda at: edits.set_scale(smooth=bool(self.smooth.itemData(at))))
        self.merge_button = button("Merge", "Make the chosen frames one", edits.merge)
        self.split_button = button("Split", "Halve the chosen frame, side by side", lambda: edits.split(False))
        self.split_down = button(
            "Split across", "Halve the chosen frame, one below the other", lambda: edits.split(True)
        )
        self.remove_button = button("Remove frames", "Remove the chosen frames (Delete)", edits.remove)
        self.zooms = [
            button("−", "Smaller (−)", lambda: view.zoom_by(-1)),
            button("Fit", "Show all of the sheet (0)", view.fit),
            button("1:1", "One screen pixel a pixel (1)", lambda: view.zoom_to(1)),
            button("+", "Larger (+)", lambda: view.zoom_by(1)),
        ]
        for one in (self.as_neighbour, self.own_feet, self.own_boxes):
            one.setProperty("tab", True)
        for one in self.zooms:
            one.setStyleSheet("padding: 4px 4px;")
        self._belongs: dict[Tool, list[QWidget]] = {
            "choose": [self.pick, self.facing, self.scale, self.smooth],
            "draw": [self.merge_button, self.split_button, self.split_down, self.remove_button],
            "feet": [self.foot_rule, self.as_neighbour, self.own_feet],
            "boxes": [self.box_rule, self.margin, self.own_boxes],
            "costume": [],
            "parts": [],
        }
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        for part in [*self.tools.values(), *(one for some in self._belongs.values() for one in some)]:
            row.addWidget(part)
        row.addStretch(1)
        for part in self.zooms:
            row.addWidget(part)

    def _open_picks(self) -> None:
        self.pick_menu.popup(self.pick.mapToGlobal(self.pick.rect().bottomLeft()))

    def use(self, tool: Tool) -> None:
        """Take a tool in hand."""
        self.tools[tool].setChecked(True)
        self.view.use(tool)
        self.took.emit(tool)
        for other, parts in self._belongs.items():
            for one in parts:
                one.setVisible(other == tool)
        self._show_parts(self.edits.station.sheet)

    def show_sheet(self, sheet: Sheet | None, height: float) -> None:
        """Show what is said of a sheet, whose figures are drawn ``height`` pixels high."""
        self.drawn_height = height
        for one in (self.facing, self.foot_rule, self.pick, self.box_rule, self.scale):
            one.setEnabled(sheet is not None)
        if sheet is not None:
            _show(self.facing, sheet.facing if sheet.mirrors else "both")
            _show(self.foot_rule, sheet.foot_rule)
            _show(self.box_rule, "sheet" if sheet.box else sheet.box_rule)
            self.margin.show_value(sheet.box_margin)
            _show(self.smooth, sheet.scale is not None and sheet.scale.smooth)
        self._show_scales(sheet.scale if sheet is not None else None)
        self._show_parts(sheet)

    def show_choice(self, sheet: Sheet | None, chosen: list[int], count: int) -> None:
        """Show what can be done with the chosen ones of ``count`` frames."""
        self.merge_button.setEnabled(len(chosen) > 1)
        for one in (self.split_button, self.split_down):
            one.setEnabled(len(chosen) == 1)
        self.remove_button.setEnabled(0 < len(chosen) < count)
        numbers = set(map(str, chosen))
        self.own_feet.setEnabled(sheet is not None and bool(numbers & set(sheet.feet)))
        self.own_boxes.setEnabled(sheet is not None and bool(numbers & set(sheet.boxes)))

    def _show_parts(self, sheet: Sheet | None) -> None:
        """What only means something with other choices."""
        drawn = sheet is not None and sheet.cut_out is not None
        for tool in CUTTING:
            self.tools[tool].setEnabled(not drawn)
        if drawn and self.view.tool in CUTTING:
            self.use("choose")
            return
        ruled = sheet is not None and not sheet.box and sheet.box_rule != "none"
        self.margin.setVisible(self.view.tool == "boxes" and ruled)
        self.smooth.setVisible(self.view.tool == "choose" and sheet is not None and sheet.scale is not None)

    def _show_scales(self, scale: Scale | None) -> None:
        self.scale.clear()
        for factor in SCALES:
            text = "Size as drawn" if factor == 1 else f"{in_words(factor)} times"
            self.scale.addItem(text, factor)
        self.scale.addItem("To a height …", OTHER_HEIGHT)
        self.scale.addItem("To a height and width …", OTHER_SHAPE)
        shown = scale or Scale()
        place = self.scale.findData(shown.by) if not shown.height and shown.stretch == 1 else -1
        if place < 0:
            wide = f", {in_words(shown.stretch)} wide" if shown.stretch != 1 else ""
            text = f"{shown.height:g} px high" if shown.height else f"{in_words(shown.by)} times"
            self.scale.insertItem(0, f"{text}{wide}")
            place = 0
        self.scale.setCurrentIndex(place)

    def _scale_chosen(self, at: int) -> None:
        wanted = self.scale.itemData(at)
        sheet = self.edits.station.sheet
        if wanted is None or sheet is None:
            return
        before = sheet.scale or Scale()
        if not isinstance(wanted, str):
            self.edits.set_scale(by=float(wanted), height=0.0, stretch=1.0)
        else:
            stands = self.drawn_height * before.by if not before.height else before.height
            prompt = f"The figure is drawn {self.drawn_height:g} px high. How high shall it stand?"
            height = ask_number(self, "To a height", prompt, stands, 1, 4096, "px")
            percent: float | None = 100 * before.stretch
            if height is not None and percent is not None and wanted == OTHER_SHAPE:
                prompt = "How wide, in percent of that scale? 100 keeps the shape."
                percent = ask_number(self, "Width", prompt, percent, 2, 6400, "%")
            if height is not None and percent is not None:
                self.edits.set_scale(by=1.0, height=height, stretch=percent / 100)
        self.show_sheet(self.edits.station.sheet, self.drawn_height)


def _show(choice: QComboBox, value: str | bool) -> None:
    choice.setCurrentIndex(choice.findData(value))
