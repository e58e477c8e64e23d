"""Strikes that hit twice by accident, links that the numbers refuse, strings without an end, and contact that nothing hears."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator

from leanstep.core.character.takes import Take
from leanstep.core.clips.phases import laid_phases
from leanstep.core.clips.timing import TICK
from leanstep.core.conditions import expression as x
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.naming.wording import described
from leanstep.core.rehearsal.guarding import open_backwards
from leanstep.core.rehearsal.second_figures import PairSteps, has_changed
from leanstep.core.rehearsal.strings import endless, gap, links, promised
from leanstep.core.wording import counted, listed


@check
def hits_twice(evidence: Evidence) -> Iterator[Finding]:
    """Active phases that hit again right after the one before."""
    window = evidence.machine.window * TICK
    for clip in evidence.character.clips:
        active = [one for one in laid_phases(clip) if one.kind == "active"]
        for before, after in itertools.pairwise(active):
            if after.again and after.start - before.end < window:
                apart, begins = (after.start - before.end) / TICK, after.start / TICK
                yield written(
                    "action.twice",
                    "warning",
                    {"clip": clip.name, "phase": after.written},
                    f"{clip.name} hits twice within {counted(round(apart), 'tick')}: the phase from tick {begins:g} hits again.",
                    "Who is struck by the end of one phase is struck by the next at once. If that is meant, put them further apart.",
                )


@check
def unguardable(evidence: Evidence) -> Iterator[Finding]:
    """Strikes that say what they do on guard, where nothing guards."""
    rules = evidence.character.contact
    if rules is None or rules.guards:
        return
    for clip in evidence.character.clips:
        meant = any(box.kind == "guard" for box in clip.boxes) or (clip.strike is not None and clip.strike.guard_stun)
        if meant:
            yield written(
                "action.unguarded",
                "note",
                {"clip": clip.name},
                f"{clip.name} can be guarded, and no state of {evidence.character.name} guards.",
                "Say under Body while what it guards, if its likes are to be struck by it.",
            )


@check
def others(evidence: Evidence) -> Iterator[Finding]:
    """Second figures of takes that are not what they were."""
    for take in evidence.character.takes:
        if take.name in evidence.traces and take.second is not None and has_changed(evidence.machine, take.second):
            name = take.second.file or evidence.character.name
            yield written(
                "take.other",
                "note",
                {"take": take.name},
                f"{name}, the second figure of take {take.name}, is not what it was when the take was made.",
                "Look whether the take still shows what it should, and keep the second figure in it once more.",
            )


@check
def promises(evidence: Evidence) -> Iterator[Finding]:
    """Links that a note promises and the numbers refuse."""
    for one, other, state in promised(evidence.machine):
        if not links(one, other):
            found, stun = gap(one, other, one.timed.last), one.strike.stun
            late = (
                "nothing follows it"
                if found is None
                else f"{other.clip.name} hits {counted(found, 'tick')} later at the soonest"
            )
            yield written(
                "action.link",
                "warning",
                {"clip": one.clip.name, "state": state, "other": other.clip.name, "needs": (found or 0) + 1},
                f"{state} does not link into {other.clip.name}: {one.clip.name} stuns for {stun}, and {late}.",
                "Its note says that it links.",
            )


@check
def strings(evidence: Evidence) -> Iterator[Finding]:
    """Strikes that go round on the straw man, who never comes free."""
    for one in endless(evidence.machine):
        names = list(dict.fromkeys(one.clips))
        yield Finding(
            "action.endless",
            "warning",
            {"clip": names[0], "clips": names},
            f"{listed(names)} {'goes' if len(names) == 1 else 'go'} round for ever: who is struck never comes free.",
            "body",
            "shown",
            one.take,
            why="Played three rounds on the straw man. Stun for less, recover later, or push further away.",
        )


@check
def open_when_backwards(evidence: Evidence) -> Iterator[Finding]:
    """Walking backwards where nothing that is pressed guards."""
    found = open_backwards(evidence.machine)
    if found is None:
        return
    layer = evidence.machine.layers[found.layer]
    state = layer.states[found.state]
    yield Finding(
        "contact.backwards",
        "warning",
        {"layer": layer.name, "state": state},
        f"Who walks backwards, in {state}, cannot guard: nothing that is pressed there leads to what guards.",
        "body",
        "shown",
        found.take,
        why="Every button was tried there, alone and with another, with the walk kept and let go.",
    )


@check
def unheard(evidence: Evidence) -> Iterator[Finding]:
    """Transitions whose crossfade may not be interrupted, in a layer that hears of contact by a pulse."""
    machine, played = evidence.machine, _played_unheard(evidence)
    pulses = machine.touched.pulses
    for at, layer in enumerate(machine.layers):
        heard = _heard(machine, at) & pulses
        if not heard:
            continue
        names = listed([machine.symbols[symbol].name for symbol in sorted(heard)])
        for way in sorted(
            {way.index: way for row in layer.ways for way in row if way.blocks}.values(), key=lambda one: one.index
        ):
            transition = evidence.character.layers[at].transitions[way.index]
            about = {"layer": layer.name, "transition": way.index}
            sentence = f"For {counted(way.fade, 'tick')} after {described(transition)} nothing in layer {layer.name} hears {names}"
            why = "Its crossfade may not be interrupted, and the pulse of a contact lasts one tick."
            if (at, way.index) not in played:
                yield written("contact.unheard", "warning", about, f"{sentence}.", why)
                continue
            take, tick, pulse = played[at, way.index]
            sentence += f"; in take {take.name} that is {machine.symbols[pulse].name}, on tick {tick}."
            yield Finding("contact.unheard", "warning", about, sentence, "body", "shown", take, why)


def _played_unheard(evidence: Evidence) -> dict[tuple[int, int], tuple[Take, int, int]]:
    """By layer and transition whose crossfade keeps the layer from a contact in a take: the first such take, the tick, and the pulse
    that nothing hears."""
    machine, found = evidence.machine, dict[tuple[int, int], tuple[Take, int, int]]()
    touched = machine.touched
    for take in evidence.character.takes:
        trace = evidence.traces.get(take.name)
        if trace is None or not isinstance(trace.steps, PairSteps):
            continue
        steps, layers = trace.steps, range(len(machine.layers))
        for contact in steps.pair.contacts:
            tick = contact.tick + 1
            own, guarded = contact.who == 0, contact.touch.guarded
            pulse = (
                (touched.stopped if guarded else touched.lands)
                if own
                else (touched.guarded if guarded else touched.hit)
            )
            if pulse < 0 or tick >= len(steps):
                continue
            for layer in layers:
                fade, here = steps[tick].situation.fades[layer], steps[tick].situation.states[layer]
                if fade is None or not fade.blocks or steps[tick].fired[layer] >= 0:
                    continue
                begun = next((step.fired[layer] for step in reversed(steps[:tick]) if step.fired[layer] >= 0), -1)
                if pulse in _asked(machine.layers[layer].ways[here]):
                    found.setdefault((layer, begun), (take, tick, pulse))
    return found


def _heard(machine: Machine, layer: int) -> set[int]:
    """The pulses that transitions of a layer ask for on the tick itself."""
    return _asked(way for row in machine.layers[layer].ways for way in row)


def _asked(ways: Iterable[CompiledTransition]) -> set[int]:
    """The pulses that transitions ask for on the tick itself."""
    conditions = [way.condition for way in ways if way.condition is not None]
    return {part.symbol for one in conditions for part in x.parts(one) if isinstance(part, x.IsOn)}
