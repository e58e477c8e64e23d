"""A graph from W3C SCXML: states, parallel regions, compound states without history, events as pulses, delayed events as stays.

Whatever else the document has is left out and named, with its line and the reason; nothing is guessed.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

from leanstep.core.character.clips import Effect
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.storage import read_bytes
from leanstep.core.character.validation import validate
from leanstep.core.conditions import tree
from leanstep.core.conditions.printing import text_of
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.ecmascript import Unreadable, read
from leanstep.core.formats.scxml_data import is_word
from leanstep.core.formats.scxml_goals import STATES, Looked
from leanstep.core.formats.scxml_parsing import LARGEST, Element, everything, parsed


@dataclass(frozen=True)
class Brought:
    """A character made of a document, and what was left out of it, as sentences with lines."""

    character: Character
    left_out: tuple[str, ...]


def load(path: Path) -> Brought:
    """Bring a document in.

    Raises
    ------
    LeanStepError : it cannot be read, is no SCXML, declares entities, or is too large or too deep.
    """
    return bring_in(read_bytes(path), path.stem, str(path))


def bring_in(data: bytes, name: str, what: str) -> Brought:
    """Bring a document in; ``what`` names it in errors.  Raises :class:`LeanStepError` for what is no chart or is too large."""
    if len(data) > LARGEST:
        reason = f"it has {len(data)} bytes, and at most {LARGEST} are read"
        raise LeanStepError(what, reason, "Split it into several documents.")
    root = parsed(data, what)
    return _Bringer(root, root.at.get("name", "").strip() or name, what).brought()


_SILENT = ("onentry", "onexit", "transition", "initial", "datamodel", *STATES)


class _Bringer(Looked):
    """Makes one character, collecting what is left out."""

    def brought(self) -> Brought:
        self._language()
        layers = self._regions()
        self._data()
        for name, region in layers:
            self._look(name, region)
        for element, says in self.data.made_up():
            self.otherwise(element, says)
        self._tell_of_regions(layers)
        made = tuple(self._layer(name, region) for name, region in layers)
        self._awaited()
        parameters = tuple(self._parameters())
        character = Character(name=self.name, parameters=parameters, layers=made)
        validate(character, self.what)
        said = tuple(f"line {line}: {text}" for line, text in sorted(set(self.left_out)))
        return Brought(character, said)

    def _language(self) -> None:
        """Whose expressions the document has."""
        model = self.root.at.get("datamodel", "null").strip().lower()
        if model not in ("ecmascript", "null", ""):
            self.otherwise(self.root, f"its data model is {model}; expressions are read as if they were ECMAScript")

    def _regions(self) -> list[tuple[str, Element]]:
        """The layers: the regions of a parallel that is all there is, else the document itself."""
        states = self.root.all(*STATES)
        if not states:
            raise LeanStepError(self.what, "it has no states", "Choose a document with at least one <state>.")
        if len(states) == 1 and states[0].tag == "parallel":
            self._others(states[0], ("state", "parallel"))
            regions = [one for one in states[0].all("state") if one.all(*STATES)]
            for one in states[0].below:
                if one.tag == "state" and one not in regions:
                    self.leave_out(one, "a region without states of its own does nothing")
            if not regions:
                raise LeanStepError(self.what, "its <parallel> has no regions with states", "Give it some.")
            self._others(self.root, ("parallel", "datamodel"))
            return [(self._plain(one.at.get("id", ""), f"layer {at + 1}"), one) for at, one in enumerate(regions)]
        self._others(self.root, ("datamodel", *STATES))
        return [("base", self.root)]

    def _others(self, element: Element, known: tuple[str, ...]) -> None:
        """Name what stands in an element and is not known there."""
        why = {
            "history": "states here remember nothing of what was active in them",
            "script": "scripts are not run",
            "invoke": "nothing is started beside a graph",
            "transition": "only states and lanes have transitions here",
        }
        for one in element.below:
            if one.tag not in known:
                self.leave_out(one, why.get(one.tag, "a graph has nothing like it"))

    def _plain(self, text: str, otherwise: str) -> str:
        return re.sub(r'[".\x00-\x1f]', "_", text.strip()) or otherwise

    def _look(self, layer: str, region: Element) -> None:
        """Names for all states below, and which events are raised."""
        used = set[str]()
        for state in self._leaves(region):
            wanted = self._plain(state.at.get("id", ""), "state")
            name, number = wanted, 2
            while name in used:
                name, number = f"{wanted} {number}", number + 1
            used.add(name)
            self.names[id(state)] = (layer, name)
        for element in everything(region):
            if element.at.get("id") and element.tag in STATES:
                self.elements[element.at["id"]] = element
            if element.tag == "raise" and element.at.get("event"):
                self.pulses[self.word(element.at["event"])] = True
                self.otherwise(element, f"{element.at['event']} is answered a tick later, not at once")
            if element.tag in ("raise", "send") and element.at.get("event"):
                self.events[element.at["event"]] = None
            if element.tag == "transition":
                self.events |= dict.fromkeys(one for one in element.at.get("event", "").split() if "*" not in one)
            if element.tag == "assign" and element.at.get("location"):
                self.data.set_here.add(element.at["location"])

    def _leaves(self, element: Element) -> list[Element]:
        found = []
        for one in element.all(*STATES):
            found += self._leaves(one) if one.all(*STATES) else [one]
        return found

    def _data(self) -> None:
        """What the data model says of parameters: a number, a truth or a word."""
        for model in self.root.all("datamodel"):
            for one in model.below:
                name, text = one.at.get("id", ""), one.at.get("expr", "").strip()
                if one.tag != "data" or not is_word(name):
                    self.leave_out(one, f"{name or 'what has no id'} is no name of a parameter")
                elif not self.data.begins(name, text, one):
                    self.leave_out(one, f"{name} is no number, no truth and no word to begin with")

    def _tell_of_regions(self, layers: list[tuple[str, Element]]) -> None:
        """What regions set for each other: layers are tried one after the other, and each does at once what it does."""
        uses = [self._uses(region) for _, region in layers]
        for at, (_, region) in enumerate(layers):
            for element in everything(region):
                name = element.at.get("location", "")
                others = (other for number, (_, other) in enumerate(uses) if number != at)
                if element.tag == "assign" and name and any(name in other for other in others):
                    self.otherwise(
                        element,
                        f"{name} is asked or set in another region, too: there all regions ask before any of them does something, "
                        "here one layer comes after the other",
                    )

    def _uses(self, region: Element) -> tuple[Element, set[str]]:
        """The names of data that a region asks for or sets."""
        found = set[str]()
        for element in everything(region):
            found |= {element.at["location"]} if element.tag == "assign" and "location" in element.at else set()
            found |= set(re.findall(r"[A-Za-z_]\w*", element.at.get("cond", "")))
        return region, found

    def _layer(self, name: str, region: Element) -> Layer:
        states: list[State] = []
        transitions: list[Transition] = []
        self._others(region, (*_SILENT, "datamodel") if region is self.root else _SILENT)
        for one in region.all(*STATES):
            self._state(one, name, "", states, transitions, [])
        if region is not self.root:
            self._nothing_done(region)
            transitions += self._ways(region, name, source="", lane="")
        start = self.begins(region)
        return Layer(
            name=name,
            start=self.names[id(start)][1] if start is not None else "",
            states=tuple(states),
            transitions=tuple(transitions),
        )

    def _nothing_done(self, element: Element) -> None:
        for one in element.all("onentry", "onexit"):
            if one.below:
                self.leave_out(one, "only single states do something when they are entered or left")

    def _state(
        self,
        element: Element,
        layer: str,
        lane: str,
        states: list[State],
        transitions: list[Transition],
        owners: list[Element],
    ) -> None:
        """A state, or all states below a compound one; ``owners`` are the compound ones between it and its lane."""
        below = element.all(*STATES)
        if element.tag == "parallel" and below:
            self.leave_out(
                element, "regions run beside each other as layers only, not within a state; its states stand one by one"
            )
        if below:
            self._others(element, _SILENT)
            self._nothing_done(element)
            here = lane or self._plain(element.at.get("id", ""), "lane")
            for one in below:
                self._state(one, layer, here, states, transitions, [*owners, element] if lane else [])
            if not lane:
                transitions += self._ways(element, layer, source="", lane=here)
            return
        name = self.names[id(element)][1]
        self._others(element, _SILENT)
        self._delays_of(element, name)
        entry = self._effects(element, "onentry")
        leave = self._effects(element, "onexit")
        states.append(State(name=name, lane=lane, ending=element.tag == "final", on_entry=entry, on_leave=leave))
        transitions += self._ways(element, layer, source=name, lane="")
        for owner in reversed(owners):
            transitions += self._ways(owner, layer, source=name, lane="")

    def _delays_of(self, element: Element, state: str) -> None:
        """Events a state sends itself after a while."""
        for entry in element.all("onentry"):
            for one in entry.all("send"):
                delay = re.fullmatch(r"([\d.]+)\s*(s|ms)", one.at.get("delay", ""))
                target = one.at.get("target", "")
                if delay is None or target not in ("", "#_internal") or "event" not in one.at:
                    self.leave_out(one, "only an event to itself after a fixed time is a stay here")
                else:
                    self.delays[state, one.at["event"]] = f"{float(delay[1]):g} {delay[2]}"
                    self.sent[one.at["event"]] = one, state
                    if one.at.get("id", "") not in [end.at.get("sendid") for end in self._cancels(element)]:
                        self.otherwise(
                            one, f"nothing cancels {one.at['event']} when {state} is left; here it ends with that state"
                        )

    def _cancels(self, element: Element) -> list[Element]:
        """What takes delayed events back when a state is left."""
        return [one for block in element.all("onexit") for one in block.below if one.tag == "cancel"]

    def _effects(self, element: Element, tag: str) -> tuple[Effect, ...]:
        found = []
        for block in element.all(tag):
            for one in block.below:
                if one.tag == "send" and tag == "onentry":
                    continue
                if one.tag == "cancel":
                    # a stay ends with its state anyway
                    continue
                effect = self._effect(one)
                if effect is not None:
                    found.append(effect)
        return tuple(found)

    def _effect(self, one: Element) -> Effect | None:
        name, text = one.at.get("location", ""), one.at.get("expr", "").strip()
        if one.tag == "raise" and one.at.get("event"):
            return Effect(do="raise", name=self.word(one.at["event"]))
        if one.tag != "assign" or not is_word(name):
            reason = "scripts are not run" if one.tag == "script" else "an effect sets, adds to, or raises something"
            self.leave_out(one, reason)
            return None
        effect = self.data.effect(name, text)
        if effect is None:
            self.leave_out(one, f"“{text}” is no value and adds none")
        return effect

    def _ways(self, element: Element, layer: str, source: str, lane: str) -> list[Transition]:
        """The transitions an element owns, for a state, a lane, or (neither) the whole graph."""
        found = []
        for one in element.all("transition"):
            targets = one.at.get("target", "").split()
            if len(targets) != 1:
                self.leave_out(one, "a transition here leads to one state" if targets else "it leads nowhere")
                continue
            goal = self.goal(one, targets[0])
            if goal is None:
                continue
            where, to = self.names[id(goal)]
            if where != layer:
                self.leave_out(one, f"it leads from layer {layer} into layer {where}")
                continue
            for inner in one.below:
                self.leave_out(inner, "transitions do nothing on the way; states do, when they are entered or left")
            when, note = self._when(one, source)
            if not one.at.get("event", "").strip() and when != "false":
                self.otherwise(one, "without an event it is taken a tick after its state was entered, not at once")
            found.append(Transition(source=source, from_lane=lane, to=to, when=when, restart=True, note=note))
        return found

    def _awaited(self) -> None:
        """Name events that a state sends itself after a while, and that others wait for."""
        for event, (element, state) in self.sent.items():
            word = self.word(event)
            if word in self.pulses:
                reason = f"{event} comes after {state} as a stay there; elsewhere it is an event that the game sends"
                self.otherwise(element, reason)

    def _when(self, one: Element, source: str) -> tuple[str, str]:
        """A transition's condition, and a note where part of it could not be said."""
        events: list[tree.Node | str] = []
        asked = one.at.get("event", "").split()
        for event in asked:
            delay = self.delays.get((source, event))
            if delay is not None:
                events.append(f"stay >= {delay}")
                continue
            if event.startswith(("done.", "error.")):
                self.leave_out(one, f"the event {event} comes from an interpreter, and never here")
                continue
            if "*" in event and event != "*" and not event.endswith(".*"):
                self.leave_out(one, f"{event} is no event: a * stands alone or behind a dot")
                continue
            caught = self.caught(event)
            if event == "*":
                self.otherwise(one, "* is any event that the document names")
            for name in caught:
                word = self.word(name)
                self.pulses.setdefault(word, False)
                if word not in events:
                    events.append(word)
        if asked and not events:
            return "false", f"event {' '.join(asked)}"
        said = " or ".join(map(str, events))
        text = one.at.get("cond", "").strip()
        if not text:
            return said or "true", ""
        try:
            cond = read(text, lambda name: self.place(name))
        except Unreadable as error:
            self.leave_out(one, f"its cond “{text}” cannot be said here: {error}; it is brought in as never true")
            return "false", f"cond {text}"
        self.data.learn(cond)
        condition = text_of(cond)
        if not said:
            return condition, ""
        events_text = f"({said})" if len(events) > 1 else said
        return f"{events_text} and {f'({condition})' if isinstance(cond, tree.Any) else condition}", ""

    def _parameters(self) -> list[Parameter]:
        found = self.data.parameters()
        for name, raised in self.pulses.items():
            if name in self.data.values:
                self.leave_out(self.root, f"{name} is an event and a value at once; it is brought in as a value")
            else:
                found.append(Parameter(name=name, kind="pulse", owner="graph" if raised else "game"))
        return found
