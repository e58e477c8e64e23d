"""The document: a character as frozen structs.

Every struct keeps what it does not know in ``extra`` (field name → raw JSON value), so that a file written by a newer
program passes through unharmed.  Defaults are the values a field has when the file leaves it out.
"""

from __future__ import annotations

from typing import Literal

from leanstep.core.bearings import MOST
from leanstep.core.character.motion import Contact, Lean, Squash, Travel
from leanstep.core.character.part import Part, Valued

FORMAT = 1
"""The number under ``"leanstep"`` that this program writes."""

NUMBER_MIN, NUMBER_MAX = -1_000_000.0, 1_000_000.0


class Parameter(Valued, frozen=True, kw_only=True):
    """A named value that conditions read.

    ``min`` and ``max`` bound numbers and wholes; ``wobble`` is the total width by which the value shakes by itself
    (None: one percent of the range for numbers and bearings, nothing for others); a flag that ``chatters`` goes on and off by
    itself.  A ``bearing`` is a direction in degrees, 0 is up and 90 right; it has no range.
    ``owner`` says who sets it: a ``graph`` parameter starts at ``start`` and changes only by effects, a ``formula`` one is
    computed by ``formula``.  ``rest`` is the value it comes to rest at, where that is not the usual one.  ``once_per``: a
    pulse comes at most once in so many seconds; ``per_second``: a number changes at most by so much in a second.
    """

    name: str
    kind: Literal["number", "whole", "bearing", "flag", "choice", "pulse"] = "number"
    owner: Literal["game", "controls", "body", "graph", "formula"] = "game"
    min: float | None = None
    max: float | None = None
    unit: str = ""
    choices: tuple[str, ...] = ()
    rest: float | bool | str | None = None
    start: float | bool | str | None = None
    formula: str = ""
    wobble: float | None = None
    chatters: bool = False
    once_per: float | None = None
    per_second: float | None = None
    note: str = ""

    @property
    def low(self) -> float:
        """Smallest value, in the parameter's unit."""
        if self.kind == "bearing":
            return 0.0
        return NUMBER_MIN if self.min is None else float(self.min)

    @property
    def high(self) -> float:
        """Largest value, in the parameter's unit."""
        if self.kind == "bearing":
            return MOST
        return NUMBER_MAX if self.max is None else float(self.max)


class Button(Part, frozen=True, kw_only=True):
    """A named button, the keyboard keys that hold it (``Space``, ``Z``, ``Left`` …), and the buttons of a game controller that do
    (``south``, ``left-shoulder`` …; none: the next one in order).  A press should show ``within`` so many seconds (0: it may take its
    time)."""

    name: str
    keys: tuple[str, ...] = ()
    pad: tuple[str, ...] = ()
    within: float = 0.0


STICK_PARTS = ("x", "y", "push", "bearing")
"""What a stick says, behind its name and a dot."""


class Stick(Part, frozen=True, kw_only=True):
    """A stick with two axes, NAME.x and NAME.y, each from -1 to 1; up and right are positive.  NAME.push, from 0 to 1, and the
    bearing NAME.bearing follow from them.

    ``pad`` is the stick of a game controller that pushes it (left out: the next one in order); a push up to ``dead_zone``, a share,
    is none.  Pushes are rounded to so many ways (``rounding``, 0: not).  When one of two held ways is let go, the diagonal is kept
    for ``release`` seconds, and for good if the other follows within them.
    """

    name: str
    left: tuple[str, ...] = ()
    right: tuple[str, ...] = ()
    down: tuple[str, ...] = ()
    up: tuple[str, ...] = ()
    opposite: Literal["last", "first", "cancel"] = "last"
    pad: Literal["", "left", "right"] = ""
    dead_zone: float = 0.15
    rounding: Literal[0, 4, 8] = 0
    release: float = 0.05

    @property
    def values(self) -> tuple[str, ...]:
        """The names of what it says."""
        return tuple(f"{self.name}.{part}" for part in STICK_PARTS)


class Controls(Part, frozen=True, kw_only=True):
    """The buttons and sticks a player has."""

    sticks: tuple[Stick, ...] = ()
    buttons: tuple[Button, ...] = ()


Pair = int | tuple[int, ...]
"""Pixels: one number for both directions, or (x, y)."""


class Cut(Part, frozen=True, kw_only=True):
    """How frames are made from a sheet's image, all in pixels of the image.

    ``count``: ``columns`` × ``rows``.  ``size``: cells of ``width`` × ``height`` inside ``margin`` (left and top), ``gap``
    apart, as many as fit or at most ``columns`` × ``rows``; what is left over stays unused.  ``rects``: the frames are
    ``rects``, each (x, y, width, height), in this order.  ``cells``: rectangles that stand in for single cells of a grid, by
    number.  ``columns`` and ``rows`` are 0 when nothing is said: one, or as many as fit.
    """

    way: Literal["count", "size", "rects"] = "count"
    columns: int = 0
    rows: int = 0
    width: int = 0
    height: int = 0
    margin: Pair = 0
    gap: Pair = 0
    rects: tuple[tuple[int, ...], ...] = ()
    cells: dict[str, tuple[int, ...]] = {}

    @property
    def counts(self) -> tuple[int, int]:
        """Columns and rows of a cut by count."""
        return max(1, self.columns), max(1, self.rows)


def both(pair: Pair) -> tuple[int, int]:
    """A number of pixels in x and y."""
    return (pair, pair) if isinstance(pair, int) else (pair[0], pair[1])


class Ground(Part, frozen=True, kw_only=True):
    """A colour around the drawings that is made transparent, as ``#rrggbb``, from the image's borders inwards.

    ``tolerance`` is by how much (largest channel, 0 to 255) a pixel may differ; ``holes`` are pixels (x, y) of places inside
    drawings that are cleared, too.
    """

    colour: str
    tolerance: int = 0
    holes: tuple[tuple[int, ...], ...] = ()


class Scale(Part, frozen=True, kw_only=True):
    """The size at which frames are shown: ``by`` times as large as they are drawn, or so that the figure usually stands
    ``height`` pixels above its foot; ``stretch`` times as wide as that.  Every pixel is repeated, or the picture is made ``smooth``.
    """

    by: float = 1.0
    height: float = 0.0
    stretch: float = 1.0
    smooth: bool = False


class Sheet(Part, frozen=True, kw_only=True):
    """An image and how it is cut.  ``size`` is the image's width and height in pixels when it was cut.

    With ``images`` the sheet is made of several single images: ``image`` and these, laid out in rows, as are the pictures of
    a moving image.
    ``ground`` is what is made transparent first.  ``foot`` is the foot point inside every cell, in pixels from its top left
    corner; left out, ``foot_rule`` finds it: ``row``, one point for each row from what its frames share; ``drawing``, the
    bottom centre of the drawn pixels; ``solid``, that of the lowest run of them; ``cell``, that of the cell; ``centre``, the
    cell's centre.  ``feet`` are points of single frames, by number.  ``box`` is the body box of every frame, (left, bottom, width,
    height) in pixels of the image from the frame's foot, up is positive; left out, ``box_rule`` finds it with ``box_margin``
    pixels around: ``drawing``, that of each drawing; ``row``, one for each row, where the edges of its drawings usually are;
    ``none``.  ``boxes`` are those of single frames, by number.  ``facing`` says which way the drawings look, ``row_facing`` of
    single rows, by number from 0; ``row_bearing`` which direction single rows show, in degrees, 0 is up; one that does not
    allow ``mirrors`` has drawings of its own for both ways.
    """

    name: str
    image: str = ""
    images: tuple[str, ...] = ()
    size: tuple[int, ...] = ()
    ground: Ground | None = None
    cut: Cut = Cut()
    foot: tuple[float, ...] = ()
    foot_rule: Literal["row", "drawing", "solid", "cell", "centre"] = "row"
    feet: dict[str, tuple[float, ...]] = {}
    scale: Scale | None = None
    box: tuple[float, ...] = ()
    box_rule: Literal["none", "drawing", "row"] = "none"
    box_margin: float = 0.0
    boxes: dict[str, tuple[float, ...]] = {}
    facing: Literal["right", "left"] = "right"
    row_facing: dict[str, Literal["right", "left"]] = {}
    row_bearing: dict[str, float] = {}
    mirrors: bool = True

    @property
    def all_images(self) -> tuple[str, ...]:
        """The names of all its images."""
        return (self.image, *self.images)


class Cel(Part, frozen=True, kw_only=True):
    """One use of a frame: its number on the sheet and how long it is shown, in ticks.

    ``sheet`` is another one than the clip's; ``mirrored`` about the foot, then turned clockwise by so many quarter ``turns``.
    """

    frame: int
    ticks: float = 6.0
    sheet: str = ""
    mirrored: bool = False
    turns: Literal[0, 1, 2, 3] = 0


class Effect(Valued, frozen=True, kw_only=True):
    """Something that happens at an instant.

    ``set`` and ``add`` change the graph parameter ``name`` to or by ``value``; ``raise`` makes a pulse of the graph true;
    ``lock`` and ``unlock`` hold and free movement under the name ``name``; ``freeze`` stops time for ``value`` ticks.  ``mode``: the
    body moves from now on as ``name`` says (``walk``, ``climb``, ``float``, ``still``); ``push``: it is pushed once, by ``value``
    units a second along its facing and ``up`` upwards.  ``squash`` and ``lean`` begin the one called ``name`` (none: the one there
    is ends), which is drawn only.
    """

    do: Literal["set", "add", "raise", "lock", "unlock", "freeze", "mode", "push", "squash", "lean"]
    name: str = ""
    value: float | bool | str = True
    up: float = 0.0


class Mark(Valued, frozen=True, kw_only=True):
    """An event of a clip at the instant ``at``, in ticks from its start.  ``says`` are words for the game."""

    name: str
    at: float = 0.0
    effects: tuple[Effect, ...] = ()
    says: dict[str, float | bool | str] = {}


class Span(Valued, frozen=True, kw_only=True):
    """A window of a clip, from ``start`` (in) to ``end`` (out), in ticks.

    While it is on, the graph flag ``hold`` is on, and with ``lock`` movement is locked.  ``says`` are words for the game.
    """

    name: str
    start: float = 0.0
    end: float = 1.0
    hold: str = ""
    lock: bool = False
    says: dict[str, float | bool | str] = {}


class Playback(Part, frozen=True, kw_only=True):
    """A clip's playback rate bound to a parameter: value / ``at``, kept between ``min`` and ``max``.

    At the value ``at`` the clip plays as it is written.  ``resting`` is shown instead of it while the rate is 0.
    """

    parameter: str
    at: float = 1.0
    min: float = 0.25
    max: float = 4.0
    resting: Cel | None = None


class Clip(Part, frozen=True, kw_only=True):
    """Frames in time.  ``loop``: ``once`` stops on the last cel, ``once-and-gone`` shows nothing after it, ``repeat`` starts over
    from the cel ``repeat_from``, ``there-and-back`` turns round.

    ``facing`` says which way the drawings look, where that is not what their sheet says; ``box`` is a body box for all of it,
    as of a sheet, but for frames with one of their own.  ``travel`` is the path it goes, ``contacts`` are its feet on the ground.
    """

    name: str
    sheet: str = ""
    box: tuple[float, ...] = ()
    facing: Literal["", "right", "left"] = ""
    loop: Literal["once", "once-and-gone", "repeat", "there-and-back"] = "repeat"
    repeat_from: int = 0
    playback: Playback | None = None
    cels: tuple[Cel, ...] = ()
    marks: tuple[Mark, ...] = ()
    spans: tuple[Span, ...] = ()
    travel: Travel | None = None
    contacts: tuple[Contact, ...] = ()

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


class Axis(Part, frozen=True, kw_only=True):
    """One axis of a blend space: the parameter it reads and the range it spans, in the parameter's unit (left out, from 0 to 1);
    a bearing's range is the whole circle.

    ``step`` is its ruling, by which samples are caught, and its unit of distance; left out, a quarter of the range, or 45
    degrees.
    """

    parameter: str
    min: float | None = None
    max: float | None = None
    step: float | None = None

    @property
    def low(self) -> float:
        """Where it begins."""
        return 0.0 if self.min is None else float(self.min)

    @property
    def high(self) -> float:
        """Where it ends."""
        return 1.0 if self.max is None else float(self.max)

    @property
    def ruling(self) -> float:
        """The unit of distance of one that is no bearing's, in the parameter's unit."""
        return (self.high - self.low) / 4 if self.step is None else float(self.step)


ANY: Literal["any"] = "any"
"""The place of a sample on an axis that does not matter for it."""


class Sample(Part, frozen=True, kw_only=True):
    """A clip placed in a blend space; ``at`` has one number per axis, or ``any`` for one that does not matter.  ``mirrored``: it
    is shown the other way round; ``phase`` is the share of its length at which its cycle begins, from 0 to below 1."""

    at: tuple[float | Literal["any"], ...]
    clip: str
    phase: float = 0.0
    mirrored: bool = False


class BlendSpace(Part, frozen=True, kw_only=True):
    """Clips arranged along one or two axes; the nearest one is picked.  With ``sticky`` borders a picked one stays until another is
    nearer by so many rulings."""

    name: str
    sticky: float = 0.0
    axes: tuple[Axis, ...] = ()
    samples: tuple[Sample, ...] = ()


class State(Part, frozen=True, kw_only=True):
    """What the character is doing, and what shows it: a clip, a blend space or one ``held`` frame, which is over after its
    ticks.  While it is ``clear``, the layers below are seen behind what it shows.

    ``hold_still`` locks movement while the state is active; ``restful`` and ``ending`` declare where a character may
    stay for good.  ``expects`` is a condition that should hold while it is shown, but for ``grace`` seconds; ``backward``
    allows the body to move against the facing.  With ``face``, seen from above, the figure turns to the wall it touches, by so many
    degrees a second.

    It may ask more of the body while it is active: to move in a ``mode``, no faster than ``cap``, to fall no faster than
    ``fall_cap``, in a body box of ``box`` (width and height, seen from above width and depth); and once, when it is
    entered, a ``push`` along the facing and up, in units a second.
    ``squash`` begins when it is entered, ``lean`` holds while it is active; both are drawn only.
    """

    name: str
    lane: str = ""
    clip: str = ""
    blend: str = ""
    held: Cel | None = None
    clear: bool = False
    restful: bool = False
    ending: bool = False
    hold_still: bool = False
    backward: bool = False
    face: float = 0.0
    mode: Literal["", "walk", "climb", "float", "still"] = ""
    cap: float | None = None
    fall_cap: float | None = None
    box: tuple[float, ...] = ()
    push: tuple[float, ...] = ()
    squash: str = ""
    lean: str = ""
    expects: str = ""
    grace: float = 0.1
    on_entry: tuple[Effect, ...] = ()
    on_leave: tuple[Effect, ...] = ()
    note: str = ""


class Transition(Part, frozen=True, kw_only=True, rename={"source": "from"}):
    """A way to the state ``to``: from a state, from every state of a lane, or (neither given) from the whole graph.

    ``fade`` is a crossfade in seconds; one that is not ``interruptible`` lets no other transition through while it runs.
    With ``keep_phase`` the new clip goes on where the old one was, as a share of its length.  ``squash`` begins when it is taken,
    and ``lean`` holds until the next.  One that is ``ordered`` was put on purpose where it is tried among the others.
    """

    source: str = ""
    from_lane: str = ""
    to: str = ""
    when: str = ""
    urgent: bool = False
    restart: bool = False
    fade: float = 0.0
    interruptible: bool = True
    keep_phase: bool = False
    squash: str = ""
    lean: str = ""
    ordered: bool = False
    note: str = ""


class Layer(Part, frozen=True, kw_only=True):
    """A graph of states.  Left out, ``start`` is the first state and ``lanes`` are those the states name.  Of a ``clear`` layer
    every state is."""

    name: str
    clear: bool = False
    start: str = ""
    lanes: tuple[str, ...] = ()
    states: tuple[State, ...] = ()
    transitions: tuple[Transition, ...] = ()

    @property
    def start_name(self) -> str:
        """The start state's name."""
        return self.start or (self.states[0].name if self.states else "")

    @property
    def lane_names(self) -> tuple[str, ...]:
        """Lanes in order: the declared ones, then those only states name."""
        return tuple(dict.fromkeys((*self.lanes, *(state.lane for state in self.states))))


class Body(Part, frozen=True, kw_only=True):
    """How the figure moves, seen from the side or from above.  Lengths in units, times in seconds; up is positive.

    ``stick``, ``jump`` and ``run`` name the controls that steer it.  ``jump_cut`` is the share of the upward speed kept
    when the jump button is let go early; ``air_control`` the share of acceleration available in the air.

    Seen from above it goes ``free``, in ``eight`` or ``four`` ways, or by whole cells of a ``square`` of ``cell`` units;
    ``depth`` is how far its foot reaches up and down.  The figure turns by at most ``turn_rate`` degrees a second (0: at once).
    ``along`` is the share by which it goes where it looks instead of where the stick points, reached over ``along_after``
    seconds of pushing after ``along_wait``, and given back ``along_back`` times as fast.  ``aim`` names a second stick or a
    bearing along which it looks, while that is pushed, or while the button ``aim_held`` is held; without ``aim`` that button
    keeps it looking where it does.

    Seen from the side it walks on slopes of up to ``slope`` degrees, and the figure ``tilts`` with them or not; it turns round
    after the stick has asked for it for ``turn_time`` seconds.  It still jumps when the press comes
    up to ``jump_grace`` seconds after it left the ground, or up to ``jump_buffer`` seconds before it is there.
    """

    model: Literal["side", "above"] = "side"
    ways: Literal["free", "eight", "four", "square"] = "eight"
    stick: str = "stick"
    jump: str = "jump"
    run: str = "run"
    width: float = 20.0
    height: float = 52.0
    walk_speed: float = 70.0
    run_speed: float = 165.0
    acceleration: float = 600.0
    braking: float = 900.0
    air_control: float = 0.6
    gravity_up: float = 900.0
    gravity_down: float = 1300.0
    fall_speed: float = 520.0
    jump_speed: float = 330.0
    jump_cut: float = 0.45
    jump_grace: float = 0.0
    jump_buffer: float = 0.0
    climb_speed: float = 60.0
    depth: float = 12.0
    cell: float = 32.0
    turn_rate: float = 0.0
    along: float = 0.0
    along_after: float = 0.0
    along_wait: float = 0.0
    along_back: float = 1.0
    aim: str = ""
    aim_held: str = ""
    slope: float = 45.0
    tilts: bool = False
    turn_time: float = 0.0


class Shape(Part, frozen=True, kw_only=True):
    """A rectangle of the course: left and bottom edge, width and height, in units.  Seen from above a ``floor`` is a wall, ``tall`` is
    how high it stands for whoever jumps (None: too high).  A ``slope`` is what lies below
    its diagonal, which ``rises`` to one side."""

    kind: Literal["floor", "ladder", "zone", "slope"] = "floor"
    rises: Literal["right", "left"] = "right"
    x: float = 0.0
    y: float = 0.0
    width: float = 100.0
    height: float = 20.0
    tall: float | None = None
    name: str = ""


class Course(Part, frozen=True, kw_only=True):
    """What the figure moves on.  ``start`` is where its foot is set down, in units."""

    start: tuple[float, ...] = (0.0, 0.0)
    shapes: tuple[Shape, ...] = ()


class Change(Valued, frozen=True, kw_only=True):
    """From tick ``at`` on, the named values hold (pulses: on that tick only)."""

    at: int
    set: dict[str, float | bool | str]


class Expectation(Part, frozen=True, kw_only=True):
    """What a take should do: ``end-in`` a state, ``enter`` it, ``never-enter`` it, or fire a ``mark`` ``times`` times or more.

    ``within`` is the time it has, in seconds from the take's start (None: the whole take).
    """

    what: Literal["end-in", "enter", "never-enter", "mark"]
    name: str
    layer: str = ""
    times: int = 1
    within: float | None = None


class Standing(Part, frozen=True, kw_only=True):
    """Where a layer is when a take begins: its state with stay (ticks), playhead (1/65536 tick), pick, and whether its clip is
    over; ``fading``, the state left by a crossfade under way, with its pick, playhead, the ticks left, and 1 if it blocks."""

    layer: str
    state: str
    stay: int = 0
    playhead: int = 0
    pick: int = 0
    over: bool = False
    fading: str = ""
    fade: tuple[int, ...] = ()


class Given(Valued, frozen=True, kw_only=True):
    """Something that has a value when a take begins."""

    name: str
    value: float | bool | str


class Left(Part, frozen=True, kw_only=True):
    """A state that was left so many ticks before a take begins."""

    layer: str
    state: str
    ticks: int


class Beginning(Valued, frozen=True, kw_only=True):
    """The situation a take begins in, where it is not the character's start.

    ``values`` of graph and body; ``presses`` not used yet, with their age in ticks; ``left`` are states whose leaving is asked
    for; ``memories`` count by a key of what they remember; ``held`` are buttons, ``raised`` pulses of the graph, ``locks`` names;
    ``locked``: movement was locked on the tick before; ``freeze`` in ticks; ``body`` is where it is and how it moves, by name.
    """

    layers: tuple[Standing, ...] = ()
    values: tuple[Given, ...] = ()
    presses: tuple[Given, ...] = ()
    left: tuple[Left, ...] = ()
    memories: dict[str, int] = {}
    held: tuple[str, ...] = ()
    raised: tuple[str, ...] = ()
    locks: tuple[str, ...] = ()
    locked: bool = False
    freeze: int = 0
    body: dict[str, float | bool] = {}


class Take(Part, frozen=True, kw_only=True):
    """An input sequence of ``ticks`` ticks.  In the world ``free`` it also says what the body would have set.  ``begins``: it
    starts in the middle."""

    name: str
    ticks: int
    world: Literal["body", "free"] = "body"
    begins: Beginning | None = None
    changes: tuple[Change, ...] = ()
    expects: tuple[Expectation, ...] = ()
    note: str = ""


class Muted(Part, frozen=True, kw_only=True):
    """A finding that is not to be told again: its ``id``, what it is ``about``
    (:func:`leanstep.core.naming.subjects.about`), and the ``reason``."""

    id: str
    about: str = ""
    reason: str = ""


class Pattern(Part, frozen=True, kw_only=True):
    """What a character is as a pattern, from which states are put into others.

    ``says`` what it does; ``bodies`` are the models of the body it is for (none: its own).  States in ``joins`` are used where the
    other character has them, and not brought.
    """

    says: str = ""
    bodies: tuple[Literal["side", "above"], ...] = ()
    joins: tuple[str, ...] = ()


class Character(Part, frozen=True, kw_only=True):
    """Everything about one figure.  ``rate`` in ticks a second, ``flicker_window`` in seconds; ``muted`` findings are told
    apart from the others."""

    leanstep: int = FORMAT
    name: str = "Untitled"
    rate: float = 60.0
    flicker_window: float = 0.1
    parameters: tuple[Parameter, ...] = ()
    assumptions: tuple[str, ...] = ()
    controls: Controls = Controls()
    sheets: tuple[Sheet, ...] = ()
    clips: tuple[Clip, ...] = ()
    blends: tuple[BlendSpace, ...] = ()
    layers: tuple[Layer, ...] = ()
    body: Body = Body()
    course: Course = Course()
    squashes: tuple[Squash, ...] = ()
    leans: tuple[Lean, ...] = ()
    takes: tuple[Take, ...] = ()
    muted: tuple[Muted, ...] = ()
    pattern: Pattern | None = None

    @property
    def bearings(self) -> frozenset[str]:
        """The names of everything that is a direction."""
        return frozenset(
            [one.name for one in self.parameters if one.kind == "bearing"]
            + [f"{stick.name}.bearing" for stick in self.controls.sticks]
        )
