"""Runs a job (a generator of progress) outside the interface thread; cancel is asked for at each step."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QThread, QTimer, Signal

from dolcezza.app.theme.words import tr
from dolcezza.app.workers.memory import give_back
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import Progress, Work


class _Thread(QThread):
    progressed = Signal(object)
    ended = Signal(str, object)

    def __init__(self, make: Callable[[], Work[Any]], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("thread")  # see workers/__init__.py
        self._make = make
        self.stop = self.hold = False

    def run(self) -> None:
        try:
            work = self._make()
            while not (self.stop or self.hold):
                self.progressed.emit(next(work))
            if self.hold and not self.stop:
                self.ended.emit("paused", work)
                return
            work.close()
            self.ended.emit("cancelled", None)
        except StopIteration as result:
            self.ended.emit("done", result.value)
        except DolcezzaError as error:
            self.ended.emit("failed", error)
        except Exception as error:
            fault = DolcezzaError(
                tr("Something unexpected happened ({0}: {1}).").format(type(error).__name__, error),
                tr("Please try again; nothing was lost."),
            )
            self.ended.emit("failed", fault)


class JobRunner(QObject):
    """One job at a time. Emits ``progressed(Progress, seconds_left or -1)`` and one of ``done``, ``failed``, ``cancelled``; ``paused`` when
    it was held, to go on later from where it was."""

    progressed = Signal(object, float)
    done = Signal(object)
    failed = Signal(object)
    cancelled = Signal()
    paused = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._thread: _Thread | None = None
        self._stage, self._since, self._from = "", 0.0, 0.0
        self._held: Work[Any] | None = None

    @property
    def held(self) -> bool:
        """Whether a job is paused."""
        return self._held is not None

    @property
    def running(self) -> bool:
        """Whether a job is under way."""
        return self._thread is not None

    def start(self, make: Callable[[], Work[Any]]) -> None:
        """Begin a job; ``make`` builds the generator (in the worker thread)."""
        if self._thread is not None:
            return
        self._drop()
        self._stage, self._since = "", time.monotonic()
        self._thread = _Thread(make, self)
        self._thread.progressed.connect(self._on_progress)
        self._thread.ended.connect(self._on_end)
        self._thread.start()

    def pause(self) -> None:
        """Ask the job to stop at its next step and to keep what it has."""
        if self._thread is not None:
            self._thread.hold = True

    def go_on(self) -> None:
        """Go on with a paused job."""
        held, self._held = self._held, None
        if held is not None:
            self.start(lambda: held)

    def _drop(self) -> None:
        held, self._held = self._held, None
        if held is not None:
            held.close()

    def cancel(self) -> None:
        """Ask the job to stop at its next step; a paused one is given up at once."""
        if self._thread is not None:
            self._thread.stop = True
        elif self._held is not None:
            self._drop()
            self.cancelled.emit()

    def wait(self) -> None:
        """Stop the job and wait for its thread (the window closes)."""
        thread, self._thread = self._thread, None
        if thread is not None:
            thread.stop = True
            thread.wait()
        self._drop()

    def _on_progress(self, progress: Progress) -> None:
        now = time.monotonic()
        if progress.stage != self._stage:
            self._stage, self._since, self._from = progress.stage, now, progress.share
        # from where this stretch began: a job that was paused has done its first part long ago
        done = progress.share - self._from
        left = (now - self._since) * (1 - progress.share) / done if done > 0.02 else -1.0
        self.progressed.emit(progress, left)

    def _on_end(self, how: str, result: object) -> None:
        thread, self._thread = self._thread, None
        if thread is not None:
            thread.wait()
            thread.deleteLater()
        if how == "done":
            self.done.emit(result)
        elif how == "failed":
            self.failed.emit(result)
        elif how == "paused":
            self._held = result  # type: ignore[assignment]
            self.paused.emit()
        else:
            self.cancelled.emit()
        # the result has been taken over, and what it took to get there is free
        del result
        QTimer.singleShot(0, give_back)
