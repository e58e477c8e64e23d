"""Bytes on disk: read without hanging, written so that nothing is lost.

Only ordinary files are read; a pipe or a device would let the program wait for ever.  Writing puts a new file beside the
old one and moves it over, so that at any moment either the old or the new content is there; a temporary copy that an
interrupted save left behind is swept away by the next one.
"""

from __future__ import annotations

import contextlib
import errno
import hashlib
import os
import re
import stat
import tempfile
from pathlib import Path

from leanstep.core.errors import LeanStepError

AnyPath = str | os.PathLike[str]
LARGEST = 256 << 20
"""Bytes a file may have to be read."""
_COPY = re.compile(r"\.leanstep-([0-9a-f]{8})-(\d+)-.*\.tmp\Z")


class ChangedOnDisk(LeanStepError):
    """A file holds something else than what was last read from it or written to it; ``now`` is what it holds (None: it is
    gone)."""

    def __init__(self, path: AnyPath, now: bytes | None) -> None:
        self.now = now
        what = "somebody else has changed it" if now is not None else "somebody else has removed it"
        super().__init__(
            str(path), f"{what} since it was opened", "Look at the differences first; nothing was written."
        )


GROWN = 1 << 16
"""Bytes by which a file may grow while it is read."""


class Missing(LeanStepError):
    """There is no such file."""


def read_bytes(path: AnyPath, most: int = LARGEST) -> bytes:
    """The bytes of an ordinary file of at most ``most`` bytes, or a :class:`LeanStepError` that says why not."""
    try:
        handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_CLOEXEC", 0))
        with os.fdopen(handle, "rb") as file:
            facts = os.fstat(handle)
            if stat.S_ISDIR(facts.st_mode):
                raise IsADirectoryError
            if not stat.S_ISREG(facts.st_mode):
                raise LeanStepError(str(path), f"this is {_kind(facts.st_mode)}, no file", "Name an ordinary file.")
            if facts.st_size > most:
                size, limit = (f"{number:,}".replace(",", " ") for number in (facts.st_size, most))
                reason = f"it has {size} bytes, and at most {limit} are read"
                raise LeanStepError(str(path), reason, "Use a smaller file.")
            # room is taken for what the file has, not for the most it may have
            return file.read(min(most, facts.st_size + GROWN))[:most]
    except FileNotFoundError:
        raise Missing(str(path), "there is no such file", "Check the spelling and the folder.") from None
    except IsADirectoryError:
        raise LeanStepError(str(path), "this is a folder", "Name a file inside it.") from None
    except OSError as error:
        if error.errno in (errno.ENXIO, errno.ENODEV, errno.EOPNOTSUPP):
            raise LeanStepError(str(path), "this is a socket or a device, no file", "Name an ordinary file.") from None
        raise LeanStepError(
            str(path), _why(error, "it cannot be read"), _way_out(error, "Check its permissions.")
        ) from None
    except ValueError:
        raise LeanStepError(repr(str(path)), "no file can be called that", "Check the spelling.") from None


def is_file(path: AnyPath) -> bool:
    """Whether there is an ordinary file; False for names no file can have."""
    try:
        return stat.S_ISREG(os.stat(path).st_mode)
    except (OSError, ValueError):
        return False


def _kind(mode: int) -> str:
    kinds = ((stat.S_ISFIFO, "a named pipe"), (stat.S_ISSOCK, "a socket"), (stat.S_ISCHR, "a device"))
    return next((name for test, name in kinds if test(mode)), "a device")


def write_atomically(path: AnyPath, data: bytes, known: bytes | None = None, guarded: bool = False) -> None:
    """Put ``data`` in the file at ``path`` so that at any moment either the old or the new content is there.

    A symbolic link stays one: the file it leads to is written.  The file keeps its mode, and its owner where that may be.
    With ``guarded`` nothing is written unless the file still holds ``known`` (None: there is no file).

    Raises
    ------
    ChangedOnDisk : the file holds something else than ``known``.
    LeanStepError : it cannot be written; the old file is untouched.
    """
    try:
        target = Path(os.path.realpath(path))
        facts = target.stat() if target.exists() else None
        if facts is not None and not stat.S_ISREG(facts.st_mode):
            raise LeanStepError(str(path), "this is no ordinary file", "Save somewhere else; nothing was changed.")
        sweep(target)
        handle, name = tempfile.mkstemp(
            prefix=f".leanstep-{_mark(target)}-{os.getpid()}-", suffix=".tmp", dir=target.parent
        )
    except (OSError, ValueError) as error:
        raise _unwritten(path, error) from None
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(name, facts.st_mode & 0o7777 if facts is not None else 0o666 & ~_umask())
        if facts is not None and (facts.st_uid, facts.st_gid) != (os.geteuid(), os.getegid()):
            with contextlib.suppress(OSError):
                os.chown(name, facts.st_uid, facts.st_gid)
        if guarded:
            _see_that_it_holds(path, target, known)
        os.replace(name, target)
        _settle(target.parent)
    except OSError as error:
        raise _unwritten(path, error) from None
    finally:
        with contextlib.suppress(OSError):
            os.unlink(name)


def _see_that_it_holds(path: AnyPath, target: Path, known: bytes | None) -> None:
    now = target.read_bytes() if target.exists() else None
    if now != known:
        raise ChangedOnDisk(path, now)


def make_folder(folder: Path) -> None:
    """Make a folder and those above it; raises :class:`LeanStepError` when that cannot be."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except (OSError, ValueError) as error:
        raise _unwritten(folder, error) from None


def set_aside(path: Path, other: Path) -> None:
    """Give a file another name; raises :class:`LeanStepError` when that cannot be."""
    try:
        path.replace(other)
    except (OSError, ValueError) as error:
        raise _unwritten(path, error) from None


def _mark(target: Path) -> str:
    """What tells the temporary copies of a file from those of others in its folder."""
    return hashlib.sha256(os.fsencode(target.name)).hexdigest()[:8]


def sweep(target: Path) -> None:
    """Remove temporary copies of a file that saves have left behind whose program is gone."""
    sweep_folder(target.parent, _mark(target))


def sweep_folder(folder: Path, mark: str = "") -> None:
    """Remove such copies of the file with a ``mark`` (empty: of any file) from a folder."""
    with contextlib.suppress(OSError):
        for entry in os.scandir(folder):
            found = _COPY.match(entry.name)
            if found and mark in ("", found[1]) and not is_running(int(found[2])):
                with contextlib.suppress(OSError):
                    os.unlink(entry.path)


def is_running(process: int) -> bool:
    """Whether a process is there."""
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


def _settle(folder: Path) -> None:
    """See to it that the folder itself is on disk."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _umask() -> int:
    mask = os.umask(0o022)
    os.umask(mask)
    return mask


def _unwritten(path: AnyPath, error: OSError | ValueError) -> LeanStepError:
    if isinstance(error, ValueError):
        return LeanStepError(repr(str(path)), "no file can be called that", "Choose another name; nothing was changed.")
    way_out = _way_out(error, "Save somewhere else; nothing was changed.")
    return LeanStepError(str(path), _why(error, "it cannot be written"), way_out)


def _why(error: OSError, otherwise: str) -> str:
    known = {
        errno.ENOSPC: "the disk is full",
        errno.EDQUOT: "your share of the disk is full",
        errno.ENAMETOOLONG: "the name is too long",
        errno.EROFS: "the folder can only be read",
        errno.ENOENT: "the folder does not exist",
        errno.ENOTDIR: "part of the path is no folder",
        errno.ELOOP: "its links lead round in a circle",
    }
    if error.errno in (errno.EACCES, errno.EPERM):
        return f"{otherwise}: you have no permission"
    return known.get(error.errno or 0, f"{otherwise} ({error.strerror})")


def _way_out(error: OSError, otherwise: str) -> str:
    return {
        errno.ENOSPC: "Make room, or save somewhere else; nothing was changed.",
        errno.EDQUOT: "Make room, or save somewhere else; nothing was changed.",
        errno.ENAMETOOLONG: "Choose a shorter name; nothing was changed.",
    }.get(error.errno or 0, otherwise)
