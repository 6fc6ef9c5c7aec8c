"""The instrument found in a video without a click: where it is, whether the picture is turned left for right, how sure.

Some frames are looked at whole, then each again in a square turned along the neck, where the net sees the instrument as large as it can.
What it says is believed where one instrument of the told size explains it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing, TrackingError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import LandmarkFit, best_pose, swapped
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.catalog import instrument as spec_named
from dolcezza.core.instrument.model import LANDMARK_NAMES, REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import read_frames
from dolcezza.core.models.asked import Models
from dolcezza.core.models.crop import Square
from dolcezza.core.models.landmarks import Guess
from dolcezza.core.pipeline.fit_file import CalibrationFrame, Fit, flipped

Look = Callable[[Array], Guess]
"""The net: a picture (h, w, 3) RGB in steps of 64 px to what it says."""

WHOLE_PX = 448
CLOSE_PX = 320
DETAIL_PX, DETAIL = 256, 0.43
"""Bridge and fingerboard's end are looked at once more, in a square whose side is this share of the instrument's length."""
BODY_PX = 512
MARGIN = 1.22
"""Side of the square that is looked at closely, over the length of the instrument in it."""
SAME_PLACE, SAME_TURN_RAD = 0.04, 0.07
"""A square that has moved by less (share of its side) and turned by less shows what it has shown: the net has learnt from squares that lie
farther off than this."""
COARSE = 1.6
"""A picture that would be made smaller by more is reduced before it is turned."""
LOOKS = 14
WITHIN_S = 40.0
LIKELY = 0.25
"""Share of the likelihood from which a place counts as seen."""
DECIDED, CLEARLY = (3, 5), (4.0, 2.0)
"""Found in so many looks, and so much more speaks for one way round than for the other (more after fewer): it is looked for only that
way."""
BOW_UNSEEN = 0.1
"""A way round in which no bow lies as it would counts as if one had been seen so surely."""
ONE_WAY = 0.5
"""The cosine from which two directions are about the same."""
TOLD = 1.5
"""Instrument and bow must show so much more plainly one way round for the bow's hand to be told by them, where no hands tell it."""
SELDOM = 2.0
"""Left-handed players and mirrored pictures are the exception: where hands and instrument leave it open, the picture is as filmed."""
FAR_HAND, FARTHER_HAND = 0.7, 1.5
"""The bow's hand is told where it is so far from the neck (lengths of the string), and so many times farther than the other."""
CONTRADICT = (3, 0.8)
"""So many hands at least, and such a share of them, say that the picture is the other way round than the instrument seems to be: a net that
is not sure of what it sees finds it in the mirror's picture too."""
ENOUGH = 0.25
"""Share of the looks in which the instrument must be found."""
ABOUT_AS_WELL = 0.9
"""Frames in which at least this share of the best frame's landmarks is seen are about as good."""
LEFT_WRIST, RIGHT_WRIST, LEAST_VISIBLE = 15, 16, 0.4
FEWEST, FEWEST_REQUIRED = 6, 3
"""So many of the instrument's landmarks, and of bridge and fingerboard's end, must be seen for a frame to count."""
SEEN_SD_PX = 1.6


@dataclass(frozen=True)
class FoundFrame:
    """One frame in which the instrument was found: time (s), landmarks (px of the upright picture, turned left for right where that is the
    way it was found), the pose, and how well (0 to 12: the sum of the landmarks' shares of likelihood). ``bow``: how surely (0 to 1) a bow
    was seen that lies as a bow in the right hand does."""

    t_s: float
    points: dict[str, tuple[float, float]]
    fit: LandmarkFit
    score: float
    bow: float = 0.0


@dataclass(frozen=True)
class FoundInstrument:
    """What was found in a video: the clearest frame, whether the picture is turned left for right, in which share of the looks, and whether
    something has told which way round it is."""

    frame: FoundFrame
    flip: bool
    share: float
    told: bool = True


def whole_square(picture: Array) -> tuple[Array, Array]:
    """The whole picture made small, in steps of 64 px, and the way (2, 3) back to its own pixels."""
    h, w = picture.shape[:2]
    scale = WHOLE_PX / max(h, w)
    size = (int(np.ceil(w * scale / 64)) * 64, int(np.ceil(h * scale / 64)) * 64)
    small = cv2.resize(picture, (max(1, round(w * scale)), max(1, round(h * scale))), interpolation=cv2.INTER_AREA)
    out = cv2.copyMakeBorder(small, 0, size[1] - small.shape[0], 0, size[0] - small.shape[1], cv2.BORDER_REPLICATE)
    return out, np.array([[w / small.shape[1], 0, 0], [0, h / small.shape[0], 0]])


def close_square(points: Array) -> Square:
    """The square around the instrument's landmarks ``points`` (n, 2) px (the last two: end button and scroll), the neck to the right."""
    neck = points[-1] - points[-2]
    angle = float(np.arctan2(neck[1], neck[0]))
    c, s = np.cos(angle), np.sin(angle)
    own = points @ np.array([[c, -s], [s, c]])
    low, high = own.min(axis=0), own.max(axis=0)
    middle = np.array([[c, -s], [s, c]]) @ (0.5 * (low + high))
    return Square(middle, MARGIN * float((high - low).max()), angle)


def detail_square(points: Array) -> Square:
    """The square around bridge and fingerboard's end, turned as ``close_square`` is."""
    whole = close_square(points)
    return Square(points[:4].mean(axis=0), DETAIL * whole.side / MARGIN, whole.angle)


def closeup(picture: Array, square: Square, px: int) -> tuple[Array, Array]:
    """The square's picture (px, px, 3), bytes, and the way (2, 3) from its pixels to those of ``picture`` (h, w, 3)."""
    way = square.to_picture(px)
    scale = 1.0
    if square.side > COARSE * px:
        h, w = picture.shape[:2]
        small = (max(1, round(w * px / square.side)), max(1, round(h * px / square.side)))
        scale = small[0] / w
        picture = cv2.resize(picture, small, interpolation=cv2.INTER_AREA)
    # OpenCV counts from the middle of the first pixel, everything here from its corner
    index = way * scale
    index[:, 2] += index[:, :2] @ [0.5, 0.5] - 0.5
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(picture, index, (px, px), flags=flags, borderMode=cv2.BORDER_REPLICATE), way


def agreed(model: InstrumentModel, guess: Guess, size: tuple[int, int], near: Camera | None = None) -> tuple[LandmarkFit, list[str]] | None:
    """The pose that explains what is likely, without what it does not explain, and the landmarks that count; None where nothing fits.
    ``near``: a pose known to be close."""
    names = [n for n, share in zip(LANDMARK_NAMES, guess.share[:12], strict=True) if share > LIKELY]
    place = dict(zip(LANDMARK_NAMES, guess.xy[:12], strict=True))
    while len(names) >= FEWEST and sum(n in names for n in REQUIRED_LANDMARKS) >= FEWEST_REQUIRED:
        points = {n: (float(place[n][0]), float(place[n][1])) for n in names}
        fit = best_pose(model, points, size=size, sd_px=SEEN_SD_PX, near=near)
        if fit is None:
            names.remove(min(names, key=lambda n: guess.share[LANDMARK_NAMES.index(n)]))
            continue
        worst = max(fit.errors_px, key=lambda n: fit.errors_px[n])
        allowed = 4.0 * SEEN_SD_PX * max(1.0, float(guess.sd_px[LANDMARK_NAMES.index(worst)]) / SEEN_SD_PX)
        if fit.errors_px[worst] < allowed * max(size) / 1280:
            return fit, names
        names.remove(worst)
    return None


def look_closely(model: InstrumentModel, picture: Array, look: Look, start: Array) -> tuple[Guess, LandmarkFit, list[str]] | None:
    """From a first idea of the landmarks (12, 2) px to what the close look says; twice where the first has moved the square."""
    size = (picture.shape[1], picture.shape[0])
    found: tuple[Guess, LandmarkFit, list[str]] | None = None
    before: Square | None = None
    for _ in range(2):
        square = close_square(start)
        if not 24 < square.side < 4 * max(size):
            return None
        if before is not None and _as_before(square, before):
            break
        part, way = closeup(picture, square, CLOSE_PX)
        guess = look(part).moved(way)
        told = agreed(model, guess, size, near=found[1].camera if found is not None else None)
        if told is None:
            return found
        found, before = (guess, *told), square
        start = told[0].camera.project(np.array([model.landmarks[n] for n in LANDMARK_NAMES]))
    if found is None:
        return None
    part, way = closeup(picture, detail_square(start), DETAIL_PX)
    finest = with_detail(found[0], look(part).moved(way))
    told = agreed(model, finest, size, near=found[1].camera)
    return (finest, *told) if told is not None else found


def _as_before(square: Square, before: Square) -> bool:
    """Whether a second look in this square would show what the first has shown."""
    moved = float(np.linalg.norm(square.middle - before.middle)) / before.side
    turned = abs((square.angle - before.angle + np.pi) % (2 * np.pi) - np.pi)
    return moved < SAME_PLACE and abs(square.side / before.side - 1) < 2 * SAME_PLACE and turned < SAME_TURN_RAD


def with_detail(close: Guess, detail: Guess) -> Guess:
    """The close look's guess with bridge and fingerboard's end as the detail shows them, where it does."""
    better = np.zeros(len(close.share), bool)
    better[:4] = detail.share[:4] > LIKELY
    pick = better[:, None]
    return Guess(
        np.where(pick, detail.xy, close.xy), np.where(better, detail.share, close.share), np.where(better, detail.sd_px, close.sd_px)
    )


def first_idea(guess: Guess) -> Array | None:
    """Landmarks (12, 2) px where enough of them are likely to know the square: those not seen are left to the others' middle."""
    share, xy = guess.share[:12], guess.xy[:12]
    good = share > 0.5 * LIKELY
    if good.sum() < FEWEST or not (good[10] or good[11]):
        return None
    out = xy.copy()
    middle = xy[:4][good[:4]].mean(axis=0) if good[:4].any() else xy[good].mean(axis=0)
    out[~good] = middle
    if not good[10]:
        out[10] = middle + 0.46 * (middle - out[11])
    if not good[11]:
        out[11] = middle + 2.16 * (middle - out[10])
    return out


def find_instrument(video: Path, spec: InstrumentSpec, models: Models) -> Work[FoundInstrument]:
    """Look for the instrument in some frames of the video, as filmed and turned left for right. Raises MediaError, and TrackingError where
    it is not found."""
    model = InstrumentModel(spec)
    models.warm("instrument", "body")
    file = probe(video)
    length_s = min(WITHIN_S, max(file.duration_s, 0.1))
    found: dict[bool, list[FoundFrame]] = {False: [], True: []}
    votes: dict[bool, list[bool | None]] = {False: [], True: []}
    ways: tuple[bool, ...] = (False, True)
    looked, both_s = 0, 0.0

    def look(picture: Array) -> Guess:
        return models.instrument(picture).result()

    for frame in read_frames(video, grey=False, every_s=length_s / LOOKS):
        if frame.t_s > length_s:
            break
        looked += 1
        for flip in ways:
            picture = np.ascontiguousarray(frame.image[:, ::-1]) if flip else frame.image
            got = _in_frame(model, picture, look, frame.t_s)
            if got is not None:
                found[flip].append(got)
                votes[flip].append(_bow_in_the_right_hand(picture, got.fit, model, models))
        both_s = frame.t_s if len(ways) > 1 else both_s
        if len(ways) > 1 and (most := max(len(f) for f in found.values())) >= DECIDED[0]:
            worth = _worth(found, votes)
            way = worth[True] > worth[False]
            # that most pictures are as they were filmed is no reason to stop looking
            clearly = CLEARLY[most >= DECIDED[1]] * (1.0 if way else SELDOM)
            if worth[way] > clearly * worth[not way] and not _hands_contradict(votes, way, fewest=1):
                ways = (way,)
        yield Progress(Stage.SKIMMING, looked, LOOKS)
    worth = _worth(found, votes)
    flip = worth[True] > worth[False] if len(ways) > 1 else ways[0]
    here = found[flip]
    if _hands_contradict(votes, flip):
        flip = not flip
        turned = (other_way_round(model, f, file.size) for f in here)
        here = found[flip] if len(found[flip]) >= ENOUGH * looked else [f for f in turned if f is not None]
    if looked == 0 or len(here) < ENOUGH * looked:
        raise TrackingError(
            "The instrument was not found in this video.",
            "Film with the whole instrument in the picture, or set the four landmarks by hand (with --fit on the command line).",
        )
    return FoundInstrument(_clearest(here), flip, len(here) / looked, _told(found, votes, flip, both_s))


def _in_frame(model: InstrumentModel, picture: Array, look: Look, t_s: float) -> FoundFrame | None:
    small, way = whole_square(picture)
    whole = look(small).moved(way)
    start = first_idea(whole)
    close = look_closely(model, picture, look, start) if start is not None else None
    if close is None:
        return None
    guess, fit, names = close
    if any(n not in names for n in REQUIRED_LANDMARKS):
        return None
    score = float(sum(guess.share[LANDMARK_NAMES.index(n)] for n in names))
    bow = 0.5 * (bow_seen(model, whole, fit.camera) + bow_seen(model, guess, fit.camera))
    return FoundFrame(t_s, fit.points, fit, score, bow)


def bow_seen(model: InstrumentModel, guess: Guess, camera: Camera) -> float:
    """How surely (0 to 1) both ends of a bow are seen where a bow in the right hand has them."""
    along = model.bow_direction(np.zeros(1), np.full(1, model.string_planes[1:3].mean()))[0]
    start = 0.5 * (model.landmarks["bridge_bass"] + model.landmarks["board_treble"])
    a, b = camera.project(np.array([start, start + 0.3 * model.spec.hair_length * along]))
    own, seen = b - a, guess.xy[13] - guess.xy[12]
    lengths = float(np.linalg.norm(own) * np.linalg.norm(seen))
    return float(guess.share[12] * guess.share[13]) if float(own @ seen) > ONE_WAY * lengths > 0 else 0.0


def whole_body(picture: Array, models: Models) -> Array | None:
    """Body points (33, 3) in a picture (h, w, 3): x px, y px, visibility; None = nobody. Raises ModelsMissing."""
    h, w = picture.shape[:2]
    scale = min(1.0, BODY_PX / max(h, w))
    small = cv2.resize(picture, (max(1, round(scale * w)), max(1, round(scale * h))), interpolation=cv2.INTER_AREA)
    body = models.body(small, anew=True).result()
    return None if body is None else np.column_stack([body[:, :2] / scale, body[:, 2]])


def _bow_in_the_right_hand(picture: Array, fit: LandmarkFit, model: InstrumentModel, models: Models) -> bool | None:
    """Whether the left hand is the one at the neck; None where the hands are not seen, or near each other: at the frog either is there."""
    try:
        body = whole_body(picture, models)
    except ModelsMissing:
        return None
    if body is None or (body[[LEFT_WRIST, RIGHT_WRIST], 2] < LEAST_VISIBLE).any():
        return None
    neck = fit.camera.project(0.5 * (model.landmarks["nut_bass"] + model.landmarks["board_bass"]))
    string = fit.camera.project(model.landmarks["bridge_bass"]) - fit.camera.project(model.landmarks["nut_bass"])
    left, right = (float(np.linalg.norm(body[k, :2] - neck)) for k in (LEFT_WRIST, RIGHT_WRIST))
    near, far = sorted((left, right))
    if far < FAR_HAND * float(np.linalg.norm(string)) or far < FARTHER_HAND * near:
        return None
    return left < right


def _worth(found: dict[bool, list[FoundFrame]], votes: dict[bool, list[bool | None]]) -> dict[bool, float]:
    """How much speaks for the picture as it is, and turned left for right: what is found, how surely, and the bow in the right hand, by
    what is seen of the bow and of the hands."""
    worth = {}
    for flip, frames in found.items():
        said = [v for v in votes[flip] if v is not None]
        hand = (sum(said) + 1) / (len(said) + 2)
        worth[flip] = _plainness(frames) * hand / (SELDOM if flip else 1.0)
    return worth


def _plainness(frames: list[FoundFrame]) -> float:
    """How plainly instrument and bow were seen."""
    return sum(f.score for f in frames) * (float(np.mean([f.bow for f in frames])) + BOW_UNSEEN) if frames else 0.0


def _told(found: dict[bool, list[FoundFrame]], votes: dict[bool, list[bool | None]], flip: bool, both_s: float) -> bool:
    """Whether the hands, or else what was seen in the looks up to ``both_s`` (s), have told for certain which hand bows."""
    if _hands_contradict(votes, not flip):
        return True
    own, other = (_plainness([f for f in found[way] if f.t_s <= both_s]) for way in (flip, not flip))
    return own > TOLD * other


def _hands_contradict(votes: dict[bool, list[bool | None]], flip: bool, *, fewest: int = CONTRADICT[0]) -> bool:
    """Whether the hands, as they were seen in both ways, say for certain that the picture is not turned as ``flip`` has it."""
    said = [way == flip if v else way != flip for way, own in votes.items() for v in own if v is not None]
    return len(said) >= fewest and said.count(False) >= CONTRADICT[1] * len(said)


def other_way_round(model: InstrumentModel, frame: FoundFrame, size: tuple[int, int]) -> FoundFrame | None:
    """What was found in the mirror's picture of this ``size`` as it is in the picture: bass and treble side change places. None where
    no instrument lies so."""
    points = swapped(flipped(frame.points, size[0]))
    fit = best_pose(model, points, size=size, sd_px=SEEN_SD_PX)
    return None if fit is None else replace(frame, points=points, fit=fit)


def _clearest(found: list[FoundFrame]) -> FoundFrame:
    """Of the frames in which most is seen, the one whose landmarks one instrument explains best.

    One is enough: the take is followed from it, and all looks along the way put it right together. Several, each with the errors of its
    own look, would pull the instrument from one pose to the next.
    """
    most = max(f.score for f in found)
    return min((f for f in found if f.score >= ABOUT_AS_WELL * most), key=lambda f: f.fit.rms_px)


def found_fit(video: Path, instrument: str, models: Models) -> Work[Fit]:
    """A fit with the landmarks that were found, in the picture as filmed. Raises DolcezzaErrors as ``find_instrument`` does."""
    name = spec_named(instrument).name
    found = yield from find_instrument(video, spec_named(instrument), models)
    width = probe(video).width
    best = found.frame
    frame = CalibrationFrame(best.t_s, flipped(best.points, width) if found.flip else best.points, tuple(best.points))
    return Fit(name, (frame,), "left" if found.flip else "right", take=video.name, handed_told=found.told)
