"""Every kind of finding there is: what it is called, how bad it is, what it says, and what it is about.

From here follow the rules of SARIF, the index in the documentation, and what a check may say at all.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Rule:
    """A kind of finding: its id, the severities it may have (the usual one first), a title, a paragraph of help, and what of its facts
    says which one it is (``about``): all others may change, and it is the same finding.

    ``stands`` says what is left of it where something cannot be followed exactly: it ``always`` stands; its take shows it
    (``shown``), or does where takes tell all that conditions say (``told``); else nothing."""

    id: str
    severities: tuple[str, ...]
    title: str
    help: str
    about: tuple[str, ...]
    stands: Literal["", "always", "shown", "told"] = ""

    @property
    def severity(self) -> str:
        """The usual severity."""
        return self.severities[0]


_STATE, _STATES, _WAY = ("layer", "state"), ("layer", "state", "states"), ("layer", "transition")
_E, _W, _N = ("error",), ("warning",), ("note",)

_ALL = (
    Rule(
        "state.unreachable",
        _E,
        "A state can never be entered",
        "No sequence of values, however long, enters it.",
        _STATE,
        stands="always",
    ),
    Rule(
        "state.unreached",
        _W,
        "Playing did not enter a state",
        "It can be entered where all values may jump, and playing with a body did not come to it; where playing came nearest is said.",
        _STATE,
    ),
    Rule(
        "state.dead-end",
        _E,
        "Once there, no way leads out",
        "A set of states that can be entered but not left, with no declared ending in it. Add a way out, or declare an ending.",
        _STATES,
    ),
    Rule(
        "state.trap",
        _E,
        "A state can become a trap",
        "It can be left, but there is a situation in it from which it never can be again.",
        _STATE,
    ),
    Rule(
        "state.no-rest",
        _W,
        "Left alone, it does not come to rest",
        "From some situation, with everything going to its rest value, the layer neither enters a restful state nor stays in one.",
        _STATES,
    ),
    Rule(
        "transition.never",
        _W,
        "A transition is never taken",
        "Its condition is false in every reachable situation in which it is tried, or it is never tried at all.",
        _WAY,
        stands="always",
    ),
    Rule(
        "transition.shadowed",
        _W,
        "Another transition always comes first",
        "Its condition is true at times, but whenever it is, another one is tried first and taken.",
        _WAY,
    ),
    Rule(
        "transition.unreached",
        _W,
        "Playing did not take a transition",
        "It can be taken where all values may jump, and playing with a body did not take it.",
        _WAY,
    ),
    Rule(
        "order.decides",
        _N,
        "Only their order decides",
        "Two ordinary transitions can be true together and lead to different states; the one tried first wins. Put one earlier or "
        "later by hand if that is meant.",
        _WAY,
        stands="told",
    ),
    Rule(
        "flicker.steady",
        _E,
        "States flicker while nothing changes",
        "With constant values the layer goes round a cycle of states in which every stay is within the flicker window.",
        ("layer", "states"),
        stands="shown",
    ),
    Rule(
        "flicker.restart",
        _E,
        "A state restarts itself for ever",
        "With constant values it is entered anew within the flicker window, so that its clip never gets on.",
        _STATE,
        stands="shown",
    ),
    Rule(
        "flicker.wobble",
        _W,
        "States flicker while one value wobbles",
        "Two states give way to each other for ever while one value moves inside its wobble and the rest stays.",
        ("layer", "states", "parameter"),
        stands="shown",
    ),
    Rule(
        "fade.dissolves",
        _N,
        "A fade onto a drawn picture",
        "Sprites have no poses between them, so one dissolves into the other.",
        _WAY,
    ),
    Rule(
        "flicker.pick",
        _N,
        "The pick of a blend space flickers",
        "While one value moves inside its wobble and the rest stays, the pick changes and changes back.",
        ("layer", "state", "blend"),
        stands="shown",
    ),
    Rule("blend.gap", _N, "A gap in a blend space", "A value lies more than a ruling from every sample.", ("blend",)),
    Rule(
        "blend.standing",
        _N,
        "A direction to walk in and not to stand in",
        "A figure that stops there turns to another direction.",
        ("blend",),
    ),
    Rule(
        "blend.coincident",
        _N,
        "Two samples on one place",
        "The first listed of them is always picked.",
        ("blend",),
    ),
    Rule(
        "sample.unpicked",
        _N,
        "A sample is never picked",
        "No value its parameters can have is nearest to it.",
        ("blend",),
    ),
    Rule(
        "blend.mirrored",
        _N,
        "Mirrored against its sheet",
        "A sample is mirrored whose sheet has drawings of its own for both ways.",
        ("blend", "sheet"),
    ),
    Rule(
        "blend.phase",
        _N,
        "Neighbours out of step",
        "Two neighbouring samples differ in length, or in the share of a mark both have: the foot jumps when the pick changes.",
        ("blend", "mark"),
    ),
    Rule(
        "blend.travel",
        _N,
        "Clips of one blend space travel differently",
        "Their speeds differ by more than half, so that the figure jerks when the pick changes.",
        ("blend",),
    ),
    Rule(
        "take.fragile",
        _N,
        "A take works only as it is",
        "It no longer does what it expects at another rate, or with a change up to three ticks earlier or later.",
        ("take",),
    ),
    Rule(
        "flash",
        ("warning", "note"),
        "A state only flashes by",
        "It is entered and, with that tick's values kept, left again within the flicker window by an ordinary transition. A note "
        "where no body was seen to let the values jump so.",
        _STATES,
        stands="told",
    ),
    Rule(
        "flicker.take",
        _N,
        "A take flickers",
        "A state is left and entered again within the flicker window.",
        (*_STATE, "take"),
        stands="shown",
    ),
    Rule(
        "flicker.facing",
        _N,
        "The figure turns and turns back",
        "In a take, within the flicker window.",
        ("take",),
        stands="shown",
    ),
    Rule(
        "facing.against",
        _N,
        "It moves one way and faces the other",
        "In a take, for longer than the flicker window, in a state that does not say `backward`.",
        (*_STATE, "take"),
    ),
    Rule(
        "mark.never",
        ("error", "note"),
        "A mark never fires",
        "In no state that can be entered, or not in one of those that show its clip. An error where it gives something back and "
        "leaving the state does not.",
        ("layer", "state", "clip", "mark"),
    ),
    Rule(
        "mark.missable",
        ("error", "note"),
        "A mark can be cut off",
        "A transition can leave its state before it. An error where it gives something back and leaving the state does not.",
        (*_STATE, "mark"),
    ),
    Rule(
        "flag.stuck",
        _E,
        "A flag or a lock stays set for good",
        "Something sets it back, and yet from some situation on nothing reachable does.",
        ("lock", "parameter"),
    ),
    Rule(
        "expectation.broken",
        _W,
        "Something expected does not come",
        "In a take a state is shown for longer than its grace while what it expects is false, or the take expects something else than "
        "it does.",
        (*_STATE, "take"),
    ),
    Rule(
        "expectation.offered",
        _N,
        "Does a state expect this?",
        "In all takes it was nearly always shown with a flag of the body on (or off), and once otherwise.",
        (*_STATE, "take"),
    ),
    Rule(
        "assumption.broken",
        _E,
        "An assumption or a limit is broken",
        "A take does what it forbids, or the body does on its first tick, whatever is pressed.",
        ("take", "parameter", "assumption"),
    ),
    Rule(
        "assumption.impossible",
        _E,
        "The assumptions cannot hold",
        "They can never all hold, or after some take they allow no next tick; then nothing is called proved.",
        ("assumption", "assumptions"),
    ),
    Rule(
        "button.late",
        _W,
        "A press shows late",
        "A button has a budget, and in some state a press shows after it.",
        (*_STATE, "button"),
    ),
    Rule(
        "name.unknown",
        _E,
        "Nothing has this name",
        "Something names a thing that is not there; a condition that does counts as never true.",
        (*_STATES, "transition", "clip", "blend", "take", "parameter", "assumption", "in"),
    ),
    Rule(
        "condition.unreadable",
        _E,
        "A condition cannot be read",
        "It counts as never true until it is mended.",
        (*_STATE, "transition", "parameter", "assumption", "in"),
    ),
    Rule(
        "kind.mismatch",
        _E,
        "Something of the wrong kind",
        "A condition compares, or a take sets, what is of another kind.",
        (*_STATE, "transition", "clip", "blend", "take", "parameter", "assumption", "in"),
    ),
    Rule(
        "value.impossible",
        ("error", "warning"),
        "A value it can never have",
        "A comparison is always true or always false by the range of what it reads.",
        (*_STATE, "transition", "parameter", "assumption", "in"),
    ),
    Rule("sheet.missing", _E, "An image is not there", "The sheet's frames are shown as plain shapes.", ("sheet",)),
    Rule("sheet.changed", _E, "An image has another size", "It is not as large as when it was cut.", ("sheet",)),
    Rule("sheet.cut", _E, "An image cannot be cut so", "The cells do not fit on it.", ("sheet",)),
    Rule("sheet.unreadable", _E, "A file is no image", "It cannot be read as one.", ("sheet",)),
    Rule(
        "frame.missing", _E, "A frame the sheet does not have", "A cel or a state shows it.", (*_STATE, "clip", "cels")
    ),
    Rule(
        "clip.undrawn",
        _N,
        "Clips without drawings yet",
        "They have times, and a plain shape stands for them.",
        ("clip",),
    ),
    Rule(
        "sheet.cut-through",
        _W,
        "Drawings are cut through",
        "They go on beyond the edges of their frames.",
        ("sheet",),
    ),
    Rule("sheet.remainder", _N, "Pixels are left over", "The cells leave some of the image unused.", ("sheet",)),
    Rule(
        "sheet.scale",
        _N,
        "Figures of another size",
        "They stand at least twice as high, or half as high, as those of the other sheets.",
        ("sheet",),
    ),
    Rule(
        "body.size",
        _N,
        "The body is of another size than the figure",
        "Where no body box is drawn, one is more than 1.6 times as high as the other.",
        ("sheet",),
    ),
    Rule(
        "frame.outside-box",
        ("warning", "note"),
        "A drawing outside its body box",
        "It hangs below the box, so that the feet sink into the floor; or more than a quarter of it lies outside (a note).",
        ("sheet", "clip"),
    ),
    Rule(
        "frame.box-jumps",
        _W,
        "A body box jumps",
        "An edge of it moves by more than a quarter of the box from one cel to the next.",
        ("clip",),
    ),
    Rule(
        "frame.foot-wanders",
        _W,
        "Feet wander",
        "In some frames the figure stands aside of where its foot puts it.",
        ("sheet", "clip"),
    ),
    Rule("frame.empty", _W, "A frame shows nothing", "A cel shows a frame in which nothing is drawn.", ("clip",)),
    Rule("frame.touches-edge", _N, "A drawing reaches the edge", "It may be cut off there.", ("sheet",)),
    Rule("frame.duplicate", _N, "Frames are equal", "Two frames that clips show are the same picture.", ("sheet",)),
    Rule("frame.unused", _N, "Frames nobody shows", "No clip shows them.", ("sheet",)),
    Rule(
        "clip.slide",
        ("warning", "note"),
        "Feet skate",
        "The clip is shown at another speed than its feet walk; a note where the stride is only guessed.",
        ("clip",),
    ),
    Rule(
        "travel.inside",
        _W,
        "A path ends inside a wall",
        "In a take the path of a clip leaves the body there.",
        (*_STATE, "clip", "take"),
    ),
    Rule(
        "travel.short",
        _W,
        "A path falls short",
        "In a take it ends below an edge ahead, is stopped before its end, or is left before its mark gives control back.",
        (*_STATE, "clip", "take"),
    ),
    Rule(
        "squash.stays",
        _W,
        "A squash stays for good",
        "A squash that a mark or a transition began holds although its state has been left.",
        ("squash", "take"),
    ),
    Rule(
        "clip.odd-frame",
        _W,
        "A frame unlike its neighbours",
        "The first or last cel differs far more than cels of the clip usually do.",
        ("clip",),
    ),
    Rule("clip.drifts", _N, "A drawing drifts", "It moves steadily through its cells.", ("clip",)),
    Rule(
        "mute.stale",
        _N,
        "Muted, and not there any more",
        "A finding that is muted in the file does not exist.",
        ("muted", "about"),
    ),
    Rule("field.unknown", _N, "An unknown field", "This version does not know it; it is kept as it is.", ("field",)),
    Rule("clip.unused", _N, "A clip nobody shows", "No state and no blend space shows it.", ("clip",)),
    Rule(
        "parameter.unread",
        _N,
        "A parameter nobody reads",
        "No condition, formula, assumption, blend space or playback does.",
        ("parameter",),
    ),
)
RULES = {rule.id: rule for rule in _ALL}
"""Every rule by its id."""


def index() -> str:
    """All rules as a Markdown table."""
    rows = [f"| `{one.id}` | {' or '.join(one.severities)} | {one.title}. {one.help} |" for one in _ALL]
    return "\n".join(["| id | severity | what it says |", "|---|---|---|", *rows, ""])
