"""The Blends station: a blend space with one axis is a rail, one over a direction a dial, one over two numbers a plane."""

from __future__ import annotations

import math

from PySide6.QtCore import QElapsedTimer, QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QAction, QHideEvent, QShowEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.bearings import reduced, way_word
from leanstep.core.blends.coverage import place_words
from leanstep.core.blends.mixing import weights
from leanstep.core.blends.picking import pick
from leanstep.core.blends.space import Space, space_of
from leanstep.core.character.blends import ANY, BlendSpace
from leanstep.core.clips.timing import TICK
from leanstep.core.naming.references import Thing
from leanstep.desk.context import Context
from leanstep.desk.stations.blends.axis_row import AxisRow
from leanstep.desk.stations.blends.blend_edits import BlendEdits
from leanstep.desk.stations.blends.fill_row import FillRow
from leanstep.desk.stations.blends.view import Values
from leanstep.desk.widgets.basics import DropDown, NumberField, button, command, fill_combo, label
from leanstep.desk.widgets.empty_place import EmptyPlace, rail_drawing
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, MenuEntry

LAP = 860
"""Milliseconds a figure takes for one pass of its clip."""
SOONEST = 30
"""Milliseconds between two looks at what the figures show, at least."""
ORDER = ("Sample", "Second")
"""What the fields of a sample's places are called by."""


class BlendsStation(BlendEdits):
    """Blend spaces on the left, the rail in the middle, the axis and the chosen sample below."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session, self.live = desk.session, desk.live
        self.list.setAccessibleName("Blend spaces")
        self.sentence = label("", wrap=True)
        self.views = QStackedWidget()
        for view in (self.rail, self.dial, self.plane):
            self.views.addWidget(view)
            view.chose.connect(lambda at: self.refresh())
            view.dragged.connect(self._drag)
            view.probed.connect(self._probe)
            view.removed.connect(self._remove_samples)
            session.art.changed.connect(view.update)
        self.view_menus = [ContextMenu(view, self._view_entries) for view in (self.rail, self.dial, self.plane)]
        self.axes = [AxisRow(second) for second in (False, True)]
        for number, row in enumerate(self.axes):
            row.changed.connect(lambda values, number=number: self._axis(number, **values))
            row.read.connect(lambda name, number=number: self._read(number, name))
        self.fill = FillRow(session)
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
        self.clip = DropDown()
        self.clip.setAccessibleName("Sample clip")
        self.clip.setToolTip("The clip the chosen sample plays")
        self.clip.activated.connect(lambda index: self._sample(clip=self.clip.itemText(index)))
        self.places = [
            NumberField(f"{word} place", "Where the chosen sample lies", -1e6, 1e6, whole=False) for word in ORDER
        ]
        self.anywhere = [QCheckBox("any") for _ in self.places]
        for number, (field, box) in enumerate(zip(self.places, self.anywhere)):
            field.settled.connect(lambda value, number=number: self._place(number, value))
            box.setAccessibleName(f"{ORDER[number]} place is any")
            box.setToolTip("The chosen sample is as near to every value of this axis")
            box.clicked.connect(lambda on, number=number: self._place(number, ANY if on else 0.0))
        self.use = button("Let a state show it", "A state shows it from now on", self.let_show)
        self._clock = QElapsedTimer()
        self._timer = QTimer(self, singleShot=True, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._advance)
        self.live.ticked.connect(self._show_now)
        self._lay_out()
        self.follow()

    def _lay_out(self) -> None:
        maker = button("New blend space", "Arrange clips along a parameter", self.new)
        dial = button(
            "New dial", "Arrange clips around direction and speed, for a figure seen from above", self.new_dial
        )
        head = QHBoxLayout()
        head.addWidget(self.name)
        head.addWidget(self.sentence, 1)
        head.addWidget(self.use)
        head.addWidget(button("Add a sample", "Put another clip where the needle stands", self.add_sample))
        head.addWidget(button("Take it out", "Take the chosen samples out (Delete)", self._remove_samples))
        sample = QHBoxLayout()
        self.which = label("Chosen sample plays", "soft")
        sample.addWidget(self.which)
        self.clip.setMinimumWidth(120)
        sample.addWidget(self.clip)
        sample.addWidget(label("at", "soft"))
        for field, box in zip(self.places, self.anywhere):
            sample.addWidget(field)
            sample.addWidget(box)
        sample.addStretch(1)
        sample.addWidget(self.phase)
        sample.addWidget(self.mirrored)
        first = QHBoxLayout()
        first.addWidget(self.axes[0])
        first.addStretch(1)
        for widget in (label("sticky by", "soft"), self.sticky, label("rulings", "soft")):
            first.addWidget(widget)
        second = QHBoxLayout()
        second.addWidget(self.axes[1])
        second.addStretch(1)
        middle = QVBoxLayout()
        middle.addLayout(head)
        middle.addWidget(self.views, 1)
        middle.addWidget(self.fill)
        for row in (sample, first, second):
            middle.addLayout(row)
        empty = EmptyPlace(
            rail_drawing,
            "Blend spaces stand here: clips along a number or around a direction, so that the right one is shown, such as walk when "
            "slow and run when fast.",
            "Make the first blend space",
            "Arrange clips along a parameter",
            self.new,
        )
        self.beside_list(self.list_column(maker, dial), middle, empty)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [*super().commands(), command(self, "Make a new blend space", "", self.new)]

    def chosen_anew(self) -> None:
        self.samples.choose(0)
        for view in (self.rail, self.dial, self.plane):
            view.picked, view.probe, view.touched = None, (), "needle"

    def _fields(self) -> list[QWidget]:
        """The fields that need a blend space."""
        return [*self.axes, self.clip, *self.places, *self.anywhere, self.sticky, self.mirrored, self.phase]

    def show_part(self, part: BlendSpace | None) -> None:
        for widget in self._fields():
            widget.setEnabled(part is not None)
        self.rail.blend = self.dial.blend = self.plane.blend = None
        if part is None:
            self.sentence.setText("A blend space shows the right clip for a value: walk when slow, run when fast.")
            self.fill.hide()
            self.view.update()
            return
        space = space_of(part, self.session.document.bearings)
        self.view = self.dial if space.dial else self.plane if len(space.axes) > 1 else self.rail
        self.views.setCurrentWidget(self.view)
        view = self.view
        view.blend, view.space = part, space
        self.samples.keep_within(len(part.samples))
        if len(view.probe) != len(space.axes):
            view.probe = tuple(90.0 if axis.round else axis.low + (axis.high - axis.low) * 0.45 for axis in space.axes)
        view.probe = tuple(axis.inside(value) for axis, value in zip(space.axes, view.probe))
        units = {one.name: one.unit for one in self.session.document.parameters}
        view.units = [units.get(axis.parameter, "") for axis in space.axes]
        names = self._numbers()
        for at, row in enumerate(self.axes):
            axis = part.axes[at] if at < len(part.axes) else None
            row.show_axis(axis, names, at < len(space.axes) and space.axes[at].round)
        self.sticky.show_value(part.sticky)
        self.fill.setVisible(space.dial is not None)
        if space.dial is not None:
            self.fill.show_blend(part, space, view.probe)
        self._show_sample(part, space)
        self._show_pick(part, space)
        view.update()

    def _show_sample(self, part: BlendSpace, space: Space) -> None:
        """The fields of the chosen sample."""
        several = len(self._chosen_samples())
        self.which.setText(f"{several} samples play" if several > 1 else "Chosen sample plays")
        for at, (field, box) in enumerate(zip(self.places, self.anywhere)):
            there = at < len(space.axes)
            field.setVisible(there)
            box.setVisible(there and len(space.axes) > 1)
            if there and part.samples:
                place = space.places[self.view.chosen][at]
                field.setEnabled(not math.isnan(place))
                box.setChecked(math.isnan(place))
                round_one = space.axes[at].round
                field.setSuffix(f"° {way_word(place)}" if round_one and not math.isnan(place) else "")
                field.setMinimumWidth(120 if round_one else 54)
                field.show_value(0.0 if math.isnan(place) else place)
        if part.samples:
            sample = part.samples[self.view.chosen]
            fill_combo(self.clip, [clip.name for clip in self.session.document.clips], sample.clip)
            self.mirrored.setChecked(sample.mirrored)
            self.phase.show_value(sample.phase)

    def _show_pick(self, part: BlendSpace, space: Space) -> None:
        """What the needle picks, in the view and in words."""
        view = self.view
        before = view.picked if view.picked is not None and view.picked < len(part.samples) else -1
        picked = view.picked = pick(space, view.probe, before)
        view.shares = weights(space, view.probe)
        users = [
            state.name for layer in self.session.document.layers for state in layer.states if state.blend == part.name
        ]
        start = self.session.document.layers[0].start_name if self.session.document.layers else ""
        self.use.setVisible(not users and bool(start))
        self.use.setText(f"Let {start} show it")
        rounded = tuple(
            reduced(float(round(at))) if axis.round else float(round(at)) for axis, at in zip(space.axes, view.probe)
        )
        shown = (
            f"{place_words(space, rounded)} it shows {part.samples[picked].clip}"
            if picked is not None
            else "it has no samples"
        )
        names = " and ".join(axis.parameter for axis in space.axes)
        before_words = "" if picked is None or space.axes[0].round else "at "
        self.sentence.setText(
            f"Shows the nearest clip for {names}: {before_words}{shown}. "
            f"{'Used by ' + ', '.join(users) if users else 'No state uses it yet'}."
        )

    def showEvent(self, event: QShowEvent) -> None:
        self._clock.start()
        self._timer.start(0)

    def hideEvent(self, event: QHideEvent) -> None:
        self._timer.stop()

    def _advance(self) -> None:
        """Let the figures walk on, until another cel is seen."""
        self.view.phase = (self.view.phase + self._clock.restart() * TICK // LAP) % TICK
        self.view.look()
        self._timer.start(max(SOONEST, math.ceil(self.view.until_next() * LAP / TICK)))

    def _show_now(self) -> None:
        """Point at what the character's values are."""
        if not self.isVisible() or self.blend is None:
            return
        index, values = self.live.machine.index, self.live.situation.values
        now = [values[index[axis.parameter]] if axis.parameter in index else None for axis in self.blend.axes]
        told = all(one is not None and not isinstance(one, str) for one in now)
        self.view.now = tuple(float(one or 0.0) for one in now) if told else None
        self.view.look()

    def _probe(self, values: Values) -> None:
        """The needle points elsewhere; where the game sets the values, the character follows it."""
        self.view.probe = values
        owners = {one.name: one.owner for one in self.session.document.parameters}
        for axis, value in zip(self.space.axes, values):
            if owners.get(axis.parameter) == "game":
                self.live.set_handle(axis.parameter, value)
        self.refresh()

    # --- menus

    def menu_entries(self) -> MenuEntries:
        show = [MenuEntry(self.use.text(), self.let_show)] if self.use.isVisibleTo(self) else []
        return [
            *super().menu_entries(),
            None,
            *show,
            MenuEntry("New blend space", self.new),
            MenuEntry("New dial", self.new_dial),
        ]

    def _view_entries(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the sample at a place of the view."""
        if self.blend is None:
            return []
        sample = self.view.sample_at(QPointF(where)) if where is not None else self.view.chosen
        if sample is None or sample >= len(self.blend.samples):
            return [MenuEntry("Add a sample", self.add_sample)]
        if sample not in self.samples.all:
            self.samples.choose(sample)
            self.refresh()
        one = self.blend.samples[sample]
        clip = Thing("clip", one.clip)
        return [
            MenuEntry("As drawn" if one.mirrored else "Mirrored", lambda: self._sample(mirrored=not one.mirrored)),
            MenuEntry(f"Go to clip {one.clip}", lambda: self.session.show(clip)),
            None,
            MenuEntry("Duplicate", self._double_samples),
            MenuEntry("Add a sample", self.add_sample),
            MenuEntry("Take out", self._remove_samples, "Delete"),
        ]
