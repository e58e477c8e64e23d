"""Faults of blend spaces."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from leanstep.core.bearings import in_words
from leanstep.core.blends import coverage
from leanstep.core.blends.coverage import place_words
from leanstep.core.blends.picking import nearest
from leanstep.core.blends.space import Space, space_of
from leanstep.core.character.blends import BlendSpace
from leanstep.core.character.clips import Clip
from leanstep.core.clips.timing import TICK, timing, units
from leanstep.core.conditions import expression as x
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.proof.door import Witness, entering, flipping_picks
from leanstep.core.wording import listed

LENGTHS = 1 / 5
"""By what share of the longer one the lengths of clips that follow each other may differ."""
MOST_TRIED = 8
"""Flips of a blend space of which it is tried to show one."""
SHARES = 1 / 10
"""By what share of a pass a mark of both may come earlier or later."""


@check
def samples(evidence: Evidence) -> Iterator[Finding]:
    """Samples on one place, samples that nothing picks, values far from all of them, and mirrored ones of art that must not be."""
    for blend, space, symbols in _spaces(evidence):
        ranges = _ranges(space, symbols)
        twice = dict(coverage.coincident(space))
        if twice:
            pairs = [
                f"{blend.samples[before].clip} and {blend.samples[number].clip} lie on one place, "
                f"{place_words(space, space.places[number])}"
                for number, before in twice.items()
            ]
            yield written(
                "blend.coincident",
                "note",
                {"blend": blend.name, "samples": [*twice]},
                f"In blend space {blend.name}, {_one_of(pairs)}: the first of {'them' if len(pairs) == 1 else 'each pair'} is picked.",
                "Move one of them, or take it out.",
            )
        lost = [number for number in coverage.never_picked(space, ranges) if number not in twice]
        if lost:
            yield _unpicked(blend, space, lost)
        far = coverage.gap(space, ranges)
        if far is not None:
            clip = blend.samples[int(nearest(space, [np.array(value) for value in far[0]])[0])].clip
            yield written(
                "blend.gap",
                "note",
                {"blend": blend.name, "at": list(far[0])},
                f"In blend space {blend.name}, {place_words(space, far[0])} is {far[1]:.2g} rulings from the nearest sample: "
                f"{clip} is shown there.",
                "Put a sample there, or make the ruling wider if that is meant.",
            )
        yield from _standing(evidence, blend, space)
        yield from _mirrored(evidence, blend)
        yield from _out_of_phase(evidence, blend, space, ranges)


def _spaces(evidence: Evidence) -> Iterator[tuple[BlendSpace, Space, list[x.Symbol]]]:
    """The blend spaces that read numbers and directions, with what their axes read; what else they read is a finding of its own."""
    machine, bearings = evidence.machine, evidence.character.bearings
    for blend in evidence.character.blends:
        indices = [machine.index.get(axis.parameter, -1) for axis in blend.axes]
        symbols = [
            machine.symbols[index] for index in indices if index >= 0 and machine.symbols[index].kind in x.NUMERIC
        ]
        if len(symbols) == len(blend.axes):
            yield blend, space_of(blend, bearings), symbols


def _ranges(space: Space, symbols: list[x.Symbol]) -> list[coverage.Range]:
    """The values each axis can have."""
    return [(axis.inside(symbol.low), axis.inside(symbol.high)) for axis, symbol in zip(space.axes, symbols)]


def _one_of(places: list[str]) -> str:
    """The first of several faults of one cause in words, and how many more there are."""
    return places[0] + (f" ({len(places) - 1} more like it)" if len(places) > 1 else "")


def _unpicked(blend: BlendSpace, space: Space, numbers: list[int]) -> Finding:
    names = listed([axis.parameter for axis in space.axes])
    which = listed(
        [f"{blend.samples[number].clip} at {place_words(space, space.places[number])}" for number in numbers]
    )
    are, them = ("is", "it") if len(numbers) == 1 else ("are", "them")
    return written(
        "sample.unpicked",
        "note",
        {"blend": blend.name, "samples": numbers},
        f"In blend space {blend.name}, {which} {are} never picked: no value that {names} can have is nearest to {them}.",
        f"Move {them} to where its values are, widen the axis or the parameter, or take {them} out.",
    )


def _flips(
    evidence: Evidence, name: str, space: Space, ranges: list[coverage.Range], widths: list[float]
) -> list[coverage.Flip]:
    """The flips of a blend space, looked for again only when it or what its axes read has changed."""
    found: list[coverage.Flip] = evidence.memo.once(
        ("flips", name), (space, ranges, widths), lambda: coverage.flips(space, ranges, widths)
    )
    return found


@check
def flipping(evidence: Evidence) -> Iterator[Finding]:
    """Picks that flip while a value wobbles."""
    machine = evidence.machine
    assumed = {symbol for one in machine.assumptions for symbol in x.symbols_in(one)}
    if machine.window < 2 or not any(blend.samples for blend in evidence.character.blends):
        return
    shown = {
        state.blend
        for layer in evidence.character.layers
        for state in layer.states
        if state.blend and (layer.name, state.name) not in evidence.lost
    }
    for blend, space, symbols in _spaces(evidence):
        if blend.name not in shown:
            continue
        loose = [one.free and machine.index[one.name] not in assumed for one in symbols]
        widths = [
            min(one.wobble, float(one.step)) if one.step else one.wobble if open_one else 0.0
            for one, open_one in zip(symbols, loose)
        ]
        found = [
            one for one in _flips(evidence, blend.name, space, _ranges(space, symbols), widths) if _differ(blend, one)
        ]
        if not found:
            continue
        indices = [machine.index[one.name] for one in symbols]
        shows = ((one, _flip_shown(evidence, blend, indices, one)) for one in found[:MOST_TRIED])
        first, witness = next((one for one in shows if one[1] is not None), (found[0], None))
        found = [first, *(one for one in found if one is not first)]
        pairs = [f"{blend.samples[one.first].clip} and {blend.samples[one.second].clip}" for one in found]
        more = len(set(pairs)) - 1
        cure = max(width / axis.step for width, axis in zip(widths, space.axes))
        where = "In" if witness is not None else "No take was found that shows it: in"
        yield Finding(
            "flicker.pick",
            "note",
            {"blend": blend.name, "sticky": round(cure + 0.005, 2) if cure >= 0.005 else 0.01},
            f"{where} blend space {blend.name}, {pairs[0]} give way to each other while {symbols[first.axis].name} wobbles between "
            f"{place_words(space, first.one)} and {place_words(space, first.other)}"
            f"{f', and so do {more} other pairs' if more > 1 else ', and so does another pair' if more else ''}.",
            "free",
            "proved" if witness is not None else "undecided",
            witness=witness.take if witness is not None else None,
            why=f"Borders that are sticky by more than {cure:.2g} rulings keep the pick.",
        )


def _differ(blend: BlendSpace, flip: coverage.Flip) -> bool:
    """Whether another picture is seen when the pick changes."""
    one, other = blend.samples[flip.first], blend.samples[flip.second]
    return (one.clip, one.phase, one.mirrored) != (other.clip, other.phase, other.mirrored)


def _flip_shown(evidence: Evidence, blend: BlendSpace, symbols: list[int], flip: coverage.Flip) -> Witness | None:
    """A take on which the pick changes and changes back in a state that shows the blend space; None where none was found."""
    for at, layer in enumerate(evidence.character.layers):
        proof = evidence.proof_of(at)
        for state, one in enumerate(layer.states):
            if one.blend == blend.name and (at, state) in proof.reach.entered:
                entry = proof.witness(entering, at, state)
                if entry.take is not None and entry.replays:
                    values = [dict(zip(symbols, each)) for each in (flip.one, flip.other)]
                    found = flipping_picks(proof.reach, at, state, entry.take, values, (flip.first, flip.second))
                    if found is not None:
                        return found
    return None


def _standing(evidence: Evidence, blend: BlendSpace, space: Space) -> Iterator[Finding]:
    """Directions the figure can walk in, and not stand in."""
    if space.dial is None:
        return
    around = space.axes[space.dial[0]].parameter
    also = {
        place[0]
        for other, one, _ in _spaces(evidence)
        if other is not blend and len(one.axes) == 1 and one.axes[0].parameter == around
        for place in one.places
    }
    ways = coverage.not_stood_in(space, frozenset(also))
    if ways:
        yield written(
            "blend.standing",
            "note",
            {"blend": blend.name},
            f"In blend space {blend.name} one can walk {listed([in_words(way) for way in ways])}, and not stand that way: a figure "
            "that stops turns.",
            "Put a standing sample beside each of them.",
        )


def _out_of_phase(
    evidence: Evidence, blend: BlendSpace, space: Space, ranges: list[coverage.Range]
) -> Iterator[Finding]:
    """Neighbours, of which one can follow the other, whose cycles do not go together."""
    clips = {clip.name: clip for clip in evidence.character.clips}
    causes: dict[str, list[tuple[str, int, int, float]]] = {}
    for one, other in _neighbours(space, ranges):
        first, second = (clips.get(blend.samples[number].clip) for number in (one, other))
        if first is None or second is None or "repeat" not in (first.loop, second.loop):
            continue
        apart = _apart(first, second, blend.samples[other].phase - blend.samples[one].phase)
        if apart is not None:
            words = f"{first.name} and {second.name} are not in phase: {apart.words}"
            causes.setdefault(apart.cause, []).append((words, one, other, apart.shift))
    for cause, found in causes.items():
        shifts = [[one, other, shift] for _, one, other, shift in found]
        yield written(
            "blend.phase",
            "note",
            {"blend": blend.name, **({"mark": cause, "shifts": shifts} if cause else {})},
            f"In blend space {blend.name}, {_one_of([words for words, *_ in found])}.",
            "When the pick changes in mid-step, the foot jumps."
            if cause
            else "When the pick changes, the rhythm of the steps changes at once.",
        )


def _neighbours(space: Space, ranges: list[coverage.Range]) -> list[tuple[int, int]]:
    """Samples with a border between them: on one axis those beside each other, on two as seen on a grid."""
    if len(space.axes) == 1 and not space.axes[0].round:
        order = sorted(range(len(space.places)), key=lambda number: space.places[number])
        return list(pairwise(order))
    lines = [coverage.axis_grid(space, at, ranges[at]) for at in range(len(space.axes))]
    index, _, _ = nearest(space, np.meshgrid(*lines, indexing="ij"))
    found: dict[tuple[int, int], None] = {}
    for at, axis in enumerate(space.axes):
        after = np.roll(index, -1, at) if axis.round else np.take(index, [*range(1, index.shape[at]), -1], at)
        pairs = np.unique(np.stack([index.ravel(), after.ravel()], 1), axis=0)
        found |= {(min(a, b), max(a, b)): None for a, b in pairs.tolist() if a != b}
    return sorted(found)


class _Apart(NamedTuple):
    """How two clips that follow each other differ: in their lengths (an empty cause; no ``shift`` cures that), or in the mark
    that is the cause, by how much more the second one's phase would have to differ from the first one's."""

    words: str
    cause: str
    shift: float


def _apart(first: Clip, second: Clip, phase: float) -> _Apart | None:
    """How two clips differ that follow each other; None where they go together."""
    lengths = timing(first).length, timing(second).length
    if max(lengths) - min(lengths) > max(lengths) * LENGTHS:
        ticks = " and ".join(f"{length / TICK:g}" for length in lengths)
        return _Apart(f"they last {ticks} ticks", "", 0.0)
    for mark in first.marks:
        share = units(mark.at) / lengths[0] + phase
        ways = [(units(one.at) / lengths[1] - share + 0.5) % 1 - 0.5 for one in second.marks if one.name == mark.name]
        if ways and min(map(abs, ways)) > SHARES:
            words = f"{mark.name} comes {min(map(abs, ways)):.0%} of a pass apart"
            return _Apart(words, mark.name, min(ways, key=abs))
    return None


def _mirrored(evidence: Evidence, blend: BlendSpace) -> Iterator[Finding]:
    character = evidence.character
    clips = {clip.name: clip for clip in character.clips}
    fixed = {sheet.name for sheet in character.sheets if not sheet.mirrors}
    turned: dict[str, list[int]] = {}
    for number, sample in enumerate(blend.samples):
        clip = clips.get(sample.clip) if sample.mirrored else None
        for name in sorted({clip.sheet_of(cel) for cel in clip.cels} & fixed)[:1] if clip is not None else []:
            turned.setdefault(name, []).append(number)
    for name, numbers in turned.items():
        names = list(dict.fromkeys(blend.samples[number].clip for number in numbers))
        yield written(
            "blend.mirrored",
            "note",
            {"blend": blend.name, "sheet": name, "samples": numbers},
            f"In blend space {blend.name}, {listed(names)} {'is' if len(names) == 1 else 'are'} mirrored, but sheet {name} has "
            "drawings of its own for both ways.",
            "What is carried on one side would change hands. Use clips that are drawn that way.",
        )
