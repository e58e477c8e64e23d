"""The Blends station: a blend space with one axis is a rail with a standing row of figures."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtGui import QAction, QHideEvent, QShowEvent
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QVBoxLayout

from leanstep.core.blends.picking import pick
from leanstep.core.character.edits import append, change, free_name, remove
from leanstep.core.character.model import Axis, BlendSpace, Sample
from leanstep.core.clips.timing import TICK
from leanstep.core.conditions.expression import NUMERIC
from leanstep.desk.desk import Desk
from leanstep.desk.stations.blends.rail import Rail
from leanstep.desk.widgets.basics import NumberField, button, command, fill_combo, label
from leanstep.desk.widgets.empty_place import EmptyPlace, rail_drawing
from leanstep.desk.widgets.list_station import ListStation


class BlendsStation(ListStation):
    """Blend spaces on the left, the rail in the middle, the axis and the chosen sample below."""

    field, what, kind = "blends", "blend space", "blend"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        session, self.live = desk.session, desk.live
        self.list.setAccessibleName("Blend spaces")
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
        self.step = NumberField("Ruling", "Samples are caught by it, and distances counted in it", 0, 1e6, whole=False)
        self.step.setSpecialValueText("a quarter of it")
        self.step.setMinimumWidth(104)
        self.step.settled.connect(lambda value: self._axis(step=value or None))
        self.sticky = NumberField(
            "Sticky borders", "A pick stays until another is nearer by so many rulings", 0, 1000, "", False
        )
        self.sticky.setSingleStep(0.05)
        self.sticky.settled.connect(self._stick)
        self.phase = NumberField("Phase", "The share of its clip at which its cycle begins", 0, 0.999, whole=False)
        self.phase.setSingleStep(0.05)
        self.phase.setPrefix("phase ")
        self.phase.setMinimumWidth(84)
        self.phase.settled.connect(lambda value: self._sample(phase=value))
        self.mirrored = QCheckBox("mirrored")
        self.mirrored.setToolTip("Show the chosen sample's clip the other way round")
        self.mirrored.clicked.connect(lambda on: self._sample(mirrored=on))
        self.clip = QComboBox()
        self.clip.setAccessibleName("Sample clip")
        self.clip.setToolTip("The clip the chosen sample plays")
        self.clip.activated.connect(lambda index: self._sample(clip=self.clip.itemText(index)))
        self.place = NumberField("Sample place", "Where the chosen sample lies", -1e6, 1e6, whole=False)
        self.place.settled.connect(lambda value: self._sample(at=(value,)))
        self._timer = QTimer(self, interval=33)
        self._timer.timeout.connect(self._advance)
        session.art.changed.connect(self.rail.update)
        self._lay_out()
        self.follow()

    def _lay_out(self) -> None:
        maker = button("New blend space", "Arrange clips along a parameter", self.new)
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
        for widget in (
            label("ruled every", "soft"),
            self.step,
            label("sticky by", "soft"),
            self.sticky,
            label("rulings", "soft"),
        ):
            more.addWidget(widget)
        more.addStretch(1)
        more.addWidget(self.phase)
        more.addWidget(self.mirrored)
        more.addWidget(button("Add a sample", "Put another clip where the needle stands", self.add_sample))
        more.addWidget(
            button("Take it out", "Take the chosen sample out (Delete)", lambda: self._remove_sample(self.rail.chosen))
        )
        middle = QVBoxLayout()
        middle.addLayout(head)
        middle.addWidget(self.rail, 1)
        middle.addLayout(axis)
        middle.addLayout(more)
        empty = EmptyPlace(
            rail_drawing,
            "Blend spaces stand here: clips along a number, so that the right one is shown, such as walk when slow and run when "
            "fast.",
            "Make the first blend space",
            "Arrange clips along a parameter",
            self.new,
        )
        self.beside_list(self.list_column(maker), middle, empty)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [command(self, "Make a new blend space", "", self.new)]

    @property
    def blend(self) -> BlendSpace | None:
        """The chosen blend space."""
        return self.part

    def chosen_anew(self) -> None:
        self.rail.chosen, self.rail.picked = 0, None
        self.rail.probe = float("nan")

    def _numbers(self) -> list[str]:
        document = self.session.document
        names = [parameter.name for parameter in document.parameters if parameter.kind in NUMERIC]
        return names + [name for stick in document.controls.sticks for name in stick.values]

    def show_part(self, part: BlendSpace | None) -> None:
        blend = self.rail.blend = part
        for widget in (
            self.parameter,
            self.low,
            self.high,
            self.clip,
            self.place,
            self.step,
            self.sticky,
            self.mirrored,
            self.phase,
        ):
            widget.setEnabled(blend is not None)
        if blend is None:
            self.sentence.setText("A blend space shows the right clip for a value: walk when slow, run when fast.")
            self.rail.update()
            return
        axis = blend.axes[0]
        self.rail.chosen = max(0, min(self.rail.chosen, len(blend.samples) - 1))
        if not axis.min <= self.rail.probe <= axis.max:
            self.rail.probe = axis.min + (axis.max - axis.min) * 0.45
        self.rail.unit = next((one.unit for one in self.session.document.parameters if one.name == axis.parameter), "")
        fill_combo(self.parameter, self._numbers(), axis.parameter)
        self.low.show_value(axis.min)
        self.high.show_value(axis.max)
        self.step.show_value(axis.step or 0.0)
        self.sticky.show_value(blend.sticky)
        if blend.samples:
            sample = blend.samples[self.rail.chosen]
            fill_combo(self.clip, [clip.name for clip in self.session.document.clips], sample.clip)
            self.place.show_value(sample.at[0])
            self.mirrored.setChecked(sample.mirrored)
            self.phase.show_value(sample.phase)
        users = [
            state.name for layer in self.session.document.layers for state in layer.states if state.blend == blend.name
        ]
        before = self.rail.picked if self.rail.picked is not None and self.rail.picked < len(blend.samples) else -1
        picked = self.rail.picked = pick(blend, self.rail.probe, before)
        shown = (
            f"at {self.rail.probe:.0f} it shows {blend.samples[picked].clip}"
            if picked is not None
            else "it has no samples"
        )
        self.sentence.setText(
            f"Shows the nearest clip for {axis.parameter}: {shown}. "
            f"{'Used by ' + ', '.join(users) if users else 'No state uses it yet'}."
        )
        self.rail.update()

    def showEvent(self, event: QShowEvent) -> None:
        self._timer.start()

    def hideEvent(self, event: QHideEvent) -> None:
        self._timer.stop()

    def _advance(self) -> None:
        if self.blend is None:
            return
        self.rail.phase = (self.rail.phase + TICK // 26) % TICK
        index = self.live.machine.index.get(self.blend.axes[0].parameter)
        now = self.live.situation.values[index] if index is not None else None
        self.rail.now = None if now is None or isinstance(now, str) else float(now)
        self.rail.look()

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
        name = free_name("blend", self.names)
        parameter = next((one for one in self.session.document.parameters if one.name == numbers[0]), None)
        axis = Axis(
            parameter=numbers[0], min=parameter.low if parameter else -1.0, max=parameter.high if parameter else 1.0
        )
        clips = self.session.document.clips
        samples = (Sample(at=(axis.min,), clip=clips[0].name),) if clips else ()
        self.make(f"made {name}", BlendSpace(name=name, axes=(axis,), samples=samples))
        self.ask_name()

    def _axis(self, **values: object) -> None:
        blend = self.blend
        if blend is None:
            return
        low, high = values.get("min", blend.axes[0].min), values.get("max", blend.axes[0].max)
        if float(low) >= float(high):  # type: ignore[arg-type]
            self.session.said.emit("The axis must begin below its end; nothing was changed.")
            self.refresh()
            return
        at = self.index
        self.session.edit(
            f"changed the axis of {self.current}",
            lambda document: change(document, ("blends", at, "axes", 0), **values),
            f"axis {self.current} {sorted(values)}",
        )

    def _stick(self, width: float) -> None:
        at = self.index
        self.session.edit(
            f"made the borders of {self.current} {'sticky' if width else 'sharp'}",
            lambda document: change(document, ("blends", at), sticky=width),
            f"sticky {self.current}",
        )

    def _sample(self, **values: object) -> None:
        blend = self.blend
        if blend is not None and blend.samples:
            at, sample = self.index, self.rail.chosen
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
        at = self.index
        sample = Sample(at=(float(round(self.rail.probe)),), clip=clips[0].name)
        self.rail.chosen = len(self.blend.samples)
        self.session.edit(
            f"added a sample to {self.current}", lambda document: append(document, ("blends", at, "samples"), sample)
        )

    def _remove_sample(self, sample: int) -> None:
        blend = self.blend
        if blend is not None and sample < len(blend.samples):
            at = self.index
            self.session.edit(
                f"took a sample out of {self.current}",
                lambda document: remove(document, ("blends", at, "samples", sample)),
            )
