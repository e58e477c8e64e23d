"""Edits of a blend space: its axes and its samples."""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec

from leanstep.core.blends import edits
from leanstep.core.blends.space import Space
from leanstep.core.character.blends import BlendSpace, Sample
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name
from leanstep.core.conditions.expression import NUMERIC
from leanstep.core.naming.references import Thing
from leanstep.core.wording import a_few
from leanstep.desk.context import Context
from leanstep.desk.stations.blends.axis_row import NONE
from leanstep.desk.stations.blends.dial import Dial
from leanstep.desk.stations.blends.plane import Plane
from leanstep.desk.stations.blends.rail import Rail
from leanstep.desk.stations.blends.view import BlendView, Values
from leanstep.desk.widgets.list_station import ListStation
from leanstep.desk.widgets.several import Several


class BlendEdits(ListStation):
    """Changes the chosen blend space and its chosen samples; ``view`` shows it."""

    field, what, kind = "blends", "blend space", "blend"

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session = desk.session
        self.samples = Several()
        self.rail, self.dial, self.plane = (
            Rail(session, self.samples),
            Dial(session, self.samples),
            Plane(session, self.samples),
        )
        self.view: BlendView = self.rail

    @property
    def blend(self) -> BlendSpace | None:
        """The chosen blend space."""
        return self.part

    @property
    def space(self) -> Space:
        """The chosen blend space laid out."""
        return self.view.space

    def _numbers(self) -> list[str]:
        document = self.session.document
        names = [parameter.name for parameter in document.parameters if parameter.kind in NUMERIC]
        return names + [name for stick in document.controls.sticks for name in stick.values]

    def new(self) -> None:
        """Make a blend space over the first numeric parameter."""
        numbers = self._numbers()
        if not numbers:
            self.session.said.emit("A blend space needs a number to read: add a parameter in the Graph station first.")
            return
        name = free_name("blend", self.names)
        axis = edits.axis_over(self.session.document, numbers[0])
        clips = self.session.document.clips
        samples = (Sample(at=(axis.low,), clip=clips[0].name),) if clips else ()
        self.make(f"made {name}", BlendSpace(name=name, axes=(axis,), samples=samples))
        self.ask_name()

    def new_dial(self) -> None:
        """Make a blend space over a direction and the speed; where nothing sets a direction, the body is seen from above."""
        name = free_name("gait", self.names)
        thing = Thing(self.kind, name)
        self.session.edit(
            f"made the dial {name}",
            lambda document: edits.with_dial(document, name),
            select=lambda selection: selection.choose(thing),
        )

    def let_show(self) -> None:
        """Let the start state of the first layer show it."""
        document, name = self.session.document, self.current
        layer = document.layers[0]
        at = next((number for number, one in enumerate(layer.states) if one.name == layer.start_name), 0)
        self.session.edit(
            f"let {layer.states[at].name} show {name}",
            lambda document: change(document, ("layers", 0, "states", at), blend=name, clip="", held=None),
        )

    def _read(self, number: int, name: str) -> None:
        """Let an axis read something else, or nothing."""
        blend = self.blend
        if blend is None or name in [axis.parameter for at, axis in enumerate(blend.axes) if at != number]:
            self.session.said.emit("Both axes cannot read the same; nothing was changed.")
            self.refresh()
            return
        at, wanted = self.index, "" if name == NONE else name
        axes = edits.reading(self.session.document, at, number, wanted).blends[at].axes
        self.session.edit(
            f"let {self.current} read {' and '.join(axis.parameter for axis in axes)}",
            lambda document: edits.reading(document, at, number, wanted),
        )

    def _axis(self, number: int, **values: object) -> None:
        blend = self.blend
        if blend is None:
            return
        axis = blend.axes[number]
        low, high = values.get("min", axis.low), values.get("max", axis.high)
        if float(low) >= float(high):  # type: ignore[arg-type]
            self.session.said.emit("The axis must begin below its end; nothing was changed.")
            self.refresh()
            return
        at = self.index
        self.session.edit(
            f"changed the axis of {self.current}",
            lambda document: change(document, ("blends", at, "axes", number), **values),
            f"axis {self.current} {number} {sorted(values)}",
        )

    def _stick(self, width: float) -> None:
        self.set_all(f"made {'sticky' if width else 'sharp'} the borders of", "sticky", sticky=width)

    def _chosen_samples(self) -> list[int]:
        """The numbers of the chosen samples."""
        return [at for at in self.samples.all if self.blend is not None and at < len(self.blend.samples)]

    def _change_samples(self, what: str, made: Callable[[Character, int, list[int]], Character], merge: str) -> None:
        """Change all chosen samples."""
        at, chosen = self.index, self._chosen_samples()
        if self.blend is not None and chosen:
            self.session.edit(
                f"{what} {a_few(len(chosen), 'sample')} of {self.current}",
                lambda document: made(document, at, chosen),
                f"sample {self.current} {chosen} {merge}",
            )

    def _sample(self, **values: object) -> None:
        """Set something of all chosen samples."""

        def changed(document: Character, at: int, chosen: list[int]) -> Character:
            return edits.with_samples(document, at, chosen, lambda one: msgspec.structs.replace(one, **values))

        self._change_samples("changed", changed, str(sorted(values)))

    def _drag(self, sample: int, place: Values) -> None:
        """A sample is put elsewhere, and with it the others that are chosen."""
        if sample not in self.samples.all:
            self.samples.choose(sample)
        steps = [
            0.0 if math.isnan(old) else new - old for old, new in zip(self.space.places[sample], place, strict=True)
        ]
        self._change_samples("moved", lambda document, at, chosen: edits.moved(document, at, chosen, steps), "at")

    def _place(self, number: int, value: edits.At) -> None:
        """The chosen samples lie elsewhere on one axis."""
        self._change_samples(
            "moved", lambda document, at, chosen: edits.placed(document, at, chosen, number, value), f"place {number}"
        )

    def add_sample(self) -> None:
        """Put a sample where the needle stands."""
        clips = self.session.document.clips
        if self.blend is None or not clips:
            self.session.said.emit("Make a blend space and a clip first.")
            return
        at = self.index
        axes = self.space.axes
        place = tuple(a.caught(at) if a.round else float(round(at)) for a, at in zip(axes, self.view.probe))
        sample = Sample(at=place, clip=clips[0].name)
        self.samples.choose(len(self.blend.samples))
        self.session.edit(
            f"added a sample to {self.current}", lambda document: append(document, ("blends", at, "samples"), sample)
        )

    def _remove_samples(self) -> None:
        """Take the chosen samples out."""
        at, blend, chosen = self.index, self.blend, self._chosen_samples()
        if blend is not None and chosen:
            left = len(blend.samples) - len(chosen)
            self.samples.choose(max(0, min(chosen[0], left - 1)))
            said = f"took {a_few(len(chosen), 'sample')} out of {self.current}"
            self.session.edit(said, lambda document: edits.without_samples(document, at, chosen))

    def _double_samples(self) -> None:
        """The chosen samples once more, each a little beside its own."""
        at, blend, chosen = self.index, self.blend, self._chosen_samples()
        if blend is not None and chosen:
            count = len(blend.samples)
            self.samples.choose(*range(count, count + len(chosen)))
            said = f"duplicated {a_few(len(chosen), 'sample')} of {self.current}"
            self.session.edit(said, lambda document: edits.doubled(document, at, chosen))
