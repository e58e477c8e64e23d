"""Every field of the document keeps what is typed while checks end, images are read again and the figure is steered."""

from __future__ import annotations

import os
from itertools import groupby

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractSpinBox, QApplication, QLineEdit, QWidget

from leanstep.desk.editing import line_of
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.test_every_field import TABLE, Control, spoken
from tests.interface.test_typing import LEFT, disturb

LONG = os.environ.get("LEANSTEP_LONG") == "1"
WRITTEN = {name: how for name, how in TABLE.items() if isinstance(how, Control) and how.text}


def typed_in(widget: QWidget) -> QLineEdit | None:
    line = line_of(widget)
    return line if line is not None and not line.isReadOnly() else None


def content(widget: QWidget) -> str:
    """What was typed, without the words around it."""
    if isinstance(widget, QAbstractSpinBox):
        text = widget.text()
        prefix, suffix = widget.prefix(), widget.suffix()  # type: ignore[attr-defined]
        return text.removeprefix(prefix).removesuffix(suffix)
    line = line_of(widget)
    assert line is not None
    return line.text()


@pytest.mark.long(but=1)
@pytest.mark.parametrize("group", [name for name, _ in groupby(WRITTEN, lambda name: name.split(".")[0])])
def test_every_field_keeps_what_is_typed(lasting_window: Window, group: str) -> None:
    window = lasting_window
    for name, how in WRITTEN.items():
        if name.split(".")[0] != group:
            continue
        window.activateWindow()
        inside = how.opened(window)
        QApplication.processEvents()
        widget = next(one for one in inside.findChildren(QWidget) if spoken(one) == how.name and one.isVisible())
        line = typed_in(widget)
        if line is not None:
            window.live.drive()
            widget.setFocus(Qt.FocusReason.MouseFocusReason)
            line.selectAll()
            for at, letter in enumerate(how.text, 1):
                QTest.keyClick(widget, letter)  # type: ignore[call-overload]
                if LONG or at in (1, len(how.text)):
                    disturb(window)
                assert window.focusWidget() is widget, (name, how.text[:at])
                assert content(widget) == how.text[:at], (name, how.text[:at])
            window.live.leave()
            before = window.session.document
            QTest.keyClick(widget, Qt.Key.Key_Return)
            QTest.keyClick(widget, Qt.Key.Key_Return)
            assert window.session.document != before, name
        while window.session.history.undo_name:
            window.session.undo()
        if inside is window.station(RehearseStation) and inside.course_button.isChecked():
            QTest.mouseClick(inside.course_button, LEFT)
