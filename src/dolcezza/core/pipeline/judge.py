"""From what was measured to findings: all rules together, in the order of work. Needs no video, so it can be done again at once."""

from __future__ import annotations

from collections.abc import Sequence

from dolcezza.core.assignment.exercise import Exercise, check, ready_made, told_by_strokes
from dolcezza.core.assignment.match import Match, match, recognise
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.catalogue import Group, entry
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rank import GROUPS, in_order
from dolcezza.core.findings.rules.arm import BodyReport, body_findings
from dolcezza.core.findings.rules.arm_school import arm_school_findings
from dolcezza.core.findings.rules.asked import asked_findings, asked_zones, not_asked_for
from dolcezza.core.findings.rules.bow import find
from dolcezza.core.findings.rules.printed import printed_findings
from dolcezza.core.findings.rules.setup import off_string, posture_findings
from dolcezza.core.findings.rules.tone import tone_findings
from dolcezza.core.findings.rules.use import use_findings
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.played.of_take import performance
from dolcezza.core.played.played import Performance
from dolcezza.core.score.score import NotationError
from dolcezza.core.sound.tuning import believed_cents
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.notes_in_bow import notes_in_bows
from dolcezza.core.tone.report import ToneReport


def asked_match(strokes: Sequence[Stroke], strings: str, wanted: Exercise | None, choices: Sequence[Exercise] = ()) -> Match | None:
    """The match with what was asked, or with what was surely recognised; None where neither is known."""
    if wanted is not None:
        try:
            check(wanted, strings)
        except ExerciseError:
            return None
        return match(wanted, strokes)
    guess = recognise([e for e in choices or ready_made(strings) if told_by_strokes(e)], strokes)
    return guess.match if guess is not None and guess.sure else None


def _performance(series: BowSeries, strokes: Sequence[Stroke], tone: ToneReport | None, matched: Match | None) -> Performance | None:
    """The take against the printed notes that were asked; None where there are none, or the take is not of them for certain."""
    printed = matched.exercise.printed if matched is not None else None
    if printed is None or printed.score is None:
        return None
    try:
        told = performance(printed.score, series, strokes, cents=believed_cents(tone.tuning if tone is not None else None))
    except NotationError:
        return None
    return told if told.sure else None


def judge(
    series: BowSeries, strokes: list[Stroke], body: BodyReport | None, tone: ToneReport | None, spec: InstrumentSpec, profile: Profile,
    matched: Match | None = None,
) -> list[Finding]:  # fmt: skip
    """All findings of a measured take, what to change first before the rest: in the profile's order of work, if it has one.

    Only what the profile's stage looks at, and how the bow was used where that was asked.
    """
    use = bow_use(series, strokes, matched=matched, hair_mm=spec.hair_length)["all"]
    found = find(strokes, spec, profile)
    if body is not None:
        found += body_findings(body, series, strokes, spec, profile) + posture_findings(body.posture, profile)
        found += arm_school_findings(series, strokes, profile)
    told = _performance(series, strokes, tone, matched)
    found += asked_findings(strokes, matched, notes_in_bows(series, strokes) if told is None else {})
    found += printed_findings(told, strokes) if told is not None else []
    found += use_findings(strokes, use, matched, profile) + off_string(series, strokes, matched, profile)
    if tone is not None and not tone.notes:
        found += tone_findings(strokes, tone, profile)
    judged = {g for g in Group if profile.judges(g) or (g is Group.BOW_USE and matched is not None)}
    zones = asked_zones(matched)
    return in_order([f for f in found if entry(f.kind).group in judged and not_asked_for(f, zones)], profile.order_of_work or GROUPS)
