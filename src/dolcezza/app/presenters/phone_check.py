"""Checks of phones: the window over the desk, with the take that is open."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.phone_check_window import CheckSource, PhoneCheckWindow
from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import let_go
from dolcezza.core.check.compare import CheckError, CheckResult
from dolcezza.core.check.kept import PhoneCheck
from dolcezza.core.instrument.catalog import InstrumentSpec, instrument
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.phone_checks import CheckBook, checked_take
from dolcezza.services.studio import Studio

USUAL = "violin 4/4"


class PhoneCheckPresenter:
    """``session`` gives the landmarks of the open take: a check that counts is kept with them, and can be undone."""

    def __init__(self, studio: Studio, selection: Selection, session: Callable[[], CalibrationSession | None], window: QWidget) -> None:
        self._studio, self._selection, self._session, self._window = studio, selection, session, window
        self.window: PhoneCheckWindow | None = None

    @property
    def does(self) -> dict[str, Callable[[], None]]:
        """What the menu's entry does, by name."""
        return {"phone_check": self.show}

    def show(self) -> None:
        """Open the window on the take that is open, or without one."""
        session = self._session()
        spec = session.base.spec if session is not None else self.usual()
        analysis, take = self._selection.analysis, self._selection.take
        source = CheckSource(
            instrument(spec.name), session.base.handed if session is not None else "right",
            take.title if take is not None and analysis is not None else "", self._check, self._counts, self._use,
        )  # fmt: skip
        let_go(self.window)
        self.window = PhoneCheckWindow(source, CheckBook(self._studio.folder), self._window)
        self.window.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.window.open()

    def usual(self) -> InstrumentSpec:
        """The instrument of the student who is chosen, else the usual one."""
        student = self._selection.student
        return self._studio.spec_of(student.id) if student is not None else instrument(USUAL)

    def _check(self, name: str, ruler_mm: float) -> tuple[CheckResult, PhoneCheck]:
        take, analysis = self._selection.take, self._selection.analysis
        if take is None or analysis is None:
            raise CheckError(tr("No analysed video is open. Open the video of the bow on the card, analyse it, and come back."))
        return checked_take(analysis, self._studio.fit(take), name=name, day=date.today(), ruler_mm=ruler_mm)

    def _counts(self) -> PhoneCheck | None:
        session = self._session()
        return session.base.check if session is not None else None

    def _use(self, check: PhoneCheck | None) -> None:
        session = self._session()
        if session is not None:
            session.use_check(check)
