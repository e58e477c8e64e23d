"""The four ways to cut side by side, each with what it would give."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.character.sheets import Cut, Pair, Sheet, both
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.recutting import by_hand
from leanstep.core.wording import counted
from leanstep.desk.stations.sheets.cards import Card
from leanstep.desk.stations.sheets.suggesting import Suggesting
from leanstep.desk.widgets.basics import NumberField, Slider, button, label


class WaysToCut(QWidget):
    """``tried``: another outcome is to be shown on the sheet; ``meant``: the sheet is to be cut as a card says."""

    tried = Signal()
    meant = Signal(object)

    def __init__(self, suggesting: Suggesting, image: Callable[[], QImage | None]) -> None:
        super().__init__()
        self.suggesting = suggesting
        self.trying: Card | None = None
        self._number = 0
        self._make_cards(image)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for card, stretch in zip(self.cards, (25, 22, 25, 24)):
            row.addWidget(card, stretch)

    def _make_cards(self, image: Callable[[], QImage | None]) -> None:
        self.suggested = Card("Suggestion", image, self._suggested_cut)
        self.next = button("Another", "Show the next best suggestion", self.next_suggestion)
        self.next.setStyleSheet("padding: 3px 8px;")
        self.suggested.foot.insertWidget(0, self.next, alignment=Qt.AlignmentFlag.AlignBottom)
        self.by_count = Card("I know how many", image, self._count_cut)
        self.columns = NumberField("Columns", "How many cells side by side", 1, 4096)
        self.rows = NumberField("Rows", "How many rows of cells", 1, 4096)
        self.by_count.add_line(self.columns, "columns")
        self.by_count.add_line(self.rows, "rows")
        self.by_size = Card("I know the cell", image, self._size_cut)
        self.width_field = NumberField("Cell width", "Width of a cell", 1, 8192)
        self.height_field = NumberField("Cell height", "Height of a cell", 1, 8192)
        self.margins = [
            NumberField("Margin left", "Pixels left of the cells", 0, 4096),
            NumberField("Margin above", "Pixels above the cells", 0, 4096),
        ]
        self.gaps = [
            NumberField("Gap across", "Pixels between cells side by side", 0, 4096),
            NumberField("Gap down", "Pixels between rows of cells", 0, 4096),
        ]
        self.by_size.add_line(self.width_field, "×", self.height_field, "px")
        self.by_size.add_line(*self.margins, "margin")
        self.by_size.add_line(*self.gaps, "gap")
        self.by_gaps = Card("A frame a drawing", image, self._gaps_cut)
        self.speck = Slider()
        self.speck.setRange(0, 200)
        self.speck.setValue(8)
        self.speck.setFixedWidth(64)
        self.speck.setAccessibleName("Specks")
        self.speck.setToolTip("Drop what has fewer pixels than this")
        self.near = NumberField("Join within", "Join parts that are at most so many pixels from their drawing", 0, 512)
        self.near.show_value(4)
        self.speck_text = label("", "soft")
        self.speck.valueChanged.connect(lambda value: self.try_out(self.by_gaps))
        self.by_gaps.add_line("specks", self.speck, self.speck_text)
        self.by_gaps.add_line("join", self.near, "px")
        self.cards = (self.suggested, self.by_count, self.by_size, self.by_gaps)
        for card in self.cards:
            card.tried.connect(lambda card=card: self.try_out(card))
            card.meant.connect(lambda card=card: self.meant.emit(card))

    def forget(self) -> None:
        """Another sheet was chosen."""
        self.trying, self._number = None, 0

    def try_out(self, card: Card) -> None:
        """Show a card's outcome on the sheet."""
        self.trying = card
        if card is self.by_gaps:
            self.find_drawings()
        self.tried.emit()

    def find_drawings(self) -> None:
        """Look for the drawings as they are asked for now."""
        self.suggesting.find(self.speck.value(), int(self.near.value()))

    @property
    def preview(self) -> list[Rect]:
        """The frames of the card that is tried out."""
        return self.trying.rects if self.trying is not None else []

    def show_outcomes(self, sheet: Sheet | None, size: tuple[int, int] | None, now: list[Rect]) -> None:
        """Say what every card would give of a sheet of which the frames are ``now``."""
        waiting = "Looking at the image …" if self.suggesting.busy else ""
        for card in self.cards:
            card.show_outcome(size, now, waiting)
        self.speck_text.setText(f"{self.speck.value()} px")
        found = self.suggesting.seen.suggestions if self.suggesting.seen is not None and sheet is not None else []
        came = self._made_of
        self.next.setVisible(len(found) > 1 and came is None)
        if came is not None:
            said = f"It came as {counted(len(self.suggested.rects), 'picture')}."
            self.suggested.outcome.setText(said + (" It is cut so." if self.suggested.rects == now else ""))
        elif found:
            said = found[self._number % len(found)].reason
            self.suggested.outcome.setText(said + (" It is cut so." if self.suggested.rects == now else ""))

    def show_cut(self, sheet: Sheet | None, size: tuple[int, int] | None) -> None:
        """Put the sheet's cut into the fields; the other card gets the same cells in its own terms."""
        if sheet is None:
            return
        cut = sheet.cut if sheet.cut.way != "rects" else Cut()
        margin, gap = both(cut.margin), both(cut.gap)
        columns, rows = cut.counts
        width, height = cut.width, cut.height
        if cut.way == "count" and size:
            width, height = size[0] // columns, size[1] // rows
        elif size:
            columns = cut.columns or max(1, (size[0] - margin[0] + gap[0]) // (width + gap[0]))
            rows = cut.rows or max(1, (size[1] - margin[1] + gap[1]) // (height + gap[1]))
        fields = (self.columns, self.rows, self.width_field, self.height_field, *self.margins, *self.gaps)
        for field, value in zip(fields, (columns, rows, width, height, *margin, *gap)):
            field.show_value(value)

    @property
    def _made_of(self) -> Cut | None:
        """The cut into the pictures that the image came with."""
        return self.suggesting.seen.made_of if self.suggesting.seen is not None else None

    def _suggested_cut(self) -> Cut | None:
        seen = self.suggesting.seen
        if self._made_of is not None:
            return self._made_of
        return seen.suggestions[self._number % len(seen.suggestions)].cut if seen and seen.suggestions else None

    def _count_cut(self) -> Cut:
        return Cut(columns=int(self.columns.value()), rows=int(self.rows.value()))

    def _size_cut(self) -> Cut:
        margin, gap = (_pair([int(field.value()) for field in fields]) for fields in (self.margins, self.gaps))
        size = int(self.width_field.value()), int(self.height_field.value())
        return Cut(way="size", width=size[0], height=size[1], margin=margin, gap=gap)

    def _gaps_cut(self) -> Cut | None:
        return None if self.suggesting.found is None else by_hand(self.suggesting.found)

    def next_suggestion(self) -> None:
        """Show the next best suggestion."""
        self._number += 1
        self.try_out(self.suggested)


def _pair(numbers: list[int]) -> Pair:
    return numbers[0] if numbers[0] == numbers[1] else (numbers[0], numbers[1])
