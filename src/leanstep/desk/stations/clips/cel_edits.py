"""Edits of a clip's cels: which frames they show, how, for how long, and in which order."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec
from PySide6.QtCore import QPoint

from leanstep.core.character.clips import Cel
from leanstep.core.character.edits import put
from leanstep.core.clips.events import with_cels
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
            order = list(reversed(range(len(clip.cels))))
            self._put(f"reversed {self.station.current}", [clip.cels[one] for one in order], order)

    def set_all_ticks(self, ticks: float) -> None:
        """Every cel of the chosen clips is shown so long."""
        chosen = {one.name for one in self.station.chosen}
        clips = []
        for clip in self.session.document.clips:
            cels = tuple(msgspec.structs.replace(cel, ticks=ticks) for cel in clip.cels)
            clips.append(with_cels(clip, cels, range(len(cels))) if clip.name in chosen and cels else clip)
        self.session.edit(
            f"set every cel of {self.station.chosen_words} to {ticks:g} ticks",
            lambda document: msgspec.structs.replace(document, clips=tuple(clips)),
            f"all ticks {sorted(chosen)}",
        )

    def set_chosen(self, what: str, **values: object) -> None:
        """Set something of all chosen cels."""
        self._change(
            self.station.film.all, what, lambda cel: msgspec.structs.replace(cel, **values), str(sorted(values))
        )

    def _change(self, chosen: list[int], what: str, made: Callable[[Cel], Cel], merge: str) -> None:
        clip = self.station.clip
        if clip is not None and chosen and max(chosen) < len(clip.cels):
            cels = [made(cel) if at in chosen else cel for at, cel in enumerate(clip.cels)]
            words = f"{a_few(len(chosen), 'cel')} of {self.station.current}"
            self._put(
                f"changed {what} of {words}", cels, range(len(cels)), f"cel {self.station.current} {chosen} {merge}"
            )

    def stretch(self, cel: int, ticks: float) -> None:
        """The edge of a cel is dragged."""
        self._change([cel], "the time", lambda one: msgspec.structs.replace(one, ticks=ticks), "ticks")

    def longer(self, ticks: float) -> None:
        """All chosen cels are shown longer, or shorter, but for at least one tick."""
        self._change(
            self.station.film.all,
            "the time",
            lambda one: msgspec.structs.replace(one, ticks=max(min(1.0, one.ticks), one.ticks + ticks)),
            "ticks",
        )

    def _put(self, said: str, cels: Sequence[Cel], origin: Sequence[int], merge: str = "") -> None:
        """Other cels, with marks and spans staying with theirs; ``origin`` says which old cel each one was."""
        clip, at = self.station.clip, self.station.index
        assert clip is not None
        made = with_cels(clip, cels, origin)
        self.session.edit(said, lambda document: put(document, ("clips", at), made), merge)

    def add(self) -> None:
        """Put a cel behind the chosen one: the next frame, as long as the chosen one."""
        clip = self.station.clip
        if clip is None:
            return
        chosen = self.station.film.chosen
        like = clip.cels[chosen] if clip.cels else Cel(frame=-1)
        cel = Cel(frame=like.frame + 1, ticks=like.ticks)
        where = chosen + 1 if clip.cels else 0
        self.station.film.choose(where)
        places = list(range(len(clip.cels)))
        cels = [*clip.cels[:where], cel, *clip.cels[where:]]
        self._put(f"added a cel to {self.station.current}", cels, [*places[:where], -1, *places[where:]])

    def move(self, step: int) -> None:
        """The chosen cels change places with what is before or behind them."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is None or not chosen or not 0 <= chosen[0 if step < 0 else -1] + step < len(clip.cels):
            return
        order = list(range(len(clip.cels)))
        for at in chosen if step < 0 else reversed(chosen):
            order.insert(at + step, order.pop(at))
        self.station.film.shift(step)
        self._put(
            f"moved {a_few(len(chosen), 'cel')} of {self.station.current}", [clip.cels[one] for one in order], order
        )

    def double(self) -> None:
        """The chosen cels once more, behind the last of them."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is not None and chosen:
            behind = chosen[-1] + 1
            order = [*range(behind), *chosen, *range(behind, len(clip.cels))]
            origin = [*range(behind), *([-1] * len(chosen)), *range(behind, len(clip.cels))]
            self.station.film.choose(*range(behind, behind + len(chosen)))
            self._put(
                f"duplicated {a_few(len(chosen), 'cel')} of {self.station.current}",
                [clip.cels[one] for one in order],
                origin,
            )

    def remove(self) -> None:
        """Take the chosen cels out."""
        clip, chosen = self.station.clip, self.station.film.all
        if clip is not None and chosen:
            order = [one for one in range(len(clip.cels)) if one not in chosen]
            self.station.film.choose(max(0, min(chosen[0], len(order) - 1)))
            self._put(
                f"took {a_few(len(chosen), 'cel')} out of {self.station.current}",
                [clip.cels[one] for one in order],
                order,
            )

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
