"""``lean-step check``: prove what is wrong with a character."""

from __future__ import annotations

import difflib
import glob
import io
import json
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from enum import Enum
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import typer

from leanstep.core.defaults import BUDGET, TICKS
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.finding_documents import Checked, Refused, html_of, junit_of, sarif_of
from leanstep.core.wording import counted

if TYPE_CHECKING:
    from rich.console import Console
    from rich.text import Text

    from leanstep.cli.batch import Outcome, Work
    from leanstep.core.character.document import Character
    from leanstep.core.character.history import History
    from leanstep.core.findings.results import Finding, Report


PACE = 0.1
"""Seconds between two looks at how far a check is."""
MOST_SO_FAR = 12
"""Findings that are shown while a check goes on."""
_STYLE = {"error": "bold red", "warning": "yellow", "note": "dim"}


class Format(str, Enum):
    """How results are printed."""

    text = "text"
    json = "json"
    html = "html"
    sarif = "sarif"
    junit = "junit"


class Severity(str, Enum):
    """From how bad on a finding makes a check fail."""

    error = "error"
    warning = "warning"
    note = "note"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "check",
        epilog="Examples:  lean-step check hero.leanstep  ·  lean-step check *.leanstep --format json  ·  "
        "lean-step check hero.leanstep --fix flicker.steady --write.  "
        "Exit code 0: no findings that count; 1: there are; 2: a file could not be opened or the command line was wrong.",
    )(check)


def check(
    files: list[Path] = typer.Argument(
        ..., metavar="FILE...", help="Character files, folders with them, or patterns such as 'art/**/*.leanstep'."
    ),
    format: Format = typer.Option(
        Format.text, help="text for people; json: one object a line and file; html, sarif, junit: one document."
    ),
    fail_on: Severity = typer.Option(Severity.error, help="From how bad on a finding makes exit code 1."),
    baseline: Path | None = typer.Option(
        None, metavar="FILE", help="A SARIF file of an earlier check: only findings it does not have count."
    ),
    anew: bool = typer.Option(False, "--anew", help="Check what is kept from before as well."),
    cluster: str = typer.Option(
        "", metavar="ADDRESS", help="On the workers of a Dask cluster instead, such as tcp://10.0.0.5:8786."
    ),
    jobs: int = typer.Option(1, min=1, max=256, metavar="N", help="On how many processes files are checked."),
    fixes: bool = typer.Option(False, "--fixes", help="With sarif: every repair there is as a fix; takes longer."),
    out: Path | None = typer.Option(None, metavar="FILE", help="Write there instead of to the terminal."),
    budget: int = typer.Option(BUDGET, min=1, metavar="SITUATIONS", help="How many situations a proof may visit."),
    time_limit: float | None = typer.Option(None, min=0.0, metavar="SECONDS", help="Give up after this long."),
    memory_limit: int | None = typer.Option(
        None, min=1, metavar="MEGABYTES", help="Give up when a process that checks holds more than this."
    ),
    fix: str = typer.Option(
        "", metavar="ID", help="Show the repair of the first finding with this id that has one; ID:2 for the second …"
    ),
    write: bool = typer.Option(False, "--write", help="With --fix: write the repaired character back."),
    play: int = typer.Option(
        TICKS, min=0, metavar="TICKS", help="How long to search by playing, body included; 0: not."
    ),
) -> None:
    """Name every fault of each character, with a verdict and, where one exists, the shortest take that shows it."""
    from rich.console import Console

    from leanstep.cli.batch import check_all, here, known_of, new_in, on_cluster, on_processes
    from leanstep.cli.result_cache import ResultCache
    from leanstep.core.character.storage import write_atomically
    from leanstep.core.work import Work

    worst = 0
    paths = found_files(files)
    stream = io.StringIO() if out is not None else None
    console = Console(highlight=False, soft_wrap=True, file=stream)
    # formats that hold all files in one document
    documents: dict[Format, Callable[[list[Checked], list[Refused]], str]] = {
        Format.sarif: partial(sarif_of, fixes=fixes),
        Format.junit: partial(junit_of, fails=fail_on.value),
        Format.html: html_of,
    }
    document = documents.get(format)
    checked: list[Checked] = []
    refused: list[Refused] = []
    if fix:
        raise typer.Exit(max(_fixed(console, path, fix, write) for path in paths))
    known = known_of(baseline) if baseline is not None else set()
    if cluster:
        runner = on_cluster(cluster)
    elif jobs > 1 and len(paths) > 1:
        runner = on_processes(jobs)
    else:
        runner = _watched if sys.stderr.isatty() else here
    results = None if anew else ResultCache((budget, play))
    for checked_one in check_all(paths, runner, Work(budget, play, time_limit, memory=memory_limit), results, _count()):
        one = new_in(checked_one, known)
        if one.report is None:
            typer.echo(f"lean-step: {one.error}", err=True)
            refused.append(Refused(one.path.as_posix(), one.error))
            worst = 2
            continue
        path, report = one.path, one.report
        if document is not None:
            checked.append(Checked(path.as_posix(), path, one.document, report, one.text))
        if format is Format.json:
            print(json.dumps(report.to_json(), ensure_ascii=False), file=stream)
        elif format is Format.text:
            _print(console, path, report)
        if any(report.count(one.value) for one in list(Severity)[: list(Severity).index(fail_on) + 1]):
            worst = max(worst, 1)
    if document is not None:
        print(document(checked, refused).rstrip(), file=stream)
    if out is not None and stream is not None:
        write_atomically(out, stream.getvalue().encode("utf-8", "replace"))
    raise typer.Exit(worst)


def found_files(asked: list[Path]) -> list[Path]:
    """The character files that are meant: each file as it is, all below a folder, and what a pattern fits, once and in order.

    Raises :class:`LeanStepError` where a folder or a pattern has none.
    """
    found: dict[Path, None] = {}
    for one in asked:
        if one.is_dir():
            some = sorted(one.rglob("*.leanstep"))
        elif not one.exists() and any(letter in str(one) for letter in "*?["):
            some = sorted(map(Path, glob.glob(str(one), recursive=True)))
        else:
            some = [one]
        if not some:
            raise LeanStepError(str(one), "there are no character files in it", "Name a folder with .leanstep files.")
        found |= dict.fromkeys(some)
    return list(found)


def _fixed(console: Console, path: Path, wanted: str, write: bool) -> int:
    """Mend a finding of a file; the exit code."""
    from leanstep.core.character.history import History

    try:
        history = History.open(path)
    except LeanStepError as error:
        typer.echo(f"lean-step: {error}", err=True)
        return 2
    return _fix(console, path, history, wanted, write)


def _fix(console: Console, path: Path, history: History, wanted: str, write: bool) -> int:
    """Show, and if asked to write, the repair of a finding; the exit code."""
    from rich.text import Text

    from leanstep.core.character.edits import Edit
    from leanstep.core.character.files import dump
    from leanstep.core.findings.evidence import Memo
    from leanstep.core.findings.repairs.proving import repair
    from leanstep.core.findings.report import check_character

    kind, _, number = wanted.partition(":")
    memo, character = Memo(), history.document
    findings = [one for one in check_character(character, path.parent, memo=memo).findings if one.id == kind]
    if number:
        findings = findings[int(number) - 1 : int(number)] if number.isdigit() and int(number) else []
    if not findings:
        typer.echo(f"lean-step: {path} has no finding {wanted}. A check lists what it has.", err=True)
        return 2
    for finding in findings:
        mended = repair(character, finding, path.parent, memo)
        if mended is None:
            continue
        console.print(Text(finding.sentence))
        console.print(Text(f"Repair: {mended.sentence}", style="bold"))
        before, after = (dump(one).decode().splitlines() for one in (character, mended.character))
        for line in difflib.unified_diff(before, after, str(path), "repaired", lineterm="", n=1):
            console.print(Text(line, style="green" if line[:1] == "+" else "red" if line[:1] == "-" else "dim"))
        if write:
            history.apply(Edit("repaired", partial(_replaced, mended.character)))
            history.save()
            console.print(f"Written to {path}.")
        else:
            console.print("Nothing was written; --write does.")
        return 0
    typer.echo(f"lean-step: no repair is known that mends {wanted} without bringing something as bad.", err=True)
    return 1


def _replaced(mended: Character, document: Character) -> Character:
    return mended


class SoFar:
    """What is certain already of a check that goes on, below what has been printed; nothing of it stays."""

    def __init__(self, console: Console) -> None:
        from rich.live import Live

        self._found, self._situations, self._shown, self._waits = list["Finding"](), 0, 0.0, True
        self._live = Live(console=console, transient=True, auto_refresh=False)

    def __enter__(self) -> SoFar:
        return self

    def __exit__(self, *_: object) -> None:
        self._live.stop()  # however the check ends, the terminal is as it was

    def certain(self, found: list[Finding]) -> None:
        """These findings are certain."""
        self._found = found
        self._show()

    def told(self, situations: int) -> None:
        """So many situations have been looked at."""
        self._situations = situations
        if time.monotonic() - self._shown > PACE:
            self._show()

    def _show(self) -> None:
        from rich.text import Text

        from leanstep.core import jit

        lines = [_line_of(one) for one in self._found[:MOST_SO_FAR]]
        more = len(self._found) - len(lines)
        lines += [Text(f"  and {more} more", style="dim")] if more > 0 else []
        self._live.start()
        self._shown = time.monotonic()
        said = f"{self._situations} situations …" if self._situations else "checking …"
        # once something has been compiled it stays so
        self._waits = self._waits and jit.is_new()
        if self._waits:
            said += " What is played waits for the fast engine, which is compiled once on this machine."
        self._live.update(Text("\n").join([*lines, Text(said, style="dim")]), refresh=True)


def _watched(paths: list[Path], work: Work) -> Iterator[Outcome]:
    """Check one file after another in this process, for somebody who looks on."""
    from rich.console import Console

    from leanstep.cli.batch import check_one

    for path in paths:
        with SoFar(Console(stderr=True, highlight=False)) as so_far:
            outcome = check_one(path, replace(work, told=so_far.told), so_far.certain)
        yield outcome


def _count():  # type: ignore[no-untyped-def]
    """Tells how many files are done, on a terminal only."""

    def told(done: int, total: int) -> None:
        if sys.stderr.isatty():
            typer.echo(f"\r\x1b[K{done} of {total} …" if done < total > 1 else "\r\x1b[K", err=True, nl=False)

    return told


def _line_of(finding: Finding) -> Text:
    from rich.text import Text

    line = Text("  ")
    line.append(finding.severity, _STYLE[finding.severity])
    line.append(f"  {finding.id}  ", "cyan")
    line.append(finding.sentence)
    return line


def _print(console: Console, path: Path, report: Report) -> None:
    from rich.text import Text

    console.print(Text(f"{path} – {report.character}", style="bold"))
    for finding in report.findings:
        line = _line_of(finding)
        world = f", {finding.world} world" if finding.world else ""
        line.append(f"  [{finding.verdict}{world}]", "dim")
        console.print(line)
        if finding.why:
            console.print(Text(f"      {finding.why}", style="dim"))
        if finding.witness is not None:
            changes = "; ".join(
                f"tick {change.at}: " + ", ".join(f"{name} {_said(value)}" for name, value in change.set.items())
                for change in finding.witness.changes[:8]
            )
            more = " …" if len(finding.witness.changes) > 8 else ""
            long = counted(finding.witness.ticks, "tick")
            console.print(Text(f"      witness, {long}: {changes or 'no input'}{more}", style="dim"))
    for finding, reason in report.muted:
        console.print(Text(f"  muted  {finding.id}  {finding.sentence}  ({reason})", style="dim"))
    counts = ", ".join(counted(report.count(severity), severity) for severity in ("error", "warning", "note"))
    searched = f"{report.situations} situations in {report.seconds:.2f} s"
    if report.played:
        reached = sum(fate.body == "reached" for fate in report.states)
        searched += f"; {reached} of {len(report.states)} states reached by playing {report.played} ticks"
    if not report.complete:
        searched += f"; not complete: {report.aborted}"
    console.print(f"  {counts}; {searched}\n")


def _said(value: float | bool | str) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    return f"{value:g}" if isinstance(value, float) else value
