"""What a person has chosen: typed things, by name, the same for every part of the window."""

from __future__ import annotations

from leanstep.core.character.document import Character
from leanstep.core.naming import transitions
from leanstep.core.naming.references import Thing
from leanstep.core.naming.renaming import called
from leanstep.core.naming.transitions import TransitionName

Chosen = Thing | TransitionName


class Selection:
    """The thing chosen last, and of each kind those that are chosen, the one chosen last at the end.

    Things are kept by name: one that is gone is no longer shown as chosen, and is chosen again when it comes back.
    """

    def __init__(self) -> None:
        self.latest: Chosen | None = None
        self._by_kind: dict[str, tuple[Chosen, ...]] = {}

    def choose(self, *chosen: Chosen) -> None:
        """Choose something of one kind, the last of it as the one that is shown.  A state chosen by itself lets go of a
        transition, and a lane and what stands in it of each other."""
        latest = chosen[-1]
        if latest.kind == "lane":
            self.let_go("state", "transition")
        elif latest.kind in ("state", "transition"):
            self.let_go("lane")
        self.latest = latest
        self._by_kind[latest.kind] = tuple(dict.fromkeys(chosen[::-1]))[::-1]
        if latest.kind == "state":
            self._by_kind.pop("transition", None)

    def add(self, chosen: Chosen) -> None:
        """Choose one more of a kind, or no longer what is chosen already beside others."""
        before = self._by_kind.get(chosen.kind, ())
        rest = tuple(one for one in before if one != chosen)
        self.choose(*(rest if rest and chosen in before else (*rest, chosen)))

    def let_go(self, *kinds: str) -> None:
        """Choose nothing of these kinds."""
        for kind in kinds:
            self._by_kind.pop(kind, None)
        if self.latest is not None and self.latest.kind in kinds:
            self.latest = None

    def thing(self, kind: str) -> Thing | None:
        """The thing of a kind that was chosen last."""
        return next(reversed(self.things(kind)), None)

    def things(self, kind: str) -> list[Thing]:
        """The things of a kind that are chosen, the one chosen last at the end."""
        return [one for one in self._by_kind.get(kind, ()) if isinstance(one, Thing)]

    def states(self, document: Character) -> list[tuple[int, str]]:
        """Layers and names of the chosen states that the document has, the one chosen last at the end."""
        return [found for one in self.things("state") if (found := _state(document, one)) is not None]

    def state(self, document: Character) -> tuple[int, str] | None:
        """Layer and name of the state chosen last, if the document has it."""
        found = self.thing("state")
        return _state(document, found) if found is not None else None

    def transitions(self, document: Character) -> list[tuple[int, int]]:
        """Layers and places of the chosen transitions that the document has, the one chosen last at the end."""
        names = [one for one in self._by_kind.get("transition", ()) if isinstance(one, TransitionName)]
        return [found for one in names if (found := transitions.find(document, one)) is not None]

    def transition(self, document: Character) -> tuple[int, int] | None:
        """Layer and place of the transition chosen last, if the document has it."""
        return next(reversed(self.transitions(document)), None)

    def follow(self, thing: Thing, name: str) -> None:
        """A thing has another name now."""

        def followed(one: Chosen) -> Chosen:
            return called(one, thing, name) if isinstance(one, Thing) else transitions.renamed(one, thing, name)

        self._by_kind = {kind: tuple(followed(one) for one in those) for kind, those in self._by_kind.items()}
        self.latest = followed(self.latest) if self.latest is not None else None

    def copy(self) -> Selection:
        """The selection as it is now."""
        made = Selection()
        made.latest, made._by_kind = self.latest, dict(self._by_kind)
        return made


def _state(document: Character, thing: Thing) -> tuple[int, str] | None:
    """Layer and name of a state, if the document has it."""
    for at, layer in enumerate(document.layers):
        if layer.name == thing.within and any(one.name == thing.name for one in layer.states):
            return at, thing.name
    return None
