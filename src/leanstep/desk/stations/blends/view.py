"""What rail, dial and plane share: figures on their places, a needle to try values with, and the hands on both."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF, QSizeF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent, QPixmap, QRegion
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.blends.space import Space
from leanstep.core.character.blends import BlendSpace
from leanstep.core.clips.timing import TICK
from leanstep.core.cut_outs.blending import Mixture, mixture
from leanstep.core.rehearsal.drawable import NOTHING, Drawable
from leanstep.desk import paint
from leanstep.desk.kept_pictures import KeptPictures
from leanstep.desk.session import Session
from leanstep.desk.stations.blends.lap import Lap
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.several import Several

CATCH = 6.0
"""Pixels within which a ruling catches a sample."""
MIXED_SIZE = QSizeF(132, 132)
"""Pixels that the picture of a mixed figure takes."""
GRAB = 16.0
"""Pixels within which a sample's handle is taken."""

MOST_LAID = 200
"""Moments of which it is kept where figures stand."""

Values = tuple[float, ...]


@dataclass(frozen=True)
class Standing:
    """A sample as it stands: where its foot is, how much its figure is enlarged (0: none is seen), and the size of its handle.
    ``area`` is all that the figure is drawn on."""

    sample: int
    foot: QPointF
    scale: float
    opacity: float
    handle: float = 5.0
    figure: Drawable = NOTHING
    area: QRect = field(default_factory=QRect)


class BlendView(QWidget):
    """A blend space as a picture.  What was touched last, a sample or the needle, is what the arrow keys move."""

    chose = Signal(int)
    dragged = Signal(int, object)
    """A sample is moved to a place, a number for each axis."""
    probed = Signal(object)
    """The needle points at values, one for each axis."""
    removed = Signal()

    def __init__(self, session: Session, several: Several, name: str, tip: str) -> None:
        super().__init__()
        self.session, self.several = session, several
        self.blend: BlendSpace | None = None
        self.space = Space((), ())
        self.units: list[str] = []
        self.probe: Values = ()
        self.picked: int | None = None
        self.now: Values | None = None
        self.phase = 0
        self.shares: list[float] = []
        """How much of every sample would be in a mix."""
        self._mixture: tuple[Mixture, tuple[QPixmap, QPointF]] | None = None
        self._laps: Lap | None = None
        self.touched = "needle"
        self._drag = ""
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self._below: int | None = None
        self._seen: tuple[tuple[Drawable, ...], Values | None, Values] = ((), None, ())
        self._standing: list[Standing] = []
        """The figures as they were drawn last."""
        self._stood: dict[Hashable, list[Standing]] = {}
        session.changed.connect(self._forget)
        session.art.changed.connect(self._forget)
        self._pictures = KeptPictures(session)
        self.setMinimumHeight(250)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.setToolTip(f"{tip}; Ctrl, Shift: several samples")

    @property
    def chosen(self) -> int:
        """The sample chosen last."""
        return self.several.last

    # --- where things are

    def spot(self, place: Sequence[float]) -> QPointF:
        """Where a place is drawn (NaN: any)."""
        raise AssertionError("a view says where places are")

    def tip(self) -> QPointF | None:
        """Where a needle is taken that may lie on a sample; None where it is taken anywhere."""
        return None

    def values_at(self, where: QPointF) -> Values:
        """The values at a point, kept in range."""
        raise AssertionError("a view says what values are where")

    def draw_ground(self, painter: QPainter) -> None:
        """Draw what does not move: axes, and which sample is picked where."""
        raise AssertionError("a view draws itself")

    def standing(self, shown: Sequence[Drawable]) -> list[Standing]:
        """Where the samples stand that are seen, those before the others last; ``shown`` is what stands at each."""
        raise AssertionError("a view says where samples stand")

    def draw_over(self, painter: QPainter) -> None:
        """Draw what lies over the figures: words and needles."""
        raise AssertionError("a view draws itself")

    # --- what is shown

    def look(self) -> None:
        """Draw again if a figure or the value of now has changed."""
        seen = (self.figures(), self.now, self.probe)
        if seen != self._seen:
            before, self._seen = self._seen, seen
            if before[1:] == seen[1:] and self.mixed() is None and self._standing:
                self._update_figures()
            else:
                self.update()

    def _update_figures(self) -> None:
        """Draw the figures that have changed again, where they are drawn."""
        before, after = self._standing, self._placed()
        changed = QRegion()
        for old, new in zip(before, after):
            if old != new:
                changed += old.area.united(new.area)
        self.update(changed)

    def _placed(self) -> list[Standing]:
        """Where the figures of now stand, with what they are drawn on; they come again and again, and are worked out once."""
        shown = self.figures()
        key = self._looks(), self.probe, self.chosen, self.size().toTuple(), shown
        found = self._stood.get(key)
        if found is None:
            if len(self._stood) >= MOST_LAID:
                self._stood.clear()
            found = self._stood[key] = [
                replace(one, figure=figure, area=paint.area_of(self.session.art, figure, one.foot, one.scale))
                for one in self.standing(shown)
                for figure in [shown[one.sample] if one.scale else NOTHING]
            ]
        return found

    def _looks(self) -> tuple[Hashable, ...]:
        """All of the blend space that decides how it is drawn."""
        samples = tuple((one.clip, one.mirrored) for one in self.blend.samples) if self.blend is not None else ()
        return self.space, samples, tuple(self.units), self.picked

    def _forget(self) -> None:
        """Where figures stand may have changed."""
        self._stood.clear()
        self._laps = None

    @property
    def _lap(self) -> Lap:
        of = self.session.document, self.session.machine, self.blend
        if self._laps is None or not self._laps.is_of(*of):
            self._laps = Lap(*of)
        return self._laps

    def until_next(self) -> int:
        """How far the phase goes on until another cel is seen at a sample, of :data:`TICK`."""
        return self._lap.until_next(self.phase)

    def figures(self) -> tuple[Drawable, ...]:
        """What stands at every sample now."""
        return self._lap.at(self.phase)

    def mixed(self) -> tuple[QPixmap, QPointF] | None:
        """The figure as its samples mix at the needle, with its foot; None where they are not drawn from the same parts."""
        if self.blend is None or len(self.shares) != len(self.blend.samples):
            return None
        found = mixture(self.session.document, self.blend, self.shares, self.phase / TICK)
        if found is None:
            return None
        if self._mixture is None or self._mixture[0] != found:
            made = self.session.art.mixed(found)
            if made is None:
                return None
            self._mixture = found, made
        return self._mixture[1]

    def mixed_at(self) -> QPointF:
        """Where the mixed figure is shown, by its top left corner."""
        return QPointF(10, 10)

    def _draw_mixed(self, painter: QPainter) -> None:
        """The mixed figure."""
        found = self.mixed()
        if found is None:
            return
        picture, foot = found
        box = QRectF(self.mixed_at(), MIXED_SIZE)
        painter.fillRect(box, theme.colour("leaf"))
        painter.setPen(paint.pen("edge"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setFont(font(12, MEDIUM))
        painter.setPen(theme.colour("soft"))
        painter.drawText(box.adjusted(6, 3, -6, 0), Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft, "Mixed")
        scale = paint.whole_scale((picture.width(), picture.height()), box.width() - 8, box.height() - 26)
        at = QPointF(box.center().x() - foot.x() * scale, box.bottom() - 6 - picture.height() * scale)
        painter.drawPixmap(QRectF(at, QSizeF(picture.size()) * scale), picture, QRectF(picture.rect()))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        whole = self.blend is not None and len(self.probe) == len(self.space.axes)
        key = *self._looks(), whole
        self._pictures.put(painter, key, self.rect(), partial(self._draw_ground, whole), "leaf")
        if not whole:
            return
        self._standing, region = self._placed(), event.region()
        for one in self._standing:
            if region.intersects(one.area):
                figure = one.figure, one.foot.toTuple(), one.scale, one.opacity
                self._pictures.put(painter, figure, one.area, partial(self._draw_figure, one), "")
        handles = tuple((one.sample, one.handle) for one in self._standing)
        over = (*key, handles, self.now, self.probe, self.chosen, frozenset(self.several.all))
        self._pictures.put(painter, over, self.rect(), self._draw_over, "")
        self._draw_mixed(painter)

    def _draw_ground(self, whole: bool, painter: QPainter) -> None:
        painter.setPen(paint.pen("edge"))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        if whole:
            self.draw_ground(painter)

    def _draw_figure(self, one: Standing, painter: QPainter) -> None:
        paint.figure(painter, self.session.art, one.figure, one.foot, one.scale, one.opacity)

    def _draw_over(self, painter: QPainter) -> None:
        for one in self._standing:
            self.handle(painter, one.sample, self.spot(self.space.places[one.sample]), one.handle)
        self.draw_over(painter)

    def handle(self, painter: QPainter, at: int, where: QPointF, size: float) -> None:
        """The point by which a sample is taken; two wings where its clip is mirrored."""
        assert self.blend is not None
        chosen = at == self.chosen or at in self.several.all
        painter.setPen(paint.pen("ink", 1.5))
        painter.setBrush(theme.colour("chosen" if chosen else "leaf"))
        painter.drawEllipse(where, size + (2 if chosen else 0), size + (2 if chosen else 0))
        if self.blend.samples[at].mirrored:
            painter.setPen(paint.pen("mark", 2))
            for side in (-1, 1):
                tip = where + QPointF(side * (size + 6), size + 6)
                painter.drawLine(tip, tip + QPointF(-side * 4, -4))
                painter.drawLine(tip, tip + QPointF(-side * 4, 4))

    # --- hands

    def sample_at(self, where: QPointF) -> int | None:
        """The sample whose handle is at a point."""
        spots = [self.spot(place) - where for place in self.space.places]
        away = [math.hypot(one.x(), one.y()) for one in spots]
        best = min(range(len(away)), key=lambda at: away[at], default=None)
        return best if best is not None and away[best] <= GRAB else None

    def caught(self, values: Values, where: QPointF) -> Values:
        """A place for a sample: on the rulings where they are near, else round numbers."""
        found = []
        for at, (axis, value) in enumerate(zip(self.space.axes, values)):
            ruling = axis.caught(value)
            there = self.spot((*values[:at], ruling, *values[at + 1 :])) - where
            near = math.hypot(there.x(), there.y()) <= CATCH
            found.append(ruling if near else float(round(value, 0 if axis.round or abs(value) >= 10 else 1)))
        return tuple(found)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.blend is None:
            return
        sample = self.sample_at(event.position())
        tip = self.tip()
        on_tip = tip is not None and math.dist(tip.toTuple(), event.position().toTuple()) <= GRAB
        self._below = None
        if sample is not None and on_tip:
            # the needle lies on the sample: it is dragged, and a click takes what is below it
            self._drag = self.touched = "needle"
            self._below = sample
        elif sample is not None:
            self.touched = "sample"
            keys = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
            self._drag = "" if keys else "sample"
            # several that are chosen are dragged together
            if keys or sample not in self.several.all:
                self.several.press(sample, keys)
            else:
                self.several.choose(*(one for one in self.several.all if one != sample), sample)
            self.chose.emit(sample)
        else:
            self._drag = self.touched = "needle"
            self.probed.emit(self.values_at(event.position()))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.blend is None or not self._drag:
            return
        values = self.values_at(event.position())
        self._below = None
        if self._drag == "sample":
            place = self.space.places[self.chosen]
            moved = self.caught(values, event.position())
            # what is anywhere on an axis stays so
            self.dragged.emit(self.chosen, tuple(old if math.isnan(old) else new for old, new in zip(place, moved)))
        else:
            self.probed.emit(values)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag == "sample":
            self.session.end_merge()
        self._drag = ""
        if self._below is not None:
            self.touched = "sample"
            self.several.choose(self._below)
            self._below = None
            self.chose.emit(self.chosen)
            self.update()

    ARROWS = {
        Qt.Key.Key_Left: (-1, 0),
        Qt.Key.Key_Right: (1, 0),
        Qt.Key.Key_Down: (0, -1),
        Qt.Key.Key_Up: (0, 1),
    }

    def moved(self, values: Values, right: int, up: int, fine: float) -> Values:
        """Values moved by an arrow key, ``fine`` as a share of the usual step."""
        found = list(values)
        for at, way in enumerate((right, up)[: len(values)]):
            axis = self.space.axes[at]
            found[at] = axis.inside(values[at] + way * fine * (axis.high - axis.low) / 100)
        return tuple(found)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        samples = self.blend.samples if self.blend is not None else ()
        if self.blend is None or not samples:
            super().keyPressEvent(event)
        elif key in self.ARROWS:
            fine = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            if self.touched == "sample":
                self._nudge(*self.ARROWS[key], fine)
            else:
                self.probed.emit(self.moved(self.probe, *self.ARROWS[key], fine))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.touched = "sample"
            beside = (self.chosen + (1 if key == Qt.Key.Key_PageDown else -1)) % len(samples)
            self.several.press(beside, event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.chose.emit(self.chosen)
        elif event.matches(QKeySequence.StandardKey.SelectAll):
            self.touched = "sample"
            self.several.choose(*reversed(range(len(samples))))
            self.chose.emit(self.chosen)
        elif key == Qt.Key.Key_Home:
            self.touched = "needle"
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
        else:
            super().keyPressEvent(event)

    def _nudge(self, right: int, up: int, fine: float) -> None:
        place = self.space.places[self.chosen]
        there = tuple(axis.low if math.isnan(at) else at for axis, at in zip(self.space.axes, place))
        moved = self.nudged(there, right, up, fine)
        self.dragged.emit(self.chosen, tuple(old if math.isnan(old) else new for old, new in zip(place, moved)))

    def nudged(self, place: Values, right: int, up: int, fine: float) -> Values:
        """A sample's place moved by an arrow key: by whole units."""
        return tuple(at + way * fine for at, way in zip(place, (right, up)))
