"""What is drawn over the picture of the player: the bow arm, the level of the bow through the elbow, the hand."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.theme.words import show
from dolcezza.app.widgets.overlays import draw_line, tag
from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.bowing.series import BowSeries

JOINTS = ("shoulder", "elbow", "wrist")
FINGER_CHAINS = ((0, 1, 2, 3, 4), (0, 5, 6, 7, 8), (9, 10, 11, 12), (13, 14, 15, 16), (0, 17, 18, 19, 20), (5, 9, 13, 17))


def arm_points(series: BowSeries, frame: int, set_by_hand: Mapping[str, tuple[float, float]]) -> dict[str, QPointF]:
    """Joints of the bow arm in the picture; what the teacher has set stands before what was measured."""
    out = {}
    for name in JOINTS:
        x, y = set_by_hand.get(name) or (float(series[f"{name}_x_px"][frame]), float(series[f"{name}_y_px"][frame]))
        if math.isfinite(x) and math.isfinite(y):
            out[name] = QPointF(x, y)
    return out


def paint_arm(
    painter: QPainter, series: BowSeries, frame: int, unit: float, set_by_hand: Mapping[str, tuple[float, float]], *, figures: bool = True
) -> None:  # fmt: skip
    """The arm as a chain, the bow's level carried through the elbow, the elbow's level with its ±."""
    at = arm_points(series, frame, set_by_hand)
    if len(at) < 3:
        return
    frog, head = (QPointF(float(series[f"{k}_x_px"][frame]), float(series[f"{k}_y_px"][frame])) for k in ("frog", "head"))
    if figures and all(math.isfinite(v) for v in (frog.x(), frog.y(), head.x(), head.y())):
        along = (head - frog) / max(1.0, math.hypot((head - frog).x(), (head - frog).y()))
        reach = 70.0 * unit
        draw_line(painter, [at["elbow"] - along * reach, at["elbow"] + along * reach], 1.4, ON_PICTURE["bow"], unit, dashed=True)
    draw_line(painter, [at["shoulder"], at["elbow"], at["wrist"]], 3.4, ON_PICTURE["bridge"], unit)
    for name, point in at.items():
        painter.setPen(QPen(QColor(ON_PICTURE["edge"]), 1.4 * unit))
        painter.setBrush(QColor(ON_PICTURE["landmark"] if name in set_by_hand else ON_PICTURE["bridge"]))
        size = 7.0 if name in set_by_hand else 6.0
        painter.drawEllipse(point, size * unit, size * unit)
    if figures:
        text = show("elbow_level", float(series["elbow_level_deg"][frame]), float(series["elbow_level_sd_deg"][frame]))
        tag(painter, at["elbow"] + QPointF(-34, 40) * unit, text, unit)


def paint_posture(painter: QPainter, figure: PostureFigure, said: str, unit: float) -> None:
    """What a figure of the posture was told from: the thing measured solid, what it is measured against dashed, and its words."""
    for k, (a, b) in enumerate(figure.lines):
        draw_line(painter, [QPointF(*a), QPointF(*b)], 3.0, ON_PICTURE["bridge" if k == 0 else "bow"], unit, dashed=k > 0)
    if figure.lines:
        (x0, y0), (x1, y1) = figure.lines[0]
        tag(painter, QPointF(0.5 * (x0 + x1), max(y0, y1)) + QPointF(-60, 34) * unit, said, unit)


def paint_hand(painter: QPainter, points: Sequence[Sequence[float]], unit: float, by_hand: Collection[int] = ()) -> None:
    """The 21 points of a hand joined to fingers; those set ``by_hand`` are larger and square."""
    at = [QPointF(float(x), float(y)) for x, y in np.asarray(points)]
    for chain in FINGER_CHAINS:
        draw_line(painter, [at[k] for k in chain], 2.2, ON_PICTURE["bridge"], unit)
    for k, point in enumerate(at):
        painter.setPen(QPen(QColor(ON_PICTURE["edge"]), 1.1 * unit))
        painter.setBrush(QColor(ON_PICTURE["landmark" if k in by_hand else "contact" if k in (2, 18) else "bridge"]))
        if k in by_hand:
            painter.drawRect(QRectF(point.x() - 5.2 * unit, point.y() - 5.2 * unit, 10.4 * unit, 10.4 * unit))
        else:
            painter.drawEllipse(point, 4.6 * unit, 4.6 * unit)
