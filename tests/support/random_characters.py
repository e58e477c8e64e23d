"""Small random characters: the same seed gives the same one."""

from __future__ import annotations

import random
import re
from dataclasses import dataclass, field
from typing import Any

import msgspec

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body
from leanstep.core.character.clips import (
    ActionBox,
    BoxKey,
    Cel,
    Clip,
    Effect,
    Key,
    Mark,
    Phase,
    PhaseKind,
    Span,
    Strike,
    Travel,
)
from leanstep.core.character.contact import ContactRules
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, insert, move, remove
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter
from leanstep.core.character.pins import Accessory, Pin, PinKey
from leanstep.core.character.sheets import Cut, Sheet

SIGNS = ["<", "<=", "=", "!=", ">", ">="]


@dataclass
class _Maker:
    """Makes one character; ``rich``: with effects, events in clips, fades and the past;
    ``slow``: about a number that changes only so fast; ``mixed``: it is compared with a parameter of the graph;
    ``turning``: about a bearing."""

    pick: random.Random
    rich: bool
    slow: bool = False
    mixed: bool = False
    turning: bool = False
    parameters: list[Parameter] = field(default_factory=list)
    graph: list[Parameter] = field(default_factory=list)
    button: bool = False
    states: list[tuple[str, str]] = field(default_factory=list)
    spans: list[str] = field(default_factory=list)

    def chance(self, share: float) -> bool:
        return self.pick.random() < share

    def character(self, seed: int) -> Character:
        pick = self.pick
        self.parameters = pick.sample(
            [
                Parameter(name="speed", min=pick.choice([0.0, -4.0]), max=4.0, wobble=pick.choice([0.0, 0.5, 2.0])),
                Parameter(name="lives", kind="whole", min=0, max=2),
                Parameter(name="grounded", kind="flag", chatters=self.chance(0.3)),
                Parameter(name="hurt", kind="pulse", once_per=0.3 if self.rich and self.chance(0.2) else None),
                Parameter(name="mood", kind="choice", choices=("calm", "angry")),
            ],
            pick.choice([1, 1, 2, 2, 3]),
        )
        if self.slow:
            speed = Parameter(name="speed", min=pick.choice([0.0, -2.0]), max=2.5, per_second=pick.choice([7, 10, 20]))
            flags = [Parameter(name="grounded", kind="flag"), Parameter(name="hurt", kind="pulse")]
            self.parameters = [
                msgspec.structs.replace(speed, wobble=pick.choice([0.0, 0.5])),
                *pick.sample(flags, self.chance(0.4)),
            ]
        if self.mixed:
            speed = Parameter(name="speed", min=0.0, max=4.0, wobble=pick.choice([0.0, 0.5]))
            others = [one for one in self.parameters if one.name != "speed"]
            self.parameters = [speed, *others[: pick.choice([0, 0, 1])]]
            self.graph = [Parameter(name="charge", kind="whole", owner="graph", min=0, max=2)]
        elif self.turning:
            heading = Parameter(name="heading", kind="bearing", wobble=pick.choice([0.0, 20.0, 100.0]))
            self.parameters = [
                heading,
                *[one for one in self.parameters if one.name != "speed"][: pick.choice([0, 1, 1])],
            ]
            if self.chance(0.3):
                self.graph = [Parameter(name="aim", kind="bearing", owner="graph", start=pick.choice([0, 90, 270]))]
        elif self.rich and self.chance(0.5):
            self.graph = pick.sample(
                [
                    Parameter(name="armed", kind="flag", owner="graph"),
                    Parameter(name="charge", kind="whole", owner="graph", min=0, max=2, start=pick.choice([0, 1])),
                    Parameter(name="thump", kind="pulse", owner="graph"),
                ],
                pick.choice([1, 1, 2]),
            )
        if self.rich and self.chance(0.1) and any(one.kind == "number" for one in self.parameters):
            self.parameters.append(Parameter(name="haste", owner="formula", formula="speed * 2", min=-2, max=3))
        self.button = self.chance(0.45)
        swing, sway = (random.Random(f"{seed} {name}") for name in ("swing", "sway"))
        clips = (self._clip("swing", pick.choice(["once", "repeat"]), swing), self._clip("sway", "repeat", sway))
        layers: list[Layer] = []
        for number in range(pick.choice([1, 1, 1, 2])):
            layers.append(self._layer(f"l{number}"))
        return Character(
            name=f"Random {seed}",
            rate=10,
            flicker_window=pick.choice([0.0, 0.2, 0.3, 0.4]),
            parameters=(*self.parameters, *self.graph),
            assumptions=(self.condition(1, timed=False),) if self.chance(0.2) else (),
            controls=Controls(buttons=(Button(name="jump"),) if self.button else ()),
            clips=clips,
            blends=self._blends() if self.turning else (),
            layers=tuple(layers),
        )

    def _blends(self) -> tuple[BlendSpace, ...]:
        """One whose samples all play the same, so that it does not matter to the graph which is picked; and one to be drawn."""
        pick, numbers = self.pick, [one.name for one in self.parameters if one.kind in ("number", "whole")]
        axes = [Axis(parameter="heading", step=pick.choice([None, 90.0]))]
        axes += [Axis(parameter=name, min=0, max=2) for name in numbers[: pick.choice([0, 1])]]
        places = [
            (float(pick.choice([0, 45, 90, 180, 270])), *(float(pick.choice([0, 1, 2])) for _ in axes[1:]))
            for _ in range(4)
        ]
        clip, sticky = pick.choice(["swing", "sway"]), pick.choice([0.0, 0.3])
        samples = tuple(Sample(at=at, clip=clip) for at in places)
        return (BlendSpace(name="spin", axes=tuple(axes), sticky=sticky, samples=samples),)

    def _clip(self, name: str, loop: str, apart: random.Random) -> Clip:
        pick = self.pick
        marks: tuple[Mark, ...] = ()
        spans: tuple[Span, ...] = ()
        if self.rich and self.chance(0.35):
            at = pick.choice([0.0, 1.0, 1.5, 2.0, 2.5])
            marks = (Mark(name=f"{name}_mark", at=at, effects=self.effects(0.7)),)
        if self.rich and self.chance(0.25):
            start = pick.choice([0.0, 1.0])
            flags = [one.name for one in self.graph if one.kind == "flag"]
            hold = pick.choice(flags) if flags and self.chance(0.6) else ""
            spans = (Span(name=f"{name}_span", start=start, end=start + pick.choice([1.0, 1.5]), hold=hold),)
            self.spans.append(f"{name}_span")
        cels = [Cel(frame=0, ticks=pick.choice([1.0, 2.0, 2.5]))]
        if self.rich and loop == "repeat" and apart.random() < 0.4:
            cels.insert(apart.choice([0, 1]), Cel(frame=1, ticks=apart.choice([0.5, 1.0, 1.5])))
        back = apart.choice([0, 1, 1])
        goes: Any = apart.choice(["body", "body", "drawing"])
        # in the free world a path changes nothing, in the body world it moves the body
        ends = Key(at=1.5, x=apart.choice([3.0, -2.5]), y=apart.choice([0.0, 4.0]), ease="both")
        travel = Travel(keys=(ends,), moves=goes, through=apart.random() < 0.2) if apart.random() < 0.4 else None
        return Clip(
            name=name,
            sheet="art",
            loop=loop,  # type: ignore[arg-type]
            repeat_from=back if loop == "repeat" else 0,
            cels=tuple(cels),
            marks=marks,
            spans=spans,
            travel=travel,
        )

    def _shown(self) -> dict[str, Any]:
        """What a state shows."""
        if self.turning and self.chance(0.3):
            return {"blend": "spin"}
        return {"clip": self.pick.choice(["swing", "sway"]) if self.chance(0.4) else ""}

    def effects(self, share: float) -> tuple[Effect, ...]:
        if not self.rich or not self.chance(share):
            return ()
        if not self.graph or self.chance(0.08):
            return (Effect(do="freeze", value=self.pick.choice([1, 2])),) if self.chance(0.3) else ()
        one = self.pick.choice(self.graph)
        if one.kind == "flag":
            return (Effect(do="set", name=one.name, value=self.chance(0.5)),)
        if one.kind == "bearing":
            return (Effect(do="set", name=one.name, value=self.pick.choice([0, 90, 180, 450])),)
        if one.kind == "pulse":
            return (Effect(do="raise", name=one.name),)
        return (Effect(do=self.pick.choice(["set", "add"]), name=one.name, value=self.pick.choice([1, 2])),)

    def _layer(self, name: str) -> Layer:
        pick = self.pick
        lanes = ("low", "high")
        states = tuple(
            State(
                name=f"s{at}",
                lane=pick.choice(lanes),
                **self._shown(),
                ending=self.chance(0.08),
                restful=self.chance(0.3),
                on_entry=self.effects(0.3),
                on_leave=self.effects(0.15),
            )
            for at in range(pick.choice([1, 2, 2, 3, 3, 4]))
        )
        names = [state.name for state in states]
        self.states += [(name, state) for state in names]
        made = []
        for _ in range(pick.randint(1, 5)):
            owner = pick.random()
            fade = pick.choice([0.1, 0.2]) if self.rich and self.chance(0.12) else 0.0
            made.append(
                Transition(
                    source=pick.choice(names) if owner < 0.7 else "",
                    from_lane=pick.choice(lanes) if 0.7 <= owner < 0.85 else "",
                    to=pick.choice(names),
                    when=self.condition(2, layer=name),
                    urgent=self.chance(0.2),
                    restart=self.chance(0.3),
                    fade=fade,
                    interruptible=self.chance(0.4),
                    keep_phase=self.rich and self.chance(0.1),
                )
            )
        return Layer(name=name, start=pick.choice(names), lanes=lanes, states=states, transitions=tuple(made))

    def condition(self, depth: int, timed: bool = True, layer: str = "") -> str:
        """A random condition; one that is not ``timed`` is about parameters alone."""
        pick = self.pick
        if depth > 0 and self.chance(0.55):
            kind = pick.choice(["and", "or", "not", *(["for", "within"] if timed else [])])
            inner = self.condition(depth - 1, timed, layer)
            if kind == "not":
                return f"not ({inner})"
            if kind in ("for", "within"):
                return f"({inner}) {kind} {pick.choice(['0', '1', '2', '3'])} ticks"
            return f"({inner}) {kind} ({self.condition(depth - 1, timed, layer)})"
        if timed and self.chance(0.35):
            return self._timed(layer)
        if self.button and timed and self.chance(0.3):
            return f"jump {pick.choice(['pressed', 'released', 'held'])}"
        if timed and self.graph and self.chance(0.35):
            return self._about(pick.choice(self.graph))
        return self._about(pick.choice(self.parameters))

    def _timed(self, layer: str) -> str:
        pick = self.pick
        other, state = pick.choice(self.states)
        options = [
            f"stay {pick.choice(SIGNS)} {pick.randint(0, 3)} ticks",
            f"stay between 1 ticks and {pick.randint(1, 3)} ticks",
            "clip done",
            f"in {other}.{state}",
        ]
        if self.rich:
            options += [f"since({other}.{state}) {pick.choice(SIGNS)} {pick.randint(1, 3)} ticks"]
            options += [f"clip at {pick.choice(['0', '0.4', '1'])}"]
            options += [f"jump buffered {pick.choice(['1', '3'])} ticks"] * 2 * self.button
            options += [f"span {name}" for name in self.spans]
        return pick.choice(options)

    def _about(self, parameter: Parameter) -> str:
        pick = self.pick
        if parameter.kind == "bearing":
            return self._towards(parameter)
        if parameter.kind == "number" and self.mixed and self.chance(0.6):
            left = pick.choice([parameter.name, f"{parameter.name} * 2", "charge - 1"])
            right = pick.choice(["charge", "charge + 1"]) if left != "charge - 1" else parameter.name
            return f"{left} {pick.choice(['<', '<=', '=', '>', '>='])} {right}"
        if parameter.kind == "number":
            name = parameter.name
            left = pick.choice([name, name, name, f"abs({name})", f"{name} * 2", f"-{name}", f"min({name}, 1)"])
            return f"{left} {pick.choice(['<', '<=', '=', '>', '>='])} {pick.choice(['-1', '0', '1', '2'])}"
        if parameter.kind == "whole":
            return f"{parameter.name} {pick.choice(['<', '=', '!=', '>='])} {pick.choice(['0', '1', '1.5', '2'])}"
        if parameter.kind == "choice":
            return f"mood {pick.choice(['=', '!='])} {pick.choice(['calm', 'angry'])}"
        return parameter.name

    def _towards(self, bearing: Parameter) -> str:
        pick, other = self.pick, "aim" if self.graph and bearing.owner != "graph" and self.chance(0.3) else ""
        one, two = pick.choice(["0", "45", "90", "180", "270", "315"]), pick.choice(["45", "90", "180", "360", "300"])
        return pick.choice(
            [
                f"{bearing.name} between {other or one} and {two}",
                f"{bearing.name} between {one} and {other or two}",
                f"{bearing.name} {pick.choice(['=', '!='])} {other or one}",
                f"turn({bearing.name}, {one}) {pick.choice(['<', '<=', '>', '>='])} {pick.choice(['-90', '0', '45', '180'])}",
                f"turn({one}, {bearing.name}) {pick.choice(['<', '<=', '>', '>='])} {pick.choice(['-90', '0', '45', '180'])}",
                f"abs(turn({bearing.name}, {one})) {pick.choice(['<', '<=', '>', '>='])} {pick.choice(['0', '30', '90'])}",
            ]
        )


def turning_character(seed: int) -> Character:
    """A random character that goes by a bearing."""
    return _Maker(random.Random(seed), rich=True, turning=True).character(seed)


def random_character(seed: int, rich: bool = True) -> Character:
    """A character of one or two layers, few parameters and short timers."""
    return _Maker(random.Random(seed), rich).character(seed)


def slow_character(seed: int) -> Character:
    """A random character with a number that changes only so fast, and few other parameters."""
    return _Maker(random.Random(seed), rich=False, slow=True).character(seed)


def edited(character: Character, pick: random.Random) -> Character:
    """A character with one transition or state changed, moved, added or removed."""
    at = pick.randrange(len(character.layers))
    layer, path = character.layers[at], ("layers", at, "transitions")
    maker = _Maker(
        pick,
        rich=True,
        parameters=[one for one in character.parameters if one.owner != "graph"],
        graph=[one for one in character.parameters if one.owner == "graph"],
        button=bool(character.controls.buttons),
        states=[(one.name, state.name) for one in character.layers for state in one.states],
        spans=[span.name for clip in character.clips for span in clip.spans],
    )
    number, state = pick.randrange(len(layer.transitions)), pick.randrange(len(layer.states))
    one, other = layer.transitions[number], pick.choice(layer.transitions)
    place = pick.random()
    if place < 0.2:
        shape: dict[str, object] = pick.choice(
            [
                {"clip": pick.choice(["", "swing", "sway"])},
                {"on_entry": maker.effects(0.6)},
                {"on_leave": maker.effects(0.6)},
                {"restful": not layer.states[state].restful},
                {"ending": not layer.states[state].ending},
            ]
        )
        return change(character, ("layers", at, "states", state), **shape)
    if place < 0.25:
        return move(character, (*path, number), pick.randrange(len(layer.transitions)))
    if place < 0.3:
        return insert(character, path, number, msgspec.structs.replace(one, to=other.to, when=maker.condition(1)))
    if place < 0.35 and len(layer.transitions) > 1:
        return remove(character, (*path, number))
    values: dict[str, object] = pick.choice(
        [
            {"when": other.when},
            {"when": maker.condition(2, layer=layer.name)},
            {"when": f"({one.when}) {pick.choice(['and', 'or'])} ({maker.condition(0, layer=layer.name)})"},
            {"when": f"not ({one.when})"},
            {"when": re.sub(r"[012](?![\d.])", lambda found: pick.choice("0123"), one.when)},
            {"when": f"({one.when}) or stay >= {pick.choice('123')} ticks"},
            {"when": f"({one.when}) and stay {pick.choice(['>', '<', '='])} {pick.choice('123')} ticks"},
            {"to": other.to},
            {"urgent": not one.urgent},
            {"restart": not one.restart},
            {"keep_phase": not one.keep_phase},
            {"fade": pick.choice([0.0, 0.1, 0.2]), "interruptible": not one.interruptible},
        ]
    )
    return change(character, (*path, number), **values)


def mixed_character(seed: int) -> Character:
    """A random character whose speed is compared with what effects count."""
    return _Maker(random.Random(seed), rich=True, mixed=True).character(seed)


def acting_character(seed: int) -> Character:
    """A random character whose clips have phases, for which transitions ask."""
    pick, plain = random.Random(seed), random_character(seed)

    def acting(clip: Clip) -> Clip:
        length, phases, at = sum(cel.ticks for cel in clip.cels), list[Phase](), 0.0
        while at < length and pick.random() < 0.8:
            start = at + pick.choice((0.0, 1.0, 1.5, 3.0))
            end = start + pick.choice((1.0, 2.0, 2.75))
            kind: PhaseKind = pick.choice(("startup", "active", "active", "recovery"))
            phases.append(Phase(kind=kind, start=start, end=end))
            at = end
        return msgspec.structs.replace(clip, phases=tuple(phases))

    def asking(way: Transition) -> Transition:
        if pick.random() < 0.5:
            return way
        asked = f"phase {pick.choice(('startup', 'active', 'recovery'))}"
        asked = pick.choice((asked, f"not {asked}", f"{asked} for 2 ticks", f"{asked} within 3 ticks"))
        return msgspec.structs.replace(way, when=f"{asked} and ({way.when})" if pick.random() < 0.8 else asked)

    clips = tuple(map(acting, plain.clips))
    if not any(one.kind == "active" for clip in clips for one in clip.phases):
        return plain
    layers = tuple(
        msgspec.structs.replace(layer, transitions=tuple(map(asking, layer.transitions))) for layer in plain.layers
    )
    return msgspec.structs.replace(plain, clips=clips, layers=layers)


def counting_character(seed: int) -> Character:
    """A random character with a countdown that the game gives, for which transitions ask."""
    pick, plain = random.Random(seed), random_character(seed)
    most = pick.choice((1, 2, 3, 4))

    def asking(way: Transition) -> Transition:
        if pick.random() < 0.4:
            return way
        asked = f"stun {pick.choice(SIGNS)} {pick.choice((0, 0, 1, 2, 3))}"
        asked = pick.choice((asked, asked, f"({asked}) for 2 ticks", f"({asked}) within 2 ticks"))
        return msgspec.structs.replace(way, when=f"{asked} and ({way.when})" if pick.random() < 0.5 else asked)

    layers = tuple(
        msgspec.structs.replace(layer, transitions=tuple(map(asking, layer.transitions))) for layer in plain.layers
    )
    stun = Parameter(name="stun", kind="whole", max=most, countdown=True)
    return msgspec.structs.replace(
        plain, layers=layers, parameters=(*plain.parameters[:2], stun, *plain.parameters[2:]), assumptions=()
    )


CONTACT = (
    Parameter(name="struck", kind="pulse"),
    Parameter(name="parried", kind="pulse"),
    Parameter(name="stun", kind="whole", max=6, countdown=True),
    Parameter(name="force", min=0, max=4),
    Parameter(name="landed", kind="pulse"),
    Parameter(name="stopped", kind="pulse"),
    Parameter(name="braced", kind="flag"),
)


def fighting_character(seed: int) -> Character:
    """A random character with phases and boxes, for which contact decides some transitions."""
    pick, plain = random.Random(f"{seed} fights"), acting_character(seed)
    view: Any = pick.choice(("side", "side", "above"))

    def boxed(clip: Clip) -> Clip:
        last, boxes = len(clip.cels) - 1, []
        kinds = ("vulnerable", "strike", *(kind for kind in ("strike", "guard", "vulnerable") if pick.random() < 0.4))
        for at, kind in enumerate(kinds):
            keyed = sorted({pick.randint(0, last), pick.randint(0, last)})
            ends = [
                (pick.randint(-12, 4), pick.randint(-4, 12), pick.randint(4, 30), pick.randint(4, 30)) for _ in keyed
            ]
            keys = tuple(BoxKey(cel=cel, box=tuple(map(float, box))) for cel, box in zip(keyed, ends))
            boxes.append(ActionBox(name=f"b{at}", kind=kind, keys=keys))  # type: ignore[arg-type]
        cels = tuple(
            msgspec.structs.replace(cel, mirrored=pick.random() < 0.3, turns=pick.choice((0, 0, 0, 1, 2, 3)))
            for cel in clip.cels
        )
        strike = Strike(
            stun=pick.randint(0, 6),
            guard_stun=pick.randint(0, 3),
            strength=pick.choice((0.0, 1.5, 9.0)),
            push=pick.choice((0.0, 60.0)),
            freeze=pick.choice((0, 0, 1, 3)),
        )
        phases = tuple(msgspec.structs.replace(one, again=pick.random() < 0.4) for one in clip.phases)
        phases = phases or (Phase(start=0.0, end=pick.choice((1.0, 2.0))),)
        return msgspec.structs.replace(clip, cels=cels, boxes=tuple(boxes), strike=strike, phases=phases)

    def asking(way: Transition) -> Transition:
        way = msgspec.structs.replace(way, restart=way.restart or pick.random() < 0.7)
        if pick.random() < 0.5:
            return way
        asked = pick.choice(
            ("struck", "parried", "stun > 2", "stun = 0", "force > 1", "landed", "stopped", "struck within 2 ticks")
        )
        return msgspec.structs.replace(
            way, when=pick.choice((asked, f"{asked} or ({way.when})", f"{asked} and ({way.when})"))
        )

    layers = tuple(
        msgspec.structs.replace(
            layer,
            states=tuple(
                msgspec.structs.replace(state, clip=state.clip or pick.choice(("swing", "sway")))
                for state in layer.states
            ),
            transitions=tuple(map(asking, layer.transitions)),
        )
        for layer in plain.layers
    )
    guards = pick.choice(("braced", "braced for 2 ticks", f'in "l0"."{layers[0].states[0].name}"', "stun > 0", ""))
    return msgspec.structs.replace(
        plain,
        clips=tuple(map(boxed, plain.clips)),
        layers=layers,
        parameters=(*plain.parameters, *CONTACT),
        assumptions=(),
        sheets=(
            Sheet(
                name="art", image="art.png", size=(64, 16), cut=Cut(columns=4), facing=pick.choice(("right", "left"))
            ),
        ),
        body=Body(model=view),
        contact=ContactRules(
            guards=guards,
            hit="struck",
            guarded="parried",
            stun="stun",
            strength="force",
            lands="landed",
            stopped="stopped",
        ),
    )


def dressing_character(seed: int) -> Character:
    """A random character with costumes, by a choice and by its states, which lack some of its frames."""
    pick, plain = random.Random(f"{seed} dresses"), random_character(seed)

    def stand_in(by: str) -> StandIn:
        others = {str(frame): pick.randint(0, 5) for frame in range(4) if pick.random() < 0.3}
        kept = tuple(frame for frame in range(4) if pick.random() < 0.2)
        return StandIn(sheet="art", by=by, frames=others, original=kept)

    def shown(clip: Clip) -> Clip:
        cels = tuple(msgspec.structs.replace(cel, frame=pick.randint(0, 3)) for cel in clip.cels)
        return msgspec.structs.replace(clip, cels=cels)

    def state(one: State) -> State:
        clip = one.clip or ("" if one.blend or one.held else pick.choice(("swing", "sway")))
        return msgspec.structs.replace(one, clip=clip, costume=pick.choice(("", "", "rags", "coat")))

    sheets = tuple(
        Sheet(name=name, image=f"{name}.png", size=(64, 16), cut=Cut(columns=columns))
        for name, columns in (("art", 4), ("coat", pick.choice((2, 4, 8))), ("rags", 4))
    )
    choice = Parameter(name="wears", kind="choice", choices=("nothing", "coat", "rags"))
    costumes = (
        Costume(name="coat", sheets=(stand_in("coat"),), parameter="wears", value="coat"),
        Costume(name="rags", sheets=(stand_in("rags"),), parameter=pick.choice(("wears", "")), value="rags"),
    )
    layers = tuple(msgspec.structs.replace(layer, states=tuple(map(state, layer.states))) for layer in plain.layers)
    return msgspec.structs.replace(
        plain,
        sheets=sheets,
        clips=tuple(map(shown, plain.clips)),
        layers=layers,
        costumes=costumes,
        parameters=(*plain.parameters, choice),
    )


def moving_character(seed: int) -> Character:
    """A random character with other ways of moving, by a choice and in its states, which replace some of its clips."""
    pick, plain = random.Random(f"{seed} moves"), random_character(seed)
    names = [clip.name for clip in plain.clips]

    def alternate(name: str) -> Alternate:
        parts = (Instead(clip=one, by=pick.choice(names)) for one in names if pick.random() < 0.7)
        return Alternate(name=name, clips=tuple(parts), parameter=pick.choice(("gait", "gait", "")), value=name)

    def state(one: State) -> State:
        clip = one.clip or ("" if one.blend or one.held else pick.choice(names))
        return msgspec.structs.replace(one, clip=clip, alternate=pick.choice(("", "", "", "limp")))

    gait = Parameter(name="gait", kind="choice", choices=("plain", "limp", "sneak"))
    return msgspec.structs.replace(
        plain,
        alternates=(alternate("limp"), alternate("sneak")),
        parameters=(*plain.parameters, gait),
        layers=tuple(msgspec.structs.replace(layer, states=tuple(map(state, layer.states))) for layer in plain.layers),
    )


def pinned_all_over(pick: random.Random, plain: Character) -> Character:
    """A character with pin points on its clips, marks that name them, and accessories pinned to them."""

    def key(cel: int) -> PinKey:
        angle = pick.choice((0.0, 90.0, 270.0, pick.uniform(0.0, 359.9)))
        x, y = pick.choice((0.0, pick.uniform(-40, 40))), float(pick.randint(-5, 60))
        return PinKey(cel=cel, x=x, y=y, angle=angle, behind=pick.random() < 0.3)

    def pin(name: str, cels: int) -> Pin:
        return Pin(name=name, keys=tuple(key(cel) for cel in range(cels) if cel == 0 or pick.random() < 0.6))

    def clip(one: Clip) -> Clip:
        pins = tuple(pin(name, len(one.cels)) for name in ("hand", "mouth", "back") if one.cels and pick.random() < 0.7)
        length = sum(cel.ticks for cel in one.cels)
        beats = (Mark(name="beat", at=pick.choice((0.0, length, pick.uniform(0, length)))) for _ in range(3))
        named = (msgspec.structs.replace(mark, pin=pick.choice(("", "hand", "mouth"))) for mark in (*one.marks, *beats))
        marks = tuple(sorted(named, key=lambda mark: mark.at))
        return msgspec.structs.replace(one, pins=pins, marks=marks)

    names, first = [one.name for one in plain.parameters], plain.layers[0]
    asked = {
        "speed": "speed > 2",
        "hurt": "not hurt",
        "mood": "mood = angry",
        "armed": "armed",
        "wears": "wears = coat",
    }
    conditions = ["", f"in {first.name}.{first.states[0].name}", *(asked[name] for name in names if name in asked)]
    sheets = plain.sheets or (Sheet(name="art", image="art.png", size=(64, 16), cut=Cut(columns=4)),)

    def accessory(number: int) -> Accessory:
        shown = pick.choice(conditions)
        shows: dict[str, Any] = (
            {"clip": pick.choice(plain.clips).name}
            if plain.clips and pick.random() < 0.4
            else {"sheet": sheets[0].name}
        )
        return Accessory(
            name=f"thing{number}",
            pin=pick.choice(("hand", "back", "mouth", "tail")),
            frame=pick.randint(0, 3),
            angle=pick.choice((90.0, 0.0, pick.uniform(0.0, 359.9))),
            order=pick.choice(("pin", "before", "behind")),
            shown=shown,
            **shows,
        )

    return msgspec.structs.replace(
        plain,
        sheets=sheets,
        clips=tuple(map(clip, plain.clips)),
        accessories=tuple(accessory(number) for number in range(pick.randint(1, 4))),
    )


def pulsing_character(seed: int) -> Character:
    """The same, with memories of pulses."""
    return remembering_character(seed, random.Random(-seed))


def remembering_character(seed: int, pulsing: random.Random | None = None) -> Character:
    """A character of one layer, few parameters and many memories of what they were; with ``pulsing`` also of pulses."""
    pick = random.Random(seed)
    numbers = [f"p{at}" for at in range(pick.choice([1, 1, 2]))]
    flags = [f"f{at}" for at in range(pick.choice([1, 2, 2, 3]))]
    parameters = [Parameter(name=name, min=0, max=10, wobble=pick.choice([0.0, 0.1, 1.5])) for name in numbers]
    parameters += [Parameter(name=name, kind="flag", chatters=pick.random() < 0.2) for name in flags]
    pulse = pick.random() < 0.3
    parameters += [Parameter(name="tap", kind="pulse")] * (pulse or pulsing is not None)

    def lasting() -> str:
        if pick.random() < 0.5:
            return f"{pick.choice(numbers)} {pick.choice('<>')} {pick.choice('357')}"
        return ("not " if pick.random() < 0.3 else "") + pick.choice(flags)

    def simple() -> str:
        return "tap" if pulse and pick.random() < 0.15 else lasting()

    def condition() -> str:
        kind = pick.random()
        if kind < 0.4:
            operand = lasting()
            if pulsing is not None and pulsing.random() < 0.6:
                operand = pulsing.choice(["tap", "not tap", "tap", f"tap or {operand}", f"tap and {operand}"])
            kept = f"({operand}) {pick.choice(['for', 'within'])} {pick.choice([1, 2, 2, 3, 4, 6])} ticks"
            return kept + (f" and {simple()}" if pick.random() < 0.6 else "")
        if kind < 0.55:
            return f"{simple()} and stay {pick.choice(['>=', '>=', '<', '='])} {pick.choice([1, 2, 3, 5])} ticks"
        return f"{simple()} and {simple()}" if kind < 0.8 else simple()

    names = [f"s{at}" for at in range(pick.choice([2, 3, 3, 4, 5]))]
    transitions = tuple(
        Transition(
            source=pick.choice(names) if pick.random() < 0.85 else "",
            to=pick.choice(names),
            when=condition(),
            urgent=pick.random() < 0.15,
            restart=pick.random() < 0.15,
        )
        for _ in range(pick.randint(len(names), 3 * len(names)))
    )
    states = tuple(State(name=name, ending=pick.random() < 0.05, restful=pick.random() < 0.1) for name in names)
    return Character(
        name=f"Remembering {seed}",
        rate=60,
        flicker_window=pick.choice([0.034, 0.05, 0.1]),
        parameters=tuple(parameters),
        assumptions=(f"{lasting()} or {pick.choice(flags)}",) if pick.random() < 0.15 else (),
        layers=(Layer(name="base", states=states, transitions=transitions),),
    )
