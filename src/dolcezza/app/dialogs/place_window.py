"""Where to put the phone: a room in which it is dragged, and the ± that each place would give."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.app.widgets.room_picture import SECTORS, RoomPicture, Stand
from dolcezza.core.camera.lens import Camera, prior_focal
from dolcezza.core.camera.place import badness, camera_around, expected
from dolcezza.core.camera.precision import ViewPrecision
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel

SIZE = (1280, 720)
BEHIND_DEG = 120.0
"""From farther round than this the player stands between phone and instrument."""
FILLS, SMALL = 0.7, 0.28
"""Shares of the picture's width that the hair takes: more does not fit at both ends of the stroke, less is too small."""


class PlaceWindow(QDialog):
    """``told``: what the place gives, None where the instrument cannot be marked from it."""

    def __init__(self, spec: InstrumentSpec, parent: QWidget | None = None, *, palette: Palette = LIGHT) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Where to put the phone"))
        self.resize(1020, 620)
        self._model = InstrumentModel(spec)
        self.told: ViewPrecision | None = None
        box = QVBoxLayout(self)
        box.addWidget(label(tr("Drag the phone: {0}").format(spec.name), "heading"))
        self.room = RoomPicture()
        self.room.palette_ = palette
        self.room.moved.connect(self._tell)
        self.room.rested.connect(self._rested)
        box.addWidget(self.room, 1)
        self.figures = label("", "title")
        self.said = label("")
        box.addWidget(self.figures)
        box.addWidget(self.said)
        what = tr("One standard deviation, all landmarks set by a usual hand. Dotted: good enough from that side at this height.")
        box.addWidget(faint(what))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)
        # the sides are worked out one after the other, so that the phone can be dragged meanwhile
        self._sectors = QTimer(self)
        self._sectors.timeout.connect(self._next_sector)
        self._rested(self.room.stand)
        self.room.setFocus()

    def _camera(self, stand: Stand) -> Camera:
        return camera_around(
            stand.azimuth_deg, stand.height_deg, distance=1000 * stand.metres, focal=prior_focal(*SIZE), size=SIZE
        )  # fmt: skip

    def _expected(self, stand: Stand) -> ViewPrecision | None:
        return expected(self._model, self._camera(stand), LANDMARK_NAMES, SIZE)

    def _tell(self, stand: Stand) -> None:
        self.told = self._expected(stand)
        where = tr("{0} degrees round, {1} degrees up, {2} m away").format(
            spoken().number(stand.azimuth_deg, signed=True), spoken().number(stand.height_deg), spoken().number(stand.metres, 1)
        )
        self.room.setAccessibleDescription(where)
        if self.told is None:
            self.figures.setText(tr("From here the instrument cannot be measured."))
            self.said.setText(where)
            return
        number = spoken().number
        self.figures.setText(
            tr("bow angle ± {0}°, contact point ± {1} mm, bow position ± {2} %").format(
                number(self.told.bow_angle_deg, 1), number(self.told.contact_point_mm, 1), number(100 * self.told.bow_position, 1)
            )
        )
        self.said.setText(f"{where}. {self._advice(stand)}")

    def _advice(self, stand: Stand) -> str:
        hair = self._model.spec.hair_length * prior_focal(*SIZE) / (1000 * stand.metres) / SIZE[0]
        if abs(stand.azimuth_deg) > BEHIND_DEG:
            return tr("The player stands between: nothing is seen of the bow's way.")
        if hair > FILLS:
            return tr("Too near: the whole bow does not fit into the picture at both ends of a stroke.")
        if hair < SMALL:
            return tr("Far away: the bow is small in the picture.")
        if self.told is not None and badness(self.told) <= 1.0:
            return tr("Good for everything.")
        return tr("Not enough for every figure: move it until all are small.")

    def _rested(self, stand: Stand) -> None:
        self._tell(stand)
        self.room.good.clear()
        self._sectors.start(0)

    def _next_sector(self) -> None:
        k = next((k for k in range(SECTORS) if k not in self.room.good), None)
        if k is None:
            self._sectors.stop()
            return
        azimuth = (360.0 * k / SECTORS + 180.0) % 360.0 - 180.0
        there = self._expected(Stand(azimuth, self.room.stand.height_deg, self.room.stand.metres))
        self.room.good[k] = abs(azimuth) <= BEHIND_DEG and there is not None and badness(there) <= 1.0
        self.room.update()
