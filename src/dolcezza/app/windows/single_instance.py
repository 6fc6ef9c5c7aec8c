"""The desk that is open on a studio, and second starts that hand their videos to it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, Signal

from dolcezza.services.single import INBOX, DeskLock, taken_over
from dolcezza.storage.files import disk_faults


class SingleInstance(QObject):
    """``first`` tells whether this is the only desk on the studio. Emits ``asked(videos)`` when a second start came. Raises StudioError
    for a folder that may not be written."""

    asked = Signal(object)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder = Path(folder)
        with disk_faults(self._folder):
            self._folder.mkdir(parents=True, exist_ok=True)
            (self._folder / INBOX).mkdir(exist_ok=True)
        self._lock = DeskLock(self._folder)
        self.first = self._lock.first
        self._watcher = QFileSystemWatcher(self)
        if self.first:
            taken_over(self._folder)
            self._watcher.addPath(str(self._folder / INBOX))
            self._watcher.directoryChanged.connect(self._look)

    def _look(self) -> None:
        videos = taken_over(self._folder)
        if videos is not None:
            self.asked.emit(videos)

    def release(self) -> None:
        """The desk closes."""
        self._lock.release()
