"""The take: what was filmed, on which instrument, with which hand, and whether the picture is mirrored."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import HANDS, choice, label, side_card
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.instrument.catalog import CATALOG
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.pipeline.fit_file import Fit


@dataclass(frozen=True)
class TakeSettings:
    """What the teacher says of the take."""

    instrument: str
    handed: str
    mirrored: bool


class TakeView(QWidget):
    """Emits ``settings_changed(TakeSettings)``, ``second_chosen(take id, 0 = none)``, ``both_wanted()`` and ``go_on()``."""

    settings_changed = Signal(object)
    second_chosen = Signal(int)
    both_wanted = Signal()
    go_on = Signal()

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._selection = selection
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 8, 18, 14)
        across.setSpacing(18)
        left = QVBoxLayout()
        self.canvas = VideoCanvas()
        self.canvas.empty_text = tr("Choose a video, or open one, under “Students”.")
        self.transport = Transport(strokes=False)
        left.addWidget(self.canvas, 1)
        left.addWidget(self.transport)
        across.addLayout(left, 1)
        across.addWidget(self._make_side())
        self.transport.moment.connect(self._selection.go_to)
        self._selection.moment_changed.connect(self.transport.show_moment)

    def _make_side(self) -> QFrame:
        frame, box = side_card(330)
        self.title = label("", "title")
        self.facts = label("", "faint")
        self.instrument = choice(tr("Instrument and size"), list(CATALOG))
        self.handed = choice(tr("Bow hand"), [tr(h) for h in HANDS])
        self.mirrored = QCheckBox(tr("The picture is mirrored (selfie camera)"))
        self.mirrored.setToolTip(tr("Tick it when writing in the picture reads backwards"))
        self.advice = label(
            tr(
                "Best view: from the front, a little above, on the scroll side; the whole bow in the picture in "
                "both directions; light from the front."
            ),
            "faint",
        )
        self.second = choice(tr("Filmed by a second phone too"), [])
        self.second.setToolTip(
            tr("Another video of the same playing: both are measured together. If it shows only the player, it tells the arm")
        )
        self.second.activated.connect(lambda _k: self.second_chosen.emit(int(self.second.currentData() or 0)))
        self.both = QPushButton(tr("Both pictures side by side"))
        self.both.clicked.connect(self.both_wanted)
        self.next = QPushButton(tr("Mark the instrument"))
        self.next.setObjectName("main")
        for widget in (
            self.title,
            self.facts,
            label(tr("Played on"), "heading"),
            self.instrument,
            self.handed,
            self.mirrored,
            label(tr("Filmed by a second phone too"), "heading"),
            self.second,
            self.both,
        ):
            box.addWidget(widget)
        box.addStretch(1)
        box.addWidget(self.advice)
        box.addWidget(self.next)
        self.instrument.activated.connect(self._tell)
        self.handed.activated.connect(self._tell)
        self.mirrored.clicked.connect(self._tell)
        self.next.clicked.connect(self.go_on)
        return frame

    def show_take(self, file: TakeFile, fit: Fit, title: str, day: str) -> None:
        """Show a take and its settings."""
        self.title.setText(title)
        sound = tr("with sound") if file.has_sound else tr("without sound: the string is told from the bow alone")
        self.facts.setText(
            tr("{0}\n{1} x {2}, {3:.0f} pictures a second, {4:.1f} s, {5}").format(
                day, file.width, file.height, file.frame_rate, file.duration_s, sound
            )
        )
        self.instrument.setCurrentText(fit.spec.name)
        self.handed.setCurrentIndex(1 if fit.handed == "left" else 0)
        self.mirrored.setChecked(fit.mirrored)
        self.transport.set_take(file.duration_s, file.frame_rate)

    def show_second(self, others: Sequence[tuple[int, str]], now: int, *, measured: bool) -> None:
        """Other takes of the student (id, title) that may be of the same playing, and which one is said to be (0 = none).

        ``measured``: both were measured together, so that their clocks are known."""
        self.both.setVisible(bool(now))
        self.both.setEnabled(measured)
        self.both.setToolTip("" if measured else tr("Analyse first: then their clocks are laid together"))
        self.second.clear()
        self.second.addItem(tr("no"), 0)
        for take_id, title in others:
            self.second.addItem(title, take_id)
        self.second.setCurrentIndex(max(0, self.second.findData(now)))
        self.second.setEnabled(bool(others))

    def show_picture(self, image: QImage) -> None:
        """Show the picture of the current moment."""
        self.canvas.show_image(image)

    def _tell(self) -> None:
        self.settings_changed.emit(
            TakeSettings(
                self.instrument.currentText(),
                "left" if self.handed.currentIndex() else "right",
                self.mirrored.isChecked(),
            )
        )
