"""Where events fire: in which clips and states, and how often in the takes."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character


@dataclass(frozen=True)
class Firing:
    """One name of marks or spans (``kind``).  ``places`` are the clips with the ticks it begins at; ``states`` show one of these
    clips; ``takes`` say how often a mark fires in each."""

    kind: str
    name: str
    places: tuple[tuple[str, float], ...]
    states: tuple[str, ...]
    takes: tuple[tuple[str, int], ...]

    @property
    def sentence(self) -> str:
        """All of it in words."""
        where = ", ".join(f"{clip} at {tick:g}" for clip, tick in self.places)
        shown = f"; in {', '.join(self.states)}" if self.states else "; in no state"
        fired = "; ".join(f"{count} times in {take}" for take, count in self.takes)
        return f"{self.kind} {self.name}: {where}{shown}{'; ' + fired if fired else ''}"


def firings(character: Character, takes: Mapping[str, Counter[str]]) -> list[Firing]:
    """Every name of marks and spans; ``takes`` count the marks that fire in each take."""
    showing: dict[str, list[str]] = {}
    for layer in character.layers:
        for state in layer.states:
            for clip in _clips_of(character, state.clip, state.blend):
                showing.setdefault(clip, []).append(state.name)
    found: dict[tuple[str, str], list[tuple[str, float]]] = {}
    for one in character.clips:
        for kind, name, tick in _events(one):
            found.setdefault((kind, name), []).append((one.name, tick))
    return [
        Firing(
            kind,
            name,
            tuple(places),
            tuple(dict.fromkeys(state for clip, _ in places for state in showing.get(clip, ()))),
            tuple((take, count[name]) for take, count in takes.items() if count[name]) if kind == "mark" else (),
        )
        for (kind, name), places in sorted(found.items())
    ]


def _clips_of(character: Character, clip: str, blend: str) -> list[str]:
    samples = next((one.samples for one in character.blends if one.name == blend), ())
    return [clip] if clip else [sample.clip for sample in samples]


def _events(clip: Clip) -> list[tuple[str, str, float]]:
    marks = [("mark", mark.name, mark.at) for mark in clip.marks]
    return marks + [("span", span.name, span.start) for span in clip.spans]
