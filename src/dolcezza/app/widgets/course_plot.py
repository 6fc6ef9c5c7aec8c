"""A figure over takes: points with ± at their dates, the target as a line; the better side is shaded."""

from __future__ import annotations

import math
from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import day_words, spoken, tr
from dolcezza.app.widgets.plot import PickPlot
from dolcezza.core.practice.figure import Point
from dolcezza.core.practice.progress import Course

LEFT, RIGHT, TOP, BOTTOM = 46.0, 20.0, 12.0, 26.0


class CoursePlot(PickPlot):
    """Emits ``take_chosen(id)`` when a point is clicked, or chosen by arrow keys and Enter."""

    take_chosen = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Course of a figure over the videos"), tr("Choose a figure."), parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._course: Course | None = None
        self._at = -1

    def sizeHint(self) -> QSize:
        return QSize(420, 190)

    def set_course(self, course: Course | None) -> None:
        """Which figure to show."""
        self._course, self._at = course, -1
        said = "; ".join(self._words(p) for p in course.points) if course is not None else tr("Choose a figure.")
        self.setAccessibleDescription(said)
        self.update()

    def _words(self, p: Point) -> str:
        unit = self._course.unit if self._course is not None else ""
        figure = f"{spoken().number(p.value, 1)} ± {spoken().number(p.sd, 1)}{unit}"
        return tr("{0:%d %B %Y}: {1} from {2} strokes").format(p.day, figure, p.strokes)

    def _range(self) -> tuple[float, float]:
        assert self._course is not None
        known = [p for p in self._course.points if math.isfinite(p.value)]
        high = max([self._course.target, *(p.value + 2 * p.sd for p in known)])
        low = min([0.0, self._course.target, *(p.value - 2 * p.sd for p in known)])
        # counts that are all nothing still have a scale
        return low, high + 0.08 * (high - low) if high > low else low + 1.0

    def _place(self, p: Point) -> QPointF:
        assert self._course is not None
        days = [q.day.toordinal() for q in self._course.points]
        wide = max(1, days[-1] - days[0])
        share = 0.5 if len(set(days)) == 1 else (p.day.toordinal() - days[0]) / wide
        return QPointF(LEFT + 20 + (self.width() - LEFT - RIGHT - 40) * share, self._y(p.value))

    def _y(self, value: float) -> float:
        low, high = self._range()
        return self.height() - BOTTOM - (self.height() - TOP - BOTTOM) * (value - low) / (high - low)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        field = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        painter.fillRect(field, QColor(p.paper))
        course = self._course
        if course is None:
            painter.end()
            return
        target = self._y(course.target)
        good = QRectF(field.left(), target, field.width(), field.bottom() - target)
        if course.lower_is_better is False:
            good = QRectF(field.left(), field.top(), field.width(), target - field.top())
        tint = QColor(p.good)
        tint.setAlpha(28)
        painter.fillRect(good, tint)
        painter.setPen(QPen(QColor(p.good), 1.6, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(field.left(), target), QPointF(field.right(), target))
        painter.setPen(QColor(p.ink))
        aim = QRectF(field.right() - 130, target - 17, 126, 16)
        painter.drawText(aim, Qt.AlignmentFlag.AlignRight, tr("aim {0:g}{1}").format(course.target, course.unit))
        low, high = self._range()
        painter.setPen(QColor(p.faint))
        for value, words in zip((low, 0.5 * (low + high), high), self.scale_words(), strict=True):
            box = QRectF(0, self._y(value) - 8, LEFT - 6, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        places = [(q, self._place(q)) for q in course.points if math.isfinite(q.value)]
        painter.setPen(QPen(QColor(p.accent), 2))
        for (_, a), (_, b) in pairwise(places):
            painter.drawLine(a, b)
        for k, (q, at) in enumerate(places):
            painter.setPen(QPen(QColor(p.ink), 1.6))
            painter.drawLine(QPointF(at.x(), self._y(q.value - q.sd)), QPointF(at.x(), self._y(q.value + q.sd)))
            painter.setBrush(QColor(p.accent))
            painter.drawEllipse(at, 7 if k == self._at else 5, 7 if k == self._at else 5)
            painter.setPen(QColor(p.faint))
            painter.drawText(QRectF(at.x() - 40, field.bottom() + 5, 80, 16), Qt.AlignmentFlag.AlignCenter, day_words(q.day, "%d %b"))
        self.frame_focus(painter)
        painter.end()

    def scale_words(self) -> list[str]:
        """What stands beside the lowest, the middle and the highest of the scale: as fine as to tell them apart."""
        if self._course is None:
            return []
        low, high = self._range()
        d = 0 if high - low > 4 else 1 if high - low > 0.4 else 2
        return [f"{spoken().number(v, d)}{self._course.unit.strip()}" for v in (low, 0.5 * (low + high), high)]

    def point_at(self, place: QPointF) -> int:
        """Number of the point under a place of the widget, -1 = none."""
        if self._course is None:
            return -1
        far = [(self._place(p) - place).manhattanLength() for p in self._course.points]
        return far.index(min(far)) if far and min(far) < 16 else -1

    def _choose(self, k: int) -> None:
        if self._course is not None and 0 <= k < len(self._course.points):
            self._at = k
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        k = self.point_at(event.position())
        if k >= 0 and self._course is not None:
            self._choose(k)
            self.take_chosen.emit(self._course.points[k].take_id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step and self._course is not None:
            self._choose(min(len(self._course.points) - 1, max(0, self._at + step)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._course is not None and self._at >= 0:
            self.take_chosen.emit(self._course.points[self._at].take_id)
        else:
            super().keyPressEvent(event)

    def words_at(self, where: QPointF) -> str:
        k = self.point_at(where)
        return self._words(self._course.points[k]) + "\n" + tr("Click: open that video") if k >= 0 and self._course is not None else ""
