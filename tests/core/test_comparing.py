"""What a game logged beside what Lean Step does: the first tick that differs, why, and what explains it."""

from __future__ import annotations

import json
import random
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from typer.testing import CliRunner

from leanstep.cli.main import app
from leanstep.core.character.clips import Cel, Clip, Effect
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import dump
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.comparing import game_variants, graph_mutations
from leanstep.core.rehearsal.comparing.difference import Difference, compare, ours, summary
from leanstep.core.rehearsal.comparing.game_variants import Inputs, Variant, shifted
from leanstep.core.rehearsal.comparing.logs import Log, log_of
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.takes import trace_csv, trace_json
from leanstep.core.rehearsal.traces import player_of
from leanstep.core.work import Stopped, Work
from tests.support.build import sketch, way

TICKS = 900


def keeper() -> Character:
    """A lighthouse keeper: two layers, times, memories, presses, bounds and a bearing."""
    clips = tuple(
        Clip(name=name, sheet="art", loop=loop, cels=(Cel(frame=0, ticks=ticks),))  # type: ignore[arg-type]
        for name, loop, ticks in (("sit", "once", 12.0), ("walk", "repeat", 9.0))
    )
    parameters = (
        Parameter(name="speed", min=-8, max=8),
        Parameter(name="grounded", kind="flag"),
        Parameter(name="hurt", kind="pulse"),
        Parameter(name="wind", kind="bearing"),
        Parameter(name="tired", kind="whole", owner="graph", min=0, max=9),
    )
    base = Layer(
        name="base",
        states=(
            State(name="idle", clip="sit"),
            State(name="walk", clip="walk", on_entry=(Effect(do="add", name="tired", value=1),)),
            State(name="jump"),
            State(name="crouch", clip="sit"),
            State(name="hit"),
            State(name="rest", on_leave=(Effect(do="set", name="tired", value=0),)),
        ),
        transitions=(
            Transition(to="hit", when="hurt", urgent=True, restart=True),
            way("idle>crouch", "stick.y < -0.5"),
            way("idle>walk", "speed > 2 and grounded"),
            way("walk>jump", "jump buffered 6 ticks and grounded"),
            way("walk>crouch", "stick.y < -0.5 and stay >= 5 ticks"),
            way("walk>rest", "tired >= 4"),
            way("walk>idle", "speed <= 1 for 4 ticks"),
            way("jump>idle", "grounded and stay > 8 ticks"),
            way("crouch>idle", "clip done or jump pressed", fade=0.05, interruptible=False),
            way("hit>idle", "stay >= 7 ticks and not (hurt within 10 ticks)"),
            way("rest>idle", "turn(wind, 90) > 0 and stay > 3 ticks"),
        ),
    )
    eyes = Layer(
        name="eyes",
        states=(State(name="open"), State(name="shut"), State(name="wide")),
        transitions=(
            way("open>shut", "in base.hit or since(base.jump) < 3 ticks"),
            way("shut>open", "not in base.hit"),
            way("open>wide", "speed * 0.1 >= 0.3 and in base.walk"),
            way("wide>open", "in base.idle"),
        ),
    )
    controls = Controls(buttons=(Button(name="jump"),), sticks=(Stick(name="stick"),))
    return Character(name="Keeper", parameters=parameters, controls=controls, clips=clips, layers=(base, eyes))


KEEPER = keeper()


def hands(machine: Machine, seed: int = 1) -> Inputs:
    """What goes in: everything changes now and then, each in its own time."""
    pick, rows = random.Random(seed), []
    values: dict[str, float | bool] = {"speed": 0.0, "grounded": True, "stick.x": 0.0, "stick.y": 0.0, "jump": False}
    values |= {"stick.push": 0.0, "stick.bearing": 90.0, "wind": 0.0, "hurt": False}
    for _ in range(TICKS):
        values["hurt"] = pick.random() < 0.02
        if pick.random() < 0.25:
            values["speed"] = pick.choice([0.0, 1.0, 1.0, 2.0, 2.0, 2.5, 3.0, 3.0000000001, 4.0, 6.0])
        if pick.random() < 0.06:
            values["grounded"] = pick.random() < 0.8
        if pick.random() < 0.12:
            values["jump"] = not values["jump"]
        if pick.random() < 0.1:
            values["stick.y"] = pick.choice([-1.0, -0.6, -0.5, 0.0, 0.0, 0.0, 1.0])
        if pick.random() < 0.05:
            values["wind"] = float(pick.randrange(360))
        rows.append({machine.index[name]: value for name, value in values.items()})
    return tuple(rows)  # type: ignore[arg-type]


def logged(machine: Machine, inputs: Inputs, states: list[list[int]]) -> Log:
    return Log(inputs, tuple(map(tuple, states)))


def edited(*path: str | int, **values: object) -> Callable[[Character], Character]:
    return lambda character: change(character, path, **values)


def transition(number: int, layer: int = 0, **values: object) -> Callable[[Character], Character]:
    return edited("layers", layer, "transitions", number, **values)


def swapped(one: int, other: int) -> Callable[[Character], Character]:
    def made(character: Character) -> Character:
        ways = list(character.layers[0].transitions)
        ways[one], ways[other] = ways[other], ways[one]
        return change(character, ("layers", 0), transitions=tuple(ways))

    return made


@dataclass(frozen=True)
class Planted:
    """A difference: another character, other inputs or another way to run.  ``kinds`` are right names for it; ``alone``: nothing else
    explains the log as well."""

    kinds: set[str]
    edit: Callable[[Character], Character] = lambda character: character
    inputs: Callable[[Machine, Inputs], Inputs] = lambda machine, inputs: inputs
    run: dict[str, object] = field(default_factory=dict)
    alone: bool = True


def late(name: str, by: int) -> Callable[[Machine, Inputs], Inputs]:
    return lambda machine, inputs: shifted(machine, inputs, [machine.index[name]], by)


def turned(name: str, turn: Callable[[float], float]) -> Callable[[Machine, Inputs], Inputs]:
    def made(machine: Machine, inputs: Inputs) -> Inputs:
        at = machine.index[name]
        return tuple({**row, at: turn(float(row[at]))} for row in inputs)

    return made


def missed(machine: Machine, inputs: Inputs) -> Inputs:
    at = machine.index["hurt"]
    first = next(tick for tick, row in enumerate(inputs) if row[at] and tick > 60)
    return tuple({**row, at: False} if tick == first else row for tick, row in enumerate(inputs))


PLANTED = {
    "order swapped": Planted({"order"}, swapped(1, 2)),
    "a timer a tick too long": Planted({"timer"}, transition(7, when="grounded and stay > 9 ticks")),
    "a timer a tick too short": Planted({"timer"}, transition(7, when="grounded and stay > 7 ticks")),
    "a memory two ticks longer": Planted({"timer"}, transition(6, when="speed <= 1 for 6 ticks")),
    "a memory left out": Planted({"memory"}, transition(6, when="speed <= 1")),
    "another bound": Planted({"bound"}, transition(2, when="speed > 2.7 and grounded")),
    "the bound itself counts": Planted({"edge"}, transition(2, when="speed >= 2 and grounded")),
    "a part left out": Planted({"missing"}, transition(2, when="speed > 2")),
    "a transition that is not there": Planted({"lacking"}, transition(4, when="false")),
    "held instead of pressed": Planted({"held"}, transition(8, when="clip done or jump held")),
    "a press that is not buffered": Planted({"unbuffered"}, transition(3, when="jump pressed and grounded")),
    "a buffered press that lasts shorter": Planted({"timer"}, transition(3, when="jump buffered 4 ticks and grounded")),
    "not urgent": Planted({"urgent", "order"}, transition(0, urgent=False)),
    "a crossfade that lets others through": Planted({"fade"}, transition(8, interruptible=True)),
    "a clip a tick longer": Planted({"clip"}, edited("clips", 0, "cels", 0, ticks=13.0)),
    "an effect left out": Planted({"effect"}, edited("layers", 0, "states", 5, on_leave=())),
    "single precision": Planted({"float32"}, run={"float32": True}),
    "a missed pulse": Planted({"missed"}, inputs=missed),
    "a late button": Planted({"late"}, inputs=late("jump", 1)),
    "a late flag": Planted({"late"}, inputs=late("grounded", 2)),
    "an early number": Planted({"early"}, inputs=late("speed", -1)),
    "up and down the other way round": Planted({"upside"}, inputs=turned("stick.y", lambda value: -value)),
    "a bearing counted anticlockwise": Planted({"turned"}, inputs=turned("wind", lambda value: (360 - value) % 360)),
    "layers the other way round": Planted({"layers"}, run={"stepper": game_variants.Backwards}),
    "several transitions on a tick": Planted({"chained"}, run={"stepper": game_variants.Chained}),
    "logged before the tick": Planted({"logged"}, run={"late": 1}),
    "a pulse that stays": Planted(
        {"kept", "late"}, inputs=lambda m, i: game_variants._kept(i, m.index["hurt"]), alone=False
    ),
    "every time a tick longer": Planted({"timers"}, run={"timers": True}),
}


def game_log(planted: Planted, seed: int = 1) -> tuple[Machine, Log, list[list[int]]]:
    """Lean Step's machine, the game's log, and what Lean Step does itself."""
    machine, game = compile_character(KEEPER), compile_character(planted.edit(KEEPER))
    assert not machine.faults and not game.faults
    inputs = hands(machine, seed)
    seen, options = planted.inputs(game, inputs), dict(planted.run)
    if options.pop("float32", False):
        game, seen = (
            game_variants._in_singles(game),
            tuple({at: game_variants._single(value) for at, value in row.items()} for row in seen),
        )
    if options.pop("timers", False):
        game = next(iter(graph_mutations.everywhere(game))).machine
    states = Variant("", "", game, seen, **options).states(TICKS)  # type: ignore[arg-type]
    return machine, logged(machine, inputs, states), states


def first_other(machine: Machine, log: Log, states: list[list[int]]) -> int:
    mine = ours(machine, log)
    return next(tick for tick in range(TICKS) if any(one[tick] != other[tick] for one, other in zip(mine, states)))


@pytest.mark.long(but=1)
@pytest.mark.parametrize("name", list(PLANTED))
def test_a_planted_difference_is_found_on_its_tick_with_its_reason(name: str) -> None:
    planted = PLANTED[name]
    machine, log, states = game_log(planted)
    found = compare(machine, log)
    assert isinstance(found, Difference)
    assert found.tick == first_other(machine, log, states)
    whole = [one.kind for one in found.suspects if one.until is None]
    assert planted.kinds & set(whole[:1] if planted.alone else whole), summary(found, log)


def test_a_game_that_does_the_same_is_told_so() -> None:
    machine = compile_character(KEEPER)
    inputs = hands(machine)
    log = logged(machine, inputs, Variant("", "", machine, inputs).states(TICKS))
    assert len({state for row in log.states for state in row or ()}) == 6
    assert compare(machine, log) is None
    assert summary(None, log) == ["The game does the same as Lean Step on all 900 ticks."]


def test_reasons_say_which_part_had_which_value() -> None:
    machine, log, _ = game_log(PLANTED["another bound"])
    found = compare(machine, log)
    assert found is not None
    lines = summary(found, log)
    assert re.fullmatch(
        r"On tick \d+ the game's base is still in idle, and Lean Step's is in walk; both were in idle\.", lines[0]
    )
    assert lines[1:3] == ["Lean Step takes idle → walk:", "  speed > 2: true, for speed is 2.5"]
    assert re.fullmatch(
        r"It explains the whole log that idle → walk: speed > 2 has another bound there, from 2\.\d+ to 2\.\d+\.",
        lines[4],
    )


@pytest.mark.long
def test_what_the_game_took_and_lean_step_did_not_is_told() -> None:
    machine, log, _ = game_log(PLANTED["a part left out"])
    found = compare(machine, log)
    assert found is not None and found.game == "walk" and found.ours == "idle"
    assert found.reasons == ("Lean Step does not take idle → walk:", "  grounded: false")


def test_a_jump_over_states_is_told() -> None:
    machine = compile_character(sketch(way("a>b", "jump pressed"), way("b>c", "stay > 3 ticks"), states="a b c"))
    rows = tuple({machine.index["jump"]: tick == 2} for tick in range(9))
    states = [[0, 0, 2, 2, 2, 2, 2, 2, 2]]
    found = compare(machine, logged(machine, rows, states))  # type: ignore[arg-type]
    assert found is not None and "nothing leads from a to c in one step" in found.reasons


def test_looking_for_what_explains_a_log_can_be_stopped() -> None:
    machine, log, _ = game_log(PLANTED["a late button"])
    seen: list[int] = []
    with pytest.raises(Stopped):
        compare(machine, log, Work(told=seen.append, stop=lambda: len(seen) > 3))
    assert seen == [*range(4)]


def traced() -> tuple[Machine, str, str]:
    machine = compile_character(KEEPER)
    trace = player_of(machine, True).play(gathered(machine, hands(machine)), 60)
    return machine, trace_csv(trace), trace_json(trace, "hands")


def test_our_own_traces_are_logs_in_csv_and_json() -> None:
    machine, table, made = traced()
    for text in (table, made):
        log = log_of(text, "log", machine)
        assert log.ticks == 60 and compare(machine, log) is None


def test_a_log_may_leave_out_what_follows_from_others_and_what_nothing_reads() -> None:
    machine, table, _ = traced()
    rows = [line.split(",") for line in table.splitlines()]
    kept = [
        rows[0].index(name)
        for name in ("tick", "base", "speed", "grounded", "hurt", "wind", "stick.x", "stick.y", "jump")
    ]
    log = log_of("\n".join(",".join(row[at] for at in kept) for row in rows), "log", machine)
    assert log.states[1] is None and compare(machine, log) is None


HEAD = "tick,base,speed,grounded,hurt,wind,stick.x,stick.y,jump\n"
ROW = "{},idle,0,1,0,0,0,0,0\n"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("tick,base\n0,idle\n", "no column called speed, grounded, hurt"),
        (HEAD.replace("grounded", "Grounded") + ROW.format(0), "Is it Grounded? Call it grounded."),
        (HEAD.replace("base", "basis") + ROW.format(0), "in which the state of that layer stands. Is it basis? Call it base"),
        (HEAD + ROW.format(0) + ROW.format(2), "tick 2 follows tick 0: perhaps the game logs every 2 ticks"),
        (HEAD + ROW.format(1), "it begins at tick 1"),
        (HEAD + ROW.format("x"), "'x' is no tick"),
        (HEAD + ROW.format(0) + ROW.format(0), "tick 0 follows tick 0"),
        (HEAD + "0,walking,0,1,0,0,0,0,0\n", "layer base has no state called walking. Is it walk?"),
        (HEAD + "0,idle,nan,1,0,0,0,0,0\n", "'nan' is no number"),
        (HEAD + "0,idle,0,perhaps,0,0,0,0,0\n", "'perhaps' is neither 1 nor 0"),
        ("", "no column called tick"),
        ("{", "this is no JSON"),
        ('{"ticks": []}', "no list called ticks"),
        ('{"rate": 30, "ticks": [{"tick": 0}]}', "logged at 30 ticks a second, and the character runs at 60"),
        ('{"ticks": [{"tick": 0, "base": "idle", "speed": NaN}]}', "no column called grounded"),
    ],
)  # fmt: skip
def test_a_log_that_cannot_be_read_is_a_sentence(text: str, says: str) -> None:
    machine = compile_character(KEEPER)
    with pytest.raises(LeanStepError) as error:
        log_of(text, "logged.csv", machine)
    assert says in str(error.value) and "logged.csv" in str(error.value)


def test_numbers_that_are_none_are_refused_in_json_too() -> None:
    machine, _, made = traced()
    other = json.loads(made)
    other["ticks"][3]["speed"] = float("inf")
    with pytest.raises(LeanStepError, match="entry 3: speed is inf"):
        log_of(json.dumps(other), "log", machine)


def test_on_the_command_line(tmp_path: Path) -> None:
    _, table, _ = traced()
    (tmp_path / "keeper.leanstep").write_bytes(dump(KEEPER))
    (tmp_path / "same.csv").write_text(table)
    lines = table.splitlines()
    at = lines[0].split(",").index("base")
    cells = lines[41].split(",")
    cells[at] = "hit"
    (tmp_path / "other.csv").write_text("\n".join([*lines[:41], ",".join(cells), *lines[42:]]))
    runner = CliRunner()
    same = runner.invoke(app, ["compare", str(tmp_path / "keeper.leanstep"), str(tmp_path / "same.csv")])
    assert same.exit_code == 0 and "does the same" in same.output
    other = runner.invoke(
        app, ["compare", str(tmp_path / "keeper.leanstep"), str(tmp_path / "other.csv"), "--format", "json"]
    )
    assert other.exit_code == 1
    assert json.loads(other.stdout)["difference"]["tick"] == 40
