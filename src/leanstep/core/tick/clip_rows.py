"""The rows of clips in the table of a character."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import msgspec

from leanstep.core.character.action_boxes import boxes_on
from leanstep.core.character.clips import Cel, Clip, Mark, Strike
from leanstep.core.character.pin_edits import Spot, spots_on
from leanstep.core.clips.events import cel_of_mark, spot_of_mark
from leanstep.core.clips.phases import laid_phases, strike_window
from leanstep.core.clips.timing import units
from leanstep.core.conditions.evaluation import NEVER, Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.clip_tables import Reel
from leanstep.core.graph.effects import ACTS, Act
from leanstep.core.graph.facing import views
from leanstep.core.graph.machine import Machine
from leanstep.core.tick.codes import EXACT, FASTEST, GUARD_BOX, LONGEST, STRIKE_BOX, VULNERABLE_BOX
from leanstep.core.tick.columns import SECTIONS, Columns, Number, Row
from leanstep.core.tick.programs import Numbering, numbered
from leanstep.core.tick.shape_rows import ShapeRows


class ClipRows:
    """Writes the clips of a machine down: their times, marks, spans, boxes and pictures, each clip once."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.numbers = Numbering(machine)
        self.rows: dict[str, list[Row]] = {name: [] for name in SECTIONS}
        self.frames: dict[str, int] = {}
        self.marks: dict[str, int] = {}
        self.clips: list[str] = []
        self.written: dict[bytes, int] = {}
        self.known: dict[int, int] = {}
        self.views = views(machine)
        self.aside = False
        self.shapes = ShapeRows(machine)
        self.says: dict[str, dict[str, dict[str, float | bool | str]]] = {"cues": {}, "windows": {}}

    def _put(self, section: str, rows: Iterable[Sequence[Any]]) -> tuple[int, int]:
        """Rows written one after another, after all that they lead to: where they begin and end."""
        made = [[self._number(section, one) for one in row] for row in rows]
        begin = len(self.rows[section])
        self.rows[section] += made
        return begin, begin + len(made)

    def _number(self, section: str, value: float | bool | None) -> Number:
        if value is None or (isinstance(value, float) and math.isnan(value)):
            return None
        if isinstance(value, bool):
            return int(value)
        if isinstance(value, int) and abs(value) > EXACT and value != NEVER:
            reason = f"a time among its {section} is too great for a player to count"
            raise LeanStepError(self.machine.character.name, reason, "Write a shorter one.")
        whole = isinstance(value, float) and value.is_integer() and abs(value) < EXACT and str(value) != "-0.0"
        return int(value) if whole else value

    def _value(self, value: Symbolic) -> float:
        return float(numbered(self.numbers.words, value)) if isinstance(value, str) else float(value)

    def _spots(self, spots: Iterable[tuple[str, Spot]]) -> tuple[int, int]:
        """The rows of pin points."""
        words = self.numbers.words
        rows = (Columns.Spot(numbered(words, name), one.x, one.y, one.angle, one.behind) for name, one in spots)
        return self._put("spots", rows)

    def _acts(self, acts: Sequence[Act]) -> tuple[int, int]:
        return self._put("acts", (Columns.Act(ACTS.index(one.do), one.target, self._value(one.value)) for one in acts))

    def _clip(self, reel: Reel) -> int:
        """The row of a clip, written down once."""
        if id(reel.clip) not in self.known:
            # frames that are held are clips of one name and several lengths
            written = msgspec.json.encode(reel.clip)
            if written not in self.written:
                self.written[written] = self._written(reel)
            self.known[id(reel.clip)] = self.written[written]
        return self.known[id(reel.clip)]

    def _written(self, reel: Reel) -> int:
        name = reel.clip.name
        self.aside = self.aside or bool(reel.path and not reel.goes)
        timing, pace = reel.timing, reel.pace
        if timing.length > LONGEST or (pace is not None and max(abs(pace.low), abs(pace.high)) > FASTEST):
            raise LeanStepError(
                f"clip {name!r}", "it is too long or too fast for a player", "Make it shorter or slower."
            )
        resting = reel.clip.playback.resting if reel.clip.playback is not None else None
        cels = [*reel.clip.cels, *([resting] if resting is not None else [])]
        marks = sorted(reel.clip.marks, key=lambda mark: units(mark.at))
        cues = [
            Columns.Cue(
                cue.at,
                numbered(self.marks, cue.name),
                *self._acts(cue.acts),
                *self._put("shapes", self.shapes.of_effects(mark.effects)),
                *self._fires_at(reel.clip, mark),
            )
            for cue, mark in zip(reel.cues, marks)
        ]
        cue_rows = self._put("cues", cues)
        self._say("cues", cue_rows[0], [mark.says for mark in marks])
        windows = self._put(
            "windows",
            (
                Columns.Window(one.start, one.end, one.hold, one.lock, numbered(self.numbers.spans, one.name))
                for one in reel.windows
            ),
        )
        self._say("windows", windows[0], [span.says for span in reel.clip.spans])
        does = (reel.clip.strike if _hits(reel.clip) else None) or Strike()
        row = Columns.Clip(
            timing.length,
            timing.begin if timing.repeats else -1,
            timing.vanishes,
            pace.symbol if pace is not None else -1,
            *((pace.at, pace.low, pace.high) if pace is not None else (1.0, 1.0, 1.0)),
            *cue_rows,
            *windows,
            *self._put("pieces", (Columns.Piece(*one) for one in zip(timing.starts, timing.order))),
            *self._put("cels", [self._cel(reel.clip, at, one) for at, one in enumerate(cels)]),
            len(reel.clip.cels) if resting is not None else -1,
            reel.goes,
            *self._put("keys", _keys(reel.path)),
            *self._actives(reel.clip),
            any(box.kind == "guard" for box in reel.clip.boxes) and _hits(reel.clip),
            does.stun,
            does.guard_stun,
            does.freeze,
            does.strength,
            does.push,
        )
        self._put("clips", [row])
        self.clips.append(name)
        return len(self.clips) - 1

    def _fires_at(self, clip: Clip, mark: Mark) -> tuple[int, int, int]:
        """The cel on which a mark stands that names a pin point, and where that lies there."""
        spot = spot_of_mark(clip, mark)
        if spot is None:
            return 0, *self._spots(())
        return cel_of_mark(clip, mark), *self._spots([(mark.pin, spot)])

    def _actives(self, clip: Clip) -> tuple[int, int]:
        """When a clip can hit."""
        active = [one for one in laid_phases(clip) if one.kind == "active" and _hits(clip)]
        return self._put(
            "actives", (Columns.Active(one.start, one.end, strike_window(clip, one.start)) for one in active)
        )

    def _cel(self, clip: Clip, number: int, cel: Cel) -> Columns.Cel:
        sheet = clip.sheet_of(cel)
        view, looks = self.views.get(sheet), 0
        if view is not None and view.mirrors:
            looks = 2 if view.facing(clip, cel.frame) == "left" else 1
        kinds = {"strike": STRIKE_BOX, "vulnerable": VULNERABLE_BOX, "guard": GUARD_BOX}
        boxes = boxes_on(clip, number) if number < len(clip.cels) else []
        rects = (Columns.Rect(kinds[clip.boxes[at].kind], *rect) for at, rect in boxes)
        return Columns.Cel(
            numbered(self.frames, f"{sheet}/{cel.frame}"),
            cel.mirrored,
            cel.turns,
            looks,
            *self._put("rects", rects),
            *self._spots(spots_on(clip, number)),
        )

    def _say(self, section: str, begin: int, said: Sequence[Mapping[str, float | bool | str]]) -> None:
        self.says[section] |= {str(begin + at): dict(one) for at, one in enumerate(said) if one}


def _hits(clip: Clip) -> bool:
    """Whether a clip has boxes that hit."""
    return any(box.kind == "strike" for box in clip.boxes)


def _keys(path: Sequence[float]) -> Iterable[Columns.Key]:
    """The rows of a path (:func:`leanstep.core.clips.travel.laid`)."""
    for at in range(0, len(path), 4):
        head, ahead, up, ease = path[at : at + 4]
        yield Columns.Key(head, ahead, up, int(ease))
