"""The teacher's hand on what was measured: an end of the bow, a joint, a stroke. Only the neighbourhood is measured again; all can be
taken back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from pathlib import Path
from typing import Any

import numpy as np

from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.bowing.series import as_measured
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.media.probe import TakeFile, probe
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import USUAL_RATE_HZ, ArmPoints, BowPoints, Fit, fit_to_dict, same_frame
from dolcezza.core.pipeline.report import Report, report_on
from dolcezza.core.strokes.edits import EditKind, StrokeEdit
from dolcezza.core.strokes.figures import Stroke
from dolcezza.services.followed import TrackedLandmarks
from dolcezza.services.results import write_told
from dolcezza.services.review import Review
from dolcezza.services.undo import UndoStack
from dolcezza.storage.packed import CACHE_FILE, read_packed, write_packed
from dolcezza.storage.records import JudgedFinding, StoredAnalysis, Take
from dolcezza.storage.studio import StudioStore

JOINTS = ("shoulder", "elbow", "wrist")


class Kind(StrEnum):
    """What is put right."""

    LANDMARK = "landmark"
    BOW = "bow"
    ARM = "arm"
    STROKE = "stroke"
    STRING = "string"
    RELAXED = "relaxed"


@dataclass(frozen=True)
class Correction:
    """One correction: ``what`` at ``t_s`` (s); ``fit`` has it already, ``words``
    name it. ``before``: of landmarks, the fit without them."""

    what: Kind
    t_s: float
    fit: Fit
    words: str
    before: Fit | None = None


@dataclass(frozen=True)
class Corrected:
    """A take after corrections: what is told now, and the cache for the next time."""

    correction: Correction
    told: Report
    cache: MeasurementCache


def bow_end(fit: Fit, t_s: float, end: str, xy: tuple[float, float] | None, *, rate_hz: float = USUAL_RATE_HZ) -> Correction:
    """Set the ``frog`` or ``head`` end of the hair at ``t_s``, px of the upright picture; None = leave it to the program again."""
    here = next((p for p in fit.by_hand if same_frame(p.t_s, t_s, rate_hz)), BowPoints(float(t_s)))
    now = BowPoints(here.t_s, xy if end == "frog" else here.frog, xy if end == "head" else here.head)
    rest = [p for p in fit.by_hand if p is not here]
    points = [*rest, now] if now.frog or now.head else rest
    said = f"{end} of the bow {'set' if xy else 'left to the program'}"
    return Correction(Kind.BOW, float(t_s), replace(fit, by_hand=tuple(sorted(points, key=lambda p: p.t_s))), said)


def let_bow_go(fit: Fit, t_s: float, *, rate_hz: float = USUAL_RATE_HZ) -> Correction:
    """Forget what was set of the bow at ``t_s``."""
    rest = tuple(p for p in fit.by_hand if not same_frame(p.t_s, t_s, rate_hz))
    return Correction(Kind.BOW, float(t_s), replace(fit, by_hand=rest), "bow left to the program")


def joint(fit: Fit, t_s: float, places: dict[str, tuple[float, float] | None], *, rate_hz: float = USUAL_RATE_HZ) -> Correction:
    """Set joints of the bow arm at ``t_s``: shoulder, elbow, wrist, px of the upright picture; None = let go."""
    here = next((a for a in fit.arm if same_frame(a.t_s, t_s, rate_hz)), ArmPoints(float(t_s)))
    now = ArmPoints(here.t_s, *(places.get(j, getattr(here, j)) for j in JOINTS))
    rest = [a for a in fit.arm if a is not here]
    points = [*rest, now] if any(getattr(now, j) for j in JOINTS) else rest
    said = "joints set" if any(places.values()) else "joints reset"
    return Correction(Kind.ARM, float(t_s), replace(fit, arm=tuple(sorted(points, key=lambda a: a.t_s))), said)


def stroke(fit: Fit, t_s: float, what: EditKind, string: str = "") -> Correction:
    """Split, merge or delete a stroke, or say its string."""
    words = {"cut": "stroke split", "join": "strokes merged", "drop": "stroke deleted", "string": "string set"}[what]
    edits = (*fit.strokes, StrokeEdit(float(t_s), what, string))
    return Correction(Kind.STRING if what is EditKind.STRING else Kind.STROKE, float(t_s), replace(fit, strokes=edits), words)


def landmarks(fit: Fit, t_s: float, before: Fit) -> Correction:
    """The instrument was marked at ``t_s``, or marked otherwise than ``before``: ``fit`` has the landmarks already."""
    return Correction(Kind.LANDMARK, float(t_s), fit, "landmarks set", before)


def at_ease(fit: Fit, t_s: float | None) -> Correction:
    """The moment at which the player stands at ease, None = none."""
    return Correction(
        Kind.RELAXED, t_s or 0.0, replace(fit, relaxed_s=t_s), "relaxed reference" if t_s is not None else "relaxed reference removed"
    )


def measured_nearby(
    correction: Correction, take: Take, stored: StoredAnalysis, *, profile: Profile, exercise: Exercise | None, recognise: bool
) -> Work[Corrected]:
    """Measure around the mended moment and tell the take anew. Raises StudioError when too little was kept for that."""
    # loaded when something is put right, not when the desk opens
    from dolcezza.core.pipeline.local import ARM_REACH_S, arm_again, bow_again, solved_again
    from dolcezza.core.pipeline.manual import REACH_S
    from dolcezza.core.pipeline.recalibrate import landmarks_again

    yield Progress(Stage.AGAIN, 0, 1)
    cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    if cache is None or len(cache.t_s) != len(stored.series):
        raise StudioError(
            "This video was analysed by a version that could not take such changes in.", "Analyse it again: what you set counts then."
        )
    if correction.fit.zero and cache.zero is None:
        raise StudioError("The zero of this video was set in an earlier version.", "Analyse it again: what you set counts then.")
    if cache.whole_bow and correction.what in (Kind.BOW, Kind.LANDMARK):
        raise StudioError("The whole bow of this video was followed, not its hair alone.", "Analyse it again: what you set counts then.")
    fit = replace(correction.fit, measured={**stored_measured(stored), **correction.fit.measured})
    context = Context.of(take.path, probe(take.path), fit, cache.length_px)
    width, scale = context.as_filmed
    own = as_measured(stored.series, width, scale=scale)
    window: tuple[float, float] | None = None
    if correction.what is Kind.BOW:
        window = (correction.t_s - REACH_S, correction.t_s + REACH_S)
        cache, own = bow_again(context, cache, own, correction.t_s)
    elif correction.what is Kind.LANDMARK:
        cache, own, window = landmarks_again(context, correction.before or fit, cache, own, correction.t_s)
    elif correction.what is Kind.ARM:
        window = (correction.t_s - ARM_REACH_S, correction.t_s + ARM_REACH_S)
        cache, own = arm_again(context, cache, own, correction.t_s)
    elif correction.what is Kind.STRING:
        at = next((s for s in stored.strokes if s.start_s <= correction.t_s < s.end_s), None)
        middle, half = (0.5 * (at.start_s + at.end_s), 0.5 * at.seconds) if at is not None else (correction.t_s, 0.5)
        window = (middle - half, middle + half)
        own = solved_again(context, cache, own, middle, half)
    told = report_on(
        own, cache.heard, cache.arm, context, profile=profile, exercise=exercise, recognise=recognise, like=stored.strokes,
        window=window,
    )  # fmt: skip
    yield Progress(Stage.DONE, 1, 1)
    return Corrected(correction, told, cache)


def stored_measured(stored: StoredAnalysis) -> dict[str, float]:
    """Dimensions that the measurement has used (the landmarks' own among them)."""
    return dict(stored.summary.get("fit", {}).get("measured", {}))


def followed_landmarks(stored: StoredAnalysis, fit: Fit, file: TakeFile) -> TrackedLandmarks | None:
    """Where the instrument was followed to; None where that was not kept. Raises StudioError."""
    cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    if cache is None or not cache.keys_s or len(cache.t_s) != len(stored.series):
        return None
    known = replace(fit, measured={**stored_measured(stored), **fit.measured})
    return TrackedLandmarks(cache, Context.of(file.path, file, known, cache.length_px))


@dataclass(frozen=True)
class _Kept:
    """One state of a measured take: where its files lie, and what the database says of it. Files of a state are never changed; another
    state has another folder."""

    folder: Path
    strokes: list[Stroke]
    findings: list[JudgedFinding]
    summary: dict[str, Any]
    fit: Fit


class Corrections:
    """Keeps what was mended; one undo step each. ``changed(take_id, fit)`` is called whenever another state counts."""

    def __init__(self, store: StudioStore, undo: UndoStack, teacher: Review) -> None:
        self._store, self._undo, self._review = store, undo, teacher
        self.changed: Callable[[int, Fit], None] = lambda _take, _fit: None

    def keep(self, take: Take, stored: StoredAnalysis, old_fit: Fit, corrected: Corrected) -> None:
        """Write a mended take in the place of the old state. Raises StudioError."""
        findings = self._review.carried(
            stored, take.student_id, stored.profile, corrected.told.findings, renumbered(stored, corrected.told)
        )
        old = _Kept(stored.folder, stored.strokes, stored.findings, stored.summary, old_fit)
        folder, summary = self._store.new_folder(take.id), _summary(stored, corrected)
        write_told(folder, corrected.told, summary)
        if corrected.cache is not None:
            write_packed(folder / CACHE_FILE, corrected.cache)
        new = _Kept(folder, corrected.told.strokes, findings, summary, corrected.correction.fit)

        # the steps hold what they need and no more: they live as long as the desk is open
        take_id, analysis_id = take.id, stored.id

        def put(state: _Kept) -> Callable[[], None]:
            return lambda: self._put(take_id, analysis_id, state)

        put(new)()
        new = replace(new, findings=self._store.words.findings(stored.id))
        self._undo.did(corrected.correction.words, put(old), put(new))

    def keep_fit(self, take_id: int, old: Fit, new: Fit, words: str) -> None:
        """Keep only what was set by hand, where a take is not measured or cannot be corrected."""

        def put(fit: Fit) -> Callable[[], None]:
            def do() -> None:
                self._store.save_fit(take_id, fit_to_dict(fit), _now())
                self.changed(take_id, fit)

            return do

        put(new)()
        self._undo.did(words, put(old), put(new))

    def _put(self, take_id: int, analysis_id: int, state: _Kept) -> None:
        fit = fit_to_dict(state.fit)
        self._store.put_state(take_id, analysis_id, state.folder, state.strokes, state.summary, state.findings, fit, _now())
        self.changed(take_id, state.fit)


def _now() -> str:
    return datetime.now().isoformat(timespec="seconds")


def renumbered(stored: StoredAnalysis, told: Report) -> dict[int, int]:
    """Old stroke number to the number of the new stroke that covers most of it."""
    out = {}
    for old in stored.strokes:
        best = max(told.strokes, key=lambda s: _overlap(old, s), default=None)
        if best is not None and _overlap(old, best) > 0.5 * old.seconds:
            out[old.number] = best.number
    return out


def _overlap(a: Stroke, b: Stroke) -> float:
    return min(a.end_s, b.end_s) - max(a.start_s, b.start_s)


def _summary(stored: StoredAnalysis, corrected: Corrected) -> dict[str, Any]:
    told = corrected.told
    fit = {**fit_to_dict(corrected.correction.fit), "measured": stored_measured(stored)}
    if not fit["measured"]:
        del fit["measured"]
    return stored.summary | {
        "fit": fit, "strokes": len(told.strokes), "findings": len(told.findings),
        "frames_measured": int(np.isfinite(told.series["bow_angle_deg"]).sum()),
        "frames_with_arm": int(np.isfinite(told.series["elbow_level_deg"]).sum()),
    }  # fmt: skip
