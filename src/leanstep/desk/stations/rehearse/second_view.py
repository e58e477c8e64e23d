"""The second figure on the course: its picture, the boxes of both, and where they touch."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

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


class SecondView:
    """Draws whoever stands beside the live character; ``boxes``: with the boxes of both."""

    def __init__(self, session: Session, live: Simulation) -> None:
        self.session, self.live = session, live
        self.boxes = True
        self._art: dict[str, Art] = {}

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
        if file not in self._art:
            character, folder = figure.machine.character, self.session.folder / Path(file).parent
            self._art[file] = Art(lambda: character, lambda: folder)
        return self._art[file]


def _on_screen(box: PlacedBox, place: Place) -> QRectF:
    return QRectF(place(box.left, box.top), place(box.right, box.bottom))
