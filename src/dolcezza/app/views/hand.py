"""The bow hand on stills: the joints over the picture, what was told, what changed, and the teacher's own answers."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QImage, QImageReader
from PySide6.QtWidgets import QButtonGroup, QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import day_words, mark, show, spoken, tr
from dolcezza.app.widgets.hand_marks import HandMarks
from dolcezza.app.widgets.hand_sketch import HandSketch
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label, scroll_column
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.base.errors import MediaError
from dolcezza.core.findings.choices import ANY, choices
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.hold.figures import JOINT_WORDS, JOINTS, Hold, changes, index_words, same_hand, to_the_stick
from dolcezza.reports.choices import choice_in
from dolcezza.reports.language import capital
from dolcezza.services.hold import newest_signs
from dolcezza.services.pictures import is_frame, read_picture
from dolcezza.storage.records import LINES, HandStill

ROLE_WORDS = {
    "hold": mark("Bow hold"),
    "upright": mark("Upright"),
    "frog": mark("At the frog"),
    "tip": mark("At the tip"),
    "relaxed": mark("Relaxed hand"),
}
WISHES = (mark("bent"), mark("stable"))
AS_MEASURED = mark("as measured")
SHAPES = {AS_MEASURED: AS_MEASURED, "straight": mark("straight"), "round": mark("round"), "unclear": mark("unclear")}
FINGERS = {"thumb": mark("Thumb"), "little": mark("Little finger")}
HIDDEN = mark("cannot be told from here")
FIRST = mark(
    "Open a picture of the bow hand: alone, as large as the picture, from the back of the hand. "
    "A photo of the hanging hand is its own baseline."
)
LINE_WORDS = {"stick": mark("Mark the stick"), "forearm": mark("Mark the forearm")}
CAUTION = mark("Signs, never a diagnosis. At any pain stop.")
TWO_WANTED = mark("Open a picture at the frog and one at the tip, or one of the relaxed hand, to set them side by side.")


class HandView(QWidget):
    """Emits ``picture_wanted(role)``, ``answered(place, answers)``, ``forget(place)``, ``point_moved(place, which, (x, y))`` when a point
    is set by hand, ``points_wanted(place)`` when a hand that was not found is to be laid over the picture, and ``frames_wanted()`` for
    the hand out of the open video."""

    picture_wanted = Signal(str)
    answered = Signal(int, dict)
    forget = Signal(int)
    point_moved = Signal(int, int, object)
    points_wanted = Signal(int)
    frames_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._stills: list[HandStill] = []
        self._profile: Profile | None = None
        self._place: int | None = None
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 6, 18, 10)
        across.setSpacing(16)
        left = QVBoxLayout()
        self.canvas = VideoCanvas()
        self.canvas.empty_text = tr(FIRST)
        self.canvas.setAccessibleDescription(tr("Drag a point of the hand to its place; drag along the stick to mark it"))
        self.marks = HandMarks(self.canvas)
        self.marks.line_set.connect(self._line_set)
        self.marks.point_set.connect(self._point_set)
        left.addWidget(self.canvas, 1)
        row = QHBoxLayout()
        self.open_buttons: dict[str, QPushButton] = {}
        for role, words in ROLE_WORDS.items():
            button = QPushButton(f"{tr(words)}…")
            button.setToolTip(tr("Open a picture"))
            button.clicked.connect(lambda _checked=False, which=role: self.picture_wanted.emit(which))
            self.open_buttons[role] = button
            row.addWidget(button)
        self.take_button = QPushButton(tr("From this video"))
        self.take_button.setToolTip(tr("The sharpest frames with the hand at the frog and at the head, out of the open video"))
        self.take_button.clicked.connect(self.frames_wanted)
        row.addStretch(1)
        left.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(self.take_button)
        row.addStretch(1)
        group = QButtonGroup(self)
        self.line_buttons: dict[str, QPushButton] = {}
        for name, words in LINE_WORDS.items():
            button = QPushButton(tr(words))
            button.setObjectName("chip")
            button.setCheckable(True)
            button.setChecked(name == self.marks.marking)
            button.setToolTip(tr("Then drag along it in the picture"))
            button.clicked.connect(lambda _c=False, which=name: setattr(self.marks, "marking", which))
            group.addButton(button)
            self.line_buttons[name] = button
            row.addWidget(button)
        left.addLayout(row)
        across.addLayout(left, 1)
        across.addWidget(self._make_side())
        self.show_stills([], None)

    def _make_side(self) -> QFrame:
        side = QFrame()
        side.setFixedWidth(452)
        box = QVBoxLayout(side)
        box.setContentsMargins(0, 0, 0, 0)
        area, column = scroll_column()
        box.addWidget(area)
        card = QFrame()
        card.setObjectName("card")
        inner = QVBoxLayout(card)
        inner.setContentsMargins(13, 8, 13, 9)
        self.head = label("", "heading")
        self.forget_button = QPushButton(tr("Remove"))
        self.forget_button.setToolTip(tr("Remove what was measured in this picture; the file stays where it is"))
        self.forget_button.clicked.connect(self._forget)
        top = QHBoxLayout()
        top.addWidget(self.head, 1)
        self.lay_button = QPushButton(tr("Set the points"))
        self.lay_button.setToolTip(tr("Lay a hand over the picture, then drag its points to their places"))
        self.lay_button.clicked.connect(self._lay)
        top.addWidget(self.lay_button)
        top.addWidget(self.forget_button)
        self.notes = label("", "problem")
        inner.addLayout(top)
        inner.addWidget(self.notes)
        self.sketch = HandSketch()
        inner.addWidget(self.sketch)
        self.all_button = QPushButton(tr("All figures"))
        self.all_button.setObjectName("chip")
        self.all_button.setCheckable(True)
        self.all_button.toggled.connect(lambda _on: self.choose(self._place))
        self.figures = QGridLayout()
        self.figures.setVerticalSpacing(2)
        inner.addLayout(self.figures)
        inner.addWidget(self.all_button, 0, Qt.AlignmentFlag.AlignLeft)
        pair = QHBoxLayout()
        self.shapes = {}
        for what, words in FINGERS.items():
            pair.addWidget(label(tr(words)))
            combo = choice(tr("{0}: what you see").format(tr(words)), SHAPES)
            combo.activated.connect(self._answer)
            self.shapes[what] = combo
            pair.addWidget(combo, 1)
        inner.addLayout(pair)
        column.addWidget(card)
        card = QFrame()
        card.setObjectName("card")
        inner = QVBoxLayout(card)
        inner.setContentsMargins(13, 8, 13, 9)
        self.change_head = label(tr("What changed"), "heading")
        self.change_words = label("")
        inner.addWidget(self.change_head)
        inner.addWidget(self.change_words)
        column.addWidget(card)
        card = QFrame()
        card.setObjectName("card")
        inner = QVBoxLayout(card)
        inner.setContentsMargins(13, 8, 13, 9)
        self.signs = QVBoxLayout()
        inner.addWidget(label(tr("Signs of tension in the hand"), "heading"))
        inner.addLayout(self.signs)
        inner.addWidget(faint(tr(CAUTION)))
        column.addWidget(card)
        self.list = QVBoxLayout()
        self.list.setSpacing(6)
        column.addLayout(self.list)
        column.addStretch(1)
        return side

    def show_stills(self, stills: list[HandStill], profile: Profile | None, chosen: int | None = None) -> None:
        """All stills of the student, newest first, and the profile they are set beside."""
        self._stills, self._profile = stills, profile
        self._show_signs()
        empty(self.list)
        for k, still in enumerate(stills):
            hold = still.answered
            told: str = tr("no hand found")
            if hold is not None:
                told = tr("thumb {0}, little finger {1}").format(tr(str(hold.thumb)), tr(str(hold.little)))
            row = Row(k, self._title(still), [told])
            row.chosen.connect(self.choose)
            self.list.addWidget(row)
        self.choose(chosen if chosen is not None and chosen < len(stills) else 0 if stills else None)

    def _show_signs(self) -> None:
        """Each sign that the newest pictures show, do not show, or cannot tell."""
        found = newest_signs(self._stills, self._profile)
        marks = {True: "●", False: "○", None: "?"}
        empty(self.signs)
        for sign in found:
            said = {True: tr("yes"), False: tr("no"), None: tr("cannot be told")}[sign.shown]
            self.signs.addWidget(label(f"{marks[sign.shown]}  {capital(tr(sign.name))}: {said}, {spoken().sentence(sign.reason)}"))

    def choose(self, place: int | None) -> None:
        """Show one still."""
        self._place = place
        still = self._stills[place] if place is not None else None
        self.forget_button.setEnabled(still is not None)
        self.lay_button.setVisible(still is not None and still.points is None)
        lines = {name: line for name in LINES if still is not None and (line := still.line(name)) is not None}
        self.marks.show_marks(*((still.points, still.by_hand, lines) if still is not None else (None, (), {})))
        for combo in self.shapes.values():
            combo.setEnabled(still is not None and still.hold is not None)
        if still is None:
            self.canvas.show_image(None)
            self.head.setText(tr("No picture of the hand yet"))
            self.notes.setText("")
            self._fill(None)
            self._show_changes(None)
            return
        self.canvas.show_image(self._read(still.path))
        self.canvas.whole()
        self.head.setText(self._title(still))
        gone = tr("The picture {0} is no longer where it was; its figures are kept.").format(still.path.name)
        missing = [] if self.canvas.has_image else [gone]
        count = len(still.by_hand)
        mine = [tr("1 point set by hand.") if count == 1 else tr("{0} points set by hand.").format(count)] if count else []
        self.notes.setText(" ".join([*missing, *still.notes, *mine]))
        self.notes.setVisible(bool(self.notes.text()))
        for what, combo in self.shapes.items():
            combo.setCurrentIndex(combo.findData(still.answers.get(what, AS_MEASURED)))
        self._fill(still.answered, still)
        self._show_changes(still)

    @staticmethod
    def _title(still: HandStill) -> str:
        return f"{tr(ROLE_WORDS[still.role])}, {day_words(still.taken_on)}"

    @staticmethod
    def _read(path: Path) -> QImage | None:
        if is_frame(path):
            try:
                part = np.ascontiguousarray(read_picture(path))
            except MediaError:
                return None
            return QImage(part.data, part.shape[1], part.shape[0], part.strides[0], QImage.Format.Format_RGB888).copy()
        reader = QImageReader(str(path))
        reader.setAutoTransform(True)
        image = reader.read()
        return None if image.isNull() else image

    def _fill(self, hold: Hold | None, still: HandStill | None = None) -> None:
        while (item := self.figures.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.sketch.show_hold(hold)
        self.all_button.setVisible(hold is not None)
        if hold is None:
            return
        rows: list[tuple[str, str]] = [(tr(words), self._shape(what, hold)) for what, words in FINGERS.items()]
        rows += [(tr(JOINT_WORDS[j]), self._joint(hold, j)) for j in JOINTS if self.all_button.isChecked()]
        rows += [(tr("Gap {0}").format(name), self._widths(value)) for name, value in hold.gaps.items()]
        ring = f"{hold.ring_open}" + (f", {self._widths(hold.ring)}" if math.isfinite(hold.ring) else "")
        rows.append((tr("Ring of thumb and middle finger"), ring))
        rows += self._stick_rows(still) + self._wrist_row(still)
        for k, (name, text) in enumerate(rows):
            self.figures.addWidget(label(name), k, 0)
            self.figures.addWidget(label(text, "" if text != tr(HIDDEN) else "faint"), k, 1)

    @staticmethod
    def _stick_rows(still: HandStill | None) -> list[tuple[str, str]]:
        """Fingers against the stick, where the teacher has marked it."""
        if still is None or still.points is None:
            return []
        ends = still.line("stick")
        if ends is None:
            return [(tr("Fingers to the stick"), tr("drag along the stick to mark it"))]
        got = to_the_stick(np.array(still.points), ends)
        fingers = ", ".join(show("joint", got[f"{f}_to_stick_deg"]) for f in ("index", "middle", "ring", "little"))
        return [(tr("Index crosses the stick"), index_words(got["index_place"])), (tr("Fingers to the stick"), fingers)]

    @staticmethod
    def _wrist_row(still: HandStill | None) -> list[tuple[str, str]]:
        """The wrist against the forearm, where stick and forearm are marked."""
        hold = still.answered if still is not None else None
        if hold is None or not math.isfinite(hold.wrist_over_knuckles):
            marked = still is not None and still.line("stick") is not None and still.line("forearm") is not None
            words = (
                tr("cannot be told: the forearm as marked does not come to this wrist") if marked else tr("mark the stick and the forearm")
            )
            return [(tr("Wrist"), words)]
        share = 100 * hold.wrist_over_knuckles
        words = (
            tr("higher than the knuckles by {0:.0f} % of the hand") if share > 0 else tr("lower than the knuckles by {0:.0f} % of the hand")
        )
        return [(tr("Wrist"), words.format(abs(share)))]

    def _line_set(self, name: str, start: QPointF, end: QPointF) -> None:
        if self._place is not None:
            ends = (start.x(), start.y(), end.x(), end.y())
            self.answered.emit(self._place, {**self._stills[self._place].answers, name: " ".join(f"{v:.1f}" for v in ends)})

    def _point_set(self, which: int, at: QPointF) -> None:
        if self._place is not None:
            self.point_moved.emit(self._place, which, (at.x(), at.y()))

    def _lay(self) -> None:
        if self._place is not None:
            self.points_wanted.emit(self._place)

    def _shape(self, what: str, hold: Hold) -> str:
        shape = hold.thumb if what == "thumb" else hold.little
        answer = tr("your answer")
        said = tr(str(shape)) + (f" ({answer})" if what in hold.set_by_hand else "")
        choice = choices()[f"{what} shape"]
        asked = self._profile.want(choice.key) if self._profile is not None else ANY
        bent = str(asked).startswith(("bent", "round"))
        if not bent or str(shape) in ("unclear", "round"):
            return said
        return f"{said}; " + tr("{0} asks for {1}").format(
            self._profile.name if self._profile else "", choice_in(choice, spoken()).option(asked).name
        )

    @staticmethod
    def _joint(hold: Hold, name: str) -> str:
        return show("joint", *hold.joints[name]) if name in hold.joints else tr(HIDDEN)

    @staticmethod
    def _widths(value: float) -> str:
        return show("finger_widths", value) if math.isfinite(value) else tr(HIDDEN)

    def _earlier(self, still: HandStill) -> list[str]:
        """What has changed since the picture before of the same kind."""
        before = next((s for s in self._stills if s.role == still.role and s.taken_on < still.taken_on and s.hold is not None), None)
        if before is None or before.hold is None or still.hold is None:
            return []
        moved = [c for c in changes(before.hold, still.hold) if c.sure]
        since = tr("Since {0}:").format(day_words(before.taken_on))
        if not moved:
            same = tr("No joint changed by more than its ±.")
            return [f"{since} {same}"]
        told = "; ".join(f"{tr(JOINT_WORDS[c.joint])} {c.before:.0f}° → {c.after:.0f}°" for c in moved)
        return [f"{since} {told}."]

    def _show_changes(self, still: HandStill | None) -> None:
        """Against the other end of the bow, or against the relaxed hand; and against the same kind of picture of another day."""
        other_role = {"frog": "tip", "tip": "frog"}.get(still.role, "relaxed") if still is not None else ""
        other = next((s for s in self._stills if s.role == other_role and s is not still and s.hold is not None), None)
        if still is None or still.hold is None or other is None or other.hold is None:
            self.change_head.setText(tr("What changed"))
            self.change_words.setText("\n".join([*(self._earlier(still) if still is not None else []), tr(TWO_WANTED)]))
            return
        before, after = (still.hold, other.hold) if still.role == "frog" else (other.hold, still.hold)
        names = (tr("frog"), tr("tip")) if still.role in ("frog", "tip") else (tr("relaxed"), tr(ROLE_WORDS[still.role]).lower())
        self.change_head.setText(tr("From {0} to {1}").format(names[0], names[1]))
        sure = [c for c in changes(before, after) if c.sure]
        lines = [f"{tr(JOINT_WORDS[c.joint])}: {c.before:.0f}° → {c.after:.0f}° (± {c.sd:.0f}°)" for c in sure]
        if not lines:
            same = same_hand(before, after)
            lines = [tr("Too little can be told in both pictures.") if same is None else tr("No joint changed by more than its ±.")]
        stable = self._profile is not None and self._profile.want("along the bow") == "stable"
        if still.role in ("frog", "tip") and stable:
            lines.append(tr("{0}: a stable hand is allowed for now.").format(self._profile.name if self._profile else ""))
        self.change_words.setText("\n".join([*lines, *self._earlier(still)]))

    def _answer(self) -> None:
        if self._place is not None:
            said = {what: combo.currentData() for what, combo in self.shapes.items() if combo.currentData() != AS_MEASURED}
            old = self._stills[self._place].answers
            said |= {name: old[name] for name in LINES if name in old}
            self.answered.emit(self._place, said)

    def _forget(self) -> None:
        if self._place is not None:
            self.forget.emit(self._place)
