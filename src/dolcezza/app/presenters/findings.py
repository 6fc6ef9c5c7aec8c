"""What the correction page asks for, done: verdicts, other words, remarks, sheets and reports."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QInputDialog, QWidget

from dolcezza.app.dialogs.lesson_window import LessonWindow
from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.leaving import Leaving
from dolcezza.app.printing import PICTURE, write_pdf
from dolcezza.app.theme.words import fault_words, mark, spoken, tr
from dolcezza.app.views.correct import CorrectView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import let_go
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.findings.rank import GROUPS, why
from dolcezza.reports.findings import sentence_of
from dolcezza.reports.pages import Still, still_of, student_sheet, take_report, to_webvtt, worst_moment
from dolcezza.services.body_model import everybodys_heads
from dolcezza.services.lesson import lesson_pictures
from dolcezza.services.practice import Prescription, prescriptions
from dolcezza.services.studio import Studio
from dolcezza.storage.files import write_whole
from dolcezza.storage.records import JudgedFinding, Verdict

PAPER_FILTER = mark("PDF (*.pdf);;Web page (*.html)")


class FindingsPresenter(QObject):
    """Between the correction page and the studio. Emits ``changed()`` when a word of the teacher changed the findings."""

    changed = Signal()

    def __init__(self, studio: Studio, selection: Selection, view: CorrectView, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._view, self._notice, self._window = studio, selection, view, notice, parent
        self.chosen: list[Prescription] = []
        view.judged.connect(self.judge)
        view.reword.connect(self._ask_words)
        view.for_good.connect(self._for_good)
        view.remark.connect(self._ask_remark)
        view.forget_remark.connect(self._forget_remark)
        view.sheet.connect(self._ask_sheet)
        view.report.connect(self._ask_report)
        view.annotations.connect(self._ask_annotations)
        view.lesson.connect(self.show_lesson)
        self.lesson: LessonWindow | None = None
        self.leaving = Leaving(studio, notice, parent)

    def reload(self) -> None:
        """Show the open take's corrections anew."""
        analysis, take = self._selection.analysis, self._selection.take
        if analysis is None or take is None:
            self.chosen = []
            self._view.show_take(None, [], [], [], take.duration_s if take is not None else 1.0, 30.0)
            return
        student = self._studio.store.student(take.student_id)
        profile = self._studio.profile_of(take, self._studio.fit(take))
        by_hand = [JudgedFinding(f) for f in self._studio.building.findings(student.id, profile)]
        self.chosen = prescriptions([*analysis.findings, *by_hand])
        groups = profile.order_of_work or GROUPS
        whys = [
            spoken().sentence(why(j.finding, k, groups, accepted=j.verdict == Verdict.ACCEPTED)) for k, j in enumerate(analysis.findings)
        ]
        remarks = self._studio.store.words.remarks(take.id)
        self._view.show_take(analysis, self.chosen, whys, remarks, take.duration_s, analysis.series.rate_hz, by_hand)

    def judge(self, place: int, verdict: str) -> None:
        """The teacher's word on a finding."""
        analysis = self._selection.analysis
        if analysis is not None:
            self._say(lambda: self._studio.review.judge(analysis.findings[place], verdict))

    def _say(self, does: Callable[[], object]) -> object:
        """Say something about a finding; what another window said meanwhile is shown instead."""
        said: object = None
        try:
            said = does()
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
        self.changed.emit()
        return said

    def _for_good(self, place: int) -> None:
        analysis, take = self._selection.analysis, self._selection.take
        if analysis is not None and take is not None:
            offer = self._say(lambda: self._studio.review.dismiss_for_good(analysis, analysis.findings[place], take.student_id))
            if isinstance(offer, str):
                self._notice.say(tr("Not raised for this student any more. {0}").format(offer).strip(), calm=True)

    def _ask_words(self, place: int) -> None:
        if self._selection.analysis is None:
            return
        judged = self._selection.analysis.findings[place]
        words, sure = QInputDialog.getText(
            self._window, tr("Other words"), tr("Say it your way (empty: the program's words):"), text=sentence_of(judged, spoken())
        )
        if sure:
            self.reword(place, words)

    def reword(self, place: int, words: str) -> None:
        """Say a finding in other words."""
        if self._selection.analysis is not None:
            judged = self._selection.analysis.findings[place]
            own = "" if words.strip() == spoken().sentence(judged.finding.message) else words
            self._say(lambda: self._studio.review.reword(judged, own))

    def _ask_remark(self) -> None:
        question = tr("What do you see at {0:.1f} s?").format(self._selection.moment_s)
        text, sure = QInputDialog.getText(self._window, tr("A remark"), question)
        if sure:
            self.add_remark(text)

    def add_remark(self, text: str) -> None:
        """Add a remark at the moment shown."""
        take = self._selection.take
        if take is not None and self._studio.review.remark(take.id, self._selection.moment_s, text) is not None:
            self.changed.emit()

    def _forget_remark(self, k: int) -> None:
        take = self._selection.take
        if take is not None:
            self._studio.review.take_back(self._studio.store.words.remarks(take.id)[k])
            self.changed.emit()

    def show_lesson(self) -> None:
        """One thing, big, with before and now."""
        analysis, take = self._selection.analysis, self._selection.take
        if analysis is None or take is None or not self.chosen:
            self._notice.say(tr("There is nothing to correct yet: analyse the video, and accept a finding."))
            return
        name = self._studio.store.student(take.student_id).name
        let_go(self.lesson)
        self.lesson = LessonWindow(
            name, self.chosen[0], lesson_pictures(self._studio, take, analysis, spoken()), self._window,
            person=self._studio.practice.person(take.student_id, date.today()),
        )  # fmt: skip
        self.lesson.open()

    # paper

    def _still(self) -> Still | None:
        analysis, take = self._selection.analysis, self._selection.take
        if analysis is None or take is None:
            return None
        moment = worst_moment(analysis.findings)
        return still_of(take, analysis, moment if moment is not None else self._selection.moment_s, spoken(), others=everybodys_heads)

    def _paper(self, path: Path, page: Callable[[str | None, Still | None], str], title: str, what: str) -> None:
        """Write a page as PDF or HTML, as the name says."""
        still = self._still()
        try:
            if path.suffix.lower() == ".html":
                write_whole(path, page(None, still))
            else:
                write_pdf(page(PICTURE if still else None, still), path, jpeg=still.jpeg if still else None, title=title)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self._wrote(what, path)

    def _wrote(self, what: str, path: Path) -> None:
        if self._selection.take is not None:
            self.leaving.wrote(self._selection.take.student_id, what, path)
        self._notice.say(tr("Written: {0}").format(path), calm=True)

    def _agreed(self, *, picture: bool) -> bool:
        take = self._selection.take
        return take is not None and self.leaving.agreed(take.student_id, picture=picture)

    def _ask_path(self, title: str, name: str, filters: str = PAPER_FILTER) -> Path | None:
        path, _ = QFileDialog.getSaveFileName(self._window, title, name, tr(filters))
        return Path(path) if path else None

    def _ask_sheet(self, k: int, reader: str) -> None:
        if self._agreed(picture=True) and (path := self._ask_path(tr("The student's sheet"), "practice-sheet.pdf")) is not None:
            self.write_sheet(path, k, reader)

    def write_sheet(self, path: Path, k: int, reader: str) -> None:
        """Write the sheet for one correction."""
        take = self._selection.take
        if take is None or k >= len(self.chosen):
            return
        student = self.leaving.named(self._studio.store.student(take.student_id))
        plans = self._studio.practice.plans(student.id)

        def page(picture: str | None, still: Still | None) -> str:
            return student_sheet(
                student, self.chosen[k].correction, self.chosen[k].drills, day=date.today(),
                plan=plans[0].plan if plans else None, still=still, reader=reader, picture=picture,
                words=spoken(),
            )  # fmt: skip

        self._paper(path, page, tr("Practice sheet, {0}").format(student.name), "sheet")

    def _ask_report(self) -> None:
        if self._agreed(picture=True) and (path := self._ask_path(tr("The report of this video"), "report.pdf")) is not None:
            self.write_report(path)

    def write_report(self, path: Path) -> None:
        """Write the report of the open take."""
        analysis, take = self._selection.analysis, self._selection.take
        if analysis is None or take is None:
            return
        student, remarks = self.leaving.named(self._studio.store.student(take.student_id)), self._studio.store.words.remarks(take.id)
        spec = self._studio.fit(take).spec

        def page(picture: str | None, still: Still | None) -> str:
            return take_report(student, take, analysis, spec, remarks=remarks, still=still, picture=picture, words=spoken())

        self._paper(path, page, f"{take.title}, {student.name}", "report")

    def _ask_annotations(self) -> None:
        if self._agreed(picture=False) and (path := self._ask_path(tr("Annotations"), "annotations.vtt", "WebVTT (*.vtt)")) is not None:
            self.write_annotations(path)

    def write_annotations(self, path: Path) -> None:
        """Write strokes, findings and remarks as WebVTT."""
        analysis, take = self._selection.analysis, self._selection.take
        if analysis is None or take is None:
            return
        try:
            write_whole(path, to_webvtt(analysis, self._studio.store.words.remarks(take.id), spoken()))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self._wrote("annotations", path)
