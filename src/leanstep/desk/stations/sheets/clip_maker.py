"""Clips and figures made of a sheet's frames."""

from __future__ import annotations

import msgspec

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name
from leanstep.core.character.starting import shows_nothing, walking
from leanstep.core.clips.families import with_families
from leanstep.core.naming.references import Thing
from leanstep.core.sheets.gait_guess import idle_and_walk
from leanstep.core.wording import counted
from leanstep.desk.art import Loaded
from leanstep.desk.stations.sheets.frame_picks import FramePicks
from leanstep.desk.stations.sheets.row_names import ask_names
from leanstep.desk.stations.sheets.shown_sheet import ShownSheet
from leanstep.desk.stations.sheets.walk_panel import WalkPanel


class ClipMaker:
    """Makes clips of the chosen frames or of rows, and a figure that stands and walks."""

    def __init__(self, station: ShownSheet, picks: FramePicks, walk: WalkPanel) -> None:
        self.station, self.session, self.view = station, station.session, station.view
        self.picks, self.walk = picks, walk

    def ask_to_steer(self) -> None:
        """Ask which rows stand and walk, to make a figure that is steered at once."""
        loaded, rows, sheet = self.view.loaded, self.picks.rows(), self.station.sheet
        if sheet is None or not isinstance(loaded, Loaded) or not rows:
            self.session.said.emit("Cut a sheet first: its rows become a figure that stands and walks.")
        elif not shows_nothing(self.session.document):
            self.session.said.emit("There is a figure already: make clips of the rows, and show them in Graph.")
        else:
            self.walk.ask(sheet.name, rows, *idle_and_walk(loaded.cut, rows), sheet.facing)

    def steer(self, idle: int, walk: int, facing: str) -> None:
        """Make a figure that stands and walks of two rows, and steer it."""
        loaded, rows, at = self.view.loaded, self.picks.rows(), self.station.index
        if not isinstance(loaded, Loaded) or max(idle, walk) >= len(rows):
            return
        # with one row only, its first frame stands
        standing = rows[idle][:1] if idle == walk else rows[idle]
        name, height = self.station.current, loaded.cut.shown_height

        def made(document: Character) -> Character:
            document = change(document, ("sheets", at), facing=facing)
            return walking(document, name, standing, rows[walk], height)

        self.session.edit(f"made a figure of {name} that stands and walks", made)
        self.session.said.emit(f"Steer {name} with the arrow keys; Esc lets go.")
        self.station.desk.live.drive()

    def new_clip(self) -> None:
        """Make a clip of the chosen frames."""
        frames, sheet = list(self.view.chosen), self.station.current
        if not frames:
            self.session.said.emit("Drag over cells first: a clip is made of the chosen frames.")
            return
        name = free_name("clip", [clip.name for clip in self.session.document.clips])
        clip = Clip(name=name, sheet=sheet, cels=tuple(Cel(frame=frame) for frame in frames))
        self.session.edit(f"made {name}", lambda document: append(document, ("clips",), clip))
        self.session.show(Thing("clip", name))
        self.session.pointed.emit({"clip": name, "new": True})

    def clips_of_rows(self) -> None:
        """Make a clip of every row, or of what is chosen of each, with names that are asked for."""
        chosen, sheet, image = set(self.view.chosen), self.station.current, self.view.image
        rows = [[frame for frame in row if not chosen or frame in chosen] for row in self.picks.rows()]
        rows = [row for row in rows if row]
        if not rows or image is None:
            self.session.said.emit("There are no drawn frames yet.")
            return
        frames = [self.view.frames[row[0]] for row in rows]
        pictures = [image.copy(one.x, one.y, one.width, one.height) for one in frames]
        names = ask_names(self.station, sheet, pictures, {clip.name for clip in self.session.document.clips})
        if not names:
            return
        clips = tuple(
            Clip(name=name, sheet=sheet, cels=tuple(Cel(frame=frame) for frame in row))
            for name, row in zip(names, rows)
        )
        self.session.edit(
            f"made {counted(len(clips), 'clip')} of {sheet}",
            lambda document: with_families(msgspec.structs.replace(document, clips=(*document.clips, *clips)), names),
        )
