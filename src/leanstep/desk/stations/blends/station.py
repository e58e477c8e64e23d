"""The Blends station: a blend space with one axis is a rail with a standing row of figures."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QAction, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QListWidget, QListWidgetItem, QSizePolicy, QVBoxLayout, QWidget

from leanstep.core.blends.picking import borders, pick, weights
from leanstep.core.character.edits import append, change, free_name, remove
from leanstep.core.character.model import Axis, BlendSpace, Sample
from leanstep.core.clips.timing import TICK, timing
from leanstep.desk import paint
from leanstep.desk.live import Live
from leanstep.desk.session import Session
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.basics import NameField, NumberField, ask_name, button, command, fill_combo, label


class Rail(QWidget):
    """Samples on their places, borders between picks, the probe to drag, and the value of now as a small flag."""

    chose = Signal(int)
    dragged = Signal(int, float)
    probed = Signal(float)
    removed = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.blend: BlendSpace | None = None
        self.unit = ""
        self.chosen = 0
        self.probe = 0.0
        self.now: float | None = None
        self.phase = 0
        self._drag = ""
        self.setMinimumHeight(250)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Rail")
        self.setToolTip(
            "Drag a sample to place it (←/→ nudge, Shift ×10, Delete removes); drag the needle to try values"
        )

    def x_of(self, value: float) -> float:
        """Where a value lies on the rail."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        return 60 + (value - axis.min) / (axis.max - axis.min) * (self.width() - 120)

    def value_at(self, x: float) -> float:
        """The value at a place of the rail, kept in range."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        value = axis.min + (x - 60) / max(1, self.width() - 120) * (axis.max - axis.min)
        return min(max(value, axis.min), axis.max)

    @property
    def rail_y(self) -> float:
        """Height of the rail, where the figures stand."""
        return self.height() * 0.7

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.fillRect(area, theme.colour("leaf"))
        painter.setPen(paint.pen("edge"))
        painter.drawRect(area)
        if self.blend is None:
            painter.setPen(theme.colour("soft"))
            painter.drawText(
                area, Qt.AlignmentFlag.AlignCenter, "No blend space yet: make one with “New blend space …”."
            )
            return
        self._zones(painter)
        self._axis(painter)
        for at in range(len(self.blend.samples)):
            self._sample(painter, at)
        self._needle(painter)

    def _zones(self, painter: QPainter) -> None:
        """The stretch in which each sample is picked."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        cuts = [axis.min, *(border for border in borders(self.blend) if axis.min < border < axis.max), axis.max]
        for number, (low, high) in enumerate(itertools.pairwise(cuts)):
            left, right = self.x_of(low), self.x_of(high)
            fill = theme.colour("checker" if number % 2 else "paper")
            painter.fillRect(QRectF(left, 14, right - left, self.rail_y - 14), fill)
            if number:
                line = paint.pen("soft", 1)
                line.setStyle(Qt.PenStyle.DashLine)
                painter.setPen(line)
                painter.drawLine(QPointF(left, 14), QPointF(left, self.rail_y))
                painter.setFont(font(11))
                painter.setPen(theme.colour("soft"))
                painter.drawText(QRectF(left + 5, 17, 130, 16), Qt.AlignmentFlag.AlignLeft, f"border at {low:g}")

    def _axis(self, painter: QPainter) -> None:
        assert self.blend is not None
        axis, y = self.blend.axes[0], self.rail_y
        painter.setPen(paint.pen("ink", 2))
        painter.drawLine(QPointF(self.x_of(axis.min), y), QPointF(self.x_of(axis.max), y))
        painter.setFont(font(12))
        span = axis.max - axis.min
        step = next(s for s in (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1e3, 1e4, 1e9) if span / s <= 12)
        value = axis.min
        while value <= axis.max + 1e-9:
            x = self.x_of(value)
            painter.setPen(paint.pen("soft"))
            painter.drawLine(QPointF(x, y), QPointF(x, y + 5))
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(x - 30, y + 7, 60, 16), Qt.AlignmentFlag.AlignCenter, f"{value:g}")
            value += step
        painter.drawText(
            QRectF(self.width() - 330, self.height() - 24, 310, 18),
            Qt.AlignmentFlag.AlignRight,
            f"{axis.parameter}{' in ' + self.unit if self.unit else ''} →",
        )
        if self.now is not None:
            x = self.x_of(min(max(self.now, axis.min), axis.max))
            painter.setPen(paint.pen("mark", 2))
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 26))
            painter.setPen(theme.colour("mark"))
            painter.drawText(QRectF(x - 50, y + 26, 100, 16), Qt.AlignmentFlag.AlignCenter, f"now {self.now:.0f}")

    def _sample(self, painter: QPainter, at: int) -> None:
        assert self.blend is not None
        sample = self.blend.samples[at]
        x, y = self.x_of(sample.at[0]), self.rail_y
        picked = pick(self.blend, self.probe) == at
        clip = next((clip for clip in self.session.document.clips if clip.name == sample.clip), None)
        if clip is not None and clip.cels:
            made = timing(clip)
            cel = clip.cels[made.cel_at(self.phase * made.length // TICK) or 0]
            picture = self.session.picture(clip.sheet, cel.frame, cel.mirrored)
            if picture is not None:
                room = y - 40
                scale = (
                    max(1.0, float(int(min(2.0, room / picture.height()))))
                    if room >= picture.height()
                    else room / picture.height()
                )
                foot = self.session.foot(clip.sheet, cel.frame, cel.mirrored)
                paint.figure(painter, picture, foot, QPointF(x, y), scale, 1.0 if picked else 0.5)
        chosen = at == self.chosen
        painter.setPen(paint.pen("ink", 1.5))
        painter.setBrush(theme.colour("chosen" if chosen else "leaf"))
        painter.drawEllipse(QPointF(x, y), 7, 7)
        painter.setFont(font(13, MEDIUM))
        painter.setPen(theme.colour("ink"))
        painter.drawText(
            QRectF(x - 70, y + 44, 140, 18), Qt.AlignmentFlag.AlignCenter, f"{sample.clip} at {sample.at[0]:g}"
        )
        share = weights(self.blend, self.probe)[at]
        painter.setFont(font(12))
        painter.setPen(theme.colour("soft"))
        said = f"{share:.0%} of a mix" + (", picked" if picked else "")
        painter.drawText(QRectF(x - 70, y + 61, 140, 17), Qt.AlignmentFlag.AlignCenter, said)

    def _needle(self, painter: QPainter) -> None:
        x = self.x_of(self.probe)
        painter.setPen(paint.pen("chosen", 2))
        painter.drawLine(QPointF(x, 24), QPointF(x, self.rail_y))
        painter.setBrush(theme.colour("chosen"))
        painter.drawPolygon([QPointF(x - 7, 10), QPointF(x + 7, 10), QPointF(x, 25)])

    def _sample_at(self, where: QPointF) -> int | None:
        if self.blend is None or where.y() < self.rail_y - 12:
            return None
        near = [
            (abs(self.x_of(sample.at[0]) - where.x()), at)
            for at, sample in enumerate(self.blend.samples)
            if abs(self.x_of(sample.at[0]) - where.x()) < 40
        ]
        return min(near)[1] if near else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.blend is None:
            return
        sample = self._sample_at(event.position())
        if sample is not None:
            self._drag = "sample"
            self.chosen = sample
            self.chose.emit(sample)
        else:
            self._drag = "probe"
            self.probed.emit(self.value_at(event.position().x()))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.blend is None or not self._drag:
            return
        value = self.value_at(event.position().x())
        if self._drag == "sample":
            self.dragged.emit(self.chosen, float(round(value, 0 if abs(value) >= 10 else 1)))
        else:
            self.probed.emit(value)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag == "sample":
            self.session.history.end_merge()
        self._drag = ""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(event.key()), 0.0)
        if self.blend is None or not self.blend.samples:
            super().keyPressEvent(event)
        elif step:
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                step *= 10
            self.dragged.emit(self.chosen, self.blend.samples[self.chosen].at[0] + step)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit(self.chosen)
        else:
            super().keyPressEvent(event)


class BlendsStation(QWidget):
    """Blend spaces on the left, the rail in the middle, the axis and the chosen sample below."""

    wants = Signal(int)

    def __init__(self, session: Session, live: Live) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.current = ""
        self.list = QListWidget()
        self.list.setAccessibleName("Blend spaces")
        self.list.setFixedWidth(168)
        self.list.currentItemChanged.connect(self._chosen)
        self.name = NameField("blend space")
        self.name.setMaximumWidth(180)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(session.said)
        self.sentence = label("", wrap=True)
        self.rail = Rail(session)
        self.rail.chose.connect(lambda at: self.refresh())
        self.rail.dragged.connect(self._drag)
        self.rail.probed.connect(self._probe)
        self.rail.removed.connect(self._remove_sample)
        self.parameter = QComboBox()
        self.parameter.setAccessibleName("Axis parameter")
        self.parameter.setToolTip("The parameter the axis reads")
        self.parameter.activated.connect(lambda index: self._axis(parameter=self.parameter.itemText(index)))
        self.low = NumberField("Axis from", "Where the axis begins", -1e6, 1e6, whole=False)
        self.low.settled.connect(lambda value: self._axis(min=value))
        self.high = NumberField("Axis to", "Where the axis ends", -1e6, 1e6, whole=False)
        self.high.settled.connect(lambda value: self._axis(max=value))
        self.clip = QComboBox()
        self.clip.setAccessibleName("Sample clip")
        self.clip.setToolTip("The clip the chosen sample plays")
        self.clip.activated.connect(lambda index: self._sample(clip=self.clip.itemText(index)))
        self.place = NumberField("Sample place", "Where the chosen sample lies", -1e6, 1e6, whole=False)
        self.place.settled.connect(lambda value: self._sample(at=(value,)))
        self._timer = QTimer(self, interval=33)
        self._timer.timeout.connect(self._advance)
        self._timer.start()
        self._lay_out()
        session.changed.connect(self.refresh)
        session.opened.connect(self._opened)
        session.pointed.connect(self._pointed)
        self.refresh()

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addWidget(button("New blend space …", "Arrange clips along a parameter", self.new))
        left.addWidget(button("Remove", "Remove the chosen blend space", self.remove))
        head = QHBoxLayout()
        head.addWidget(self.name)
        head.addWidget(self.sentence, 1)
        axis = QHBoxLayout()
        for widget in (label("Axis reads", "soft"), self.parameter, label("from", "soft"), self.low):
            axis.addWidget(widget)
        axis.addWidget(label("to", "soft"))
        axis.addWidget(self.high)
        axis.addStretch(1)
        axis.addWidget(label("Chosen sample plays", "soft"))
        for widget in (self.clip, label("at", "soft"), self.place):
            axis.addWidget(widget)
        more = QHBoxLayout()
        more.addStretch(1)
        more.addWidget(button("Add a sample", "Put another clip where the needle stands", self.add_sample))
        more.addWidget(
            button("Take it out", "Take the chosen sample out (Delete)", lambda: self._remove_sample(self.rail.chosen))
        )
        middle = QVBoxLayout()
        middle.setSpacing(8)
        middle.addLayout(head)
        middle.addWidget(self.rail, 1)
        middle.addLayout(axis)
        middle.addLayout(more)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(12, 10, 12, 10)
        whole.setSpacing(12)
        whole.addLayout(left)
        whole.addLayout(middle, 1)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [command(self, "Make a new blend space", "", self.new)]

    @property
    def blend(self) -> BlendSpace | None:
        """The chosen blend space."""
        return next((blend for blend in self.session.document.blends if blend.name == self.current), None)

    def _index(self) -> int:
        return [blend.name for blend in self.session.document.blends].index(self.current)

    def _pointed(self, kind: str, name: str) -> None:
        if kind == "blend":
            self.current = name
            self.refresh()

    def _opened(self) -> None:
        self.current = ""
        self.refresh()
        if self.blend is not None:
            axis = self.blend.axes[0]
            self.rail.probe = axis.min + (axis.max - axis.min) * 0.45
            self.refresh()

    def _numbers(self) -> list[str]:
        document = self.session.document
        names = [parameter.name for parameter in document.parameters if parameter.kind in ("number", "whole")]
        return names + [f"{stick.name}.{axis}" for stick in document.controls.sticks for axis in "xy"]

    def refresh(self) -> None:
        """Show the document as it is now."""
        names = [blend.name for blend in self.session.document.blends]
        if self.current not in names:
            self.current = names[0] if names else ""
        self.list.blockSignals(True)
        self.list.clear()
        for name in names:
            self.list.addItem(QListWidgetItem(name))
        if self.current:
            self.list.setCurrentRow(names.index(self.current))
        self.list.blockSignals(False)
        blend = self.rail.blend = self.blend
        self.name.setEnabled(blend is not None)
        self.name.show_name(self.current, [name for name in names if name != self.current])
        for widget in (self.parameter, self.low, self.high, self.clip, self.place):
            widget.setEnabled(blend is not None)
        if blend is None:
            self.sentence.setText("A blend space shows the right clip for a value: walk when slow, run when fast.")
            self.rail.update()
            return
        axis = blend.axes[0]
        self.rail.chosen = max(0, min(self.rail.chosen, len(blend.samples) - 1))
        self.rail.probe = min(max(self.rail.probe, axis.min), axis.max)
        self.rail.unit = next((one.unit for one in self.session.document.parameters if one.name == axis.parameter), "")
        fill_combo(self.parameter, self._numbers(), axis.parameter)
        self.low.show_value(axis.min)
        self.high.show_value(axis.max)
        if blend.samples:
            sample = blend.samples[self.rail.chosen]
            fill_combo(self.clip, [clip.name for clip in self.session.document.clips], sample.clip)
            self.place.show_value(sample.at[0])
        users = [
            state.name for layer in self.session.document.layers for state in layer.states if state.blend == blend.name
        ]
        picked = pick(blend, self.rail.probe)
        shown = (
            f"at {self.rail.probe:.0f} it shows <b>{blend.samples[picked].clip}</b>"
            if picked is not None
            else "it has no samples"
        )
        self.sentence.setText(
            f"Shows the nearest clip for {axis.parameter}: {shown}. "
            f"{'Used by ' + ', '.join(users) if users else 'No state uses it yet'}."
        )
        self.rail.update()

    def _chosen(self, item: QListWidgetItem | None) -> None:
        if item is not None and item.text() != self.current:
            self.current = item.text()
            self.refresh()

    def _advance(self) -> None:
        if not self.isVisible() or self.blend is None:
            return
        self.rail.phase = (self.rail.phase + TICK // 26) % TICK
        index = self.live.machine.index.get(self.blend.axes[0].parameter)
        self.rail.now = float(self.live.situation.values[index]) if index is not None else None
        self.rail.update()

    def _probe(self, value: float) -> None:
        self.rail.probe = value
        self.refresh()

    # --- edits

    def new(self) -> None:
        """Make a blend space over the first numeric parameter."""
        numbers = self._numbers()
        if not numbers:
            self.session.said.emit("A blend space needs a number to read: add a parameter in the Graph station first.")
            return
        taken = [blend.name for blend in self.session.document.blends]
        name = ask_name(self, "blend space", free_name("blend", taken), taken)
        if name is not None:
            parameter = next((one for one in self.session.document.parameters if one.name == numbers[0]), None)
            axis = Axis(
                parameter=numbers[0], min=parameter.low if parameter else -1.0, max=parameter.high if parameter else 1.0
            )
            clips = self.session.document.clips
            samples = (Sample(at=(axis.min,), clip=clips[0].name),) if clips else ()
            self.current = name
            blend = BlendSpace(name=name, axes=(axis,), samples=samples)
            self.session.edit(f"made blend space {name}", lambda document: append(document, ("blends",), blend))

    def remove(self) -> None:
        """Remove the chosen blend space."""
        if self.blend is not None:
            at, name = self._index(), self.current
            self.session.edit(f"removed blend space {name}", lambda document: remove(document, ("blends", at)))

    def _rename(self, name: str) -> None:
        at, old = self._index(), self.current

        def renamed(document: object) -> object:
            after = change(document, ("blends", at), name=name)
            for layer_at, layer in enumerate(after.layers):
                for state_at, state in enumerate(layer.states):
                    if state.blend == old:
                        after = change(after, ("layers", layer_at, "states", state_at), blend=name)
            return after

        self.current = name
        self.session.edit(f"renamed blend space {old} to {name}", renamed)

    def _axis(self, **values: object) -> None:
        blend = self.blend
        if blend is None:
            return
        low, high = values.get("min", blend.axes[0].min), values.get("max", blend.axes[0].max)
        if float(low) >= float(high):  # type: ignore[arg-type]
            self.session.said.emit("The axis must begin below its end; nothing was changed.")
            self.refresh()
            return
        at = self._index()
        self.session.edit(
            f"changed the axis of {self.current}",
            lambda document: change(document, ("blends", at, "axes", 0), **values),
            f"axis {self.current} {sorted(values)}",
        )

    def _sample(self, **values: object) -> None:
        blend = self.blend
        if blend is not None and blend.samples:
            at, sample = self._index(), self.rail.chosen
            self.session.edit(
                f"changed a sample of {self.current}",
                lambda document: change(document, ("blends", at, "samples", sample), **values),
                f"sample {self.current} {sample} {sorted(values)}",
            )

    def _drag(self, sample: int, value: float) -> None:
        self.rail.chosen = sample
        self._sample(at=(value,))

    def add_sample(self) -> None:
        """Put a sample where the needle stands."""
        clips = self.session.document.clips
        if self.blend is None or not clips:
            self.session.said.emit("Make a blend space and a clip first.")
            return
        at = self._index()
        sample = Sample(at=(float(round(self.rail.probe)),), clip=clips[0].name)
        self.rail.chosen = len(self.blend.samples)
        self.session.edit(
            f"added a sample to {self.current}", lambda document: append(document, ("blends", at, "samples"), sample)
        )

    def _remove_sample(self, sample: int) -> None:
        blend = self.blend
        if blend is not None and sample < len(blend.samples):
            at = self._index()
            self.session.edit(
                f"took a sample out of {self.current}",
                lambda document: remove(document, ("blends", at, "samples", sample)),
            )
