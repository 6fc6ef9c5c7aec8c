"""What is drawn over the picture: the instrument's outline and landmarks, the bow line, the angle, the contact point."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen, QPolygonF

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.theme.words import show
from dolcezza.core.bowing.series import BowSeries
from dolcezza.services.calibration import CalibrationState

LANDMARK_RADIUS = 7.0


def _edged(painter: QPainter, width: float, colour: str, unit: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> list[QPen]:
    """A dark pen under a light one, both in screen widths."""
    pens = []
    for w, c in ((width + 2.4, ON_PICTURE["edge"]), (width, colour)):
        pen = QPen(QColor(c), w * unit, style if c == colour else Qt.PenStyle.SolidLine)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        if c != colour:
            under = QColor(c)
            under.setAlpha(150)
            pen.setColor(under)
        pens.append(pen)
    return pens


def _stroke(
    painter: QPainter,
    points: list[QPointF],
    width: float,
    colour: str,
    unit: float,
    style: Qt.PenStyle = Qt.PenStyle.SolidLine,
) -> None:
    for pen in _edged(painter, width, colour, unit, style):
        painter.setPen(pen)
        painter.drawPolyline(QPolygonF(points))


def draw_line(painter: QPainter, points: list[QPointF], width: float, colour: str, unit: float, *, dashed: bool = False) -> None:
    """A light line with a dark edge, in screen widths."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    _stroke(painter, points, width, colour, unit, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine)


def _points(xy: np.ndarray) -> list[QPointF]:
    return [QPointF(float(x), float(y)) for x, y in xy if math.isfinite(x) and math.isfinite(y)]


def tag(painter: QPainter, at: QPointF, text: str, unit: float, colour: str = "#FFFFFF") -> None:
    """A small label on the picture, readable on any background."""
    font = QFont(painter.font())
    font.setPixelSize(15)
    font.setWeight(QFont.Weight.DemiBold)
    painter.save()
    painter.setFont(font)
    box = painter.fontMetrics().boundingRect(text).adjusted(-7, -4, 7, 4)
    painter.translate(_inside(painter, at, QRectF(box), unit))
    painter.scale(unit, unit)
    ground = QColor(ON_PICTURE["edge"])
    ground.setAlpha(205)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ground)
    painter.drawRoundedRect(QRectF(box), 6, 6)
    painter.setPen(QColor(colour))
    painter.drawText(0, 0, text)
    painter.restore()


def _inside(painter: QPainter, at: QPointF, box: QRectF, unit: float) -> QPointF:
    """The place for a label so that its ``box`` (screen px about the place) stays within what is shown."""
    seen = painter.worldTransform().inverted()[0].mapRect(QRectF(painter.viewport()))
    x = min(max(at.x(), seen.left() - box.left() * unit), seen.right() - box.right() * unit)
    y = min(max(at.y(), seen.top() - box.top() * unit), seen.bottom() - box.bottom() * unit)
    return QPointF(x, y)


def paint_instrument(painter: QPainter, state: CalibrationState, unit: float) -> None:
    """Outline, fingerboard, strings and bridge as the fit sees them."""
    if not len(state.outline):
        return
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for shape in (state.outline, state.board):
        points = _points(shape)
        _stroke(painter, [*points, points[0]] if points else [], 1.4, ON_PICTURE["outline"], unit)
    for string in state.strings:
        painter.setPen(QPen(QColor(ON_PICTURE["outline"]), 0.8 * unit))
        painter.drawPolyline(QPolygonF(_points(string)))
    _stroke(painter, _points(state.bridge), 2.2, ON_PICTURE["bridge"], unit)


def paint_landmarks(painter: QPainter, state: CalibrationState, chosen: str | None, unit: float, *, by_hand: bool = True) -> None:
    """Landmarks as small crosses in a ring, followed ones as a dotted ring; about the chosen one a second ring."""
    for name, (x, y) in state.points.items():
        at = QPointF(x, y)
        r = LANDMARK_RADIUS * unit
        if not by_hand:
            for pen in _edged(painter, 1.6, ON_PICTURE["landmark"], unit, Qt.PenStyle.DotLine):
                painter.setPen(pen)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, r, r)
            painter.drawPoint(at)
            if name == chosen:
                _ring(painter, at, r, unit)
            continue
        for pen in _edged(painter, 1.6, ON_PICTURE["landmark"], unit):
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, r, r)
            painter.drawLine(at + QPointF(-1.6 * r, 0), at + QPointF(-0.45 * r, 0))
            painter.drawLine(at + QPointF(0.45 * r, 0), at + QPointF(1.6 * r, 0))
            painter.drawLine(at + QPointF(0, -1.6 * r), at + QPointF(0, -0.45 * r))
            painter.drawLine(at + QPointF(0, 0.45 * r), at + QPointF(0, 1.6 * r))
        if name == chosen:
            _ring(painter, at, r, unit)


def _ring(painter: QPainter, at: QPointF, radius: float, unit: float) -> None:
    painter.setPen(QPen(QColor("#FFFFFF"), 1.5 * unit))
    painter.drawEllipse(at, 1.7 * radius, 1.7 * radius)


def paint_bow(painter: QPainter, series: BowSeries, frame: int, unit: float, *, lines: bool, angle: bool, contact: bool) -> None:
    """The measured bow of one frame: hair, parallel to the bridge, the angle between, the contact point."""
    at = {k: QPointF(float(series[f"{k}_x_px"][frame]), float(series[f"{k}_y_px"][frame])) for k in ("frog", "head", "contact", "straight")}
    if not all(math.isfinite(p.x()) and math.isfinite(p.y()) for p in at.values()):
        return
    value, sd = float(series["bow_angle_deg"][frame]), float(series["bow_angle_sd_deg"][frame])
    if angle:
        wedge = QPainterPath(at["contact"])
        wedge.lineTo(at["head"])
        wedge.lineTo(at["straight"])
        wedge.closeSubpath()
        fill = QColor(ON_PICTURE["contact"])
        fill.setAlpha(95)
        painter.fillPath(wedge, fill)
        back = at["contact"] * 2 - at["straight"]
        _stroke(painter, [back, at["straight"]], 1.6, ON_PICTURE["straight"], unit, Qt.PenStyle.DashLine)
    if lines:
        bridge = [QPointF(float(series[f"bridge_{s}_x_px"][frame]), float(series[f"bridge_{s}_y_px"][frame])) for s in ("bass", "treble")]
        _stroke(painter, bridge, 3.0, ON_PICTURE["bridge"], unit)
        _stroke(painter, [at["frog"], at["head"]], 2.6, ON_PICTURE["bow"], unit)
        for end in ("frog", "head"):
            painter.setPen(QPen(QColor(ON_PICTURE["edge"]), 1.2 * unit))
            painter.setBrush(QColor(ON_PICTURE["bow"]))
            painter.drawEllipse(at[end], 4.2 * unit, 4.2 * unit)
    if contact:
        painter.setPen(QPen(QColor(ON_PICTURE["edge"]), 1.5 * unit))
        painter.setBrush(QColor(ON_PICTURE["contact"]))
        painter.drawEllipse(at["contact"], 5.5 * unit, 5.5 * unit)
        text = show("contact_point", float(series["contact_point_mm"][frame]), float(series["contact_point_sd_mm"][frame]))
        tag(painter, at["contact"] + QPointF(14, 34) * unit, text, unit, "#FFD9C9")
    if angle:
        tag(painter, at["head"] + QPointF(-30, -16) * unit, show("bow_angle", value, sd), unit)
