"""How near a sign of tension is to where it begins: a word and a small gauge; the figures on demand."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPalette, QPen
from PySide6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QWidget

from dolcezza.app.theme.words import mark, tr
from dolcezza.core.tension.signs import Sign, nearness

WIDTH_PX, HEIGHT_PX = 76, 12
NEAR = 0.7
"""From this share of the way to where a sign begins it is called near."""
WORDS = (mark("quiet"), mark("near"), mark("shows"))


def sign_word(sign: Sign) -> str:
    """One word for a sign."""
    return tr(WORDS[2] if sign.shown else WORDS[1] if nearness(sign) >= NEAR else WORDS[0])


class Gauge(QWidget):
    """A bar that is filled up to ``share``; the line in its middle is where the sign begins (1)."""

    def __init__(self, share: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.share = share
        self.setFixedSize(WIDTH_PX, HEIGHT_PX)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        colours = self.palette()
        text, dark = colours.color(QPalette.ColorRole.WindowText), colours.color(QPalette.ColorRole.Highlight)
        whole = QRectF(0.5, 2.5, self.width() - 1, self.height() - 5)
        painter.setPen(QPen(text, 1))
        painter.drawRect(whole)
        filled = QRectF(whole)
        filled.setWidth(whole.width() * min(max(self.share, 0.0) / 2, 1.0))
        painter.fillRect(filled, dark if self.share >= 1 else text)
        painter.setPen(QPen(text, 2))
        painter.drawLine(int(self.width() / 2), 0, int(self.width() / 2), self.height())
        painter.end()


class SignLine(QWidget):
    """One sign that does not show: its name, the gauge, a word; ``figures`` as the tooltip."""

    def __init__(self, sign: Sign, name: str, figures: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(8)
        title = QLabel(f"○  {name}")
        word = QLabel(sign_word(sign))
        word.setObjectName("faint")
        word.setMinimumWidth(52)
        across.addWidget(title, 1)
        across.addWidget(Gauge(nearness(sign)), 0, Qt.AlignmentFlag.AlignVCenter)
        across.addWidget(word)
        self.setToolTip(figures)
        self.setAccessibleName(f"{name}: {sign_word(sign)}. {figures}")
