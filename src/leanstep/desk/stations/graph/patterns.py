"""The gallery of patterns: what each does, what shows its states, and putting it in."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.files import save
from leanstep.core.errors import LeanStepError
from leanstep.core.patterns.gallery import Kept, forget, gallery, keep
from leanstep.core.patterns.inserting import Inserted, insert, open_parameters, open_slots, refusal, with_takes
from leanstep.core.patterns.keeping import pattern_of
from leanstep.core.patterns.slots import EMPTY, Fill, Row, drawn, guesses
from leanstep.core.sheets.gait_guess import motion, rows_of_cut
from leanstep.core.wording import listed
from leanstep.desk.art import Loaded
from leanstep.desk.autosave import state_folder
from leanstep.desk.session import Session
from leanstep.desk.stations.graph.pattern_slots import NOTHING_YET, STEP, Figure, frames_in_words, row_choices
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import NARROWEST, WIDEST, DropDown, button, label, replace_inner

MOST_FRAMES = 800
"""Frames of all sheets whose motion is measured; beyond, rows are taken in their order."""


def patterns_folder() -> Path:
    """Where the user's own patterns are kept."""
    return state_folder() / "patterns"


class PatternGallery(QWidget):
    """``put_in``: a pattern was put in, or the page is wanted again; the states it brought."""

    put_in = Signal(list)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.folder: Callable[[], Path] = patterns_folder
        self.kept: list[Kept] = []
        self.slots: dict[str, tuple[DropDown, Figure]] = {}
        self.named: dict[str, DropDown] = {}
        self.list = QListWidget()
        self.list.setAccessibleName("Patterns")
        self.list.setFixedWidth(236)
        self.list.currentRowChanged.connect(lambda at: self._show())
        self.list.itemActivated.connect(lambda item: self.put())
        self.faults = label("", "soft", wrap=True)
        self.faults.setFixedWidth(236)
        self.title, self.says = label("", "title"), label("", wrap=True)
        self.name_line, self.says_line = QLineEdit(), QLineEdit()
        self.name_line.setAccessibleName("Name of the pattern")
        self.says_line.setAccessibleName("What the pattern does")
        self.says_line.setPlaceholderText("what it does, in a sentence")
        for line in (self.name_line, self.says_line):
            line.setToolTip("Kept in the pattern's file")
            line.editingFinished.connect(self._say)
        self.brings = label("", "soft", wrap=True)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.put_button = button("Put it in", "Put the pattern into the graph (Enter)", self.put, main=True)
        self.forget_button = button(
            "Throw it away", "Remove this pattern from the gallery; its file goes, too", self._forget
        )
        self.back = button("Back to the page", "Leave the graph as it is (Esc)", lambda: self.put_in.emit([]))
        buttons = QHBoxLayout()
        for one in (self.put_button, self.back, self.forget_button):
            buttons.addWidget(one)
        buttons.addStretch(1)
        right = QVBoxLayout()
        for part in (self.title, self.says, self.name_line, self.says_line, self.brings):
            right.addWidget(part)
        right.addWidget(self.area, 1)
        right.addLayout(buttons)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(12, 0, 12, 8)
        whole.setSpacing(14)
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addWidget(self.faults)
        whole.addLayout(left)
        whole.addLayout(right, 1)
        self.setFocusProxy(self.list)
        self.timer = QTimer(self, interval=50)
        self.timer.timeout.connect(self._go_on)
        self._filled: dict[str, Fill] = {}
        """What was chosen by hand for slots of the pattern ``_of``."""
        self._of: Character | None = None
        self._rows: tuple[object, list[Row]] = (None, [])

    # --- showing

    def showEvent(self, event: QShowEvent) -> None:
        self.refresh()
        self.timer.start()

    def hideEvent(self, event: QHideEvent) -> None:
        self.timer.stop()

    def refresh(self) -> None:
        """Show the patterns there are, if anybody looks."""
        if not self.isVisible():
            return
        self.kept, faults = gallery(self.folder())
        self.faults.setText("\n".join(f"{fault.thing}: {fault.reason}. {fault.way_out}" for fault in faults))
        self.faults.setVisible(bool(faults))
        at = max(0, self.list.currentRow())
        self.list.blockSignals(True)
        self.list.clear()
        for one in self.kept:
            item = QListWidgetItem(one.document.name, self.list)
            why = refusal(self.session.document, one.document)
            if why is not None:
                item.setForeground(theme.colour("soft"))
            item.setToolTip(one.document.pattern.says if one.document.pattern is not None else "")
        self.list.setCurrentRow(min(at, self.list.count() - 1))
        self.list.blockSignals(False)
        self._show()

    @property
    def chosen(self) -> Kept | None:
        """The chosen pattern."""
        at = self.list.currentRow()
        return self.kept[at] if 0 <= at < len(self.kept) else None

    @property
    def layer(self) -> int:
        """The layer it goes into: that of the chosen state."""
        return self.session.state[0] if self.session.state is not None else 0

    def _show(self) -> None:
        one = self.chosen
        if one is None or one.document.pattern is None:
            return
        document, pattern = self.session.document, one.document
        self.title.setText(pattern.name)
        self.says.setText(one.document.pattern.says)
        why = refusal(document, pattern)
        own = one.path is not None
        for part, shown in ((self.title, not own), (self.says, not own), (self.name_line, own), (self.says_line, own)):
            part.setVisible(shown)
        self.name_line.setText(pattern.name)
        self.says_line.setText(one.document.pattern.says)
        self.forget_button.setVisible(own)
        self.slots, self.named = {}, {}
        if pattern != self._of:
            self._of, self._filled = pattern, {}
        inner = QWidget()
        if why is not None:
            self.brings.setText(f"Not for this character: {why}.")
            self.put_button.setEnabled(False)
        else:
            self._lay_out(inner, document, pattern)
            self._tell()
        replace_inner(self.area, inner)

    def _lay_out(self, inner: QWidget, document: Character, pattern: Character) -> None:
        """A line for everything that can be chosen."""
        grid = QGridLayout(inner)
        grid.setContentsMargins(0, 4, 0, 4)
        grid.setHorizontalSpacing(10)
        clips = {clip.name: clip for clip in pattern.clips}
        wanted = open_slots(document, pattern, self.layer)
        guessed = guesses(wanted, document, self.rows())
        columns = 2
        for number, slot in enumerate(wanted):
            row, column = number // columns, number % columns * 3
            box, figure = DropDown(), Figure(self.session.art, slot)
            box.setAccessibleName(f"What shows {slot}")
            box.setToolTip(f"The clip or the frames that show {slot}")
            for said, fill in self._choices(slot, guessed[slot]):
                box.addItem(said, fill)
            offered = [box.itemData(at) for at in range(box.count())]
            wished = self._filled.get(slot)
            box.setCurrentIndex(offered.index(wished if wished in offered else guessed[slot]))
            box.activated.connect(partial(self._fill, clips[slot]))
            grid.addWidget(figure, row, column)
            words = label(slot)
            words.setMinimumWidth(64)
            box.setMinimumWidth(NARROWEST)
            box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            box.setMaximumWidth(WIDEST)
            grid.addWidget(words, row, column + 1)
            grid.addWidget(box, row, column + 2)
            self.slots[slot] = box, figure
            self._play(clips[slot])
        rows = (len(wanted) + 1) // columns
        for name, same in open_parameters(document, pattern).items():
            box = DropDown()
            box.setAccessibleName(f"What {name} is here")
            for said, other in ((f"a new one, {name}", ""), *((other, other) for other in same)):
                box.addItem(said, other)
            box.activated.connect(lambda at: self._tell())
            grid.addWidget(label(name), rows, 1)
            grid.addWidget(box, rows, 2, Qt.AlignmentFlag.AlignLeft)
            self.named[name] = box
            rows += 1
        grid.setColumnStretch(2, 1)
        grid.setColumnStretch(5, 1)
        grid.setRowStretch(rows, 1)

    def _choices(self, slot: str, guess: Fill) -> Iterator[tuple[str, Fill]]:
        """What could show a slot, in words."""
        seen = []
        for words, fill in (
            (NOTHING_YET, EMPTY),
            *((clip.name, Fill(clip=clip.name)) for clip in self.session.document.clips),
            *(pair for row in self.rows() for pair in row_choices(slot, row)),
            (frames_in_words(guess), guess),
        ):
            if fill not in seen:
                seen.append(fill)
                yield words, fill

    def rows(self) -> list[Row]:
        """The rows of all sheets that can be seen, with how much they move and whether clips show them."""
        document, art = self.session.document, self.session.art
        # a sheet may be read, or read anew, while the document stays
        read = [one.cut for sheet in document.sheets if isinstance(one := art.sheet(sheet.name), Loaded)]
        key = document.sheets, document.clips, tuple(map(id, read))
        if self._rows[0] != key:
            self._rows = key, list(self._measured())
        return self._rows[1]

    def _measured(self) -> Iterator[Row]:
        document, left = self.session.document, MOST_FRAMES
        for sheet in document.sheets:
            loaded = self.session.art.sheet(sheet.name)
            if not isinstance(loaded, Loaded):
                continue
            used = {frame for clip in document.clips for frame in clip.frames_of(sheet.name)}
            left -= len(loaded.cut.frames)
            for frames in rows_of_cut(loaded.cut):
                moves = motion(loaded.cut, frames) if left >= 0 else 0.0
                yield Row(sheet.name, tuple(frames), moves, bool(used & set(frames)))

    def _fill(self, slot: Clip, at: int) -> None:
        self._filled[slot.name] = self.slots[slot.name][0].currentData()
        self._play(slot)
        self._tell()

    def _play(self, slot: Clip) -> None:
        box, figure = self.slots[slot.name]
        fill: Fill = box.currentData()
        clips = {clip.name: clip for clip in self.session.document.clips}
        figure.show_clip(clips[fill.clip] if fill.clip else drawn(slot, fill))

    def _go_on(self) -> None:
        for _, figure in self.slots.values():
            before = figure.drawable()
            figure.ticks += STEP
            if figure.drawable() != before:
                figure.update()

    # --- putting in

    def _tell(self) -> None:
        """Say what would be put in, or why it cannot be."""
        try:
            self.brings.setText(self._sentence(self.tried()))
            self.put_button.setEnabled(True)
        except LeanStepError as error:
            self.brings.setText(f"Not for this character: {error.reason}.")
            self.put_button.setEnabled(False)

    def tried(self) -> Inserted:
        """The character with the chosen pattern in it."""
        assert self.chosen is not None
        fills: dict[str, Fill] = {slot: box.currentData() for slot, (box, _) in self.slots.items()}
        names = {name: str(box.currentData()) for name, box in self.named.items() if box.currentData()}
        return insert(self.session.document, self.chosen.document, self.layer, fills, names)

    def put(self) -> None:
        """Put the chosen pattern in, in one step."""
        one = self.chosen
        if one is None:
            return
        if not self.put_button.isEnabled():
            self.session.said.emit(f"{one.document.name} is not put in. {self.brings.text()}")
            return
        made = self.tried()
        whole = with_takes(made)
        self.session.edit(f"put in {one.document.name}", lambda document: whole)
        self.session.said.emit(f"Put in {one.document.name}. {self._sentence(made)}")
        self.put_in.emit(list(made.states or made.merged))

    def _sentence(self, made: Inserted) -> str:
        """What it brings, what it uses, and what has no drawings."""
        parts = [f"Brings {listed(list(made.states))}." if made.states else "Brings no state: all of them are there."]
        if made.merged:
            parts.append(f"Uses your {listed(list(made.merged))}.")
        if made.empty:
            parts.append(f"No drawings yet: {listed(list(made.empty))}.")
        return " ".join(parts)

    def keep_chosen(self) -> None:
        """Keep the chosen states of the graph as a pattern."""
        session = self.session
        if not session.states:
            session.said.emit("Choose the states of a pattern first, with Ctrl several.")
            return
        layer = session.states[-1][0]
        names = [name for at, name in session.states if at == layer]
        made = pattern_of(session.document, layer, names, listed(names))
        try:
            path = keep(made, self.folder())
        except LeanStepError as error:
            session.complained.emit(error)
            return
        session.said.emit(
            f"Kept the pattern {made.name} in {path}. Open that file to name it and its clips, which are its slots."
        )
        self.refresh()

    def _say(self) -> None:
        """Keep the name and the sentence of an own pattern."""
        one = self.chosen
        if one is None or one.path is None or one.document.pattern is None:
            return
        name = self.name_line.text().strip() or one.document.name
        says = replace(one.document.pattern, says=self.says_line.text().strip())
        made = replace(one.document, name=name, pattern=says)
        if made == one.document:
            return
        try:
            save(one.path, made)
        except LeanStepError as error:
            self.session.complained.emit(error)
            return
        self.refresh()

    def _forget(self) -> None:
        one = self.chosen
        if one is None or one.path is None:
            return
        try:
            forget(one.path)
        except LeanStepError as error:
            self.session.complained.emit(error)
            return
        self.session.said.emit(
            f"Threw away the pattern {one.document.name}; its file lies in {one.path.with_suffix('.gone').name}."
        )
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.put_in.emit([])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            # in a line Enter ends what is typed
            if not (self.name_line.hasFocus() or self.says_line.hasFocus()):
                self.put()
        else:
            super().keyPressEvent(event)
