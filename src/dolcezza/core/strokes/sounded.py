"""Stroke boundaries made finer by the sound: the tone dips where the bow turns and begins where it sets off.

The picture decides that there is a boundary; the sound only moves it, by a little, and only where it speaks clearly.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from statistics import mode

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import runs
from dolcezza.core.sound.level import STEP_S, Loudness
from dolcezza.core.strokes.segment import SHORT_REST_S, Span

SLOW_TURN_S = 0.25
"""A bow that seems to stand so long has only turned slowly if the tone dips no longer than a turn, in a room that does not ring."""
LONG_TURN_S, LONGEST_TURN_S, RISES_S = 0.3, 0.6, 0.03
"""In a room that rings, if the tone rises again so long (the last) before the bow seems to set off: behind a bow that stands, the echo only
falls. It has then turned if it rises so soon (the first); no bow that only turns seems to stand for longer than the second."""
REACH_S = 0.13
"""How far the sound may move a boundary."""
DOUBT_SHARE = 0.3
"""But by no more than this share of the shorter stroke, however badly the bow's place is known."""
FAR_S = 0.25
"""How far into the stroke its first tone may come when all before it is silence: the bow crept before it sounded."""
DIP = 0.45
"""A dip must fall to this share of the tone on both sides."""
SCRATCH_S = 0.2
"""Where the bow scratches as it turns, the tone dips before and after, no farther apart than so."""
ECHO = 0.25
"""In a room that rings, less than this share of the usual tone is the echo of the stroke before."""
HUSHED, SILENT = 1.5, 0.12
"""What is so many times louder than the stillest moment sounds; where this share of a tone is lost nothing tells where a slow bow,
which grows louder and softer for a second, begins or ends."""
QUIET = 0.06
"""Share of a stroke's level below which it has not begun."""
RINGS_ON_S = 0.3
"""A string that was let go rings on; for so long a bow that leaves it may be seen to move along it."""
RINGS_ON_DB_S = 30.0
"""A string or a room that rings falls at least so fast."""
LATEST_DIP_S, USUAL_DIP_S, DIP_SD_S, TOLD_SD_S = 0.08, 0.04, 0.03, 0.04
"""An echo delays the dips by so much at most, and usually; how much rooms differ, and how well one turn in the picture tells it (sd)."""
TURN_S = 0.03
"""How near to its dip a turn lies in a room that rings."""
FALLEN, FALLEN_S = 0.47, 0.05
"""Where the tone has fallen to this share (6.5 dB) for good the bow has just stopped (a strong echo held its tone up) or is about to (a
weak one follows its slowing): so long before or after."""
DIES_S, DIES = 0.1, 0.28
"""So soon after no more than this share is left, or it is no bow that stops but one that fades: echo falls by 60 dB in 0.4 to 1 s in a
furnished room (from memory)."""
NOTE_S, TURNING_S = 0.3, 0.06
"""The notes before and after a turn are told from so far to so near."""
LATE_PITCH_S, EARLY_PITCH_S = 0.13, 0.01
"""The next string's pitch is heard so long after the turn at most, through the echo of the string before, and no earlier than so."""
SLOW_S, SLOW_SHARE, ECHO_S = 3.0, 0.05, 0.05
"""Bows slower than this creep at their ends, over so much of their time; and what is left of their tone then rings on for so long."""
AWAY, THERE = 0.35, 0.8
"""Shares of a tone below which it has gone and from which it is there."""
BEFORE_TONE, AFTER_TONE = 1.2, (0.5, 0.2)
"""So many times as long as its tone comes, from the one to the other, a bow has been under way before, and as it falls, goes on after half
of it has gone; less, because some of what falls is echo even in a dry room, and most of it in one that rings."""
STOP_S, COMES_S, FALLS_S, STOP_NEAR_S = 0.22, 0.08, 0.2, 0.45
"""At a stop the tone is away for so long, comes so soon, and falls, its echo with it, so soon. Where a bow only turns, its speed growing
and falling as smoothly as it can, bows of 0.55 s and less have a shorter dip, and longer ones a slower rise. A stop begins and ends no
farther than the last from where the picture has the turn."""
STOOD_S, STOOD_WAY, STOOD_SD, STOOD_SEEN = 0.35, 0.03, 0.03, 0.8
"""A bow whose place is known so well (one sd, share of the hair) in most frames, and that goes no farther for so long, stands: somebody
else may play on."""
SHARP_S, SHARP = 0.12, 0.6
"""A start is clear in a room that rings if the tone reaches this share of itself so soon; out of silence, if it comes no later than so, the
bow has begun with what is heard of it first."""


def refine(
    spans: list[Span], loudness: Loudness | None, doubts_s: Sequence[float] = (), stood: Sequence[bool] = (),
    starts_s: Sequence[float] = (),
) -> list[Span]:  # fmt: skip
    """The same strokes with boundaries at the dips and onsets of the sound, where it has clear ones.

    In a room that rings an echo fills the dips, so that they come late, all by about as much, and a last tone dies away. ``doubts_s``: how
    far beside its place each turn between two strokes may lie by what is known of the bow's, as in ``turns_in_doubt``; ``starts_s``: how
    much later each stroke may begin, as in ``starts_in_doubt``.
    """
    if loudness is None or not len(loudness.t_s):
        return spans
    out = list(spans)
    tone = [_tone(s, loudness) for s in spans]
    dips = {
        k: dip
        for k, (a, b) in enumerate(pairwise(spans))
        if not (len(stood) and stood[k])
        and (near := _turns_near(loudness, a, b, tone[k])) is not None
        and (dip := _dip(loudness, near, min(tone[k], tone[k + 1]), max(REACH_S, doubts_s[k] if len(doubts_s) else 0.0))) is not None
    }
    stops = {k: stop for k, (a, b) in enumerate(pairwise(spans)) if (stop := _stop(loudness, a, b)) is not None}
    dips = {k: dip for k, dip in dips.items() if k not in stops}
    told = {k: 0.5 * (spans[k].end_s + spans[k + 1].start_s) for k in dips if spans[k + 1].start_s - spans[k].end_s < SHORT_REST_S}
    late = _late([dips[k] - turn for k, turn in told.items()]) if loudness.rings else 0.0
    for k, (ended, begun) in stops.items():
        out[k], out[k + 1] = replace(out[k], end_s=ended), replace(out[k + 1], start_s=begun)
    for k, span in enumerate(spans):
        joined_before = k > 0 and (span.start_s - spans[k - 1].end_s < SHORT_REST_S or k - 1 in dips or k - 1 in stops)
        joined_after = k + 1 < len(spans) and spans[k + 1].start_s - span.end_s < SHORT_REST_S
        if k in dips:
            turn = _near(0.5 * (span.end_s + spans[k + 1].start_s), dips[k] - late, TURN_S) if loudness.rings else dips[k]
            out[k], out[k + 1] = replace(out[k], end_s=turn), replace(out[k + 1], start_s=turn)
        elif not joined_after and k not in stops:
            until = spans[k + 1].start_s if k + 1 < len(spans) else np.inf
            end = _ended(loudness, span, tone[k], until) if loudness.rings else _edge(loudness, span.end_s, tone[k], first=False)
            out[k] = out[k] if end is None else replace(out[k], end_s=end)
        if not joined_before:
            later = starts_s[k] if len(starts_s) else 0.0
            start = _started(loudness, span, tone[k], later) if loudness.rings else _edge(loudness, span.start_s, tone[k], first=True)
            out[k] = out[k] if start is None else replace(out[k], start_s=start)
    return [new if new.end_s > new.start_s + 0.02 else old for new, old in zip(out, spans, strict=True)]


def _stop(loudness: Loudness, before: Span, after: Span) -> tuple[float, float] | None:
    """When (s) a bow stops and when it sets off again, where between two strokes the tone falls at once, stays away and comes at once, as
    no tone does at a turn; None where it does not."""
    turn = 0.5 * (before.end_s + after.start_s)
    levels = [loudness.between(s.start_s, s.end_s)[1] for s in (before, after)]
    tone = min(float(np.percentile(own, 90)) if len(own) else 0.0 for own in levels)
    t, level = loudness.between(max(turn - STOP_NEAR_S, before.start_s), min(turn + STOP_NEAR_S, after.end_s))
    if tone <= 0 or after.start_s - before.end_s > STOP_NEAR_S:
        return None
    low, high = level < AWAY * tone, np.flatnonzero(level >= THERE * tone)
    a, b = max(runs(low), key=lambda r: r[1] - r[0], default=(0, 0))
    first, last = high[high < a], high[high >= b]
    if b == a or t[b - 1] - t[a] < STOP_S or not len(first) or not len(last):
        return None
    falls, comes = float(t[a] - t[first[-1]]), float(t[last[0]] - t[b - 1])
    if falls > FALLS_S or comes > COMES_S:
        return None
    fallen = float(t[np.flatnonzero(level[:a] >= FALLEN * tone)[-1]])
    ended = fallen + AFTER_TONE[loudness.rings] * falls
    return ended, max(float(t[b]) - BEFORE_TONE * comes, ended + STEP_S)


def seen_to_stand(spans: list[Span], position: Array, sd: Array, t_s: Array) -> list[bool]:
    """Whether the bow is seen to stand between each two strokes: its ``position`` (n,) known well (``sd`` (n,)) and the same for
    longer than any bow takes to turn."""
    out = []
    for before, after in pairwise(spans):
        rest = (t_s > before.end_s) & (t_s < after.start_s)
        seen = rest & np.isfinite(position) & (sd <= STOOD_SD)
        still = seen.any() and float(np.ptp(position[seen])) <= STOOD_WAY and seen.sum() >= STOOD_SEEN * rest.sum()
        out.append(bool(after.start_s - before.end_s >= STOOD_S and still))
    return out


def turns_in_doubt(spans: list[Span], position: Array, sd: Array, t_s: Array) -> list[float]:
    """How far (s) beside its place each turn between two strokes may lie: for so long the bow's ``position`` (n,) differs from where it
    turns by no more than its ``sd`` (n,)."""
    out = []
    for before, after in pairwise(spans):
        turn = 0.5 * (before.end_s + after.start_s)
        most = DOUBT_SHARE * min(before.end_s - before.start_s, after.end_s - after.start_s)
        near = (np.abs(t_s - turn) <= most) & np.isfinite(position)
        if not near.any():
            out.append(0.0)
            continue
        farthest = float(position[near].max() if before.down else position[near].min())
        alike = t_s[near][np.abs(position[near] - farthest) <= sd[near]]
        out.append(float(np.abs(alike - turn).max()) if len(alike) else 0.0)
    return out


def starts_in_doubt(spans: list[Span], position: Array, sd: Array, t_s: Array) -> list[float]:
    """How much later (s) than it seems each stroke may begin: until then the bow has gone no farther than its ``position`` (n,) is known
    (``sd`` (n,))."""
    out = []
    for span in spans:
        near = (t_s >= span.start_s) & (t_s <= span.start_s + DOUBT_SHARE * (span.end_s - span.start_s)) & np.isfinite(position)
        way = np.abs(position[near] - position[near][0]) if near.any() else np.zeros(0)
        gone = np.flatnonzero(way > sd[near])
        out.append(float(t_s[near][gone[0]] - span.start_s) if len(gone) else 0.0)
    return out


def _turns_near(loudness: Loudness, before: Span, after: Span, tone: float) -> float | None:
    """About when a bow turns between two strokes; None where it stands. ``tone``: the level of the stroke before."""
    ended, begun = before.end_s, after.start_s
    if SHORT_REST_S <= begun - ended < LONGEST_TURN_S and loudness.rings and before.down is not after.down:
        t, level = loudness.between(ended, begun)
        if not len(t) or float(t[level.argmin()]) >= begun - RISES_S:
            return None
        # while it sounds it is bowed, seen or not, and from where its tone rises again
        loud = np.flatnonzero(level[: level.argmin()] >= FALLEN * tone)
        ended = max(ended, float(t[loud[-1]])) if len(loud) else ended
        return 0.5 * (ended + begun) if float(t[level.argmin()]) - ended < LONG_TURN_S else None
    longest = SHORT_REST_S if loudness.rings or before.down is after.down else SLOW_TURN_S
    return 0.5 * (ended + begun) if begun - ended < longest else None


def _late(after_turns: list[float]) -> float:
    """How late the dips come after the turns that the picture shows: what is common to them is the room's echo."""
    expected, told = DIP_SD_S**-2, len(after_turns) * TOLD_SD_S**-2
    middle = float(np.median(after_turns)) if after_turns else USUAL_DIP_S
    return float(np.clip((expected * USUAL_DIP_S + told * middle) / (expected + told), 0.0, LATEST_DIP_S))


def _near(told_s: float, heard_s: float, within_s: float) -> float:
    """What the picture told, but no farther than ``within_s`` from what was heard."""
    return float(np.clip(told_s, heard_s - within_s, heard_s + within_s))


def _started(loudness: Loudness, span: Span, tone: float, later_s: float) -> float | None:
    """In a room that rings: where a stroke begins after a rest, which may be ``later_s`` after the picture has it."""
    begun = _begun(loudness, span.start_s, tone, later_s)
    return begun if begun is not None else _creeping(loudness, span, tone, first=True)


def _ended(loudness: Loudness, span: Span, tone: float, until_s: float) -> float | None:
    """In a room that rings: where a stroke ends before a rest, and before the next stroke at ``until_s``."""
    fallen = _fallen(loudness, span, tone, until_s)
    return fallen if fallen is not None else _creeping(loudness, span, tone, first=False)


def _creeping(loudness: Loudness, span: Span, tone: float, *, first: bool) -> float | None:
    """The start or end of a slow bow, whose first and last way is too small to be seen: where its tone comes out of the silence of the room
    or is lost in it."""
    seconds = span.end_s - span.start_s
    reach = SLOW_SHARE * seconds
    t, level = loudness.between(*((span.start_s - reach, span.start_s + 0.02) if first else (span.end_s - 0.02, span.end_s + reach)))
    if seconds < SLOW_S or not len(level):
        return None
    # somewhere in a take it is stiller than beside this stroke
    silent = max(2.0 * float(np.percentile(loudness.level, 2)), HUSHED * float(level.min()))
    if silent > SILENT * tone:
        return None
    heard, breaks = np.flatnonzero(level > silent), np.flatnonzero(level <= silent)
    if len(heard) < 3 or not len(breaks):
        return None
    # on from the stroke, and back from it, as long as something sounds without a break
    if not first:
        return max(float(t[breaks[0] - 1]) - ECHO_S, span.end_s) if breaks[0] > 0 else None
    return min(float(t[breaks[-1] + 1]), span.start_s) if breaks[-1] + 1 < len(t) else None


def _fallen(loudness: Loudness, span: Span, tone: float, until_s: float) -> float | None:
    """In a room that rings: the stroke's end as the picture told it, but near the moment since which its tone has fallen for good."""
    t, level = loudness.between(max(span.start_s, span.end_s - FAR_S - REACH_S), min(span.end_s + FAR_S, until_s))
    loud = np.flatnonzero(level >= FALLEN * tone)
    if tone <= 0 or not len(loud) or loud[-1] + 1 >= len(t) or level[min(loud[-1] + round(DIES_S / STEP_S), len(t) - 1)] > DIES * tone:
        return None
    return _near(span.end_s, float(t[loud[-1]]), FALLEN_S)


def crossed(spans: list[Span], t_s: Array, pitch_hz: Array, strings: Sequence[str]) -> list[Span]:
    """The same strokes with the turns between two strings where they can be: what sounds on the next string has been bowed already, and not
    long ago. ``pitch_hz`` (n,) and ``strings`` (n,) at ``t_s`` (n,)."""
    out, name = list(spans), np.asarray(strings)
    for k, (a, b) in enumerate(pairwise(spans)):
        before, after = ((t_s > s.start_s) & (t_s < s.end_s) & (name != "") for s in (a, b))
        if (
            b.start_s - a.end_s >= SHORT_REST_S
            or not before.any()
            or not after.any()
            or mode(name[before].tolist()) == mode(name[after].tolist())
        ):
            continue
        turn = 0.5 * (a.end_s + b.start_s)
        heard = _changes(t_s, pitch_hz, turn, (a.end_s - NOTE_S, a.end_s - TURNING_S), (b.start_s + TURNING_S, b.start_s + NOTE_S))
        if heard is not None and (told := float(np.clip(turn, heard - LATE_PITCH_S, heard + EARLY_PITCH_S))) != turn:
            out[k], out[k + 1] = replace(out[k], end_s=told), replace(out[k + 1], start_s=told)
    return [new if new.end_s > new.start_s + 0.02 else old for new, old in zip(out, spans, strict=True)]


def _changes(t_s: Array, hz: Array, turn: float, before: tuple[float, float], after: tuple[float, float]) -> float | None:
    """Since when (s) the pitch about ``turn`` is that of the note after it for good; None where both sound alike, or one was not heard."""
    known = np.isfinite(hz)
    notes = []
    for low, high in (before, after):
        within = known & (t_s >= low) & (t_s <= high)
        if not within.any():
            return None
        notes.append(float(np.median(hz[within])))
    near = np.flatnonzero(known & (t_s > turn - NOTE_S) & (t_s < turn + NOTE_S))
    if abs(12 * np.log2(notes[1] / notes[0])) < 1.0 or not len(near):
        return None
    old = np.flatnonzero(np.abs(np.log(hz[near] / notes[0])) <= np.abs(np.log(hz[near] / notes[1])))
    return float(t_s[near[old[-1] + 1]]) if len(old) and old[-1] + 1 < len(near) else None


def sounding(spans: list[Span], loudness: Loudness | None) -> list[Span]:
    """The strokes without those in which nothing sounds although the others do (a bow set down, or shifting at rest), or in which what
    sounded before only dies away (a bow that leaves the string)."""
    if loudness is None or not len(loudness.t_s) or len(spans) < 2:
        return spans
    # an echo is loud where it begins and dies away: what a stroke sounds is told by its middle
    share, least = (50, ECHO) if loudness.rings else (95, QUIET)
    loudest = [float(np.percentile(level, share)) if len(level := loudness.between(s.start_s, s.end_s)[1]) else 0.0 for s in spans]
    usual = float(np.percentile(loudest, 75))
    return [s for s, level in zip(spans, loudest, strict=True) if level >= least * usual and not _rings_on(s, loudness)]


def _rings_on(span: Span, loudness: Loudness) -> bool:
    """Whether the level only falls in a short span and already fell before it: a stroke would have raised it from its turn."""
    seconds = span.end_s - span.start_s
    if seconds > RINGS_ON_S:
        return False
    edges = [span.start_s - REACH_S, *np.linspace(span.start_s, span.end_s, 4)]
    parts = [loudness.between(a, b)[1] for a, b in pairwise(edges)]
    if any(len(p) < 3 for p in parts):
        return False
    means = [float(p.mean()) for p in parts]
    fall_db = 20 * np.log10(max(means[1], 1e-9) / max(means[-1], 1e-9))
    return all(a > b for a, b in pairwise(means)) and fall_db > RINGS_ON_DB_S * seconds * 2 / 3


def _tone(span: Span, loudness: Loudness) -> float:
    _, level = loudness.between(span.start_s, span.end_s)
    return float(np.median(level)) if len(level) else 0.0


def _dip(loudness: Loudness, near_s: float, tone: float, reach_s: float = REACH_S) -> float | None:
    """Middle of the quiet moment within ``reach_s`` of ``near_s``, or None where the sound goes on."""
    t, level = loudness.between(near_s - reach_s, near_s + reach_s)
    if len(t) < 5 or tone <= 0 or level.min() > DIP * tone:
        return None
    bottom = t[level <= level.min() + 0.04 * tone]
    apart = float(bottom[-1] - bottom[0])
    if apart > SHORT_REST_S and (apart > SCRATCH_S or level[(t > bottom[0]) & (t < bottom[-1])].max() < DIP * tone):
        return None
    return float(0.5 * (bottom[0] + bottom[-1]))


def _edge(loudness: Loudness, near_s: float, tone: float, *, first: bool) -> float | None:
    """Where the tone comes out of silence (``first``) or goes back into it, near ``near_s``."""
    inwards = FAR_S if first else -FAR_S
    t, level = loudness.between(min(near_s - REACH_S, near_s + inwards), max(near_s + REACH_S, near_s + inwards))
    if len(t) < 5 or tone <= 0:
        return None
    order = slice(None) if first else slice(None, None, -1)
    quiet = level[order] < QUIET * tone
    if quiet.all() or not quiet[:3].all():
        return None
    return float(t[order][np.argmax(~quiet)])


def _begun(loudness: Loudness, near_s: float, tone: float, later_s: float) -> float | None:
    """In a room that rings: since when there is tone at the latest, where it rises sharply out of silence or an echo. Where the picture has
    the start before that, by no more than ``later_s``, the bow has begun with what is heard of it first."""
    t, rising = loudness.between(near_s - FAR_S, near_s + max(REACH_S, later_s) + SHARP_S)
    level = rising[t <= near_s + max(REACH_S, later_s)]
    quiet = level < ECHO * tone
    if len(level) < 5 or quiet.all() or not quiet[:3].all():
        return None
    at = int(np.flatnonzero(quiet)[-1]) + 1
    if at >= len(level) or rising[at : at + round(SHARP_S / STEP_S)].max() < SHARP * tone:
        return None
    first = int(np.flatnonzero(level[:at] < QUIET * tone)[-1]) + 1 if (level[:at] < QUIET * tone).any() else at
    if near_s < t[first] <= near_s + later_s:
        return float(t[first])
    return min(float(t[first if at - first <= round(SHARP_S / STEP_S) else at]), near_s)
