"""Whether the compiled engine may be used yet.

Commands wait for it, compiling it if need be.  A window does not: there the plain stepper plays until :func:`announce`.
"""

from __future__ import annotations

import threading

_ready = threading.Event()
_ready.set()


def serve_meanwhile() -> None:
    """From now on the plain stepper plays, until the compiled engine is announced."""
    _ready.clear()


def announce() -> None:
    """The compiled engine is loaded: from now on it plays."""
    _ready.set()


def is_ready() -> bool:
    """Whether the compiled engine may be used."""
    return _ready.is_set()
