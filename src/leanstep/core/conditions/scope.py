"""The names that conditions of a character can use, and conditions compiled with them."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from graphlib import CycleError, TopologicalSorter

from leanstep.core.bearings import CIRCLE, MOST, reduced
from leanstep.core.character.document import Character
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.standing import STANDING
from leanstep.core.conditions import expression as x
from leanstep.core.conditions import tree
from leanstep.core.conditions.checking import Broken, Checker, Fault
from leanstep.core.conditions.grammar import ConditionError, parse


@dataclass
class Scope:
    """The names conditions of one character can use.

    ``symbols`` in declaration order: parameters, stick axes, buttons.  ``memories`` grows as conditions are compiled;
    equal memories share one entry, and an entry's operand only refers to earlier ones.  ``acts``: some clip has phases.
    """

    symbols: list[x.Symbol]
    layers: list[str]
    states: list[list[str]]
    rate: float
    spans: list[str] = field(default_factory=list)
    formulas: dict[int, str] = field(default_factory=dict)
    memories: list[x.Memory] = field(default_factory=list)
    acts: bool = False

    def __post_init__(self) -> None:
        self.index = {symbol.name: place for place, symbol in enumerate(self.symbols)}
        self._compiled: dict[int, tuple[x.Expression | None, list[Fault]]] | None = None

    def compile(self, text: str, layer: int | None) -> tuple[x.Expression | None, list[Fault]]:
        """The compiled form of ``text`` as seen from ``layer`` (None: an assumption), and its faults.

        A form of None means that the condition is broken and counts as never true; faults beside a form are warnings.
        """
        try:
            node = parse(text)
        except ConditionError as error:
            return None, [Fault("condition.unreadable", error.reason, error.at, error.word)]
        checker = Checker(self, layer, "an assumption")
        try:
            compiled = checker.truth(node)
            if layer is None:
                checker.only_from_outside(compiled)
            return compiled, checker.warnings
        except Broken as broken:
            return None, [broken.fault]

    def compiled_formulas(self) -> dict[int, tuple[x.Expression | None, list[Fault]]]:
        """By symbol the compiled formula (an amount inside its range, or a truth for a flag; None: broken) and its faults,
        each behind those it reads: that is the order in which they are computed."""
        if self._compiled is None:
            self._compiled = {}
            order, rings = self._order()
            for ring in rings:
                names = [self.symbols[index].name for index in ring]
                way = ", ".join(f"{one} needs {other}" for one, other in zip(names, [*names[1:], names[0]]))
                fault = Fault("kind.mismatch", f"the formula goes round: {way}", 0, names[0])
                self._compiled |= {index: (None, [fault]) for index in ring}
            for index in order:
                self._compiled[index] = self._formula(index)
        return self._compiled

    def _order(self) -> tuple[list[int], list[list[int]]]:
        """The formulas in an order in which each comes behind those it reads, and the rings of those that need each other."""
        needs = {index: self._read_by(text) for index, text in self.formulas.items()}
        rings: list[list[int]] = []
        while True:
            try:
                return [index for index in TopologicalSorter(needs).static_order() if index in needs], rings
            except CycleError as error:
                ring = error.args[1][:0:-1]
                rings.append(ring)
                needs = {index: reads for index, reads in needs.items() if index not in ring}

    def _read_by(self, text: str) -> list[int]:
        """The formulas that a formula reads; none when it cannot be read itself."""
        try:
            waiting = [parse(text)]
        except ConditionError:
            return []
        found: dict[int, None] = {}
        while waiting:
            node = waiting.pop()
            if isinstance(node, tree.Name) and self.index.get(node.name) in self.formulas:
                found[self.index[node.name]] = None
            waiting.extend(tree.children(node))
        return list(found)

    def _formula(self, index: int) -> tuple[x.Expression | None, list[Fault]]:
        symbol = self.symbols[index]
        checker = Checker(self, None, "a formula")
        try:
            node = parse(self.formulas[index])
            if symbol.kind == "flag":
                return checker.truth(node), checker.warnings
            if symbol.kind == "bearing":
                return x.Computed("bearing", (checker.number_or_bearing(node),)), checker.warnings
            if symbol.kind != "number":
                reason = f"a formula makes a number, a bearing or a flag, not a {symbol.kind}"
                raise Broken(Fault("kind.mismatch", reason, 0, symbol.name))
            least = x.Computed("max", (checker.amount(node), x.Fixed(symbol.low)))
            return x.Computed("min", (least, x.Fixed(symbol.high))), checker.warnings
        except ConditionError as error:
            return None, [Fault("condition.unreadable", error.reason, error.at, error.word)]
        except Broken as broken:
            return None, [broken.fault]


def scope_of(character: Character) -> Scope:
    """The scope of a character's conditions."""
    symbols = []
    for parameter in character.parameters:
        span = parameter.high - parameter.low
        usual = {"number": span / 100, "bearing": CIRCLE / 100}.get(parameter.kind, 0.0)
        wobble = parameter.wobble if parameter.wobble is not None else usual
        low, high = parameter.low, parameter.high
        spacing = tree.ticks_of(tree.Duration(parameter.once_per or 0.0, "s"), character.rate)
        if parameter.kind == "whole":
            low, high = float(-(-low // 1)), float(high // 1)
        symbols.append(
            x.Symbol(
                parameter.name,
                parameter.kind,
                parameter.owner,
                low,
                high,
                parameter.choices,
                1.0 if parameter.chatters else wobble,
                parameter.unit,
                _exact(parameter, parameter.rest),
                _exact(parameter, parameter.start),
                spacing,
                Fraction(parameter.per_second or 0.0) / Fraction(character.rate) * (1 + x.HAIR),
                STANDING.get(parameter.name) if parameter.owner == "body" else None,
                parameter.countdown,
            )
        )
    for stick in character.controls.sticks:
        symbols.extend(x.Symbol(f"{stick.name}.{axis}", "number", "controls", -1.0, 1.0, wobble=0.02) for axis in "xy")
        symbols.append(x.Symbol(f"{stick.name}.push", "number", "controls", 0.0, 1.0, wobble=0.01))
        symbols.append(x.Symbol(f"{stick.name}.bearing", "bearing", "controls", 0.0, MOST, wobble=3.6, given=90.0))
    symbols.extend(x.Symbol(button.name, "button", "controls") for button in character.controls.buttons)
    return Scope(
        symbols,
        [layer.name for layer in character.layers],
        [[state.name for state in layer.states] for layer in character.layers],
        character.rate,
        sorted({span.name for clip in character.clips for span in clip.spans}),
        {at: parameter.formula for at, parameter in enumerate(character.parameters) if parameter.owner == "formula"},
        acts=any(one.kind == "active" for clip in character.clips for one in clip.phases),
    )


def _exact(parameter: Parameter, value: float | bool | str | None) -> float | bool | str | None:
    if parameter.kind == "bearing" and parameter.name in ("heading", "facing") and value is None:
        return 90.0
    if value is None or isinstance(value, bool | str):
        return value
    return reduced(float(value)) if parameter.kind == "bearing" else float(value)
