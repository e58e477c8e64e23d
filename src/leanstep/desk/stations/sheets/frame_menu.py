"""What can be done with frames of a sheet, under the right button."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF

from leanstep.desk.stations.sheets.clip_maker import ClipMaker
from leanstep.desk.stations.sheets.frame_edits import FrameEdits
from leanstep.desk.stations.sheets.frame_picks import FramePicks
from leanstep.desk.stations.sheets.parts_view import PartsView
from leanstep.desk.widgets.menu import Deed, Deeds


def frame_deeds(view: PartsView, edits: FrameEdits, picks: FramePicks, maker: ClipMaker, where: QPoint | None) -> Deeds:
    """What can be done with the frames chosen in a view, with that at a place if it is not chosen."""
    frame = view.frame_at(QPointF(where)) if where is not None else None
    if frame is not None and frame not in view.chosen:
        view.choose([frame])
    chosen = len(view.chosen)
    if not chosen:
        return [Deed("Choose all frames", picks.choose_all), Deed("Fit the sheet", view.fit)] if view.frames else []
    return [
        Deed("Make a clip of them" if chosen > 1 else "Make a clip of it", maker.new_clip),
        Deed("A clip a row …", maker.clips_of_rows),
        None,
        Deed("Merge", edits.merge, possible=chosen > 1),
        Deed("Split side by side", lambda: edits.split(False), possible=chosen == 1),
        Deed("Split across", lambda: edits.split(True), possible=chosen == 1),
        Deed("Remove", edits.remove),
        None,
        Deed("Feet as the one before", edits.feet_as_neighbour),
        Deed("Take feet back", edits.forget_feet),
        Deed("Take body boxes back", edits.forget_boxes),
        None,
        *(Deed(text, work) for text, work in picks.ways()),
    ]
