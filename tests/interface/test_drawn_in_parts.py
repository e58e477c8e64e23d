"""What is drawn again in parts while the window rests is what a drawing of the whole would be."""

from __future__ import annotations

from collections import deque

import numpy as np
import numpy.typing as npt
import pytest
from PySide6.QtCore import QCoreApplication, QPoint, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.figure_view import ROW, SOON
from leanstep.desk.window import Window
from tests.interface.conftest import ticks


def pixels(image: QImage) -> npt.NDArray[np.uint8]:
    """Rows of pixels."""
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine() // 4, 4)
    # the image goes, and its bits with it
    return rows[:, : image.width(), :3].copy()


@pytest.mark.long(but=3)
@pytest.mark.parametrize("place", ["Blends", "Rehearse", "Graph", "Clips", "Sheets"])
def test_a_window_at_rest_shows_what_is_so(window: Window, place: str) -> None:
    window.go(place)
    QTest.qWait(900)
    window.live.stop()
    station = window.stations[place]
    timer = getattr(station, "_timer", None)
    if timer is not None:
        timer.stop()
    QTest.qWait(40)
    shown = what_is_seen(window)
    assert shown.std() > 10
    assert np.argwhere((shown != pixels(window.grab().toImage())).any(axis=2)).tolist() == []


def what_is_seen(window: Window) -> npt.NDArray[np.uint8]:
    """The window as it is on the screen, where it was drawn again."""
    kept = window.backingStore().paintDevice()
    assert isinstance(kept, QImage)
    return pixels(kept)


def ribbon_seen(window: Window) -> bool:
    """Whether the mirror's ribbon is on the screen as it would be drawn now."""
    QTest.qWait(20)
    glass = window.mirror.glass
    high = ROW * len(window.live.machine.layers)
    corner = glass.mapTo(window, QPoint(0, glass.height() - high))
    area = slice(corner.y(), corner.y() + high), slice(corner.x(), corner.x() + glass.width())
    return bool((what_is_seen(window)[area] == pixels(window.grab().toImage())[area]).all())


def test_the_ribbon_of_a_tick_that_is_looked_at_is_that_of_the_tick(window: Window) -> None:
    take = window.session.document.takes[0]
    trace = rehearse(window.live.machine, take)
    for tick in range(40, 46):
        window.live.look(take, trace, tick)
        assert ribbon_seen(window), tick


def test_the_ribbon_that_comes_to_rest_shows_nothing_of_what_was(window: Window) -> None:
    window.live.drive()
    QTest.keyPress(window, Qt.Key.Key_Right)
    ticks(window, 20)
    QTest.keyRelease(window, Qt.Key.Key_Right)
    ticks(window, 30)
    window.live.leave()
    # a mark would let it be drawn again
    window.live.marks = deque(maxlen=0)
    glass, past = window.mirror.glass, window.live.past
    while past.still < 140:
        ticks(window, 1)
        QCoreApplication.processEvents()
        if past.still == 117:
            # it is not due again before it rests
            glass._hung = past, past.ticks + SOON
    assert ribbon_seen(window)
