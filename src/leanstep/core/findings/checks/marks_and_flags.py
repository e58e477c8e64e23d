"""Marks, what effects set, and the order of transitions."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.graph import Transition
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.tree import narrower
from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Details, Finding
from leanstep.core.graph.effects import Act
from leanstep.core.naming.wording import described
from leanstep.core.proof.door import (
    MOST_THINNED,
    Certainty,
    Contest,
    Verdict,
    by_take,
    is_given_back,
    missed_marks,
    on_tick,
    shown_marks,
)
from leanstep.core.wording import listed


@check
def stuck(evidence: Evidence) -> Iterator[Finding]:
    """A flag or lock that is set back on some ways and stays for good on others."""
    for proof in evidence.decided:
        for verdict in proof.stuck:
            one = verdict.about
            place = proof.reach.places[one.place]
            where = " and ".join(evidence.state_name(layer, place.states[layer]) for layer in proof.reach.world.layers)
            what = (
                f"Movement stays locked by {one.name}"
                if one.act.do == "unlock"
                else f"{one.name} stays {_said(one.act)}"
            )
            yield Finding(
                "flag.stuck",
                "error",
                {"lock" if one.act.do == "unlock" else "parameter": one.name},
                f"{what} for good after this take, in {where}: nothing reachable from there sets it back.",
                "free",
                "proved",
                why="Something sets it back elsewhere, but this way leaves that out. Set it back on leaving the state that "
                "sets it.",
            ).judged(verdict)


def _said(act: Act) -> str:
    return "off" if act.value is True else "on"


@check
def never_fires(evidence: Evidence) -> Iterator[Finding]:
    """A mark that cannot fire, in one of the states that show it or in any."""
    shown: dict[tuple[str, str], dict[tuple[int, int], bool]] = {}
    for proof in evidence.decided:
        for key, here in shown_marks(proof.reach, proof.marks, proof.layers).items():
            shown.setdefault(key, {}).update(here)
    for (clip, mark), places in shown.items() if len(evidence.decided) == len(evidence.proofs) else ():
        silent = [place for place, fires in places.items() if not fires]
        back = [place for place in silent if is_given_back(evidence.machine, *place, mark)]
        if len(silent) == len(places):
            subject = {"clip": clip, "mark": mark}
            why = "It lies beyond the clip's end, or every state that shows the clip is left before it comes."
            sentence = f"Mark {mark} of clip {clip} can never fire, whatever the input"
            yield _never(subject, bool(back), sentence, why)
            continue
        for layer, state in silent:
            name = evidence.state_name(layer, state)
            yield _never(
                {"layer": evidence.layer_name(layer), "state": name, "mark": mark},
                (layer, state) in back,
                f"Mark {mark} can never fire in {name}, whatever the input",
                f"{name} is always left before it comes. Elsewhere it fires.",
            )


def _never(subject: Details, gives_back: bool, sentence: str, why: str) -> Finding:
    more = "; what it gives back stays lost" if gives_back else ""
    if gives_back:
        why += " Do its work on leaving the state as well, or let the transition wait for the mark."
    severity = "error" if gives_back else "note"
    return Finding("mark.never", severity, subject, f"{sentence}{more}.", "free", "proved", why=why)


@check
def missable(evidence: Evidence) -> Iterator[Finding]:
    """A mark that a transition can cut off."""
    for proof in evidence.decided:
        for one in missed_marks(proof.reach, proof.marks, proof.layers):
            state = evidence.state_name(one.layer, one.state)
            outcome = proof.reach.world.outcomes(proof.reach.views[one.cut.place])[one.cut.position]
            way = evidence.machine.layers[one.layer].ways[one.state][outcome.fired[one.layer]]
            cut = described(evidence.transition(one.layer, way.index))
            more = "; what it gives back is lost then" if one.gives_back else ""
            yield Finding(
                "mark.missable",
                "error" if one.gives_back else "note",
                {"layer": evidence.layer_name(one.layer), "state": state, "mark": one.name},
                f"Mark {one.name} of {state} can be cut off by {cut}{more}.",
                "free",
                "proved",
                why="Do its work on leaving the state as well, or let the transition wait for the mark."
                if one.gives_back
                else "If the mark must always fire, let the transition wait for it.",
            ).judged(by_take(one, proof.witness(on_tick, one.cut.place, outcome.masks, path=one.cut.path)))


@check
def order(evidence: Evidence) -> Iterator[Finding]:
    """Transitions true together, between which only their order decides: one finding for each that wins.  Of a special case that
    is tried before the general one nothing is told, that is what order is for, nor of what somebody has put where it is tried."""
    for proof in evidence.decided:
        groups: dict[tuple[int, int, bool], list[Verdict[Contest]]] = {}
        for verdict in proof.contests:
            one = verdict.about
            first, other = evidence.transition(one.layer, one.first), evidence.transition(one.layer, one.other)
            if first.ordered or other.ordered or _special(first, other):
                continue
            sure = verdict.certainty is not Certainty.UNDECIDED
            groups.setdefault((one.layer, one.first, sure), []).append(verdict)
        for (layer, number, _), found in groups.items():
            contests = [verdict.about for verdict in found]
            first = evidence.transition(layer, number)
            others = [evidence.transition(layer, one.other) for one in contests]
            written = listed([f"“{other.when}”" for other in others])
            finding = Finding(
                "order.decides",
                "note",
                {"layer": evidence.layer_name(layer), "transition": number, "others": [one.other for one in contests]},
                f"{described(first)} can be true together with {listed([described(other) for other in others])}; "
                f"{first.to} wins because it is tried first.",
                "free",
                "proved",
                why=f"“{first.when}” overlaps with {written}. If the order is meant, nothing needs to change.",
            )
            yield finding.judged(proof.together(found, len(groups) <= MOST_THINNED))


def _special(first: Transition, other: Transition) -> bool:
    """Whether the condition of one transition is, as written, a special case of that of another."""
    try:
        return narrower(parse(first.when), parse(other.when))
    except ConditionError:
        return False
