"""Archives out of the studio and in again, written and read in the background."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from dolcezza.app.dialogs.archive_dialog import ArchiveDialog
from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.leaving import Leaving
from dolcezza.app.theme.words import fault_words, mark, tr
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import ask
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.job import Progress
from dolcezza.services.archive import TakenIn
from dolcezza.services.studio import Studio
from dolcezza.storage.file_names import file_stem

FILTER = mark("Archives (*.zip)")


class ArchivePresenter(QObject):
    """``came``: somebody came in."""

    came = Signal()

    def __init__(self, studio: Studio, selection: Selection, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._notice, self._window = studio, selection, notice, parent
        self.jobs = JobRunner(self)
        self.leaving = Leaving(studio, notice, parent)
        self.jobs.progressed.connect(self._on_progress)
        self.jobs.done.connect(self._on_done)
        self.jobs.failed.connect(lambda error: notice.say(fault_words(error)))
        self.jobs.cancelled.connect(lambda: notice.say(tr("Stopped; nothing was written."), calm=True))

    def ask_out(self) -> None:
        """Whose archive, and where to."""
        students = self._studio.students()
        if not students:
            self._notice.say(tr("There is nobody to be written: add a student first."))
            return
        keeping = self._studio.keeping
        not_agreed = [s for s in students if not keeping.may_leave(s.id, picture=True)]
        asked = ArchiveDialog(students, self._selection.student, self._window, not_agreed=not_agreed)
        if not ask(asked):
            return
        one, videos = asked.student, asked.videos.isChecked()
        if one is not None and not self.leaving.agreed(one.id, picture=videos):
            return
        name = f"{file_stem(one.name) if one is not None else 'studio'}.zip"
        path, _ = QFileDialog.getSaveFileName(self._window, tr("Write an archive"), name, tr(FILTER))
        if path:
            self.write(Path(path), one.id if one is not None else None, videos=videos, without_videos=asked.without_videos)

    def write(self, path: Path, student_id: int | None, *, videos: bool, without_videos: Collection[int] = ()) -> None:
        """Write it in the background."""
        if not self.jobs.running:
            self.jobs.start(lambda: self._studio.archiving.write(path, student_id, videos=videos, without_videos=without_videos))

    def ask_in(self) -> None:
        """Which archive comes in."""
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Take in an archive"), "", tr(FILTER))
        if path:
            self.take_in(Path(path))

    def take_in(self, path: Path) -> None:
        """Read it in the background."""
        if not self.jobs.running:
            self.jobs.start(lambda: self._studio.archiving.take_in(path))

    def _on_progress(self, progress: Progress, _left: float) -> None:
        words = tr("Archive: {0} of {1} files").format(progress.done, progress.total)
        self._notice.say(words, calm=True, action=tr("Stop"), do=self.jobs.cancel)

    def _on_done(self, result: Path | TakenIn) -> None:
        if isinstance(result, Path):
            self._notice.say(tr("Written: {0}").format(result), calm=True)
            return
        words = tr("Taken in: {0}.").format(", ".join(result.came))
        if result.here:
            words += " " + tr("Here already, left as they are: {0}.").format(", ".join(result.here))
        self._notice.say(words, calm=True)
        self.came.emit()
