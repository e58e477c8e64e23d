"""Findings for people without Lean Step: the page whose witnesses play, and witnesses as moving pictures."""

from __future__ import annotations

import dataclasses
import io
import json
import math
import os
import random
import re
import shutil
import subprocess
import sys
from functools import cache
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from msgspec.structs import replace
from PIL import Image

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import Layer, State
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.formats.animations import sheets_of
from leanstep.core.formats.html import page
from leanstep.core.formats.witness import given_words, moving_witness
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import DEMO, sketch, way

OPEN = Path(__file__).parents[1] / "support" / "readers" / "open_page.js"
READERS = Path(sys.prefix) / "readers" / "node_modules"
FAULTY = load(DEMO / "lamplighter-faulty.leanstep")


@cache
def report() -> Report:
    return check_character(FAULTY, DEMO)


@cache
def written() -> str:
    return page(FAULTY, report(), DEMO)


class Elements(HTMLParser):
    """What elements a page has, and what they point to."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[tuple[str, dict[str, str | None]]] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.found.append((tag, dict(attrs)))


def elements(text: str) -> list[tuple[str, dict[str, str | None]]]:
    reader = Elements()
    reader.feed(text)
    return reader.found


def data_of(text: str) -> Any:
    found = re.search(r'<script type="application/json" id="data">(.*?)</script>', text, re.DOTALL)
    assert found is not None
    return json.loads(found[1])


@pytest.mark.long
def test_a_page_points_to_nothing_outside_and_has_a_stage_for_every_witness() -> None:
    found = elements(written())
    for _, attributes in found:
        for name in ("src", "href"):
            assert (attributes.get(name) or "data:").startswith("data:")
    assert "http" not in re.sub(r"data:[^\"]*", "", written())
    stages = [attributes for tag, attributes in found if tag == "section" and "data-witness" in attributes]
    assert (
        len(stages) == len(data_of(written())["witnesses"]) == sum(one.witness is not None for one in report().findings)
    )
    assert sum(tag == "canvas" for tag, _ in found) == len(stages)


def test_a_witness_on_a_page_is_what_was_found() -> None:
    machine = compile_character(FAULTY)
    data = data_of(written())
    findings = [one for one in report().findings if one.witness is not None]
    for made, finding in zip(data["witnesses"], findings):
        assert finding.witness is not None
        trace = rehearse(machine, finding.witness)
        assert len(made["inputs"]) == len(made["bodies"]) == len(made["words"]) == len(trace.steps)
        assert [row[0] for row in made["states"]] == trace.states(0)
    assert data["image"].startswith("data:image/png;base64,") and len(data["frames"]) > 20


@pytest.mark.long
def test_without_pictures_there_are_ribbons_and_states_all_the_same(tmp_path: Path) -> None:
    text = page(FAULTY, report(), tmp_path)
    assert data_of(text)["image"] == "" and len(data_of(text)["witnesses"]) > 5
    assert data_of(page(FAULTY, report()))["frames"] == []


def test_names_cannot_break_out_of_a_page() -> None:
    name = "</script><script>alert(1)</script>"
    character = sketch(way("a>b", "jump pressed"))
    states = character.layers[0].states
    layer = replace(
        character.layers[0],
        states=(states[0], replace(states[1], name=name)),
        transitions=(way(f"a>{name}", "jump pressed"),),
    )
    bad = replace(character, name=name, layers=(layer,))
    text = page(bad, check_character(bad))
    assert [tag for tag, _ in elements(text)].count("script") == 2 and "alert(1)</script><" not in text


def layered() -> Character:
    """A figure of two layers, the front of which is clear now and then, and whose drawings look left."""
    clips = (
        Clip(
            name="walk",
            sheet="lamplighter",
            loop="repeat",
            cels=(Cel(frame=0, ticks=2), Cel(frame=3, ticks=2, mirrored=True, turns=1)),
        ),
        Clip(
            name="lamp",
            sheet="lamplighter",
            loop="repeat",
            facing="left",
            cels=(Cel(frame=7, ticks=3), Cel(frame=9, ticks=1, turns=3)),
        ),
    )
    back = Layer(
        name="back",
        states=(State(name="a", clip="walk"), State(name="b", clip="lamp")),
        transitions=(way("a>b", "speed > 1"), way("b>a", "speed < 2")),
    )
    front = Layer(
        name="front",
        states=(State(name="clear", clip="lamp", clear=True), State(name="thick", clip="walk"), State(name="gone")),
        transitions=(way("clear>thick", "rise > 1"), way("thick>clear", "rise < 2"), way("clear>gone", "jump pressed")),
    )
    return replace(FAULTY, clips=clips, blends=(), layers=(back, front), takes=(), squashes=(), leans=(), muted=())


def turned(degrees: float) -> np.ndarray:
    """What turns clockwise, where down is positive."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array(((c, -s), (s, c)))


@pytest.mark.long
@pytest.mark.parametrize("character", [FAULTY, layered()], ids=["faulty", "layered"])
def test_a_page_draws_what_the_desk_draws(character: Character, tmp_path: Path) -> None:
    node = shutil.which("node") or shutil.which("nodejs")
    if node is None:
        pytest.skip("it needs node; ./test says how")
    machine, path = compile_character(character), tmp_path / "page.html"
    takes = [one.witness for one in check_character(character, DEMO).findings if one.witness is not None]
    text = page(character, check_character(character, DEMO), DEMO)
    path.write_text(text)
    frames = {one["name"]: one for one in data_of(text)["frames"]}
    traces = [rehearse(machine, take) for take in takes]
    asked: list[tuple[int, list[int]]] = [
        (at, random.Random(at).sample(range(len(trace.steps)), min(10, len(trace.steps))))
        for at, trace in enumerate(traces)
    ]
    script = Path(__file__).parents[1] / "support" / "players" / "draws.mjs"
    done = subprocess.run(
        [node, str(script), str(path)], input=json.dumps(asked), capture_output=True, text=True, timeout=120, check=True
    )
    told = json.loads(done.stdout)
    assert told["differs"] == ""
    compared = bent = 0
    witnesses = data_of(text)["witnesses"]
    for (at, ticks), drawn in zip(asked, told["found"]):
        for tick, calls in zip(ticks, drawn):
            situation = traces[at].steps[tick].situation
            # what a crossfade leaves is not drawn on a page
            now = dataclasses.replace(situation, fades=(None,) * len(situation.fades))
            pieces = of_situation(machine, now, traces[at].deformed(tick)).pieces
            for piece, call in zip(pieces, calls, strict=True):
                frame = frames[f"{piece.sheet}/{piece.frame}"]
                assert call["at"] == [frame["x"], frame["y"], *frame["trim"][2:]]
                shape = traces[at].deformed(tick)
                high = shape.high
                if shape.whole_pixels and frame["foot"][1] >= 1:
                    high = max(1.0, round(frame["foot"][1] * high)) / frame["foot"][1]
                lies = turned(shape.lean) @ np.diag((shape.wide, high)) @ turned(piece.turn)
                lies = lies @ np.diag((-1.0 if piece.mirrored else 1.0, 1.0)) * witnesses[at]["scale"]
                assert np.allclose(np.array(call["lie"][:4]).reshape(2, 2).T, lies, atol=2e-3)
                compared += 1
                bent += not shape.plain
    assert compared > 8 and (bent > 2) == bool(character.squashes)


def test_a_page_opens_in_a_browser_and_its_witnesses_play(tmp_path: Path) -> None:
    browser, node = shutil.which("chromium"), shutil.which("node") or shutil.which("nodejs")
    if not os.environ.get("LEANSTEP_LONG"):
        pytest.skip("a longer run: LEANSTEP_LONG=1")
    if browser is None or node is None or not READERS.is_dir():
        pytest.skip("it needs chromium, node and what ./test installs from npm")
    path = tmp_path / "page.html"
    path.write_text(written())
    done = subprocess.run(
        [node, str(OPEN), str(path), browser], env={**os.environ, "NODE_PATH": str(READERS)},
        capture_output=True, text=True, timeout=600, check=True,
    )  # fmt: skip
    told = json.loads(done.stdout)
    assert told["errors"] == [] and told["differs"] == "" and told["requests"] == [f"file://{path}"]
    ticks = [len(one["inputs"]) - 1 for one in data_of(written())["witnesses"]]
    assert [int(line.split()[1].rstrip(":")) for line in told["ends"]] == ticks


def test_a_witness_is_a_moving_picture_with_sentence_and_ribbon() -> None:
    machine = compile_character(FAULTY)
    sheets = sheets_of(FAULTY, FAULTY.clips, DEMO)
    finding = next(one for one in report().findings if one.id == "flicker.restart")
    assert finding.witness is not None
    read = Image.open(io.BytesIO(moving_witness(machine, finding, sheets)))
    shown = []
    for number in range(read.n_frames):  # type: ignore[attr-defined]
        read.seek(number)
        shown.append((read.convert("RGB"), read.info["duration"]))
    assert len(shown) == finding.witness.ticks and shown[0][1] == pytest.approx(1000 / 60, abs=1)
    assert shown[-1][1] > 1000 and shown[0][0].size[0] == 640
    # the line on the ribbon goes to the right
    ink = [max(x for x in range(16, 624) if one.getpixel((x, one.height - 18)) == (42, 38, 32)) for one, _ in shown]
    assert ink == sorted(set(ink))
    bare = Image.open(io.BytesIO(moving_witness(machine, finding, {})))
    assert bare.n_frames == len(shown)  # type: ignore[attr-defined]


@pytest.mark.long
def test_a_long_witness_is_drawn_every_second_tick() -> None:
    machine = compile_character(FAULTY)
    finding = next(one for one in report().findings if one.witness is not None and one.witness.ticks > 300)
    assert finding.witness is not None
    read = Image.open(io.BytesIO(moving_witness(machine, finding, {})))
    total = 0.0
    for number in range(read.n_frames):  # type: ignore[attr-defined]
        read.seek(number)
        total += read.info["duration"]
    assert read.n_frames <= 301  # type: ignore[attr-defined]
    assert total == pytest.approx((min(finding.witness.ticks, 600) / 60 + 1) * 1000, abs=40)


def test_what_is_done_is_told_tick_by_tick() -> None:
    machine = compile_character(FAULTY)
    take = next(one for one in FAULTY.takes if one.name == "walk-and-jump")
    words = given_words(machine, take, take.ticks)
    assert len(words) == take.ticks and any("jump" in one for one in words) and "" in words


def test_a_finding_without_a_witness_is_no_picture() -> None:
    finding = next(one for one in report().findings if one.witness is None)
    with pytest.raises(LeanStepError, match="no witness"):
        moving_witness(compile_character(FAULTY), finding, {})
