"""Checks documents for the desk in a process of its own, so that the window never waits.

Reads one JSON object a line from standard input, ``{"id", "folder", "document"}``, and answers with lines
``{"id", "situations"}`` while it works and ``{"id", "report"}`` at the end.  A newer request stops the older one.
"""

from __future__ import annotations

import json
import queue
import sys
import threading
from pathlib import Path
from typing import Any

from leanstep.core.character.files import parse
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.model import Memo
from leanstep.core.findings.report import check_character
from leanstep.core.proof.search import Stopped


def main() -> None:
    """Serve until standard input closes."""
    waiting: queue.Queue[dict[str, Any] | None] = queue.Queue()
    memo = Memo()
    threading.Thread(target=_listen, args=(waiting,), daemon=True).start()
    while (request := waiting.get()) is not None:
        while not waiting.empty():
            newer = waiting.get()
            if newer is None:
                return
            request = newer
        _serve(request, waiting, memo)


def _listen(waiting: queue.Queue[dict[str, Any] | None]) -> None:
    for line in sys.stdin:
        waiting.put(json.loads(line))
    waiting.put(None)


def _serve(request: dict[str, Any], waiting: queue.Queue[dict[str, Any] | None], memo: Memo) -> None:
    def progress(situations: int) -> bool:
        _say({"id": request["id"], "situations": situations})
        return waiting.empty()

    try:
        character = parse(request["document"].encode())
        folder = Path(request["folder"]) if request["folder"] else None
        report = check_character(character, folder, progress=progress, memo=memo)
    except Stopped:
        return
    except LeanStepError as error:
        _say({"id": request["id"], "error": str(error)})
        return
    _say({"id": request["id"], "report": report.to_json()})


def _say(answer: dict[str, Any]) -> None:
    sys.stdout.write(json.dumps(answer) + "\n")
    sys.stdout.flush()


if __name__ == "__main__":
    main()
