"""The place where a character is handed over."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import msgspec
from PySide6.QtCore import QTimer
from PySide6.QtGui import QAction
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QMessageBox,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.character.files import dump
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Format, Source
from leanstep.core.formats.written_files import Foreign
from leanstep.core.wording import counted, listed
from leanstep.desk.background import Background
from leanstep.desk.context import Context
from leanstep.desk.stations.handover.goods import GoodsDelegate, GoodsList, kept_for, settings_key
from leanstep.desk.stations.handover.preview import Preview
from leanstep.desk.stations.handover.work import Made, make
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import NumberField, button, command, label, paper_box
from leanstep.desk.widgets.list_model import ListModel

PICTURES = ("apng", "gif", "strips", "atlas")
"""What is enlarged on request."""


class HandoverStation(Station):
    """What goes out on the left; on the right what the chosen one holds, cannot hold, and how it looks; below where it goes."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        self.kept = kept_for(self.session)
        self.making = Background()
        self.showing = Background()
        self.stale = True
        self.model = ListModel(
            lambda one: str(one.title),
            key=lambda one: one.key,
            spoken=lambda one: f"{one.title}: {one.purpose}; {'goes out' if one.key in self.kept.wanted else 'stays'}",
        )
        self.list = GoodsList()
        self.list.ticked.connect(self.tick)
        self.list.setModel(self.model)
        self.list.setItemDelegate(GoodsDelegate(self.list, lambda: self.kept.wanted))
        self.list.setAccessibleName("What can go out")
        self.list.setToolTip("A click on the box, or Space, decides whether it goes out")
        self.list.setMinimumWidth(260)
        self.model.show(list(FORMATS.values()))
        self.list.selectionModel().currentChanged.connect(lambda now, before: self._chosen())
        self.title = label("", "title")
        self.purpose = label("", wrap=True)
        self.lacks = label("", "soft", wrap=True)
        self.preview = Preview()
        self._make_options()
        self.place = QLineEdit()
        self.place.setAccessibleName("Folder")
        self.place.setToolTip("Where the files go; the folder is made where it is missing")
        self.place.editingFinished.connect(lambda: self._keep(folder=self.place.text().strip()))
        self.choose_button = button("Choose …", "Choose a folder", self.choose_folder)
        self.again = QCheckBox("Again after every save")
        self.again.setToolTip("Whenever the character is saved, all that is ticked is written anew")
        self.again.toggled.connect(lambda on: self._keep(again=on))
        self.go_button = button("Hand over", "Write all that is ticked (Ctrl+Return)", self.hand_over, main=True)
        self.stop_button = button("Stop", "Write nothing after all", self.stop)
        self.stop_button.hide()
        self.done = label("", "soft", wrap=True)
        self._lay_out()
        self.setFocusProxy(self.list)
        self._later = QTimer(self, singleShot=True, interval=150)
        self._later.timeout.connect(self._preview)
        session = self.session
        session.opened.connect(self._opened)
        session.editing.follow(self, self._changed, session.changed)
        session.editing.follow(self, self._judged, unasked=(session.checker.checked,))
        session.saved.connect(self._saved)
        session.closing.connect(self.stop)
        self.making.told.connect(self._making)
        self.making.ended.connect(self._made)
        self.making.failed.connect(self._failed)
        self.showing.ended.connect(self._shown)
        self.showing.failed.connect(lambda error: self.preview.say(str(error)))
        self._opened()
        self.list.setCurrentIndex(self.model.index(0))

    # --- layout

    def _make_options(self) -> None:
        self.scale = NumberField("Times as large", "Every pixel so many times", 1, 64)
        self.padding = NumberField("Pixels between frames", "Clear pixels between two frames", 0, 64, "px")
        self.extrude = NumberField(
            "Rim", "How often the outermost pixels of a frame are repeated around it", 0, 16, "px"
        )
        self.scale.settled.connect(lambda value: self._keep(scale=int(value)))
        self.padding.settled.connect(lambda value: self._keep(padding=int(value)))
        self.extrude.settled.connect(lambda value: self._keep(extrude=int(value)))
        self.boxes: dict[str, QCheckBox] = {}
        for name, text, tip in (
            ("trim", "Without clear rims", "Frames are packed as small as what is drawn in them"),
            ("power_of_two", "Sides 2, 4, 8 …", "The sides of pictures are powers of two"),
            ("rotate", "On their side", "Frames may lie on their side where that saves room"),
            ("fixes", "With repairs", "Every repair there is stands in the file as a fix; takes longer"),
        ):
            box = self.boxes[name] = QCheckBox(text)
            box.setToolTip(tip)
            box.toggled.connect(lambda on, name=name: self._keep(**{name: on}))
        self.parts: dict[str, list[QWidget]] = {
            "scale": [label("Enlarge", "soft"), self.scale],
            "atlas": [label("Between", "soft"), self.padding, label("Rim", "soft"), self.extrude],
            "ways": [self.boxes["trim"], self.boxes["power_of_two"], self.boxes["rotate"]],
            "fixes": [self.boxes["fixes"]],
        }

    def _lay_out(self) -> None:
        right = QVBoxLayout()
        right.setSpacing(6)
        for words in (self.title, self.purpose, self.lacks):
            right.addWidget(words)
        for names in (("scale", "atlas", "fixes"), ("ways",)):
            options = QHBoxLayout()
            for name in names:
                for part in self.parts[name]:
                    options.addWidget(part)
            options.addStretch(1)
            right.addLayout(options)
        right.addWidget(self.preview, 1)
        middle = QHBoxLayout()
        middle.setSpacing(16)
        middle.addWidget(self.list, 2)
        middle.addLayout(right, 3)
        below = QHBoxLayout()
        below.setSpacing(8)
        below.addWidget(label("Where to", "soft"))
        below.addWidget(self.place, 1)
        for control in (self.choose_button, self.again, self.stop_button, self.go_button):
            below.addWidget(control)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 10, 12, 10)
        column.setSpacing(8)
        column.addLayout(middle, 1)
        column.addWidget(self.done)
        column.addLayout(below)

    def let_go(self) -> None:
        self.making.close()
        self.showing.close()

    def commands(self) -> list[QAction]:
        return [
            command(self, "Hand over what is ticked", "Ctrl+Return", self.hand_over),
            command(self, "Hand over: choose a folder", "", self.choose_folder),
        ]

    # --- what is chosen

    @property
    def current(self) -> Format:
        """The thing that is looked at."""
        found: Format = self.model.items[max(0, self.list.currentIndex().row())]
        return found

    def tick(self, row: int) -> None:
        """Decide whether one of the things goes out."""
        if not 0 <= row < len(self.model.items):
            return
        key = self.model.items[row].key
        wanted = set(self.kept.wanted) ^ {key}
        self._keep(wanted=[one for one in FORMATS if one in wanted])
        self.list.viewport().update()

    def _keep(self, **values: Any) -> None:
        """Keep what was chosen, for this character."""
        if all(getattr(self.kept, name) == value for name, value in values.items()):
            return
        for name, value in values.items():
            setattr(self.kept, name, value)
        if settings_key(self.session):
            self.session.settings.setValue(settings_key(self.session), msgspec.json.encode(self.kept).decode())
        self._show_kept()
        if set(values) - {"wanted", "folder", "again"}:
            self._later.start()
        self.session.noted.emit()

    def _show_kept(self) -> None:
        kept = self.kept
        for widget, on in ((self.again, kept.again), *((box, getattr(kept, name)) for name, box in self.boxes.items())):
            widget.blockSignals(True)
            widget.setChecked(on)
            widget.blockSignals(False)
        self.scale.show_value(kept.scale)
        self.padding.show_value(kept.padding)
        self.extrude.show_value(kept.extrude)
        if not self.place.isModified():
            self.place.setText(kept.folder or str(self.folder))
        self.go_button.setEnabled(bool(kept.wanted))
        self.go_button.setText(
            f"Hand over {counted(len(kept.wanted), 'thing')}" if kept.wanted else "Nothing is ticked"
        )
        self.again.setEnabled(self.session.history.path is not None)

    @property
    def folder(self) -> Path:
        """Where files go: what was chosen, else a folder beside the character."""
        if self.kept.folder:
            return Path(self.kept.folder).expanduser()
        path = self.session.history.path
        return (
            path.parent / f"{path.stem} handed over" if path is not None else self.session.last_folder / "handed over"
        )

    def choose_folder(self) -> None:
        """Ask for a folder."""
        name = QFileDialog.getExistingDirectory(
            self, "Where to", str(self.folder if self.folder.is_dir() else Path.home())
        )
        if name:
            self._keep(folder=name)

    def _opened(self) -> None:
        self.kept = kept_for(self.session)
        self.done.setText("")
        self._show_kept()
        self._changed()

    def _chosen(self) -> None:
        one = self.current
        self.title.setText(one.title)
        self.purpose.setText(f"{one.purpose[0].upper()}{one.purpose[1:]}.")
        self.lacks.setText(f"It cannot hold: {one.lacks}.")
        packed = one.key == "atlas"
        shown = {"scale": one.key in PICTURES, "atlas": packed, "ways": packed, "fixes": one.key == "sarif"}
        for name, parts in self.parts.items():
            for part in parts:
                part.setVisible(shown[name])
        self.preview.say("Making it, to be looked at …")
        self._later.start()

    # --- the preview

    def _judged(self) -> None:
        if self.current.judged:
            self._changed()

    def _changed(self) -> None:
        self.stale = True
        if self.isVisible():
            self._later.start()

    def showEvent(self, event: Any) -> None:
        super().showEvent(event)
        if self.stale:
            self._later.start()

    def _preview(self) -> None:
        if not self.isVisible():
            return
        self.stale = False
        session = self.session
        if self.current.judged and (
            session.checker.checking or (session.report is None and not session.checker.stopped)
        ):
            self.showing.stop()
            self.preview.say("It is shown once the check is done.")
            return
        make(self.showing, self._source(), [self.current.key], None)

    def _shown(self, made: Made) -> None:
        if made.key == self.current.key:
            self.preview.show_files(made.files)
            for note in made.notes:
                self.preview.size_words.setText(f"{self.preview.size_words.text()}; {note}")

    def _source(self) -> Source:
        session, kept = self.session, self.kept
        path = session.history.path or session.folder / "character.leanstep"
        known = session.report if not session.checker.checking else None
        text = dump(session.document).decode() if session.history.changed or session.history.path is None else None
        return Source(
            path, session.document, kept.scale, packing=kept.packing, fixes=kept.fixes, text=text, checked=known
        )

    # --- handing over

    def hand_over(self, force: bool = False) -> None:
        """Write all that is ticked."""
        if not self.kept.wanted:
            self.session.said.emit("Nothing is ticked, so nothing goes out.")
            return
        self.done.setText("")
        make(self.making, self._source(), list(self.kept.wanted), self.folder, force)

    def stop(self) -> None:
        """Stop what is being made; nothing of it is written."""
        if self.making.busy:
            self.making.stop()
            self.done.setText("Stopped; nothing was written.")

    def _saved(self) -> None:
        if self.kept.again and self.kept.wanted:
            self.hand_over()
        self._show_kept()

    def _making(self, what: str) -> None:
        self.stop_button.setVisible(bool(what))
        if what:
            self.done.setText(f"Making: {what} …")

    def _made(self, made: Made) -> None:
        names = [path.name for path in made.paths]
        shown = listed([*names[:4], f"{len(names) - 4} more"] if len(names) > 5 else names) if names else "nothing"
        self.done.setText(f"Written to {self.folder}: {shown}. {' '.join(f'{note}.' for note in made.notes)}".strip())
        self.session.said.emit(f"Handed over {counted(len(names), 'file')} to {self.folder}.")

    def _failed(self, error: LeanStepError) -> None:
        if isinstance(error, Foreign):
            self._ask_over(error)
            return
        self.done.setText(str(error))
        self.session.complained.emit(error)

    def _ask_over(self, error: Foreign) -> None:
        """Ask before something foreign is written over."""
        self.done.setText(f"{error.thing}: {error.reason}. Nothing was written.")
        choices = QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.Cancel
        text = f"{error.thing}: {error.reason}. Write over it, and over others like it?"
        if paper_box(self, "Write over what is there?", text, "", choices).exec() == QMessageBox.StandardButton.Yes:
            self.hand_over(force=True)
