"""A student's stroke played again by the made-up player, and beside it the same stroke with what is chosen put right."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtGui import QCloseEvent, QImage
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from dolcezza.app.dialogs.side_by_side import SideBySide
from dolcezza.app.theme.words import fault_words, mark, show, tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.job import Progress, Work
from dolcezza.services.what_if import Figures, Part

STEPS = 200
LEFT, RIGHT = 0, 1
PARTS = {Part.ANGLE: mark("bow angle"), Part.CONTACT: mark("contact point"), Part.BOW: mark("bow used")}

Pictures = Callable[[Figures], Work[list[Array]]]
"""Makes the pictures of a stroke with these figures."""


class WhatIfWindow(SideBySide):
    """``own``: the stroke as measured; ``right``: the figures with some parts put right; ``parts``: those that can be."""

    def __init__(
        self, title: str, own: Figures, right: Callable[[list[Part]], Figures], parts: list[Part], make: Pictures,
        parent: QWidget | None = None,
    ) -> None:  # fmt: skip
        super().__init__(title, (1240, 620), parent, steps=STEPS, key_step=STEPS // 13, slider=tr("Way along the stroke"))
        self._right, self._make = right, make
        self._seconds = own.seconds
        self._pictures: list[list[QImage]] = [[], []]
        self._wanted: list[tuple[int, Figures]] = []
        self._side = LEFT
        self.canvases, self.words = [], []
        for head in (tr("As it was played"), tr("As asked")):
            column = QVBoxLayout()
            column.addWidget(label(head, "heading"))
            canvas = VideoCanvas()
            column.addWidget(canvas, 1)
            words = faint("")
            column.addWidget(words)
            self.row.addLayout(column, 1)
            self.canvases.append(canvas)
            self.words.append(words)
        line = QHBoxLayout()
        line.addWidget(label(tr("Put right:")))
        self.boxes = {part: QCheckBox(tr(PARTS[part])) for part in parts}
        for box in self.boxes.values():
            box.setChecked(True)
            box.toggled.connect(self._choose)
            line.addWidget(box)
        line.addStretch(1)
        self.box.addLayout(line)
        self.add_line(None, faint(tr("end of the stroke")))
        self.box.addWidget(faint(tr("Both are drawn by the program from measured figures, seen from where the phone stood.")))
        self.slider.valueChanged.connect(self._show)
        self.speed.setCurrentIndex(1)
        self.jobs = JobRunner(self)
        self.jobs.progressed.connect(self._progressed)
        self.jobs.done.connect(self._made)
        self.jobs.failed.connect(lambda error: self._say(fault_words(error)))
        self.jobs.cancelled.connect(self._next)
        self.words[0].setText(_in_words(own))
        self._wanted = [(LEFT, own)]
        self._choose()
        self.slider.setFocus()

    @property
    def chosen(self) -> list[Part]:
        """What is put right."""
        return [part for part, box in self.boxes.items() if box.isChecked()]

    def _choose(self, _on: bool = False) -> None:
        right = self._right(self.chosen)
        self.words[1].setText(_in_words(right))
        self._pictures[RIGHT] = []
        # the stroke as it was is made once; of what it could be only the last wish counts
        self._wanted = [(side, figures) for side, figures in self._wanted if side == LEFT] + [(RIGHT, right)]
        self._show()
        if self.jobs.running:
            if self._side == RIGHT:
                self.jobs.cancel()
            return
        self._next()

    def _next(self) -> None:
        if self._wanted and not self.jobs.running:
            self._side, figures = self._wanted.pop(0)
            self.jobs.start(partial(self._make, figures))

    def _progressed(self, progress: Progress, _left_s: float) -> None:
        self._say(tr("It is being drawn: {0} %").format(round(100 * progress.share)))

    def _say(self, words: str) -> None:
        canvas = self.canvases[self._side]
        canvas.empty_text = words
        canvas.update()

    def _made(self, pictures: list[Array]) -> None:
        self._pictures[self._side] = [
            QImage(p.data, p.shape[1], p.shape[0], 3 * p.shape[1], QImage.Format.Format_RGB888).copy() for p in pictures
        ]
        self._show()
        self._next()

    def _show(self) -> None:
        share = self.slider.value() / STEPS
        for canvas, pictures in zip(self.canvases, self._pictures, strict=True):
            canvas.show_image(pictures[min(len(pictures) - 1, int(share * len(pictures)))] if pictures else None)

    def whole_s(self) -> float:
        """As long as the stroke took."""
        return self._seconds

    def closeEvent(self, event: QCloseEvent) -> None:
        self._wanted = []
        self.jobs.cancel()
        self.jobs.wait()
        super().closeEvent(event)


def _in_words(figures: Figures) -> str:
    frog, _, head = figures.angle_deg
    near, _, far = figures.contact_mm
    angle = tr("{0} at the frog, {1} at the head").format(show("bow_angle", frog), show("bow_angle", head))
    contact = tr("{0} to {1} mm from the bridge").format(f"{near:.0f}", f"{far:.0f}")
    bow = tr("bow from {0} to {1}").format(show("bow_position", figures.start), show("bow_position", figures.end))
    said = [
        tr("Straight") if not any(figures.angle_deg) else angle,
        tr("{0} mm from the bridge").format(f"{near:.0f}") if near == far else contact, bow,
    ]  # fmt: skip
    return "; ".join(said) + "."
