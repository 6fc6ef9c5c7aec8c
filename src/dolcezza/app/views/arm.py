"""The arm: the picture with the bow arm, the staircase of the elbow, who moves the bow, signs of tension."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, Signal
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.joint_plot import JointPlot
from dolcezza.app.widgets.overlays import paint_bow
from dolcezza.app.widgets.overlays_body import arm_points, paint_arm, paint_posture
from dolcezza.app.widgets.parts import Row, empty, faint, label, unit_words
from dolcezza.app.widgets.posture_list import PostureList
from dolcezza.app.widgets.sign_gauge import Gauge, SignLine
from dolcezza.app.widgets.staircase_plot import StaircasePlot
from dolcezza.app.widgets.take_page import TakePage, stacked
from dolcezza.core.arm.joint_contributions import BANDS_CM_S
from dolcezza.core.findings.choices import choices
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.strokes.joint_work import work_by_speed, work_by_third
from dolcezza.core.strokes.moments import pace_moments, passing_moments
from dolcezza.core.tension.signs import Sign, nearness
from dolcezza.reports.choices import choice_in
from dolcezza.storage.records import StoredAnalysis

GRAB_PX = 18.0
SAME_FRAME_S = 0.02
NEAR_POSTURE_S = 0.1
"""How near to its moment a figure of the posture is drawn."""
CAUTION = mark(
    "Signs, never a diagnosis: each has other causes too. A little tired is normal, pain is not: stop, and ask a doctor or "
    "physiotherapist who knows musicians."
)
STAIR_WORDS = {
    "even": mark("The elbow rises evenly."), "flat": mark("The elbow hardly rises."), "broken": mark("The steps are unlike."),
    "reversed": mark("The steps go the other way."), "cannot tell": mark("Fewer than two strings were played."),
}  # fmt: skip

JointPlaces = list[tuple[float, dict[str, tuple[float, float]]]]


class ArmView(TakePage):
    """Emits ``joints_set(seconds, places by joint)`` (place None = let go), ``relaxed_here(seconds)`` and ``measure_again()``."""

    joints_set = Signal(float, object)
    relaxed_here = Signal(float)
    measure_again = Signal()

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(selection, parent)
        self._by_hand: JointPlaces = []
        self._relaxed: float | None = None
        self._grabbed: str | None = None
        self._dragged: QPointF | None = None
        self.canvas.setAccessibleDescription(tr("Drag a joint of the bow arm to put it right"))
        self.canvas.pressed.connect(self._press)
        self.canvas.dragged.connect(self._drag)
        self.canvas.released.connect(self._release)
        row = QHBoxLayout()
        row.addWidget(self.transport, 1)
        self.figures = QPushButton(tr("Levels"))
        self.figures.setObjectName("chip")
        self.figures.setCheckable(True)
        self.figures.setChecked(True)
        self.figures.setToolTip(tr("Draw the elbow's level and the bow's direction through the elbow"))
        self.figures.toggled.connect(self.canvas.update)
        row.addWidget(self.figures)
        self.left.addLayout(row)
        self.set_note = faint("")
        below = QHBoxLayout()
        below.addWidget(self.set_note, 1)
        self.let_go = QPushButton(tr("Reset joints"))
        self.let_go.setToolTip(tr("Remove what was set by hand in this frame"))
        self.let_go.clicked.connect(self._let_go)
        self.ease = QPushButton(tr("Relaxed here"))
        self.ease.setCheckable(True)
        self.ease.setToolTip(tr("In this frame the player is relaxed: the shoulder is compared with it"))
        self.ease.clicked.connect(self._ease_here)
        self.again = QPushButton(tr("Analyse again"))
        self.again.setToolTip(tr("Ctrl+M"))
        self.again.clicked.connect(self.measure_again)
        for button in (self.let_go, self.ease, self.again):
            below.addWidget(button)
        self.left.addLayout(below)
        self._make_cards()
        self._show_note()

    def _make_cards(self) -> None:
        self.stairs_head, self.stairs_note, self.stairs = label(tr("Elbow height by string"), "heading"), faint(""), StaircasePlot()
        self.stairs.string_chosen.connect(self._to_string)
        self.card(self.stairs_head, self.stairs, self.stairs_note)
        self.shares_head, self.shares = label(tr("Who moves the bow"), "heading"), JointPlot()
        self.school_words = faint("")
        self.by_third, self.by_speed = QPushButton(tr("by third")), QPushButton(tr("by speed"))
        group = QButtonGroup(self)
        line = QHBoxLayout()
        line.addWidget(self.shares_head, 1)
        for button in (self.by_third, self.by_speed):
            button.setObjectName("chip")
            button.setCheckable(True)
            group.addButton(button)
            line.addWidget(button)
        self.by_third.setChecked(True)
        group.buttonClicked.connect(self._show_shares)
        self.shares.picked.connect(self._to_share)
        self.card(line, self.shares, self.school_words)
        self.signs_head = label(tr("Signs of tension"), "heading")
        self.sign_list, inner = stacked()
        self.signs_note = faint(tr(CAUTION))
        self.card(self.signs_head, inner, self.signs_note)
        self.posture = PostureList()
        self.posture.chosen.connect(lambda name: self.go(self.posture.figures[name].t_s))
        self.card(label(tr("Posture"), "heading"), self.posture)
        self.column.addStretch(1)

    # what is shown

    def show_analysis(self, analysis: StoredAnalysis | None, length_s: float, rate_hz: float, profile: Profile | None) -> None:
        """Show the arm of a measured take, or say that there is none; ``profile``: whose bands count."""
        self._analysis = analysis
        self.begin_cycles()
        self.transport.set_take(length_s, rate_hz)
        report = analysis.body if analysis is not None else None
        self.stairs.set_stairs(report.stairs if report else None)
        self._show_stairs(report)
        self._show_shares()
        school = choice_in(choices()["upper arm"], spoken()).option(profile.want("upper arm")) if profile is not None else None
        self.school_words.setText("" if school is None else tr("Asked for: {0}. {1}").format(school.name, school.says))
        self._show_signs(report)
        self.posture.show_figures(report.posture if report is not None else {}, profile)
        self.canvas.update()

    def _show_stairs(self, report: BodyReport | None) -> None:
        if report is None:
            self.stairs_head.setText(tr("Elbow height by string"))
            missing = (
                tr("Analyse the video first.")
                if self._analysis is None
                else tr("The arm was not seen in this video: see the notes on the page Strokes.")
            )
            self.stairs_note.setText(missing)
            return
        stairs = report.stairs
        self.stairs_head.setText(tr("Elbow height by string: {0}").format(tr(stairs.shape)))
        steps = ", ".join(f"{v:+.0f}° ± {sd:.0f}°" for v, sd in zip(stairs.steps, stairs.step_sd, strict=True)).replace("-", "−")
        said = [tr(STAIR_WORDS[str(stairs.shape)]), *([tr("Steps up: {0}.").format(steps)] if steps else [])]
        self.stairs_note.setText(" ".join(said))

    def _show_shares(self) -> None:
        told = self._analysis if self._analysis is not None and self._analysis.body is not None else None
        work = work_by_speed if self.by_speed.isChecked() else work_by_third
        self.shares.set_rows(list(work(told.series, told.strokes).items()) if told is not None else [])

    def _show_signs(self, report: BodyReport | None) -> None:
        empty(self.sign_list)
        self._signs = list(report.tension.signs) if report is not None else []
        self.signs_head.setText(
            tr("Signs of tension: {0}").format(tr(report.tension.amount)) if report is not None else tr("Signs of tension")
        )
        self._signs.sort(key=lambda s: not s.shown)
        quiet: list[QWidget] = []
        for k, sign in enumerate(self._signs):
            words = tr(sign.name)
            name = f"{words[0].upper()}{words[1:]}"
            if not sign.shown:
                quiet.append(SignLine(sign, name, self._figure(sign)))
                continue
            row = Row(k, f"●  {name}", self._sign_lines(sign))
            row.across.addWidget(Gauge(nearness(sign)))
            row.across.setContentsMargins(10, 5, 10, 5)
            row.setToolTip(tr("Click: to a stroke that shows it"))
            row.chosen.connect(self._to_sign)
            self.sign_list.addWidget(row)
        for line in quiet:
            self.sign_list.addWidget(line)
        if report is not None and report.tension.unknown:
            names = ", ".join(tr(name) for name in report.tension.unknown)
            self.sign_list.addWidget(faint(tr("Cannot be told from this video: {0}. Use pictures of the hand.").format(names)))

    @staticmethod
    def _figure(sign: Sign) -> str:
        decimals = 2 if abs(sign.reference) < 1 else 1
        spread = max(sign.sd, 10.0**-decimals)
        unit = unit_words(sign.unit)
        value, spread_words, reference = (spoken().number(v, decimals) for v in (sign.value, spread, sign.reference))
        begins = tr("begins at {0}").format(reference)
        return f"{value} ± {spread_words}{unit}; {begins}"

    def _sign_lines(self, sign: Sign) -> list[str]:
        own = ", " + tr("own quiet strokes {0:.2f}").format(sign.own) if math.isfinite(sign.own) else ""
        on = tr("on {0} of {1} strokes").format(len(sign.strokes), sign.of)
        notes = [words for note in (sign.where, sign.note) if (words := spoken().sentence(note))]
        return [f"{on[0].upper()}{on[1:]}", f"{self._figure(sign)}{own}".replace("-", "−"), *notes]

    def show_by_hand(self, places: JointPlaces, relaxed: float | None) -> None:
        """Joints set by hand and the moment at ease, as the fit has them."""
        self._by_hand, self._relaxed = places, relaxed
        self._show_note()
        self.canvas.update()

    def show_picture(self, seconds: float, image: QImage) -> None:
        """Show a picture; ``seconds`` is its own time."""
        super().show_picture(seconds, image)
        self._show_note()

    def _here(self) -> dict[str, tuple[float, float]]:
        return next((dict(p) for t, p in self._by_hand if abs(t - self._shown_s) < SAME_FRAME_S), {})

    def _show_note(self) -> None:
        here = self._here()
        self.let_go.setEnabled(bool(here))
        self.ease.setChecked(self._relaxed is not None and abs(self._relaxed - self._shown_s) < 0.25)
        said = tr("Set by hand here: {0}.").format(", ".join(here)) if here else tr("Drag a joint to put it right.")
        if self._relaxed is not None:
            said += " " + tr("Relaxed reference at {0:.1f} s.").format(self._relaxed)
        self.set_note.setText(said)

    # to a frame

    def _to_string(self, string: str) -> None:
        if self._analysis is None:
            return
        moments = [0.5 * (s.start_s + s.end_s) for s in self._analysis.strokes if s.string == string]
        self.cycle(f"string {string}", moments)

    def _to_share(self, row: int) -> None:
        if self._analysis is None:
            return
        series, strokes = self._analysis.series, self._analysis.strokes
        if self.by_speed.isChecked():
            low, high = BANDS_CM_S
            found = pace_moments(series, strokes, *((0.0, low), (low, high), (high, math.inf))[row])
        else:
            found = passing_moments(series, strokes, row / 3, (row + 1) / 3)
        self.cycle(f"share {self.by_speed.isChecked()} {row}", found)

    def _to_sign(self, k: int) -> None:
        self.cycle(self._signs[k].name, list(self._signs[k].evidence_s))

    # joints by hand

    def paint_frame(self, painter: QPainter, analysis: StoredAnalysis, frame: int, unit: float) -> None:
        """The bow and the arm, or what a figure of the posture was told from."""
        here = self._here()
        if self._grabbed is not None and self._dragged is not None:
            here[self._grabbed] = (self._dragged.x(), self._dragged.y())
        series = analysis.series
        stands = self.posture.figures.get(self.posture.current)
        if stands is not None and abs(stands.t_s - self._shown_s) < NEAR_POSTURE_S:
            paint_posture(painter, stands, self.posture.said(stands), unit)
            return
        paint_bow(painter, series, frame, unit, lines=True, angle=False, contact=False)
        paint_arm(painter, series, frame, unit, here, figures=self.figures.isChecked())

    def _press(self, at: QPointF) -> None:
        frame = self.frame()
        if frame is None or self._analysis is None:
            return
        near = self.canvas.nearest(at, arm_points(self._analysis.series, frame, self._here()), GRAB_PX)
        if near is not None:
            self.transport.pause()
            self._grabbed = near

    def _drag(self, at: QPointF) -> None:
        if self._grabbed is not None:
            self._dragged = at
            self.canvas.update()

    def _release(self, at: QPointF) -> None:
        joint, moved = self._grabbed, self._dragged is not None
        self._grabbed = self._dragged = None
        if joint is not None and moved:
            self.joints_set.emit(self._shown_s, {joint: (at.x(), at.y())})

    def _let_go(self) -> None:
        self.joints_set.emit(self._shown_s, dict.fromkeys(self._here()))

    def _ease_here(self) -> None:
        self.relaxed_here.emit(self._shown_s)

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.stairs.palette_ = self.shares.palette_ = palette
        self.stairs.update()
        self.shares.update()
