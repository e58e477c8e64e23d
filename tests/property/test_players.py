"""The three players do on every tick what the plain stepper does: their golden traces are the same bytes.

``LEANSTEP_LONG=1`` plays ten times as many characters, and twice as long.
"""

from __future__ import annotations

import ctypes
import json
import os
import random
import re
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterable, Iterator, Mapping
from functools import cache
from pathlib import Path
from typing import Any, Literal

import pytest
from msgspec.structs import replace

from leanstep import runtime
from leanstep.core import bearings
from leanstep.core.body.body_state import BodyState
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip, Effect, Key, Mark, Playback, Span, Travel
from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.cut_outs.frame_poses import PosesBySheet, frame_poses_of
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.golden import golden, inputs_of
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.table import encoded
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.tick.columns import OLDER_WIDTHS, VERSION
from leanstep.core.tick.table import table_of
from leanstep.runtime import Player, Table, TableError
from tests.property.test_engine_against_plain import anything
from tests.property.test_picks import random_figure
from tests.support.build import DEMO, PARAMETERS, sketch, way
from tests.support.random_characters import (
    acting_character,
    counting_character,
    dressing_character,
    mixed_character,
    moving_character,
    pinned_all_over,
    random_character,
    remembering_character,
    turning_character,
)
from tests.support.random_parts import parted_character, poses_without_art
from tools import players as printing
from tools.players.__main__ import BEGIN, END, PLAYERS, printed
from tools.players.languages import JavaScript
from tools.players.source import kernels

LONG = bool(os.environ.get("LEANSTEP_LONG"))
SEEDS, TICKS = (400, 200) if LONG else (40, 100)
HERE = Path(runtime.__file__).parent
EXAMPLES = Path(__file__).parents[2] / "examples"
MAKERS: dict[str, Callable[[int], Character]] = {
    "random": random_character,
    "turning": turning_character,
    "mixed": mixed_character,
    "remembering": remembering_character,
    "acting": acting_character,
    "counting": counting_character,
    "dressing": dressing_character,
    "moving": moving_character,
    "blending": lambda seed: random_figure(seed),
    "parted": parted_character,
}
LANGUAGES = ("python", "c", "javascript", "java", "lua")


def long_clips(seed: int) -> Character:
    """Two clips so long that their playheads times their lengths are beyond what a double counts, and a pick that changes."""
    pick = random.Random(seed)
    clips = tuple(
        Clip(
            name=name,
            sheet="art",
            loop="repeat",
            cels=(Cel(frame=0, ticks=ticks),),
            marks=(Mark(name="half", at=ticks / 2),),
        )
        for name, ticks in (("day", 30_000 - pick.random()), ("night", 31_111.1 + pick.random()))
    )
    samples = (Sample(at=(0.0,), clip="day", phase=pick.random() * 0.99), Sample(at=(8.0,), clip="night", phase=0.3))
    blend = BlendSpace(name="sky", axes=(Axis(parameter="speed", min=0, max=8),), samples=samples)
    states = (State(name="a", blend="sky"), State(name="b", clip="night"))
    ways = (way("a>b", "jump pressed", keep_phase=True), way("b>a", "hurt", keep_phase=True))
    return sketch(*ways, states=states, clips=clips, blends=(blend,))


MAKERS["long"] = long_clips


@cache
def tool(*names: str) -> str:
    """A program of one of these names; the test is left out, aloud, where there is none."""
    found = next((path for path in map(shutil.which, names) if path), None)
    if found is None:
        pytest.skip(f"none of {', '.join(names)} is installed; ./test says how")
    return found


@pytest.fixture(scope="session")
def compiled(tmp_path_factory: pytest.TempPathFactory) -> Callable[[Path], str]:
    """Compiles a file of C, C++ or Java; every warning is an error."""
    made: dict[Path, str] = {}

    def of(source: Path) -> str:
        if source not in made:
            program = tmp_path_factory.mktemp("compiled") / source.stem
            strict = [
                "-O2",
                "-Wall",
                "-Wextra",
                "-Werror",
                "-pedantic",
                f"-I{HERE}",
                str(source),
                "-lm",
                "-o",
                str(program),
            ]
            words = {
                ".c": lambda: [tool("cc", "gcc", "clang"), "-std=c99", *strict],
                ".cpp": lambda: [tool("c++", "g++", "clang++"), "-std=c++17", "-ffp-contract=off", *strict],
                ".java": lambda: [tool("javac"), "-Xlint:all", "-Werror", "-d", str(program), str(source)],
            }[source.suffix]()
            subprocess.run(words, check=True, timeout=300)
            made[source] = str(program)
        return made[source]

    return of


def command(language: str, compiled: Callable[[Path], str], name: str, folder: Path) -> list[str]:
    """How a program of ours is begun: a player's replay from ``HERE``, or an example."""
    if language == "python":
        return [sys.executable, str(folder / f"{name}.py")]
    if language == "c":
        return [compiled(folder / f"{name}.c")]
    if language == "c++":
        return [compiled(folder / f"{name}.cpp")]
    if language == "java":
        return [tool("java"), "-cp", compiled(folder / f"{name}.java"), name]
    if language == "lua":
        return [tool("lua5.4"), str(folder / f"{name}.lua")]
    return [tool("node", "nodejs"), str(folder / f"{name}.mjs")]


REPLAYS = {"python": "leanstep_player", "java": "LeanStepPlayer", "lua": "leanstep_player"}
"""What replays golden traces, where it is not a program beside the player."""


def replayed(language: str, compiled: Callable[[Path], str], pairs: Iterable[tuple[Path, Path]]) -> str:
    name = REPLAYS.get(language, "leanstep_replay")
    words = [str(path) for pair in pairs for path in pair]
    done = subprocess.run(
        [*command(language, compiled, name, HERE), *words], capture_output=True, check=True, timeout=900
    )
    return done.stdout.decode()


def put(
    folder: Path,
    number: int,
    machine: Machine,
    inputs: Iterable[Mapping[int, Symbolic]],
    bodies: Iterable[BodyState] = (),
    poses: PosesBySheet | None = None,
) -> tuple[Path, Path]:
    """A table and a golden trace in files."""
    table = table_of(machine, poses)
    paths = folder / f"{number}.table.json", folder / f"{number}.golden.txt"
    paths[0].write_bytes(encoded(table))
    paths[1].write_text(golden(machine, table, "inputs", inputs, bodies, poses))
    return paths


def agree(language: str, compiled: Callable[[Path], str], pairs: list[tuple[Path, Path]]) -> None:
    told, wanted = replayed(language, compiled, pairs), "".join(golden.read_text() for _, golden in pairs)
    if told == wanted:
        return
    for number, (one, other) in enumerate(zip(told.splitlines(), wanted.splitlines())):
        assert one == other, f"line {number}"
    assert len(told) == len(wanted)


@pytest.fixture(scope="module", params=list(MAKERS))
def played(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, Path]]:
    """Tables and golden traces of random characters."""
    folder = tmp_path_factory.mktemp(request.param)
    pairs = []
    for seed in range(SEEDS):
        machine = compile_character(MAKERS[request.param](seed))
        inputs = spread(anything(random.Random(seed), machine, TICKS), TICKS)
        pairs.append(put(folder, seed, machine, inputs, (), poses_without_art(machine.character)))
    return pairs


@pytest.mark.long
@pytest.mark.parametrize("language", LANGUAGES)
def test_random_characters_do_the_same_in_a_player(
    language: str, played: list[tuple[Path, Path]], compiled: Callable[[Path], str]
) -> None:
    agree(language, compiled, played)


@pytest.mark.long
@pytest.mark.parametrize("language", LANGUAGES)
def test_every_take_of_every_demo_does_the_same_in_a_player(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    pairs = []  # type: ignore[var-annotated]
    for path in sorted(DEMO.glob("*.leanstep")):
        machine = compile_character(load(path))
        poses = demo_poses(machine.character)
        for take in machine.character.takes:
            if take.second is not None:
                # two figures: see test_player_pairs
                continue
            trace = rehearse(machine, take)
            pairs.append(put(tmp_path, len(pairs), machine, inputs_of(trace), (), poses))
            # a player does what the desk shows, in which the body moves by its own rules
            first = table_of(machine).sections["layers"][0][1]
            told = re.findall(r"^out states=(\d+)", pairs[-1][1].read_text(), re.MULTILINE)[1:]
            assert [int(one) - int(first or 0) for one in told] == trace.states(0)
    assert len(pairs) > 6
    assert " parts=0:" in "".join(path.read_text() for _, path in pairs)
    agree(language, compiled, pairs)


def demo_poses(character: Character) -> PosesBySheet:
    """How frames of a demo are drawn from parts; the twin's cannot be."""
    try:
        return frame_poses_of(character.sheets, DEMO)
    except LeanStepError:
        return {}


def everything() -> Character:
    """A character that asks for whatever a player can do and random ones seldom do."""
    clips = (
        Clip(
            name="fast",
            sheet="art",
            loop="there-and-back",
            cels=(Cel(frame=0, ticks=1), Cel(frame=1, ticks=1.5), Cel(frame=2, ticks=1, mirrored=True, turns=3)),
            marks=(Mark(name="beat", at=0, effects=(Effect(do="add", name="count", value=1),), says={"loud": 2.5}),),
            spans=(Span(name="hot", start=0.5, end=2, lock=True, says={"how": "very"}),),
            playback=Playback(parameter="speed", at=1, min=0, max=40, resting=Cel(frame=3, sheet="more")),
        ),
        Clip(name="gone", sheet="art", loop="once-and-gone", cels=(Cel(frame=4, ticks=3),)),
    )
    states = (
        State(name="a", clip="fast", push=(3.0, 1.5), hold_still=True, on_entry=(Effect(do="lock", name="stop"),)),
        State(name="b", clip="gone", on_leave=(Effect(do="unlock", name="stop"), Effect(do="mode", name="float"))),
        State(name='ü"\\\n', held=Cel(frame=5, ticks=2)),
    )
    ways = (
        way("a>b", "jump buffered 4 ticks and count >= 3"),
        way('b>ü"\\\n', "clip done and (turn(turned, 90) > 10 or hurt)"),
        Transition(source='ü"\\\n', to="a", when="stick.push > 0.5 or share < 1", fade=0.05),
        way(">a", "stay > 30 ticks", restart=True),
    )
    parameters = (
        *PARAMETERS,
        Parameter(name="count", kind="whole", owner="graph", min=0, max=5),
        Parameter(name="turned", kind="bearing", owner="formula", formula="turn(stick.bearing, 300) * 3"),
        Parameter(name="share", owner="formula", formula="max(speed, 1, lives) / (lives - 1)", min=-9, max=9),
    )
    controls = Controls(buttons=(Button(name="jump"),), sticks=(Stick(name="stick"),))
    one = sketch(*ways, states=states, parameters=parameters, controls=controls, clips=clips)
    layers = (
        *one.layers,
        Layer(name="eyes", states=(State(name="open"), State(name="shut")), transitions=(way("open>shut", "hurt"),)),
    )
    return Character(**{**{name: getattr(one, name) for name in one.__struct_fields__}, "layers": layers})


FACINGS: tuple[tuple[str, Literal["right", "left"]], ...] = (("art", "right"), ("more", "left"))


def asking() -> Character:
    """A character of several layers, whose states ask the body for everything there is, and whose drawings are turned every way."""
    cels = (Cel(frame=0, ticks=2), Cel(frame=1, ticks=1, mirrored=True, turns=1), Cel(frame=5, ticks=2, turns=3))
    aside = Travel(keys=(Key(at=0), Key(at=3, x=4.5, y=-2.0, ease="both")), moves="drawing")
    clips = (
        Clip(name="walk", sheet="art", loop="repeat", cels=cels, travel=aside),
        Clip(name="look", sheet="more", loop="repeat", cels=cels, facing="left"),
    )
    samples = (Sample(at=(0.0,), clip="walk"), Sample(at=(180.0,), clip="walk", mirrored=True))
    blend = BlendSpace(name="round", axes=(Axis(parameter="turned"),), samples=samples)
    states = (
        State(name="a", clip="walk", mode="float", cap=30.0, fall_cap=50.0, box=(12.0, 20.0), backward=True, face=90.0),
        State(name="b", blend="round", cap=0.5),
        State(name="c"),
    )
    ways = (way("a>b", "hurt"), way("b>c", "stay > 9 ticks"), way("c>a", "stay > 3 ticks"))
    turned = Parameter(name="turned", kind="bearing")
    sheets = tuple(
        Sheet(name=name, image=f"{name}.png", size=(96, 32), cut=Cut(width=16, height=16), facing=facing)
        for name, facing in FACINGS
    )
    one = sketch(*ways, states=states, clips=clips, blends=(blend,), parameters=(*PARAMETERS, turned), sheets=sheets)
    front = (
        State(name="clear", clip="look", clear=True, fall_cap=9.0),
        State(name="thick", clip="look", squash="", mode="still"),
        State(name="nothing"),
    )
    layer = Layer(
        name="front",
        states=front,
        transitions=(way("clear>thick", "lives > 1"), way("thick>nothing", "lives < 1"), way("nothing>clear", "hurt")),
    )
    return replace(one, layers=(*one.layers, layer))


@pytest.mark.long(but=1)
@pytest.mark.parametrize("language", LANGUAGES)
def test_what_states_ask_of_the_body_and_how_layers_are_drawn_goes_into_games(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    machine = compile_character(asking())
    assert not machine.faults
    pairs = [
        put(tmp_path, seed, machine, spread(anything(random.Random(seed), machine, 400), 400)) for seed in range(3)
    ]
    text = "".join(path.read_text() for _, path in pairs)
    for wanted in (
        r"requests=3,1,4056800000000000,403e0000",
        r"requests=4,0",
        r"draws=0:\d:[01]:[0-3]:\w+:\w+,1:",
        r"draws=\n",
    ):
        assert re.search(wanted, text), wanted
    assert len(set(re.findall(r"draws=(.*)", text))) > 12
    agree(language, compiled, pairs)


def shaped(seed: int, model: Literal["side", "above"]) -> Character:
    """A random character in which squashes and leans begin wherever they can."""
    pick, plain = random.Random(seed), MAKERS["random"](seed)
    squashes = tuple(
        Squash(
            name=f"s{number}",
            high=pick.uniform(0.4, 1.6),
            wide=pick.choice((None, 1.3)),
            over=pick.choice((0.0, 0.07)),
            hold=pick.choice((None, 0.0, 0.11)),
            back=pick.choice((0.0, 0.13)),
            every=pick.choice((0.0, 0.37)),
            by_fall=pick.choice((0.0, 90.0)),
            whole_pixels=pick.random() < 0.5,
        )
        for number in range(3)
    )
    leans = (Lean(name="l0", speeding=40.0, turning=3.0), Lean(name="l1", speeding=-70.0, most=4.0, smooth=0.0))
    names = ("", "", "s0", "s1", "s2"), ("", "l0", "l1", "")

    def begun(*kinds: Literal["squash", "lean"]) -> tuple[Effect, ...]:
        made = (Effect(do=kind, name=pick.choice(names[kind == "lean"])) for kind in kinds)
        return tuple(one for one in made if pick.random() < 0.4)

    def named(part: Any) -> Any:
        return replace(part, squash=pick.choice(names[0]), lean=pick.choice(names[1]))

    layers = tuple(
        replace(
            layer,
            states=tuple(
                replace(
                    named(one), on_entry=(*one.on_entry, *begun("squash", "lean")), on_leave=begun("lean", "squash")
                )
                for one in layer.states
            ),
            transitions=tuple(map(named, layer.transitions)),
        )
        for layer in plain.layers
    )
    clips = tuple(
        replace(clip, marks=tuple(replace(one, effects=(*one.effects, *begun("squash", "lean"))) for one in clip.marks))
        for clip in plain.clips
    )
    body = replace(plain.body, model=model)
    return replace(plain, layers=layers, clips=clips, squashes=squashes, leans=leans, body=body)


def moving(pick: random.Random, above: bool, ticks: int) -> Iterator[BodyState]:
    """A body that runs, turns, jumps and falls as it likes."""
    speed, up, facing, grounded = 0.0, 0.0, 90.0 if above else 1.0, True
    for _ in range(ticks):
        speed = max(0.0, speed + pick.uniform(-20, 20)) if above else speed + pick.uniform(-20, 20)
        if pick.random() < 0.1:
            facing, grounded = pick.uniform(0, 359) if above else -facing, not grounded
        up = 0.0 if grounded else up - pick.uniform(0, 15)
        yield BodyState(0.0, 0.0, vx=speed, vy=up, speed=speed, rise=up, facing=facing, grounded=grounded)


@pytest.mark.long
@pytest.mark.parametrize("language", LANGUAGES)
def test_the_shape_of_each_tick_is_what_the_desk_draws(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    pairs = []
    for seed in range(400 if LONG else 40):
        machine, pick = compile_character(shaped(seed, ("side", "above")[seed % 2])), random.Random(seed)
        inputs = spread(anything(random.Random(seed), machine, 150), 150)
        pairs.append(put(tmp_path, seed, machine, inputs, moving(pick, seed % 2 == 1, 150)))
    text = "".join(path.read_text() for _, path in pairs)
    assert len(set(re.findall(r" shape=(\w+,\w+,\w+),[01]", text))) > 500
    agree(language, compiled, pairs)


@pytest.mark.long
@pytest.mark.parametrize("language", LANGUAGES)
def test_pin_points_accessories_and_marks_of_each_tick_are_where_the_desk_has_them(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    pairs = []
    for seed in range(500 if LONG else 40):
        pick, model = random.Random(seed), ("side", "above")[seed % 2]
        plain = dressing_character(seed) if seed % 3 == 0 else shaped(seed, "side" if model == "side" else "above")
        machine = compile_character(pinned_all_over(pick, plain))
        assert not [one for one in machine.faults if "accessory" in one.place]
        inputs = spread(anything(random.Random(seed), machine, 150), 150)
        pairs.append(put(tmp_path, seed, machine, inputs, moving(pick, seed % 2 == 1, 150)))
    text = "".join(path.read_text() for _, path in pairs)
    for field in ("pins", "pinned", "places"):
        assert len(set(re.findall(rf" {field}=([^ ]+)", text))) > 100, field
    agree(language, compiled, pairs)


def test_a_game_is_told_how_the_figure_is_drawn() -> None:
    squash = Squash(name="land", high=0.5, over=0.0, hold=0.1, back=0.0, by_fall=100.0)
    document = sketch(
        way("a>b", "hurt"),
        states=(State(name="a"), State(name="b", squash="land", lean="run")),
        squashes=(squash,),
        leans=(Lean(name="run", speeding=60.0, smooth=0.0),),
    )
    player = Player(Table(json.loads(encoded(table_of(compile_character(document))))))
    player.step()
    assert player.shape(0.0, up=-50.0, grounded=False) == (1.0, 1.0, 0.0, False)
    player.pulse("hurt")
    player.step()
    # half of a squash to the half, and 10 units a second gained in a tick
    shape = player.shape(10.0)
    assert (shape.high, shape.wide * shape.high) == (0.75, 1.0)
    assert shape.tilt == 15.0
    player.step()
    assert player.shape(10.0, facing=270.0).tilt == 0.0
    player.restart()
    player.step()
    assert player.shape(0.0) == (1.0, 1.0, 0.0, False)


@pytest.mark.long(but=10)
@pytest.mark.parametrize("version", OLDER_WIDTHS)
@pytest.mark.parametrize("language", LANGUAGES)
def test_older_tables_still_play(language: str, version: int, tmp_path: Path, compiled: Callable[[Path], str]) -> None:
    made_for = {3: lambda: shaped(5, "side"), 4: lambda: counting_character(5), 5: lambda: dressing_character(5)}
    made_for[6] = lambda: pinned_all_over(random.Random(5), random_character(5))
    machine, pick = compile_character(made_for.get(version, asking)()), random.Random(5)
    inputs = spread(anything(pick, machine, 200), 200)
    pairs = [put(tmp_path, 0, machine, inputs, moving(pick, False, 200) if version > 2 else ())]
    table, trace = pairs[0]
    made = json.loads(table.read_text())
    assert made["leanstep_table"] == max(version, 2) and ("spots" in made["columns"]) == (version > 5)
    assert ("countdowns" in made["columns"]) == (version > 3) and ("costumes" in made["columns"]) == (version > 4)
    made["leanstep_table"] = version
    for section, width in OLDER_WIDTHS[version].items():
        if width:
            made["columns"][section] = made["columns"][section][:width]
            made["sections"][section] = [row[:width] for row in made["sections"][section]]
    table.write_text(json.dumps(made))
    if version == 1:
        trace.write_text(re.sub(r" requests=.*", "", trace.read_text()))
    agree(language, compiled, pairs)


@pytest.mark.long
def test_the_player_is_a_library_for_languages_that_call_c(tmp_path: Path) -> None:
    library = tmp_path / "libleanstep.so"
    words = [tool("cc", "gcc", "clang"), "-std=c99", "-O2", "-Wall", "-Wextra", "-Werror", "-shared", "-fPIC"]
    subprocess.run([*words, str(HERE / "leanstep_library.c"), "-lm", "-o", str(library)], check=True, timeout=120)
    machine = compile_character(everything())
    text = encoded(table_of(machine))
    player, made = ctypes.CDLL(str(library)), Player(Table(json.loads(text)))
    for name in ("load", "begin"):
        getattr(player, f"leanstep_{name}").restype = ctypes.c_void_p
    player.leanstep_value.restype = ctypes.c_double
    player.leanstep_state.restype = player.leanstep_mark.restype = ctypes.c_int64
    player.leanstep_name.restype = ctypes.c_char_p
    error = ctypes.create_string_buffer(200)
    assert player.leanstep_load(b"{}", ctypes.c_size_t(2), error) is None and error.value
    table = ctypes.c_void_p(player.leanstep_load(text, ctypes.c_size_t(len(text)), error))
    figure = ctypes.c_void_p(player.leanstep_begin(table))
    jump, speed = (player.leanstep_find(table, 0, name) for name in (b"jump", b"speed"))
    for tick in range(60):
        player.leanstep_set(figure, jump, ctypes.c_double(tick % 7 == 0))
        player.leanstep_set(figure, speed, ctypes.c_double(tick % 5))
        player.leanstep_step(figure)
        made.hold("jump", tick % 7 == 0)
        made.set("speed", float(tick % 5))
        made.step()
        state = player.leanstep_name(table, 3, ctypes.c_int64(player.leanstep_state(figure, 0))).decode()
        assert state == made.state("base")
        marks = [player.leanstep_mark(figure, ctypes.c_int64(at)) for at in range(len(made.fired) + 1)]
        assert marks == [*(mark for _, mark, _ in made.fired), -1]
        count = player.leanstep_value(figure, player.leanstep_find(table, 0, b"count"))
        assert count == made.value("count")
    player.leanstep_free(figure)
    player.leanstep_free_table(table)


@pytest.mark.long
def test_the_player_in_javascript_has_types(tmp_path: Path) -> None:
    compiler = Path(sys.prefix) / "readers" / "node_modules" / "typescript" / "bin" / "tsc"
    if not compiler.exists():
        pytest.skip("it needs what ./test installs from npm")
    for name in ("leanstep_player.mjs", "leanstep_player.d.mts"):
        shutil.copy(HERE / name, tmp_path)
    (tmp_path / "game.mts").write_text(
        'import { Player, Table, type Shown } from "./leanstep_player.mjs";\n'
        "export function play(text: string): [Shown | null, string[], boolean] {\n"
        "  const hero = new Player(new Table(JSON.parse(text)));\n"
        '  hero.hold("jump", true);\n  hero.push("stick", 1, 0);\n  hero.set("speed", 3.5);\n  hero.step();\n'
        '  return [hero.frame("base"), hero.marks.map((one) => one.mark), hero.locked];\n}\n'
    )
    words = [
        tool("node", "nodejs"),
        str(compiler),
        "--strict",
        "--noEmit",
        "--module",
        "nodenext",
        str(tmp_path / "game.mts"),
    ]
    done = subprocess.run(words, capture_output=True, text=True, timeout=120, check=False)
    assert done.returncode == 0, done.stdout
    wrong = (tmp_path / "game.mts").read_text().replace("hero.step()", "hero.stepp()")
    (tmp_path / "game.mts").write_text(wrong)
    assert "stepp" in subprocess.run(words, capture_output=True, text=True, timeout=120, check=False).stdout


def test_a_character_that_asks_for_nothing_new_is_a_table_of_the_first_version() -> None:
    table = table_of(compile_character(sketch(way("a>b", "hurt"))))
    assert table.leanstep_table == 1 and table.columns["states"][-1] == "still"


@pytest.mark.long(but=3)
@pytest.mark.parametrize("language", LANGUAGES)
def test_all_that_a_character_can_ask_for_is_played(
    language: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    machine = compile_character(everything())
    assert not machine.faults
    changes = anything(random.Random(4), machine, 600)
    pairs = [put(tmp_path, 0, machine, spread(changes, 600))]
    text = pairs[0][1].read_text()
    for wanted in (r"marks=0:0,0:0", r"cels=3,", r"cels=-1,", r"spans=0 locked=1", r"freeze=0", r"states=2,"):
        assert re.search(wanted, text), wanted
    agree(language, compiled, pairs)


def test_a_stick_is_pushed_as_lean_step_reads_it() -> None:
    machine = compile_character(everything())
    player = Player(Table(json.loads(encoded(table_of(machine)))))
    player.push("stick", 0.6, -0.8)
    player.set("mood", "angry")
    player.pulse("hurt")
    player.step()
    assert (player.value("stick.push"), player.value("mood"), player.state("eyes")) == (1.0, "angry", "shut")
    assert player.value("stick.bearing") == pytest.approx(143.130102354156)
    player.step()
    assert player.value("hurt") is False and player.value("mood") == "angry"
    shown = player.frame("base")
    assert shown is not None and shown.clip == "fast" and shown.frame == "more/3"
    with pytest.raises(TableError, match="Sketch has no parameter called sped"):
        player.set("sped", 1)
    with pytest.raises(TableError, match="count is set by effects"):
        player.set("count", 1)
    player.set("speed", 1.0)
    for _ in range(9):
        player.step()
    assert ("beat", {"loud": 2.5}) in player.marks or player.spans == {"hot": {"how": "very"}} or player.fired == []


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize(
    ("change", "says"),
    [
        (
            {"leanstep_table": VERSION + 1},
            f"newer than this player|version {VERSION + 1}, and this player knows {VERSION}",
        ),
        ({"leanstep_table": None}, "no table of Lean Step"),
        ({"columns": {"ways": ["target"]}}, "take the player beside it"),
    ],
)
def test_a_table_that_a_player_does_not_know_is_refused(
    language: str, change: dict[str, Any], says: str, tmp_path: Path, compiled: Callable[[Path], str]
) -> None:
    made = json.loads(encoded(table_of(compile_character(everything()))))
    for key, value in change.items():
        made[key] = {**made[key], **value} if isinstance(value, dict) else value
    if change == {"leanstep_table": None}:
        made = {"something": "else"}
    table, trace = tmp_path / "a.table.json", tmp_path / "a.golden.txt"
    table.write_text(json.dumps(made))
    trace.write_text("begin\n")
    name = REPLAYS.get(language, "leanstep_replay")
    words = [*command(language, compiled, name, HERE), str(table), str(trace)]
    done = subprocess.run(words, capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 1 and re.search(says, done.stderr) and "Traceback" not in done.stderr


def test_a_clip_too_long_for_a_player_is_refused_by_name() -> None:
    clip = Clip(name="sleep", sheet="art", cels=(Cel(frame=0, ticks=60_000.0),))
    machine = compile_character(
        sketch(way("a>b", "clip done"), states=(State(name="a", clip="sleep"), State(name="b")), clips=(clip,))
    )
    with pytest.raises(LeanStepError, match="sleep"):
        table_of(machine)


@pytest.mark.long(but=2)
@pytest.mark.parametrize("name", PLAYERS)
def test_the_players_are_what_the_kernels_print(name: str) -> None:
    assert (HERE / name).read_text() == printed(name), "print them anew: python -m tools.players"


def test_the_printer_is_short() -> None:
    files = [Path(printing.__file__).with_name(name) for name in ("source.py", "printer.py", "languages.py")]
    assert sum(len(path.read_text().splitlines()) for path in files) < 800


def test_kernels_of_one_name_are_not_printed_over_each_other() -> None:
    with pytest.raises(ValueError, match="two kernels called turn"):
        kernels([bearings.turn, _other_turn], set())


def test_the_end_of_a_loop_that_is_one_of_two_is_printed_in_brackets() -> None:
    text = JavaScript().printed(kernels([_rounds], set()), {})
    assert "round < (some ? 3 : 4); round++" in text


def _rounds(some: bool) -> int:
    total = 0
    for round in range(3 if some else 4):
        total += round
    return total


def _other_turn(value: float) -> float:
    return turn(value)


def turn(value: float) -> float:
    """Another of the same name."""
    return value


def test_players_stand_on_their_own_and_are_short() -> None:
    for name in PLAYERS:
        text = (HERE / name).read_text()
        by_hand = text[: text.index(BEGIN)] + text[text.index(END) :]
        assert len(by_hand.splitlines()) < 790 and len(text.splitlines()) < 2950
    words = [
        sys.executable,
        "-S",
        "-c",
        "import leanstep_player, sys; print([m for m in sys.modules if 'leanstep' in m])",
    ]
    done = subprocess.run(words, cwd=HERE, capture_output=True, text=True, timeout=60, check=True)
    assert done.stdout.strip() == "['leanstep_player']"


@pytest.mark.long
def test_the_loops_of_a_game_do_the_same_in_every_language(tmp_path: Path, compiled: Callable[[Path], str]) -> None:
    path = DEMO / "lamplighter.leanstep"
    source = Source(path, load(path), play=0)
    for key in ("table", "players", "interface"):
        for name, data in FORMATS[key].make(source).items():
            (tmp_path / name).write_bytes(data)
    told = {}
    for example in EXAMPLES.glob("game.*"):
        assert len(example.read_text().splitlines()) < 100
        shutil.copy(example, tmp_path)
    for language in ("python", "c", "c++", "javascript", "lua"):
        words = command(language, compiled, "game", tmp_path)
        told[language] = subprocess.run(
            [*words, str(tmp_path / "lamplighter.table.json")],
            cwd=tmp_path,
            capture_output=True,
            text=True,
            timeout=60,
            check=True,
        ).stdout
    assert "take-off" in told["python"] and "step" in told["python"]
    assert len(set(told.values())) == 1
