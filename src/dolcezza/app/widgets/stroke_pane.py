"""One half of a comparison: a take, one of its strokes, its picture at a place on the bow with what was measured drawn over it."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import Signal
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.overlays import paint_bow
from dolcezza.app.widgets.parts import choice, label
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.workers.frame_feeder import Pictures
from dolcezza.core.strokes.alignment import moment_of_place
from dolcezza.core.strokes.figures import Stroke
from dolcezza.storage.records import StoredAnalysis, Take


class StrokePane(QWidget):
    """Emits ``changed()`` when another stroke is chosen, ``take_wanted(place in the list)`` when another take is."""

    changed = Signal()
    take_wanted = Signal(int)

    def __init__(self, side: str, titles: list[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._stored: StoredAnalysis | None = None
        self._shown_s = 0.0
        self.pictures = Pictures(self)
        self.pictures.ready.connect(self._on_picture)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.takes = choice(tr("Video on the {0}").format(side), titles)
        self.strokes = choice(tr("Stroke on the {0}").format(side), [])
        row.addWidget(self.takes, 1)
        row.addWidget(self.strokes)
        box.addLayout(row)
        self.canvas = VideoCanvas()
        self.canvas.setAccessibleName(tr("Picture on the {0}").format(side))
        self.canvas.setMinimumSize(300, 170)
        self.canvas.layers.append(self._paint)
        box.addWidget(self.canvas, 1)
        self.figures = label("", "heading")
        box.addWidget(self.figures)
        self.takes.activated.connect(self.take_wanted)
        self.strokes.activated.connect(self.changed)

    def show_take(self, take: Take, stored: StoredAnalysis, number: int) -> None:
        """Another take, at stroke ``number``."""
        self._stored = stored
        self.strokes.clear()
        self.strokes.addItems([f"{s.number}: {s.direction} on {s.string}" for s in stored.strokes])
        numbers = [s.number for s in stored.strokes]
        self.strokes.setCurrentIndex(numbers.index(number) if number in numbers else 0)
        self.pictures.open(take.path)

    @property
    def one(self) -> tuple[StoredAnalysis, Stroke] | None:
        """The measurement and the stroke that are shown."""
        if self._stored is None or not self._stored.strokes:
            return None
        return self._stored, self._stored.strokes[max(0, self.strokes.currentIndex())]

    def go_to(self, place: float) -> tuple[float, float, float, float] | None:
        """Show a place on the bow; its moment (s), angle, its ±, and contact, or None where the stroke does not go there."""
        one = self.one
        moment = moment_of_place(one[0].series, one[1], place) if one is not None else None
        if one is None or moment is None:
            self.figures.setText(tr("This stroke does not go there."))
            return None
        series = one[0].series
        k = int(np.argmin(np.abs(series.t - moment)))
        self.pictures.want(float(series.t[k]))
        angle, sd, contact = (float(series[c][k]) for c in ("bow_angle_deg", "bow_angle_sd_deg", "contact_point_mm"))
        self.figures.setText(tr("{0}   {1} from the bridge").format(show("bow_angle", angle, sd), show("contact_point", contact)))
        return moment, angle, sd, contact

    def _on_picture(self, seconds: float, image: QImage) -> None:
        self._shown_s = seconds
        self.canvas.show_image(image)

    def _paint(self, painter: QPainter, unit: float) -> None:
        if self._stored is not None and len(self._stored.series):
            frame = int(np.argmin(np.abs(self._stored.series.t - self._shown_s)))
            paint_bow(painter, self._stored.series, frame, unit, lines=True, angle=True, contact=True)

    def close_pictures(self) -> None:
        """Let go of the video."""
        self.pictures.close()
