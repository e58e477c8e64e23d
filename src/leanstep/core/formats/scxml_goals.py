"""Where the transitions of a chart lead, and which events they mean."""

from __future__ import annotations

import re

from leanstep.core.formats.scxml_data import Data, is_word
from leanstep.core.formats.scxml_parsing import Element, everything

STATES = ("state", "final", "parallel")


class Looked:
    """A document that is looked through: its elements by id, the names states get (layer, name), events and their words, and what is
    left out or means something else (line, sentence)."""

    def __init__(self, root: Element, name: str, what: str) -> None:
        self.root, self.name, self.what = root, name, what
        self.left_out: list[tuple[int, str]] = []
        self.names: dict[int, tuple[str, str]] = {}
        self.elements: dict[str, Element] = {}
        self.pulses: dict[str, bool] = {}
        self.delays: dict[tuple[str, str], str] = {}
        self.sent: dict[str, tuple[Element, str]] = {}
        self.events: dict[str, None] = {}
        self.data = Data()
        self.words: dict[str, str] = {}

    def leave_out(self, element: Element, reason: str) -> None:
        """Something does not come in."""
        self.left_out.append((element.line, f"<{element.tag.split(' ')[-1]}> is left out: {reason}"))

    def otherwise(self, element: Element, says: str) -> None:
        """Something comes in, but does not mean quite what it did."""
        self.left_out.append((element.line, f"<{element.tag.split(' ')[-1]}>: {says}"))

    def goal(self, one: Element, target: str) -> Element | None:
        """The single state that is entered by going to an id."""
        goal: Element | None = self.elements.get(target) or self._of_history(one, target)
        if goal is None:
            self.leave_out(one, f"no state has the id {target}")
        while goal is not None and goal.all(*STATES):
            goal = self.begins(goal)
        return goal

    def _of_history(self, one: Element, target: str) -> Element | None:
        """Where a history begins when there is nothing to remember, if an id is one's."""
        for element in everything(self.root):
            if element.tag == "history" and element.at.get("id") == target:
                named = [way.at["target"] for way in element.all("transition") if way.at.get("target")]
                self.otherwise(one, f"{target} is a history: it leads to where that begins, whatever was active before")
                return self.elements.get(named[0].split()[0]) if named else element.within
        return None

    def begins(self, element: Element) -> Element | None:
        """The single state that is active first in an element; what begins in itself, or in what it is in, begins in its first one."""
        been = {id(element)}
        while True:
            named = self._named_first(element)
            first = self.elements.get(named[0]) if named else None
            if named and first is None:
                self.otherwise(
                    element, f"no state has the id {named[0]}, in which it is to begin: it begins in its first one"
                )
            if first is None or id(first) in been:
                first = next(iter(element.all(*STATES)), None)
            if first is None or not first.all(*STATES):
                return first
            been.add(id(first))
            element = first

    def _named_first(self, element: Element) -> list[str]:
        """The ids of what an element says it begins in; for a region, the document may say it."""
        named = element.at.get("initial", "").split()
        for one in element.all("initial"):
            for way in one.all("transition"):
                named += way.at.get("target", "").split()
                for inner in way.below:
                    self.leave_out(inner, "nothing is done on the way to where it begins")
        outer = element.within
        if outer is None or outer.tag != "parallel" or outer.within is not self.root:
            return named
        asked = self._named_first(outer) + self._named_first(self.root)
        return [one for one in asked if one in self.elements and self._is_within(self.elements[one], element)] or named

    def _is_within(self, inner: Element, outer: Element) -> bool:
        """Whether an element stands somewhere in another."""
        at: Element | None = inner
        while at is not None and at is not outer:
            at = at.within
        return at is not None

    def caught(self, descriptor: str) -> list[str]:
        """The events that a descriptor matches, of those that the document names: itself, and what begins with it and a dot."""
        stem = descriptor.removesuffix("*").removesuffix(".")
        known = [one for one in self.events if not one.startswith(("done.", "error."))]
        found = [one for one in known if not stem or one == stem or one.startswith(f"{stem}.")]
        return found if found or not stem else [stem]

    def word(self, event: str) -> str:
        """An event's name as the name of a pulse."""
        if event not in self.words:
            plain = re.sub(r"\W", "_", event, flags=re.ASCII)
            word = plain = plain if is_word(plain) and plain not in self.data.values else f"event_{plain}"
            number = 2
            while word in self.words.values():
                word, number = f"{plain}_{number}", number + 1
            self.words[event] = word
        return self.words[event]

    def place(self, name: str) -> tuple[str, str] | None:
        """The layer and the name of the state with an id."""
        element = self.elements.get(name)
        return self.names.get(id(element)) if element is not None else None
