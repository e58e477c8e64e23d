"""The one exception a person is meant to read."""

from __future__ import annotations


class LeanStepError(Exception):
    """Something a person can put right.

    Parameters
    ----------
    thing : what it concerns (a file, a place in a file, a name)
    reason : what is wrong with it, as a clause
    way_out : what to do about it, as a sentence
    """

    def __init__(self, thing: str, reason: str, way_out: str) -> None:
        self.thing = thing
        self.reason = reason
        self.way_out = way_out
        super().__init__(f"{thing}: {reason}. {way_out}")
