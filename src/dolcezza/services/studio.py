"""The teacher's studio: who plays, which takes there are, what was measured, what the teacher said."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
import platformdirs

from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.base.errors import MediaError, StudioError
from dolcezza.core.base.message import Message
from dolcezza.core.findings.profiles import Profile, default_profile
from dolcezza.core.instrument.catalog import InstrumentSpec, instrument
from dolcezza.core.media.probe import fingerprint, probe
from dolcezza.core.pipeline.fit_file import Fit, fit_from_dict, fit_to_dict
from dolcezza.core.practice.lessons import read_time
from dolcezza.services.archive import Archiving
from dolcezza.services.assignment import NOTHING, Assigned, against
from dolcezza.services.bow_marks import marks_of
from dolcezza.services.corrections import Corrections
from dolcezza.services.exercises import ExerciseShelf
from dolcezza.services.hold import HoldStill
from dolcezza.services.hold_building import HoldBuilding
from dolcezza.services.keeping import Keeping
from dolcezza.services.notation import NotationShelf, with_notes
from dolcezza.services.pairs import PairBook
from dolcezza.services.practice import Practice
from dolcezza.services.profiles import ProfileShelf
from dolcezza.services.results import summary, write_analysis
from dolcezza.services.review import Review, exercise_of
from dolcezza.services.schools import Schools
from dolcezza.services.undo import UndoStack
from dolcezza.storage.files import disk_faults
from dolcezza.storage.packed import CACHE_FILE, write_packed
from dolcezza.storage.records import Dated, HandStill, OwnedInstrument, StoredAnalysis, Student, Take, TakeStatus, Verdict
from dolcezza.storage.studio import StudioStore

if TYPE_CHECKING:
    from dolcezza.core.pipeline.measure import TakeAnalysis


def default_folder() -> Path:
    """The studio's usual place (XDG data directory)."""
    return Path(platformdirs.user_data_dir("dolcezza")) / "studio"


class SameVideo(StudioError):
    """The video is already in the studio, as ``take``."""

    def __init__(self, take: Take) -> None:
        self.take = take
        super().__init__(f"This video is already in the studio: '{take.title}'.", "Open that one, or choose another.")


class Studio:
    """Everything a user does with the studio, one call each. ``undo`` takes the teacher's words back."""

    def __init__(self, folder: Path | None = None) -> None:
        self.store = StudioStore(folder or default_folder())
        with suppress(StudioError):
            # a copy that cannot be made is no reason to keep the teacher out
            self.store.back_up(date.today())
        self.undo = UndoStack()
        self.shelf = ProfileShelf(self.store.folder / "profiles")
        self.exercises = ExerciseShelf(self.store.folder / "exercises")
        self.notation = NotationShelf(self.store.folder / "notation")
        self.pairs = PairBook(self.store.folder)
        self.review = Review(self.store, self.undo, self.notation)
        self.practice = Practice(self.store, self.undo)
        self.schools = Schools(self.store, self.shelf, self.undo, self.judge_student)
        self.building = HoldBuilding(self.store, self.undo)
        self.keeping = Keeping(self.store, self.undo)
        self.archiving = Archiving(self.store, self.shelf, self.exercises, self.notation, self.pairs)
        self.corrections = Corrections(self.store, self.undo, self.review)

    @property
    def folder(self) -> Path:
        """Where the studio lies."""
        return self.store.folder

    def sweep(self) -> None:
        """Clear what an interrupted edit, analysis or removal has left; for the one desk that is open, when it opens."""
        with suppress(OSError):
            self.store.sweep()

    def close(self) -> None:
        """Let go of the studio."""
        self.store.close()

    def students(self) -> list[Student]:
        """All students by name."""
        return self.store.students()

    def takes(self, student_id: int) -> list[TakeStatus]:
        """Takes of a student, newest first."""
        return self.store.takes(student_id)

    def _free_name(self, name: str, student_id: int = 0) -> str:
        name = name.strip()
        if not name:
            raise StudioError("The student has no name yet.", "Write a name.")
        if any(s.name.casefold() == name.casefold() and s.id != student_id for s in self.students()):
            raise StudioError(f"There is already a student called {name}.", "Add a second name to tell them apart.")
        return name

    def add_student(self, name: str, instrument_name: str, *, handed: str = "right", profile_name: str = "", note: str = "",
                    since: date | None = None) -> Student:  # fmt: skip
        """A new student with an instrument. Raises StudioError or InstrumentError."""
        name = self._free_name(name)
        spec = instrument(instrument_name)
        chosen = profile_name if profile_name in self.shelf.all() else default_profile(spec).name
        student = self.store.add_student(Student(name, handed, chosen, note, since or date.today()))
        self.store.add_instrument(OwnedInstrument(student.id, spec.name))
        self.store.hold.note(Dated(student.id, "profile", chosen, student.since))
        return student

    def change_student(self, student: Student, instrument_name: str, measured: dict[str, float]) -> Student:
        """Say something else of a student, their lesson and their instrument (``measured``: mm); can be undone.

        Another profile counts for their measured takes at once. Raises StudioError, InstrumentError or PracticeError.
        """
        new = replace(student, name=self._free_name(student.name, student.id))
        if new.lesson_day >= 0:
            at = read_time(new.lesson_time)
            new = replace(new, lesson_time=f"{at.hour}:{at.minute:02d}")
        instrument(instrument_name).with_measured(**measured)
        old = self.store.student(student.id)
        owned = self._instrument(student.id, instrument_name)
        if owned != self.store.instruments(student.id)[-1]:
            # the newest one is the one that is played
            owned = self.store.add_instrument(OwnedInstrument(student.id, owned.name, owned.measured))
        judged: list[Callable[[], object]] = []
        dated: list[Dated] = []

        def put() -> None:
            self.store.change_student(new)
            self.store.set_measured(owned.id, measured)
            if new.profile != old.profile:
                dated[:] = [self.store.hold.note(Dated(new.id, "profile", new.profile, date.today()))]
                judged[:] = self.judge_student(new.id)

        def back() -> None:
            self.store.change_student(old)
            self.store.set_measured(owned.id, owned.measured)
            for bring in judged:
                bring()
            for kept in dated:
                self.store.hold.unnote(kept.id)

        put()
        self.undo.did("student changed", back, put)
        return new

    def delete_student(self, student_id: int) -> None:
        """Remove a student with all takes and everything measured, for good: undo forgets too. Videos are the user's and stay."""
        self.store.delete_student(student_id)
        self.undo.clear()

    def add_take(self, student_id: int, video: Path, *, title: str = "", played_on: date | None = None,
                 instrument_name: str | None = None, mirrored: bool = False) -> Take:  # fmt: skip
        """Take a video into the studio; the file stays where it is.

        Raises MediaError for what is not a usable video and SameVideo when it is already there; a video that was moved
        is recognised by its content and found again at its new place.
        """
        video = Path(video).absolute()
        file = probe(video)
        if file.duration_s and file.duration_s < 0.2:
            raise MediaError(f"{video.name} is too short to hold a stroke.", "Choose a longer video.")
        mark = fingerprint(video)
        known = self.store.take_by_fingerprint(mark)
        if known is not None:
            if not known.path.exists():
                self.store.move_take(known.id, video)
                return self.store.take(known.id)
            raise SameVideo(known)
        owned = self._instrument(student_id, instrument_name)
        when = played_on or datetime.fromtimestamp(video.stat().st_mtime).date()
        return self.store.add_take(
            Take(
                student_id,
                owned.id,
                title.strip() or video.stem,
                when,
                video,
                mark,
                file.width,
                file.height,
                file.duration_s,
                mirrored,
            )
        )

    def _instrument(self, student_id: int, name: str | None) -> OwnedInstrument:
        owned = self.store.instruments(student_id)
        if name is None and owned:
            return owned[-1]
        wanted = instrument(name or "violin 4/4").name
        return next((o for o in reversed(owned) if o.name == wanted), None) or self.store.add_instrument(
            OwnedInstrument(student_id, wanted)
        )

    def find_video(self, take: Take, elsewhere: Path) -> Take:
        """The video was moved: take it at its new place. Raises StudioError when it is another video."""
        elsewhere = Path(elsewhere).absolute()
        if fingerprint(elsewhere) != take.fingerprint:
            raise StudioError(f"{elsewhere.name} is not the same video.", "Choose the file that was moved.")
        self.store.move_take(take.id, elsewhere)
        return self.store.take(take.id)

    def delete_take(self, take_id: int) -> None:
        """Remove a take and all that was measured from it, for good: undo forgets too. The video itself is the user's and stays."""
        self.store.delete_take(take_id)
        self.pairs.forget(take_id)
        self.undo.clear()

    def fit(self, take: Take) -> Fit:
        """The newest landmarks of a take, or a fit without landmarks to start from."""
        owned = self.store.instrument(take.instrument_id)
        handed = self.store.student(take.student_id).handed
        kept = self.store.latest_fit(take.id)
        if kept is not None:
            return fit_from_dict(kept[1])
        return Fit(owned.name, (), handed, take.mirrored, take.path.name, owned.measured)

    def save_fit(self, take: Take, fit: Fit) -> int:
        """Keep the landmarks of a take."""
        owned = self._instrument(take.student_id, fit.instrument)
        self.store.change_take(take.id, mirrored=fit.mirrored, instrument_id=owned.id)
        return self.store.save_fit(take.id, fit_to_dict(replace(fit, take=take.path.name)), _now())

    def second_phone(self, take: Take) -> tuple[Path, Fit] | None:
        """The video of the second phone that has filmed the same playing, and its landmarks; None where there is none, or no longer."""
        other = self.pairs.of(take.id)
        if not other:
            return None
        try:
            second = self.store.take(other)
            return (second.path, self.fit(second)) if second.path.exists() else None
        except StudioError:
            return None

    def join_phones(self, take: Take, second: int) -> None:
        """Say which take the second phone made of the same playing, 0 = none; with undo."""
        before = self.pairs.set(take.id, second)
        self.undo.did("second phone", lambda: self.pairs.set(take.id, before), lambda: self.pairs.set(take.id, second))

    def profile_of(self, take: Take, fit: Fit) -> Profile:
        """The student's profile if it is for this instrument, else the instrument's usual one; at the student's stage."""
        return self.schools.of(self.store.student(take.student_id), fit.spec)

    def spec_of(self, student_id: int) -> InstrumentSpec:
        """The instrument a student plays."""
        owned = self.store.instruments(student_id)
        return instrument(owned[-1].name).with_measured(**owned[-1].measured) if owned else instrument("violin 4/4")

    def judge_student(self, student_id: int) -> list[Callable[[], object]]:
        """Apply the rules again to all measured takes of a student. Returns how to bring back what was."""
        return [self.judge_again(status.take) for status in self.takes(student_id) if status.analysed]

    def save_analysis(self, take: Take, fit_id: int, analysis: TakeAnalysis) -> StoredAnalysis:
        """Keep an analysis: its open files first, then its record in one transaction."""
        self.store.take(take.id)  # a take that was deleted meanwhile leaves nothing behind
        folder = self.store.new_folder(take.id)
        write_analysis(analysis, folder)
        if analysis.cache is not None:
            write_packed(folder / CACHE_FILE, analysis.cache)
        self.store.save_analysis(
            take.id, fit_id, version=analysis.version, profile=analysis.profile.name, made_at=_now(), folder=folder,
            summary=summary(analysis), strokes=analysis.strokes, findings=analysis.findings,
        )  # fmt: skip
        stored = self.analysis(take)
        assert stored is not None
        kept = self.review.remembered(take.student_id, analysis.profile.name, analysis.findings)
        if any(j.verdict is not Verdict.OPEN for j in kept):
            self.store.words.replace_findings(stored.id, kept)
            stored = self.analysis(take)
            assert stored is not None
        return stored

    def judge_again(self, take: Take) -> Callable[[], object]:
        """Apply the rules again to a measured take: another exercise or profile counts at once. Returns how to bring back what was."""
        stored = self.analysis(take)
        if stored is None:
            return lambda: None
        fit = self.fit(take)
        old = self.review.judge_again(stored, take.student_id, fit.spec, self.profile_of(take, fit))
        return lambda: self.store.words.replace_findings(stored.id, old)

    def asked(self, take: Take) -> Exercise | None:
        """What was to be played, None = it is to be recognised."""
        wanted = exercise_of(self.store.assignments.of(take.id), self.marks(take.student_id))
        return with_notes(wanted, self.notation) if wanted is not None else None

    def marks(self, student_id: int) -> dict[str, float]:
        """Places marked on the student's bow, share of its hair by name."""
        return marks_of(self.store, student_id, self.spec_of(student_id).hair_length)

    def analysis(self, take: Take) -> StoredAnalysis | None:
        """The newest analysis of a take."""
        return self.store.latest_analysis(take.id)

    def copy_files(self, stored: StoredAnalysis, folder: Path) -> None:
        """Copy the open files of an analysis to another folder. Raises StudioError."""
        with disk_faults(folder):
            folder.mkdir(parents=True, exist_ok=True)
            for path in sorted(p for p in stored.folder.iterdir() if p.name != CACHE_FILE):
                shutil.copy2(path, folder / path.name)

    # assignments

    def assign(self, take_id: int, text: str) -> None:
        """Say what was to be played: an exercise's text, ``NOTHING``, or "" = recognise it. Can be undone. Raises ExerciseError."""
        if text not in ("", NOTHING):
            read_exercise(text, self.marks(self.store.take(take_id).student_id))
        old = self.store.assignments.of(take_id)

        restore: list[Callable[[], object]] = []

        def put() -> None:
            self.store.assignments.set(take_id, text)
            restore[:] = [self.judge_again(self.store.take(take_id))]

        def back() -> None:
            self.store.assignments.set(take_id, old)
            restore[0]()

        put()
        self.undo.did("assignment", back, put)

    def assigned(self, stored: StoredAnalysis, strings: str) -> Assigned:
        """A measured take against what was to be played. Raises ExerciseError."""
        text = self.store.assignments.of(stored.take_id)
        if text == NOTHING:
            return Assigned(None, Message("assigned.free playing"))
        wanted = read_exercise(text, self.marks(self.store.take(stored.take_id).student_id)) if text else None
        return against(stored.strokes, strings, wanted, list(self.exercises.all(strings).values()))

    # hands

    def keep_hand(self, student_id: int, role: str, path: Path, still: HoldStill, *, taken_on: date | None = None) -> HandStill:
        """Keep what was told of a still of the bow hand; the picture stays where it is."""
        points = None if still.points_px is None else np.round(still.points_px, 1).tolist()
        record = HandStill(student_id, role, taken_on or date.today(), Path(path).absolute(), points, still.hold, still.notes)
        kept = self.store.hands.add_still(record)
        self.undo.did("picture kept", lambda: self.store.hands.delete_still(kept.id), lambda: self.store.hands.add_still(kept))
        return kept

    def answer_hand(self, still: HandStill, answers: dict[str, str]) -> None:
        """The teacher's own word on a still; can be undone."""
        old = dict(still.answers)
        self.store.hands.answer(still.id, answers)
        self.undo.did("answer", lambda: self.store.hands.answer(still.id, old), lambda: self.store.hands.answer(still.id, answers))

    def mend_hand(self, still: HandStill, corrected: HoldStill, by_hand: list[int]) -> None:
        """Other points of a hand, some of them set ``by_hand``, and what they tell; can be undone."""
        points = None if corrected.points_px is None else np.round(corrected.points_px, 1).tolist()
        new = replace(still, points=points, hold=corrected.hold, notes=corrected.notes, by_hand=by_hand)
        self.store.hands.replace_still(new)
        self.undo.did("point set", lambda: self.store.hands.replace_still(still), lambda: self.store.hands.replace_still(new))

    def forget_hand(self, still: HandStill) -> None:
        """Forget a still of the hand; the picture itself stays where it is. Can be undone."""
        hands = self.store.hands
        hands.delete_still(still.id)
        self.undo.did("picture forgotten", lambda: hands.add_still(still), lambda: hands.delete_still(still.id))


def _now() -> str:
    return datetime.now().isoformat(timespec="seconds")
