"""What a search has found about the layers of a slice, and what follows from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

from leanstep.core.deadline import look
from leanstep.core.proof import events, flicker, verdicts, witness, wobble
from leanstep.core.proof.flashes import Flash, flashes
from leanstep.core.proof.limits import Limits, TooLong
from leanstep.core.proof.marks import Marks, marks_of
from leanstep.core.proof.opened import Opened
from leanstep.core.proof.patient import Played, played
from leanstep.core.proof.resting import Restless, restless
from leanstep.core.proof.search import Reach
from leanstep.core.proof.thinning import Witness


@dataclass
class Proof:
    """What one slice's search found about ``layers``; what follows from it is worked out once, as far as the ``limits`` of
    the check under way let it."""

    layers: tuple[int, ...]
    reach: Reach
    flickers: flicker.Flickers
    limits: Limits = field(default_factory=Limits)
    known: dict[tuple[object, ...], Witness] = field(default_factory=dict)

    @cached_property
    def played(self) -> Played:
        """What could be played of a search that had to leave the past open."""
        return played(self.reach, self.layers, lambda: self.limits.late(len(self.reach.places)))

    def let_go(self) -> None:
        """Forget what only helped to find things out, before the proof is kept for later checks."""
        for stage in vars(self)["played"].stages.values() if "played" in vars(self) else ():
            vars(stage).pop("sampling", None)

    @property
    def is_open(self) -> bool:
        """Whether the search left nothing out, but had to leave the past open."""
        return self.reach.complete and (bool(self.reach.world.history) or not self.reach.world.clocked)

    @cached_property
    def opened(self) -> Opened:
        """What can be told of a search that had to leave the past open."""
        return Opened(self.reach, self.layers, self.played)

    @property
    def decided(self) -> bool:
        """Whether a search that had to leave the past open leaves nothing undecided."""
        opened = self.opened
        if not self.is_open or not opened.exact or opened.unsure or not self.flickers.complete:
            return False
        return (
            all(witness is not None for _, witness in self.flickering)
            and all(sure for _, _, sure in opened.contests)
            and all(witness is not None for layer in self.layers for _, witness in opened.closed_sets(layer))
            and not any(opened.may_trap(layer) for layer in self.layers)
            and all(passing is not None for _, _, passing in opened.flashes(self.flickering_states))
        )

    @cached_property
    def entered(self) -> set[tuple[int, int]]:
        """(layer, state) of every state that can be active, or may be."""
        if self.is_open:
            return {(layer, state) for layer in self.layers for state in self.opened.entered(layer)}
        return set(self.reach.entered)

    @cached_property
    def flickering(self) -> list[tuple[flicker.Flicker, Witness | None]]:
        """Every flicker with its take."""
        found = self.flickers.found
        if self.is_open:
            return self.opened.flickering(found)
        return [(one, self.witness(witness.flickering, one)) for one in found]

    @cached_property
    def idle(self) -> list[verdicts.Idle]:
        """Transitions that are never taken."""
        return verdicts.idle_transitions(self.reach, self.layers)

    @cached_property
    def steady(self) -> set[tuple[int, frozenset[int]]]:
        """Layer and states of every steady flicker."""
        return {(one.layer, one.states) for one, _ in self.flickering if len(one.states) > 1}

    @property
    def flickering_states(self) -> frozenset[tuple[int, int]]:
        """Layer and state of all that flicker steadily."""
        return frozenset((layer, state) for layer, states in self.steady for state in states)

    @cached_property
    def wobbles(self) -> wobble.Wobbles:
        """Flicker for which one value has to wobble."""
        return wobble.wobbles(self.reach, self.layers, self.limits)

    @cached_property
    def flashes(self) -> list[Flash]:
        """States that only flash by."""
        return flashes(self.reach, self.layers)

    @cached_property
    def restless(self) -> list[Restless]:
        """Where the character does not come to rest."""
        return restless(self.reach, self.layers)

    @cached_property
    def marks(self) -> Marks:
        """Which marks fire, and which can be cut off."""
        return marks_of(self.reach, self.layers)

    @cached_property
    def stuck(self) -> list[events.Stuck]:
        """Flags and locks that stay set for good."""
        return events.stuck(self.reach, self.layers)

    @cached_property
    def contests(self) -> list[events.Contest]:
        """Transitions between which only their order decides."""
        return events.contests(self.reach, self.layers)

    def work_within(self, limits: Limits) -> None:
        """Work out what is still to be worked out within these limits, and again what others left no time for."""
        self.limits = limits
        if "wobbles" in vars(self) and self.wobbles.late:
            del self.wobbles
        if "played" in vars(self) and any(stage.cut for stage in self.played.stages.values()):
            for name in {"played", "opened", "entered", "flickering", "steady"} & vars(self).keys():
                delattr(self, name)

    def witness(self, make: Callable[..., Witness], *what: object, **how: object) -> Witness:
        """The witness that ``make`` makes of something, made once."""
        key = (make, *what, *how.items())
        if key not in self.known:
            look()
            try:
                self.known[key] = make(self.reach, *what, **how)
            except TooLong as error:
                self.known[key] = Witness(None, True, error.ticks)
        return self.known[key]
