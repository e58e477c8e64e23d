"""Filling a ring, the hub or a spoke of a dial at once, from a family of clips or from rows of a sheet."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from leanstep.core.bearings import WAYS, way_word
from leanstep.core.blends.space import Space
from leanstep.core.character.blends import BlendSpace, Sample
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.sheets import Sheet
from leanstep.core.clips.families import (
    EVERY,
    SENSES,
    Family,
    bearings_of_rows,
    clips_of_rows,
    directions,
    families,
    ring,
)
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.cutting import rectangles
from leanstep.core.sheets.drawings import boxes_of, rows_of
from leanstep.core.wording import counted
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, button, label

USUAL = ("idle", "walk", "run")
"""What the clips of rows are called unless something else is typed: those of the hub, of the first ring, of the next."""
COUNTS = (8, 5, 4)
"""How many rows are taken to be directions of one movement."""


@dataclass(frozen=True)
class Source:
    """Something a ring is filled from: a family, or rows of a sheet from ``first`` on."""

    said: str
    family: Family | None = None
    sheet: str = ""
    first: int = 0
    rows: tuple[tuple[int, ...], ...] = ()


class FillRow(QWidget):
    """Where from, which row is which direction, and what to fill."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.blend: BlendSpace | None = None
        self.space = Space((), ())
        self.probe: tuple[float, ...] = ()
        self.sources: list[Source] = []
        self.source = DropDown()
        self.source.setAccessibleName("Fill from")
        self.source.setToolTip("A family of clips, or rows of a sheet that show one movement in all directions")
        self.source.currentIndexChanged.connect(lambda at: self._show_rows())
        self.source.setMinimumWidth(170)
        self.order = DropDown()
        self.order.setAccessibleName("The rows show")
        self.order.setToolTip(
            "Which way the figure of the first of these rows looks, and which way round the next ones go; the sheet remembers it"
        )
        self.order.addItems([f"{way}, then {sense}" for sense in SENSES for way in WAYS])
        self.order.setMinimumWidth(170)
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the clips")
        self.name.setToolTip("The new clips are called this, with their direction behind it")
        self.name.setFixedWidth(80)
        self.words = [label("rows:", "soft"), label("called", "soft")]
        self.hub = button("Hub", "Stand these in the middle, where the speed is lowest", lambda: self.fill(False))
        self.ring = button("Ring", "Stand these at the needle's speed, all the way round", lambda: self.fill(True))
        self.spoke = button(
            "Spoke",
            "Stand the clips of the needle's direction of every family on the rings, from slow to fast",
            self.fill_spoke,
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label("From", "soft"))
        row.addWidget(self.source)
        for word, widget in zip(self.words, (self.order, self.name)):
            row.addWidget(word)
            row.addWidget(widget)
        row.addStretch(1)
        row.addWidget(label("fill the", "soft"))
        for widget in (self.hub, self.ring, self.spoke):
            row.addWidget(widget)

    # --- what is shown

    def show_blend(self, blend: BlendSpace, space: Space, probe: tuple[float, ...]) -> None:
        """Show what can fill a dial whose needle is at ``probe``."""
        self.blend, self.space, self.probe = blend, space, probe
        found = sources_of(self.session.document)
        if found != self.sources:
            before = self.source.currentText()
            self.sources = found
            self.source.blockSignals(True)
            self.source.clear()
            self.source.addItems([one.said for one in found])
            fresh = next((at for at, one in enumerate(found) if one.sheet and not _used(self.session.document, one)), 0)
            kept = self.source.findText(before)
            again = kept >= 0 and not (found[kept].sheet and _used(self.session.document, found[kept]))
            self.source.setCurrentIndex(kept if again else fresh)
            self.source.blockSignals(False)
            self._show_rows()
        for widget in (self.hub, self.ring, self.spoke):
            widget.setEnabled(bool(found))
        self.spoke.setEnabled(bool(families(clip.name for clip in self.session.document.clips)))
        self.hub.setVisible(self._out >= 0)
        self.spoke.setVisible(self._out >= 0)
        self._offer_name()

    def _show_rows(self) -> None:
        chosen = self._chosen
        rows = chosen is not None and chosen.family is None
        for widget in (*self.words, self.order, self.name):
            widget.setVisible(rows)
        if chosen is None or not rows:
            return
        sheet = self._sheet(chosen)
        told = bearings_of_rows(sheet, chosen.first, len(chosen.rows)) if sheet is not None else None
        first = told[0] if told else 180.0
        clockwise = len(told or ()) < 2 or told is None or directions(2, first, True) == told[:2]
        onward = clockwise and (told or len(chosen.rows) != 5)
        self.order.setCurrentIndex(round(first / EVERY) % len(WAYS) + (0 if onward else len(WAYS)))
        self._offer_name()

    def _offer_name(self) -> None:
        """What the next clips will probably be called."""
        taken = {family.name.split(" ")[0] for family in families(clip.name for clip in self.session.document.clips)}
        if not self.name.hasFocus():
            self.name.setText(next((word for word in USUAL if word not in taken), "move"))

    @property
    def _chosen(self) -> Source | None:
        at = self.source.currentIndex()
        return self.sources[at] if 0 <= at < len(self.sources) else None

    def _sheet(self, source: Source) -> Sheet | None:
        return next((sheet for sheet in self.session.document.sheets if sheet.name == source.sheet), None)

    @property
    def _out(self) -> int:
        return self.space.dial[1] if self.space.dial is not None else -1

    # --- filling

    def fill(self, going: bool) -> None:
        """Fill the ring at the needle's speed (``going``) or the hub."""
        source, blend = self._chosen, self.blend
        if source is None or blend is None or self.space.dial is None:
            return
        document, clips = self.session.document, {}
        if source.family is not None:
            clips = dict(source.family.clips)
        else:
            document, clips = self._made(document, source)
        out = self._value(going)
        fixed = {sheet.name for sheet in document.sheets if not sheet.mirrors}
        allowed = not any(clip.sheet in fixed for clip in document.clips if clip.name in clips.values())
        made = ring(clips, len(self.space.axes), self.space.dial[0], out, allowed)
        where = "hub" if not going else "ring" if self._out < 0 else f"ring at {out:g}"
        mirrored = sum(sample.mirrored for sample in made)
        said = f"filled the {where} of {blend.name} with {counted(len(made), 'sample')}"
        self._put(document, [one for one in blend.samples if not self._on(one, out)], made, said)
        if mirrored:
            self.session.said.emit(
                f"{counted(mirrored, 'direction')} of {len(made)} are mirrored: they have wings on the dial."
            )

    def fill_spoke(self) -> None:
        """Fill the needle's direction on every ring."""
        blend = self.blend
        if blend is None or self.space.dial is None or self._out < 0:
            return
        around, axis = self.space.dial[0], self.space.axes[self._out]
        bearing = round(self.probe[around] / EVERY) % len(WAYS) * EVERY
        speeds = sorted({place[self._out] for place in self.space.places if place[self._out] == place[self._out]})
        known = families(clip.name for clip in self.session.document.clips)
        if len(speeds) < len(known):
            speeds = [axis.low + axis.step * at for at in range(len(known)) if axis.low + axis.step * at <= axis.high]
        made = []
        for family, speed in zip(known, speeds):
            made += [
                one for one in ring(family.clips, len(self.space.axes), around, speed) if one.at[around] == bearing
            ]
        places = {one.at for one in made}
        kept = [one for one in blend.samples if one.at not in places]
        self._put(self.session.document, kept, made, f"filled the spoke {way_word(bearing)} of {blend.name}")

    def _value(self, going: bool) -> float:
        """The speed of the ring that is filled: a ruling above the lowest one, or the lowest one."""
        if self._out < 0:
            return 0.0
        axis = self.space.axes[self._out]
        return min(axis.high, max(axis.low + axis.step, axis.caught(self.probe[self._out]))) if going else axis.low

    def _on(self, sample: Sample, out: float) -> bool:
        return self._out < 0 or sample.at[self._out] == out

    def _made(self, document: Character, source: Source) -> tuple[Character, dict[float, str]]:
        """The document with clips of rows and what is known of the rows now; and the clips by direction."""
        sense, first = divmod(self.order.currentIndex(), len(WAYS))
        bearings = directions(len(source.rows), EVERY * first, sense == 0)
        made = clips_of_rows(source.sheet, self.name.text().strip() or USUAL[1], source.rows, bearings)
        names = {clip.name for clip in made}
        kept = tuple(clip for clip in document.clips if clip.name not in names)
        document = msgspec.structs.replace(document, clips=(*kept, *made))
        at = next(number for number, sheet in enumerate(document.sheets) if sheet.name == source.sheet)
        told = {str(source.first + row): bearing for row, bearing in enumerate(bearings)}
        document = change(document, ("sheets", at), row_bearing=document.sheets[at].row_bearing | told)
        return document, {bearing: clip.name for bearing, clip in zip(bearings, made)}

    def _put(self, document: Character, kept: list[Sample], made: list[Sample], said: str) -> None:
        assert self.blend is not None
        at = next(number for number, one in enumerate(document.blends) if one.name == self.blend.name)
        filled = change(document, ("blends", at), samples=(*kept, *made))
        self.session.edit(said, lambda _: filled)


def sources_of(document: Character) -> list[Source]:
    """What a ring can be filled from: families of clips, and blocks of rows of the sheets."""
    found = [Source(family.name, family) for family in families(clip.name for clip in document.clips)]
    for sheet in document.sheets:
        rows = _rows_of(sheet)
        count = next((one for one in COUNTS if len(rows) >= one and len(rows) % one == 0), 0)
        for first in range(0, len(rows), count) if count else ():
            block = tuple(rows[first : first + count])
            said = f"rows {first + 1} to {first + count} of {sheet.name}"
            found.append(Source(said, None, sheet.name, first, block))
    return found


def _rows_of(sheet: Sheet) -> list[tuple[int, ...]]:
    if not sheet.size:
        return []
    try:
        return [tuple(row) for row in rows_of(boxes_of(rectangles(sheet.cut, *sheet.size)))]
    except LeanStepError:
        return []


def _used(document: Character, source: Source) -> bool:
    """Whether some clip shows a frame of these rows."""
    frames = {frame for row in source.rows for frame in row}
    return any(frames & clip.frames_of(source.sheet) for clip in document.clips)
