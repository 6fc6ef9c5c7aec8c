"""What the notes page asks for, done: pieces and scales, the bow divided under them, a video laid against them."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, mark, spoken, tr
from dolcezza.app.views.notation import NotationView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.plan_plot import share_words
from dolcezza.app.widgets.score_sheet import BELOW, SheetBow
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.assignment.exercise import Printed
from dolcezza.core.assignment.plan import Plan, ways
from dolcezza.core.assignment.printed import bow_of_notes, exercise_of, rhythm_of
from dolcezza.core.assignment.text import write_exercise
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.instrument.catalog import InstrumentSpec, instrument
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.played.of_take import performance
from dolcezza.core.played.played import Performance, off_the_beat
from dolcezza.core.score.mei import staves
from dolcezza.core.score.scales import keys_for
from dolcezza.core.score.score import Score, part
from dolcezza.core.sound.tuning import believed_cents
from dolcezza.services.bow_plans import drift_said
from dolcezza.services.notation import engraved, scale_mei, score_of, write_score
from dolcezza.services.studio import Studio

FAULTS = {
    "other way": mark("the other way"), "broken slur": mark("slur broken"), "not separate": mark("not separate"),
    "little bow": mark("little bow"),
}  # fmt: skip
BEATS = {"early": mark("early"), "late": mark("late")}


class NotationPresenter(QObject):
    """Emits ``assigned()`` when a piece became what a video was to be."""

    assigned = Signal()

    def __init__(self, studio: Studio, selection: Selection, view: NotationView, notice: NoticeStrip, parent: QObject) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._view, self._notice = studio, selection, view, notice
        self._fit: Fit | None = None
        self._mei, self._name, self._title = "", "", ""
        self._score: Score | None = None
        self._plans: list[Plan] = []
        self._way = 0
        self._shares: dict[int, float] = {}
        self._performance: Performance | None = None
        self._engraved_for: tuple[str, int, int] = ("", 0, 0)
        self.jobs = JobRunner(self)
        self.jobs.done.connect(self._came)
        self.jobs.failed.connect(lambda error: view.show_fault(fault_words(error)))
        view.file_wanted.connect(self._ask_file)
        view.scale_wanted.connect(self.show_scale)
        view.piece_wanted.connect(self.show_piece)
        view.remove_wanted.connect(self._remove)
        view.changed.connect(self._change)
        view.way_chosen.connect(self._choose_way)
        view.share_wanted.connect(self._give_share)
        view.note_chosen.connect(self._choose_note)
        view.save_wanted.connect(self._save)
        view.print_wanted.connect(self._print)
        view.assign_wanted.connect(self._assign)
        view.resized.connect(self._engrave)

    @property
    def _spec(self) -> InstrumentSpec:
        return self._fit.spec if self._fit is not None else instrument("violin 4/4")

    def show_take(self, fit: Fit | None) -> None:
        """Another take is open, or measured anew."""
        self._fit = fit
        if self._score is not None:
            self._lay()
            self._draw()

    def enter(self) -> None:
        """The page is shown: with what it showed last, or the first scale of the instrument."""
        self._view.set_pieces(self._studio.notation.names(), self._name)
        if self._score is None:
            keys = keys_for(self._spec.family)
            self._view.key.setCurrentIndex(max(0, self._view.key.findData(keys[0])))
            self._view.ask_now()
        else:
            self._engrave()

    # what is shown

    def show_scale(self, key: str, pattern: str, minor: bool) -> None:
        """Make a scale and show it."""
        try:
            title, mei = scale_mei(self._spec.family, key, pattern, minor=minor, tempo=float(self._view.tempo.value()))
            self._show(mei, "", title)
        except DolcezzaError as error:
            self._view.show_fault(fault_words(error))

    def show_piece(self, name: str) -> None:
        """Show a kept piece."""
        try:
            self._show(self._studio.notation.mei(name), name, name.replace("_", " "))
        except DolcezzaError as error:
            self._view.show_fault(fault_words(error))

    def take_in(self, path: Path) -> None:
        """Read a notation file at once, keep it and show it."""
        try:
            self._came(self._studio.notation.take_in(path))
        except DolcezzaError as error:
            self._view.show_fault(fault_words(error))

    def _came(self, name: str) -> None:
        """A piece has been read and kept."""
        self._view.show_fault("")
        self.show_piece(name)
        if self._score is not None and self._score.skipped:
            self._notice.say(tr("Not read: {0}.").format(", ".join(self._score.skipped)))

    def _ask_file(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self._view, tr("Open notation"), "", tr("Notation (*.musicxml *.xml *.mxl *.mei *.abc)"))
        if path:
            self.open_file(Path(path))

    def open_file(self, path: Path) -> None:
        """Read a notation file in the background, keep it and show it."""
        if not self.jobs.running:
            self._view.show_fault(tr("Reading {0}…").format(path.name))
            self.jobs.start(partial(self._studio.notation.taken_in, path))

    def _show(self, mei: str, name: str, title: str) -> None:
        found = score_of(mei, title=title)
        self._mei, self._name, self._title, self._shares, self._way = mei, name, title, {}, 0
        self._view.set_pieces(self._studio.notation.names(), name)
        self._view.set_staves(staves(mei))
        self._view.set_numbers(found.tempo, max(n.measure for n in found.notes))
        self._change()

    def _change(self) -> None:
        """Staff, tempo or bars are other ones."""
        if not self._mei:
            return
        staff = int(self._view.staff.currentData() or 1)
        try:
            whole = score_of(self._mei, staff, tempo=float(self._view.tempo.value()), title=self._title)
            last = max(n.measure for n in whole.notes)
            first, until = self._view.first.value(), self._view.last.value()
            self._score = whole if (first, until) == (1, last) else part(whole, first, until)
            self._divide()
        except DolcezzaError as error:
            self._view.show_fault(fault_words(error))
            return
        self._engrave()

    def _engrave(self) -> None:
        wanted = (self._mei, int(self._view.staff.currentData() or 1), self._view.paper_width)
        if self._score is None:
            return
        if wanted != self._engraved_for:
            try:
                made = engraved(self._mei, wanted[1], width=wanted[2], below=BELOW)
            except DolcezzaError as error:
                self._view.show_fault(fault_words(error))
                return
            self._engraved_for = wanted
            loud, now = {}, "mf"
            for note in self._score.notes:
                if note.dynamic != now and not note.rest:
                    now = note.dynamic
                    loud[next((i for i in note.ids if i in made.notes), "")] = now
            self._view.show_notes(made, {k: v for k, v in loud.items() if k})
        self._lay()
        self._draw()

    def _divide(self) -> None:
        if self._score is not None:
            self._plans = ways(rhythm_of(self._score, shares=self._shares), self._spec.hair_length)
            self._way = min(self._way, len(self._plans) - 1)

    def _choose_way(self, k: int) -> None:
        if 0 <= k < len(self._plans):
            self._way = k
            self._draw()

    def _give_share(self, bow: int, share: float) -> None:
        if self._score is None:
            return
        way = self._plans[self._way].way
        notes = bow_of_notes(self._plans[self._way], self._score)[bow]
        printed = [k for k, own in enumerate(self._score.bows) if set(own.notes) & set(notes)]
        if len(printed) != 1:
            self._view.show_fault(tr("Two bows are hooked into one here: choose another way to give it more or less."))
            return
        self._shares[printed[0]] = share
        try:
            self._divide()
            self._way = next((k for k, plan in enumerate(self._plans) if plan.way == way), 0)
        except DolcezzaError as error:
            self._view.show_fault(fault_words(error))
            return
        self._draw()

    # against the open video

    def _lay(self) -> None:
        analysis = self._selection.analysis
        self._performance = None
        if analysis is None or self._score is None:
            self._view.show_played("", False)
            return
        try:
            self._performance = performance(
                self._score,
                analysis.series,
                analysis.strokes,
                cents=believed_cents(analysis.tone.tuning if analysis.tone is not None else None),
            )
        except DolcezzaError as error:
            self._view.show_played(fault_words(error), True)
            return
        self._view.show_played(self._in_words(self._performance), True)

    def _in_words(self, told: Performance) -> str:
        if not told.sure:
            return tr("The open video does not seem to be of these notes ({0} of {1} found in it).").format(
                sum(not n.wrong for n in told.notes.values()), len(told.score.sounding)
            )
        wrong = sum(n.wrong for n in told.notes.values())
        said = [tr("{0} of {1} notes played").format(len(told.notes), len(told.score.sounding))]
        said += [tr("{0} with another pitch").format(wrong)] if wrong else []
        said += [tr("{0} left out").format(len(told.missed))] if told.missed else []
        for fault, words in FAULTS.items():
            count = sum(fault in b.faults for b in told.bows)
            said += [f"{tr(words)}: {count}"] if count else []
        beats = [off_the_beat(n, 60.0 / told.tempo) for n in told.notes.values()]
        said += [f"{beats.count(k)} {tr(words)}" for k, words in BEATS.items() if k in beats]
        return ", ".join(said) + tr("; at {0:.0f} quarter notes a minute.").format(told.tempo)

    def _draw(self) -> None:
        if self._score is None or not self._plans:
            return
        plan = self._plans[self._way]
        self._view.show_plans(self._score.title, self._plans, self._way, self._sheet_bows(plan), spoken().sentence(drift_said(plan)))

    def _sheet_bows(self, plan: Plan) -> list[SheetBow]:
        assert self._score is not None
        told = self._performance if self._performance is not None and self._performance.sure else None
        faults = {k: f for b in (told.bows if told else ()) for k in b.printed.notes[:1] for f in [b.faults] if f}
        out = []
        for bow, notes in zip(plan.bows, bow_of_notes(plan, self._score), strict=True):
            ids = tuple(self._shown_id(k) for k in notes)
            fault = ", ".join(tr(FAULTS[f]) for k in notes for f in faults.get(k, ()))
            way = tr("down") if bow.down else tr("up")
            words = "\n".join([tr("Bow {0}, {1}").format(bow.number, way), share_words(bow.start, bow.end), f"{bow.speed_cm_s:.0f} cm/s"])
            played = tuple(self._played_place(told, k) for k in notes) if told else ()
            out.append(SheetBow(ids, bow.down, bow.start, bow.places, words, played, fault))
        return out

    def _shown_id(self, note: int) -> str:
        assert self._score is not None
        ids = self._score.notes[note].ids
        return next((i for i in ids if i), "")

    @staticmethod
    def _played_place(told: Performance, note: int) -> tuple[float, float] | None:
        own = told.notes.get(note)
        if own is None or not np.isfinite([own.start_place, own.end_place]).all():
            return None
        return own.start_place, own.end_place

    def _choose_note(self, bow: int, note: int) -> None:
        if self._score is None:
            return
        place = bow_of_notes(self._plans[self._way], self._score)[bow][note]
        own = self._performance.notes.get(place) if self._performance is not None and self._performance.sure else None
        bar = tr("Bar {0}").format(self._score.notes[place].measure)
        if own is None:
            self._view.show_note(bar)
            return
        self._selection.go_to(own.start_s)
        said = [bar, tr("{0:.2f} to {1:.2f} s").format(own.start_s, own.end_s)]
        if np.isfinite([own.start_place, own.end_place]).all():
            said.append(tr("bow {0:.0f} to {1:.0f} %").format(100 * own.start_place, 100 * own.end_place))
        said += [tr("on {0}").format(own.string)] if own.string else []
        said += [tr("angle {0:+.0f}°").format(round(own.angle_deg) + 0.0)] if np.isfinite(own.angle_deg) else []
        said += [tr("{0:.0f} mm from the bridge").format(own.contact_mm)] if np.isfinite(own.contact_mm) else []
        beat = off_the_beat(own, 60.0 / (self._performance.tempo if self._performance else 60.0))
        said += [tr(BEATS[beat])] if beat else []
        said += [tr("another pitch")] if own.wrong else []
        self._view.show_note(", ".join(said) + ".")

    # what leaves the page

    def _assign(self) -> None:
        analysis = self._selection.analysis
        if analysis is None or self._score is None or not self._plans:
            return
        try:
            made = exercise_of(self._plans[self._way], self._score, self._spec.family)
            if not self._name:
                # a scale made here is kept, so that the video can be laid against it again
                self._name = self._studio.notation.keep(self._title, self._mei)
                self._view.set_pieces(self._studio.notation.names(), self._name)
            self._studio.assign(analysis.take_id, write_exercise(replace(made, printed=self._printed())))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.assigned.emit()
        self._notice.say(
            tr("Assigned to this video: bows that go otherwise than printed are among the findings; see also Distribution and the ribbon."),
            calm=True,
        )

    def _printed(self) -> Printed:
        """Which notes are shown: of all bars, or of some."""
        staff = int(self._view.staff.currentData() or 1)
        whole = score_of(self._mei, staff)
        bars = (self._view.first.value(), self._view.last.value())
        all_of_it = bars == (1, max(n.measure for n in whole.notes))
        return Printed(self._name, staff, *((0, 0) if all_of_it else bars))

    def _save(self) -> None:
        if self._score is None:
            return
        path, _ = QFileDialog.getSaveFileName(self._view, tr("Save as MusicXML"), f"{self._title}.musicxml", "MusicXML (*.musicxml)")
        if path:
            self.save_to(Path(path))

    def save_to(self, path: Path) -> None:
        """Write the score as MusicXML."""
        if self._score is None:
            return
        try:
            write_score(replace(self._score, title=self._title), self._spec.family, path)
            self._notice.say(tr("Written: {0}").format(path), calm=True)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))

    def _print(self) -> None:
        path, _ = QFileDialog.getSaveFileName(self._view, tr("Print as PDF"), f"{self._title}.pdf", "PDF (*.pdf)")
        if path:
            self._view.print_to(Path(path))
            self._notice.say(tr("Written: {0}").format(path), calm=True)

    def _remove(self) -> None:
        if self._name:
            try:
                self._studio.notation.remove(self._name)
            except DolcezzaError as error:
                self._notice.say(fault_words(error))
                return
            self._score, self._mei, self._name = None, "", ""
            self.enter()
