"""Documents with anything in them that the format allows: fields of demos and random characters exchanged for other values."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

from msgspec import inspect

from leanstep.core.character.document import Character

NUMBERS = [0, 1, -1, 2, 3, 8, 60, 0.5, 0.1, 1.0, -0.0, 1e-9, 90, 359.5, 1e6, -2.25]
TEXTS = [
    "",
    "on",
    "true",
    "1",
    "idle",
    "walk",
    "nowhere",
    "a b",
    "Straße",
    'say "so"',
    "1e5",
    "null",
    "\u202e",
    "#ff00ff",
]
TEXTS += ["speed", "grounded", "jump", "stick", "speed > 1", "stay > 0.1 s"]
Slot = tuple[str, str, dict[str, Any], inspect.Type]
"""The struct and field, the object it stands in, and what may stand there."""

WHOLE: dict[str, Any] = {
    "leanstep": 1,
    "name": "Whole",
    "parameters": [
        {"name": "charge", "kind": "whole", "owner": "graph", "min": 0, "max": 3},
        {"name": "speed", "min": 0, "max": 4},
    ],
    "controls": {"buttons": [{"name": "jump"}, {"name": "spare"}], "sticks": [{"name": "stick"}, {"name": "other"}]},
    "sheets": [
        {"name": "art", "image": "art.png", "size": [32, 16], "cut": {"columns": 2, "rows": 1}},
        {
            "name": "wool",
            "image": "wool.png",
            "size": [32, 16],
            "cut": {"columns": 2, "rows": 1},
            "colours": [{"was": "#102030", "to": "#ff00ff"}],
            "parts": [{"name": "chest"}, {"name": "arm", "frame": 1, "parent": "chest"}],
        },
        {
            "name": "waving",
            "cut_out": {
                "of": "wool",
                "tracks": [{"part": "arm", "keys": [{"at": 4, "turn": 9}]}],
                "reaches": [{"part": "arm", "keys": [{"at": 2, "x": 3}]}],
            },
        },
    ],
    "alternates": [{"name": "limp", "clips": [{"clip": "swing", "by": "sway"}]}],
    "accessories": [{"name": "lamp", "pin": "hand", "sheet": "wool", "shown": "speed > 1"}],
    "costumes": [{"name": "coat", "sheets": [{"sheet": "art", "by": "wool"}]}],
    "clips": [
        {
            "name": "swing",
            "sheet": "art",
            "cels": [{"frame": 0, "ticks": 4}, {"frame": 1, "ticks": 4}],
            "boxes": [{"name": "body", "kind": "vulnerable", "keys": [{"box": [0, 0, 9, 9]}]}],
        },
        {
            "name": "sway",
            "sheet": "art",
            "cels": [{"frame": 1, "ticks": 6}],
            "marks": [
                {"name": "step", "at": 1, "pin": "hand", "effects": [{"do": "add", "name": "charge", "value": 1}]}
            ],
            "spans": [{"name": "cut", "start": 1, "end": 3}],
            "travel": {"keys": [{"at": 4, "x": 3}]},
            "contacts": [{"start": 0, "end": 3, "x": 2, "to": -2}],
            "phases": [{"start": 2, "end": 4}],
            "strike": {"stun": 3},
            "boxes": [{"name": "blade", "keys": [{"box": [1, 2, 3, 4]}]}],
            "pins": [{"name": "hand", "keys": [{"x": 1, "y": 2, "angle": 80}]}],
            "playback": {"parameter": "speed"},
        },
    ],
    "blends": [
        {"name": "gaits", "axes": [{"parameter": "speed", "max": 4}], "samples": [{"at": [0], "clip": "swing"}]}
    ],
    "layers": [
        {
            "name": "base",
            "states": [
                {"name": "idle", "clip": "swing", "on_entry": [{"do": "add", "name": "charge", "value": 1}]},
                {"name": "walk", "clip": "sway", "lane": "ground"},
                {"name": "rest", "blend": "gaits"},
            ],
            "transitions": [
                {"from": "idle", "to": "walk", "when": "speed > 1 or charge > 1"},
                {"from": "walk", "to": "rest", "when": "clip done and since(idle) < 2 s"},
                {"to": "idle", "when": "jump buffered 0.2 s"},
            ],
        }
    ],
    "squashes": [{"name": "landing", "high": 0.8}],
    "leans": [{"name": "in", "speeding": 1}],
    "takes": [
        {
            "name": "t",
            "ticks": 30,
            "begins": {
                "layers": [{"layer": "base", "state": "walk", "stay": 2}],
                "values": [{"name": "charge", "value": 1}],
                "presses": [{"name": "jump", "value": 2}],
                "left": [{"layer": "base", "state": "idle", "ticks": 3}],
            },
            "changes": [{"at": 1, "set": {"speed": 1}}],
            "expects": [{"what": "enter", "name": "walk"}],
            "second": {"x": 20, "changes": [{"at": 2, "set": {"braced": True}}]},
        }
    ],
    "contact": {"guards": "in base.idle"},
    "muted": [{"id": "clip.unused", "reason": "later"}],
    "course": {"shapes": [{"x": -200, "y": -20, "width": 400, "height": 20}]},
}
"""A small document that has something of everything."""

ROOT = inspect.type_info(Character)


def fields_of(kind: inspect.StructType) -> Iterator[inspect.Field]:
    return (one for one in kind.fields if one.name != "extra")


def all_fields() -> set[tuple[str, str]]:
    """Every field of the format, by the struct it stands in."""
    found: set[tuple[str, str]] = set()
    seen: set[str] = set()
    waiting: list[inspect.Type] = [ROOT]
    while waiting:
        kind = waiting.pop()
        if isinstance(kind, inspect.StructType) and kind.cls.__name__ not in seen:
            seen.add(kind.cls.__name__)
            found |= {(kind.cls.__name__, one.encode_name) for one in fields_of(kind)}
            waiting += [one.type for one in fields_of(kind)]
        waiting += [
            *getattr(kind, "types", ()),
            *(getattr(kind, name) for name in ("item_type",) if hasattr(kind, name)),
        ]
    return found


def slots(made: Any, kind: inspect.Type) -> Iterator[Slot]:
    """Every place of a document where something stands or could stand."""
    if isinstance(kind, inspect.UnionType):
        for one in kind.types:
            if isinstance(one, inspect.StructType) and isinstance(made, dict):
                yield from slots(made, one)
    elif isinstance(kind, inspect.StructType) and isinstance(made, dict):
        for one in fields_of(kind):  # type: ignore[assignment]
            yield kind.cls.__name__, one.encode_name, made, one.type  # type: ignore[attr-defined]
            if one.encode_name in made:  # type: ignore[attr-defined]
                yield from slots(made[one.encode_name], one.type)  # type: ignore[attr-defined]
    elif isinstance(kind, inspect.VarTupleType) and isinstance(made, list):
        for one in made:
            yield from slots(one, kind.item_type)


def value(pick: random.Random, kind: inspect.Type, deep: int = 0) -> Any:
    """Something of a kind."""
    match kind:
        case inspect.UnionType():
            return value(pick, pick.choice(kind.types), deep)
        case inspect.LiteralType():
            return pick.choice(kind.values)
        case inspect.NoneType():
            return None
        case inspect.BoolType():
            return pick.random() < 0.5
        case inspect.IntType():
            return pick.choice([0, 1, 2, 3, 4, 7, 30])
        case inspect.FloatType():
            return pick.choice(NUMBERS)
        case inspect.StrType():
            return pick.choice(TEXTS)
        case inspect.DictType():
            return {
                pick.choice(["0", "1", "x", "foot"]): value(pick, kind.value_type, deep)
                for _ in range(pick.randint(0, 2))
            }
        case inspect.VarTupleType():
            most = 2 if deep < 4 else 0
            count = (
                pick.choice([2, 4])
                if isinstance(kind.item_type, inspect.FloatType | inspect.IntType)
                else pick.randint(0, most)
            )
            return [value(pick, kind.item_type, deep + 1) for _ in range(count)]
        case inspect.StructType():
            return {
                one.encode_name: value(pick, one.type, deep + 1)
                for one in fields_of(kind)
                if one.required or pick.random() < 0.3
            }
    raise AssertionError(kind)


def put(pick: random.Random, slot: Slot) -> None:
    """Exchange what stands in a place, or add to a list there."""
    _, name, place, kind = slot
    if (
        isinstance(kind, inspect.VarTupleType)
        and isinstance(kind.item_type, inspect.StructType)
        and pick.random() < 0.7
    ):
        place[name] = [*place.get(name, []), value(pick, kind.item_type)]
    else:
        place[name] = value(pick, kind)
