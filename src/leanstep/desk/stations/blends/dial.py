"""The dial: direction and speed.  The angle is the direction as seen on the screen, the radius how fast; the figure stands at
each sample as it will face."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath

from leanstep.core.bearings import CIRCLE, WAYS, across, along, bearing_of, reduced, way_word
from leanstep.core.blends.coverage import place_words
from leanstep.core.rehearsal.drawable import Drawable
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.blends.cells import Cells
from leanstep.desk.stations.blends.view import BlendView, Standing, Values
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.several import Several

HUB = 0.2
"""The share of the radius within which a figure stands still."""
INNER = 0.115
"""Where samples at the lowest speed stand, as a share of the radius."""
FAST = 0.88
"""Where samples at the highest speed stand."""
SLENDER, TALL, MOST, LEAST = 0.6, 0.85, 128.0, 18.0
"""The shares of a cell a figure fills across and up, and the most and fewest pixels one is high."""
ALONE = 0.7
"""Where samples stand that only have a direction."""
RIM = 44.0
"""Pixels around the dial for its words."""


class Dial(BlendView):
    """Samples by direction and speed, with a needle."""

    def __init__(self, session: Session, several: Several) -> None:
        super().__init__(
            session,
            several,
            "Dial",
            "Drag a sample to place it, drag the needle to try a direction; ←/→ turn what was touched last, ↑/↓ make it faster or "
            "slower (Shift ×10), Page up/down choose a sample, Delete removes it",
        )
        self._cells = Cells()
        self._key: object = None
        self._laid: tuple[list[QPointF], list[float], frozenset[int]] = ([], [], frozenset())

    # --- where things are

    @property
    def around(self) -> int:
        """The number of the axis that is the direction."""
        return self.space.dial[0] if self.space.dial is not None else 0

    @property
    def out(self) -> int:
        """The number of the axis that is the radius; -1 when there is none."""
        return self.space.dial[1] if self.space.dial is not None else -1

    @property
    def radius(self) -> float:
        """The radius of the dial in pixels."""
        return max(60.0, min(self.width(), self.height()) / 2 - RIM)

    @property
    def centre(self) -> QPointF:
        """The middle of the dial."""
        return QPointF(max(self.radius + RIM, self.width() * 0.42), self.height() / 2 + 16)

    def share_of(self, speed: float) -> float:
        """How far out a value lies, as a share of the radius."""
        axis = self.space.axes[self.out]
        speed = axis.inside(speed)
        if speed <= axis.low:
            return INNER
        return HUB + (FAST - HUB) * (speed - axis.low) / (axis.high - axis.low)

    def spot(self, place: Sequence[float]) -> QPointF:
        bearing = place[self.around]
        speed = place[self.out] if self.out >= 0 else math.nan
        share = ALONE if self.out < 0 else (FAST + HUB) / 2 if math.isnan(speed) else self.share_of(speed)
        if math.isnan(bearing):
            # what stands for every direction stands in the middle, or up on its ring
            bearing, share = 0.0, 0.0 if share <= INNER else share
        reach = share * self.radius
        return self.centre + QPointF(across(bearing) * reach, -along(bearing) * reach)

    def values_at(self, where: QPointF) -> Values:
        off = where - self.centre
        found = [0.0] * len(self.space.axes)
        length = math.hypot(off.x(), off.y())
        kept = self.probe[self.around] if len(self.probe) == len(found) else 0.0
        found[self.around] = bearing_of(off.x(), -off.y()) if length > 2 else kept
        if self.out >= 0:
            axis = self.space.axes[self.out]
            share = (length / self.radius - HUB) / (FAST - HUB)
            found[self.out] = axis.low + min(max(share, 0.0), 1.0) * (axis.high - axis.low)
        return tuple(found)

    def moved(self, values: Values, right: int, up: int, fine: float) -> Values:
        found = list(values)
        found[self.around] = reduced(values[self.around] + right * 2 * fine)
        if self.out >= 0:
            axis = self.space.axes[self.out]
            found[self.out] = axis.inside(values[self.out] + up * fine * (axis.high - axis.low) / 50)
        return tuple(found)

    def nudged(self, place: Values, right: int, up: int, fine: float) -> Values:
        found = list(place)
        found[self.around] = reduced(place[self.around] + right * fine)
        if self.out >= 0:
            found[self.out] = place[self.out] + up * fine
        return tuple(found)

    # --- drawing

    def draw_ground(self, painter: QPainter) -> None:
        self._disc(painter)
        self._rulings(painter)

    def draw_over(self, painter: QPainter) -> None:
        small, spots = self._small(), self._laid_out()[0]
        self._dots(painter, [spots[at] for at in small])
        if self.chosen in small:
            self.handle(painter, self.chosen, spots[self.chosen], 3)
        self._rose(painter)
        self._needle(painter)
        self._legend(painter)

    def _disc(self, painter: QPainter) -> None:
        side = int(2 * self.radius)
        corner = self.centre - QPointF(self.radius, self.radius)
        painter.setPen(paint.pen("edge", 1.5))
        painter.setBrush(theme.colour("paper"))
        painter.drawEllipse(self.centre, self.radius, self.radius)
        lines = self._cells.lines(self.space, side, side, self._under)
        if self.picked is not None:
            painter.drawImage(corner, self._cells.tint(self.picked, side, side))
        painter.drawImage(corner, lines)

    def _under(self, x: np.ndarray, y: np.ndarray) -> tuple[Sequence[np.ndarray], np.ndarray]:
        """The values under the pixels of the disc."""
        right, up = x - self.radius, self.radius - y
        share = np.hypot(right, up) / self.radius
        values = [np.mod(np.degrees(np.arctan2(right, up)), CIRCLE)] * len(self.space.axes)
        if self.out >= 0:
            axis = self.space.axes[self.out]
            values[self.out] = axis.low + np.clip((share - HUB) / (FAST - HUB), 0.0, 1.0) * (axis.high - axis.low)
        return values, share <= 1.0

    def _rulings(self, painter: QPainter) -> None:
        """Rings at whole rulings of the speed, with their numbers, and the rim of the hub."""
        if self.out < 0:
            return
        axis = self.space.axes[self.out]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(paint.pen("rule", 1))
        painter.drawEllipse(self.centre, HUB * self.radius, HUB * self.radius)
        painter.setFont(font(11))
        count = min(int((axis.high - axis.low) / axis.step + 1e-9), 12)
        for number in range(1, count + 1):
            value = axis.low + number * axis.step
            reach = self.share_of(value) * self.radius
            painter.setPen(paint.pen("rule", 1))
            painter.drawEllipse(self.centre, reach, reach)
            said = f"{value:g}" + (f" {self.units[self.out]}" if number == count and self.units[self.out] else "")
            spot = self.centre + QPointF(across(157.5) * reach, -along(157.5) * reach)
            wide = QFontMetricsF(painter.font()).horizontalAdvance(said)
            box = QRectF(spot.x() - wide / 2 - 3, spot.y() - 8, wide + 6, 16)
            ground = theme.colour("leaf")
            ground.setAlpha(210)
            painter.fillRect(box, ground)
            painter.setPen(theme.colour("soft"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, said)

    def _rose(self, painter: QPainter) -> None:
        """Which way is which, around the rim."""
        painter.setFont(font(11))
        metrics = QFontMetricsF(painter.font())
        ground = theme.colour("leaf")
        ground.setAlpha(210)
        for number, word in enumerate(WAYS):
            bearing = 45.0 * number
            side = QPointF(across(bearing), -along(bearing))
            tip = self.centre + side * (self.radius + 9)
            painter.setPen(paint.pen("soft", 1))
            paint.arrow(painter, tip, side.x(), side.y(), 7 if number % 2 == 0 else 5)
            wide = metrics.horizontalAdvance(word)
            spot = self.centre + side * (self.radius + 12)
            # beside its arrow above and below, where figures reach beyond the rim
            x = spot.x() + (2 if side.x() > 0.1 else -wide - 2 if side.x() < -0.1 else 14)
            y = spot.y() + (-8 if abs(side.y()) < 0.9 else -14 if side.y() < 0 else -4)
            box = QRectF(x, y, wide + 1, 16)
            painter.fillRect(box.adjusted(-2, 1, 2, -1), ground)
            painter.setPen(theme.colour("soft"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word)

    def standing(self, shown: Sequence[Drawable]) -> list[Standing]:
        spots, rooms, hub = self._laid_out()
        order = sorted(range(len(spots)), key=lambda at: (spots[at].y(), at))
        small, standing = self._small(), self._in_hub()
        found = []
        for at in order:
            if at in small:
                continue
            crowded, lit = standing >= 0 and at in hub, at in (self.picked, self.chosen)
            # where they stand too close to be seen, only what is picked or chosen is drawn
            size = paint.room_of(self.session.art, shown[at])
            foot = self.centre + QPointF(0, HUB * self.radius * 0.7) if crowded else spots[at]
            room = 2 * HUB * self.radius if crowded else max(rooms[at], LEAST)
            # figures seen from above are slender: their cells may overlap
            scale = paint.whole_scale((size[0] * SLENDER, size[2] * TALL), room, room) if size is not None else 0.0
            found.append(Standing(at, foot, scale, 1.0 if lit else 0.8, 3.0 if crowded or size is None else 5.0))
        return found

    def _in_hub(self) -> int:
        """The one of several in the hub whose figure is shown; -1 where there are not several."""
        hub = self._laid_out()[2]
        return self._shown_in(hub) if len(hub) > 1 else -1

    def _small(self) -> set[int]:
        """The samples of which only a point is drawn."""
        spots, rooms, hub = self._laid_out()
        standing = self._in_hub()
        return {
            at for at in range(len(spots)) if self._is_small(at, rooms[at], standing >= 0 and at in hub, at == standing)
        }

    def _is_small(self, at: int, room: float, crowded: bool, standing: bool) -> bool:
        """Whether only the point of a sample is drawn: where figures would stand too close to be seen."""
        if crowded:
            return not standing
        return at not in (self.picked, self.chosen) and room < LEAST

    def _dots(self, painter: QPainter, spots: list[QPointF]) -> None:
        """The handles of many samples at once."""
        for colour, size in (("ink", 8.0), ("leaf", 5.0)):
            painter.setPen(paint.pen(colour, size))
            painter.drawPoints(spots)

    def _laid_out(self) -> tuple[list[QPointF], list[float], frozenset[int]]:
        """Where samples stand, how large a figure may be drawn there, and which stand in the hub."""
        key = (self.space, self.width(), self.height())
        if key != self._key:
            spots = [self.spot(place) for place in self.space.places]
            points = np.array([(one.x(), one.y()) for one in spots]).reshape(-1, 2)
            away = np.hypot(*(points[:, None] - points[None]).transpose(2, 0, 1))
            away[away <= 1] = np.inf
            rooms = np.minimum(MOST, 1.15 * away.min(axis=1, initial=MOST)).tolist() if spots else []
            inner = HUB * self.radius
            hub = frozenset(at for at, one in enumerate(spots) if math.hypot(*(one - self.centre).toTuple()) < inner)
            self._key, self._laid = key, (spots, rooms, hub)
        return self._laid

    def _shown_in(self, hub: frozenset[int]) -> int:
        """The one in the hub whose figure is shown: the picked one, else that of the needle's direction."""
        if self.picked in hub:
            return self.picked
        turned = [
            (abs((self.space.places[at][self.around] - self.probe[self.around] + 180) % 360 - 180), at) for at in hub
        ]
        return min(turned)[1]

    def _needle(self, painter: QPainter) -> None:
        if self.now is not None:
            self._hand(painter, self.now, theme.colour("mark"), 1.5)
        self._hand(painter, self.probe, theme.colour("chosen"), 2.5)

    def tip(self) -> QPointF | None:
        return self._end_of_hand(self.probe)

    def _end_of_hand(self, values: Values) -> QPointF:
        bearing = values[self.around]
        share = 1.0 if self.out < 0 else self.share_of(values[self.out])
        return self.centre + QPointF(across(bearing), -along(bearing)) * (max(share, INNER) * self.radius)

    def _hand(self, painter: QPainter, values: Values, colour: QColor, width: float) -> None:
        bearing = values[self.around]
        side = QPointF(across(bearing), -along(bearing))
        start, tip = self.centre + side * 6, self._end_of_hand(values)
        line = paint.pen("ink", width)
        line.setColor(colour)
        painter.setPen(line)
        painter.drawLine(start, tip)
        kite = QPainterPath(tip + side * 8)
        cross = QPointF(-side.y(), side.x())
        kite.lineTo(tip + cross * 5)
        kite.lineTo(tip - side * 4)
        kite.lineTo(tip - cross * 5)
        kite.closeSubpath()
        painter.fillPath(kite, colour)

    def _legend(self, painter: QPainter) -> None:
        """What the needle points at, beside the dial where there is room."""
        left = self.centre.x() + self.radius + 84
        if self.width() - left < 120 or self.blend is None:
            return
        around = self.probe[self.around]
        rows = [("Needle", "soft"), (f"{around:.0f}°, {way_word(reduced(around))}", "ink")]
        if self.out >= 0:
            axis = self.space.axes[self.out]
            unit = f" {self.units[self.out]}" if self.units[self.out] else ""
            rows.append((f"{axis.parameter} {self.probe[self.out]:.0f}{unit}", "ink"))
        rows += [("", "soft"), ("Would mix", "soft")]
        mixed = sorted(((share, at) for at, share in enumerate(self.shares) if share > 0.005), reverse=True)
        rows += [(f"{share:.0%} {self.blend.samples[at].clip}", "ink") for share, at in mixed[:6]]
        if self.blend.samples and self.chosen < len(self.blend.samples):
            sample = self.blend.samples[self.chosen]
            place = place_words(self.space, self.space.places[self.chosen])
            rows += [("", "soft"), ("Chosen", "soft"), (sample.clip, "ink"), (place, "ink")]
            rows += [("mirrored", "mark")] if sample.mirrored else []
        if any(sample.mirrored for sample in self.blend.samples):
            rows += [("", "soft"), ("wings: mirrored", "mark")]
        y = 24.0
        for text, colour in rows:
            painter.setFont(font(12, MEDIUM) if colour == "soft" and text else font(12))
            painter.setPen(theme.colour(colour))
            box = QRectF(left, y, self.width() - left - 10, 18)
            painter.drawText(
                box,
                Qt.AlignmentFlag.AlignVCenter,
                painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width())),
            )
            y += 18 if text else 9

    def sizeHint(self) -> QSize:
        return QSize(620, 480)
