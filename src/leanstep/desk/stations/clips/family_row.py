"""The family of a clip: a strip of stills of its members, and what of the chosen one is its own."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QToolTip, QWidget

from leanstep.core.bearings import in_words
from leanstep.core.character.clips import SHARED, Clip, Shared
from leanstep.core.clips.families import (
    exceptions,
    family_of,
    joined,
    lacking,
    made_rule,
    members,
    mirrored_for,
    parted,
    set_own,
)
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.drawable import of_cel
from leanstep.core.wording import counted, listed
from leanstep.desk import paint
from leanstep.desk.art import Art
from leanstep.desk.stations.clips.clip_player import ClipPlayer
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import button, label, plain_tip

WIDE, HIGH, MOST = 30, 30, 320
"""The room of a still, and how wide all of them are at most, in pixels."""
WORDS: dict[Shared, str] = {
    "timing": "How long its cels are shown, and what happens at its end",
    "marks": "Its marks",
    "spans": "Its spans",
    "phases": "Its phases",
    "boxes": "Which boxes lie on which of its cels",
}


class FamilyStrip(QWidget):
    """Stills of clips side by side; ``wanted``: one is to be seen."""

    wanted = Signal(str)

    def __init__(self, art: Art) -> None:
        super().__init__()
        self.art = art
        self.clips: Sequence[Clip] = ()
        self.current = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Clips of the family")

    @property
    def each(self) -> float:
        """How wide a still is."""
        return min(WIDE, MOST / max(1, len(self.clips)))

    def sizeHint(self) -> QSize:
        return QSize(round(self.each * max(1, len(self.clips))), HIGH)

    def show_clips(self, clips: Sequence[Clip], current: str) -> None:
        """Show the members of a family, of which one is chosen."""
        self.clips, self.current = clips, current
        self.setFixedSize(self.sizeHint())
        self.update()

    def box(self, at: int) -> QRectF:
        """Where a still is drawn."""
        return QRectF(at * self.each, 0, self.each, HIGH).adjusted(1, 1, -1, -1)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        for at, clip in enumerate(self.clips):
            box = self.box(at)
            painter.fillRect(box, theme.colour("leaf"))
            if clip.cels:
                drawable = of_cel(clip, clip.cels[0])
                room = paint.room_of(self.art, drawable)
                if room is not None:
                    scale = min(box.width() / max(1.0, room[0]), box.height() / max(1.0, room[1]))
                    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
                    foot = QPointF(box.center().x(), box.bottom() - 1 - paint.below(self.art, drawable) * scale)
                    paint.figure(painter, self.art, drawable, foot, scale)
            chosen = clip.name == self.current
            painter.setPen(paint.pen("chosen" if chosen else "rule", 2 if chosen else 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
            if clip.own:
                painter.setBrush(theme.colour("ink"))
                painter.setPen(paint.pen("leaf", 1))
                painter.drawEllipse(box.topRight() + QPointF(-5, 5), 3.0, 3.0)
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _at(self, where: QPointF) -> Clip | None:
        at = int(where.x() // self.each)
        return self.clips[at] if 0 <= at < len(self.clips) else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        clip = self._at(event.position())
        if clip is not None:
            self.wanted.emit(clip.name)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        names = [clip.name for clip in self.clips]
        if step and self.current in names:
            self.wanted.emit(names[(names.index(self.current) + step) % len(names)])
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            clip = self._at(QPointF(event.pos()))
            own = f": {listed(list(clip.own))} of its own" if clip is not None and clip.own else ""
            QToolTip.showText(event.globalPos(), plain_tip(f"{clip.name}{own}") if clip is not None else "")
            return True
        return super().event(event)


class FamilyRow(QWidget):
    """Shows the family of the station's clip, and changes it as the person means it."""

    def __init__(self, station: ClipPlayer) -> None:
        super().__init__()
        self.station, self.session = station, station.session
        self.strip = FamilyStrip(station.session.art)
        self.strip.wanted.connect(lambda name: self.session.select(Thing("clip", name)))
        self.own: dict[Shared, QCheckBox] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        row.addWidget(self.strip)
        row.addStretch(1)
        row.addWidget(label("its own:", "soft"))
        for what in SHARED:
            box = QCheckBox(what)
            box.setAccessibleName(f"Own {what}")
            box.setToolTip(f"{WORDS[what]}: of this clip alone, or as in the others of its family")
            box.clicked.connect(lambda on, what=what: self._set_own(what, on))
            self.own[what] = box
            row.addWidget(box)
        self.rule = button(
            "Rule", "The others of the family get all that this clip has; nothing is its own then", self._rule
        )
        row.addWidget(self.rule)
        self.mirror = button(
            "Mirror", "Make clips for the directions the family lacks, mirrored from others", self._mirror
        )
        row.addWidget(self.mirror)
        self.part = button("Part", "They are no family any more; each clip stays as it is", self._part)
        row.addWidget(self.part)
        self.make = button(
            "Make a family", "An edit of one of them will be one of all of them, beginning with this one's", self._make
        )

    def show_clip(self, clip: Clip | None) -> None:
        """Show the family of a clip; where it has none and its name offers one, there is a button that makes it."""
        document = self.session.document
        family = members(document, clip.family) if clip is not None else []
        self.setVisible(len(family) > 1)
        offered = self.offered(clip)
        self.make.setVisible(bool(offered))
        if clip is None:
            return
        if offered:
            self.make.setText(f"Make {offered[0]} a family")
        if len(family) > 1:
            self.strip.show_clips(family, clip.name)
            for what, box in self.own.items():
                box.setChecked(what in clip.own)
            without = [in_words(bearing) for bearing, _ in lacking(document, clip.family)]
            self.mirror.setVisible(any(name for _, name in lacking(document, clip.family)))
            words = f"{clip.family}: {counted(len(family), 'clip')}"
            words += f"; it lacks {listed(without)}" if without else ""
            words += "".join(f"; {one}" for one in exceptions(document, clip))
            self.strip.setToolTip(words)
            self.setToolTip(words)
            self.strip.setAccessibleDescription(words)

    def offered(self, clip: Clip | None) -> tuple[str, list[str]] | None:
        """The family that the name of a clip offers, and its clips."""
        if clip is None or clip.family:
            return None
        found = family_of([one.name for one in self.session.document.clips], clip.name)
        return (found.name, list(found.clips.values())) if found is not None else None

    def _make(self) -> None:
        clip, offered = self.station.clip, self.offered(self.station.clip)
        if clip is not None and offered is not None:
            family, names = offered
            self.session.edit(
                f"made {family} a family of {len(names)} clips",
                lambda document: joined(document, names, family, clip.name),
            )

    def _set_own(self, what: Shared, on: bool) -> None:
        clip = self.station.clip
        if clip is not None:
            said = f"{'gave' if on else 'took back'} {what} {'of its own' if on else 'of its family'}"
            self.session.edit(f"{said} ({clip.name})", lambda document: set_own(document, clip.name, what, on))

    def _rule(self) -> None:
        clip = self.station.clip
        if clip is not None:
            self.session.edit(
                f"made {clip.name} the rule of {clip.family}", lambda document: made_rule(document, clip.name)
            )

    def _mirror(self) -> None:
        clip = self.station.clip
        if clip is not None:
            self.session.edit(
                f"mirrored what {clip.family} lacks", lambda document: mirrored_for(document, clip.family)
            )

    def _part(self) -> None:
        clip = self.station.clip
        if clip is not None:
            self.session.edit(f"parted {clip.family}", lambda document: parted(document, clip.family))
