"""Calibrating: four clicks on the instrument, the outline follows at once, and the ± that the take will have."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent, QPainter, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.aim import STEPS, Aim
from dolcezza.app.widgets.calibration_panel import CalibrationPanel, what_to_do
from dolcezza.app.widgets.hover_lens import HoverLens
from dolcezza.app.widgets.landmark_map import LandmarkMap
from dolcezza.app.widgets.overlays import paint_instrument, paint_landmarks
from dolcezza.app.widgets.parts import side_card
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.instrument.model import LANDMARK_NAMES, REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.pipeline.fit_file import Fit, Points, same_frame
from dolcezza.services.calibration import SAME_ZERO_S, CalibrationSession, CalibrationState
from dolcezza.services.followed import TrackedLandmarks

GRAB_PX = 16.0
NUDGE_PX = 0.5
TOUCH_PX = 1.5
"""A followed landmark moved by less was touched, not set."""
CHOOSE = {Qt.Key.Key_BracketLeft: -1, Qt.Key.Key_BracketRight: 1}
ADVICE_AFTER_MS = 500
"""Where to put the phone is worked out when the landmarks have been still for so long."""


class CalibrationView(QWidget):
    """Works on a ``CalibrationSession``; emits ``measure()`` when the teacher is content, ``undo_changed()`` after each gesture.

    On a measured take every frame shows where the instrument was followed to, and a landmark dragged there emits ``landmarks_set(t_s,
    fit before)``: only what hangs on it is measured again.
    """

    measure = Signal()
    undo_changed = Signal()
    landmarks_set = Signal(float, object)

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.session: CalibrationSession | None = None
        self._selection = selection
        self._chosen: str | None = None
        self._grabbed: str | None = None
        self._before: Points = {}
        self._skipped: set[str] = set()
        self._followed: TrackedLandmarks | None = None
        self._fit_before: Fit | None = None
        self._came_from_s = 0.0
        self._search = ""
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 8, 18, 14)
        across.setSpacing(18)
        left = QVBoxLayout()
        self.canvas = VideoCanvas()
        self.canvas.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.aim = Aim(self.canvas, self._aim_start, self._confirm)
        self.aim.placed.connect(self._place)
        self.canvas.setAccessibleDescription(
            tr("Click to set the next landmark, or Enter, arrows and Enter; arrow keys move the chosen landmark by half a pixel")
        )
        self.canvas.empty_text = tr("Choose a video first.")
        self.canvas.layers.append(self._paint)
        self.map = LandmarkMap(self.canvas)
        HoverLens(self.canvas, self._sets_at)
        self.transport = Transport(strokes=False)
        left.addWidget(self.canvas, 1)
        left.addWidget(self.transport)
        across.addLayout(left, 1)
        frame, box = side_card(330)
        self.side = CalibrationPanel(box)
        across.addWidget(frame)
        self._listen()
        self._advise = QTimer(self, singleShot=True, interval=ADVICE_AFTER_MS)
        self._advise.timeout.connect(self._show_advice)
        self.canvas.pressed.connect(self._press)
        self.canvas.dragged.connect(self._drag)
        self.canvas.released.connect(self._release)
        self.transport.moment.connect(self._selection.go_to)
        self._selection.moment_changed.connect(self._on_moment)

    def _listen(self) -> None:
        """What the panel's buttons do."""
        side = self.side
        side.swap.clicked.connect(self._swap)
        side.moments.marked.connect(self._go_to_moment)
        side.moments.go_to.connect(self._selection.go_to)
        side.add_moment.clicked.connect(self._add_moment)
        side.zero.clicked.connect(self._toggle_zero)
        side.remove.clicked.connect(self._remove)
        side.skip.clicked.connect(self._skip)
        side.clear.clicked.connect(self._clear)
        side.go.clicked.connect(self.measure)

    def open(self, session: CalibrationSession, length_s: float, rate_hz: float) -> None:
        """Begin to mark a take."""
        self.session = session
        self._skipped = set()
        self._chosen = None
        self._followed = None
        session.changed = self._show
        self.transport.set_take(length_s, rate_hz)
        self._show(session.state)

    def follow(self, followed: TrackedLandmarks | None) -> None:
        """Where the instrument was followed to in the measured take; None = not measured."""
        self._followed = followed
        self._refresh_moments()
        self._refresh_todo()
        self.canvas.update()

    def show_search(self, state: str) -> None:
        """How the search for the instrument stands: "looking", "not found", "" (nothing to say)."""
        self._search = state
        self._refresh_todo()

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
            there = self._followed_here
            self.session.go_to_followed(self._selection.moment_s, there.points if there is not None else {})
            self.canvas.setFocus()

    def _toggle_zero(self) -> None:
        if self.session is not None:
            self.session.toggle_zero(self._selection.moment_s)

    def _refresh_zero(self) -> None:
        marks = self.session.zero if self.session is not None else ()
        self.side.zero.setChecked(any(abs(z - self._selection.moment_s) <= SAME_ZERO_S for z in marks))

    def _refresh_moments(self) -> None:
        session, lost = self.session, self._followed.lost if self._followed is not None else []
        if session is not None:
            self.side.moments.show_moments(session.moments if session.state.points else [], session.at, session.zero, lost)

    def _go_to_moment(self, t_s: float) -> None:
        if self.session is not None:
            self.session.go_to(t_s)
            self._selection.go_to(t_s)

    @property
    def at_marked_moment(self) -> bool:
        """Whether the picture shown is the one that is marked."""
        return self.session is not None and same_frame(self.session.t_s, self._selection.moment_s, self.session.rate_hz)

    @property
    def _followed_here(self) -> CalibrationState | None:
        """Where the instrument was followed to in the picture shown, on a frame that is not the one being marked."""
        if self._followed is None or self.session is None or self.at_marked_moment:
            return None
        return self._followed.state(self._selection.moment_s)

    @property
    def wanted(self) -> str | None:
        """The landmark that the next click sets."""
        if self.session is None:
            return None
        return self.session.next_landmark(self._skipped)

    def _show(self, state: CalibrationState) -> None:
        self.side.figures.show_state(state)
        self.side.advice.setText(spoken().sentences(state.advice))
        self._advise.start()
        self.side.go.setEnabled(state.ready)
        found = self.session is not None and self.session.found
        self.side.go.setText(tr("Looks right: analyse this video") if found else tr("Analyse this video"))
        self.side.swap.setVisible(state.swap)
        few = sum(n in state.points for n in REQUIRED_LANDMARKS) < len(REQUIRED_LANDMARKS)
        self.side.problem.setText("" if few else state.problem)
        self.side.problem.setVisible(bool(self.side.problem.text()))
        self.side.landmarks.show_landmarks(state, self._chosen)
        self._refresh_moments()
        self._refresh_zero()
        self._refresh_todo()
        self.canvas.update()
        self.undo_changed.emit()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._advise.start()

    def _show_advice(self) -> None:
        """Where the phone would better stand: worked out only for who sees it."""
        if self.session is not None and self._grabbed is None and self.isVisible():
            self.side.advice.setText(spoken().sentences(self.session.place_advice()))

    @property
    def _sets_next(self) -> bool:
        """Whether a click here sets the landmark that is wanted."""
        session = self.session
        return session is not None and self.wanted is not None and (self.at_marked_moment or not session.state.points)

    def _sets_at(self, at: QPointF) -> bool | None:
        """Whether a click at a place sets the wanted landmark; None while one is dragged or aimed at by keys."""
        if self._grabbed is not None or self.aim.at is not None:
            return None
        return self._sets_next and self.session is not None and self._nearest(at, self.session.state.points) is None

    def _refresh_todo(self) -> None:
        if self.session is None:
            self.side.todo.setText("")
            return
        wanted = self.wanted
        asked = wanted if self._sets_next and self._followed_here is None else None
        self.map.show_state(InstrumentModel(self.session.base.spec), self.session.state, asked, mirrored=self.session.base.flip)
        self.side.add_moment.setEnabled(bool(self.session.state.ready) and not self.at_marked_moment)
        self.side.todo.setText(
            what_to_do(
                self.session, wanted, here=self.at_marked_moment, tracked=self._followed_here is not None,
                measured=self._followed is not None, looking=self._search == "looking",
            )
        )  # fmt: skip

    def _paint(self, painter: QPainter, unit: float) -> None:
        if self.session is not None and self.at_marked_moment:
            paint_instrument(painter, self.session.state, unit)
            paint_landmarks(painter, self.session.state, self._chosen, unit)
        elif (there := self._followed_here) is not None:
            paint_instrument(painter, there, unit)
            paint_landmarks(painter, there, self._chosen, unit, by_hand=False)

    def _nearest(self, at: QPointF, points: Points) -> str | None:
        return self.canvas.nearest(at, {name: QPointF(*place) for name, place in points.items()}, GRAB_PX)

    def _press(self, at: QPointF) -> None:
        if self.session is None:
            return
        self._fit_before, self._came_from_s = self.session.base_with_landmarks(), self.session.t_s
        if (there := self._followed_here) is not None:
            if self._nearest(at, there.points) is None:
                return
            self.session.go_to_followed(self._selection.moment_s, there.points)
        elif self.session.state.points and not self.at_marked_moment:
            self._selection.go_to(self.session.t_s)
            return
        if not self.session.state.points:
            self.session.t_s = self._selection.moment_s
        self._before = dict(self.session.state.points)
        self._grabbed = self._nearest(at, self.session.state.points) or self.wanted
        if self._grabbed is None:
            return
        self._chosen = self._grabbed
        self.session.held = True
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
        self.session.held = False
        x, y = self.session.state.points[name]
        old_x, old_y = self._before.get(name, (math.inf, math.inf))
        moved = math.hypot(x - old_x, y - old_y)
        if self._came_from_s != self.session.t_s and moved < TOUCH_PX:
            self.session.leave_followed(self.session.t_s, self._came_from_s)
        elif moved > 0:
            self._settle(name, x, y)
        self.canvas.update()

    def _settle(self, name: str, x: float, y: float) -> None:
        """A landmark has its new place: on a measured take what hangs on it is measured again, else it is one step of the landmarks."""
        if self.session is None:
            return
        if self._followed is not None and self._fit_before is not None and self.session.state.ready:
            self.session.settle(name, x, y)
            self.landmarks_set.emit(self.session.t_s, self._fit_before)
        else:
            self.session.set(name, x, y, before=self._before)

    def _aim_start(self) -> QPointF | None:
        """Where aiming begins: at the landmark set last, else in the middle; None when every landmark is set, or on another frame."""
        if self.session is None or self.wanted is None or (self.session.state.points and not self.at_marked_moment):
            return None
        if self._chosen in self.session.state.points:
            return QPointF(*self.session.state.points[self._chosen])
        return QPointF(self.session.size[0] / 2, self.session.size[1] / 2)

    def _place(self, at: QPointF) -> None:
        """Set the wanted landmark where the aim is, however near another one is."""
        wanted = self.wanted
        if self.session is None or wanted is None:
            return
        if not self.session.state.points:
            self.session.t_s = self._selection.moment_s
        self._before, self._fit_before = dict(self.session.state.points), self.session.base_with_landmarks()
        self._settle(wanted, at.x(), at.y())
        self._chosen = wanted
        self._show(self.session.state)

    @property
    def _points_here(self) -> Points:
        """The landmarks in the picture shown: set, or followed to here."""
        if self.session is not None and self.at_marked_moment:
            return self.session.state.points
        there = self._followed_here
        return there.points if there is not None else {}

    @property
    def _looks_right(self) -> bool:
        """Whether Enter says that what was found looks right."""
        session = self.session
        return session is not None and session.found and session.state.ready and self._followed is None and self.at_marked_moment

    def _confirm(self) -> bool:
        if self._looks_right:
            self.measure.emit()
            return True
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in STEPS and self._chosen in self._points_here:
            size = NUDGE_PX * (8 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
            self._nudge(STEPS[key][0] * size, STEPS[key][1] * size)
        elif key in CHOOSE:
            self._choose(CHOOSE[key])
        elif key == Qt.Key.Key_Delete:
            self._remove()
        else:
            super().keyPressEvent(event)

    def _nudge(self, dx: float, dy: float) -> None:
        if self.session is None or self._chosen is None:
            return
        self._fit_before = self.session.base_with_landmarks()
        if (there := self._followed_here) is not None:
            self.session.go_to_followed(self._selection.moment_s, there.points)
        self._before = dict(self.session.state.points)
        x, y = self._before[self._chosen]
        self._settle(self._chosen, x + dx, y + dy)

    def _choose(self, step: int) -> None:
        """Choose the next or the previous landmark in the picture."""
        names = [n for n in LANDMARK_NAMES if n in self._points_here]
        if names and self.session is not None:
            at = names.index(self._chosen) + step if self._chosen in names else min(step, 0)
            self._chosen = names[at % len(names)]
            self._show(self.session.state)

    def _remove(self) -> None:
        if self.session is not None and self._chosen and self.at_marked_moment:
            self.session.remove(self._chosen)
            self._chosen = None
            self._show(self.session.state)

    def _skip(self) -> None:
        wanted = self.wanted
        if wanted is not None and wanted not in REQUIRED_LANDMARKS and self.session is not None:
            self._skipped.add(wanted)
            self._show(self.session.state)

    def _clear(self) -> None:
        if self.session is not None:
            self._skipped.clear()
            self.session.forget_moment()

    def _swap(self) -> None:
        if self.session is not None:
            self.session.swap_sides()
