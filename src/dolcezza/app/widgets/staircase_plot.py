"""The staircase: elbow level on each string as steps from the lowest elbow to the highest, each with its spread."""

from __future__ import annotations

import math

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.parts import keeps_keys
from dolcezza.core.arm.staircase import Stair, Staircase

LEFT, RIGHT, TOP, BOTTOM = 40, 10, 10, 24
THIRD_MARKS = ("F", "M", "T")


class StaircasePlot(QWidget):
    """Emits ``string_chosen(name)`` when a step is clicked or chosen by Enter; arrow keys walk along the steps."""

    string_chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._stairs: Staircase | None = None
        self._at = 0
        self.palette_: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Elbow height by string"))
        self.setAccessibleDescription(tr("Left and right arrow keys walk along the strings, Enter shows one"))

    def sizeHint(self) -> QSize:
        return QSize(420, 158)

    def set_stairs(self, stairs: Staircase | None) -> None:
        """What to draw; None empties it."""
        self._stairs, self._at = stairs, 0
        self.update()

    def _range(self) -> tuple[float, float]:
        assert self._stairs is not None
        low = min(min(s.low, *(t for t in s.thirds if math.isfinite(t)), s.level) for s in self._stairs.stairs)
        high = max(max(s.high, *(t for t in s.thirds if math.isfinite(t)), s.level) for s in self._stairs.stairs)
        return 10 * math.floor((low - 3) / 10), 10 * math.ceil((high + 3) / 10)

    def _y(self, level: float) -> float:
        low, high = self._range()
        return TOP + (self.height() - TOP - BOTTOM) * (high - level) / max(high - low, 1.0)

    def _step(self, k: int) -> QRectF:
        assert self._stairs is not None
        wide = (self.width() - LEFT - RIGHT) / max(1, len(self._stairs.stairs))
        return QRectF(LEFT + k * wide, TOP, wide, self.height() - TOP - BOTTOM)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_
        if self._stairs is None or not self._stairs.stairs:
            painter.setPen(QColor(p.faint))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("The heights appear once the arm is measured."))
            painter.end()
            return
        font = QFont(self.font())
        font.setPixelSize(12)
        painter.setFont(font)
        low, high = self._range()
        for level in range(int(low), int(high) + 1, 20 if high - low > 60 else 10):
            y = self._y(level)
            painter.setPen(QPen(QColor(p.line), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(LEFT, y), QPointF(self.width() - RIGHT, y))
            painter.setPen(QColor(p.faint))
            painter.drawText(QRectF(0, y - 8, LEFT - 6, 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{level}°")
        before: QPointF | None = None
        for k, stair in enumerate(self._stairs.stairs):
            before = self._paint_stair(painter, k, stair, before)
        painter.end()

    def _paint_stair(self, painter: QPainter, k: int, stair: Stair, before: QPointF | None) -> QPointF:
        p, box, y = self.palette_, self._step(k), self._y(stair.level)
        spread = QRectF(box.left() + 8, self._y(stair.high), box.width() - 16, self._y(stair.low) - self._y(stair.high))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.quiet))
        painter.drawRoundedRect(spread, 4, 4)
        tread = QPen(QColor(p.accent), 3.4)
        tread.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(tread)
        if before is not None:
            painter.setPen(QPen(QColor(p.accent), 1.6))
            painter.drawLine(before, QPointF(before.x(), y))
            painter.setPen(tread)
        painter.drawLine(QPointF(box.left() + 2, y), QPointF(box.right() - 2, y))
        for t, (mark, level) in enumerate(zip(THIRD_MARKS, stair.thirds, strict=True)):
            if math.isfinite(level):
                at = QPointF(box.left() + box.width() * (t + 0.7) / 3.4, self._y(level))
                painter.setPen(QPen(QColor(p.ink), 1.2))
                painter.setBrush(QColor(p.surface))
                painter.drawEllipse(at, 7.0, 7.0)
                painter.drawText(QRectF(at.x() - 8, at.y() - 8, 16, 16), Qt.AlignmentFlag.AlignCenter, mark)
        painter.setPen(QColor(p.ink))
        words = f"{stair.string}   {show('elbow_level', stair.level)}"
        painter.drawText(QRectF(box.left(), self.height() - BOTTOM + 4, box.width(), BOTTOM - 4), Qt.AlignmentFlag.AlignCenter, words)
        if self.hasFocus() and k == self._at:
            painter.setPen(QPen(QColor(p.accent), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box.adjusted(2, -6, -2, BOTTOM - 2))
        return QPointF(box.right() - 2, y)

    def _stair_at(self, x: float) -> int | None:
        if self._stairs is None or not self._stairs.stairs or x < LEFT:
            return None
        return min(int((x - LEFT) / self._step(0).width()), len(self._stairs.stairs) - 1)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        k = self._stair_at(event.position().x())
        if k is not None and self._stairs is not None:
            self._at = k
            self.string_chosen.emit(self._stairs.stairs[k].string)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        count = len(self._stairs.stairs) if self._stairs is not None else 0
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if count and step:
            self._at = (self._at + step) % count
            self.update()
        elif count and self._stairs is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.string_chosen.emit(self._stairs.stairs[self._at].string)
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if keeps_keys(event, Qt.Key.Key_Left, Qt.Key.Key_Right):
            return True
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            k = self._stair_at(event.pos().x())
            if k is not None and self._stairs is not None:
                stair = self._stairs.stairs[k]
                names = zip((tr("frog"), tr("middle"), tr("tip")), stair.thirds, strict=True)
                thirds = ", ".join(f"{name} {show('elbow_level', v)}" for name, v in names if math.isfinite(v))
                level = show("elbow_level", stair.level, stair.sd)
                lines = [
                    tr("Elbow level on {0}: {1} (0 = hanging, 90 = square to the trunk)").format(stair.string, level),
                    tr("F, M, T: at the frog, in the middle, at the tip ({0})").format(thirds),
                    tr("The pale box holds four fifths of its frames. Click: to one of them."),
                ]
                QToolTip.showText(event.globalPos(), "\n".join(lines), self)
            return True
        return super().event(event)
