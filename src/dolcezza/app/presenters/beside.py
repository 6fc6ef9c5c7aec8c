"""Two pictures side by side over the desk: two strokes, or a stroke and how it could be."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.compare_window import CompareWindow, open_beside
from dolcezza.app.dialogs.what_if_window import WhatIfWindow
from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, tr
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import let_go
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import Work
from dolcezza.core.strokes.figures import Stroke
from dolcezza.services.studio import Studio
from dolcezza.services.what_if import Figures, Part, asked_figures, asked_stroke, own_figures, phone_place, pictures_of, script_of
from dolcezza.storage.records import StoredAnalysis, Take


class BesidePresenter:
    """``pause`` stops what plays on the desk before a window opens over it."""

    def __init__(
        self, studio: Studio, selection: Selection, notice: NoticeStrip, pause: Callable[[], None], window: QWidget
    ) -> None:  # fmt: skip
        self._studio, self._selection, self._notice, self._pause, self._window = studio, selection, notice, pause, window
        self.two: CompareWindow | None = None
        self.what_if: WhatIfWindow | None = None

    @property
    def does(self) -> dict[str, Callable[[], None]]:
        """What the menus' entries do, by name."""
        return {"beside": self.show_two, "what_if": self.show_what_if}

    def _open_stroke(self) -> tuple[Take, StoredAnalysis, Stroke] | None:
        take, analysis = self._selection.take, self._selection.analysis
        if take is None or analysis is None or not analysis.strokes:
            self._notice.say(tr("Open an analysed video first: its strokes are laid side by side."), calm=True)
            return None
        self._pause()
        return take, analysis, self._selection.stroke or analysis.strokes[0]

    def show_two(self) -> None:
        """The chosen stroke beside one like it."""
        if (here := self._open_stroke()) is not None:
            take, _, stroke = here
            let_go(self.two)
            self.two = open_beside(self._studio, take.student_id, take.id, stroke.number, self._window)
            if self.two is not None:
                self.two.show()

    def show_what_if(self) -> None:
        """The chosen stroke drawn again, beside the same stroke as asked."""
        if (here := self._open_stroke()) is None:
            return
        take, stored, stroke = here
        try:
            fit = self._studio.fit(take)
            own = own_figures(stored.series, stroke)
            place = phone_place(stored, 0.5 * (stroke.start_s + stroke.end_s))
            profile, asked = self._studio.profile_of(take, fit), asked_stroke(stored, stroke, self._studio.asked(take), fit.spec)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return

        def right(parts: list[Part]) -> Figures:
            return asked_figures(own, parts, fit.spec, profile, semitones=stroke.semitones, asked=asked)

        def made(figures: Figures) -> Work[list[Array]]:
            return pictures_of(script_of(figures, fit.instrument, fit.handed, place))

        parts = [Part.ANGLE, Part.CONTACT, *([Part.BOW] if asked is not None else [])]
        title = tr("Stroke {0} as it was, and as asked").format(stroke.number)
        let_go(self.what_if)
        self.what_if = WhatIfWindow(title, own, right, parts, made, self._window)
        self.what_if.show()

    def close(self) -> None:
        """Close what is open."""
        for one in (self.two, self.what_if):
            if one is not None:
                one.close()
