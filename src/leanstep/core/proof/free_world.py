"""One tick of the free world, for every value the inputs may take at once.

A *place* is a situation with everything dropped that cannot make a difference: stays are counted only as far as a
condition can tell, playheads only where something reads them, buttons are remembered only where an edge is asked for.
What can happen in a place depends on a small *view* of it; the outcomes of a view are found once, by judging conditions
over sets of values and splitting a set only when an answer needs it.

Memories may be left *untracked*: whether the past makes one true is then open, which allows more than can happen, never
less.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import NamedTuple

from leanstep.core.clips.timing import TICK
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment
from leanstep.core.graph.running import Fade, Running, count
from leanstep.core.proof.linear import Together
from leanstep.core.proof.places import (
    Answer,
    Core,
    CoreKey,
    Made,
    Moved,
    Outcome,
    Place,
    Scene,
    Split,
    View,
)
from leanstep.core.proof.regional import Judge, Masks, Regional, Setting
from leanstep.core.proof.regions import regions_of
from leanstep.core.proof.slices import Slice
from leanstep.core.rehearsal.situation import Situation

MOST_KEPT = 100_000
"""Ticks whose outcome is remembered."""


class Tried(NamedTuple):
    """What transitions do on a tick: the position of the way that fires in each layer (-1: none), the tracked memories'
    operands, the setting in which they were tried, and the states then."""

    fired: tuple[int, ...]
    operands: tuple[bool, ...]
    setting: Setting
    states: tuple[int, ...]


class FreeWorld:
    """The free world of a slice.  ``tracked`` are the memories whose past is counted (None: all that are read); ages of
    presses and times since states were left always are.

    ``history`` are the open symbols that stand for an untracked past; ``wild`` names what could even happen beyond what is
    open.  ``linked``: not all values go together.
    """

    def __init__(self, part: Slice, tracked: frozenset[int] | None = None) -> None:
        whole = part.machine
        self.slice = part
        self.tracked = tuple(sorted(part.memories if tracked is None else tracked & part.memories))
        read = part.expressions
        buttons = {atom.symbol for atom in read if isinstance(atom, x.Buffered)}
        left = {(atom.layer, atom.state) for atom in read if isinstance(atom, x.SinceLeft)}
        self.machine = machine = replace(
            whole,
            buffers=tuple(one for one in whole.buffers if one[0] in buttons),
            clocks=tuple(one for one in whole.clocks if one[0] in left),
        )
        self.layers = tuple(sorted(part.layers))
        self.wild: list[str] = []
        regions = regions_of(machine)
        self.spans = regions.spans
        self.together = Together.of(machine, regions)
        regional = Regional(machine, regions, self._uneven, self._is_tracked)
        self.assumptions = [regional.judge(assumption) for assumption in machine.assumptions]
        self.linked = bool(self.assumptions or self.together.open)
        self.memory_judges = [regional.judge(machine.memories[index].operand) for index in self.tracked]
        self.conditions: list[list[list[Judge | None]]] = []
        for at, layer in enumerate(machine.layers):
            self.conditions.append([])
            for state, row in enumerate(layer.ways):
                regional.tried = at, state
                conditions = (way.condition if at in part.layers else None for way in row)
                self.conditions[at].append([regional.judge(one) if one is not None else None for one in conditions])
        self.full = regional.full
        self.values = tuple(regional.values)
        self._name_doubts(regional)
        looked_at = {index for atom in (*read, *machine.assumptions) for index in x.symbols_in(atom)}
        self.spaced = tuple(
            index
            for index, symbol in enumerate(machine.symbols)
            if symbol.spacing > 1 and symbol.free and index in looked_at
        )
        self._lay_out()
        self.first_marks: set[tuple[int, int, str]] = set()
        self.cued = any(reel.cues for reel in part.reels)
        self._templates: dict[View, Running] = {}
        self._cores: dict[CoreKey, Core] = {}
        self._counted: dict[tuple[tuple[int, ...], tuple[bool, ...]], tuple[int, ...]] = {}
        self._scenes: dict[tuple[object, ...], Scene] = {}
        self._moved: dict[Core, tuple[Scene, Running, dict[tuple[object, ...], Made]]] = {}
        self._enough = tuple(
            machine.memories[index].ticks - 1 if machine.memories[index].kind == "for" else 2 for index in self.tracked
        )
        self._ticks: dict[tuple[View, Masks], Outcome | Split] = {}
        self._outcomes: dict[View, tuple[Outcome, ...]] = {}
        self._unknown = Moment([False] * len(machine.symbols))
        self._options: dict[tuple[int, int], tuple[float | bool | str, ...]] = {}

    # What matters where

    def _uneven(self, layer: int, state: int) -> bool:
        picture = self.machine.pictures[layer][state]
        return picture is not None and not picture.even

    def _is_tracked(self, atom: x.Expression) -> bool:
        if isinstance(atom, x.SpanOn):
            return not any(
                self._uneven(layer, state) and any(w.name == atom.name for reel in picture.reels for w in reel.windows)
                for layer in self.layers
                for state, picture in enumerate(self.machine.pictures[layer])
                if picture is not None
            )
        return not isinstance(atom, x.Remembered) or atom.index in self.tracked

    def _name_doubts(self, regional: Regional) -> None:
        """Sort what is open: an untracked past can be made up for, the rest cannot."""
        symbols = [symbol.name for symbol in self.machine.symbols]
        self._doubts: list[str] = []
        for compared in (atom for atom in self.slice.expressions if isinstance(atom, x.Compared)):
            symbol = regional.regions.open_comparisons.get(compared.number)
            if symbol is not None and symbol not in self.together.open:
                self._doubts.append(_named(symbols, compared))
        self.history: dict[int, int] = {}
        for atom, symbol in regional.opened.items():
            if isinstance(atom, x.Remembered):
                self.history[atom.index] = symbol
            elif isinstance(atom, x.ClipOver | x.ClipAt | x.SpanOn):
                self._doubts.append("the clip of a state whose speed or picture depends on a parameter")
        if self.history:
            self._doubts.append(f"{len(self.history)} memories at once, too many to follow")
        self.open_past = frozenset(regional.opened.values())
        for layer in self.layers:
            for state, picture in enumerate(self.machine.pictures[layer]):
                if picture is not None and self._uneven(layer, state):
                    events = any(cue.acts for reel in picture.reels for cue in reel.cues)
                    held = any(w.hold >= 0 or w.lock for reel in picture.reels for w in reel.windows)
                    if events or held:
                        name = self.machine.layers[layer].states[state]
                        self.wild.append(f"the marks and spans of {name}, whose clip a parameter paces")

    @property
    def doubts(self) -> list[str]:
        """What stays open because it cannot be decided exactly, as far as it has come up."""
        symbols = [symbol.name for symbol in self.machine.symbols]
        unsure = [_named(symbols, compared) for _, compared in sorted(self.together.unsure.items())]
        return list(dict.fromkeys([*self._doubts, *unsure]))

    def _lay_out(self) -> None:
        """Work out per state which stays, playheads and edges anything can tell."""
        machine = self.machine
        operands = [machine.memories[index].operand for index in sorted(self.slice.memories)]
        always = [part for operand in operands for part in x.parts(operand)]
        self.edges: dict[int, list[frozenset[int]]] = {}
        self.thresholds: dict[int, list[list[int]]] = {}
        self.heads: dict[int, list[bool]] = {}
        pressable = frozenset(button for button, _ in machine.buffers)
        for at in self.layers:
            kept = {way.target for row in machine.layers[at].ways for way in row if way.keep_phase}
            edges, thresholds, heads = [], [], []
            for state, row in enumerate(machine.layers[at].ways):
                read = [part for way in row if way.condition for part in x.parts(way.condition)] + always
                asked = {part.symbol for part in read if isinstance(part, x.Pressed | x.Released)}
                edges.append(frozenset(asked) | pressable)
                found = set()
                for part in read:
                    if isinstance(part, x.Stayed) and part.layer == at:
                        found |= {part.ticks, part.ticks + 1}
                heads.append(self._needs_playhead(at, state, kept))
                picture = machine.pictures[at][state]
                if at in self.slice.asked_over and picture is not None and picture.even and not heads[-1]:
                    found.add(picture.reels[0].timing.ticks)
                if picture is not None and picture.even and not heads[-1]:
                    found |= {
                        -(-cue.at // TICK) for cue in picture.reels[0].cues if cue.at <= picture.reels[0].timing.length
                    }
                thresholds.append(sorted(found - {0}))
            self.edges[at], self.thresholds[at], self.heads[at] = edges, thresholds, heads
        # a stay is read a tick later, but for ticks on which time stands still
        later = 0 if any(act.do == "freeze" for act in self.slice.acts) else 1
        self.caps = {at: [max(row[-1] - later, 0) if row else 0 for row in self.thresholds[at]] for at in self.layers}

    def _needs_playhead(self, layer: int, state: int, kept: set[int]) -> bool:
        picture = self.machine.pictures[layer][state]
        if picture is None or not picture.even:
            return False
        if any(way.keep_phase for way in self.machine.layers[layer].ways[state]) or state in kept:
            return True
        reel = picture.reels[0]
        if any(cue.acts for cue in reel.cues) or any(w.hold >= 0 or w.lock for w in reel.windows):
            return True
        return layer in self.slice.asked_at or any(window.name in self.slice.asked_spans for window in reel.windows)

    def watched(self, states: tuple[int, ...]) -> frozenset[int]:
        """Buttons whose edges are asked for while these states are active."""
        return frozenset().union(*(self.edges[at][states[at]] for at in self.layers))

    # From places to moments and back

    def first(self) -> Place:
        """The place just before tick 0."""
        now = Running(values=[symbol.first for symbol in self.machine.symbols], machine=self.machine, blind=True)
        now.enter_all()
        self.first_marks = {(at, now.states[at], name) for at, name in now.marks if at in self.layers}
        return Place(self._fold(now), (0,) * len(self.tracked), frozenset(), (0,) * len(self.spaced))

    def place_of(self, situation: Situation) -> Place:
        """The place a concrete situation lies in; pulses that come only so often count as free to come."""
        now = Running(
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
        held = situation.held & self.watched(situation.states)
        return Place(self._fold(now), self._told_apart(counters), held, (0,) * len(self.spaced))

    def _fold(self, now: Running) -> Core:
        states, stays, heads, blocks = [], [], [], []
        for at in range(len(now.states)):
            if at not in self.caps:
                states.append(self.machine.layers[at].start)
                stays.append(0)
                heads.append((0, False))
                blocks.append(0)
                continue
            state = now.states[at]
            fade = now.fades[at]
            states.append(state)
            stays.append(min(now.stays[at], self.caps[at][state]))
            heads.append((now.playheads[at], now.over[at]) if self.heads[at][state] else (0, False))
            blocks.append(fade.left if fade is not None and fade.blocks else 0)
        key = CoreKey(
            tuple(states),
            tuple(stays),
            tuple(heads),
            tuple(blocks),
            tuple(sorted((key, age) for key, age in now.ages.items() if key in self._buttons)),
            tuple(sorted((*key, age) for key, age in now.since.items() if key in self.machine.timed)),
            tuple(now.values[index] for index in self.slice.values),
            frozenset(now.raised) & frozenset(self.slice.values),
            now.locks,
            now.freeze,
        )
        return self.core(key)

    def core(self, key: CoreKey) -> Core:
        """This world's core with a key."""
        known = self._cores.get(key)
        if known is None:
            known = self._cores[key] = Core(key)
        return known

    def known(self, key: CoreKey) -> Core | None:
        """This world's core with a key, if anything has led to it."""
        return self._cores.get(key)

    def _told_apart(self, counters: Iterable[int]) -> tuple[int, ...]:
        """The tracked memories' counters as far as the ticks to come can tell."""
        memories = self.machine.memories
        return tuple(
            min(counter, memories[index].ticks - 1)
            if memories[index].kind == "for"
            else (counter if counter > 1 else 0)
            for index, counter in zip(self.tracked, counters)
        )

    @property
    def _buttons(self) -> frozenset[int]:
        return frozenset(button for button, _ in self.machine.buffers)

    def move(self, place: Place) -> Moved:
        """The place's clocks one tick on: steps 3 and 4, as far as they do not depend on values from outside."""
        known = self._moved.get(place.core)
        if known is None:
            known = self._moved[place.core] = self._move(place.core.key)
        scene, now, made = known
        ready = tuple(counter >= enough for counter, enough in zip(place.counters, self._enough))
        view = View(scene, ready, place.held, tuple(wait == 0 for wait in place.waits))
        if view not in self._templates:
            template = copied(now)
            template.held_before = place.held
            self._templates[view] = template
        return Moved(view, now, made)

    def _move(self, place: CoreKey) -> tuple[Scene, Running, dict[tuple[object, ...], Made]]:
        machine = self.machine
        values: list[float | bool | str] = [False] * len(machine.symbols)
        for index, value in zip(self.slice.values, place.values):
            values[index] = (index in place.raised) if machine.symbols[index].momentary else value
        playheads, over, lengths = [], [], []
        for at, state in enumerate(place.states):
            head = self._head(at, state, place)
            playheads.append(head[0])
            over.append(head[1])
            lengths.append(head[2])
        now = Running(
            values=values,
            states=list(place.states),
            stays=list(place.stays),
            playheads=playheads,
            lengths=lengths,
            over=over,
            ages=dict(place.ages),
            since={(layer, state): ticks for layer, state, ticks in place.since},
            machine=machine,
            picks=[0] * len(place.states),
            fades=[Fade(0, 0, 0, left, True) if left else None for left in place.blocks],
            locks=place.locks,
            freeze=place.freeze,
            blind=True,
        )
        now.fade_on()
        frozen = place.freeze > 0
        if frozen:
            now.freeze -= 1
            now.see_spans(set())
        else:
            now.advance()
        now.grow_older()
        stays = tuple(self._class(at, now.states[at], now.stays[at]) for at in range(len(now.states)))
        heads = tuple(
            (now.playheads[at], now.over[at]) if at in self.heads and self.heads[at][now.states[at]] else (0, False)
            for at in range(len(now.states))
        )
        blocked = tuple(now.blocked(at) for at in range(len(now.states)))
        values = [now.values[index] for index in self.slice.values]
        key = (
            *(place.states, stays, heads, blocked, frozen, tuple(values)),
            *(tuple(sorted(now.ages.items())), tuple(sorted(now.since.items()))),
        )
        scene = self._scenes.setdefault(key, Scene(place.states, blocked, frozen, stays))
        return scene, now, {}

    def _head(self, layer: int, state: int, place: CoreKey) -> tuple[int, bool, int]:
        """Playhead, whether the clip is over, and its length."""
        picture = self.machine.pictures[layer][state]
        if picture is None or not picture.even:
            return 0, False, 0
        timing = picture.reels[0].timing
        if layer in self.heads and self.heads[layer][state]:
            return (*place.playheads[layer], timing.length)
        return (*timing.step(0, place.stays[layer] << 16), timing.length)

    def _class(self, layer: int, state: int, stay: int) -> int:
        """The stay, rounded down to where something last began to read differently."""
        reached = 0
        if layer in self.thresholds:
            for threshold in self.thresholds[layer][state]:
                if threshold > stay:
                    break
                reached = threshold
        return reached

    def after(
        self, place: Place, moved: Moved, outcome: Outcome, marks: set[tuple[int, int, str]] | None = None
    ) -> Place:
        """The place after ``outcome`` happened in ``place``; (layer, state, name) of what fired on entry goes to ``marks``."""
        key: tuple[object, ...] = outcome.fired
        if self.machine.buffers:
            key = (key, *((outcome.masks[button], button in place.held) for button, _ in self.machine.buffers))
        made = moved.made.get(key)
        if made is None:
            made = moved.made[key] = self._changed(moved, outcome, place.held)
        if marks is not None and made[1]:
            marks |= made[1]
        counters, waits = place.counters, place.waits
        if counters:
            known = self._counted.get((counters, outcome.operands))
            if known is None:
                known = self._counted[counters, outcome.operands] = self._told_apart(
                    count(self.machine.memories[index], counter, operand)
                    for index, counter, operand in zip(self.tracked, counters, outcome.operands)
                )
            counters = known
        if waits:
            waits = tuple(
                self.machine.symbols[index].spacing - 1 if came else max(wait - 1, 0)
                for index, wait, came in zip(self.spaced, waits, outcome.came)
            )
        return Place(made[0], counters, outcome.held, waits)

    def _changed(self, moved: Moved, outcome: Outcome, held: frozenset[int]) -> Made:
        """What transitions and presses make of a moment, but for counters, held buttons and waits; and the marks that fire
        on entry."""
        now = copied(moved.now)
        now.held_before = held
        self._press(now, outcome.masks)
        for at in self.layers:
            if outcome.fired[at] >= 0:
                now.take(at, self.machine.layers[at].ways[now.states[at]][outcome.fired[at]])
        marks = frozenset((at, now.states[at], name) for at, name in now.marks if at in self.layers)
        return self._fold(now), marks

    def _press(self, now: Running, masks: Masks) -> Split | None:
        """Step 5 for presses: the buttons whose presses are counted must be known."""
        for button, _ in self.machine.buffers:
            if masks[button] == 0b11:
                return Split(button, 0b01)
            now.values[button] = masks[button] == 0b10
        now.remember_presses()
        return None

    # What can happen

    def outcomes(self, view: View) -> tuple[Outcome, ...]:
        """Everything that can happen in a view, each once."""
        known = self._outcomes.get(view)
        if known is None:
            found: dict[tuple[object, ...], Outcome] = {}

            def answer(masks: Masks) -> Split | bool:
                outcome = self.tick(view, masks)
                if isinstance(outcome, Split):
                    return outcome
                key = (outcome.fired, outcome.operands, outcome.held, outcome.came)
                if key not in found:
                    allowed = self.completed(masks)
                    if allowed is not None:
                        found[key] = replace(outcome, masks=allowed)
                return False

            self.divide(self.open_masks(view), answer)
            known = self._outcomes[view] = tuple(found.values())
        return known

    def options(self, symbol: int, mask: int) -> tuple[float | bool | str, ...]:
        """The values of a symbol that stand for the regions of a set."""
        known = self._options.get((symbol, mask))
        if known is None:
            values = enumerate(self.values[symbol])
            known = self._options[symbol, mask] = tuple(value for bit, value in values if mask >> bit & 1)
        return known

    def open_masks(self, view: View) -> Masks:
        """Every value that may come next: pulses that come only so often are off until their time."""
        masks = list(self.full)
        for index, may in zip(self.spaced, view.may):
            if not may:
                masks[index] = 0b01
        return tuple(masks)

    def steady_masks(self, states: tuple[int, ...], held: frozenset[int]) -> Masks:
        """The values a constant run may have: pulses off, every watched button as it was; an untracked past has settled."""
        masks = list(self.full)
        for index, symbol in enumerate(self.machine.symbols):
            if symbol.momentary and symbol.free:
                masks[index] = 0b01
        for index in self.watched(states):
            masks[index] = 0b10 if index in held else 0b01
        return self.settled(masks)

    def settled(self, masks: list[int]) -> Masks:
        """Masks with every untracked memory as it is when nothing has changed for long."""
        for index, symbol in self.history.items():
            masks[symbol] = 0b10 if self.machine.memories[index].kind == "for" else 0b01
        return tuple(masks)

    def tick(self, view: View, masks: Masks) -> Outcome | Split:
        """What happens in a view with these sets of values, or the split that is needed to tell."""
        known = self._ticks.get((view, masks))
        if known is None:
            if len(self._ticks) > MOST_KEPT:
                self._ticks.clear()
            known = self._ticks[view, masks] = self._tick(view, masks)
        return known

    def _tick(self, view: View, masks: Masks) -> Outcome | Split:
        step = self.evaluate(view, masks)
        if isinstance(step, Split):
            return step
        held = []
        for index in self.watched(step.states):
            if masks[index] == 0b11:
                return Split(index, 0b01)
            if masks[index] == 0b10:
                held.append(index)
        came = []
        for index in self.spaced:
            if masks[index] == 0b11:
                return Split(index, 0b01)
            came.append(masks[index] == 0b10)
        return Outcome(step.fired, step.operands, frozenset(held), tuple(came), masks, max(step.fired) < 0)

    def evaluate(self, view: View, masks: Masks, until: int | None = None) -> Tried | Split:
        """Steps 5 and 6, up to but not including layer ``until``, or the split that is needed to tell."""
        now = template = self._templates[view]
        if self.machine.buffers:
            now = copied(now)
            pressed = self._press(now, masks)
            if pressed is not None:
                return pressed
        setting = Setting(masks, now)
        operands = []
        if self.tracked:
            now.memories = [False] * len(self.machine.memories)
            for index, judge, ready in zip(self.tracked, self.memory_judges, view.ready):
                operand = judge(setting)
                if operand is None:
                    return Split(setting.symbol, setting.part)
                operands.append(operand)
                kind = self.machine.memories[index].kind
                now.memories[index] = (operand and ready) if kind == "for" else (operand or ready)
        fired, states = [-1] * len(self.machine.layers), list(now.states)
        for at in self.layers:
            if at == until:
                break
            if view.frozen or view.blocked[at]:
                continue
            state = now.states[at]
            for position, condition in enumerate(self.conditions[at][state]):
                true = condition(setting) if condition is not None else False
                if true is None:
                    return Split(setting.symbol, setting.part)
                if true:
                    fired[at] = position
                    way = self.machine.layers[at].ways[state][position]
                    states[at] = way.target
                    if at != self.layers[-1]:
                        if now is template:
                            now = setting.now = copied(now)
                            now.memories = template.memories
                        now.take(at, way)
                    break
        return Tried(tuple(fired), tuple(operands), setting, tuple(states))

    def divide(self, masks: Masks, answer: Answer) -> None:
        """Ask ``answer`` about ever smaller sets of values, leaving out what the assumptions forbid."""
        stack = [masks]
        while stack:
            current = stack.pop()
            result = answer(current)
            if isinstance(result, Split):
                yes, no = result.of(current)
                stack.extend(part for part in (no, yes) if self.allowed(part) is not False)
            elif result:
                return

    def allowed(self, masks: Masks) -> bool | None:
        """Whether the assumptions allow these values; None when they allow some of them perhaps."""
        result = self.assumed(masks)
        return None if isinstance(result, Split) else result

    def assumed(self, masks: Masks) -> Split | bool:
        """Whether the assumptions allow these values and the values each other, or the split that is needed to tell."""
        if not self.linked:
            return True
        setting = Setting(masks, self._unknown)
        needed: Split | None = None
        for judge in self.assumptions:
            answer = judge(setting)
            if answer is False:
                return False
            if answer is None and needed is None:
                needed = Split(setting.symbol, setting.part)
        return needed or self.together.possible(masks)

    def completed(self, masks: Masks, wanted: Masks | None = None) -> Masks | None:
        """A part of ``masks`` in which every assumption holds, near the single values ``wanted`` where it can be; None
        when there is none."""
        stack = [masks]
        while stack:
            current = stack.pop()
            result = self.assumed(current)
            if isinstance(result, Split):
                yes, no = result.of(current)
                if wanted is not None and not wanted[result.symbol] & yes[result.symbol]:
                    yes, no = no, yes
                stack += [no, yes]
            elif result:
                return current
        return None


def _named(symbols: list[str], compared: x.Compared) -> str:
    """A comparison that stays open, in words."""
    names = " and ".join(sorted(symbols[index] for index in x.symbols_in(compared)))
    return f"a comparison of {names}"


def copied(now: Running) -> Running:
    """A moment that can be moved on without touching this one."""
    return Running(
        values=list(now.values),
        held_before=now.held_before,
        states=list(now.states),
        stays=list(now.stays),
        playheads=list(now.playheads),
        lengths=list(now.lengths),
        over=list(now.over),
        spans=now.spans,
        ages=dict(now.ages),
        since=dict(now.since),
        machine=now.machine,
        picks=now.picks[:],
        fades=now.fades[:],
        raised=set(now.raised),
        locks=now.locks,
        freeze=now.freeze,
        marks=[],
        blind=now.blind,
    )
