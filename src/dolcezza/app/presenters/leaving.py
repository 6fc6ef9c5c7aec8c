"""Before something of a student leaves the studio: what was agreed counts, and is asked for where nothing was; each file is noted."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.kept_window import KeptWindow
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import ask
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Student


class Leaving:
    """Asked by every page that writes a file for somebody else."""

    def __init__(self, studio: Studio, notice: NoticeStrip, window: QWidget) -> None:
        self._studio, self._notice, self._window = studio, notice, window

    def agreed(self, student_id: int, *, picture: bool) -> bool:
        """Whether it may leave; where it was not agreed, what was agreed is asked for once."""
        keeping = self._studio.keeping
        if keeping.may_leave(student_id, picture=picture):
            return True
        why = tr("Nothing leaves the studio before it was agreed: who agreed, to what, and until when?")
        ask(KeptWindow(self._studio, self._studio.store.student(student_id), self._window, why=why))
        if keeping.may_leave(student_id, picture=picture):
            return True
        self._notice.say(tr("Nothing was written: handing it on was not agreed."))
        return False

    def named(self, student: Student) -> Student:
        """The student as what is written names them."""
        return self._studio.keeping.as_named(student)

    def wrote(self, student_id: int, what: str, path: Path) -> None:
        """Note what was written, and where."""
        self._studio.keeping.wrote(student_id, what, path)
