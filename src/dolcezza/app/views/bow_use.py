"""Bow use and sound: what was asked against what was played, where the bow spent its time, and what the tone says of weight and speed."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.overlays import paint_bow
from dolcezza.app.widgets.parts import Lead, Row, choice, empty, faint, label
from dolcezza.app.widgets.place_plot import PlacePlot
from dolcezza.app.widgets.ribbon import Ribbon
from dolcezza.app.widgets.take_page import TakePage, stacked
from dolcezza.app.widgets.tone_field import ToneField
from dolcezza.core.assignment.marks import AskedMark
from dolcezza.core.assignment.use import FIGURES, BowUse, Use
from dolcezza.core.pipeline.sound_pass import NO_SOUND, SILENT
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.moments import passing_moments, telling_moments
from dolcezza.reports.findings import messages_of
from dolcezza.reports.sound import sound_lines, worth_hearing
from dolcezza.services.assignment import Assigned, exercise_said
from dolcezza.storage.records import StoredAnalysis

FIND_OUT, NOT_ASKED, ALL = mark("Recognise it"), mark("Nothing was asked"), mark("all strings")
OPEN_CHOICES = {FIND_OUT: FIND_OUT, NOT_ASKED: NOT_ASKED}
MOST_ROWS = 12
NO_TAKE = mark("Analyse the video first.")
SHARE_UNITS = ("share", "share a stroke")


class BowUseView(TakePage):
    """Emits ``asked(name)``: one of the exercises, ``FIND_OUT`` or ``NOT_ASKED``, and ``edit_wanted()``."""

    asked = Signal(str)
    edit_wanted = Signal()

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(selection, parent)
        self._use: dict[str, BowUse] = {}
        self._moments: list[list[float]] = []
        self.left.addWidget(self.transport)
        self.ribbon = Ribbon()
        self.ribbon.moment.connect(self.go)
        self.left.addWidget(self.ribbon)
        self._make_cards()
        self.show_take(None, "", None, [], {}, [], 1.0, 30.0)

    def _make_cards(self) -> None:
        self.exercise = choice(tr("What was to be played"), OPEN_CHOICES)
        self.exercise.activated.connect(lambda _k: self.asked.emit(self.exercise.currentData()))
        self.edit = QPushButton(tr("Edit…"))
        self.edit.setToolTip(tr("Write or change exercises (Ctrl+8)"))
        self.edit.clicked.connect(self.edit_wanted)
        line = QHBoxLayout()
        line.addWidget(self.exercise, 1)
        line.addWidget(self.edit)
        self.sentence = label("")
        self.faults, fault_box = stacked()
        self.card(label(tr("Against the assignment"), "heading"), line, self.sentence, fault_box)
        self.scope = choice(tr("Strokes that are counted"), {ALL: ALL})
        self.scope.activated.connect(self._show_use)
        line = QHBoxLayout()
        line.addWidget(label(tr("Bow distribution"), "heading"), 1)
        line.addWidget(self.scope)
        self.places = PlacePlot()
        self.places.picked.connect(self._to_place)
        figures = QWidget()
        self.figures = QGridLayout(figures)
        self.figures.setContentsMargins(0, 0, 0, 0)
        self.figures.setVerticalSpacing(1)
        self.frog_words = label("")
        self.card(line, self.places, figures, self.frog_words)
        self.tone_head = label(tr("Weight against speed"), "heading")
        self.field = ToneField()
        self.field.moment.connect(self.go)
        self.tone_words = label("")
        self.heard, heard_box = stacked()
        self.card(self.tone_head, self.field, self.tone_words, heard_box)
        self.column.addStretch(1)

    # what is shown

    def show_take(
        self, analysis: StoredAnalysis | None, strings: str, how: Assigned | None, marks: list[AskedMark], use: dict[str, BowUse],
        exercises: list[str], length_s: float, rate_hz: float, limit: float = 4.0, chosen: str = FIND_OUT,
    ) -> None:  # fmt: skip
        """Show a measured take against its assignment, or say that there is none."""
        self._analysis, self._use, self._moments = analysis, use, []
        self.begin_cycles()
        self.transport.set_take(length_s, rate_hz)
        self.transport.show_moment(self._selection.moment_s)
        self.ribbon.set_take(analysis.series if analysis else None, analysis.strokes if analysis else [], strings, limit, set())
        self.ribbon.set_asked(marks)
        self.exercise.clear()
        known: dict[str, str] = {key: tr(words) for key, words in OPEN_CHOICES.items()}
        known |= {name: spoken().sentence(exercise_said(name)) for name in exercises}
        for key, words in (known | {chosen: known.get(chosen, chosen)}).items():
            self.exercise.addItem(words, key)
        self.exercise.setCurrentIndex(self.exercise.findData(chosen))
        self.exercise.setEnabled(analysis is not None)
        self.sentence.setText(spoken().sentence(how.how) if how is not None else tr(NO_TAKE))
        self.scope.clear()
        self.scope.addItem(tr(ALL), ALL)
        for name in (n for n in use if n != "all"):
            self.scope.addItem(name, name)
        self._show_faults(marks, how)
        self._show_use()
        self._show_sound()
        self.canvas.update()

    def _row(self, box: QVBoxLayout, title: str, lines: list[str], moments_s: list[float]) -> None:
        """A row that leads to its moments, one after the other at each click."""
        row = Row(len(self._moments), title, lines)
        row.across.setContentsMargins(10, 4, 10, 4)
        row.setToolTip(tr("Click: to its frame; again: to the next one"))
        row.chosen.connect(self._next_of)
        self._moments.append(moments_s)
        box.addWidget(row)

    def _next_of(self, k: int) -> None:
        self.cycle(k, self._moments[k])

    def _show_faults(self, marks: list[AskedMark], how: Assigned | None) -> None:
        """One row for each way of going wrong."""
        empty(self.faults)
        wrong: dict[tuple[str, ...], list[AskedMark]] = {}
        for asked in marks:
            if asked.faults and "not reached" not in asked.faults:
                wrong.setdefault(asked.faults, []).append(asked)
        for faults, members in sorted(wrong.items(), key=lambda item: -len(item[1])):
            numbers = ", ".join(str(m.asked + 1) for m in members[:MOST_ROWS]) + (" …" if len(members) > MOST_ROWS else "")
            words = ", ".join(spoken().word(f"match.{f}") for f in faults)
            title = tr("{0}: {1} of the asked").format(f"{words[0].upper()}{words[1:]}", len(members))
            self._row(self.faults, title, [tr("strokes {0}").format(numbers)], [m.start_s + 0.02 for m in members])
        if how is None or how.match is None or self._analysis is None:
            return
        own = {s.number: s for s in self._analysis.strokes}
        for pair in how.match.pairs:
            if pair.asked is None and pair.played:
                s = own[pair.played[0]]
                said = tr("Stroke {0}, on {1}: {2}").format(s.number, s.string, ", ".join(spoken().word(f"match.{f}") for f in pair.faults))
                self._row(self.faults, said, [], [s.start_s + 0.02])

    def _show_use(self) -> None:
        name = self.scope.currentData()
        use = self._use.get("all" if name == ALL else name)
        while (item := self.figures.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        if use is None:
            self.places.set_time([], None)
            self.frog_words.setText(tr(NO_TAKE))
            return
        reach = use.figures.get("reach_frog"), use.figures.get("reach_tip")
        self.places.set_time(use.time_share, (reach[0].value, reach[1].value) if reach[0] and reach[1] else None)
        for k, (key, figure) in enumerate(use.figures.items()):
            words, meaning = FIGURES[key]
            name_of, lead = label(tr(words)), Lead(self._figure(figure))
            lead.setAccessibleName(f"{tr(words)} {lead.text()}")
            lead.chosen.connect(partial(self._to_figure, key))
            for column, made in ((0, name_of), (1, lead)):
                made.setToolTip(f"{tr(meaning)}\n" + tr("Click: to its frame; again: to the next one"))
                self.figures.addWidget(made, k, column)
        said = {
            True: tr("The strokes keep away from the frog."), False: tr("The frog is reached."),
            None: tr("No stroke was to go to the frog."),
        }  # fmt: skip
        self.frog_words.setText(said[use.avoids_frog])

    @property
    def _counted(self) -> list[Stroke]:
        """Strokes of the strings that are counted."""
        string = self.scope.currentData()
        return [s for s in self._analysis.strokes if string in (ALL, s.string)] if self._analysis is not None else []

    def _to_place(self, tenth: int) -> None:
        if self._analysis is not None:
            self.cycle(f"place {tenth}", passing_moments(self._analysis.series, self._counted, tenth / 10, (tenth + 1) / 10))

    def _to_figure(self, key: str) -> None:
        self.cycle(key, telling_moments(self._counted, key))

    @staticmethod
    def _figure(figure: Use) -> str:
        scale, unit = 1.0, f" {figure.unit}"
        if figure.unit in SHARE_UNITS:
            scale, unit = 100.0, " " + tr("% a stroke") if "stroke" in figure.unit else " %"
        decimals = 2 if figure.unit in ("", "x") else 1 if abs(scale * figure.value) < 10 else 0
        text = f"{scale * figure.value:.{decimals}f} ± {max(scale * figure.sd, 10.0**-decimals):.{decimals}f}{unit.rstrip()}"
        return text.replace("-", "−").replace(" x", " ×")

    def _show_sound(self) -> None:
        tone = self._analysis.tone if self._analysis is not None else None
        self.field.set_report(tone)
        empty(self.heard)
        if tone is None or self._analysis is None:
            notes = messages_of(self._analysis.summary) if self._analysis is not None else []
            of_sound = next((spoken().sentence(n) for n in notes if n.id in (NO_SOUND, SILENT)), "")
            self.tone_words.setText(of_sound or tr(NO_TAKE))
            return
        self.tone_words.setText("\n".join(sound_lines(tone, self._analysis.strokes, spoken())))
        rows = worth_hearing(tone, self._analysis.strokes, spoken())
        for title, line, moment in rows[:MOST_ROWS]:
            self._row(self.heard, title, [line] if line else [], [moment])
        if len(rows) > MOST_ROWS:
            self.heard.addWidget(faint(tr("and {0} more").format(len(rows) - MOST_ROWS)))

    # to a frame

    def on_moment(self, seconds: float) -> None:
        """Another moment is shown."""
        super().on_moment(seconds)
        self.ribbon.show_moment(seconds)

    def paint_frame(self, painter: QPainter, analysis: StoredAnalysis, frame: int, unit: float) -> None:
        """The bow, and where it meets the string."""
        paint_bow(painter, analysis.series, frame, unit, lines=True, angle=False, contact=True)

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        for plot in (self.ribbon, self.places, self.field):
            plot.palette_ = palette
            plot.update()
