"""Compiled functions: nothing is compiled for a character, and what is compiled is kept for the next run."""

from __future__ import annotations

import hashlib
import os
import shutil
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar, cast

import numba
import numpy as np
from numba.np.arrayobj import make_array

_CORE = Path(__file__).parent
_OTHERS = (
    "compiled.py",
    "proof/backwards.py",
    "proof/chains.py",
    "proof/following.py",
    "clips/timing.py",
    "body/side_view.py",
)
OLD = 90 * 24 * 3600.0
"""Seconds after which compiled code that nobody has used is removed."""

_Kernel = TypeVar("_Kernel", bound=Callable[..., object])


def _kept() -> Path:
    """The folder for compiled code.  Each state of the sources has its own, so that code from older ones is never used;
    those that have not been used for long are removed."""
    parts = [*_CORE.glob("rehearsal/engine/*.py"), *(_CORE / part for part in _OTHERS)]
    digest = hashlib.sha256(numba.__version__.encode())
    for part in sorted(parts):
        digest.update(part.read_bytes())
    home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "leanstep"
    folder = home / f"compiled-{digest.hexdigest()[:16]}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        os.utime(folder)
    except OSError:
        return Path(tempfile.mkdtemp(prefix="leanstep-"))
    for old in home.glob("compiled-*"):
        if time.time() - old.stat().st_mtime > OLD:
            shutil.rmtree(old, ignore_errors=True)
    return folder


if not os.environ.get("NUMBA_CACHE_DIR"):
    numba.config.CACHE_DIR = str(_kept())  # type: ignore[attr-defined]


def kernel(function: _Kernel) -> _Kernel:
    """A function of numbers and arrays, compiled; it runs beside the rest of the program."""
    return cast(_Kernel, numba.njit(cache=True, nogil=True, error_model="numpy")(function))


def _where(typing: object, array: numba.types.Array) -> object:  # pragma: no cover
    def lie(context: object, builder: object, signature: object, arguments: list[object]) -> object:
        return cast(Any, make_array)(array)(context, builder, arguments[0]).data

    return cast(Any, numba.types.CPointer)(array.dtype)(array), lie


where = cast(Callable[[np.ndarray], np.ndarray], numba.extending.intrinsic(_where))
"""Where an array's first number lies: in compiled code, what is read and written through it costs no keeping of counts.  The
array must outlive its use, and hold its numbers one after the other."""
