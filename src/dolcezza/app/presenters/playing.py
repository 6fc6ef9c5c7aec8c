"""Picture and sound run together: every transport of the window on one sound player."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QObject

from dolcezza.app.widgets.transport import Transport
from dolcezza.app.workers.sound_player import SoundPlayer


class Playing(QObject):
    """Starts the sound with the picture, stops it with the picture, and keeps all sound buttons alike."""

    def __init__(self, transports: Sequence[Transport], parent: QObject, player: SoundPlayer | None = None) -> None:
        super().__init__(parent)
        self._transports = list(transports)
        self.player = player or SoundPlayer(self)
        for transport in self._transports:
            transport.started.connect(self.player.play)
            transport.paused.connect(self.player.stop)
            transport.quiet_wanted.connect(self.be_quiet)

    def open(self, path: Path) -> None:
        """The sound of another take."""
        self.player.open(path)

    def be_quiet(self, quiet: bool) -> None:
        """Sound off, or on again from where the picture is."""
        self.player.muted = quiet
        if quiet:
            self.player.stop()
        for transport in self._transports:
            transport.show_quiet(quiet)
            if not quiet and transport.playing:
                transport.sound_again()

    def close(self) -> None:
        """Let go of take and device."""
        self.player.close()
