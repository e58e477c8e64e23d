"""Drawing shared by stations: figures on the ground, checkers, small arrows."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, QSizeF, Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFontMetricsF,
    QPainter,
    QPainterPath,
    QPen,
    QPixmap,
    QPixmapCache,
    QTransform,
)

from leanstep.core.bearings import across, along
from leanstep.core.character.clips import BoxKind
from leanstep.core.character.graph import Layer
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import Drawable, Piece
from leanstep.core.sheets.boxes import Box
from leanstep.desk.art import Art
from leanstep.desk.theme import BOLD, font, theme

TILED = 32
"""Cells of the checker, and lines of the hatching, along a side of what an area is tiled with."""
HATCH = 12
"""Pixels between the lines that floors are hatched with."""

LARGEST_KEPT = 800.0
"""Pixels up to which pictures are kept enlarged."""
KEPT_ENLARGED = 65536
"""Kilobytes of pictures that are kept enlarged."""


def pen(name: str, width: float = 1.0) -> QPen:
    """A pen in a colour of the theme."""
    made = QPen(theme.colour(name), width)
    made.setCapStyle(Qt.PenCapStyle.RoundCap)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return made


def blank(size: QSize, ratio: float, colour: str) -> QPixmap:
    """A picture of one colour (empty: of none), to draw on what then is drawn often; ``ratio``: pixels of the screen a pixel."""
    made = QPixmap(size * ratio)
    made.setDevicePixelRatio(ratio)
    made.fill(theme.colour(colour) if colour else Qt.GlobalColor.transparent)
    return made


@contextmanager
def unsmoothed(painter: QPainter) -> Iterator[None]:
    """Draw on whole pixels for a while, which takes a fraction of the time."""
    smooth = painter.testRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    yield
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, smooth)


def frame(painter: QPainter, area: QRectF, colour: str = "edge", width: float = 1.0) -> None:
    """The edge of a picture along the middles of pixels."""
    with unsmoothed(painter):
        painter.setPen(pen(colour, width))
        painter.drawRect(QRect(int(area.x()), int(area.y()), int(area.width()), int(area.height())))


def plate(painter: QPainter, at: QPointF, text: str, most: float, fill: str, ink: str) -> None:
    """A line that is written over a picture, at most so many pixels wide."""
    painter.setFont(font(13, BOLD))
    wide = min(most, QFontMetricsF(painter.font()).horizontalAdvance(text) + 18)
    box = QRectF(at, QSizeF(round(wide), 22))
    painter.fillRect(box, theme.colour(fill))
    painter.setPen(theme.colour(ink))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def checker(painter: QPainter, area: QRectF, cell: int = 8) -> None:
    """The quiet checker that pixel art stands on."""

    def draw(brush: QPainter) -> None:
        for x, y in itertools.product(range(TILED), repeat=2):
            if x % 2 == y % 2:
                brush.fillRect(x * cell, y * cell, cell, cell, theme.colour("checker"))

    painter.drawTiledPixmap(area, _tile(f"checker-{cell}", TILED * cell, "leaf", draw))


def hatched(painter: QPainter, box: QRectF, seen: QRectF) -> None:
    """The ground of a box: lines that lean to the right, as far as the box is ``seen``."""
    side = TILED * HATCH

    def draw(brush: QPainter) -> None:
        brush.setRenderHint(QPainter.RenderHint.Antialiasing)
        brush.setPen(pen("rule"))
        for offset in range(0, 2 * side + 1, HATCH):
            brush.drawLine(offset, 0, offset - side, side)

    shown = box & seen
    painter.drawTiledPixmap(shown, _tile("hatch", side, "checker", draw), shown.topLeft() - box.topLeft())


def _tile(name: str, side: int, ground: str, draw: Callable[[QPainter], None]) -> QPixmap:
    """What an area is tiled with, which is kept: few large tiles are drawn sooner than many small ones."""
    key, tile = f"leanstep-{name}-{theme.night}", QPixmap()
    if not QPixmapCache.find(key, tile):
        tile = blank(QSize(side, side), 1.0, ground)
        with QPainter(tile) as brush:
            draw(brush)
        QPixmapCache.insert(key, tile)
    return tile


def figure(painter: QPainter, art: Art, drawable: Drawable, at: QPointF, scale: float, opacity: float = 1.0) -> bool:
    """A figure with its foot at ``at``, enlarged ``scale`` times without smoothing (smoothly when made smaller); False when a
    piece of it has no picture."""
    whole = True
    for piece in drawable.pieces:
        picture = art.pixmap(piece)
        if picture is None:
            # without what is pinned to it a figure is whole
            whole = whole and bool(piece.to)
            continue
        drawn = art.drawn(piece)
        if drawn.isEmpty():
            continue
        placed, target = _placed(art, piece, at, scale)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
        painter.setOpacity(opacity * piece.opacity)
        painter.setTransform(placed, True)
        if not placed.isScaling() and max(target.width(), target.height()) <= LARGEST_KEPT:
            picture, drawn = _enlarged(picture, drawn, scale)
        painter.drawPixmap(target, picture, QRectF(drawn))
        painter.restore()
    return whole


def _enlarged(picture: QPixmap, drawn: QRect, scale: float) -> tuple[QPixmap, QRect]:
    """What is drawn of a picture, enlarged a whole number of times, which is kept: enlarging it again each time it is drawn takes
    many times as long as drawing it."""
    if scale < 2 or scale % 1:
        return picture, drawn
    key, found = f"leanstep-{picture.cacheKey()}-{scale:g}", QPixmap()
    if not QPixmapCache.find(key, found):
        found = picture.copy(drawn).scaled(drawn.size() * scale)
        QPixmapCache.insert(key, found)
    return found, found.rect()


def area_of(art: Art, drawable: Drawable, at: QPointF, scale: float) -> QRect:
    """All that :func:`figure` draws on, in whole pixels; empty where a figure has no picture."""
    area = QRectF()
    for piece in drawable.pieces:
        if art.pixmap(piece) is not None:
            placed, target = _placed(art, piece, at, scale)
            area = area.united(placed.mapRect(target))
    return area.toAlignedRect().adjusted(-1, -1, 1, 1) if not area.isEmpty() else QRect()


def _placed(art: Art, piece: Piece, at: QPointF, scale: float) -> tuple[QTransform, QRectF]:
    """How a piece of a figure is moved and turned to where it is drawn, and the place of what is drawn of it before that."""
    foot, drawn = art.foot(piece), art.drawn(piece)
    by = art.scale(piece.to) if piece.to else (1.0, 1.0)
    across, up = piece.x + piece.pinned[0] * by[0], piece.y + piece.pinned[1] * by[1]
    placed = QTransform.fromTranslate(at.x() + across * scale, at.y() - up * scale)
    if piece.tilt or piece.turn or piece.whole or piece.scale != (1.0, 1.0):
        placed.rotate(piece.tilt)
        placed.scale(*_stretched(piece, foot[1]))
        placed.rotate(piece.turn)
    corner = (QPointF(drawn.topLeft()) - QPointF(*foot)) * scale
    return placed, QRectF(corner, QSizeF(drawn.size()) * scale)


def _stretched(piece: Piece, above: float) -> tuple[float, float]:
    """How much wider and higher a piece is drawn, that reaches so many pixels above its foot."""
    wide, high = piece.scale
    if piece.whole and above >= 1:
        high = max(1.0, round(above * high)) / above
    return wide, high


def figureless(painter: QPainter, foot: QPointF, size: float) -> None:
    """The shape that stands for a state without a picture, as high as a figure of this size; in the painter's pen and brush."""
    width = max(20.0, size * 0.5)
    painter.drawRoundedRect(QRectF(foot.x() - width / 2, foot.y() - size, width, size - 1), width / 2.2, width / 2.2)


def body_box(painter: QPainter, box: Box | None, foot: QPointF, scale: float) -> None:
    """A body box about a foot, enlarged ``scale`` times; nothing where there is none."""
    if box is None:
        return
    area = QRectF(foot.x() + box.left * scale, foot.y() - box.top * scale, box.width * scale, box.height * scale)
    fill = theme.colour("mark")
    fill.setAlpha(30)
    painter.fillRect(area, fill)
    painter.setPen(pen("mark"))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(area)


PIN_RING, PIN_ARM = 6.0, 30.0
"""Pixels of the ring of a pin point, and of its arm."""


def action_box(painter: QPainter, kind: BoxKind, box: QRectF) -> None:
    """A box of an action: what hits is hatched, what can be hit has round corners, what guards is broken."""
    line = pen("ink" if kind == "strike" else "chosen", 2)
    if kind == "guard":
        line.setStyle(Qt.PenStyle.DashLine)
    painter.setBrush(
        QBrush(theme.colour("ink"), Qt.BrushStyle.BDiagPattern) if kind == "strike" else Qt.BrushStyle.NoBrush
    )
    round_by = min(6.0, box.height() / 2) if kind == "vulnerable" else 0.0
    # a light rim keeps it apart from the figure
    painter.setPen(pen("leaf", 4))
    painter.drawRoundedRect(box, round_by, round_by)
    painter.setPen(line)
    painter.drawRoundedRect(box, round_by, round_by)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def pin(painter: QPainter, at: QPointF, angle: float, chosen: bool, opacity: float = 1.0) -> None:
    """A pin point and the arm that shows where it points (a bearing): a ring, so that what is below it is seen."""
    painter.save()
    painter.setOpacity(opacity)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    tip = pin_tip(at, angle)
    # a light rim keeps it apart from the figure
    for one in (pen("leaf", 5), pen("chosen" if chosen else "ink", 2)):
        painter.setPen(one)
        painter.drawEllipse(at, PIN_RING, PIN_RING)
        painter.drawLine(at + (tip - at) * (PIN_RING / PIN_ARM), tip)
    painter.setBrush(theme.colour("leaf"))
    painter.setPen(pen("chosen" if chosen else "ink", 2))
    painter.drawEllipse(tip, 3.5, 3.5)
    painter.restore()


def pin_tip(at: QPointF, angle: float) -> QPointF:
    """Where the arm of a pin point ends."""
    return QPointF(at.x() + PIN_ARM * math.sin(math.radians(angle)), at.y() - PIN_ARM * math.cos(math.radians(angle)))


def straw(painter: QPainter, foot: QPointF, width: float, height: float, state: str) -> None:
    """The straw man on his post: tipped while he is stunned, behind a board while he guards."""
    painter.save()
    painter.translate(foot)
    painter.rotate(14.0 if state == "stunned" else 0.0)
    painter.setPen(pen("ink", 3))
    painter.drawLine(QPointF(0, 0), QPointF(0, -height * 0.35))
    painter.drawLine(QPointF(-width * 0.6, -height * 0.62), QPointF(width * 0.6, -height * 0.62))
    painter.setPen(pen("ink", 1.5))
    painter.setBrush(theme.colour("edge"))
    painter.drawRoundedRect(QRectF(-width * 0.34, -height * 0.74, width * 0.68, height * 0.5), width * 0.2, width * 0.2)
    painter.drawEllipse(QPointF(0, -height * 0.86), height * 0.12, height * 0.12)
    painter.drawLine(QPointF(-width * 0.34, -height * 0.5), QPointF(width * 0.34, -height * 0.5))
    for at in (-0.6, 0.6):
        # straw sticks out of the sleeves
        for by in (-3, 0, 3):
            painter.drawLine(QPointF(width * at, -height * 0.62), QPointF(width * at * 1.18, -height * 0.62 + by))
    if state == "braced":
        painter.setPen(pen("chosen", 2))
        painter.setBrush(theme.colour("leaf"))
        painter.drawRect(QRectF(-width * 0.62, -height * 0.8, width * 0.22, height * 0.62))
    painter.restore()


SOLE = 4.0
"""Pixels below a foot that are drawn into the ground."""


def room_of(art: Art, drawable: Drawable) -> tuple[float, float, float] | None:
    """Width and height of a figure's largest picture and how far it reaches above its foot, in pixels, without what is pinned to it;
    None without any."""
    own = [one for one in drawable.pieces if not one.to]
    found = [(picture, art.foot(one)) for one in own if (picture := art.pixmap(one)) is not None]
    if not found:
        return None
    return (
        float(max(picture.width() for picture, _ in found)),
        float(max(picture.height() for picture, _ in found)),
        max(foot[1] for _, foot in found),
    )


def below(art: Art, drawable: Drawable) -> float:
    """How far figures of these sheets usually reach below their foot, in pixels; a few are a sole or an edge, and nothing."""
    most = max((art.depth(one.sheet) for one in drawable.pieces if not one.to), default=0.0)
    return most if most > SOLE else 0.0


def whole_scale(size: tuple[float, float], width: float, height: float) -> float:
    """The largest whole multiple at which a picture of a size fits, or a fraction when not even one does."""
    fits = min(width / max(1.0, size[0]), height / max(1.0, size[1]))
    return float(int(fits)) if fits >= 1 else max(0.05, fits)


def lane_of(machine: Machine, layer: int, state: int) -> tuple[int, int]:
    """A state's lane and its place within it."""
    return machine.once((lane_of, layer), lambda: _lanes(machine.character.layers[layer]))[state]


def _lanes(table: Layer) -> list[tuple[int, int]]:
    """By state of a layer its lane and its place within it."""
    places = {lane: itertools.count() for lane in table.lane_names}
    return [(table.lane_names.index(one.lane), next(places[one.lane])) for one in table.states]


def fill_of(machine: Machine, layer: int, state: int) -> QColor:
    """The fill of a state, the same in graph, ribbon and list."""
    return theme.tint(*lane_of(machine, layer, state))


def arrow(painter: QPainter, tip: QPointF, dx: float, dy: float, size: float = 6.0) -> None:
    """A filled arrow head at ``tip`` pointing along (dx, dy)."""
    length = max((dx * dx + dy * dy) ** 0.5, 1e-6)
    ux, uy = dx / length, dy / length
    path = QPainterPath(tip)
    path.lineTo(tip.x() - ux * size - uy * size * 0.55, tip.y() - uy * size + ux * size * 0.55)
    path.lineTo(tip.x() - ux * size + uy * size * 0.55, tip.y() - uy * size - ux * size * 0.55)
    path.closeSubpath()
    painter.fillPath(path, painter.pen().color())


def rose(painter: QPainter, centre: QPointF, radius: float, bearing: float | None, cuts: Sequence[float] = ()) -> None:
    """A direction as a needle in a small ring with its mark at the top, which is up; ``cuts`` are directions conditions name."""
    painter.setPen(pen("edge", 1.5))
    painter.setBrush(theme.colour("leaf"))
    painter.drawEllipse(centre, radius, radius)
    painter.setPen(pen("soft", 1))
    arrow(painter, centre - QPointF(0, radius + 3), 0, -1, 5)
    painter.setPen(pen("mark", 1.4))
    for cut in cuts:
        side = QPointF(across(cut), -along(cut))
        painter.drawLine(centre + side * (radius - 3), centre + side * (radius + 2))
    if bearing is not None:
        side = QPointF(across(bearing), -along(bearing))
        painter.setPen(pen("ink", 2))
        painter.drawLine(centre - side * radius * 0.35, centre + side * radius * 0.8)
        arrow(painter, centre + side * radius * 0.95, side.x(), side.y(), 6)
    painter.setBrush(Qt.BrushStyle.NoBrush)
