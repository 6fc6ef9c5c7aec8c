"""The teacher's word on what was found: accept, dismiss (for now or for good), reword, add; judge again without measuring."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date

from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.pipeline.judge import asked_match, judge
from dolcezza.services.assignment import NOTHING
from dolcezza.services.bow_marks import marks_of
from dolcezza.services.notation import NotationShelf, with_notes
from dolcezza.services.undo import UndoStack
from dolcezza.storage.records import Dismissal, JudgedFinding, Remark, StoredAnalysis, Verdict
from dolcezza.storage.studio import StudioStore

FOR_GOOD = "not raised for this student any more"
VERDICT_WORDS = {"accepted": "finding accepted", "dismissed": "finding dismissed", "open": "finding reopened"}


def exercise_of(text: str, marks: Mapping[str, float] | None = None) -> Exercise | None:
    """The exercise in an assignment's text, with the student's own ``marks`` (share of the hair); None where it is to be recognised, or
    nothing was asked."""
    return read_exercise(text, marks) if text not in ("", NOTHING) else None


class Review:
    """What the teacher says of findings. Everything can be undone."""

    def __init__(self, store: StudioStore, undo: UndoStack, notation: NotationShelf) -> None:
        self._store, self._undo, self._notation = store, undo, notation

    def judge(self, judged: JudgedFinding, verdict: str, reason: str = "") -> None:
        """Accept, dismiss or reopen a finding. Raises StudioError when another window has meanwhile said something else."""
        self._store.words.unchanged(judged)
        self._store.judge(judged.id, verdict, reason)
        self._undo.did(
            VERDICT_WORDS[verdict], lambda: self._store.judge(judged.id, judged.verdict, judged.reason),
            lambda: self._store.judge(judged.id, verdict, reason),
        )  # fmt: skip

    def reword(self, judged: JudgedFinding, wording: str) -> None:
        """Say a finding in the teacher's own words; "" gives the program's words back."""
        words = self._store.words
        words.unchanged(judged)
        words.reword(judged.id, wording.strip())
        self._undo.did("other words", lambda: words.reword(judged.id, judged.wording), lambda: words.reword(judged.id, wording.strip()))

    def remark(self, take_id: int, t_s: float, text: str, *, said_on: date | None = None) -> Remark | None:
        """Add a finding of the teacher's own, tied to a moment; nothing for an empty text."""
        if not text.strip():
            return None
        words = self._store.words
        kept = words.add_remark(Remark(take_id, t_s, text.strip(), said_on or date.today()))
        self._undo.did("remark added", lambda: words.delete_remark(kept.id), lambda: words.add_remark(kept))
        return kept

    def take_back(self, remark: Remark) -> None:
        """Remove a remark."""
        words = self._store.words
        words.delete_remark(remark.id)
        self._undo.did("remark removed", lambda: words.add_remark(remark), lambda: words.delete_remark(remark.id))

    def dismiss_for_good(self, stored: StoredAnalysis, judged: JudgedFinding, student_id: int, reason: str = "") -> str:
        """Dismiss a finding here and whenever it comes again for this student under this profile.

        Returns a sentence that offers to move the limit instead, where there is one.
        """
        words, finding = self._store.words, judged.finding
        words.unchanged(judged)
        self._store.judge(judged.id, "dismissed", reason or FOR_GOOD)
        kept = words.dismiss(Dismissal(student_id, stored.profile, finding.kind, finding.cause, reason, finding.value, date.today()))

        def back() -> None:
            words.raise_again(kept.id)
            self._store.judge(judged.id, judged.verdict, judged.reason)

        def again() -> None:
            words.dismiss(kept)
            self._store.judge(judged.id, "dismissed", reason or FOR_GOOD)

        self._undo.did("finding dismissed for good", back, again)
        if finding.unit in ("deg", "mm") and abs(finding.value) > abs(finding.limit):
            return (
                f"Or move the limit: it is {abs(finding.limit):.0f} {finding.unit}, here it was {abs(finding.value):.0f}. "
                "Change it on the profile page (Ctrl+P)."
            )
        return ""

    def remembered(self, student_id: int, profile: str, findings: list[Finding]) -> list[JudgedFinding]:
        """New findings with what was dismissed for good already dismissed; a clearly larger value is raised again."""
        known = {(d.kind, d.cause): d for d in self._store.words.dismissals(student_id, profile)}
        out = []
        for f in findings:
            d = known.get((f.kind, f.cause))
            grown = d is not None and abs(f.value) - abs(d.value) > 2 * f.sd and abs(f.value) > abs(f.limit)
            gone = d is not None and not grown
            out.append(
                JudgedFinding(f, Verdict.DISMISSED if gone else Verdict.OPEN, (d.reason or FOR_GOOD) if d is not None and gone else "")
            )
        return out

    def judge_again(self, stored: StoredAnalysis, student_id: int, spec: InstrumentSpec, profile: Profile) -> list[JudgedFinding]:
        """Apply the rules again to what was measured (another exercise, another profile); the teacher's words stay. Returns the findings
        as they were."""
        wanted = exercise_of(self._store.assignments.of(stored.take_id), marks_of(self._store, student_id, spec.hair_length))
        wanted = with_notes(wanted, self._notation) if wanted is not None else None
        nothing = self._store.assignments.of(stored.take_id) == NOTHING
        matched = None if nothing else asked_match(stored.strokes, spec.strings, wanted)
        found = judge(stored.series, stored.strokes, stored.body, stored.tone, spec, profile, matched)
        return self._store.words.replace_findings(stored.id, self.carried(stored, student_id, profile.name, found))

    def carried(
        self, stored: StoredAnalysis, student_id: int, profile: str, found: list[Finding], numbers: dict[int, int] | None = None
    ) -> list[JudgedFinding]:  # fmt: skip
        """New findings with what was said of the same ones before; ``numbers``: old stroke number to new, where they have changed."""
        said = {}
        for j in stored.findings:
            strokes = tuple(numbers.get(n, n) for n in j.finding.strokes) if numbers is not None else j.finding.strokes
            said[(j.finding.kind, j.finding.cause, strokes)] = j
        new = []
        for j in self.remembered(student_id, profile, found):
            old = said.get((j.finding.kind, j.finding.cause, j.finding.strokes))
            if old is not None:
                j = replace(j, id=old.id, wording=old.wording)
                j = j if old.verdict is Verdict.OPEN else replace(j, verdict=old.verdict, reason=old.reason)
            new.append(j)
        return new
