"""What no take can cover, for it is proved impossible."""

from __future__ import annotations

from leanstep.core.findings.results import Report
from leanstep.core.rehearsal.coverage import Coverage

NEVER = ("transition.never", "transition.shadowed")
"""Findings about transitions that are never taken."""


def leave_out_impossible(covered: Coverage, report: Report) -> None:
    """Leave states that are proved unreachable, their ways and transitions that are proved never taken out of what is to be
    covered."""
    layers = [layer.name for layer in covered.machine.layers]
    for fate in report.states:
        if fate.free == "unreachable":
            layer = layers.index(fate.layer)
            state = covered.machine.layers[layer].states.index(fate.name)
            covered.impossible_states.add((layer, state))
            transitions = covered.machine.character.layers[layer].transitions
            covered.impossible_ways |= {
                (layer, at) for at, one in enumerate(transitions) if fate.name in (one.source, one.to)
            }
    for finding in report.findings:
        if finding.id in NEVER and finding.verdict == "proved":
            covered.impossible_ways.add((layers.index(finding.details["layer"]), finding.details["transition"]))
