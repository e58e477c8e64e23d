"""The ground the stations stand on: one selection, lists that change by differences, truth when transitions are tried."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from leanstep.core.character.clips import Effect
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.migration import carried
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, rehearse
from leanstep.desk.stations import registry
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.widgets.list_model import ListModel
from leanstep.desk.window import Window
from tests.interface.conftest import ticks, wait_checked
from tests.support.build import DEMO, sketch, way

SOUND = load(DEMO / "lamplighter.leanstep")
CTRL = Qt.KeyboardModifier.ControlModifier


# --- one selection, by name


@pytest.mark.long
def test_the_chosen_state_is_chosen_by_name_through_renaming_undo_and_redo(window: Window) -> None:
    session = window.session
    session.select_state(0, "crouch")
    session.rename(Thing("state", "crouch", "base"), "duck")
    assert session.state == (0, "duck")
    session.undo()
    assert session.state == (0, "crouch")
    session.redo()
    assert session.state == (0, "duck")


@pytest.mark.long
def test_what_was_removed_is_chosen_again_when_it_comes_back(window: Window) -> None:
    session, drawer = window.session, window.station(GraphStation).drawer
    window.go("Graph")
    session.select_transition(0, 3)
    to = session.document.layers[0].transitions[3].to
    drawer.remove()
    assert session.transition is None and drawer.pages.currentIndex() != 2
    session.undo()
    assert session.transition == (0, 3) and drawer.target.currentText() == to


@pytest.mark.long
def test_a_transition_stays_the_chosen_one_when_others_move_past_it(window: Window) -> None:
    session = window.session
    session.select_transition(0, 5)
    chosen = session.document.layers[0].transitions[5]
    session.edit("removed another", lambda document: change(document, ("layers", 0), transitions=tuple(
        one for at, one in enumerate(document.layers[0].transitions) if at != 1)))  # fmt: skip
    assert session.transition == (0, 4) and session.document.layers[0].transitions[4] == chosen


def test_mirror_page_and_drawer_show_one_selection(window: Window) -> None:
    window.go("Graph")
    window.session.select(Thing("state", "skid", "base"))
    assert window.station(GraphStation).drawer.name.text() == "skid"
    assert "skid" in window.mirror.ways._entries[0].text
    window.session.show(Thing("clip", SOUND.clips[1].name))
    assert window.route.current == "Clips" and window.station(ClipsStation).name.text() == SOUND.clips[1].name
    assert window.session.state == (0, "skid")


def test_the_window_knows_stations_only_by_their_specification(window: Window) -> None:
    source = Path(registry.__file__).parents[1]
    for path in (source / "window.py", source / "station_bar.py", source / "session.py", source / "app.py"):
        text = path.read_text()
        for one in registry.STATIONS:
            assert f"{one.name}Station" not in text, path
    for path in source.glob("stations/*/*.py"):
        assert "self.window()" not in path.read_text(), path
    assert list(window.stations) == [one.name for one in registry.STATIONS]


# --- lists


def test_lists_change_by_differences() -> None:
    model = ListModel()
    said: list[tuple[str, int, int]] = []
    model.rowsInserted.connect(lambda parent, first, last: said.append(("in", first, last)))
    model.rowsRemoved.connect(lambda parent, first, last: said.append(("out", first, last)))
    model.show(["a", "b", "c", "d"])
    assert said == [("in", 0, 3)]
    said.clear()
    model.show(["a", "c", "x", "d"])
    assert model.items == ["a", "c", "x", "d"] and said == [("in", 3, 3), ("out", 1, 1)]
    said.clear()
    model.show(["a", "c", "x", "d"])
    assert not said


@pytest.mark.long
def test_a_list_keeps_its_place_when_a_part_is_added(window: Window) -> None:
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.choose(SOUND.clips[1].name)
    resets: list[int] = []
    clips.model.modelReset.connect(lambda: resets.append(1))
    before = clips.list.currentIndex().row()
    clips.cels.set_all_ticks(7.0)
    assert (
        clips.list.currentIndex().row() == before
        and clips.list.currentIndex().data() == SOUND.clips[1].name
        and not resets
    )


@pytest.mark.long
def test_rows_of_the_mirror_stay_when_they_say_the_same(window: Window) -> None:
    window.session.select_state(0, "idle")
    rows = list(window.mirror.ways.rows)
    window.session.edit(
        "changed", lambda document: change(document, ("layers", 0, "transitions", 0), when="speed > 13")
    )
    kept = [row for row in window.mirror.ways.rows if row in rows]
    assert len(kept) == len(rows) - 1


# --- truth when transitions are tried


@pytest.mark.long
def test_every_transition_that_fires_was_shown_as_true_when_it_was_tried(window: Window) -> None:
    live, fired = window.live, 0
    for take in SOUND.takes:
        live.play(take)
        while live.position < take.ticks:
            states = live.situation.states
            live.watched = frozenset(enumerate(states))
            live.tick()
            for layer, index in enumerate(live.last.fired):
                if index >= 0:
                    fired += 1
                    assert live.truths[layer, index], (take.name, live.position)
    assert fired > 20


@pytest.mark.long
def test_a_press_is_seen_as_true_in_the_mirror_though_it_lasts_one_tick(window: Window) -> None:
    ticks(window, 30)
    window.live.drive()
    row = next(row for row in window.mirror.ways.rows if "jump" in row.accessibleName())
    QTest.keyPress(window, Qt.Key.Key_Space)
    assert not row.true
    ticks(window, 1)
    assert row.true
    QTest.qWait(200)
    ticks(window, 2)
    assert not row.true or row not in window.mirror.ways.rows


# --- an edit while steering


def test_an_edit_while_steering_keeps_ages_locks_fades_and_the_freeze() -> None:
    flag = Parameter(name="drawn", kind="flag", owner="graph")
    hold, stop = Effect(do="lock", name="hold"), Effect(do="freeze", value=3)
    states = (State(name="a", on_leave=(hold, Effect(do="set", name="drawn"))), State(name="b", on_entry=(stop,)))
    ways = (
        way("a>b", "go", fade=0.2, interruptible=False),
        way("b>a", "jump buffered 0.5 s and since(a) > 1 s"),
    )
    go = Parameter(name="go", kind="pulse")
    clips = SOUND.clips[:1]
    states = (msgspec_replace(states[0], clip=clips[0].name), msgspec_replace(states[1], clip=clips[0].name))
    character = sketch(*ways, states=states, parameters=(go, flag), clips=clips, sheets=SOUND.sheets)
    machine = compile_character(character)
    stepper = Stepper(machine, free=True)
    now = stepper.first()
    for inputs in ({}, {machine.index["jump"]: True}, {machine.index["go"]: True}):
        now = stepper.step(now, inputs).situation  # type: ignore[arg-type]
    assert now.freeze and now.locks and now.ages and now.since and now.fades[0] is not None
    edited = change(character, ("layers", 0), states=(State(name="new"), *states), lanes=("x",))
    edited = change(edited, (), parameters=(Parameter(name="other"), go, flag))
    new = compile_character(edited)
    after = carried(machine, new, now, Stepper(new, free=True).first())
    assert new.layers[0].states[after.states[0]] == "b" and after.stays == now.stays
    assert after.freeze == now.freeze and after.locks == now.locks
    assert after.values[new.index["drawn"]] is True
    assert after.ages == ((new.index["jump"], now.ages[0][1]),)
    assert after.since == ((0, new.layers[0].states.index("a"), now.since[0][2]),)
    assert after.fades[0] is not None and new.layers[0].states[after.fades[0].state] == "a"
    assert {new.symbols[index].name for index in after.held} == {machine.symbols[index].name for index in now.held}
    Stepper(new, free=True).step(after, {})


def msgspec_replace(state: State, **values: object) -> State:
    import msgspec

    return msgspec.structs.replace(state, **values)


@pytest.mark.parametrize("at", range(0, 300, 23))
def test_an_edit_that_changes_nothing_that_runs_carries_on_as_if_it_had_not_been(at: int) -> None:
    take = SOUND.takes[0]
    machine = compile_character(SOUND)
    rows = inputs_of(machine, take)
    if at >= len(rows):
        pytest.skip("the take is over by then")
    new = compile_character(change(SOUND, ("layers", 0), transitions=(
        *SOUND.layers[0].transitions, Transition(source="light", to="idle", when="stay > 100 s"))))  # fmt: skip
    stepper, other = Stepper(machine), Stepper(new)
    now = stepper.first()
    for inputs in rows[:at]:
        now = stepper.step(now, inputs).situation
    then = carried(machine, new, now, other.first())
    for inputs in rows[at:]:
        now, then = stepper.step(now, inputs).situation, other.step(then, inputs).situation
        assert (now.states, now.stays, now.body) == (then.states, then.stays, then.body)


# --- small wrongs


def test_escape_closes_an_open_menu_before_it_lets_go(window: Window) -> None:
    window.live.drive()
    menu = QMenu(window)
    menu.addAction("something")
    menu.popup(window.mapToGlobal(QPoint(50, 50)))
    QTest.qWaitForWindowExposed(menu)
    QTest.keyClick(menu, Qt.Key.Key_Escape)
    assert not menu.isVisible() and window.live.mode == "driving"
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert window.live.mode == "idle"


@pytest.mark.long
def test_a_key_let_go_while_ctrl_is_down_is_let_go(window: Window) -> None:
    window.live.drive()
    QTest.keyPress(window, Qt.Key.Key_Right)
    window.live.tick()
    assert window.live.hands.devices.values()["stick.x"] == 1
    QTest.keyRelease(window, Qt.Key.Key_Right, CTRL)
    window.live.tick()
    assert window.live.hands.devices.values()["stick.x"] == 0


@pytest.mark.long
def test_tooltips_name_only_shortcuts_that_do_something(window: Window) -> None:
    known: set[str] = set()
    for name in window.stations:
        # one shortcut may be that of the station that is shown
        window.go(name)
        known |= {action.shortcut().toString(QKeySequence.SequenceFormat.PortableText) for action in window.commands}
    known |= {
        "Esc",
        "Space",
        "Enter",
        "Delete",
        "Shift ×10, Alt ÷10",
        "←/→ nudge, Shift ×10, Delete removes",
        "Alt+↑/↓",
    }
    wrong = []
    for widget in window.findChildren(QWidget):
        for said in re.findall(r"\(([^()]*)\)", widget.toolTip()):
            for part in re.split(r"; ", said):
                keys = re.fullmatch(r"((?:Ctrl|Shift|Alt)\+\S+|[A-Z]|Space|Esc|Enter|Delete)(?: .*)?", part)
                if keys and keys[1] not in known:
                    wrong.append((widget.toolTip(), part))
    assert not wrong
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.film.setFocus()
    playing = clips.playing
    QTest.keyClick(clips.film, Qt.Key.Key_Space)
    assert clips.playing != playing


@pytest.mark.long
def test_what_just_happened_is_kept_after_any_time_and_begins_with_what_was_done(window: Window) -> None:
    window.go("Rehearse")
    station, live = window.station(RehearseStation), window.live
    live.restart()
    ticks(window, 40_000)
    live.drive()
    QTest.keyPress(station, Qt.Key.Key_Right)
    ticks(window, 40)
    seen = live.situation
    station.keep()
    take = station.take
    assert take is not None and 40 <= take.ticks <= 80
    assert take.changes[0].at <= 30
    end = rehearse(window.session.machine, take).steps[-1].situation
    assert (end.states, end.body) == (seen.states, seen.body)


@pytest.mark.long
def test_file_dialogs_open_where_the_person_last_was(
    window: Window, demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[str] = []
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *words: asked.append(str(words[2])) or ("", ""))  # type: ignore[func-returns-value]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *words: asked.append(str(words[2])) or ([], ""))  # type: ignore[func-returns-value]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *words: asked.append(str(words[2])) or ("", ""))  # type: ignore[func-returns-value]
    window.session.new()
    window.ask_open()
    window.station(SheetsStation).images.ask()
    window.save_as()
    assert asked == [str(demo), str(demo), str(demo / "character.leanstep")]


@pytest.mark.long
def test_show_the_place_always_leads_somewhere_or_says_where_it_stands(window: Window) -> None:
    document = window.session.document
    parameters = (
        *document.parameters,
        Parameter(name="lonely"),
        Parameter(name="odd", owner="formula", formula="lonly"),
    )
    window.session.edit(
        "spoilt", lambda document: change(document, (), parameters=parameters, assumptions=("speed > 500",))
    )
    wait_checked(window)
    findings = window.station(FindingsStation)
    for row, finding in enumerate(findings.model.items):
        window.go("Findings")
        findings.list.setCurrentIndex(findings.model.index(row))
        window.say("")
        findings.show_place()
        said = window.status.text()
        beside = "below the parameters" in said and window.mirror.names.isVisible()
        assert window.route.current != "Findings" or beside or "it stands in the file" in said, finding


@pytest.mark.long
def test_a_sheet_whose_image_changed_size_is_cut_by_the_new_one(window: Window, demo: Path) -> None:
    from PIL import Image
    from PySide6.QtCore import qInstallMessageHandler

    warnings: list[str] = []
    before = qInstallMessageHandler(lambda kind, context, text: warnings.append(text))
    try:
        Image.new("RGBA", (90, 60), (200, 0, 0, 255)).save(demo / "art" / "lamplighter.png")
        window.session.art._look_again()
        window.go("Sheets")
        sheets = window.station(SheetsStation)
        for _ in range(3000):
            QTest.qWait(20)
            if "90" in sheets.ways.by_count.outcome.text():
                break
        for field, value in ((sheets.ways.columns, 3), (sheets.ways.rows, 2)):
            field.setValue(value)
        assert "6 frames of 30 × 30" in sheets.ways.by_count.outcome.text() and sheets.ways.by_count.apply.isEnabled()
        for name in window.stations:
            window.go(name)
            QTest.qWait(40)
        window.go("Sheets")
        QTest.mouseClick(sheets.ways.by_count.apply, Qt.MouseButton.LeftButton)
        assert window.session.document.sheets[0].size == (90, 60)
        assert [text for text in warnings if "QPainter" in text or "QPixmap" in text or "QImage" in text] == []
    finally:
        qInstallMessageHandler(before)


@pytest.mark.long
def test_states_go_and_come_back_while_time_runs(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    raised: list[str] = []
    monkeypatch.setattr("sys.excepthook", lambda kind, error, trace: raised.append(repr(error)))
    window.live.start()
    for name in window.stations:
        window.go(name)
        QTest.qWait(80)
        for state in ("idle", "crouch", "stride"):
            window.session.select_state(0, state)
            QTest.qWait(40)
            window.session.remove(Thing("state", state, "base"))
            QTest.qWait(40)
        window.live.toggle()
        QTest.qWait(60)
        while window.session.history.undo_name:
            window.session.undo()
            QTest.qWait(15)
        window.live.leave()
    window.live.stop()
    assert window.session.document == SOUND and raised == []


@pytest.mark.long
def test_the_figure_goes_on_at_true_speed_while_the_window_sleeps(window: Window) -> None:
    live = window.live
    live.start()
    QTest.qWait(300)
    before, woken = live.ticks, []
    live.ticked.connect(lambda: woken.append(live.ticks))
    QTest.qWait(1500)
    live._catch_up()
    live.stop()
    assert 70 <= live.ticks - before <= 110
    assert len(woken) <= (live.ticks - before) * 1.1
