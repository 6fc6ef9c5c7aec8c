"""The way of the job, drawn as a bow: its places from frog to head are the screens, in order."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import keeps_keys

LARGE_PX, SMALL_PX = 15, 13
"""Letters of the names: large where there is room for all of them."""


def _numbered(k: int, name: str, roomy: bool) -> str:
    return f"{k + 1}  {name}" if roomy else f"{k + 1} {name}"


class JobStrip(QWidget):
    """Emits ``chosen(index)``. A place that cannot be entered yet is pale; arrow keys and numbers work too."""

    chosen = Signal(int)

    def __init__(self, names: list[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.names = names
        self.current = 0
        self._open = [True, *[False] * (len(names) - 1)]
        self.palette_: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(tr("Steps of the job"))
        self.setAccessibleDescription(tr("Left and right arrow keys move between the steps"))

    def sizeHint(self) -> QSize:
        return QSize(620, 58)

    def set_state(self, current: int, may_enter: list[bool]) -> None:
        """Which place is shown and which can be entered."""
        self.current, self._open = current, may_enter
        self.update()

    def _place(self, index: int) -> QPointF:
        left, right = 62.0, self.width() - 38.0
        x = left + (right - left) * (index + 0.5) / len(self.names)
        return QPointF(x, 17)

    def paintEvent(self, _event: QPaintEvent) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, right = 40.0, self.width() - 30.0
        stick = QPainterPath(QPointF(left, 9))
        stick.cubicTo(QPointF(left + (right - left) * 0.35, 17), QPointF(left + (right - left) * 0.7, 16), QPointF(right, 6))
        varnish = QPen(QColor(p.accent), 3.2)
        varnish.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(varnish)
        painter.drawPath(stick)
        painter.setPen(QPen(QColor(p.line), 2.2))
        painter.drawLine(QPointF(left + 22, 23), QPointF(right, 17))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.ink))
        painter.drawRoundedRect(QRectF(left - 4, 10, 28, 15), 3, 3)
        painter.setBrush(QColor(p.raised))
        painter.drawRect(QRectF(right - 3, 5, 5, 13))
        for k, name in enumerate(self.names):
            self._paint_place(painter, k, name)
        painter.end()

    @property
    def _room(self) -> float:
        """Width for one name, px."""
        return (self.width() - 100) / len(self.names) - 2

    def _font(self, pixels: int, *, bold: bool) -> QFont:
        font = QFont(self.font())
        font.setPixelSize(pixels)
        font.setWeight(QFont.Weight.Bold if bold else QFont.Weight.Normal)
        return font

    def _fits(self, pixels: int) -> bool:
        """Whether every name fits in letters of this size, the bold one of the step shown too."""
        metrics = QFontMetricsF(self._font(pixels, bold=True))
        wide = (metrics.horizontalAdvance(_numbered(k, name, pixels == LARGE_PX)) for k, name in enumerate(self.names))
        return max(wide, default=0.0) <= self._room

    def _paint_place(self, painter: QPainter, k: int, name: str) -> None:
        p = self.palette_
        at, now, may = self._place(k), k == self.current, self._open[k]
        radius = 9.0 if now else 6.0
        painter.setPen(QPen(QColor(p.accent if may else p.line), 2))
        painter.setBrush(QColor(p.accent if now else p.surface))
        painter.drawEllipse(at, radius, radius)
        roomy = self._fits(LARGE_PX)
        painter.setFont(self._font(LARGE_PX if roomy else SMALL_PX, bold=now))
        painter.setPen(QColor(p.ink if may else p.faint))
        text = painter.fontMetrics().elidedText(_numbered(k, name, roomy), Qt.TextElideMode.ElideRight, int(self._room))
        box = QRectF(at.x() - 110, 32, 220, 22)
        painter.drawText(box, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, text)
        if now and self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            half = 0.5 * painter.fontMetrics().horizontalAdvance(text) + 7
            painter.drawRoundedRect(QRectF(at.x() - half, 31, 2 * half, 23), 6, 6)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        distance = [abs(self._place(k).x() - event.position().x()) for k in range(len(self.names))]
        k = distance.index(min(distance))
        if distance[k] < 90 and self._open[k]:
            self.chosen.emit(k)

    def event(self, event: QEvent) -> bool:
        return keeps_keys(event, Qt.Key.Key_Left, Qt.Key.Key_Right) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        k = self.current + step
        if step and 0 <= k < len(self.names) and self._open[k]:
            self.chosen.emit(k)
        elif not step:
            super().keyPressEvent(event)
