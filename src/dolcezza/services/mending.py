"""The teacher's hand on what was measured: an end of the bow, a joint, a stroke. Only the neighbourhood is measured again; all can be
taken back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np

from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.job import Progress, Work
from dolcezza.core.bowing.series import as_measured
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.media.probe import TakeFile, probe
from dolcezza.core.strokes.edits import StrokeEdit
from dolcezza.core.strokes.figures import Stroke
from dolcezza.services.bench import Bench
from dolcezza.services.by_hand import REACH_S
from dolcezza.services.fitfile import SAME_MOMENT_S, ArmPoints, BowPoints, Fit, fit_to_dict
from dolcezza.services.followed import FollowedPins
from dolcezza.services.nearby import ARM_REACH_S, arm_again, bow_again, solved_again
from dolcezza.services.repinned import pins_again
from dolcezza.services.results import write_told
from dolcezza.services.teacher import Teacher
from dolcezza.services.telling import Told, filmed, tell
from dolcezza.services.undo import UndoStack
from dolcezza.storage.packed import read_packed, write_packed
from dolcezza.storage.records import JudgedFinding, StoredAnalysis, Take
from dolcezza.storage.studio import StudioStore

BENCH_FILE = "bench.npz"
JOINTS = ("shoulder", "elbow", "wrist")


@dataclass(frozen=True)
class Mend:
    """One thing to mend: ``what`` is pin, bow, arm, stroke, string or ease, at ``t_s`` (s); ``fit`` has it already, ``words`` name it.
    ``before``: of pins, the fit without them."""

    what: str
    t_s: float
    fit: Fit
    words: str
    before: Fit | None = None


@dataclass(frozen=True)
class Mended:
    """A take after mending: what is told now, and the bench for the next time."""

    mend: Mend
    told: Told
    bench: Bench


def bow_end(fit: Fit, t_s: float, end: str, xy: tuple[float, float] | None) -> Mend:
    """Set the ``frog`` or ``head`` end of the hair at ``t_s``, px of the upright picture; None = leave it to the program again."""
    here = next((p for p in fit.by_hand if abs(p.t_s - t_s) < SAME_MOMENT_S), BowPoints(float(t_s)))
    now = BowPoints(here.t_s, xy if end == "frog" else here.frog, xy if end == "head" else here.head)
    rest = [p for p in fit.by_hand if p is not here]
    points = [*rest, now] if now.frog or now.head else rest
    said = f"{end} of the bow {'set' if xy else 'let go'}"
    return Mend("bow", float(t_s), replace(fit, by_hand=tuple(sorted(points, key=lambda p: p.t_s))), said)


def let_bow_go(fit: Fit, t_s: float) -> Mend:
    """Forget what was set of the bow at ``t_s``."""
    rest = tuple(p for p in fit.by_hand if abs(p.t_s - t_s) >= SAME_MOMENT_S)
    return Mend("bow", float(t_s), replace(fit, by_hand=rest), "bow let go")


def joint(fit: Fit, t_s: float, places: dict[str, tuple[float, float] | None]) -> Mend:
    """Set joints of the bow arm at ``t_s``: shoulder, elbow, wrist, px of the upright picture; None = let go."""
    here = next((a for a in fit.arm if abs(a.t_s - t_s) < SAME_MOMENT_S), ArmPoints(float(t_s)))
    now = ArmPoints(here.t_s, *(places.get(j, getattr(here, j)) for j in JOINTS))
    rest = [a for a in fit.arm if a is not here]
    points = [*rest, now] if any(getattr(now, j) for j in JOINTS) else rest
    said = f"{' and '.join(places)} {'set' if any(places.values()) else 'let go'}"
    return Mend("arm", float(t_s), replace(fit, arm=tuple(sorted(points, key=lambda a: a.t_s))), said)


def stroke(fit: Fit, t_s: float, what: str, string: str = "") -> Mend:
    """Cut, join or drop a stroke, or say its string."""
    words = {"cut": "stroke cut", "join": "strokes joined", "drop": "stroke struck out", "string": f"string {string}"}[what]
    edits = (*fit.strokes, StrokeEdit(float(t_s), what, string))
    return Mend("string" if what == "string" else "stroke", float(t_s), replace(fit, strokes=edits), words)


def pins(fit: Fit, t_s: float, before: Fit) -> Mend:
    """The instrument was pinned at ``t_s``, or pinned otherwise than ``before``: ``fit`` has the pins already."""
    return Mend("pin", float(t_s), fit, "pins set", before)


def at_ease(fit: Fit, t_s: float | None) -> Mend:
    """The moment at which the player stands at ease, None = none."""
    return Mend("ease", t_s or 0.0, replace(fit, relaxed_s=t_s), "moment at ease" if t_s is not None else "moment at ease removed")


def measured_nearby(
    mend: Mend, take: Take, stored: StoredAnalysis, *, profile: Profile, exercise: Exercise | None, recognise: bool
) -> Work[Mended]:
    """Measure around the mended moment and tell the take anew. Raises StudioError when too little was kept for that."""
    yield Progress("measuring the neighbourhood", 0, 1)
    bench = read_packed(Bench, stored.folder / BENCH_FILE)
    if bench is None or len(bench.t_s) != len(stored.series):
        raise StudioError("This take was measured before such changes could be taken in.", "Measure it again: what you set counts then.")
    if bench.whole_bow and mend.what in ("bow", "pin"):
        raise StudioError("The whole bow of this take was followed, not its hair alone.", "Measure it again: what you set counts then.")
    file, fit = probe(take.path), replace(mend.fit, measured={**stored_measured(stored), **mend.fit.measured})
    width, scale = filmed(fit, file)
    own = as_measured(stored.series, width, scale=scale)
    window: tuple[float, float] | None = None
    if mend.what == "bow":
        window = (mend.t_s - REACH_S, mend.t_s + REACH_S)
        bench, own = bow_again(take.path, file, fit, bench, own, mend.t_s)
    elif mend.what == "pin":
        bench, own, window = pins_again(take.path, file, fit, mend.before or fit, bench, own, mend.t_s)
    elif mend.what == "arm":
        window = (mend.t_s - ARM_REACH_S, mend.t_s + ARM_REACH_S)
        bench, own = arm_again(file, fit, bench, own, mend.t_s)
    elif mend.what == "string":
        at = next((s for s in stored.strokes if s.start_s <= mend.t_s < s.end_s), None)
        middle, half = (0.5 * (at.start_s + at.end_s), 0.5 * at.seconds) if at is not None else (mend.t_s, 0.5)
        window = (middle - half, middle + half)
        own = solved_again(fit, bench, own, middle, half)
    told = tell(
        own, bench.heard, bench.arm, fit=fit, file=file, profile=profile, exercise=exercise, recognise=recognise, like=stored.strokes,
        window=window,
    )  # fmt: skip
    yield Progress("done", 1, 1)
    return Mended(mend, told, bench)


def stored_measured(stored: StoredAnalysis) -> dict[str, float]:
    """Dimensions that the measurement has used (the pins' own among them)."""
    return dict(stored.summary.get("fit", {}).get("measured", {}))


def followed_pins(stored: StoredAnalysis, fit: Fit, file: TakeFile) -> FollowedPins | None:
    """Where the instrument was followed to; None where that was not kept. Raises StudioError."""
    bench = read_packed(Bench, stored.folder / BENCH_FILE)
    if bench is None or not bench.keys_s or len(bench.t_s) != len(stored.series):
        return None
    return FollowedPins(bench, replace(fit, measured={**stored_measured(stored), **fit.measured}), file)


@dataclass(frozen=True)
class _Kept:
    """All that one state of a measured take consists of."""

    told: Told
    findings: list[JudgedFinding]
    summary: dict[str, Any]
    bench: Bench | None
    fit: Fit


class Mending:
    """Keeps what was mended; one undo step each. ``changed(take_id, fit)`` is called whenever another state counts."""

    def __init__(self, store: StudioStore, undo: UndoStack, teacher: Teacher) -> None:
        self._store, self._undo, self._teacher = store, undo, teacher
        self.changed: Callable[[int, Fit], None] = lambda _take, _fit: None

    def keep(self, take: Take, stored: StoredAnalysis, old_fit: Fit, mended: Mended) -> None:
        """Write a mended take in the place of the old state. Raises StudioError."""
        findings = self._teacher.carried(stored, take.student_id, stored.profile, mended.told.findings, renumbered(stored, mended.told))
        told = Told(stored.series, stored.strokes, [j.finding for j in stored.findings], stored.body, stored.tone)
        old = _Kept(told, stored.findings, stored.summary, read_packed(Bench, stored.folder / BENCH_FILE), old_fit)
        new = _Kept(mended.told, findings, _summary(stored, mended), mended.bench, mended.mend.fit)

        def put(state: _Kept) -> Callable[[], None]:
            return lambda: self._put(take.id, stored.id, stored.folder, state)

        put(new)()
        new = replace(new, findings=self._store.words.findings(stored.id))
        self._undo.did(mended.mend.words, put(old), put(new))

    def keep_fit(self, take_id: int, old: Fit, new: Fit, words: str) -> None:
        """Keep only what was set by hand, where a take is not measured or cannot be mended."""

        def put(fit: Fit) -> Callable[[], None]:
            def do() -> None:
                self._store.save_fit(take_id, fit_to_dict(fit), _now())
                self.changed(take_id, fit)

            return do

        put(new)()
        self._undo.did(words, put(old), put(new))

    def _put(self, take_id: int, analysis_id: int, folder: Path, state: _Kept) -> None:
        # first what fails when the measurement is gone: nothing of it is written again then
        self._store.replace_measured(analysis_id, state.told.strokes, state.summary)
        write_told(folder, state.told, state.summary)
        if state.bench is not None:
            write_packed(folder / BENCH_FILE, state.bench)
        self._store.words.replace_findings(analysis_id, state.findings)
        self._store.save_fit(take_id, fit_to_dict(state.fit), _now())
        self.changed(take_id, state.fit)


def _now() -> str:
    return datetime.now().isoformat(timespec="seconds")


def renumbered(stored: StoredAnalysis, told: Told) -> dict[int, int]:
    """Old stroke number to the number of the new stroke that covers most of it."""
    out = {}
    for old in stored.strokes:
        best = max(told.strokes, key=lambda s: _overlap(old, s), default=None)
        if best is not None and _overlap(old, best) > 0.5 * old.seconds:
            out[old.number] = best.number
    return out


def _overlap(a: Stroke, b: Stroke) -> float:
    return min(a.end_s, b.end_s) - max(a.start_s, b.start_s)


def _summary(stored: StoredAnalysis, mended: Mended) -> dict[str, Any]:
    told = mended.told
    fit = {**fit_to_dict(mended.mend.fit), "measured": stored_measured(stored)}
    if not fit["measured"]:
        del fit["measured"]
    return stored.summary | {
        "fit": fit, "strokes": len(told.strokes), "findings": len(told.findings),
        "frames_measured": int(np.isfinite(told.series["bow_angle_deg"]).sum()),
        "frames_with_arm": int(np.isfinite(told.series["elbow_level_deg"]).sum()),
    }  # fmt: skip
