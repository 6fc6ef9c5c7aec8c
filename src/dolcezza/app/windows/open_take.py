"""The take that is open: its file, its landmarks, what was measured of it, brought to every screen that shows it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.phones_window import PhonesWindow
from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.assignment import AssignmentPresenter
from dolcezza.app.presenters.body import BodyPresenter
from dolcezza.app.presenters.notation import NotationPresenter
from dolcezza.app.presenters.takes import TakesPresenter
from dolcezza.app.theme.words import day_words, fault_words, spoken, tr
from dolcezza.app.views.arm import ArmView
from dolcezza.app.views.calibration import CalibrationView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.views.take import TakeSettings, TakeView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.parts import let_go
from dolcezza.app.workers.frame_feeder import Pictures
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.message import Message
from dolcezza.core.media.probe import TakeFile, probe
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.corrections import followed_landmarks
from dolcezza.services.followed import TrackedLandmarks
from dolcezza.services.studio import Studio


@dataclass(frozen=True)
class Screens:
    """The screens and desks that show the open take."""

    take: TakeView
    landmarks: CalibrationView
    strokes: StrokesView
    arm: ArmView
    assigning: AssignmentPresenter
    notation: NotationPresenter
    body: BodyPresenter
    takes: TakesPresenter


OF_TWO = ("note.two phones", "note.player beside", "note.player alone")
"""What is said of a second phone."""


class OpenTake(QObject):
    """Emits ``opened()`` with a take open and its pictures coming, ``shown()`` when its measurement was shown anew, and
    ``undo_changed()`` of its landmarks."""

    opened = Signal()
    undo_changed = Signal()

    def __init__(self, studio: Studio, selection: Selection, screens: Screens, notice: NoticeStrip, parent: QObject) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._screens, self._notice = studio, selection, screens, notice
        self.file: TakeFile | None = None
        self.fit: Fit | None = None
        self.pictures = Pictures(self)
        self.pictures.failed.connect(self._say)
        screens.take.settings_changed.connect(self._change_settings)
        screens.take.second_chosen.connect(self._join_phones)
        screens.take.both_wanted.connect(self._show_both)
        self.phones: PhonesWindow | None = None

    def _say(self, error: DolcezzaError) -> None:
        self._notice.say(fault_words(error))

    @property
    def session(self) -> CalibrationSession | None:
        """The landmarks of the open take, as they are being set."""
        return self._screens.landmarks.session

    def open(self, take_id: int) -> None:
        """Open a take of the studio; a video that was moved is asked for."""
        self.keep_landmarks()
        try:
            take = self._studio.store.take(take_id)
            file = probe(take.path)
            fit = self._studio.fit(take)
            analysis = self._studio.analysis(take)
        except DolcezzaError as error:
            self._screens.takes.missing(take_id, error)
            return
        self.file, self.fit = file, fit
        self._selection.set_student(self._studio.store.student(take.student_id))
        self._selection.set_take(take, analysis)
        self._screens.take.show_take(file, fit, take.title, day_words(take.played_on))
        session = CalibrationSession(fit, file.size, 0.0, file.frame_rate)
        session.undo.changed = self.undo_changed.emit
        self._screens.landmarks.open(session, file.duration_s, file.frame_rate)
        self.show_analysis()
        self.pictures.open(take.path)
        self.pictures.want(0.0)
        self.opened.emit()

    def show_analysis(self) -> None:
        """Bring what was measured to the screens."""
        if self.fit is None or self.file is None:
            return
        take, analysis = self._selection.take, self._selection.analysis
        self._show_second()
        profile = self._studio.profile_of(take, self.fit) if take is not None else None
        limit = profile.angle_limit_deg if profile is not None else 4.0
        length_s, rate_hz, see = self.file.duration_s, self.file.frame_rate, self._screens
        see.strokes.show_analysis(analysis, self.fit.spec.strings, length_s, rate_hz, limit)
        see.arm.show_analysis(analysis, length_s, rate_hz, profile)
        see.assigning.show_take(self.fit, length_s, rate_hz, limit)
        see.notation.show_take(self.fit)
        see.landmarks.follow(self._followed())
        self.show_by_hand()

    def _followed(self) -> TrackedLandmarks | None:
        """Where the instrument was followed to, if it was measured and that was kept so that it can be read; whoever mends hears if not."""
        take, analysis = self._selection.take, self._selection.analysis
        if take is None or analysis is None or self.file is None or self.fit is None:
            return None
        try:
            return followed_landmarks(analysis, self.fit, self.file)
        except DolcezzaError:
            return None

    def show_by_hand(self) -> None:
        """Mark what was set by hand."""
        session = self.session
        places = session.base.by_hand if session is not None else ()
        self._screens.strokes.show_by_hand([(p.t_s, {e for e in ("frog", "head") if getattr(p, e) is not None}) for p in places])
        self._screens.body.show_by_hand()

    def reload(self) -> None:
        """The measurement of the open take has changed: show it anew, the same moment and finding chosen."""
        take = self._selection.take
        if take is None:
            return
        self._selection.set_analysis(self._studio.analysis(take))
        moment, chosen = self._selection.moment_s, self._selection.finding
        self.show_analysis()
        self._selection.choose_finding(chosen)
        self._selection.go_to(moment)

    def leave(self, take_id: int) -> None:
        """A take goes: forget it if it is the open one."""
        if self._selection.take is not None and self._selection.take.id == take_id:
            self.pictures.close()
            self.file = self.fit = None
            self._screens.landmarks.session = None
            self._selection.set_take(None, None)

    def _change_settings(self, said: TakeSettings) -> None:
        session = self.session
        if session is None:
            return
        other = said.instrument if said.instrument != session.base.spec.name else None
        session.settings(instrument=other, handed=said.handed, mirrored=said.mirrored)

    def _show_second(self) -> None:
        """Which other videos may be of the same playing, and which one is said to be."""
        take = self._selection.take
        if take is not None:
            others = [(s.take.id, f"{s.take.title}, {day_words(s.take.played_on)}") for s in self._studio.takes(take.student_id)]
            others = [o for o in others if o[0] != take.id]
            self._screens.take.show_second(others, self._studio.pairs.of(take.id), measured=bool(self._together))

    @property
    def _together(self) -> dict[str, Any]:
        """What is kept of two phones that were measured together; empty where they were not."""
        take, analysis = self._selection.take, self._selection.analysis
        told = analysis.summary.get("second", {}) if analysis is not None else {}
        second = self._studio.second_phone(take) if take is not None else None
        return told if second is not None and told.get("take") == second[0].name else {}

    def _show_both(self) -> None:
        """Both pictures at the same moment."""
        take, told, parent = self._selection.take, self._together, self.parent()
        second = self._studio.second_phone(take) if take is not None else None
        if take is None or second is None or not told or not isinstance(parent, QWidget):
            return
        let_go(self.phones)
        notes = self._selection.analysis.summary.get("messages", []) if self._selection.analysis is not None else []
        said = next((spoken().sentence(Message.from_dict(m)) for m in notes if m.get("id") in OF_TWO), "")
        self.phones = PhonesWindow(
            take.path, second[0], offset_s=float(told["offset_s"]), drift=float(told["drift"]), duration_s=take.duration_s, said=said,
            parent=parent,
        )  # fmt: skip
        self.phones.show()

    def _join_phones(self, second: int) -> None:
        """The teacher says which video is of the same playing."""
        take = self._selection.take
        if take is None:
            return
        try:
            self._studio.join_phones(take, second)
        except DolcezzaError as error:
            self._say(error)
            return
        joined = tr("Both videos are measured together from now on: analyse again.")
        said = joined if second else tr("From now on this video alone is measured.")
        self._notice.say(said, calm=True)

    def keep_landmarks(self) -> None:
        """Save the landmarks as they are, so that closing or opening another take loses nothing."""
        take, session = self._selection.take, self.session
        if take is None or session is None or not session.state.ready or session.result() == self.fit:
            return
        try:
            self._studio.save_fit(take, session.result())
            self.fit = session.result()
        except DolcezzaError as error:
            self._say(error)
