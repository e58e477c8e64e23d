"""A character's graph as W3C SCXML 1.0 with the ECMAScript data model, which any conforming interpreter runs tick for tick.

Layers are parallel regions, lanes compound states.  The event ``tick`` brings the inputs of that tick in its data, by name.
The region ``clockwork`` keeps stays, playheads, memories and effects, and then raises, layer by layer and owner by owner, the
internal events on which transitions are tried, so that the active states after each ``tick`` are those of the trace.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Sequence
from importlib import resources
from xml.etree import ElementTree as Xml

import msgspec

from leanstep.core.character.graph import Layer
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.formats.scxml_words import (
    COMPARED,
    FUNCTIONS,
    ORDER,
    comment_of,
    kind_of,
    list_of,
    object_of,
    order_of,
    script_of,
    span_of,
    value_of,
    word_of,
)
from leanstep.core.graph.clip_tables import Picture, Reel
from leanstep.core.graph.effects import Act
from leanstep.core.graph.machine import LayerTable, Machine
from leanstep.core.tick.table import unique

SPACE = "http://www.w3.org/2005/07/scxml"
LOST = (
    "what pictures show",
    "how the body moves: its parameters come in as inputs, and what effects and paths ask of it is left out",
    "squash and lean, says of marks and spans, notes, assumptions, expectations and takes",
)
"""What the format cannot hold."""


OWN = frozenset(
    {
        "__proto__",
        "constructor",
        "hasOwnProperty",
        "isPrototypeOf",
        "propertyIsEnumerable",
        "toLocaleString",
        "toString",
    }
    | {"valueOf", "__defineGetter__", "__defineSetter__", "__lookupGetter__", "__lookupSetter__"}
)
"""What every object of ECMAScript has by itself (ECMA-262, *Properties of the Object Prototype Object*)."""


def scxml(machine: Machine) -> bytes:
    """The document, in UTF-8."""
    return _Writer(machine).document()


def ids_of(machine: Machine) -> list[list[str]]:
    """The ids of the states of each layer."""
    return _Writer(machine).states


def names_of(machine: Machine) -> list[str]:
    """What the document calls each symbol of the machine."""
    return _Writer(machine).names


class _Writer:
    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.used = {"character", "clockwork"}
        self.layers = [self._id(layer.name) for layer in machine.layers]
        self.states = [[self._id(f"{layer.name}.{state}") for state in layer.states] for layer in machine.layers]
        self.lanes = [
            {
                lane: self._id(f"{layer.name}.lane.{lane}")
                for lane in dict.fromkeys(one.lane for one in layer.states)
                if lane
            }
            for layer in machine.character.layers
        ]
        self.buffers = {symbol: slot for slot, (symbol, _) in enumerate(machine.buffers)}
        self.clocks = {place: slot for slot, (place, _) in enumerate(machine.clocks)}
        self.clips: list[str] = []
        self.written: dict[bytes, int] = {}
        self.names: list[str] = []
        taken = [symbol.name for symbol in machine.symbols]
        for symbol in machine.symbols:
            name = unique(f"{symbol.name}_", [*taken, *self.names]) if symbol.name in OWN else symbol.name
            self.names.append(name)

    def document(self) -> bytes:
        character = self.machine.character
        root = Xml.Element("scxml", xmlns=SPACE, version="1.0", datamodel="ecmascript", initial="character")
        root.set("name", "character_" + re.sub(r"[^A-Za-z0-9]+", "_", character.name).strip("_"))
        lines = [
            f"Lean Step: {character.name}",
            f"One event, tick, {character.rate:g} times a second; its data holds inputs by name, what is left out keeps its value:",
            *(f"  {name}: {kind_of(one)}" for name, one in zip(self.names, self.machine.symbols) if one.free),
            *self._renamed(),
            "Left out:",
            *(f"  {one}" for one in LOST),
        ]
        root.append(Xml.Comment(comment_of("\n".join(lines))))
        script_of(root, self._script())
        whole = Xml.SubElement(root, "parallel", id="character")
        for at, layer in enumerate(character.layers):
            self._layer(whole, at, layer, self.machine.layers[at])
        self._clockwork(whole)
        Xml.indent(root, " ")
        text: bytes = Xml.tostring(root, "utf-8", xml_declaration=True)
        return text + b"\n"

    def _id(self, name: str) -> str:
        """A name as an XML id, each only once."""
        plain = re.sub(r"[^A-Za-z0-9_.-]", lambda found: f"_{ord(found[0]):x}", name)
        plain = plain if re.match(r"[A-Za-z_]", plain) else f"_{plain}"
        found, number = plain, 2
        while found in self.used:
            found, number = f"{plain}_{number}", number + 1
        self.used.add(found)
        return found

    def _clockwork(self, whole: Xml.Element) -> None:
        """The last region, so that every layer has begun when it begins."""
        region = Xml.SubElement(whole, "state", id="clockwork")
        script_of(Xml.SubElement(region, "onentry"), "begun()")
        beat = Xml.SubElement(region, "transition", event="tick")
        script_of(beat, "tick(_event.data)")
        events = []
        for at, layer in enumerate(self.machine.layers):
            owned = {order_of(way) for row in layer.ways for way in row if way.condition is not None}
            events += [self._event(at, number) for number, order in enumerate(ORDER) if order in owned]
        tried = Xml.SubElement(beat, "if", cond="!frozen") if events else beat
        for event in events:
            Xml.SubElement(tried, "raise", event=event)

    def _event(self, at: int, number: int) -> str:
        return f"try.{at}.{number}"

    def _layer(self, whole: Xml.Element, at: int, layer: Layer, table: LayerTable) -> None:
        region = Xml.SubElement(whole, "state", id=self.layers[at], initial=self.states[at][table.start])
        self._ways(region, at, table, "graph", "")
        lanes: dict[str, Xml.Element] = {}
        for number, state in enumerate(layer.states):
            within = region
            if state.lane:
                if state.lane not in lanes:
                    lanes[state.lane] = Xml.SubElement(region, "state", id=self.lanes[at][state.lane])
                    self._ways(lanes[state.lane], at, table, "lane", state.lane)
                within = lanes[state.lane]
            element = Xml.SubElement(within, "state", id=self.states[at][number])
            entry = Xml.SubElement(element, "onentry")
            named = json.dumps(self.states[at][number])
            script_of(entry, f"arriving({at}, {named})")
            self._acts(entry, table.entry[number])
            script_of(entry, f"arrived({at})")
            leave = Xml.SubElement(element, "onexit")
            script_of(leave, f"leaving({at})")
            self._acts(leave, table.leave[number])
            self._ways(element, at, table, "state", state.name)

    def _acts(self, within: Xml.Element, acts: Sequence[Act]) -> None:
        if acts:
            script_of(within, "; ".join(self._act(act, "false") for act in acts))

    def _ways(self, within: Xml.Element, at: int, table: LayerTable, owner: str, name: str) -> None:
        """The transitions of one owner, each once, in the order they are tried."""
        layer = self.machine.character.layers[at]
        rows = [
            row
            for state, row in zip(layer.states, table.ways)
            if owner == "graph" or name == (state.lane if owner == "lane" else state.name)
        ]
        for number, order in enumerate(ORDER):
            ways = {way.index: way for row in rows for way in row if order_of(way) == order and order.owner == owner}
            for index in sorted(ways):
                way = ways[index]
                if way.condition is None:
                    continue
                target = self.states[at][way.target]
                tests = [f"free({at})"]
                if not way.restart and owner != "state":
                    tests.append(f"s[{at}] !== {json.dumps(target)}")
                cond = " && ".join([*tests, self._js(way.condition)])
                element = Xml.SubElement(within, "transition", event=self._event(at, number), cond=cond, target=target)
                if owner != "state" and (owner == "graph" or layer.states[way.target].lane == name):
                    element.set("type", "internal")
                uses = [[self.buffers[one.symbol], one.ticks] for one in way.uses if one.symbol in self.buffers]
                words = json.dumps([at, way.fade, way.blocks, way.keep_phase, uses])[1:-1]
                script_of(element, f"take({words})")

    def _script(self) -> str:
        """The data of the clockwork, and the clockwork itself."""
        machine = self.machine
        shows = {
            self.states[at][number]: self._picture(picture)
            for at, row in enumerate(machine.pictures)
            for number, picture in enumerate(row)
            if picture is not None
        }
        kinds = {
            name: {"kind": one.kind, "low": one.low, "high": one.high, "outside": one.free, "counts": one.countdown}
            for name, one in zip(self.names, machine.symbols)
        }
        leavings = {self.states[at][state]: slot for slot, ((at, state), _) in enumerate(machine.clocks)}
        computed = (
            f"{{name: {json.dumps(self._name(index))}, value: function () {{ return {self._formula(formula)}; }}}}"
            for index, formula in machine.formulas
        )
        memories = (
            f"{{within: {word_of(one.kind == 'within')}, "
            f"ticks: {one.ticks}, operand: function () {{ return {self._js(one.operand)}; }}}}"
            for one in machine.memories
        )
        buffers = [{"button": self._name(symbol), "most": most} for symbol, most in machine.buffers]
        data = {
            "kinds": json.dumps(kinds),
            "sticks": json.dumps([stick.name for stick in machine.character.controls.sticks]),
            "buttons": json.dumps([name for name, one in zip(self.names, machine.symbols) if one.kind == "button"]),
            "buffers": json.dumps(buffers),
            "clocks": json.dumps([most for _, most in machine.clocks]),
            "leavings": json.dumps(leavings),
            "shows": object_of({name: picture for name, picture in shows.items()}),
            "clips": list_of(self.clips),
            "computed": list_of(computed),
            "memories": list_of(memories),
        }
        first = {name: one.first for name, one in zip(self.names, machine.symbols)}
        own = [f"var {name} = {text};" for name, text in data.items()]
        clockwork = resources.files("leanstep.core.formats").joinpath("scxml_clockwork.js").read_text("utf-8")
        begin = [
            f"p = {json.dumps(first)};",
            "for (var n = 0; n < memories.length; n++) { counters[n] = 0; m[n] = false; }",
            "for (n = 0; n < buffers.length; n++) pressed[n] = NEVER;",
            "for (n = 0; n < clocks.length; n++) left[n] = NEVER;",
            "for (n = 0; n < sticks.length; n++) before[n] = p[sticks[n] + '.bearing'];",
            "formulas();",
        ]
        return "\n".join(["", *own, clockwork.rstrip(), *begin, ""])

    def _picture(self, picture: Picture) -> str:
        places = picture.space.places if picture.space is not None else ((),) * picture.each
        places *= 1 + len(picture.moved)
        made: dict[str, object] = {
            "samples": [
                {
                    "clip": self._clip(reel),
                    "phase": picture.phase(at),
                    "places": [None if math.isnan(one) else one for one in place],
                }
                for at, (reel, place) in enumerate(zip(picture.reels, places))
            ],
            "moved": [[self._name(symbol), value] for symbol, value in picture.moved],
        }
        if picture.space is not None and picture.blend is not None:
            made["sticky"] = picture.blend.sticky
            made["axes"] = [
                {
                    "parameter": self._name(symbol) if symbol >= 0 else None,
                    "round": axis.round,
                    "low": axis.low,
                    "high": axis.high,
                    "step": axis.step,
                }
                for symbol, axis in zip(picture.axes, picture.space.axes)
            ]
        return json.dumps(made)

    def _clip(self, reel: Reel) -> int:
        """The number of a clip, written down once."""
        known = msgspec.json.encode(reel.clip)
        if known not in self.written:
            self.clips.append(self._laid(reel))
            self.written[known] = len(self.clips) - 1
        return self.written[known]

    def _laid(self, reel: Reel) -> str:
        timing, pace = reel.timing, reel.pace
        marks = (
            f"{{at: {cue.at}, act: function (now) {{ {'; '.join(self._act(act, 'now') for act in cue.acts)} }}}}"
            for cue in reel.cues
        )
        spans = [
            {
                "name": span_of(one.name),
                "start": one.start,
                "end": one.end,
                "hold": self._name(one.hold) if one.hold >= 0 else "",
            }
            for one in reel.windows
        ]
        paced: dict[str, object] = {"pace": ""}
        if pace is not None:
            paced = {"pace": self._name(pace.symbol), "at": pace.at, "low": pace.low, "high": pace.high}
        plain = {"length": timing.length, "begin": timing.begin if timing.repeats else -1, **paced, "spans": spans}
        return f"{json.dumps(plain)[:-1]}, marks: {list_of(marks)}}}"

    def _name(self, symbol: int) -> str:
        return self.names[symbol]

    def _renamed(self) -> list[str]:
        """What is called otherwise here than in the character, a line each."""
        both = [(one.name, name) for one, name in zip(self.machine.symbols, self.names) if one.name != name]
        title = ["Named otherwise, since every object has such a name:"] if both else []
        return [*title, *(f"  {name}: {one}" for one, name in both)]

    def _act(self, act: Act, now: str) -> str:
        name = json.dumps(self._name(act.target)) if act.do in ("set", "add", "raise") else ""
        match act.do:
            case "set" | "add":
                return f"{act.do}({name}, {value_of(act.value)})"
            case "raise":
                return f"({now} ? raiseNow : raise)({name})" if now == "now" else f"raise({name})"
            case "freeze":
                return f"stopFor({value_of(act.value)})"
        # locks, modes and pushes are for the body alone
        return "ask()"

    def _formula(self, formula: x.Expression) -> str:
        return self._number(formula) if isinstance(formula, x.Amount) else self._js(formula)

    def _js(self, one: x.Expression) -> str:
        """A condition in ECMAScript."""
        match one:
            case x.Every(operands):
                return f"({' && '.join(map(self._js, operands)) or 'true'})"
            case x.Some(operands):
                return f"({' || '.join(map(self._js, operands)) or 'false'})"
            case x.Inverse(operand):
                return f"!({self._js(operand)})"
            case x.Compared(sign, left, right):
                return f"({self._number(left)} {COMPARED.get(sign, sign)} {self._number(right)})"
            case x.Constant(value):
                return word_of(value)
            case x.IsOn(symbol):
                return self._value(symbol)
            case x.Pressed(symbol):
                return f"({self._value(symbol)} && !held[{json.dumps(self._name(symbol))}])"
            case x.Released(symbol):
                return f"(!{self._value(symbol)} && held[{json.dumps(self._name(symbol))}])"
            case x.Chosen(symbol, choice):
                return f"({self._value(symbol)} === {json.dumps(choice)})"
            case x.SameChoice(symbol, other):
                return f"({self._value(symbol)} === {self._value(other)})"
            case x.Stayed(layer, sign, ticks):
                return f"(stay[{layer}] {COMPARED.get(sign, sign)} {ticks})"
            case x.Buffered(symbol, ticks) if symbol in self.buffers:
                return f"(pressed[{self.buffers[symbol]}] < {ticks})"
            case x.SinceLeft(layer, state, sign, ticks) if (layer, state) in self.clocks:
                return f"(left[{self.clocks[layer, state]}] {COMPARED.get(sign, sign)} {ticks})"
            case x.SinceLeft(_, _, sign, ticks):
                return word_of(x.holds(sign, NEVER, ticks))
            case x.Buffered():
                return "false"
            case x.ClipOver(layer):
                return f"isDone({layer})"
            case x.ClipAt(layer, share):
                return f"isAt({layer}, {value_of(share)})"
            case x.SpanOn(name):
                return f"(on[{json.dumps(span_of(name))}] === true)"
            case x.Active(layer, state):
                return f"(s[{layer}] === {json.dumps(self.states[layer][state])})"
            case x.Remembered(index):
                return f"m[{index}]"
        raise TypeError(f"{type(one).__name__} has no truth")

    def _number(self, one: x.Amount) -> str:
        match one:
            case x.Fixed(value):
                return value_of(value)
            case x.Value(symbol):
                return self._value(symbol)
            case x.Computed("neg", (operand,)):
                return f"(-{self._number(operand)})"
            case x.Computed(sign, operands):
                words = list(map(self._number, operands))
                return f"{FUNCTIONS[sign]}({', '.join(words)})" if sign in FUNCTIONS else f"({f' {sign} '.join(words)})"
        raise TypeError(f"{type(one).__name__} is no amount")

    def _value(self, symbol: int) -> str:
        return f"p[{json.dumps(self._name(symbol))}]"
