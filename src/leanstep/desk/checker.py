"""Checks of the open document, in a process of their own."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QElapsedTimer, QObject, QProcess, QTimer, Signal

from leanstep import launching
from leanstep.core.character import files
from leanstep.core.character.document import Character
from leanstep.core.findings import messages
from leanstep.core.findings.repairs.proving import MENDED
from leanstep.core.findings.repairs.registry import Repair
from leanstep.core.findings.results import Finding, Report, finding_from_json, report_from_json
from leanstep.desk.blocking_wait import BlockingWait

TOGETHER = 60
"""Milliseconds within which edits are checked together."""
QUICK, PUSH = 20, 5
"""Milliseconds within which a document is written that is sent at once, and for which is waited until the worker has it."""


class Checker(QObject):
    """Has the document of a session checked after every change.  ``asked`` gives it with the folder of its images.

    ``report`` is the last complete check, ``before`` the one before it, ``early`` what is certain already of a first check that goes
    on; ``checking``: what is known is of an older document; ``stopped``: somebody stopped the check, or it broke off.
    """

    checked = Signal()
    told = Signal()
    """More is certain of a first check that goes on."""
    repaired = Signal(object, object)
    """What mends a finding: the finding and its :class:`Repair`, None where none is known."""
    progressed = Signal(str)
    said = Signal(str)

    def __init__(self, asked: Callable[[], tuple[Character, Path]], beside: BlockingWait) -> None:
        super().__init__()
        self._asked, self._beside = asked, beside
        self._worker: QProcess | None = None
        self.report: Report | None = None
        self.before: Report | None = None
        self.early: tuple[Finding, ...] = ()
        self.checking = self.stopped = False
        self.at_once = True
        """Whether a change is checked while the window takes it in, where that is quick."""
        self._mending: tuple[int, Finding, Character] | None = None
        self._request = 0
        self._sent = QElapsedTimer()
        self._quickly_written = False
        self._later = QTimer(self, singleShot=True, interval=TOGETHER)
        self._later.timeout.connect(lambda: self.send())

    def ask_soon(self) -> None:
        """Check once what comes next together with this is there."""
        self._later.start()

    def renew(self) -> None:
        """The document is another one: what is known is of an older one."""
        self.checking = True
        fresh = self._sent.isValid() and self._sent.elapsed() < TOGETHER
        if self.at_once and self._quickly_written and not fresh and not self._later.isActive():
            # the check begins while the window takes in the change
            self.send(at_once=True)
        else:
            self.ask_soon()

    def forget(self) -> None:
        """Another file is open: what is still being checked is of none that is."""
        self.report = self.before = None
        self.early = ()
        self._request += 1

    def only_when_asked(self) -> None:
        """Check nothing by itself any more."""
        self._later.stop()
        self._later.timeout.disconnect()
        self.at_once = False

    def send(self, at_once: bool = False) -> None:
        """Ask the worker to check the document; an older check is dropped.  ``at_once``: nothing else is done meanwhile."""
        self._later.stop()
        if self._worker is None or self._worker.state() == QProcess.ProcessState.NotRunning:
            self._worker = QProcess(self)
            self._worker.readyReadStandardOutput.connect(self._receive)
            self._worker.finished.connect(self._ended)
            program, *words = launching.words("leanstep.cli.worker")
            self._worker.start(program, words)
        self._request += 1
        self._sent.start()
        self.stopped, self.checking = False, True
        (document, folder), number = self._asked(), self._request

        def written() -> bytes:
            return messages.line(messages.Check(number, str(folder), files.dump(document).decode()))

        request = written() if at_once else self._beside.wait_for("Checking …", written)
        self._quickly_written = self._sent.elapsed() < QUICK
        if number == self._request and self._worker is not None:
            self._worker.write(request)
            self._worker.waitForBytesWritten(PUSH)
            self.progressed.emit("Checking …")

    def _receive(self) -> None:
        while self._worker is not None and self._worker.canReadLine():
            answer = messages.answer(bytes(self._worker.readLine().data()))
            if isinstance(answer, messages.Mended):
                self._take_repair(answer)
            elif answer.id == self._request:
                self._take(answer)

    def _take(self, answer: messages.Answer) -> None:
        """Something is known of the check that was asked for last."""
        if isinstance(answer, messages.Certain):
            # later checks keep the findings of the one before until they are done
            if self.report is None:
                self.early = tuple(map(finding_from_json, answer.findings))
                self.told.emit()
        elif isinstance(answer, messages.Situations):
            self.progressed.emit(f"Checking: {answer.count} situations …")
        elif isinstance(answer, messages.Checked):
            self.checking = False
            self.before, self.report = self.report, report_from_json(answer.report)
            self.early = ()
            self.progressed.emit("")
            self.checked.emit()
        elif isinstance(answer, messages.Refused):
            self.checking = False
            self.progressed.emit("")
            self.said.emit(answer.sentence)

    def ask_repair(self, finding: Finding) -> None:
        """Ask the worker what mends a finding of the last check; :attr:`repaired` tells.  While a check runs nothing is asked: it
        would have to be broken off, and its findings are others anyway."""
        worker = self._worker
        running = not self.checking and worker is not None and worker.state() == QProcess.ProcessState.Running
        if finding.id not in MENDED or not running or worker is None:
            self.repaired.emit(finding, None)
            return
        number = self._mending[0] + 1 if self._mending is not None else 0
        document, folder = self._asked()
        self._mending = number, finding, document
        worker.write(
            messages.line(messages.Mend(number, str(folder), files.dump(document).decode(), finding.to_json()))
        )

    def _take_repair(self, answer: messages.Mended) -> None:
        """What mends a finding has come; of a document that is another one by now it is of no use."""
        asked = self._mending
        if asked is None or answer.id != asked[0] or asked[2] is not self._asked()[0]:
            return
        made = None
        if answer.repair is not None:
            sentence, document, also = answer.repair
            made = Repair(sentence, files.parse(document.encode()), tuple(also))
        self.repaired.emit(asked[1], made)

    def _ended(self, code: int) -> None:
        """The worker ended by itself: say so instead of waiting for ever."""
        if self._worker is not None and self.sender() is self._worker:
            reason = bytes(self._worker.readAllStandardError().data()).decode(errors="replace").strip().splitlines()
            self._worker = None
            self._stop_waiting(f"The check broke off ({reason[-1] if reason else f'code {code}'}): a bug in Lean Step.")

    def stop(self) -> None:
        """Stop the check that is running."""
        self._let_go()
        known = "are those of the last complete one" if self.report else "are not known; the next edit checks again"
        self._stop_waiting(f"Stopped the check; the findings {known}.")

    def _stop_waiting(self, sentence: str) -> None:
        self.stopped, self.checking = True, False
        self.progressed.emit("")
        self.said.emit(sentence)
        self.checked.emit()

    def _let_go(self) -> None:
        # it keeps nothing that could be lost
        worker, self._worker = self._worker, None
        if worker is not None:
            worker.kill()
            worker.waitForFinished(1000)

    def close(self) -> None:
        """Let go of the worker."""
        self._later.stop()
        self._let_go()
