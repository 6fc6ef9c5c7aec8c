"""Videos in and out of the studio: taken in, found again, removed."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from dolcezza.app.dialogs.student_dialog import StudentDialog
from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, mark, tr
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import ask
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.studio import SameVideo, Studio

WITHOUT_VIDEOS = mark(
    "Remove {0} with {1} videos, everything measured, plans, log and what was written for them, for good? "
    "The video files stay where they are."
)
WITH_VIDEOS = mark("Remove {0} with {1} videos and their files, everything measured, plans, log and what was written for them, for good?")
VIDEO_FILTER = mark("Videos (*.mp4 *.mov *.m4v *.mkv *.webm *.avi *.3gp);;All files (*)")


class TakesPresenter(QObject):
    """Emits ``open_take(id)`` for a take that is to be opened, ``taken_in()``, ``leaving(id)`` before a take goes, ``removed()``, and
    ``student_changed()``."""

    open_take = Signal(int)
    taken_in = Signal()
    leaving = Signal(int)
    removed = Signal()
    student_changed = Signal()

    def __init__(self, studio: Studio, selection: Selection, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._notice, self._window = studio, selection, notice, parent

    def edit_student(self, student_id: int) -> None:
        """Open a student's own sheet."""
        try:
            student = self._studio.store.student(student_id)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            self.student_changed.emit()
            return
        sheet = StudentDialog(self._studio, student, self._window)
        ask(sheet)
        if sheet.removed:
            self._remove_student(student_id, videos=sheet.with_videos)
        elif sheet.kept is not None:
            self._selection.set_student(sheet.kept)
            self.student_changed.emit()

    def _remove_student(self, student_id: int, *, videos: bool = False) -> None:
        student = self._studio.store.student(student_id)
        takes = self._studio.takes(student_id)
        said = QMessageBox.question(
            self._window, tr("Remove the student"),
            tr(WITH_VIDEOS if videos else WITHOUT_VIDEOS).format(student.name, len(takes)),
        )  # fmt: skip
        if said != QMessageBox.StandardButton.Yes:
            return
        for status in takes:
            self.leaving.emit(status.take.id)
        left: list[Path] = []
        try:
            left = self._studio.keeping.remove_files(student_id, videos=videos)
            self._studio.delete_student(student_id)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self._selection.set_student(None)
        self.student_changed.emit()
        if left:
            self._notice.say(tr("These files could not be removed: {0}. Remove them yourself.").format(", ".join(str(p) for p in left)))

    def offer_video(self, path: str) -> None:
        """A video was dropped or is to be chosen, for the student shown."""
        student = self._selection.student
        if student is None:
            self._notice.say(tr("Add a student first; the video belongs to somebody."))
            return
        if not path:
            path, _ = QFileDialog.getOpenFileName(self._window, tr("Open a video"), "", tr(VIDEO_FILTER))
            if not path:
                return
        try:
            take = self._studio.add_take(student.id, Path(path))
        except SameVideo as same:
            known = same.take.id
            self._notice.say(str(same), action=tr("Open that video"), do=lambda: self.open_take.emit(known))
            return
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.taken_in.emit()
        self.open_take.emit(take.id)

    def whose(self, path: Path) -> None:
        """A video came from outside: the teacher chooses the student, then it is taken in."""
        if not self._studio.students():
            self._notice.say(tr("{0} waits: add a student first, then open it.").format(path.name), calm=True)
            return
        self._notice.say(
            tr("Whose video is {0}? Choose the student, then add it.").format(path.name), calm=True, action=tr("Add it"),
            do=lambda: self.offer_video(str(path)),
        )  # fmt: skip

    def missing(self, take_id: int, error: DolcezzaError) -> None:
        """A take could not be opened; a video that was moved is asked for, a take that is gone leaves the list."""
        try:
            gone = not self._studio.store.take(take_id).path.exists()
        except DolcezzaError:
            gone = False
            self.student_changed.emit()
        self._notice.say(fault_words(error), action=tr("Find the video…") if gone else "", do=lambda: self._find_video(take_id))

    def _find_video(self, take_id: int) -> None:
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Where is the video now?"), "", tr(VIDEO_FILTER))
        if path:
            self.relocate(take_id, path)

    def relocate(self, take_id: int, path: str) -> None:
        """The video of a take lies elsewhere now."""
        try:
            self._studio.find_video(self._studio.store.take(take_id), Path(path))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.open_take.emit(take_id)

    def delete_take(self, take_id: int) -> None:
        """Remove a take after asking."""
        try:
            take = self._studio.store.take(take_id)
        except DolcezzaError as error:
            self.missing(take_id, error)
            return
        question = tr("Remove “{0}” and everything measured from it? This cannot be undone. The video file stays where it is.").format(
            take.title
        )
        if QMessageBox.question(self._window, tr("Remove a video"), question) != QMessageBox.StandardButton.Yes:
            return
        self.leaving.emit(take_id)
        try:
            self._studio.delete_take(take_id)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
        self.removed.emit()
