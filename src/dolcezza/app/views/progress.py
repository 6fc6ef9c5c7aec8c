"""Did it help? Figures over the takes of one student, like against like, and the first and the newest take side by side."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import day_words, mark, spoken, tr
from dolcezza.app.widgets.course_plot import CoursePlot
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label, scroll_column
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.practice.helped import Helped
from dolcezza.core.practice.progress import Change, Course
from dolcezza.reports.practice import practice_name

MARKS = {
    Change.BETTER: mark("▲ better"), Change.WORSE: mark("▼ worse"), Change.SAME: mark("= same"), Change.UNKNOWN: mark("? can't tell"),
}  # fmt: skip
CHANGES = (mark("better"), mark("same"), mark("worse"), mark("can't tell"))
TWO_WANTED = mark("Two analysed videos of the same task (the same strings, the same part of the bow) are needed. Analyse one more.")
SIDE_BY_SIDE = mark("Two analysed videos of the same task appear here side by side.")
PORTIONS = {
    "whole": mark("whole bows"), "lower": mark("lower half"), "upper": mark("upper half"), "middle": mark("middle of the bow"),
    "frog": mark("at the frog"), "tip": mark("at the tip"), "mixed": mark("mixed portions"), "lifted": mark("lifted"),
}  # fmt: skip
PLACES = {"frog": 0.1, "middle": 0.5, "tip": 0.9}
PLACE_WORDS = {"frog": mark("at the frog"), "middle": mark("in the middle"), "tip": mark("at the tip")}


class ProgressView(QWidget):
    """Emits ``open_take(id)`` and ``compare(first id, last id, string, place)``."""

    open_take = Signal(int)
    compare = Signal(int, int, str, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._courses: list[Course] = []
        self._chosen = -1
        self._since: date | None = None
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 6, 18, 10)
        across.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(5)
        self.head = label("", "title")
        self.words = label("")
        left.addWidget(self.head)
        left.addWidget(self.words)
        pair = QHBoxLayout()
        self.before, self.after = VideoCanvas(), VideoCanvas()
        self.before_words, self.after_words = faint(""), faint("")
        for canvas, words in ((self.before, self.before_words), (self.after, self.after_words)):
            column = QVBoxLayout()
            canvas.empty_text = tr(SIDE_BY_SIDE)
            canvas.setMinimumSize(220, 130)
            column.addWidget(canvas, 1)
            column.addWidget(words)
            pair.addLayout(column, 1)
        left.addLayout(pair, 1)
        row = QHBoxLayout()
        self.string = choice(tr("String"), [])
        self.place = choice(tr("Bow position"), PLACE_WORDS)
        self.place.setCurrentIndex(self.place.findData("tip"))
        for combo in (self.string, self.place):
            combo.activated.connect(self._ask_pair)
            row.addWidget(combo)
        row.addStretch(1)
        left.addLayout(row)
        self.plot = CoursePlot()
        self.plot.take_chosen.connect(self.open_take)
        left.addWidget(self.plot)
        across.addLayout(left, 1)
        side = QFrame()
        side.setFixedWidth(400)
        box = QVBoxLayout(side)
        box.setContentsMargins(0, 0, 0, 0)
        area, self._list = scroll_column()
        box.addWidget(area)
        across.addWidget(side)
        self.show_student("", [], None)

    def show_student(self, name: str, courses: Sequence[Course], since: date | None, drills: Sequence[Helped] = ()) -> None:
        """Figures of one student; ``since``: the first day of the newest plan; what became of its ``drills``."""
        self._courses, self._since = list(courses), since
        empty(self._list)
        many = [c for c in self._courses if len(c.points) > 1]
        if not many:
            self.head.setText(name or tr("Progress"))
            self.words.setText(" ".join([tr(TWO_WANTED), *self._so_far()]))
            self.plot.set_course(self._courses[0] if self._courses else None)
            self._offer_places([])
            for canvas, words in ((self.before, self.before_words), (self.after, self.after_words)):
                canvas.empty_text = tr(SIDE_BY_SIDE)
                canvas.show_image(None)
                words.setText("")
            self._show_drills(drills, since)
            self._list.addStretch(1)
            return
        counts = {change: sum(c.latest is change for c in many) for change in Change}
        said = ", ".join(f"{n} {tr(change)}" for change, n in counts.items() if n)
        self.head.setText(tr("{0}: {1} since the video before").format(name, said))
        self._show_drills(drills, since)
        for k, course in enumerate(self._courses):
            if len(course.points) > 1:
                first, last = course.points[-2], course.points[-1]
                d = 1 if course.unit else 2
                number = spoken().number
                figures = f"{number(first.value, d)} → {number(last.value, d)} ± {number(last.sd, d)}{course.unit}"
                lines = [f"{tr(MARKS[course.latest])}: {figures}", *([self._task(course)] if course.task else [])]
                if since is not None and (change := course.since(since)) is not Change.UNKNOWN:
                    lines.append(tr("since the plan began on {0:%d %B}: {1}").format(since, tr(change)))
                row = Row(k, self._name(course), lines)
                row.chosen.connect(self.choose)
                self._list.addWidget(row)
        self._list.addWidget(
            faint(tr("Better or worse only where the difference is larger than twice its ±. Only like is set against like."))
        )
        self._list.addStretch(1)
        # what can be seen comes first
        seen = [c for c in many if c.strings] or many
        moved = [c for c in seen if c.latest in (Change.BETTER, Change.WORSE)] or seen
        self.choose(self._courses.index(max(moved, key=lambda c: len(c.points))))
        if not seen[0].strings:
            self.words.setText(" ".join([tr(TWO_WANTED), self.words.text()]))

    def choose(self, k: int) -> None:
        """Show one figure, and the pair of pictures for it."""
        self._chosen = k
        course = self._courses[k]
        for row in self.findChildren(Row):
            row.show_chosen(row.key == k)
        self.plot.set_course(course)
        first, last = course.points[0], course.points[-1]
        self.words.setText(
            tr("{0}: from {1:.1f} to {2:.1f}{3} in {4} days; {5} from first to last.")
            .format(self._name(course), first.value, last.value, course.unit, (last.day - first.day).days, tr(course.change(first, last)))
            .replace("-", "−")
        )
        self._offer_places(course.strings)
        third = course.name.rsplit(", ", 1)[-1]
        if third in PLACES:
            self.place.setCurrentIndex(self.place.findData(third))
        self._ask_pair()

    def _offer_places(self, strings: Sequence[str]) -> None:
        """Where pictures may be compared; nothing is offered for a figure that comes from no video."""
        if [self.string.itemText(i) for i in range(self.string.count())] != list(strings):
            self.string.clear()
            self.string.addItems(strings)
        for combo in (self.string, self.place):
            combo.setVisible(bool(strings))

    def _so_far(self) -> list[str]:
        """What the plot shows where there is only one point of everything."""
        if not self._courses:
            return []
        course = self._courses[0]
        point = course.points[-1]
        d = 1 if course.unit else 2 if point.sd else 0
        figure = f"{spoken().number(point.value, d)}{course.unit}"
        return [tr("So far: {0}, {1} on {2}.").format(self._name(course), figure, day_words(point.day, "%d %B"))]

    @staticmethod
    def _name(course: Course) -> str:
        words = spoken().word(f"course.{course.name}")
        return words[:1].upper() + words[1:]

    @staticmethod
    def _task(course: Course) -> str:
        """What was played, in the language that is set."""
        strings, *rest = course.task.split(", ")
        return ", ".join([tr("strings {0}").format(strings), *(tr(PORTIONS.get(r, r)) for r in rest)])

    def _show_drills(self, drills: Sequence[Helped], since: date | None) -> None:
        """Each drill of the plan with the figure it was given for, before and now."""
        if not drills or since is None:
            return
        self._list.addWidget(label(tr("What was prescribed on {0}").format(day_words(since, "%d %B")), "heading"))
        for h in drills:
            name = practice_name(h.drill, spoken())
            lines: list[str]
            if h.course is None or h.before is None:
                lines = [tr("? can't tell"), tr("Nothing was measured for it before the plan.")]
            elif h.after is None:
                film = tr("{0}: nothing new yet; film the same task again.")
                note = tr("{0}: nothing new yet; write it down when it is done.")
                lines = [tr("? can't tell"), (film if h.course.strings else note).format(self._name(h.course))]
            else:
                d = 1 if h.course.unit else 2 if h.before.sd else 0
                figures = f"{spoken().number(h.before.value, d)} → {spoken().number(h.after.value, d)}{h.course.unit}"
                lines = [tr(MARKS[h.change]), f"{self._name(h.course)}: {figures}"]
            row = Row(-1, name, lines)
            if h.course is not None:
                row.chosen.connect(partial(self._choose_course, h.course))
            self._list.addWidget(row)
        self._list.addWidget(label(tr("All figures"), "heading"))

    def _choose_course(self, course: Course, _row: int) -> None:
        self.choose(self._courses.index(course))

    def _ask_pair(self) -> None:
        if not (0 <= self._chosen < len(self._courses)) or not self._courses[self._chosen].strings:
            for canvas, words in ((self.before, self.before_words), (self.after, self.after_words)):
                canvas.empty_text = tr("This figure comes from no video.")
                canvas.show_image(None)
                words.setText("")
            return
        if len(self._courses[self._chosen].points) > 1:
            points = self._courses[self._chosen].points
            place = PLACES[self.place.currentData()]
            for canvas in (self.before, self.after):
                canvas.empty_text = tr("One moment…")
            self.compare.emit(points[0].take_id, points[-1].take_id, self.string.currentText(), place)

    def show_pair(self, pictures: Sequence[tuple[bytes | None, str]]) -> None:
        """Two pictures (JPEG bytes or None) with their words, the first take before the newest."""
        for (jpeg, words), canvas, said in zip(pictures, (self.before, self.after), (self.before_words, self.after_words), strict=True):
            canvas.show_image(QImage.fromData(jpeg) if jpeg else None)
            canvas.whole()
            said.setText(words)

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.plot.palette_ = palette
        self.plot.update()
