"""What the chosen sheet stands in for: the costume it belongs to, when that is worn, and what it lacks."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from leanstep.core.character import costume_edits
from leanstep.core.character import stand_in_edits as stand_ins
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.edits import change, free_name, put
from leanstep.core.character.sheets import Ground, Sheet
from leanstep.core.graph.costumes import Differences, compared
from leanstep.core.naming.references import Thing
from leanstep.core.sheets.background import Pixels
from leanstep.core.sheets.images import prepared
from leanstep.core.sheets.palette import palette
from leanstep.core.sheets.recutting import frames_shown
from leanstep.core.wording import counted, numbered
from leanstep.desk.art import Loaded
from leanstep.desk.session import Session
from leanstep.desk.stations.sheets.colour_row import ColourRow
from leanstep.desk.widgets.basics import NameField, NumberField, button, fill_combo, label, lay_in_lines, name_choice

NOTHING, NEW, NO_CHOICE = "no other sheet", "a new costume", "no choice"
MOST_COLOURS = 24
"""Colours of a sheet that can be exchanged by hand."""
NAMED = 8
"""Frames that are named in a sentence."""


class CostumeRow(QWidget):
    """``tried``: the sheet is to be seen in these colours before they count (None: no more); ``made``: a sheet has been made.

    What is shown instead of what, when, and what is lacking.  ``chosen`` are the frames that are chosen."""

    tried = Signal(object)
    made = Signal(str)

    def __init__(self, session: Session, chosen: Callable[[], list[int]]) -> None:
        super().__init__()
        self.session, self._chosen = session, chosen
        self.sheet: Sheet | None = None
        self._counted: tuple[Pixels, Ground | None, list[tuple[str, float]]] | None = None
        self.instead = name_choice("Shown instead of", "The sheet that this one stands in for", self._set_instead)
        self.costume = name_choice("In costume", "The costume it belongs to", self._set_costume)
        self.name = NameField("costume")
        self.name.setMinimumWidth(110)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(session.said)
        self.parameter = name_choice("Worn by", "A choice by which the costume is worn", self._set_parameter)
        self.value = name_choice("Worn with", "The choice with which it is", self._set_value)
        self.new_choice = button(
            "By a choice", "It is worn by a choice: the one of other costumes, or a new parameter", self._by_new_choice
        )
        self.remove = button("Remove", "Remove the costume; its sheets stay", self._remove)
        self.said = label("", "soft")
        self.as_it_is = button(
            "Show as it is", "Of what is lacking the original is shown, and is meant to be", self._as_they_are
        )
        self.feet = button("Same feet", "Frames that stand elsewhere get the feet of the original", self._same_feet)
        self.keep = button(
            "Chosen as they are",
            "In place of the chosen frames the original is shown, or (pressed again) these once more",
            self._keep,
        )
        self.number = NumberField(
            "Shown for frame", "The frame of the original that the chosen one is shown for", 0, 99_999
        )
        self.number.setPrefix("chosen for ")
        self.number.setMinimumWidth(104)
        self.number.settled.connect(lambda value: self._stand_for(int(value)))
        self.colours = ColourRow()
        self.colours.tried.connect(self.tried)
        self.colours.meant.connect(self._recolour)
        self.recolour = button(
            "A costume of other colours",
            "A costume with the same pictures, whose colours are others",
            self._in_other_colours,
        )
        belongs = (label("in", "soft"), self.costume, label("called", "soft"), self.name, self.remove)
        worn = (label("Worn while", "soft"), self.parameter, label("is", "soft"), self.value, self.new_choice)
        self._of_costume: list[QWidget] = [*belongs, *worn]
        lines = (
            (label("Shown instead of", "soft"), self.instead, *belongs),
            (*worn, self.keep, self.number),
            (self.said, self.as_it_is, self.feet),
            (self.colours, self.recolour),
        )
        lay_in_lines(self, lines).addStretch(1)

    # --- what is shown

    @property
    def place(self) -> stand_ins.Place | None:
        """The costume the sheet belongs to, and what stands in there."""
        return (
            stand_ins.place_of(self.session.document, stand_ins.COSTUMES, self.sheet.name)
            if self.sheet is not None
            else None
        )

    @property
    def _worn(self) -> tuple[Costume, StandIn] | None:
        place, costumes = self.place, self.session.document.costumes
        return None if place is None else (costumes[place[0]], costumes[place[0]].sheets[place[1]])

    def show_sheet(self, sheet: Sheet | None) -> None:
        """Show what a sheet stands in for."""
        self.sheet = sheet
        document, worn = self.session.document, self._worn
        others = [one.name for one in document.sheets if sheet is None or one.name != sheet.name]
        fill_combo(self.instead, [NOTHING, *others], worn[1].sheet if worn is not None else NOTHING)
        self.instead.setEnabled(sheet is not None and bool(others))
        for part in self._of_costume:
            part.setVisible(worn is not None)
        if worn is not None:
            costume = worn[0]
            fill_combo(self.costume, [*(one.name for one in document.costumes), NEW], costume.name)
            self.name.show_name(
                costume.name, lambda name: self.session.rename_fault(Thing("costume", costume.name), name)
            )
            choices = {one.name: one.choices for one in document.parameters if one.kind == "choice"}
            fill_combo(self.parameter, [NO_CHOICE, *choices], costume.parameter or NO_CHOICE)
            fill_combo(self.value, [*choices.get(costume.parameter, ())], costume.value)
            self.value.setEnabled(bool(costume.parameter))
            self.new_choice.setVisible(not costume.parameter)
            for choice in (self.costume, self.parameter, self.value):
                choice.updateGeometry()
        self.recolour.setVisible(worn is None and sheet is not None)
        self.colours.setVisible(worn is not None)
        if worn is not None and sheet is not None and self.isVisible():
            self.colours.show_colours(self._palette(sheet), sheet)

    def _palette(self, sheet: Sheet) -> list[tuple[str, float]]:
        """The colours of a sheet's image without its ground, counted once."""
        loaded = self.session.art.sheet(sheet.name)
        if not isinstance(loaded, Loaded):
            return []
        plain, source = replace(sheet, colours=()), loaded.cut.source
        known = self._counted
        if known is None or known[0] is not source or known[1] != sheet.ground:
            pixels = prepared(plain, source) if sheet.colours else loaded.cut.pixels
            known = self._counted = source, sheet.ground, palette(pixels, MOST_COLOURS)
        return known[2]

    def show_choice(self) -> None:
        """Show what is lacking, and what can be done with the chosen frames; nothing while it is not seen."""
        if not self.isVisible():
            return
        worn, found, chosen = self._worn, self._differences(), self._chosen()
        self.as_it_is.setVisible(bool(found and found.lacks))
        self.feet.setVisible(bool(found and found.elsewhere))
        self.keep.setVisible(worn is not None)
        self.keep.setEnabled(bool(chosen))
        self.number.setVisible(worn is not None)
        self.number.setEnabled(len(chosen) == 1)
        if worn is None:
            self.said.setText(
                "It is shown where clips show it. Choose a sheet of the same layout, and it becomes a costume for that."
            )
            return
        if len(chosen) == 1:
            self.number.show_value(next(iter(self._originals(worn[1], chosen)), chosen[0]))
        self.said.setText(
            _in_words(worn[1], found) if found is not None else "Its picture, or the other one, cannot be seen."
        )

    def _differences(self) -> Differences | None:
        worn = self._worn
        if worn is None:
            return None
        own, other = (self.session.art.sheet(name) for name in (worn[1].sheet, worn[1].by))
        if not isinstance(own, Loaded) or not isinstance(other, Loaded):
            return None
        return compared(worn[1], frames_shown(self.session.document, worn[1].sheet), own.cut.frames, other.cut.frames)

    def _originals(self, part: StandIn, frames: list[int]) -> list[int]:
        """The frames of the original that these are shown for."""
        elsewhere = {other: int(number) for number, other in part.frames.items()}
        return [elsewhere.get(one, one) for one in frames if one in elsewhere or str(one) not in part.frames]

    # --- edits

    def _set_instead(self, name: str) -> None:
        sheet = self.sheet
        if sheet is None:
            return
        if name == NOTHING:
            self.session.edit(
                f"{sheet.name} stands in for nothing",
                lambda document: stand_ins.without_place(document, stand_ins.COSTUMES, sheet.name),
            )
            return
        worn = self._worn
        costume = worn[0].name if worn is not None else ""
        self.session.edit(
            f"{sheet.name} is shown instead of {name}",
            lambda document: costume_edits.worn_instead(document, sheet.name, name, costume),
        )

    def _set_costume(self, name: str) -> None:
        sheet, worn = self.sheet, self._worn
        if sheet is None or worn is None or name == worn[0].name:
            return
        names = [one.name for one in self.session.document.costumes]
        wanted = free_name(sheet.name, names) if name == NEW else name
        self.session.edit(
            f"put {sheet.name} into costume {wanted}",
            lambda document: costume_edits.worn_instead(document, sheet.name, worn[1].sheet, wanted),
        )

    def _rename(self, name: str) -> None:
        worn = self._worn
        if worn is not None:
            self.session.rename(Thing("costume", worn[0].name), name)

    def _set_parameter(self, name: str) -> None:
        choices = next((one.choices for one in self.session.document.parameters if one.name == name), ())
        self._change(parameter="" if name == NO_CHOICE else name, value=choices[0] if choices else "")

    def _set_value(self, value: str) -> None:
        self._change(value=value)

    def _change(self, **values: object) -> None:
        place, worn = self.place, self._worn
        if place is not None and worn is not None:
            self.session.edit(
                f"changed when costume {worn[0].name} is worn",
                lambda document: change(document, ("costumes", place[0]), **values),
            )

    def _by_new_choice(self) -> None:
        place, worn = self.place, self._worn
        if place is not None and worn is not None:
            self.session.edit(
                f"costume {worn[0].name} is worn by a choice",
                lambda document: stand_ins.by_new_choice(document, place[0]),
            )

    def _recolour(self, was: str, to: str) -> None:
        sheet = self.sheet
        if sheet is not None:
            at = next(at for at, one in enumerate(self.session.document.sheets) if one.name == sheet.name)
            self.session.edit(
                f"exchanged a colour of {sheet.name}",
                lambda document: put(document, ("sheets", at), costume_edits.with_colour(document.sheets[at], was, to)),
            )

    def _in_other_colours(self) -> None:
        sheet = self.sheet
        if sheet is not None:
            made, name = costume_edits.in_other_colours(self.session.document, sheet.name)
            self.session.edit(f"made a costume of {sheet.name} in other colours", lambda document: made)
            self.made.emit(name)

    def _remove(self) -> None:
        worn = self._worn
        if worn is not None:
            self.session.remove(Thing("costume", worn[0].name))

    def _as_they_are(self) -> None:
        place, found = self.place, self._differences()
        if place is not None and found is not None and found.lacks:
            self.session.edit(
                f"showed {counted(len(found.lacks), 'frame')} as without the costume",
                lambda document: costume_edits.as_they_are(document, place, found.lacks),
            )

    def _same_feet(self) -> None:
        sheet, found = self.sheet, self._differences()
        if sheet is not None and found is not None:
            self.session.edit(
                f"gave {sheet.name} the feet of the original",
                lambda document: costume_edits.with_feet(document, sheet.name, found.elsewhere),
            )

    def _keep(self) -> None:
        place, worn = self.place, self._worn
        if place is None or worn is None:
            return
        frames = self._originals(worn[1], self._chosen())
        on = not set(frames) <= set(worn[1].original)
        self.session.edit(
            f"showed {counted(len(frames), 'frame')} {'as without' if on else 'in'} the costume",
            lambda document: costume_edits.as_they_are(document, place, frames, on),
        )

    def _stand_for(self, original: int) -> None:
        place, chosen = self.place, self._chosen()
        if place is not None and len(chosen) == 1:
            self.session.edit(
                f"frame {chosen[0]} is shown for frame {original}",
                lambda document: costume_edits.stands_for(document, place, chosen[0], original),
            )


def _in_words(part: StandIn, found: Differences) -> str:
    """What differs from the original, in a line."""

    frames = partial(numbered, "frame", most=NAMED)
    parts = []
    if found.lacks:
        parts.append(f"lacks {frames(found.lacks)} of {part.sheet}")
    if found.elsewhere:
        parts.append(f"{frames(sorted(found.elsewhere))} stand{'s' if len(found.elsewhere) == 1 else ''} elsewhere")
    if found.larger:
        parts.append(f"{frames(found.larger)} {'has' if len(found.larger) == 1 else 'have'} another size")
    if part.original:
        parts.append(f"{frames(part.original)} as without it")
    text = "; ".join(parts) or f"has all that clips show of {part.sheet}"
    return f"{text[0].upper()}{text[1:]}."
