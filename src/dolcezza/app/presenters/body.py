"""What the arm and hand pages ask for, done: joints set by hand, the moment at ease, answers, pictures of the hand."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, mark, tr
from dolcezza.app.views.arm import ArmView
from dolcezza.app.views.hand import HandView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.corrections import JOINTS
from dolcezza.services.hand_frames import SeenHand, hands_of_take
from dolcezza.services.hold import HoldStill, hand_to_lay, look_at_stills, tell_again
from dolcezza.services.studio import Studio
from dolcezza.storage.records import HandStill

PICTURE_FILTER = mark("Pictures (*.jpg *.jpeg *.png *.webp *.tif *.tiff);;All files (*)")


class BodyPresenter(QObject):
    """Between the two pages and the studio. ``session`` gives the landmarks of the open take, which keep what is set by hand."""

    def __init__(
        self, studio: Studio, selection: Selection, arm: ArmView, hand: HandView, notice: NoticeStrip,
        session: Callable[[], CalibrationSession | None], parent: QWidget,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._studio, self._selection, self._arm, self._hand, self._notice = studio, selection, arm, hand, notice
        self._session, self._window = session, parent
        self.jobs = JobRunner(self)
        self._role, self._path = "hold", Path()
        self._mending: tuple[HandStill, list[int]] | None = None
        hand.picture_wanted.connect(self._ask_picture)
        hand.answered.connect(self._answer)
        hand.forget.connect(self._forget)
        hand.point_moved.connect(self._move_point)
        hand.points_wanted.connect(self._lay_hand)
        hand.frames_wanted.connect(self.look_at_take)
        self.jobs.done.connect(self._on_looked)
        self.jobs.failed.connect(self._on_failed)

    @property
    def _student(self) -> int | None:
        take = self._selection.take
        if take is not None:
            return take.student_id
        return self._selection.student.id if self._selection.student is not None else None

    def reload(self, chosen: int | None = None) -> None:
        """Show what the studio has of the student's hands, answers and joints set by hand."""
        student = self._student
        if student is None:
            self._hand.show_stills([], None)
            return
        profile = self._studio.schools.of(self._studio.store.student(student), self._studio.spec_of(student))
        self._hand.show_stills(self._studio.store.hands.stills(student), profile, chosen)
        self.show_by_hand()

    def show_by_hand(self) -> None:
        """Joints and the moment at ease as the landmarks keep them."""
        session = self._session()
        if session is None:
            self._arm.show_by_hand([], None)
            return
        places = [(a.t_s, {j: xy for j in JOINTS if (xy := getattr(a, j)) is not None}) for a in session.base.arm]
        self._arm.show_by_hand(places, session.base.relaxed_s)

    # pictures of the hand

    def _ask_picture(self, role: str) -> None:
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Open a picture of the bow hand"), "", tr(PICTURE_FILTER))
        if path:
            self.look_at(role, Path(path))

    def look_at(self, role: str, path: Path) -> None:
        """Find the hand in a picture, in the background."""
        student = self._student
        if student is None:
            self._notice.say(tr("Choose a student first; the picture belongs to somebody."))
            return
        if self.jobs.running:
            self._notice.say(tr("A picture is being looked at; one moment."), calm=True)
            return
        self._role, self._path = role, path
        right = self._studio.store.student(student).handed == "right"
        self.jobs.start(lambda: look_at_stills([path], right=right))
        self._notice.say(tr("Looking at the hand…"), calm=True)

    def look_at_take(self) -> None:
        """The hand at the frog and at the head out of the open video, in the background."""
        take, analysis = self._selection.take, self._selection.analysis
        if take is None or analysis is None:
            self._notice.say(tr("Open an analysed video first: the hand is looked for where the bow is at the frog and at the head."))
            return
        if self.jobs.running:
            self._notice.say(tr("A picture is being looked at; one moment."), calm=True)
            return
        right = self._studio.store.student(take.student_id).handed == "right"
        self.jobs.start(lambda: hands_of_take(take.path, analysis.series, (take.width, take.height), right=right))
        self._notice.say(tr("Looking at the hand…"), calm=True)

    def _on_hands(self, seen: list[SeenHand]) -> None:
        take = self._selection.take
        if take is None:
            return
        for one in seen:
            self._studio.keep_hand(take.student_id, one.frame.role, one.frame.address, one.still, taken_on=take.played_on)
        self.reload(0)
        told = sum(one.still.hold is not None for one in seen)
        self._notice.say(tr("{0} pictures of the hand are kept, {1} of them measured.").format(len(seen), told), calm=True)

    def _on_looked(self, stills: list[HoldStill] | list[SeenHand]) -> None:
        student = self._student
        if student is None or not stills:
            return
        if isinstance(stills[0], SeenHand):
            self._on_hands([s for s in stills if isinstance(s, SeenHand)])
            return
        self._on_stills(student, [s for s in stills if isinstance(s, HoldStill)])

    def _on_stills(self, student: int, stills: list[HoldStill]) -> None:
        if self._mending is not None:
            self._on_mended(stills[0])
            return
        try:
            self._studio.keep_hand(student, self._role, self._path, stills[0])
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.reload(0)
        self._notice.say(
            tr("The hand was measured.") if stills[0].hold is not None else stills[0].notes[0], calm=stills[0].hold is not None
        )

    def _still(self, place: int) -> HandStill | None:
        return None if self._student is None else self._studio.store.hands.stills(self._student)[place]

    def _move_point(self, place: int, which: int, at: tuple[float, float]) -> None:
        """A point set by hand: the hand is told again with it, in the background."""
        still = self._still(place)
        if still is None or still.points is None:
            return
        points = [list(p) for p in still.points]
        points[which] = [round(v, 1) for v in at]
        self._tell_again(still, points, sorted({*still.by_hand, which}))

    def _lay_hand(self, place: int) -> None:
        """A usual hand over a picture in which none was found."""
        still = self._still(place)
        if still is None:
            return
        try:
            points = hand_to_lay(still.path, right=self._right(still))
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self._tell_again(still, points.tolist(), list(range(len(points))))
        self._notice.say(tr("Drag the points to their places; the figures count once they lie there."), calm=True)

    def _right(self, still: HandStill) -> bool:
        return self._studio.store.student(still.student_id).handed == "right"

    def _tell_again(self, still: HandStill, points: list[list[float]], by_hand: list[int]) -> None:
        if self.jobs.running:
            self._notice.say(tr("A picture is being looked at; one moment."), calm=True)
            self.reload(self._place_of(still))
            return
        self._mending, right = (still, by_hand), self._right(still)
        self.jobs.start(lambda: tell_again(still.path, np.array(points), by_hand, right=right))

    def _on_mended(self, told: HoldStill) -> None:
        assert self._mending is not None
        (still, by_hand), self._mending = self._mending, None
        self._studio.mend_hand(still, told, by_hand)
        self.reload(self._place_of(still))

    def _place_of(self, still: HandStill) -> int:
        ids = [s.id for s in self._studio.store.hands.stills(still.student_id)]
        return ids.index(still.id) if still.id in ids else 0

    def _on_failed(self, error: Exception) -> None:
        self._mending = None
        self._notice.say(fault_words(error))
        self.reload()

    def _answer(self, place: int, answers: dict[str, str]) -> None:
        if self._student is not None:
            self._studio.answer_hand(self._studio.store.hands.stills(self._student)[place], answers)
            self.reload(place)

    def _forget(self, place: int) -> None:
        if self._student is not None:
            still = self._studio.store.hands.stills(self._student)[place]
            self._studio.forget_hand(still)
            self.reload(0)
