"""Run ``python -m benchmarks.handover``: players, atlases, checks of many files, and handing everything over."""

from __future__ import annotations

import json
import os
import random
import shutil
import statistics
import struct
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from rich.console import Console
from rich.table import Table

from benchmarks import sized, timed
from leanstep import runtime
from leanstep.core.character.files import dump, load
from leanstep.core.formats.atlas import Packing, encoded, packed
from leanstep.core.formats.handover import FORMATS, hand_over
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.written_files import write
from leanstep.runtime import Player
from leanstep.runtime import Table as PlayedTable
from tests.support.random_characters import random_character, remembering_character

HERE = Path(__file__).parent
DEMO = HERE.parent / "demo" / "lamplighter.leanstep"
TAKE = "ladder-and-lamp"
HANDED = sized(DEMO, HERE.parent / "demo" / "harbour-cat.leanstep")
"""What is handed over as everything it can be."""
FRAMES, FILES, RUNS = sized((2000, 200, 5), (40, 2, 1))


def main() -> None:
    """Measure, and show the figures."""
    table = Table("what", "figure", "asked")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for row in (*players(folder), *atlas(), *handing_over(folder), *many(folder)):
            table.add_row(*row)
    Console().print(table)


def median(work: Callable[[], float]) -> float:
    """The median of some runs."""
    return statistics.median(work() for _ in range(RUNS))


def players(folder: Path) -> list[tuple[str, str, str]]:
    """Ticks a second of each player, on a take of the demo again and again."""
    source = Source(DEMO, load(DEMO))
    for key in ("table", "players"):
        write(FORMATS[key].make(source), folder)
    made, golden = folder / "lamplighter.table.json", folder / f"lamplighter.{TAKE}.golden.txt"
    table = PlayedTable(json.loads(made.read_text()))
    rows = [
        [
            (int(at), struct.unpack(">d", bytes.fromhex(bits))[0])
            for at, bits in map(_pair, line.split()[1:])
            if at != "body"
        ]
        for line in golden.read_text().splitlines()
        if line.startswith("in")
    ]

    def in_python() -> float:
        player = Player(table)

        def play() -> None:
            for row in rows:
                player._given.update(row)
                player.step()

        return len(rows) / timed(play)

    found = [("Python player, ticks a second", f"{median(in_python):,.0f}", "20,000")]
    if compiler := shutil.which("cc"):
        program = folder / "players"
        words = [compiler, "-std=c99", "-O2", f"-I{folder}", str(HERE / "players.c"), "-lm", "-o", str(program)]
        subprocess.run(words, check=True)
        ticks = median(lambda: _said([str(program), str(made), str(golden), str(sized(2_000_000, 2_000))]))
        found.append(("C player, ticks a second", f"{ticks:,.0f}", "3,000,000"))
    if node := shutil.which("node"):
        player = Path(runtime.__file__).with_name("leanstep_player.mjs")
        ticks = median(
            lambda: _said(
                [node, str(HERE / "players.mjs"), str(player), str(made), str(golden), str(sized(300_000, 300))]
            )
        )
        found.append(("JavaScript player, ticks a second", f"{ticks:,.0f}", "500,000"))
    return found


def _pair(word: str) -> list[str]:
    return word.split("=")


def _said(words: list[str]) -> float:
    return float(subprocess.run(words, capture_output=True, text=True, check=True).stdout)


def atlas() -> list[tuple[str, str, str]]:
    """Frames of many sizes packed, drawn and written."""
    pick = random.Random(1)
    pictures = {
        at: np.full((pick.randint(40, 96), pick.randint(24, 70), 4), at % 256, np.uint8) for at in range(FRAMES)
    }
    sizes = {at: (one.shape[1], one.shape[0]) for at, one in pictures.items()}
    filled = 0.0

    def pack() -> None:
        nonlocal filled
        places, pages = packed(sizes, Packing())
        drawn = [np.zeros((height, width, 4), np.uint8) for width, height in pages]
        for at, (page, x, y, _) in places.items():
            drawn[page][y : y + sizes[at][1], x : x + sizes[at][0]] = pictures[at]
        for one in drawn:
            encoded(one)
        filled = sum(width * height for width, height in sizes.values()) / sum(
            width * height for width, height in pages
        )

    seconds = median(lambda: timed(pack))
    return [(f"an atlas of {FRAMES} frames", f"{seconds:.2f} s, {filled:.1%} filled", "3 s, 85 %")]


def handing_over(folder: Path) -> list[tuple[str, str, str]]:
    """Everything the demo can be handed over as, once it is checked."""
    checked = Source(HANDED, load(HANDED)).report

    def everything() -> None:
        source = Source(HANDED, load(HANDED), checked=checked)
        made = {name: data for _, files in hand_over(source, FORMATS) for name, data in files.items()}
        write(made, folder / "everything")

    return [("everything the demo can be", f"{median(lambda: timed(everything)):.2f} s", "3 s")]


def many(folder: Path) -> list[tuple[str, str, str]]:
    """Many files checked on one process and on two, turn by turn, and again when nothing has changed."""
    characters = folder / "characters"
    characters.mkdir()
    for number in range(FILES):
        made = random_character(number) if number % 2 else remembering_character(number)
        (characters / f"c{number:03}.leanstep").write_bytes(dump(made))

    def check(*words: str) -> float:
        command = [str(Path(sys.executable).with_name("lean-step")), "check", str(characters), *words]
        environment = {**os.environ, "LEANSTEP_RESULTS": str(folder / "results")}
        return timed(lambda: subprocess.run(command, env=environment, capture_output=True, check=False))

    ones, twos = [], []
    for _ in range(min(3, RUNS)):
        ones.append(check("--anew", "--jobs", "1"))
        twos.append(check("--anew", "--jobs", "2"))
    check()
    again = statistics.median(check() for _ in range(RUNS))
    ratio = statistics.median(ones) / statistics.median(twos)
    return [
        (f"{FILES} files on two processes", f"{ratio:.2f} times as fast", "1.6 times"),
        (f"{FILES} files that have not changed", f"{again:.2f} s", "1.5 s"),
    ]


if __name__ == "__main__":
    main()
