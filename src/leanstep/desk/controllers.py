"""Game controllers: found while they are plugged in and out, read while the character is steered."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from glob import glob
from time import monotonic, time
from typing import Any, Protocol

from PySide6.QtCore import QObject, QTimer, Signal

from leanstep.desk.gamepads import ABSOLUTE, BUTTONS, KEY, STICKS, Pad
from leanstep.desk.simulation import Simulation

EVERY, AGAIN = 8, 1500
"""Milliseconds after which what was pushed is read, and after which new controllers are looked for."""
NOT_ALLOWED = "A game controller is plugged in, but may not be read. Type: sudo usermod -aG input $USER – then log out and in again."


class Source(Protocol):
    """Something events come from; ``read`` raises BlockingIOError while there are none, and OSError once it is gone."""

    path: str
    ranges: dict[int, tuple[int, int]]

    def read(self) -> Iterable[tuple[int, int, float, float | None]]:
        """The events since the last time: type, code, value, and when (None: now)."""
        ...


class Device:
    """A controller read through evdev."""

    def __init__(self, device: Any) -> None:
        self._device = device
        self.path: str = device.path
        axes = device.capabilities(absinfo=True).get(ABSOLUTE, [])
        self.ranges = {code: (info.min, info.max) for code, info in axes}

    def read(self) -> Iterable[tuple[int, int, float, float | None]]:
        """The events since the last time, with their times of :func:`time.monotonic`."""
        ahead = monotonic() - time()  # events bear the time of day
        return ((event.type, event.code, event.value, event.timestamp() + ahead) for event in self._device.read())


def plugged_in(known: Iterable[str]) -> list[Source]:
    """The controllers there are beside those that are ``known`` by their paths."""
    import evdev  # Linux alone has it, and nothing else needs it

    found: list[Source] = []
    for path in evdev.list_devices():
        if path in known:
            continue
        try:
            device = evdev.InputDevice(path)
            able = device.capabilities()
        except OSError:
            continue
        if set(able.get(KEY, [])) & {code for code in BUTTONS if code < 0x13A} and any(
            code in STICKS for code in able.get(ABSOLUTE, [])
        ):
            found.append(Device(device))
    return found


def may_not_be_read() -> bool:
    """Whether there is a controller that this person has no right to read."""
    sticks = glob("/dev/input/js*")
    events = glob("/dev/input/event*")
    return bool(sticks) and not any(os.access(path, os.R_OK) for path in events)


class Controllers(QObject):
    """Pushes what controllers say into the live character's devices.  ``said``: something about them, as a sentence."""

    said = Signal(str)

    def __init__(self, live: Simulation, find: Callable[[Iterable[str]], list[Source]] = plugged_in) -> None:
        super().__init__(live)
        self.live, self._find = live, find
        self._open: dict[str, tuple[Source, Pad]] = {}
        self._reads = QTimer(self, interval=EVERY)
        self._reads.timeout.connect(self.read)
        self._looks = QTimer(self, interval=AGAIN)
        self._looks.timeout.connect(self.look)
        self._told = False
        live.mode_changed.connect(self._mode)

    def _mode(self) -> None:
        if self.live.steers:
            self._looks.start()
            self.look()
        else:
            self._looks.stop()
        self._read_or_not()

    def _read_or_not(self) -> None:
        """Read while somebody steers and there is something to be read."""
        if self.live.steers and self._open:
            self._reads.start()
        else:
            self._reads.stop()

    def look(self) -> None:
        """Look for controllers that have been plugged in."""
        try:
            found = self._find(self._open)
        except (ImportError, OSError):
            return
        for source in found:
            self._open[source.path] = source, Pad(source.ranges)
            self.said.emit("A game controller steers, too.")
            self._read_or_not()
        if not self._open and not self._told and may_not_be_read():
            self._told = True
            self.said.emit(NOT_ALLOWED)

    def read(self) -> None:
        """Take in what was pushed since the last time; what is gone lets go."""
        for path, (source, pad) in list(self._open.items()):
            try:
                events = list(source.read())
            except BlockingIOError:
                continue
            except OSError:
                del self._open[path]
                self.live.hands.unplug()
                self.said.emit("The game controller is gone; it holds nothing any more.")
                self._read_or_not()
                continue
            for kind, code, value, stamp in events:
                before = set(pad.buttons)
                pad.feed(kind, code, value)
                changed = sorted(before ^ pad.buttons)
                self.live.hands.pad(pad.pushed, [(name, name in pad.buttons) for name in changed], stamp)
