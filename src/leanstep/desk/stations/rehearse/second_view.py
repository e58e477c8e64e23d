"""The second figure on the course: its picture, the boxes of both, and where they touch."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

from leanstep.core.character.document import Character
from leanstep.core.rehearsal.contact import Figure, PlacedBox
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.second_figures import PairSteps, figure_of
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk import paint
from leanstep.desk.art import Art
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import BOLD, font, theme

Place = Callable[[float, float], QPointF]
REACH = 16.0
"""Units about a foot in which a hand takes hold of a figure, however small that is."""


class SecondView:
    """Draws whoever stands beside the live character; ``boxes``: with the boxes of both."""

    def __init__(self, session: Session, live: Simulation) -> None:
        self.session, self.live = session, live
        self.boxes = True
        self._art: tuple[Character, Art] | None = None
        self._held: tuple[float, float] | None = None
        self._trial: tuple[float, float] | None = None

    def now(self, trace: Trace | None) -> tuple[Figure, Situation, str] | None:
        """The second figure, its situation, and the file whose drawings it has; None where nobody is there."""
        live = self.live
        if live.mode == "looking" and trace is not None and isinstance(trace.steps, PairSteps):
            pair, take = trace.steps.pair, live.take
            file = take.second.file if take is not None and take.second is not None else ""
            return pair.figures[1], pair.traces[1].after(min(live.position + 1, len(pair.traces[1].steps))), file
        if live.second is None or live.mode == "looking":
            return None
        return live.second.figure, live.second.side.situation, live.second.written.file

    def seen(self, trace: Trace | None) -> object:
        """What of it is seen now, to be compared."""
        found = self.now(trace)
        if found is None:
            return None
        body = found[1].body
        touching = self.live.second.touching if self.live.second is not None else None
        return found[1].states, found[1].playheads, body.x, body.y, body.facing, touching is not None

    def draw(self, painter: QPainter, place: Place, scale: float, own: Situation, trace: Trace | None) -> None:
        """Draw it, and the boxes of both figures."""
        found = self.now(trace)
        if found is None:
            return
        figure, now, file = found
        if self._trial is not None:
            x, y = self._trial
            now = replace(now, body=replace(now.body, x=x, y=y))
        foot = place(now.body.x, now.body.y + now.body.lift)
        drawable = of_situation(figure.machine, now)
        if not drawable.pieces or not paint.figure(painter, self._drawings(figure, file), drawable, foot, scale):
            body = figure.machine.character.body
            state = figure.machine.layers[0].states[now.states[0]] if figure.machine.layers else ""
            paint.straw(painter, foot, body.width * scale, body.height * scale, state)
        if self.boxes:
            mine = figure_of(self.live.machine).boxes(own)
            for box in (*mine, *figure.boxes(now)):
                paint.action_box(painter, box.kind, _on_screen(box, place))
            self._touching(painter, place, mine, figure.boxes(now))

    def _touching(
        self, painter: QPainter, place: Place, mine: Sequence[PlacedBox], theirs: Sequence[PlacedBox]
    ) -> None:
        """What has touched a moment ago, in words where it did."""
        seen = self.live.second.touching if self.live.second is not None else None
        if seen is None:
            return
        struck = [box for box in (theirs if seen.who == 0 else mine) if box.kind == "vulnerable"]
        if not struck:
            return
        box = _on_screen(struck[0], place)
        painter.setFont(font(13, BOLD))
        text = "guarded" if seen.touch.guarded else "hit"
        wide = painter.fontMetrics().horizontalAdvance(text) + 14
        tag = QRectF(box.center().x() - wide / 2, box.top() - 24, wide, 20)
        painter.fillRect(tag, theme.colour("chosen" if seen.touch.guarded else "error"))
        painter.setPen(theme.colour("on_chosen"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, text)

    def _drawings(self, figure: Figure, file: str) -> Art:
        """The pictures of the second figure."""
        if not file:
            return self.session.art
        character, folder = figure.machine.character, self.session.folder / Path(file).parent
        if self._art is None or self._art[0] is not character:
            self._art = character, Art(lambda: character, lambda: folder)
        return self._art[1]

    # --- under the hand

    @property
    def holds(self) -> bool:
        """Whether a hand has hold of it."""
        return self._held is not None

    def press(self, x: float, y: float) -> bool:
        """Take hold of it where it stands; whether it is there, at a place of the course."""
        second = self.live.second
        if second is None or self.live.mode not in ("idle", "driving"):
            return False
        body = second.side.situation.body
        across, up = x - body.x, y - body.y - body.lift
        if abs(across) > max(body.wide, REACH) / 2 or not -REACH / 4 <= up <= max(body.high, REACH):
            return False
        self._held = across, up
        return True

    def drag(self, x: float, y: float, near: float) -> None:
        """Move it, on whole units; up and down only once it is farther than ``near`` from where it stood."""
        assert self._held is not None and self.live.second is not None
        was = self.live.second.side.situation.body
        to = round(x - self._held[0]), round(y - self._held[1])
        if self._trial is not None or math.hypot(to[0] - was.x, to[1] - was.y) > near:
            self._trial = to[0], to[1] if abs(to[1] - was.y) > near else was.y

    def let_go(self) -> tuple[float, float] | None:
        """Where it was moved to; None where it was not."""
        found, self._held, self._trial = self._trial, None, None
        return found


def _on_screen(box: PlacedBox, place: Place) -> QRectF:
    return QRectF(place(box.left, box.top), place(box.right, box.bottom))
