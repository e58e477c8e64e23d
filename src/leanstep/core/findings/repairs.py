"""Repairs: edits that make a finding go away, offered only after a check has shown that they do and bring nothing new."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path

import msgspec

from leanstep.core.bearings import CIRCLE, in_words
from leanstep.core.blends.space import space_of
from leanstep.core.character.blends import ANY, BlendSpace, Sample
from leanstep.core.character.clips import Clip, Key, Playback, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, by_number, change, move, remove
from leanstep.core.character.graph import Layer, Transition
from leanstep.core.character.sheets import Scale
from leanstep.core.clips.families import EVERY, family_of, ring
from leanstep.core.clips.strides import SPEED
from leanstep.core.conditions import tree
from leanstep.core.conditions.checking import scope_of
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import text_of
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.outcomes import Outcome, broken, outcomes, told
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import SEVERITIES, Finding, Report
from leanstep.core.graph.effects import Effects, shapes_of
from leanstep.core.graph.machine import compile_character
from leanstep.core.naming.targets import about
from leanstep.core.naming.told import of_body, tellable
from leanstep.core.proof.events import sets_back
from leanstep.core.sheets import scaling
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.recutting import with_rect
from leanstep.core.wording import counted, listed

HOLDS = 0.05
"""Seconds for which a squash holds that is to spring back."""
WAY_OUT = "stay >= 1 s"
"""When a way out of a dead end or trap is offered."""


@dataclass(frozen=True)
class Repair:
    """An edit: what it changes, in a sentence, and the character after it.  ``also`` are the keys of the other findings that are
    gone with it, as far as that was checked."""

    sentence: str
    character: Character
    also: tuple[tuple[str, str], ...] = ()


def repair(
    character: Character,
    finding: Finding,
    folder: Path | None = None,
    memo: Memo | None = None,
    progress: Callable[[int], bool] | None = None,
) -> Repair | None:
    """The first repair after which a check no longer has the finding, nothing as bad or worse is new, and every expectation of a
    take that held still does; None when there is none.  Its sentence says what takes then do otherwise.  ``progress`` as of a
    check."""
    memo = memo or Memo()
    if finding.id in _OFFERS:
        return next(candidates(character, finding), None)
    report = check_character(character, folder, memo=memo, progress=progress)
    before, wanted = _troubles(character, report, finding), _subject(character, finding)
    played: dict[str, Outcome] | None = None
    for candidate in candidates(character, finding):
        there = check_character(candidate.character, folder, memo=memo, progress=progress)
        after = _troubles(candidate.character, there, finding)
        if after[wanted] >= before[wanted] or after - before:
            continue
        machine = compile_character(character)
        played = outcomes(machine, progress) if played is None else played
        then = outcomes(compile_character(candidate.character), progress)
        if broken(played, then):
            continue
        left = {one.key for one in there.findings}
        gone = tuple(one.key for one in report.findings if one.key not in left and one.key != finding.key)
        sentence = f"{candidate.sentence} {told(machine, played, then)}".strip()
        return replace(candidate, sentence=sentence, also=gone)
    return None


def _troubles(character: Character, report: Report, finding: Finding) -> Counter[tuple[str, str]]:
    """How many findings as bad as one there are of each kind about each thing."""
    worst = SEVERITIES.index(finding.severity)
    return Counter(_subject(character, one) for one in report.findings if SEVERITIES.index(one.severity) <= worst)


def _subject(character: Character, finding: Finding) -> tuple[str, str]:
    """What a finding says of which thing, whatever the numbers in it."""
    return finding.id, about(character, finding.subject)


def candidates(character: Character, finding: Finding) -> Iterator[Repair]:
    """Edits that may help, the smallest first."""
    make = _MAKERS.get(finding.id)
    if make is not None:
        yield from make(character, finding)


def _layer(character: Character, finding: Finding) -> tuple[int, Layer]:
    return next((at, one) for at, one in enumerate(character.layers) if one.name == finding.details["layer"])


def _between(layer: Layer, states: list[str]) -> Iterator[tuple[int, Transition]]:
    """The transitions that lead from one of these states to another."""
    lanes = {state.name: state.lane for state in layer.states}
    for number, one in enumerate(layer.transitions):
        sources = (
            [one.source]
            if one.source
            else [name for name in states if not one.from_lane or lanes[name] == one.from_lane]
        )
        if one.to in states and any(source in states and source != one.to for source in sources):
            yield number, one


def _gap(character: Character, finding: Finding) -> Iterator[Repair]:
    """Two thresholds on one value, with a gap just wider than its wobble between them."""
    at, layer = _layer(character, finding)
    wobbles = {symbol.name: symbol.wobble for symbol in scope_of(character).symbols if symbol.kind == "number"}
    found = list(_between(layer, finding.details["states"]))
    for number, one in reversed(found):
        for name, sign, value in _thresholds(one.when):
            for _, other in found:
                for other_name, other_sign, against in _thresholds(other.when):
                    if other is one or other_name != name or other_sign == sign or name not in wobbles:
                        continue
                    width = float(f"{max(wobbles[name] * 1.25, 1e-6):.3g}")
                    wanted = float(f"{against - width if sign == '<' else against + width:.6g}")
                    when = _with_threshold(one.when, name, sign, wanted)
                    yield Repair(
                        f"{one.source or 'the whole graph'} → {one.to} asks for {name} {sign} {wanted:g} instead of {value:g}: "
                        f"a gap of {width:g}, wider than the wobble.",
                        change(character, ("layers", at, "transitions", number), when=when),
                    )


def _calm(character: Character, finding: Finding) -> Iterator[Repair]:
    """A condition that has to hold for as long as the flicker window."""
    at, layer = _layer(character, finding)
    window = character.flicker_window
    for number, one in _between(layer, finding.details["states"]):
        held = f"({one.when}) for {window:g} s"
        yield Repair(
            f"{one.source or 'the whole graph'} → {one.to} waits until its condition has held for {window:g} s.",
            change(character, ("layers", at, "transitions", number), when=text_of(parse(held))),
        )


def _steady(character: Character, finding: Finding) -> Iterator[Repair]:
    yield from _gap(character, finding)
    yield from _calm(character, finding)


def _thresholds(when: str) -> Iterator[tuple[str, str, float]]:
    """Name, ``<`` or ``>``, and constant of every comparison with a constant that a condition asks for outright."""
    try:
        node = parse(when)
    except ConditionError:
        return
    for one in node.operands if isinstance(node, tree.All) else (node,):
        if isinstance(one, tree.Compare) and one.operator[0] in "<>":
            left, right = one.left, one.right
            if isinstance(left, tree.Name) and (value := _constant(right)) is not None:
                yield left.name, one.operator[0], value


def _constant(node: tree.Node) -> float | None:
    if isinstance(node, tree.Negative) and isinstance(node.operand, tree.Number):
        return -node.operand.value
    return node.value if isinstance(node, tree.Number) else None


def _with_threshold(when: str, name: str, sign: str, wanted: float) -> str:
    """A condition with the constant of one of its comparisons replaced."""
    constant: tree.Node = tree.Number(abs(wanted))
    if wanted < 0:
        constant = tree.Negative(constant)

    def mended(one: tree.Node) -> tree.Node:
        named = isinstance(one, tree.Compare) and isinstance(one.left, tree.Name) and one.left.name == name
        if isinstance(one, tree.Compare) and named and one.operator[0] == sign and _constant(one.right) is not None:
            return replace(one, right=constant)
        return one

    node = parse(when)
    if isinstance(node, tree.All):
        return text_of(replace(node, operands=tuple(mended(one) for one in node.operands)))
    return text_of(mended(node))


def _restart(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without restart."""
    at, layer = _layer(character, finding)
    state = finding.details["state"]
    for number, one in enumerate(layer.transitions):
        if one.to == state and one.restart:
            yield Repair(
                f"{one.source or 'the whole graph'} → {state} no longer restarts {state}.",
                change(character, ("layers", at, "transitions", number), restart=False),
            )


def _way_out(character: Character, finding: Finding) -> Iterator[Repair]:
    """A way back to the start; for a body that stands and falls not before it stands: nothing comes to rest in mid-air."""
    at, layer = _layer(character, finding)
    states = finding.details.get("states") or [finding.details["state"]]
    clips = {clip.name: clip for clip in character.clips}
    for state in (one for one in layer.states if one.name in states and one.name != layer.start_name):
        once = state.clip in clips and clips[state.clip].loop.startswith("once")
        when = "clip done" if once else WAY_OUT
        seen = "once its clip is over" if once else "a second after it was begun"
        if any(one.name == "grounded" and one.owner == "body" for one in character.parameters):
            when, seen = f"{when} and grounded", f"{seen}, standing on the ground"
        yield Repair(
            f"A new transition leads from {state.name} back to {layer.start_name} when “{when}”: {state.name} is seen to end {seen}.",
            append(
                character, ("layers", at, "transitions"), Transition(source=state.name, to=layer.start_name, when=when)
            ),
        )


def _reorder(character: Character, finding: Finding) -> Iterator[Repair]:
    """The shadowed transition tried before the others of its owner."""
    at, layer = _layer(character, finding)
    number = finding.details["transition"]
    one = layer.transitions[number]
    for earlier, other in enumerate(layer.transitions[:number]):
        if (other.source, other.from_lane, other.urgent) == (one.source, one.from_lane, one.urgent):
            yield Repair(
                f"{one.source or one.from_lane or 'the whole graph'} → {one.to} is tried before → {other.to}.",
                move(character, ("layers", at, "transitions", number), earlier),
            )
    if not one.urgent:
        yield Repair(
            f"{one.source or one.from_lane or 'the whole graph'} → {one.to} is urgent: tried before the ordinary ones.",
            change(character, ("layers", at, "transitions", number), urgent=True),
        )


def _on_leaving(character: Character, finding: Finding) -> Iterator[Repair]:
    """What a mark gives back, given back on leaving the state, whichever way."""
    at, layer = _layer(character, finding)
    number, state = next((n, one) for n, one in enumerate(layer.states) if one.name == finding.details["state"])
    clip = next((n for n, one in enumerate(character.clips) if one.name == state.clip), None)
    if clip is None:
        return
    compiler = Effects(scope_of(character), shapes_of(character))
    machine = compile_character(character)
    for place, mark in enumerate(character.clips[clip].marks):
        if mark.name != finding.details["mark"]:
            continue
        back = [one for one in mark.effects if any(sets_back(machine, act) for act in compiler.compile([one])[0])]
        kept = tuple(one for one in mark.effects if one not in back)
        moved = change(character, ("layers", at, "states", number), on_leave=(*state.on_leave, *back))
        if not any(other.clip == state.clip and other is not state for one in character.layers for other in one.states):
            moved = change(moved, ("clips", clip, "marks", place), effects=kept)
        yield Repair(f"What mark {mark.name} gives back is given back on leaving {state.name}.", moved)


def _nearest(character: Character, finding: Finding) -> Iterator[Repair]:
    """An unknown name replaced by the nearest known one."""
    for fault in compile_character(character).faults:
        place, found = fault.place, fault.fault
        if dict(place) != finding.details or found.id != "name.unknown":
            continue
        if found.word in tellable(character):
            yield Repair(
                f"The body tells {found.word}: it becomes a parameter.",
                append(character, ("parameters",), of_body(found.word)),
            )
        if not found.nearest:
            continue
        sentence = f"{found.nearest} instead of {found.word}."
        mended = fault.text[: found.at] + found.nearest + fault.text[found.at + len(found.word) :]
        if "transition" in place:
            at, layer = _layer(character, finding)
            number = int(place["transition"])
            one = layer.transitions[number]
            for field in ("when", "to", "source", "from_lane"):
                if getattr(one, field) == fault.text:
                    yield Repair(sentence, change(character, ("layers", at, "transitions", number), **{field: mended}))
        elif "assumption" in place:
            number = int(place["assumption"])
            texts = character.assumptions
            yield Repair(sentence, change(character, (), assumptions=(*texts[:number], mended, *texts[number + 1 :])))
        elif "state" in place and "in" not in place:
            at, layer = _layer(character, finding)
            number = next(n for n, one in enumerate(layer.states) if one.name == place["state"])
            for field in ("clip", "blend"):
                if getattr(layer.states[number], field) == fault.text:
                    yield Repair(sentence, change(character, ("layers", at, "states", number), **{field: mended}))


def _align(character: Character, finding: Finding) -> Iterator[Repair]:
    """Feet where the figure stands in frames that wander."""
    at = _sheet(character, finding.details["sheet"])
    frames = finding.details["frames"]
    feet = character.sheets[at].feet | {str(one): tuple(foot) for one, foot in zip(frames, finding.details["feet"])}
    sentence = f"Align feet: the foot of {counted(len(frames), 'frame')} moves to where the figure stands."
    yield Repair(sentence, change(character, ("sheets", at), feet=by_number(feet)))


def _pinned(character: Character, finding: Finding) -> Iterator[Repair]:
    """Feet below a drawing that moves through its cells."""
    if "on" in finding.details:
        at = _sheet(character, finding.details["on"])
        feet = {str(one): tuple(foot) for one, foot in zip(finding.details["frames"], finding.details["feet"])}
        sentence = (
            f"Pin {finding.details['clip']} in place: the feet of {counted(len(feet), 'frame')} follow the drawing."
        )
        every = by_number(character.sheets[at].feet | feet)
        made = change(character, ("sheets", at), feet=every)
        number, clip = _clip(character, finding)
        if clip.travel is None and finding.details["path"]:
            keys = tuple(Key(at=when, x=x) for when, x in finding.details["path"])
            made = change(made, ("clips", number), travel=Travel(keys=keys))
            sentence = f"{sentence[:-1]}, and the {abs(keys[-1].x):g} units it drifted are the path it travels."
        yield Repair(sentence, made)


def _clip(character: Character, finding: Finding) -> tuple[int, Clip]:
    return next((at, one) for at, one in enumerate(character.clips) if one.name == finding.details["clip"])


def _paced(character: Character, finding: Finding) -> Iterator[Repair]:
    """A clip played as fast as the body goes."""
    at, clip = _clip(character, finding)
    natural = float(f"{finding.details['natural']:.4g}")
    if clip.playback is not None:
        playback = msgspec.structs.replace(clip.playback, at=natural)
        yield Repair(
            f"{clip.name} plays as written at {natural:g} units/s.", change(character, ("clips", at), playback=playback)
        )
    elif any(one.name == SPEED for one in character.parameters):
        sentence = f"{clip.name} plays at the body's speed, as it is written at {natural:g} units/s."
        yield Repair(sentence, change(character, ("clips", at), playback=Playback(parameter=SPEED, at=natural)))


def _scaled(character: Character, finding: Finding) -> Iterator[Repair]:
    """A path of the length that is needed."""
    at, clip = _clip(character, finding)
    for ahead, up in finding.details.get("scales", ()) if clip.travel is not None else ():
        assert clip.travel is not None
        x, y = (float(f"{one:.6g}") for one in (clip.travel.scale_x * ahead, clip.travel.scale_y * up))
        words = [f"{x:.4g} times as far" for _ in range(x != clip.travel.scale_x)]
        words += [f"{y:.4g} times as high" for _ in range(y != clip.travel.scale_y)]
        travel = msgspec.structs.replace(clip.travel, scale_x=x, scale_y=y)
        sentence = f"The path of {clip.name} goes {listed(words)} as its keys."
        yield Repair(sentence, change(character, ("clips", at), travel=travel))


def _fitting_body(character: Character, finding: Finding) -> Iterator[Repair]:
    """A body as high as the figure, and as wide in proportion as it was."""
    body = character.body
    high = max(1.0, float(round(finding.details["height"])))
    wide = max(1.0, float(round(body.width * high / body.height)))
    sentence = f"The body is {high:g} units high and {wide:g} wide, instead of {body.height:g} and {body.width:g}."
    yield Repair(sentence, change(character, ("body",), height=high, width=wide))


def _springs_back(character: Character, finding: Finding) -> Iterator[Repair]:
    """A squash that ends by itself."""
    at = next(number for number, one in enumerate(character.squashes) if one.name == finding.details["squash"])
    sentence = f"Squash {finding.details['squash']} springs back after {HOLDS:g} s."
    yield Repair(sentence, change(character, ("squashes", at), hold=HOLDS))


def _without_cel(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without the cel that is unlike the others."""
    at = next(number for number, clip in enumerate(character.clips) if clip.name == finding.details["clip"])
    (cel,) = finding.details["cels"]
    frame = character.clips[at].cels[cel].frame
    sentence = f"Take cel {cel} (frame {frame}) out of {finding.details['clip']}."
    yield Repair(sentence, remove(character, ("clips", at, "cels", cel)))


def _whole(character: Character, finding: Finding) -> Iterator[Repair]:
    """Rectangles of their own for frames that are cut through, feet staying where they are on the image."""
    at = _sheet(character, finding.details["sheet"])
    sheet = character.sheets[at]
    for margin in (1, 0):
        cut, feet = sheet.cut, dict(sheet.feet)
        for number, (rect, foot) in finding.details["whole"].items():
            x, y, right, low = (
                rect[0] - margin,
                rect[1] - margin,
                rect[0] + rect[2] + margin,
                rect[1] + rect[3] + margin,
            )
            x, y = max(0, x), max(0, y)
            if sheet.size:
                right, low = min(right, sheet.size[0]), min(low, sheet.size[1])
            cut = with_rect(cut, int(number), Rect(x, y, right - x, low - y))
            feet[number] = (foot[0] - x, foot[1] - y)
        count = len(finding.details["whole"])
        yield Repair(
            f"{counted(count, 'frame')} of {sheet.name} {'gets a rectangle' if count == 1 else 'get rectangles'} of "
            f"{'its' if count == 1 else 'their'} own around the whole drawing.",
            change(character, ("sheets", at), cut=cut, feet=by_number(feet)),
        )


def _lower_boxes(character: Character, finding: Finding) -> Iterator[Repair]:
    """Body boxes that reach down to the feet."""
    details = finding.details
    if "clip" in details:
        yield _one_box(character, finding, f"The body box of clip {details['clip']} reaches down to the feet.")
    elif "boxes" in details:
        at = _sheet(character, details["sheet"])
        boxes = character.sheets[at].boxes | {
            str(one): tuple(box) for one, box in zip(details["frames"], details["boxes"])
        }
        sentence = f"The body boxes of {counted(len(details['frames']), 'frame')} reach down to the feet."
        yield Repair(sentence, change(character, ("sheets", at), boxes=by_number(boxes)))


def _still_box(character: Character, finding: Finding) -> Iterator[Repair]:
    """One body box for all of a clip."""
    yield _one_box(character, finding, f"Clip {finding.details['clip']} gets one body box for all of it.")


def _one_box(character: Character, finding: Finding, sentence: str) -> Repair:
    at = next(number for number, clip in enumerate(character.clips) if clip.name == finding.details["clip"])
    return Repair(sentence, change(character, ("clips", at), box=tuple(finding.details["box"])))


def _fitting(character: Character, finding: Finding) -> Iterator[Repair]:
    """A scale at which figures stand about as high as the others."""
    at, factor = _sheet(character, finding.details["sheet"]), finding.details["factor"]
    before = character.sheets[at].scale or Scale()
    scale = msgspec.structs.replace(before, by=before.by * factor, height=before.height * factor)
    sentence = f"Sheet {finding.details['sheet']} is scaled by {scaling.in_words(factor)}."
    yield Repair(sentence, change(character, ("sheets", at), scale=scale))


def _expect(character: Character, finding: Finding) -> Iterator[Repair]:
    """What was offered is expected from now on."""
    at, layer = _layer(character, finding)
    number = next(n for n, one in enumerate(layer.states) if one.name == finding.details["state"])
    condition = finding.details["expects"]
    sentence = f"{finding.details['state']} expects “{condition}” from now on."
    yield Repair(sentence, change(character, ("layers", at, "states", number), expects=condition))


def _without_samples(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without samples that are never picked; one stays."""
    at, blend = _blend(character, finding)
    lost = finding.details["samples"]
    samples = [one for number, one in enumerate(blend.samples) if number not in lost] or blend.samples[:1]
    names = listed(list(dict.fromkeys(blend.samples[number].clip for number in lost)))
    what = "A sample" if len(lost) == 1 else counted(len(lost), "sample")
    sentence = f"{what} of {names} {'is' if len(lost) == 1 else 'are'} taken out of blend space {blend.name}."
    yield Repair(sentence, change(character, ("blends", at), samples=tuple(samples)))


def _blend(character: Character, finding: Finding) -> tuple[int, BlendSpace]:
    """The blend space a finding is about, and which it is."""
    return next((at, one) for at, one in enumerate(character.blends) if one.name == finding.details["blend"])


def _in_the_gap(character: Character, finding: Finding) -> Iterator[Repair]:
    """Samples in the main direction nearest to a gap, on every ring that has none there: of the family that stands on the ring,
    drawn that way or mirrored."""
    at, blend = _blend(character, finding)
    space = space_of(blend, character.bearings)
    if space.dial is None or space.dial[1] < 0:
        return
    around, out = space.dial
    bearing = round(finding.details["at"][around] / EVERY) * EVERY % CIRCLE
    fixed = {sheet.name for sheet in character.sheets if not sheet.mirrors}
    drawn = {clip.name for clip in character.clips if clip.sheet in fixed}
    names, made = [clip.name for clip in character.clips], list[Sample]()
    for speed in sorted({place[out] for place in space.places if place[out] == place[out]}):
        there = [one for one, place in zip(blend.samples, space.places) if place[out] == speed]
        family = next((found for one in there if (found := family_of(names, one.clip))), None)
        if family is None or any(one.at[around] in (bearing, ANY) for one in there):
            continue
        allowed = not drawn & {*family.clips.values()}
        made += [one for one in ring(family.clips, 2, around, speed, allowed) if one.at[around] == bearing]
    if made:
        clips = listed([one.clip for one in made])
        sentence = f"{clips} {'stand' if len(made) > 1 else 'stands'} {in_words(bearing)} in blend space {blend.name}."
        yield Repair(sentence, change(character, ("blends", at), samples=(*blend.samples, *made)))


def _sticky(character: Character, finding: Finding) -> Iterator[Repair]:
    """Borders so sticky that a wobble does not change the pick."""
    at, blend = _blend(character, finding)
    sentence = f"The borders of blend space {blend.name} are sticky by {finding.details['sticky']:g} rulings."
    yield Repair(sentence, change(character, ("blends", at), sticky=finding.details["sticky"]))


def _in_phase(character: Character, finding: Finding) -> Iterator[Repair]:
    """Other phases, where those bring the marks of neighbours together; each follows the one before it."""
    at, blend = _blend(character, finding)
    moved: dict[int, float] = {}
    for one, other, shift in finding.details.get("shifts", ()):
        moved.setdefault(other, moved.get(one, 0.0) + shift)
    if moved:
        phases = {number: round((blend.samples[number].phase + shift) % 1, 6) % 1 for number, shift in moved.items()}
        samples = [
            msgspec.structs.replace(one, phase=phases.get(number, one.phase))
            for number, one in enumerate(blend.samples)
        ]
        each = listed([f"{blend.samples[number].clip} at {phase:.3g}" for number, phase in phases.items()])
        begin, its = ("begins", "its") if len(phases) == 1 else ("begin", "their")
        sentence = f"In blend space {blend.name}, {each} of {its} length {begin} {its} cycle."
        yield Repair(sentence, change(character, ("blends", at), samples=tuple(samples)))


def _at_once(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without the crossfade."""
    at, layer = _layer(character, finding)
    number = finding.details["transition"]
    one = layer.transitions[number]
    sentence = f"{one.source or one.from_lane or 'the whole graph'} → {one.to} changes over at once."
    yield Repair(sentence, change(character, ("layers", at, "transitions", number), fade=0.0, interruptible=True))


def _sheet(character: Character, name: str) -> int:
    return next(number for number, sheet in enumerate(character.sheets) if sheet.name == name)


_MAKERS: dict[str, Callable[[Character, Finding], Iterator[Repair]]] = {
    "flicker.steady": _steady,
    "flicker.wobble": _steady,
    "flicker.restart": _restart,
    "state.dead-end": _way_out,
    "state.trap": _way_out,
    "state.no-rest": _way_out,
    "transition.shadowed": _reorder,
    "mark.missable": _on_leaving,
    "name.unknown": _nearest,
    "frame.foot-wanders": _align,
    "frame.outside-box": _lower_boxes,
    "frame.box-jumps": _still_box,
    "sheet.cut-through": _whole,
    "sheet.scale": _fitting,
    "body.size": _fitting_body,
    "expectation.offered": _expect,
    "clip.odd-frame": _without_cel,
    "fade.dissolves": _at_once,
    "blend.coincident": _without_samples,
    "sample.unpicked": _without_samples,
    "blend.phase": _in_phase,
    "flicker.pick": _sticky,
    "blend.gap": _in_the_gap,
    "clip.drifts": _pinned,
    "clip.slide": _paced,
    "travel.inside": _scaled,
    "travel.short": _scaled,
    "squash.stays": _springs_back,
}
"""What makes repairs for a kind of finding."""

_OFFERS = ("expectation.offered",)
"""Findings that are questions: their repair may bring findings to light, which is its purpose."""

MENDED = frozenset(_MAKERS)
"""The kinds of findings for which repairs are known."""
