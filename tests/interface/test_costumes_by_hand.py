"""A costume by hand: from a sheet that is brought in to one that is worn, seen in every preview."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace
from PIL import Image
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QColorDialog, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Exchange, Sheet
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.sheets.costume_row import CostumeRow
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.wears_row import WearsRow
from leanstep.desk.window import Window
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import typed

LEFT = Qt.MouseButton.LeftButton
RED = (200, 30, 30)


@pytest.fixture
def red(window: Window, demo: Path) -> Window:
    """The lamplighter, with a sheet of the same layout in which he is all red, and frames 0 and 12 are not drawn; its tool in hand."""
    with Image.open(demo / "art" / "lamplighter.png") as image:
        pixels = image.convert("RGBA")
    dyed = Image.new("RGBA", pixels.size, (*RED, 255))
    dyed.putalpha(pixels.getchannel("A").point(lambda alpha: 255 if alpha else 0))
    for frame in (0, 12):
        column, row = frame % 11, frame // 11
        dyed.paste((0, 0, 0, 0), (112 * column, 112 * row, 112 * column + 112, 112 * row + 112))
    dyed.save(demo / "art" / "red.png")
    sheet = Sheet(name="red", image="art/red.png", size=pixels.size)
    window.session.edit("a sheet", lambda document: replace(undressed(document), sheets=(document.sheets[0], sheet)))
    window.go("Sheets")
    station(window).choose("red")
    QTest.mouseClick(station(window).tools.tools["costume"], LEFT)
    return window


def undressed(document: Character) -> Character:
    """A character without costumes, and without the choice by which they are worn."""
    parameters = tuple(one for one in document.parameters if one.name != "wears")
    return replace(document, costumes=(), parameters=parameters, sheets=document.sheets[:1])


def station(window: Window) -> SheetsStation:
    found = window.station(SheetsStation)
    assert isinstance(found, SheetsStation)
    return found


def row(window: Window) -> CostumeRow:
    found = station(window).costume
    assert found.isVisible()
    return found


def document(window: Window) -> Character:
    return window.session.document


def red_share(widget: QWidget) -> float:
    """The share of a widget's pixels that are of the costume."""
    image = widget.grab().toImage()
    seen = [QColor(image.pixel(x, y)) for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)]
    return sum(1 for one in seen if (one.red(), one.green(), one.blue()) == RED) / len(seen)


@pytest.mark.long
def test_a_sheet_becomes_a_costume_and_is_worn_by_a_choice(red: Window) -> None:
    assert row(red).said.text().startswith("It is shown where clips show it.")
    tools = station(red).tools.mapTo(red, station(red).tools.rect().topLeft())
    QTest.mouseClick(station(red).tools.tools["feet"], LEFT)
    assert station(red).tools.mapTo(red, station(red).tools.rect().topLeft()) == tools, "the tools stay where they are"
    QTest.mouseClick(station(red).tools.tools["costume"], LEFT)
    pick(row(red).instead, "lamplighter")
    (costume,) = document(red).costumes
    assert (costume.name, costume.sheets[0].sheet, costume.sheets[0].by) == ("red", "lamplighter", "red")
    # the layout is that of the lamplighter, in the same step
    assert document(red).sheets[1].cut == document(red).sheets[0].cut
    typed(row(red).name, "red coat")
    assert document(red).costumes[0].name == "red coat"
    QTest.mouseClick(row(red).new_choice, LEFT)
    assert (document(red).costumes[0].parameter, document(red).costumes[0].value) == ("wears", "red_coat")
    assert not row(red).new_choice.isVisible()
    pick(row(red).parameter, "no choice")
    assert document(red).costumes[0].parameter == "" and row(red).new_choice.isVisible()
    # one step each, back to the beginning
    for _ in range(4):
        red.session.undo()
    assert document(red).costumes == () and document(red).sheets[1].cut != document(red).sheets[0].cut


@pytest.mark.long
def test_what_is_lacking_is_listed_and_shown_as_it_is_by_one_gesture(red: Window) -> None:
    pick(row(red).instead, "lamplighter")
    assert row(red).said.text() == "Lacks frames 0 and 12 of lamplighter."
    QTest.mouseClick(row(red).as_it_is, LEFT)
    assert document(red).costumes[0].sheets[0].original == (0, 12)
    assert row(red).said.text() == "Frames 0 and 12 as without it." and not row(red).as_it_is.isVisible()
    # frames are chosen to be left, and worn again
    station(red).view.choose([3, 4])
    QTest.mouseClick(row(red).keep, LEFT)
    assert document(red).costumes[0].sheets[0].original == (0, 3, 4, 12)
    QTest.mouseClick(row(red).keep, LEFT)
    assert document(red).costumes[0].sheets[0].original == (0, 12)
    station(red).view.choose([5])
    typed(row(red).number.lineEdit(), "1")
    assert document(red).costumes[0].sheets[0].frames == {"1": 5}
    assert row(red).number.value() == 1


def test_feet_that_stand_elsewhere_get_those_of_the_original(red: Window) -> None:
    pick(row(red).instead, "lamplighter")
    station(red).view.choose([3])
    station(red).edits.move_feet(7.0, 0.0)
    assert "frame 3 stands elsewhere" in row(red).said.text().replace("Frame", "frame")
    QTest.mouseClick(row(red).feet, LEFT)
    foot = document(red).sheets[0].foot
    assert document(red).sheets[1].feet == {"3": foot} and "elsewhere" not in row(red).said.text()


@pytest.mark.long
def test_a_costume_is_seen_in_every_preview_while_it_is_chosen_beside_the_mirror(red: Window) -> None:
    wears = red.findChild(WearsRow)
    assert isinstance(wears, WearsRow) and not wears.isVisible(), "there is none to choose yet"
    pick(row(red).instead, "lamplighter")
    QTest.mouseClick(row(red).as_it_is, LEFT)
    assert wears.isVisible() and red_share(red.mirror.glass) == 0
    before = document(red)
    red.go("Clips")
    clips = red.station(ClipsStation)
    assert isinstance(clips, ClipsStation)
    clips.choose("walk")
    assert red_share(clips.film) == 0
    pick(wears.choice, "red")
    assert red_share(clips.film) > 0.01 and document(red) is before, "the character is as it was"
    red.go("Sheets")
    station(red).choose("lamplighter")
    assert red_share(station(red).strip) == 0, "a sheet is seen as it is"
    pick(wears.choice, "no costume")
    red.go("Clips")
    assert red_share(clips.film) == 0
    # what the graph says again, and of another file nothing
    pick(wears.choice, "red")
    red.session.new()
    assert red.session.art.worn is None and not wears.isVisible()


@pytest.mark.long
def test_a_state_wears_a_costume_and_it_is_removed_with_what_names_it(red: Window) -> None:
    pick(row(red).instead, "lamplighter")

    def worn(made: Character) -> Character:
        first, *rest = made.layers
        states = tuple(replace(one, costume="red") for one in first.states)
        return replace(made, layers=(replace(first, states=states), *rest))

    red.session.edit("worn", worn)
    QTest.mouseClick(row(red).as_it_is, LEFT)
    for _ in range(30):
        red.live.tick()
    assert red_share(red.mirror.glass) > 0.001
    QTest.mouseClick(row(red).remove, LEFT)
    assert document(red).costumes == () and {one.costume for one in document(red).layers[0].states} == {""}
    assert red_share(red.mirror.glass) == 0


@pytest.mark.long
def test_a_second_sheet_is_put_into_the_same_costume_and_taken_out(red: Window, demo: Path) -> None:
    own, dyed = document(red).sheets
    more = (replace(own, name="tools"), replace(dyed, name="red tools"))
    red.session.edit("sheets", lambda made: replace(made, sheets=(*made.sheets, *more)))
    pick(row(red).instead, "lamplighter")
    station(red).choose("red tools")
    pick(row(red).instead, "tools")
    assert [one.name for one in document(red).costumes] == ["red", "red tools"]
    pick(row(red).costume, "red")
    (costume,) = document(red).costumes
    assert [(one.sheet, one.by) for one in costume.sheets] == [("lamplighter", "red"), ("tools", "red tools")]
    pick(row(red).instead, "no other sheet")
    assert [one.by for one in document(red).costumes[0].sheets] == ["red"]


@pytest.mark.long
def test_a_costume_of_other_colours_is_made_and_seen_before_it_counts(window: Window) -> None:
    window.go("Sheets")
    station(window).choose("lamplighter")
    QTest.mouseClick(station(window).tools.tools["costume"], LEFT)
    QTest.mouseClick(row(window).recolour, LEFT)
    assert station(window).current == "lamplighter dyed"
    assert document(window).costumes[-1].sheets[0].by == "lamplighter dyed"
    coat = next(one for one in row(window).colours.swatches if one.was == "#2f6069")
    seen = []

    def choose(take: bool) -> None:
        (dialog,) = [one for one in window.findChildren(QColorDialog) if one.isVisible()]
        dialog.setCurrentColor(QColor(*RED))
        seen.append((red_share(station(window).view), document(window).sheets[-1].colours))
        dialog.accept() if take else dialog.reject()

    for take in (False, True):
        QTimer.singleShot(0, lambda take=take: choose(take))
        QTest.mouseClick(coat, LEFT)
        assert (red_share(station(window).view) > 0.002) == take
    assert all(share > 0.002 and colours == () for share, colours in seen) and len(seen) == 2
    assert document(window).sheets[-1].colours == (Exchange(was="#2f6069", to="#c81e1e"),)
    assert red_share(window.mirror.glass) == 0
    wears = window.findChild(WearsRow)
    assert isinstance(wears, WearsRow)
    pick(wears.choice, "lamplighter dyed")
    assert red_share(window.mirror.glass) > 0.002
    window.session.undo()
    assert document(window).sheets[-1].colours == () and red_share(window.mirror.glass) == 0


@pytest.mark.long
def test_an_image_as_large_as_another_sheet_is_said_to_go_with_it(red: Window, demo: Path) -> None:
    said: list[str] = []
    red.session.said.connect(said.append)
    red.session.edit("none", lambda made: replace(made, sheets=made.sheets[:1]))
    station(red).images.add([demo / "art" / "red.png"])
    assert said[-1] == "Added sheet red. It is as large as lamplighter: “Costume” shows it instead."


@pytest.mark.long
def test_a_costume_and_what_is_found_of_it_are_gone_to_where_it_is_mended(red: Window) -> None:
    pick(row(red).instead, "lamplighter")
    red.go("Graph")
    red.session.show(Thing("costume", "red"))
    assert red.stack.currentWidget() is station(red) and row(red).name.text() == "red"
    station(red).choose("lamplighter")
    station(red).tools.use("choose")
    station(red).point_at({"costume": "red", "sheet": "lamplighter", "frames": [0, 12]})
    assert station(red).current == "red" and row(red).said.text().startswith("Lacks")
