"""Whether a change of the code changes anything else: digests of traces, verdicts and exported files, kept and compared.

``python -m tests.support.unchanged FILE`` writes them to a file that is not there yet, or compares with one that is, and names
what differs.  It takes some minutes.
"""

from __future__ import annotations

import hashlib
import json
import random
import re
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from msgspec.structs import replace
from typer.testing import CliRunner

from leanstep.cli.main import app
from leanstep.core.character.files import load
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.findings.report import check_character
from leanstep.core.formats.golden import golden, inputs_of
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.tick.table import table_of
from leanstep.core.work import Work
from tests.support.build import DEMO
from tests.support.random_characters import random_character

TRACES, VERDICTS, TICKS = 2000, 1000, 120
Digests = dict[str, str]


def digest(data: str | bytes) -> str:
    """A short digest."""
    return hashlib.sha256(data.encode() if isinstance(data, str) else data).hexdigest()[:24]


def traces(seed: int) -> str:
    """What a random character does for a while."""
    machine = compile_character(random_character(seed))
    rows = list(_rows(machine, random.Random(seed)))
    return digest(golden(machine, table_of(machine), str(seed), rows))


def _rows(machine: Machine, pick: random.Random) -> Iterator[dict[int, Symbolic]]:
    """Anything may change on any tick."""
    for _ in range(TICKS):
        row: dict[int, Symbolic] = {}
        for index in machine.free:
            one = machine.symbols[index]
            if pick.random() < 0.15:
                number = one.kind in ("number", "whole", "bearing")
                value = round(pick.uniform(max(one.low, -9.0), min(one.high, 9.0)), 0 if one.kind == "whole" else 1)
                row[index] = pick.choice(one.choices) if one.choices else value if number else pick.random() < 0.5
        yield row


def verdicts(seed: int) -> str:
    """All that a check says of a random character."""
    report = check_character(replace(random_character(seed), name=str(seed)), work=Work(4000, 500))
    said = report.to_json()
    del said["search"]["seconds"]
    return digest(json.dumps(said, sort_keys=True, ensure_ascii=False))


def of_demos() -> Iterator[tuple[str, str]]:
    """Traces of the demos' takes, and every file that can be made of the demos."""
    for path in sorted(DEMO.glob("*.leanstep")):
        machine = compile_character(load(path))
        for take in machine.character.takes:
            made = golden(machine, table_of(machine), take.name, inputs_of(rehearse(machine, take)))
            yield f"trace {path.stem} {take.name}", digest(made)
        with tempfile.TemporaryDirectory() as folder:
            done = CliRunner().invoke(app, ["export", str(path), "--to", "all", "--out", folder, "--play", "6000"])
            assert done.exit_code == 0, done.output
            for one in sorted(Path(folder).rglob("*")):
                if one.is_file():
                    # how long a check took is another one each time
                    data = re.sub(rb'("seconds": |time=")[0-9.]+', b"", one.read_bytes())
                    yield f"export {path.stem} {one.relative_to(folder)}", digest(data)


def main(kept: Path) -> int:
    """Write the digests, or compare them."""
    with ProcessPoolExecutor() as pool:
        found: Digests = {
            f"random trace {seed}": one for seed, one in enumerate(pool.map(traces, range(TRACES), chunksize=20))
        }
        found |= {f"verdicts {seed}": one for seed, one in enumerate(pool.map(verdicts, range(VERDICTS), chunksize=10))}
    found |= dict(of_demos())
    if not kept.exists():
        kept.write_text(json.dumps(found, indent=0))
        print(f"{len(found)} digests written")
        return 0
    before: Digests = json.loads(kept.read_text())
    other = [name for name in before.keys() | found.keys() if before.get(name) != found.get(name)]
    print(f"{len(found)} digests, {len(other)} differ", *sorted(other), sep="\n")
    return 1 if other else 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
