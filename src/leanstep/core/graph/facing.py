"""Which way drawings look, and which of them are turned to where the figure does."""

from __future__ import annotations

from collections.abc import Mapping

from leanstep.core.graph.clip_tables import Picture
from leanstep.core.graph.machine import Machine
from leanstep.core.sheets.facing import View, views_of


def views(machine: Machine) -> Mapping[str, View]:
    """Which way the drawings of each sheet look, by its name."""
    return machine.once(views, lambda: views_of(machine.character))


def is_turned(machine: Machine, picture: Picture) -> bool:
    """Whether what a state shows is turned to where the figure looks.  Seen from above only what is drawn from the side is, not what
    is picked by a direction."""
    return machine.character.body.model == "side" or not picture.by_direction
