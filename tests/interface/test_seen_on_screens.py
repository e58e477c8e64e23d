"""What people saw on screens and should not: cut words, numbers over heads, things that move."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from leanstep.core.character.edits import change
from leanstep.core.clips.strides import usual_speed
from leanstep.core.rehearsal.drawable import of_cel
from leanstep.desk import paint
from leanstep.desk.window import Window
from tests.interface.test_sheets import wait_until


@pytest.mark.parametrize("size", ["pocket", "column", "stage"])
def test_no_tab_or_button_of_the_mirror_is_cut(window: Window, size: str) -> None:
    window.mirror.set_size(size)
    QTest.qWait(50)
    for one in (*window.mirror.tabs.values(), window.mirror.drive_button, window.mirror.restart_button):
        wide = one.fontMetrics().horizontalAdvance(one.text())
        assert one.width() >= wide + 4, one.text()


@pytest.mark.parametrize("tool", ["choose", "draw", "feet", "boxes"])
def test_lists_of_the_tools_show_what_is_chosen_whole(window: Window, tool: str) -> None:
    window.go("Sheets")
    tools = window.stations["Sheets"].tools
    tools.use(tool)
    QTest.qWait(50)
    shown = [one for one in tools.findChildren(QComboBox) if one.isVisible()]
    for one in shown:
        wide = one.fontMetrics().horizontalAdvance(one.currentText())
        assert one.width() >= wide + 40, one.currentText()
    assert shown or tool == "draw"


def test_the_drawer_is_low_until_something_is_chosen_and_nothing_moves_when_it_opens(window: Window) -> None:
    window.go("Graph")
    station = window.stations["Graph"]
    QTest.qWait(50)
    before = {name: (slot.x, slot.ground) for name, slot in station.page.page.slots.items()}
    assert station.drawer.height() < 80
    window.session.select_state(0, "hurt")
    QTest.qWait(100)
    assert station.drawer.height() > 200
    assert {name: (slot.x, slot.ground) for name, slot in station.page.page.slots.items()} == before
    slot, area = station.page.page.slots[0, "hurt"], station.page.visibleRegion().boundingRect()
    assert area.contains(QPoint(int(slot.x), int(slot.ground))), "what is chosen stays in sight"


def test_numbers_cover_no_head_and_are_shown_under_the_pointer(window: Window) -> None:
    window.go("Sheets")
    view = window.stations["Sheets"].view
    wait_until(lambda: len(view.frames) == 55, "the sheet")
    view.zoom_to(1 / 2)
    box = view.box(view.frames[0]).toRect()
    corner = box.adjusted(0, 0, -box.width() // 2, -box.height() // 2)
    bare = view.grab(corner).toImage()
    QTest.mouseMove(view, box.center())
    wait_until(lambda: view._under == 0, "the pointer")
    assert view.grab(corner).toImage() != bare
    QTest.mouseMove(view, QPoint(2, 2))
    wait_until(lambda: view._under is None, "the pointer to go")
    assert view.grab(corner).toImage() == bare


def test_what_follows_speed_begins_at_the_speed_of_its_feet(window: Window) -> None:
    window.go("Clips")
    station = window.stations["Clips"]
    choice = station.playback.choice
    index = next(at for at, one in enumerate(window.session.document.clips) if one.name == "skid")
    station.list.setCurrentIndex(station.model.index(index))
    clip = station.clip
    wanted = round(usual_speed(window.session.document, clip), 1)
    assert wanted > 10 and clip.playback is None
    choice.setCurrentText("Follows speed")
    choice.activated.emit(choice.currentIndex())
    assert station.clip.playback.at == wanted
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)


@pytest.mark.parametrize(("rule", "lifted"), [("row", False), ("centre", True)])
def test_a_figure_whose_foot_is_its_centre_is_seen_whole(window: Window, rule: str, lifted: bool) -> None:
    window.session.edit(
        "moved feet", lambda document: change(document, ("sheets", 0), foot_rule=rule, feet={}, foot=())
    )
    window.go("Clips")
    station = window.stations["Clips"]
    station.toggle()
    image = station.large.grab().toImage()
    # what is drawn ends on the ground line, above the lowest rows
    ground = station.large.height() - 19
    dark = [
        y
        for y in range(ground + 4, image.height() - 2)
        if any(image.pixelColor(x, y).value() < 90 for x in range(300, 480))
    ]
    assert not dark
    below = paint.below(window.session.art, of_cel(station.clip, station.clip.cels[0]))
    assert (below > 20) is lifted
