"""Preferences, takes opened lately, and the last session: kept when one leaves, brought back when one returns."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial

from PySide6.QtCore import QByteArray, QObject, Signal
from PySide6.QtWidgets import QApplication, QMainWindow, QMenu

from dolcezza.app.dialogs.preferences import Preferences
from dolcezza.app.models.selection import Selection
from dolcezza.app.presenters.playing import Playing
from dolcezza.app.theme.palette import DARK, LIGHT, Palette
from dolcezza.app.theme.style import dress
from dolcezza.app.theme.words import day_words, tr
from dolcezza.app.widgets.parts import ask
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.settings import Session, Settings, SettingsFile
from dolcezza.services.studio import Studio


@dataclass(frozen=True)
class Desk:
    """What of the window a session is made of: opening a take, going to a step, telling the step."""

    open_take: Callable[[int], None]
    go_to_step: Callable[[int], None]
    step: Callable[[], int]


class SessionPresenter(QObject):
    """Emits ``recoloured(palette)`` when another theme counts."""

    recoloured = Signal(object)

    def __init__(
        self, studio: Studio, selection: Selection, settings: SettingsFile, playing: Playing, desk: Desk, window: QMainWindow
    ) -> None:  # fmt: skip
        super().__init__(window)
        self._studio, self._selection, self._playing, self._desk, self._window = studio, selection, playing, desk, window
        self.settings = settings
        selection.take_changed.connect(self._on_take)
        playing.be_quiet(settings.now.quiet)

    def _change(self, new: Settings) -> None:
        # a preference that cannot be written is no reason to stop the lesson
        with suppress(DolcezzaError):
            self.settings.change(new)

    def _on_take(self, take: object) -> None:
        taken = self._selection.take
        if taken is not None and take is taken:
            self._change(self.settings.now.opened(self._studio.folder, taken.id))

    # recent takes

    def fill_recent(self, menu: QMenu) -> None:
        """The takes opened lately, newest first; those that are gone are left out."""
        menu.clear()
        for take_id in self.settings.now.recent.get(str(self._studio.folder), []):
            try:
                take = self._studio.store.take(take_id)
                student = self._studio.store.student(take.student_id)
            except DolcezzaError:
                continue
            action = menu.addAction(f"{student.name}: {take.title}, {day_words(take.played_on)}")
            action.triggered.connect(partial(self._desk.open_take, take_id))
        if menu.isEmpty():
            menu.addAction(tr("No video has been opened yet")).setEnabled(False)

    # preferences

    def ask(self) -> None:
        """Show the preferences and take over what is kept."""
        dialog = Preferences(self.settings.now, self._studio.folder, self._window)
        if ask(dialog):
            self.take_over(dialog.chosen)

    def take_over(self, new: Settings) -> None:
        """Other preferences from now on."""
        old = self.settings.now
        self._change(new)
        if new.theme != old.theme:
            self.dress()
        if new.quiet != old.quiet:
            self._playing.be_quiet(new.quiet)

    def other_theme(self) -> None:
        """Light becomes dark and back."""
        self.take_over(replace(self.settings.now, theme="light" if self.settings.now.theme == "dark" else "dark"))

    def dress(self) -> None:
        """Colours of the theme that is set."""
        app = QApplication.instance()
        palette: Palette = DARK if self.settings.now.theme == "dark" else LIGHT
        if isinstance(app, QApplication):
            dress(app, palette)
        self.recoloured.emit(palette)

    # sessions

    def leave(self) -> None:
        """Remember where one is."""
        take, student = self._selection.take, self._selection.student
        here = Session(student.id if student else 0, take.id if take else 0, self._desk.step(), round(self._selection.moment_s, 3))
        place = bytes(self._window.saveGeometry().toBase64().data()).decode("ascii")
        self._change(replace(self.settings.now.left(self._studio.folder, here), window=place))

    def come_back(self) -> None:
        """Bring the last session back, as far as it is still there."""
        if self.settings.now.window:
            self._window.restoreGeometry(QByteArray.fromBase64(QByteArray(self.settings.now.window.encode("ascii"))))
        was = self.settings.now.session(self._studio.folder)
        students = {s.id: s for s in self._studio.students()}
        if was.student in students:
            self._selection.set_student(students[was.student])
        known = {s.take.id for s in self._studio.takes(was.student)} if was.student in students else set()
        if was.take not in known or not self._studio.store.take(was.take).path.exists():
            return
        self._desk.open_take(was.take)
        self._desk.go_to_step(was.step)
        self._selection.go_to(was.moment_s)
