"""The path of a clip on the course: a line with the figure's silhouettes at its keys, which are dragged there."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPolygonF

from leanstep.core.character.clips import Clip
from leanstep.core.character.edits import change
from leanstep.core.clips.timing import timing, units
from leanstep.core.clips.travel import at, laid
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.drawable import of_cel_number
from leanstep.core.rehearsal.situation import Situation
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import theme

REACH = 9.0
"""Pixels within which a key is taken hold of."""
FINE = 60
"""Pieces a path is drawn in."""
FAINT = 0.32
"""How much of a silhouette is seen."""
Place = Callable[[float, float], QPointF]


class CoursePath:
    """The path of the clip that was chosen last, from where the figure stands, or where it set off on it."""

    def __init__(self, session: Session, live: Simulation) -> None:
        self.session, self.live = session, live
        self.key = 0
        self.held = False

    @property
    def clips(self) -> list[str]:
        """The clips that travel."""
        return [clip.name for clip in self.session.document.clips if clip.travel is not None]

    @property
    def clip(self) -> Clip | None:
        """The clip whose path is shown."""
        chosen = self.session.selection.thing("clip")
        found = [one for one in self.session.document.clips if chosen is not None and one.name == chosen.name]
        return found[0] if found and found[0].travel is not None else None

    def choose(self, name: str) -> None:
        """Show the path of a clip."""
        self.key = 0
        self.session.select(Thing("clip", name))

    def start(self, situation: Situation) -> tuple[float, float, float]:
        """Where the path begins, and which way it goes: 1 to the right, -1 to the left."""
        body, clip = situation.body, self.clip
        way = -1.0 if body.facing < 0 or (self.session.document.body.model == "above" and body.side < 0) else 1.0
        machine = self.live.machine
        for layer, state in enumerate(situation.states):
            picture = machine.pictures[layer][state]
            reel = picture.reels[situation.picks[layer]] if picture is not None else None
            if reel is not None and clip is not None and reel.clip.name == clip.name and reel.goes:
                ahead, up = at(reel.path, situation.playheads[layer])
                return body.x - ahead * way, body.y - up, way
        return body.x, body.y, way

    def keys(self, situation: Situation) -> list[tuple[float, float]]:
        """Where the keys are on the course."""
        clip = self.clip
        if clip is None or clip.travel is None:
            return []
        x, y, way = self.start(situation)
        rows = laid(clip.travel)
        places = [at(rows, units(key.at)) for key in clip.travel.keys]
        return [(x + ahead * way, y + up) for ahead, up in places]

    def draw(self, painter: QPainter, place: Place, situation: Situation, scale: float) -> None:
        """The path, with silhouettes of the figure at its keys."""
        clip = self.clip
        if clip is None or clip.travel is None:
            return
        x, y, way = self.start(situation)
        rows, made = laid(clip.travel), timing(clip)
        places = [at(rows, made.length * step // FINE) for step in range(FINE + 1)]
        for number, (key_x, key_y) in enumerate(self.keys(situation)):
            cel = made.cel_at(min(units(clip.travel.keys[number].at), made.length - 1))
            if cel is not None:
                shown = of_cel_number(self.session.machine, clip, cel, mirrored=way < 0)
                paint.figure(painter, self.session.art, shown, place(key_x, key_y), scale, FAINT)
        painter.setPen(paint.pen("chosen", 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF([place(x + ahead * way, y + up) for ahead, up in places]))

    def draw_keys(self, painter: QPainter, place: Place, situation: Situation) -> None:
        """What is dragged, over everything else."""
        for number, (key_x, key_y) in enumerate(self.keys(situation)):
            painter.setPen(paint.pen("ink", 1.4))
            painter.setBrush(theme.colour("chosen" if number == self.key else "leaf"))
            painter.drawEllipse(place(key_x, key_y), 5, 5)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    # --- hands

    def press(self, where: QPointF, place: Place, situation: Situation) -> bool:
        """Take hold of the key at a place of the screen; whether there is one."""
        near = [((place(*key) - where).manhattanLength(), number) for number, key in enumerate(self.keys(situation))]
        away, number = min(near, default=(1e9, 0))
        self.held = away <= REACH
        if self.held:
            self.key = number
        return self.held

    def drag(self, x: float, y: float, situation: Situation) -> None:
        """The held key is to be at a place of the course."""
        clip = self.clip
        if self.held and clip is not None and clip.travel is not None:
            start_x, start_y, way = self.start(situation)
            travel = clip.travel
            self._put(round((x - start_x) * way / travel.scale_x), round((y - start_y) / travel.scale_y))

    def let_go(self) -> None:
        """The drag has ended."""
        if self.held:
            self.session.end_merge()
        self.held = False

    def key_pressed(self, event: QKeyEvent) -> bool:
        """Arrow keys move the chosen key by a unit (Shift: by ten), Page up and Page down choose another; whether it was one."""
        clip = self.clip
        if clip is None or clip.travel is None:
            return False
        by = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        step = {
            Qt.Key.Key_Left: (-by, 0.0),
            Qt.Key.Key_Right: (by, 0.0),
            Qt.Key.Key_Up: (0.0, by),
            Qt.Key.Key_Down: (0.0, -by),
        }.get(Qt.Key(event.key()))
        turn = {Qt.Key.Key_PageUp: -1, Qt.Key.Key_PageDown: 1}.get(Qt.Key(event.key()), 0)
        if turn:
            self.key = max(0, min(len(clip.travel.keys) - 1, self.key + turn))
            return True
        if step is None:
            return False
        one, way = clip.travel.keys[self._chosen(clip)], self.start(self.live.situation)[2]
        self._put(one.x + step[0] * way, one.y + step[1])
        return True

    def _chosen(self, clip: Clip) -> int:
        assert clip.travel is not None
        return max(0, min(len(clip.travel.keys) - 1, self.key))

    def _put(self, x: float, y: float) -> None:
        clip = self.clip
        assert clip is not None and clip.travel is not None
        number, travel = self._chosen(clip), clip.travel
        keys = list(travel.keys)
        keys[number] = replace(keys[number], x=float(x), y=float(y))
        if not any(key.x or key.y for key in keys):
            self.session.said.emit(
                "Not moved: the path would have no length. Take it out in Clips if it is not wanted."
            )
            return
        index = next(at for at, one in enumerate(self.session.document.clips) if one.name == clip.name)
        self.session.edit(
            f"moved key {number + 1} of the path ({clip.name})",
            lambda document: change(document, ("clips", index), travel=replace(travel, keys=tuple(keys))),
            f"path {clip.name} {number}",
        )
