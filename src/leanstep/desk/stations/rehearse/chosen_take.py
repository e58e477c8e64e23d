"""The take on the timeline: chosen, played, recorded, kept and changed."""

from __future__ import annotations

from contextlib import suppress

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox

from leanstep.core.character.edits import append, free_name, put
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk.again import Again
from leanstep.desk.context import Context
from leanstep.desk.stations.rehearse.course import CourseView
from leanstep.desk.stations.rehearse.found_table import FoundTable
from leanstep.desk.stations.station import Station


class ChosenTake(Station):
    """The take on the timeline, played on the ``course``, recorded, kept and changed."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        self.live = desk.live
        self.trace: Trace | None = None
        self.course = CourseView(desk.session, self.live, desk.starts)
        self.loop = QCheckBox("loop")
        self.loop.setToolTip("Play the take over and over")

    @property
    def current(self) -> str:
        """The name of the take on the timeline: the chosen one, else the first; empty when there is none."""
        names, chosen = [take.name for take in self.session.document.takes], self.session.selection.thing("take")
        return chosen.name if chosen is not None and chosen.name in names else names[0] if names else ""

    @property
    def take(self) -> Take | None:
        """The take on the timeline."""
        return next((take for take in self.session.document.takes if take.name == self.current), None)

    def _index(self) -> int:
        return [take.name for take in self.session.document.takes].index(self.current)

    def choose(self, name: str) -> None:
        """Put a take on the timeline."""
        self.session.select(Thing("take", name))

    def _put_take(self, before: Take, made: Take, said: str) -> None:
        at = [take.name for take in self.session.document.takes].index(before.name)
        self.session.edit(f"{said} {made.name}", lambda document: put(document, ("takes", at), made))

    def look(self, tick: int) -> None:
        """Show one tick of the take."""
        if self.take is None or self.trace is None or not self.trace.steps:
            return
        self.live.look(self.take, self.trace, tick)

    def play(self) -> None:
        """Play the take, or stop it."""
        if self.live.mode == "playing":
            self.live.leave()
            return
        if self.take is not None:
            try:
                self.live.play(self.take, self.loop.isChecked())
            except LeanStepError as error:
                self.session.said.emit(f"{error.reason[0].upper()}{error.reason[1:]}. {error.way_out}")

    def _drive(self) -> None:
        self.live.toggle()
        self.course.setFocus(Qt.FocusReason.OtherFocusReason)

    def record(self) -> None:
        """Begin a take, or end the one that is being recorded."""
        if self.live.recording is not None:
            self._add(self.live.recorded_take(self._free_name()))
            return
        self.live.record()
        self.session.said.emit("Recording. Press “End the take” (Ctrl+T) when you are done.")
        self.course.setFocus(Qt.FocusReason.OtherFocusReason)

    def keep(self) -> None:
        """Make a take of what was steered last."""
        take = self.live.kept_take(self._free_name())
        if take is None:
            self.session.said.emit("There is nothing to keep: steer the character first.")
        else:
            self.live.leave()
            seconds = take.ticks / self.session.document.rate
            self._add(take, f"kept the last {seconds:.1f} s of steering as")

    def _bring_log(self, take: Take) -> None:
        """Make a take of what went into a game."""
        self._add(take, "made of the game's log")

    def _cut_short(self, take: Take, why: str) -> None:
        """Keep what was recorded until something else ended it."""
        self._add(replace(take, name=self._free_name()))
        self.session.said.emit(f"{why}; {self.current} has what came before. Undo takes it back.")

    def _free_name(self) -> str:
        return free_name("take", [take.name for take in self.session.document.takes])

    def _add(self, take: Take | None, said: str = "recorded") -> None:
        if take is None:
            self.session.said.emit("Nothing was recorded.")
            return
        thing = Thing("take", take.name)
        self.session.edit(
            f"{said} {take.name}",
            lambda document: append(document, ("takes",), take),
            select=lambda selection: selection.choose(thing),
        )

    def _keep_found(self, take: Take) -> None:
        """Keep what was found as a take."""
        names = [one.name for one in self.session.document.takes]
        self._add(replace(take, name=free_name(take.name, names)))

    def _change_take(self, values: dict[str, object]) -> None:
        """Give the take other values; what it does from its new end on is left out."""
        take = self.take
        if take is not None:
            ticks = values.get("ticks", take.ticks)
            kept = tuple(one for one in take.changes if one.at < ticks)  # type: ignore[operator]
            at, made = self._index(), replace(take, changes=kept, **values)
            self.session.edit(
                f"changed take {take.name}",
                lambda document: put(document, ("takes", at), made),
                f"take {take.name} {sorted(values)}",
            )

    def _edited(self, take: Take) -> None:
        at = self._index()
        self.session.edit(f"changed take {take.name}", lambda document: put(document, ("takes", at), take))

    def remove(self) -> None:
        """Remove the take on the timeline."""
        if self.take is not None:
            self.session.remove(Thing("take", self.current))

    # --- its second figure

    def keep_second(self) -> None:
        """The take holds whoever is on the course, in place of whom it held."""
        take, second = self.take, self.live.second
        if take is None:
            self.session.said.emit("There is no take to hold it: record one.")
        elif second is not None:
            self._put_take(take, replace(take, second=second.recorded(0)), "holds a second figure")

    def steer_second(self) -> None:
        """Play the take while hands steer its second figure."""
        take, second = self.take, self.live.second
        if take is not None and take.second is None and second is not None:
            self.keep_second()
            take = self.take
        if take is None or take.second is None:
            self.session.said.emit("Record a take first; then the second figure can be steered against it.")
            return
        try:
            self.live.play(take, steer_second=True)
        except LeanStepError as error:
            self.session.complained.emit(error)
        self.course.setFocus(Qt.FocusReason.OtherFocusReason)

    def second_steered(self, made: Take) -> None:
        """The take holds what hands did with its second figure while it was played."""
        before = next((take for take in self.session.document.takes if take.name == made.name), None)
        if before is not None:
            self.choose(made.name)
            self._put_take(before, made, "steered the second figure of")

    def play_found(self, table: FoundTable, take: Take) -> None:
        """Play what a table found; a take of before and after beside what it did before, where it could be played then."""
        again: Again | None = None
        if table.before is not None:
            with suppress(LeanStepError):
                again = Again(table.before, take)
        try:
            self.live.play(take)
        except LeanStepError as error:
            self.session.complained.emit(error)
            return
        self.live.again = again
