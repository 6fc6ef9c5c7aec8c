"""Building a hold with a student: ticked steps, the teacher's answers, the student's bow and its marks; and what they come to."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TypeVar

from dolcezza.core.base.errors import StudioError
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rank import in_order
from dolcezza.core.findings.rules.hold import TOLD_OF, answer_findings, felt_findings, gap_findings, hand_findings, wrist_findings
from dolcezza.core.hold.methods import Method, methods
from dolcezza.core.hold.questions import Said, newest
from dolcezza.core.practice.ready import READY
from dolcezza.services.hold import newest_signs
from dolcezza.services.practice import Prescription, prescriptions
from dolcezza.services.undo import UndoStack
from dolcezza.storage.records import Bow, FeltAnswer, HoldAnswer, HoldStep, JudgedFinding
from dolcezza.storage.studio import StudioStore

MARKS = ("winding", "tape", "balance point", "marker")
"""Places on a bow that teachers mark, from the frog outwards; they are four different places."""
LONGEST_BOW_MM = 800.0

T = TypeVar("T", HoldAnswer, HoldStep, FeltAnswer)


class HoldBuilding:
    """What is kept of building the hold. Everything can be undone."""

    def __init__(self, store: StudioStore, undo: UndoStack) -> None:
        self._store, self._undo = store, undo

    # answers

    def say(self, student_id: int, question: str, answer: str, day: date | None = None) -> HoldAnswer:
        """Keep what the teacher sees. Raises StudioError for an answer that the question does not have, or a day to come."""
        day = self._day(student_id, day)
        return self._keep("answer", HoldAnswer(student_id, question, answer, day), self._store.hold.say, self._store.hold.unsay)

    def said(self, student_id: int) -> dict[str, Said]:
        """The newest answer to each question."""
        return newest(Said(a.question, a.answer, a.said_on) for a in self._store.hold.answers(student_id))

    def say_felt(self, student_id: int, test: str, answer: str, day: date | None = None) -> FeltAnswer:
        """Keep how a small test by feel came out. Raises StudioError for an answer or test that there is not, or a day to come."""
        said = FeltAnswer(student_id, test, answer, self._day(student_id, day))
        return self._keep("answer", said, self._store.hands.say_felt, self._store.hands.unsay_felt)

    def felt(self, student_id: int) -> dict[str, Said]:
        """The newest answer to each of the small tests by feel."""
        return newest(Said(f.test, f.answer, f.said_on) for f in reversed(self._store.hands.felt(student_id)))

    # steps

    def tick(self, student_id: int, method: str, step: str, day: date | None = None) -> HoldStep:
        """A step was done. Raises StudioError for a step that the method does not have, or a day to come."""
        if method not in methods() or step not in {s.key for s in methods()[method].steps}:
            raise StudioError(f"'{method}' has no step '{step}'.", "Choose a step of the list.")
        day = self._day(student_id, day)
        return self._keep("step", HoldStep(student_id, method, step, day), self._store.hold.tick, self._store.hold.untick)

    def untick(self, student_id: int, method: str, step: str) -> None:
        """Take the newest tick of a step back."""
        book = self._store.hold
        kept = [s for s in book.steps(student_id) if (s.method, s.step) == (method, step)]

        def take_back() -> None:
            for one in kept:
                book.untick(one.id)

        take_back()
        if kept:
            self._undo.did("step", lambda: [book.tick(one) for one in kept], take_back)

    def ticked(self, student_id: int, method: Method) -> dict[str, date]:
        """Steps of a method that were done, with the day of the last tick."""
        return {s.step: s.done_on for s in self._store.hold.steps(student_id) if s.method == method.key}

    def ready_today(self, student_id: int, today: date | None = None) -> list[str]:
        """What was ticked before the first note today."""
        day = today or date.today()
        return [s.step for s in self._store.hold.steps(student_id) if s.method == READY and s.done_on == day]

    def make_ready(self, student_id: int, key: str, *, on: bool, today: date | None = None) -> None:
        """Tick something of the list before the first note, or take the tick of today back. Raises StudioError."""
        day = self._day(student_id, today)
        book = self._store.hold
        there = [s for s in book.steps(student_id) if (s.method, s.step, s.done_on) == (READY, key, day)]
        if on and not there:
            self._keep("step", HoldStep(student_id, READY, key, day), book.tick, book.untick)
        elif not on and there:
            one = there[-1]
            book.untick(one.id)
            self._undo.did("step", lambda: book.tick(one), lambda: book.untick(one.id))

    def method_of(self, student_id: int) -> str:
        """The method that was ticked last; "" where none was."""
        steps = [s for s in self._store.hold.steps(student_id) if s.method in methods()]
        return steps[-1].method if steps else ""

    # the bow

    def bow(self, student_id: int) -> Bow:
        """The bow that the student plays, without marks where none is kept yet."""
        bows = self._store.hold.bows(student_id)
        return bows[-1] if bows else Bow(student_id, "")

    def bows(self, student_id: int) -> list[Bow]:
        """All bows of a student, the one that is played last."""
        return self._store.hold.bows(student_id)

    def new_bow(self, student_id: int, name: str) -> Bow:
        """Another bow, which is played from now on. Raises StudioError for a name that is there already."""
        if not name.strip() or any(b.name == name.strip() for b in self.bows(student_id)):
            raise StudioError(f"'{name.strip()}' cannot be the name of another bow.", "Choose a name that is not there yet.")
        return self._keep_bow(Bow(student_id, name.strip()))

    def play(self, student_id: int, bow_id: int) -> Bow:
        """Another of the student's bows is played from now on. Raises StudioError."""
        chosen = next((b for b in self.bows(student_id) if b.id == bow_id), None)
        if chosen is None:
            raise StudioError("This bow is no longer there.", "Choose another.")
        if chosen == self.bows(student_id)[-1]:
            return chosen
        book = self._store.hold
        book.drop_bow(chosen.id)
        kept = book.keep_bow(Bow(student_id, chosen.name, chosen.marks))

        def back() -> None:
            book.drop_bow(kept.id)
            book.keep_bow(chosen)

        def again() -> None:
            book.drop_bow(chosen.id)
            book.keep_bow(kept)

        self._undo.did("bow", back, again)
        return kept

    def mark(self, student_id: int, name: str, mm: float | None) -> Bow:
        """Where a mark is on the bow that is played, mm from the frog; None = it has none. Raises StudioError for a place off the stick."""
        if name not in MARKS or (mm is not None and not 0.0 < mm <= LONGEST_BOW_MM):
            raise StudioError(f"{name} at {mm or 0:g} mm from the frog cannot be.", f"From 1 to {LONGEST_BOW_MM:g} mm.")
        own = self.bow(student_id)
        marks = {k: v for k, v in own.marks.items() if k != name} | ({} if mm is None else {name: round(mm, 1)})
        return self._keep_bow(Bow(student_id, own.name, marks, own.id))

    def _keep_bow(self, bow: Bow) -> Bow:
        book, old = self._store.hold, next((b for b in self.bows(bow.student_id) if b.id == bow.id), None)
        kept = book.keep_bow(bow)
        self._undo.did("bow", lambda: book.keep_bow(old) if old is not None else book.drop_bow(kept.id), lambda: book.keep_bow(kept))
        return kept

    # what it comes to

    def findings(self, student_id: int, profile: Profile) -> list[Finding]:
        """What the newest pictures of the hand and the teacher's answers come to under a profile."""
        if not profile.judges("hold"):
            return []
        stills = self._store.hands.stills(student_id)
        hold = next((h for s in stills if s.role != "relaxed" and (h := s.answered) is not None), None)
        seen = [
            *hand_findings(newest_signs(stills, profile), profile), *wrist_findings(hold, profile), *gap_findings(hold, profile),
        ]  # fmt: skip
        answers = self.said(student_id)
        answered = [*answer_findings(answers, profile), *felt_findings(self.felt(student_id))]
        # the teacher's word stands before what a picture told of the same thing, until a newer picture
        pictured = max((s.taken_on for s in stills if s.role != "relaxed"), default=date.min)
        kinds = {f.kind for f in answered} | {
            kind for key, said in answers.items() if said.day >= pictured for kind in TOLD_OF.get(key, ())
        }
        return in_order([*answered, *(f for f in seen if f.kind not in kinds)])

    def prescriptions(self, student_id: int, profile: Profile) -> list[Prescription]:
        """Corrections with their drills for what the hold alone shows: no video is needed for them."""
        return prescriptions([JudgedFinding(f) for f in self.findings(student_id, profile)])

    def _day(self, student_id: int, day: date | None) -> date:
        when, since = day or date.today(), self._store.student(student_id).since
        if when > date.today():
            raise StudioError(f"{when:%d %B %Y} is still to come.", "Write down what was seen.")
        if when < since:
            raise StudioError(f"{when:%d %B %Y} is before this student began ({since:%d %B %Y}).", "Choose a later day.")
        return when

    def _keep(self, words: str, record: T, put: Callable[[T], T], take_back: Callable[[int], None]) -> T:
        kept = put(record)
        self._undo.did(words, lambda: take_back(kept.id), lambda: put(kept))
        return kept
