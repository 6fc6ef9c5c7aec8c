"""Building the hold: the steps of one method to tick, the drawing, the counters, the small checks, and the stage with what it opens."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import day_words, mark, spoken, tr
from dolcezza.app.widgets.counters import LadderTimer, TenCount
from dolcezza.app.widgets.hold_drawing import MARK_NAMES, HoldDrawing
from dolcezza.app.widgets.parts import choice, empty, faint, label, scroll_column
from dolcezza.core.findings.choices import Stage, choices, next_stage
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.hold.felt import FELT_TESTS
from dolcezza.core.hold.methods import Method
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.practice.drills import drills
from dolcezza.core.practice.stages import OPENS
from dolcezza.reports.choices import choice_in, felt_in, method_in
from dolcezza.reports.practice import drill_in
from dolcezza.services.hold_building import MARKS
from dolcezza.storage.records import Bow, FeltAnswer

NOT_TRIED = "not tried"
FELT_WORDS = {"yes": mark("yes"), "no": mark("no"), NOT_TRIED: mark("not tried")}
HELD = {
    "level": mark("ready for playing"),
    "upright": mark("held upright: the little finger carries nothing yet"),
    "upside down": mark("held upside down first: the little finger carries nothing"),
}
UNSET_CM = 0.0


class HoldBuildView(QWidget):
    """Emits ``method_chosen(key)``, ``ticked(step, on)``, ``felt(test, answer)``, ``marked(mark, mm or None)``, ``bow_wanted()``,
    ``kept()`` for a setting, ``climbed(places, minutes)``, ``next_stage()`` and ``profile_wanted()``."""

    method_chosen = Signal(str)
    ticked = Signal(str, bool)
    felt = Signal(str, str)
    marked = Signal(str, object)
    bow_wanted = Signal()
    bow_chosen = Signal(int)
    kept = Signal()
    climbed = Signal(int, float)
    next_stage = Signal()
    profile_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.steps: dict[str, QCheckBox] = {}
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 4, 18, 10)
        across.setSpacing(14)
        across.addLayout(self._make_steps(), 5)
        across.addWidget(self._make_drawing(), 5)
        across.addWidget(self._make_side())

    def _make_steps(self) -> QVBoxLayout:
        box = QVBoxLayout()
        line = QHBoxLayout()
        line.addWidget(label(tr("Method"), "heading"))
        self.method = choice(tr("Method"), [])
        self.method.activated.connect(lambda _k: self.method_chosen.emit(str(self.method.currentData())))
        line.addWidget(self.method, 1)
        box.addLayout(line)
        self.method_words = faint("")
        box.addWidget(self.method_words)
        area, self._steps = scroll_column()
        self._steps.setSpacing(5)
        box.addWidget(area, 1)
        return box

    def _make_drawing(self) -> QScrollArea:
        area, box = scroll_column()
        self.drawing = HoldDrawing()
        box.addWidget(self.drawing)
        self.chosen_words = label("")
        box.addWidget(self.chosen_words)
        line = QHBoxLayout()
        self.profile_button = QPushButton(tr("Profile…"))
        self.profile_button.setToolTip(tr("What is asked of thumb, fingers, wrist, arm and bow"))
        self.profile_button.clicked.connect(self.profile_wanted)
        line.addWidget(self.profile_button)
        line.addStretch(1)
        box.addLayout(line)
        frame, inner = _card(tr("Marks on this student's bow, cm from the frog"))
        line = QHBoxLayout()
        self.bow = choice(tr("Bow"), [])
        self.bow.activated.connect(lambda _k: self.bow_chosen.emit(int(self.bow.currentData())))
        self.bow_button = QPushButton(tr("Another bow…"))
        self.bow_button.clicked.connect(self.bow_wanted)
        line.addWidget(self.bow, 1)
        line.addWidget(self.bow_button)
        inner.addLayout(line)
        grid = QGridLayout()
        self.places: dict[str, QDoubleSpinBox] = {}
        for k, name in enumerate(MARKS):
            field = QDoubleSpinBox()
            field.setRange(UNSET_CM, 80.0)
            field.setDecimals(1)
            field.setSingleStep(0.5)
            field.setSuffix(" cm")
            field.setSpecialValueText(tr("not marked"))
            field.setKeyboardTracking(False)
            field.setAlignment(Qt.AlignmentFlag.AlignCenter)
            field.setAccessibleName(tr("{0}, cm from the frog").format(tr(MARK_NAMES[name])))
            field.valueChanged.connect(lambda value, which=name: self.marked.emit(which, 10 * value if value > UNSET_CM else None))
            grid.addWidget(faint(tr(MARK_NAMES[name])), 2 * (k // 2), k % 2)
            grid.addWidget(field, 2 * (k // 2) + 1, k % 2)
            self.places[name] = field
        inner.addLayout(grid)
        box.addWidget(frame)
        box.addStretch(1)
        return area

    def _make_side(self) -> QFrame:
        side = QFrame()
        side.setFixedWidth(372)
        outer = QVBoxLayout(side)
        outer.setContentsMargins(0, 0, 0, 0)
        area, column = scroll_column()
        outer.addWidget(area)
        frame, box = _card(tr("Stage"))
        self.stage_words = label("")
        self.stage_opens = faint("")
        self.stage_button = QPushButton(tr("Next stage"))
        self.stage_button.clicked.connect(self.next_stage)
        for widget in (self.stage_words, self.stage_opens, self.stage_button):
            box.addWidget(widget)
        column.addWidget(frame)
        frame, box = _card(tr("Set and keep"))
        self.ten = TenCount()
        self.ten.kept.connect(self.kept)
        box.addWidget(self.ten)
        column.addWidget(frame)
        frame, box = _card(tr("Ladder to the frog"))
        self.ladder = LadderTimer()
        self.ladder.climbed.connect(self.climbed)
        box.addWidget(self.ladder)
        column.addWidget(frame)
        frame, box = _card(tr("Checks at the end"))
        box.addWidget(faint(tr("What no camera can tell. Gently; at any pain stop.")))
        self._checks = QVBoxLayout()
        self._checks.setSpacing(4)
        self.felt_boxes: dict[str, QComboBox] = {}
        box.addLayout(self._checks)
        self.felt_note = faint("")
        box.addWidget(self.felt_note)
        column.addWidget(frame)
        column.addStretch(1)
        return side

    # what is shown

    def show_methods(self, known: Sequence[Method], chosen: Method, ticked: Mapping[str, date]) -> None:
        """The methods for this instrument, the steps of the chosen one, and when each was ticked."""
        self.method.clear()
        for m in known:
            self.method.addItem(method_in(m, spoken()).name, m.key)
        self.method.setCurrentIndex(self.method.findData(chosen.key))
        own, following = method_in(chosen, spoken()), chosen.next_step(ticked)
        done = sum(s.key in ticked for s in chosen.steps)
        self.method_words.setText(tr("{0} of {1} steps; {2}.").format(done, len(chosen.steps), tr(HELD[chosen.held])))
        empty(self._steps)
        self.steps = {}
        for k, step in enumerate(own.steps):
            frame = QFrame()
            frame.setObjectName("card")
            line = QHBoxLayout(frame)
            line.setContentsMargins(10, 6, 10, 6)
            check = QCheckBox()
            check.setChecked(step.key in ticked)
            check.setAccessibleName(f"{k + 1}. {step.says}")
            check.toggled.connect(lambda on, which=step.key: self.ticked.emit(which, on))
            words = QVBoxLayout()
            words.setSpacing(1)
            words.addWidget(label(f"{k + 1}.  {step.says}", "heading" if following is not None and step.key == following.key else ""))
            if step.key in ticked:
                words.addWidget(faint(day_words(ticked[step.key], "%d %b %Y")))
            line.addWidget(check)
            line.addLayout(words, 1)
            self._steps.addWidget(frame)
            self.steps[step.key] = check
        self._steps.addStretch(1)

    def show_profile(self, profile: Profile, spec: InstrumentSpec, since: date | None, *, left: bool) -> None:
        """What is asked of the hand, and the stage with what the next one opens."""
        self.drawing.show_hold(
            profile.want("thumb place"), profile.want("little place"), profile.want("index"), cello=spec.family == "cello", left=left
        )
        names = []
        for key in ("thumb place", "thumb shape", "little place", "index", "along the bow"):
            said = choice_in(choices()[key], spoken())
            names.append(f"{said.name}: {said.option(profile.want(key)).name}")
        self.chosen_words.setText(f"{profile.name}. {'; '.join(names)}.")
        stages = choice_in(choices()["stage"], spoken())
        now, following = profile.stage, next_stage(profile.stage)
        own = stages.option(now)
        when = "" if since is None else " " + tr("Since {0}.").format(day_words(since))
        self.stage_words.setText(f"<b>{own.name}</b>. {own.says}{when}")
        if following is None:
            self.stage_opens.setText(self._opens(now))
            self.stage_button.setVisible(False)
            return
        self.stage_opens.setText(tr("Open now: {0}").format(self._opens(now)))
        self.stage_button.setVisible(True)
        self.stage_button.setText(tr("Next stage: {0}").format(stages.option(following).name))
        self.stage_button.setToolTip(tr("Opens {0}").format(self._opens(following)))

    @staticmethod
    def _opens(stage: Stage) -> str:
        return ", ".join(drill_in(drills()[k], spoken()).name for k in OPENS[stage].drills)

    def show_tally(self, settings: int, today: date, stage: Stage) -> None:
        """Settings of the hand so far; the hundredth opens the next stage."""
        following = next_stage(stage)
        opens = choice_in(choices()["stage"], spoken()).option(following or stage).name
        self.ten.show_tally(settings, today, opens)

    def show_bow(self, bows: Sequence[Bow], bow: Bow, hair_mm: float) -> None:
        """The marks of the bow that is played."""
        self.bow.clear()
        for b in bows or [bow]:
            self.bow.addItem(b.name or tr("the student's bow"), b.id)
        self.bow.setCurrentIndex(max(0, self.bow.findData(bow.id)))
        for name, field in self.places.items():
            field.blockSignals(True)
            field.setValue(bow.marks.get(name, 0.0) / 10)
            field.blockSignals(False)
        self.drawing.show_marks(bow.marks, hair_mm)
        if "balance point" in bow.marks and not self.ladder.timer.isActive():
            self.ladder.show_balance(bow.marks["balance point"] / 10)

    def show_checks(self, first: Sequence[str], answers: Sequence[FeltAnswer]) -> None:
        """The small tests, those of the method first, with the newest answers."""
        newest: dict[str, FeltAnswer] = {}
        for given in answers:
            newest.setdefault(given.test, given)
        empty(self._checks)
        self.felt_boxes = {}
        tests = {t.key: felt_in(t, spoken()) for t in FELT_TESTS}
        for key in dict.fromkeys([*first, *tests]):
            test = tests[key]
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            words = label(f"{test.name}: {test.question}")
            words.setToolTip(tr("{0} {1} A relaxed hand: {2}.").format(test.how, test.question, tr(FELT_WORDS[test.free])))
            combo = choice(f"{test.name}. {test.question}", FELT_WORDS)
            combo.setCurrentIndex(combo.findData(newest[key].answer if key in newest else NOT_TRIED))
            combo.activated.connect(lambda _k, which=key: self.felt.emit(which, str(self.felt_boxes[which].currentData())))
            line.addWidget(words, 1)
            line.addWidget(combo)
            self.felt_boxes[key] = combo
            self._checks.addWidget(row)
        dates = {a.said_on for a in newest.values()}
        self.felt_note.setText(tr("Last said on {0:%d %B %Y}.").format(max(dates)) if dates else "")

    def pause(self) -> None:
        """Nothing runs any more."""
        self.ten.stop()
        self.ladder.stop()

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.drawing.palette_ = palette
        self.drawing.update()


def _card(title: str) -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setObjectName("card")
    box = QVBoxLayout(frame)
    box.setContentsMargins(13, 8, 13, 10)
    box.setSpacing(5)
    box.addWidget(label(title, "heading"))
    return frame, box
