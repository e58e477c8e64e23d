"""Whether the compiled engine may be used yet.

Commands wait for it, compiling it if need be, but for those that play a few takes only.  A window does not wait: there the plain
stepper plays until :func:`announce`.
"""

from __future__ import annotations

import threading

from leanstep.core import jit

_ready = threading.Event()
_ready.set()


def serve_meanwhile() -> None:
    """From now on the plain stepper plays, until the compiled engine is announced."""
    _ready.clear()


def spare_compiling() -> None:
    """Where nothing has been compiled yet the plain stepper plays: a few takes are over long before it were."""
    if jit.is_new():
        serve_meanwhile()


def announce() -> None:
    """The compiled engine is loaded: from now on it plays."""
    _ready.set()


def is_ready() -> bool:
    """Whether the compiled engine may be used."""
    return _ready.is_set()
