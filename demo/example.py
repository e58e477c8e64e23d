"""The full example, for machines without a display: checks the demo, plays a take, writes a report and pictures.

Run ``python -m demo.example FOLDER`` with QT_QPA_PLATFORM=offscreen.
"""

from __future__ import annotations

import argparse
import json
import os
import tempfile
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QSettings, Qt
from PySide6.QtTest import QTest

from leanstep.core.character.files import load, write_atomically
from leanstep.core.character.starting import empty
from leanstep.core.findings.report import check_character
from leanstep.core.formats.handover import FORMATS, hand_over
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.html import page
from leanstep.core.formats.written_files import write
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse, trace_csv
from leanstep.desk.app import make_app, make_window
from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.handover.station import HandoverStation
from leanstep.desk.stations.registry import STATIONS
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window

HERE = Path(__file__).parent


def check_and_report(out: Path) -> None:
    """Check the demo characters; write reports and the trace of a take."""
    for name in (
        "lamplighter",
        "lamplighter-faulty",
        "ferry-hand",
        "ferry-hand-faulty",
        "harbour-cat",
        "fencing-teacher",
    ):
        path = HERE / f"{name}.leanstep"
        character = load(path)
        report = check_character(character, HERE)
        write_atomically(out / f"{name}.html", page(character, report, HERE).encode())
        write_atomically(out / f"{name}.json", (json.dumps(report.to_json(), indent=1) + "\n").encode())
        print(
            f"{name}: {report.count('error')} errors, {report.count('warning')} warnings, {report.situations} situations"
        )
    character = load(HERE / "lamplighter.leanstep")
    take = character.takes[1]
    trace = rehearse(compile_character(character), take)
    write_atomically(out / f"{take.name}.csv", trace_csv(trace).encode())
    print(f"{take.name}: {len(trace.steps)} ticks")
    source = Source(HERE / "lamplighter.leanstep", character)
    goods = {
        name: data
        for _, files in hand_over(source, ("table", "players", "atlas", "scxml"))
        for name, data in files.items()
    }
    print(f"handed over: {len(write(goods, out / 'handed over'))} files")


def wait_for_report(window: Window) -> None:
    """Let the window work until its findings are there."""
    for _ in range(600):
        QTest.qWait(50)
        if window.session.report is not None:
            return


def pictures(out: Path, height: int = 800) -> None:
    """A picture of every station with the demo open, as a person would meet it."""
    with tempfile.TemporaryDirectory(prefix="leanstep-") as state:
        # nothing that somebody here has not saved yet is to be seen
        os.environ["LEANSTEP_STATE"] = state
        _pictures(out, height)


def _pictures(out: Path, height: int) -> None:
    app = make_app()
    settings = QSettings(str(out / "settings.ini"), QSettings.Format.IniFormat)
    settings.clear()
    window = make_window(settings)
    window.resize(1280, height)
    window.show()
    wait_for_report(window)
    for _ in range(400):
        QTest.qWait(50)
        if window.station(FindingsStation).mending.repair is not None:
            break
    QTest.qWait(900)
    window.grab().save(str(out / "findings.png"))
    window.open(HERE / "lamplighter.leanstep")
    wait_for_report(window)
    for name in [one.name for one in STATIONS if not one.judges]:
        window.go(name)
        stage(window, name)
        for _ in range(60):  # in short waits, so that threads get their turn
            QTest.qWait(20)
        window.grab().save(str(out / f"{name.lower().replace(' ', '-')}.png"))
        window.live.leave()
    _costume(window, out)
    _pins(window, out)
    window.mirror.show_tab("Ways out")
    window.go("Graph")
    graph = window.station(GraphStation)
    graph.table_button.click()
    for _ in range(400):
        QTest.qWait(50)
        if graph.table.model.covered is not None:
            break
    graph.table.table.selectRow(3)
    QTest.qWait(400)
    window.grab().save(str(out / "table.png"))
    layers = empty().layers
    window.session.edit("began anew", lambda document: replace(document, layers=layers, takes=()))
    graph.patterns_button.click()
    (jump,) = graph.patterns.list.findItems("Jump in four parts", Qt.MatchFlag.MatchExactly)
    graph.patterns.list.setCurrentItem(jump)
    QTest.qWait(400)
    window.grab().save(str(out / "patterns.png"))
    graph.patterns_button.click()
    window.session.undo()
    window.open(HERE / "ferry-hand.leanstep")
    wait_for_report(window)
    window.go("Blends")
    window.station(BlendsStation).view.probed.emit((110.0, 130.0))
    for _ in range(60):
        QTest.qWait(20)
    window.grab().save(str(out / "dial.png"))
    window.open(HERE / "fencing-teacher.leanstep")
    wait_for_report(window)
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.choose("lunge")
    clips.stand()
    clips.boxes.on.setChecked(True)
    clips.go_to_cel(2)
    clips.boxes.choose(1)
    for _ in range(20):
        QTest.qWait(20)
    window.grab().save(str(out / "actions.png"))
    _two_figures(window, out)
    _parts(window, out)
    window.close()
    app.processEvents()
    Path(settings.fileName()).unlink(missing_ok=True)


def _costume(window: Window, out: Path) -> None:
    """A picture of the winter coat, worn in every preview."""
    window.go("Sheets")
    station = window.station(SheetsStation)
    station.choose("winter")
    station.tools.tools["costume"].click()
    window.session.art.wear("winter coat")
    window.mirror.wears.refresh()
    for _ in range(40):
        QTest.qWait(20)
    window.grab().save(str(out / "costume.png"))
    window.session.art.wear(None)
    window.mirror.wears.refresh()
    station.tools.use("choose")


def _pins(window: Window, out: Path) -> None:
    """A picture of the lamp that hangs on the pole of the lamplighter as he walks."""
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.choose("walk")
    clips.pins.on.setChecked(True)
    clips.go_to_cel(3)
    clips.pins.choose(0)
    clips.pins.accessory.which.setCurrentText("glow")
    clips.pins.accessory.which.activated.emit(clips.pins.accessory.which.currentIndex())
    for _ in range(20):
        QTest.qWait(20)
    window.grab().save(str(out / "pins.png"))
    clips.pins.on.setChecked(False)


def _parts(window: Window, out: Path) -> None:
    """A picture of the gull whose wings beat."""
    window.open(HERE / "harbour-gull.leanstep")
    wait_for_report(window)
    window.mirror.show_tab("Ways out")
    window.go("Clips")
    clips = window.station(ClipsStation)
    clips.choose("flap")
    clips.parts.on.setChecked(True)
    clips.go_to_cel(2)
    clips.parts.choose("near wing")
    for _ in range(20):
        QTest.qWait(20)
    window.grab().save(str(out / "parts.png"))
    clips.parts.on.setChecked(False)


def _two_figures(window: Window, out: Path) -> None:
    """A picture of the teacher who has parried a pupil's lunge and answers."""
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.second_button.click()
    station.choose("bout")
    window.mirror.show_tab("Body")
    for _ in range(40):
        QTest.qWait(20)
    window.live.stop()
    station.play()
    for _ in range(54):
        window.live.tick()
    panel = window.mirror.body
    panel.verticalScrollBar().setValue(panel.verticalScrollBar().maximum())
    for _ in range(10):
        QTest.qWait(20)
    window.grab().save(str(out / "two-figures.png"))
    window.live.leave()


def stage(window: Window, name: str) -> None:
    """Put a station into a telling moment."""
    session = window.session
    if name == "Sheets":
        window.station(SheetsStation).view.chosen = list(range(11, 19))
        window.station(SheetsStation).view.chose.emit()
        for _ in range(200):
            QTest.qWait(50)
            if not window.station(SheetsStation).suggesting.busy:
                break
    elif name == "Clips":
        window.station(ClipsStation).choose("walk")
    elif name == "Graph":
        window.live.restart()
        session.select_state(0, "idle")
        session.select_transition(0, 0)
    elif name == "Rehearse":
        session.clear_selection()
        station = window.station(RehearseStation)
        station.choose("ladder-and-lamp")
        station.course.path.choose("over")
        station.look(328)
        window.mirror.show_tab("Shape")
    elif name == "Hand over":
        window.mirror.show_tab("Ways out")
        place = window.station(HandoverStation)
        place.list.setCurrentIndex(place.model.index(list(FORMATS).index("atlas")))
        for _ in range(200):
            QTest.qWait(30)
            if place.preview.files:
                break


def main() -> None:
    """Do all of it; with ``--pictures`` only the pictures, and ``--height N`` makes the window another height."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("out", nargs="?", default="out", type=Path)
    words.add_argument("--pictures", action="store_true")
    words.add_argument("--height", type=int, default=800)
    asked = words.parse_args()
    out = asked.out.resolve()
    out.mkdir(parents=True, exist_ok=True)
    if not asked.pictures:
        check_and_report(out)
    pictures(out, asked.height)
    print(f"The results are in {out}:")
    for path in sorted(out.iterdir()):
        print(f"  {path.name}")


if __name__ == "__main__":
    main()
