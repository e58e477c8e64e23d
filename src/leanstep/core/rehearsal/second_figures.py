"""The second figure of a take: the straw man, the same character once more, or that of a file."""

from __future__ import annotations

import dataclasses
import hashlib
from collections.abc import Iterator, Sequence
from pathlib import Path

from msgspec.structs import replace

from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, load
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.takes import SecondFigure, Take
from leanstep.core.cut_outs.loading import loaded, sources
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.effects import fitted
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.contact import Figure
from leanstep.core.rehearsal.pair_traces import PairTrace
from leanstep.core.rehearsal.situation import Setting, Situation
from leanstep.core.rehearsal.step_trace import StepTrace
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.straw_man import straw_man


def digest(character: Character) -> str:
    """What tells a character from what it was, but for its takes and what is muted."""
    return hashlib.sha256(dump(replace(character, takes=(), muted=()))).hexdigest()[:16]


def compile_in(folder: Path | None, character: Character) -> Machine:
    """A character of a folder compiled, so that the files of second figures that its takes name are found."""
    return dataclasses.replace(compile_character(character), folder=folder or Path())


def second_machine(machine: Machine, second: SecondFigure) -> Machine:
    """The machine of a second figure, compiled once.

    Raises
    ------
    LeanStepError : its file is not there, is no character, has a second figure that is this one, or runs at another rate.
    """
    if second.who == "itself":
        return machine
    if second.who == "straw man":
        return machine.once(straw_man, lambda: compile_character(straw_man(machine.character)))
    return machine.once((SecondFigure, second.file), lambda: _of_file(machine, second.file))


def _of_file(machine: Machine, name: str) -> Machine:
    character = machine.character
    subject = f"the second figure {name}"
    if not name:
        raise LeanStepError(subject, "it names no file", "Choose one, or the straw man.")
    try:
        other = load(machine.folder / name)
    except LeanStepError as error:
        way_out = "Put the file back, choose another one, or the straw man."
        raise LeanStepError(subject, f"it cannot be opened: {error.reason}", way_out) from error
    if replace(other, takes=()) == replace(character, takes=()):
        raise LeanStepError(subject, "it is this character itself", "Choose “the same again” instead of a file.")
    if other.rate != character.rate:
        reason = f"it runs at {other.rate:g} ticks a second, and {character.name} at {character.rate:g}"
        raise LeanStepError(subject, reason, "Give both the same rate.")
    if other.body.model != character.body.model:
        reason = (
            f"it is seen from {'above' if other.body.model == 'above' else 'the side'}, and {character.name} is not"
        )
        raise LeanStepError(subject, reason, "Choose one that is seen the same way.")
    return compile_in((machine.folder / name).parent, replace(other, course=character.course))


def has_changed(machine: Machine, second: SecondFigure) -> bool:
    """Whether a second figure is not what it was when the take was made."""
    if not second.digest or second.who == "straw man":
        return False
    return digest(_written(second_machine(machine, second))) != second.digest


def noted(machine: Machine, second: SecondFigure) -> SecondFigure:
    """The second figure with a digest of what it is now."""
    if second.who == "straw man":
        return replace(second, digest="", file="")
    return replace(second, digest=digest(_written(second_machine(machine, second))))


def _written(machine: Machine) -> Character:
    return replace(machine.character, course=type(machine.character.course)())


def figure_of(machine: Machine) -> Figure:
    """A figure as large as its first sheet that says a size; where that is a height of the drawing, it is as large as drawn as long as
    its picture cannot be read."""
    sheet = next((one for one in machine.character.sheets if one.scale is not None), None)
    if sheet is None or sheet.scale is None:
        return Figure(machine)
    scale = sheet.scale
    if scale.height:
        return Figure(
            machine,
            machine.once(
                (figure_of, sheet.name), lambda: _scale_of_picture(sheet, machine.folder, machine.character.sheets)
            ),
        )
    return Figure(machine, (scale.by * scale.stretch, scale.by))


def _scale_of_picture(sheet: Sheet, folder: Path, sheets: Sequence[Sheet]) -> tuple[float, float]:
    """How large a sheet is shown that says how high its figure stands; its picture is read again only when it has changed."""
    of = sources(sheet, sheets)
    paths = [folder / image for one in of for image in one.all_images]
    try:
        stamp = repr(of), tuple((str(path), path.stat().st_mtime_ns) for path in paths)
        if stamp not in _SCALES:
            _SCALES.clear()
            _SCALES[stamp] = loaded(sheet, folder, sheets).scale
        return _SCALES[stamp]
    except (OSError, LeanStepError):
        return 1.0, 1.0


_SCALES: dict[object, tuple[float, float]] = {}
"""The scale read last, by its sheet and the state of its files."""


def changes_of_second(machine: Machine, second: SecondFigure) -> list[Setting]:
    """What is set of the second figure, in the order of ticks; what it does not have is left out."""
    found: list[Setting] = []
    for change in sorted(second.changes, key=lambda one: one.at):
        for name, value in change.set.items():
            index = machine.index.get(name, -1)
            if index >= 0 and machine.symbols[index].free and _fits(machine, index, value):
                found.append((change.at, index, fitted(machine.symbols[index], value)))
    return found


def _fits(machine: Machine, index: int, value: float | bool | str) -> bool:
    kind = machine.symbols[index].kind
    if kind == "choice":
        return value in machine.symbols[index].choices
    return isinstance(value, bool) == (kind in ("flag", "pulse", "button")) and not isinstance(value, str)


def pair_of(machine: Machine, take: Take, start: Situation | None = None) -> PairTrace:
    """Both figures of a take before its first tick.

    Raises
    ------
    LeanStepError : as of :func:`second_machine`.
    """
    second = take.second or SecondFigure()
    one, other = figure_of(machine), figure_of(second_machine(machine, second))
    begun = Stepper(machine).first() if start is None else start
    return PairTrace((one, other), (one.begun(begun), other.first(second.x, second.y, second.facing == "left")))


class PairSteps(StepTrace):
    """A take with a second figure as far as it has been stepped; ``pair`` has both."""

    def __init__(self, machine: Machine, take: Take, start: Situation | None = None) -> None:
        self.pair = pair_of(machine, take, start)
        first = self.pair.traces[0]
        super().__init__(first.steps.stepper, start=first.first)  # type: ignore[union-attr]
        assert take.second is not None
        self.other = changes_of_second(self.pair.figures[1].machine, take.second)

    def play(self, changes: Sequence[Setting], ticks: int) -> Iterator[int]:
        """Play both, yielding the ticks done."""
        self.clear()
        for done in self.pair.play((changes, self.other), ticks):
            self.append(self.pair.traces[0].steps[done - 1])
            yield done
