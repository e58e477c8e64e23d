"""Ways to choose frames of a sheet."""

from __future__ import annotations

from collections.abc import Callable

from leanstep.core.sheets.gait_guess import rows_of_cut
from leanstep.desk.art import Loaded
from leanstep.desk.stations.sheets.frame_edits import FrameEdits
from leanstep.desk.stations.sheets.parts_view import PartsView
from leanstep.desk.widgets.number_dialog import ask_number


class FramePicks:
    """Chooses frames of a view by rows, columns or in steps."""

    def __init__(self, view: PartsView, edits: FrameEdits) -> None:
        self.view, self.edits = view, edits

    def ways(self) -> list[tuple[str, Callable[[], object]]]:
        """What can be chosen, in words."""
        return [
            ("Choose the whole row", self.choose_rows),
            ("Choose the whole column", self.choose_columns),
            ("Choose every so many …", self.choose_every),
            ("Choose all frames", self.choose_all),
            ("Choose no frames", lambda: self.view.choose([])),
            ("The chosen rows face right", lambda: self.edits.set_row_facing("right")),
            ("The chosen rows face left", lambda: self.edits.set_row_facing("left")),
        ]

    def choose_all(self) -> None:
        """Choose all frames."""
        self.view.choose(list(range(len(self.view.frames))))

    def rows(self) -> list[list[int]]:
        """The sheet's frames row by row, without empty ones."""
        loaded = self.view.loaded
        return rows_of_cut(loaded.cut) if isinstance(loaded, Loaded) else []

    def choose_rows(self) -> None:
        """Choose the rows of the chosen frames."""
        chosen = set(self.view.chosen)
        self.view.choose([number for row in self.rows() if chosen & set(row) for number in row])

    def choose_columns(self) -> None:
        """Choose the columns of the chosen frames."""
        frames = self.view.frames
        middles = [frames[number].x + frames[number].width / 2 for number in self.view.chosen]
        self.view.choose(
            [n for n, one in enumerate(frames) if any(one.x <= middle < one.x + one.width for middle in middles)]
        )

    def choose_every(self) -> None:
        """Keep every n-th of the chosen frames, or of all when none is chosen."""
        step = ask_number(self.view, "Choose every so many", "Every how many frames?", 2, 2, 999, whole=True)
        if step is not None:
            self.view.choose((self.view.chosen or list(range(len(self.view.frames))))[:: int(step)])
