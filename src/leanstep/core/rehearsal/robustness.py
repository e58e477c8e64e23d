"""Whether a take still does the same at another rate of ticks, or when a hand is a little early or late."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import zip_longest
from pathlib import Path
from typing import TypeVar

import msgspec

from leanstep.core.character.clips import Cel, Clip, Contact, Effect, Phase, Span, Strike, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.second_figures import compile_in
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.wording import counted
from leanstep.core.work import DEFAULT, Work, look

_Stretch = TypeVar("_Stretch", Span, Phase, Contact)

RATES = (30.0, 60.0, 120.0, 144.0)
"""Ticks a second a take is tried at."""

MOST_TICKS = 60_000
"""Ticks that are played at most to find out whether a take is fragile."""

SHIFTS = (-3, -2, -1, 1, 2, 3)
"""Ticks by which every change is moved, one at a time."""


@dataclass(frozen=True)
class Difference:
    """The first thing a variant of a take does otherwise.

    ``variant`` says which; ``layer`` is in ``got`` (None: in nothing further) where the take as it is comes to
    ``expected``, ``seconds`` after the start.
    """

    variant: str
    layer: str
    seconds: float
    expected: str | None
    got: str | None

    @property
    def sentence(self) -> str:
        """The difference in words."""
        expected = f"comes to {self.expected}" if self.expected else "stays"
        got = f"comes to {self.got}" if self.got else "does not go on"
        return f"{self.variant}, after {self.seconds:.2f} s {self.layer} {got}, where the take as it is {expected}"


def differences(
    character: Character, take: Take, folder: Path | None = None, work: Work = DEFAULT
) -> Iterator[Difference]:
    """The first difference of every variant that has one: other rates, then every change a little early or late.

    ``work`` is told the variants done.

    Raises
    ------
    Stopped : somebody stopped the work.
    """
    machine = compile_in(folder, character)
    plain = rehearse(machine, take)
    for done, (variant, other, moved) in enumerate(_variants(character, take)):
        work.at(done)
        found = _first(variant, plain, rehearse(machine if other is character else compile_character(other), moved))
        if found is not None:
            yield found


@dataclass(frozen=True)
class Fragility:
    """What a take no longer does in a variant: the number of the expectation, what happens instead, and the variant as a take
    of the same character (None: at another rate)."""

    variant: str
    expectation: int
    reason: str
    take: Take | None


def fragile(character: Character, take: Take, folder: Path | None = None) -> Fragility | None:
    """The first variant in which a take does not meet what it expects, though it does as it is; None when there is none, or
    none among the first :data:`MOST_TICKS` ticks that are tried.

    Raises
    ------
    Stopped : somebody stopped the work under way.
    """
    machine = compile_in(folder, character)
    if not take.expects or any(unmet(rehearse(machine, take), take)):
        return None
    ticks = 0
    for variant, other, moved in _variants(character, take):
        look()
        ticks += moved.ticks
        if ticks > MOST_TICKS:
            return None
        trace = rehearse(machine if other is character else compile_character(other), moved)
        for number, reason in unmet(trace, moved):
            return Fragility(variant, number, reason, moved if other is character else None)
    return None


def _variants(character: Character, take: Take) -> Iterator[tuple[str, Character, Take]]:
    for rate in RATES:
        # a situation kept in ticks is none of another rate, and no second figure of a file runs at one
        fixed = take.begins is not None or (take.second is not None and take.second.who == "file")
        if rate != character.rate and not fixed:
            yield f"At {rate:g} ticks a second", *at_rate(character, take, rate)
    for number, one in enumerate(take.changes):
        for shift in SHIFTS:
            if 0 <= one.at + shift < take.ticks:
                moved = msgspec.structs.replace(one, at=one.at + shift)
                changes = sorted((*take.changes[:number], moved, *take.changes[number + 1 :]), key=lambda each: each.at)
                late = f"{counted(abs(shift), 'tick')} {'late' if shift > 0 else 'early'}"
                what = " and ".join(one.set)
                variant = f"With {what} of tick {one.at} {late}"
                yield variant, character, msgspec.structs.replace(take, changes=tuple(changes))


def at_rate(character: Character, take: Take, rate: float) -> tuple[Character, Take]:
    """The same character and take at another rate: everything counted in ticks lasts as long in seconds as before, but for
    the ticks that conditions name."""
    ratio = rate / character.rate

    def paced(effects: tuple[Effect, ...]) -> tuple[Effect, ...]:
        return tuple(
            msgspec.structs.replace(one, value=math.ceil(float(one.value) * ratio)) if one.do == "freeze" else one
            for one in effects
        )

    def longer(cel: Cel) -> Cel:
        return msgspec.structs.replace(cel, ticks=cel.ticks * ratio)

    def timed(part: _Stretch) -> _Stretch:
        return msgspec.structs.replace(part, start=part.start * ratio, end=part.end * ratio)

    def path(one: Travel | None) -> Travel | None:
        keys = tuple(msgspec.structs.replace(key, at=key.at * ratio) for key in one.keys) if one is not None else ()
        return msgspec.structs.replace(one, keys=keys) if one is not None else None

    def strike(one: Strike | None) -> Strike | None:
        stuns = (math.ceil(one.stun * ratio), math.ceil(one.guard_stun * ratio)) if one is not None else (0, 0)
        return msgspec.structs.replace(one, stun=stuns[0], guard_stun=stuns[1]) if one is not None else None

    def clip(one: Clip) -> Clip:
        return msgspec.structs.replace(
            one,
            cels=tuple(map(longer, one.cels)),
            marks=tuple(
                msgspec.structs.replace(mark, at=mark.at * ratio, effects=paced(mark.effects)) for mark in one.marks
            ),
            spans=tuple(map(timed, one.spans)),
            phases=tuple(map(timed, one.phases)),
            contacts=tuple(map(timed, one.contacts)),
            travel=path(one.travel),
            strike=strike(one.strike),
        )

    layers = tuple(
        msgspec.structs.replace(
            layer,
            states=tuple(
                msgspec.structs.replace(
                    state,
                    held=longer(state.held) if state.held is not None else None,
                    on_entry=paced(state.on_entry),
                    on_leave=paced(state.on_leave),
                )
                for state in layer.states
            ),
        )
        for layer in character.layers
    )
    changes = tuple(msgspec.structs.replace(one, at=math.floor(one.at * ratio + 0.5)) for one in take.changes)
    return (
        msgspec.structs.replace(character, rate=rate, clips=tuple(map(clip, character.clips)), layers=layers),
        msgspec.structs.replace(take, ticks=math.floor(take.ticks * ratio + 0.5), changes=changes),
    )


def _first(variant: str, plain: Trace, other: Trace) -> Difference | None:
    """The earliest difference in what the layers come to, by the time of the take as it is."""
    found: list[Difference] = []
    for layer, table in enumerate(plain.machine.layers):
        for one, two in zip_longest(_entries(plain, layer), _entries(other, layer)):
            if one is None or two is None or one[1] != two[1]:
                seconds = (one or two)[0]
                expected = table.states[one[1]] if one else None
                got = table.states[two[1]] if two else None
                found.append(Difference(variant, table.name, seconds, expected, got))
                break
    return min(found, key=lambda one: one.seconds, default=None)


def _entries(trace: Trace, layer: int) -> list[tuple[float, int]]:
    """When, in seconds, a layer enters which state."""
    rate = trace.machine.character.rate
    return [(tick / rate, state) for tick, state in trace.entries(layer)]
