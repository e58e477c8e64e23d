"""Edits of a clip's cels: which frames they show, how, for how long, and in which order."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from PySide6.QtCore import QPoint

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import put
from leanstep.core.clips import cel_edits
from leanstep.core.wording import a_few
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.widgets.menu import MenuEntries, MenuEntry


class CelEdits:
    """Changes the cels of the station's clip as the person means it."""

    def __init__(self, station: ClipPlayer) -> None:
        self.station, self.session = station, station.session

    def set_sheet(self, sheet: str) -> None:
        """The chosen cels show frames of another sheet."""
        if self.station.clip is not None:
            self.set_chosen("the sheet", sheet="" if sheet == self.station.clip.sheet else sheet)

    def reverse(self) -> None:
        """Lay the cels out backwards."""
        clip = self.station.clip
        if clip is not None and len(clip.cels) > 1:
            self._put(f"reversed {clip.name}", cel_edits.turned_round(clip))

    def set_all_ticks(self, ticks: float) -> None:
        """Every cel of the chosen clips is shown so long."""
        chosen = {one.name for one in self.station.chosen}

        def made(document: Character) -> Character:
            clips = (
                cel_edits.shown_for(one, ticks) if one.name in chosen and one.cels else one for one in document.clips
            )
            return msgspec.structs.replace(document, clips=tuple(clips))

        said = f"set every cel of {self.station.chosen_words} to {ticks:g} ticks"
        self.session.edit(said, made, f"all ticks {sorted(chosen)}")

    def set_chosen(self, what: str, **values: object) -> None:
        """Set something of all chosen cels."""
        self._change(
            self.station.film.all, what, lambda cel: msgspec.structs.replace(cel, **values), str(sorted(values))
        )

    def _change(self, chosen: list[int], what: str, made: Callable[[Cel], Cel], merge: str) -> None:
        clip = self.station.clip
        if clip is not None and chosen and max(chosen) < len(clip.cels):
            said = f"changed {what} of {a_few(len(chosen), 'cel')} of {clip.name}"
            self._put(said, cel_edits.changed(clip, chosen, made), f"cel {clip.name} {chosen} {merge}")

    def stretch(self, cel: int, ticks: float) -> None:
        """The edge of a cel is dragged."""
        self._change([cel], "the time", lambda one: msgspec.structs.replace(one, ticks=ticks), "ticks")

    def longer(self, ticks: float) -> None:
        """All chosen cels are shown longer, or shorter, but for at least one tick."""
        self._change(self.station.film.all, "the time", lambda one: cel_edits.longer(one, ticks), "ticks")

    def _put(self, said: str, made: Clip, merge: str = "") -> None:
        at = self.station.index
        self.session.edit(said, lambda document: put(document, ("clips", at), made), merge)

    def add(self) -> None:
        """Put a cel behind the chosen one: the next frame, as long as the chosen one."""
        clip, chosen = self.station.clip, self.station.film.chosen
        if clip is not None:
            self.station.film.choose(chosen + 1 if clip.cels else 0)
            self._put(f"added a cel to {clip.name}", cel_edits.added(clip, chosen))

    def move(self, step: int) -> None:
        """The chosen cels change places with what is before or behind them."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is None or not chosen or not 0 <= chosen[0 if step < 0 else -1] + step < len(clip.cels):
            return
        self.station.film.shift(step)
        self._put(f"moved {a_few(len(chosen), 'cel')} of {clip.name}", cel_edits.moved(clip, chosen, step))

    def double(self) -> None:
        """The chosen cels once more, behind the last of them."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is not None and chosen:
            behind = chosen[-1] + 1
            self.station.film.choose(*range(behind, behind + len(chosen)))
            self._put(f"duplicated {a_few(len(chosen), 'cel')} of {clip.name}", cel_edits.doubled(clip, chosen))

    def remove(self) -> None:
        """Take the chosen cels out."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is not None and chosen:
            made = cel_edits.without(clip, chosen)
            self.station.film.choose(max(0, min(chosen[0], len(made.cels) - 1)))
            self._put(f"took {a_few(len(chosen), 'cel')} out of {clip.name}", made)

    def menu_entries(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the cel at a place of the film."""
        cel = self.station.film.cel_at(where) if where is not None else self.station.film.chosen
        if self.station.clip is None or cel is None or not self.station.clip.cels:
            return [MenuEntry("Add a cel", self.add, possible=self.station.clip is not None)]
        if cel not in self.station.film.all:
            self.station.film.choose(cel)
        one = self.station.clip.cels[cel]
        return [
            MenuEntry("One tick longer", lambda: self.longer(1.0), "+"),
            MenuEntry("One tick shorter", lambda: self.longer(-1.0), "−"),
            MenuEntry(
                "As drawn" if one.mirrored else "Mirrored",
                lambda: self.set_chosen("the mirroring", mirrored=not one.mirrored),
            ),
            MenuEntry("A quarter turn on", lambda: self.set_chosen("the turn", turns=(one.turns + 1) % 4)),
            None,
            MenuEntry("Earlier", lambda: self.move(-1), "Shift+←", self.station.film.all[0] > 0),
            MenuEntry(
                "Later", lambda: self.move(1), "Shift+→", self.station.film.all[-1] < len(self.station.clip.cels) - 1
            ),
            MenuEntry("Duplicate", self.double),
            MenuEntry("Add a cel", self.add),
            MenuEntry("Take out", self.remove, "Delete"),
            None,
            MenuEntry("Choose all", self.station.film.choose_all, "Ctrl+A"),
        ]
