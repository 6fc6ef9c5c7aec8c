"""What a teacher chooses for a student: a profile and its single choices, and the stage; each dated, each can be undone."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.findings.choices import Stage, choices, next_stage
from dolcezza.core.findings.profiles import PROFILES, Profile, Wish, default_profile, profile_from_dict
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.services.profiles import ProfileShelf
from dolcezza.services.undo import UndoStack
from dolcezza.storage.records import Dated, Student
from dolcezza.storage.studio import StudioStore

Judge = Callable[[int], Sequence[Callable[[], object]]]
"""Applies the rules again to a student's measured takes; returns how to bring back what was."""


class Schools:
    """Profiles of students. ``judge`` applies the rules again to a student's takes."""

    def __init__(self, store: StudioStore, shelf: ProfileShelf, undo: UndoStack, judge: Judge) -> None:
        self._store, self._shelf, self._undo, self._judge = store, shelf, undo, judge

    def of(self, student: Student, spec: InstrumentSpec) -> Profile:
        """What counts for a student on an instrument: the student's profile if it is for this family, else the usual one; at the student's
        own stage."""
        chosen = self._shelf.all().get(student.profile, default_profile(spec))
        chosen = chosen if spec.family in chosen.families else default_profile(spec)
        stage = self.stage_since(student.id)
        return chosen if stage is None else replace(chosen, chosen={**chosen.chosen, "stage": Wish(stage.value, "")})

    def stage_since(self, student_id: int) -> Dated | None:
        """The student's own stage and since when; None where the profile's counts."""
        kept = [d for d in self._store.hold.dated(student_id, "stage") if d.value in tuple(Stage)]
        return kept[-1] if kept else None

    def history(self, student_id: int) -> list[Dated]:
        """Which profiles and stages counted since when, oldest first."""
        rows = [*self._store.hold.dated(student_id, "profile"), *self._store.hold.dated(student_id, "stage")]
        return sorted(rows, key=lambda d: (d.since, d.id))

    def users(self, name: str) -> list[Student]:
        """Students to whom a profile applies."""
        return [s for s in self._store.students() if s.profile == name]

    # what is chosen

    def use(self, student_id: int, name: str, *, since: date | None = None) -> None:
        """Another profile counts from now on. Raises InstrumentError."""
        self._shelf.get(name)
        self._do("other profile", [student_id], self._profile_step(student_id, name, since))

    def set_stage(self, student_id: int, stage: Stage, *, since: date | None = None) -> None:
        """The student is at another stage from now on."""
        kept: list[Dated] = []

        def put() -> None:
            kept[:] = [self._store.hold.note(Dated(student_id, "stage", stage, since or date.today()))]

        self._do("stage", [student_id], (put, lambda: self._store.hold.unnote(kept[0].id)))

    def next_stage(self, student_id: int, spec: InstrumentSpec) -> Stage | None:
        """Move a student on by one stage; None where there is none after it."""
        following = next_stage(self.of(self._store.student(student_id), spec).stage)
        if following is not None:
            self.set_stage(student_id, following)
        return following

    def choose(self, student_id: int, spec: InstrumentSpec, key: str, option: str) -> str:
        """Decide one thing for a student. Returns the name of the profile that was changed.

        Raises InstrumentError, also for what contradicts another choice.
        """
        if key == "stage":
            self.set_stage(student_id, Stage(option))
            return self._store.student(student_id).profile
        reason = choices()[key].option(option).reason

        def change(data: dict[str, Any]) -> None:
            data["choices"] = {**data.get("choices", {}), key: {"want": option, "reason": reason}}

        return self.change(student_id, spec, change)

    def set_lane(self, student_id: int, spec: InstrumentSpec, **lane: Any) -> str:
        """Another contact lane: any of the lane's entries in a profile's file. Raises InstrumentError."""
        return self.change(student_id, spec, lambda data: data.update(lane={**data["lane"], **lane}))

    def set_order(self, student_id: int, spec: InstrumentSpec, order: str) -> str:
        """Strings from the lowest elbow to the highest for this family; "" = not agreed, not judged. Raises InstrumentError."""
        if order and sorted(order) != sorted(spec.strings):
            raise InstrumentError(f"'{order}' is no order of these strings.", f"Name each once, the lowest elbow first: {spec.strings}.")

        def change(data: dict[str, Any]) -> None:
            stairs = data["staircase"]
            data["staircase"] = {**stairs, "order": {**stairs["order"], spec.family: order}}

        return self.change(student_id, spec, change)

    def set_angle_limit(self, student_id: int, spec: InstrumentSpec, degrees: float) -> str:
        """A bow up to so many degrees off is not remarked on. Raises InstrumentError."""
        if not 1.0 <= degrees <= 30.0:
            raise InstrumentError(f"A limit of {degrees:g} degrees cannot be.", "From 1 to 30 degrees.")
        return self.change(student_id, spec, lambda data: data.update(angle_limit_deg={**data["angle_limit_deg"], "value": degrees}))

    def rename(self, student_id: int, spec: InstrumentSpec, name: str) -> str:
        """Give an own profile another name; a ready-made one is copied under it. Raises InstrumentError."""
        name = name.strip()
        if not name or name in self._shelf.all():
            raise InstrumentError(f"'{name}' cannot be the name of a profile.", "Choose a name that is not there yet.")
        return self.change(student_id, spec, lambda data: data.update(name=name), name=name)

    def change(
        self, student_id: int, spec: InstrumentSpec, change: Callable[[dict[str, Any]], None], *, name: str = ""
    ) -> str:  # fmt: skip
        """Change the profile that counts for a student; a ready-made one stays as it is, and the student gets a copy.

        It counts at once for every student who uses it. Returns its name. Raises InstrumentError for what cannot be; nothing is then
        changed.
        """
        student = self._store.student(student_id)
        own = self.of(student, spec).name
        data = self._shelf.data(own)
        ready = own in PROFILES
        new_name = name or (self._shelf.free_name(f"{own}, changed") if ready else own)
        before = None if ready else dict(data)
        after = {**data, "name": new_name}
        change(after)
        profile_from_dict(after)
        moved = [student_id] if ready else [s.id for s in self.users(own)] if new_name != own else []
        steps = [self._profile_step(i, new_name, None, carry=True) for i in moved]

        def put() -> None:
            self._shelf.keep(after)
            if before is not None and new_name != own:
                self._shelf.remove(own)
            for step, _ in steps:
                step()

        def back() -> None:
            if before is not None:
                self._shelf.keep(before)
            if before is None or new_name != own:
                self._shelf.remove(new_name)
            for _, step in steps:
                step()

        self._do("profile changed", [student_id] if ready else [s.id for s in self.users(own)] or [student_id], (put, back))
        return new_name

    def _profile_step(
        self, student_id: int, name: str, since: date | None, *, carry: bool = False
    ) -> tuple[Callable[[], None], Callable[[], None]]:
        old = self._store.student(student_id).profile
        kept: list[Dated] = []
        carried: list[int] = []

        def put() -> None:
            self._store.set_profile(student_id, name)
            kept[:] = [self._store.hold.note(Dated(student_id, "profile", name, since or date.today()))]
            if carry:
                # what was dismissed for good stays dismissed under a copy
                gone = self._store.words.dismissals(student_id, old)
                carried[:] = [self._store.words.dismiss(replace(d, profile=name, id=0)).id for d in gone]

        def back() -> None:
            self._store.set_profile(student_id, old)
            self._store.hold.unnote(kept[0].id)
            for k in carried:
                self._store.words.raise_again(k)

        return put, back

    def _do(self, words: str, students: Sequence[int], step: tuple[Callable[[], None], Callable[[], object]]) -> None:
        """Do one step, judge the students' takes again, and offer it to undo."""
        put, back = step
        restore: list[Callable[[], object]] = []

        def forth() -> None:
            put()
            restore[:] = [r for i in students for r in self._judge(i)]

        def undo() -> None:
            back()
            for bring in restore:
                bring()

        forth()
        self._undo.did(words, undo, forth)
