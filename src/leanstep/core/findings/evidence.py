"""Findings and the evidence checks look at."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise
from pathlib import Path
from typing import Any, TypeVar

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Transition
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.loading import loaded, sources
from leanstep.core.defaults import BUDGET
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.proofs import Proof
from leanstep.core.findings.results import Details, Finding
from leanstep.core.graph.machine import Machine
from leanstep.core.proof import flicker
from leanstep.core.proof.body_world import BodyWorld, Found
from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.inheriting import inherit
from leanstep.core.proof.limits import Limits, Reason, Stopped
from leanstep.core.proof.search import Reach, explore
from leanstep.core.proof.slices import Slice, slices
from leanstep.core.proof.straying import without_strays
from leanstep.core.proof.written_out import written_out
from leanstep.core.rehearsal.second_figures import compile_in
from leanstep.core.rehearsal.takes import begun, rehearsing
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.sheets.analysis import SheetAnalysis, analysis_of
from leanstep.core.sheets.images import fault_of, within_bounds

_T = TypeVar("_T")

HEAVY = 2_000_000
"""Combinations of states and pasts up to which a search follows memories."""

MOST_AGES = 100_000
"""Up to how many combinations of states, pasts and ages all are followed whatever it takes, if something is undecided otherwise."""

MOST_FOLLOWED = 3_000
"""Situations up to which a search follows all memories and ages before it leaves them open."""

Fault = tuple[str, LeanStepError]
"""A finding's id and the error it is about."""

MOST_PLAYED = 200_000
"""Ticks of takes that are played in a check: nearly an hour at 60 ticks a second."""

MOST_WAYS = 400_000
"""Ways from place to place up to which limits on how fast numbers change are followed."""


def written(kind: str, severity: str, subject: Details, sentence: str, why: str = "") -> Finding:
    """A finding that stands in the file."""
    return Finding(kind, severity, subject, sentence, None, "written", why=why)


@dataclass
class Memo:
    """What earlier checks have worked out: proofs, the newest last, and what is wrong with images.  A slice whose part of the
    character is the same needs no other proof."""

    most: int = 12
    proofs: list[tuple[tuple[object, ...], Proof]] = field(default_factory=list)
    images: dict[str, tuple[tuple[object, ...], Fault | SheetAnalysis]] = field(default_factory=dict)
    looked_at: dict[tuple[object, ...], tuple[tuple[object, ...], Any]] = field(default_factory=dict)

    def sheet(
        self, sheet: Sheet, folder: Path, groups: tuple[tuple[int, ...], ...], sheets: Sequence[Sheet]
    ) -> Fault | SheetAnalysis:
        """What is to be seen of a sheet of which ``groups`` of frames are shown one after the other, or what keeps it from
        being shown; its image is read again only when these, the sheet, those of all ``sheets`` it is drawn from, or a file have
        changed."""
        of = sources(sheet, sheets)
        try:
            facts = [(folder / image).stat() for one in of for image in one.all_images]
            key: tuple[object, ...] = (*of, folder, groups, *((one.st_mtime_ns, one.st_size) for one in facts))
        except (OSError, ValueError):
            key = (*of, folder)
        if sheet.name not in self.images or self.images[sheet.name][0] != key:
            try:
                found: Fault | SheetAnalysis = analysis_of(loaded(sheet, folder, sheets), groups)
            except LeanStepError as error:
                found = fault_of(sheet, folder, error), error
            self.images[sheet.name] = key, found
        return self.images[sheet.name][1]

    def once(self, place: tuple[object, ...], of: tuple[object, ...], look: Callable[[], _T]) -> _T:
        """What is to be seen at a place, as long as what it is ``of`` is the same."""

        def same(one: object, other: object) -> bool:
            return one is other or (not isinstance(one, SheetAnalysis) and one == other)

        known = self.looked_at.get(place)
        if known is None or not all(map(same, known[0], of)):
            known = self.looked_at[place] = of, look()
        found: _T = known[1]
        return found

    def find(self, part: Slice, budget: int) -> Proof | None:
        """The proof of an equal slice."""
        wanted = _content(part, budget)
        for at, (content, proof) in enumerate(self.proofs):
            if content == wanted:
                self.proofs.append(self.proofs.pop(at))
                return proof
        return None

    def keep(self, part: Slice, budget: int, proof: Proof) -> None:
        """Remember a proof that left nothing out."""
        if proof.reach.complete and proof.flickers.complete:
            self.proofs.append((_content(part, budget), proof))
            del self.proofs[: -self.most]


def _content(part: Slice, budget: int) -> tuple[object, ...]:
    """All of a machine that a proof of a slice depends on."""
    machine = part.machine
    layers = sorted(part.layers)
    return (
        *(budget, layers, [machine.layers[at] for at in layers], [machine.pictures[at] for at in layers]),
        *(machine.symbols, machine.memories, machine.assumptions, machine.formulas, machine.buffers, machine.clocks),
        *(machine.locks, machine.window, len(machine.layers), [table.start for table in machine.layers]),
    )


def played_takes(machine: Machine, progress: Callable[[int], bool] | None, broken: dict[str, str]) -> dict[str, Trace]:
    """The traces of a character's takes by name; why others are not played goes to ``broken``, but for what they set that is unknown.

    Raises
    ------
    Stopped : ``progress``, told of ticks, says False.
    """
    found, ticks = dict[str, Trace](), 0
    for take in machine.character.takes:
        ticks += take.ticks
        if ticks > MOST_PLAYED:
            reason = f"the takes have more than {MOST_PLAYED} ticks together, so it is not played"
            broken[take.name] = str(LeanStepError(f"take {take.name!r}", reason, "Cut it, or keep it in a file."))
            continue
        if all(name in machine.index for change in take.changes for name in change.set):
            try:
                trace = begun(machine, take)
                for tick in rehearsing(trace, take):
                    if progress is not None and not progress(tick):
                        raise Stopped
                found[take.name] = trace
            except LeanStepError as error:
                broken[take.name] = str(error)
    return found


@dataclass
class Evidence:
    """What checks look at; everything is worked out when first asked for."""

    character: Character
    folder: Path | None = None
    budget: int = BUDGET
    deadline: float | None = None
    progress: Callable[[int], bool] | None = None
    body_ticks: int = 0
    memo: Memo = field(default_factory=Memo)
    broken_takes: dict[str, str] = field(default_factory=dict)

    @cached_property
    def machine(self) -> Machine:
        """The compiled graph."""
        return compile_in(self.folder, self.character)

    @cached_property
    def facts(self) -> dict[str, Fault | SheetAnalysis]:
        """What is to be seen of every sheet, by its name; nothing where it is not known where the images are."""
        found: dict[str, Fault | SheetAnalysis] = {}
        sheets = self.character.sheets if self.folder is not None else ()
        for sheet, error in within_bounds(sheets, self.folder or Path()):
            if error is not None:
                found[sheet.name] = "sheet.unreadable", error
                continue
            groups = {tuple(sorted(clip.frames_of(sheet.name))) for clip in self.character.clips}
            found[sheet.name] = self.memo.sheet(
                sheet, self.folder or Path(), tuple(sorted(groups - {()})), self.character.sheets
            )
        return found

    @cached_property
    def proofs(self) -> list[Proof]:
        """What the free world says, slice by slice."""
        found: list[Proof] = []
        for whole, layers in slices(self.machine):
            part = without_strays(whole)
            limits = self._limits(sum(len(proof.reach.places) for proof in found))
            proof = self.memo.find(part, self.budget)
            if proof is None or proof.layers != layers:
                proof = self._proved(part, layers, limits)
                self.memo.keep(part, self.budget, proof)
            proof.work_within(limits)
            found.append(proof)
        return found

    def _proved(self, part: Slice, layers: tuple[int, ...], limits: Limits) -> Proof:
        """What is found out about a slice: with all memories and ages followed where few situations can be reached; else with these
        left open; and where that leaves something undecided, with all followed again as far as the limits allow."""
        light = part.weight <= HEAVY and part.weight * part.clocks <= MOST_AGES
        timed = bool(part.memories) or part.clocks > 1
        first = replace(limits, budget=min(limits.budget, MOST_FOLLOWED)) if timed else limits
        reach = self._searched(part, layers, first, None, True)
        if not reach.complete and reach.reason is Reason.BUDGET and timed:
            reach = self._searched(part, layers, limits, frozenset(), part.clocks <= 1)
            found = self._flickering(reach, layers, limits)
            if not light or not reach.complete or found.decided:
                return found
            whole = self._searched(part, layers, limits, None, True)
            if not whole.complete:
                return found
            reach = whole
        return self._flickering(reach, layers, limits)

    def _flickering(self, reach: Reach, layers: tuple[int, ...], limits: Limits) -> Proof:
        found = flicker.flickers(reach, layers, limits) if reach.stuck < 0 else flicker.Flickers([])
        return Proof(layers, reach, found, limits)

    def _searched(
        self, part: Slice, layers: tuple[int, ...], limits: Limits, tracked: frozenset[int] | None, clocked: bool
    ) -> Reach:
        """The search of a slice, with limits on how fast numbers change if that does not make it too large."""
        reaches = (other.reach for _, other in self.memo.proofs if other.layers == layers)
        earlier = [reach for reach in reaches if len(reach.places) <= limits.budget]
        world = FreeWorld(part, tracked, False, clocked)
        reach = inherit(world, earlier) or explore(world, limits)
        if not world.limit_ignored or not reach.complete:
            return reach
        slower = FreeWorld(part, tracked, True, clocked)
        if not slower.paced or slower.leeway * sum(map(len, reach.successors)) > MOST_WAYS:
            return reach
        return inherit(slower, earlier) or explore(slower, limits)

    def _limits(self, done: int) -> Limits:
        progress = self.progress
        told = None if progress is None else (lambda situations: progress(done + situations))
        return Limits(self.budget, self.deadline, told)

    @cached_property
    def body(self) -> Found | None:
        """What a search of the body world has shown; None when none was asked for, or the assumptions allow no proof."""
        if not self.body_ticks or any(proof.reach.stuck >= 0 for proof in self.proofs):
            return None
        asked = [(proof.layers, proof.reach) for proof in self.proofs]
        states = {key for layers, reach in asked for key in reach.entered if key[0] in layers}
        ways = {key for layers, reach in asked for key in reach.fired if key[0] in layers}
        limits = self._limits(sum(len(proof.reach.places) for proof in self.proofs))
        return BodyWorld(written_out(self.machine)).search(states, ways, self.body_ticks, limits)

    @property
    def proofs_so_far(self) -> list[Proof]:
        """The proofs, if there was time to make them."""
        found: list[Proof] = vars(self).get("proofs", [])
        return found

    @property
    def body_so_far(self) -> Found | None:
        """What the search of the body world has shown, if there was time for it."""
        found: Found | None = vars(self).get("body")
        return found

    @property
    def decided(self) -> list[Proof]:
        """The proofs that left nothing out."""
        return [proof for proof in self.proofs if proof.reach.complete]

    def proof_of(self, layer: int) -> Proof:
        """The proof that is asked about a layer."""
        return next(proof for proof in self.proofs if layer in proof.layers)

    @cached_property
    def traces(self) -> dict[str, Trace]:
        """The traces of the takes that can be run."""
        return played_takes(self.machine, self.progress, self.broken_takes)

    @cached_property
    def taken(self) -> tuple[set[tuple[int, int]], set[tuple[int, int]]]:
        """The (layer, state) that takes of the body world enter from the start, and the (layer, transition) that they take."""
        states, ways = set[tuple[int, int]](), set[tuple[int, int]]()
        for take in self.character.takes:
            if take.world == "body" and take.begins is None and take.name in self.traces:
                trace = self.traces[take.name]
                for layer in range(len(self.machine.layers)):
                    states.add((layer, trace.first.states[layer]))
                    for tick, state in trace.entries(layer):
                        states.add((layer, state))
                        ways.add((layer, trace.steps[tick].fired[layer]))
        return states, ways

    @cached_property
    def passed(self) -> set[tuple[int, int]]:
        """The (layer, state) that a body was seen to leave within the flicker window while all inputs were kept: in the search of
        the body world, or in a take."""
        found = set(self.body.passed) if self.body is not None else set()
        for take in self.character.takes:
            if take.world != "body" or take.name not in self.traces:
                continue
            trace, changed = self.traces[take.name], [one.at for one in take.changes]
            for layer, table in enumerate(self.machine.layers):
                urgent = {way.index for row in table.ways for way in row if way.urgent}
                for (since, state), (left, then) in pairwise(trace.entries(layer)):
                    quick = left - since < self.machine.window and then != state
                    kept = not any(since < tick <= left for tick in changed)
                    if quick and kept and trace.steps[left].fired[layer] not in urgent:
                        found.add((layer, state))
        return found

    @cached_property
    def lost(self) -> set[tuple[str, str]]:
        """Layer and name of every state that cannot be reached; their other findings are left out."""
        return {
            (self.layer_name(layer), name)
            for proof in self.decided
            for layer in proof.layers
            for state, name in enumerate(self.machine.layers[layer].states)
            if (layer, state) not in proof.entered
        }

    def layer_name(self, layer: int) -> str:
        """The name of a layer."""
        return self.machine.layers[layer].name

    def state_name(self, layer: int, state: int) -> str:
        """The name of a state."""
        return self.machine.layers[layer].states[state]

    def transition(self, layer: int, index: int) -> Transition:
        """A transition of the document."""
        return self.character.layers[layer].transitions[index]


Check = Callable[[Evidence], Iterator[Finding]]
CATALOGUE: dict[str, list[Check]] = {}
"""Every check, by the name of its module."""


def check(function: Check) -> Check:
    """Put a check into the catalogue."""
    CATALOGUE.setdefault(function.__module__, []).append(function)
    return function
