"""One tick of the free world, for every value the inputs may take at once.

A *place* is a situation with everything dropped that cannot make a difference: stays are counted only as far as a
condition can tell, playheads only where something reads them, buttons are remembered only where an edge is asked for.
What can happen in a place depends on a small *view* of it; the outcomes of a view are found once, by judging conditions
over sets of values and splitting a set only when an answer needs it.

Memories may be left *untracked*: whether the past makes one true is then open, which allows more than can happen, never
less.
"""

from __future__ import annotations

from typing import NamedTuple

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.graph.effects import BODILY
from leanstep.core.graph.machine import CompiledTransition
from leanstep.core.graph.tick_state import TickState
from leanstep.core.proof.reduce.observables import AgeKey
from leanstep.core.proof.reduce.slices import Slice
from leanstep.core.proof.states.abstraction import Moments, copied
from leanstep.core.proof.states.cache import Kept
from leanstep.core.proof.states.open_masks import OpenMasks
from leanstep.core.proof.states.places import Outcome, View
from leanstep.core.proof.values.boxes import MOST_KEPT, Boxes
from leanstep.core.proof.values.predicates import Judge, Masks, Regional, Setting, Split
from leanstep.core.proof.values.regions import SMALL, regions_of
from leanstep.core.wording import listed
from leanstep.core.work import look


class TooWide(Exception):
    """More can happen in a view than may be looked at."""


class Tried(NamedTuple):
    """What transitions do on a tick: the position of the way that fires in each layer (-1: none), the tracked memories'
    operands, the setting in which they were tried, and the states then."""

    fired: tuple[int, ...]
    operands: tuple[bool, ...]
    setting: Setting
    states: tuple[int, ...]


class Halt(NamedTuple):
    """How far a tick had come when values had to be split; so far it is the same for all of them.

    ``operands`` and values of the ``memories`` are those known so far; the next way to be tried is that at ``position`` of
    the layer number ``layer`` of the slice.
    """

    now: TickState
    operands: tuple[bool, ...]
    memories: tuple[bool, ...]
    fired: tuple[int, ...]
    states: tuple[int, ...]
    layer: int = 0
    position: int = 0


UNFOLLOWED = "where a clip is whose playhead is not followed"
PICKED = "which clip of a blend space is shown, as they differ in a span that is asked for"
OPEN_AGES = "how long ago buttons were pressed and states left, too much at once to follow"


class FreeWorld(OpenMasks):
    """The free world of a slice.  ``tracked`` are the memories whose past is counted (None: all that are read); ages of
    presses and times since states were left always are.  ``paced``: limits on how fast numbers change are followed.
    Whole numbers with at most ``small`` values are compared value by value.

    ``wild`` names what could even happen beyond what is open.
    ``kept`` is what has been worked out, ``widest`` how many outcomes of a view may be looked at.
    """

    def __init__(
        self,
        part: Slice,
        tracked: frozenset[int] | None = None,
        paced: bool = True,
        aged: frozenset[AgeKey] | None = None,
        small: int = SMALL,
    ) -> None:
        compared = [one for one in part.expressions if isinstance(one, x.Compared)]
        regions = regions_of(part.machine, [*part.machine.assumptions, *compared], paced, small)
        Moments.__init__(self, part, part.memories if tracked is None else tracked & part.memories, regions, aged)
        machine = self.machine
        self.wild: list[str] = []
        regional = Regional(machine, regions, self._uneven, self._is_tracked)
        Boxes.__init__(self, machine, regional)
        self.memory_judges = [regional.judge(machine.memories[index].operand) for index in self.tracked]
        self.conditions: list[list[list[Judge | None]]] = []
        for at, layer in enumerate(machine.layers):
            self.conditions.append([])
            for state, row in enumerate(layer.ways):
                look()
                regional.tried = at, state
                conditions = (way.condition if at in part.layers else None for way in row)
                self.conditions[at].append([regional.judge(one) if one is not None else None for one in conditions])
        self.close(regional)
        self._name_doubts(regional)
        self.cued = any(reel.cues for reel in part.reels)
        self._ticks: dict[tuple[View, Masks], Outcome | Split] = {}
        self._narrowed: dict[tuple[Masks, int, bool], Masks | None] = {}
        self._moments: dict[tuple[View, tuple[int, ...]], TickState] = {}
        self.kept = Kept()
        self.widest = NEVER

    # What matters where

    def _uneven(self, layer: int, state: int) -> bool:
        picture = self.machine.pictures[layer][state]
        return picture is not None and not picture.followed

    def _is_tracked(self, atom: x.Expression) -> bool:
        if isinstance(atom, x.Remembered):
            return atom.index in self.tracked
        return any(dimension.decides(atom) for dimension in self.dimensions)

    def _name_doubts(self, regional: Regional) -> None:
        """Sort what is open: an untracked past can be made up for, the rest cannot."""
        symbols = [symbol.name for symbol in self.machine.symbols]
        self._doubts: list[str] = []
        for compared in (atom for atom in self.slice.expressions if isinstance(atom, x.Compared)):
            symbol = regional.regions.open_comparisons.get(compared)
            if symbol is not None and symbol not in self.together.open:
                self._doubts.append(_named(symbols, compared))
        self.history = self.slice.memories - set(self.tracked)
        for atom in regional.opened:
            if isinstance(atom, x.ClipOver | x.ClipAt | x.SpanOn):
                self._doubts.append(PICKED if self._hangs_on_picks(atom) else UNFOLLOWED)
            elif isinstance(atom, x.Compared | x.IsOn):
                named = sorted(symbols[index] for index in x.symbols_in(atom))
                self._doubts.append(
                    f"what the formula of {listed(named)} comes to, which is too long to be written out"
                )
            elif isinstance(atom, x.Buffered | x.SinceLeft):
                self._doubts.append(OPEN_AGES)
        summed = [index for index in self.paced if index in self.together.symbols]
        self._unpaced = [f"how fast {symbols[index]} changes" for index in (*self.limit_ignored, *summed)]
        if self.history:
            self._doubts.append(self.too_many)
        self.past, self.asked, self.remembered = regional.past, regional.asked, regional.operands
        self.opened = regional.opened
        self.open_past = frozenset(regional.opened.values())
        for layer in self.layers:
            for state, picture in enumerate(self.machine.pictures[layer]):
                if picture is not None and self._uneven(layer, state):
                    acts = (act for reel in picture.reels for cue in reel.cues for act in cue.acts)
                    events = any(act.do not in BODILY for act in acts)
                    held = any(w.hold >= 0 or w.lock for reel in picture.reels for w in reel.windows)
                    if events or held:
                        name = self.machine.layers[layer].states[state]
                        self.wild.append(f"the marks and spans of {name}, whose playhead is not followed")

    def _hangs_on_picks(self, atom: x.Expression) -> bool:
        """Whether an atom is open only because clips of a blend space differ in it."""
        shown = (picture for layer in self.layers for picture in self.machine.pictures[layer] if picture is not None)
        return isinstance(atom, x.SpanOn) and all(one.followed for one in shown if atom.name in one.spans)

    @property
    def too_many(self) -> str:
        """What is said of the memories whose past is open."""
        return f"{len(self.history)} memories at once, too many to follow"

    @property
    def only_past_open(self) -> bool:
        """Whether something stays open, and that is nothing but what came before: memories, and ages of presses and leavings."""
        return bool(self.doubts) and not self.wild and {*self.doubts} <= {self.too_many, OPEN_AGES}

    @property
    def doubts(self) -> list[str]:
        """What stays open because it cannot be decided exactly, as far as it has come up."""
        symbols = [symbol.name for symbol in self.machine.symbols]
        unsure = [_named(symbols, compared) for _, compared in sorted(self.together.unsure.items())]
        return list(dict.fromkeys([*self._doubts, *self._unpaced, *unsure]))

    @property
    def exact(self) -> bool:
        """Whether nothing stays open, and nothing can happen beyond it."""
        return not self.doubts and not self.wild

    @property
    def takes_tell(self) -> bool:
        """Whether all that is open is how fast numbers change, which no sum compares: a take that keeps to their limits then
        shows what it shows."""
        return (
            not self.wild
            and len(self.doubts) == len(self.limit_ignored)
            and not self.together.symbols.intersection(self.limit_ignored)
        )

    # What can happen

    def outcomes(self, view: View) -> tuple[Outcome, ...]:
        """Everything that can happen in a view, each once.

        Raises
        ------
        TooWide : it is more than may be looked at now (``widest``).
        """
        known = self.kept.outcomes.get(view)
        if known is None:
            found: dict[tuple[object, ...], Outcome] = {}
            boxes: dict[tuple[object, ...], list[Masks]] = {}

            def answer(masks: Masks, then: Tried | Halt | None) -> Split | bool:
                look()
                outcome = self._tick(view, masks, then)
                if isinstance(outcome, Split):
                    return outcome
                key = outcome.fired, outcome.news
                boxes.setdefault(key, []).append(masks)
                if key not in found:
                    allowed = self.completed(masks)
                    if allowed is not None:
                        found[key] = outcome.of(allowed)
                        if len(found) > self.widest:
                            raise TooWide
                return False

            self.divide(self.open_masks(view), answer)
            known = self.kept.outcomes[view] = tuple(found.values())
            self.kept.boxes[view] = [boxes[key] for key in found]
        return known

    def boxes(self, view: View, position: int) -> list[Masks]:
        """All values that bring an outcome of a view about, as boxes that do not overlap; the assumptions may forbid some."""
        self.outcomes(view)
        return self.kept.boxes[view][position]

    def tick(self, view: View, masks: Masks, then: Tried | Halt | None = None) -> Outcome | Split:
        """What happens in a view with these sets of values, or the split that is needed to tell; ``then`` as in :meth:`evaluate`."""
        known = self._ticks.get((view, masks))
        if known is None:
            if len(self._ticks) > MOST_KEPT:
                self._ticks.clear()
            known = self._ticks[view, masks] = self._tick(view, masks, then)
        return known

    def _tick(self, view: View, masks: Masks, then: Tried | Halt | None = None) -> Outcome | Split:
        step = then if isinstance(then, Tried) else self.evaluate(view, masks, then)
        if isinstance(step, Split):
            return step
        watched = self.layout.watched(step.states)
        for index in (*watched, *self.spaced):
            if masks[index] == 0b11:
                return Split(index, 0b01, step)
        for index in self.paced:
            if masks[index] & (masks[index] - 1):
                return Split(index, masks[index] & -masks[index], step)
        held = frozenset([index for index in watched if masks[index] == 0b10])
        came = tuple([masks[index] == 0b10 for index in self.spaced])
        near = tuple([masks[index] for index in self.paced])
        return Outcome(step.fired, self.pool.what_came(step.operands, held, came, near), masks, max(step.fired) < 0)

    def evaluate(
        self, view: View, masks: Masks, then: Tried | Halt | None = None, until: int | None = None
    ) -> Tried | Split:
        """Steps 5 and 6, up to but not including layer ``until``, or the split that is needed to tell; from where the tick
        had come ``then``."""
        if isinstance(then, Tried):
            return then._replace(setting=Setting(masks, then.setting.now, then.setting.memories))
        if then is None:
            now = self.templates[view]
            if self._pressable:
                now = copied(now)
                pressed = self.press(now, masks)
                if pressed is not None:
                    return pressed
            none = (False,) * (len(self.machine.memories) if self.tracked else 0)
            then = Halt(now, (), none, (-1,) * len(self.machine.layers), tuple(now.states))
        if len(then.operands) < len(self.tracked):
            remembered = self._remember(view, masks, then)
            if isinstance(remembered, Split):
                return remembered
            then = remembered
        now, first = then.now, then.position
        setting = Setting(masks, now, then.memories)
        fired, states = then.fired, then.states
        for number in range(then.layer, len(self.layers)):
            at = self.layers[number]
            if at == until:
                break
            if view.frozen or view.blocked[at]:
                continue
            state = now.states[at]
            conditions = self.conditions[at][state]
            for position in range(first, len(conditions)):
                condition = conditions[position]
                true = condition(setting) if condition is not None else False
                if true is None:
                    halt = Halt(now, then.operands, then.memories, fired, states, number, position)
                    return Split(setting.symbol, setting.part, halt)
                if true:
                    way = self.machine.layers[at].ways[state][position]
                    fired = (*fired[:at], position, *fired[at + 1 :])
                    states = (*states[:at], way.target, *states[at + 1 :])
                    if at != self.layers[-1]:
                        now = setting.now = self._taken(view, now, fired, at, way)
                    break
            first = 0
        return Tried(fired, then.operands, setting, states)

    def _taken(
        self, view: View, now: TickState, fired: tuple[int, ...], layer: int, way: CompiledTransition
    ) -> TickState:
        """The moment after a transition of a layer is taken, ``fired`` being what was taken so far."""
        known = self._moments.get((view, fired))
        if known is None:
            known = copied(now)
            known.take(layer, way)
            # which buttons have been pressed would make a difference
            if not self._pressable:
                self._moments[view, fired] = known
        return known

    def _remember(self, view: View, masks: Masks, then: Halt) -> Halt | Split:
        """The operands of the tracked memories that are not known yet, and what these memories say."""
        operands, memories = list(then.operands), list(then.memories)
        setting = Setting(masks, then.now, memories)
        for number in range(len(operands), len(self.tracked)):
            operand = self.memory_judges[number](setting)
            if operand is None:
                halt = then._replace(operands=tuple(operands), memories=tuple(memories))
                return Split(setting.symbol, setting.part, halt)
            operands.append(operand)
            index, ready = self.tracked[number], view.ready[number]
            strict = self.machine.memories[index].strict
            memories[index] = (operand and ready) if strict else (operand or ready)
        return then._replace(operands=tuple(operands), memories=tuple(memories))


def _named(symbols: list[str], compared: x.Compared) -> str:
    """A comparison that stays open, in words."""
    names = " and ".join(sorted(symbols[index] for index in x.symbols_in(compared)))
    return f"a comparison of {names}"
