"""What everything that is zoomed has in common: steps of the wheel, and from one zoom to another."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtGui import QWheelEvent


def wheel_steps(event: QWheelEvent) -> int:
    """The steps that the wheel was turned, at least one where it was turned at all; up is positive."""
    steps = event.angleDelta().y() / 120
    return max(1, round(steps)) if steps > 0 else min(-1, round(steps)) if steps else 0


def zoom_after(zooms: Sequence[float], zoom: float, steps: int) -> float:
    """The zoom so many steps larger (smaller where negative) than one that need not be among them; at an end it stays."""
    larger = [one for one in zooms if one > zoom * 1.01]
    smaller = [one for one in zooms if one < zoom * 0.99]
    if steps > 0 and larger:
        return larger[min(steps, len(larger)) - 1]
    return smaller[max(steps, -len(smaller))] if steps < 0 and smaller else zoom
