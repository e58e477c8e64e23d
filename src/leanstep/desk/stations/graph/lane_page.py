"""The drawer's page for a lane and its layer: named, ordered, added and removed."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.edits import append, change, free_name, move, remove
from leanstep.core.character.graph import Layer, State
from leanstep.core.naming.references import Thing
from leanstep.core.wording import counted
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import DropDown, NameField, button, fill_combo, label


class LanePage(QWidget):
    """Shows the chosen lane."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.lane = NameField("lane")
        self.lane.setMaximumWidth(150)
        self.lane.renamed.connect(self._rename_lane)
        self.layer = NameField("layer")
        self.layer.setMaximumWidth(150)
        self.layer.renamed.connect(self._rename_layer)
        for field in (self.lane, self.layer):
            field.refused.connect(session.said)
        self.start = DropDown()
        self.start.setAccessibleName("Start of the layer")
        self.start.setToolTip("The state the layer begins in")
        self.start.activated.connect(lambda at: self._start(self.start.itemText(at)))
        self.clear = QCheckBox("clear")
        self.clear.setAccessibleName("Clear layer")
        self.clear.setToolTip("What the layers below show is seen behind every state of this layer")
        self.clear.clicked.connect(self._set_clear)
        self.sentence = label("", "soft", wrap=True)
        first = QHBoxLayout()
        first.addWidget(label("Lane", "soft"))
        first.addWidget(self.lane)
        for text, tip, work in (
            ("Up", "Draw this lane above the one before it", lambda: self._move_lane(-1)),
            ("Down", "Draw this lane below the one after it", lambda: self._move_lane(1)),
            ("Add a lane", "A new lane below this one", self.add_lane),
            ("Remove the lane", "Its states stay, without a lane", self.remove_lane),
        ):
            first.addWidget(button(text, tip, work))
        first.addStretch(1)
        second = QHBoxLayout()
        second.addWidget(label("of layer", "soft"))
        second.addWidget(self.layer)
        second.addWidget(label("beginning in", "soft"))
        second.addWidget(self.start)
        second.addWidget(self.clear)
        for text, tip, work in (
            (
                "Earlier",
                "Before the layer before it: later layers see what earlier ones do, and show over them",
                lambda: self._move_layer(-1),
            ),
            ("Later", "After the layer after it", lambda: self._move_layer(1)),
            ("Duplicate the layer", "A copy of the layer with its states and transitions", self.duplicate_layer),
            ("Add a layer", "A graph that runs beside the others", self.add_layer),
            ("Remove the layer", "Remove the layer with its states and transitions", self.remove_layer),
        ):
            second.addWidget(button(text, tip, work))
        second.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(first)
        column.addLayout(second)
        column.addWidget(self.sentence)
        column.addStretch(1)

    @property
    def chosen(self) -> tuple[int, str] | None:
        """Layer and name of the chosen lane, if the document has it."""
        found = self.session.selection.thing("lane")
        for at, layer in enumerate(self.session.document.layers if found is not None else ()):
            if found is not None and layer.name == found.within and found.name in (*layer.lane_names, ""):
                return at, found.name
        return None

    def refresh(self) -> None:
        """Show the chosen lane."""
        chosen = self.chosen
        assert chosen is not None
        layer, lane = self.session.document.layers[chosen[0]], chosen[1]
        self.lane.setEnabled(bool(lane))
        self.lane.show_name(lane, lambda name: self.session.rename_fault(Thing("lane", lane, layer.name), name))
        self.layer.show_name(layer.name, lambda name: self.session.rename_fault(Thing("layer", layer.name), name))
        fill_combo(self.start, [state.name for state in layer.states], layer.start_name)
        self.clear.setChecked(layer.clear)
        inside = [state.name for state in layer.states if state.lane == lane]
        self.sentence.setText(
            f"{counted(len(inside), 'state')} in this lane{': ' + ', '.join(inside) if inside else ''}. "
            f"{counted(len(layer.states), 'state')} and {counted(len(layer.transitions), 'transition')} in the layer."
        )

    def _show(self, layer: str, lane: str) -> None:
        self.session.select(Thing("lane", lane, layer))

    def _rename_lane(self, name: str) -> None:
        if self.chosen is not None:
            layer = self.session.document.layers[self.chosen[0]].name
            self.session.rename(Thing("lane", self.chosen[1], layer), name)

    def _rename_layer(self, name: str) -> None:
        if self.chosen is not None:
            self.session.rename(Thing("layer", self.session.document.layers[self.chosen[0]].name), name)

    def _start(self, name: str) -> None:
        if self.chosen is not None:
            at = self.chosen[0]
            self.session.edit(f"made {name} the start", lambda document: change(document, ("layers", at), start=name))

    def _set_clear(self, on: bool) -> None:
        if self.chosen is not None:
            at, name = self.chosen[0], self.session.document.layers[self.chosen[0]].name
            said = f"let the layers below be seen behind {name}" if on else f"let {name} cover the layers below"
            self.session.edit(said, lambda document: change(document, ("layers", at), clear=on))

    def _move_lane(self, step: int) -> None:
        if self.chosen is None:
            return
        at, lane = self.chosen
        lanes = list(self.session.document.layers[at].lane_names)
        place = lanes.index(lane) + step if lane in lanes else -1
        if not 0 <= place < len(lanes):
            self.session.said.emit(f"Lane {lane} is already the {'first' if step < 0 else 'last'}.")
            return
        lanes.insert(place, lanes.pop(lanes.index(lane)))
        self.session.edit(f"moved lane {lane}", lambda document: change(document, ("layers", at), lanes=tuple(lanes)))

    def add_lane(self) -> None:
        """A new lane behind the chosen one, ready to be named."""
        at, lane = self.chosen or (0, "")
        layer = self.session.document.layers[at]
        lanes = list(layer.lane_names)
        name = free_name("lane", lanes)
        lanes.insert(lanes.index(lane) + 1 if lane in lanes else len(lanes), name)
        self.session.edit(f"added {name}", lambda document: change(document, ("layers", at), lanes=tuple(lanes)))
        self._show(layer.name, name)
        self.lane.setFocus()
        self.lane.selectAll()

    def remove_lane(self) -> None:
        """Remove the chosen lane; its states stay."""
        if self.chosen is not None and self.chosen[1]:
            self.session.remove(Thing("lane", self.chosen[1], self.session.document.layers[self.chosen[0]].name))

    def _move_layer(self, step: int) -> None:
        if self.chosen is None:
            return
        at, count = self.chosen[0], len(self.session.document.layers)
        name = self.session.document.layers[at].name
        if not 0 <= at + step < count:
            self.session.said.emit(f"Layer {name} is already the {'first' if step < 0 else 'last'}.")
            return
        self.session.edit(f"moved layer {name}", lambda document: move(document, ("layers", at), at + step))

    def add_layer(self) -> None:
        """A new layer with one state, ready to be named."""
        name = free_name("layer", [layer.name for layer in self.session.document.layers], "_")
        made = Layer(name=name, start="rest", lanes=("lane",), states=(State(name="rest", lane="lane", restful=True),))
        self.session.edit(f"added {name}", lambda document: append(document, ("layers",), made))
        self._show(name, "lane")
        self.layer.setFocus()
        self.layer.selectAll()

    def duplicate_layer(self) -> None:
        """A copy of the chosen layer, behind it, ready to be named."""
        if self.chosen is None:
            return
        before = self.session.document.layers[self.chosen[0]]
        self.session.duplicate(Thing("layer", before.name))
        copy = self.session.selection.thing("layer")
        assert copy is not None
        self._show(copy.name, self.chosen[1])
        self.layer.ask()

    def remove_layer(self) -> None:
        """Remove the chosen layer with all in it; the last one stays."""
        if self.chosen is None:
            return
        if len(self.session.document.layers) == 1:
            self.session.said.emit("A character needs at least one layer; this one stays.")
            return
        at = self.chosen[0]
        name = self.session.document.layers[at].name
        self.session.edit(
            f"removed layer {name}",
            lambda document: remove(document, ("layers", at)),
            select=lambda selection: selection.let_go("lane", "state", "transition"),
        )
