"""From landmarks to poses: what was set or found at the marked moments, put right by what the pictures show of the instrument."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.base.message import Message
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import CLICK_SD_PX, ClickSd, LandmarkFit, click_of, fit_moments, maker_sd_mm
from dolcezza.core.camera.seen import SeenEdge, SeenLine, SeenPoint
from dolcezza.core.camera.unknowns import LENGTH_SD, LENGTHS, CalibrationFrame, TakeUnknowns, own_spec
from dolcezza.core.media.video import FrameStore
from dolcezza.core.models.asked import Models
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import CalibrationFrame as MarkedFrame
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.pipeline.frame_pass import FramePass
from dolcezza.core.pipeline.landmark_pass import seen_in_frame
from dolcezza.core.tracking.bridge_seen import see_bridge
from dolcezza.core.tracking.instrument import put_right, put_right_camera
from dolcezza.core.tracking.landmarks_seen import ONE_LOOK, LandmarkLook, carried_over, click_sd, learnt_sd
from dolcezza.core.tracking.outline_seen import see_outline
from dolcezza.core.tracking.strings_seen import Sample, clean_picture, see_strings

DOUBTFUL_CHI2 = 18.0
"""Chi-square for each landmark (two numbers) from which landmarks do not look like this instrument."""
BESIDE_SD, FAR_BESIDE_SD = 3.0, 6.0
"""A landmark that lies so far beside (sd) is half as good as one in its place; a seen one that lies this far is something else."""
REWEIGHTED = 3
"""So many times doubt and pose are told from each other."""
PULLED_SD = 4.0
"""A landmark that the hand set this much (sd of a careful hand) beside where the whole take has it is named."""
LOOKED_AT = 2
"""So many times a marked picture is looked at closely."""
TOLD_AGAIN = 5.0
"""Found landmarks say the same as the looks at the take, which the same net has told: once the looks are there they hardly count."""
ON_BODY = ("lower_bout_bass", "lower_bout_treble", "upper_bout_bass", "upper_bout_treble", "end_button")
ENOUGH_EDGES = 4
"""So many parts of the body's edge, seen, tell more than the net's places on it."""
BODY_TOLD = 2
"""So many of these, set by hand, tell how the body lies better than its edge does, of which only the distance is known."""
WORTH_SAYING = ("string_length", "bridge_to_fingerboard", "hair_length")
CERTAIN, LEAST_SAID = 2.5, 0.02
"""A length is said to differ from the table beyond so many sd, and so large a share."""


@dataclass(frozen=True)
class Shown:
    """What the take's pictures show of the instrument at a marked moment: straight parts, landmarks, and how well its own landmarks are
    known (px at 1280)."""

    lines: Sequence[SeenLine] = ()
    points: Sequence[SeenPoint] = ()
    click_sd_px: ClickSd = CLICK_SD_PX


def _not_looked_at(context: Context) -> list[Shown]:
    """Before the take has been looked at: only how well landmarks are known that nobody has set by hand."""
    return [Shown(click_sd_px=_known(context, m, CLICK_SD_PX)) for m in context.fit.landmarks]


def _known(context: Context, marked: MarkedFrame, hand_px: float, found: float = ONE_LOOK) -> dict[str, float]:
    """How well each landmark is known where a hand is worth ``hand_px`` (px at 1280); what the program found itself is ``found`` times as
    doubtful as what all looks at a take tell together."""
    return {n: found * learnt_sd(context.model, n) if n in marked.found else hand_px for n in marked.points}


def _fit(context: Context, shown: Sequence[Shown] | None, near: list[Camera] | None = None) -> list[LandmarkFit]:
    own = shown or _not_looked_at(context)
    return fit_moments(
        context.model, context.landmarks, size=context.size, focal=context.focal, lines=[s.lines for s in own], near=near,
        seen=[s.points for s in own], click_sd_px=[s.click_sd_px for s in own],
    )  # fmt: skip


def fitted(context: Context) -> list[tuple[float, LandmarkFit]]:
    """Fit the marked moments in the picture as it is measured. Raises LandmarkError."""
    times = [m.t_s for m in context.fit.landmarks]
    try:
        return list(zip(times, _fit(context, None), strict=True))
    except LandmarkError as error:
        if len(times) > 1:
            raise _at_moment(context) or error from None
        raise


def looked_at(context: Context, moments: list[tuple[float, LandmarkFit]], models: Models) -> list[tuple[float, LandmarkFit]]:
    """The fits with what the marked pictures themselves show: the pass over the take begins near the truth even where a hand was rough."""
    store = FrameStore(context.video, flip=context.fit.flip, scale=context.reduced)
    try:
        pictures = [store.at(t).image for t, _ in moments]
    finally:
        store.close()
    looks: list[list[SeenPoint]] = [[] for _ in moments]
    for _ in range(LOOKED_AT):
        # the second time from where the first has put it
        shown = []
        for k, (marked, points, (_, pf)) in enumerate(zip(context.fit.landmarks, context.landmarks, moments, strict=True)):
            looks[k] = both_looks(looks[k], seen_in_frame(context.model, pf.camera, pictures[k], models, scale_px=context.scale_px))
            shown.append(Shown((), looks[k], _as_set(context, marked, points, looks[k])))
        better = _refitted(context, shown, None)
        if better is None:
            break
        better, _ = reweighted(context, shown, better)
        moments = [(t, pf) for (t, _), pf in zip(moments, better, strict=True)]
    return moments


def both_looks(first: Sequence[SeenPoint], second: Sequence[SeenPoint]) -> list[SeenPoint]:
    """What two looks at one picture show: the middle of both where both show a landmark."""
    before = {p.name: p.place for p in first}
    return [replace(p, place=0.5 * (p.place + before.pop(p.name))) if p.name in before else p for p in second] + [
        p for p in first if p.name in before
    ]


def _as_set(
    context: Context, marked: MarkedFrame, points: Mapping[str, tuple[float, float]], there: Sequence[SeenPoint]
) -> dict[str, float]:
    """How well each landmark of a marked frame is known, the hand's by what the pictures show."""
    by_hand = {n: xy for n, xy in points.items() if n not in marked.found}
    return _known(context, marked, click_sd(by_hand, there, scale_px=context.scale_px), TOLD_AGAIN)


def reweighted(context: Context, told: Sequence[Shown], fits: list[LandmarkFit]) -> tuple[list[LandmarkFit], list[Shown]]:
    """What one instrument explains, told by hand and pictures together: the fits, and how much each landmark counts in them."""
    shown = list(told)
    for _ in range(REWEIGHTED):
        shown = [_explained(context, s, pf) for s, pf in zip(told, fits, strict=True)]
        fits = _refitted(context, shown, [pf.camera for pf in fits]) or fits
    return fits, shown


def _at_moment(context: Context) -> LandmarkError | None:
    """What is wrong with the first moment that does not fit, with its time."""
    for moment in context.fit.landmarks:
        try:
            _fit(replace(context, fit=replace(context.fit, landmarks=(moment,))), None)
        except LandmarkError as error:
            return LandmarkError(f"At {moment.t_s:.1f} s: {error.sentence}", error.advice, swap=error.swap)
    return None


def doubtful_landmarks(fit: Fit, moments: list[tuple[float, LandmarkFit]]) -> list[Message]:
    """What is to be said of moments whose landmarks miss the instrument by far more than a hand does."""
    return [
        Message("note.doubtful landmarks", {"t_s": t, "instrument": fit.spec.name, "px": float(pf.rms_px)})
        for t, pf in moments
        if pf.chi2 > DOUBTFUL_CHI2 * len(pf.errors_px)
    ]


def left_beside(context: Context, moments: list[tuple[float, LandmarkFit]]) -> list[Message]:
    """What is to be said of landmarks that the hand set elsewhere than the whole take has them: they were followed only in part."""
    notes = []
    for marked, (t, pf) in zip(context.fit.landmarks, moments, strict=True):
        px_mm = pf.camera.focal / float(pf.camera.tvec[2])
        off = {n: px for n, px in pf.errors_px.items() if n not in marked.found}
        beside = {n: px for n, px in off.items() if px > PULLED_SD * np.hypot(CLICK_SD_PX * context.scale_px, px_mm * maker_sd_mm(n))}
        if beside:
            names = tuple(Message(f"landmark.{n}") for n in beside)
            notes.append(Message("note.pulled", {"landmarks": names, "t_s": t, "px": max(beside.values())}))
    return notes


def with_own_lengths(fit: Fit, told: TakeUnknowns) -> tuple[Fit, list[Message]]:
    """The fit with the lengths of this one instrument and bow as the take has shown them, and what is to be said of them."""
    own, sd = own_spec(fit.spec, told.values), np.sqrt(np.diag(told.covariance))[LENGTHS]
    lengths = {name: float(getattr(own, name)) for name in LENGTH_SD}
    notes = []
    for name, share, usual in zip(LENGTH_SD, told.values[LENGTHS], sd, strict=True):
        if name in WORTH_SAYING and abs(share) > max(CERTAIN * usual, LEAST_SAID):
            table = float(getattr(fit.spec, name))
            values = {"what": Message(f"length.{name}"), "mm": lengths[name], "sd": float(usual * table), "table": table}
            notes.append(Message("note.own length", values))
    return replace(fit, measured={**lengths, **fit.measured}), notes


def marked_moments(
    context: Context, moments: list[tuple[float, LandmarkFit]], shown: Sequence[Shown] = ()
) -> list[CalibrationFrame]:  # fmt: skip
    """What was marked, and what the pictures show of the instrument, as the take's unknowns are told from them."""
    own = shown or _not_looked_at(context)
    return [
        CalibrationFrame(points, pf.camera, s.lines, s.points, s.click_sd_px)
        for points, (_, pf), s in zip(context.landmarks, moments, own, strict=True)
    ]


def aligned(
    context: Context, moments: list[tuple[float, LandmarkFit]], seen: FramePass
) -> tuple[list[tuple[float, LandmarkFit]], FramePass, list[Shown]]:  # fmt: skip
    """Landmarks and poses put right by what the whole take shows of the instrument: its landmarks, then its strings, then the outline of
    its body. Also what is shown."""
    marked_at = np.array([t for t, _ in moments])
    own = [[] for _ in moments] if not seen.landmarks else _looks_by_moment(marked_at, seen.landmarks)
    shown = []
    for marked, points, (_, pf), looks in zip(context.fit.landmarks, context.landmarks, moments, own, strict=True):
        there = carried_over(context.model, looks, pf.camera, scale_px=context.scale_px, alike=len(moments))
        shown.append(Shown((), there, _as_set(context, marked, points, there)))
    first = [pf for _, pf in moments]
    better = _refitted(context, shown, None) if any(s.points for s in shown) else None
    if better is not None:
        better, shown = reweighted(context, shown, better)
    if better is None:
        better, shown = first, _not_looked_at(context)
    better, shown = _with_lines(context, shown, better, [_strings(context, pf, v) for pf, v in _views(seen, first, better)])
    by_strings, without = better, shown
    for _ in range(LOOKED_AT):
        # the second time from where the first has put it, as open as before
        as_open = [replace(pf, covariance=before.covariance) for pf, before in zip(better, by_strings, strict=True)]
        each = zip(context.fit.landmarks, _views(seen, first, as_open), strict=True)
        found = [[] if _body_told(marked) else _outline(context, pf, views) for marked, (pf, views) in each]
        better, shown = _with_lines(context, without, by_strings, found)
    better, shown = _with_lines(context, shown, better, [_bridge(context, pf, v) for pf, v in _views(seen, first, better)])
    nearest = [int(np.abs(marked_at - t).argmin()) for t in seen.times]
    followed = [put_right(f, first[k].camera, better[k].camera) for f, k in zip(seen.followed, nearest, strict=True)]
    return list(zip(marked_at.tolist(), better, strict=True)), replace(seen, followed=followed), shown


def _with_lines(
    context: Context, shown: list[Shown], fits: list[LandmarkFit], lines: Sequence[Sequence[SeenLine]]
) -> tuple[list[LandmarkFit], list[Shown]]:  # fmt: skip
    """The fits with lines found besides, for each marked moment; as they are where none was found, or none fits."""
    often = len(fits)
    more = [
        replace(_edge_for_its_places(s, own), lines=[*s.lines, *(line.told_so_often(often) for line in own)])
        for s, own in zip(shown, lines, strict=True)
    ]
    finer = _refitted(context, more, [pf.camera for pf in fits]) if any(lines) else None
    return (fits, shown) if finer is None else (finer, more)


def _views(
    seen: FramePass, began: Sequence[LandmarkFit], fits: Sequence[LandmarkFit]
) -> list[tuple[LandmarkFit, list[Sample]]]:  # fmt: skip
    """Each marked moment's fit, and frames of the take with the poses that it gives them."""
    return [
        (pf, [Sample(s.grey, put_right_camera(s.camera, first.camera, pf.camera)) for s in seen.samples])
        for first, pf in zip(began, fits, strict=True)
    ]


def _strings(context: Context, pf: LandmarkFit, views: Sequence[Sample]) -> Sequence[SeenLine]:
    picture, corner = clean_picture(context.model, pf.camera, views)
    return see_strings(context.model, pf, picture, corner, scale_px=context.scale_px)


def _bridge(context: Context, pf: LandmarkFit, views: Sequence[Sample]) -> Sequence[SeenLine]:
    seen = see_bridge(context.model, pf, views, scale_px=context.scale_px)
    return [] if seen is None else [seen]


def _body_told(marked: MarkedFrame) -> bool:
    """Whether the hand itself has told how the body lies: how a maker shapes one is then not supposed."""
    return sum(n in marked.points and n not in marked.found for n in ON_BODY) >= BODY_TOLD


def _edge_for_its_places(shown: Shown, lines: Sequence[SeenLine]) -> Shown:
    """What is shown beside the body's edge, where enough of that is among ``lines``: without the places on it that the net has told by the
    same edge, and along it hardly at all."""
    enough = sum(len(line.stations) for line in lines if isinstance(line, SeenEdge)) >= ENOUGH_EDGES
    return replace(shown, points=[p for p in shown.points if p.name not in ON_BODY]) if enough else shown


def _outline(context: Context, pf: LandmarkFit, views: Sequence[Sample]) -> Sequence[SeenEdge]:
    seen = see_outline(context.model, pf, views, scale_px=context.scale_px)
    return [] if seen is None else [seen]


def _explained(context: Context, shown: Shown, pf: LandmarkFit) -> Shown:
    """With landmarks that lie beside where the fit of all has them, the hand's as well as the pictures', the more doubtful the farther
    beside they lie (weights of Cauchy's distribution); what the pictures show far beside is left out."""
    scale = context.scale_px
    hand = {}
    for name, xy in pf.points.items():
        sd = click_of(shown.click_sd_px, name)
        off = float(np.linalg.norm(pf.camera.project(context.model.landmarks[name]) - xy)) / scale
        hand[name] = sd * float(np.hypot(1.0, off / (BESIDE_SD * sd)))
    near = []
    for point in shown.points:
        off = float(np.linalg.norm(pf.camera.project(context.model.landmarks[point.name]) - point.place)) / point.sd_px
        if off < FAR_BESIDE_SD:
            near.append(replace(point, sd_px=point.sd_px * float(np.hypot(1.0, off / BESIDE_SD))))
    return replace(shown, points=near, click_sd_px=hand)


def _looks_by_moment(marked_at: Array, looks: Sequence[LandmarkLook]) -> list[list[LandmarkLook]]:
    """Each look with the marked moment that is nearest in time."""
    nearest = [int(np.abs(marked_at - look.t_s).argmin()) for look in looks]
    return [[look for look, k in zip(looks, nearest, strict=True) if k == moment] for moment in range(len(marked_at))]


def _refitted(context: Context, shown: Sequence[Shown], near: list[Camera] | None) -> list[LandmarkFit] | None:
    try:
        return _fit(context, shown, near)
    except LandmarkError:
        return None
