"""What is wrong with what stands in for something and is chosen by a choice: a costume, a way of moving."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from leanstep.core.character.document import Character
from leanstep.core.conditions.checking import nearest

Wrong = tuple[str, str]
"""Why it cannot be, and the way out."""


def not_there(what: str, name: str, known: Collection[str]) -> Iterator[Wrong]:
    """A sheet or a clip that is named and is not there."""
    if name not in known:
        yield f"there is no {what} called {name}", f"Choose one that is there.{meant(name, known)}"


def meant(word: str, known: Collection[str]) -> str:
    """The name that was likely meant, as a sentence to put behind another; "" where none is near."""
    near = nearest(word, list(known))
    return f" Did you mean {near}?" if near else ""


def never_chosen(character: Character, parameter: str, value: str, so: str) -> Iterator[Wrong]:
    """A choice that cannot be made; ``so`` says what never comes of it."""
    if not parameter:
        return
    one = next((one for one in character.parameters if one.name == parameter), None)
    if one is None or one.kind != "choice":
        reason = f"{parameter} is no choice" if one else f"there is no parameter {parameter}"
        yield f"{reason}, so {so}", "Choose a parameter that is a choice."
    elif value not in one.choices:
        yield f"{value or 'nothing'} is no choice of {parameter}, so {so}", f"Choose one of {', '.join(one.choices)}."
