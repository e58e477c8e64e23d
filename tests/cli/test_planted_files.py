"""A file called like a library in the folder of a character is never run, however Lean Step is started there."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from leanstep import launching
from leanstep.core.findings import messages
from tests.support.build import DEMO

LIBRARIES = [
    "msgspec",
    "numpy",
    "numba",
    "scipy",
    "lark",
    "typer",
    "click",
    "rich",
    "PIL",
    "networkx",
    "platformdirs",
    "rectpack",
]
LIBRARIES += ["PySide6", "distributed", "dask", "evdev", "leanstep", "shellingham", "llvmlite", "yaml", "cloudpickle"]
STANDARD = [
    "json",
    "csv",
    "queue",
    "random",
    "concurrent",
    "multiprocessing",
    "zipfile",
    "difflib",
    "sitecustomize",
    "uuid",
]
COMMANDS = Path(sys.executable).parent
SPRUNG = "a trap was sprung"


@pytest.fixture
def trapped(tmp_path: Path) -> Path:
    """A folder with a character and a file for every library, which says so where it is run."""
    folder = tmp_path / "somebody's character"
    folder.mkdir()
    (folder / "hero.leanstep").write_bytes((DEMO / "harbour-cat.leanstep").read_bytes())
    trap = (
        f"import sys\nopen({str(tmp_path / 'sprung')!r}, 'a').write(__name__ + chr(10))\nraise SystemExit({SPRUNG!r})\n"
    )
    for name in (*LIBRARIES, *STANDARD):
        (folder / f"{name}.py").write_text(trap)
    return folder


def started(words: list[str], folder: Path, said: str = "", seconds: float = 120, **environment: str) -> str:
    """What a program says that is started in a folder; it is ended after some seconds."""
    kept = {"XDG_CACHE_HOME": os.environ.get("XDG_CACHE_HOME") or str(Path.home() / ".cache")}
    whole = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(folder.parent), **kept, **environment}
    try:
        done = subprocess.run(
            words, cwd=folder, env=whole, input=said, capture_output=True, text=True, timeout=seconds, check=False
        )
        return done.stdout + done.stderr
    except subprocess.TimeoutExpired as expired:
        return (expired.stdout or b"").decode() + (expired.stderr or b"").decode()


def nothing_sprung(folder: Path, said: str) -> None:
    trap = folder.parent / "sprung"
    assert not trap.exists(), trap.read_text()
    assert SPRUNG not in said


WAYS = {
    "batch": ["check", "hero.leanstep", "--play", "0", "--anew"],
    "several": ["check", ".", "hero.leanstep", "--jobs", "2", "--play", "0", "--anew"],
    "sweep": ["sweep", "hero.leanstep", "--takes", "4", "--ticks", "20", "--jobs", "2"],
    "export": ["export", "hero.leanstep", "--to", "table", "--out", "out"],
    "report": ["report", "hero.leanstep", "--out", "page.html"],
}


@pytest.mark.long
@pytest.mark.parametrize(
    ("way", "named"), [*((way, "") for way in WAYS), *((next(iter(WAYS)), named) for named in (".", "absolute"))]
)
def test_commands_run_nothing_of_the_folder(way: str, named: str, trapped: Path) -> None:
    if named:
        # what python itself reads on its way to us is not ours to keep out
        for name in [*STANDARD, "leanstep"]:
            (trapped / f"{name}.py").unlink()
    path = {"PYTHONPATH": str(trapped) if named == "absolute" else named} if named else {}
    said = started([str(COMMANDS / "lean-step"), *WAYS[way]], trapped, **path)  # type: ignore[arg-type]
    nothing_sprung(trapped, said)
    assert "Traceback" not in said


def test_completion_runs_nothing_of_the_folder(trapped: Path) -> None:
    said = started(
        [str(COMMANDS / "lean-step")],
        trapped,
        _LEAN_STEP_COMPLETE="complete_bash",
        COMP_WORDS="lean-step ch",
        COMP_CWORD="1",
    )
    nothing_sprung(trapped, said)
    assert "check" in said


@pytest.mark.long
def test_the_worker_runs_nothing_of_the_folder(trapped: Path) -> None:
    document = (trapped / "hero.leanstep").read_text("utf-8")
    asked = messages.line(messages.Check(1, str(trapped), document))
    pipe = subprocess.PIPE
    with subprocess.Popen(
        launching.words("leanstep.cli.worker"),
        cwd=trapped,
        env={**os.environ, "PYTHONPATH": str(trapped)},
        stdin=pipe,
        stdout=pipe,
    ) as worker:
        assert worker.stdin is not None and worker.stdout is not None
        worker.stdin.write(asked)
        worker.stdin.flush()
        said = next((line.decode() for line in worker.stdout if b'"report"' in line), "")
        worker.kill()
    nothing_sprung(trapped, said)
    assert said


def test_a_cluster_runs_nothing_of_the_folder(trapped: Path) -> None:
    (trapped / "leanstep.py").unlink()
    code = (
        "import sys; sys.path[:] = [one for one in sys.path if one]\n"
        "from leanstep import launching; launching.guard()\n"
        "from leanstep.cli import clusters; clusters.PATIENCE = 0.2\n"
        "try: clusters.client_of('tcp://127.0.0.1:1')\n"
        "except Exception as error: print('said', type(error).__name__)"
    )
    for name in STANDARD:
        (trapped / f"{name}.py").unlink()
    said = started([sys.executable, "-c", code], trapped, PYTHONPATH=".")
    nothing_sprung(trapped, said)
    assert "said LeanStepError" in said


@pytest.mark.long
def test_compiling_runs_nothing_of_the_folder(trapped: Path) -> None:
    code = "import leanstep.warm, leanstep.core.jit; print('loaded')"
    *words, _, _ = launching.words("leanstep.warm")
    said = started([*words, "-c", code], trapped, PYTHONPATH=str(trapped))
    nothing_sprung(trapped, said)
    assert "loaded" in said


@pytest.mark.long
def test_the_window_and_what_it_starts_run_nothing_of_the_folder(trapped: Path) -> None:
    said = started([str(COMMANDS / "lean-step-desk"), "hero.leanstep"], trapped, seconds=12)
    nothing_sprung(trapped, said)
    assert "Traceback" not in said


def test_the_menu_starts_the_window_so_that_folders_add_nothing() -> None:
    from leanstep.desk.integration import _command

    assert "-P" in _command() and "-E" in _command()
