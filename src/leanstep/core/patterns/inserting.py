"""A pattern put into a character: what is there already is used, the rest is brought."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from leanstep.core.body.records import TOLD
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, free_name
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.starting import shows_nothing
from leanstep.core.character.takes import Take
from leanstep.core.character.validation import validate
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.doubling import PRESSED
from leanstep.core.naming.references import Thing, users
from leanstep.core.naming.renaming import renamed
from leanstep.core.patterns.fitting import fitted
from leanstep.core.patterns.meaning import found
from leanstep.core.patterns.slots import EMPTY, Fill, drawn, with_events
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import rehearse

STEERING = ("stick", "jump", "run", "aim", "aim_held")
"""What steers the body: a control means the same in two characters where it does this."""
WAITS = ("jump_grace", "jump_buffer", "turn_time")
"""Numbers of the body that a pattern brings where nothing is said of them."""
SEEN = {"side": "the side", "above": "above"}
LEVEL, FIRST, EDGE, DEEP = 900.0, 160.0, 60.0, 20.0
"""Units of level ground on either side, to the first piece of course, and between two pieces, and how thick it is."""


@dataclass(frozen=True)
class Inserted:
    """A character with a pattern in it: the names of the states it brought and of those that were there, and of the clips that
    have no drawings yet; ``takes`` are the pattern's own, which are not in it yet (:func:`with_takes`)."""

    document: Character
    states: tuple[str, ...]
    merged: tuple[str, ...]
    empty: tuple[str, ...]
    takes: tuple[Take, ...] = ()


def refusal(document: Character, pattern: Character) -> str | None:
    """Why a pattern cannot be put into a character, as a clause; None when it can."""
    if pattern.pattern is None or not pattern.layers:
        return "it has no states" if pattern.pattern is not None else "it is no pattern"
    bodies = _bodies(pattern)
    if document.body.model not in bodies and not _fresh(document):
        return f"it is for a body seen from {SEEN[bodies[0]]}, and this one is seen from {SEEN[document.body.model]}"
    return None


def _bodies(pattern: Character) -> tuple[str, ...]:
    """The models of the body that a pattern is for."""
    said = pattern.pattern.bodies if pattern.pattern is not None else ()
    return said or (pattern.body.model,)


def _fresh(document: Character) -> bool:
    """Whether nothing depends yet on how the body is seen."""
    return shows_nothing(document) and not document.takes and not document.course.shapes


def open_slots(document: Character, pattern: Character, layer: int) -> list[str]:
    """The clips of a pattern that it needs drawings for in a layer: those of states that it brings, or that show nothing yet."""
    return _Part(document, _trimmed(document, pattern, layer), layer).slots


def open_parameters(document: Character, pattern: Character) -> dict[str, list[str]]:
    """The game's parameters of a pattern that mean nothing the character has, each with those of the same kind that it might be."""
    asked: dict[str, list[str]] = {}
    for one in pattern.parameters:
        same = [other.name for other in document.parameters if (other.kind, other.owner) == (one.kind, one.owner)]
        if one.owner == "game" and same and found(one.name, same) is None:
            asked[one.name] = same
    return asked


def insert(
    document: Character,
    pattern: Character,
    layer: int,
    fills: Mapping[str, Fill],
    names: Mapping[str, str] | None = None,
) -> Inserted:
    """The character with a pattern in one of its layers; ``fills`` say by the pattern's clips what shows them,
    ``names`` by its parameters which of the character's they are where that is not plain.

    States, lanes, clips and parameters that mean the same (:mod:`.meaning`) are used, controls that steer the body the same way,
    too.  A way that is there stays as it is, and none is added beside one that asks for the same.  Speeds and boxes are made to
    fit the body.

    Raises
    ------
    LeanStepError : the pattern is for another model of the body, or no pattern, or names in it clash with others.
    """
    why = refusal(document, pattern)
    if why is not None:
        raise LeanStepError(f"the pattern {pattern.name}", why, "Choose another one.")
    if document.body.model not in _bodies(pattern):
        document = change(document, ("body",), model=pattern.body.model)
    if not document.layers:
        first = pattern.layers[0]
        state = replace(first.states[0], clip="", blend="", held=None)
        document = replace(document, layers=(Layer(name=first.name, lanes=first.lanes, states=(state,)),))
    pattern = fitted(_trimmed(document, pattern, layer), document.body)
    return _Part(document, pattern, layer, names or {}).put_in(fills)


def with_takes(inserted: Inserted) -> Character:
    """The character with those of the pattern's takes that do in it what they expect; they are tests from then on."""
    document = inserted.document
    if not inserted.takes or not inserted.states:
        return document
    machine = compile_character(document)
    held: list[Take] = []
    for take in inserted.takes:
        known = all(name in machine.index for change in take.changes for name in change.set)
        if known and not list(unmet(rehearse(machine, take), take)):
            taken = [one.name for one in (*document.takes, *held)]
            held.append(replace(take, name=free_name(take.name, taken)))
    return replace(document, takes=(*document.takes, *held))


def _trimmed(document: Character, pattern: Character, layer: int) -> Character:
    """A pattern without the states it only joins that the character does not have, and what only they need."""
    states = [one.name for one in document.layers[layer].states] if document.layers else []
    joins = pattern.pattern.joins if pattern.pattern is not None else ()
    gone = {name for name in joins if found(name, states) is None}
    first = pattern.layers[0]
    kept = tuple(state for state in first.states if state.name not in gone)
    ways = tuple(way for way in first.transitions if not {way.source, way.to} & gone)
    pattern = change(pattern, ("layers", 0), states=kept, transitions=ways)
    read = tuple(one for one in pattern.parameters if users(pattern, Thing("parameter", one.name)))
    return replace(pattern, parameters=read)


class _Part:
    """One pattern on its way into one layer of one character."""

    def __init__(
        self, document: Character, pattern: Character, layer: int, asked: Mapping[str, str] | None = None
    ) -> None:
        self.document, self.pattern, self.layer, self.asked = document, pattern, layer, asked or {}
        self.into = document.layers[layer] if document.layers else Layer(name="base")
        self._undrawn = {clip.name for clip in document.clips if clip.undrawn}
        there = [state.name for state in self.into.states]
        self.merged = {
            state.name: same for state in pattern.layers[0].states if (same := found(state.name, there)) is not None
        }
        self.pictured = [state for state in pattern.layers[0].states if self._brings_picture(state)]

    def _brings_picture(self, state: State) -> bool:
        """Whether a state of the pattern shows something where there is nothing yet, or a blend space in place of one clip."""
        if state.name not in self.merged:
            return True
        old = next(one for one in self.into.states if one.name == self.merged[state.name])
        nothing = not (old.clip or old.blend or old.held) or old.clip in self._undrawn
        return nothing or bool(state.blend and not old.blend)

    @property
    def slots(self) -> list[str]:
        """The clips that are brought, or filled."""
        blends = {blend.name: [sample.clip for sample in blend.samples] for blend in self.pattern.blends}
        shown = {clip for state in self.pictured for clip in blends.get(state.blend, [state.clip])}
        return [clip.name for clip in self.pattern.clips if clip.name in shown]

    def put_in(self, fills: Mapping[str, Fill]) -> Inserted:
        document, pattern = self.document, self.pattern
        clips, named = self._clips(fills)
        names = self._symbols() | self._places() | named
        blends = {state.blend for state in self.pictured if state.blend}
        taken = [blend.name for blend in document.blends]
        names |= {Thing("blend", name): free_name(name, taken) for name in blends}
        made = renamed(pattern, names)
        new_blends = [blend for old, blend in zip(pattern.blends, made.blends) if old.name in blends]
        known = {one.name for one in document.parameters}
        document = replace(
            document,
            parameters=(*document.parameters, *(one for one in made.parameters if one.name not in known)),
            controls=self._controls(made),
            clips=self._with_clips(made, clips),
            blends=(*document.blends, *new_blends),
            squashes=_more(document.squashes, made.squashes),
            leans=_more(document.leans, made.leans),
            assumptions=tuple(dict.fromkeys((*document.assumptions, *made.assumptions))),
            body=self._body(),
            course=self._course(),
        )
        before = {state.name for state in self.into.states}
        document = change(
            document,
            ("layers", self.layer),
            states=self._states(made),
            transitions=self._ways(made),
            lanes=self._lanes(made),
        )
        brought = tuple(state.name for state in made.layers[0].states if state.name not in before)
        validate(document, f"with the pattern {pattern.name}")
        empty = tuple(clip.name for clip in document.clips if not clip.sheet and clip.cels and clip.name in clips)
        return Inserted(document, brought, tuple(self.merged.values()), empty, made.takes)

    # --- names

    def _symbols(self) -> dict[Thing, str]:
        """What the pattern's parameters and controls are called in the character."""
        document, pattern = self.document, self.pattern
        taken = [one.name for one in document.parameters]
        taken += [one.name for one in document.controls.buttons]
        taken += [one.name for one in document.controls.sticks]
        roles = {getattr(pattern.body, role): getattr(document.body, role) for role in reversed(STEERING)}
        names: dict[Thing, str] = {}

        def place(thing: Thing, same: str | None) -> None:
            names[thing] = same if same is not None else free_name(thing.name, [*taken, *names.values()], "_")

        kinds: tuple[tuple[str, Any, Any], ...] = (
            ("stick", pattern.controls.sticks, document.controls.sticks),
            ("button", pattern.controls.buttons, document.controls.buttons),
        )
        for kind, own, there in kinds:
            known = [one.name for one in there]
            for control in own:
                role = roles.get(control.name, "")
                place(Thing(kind, control.name), role if role in known else found(control.name, known))
        for one in pattern.parameters:
            same = [other.name for other in document.parameters if (other.kind, other.owner) == (one.kind, one.owner)]
            told = one.owner == "body" and one.name in TOLD
            held = next((other.name for other in document.parameters if other.name == one.name), None)
            meant = self.asked.get(one.name) or found(one.name, same)
            place(Thing("parameter", one.name), (held or one.name) if told else meant)
        return names

    def _places(self) -> dict[Thing, str]:
        """What the pattern's layer, states and lanes are called in the character."""
        first, into = self.pattern.layers[0], self.into
        lane_of = {state.name: state.lane for state in into.states}
        names = {Thing("layer", first.name): into.name}
        names |= {Thing("state", old, first.name): new for old, new in self.merged.items()}
        for lane in first.lane_names:
            mates = [
                lane_of[self.merged[one.name]] for one in first.states if one.lane == lane and one.name in self.merged
            ]
            usual = Counter(mates).most_common(1)
            same = usual[0][0] if usual else found(lane, list(into.lane_names))
            names[Thing("lane", lane, first.name)] = same if same is not None else lane
        return names

    def _clips(self, fills: Mapping[str, Fill]) -> tuple[dict[str, Fill], dict[Thing, str]]:
        """By their names in the character, the clips that slots become, with what fills them; and those names by the slots."""
        taken = [clip.name for clip in self.document.clips]
        clips: dict[str, Fill] = {}
        names: dict[Thing, str] = {}
        for slot in self.slots:
            fill = fills.get(slot, EMPTY)
            bare = found(slot, sorted(self._undrawn))
            name = fill.clip if fill.clip in taken else bare or free_name(slot, [*taken, *clips])
            names[Thing("clip", slot)] = name
            clips[name] = fill
        return clips, names

    # --- parts

    def _with_clips(self, made: Character, clips: Mapping[str, Fill]) -> tuple[Clip, ...]:
        slots = {clip.name: clip for clip in made.clips if clip.name in clips}
        there = []
        for clip in self.document.clips:
            if clip.name in slots:
                clip = with_events(drawn(clip, clips[clip.name]) if clip.undrawn else clip, slots[clip.name])
            there.append(clip)
        known = {clip.name for clip in there}
        return (*there, *(drawn(slots[name], fill) for name, fill in clips.items() if name not in known))

    def _controls(self, made: Character) -> Any:
        controls = self.document.controls
        pressed: set[str] = set()
        for one in (*controls.sticks, *controls.buttons):
            pressed.update(key for field in PRESSED for key in getattr(one, field, ()))

        def free(one: Any) -> Any:
            keys = {f: tuple(key for key in getattr(one, f) if key not in pressed) for f in PRESSED if hasattr(one, f)}
            return replace(
                one, **{name: value for name, value in keys.items() if isinstance(getattr(one, name), tuple)}
            )

        def more(there: tuple[Any, ...], new: tuple[Any, ...]) -> tuple[Any, ...]:
            known = [*(one.name for one in controls.sticks), *(one.name for one in controls.buttons)]
            return (*there, *(free(one) for one in new if one.name not in known))

        return replace(
            controls,
            sticks=more(controls.sticks, made.controls.sticks),
            buttons=more(controls.buttons, made.controls.buttons),
        )

    def _body(self) -> Body:
        body, own, usual = self.document.body, self.pattern.body, Body()
        unsaid = {name: getattr(own, name) for name in WAITS if getattr(body, name) == getattr(usual, name)}
        return replace(body, **unsaid)

    def _course(self) -> Course:
        """The character's course with the pattern's piece of one behind its end, where it is not there yet."""
        course, piece = self.document.course, self.pattern.course.shapes
        if not piece or self.document.body.model != self.pattern.body.model or _has(course, piece):
            return course
        left, right = min(one.x for one in piece), max(one.x + one.width for one in piece)
        if not course.shapes:
            ground = Shape(x=-LEVEL, y=-DEEP, width=2 * LEVEL + right - left, height=DEEP)
            begin, level = FIRST, 0.0
        else:
            floors = [one for one in course.shapes if one.kind == "floor" and one.width > one.height]
            last = max(floors or course.shapes, key=lambda one: one.x + one.width)
            level = last.y + last.height
            begin = max(one.x + one.width for one in course.shapes) + EDGE
            ground = Shape(x=last.x + last.width, y=level - DEEP, height=DEEP)
            ground = replace(ground, width=begin + right - left + LEVEL - ground.x)
        moved = (replace(one, x=one.x - left + begin, y=one.y + level) for one in piece)
        return replace(course, shapes=(*course.shapes, ground, *moved))

    def _states(self, made: Character) -> tuple[State, ...]:
        into, lane = self.into, {state.name: state for state in self.into.states}
        states = []
        for old, state in zip(self.pattern.layers[0].states, made.layers[0].states):
            there = lane.get(state.name)
            if there is None:
                states.append(state)
            else:
                lane[state.name] = _joined(there, state, old in self.pictured)
        return (*(lane[state.name] for state in into.states), *states)

    def _lanes(self, made: Character) -> tuple[str, ...]:
        there = {state.name for state in self.into.states}
        brought = {state.lane for state in made.layers[0].states if state.name not in there}
        lanes = (lane for lane in made.layers[0].lane_names if lane in brought)
        return tuple(dict.fromkeys((*self.into.lane_names, *lanes)))

    def _ways(self, made: Character) -> tuple[Transition, ...]:
        ways, there = list(self.into.transitions), {state.name for state in self.into.states}
        pairs = {_pair(way) for way in ways}
        for way in made.layers[0].transitions:
            if _pair(way) in pairs:
                continue
            said = any(_owner(old) == _owner(way) and _says_same(old, way) for old in self.into.transitions)
            if not said or way.to not in there:
                ways.append(way)
        return tuple(ways)


def _pair(way: Transition) -> tuple[str, str, str]:
    return way.source, way.from_lane, way.to


def _owner(way: Transition) -> tuple[str, str, bool]:
    return way.source, way.from_lane, way.urgent


def _says_same(one: Transition, other: Transition) -> bool:
    try:
        return parse(one.when) == parse(other.when)
    except ConditionError:
        return one.when == other.when


def _more(there: tuple[Any, ...], new: tuple[Any, ...]) -> tuple[Any, ...]:
    """What is there, and of something else what has another name."""
    known = {one.name for one in there}
    return (*there, *(one for one in new if one.name not in known))


def _joined(there: State, new: State, pictured: bool) -> State:
    """A state with what the pattern's state of the same meaning adds."""
    picture = {"clip": new.clip, "blend": new.blend, "held": None} if pictured and (new.clip or new.blend) else {}
    return replace(
        there,
        restful=there.restful or new.restful,
        on_entry=(*there.on_entry, *(one for one in new.on_entry if one not in there.on_entry)),
        on_leave=(*there.on_leave, *(one for one in new.on_leave if one not in there.on_leave)),
        **picture,
    )


def _has(course: Course, piece: tuple[Shape, ...]) -> bool:
    """Whether a course has a piece somewhere."""
    first = piece[0]
    for one in course.shapes:
        dx, dy = one.x - first.x, one.y - first.y
        if all(replace(part, x=part.x + dx, y=part.y + dy) in course.shapes for part in piece):
            return True
    return False
