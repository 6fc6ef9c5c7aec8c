"""The desk: the steps of the job in their order, one picture source, one background job, one line for messages."""

from __future__ import annotations

from functools import partial

from PySide6.QtGui import QCloseEvent, QImage
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import DARK, LIGHT
from dolcezza.app.theme.style import dress
from dolcezza.app.views.arm import ArmView
from dolcezza.app.views.bow_plan import BowPlanView
from dolcezza.app.views.bow_use import BowUseView
from dolcezza.app.views.correct import CorrectView
from dolcezza.app.views.hand import HandView
from dolcezza.app.views.pins import PinsView
from dolcezza.app.views.practise import PractiseView
from dolcezza.app.views.progress import ProgressView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.views.students import StudentsView
from dolcezza.app.views.take import TakeView
from dolcezza.app.widgets.job_strip import JobStrip
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.take_page import TakePage
from dolcezza.app.windows.assignment_desk import AssignmentDesk
from dolcezza.app.windows.body_desk import BodyDesk
from dolcezza.app.windows.compare_window import CompareWindow, open_beside
from dolcezza.app.windows.correct_desk import CorrectDesk
from dolcezza.app.windows.measure_desk import MeasureDesk
from dolcezza.app.windows.mend_desk import MendDesk
from dolcezza.app.windows.menus import REVIEW_KEYS, Menus
from dolcezza.app.windows.open_take import OpenTake, Screens
from dolcezza.app.windows.playing import Playing
from dolcezza.app.windows.practice_desk import PracticeDesk
from dolcezza.app.windows.review_keys import ReviewKeys
from dolcezza.app.windows.shortcuts_sheet import ShortcutsSheet
from dolcezza.app.windows.takes_desk import TakesDesk
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.fitfile import Fit
from dolcezza.services.studio import Studio
from dolcezza.services.undo import UndoStack
from dolcezza.storage.records import StoredAnalysis

STEPS = ["Who plays", "The take", "Pins", "Strokes", "Arm", "Hand", "Bow use", "Bow plan", "Correct", "Practise", "Progress"]
STUDENTS, TAKE, PINS, STROKES, ARM, HAND, USE, PLAN, CORRECT, PRACTISE, PROGRESS = range(11)
STILL_STEPS = (STUDENTS, HAND, PLAN, PRACTISE, PROGRESS)
"""Steps that do not show the take's moment."""


class MainWindow(QMainWindow):
    """Puts the screens together for one studio."""

    def __init__(self, studio: Studio) -> None:
        super().__init__()
        self.studio = studio
        self.selection = Selection(self)
        self.beside: CompareWindow | None = None
        self.setWindowTitle("Dolcezza")
        self.setMinimumSize(1100, 700)
        self.resize(1280, 800)
        self._assemble()
        transports = {
            TAKE: self.take_view.transport, PINS: self.pins.transport, ARM: self.arm.transport, USE: self.use.transport,
            CORRECT: self.correct.transport,
        }  # fmt: skip
        self.playing = Playing([v.transport for v in self._playing_views()], self)
        self.review = ReviewKeys(self.pages, self.strokes, transports, self.selection)
        self._connect()
        self._make_menus()
        self.go_to_step(STUDENTS)
        self.studio.undo.changed = self._refresh_undo

    # putting together

    def _assemble(self) -> None:
        centre = QWidget()
        centre.setObjectName("page")
        down = QVBoxLayout(centre)
        down.setContentsMargins(0, 0, 0, 0)
        down.setSpacing(0)
        top = QHBoxLayout()
        top.setContentsMargins(24, 8, 18, 2)
        self.brand = QLabel("Dolcezza")
        self.brand.setObjectName("title")
        self.brand.setMinimumWidth(118)
        self.strip = JobStrip(STEPS)
        top.addWidget(self.brand)
        top.addWidget(self.strip, 1)
        down.addLayout(top)
        self.pages = QStackedWidget()
        self.students = StudentsView(self.studio, self.selection)
        self.take_view = TakeView(self.selection)
        self.pins = PinsView(self.selection)
        self.strokes = StrokesView(self.selection)
        self.arm, self.hand = ArmView(self.selection), HandView()
        self.use, self.plan = BowUseView(self.selection), BowPlanView()
        self.correct, self.practise, self.progress = CorrectView(self.selection), PractiseView(), ProgressView()
        measured = (self.students, self.take_view, self.pins, self.strokes, self.arm, self.hand, self.use, self.plan)
        for page in (*measured, self.correct, self.practise, self.progress):
            self.pages.addWidget(page)
        down.addWidget(self.pages, 1)
        self.notice = NoticeStrip()
        down.addWidget(self.notice)
        self.setCentralWidget(centre)
        self.takes = TakesDesk(self.studio, self.selection, self.notice, self)
        self.measuring = MeasureDesk(self.studio, self.selection, self.pins, self.strokes, self.notice, self)
        self.jobs = self.measuring.jobs
        self.assigning = AssignmentDesk(self.studio, self.selection, self.use, self.plan, self.strokes, self.notice, self)
        self.correcting = CorrectDesk(self.studio, self.selection, self.correct, self.notice, self)
        self.practising = PracticeDesk(
            self.studio, self.selection, self.practise, self.progress, self.notice, lambda: self.correcting.chosen, self
        )  # fmt: skip
        self.body = BodyDesk(self.studio, self.selection, self.arm, self.hand, self.notice, lambda: self.pins.session, self)
        self.mending = MendDesk(self.studio, self.selection, self.strokes, self.arm, self.notice, lambda: self.pins.session, self)
        screens = Screens(self.take_view, self.pins, self.strokes, self.arm, self.assigning, self.body, self.takes)
        self.opened = OpenTake(self.studio, self.selection, screens, self.notice, self)
        self.pictures = self.opened.pictures

    def _connect(self) -> None:
        self.strip.chosen.connect(self.go_to_step)
        self.students.open_take.connect(self.open_take)
        self.students.video_offered.connect(self.takes.offer_video)
        self.students.delete_take.connect(self.takes.delete_take)
        self.takes.open_take.connect(self.open_take)
        self.takes.taken_in.connect(self.students.reload)
        self.students.edit.connect(self.takes.edit_student)
        self.takes.student_changed.connect(self._on_student_changed)
        self.takes.leaving.connect(self._on_leaving)
        self.takes.removed.connect(partial(self.go_to_step, STUDENTS))
        self.students.fault.connect(self.show_fault)
        self.take_view.go_on.connect(partial(self.go_to_step, PINS))
        self.pins.measure.connect(self.measure)
        self.pins.undo_changed.connect(self._refresh_undo)
        self.strokes.judged.connect(self.correcting.judge)
        self.strokes.measure_again.connect(self.measure)
        self.arm.measure_again.connect(self.measure)
        self.selection.moment_changed.connect(self.pictures.want)
        self.pictures.ready.connect(self._on_picture)
        self.opened.opened.connect(self._on_opened)
        self.opened.undo_changed.connect(self._refresh_undo)
        self.mending.mended.connect(self._on_mended)
        self.assigning.judged_again.connect(self._reload_analysis)
        self.correcting.changed.connect(self._reload_analysis)
        self.correct.practise.connect(partial(self.go_to_step, PRACTISE))
        self.progress.open_take.connect(self.open_take)
        self.body.profile_changed.connect(self._reload_analysis)
        self.assigning.edit_wanted.connect(partial(self.go_to_step, PLAN))
        self.measuring.started.connect(self._on_started)
        self.measuring.measured.connect(self._on_measured)
        self.measuring.pins_wrong.connect(partial(self.go_to_step, PINS))
        self.measuring.one_more.connect(self._on_one_more)

    def _make_menus(self) -> None:
        does = {name: getattr(self.review, name) for name in REVIEW_KEYS}
        does |= {
            "open": self._ask_video,
            "measure": self.measure,
            "quit": lambda: (self.close(), None)[1],
            "undo": self.undo,
            "redo": self.redo,
        }
        does |= {f"stroke_{what}": partial(self._mend_stroke, what) for what in ("cut", "join", "drop")}
        does |= {"ends_go": self.strokes.let_ends_go, "copy_profile": self.body.ask_profile_copy}
        does |= {f"step{k}": partial(self.go_to_step, k) for k in range(len(STEPS))}
        does |= {"lesson": self._show_lesson, "beside": self._show_beside, "theme": self.other_theme, "keys": self._show_keys}
        self.menus = Menus(self, does)
        self._refresh_undo()

    # steps

    def _may_enter(self) -> list[bool]:
        open_ = self.selection.take is not None and self.opened.file is not None
        known = open_ or self.selection.student is not None
        return [True, open_, open_, open_, open_, known, open_, True, open_, known, known]

    def go_to_step(self, step: int) -> None:
        """Show one step of the job."""
        if not self._may_enter()[step]:
            return
        for view in self._playing_views():
            view.transport.pause()
        if step in (ARM, HAND):
            self.body.reload()
        if step in (USE, PLAN):
            self.assigning.reload()
        self._reload_lesson(step)
        if step == STUDENTS:
            self.opened.keep_pins()
            self.students.reload()
        self.pages.setCurrentIndex(step)
        self.strip.set_state(step, self._may_enter())
        if step == PINS and self.pins.session is not None and self.pins.session.state.points:
            self.selection.go_to(self.pins.session.t_s)
        elif step not in STILL_STEPS:
            self.pictures.want(self.selection.moment_s)
        if step == PINS:
            self.pins.canvas.setFocus()
        playing = step in (TAKE, STROKES, ARM, USE, CORRECT)
        for name in ("toggle_play", "frame_on", "frame_back", "slower", "repeat", "mute"):
            self.menus.actions[name].setEnabled(playing) if hasattr(self, "menus") else None
        for name in ("stroke_cut", "stroke_join", "stroke_drop", "ends_go"):
            self.menus.actions[name].setEnabled(step == STROKES and self.selection.analysis is not None) if hasattr(self, "menus") else None
        self._refresh_undo()

    def _reload_lesson(self, step: int) -> None:
        if step in (CORRECT, PRACTISE):
            self.correcting.reload()
        if step == PRACTISE:
            self.practising.reload()
        if step == PROGRESS:
            self.practising.reload_progress()

    def _playing_views(self) -> tuple[TakeView, PinsView, StrokesView, ArmView, BowUseView, CorrectView]:
        return self.take_view, self.pins, self.strokes, self.arm, self.use, self.correct

    # takes

    def open_take(self, take_id: int) -> None:
        """Open a take of the studio."""
        self.opened.open(take_id)

    def _on_opened(self) -> None:
        fit = self.opened.fit
        if self.selection.take is not None:
            self.playing.open(self.selection.take.path)
        self.go_to_step(STROKES if self.selection.analysis is not None else PINS if fit is not None and fit.pins else TAKE)

    def _on_student_changed(self) -> None:
        self._reload_analysis()
        self.students.reload()
        self.strip.set_state(self.pages.currentIndex(), self._may_enter())

    def _on_leaving(self, take_id: int) -> None:
        if self.selection.take is not None and self.selection.take.id == take_id:
            self.jobs.cancel()
            self.playing.close()
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
        if self.pins.session is not None:
            self.opened.fit = self.pins.session.base_with_pins()
        self._reload_analysis()

    def _reload_analysis(self) -> None:
        self.opened.reload()
        if self.selection.take is not None:
            self._reload_lesson(self.pages.currentIndex())
        self._refresh_undo()

    # undo

    def _stack(self) -> UndoStack:
        if self.pages.currentIndex() == PINS and self.pins.session is not None:
            return self.pins.session.undo
        return self.studio.undo

    def undo(self) -> None:
        """Take the last step back: of the pins while pinning, else of the teacher's words."""
        if self._stack().undo():
            self._after_undo()

    def redo(self) -> None:
        """Do it again."""
        if self._stack().redo():
            self._after_undo()

    def _after_undo(self) -> None:
        step = self.pages.currentIndex()
        if step in (STROKES, ARM, USE, PLAN, CORRECT):
            self._reload_analysis()
        if step in (ARM, HAND):
            self.body.reload()
        if step == STUDENTS:
            self.students.reload()
        self._reload_lesson(step)

    def _refresh_undo(self) -> None:
        if not hasattr(self, "menus"):
            return
        stack = self._stack()
        for name, words, what in (("undo", "Undo", stack.undo_label), ("redo", "Redo", stack.redo_label)):
            action = self.menus.actions[name]
            action.setText(f"{words}: {what}" if what else words)
            action.setEnabled(bool(what))

    # pictures

    def _on_picture(self, seconds: float, image: QImage) -> None:
        page = self.pages.currentWidget()
        if page in (self.take_view, self.pins):
            (self.take_view if page is self.take_view else self.pins).show_picture(image)
        else:
            shown: TakePage | StrokesView = page if isinstance(page, TakePage) else self.strokes
            shown.show_picture(seconds, image)

    def show_fault(self, error: DolcezzaError) -> None:
        """Say what is wrong and what to do."""
        self.notice.say(str(error))

    # menus

    def _ask_video(self) -> None:
        self.go_to_step(STUDENTS)
        self.takes.offer_video("")

    def _show_lesson(self) -> None:
        self.correcting.reload()
        self.correcting.show_lesson()

    def _show_beside(self) -> None:
        take, analysis = self.selection.take, self.selection.analysis
        if take is None or analysis is None or not analysis.strokes:
            self.notice.say("Open a measured take first: its strokes are laid side by side.", calm=True)
            return
        for view in self._playing_views():
            view.transport.pause()
        stroke = self.selection.stroke or analysis.strokes[0]
        self.beside = open_beside(self.studio, take.student_id, take.id, stroke.number, self)
        if self.beside is not None:
            self.beside.show()

    def _mend_stroke(self, what: str) -> None:
        if self.pages.currentIndex() == STROKES and self.selection.analysis is not None:
            self.mending.mend_stroke(what, "")

    def _show_keys(self) -> None:
        ShortcutsSheet(self).exec()

    def other_theme(self) -> None:
        """Light becomes dark and back."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        palette = LIGHT if app.property("theme") == "dark" else DARK
        dress(app, palette)
        self.strip.palette_ = palette
        self.strokes.recolour(palette)
        for page in (self.arm, self.use, self.plan, self.correct, self.progress):
            page.recolour(palette)
        for view in self._playing_views():
            view.transport.recolour(palette)
        self.students.reload()
        self.strip.update()

    def closeEvent(self, event: QCloseEvent) -> None:
        if self.beside is not None:
            self.beside.close()
        self.opened.keep_pins()
        self.measuring.wait()
        self.mending.wait()
        self.body.jobs.wait()
        self.practising.jobs.wait()
        self.pictures.close()
        self.playing.close()
        self.studio.close()
        event.setAccepted(True)
        super().closeEvent(event)
