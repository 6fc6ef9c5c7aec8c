"""Strokes: the picture with what was measured, the ribbon, the findings; every number leads to its frame."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, Signal
from PySide6.QtGui import QImage, QPainter, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import mark, show, spoken, tr
from dolcezza.app.widgets.bow_handles import BowHandles, Ends
from dolcezza.app.widgets.finding_card import FindingCard
from dolcezza.app.widgets.measuring_card import MeasuringCard
from dolcezza.app.widgets.overlays import paint_bow
from dolcezza.app.widgets.parts import empty, faint, label, scroll_column
from dolcezza.app.widgets.ribbon import Ribbon
from dolcezza.app.widgets.ribbon_key import RibbonKey
from dolcezza.app.widgets.stroke_card import StrokeCard
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.assignment.marks import AskedMark
from dolcezza.core.base.job import Progress
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.pipeline.preview import FirstStrokes
from dolcezza.core.strokes.moments import stroke_moment
from dolcezza.reports.findings import notes_of
from dolcezza.reports.pages import standing
from dolcezza.storage.records import StoredAnalysis

SAME_FRAME_S = 0.012
LOW_PAGE_PX, LOW_RIBBON_PX = 660, 142
LAYERS = (("lines", mark("Bow and bridge"), "1"), ("angle", mark("Angle"), "2"), ("contact", mark("Contact"), "3"))


class StrokesView(QWidget):
    """Emits ``judged(place, verdict)``, ``measure_again()``, and what the teacher sets: ``end_set(seconds, end, place)``,
    ``let_go(seconds)``, ``stroke_mended(what, string)``."""

    judged = Signal(int, str)
    measure_again = Signal()
    end_set = Signal(float, str, QPointF)
    let_go = Signal(float)
    stroke_mended = Signal(str, str)

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._selection = selection
        self._analysis: StoredAnalysis | None = None
        self._series: BowSeries | None = None
        self._strings, self._length_s = "", 0.0
        self._cards: list[FindingCard] = []
        self._turn: dict[int, int] = {}
        self._by_hand: list[tuple[float, set[str]]] = []
        self._shown_s = 0.0
        self._palette: Palette = LIGHT
        down = QVBoxLayout(self)
        down.setContentsMargins(18, 6, 18, 8)
        down.setSpacing(5)
        across = QHBoxLayout()
        across.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(4)
        self.canvas = VideoCanvas()
        self.canvas.empty_text = tr("Choose a video first.")
        self.canvas.layers.append(self._paint)
        self.handles = BowHandles(self.canvas, self._ends, self._set_here)
        self.handles.finished.connect(self._end_moved)
        self.canvas.setAccessibleDescription(tr("[ and ] choose the frog or the head, arrows move it, Enter sets it, Escape leaves it"))
        left.addWidget(self.canvas, 1)
        left.addWidget(self._make_controls())
        across.addLayout(left, 1)
        across.addWidget(self._make_side())
        down.addLayout(across, 1)
        self.ribbon = Ribbon()
        self.key = RibbonKey()
        down.addWidget(self.ribbon)
        below = QHBoxLayout()
        below.addWidget(self.key, 1)
        below.addLayout(self._make_layers())
        down.addLayout(below)
        self.ribbon.moment.connect(self._go_paused)
        selection.moment_changed.connect(self._on_moment)
        selection.stroke_changed.connect(self.stroke_card.show_stroke)
        selection.finding_changed.connect(self._mark_finding)

    def _make_controls(self) -> Transport:
        self.transport = Transport()
        self.transport.moment.connect(self._selection.go_to)
        self.transport.stroke_step.connect(self._selection.step_stroke)
        self.transport.span = self._selection.stroke_span
        return self.transport

    def _make_layers(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(5)
        self.layer_buttons: dict[str, QToolButton] = {}
        for name, words, key in LAYERS:
            button = QToolButton()
            button.setObjectName("chip")
            button.setText(tr(words))
            button.setCheckable(True)
            button.setChecked(True)
            button.setToolTip(tr("Show or hide ({0})").format(key))
            button.setAccessibleName(tr("Draw on the picture: {0}").format(tr(words)))
            button.toggled.connect(self.canvas.update)
            self.layer_buttons[name] = button
            row.addWidget(button)
        return row

    def _make_side(self) -> QFrame:
        side = QFrame()
        side.setFixedWidth(452)
        box = QVBoxLayout(side)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        self.measuring = MeasuringCard()
        box.addWidget(self.measuring)
        self.head = label("", "title")
        self.sub = label("", "faint")
        self.again = QPushButton(tr("Analyse again"))
        self.again.setToolTip(tr("Ctrl+M"))
        self.again.clicked.connect(self.measure_again)
        row = QHBoxLayout()
        row.addWidget(self.head, 1)
        row.addWidget(self.again)
        box.addLayout(row)
        box.addWidget(self.sub)
        area, self.finding_list = scroll_column()
        box.addWidget(area, 1)
        self.stroke_card = StrokeCard()
        self.stroke_card.corrected.connect(self.stroke_mended)
        self.stroke_card.lead.connect(self._to_figure)
        box.addWidget(self.stroke_card)
        return side

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        # in a low window the findings need the room more
        self.ribbon.setFixedHeight(LOW_RIBBON_PX if self.height() < LOW_PAGE_PX else self.ribbon.sizeHint().height())

    def _to_figure(self, what: str) -> None:
        """To the frame that shows a figure of the stroke."""
        stroke = self._selection.stroke
        moment = stroke_moment(self._series, stroke, what) if stroke is not None and self._series is not None else None
        if moment is not None:
            self.transport.pause()
            self._selection.go_to(moment)

    # what is shown

    def show_analysis(self, analysis: StoredAnalysis | None, strings: str, length_s: float, rate_hz: float, limit: float) -> None:
        """Show a measured take, or one that is still to be measured. ``limit``: a straighter bow is not remarked on (deg)."""
        self._analysis, self._series = analysis, analysis.series if analysis is not None else None
        self._strings, self._length_s, self.key.limit = strings, length_s, limit
        self._turn = {}
        self.handles.give_up()
        self.stroke_card.set_strings(strings, measured=analysis is not None)
        self.again.setText(tr("Analyse again") if analysis is not None else tr("Measure"))
        self.transport.set_take(length_s, rate_hz)
        self._fill_findings()
        if analysis is None:
            self.ribbon.set_take(None, [], strings, 4.0, set())
            self.head.setText(tr("Not analysed yet"))
            self.sub.setText(tr("Mark the instrument, then analyse the video."))
            self.stroke_card.show_stroke(None)
            self.canvas.update()
            return
        open_findings = standing(analysis.findings)
        flagged = {n for f in open_findings for n in f.finding.strokes}
        self.ribbon.set_take(analysis.series, analysis.strokes, strings, limit, flagged)
        self.key.by_hand = any(s.by_hand for s in analysis.strokes)
        self.key.update()
        count = len(open_findings)
        self.head.setText(tr("No findings") if not count else tr("1 finding") if count == 1 else tr("{0} findings").format(count))
        seen = float(np.mean([s.share_seen for s in analysis.strokes])) if analysis.strokes else 0.0
        words = [
            tr("{0} strokes, {1} of their frames measured.").format(len(analysis.strokes), show("share", seen)),
            tr("Profile: {0}.").format(analysis.profile),
        ]
        self.sub.setText(" ".join([*words, *notes_of(analysis.summary, spoken())]))
        self.stroke_card.show_stroke(self._selection.stroke)
        self.canvas.update()

    def show_asked(self, marks: list[AskedMark]) -> None:
        """What was to be played, pale behind the ribbon."""
        self.ribbon.set_asked(marks)

    def show_marks(self, marks: dict[str, float]) -> None:
        """Places marked on the student's bow, share of the hair."""
        self.ribbon.set_marks(marks)
        self.key.asked = bool(marks)
        self.key.update()

    def _fill_findings(self) -> None:
        empty(self.finding_list)
        self._cards = []
        if self._analysis is not None:
            for place, judged in enumerate(self._analysis.findings):
                card = FindingCard(place, judged)
                card.setProperty("theme", self._palette.name)
                card.chosen.connect(self.open_finding)
                card.judged.connect(self.judged)
                self._cards.append(card)
                self.finding_list.addWidget(card)
            if not self._cards:
                self.finding_list.addWidget(
                    faint(tr("All strokes stay within the profile's limits. The figures of each stroke are below."))
                )
        self.finding_list.addStretch(1)

    def open_finding(self, place: int) -> None:
        """Go to a finding's worst moment; called again, to its next one."""
        if self._analysis is None or not 0 <= place < len(self._analysis.findings):
            return
        moments = self._analysis.findings[place].finding.evidence_s
        turn = self._turn.get(place, -1) + 1 if self._selection.finding == place else 0
        self._turn[place] = turn
        self._selection.choose_finding(place)
        if moments:
            # what a second phone alone tells has none in this video
            self._go_paused(moments[turn % len(moments)])

    def step_finding(self, by: int) -> None:
        """Open the next or previous finding."""
        if self._cards:
            now = self._selection.finding
            self.open_finding((now + by) % len(self._cards) if now is not None else 0 if by > 0 else len(self._cards) - 1)

    def judge_chosen(self, verdict: str) -> None:
        """The teacher's word on the chosen finding, by key."""
        if self._selection.finding is not None and self._cards:
            self.judged.emit(self._selection.finding, verdict)

    def _mark_finding(self, place: int | None) -> None:
        for card in self._cards:
            card.setProperty("chosen", card.place == place)
            card.mark(card.place == place)
        numbers = set(self._analysis.findings[place].finding.strokes) if self._analysis is not None and place is not None else set()
        self.ribbon.highlight(numbers)

    def _go_paused(self, seconds: float) -> None:
        self.transport.pause()
        self._selection.go_to(seconds)

    def _on_moment(self, seconds: float) -> None:
        self.transport.show_moment(seconds)
        self.ribbon.show_moment(seconds)

    def show_picture(self, seconds: float, image: QImage) -> None:
        """Show a picture; ``seconds`` is its own time, so that what is drawn belongs to it."""
        self._shown_s = seconds
        self.canvas.show_image(image)

    def _paint(self, painter: QPainter, unit: float) -> None:
        if self._series is None or not len(self._series) or self._shown_s > self._series.t[-1] + SAME_FRAME_S:
            return
        frame = int(np.argmin(np.abs(self._series.t - self._shown_s)))
        on = {name: button.isChecked() for name, button in self.layer_buttons.items()}
        paint_bow(painter, self._series, frame, unit, **on)

    # by hand

    def show_by_hand(self, places: list[tuple[float, set[str]]]) -> None:
        """Ends of the bow set by hand: time and which."""
        self._by_hand = places
        self.ribbon.set_by_hand([t for t, _ in places])
        self.canvas.update()

    def _set_here(self) -> set[str]:
        return next((ends for t, ends in self._by_hand if abs(t - self._shown_s) < SAME_FRAME_S), set())

    def _ends(self) -> Ends:
        if (
            self._analysis is None
            or not len(self._analysis.series)
            or self.transport.playing
            or not self.layer_buttons["lines"].isChecked()
        ):
            return {}
        series = self._analysis.series
        frame = int(np.argmin(np.abs(series.t - self._shown_s)))
        ends = {end: QPointF(float(series[f"{end}_x_px"][frame]), float(series[f"{end}_y_px"][frame])) for end in ("frog", "head")}
        return {end: at for end, at in ends.items() if np.isfinite(at.x())}

    def _end_moved(self, end: str, place: QPointF) -> None:
        self.end_set.emit(self._shown_s, end, place)

    def let_ends_go(self) -> None:
        """Leave the bow in this frame to the program again."""
        if self._set_here():
            self.let_go.emit(self._shown_s)

    # measuring

    def show_progress(self, progress: Progress | None, seconds_left: float = -1.0) -> None:
        """Progress of the analysis; None hides it. The first strokes come with it."""
        self.measuring.show_progress(progress, seconds_left)
        self.again.setEnabled(progress is None)
        early = progress.so_far if progress is not None else None
        if isinstance(early, FirstStrokes) and self._analysis is None:
            self._series = early.series
            self.ribbon.set_take(early.series, early.strokes, self._strings, self.key.limit, set(), whole_s=self._length_s)
            self.head.setText(tr("{0} strokes so far").format(len(early.strokes)))
            self.sub.setText(tr("The first ones, roughly: the whole video will correct them."))
            self.canvas.update()

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self._palette = palette
        self.stroke_card.recolour(palette)
        self.ribbon.palette_ = self.key.palette_ = palette
        self._fill_findings()
        self.ribbon.update()
        self.key.update()
