"""Many videos at once: whose they are is proposed and confirmed in one list, then they are measured one after another."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from dolcezza.app.dialogs.day_dialog import DayDialog
from dolcezza.app.dialogs.results_dialog import ResultsDialog
from dolcezza.app.presenters.analysis import AnalysisPresenter
from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import ask
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.day import Proposal, look_at_pictures, proposals, propose_again, results, take_in, videos_in, worth_looking
from dolcezza.services.studio import Studio


class DayPresenter(QObject):
    """Emits ``taken_in()`` when videos have come in, ``open_wanted(take id)`` when one of the day's results is to be shown."""

    taken_in = Signal()
    open_wanted = Signal(int)

    def __init__(self, studio: Studio, measuring: AnalysisPresenter, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._studio, self._measuring, self._notice, self._window = studio, measuring, notice, parent
        measuring.one_more.connect(self._on_one_more)
        self._mine: set[int] = set()

    @property
    def does(self) -> dict[str, Callable[[], None]]:
        """What the menu's entries do, by name."""
        return {"day": self.ask, "results": self.show_results}

    def ask(self) -> None:
        """Which folder."""
        folder = QFileDialog.getExistingDirectory(self._window, tr("The day's videos"))
        if folder:
            self.offer([Path(folder)])

    def show_results(self) -> None:
        """What came out of today's videos."""
        shown = ResultsDialog(results(self._studio, date.today()), spoken().sentence, self._window)
        shown.opened.connect(self.open_wanted)
        ask(shown)

    def offer(self, paths: Sequence[Path]) -> None:
        """Files or folders came: propose, ask, take in."""
        if not self._studio.students():
            self._notice.say(tr("Add a student first; the videos belong to somebody."))
            return
        if not videos_in(paths):
            self._notice.say(tr("There is no video in it."))
            return
        found = proposals(self._studio, paths)
        asked = DayDialog(found, self._studio.students(), spoken().sentence, self._window)
        looked = self._look(asked, found)
        wanted = ask(asked)
        looked.cancel()
        looked.wait()
        if wanted:
            self.take(asked.chosen)

    def _look(self, asked: DayDialog, found: Sequence[Proposal]) -> JobRunner:
        """Look at the pictures while the list is open, and propose anew by what is played in them."""
        videos = worth_looking(self._studio, found)
        looked = JobRunner(asked)

        def done(played: dict[Path, str]) -> None:
            asked.show_looking(None)
            asked.show_again(propose_again(self._studio, found, played))

        looked.progressed.connect(lambda progress, _left: asked.show_looking(progress.share) if progress.total else None)
        looked.done.connect(done)
        looked.failed.connect(lambda _fault: asked.show_looking(None))
        if videos:
            asked.show_looking(0.0)
            looked.start(partial(look_at_pictures, videos))
        return looked

    def take(self, chosen: Sequence[tuple[Proposal, int]]) -> None:
        """Take in what was confirmed and measure it, the next lesson's first."""
        ids, faults = take_in(self._studio, chosen)
        self._mine |= set(ids)
        if ids:
            self.taken_in.emit()
            self._measuring.measure_later(ids)
        said = [tr("{0} videos taken in; they are analysed one after another.").format(len(ids)), *faults]
        self._notice.say(" ".join(said), calm=not faults)

    def _on_one_more(self, take_id: int) -> None:
        """One of them is measured: what was found first."""
        if take_id not in self._mine:
            return
        self._mine.discard(take_id)
        try:
            take = self._studio.store.take(take_id)
            analysis = self._studio.analysis(take)
        except DolcezzaError:
            return  # removed meanwhile
        if analysis is None:
            return
        who = self._studio.store.student(take.student_id).name
        first = next((j.finding for j in analysis.findings if j.finding.sure), None)
        found = spoken().sentence(first.message) if first is not None else tr("no sure finding")
        self._notice.say(tr("{0}, “{1}”: {2} strokes; {3}").format(who, take.title, len(analysis.strokes), found), calm=True)
