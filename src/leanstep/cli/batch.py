"""Checks of many files: on several processes, in order, each failing alone; and only what an earlier check did not know."""

from __future__ import annotations

import json
import traceback
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from leanstep.core.errors import LeanStepError
from leanstep.core.work import Work
from leanstep.launching import processes

if TYPE_CHECKING:
    from leanstep.cli.result_cache import ResultCache
    from leanstep.core.character.document import Character
    from leanstep.core.findings.results import Finding, Report

Certain = Callable[["list[Finding]"], None]


@dataclass(frozen=True)
class Outcome:
    """What came of one file: its report, or the ``error`` that kept it from being checked.  ``data`` are the bytes that were checked,
    and ``images`` what the images held, by their names (None: one of them changed meanwhile); ``kept``: they are as they were, and so
    is the result."""

    path: Path
    data: bytes = b""
    report: Report | None = None
    error: str = ""
    kept: bool = False
    images: dict[str, str] | None = None

    @property
    def document(self) -> Character:
        """The character that was checked."""
        from leanstep.core.character.files import parse

        return parse(self.data, self.path.name)

    @property
    def text(self) -> str:
        """The text that was checked."""
        return self.data.decode("utf-8-sig")


def check_one(path: Path, work: Work, certain: Certain | None = None) -> Outcome:
    """Check one file; what goes wrong is told, not raised.  ``certain`` is told what is certain before the check is done."""
    from leanstep.cli.result_cache import images_of
    from leanstep.core.character.files import parse
    from leanstep.core.character.storage import read_bytes
    from leanstep.core.findings.report import check_character

    try:
        data = read_bytes(path)
        character = parse(data, str(path))
        images = images_of(character, path.parent)
        report = check_character(character, path.parent, work, certain=certain)
    except LeanStepError as error:
        return Outcome(path, error=str(error))
    except Exception as error:
        where = traceback.extract_tb(error.__traceback__)[-1]
        told = f"{error!r} in {Path(where.filename).name}, line {where.lineno}"
        return Outcome(
            path, error=f"{path}: the check broke off: {told}. That is a bug in Lean Step, please report it."
        )
    return Outcome(path, data, report, images=images if images == images_of(character, path.parent) else None)


def check_all(
    paths: list[Path], runner: Runner, work: Work, results: ResultCache | None, told: Callable[[int, int], None]
) -> Iterator[Outcome]:
    """Check files in their order, where ``runner`` does it; what is known already is not checked again.  ``told`` is told how many are
    done, of how many."""
    known = {path: _known(path, results) if results is not None else None for path in paths}
    coming = runner([path for path in paths if known[path] is None], work)
    for number, path in enumerate(paths, 1):
        one = known[path] or next(coming)
        if results is not None and not one.kept and one.report is not None and one.images is not None:
            results.keep(one.data, one.images, one.report)
        told(number, len(paths))
        yield one
    if results is not None:
        results.tidy()


def _known(path: Path, results: ResultCache) -> Outcome | None:
    """What is known of a file as it is now."""
    try:
        data = path.read_bytes()
    except OSError:
        return None
    report = results.find(data, path.parent)
    return Outcome(path, data, report, kept=True) if report is not None else None


Runner = Callable[[list[Path], Work], Iterator[Outcome]]
"""Checks files in their order."""


def here(paths: list[Path], work: Work) -> Iterator[Outcome]:
    """Checks one file after another in this process."""
    return (check_one(path, work) for path in paths)


def on_processes(jobs: int) -> Runner:
    """Checks files on so many processes; a process that dies takes only its file with it."""

    def run(paths: list[Path], work: Work) -> Iterator[Outcome]:
        left = list(paths)
        with ProcessPoolExecutor(max(1, min(jobs, len(paths))), processes()) as pool:
            waiting = [pool.submit(check_one, path, work) for path in paths]
            try:
                for one in waiting:
                    made = one.result()
                    left.pop(0)
                    yield made
            except BrokenProcessPool:
                pass
        # a process died: those that are left are checked in one of their own each, so that only its file fails
        for path in left:
            with ProcessPoolExecutor(1, processes()) as alone:
                try:
                    yield alone.submit(check_one, path, work).result()
                except BrokenProcessPool:
                    yield Outcome(path, error=DIED.format(path))

    return run


DIED = "{}: the process that checked it died; it may need too much memory."


def on_cluster(address: str) -> Runner:
    """Checks files on the workers of a Dask cluster, which see the same folders; a worker that dies gives its file to another one.

    Raises :class:`LeanStepError` where there is no cluster, or no library for one.
    """
    from leanstep.cli.clusters import client_of

    client = client_of(address)

    def run(paths: list[Path], work: Work) -> Iterator[Outcome]:
        from leanstep.cli.clusters import results_of

        yield from results_of(client, check_one, [(path.absolute(), work) for path in paths], _died)

    return run


def _died(task: tuple[Path, Work], error: str) -> Outcome:
    return Outcome(task[0], error=f"{DIED.format(task[0])} ({error})")


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
    except (ValueError, KeyError, TypeError, RecursionError):
        raise LeanStepError(str(baseline), "it is no SARIF file of an earlier check", way_out) from None


def new_in(outcome: Outcome, known: set[str]) -> Outcome:
    """The outcome without the findings an earlier check knew."""
    from leanstep.core.formats.sarif import mark_of

    if not known or outcome.report is None:
        return outcome
    character = outcome.document
    findings = tuple(one for one in outcome.report.findings if mark_of(outcome.path.name, character, one) not in known)
    return replace(outcome, report=replace(outcome.report, findings=findings))
