"""Situations and steps: what every engine takes and gives."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from leanstep.core.body.body_state import BodyState
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.tick_state import Fade

Setting = tuple[int, int, Symbolic]
"""From a tick on, a symbol has a value (pulses: on that tick only)."""


@dataclass(frozen=True)
class Situation:
    """Everything that decides what happens next.

    ``stays`` in ticks, ``playheads`` in 1/65536 tick, one entry per layer; ``overs``: the clip has played to its end.
    ``counters`` has one number per memory: for ``for`` the ticks in a row its operand was true, for ``within`` the ticks it
    will still count as true.  ``ages`` are (button, ticks since its unused press), ``since`` (layer, state, ticks since it
    was left), both as far as conditions can tell.  ``raised`` are pulses effects raised for the next tick, ``locks`` named
    locks as bits; ``locked``: movement was locked on this tick.  ``freeze`` are the ticks time still stands.
    """

    states: tuple[int, ...]
    stays: tuple[int, ...]
    playheads: tuple[int, ...]
    picks: tuple[int, ...]
    overs: tuple[bool, ...]
    fades: tuple[Fade | None, ...]
    counters: tuple[int, ...]
    ages: tuple[tuple[int, int], ...]
    since: tuple[tuple[int, int, int], ...]
    held: frozenset[int]
    values: tuple[Symbolic, ...]
    raised: frozenset[int]
    locks: int
    locked: bool
    freeze: int
    body: BodyState
    tick: int = 0


@dataclass(frozen=True)
class Step:
    """What happened on one tick: the situation after it, per layer the transition taken (index in the layer's list, -1
    for none), the marks that fired as (layer, name), and what each fired in as (state, pick, number of the mark in its clip)."""

    situation: Situation
    fired: tuple[int, ...]
    marks: tuple[tuple[int, str], ...] = ()
    fired_in: tuple[tuple[int, int, int], ...] = ()


class Glimpse(NamedTuple):
    """What a search looks at after a tick; ``on`` is from where to go on."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    values: tuple[Symbolic, ...]
    body: BodyState
    fired: tuple[int, ...]
    tick: int
    on: object
