"""Compiled functions: nothing is compiled for a character, and what is compiled is kept for the next run."""

from __future__ import annotations

import atexit
import contextlib
import fcntl
import hashlib
import json
import os
import re
import shutil
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path
from types import FunctionType, ModuleType, SimpleNamespace
from typing import Any, Protocol, TypeVar, cast

import numba
import numpy as np
from numba.core import cgutils

_CORE = Path(__file__).parent
_IMPORTED = re.compile(r"^from (leanstep\.core[\w.]*) import (.+)$", re.MULTILINE)
OLD = 90 * 24 * 3600.0
"""Seconds after which compiled code that nobody has used is removed."""

WHOLE = "whole"
"""The file that says that everything has been compiled once."""
LIST = "written.json"
"""The file that says what compiled code has been written."""
ROOM = 64 << 20
"""Free bytes below which compiled code is not kept."""

_Kernel = TypeVar("_Kernel", bound=Callable[..., object])


def _digests(folder: Path) -> dict[str, str]:
    """What every file with compiled code holds, by its place in the folder."""
    found = {}
    for path in sorted(folder.rglob("*.nb[ci]")):
        with contextlib.suppress(OSError):
            found[path.relative_to(folder).as_posix()] = hashlib.sha256(path.read_bytes()).hexdigest()
    return found


def _distrust(folder: Path, alone: bool) -> None:
    """Remove what is not as it was written: empty, garbled or cut off files are compiled again.  While this program is not ``alone``
    with the folder, what is not listed may be what another one has just written, and stays."""
    try:
        listed = dict(json.loads((folder / LIST).read_bytes()).items())
    except (OSError, ValueError, AttributeError, TypeError, RecursionError):
        listed = {}
    for name, digest in _digests(folder).items():
        if listed.get(name) != digest and (alone or name in listed):
            with contextlib.suppress(OSError):
                (folder / name).unlink()


def _enter(folder: Path) -> bool:
    """Say for as long as this program runs that it uses the folder; whether no other one does now."""
    with contextlib.suppress(OSError):
        used = os.open(folder / "used", os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(used, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            fcntl.flock(used, fcntl.LOCK_SH)
            return False
        fcntl.flock(used, fcntl.LOCK_SH)
    return True


@contextlib.contextmanager
def in_turn() -> Iterator[bool]:
    """One program after the other compiles; whether everything has been compiled already."""
    if KEPT is None:
        yield False
        return
    with open(KEPT / "turn", "w") as turn:
        fcntl.flock(turn, fcntl.LOCK_EX)
        yield is_whole()
        (KEPT / WHOLE).touch()
        _list(KEPT)


def is_new() -> bool:
    """Whether nothing has been compiled here yet."""
    return KEPT is not None and next(KEPT.rglob("*.nbi"), None) is None


def is_whole() -> bool:
    """Whether everything has been compiled and kept."""
    return KEPT is not None and (KEPT / WHOLE).exists()


def _list(folder: Path) -> None:
    """Say what has been written, for the next run."""
    with contextlib.suppress(OSError):
        made = folder / f"{LIST}.{os.getpid()}"
        made.write_text(json.dumps(_digests(folder)), "utf-8")
        made.replace(folder / LIST)


def _sources() -> set[Path]:
    """The files with compiled functions, and everything of the core that these import."""
    waiting = [path for path in _CORE.rglob("*.py") if "kernel" in path.read_text("utf-8")]
    found = set[Path]()
    while waiting:
        path = waiting.pop()
        if path in found or not path.exists():
            continue
        found.add(path)
        for module, names in _IMPORTED.findall(path.read_text("utf-8")):
            place = _CORE.joinpath(*module.split(".")[2:])
            waiting += [place.with_suffix(".py"), *(place / f"{name.strip()}.py" for name in names.split(","))]
    return found


def _kept() -> Path | None:
    """The folder for compiled code; None where nothing can be written.  Each state of the sources has its own, so that code
    from older ones is never used; those that have not been used for long are removed."""
    digest = hashlib.sha256(numba.__version__.encode())
    for part in sorted(_sources()):
        digest.update(part.read_bytes())
    try:
        home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "lean-step"
        folder = home / f"compiled-{digest.hexdigest()[:16]}"
        folder.mkdir(parents=True, exist_ok=True)
        os.utime(folder)
        tempfile.TemporaryFile(dir=folder).close()
        if shutil.disk_usage(folder).free < ROOM:
            return None
    except (OSError, RuntimeError, KeyError):
        with contextlib.suppress(OSError):
            made = Path(tempfile.mkdtemp(prefix="leanstep-"))
            atexit.register(shutil.rmtree, made, ignore_errors=True)
            return made
        return None
    for old in home.glob("compiled-*"):
        with contextlib.suppress(OSError):
            if time.time() - old.stat().st_mtime > OLD:
                shutil.rmtree(old, ignore_errors=True)
    _distrust(folder, _enter(folder))
    atexit.register(_list, folder)
    return folder


KEPT = None if os.environ.get("NUMBA_CACHE_DIR") else _kept()
"""Where compiled code is kept."""
if KEPT is not None:
    numba.config.CACHE_DIR = str(KEPT)  # type: ignore[attr-defined]


_KEEPS = KEPT is not None or "NUMBA_CACHE_DIR" in os.environ


class Whole(Protocol):
    """An array of whole numbers, as compiled code sees it."""

    def __getitem__(self, at: int, /) -> int: ...

    def __setitem__(self, at: int, value: int, /) -> None: ...


class Real(Protocol):
    """An array of doubles, as compiled code sees it."""

    def __getitem__(self, at: int, /) -> float: ...

    def __setitem__(self, at: int, value: float, /) -> None: ...


def kernel(function: _Kernel) -> _Kernel:
    """A function of numbers and arrays, compiled; it runs beside the rest of the program."""
    return cast(
        _Kernel,
        numba.njit(cache=_KEEPS, nogil=True, error_model="numpy")(function),
    )


def part(function: _Kernel) -> _Kernel:
    """A function that becomes a part of every kernel that calls it: where handing on many arrays would cost more than what it does."""
    return cast(_Kernel, numba.njit(nogil=True, error_model="numpy", inline="always")(function))


def plain(module: ModuleType) -> SimpleNamespace:
    """The compiled functions of a module as they stand, which work on lists; what they call is taken as it stands, too."""
    return SimpleNamespace(**_plain(module.__name__))


@cache
def _plain(name: str) -> dict[str, Any]:
    module = vars(sys.modules[name])
    names = dict(module)
    for key, value in module.items():
        if hasattr(value, "py_func"):
            function = value.py_func
            if function.__globals__ is module:
                names[key] = FunctionType(function.__code__, names, function.__name__, function.__defaults__)
            else:
                names[key] = _plain(function.__module__)[function.__name__] if _is_kernel(function) else function
    return names


def _is_kernel(function: FunctionType) -> bool:
    """Whether a function is compiled where it stands, not only where it is used."""
    return hasattr(vars(sys.modules[function.__module__])[function.__name__], "py_func")


def _where(typing: object, array: numba.types.Array) -> object:  # pragma: no cover
    def lie(context: object, builder: object, signature: object, arguments: list[object]) -> object:
        return cgutils.create_struct_proxy(array)(context, builder, value=arguments[0]).data

    return cast(Any, numba.types.CPointer)(array.dtype)(array), lie


where = cast(Callable[[np.ndarray], np.ndarray], numba.extending.intrinsic(_where))
"""Where an array's first number lies: in compiled code, what is read and written through it costs no keeping of counts.  The
array must outlive its use, and hold its numbers one after the other."""
