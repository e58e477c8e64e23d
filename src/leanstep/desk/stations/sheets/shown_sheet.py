"""The chosen sheet, as edits of it know it."""

from __future__ import annotations

from leanstep.core.character.sheets import Sheet
from leanstep.core.errors import LeanStepError
from leanstep.desk.art import Loaded, Unfitted
from leanstep.desk.context import Context
from leanstep.desk.stations.sheets.parts_view import PartsView
from leanstep.desk.stations.sheets.suggesting import Suggesting
from leanstep.desk.stations.sheets.ways_to_cut import WaysToCut
from leanstep.desk.widgets.list_station import ListStation


class ShownSheet(ListStation):
    """The chosen sheet in its view, the ways to cut it, and what is worked out about it beside the window."""

    field, what, kind = "sheets", "sheet", "sheet"

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        self.suggesting = Suggesting()
        self.destroyed.connect(self.suggesting.close)
        self.view = PartsView()
        self.ways = WaysToCut(self.suggesting, lambda: self.view.image)

    def show_outcomes(self) -> None:
        """Show what the ways to cut come to."""
        raise AssertionError("a station shows what the ways to cut come to")

    @property
    def sheet(self) -> Sheet | None:
        """The chosen sheet."""
        return self.part

    def shown_sheet(self) -> Loaded | LeanStepError | None:
        """The chosen sheet with its pixels, or why it is not shown."""
        return self.session.art.sheet(self.current) if self.sheet else None

    def image_size(self) -> tuple[int, int] | None:
        """Width and height of the image as it is."""
        loaded = self.shown_sheet()
        if isinstance(loaded, Loaded | Unfitted):
            return loaded.image.width(), loaded.image.height()
        sheet = self.sheet
        return (sheet.size[0], sheet.size[1]) if sheet and sheet.size else None
