"""Every field of a document has a control in the window, or a reason why it has none.

Where a control is named, its value is changed through the real window; the saved file differs in that field and nowhere else,
and undo restores the bytes.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import msgspec
import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QLineEdit, QWidget

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.annotations import fields_of
from leanstep.core.character.clips import (
    ActionBox,
    BoxKey,
    Clip,
    Contact,
    Key,
    Mark,
    Phase,
    Playback,
    Span,
    Strike,
    Travel,
)
from leanstep.core.character.contact_edits import declared
from leanstep.core.character.costume_edits import worn_instead
from leanstep.core.character.cut_outs import CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, put
from leanstep.core.character.files import dump
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.schema import parts
from leanstep.core.character.stand_in_edits import by_new_choice
from leanstep.core.cut_outs.edits import moving
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.clips.event_choice import Event
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import typed

LEFT = Qt.MouseButton.LeftButton

Opened = Callable[[Window], QWidget]


@dataclass(frozen=True)
class Control:
    """A control, by its spoken name, in what ``opened`` shows; ``text`` is typed, or chosen, where it is no checkbox."""

    opened: Opened
    name: str
    text: str = ""
    also: tuple[str, ...] = ()


def parameter(name: str) -> Opened:
    def opened(window: Window) -> QWidget:
        window.go("Graph")
        window.mirror.show_tab("Parameters")
        window.mirror.names.open(name)
        return next(row for row in window.mirror.names.rows if row.head.parameter.name == name)

    return opened


def counting(window: Window) -> QWidget:
    count = Parameter(name="count", kind="whole", min=0.0, max=9.0)
    window.session.edit("test", lambda document: change(document, (), parameters=(*document.parameters, count)))
    return parameter("count")(window)


def control(name: str) -> Opened:
    def opened(window: Window) -> QWidget:
        window.go("Graph")
        window.mirror.show_tab("Parameters")
        return next(row for row in window.mirror.names.controls if row.control.name == name)

    return opened


def panel(window: Window) -> QWidget:
    window.go("Graph")
    window.mirror.show_tab("Parameters")
    return window.mirror.names


def body(window: Window) -> QWidget:
    window.go("Rehearse")
    window.mirror.show_tab("Body")
    return window.mirror.body


def seen_from_above(window: Window) -> None:
    window.session.edit("test", lambda document: change(document, ("body",), model="above"))


def contact(window: Window) -> QWidget:
    force = Parameter(name="force", max=9.0)

    def told(document: Character) -> Character:
        made = declared(document)
        return change(made, (), parameters=(*made.parameters, force))

    window.session.edit("test", told)
    return body(window)


def body_above(window: Window) -> QWidget:
    seen_from_above(window)
    return body(window)


def state_above(window: Window) -> QWidget:
    seen_from_above(window)
    return state(window)


def slope(window: Window) -> QWidget:
    station = shape(window)
    window.session.edit("test", lambda document: change(document, ("course", "shapes", 0), kind="slope"))
    return station


def shape_above(window: Window) -> QWidget:
    seen_from_above(window)
    return shape(window)


def state(window: Window) -> QWidget:
    window.go("Graph")
    window.session.select_state(0, "crouch")
    return window.station(GraphStation)


def transition(window: Window) -> QWidget:
    window.go("Graph")
    window.session.select_transition(0, 0)
    return window.station(GraphStation)


def lane(window: Window) -> QWidget:
    window.go("Graph")
    window.session.select(Thing("lane", "air", "base"))
    return window.station(GraphStation)


def clip(window: Window) -> QWidget:
    window.go("Clips")
    station = window.station(ClipsStation)
    station.playing = False
    station.boxes.on.setChecked(False)
    station.pins.on.setChecked(False)
    window.session.select(Thing("clip", "walk"))
    station.film.choose(0)
    return station


def _with(
    change: Callable[[Clip], Clip], chosen: Event | None = None, phase: int = -1, box: int = -1, family: str = ""
) -> Opened:
    """The clip walk with something more in it, saved so, and an event, a phase or a box chosen; with another clip of its family."""

    def opened(window: Window) -> QWidget:
        station = clip(window)
        at = station.index  # type: ignore[attr-defined]
        before = window.session.document.clips[at]
        window.session.edit("prepared", lambda document: put(document, ("clips", at), change(before)))
        clips = tuple(change(one) if one.name == family else one for one in window.session.document.clips)
        window.session.edit("prepared", lambda document: msgspec.structs.replace(document, clips=clips))
        if chosen is not None:
            station.events.choose([chosen])  # type: ignore[attr-defined]
        station.phases.band.choose(phase)  # type: ignore[attr-defined]
        station.boxes.on.setChecked(box >= 0)  # type: ignore[attr-defined]
        station.boxes.choose(box)  # type: ignore[attr-defined]
        return station

    return opened


MARK = _with(lambda one: msgspec.structs.replace(one, marks=(Mark(name="tap", at=3.0),)), Event("mark", 0))
SPAN = _with(lambda one: msgspec.structs.replace(one, spans=(Span(name="cut", start=3.0, end=9.0),)), Event("span", 0))
PHASE = _with(
    lambda one: msgspec.structs.replace(
        one, phases=(Phase(start=3.0, end=9.0), Phase(start=20.0, end=22.0)), strike=Strike(stun=5)
    ),
    phase=1,
)
BLADE = _with(
    lambda one: msgspec.structs.replace(
        one, boxes=(ActionBox(name="blade", keys=tuple(BoxKey(cel=at, box=(1.0, 2.0, 9.0, 9.0)) for at in (1, 4))),)
    ),
    box=0,
)


def pinned(window: Window) -> QWidget:
    """The pin point of the clip walk, with the lamp that is pinned to it."""
    station = clip(window)
    station.pins.on.setChecked(True)  # type: ignore[attr-defined]
    station.go_to_cel(3)  # type: ignore[attr-defined]
    station.pins.choose(0)  # type: ignore[attr-defined]
    return station


def _with_parts(window: Window) -> None:
    """A sheet with a body and two halves of an arm, and one in which they move."""
    arm = CutOutPart(name="arm", outline=((20.0, 40.0), (60.0, 40.0), (60.0, 60.0)), joint=(22.0, 41.0), parent="body")
    parts = (CutOutPart(name="body"), arm, replace(arm, name="hand", parent="arm", at=(50.0, 50.0)))
    window.go("Sheets")
    sheets = window.session.document.sheets
    at = next(place for place, one in enumerate(sheets) if one.name == "lamplighter")
    window.session.edit("prepared", lambda document: change(document, ("sheets", at), parts=parts))
    other = next(place for place, one in enumerate(sheets) if one.name == "winter")
    window.session.edit("prepared", lambda document: change(document, ("sheets", other), parts=parts[:1]))
    for _ in range(2):
        window.session.edit("prepared", lambda document: moving(document, "lamplighter")[0])


def of_parts(window: Window) -> QWidget:
    """The part hand of a sheet."""
    _with_parts(window)
    station = window.station(SheetsStation)
    station.choose("lamplighter")
    station.tools.use("parts")
    station.parts.choose(2)
    return station.parts


def drawn_from_parts(window: Window) -> QWidget:
    """A sheet drawn from parts."""
    _with_parts(window)
    station = window.station(SheetsStation)
    station.choose("lamplighter moves")
    station.tools.use("choose")
    return station


def moved_part(window: Window) -> QWidget:
    """The part arm, which has keys."""
    _with_parts(window)
    key = PartKey(turn=10.0)
    at = next(place for place, one in enumerate(window.session.document.sheets) if one.name == "lamplighter moves")
    tracks = (Track(part="arm", keys=(key,)),)
    window.session.edit("prepared", lambda document: change(document, ("sheets", at, "cut_out"), tracks=tracks))
    return _in_hand(window, "arm")


def reaching_part(window: Window) -> QWidget:
    """The part hand, which reaches."""
    _with_parts(window)
    at = next(place for place, one in enumerate(window.session.document.sheets) if one.name == "lamplighter moves")
    reaches = (Reach(part="hand", tip=(60.0, 60.0), keys=(ReachKey(x=10.0, y=40.0),)),)
    window.session.edit("prepared", lambda document: change(document, ("sheets", at, "cut_out"), reaches=reaches))
    return _in_hand(window, "hand")


def _in_hand(window: Window, part: str) -> QWidget:
    station = clip(window)
    window.session.select(Thing("clip", "lamplighter moves"))
    station.parts.on.setChecked(True)  # type: ignore[attr-defined]
    station.go_to_cel(0)  # type: ignore[attr-defined]
    station.parts.choose(part)  # type: ignore[attr-defined]
    return station


def stand_in(window: Window) -> QWidget:
    """The clip walk, which stands in for run when the figure is moved by what it wears."""
    station = clip(window)
    one = Alternate(name="hurry", clips=(Instead(clip="run", by="walk"),), parameter="wears", value="coat")
    window.session.edit("prepared", lambda document: change(document, (), alternates=(one,)))
    return station


def state_moved(window: Window) -> QWidget:
    stand_in(window)
    return state(window)


FAMILY = _with(lambda one: msgspec.structs.replace(one, family="gaits"), family="run")
PLAYBACK = _with(lambda one: msgspec.structs.replace(one, playback=Playback(parameter="speed", at=70.0)))
PATH = _with(
    lambda one: msgspec.structs.replace(
        one, contacts=(), travel=Travel(keys=(Key(at=20.0, x=30.0, y=9.0), Key(at=40.0, x=50.0)))
    )
)
FOOT = _with(lambda one: msgspec.structs.replace(one, contacts=(Contact(start=0.0, end=20.0, x=12.0, to=-12.0),)))
BOX = _with(lambda one: msgspec.structs.replace(one, box=(-8.0, 0.0, 16.0, 40.0)))


def _shaped(window: Window) -> None:
    """One squash and one lean, and no others."""
    dip, into = Squash(name="dip", high=0.8), Lean(name="into", speeding=1.0)
    states = tuple(msgspec.structs.replace(one, squash="", lean="") for one in window.session.document.layers[0].states)
    window.session.edit("prepared", lambda document: change(document, ("layers", 0), states=states))
    window.session.edit("prepared", lambda document: change(document, (), squashes=(dip,), leans=(into,)))


def shapes(window: Window) -> QWidget:
    _shaped(window)
    window.go("Graph")
    window.mirror.show_tab("Shape")
    return window.mirror.shape


def state_shaped(window: Window) -> QWidget:
    _shaped(window)
    return state(window)


def transition_shaped(window: Window) -> QWidget:
    _shaped(window)
    return transition(window)


def sheet(tool: str) -> Opened:
    def opened(window: Window) -> QWidget:
        window.go("Sheets")
        station = window.station(SheetsStation)
        QTest.mouseClick(station.tools.tools[tool], LEFT)  # type: ignore[index]
        return station

    return opened


def ruled(window: Window) -> QWidget:
    station = sheet("boxes")(window)
    station.edits.set_box_rule("row")  # type: ignore[attr-defined]
    return station


def scaled(window: Window) -> QWidget:
    station = sheet("choose")(window)
    station.edits.set_scale(by=2.0)  # type: ignore[attr-defined]
    return station


def with_costume(document: Character) -> Character:
    """A second and a third sheet with the same pictures, of which the second is worn by a choice."""
    own = document.sheets[0]
    plain = tuple(one for one in document.parameters if one.name != "wears")
    more = tuple(replace(own, name=name) for name in ("winter", "evening"))
    document = replace(document, sheets=(own, *more), costumes=(), parameters=plain)
    return by_new_choice(worn_instead(document, "winter", own.name), 0)


def costume(window: Window) -> QWidget:
    window.session.edit("a costume", with_costume)
    station = sheet("costume")(window)
    station.choose("winter")  # type: ignore[attr-defined]
    station.view.choose([3])  # type: ignore[attr-defined]
    return station.costume  # type: ignore[attr-defined]


def state_dressed(window: Window) -> QWidget:
    window.session.edit("a costume", with_costume)
    return state(window)


def blend(window: Window) -> QWidget:
    window.go("Blends")
    return window.station(BlendsStation)


def take(window: Window) -> QWidget:
    window.go("Rehearse")
    return window.station(RehearseStation)


def shape(window: Window) -> QWidget:
    station = take(window)
    QTest.mouseClick(station.course_button, LEFT)  # type: ignore[attr-defined]
    station.course_row.choose(0)  # type: ignore[attr-defined]
    return station


def start(window: Window) -> QWidget:
    station = shape(window)
    station.course_row.choose(-1)  # type: ignore[attr-defined]
    return station


LISTED = "a list: its parts are added, changed and removed by the controls of their own fields"
KEPT = "what Keep what just happened writes down, see test_takes_by_hand"
HAND = "by hand on the sheet, see test_sheets"
TABLE: dict[str, Control | str] = {
    "Parameter.name": "renamed everywhere at once, see test_names_panel",
    "Parameter.kind": Control(parameter("hit"), "Kind", "a flag"),
    "Parameter.owner": Control(parameter("hit"), "Set by", "controls"),
    "Parameter.min": Control(parameter("speed"), "From", "-5"),
    "Parameter.max": Control(parameter("speed"), "To", "300"),
    "Parameter.unit": Control(parameter("speed"), "Unit", "m/s"),
    "Parameter.choices": "shown for choices only, see test_names_panel",
    "Parameter.rest": Control(parameter("speed"), "Rest", "12"),
    "Parameter.start": "shown for parameters of the graph only, see test_names_panel",
    "Parameter.formula": "shown for formulas only, see test_names_panel",
    "Parameter.wobble": Control(parameter("speed"), "Wobble", "3"),
    "Parameter.countdown": Control(counting, "goes down by one on every tick", also=("min", "rest")),
    "Parameter.chatters": Control(parameter("grounded"), "goes on and off by itself"),
    "Parameter.once_per": Control(parameter("hit"), "Limit", "0.5"),
    "Parameter.per_second": Control(parameter("speed"), "Limit", "900"),
    "Parameter.note": Control(parameter("speed"), "Note", "how fast"),
    "Transition.ordered": "set by Earlier and Later, see test_graph_hands",
    "Character.pattern": "made of the chosen states by a command, see test_patterns",
    "Pattern.says": "a line of the gallery, see test_patterns",
    "Pattern.bodies": "that of the character it was kept from",
    "Pattern.joins": "the states beside those that are kept, renamed as those are",
    "Button.name": "renamed everywhere at once, see test_names_panel",
    "Button.keys": Control(control("light"), "Keys of light", "E R"),
    "Button.within": Control(control("light"), "light shows within", "0.1"),
    "Button.pad": Control(control("light"), "light on a controller", "west"),
    "Stick.name": "renamed everywhere at once, see test_names_panel",
    "Stick.left": Control(control("stick"), "Keys of stick left", "A"),
    "Stick.right": Control(control("stick"), "Keys of stick right", "D"),
    "Stick.down": Control(control("stick"), "Keys of stick down", "S"),
    "Stick.up": Control(control("stick"), "Keys of stick up", "W"),
    "Stick.opposite": Control(control("stick"), "Opposite keys", "the first key wins"),
    "Stick.pad": Control(control("stick"), "stick on a controller", "right stick"),
    "Stick.dead_zone": Control(control("stick"), "stick dead zone", "0.3"),
    "Stick.rounding": Control(control("stick"), "stick rounded", "four ways"),
    "Stick.release": Control(control("stick"), "stick release", "0.1"),
    "Controls.sticks": LISTED,
    "Controls.buttons": LISTED,
    "Cut.way": "the four cards above the sheet, see test_sheets",
    "Cut.columns": "the card I know how many, see test_sheets",
    "Cut.rows": "the card I know how many, see test_sheets",
    "Cut.width": "the card I know the cell, see test_sheets",
    "Cut.height": "the card I know the cell, see test_sheets",
    "Cut.margin": "the card I know the cell, see test_sheets",
    "Cut.gap": "the card I know the cell, see test_sheets",
    "Cut.rects": HAND,
    "Cut.cells": HAND,
    "Ground.colour": "found in the image and confirmed, see test_sheets",
    "Ground.tolerance": "a slider over the sheet, see test_sheets",
    "Ground.holes": "offered one by one, see test_sheets",
    "Scale.by": Control(scaled, "Scale", "3 times"),
    "Scale.height": "asked for by Scale, see test_body_boxes",
    "Scale.stretch": "asked for by Scale, see test_body_boxes",
    "Scale.smooth": Control(scaled, "Kind of scaling", "smooth"),
    "Sheet.parts": LISTED,
    "Sheet.cut_out": LISTED,
    "Sheet.name": "renamed everywhere at once, see test_stations",
    "Sheet.image": "an image is brought in, see test_sheets",
    "Sheet.images": "numbered images are brought in together, see test_sheets",
    "Sheet.size": "the size of the image; nobody says it",
    "Sheet.ground": "the bar over the sheet, see test_sheets",
    "Sheet.cut": LISTED,
    "Sheet.colours": "colour by colour, see test_costumes_by_hand",
    "Exchange.was": "the colour that is clicked, see test_costumes_by_hand",
    "Exchange.to": "chosen and seen before it counts, see test_costumes_by_hand",
    "Sheet.foot": "one foot for all cells as older files have it; a rule takes its place",
    "Sheet.foot_rule": Control(sheet("feet"), "Rule for feet", "Feet: below the drawing", also=("foot", "pins")),
    "Sheet.feet": HAND,
    "Sheet.scale": Control(sheet("choose"), "Scale", "2 times"),
    "Sheet.box": Control(sheet("boxes"), "Rule for body boxes", "Boxes: one for the sheet"),
    "Sheet.box_rule": Control(sheet("boxes"), "Rule for body boxes", "Boxes: around each drawing"),
    "Sheet.box_margin": Control(ruled, "Margin", "3"),
    "Sheet.boxes": "by hand on the sheet, see test_body_boxes",
    "Sheet.facing": Control(sheet("choose"), "Facing", "Faces left"),
    "Sheet.row_facing": "the menu of rows, see test_sheets",
    "Sheet.row_bearing": "said when a ring is filled from rows, see test_dial",
    "Sheet.mirrors": Control(sheet("choose"), "Facing", "Faces both ways"),
    "StandIn.sheet": Control(costume, "Shown instead of", "evening"),
    "StandIn.by": "the sheet that is chosen, see test_costumes_by_hand",
    "StandIn.frames": Control(costume, "Shown for frame", "5"),
    "StandIn.original": "of chosen frames by a button, see test_costumes_by_hand",
    "Instead.clip": Control(stand_in, "Played instead of", "Instead of idle"),
    "Instead.by": "the clip that is chosen, see test_ways_of_moving",
    "Alternate.name": "renamed everywhere at once, see test_ways_of_moving",
    "Alternate.clips": LISTED,
    "Alternate.parameter": Control(stand_in, "Moved so by", "no choice", also=("value",)),
    "Alternate.value": Control(stand_in, "Moved so with", "plain"),
    "Costume.name": "renamed everywhere at once, see test_costumes_by_hand",
    "Costume.sheets": LISTED,
    "Costume.parameter": Control(costume, "Worn by", "no choice", also=("value",)),
    "Costume.value": Control(costume, "Worn with", "plain"),
    "Cel.frame": Control(clip, "Frame", "12"),
    "Cel.ticks": Control(clip, "Ticks", "7", also=("marks",)),
    "Cel.sheet": "shown once there are several sheets, see test_stations",
    "Cel.mirrored": Control(clip, "mirrored"),
    "Cel.turns": Control(clip, "Quarter turns", "1"),
    "Effect.do": Control(state, "On entry", "freeze 2 ticks", also=("on_entry",)),
    "Effect.name": Control(state, "On entry", "lock movement as low", also=("on_entry",)),
    "Effect.up": "written as words, see test_effects and test_body_asked",
    "Effect.value": Control(state, "On leaving", "freeze 3 ticks", also=("on_leave",)),
    "Mark.name": "renamed everywhere at once, see test_clip_events",
    "Mark.at": Control(MARK, "Time of the mark", "4"),
    "Mark.effects": Control(MARK, "What the mark does", "freeze 2 ticks"),
    "Mark.pin": Control(MARK, "Pin point of the mark", "pole"),
    "PinKey.cel": "the cel on which it is put, see test_pins_by_hand",
    "PinKey.x": Control(pinned, "Pin point across", "7"),
    "PinKey.y": Control(pinned, "Pin point up", "7"),
    "PinKey.angle": Control(pinned, "Angle of the pin point", "7"),
    "PinKey.behind": Control(pinned, "Pinned behind the figure"),
    "Pin.name": "renamed in its clip, with the marks that name it, see test_pins_by_hand",
    "Pin.keys": "through the numbers of the pin point and by hand, see test_pins_by_hand",
    "Accessory.name": "renamed everywhere at once, see test_pins_by_hand",
    "Accessory.pin": "the pin point that is chosen, see test_pins_by_hand",
    "Accessory.sheet": Control(pinned, "Picture of the accessory", "sheet winter"),
    "Accessory.frame": Control(pinned, "Frame of the accessory", "1"),
    "Accessory.clip": Control(pinned, "Picture of the accessory", "clip run"),
    "Accessory.angle": Control(pinned, "Angle of the accessory", "7"),
    "Accessory.order": Control(pinned, "Order of the accessory", "behind the figure"),
    "Accessory.shown": Control(pinned, "Accessory shown while", "grounded"),
    "CutOutPart.name": "renamed everywhere at once, see test_parts_by_hand",
    "CutOutPart.frame": Control(of_parts, "Frame of the part", "1"),
    "CutOutPart.outline": "drawn by hand, see test_parts_by_hand",
    "CutOutPart.behind": Control(of_parts, "Goes on under it", "body"),
    "CutOutPart.parent": Control(of_parts, "Hangs on", "body"),
    "CutOutPart.joint": Control(of_parts, "Joint across", "7", also=("at",)),
    "CutOutPart.at": Control(of_parts, "Place down", "7"),
    "CutOutPart.turn": Control(of_parts, "Rest turn of the part", "7"),
    "CutOutPart.order": Control(of_parts, "Order of the part", "7"),
    "PartKey.at": Control(moved_part, "Tick of the key", "8"),
    "PartKey.x": Control(moved_part, "Part across", "7"),
    "PartKey.y": Control(moved_part, "Part up", "7"),
    "PartKey.turn": Control(moved_part, "Turn of the part", "7"),
    "PartKey.wide": Control(moved_part, "Width of the part", "2"),
    "PartKey.high": Control(moved_part, "Height of the part", "2"),
    "PartKey.ease": Control(moved_part, "Easing of the key", "softly"),
    "Track.part": "the part that is moved, see test_parts_by_hand",
    "Track.keys": "through the numbers of the part and by hand, see test_parts_by_hand",
    "ReachKey.at": "moved on its row, see test_parts_by_hand",
    "ReachKey.x": Control(reaching_part, "Target across", "7"),
    "ReachKey.y": Control(reaching_part, "Target up", "7"),
    "ReachKey.ease": Control(reaching_part, "Easing of the target", "softly"),
    "Reach.part": "the part that reaches, see test_parts_by_hand",
    "Reach.tip": Control(reaching_part, "Tip across", "7"),
    "Reach.bend": Control(reaching_part, "Bend", "bends to the right"),
    "Reach.keys": "through the numbers of the target and by hand, see test_parts_by_hand",
    "CutOut.of": Control(drawn_from_parts, "Drawn from", "winter"),
    "CutOut.like": Control(drawn_from_parts, "Drawn like", "lamplighter moves 2"),
    "CutOut.pictures": Control(drawn_from_parts, "Pictures from", "winter"),
    "CutOut.ticks": Control(moved_part, "Length of the motion", "48", also=("cels",)),
    "CutOut.every": Control(moved_part, "Ticks of a frame", "6", also=("cels",)),
    "CutOut.repeats": Control(moved_part, "Motion repeats"),
    "CutOut.smooth": Control(drawn_from_parts, "Smooth edges"),
    "CutOut.whole_pixels": Control(drawn_from_parts, "On whole pixels"),
    "CutOut.tracks": LISTED,
    "CutOut.reaches": LISTED,
    "Mark.says": Control(MARK, "What the mark does", "say foot = left"),
    "Span.name": "renamed everywhere at once, see test_clip_events",
    "Span.start": Control(SPAN, "Start of the span", "4"),
    "Span.end": Control(SPAN, "End of the span", "11"),
    "Span.hold": Control(SPAN, "What the span does", "hold drawn"),
    "Span.lock": Control(SPAN, "What the span does", "lock movement"),
    "Span.says": Control(SPAN, "What the span does", "say strength = 3"),
    "Phase.kind": Control(PHASE, "Kind of the phase", "recovery"),
    "Phase.start": Control(PHASE, "Start of the phase", "4"),
    "Phase.end": Control(PHASE, "End of the phase", "11"),
    "Phase.again": Control(PHASE, "hits again"),
    "Strike.stun": Control(PHASE, "Stun on hit", "24"),
    "Strike.guard_stun": Control(PHASE, "Stun on guard", "9"),
    "Strike.strength": Control(PHASE, "Strength", "2.5"),
    "Strike.push": Control(PHASE, "Push", "80"),
    "Strike.freeze": Control(PHASE, "Freeze on contact", "4"),
    "ContactRules.guards": Control(contact, "Guards while", "grounded"),
    "ContactRules.hit": Control(contact, "When it is hit", "nothing"),
    "ContactRules.guarded": Control(contact, "When it guards", "hit"),
    "ContactRules.stun": Control(contact, "Stunned by", "nothing"),
    "ContactRules.strength": Control(contact, "How strong by", "force"),
    "ContactRules.lands": Control(contact, "When it hits", "hit"),
    "ContactRules.stopped": Control(contact, "When it is guarded", "hit"),
    "SecondFigure.who": "kept with the take by a command, see test_second_figure",
    "SecondFigure.x": "kept with the take by a command, see test_second_figure",
    "SecondFigure.y": "kept with the take by a command, see test_second_figure",
    "SecondFigure.facing": "kept with the take by a command, see test_second_figure",
    "SecondFigure.file": "chosen as a file, see test_second_figure",
    "SecondFigure.digest": KEPT,
    "SecondFigure.changes": "what hands or a take do with it, see test_second_figure",
    "BoxKey.cel": Control(BLADE, "First cel of the box", "2"),
    "BoxKey.box": Control(BLADE, "Action box left", "7"),
    "ActionBox.name": Control(BLADE, "Name of the box", "pole"),
    "ActionBox.kind": Control(BLADE, "Kind of the box", "guard reach"),
    "ActionBox.keys": "through the numbers of the box and by hand, see test_action_boxes",
    "Playback.parameter": Control(PLAYBACK, "Speed of the clip", "Follows rise"),
    "Playback.at": Control(PLAYBACK, "Value as written", "81"),
    "Playback.min": Control(PLAYBACK, "Slowest", "0.5"),
    "Playback.max": Control(PLAYBACK, "Fastest", "3"),
    "Playback.resting": Control(PLAYBACK, "Resting frame", "1"),
    "Clip.name": "renamed everywhere at once, see test_stations",
    "Clip.sheet": "what a clip is made of; each cel can say another one",
    "Clip.box": Control(BOX, "Box height", "44"),
    "Clip.facing": Control(clip, "Facing", "Faces left"),
    "Clip.loop": Control(clip, "Loop", "there and back"),
    "Clip.repeat_from": Control(clip, "Repeat from cel", "2"),
    "Clip.playback": Control(clip, "Speed of the clip", "Follows speed"),
    "Clip.cels": Control(clip, "Ticks per cel", "6", also=("marks",)),
    "Clip.travel": Control(clip, "Travel of the clip", "Travels a path"),
    "Clip.contacts": LISTED,
    "Clip.marks": LISTED,
    "Clip.spans": LISTED,
    "Clip.phases": LISTED,
    "Clip.boxes": LISTED,
    "Clip.pins": LISTED,
    "Clip.family": "made and parted in one gesture, see test_families",
    "Clip.own": Control(FAMILY, "Own marks"),
    "Clip.strike": LISTED,
    "Key.at": Control(PATH, "Time of the key", "24"),
    "Key.x": Control(PATH, "Ahead", "12"),
    "Key.y": Control(PATH, "Up", "31"),
    "Key.ease": Control(PATH, "Way to the key", "softly"),
    "Travel.keys": LISTED,
    "Travel.moves": Control(PATH, "What the path moves", "moves only the drawing"),
    "Travel.through": Control(PATH, "through walls"),
    "Travel.scale_x": Control(PATH, "Times as far", "1.5"),
    "Travel.scale_y": Control(PATH, "Times as high", "0.5"),
    "Contact.start": Control(FOOT, "Foot comes down", "3"),
    "Contact.end": Control(FOOT, "Foot goes up", "18"),
    "Contact.x": Control(FOOT, "Where it comes down", "14"),
    "Contact.to": Control(FOOT, "Where it goes up", "-13"),
    "Squash.name": "renamed everywhere at once, see test_shapes",
    "Squash.high": Control(shapes, "Gets high", "0.7"),
    "Squash.wide": Control(shapes, "keeps its area"),
    "Squash.over": Control(shapes, "Within", "0.2"),
    "Squash.hold": Control(shapes, "springs back by itself"),
    "Squash.back": Control(shapes, "Then back in", "0.3"),
    "Squash.every": Control(shapes, "Comes every", "2"),
    "Squash.by_fall": Control(shapes, "Whole after", "300"),
    "Squash.whole_pixels": Control(shapes, "by whole pixels"),
    "Squash.box": Control(shapes, "the body box follows"),
    "Lean.name": "renamed everywhere at once, see test_shapes",
    "Lean.speeding": Control(shapes, "Speeding up", "3"),
    "Lean.turning": Control(shapes, "Turning", "3"),
    "Lean.most": Control(shapes, "At most", "7"),
    "Lean.smooth": Control(shapes, "Smoothed over", "0.3"),
    "Axis.parameter": Control(blend, "Axis parameter", "rise"),
    "Axis.min": Control(blend, "Axis from", "-5"),
    "Axis.max": Control(blend, "Axis to", "260"),
    "Axis.step": Control(blend, "Ruling", "15"),
    "Sample.phase": Control(blend, "Phase", "0.25"),
    "Sample.mirrored": Control(blend, "mirrored"),
    "BlendSpace.sticky": Control(blend, "Sticky borders", "0.3"),
    "Sample.at": Control(blend, "Sample place", "3"),
    "Sample.clip": Control(blend, "Sample clip", "crouch"),
    "BlendSpace.name": "renamed everywhere at once, see test_stations",
    "BlendSpace.axes": LISTED,
    "BlendSpace.samples": LISTED,
    "State.name": "renamed everywhere at once, see test_stations",
    "State.lane": Control(state, "Lane", "air"),
    "State.clip": Control(state, "Shows", "clip land"),
    "State.blend": Control(state, "Shows", "blend gait", also=("clip",)),
    "State.held": Control(state, "Shows", "one frame of lamplighter", also=("clip",)),
    "State.clear": Control(state, "clear"),
    "State.restful": Control(state, "may rest here"),
    "State.safe": Control(state, "cannot be hit"),
    "State.ending": Control(state, "ending"),
    "State.hold_still": Control(state, "holds still"),
    "State.backward": Control(state, "may go backwards"),
    "State.mode": Control(state, "Moves by", "floating"),
    "State.cap": Control(state, "No faster than", "90"),
    "State.fall_cap": Control(state, "Falls no faster than", "90"),
    "State.box": Control(state, "Box high", "30"),
    "State.push": Control(state, "Push along", "120"),
    "State.face": Control(state_above, "Turns to what it touches", "300"),
    "State.squash": Control(state_shaped, "Squash", "squash dip"),
    "State.lean": Control(state_shaped, "Lean", "lean into"),
    "State.alternate": Control(state_moved, "Way of moving", "moves hurry"),
    "State.costume": Control(state_dressed, "Costume", "wears winter"),
    "State.expects": Control(state, "Expects", "grounded"),
    "State.grace": Control(state, "Grace", "0.3"),
    "State.on_entry": Control(state, "On entry", "freeze 2 ticks"),
    "State.on_leave": Control(state, "On leaving", "freeze 2 ticks"),
    "State.note": Control(state, "Note on the state", "low"),
    "Transition.source": Control(transition, "From", "land", also=("from",)),
    "Transition.from_lane": Control(transition, "From", "lane air", also=("from",)),
    "Transition.to": Control(transition, "To", "land"),
    "Transition.when": Control(transition, "Condition", "speed > 20"),
    "Transition.urgent": Control(transition, "urgent"),
    "Transition.restart": Control(transition, "restart"),
    "Transition.fade": Control(transition, "Fade", "0.2"),
    "Transition.interruptible": "means something while there is a fade, see test_drawer",
    "Transition.keep_phase": Control(transition, "keeps the phase"),
    "Transition.squash": Control(transition_shaped, "Squash", "squash dip"),
    "Transition.lean": Control(transition_shaped, "Lean", "lean into"),
    "Transition.note": Control(transition, "Note on the transition", "soft"),
    "Layer.name": "renamed everywhere at once, see test_drawer",
    "Layer.start": Control(lane, "Start of the layer", "stride"),
    "Layer.clear": Control(lane, "Clear layer"),
    "Layer.lanes": "ordered, added and removed on the page, see test_drawer",
    "Layer.states": LISTED,
    "Layer.transitions": LISTED,
    "Body.stick": "one stick in the demo; the list is beside the others",
    "Body.slope": Control(body, "Walks up slopes to", "30"),
    "Body.turn_time": Control(body, "Turns round after", "0.2"),
    "Body.tilts": Control(body, "tilts on slopes"),
    "Body.model": Control(body, "Seen from", "above"),
    "Body.ways": Control(body_above, "Goes", "four ways"),
    "Body.depth": Control(body_above, "Depth", "14"),
    "Body.cell": Control(body_above, "Cells of", "24"),
    "Body.turn_rate": Control(body_above, "Turns by", "300"),
    "Body.along": Control(body_above, "Heeds its facing", "0.5"),
    "Body.along_after": Control(body_above, "Fully within", "0.4"),
    "Body.along_wait": Control(body_above, "Begins after", "0.2"),
    "Body.along_back": Control(body_above, "Stops heeding", "2"),
    "Body.aim": Control(body_above, "Looks along", "stick"),
    "Body.aim_held": Control(body_above, "Only holding", "run"),
    "Body.jump": Control(body, "Jumps with", "run"),
    "Body.run": Control(body, "Runs with", "light"),
    "Body.width": Control(body, "Width", "24"),
    "Body.height": Control(body, "Height", "60"),
    "Body.walk_speed": Control(body, "Walks at", "80"),
    "Body.run_speed": Control(body, "Runs at", "170"),
    "Body.acceleration": Control(body, "Speeds up by", "650"),
    "Body.braking": Control(body, "Slows down by", "950"),
    "Body.air_control": Control(body, "Gains speed by", "0.7"),
    "Body.gravity_up": Control(body, "Rising, slows by", "950"),
    "Body.gravity_down": Control(body, "Falling, speeds up by", "1350"),
    "Body.fall_speed": Control(body, "Falls no faster than", "530"),
    "Body.jump_speed": Control(body, "Takes off at", "340"),
    "Body.jump_cut": Control(body, "Let go early, keeps", "0.5"),
    "Body.jump_grace": Control(body, "May jump late by", "0.1"),
    "Body.jump_buffer": Control(body, "May press early by", "0.1"),
    "Body.climb_speed": Control(body, "Climbs ladders at", "70"),
    "Shape.kind": Control(shape, "Kind of shape", "ladder"),
    "Shape.x": Control(shape, "X of the shape", "-44"),
    "Shape.y": Control(shape, "Y of the shape", "-44"),
    "Shape.width": Control(shape, "Width of the shape", "444"),
    "Shape.height": Control(shape, "Height of the shape", "44"),
    "Shape.rises": Control(slope, "The slope rises", "up to the left"),
    "Shape.tall": Control(shape_above, "How tall the wall is", "9"),
    "Shape.name": Control(shape, "Name of the shape", "quay"),
    "Course.start": Control(start, "X of the shape", "44"),
    "Course.shapes": LISTED,
    "Change.at": "bars on the timeline are dragged, see test_stations",
    "Change.set": "bars on the timeline are drawn, see test_stations",
    "Expectation.what": Control(take, "What the take expects", "end in idle", also=("expects",)),
    "Expectation.name": Control(take, "What the take expects", "enter land", also=("expects",)),
    "Expectation.layer": Control(take, "What the take expects", "enter out of layer lantern", also=("expects",)),
    "Expectation.times": Control(take, "What the take expects", "mark step fires 2 times", also=("expects",)),
    "Expectation.within": Control(take, "What the take expects", "enter land within 3 s", also=("expects",)),
    "Standing.layer": KEPT,
    "Standing.state": KEPT,
    "Standing.stay": KEPT,
    "Standing.playhead": KEPT,
    "Standing.pick": KEPT,
    "Standing.over": KEPT,
    "Standing.fading": KEPT,
    "Standing.fade": KEPT,
    "Given.name": KEPT,
    "Given.value": KEPT,
    "Left.layer": KEPT,
    "Left.state": KEPT,
    "Left.ticks": KEPT,
    "Beginning.layers": KEPT,
    "Beginning.values": KEPT,
    "Beginning.presses": KEPT,
    "Beginning.left": KEPT,
    "Beginning.memories": KEPT,
    "Beginning.held": KEPT,
    "Beginning.raised": KEPT,
    "Beginning.locks": KEPT,
    "Beginning.locked": KEPT,
    "Beginning.freeze": KEPT,
    "Beginning.body": KEPT,
    "Take.begins": KEPT,
    "Take.second": "kept with the take by a command, see test_second_figure",
    "Take.name": "renamed everywhere at once, see test_more_hands",
    "Take.ticks": Control(take, "Length of the take", "320"),
    "Take.world": Control(take, "World of the take", "the take says everything"),
    "Take.changes": LISTED,
    "Take.expects": Control(take, "What the take expects", "end in idle"),
    "Take.note": Control(take, "Note on the take", "along"),
    "Muted.id": "a finding is muted in Findings, see test_mending",
    "Muted.about": "a finding is muted in Findings, see test_mending",
    "Muted.reason": "a finding is muted in Findings, see test_mending",
    "Character.leanstep": "the format's number; nobody says it",
    "Character.name": Control(panel, "Name of the character", "The lamplighter of Quay Street"),
    "Character.rate": Control(panel, "Rate", "50"),
    "Character.flicker_window": Control(panel, "Flicker window", "0.2"),
    "Character.parameters": LISTED,
    "Character.assumptions": "written in the panel, see test_names_panel",
    "Character.controls": LISTED,
    "Character.sheets": LISTED,
    "Character.clips": LISTED,
    "Character.blends": LISTED,
    "Character.layers": LISTED,
    "Character.body": LISTED,
    "Character.course": LISTED,
    "Character.costumes": LISTED,
    "Character.accessories": LISTED,
    "Character.alternates": LISTED,
    "Character.squashes": LISTED,
    "Character.leans": LISTED,
    "Character.takes": LISTED,
    "Character.contact": LISTED,
    "Character.muted": LISTED,
}


def fields() -> set[str]:
    """Every field of every part of a document."""
    return {f"{part.__name__}.{field.name}" for part in parts() for field in fields_of(part)}


def test_every_field_is_named() -> None:
    assert set(TABLE) == fields()


def spoken(widget: QWidget) -> str:
    return widget.accessibleName() or (widget.text() if isinstance(widget, QCheckBox) else "")


def operate(widget: QWidget, text: str) -> None:
    """Change a control as a person does."""
    assert widget.isVisible() and widget.isEnabled(), spoken(widget)
    if isinstance(widget, QCheckBox):
        QTest.mouseClick(widget, LEFT, pos=QPoint(8, widget.height() // 2))
    elif isinstance(widget, QComboBox):
        pick(widget, text)
    elif isinstance(widget, QDoubleSpinBox):
        typed(widget.lineEdit(), text)
    else:
        assert isinstance(widget, QLineEdit)
        typed(widget, text)


def leaves(data: Any, path: tuple[str, ...] = ()) -> dict[tuple[str, ...], Any]:
    """Every value of a JSON document by where it stands."""
    if isinstance(data, dict):
        return {key: value for name, one in data.items() for key, value in leaves(one, (*path, name)).items()}
    if isinstance(data, list):
        return {key: value for at, one in enumerate(data) for key, value in leaves(one, (*path, str(at))).items()}
    return {path: data}


@pytest.mark.long
@pytest.mark.parametrize(
    "group", sorted({name.split(".")[0] for name, how in TABLE.items() if isinstance(how, Control)})
)
def test_a_control_changes_its_field_and_nothing_else(lasting_window: Window, group: str) -> None:
    window, path = lasting_window, lasting_window.session.history.path
    assert path is not None
    for name, how in TABLE.items():
        if not isinstance(how, Control) or name.split(".")[0] != group:
            continue
        inside = how.opened(window)
        window.session.save()
        before, steps = path.read_bytes(), window.session.history.undo_name
        found = [one for one in inside.findChildren(QWidget) if spoken(one) == how.name and one.isVisible()]
        assert len(found) == 1, (name, how.name, found)
        operate(found[0], how.text)
        assert window.session.history.undo_name != steps or window.session.history.changed, name
        window.session.save()
        old, new = (leaves(json.loads(text)) for text in (before, path.read_bytes()))
        differing = {key for key in old.keys() | new.keys() if old.get(key) != new.get(key)}
        field = name.split(".")[1]
        field = {"source": "from"}.get(field, field)
        assert differing, f"{name}: nothing was changed"
        assert all({field, *how.also} & set(key) for key in differing), (name, differing)
        window.session.undo()
        assert dump(window.session.document) == before, f"{name}: undo restores the bytes"
        while window.session.history.undo_name:
            window.session.undo()
        if inside is window.station(RehearseStation) and inside.course_button.isChecked():
            QTest.mouseClick(inside.course_button, LEFT)
