"""What the practice and progress pages ask for, done: plans, log, calendar, courses, pairs of pictures."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QWidget

from dolcezza.app.dialogs.week_sheet import WeekSheet
from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.leaving import Leaving
from dolcezza.app.printing import write_pdf
from dolcezza.app.theme.words import fault_words, mark, show, spoken, tr
from dolcezza.app.views.practise import PractiseView
from dolcezza.app.views.progress import ProgressView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import ask
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError, PracticeError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.practice.drills import drill
from dolcezza.core.practice.fitted import PRESSING, Person, fitted
from dolcezza.core.practice.helped import Helped
from dolcezza.core.practice.plan import Slot, Task
from dolcezza.core.practice.stages import opened
from dolcezza.reports.pages import common_place, moment_at, still_of, student_sheet
from dolcezza.services.courses import hold_courses, what_helped
from dolcezza.services.practice import Prescription, followed, plan_to_calendar, tasks_for
from dolcezza.services.studio import Studio
from dolcezza.storage.files import write_whole
from dolcezza.storage.records import StoredAnalysis, Student, Take, Verdict

PAPER_FILTER = mark("PDF (*.pdf);;Web page (*.html)")
PAUSED = mark("The drill is paused. Stop at pain; show your teacher, and see a doctor or physiotherapist who knows musicians.")


def pieces_from(text: str) -> list[tuple[str, float]]:
    """Words and minutes from "Scale in D 5, Study 8". Raises PracticeError naming what is wrong."""
    out = []
    for part in (p.strip() for p in text.split(",")):
        if not part:
            continue
        found = re.fullmatch(r"(.+?)\s+(\d+(?:\.\d+)?)", part)
        if found is None:
            raise PracticeError(tr("'{0}' has no minutes.").format(part), tr("Write words, then minutes: Study 8."))
        out.append((found[1], float(found[2])))
    return out


BESIDE_EACH_OTHER = 1.15
"""Two pictures beside each other are so much wider than high."""


class PracticePresenter(QObject):
    """Between the two pages and the studio. ``prescribed`` gives the corrections of the open take."""

    def __init__(
        self, studio: Studio, selection: Selection, practise: PractiseView, progress: ProgressView, notice: NoticeStrip,
        prescribed: Callable[[], list[Prescription]], parent: QWidget,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._studio, self._selection, self._notice, self._window = studio, selection, notice, parent
        self._practise, self._progress, self._prescribed = practise, progress, prescribed
        self.jobs = JobRunner(self)
        self.leaving = Leaving(studio, notice, parent)
        self._wanted: tuple[int, int, str, float] | None = None
        self._pair_of: int | None = None
        self.jobs.done.connect(self._on_pair)
        self.jobs.failed.connect(self._on_no_pair)
        practise.make.connect(self._make)
        practise.log.connect(self._log)
        practise.unlog.connect(self._unlog)
        practise.calendar.connect(self._ask_calendar)
        practise.allow.connect(self._allow)
        practise.week.connect(self._ask_week)
        practise.sheet.connect(self._ask_sheet)
        progress.compare.connect(self._compare)

    @property
    def student(self) -> Student | None:
        """Whose practice is shown: of the open take, else of the chosen student."""
        take = self._selection.take
        return self._studio.store.student(take.student_id) if take is not None else self._selection.student

    def reload(self) -> None:
        """Show plan and log anew."""
        student, today = self.student, date.today()
        if student is None:
            self._practise.show_student("", [], None, None, [], today)
            return
        proposed = [d.key for p in self._wanted_first() for d in p.drills]
        stage = self._studio.schools.of(student, self._studio.spec_of(student.id)).stage
        plans = self._studio.practice.plans(student.id)
        self._practise.show_student(
            student.name, proposed, plans[0].plan if plans else None, self._studio.practice.record(student.id, today),
            self._studio.practice.entries(student.id), today, opened(stage).drills, self._person(student, today),
        )  # fmt: skip

    def _prescriptions(self) -> list[Prescription]:
        """Of the open take; without one, of what pictures of the hand and the teacher's answers come to."""
        student = self.student
        if student is None or self._selection.analysis is not None:
            return self._prescribed()
        return self._studio.building.prescriptions(student.id, self._studio.schools.of(student, self._studio.spec_of(student.id)))

    def _wanted_first(self) -> list[Prescription]:
        return self._prescriptions()[:1]

    def _person(self, student: Student, today: date) -> Person:
        presses = any(f.finding.cause in PRESSING for p in self._prescriptions() for f in p.findings)
        return replace(self._studio.practice.person(student.id, today), presses=presses)

    def reload_progress(self) -> None:
        """Work the courses out anew, from all measured takes."""
        student = self.student
        if student is None:
            self._progress.show_student("", [], None)
            return
        measured = []
        for status in self._studio.takes(student.id):
            stored = self._studio.analysis(status.take) if status.analysed else None
            if stored is not None:
                measured.append((status.take, stored, self._studio.fit(status.take).spec))
        found = []
        if measured:
            newest = measured[0][0]
            found = followed(measured, self._studio.profile_of(newest, self._studio.fit(newest)))
        studio, plans = self._studio, self._studio.practice.plans(student.id)
        profile = studio.schools.of(student, studio.spec_of(student.id))
        balance = studio.building.bow(student.id).marks.get("balance point")
        found += hold_courses(
            studio.store.hands.stills(student.id), studio.store.hold.answers(student.id), studio.store.hands.felt(student.id),
            studio.practice.entries(student.id), profile, balance / 10 if balance is not None else None,
        )  # fmt: skip
        since: date | None = None
        drills: list[Helped] = []
        if plans and plans[0].plan.days:
            since, drills = what_helped(plans[0].plan, found, self._kinds_before(measured, plans[0].plan.days[0].day))
        self._progress.show_student(student.name, found, since, drills)

    @staticmethod
    def _kinds_before(measured: Sequence[tuple[Take, StoredAnalysis, InstrumentSpec]], day: date) -> list[str]:
        """What the last take up to a day showed: what its drills were given for."""
        before = [a for take, a, _ in measured if take.played_on <= day]
        return [j.finding.kind for j in before[0].findings if j.verdict is not Verdict.DISMISSED] if before else []

    def _make(self, keys: list[str], text: str, minutes: float, first: date, lesson: date) -> None:
        student = self.student
        if student is None:
            return
        try:
            pieces = [Task(words, length) for words, length in pieces_from(text)]
            first_ones = [t for t in tasks_for(self._wanted_first()) if t.drill in keys]
            have = {t.drill for t in first_ones}
            more = [Task(drill(k).name, drill(k).minutes, k) for k in keys if k not in have]
            tasks = [*first_ones, *more, *pieces]
            presses = self._person(student, date.today()).presses
            kept = self._studio.practice.make(
                student.id, tasks, first_day=first, next_lesson=lesson, minutes_a_day=minutes, presses=presses
            )  # fmt: skip
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.reload()
        self._notice.say(tr("A plan of {0} days is made; Ctrl+Z takes it back.").format(len(kept.plan.days)), calm=True)

    def _log(self, what: str, minutes: float, count: int, pain: bool, note: str, day: date) -> None:
        student = self.student
        if student is None:
            return
        try:
            self._studio.practice.log(student.id, day, what, minutes=minutes, count=count, pain=pain, note=note)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.reload()
        if pain:
            self._notice.say(tr(PAUSED))

    def _ask_week(self) -> None:
        student = self.student
        plans = self._studio.practice.plans(student.id) if student is not None else []
        if student is None or not plans:
            self._notice.say(tr("Make a plan first."))
            return
        logged = {(e.day, e.what) for e in self._studio.practice.entries(student.id)}
        sheet = WeekSheet(plans[0].plan.days, logged, date.today(), self._window)
        if ask(sheet):
            self.log_week(sheet.ticks)

    def log_week(self, ticks: list[tuple[date, Slot]]) -> None:
        """Write down the ticks of a week."""
        student = self.student
        if student is None:
            return
        try:
            kept = self._studio.practice.log_week(student.id, ticks)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.reload()
        self._notice.say(tr("{0} entries written down; Ctrl+Z takes them back.").format(len(kept)), calm=True)

    def _ask_sheet(self, reader: str) -> None:
        student = self.student
        if student is None or not self.leaving.agreed(student.id, picture=False):
            return
        path, _ = QFileDialog.getSaveFileName(self._window, tr("The student's sheet"), "practice-sheet.pdf", tr(PAPER_FILTER))
        if path:
            self.write_sheet(Path(path), reader)

    def write_sheet(self, path: Path, reader: str) -> None:
        """The sheet of plan and drills, with or without a video: the first correction if there is one, else the drills that are ticked."""
        student = self.student
        if student is None:
            return
        first = self._wanted_first()
        plans = self._studio.practice.plans(student.id)
        person = self._person(student, date.today())
        planned = [s.drill for d in plans[0].plan.days[:1] for s in d.slots if s.drill] if plans else self._practise.drills.chosen
        own = [d for k in planned if (d := fitted(drill(k), person)[0]) is not None]
        named = self.leaving.named(student)
        page = student_sheet(
            named, first[0].correction if first else None, own, day=date.today(), plan=plans[0].plan if plans else None, reader=reader,
            words=spoken(),
        )  # fmt: skip
        try:
            if path.suffix.lower() == ".html":
                write_whole(path, page)
            else:
                write_pdf(page, path, title=tr("Practice sheet, {0}").format(named.name))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.leaving.wrote(student.id, "sheet", path)
        self._notice.say(tr("Written: {0}").format(path), calm=True)

    def _allow(self, what: str) -> None:
        student = self.student
        if student is not None:
            self._studio.practice.allow_again(student.id, what)
            self.reload()

    def _unlog(self, k: int) -> None:
        student = self.student
        if student is not None:
            self._studio.practice.forget(self._studio.practice.entries(student.id)[k])
            self.reload()

    def _ask_calendar(self) -> None:
        student = self.student
        if student is None or not self.leaving.agreed(student.id, picture=False):
            return
        path, _ = QFileDialog.getSaveFileName(self._window, tr("The plan as a calendar"), "practice.ics", "iCalendar (*.ics)")
        if path:
            self.write_calendar(Path(path))

    def write_calendar(self, path: Path) -> None:
        """Write the newest plan as iCalendar."""
        student = self.student
        plans = self._studio.practice.plans(student.id) if student is not None else []
        if student is None or not plans:
            self._notice.say(tr("Make a plan first."))
            return
        try:
            write_whole(path, plan_to_calendar(plans[0].plan, self.leaving.named(student), spoken()).decode())
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.leaving.wrote(student.id, "calendar", path)
        self._notice.say(tr("Written: {0}").format(path), calm=True)

    def _compare(self, first: int, last: int, string: str, place: float) -> None:
        """The last wish counts; one that comes while pictures are made is done after them."""
        self._wanted = (first, last, string, place)
        if not self.jobs.running:
            self._next_pair()

    def _next_pair(self) -> None:
        wanted, self._wanted = self._wanted, None
        self._pair_of = self.student.id if self.student is not None else None
        if wanted is not None:
            first, last, string, place = wanted
            self.jobs.start(lambda: self._pair((first, last), string, place))

    def _on_pair(self, pictures: list[tuple[bytes | None, str]]) -> None:
        # nobody sees the pictures of a student who is no longer shown
        if self._wanted is None and self.student is not None and self.student.id == self._pair_of:
            self._progress.show_pair(pictures)
        self._next_pair()

    def _on_no_pair(self, error: DolcezzaError) -> None:
        self._notice.say(fault_words(error))
        self._next_pair()

    def _pair(self, takes: tuple[int, int], string: str, place: float) -> Work[list[tuple[bytes | None, str]]]:
        """The same place on the bow in two takes, in the background."""
        out: list[tuple[bytes | None, str]] = []
        measured = [a for t in takes if (a := self._studio.analysis(self._studio.store.take(t))) is not None]
        both = common_place(measured, string, place)
        for k, take_id in enumerate(takes):
            yield Progress(Stage.PICTURES, k, 2)
            out.append(self._one(take_id, string, place if both is None else both))
        return out

    def _one(self, take_id: int, string: str, place: float) -> tuple[bytes | None, str]:
        take = self._studio.store.take(take_id)
        stored = self._studio.analysis(take)
        moment = moment_at(stored, string, place) if stored is not None else None
        if stored is None or moment is None:
            return None, tr("{0:%d %B %Y}: no down-bow on {1} goes there.").format(take.played_on, string)
        still = still_of(take, stored, moment, spoken(), faces=True, shape=BESIDE_EACH_OTHER)
        words = tr("{0:%d %B %Y}, {1} of the bow on {2}.").format(take.played_on, show("bow_position", place), string)
        if still is None:
            gone = tr("The video is no longer where it was.")
            return None, f"{words} {gone}"
        return still.jpeg, f"{words} {still.words}"
