"""Beside the picture on the page Landmarks: what to do next, the ± that comes of it, frames, landmarks, and what can be done to them."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.landmark_figures import LandmarkFigures
from dolcezza.app.widgets.landmark_list import LandmarkList, landmark_words
from dolcezza.app.widgets.moment_chips import MomentChips
from dolcezza.app.widgets.parts import HANDS, label
from dolcezza.core.base.units import clock
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS
from dolcezza.services.calibration import CalibrationSession


class CalibrationPanel:
    """Its parts, put into ``box``; whoever owns it listens to them."""

    def __init__(self, box: QVBoxLayout) -> None:
        self.todo = label("", "heading")
        self.problem = label("", "problem")
        self.swap = QPushButton(tr("Swap low and high side"))
        self.figures = LandmarkFigures()
        self.advice = label("", "faint")
        self.moments = MomentChips()
        self.add_moment = QPushButton(tr("Mark this frame too"))
        self.add_moment.setToolTip(tr("Another calibration frame helps where the instrument was lost or has turned"))
        self.zero = QPushButton(tr("Set zero here"))
        self.zero.setCheckable(True)
        self.zero.setToolTip(
            tr("Zero: here the bow is parallel to the bridge for sure; what is left of its angle is taken off the whole video")
        )
        self.landmarks = LandmarkList()
        self.remove = QPushButton(tr("Remove landmark"))
        self.remove.setToolTip(tr("Delete"))
        self.skip = QPushButton(tr("Skip"))
        self.skip.setToolTip(tr("This place cannot be seen: go on to the next"))
        self.clear = QPushButton(tr("Clear"))
        self.go = QPushButton(tr("Analyse this video"))
        self.go.setObjectName("main")
        self.go.setToolTip(tr("Ctrl+M"))
        for widget in (self.todo, self.problem, self.swap, self.figures, self.advice, self.moments):
            box.addWidget(widget)
        box.addLayout(_row(self.add_moment, self.zero))
        box.addWidget(label(tr("Landmarks"), "heading"))
        box.addWidget(self.landmarks, 1)
        box.addLayout(_row(self.remove, self.skip, self.clear))
        box.addWidget(self.go)


def _row(*widgets: QWidget) -> QHBoxLayout:
    row = QHBoxLayout()
    for widget in widgets:
        row.addWidget(widget)
    return row


def what_to_do(session: CalibrationSession, wanted: str | None, *, here: bool, tracked: bool, measured: bool, looking: bool) -> str:
    """What the page asks for next. ``wanted``: the landmark to set; ``here``: the frame that is being marked is shown, else whether the
    instrument is ``tracked`` in the one that is; ``measured``: the whole take is; ``looking``: the instrument is still looked for."""
    points = session.state.points
    if tracked:
        return tr("Tracked here. Drag a landmark that is off: what depends on it is analysed again at once.")
    if points and not here:
        if measured:
            return tr("The instrument is lost here. Choose “{0}” and set the first four landmarks.").format(tr("Mark this frame too"))
        return tr("The landmarks belong to {0}. Click the picture to go back there.").format(clock(session.t_s))
    if session.found and session.state.ready and not session.base.handed_told:
        return tr(
            "Found by itself, but which hand bows is not clear: “{0}” is set on the page Video. Does the outline lie on the instrument? "
            "Then Enter; if not, drag what is off."
        ).format(tr(HANDS[session.base.handed == "left"]))
    if session.found and session.state.ready:
        return tr("Found by itself. Does the outline lie on the instrument? Then Enter; if not, drag what is off.")
    if wanted is None:
        return tr("All landmarks are set.")
    if not points and looking:
        return tr("Looking for the instrument … Click {0} of 4 if you would rather not wait: {1}").format(1, landmark_words(wanted))
    if wanted in REQUIRED_LANDMARKS:
        return tr("Click {0} of 4: {1}").format(REQUIRED_LANDMARKS.index(wanted) + 1, landmark_words(wanted))
    return tr("Good. More landmarks make it better: {0}").format(landmark_words(wanted))
