"""What the chosen clip stands in for: the way of moving it belongs to, when the figure moves so, and what that lacks."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.character import alternate_edits
from leanstep.core.character import stand_in_edits as stand_ins
from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, free_name, put
from leanstep.core.character.stand_in_edits import by_new_choice
from leanstep.core.naming.references import Thing
from leanstep.core.wording import counted
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import NameField, button, fill_combo, label, name_choice

ITSELF, NEW, NO_CHOICE = "Stands for itself", "a new way", "no choice"


class AlternateRow(QWidget):
    """The ``choice`` stands beside the others of a clip; the row is there for a clip that stands in for another."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.clip: Clip | None = None
        self.choice = name_choice(
            "Played instead of", "The clip it stands in for, in another way of moving", self._set_instead
        )
        self.way = name_choice("In the way of moving", "The way of moving it belongs to", self._set_way)
        self.name = NameField("way of moving")
        self.name.setMinimumWidth(84)
        self.name.setMaximumWidth(110)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(session.said)
        self.parameter = name_choice("Moved so by", "A choice by which the figure moves so", self._set_parameter)
        self.value = name_choice(
            "Moved so with", "The choice with which it does", lambda text: self._change(value=text)
        )
        self.new_choice = button(
            "By a choice", "It is moved so by a choice: the one of other ways, or a new parameter", self._by_new_choice
        )
        self.match = button(
            "By names", "Clips of the same names with a word more stand in for what it lacks", self._by_names
        )
        self.value.setMinimumWidth(96)
        self.remove = button("Remove", "Remove the way of moving; its clips stay", self._remove)
        self.is_word, self.lacks = label("is", "soft"), label("", "soft")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        named = (label("In", "soft"), self.way, label("called", "soft"), self.name)
        when = (label("while", "soft"), self.parameter, self.is_word, self.value, self.new_choice)
        for part in (*named, *when, self.match, self.lacks, self.remove):
            row.addWidget(part)
        row.addStretch(1)
        self.hide()

    # --- what is shown

    @property
    def place(self) -> stand_ins.Place | None:
        """The way of moving the clip belongs to, and what stands in there."""
        return (
            stand_ins.place_of(self.session.document, stand_ins.WAYS, self.clip.name) if self.clip is not None else None
        )

    @property
    def _moved(self) -> tuple[Alternate, Instead] | None:
        place, alternates = self.place, self.session.document.alternates
        return None if place is None else (alternates[place[0]], alternates[place[0]].clips[place[1]])

    def show_clip(self, clip: Clip | None) -> None:
        """Show what a clip stands in for."""
        self.clip = clip
        document, moved, place = self.session.document, self._moved, self.place
        others = [one.name for one in document.clips if clip is None or one.name != clip.name]
        now = f"Instead of {moved[1].clip}" if moved is not None else ITSELF
        fill_combo(self.choice, [ITSELF, *(f"Instead of {name}" for name in others)], now)
        self.choice.setEnabled(clip is not None and bool(others))
        self.setVisible(moved is not None)
        if moved is None or place is None:
            return
        way = moved[0]
        fill_combo(self.way, [*(one.name for one in document.alternates), NEW], way.name)
        self.name.show_name(way.name, lambda name: self.session.rename_fault(Thing("alternate", way.name), name))
        choices = {one.name: one.choices for one in document.parameters if one.kind == "choice"}
        fill_combo(self.parameter, [NO_CHOICE, *choices], way.parameter or NO_CHOICE)
        fill_combo(self.value, [*choices.get(way.parameter, ())], way.value)
        for part in (self.is_word, self.value):
            part.setVisible(bool(way.parameter))
        self.new_choice.setVisible(not way.parameter)
        self.match.setEnabled(bool(alternate_edits.by_names(document, place[0])))
        lacks = alternate_edits.lacking(document, place[0])
        self.lacks.setText(f"lacks {counted(len(lacks), 'clip')}" if lacks else "lacks none")
        told = f"Played as usual: {', '.join(lacks)}" if lacks else "There is one for each clip that states show"
        self.lacks.setToolTip(told)

    # --- edits

    def _set_instead(self, text: str) -> None:
        clip, moved = self.clip, self._moved
        if clip is None:
            return
        if text == ITSELF:
            self.session.edit(
                f"{clip.name} stands in for nothing",
                lambda document: stand_ins.without_place(document, stand_ins.WAYS, clip.name),
            )
            return
        other, way = text.removeprefix("Instead of "), moved[0].name if moved is not None else ""
        self.session.edit(
            f"{clip.name} is played instead of {other}",
            lambda document: alternate_edits.moved_instead(document, clip.name, other, way),
        )

    def _set_way(self, name: str) -> None:
        clip, moved = self.clip, self._moved
        if clip is None or moved is None or name == moved[0].name:
            return
        wanted = free_name(clip.name, [one.name for one in self.session.document.alternates]) if name == NEW else name
        self.session.edit(
            f"put {clip.name} into the way of moving {wanted}",
            lambda document: alternate_edits.moved_instead(document, clip.name, moved[1].clip, wanted),
        )

    def _rename(self, name: str) -> None:
        moved = self._moved
        if moved is not None:
            self.session.rename(Thing("alternate", moved[0].name), name)

    def _set_parameter(self, name: str) -> None:
        choices = next((one.choices for one in self.session.document.parameters if one.name == name), ())
        self._change(parameter="" if name == NO_CHOICE else name, value=choices[0] if choices else "")

    def _change(self, **values: object) -> None:
        self._at(
            "changed when {name} is the way of moving",
            lambda document, at: change(document, ("alternates", at), **values),
        )

    def _by_new_choice(self) -> None:
        self._at("{name} is chosen by a choice", lambda document, at: by_new_choice(document, at, "alternates"))

    def _by_names(self) -> None:
        def matched(document: Character, at: int) -> Character:
            found = alternate_edits.by_names(document, at)
            one = document.alternates[at]
            more = tuple(Instead(clip=clip, by=by) for clip, by in found.items())
            made: Character = put(document, ("alternates", at), replace(one, clips=(*one.clips, *more)))
            return made

        self._at("clips stand in by their names in {name}", matched)

    def _at(self, said: str, made: Callable[[Character, int], Character]) -> None:
        place, moved = self.place, self._moved
        if place is not None and moved is not None:
            self.session.edit(said.format(name=moved[0].name), lambda document: made(document, place[0]))

    def _remove(self) -> None:
        moved = self._moved
        if moved is not None:
            self.session.remove(Thing("alternate", moved[0].name))
