"""Edits of the chosen states and transitions."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtWidgets import QFrame

from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, tried_at
from leanstep.core.character.graph import State, Transition
from leanstep.core.naming import graph_edits
from leanstep.core.naming.references import Thing
from leanstep.core.naming.transitions import name_of, tried_with
from leanstep.core.rehearsal.drawable import of_state
from leanstep.core.wording import a_few, counted
from leanstep.desk import paint
from leanstep.desk.selection import Selection
from leanstep.desk.session import Session

WHOLE = "the whole graph"
PIXELS = 2.0
"""By how much a figure grows that is let breathe."""


class GraphEdits(QFrame):
    """What is done with the chosen states and transitions; what is set is set for all of them."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session

    def _chosen_state(self) -> tuple[int, int, State] | None:
        if self.session.state is None:
            return None
        layer, name = self.session.state
        layers = self.session.document.layers
        if layer < len(layers):
            for at, state in enumerate(layers[layer].states):
                if state.name == name:
                    return layer, at, state
        return None

    def _chosen_transition(self) -> tuple[int, int, Transition] | None:
        if self.session.transition is None:
            return None
        layer, at = self.session.transition
        layers = self.session.document.layers
        if layer < len(layers) and at < len(layers[layer].transitions):
            return layer, at, layers[layer].transitions[at]
        return None

    def _state(self, **values: object) -> None:
        """Set something of all chosen states."""
        self._states(lambda state: replace(state, **values), str(values.get("expects", "")))

    def _states(self, made: Callable[[State], State], text: str = "") -> None:
        chosen = self.session.states
        if self._chosen_state() is None:
            return
        words = f"state {chosen[-1][1]}" if len(chosen) == 1 else counted(len(chosen), "state")
        self.session.edit(f"changed {words}", lambda document: graph_edits.with_states(document, chosen, made, text))

    def _breathe(self) -> None:
        """A slow stretch by two pixels of what the state shows, on whole pixels."""
        found = self._chosen_state()
        if found is None:
            return
        layer, at, state = found
        room = paint.room_of(self.session.art, of_state(self.session.machine, layer, at))
        high = 1 + PIXELS / max(room[2], 8.0) if room is not None else 1.04
        self.session.edit(
            f"let {state.name} breathe", lambda document: graph_edits.breathing(document, layer, at, high)
        )

    def _rename(self, name: str) -> None:
        found = self._chosen_state()
        if found is not None:
            layer, at, state = found
            shows_nothing = not (state.clip or state.blend or state.held)
            clip = (
                name if shows_nothing and any(one.name == name for one in self.session.document.clips) else state.clip
            )
            # a state that shows nothing yet shows the clip it is named like
            self.session.rename(
                Thing("state", state.name, self.session.document.layers[layer].name),
                name,
                lambda document: change(document, ("layers", layer, "states", at), clip=clip),
            )

    def _hold(self, **values: object) -> None:
        """Set something of the frame that the chosen states hold."""
        self._states(lambda one: replace(one, held=replace(one.held, **values)) if one.held is not None else one)

    def _set_start(self) -> None:
        found = self._chosen_state()
        if found is not None:
            layer, _, state = found
            self.session.edit(
                f"made {state.name} the start", lambda document: change(document, ("layers", layer), start=state.name)
            )

    def _transition(self, what: str, **values: object) -> None:
        """Set something of all chosen transitions."""
        chosen, found = self.session.transitions, self._chosen_transition()
        if found is None:
            return
        words = _way(found[2]) if len(chosen) == 1 else counted(len(chosen), "transition")
        said = f"changed the {what} of {words}"
        self._edit(said, lambda document: graph_edits.with_transitions(document, chosen, values), chosen)

    def _edit(self, name: str, change_of: Callable[[Character], Character], chosen: list[tuple[int, int]]) -> None:
        """Take a step after which the transitions at these places are the chosen ones."""

        def select(selection: Selection) -> None:
            selection.choose(*(name_of(self.session.document, layer, at) for layer, at in chosen))

        self.session.edit(name, change_of, select=select)

    def order(self, step: int) -> None:
        """Swap with the neighbour that is tried by the same owner."""
        found = self._chosen_transition()
        if found is None:
            return
        layer, at, transition = found
        mates = tried_with(self.session.document.layers[layer].transitions, at)
        place = mates.index(at) + step
        if not 0 <= place < len(mates):
            self.session.said.emit("It is already tried first." if step < 0 else "It is already tried last.")
            return
        to = mates[place]
        self._edit(
            f"moved {_way(transition)} in the order",
            lambda document: tried_at(document, layer, at, to),
            [(layer, to)],
        )

    def duplicate(self) -> None:
        """Copies of what is chosen: transitions, each tried after its own, or states with their ways out, or a lane."""
        chosen = self.session.transitions
        if chosen:
            made, places = graph_edits.transitions_doubled(self.session.document, chosen)
            self._edit(f"duplicated {a_few(len(chosen), 'transition')}", lambda document: made, places)
            return
        layers = self.session.document.layers
        states = [Thing("state", name, layers[layer].name) for layer, name in self.session.states]
        lane = self.session.selection.thing("lane")
        if states or (lane is not None and lane.name):
            self.session.duplicate(*states or ([lane] if lane is not None else []))
        else:
            self.session.said.emit("Choose a state, a transition or a lane first.")

    def remove(self) -> None:
        """Remove what is chosen."""
        transition = self._chosen_transition()
        if transition is not None:
            chosen = self.session.transitions
            words = _way(transition[2]) if len(chosen) == 1 else counted(len(chosen), "transition")
            self.session.edit(
                f"removed {words}",
                lambda document: graph_edits.without_transitions(document, chosen),
                select=lambda selection: selection.let_go("transition"),
            )
            return
        if self._chosen_state() is None:
            return
        states, layers = self.session.states, self.session.document.layers
        if any(len(layers[at].states) <= sum(layer == at for layer, _ in states) for at, _ in states):
            self.session.said.emit("A layer needs at least one state; nothing was removed.")
            return
        self.session.remove(*(Thing("state", name, layers[layer].name) for layer, name in states))


def _way(transition: Transition) -> str:
    """Where a transition leads from and to, in words."""
    return f"{transition.source or transition.from_lane or WHOLE} → {transition.to}"
