"""The bow plan: a rhythm divided in every way there is, and exercises written, mixed and asked for."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.line_builder import LineBuilder
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label, scroll_column
from dolcezza.app.widgets.plan_plot import DrawnBow, PlanPlot
from dolcezza.app.widgets.rhythm_builder import RhythmBuilder
from dolcezza.core.assignment.plan import Plan
from dolcezza.services.assignment import exercise_said
from dolcezza.services.bow_plans import READY_RHYTHMS

RHYTHM, EXERCISE = "rhythm", "exercise"
HELP = {
    RHYTHM: mark("Beats as numbers. p f: how loud. ( ): one bow. r1: a rest. ^: retake. @0.5: half the bow."),
    EXERCISE: mark("Strings, then how many, which part of the bow, x beats. Parts: whole lower upper middle frog tip, or 0.2-0.6."),
}  # fmt: skip
MIXES = (mark("Mix by chance"), mark("Every part after every other"), mark("Every string after every other"))
WAIT_MS = 250


class BowPlanView(QWidget):
    """Emits ``rhythm_written(text)``, ``exercise_written(text)`` a moment after the last key; ``way_chosen(k)``, ``picked(name)``,
    ``mix_wanted(name)``, ``make_exercise()``, ``save()``, ``remove()``, ``ask()``."""

    rhythm_written = Signal(str)
    exercise_written = Signal(str)
    way_chosen = Signal(int)
    picked = Signal(str)
    mix_wanted = Signal(str)
    make_exercise = Signal()
    save = Signal()
    remove = Signal()
    ask = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.texts = {RHYTHM: next(iter(READY_RHYTHMS.values())), EXERCISE: ""}
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.setInterval(WAIT_MS)
        self._clock.timeout.connect(self.tell)
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 6, 18, 12)
        across.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(5)
        self.head = label("", "title")
        self.advice = label("")
        self.plot = PlanPlot()
        self.plot.chosen.connect(self._show_bow)
        self.bow_words = faint(tr("Click a bow, or use the arrow keys: its places and speed are shown here."))
        left.addWidget(self.head)
        left.addWidget(self.advice)
        left.addWidget(self.plot, 1)
        left.addWidget(self.bow_words)
        area, self._ways = scroll_column()
        area.setFixedHeight(214)
        self._ways_area = area
        left.addWidget(area)
        across.addLayout(left, 1)
        across.addWidget(self._make_side())
        self._mode = RHYTHM
        self._show_mode()

    def _make_side(self) -> QFrame:
        side = QFrame()
        side.setObjectName("card")
        side.setFixedWidth(452)
        box = QVBoxLayout(side)
        box.setContentsMargins(14, 11, 14, 12)
        box.setSpacing(7)
        row = QHBoxLayout()
        self.modes: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for mode, words in ((RHYTHM, tr("Divide a rhythm")), (EXERCISE, tr("Write an exercise"))):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setChecked(mode == RHYTHM)
            button.clicked.connect(self._change_mode)
            group.addButton(button)
            self.modes[mode] = button
            row.addWidget(button)
        row.addStretch(1)
        box.addLayout(row)
        self.ready = choice(tr("Begin with"), {name: name for name in READY_RHYTHMS})
        self.ready.activated.connect(self._pick)
        self.mix = choice(tr("Made up for you"), {name: name for name in MIXES})
        self.mix.activated.connect(lambda _k: self.mix_wanted.emit(self.mix.currentData()))
        line = QHBoxLayout()
        line.addWidget(self.ready, 1)
        line.addWidget(self.mix, 1)
        box.addLayout(line)
        self.text = QPlainTextEdit()
        self.text.setAccessibleName(tr("Text of the rhythm or exercise"))
        self.text.setTabChangesFocus(True)
        self.text.textChanged.connect(self._clock.start)
        box.addWidget(self.text, 1)
        self.builder = LineBuilder()
        self.builder.added.connect(self._add_line)
        box.addWidget(self.builder)
        self.entry = RhythmBuilder()
        self.entry.changed.connect(self._change_rhythm)
        box.addWidget(self.entry)
        self.fault = label("", "problem")
        self.help = faint("")
        self.summary = label("")
        for widget in (self.fault, self.summary, self.help):
            box.addWidget(widget)
        buttons = QHBoxLayout()
        self.to_exercise = QPushButton(tr("Make it an exercise"))
        self.to_exercise.clicked.connect(self.make_exercise)
        self.save_button = QPushButton(tr("Save"))
        self.save_button.clicked.connect(self.save)
        self.remove_button = QPushButton(tr("Remove"))
        self.remove_button.clicked.connect(self.remove)
        self.ask_button = QPushButton(tr("Assign to this video"))
        self.ask_button.setObjectName("main")
        self.ask_button.clicked.connect(self.ask)
        for button in (self.to_exercise, self.save_button, self.remove_button):
            buttons.addWidget(button)
        buttons.addStretch(1)
        buttons.addWidget(self.ask_button)
        box.addLayout(buttons)
        return side

    # modes

    @property
    def mode(self) -> str:
        """``RHYTHM`` or ``EXERCISE``."""
        return self._mode

    def set_text(self, mode: str, text: str) -> None:
        """Put a text into one of the two editors and show it."""
        self._keep()
        self.texts[mode] = text
        self._mode = mode
        self._show_mode()

    def _keep(self) -> None:
        self.texts[self._mode] = self.text.toPlainText()

    def _change_mode(self) -> None:
        self._keep()
        self._mode = RHYTHM if self.modes[RHYTHM].isChecked() else EXERCISE
        self._show_mode()

    def _show_mode(self) -> None:
        rhythm = self._mode == RHYTHM
        self.modes[self._mode].setChecked(True)
        self.text.blockSignals(True)
        self.text.setPlainText(self.texts[self._mode])
        self.text.blockSignals(False)
        self.help.setText(tr(HELP[self._mode]))
        self._ways_area.setVisible(rhythm)
        self.to_exercise.setVisible(rhythm)
        self.entry.setVisible(rhythm)
        for widget in (self.save_button, self.remove_button, self.ask_button, self.mix, self.builder):
            widget.setVisible(not rhythm)
        self._fill_ready()
        self.tell()

    def _add_line(self, line: str) -> None:
        """A line that was put together goes to the end of the text."""
        self.text.setPlainText(f"{self.text.toPlainText().rstrip()}\n{line}\n")
        self.tell()

    def _change_rhythm(self, does: Callable[[str], str]) -> None:
        """A click or key of the rhythm's builder: the text is changed, and told."""
        self.text.setPlainText(does(self.text.toPlainText()))
        self.tell()

    def tell(self) -> None:
        """Say what is written now."""
        self._clock.stop()
        self.texts[self._mode] = self.text.toPlainText()
        (self.rhythm_written if self._mode == RHYTHM else self.exercise_written).emit(self.texts[self._mode])

    def _pick(self) -> None:
        name = self.ready.currentData()
        if self._mode == RHYTHM:
            self.set_text(RHYTHM, READY_RHYTHMS[name])
        else:
            self.picked.emit(name)

    def set_exercises(self, names: Sequence[str], strings: str, may_ask: bool) -> None:
        """Names to choose from, the instrument's strings, and whether there is a take to ask one of."""
        self.builder.set_strings(strings)
        self._names = list(names)
        self.ask_button.setEnabled(may_ask)
        self.ask_button.setToolTip("" if may_ask else tr("Open an analysed video first"))
        self._fill_ready()

    _names: Sequence[str] = ()

    def _fill_ready(self) -> None:
        now = self.ready.currentData()
        self.ready.clear()
        for name in READY_RHYTHMS if self._mode == RHYTHM else self._names:
            self.ready.addItem(tr(name) if self._mode == RHYTHM else spoken().sentence(exercise_said(name)), name)
        self._show_ready(now)

    def _show_ready(self, name: str | None) -> None:
        """The list stands at what is shown, where it is among the ready ones."""
        k = self.ready.findData(name)
        if k >= 0:
            self.ready.setCurrentIndex(k)

    # what came out

    def show_plans(self, plans: Sequence[Plan], chosen: int, bows: Sequence[DrawnBow], drift: str) -> None:
        """The ways of a rhythm, and the chosen one drawn."""
        self.fault.setText("")
        plan = plans[chosen]
        called = tr(plan.way)
        self.head.setText(f"{tr(plan.rhythm.name)}: {called[:1].lower()}{called[1:]}")
        self._show_ready(plan.rhythm.name)
        self.advice.setText(" ".join([spoken().sentence(plan.advice), drift]))
        self.summary.setText("\n".join(map(spoken().sentence, plan.warnings)) or tr("No warnings."))
        self._draw(bows, plan.rhythm.low, plan.rhythm.high)
        empty(self._ways)
        for k, way in enumerate(plans):
            speeds = [b.speed_cm_s for b in way.bows]
            fits = tr("stays in the bow") if way.fits else tr("leaves the bow")
            now = "▸ " if k == chosen else ""
            low, high = f"{min(speeds):.0f}", f"{max(speeds):.0f}"
            speed = low if low == high else tr("{0} to {1}").format(low, high)
            row = Row(k, f"{now}{tr(way.way)}", [f"{fits}, {speed} cm/s. {spoken().sentence(way.advice)}"])
            row.across.setContentsMargins(10, 5, 10, 5)
            row.chosen.connect(self.way_chosen)
            self._ways.addWidget(row)
        self._ways.addStretch(1)

    def show_exercise(self, name: str, seconds: float, counts: Mapping[str, int], bows: Sequence[DrawnBow], own: bool) -> None:
        """An exercise drawn, with what was worked out of it; ``own``: it is the teacher's, so it can be removed."""
        self.fault.setText("")
        self.head.setText(spoken().sentence(exercise_said(name)))
        self._show_ready(name)
        self.advice.setText(tr("{0} strokes in {1:.0f} min {2:.0f} s.").format(sum(counts.values()), seconds / 60, seconds % 60))
        self.summary.setText(tr("On each string: ") + ", ".join(f"{string} {count}" for string, count in counts.items()) + ".")
        self.remove_button.setEnabled(own)
        self._draw(bows, 0.0, 1.0)

    def show_fault(self, sentence: str) -> None:
        """What is wrong with the text; the picture keeps what it showed last."""
        self.fault.setText(sentence)
        self.summary.setText("")

    def _draw(self, bows: Sequence[DrawnBow], low: float, high: float) -> None:
        self._bows = {b.number: b for b in bows}
        self.plot.set_bows(bows, low, high)

    _bows: Mapping[int, DrawnBow] = {}

    def _show_bow(self, number: int) -> None:
        self.bow_words.setText(self._bows[number].words.replace("\n", ", "))

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.plot.palette_ = palette
        self.plot.update()
