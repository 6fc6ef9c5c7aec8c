"""Play, pause, step, slow, jump: the buttons under the picture and the clock behind them."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker, Qt, QTimer, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QSlider, QToolButton, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.style import icon
from dolcezza.app.theme.words import mark, tr
from dolcezza.core.base.units import clock

SPEEDS = ((1.0, mark("full speed")), (0.5, mark("half")), (0.25, mark("quarter")), (0.125, mark("eighth")))


Span = tuple[float, float]


class Transport(QWidget):
    """Emits ``moment(seconds)`` when another moment is to be shown and ``stroke_step(+1 or -1)``; ``started(seconds, tempo)`` whenever it
    runs from somewhere, ``paused()``, and ``quiet_wanted(bool)``. ``span`` gives the stretch (s) that is repeated while looping."""

    moment = Signal(float)
    stroke_step = Signal(int)
    started = Signal(float, float)
    paused = Signal()
    quiet_wanted = Signal(bool)

    def __init__(self, parent: QWidget | None = None, *, strokes: bool = True) -> None:
        super().__init__(parent)
        self._seconds, self._length, self._gap = 0.0, 0.0, 1 / 30
        self._timer = QTimer(self)
        self._timer.setInterval(15)
        self._timer.timeout.connect(self._tick)
        self._started = (0.0, 0.0)
        self.span: Callable[[], Span | None] = lambda: None
        self._looped: Span | None = None
        self._palette: Palette = LIGHT
        row = QHBoxLayout(self)
        row.setContentsMargins(2, 0, 2, 0)
        row.setSpacing(3)
        self.has_strokes = strokes
        self.stroke_back = self._button("stroke_back", tr("Previous stroke (P)")) if strokes else None
        self.back = self._button("frame_back", tr("One frame back (Left)"))
        self.play = self._button("play", tr("Play or pause (Space)"))
        self.on = self._button("frame_on", tr("One frame on (Right)"))
        self.stroke_on = self._button("stroke_on", tr("Next stroke (N)")) if strokes else None
        self.loop = self._button("loop", tr("Repeat this stroke (R)")) if strokes else None
        if self.loop is not None:
            self.loop.setCheckable(True)
            self.loop.toggled.connect(self._on_loop)
        self.quiet = self._button("sound", tr("Sound on or off (M)"))
        self.quiet.setCheckable(True)
        self.quiet.toggled.connect(self.quiet_wanted)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(tr("Moment of the video"))
        self.slider.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.clock = QLabel("0:00.00")
        self.clock.setMinimumWidth(62)
        self.speed = QComboBox()
        self.speed.setAccessibleName(tr("Playing speed"))
        self.speed.setToolTip(tr("Playing speed (S)"))
        for _, name in SPEEDS:
            self.speed.addItem(tr(name))
        for widget in (
            self.stroke_back,
            self.back,
            self.play,
            self.on,
            self.stroke_on,
            self.loop,
            self.slider,
            self.clock,
            self.quiet,
            self.speed,
        ):
            if widget is not None:
                row.addWidget(widget, 1 if widget is self.slider else 0)
        self.play.clicked.connect(self.toggle)
        self.back.clicked.connect(self.frame_back)
        self.on.clicked.connect(self.frame_on)
        if self.stroke_back is not None and self.stroke_on is not None:
            self.stroke_back.clicked.connect(self._stroke_back)
            self.stroke_on.clicked.connect(self._stroke_on)
        self.slider.valueChanged.connect(self._from_slider)
        self.speed.currentIndexChanged.connect(self._restart)

    def _button(self, name: str, words: str) -> QToolButton:
        button = QToolButton()
        button.setIcon(icon(name, self._palette.ink))
        button.setToolTip(words)
        button.setAccessibleName(words.split(" (")[0])
        button.setProperty("icon_name", name)
        return button

    def recolour(self, palette: Palette) -> None:
        """Redraw the icons in another theme's ink."""
        self._palette = palette
        for button in self.findChildren(QToolButton):
            button.setIcon(icon(str(button.property("icon_name")), palette.ink))

    def set_take(self, length_s: float, rate_hz: float) -> None:
        """Another take: its length and frame rate."""
        self.pause()
        self._length, self._gap = length_s, 1.0 / max(rate_hz, 1.0)
        with QSignalBlocker(self.slider):
            self.slider.setRange(0, max(1, round(length_s / self._gap) - 1))
        self.show_moment(0.0)

    @property
    def playing(self) -> bool:
        """Whether the take is running."""
        return self._timer.isActive()

    @property
    def rate(self) -> float:
        """Playing speed, 1 = as it was played."""
        return SPEEDS[self.speed.currentIndex()][0]

    def show_moment(self, seconds: float) -> None:
        """Another moment is shown (by whoever): follow with slider and clock."""
        self._seconds = seconds
        with QSignalBlocker(self.slider):
            self.slider.setValue(round(seconds / self._gap))
        self.clock.setText(clock(seconds))

    def toggle(self) -> None:
        """Play or pause."""
        if self.playing:
            self.pause()
        else:
            self._looped = self.span() if self.loop is not None and self.loop.isChecked() else None
            if self._looped is not None:
                self._go(self._looped[0])
            elif self._seconds >= self._length - 1.5 * self._gap:
                self._go(0.0)
            self._timer.start()
            self._restart()
            self._dress_play("pause")

    def pause(self) -> None:
        """Stop running."""
        if self.playing:
            self._timer.stop()
            self.paused.emit()
        self._dress_play("play")

    def _on_loop(self, on: bool) -> None:
        if self.playing:
            self._looped = self.span() if on else None

    def sound_again(self) -> None:
        """Tell once more from where it runs."""
        self._restart()

    def show_quiet(self, quiet: bool) -> None:
        """Show whether the sound is off."""
        with QSignalBlocker(self.quiet):
            self.quiet.setChecked(quiet)
        name = "quiet" if quiet else "sound"
        self.quiet.setIcon(icon(name, self._palette.ink))
        self.quiet.setProperty("icon_name", name)

    def _dress_play(self, name: str) -> None:
        self.play.setIcon(icon(name, self._palette.ink))
        self.play.setProperty("icon_name", name)

    def slower(self) -> None:
        """Next slower speed, round and round."""
        self.speed.setCurrentIndex((self.speed.currentIndex() + 1) % len(SPEEDS))

    def frame_on(self) -> None:
        """One frame on."""
        self.pause()
        self._go(self._seconds + self._gap)

    def frame_back(self) -> None:
        """One frame back."""
        self.pause()
        self._go(self._seconds - self._gap)

    def _stroke_back(self) -> None:
        self.pause()
        self.stroke_step.emit(-1)

    def _stroke_on(self) -> None:
        self.pause()
        self.stroke_step.emit(1)

    def _from_slider(self, value: int) -> None:
        self.pause()
        self._go(value * self._gap)

    def _restart(self) -> None:
        self._started = (time.monotonic(), self._seconds)
        if self.playing:
            self.started.emit(self._seconds, self.rate)

    def _tick(self) -> None:
        begun, origin = self._started
        seconds = origin + (time.monotonic() - begun) * self.rate
        if self._looped is not None and seconds >= self._looped[1]:
            self._go(self._looped[0])
            self._restart()
            return
        if seconds >= self._length - self._gap:
            self.pause()
            seconds = self._length - self._gap
        if abs(seconds - self._seconds) >= 0.5 * self._gap:
            self._go(seconds)

    def _go(self, seconds: float) -> None:
        self.moment.emit(min(max(0.0, seconds), max(0.0, self._length - self._gap)))
