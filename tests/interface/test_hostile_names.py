"""Text of the document is shown as text: nothing in a name is ever taken for markup, and nothing it names is loaded."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import msgspec
import pytest
from PySide6.QtCore import QEvent, QPoint, QUrl
from PySide6.QtGui import QHelpEvent, QTextDocument
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QWidget

from leanstep.core.character import files
from leanstep.core.naming.references import Thing, things
from leanstep.core.naming.renaming import IN_CONDITIONS, rename, rename_fault
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.widgets.notice import Notice
from leanstep.desk.window import Window
from tests.interface.conftest import ticks, wait_checked


def hostile(path: Path) -> str:
    return f"<img src={path}>"


@pytest.fixture
def character(demo: Path) -> Path:
    """The faulty demo, with a name that is markup wherever there can be one."""
    path = demo / "lamplighter-faulty.leanstep"
    document = files.load(path)
    for number, thing in enumerate(things(document)):
        now = things(document)[number]
        name = f"<img src=/x{number}>"
        if now.kind not in IN_CONDITIONS and rename_fault(document, now, name) is None:
            document = rename(document, now, name)
        assert isinstance(thing, Thing)
    layers = tuple(
        msgspec.structs.replace(
            layer,
            transitions=tuple(msgspec.structs.replace(one, note="<img src=/n>") for one in layer.transitions),
            states=tuple(msgspec.structs.replace(one, note="<b>note</b>") for one in layer.states),
        )
        for layer in document.layers
    )
    document = msgspec.structs.replace(document, name="<img src=/name>", layers=layers)
    files.save(path, document)
    return path


def test_no_label_and_no_tooltip_loads_what_a_name_says(
    open_window: Callable[..., Window], character: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    loaded: list[str] = []
    before = QTextDocument.loadResource

    def load(document: QTextDocument, kind: int, name: QUrl) -> object:
        loaded.append(name.toString())
        return before(document, kind, name)

    monkeypatch.setattr(QTextDocument, "loadResource", load)
    window = open_window(character)
    wait_checked(window)
    window.session.keeper.noticed.emit(Notice("x", "<img src=/notice>", ()))
    for name in window.stations:
        window.go(name)
        ticks(window, 3)
        QTest.qWait(60)
        window.grab()
        assert not markup(window), name
    findings = window.station(FindingsStation)
    for row in range(len(findings.model.items)):
        findings.list.setCurrentIndex(findings.model.index(row))
        assert not markup(window)
    for state in window.session.document.layers[0].states[:4]:
        window.session.select_state(0, state.name)
        window.session.remove(Thing("state", state.name, window.session.document.layers[0].name))
        assert not markup(window)
    page = window.station(GraphStation).page
    window.go("Graph")
    for slot in list(page.page.slots.values())[:3]:
        QTest.mouseMove(page, QPoint(int(slot.x), int(slot.ground - 10)))
        where = QPoint(int(slot.x), int(slot.ground - 10))
        QApplication.sendEvent(page, QHelpEvent(QEvent.Type.ToolTip, where, page.mapToGlobal(where)))
        assert "&lt;img" in page.toolTip() or "<img" not in page.toolTip()
    assert loaded == []


def markup(window: Window) -> list[str]:
    """Labels and tooltips in which a name of the document would be taken for markup."""
    found = []
    for widget in window.findChildren(QWidget):
        if isinstance(widget, QLabel) and "<img" in widget.text():
            plain = widget.textFormat().name == "PlainText"
            found += [] if plain else [f"label {widget.text()}"]
        tip = widget.toolTip()
        if "<img" in tip:
            found.append(f"tooltip {tip}")
    return found
