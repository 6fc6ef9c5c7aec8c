"""The hand as a drawing: each finger as it is bent, a few joints named and marked round, straight or not told; the degrees on demand."""

from __future__ import annotations

import math
from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import mark, show, tr
from dolcezza.app.widgets.plot import PickPlot
from dolcezza.core.hold.figures import JOINT_WORDS, ROUND_FROM, Hold, Shape

FINGERS = ("thumb", "index", "middle", "ring", "little")
ROOTS = {"thumb": (56.0, 118.0), "index": (104.0, 62.0), "middle": (142.0, 52.0), "ring": (178.0, 58.0), "little": (210.0, 76.0)}
LENGTHS = {"thumb": (34.0, 28.0), "index": (38.0, 44.0), "middle": (42.0, 48.0), "ring": (38.0, 44.0), "little": (30.0, 32.0)}
PALM = (130.0, 150.0)
NAMED = {"thumb_mcp": mark("thumb"), "index_pip": mark("index"), "little_pip": mark("little finger")}
GRAB = 13.0
MOVED = (72, 30)
UNTOLD_DEG = 20.0
"""How a joint that is not told is drawn."""


class HandSketch(PickPlot):
    """Joints by their degrees of bend, seen from the side that bends; resting on one says its figure."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Joints of the hand"), "", parent)
        self._hold: Hold | None = None

    def show_hold(self, hold: Hold | None) -> None:
        """The joints of one picture."""
        self._hold = hold
        told = [] if hold is None else [f"{tr(words)} {self._word(joint)}" for joint, words in NAMED.items()]
        self.setAccessibleDescription(", ".join(told))
        self.setVisible(hold is not None)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(400, 196)

    def _bend(self, joint: str) -> float | None:
        return self._hold.joints[joint][0] if self._hold is not None and joint in self._hold.joints else None

    def _word(self, joint: str) -> str:
        """Round, straight or not told, as the picture or the teacher says."""
        hold = self._hold
        if hold is None:
            return ""
        shape = {"thumb_mcp": hold.thumb, "little_pip": hold.little}.get(joint)
        if shape is None:
            bend = self._bend(joint)
            shape = Shape.UNCLEAR if bend is None else Shape.ROUND if bend >= ROUND_FROM["little_pip"] else Shape.STRAIGHT
        return tr(str(shape))

    def places(self) -> dict[str, QPointF]:
        """Where each joint is drawn: its finger goes out from the palm and turns by the bend of each joint."""
        out: dict[str, QPointF] = {}
        for finger in FINGERS:
            x, y = ROOTS[finger]
            away = math.atan2(y - PALM[1], x - PALM[0])
            first, second = LENGTHS[finger]
            if finger == "thumb":
                out["thumb_root"] = QPointF(x, y)
                out["thumb_mcp"] = QPointF(x + first * math.cos(away), y + first * math.sin(away))
                turned = away + math.radians(self._bend("thumb_mcp") or UNTOLD_DEG)
                at = out["thumb_mcp"]
                out["thumb_tip"] = QPointF(at.x() + second * math.cos(turned), at.y() + second * math.sin(turned))
                continue
            out[f"{finger}_mcp"] = QPointF(x, y)
            direction = away + 0.35 * math.radians(self._bend(f"{finger}_mcp") or UNTOLD_DEG)
            middle = QPointF(x + first * math.cos(direction), y + first * math.sin(direction))
            out[f"{finger}_pip"] = middle
            turned = direction + math.radians(self._bend(f"{finger}_pip") or UNTOLD_DEG)
            out[f"{finger}_tip"] = QPointF(middle.x() + second * math.cos(turned), middle.y() + second * math.sin(turned))
        return out

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        painter.translate(*MOVED)
        at = self.places()
        bone = QPen(QColor(p.faint), 9)
        bone.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(bone)
        for finger in FINGERS:
            chain = [QPointF(*PALM), *(at[k] for k in at if k.startswith(finger))]
            for a, b in pairwise(chain):
                painter.drawLine(a, b)
        for joint, place in at.items():
            if joint.endswith(("tip", "root")):
                continue
            self._paint_joint(painter, joint, place)
        painter.end()

    def _paint_joint(self, painter: QPainter, joint: str, place: QPointF) -> None:
        p = self.palette_
        told = self._bend(joint) is not None
        named = joint in NAMED
        painter.setPen(QPen(QColor(p.ink), 1.6, Qt.PenStyle.SolidLine if told else Qt.PenStyle.DotLine))
        round_ = self._word(joint) == tr(str(Shape.ROUND))
        straight = self._word(joint) == tr(str(Shape.STRAIGHT))
        painter.setBrush(QColor(p.good if named and round_ else p.warn if named and straight else p.surface))
        size = 8.0 if named else 5.0
        if named and straight:
            painter.drawRect(QRectF(place.x() - size, place.y() - size, 2 * size, 2 * size))
        else:
            painter.drawEllipse(place, size, size)
        if named:
            painter.setPen(QColor(p.ink))
            words = f"{tr(NAMED[joint])}: {self._word(joint)}"
            wide = painter.fontMetrics().horizontalAdvance(words) + 4
            box = QRectF(place.x() + 14, place.y() - 9, wide, 18)
            if joint == "thumb_mcp":
                box.moveLeft(place.x() - wide - 14)
            elif joint == "index_pip":
                box.moveTopLeft(QPointF(place.x() - wide - 12, place.y() - 9))
            right = self.width() - MOVED[0] - 2.0
            if box.right() > right:
                box.moveTopRight(QPointF(right, place.y() + size + 4))
            box.moveLeft(max(box.left(), 2.0 - MOVED[0]))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, words)

    def words_at(self, where: QPointF) -> str:
        """The figure of the joint under the mouse."""
        at = where - QPointF(*MOVED)
        for joint, place in self.places().items():
            if not joint.endswith(("tip", "root")) and math.hypot(at.x() - place.x(), at.y() - place.y()) < GRAB:
                told = (
                    show("joint", *self._hold.joints[joint])
                    if self._hold and joint in self._hold.joints
                    else tr("cannot be told from here")
                )
                return f"{tr(JOINT_WORDS[joint])}: {told}"
        return ""
