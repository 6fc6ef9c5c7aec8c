"""The picture, as large as there is room, with layers drawn over it and a lens for exact pointing."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Mapping
from typing import TypeVar

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.app.theme.palette import LIGHT, ON_PICTURE
from dolcezza.app.theme.words import tr

K = TypeVar("K", bound=Hashable)
Layer = Callable[[QPainter, float], None]
"""Draws in picture pixels; the number is how many picture pixels one screen pixel is wide."""

LENS_RADIUS = 62
LENS_ZOOM = 4.0


class VideoCanvas(QWidget):
    """Shows one picture; positions in its signals are picture pixels, (0, 0) at the top left corner. ``hovered`` gives None when the mouse
    leaves. Whoever sets ``lens_at`` shows a lens with a cross there."""

    pressed = Signal(QPointF)
    dragged = Signal(QPointF)
    released = Signal(QPointF)
    hovered = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._image: QImage | None = None
        self._size = QSize(1280, 720)
        self._zoom, self._centre = 1.0, QPointF(0.5, 0.5)
        self._pan_from: tuple[QPointF, QPointF] | None = None
        self._dragging = False
        self.layers: list[Layer] = []
        self.lens_at: QPointF | None = None
        self.empty_text = ""
        self.setMinimumSize(420, 240)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Picture of the video"))

    def sizeHint(self) -> QSize:
        return QSize(900, 506)

    def show_image(self, image: QImage | None) -> None:
        """Show a picture; None empties the canvas."""
        self._image = image
        if image is not None:
            self._size = image.size()
        self.update()

    @property
    def has_image(self) -> bool:
        """Whether a picture is shown."""
        return self._image is not None

    def to_screen(self) -> QTransform:
        """Picture pixels to widget pixels."""
        w, h = max(1, self._size.width()), max(1, self._size.height())
        scale = min(self.width() / w, self.height() / h) * self._zoom
        left = self.width() / 2 - self._centre.x() * w * scale
        top = self.height() / 2 - self._centre.y() * h * scale
        return QTransform(scale, 0, 0, scale, left, top)

    def to_picture(self, point: QPointF) -> QPointF:
        """Widget pixels to picture pixels."""
        inverse, _ = self.to_screen().inverted()
        return inverse.map(point)

    def on_screen(self, way: QPointF) -> float:
        """Length of a way in the picture, in pixels of the screen."""
        return math.hypot(way.x(), way.y()) * self.to_screen().m11()

    def nearest(self, at: QPointF, places: Mapping[K, QPointF], within: float) -> K | None:
        """Which of ``places`` (px) a hand at ``at`` (px) means: the nearest, if it is not farther than ``within`` px of the screen."""
        near = min(places, key=lambda k: self.on_screen(places[k] - at), default=None)
        return near if near is not None and self.on_screen(places[near] - at) <= within else None

    def whole(self) -> None:
        """Show the whole picture again."""
        self._zoom, self._centre = 1.0, QPointF(0.5, 0.5)
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        if self._image is None:
            painter.fillRect(self.rect(), QColor(LIGHT.stage))
            painter.setPen(QColor("#EDE3D6"))
            painter.drawText(
                self.rect().adjusted(30, 30, -30, -30),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.empty_text,
            )
            painter.end()
            return
        transform = self.to_screen()
        self._paint_picture(painter, transform)
        if self.lens_at is not None:
            self._paint_lens(painter, transform)
        painter.end()

    def _paint_picture(self, painter: QPainter, transform: QTransform) -> None:
        assert self._image is not None
        painter.save()
        painter.setTransform(transform, True)
        painter.drawImage(0, 0, self._image)
        for layer in self.layers:
            painter.save()
            layer(painter, 1.0 / transform.m11())
            painter.restore()
        painter.restore()

    def _paint_lens(self, painter: QPainter, transform: QTransform) -> None:
        assert self.lens_at is not None
        at = transform.map(self.lens_at)
        shift = QPointF(LENS_RADIUS + 26, -LENS_RADIUS - 26)
        if at.x() + shift.x() + LENS_RADIUS > self.width():
            shift.setX(-shift.x())
        if at.y() + shift.y() - LENS_RADIUS < 0:
            shift.setY(-shift.y())
        centre = at + shift
        circle = QRectF(centre.x() - LENS_RADIUS, centre.y() - LENS_RADIUS, 2 * LENS_RADIUS, 2 * LENS_RADIUS)
        painter.save()
        path = _circle_path(circle)
        painter.setClipPath(path)
        painter.fillPath(path, QColor(LIGHT.stage))
        scale = LENS_ZOOM * max(transform.m11(), 0.5)
        lens = QTransform(scale, 0, 0, scale, centre.x() - self.lens_at.x() * scale, centre.y() - self.lens_at.y() * scale)
        self._paint_picture(painter, lens)
        painter.restore()
        painter.setPen(QPen(QColor(ON_PICTURE["landmark"]), 2))
        painter.drawEllipse(circle)
        painter.setPen(QPen(QColor(ON_PICTURE["landmark"]), 1.2))
        for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
            painter.drawLine(centre + QPointF(5 * dx, 5 * dy), centre + QPointF(15 * dx, 15 * dy))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._image is not None:
            self._dragging = True
            self.pressed.emit(self.to_picture(event.position()))
        elif self._image is not None:
            self._pan_from = (event.position(), QPointF(self._centre))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragging:
            self.dragged.emit(self.to_picture(event.position()))
        elif self._pan_from is not None:
            start, centre = self._pan_from
            scale = self.to_screen().m11()
            step = (event.position() - start) / scale
            self._look_at(QPointF(centre.x() - step.x() / self._size.width(), centre.y() - step.y() / self._size.height()))
        elif self._image is not None:
            self.hovered.emit(self.to_picture(event.position()))

    def leaveEvent(self, event: QEvent) -> None:
        self.hovered.emit(None)
        super().leaveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragging and event.button() == Qt.MouseButton.LeftButton:
            self._dragging = False
            self.released.emit(self.to_picture(event.position()))
        self._pan_from = None

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self._image is None:
            return
        before = self.to_picture(event.position())
        self._zoom = min(8.0, max(1.0, self._zoom * 1.0015 ** event.angleDelta().y()))
        after = self.to_picture(event.position())
        self._look_at(
            QPointF(
                self._centre.x() + (before.x() - after.x()) / self._size.width(),
                self._centre.y() + (before.y() - after.y()) / self._size.height(),
            )
        )

    def _look_at(self, centre: QPointF) -> None:
        half = 0.5 / self._zoom
        self._centre = QPointF(min(1 - half, max(half, centre.x())), min(1 - half, max(half, centre.y())))
        self.update()


def _circle_path(rect: QRectF) -> QPainterPath:
    path = QPainterPath()
    path.addEllipse(rect)
    return path
