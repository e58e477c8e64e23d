"""Takes: reading them, running them, writing down what they did."""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Iterable, Iterator, Mapping
from typing import Literal

import msgspec

from leanstep.core.character.files import plain
from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.checking import nearest
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import NUMERIC
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.effects import fitted
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.event_words import Words, said, says_anything
from leanstep.core.rehearsal.pin_places import mark_places
from leanstep.core.rehearsal.saved_situations import beginning_of, situation_of
from leanstep.core.rehearsal.second_figures import PairSteps
from leanstep.core.rehearsal.situation import Setting, Situation
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import shown
from leanstep.core.rehearsal.traces import Trace, player_of

LONGEST_PLAYED = 1_000_000
"""Ticks a take may have to be played: more than four hours at 60 a second."""
MOST_ROWS = 1_000_000
"""Rows a CSV file may have."""


def begun(machine: Machine, take: Take) -> Trace:
    """A trace of a take in which nothing has happened yet."""
    start = situation_of(machine, take.begins) if take.begins is not None else None
    if take.second is not None and take.world == "body":
        steps = PairSteps(machine, take, start)
        return Trace(machine, steps.pair.begun[0].situation, steps)
    return player_of(machine, take.world == "free").trace(start)


def rehearse(machine: Machine, take: Take, most: int | None = None) -> Trace:
    """Run a take from the start, at most ``most`` ticks of it.

    Raises
    ------
    LeanStepError : the take sets something the character does not have, or its second figure cannot be played.
    """
    trace = begun(machine, take)
    for _ in rehearsing(trace, take, most):
        pass
    return trace


def rehearsing(trace: Trace, take: Take, most: int | None = None) -> Iterator[int]:
    """Run a take into a trace that has begun, yielding the ticks done, so that long takes can be shown and stopped."""
    ticks = _playable(take, take.ticks if most is None else min(take.ticks, most))
    yield from trace.playing(changes_of(trace.machine, take), ticks)


def changes_of(machine: Machine, take: Take) -> list[Setting]:
    """What the take changes, in the order of ticks; all of it is checked."""
    found: list[Setting] = []
    for change in sorted(take.changes, key=lambda one: one.at):
        for name, value in change.set.items():
            index = symbol_of(machine, take, name)
            found.append((change.at, index, checked(machine, take, index, value)))
    return _with_bearings(machine, found) if take.world == "free" and machine.sticks else found


def _with_bearings(machine: Machine, changes: list[Setting]) -> list[Setting]:
    """The changes, with the bearings of sticks set again on the tick on which these come to be pushed: until then they count
    for nothing."""
    pushes = {push: bearing for _, _, push, bearing in machine.sticks}
    asked = dict[int, Symbolic]()
    idle = {push: True for push in pushes}
    found: list[Setting] = []
    for change in changes:
        tick, index, value = change
        found.append(change)
        if index in pushes.values():
            asked[index] = value
        elif index in pushes:
            if idle[index] and value and pushes[index] in asked:
                found.append((tick, pushes[index], asked[pushes[index]]))
            idle[index] = not value
    return found


def inputs_of(machine: Machine, take: Take) -> list[dict[int, Symbolic]]:
    """What the take sets on every tick, by symbol index."""
    return spread(changes_of(machine, take), _playable(take, take.ticks))


def _playable(take: Take, ticks: int) -> int:
    """So many ticks of a take, if they are not too many to be played."""
    if ticks > LONGEST_PLAYED:
        reason = f"it has {ticks} ticks, and at most {LONGEST_PLAYED} are played"
        raise LeanStepError(f"take {take.name!r}", reason, "Cut it into several takes.")
    return ticks


def symbol_of(machine: Machine, take: Take, name: str) -> int:
    """The index of the symbol a take names, or a :class:`LeanStepError`."""
    index = machine.index.get(name)
    if index is None:
        close = nearest(name, list(machine.index))
        raise LeanStepError(
            f"take {take.name!r}",
            f"nothing is called {name}",
            f"Did you mean {close}?" if close else "Use a parameter, a button or a stick axis such as stick.x.",
        )
    return index


def checked(machine: Machine, take: Take, index: int, value: Symbolic) -> Symbolic:
    """A take's value brought into range; a value of the wrong kind raises :class:`LeanStepError`."""
    symbol = machine.symbols[index]
    if not symbol.free:
        way_out = "Take it out; effects and formulas set it."
        raise LeanStepError(f"take {take.name!r}", f"{symbol.name} belongs to the {symbol.owner}", way_out)
    flag = symbol.kind in ("flag", "pulse", "button")
    if (
        (flag and not isinstance(value, bool))
        or (symbol.kind == "choice" and value not in symbol.choices)
        or (symbol.kind in NUMERIC and (isinstance(value, bool | str)))
    ):
        raise LeanStepError(
            f"take {take.name!r}",
            f"{value!r} is no value for the {symbol.kind} {symbol.name}",
            "Write a value of its kind.",
        )
    return fitted(symbol, value)


def from_outside(machine: Machine, index: int, world: str) -> bool:
    """Whether a symbol's value comes from outside in a world: what the game sets and hands do, in the free one the body's, too."""
    owners = ("game", "controls", "body") if world == "free" else ("game", "controls")
    return machine.symbols[index].owner in owners and (world == "free" or index not in machine.derived)


def recorded(
    machine: Machine,
    name: str,
    ticks: Iterable[Mapping[int, Symbolic]],
    world: str = "body",
    start: Situation | None = None,
) -> Take:
    """A take of full inputs per tick (countdowns only where they are given): only what changes is written down.  With ``start`` it
    begins in that situation, and what comes from outside begins with the value it has there."""
    before = {index: symbol.rest for index, symbol in enumerate(machine.symbols)}
    kept = {
        index: value
        for index, value in enumerate(start.values if start is not None else ())
        if from_outside(machine, index, world) and machine.symbols[index].lasts
    }
    changes, total = [], 0
    for tick, row in enumerate(ticks):
        inputs = row if tick else {**kept, **row}
        total += 1
        new: dict[str, Symbolic] = {}
        for index, value in inputs.items():
            symbol = machine.symbols[index]
            if not symbol.free:
                continue
            if symbol.momentary:
                if value:
                    new[symbol.name] = True
            elif symbol.countdown:
                new[symbol.name] = value
            elif value != before[index]:
                new[symbol.name] = before[index] = value
        if new:
            changes.append(Change(at=tick, set=new))
    return Take(
        name=name,
        ticks=total,
        world="free" if world == "free" else "body",
        begins=beginning_of(machine, start) if start is not None else None,
        changes=tuple(changes),
    )


def take_from_csv(text: str, name: str, machine: Machine) -> Take:
    """A take from CSV: a column ``tick`` and one per thing that is set; an empty cell changes nothing.

    The take is as long as its last row's tick plus one.  Flags are 1 and 0 or true and false.  Raises :class:`LeanStepError`
    with the line and the column that cannot be read.
    """
    head, rows = csv_rows(text, name)
    changes, last = [], -1
    probe = Take(name=name, ticks=0)
    for number, cells in rows:
        row = dict(zip(head, cells))
        try:
            tick = int(row["tick"])
        except ValueError:
            raise LeanStepError(
                f"{name}, line {number}", f"{row['tick'][:40]!r} is no tick", "Write a whole number."
            ) from None
        if tick >= LONGEST_PLAYED:
            reason = f"tick {tick} lies beyond the {LONGEST_PLAYED} ticks that are played"
            raise LeanStepError(f"{name}, line {number}", reason, "Cut the take into several.")
        if tick <= last:
            raise LeanStepError(f"{name}, line {number}", "ticks must go up", "Sort the lines by tick.")
        last = tick
        values: dict[str, Symbolic] = {}
        for column, cell in row.items():
            if column not in ("tick", "world") and cell != "":
                values[column] = cell_of(machine, probe, column, cell, f"{name}, line {number}")
        if values:
            changes.append(Change(at=tick, set=values))
    first = dict(zip(head, rows[0][1]))
    world: Literal["body", "free"] = "free" if first.get("world") == "free" else "body"
    return Take(name=name, ticks=last + 1, world=world, changes=tuple(changes))


def take_csv(machine: Machine, take: Take) -> str:
    """A take as CSV: a line for every tick on which something changes, and one for its last tick."""
    names = [symbol.name for symbol in machine.symbols if any(symbol.name in one.set for one in take.changes)]
    rows: dict[int, dict[str, Symbolic]] = {}
    for change in take.changes:
        rows.setdefault(change.at, {}).update(change.set)
    if take.ticks:
        rows.setdefault(take.ticks - 1, {})
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["tick", "world", *names])
    for tick, row in sorted(rows.items()):
        writer.writerow([tick, take.world, *(_written(row.get(name)) for name in names)])
    return out.getvalue()


def take_json(take: Take) -> str:
    """A take as one JSON object, as it stands in a character."""
    return json.dumps({"leanstep_take": 1, **plain(take)}, ensure_ascii=False, indent=1)


def take_from_json(text: str, name: str, machine: Machine) -> Take:
    """A take from JSON, as :func:`take_json` writes it; all it sets is checked.

    Raises
    ------
    LeanStepError : it is no such JSON, or sets something the character does not have.
    """
    try:
        made = json.loads(text)
        version = made.pop("leanstep_take")
        take = msgspec.convert(made, Take)
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        reason = f"it is no take as JSON ({error})"
        raise LeanStepError(name, reason, "Hand one over as takes, and look how that is written.") from None
    if version != 1:
        raise LeanStepError(name, f"it is of version {version}, and 1 is known", "Take a newer Lean Step.")
    changes_of(machine, take)
    return take


def csv_rows(text: str, name: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """The columns of a CSV file and its rows with their line numbers; rows without a tick are left out.  Raises
    :class:`LeanStepError` where there is no column ``tick``, or one twice."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")
    reader = csv.reader(io.StringIO(lines), strict=False)
    try:
        head = [column.strip() for column in next(reader, [])]
        twice = sorted({column for column in head if head.count(column) > 1})
        if twice:
            raise LeanStepError(
                name, f"the column {twice[0] or '(without a name)'} is there twice", "Keep one of them."
            )
        if "tick" not in head:
            way_out = "The first line names the columns: tick,jump,stick.x …"
            raise LeanStepError(name, "it has no column called tick", way_out)
        rows: list[tuple[int, list[str]]] = []
        for cells in reader:
            if len(rows) >= MOST_ROWS:
                raise LeanStepError(name, f"it has more than {MOST_ROWS} rows", "Cut the take into several.")
            if any(cells):
                rows.append((reader.line_num, [*cells, *[""] * (len(head) - len(cells))]))
    except csv.Error as error:
        raise LeanStepError(f"{name}, line {reader.line_num}", f"this is no CSV ({error})", "Mend the line.") from None
    if not rows:
        raise LeanStepError(name, "it has no rows", "Write a line for every tick on which something changes.")
    return head, rows


def cell_of(machine: Machine, take: Take, column: str, cell: str, place: str) -> Symbolic:
    """The value a cell of CSV has for the symbol of its column; raises :class:`LeanStepError` where it has none."""
    kind = machine.symbols[symbol_of(machine, take, column)].kind
    if kind == "choice":
        return cell
    if kind in ("flag", "pulse", "button"):
        if cell.lower() in ("1", "true", "0", "false"):
            return cell.lower() in ("1", "true")
        raise LeanStepError(place, f"{cell[:40]!r} is neither 1 nor 0", f"{column} is a {kind}.")
    try:
        number = float(cell)
    except ValueError:
        number = math.nan
    if not math.isfinite(number):
        raise LeanStepError(place, f"{cell[:40]!r} is no number", f"{column} is a {kind}.")
    return number


def trace_rows(trace: Trace) -> Iterator[dict[str, Symbolic | dict[str, Words] | None]]:
    """A trace as flat rows, one a tick: states and stays by layer, then every symbol, the body, and what is shown; where marks
    or spans have words for the game, what is said by name, and where marks name pin points, where those lie."""
    machine = trace.machine
    says = says_anything(machine.character)
    placed = any(mark.pin for clip in machine.character.clips for mark in clip.marks)
    for tick, step in enumerate(trace.steps):
        situation = step.situation
        row: dict[str, Symbolic | dict[str, Words] | None] = {"tick": tick}
        for at, layer in enumerate(machine.layers):
            row[layer.name] = layer.states[situation.states[at]]
            row[f"{layer.name} stay"] = situation.stays[at]
            row[f"{layer.name} transition"] = step.fired[at] if step.fired[at] >= 0 else None
        for index, symbol in enumerate(machine.symbols):
            row[symbol.name] = situation.values[index]
        body = situation.body
        row["marks"] = " ".join(name for _, name in step.marks) or None
        if isinstance(trace.steps, PairSteps):
            here = [one for one in trace.steps.pair.contacts if one.tick == tick]
            row["contact"] = "; ".join(("" if one.who == 0 else "of the other: ") + one.words for one in here) or None
        if says:
            words = said(machine, step)
            row["says"] = words or None
        if placed:
            row["places"] = _places(trace, tick) or None
        row |= {"body x": body.x, "body y": body.y, "body vx": body.vx, "body vy": body.vy, "facing": body.facing}
        for at, layer in enumerate(machine.layers):
            picture = machine.pictures[at][situation.states[at]]
            cel = shown(picture, situation.picks[at], situation.playheads[at], situation.values)
            row[f"{layer.name} clip"], row[f"{layer.name} cel"] = cel if cel else (None, None)
            if any(one is not None and one.blend is not None for one in machine.pictures[at]):
                blends = picture is not None and picture.blend is not None
                row[f"{layer.name} sample"] = situation.picks[at] if blends else None
        yield row


def _places(trace: Trace, tick: int) -> dict[str, Words]:
    """By the names of marks that fired on a tick and name a pin point: its name and where it lies (:mod:`pin_places`); of marks of one
    name that fired together the last one counts."""
    step = trace.steps[tick]
    if not step.marks:
        return {}
    places = mark_places(trace.machine, step, trace.deformed(tick))
    found = {name: place for (_, name), place in zip(step.marks, places) if place is not None}
    return {name: {"pin": pin, "x": spot.x, "y": spot.y, "angle": spot.angle} for name, (pin, spot) in found.items()}


def trace_json(trace: Trace, take: str) -> str:
    """A trace as one JSON object; ``take`` is the name of what was played."""
    made = {
        "leanstep_trace": 1,
        "character": trace.machine.character.name,
        "rate": trace.machine.character.rate,
        "take": take,
        "ticks": list(trace_rows(trace)),
    }
    if isinstance(trace.steps, PairSteps):
        made["contacts"] = [trace.steps.pair.told(one) for one in trace.steps.pair.contacts]
    return json.dumps(made, ensure_ascii=False)


def trace_csv(trace: Trace) -> str:
    """A trace as CSV text; numbers are written so that they read back the same."""
    out = io.StringIO()
    writer = None
    for row in trace_rows(trace):
        if writer is None:
            writer = csv.DictWriter(out, list(row), lineterminator="\n")
            writer.writeheader()
        writer.writerow({key: _written(value) for key, value in row.items()})
    return out.getvalue()


def _written(value: Symbolic | dict[str, Words] | None) -> str:
    if value is None:
        return ""
    if isinstance(value, dict):
        return json.dumps(value, ensure_ascii=False)
    if isinstance(value, bool):
        return "1" if value else "0"
    return repr(value).removesuffix(".0") if isinstance(value, float) else str(value)
