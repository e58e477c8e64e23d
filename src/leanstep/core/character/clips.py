"""The document's part about frames in time: cels, events, playback, the paths clips travel and the contacts of feet."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import SYMBOL, ChoiceOf, Defines, Names, Within
from leanstep.core.character.instants import LATEST, Easing, Instant
from leanstep.core.character.part import Part, Valued
from leanstep.core.character.pins import Pin
from leanstep.core.character.sheets import BODY_BOX

FARTHEST = 1_000_000.0
"""How far a path may lead, in units."""
GOES_AHEAD, GOES_UP, GOES_THROUGH = 1, 2, 4
"""What a path does to the body, as bits: it goes ahead or back, up or down, and through walls and floors."""
Says = Annotated[
    dict[str, float | bool | str],
    "words for the game: texts, numbers and flags that stand in traces while it happens",
]


class Cel(Part, frozen=True, kw_only=True):
    """One use of a frame."""

    frame: Annotated[int, Within(0), "its number on the sheet"]
    ticks: Annotated[float, Within(0, LATEST, "ticks", open_low=True), "how long it is shown"] = 6.0
    sheet: Annotated[str, Names("sheet", "stays"), "another one than the clip's"] = ""
    mirrored: Annotated[bool, "about the foot"] = False
    turns: Annotated[Literal[0, 1, 2, 3], "quarter turns clockwise, after that"] = 0


class Effect(Valued, frozen=True, kw_only=True):
    """Something that happens at an instant."""

    do: Annotated[
        Literal["set", "add", "raise", "lock", "unlock", "freeze", "mode", "push", "squash", "lean"],
        "`set` or `add` to a parameter of the graph, `raise` a pulse of the graph, `lock` and `unlock` movement under a name, "
        "`freeze` time for `value` ticks, `mode`: the body moves from now on as `name` says (`walk`, `climb`, `float`, `still`), "
        "`push` it once, `squash` or `lean`: the one called `name` begins, without a name the one there is ends",
    ]
    name: Annotated[
        str,
        Names(
            by="do",
            of={
                "set": SYMBOL,
                "add": SYMBOL,
                "raise": SYMBOL,
                "lock": "lock",
                "unlock": "lock",
                "squash": "squash",
                "lean": "lean",
            },
            gone="item",
            empty=True,
        ),
        "what it is about",
    ] = ""
    value: Annotated[
        float | bool | str,
        ChoiceOf("name", "item"),
        "to or by what, for how many ticks, or along the facing in units a second",
    ] = True
    up: Annotated[float, "of a push, in units a second"] = 0.0


class Mark(Valued, frozen=True, kw_only=True):
    """An event of a clip at an instant; several may share a name, at different times."""

    name: Annotated[str, Defines("mark"), "what a game hears"]
    at: Annotated[Instant, "ticks from the clip's start"] = 0.0
    effects: Annotated[tuple[Effect, ...], "what happens then"] = ()
    says: Says = {}
    pin: Annotated[str, Names("pin"), "the pin point of the clip at which it fires, which the game is told"] = ""


class Span(Valued, frozen=True, kw_only=True):
    """A window of a clip, from in to out."""

    name: Annotated[str, Defines("span"), "how conditions name it"]
    start: Annotated[Instant, "ticks from the clip's start, in"] = 0.0
    end: Annotated[Instant, "ticks, out; after `start`"] = 1.0
    hold: Annotated[str, Names(SYMBOL), "a flag of the graph that is on meanwhile"] = ""
    lock: Annotated[bool, "movement is locked meanwhile"] = False
    says: Says = {}


PhaseKind = Literal["startup", "active", "recovery"]
PHASES: tuple[PhaseKind, ...] = ("startup", "active", "recovery")


class Phase(Valued, frozen=True, kw_only=True):
    """A stretch of an action: before it can hit, while it can, and after.

    What lies before the first active one is startup, and what is said of no other time is recovery.
    """

    kind: Annotated[PhaseKind, "what it is"] = "active"
    start: Annotated[Instant, "ticks from the clip's start, in"] = 0.0
    end: Annotated[Instant, "ticks, out; after `start`"] = 1.0
    again: Annotated[bool, "of an active one: whom an earlier one has hit it hits again"] = False


BoxKind = Literal["strike", "vulnerable", "guard"]


class BoxKey(Valued, frozen=True, kw_only=True):
    """Where a box lies on a cel."""

    cel: Annotated[int, Within(0), "the cel, counted from 0"] = 0
    box: Annotated[
        tuple[float, ...], BODY_BOX, "in pixels of the image from the frame's foot, as it is drawn; up is positive"
    ] = (
        0.0,
        0.0,
        16.0,
        16.0,
    )


class ActionBox(Valued, frozen=True, kw_only=True):
    """A box that hits, can be hit, or shows how far a guard reaches.

    It is there from its first key to its last, and between two it goes evenly from cel to cel.
    """

    name: Annotated[str, "what it is called; one of a name in a clip"]
    kind: Annotated[BoxKind, "it hits, it can be hit, or who guards within it is not hit"] = "strike"
    keys: Annotated[tuple[BoxKey, ...], "in the order of cels"] = ()


class Strike(Part, frozen=True, kw_only=True):
    """What an action does to whom it hits."""

    stun: Annotated[int, Within(0, LATEST, "ticks"), "for how many ticks a figure that is hit can do nothing"] = 0
    guard_stun: Annotated[int, Within(0, LATEST, "ticks"), "the same for one that guards"] = 0
    strength: Annotated[float, Within(0, FARTHEST), "how strong it is, for the game"] = 0.0
    push: Annotated[float, Within(0, FARTHEST, "units a second"), "how fast it pushes whom it touches away"] = 0.0
    freeze: Annotated[
        int, Within(0, LATEST, "ticks"), "for how long time stands for both, from the tick after contact on"
    ] = 0


class Playback(Part, frozen=True, kw_only=True):
    """A clip's playback rate bound to a parameter: value / ``at``, kept between ``min`` and ``max``."""

    parameter: Annotated[str, Names(SYMBOL, "part"), "what it is bound to"]
    at: Annotated[float, Within(0, open_low=True), "the value at which the clip plays as it is written"] = 1.0
    min: Annotated[float, Within(0, 1000, "times"), "least rate"] = 0.25
    max: Annotated[float, Within(0, 1000, "times"), "largest rate"] = 4.0
    resting: Annotated[Cel | None, "shown while the rate is 0 (so `min` must be 0)"] = None


class Key(Part, frozen=True, kw_only=True):
    """Where a path is at an instant."""

    at: Annotated[Instant, "ticks from the clip's start"]
    x: Annotated[float, Within(-FARTHEST, FARTHEST, "units"), "units ahead of where it began, in the facing"] = 0.0
    y: Annotated[float, Within(-FARTHEST, FARTHEST, "units"), "units above it"] = 0.0
    ease: Annotated[
        Easing, "how it is gone to from the key before: evenly, speeding up (`in`), slowing down (`out`) or both"
    ] = "even"


class Travel(Part, frozen=True, kw_only=True):
    """A displacement keyed over a clip; before its first key a path is where it begins, after the last one it stays."""

    keys: Annotated[tuple[Key, ...], "in the order of time"] = ()
    moves: Annotated[
        Literal["body", "drawing"],
        "the body goes this way in place of its own, in each direction the path has, or only the drawing does",
    ] = "body"
    through: Annotated[bool, "walls and floors, or stopped by them"] = False
    scale_x: Annotated[float, Within(0, open_low=True), "stretches the path"] = 1.0
    scale_y: Annotated[float, Within(0, open_low=True), "stretches the path"] = 1.0


class Contact(Part, frozen=True, kw_only=True):
    """A foot on the ground."""

    start: Annotated[Instant, "ticks from the clip's start"]
    end: Annotated[Instant, "ticks, after `start`"]
    x: Annotated[float, "units ahead of the foot point at first, in the drawings"]
    to: Annotated[float, "the same at last"]


Shared = Literal["timing", "marks", "spans", "phases", "boxes"]
SHARED: tuple[Shared, ...] = ("timing", "marks", "spans", "phases", "boxes")


class Clip(Part, frozen=True, kw_only=True):
    """Frames in time."""

    name: Annotated[str, Defines("clip"), "how states and blend spaces name it"]
    sheet: Annotated[
        str, Names("sheet", "stays"), "of its cels; left out, by its cels, too: it has times and no drawings yet"
    ] = ""
    box: Annotated[tuple[float, ...], BODY_BOX, "a body box for all of it, but for frames with one of their own"] = ()
    facing: Annotated[Literal["", "right", "left"], "where its drawings do not look as their sheet says"] = ""
    loop: Annotated[
        Literal["once", "once-and-gone", "repeat", "there-and-back"],
        "the last cel stays, nothing is shown after it, it starts over from `repeat_from`, or it turns round",
    ] = "repeat"
    repeat_from: Annotated[int, Within(0), "the cel from which it starts over; what comes before is played once"] = 0
    playback: Annotated[Playback | None, "its rate, bound to a parameter"] = None
    cels: Annotated[tuple[Cel, ...], "the frames it shows"] = ()
    marks: Annotated[tuple[Mark, ...], "its instants"] = ()
    spans: Annotated[tuple[Span, ...], "its windows"] = ()
    phases: Annotated[tuple[Phase, ...], "startup, active and recovery, which do not overlap"] = ()
    strike: Annotated[Strike | None, "what it does to whom it hits"] = None
    boxes: Annotated[tuple[ActionBox, ...], "what of it hits and can be hit"] = ()
    pins: Annotated[tuple[Pin, ...], "its named spots"] = ()
    travel: Annotated[Travel | None, "the path it goes"] = None
    contacts: Annotated[tuple[Contact, ...], "its feet on the ground"] = ()
    family: Annotated[
        str,
        "clips of one family are one movement drawn several times: an edit of the times of its cels, of marks, spans, phases, or of "
        "the cels on which boxes lie is one of all of them",
    ] = ""
    own: Annotated[tuple[Shared, ...], "what of that is its own"] = ()

    @property
    def undrawn(self) -> bool:
        """Whether it has times but no drawings yet."""
        return bool(self.cels) and not any(map(self.sheet_of, self.cels))

    def sheet_of(self, cel: Cel) -> str:
        """The name of the sheet one of its cels shows a frame of."""
        return cel.sheet or self.sheet

    def frames_of(self, sheet: str) -> set[int]:
        """The frames of a sheet that it shows."""
        resting = (self.playback.resting,) if self.playback is not None and self.playback.resting is not None else ()
        return {cel.frame for cel in (*self.cels, *resting) if self.sheet_of(cel) == sheet}
