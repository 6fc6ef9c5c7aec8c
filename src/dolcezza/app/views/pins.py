"""Pinning: four clicks on the instrument, the outline follows at once, and the ± that the take will have."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent, QPainter
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.aim import Aim
from dolcezza.app.widgets.overlays import paint_instrument, paint_pins
from dolcezza.app.widgets.parts import label, side_card
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.base.units import QUANTITIES, clock, show
from dolcezza.core.instrument.model import PIN_NAMES, PIN_WORDS, REQUIRED_PINS
from dolcezza.services.fitfile import Points
from dolcezza.services.pinning import SAME_ZERO_S, PinSession, PinState

GRAB_PX = 16.0
NUDGE_PX = 0.5
ADVICE_AFTER_MS = 500
"""Where to put the phone is worked out when the pins have been still for so long."""


class PinsView(QWidget):
    """Works on a ``PinSession``; emits ``measure()`` when the teacher is content, ``undo_changed()`` after each gesture."""

    measure = Signal()
    undo_changed = Signal()

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.session: PinSession | None = None
        self._selection = selection
        self._chosen: str | None = None
        self._grabbed: str | None = None
        self._before: Points = {}
        self._skipped: set[str] = set()
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 8, 18, 14)
        across.setSpacing(18)
        left = QVBoxLayout()
        self.canvas = VideoCanvas()
        self.canvas.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.aim = Aim(self.canvas, self._aim_start)
        self.aim.placed.connect(self._place)
        self.canvas.setAccessibleDescription(
            tr("Click to set the next pin, or Enter, arrows and Enter; arrow keys move the chosen pin by half a pixel")
        )
        self.canvas.empty_text = tr("Choose a take first.")
        self.canvas.layers.append(self._paint)
        self.transport = Transport(strokes=False)
        left.addWidget(self.canvas, 1)
        left.addWidget(self.transport)
        across.addLayout(left, 1)
        across.addWidget(self._make_side())
        self._advise = QTimer(self)
        self._advise.setSingleShot(True)
        self._advise.setInterval(ADVICE_AFTER_MS)
        self._advise.timeout.connect(self._show_advice)
        self.canvas.pressed.connect(self._press)
        self.canvas.dragged.connect(self._drag)
        self.canvas.released.connect(self._release)
        self.transport.moment.connect(self._selection.go_to)
        self._selection.moment_changed.connect(self._on_moment)

    def _make_side(self) -> QFrame:
        frame, box = side_card(330)
        self.todo = label("", "heading")
        self.problem = label("", "problem")
        self.swap = QPushButton(tr("Swap low and high side"))
        self.swap.clicked.connect(self._swap)
        box.addWidget(self.todo)
        box.addWidget(self.problem)
        box.addWidget(self.swap)
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        self.figures: dict[str, QLabel] = {}
        for k, (key, words) in enumerate(
            (
                ("bow_angle", tr("Bow angle")),
                ("contact_point", tr("Contact point")),
                ("bow_position", tr("Place on the bow")),
                ("pixels", tr("Pins miss by")),
            )
        ):
            grid.addWidget(label(words), k, 0)
            figure = label("–", "figure")
            figure.setAlignment(Qt.AlignmentFlag.AlignRight)
            figure.setAccessibleName(tr("{0}, plus or minus").format(words))
            self.figures[key] = figure
            grid.addWidget(figure, k, 1)
        box.addLayout(grid)
        self.advice = label("", "faint")
        box.addWidget(self.advice)
        self.moments = QHBoxLayout()
        self.moments.setSpacing(6)
        box.addLayout(self.moments)
        self.add_moment = QPushButton(tr("Pin here too"))
        self.add_moment.setToolTip(tr("Another pinned frame helps where the instrument was lost or has turned"))
        self.add_moment.clicked.connect(self._add_moment)
        self.zero = QPushButton(tr("Straight here"))
        self.zero.setCheckable(True)
        self.zero.setToolTip(
            tr("Zero: here the bow is parallel to the bridge for sure; what is left of its angle is taken off the whole take")
        )
        self.zero.clicked.connect(self._toggle_zero)
        pair = QHBoxLayout()
        pair.addWidget(self.add_moment)
        pair.addWidget(self.zero)
        box.addLayout(pair)
        box.addWidget(label(tr("Pins"), "heading"))
        self.pins = QLabel()
        self.pins.setTextFormat(Qt.TextFormat.RichText)
        self.pins.setWordWrap(True)
        self.pins.setAlignment(Qt.AlignmentFlag.AlignTop)
        box.addWidget(self.pins, 1)
        row = QHBoxLayout()
        self.remove = QPushButton(tr("Remove pin"))
        self.remove.setToolTip(tr("Delete"))
        self.skip = QPushButton(tr("Skip"))
        self.skip.setToolTip(tr("This place cannot be seen: go on to the next"))
        self.clear = QPushButton(tr("Clear"))
        for button in (self.remove, self.skip, self.clear):
            row.addWidget(button)
        self.remove.clicked.connect(self._remove)
        self.skip.clicked.connect(self._skip)
        self.clear.clicked.connect(self._clear)
        box.addLayout(row)
        self.go = QPushButton(tr("Measure this take"))
        self.go.setObjectName("main")
        self.go.setToolTip(tr("Ctrl+M"))
        self.go.clicked.connect(self.measure)
        box.addWidget(self.go)
        return frame

    def open(self, session: PinSession, length_s: float, rate_hz: float) -> None:
        """Begin to pin a take."""
        self.session = session
        self._skipped = set()
        self._chosen = None
        session.changed = self._show
        self.transport.set_take(length_s, rate_hz)
        self._show(session.state)

    def show_picture(self, image: QImage) -> None:
        """Show the picture of the current moment."""
        self.canvas.show_image(image)

    def _on_moment(self, seconds: float) -> None:
        self.transport.show_moment(seconds)
        self._refresh_todo()
        self._refresh_zero()
        self.canvas.update()

    def _add_moment(self) -> None:
        if self.session is not None:
            self.session.go_to(self._selection.moment_s)
            self.canvas.setFocus()

    def _toggle_zero(self) -> None:
        if self.session is not None:
            self.session.toggle_zero(self._selection.moment_s)

    def _refresh_zero(self) -> None:
        marks = self.session.zero if self.session is not None else ()
        self.zero.setChecked(any(abs(z - self._selection.moment_s) <= SAME_ZERO_S for z in marks))

    def _refresh_moments(self) -> None:
        """One small button for each pinned moment, the present one checked."""
        while (item := self.moments.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.deleteLater()
        times = self.session.moments if self.session is not None and self.session.state.points else []
        for k, t_s in enumerate(times if len(times) > 1 else []):
            button = QPushButton(clock(t_s))
            button.setCheckable(True)
            button.setChecked(self.session is not None and k == self.session.at)
            button.setObjectName("chip")
            button.setAccessibleName(tr("Pinned moment {0}").format(clock(t_s)))
            button.clicked.connect(partial(self._go_to_moment, t_s))
            self.moments.addWidget(button)
        for t_s in self.session.zero if self.session is not None else ():
            button = QPushButton(tr("zero {0}").format(clock(t_s)))
            button.setObjectName("chip")
            button.setAccessibleName(tr("Zero at {0}").format(clock(t_s)))
            button.clicked.connect(partial(self._selection.go_to, t_s))
            self.moments.addWidget(button)
        self.moments.addStretch(1)

    def _go_to_moment(self, t_s: float) -> None:
        if self.session is not None:
            self.session.go_to(t_s)
            self._selection.go_to(t_s)

    @property
    def at_pinned_moment(self) -> bool:
        """Whether the picture shown is the one that is pinned."""
        return self.session is not None and abs(self.session.t_s - self._selection.moment_s) < 0.012

    @property
    def wanted(self) -> str | None:
        """The pin that the next click sets."""
        if self.session is None:
            return None
        return self.session.next_pin(self._skipped)

    def _show(self, state: PinState) -> None:
        precision = state.precision
        values = {
            "bow_angle": precision.bow_angle_deg if precision else None,
            "contact_point": precision.contact_point_mm if precision else None,
            "bow_position": precision.bow_position if precision else None,
            "pixels": state.fit.rms_px if state.fit else None,
        }
        for key, figure in self.figures.items():
            value = values[key]
            q = QUANTITIES[key]
            decimals = max(q.decimals, 1)
            sign = "" if key == "pixels" else "± "
            unit = q.unit if q.unit == "°" else f" {q.unit}"
            figure.setText("–" if value is None or not math.isfinite(value) else f"{sign}{value * q.factor:.{decimals}f}{unit}")
        self.advice.setText(state.advice)
        self._advise.start()
        self.go.setEnabled(state.ready)
        self.swap.setVisible(state.swap)
        few = sum(n in state.points for n in REQUIRED_PINS) < len(REQUIRED_PINS)
        self.problem.setText("" if few else state.problem)
        self.problem.setVisible(bool(self.problem.text()))
        self.pins.setText(self._pin_table(state))
        self._refresh_moments()
        self._refresh_zero()
        self._refresh_todo()
        self.canvas.update()
        self.undo_changed.emit()

    def _show_advice(self) -> None:
        if self.session is not None and self._grabbed is None:
            self.advice.setText(self.session.place_advice())

    def _pin_table(self, state: PinState) -> str:
        rows = []
        worst = state.worst_pin[0] if state.worst_pin and state.worst_pin[1] > 3 else None
        for name in PIN_NAMES:
            placed = name in state.points
            error = show("pixels", state.fit.errors_px[name]) if state.fit and placed else ""
            mark = "●" if placed else "○"
            words = f"<b>{PIN_WORDS[name]}</b>" if name == self._chosen else PIN_WORDS[name]
            note = " ⚑" if name == worst else ""
            rows.append(f"<tr><td>{mark}&nbsp;</td><td>{words}{note}</td><td align='right'>&nbsp;{error}</td></tr>")
        return f"<table width='100%' cellspacing='1'>{''.join(rows)}</table>"

    def _refresh_todo(self) -> None:
        if self.session is None:
            self.todo.setText("")
            return
        wanted = self.wanted
        self.add_moment.setEnabled(bool(self.session.state.ready) and not self.at_pinned_moment)
        if self.session.state.points and not self.at_pinned_moment:
            self.todo.setText(tr("The pins belong to {0}. Click the picture to go back there.").format(clock(self.session.t_s)))
        elif wanted is None:
            self.todo.setText(tr("All pins are set."))
        elif wanted in REQUIRED_PINS:
            k = REQUIRED_PINS.index(wanted) + 1
            self.todo.setText(tr("Click {0} of 4: {1}").format(k, PIN_WORDS[wanted]))
        else:
            self.todo.setText(tr("Good. More pins make it better: {0}").format(PIN_WORDS[wanted]))

    def _paint(self, painter: QPainter, unit: float) -> None:
        if self.session is not None and self.at_pinned_moment:
            paint_instrument(painter, self.session.state, unit)
            paint_pins(painter, self.session.state, self._chosen, unit)

    def _nearest(self, at: QPointF) -> str | None:
        if self.session is None:
            return None
        unit = 1.0 / self.canvas.to_screen().m11()
        best = min(
            self.session.state.points.items(),
            key=lambda p: math.hypot(p[1][0] - at.x(), p[1][1] - at.y()),
            default=None,
        )
        if best is None or math.hypot(best[1][0] - at.x(), best[1][1] - at.y()) > GRAB_PX * unit:
            return None
        return best[0]

    def _press(self, at: QPointF) -> None:
        if self.session is None:
            return
        if self.session.state.points and not self.at_pinned_moment:
            self._selection.go_to(self.session.t_s)
            return
        if not self.session.state.points:
            self.session.t_s = self._selection.moment_s
        self._before = dict(self.session.state.points)
        self._grabbed = self._nearest(at) or self.wanted
        if self._grabbed is None:
            return
        self._chosen = self._grabbed
        if self._grabbed not in self._before:
            self.session.move(self._grabbed, at.x(), at.y())
        self.canvas.lens_at = at
        self._show(self.session.state)

    def _drag(self, at: QPointF) -> None:
        if self.session is not None and self._grabbed is not None:
            self.canvas.lens_at = at
            self.session.move(self._grabbed, at.x(), at.y())

    def _release(self, at: QPointF) -> None:
        self.canvas.lens_at = None
        if self.session is None or self._grabbed is None:
            return
        name, self._grabbed = self._grabbed, None
        x, y = self.session.state.points[name]
        if (x, y) != self._before.get(name):
            self.session.set(name, x, y, before=self._before)
        self.canvas.update()

    def _aim_start(self) -> QPointF | None:
        """Where aiming begins: at the pin set last, else in the middle; None when every pin is set, or on another frame."""
        if self.session is None or self.wanted is None or (self.session.state.points and not self.at_pinned_moment):
            return None
        if self._chosen in self.session.state.points:
            return QPointF(*self.session.state.points[self._chosen])
        return QPointF(self.session.size[0] / 2, self.session.size[1] / 2)

    def _place(self, at: QPointF) -> None:
        """Set the wanted pin where the aim is, however near another one is."""
        wanted = self.wanted
        if self.session is None or wanted is None:
            return
        if not self.session.state.points:
            self.session.t_s = self._selection.moment_s
        self.session.set(wanted, at.x(), at.y())
        self._chosen = wanted
        self._show(self.session.state)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if self.session is not None and self._chosen in self.session.state.points and key in steps:
            x, y = self.session.state.points[self._chosen]
            dx, dy = steps[key]
            size = NUDGE_PX * (8 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
            self.session.set(self._chosen, x + dx * size, y + dy * size)
        elif key == Qt.Key.Key_Delete:
            self._remove()
        else:
            super().keyPressEvent(event)

    def _remove(self) -> None:
        if self.session is not None and self._chosen:
            self.session.remove(self._chosen)
            self._chosen = None
            self._show(self.session.state)

    def _skip(self) -> None:
        wanted = self.wanted
        if wanted is not None and wanted not in REQUIRED_PINS and self.session is not None:
            self._skipped.add(wanted)
            self._show(self.session.state)

    def _clear(self) -> None:
        if self.session is not None:
            self._skipped.clear()
            self.session.forget_moment()

    def _swap(self) -> None:
        if self.session is not None:
            self.session.swap_sides()
