"""Work beside the window comes back to the window's thread, with what it made or why it failed."""

from __future__ import annotations

import threading
from concurrent.futures import Future

from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from leanstep.desk.workers import Workers
from tests.interface.test_sheets import wait_until


def test_what_is_done_beside_comes_back_in_order_and_no_failure_is_dropped(application: QApplication) -> None:
    workers, came = Workers("trial"), list[object]()

    def take(done: Future[int]) -> None:
        assert threading.current_thread() is threading.main_thread()
        came.append(repr(done.exception()) if done.exception() else done.result())

    workers.begin(lambda: 1, take)
    workers.begin(lambda: 1 // 0, take)
    workers.begin(lambda: 3, take)
    assert came == []
    wait_until(lambda: len(came) == 3, "all three have come back")
    assert came[0] == 1 and "ZeroDivision" in str(came[1]) and came[2] == 3
    # what has not begun when the window closes is dropped, and told to nobody
    going, began = threading.Event(), threading.Event()

    def holding() -> bool:
        began.set()
        return going.wait(5)

    workers.begin(holding, take)
    left = workers.begin(lambda: 4, take)
    assert began.wait(5)
    workers.close()
    going.set()
    wait_until(lambda: len(came) == 4, "what had begun has come back")
    QTest.qWait(50)
    assert left.cancelled() and len(came) == 4 and 4 not in came
