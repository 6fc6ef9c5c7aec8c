"""A drawing of the instrument in a corner of the picture: the landmark that is asked for blinks on it."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QPointF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.landmark_list import landmark_words
from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.services.calibration import CalibrationState

SIZE = QSize(116, 214)
BLINK_MS = 450
EDGE_PX = 12.0


class LandmarkMap(QWidget):
    """Shows an instrument from above, scroll up; ``mirrored``: as a left-handed player's, or as in a selfie video. Lies in the lower left
    corner of its parent and lets the mouse through."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._parent = parent
        parent.installEventFilter(self)
        self.setFixedSize(SIZE)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.wanted: str | None = None
        self.lit = True
        self._set: set[str] = set()
        self._model: InstrumentModel | None = None
        self._mirrored = False
        self._blink = QTimer(self)
        self._blink.setInterval(BLINK_MS)
        self._blink.timeout.connect(self._toggle)
        self.hide()

    def show_state(self, model: InstrumentModel, state: CalibrationState, wanted: str | None, *, mirrored: bool) -> None:
        """Show which landmarks are set and which is ``wanted``; None hides the drawing."""
        self._model, self._set, self._mirrored = model, set(state.points), mirrored
        if wanted != self.wanted:
            self.wanted, self.lit = wanted, True
        self.setVisible(wanted is not None)
        if wanted is not None:
            self.setAccessibleName(tr("Next: {0}").format(landmark_words(wanted)))
            self._to_corner()
        self._blink.start() if self.isVisible() else self._blink.stop()
        self.update()

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize:
            self._to_corner()
        return False

    def _to_corner(self) -> None:
        self.move(8, self._parent.height() - self.height() - 8)

    def _toggle(self) -> None:
        self.lit = not self.lit
        self.update()

    def place_of(self, name: str) -> QPointF:
        """Where a landmark lies in the drawing, px."""
        assert self._model is not None
        return self._at(self._model.landmarks[name])

    def _at(self, place: Array) -> QPointF:
        assert self._model is not None
        lm = self._model.landmarks
        top, bottom = float(lm["scroll"][0]), float(lm["end_button"][0])
        scale = (self.height() - 2 * EDGE_PX) / (top - bottom)
        # seen from the front with the scroll up the bass side lies on the left
        across = float(place[1]) * (1.0 if self._mirrored else -1.0)
        return QPointF(self.width() / 2 + across * scale, EDGE_PX + (top - float(place[0])) * scale)

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._model is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(26, 19, 16, 190))
        painter.drawRoundedRect(self.rect(), 8, 8)
        pale = QColor("#EDE3D6")
        painter.setPen(QPen(pale, 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for shape in (self._model.outline, self._model.board):
            painter.drawPolygon(QPolygonF([self._at(p) for p in shape]))
        lm = self._model.landmarks
        painter.drawLine(self._at(lm["bridge_bass"]), self._at(lm["bridge_treble"]))
        painter.drawLine(self._at(0.5 * (lm["nut_bass"] + lm["nut_treble"])), self._at(lm["scroll"]))
        colour = QColor(ON_PICTURE["landmark"])
        for name in lm:
            at = self._at(lm[name])
            if name == self.wanted:
                painter.setPen(QPen(colour, 2.0))
                painter.setBrush(colour if self.lit else Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, 6.5, 6.5)
            else:
                painter.setPen(QPen(pale, 1.2))
                painter.setBrush(pale if name in self._set else Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, 2.4, 2.4)
        painter.end()
