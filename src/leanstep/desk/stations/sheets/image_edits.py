"""Images that are brought in as sheets, and copied beside the character."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog

from leanstep.core.character.artwork import copied_in, lies_elsewhere, path_to
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.costume_edits import could_stand_in
from leanstep.core.character.edits import append, change, free_name
from leanstep.core.character.sheets import Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.sheets.reading import Read, read, read_images

if TYPE_CHECKING:
    from leanstep.desk.stations.sheets.station import SheetsStation


class ImageEdits:
    """Brings images in as the station's person means it, and says where they lie."""

    def __init__(self, station: SheetsStation) -> None:
        self.station, self.session = station, station.session

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
