"""The course under the hand: its shapes chosen, drawn, moved, resized, named and removed, and ready ones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import msgspec
from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.body.courses import FLAT, READY
from leanstep.core.character.body import Shape
from leanstep.core.character.edits import change, remove
from leanstep.desk.parameters.fields import MeantLine
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, NumberField, button, label
from leanstep.desk.widgets.menu import MenuEntries, MenuEntry

GRID = 4.0
"""Units that shapes snap to."""

START = -1
"""What stands for the start, beside the numbers of shapes."""

KINDS = {"floor": "floor", "slope": "slope", "ladder": "ladder", "zone": "zone"}


@dataclass
class Held:
    """What of the course is dragged: a shape or the start, which edges of it move, and from where."""

    shape: int
    edges: tuple[bool, bool, bool, bool]
    pressed: QPointF
    before: Shape


def held_at(shapes: Sequence[Shape], start: Sequence[float], at: QPointF, reach: float) -> Held | None:
    """What is held at a place of the course; the topmost shape, its edges before its middle."""
    if abs(at.x() - start[0]) <= 2 * reach and -reach <= at.y() - start[1] <= 4 * reach:
        whole = Shape(x=start[0], y=start[1], width=1.0, height=1.0)
        return Held(START, (True, True, True, True), at, whole)
    for number in reversed(range(len(shapes))):
        one = shapes[number]
        sides = (one.x, one.y, one.x + one.width, one.y + one.height)
        inside = sides[0] - reach <= at.x() <= sides[2] + reach and sides[1] - reach <= at.y() <= sides[3] + reach
        if not inside:
            continue
        near = min(reach, one.width / 4, one.height / 4)
        edges = (
            abs(at.x() - sides[0]) <= near,
            abs(at.y() - sides[1]) <= near,
            abs(at.x() - sides[2]) <= near,
            abs(at.y() - sides[3]) <= near,
        )
        return Held(number, edges if any(edges) else (True, True, True, True), at, one)
    return None


def dragged(held: Held, at: QPointF) -> Shape:
    """A shape as it is when the hand is at a place, on the grid; never thinner than that."""
    one = held.before
    by = (at.x() - held.pressed.x(), at.y() - held.pressed.y())
    sides = [one.x, one.y, one.x + one.width, one.y + one.height]
    if all(held.edges):
        left, low = snapped(sides[0] + by[0]), snapped(sides[1] + by[1])
        return msgspec.structs.replace(one, x=left, y=low)
    for side in range(4):
        if held.edges[side]:
            sides[side] = snapped(sides[side] + by[side % 2])
    x0, x1 = sorted((sides[0], sides[2]))
    y0, y1 = sorted((sides[1], sides[3]))
    return msgspec.structs.replace(one, x=x0, y=y0, width=max(GRID, x1 - x0), height=max(GRID, y1 - y0))


def snapped(value: float) -> float:
    """A length on the grid."""
    return round(value / GRID) * GRID


class CourseRow(QWidget):
    """What is said of the chosen shape, and ready courses; ``chosen`` is its number."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.chosen: int | None = None
        self.kind = DropDown()
        self.kind.setAccessibleName("Kind of shape")
        self.kind.setToolTip("What the chosen shape is, and what is drawn next")
        for key, text in KINDS.items():
            self.kind.addItem(text, key)
        self.kind.activated.connect(lambda at: self._set(kind=self.kind.itemData(at)))
        self.name = MeantLine("Name of the shape", "A named zone raises the flag of its name", "name")
        self.name.setMaximumWidth(110)
        self.name.meant.connect(lambda text: self._set(name=text))
        self.fields: dict[str, NumberField] = {}
        for key, prefix, low in (("x", "x ", -1e6), ("y", "y ", -1e6), ("width", "wide ", 1), ("height", "high ", 1)):
            field = NumberField(f"{key.capitalize()} of the shape", "In units", low, 1e6, whole=False)
            field.setPrefix(prefix)
            field.setSingleStep(GRID)
            field.setMinimumWidth(76)
            field.settled.connect(lambda value, key=key: self._set(**{key: value}))
            self.fields[key] = field
        self.tall = NumberField("How tall the wall is", "Who jumps higher passes over it", 0, 1e6, whole=False)
        self.tall.setPrefix("tall ")
        self.tall.setSpecialValueText("too high")
        self.tall.setMinimumWidth(84)
        self.tall.settled.connect(lambda value: self._set(tall=value or None))
        self.rises = DropDown()
        self.rises.setAccessibleName("The slope rises")
        self.rises.setToolTip("To which side the slope goes up")
        for way in ("right", "left"):
            self.rises.addItem(f"up to the {way}", way)
        self.rises.activated.connect(lambda at: self._set(rises=self.rises.itemData(at)))
        self.remove_button = button("Remove", "Remove the chosen shape (Delete)", self.remove)
        self.ready = DropDown()
        self.ready.setAccessibleName("Ready courses")
        self.ready.setToolTip("Put a ready course in the place of this one; it can be undone")
        self.ready.addItem("A ready course …")
        self.ready.addItems(list(READY))
        self.ready.activated.connect(self._use)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(7)
        row.addWidget(label("Draw a", "soft"))
        row.addWidget(self.kind)
        row.addWidget(self.name)
        for field in self.fields.values():
            row.addWidget(field)
        row.addWidget(self.tall)
        row.addWidget(self.rises)
        row.addWidget(self.remove_button)
        row.addStretch(1)
        row.addWidget(self.ready)

    @property
    def shapes(self) -> tuple[Shape, ...]:
        """The shapes of the course."""
        return self.session.document.course.shapes

    def refresh(self) -> None:
        """Show the chosen shape."""
        if self.chosen is not None and not START <= self.chosen < len(self.shapes):
            self.chosen = None
        shape = self.shapes[self.chosen] if self.chosen is not None and self.chosen != START else None
        above = self.session.document.body.model == "above"
        self.rises.setVisible(shape is not None and shape.kind == "slope")
        if shape is not None:
            self.rises.setCurrentIndex(self.rises.findData(shape.rises))
        self.tall.setVisible(above)
        self.tall.setEnabled(shape is not None and shape.kind == "floor")
        self.tall.show_value((shape.tall or 0.0) if shape is not None else 0.0)
        self.kind.setItemText(self.kind.findData("floor"), self._word("floor"))
        self.name.setEnabled(shape is not None)
        self.remove_button.setEnabled(shape is not None)
        if shape is not None:
            self.kind.setCurrentIndex(self.kind.findData(shape.kind))
            self.name.show_text(shape.name)
        for key, field in self.fields.items():
            start = self.chosen == START and key in ("x", "y")
            field.setEnabled(shape is not None or start)
            if shape is not None:
                field.show_value(getattr(shape, key))
            elif start:
                field.show_value(self.session.document.course.start[0 if key == "x" else 1])

    def _word(self, kind: str) -> str:
        """A kind of shape in a word: seen from above a floor is a wall."""
        above = self.session.document.body.model == "above"
        return "wall" if kind == "floor" and above else KINDS[kind]

    def choose(self, number: int | None) -> None:
        """Choose a shape, the start, or nothing."""
        self.chosen = number
        self.refresh()

    def put(self, number: int, shape: Shape) -> None:
        """A shape, or the start, has other numbers."""
        if number == START:
            start = (shape.x, shape.y)
            self.session.edit(
                "moved the start of the course", lambda document: change(document, ("course",), start=start)
            )
        else:
            values = {key: getattr(shape, key) for key in ("x", "y", "width", "height")}
            self.session.edit(
                f"changed a {self._word(shape.kind)} of the course",
                lambda document: change(document, ("course", "shapes", number), **values),
            )

    def draw(self, shape: Shape) -> None:
        """A new shape; where there was no course, level ground stays beside it."""
        made = msgspec.structs.replace(shape, kind=self.kind.currentData())
        beside = self._level_ground(made)
        self.session.edit(
            f"drew a {self._word(made.kind)}" + (" on level ground" if beside else ""),
            lambda document: change(document, ("course",), shapes=(*document.course.shapes, *beside, made)),
        )
        self.choose(len(self.shapes) - 1)

    def _level_ground(self, made: Shape) -> tuple[Shape, ...]:
        """What stands in for the endless ground, which there is only while nothing is drawn: it reaches well beyond the shape."""
        course, body = self.session.document.course, self.session.document.body
        if course.shapes or body.model == "above":
            return ()
        ground = FLAT.shapes[0]
        left = min(ground.x, snapped(made.x) - ground.width / 4)
        right = max(ground.x + ground.width, made.x + made.width + ground.width / 4)
        return (msgspec.structs.replace(ground, x=left, width=right - left),)

    def _set(self, **values: Any) -> None:
        if self.chosen == START:
            x, y = self.session.document.course.start
            self.put(START, Shape(x=values.get("x", x), y=values.get("y", y)))
        elif self.chosen is not None:
            at = self.chosen
            self.session.edit(
                f"changed a {self._word(self.shapes[at].kind)} of the course",
                lambda document: change(document, ("course", "shapes", at), **values),
                f"course {at} {sorted(values)}",
            )

    def duplicate(self) -> None:
        """The chosen shape once more, beside itself."""
        if self.chosen is not None and self.chosen != START:
            one = self.shapes[self.chosen]
            copy = msgspec.structs.replace(one, x=one.x + one.width)
            self.session.edit(
                f"duplicated a {self._word(one.kind)}",
                lambda document: change(document, ("course",), shapes=(*document.course.shapes, copy)),
            )
            self.choose(len(self.shapes) - 1)

    def menu_entries(self) -> MenuEntries:
        """What can be done with the chosen shape."""
        if self.chosen is None or self.chosen == START:
            return []
        return [MenuEntry("Duplicate", self.duplicate, "Ctrl+D"), MenuEntry("Remove", self.remove, "Delete")]

    def remove(self) -> None:
        """Remove the chosen shape."""
        if self.chosen is not None and self.chosen != START:
            at, kind = self.chosen, self._word(self.shapes[self.chosen].kind)
            self.choose(None)
            self.session.edit(f"removed a {kind}", lambda document: remove(document, ("course", "shapes", at)))

    def _use(self, at: int) -> None:
        name = self.ready.itemText(at)
        self.ready.setCurrentIndex(0)
        if name in READY:
            self.choose(None)
            self.session.edit(f"put the course {name}", lambda document: change(document, (), course=READY[name]))
