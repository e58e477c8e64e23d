"""Findings and the evidence checks look at."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from pathlib import Path
from typing import Any, TypeVar

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Transition
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.loading import loaded, sources
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.results import Details, Finding
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.door import BodyWorld, Earlier, Found, Proof, prove, written_out
from leanstep.core.rehearsal.second_figures import compile_in
from leanstep.core.rehearsal.takes import begun, rehearsing
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.sheets.analysis import SheetAnalysis, analysis_of
from leanstep.core.sheets.images import fault_of, within_bounds
from leanstep.core.work import DEFAULT, Work, look

_T = TypeVar("_T")

Fault = tuple[str, LeanStepError]
"""A finding's id and the error it is about."""

MOST_PLAYED = 200_000
"""Ticks of takes that are played in a check: nearly an hour at 60 ticks a second."""


def written(kind: str, severity: str, subject: Details, sentence: str, why: str = "") -> Finding:
    """A finding that stands in the file."""
    return Finding(kind, severity, subject, sentence, None, "written", why=why)


@dataclass
class Memo:
    """What earlier checks have worked out: proofs, and what is wrong with images."""

    earlier: Earlier = field(default_factory=Earlier)
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


def played_takes(machine: Machine, broken: dict[str, str]) -> dict[str, Trace]:
    """The traces of a character's takes by name; why others are not played goes to ``broken``, but for what they set that is unknown.

    Raises
    ------
    Stopped : somebody stopped the work under way.
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
                for _ in rehearsing(trace, take):
                    look()
                found[take.name] = trace
            except LeanStepError as error:
                broken[take.name] = str(error)
    return found


@dataclass
class Evidence:
    """What checks look at; everything is worked out when first asked for."""

    character: Character
    folder: Path | None = None
    work: Work = DEFAULT
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
        return list(prove(self.machine, self.work, self.memo.earlier))

    @cached_property
    def body(self) -> Found | None:
        """What a search of the body world has shown; None when none was asked for, or the assumptions allow no proof."""
        if not self.work.play or any(proof.reach.stuck >= 0 for proof in self.proofs):
            return None
        asked = [(proof.layers, proof.reach) for proof in self.proofs]
        states = {key for layers, reach in asked for key in reach.entered if key[0] in layers}
        ways = {key for layers, reach in asked for key in reach.fired if key[0] in layers}
        work = self.work.after(sum(len(proof.reach.places) for proof in self.proofs))
        return BodyWorld(written_out(self.machine)).search(states, ways, work.play, work)

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
        return played_takes(self.machine, self.broken_takes)

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
