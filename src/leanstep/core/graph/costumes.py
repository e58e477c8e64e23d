"""Which costume is worn on a tick, and what is shown in place of a frame."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.document import Character
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import symbols_in
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.sheets.cutting import rectangles
from leanstep.core.sheets.images import Frame


@dataclass(frozen=True)
class Wardrobe:
    """The costumes of a character: by sheet what stands in for it and how many frames that has (None: it is not known), for each; by
    which symbol and value each is worn (-1: by none); and by layer and state the costume worn there (-1: none of its own)."""

    sheets: tuple[Mapping[str, tuple[StandIn, int | None]], ...]
    worn_by: tuple[tuple[int, str], ...]
    states: tuple[tuple[int, ...], ...]

    def worn(self, values: Sequence[Symbolic], layer: int, state: int) -> int:
        """The number of the costume a layer wears in a state; -1: none."""
        own = self.states[layer][state]
        if own >= 0:
            return own
        pairs = enumerate(self.worn_by)
        return next((at for at, (symbol, value) in pairs if symbol >= 0 and values[symbol] == value), -1)

    def shown(self, costume: int, sheet: str, frame: int) -> tuple[str, int]:
        """The sheet and the frame that are shown in place of a frame."""
        found = self.sheets[costume].get(sheet) if costume >= 0 else None
        return (sheet, frame) if found is None else stands_in(*found, frame) or (sheet, frame)


def stands_in(one: StandIn, count: int | None, frame: int) -> tuple[str, int] | None:
    """The sheet and frame that stand in for a frame, where the sheet that stands in has so many; None where its own is shown."""
    other = one.frames.get(str(frame), frame)
    return None if frame in one.original or (count is not None and other >= count) else (one.by, other)


def wardrobe(machine: Machine) -> Wardrobe:
    """The costumes of a machine, made once."""
    return machine.once(wardrobe, lambda: _made(machine))


def _made(machine: Machine) -> Wardrobe:
    character = machine.character
    counts = frame_counts(character)
    names = {one.name: at for at, one in enumerate(character.costumes)}
    return Wardrobe(
        tuple(
            {part.sheet: (part, counts.get(part.by)) for part in one.sheets if part.by in counts}
            for one in character.costumes
        ),
        tuple(_worn_by(machine, one) for one in character.costumes),
        tuple(tuple(names.get(state.costume, -1) for state in layer.states) for layer in character.layers),
    )


def _worn_by(machine: Machine, costume: Costume) -> tuple[int, str]:
    index = machine.index.get(costume.parameter, -1)
    known = index >= 0 and costume.value in machine.symbols[index].choices
    return (index if known else -1), costume.value


def only_worn(machine: Machine) -> frozenset[int]:
    """The symbols that say which costume is worn or which accessory is shown and decide nothing else: hands need not try them."""
    worn = {symbol for symbol, _ in wardrobe(machine).worn_by if symbol >= 0}
    worn |= {symbol for shown in machine.shown for symbol in symbols_in(shown)}
    if not worn:
        return frozenset()
    conditions = (*machine.roots, *(formula for _, formula in machine.formulas))
    read = {symbol for one in conditions for symbol in symbols_in(one)}
    pictures = [picture for row in machine.pictures for picture in row if picture is not None]
    read |= {symbol for picture in pictures for symbol in (*picture.axes, *(way for way, _ in picture.moved))}
    read |= {reel.pace.symbol for picture in pictures for reel in picture.reels if reel.pace is not None}
    return frozenset(worn - read)


def frame_counts(character: Character) -> dict[str, int | None]:
    """How many frames each sheet is cut into; None where its image's size is not known, or it cannot be cut so."""
    found: dict[str, int | None] = {}
    for sheet in character.sheets:
        found[sheet.name] = None
        if sheet.size:
            try:
                found[sheet.name] = len(rectangles(sheet.cut, *sheet.size))
            except LeanStepError:
                continue
    return found


ELSEWHERE = 2.0
"""Pixels from which a foot stands elsewhere."""


@dataclass(frozen=True)
class Differences:
    """What a costume does not have of a sheet as that has it: frames it ``lacks``, and those of another size (``larger``), by numbers
    of the original; and by numbers of the sheet that stands in those that stand ``elsewhere``, with the foot of the original."""

    lacks: tuple[int, ...]
    elsewhere: Mapping[int, tuple[float, float]]
    larger: tuple[int, ...]


def compared(part: StandIn, shown: Sequence[int], own: Sequence[Frame], other: Sequence[Frame]) -> Differences:
    """How the frames of a sheet that are ``shown`` are in a costume; ``own`` and ``other`` are those of both sheets."""
    lacks, elsewhere, larger = list[int](), dict[int, tuple[float, float]](), list[int]()
    for frame in shown:
        if frame >= len(own) or own[frame].empty or frame in part.original:
            continue
        found = stands_in(part, len(other), frame)
        if found is None or other[found[1]].empty:
            lacks.append(frame)
            continue
        one, two = own[frame], other[found[1]]
        if (one.rect.width, one.rect.height) != (two.rect.width, two.rect.height):
            larger.append(frame)
        elif max(abs(one.foot[0] - two.foot[0]), abs(one.foot[1] - two.foot[1])) > ELSEWHERE:
            elsewhere[found[1]] = one.foot
    return Differences(tuple(lacks), elsewhere, tuple(larger))
