"""Who moves the bow: degrees a tenth of the bow of shoulder, elbow and wrist, by third of the bow or by speed, each with its ±."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.plot import StepPlot
from dolcezza.core.arm.joint_contributions import JOINTS
from dolcezza.core.strokes.joint_work import JointWork

LEFT, RIGHT, ROW, GAP, TOP = 62, 78, 39, 8, 4
BAR = 11
HATCHES = (Qt.BrushStyle.SolidPattern, Qt.BrushStyle.BDiagPattern, Qt.BrushStyle.Dense4Pattern)
LEGEND = 20
LEAST_SCALE_DEG = 10.0


class JointPlot(StepPlot):
    """Three bars a row, one a joint, from 0 to the right; the thin line at the end of a bar is its ±. Emits ``picked(row)``."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Who moves the bow"), "", parent)
        self._rows: list[tuple[str, JointWork | None]] = []

    def set_rows(self, rows: list[tuple[str, JointWork | None]]) -> None:
        """Name and work of each row; None = too little bow there."""
        self._rows, self.at = rows, -1
        self.setAccessibleDescription(". ".join(f"{tr(name)}: {self._words(work)}" for name, work in rows))
        self.updateGeometry()
        self.update()

    @staticmethod
    def _words(work: JointWork | None) -> str:
        if work is None:
            return tr("too little bow there")
        number = spoken().number
        each = zip(JOINTS, work.degrees, work.sd, strict=True)
        return ", ".join(f"{tr(joint)} {number(value)}° ± {number(sd)}°" for joint, value, sd in each)

    def sizeHint(self) -> QSize:
        return QSize(420, TOP + max(1, len(self._rows)) * (ROW + GAP) + LEGEND)

    def _most(self) -> float:
        return max([LEAST_SCALE_DEG, *(v + sd for _, w in self._rows if w is not None for v, sd in zip(w.degrees, w.sd, strict=True))])

    def _x(self, degrees: float) -> float:
        return LEFT + (self.width() - LEFT - RIGHT) * degrees / self._most()

    def _colours(self) -> tuple[str, str, str]:
        p = self.palette_
        return p.to_player, p.accent, p.straight

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        for k, (name, work) in enumerate(self._rows):
            y = TOP + k * (ROW + GAP)
            painter.setPen(QColor(p.ink))
            painter.drawText(QRectF(0, y, LEFT - 8, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, tr(name))
            if work is None:
                painter.setPen(QColor(p.faint))
                painter.drawText(QRectF(LEFT + 8, y, 300, ROW), Qt.AlignmentFlag.AlignVCenter, tr("too little bow there"))
                continue
            for j, colour in enumerate(self._colours()):
                self._paint_bar(painter, y + j * (BAR + 2), work.degrees[j], work.sd[j], colour, HATCHES[j])
        painter.setPen(QPen(QColor(p.ink), 1))
        painter.drawLine(QPointF(LEFT, TOP - 2), QPointF(LEFT, TOP + len(self._rows) * (ROW + GAP)))
        self._paint_legend(painter)
        if self.at >= 0 and self.hasFocus():
            painter.setPen(QPen(QColor(p.ink), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(1, TOP + self.at * (ROW + GAP) - 2, self.width() - 2, ROW + 4), 4, 4)
        self.frame_focus(painter)
        painter.end()

    def _paint_bar(self, painter: QPainter, y: float, value: float, sd: float, colour: str, hatch: Qt.BrushStyle) -> None:
        box = QRectF(LEFT, y, max(1.0, self._x(value) - LEFT), BAR)
        painter.setPen(QPen(QColor(colour), 1.2))
        painter.setBrush(QColor(self.palette_.surface))
        painter.drawRect(box)
        painter.setBrush(QBrush(QColor(colour), hatch))
        painter.drawRect(box)
        painter.setPen(QPen(QColor(self.palette_.ink), 1.2))
        middle = y + BAR / 2
        painter.drawLine(QPointF(self._x(max(0.0, value - sd)), middle), QPointF(self._x(value + sd), middle))
        where = QRectF(self._x(value + sd) + 5, y - 3, RIGHT, BAR + 6)
        words = f"{spoken().number(value)}° ± {spoken().number(sd)}°"
        painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_legend(self, painter: QPainter) -> None:
        x, y = float(LEFT), TOP + len(self._rows) * (ROW + GAP) + 4
        for joint, colour, hatch in zip(JOINTS, self._colours(), HATCHES, strict=True):
            painter.setPen(QPen(QColor(colour), 1.2))
            painter.setBrush(QBrush(QColor(colour), hatch))
            painter.drawRect(QRectF(x, y + 1, 16, 11))
            painter.setPen(QColor(self.palette_.ink))
            painter.drawText(QPointF(x + 22, y + 12), tr(joint))
            x += 92

    def count(self) -> int:
        """Number of rows."""
        return len(self._rows)

    def number_at(self, where: QPointF) -> int:
        """The row at a place."""
        k = int((where.y() - TOP) / (ROW + GAP))
        return k if where.y() >= TOP and k < len(self._rows) else -1

    def words_of(self, number: int) -> str:
        """What the joints do there."""
        name, work = self._rows[number]
        return "\n".join([
            tr("{0}: {1} a tenth of the bow.").format(tr(name), self._words(work)),
            tr("How far each joint turns while a tenth of the hair passes the string."),
            tr("Click: to its frame; again: to the next one"),
        ])  # fmt: skip
