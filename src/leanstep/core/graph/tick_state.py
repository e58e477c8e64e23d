"""A graph in motion: clocks that run, transitions that are taken, and the effects of both.

The stepper moves one concrete situation with this; the proof moves what it knows for sure of a whole set of them, so
that both share one meaning.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, amount, decide
from leanstep.core.graph.clip_tables import Cue, Picture, Reel
from leanstep.core.graph.effects import Act, fitted
from leanstep.core.graph.machine import CompiledTransition, Machine


@dataclass(frozen=True)
class Fade:
    """A crossfade under way: the state left, its pick and playhead (for drawing), the ticks left, whether it blocks."""

    state: int
    pick: int
    playhead: int
    left: int
    blocks: bool


@dataclass
class TickState(Moment):
    """A moment that can be moved on.

    ``picks`` and ``fades`` have one entry per layer.  ``raised`` are the pulses effects have raised for the next tick,
    ``locks`` the named locks in force as bits, ``freeze`` the ticks time still stands.  ``marks`` collects what fired:
    (layer, name), ``asked`` what effects ask of the body.  With ``blind`` the values of symbols from outside are not
    known: pictures whose playhead depends on them do not move.
    """

    machine: Machine = field(kw_only=True)
    picks: list[int] = field(default_factory=list)
    fades: list[Fade | None] = field(default_factory=list)
    raised: set[int] = field(default_factory=set)
    locks: int = 0
    freeze: int = 0
    marks: list[tuple[int, str]] = field(default_factory=list)
    fired_in: list[tuple[int, int, int]] = field(default_factory=list)
    blind: bool = False
    asked: list[tuple[str, float]] = field(default_factory=list)

    def enter_all(self) -> None:
        """Enter every layer's start state, just before tick 0."""
        for at, layer in enumerate(self.machine.layers):
            self.states.append(layer.start)
            self.stays.append(0)
            self.playheads.append(0)
            self.lengths.append(0)
            self.loops.append(False)
            self.over.append(False)
            self.picks.append(0)
            self.fades.append(None)
            self._enter(at, layer.start, 0)
        self.see_spans(set())

    def advance(self) -> None:
        """Step 4: countdowns go down, stays go up, playheads step, marks fire, spans begin and end."""
        self.count_down()
        held = self._held_by_spans()
        for at, state in enumerate(self.states):
            self.stays[at] += 1
            picture = self.machine.pictures[at][state]
            if picture is None or (self.blind and not picture.followed):
                continue
            # where values are not known, any pick will do for what is even
            pick = 0 if self.blind else picture.pick(self.values, self.picks[at])
            reel = self._playing(picture, pick)
            playhead = self.playheads[at]
            if pick != self.picks[at]:
                playhead = picture.taken_over(playhead, self.picks[at], pick)
            rate = reel.amount(self.values)
            self.picks[at], self.lengths[at], self.loops[at] = pick, reel.timing.length, reel.timing.repeats
            self.playheads[at], ended = reel.timing.step(playhead, rate)
            self.over[at] = self.over[at] or (ended and reel.timing.repeats)
            self.asked += reel.travelled(playhead, rate)
            if reel.cues:
                for cue in reel.fired(playhead, rate):
                    self._tell(at, cue)
                    self.apply(cue.acts, now=True)
        self.see_spans(held)

    def count_down(self) -> None:
        """Countdowns go down by one; in a proof their values are those after it."""
        if self.blind or not self.machine.countdowns:
            return
        for symbol in self.machine.countdowns:
            self.values[symbol] = max(float(self.values[symbol]) - 1.0, 0.0)
        self.compute_formulas()

    def fade_on(self) -> None:
        """Crossfades run on by one tick."""
        for at, fade in enumerate(self.fades):
            if fade is not None:
                left = fade.left - 1
                playhead = fade.playhead
                picture = self.machine.pictures[at][fade.state]
                if picture is not None:
                    playhead = picture.reels[fade.pick].timing.step(playhead)[0]
                self.fades[at] = Fade(fade.state, fade.pick, playhead, left, fade.blocks) if left >= 0 else None

    def blocked(self, layer: int) -> bool:
        """Whether a crossfade that may not be interrupted holds a layer."""
        fade = self.fades[layer]
        return fade is not None and fade.blocks

    def take(self, layer: int, way: CompiledTransition) -> None:
        """Take a transition: leave, change over, enter."""
        held = self._held_by_spans()
        old = self.states[layer]
        for used in way.uses:
            if decide(used, self):
                self.ages.pop(used.symbol, None)
        self.apply(self.machine.layers[layer].leave[old], now=False)
        self._end_spans(held, layer)
        if way.target != old and (layer, old) in self.machine.timed:
            self.since[layer, old] = 0
        self.fades[layer] = (
            Fade(old, self.picks[layer], self.playheads[layer], way.fade, way.blocks) if way.fade else None
        )
        playhead, length = self.playheads[layer], self.lengths[layer]
        left = self.machine.pictures[layer][old], self.picks[layer]
        self.states[layer], self.stays[layer] = way.target, 0
        self._enter(layer, way.target, playhead if way.keep_phase else 0, length, left)
        self.see_spans(set())

    def _end_spans(self, held: set[int], layer: int) -> None:
        """The spans of a layer's state that is left are over: flags that only they ``held`` go off."""
        ended = held - self._held_by_spans(layer) - {-1}
        for symbol in ended:
            self._put(symbol, False)
        if ended:
            self.compute_formulas()

    def _enter(
        self,
        layer: int,
        state: int,
        playhead: int,
        old_length: int = 0,
        left: tuple[Picture | None, int] = (None, 0),
    ) -> None:
        """The layer's new state begins, at the same share of its clip as a ``playhead`` in a clip of ``old_length``; ``left`` is
        the picture of the state before, with its pick."""
        self.playheads[layer] = self.lengths[layer] = self.picks[layer] = 0
        self.over[layer] = self.loops[layer] = False
        self.apply(self.machine.layers[layer].entry[state], now=False)
        picture = self.machine.pictures[layer][state]
        if picture is None or (self.blind and not picture.followed):
            return
        self.picks[layer] = 0 if self.blind else picture.pick(self.values, picture.kept_from(*left))
        reel = self._playing(picture, self.picks[layer])
        length = self.lengths[layer] = reel.timing.length
        self.loops[layer] = reel.timing.repeats
        if playhead and old_length:
            self.playheads[layer] = reel.timing.folded(playhead * length // old_length)
        for cue in reel.fired_on_entry(self.playheads[layer]):
            self._tell(layer, cue)
            self.apply(cue.acts, now=False)

    def _tell(self, layer: int, cue: Cue) -> None:
        """A mark fires in what a layer shows."""
        self.marks.append((layer, cue.name))
        self.fired_in.append((self.states[layer], self.picks[layer], cue.number))

    def apply(self, acts: Iterable[Act], now: bool) -> None:
        """Effects; a pulse raised ``now`` is true for the rest of this tick, else throughout the next."""
        for act in acts:
            match act.do:
                case "set":
                    self._put(act.target, act.value)
                case "add":
                    symbol = self.machine.symbols[act.target]
                    self._put(act.target, fitted(symbol, float(self.values[act.target]) + float(act.value)))
                case "raise":
                    if now:
                        self._put(act.target, True)
                    else:
                        self.raised.add(act.target)
                case "lock":
                    self.locks |= 1 << act.target
                case "unlock":
                    self.locks &= ~(1 << act.target)
                case "mode" | "push" | "push_up":
                    self.asked.append((act.do, float(act.value)))
                case "freeze":
                    self.freeze = max(self.freeze, int(act.value))
            self.compute_formulas()

    def compute_formulas(self) -> None:
        """Bring the parameters that are computed from others up to date."""
        if self.blind:
            return
        for index, formula in self.machine.formulas:
            truth = not isinstance(formula, x.Amount)
            self.values[index] = decide(formula, self) if truth else amount(formula, self)  # type: ignore[arg-type]

    def _put(self, symbol: int, value: float | bool | str) -> None:
        self.values[symbol] = value

    def reel(self, layer: int) -> Reel | None:
        """The clip a layer shows, ready to be asked for its spans; None when it has none or it cannot be known."""
        picture = self.machine.pictures[layer][self.states[layer]]
        if picture is None or (self.blind and not picture.followed):
            return None
        return self._playing(picture, self.picks[layer])

    def _playing(self, picture: Picture, pick: int) -> Reel:
        """What is picked of a picture; where that is not known, what is in all its clips."""
        return picture.common if self.blind else picture.reels[pick]

    def see_spans(self, held_before: set[int]) -> None:
        """Work out which spans are on; flags they hold go on, and off again where they were held before."""
        if not self.machine.spanned:
            return
        names, held = set(), set()
        for at in range(len(self.states)):
            reel = self.reel(at)
            for window in reel.on(self.playheads[at]) if reel is not None and reel.windows else ():
                names.add(window.name)
                held.add(window.hold)
        for symbol in (held_before | held) - {-1}:
            self._put(symbol, symbol in held)
        self.spans = frozenset(names)
        if held_before | held:
            self.compute_formulas()

    def _held_by_spans(self, but: int = -1) -> set[int]:
        """The flags that spans of every layer ``but`` one hold on."""
        if not self.machine.spanned:
            return set()
        reels = ((at, self.reel(at)) for at in range(len(self.states)) if at != but)
        return {window.hold for at, reel in reels if reel is not None for window in reel.on(self.playheads[at])}

    def locked(self) -> bool:
        """Whether anything locks movement: a state that holds still, a span, or a named lock."""
        if self.locks or any(state in layer.locks for layer, state in zip(self.machine.layers, self.states)):
            return True
        if not self.machine.spanned:
            return False
        reels = ((at, self.reel(at)) for at in range(len(self.states)))
        return any(window.lock for at, reel in reels if reel is not None for window in reel.on(self.playheads[at]))

    def remember_presses(self) -> None:
        """Step 5 for presses and leavings: a press begins its age, the others grow older."""
        for symbol, most in self.machine.buffers:
            if self.values[symbol] and symbol not in self.held_before:
                self.ages[symbol] = 0
            elif symbol in self.ages:
                age = self.ages[symbol] + 1
                if age < most:
                    self.ages[symbol] = age
                else:
                    del self.ages[symbol]

    def grow_older(self) -> None:
        """The ticks since states were left go up by one; beyond what is asked for they count as never."""
        for place, most in self.machine.clocks:
            if place in self.since:
                age = self.since[place] + 1
                if age < most:
                    self.since[place] = age
                else:
                    del self.since[place]
