"""Lists and counts in sentences."""

from __future__ import annotations

from collections.abc import Collection


def listed(names: list[str]) -> str:
    """Names joined for a sentence."""
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def some(clauses: list[str], most: int) -> str:
    """The first ``most`` of some clauses and how many more there are, joined for a sentence."""
    more = [f"{len(clauses) - most} more"] if len(clauses) > most else []
    return listed([*clauses[:most], *more])


def numbered(noun: str, numbers: Collection[int], most: int) -> str:
    """Things by their numbers, ``most`` of them: ``frame 3``, ``frames 1, 2 and 4 more``."""
    return f"{noun}{'' if len(numbers) == 1 else 's'} {some([str(one) for one in numbers], most)}"


def counted(number: int, name: str) -> str:
    """So many of what has a name: ``1 tick``, ``2 ticks``."""
    return f"{number} {name}{'' if number == 1 else 's'}"


def a_few(number: int, noun: str) -> str:
    """How many of a known few there are: "a cel", "3 cels"."""
    return f"a {noun}" if number == 1 else counted(number, noun)
