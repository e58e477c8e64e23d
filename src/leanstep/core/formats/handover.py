"""Handing a character over: everything it can go out as, made in memory first and then written, none of it over what is foreign."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from leanstep.core.character.clips import Clip
from leanstep.core.character.takes import SecondFigure, Take
from leanstep.core.cut_outs.frame_poses import PosesBySheet, frame_poses_of
from leanstep.core.cut_outs.loading import figures_of
from leanstep.core.errors import LeanStepError
from leanstep.core.formats import animations, atlas, graphs, interface_sheet, scxml
from leanstep.core.formats.finding_documents import Checked, html_of, junit_of, sarif_of
from leanstep.core.formats.golden import golden, golden_pair, inputs_of
from leanstep.core.formats.handover_source import Files, Format, Source, name_of
from leanstep.core.formats.table import encoded
from leanstep.core.formats.witness import moving_witness
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import actions_csv
from leanstep.core.rehearsal.second_figures import changes_of_second, pair_of
from leanstep.core.rehearsal.takes import changes_of, rehearse, take_csv, take_json, trace_csv, trace_json
from leanstep.core.tick.columns import Table
from leanstep.core.tick.table import table_of
from leanstep.core.wording import counted
from leanstep.core.work import DEFAULT, Work, look

_Posed = tuple[Table, PosesBySheet]
"""A table with the poses it was made with."""


def hand_over(source: Source, wanted: Iterable[str], work: Work = DEFAULT) -> Iterator[tuple[str, Files]]:
    """Make what is wanted, by the keys of :data:`FORMATS`, one after another; ``work`` is told how
    many are made.

    Raises
    ------
    LeanStepError : something cannot be made; what was made before is given all the same.
    Stopped : somebody stopped the work (:mod:`leanstep.core.work`).
    """
    for done, key in enumerate(dict.fromkeys(wanted)):
        work.at(done)
        yield key, FORMATS[key].make(source)


def _one(ending: str, make: Callable[[Source], str | bytes]) -> Callable[[Source], Files]:
    """What is handed over as one file."""

    def made(source: Source) -> Files:
        data = make(source)
        return {f"{source.stem}{ending}": data.encode() if isinstance(data, str) else data}

    return made


def _checked(write_down: Callable[..., str]) -> Callable[[Source], str]:
    return lambda source: write_down(_as_checked(source))


def _sarif(source: Source) -> str:
    return sarif_of(_as_checked(source), fixes=source.fixes)


def _as_checked(source: Source) -> list[Checked]:
    return [Checked(source.path.name, source.path, source.character, source.report, source.text)]


def _findings(source: Source) -> bytes:
    return json.dumps({"generator": "Lean Step", **source.report.to_json()}, ensure_ascii=False, indent=1).encode()


def _traces(source: Source) -> Files:
    made: Files = {}
    for take in source.character.takes:
        look()
        trace = rehearse(source.machine, take)
        made[name_of(source, take.name, ".trace.csv", made)] = trace_csv(trace).encode()
        made[name_of(source, take.name, ".trace.json", made)] = trace_json(trace, take.name).encode()
    return made


def _takes(source: Source) -> Files:
    made: Files = {}
    for take in source.character.takes:
        made[name_of(source, take.name, ".take.json", made)] = take_json(take).encode()
        if take.begins is None:
            made[name_of(source, take.name, ".take.csv", made)] = take_csv(source.machine, take).encode()
    return made


def _pictures(ending: str, draw: Callable[[animations.Moving], bytes]) -> Callable[[Source], Files]:
    def drawn(source: Source) -> Files:
        made: Files = {}
        for clip, shown in _shown(source):
            made[name_of(source, clip.name, ending, made)] = draw(shown)
        return made

    return drawn


def _shown(source: Source) -> Iterator[tuple[Clip, animations.Moving]]:
    """Every clip that shows something."""
    for clip in source.character.clips:
        look()
        if clip.cels:
            yield clip, animations.moving(source.character, clip, source.sheets, source.scale)


def _gifs(source: Source) -> Files:
    made: Files = {}
    for clip, shown in _shown(source):
        name = name_of(source, clip.name, ".gif", made)
        made[name], late = animations.gif(shown)
        if late > 1:
            source.notes.append(f"{name}: up to {late:.0f} ms out of time; a GIF counts in hundredths of a second")
    return made


def _table(source: Source) -> Files:
    poses = _poses(source, source.machine)
    table = table_of(source.machine, poses)
    made = {f"{source.stem}.table.json": encoded(table)}
    others: dict[str, _Posed] = {}
    for take in source.character.takes:
        look()
        if take.begins is not None:
            source.notes.append(f"take {take.name} begins in the middle; there is no golden trace of it")
            continue
        if take.second is not None:
            made |= _golden_pair(source, take, take.second, (table, poses), others, made)
            continue
        trace = rehearse(source.machine, take)
        text = golden(source.machine, table, take.name, inputs_of(trace), trace.bodies(), poses)
        made[name_of(source, take.name, ".golden.txt", made)] = text.encode()
    return made


def _poses(source: Source, machine: Machine) -> PosesBySheet:
    """How the parts of figures are moved that are drawn from them; none where images cannot be read, which is noted."""
    try:
        return frame_poses_of(machine.character.sheets, machine.folder)
    except LeanStepError as error:
        source.notes.append(f"the table has no poses of parts: {error}")
        return {}


def _golden_pair(
    source: Source, take: Take, second: SecondFigure, own: _Posed, others: dict[str, _Posed], taken: Files
) -> Files:
    """The golden trace of a take with a second figure, and its table where no take before it needed that; ``others`` keeps it."""
    try:
        pair = pair_of(source.machine, take)
    except LeanStepError as error:
        source.notes.append(f"take {take.name}: {error.reason}; there is no golden trace of it")
        return {}
    made, machine = Files(), pair.figures[1].machine
    who = second.file or second.who
    if second.who != "itself" and who not in others:
        poses = _poses(source, machine)
        others[who] = table_of(machine, poses), poses
        made[name_of(source, machine.character.name, ".table.json", taken)] = encoded(others[who][0])
    changes = changes_of(source.machine, take), changes_of_second(machine, second)
    for _ in pair.play(changes, take.ticks):
        look()
    other = others.get(who, own)
    text = golden_pair(pair, (own[0], other[0]), take.name, changes, (own[1], other[1]))
    return {**made, name_of(source, take.name, ".pair.golden.txt", taken): text.encode()}


def _atlas(source: Source) -> Files:
    if not source.character.sheets:
        source.notes.append("there are no sheets, so there is no atlas")
        return {}
    sheets = source.all_sheets
    pictures, index, filled = atlas.atlas(
        source.character, sheets, source.stem, source.packing, source.scale, figures_of(sheets)
    )
    source.notes.append(f"atlas: {len(index.frames)} frames fill {filled:.0%} of {counted(len(pictures), 'picture')}")
    made = {name: atlas.encoded(pixels) for name, pixels in pictures.items()}
    return made | {f"{source.stem}.atlas.json": atlas.written(index)}


def _witnesses(source: Source) -> Files:
    made = {}
    numbers: dict[str, int] = {}
    for finding in source.report.findings:
        look()
        if finding.witness is not None:
            number = numbers[finding.id] = numbers.get(finding.id, 0) + 1
            made[f"{source.stem}.{finding.id}.{number}.png"] = moving_witness(
                source.machine, finding, source.all_sheets
            )
    return made


def _players(source: Source) -> Files:
    """The players as they are, to be copied into a game."""
    from leanstep import runtime

    folder = Path(runtime.__file__).parent
    return {path.name: path.read_bytes() for path in sorted(folder.glob("*.*")) if path.stem != "__init__"}


_SEE = "pictures, the body and its course, takes"
FORMATS: dict[str, Format] = {
    one.key: one
    for one in (
        Format(
            "table",
            "Table for games",
            "the whole character as numbers, with golden traces of its takes to judge a player by",
            "pictures, their feet and body boxes (see atlas), how the body moves and what it meets (the game moves it and sets its "
            "values), keys and pads, feet on the ground, assumptions, expectations and limits of "
            "inputs, takes that begin in the middle (others are golden traces), "
            "lanes, units, notes and what is muted, the slots of a pattern",
            _table,
        ),
        Format(
            "players",
            "Players for games",
            "programs that play a table: Python, C99 and C++, JavaScript, Java and Lua, to be copied into a game",
            "drawing, sound and physics: those are the game's",
            _players,
        ),
        Format(
            "interface",
            "Sheet for programmers",
            "what goes in and comes out, as a page and as JSON, and all names as constants of each player's language",
            "conditions and clips: those stay with the animator",
            lambda source: interface_sheet.files(source.stem, source.machine, table_of(source.machine)),
        ),
        Format(
            "actions",
            "Table of actions",
            "how soon each action can hit, for how long, and who is free first, as CSV",
            "all but clips with an active phase, at the speed they are written with",
            _one(".actions.csv", lambda source: actions_csv(source.machine)),
        ),
        Format(
            "atlas",
            "Pictures as an atlas",
            "all frames packed to one or several PNGs, with a JSON index of places, feet, boxes and clips",
            "states, conditions and how the body moves (see table); squash and lean",
            _atlas,
        ),
        Format(
            "scxml",
            "Graph as SCXML",
            "states and transitions that any SCXML interpreter runs, tick for tick",
            "; ".join(scxml.LOST),
            _one(".scxml", lambda source: scxml.scxml(source.machine)),
        ),
        Format(
            "dot",
            "Graph as DOT",
            "states and transitions, for programs that lay graphs out",
            _SEE,
            _one(".dot", lambda source: graphs.dot(source.character, source.report)),
            True,
        ),
        Format(
            "graphml",
            "Graph as GraphML",
            "states and transitions with all that is known of them, for programs that reckon with graphs",
            _SEE,
            _one(".graphml", lambda source: graphs.graphml(source.character, source.report)),
            True,
        ),
        Format(
            "sarif",
            "Findings as SARIF",
            "what the check found, with lines, witnesses and repairs, for build servers and editors",
            "pictures; a witness is told in words",
            _one(".sarif", _sarif),
            True,
        ),
        Format(
            "junit",
            "Findings as JUnit XML",
            "every check and every take as a test, for build servers",
            "witnesses and repairs",
            _one(".junit.xml", _checked(junit_of)),
            True,
        ),
        Format(
            "json",
            "Findings as JSON",
            "what the check found, for programs of your own",
            "pictures",
            _one(".findings.json", _findings),
            True,
        ),
        Format(
            "html",
            "Findings as a page",
            "what the check found, for people without Lean Step; one file",
            "repairs",
            _one(".html", _checked(html_of)),
            True,
        ),
        Format(
            "witnesses",
            "Witnesses as APNG",
            "each finding's take as a moving picture with ribbon and sentence, for whoever has no Lean Step",
            "the course, sound, and ticks beyond 600",
            _witnesses,
            True,
        ),
        Format(
            "takes",
            "Takes",
            "what hands and the game do, as CSV and JSON, to be changed elsewhere and brought back",
            "in CSV what takes expect, their notes, and takes that begin in the middle",
            _takes,
        ),
        Format(
            "traces",
            "Traces of takes",
            "every tick of every take as CSV and JSON, for tables and for comparing a game's log with",
            "pictures; which sample of a blend space is mixed how",
            _traces,
        ),
        Format(
            "apng",
            "Clips as APNG",
            "moving pictures at true speed, for browsers",
            "marks, spans and paths; playback that follows a parameter",
            _pictures(".clip.png", animations.apng),
        ),
        Format(
            "gif",
            "Clips as GIF",
            "moving pictures for everything that shows nothing newer",
            "half-transparent pixels, more than 255 colours, times finer than 10 ms; marks, spans and paths",
            _gifs,
        ),
        Format(
            "strips",
            "Clips as strips",
            "all cels of a clip beside each other in one picture",
            "durations (they stand in the picture's text), marks, spans and paths",
            _pictures(".strip.png", animations.strip),
        ),
    )
}
"""Everything a character can be handed over as, by key, in the order in which it is offered."""
