"""Pictures for the lesson view: the moment that shows the one thing, and where there is an earlier take of the same task, before it."""

from __future__ import annotations

import numpy as np

from dolcezza.core.practice.tasks import task_of
from dolcezza.reports.language import Language
from dolcezza.reports.pages import common_place, moment_at, still_of, worst_moment
from dolcezza.services.studio import Studio
from dolcezza.storage.records import StoredAnalysis, Take

TIP = 0.9
"""Place on the bow that is shown where no finding says another."""


def earlier_take(studio: Studio, take: Take, stored: StoredAnalysis) -> tuple[Take, StoredAnalysis] | None:
    """The first measured take of the same student and task (the same strings) before this one."""
    for status in reversed(studio.takes(take.student_id)):
        if not status.analysed or status.take.id == take.id or status.take.played_on >= take.played_on:
            continue
        other = studio.analysis(status.take)
        if other is not None and task_of(other.strokes) == task_of(stored.strokes):
            return status.take, other
    return None


def lesson_pictures(studio: Studio, take: Take, stored: StoredAnalysis, words: Language) -> list[tuple[bytes | None, str]]:
    """One or two pictures (JPEG bytes or None) with a few words: before and now at the same place on the bow, or now alone."""
    moment = worst_moment(stored.findings)
    before = earlier_take(studio, take, stored)
    string, place = (stored.strokes[0].string, TIP) if stored.strokes else ("", TIP)
    if moment is not None:
        k = int(np.argmin(np.abs(stored.series.t - moment)))
        string, at = stored.series.strings[k] or string, float(stored.series["bow_position"][k])
        place = at if np.isfinite(at) else place
    if before is None:
        still = still_of(take, stored, moment if moment is not None else float(stored.series.t[len(stored.series) // 2]), words, faces=True)
        return [(still.jpeg if still is not None else None, words.day(take.played_on, "%d %B"))]
    both = common_place([before[1], stored], string, place)
    out: list[tuple[bytes | None, str]] = []
    for when, (t, a) in (("before", before), ("now", (take, stored))):
        at_s = moment_at(a, string, both) if both is not None else None
        still = still_of(t, a, at_s, words, faces=True) if at_s is not None else None
        out.append((still.jpeg if still is not None else None, f"{words.word(when)}, {words.day(t.played_on, '%d %B')}"))
    return out
