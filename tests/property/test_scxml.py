"""An interpreter that is not ours runs our SCXML: the same states are active after every tick.

``LEANSTEP_LONG=1`` plays every kind of random character, 200 of each.
"""

from __future__ import annotations

import json
import os
import random
import shutil
import subprocess
import sys
from collections.abc import Iterable, Mapping
from pathlib import Path
from xml.etree import ElementTree as Xml

import pytest

from leanstep.core.character.files import load
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.formats.golden import inputs_of
from leanstep.core.formats.scxml import ids_of, names_of, scxml
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import rehearse
from tests.property.test_engine_against_plain import anything
from tests.property.test_players import MAKERS, everything
from tests.support.build import DEMO

LONG = bool(os.environ.get("LEANSTEP_LONG"))
SEEDS, TICKS = (200, 200) if LONG else (16, 60)
RUN = Path(__file__).parents[1] / "support" / "readers" / "run_scxml.js"
READERS = Path(sys.prefix) / "readers" / "node_modules"
Played = list[tuple[Path, Path, list[str]]]


def add(played: Played, folder: Path, machine: Machine, inputs: Iterable[Mapping[int, Symbolic]]) -> None:
    """A document, its inputs, and the states that should be active after every tick."""
    rows, ids, stepper, wanted = list(inputs), ids_of(machine), Stepper(machine, free=True), []
    names = names_of(machine)
    now = stepper.first()
    for row in rows:
        now = stepper.step(now, dict(row)).situation
        wanted.append(" ".join(sorted(["clockwork", *(ids[layer][state] for layer, state in enumerate(now.states))])))
    paths = folder / f"{len(played)}.scxml", folder / f"{len(played)}.json"
    paths[0].write_bytes(scxml(machine))
    paths[1].write_text(json.dumps([{names[at]: value for at, value in row.items()} for row in rows]))
    played.append((*paths, wanted))


def agree(played: Played) -> None:
    node = shutil.which("node") or shutil.which("nodejs")
    if node is None or not READERS.is_dir():
        pytest.skip("no SCXML interpreter is installed: ./test installs one where there are node and npm")
    words = [node, str(RUN), *(str(path) for document, inputs, _ in played for path in (document, inputs))]
    environment = {**os.environ, "NODE_PATH": str(READERS)}
    done = subprocess.run(words, env=environment, capture_output=True, text=True, timeout=1800, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    told = iter(done.stdout.splitlines())
    for document, _, wanted in played:
        for tick, line in enumerate(wanted):
            assert next(told) == line, f"{document.name}, tick {tick}"
    assert next(told, None) is None


@pytest.mark.long
def test_every_take_of_every_demo_runs_the_same_elsewhere(tmp_path: Path) -> None:
    played: Played = []
    for path in sorted(DEMO.glob("*.leanstep")):
        machine = compile_character(load(path))
        for take in machine.character.takes:
            add(played, tmp_path, machine, inputs_of(rehearse(machine, take)))
    assert len(played) > 6 and any("base.climb" in line for _, _, wanted in played for line in wanted)
    agree(played)


@pytest.mark.long
@pytest.mark.parametrize("kind", list(MAKERS))
def test_random_characters_run_the_same_elsewhere(kind: str, tmp_path: Path) -> None:
    played: Played = []
    for seed in range(SEEDS):
        machine = compile_character(MAKERS[kind](seed))
        add(played, tmp_path, machine, spread(anything(random.Random(seed), machine, TICKS), TICKS))
    agree(played)


def test_names_of_every_kind_become_ids_of_their_own(tmp_path: Path) -> None:
    machine = compile_character(everything())
    played: Played = []
    add(played, tmp_path, machine, spread(anything(random.Random(4), machine, 300), 300))
    assert len({state for line in played[0][2] for state in line.split()}) > 4
    tree = Xml.fromstring(played[0][0].read_bytes())
    ids = [element.get("id") for element in tree.iter() if element.get("id")]
    assert len(ids) == len(set(ids))
    agree(played)
