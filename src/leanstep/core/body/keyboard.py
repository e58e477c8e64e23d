"""From keys that are down to what the controls say."""

from __future__ import annotations

from leanstep.core.character.model import Controls, Stick


class Keyboard:
    """Which keys are down, in the order they went down, and the control values that follow.

    Opposite keys of a stick resolve by its rule: the last one wins, the first one wins, or they cancel.
    """

    def __init__(self, controls: Controls) -> None:
        self.controls = controls
        self._down: list[str] = []

    def press(self, key: str) -> bool:
        """A key went down; returns whether it belongs to a control.  Repeats are ignored."""
        if key not in self._down:
            self._down.append(key)
        return self.knows(key)

    def release(self, key: str) -> bool:
        """A key came up; returns whether it belongs to a control."""
        if key in self._down:
            self._down.remove(key)
        return self.knows(key)

    def let_go(self) -> None:
        """Every key counts as up."""
        self._down.clear()

    def knows(self, key: str) -> bool:
        """Whether the key is bound to a control."""
        return any(key in button.keys for button in self.controls.buttons) or any(
            key in keys for stick in self.controls.sticks for keys in (stick.left, stick.right, stick.down, stick.up)
        )

    def values(self) -> dict[str, float | bool]:
        """The value of every button and stick axis."""
        result: dict[str, float | bool] = {}
        for stick in self.controls.sticks:
            result[f"{stick.name}.x"] = self._axis(stick, stick.left, stick.right)
            result[f"{stick.name}.y"] = self._axis(stick, stick.down, stick.up)
        for button in self.controls.buttons:
            result[button.name] = any(key in self._down for key in button.keys)
        return result

    def _axis(self, stick: Stick, low: tuple[str, ...], high: tuple[str, ...]) -> float:
        asked = [-1.0 if key in low else 1.0 for key in self._down if key in low or key in high]
        if not asked or (stick.opposite == "cancel" and len(set(asked)) == 2):
            return 0.0
        return asked[-1] if stick.opposite == "last" else asked[0]
