"""What marks, spans and states do, written as sentences: ``raise step; set drawn to on; lock movement as swing``.

The same words are shown and read, so that what is shown can be edited in place.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from leanstep.core.character.clips import Effect, Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.conditions.scope import scope_of
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.effects import Effects, shapes_of

Value = float | bool | str

QUOTED = r'"(?:[^"\\]|\\.)*"'
"""A text in quotes, in which a quote or a backslash has a backslash before it."""
WORD = rf"({QUOTED}|[\w.-]+(?: [\w.-]+)*?)"
"""A name, in quotes where it is more than words."""

UNPLAIN = frozenset({"on", "off", "true", "false", "nan", "inf", "infinity"})
"""Words that mean something else than a text where they stand without quotes."""

FORMS = (
    "set NAME to VALUE",
    "add NUMBER to NAME",
    "raise NAME",
    "lock movement as NAME",
    "unlock movement as NAME",
    "freeze NUMBER ticks",
    "move by walk, climb, float or still",
    "push NUMBER, up NUMBER",
    "squash NAME",
    "lean NAME",
)
"""What an effect can be, in words."""

SAYING = "say WORD = VALUE"
"""What marks and spans can say to the game, in words."""


@dataclass
class EffectText:
    """What was read: effects, or what a span holds and locks, and words for the game."""

    effects: list[Effect] = field(default_factory=list)
    hold: str = ""
    lock: bool = False
    says: dict[str, Value] = field(default_factory=dict)


Reader = Callable[[EffectText, re.Match[str]], None]


def effect_words(effects: Sequence[Effect]) -> str:
    """Effects as sentences."""
    return "; ".join(map(_effect, effects))


def mark_words(mark: Mark) -> str:
    """What a mark does."""
    return "; ".join([*map(_effect, mark.effects), *_said(mark.says)])


def span_words(span: Span) -> str:
    """What a span does while it is on."""
    held = [f"hold {_name(span.hold)}"] if span.hold else []
    return "; ".join([*held, *(["lock movement"] if span.lock else []), *_said(span.says)])


def read_effects(text: str) -> tuple[Effect, ...]:
    """Effects from their sentences; raises :class:`LeanStepError` for the first that cannot be read."""
    return tuple(_read(text, _EFFECTS, FORMS).effects)


def read_mark(text: str) -> dict[str, object]:
    """The fields of a mark from what it does; raises :class:`LeanStepError`."""
    found = _read(text, {**_EFFECTS, **_SAYS}, (*FORMS, SAYING))
    return {"effects": tuple(found.effects), "says": found.says}


def read_span(text: str) -> dict[str, object]:
    """The fields of a span from what it does; raises :class:`LeanStepError`."""
    found = _read(text, {**_HOLDS, **_SAYS}, ("hold NAME", "lock movement", SAYING))
    return {"hold": found.hold, "lock": found.lock, "says": found.says}


def fault_of(character: Character, effects: Sequence[Effect]) -> str:
    """What keeps effects from being done, as a sentence; empty when nothing does."""
    _, faults = Effects(scope_of(character), shapes_of(character)).compile(effects)
    if not faults:
        return ""
    text, fault = faults[0]
    nearest = f" Did you mean {fault.nearest}?" if fault.nearest else ""
    return f"{text}: {fault.reason}.{nearest}"


def phrases(character: Character, span: bool = False) -> list[str]:
    """What can be written, for completion: every effect that fits this character."""
    of_graph = [one for one in character.parameters if one.owner == "graph"]
    found = []
    for one in of_graph:
        if span:
            found += [f"hold {one.name}"] if one.kind == "flag" else []
        elif one.kind == "pulse":
            found.append(f"raise {one.name}")
        elif one.kind == "flag":
            found += [f"set {one.name} to on", f"set {one.name} to off"]
        elif one.kind == "choice":
            found += [f"set {one.name} to {choice}" for choice in one.choices]
        else:
            found += [f"set {one.name} to 0", f"add 1 to {one.name}"]
    if span:
        return [*found, "lock movement", "say foot = left"]
    found += ["lock movement as landing", "unlock movement as landing", "freeze 4 ticks"]
    found += ["move by climb", "move by walk", "push 120, up 40"]
    for kind, names in shapes_of(character).items():
        found += [*(f"{kind} {_name(name)}" for name in names), *([f"end {kind}"] if names else [])]
    return found


def _name(name: str) -> str:
    return name if re.fullmatch(r"[\w.-]+(?: [\w.-]+)*", name) and " to " not in name else _quoted(name)


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)


def _value(value: Value) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, str):
        plain = re.fullmatch(r"[A-Za-z_][\w-]*", value) and value.lower() not in UNPLAIN
        return value if plain else _quoted(value)
    return repr(float(value)).removesuffix(".0")


def _effect(effect: Effect) -> str:
    name, value = _name(effect.name), _value(effect.value)
    up = f", up {_value(effect.up)}" if effect.up else ""
    return {
        "set": f"set {name} to {value}",
        "add": f"add {value} to {name}",
        "raise": f"raise {name}",
        "lock": f"lock movement as {name}",
        "unlock": f"unlock movement as {name}",
        "freeze": f"freeze {value} {'tick' if effect.value == 1 else 'ticks'}",
        "mode": f"move by {name}",
        "push": f"push {value}{up}",
        "squash": f"squash {name}" if effect.name else "end squash",
        "lean": f"lean {name}" if effect.name else "end lean",
    }[effect.do]


def _said(says: Mapping[str, Value]) -> list[str]:
    return [f"say {_name(key)} = {_value(value)}" for key, value in says.items()]


def _read(text: str, forms: Mapping[str, Reader], known: Sequence[str]) -> EffectText:
    found = EffectText()
    for clause in _clauses(text):
        for pattern, take in forms.items():
            match = re.fullmatch(pattern, clause, re.IGNORECASE)
            if match is not None:
                take(found, match)
                break
        else:
            way_out = f"Write one of: {', '.join(known)}; a ; between two."
            raise LeanStepError(clause, f"“{clause}” cannot be read", way_out)
    return found


def _clauses(text: str) -> list[str]:
    """What stands between semicolons, with single spaces but for what is in quotes."""
    found = [""]
    for token in re.findall(rf'{QUOTED}|;|[^;"]+|"', text):
        if token == ";":
            found.append("")
        else:
            found[-1] += token if token.startswith('"') else re.sub(r"\s+", " ", token)
    return [clause for clause in map(str.strip, found) if clause]


def _word(text: str) -> str:
    """A name as it is written, without its quotes."""
    if not text.startswith('"'):
        return text
    try:
        return str(json.loads(text, strict=False))
    except ValueError:
        raise LeanStepError(text, f"{text} cannot be read", 'Write \\" for a quote and \\\\ for a backslash.') from None


def _read_value(text: str) -> Value:
    if re.fullmatch(QUOTED, text):
        return _word(text)
    if text.lower() in ("on", "true", "off", "false"):
        return text.lower() in ("on", "true")
    try:
        value = float(text)
    except ValueError:
        return text
    return value if math.isfinite(value) else _number(text)


def _number(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise LeanStepError(text, f"“{text}” is no number", "Write a number.")
    return value


def _set(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="set", name=_word(match[1]), value=_read_value(match[2])))


def _add(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="add", name=_word(match[2]), value=_number(match[1])))


def _raise(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="raise", name=_word(match[1])))


def _lock(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="unlock" if match[1] else "lock", name=_word(match[2])))


def _freeze(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="freeze", value=_number(match[1])))


def _mode(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="mode", name=_word(match[1])))


def _push(found: EffectText, match: re.Match[str]) -> None:
    found.effects.append(Effect(do="push", value=_number(match[1]), up=_number(match[2] or "0")))


def _shape(found: EffectText, match: re.Match[str]) -> None:
    kind: Literal["squash", "lean"] = "squash" if match[1].lower() == "squash" else "lean"
    found.effects.append(Effect(do=kind, name=_word(match[2])))


def _end(found: EffectText, match: re.Match[str]) -> None:
    kind: Literal["squash", "lean"] = "squash" if match[1].lower() == "squash" else "lean"
    found.effects.append(Effect(do=kind))


def _say(found: EffectText, match: re.Match[str]) -> None:
    found.says[_word(match[1])] = _read_value(match[2])


def _hold(found: EffectText, match: re.Match[str]) -> None:
    found.hold = _word(match[1])


def _lock_all(found: EffectText, match: re.Match[str]) -> None:
    found.lock = True


_EFFECTS: dict[str, Reader] = {
    rf"set {WORD} to ({QUOTED}|\S+)": _set,
    rf"add (\S+) to {WORD}": _add,
    rf"raise {WORD}": _raise,
    rf"(un)?lock movement as {WORD}": _lock,
    r"freeze (\S+)(?: ticks?)?": _freeze,
    rf"move by {WORD}": _mode,
    r"push ([^\s,]+)(?:, up (\S+))?": _push,
    rf"(squash|lean) {WORD}": _shape,
    r"end (squash|lean)": _end,
}
_SAYS: dict[str, Reader] = {rf"say {WORD} ?= ?({QUOTED}|\S+)": _say}
_HOLDS: dict[str, Reader] = {rf"hold {WORD}": _hold, "lock movement": _lock_all}
