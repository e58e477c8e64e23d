"""Findings as rows of sentences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QFontMetrics, QPainter
from PySide6.QtWidgets import (
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from leanstep.core.findings.results import Finding, Report
from leanstep.desk.theme import BOLD, font, theme


def left_open(report: Report) -> str:
    """What a check did not decide, and why; empty when it decided everything."""
    return f"Not everything was decided: {report.aborted}." if report.aborted else ""


Key = tuple[str, str]
"""What makes findings of two checks the same one."""
BAR = 14
"""Pixels a scroll bar may take from the width of a sentence."""


class SentenceDelegate(QStyledItemDelegate):
    """Draws a finding: a band with its severity in words, then its sentence."""

    def sizeHint(self, option: QStyleOptionViewItem, index: object) -> QSize:
        width = option.widget.viewport().width() if option.widget else 400  # type: ignore[attr-defined]
        finding = index.data(Qt.ItemDataRole.UserRole)  # type: ignore[attr-defined]
        box = QFontMetrics(font(13)).boundingRect(
            QRect(0, 0, width - 36 - BAR, 1000), Qt.TextFlag.TextWordWrap, finding.sentence
        )
        return QSize(width, box.height() + 34)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: object) -> None:
        finding: Finding = index.data(Qt.ItemDataRole.UserRole)  # type: ignore[attr-defined]
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        area = option.rect
        painter.save()
        painter.fillRect(area, theme.colour("chosen" if chosen else "leaf"))
        painter.fillRect(QRect(area.x(), area.y(), 6, area.height()), stripe(finding.severity))
        painter.setFont(font(11, BOLD))
        severity = finding.severity
        text = f"{severity}  ·  {finding.id}"
        width = painter.fontMetrics().horizontalAdvance(text) + 12
        tag = QRect(area.x() + 16, area.y() + 7, width, 17)
        if severity == "warning":
            painter.fillRect(tag, theme.colour("warning"))
            painter.setPen(theme.colour("on_warning"))
        else:
            painter.setPen(
                theme.colour("on_chosen") if chosen else theme.colour("error" if severity == "error" else "soft")
            )
        painter.drawText(
            tag, Qt.AlignmentFlag.AlignCenter if severity == "warning" else Qt.AlignmentFlag.AlignVCenter, text
        )
        painter.setFont(font(13))
        painter.setPen(theme.colour("on_chosen" if chosen else "ink"))
        painter.drawText(
            area.adjusted(16, 26, -14, -4), Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop, finding.sentence
        )
        painter.setPen(theme.colour("rule"))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.restore()


def stripe(severity: str):  # type: ignore[no-untyped-def]
    return theme.colour({"error": "error", "warning": "warning"}.get(severity, "edge"))


def together(findings: Sequence[Finding], also: Mapping[Key, Sequence[Key]]) -> list[Finding]:
    """Findings with those that one repair would mend below the one it is known of."""
    by_key = {one.key: one for one in findings}
    placed = dict.fromkeys(key for lead, keys in also.items() if lead in by_key for key in keys if key in by_key)
    order: list[Finding] = []
    for one in findings:
        if one.key not in placed or one.key in also:
            order += [one, *(by_key[key] for key in also.get(one.key, ()) if key in by_key)]
    return list({one.key: one for one in order}.values())
