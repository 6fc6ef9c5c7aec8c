"""Pictures of the take for the canvas, decoded outside the interface thread; only the latest wish counts."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path

from PySide6.QtCore import QMutex, QMutexLocker, QObject, QThread, QWaitCondition, Signal
from PySide6.QtGui import QImage

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.media.video import FrameStore

KEPT = 40


class FrameFeeder(QThread):
    """Emits ``ready(seconds, QImage)`` for the last requested moment, ``failed(error)`` when the video cannot be read."""

    ready = Signal(float, object)
    failed = Signal(object)

    def __init__(self, path: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._path = path
        self._mutex, self._wake = QMutex(), QWaitCondition()
        self._wanted: float | None = None
        self._stop = False
        self._kept: OrderedDict[int, tuple[float, QImage]] = OrderedDict()

    def request(self, seconds: float) -> None:
        """Ask for the picture shown at this moment; an older wish that was not met yet is forgotten."""
        with QMutexLocker(self._mutex):
            self._wanted = seconds
            self._wake.wakeOne()

    def finish(self) -> None:
        """End the thread and wait for it."""
        with QMutexLocker(self._mutex):
            self._stop = True
            self._wake.wakeOne()
        self.wait()

    def run(self) -> None:
        try:
            store = FrameStore(self._path)
        except DolcezzaError as error:
            self.failed.emit(error)
            return
        try:
            while True:
                with QMutexLocker(self._mutex):
                    while self._wanted is None and not self._stop:
                        self._wake.wait(self._mutex)
                    if self._stop:
                        return
                    wanted, self._wanted = self._wanted, None
                try:
                    self.ready.emit(*self._get(store, wanted or 0.0))
                except DolcezzaError as error:
                    self.failed.emit(error)
        finally:
            store.close()

    def _get(self, store: FrameStore, seconds: float) -> tuple[float, QImage]:
        key = round(seconds * store.info.frame_rate)
        if key not in self._kept:
            frame = store.at(seconds)
            height, width = frame.image.shape[:2]
            image = QImage(frame.image.data, width, height, 3 * width, QImage.Format.Format_RGB888).copy()
            self._kept[key] = (frame.t_s, image)
            while len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        self._kept.move_to_end(key)
        return self._kept[key]


class Pictures(QObject):
    """The one source of pictures of the window: a feeder for the take that is open, none when none is.

    Emits ``ready(seconds, QImage)`` and ``failed(error)``.
    """

    ready = Signal(float, object)
    failed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._feeder: FrameFeeder | None = None

    def open(self, path: Path) -> None:
        """Another take."""
        self.close()
        self._feeder = FrameFeeder(path, self)
        self._feeder.ready.connect(self.ready)
        self._feeder.failed.connect(self.failed)
        self._feeder.start()

    def want(self, seconds: float) -> None:
        """Ask for the picture of a moment."""
        if self._feeder is not None:
            self._feeder.request(seconds)

    def close(self) -> None:
        """Let go of the take's file and end its thread."""
        feeder, self._feeder = self._feeder, None
        if feeder is not None:
            feeder.finish()
            feeder.deleteLater()
