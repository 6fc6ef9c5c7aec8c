"""The desk: the steps of the job in their order, one picture source, one background job, one line for messages."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.analysis import AnalysisPresenter
from dolcezza.app.presenters.archive import ArchivePresenter
from dolcezza.app.presenters.assignment import AssignmentPresenter
from dolcezza.app.presenters.beside import BesidePresenter
from dolcezza.app.presenters.body import BodyPresenter
from dolcezza.app.presenters.calibration import CalibrationPresenter
from dolcezza.app.presenters.corrections import CorrectionsPresenter
from dolcezza.app.presenters.day import DayPresenter
from dolcezza.app.presenters.findings import FindingsPresenter
from dolcezza.app.presenters.help import HelpPresenter
from dolcezza.app.presenters.hold import HoldPresenter
from dolcezza.app.presenters.notation import NotationPresenter
from dolcezza.app.presenters.phone_check import PhoneCheckPresenter
from dolcezza.app.presenters.playing import Playing
from dolcezza.app.presenters.practice import PracticePresenter
from dolcezza.app.presenters.profile import ProfilePresenter
from dolcezza.app.presenters.session import Desk, SessionPresenter
from dolcezza.app.presenters.takes import TakesPresenter
from dolcezza.app.presenters.undo import UndoPresenter
from dolcezza.app.presenters.video_out import VideoOutPresenter
from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.style import built_bare
from dolcezza.app.theme.words import fault_words, tr
from dolcezza.app.widgets.focus import put_in_reading_order
from dolcezza.app.widgets.job_strip import JobStrip
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import dragged_files
from dolcezza.app.windows.menus import REVIEW_KEYS, Menus
from dolcezza.app.windows.open_take import OpenTake, Screens
from dolcezza.app.windows.pages import Pages
from dolcezza.app.windows.review_keys import ReviewKeys
from dolcezza.app.windows.steps import (
    ARM,
    CORRECT,
    HOLD,
    LANDMARKS,
    NOTES,
    PLAN,
    PLAYING_KEYS,
    PLAYING_STEPS,
    PRACTISE,
    PROGRESS,
    STEPS,
    STILL_STEPS,
    STROKE_KEYS,
    STROKES,
    STUDENTS,
    TAKE,
    USE,
    may_enter,
)
from dolcezza.app.windows.wiring import connect
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.services.settings import SettingsFile
from dolcezza.services.studio import Studio
from dolcezza.services.undo import Together, UndoStack
from dolcezza.storage.records import StoredAnalysis


class MainWindow(QMainWindow):
    """Puts the screens together for one studio."""

    def __init__(self, studio: Studio, settings: SettingsFile | None = None) -> None:
        super().__init__()
        self.studio = studio
        self.selection = Selection(self)
        self._before_profile = STUDENTS
        self.setWindowTitle(tr("Dolcezza"))
        self.setMinimumSize(1100, 700)
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        built_bare(self._assemble)
        self.playing = Playing(list(self.pages.transports.values()), self)
        desk = Desk(self.open_take, self.go_to_step, self.pages.currentIndex)
        self.session = SessionPresenter(self.studio, self.selection, settings or SettingsFile(), self.playing, desk, self)
        self.session.recoloured.connect(self._recolour)
        self.review = ReviewKeys(self.pages, self.strokes, self.pages.transports, self.selection)
        self.undoing = UndoPresenter(self._stack, self)
        self.undoing.gone_back.connect(self._after_undo)
        self.undoing.failed.connect(self.show_fault)
        connect(self)
        self._make_menus()
        self.go_to_step(STUDENTS)
        self.studio.undo.changed = self._refresh_undo

    def _assemble(self) -> None:
        centre = QWidget()
        centre.setObjectName("page")
        down = QVBoxLayout(centre)
        down.setContentsMargins(0, 0, 0, 0)
        down.setSpacing(0)
        top = QHBoxLayout()
        top.setContentsMargins(24, 8, 18, 2)
        self.brand = QLabel(tr("Dolcezza"))
        self.brand.setObjectName("title")
        self.brand.setMinimumWidth(118)
        self.strip = JobStrip([tr(name) for name in STEPS])
        top.addWidget(self.brand)
        top.addWidget(self.strip, 1)
        down.addLayout(top)
        self.pages = pages = Pages(self.studio, self.selection)
        self.students, self.take_view, self.landmarks, self.strokes = pages.students, pages.take, pages.landmarks, pages.strokes
        self.arm, self.hand, self.use, self.plan = pages.arm, pages.hand, pages.use, pages.plan
        self.correct, self.practise, self.progress = pages.correct, pages.practise, pages.progress
        down.addWidget(self.pages, 1)
        self.notice = NoticeStrip()
        down.addWidget(self.notice)
        self.setCentralWidget(centre)
        self.takes = TakesPresenter(self.studio, self.selection, self.notice, self)
        self.measuring = AnalysisPresenter(self.studio, self.selection, self.landmarks, self.strokes, self.notice, self)
        self.jobs = self.measuring.jobs
        self.assigning = AssignmentPresenter(self.studio, self.selection, self.use, self.plan, self.strokes, self.notice, self)
        self.notation = NotationPresenter(self.studio, self.selection, pages.notes, self.notice, self)
        self.correcting = FindingsPresenter(self.studio, self.selection, self.correct, self.notice, self)
        self.practising = PracticePresenter(
            self.studio, self.selection, self.practise, self.progress, self.notice, lambda: self.correcting.chosen, self
        )  # fmt: skip
        self.body = BodyPresenter(self.studio, self.selection, self.arm, self.hand, self.notice, lambda: self.landmarks.session, self)
        self.days = DayPresenter(self.studio, self.measuring, self.notice, self)
        self.archives = ArchivePresenter(self.studio, self.selection, self.notice, self)
        self.video_out = VideoOutPresenter(self.studio, self.selection, self.correct, self.notice, self)
        self.building = HoldPresenter(self.studio, self.selection, pages.hold, self.notice, self)
        self.profiles = ProfilePresenter(self.studio, self.selection, pages.profile, self.notice, self)
        self.corrections = CorrectionsPresenter(
            self.studio, self.selection, self.strokes, self.arm, self.notice, lambda: self.landmarks.session,
            self.measuring.is_measuring, self
        )  # fmt: skip
        screens = Screens(self.take_view, self.landmarks, self.strokes, self.arm, self.assigning, self.notation, self.body, self.takes)
        self.opened = OpenTake(self.studio, self.selection, screens, self.notice, self)
        self.pictures = self.opened.pictures

    def _make_menus(self) -> None:
        self.help = HelpPresenter(self, self.studio.folder, lambda: self.checks.usual(), lambda: self.strip.palette_)
        self.calibrating = CalibrationPresenter(self.selection, self.landmarks, self)
        self.beside = BesidePresenter(self.studio, self.selection, self.notice, self.pages.pause, self)
        self.checks = PhoneCheckPresenter(self.studio, self.selection, lambda: self.landmarks.session, self)
        does = {name: getattr(self.review, name) for name in REVIEW_KEYS}
        does |= {
            "open": self._ask_video,
            "measure": self.measure,
            "quit": lambda: (self.close(), None)[1],
            "undo": self.undo,
            "redo": self.redo,
        }
        does |= {f"stroke_{what}": partial(self._mend_stroke, what) for what in ("cut", "join", "drop")}
        does |= {
            "ends_go": self.strokes.let_ends_go,
            "profile": self.show_profile,
            **self.days.does,
            "archive": self.archives.ask_out,
            "take_in": self.archives.ask_in,
        }
        does |= {f"step{k}": partial(self.go_to_step, k) for k in range(len(STEPS))}
        does |= {
            "lesson": self._show_lesson,
            "theme": self.other_theme,
            "preferences": self.session.ask,
            **self.beside.does,
            **self.help.does,
            **self.checks.does,
        }
        self.menus = Menus(self, does)
        self.menus.recent.aboutToShow.connect(partial(self.session.fill_recent, self.menus.recent))
        self.undoing.show_on(self.menus.actions["undo"], self.menus.actions["redo"])

    # steps

    def _may_enter(self) -> list[bool]:
        take = self.selection.take is not None and self.opened.file is not None
        return may_enter(take=take, student=self.selection.student is not None)

    def go_to_step(self, step: int) -> None:
        """Show one step of the job."""
        if not self._may_enter()[step]:
            return
        self.pages.pause()
        if step in (ARM, HOLD):
            self.body.reload()
            self.building.reload()
        if step in (USE, PLAN):
            self.assigning.reload()
        if step == NOTES:
            self.notation.enter()
        self._reload_lesson(step)
        if step == STUDENTS:
            self.opened.keep_landmarks()
            self.students.reload()
        self.pages.setCurrentIndex(step)
        self.strip.set_state(step, self._may_enter())
        if step == LANDMARKS and self.landmarks.session is not None and self.landmarks.session.state.points:
            self.selection.go_to(self.landmarks.session.t_s)
        elif step not in STILL_STEPS:
            self.pictures.want(self.selection.moment_s)
        if step == LANDMARKS:
            self.landmarks.canvas.setFocus()
        elif not self.strip.hasFocus() and (page := self.pages.currentWidget()) is not None:
            # the keyboard goes on from the new page
            page.setFocus()
        for name in PLAYING_KEYS:
            self.menus.actions[name].setEnabled(step in PLAYING_STEPS)
        for name in STROKE_KEYS:
            self.menus.actions[name].setEnabled(step == STROKES and self.selection.analysis is not None)
        self._refresh_undo()

    def show_profile(self) -> None:
        """The profile of the student, with the way back to the page it was asked for on."""
        if self.profiles.student is None:
            self.notice.say(tr("Choose a student first; the profile is that student's."))
            return
        if self.pages.currentWidget() is not self.pages.profile:
            self._before_profile = self.pages.currentIndex()
        self.pages.pause()
        self.profiles.reload()
        self.pages.setCurrentWidget(self.pages.profile)

    def _reload_lesson(self, step: int) -> None:
        if step in (CORRECT, PRACTISE):
            self.correcting.reload()
        if step == PRACTISE:
            self.practising.reload()
        if step == PROGRESS:
            self.practising.reload_progress()

    # takes

    def open_take(self, take_id: int) -> None:
        """Open a take of the studio."""
        self.opened.open(take_id)

    def _on_opened(self) -> None:
        fit = self.opened.fit
        if self.selection.take is not None:
            self.playing.open(self.selection.take.path)
        self.calibrating.opened()
        self.measuring.show_state()
        self.go_to_step(STROKES if self.selection.analysis is not None else LANDMARKS if fit is not None and fit.landmarks else TAKE)

    def _on_student_changed(self) -> None:
        self._reload_analysis()
        self.students.reload()
        self.strip.set_state(self.pages.currentIndex(), self._may_enter())

    def _on_leaving(self, take_id: int) -> None:
        if self.selection.take is not None and self.selection.take.id == take_id:
            self.playing.close()
        self.measuring.forget(take_id)
        self.opened.leave(take_id)

    # measuring

    def measure(self) -> None:
        """As the key does."""
        self.measuring.measure()

    def _on_started(self, fit: Fit) -> None:
        self.opened.fit = fit
        self.go_to_step(STROKES)

    def _on_measured(self, stored: StoredAnalysis) -> None:
        self.opened.show_analysis()
        if stored.findings:
            self.strokes.open_finding(0)
        else:
            self.selection.step_stroke(1)

    def _on_one_more(self, take_id: int) -> None:
        if self.selection.take is not None and self.selection.take.id == take_id:
            self._reload_analysis()
        elif self.pages.currentIndex() == STUDENTS:
            self.students.reload()

    def _on_mended(self) -> None:
        if self.landmarks.session is not None:
            self.opened.fit = self.landmarks.session.base_with_landmarks()
        self._reload_analysis()

    def _reload_analysis(self) -> None:
        self.opened.reload()
        if self.selection.take is not None:
            self._reload_lesson(self.pages.currentIndex())
        self._refresh_undo()

    # undo

    def _stack(self) -> UndoStack | Together:
        if self.pages.currentIndex() == LANDMARKS and self.landmarks.session is not None:
            return Together([self.landmarks.session.undo, self.studio.undo])
        return self.studio.undo

    def undo(self) -> None:
        """Take the last step back: of the landmarks while calibrating, else of the teacher's words."""
        self.undoing.undo()

    def redo(self) -> None:
        """Do it again."""
        self.undoing.redo()

    def _after_undo(self) -> None:
        step = self.pages.currentIndex()
        if step in (LANDMARKS, STROKES, ARM, USE, PLAN, CORRECT):
            self._reload_analysis()
        if step in (ARM, HOLD):
            self.body.reload()
            self.building.reload()
        if step == STUDENTS:
            self.students.reload()
        if self.pages.currentWidget() is self.pages.profile:
            self.profiles.reload()
        self._reload_lesson(step)

    def _refresh_undo(self) -> None:
        self.undoing.refresh()

    # pictures

    def show_fault(self, error: DolcezzaError) -> None:
        """Say what is wrong and what to do."""
        self.notice.say(fault_words(error))

    # menus

    def _ask_video(self) -> None:
        self.go_to_step(STUDENTS)
        self.takes.offer_video("")

    def _show_lesson(self) -> None:
        self.correcting.reload()
        self.correcting.show_lesson()

    def _mend_stroke(self, what: str) -> None:
        if self.pages.currentIndex() == STROKES and self.selection.analysis is not None:
            self.corrections.mend_stroke(what, "")

    def other_theme(self) -> None:
        """Light becomes dark and back."""
        self.session.other_theme()

    def _recolour(self, palette: Palette) -> None:
        self.strip.palette_ = palette
        self.strip.update()
        self.pages.recolour(palette)

    # videos from outside

    def offer_file(self, path: Path) -> None:
        """A video that came from the desktop: it is asked whose it is."""
        self.go_to_step(STUDENTS)
        self.takes.whose(path)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        dragged_files(event)

    def dropEvent(self, event: QDropEvent) -> None:
        if files := dragged_files(event):
            if len(files) > 1 or files[0].is_dir():
                self.days.offer(files)
            else:
                self.offer_file(files[0])

    def focusNextPrevChild(self, forward: bool) -> bool:
        # rows come and go: the way of the Tab key is laid when it is walked
        centre = self.centralWidget()
        if centre is not None:
            put_in_reading_order(centre)
        return super().focusNextPrevChild(forward)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.beside.close()
        if self.opened.phones is not None:
            self.opened.phones.close()
        self.session.leave()
        self.opened.keep_landmarks()
        for presenter in (self.measuring, self.corrections, self.calibrating, self.building):
            presenter.wait()
        for working in (self.body, self.video_out, self.archives, self.notation, self.practising):
            working.jobs.wait()
        self.pictures.close()
        self.playing.close()
        self.studio.close()
        event.setAccepted(True)
        super().closeEvent(event)
