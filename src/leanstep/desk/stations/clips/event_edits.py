"""Edits of a clip's marks and spans."""

from __future__ import annotations

from collections import Counter
from typing import Any

import msgspec
from PySide6.QtCore import QPoint, QPointF
from PySide6.QtWidgets import QMenu

from leanstep.core.character.clips import Clip, Mark, Span
from leanstep.core.character.edits import free_name, put
from leanstep.core.clips import event_edits
from leanstep.core.clips.event_uses import firings
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing, things
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.wording import counted
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.stations.clips.event_choice import Event, Events
from leanstep.desk.stations.clips.event_row import EventRow
from leanstep.desk.widgets.menu import MenuEntries, MenuEntry

LONGEST = 20_000
"""Ticks of a take in which events are counted."""


class EventEdits:
    """Changes the events of the station's clip as the person means it."""

    def __init__(self, station: ClipPlayer, view: Events, row: EventRow) -> None:
        self.station, self.session = station, station.session
        self.view, self.row = view, row
        self.listed: QMenu | None = None
        self.kept: list[Mark | Span] = []

    def show(self) -> None:
        """Show the event that is chosen."""
        view, clip = self.view, self.station.clip
        event = view.event_of(view.chosen[-1]) if view.chosen and view.clip is not None else None
        pins = [pin.name for pin in clip.pins] if clip is not None else []
        self.row.show_event(self.session.document, event, len(view.chosen), pins)

    def _edit(self, said: str, clip: Clip, chosen: list[Mark | Span], merge: str = "") -> None:
        """Take a step to a clip with other events; ``chosen`` are chosen then."""
        at = self.station.index
        self.session.edit(said, lambda document: put(document, ("clips", at), clip), merge)
        now = self.station.clip
        if now is None:
            return
        found = [
            Event("mark", now.marks.index(one)) if isinstance(one, Mark) else Event("span", now.spans.index(one))
            for one in chosen
            if one in (now.marks if isinstance(one, Mark) else now.spans)
        ]
        self.view.choose(found)

    def _chosen(self) -> list[Mark | Span]:
        return [self.view.event_of(one) for one in self.view.chosen]

    def _replaced(self, clip: Clip, before: list[Mark | Span], after: list[Mark | Span]) -> Clip | None:
        """The clip with some events replaced; None, and said, where they cannot all be beside each other."""
        one = event_edits.clash(clip, before, after)
        if one is None:
            return event_edits.replaced(clip, before, after)
        there = f"a mark {one.name} at {one.at:g}" if isinstance(one, Mark) else f"a span {one.name} in this clip"
        self.session.said.emit(f"There is already {there}; nothing was changed.")
        return None

    def make(self, kind: str, name: str, start: float, end: float) -> None:
        """A new mark at a time, or a new span; without a name it gets a free one."""
        clip = self.station.clip
        if clip is None:
            return
        taken = [one.name for one in things(self.session.document) if one.kind in ("mark", "span")]
        if kind == "span":
            name = free_name(name or "window", taken, "_")
        event: Mark | Span = (
            Mark(name=name or free_name("mark", taken, "_"), at=start)
            if kind == "mark"
            else Span(name=name, start=start, end=end)
        )
        made = self._replaced(clip, [], [event])
        if made is not None:
            self._edit(f"added {kind} {event.name} to {clip.name}", made, [event])
            self.row.name.setFocus()
            self.row.name.selectAll()

    def move(self, part: str, by: float) -> None:
        """Move the chosen events, or one end of the chosen spans."""
        clip, before = self.station.clip, self._chosen()
        if clip is None or not before:
            return
        after = event_edits.moved(before, part, by)
        made = self._replaced(clip, before, after)
        if made is not None and after != before:
            what = before[0].name if len(before) == 1 else counted(len(before), "event")
            self._edit(f"moved {what} of {clip.name}", made, after, f"events {clip.name} {what} {part}")

    def change(self, values: dict[str, Any]) -> None:
        """Give the chosen event other values."""
        clip, before = self.station.clip, self._chosen()[:1]
        if clip is None or not before:
            return
        after = msgspec.structs.replace(before[0], **values)
        if isinstance(after, Span) and after.end <= after.start:
            self.session.said.emit("A span ends after it begins; nothing was changed.")
            self.row.show_event(self.session.document, before[0], 1)
            return
        made = self._replaced(clip, before, [after])
        if made is not None:
            self._edit(f"changed {after.name} of {clip.name}", made, [after])

    def rename(self, name: str) -> None:
        """Another name for the chosen event: everywhere; one that others have already makes it one of them."""
        chosen = self._chosen()
        if chosen:
            kind = "mark" if isinstance(chosen[-1], Mark) else "span"
            thing = Thing(kind, chosen[-1].name)
            if Thing(kind, name) in things(self.session.document):
                self._join(name)
                return
            fault = self.session.rename_fault(thing, name)
            if fault:
                self.session.said.emit(f"Not renamed: {fault}.")
                self.show()
            else:
                self.session.rename(thing, name)

    def _join(self, name: str) -> None:
        """The chosen events of a name, here in the clip, become some of another name that there is already."""
        clip, chosen = self.station.clip, self._chosen()
        assert clip is not None
        before: list[Mark | Span] = [one for one in chosen if type(one) is type(chosen[-1])]
        if isinstance(chosen[-1], Mark):
            before = [one for one in clip.marks if one.name == chosen[-1].name]
        after = [msgspec.structs.replace(one, name=name) for one in before]
        made = self._replaced(clip, before, after)
        if made is None:
            self.show()
        else:
            self._edit(f"made {counted(len(after), 'event')} of {clip.name} a {name} like the others", made, after)

    def remove(self) -> None:
        """Remove the chosen events."""
        clip, before = self.station.clip, self._chosen()
        if clip is None or not before:
            return
        made = self._replaced(clip, before, [])
        if made is not None:
            what = before[0].name if len(before) == 1 else counted(len(before), "event")
            self._edit(f"removed {what} from {clip.name}", made, [])

    def copy(self) -> None:
        """Keep the chosen events, to be pasted here or in another clip."""
        self.kept = self._chosen()
        if self.kept:
            self.session.said.emit(f"Copied {counted(len(self.kept), 'event')}.")

    def paste(self, tick: float) -> None:
        """Put what was copied into the clip, where it was if there is room, else from a tick on."""
        clip = self.station.clip
        if clip is None or not self.kept:
            self.session.said.emit("Nothing was copied yet.")
            return
        events = event_edits.pasted(clip, self.kept, float(round(tick)))
        made = self._replaced(clip, [], events)
        if made is not None:
            self._edit(f"pasted {counted(len(events), 'event')} into {clip.name}", made, events)

    def list_all(self) -> None:
        """Every event with where it fires; choosing one goes there."""
        machine, document = self.session.machine, self.session.document

        def marks_of_takes() -> dict[str, Counter[str]]:
            found: dict[str, Counter[str]] = {}
            for take in document.takes:
                try:
                    found[take.name] = Counter(name for _, _, name in rehearse(machine, take, most=LONGEST).marks())
                except LeanStepError:
                    continue  # a take that cannot be played fires nothing
            return found

        found = firings(document, self.session.beside.wait_for("Counting events …", marks_of_takes))
        menu = QMenu(self.station)
        for one in found:
            menu.addAction(one.sentence, lambda one=one: self.session.show(Thing("clip", one.places[0][0])))
        if not found:
            menu.addAction("There are no events yet.").setEnabled(False)
        self.listed = menu
        menu.popup(self.row.mapToGlobal(self.row.rect().topRight()))

    def double(self) -> None:
        """The chosen events once more, a tick later; a span gets a free name."""
        clip, chosen = self.station.clip, self._chosen()
        if clip is None or not chosen:
            return
        copies = event_edits.copies(clip, chosen)
        made = self._replaced(clip, [], copies)
        if made is not None:
            what = chosen[0].name if len(chosen) == 1 else counted(len(chosen), "event")
            self._edit(f"duplicated {what} of {clip.name}", made, copies)

    def menu_entries(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the event at a place."""
        view, clip = self.view, self.station.clip
        if clip is None:
            return []
        held = view.held(QPointF(where)) if where is not None else None
        if held is not None and held[0] not in view.chosen:
            view.choose([held[0]])
        elif held is None and where is not None:
            view.choose([])
        tick = float(round(view.tick_at(where.x()))) if where is not None else max(0.0, float(round(view.playhead)))
        of_events = [
            MenuEntry("Copy", self.copy, "Ctrl+C"),
            MenuEntry("Duplicate", self.double),
            MenuEntry("Remove", self.remove, "Delete"),
            None,
        ]
        return [
            *(of_events if view.chosen else []),
            MenuEntry("A mark here", lambda: self.make("mark", "", tick, 0.0), "Insert"),
            MenuEntry("Paste here", lambda: self.paste(tick), "Ctrl+V", bool(self.kept)),
            MenuEntry("All events", self.list_all),
        ]
