"""Pictures of the take for the canvas, decoded outside the interface thread; only the latest wish counts."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path

import numpy as np
from PySide6.QtCore import QMutex, QMutexLocker, QObject, QThread, QWaitCondition, Signal
from PySide6.QtGui import QImage

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.media.probe import probe
from dolcezza.core.media.skim import Skim, skim
from dolcezza.core.media.video import FrameStore, GaveUp

KEPT_BYTES = 120_000_000
"""Pictures that are kept ready to be shown again."""
SKIM_WITHIN_S = 0.7
"""A small picture farther from the moment than this is not shown in its place."""


class _Skimmer(QThread):
    """Goes through the take once at the lowest priority."""

    def __init__(self, path: Path, into: Skim, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("skimmer")  # see workers/__init__.py
        self._path, self._into = path, into
        self.stop = False

    def run(self) -> None:
        try:
            for _ in skim(self._path, self._into, duration_s=probe(self._path).duration_s):
                if self.stop:
                    return
        except DolcezzaError:
            return  # the feeder says what is wrong with the file


class FrameFeeder(QThread):
    """Emits ``ready(seconds, QImage)`` for the last requested moment: where the exact frame takes long, a small one near it comes first.
    Emits ``failed(error)`` when the video cannot be read."""

    ready = Signal(float, object)
    failed = Signal(object)

    def __init__(self, path: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("framefeeder")  # see workers/__init__.py
        self._path = path
        self._mutex, self._wake = QMutex(), QWaitCondition()
        self._wanted: float | None = None
        self._stop = False
        self._kept: OrderedDict[int, tuple[float, QImage]] = OrderedDict()
        self.skim = Skim()
        self._skimmer = _Skimmer(path, self.skim, self)

    def request(self, seconds: float) -> None:
        """Ask for the picture shown at this moment; an older wish that was not met yet is forgotten."""
        with QMutexLocker(self._mutex):
            self._wanted = seconds
            self._wake.wakeOne()

    def begin(self) -> None:
        """Start feeding, and skimming beside it."""
        self.start()
        self._skimmer.start(QThread.Priority.LowestPriority)

    def finish(self) -> None:
        """End the threads and wait for them."""
        self._skimmer.stop = True
        with QMutexLocker(self._mutex):
            self._stop = True
            self._wake.wakeOne()
        self.wait()
        self._skimmer.wait()

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
                    self._show(store, wanted or 0.0)
                except GaveUp:
                    continue
                except DolcezzaError as error:
                    self.failed.emit(error)
        finally:
            store.close()

    def _given_up(self) -> bool:
        """Whether another moment is wanted by now, or nothing any more."""
        return self._stop or self._wanted is not None

    def _show(self, store: FrameStore, seconds: float) -> None:
        key = round(seconds * store.info.frame_rate)
        if key not in self._kept:
            if not store.near(seconds):
                self._show_small(store, seconds)
            frame = store.at(seconds, self._given_up)
            self._keep(key, frame.t_s, _image(frame.image))
        self._kept.move_to_end(key)
        self.ready.emit(*self._kept[key])

    def _show_small(self, store: FrameStore, seconds: float) -> None:
        found = self.skim.nearest(seconds, within_s=SKIM_WITHIN_S)
        if found is None:
            return
        small = QImage.fromData(found[1])
        # as large as the exact one, so that what is drawn over it keeps its place
        self.ready.emit(found[0], small.scaled(store.info.width, store.info.height))

    def _keep(self, key: int, t_s: float, image: QImage) -> None:
        self._kept[key] = (t_s, image)
        while len(self._kept) > max(2, KEPT_BYTES // max(1, image.sizeInBytes())):
            self._kept.popitem(last=False)


def _image(pixels: np.ndarray) -> QImage:
    height, width = pixels.shape[:2]
    return QImage(pixels.data, width, height, 3 * width, QImage.Format.Format_RGB888).copy()


class Pictures(QObject):
    """The one source of pictures of a window: a feeder for the take that is open, none when none is.

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
        self._feeder.begin()

    def want(self, seconds: float) -> None:
        """Ask for the picture of a moment."""
        if self._feeder is not None:
            self._feeder.request(seconds)

    def close(self) -> None:
        """Let go of the take's file and end its threads."""
        feeder, self._feeder = self._feeder, None
        if feeder is not None:
            feeder.finish()
            feeder.deleteLater()
