"""Where pin points come to lie when a figure is drawn, and where marks fire that name one.

A place and an angle go through the steps of the picture in its order: mirror; quarter turns; width and height; tilt.  The angle that
comes out is the bearing of its direction, carried through the same steps.
"""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.pin_edits import Spot, spots_on
from leanstep.core.character.pins import Accessory
from leanstep.core.clips.events import cel_of_mark, spot_of_mark
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed
from leanstep.core.rehearsal.drawable import Piece, carried, deformed_piece, pinned, seen, shown_now, turned
from leanstep.core.rehearsal.event_words import in_time
from leanstep.core.rehearsal.situation import Situation, Step


def pins_of(machine: Machine, situation: Situation, deformed: Deformed = PLAIN) -> Iterator[tuple[int, str, Spot]]:
    """The pin points of the layers that are seen, from the back to the front: layer, name and where it lies."""
    for one in seen(machine, situation, deformed):
        if not one.leaving:
            for name, spot in spots_on(one.clip, one.cel):
                yield one.layer, name, carried(spot, one.piece)


def accessories_of(
    machine: Machine, situation: Situation, deformed: Deformed = PLAIN
) -> Iterator[tuple[int, Accessory, bool, Piece]]:
    """The accessories of the layers that are seen, from the back to the front: layer, accessory, whether it is behind, and how it is
    drawn."""
    shown = shown_now(machine, situation)
    for one in seen(machine, situation, deformed):
        if not one.leaving:
            for accessory, behind, piece in sorted(pinned(machine, one, shown), key=lambda each: not each[1]):
                yield one.layer, accessory, behind, piece


def mark_places(machine: Machine, step: Step, deformed: Deformed = PLAIN) -> Iterator[tuple[str, Spot] | None]:
    """Of each mark that fired, in order: the pin point it names, and where that lies on the mark's cel; None where there is
    none."""
    for (layer, _), (state, pick, cue) in zip(step.marks, step.fired_in):
        picture = machine.pictures[layer][state]
        assert picture is not None
        clip = picture.reels[pick].clip
        mark = in_time(clip)[cue]
        spot = spot_of_mark(clip, mark)
        if spot is None:
            yield None
            continue
        piece = turned(machine, step.situation, picture, pick, clip.cels[cel_of_mark(clip, mark)])
        yield mark.pin, carried(spot, deformed_piece(piece, deformed))
