"""Which way drawings look, turns, and clips of several sheets."""

from __future__ import annotations

from dataclasses import replace

import msgspec
import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.takes import Take
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.drawable import at_share, of_cel, of_situation, of_state
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import sketch, way


def facing_character(**sheet: object) -> Character:
    made = Sheet(**{"name": "art", "size": (40, 20), "cut": Cut(columns=4, rows=2)} | sheet)  # type: ignore[arg-type]
    clips = (
        Clip(name="up", sheet="art", cels=(Cel(frame=1),)),
        Clip(name="low", sheet="art", cels=(Cel(frame=5, turns=1),)),
        Clip(name="own", sheet="art", facing="left", cels=(Cel(frame=1), Cel(frame=0, sheet="coat"))),
    )
    states = tuple(State(name=clip.name, clip=clip.name) for clip in clips)
    ways = (way("up>low", "go"), way("low>own", "go"), way("own>up", "go"))
    character = sketch(*ways, states=states, clips=clips)
    return msgspec.structs.replace(character, sheets=(made, Sheet(name="coat", size=(10, 10))))


@pytest.mark.parametrize(
    ("sheet", "mirrored"),
    [
        ({}, [False, False, True]),
        ({"facing": "left"}, [True, True, True]),
        ({"row_facing": {"1": "left"}}, [False, True, True]),
        ({"facing": "left", "mirrors": False}, [False, False, False]),
    ],
)
def test_facing_of_sheet_row_and_clip_is_obeyed(sheet: dict[str, object], mirrored: list[bool]) -> None:
    machine = compile_character(facing_character(**sheet))
    begun = rehearse(machine, Take(name="t", ticks=1)).steps[0].situation
    seen = []
    for side in (1, -1):
        for state in range(3):
            body = replace(begun.body, facing=side)
            now = replace(begun, states=(state,), body=body, picks=(0,), playheads=(0,))
            (piece,) = of_situation(machine, now).pieces
            seen.append(piece.mirrored)
            assert piece.turn == (0 if state != 1 else 90 * (-1 if piece.mirrored else 1))
    assert seen[:3] == mirrored
    assert seen[3:] == ([not one for one in mirrored] if sheet.get("mirrors", True) else mirrored)


def test_a_clip_may_mix_frames_of_several_sheets() -> None:
    character = facing_character()
    clip = character.clips[2]
    assert [piece.sheet for cel in clip.cels for piece in of_cel(clip, cel).pieces] == ["art", "coat"]
    renamed = rename(character, Thing("sheet", "coat"), "cape")
    assert renamed.clips[2].cels[1].sheet == "cape" and renamed.clips[2].sheet == "art"


def test_what_is_drawn_facing_left_stands_turned_where_it_is_shown_by_itself() -> None:
    clip = Clip(name="walk", sheet="art", cels=(Cel(frame=0),))
    states = (State(name="walk", clip="walk"),)
    for facing, mirrors, turned in (("left", True, True), ("right", True, False), ("left", False, False)):
        sheet = Sheet(name="art", facing=facing, mirrors=mirrors)  # type: ignore[arg-type]
        made = Character(sheets=(sheet,), clips=(clip,), layers=(Layer(name="base", states=states),))
        machine = compile_character(made)
        assert of_state(machine, 0, 0).pieces[0].mirrored is turned
        assert at_share(machine, clip, 0.0).pieces[0].mirrored is turned
        assert at_share(machine, clip, 0.0, True).pieces[0].mirrored is not turned
