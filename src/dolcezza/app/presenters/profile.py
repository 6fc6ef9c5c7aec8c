"""What the profile page asks for, done: choices, lane, elbow order, angle limit, another profile, another name."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QInputDialog, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, tr
from dolcezza.app.views.profile import ProfileView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.findings.profiles import PROFILES
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Student


class ProfilePresenter(QObject):
    """Between the page and the studio. Emits ``changed()`` when the rules judge otherwise."""

    changed = Signal()

    def __init__(self, studio: Studio, selection: Selection, view: ProfileView, notice: NoticeStrip, parent: QWidget) -> None:
        super().__init__(parent)
        self._studio, self._selection, self._view, self._notice, self._window = studio, selection, view, notice, parent
        schools = studio.schools
        view.chosen.connect(lambda key, option: self._do(lambda s, spec: schools.choose(s.id, spec, key, option)))
        view.lane_changed.connect(self._lane)
        view.order_changed.connect(lambda order: self._do(lambda s, spec: schools.set_order(s.id, spec, order)))
        view.angle_changed.connect(lambda degrees: self._do(lambda s, spec: schools.set_angle_limit(s.id, spec, degrees)))
        view.profile_chosen.connect(lambda name: self._do(lambda s, _spec: schools.use(s.id, name)))
        view.rename_wanted.connect(self._ask_name)

    @property
    def student(self) -> Student | None:
        """Whose profile is shown: of the open take, else of the chosen student."""
        take = self._selection.take
        return self._studio.store.student(take.student_id) if take is not None else self._selection.student

    def reload(self) -> None:
        """Show the profile anew."""
        student = self.student
        if student is None:
            return
        spec = self._studio.spec_of(student.id)
        profile = self._studio.schools.of(student, spec)
        names = [p.name for p in self._studio.shelf.all().values() if spec.family in p.families]
        users = [s.name for s in self._studio.schools.users(profile.name)]
        self._view.show_profile(
            student.name, profile, spec, names, profile.name in PROFILES, users, self._studio.schools.history(student.id)
        )  # fmt: skip

    def _do(self, does: Callable[[Student, InstrumentSpec], object]) -> None:
        student = self.student
        if student is None:
            return
        try:
            does(student, self._studio.spec_of(student.id))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
        self.reload()
        self.changed.emit()

    def _lane(self, entries: dict[str, Any]) -> None:
        words = {"reason": tr("Set on the profile page.")}
        self._do(lambda s, spec: self._studio.schools.set_lane(s.id, spec, **entries, **words))

    def _ask_name(self) -> None:
        student = self.student
        if student is None:
            return
        now = self._studio.schools.of(student, self._studio.spec_of(student.id)).name
        name, sure = QInputDialog.getText(self._window, tr("Another name"), tr("Name of the profile:"), text=now)
        if sure and name.strip() != now:
            self._do(lambda s, spec: self._studio.schools.rename(s.id, spec, name))
