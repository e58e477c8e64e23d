"""Marks are heard as they fire, where the machine has a program that plays sounds."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path
from shutil import which

from PySide6.QtCore import QObject, QProcess

from leanstep.core.character.document import Character
from leanstep.desk.click_sounds import click, pitches

PLAYERS: tuple[tuple[str, list[str]], ...] = (("pw-play", []), ("paplay", []), ("aplay", ["-q"]))
"""Programs that play a WAV file, with what they are given before its name."""
MOST = 6
"""Clicks that sound at once at most."""


class Clicks(QObject):
    """Plays the click of marks while ``on``; ``player`` is None where there is no program to play it."""

    def __init__(self) -> None:
        super().__init__()
        self.on = False
        self.player = next(((found, args) for name, args in PLAYERS if (found := which(name)) is not None), None)
        self._folder: tempfile.TemporaryDirectory[str] | None = None
        self._sounding: list[QProcess] = []

    def sound(self, character: Character, names: Sequence[str]) -> None:
        """Let the marks of these names be heard."""
        if not self.on or self.player is None or not names or len(self._sounding) >= MOST:
            return
        known = pitches(character)
        file = self._file(sorted({known[name] for name in names if name in known}))
        program, args = self.player
        process = QProcess(self)
        process.finished.connect(lambda: self._ended(process))
        process.errorOccurred.connect(lambda: self._ended(process))
        self._sounding.append(process)
        process.start(program, [*args, str(file)])

    def _ended(self, process: QProcess) -> None:
        if process in self._sounding and process.state() == QProcess.ProcessState.NotRunning:
            self._sounding.remove(process)
            process.deleteLater()

    def _file(self, hertz: Sequence[float]) -> Path:
        if self._folder is None:
            self._folder = tempfile.TemporaryDirectory(prefix="leanstep-clicks-")
        file = Path(self._folder.name) / f"{'-'.join(f'{each:.0f}' for each in hertz)}.wav"
        if not file.exists():
            file.write_bytes(click(hertz))
        return file

    def stop(self) -> None:
        """No sound goes on when the window closes."""
        sounding, self._sounding = self._sounding, []
        for process in sounding:
            process.kill()
            process.waitForFinished(200)
        if self._folder is not None:
            self._folder.cleanup()
            self._folder = None
