"""When things happen in what has a beginning: instants in ticks, and how one value goes over into the next."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import Within

LATEST = 1_000_000
"""The last tick at which anything may lie."""
Easing = Literal["even", "in", "out", "both"]
Instant = Annotated[float, Within(0, LATEST, "ticks")]
