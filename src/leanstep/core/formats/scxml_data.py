"""The data of a chart as parameters: what it begins with, what sets it, and what conditions make of its names."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any, Literal

from leanstep.core.character.clips import Effect
from leanstep.core.character.inputs import Parameter
from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import KEYWORDS
from leanstep.core.formats.scxml_parsing import Element

RANGE = 1000.0
"""Numbers get the range from minus this to this: a document does not say one."""
_NUMBER = re.compile(r"[-+]?(\d+\.?\d*|\.\d+)")


class Data:
    """``values`` are what names begin with: a number, a truth or a word; ``set_here`` those that the document itself sets."""

    def __init__(self) -> None:
        self.values: dict[str, Any] = {}
        self.set_here: set[str] = set()
        self._choices: dict[str, list[str]] = {}
        self._written: dict[str, Element] = {}

    def begins(self, name: str, text: str, where: Element) -> bool:
        """A name begins with what an expression says; False where that is nothing a parameter can be."""
        if text in ("true", "false"):
            self.values[name] = text == "true"
        elif _NUMBER.fullmatch(text):
            self.values[name] = float(text)
        elif _is_quoted_word(text):
            self.values[name] = text[1:-1]
            self._choices[name] = [text[1:-1]]
        if name in self.values:
            self._written[name] = where
        return name in self.values

    def made_up(self) -> Iterator[tuple[Element, str]]:
        """What is made up here of what is written, and where."""
        for name, one in self._written.items():
            if name not in self.set_here:
                yield one, f"nothing in the document sets {name}: the game does, and it begins at what is written here"
            if isinstance(self.values[name], float):
                limit = max(RANGE, abs(self.values[name]))
                yield one, f"{name} has no range in the document: from {-limit:g} to {limit:g} is made up"

    def effect(self, name: str, text: str) -> Effect | None:
        """What sets a name to an expression, or adds to it; None where that is neither."""
        added = re.fullmatch(rf"{re.escape(name)}\s*([-+])\s*([\d.]+)", text)
        self.values.setdefault(name, 0.0)
        if added:
            return Effect(do="add", name=name, value=float(added[1] + added[2]))
        if text in ("true", "false"):
            if isinstance(self.values[name], float):
                self.values[name] = False
            return Effect(do="set", name=name, value=text == "true")
        if _NUMBER.fullmatch(text):
            return Effect(do="set", name=name, value=float(text))
        if _is_quoted_word(text):
            self._choices.setdefault(name, []).append(text[1:-1])
            return Effect(do="set", name=name, value=text[1:-1])
        return None

    def learn(self, node: tree.Node) -> None:
        """Parameters from how conditions use their names."""
        if isinstance(node, tree.Compare):
            names = [one.name for one in (node.left, node.right) if isinstance(one, tree.Name)]
            if len(names) == 2 and node.operator in ("=", "!=") and names[1] not in self.values:
                self.values.setdefault(names[0], names[1])
                self._choices.setdefault(names[0], []).append(names[1])
                return
            for name in names:
                self.values.setdefault(name, 0.0)
            for part in (node.left, node.right):
                if not isinstance(part, tree.Name):
                    self._learn_amount(part)
            return
        if isinstance(node, tree.Name):
            self.values.setdefault(node.name, False)
        for part in tree.children(node):
            self.learn(part)

    def _learn_amount(self, node: tree.Node) -> None:
        if isinstance(node, tree.Name):
            self.values.setdefault(node.name, 0.0)
        for part in tree.children(node):
            self._learn_amount(part)

    def parameters(self) -> list[Parameter]:
        """The parameters that these names are."""
        found = []
        for name, first in self.values.items():
            owner: Literal["graph", "game"] = "graph" if name in self.set_here else "game"
            start = first if owner == "graph" else None
            rest = first if owner == "game" and first not in (False, 0.0) else None
            if isinstance(first, bool):
                found.append(Parameter(name=name, kind="flag", owner=owner, start=start, rest=rest))
            elif isinstance(first, str):
                words = tuple(dict.fromkeys(self._choices.get(name, [])))
                found.append(Parameter(name=name, kind="choice", owner=owner, choices=words, start=start, rest=rest))
            else:
                limit = max(RANGE, abs(first))
                found.append(Parameter(name=name, owner=owner, min=-limit, max=limit, start=start, rest=rest))
        return found


def is_word(text: str) -> bool:
    """Whether a text can be the name of a parameter."""
    return re.fullmatch(r"[A-Za-z_]\w*", text) is not None and text not in KEYWORDS


def _is_quoted_word(text: str) -> bool:
    """Whether an expression is one word in quotes, which may be a choice."""
    return re.fullmatch(r"'\w+'|\"\w+\"", text, re.ASCII) is not None and is_word(text[1:-1])
