"""A tool on the large picture: what hands change there while its switch is on."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QCheckBox, QWidget

from leanstep.core.character.clips import Clip
from leanstep.desk.stations.clips.clip_player import ClipPlayer


class PictureTool:
    """One at a time is in hand: the one whose switch, ``on``, is on.  ``hands`` says to the picture whether it is; ``rows`` stand
    below the film meanwhile."""

    def __init__(self, station: ClipPlayer, name: str, tip: str, rows: QWidget, hands: Callable[[bool], None]) -> None:
        self.station, self.session = station, station.session
        self.rows, self._hands = rows, hands
        rows.hide()
        self.on = QCheckBox(name)
        self.on.setToolTip(tip)
        self.on.toggled.connect(self._switch)

    @property
    def cel(self) -> int:
        """The cel that is shown."""
        clip = self.station.clip
        return min(self.station.large.cel or 0, max(0, len(clip.cels) - 1)) if clip is not None else 0

    def show(self, clip: Clip | None) -> None:
        """Show what the tool changes of a clip."""
        raise AssertionError("a tool shows what it changes")

    def _switch(self, on: bool) -> None:
        for other in self.station.tools if on else ():
            if other is not self:
                other.on.setChecked(False)
        self._hands(on)
        self.station.show_rows()
        if on:
            self.station.stand()
            self.station.large.setFocus()
        self.show(self.station.clip)
