"""Checks of many files: on several processes, in order, each failing alone; and only what an earlier check did not know."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from leanstep.core.errors import LeanStepError

if TYPE_CHECKING:
    from leanstep.core.character.model import Character
    from leanstep.core.findings.report import Report

Progress = Callable[[int], bool]


@dataclass(frozen=True)
class Outcome:
    """What came of one file: its character and report, or the ``error`` that kept it from being checked."""

    path: Path
    character: Character | None = None
    report: Report | None = None
    error: str = ""


def check_one(
    path: Path, budget: int, time_limit: float | None, play: int, progress: Progress | None = None
) -> Outcome:
    """Check one file; what goes wrong is told, not raised."""
    from leanstep.core.character.history import History
    from leanstep.core.findings.report import check_character

    try:
        character = History.open(path).document
        report = check_character(character, path.parent, budget, time_limit, progress, play)
    except LeanStepError as error:
        return Outcome(path, error=str(error))
    except Exception as error:
        return Outcome(
            path, error=f"{path}: the check broke off: {error!r}. That is a bug in Lean Step, please report it."
        )
    return Outcome(path, character, report)


def check_all(
    paths: list[Path], jobs: int, budget: int, time_limit: float | None, play: int, progress: Progress | None = None
) -> Iterator[Outcome]:
    """Check files in their order, on so many processes."""
    if jobs == 1 or len(paths) < 2:
        yield from (check_one(path, budget, time_limit, play, progress) for path in paths)
        return
    left = list(paths)
    with ProcessPoolExecutor(min(jobs, len(paths))) as pool:
        waiting = [pool.submit(check_one, path, budget, time_limit, play) for path in paths]
        try:
            for one in waiting:
                made = one.result()
                left.pop(0)
                yield made
        except BrokenProcessPool:
            pass
    # a process died: those that are left are checked in one of their own each, so that only its file fails
    for path in left:
        with ProcessPoolExecutor(1) as alone:
            try:
                yield alone.submit(check_one, path, budget, time_limit, play).result()
            except BrokenProcessPool:
                yield Outcome(path, error=f"{path}: the process that checked it died; it may need too much memory.")


def known_of(baseline: Path) -> set[str]:
    """The marks of the findings in a SARIF file that an earlier check wrote.

    Raises :class:`LeanStepError` where it cannot be read.
    """
    way_out = "Write one with --format sarif --out FILE."
    try:
        runs = json.loads(baseline.read_bytes())["runs"]
        results = [one for run in runs for one in run["results"]]
        return {str(one["partialFingerprints"]["leanStep/v1"]) for one in results}
    except OSError as error:
        raise LeanStepError(str(baseline), error.strerror or "it cannot be read", way_out) from None
    except (ValueError, KeyError, TypeError):
        raise LeanStepError(str(baseline), "it is no SARIF file of an earlier check", way_out) from None


def new_in(outcome: Outcome, known: set[str]) -> Outcome:
    """The outcome without the findings an earlier check knew."""
    from leanstep.core.formats.sarif import mark_of

    if not known or outcome.report is None or outcome.character is None:
        return outcome
    character = outcome.character
    findings = tuple(one for one in outcome.report.findings if mark_of(outcome.path.name, character, one) not in known)
    return replace(outcome, report=replace(outcome.report, findings=findings))
