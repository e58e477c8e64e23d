"""Work handed to a Dask cluster (the optional dependency ``lean-step[cluster]``)."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar

from leanstep.core.errors import LeanStepError

PATIENCE = 20
"""Seconds a scheduler has to answer."""
LOOK, LONELY = 1.0, 30.0
"""Seconds between two looks at whether there are workers, and for which there may be none."""
TRIES = 3
"""How often a task is begun anew when its worker dies."""

_Task = TypeVar("_Task", bound=tuple[Any, ...])
_Result = TypeVar("_Result")


def client_of(address: str) -> Any:
    """A client of the scheduler at an address such as ``tcp://10.0.0.5:8786``.

    Raises
    ------
    LeanStepError : the library is not installed, or no scheduler answers.
    """
    try:
        from distributed import Client
    except ImportError:
        way_out = "Install it:  pip install 'lean-step[cluster]'"
        raise LeanStepError("--cluster", "the library for clusters is not installed", way_out) from None
    try:
        return Client(address, timeout=PATIENCE, set_as_default=False)
    except (OSError, ValueError) as error:
        reason = f"no scheduler answers there ({error})"
        raise LeanStepError(f"--cluster {address}", reason, "Start one, or leave --cluster out.") from None


def _came(client: Any, future: Any) -> Any:
    """What a task made; raises :class:`LeanStepError` where nobody is there to do it."""
    from concurrent.futures import CancelledError

    alone = time.monotonic()
    while True:
        try:
            return future.result(timeout=LOOK)
        except CancelledError as error:
            raise LeanStepError("--cluster", f"its scheduler is gone ({error})", "Start it again.") from None
        except TimeoutError:
            if client.scheduler_info()["workers"]:
                alone = time.monotonic()
            elif time.monotonic() - alone > LONELY:
                way_out = "Start workers that reach the scheduler, or leave --cluster out."
                raise LeanStepError("--cluster", "it has no workers, or none any more", way_out) from None


def results_of(
    client: Any,
    work: Callable[..., _Result],
    tasks: Sequence[_Task],
    lost: Callable[[_Task, str], _Result],
) -> Iterator[_Result]:
    """What ``work`` makes of each task, in their order.  A task whose worker dies is begun anew on another one; one whose workers die
    again and again gives what ``lost`` says of it."""
    from distributed import KilledWorker

    try:
        waiting = [client.submit(work, *task, pure=False, retries=TRIES) for task in tasks]
        for task, future in zip(tasks, waiting):
            try:
                yield _came(client, future)
            except KilledWorker as error:
                yield lost(task, str(error))
    finally:
        client.close()
