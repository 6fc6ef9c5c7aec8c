"""A video for the student's phone: what of it, how fast, with faces or without, and where to; written in the background."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QInputDialog, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.leaving import Leaving
from dolcezza.app.theme.words import fault_words, mark, spoken, tr
from dolcezza.app.views.correct import CorrectView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.services.studio import Studio
from dolcezza.services.video_out import AROUND_S, video_out

WHAT = (
    (mark("this stroke"), True, 1.0), (mark("this stroke, half as fast"), True, 0.5), (mark("this stroke, a quarter as fast"), True, 0.25),
    (mark("the whole video"), False, 1.0), (mark("the whole video, half as fast"), False, 0.5),
)  # fmt: skip


class VideoOutPresenter(QObject):
    """Between the correction page and ``services.video_out``."""

    def __init__(self, studio: Studio, selection: Selection, view: CorrectView, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._selection, self._notice, self._window = selection, notice, parent
        self.jobs = JobRunner(self)
        self.leaving = Leaving(studio, notice, parent)
        self._student = 0
        self.jobs.done.connect(self._on_written)
        self.jobs.failed.connect(lambda error: notice.say(fault_words(error)))
        view.video.connect(self._ask)

    def _on_written(self, path: Path) -> None:
        self.leaving.wrote(self._student, "video for the student", path)
        self._notice.say(tr("Written: {0}").format(path), calm=True)

    def _ask(self) -> None:
        take = self._selection.take
        if take is None or not self.leaving.agreed(take.student_id, picture=True):
            return
        words = [str(tr(w)) for w, *_ in WHAT]
        question = tr("What is to be seen? Faces are hidden.")
        chosen, sure = QInputDialog.getItem(self._window, tr("A video for the student"), question, words, 0, False)
        if not sure:
            return
        path, _ = QFileDialog.getSaveFileName(self._window, tr("A video for the student"), "bowing.mp4", "MP4 (*.mp4)")
        if path:
            _, stroke, tempo = WHAT[words.index(chosen)]
            self.write(Path(path), stroke=stroke, tempo=tempo)

    def write(self, path: Path, *, stroke: bool, tempo: float) -> None:
        """Write the chosen stroke (the first where none is chosen) or all of the open video."""
        take, analysis = self._selection.take, self._selection.analysis
        if take is None or analysis is None or self.jobs.running:
            return
        span = None
        if stroke and analysis.strokes:
            one = self._selection.stroke or analysis.strokes[0]
            span = (one.start_s - AROUND_S, one.end_s + AROUND_S)
        language, self._student = spoken(), take.student_id
        self.jobs.start(lambda: video_out(take, analysis, path, language, span=span, tempo=tempo))
        self._notice.say(tr("The video is being written…"), calm=True)
