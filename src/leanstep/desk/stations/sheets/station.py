"""The Sheets station."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QAction, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.character.edits import append, change, free_name
from leanstep.core.character.files import adopt_image
from leanstep.core.character.model import Cel, Clip, Cut, Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.places import Thing
from leanstep.core.sheets.cutting import Rect, rectangles
from leanstep.core.sheets.images import ImageResized, Pixels, read_image
from leanstep.core.wording import counted
from leanstep.desk import paint
from leanstep.desk.art import Loaded
from leanstep.desk.desk import Desk
from leanstep.desk.stations.sheets.views import SheetView, Strip
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.basics import NumberField, ask_name, button, command, label
from leanstep.desk.widgets.list_station import ListStation


class Thumb(QWidget):
    """The first frames a cut would give."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(QSize(92, 62))
        self.rects: list[Rect] = []
        self.view: SheetView | None = None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        area = QRectF(self.rect())
        paint.checker(painter, area, 6)
        image = self.view.image if self.view is not None else None
        if image is None or not self.rects:
            painter.setPen(theme.colour("faint"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "–")
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        shown = self.rects[:2]
        for place, rect in enumerate(shown):
            box = QRectF(2 + place * 45, 2, 43, 58)
            scale = min(box.width() / rect.width, box.height() / rect.height)
            target = QRectF(0, 0, rect.width * scale, rect.height * scale)
            target.moveCenter(box.center())
            painter.drawImage(target, image, QRectF(rect.x, rect.y, rect.width, rect.height))
            painter.setPen(paint.pen("edge"))
            painter.drawRect(target)


class Card(QFrame):
    """One way to cut, with its numbers and a live picture of the outcome."""

    tried = Signal()
    meant = Signal()

    def __init__(self, title: str, hint: str, view: SheetView) -> None:
        super().__init__()
        self.setObjectName("card")
        self.view = view
        self.rects: list[Rect] = []
        self.setFixedHeight(128)
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 10, 8)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        head = label(title)
        head.setFont(font(14, MEDIUM))
        grid.addWidget(head, 0, 0)
        self.outcome = label(hint, "soft", wrap=True)
        self.outcome.setAlignment(Qt.AlignmentFlag.AlignTop)
        grid.addWidget(self.outcome, 1, 0)
        self.thumb = Thumb()
        self.thumb.view = view
        grid.addWidget(self.thumb, 0, 1, 2, 1, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight)
        self.fields = QHBoxLayout()
        self.fields.setSpacing(5)
        self.apply = button("Cut", f"{title}: cut the sheet with these numbers", self.meant.emit)
        self.apply.setStyleSheet("padding: 4px 9px;")
        foot = QHBoxLayout()
        foot.addLayout(self.fields)
        foot.addStretch(1)
        foot.addWidget(self.apply)
        grid.addLayout(foot, 2, 0, 1, 2)
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(1, 1)

    def add_field(self, text: str, field: NumberField) -> NumberField:
        """A number of this card."""
        self.fields.addWidget(label(text, "soft"))
        self.fields.addWidget(field)
        field.setFixedWidth(46)
        field.settled.connect(lambda value: self.tried.emit())
        return field

    def show_outcome(self, cut: Cut, size: tuple[int, int] | None, current: bool) -> None:
        """Say what this cut would give, or why it cannot be made."""
        self.rects = []
        fault = size is None
        text = "Choose or add a sheet first."
        if size is not None:
            try:
                self.rects = rectangles(cut, *size)
                first = self.rects[0]
                text = f"{counted(len(self.rects), 'frame')} of {first.width} × {first.height} pixels"
                text += ", as it is cut now." if current else "."
            except LeanStepError as error:
                text, fault = f"{error.reason[0].upper()}{error.reason[1:]}. {error.way_out}", True
        self.outcome.setText(text)
        self.outcome.setProperty("role", "fault" if fault and size is not None else "soft")
        self.outcome.style().unpolish(self.outcome)
        self.outcome.style().polish(self.outcome)
        self.apply.setEnabled(not fault and not current)
        self.thumb.rects = self.rects
        self.thumb.update()
        self.setStyleSheet(
            f"#card {{ background: {theme.paper.leaf}; border: {2 if current else 1}px solid "
            f"{theme.paper.chosen if current else theme.paper.edge}; border-radius: 6px; }}"
        )


class SheetsStation(ListStation):
    """Images on the left, the ways to cut above, the sheet in the middle, its frames on the ground below."""

    field, what, kind = "sheets", "sheet", "sheet"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        session = desk.session
        self.list.setAccessibleName("Sheets")
        self.sentence = label("", "soft")
        self.view = SheetView(session)
        self.view.chose.connect(self._selection)
        self.strip = Strip(session)
        self.by_count = Card("I know how many", "Columns and rows.", self.view)
        self.columns = self.by_count.add_field(
            "columns", NumberField("Columns", "How many cells side by side", 1, 4096)
        )
        self.rows = self.by_count.add_field("rows", NumberField("Rows", "How many rows of cells", 1, 4096))
        self.by_size = Card("I know the cell", "Cell size, margin and gap in pixels.", self.view)
        self.width_field = self.by_size.add_field("cell", NumberField("Cell width", "Width of a cell", 1, 8192))
        self.height_field = self.by_size.add_field("×", NumberField("Cell height", "Height of a cell", 1, 8192))
        self.margin = self.by_size.add_field("margin", NumberField("Margin", "Pixels around all cells", 0, 4096))
        self.gap = self.by_size.add_field("gap", NumberField("Gap", "Pixels between cells", 0, 4096))
        self._trying: Card | None = None
        session.art.changed.connect(self.refresh)
        for card in (self.by_count, self.by_size):
            card.tried.connect(lambda card=card: self._try(card))
            card.meant.connect(lambda card=card: self._cut(card))
        self.make_clip = button(
            "Make a clip of them …", "Make a clip of the chosen frames, in this order", self.new_clip, True
        )
        self.chosen_text = label("Drag over cells to choose frames for a clip.", "soft")
        self._lay_out()
        self.follow()

    def _lay_out(self) -> None:
        adder = button("Add a sheet …", "Bring an image in (Ctrl+Shift+A), or drop one on the window", self.ask)
        head = QHBoxLayout()
        head.addWidget(self.name)
        head.addWidget(self.sentence, 1)
        cards = QHBoxLayout()
        cards.setSpacing(10)
        cards.addWidget(self.by_count)
        cards.addWidget(self.by_size)
        pick = QHBoxLayout()
        pick.addWidget(self.chosen_text, 1)
        pick.addWidget(self.make_clip)
        middle = QVBoxLayout()
        middle.addLayout(head)
        middle.addLayout(cards)
        middle.addWidget(self.view, 1)
        middle.addLayout(pick)
        scroll = QScrollArea()
        scroll.setWidget(self.strip)
        scroll.setFixedHeight(126)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        middle.addWidget(scroll)
        self.beside_list(self.list_column(adder), middle)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [
            command(self, "Add a sheet …", "Ctrl+Shift+A", self.ask),
            command(self, "Make a clip of the chosen frames", "", self.new_clip),
        ]

    # --- what is shown

    def chosen_anew(self) -> None:
        self._trying = None

    @property
    def sheet(self) -> Sheet | None:
        """The chosen sheet."""
        return self.part

    def show_part(self, part: Sheet | None) -> None:
        if self._trying is None:
            self._show_cut(part)
        self._show_outcomes()
        self._selection()

    def _show_cut(self, sheet: Sheet | None) -> None:
        """Put the sheet's cut into the fields; the other card gets the same cells in its own terms."""
        if sheet is None:
            return
        cut, size = sheet.cut, self._size()
        for field, value in (
            (self.columns, cut.columns),
            (self.rows, cut.rows),
            (self.width_field, cut.width),
            (self.height_field, cut.height),
            (self.margin, cut.margin),
            (self.gap, cut.gap),
        ):
            field.show_value(value)
        if cut.way == "count" and size:
            self.width_field.show_value(size[0] // cut.columns)
            self.height_field.show_value(size[1] // cut.rows)
        elif size:
            self.columns.show_value(max(1, size[0] // (cut.width + cut.gap)))
            self.rows.show_value(max(1, size[1] // (cut.height + cut.gap)))

    def _size(self) -> tuple[int, int] | None:
        loaded = self.session.art.sheet(self.current) if self.sheet else None
        if isinstance(loaded, Loaded):
            return loaded.image.width(), loaded.image.height()
        if isinstance(loaded, ImageResized):
            return loaded.size
        sheet = self.sheet
        return (sheet.size[0], sheet.size[1]) if sheet and sheet.size else None

    def _cut_of(self, card: Card) -> Cut:
        if card is self.by_count:
            return Cut(columns=int(self.columns.value()), rows=int(self.rows.value()))
        return Cut(
            way="size",
            width=int(self.width_field.value()),
            height=int(self.height_field.value()),
            margin=int(self.margin.value()),
            gap=int(self.gap.value()),
        )

    def _show_outcomes(self) -> None:
        sheet, size = self.sheet, self._size()
        for card in (self.by_count, self.by_size):
            cut = self._cut_of(card)
            card.show_outcome(cut, size, sheet is not None and cut == sheet.cut and size == (sheet.size or size))
        loaded = self.session.art.sheet(self.current) if sheet else None
        waiting = sheet is not None and loaded is None
        self.view.show_sheet(loaded, self._trying.rects if self._trying else [], waiting)
        if isinstance(loaded, Loaded):
            self.sentence.setText(f"{sheet.image if sheet else ''}, {size[0]} × {size[1]} pixels" if size else "")
        else:
            self.sentence.setText("")

    def _selection(self) -> None:
        chosen = self.view.chosen
        loaded = self.view.loaded
        everything = list(range(len(loaded.cut.frames))) if isinstance(loaded, Loaded) else []
        self.strip.show_frames(self.current, chosen or everything)
        self.make_clip.setEnabled(bool(chosen))
        text = ", ".join(map(str, chosen[:12])) + (" …" if len(chosen) > 12 else "")
        self.chosen_text.setText(
            f"{len(chosen)} chosen: {text}" if chosen else "Drag over cells to choose frames for a clip."
        )

    # --- edits

    def _try(self, card: Card) -> None:
        self._trying = card
        self._show_outcomes()
        self._show_outcomes()

    def _cut(self, card: Card) -> None:
        sheet, size = self.sheet, self._size()
        if sheet is None or size is None:
            return
        cut, at = self._cut_of(card), self.index
        self._trying = None
        self.session.edit(
            f"cut {sheet.name} into {len(card.rects)} frames",
            lambda document: change(document, ("sheets", at), cut=cut, size=size),
        )

    def ask(self) -> None:
        """Ask for an image and bring it in as a sheet."""
        name, _ = QFileDialog.getOpenFileName(
            self, "Add a sheet", str(self.session.last_folder), "Images (*.png *.gif *.webp *.bmp *.jpg *.jpeg)"
        )
        if name:
            self.session.bring_in(self.take_file, Path(name))

    def take_file(self, path: Path) -> None:
        self.add_image(path)
        self.session.wanted.emit("sheet")

    def add_image(self, path: Path) -> None:
        """Bring an image in as a new sheet; raises :class:`LeanStepError` when it is none."""
        folder = self.session.folder

        def brought() -> tuple[Pixels, str]:
            pixels = read_image(path)
            return pixels, adopt_image(path, folder)

        pixels, image = self.session.beside.wait_for(f"Reading {path.name} …", brought)
        name = free_name(path.stem, [sheet.name for sheet in self.session.document.sheets])
        sheet = Sheet(name=name, image=image, size=(pixels.shape[1], pixels.shape[0]))
        self._trying = None
        self.make(f"added sheet {name}", sheet)

    def new_clip(self) -> None:
        """Make a clip of the chosen frames."""
        frames, sheet = list(self.view.chosen), self.current
        if not frames:
            self.session.said.emit("Drag over cells first: a clip is made of the chosen frames.")
            return
        taken = [clip.name for clip in self.session.document.clips]
        name = ask_name(self, "clip", free_name("clip", taken), taken)
        if name is not None:
            clip = Clip(name=name, sheet=sheet, cels=tuple(Cel(frame=frame) for frame in frames))
            self.session.edit(f"made clip {name}", lambda document: append(document, ("clips",), clip))
            self.session.show(Thing("clip", name))
