"""Documents, conditions, images and CSV that nobody would write: valid ones spoilt at random, and text from nowhere.

The same seed gives the same input.
"""

from __future__ import annotations

import copy
import io
import json
import random
from typing import Any

import numpy as np
from PIL import Image

from leanstep.core.character.files import dump, load
from tests.support.build import DEMO
from tests.support.documents import WHOLE
from tests.support.random_characters import random_character, remembering_character, slow_character

WORDS = [
    "and",
    "or",
    "not",
    "for",
    "within",
    "between",
    "abs",
    "min",
    "max",
    "true",
    "false",
    "stay",
    "clip",
    "in",
    "at",
    "span",
    "since",
    "pressed",
    "released",
    "held",
    "buffered",
    "done",
    "s",
    "ms",
    "tick",
    "ticks",
    "base",
    "idle",
    "speed",
    "grounded",
    "mood",
    "calm",
    "jump",
    "stick.x",
    "haste",
    "p4",
    "<",
    "<=",
    "=",
    "!=",
    ">",
    ">=",
    "+",
    "-",
    "*",
    "/",
    "(",
    ")",
    ",",
    ".",
    '"base"."idle"',
    "0",
    "1",
    "0.5",
    "1e9",
    "1e308",
    "-1",
    "3ticks",
    "0.2s",
    "1e400",
    "9999999999999999999",
    "\x00",
    "é",
    "Ä",
    '"',
    "#",
    "@",
    ";",
    "\n",
    "\t",
]
ODD: list[Any] = [
    None, True, False, 0, -1, 1, 0.5, 1e308, -1e308, 1e15, 10**30, "", "x", "x" * 3000, "<img src=/etc/passwd>", "a\x00b", [],
    {}, [[]], [1, 2], {"a": 1}, "../up.png", "/etc/passwd", "speed > 1", "idle", "base", "ÄÖ", "\u202e", "1e6 s", 65537,
]  # fmt: skip


def condition(pick: random.Random) -> str:
    """A condition: words in any order, or one that makes sense with something put in, taken out or doubled."""
    if pick.random() < 0.4:
        return " ".join(pick.choice(WORDS) for _ in range(pick.choice([1, 2, 3, 5, 8, 20])))
    layer = random_character(pick.randrange(10_000)).layers[0]
    text = pick.choice(layer.transitions).when
    for _ in range(pick.randint(0, 3)):
        at = pick.randrange(len(text) + 1)
        what = pick.random()
        if what < 0.3:
            text = text[:at] + pick.choice(WORDS) + text[at:]
        elif what < 0.5:
            text = text[:at] + text[at + pick.randint(1, 6) :]
        elif what < 0.6:
            text = f"({text})" if pick.random() < 0.5 else f"not {text}"
        elif what < 0.65:
            text = (text + pick.choice([" or ", " and ", " + ", " "])) * pick.choice([2, 30, 300]) + text
        else:
            text = text[:at] + chr(pick.choice([0, 9, 34, 46, 0x301, 0x1F600, 0xFFFF])) + text[at:]
    return text


_SEEDS = sorted(DEMO.glob("*.leanstep"))
EXTREME = [
    0,
    -0.0,
    1e-300,
    -1e-300,
    1e-9,
    0.5,
    1,
    2,
    3,
    255,
    256,
    4096,
    65_536,
    1e5,
    1e6,
    -1e6,
    1e9,
    1e12,
    1e15,
    -1e15,
    1e300,
    -1e300,
]
"""Numbers that are put where others stood."""


def document(pick: random.Random) -> bytes:
    """A document: a valid one with fields changed, taken out, doubled and moved, or its bytes spoilt."""
    make = pick.choice([random_character, random_character, slow_character, remembering_character])
    if pick.random() < 0.1:
        data = json.dumps(WHOLE).encode()
    else:
        data = dump(load(pick.choice(_SEEDS)) if pick.random() < 0.3 else make(pick.randrange(10_000)))
    if pick.random() < 0.15:
        return _spoilt(pick, data)
    raw = json.loads(data)
    if pick.random() < 0.3:
        _exchange(pick, raw, pick.choice([0.02, 0.1, 0.5]))
    for _ in range(pick.choice([0, 1, 1, 2, 3, 6])):
        _spoil(pick, raw)
    return json.dumps(raw, ensure_ascii=pick.random() < 0.5).encode(errors="replace")


def _exchange(pick: random.Random, raw: Any, share: float) -> None:
    """Put extreme numbers in the place of a share of those there are."""
    for key in list(raw) if isinstance(raw, dict) else range(len(raw)):
        below = raw[key]
        if isinstance(below, dict | list):
            _exchange(pick, below, share)
        elif (
            isinstance(below, int | float)
            and not isinstance(below, bool)
            and key != "leanstep"
            and pick.random() < share
        ):
            raw[key] = pick.choice(EXTREME)


def _spoil(pick: random.Random, raw: Any) -> None:
    """Change one thing somewhere inside."""
    at = raw
    for _ in range(pick.choice([1, 2, 3, 4, 5, 6])):
        keys = list(at) if isinstance(at, dict) else list(range(len(at))) if isinstance(at, list) else []
        if not keys:
            return
        key = pick.choice(keys)
        below = at[key]
        if isinstance(below, dict | list) and below and pick.random() < 0.75:
            at = below
            continue
        what = pick.random()
        if what < 0.5:
            at[key] = copy.deepcopy(pick.choice(ODD))
        elif what < 0.6 and isinstance(below, str):
            at[key] = condition(pick)
        elif what < 0.75 and isinstance(below, int | float) and not isinstance(below, bool):
            at[key] = pick.choice([below * 1000, -below, below + 1, below / 7, 0, 1e6, 1e9])
        elif what < 0.85:
            del at[key]
        elif isinstance(at, list):
            at.insert(pick.randrange(len(at) + 1), copy.deepcopy(below))
        else:
            at[pick.choice(["name", "when", "extra", "from", "clip", "blend"])] = copy.deepcopy(below)
        return


def _spoilt(pick: random.Random, data: bytes) -> bytes:
    """Bytes with some of them changed, taken out or put in."""
    held = bytearray(data)
    for _ in range(pick.randint(1, 8)):
        at = pick.randrange(len(held)) if held else 0
        what = pick.random()
        if what < 0.4 and held:
            held[at] = pick.randrange(256)
        elif what < 0.6:
            held[at : at + pick.randint(1, 300)] = b""
        elif what < 0.8:
            held[at:at] = bytes(pick.randrange(256) for _ in range(pick.randint(1, 40)))
        else:
            return bytes(held[:at])
    return bytes(held)


def image(pick: random.Random) -> bytes:
    """An image of one of the formats that are read, spoilt or not."""
    size = (pick.randint(1, 40), pick.randint(1, 40))
    mode = pick.choice(["RGBA", "RGB", "L", "P", "1", "LA"])
    made = Image.fromarray(np.frombuffer(pick.randbytes(size[0] * size[1] * 4), np.uint8).reshape(size[1], size[0], 4))
    out = io.BytesIO()
    form = pick.choice(["PNG", "GIF", "BMP", "WEBP", "JPEG", "TIFF", "ICO", "PPM"])
    try:
        made.convert(mode).save(out, form)
    except (OSError, ValueError):
        made.save(out, "PNG")
    return out.getvalue() if pick.random() < 0.1 else _spoilt(pick, out.getvalue())


def table(pick: random.Random) -> str:
    """A take as CSV, spoilt or not."""
    names = [
        pick.choice(["tick", "jump", "speed", "stick.x", "mood", "world", "", "é", "nobody"])
        for _ in range(pick.randint(1, 5))
    ]
    cells = [
        "",
        "0",
        "1",
        "true",
        "2.5",
        "nan",
        "1e999",
        "calm",
        "-1",
        "x" * 200_000,
        '"',
        "\x00",
        "9" * 400,
        "0,5",
        " 3 ",
    ]
    rows = [",".join(["tick", *names] if pick.random() < 0.8 else names)]
    for tick in range(pick.choice([0, 1, 3, 20])):
        row = [
            str(pick.choice([tick, tick, tick, -1, 10**9])),
            *(pick.choice(cells) for _ in range(pick.randint(0, 6))),
        ]
        rows.append(",".join(row))
    text = pick.choice(["\n", "\r\n", "\r", "\n\n"]).join(rows)
    return text if pick.random() < 0.7 else _spoilt(pick, text.encode()).decode(errors="replace")


def log(pick: random.Random, trace: str, rows: str) -> str:
    """What a game might have logged: a trace as JSON or CSV, spoilt."""
    if pick.random() < 0.5:
        raw = json.loads(trace)
        for _ in range(pick.choice([1, 1, 2, 4])):
            _spoil(pick, raw)
        if pick.random() < 0.4:
            _exchange(pick, raw, 0.2)
        text = json.dumps(raw)
        return (
            text
            if pick.random() < 0.8
            else text.replace(": 1", pick.choice([": 1e999", ": NaN", ": -Infinity", ": [1]"]), 3)
        )
    lines = [line.split(",") for line in rows.splitlines()]
    for _ in range(pick.choice([1, 2, 5])):
        line = pick.choice(lines)
        line[pick.randrange(len(line))] = pick.choice(
            ["", "nan", "inf", "1e999", "-1", "x", "9" * 400, "0.5", "true", '"', "tick"]
        )
    text = "\n".join(map(",".join, lines))
    return text if pick.random() < 0.8 else _spoilt(pick, text.encode()).decode(errors="replace")


def baseline(pick: random.Random) -> bytes:
    """A SARIF file of an earlier check, spoilt."""
    result = {"ruleId": "x", "partialFingerprints": {"leanStep/v1": "0" * 64}, "rank": 1e3, "message": {"text": "a"}}
    raw: Any = {
        "version": "2.1.0",
        "runs": [{"tool": {"driver": {"name": "Lean Step"}}, "results": [result, dict(result)]}],
    }
    for _ in range(pick.choice([0, 1, 2, 4])):
        _spoil(pick, raw)
    if pick.random() < 0.2:
        return ("[" * pick.choice([10, 5000, 200_000])).encode()
    data = json.dumps(raw).encode()
    return data if pick.random() < 0.6 else _spoilt(pick, data)


GRAPH = """<scxml xmlns="http://www.w3.org/2005/07/scxml" version="1.0" datamodel="ecmascript" initial="a">
 <datamodel><data id="n" expr="1"/><data id="on" expr="false"/></datamodel>
 <state id="a" initial="b"><state id="b"><onentry><assign location="n" expr="n + 1"/>
   <send event="late" id="s" delay="200ms"/></onentry>
  <transition event="go" cond="n &gt; 2 &amp;&amp; !on" target="c"/></state>
  <state id="c"><onexit><raise event="left"/></onexit><transition event="late" target="d"/></state></state>
 <parallel id="d"><state id="e"><history id="h" type="deep"><transition target="f"/></history><state id="f"/></state>
  <state id="g"><transition cond="In('f')" target="h"/></state><final id="z"/></parallel>
</scxml>"""


def scxml(pick: random.Random) -> bytes:
    """A graph from another program, spoilt."""
    text = GRAPH
    words = [
        "a",
        "b",
        "c",
        "d",
        "e",
        "n",
        "on",
        "",
        "go",
        "late",
        "1e999",
        "n + (",
        "!" * 4000,
        "(" * 3000 + "n",
        "id",
        "state",
        "0ms",
    ]
    for _ in range(pick.choice([0, 1, 2, 4, 8])):
        what, parts = pick.random(), text.split('"')
        if what < 0.6 and len(parts) > 2:
            at = pick.randrange(1, len(parts), 2)
            parts[at] = pick.choice(words)
            text = '"'.join(parts)
        elif what < 0.8:
            tags = text.split("<")
            at, other = pick.randrange(1, len(tags)), pick.randrange(1, len(tags))
            tags[at] = tags[other] if pick.random() < 0.5 else ""
            text = "<".join(tags)
        else:
            text = text.replace(
                f' {pick.choice(["id", "target", "event", "expr", "delay", "location", "cond"])}="', ' x="', 1
            )
    coding = pick.choice(
        ["", "", '<?xml version="1.0" encoding="nobody-knows"?>', '<?xml version="1.0" encoding="utf-16"?>']
    )
    data = (coding + text).encode(errors="replace")
    if pick.random() < 0.1:
        data = b"<scxml>" + b"<state>" * pick.choice([50, 3000])
    return data if pick.random() < 0.8 else _spoilt(pick, data)
