"""All screens of the job in one stack, in their order, and the profile after them; what is done to all of them is done here."""

from __future__ import annotations

from PySide6.QtGui import QImage
from PySide6.QtWidgets import QStackedWidget, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import Palette
from dolcezza.app.views.arm import ArmView
from dolcezza.app.views.bow_plan import BowPlanView
from dolcezza.app.views.bow_use import BowUseView
from dolcezza.app.views.calibration import CalibrationView
from dolcezza.app.views.correct import CorrectView
from dolcezza.app.views.hold import HoldView
from dolcezza.app.views.notation import NotationView
from dolcezza.app.views.practise import PractiseView
from dolcezza.app.views.profile import ProfileView
from dolcezza.app.views.progress import ProgressView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.views.students import StudentsView
from dolcezza.app.views.take import TakeView
from dolcezza.app.widgets.take_page import TakePage
from dolcezza.app.widgets.transport import Transport
from dolcezza.services.studio import Studio


class Pages(QStackedWidget):
    """One page a step, numbered as in ``steps``."""

    def __init__(self, studio: Studio, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.students, self.take = StudentsView(studio, selection), TakeView(selection)
        self.landmarks, self.strokes = CalibrationView(selection), StrokesView(selection)
        self.arm, self.hold = ArmView(selection), HoldView()
        self.hand = self.hold.pictures
        self.use, self.plan, self.notes = BowUseView(selection), BowPlanView(), NotationView()
        self.correct, self.practise, self.progress = CorrectView(selection), PractiseView(), ProgressView()
        first = (self.students, self.take, self.landmarks, self.strokes, self.arm, self.hold)
        self.profile = ProfileView()
        for page in (*first, self.use, self.plan, self.notes, self.correct, self.practise, self.progress, self.profile):
            self.addWidget(page)

    @property
    def transports(self) -> dict[int, Transport]:
        """The transports by the number of their page."""
        pages = (self.take, self.landmarks, self.strokes, self.arm, self.use, self.correct)
        return {self.indexOf(page): page.transport for page in pages}

    def pause(self) -> None:
        """Nothing runs any more."""
        for transport in self.transports.values():
            transport.pause()
        self.hold.build.pause()

    def show_picture(self, seconds: float, image: QImage) -> None:
        """A picture for the page that is shown; ``seconds`` is its own time."""
        page = self.currentWidget()
        if isinstance(page, (TakeView, CalibrationView)):
            page.show_picture(image)
        elif isinstance(page, (TakePage, StrokesView)):
            page.show_picture(seconds, image)
        else:
            self.strokes.show_picture(seconds, image)

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.strokes.recolour(palette)
        for page in (self.arm, self.hold, self.use, self.plan, self.notes, self.correct, self.progress, self.profile):
            page.recolour(palette)
        for transport in self.transports.values():
            transport.recolour(palette)
        self.students.reload()
