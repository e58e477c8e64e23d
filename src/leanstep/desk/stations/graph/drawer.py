"""The drawer under the graph: what is chosen, over the full width."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.character.clips import Cel
from leanstep.core.character.edits import append
from leanstep.core.character.graph import State, Transition
from leanstep.core.naming.references import Thing
from leanstep.core.naming.told import tellable
from leanstep.core.wording import counted, listed
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.stations.graph.graph_edits import WHOLE, GraphEdits
from leanstep.desk.stations.graph.lane_page import LanePage
from leanstep.desk.stations.graph.layout import LANE
from leanstep.desk.stations.graph.more_rows import StateRows, TransitionRow
from leanstep.desk.stations.graph.truth_bars import TruthBars
from leanstep.desk.widgets.basics import DropDown, NameField, NumberField, button, fill_combo, label
from leanstep.desk.widgets.condition import ConditionLine, judged

NOTHING = "nothing"
ONE_FRAME = "one frame of "
OPEN, CLOSED = 226, 62
"""Pixels of height: with what is chosen, and with a hint."""


ON_PAGE = (
    "Click a figure to see and change the state, or an arc to change when it is taken. Drag figures to order "
    "them or to put them into another lane; drag from the + beside a chosen figure to another one to make a "
    "transition. Click the name of a lane to change it and its layer. Ctrl chooses several, and the right button shows "
    "what can be done."
)
IN_TABLE = (
    "Click a row to change its transition, or double-click its condition to write there. A click on the head of a column sorts by it. "
    "Ctrl chooses several."
)
"""What can be done while nothing is chosen."""


class Drawer(GraphEdits):
    """Shows the chosen state or transition for editing, or how to begin."""

    join_wanted = Signal(str)

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__(session)
        self.live = live
        self.setFixedHeight(OPEN)
        self.pages = QStackedWidget()
        self.pages.addWidget(self._hint_page())
        self.pages.addWidget(self._state_page())
        self.pages.addWidget(self._transition_page())
        self.lanes = LanePage(session)
        self.pages.addWidget(self.lanes)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(12, 8, 12, 8)
        whole.addWidget(self.pages)

    def _hint_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        hint = self.hint = label(ON_PAGE, "soft", wrap=True)
        column.addWidget(hint)
        column.addStretch(1)
        return page

    # --- a state

    def _state_page(self) -> QWidget:
        page = QWidget()
        self.name = NameField("state")
        self.name.setMaximumWidth(170)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(self.session.said)
        self.lane = _combo("Lane", "The lane this state stands in")
        self.lane.setEditable(True)
        self.lane.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.lane.setCompleter(None)  # type: ignore[arg-type]
        self.lane.activated.connect(lambda index: self._set_lane(self.lane.itemText(index)))
        line = self.lane.lineEdit()
        assert line is not None
        line.editingFinished.connect(lambda: self._set_lane(self.lane.currentText()))
        self.shows = _combo("Shows", "What is on screen while this state is active")
        self.shows.activated.connect(self._set_shows)
        self.held = NumberField("Held frame", "The frame that is shown all the time", 0, 99999)
        self.held.setPrefix("frame ")
        self.held.setMinimumWidth(76)
        self.held.settled.connect(lambda value: self._hold(frame=int(value)))
        self.held_ticks = NumberField(
            "Over after", "After so many ticks “clip done” is true of it", 0.25, 10000, "ticks", whole=False
        )
        self.held_ticks.setPrefix("done after ")
        self.held_ticks.setMinimumWidth(118)
        self.held_ticks.settled.connect(lambda value: self._hold(ticks=value))
        self.start = _check("start here", "The character begins in this state")
        self.start.clicked.connect(self._set_start)
        self.restful = _check("may rest here", "The character may stay here for good when nothing is asked of it")
        self.restful.clicked.connect(lambda on: self._state(restful=on))
        self.safe = _check("cannot be hit", "It is meant to have no box that can be hit")
        self.safe.clicked.connect(lambda on: self._state(safe=on))
        self.ending = _check("ending", "Nothing needs to lead out of this state")
        self.ending.clicked.connect(lambda on: self._state(ending=on))
        self.still = _check("holds still", "The body cannot be moved while this state is active")
        self.still.clicked.connect(lambda on: self._state(hold_still=on))
        self.backward = _check("may go backwards", "The body may move against the facing")
        self.backward.clicked.connect(lambda on: self._state(backward=on))
        self.clear = _check("clear", "What the layers below show is seen behind this state")
        self.clear.clicked.connect(lambda on: self._state(clear=on))
        self.rows = StateRows()
        self.rows.changed.connect(lambda values: self._state(**values))
        self.rows.breathes.connect(self._breathe)
        self.join = _combo("New transition to", "Make a transition from this state to another one")
        self.join.activated.connect(lambda index: self.join_wanted.emit(self.join.itemText(index)) if index else None)
        first = QHBoxLayout()
        for widget in (label("State", "soft"), self.name, label("in lane", "soft"), self.lane):
            first.addWidget(widget)
        first.addWidget(label("shows", "soft"))
        first.addWidget(self.shows)
        first.addWidget(self.held)
        first.addWidget(self.held_ticks)
        first.addStretch(1)
        first.addWidget(self.join)
        first.addWidget(button("Remove", "Remove the state and the transitions from and to it (Delete)", self.remove))
        second = QHBoxLayout()
        for box in (self.start, self.restful, self.ending, self.still, self.backward, self.clear, self.safe):
            second.addWidget(box)
        second.addStretch(1)
        self.fate = label("", "soft")
        second.addWidget(self.fate)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addLayout(first)
        column.addLayout(second)
        column.addWidget(self.rows)
        column.addStretch(1)
        return page

    # --- a transition

    def _transition_page(self) -> QWidget:
        page = QWidget()
        self.source = _combo("From", "Where the transition comes from: a state, a lane, or the whole graph")
        self.source.activated.connect(self._set_source)
        self.target = _combo("To", "Where it leads")
        self.target.activated.connect(lambda index: self._transition("target", to=self.target.itemText(index)))
        self.line = ConditionLine()
        self.line.written.connect(self._write)
        self.line.textChanged.connect(self._read)
        self.bars = TruthBars(self.live)
        self.reading = label("", wrap=True)
        self.more = TransitionRow()
        self.more.changed.connect(lambda what, values: self._transition(what, **values))
        self.urgent = _check("urgent", "Tried before the ordinary ones")
        self.urgent.clicked.connect(lambda on: self._transition("urgency", urgent=on))
        self.restart = _check("restart", "Also taken when its target is active already: starts it over")
        self.restart.clicked.connect(lambda on: self._transition("restart", restart=on))
        first = QHBoxLayout()
        for widget in (label("From", "soft"), self.source, label("to", "soft"), self.target, self.urgent, self.restart):
            first.addWidget(widget)
        self.several = label("", "soft")
        first.addWidget(self.several)
        first.addStretch(1)
        first.addWidget(button("Earlier", "Try it before the one above it (order decides)", lambda: self.order(-1)))
        first.addWidget(button("Later", "Try it after the one below it (order decides)", lambda: self.order(1)))
        first.addWidget(button("Remove", "Remove this transition", self.remove))
        when = QHBoxLayout()
        when.addWidget(label("when", "soft"))
        when.addWidget(self.line, 1)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addLayout(first)
        column.addLayout(when)
        column.addWidget(self.bars)
        column.addWidget(self.reading)
        column.addWidget(self.more)
        column.addStretch(1)
        return page

    # --- what is shown

    def refresh(self) -> None:
        """Show what is chosen now."""
        if self._chosen_transition() is not None:
            self._show_transition()
            self.pages.setCurrentIndex(2)
        elif self._chosen_state() is not None:
            self._show_state()
            self.pages.setCurrentIndex(1)
        elif self.lanes.chosen is not None:
            self.lanes.refresh()
            self.pages.setCurrentIndex(3)
        else:
            self.pages.setCurrentIndex(0)
        self.setFixedHeight(OPEN if self.pages.currentIndex() else CLOSED)

    def _show_state(self) -> None:
        found = self._chosen_state()
        assert found is not None
        layer, _, state = found
        document = self.session.document
        table = document.layers[layer]
        thing = Thing("state", state.name, table.name)
        self.name.show_name(state.name, lambda name: self.session.rename_fault(thing, name))
        fill_combo(self.lane, list(table.lane_names), state.lane)
        shows = [NOTHING, *(f"clip {clip.name}" for clip in document.clips)]
        shows += [f"blend {blend.name}" for blend in document.blends]
        shows += [f"{ONE_FRAME}{sheet.name}" for sheet in document.sheets]
        fill_combo(self.shows, shows, _shown(state))
        self.held.setVisible(state.held is not None)
        self.held_ticks.setVisible(state.held is not None)
        if state.held is not None:
            self.held.show_value(state.held.frame)
            self.held_ticks.show_value(state.held.ticks)
        self.start.setChecked(table.start_name == state.name)
        self.restful.setChecked(state.restful)
        self.safe.setChecked(state.safe)
        self.ending.setChecked(state.ending)
        self.still.setChecked(state.hold_still)
        self.backward.setChecked(state.backward)
        self.clear.setChecked(state.clear)
        self.rows.show_state(document, layer, state)
        targets = [one.name for one in table.states]
        fill_combo(self.join, ["New transition to …", *targets], "New transition to …")
        several = len(self.session.states)
        for widget in (self.name, self.start, self.join):
            widget.setEnabled(several < 2)
        self.fate.setText(
            f"{several} states are chosen: what is set is set for all."
            if several > 1
            else self._fate(table.name, state.name)
        )

    def _fate(self, layer: str, name: str) -> str:
        report = self.session.report
        fate = next((one for one in report.states if (one.layer, one.name) == (layer, name)), None) if report else None
        if fate is None:
            return ""
        if fate.ticks is not None:
            played = {"reached": " Reached by playing.", "not found": " Not reached by playing so far."}.get(
                fate.body, ""
            )
            ticks = counted(fate.ticks, "tick")
            if not fate.ticks:
                return "Where everything begins."
            return f"Reachable in {ticks} {'at the fewest' if fate.fewest else 'or fewer'}.{played}"
        return "Proved unreachable." if fate.free == "unreachable" else "Not known whether it can be reached."

    def _show_transition(self) -> None:
        found = self._chosen_transition()
        assert found is not None
        layer, at, transition = found
        table = self.session.document.layers[layer]
        names = [state.name for state in table.states]
        lanes = [f"lane {lane}" for lane in table.lane_names if lane]
        source = transition.source or (f"lane {transition.from_lane}" if transition.from_lane else WHOLE)
        fill_combo(self.source, [*names, *lanes, WHOLE], source)
        fill_combo(self.target, names, transition.to)
        several = len(self.session.transitions)
        self.several.setText(f"{several} are chosen: what is set is set for all." if several > 1 else "")
        self.urgent.setChecked(transition.urgent)
        self.restart.setChecked(transition.restart)
        self.more.show_transition(self.session.document, transition)
        self.line.show_names(self.session.document, layer)
        if self.line.text() != transition.when:
            self.line.setText(transition.when)
        self._read(self.line.text())
        ways = (way for row in self.session.machine.layers[layer].ways for way in row if way.index == at)
        same = self.live.machine is self.session.machine
        self.bars.show_condition(next((way.condition for way in ways), None) if same else None)

    def _read(self, text: str) -> None:
        found = self._chosen_transition()
        if found is None:
            return
        sentence, fine = judged(self.session.document, found[0], text)
        self.reading.setText(sentence if fine or text.strip() else "Write when it is taken; until then it never is.")
        self.reading.setProperty("role", "soft" if fine else "fault")
        self.reading.style().unpolish(self.reading)
        self.reading.style().polish(self.reading)

    # --- edits

    def _set_lane(self, name: str) -> None:
        found = self._chosen_state()
        if found is not None and name.strip() != found[2].lane:
            self._state(lane=name.strip())

    def _set_shows(self, index: int) -> None:
        text, found = self.shows.itemText(index), self._chosen_state()
        held = None
        if text.startswith(ONE_FRAME) and found is not None:
            held = replace(found[2].held or Cel(frame=0), sheet=text.removeprefix(ONE_FRAME))
        kind, _, name = text.partition(" ") if held is None else ("", "", "")
        self._state(clip=name if kind == "clip" else "", blend=name if kind == "blend" else "", held=held)

    def _set_source(self, index: int) -> None:
        text = self.source.itemText(index)
        found = self._chosen_transition()
        if found is None:
            return
        states = [state.name for state in self.session.document.layers[found[0]].states]
        if text in states:
            self._transition("source", source=text, from_lane="")
        else:
            lane = text.removeprefix("lane ") if text != WHOLE else ""
            self._transition("source", source="", from_lane=lane)

    def _write(self, text: str) -> None:
        found = self._chosen_transition()
        if found is not None and text != found[2].when:
            new = tellable(self.session.document)
            self._transition("condition", when=text)
            added = [name for name in new if name not in tellable(self.session.document)]
            if added:
                self.session.said.emit(f"The body tells {listed(added)} from now on: see Parameters.")

    def make_transition(self, layer: int, kind: str, source: str, target: str) -> None:
        """A new transition from a state, a lane or the whole graph (by ``kind``), chosen and ready for its condition."""
        number = len(self.session.document.layers[layer].transitions)
        transition = Transition(
            source=source if kind == "state" else "",
            from_lane=source if kind == LANE else "",
            to=target,
            restart=kind == "state" and source == target,
        )
        if kind == "state":
            self.session.select_state(layer, source)
        self._edit(
            f"added a transition {source or WHOLE} → {target}",
            lambda document: append(document, ("layers", layer, "transitions"), transition),
            [(layer, number)],
        )
        self.line.setFocus(Qt.FocusReason.OtherFocusReason)


def _shown(state: State) -> str:
    """What a state shows, in words."""
    if state.blend or state.clip:
        return f"blend {state.blend}" if state.blend else f"clip {state.clip}"
    return f"{ONE_FRAME}{state.held.sheet}" if state.held is not None else NOTHING


def _combo(name: str, tip: str) -> QComboBox:
    made = DropDown()
    made.setAccessibleName(name)
    made.setToolTip(tip)
    made.setMinimumWidth(110)
    return made


def _check(text: str, tip: str) -> QCheckBox:
    made = QCheckBox(text)
    made.setToolTip(tip)
    return made
