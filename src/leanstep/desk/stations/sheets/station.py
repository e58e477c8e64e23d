"""The Sheets station: bring images in, cut them into frames, and stand the frames on their feet."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout

from leanstep.core.character.artwork import lies_elsewhere
from leanstep.core.character.sheets import Cut, Ground, Sheet
from leanstep.core.character.starting import shows_nothing
from leanstep.core.sheets import recutting
from leanstep.core.sheets.reading import numbered
from leanstep.core.sheets.recutting import Recut
from leanstep.desk.art import Loaded, Unfitted
from leanstep.desk.context import Context
from leanstep.desk.stations.sheets.cards import Card
from leanstep.desk.stations.sheets.clip_maker import ClipMaker
from leanstep.desk.stations.sheets.costume_row import CostumeRow
from leanstep.desk.stations.sheets.drawn_row import DrawnRow
from leanstep.desk.stations.sheets.export_panel import ExportPanel
from leanstep.desk.stations.sheets.frame_edits import FrameEdits
from leanstep.desk.stations.sheets.frame_menu import frame_entries
from leanstep.desk.stations.sheets.frame_picks import FramePicks
from leanstep.desk.stations.sheets.ground_bar import GroundBar
from leanstep.desk.stations.sheets.image_edits import ImageEdits
from leanstep.desk.stations.sheets.parts_row import PartsRow
from leanstep.desk.stations.sheets.sheet_problems import SheetProblems
from leanstep.desk.stations.sheets.shown_sheet import ShownSheet
from leanstep.desk.stations.sheets.strip import COMPARISONS, Strip
from leanstep.desk.stations.sheets.tool_row import ToolRow
from leanstep.desk.stations.sheets.walk_panel import WalkPanel
from leanstep.desk.widgets.basics import DropDown, button, command, label
from leanstep.desk.widgets.empty_place import EmptyPlace, sheet_drawing
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, MenuEntry


class SheetsStation(ShownSheet):
    """Images on the left, the ways to cut above, the sheet in the middle, its frames on the ground below."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session = desk.session
        self.list.setAccessibleName("Sheets")
        self.sentence = label("", "soft")
        self.edits, self.export, self.walk = FrameEdits(self), ExportPanel(), WalkPanel(session.art)
        self.images = ImageEdits(self, self.edits, self.export)
        self.copy_button = button(
            "Copy it beside the character",
            "The image lies elsewhere and is shown from there; a copy stays as it is",
            self.images.copy_in,
        )
        self.copy_button.hide()
        self.suggesting.came.connect(self._came)
        self.view.chose.connect(self._selection)
        self.view.drawn.connect(self.edits.draw)
        self.view.reshaped.connect(self.edits.reshape)
        self.view.stepped.connect(self.edits.move_feet)
        self.view.boxed.connect(self.edits.set_boxes)
        self.view.removal.connect(self.edits.remove)
        self.picks = FramePicks(self.view, self.edits)
        self.maker = ClipMaker(self, self.picks, self.walk)
        self.view_menu = ContextMenu(self.view, partial(frame_entries, self.view, self.edits, self.picks, self.maker))
        self.strip = Strip(session)
        self.ground = GroundBar()
        self.ground.tried.connect(self.images.try_ground)
        self.ground.meant.connect(self.images.set_ground)
        self.ways.tried.connect(self.show_outcomes)
        self.ways.meant.connect(self._cut)
        self.tools = ToolRow(self.view, self.edits, self.picks.ways())
        session.editing.follow(self, self.refresh, unasked=(session.art.changed,))
        session.editing.follow(self, lambda: self.problems.show(self.current), unasked=(session.checker.checked,))
        session.art.exported.connect(self.images.exported)
        session.wanted.connect(self._wanted)
        self.suggesting.compared.connect(self.images.compared)
        self.export.followed.connect(self.images.follow)
        self.export.asks.connect(self._make_room)
        self.walk.asks.connect(self._make_room)
        self.walk.meant.connect(self.maker.steer)
        # what was asked about a document does not outlive it
        for asked in (self.export, self.walk):
            session.opened.connect(asked.hide)
        self.export.kept.connect(lambda: self.session.said.emit("Frames keep their numbers."))
        self.make_clip = button(
            "Make a clip of them", "Make a clip of the chosen frames, in their order", self.maker.new_clip, main=True
        )
        self.clip_rows = button(
            "A clip a row …", "Make a clip of every row, with names from a pattern", self.maker.clips_of_rows
        )
        self.costume = CostumeRow(session, lambda: list(self.view.chosen))
        self.costume.hide()
        self.costume.tried.connect(self.images.try_colours)
        self.costume.made.connect(self.choose)
        self.parts = PartsRow(session, self.view, lambda: self.index)
        self.parts.hide()
        self.drawn = DrawnRow()
        self.drawn.hide()
        self.drawn.meant.connect(self.images.draw_otherwise)
        self.chosen_text = label("", "soft")
        self.problems = SheetProblems(session, self.view, self.point_at)
        self.compare = DropDown()
        self.compare.setAccessibleName("Compare frames")
        self.compare.setToolTip("Whether the frames on the ground line are compared with the one before")
        for text, mode in COMPARISONS:
            self.compare.addItem(text, mode)
        self.compare.currentIndexChanged.connect(lambda at: self.strip.compare_by(self.compare.itemData(at)))
        self.tools.took.connect(self._took)
        self._lay_out()
        self.follow()

    def _lay_out(self) -> None:
        adder = button("Add a sheet …", "Bring an image in (Ctrl+Shift+A), or drop one on the window", self.images.ask)
        head = QHBoxLayout()
        head.addWidget(self.name)
        head.addWidget(self.sentence, 1)
        head.addWidget(self.copy_button)
        pick = QHBoxLayout()
        pick.addWidget(self.chosen_text, 1)
        pick.addWidget(self.problems.button)
        pick.addWidget(self.compare)
        pick.addWidget(self.clip_rows)
        pick.addWidget(self.make_clip)
        middle = QVBoxLayout()
        middle.addLayout(head)
        middle.addWidget(self.ways)
        middle.addWidget(self.costume)
        middle.addWidget(self.parts)
        middle.addWidget(self.drawn)
        middle.addWidget(self.export)
        middle.addWidget(self.walk)
        middle.addWidget(self.ground)
        middle.addWidget(self.tools)
        middle.addWidget(self.view, 1)
        middle.addLayout(pick)
        scroll = QScrollArea()
        scroll.setWidget(self.strip)
        scroll.setFixedHeight(118)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        middle.addWidget(scroll)
        empty = EmptyPlace(
            sheet_drawing,
            "Sheets stand here: images with drawings, cut into frames. Drop one on the window, or several numbered pictures; "
            "how it is cut is suggested.",
            "Add a sheet …",
            "Bring an image in (Ctrl+Shift+A), or drop one on the window",
            self.images.ask,
            button(
                "What should it do first? …",
                "Begin with a pattern: standing and walking, a jump, a ladder … Drawings can come later (Ctrl+Shift+I)",
                lambda: self.session.wanted.emit("pattern"),
            ),
        )
        self.beside_list(self.list_column(adder), middle, empty)
        self.tools.use("choose")

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [
            *super().commands(),
            command(self, "Add a sheet …", "Ctrl+Shift+A", self.images.ask),
            command(self, "Copy the image beside the character", "", self.images.copy_in),
            command(self, "Cut as suggested", "Ctrl+Return", lambda: self._cut(self.ways.suggested)),
            command(self, "Show the next suggestion", "", self.ways.next_suggestion),
            command(self, "Make a clip of the chosen frames", "", self.maker.new_clip),
            command(self, "Make a clip of every row", "", self.maker.clips_of_rows),
            command(self, "Make a figure that stands and walks of the sheet", "", self.maker.ask_to_steer),
            *(command(self, text, "", work) for text, work in self.picks.ways()),
            *(command(self, f"Use the tool {one.text()}", "", one.click) for one in self.tools.tools.values()),
            command(self, "Merge the chosen frames", "", self.edits.merge),
            command(self, "Split the frame side by side", "", lambda: self.edits.split(False)),
            command(self, "Split the frame across", "", lambda: self.edits.split(True)),
            command(self, "Remove the chosen frames", "", self.edits.remove),
            command(self, "Take back feet of the chosen frames", "", self.edits.forget_feet),
            command(self, "Feet of the chosen frames as the one before", "", self.edits.feet_as_neighbour),
            command(self, "Take back body boxes of the chosen frames", "", self.edits.forget_boxes),
            command(self, "Fit the sheet", "", self.view.fit),
            command(self, "What is wrong with the sheet", "", self.problems.open),
        ]

    # --- what is shown

    def chosen_anew(self) -> None:
        self.ways.forget()
        self.ground.ground = None
        self.view.fit()

    def show_part(self, part: Sheet | None) -> None:
        loaded = self.shown_sheet()
        pixels = (
            loaded.cut.pixels if isinstance(loaded, Loaded) else loaded.pixels if isinstance(loaded, Unfitted) else None
        )
        source = loaded.cut.source if isinstance(loaded, Loaded) else None
        if part is not None and part.cut_out is not None:
            pixels = source = None
        if self.isVisible():
            paths = [self.session.folder / image for image in part.all_images] if part is not None else []
            self.suggesting.look_at(pixels, source, part.ground if part is not None else None, paths)
        if self.ways.trying is None:
            self.ways.show_cut(part, self.image_size())
        self._make_room(self.export.isVisible() or self.walk.isVisible())
        self.costume.show_sheet(part)
        self.parts.show_sheet(part)
        if part is not None:
            self.drawn.show_cut_out(part, self.session.document.sheets)
        self.tools.show_sheet(part, loaded.cut.usual_height if isinstance(loaded, Loaded) else 1.0)
        self.show_outcomes()
        self._show_ground()
        self.problems.show(self.current)
        self._selection()

    def _took(self, tool: str) -> None:
        """Another tool is in hand."""
        self.strip.show_boxes(tool == "boxes")
        # they take the place of the ways to cut, so that the tools stay where they are
        dressing, parted = tool == "costume", tool == "parts"
        if (dressing or parted) and self.ways.isVisible():
            for row in (self.costume, self.parts):
                row.setFixedHeight(self.ways.height())
        self.costume.setVisible(dressing)
        self.parts.setVisible(parted)
        self._make_room(self.export.isVisible() or self.walk.isVisible())
        if parted:
            self.parts.show_sheet(self.sheet)
        if dressing:
            self.costume.show_sheet(self.sheet)
            self.costume.show_choice()

    def _wanted(self, kind: str) -> None:
        """Show the costume that is chosen, if one is wanted."""
        thing = self.session.selection.thing("costume") if kind == "costume" else None
        if thing is not None:
            self.point_at({"costume": thing.name})

    def point_at(self, details: Mapping[str, Any]) -> None:
        costume = next((one for one in self.session.document.costumes if one.name == details.get("costume")), None)
        if costume is not None:
            sheet = details.get("sheet")
            shown = [one.by for one in costume.sheets if sheet in (None, one.sheet, one.by)]
            if shown:
                self.choose(shown[0])
            self.tools.use("costume")
            return
        if details.get("sheet") == self.current and details.get("part"):
            names = [part.name for part in self.sheet.parts] if self.sheet is not None else []
            if details["part"] in names:
                self.tools.use("parts")
                self.parts.choose(names.index(details["part"]))
        elif details.get("sheet") == self.current:
            self.tools.use("boxes" if "boxes" in details else "feet" if "feet" in details else "choose")
            self.view.reveal(list(details.get("frames", ())))

    def showEvent(self, event: QShowEvent) -> None:
        # an image is looked at once somebody sees it
        self.show_part(self.sheet)

    def _came(self) -> None:
        if self.suggesting.found is None:
            self.ways.find_drawings()
        self.show_outcomes()
        self._show_ground()

    def show_outcomes(self) -> None:
        """Show what the ways to cut come to."""
        sheet, size, loaded = self.sheet, self.image_size(), self.shown_sheet()
        now = self.view.frames if sheet is not None and size == (sheet.size or size) else []
        self.ways.show_outcomes(sheet, size, now)
        waiting = sheet is not None and loaded is None
        self.view.show_sheet(loaded, self.ways.preview, waiting, self.suggesting.picture)
        shown = (
            f"{self.images.where(sheet)}, {size[0]} × {size[1]} pixels"
            if sheet is not None and size is not None
            else ""
        )
        self.copy_button.setVisible(sheet is not None and any(map(lies_elsewhere, sheet.all_images)))
        self.sentence.setText(shown if isinstance(loaded, Loaded | Unfitted) else "")

    def _selection(self) -> None:
        chosen, everything = self.view.chosen, list(range(len(self.view.frames)))
        self.strip.show_frames(self.current, chosen or everything)
        self.costume.show_choice()
        self.parts.make.setEnabled(bool(chosen))
        self.make_clip.setEnabled(bool(chosen))
        self.clip_rows.setEnabled(bool(everything))
        self.tools.show_choice(self.sheet, chosen, len(everything))
        text = ", ".join(map(str, chosen[:12])) + (" …" if len(chosen) > 12 else "")
        self.chosen_text.setText(
            f"{len(chosen)} chosen: {text}" if chosen else "Drag over cells to choose frames for a clip."
        )

    # --- cutting

    def _cut(self, card: Card) -> None:
        cut, size = card.cut(), self.image_size()
        if cut is None or size is None or not card.rects:
            self.session.said.emit("There is nothing to cut yet.")
            return
        loaded = self.shown_sheet()
        if isinstance(loaded, Loaded):
            frames, rects = self.view.frames, list(card.rects)
            new = self.session.beside.wait_for(
                "Finding the frames again …",
                lambda: recutting.of_same_image(loaded.cut.pixels, frames, rects, cut),
            )
        else:
            new = Recut(cut, size, {})
        self.ways.trying = None
        self.edits.recut(f"cut {self.current} into {len(card.rects)} frames", new)
        if shows_nothing(self.session.document):
            self.maker.ask_to_steer()

    def _make_room(self, asks: bool) -> None:
        """The ways to cut are out of the way while it is asked about an image that was saved again."""
        drawn = self.sheet is not None and self.sheet.cut_out is not None
        self.drawn.setVisible(drawn and self.view.tool != "costume")
        self.ways.setHidden(asks or drawn or self.view.tool in ("costume", "parts"))

    # --- ground

    def _show_ground(self) -> None:
        sheet, seen = self.sheet, self.suggesting.seen
        found = None
        if seen is not None and seen.ground is not None:
            found = Ground(colour=seen.ground.text, tolerance=seen.ground.tolerance)
        self.ground.show_ground(
            sheet.ground if sheet is not None else None, found, seen.holes if seen is not None else []
        )

    # --- menus

    def menu_entries(self) -> MenuEntries:
        return [
            *super().menu_entries(),
            None,
            MenuEntry("A clip a row …", self.maker.clips_of_rows),
            MenuEntry("Let it stand and walk …", self.maker.ask_to_steer),
            MenuEntry(
                "Copy the image beside the character", self.images.copy_in, possible=self.copy_button.isVisibleTo(self)
            ),
            MenuEntry("Add a sheet …", self.images.ask, "Ctrl+Shift+A"),
        ]

    # --- new things

    def take_files(self, paths: list[Path]) -> None:
        for together in numbered(paths):
            self.images.add(together)
        self.session.wanted.emit("sheet")
        # what is suggested is shown at once, and Enter cuts the sheet so
        self.ways.trying = self.ways.suggested if self.sheet is not None and self.sheet.cut == Cut() else None
        self.ways.suggested.setFocus()
        self.show_outcomes()
