"""What the ribbon's colours and hatchings mean."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import tr

LEFT = 74.0


class RibbonKey(QWidget):
    """What the colours and hatchings mean, in one line."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.palette_: Palette = LIGHT
        self.limit = 4.0
        self.asked = self.by_hand = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("Key of the ribbon"))

    def sizeHint(self) -> QSize:
        return QSize(560, 22)

    def paintEvent(self, _event: QPaintEvent) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = QFont(self.font())
        font.setPixelSize(13)
        painter.setFont(font)
        x = LEFT
        for colour, hatch, words in (
            (p.straight, None, tr("within {0:.0f}°").format(self.limit)),
            (p.to_scroll, Qt.BrushStyle.BDiagPattern, tr("tip towards the scroll (+)")),
            (p.to_player, Qt.BrushStyle.FDiagPattern, tr("tip towards the player (−)")),
            (None, None, tr("thicker = faster")),
            (None, None, tr("⚑ finding")),
            *(((None, None, tr("✎ by hand")),) if self.by_hand else ()),
            *(((p.raised, None, tr("as asked")),) if self.asked else ()),
        ):
            if colour is not None:
                box = QRectF(x, 5, 26, 12)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(colour))
                painter.drawRoundedRect(box, 3, 3)
                if hatch is not None:
                    painter.setBrush(QBrush(QColor(p.surface), hatch))
                    painter.drawRoundedRect(box, 3, 3)
                x += 32
            painter.setPen(QColor(p.faint))
            width = painter.fontMetrics().horizontalAdvance(words)
            painter.drawText(QRectF(x, 0, width + 4, 22), Qt.AlignmentFlag.AlignVCenter, words)
            x += width + 22
        painter.end()
