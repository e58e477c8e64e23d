"""Images that are brought in as sheets, copied beside the character, saved again, and seen in other colours."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PySide6.QtWidgets import QFileDialog

from leanstep.core.character.artwork import copied_in, lies_elsewhere, path_to
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.costume_edits import could_stand_in
from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.edits import append, change, free_name
from leanstep.core.character.sheets import Exchange, Ground, Sheet
from leanstep.core.cut_outs.edits import with_cut_out
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.sheets.images import prepared
from leanstep.core.sheets.reading import Read, read, read_images
from leanstep.core.sheets.recutting import Recut
from leanstep.core.wording import counted
from leanstep.desk.art import Loaded, Unfitted, picture_of
from leanstep.desk.stations.sheets.export_panel import ExportPanel
from leanstep.desk.stations.sheets.frame_edits import FrameEdits
from leanstep.desk.stations.sheets.shown_sheet import ShownSheet
from leanstep.desk.stations.sheets.suggesting import Export


class ImageEdits:
    """Brings images in as the station's person means it, and says where they lie."""

    def __init__(self, station: ShownSheet, edits: FrameEdits, export: ExportPanel) -> None:
        self.station, self.session = station, station.session
        self.edits, self.export = edits, export

    def ask(self) -> None:
        """Ask for images and bring them in as sheets."""
        names, _ = QFileDialog.getOpenFileNames(
            self.station, "Add a sheet", str(self.session.last_folder), "Images (*.png *.gif *.webp *.bmp *.jpg *.jpeg)"
        )
        if names:
            self.session.bring_in(self.station.take_files, [Path(name) for name in names])

    def add(self, paths: list[Path]) -> None:
        """Bring in images that make a new sheet together; raises :class:`LeanStepError` when one is none.

        A moving image, or several in order, come in cut into their pictures, with a clip that shows them.
        """
        folder, first = self.session.folder, paths[0]

        def brought() -> tuple[Read, tuple[str, ...]]:
            found = read(first) if len(paths) == 1 else read_images(paths)
            return found, tuple(path_to(path, folder) for path in paths)

        found, images = self.session.beside.wait_for(f"Reading {first.name} …", brought)
        document = self.session.document
        wanted = first.stem if len(paths) == 1 else first.stem.rstrip("0123456789").rstrip("-_ .") or first.stem
        name = free_name(wanted, [sheet.name for sheet in document.sheets])
        sheet = Sheet(name=name, image=images[0], images=images[1:], size=found.size, cut=found.cut)
        self.station.ways.trying = None
        if found.count == 1:
            self.station.make(f"added sheet {name}", sheet)
            self._say_where(sheet)
            return
        times = found.milliseconds or (1000 / 10,) * found.count
        ticks = [max(1.0, round(time * document.rate / 1000, 3)) for time in times]
        cels = tuple(Cel(frame=number, ticks=time) for number, time in enumerate(ticks))
        clip_name = free_name(name, [one.name for one in document.clips])
        clip = Clip(name=clip_name, sheet=name, loop="repeat" if found.repeats else "once", cels=cels)
        self.session.edit(
            f"added sheet {name} and clip {clip.name}, {found.count} pictures",
            lambda document: append(append(document, ("sheets",), sheet), ("clips",), clip),
            select=lambda selection: selection.choose(Thing("sheet", name)),
        )
        self._say_where(sheet)

    def _say_where(self, sheet: Sheet) -> None:
        """Say of a sheet that was added where its image lies, and which one it may stand in for."""
        said = []
        if lies_elsewhere(sheet.image):
            said.append(f"Its image stays where it lies, {self.where(sheet)}; what is saved there is shown.")
        alike = next((one.name for one in self.session.document.sheets if could_stand_in(sheet, one)), "")
        if alike:
            said.append(f"It is as large as {alike}: “Costume” shows it instead.")
        if said:
            self.session.said.emit(" ".join([f"Added sheet {sheet.name}.", *said]))

    def where(self, sheet: Sheet) -> str:
        """Where a sheet's image lies, in words."""
        if sheet.cut_out is not None:
            return f"drawn from the parts of {sheet.cut_out.of or sheet.cut_out.like}"
        if not lies_elsewhere(sheet.image):
            return sheet.image
        path = (self.session.folder / sheet.image).resolve()
        home = Path.home()
        return f"~/{path.relative_to(home).as_posix()}" if path.is_relative_to(home) else path.as_posix()

    def copy_in(self) -> None:
        """Copy the images of the sheet beside the character."""
        sheet, at = self.station.sheet, self.station.index
        if sheet is None or not any(map(lies_elsewhere, sheet.all_images)):
            self.session.said.emit("The image lies beside the character already.")
            return
        try:
            made = copied_in(sheet, self.session.folder)
        except LeanStepError as error:
            self.session.complained.emit(error)
            return
        self.session.edit(
            f"copied the image of {sheet.name} beside the character, to {made.image}",
            lambda document: change(document, ("sheets", at), image=made.image, images=made.images),
        )

    # --- images saved again, grounds, colours

    def exported(self, name: str, before: Loaded, after: Loaded | Unfitted) -> None:
        """The image of a sheet was saved again."""
        sheet = next((one for one in self.session.document.sheets if one.name == name), None)
        if sheet is not None:
            self.station.suggesting.compare(sheet, before, after)

    def compared(self, export: Export) -> None:
        """What became of the frames of an image that was saved again: said, and asked when any is another one now."""
        sheet = next((one for one in self.session.document.sheets if one.name == export.sheet), None)
        if sheet is None:
            return
        if export.matching.stays and export.cut == sheet.cut:
            changed = counted(export.changed, "drawing") if export.changed else "nothing in its frames"
            self.session.said.emit(f"{sheet.image} was saved again: {changed} changed.")
            return
        self.session.said.emit(f"{sheet.image} was exported again, and its frames are others now: see Sheets.")
        self.station.choose(export.sheet)
        self.export.show_export(export)

    def follow(self, answer: tuple[Export, Recut]) -> None:
        """Clips and feet go with their drawings."""
        export, new = answer
        self.station.choose(export.sheet)
        if self.station.current == export.sheet:
            self.edits.recut(f"followed the drawings of {export.sheet}", new)

    def try_ground(self, ground: Ground) -> None:
        """See the image with a ground cleared before it is."""
        loaded = self.station.shown_sheet()
        if isinstance(loaded, Loaded):
            self.station.suggesting.clear(loaded.cut.source, ground)

    def try_colours(self, colours: tuple[Exchange, ...] | None) -> None:
        """See the sheet in other colours before they count; None: as it is."""
        loaded, sheet = self.station.shown_sheet(), self.station.sheet
        self.station.suggesting.picture = None
        if colours is not None and isinstance(loaded, Loaded) and sheet is not None:
            made = prepared(msgspec.structs.replace(sheet, colours=colours), loaded.cut.source)
            self.station.suggesting.picture = picture_of(made)
        self.station.show_outcomes()

    def draw_otherwise(self, cut_out: CutOut, said: str) -> None:
        """Draw the frames of the sheet otherwise from the parts of another."""
        at = self.station.index
        self.session.edit(f"{said} ({self.station.current})", lambda document: with_cut_out(document, at, cut_out))

    def set_ground(self, ground: Ground | None) -> None:
        """Clear a ground, or put it back."""
        sheet, at = self.station.sheet, self.station.index
        assert sheet is not None
        said = f"cleared the ground of {sheet.name}" if ground is not None else f"put the ground of {sheet.name} back"
        self.station.suggesting.picture = None
        self.session.edit(said, lambda document: change(document, ("sheets", at), ground=ground))
