"""Feed the program what nobody would write, for long: ``python -m tests.fuzz --conditions 200000 --documents 30000``.

Everything must end in a result or in a sentence: no exception, nothing over ten seconds, no more than a gigabyte.
"""

from __future__ import annotations

import argparse
import json
import math
import os
import random
import resource
import sys
import tempfile
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path

from leanstep.cli.batch import known_of
from leanstep.core.character.files import dump, parse
from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.grammar import ConditionError
from leanstep.core.conditions.grammar import parse as parse_condition
from leanstep.core.conditions.printing import reading, text_of
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.formats.scxml_in import bring_in
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.comparing.difference import compare
from leanstep.core.rehearsal.comparing.logs import log_of
from leanstep.core.rehearsal.takes import rehearse, take_from_csv, trace_csv, trace_json
from leanstep.core.sheets.reading import read_image
from leanstep.core.work import Work
from tests.fuzz import inputs
from tests.property.test_damaged_tables import bases, damaged, python_player
from tests.support.build import sketch, way

HANG = 10.0
"""Seconds that nothing may take when it is fed for long; a test of the suite, which shares its machine, does not look."""
MACHINE = compile_character(sketch(way("a>b", "speed > 3"), way("b>a", "jump pressed")))


def one_condition(pick: random.Random) -> None:
    """Read, print, read aloud and compile a condition."""
    text = inputs.condition(pick)
    try:
        node = parse_condition(text)
    except ConditionError:
        return
    assert parse_condition(text_of(node)) == node, text
    reading(node)
    compile_character(sketch(way("a>b", text)))


def one_document(pick: random.Random, checked: bool) -> None:
    """Open a document, compile it, save it, and if asked check it for a second."""
    try:
        character = parse(inputs.document(pick))
    except LeanStepError:
        return
    assert parse(dump(character)) == character
    compile_character(character)
    if checked:
        check_character(character, Path("/nowhere"), work=Work(play=200, seconds=1.0))


def one_image(pick: random.Random, place: Path) -> None:
    """Read an image."""
    place.write_bytes(inputs.image(pick))
    try:
        read_image(place)
    except LeanStepError:
        return


def one_table(pick: random.Random) -> None:
    """Read a take from CSV."""
    try:
        take_from_csv(inputs.table(pick), "take.csv", MACHINE)
    except LeanStepError:
        return


def one_log(pick: random.Random) -> None:
    """Compare what a game logged."""
    trace, rows = _logged()
    try:
        compare(MACHINE, log_of(inputs.log(pick, trace, rows), "log", MACHINE))
    except LeanStepError:
        return


@cache
def _logged() -> tuple[str, str]:
    """A trace as JSON and as CSV."""
    take = Take(name="t", ticks=12, changes=(Change(at=2, set={"speed": 5.0}), Change(at=6, set={"jump": True})))
    trace = rehearse(MACHINE, take)
    return trace_json(trace, "t"), trace_csv(trace)


def one_baseline(pick: random.Random, place: Path) -> None:
    """Read the findings an earlier check knew."""
    place.write_bytes(inputs.baseline(pick))
    try:
        known_of(place)
    except LeanStepError:
        return


def one_graph(pick: random.Random) -> None:
    """Bring a graph in from SCXML."""
    try:
        compile_character(bring_in(inputs.scxml(pick), "graph", "graph.scxml").character)
    except LeanStepError:
        return


def one_game_table(pick: random.Random) -> None:
    """Load the table of a game that somebody tampered with."""
    text, _ = damaged(pick.randrange(10**9), _whole_tables())
    player = _player()
    try:
        player.Table(json.loads(text))
    except (player.TableError, ValueError):
        return


_whole_tables, _player = cache(bases), cache(python_player)


def feed(
    name: str, times: int, one: Callable[[random.Random, int], None], seed: int = 0, hang: float = math.inf
) -> list[str]:
    """Do something so many times; everything that went wrong."""
    wrong, began = [], time.perf_counter()
    # other tests in this process may have needed more at once
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    for number in range(times):
        start = time.perf_counter()
        try:
            one(random.Random(f"{name} {seed + number}"), number)
        except Exception as error:  # everything that is raised is what is looked for
            wrong.append(f"{name} {seed + number}: {error!r}"[:300])
        if time.perf_counter() - start > hang:
            wrong.append(f"{name} {seed + number}: {time.perf_counter() - start:.1f} s")
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    if most > max(1024, before + 256):
        wrong.append(f"{name}: {most:.0f} MB")
    print(
        f"{name}: {times} in {time.perf_counter() - began:.0f} s, {most:.0f} MB at most, {len(wrong)} wrong", flush=True
    )
    return wrong


def everything(
    conditions: int,
    documents: int,
    checked: int,
    images: int,
    tables: int,
    logs: int = 0,
    seed: int = 0,
    hang: float = math.inf,
) -> list[str]:
    """Feed the core; everything that went wrong."""
    every = max(1, documents // max(1, checked))
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "image"
        return [
            *feed("conditions", conditions, lambda pick, number: one_condition(pick), seed, hang),
            *feed("tables", tables, lambda pick, number: one_table(pick), seed, hang),
            *feed("logs", logs, lambda pick, number: one_log(pick), seed, hang),
            *feed("baselines", logs, lambda pick, number: one_baseline(pick, place), seed, hang),
            *feed("graphs", logs, lambda pick, number: one_graph(pick), seed, hang),
            *feed("game tables", logs, lambda pick, number: one_game_table(pick), seed, hang),
            *feed("images", images, lambda pick, number: one_image(pick, place), seed, hang),
            *feed(
                "documents",
                documents,
                lambda pick, number: one_document(pick, number % every == 0 and checked > 0),
                seed,
                hang,
            ),
        ]


def hands(actions: int, seed: int = 0) -> list[str]:
    """Use the window; everything that went wrong."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from tests.fuzz.hands import Hands

    with tempfile.TemporaryDirectory() as folder:
        os.environ["LEANSTEP_STATE"] = str(Path(folder) / "state")
        began = time.perf_counter()
        used = Hands(Path(folder), seed, HANG)
        wrong = used.run(actions)
        print(
            f"actions: {actions} in {time.perf_counter() - began:.0f} s, slowest {used.slowest:.2f} s, {len(wrong)} wrong",
            flush=True,
        )
    return wrong


def main() -> None:
    """Feed as much as asked, and say what went wrong."""
    words = argparse.ArgumentParser(description=__doc__)
    for name in ("conditions", "documents", "checked", "images", "tables", "logs", "actions", "seed"):
        words.add_argument(f"--{name}", type=int, default=0)
    asked = words.parse_args()
    counts = (asked.conditions, asked.documents, asked.checked, asked.images, asked.tables, asked.logs)
    wrong = everything(*counts, asked.seed, HANG)
    if asked.actions:
        wrong += hands(asked.actions, asked.seed)
    print("\n".join(wrong) or "Nothing went wrong.")
    sys.exit(bool(wrong))


if __name__ == "__main__":
    main()
