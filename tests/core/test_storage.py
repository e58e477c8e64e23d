"""Bytes on disk: what is read, what is refused at once, and how nothing is lost in writing."""

from __future__ import annotations

import errno
import os
import socket
import stat
import subprocess
import sys
from pathlib import Path

import pytest

from leanstep.core.character import files, storage
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Edit, change
from leanstep.core.character.graph import State
from leanstep.core.character.history import History
from leanstep.core.character.storage import ChangedOnDisk, read_bytes, write_atomically
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.differences import differences
from leanstep.desk import recovery
from leanstep.desk.recovery import Recovery
from tests.support.build import DEMO, sketch, way

SOUND = files.load(DEMO / "lamplighter.leanstep")


def named(name: str) -> Edit:
    return Edit(f"called {name}", lambda document: change(document, (), name=name))


# --- reading


def test_pipes_devices_sockets_and_folders_are_refused_at_once(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe")
    with socket.socket(socket.AF_UNIX) as made:
        made.bind(str(tmp_path / "socket"))
        for path, said in (
            (tmp_path / "pipe", "a named pipe"),
            (Path("/dev/zero"), "a device"),
            (tmp_path / "socket", "socket"),
            (tmp_path, "a folder"),
        ):
            with pytest.raises(LeanStepError, match=said):
                files.load(path)


@pytest.mark.parametrize("name", ["a\0b", "x" * 300, "missing", "\udcff"])
def test_strange_names_end_in_a_sentence(tmp_path: Path, name: str) -> None:
    with pytest.raises(LeanStepError):
        read_bytes(tmp_path / name)
    if name != "missing" and not name.startswith("\udcff"):
        with pytest.raises(LeanStepError, match="nothing was changed"):
            write_atomically(tmp_path / name, b"x")


def test_a_file_that_is_too_large_is_named_with_its_size_and_the_limit(tmp_path: Path) -> None:
    (tmp_path / "large").write_bytes(b"x" * 2000)
    with pytest.raises(LeanStepError, match="2 000 bytes, and at most 1 000"):
        read_bytes(tmp_path / "large", 1000)


# --- writing


def test_saving_through_a_link_writes_its_target_and_keeps_link_and_mode(tmp_path: Path) -> None:
    (tmp_path / "real").mkdir()
    target, link = tmp_path / "real" / "a.leanstep", tmp_path / "link.leanstep"
    target.write_bytes(b"old")
    target.chmod(0o640)
    link.symlink_to(Path("real") / "a.leanstep")
    write_atomically(link, b"new")
    assert link.is_symlink() and target.read_bytes() == b"new"
    assert stat.S_IMODE(target.stat().st_mode) == 0o640
    assert sorted(path.name for path in tmp_path.rglob("*")) == ["a.leanstep", "link.leanstep", "real"]


@pytest.mark.skipif(os.geteuid() != 0, reason="only root may give files away")
def test_the_owner_is_kept(tmp_path: Path) -> None:
    path = tmp_path / "a"
    path.write_bytes(b"old")
    os.chown(path, 1234, 1235)
    write_atomically(path, b"new")
    assert (path.stat().st_uid, path.stat().st_gid) == (1234, 1235)


def test_copies_of_interrupted_saves_are_swept_and_those_of_running_ones_are_not(tmp_path: Path) -> None:
    path = tmp_path / "a.leanstep"
    gone = subprocess.run([sys.executable, "-c", "import os; print(os.getpid())"], capture_output=True, check=True)
    mark = storage._mark(path)
    stray = tmp_path / f".leanstep-{mark}-{int(gone.stdout)}-abc.tmp"
    running, other = tmp_path / f".leanstep-{mark}-{os.getppid()}-abc.tmp", tmp_path / ".leanstep-00000000-1-abc.tmp"
    for one in (stray, running, other):
        one.write_bytes(b"half")
    write_atomically(path, b"new")
    assert not stray.exists() and running.exists() and other.exists()


@pytest.mark.parametrize(
    ("number", "said"),
    [(errno.ENOSPC, "the disk is full. Make room"), (errno.EACCES, "no permission"), (errno.EROFS, "can only be read")],
)
def test_what_keeps_a_file_from_being_written_is_said_with_the_way_out(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int, said: str
) -> None:
    def fails(handle: int) -> None:
        raise OSError(number, os.strerror(number))

    path = tmp_path / "a"
    path.write_bytes(b"old")
    monkeypatch.setattr(os, "fsync", fails)
    with pytest.raises(LeanStepError, match=said):
        write_atomically(path, b"new")
    assert path.read_bytes() == b"old" and len(list(tmp_path.iterdir())) == 1


def test_a_name_too_long_is_said(tmp_path: Path) -> None:
    with pytest.raises(LeanStepError, match=r"the name is too long\. Choose a shorter name"):
        write_atomically(tmp_path / ("x" * 256), b"x")


# --- what somebody else does


def opened(tmp_path: Path) -> tuple[Path, History]:
    path = tmp_path / "a.leanstep"
    files.save(path, SOUND)
    return path, History.open(path)


def test_what_somebody_else_saved_is_not_written_over_unless_that_is_said(tmp_path: Path) -> None:
    path, history = opened(tmp_path)
    history.apply(named("mine"))
    files.save(path, change(SOUND, (), name="theirs"))
    with pytest.raises(ChangedOnDisk) as caught:
        history.save()
    assert files.load(path).name == "theirs" and history.changed
    assert differences(history.document, files.parse(caught.value.now or b"")) == ["name is “theirs” instead of “mine”"]
    history.save(over=True)
    assert files.load(path).name == "mine" and not history.changed


def test_a_file_that_was_removed_is_noticed_too(tmp_path: Path) -> None:
    path, history = opened(tmp_path)
    path.unlink()
    history.apply(named("mine"))
    with pytest.raises(ChangedOnDisk, match="removed"):
        history.save()
    assert not path.exists()


def test_going_on_with_theirs_is_a_step_that_can_be_taken_back(tmp_path: Path) -> None:
    path, history = opened(tmp_path)
    history.apply(named("mine"))
    files.save(path, change(SOUND, (), name="theirs"))
    history.take_from_disk(path.read_bytes())
    assert history.document.name == "theirs" and not history.changed
    history.save()
    history.undo()
    assert history.document.name == "mine" and history.changed


def test_differences_are_said_in_words() -> None:
    other = change(SOUND, ("layers", 0, "transitions", 0), when="speed > 4")
    other = change(other, ("layers", 0, "states", 2), restful=True)
    other = change(other, (), takes=other.takes[1:])
    one = SOUND.layers[0].transitions[0]
    assert differences(SOUND, other) == [
        f"take {SOUND.takes[0].name} is gone",
        f"state {SOUND.layers[0].states[2].name}: restful is on instead of off",
        f"the transition {one.source} → {one.to}: when is “speed > 4” instead of “{one.when}”",
    ]
    assert differences(SOUND, SOUND) == []


def test_what_is_gone_is_said_in_the_order_of_the_document() -> None:
    states = tuple(State(name=name) for name in "abcdef")
    ways = [way(f"a>{to}", "hurt") for to in "bcdefb"]
    before, after = sketch(*ways, states=states), sketch(ways[0], states=states)
    gone = [f"the transition a → {to} is gone" for to in "cdefb"]
    assert differences(before, after) == gone


# --- after a crash


def test_unsaved_edits_are_found_after_their_program_is_gone(tmp_path: Path) -> None:
    kept = Recovery(tmp_path, "999999999-1")
    kept.keep(SOUND, tmp_path / "a.leanstep", ["changed the condition of idle → stride"], 1000.0)
    mine = Recovery(tmp_path)
    mine.keep(SOUND, None, ["another"], 2000.0)
    found = recovery.left_behind(tmp_path)
    assert [(one.path, one.when, one.edits, one.document) for one in found] == [
        (tmp_path / "a.leanstep", 1000.0, ("changed the condition of idle → stride",), SOUND)
    ]
    recovery.discard(found[0])
    mine.clear()
    assert not recovery.left_behind(tmp_path) and not list((tmp_path / "recovery").iterdir())


def test_a_garbled_recovery_file_is_left_alone(tmp_path: Path) -> None:
    (tmp_path / "recovery").mkdir()
    (tmp_path / "recovery" / "999999999-1.json").write_text('{"document": "{')
    assert recovery.left_behind(tmp_path) == []


def test_the_last_saved_version_is_kept_as_one_backup(tmp_path: Path) -> None:
    path = tmp_path / "a.leanstep"
    assert recovery.backup_of(tmp_path, path) is None
    recovery.keep_backup(tmp_path, path, b"first")
    recovery.keep_backup(tmp_path, path, b"second")
    kept = recovery.backup_of(tmp_path, path)
    assert kept is not None and kept.read_bytes() == b"second" and len(list((tmp_path / "backups").iterdir())) == 1


def test_windows_on_one_file_know_of_each_other(tmp_path: Path) -> None:
    path = tmp_path / "a.leanstep"
    recovery.mark_open(tmp_path, path, f"{os.getppid()}")
    recovery.mark_open(tmp_path, path, "999999999-1")
    recovery.mark_open(tmp_path, path)
    assert recovery.others_with(tmp_path, path) == [f"{os.getppid()}"]
    recovery.mark_closed(tmp_path, path, f"{os.getppid()}")
    assert recovery.others_with(tmp_path, path) == []


# --- undo


def test_undo_reaches_back_to_the_opened_file_however_many_steps_there_were() -> None:
    history = History(Character(name="start"), most=40_000)
    for number in range(3000):
        history.apply(named(str(number)))
    assert len(history._documents) < 2000
    steps = 0
    while history.undo():
        steps += 1
    assert history.document.name == "start" and steps > 50
    assert history.redo() == "the earliest changes"


def test_a_thousand_small_steps_are_all_kept() -> None:
    history = History(SOUND)
    for number in range(1000):
        history.apply(Edit("turned", lambda document, n=number: change(  # type: ignore[misc]
            document, ("layers", 0, "transitions", 0), when=f"speed > {n}")))  # fmt: skip
    steps = 0
    while history.undo():
        steps += 1
    assert steps == 1000 and history.document is SOUND
