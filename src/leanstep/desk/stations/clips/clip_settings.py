"""What is said of a clip as a whole: what comes at its end, which way it looks, and how long every cel is."""

from __future__ import annotations

from leanstep.core.character.clips import Clip
from leanstep.core.character.edits import change
from leanstep.desk.stations.clips.cel_edits import CelEdits
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.widgets.basics import DropDown, NumberField

LOOPS = (
    ("once", "once, then hold"),
    ("once-and-gone", "once, then nothing"),
    ("repeat", "repeat"),
    ("there-and-back", "there and back"),
)
FACINGS = (("Faces as drawn", ""), ("Faces right", "right"), ("Faces left", "left"))


class ClipSettings:
    """The fields for it; each changes all chosen clips."""

    def __init__(self, station: ClipPlayer, cels: CelEdits) -> None:
        self.station, self.session = station, station.session
        self.back = NumberField("Repeat from cel", "The cel the clip goes on with when it has come to its end", 0, 0)
        self.back.setPrefix("from cel ")
        self.back.setMinimumWidth(86)
        self.back.settled.connect(self._set_back)
        self.loop = DropDown()
        self.loop.setAccessibleName("Loop")
        self.loop.setToolTip("What happens at the clip's end")
        for _, text in LOOPS:
            self.loop.addItem(text)
        self.loop.activated.connect(lambda at: self._set("changed the loop of", loop=LOOPS[at][0]))
        self.facing = DropDown()
        self.facing.setAccessibleName("Facing")
        self.facing.setToolTip("Which way the clip's drawings look")
        for text, facing in FACINGS:
            self.facing.addItem(text, facing)
        self.facing.activated.connect(
            lambda at: self._set("said which way to look for", facing=self.facing.itemData(at))
        )
        self.all_ticks = NumberField("Ticks per cel", "Show every cel this long", 0.25, 1000, "ticks each", whole=False)
        self.all_ticks.setMinimumWidth(96)
        self.all_ticks.settled.connect(cels.set_all_ticks)
        self.frequency = NumberField(
            "Frames per second", "Show every cel for a share of a second", 0.1, 1000, "fps", whole=False
        )
        self.frequency.setMinimumWidth(78)
        self.frequency.settled.connect(lambda value: cels.set_all_ticks(self.session.document.rate / value))

    def show_clip(self, clip: Clip) -> None:
        """Show what is so."""
        self.loop.setCurrentIndex([key for key, _ in LOOPS].index(clip.loop))
        self.back.setVisible(clip.loop == "repeat" and len(clip.cels) > 1)
        self.back.setMaximum(max(0, len(clip.cels) - 1))
        self.back.show_value(clip.repeat_from)
        self.facing.setCurrentIndex(self.facing.findData(clip.facing))
        every = {cel.ticks for cel in clip.cels}
        if len(every) == 1:
            ticks = every.pop()
            self.all_ticks.show_value(ticks)
            self.frequency.show_value(self.session.document.rate / ticks)

    def _set(self, said: str, **values: object) -> None:
        if self.station.clip is not None:
            self.station.set_all(said, "", **values)

    def _set_back(self, cel: float) -> None:
        at, name = self.station.index, self.station.current
        self.session.edit(
            f"let {name} repeat from cel {cel:.0f}",
            lambda document: change(document, ("clips", at), repeat_from=int(cel)),
            f"repeat {name}",
        )
