"""Marks that can be heard: a short click for each name, each with its own pitch."""

from __future__ import annotations

import io
import wave
from collections.abc import Sequence

import numpy as np

from leanstep.core.character.document import Character

RATE = 22_050
"""Samples a second."""
SECONDS = 0.07
LOWEST = 330.0
"""Hertz of the first name."""
STEPS = (0, 2, 4, 7, 9)
"""Semitones of a scale without half steps, in which any two notes sound well together."""


def pitches(character: Character) -> dict[str, float]:
    """Every mark name of a character with its pitch in hertz, no two alike while there are fewer than 25.

    The frequency of ``n`` semitones above another is 2 ** (n / 12) times as high (equal temperament).
    """
    names = sorted({mark.name for clip in character.clips for mark in clip.marks})
    notes = [12 * (at // len(STEPS) % 5) + STEPS[at % len(STEPS)] for at in range(len(names))]
    return {name: LOWEST * 2 ** (note / 12) for name, note in zip(names, notes)}


def click(hertz: Sequence[float]) -> bytes:
    """A click that sounds at these pitches at once and dies away, as a WAV file of 16-bit mono sound."""
    time = np.arange(int(RATE * SECONDS)) / RATE
    sound = sum(np.sin(2 * np.pi * each * time) for each in hertz) / max(1, len(hertz))
    samples = (sound * np.exp(-time * 45) * 0.6 * 32_767).astype("<i2")
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(samples.tobytes())
    return out.getvalue()
