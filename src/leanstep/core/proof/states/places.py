"""What the free world is made of: places, what decides in them, and what can happen.

Cores, pasts, scenes, views and news are what many places and outcomes share; a world keeps one of each, and one place of
each core and past, so that all of them are compared by being the same.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from typing import Any, NamedTuple, TypeVar

from leanstep.core.graph.tick_state import TickState
from leanstep.core.proof.values.predicates import Masks

_T = TypeVar("_T")


class CoreKey(NamedTuple):
    """A situation as far as it matters, but for the past: active states, stays as far as anything can tell, and what each
    dimension of the world remembers."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    parts: tuple[Hashable, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Core:
    """The one core of a world with this key, and its places by past."""

    key: CoreKey
    places: dict[Past, Place] = field(default_factory=dict)

    def after(self, past: Past) -> Place:
        """The place with this core after a past."""
        known = self.places.get(past)
        if known is None:
            known = self.places[past] = Place(self, past)
        return known


@dataclass(frozen=True, slots=True, eq=False)
class News:
    """What a tick adds to the past: what each tracked memory's operand was, the buttons held whose edges are asked for, which
    of the pulses that come only so often came, and the regions, as masks, of the numbers that change only so fast."""

    operands: tuple[bool, ...]
    held: frozenset[int]
    came: tuple[bool, ...]
    near: tuple[int, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Past:
    """What came before, as far as it matters.  ``counters`` are those of the tracked memories, ``held`` the buttons held on
    the last tick whose edges are asked for; ``waits`` the ticks until a pulse that comes only so often may come again;
    ``near`` the regions, as masks, in which the numbers that change only so fast lie.  ``after`` has the past a tick later."""

    counters: tuple[int, ...]
    held: frozenset[int]
    waits: tuple[int, ...]
    near: tuple[int, ...]
    after: dict[News, Past] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, eq=False)
class Place:
    """A situation as far as it matters: the one place of its core and its past."""

    core: Core
    past: Past

    @property
    def states(self) -> tuple[int, ...]:
        """The active state of every layer."""
        return self.core.key.states

    @property
    def stays(self) -> tuple[int, ...]:
        """The stay of every layer's state, in ticks, as far as anything can tell."""
        return self.core.key.stays

    @property
    def held(self) -> frozenset[int]:
        """The buttons held on the last tick whose edges are asked for."""
        return self.past.held

    @property
    def near(self) -> tuple[int, ...]:
        """The regions, as masks, in which the numbers that change only so fast lie."""
        return self.past.near


@dataclass(frozen=True, slots=True, eq=False)
class Scene:
    """What decides the outcomes of places on the coming tick, but for the past.  ``stays`` are stays by class, ``seen`` is what
    the dimensions of the world tell."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    blocked: tuple[bool, ...]
    frozen: bool
    seen: tuple[Hashable, ...]


@dataclass(frozen=True, slots=True, eq=False)
class View:
    """What decides the outcomes of a place, on the coming tick.  ``ready`` says for each tracked memory whether it holds if
    its operand does (``for``) or even if not (``within``); of one that nothing reads it says nothing."""

    scene: Scene
    ready: tuple[bool, ...]
    held: frozenset[int]
    may: tuple[bool, ...]
    near: tuple[int, ...]

    @property
    def states(self) -> tuple[int, ...]:
        """The active state of every layer."""
        return self.scene.states

    @property
    def stays(self) -> tuple[int, ...]:
        """The stay of every layer's state, rounded down to where something last began to read differently."""
        return self.scene.stays

    @property
    def blocked(self) -> tuple[bool, ...]:
        """Per layer, whether a crossfade holds it."""
        return self.scene.blocked

    @property
    def frozen(self) -> bool:
        """Whether time stands still."""
        return self.scene.frozen


Made = tuple[Core, frozenset[tuple[int, int, str]]]


class Moved(NamedTuple):
    """A place whose clocks have gone on by a tick: what decides, the moment itself, and what was made of it so far.  The
    moment is shared by places that differ only in the past and in held buttons: it knows of neither."""

    view: View
    now: TickState
    made: dict[tuple[object, ...], Made]


@dataclass
class Pool:
    """One of everything that places and views share."""

    cores: dict[CoreKey, Core] = field(default_factory=dict)
    scenes: dict[tuple[object, ...], Scene] = field(default_factory=dict)
    views: dict[tuple[object, ...], View] = field(default_factory=dict)
    news: dict[tuple[object, ...], News] = field(default_factory=dict)
    pasts: dict[tuple[object, ...], Past] = field(default_factory=dict)

    def core(self, key: CoreKey) -> Core:
        """The core with a key."""
        known = self.cores.get(key)
        if known is None:
            known = self.cores[key] = Core(key)
        return known

    def scene(self, *key: Any) -> Scene:
        """The scene with these fields."""
        return _one(self.scenes, Scene, key)

    def view(self, *key: Any) -> View:
        """The view with these fields."""
        return _one(self.views, View, key)

    def what_came(self, *key: Any) -> News:
        """The news with these fields."""
        return _one(self.news, News, key)

    def past(self, *key: Any) -> Past:
        """The past with these fields."""
        return _one(self.pasts, Past, key)


def _one(known: dict[tuple[object, ...], _T], make: Callable[..., _T], key: tuple[Any, ...]) -> _T:
    """The one thing that is made of a key."""
    found = known.get(key)
    if found is None:
        found = known[key] = make(*key)
    return found


class Outcome(NamedTuple):
    """One thing that can happen on a tick.

    ``fired`` per layer: position in the state's ways, or -1.  ``news`` is what it adds to the past.  ``masks``: sets of values
    that bring it about and that the assumptions allow.  ``idle``: no transition is taken.
    """

    fired: tuple[int, ...]
    news: News
    masks: Masks
    idle: bool

    def of(self, masks: Masks) -> Outcome:
        """The same for other values."""
        return self if masks == self.masks else Outcome(self.fired, self.news, masks, self.idle)

    def brings(self, other: Outcome) -> bool:
        """Whether the same happens, whatever the values."""
        return self.fired == other.fired and self.news is other.news
