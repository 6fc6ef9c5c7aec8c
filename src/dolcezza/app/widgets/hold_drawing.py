"""The hand on the bow, drawn: where each finger goes by what was chosen, and the marks of the student's own bow to scale."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import mark, tr
from dolcezza.app.widgets.plot import Plot

BEFORE_MM, AFTER_MM = 32.0, 128.0
"""What is drawn of the stick, from behind the screw to the end of the winding."""
FROG_MM, FERRULE_MM, NOTCH_MM = 46.0, 12.0, 52.0
FINGER_MM = 15.0
THUMBS = {"outside": (54.0, 19.0), "notch": (NOTCH_MM, 3.0), "under": (24.0, 24.0), "any": (NOTCH_MM, 3.0)}
"""Where the thumb's tip lies, mm from the frog's end along the stick and below it."""
LITTLES = {
    "top": (6.0, -3.0),
    "nearest edge": (6.0, 2.0),
    "inner edge": (6.0, -1.0),
    "screw": (-12.0, -3.0),
    "side": (20.0, 16.0),
    "any": (6.0, -3.0),
}
NAMES = {
    "index": mark("index"), "middle": mark("middle finger"), "ring": mark("ring finger"), "little": mark("little finger"),
    "thumb": mark("thumb"),
}  # fmt: skip
MARK_NAMES = {
    "winding": mark("winding"), "tape": mark("tape"), "balance point": mark("balance point"), "marker": mark("mid-bow marker"),
}  # fmt: skip


class HoldDrawing(Plot):
    """Frog, stick and the five fingers seen from the side; below it the whole bow with its marks, to scale."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("The hand on the bow"), tr("Where each finger goes by what was chosen"), parent)
        self._thumb, self._little, self._index, self._cello, self._left = "any", "any", "any", False, False
        self._marks: dict[str, float] = {}
        self._hair_mm = 645.0

    def show_hold(self, thumb: str, little: str, index: str, *, cello: bool, left: bool) -> None:
        """What was chosen for thumb, little finger and index."""
        self._thumb, self._little, self._index, self._cello, self._left = thumb, little, index, cello, left
        self.update()

    def show_marks(self, marks: dict[str, float], hair_mm: float) -> None:
        """Marks of the bow, mm from the frog by name, on hair so long."""
        self._marks, self._hair_mm = marks, hair_mm
        self.setAccessibleDescription(", ".join(f"{tr(MARK_NAMES[k])} {v / 10:.1f} cm" for k, v in marks.items()))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(430, 330)

    def fingers(self) -> dict[str, tuple[float, float]]:
        """Where the fingers' tips lie: mm from the frog's end along the stick, mm below its middle."""
        thumb, little = THUMBS[self._thumb], LITTLES[self._little]
        middle = thumb[0] if self._thumb != "under" else 36.0
        index = middle + (34.0 if self._index != "square" else 30.0)
        reach = {"middle joint": 9.0, "between": 5.0, "square": 12.0}.get(self._index, 8.0)
        return {
            "index": (index, reach), "middle": (middle, 14.0), "ring": (middle - 20.0, 14.0), "little": little, "thumb": thumb,
        }  # fmt: skip

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = self.begin()
        scale = self.width() / (BEFORE_MM + AFTER_MM)
        above = 0.43 * self.height()

        def x(mm: float) -> float:
            at = (mm + BEFORE_MM) * scale
            return self.width() - at if self._left else at

        self._paint_bow(painter, x, above, scale)
        for name, (along, down) in self.fingers().items():
            self._paint_finger(painter, name, x(along), above + down * scale, scale, above)
        self._paint_whole(painter)
        painter.end()

    def _paint_bow(self, painter: QPainter, x: object, above: float, scale: float) -> None:
        p = self.palette_
        assert callable(x)
        stick = 3.6 * scale
        painter.setPen(QPen(QColor(p.ink), 1))
        painter.setBrush(QColor(p.accent))
        painter.drawRoundedRect(QRectF(QPointF(x(-6), above - stick), QPointF(x(AFTER_MM), above + stick)).normalized(), 3, 3)
        painter.setBrush(QColor(p.raised))
        painter.drawRoundedRect(
            QRectF(QPointF(x(-BEFORE_MM * 0.6), above - 0.8 * stick), QPointF(x(-6), above + 0.8 * stick)).normalized(), 3, 3
        )
        painter.setBrush(QColor(p.line))
        painter.drawRect(
            QRectF(QPointF(x(NOTCH_MM + 8), above - 1.15 * stick), QPointF(x(NOTCH_MM + 48), above + 1.15 * stick)).normalized()
        )
        painter.setBrush(QColor(p.ink))
        frog = QPainterPath(QPointF(x(0), above + stick))
        frog.lineTo(x(0), above + 23 * scale)
        frog.lineTo(x(FROG_MM), above + 23 * scale)
        frog.quadTo(x(FROG_MM), above + 9 * scale, x(FROG_MM + 2), above + stick)
        frog.closeSubpath()
        painter.drawPath(frog)
        painter.setBrush(QColor(p.quiet))
        painter.drawRect(QRectF(QPointF(x(FROG_MM), above + 16 * scale), QPointF(x(FROG_MM + FERRULE_MM), above + 23 * scale)).normalized())
        painter.setPen(QPen(QColor(p.ink), 2))
        painter.drawLine(QPointF(x(FROG_MM + FERRULE_MM), above + 21 * scale), QPointF(x(AFTER_MM), above + 17 * scale))

    def _paint_finger(self, painter: QPainter, name: str, x: float, y: float, scale: float, above: float) -> None:
        p = self.palette_
        width = FINGER_MM * scale * (0.8 if name == "little" else 1.0)
        thumb = name == "thumb"
        top = above - 30 * scale if not thumb else y + 22 * scale
        path = QPainterPath()
        box = QRectF(x - width / 2, min(top, y), width, abs(y - top))
        path.addRoundedRect(box, width / 2, width / 2)
        skin = QColor(p.to_scroll)
        skin.setAlpha(90 if not thumb else 130)
        painter.setPen(QPen(QColor(p.ink), 1.2, Qt.PenStyle.DashLine if thumb else Qt.PenStyle.SolidLine))
        painter.setBrush(skin)
        painter.drawPath(path)
        painter.setPen(QColor(p.ink))
        words = tr(NAMES[name])
        row = {"index": 0, "middle": 1, "ring": 0, "little": 1, "thumb": 0}[name]
        if thumb:
            painter.drawText(QRectF(box.right() + 6, box.center().y() - 8, 90, 17), Qt.AlignmentFlag.AlignVCenter, words)
            return
        painter.drawText(QRectF(x - 60, box.top() - 19 - 16 * row, 120, 17), Qt.AlignmentFlag.AlignCenter, words)

    def _paint_whole(self, painter: QPainter) -> None:
        """The whole bow with its marks, frog on the left."""
        p = self.palette_
        y, left, right = self.height() - 42.0, 14.0, self.width() - 14.0

        def x(mm: float) -> float:
            at = left + (right - left) * min(mm / self._hair_mm, 1.0)
            return self.width() - at if self._left else at

        painter.setPen(QPen(QColor(p.accent), 3))
        painter.drawLine(QPointF(x(0), y), QPointF(x(self._hair_mm), y))
        painter.setPen(QPen(QColor(p.ink), 6))
        painter.drawLine(QPointF(x(0), y + 3), QPointF(x(0.05 * self._hair_mm), y + 3))
        painter.setPen(QPen(QColor(p.ink), 1.4))
        ends = [-1e9, -1e9, -1e9]
        rows = (y - 22, y + 6, y + 22)
        for name, mm in sorted(self._marks.items(), key=lambda m: x(m[1])):
            words = tr("{0} {1:.1f} cm").format(tr(MARK_NAMES[name]), mm / 10)
            wide = painter.fontMetrics().horizontalAdvance(words) + 6
            begin = min(max(x(mm) - wide / 2, 0.0), self.width() - wide)
            # the first row in which it does not run into its neighbour
            row = next((k for k in range(3) if begin >= ends[k] + 6), 2)
            ends[row] = begin + wide
            painter.drawLine(QPointF(x(mm), min(rows[row] + 14, y) if row == 0 else y - 4), QPointF(x(mm), rows[row] + 3 if row else y + 4))
            painter.drawText(QRectF(begin, rows[row], wide, 16), Qt.AlignmentFlag.AlignCenter, words)
