"""Joint shares: for each third of the bow, how much of its way came from shoulder, elbow and wrist."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.plot import StepPlot
from dolcezza.core.arm.joint_contributions import JOINTS, JointContributions

LEFT, RIGHT, ROW, GAP, TOP = 62, 10, 24, 6, 4
HATCHES = (Qt.BrushStyle.SolidPattern, Qt.BrushStyle.BDiagPattern, Qt.BrushStyle.Dense4Pattern)
LEGEND = 20


class SharesPlot(StepPlot):
    """One bar a row, from 0 at the thin line: to the right what helps the bow on, to the left what works against it. Emits
    ``picked(row)``."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Who moves the bow"), "", parent)
        self._rows: list[tuple[str, JointContributions | None]] = []

    def set_rows(self, rows: list[tuple[str, JointContributions | None]]) -> None:
        """Name and shares of each row; None = too little bow there."""
        self._rows, self.at = rows, -1
        said = [f"{tr(name)}: {self._words(shares)}" for name, shares in rows]
        self.setAccessibleDescription(". ".join(said))
        self.updateGeometry()
        self.update()

    @staticmethod
    def _words(shares: JointContributions | None) -> str:
        if shares is None:
            return tr("too little bow there")
        return ", ".join(f"{tr(joint)} {show('share', value)}" for joint, value in zip(JOINTS, shares.shares, strict=True))

    def sizeHint(self) -> QSize:
        return QSize(420, TOP + max(1, len(self._rows)) * (ROW + GAP) + LEGEND)

    def _scale(self) -> tuple[float, float]:
        """Least and greatest place on the axis (share)."""
        low, high = 0.0, 1.0
        for _, shares in self._rows:
            if shares is not None:
                low = min(low, sum(v for v in shares.shares if v < 0))
                high = max(high, sum(v for v in shares.shares if v > 0))
        return low, high

    def _x(self, share: float) -> float:
        low, high = self._scale()
        return LEFT + (self.width() - LEFT - RIGHT) * (share - low) / (high - low)

    def _colours(self) -> tuple[str, str, str]:
        p = self.palette_
        return p.to_player, p.accent, p.straight

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        for k, (name, shares) in enumerate(self._rows):
            y = TOP + k * (ROW + GAP)
            painter.setPen(QColor(p.ink))
            painter.drawText(QRectF(0, y, LEFT - 8, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, tr(name))
            if shares is None:
                painter.setPen(QColor(p.faint))
                painter.drawText(QRectF(self._x(0) + 8, y, 300, ROW), Qt.AlignmentFlag.AlignVCenter, tr("too little bow there"))
                continue
            self._paint_bar(painter, y, shares)
        painter.setPen(QPen(QColor(p.ink), 1))
        for share in (0.0, 1.0):
            painter.drawLine(QPointF(self._x(share), TOP - 2), QPointF(self._x(share), TOP + len(self._rows) * (ROW + GAP)))
        self._paint_legend(painter)
        if self.at >= 0 and self.hasFocus():
            painter.setPen(QPen(QColor(p.ink), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(1, TOP + self.at * (ROW + GAP) - 2, self.width() - 2, ROW + 4), 4, 4)
        self.frame_focus(painter)
        painter.end()

    def _paint_bar(self, painter: QPainter, y: float, shares: JointContributions) -> None:
        right = left = 0.0
        for value, colour, hatch in zip(shares.shares, self._colours(), HATCHES, strict=True):
            start, end = (right, right + value) if value > 0 else (left + value, left)
            right, left = (end, left) if value > 0 else (right, start)
            box = QRectF(self._x(start), y + 2, self._x(end) - self._x(start), ROW - 4)
            painter.setPen(QPen(QColor(colour), 1.2))
            painter.setBrush(QColor(self.palette_.surface))
            painter.drawRect(box)
            painter.setBrush(QBrush(QColor(colour), hatch))
            painter.drawRect(box)
            if box.width() > 40:
                text = show("share", value)
                wide = painter.fontMetrics().horizontalAdvance(text) + 8
                plate = QRectF(box.center().x() - wide / 2, y + 4, wide, ROW - 8)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(self.palette_.surface))
                painter.drawRoundedRect(plate, 4, 4)
                painter.setPen(QColor(self.palette_.ink))
                painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, text)

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
        """Its shares."""
        name, shares = self._rows[number]
        words = tr("{0}: {1} of the bow's way.").format(tr(name), self._words(shares))
        return "\n".join(
            [words, tr("Left of the line: a joint that works against the bow."), tr("Click: to its frame; again: to the next one")]
        )
