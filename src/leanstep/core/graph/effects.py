"""Effects compiled: names looked up, values brought into range."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from leanstep.core.bearings import reduced
from leanstep.core.body.records import MODES
from leanstep.core.character.clips import Effect
from leanstep.core.character.document import Character
from leanstep.core.conditions.checking import Fault, nearest
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import NUMERIC, Symbol
from leanstep.core.conditions.scope import Scope

ACTS = ("set", "add", "raise", "lock", "unlock", "freeze", "mode", "push", "push_up")
"""What compiled effects do, in the order of their numbers."""


@dataclass(frozen=True)
class Act:
    """One effect.  ``target`` is a symbol (set, add, raise) or a lock (lock, unlock); ``value`` what is set or added, or
    the ticks of a freeze, the number of a mode, or the speed of a push along the facing (push) or up (push_up)."""

    do: str
    target: int = -1
    value: Symbolic = True


BODILY = ("mode", "push", "push_up")
"""What only the body feels: for the graph it is nothing."""


@dataclass
class Effects:
    """Compiles effects; ``locks`` are the names under which effects lock movement, in order of appearance, ``shapes`` the
    squashes and leans there are."""

    scope: Scope
    shapes: Mapping[str, Sequence[str]]
    locks: list[str] = field(default_factory=list)

    def compile(self, effects: Sequence[Effect]) -> tuple[tuple[Act, ...], list[tuple[str, Fault]]]:
        """The acts of a list of effects, and for each broken one, which is left out, its text and fault."""
        acts, faults = [], []
        for effect in effects:
            made = self._act(effect)
            if isinstance(made, Fault):
                faults.append((f"{effect.do} {effect.name}".strip(), made))
                continue
            if made is not None:
                acts.append(made)
            if effect.do == "push" and effect.up:
                acts.append(Act("push_up", -1, float(effect.up)))
        return tuple(acts), faults

    def _act(self, effect: Effect) -> Act | Fault | None:
        if effect.do in ("squash", "lean"):
            # only what is drawn changes
            return fault_of_shape(effect.do, effect.name, self.shapes.get(effect.do, ()))
        if effect.do in ("lock", "unlock"):
            if effect.name not in self.locks:
                self.locks.append(effect.name)
            return Act(effect.do, self.locks.index(effect.name))
        if effect.do == "freeze":
            if isinstance(effect.value, bool | str) or not 0 <= effect.value <= 10_000:
                return Fault("kind.mismatch", "a freeze needs a number of ticks from 0 to 10 000", 0, "freeze")
            return Act("freeze", -1, int(-(-effect.value // 1)))
        if effect.do == "mode":
            if effect.name not in MODES:
                close = nearest(effect.name, MODES)
                return Fault("name.unknown", f"a body has no mode {effect.name or '(nothing)'}", 0, effect.name, close)
            return Act("mode", -1, float(MODES.index(effect.name)))
        if effect.do == "push":
            if isinstance(effect.value, bool | str):
                return Fault("kind.mismatch", "a push needs a speed along the facing", 0, "push")
            return Act("push", -1, float(effect.value))
        index = self.scope.index.get(effect.name)
        if index is None:
            names = [symbol.name for symbol in self.scope.symbols if symbol.owner == "graph"]
            close = nearest(effect.name, names)
            return Fault("name.unknown", f"no parameter is called {effect.name or '(nothing)'}", 0, effect.name, close)
        return self._change(effect, index, self.scope.symbols[index])

    def _change(self, effect: Effect, index: int, symbol: Symbol) -> Act | Fault:
        def fault(reason: str) -> Fault:
            return Fault("kind.mismatch", reason, 0, effect.name)

        if symbol.owner != "graph":
            return fault(f"{symbol.name} belongs to the {symbol.owner}: effects change parameters of the graph")
        value = effect.value
        if (effect.do == "raise") != (symbol.kind == "pulse"):
            return fault(f"{symbol.name} is a {symbol.kind}: pulses are raised, other parameters are set or added to")
        if effect.do == "raise":
            return Act("raise", index)
        if effect.do == "add":
            if symbol.kind not in NUMERIC or isinstance(value, bool | str):
                return fault(f"only a number can be added, and only to a number: {symbol.name} is a {symbol.kind}")
            return Act("add", index, float(value))
        if not fits(symbol, value):
            return fault(f"{value!r} is no value of the {symbol.kind} {symbol.name}")
        return Act("set", index, fitted(symbol, value))


def shapes_of(character: Character) -> dict[str, list[str]]:
    """The names of the squashes and leans of a character."""
    return {"squash": [one.name for one in character.squashes], "lean": [one.name for one in character.leans]}


def fault_of_shape(kind: str, name: str, known: Sequence[str]) -> Fault | None:
    """What is wrong with naming a squash or a lean; None when nothing is, or none is named."""
    if not name or name in known:
        return None
    return Fault("name.unknown", f"no {kind} is called {name}", 0, name, nearest(name, known))


def fits(symbol: Symbol, value: Symbolic) -> bool:
    """Whether a value is of the symbol's kind."""
    if symbol.kind in ("flag", "pulse", "button"):
        return isinstance(value, bool)
    if symbol.kind == "choice":
        return value in symbol.choices
    return not isinstance(value, bool | str)


def fitted(symbol: Symbol, value: Symbolic) -> Symbolic:
    """``value`` brought into the symbol's kind and range."""
    if symbol.kind in ("flag", "pulse", "button"):
        return bool(value)
    if symbol.kind == "choice":
        return value if value in symbol.choices else symbol.rest
    if symbol.kind == "bearing":
        return reduced(float(value))
    number = min(max(float(value), symbol.low), symbol.high)
    return float(round(number)) if symbol.kind == "whole" else number
