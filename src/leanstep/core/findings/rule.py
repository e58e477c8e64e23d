"""What a kind of finding is declared with."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Rule:
    """A kind of finding: its id, the severities it may have (the usual one first), a title, a paragraph of help, and what of its facts
    says which one it is (``about``): all others may change, and it is the same finding.

    ``stands`` says what is left of it where something cannot be followed exactly: it ``always`` stands; its take shows it
    (``shown``), or does where takes tell all that conditions say (``told``); else nothing."""

    id: str
    severities: tuple[str, ...]
    title: str
    help: str
    about: tuple[str, ...]
    stands: Literal["", "always", "shown", "told"] = ""

    @property
    def severity(self) -> str:
        """The usual severity."""
        return self.severities[0]


STATE, STATES, WAY = ("layer", "state"), ("layer", "state", "states"), ("layer", "transition")
"""What findings about states and transitions are about."""
ERROR, WARNING, NOTE = ("error",), ("warning",), ("note",)
