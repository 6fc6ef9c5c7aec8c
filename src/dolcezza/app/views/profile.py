"""The profile of a student: what is asked of hold, arm and bow, one choice at a time, each with its sentence, reason and numbers."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import day_words, mark, spoken, tr
from dolcezza.app.widgets.lane_drawing import LaneDrawing
from dolcezza.app.widgets.parts import choice, empty, faint, label, scroll_column
from dolcezza.core.findings.choices import Choice, choices
from dolcezza.core.findings.lane import Lane
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.reports.choices import choice_in
from dolcezza.storage.records import Dated

LEFT = ("thumb place", "thumb shape", "little place", "little shape", "index", "fingers", "palm turn", "gap")
MIDDLE = ("wrist", "hair", "along the bow", "upper arm", "lifted bows", "roughness")
MEASURES = {
    "mm": mark("millimetres from the bridge"),
    "share": mark("share of the way to the fingerboard"),
    "landmarks": mark("between sound-hole and fingerboard"),
}
UNIT = {"mm": " mm", "share": " %", "landmarks": " %"}


class ProfileView(QWidget):
    """Emits ``chosen(key, option)``, ``lane_changed(entries)``, ``order_changed(order)``, ``angle_changed(degrees)``,
    ``profile_chosen(name)``, ``rename_wanted()`` and ``done()``."""

    chosen = Signal(str, str)
    lane_changed = Signal(dict)
    order_changed = Signal(str)
    angle_changed = Signal(float)
    profile_chosen = Signal(str)
    rename_wanted = Signal()
    done = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.boxes: dict[str, QComboBox] = {}
        self.words: dict[str, QWidget] = {}
        self.cards: dict[str, QFrame] = {}
        self.orders: list[QComboBox] = []
        self._filling = False
        down = QVBoxLayout(self)
        down.setContentsMargins(18, 4, 18, 10)
        down.setSpacing(6)
        down.addLayout(self._make_head())
        across = QHBoxLayout()
        across.setSpacing(12)
        for keys in (LEFT, MIDDLE):
            area, column = scroll_column()
            column.setSpacing(6)
            for key in keys:
                column.addWidget(self._make_choice(choices()[key]))
            column.addStretch(1)
            across.addWidget(area, 1)
        across.addWidget(self._make_side())
        down.addLayout(across, 1)

    def _make_head(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.head = label("", "title")
        self.note = faint("")
        words = QVBoxLayout()
        words.setSpacing(0)
        words.addWidget(self.head)
        words.addWidget(self.note)
        words.addWidget(faint(tr("Each choice has its reason in italics: common practice, no source, unless one is named.")))
        self.profile = choice(tr("Profile"), [])
        self.profile.activated.connect(lambda _k: self.profile_chosen.emit(self.profile.currentText()))
        self.rename = QPushButton(tr("Rename…"))
        self.rename.clicked.connect(self.rename_wanted)
        self.back = QPushButton(tr("Done"))
        self.back.setObjectName("main")
        self.back.clicked.connect(self.done)
        line.addLayout(words, 1)
        for widget in (self.profile, self.rename, self.back):
            line.addWidget(widget)
        return line

    def _make_choice(self, one: Choice) -> QFrame:
        said = choice_in(one, spoken())
        frame = QFrame()
        frame.setObjectName("card")
        box = QVBoxLayout(frame)
        box.setContentsMargins(12, 6, 12, 8)
        box.setSpacing(3)
        line = QHBoxLayout()
        line.addWidget(label(said.name, "heading"), 1)
        combo = choice(said.name, [])
        combo.activated.connect(lambda _k, key=one.key: self.chosen.emit(key, str(self.boxes[key].currentData())))
        line.addWidget(combo, 1)
        box.addLayout(line)
        words = label("")
        box.addWidget(words)
        self.boxes[one.key], self.words[one.key], self.cards[one.key] = combo, words, frame
        return frame

    def _make_side(self) -> QFrame:
        side = QFrame()
        side.setFixedWidth(392)
        outer = QVBoxLayout(side)
        outer.setContentsMargins(0, 0, 0, 0)
        area, column = scroll_column()
        outer.addWidget(area)
        column.addWidget(self._make_choice(choices()["stage"]))
        frame = QFrame()
        frame.setObjectName("card")
        box = QVBoxLayout(frame)
        box.setContentsMargins(12, 6, 12, 8)
        box.setSpacing(4)
        box.addWidget(label(tr("Contact lane"), "heading"))
        self.lane_drawing = LaneDrawing()
        box.addWidget(self.lane_drawing)
        self.measure = choice(tr("How the lane is measured"), MEASURES)
        self.measure.activated.connect(lambda _k: self._measure())
        box.addWidget(self.measure)
        line = QHBoxLayout()
        self.low, self.high, self.hairs = QDoubleSpinBox(), QDoubleSpinBox(), QDoubleSpinBox()
        for field, words in ((self.low, tr("from")), (self.high, tr("to")), (self.hairs, tr("less hair-widths"))):
            field.setDecimals(0)
            field.setKeyboardTracking(False)
            field.setAccessibleName(tr("Contact lane: {0}").format(words))
            field.valueChanged.connect(lambda _v: self._lane())
            inner = QVBoxLayout()
            inner.setSpacing(0)
            inner.addWidget(faint(words))
            inner.addWidget(field)
            line.addLayout(inner)
        self.hairs.setRange(0.0, 4.0)
        self.hairs.setDecimals(1)
        self.hairs.setSingleStep(0.5)
        box.addLayout(line)
        self.moves, self.scaled = QCheckBox(tr("comes nearer with the stopped pitch")), QCheckBox(tr("shrinks with the instrument's size"))
        for field in (self.low, self.high, self.hairs):
            field.setAlignment(Qt.AlignmentFlag.AlignCenter)
        for check in (self.moves, self.scaled):
            check.toggled.connect(lambda _on: self._lane())
            box.addWidget(check)
        self.lane_words = faint("")
        box.addWidget(self.lane_words)
        column.addWidget(frame)
        frame = QFrame()
        frame.setObjectName("card")
        box = QVBoxLayout(frame)
        box.setContentsMargins(12, 6, 12, 8)
        box.addWidget(label(tr("Elbow by string, lowest first"), "heading"))
        self._orders = QGridLayout()
        box.addLayout(self._orders)
        self.order_words = faint("")
        box.addWidget(self.order_words)
        line = QHBoxLayout()
        line.addWidget(label(tr("A bow is crooked from"), "heading"), 1)
        self.angle = QDoubleSpinBox()
        self.angle.setRange(1.0, 30.0)
        self.angle.setDecimals(1)
        self.angle.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.angle.setSuffix("°")
        self.angle.setKeyboardTracking(False)
        self.angle.setAccessibleName(tr("Angle from which a bow is crooked"))
        self.angle.valueChanged.connect(lambda value: None if self._filling else self.angle_changed.emit(value))
        line.addWidget(self.angle)
        box.addLayout(line)
        column.addWidget(frame)
        self._history = QVBoxLayout()
        column.addWidget(label(tr("Since when"), "heading"))
        column.addLayout(self._history)
        column.addStretch(1)
        return side

    # what is shown

    def show_profile(
        self, student: str, profile: Profile, spec: InstrumentSpec, names: Sequence[str], ready: bool, users: Sequence[str],
        history: Sequence[Dated],
    ) -> None:  # fmt: skip
        """The profile that counts for a student, the ``names`` of all that could, whether it is ``ready``-made, who else uses it."""
        self._filling = True
        self.head.setText(tr("Profile of {0}").format(student))
        others = [name for name in users if name != student]
        if ready:
            self.note.setText(tr("“{0}” is ready-made: what you change makes {1} a profile of their own.").format(profile.name, student))
        elif others:
            self.note.setText(tr("“{0}” also counts for {1}.").format(profile.name, ", ".join(others)))
        else:
            self.note.setText(tr("“{0}” counts for {1} alone.").format(profile.name, student))
        self.profile.clear()
        self.profile.addItems(list(names))
        self.profile.setCurrentText(profile.name)
        for key, combo in self.boxes.items():
            said = choice_in(choices()[key], spoken())
            combo.clear()
            for option in said.options_for((spec.family,)):
                combo.addItem(option.name, option.key)
            # what this instrument leaves no choice of is not asked
            self.cards[key].setVisible(combo.count() > 1)
            combo.setCurrentIndex(combo.findData(profile.want(key)))
            option = said.option(profile.want(key))
            own = profile.chosen.get(key)
            reason = own.reason if own is not None and own.reason and spoken().code == "en" else option.reason
            self.words[key].setText(f"{option.says} <i>{_short(reason)}</i>")  # type: ignore[attr-defined]
        self._show_lane(profile.lane, spec)
        self._show_order(profile, spec)
        self.angle.setValue(profile.angle_limit_deg)
        self._show_history(history)
        self._filling = False

    def _show_lane(self, lane: Lane, spec: InstrumentSpec) -> None:
        self.measure.setCurrentIndex(self.measure.findData(lane.measure))
        factor = 1.0 if lane.measure == "mm" else 100.0
        most = 1.2 * spec.bridge_to_fingerboard if lane.measure == "mm" else 120.0
        for field, value in ((self.low, lane.low), (self.high, lane.high)):
            field.setRange(0.0, max(most, factor * value))
            field.setSuffix(UNIT[lane.measure])
            field.setValue(factor * value)
        self.hairs.setValue(lane.hair_widths)
        self.moves.setChecked(lane.moves)
        self.scaled.setChecked(lane.scaled)
        self.scaled.setEnabled(lane.measure == "mm")
        low, high = lane.band_mm(spec)
        self.lane_drawing.show_lane(low, high, spec)
        self.lane_words.setText(
            tr("On {0}: {1:.0f} to {2:.0f} mm from the bridge. {3}").format(spec.name, low, high, tr(_short(lane.reason)))
        )

    def _show_order(self, profile: Profile, spec: InstrumentSpec) -> None:
        order = profile.order.get(spec.family, "")
        while (item := self._orders.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.orders = []
        for k in range(len(spec.strings)):
            combo = choice(tr("Elbow {0}, counted from the lowest").format(k + 1), ["–", *spec.strings])
            combo.setCurrentText(order[k] if order else "–")
            combo.activated.connect(lambda _k: self._order())
            self._orders.addWidget(combo, 0, k)
            self.orders.append(combo)
        note = profile.reasons.get("staircase", "")
        unset = tr("Not agreed: elbows are not judged by string until the order is set.")
        self.order_words.setText(f"{unset} {note}".strip() if not order else "")

    def _show_history(self, history: Sequence[Dated]) -> None:
        empty(self._history)
        stages = choice_in(choices()["stage"], spoken())
        for d in list(history)[-6:]:
            value = stages.option(d.value).name if d.what == "stage" else d.value
            self._history.addWidget(faint(f"{day_words(d.since, '%d %b %Y')}: {value}"))

    # what is done

    def _measure(self) -> None:
        start = {"mm": (8.0, 30.0), "share": (0.3, 0.65), "landmarks": (0.0, 1.0)}[str(self.measure.currentData())]
        self.lane_changed.emit({"measure": self.measure.currentData(), "low": start[0], "high": start[1]})

    def _lane(self) -> None:
        if self._filling:
            return
        factor = 1.0 if self.measure.currentData() == "mm" else 0.01
        self.lane_changed.emit({
            "low": round(factor * self.low.value(), 4), "high": round(factor * self.high.value(), 4), "hair_widths": self.hairs.value(),
            "moves_with_pitch": self.moves.isChecked(), "scaled_with_size": self.scaled.isChecked(),
        })  # fmt: skip

    def _order(self) -> None:
        said = [combo.currentText() for combo in self.orders]
        if "–" not in said:
            self.order_changed.emit("".join(said))
        elif all(s == "–" for s in said) or sum(s == "–" for s in said) == 1:
            # one taken away, or all: not agreed
            self.order_changed.emit("")

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.lane_drawing.palette_ = palette
        self.lane_drawing.update()


def _short(reason: str) -> str:
    """A reason without what the page says once for all of them."""
    return reason.removesuffix("common practice, no source").rstrip(" ;,")
