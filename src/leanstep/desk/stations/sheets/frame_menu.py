"""What can be done with frames of a sheet, under the right button."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF

from leanstep.desk.stations.sheets.clip_maker import ClipMaker
from leanstep.desk.stations.sheets.frame_edits import FrameEdits
from leanstep.desk.stations.sheets.frame_picks import FramePicks
from leanstep.desk.stations.sheets.parts_view import PartsView
from leanstep.desk.widgets.menu import MenuEntries, MenuEntry


def frame_entries(
    view: PartsView, edits: FrameEdits, picks: FramePicks, maker: ClipMaker, where: QPoint | None
) -> MenuEntries:
    """What can be done with the frames chosen in a view, with that at a place if it is not chosen."""
    frame = view.frame_at(QPointF(where)) if where is not None else None
    if frame is not None and frame not in view.chosen:
        view.choose([frame])
    chosen = len(view.chosen)
    if not chosen:
        return (
            [MenuEntry("Choose all frames", picks.choose_all), MenuEntry("Fit the sheet", view.fit)]
            if view.frames
            else []
        )
    return [
        MenuEntry("Make a clip of them" if chosen > 1 else "Make a clip of it", maker.new_clip),
        MenuEntry("A clip a row …", maker.clips_of_rows),
        None,
        MenuEntry("Merge", edits.merge, possible=chosen > 1),
        MenuEntry("Split side by side", lambda: edits.split(False), possible=chosen == 1),
        MenuEntry("Split across", lambda: edits.split(True), possible=chosen == 1),
        MenuEntry("Remove", edits.remove),
        None,
        MenuEntry("Feet as the one before", edits.feet_as_neighbour),
        MenuEntry("Take feet back", edits.forget_feet),
        MenuEntry("Take body boxes back", edits.forget_boxes),
        None,
        *(MenuEntry(text, work) for text, work in picks.ways()),
    ]
