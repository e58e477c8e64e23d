"""What is drawn again in parts while the window rests is what a drawing of the whole would be."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
import pytest
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from leanstep.desk.window import Window


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
    kept = window.backingStore().paintDevice()
    assert isinstance(kept, QImage)
    shown = pixels(kept)
    assert shown.std() > 10
    assert np.argwhere((shown != pixels(window.grab().toImage())).any(axis=2)).tolist() == []
