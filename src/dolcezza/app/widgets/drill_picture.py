"""The drawing of a drill on the screen, in the ink of the theme."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent, QPalette
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.reports.drill_pictures import ACCENT, HEIGHT, INK, SOFT, WIDTH, drill_svg


class DrillPicture(QWidget):
    """One drawing, ``scale`` times its own size."""

    def __init__(self, key: str, name: str, scale: float = 1.0, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.key = key
        self.setFixedSize(QSize(round(WIDTH * scale), round(HEIGHT * scale)))
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def paintEvent(self, _event: QPaintEvent) -> None:
        colours = self.palette()
        ink = colours.color(QPalette.ColorRole.WindowText).name()
        accent = colours.color(QPalette.ColorRole.Highlight).name()
        svg = drill_svg(self.key).replace(INK, ink).replace(ACCENT, accent).replace(SOFT, ink)
        painter = QPainter(self)
        QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(self.rect()))
        painter.end()
