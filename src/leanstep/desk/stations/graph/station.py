"""The Graph station."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QAction, QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, free_name, place_state
from leanstep.core.character.graph import Layer, State
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.copying import copied_states, copied_transitions, holds_copy, pasted
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.coverage import Coverage
from leanstep.core.wording import counted, listed
from leanstep.desk.context import Context
from leanstep.desk.stations.graph.drawer import IN_TABLE, ON_PAGE, OPEN, Drawer
from leanstep.desk.stations.graph.page import GraphPage
from leanstep.desk.stations.graph.patterns import PatternGallery
from leanstep.desk.stations.graph.table import TransitionTable
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import button, command, label
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, MenuEntry

SPACE = 6
"""Pixels between head, page and drawer."""


class GraphStation(Station):
    """The page with lanes and arcs above, the drawer below."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session, live = desk.session, desk.live
        self.page = GraphPage(session, live)
        self.drawer = Drawer(session, live)
        self.scroller = QScrollArea()
        self.scroller.setWidgetResizable(True)
        self.scroller.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.scroller.setWidget(self.page)
        self.table = TransitionTable(session, desk.live)
        self.views = QStackedWidget()
        self.views.addWidget(self.scroller)
        self.patterns = PatternGallery(session)
        self._steered = False
        self.views.addWidget(self.table)
        self.views.addWidget(self.patterns)
        self.table_button = button("Table", "All transitions, to sort, filter and edit (Ctrl+Shift+E)", self._switch)
        self.table_button.setCheckable(True)
        self.patterns_button = button(
            "Patterns",
            "States and conditions that are built over and over: walking, jumping, climbing … (Ctrl+Shift+I)",
            self._show_patterns,
        )
        self.patterns_button.setCheckable(True)
        self.sentence = label("", "soft")
        head = QHBoxLayout()
        head.setContentsMargins(12, 8, 12, 0)
        head.addWidget(self.sentence, 1)
        head.addWidget(self.patterns_button)
        head.addWidget(self.table_button)
        head.addWidget(
            button(
                "Add a state",
                "A new state behind the chosen one; named like a clip it shows that (Ctrl+Shift+T)",
                self.add_state,
            )
        )
        head.addWidget(
            button("Parameters and controls", "What conditions can read, beside the mirror (Ctrl+Shift+P)", self.names)
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(SPACE)
        column.addLayout(head)
        column.addWidget(self.views, 1)
        column.addWidget(self.drawer)
        self.setFocusProxy(self.page)
        self.patterns.put_in.connect(self._put_in)
        self.table.counted.connect(self._counted)
        session.wanted.connect(lambda kind: self.open_patterns() if kind == "pattern" else None)
        self.page.moved.connect(self._move)
        self.page.joined.connect(self.drawer.make_transition)
        self.page.rename_wanted.connect(self._rename)
        self.page.remove_wanted.connect(self.drawer.remove)
        self.page.copied.connect(self.copy)
        self.page.pasted.connect(self.paste)
        self.drawer.join_wanted.connect(self._join)
        self.menu = ContextMenu(self.page, self._entries_at)
        session.selected.connect(self._reveal)
        own, unasked = (session.changed, session.selected), (session.checker.checked, session.art.changed)
        session.editing.follow(self.page, self._show_page, *own, unasked=unasked)
        session.editing.follow(self.drawer, self.drawer.refresh, *own, unasked=unasked)
        session.editing.follow(self.table, self.table.refresh, *own)
        session.editing.follow(self.patterns, self.patterns.refresh, session.changed, unasked=(session.art.changed,))
        self.refresh()

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [
            command(self, "Add a state", "Ctrl+Shift+T", self.add_state),
            command(self, "Duplicate the states, transitions or lane", "Ctrl+D", self.drawer.duplicate),
            command(self, "Copy the states or transitions", "", self.copy),
            command(self, "Paste states and transitions", "", self.paste),
            command(self, "The graph as a table, or as a page", "Ctrl+Shift+E", self.table_button.click),
            command(self, "Keep the chosen states as a pattern", "", self.patterns.keep_chosen),
            command(self, "Find takes for what no take comes to", "", self.table.make_takes),
            command(self, "Add a lane", "", self.drawer.lanes.add_lane),
            command(self, "Add a layer", "", self.drawer.lanes.add_layer),
        ]

    def _switch(self) -> None:
        """Show the table instead of the page, or the page again."""
        self._view(self.table if self.table_button.isChecked() else self.scroller)

    def _show_patterns(self) -> None:
        """Show the gallery instead of the page, or the page again."""
        if self.patterns_button.isChecked():
            self.open_patterns()
        else:
            self._view(self.scroller)

    def _view(self, view: QWidget) -> None:
        self.table_button.setChecked(view is self.table)
        self.patterns_button.setChecked(view is self.patterns)
        self.drawer.setVisible(view is not self.patterns)
        self.views.setCurrentWidget(view)
        self.drawer.hint.setText(IN_TABLE if view is self.table else ON_PAGE)
        self._show_page()
        self.setFocusProxy(self.page if view is self.scroller else view)
        self.setFocus()

    def open_patterns(self) -> None:
        """Show the gallery of patterns; who steers lets go meanwhile, for its keys are the gallery's."""
        self._steered = self.desk.live.mode == "driving"
        if self._steered:
            self.desk.live.leave()
        self._view(self.patterns)

    def _put_in(self, states: list[str]) -> None:
        """The gallery is done with: the page comes back, with what was put in chosen."""
        layer = self.patterns.layer
        self._view(self.scroller)
        if states:
            self.session.select_state(layer, states[0])
        if self._steered:
            self.desk.live.drive()

    def let_go(self) -> None:
        self.table.close_work()

    def refresh(self) -> None:
        """Show the document as it is now."""
        self._show_page()
        self.drawer.refresh()

    def _show_page(self) -> None:
        document = self.session.document
        states = sum(len(layer.states) for layer in document.layers)
        transitions = sum(len(layer.transitions) for layer in document.layers)
        lanes = sum(len(layer.lane_names) for layer in document.layers)
        said = f"{counted(states, 'state')} in {counted(lanes, 'lane')}, {counted(transitions, 'transition')}."
        if self.views.currentWidget() is self.scroller:
            said += f" {'Dashed: no take takes it.' if self.page.covered else 'Arcs over the line lead right, under it left.'}"
        self.sentence.setText(said)
        self.page.refresh(self._room())

    def _counted(self, document: Character, covered: Coverage) -> None:
        """What takes cover of the document is shown on the page, too, until it is another one."""
        self.page.show_covered(document, covered)
        self._show_page()

    def resizeEvent(self, event: object) -> None:
        self.page.refresh(self._room())

    def _room(self) -> float:
        """The height lanes are laid out for: that beside an open drawer, so that nothing moves when it opens."""
        return float(self.height() - self.views.y() - OPEN - 2 * SPACE)

    def add_state(self) -> None:
        """Add a state behind the chosen one."""
        if not self.session.document.layers:
            self._first_layer()
            return
        layer = self.session.state[0] if self.session.state else 0
        table = self.session.document.layers[layer]
        name = free_name("state", [state.name for state in table.states])
        chosen = next(
            (s for s in table.states if self.session.state and s.name == self.session.state[1]), table.states[0]
        )
        state = State(name=name, lane=chosen.lane)
        mates = [one.name for one in table.states if one.lane == chosen.lane]
        place = mates.index(chosen.name) + 1 if self.session.state else len(mates)
        self.session.edit(
            f"added {name}",
            lambda document: place_state(
                append(document, ("layers", layer, "states"), state), layer, name, chosen.lane, place
            ),
        )
        self.session.select_state(layer, name)
        self._rename()

    def copy(self) -> None:
        """Copy the chosen transitions, or the chosen states with their ways out, for this or another character."""
        session, layers = self.session, self.session.document.layers
        ways, states = session.transitions, session.states
        if ways:
            text = copied_transitions([layers[layer].transitions[at] for layer, at in ways])
            what = "the transition" if len(ways) == 1 else counted(len(ways), "transition")
        elif states:
            layer = states[-1][0]
            names = [name for at, name in states if at == layer]
            text = copied_states(layers[layer], names)
            what = f"{listed(names)} with {'its' if len(names) == 1 else 'their'} ways out"
        else:
            session.said.emit("Choose a state or a transition first.")
            return
        QGuiApplication.clipboard().setText(text)
        session.said.emit(f"Copied {what}; paste it here or in another character.")

    def paste(self) -> None:
        """Put copied states and transitions into the layer of the chosen state; what they lack is said."""
        text, session = QGuiApplication.clipboard().text(), self.session
        if not holds_copy(text):
            session.said.emit("The clipboard holds no states or transitions; copy some here first.")
            return
        if not session.document.layers:
            session.said.emit("Add a first state; then there is a layer to paste into.")
            return
        layer, source = session.state if session.state is not None else (0, "")
        try:
            made = pasted(session.document, layer, text, source)
        except LeanStepError as error:
            session.complained.emit(error)
            return
        if not made.states and not made.transitions:
            session.said.emit(f"Nothing was pasted. {made.sentence}")
            return
        words = [*made.states, *([counted(len(made.transitions), "transition")] if made.transitions else [])]
        said = f"pasted {listed(words)}"
        session.edit(said, lambda document: made.document)
        if made.states:
            session.select_state(layer, made.states[0])
        else:
            session.select_transition(layer, made.transitions[0])
        if made.lacking:
            session.said.emit(f"{said[0].upper()}{said[1:]}. {made.sentence}")

    def _first_layer(self) -> None:
        """A character without any layer gets one with its first state."""
        layer = Layer(name="base", start="idle", states=(State(name="idle", restful=True),))
        self.session.edit("added state idle", lambda document: append(document, ("layers",), layer))
        self.session.select_state(0, "idle")
        self._rename()

    def _reveal(self) -> None:
        """What is chosen stays in sight when the drawer opens over it."""
        slot = self.page.page.slots.get(self.session.state) if self.session.state is not None else None
        if slot is not None and self.isVisible():
            QTimer.singleShot(0, lambda: self.scroller.ensureVisible(int(slot.x), int(slot.bottom), 60, int(slot.size)))

    def names(self) -> None:
        """Show parameters and controls."""
        self.session.wanted.emit("parameter")

    def _move(self, layer: int, name: str, lane: str, place: int) -> None:
        """Put a state elsewhere, and with it the others of its layer that are chosen."""
        chosen = {one for at, one in self.session.states if at == layer}
        several = len(chosen) > 1 and name in chosen
        names = [one.name for one in self.session.document.layers[layer].states if one.name in chosen]

        def moved(document: Character) -> Character:
            for number, one in enumerate(names if several else [name]):
                document = place_state(document, layer, one, lane, place + number)
            return document

        self.session.edit(f"moved {counted(len(names), 'state') if several else name}", moved)

    def _rename(self) -> None:
        self.drawer.refresh()
        self.drawer.name.ask()

    def _join(self, target: str) -> None:
        if self.session.state is not None:
            self.drawer.make_transition(self.session.state[0], "state", self.session.state[1], target)

    # --- menus

    def _entries_at(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the figure, the arc, the lane or the paper at a place of the page."""
        page, session = self.page, self.session
        if where is not None:
            at = QPointF(where)
            slot, arc, lane = page.slot_at(at), page.arc_at(at), page.lane_at(at)
            if slot is not None:
                if (slot.layer, slot.name) not in session.states or session.transition is not None:
                    session.select_state(slot.layer, slot.name)
            elif arc is not None:
                if not any((arc.layer, number) in session.transitions for number in arc.transitions):
                    session.select_transition(arc.layer, arc.transitions[0])
            else:
                session.clear_selection()
                if lane is not None:
                    session.select(Thing("lane", lane.lane, session.document.layers[lane.layer].name))
        if session.transition is not None:
            return self._transition_entries(*session.transition)
        if session.state is not None:
            return self._state_entries(*session.state)
        lanes = self.drawer.lanes
        chosen = session.selection.thing("lane")
        of_lane: MenuEntries = (
            [
                MenuEntry("Duplicate the lane", self.drawer.duplicate),
                MenuEntry("Remove the lane", lanes.remove_lane),
                None,
            ]
            if chosen is not None and chosen.name
            else []
        )
        return [
            *of_lane,
            MenuEntry("Add a state", self.add_state, "Ctrl+Shift+T"),
            MenuEntry("Put in a pattern …", self.open_patterns, "Ctrl+Shift+I"),
            MenuEntry("Add a lane", lanes.add_lane),
            MenuEntry("Paste", self.paste, "Ctrl+V", holds_copy(QGuiApplication.clipboard().text())),
            MenuEntry("Choose all", page.choose_all, "Ctrl+A"),
        ]

    def _state_entries(self, layer: int, name: str) -> MenuEntries:
        drawer, several = self.drawer, len(self.session.states) > 1
        state = next(one for one in self.session.document.layers[layer].states if one.name == name)
        others = [one.name for one in self.session.document.layers[layer].states]
        joins = tuple(MenuEntry(other, partial(self._join, other)) for other in others)
        shown = Thing("clip", state.clip) if state.clip else Thing("blend", state.blend)
        go = partial(self.session.show, shown)
        shows = [MenuEntry(f"Go to {shown.kind} {shown.name}", go)] if shown.name else []
        return [
            MenuEntry("Rename", self._rename, "F2", not several),
            MenuEntry("New transition to", within=joins, possible=not several),
            MenuEntry("Start here", drawer.start.click, possible=not several),
            MenuEntry("Steer from here", lambda: self.desk.starts.start_in(layer, name), "Ctrl+Shift+J", not several),
            MenuEntry("May not rest here" if state.restful else "May rest here", drawer.restful.click),
            *shows,
            None,
            MenuEntry("Copy", self.copy, "Ctrl+C"),
            MenuEntry("Paste", self.paste, "Ctrl+V", holds_copy(QGuiApplication.clipboard().text())),
            MenuEntry("Duplicate", drawer.duplicate, "Ctrl+D"),
            MenuEntry("Keep as a pattern", self.patterns.keep_chosen),
            MenuEntry("Remove", drawer.remove, "Delete"),
        ]

    def _transition_entries(self, layer: int, at: int) -> MenuEntries:
        drawer, way = self.drawer, self.session.document.layers[layer].transitions[at]
        return [
            MenuEntry("Write its condition", lambda: drawer.line.setFocus(Qt.FocusReason.OtherFocusReason)),
            MenuEntry("Not urgent" if way.urgent else "Urgent", drawer.urgent.click),
            MenuEntry("Try it earlier", lambda: drawer.order(-1)),
            MenuEntry("Try it later", lambda: drawer.order(1)),
            None,
            MenuEntry("Copy", self.copy, "Ctrl+C"),
            MenuEntry("Duplicate", drawer.duplicate, "Ctrl+D"),
            MenuEntry("Remove", drawer.remove, "Delete"),
        ]
