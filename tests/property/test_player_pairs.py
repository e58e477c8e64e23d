"""Two figures in the players of games: what touches, and what that raises, is what it is on the course, to the last bit.

``LEANSTEP_LONG=1`` plays 1 000 pairs of 200 ticks.
"""

from __future__ import annotations

import math
import re
import struct
import subprocess
import sys
from pathlib import Path

import pytest

from leanstep.core.character.files import load
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.formats.golden import golden_pair
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.table import encoded
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.contact import Figure, Met, Side, meet
from leanstep.core.rehearsal.drawable import looks_left
from leanstep.core.rehearsal.pair_traces import PairTrace
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.tick.columns import Table as Laid
from leanstep.core.tick.table import table_of
from leanstep.runtime import At, Pair, Player, Table
from tests.property.test_pairs import LONG, TICKS, pair
from tests.property.test_players import HERE, tool
from tests.support.build import DEMO

PAIRS = 1000 if LONG else 40
WITHIN = Path(__file__).parents[1] / "support" / "players"


def table(machine: Machine) -> Laid:
    """The table of a machine, made once."""
    return machine.once(table_of, lambda: table_of(machine))


def bits(value: float) -> str:
    return struct.pack(">d", float(value)).hex()


def given(figure: Figure, before: Side, met: Side, row: dict[int, Symbolic]) -> str:
    """What a game sets on a tick: what the take does, and what the body tells; of sticks all that follows."""
    machine, now = figure.machine, met.situation.values
    told = {index for index, symbol in enumerate(machine.symbols) if symbol.owner in ("body", "controls")}
    values = {index: now[index] for index in told} | {index: row[index] for index in row if index not in told}
    words = {name: at for at, name in enumerate(table(machine).names.words)}
    return " ".join(
        f"{index}={bits(words[value] if isinstance(value, str) else value)}" for index, value in sorted(values.items())
    )


def place(figure: Figure, side: Side) -> tuple[float, float, float, float, float, float]:
    body, machine = side.situation.body, figure.machine
    above = machine.character.body.model == "above"
    along = math.sin(math.radians(body.facing)) if above else (1.0 if body.facing > 0 else -1.0)
    return body.x, body.y + body.lift, *figure.scale, along, float(looks_left(machine, body))


def told(figure: Figure, before: Side, side: Side) -> str:
    """What a player tells of a figure after a tick; a push is told once, and obeyed when time goes on."""
    machine, now = figure.machine, side.situation
    laid = table(machine)
    first = [row[1] for row in laid.sections["layers"]]
    words = {name: at for at, name in enumerate(laid.names.words)}
    states = ",".join(str(int(first[at] or 0) + state) for at, state in enumerate(now.states))
    values = ",".join(bits(words[value] if isinstance(value, str) else float(value)) for value in now.values)
    heads = ",".join(map(str, now.playheads))
    return f"{states}/{heads}/{now.freeze}/{values}/{bits(0.0 if before.situation.freeze else now.body.push)}"


def contacts(met: Met) -> str:
    found = []
    for who in (0, 1):
        for one in sorted(met.touches[who], key=lambda one: one.layer):
            stun = one.strike.guard_stun if one.guarded else one.strike.stun
            how = f"{2 if one.guarded else 1}:{stun}:{one.strike.freeze}:{bits(one.strike.push)}"
            found.append(f"{who}:{one.layer}:{how}")
    return ",".join(found)


def played(folder: Path) -> tuple[list[Path], str, int]:
    """Tables and what is set, and what should come out; how many strikes have met."""
    paths: list[Path] = []
    lines: list[str] = []
    touched = 0
    for seed in range(PAIRS):
        figures, sides, changes = pair(seed)
        files = [folder / f"{seed}.{name}" for name in ("one.json", "other.json", "txt")]
        for figure, file in zip(figures, files):
            file.write_bytes(encoded(table(figure.machine)))
        rows, text, now = [spread(some, TICKS) for some in changes], [], sides
        for inputs in zip(*rows):
            met = meet(*figures, now, (inputs[0], inputs[1]))
            said = [given(*some) for some in zip(figures, now, met.sides, inputs)]
            places = [" ".join(map(bits, place(*some))) for some in zip(figures, met.sides)]
            text.append("|".join([*said, *places]))
            lines.append(" ".join([*(told(*some) for some in zip(figures, now, met.sides)), contacts(met)]))
            touched += sum(map(len, met.touches))
            now = met.sides
        files[2].write_text("\n".join(text) + "\n")
        paths += files
    return paths, "".join(f"{line}\n" for line in lines), touched


@pytest.fixture(scope="module")
def pairs(tmp_path_factory: pytest.TempPathFactory) -> tuple[list[Path], str]:
    paths, wanted, touched = played(tmp_path_factory.mktemp("pairs"))
    assert touched > PAIRS / 2
    return paths, wanted


def same(made: str, wanted: str) -> None:
    if made == wanted:
        return
    # what differs is long: only the part of the first line that does is shown
    for number, (one, other) in enumerate(zip(made.splitlines(), wanted.splitlines())):
        for part, (here, there) in enumerate(zip(one.replace(" ", "/").split("/"), other.replace(" ", "/").split("/"))):
            if here != there:
                pytest.fail(f"line {number}, part {part}: {here} instead of {there}")
    pytest.fail("one is longer than the other")


@pytest.mark.long
def test_two_figures_do_the_same_in_the_player_in_python(pairs: tuple[list[Path], str]) -> None:
    paths, wanted = pairs
    made = []
    for at in range(0, len(paths), 3):
        figures = [Player(Table.load(str(path))) for path in paths[at : at + 2]]
        both = Pair(*figures)
        for line in paths[at + 2].read_text().splitlines():
            parts = line.split("|")
            ats = []
            for player, text in zip(figures, parts[:2]):
                for word in text.split():
                    index, value = word.split("=")
                    player._given[int(index)] = struct.unpack(">d", bytes.fromhex(value))[0]
                player.step()
            for text in parts[2:]:
                x, y, wide, high, along, left = (struct.unpack(">d", bytes.fromhex(one))[0] for one in text.split())
                ats.append(At(x, y, left != 0, wide, high, along))
            met = both.meet(*ats)
            words = [
                f"{one.who}:{one.layer}:{2 if one.guarded else 1}:{one.stun}:{one.freeze}:{bits(one.push)}"
                for one in met
            ]
            said = (
                f"{','.join(map(str, one.states))}/{','.join(map(str, one.heads))}/{one.freeze}/"
                f"{','.join(map(bits, one.values))}/{bits(one.pushed[0])}"
                for one in figures
            )
            made.append(f"{' '.join(said)} {','.join(words)}\n")
    same("".join(made), wanted)


def test_two_figures_do_the_same_in_the_player_in_javascript(pairs: tuple[list[Path], str]) -> None:
    words = [
        tool("node", "nodejs"),
        str(WITHIN / "pairs.mjs"),
        (HERE / "leanstep_player.mjs").as_uri(),
        *map(str, pairs[0]),
    ]
    done = subprocess.run(words, capture_output=True, text=True, check=True, timeout=600)
    same(done.stdout, pairs[1])


@pytest.mark.long
def test_two_figures_do_the_same_in_the_player_in_c(pairs: tuple[list[Path], str], tmp_path: Path) -> None:
    program = tmp_path / "pairs"
    strict = ["-std=c99", "-O2", "-ffp-contract=off", "-Wall", "-Wextra", "-Werror"]
    build = [tool("cc", "gcc", "clang"), *strict, f"-I{HERE}", str(WITHIN / "pairs.c"), "-lm", "-o", str(program)]
    subprocess.run(build, check=True, timeout=120)
    done = subprocess.run([str(program), *map(str, pairs[0])], capture_output=True, text=True, check=True, timeout=600)
    same(done.stdout, pairs[1])


# --- golden traces


def replaying(language: str, folder: Path) -> list[str]:
    """The command that replays golden traces."""
    if language == "Python":
        return [sys.executable, str(HERE / "leanstep_player.py")]
    if language == "JavaScript":
        return [tool("node", "nodejs"), str(HERE / "leanstep_replay.mjs")]
    program = folder / "replay"
    strict = ["-std=c99", "-O2", "-ffp-contract=off", "-Wall", "-Wextra", "-Werror"]
    build = [tool("cc", "gcc", "clang"), *strict, str(HERE / "leanstep_replay.c"), "-lm", "-o", str(program)]
    subprocess.run(build, check=True, timeout=120)
    return [str(program)]


@pytest.fixture(scope="module")
def goldens(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    """Two tables and a golden trace of two figures, for a number of pairs and for the takes of a demo."""
    folder, found = tmp_path_factory.mktemp("goldens"), []
    touched = 0
    for seed in range(PAIRS // 2):
        figures, sides, changes = pair(seed)
        both = PairTrace(figures, sides)
        for _ in both.play(changes, TICKS):
            pass
        tables = table(figures[0].machine), table(figures[1].machine)
        files = [folder / f"{seed}.{name}" for name in ("one.json", "other.json", "golden.txt")]
        for file, data in zip(files, map(encoded, tables)):
            file.write_bytes(data)
        text = golden_pair(both, tables, "tried", changes)
        met = [(tick, word) for tick, line in enumerate(re.findall("^met.*$", text, re.M)) for word in line.split()[1:]]
        assert met == [(one.tick, f"{one.who}:{one.touch.layer}:{1 + one.touch.guarded}") for one in both.contacts]
        touched += len(met)
        files[2].write_text(text)
        found += files
    assert touched > PAIRS / 4
    source = Source(DEMO / "fencing-teacher.leanstep", load(DEMO / "fencing-teacher.leanstep"))
    made = FORMATS["table"].make(source)
    for name, data in made.items():
        (folder / name).write_bytes(data)
    own, straw = folder / "fencing-teacher.table.json", folder / "fencing-teacher.straw man.table.json"
    for take, other in (("hit", straw), ("guarded", straw), ("whiffed", straw), ("bout", own)):
        found += [own, other, folder / f"fencing-teacher.{take}.pair.golden.txt"]
    return found


@pytest.mark.long
@pytest.mark.parametrize("language", ["Python", "JavaScript", "C"])
def test_golden_traces_of_two_figures_come_out_of_a_player_as_they_are(
    language: str, goldens: list[Path], tmp_path: Path
) -> None:
    words = [*replaying(language, tmp_path), *map(str, goldens)]
    done = subprocess.run(words, capture_output=True, text=True, check=True, timeout=600)
    same(done.stdout, "".join(path.read_text() for path in goldens[2::3]))
    alone = subprocess.run(
        [*words[: -len(goldens)], *map(str, (goldens[0], goldens[2]))], capture_output=True, text=True
    )
    assert alone.returncode == 1 and "behind both" in alone.stderr
