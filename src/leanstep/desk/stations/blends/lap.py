"""What stands at the samples of a blend space while their clips go on together, from the beginning to the end."""

from __future__ import annotations

from bisect import bisect_right

from leanstep.core.character.blends import BlendSpace
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import NOTHING, Drawable, at_share


class Lap:
    """The figures of a document's blend space by phase (of :data:`TICK`); they come again on every lap, so they are made once."""

    def __init__(self, document: Character, machine: Machine, blend: BlendSpace | None) -> None:
        self._of = document, machine, blend
        samples = blend.samples if blend is not None else ()
        clips = {clip.name: clip for clip in document.clips}
        made = [timing(clips[one.clip]) for one in samples if one.clip in clips]
        self._phases = sorted({0, *(-(-start * TICK // one.length) % TICK for one in made for start in one.starts)})
        self._figures = [
            tuple(
                at_share(machine, clips[one.clip], phase / TICK, one.mirrored) if one.clip in clips else NOTHING
                for one in samples
            )
            for phase in self._phases
        ]

    def is_of(self, *of: object) -> bool:
        """Whether these are the figures of a document, machine and blend space."""
        return all(one is other for one, other in zip(self._of, of, strict=True))

    def until_next(self, phase: int) -> int:
        """How far the phase goes on until another cel is seen at a sample."""
        at = bisect_right(self._phases, phase)
        return (self._phases[at] if at < len(self._phases) else TICK) - phase

    def at(self, phase: int) -> tuple[Drawable, ...]:
        """What stands at every sample."""
        return self._figures[bisect_right(self._phases, phase) - 1]
