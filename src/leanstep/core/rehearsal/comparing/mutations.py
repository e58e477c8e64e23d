"""What a game might do otherwise, each as a change of the machine."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, replace

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import CompiledTransition, Machine, remembered
from leanstep.core.rehearsal.comparing.words import atom_words, sign_words
from leanstep.core.wording import counted

OTHER_EDGE = {"<": "<=", "<=": "<", ">": ">=", ">=": ">"}


Row = tuple[CompiledTransition, ...]
"""The ways out of a state, in the order in which they are tried."""


@dataclass(frozen=True)
class Change:
    """A change of a machine: its ``kind``, what it says of the game, and the machine as the game seems to run it."""

    kind: str
    sentence: str
    machine: Machine


def with_ways(
    machine: Machine,
    layer: int,
    change: Callable[[int, Row], Row],
) -> Machine:
    """A machine with other transitions; ``change`` is given a state and what is tried in it."""
    table = machine.layers[layer]
    ways = tuple(change(state, row) for state, row in enumerate(table.ways))
    layers = tuple(replace(table, ways=ways) if at == layer else one for at, one in enumerate(machine.layers))
    return remembered(replace(machine, layers=layers))


def with_condition(machine: Machine, layer: int, index: int, condition: x.Expression) -> Machine:
    """A machine in which a transition has another condition."""
    uses = tuple(part for part in x.parts(condition) if isinstance(part, x.Buffered))

    def changed(state: int, row: Row) -> Row:
        return tuple(replace(way, condition=condition, uses=uses) if way.index == index else way for way in row)

    return with_ways(machine, layer, changed)


def parts_changed(
    expression: x.Expression, change: Callable[[x.Expression], x.Expression | None]
) -> Iterator[x.Expression]:
    """The expression with one of its parts changed, for each part that ``change`` has something else for."""
    own = change(expression)
    if own is not None:
        yield own
    for one in fields(expression):  # type: ignore[arg-type]
        value = getattr(expression, one.name)
        if isinstance(value, x.Expression):
            for made in parts_changed(value, change):
                yield replace(expression, **{one.name: made})  # type: ignore[type-var]
        elif isinstance(value, tuple):
            for at, part in enumerate(value):
                if isinstance(part, x.Expression):
                    for made in parts_changed(part, change):
                        yield replace(expression, **{one.name: (*value[:at], made, *value[at + 1 :])})  # type: ignore[type-var]


def of_way(machine: Machine, layer: int, way: CompiledTransition, name: str) -> Iterator[Change]:
    """What a game might do otherwise with one transition, called ``name``."""
    if way.condition is None:
        return
    condition = way.condition

    def made(kind: str, sentence: str, other: x.Expression, within: Machine = machine) -> Change:
        return Change(kind, f"{name}: {sentence}", with_condition(within, layer, way.index, other))

    for atom in dict.fromkeys(_atoms(condition)):
        yield from (made(*one) for one in _of_atom(machine, condition, atom))
        if isinstance(atom, x.Remembered):
            memory = machine.memories[atom.index]
            for other in _memories(memory):
                grown = replace(machine, memories=(*machine.memories, other))
                new = swapped(condition, atom, x.Remembered(len(machine.memories)))
                yield made("timer", _longer(other.ticks - memory.ticks, f"the {memory.kind} of it"), new, grown)
            yield made("memory", f"it does without its “{memory.kind}”", swapped(condition, atom, memory.operand))
    yield Change(
        "lacking",
        f"{name}: the game does not have it",
        with_ways(machine, layer, lambda state, row: tuple(one for one in row if one.index != way.index)),
    )
    if way.urgent:
        yield Change("urgent", f"{name}: it is not urgent there", _at_its_end(machine, layer, way))
    if way.blocks:
        yield Change(
            "fade",
            f"{name}: its crossfade lets others through there",
            with_ways(
                machine,
                layer,
                lambda state, row: tuple(replace(one, blocks=False) if one.index == way.index else one for one in row),
            ),
        )


def _at_its_end(machine: Machine, layer: int, way: CompiledTransition) -> Machine:
    def changed(state: int, row: Row) -> Row:
        if way.index not in [one.index for one in row]:
            return row
        rest = [one for one in row if one.index != way.index]
        return (*rest, *[one for one in row if one.index == way.index])

    return with_ways(machine, layer, changed)


def swapped_order(machine: Machine, layer: int, one: int, other: int) -> Machine:
    """A machine that tries two transitions of a layer the other way round."""

    def changed(state: int, row: Row) -> Row:
        indices = [way.index for way in row]
        if one not in indices or other not in indices:
            return row
        made = list(row)
        first, second = indices.index(one), indices.index(other)
        made[first], made[second] = made[second], made[first]
        return tuple(made)

    return with_ways(machine, layer, changed)


def everywhere(machine: Machine, change: Callable[[x.Expression], x.Expression | None]) -> Machine:
    """A machine in which every part of every condition and memory that ``change`` has something else for is changed."""

    def whole(expression: x.Expression) -> x.Expression:
        own = change(expression)
        if own is not None:
            return own
        values: dict[str, object] = {}
        for one in fields(expression):  # type: ignore[arg-type]
            value = getattr(expression, one.name)
            if isinstance(value, x.Expression):
                values[one.name] = whole(value)
            elif isinstance(value, tuple) and value and isinstance(value[0], x.Expression):
                values[one.name] = tuple(map(whole, value))
        return replace(expression, **values) if values else expression  # type: ignore[type-var]

    layers = []
    for table in machine.layers:
        ways = tuple(
            tuple(way if way.condition is None else replace(way, condition=whole(way.condition)) for way in row)
            for row in table.ways
        )
        layers.append(replace(table, ways=ways))
    memories = tuple(replace(memory, operand=whole(memory.operand)) for memory in machine.memories)
    return remembered(replace(machine, layers=tuple(layers), memories=memories))


def _atoms(expression: x.Expression) -> Iterator[x.Expression]:
    """The parts of a condition that are no joining of others."""
    if isinstance(expression, x.Every | x.Some):
        for operand in expression.operands:
            yield from _atoms(operand)
    elif isinstance(expression, x.Inverse):
        yield from _atoms(expression.operand)
    else:
        yield expression


def swapped(expression: x.Expression, old: x.Expression, new: x.Expression) -> x.Expression:
    """The expression with a part it has replaced by another one."""
    return next(parts_changed(expression, lambda part: new if part == old else None))


def _of_atom(machine: Machine, condition: x.Expression, atom: x.Expression) -> Iterator[tuple[str, str, x.Expression]]:
    """Other versions of one part of a condition: kind, words and the whole condition."""
    words = atom_words(machine, atom)
    match atom:
        case x.Stayed(_, sign, ticks) | x.SinceLeft(_, _, sign, ticks):
            for by in (1, -1, 2, -2):
                if ticks + by >= 0:
                    yield "timer", _longer(by, words), swapped(condition, atom, replace(atom, ticks=ticks + by))
            yield from _edge(condition, atom, sign, words)
        case x.Buffered(symbol, ticks):
            for by in (1, -1, 2, -2):
                if ticks + by >= 1:
                    yield "timer", _longer(by, words), swapped(condition, atom, replace(atom, ticks=ticks + by))
            yield (
                "unbuffered",
                f"{words}: the press counts on its own tick only",
                swapped(condition, atom, x.Pressed(symbol)),
            )
        case x.Compared(sign, _, _):
            yield from _edge(condition, atom, sign, words)
        case x.Pressed(symbol):
            yield "held", f"{words}: there it is enough that it is held", swapped(condition, atom, x.IsOn(symbol))
        case x.Released(symbol):
            yield (
                "held",
                f"{words}: there it is enough that it is not held",
                swapped(condition, atom, x.Inverse(x.IsOn(symbol))),
            )
        case x.IsOn(symbol) if machine.symbols[symbol].kind == "button":
            yield "held", f"{words}: there only the press counts", swapped(condition, atom, x.Pressed(symbol))
    if atom != condition:
        yield "missing", f"{words} is left out there", _without(condition, atom)


def _edge(
    condition: x.Expression, atom: x.Expression, sign: str, words: str
) -> Iterator[tuple[str, str, x.Expression]]:
    if sign in OTHER_EDGE:
        other = OTHER_EDGE[sign]
        said = f"{words}: the bound itself {'counts' if '=' in other else 'does not count'} there ({sign_words(other)})"
        yield "edge", said, swapped(condition, atom, replace(atom, operator=other))  # type: ignore[type-var]


def _without(condition: x.Expression, atom: x.Expression) -> x.Expression:
    """The condition without a part: what it is joined with decides alone."""
    match condition:
        case x.Every(operands):
            rest = tuple(_without(one, atom) for one in operands if one != atom)
            return rest[0] if len(rest) == 1 else x.Every(rest)
        case x.Some(operands):
            rest = tuple(_without(one, atom) for one in operands if one != atom)
            return rest[0] if len(rest) == 1 else x.Some(rest)
        case x.Inverse(operand) if operand == atom:
            return x.Constant(True)
        case x.Inverse(operand):
            return x.Inverse(_without(operand, atom))
    return condition


def _memories(memory: x.Memory) -> Iterator[x.Memory]:
    for by in (1, -1, 2, -2):
        if memory.ticks + by >= 1:
            yield replace(memory, ticks=memory.ticks + by)


def _longer(by: int, words: str) -> str:
    return f"{words}: {counted(abs(by), 'tick')} {'more' if by > 0 else 'fewer'} there"
