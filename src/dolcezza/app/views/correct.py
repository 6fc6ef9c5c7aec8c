"""What to correct: one thing first, with its cause, drills and cautions; every finding open to the teacher's word."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.drill_picture import DrillPicture
from dolcezza.app.widgets.overlays import paint_bow
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label
from dolcezza.app.widgets.take_page import TakePage
from dolcezza.reports.findings import sentence_of
from dolcezza.reports.practice import cautions, correction_in, dose, drill_in
from dolcezza.services.practice import Prescription
from dolcezza.storage.records import JudgedFinding, Remark, StoredAnalysis

PICTURE_SCALE = 0.7
MARKS = {"open": "○", "accepted": "✓", "dismissed": "✕"}

READER_WORDS = {"adult": mark("for an adult"), "child": mark("for a child"), "parent": mark("for a parent")}


class CorrectView(TakePage):
    """Emits ``judged(place, verdict)``, ``reword(place)``, ``for_good(place)``, ``remark()``, ``forget_remark(k)``, ``sheet(k, reader)``,
    ``report()``, ``annotations()``, ``video()``, ``practise()`` and ``lesson()``."""

    judged = Signal(int, str)
    reword = Signal(int)
    for_good = Signal(int)
    remark = Signal()
    forget_remark = Signal(int)
    sheet = Signal(int, str)
    report = Signal()
    annotations = Signal()
    video = Signal()
    practise = Signal()
    lesson = Signal()

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(selection, parent)
        self.left.addWidget(self.transport)
        self.reader = choice(tr("Sheet for"), READER_WORDS)
        self.reader.setCurrentIndex(self.reader.findData("child"))
        self.sheet_button = QPushButton(tr("Student's sheet…"))
        self.sheet_button.setToolTip(tr("One page: one thing, a picture, the drill, boxes to tick (PDF or HTML)"))
        self.sheet_button.clicked.connect(lambda: self.sheet.emit(0, self.reader_key))
        self.report_button = QPushButton(tr("Report…"))
        self.report_button.setToolTip(tr("Everything about this video on paper (PDF or HTML)"))
        self.report_button.clicked.connect(self.report)
        self.vtt_button = QPushButton(tr("Annotations…"))
        self.vtt_button.setToolTip(tr("Strokes and findings as subtitles (WebVTT)"))
        self.vtt_button.clicked.connect(self.annotations)
        self.video_button = QPushButton(tr("Video…"))
        self.video_button.setToolTip(tr("The video or a stroke for the student's phone: measured lines drawn in, faces hidden (MP4)"))
        self.video_button.clicked.connect(self.video)
        self.remark_button = QPushButton(tr("Remark here…"))
        self.remark_button.setToolTip(tr("Add a finding of your own, tied to the moment shown"))
        self.remark_button.clicked.connect(self.remark)
        for widgets in ((self.remark_button, self.reader, self.sheet_button), (self.report_button, self.video_button, self.vtt_button)):
            row = QHBoxLayout()
            row.setSpacing(5)
            for widget in widgets:
                if isinstance(widget, QPushButton):
                    widget.setObjectName("chip")
                row.addWidget(widget)
            row.addStretch(1)
            self.left.addLayout(row)
        self.show_take(None, [], [], [], 1.0, 30.0)

    @property
    def reader_key(self) -> str:
        """For whom the sheet is written."""
        return str(self.reader.currentData())

    def show_take(
        self, analysis: StoredAnalysis | None, chosen: Sequence[Prescription], whys: Sequence[str], remarks: Sequence[Remark],
        length_s: float, rate_hz: float, by_hand: Sequence[JudgedFinding] = (),
    ) -> None:  # fmt: skip
        """Show corrections, findings with why they stand where they do, the teacher's own remarks, and what pictures of the hand show."""
        self._analysis = analysis
        self.begin_cycles()
        self.transport.set_take(length_s, rate_hz)
        self.transport.show_moment(self._selection.moment_s)
        empty(self.column)
        for button in (self.report_button, self.vtt_button, self.video_button, self.remark_button):
            button.setEnabled(analysis is not None)
        self.sheet_button.setEnabled(bool(chosen))
        if analysis is None:
            self.column.addWidget(faint(tr("Analyse the video first: then the one thing to change stands here.")))
            self.column.addStretch(1)
            return
        if not chosen:
            self.column.addWidget(label(tr("Nothing to correct"), "title"))
            self.column.addWidget(faint(tr("No finding is sure and accepted. Accept one below, or add a remark of your own.")))
        for k, p in enumerate(chosen):
            self.column.addWidget(self._prescription(k, p))
        self.column.addWidget(label(tr("Findings, in the order of work"), "heading"))
        for place, judged in enumerate(analysis.findings):
            self.column.addWidget(self._finding(place, judged, whys[place]))
        for k, r in enumerate(remarks):
            self.column.addWidget(self._remark(k, r))
        for judged in by_hand:
            row = Row(
                -1,
                f"○ {sentence_of(judged, spoken())}",
                [spoken().cause(judged.finding.cause), tr("from pictures of the hand and your answers (page Hold)")],
            )
            self.column.addWidget(row)
        for words in cautions(spoken()):
            self.column.addWidget(faint(words))
        self.column.addStretch(1)
        self.canvas.update()

    def _prescription(self, k: int, p: Prescription) -> QFrame:
        card = QFrame()
        card.setObjectName("card")
        box = QVBoxLayout(card)
        box.setContentsMargins(14, 10, 14, 11)
        box.setSpacing(4)
        box.addWidget(
            faint(
                (tr("First: ") if k == 0 else tr("Then: "))
                + (tr("accepted by you") if p.accepted else tr("proposed; accept its finding below"))
            )
        )
        said = correction_in(p.correction, spoken())
        box.addWidget(label(said.says, "title" if k == 0 else "heading"))
        box.addWidget(label(said.feel))
        if k == 0:
            for d in (drill_in(d, spoken()) for d in p.drills):
                words = label(tr("{0} ({1}): {2}. Go on when: {3} Stop: {4}").format(d.name, d.place, dose(d, spoken()), d.move_on, d.stop))
                words.setToolTip("\n".join(f"{reader}: {text}" for reader, text in d.how.items()))
                row = QHBoxLayout()
                row.addWidget(words, 1)
                row.addWidget(DrillPicture(d.key, d.name, PICTURE_SCALE))
                box.addLayout(row)
            line = QHBoxLayout()
            practise = QPushButton(tr("Make a practice plan"))
            practise.setObjectName("main")
            practise.clicked.connect(self.practise)
            big = QPushButton(tr("Lesson view"))
            big.setToolTip(tr("One thing, readable from two metres (L)"))
            big.clicked.connect(self.lesson)
            line.addWidget(practise)
            line.addWidget(big)
            line.addStretch(1)
            box.addLayout(line)
        else:
            box.addWidget(faint(tr("Drills: ") + ", ".join(drill_in(d, spoken()).name for d in p.drills)))
        return card

    def _finding(self, place: int, judged: JudgedFinding, why: str) -> QFrame:
        words = spoken()
        lines = [f"{words.cause(judged.finding.cause)} {words.sentence(judged.finding.against)}".strip(), why]
        if judged.reason:
            lines.append(tr("You: {0}").format(judged.reason))
        if not judged.finding.sure:
            lines.append(words.sentence(judged.finding.film))
        row = Row(place, f"{MARKS[judged.verdict]} {sentence_of(judged, words)}", [w for w in lines if w])
        row.setToolTip(tr("Click: to its frames, one after the other"))
        row.chosen.connect(self._to_finding)
        line = QHBoxLayout()
        line.setSpacing(5)
        actions = [(tr("Reopen"), "open")]
        if judged.verdict == "open":
            actions = [(tr("Accept"), "accepted"), (tr("Dismiss"), "dismissed")]
        for action, verdict in actions:
            line.addWidget(self._button(action, lambda _c=False, v=verdict: self.judged.emit(place, v)))
        line.addWidget(self._button(tr("Reword…"), lambda _c=False: self.reword.emit(place)))
        if judged.verdict == "open":
            never = self._button(tr("Not for this student"), lambda _c=False: self.for_good.emit(place))
            never.setToolTip(tr("Dismiss it now and whenever it comes again under this profile; Ctrl+Z takes it back"))
            line.addWidget(never)
        line.addStretch(1)
        row.box.addLayout(line)
        return row

    @staticmethod
    def _button(words: str, does: object) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName("chip")
        button.clicked.connect(does)
        return button

    def _remark(self, k: int, remark: Remark) -> QFrame:
        row = Row(k, f"✎ {remark.text}", [tr("your remark at {0:.1f} s").format(remark.t_s)])
        row.chosen.connect(lambda _k: self.go(remark.t_s))
        row.across.addWidget(self._button(tr("Remove"), lambda _c=False: self.forget_remark.emit(k)))
        return row

    def _to_finding(self, place: int) -> None:
        if self._analysis is None:
            return
        self.cycle(place, self._analysis.findings[place].finding.evidence_s)

    def paint_frame(self, painter: QPainter, analysis: StoredAnalysis, frame: int, unit: float) -> None:
        """The bow, its angle, and where it meets the string."""
        paint_bow(painter, analysis.series, frame, unit, lines=True, angle=True, contact=True)

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.canvas.update()
