"""Which sample of a blend space is shown, and how samples would mix."""

from __future__ import annotations

import itertools

from leanstep.core.character.model import BlendSpace


def pick(blend: BlendSpace, value: float) -> int | None:
    """Index of the sample nearest to ``value`` on a one-axis blend space; ties go to the lower place, then the earlier
    sample.  None when there are no samples.
    """
    if not blend.samples:
        return None
    return min(
        range(len(blend.samples)),
        key=lambda index: (abs(blend.samples[index].at[0] - value), blend.samples[index].at[0]),
    )


def weights(blend: BlendSpace, value: float) -> list[float]:
    """How much of every sample is in the mix at ``value``: linear between neighbours, 1 in all, constant beyond the ends.

    Samples on one place share their weight equally.
    """
    places = sorted({sample.at[0] for sample in blend.samples})
    if not places:
        return []
    shares = dict.fromkeys(places, 0.0)
    if value <= places[0]:
        shares[places[0]] = 1.0
    elif value >= places[-1]:
        shares[places[-1]] = 1.0
    else:
        right = next(index for index, place in enumerate(places) if place > value)
        low, high = places[right - 1], places[right]
        shares[high] = (value - low) / (high - low)
        shares[low] = 1.0 - shares[high]
    count = {place: sum(sample.at[0] == place for sample in blend.samples) for place in places}
    return [shares[sample.at[0]] / count[sample.at[0]] for sample in blend.samples]


def borders(blend: BlendSpace) -> list[float]:
    """The places where the pick changes, from low to high."""
    places = sorted({sample.at[0] for sample in blend.samples})
    return [(low + high) / 2 for low, high in itertools.pairwise(places)]
