"""What building the hold asks for, done: steps, answers, checks, marks on the bow, counters, the next stage."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QInputDialog, QWidget

from dolcezza.app.dialogs.hair_gap_window import HairGapWindow
from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.body import PICTURE_FILTER
from dolcezza.app.printing import write_pdf
from dolcezza.app.theme.words import fault_words, mark, spoken, tr
from dolcezza.app.views.hold import HoldView
from dolcezza.app.views.hold_ready import PARTS
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import let_go
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.findings.choices import choices
from dolcezza.core.hold.felt import FELT_TESTS
from dolcezza.core.hold.followed import Followed
from dolcezza.core.hold.methods import Method, methods, methods_for
from dolcezza.core.media.still import read_still
from dolcezza.core.practice.ready import ready_parts
from dolcezza.core.sound.open_strings import OpenString
from dolcezza.reports.choices import choice_in, felt_in, method_in, ready_in
from dolcezza.reports.pages import tick_list
from dolcezza.services.hand_followed import hand_over_take
from dolcezza.services.practice import LADDER
from dolcezza.services.studio import Studio
from dolcezza.services.tuning import listen
from dolcezza.storage.records import Student

TIGHTENED = "tighten"
"""The key of the tick that the gap is about."""
SOUND_FILTER = mark("Sound and video (*.wav *.mp3 *.m4a *.ogg *.flac *.mp4 *.mov *.mkv *.webm);;All files (*)")


class HoldPresenter(QObject):
    """Between the page and the studio. Emits ``changed()`` when something that findings rest on was said, and ``profile_wanted()``."""

    changed = Signal()
    profile_wanted = Signal()

    def __init__(self, studio: Studio, selection: Selection, view: HoldView, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._view, self._notice, self._window = studio, selection, view, notice, parent
        self._method: dict[int, str] = {}
        build = view.build
        build.method_chosen.connect(self._choose_method)
        build.ticked.connect(self._tick)
        build.felt.connect(self._felt)
        build.marked.connect(self._mark)
        build.bow_wanted.connect(self._ask_bow)
        build.bow_chosen.connect(self._choose_bow)
        build.kept.connect(self._kept)
        build.climbed.connect(self._climbed)
        build.next_stage.connect(self._next_stage)
        build.profile_wanted.connect(self.profile_wanted)
        view.answers.said.connect(self._say)
        view.answers.over_take.wanted.connect(self.follow_hand)
        self._following = (0, date.min)
        self._followed: tuple[int, list[Followed], date] | None = None
        self.follow_jobs = JobRunner(self)
        self.follow_jobs.done.connect(self._on_followed)
        self.follow_jobs.failed.connect(self._on_not_followed)
        self.jobs = JobRunner(self)
        self.jobs.done.connect(self._on_heard)
        self.jobs.failed.connect(lambda error: self._notice.say(fault_words(error)))
        view.ready.ticked.connect(self._ready)
        view.ready.recording_wanted.connect(self._ask_recording)
        view.ready.listen_to_take.connect(self._listen_to_take)
        view.ready.photo_wanted.connect(self._ask_photo)
        view.ready.print_wanted.connect(self._ask_print)
        self.gap_window: HairGapWindow | None = None

    @property
    def student(self) -> Student | None:
        """Whose hold is shown: of the open take, else of the chosen student."""
        take = self._selection.take
        return self._studio.store.student(take.student_id) if take is not None else self._selection.student

    def wait(self) -> None:
        """Stop what runs behind (the window closes)."""
        self.jobs.wait()
        self.follow_jobs.wait()

    def _method_of(self, student: Student, family: str) -> Method:
        known = methods_for(family)
        key = self._method.get(student.id) or self._studio.building.method_of(student.id)
        return next((m for m in known if m.key == key), known[0])

    def reload(self) -> None:
        """Show everything anew."""
        student = self.student
        self._view.setEnabled(student is not None)
        if student is None:
            return
        studio, build = self._studio, self._view.build
        spec = studio.spec_of(student.id)
        profile, method = studio.schools.of(student, spec), self._method_of(student, spec.family)
        since = studio.schools.stage_since(student.id)
        build.show_methods(methods_for(spec.family), method, studio.building.ticked(student.id, method))
        build.show_profile(profile, spec, since.since if since is not None else None, left=student.handed == "left")
        build.show_tally(studio.practice.record(student.id, date.today()).settings, date.today(), profile.stage)
        build.show_bow(studio.building.bows(student.id), studio.building.bow(student.id), spec.hair_length)
        build.show_checks(method.checks, studio.store.hands.felt(student.id))
        self._view.answers.show_answers(
            studio.building.said(student.id), studio.store.hold.answers(student.id), studio.building.findings(student.id, profile),
            profile.name,
        )  # fmt: skip

        self._show_followed()
        parts = {part: ready_in(items, spoken()) for part, items in ready_parts(spec.family).items()}
        self._view.ready.show_list(parts, studio.building.ready_today(student.id), take=self._selection.take is not None)

    def _do(self, does: Callable[[Student], object], *, judged: bool = False) -> None:
        """Do something for the student, say what is wrong, show it anew."""
        student = self.student
        if student is None:
            return
        try:
            does(student)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
        self.reload()
        if judged:
            self.changed.emit()

    def _choose_method(self, key: str) -> None:
        if self.student is not None and key in methods():
            self._method[self.student.id] = key
            self.reload()

    def _tick(self, step: str, on: bool) -> None:
        building = self._studio.building

        def does(student: Student) -> None:
            method = self._method_of(student, self._studio.spec_of(student.id).family)
            if on:
                building.tick(student.id, method.key, step)
            else:
                building.untick(student.id, method.key, step)

        self._do(does)

    def _felt(self, test: str, answer: str) -> None:
        self._do(lambda student: self._studio.building.say_felt(student.id, test, answer), judged=True)

    def _say(self, question: str, answer: str, day: date) -> None:
        self._do(lambda student: self._studio.building.say(student.id, question, answer, day), judged=True)

    def follow_hand(self) -> None:
        """The bow hand through the open video, in the background."""
        take, analysis = self._selection.take, self._selection.analysis
        if take is None or analysis is None:
            self._notice.say(tr("Open an analysed video first: the hand is followed through its strokes."))
            return
        if self.follow_jobs.running:
            return
        self._view.answers.over_take.show_busy()
        hair_mm, taken_on = self._studio.spec_of(take.student_id).hair_length, take.played_on
        self._following = (take.id, taken_on)
        size = (take.width, take.height)
        self.follow_jobs.start(lambda: hand_over_take(take.path, analysis.series, analysis.strokes, size, hair_mm))

    def _on_followed(self, told: list[Followed]) -> None:
        take, day = self._following
        self._followed = (take, told, day)
        self._show_followed()

    def _on_not_followed(self, error: Exception) -> None:
        self._followed = None
        self._show_followed()
        self._notice.say(fault_words(error))

    def _show_followed(self) -> None:
        """What was told of the open video's hand, if it was followed."""
        panel, take = self._view.answers.over_take, self._selection.take
        if self.follow_jobs.running:
            panel.show_busy()
        elif self._followed is not None and take is not None and self._followed[0] == take.id:
            panel.show_followed(self._followed[1], self._followed[2])
        else:
            panel.show_nothing()

    def _mark(self, name: str, mm: float | None) -> None:
        self._do(lambda student: self._studio.building.mark(student.id, name, mm))

    def _ask_bow(self) -> None:
        name, sure = QInputDialog.getText(self._window, tr("Another bow"), tr("Its name, such as: half-size bow"))
        if sure:
            self._do(lambda student: self._studio.building.new_bow(student.id, name))

    def _choose_bow(self, bow_id: int) -> None:
        self._do(lambda student: self._studio.building.play(student.id, bow_id))

    def _kept(self) -> None:
        self._do(lambda student: self._studio.practice.log(student.id, date.today(), "D4", count=1))

    def _climbed(self, places: int, minutes: float) -> None:
        self._do(lambda student: self._studio.practice.log(student.id, date.today(), LADDER, minutes=minutes, count=places))

    def _ready(self, key: str, on: bool) -> None:
        self._do(lambda student: self._studio.building.make_ready(student.id, key, on=on))

    def _ask_print(self) -> None:
        path, _ = QFileDialog.getSaveFileName(self._window, tr("Print the list"), "list.pdf", tr("PDF (*.pdf)"))
        if path:
            self.print_list(Path(path))

    def print_list(self, path: Path) -> None:
        """What is to be ready and the steps of the hold, on a page to tick by hand."""
        student = self.student
        if student is None:
            return
        words, spec = spoken(), self._studio.spec_of(student.id)
        parts: dict[str, list[str]] = {
            tr(PARTS[part]): list(ready_in(items, words).values()) for part, items in ready_parts(spec.family).items()
        }
        method = method_in(self._method_of(student, spec.family), words)
        tests = {t.key: felt_in(t, words) for t in FELT_TESTS}
        parts[tr("Building the hold: {0}").format(method.name)] = [s.says for s in method.steps]
        parts[tr("At the end")] = [f"{tests[key].how} {tests[key].question}" for key in method.checks]
        try:
            write_pdf(tick_list(tr("Before the first note"), parts, words=words), path, title=tr("Before the first note"))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self._notice.say(tr("Written: {0}").format(path), calm=True)

    def _ask_recording(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Open a recording of the open strings"), "", tr(SOUND_FILTER))
        if path:
            self.listen_to(Path(path))

    def _ask_photo(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Open a photo of the bow"), "", tr(PICTURE_FILTER))
        if path:
            self.measure_gap(Path(path))

    def measure_gap(self, path: Path) -> None:
        """Show a photo of the bow, on which both ends of its hair are marked."""
        student = self.student
        if student is None:
            return
        try:
            picture = read_still(path)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        let_go(self.gap_window)
        hair_mm = self._studio.spec_of(student.id).hair_length
        self.gap_window = HairGapWindow(picture, hair_mm, lambda: self._ready(TIGHTENED, True), self._window)
        self.gap_window.open()

    def _listen_to_take(self) -> None:
        if self._selection.take is not None:
            self.listen_to(self._selection.take.path)

    def listen_to(self, path: Path) -> None:
        """Name the open strings of a recording, in the background."""
        student = self.student
        if student is None or self.jobs.running:
            return
        family = self._studio.spec_of(student.id).family
        self.jobs.start(lambda: listen(path, family))

    def _on_heard(self, heard: list[OpenString]) -> None:
        if self.student is not None:
            self._view.ready.show_strings(heard, self._studio.spec_of(self.student.id).strings)

    def _next_stage(self) -> None:
        def does(student: Student) -> None:
            stage = self._studio.schools.next_stage(student.id, self._studio.spec_of(student.id))
            if stage is not None:
                name = choice_in(choices()["stage"], spoken()).option(stage).name
                self._notice.say(tr("{0} is at the stage “{1}” now; Ctrl+Z takes it back.").format(student.name, name), calm=True)

        self._do(does, judged=True)
