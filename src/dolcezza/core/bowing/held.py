"""Which end of the hair was lost, where the hair that is seen is too short: the hand holds the frog, and is seen by itself.

A wall as bright as hair, or the left hand before the bow, ends what is seen of the hair before the head does; fingers, cloth or a
bright floor begin it after the frog. The knuckles of the bow hand lie beside the frog whoever plays.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import runs, stays
from dolcezza.core.body.points import ARMS, LEAST_VISIBLE, BodySeen
from dolcezza.core.bowing.in_picture import SETTLED_S, HairInPicture
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.core.tracking.end_path import best_path

KNUCKLES = {"right": (18, 20, 22), "left": (17, 19, 21)}
"""Little finger, index and thumb of each hand among the body's points."""
BESIDE_MM, HOLD_SD_MM, LOOK_SD_MM = -14.0, 18.0, 20.0
"""The middle of the knuckles lies so far behind the hair's beginning (mm along the bow), which differs so much from hold to hold, and is
missed by so much in a look. Proportions of a hand on a frog of 48 mm, from memory; looks as on rendered takes."""
BEFORE_MM = 20.0
"""And so far (mm, one sd) before or behind the hair, seen from the camera: where the bow points at the camera, that is along it."""
ACROSS_MM = 180.0
"""How far the knuckles may lie beside the hair. A hand elsewhere is the other hand, or nobody's."""
STAYS_MM = 80.0
"""A left hand stays where it is to so much, fingers, shifts and looks together (mm, tenth to ninetieth percentile), from memory."""
COVERED, MOST_COVERED = 0.04, 0.1
"""About so much of the hair (share) fingers cover at the frog (exponential), and hardly more than so much. A hand is about as wide as
that: where the bow points half at the camera (45 degrees) it covers twice as much."""
OFTEN_LOST, SELDOM_BEYOND = 0.08, 0.005
"""In so many frames (share) the head's end is lost, before anything is known of them: it is then seen anywhere before it, or, seldom,
beyond."""
STANDS_PX, GOES_PX = 6.0, 12.0
"""A head that stays within so many px (of a picture 1280 wide) while the frog goes so far is an edge in the room that the bow passes."""
HAND_GOES = 1.5
"""And a hand that goes so many times as far (of the sd of its look) goes, too."""
STANDING_LOST, STANDING_BEYOND = 0.9, 0.3
"""So often (share) the head's end is lost where it stands so: an edge that the bow passes ends the hair before the head, or, less often,
beyond it, where what is as dark or as bright goes on in the bow's line."""
FROG_ELSEWHERE, HAND_ELSEWHERE = 0.05, 0.04
"""So often what is taken for the hair's beginning is something else, and the hand somebody else's, or as often as a look at the body is
in doubt of it."""
END_SD = 0.02
"""How well an end that is seen says where the bow is (share of the hair): its length in the picture is known to some per cent."""
SLANT_SD = 0.05
"""And where the bow points at the camera, how long it is there depends on how instrument and bow are turned (rad, before the take is
fitted as a whole)."""
STEP = 0.01
PLACES = np.arange(-0.04, 1.05, STEP)
"""Places of the bow that are weighed (share of the hair before the string)."""
BOWS_PER_S, LEAP_COST = 1.2, 10.0
"""How fast bows are drawn (one sd, lengths of hair a second), and what a leap to anywhere costs: taken off and set down again."""
FEWEST_LOOKS = 4
LONGEST_S = 0.35
"""A hand is carried on for so long between two looks."""
ALIKE = 0.3
"""Neighbouring frames err alike, by the same wall, the same fingers, the same look: each counts for so much of a frame."""
CONTRADICT = 3.0
"""Frog and hand that are so many sd apart contradict each other."""
FAR_BEYOND = 0.12
"""A head that is seen so much farther on (share of the hair) than hand, frog and movement have it, and for a while, is something else: the
edge of a wall that goes on in the bow's line. By less, a string may have been told too early or late."""
BELIEVED = 2.5
"""An end is believed that says the same as all together to so many sd."""


@dataclass(frozen=True)
class HeldFrog:
    """How much of the hair lies behind the string by the hand: ``place`` (n,), a share, NaN = the hand is not seen; ``sd`` (n,) how well,
    all frames of ``frames`` around a look alike; ``elsewhere`` (n,): how likely that is not the hand at all."""

    place: Array
    sd: Array
    elsewhere: Array
    frames: float = 1.0


def held_frog(lines: BowLines, hair: HairInPicture, body: BodySeen, t_s: Array) -> HeldFrog | None:
    """Say by the bow hand where the frog is in each frame at ``t_s`` (n,) s; None where no hand keeps to it."""
    px_mm, hair_mm = hair.px_mm, hair.hair_mm
    normal = np.stack([-lines.direction[:, 1], lines.direction[:, 0]], axis=-1)
    best: tuple[float, Array, Array] | None = None
    frog_mm = hair.share(lines.frog) * hair_mm
    unseen = not np.isfinite(frog_mm).any()
    for side, points in KNUCKLES.items():
        seen = body.found & (body.visible[:, ARMS[side][2]] >= LEAST_VISIBLE)
        if seen.sum() < FEWEST_LOOKS:
            continue
        hand = body.points[seen][:, points].mean(axis=1)
        place = np.column_stack([np.interp(t_s, body.t_s[seen], hand[:, k]) for k in range(2)]) - lines.point
        along, across = hair.share((place * lines.direction).sum(axis=1)) * hair_mm, (place * normal).sum(axis=1) / px_mm
        near = np.abs(t_s[:, None] - body.t_s[seen]).min(axis=1) <= LONGEST_S
        near &= (np.abs(across) < ACROSS_MM) & (along - BESIDE_MM < 0.1 * hair_mm)
        # where the frog is never seen, the bow's hand is the one that goes to and fro behind the strings
        apart = np.abs(along - BESIDE_MM - frog_mm) if not unseen else np.full(len(along), -_goes(along[near]))
        if not (near & np.isfinite(apart)).any():
            continue
        off = float(np.median(apart[near & np.isfinite(apart)]))
        if best is None or off < best[0]:
            doubt = 1 - np.interp(t_s, body.t_s[seen], body.visible[seen][:, points].mean(axis=1))
            best = off, np.where(near, along - BESIDE_MM, np.nan), np.clip(doubt, HAND_ELSEWHERE, 0.5)
    if best is None:
        return None
    frames = float(np.median(np.diff(body.t_s)) / np.median(np.diff(t_s)))
    sd_mm = np.sqrt(HOLD_SD_MM**2 + LOOK_SD_MM**2 * (1 + hair.slant**2) + (BEFORE_MM * hair.slant) ** 2)
    return HeldFrog(-best[1] / hair_mm, sd_mm / hair_mm, best[2], max(1.0, frames))


def _goes(along_mm: Array) -> float:
    """How far (mm) a hand goes to and fro along the bow, NaN if no farther than a hand that stays."""
    way = float(np.ptp(np.percentile(along_mm, [10, 90]))) if len(along_mm) else 0.0
    return way if way > STAYS_MM else float("nan")


def believed_ends(
    lines: BowLines,
    hair: HairInPicture,
    held: HeldFrog | None,
    t_s: Array,
    *,
    scale_px: float,
    by_hand: Array | None = None,
) -> BowLines:
    """The lines without ends of the hair that cannot be: where the head was lost it lies farther on than was seen, and the frog is some
    fingers' breadth behind where hair is seen, or where the hand has it. Heads that the teacher has set (``by_hand`` (n,) bool) stand."""
    certain = np.zeros(len(t_s), bool) if by_hand is None else by_hand & np.isfinite(lines.head)
    place = likeliest_place(lines, hair, held, t_s, certain, scale_px=scale_px)
    by_head, by_frog = 1 - hair.share(lines.head), -hair.share(lines.frog)
    # a head that is seen a little farther on than it can be comes from a string that was told too early or late, not from what covers hair
    elsewhere = _lasting(np.isfinite(by_head) & (place - by_head > FAR_BEYOND) & ~certain, t_s)
    covered_head = np.isfinite(by_head) & (by_head - place > BELIEVED * END_SD) & ~certain
    lost = covered_head | elsewhere
    if not lost.any():
        return lines
    covered = COVERED * _hidden(hair.slant)
    seen = (by_frog > place - BELIEVED * covered) & (by_frog < place + BELIEVED * _end_sd(hair, by_frog))
    seen &= ~_stands(lines, held, scale_px)[1]
    told = np.where(seen, by_frog + 0.5 * covered, np.nan)
    sd = np.hypot(lines.frog_sd * scale_px / hair.px_a_share(lines.frog), 0.5 * covered)
    if held is not None:
        # frames between two looks err alike: together they count as one
        apart = np.abs(told - held.place)
        told, sd = np.where(seen, told, held.place), np.where(seen, sd, held.sd * np.sqrt(held.frames))
        # one of the two is something else, and without the head nothing says which
        sd = np.where(seen & (apart > CONTRADICT * held.sd), np.hypot(sd, 0.5 * apart), sd)
    frog = hair.px(-told)
    return replace(
        lines,
        head=np.where(lost, np.nan, lines.head),
        beyond=np.where(covered_head, lines.head, lines.beyond),
        frog=np.where(lost, frog, lines.frog),
        frog_sd=np.where(lost & np.isfinite(frog), sd * hair.px_a_share(frog) / scale_px, lines.frog_sd),
    )


def _end_sd(hair: HairInPicture, share: Array) -> Array:
    """How well (n,) an end that is seen such a ``share`` of the hair away from the string says where the bow is."""
    return np.hypot(END_SD, SLANT_SD * hair.slant * share)


def _hidden(slant: Array) -> Array:
    """How many times as much hair a hand hides where the bow points at the camera as where it lies across."""
    return 1 + slant


def _lasting(flags: Array, t_s: Array) -> Array:
    """Those of ``flags`` (n,) bool that stay for a while: one frame alone the fit through its neighbours passes over."""
    out = np.zeros(len(flags), bool)
    for a, b in runs(flags):
        out[a:b] = t_s[b - 1] - t_s[a] >= SETTLED_S
    return out


def likeliest_place(
    lines: BowLines,
    hair: HairInPicture,
    held: HeldFrog | None,
    t_s: Array,
    certain: Array | None = None,
    *,
    scale_px: float = 1.0,
) -> Array:
    """Where the bow is in every frame (n,), as a share of the hair, by head, frog, hand and how bows move together; NaN where no hair is
    seen.

    Each of the three is right, or it is something else: the head's end lost before a bright wall or the left hand, the frog's under
    fingers or beyond a slide. The best path through all frames is taken (Viterbi).
    """
    n = len(t_s)
    told = np.zeros((n, len(PLACES)))
    with np.errstate(invalid="ignore"):
        stands, frog_stands = _stands(lines, held, scale_px)
        often, beyond = np.where(stands, STANDING_LOST, OFTEN_LOST), np.where(stands, STANDING_BEYOND, SELDOM_BEYOND)
        by_head = 1 - hair.share(lines.head)
        head_sd = lines.head_sd * scale_px / hair.px_a_share(lines.head)
        told += _by_head(by_head, np.hypot(_end_sd(hair, by_head - 1), head_sd), often, beyond)
        told += _by_frog(-hair.share(lines.frog), _hidden(hair.slant), np.where(frog_stands, STANDING_LOST, FROG_ELSEWHERE))
        if held is not None:
            told += _mixed(held.place, held.sd, held.elsewhere)
    if certain is not None and certain.any():
        told[certain] = -0.5 * ((PLACES - by_head[certain, None]) / END_SD) ** 2 / ALIKE
    seen = np.isfinite(lines.point[:, 0]) & np.isfinite(hair.px_mm)
    easy = BOWS_PER_S * np.diff(t_s) / STEP
    path = best_path(-ALIKE * np.where(seen[:, None], told, 0.0), easy, LEAP_COST)
    return np.where(seen, PLACES[path], np.nan)


def _mixed(place: Array, sd: Array, elsewhere: Array) -> Array:
    """Log of how likely what was seen (n,) is at each place (n, m): near it, or ``elsewhere`` (n,)."""
    sd, elsewhere = sd[:, None], elsewhere[:, None]
    near = -0.5 * ((PLACES - place[:, None]) / sd) ** 2 - np.log(sd * np.sqrt(2 * np.pi))
    return _known(np.logaddexp(np.log(1 - elsewhere) + near, np.log(elsewhere)), place)


def _stands(lines: BowLines, held: HeldFrog | None, scale_px: float) -> tuple[Array, Array]:
    """Frames (n,) bool in which the head's end, and in which the frog's, stays where it is in the picture while the other, or the hand,
    goes on."""
    head, frog = (lines.point + lines.direction * end[:, None] for end in (lines.head, lines.frog))
    hand, sd = (held.place, held.sd) if held is not None else (np.full(len(head), np.nan), np.zeros(len(head)))
    out = []
    for end, other in ((head, frog), (frog, head)):
        stands = np.zeros(len(end), bool)
        for a, b in stays(end, STANDS_PX * scale_px):
            stands[a:b] = _way(other[a:b]) > GOES_PX * scale_px or _way(hand[a:b, None]) > HAND_GOES * np.median(sd[a:b])
        out.append(stands)
    return out[0], out[1]


def _way(places: Array) -> float:
    """How far (px) what is seen at these ``places`` (n, d) goes: twice the middle half of the frames, since fingers that move for a moment
    are no way; 0 where it is not seen."""
    known = places[np.isfinite(places[:, 0])]
    return 2 * float(np.ptp(np.percentile(known, [25, 75], axis=0), axis=0).max()) if len(known) else 0.0


def _by_head(place: Array, sd: Array, often: Array, beyond: Array) -> Array:
    """The same of the head's end: lost, which it is ``often`` (n,), it is seen before the head, so that the place seems nearer to the tip
    than it is; or, ``beyond`` (n,), something else is seen farther on."""
    off, sd, often, beyond = PLACES - place[:, None], sd[:, None], often[:, None], beyond[:, None]
    right = np.log(1 - often) - 0.5 * (off / sd) ** 2 - np.log(sd * np.sqrt(2 * np.pi))
    return _known(np.logaddexp(right, np.log(np.where(off < 0, often, beyond))), place)


def _by_frog(place: Array, hidden: Array, elsewhere: Array) -> Array:
    """The same of the hair's beginning: fingers cover some of it, ``hidden`` (n,) times as much as of a bow that lies across; or, so often
    as ``elsewhere`` (n,), it is something else."""
    covered, usual = PLACES - place[:, None], COVERED * hidden[:, None]
    right = np.where(covered >= 0, -covered / usual, -0.5 * (covered / END_SD) ** 2) - np.log(usual)
    right -= 0.5 * (np.maximum(covered - MOST_COVERED * hidden[:, None], 0.0) / END_SD) ** 2
    elsewhere = elsewhere[:, None]
    return _known(np.logaddexp(np.log(1 - elsewhere) + right, np.log(elsewhere)), place)


def _known(told: Array, place: Array) -> Array:
    """What was not seen says nothing."""
    return np.where(np.isfinite(place)[:, None], told, 0.0)
