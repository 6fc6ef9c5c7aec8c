"""A window with two pictures and one slider, which plays by itself: what runs along it is its own."""

from __future__ import annotations

import time

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent, QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import choice
from dolcezza.app.widgets.transport import SPEEDS

TICK_MS = 20


class SideBySide(QDialog):
    """``row`` takes the pictures, ``box`` what stands under them; ``key_step``: so far an arrow key goes along the slider."""

    def __init__(self, title: str, size: tuple[int, int], parent: QWidget | None, *, steps: int, key_step: int, slider: str) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(title)
        self.resize(*size)
        self._key_step = key_step
        self._begun = (0.0, 0.0)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(20, 16, 20, 14)
        self.row = QHBoxLayout()
        self.row.setSpacing(16)
        self.box.addLayout(self.row, 1)
        self.play = QPushButton(tr("Play (Space)"))
        self.play.setObjectName("main")
        self.play.clicked.connect(self.toggle)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, steps)
        self.slider.setAccessibleName(slider)
        self.speed = choice(tr("Playing speed"), [tr(name) for _, name in SPEEDS])
        self.close_button = QPushButton(tr("Back to the desk (Esc)"))
        self.close_button.clicked.connect(self.close)

    def add_line(self, before: QWidget | None, after: QWidget) -> None:
        """The line with the slider between what stands at its ends."""
        line = QHBoxLayout()
        for widget in (self.play, *([before] if before is not None else []), self.slider, after, self.speed, self.close_button):
            line.addWidget(widget, 1 if widget is self.slider else 0)
        self.box.addLayout(line)

    def whole_s(self) -> float:
        """How long the slider takes from end to end at full speed; 0 = nothing runs."""
        raise NotImplementedError

    def toggle(self) -> None:
        """Run along the slider, or stop."""
        if self._timer.isActive():
            self._stop()
            return
        if self.slider.value() >= self.slider.maximum():
            self.slider.setValue(0)
        self._begun = (time.monotonic(), self.slider.value() / self.slider.maximum())
        self._timer.start()
        self.play.setText(tr("Stop (Space)"))

    def _stop(self) -> None:
        self._timer.stop()
        self.play.setText(tr("Play (Space)"))

    def _tick(self) -> None:
        whole = self.whole_s()
        if whole <= 0:
            return
        began, share = self._begun
        now = share + (time.monotonic() - began) * SPEEDS[self.speed.currentIndex()][0] / whole
        self.slider.setValue(min(self.slider.maximum(), round(now * self.slider.maximum())))
        if now >= 1.0:
            self._stop()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self.toggle()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._stop()
            self.slider.setValue(self.slider.value() + (self._key_step if event.key() == Qt.Key.Key_Right else -self._key_step))
        elif event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        self._timer.stop()
        super().closeEvent(event)
