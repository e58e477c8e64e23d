"""Checks documents for the desk in a process of its own, so that the window never waits.

Requests come as lines of standard input, answers go out as lines (:mod:`leanstep.core.findings.messages`): how many situations have
been looked at and what is certain already while it works, and a report at the end.  A newer request stops the older one.  When
nothing is asked for a while, the body world is searched too, and a second report follows.
"""

from __future__ import annotations

import gc
import queue
import sys
import threading
from pathlib import Path

from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, parse
from leanstep.core.defaults import TICKS
from leanstep.core.errors import LeanStepError
from leanstep.core.findings import messages
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding, finding_from_json
from leanstep.core.rehearsal import engine_readiness
from leanstep.core.work import Stopped, Work

QUIET = 6.0
"""Seconds without a request after which the body world of the last document is searched too."""

Waiting = queue.Queue[messages.Check | messages.Mend | None]


def main() -> None:
    """Serve until standard input closes.  Python looks for cycles that nothing needs any more after an answer, not before."""
    gc.disable()
    engine_readiness.serve_meanwhile()
    threading.Thread(target=_speed_up, daemon=True).start()
    waiting: Waiting = queue.Queue()
    memo = Memo()
    threading.Thread(target=_listen, args=(waiting,), daemon=True).start()
    last: messages.Check | None = None
    while True:
        try:
            request = waiting.get(timeout=QUIET if last else None)
        except queue.Empty:
            # one that a repair broke off is begun again later
            if last is not None and _serve(last, waiting, memo, TICKS):
                last = None
            continue
        while request is not None and not waiting.empty():
            request = waiting.get()
        if request is None:
            return
        if isinstance(request, messages.Mend):
            _mend(request, waiting, memo)
        else:
            last = request if _serve(request, waiting, memo, 0) else None
        gc.collect()


def _speed_up() -> None:
    """Play with the compiled engine as soon as there is one; until then the plain one answers."""
    from leanstep import warm

    warm.compiled_once()
    warm.load()
    engine_readiness.announce()


def _listen(waiting: Waiting) -> None:
    for line in sys.stdin:
        waiting.put(messages.request(line))
    waiting.put(None)


def _serve(request: messages.Check, waiting: Waiting, memo: Memo, body_ticks: int) -> bool:
    """Check a document and answer; False when that did not come to an end.  The search of the body world is silent until
    it is done."""

    def told(situations: int) -> None:
        if not body_ticks:
            _say(messages.Situations(request.id, situations))

    def certain(findings: list[Finding]) -> None:
        if not body_ticks:
            _say(messages.Certain(request.id, [one.to_json() for one in findings]))

    try:
        character, folder = _asked(request)
        work = Work(play=body_ticks, stop=lambda: not waiting.empty(), told=told)
        report = check_character(character, folder, work, memo, certain)
    except Stopped:
        return False
    except LeanStepError as error:
        _say(messages.Refused(request.id, str(error)))
        return False
    _say(messages.Checked(request.id, report.to_json()))
    return True


def _mend(request: messages.Mend, waiting: Waiting, memo: Memo) -> None:
    """Answer with a repair; nothing when a newer request came."""
    character, folder = _asked(request)
    try:
        finding = finding_from_json(request.finding)
        found = repair(character, finding, folder, memo, Work(stop=lambda: not waiting.empty()))
    except (Stopped, LeanStepError):
        return
    told = None if found is None else (found.sentence, dump(found.character).decode(), list(found.also))
    _say(messages.Mended(request.id, told))


def _asked(request: messages.Request) -> tuple[Character, Path | None]:
    """The character of a request, and where its images lie."""
    return parse(request.document.encode()), Path(request.folder) if request.folder else None


def _say(answer: messages.Answer) -> None:
    sys.stdout.buffer.write(messages.line(answer))
    sys.stdout.flush()


if __name__ == "__main__":
    main()
