"""On the desk of a Linux user: menu, icons, files that open by a double click, and completion; and out again."""

from __future__ import annotations

import configparser
import os
import subprocess
import sys
import xml.etree.ElementTree as Xml
from pathlib import Path

import pytest
from PIL import Image

from leanstep.core.character.files import dump
from leanstep.desk.icon import SIZES, drawn
from leanstep.desk.integration import MIME, integrate, take_out
from tests.support.build import DEMO, sketch, way

ASK = (
    "import sys; from PySide6.QtCore import QMimeDatabase as D, QCoreApplication as A; A([]); "
    "print(*[D().mimeTypeForFile(p, D.MatchMode.MatchContent).name() for p in sys.argv[1:]])"
)


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The user's folder for data."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    return tmp_path / "data"


def test_everything_is_put_in_and_taken_out_again(home: Path) -> None:
    written = integrate('"/opt/lean step/lean-step-desk"')
    assert all(path.is_file() and home in path.parents for path in written)
    entry = configparser.RawConfigParser(strict=True)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(home / "applications" / "org.leanstep.Desk.desktop")
    main = entry["Desktop Entry"]
    assert main["Exec"] == '"/opt/lean step/lean-step-desk" %f' and main["MimeType"] == f"{MIME};"
    for size in SIZES:
        for place in ("apps/lean-step.png", "mimetypes/application-x-leanstep+json.png"):
            picture = Image.open(home / "icons" / "hicolor" / f"{size}x{size}" / place)
            assert picture.size == (size, size) and picture.convert("RGBA").getcolors(1) is None
    info = Xml.parse(home / "metainfo" / "org.leanstep.Desk.metainfo.xml").getroot()
    assert info.findtext("launchable") == "org.leanstep.Desk.desktop" and info.findtext("provides/mediatype") == MIME
    assert set(take_out()) == set(written)
    assert not any(path.exists() for path in written) and take_out() == []


def test_files_are_known_by_their_content(home: Path, tmp_path: Path) -> None:
    integrate("lean-step-desk")
    if not (home / "mime" / "mime.cache").exists():
        pytest.skip("update-mime-database is not installed")
    paths = []
    for number, data in enumerate(
        ((DEMO / "lamplighter.leanstep").read_bytes(), dump(sketch(way("a>b"))), b'{"a": 1}\n')
    ):
        path = tmp_path / f"file{number}"
        path.write_bytes(data)
        paths.append(str(path))
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    told = subprocess.run(
        [sys.executable, "-c", ASK, *paths], env=environment, capture_output=True, text=True, check=True, timeout=60
    ).stdout.split()
    assert told[:2] == [MIME, MIME] and told[2] != MIME


@pytest.mark.long
def test_by_the_command_and_what_cannot_be_written_is_a_sentence(home: Path, tmp_path: Path) -> None:
    words = [sys.executable, "-m", "leanstep.desk.app", "--integrate"]
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}

    def run(*more: str, **changed: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [*words, *more], env={**environment, **changed}, capture_output=True, text=True, check=False, timeout=60
        )

    done = run()
    assert done.returncode == 0 and "double click" in done.stdout, done.stderr
    text = (home / "applications" / "org.leanstep.Desk.desktop").read_text()
    assert f'Exec="{sys.executable}" -E -P -m leanstep.desk.app %f' in text
    assert "Taken out." in run("--remove").stdout
    (tmp_path / "file").write_text("")
    bad = run(XDG_DATA_HOME=str(tmp_path / "file"))
    assert bad.returncode == 2 and "lean-step-desk:" in bad.stderr and "Traceback" not in bad.stderr


def test_the_picture_of_a_file_is_not_that_of_the_program() -> None:
    assert drawn(64) != drawn(64, document=True)


@pytest.mark.parametrize(("words", "given"), [("lean-step exp", "export"), ("lean-step export --pad", "--padding")])
def test_the_shell_completes_commands_and_options(words: str, given: str) -> None:
    environment = {**os.environ, "_LEAN_STEP_COMPLETE": "complete_bash", "COMP_WORDS": words}
    environment["COMP_CWORD"] = str(len(words.split()) - 1)
    command = str(Path(sys.executable).with_name("lean-step"))
    done = subprocess.run([command], env=environment, capture_output=True, text=True, check=True, timeout=60)
    assert done.stdout.split() == [given]
