"""Paper and ink: colours, fonts and the style sheet.

Colour carries meaning: one hue per lane, red for errors, ochre fills for warnings, violet for marks.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cache
from importlib.resources import as_file, files

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

SANS, SERIF = "Clear Sans", "Vollkorn"


@dataclass(frozen=True)
class Paper:
    """One set of colours; every text colour has a contrast of at least 4.5 : 1 on ``paper`` and ``leaf``."""

    paper: str
    leaf: str
    edge: str
    rule: str
    faint: str
    soft: str
    ink: str
    chosen: str
    on_chosen: str
    error: str
    warning: str
    on_warning: str
    mark: str
    checker: str
    met: str
    hues: tuple[str, ...]
    tints: tuple[str, ...]


DAY = Paper(
    paper="#f6f0e2",
    leaf="#fdfaf1",
    edge="#cdc1a7",
    rule="#e3d9c3",
    faint="#a3977f",
    soft="#655b4a",
    ink="#29251f",
    chosen="#2d4f57",
    on_chosen="#fdfaf1",
    error="#a3211b",
    warning="#e3b24f",
    on_warning="#29251f",
    mark="#6c4796",
    checker="#efe7d4",
    met="#d5e5c0",
    hues=("#3f7596", "#64803f", "#a8623f", "#84608f", "#3a8177", "#8d7326"),
    tints=("#d3e2ec", "#dfe8cd", "#f0d9cb", "#e5d9ea", "#cfe6e1", "#ece2bf"),
)
NIGHT = Paper(
    paper="#26231f",
    leaf="#2f2b26",
    edge="#5d5548",
    rule="#403a32",
    faint="#857a67",
    soft="#bdb19b",
    ink="#f2eadb",
    chosen="#a9cdd4",
    on_chosen="#1e1b18",
    error="#f08a80",
    warning="#d9a640",
    on_warning="#1e1b18",
    mark="#c3a4e6",
    checker="#39342d",
    met="#3d4f30",
    hues=("#86b4d1", "#a9c586", "#d99e7d", "#c3a2cd", "#82c4b9", "#cdb466"),
    tints=("#33454f", "#3d4630", "#4f3c32", "#473b4b", "#2f4844", "#4a4329"),
)


class Theme:
    """The colours in use.  Widgets ask when they paint, so that day and night switch at once."""

    def __init__(self) -> None:
        self.paper = DAY

    @property
    def night(self) -> bool:
        """Whether the night version is in use."""
        return self.paper is NIGHT

    def colour(self, name: str) -> QColor:
        """A colour by its name in :class:`Paper`."""
        return QColor(getattr(self.paper, name))

    def hue(self, lane: int) -> QColor:
        """The strong colour of a lane."""
        return QColor(self.paper.hues[lane % len(self.paper.hues)])

    def tint(self, lane: int, place: int = 0) -> QColor:
        """The fill of a state: its lane's tint, alternating by its place within the lane."""
        colour = QColor(self.paper.tints[lane % len(self.paper.tints)])
        return colour.darker(109) if place % 2 and not self.night else colour.lighter(122) if place % 2 else colour


theme = Theme()


@cache
def font(size: int = 13, weight: QFont.Weight = QFont.Weight.Normal, serif: bool = False) -> QFont:
    """A font of ``size`` pixels."""
    made = QFont(SERIF if serif else SANS)
    made.setPixelSize(size)
    made.setWeight(weight)
    return made


BOLD = QFont.Weight.Bold
MEDIUM = QFont.Weight.Medium


def load_fonts() -> None:
    """Make the fonts that come with the program known to Qt."""
    for entry in files("leanstep").joinpath("fonts").iterdir():
        if entry.name.endswith(".ttf"):
            with as_file(entry) as path:
                QFontDatabase.addApplicationFont(str(path))


def dress(app: QApplication, night: bool) -> None:
    """Put the application into day or night clothes."""
    theme.paper = NIGHT if night else DAY
    paper = theme.paper
    if app.style().name() != "fusion":
        app.setStyle("Fusion")
    app.setFont(font(13))
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, paper.paper),
        (QPalette.ColorRole.WindowText, paper.ink),
        (QPalette.ColorRole.Base, paper.leaf),
        (QPalette.ColorRole.AlternateBase, paper.paper),
        (QPalette.ColorRole.Text, paper.ink),
        (QPalette.ColorRole.Button, paper.leaf),
        (QPalette.ColorRole.ButtonText, paper.ink),
        (QPalette.ColorRole.Highlight, paper.chosen),
        (QPalette.ColorRole.HighlightedText, paper.on_chosen),
        (QPalette.ColorRole.ToolTipBase, paper.leaf),
        (QPalette.ColorRole.ToolTipText, paper.ink),
        (QPalette.ColorRole.PlaceholderText, paper.soft),
    ):
        palette.setColor(role, QColor(colour))
    app.setPalette(palette)
    sheet = _sheet(paper)
    if app.styleSheet() != sheet:  # every widget there is would be dressed anew
        app.setStyleSheet(sheet)


@contextmanager
def undressed(app: QApplication) -> Iterator[None]:
    """What is built meanwhile is dressed once at the end, and not at every step of putting it together."""
    sheet = app.styleSheet()
    app.setStyleSheet("")
    try:
        yield
    finally:
        app.setStyleSheet(sheet)


def _sheet(p: Paper) -> str:
    return f"""
    QWidget {{ color: {p.ink}; font-family: "{SANS}"; font-size: 13px; }}
    QMainWindow, QDialog {{ background: {p.paper}; }}
    #notice {{ background: {p.checker}; border-left: 6px solid {p.warning}; }}
    #exported, #question {{ background: {p.leaf}; border: 2px solid {p.warning}; border-radius: 6px; }}
    #question {{ border-color: {p.chosen}; }}
    #swatch {{ border: 1px solid {p.edge}; }}
    #layout {{ background: {p.leaf}; border: 1px solid {p.edge}; border-radius: 6px; }}
    #layout[current="true"] {{ border: 2px solid {p.chosen}; }}
    QToolTip {{ background: {p.leaf}; color: {p.ink}; border: 1px solid {p.edge}; padding: 4px 6px; }}
    QPushButton, QToolButton {{ background: {p.leaf}; border: 1px solid {p.edge}; border-radius: 4px;
        padding: 4px 11px; min-height: 18px; }}
    QPushButton:hover, QToolButton:hover {{ border-color: {p.soft}; }}
    QPushButton:pressed, QPushButton:checked, QToolButton:checked {{ background: {p.chosen}; color: {p.on_chosen};
        border-color: {p.chosen}; }}
    QPushButton:disabled, QToolButton:disabled {{ color: {p.faint}; border-color: {p.rule}; }}
    QPushButton:focus, QToolButton:focus, QComboBox:focus, QLineEdit:focus, QAbstractSpinBox:focus, QListView:focus
        {{ border: 1px solid {p.chosen}; }}
    QPushButton[flat="true"] {{ background: transparent; border: none; padding: 3px 6px; }}
    QPushButton[tab="true"] {{ padding: 4px 8px; }}
    QPushButton[main="true"] {{ background: {p.chosen}; color: {p.on_chosen}; border-color: {p.chosen}; }}
    QPushButton[main="true"]:disabled {{ background: {p.paper}; color: {p.faint}; border-color: {p.rule}; }}
    QLineEdit, QAbstractSpinBox, QComboBox, QPlainTextEdit {{ background: {p.leaf}; border: 1px solid {p.edge};
        border-radius: 4px; padding: 3px 6px; min-height: 20px; selection-background-color: {p.chosen};
        selection-color: {p.on_chosen}; }}
    QComboBox {{ padding-right: 20px; }}
    QComboBox::drop-down {{ border: none; width: 20px; }}
    QComboBox::down-arrow {{ image: none; width: 0; height: 0; border-left: 4px solid {p.leaf};
        border-right: 4px solid {p.leaf}; border-top: 5px solid {p.soft}; margin-right: 6px; }}
    QComboBox QAbstractItemView {{ background: {p.leaf}; border: 1px solid {p.edge}; }}
    QListView, QTableView {{ background: {p.leaf}; border: 1px solid {p.rule}; border-radius: 4px; outline: none; }}
    QTableView {{ gridline-color: {p.rule}; selection-background-color: {p.chosen}; selection-color: {p.on_chosen}; }}
    QHeaderView::section {{ background: {p.paper}; color: {p.soft}; border: none; border-bottom: 1px solid {p.edge};
        padding: 4px 6px; }}
    QListView::item {{ padding: 5px 8px; border-bottom: 1px solid {p.rule}; }}
    QListView::item:selected {{ background: {p.chosen}; color: {p.on_chosen}; }}
    QCheckBox {{ spacing: 6px; }}
    QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {p.soft}; border-radius: 3px;
        background: {p.leaf}; }}
    QCheckBox::indicator:checked {{ background: {p.chosen}; border-color: {p.chosen}; }}
    QSplitter::handle {{ background: {p.rule}; }}
    QSplitter::handle:horizontal {{ width: 1px; }} QSplitter::handle:vertical {{ height: 1px; }}
    QScrollArea {{ border: none; background: transparent; }}
    QScrollBar:vertical {{ background: transparent; width: 11px; }}
    QScrollBar:horizontal {{ background: transparent; height: 11px; }}
    QScrollBar::handle {{ background: {p.edge}; border-radius: 4px; min-height: 26px; min-width: 26px; margin: 2px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QMenu {{ background: {p.leaf}; border: 1px solid {p.edge}; padding: 4px; }}
    QMenu::item {{ padding: 5px 22px; border-radius: 3px; }}
    QMenu::item:selected {{ background: {p.chosen}; color: {p.on_chosen}; }}
    QPushButton[small="true"] {{ padding: 1px 8px; min-width: 12px; }}
    QMenu::separator {{ height: 1px; background: {p.rule}; margin: 4px 8px; }}
    QMenu::item:disabled {{ color: {p.faint}; }}
    QLabel[role="title"] {{ font-family: "{SERIF}"; font-size: 18px; }}
    QLabel[role="count"] {{ font-size: 17px; font-weight: 600; }}
    QLabel[role="soft"] {{ color: {p.soft}; font-size: 12px; }}
    QLabel[role="fault"] {{ color: {p.error}; }}
    """
