"""Machines that are not as one would wish: garbled caches, homes nobody can write to, other locales, no name."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from leanstep.cli.result_cache import results_folder
from leanstep.core.character.files import dump, load
from leanstep.core.formats.handover import hand_over
from leanstep.core.formats.handover_source import Source
from leanstep.core.rehearsal.takes import rehearse, trace_csv
from tests.support.build import sketch, way

TINY = """
import sys
from leanstep.core import jit
@jit.kernel
def doubled(value):
    return value * 2
assert doubled(21) == 42
print("fine")
"""


def run(*words: str, **environment: str) -> subprocess.CompletedProcess[str]:
    """A command in an environment of its own."""
    env = {key: value for key, value in os.environ.items() if key not in ("XDG_CACHE_HOME", "NUMBA_CACHE_DIR")}
    env |= environment
    return subprocess.run(
        [sys.executable, *words], capture_output=True, text=True, errors="replace", env=env, timeout=240
    )


def tiny(folder: Path, **environment: str) -> subprocess.CompletedProcess[str]:
    """A program that compiles one small function and keeps it in the cache of ``folder``."""
    script = folder / "tiny.py"
    script.write_text(TINY)
    return run(str(script), XDG_CACHE_HOME=str(folder / "cache"), **environment)


@pytest.mark.long
@pytest.mark.parametrize("held", [b"", b"garbled", b"\x80\x04K\x01.", None])
def test_an_empty_garbled_or_cut_off_cache_is_compiled_again_silently(tmp_path: Path, held: bytes | None) -> None:
    assert tiny(tmp_path).stdout == "fine\n"
    kept = [path for path in (tmp_path / "cache").rglob("*.nb[ci]")]
    assert {path.suffix for path in kept} == {".nbi", ".nbc"}
    for suffix in (".nbc", ".nbi"):
        for path in kept:
            if path.suffix == suffix:
                path.write_bytes(path.read_bytes()[:-7] if held is None else held)
        again = tiny(tmp_path)
        assert again.stdout == "fine\n" and again.stderr == ""


@pytest.mark.long
def test_what_a_build_server_is_told_to_keep_holds_results_and_compiled_code(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    told = (Path(__file__).parents[2] / "docs" / "build-servers.md").read_text("utf-8")
    (name,) = set(re.findall(r"~/\.cache/([\w-]+)", told))
    tiny(tmp_path)
    assert {path.relative_to(tmp_path / "cache").parts[0] for path in tmp_path.rglob("*.nbi")} == {name}
    monkeypatch.delenv("LEANSTEP_RESULTS", raising=False)
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    assert results_folder().parent == tmp_path / "cache" / name


@pytest.mark.long
def test_a_cache_that_cannot_be_written_does_not_matter(tmp_path: Path) -> None:
    (tmp_path / "cache").write_text("a file where the folder should be")
    found = tiny(tmp_path)
    assert found.stdout == "fine\n" and found.stderr == ""
    assert tiny(tmp_path, HOME=str(tmp_path / "cache"), TMPDIR=str(tmp_path / "gone")).stdout == "fine\n"


@pytest.mark.skipif(os.geteuid() != 0 or not shutil.which("setpriv"), reason="only root may become somebody else")
def test_a_user_without_a_name_or_a_home(tmp_path: Path) -> None:
    words = ["setpriv", "--reuid=54321", "--clear-groups", sys.executable, "-c"]
    code = "import platformdirs; from leanstep.desk.autosave import state_folder; print(state_folder())"
    env = {key: value for key, value in os.environ.items() if key not in ("HOME", "XDG_CACHE_HOME", "LEANSTEP_STATE")}
    found = subprocess.run([*words, code], capture_output=True, text=True, env={**env, "QT_QPA_PLATFORM": "offscreen"})
    if "Permission denied" in found.stderr:
        pytest.skip("the checkout is not readable for others")
    assert found.returncode == 0, found.stderr


@pytest.mark.long
@pytest.mark.parametrize("locale", ["C", "POSIX", "en_US.ISO-8859-1", "C.UTF-8", "letters of latin-1 only"])
def test_other_locales_change_nothing_but_letters_they_do_not_have(tmp_path: Path, locale: str) -> None:
    # one file with a finding whose sentence has letters beyond ASCII
    file = tmp_path / "é.leanstep"
    file.write_bytes(dump(sketch(way("a>b", "nowhere > 3"))))
    if locale.startswith("letters"):
        environment = {"PYTHONIOENCODING": "latin-1"}
    else:
        environment = {"LC_ALL": locale, "LANG": locale, "PYTHONCOERCECLOCALE": "0", "PYTHONUTF8": "0"}
    found = run("-m", "leanstep.cli.main", "check", str(file), "--play", "0", **environment)
    assert found.returncode == 1 and "nowhere" in found.stdout and "Traceback" not in found.stderr


def test_version_and_help_load_nothing_that_computes() -> None:
    for word in ("--version", "--help"):
        code = (
            f"import sys; sys.argv = ['lean-step', '{word}']\nfrom leanstep.cli.main import main\ntry:\n    main()\n"
            + (
                "except SystemExit:\n    pass\nprint([m for m in ('numpy', 'numba', 'networkx', 'lark', 'PIL') if m in sys.modules])"
            )
        )
        assert run("-c", code).stdout.splitlines()[-1] == "[]"


def test_what_compiles_a_character_to_tables_does_not_load_the_compiler() -> None:
    for module in ("graph.machine", "conditions.checking", "naming.references"):
        code = f"import sys, leanstep.core.{module}\nprint('numba' in sys.modules)"
        assert run("-c", code).stdout.splitlines()[-1] == "False", module


@pytest.mark.long
def test_on_a_fresh_machine_what_plays_only_takes_waits_for_no_compiling(tmp_path: Path) -> None:
    demo = str(Path(__file__).parents[2] / "demo" / "ferry-hand.leanstep")
    character = load(Path(demo))
    take = character.takes[0].name
    cold, command = str(tmp_path / "cache"), ("-m", "leanstep.cli.main")
    wanted = ("--to", "table", "--to", "traces", "--out", str(tmp_path / "fresh"))
    made = run(*command, "export", demo, *wanted, XDG_CACHE_HOME=cold)
    assert made.returncode == 0, made.stderr
    told = run(*command, "rehearse", demo, "--take", take, "--format", "csv", XDG_CACHE_HOME=cold)
    assert told.returncode == 0, told.stderr
    assert not list(tmp_path.rglob("*.nbi"))
    # and it is what the compiled engine plays
    source = Source(Path(demo), character)
    for _, files in hand_over(source, ["table", "traces"]):
        for name, data in files.items():
            assert (tmp_path / "fresh" / name).read_bytes() == data, name
    assert told.stdout == trace_csv(rehearse(source.machine, character.takes[0]))
