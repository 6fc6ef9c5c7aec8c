"""Where on the bow the time went: ten parts of the hair from frog to head, each as high as the share of the time spent there."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.plot import StepPlot

LEFT, RIGHT, TOP, BOTTOM = 34.0, 14.0, 20.0, 34.0


class PlacePlot(StepPlot):
    """``set_time`` gives it the shares; the bow lies under them. Emits ``picked(tenth)``."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Time at each bow position"), tr("Analyse the video first."), parent)
        self._shares: tuple[float, ...] = ()
        self._reach: tuple[float, float] | None = None

    def sizeHint(self) -> QSize:
        return QSize(400, 132)

    def set_time(self, shares: Sequence[float], reach: tuple[float, float] | None) -> None:
        """Shares of the time (ten), and the reach of the strokes (frog, tip), None = not known."""
        self._shares, self._reach, self.at = tuple(shares), reach, -1
        words = ", ".join(tr("{0} to {1} %: {2}").format(10 * k, 10 * k + 10, show("share", s)) for k, s in enumerate(shares))
        self.setAccessibleDescription(words or tr("Analyse the video first."))
        self.update()

    def _x(self, place: float) -> float:
        return LEFT + (self.width() - LEFT - RIGHT) * place

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        floor = self.height() - BOTTOM
        most = max([0.2, *self._shares])
        for k, share in enumerate(self._shares):
            height = (floor - TOP) * share / most
            box = QRectF(self._x(k / 10) + 2, floor - height, self._x(0.1) - LEFT - 4, height)
            painter.setPen(QPen(QColor(p.ink), 2.2) if k == self.at and self.hasFocus() else Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.to_player))
            painter.drawRect(box)
            painter.setPen(QColor(p.ink))
            text = QRectF(box.left() - 8, box.top() - 18, box.width() + 16, 17)
            painter.drawText(text, Qt.AlignmentFlag.AlignCenter, show("share", share).replace(" %", ""))
        painter.setPen(QColor(p.faint))
        painter.drawText(QRectF(0, TOP - 18, LEFT - 4, 17), Qt.AlignmentFlag.AlignRight, "%")
        # the bow itself: frog, stick, head
        y = floor + 8
        painter.setPen(QPen(QColor(p.accent), 3))
        painter.drawLine(QPointF(self._x(0), y), QPointF(self._x(1), y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.ink))
        painter.drawRoundedRect(QRectF(self._x(0) - 14, y - 4, 16, 9), 2, 2)
        painter.setPen(QColor(p.faint))
        painter.drawText(QRectF(LEFT - 20, y + 6, 60, 17), Qt.AlignmentFlag.AlignLeft, tr("frog"))
        painter.drawText(QRectF(self._x(1) - 60, y + 6, 66, 17), Qt.AlignmentFlag.AlignRight, tr("head"))
        if self._reach is not None:
            painter.setPen(QPen(QColor(p.ink), 1.6))
            for place in self._reach:
                painter.drawLine(QPointF(self._x(place), y - 6), QPointF(self._x(place), y + 7))
            low, high = (show("share", v) for v in self._reach)
            middle = QRectF(self._x(0.2), y + 6, self._x(0.6) - LEFT, 17)
            painter.drawText(middle, Qt.AlignmentFlag.AlignCenter, tr("reach {0} to {1}").format(low, high))
        self.frame_focus(painter)
        painter.end()

    def count(self) -> int:
        """Ten, or none."""
        return len(self._shares)

    def number_at(self, where: QPointF) -> int:
        """The tenth of the hair at a place."""
        k = int(10 * (where.x() - LEFT) / max(1.0, self.width() - LEFT - RIGHT))
        return k if where.x() >= LEFT and k < len(self._shares) else -1

    def words_of(self, number: int) -> str:
        """Its share of the time."""
        share = show("share", self._shares[number])
        words = tr("{0} of the bowing time between {1} and {2} % of the hair").format(share, 10 * number, 10 * number + 10)
        return f"{words}\n" + tr("Click: to its frame; again: to the next one")
