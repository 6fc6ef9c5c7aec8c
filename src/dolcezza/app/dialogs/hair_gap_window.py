"""A photo of a strung bow: both ends of its hair are marked; the gap between hair and stick is told, in millimetres and pencils."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.theme.words import fault_words, mark, spoken, tr
from dolcezza.app.widgets.aim import Aim
from dolcezza.app.widgets.overlays import draw_line
from dolcezza.app.widgets.parts import faint, label
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.hold.hair_gap import PENCIL_MM, STRAIGHT_MM, HairGap, Tension, hair_gap
from dolcezza.reports.language import capital

GRAB_PX = 14.0
"""How near a press must be to a mark to take it along (px of the screen)."""
ASKED = (mark("Mark the frog's end of the hair: where it comes out of the frog."), mark("Mark the head's end of the hair."))
SAID = {
    Tension.SLACK: mark("less than two thirds of a pencil: tighten a little"),
    Tension.RIGHT: mark("about a pencil, as it should be"),
    Tension.TIGHT: mark("more than a pencil and a half: loosen a little"),
    Tension.OUTWARDS: mark("the stick bends away from the hair: far too tight, loosen it before it is played"),
}
BENDS = (mark("bends towards the hair"), mark("is straight"), mark("bends away from the hair"))


class HairGapWindow(QDialog):
    """``picture`` (h, w, 3) RGB; ``hair_mm``: how long the bow's hair is. ``told``: the gap, None before both ends are marked."""

    def __init__(self, picture: Array, hair_mm: float, ready: Callable[[], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Hair and stick"))
        self.resize(1040, 680)
        self._picture, self._hair_mm = np.ascontiguousarray(picture), hair_mm
        self.ends: list[QPointF] = []
        self.told: HairGap | None = None
        self._taken: int | None = None
        box = QVBoxLayout(self)
        self.head = label(tr(ASKED[0]), "heading")
        box.addWidget(self.head)
        self.canvas = VideoCanvas()
        self.canvas.setAccessibleName(tr("Photo of the bow: Enter takes aim, arrows move, Enter marks"))
        h, w = self._picture.shape[:2]
        self.canvas.show_image(QImage(self._picture.data, w, h, 3 * w, QImage.Format.Format_RGB888).copy())
        self.canvas.layers.append(self._paint)
        self.canvas.pressed.connect(self._press)
        self.canvas.dragged.connect(self._drag)
        self.canvas.released.connect(self._release)
        self.canvas.hovered.connect(self._hover)
        self.aim = Aim(self.canvas, lambda: QPointF(w / 2, h / 2))
        self.aim.placed.connect(self.put)
        box.addWidget(self.canvas, 1)
        self.figures = label("", "title")
        box.addWidget(self.figures)
        self.said = label("")
        box.addWidget(self.said)
        how = tr("Photograph the bow square from the side, as long as the picture, on something plain. Marks can be dragged.")
        box.addWidget(faint(how))
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        self.again = self.buttons.addButton(tr("Mark anew"), QDialogButtonBox.ButtonRole.ResetRole)
        self.again.clicked.connect(self.clear)
        self.tick = self.buttons.addButton(tr("Tick: the bow is tightened"), QDialogButtonBox.ButtonRole.ActionRole)
        self.tick.clicked.connect(ready)
        self.tick.clicked.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box.addWidget(self.buttons)
        self.canvas.setFocusPolicy(self.again.focusPolicy())
        self._tell()

    def clear(self) -> None:
        """Take the marks away."""
        self.ends.clear()
        self._tell()

    def put(self, at: QPointF) -> None:
        """Mark the next end; where both are marked, move the nearer one."""
        if len(self.ends) < 2:
            self.ends.append(at)
        else:
            near = min((0, 1), key=lambda k: self.canvas.on_screen(self.ends[k] - at))
            self.ends[near] = at
        self._tell()

    def _press(self, at: QPointF) -> None:
        self._taken = self.canvas.nearest(at, dict(enumerate(self.ends)), GRAB_PX)
        if self._taken is None and len(self.ends) < 2:
            self.ends.append(at)
            self._taken = len(self.ends) - 1
        self.canvas.lens_at = at if self._taken is not None else None
        self.canvas.update()

    def _drag(self, at: QPointF) -> None:
        if self._taken is not None:
            self.ends[self._taken] = self.canvas.lens_at = at
            self.canvas.update()

    def _release(self, _at: QPointF) -> None:
        self._taken = self.canvas.lens_at = None
        self._tell()

    def _hover(self, at: QPointF | None) -> None:
        self.canvas.lens_at = at if len(self.ends) < 2 else None
        self.canvas.update()

    def _tell(self) -> None:
        self.told, fault = None, ""
        if len(self.ends) == 2:
            frog, head = ((p.x(), p.y()) for p in self.ends)
            try:
                self.told = hair_gap(self._picture, frog, head, self._hair_mm)
            except DolcezzaError as error:
                fault = fault_words(error)
        self.again.setEnabled(bool(self.ends))
        self.tick.setEnabled(self.told is not None)
        self.head.setText(tr(ASKED[len(self.ends)]) if len(self.ends) < 2 else tr("The gap between hair and stick"))
        self.figures.setText(_figures(self.told) if self.told is not None else "")
        self.said.setText(_said(self.told) if self.told is not None else fault)
        self.canvas.update()

    def _paint(self, painter: QPainter, unit: float) -> None:
        for end in self.ends:
            arm = 9 * unit
            draw_line(painter, [end - QPointF(arm, 0), end + QPointF(arm, 0)], 1.6, ON_PICTURE["landmark"], unit)
            draw_line(painter, [end - QPointF(0, arm), end + QPointF(0, arm)], 1.6, ON_PICTURE["landmark"], unit)
        if self.told is None:
            return
        for edge in (0, 1):
            points = [QPointF(float(x), float(y)) for x, y in self.told.edges_px[:, edge]]
            draw_line(painter, points, 1.4, ON_PICTURE["landmark"], unit)
        middle = self.told.edges_px[len(self.told.edges_px) // 2]
        draw_line(painter, [QPointF(float(x), float(y)) for x, y in middle], 2.6, ON_PICTURE["landmark"], unit)


def _figures(told: HairGap) -> str:
    number = spoken().number
    return tr("{0} ± {1} mm at the middle: {2} pencils").format(number(told.middle_mm, 1), number(told.sd_mm, 1), number(told.pencils, 1))


def _said(told: HairGap) -> str:
    number = spoken().number
    bends = BENDS[0 if told.bend_mm > STRAIGHT_MM else 2 if told.bend_mm < -STRAIGHT_MM else 1]
    least = tr("Smallest {0} mm at {1} % of the hair from the frog; the stick {2} ({3} mm over the hair).").format(
        number(told.least_mm, 1), number(100 * told.least_share), tr(bends), number(told.bend_mm, 1, signed=True)
    )
    pencil = tr("A pencil is {0} mm.").format(number(PENCIL_MM))
    return f"{capital(tr(SAID[told.tension]))}. {least} {pencil}"
