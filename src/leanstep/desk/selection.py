"""What a person has chosen: one typed thing, by name, the same for every part of the window."""

from __future__ import annotations

from leanstep.core.character.model import Character
from leanstep.core.naming import transitions
from leanstep.core.naming.places import Thing
from leanstep.core.naming.renaming import called
from leanstep.core.naming.transitions import TransitionName

Chosen = Thing | TransitionName


class Selection:
    """The thing chosen last, and of each kind the one chosen last.

    Things are kept by name: one that is gone is no longer shown as chosen, and is chosen again when it comes back.
    """

    def __init__(self) -> None:
        self.latest: Chosen | None = None
        self._by_kind: dict[str, Chosen] = {}

    def choose(self, chosen: Chosen) -> None:
        """Choose something.  A state chosen by itself lets go of a transition, and a lane and what stands in it of each other."""
        if chosen.kind == "lane":
            self.let_go("state", "transition")
        elif chosen.kind in ("state", "transition"):
            self.let_go("lane")
        self.latest = chosen
        self._by_kind[chosen.kind] = chosen
        if chosen.kind == "state":
            self._by_kind.pop("transition", None)

    def let_go(self, *kinds: str) -> None:
        """Choose nothing of these kinds."""
        for kind in kinds:
            self._by_kind.pop(kind, None)
        if self.latest is not None and self.latest.kind in kinds:
            self.latest = None

    def thing(self, kind: str) -> Thing | None:
        """The thing of a kind that was chosen last."""
        found = self._by_kind.get(kind)
        return found if isinstance(found, Thing) else None

    def state(self, document: Character) -> tuple[int, str] | None:
        """Layer and name of the chosen state, if the document has it."""
        found = self.thing("state")
        for at, layer in enumerate(document.layers if found is not None else ()):
            if found is not None and layer.name == found.within and any(one.name == found.name for one in layer.states):
                return at, found.name
        return None

    def transition(self, document: Character) -> tuple[int, int] | None:
        """Layer and place of the chosen transition, if the document has it."""
        found = self._by_kind.get("transition")
        return transitions.find(document, found) if isinstance(found, TransitionName) else None

    def follow(self, thing: Thing, name: str) -> None:
        """A thing has another name now."""

        def followed(one: Chosen) -> Chosen:
            return called(one, thing, name) if isinstance(one, Thing) else transitions.renamed(one, thing, name)

        self._by_kind = {kind: followed(one) for kind, one in self._by_kind.items()}
        self.latest = followed(self.latest) if self.latest is not None else None

    def copy(self) -> Selection:
        """The selection as it is now."""
        made = Selection()
        made.latest, made._by_kind = self.latest, dict(self._by_kind)
        return made
