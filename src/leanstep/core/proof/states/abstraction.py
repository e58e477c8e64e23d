"""From places to moments and back: clocks that run, transitions that are taken, and what of it matters afterwards."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.proof.reduce.observables import AgeKey, Layout, age_turns
from leanstep.core.proof.reduce.slices import Slice
from leanstep.core.proof.states.dimension import Dimension
from leanstep.core.proof.states.dimensions import DIMENSIONS
from leanstep.core.proof.states.places import Core, CoreKey, Made, Moved, News, Outcome, Past, Place, Pool, Scene, View
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.values.regions import Regions
from leanstep.core.rehearsal.situation import Situation

_CHANGING = [
    "values",
    "states",
    "stays",
    "playheads",
    "lengths",
    "loops",
    "over",
    "picks",
    "fades",
    "ages",
    "since",
    "raised",
]
"""The parts of a moment that change in place."""


class Moments:
    """The places of a slice.  ``tracked`` are the memories whose past is counted, ``spaced`` the pulses that come only so
    often and are looked at, ``paced`` the numbers that change only so fast and are; ``aged`` the buttons, and the (layer, state),
    the ages of whose presses and leavings are followed (None: all)."""

    def __init__(
        self, part: Slice, tracked: frozenset[int], regions: Regions, aged: frozenset[AgeKey] | None = None
    ) -> None:
        self.regions = regions
        read = part.expressions
        self.age_turns = age_turns(part)
        self.aged = self.age_turns.keys() if aged is None else self.age_turns.keys() & aged
        self.open_ages = frozenset(self.age_turns.keys() - self.aged)
        self.slice = part
        self.layers = tuple(sorted(part.layers))
        self.tracked = tuple(sorted(tracked))
        whole = part.machine
        asked = (
            tuple(one for one in whole.buffers if one[0] in self.aged),
            tuple(one for one in whole.clocks if one[0] in self.aged),
        )
        same = asked == (whole.buffers, whole.clocks)
        self.machine: Machine = whole if same else replace(whole, buffers=asked[0], clocks=asked[1])
        looked_at = {index for atom in read for index in x.named_by(atom)}
        looked_at |= {index for atom in self.machine.assumptions for index in x.symbols_in(atom)}
        self.spaced = tuple(
            index
            for index, symbol in enumerate(self.machine.symbols)
            if symbol.spacing > 1 and symbol.free and index in looked_at
        )
        self.paced = tuple(sorted(looked_at & regions.reach.keys()))
        self.limit_ignored = tuple(sorted(looked_at & set(regions.limit_ignored)))
        self._pressable = tuple(button for button, _ in self.machine.buffers)
        self.layout = Layout(self.machine, part, self.age_turns)
        made = (kind.of(self.layout) for kind in DIMENSIONS)
        self.dimensions = tuple([one for one in made if one is not None])
        self._starts = [table.start for table in self.machine.layers]
        self._zeros = [0] * len(self._starts)
        self.first_marks: set[tuple[int, int, str]] = set()
        self.templates: dict[View, TickState] = {}
        self.pool = Pool()
        self._views: dict[tuple[Scene, Past], View] = {}
        self.moved: dict[Core, tuple[Scene, TickState, dict[tuple[object, ...], Made]]] = {}
        self._read: dict[tuple[int, ...], tuple[bool, ...]] = {}
        self._alike: dict[
            View, tuple[tuple[Outcome, ...], list[tuple[tuple[object, ...], int]], list[tuple[int, News]]]
        ]
        self._alike = {}
        memories = (self.machine.memories[index] for index in self.tracked)
        self.enough = tuple(memory.enough for memory in memories)

    @property
    def clocked(self) -> bool:
        """Whether all ages are followed."""
        return not self.open_ages

    def first(self) -> Place:
        """The place just before tick 0."""
        now = TickState(values=[symbol.first for symbol in self.machine.symbols], machine=self.machine, blind=True)
        now.enter_all()
        self.first_marks = {(at, now.states[at], name) for at, name in now.marks if at in self.layers}
        near = self._near(now.values)
        past = self.pool.past((0,) * len(self.tracked), frozenset(), (0,) * len(self.spaced), near)
        return self._fold(now).after(past)

    def _near(self, values: Sequence[Symbolic]) -> tuple[int, ...]:
        return tuple(self.regions.bit_of(index, values[index]) for index in self.paced)

    def place_of(self, situation: Situation) -> Place:
        """The place a concrete situation lies in; pulses that come only so often count as free to come."""
        now = TickState(
            values=list(situation.values),
            states=list(situation.states),
            stays=list(situation.stays),
            playheads=list(situation.playheads),
            over=list(situation.overs),
            fades=list(situation.fades),
            ages=dict(situation.ages),
            since={(layer, state): ticks for layer, state, ticks in situation.since},
            raised=set(situation.raised),
            locks=situation.locks,
            freeze=situation.freeze,
            machine=self.machine,
        )
        counters = tuple(situation.counters[index] for index in self.tracked)
        held = situation.held & self.layout.watched(situation.states)
        near = self._near(situation.values)
        past = self.pool.past(self._told_apart(counters), held, (0,) * len(self.spaced), near)
        return self._fold(now).after(past)

    def without_waits(self, past: Past) -> Past:
        """The same past with every pulse that comes only so often free to come."""
        return self.pool.past(past.counters, past.held, (0,) * len(past.waits), past.near) if past.waits else past

    def _fold(self, now: TickState) -> Core:
        states, stays = self._starts.copy(), self._zeros.copy()
        caps = self.layout.caps
        for at in self.layers:
            state = states[at] = now.states[at]
            stays[at] = min(now.stays[at], caps[at][state])
        parts = tuple([dimension.part(now) for dimension in self.dimensions])
        return self.pool.core(CoreKey(tuple(states), tuple(stays), parts))

    def _told_apart(self, counters: Iterable[int]) -> tuple[int, ...]:
        """The tracked memories' counters as far as the ticks to come can tell."""
        memories = self.machine.memories
        return tuple(memories[index].told_apart(counter) for index, counter in zip(self.tracked, counters))

    def move(self, place: Place) -> Moved:
        """The place's clocks one tick on: steps 3 and 4, as far as they do not depend on values from outside."""
        known = self.moved.get(place.core)
        if known is None:
            known = self.moved[place.core] = self._move(place.core.key)
        scene, now, made = known
        view = self._views.get((scene, place.past))
        if view is None:
            view = self._views[scene, place.past] = self._view(scene, place.past)
        if view not in self.templates:
            template = copied(now)
            template.held_before = place.held
            self.templates[view] = template
        return Moved(view, now, made)

    def _view(self, scene: Scene, past: Past) -> View:
        """What decides when a scene has a past."""
        memories = zip(past.counters, self.enough, self.read_in(scene.states))
        ready = tuple([read and counter >= enough for counter, enough, read in memories])
        return self.pool.view(scene, ready, past.held, tuple([wait == 0 for wait in past.waits]), past.near)

    def read_in(self, states: tuple[int, ...]) -> tuple[bool, ...]:
        """Which tracked memories something reads on a tick that begins in these states."""
        if states not in self._read:
            ways = (way for at in self.layers for way in self.machine.layers[at].ways[states[at]])
            operands = (self.machine.memories[index].operand for index in self.tracked)
            roots = [*(way.condition for way in ways if way.condition is not None), *operands]
            read = {part.index for root in roots for part in x.parts(root) if isinstance(part, x.Remembered)}
            self._read[states] = tuple(index in read for index in self.tracked)
        return self._read[states]

    def _move(self, place: CoreKey) -> tuple[Scene, TickState, dict[tuple[object, ...], Made]]:
        now, layers = self._restored(place), range(len(place.states))
        now.fade_on()
        frozen = now.freeze > 0
        if frozen:
            now.freeze -= 1
            now.see_spans(set())
        else:
            now.advance()
        now.grow_older()
        stays = tuple([self.layout.stay_class(at, now.states[at], now.stays[at]) for at in layers])
        blocked = tuple([now.blocked(at) for at in layers])
        seen = tuple([dimension.seen(now) for dimension in self.dimensions])
        return self.pool.scene(place.states, stays, blocked, frozen, seen), now, {}

    def _restored(self, place: CoreKey) -> TickState:
        """A moment in which all that a core remembers is as it says."""
        zeros = self._zeros
        now = TickState(
            values=[False] * len(self.machine.symbols),
            states=list(place.states),
            stays=list(place.stays),
            playheads=zeros.copy(),
            lengths=zeros.copy(),
            loops=[False] * len(zeros),
            over=[False] * len(zeros),
            machine=self.machine,
            picks=zeros.copy(),
            fades=[None] * len(zeros),
            blind=True,
        )
        for dimension, part in zip(self.dimensions, place.parts):
            dimension.restore(part, now)
        return now

    def part_of(self, place: Place, kind: type[Dimension], nothing: Any) -> Any:
        """The part of a dimension in a place; ``nothing`` where the world has none of the kind."""
        at = next((at for at, one in enumerate(self.dimensions) if isinstance(one, kind)), None)
        return nothing if at is None else place.core.key.parts[at]

    def after(self, place: Place, moved: Moved, outcome: Outcome) -> Place:
        """The place after ``outcome`` happened in ``place``."""
        core, _ = self._made(place, moved, self.does(place.held, outcome), outcome)
        return core.after(self._past_after(place.past, outcome.news))

    def afters(
        self, place: Place, moved: Moved, outcomes: tuple[Outcome, ...], marks: set[tuple[int, int, str]]
    ) -> list[Place]:
        """The place after each of all outcomes in ``place``; (layer, state, name) of what fired on entry goes to ``marks``."""
        known = self._alike.get(moved.view)
        if known is None or known[0] is not outcomes:
            kinds = [self.does(place.held, outcome) for outcome in outcomes]
            first = {kind: at for at, kind in reversed([*enumerate(kinds)])}
            numbers = {kind: number for number, kind in enumerate(first)}
            steps = [(numbers[kind], outcome.news) for kind, outcome in zip(kinds, outcomes)]
            known = self._alike[moved.view] = outcomes, [*first.items()], steps
        cores = list[Core]()
        for kind, at in known[1]:
            core, fired = self._made(place, moved, kind, outcomes[at])
            marks |= fired
            cores.append(core)
        pasts, found = place.past.after, list[Place]()
        for number, news in known[2]:
            past = pasts.get(news) or self._past_after(place.past, news)
            core = cores[number]
            found.append(core.places.get(past) or core.after(past))
        return found

    def does(self, held: frozenset[int], outcome: Outcome) -> tuple[object, ...]:
        """What an outcome does to all but the past, where so many buttons were held."""
        if not self._pressable:
            return outcome.fired
        return outcome.fired, *[(button in held, outcome.masks[button]) for button in self._pressable]

    def _made(self, place: Place, moved: Moved, kind: tuple[object, ...], outcome: Outcome) -> Made:
        made = moved.made.get(kind)
        if made is None:
            made = moved.made[kind] = self._changed(moved, outcome, place.held)
        return made

    def _past_after(self, past: Past, news: News) -> Past:
        known = past.after.get(news)
        if known is None:
            known = past.after[news] = self._then(past, news)
        return known

    def _then(self, past: Past, news: News) -> Past:
        """The past a tick later."""
        memories = zip(self.tracked, past.counters, news.operands)
        counters = (self.machine.memories[index].after(counter, operand) for index, counter, operand in memories)
        waits = zip(self.spaced, past.waits, news.came)
        return self.pool.past(
            self._told_apart(counters),
            news.held,
            tuple(
                [self.machine.symbols[index].spacing - 1 if came else max(wait - 1, 0) for index, wait, came in waits]
            ),
            news.near,
        )

    def _changed(self, moved: Moved, outcome: Outcome, held: frozenset[int]) -> Made:
        """What transitions and presses make of a moment, but for counters, held buttons and waits; and the marks that fire
        on entry."""
        if outcome.idle and not self._pressable:
            return self._fold(moved.now), frozenset()
        now = copied(moved.now)
        now.held_before = held
        self.press(now, outcome.masks)
        for at in self.layers:
            if outcome.fired[at] >= 0:
                now.take(at, self.machine.layers[at].ways[now.states[at]][outcome.fired[at]])
        marks = frozenset((at, now.states[at], name) for at, name in now.marks if at in self.layers)
        return self._fold(now), marks

    def press(self, now: TickState, masks: Masks) -> Split | None:
        """Step 5 for presses: the buttons whose presses are counted must be known."""
        for button in self._pressable:
            if masks[button] == 0b11:
                return Split(button, 0b01)
            now.values[button] = masks[button] == 0b10
        now.remember_presses()
        return None


def copied(now: TickState) -> TickState:
    """A moment that can be moved on without touching this one."""
    found = TickState.__new__(TickState)
    fields = vars(found)
    fields.update(vars(now))
    for name in _CHANGING:
        fields[name] = fields[name].copy()
    found.marks = []
    return found
