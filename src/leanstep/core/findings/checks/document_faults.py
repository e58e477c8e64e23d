"""Faults in what was written: names, kinds, images, fields."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.body.records import TOLD
from leanstep.core.character.files import unknown_fields
from leanstep.core.conditions.checking import nearest
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.evaluation import Moment, Symbolic
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Details, Finding
from leanstep.core.graph.machine import Where
from leanstep.core.naming.told import tellable
from leanstep.core.naming.wording import described
from leanstep.core.proof.door import by_take, reaching, witness_of
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick
from leanstep.core.wording import counted, some


@check
def conditions(evidence: Evidence) -> Iterator[Finding]:
    """Conditions and transitions that name something unknown, compare the wrong kinds, or cannot be read."""
    for fault in evidence.machine.faults:
        place = fault.place
        where = _where(evidence, place)
        hint = f" Did you mean {fault.fault.nearest}?" if fault.fault.nearest else ""
        if fault.fault.id == "name.unknown" and fault.fault.word in tellable(evidence.character):
            hint = " The body can tell it: it has to be a parameter for that."
        counts = "It counts as never true until it is put right." if fault.fault.id != "value.impossible" else ""
        column = (
            f", column {fault.fault.at + 1}" if _is_condition(place) and fault.fault.id != "value.impossible" else ""
        )
        yield written(
            fault.fault.id,
            fault.fault.severity,
            dict(place),
            f"{where}{column}: {fault.fault.reason}.{hint}",
            f"It says “{fault.text}”. {counts}".strip(),
        )


def _where(evidence: Evidence, place: Where) -> str:
    """The place of a fault in words."""
    within = {
        "entry": "effects on entry",
        "leaving": "effects on leaving",
        "expectation": "expectation",
        "playback": "playback",
    }
    part = f", {within[str(place['in'])]}" if "in" in place else ""
    if "transition" in place:
        layer = next(layer for layer in evidence.character.layers if layer.name == place["layer"])
        return f"Transition {described(layer.transitions[int(place['transition'])])}"
    if "contact" in place:
        return f"Contact, {place['contact']}"
    if "accessory" in place:
        return f"Accessory {place['accessory']}, shown"
    if "assumption" in place:
        return f"Assumption {int(place['assumption']) + 1}"
    if "parameter" in place:
        return f"Formula of {place['parameter']}"
    if "clip" in place:
        event = next((f", {what} {place[what]}" for what in ("mark", "span") if what in place), "")
        return f"Clip {place['clip']}{event}{part}"
    return f"State {place['state']}{part}"


def _is_condition(place: Where) -> bool:
    return (
        place.get("contact") == "guards"
        or "accessory" in place
        or "transition" in place
        or "assumption" in place
        or "parameter" in place
        or place.get("in") == "expectation"
    )


@check
def impossible_assumptions(evidence: Evidence) -> Iterator[Finding]:
    """Assumptions that can never hold together, or that leave a situation without a next tick."""
    stuck = next((proof.reach for proof in evidence.proofs if proof.reach.stuck >= 0), None)
    if stuck is None:
        return
    subject = {"assumptions": list(range(len(evidence.character.assumptions)))}
    if stuck.world.completed(stuck.world.full) is None:
        yield written(
            "assumption.impossible",
            "error",
            subject,
            "The assumptions can never all hold at once, so there is no tick they allow and nothing can be proved.",
            "Take one of them back.",
        )
    else:
        ticks = stuck.depths[stuck.stuck]
        yield Finding(
            "assumption.impossible",
            "error",
            subject,
            f"After {counted(ticks, 'tick')} the assumptions allow no next tick, so nothing can be proved.",
            "free",
            "proved",
            why="An assumption asks for something that another one, or a limit on how often a pulse comes, forbids then.",
        ).judged(by_take(stuck, witness_of(stuck, reaching(stuck, stuck.stuck))))


@check
def names(evidence: Evidence) -> Iterator[Finding]:
    """Clips, states, blend spaces and body parameters that name something unknown."""
    character = evidence.character
    sheets = [sheet.name for sheet in character.sheets]
    clips = [clip.name for clip in character.clips]
    parameters = [parameter.name for parameter in character.parameters]

    def unknown(subject: Details, where: str, what: str, word: str, known: list[str]) -> Finding:
        close = nearest(word, known)
        hint = f" Did you mean {close}?" if close else ""
        return written("name.unknown", "error", subject, f"{where}: no {what} is called {word or '(nothing)'}.{hint}")

    bare = [clip.name for clip in character.clips if clip.undrawn]
    if bare:
        yield written(
            "clip.undrawn",
            "note",
            {"clip": bare[0]},
            f"{'Clip' if len(bare) == 1 else 'Clips'} {some(bare, 6)} {'has' if len(bare) == 1 else 'have'} times and no drawings "
            f"yet.",
            "A plain shape stands for them. Choose frames for them in Clips, or a row of a sheet.",
        )
    for clip in character.clips:
        if clip.cels and clip.sheet not in sheets and not clip.undrawn:
            yield unknown({"clip": clip.name}, f"Clip {clip.name}", "sheet", clip.sheet, sheets)
    for layer in character.layers:
        for state in layer.states:
            if state.held is not None and state.held.sheet not in sheets:
                where = f"The frame held in {state.name}"
                yield unknown({"layer": layer.name, "state": state.name}, where, "sheet", state.held.sheet, sheets)
            for what, name, known in (
                ("costume", state.costume, [one.name for one in character.costumes]),
                ("way of moving", state.alternate, [one.name for one in character.alternates]),
            ):
                if name and name not in known:
                    yield unknown({"layer": layer.name, "state": state.name}, f"State {state.name}", what, name, known)
    for blend in character.blends:
        subject = {"blend": blend.name}
        axes = [*parameters, *(name for stick in character.controls.sticks for name in stick.values)]
        for axis in blend.axes:
            if axis.parameter not in axes:
                yield unknown(subject, f"Blend space {blend.name}", "parameter", axis.parameter, axes)
        for sample in blend.samples:
            if sample.clip not in clips:
                yield unknown(subject, f"Blend space {blend.name}", "clip", sample.clip, clips)
    if character.course.shapes:
        zones = [shape.name for shape in character.course.shapes if shape.kind == "zone"]
        for parameter in character.parameters:
            if parameter.owner == "body" and parameter.name not in [*TOLD, *zones]:
                subject = {"parameter": parameter.name}
                where = f"Parameter {parameter.name} belongs to the body"
                yield unknown(subject, where, "value the body sets", parameter.name, [*TOLD, *zones])


@check
def takes(evidence: Evidence) -> Iterator[Finding]:
    """Takes that set something unknown or of the wrong kind, or break an assumption."""
    index = evidence.machine.index
    traces = evidence.traces
    for take in evidence.character.takes:
        strange = sorted({name for change in take.changes for name in change.set if name not in index})
        for name in strange:
            close = nearest(name, list(index))
            hint = f" Did you mean {close}?" if close else ""
            yield written(
                "name.unknown", "error", {"take": take.name}, f"Take {take.name}: nothing is called {name}.{hint}"
            )
        if take.name in evidence.broken_takes:
            yield written("kind.mismatch", "error", {"take": take.name}, evidence.broken_takes[take.name])
        if take.name in traces:
            yield from _broken_assumptions(evidence, take.name)


def _broken_assumptions(evidence: Evidence, take: str) -> Iterator[Finding]:
    machine, trace = evidence.machine, evidence.traces[take]
    broken = first_broken(machine, tick_by_tick(trace.values(), machine.limited))
    if broken is not None:
        tick, index, _ = broken
        yield _broken(evidence, take, {"parameter": machine.symbols[index].name}, tick, _limit(evidence, index))
    first_seen: dict[tuple[Symbolic, ...], int] = {}
    for tick, values in enumerate(trace.values()):
        first_seen.setdefault(values, tick)
    for number, assumption in enumerate(machine.assumptions):
        holds = truth(assumption)
        tick = next((tick for values, tick in first_seen.items() if not holds(Moment(list(values)))), -1)
        if tick >= 0:
            what = f"“{evidence.character.assumptions[number]}”"
            yield _broken(evidence, take, {"assumption": number}, tick, what)


def _limit(evidence: Evidence, index: int) -> str:
    """The declared limit of a parameter, in words."""
    one = evidence.character.parameters[index]
    if one.once_per is not None:
        return f"“{one.name} comes at most once per {one.once_per:g} s”"
    unit = f" {one.unit}" if one.unit else ""
    return f"“{one.name} changes by at most {one.per_second:g}{unit} per s”"


def _broken(evidence: Evidence, name: str, subject: Details, tick: int, what: str) -> Finding:
    take = next(one for one in evidence.character.takes if one.name == name)
    return Finding(
        "assumption.broken",
        "error",
        {"take": name, **subject},
        f"Take {name} breaks an assumption on tick {tick}: {what}.",
        take.world,
        "shown",
        take,
        "Proofs rest on it: what the take does may be called impossible. Mend the assumption or the take.",
    )


@check
def fields(evidence: Evidence) -> Iterator[Finding]:
    """Fields this program does not know; they are kept."""
    for place in unknown_fields(evidence.character):
        yield written(
            "field.unknown",
            "note",
            {"field": place},
            f"The field {place} is unknown to this version; it is kept as it is.",
            "A newer program may have written it, or it is misspelt.",
        )
