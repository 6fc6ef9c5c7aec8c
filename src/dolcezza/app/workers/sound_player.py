"""The take's own sound beside the picture, slowed down at the same pitch. Without a sound device the picture plays alone."""

from __future__ import annotations

import os
from collections.abc import Generator
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QObject, QThread, Signal

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.tempo import at_tempo

if TYPE_CHECKING:
    import miniaudio  # a native library, only where something sounds

RATE_HZ = 44_100
BUFFER_MS = 60


class _Reader(QThread):
    """Reads the sound of a take once."""

    read = Signal(object)

    def __init__(self, path: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("reader")  # see workers/__init__.py
        self.path = path

    def run(self) -> None:
        try:
            self.read.emit(read_sound(self.path, rate_hz=RATE_HZ))
        except DolcezzaError:
            self.read.emit(None)


class SoundPlayer(QObject):
    """``open`` reads a take's sound in the background; ``play`` from a moment at a tempo; ``stop``. ``backends``: what to play on, None =
    whatever there is (a test plays on none)."""

    loaded = Signal()

    def __init__(self, parent: QObject | None = None, *, backends: list[miniaudio.Backend] | None = None) -> None:
        super().__init__(parent)
        self._backends = backends
        self._reader: _Reader | None = None
        self._sound: tuple[np.ndarray, float] | None = None
        self._device: miniaudio.PlaybackDevice | None = None
        self._no_device = False
        self.muted = False

    @property
    def playing(self) -> bool:
        """Whether sound is running."""
        return self._device is not None

    @property
    def has_sound(self) -> bool:
        """Whether the open take has sound that is read by now."""
        return self._sound is not None

    def open(self, path: Path) -> None:
        """Another take."""
        self.close()
        self._reader = _Reader(path, self)
        self._reader.read.connect(self._on_read)
        self._reader.start()

    def _on_read(self, sound: object) -> None:
        self._sound = sound  # type: ignore[assignment]
        self.loaded.emit()

    def play(self, seconds: float, tempo: float) -> None:
        """Play from a moment of the take until stopped; nothing where there is no sound, no device, or it is muted."""
        self.stop()
        if self.muted or self._sound is None or self._no_device:
            return
        import miniaudio

        device = self._made()
        if device is None:
            return
        samples, start = self._sound
        first = max(0, round((seconds - start) * RATE_HZ))
        lead = max(0.0, start - seconds) / tempo
        feed = fed(np.zeros(round(lead * RATE_HZ), np.float32), samples[first:], tempo)
        next(feed)
        try:
            device.start(feed)
        except miniaudio.MiniaudioError:
            device.close()
            self._no_device = True
            return
        self._device = device

    def _made(self) -> miniaudio.PlaybackDevice | None:
        """A device to play on; None, and no further try, where there is none."""
        import miniaudio

        backends = self._backends if self._backends is not None else usable_backends()
        if backends:
            try:
                return miniaudio.PlaybackDevice(
                    output_format=miniaudio.SampleFormat.FLOAT32, nchannels=1, sample_rate=RATE_HZ, buffersize_msec=BUFFER_MS,
                    backends=backends, app_name="Dolcezza",
                )  # fmt: skip
            except miniaudio.MiniaudioError:
                pass
        self._no_device = True
        return None

    def stop(self) -> None:
        """Be quiet."""
        device, self._device = self._device, None
        if device is not None:
            device.close()

    def close(self) -> None:
        """Let go of the take and of the device."""
        self.stop()
        reader, self._reader = self._reader, None
        self._sound = None
        if reader is not None:
            reader.read.disconnect(self._on_read)
            reader.wait()
            reader.deleteLater()


def usable_backends() -> list[miniaudio.Backend]:
    """Sound systems that look as if they were there; asking for others makes their libraries complain aloud."""
    import miniaudio

    found = []
    runtime = os.environ.get("XDG_RUNTIME_DIR", "")
    if os.environ.get("PULSE_SERVER") or (runtime and Path(runtime, "pulse", "native").exists()):
        found.append(miniaudio.Backend.PULSEAUDIO)
    cards = Path("/proc/asound/cards")
    if cards.exists() and "no soundcards" not in cards.read_text(encoding="utf-8", errors="replace"):
        found.append(miniaudio.Backend.ALSA)
    return found


def fed(lead: np.ndarray, samples: np.ndarray, tempo: float) -> Generator[np.ndarray, int, None]:
    """Answers each wish for so many samples with that many (n, 1), silence after the end; ``lead`` comes first as it is."""
    ready = lead
    pieces = at_tempo(samples, rate_hz=RATE_HZ, tempo=tempo)
    wanted = yield np.zeros((0, 1), np.float32)
    while True:
        while len(ready) < wanted:
            piece = next(pieces, None)
            if piece is None:
                ready = np.concatenate([ready, np.zeros(wanted - len(ready), np.float32)])
                break
            ready = np.concatenate([ready, piece])
        out, ready = ready[:wanted], ready[wanted:]
        wanted = yield np.ascontiguousarray(out[:, None])
