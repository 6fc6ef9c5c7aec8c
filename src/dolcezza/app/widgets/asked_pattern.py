"""The strokes that were asked for, pale behind those that were played; a missed one has a dashed edge and says so."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen, QPolygonF

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import show, spoken, tr
from dolcezza.core.assignment.marks import AskedMark


def paint_asked(painter: QPainter, mark: AskedMark, band: QPolygonF, palette: Palette) -> None:
    """One asked stroke as a pale ``band``."""
    fill = QColor(palette.accent)
    fill.setAlpha(44)
    painter.setBrush(fill)
    edge = QColor(palette.accent)
    edge.setAlpha(110)
    painter.setPen(Qt.PenStyle.NoPen if mark.played else QPen(edge, 1.4, Qt.PenStyle.DashLine))
    painter.drawPolygon(band)
    if not mark.played:
        font = QFont(painter.font())
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(palette.warn))
        painter.drawText(band.boundingRect(), Qt.AlignmentFlag.AlignCenter, tr("missed") if "missed" in mark.faults else "")


def asked_words(marks: list[AskedMark], seconds: float) -> str:
    """What was asked at a moment, in words; "" where nothing was."""
    mark = next((m for m in marks if m.start_s <= seconds <= m.end_s), None)
    if mark is None:
        return ""
    start, end = (show("bow_position", p) for p in (mark.from_position, mark.to_position))
    how = ", ".join(spoken().word(f"match.{f}") for f in mark.faults) or tr("as asked")
    return tr("Asked, stroke {0}: on {1}, from {2} to {3}: {4}").format(mark.asked + 1, mark.string, start, end, how)
