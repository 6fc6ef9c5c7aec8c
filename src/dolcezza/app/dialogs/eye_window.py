"""Train the eye: a short made-up take goes round and round; what is wrong with it, and by how much? Then the truth and the measurement."""

from __future__ import annotations

import tempfile
from datetime import date
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent, QImage, QKeyEvent
from PySide6.QtWidgets import QButtonGroup, QDialog, QGridLayout, QHBoxLayout, QPushButton, QRadioButton, QSlider, QVBoxLayout, QWidget

from dolcezza.app.theme.words import fault_words, mark, spoken, tr
from dolcezza.app.widgets.parts import faint, label, side_card
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.job import Progress, Stage
from dolcezza.core.media.video import read_frames
from dolcezza.services.eye import RATE, EyeAnswer, EyeRecord, EyeTake, Fault, next_task, play, told

CHOICES = {
    Fault.NONE: mark("Nothing: straight and in its lane"),
    Fault.TO_SCROLL: mark("The tip points to the scroll all the way"),
    Fault.TO_PLAYER: mark("The tip points to the player all the way"),
    Fault.SWINGS: mark("It swings: scroll at the frog, player at the tip"),
    Fault.TO_BOARD: mark("It runs to the fingerboard"),
    Fault.TO_BRIDGE: mark("It runs to the bridge"),
}
MOST = {"deg": 20, "mm": 18}
KEYS = (Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4, Qt.Key.Key_5, Qt.Key.Key_6)


class EyeWindow(QDialog):
    """Works on the record of ``folder``. The takes are made while one is being looked at, and thrown away."""

    def __init__(self, folder: Path, parent: QWidget | None = None, *, seed: int | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Train the eye"))
        self.resize(1180, 640)
        self.record = EyeRecord(folder)
        self.take: EyeTake | None = None
        self.told = False
        self._rng = np.random.default_rng(seed)
        self._place = tempfile.TemporaryDirectory(prefix="dolcezza-eye-")
        self._pictures: list[QImage] = []
        self._at = 0
        self.jobs = JobRunner(self)
        self.jobs.progressed.connect(self._progressed)
        self.jobs.done.connect(self._ready)
        self.jobs.failed.connect(self._failed)
        self._timer = QTimer(self)
        self._timer.setInterval(round(1000 / RATE))
        self._timer.timeout.connect(self._tick)
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 14, 18, 14)
        across.setSpacing(18)
        self.canvas = VideoCanvas()
        across.addWidget(self.canvas, 1)
        card, box = side_card(390)
        across.addWidget(card)
        self._fill(box)
        self.ask()

    def _fill(self, box: QVBoxLayout) -> None:
        box.addWidget(label(tr("What do you see?"), "heading"))
        self.choices = QButtonGroup(self)
        for k, (fault, words) in enumerate(CHOICES.items()):
            button = QRadioButton(f"{k + 1}  {tr(words)}")
            self.choices.addButton(button, list(Fault).index(fault))
            box.addWidget(button)
        self.choices.idToggled.connect(self._chosen)
        self.amount = QSlider(Qt.Orientation.Horizontal)
        self.amount.setAccessibleName(tr("By how much"))
        self.amount.valueChanged.connect(self._show_size)
        self.amount_words = faint("")
        box.addWidget(self.amount)
        box.addWidget(self.amount_words)
        self.say = QPushButton(tr("Say it (Enter)"))
        self.say.setObjectName("main")
        self.say.clicked.connect(self.answer)
        box.addWidget(self.say)
        self.truth = label("", "heading")
        self.measured = label("", "faint")
        box.addWidget(self.truth)
        box.addWidget(self.measured)
        box.addStretch(1)
        box.addWidget(label(tr("The smallest you see"), "heading"))
        self.rows = QGridLayout()
        self.rows.setHorizontalSpacing(12)
        box.addLayout(self.rows)
        line = QHBoxLayout()
        self.anew = QPushButton(tr("Begin anew"))
        self.anew.clicked.connect(self._forget)
        self.shut = QPushButton(tr("Back to the desk (Esc)"))
        self.shut.clicked.connect(self.close)
        line.addWidget(self.anew)
        line.addWidget(self.shut)
        box.addLayout(line)

    def ask(self) -> None:
        """Make the next take."""
        self.told = False
        self.take, self._pictures, self._at = None, [], 0
        self._timer.stop()
        self.canvas.show_image(None)
        self.canvas.empty_text = tr("A take is being made …")
        self.choices.setExclusive(False)
        for button in self.choices.buttons():
            button.setChecked(False)
        self.choices.setExclusive(True)
        self.truth.setText("")
        self.measured.setText("")
        self._refresh()
        if not self.jobs.running:
            task = next_task(self.record.answers, self._rng)
            self.jobs.start(partial(play, task, Path(self._place.name)))

    def _progressed(self, progress: Progress, _left_s: float) -> None:
        what = tr("A take is being made: {0} %") if progress.stage == Stage.PICTURES else tr("It is being analysed: {0} %")
        self.canvas.empty_text = what.format(round(100 * progress.share))
        self.canvas.update()

    def _ready(self, take: EyeTake) -> None:
        self.take = take
        for frame in read_frames(take.video, grey=False):
            h, w = frame.image.shape[:2]
            self._pictures.append(QImage(frame.image.data, w, h, 3 * w, QImage.Format.Format_RGB888).copy())
        for file in Path(self._place.name).iterdir():
            file.unlink()
        self._timer.start()
        self._tick()
        self._refresh()

    def _failed(self, error: BaseException) -> None:
        self.canvas.empty_text = fault_words(error)
        self.canvas.update()

    def _tick(self) -> None:
        if self._pictures:
            self.canvas.show_image(self._pictures[self._at % len(self._pictures)])
            self._at += 1

    @property
    def said(self) -> Fault | None:
        """What is chosen."""
        k = self.choices.checkedId()
        return list(Fault)[k] if k >= 0 else None

    def _chosen(self, _k: int, on: bool) -> None:
        if on and self.said is not None:
            unit = self.said.unit
            self.amount.setRange(1, MOST.get(unit, 1))
            self.amount.setValue(6)
        self._refresh()

    def _refresh(self) -> None:
        said = self.said
        sized = said is not None and bool(said.unit) and not self.told
        self.amount.setVisible(sized or (self.told and said is not None and bool(said.unit)))
        self.amount.setEnabled(sized)
        self._show_size()
        self.say.setText(tr("The next one (Enter)") if self.told else tr("Say it (Enter)"))
        self.say.setEnabled(self.told or (self.take is not None and said is not None))
        for button in self.choices.buttons():
            button.setEnabled(not self.told)
        self._show_rows()

    def _show_size(self, _value: int = 0) -> None:
        unit = self.said.unit if self.said is not None else ""
        words = {"deg": tr("about {0} degrees"), "mm": tr("about {0} mm from frog to tip")}.get(unit, "")
        self.amount_words.setText(words.format(self.amount.value()))

    def answer(self) -> None:
        """Keep what is said and tell the truth; the second time, go on."""
        if self.told:
            self.ask()
            return
        take, said = self.take, self.said
        if take is None or said is None:
            return
        task = take.task
        self.record.add(EyeAnswer(date.today(), task.fault, task.size, said, float(self.amount.value()) if said.unit else 0.0))
        self.told = True
        self.truth.setText(self._truth(task.fault, task.size, said))
        self.measured.setText(self._measurement(take))
        self._refresh()

    def _truth(self, fault: Fault, size: float, said: Fault) -> str:
        there = tr(CHOICES[fault]) + (f" ({self._amount(size, fault.unit)})" if fault.unit else "")
        return (tr("Yes. {0}.") if fault == said else tr("No. {0}.")).format(there)

    @staticmethod
    def _amount(size: float, unit: str) -> str:
        return tr("{0} degrees").format(f"{size:.0f}") if unit == "deg" else tr("{0} mm").format(f"{size:.0f}")

    @staticmethod
    def _measurement(take: EyeTake) -> str:
        if not np.isfinite(take.angle).any():
            return tr("This one could not be measured.")
        places = (tr("frog"), tr("middle"), tr("head"))
        number = spoken().number

        def row(figures: np.ndarray, signed: bool) -> str:
            seen = [(p, v, s) for p, (v, s) in zip(places, figures, strict=True) if np.isfinite(v)]
            return ", ".join(f"{p} {number(v, signed=signed)} ± {number(s)}" for p, v, s in seen)

        angle, contact = row(take.angle, True), row(take.contact, False)
        return tr("Measured: bow angle in degrees: {0}. Contact in mm: {1}.").format(angle, contact)

    def _show_rows(self) -> None:
        while (item := self.rows.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        for k, row in enumerate(told(self.record.answers)):
            if row.fault is Fault.NONE:
                words = tr("{0} of {1} rightly left alone").format(row.right, row.answers)
            elif row.smallest is None:
                words = tr("not told yet ({0} of {1})").format(row.right, row.answers)
            else:
                words = self._amount(row.smallest, row.fault.unit)
            self.rows.addWidget(faint(tr(CHOICES[row.fault])), k, 0)
            self.rows.addWidget(label(words), k, 1)

    def _forget(self) -> None:
        self.record.forget()
        self._refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in KEYS and not self.told:
            self.choices.buttons()[KEYS.index(key)].setChecked(True)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.say.isEnabled():
                self.answer()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.amount.isEnabled():
            self.amount.setValue(self.amount.value() + (1 if key == Qt.Key.Key_Up else -1))
        else:
            super().keyPressEvent(event)

    def _finish(self) -> None:
        """Stop, and leave nothing behind."""
        self._timer.stop()
        self.jobs.wait()
        self._place.cleanup()

    def done(self, result: int) -> None:
        self._finish()
        super().done(result)

    def closeEvent(self, event: QCloseEvent) -> None:
        self._finish()
        super().closeEvent(event)
