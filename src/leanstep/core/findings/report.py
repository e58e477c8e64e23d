"""A whole check: every finding, every state's fate, and how far the search went."""

from __future__ import annotations

import gc
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

from leanstep.core.character.document import Character
from leanstep.core.findings.checks import (
    actions,
    alternates,
    blends,
    contact,
    costumes,
    cut_outs,
    document_faults,
    expectation_offers,
    flickering,
    marks_and_flags,
    paths_and_strides,
    pins,
    playing,
    reaching,
    responding,
    sheets,
    takes,
    transitions,
    unused,
)
from leanstep.core.findings.evidence import CATALOGUE, Check, Evidence, Memo, written
from leanstep.core.findings.results import SEVERITIES, Finding, Report, StateFate
from leanstep.core.findings.rules import RULES
from leanstep.core.naming.targets import about
from leanstep.core.proof.door import Proof, entering
from leanstep.core.work import DEFAULT, Exhausted, Reason, Work, look

CHECK_MODULES = (
    flickering,
    reaching,
    marks_and_flags,
    transitions,
    document_faults,
    sheets,
    takes,
    responding,
    paths_and_strides,
    expectation_offers,
    playing,
    blends,
    actions,
    contact,
    costumes,
    pins,
    cut_outs,
    alternates,
    unused,
)
"""The modules of checks, in the order in which findings of one severity are listed."""

_AT_ONCE: tuple[Check, ...] = (
    document_faults.conditions,
    document_faults.names,
    document_faults.fields,
    unused.unused,
    blends.samples,
    actions.actions,
    actions.unhittable,
    contact.hits_twice,
    contact.unguardable,
    contact.promises,
    contact.strings,
    contact.open_when_backwards,
    contact.unheard,
    costumes.written_costumes,
    cut_outs.keys,
    pins.written_pins,
    alternates.alternates,
)
"""Checks that are done first: they need no search."""
_LAST: tuple[Check, ...] = (playing.unreached, flickering.flash)

COLLECTED = (5_000, 20, 20)
"""How seldom Python looks for cycles that nothing needs any more, once there was a check: what one makes stays while it is under way,
and looking through it again and again took a seventh of its time."""


def check_character(
    character: Character,
    folder: Path | None = None,
    work: Work = DEFAULT,
    memo: Memo | None = None,
    certain: Callable[[list[Finding]], None] | None = None,
) -> Report:
    """Run every check, as far as the ``work`` goes, which is told the situations visited so far.  ``certain`` is told what is certain
    already, worst first, whenever there is more of it.

    ``folder`` is where the images lie (None: images are not looked at).  Proofs of earlier checks are taken from ``memo`` where the
    part of the character they are about is the same, and new ones are put into it.

    Raises
    ------
    Stopped : somebody stopped the work.
    """
    gc.set_threshold(*COLLECTED)
    started, so_far = time.perf_counter(), 0

    def told(situations: int) -> None:
        nonlocal so_far
        so_far = situations
        if work.told is not None:
            work.told(situations)

    with replace(work, told=told).under_way() as own:
        evidence = Evidence(character, folder, own, memo or Memo())
        by_module: dict[str, list[Finding]] = {module.__name__: [] for module in CHECK_MODULES}
        fates: tuple[StateFate, ...] = ()
        try:
            for name, one in _in_turn():
                known = len(by_module[name])
                for finding in one(evidence):
                    look()
                    sure = _as_sure_as_can_be(finding, evidence)
                    if not _stands_beside_unreachable(sure, evidence):
                        by_module[name].append(sure)
                if certain is not None and len(by_module[name]) > known:
                    certain(_worst_first(_without_muted(character, _all_of(by_module), False)[0]))
            fates = tuple(_fates(evidence))
            aborted = list(_left_out(evidence, _all_of(by_module), fates))
        except Exhausted as limit:
            aborted = [(limit.reason, limit.said)]
    found, muted = _without_muted(character, _all_of(by_module), not aborted)
    found = _worst_first(found)
    proofs = evidence.proofs_so_far
    for proof in proofs:
        proof.let_go()
    return Report(
        character.name,
        tuple(found),
        fates,
        sum(len(proof.reach.places) for proof in proofs) if proofs else so_far,
        time.perf_counter() - started,
        not aborted,
        aborted[0][1] if aborted else "",
        evidence.body_so_far.ticks if evidence.body_so_far else 0,
        tuple(muted),
        aborted[0][0] if aborted else None,
    )


def _in_turn() -> Iterator[tuple[str, Check]]:
    """Every check with the name of its module: those first that need no search, those last that look at what was played."""
    every = [(module.__name__, one) for module in CHECK_MODULES for one in CATALOGUE[module.__name__]]
    return iter(sorted(every, key=lambda named: (named[1] not in _AT_ONCE, named[1] in _LAST)))


def _all_of(by_module: dict[str, list[Finding]]) -> list[Finding]:
    return [finding for found in by_module.values() for finding in found]


def _worst_first(found: list[Finding]) -> list[Finding]:
    return sorted(found, key=lambda finding: SEVERITIES.index(finding.severity))


def _without_muted(
    character: Character, found: list[Finding], whole: bool
) -> tuple[list[Finding], list[tuple[Finding, str]]]:
    """The findings that are told, and the muted ones with their reasons; of a ``whole`` check also which muted ones are gone."""
    reasons = {(one.id, one.about): one.reason for one in character.muted}
    if not reasons:
        return found, []
    keys = [(one.id, about(character, one.subject)) for one in found]
    told = [one for one, key in zip(found, keys) if key not in reasons]
    for one in character.muted if whole else ():
        if (one.id, one.about) not in keys:
            sentence = f"The muted finding {one.id} about {one.about} does not exist any more."
            told.append(written("mute.stale", "note", {"muted": one.id, "about": one.about}, sentence, "Take it back."))
    return told, [(one, reasons[key]) for one, key in zip(found, keys) if key in reasons]


def _left_out(
    evidence: Evidence, found: list[Finding], fates: tuple[StateFate, ...]
) -> Iterator[tuple[Reason | None, str]]:
    """What the searches left out or could not follow, and in words; nothing where everything was decided."""
    undecided = any(one.verdict == "undecided" for one in found) or any(one.free == "undecided" for one in fates)
    for proof in evidence.proofs:
        if not proof.reach.complete:
            yield proof.reach.reason, proof.reach.aborted
    for proof in evidence.proofs:
        doubts = proof.doubts(undecided)
        if doubts:
            yield Reason.INEXACT, f"not followed exactly: {', '.join(doubts)}"
    for proof in evidence.proofs:
        if not proof.flickers.complete:
            yield Reason.BUDGET, "the search for flicker was cut short"
    for proof in evidence.decided:
        if not proof.wobbles.complete:
            yield Reason.BUDGET, "the search for wobbles was cut short"


def _fates(evidence: Evidence) -> list[StateFate]:
    fates = []
    for layer, table in enumerate(evidence.machine.layers):
        proof = evidence.proof_of(layer)
        for state, name in enumerate(table.states):
            place = proof.reach.entered.get((layer, state))
            body = ""
            if evidence.body is not None and place is not None:
                body = "reached" if (layer, state) in {*evidence.body.states, *evidence.taken[0]} else "not found"
            least = None if place is None else proof.reach.depths[place]
            if place is None or (layer, state) not in proof.entered:
                free, ticks = "unreachable" if proof.reach.complete else "undecided", None
            elif not proof.reach.world.exact:
                free, ticks = _played_fate(proof, layer, state, body)
            else:
                free, ticks = "reachable", least
            # what allows more than can happen needs no more ticks; what can happen beyond it may
            fewest = ticks is None or (ticks == least and not proof.reach.world.wild)
            fates.append(StateFate(table.name, name, free, ticks, body, fewest))
    return fates


def _played_fate(proof: Proof, layer: int, state: int, body: str) -> tuple[str, int | None]:
    """The fate of a state where the search allows more than can happen: only a take shows that it can be reached."""
    rows = proof.played.states.get((layer, state))
    if rows is not None:
        return "reachable", len(rows)
    if body == "reached" or proof.witness(entering, layer, state).replays:
        return "reachable", proof.reach.depths[proof.reach.entered[layer, state]] if body != "reached" else None
    return "undecided", None


def _as_sure_as_can_be(finding: Finding, evidence: Evidence) -> Finding:
    """A finding as it stands; of the free world where something cannot be decided exactly, only what that cannot spoil is
    claimed."""
    if finding.world != "free":
        return finding
    layers = [at for at, layer in enumerate(evidence.machine.layers) if layer.name == finding.subject.layer]
    proofs = [evidence.proof_of(layer) for layer in layers] if layers else evidence.proofs
    worlds = [proof.reach.world for proof in proofs if not proof.reach.world.exact]
    if not worlds or finding.verdict == "shown" or RULES[finding.id].stands == "always":
        return finding
    stands = RULES[finding.id].stands
    # a take shows one pair of transitions
    followed = all(world.takes_tell for world in worlds) and len(finding.details.get("others", ())) < 2
    shown = stands == "shown" or (stands == "told" and followed)
    if finding.verdict == "proved" and finding.witness and shown:
        return replace(finding, verdict="shown")
    return replace(
        finding,
        severity="note",
        verdict="undecided",
        witness=None,
        sentence=f"Undecided, because something here is not followed exactly: {finding.sentence}".replace(
            " The witness does not replay: that is a bug in Lean Step, please report it.", ""
        ),
    )


def _stands_beside_unreachable(finding: Finding, evidence: Evidence) -> bool:
    """Whether a finding is only about a state that cannot be reached, or about one of its own transitions."""
    if finding.world != "free" or finding.id == "state.unreachable":
        return False
    subject = finding.subject
    if subject.transition is not None:
        layer = next(layer for layer in evidence.character.layers if layer.name == subject.layer)
        return (layer.name, layer.transitions[subject.transition].source) in evidence.lost
    return (subject.layer, subject.state) in evidence.lost
