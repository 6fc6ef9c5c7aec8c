"""From landmarks to the pose of the instrument and the focal length, with covariance, and what is wrong with the landmarks.

Perspective-n-point with an unknown lens: least squares over Rodrigues vector (3), translation (3, mm) and the
logarithm of the focal length (1, with a prior), started from several focal lengths and both solutions that a nearly
flat target has. The teacher sees the top plate, so a pose seen from behind is a mistake of the landmarks, not a solution.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, TypeAlias

import cv2
import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.camera.lens import FILE_FOCAL_LOG_SD, FOCAL_LOG_SD, Camera, prior_focal
from dolcezza.core.camera.seen import SeenLine, SeenPoint
from dolcezza.core.instrument.model import LANDMARK_NAMES, LANDMARK_WORDS, REQUIRED_LANDMARKS, InstrumentModel

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

CLICK_SD_PX = 1.05
"""How well a hand sets a landmark (one standard deviation, px of a 1280 px wide picture)."""
MAKER_SD_MM = {"bridge": 0.3, "board": 0.3, "nut": 0.5, "lower": 1.0, "upper": 1.0, "end": 1.0, "scroll": 2.0}
"""How much makers differ in the place of a landmark (one standard deviation, mm), from memory."""
SHARED_LOG_SD = 1e-3
"""How tightly several moments of a take are held to one focal length."""
ENOUGH_BESIDES = 8
"""So many landmarks tell a pose also where the first four lie in one line."""
_SWAP = {"bass": "treble", "treble": "bass"}


@dataclass(frozen=True)
class LandmarkFit:
    """Result of fitting the instrument to one frame's landmarks.

    ``covariance`` (7, 7) of (rvec, tvec, log focal); ``errors_px`` distance of each landmark from its fitted place;
    ``rms_px`` their root mean square; ``chi2`` the sum of squares of all errors against what they may be; ``points`` the landmarks
    themselves (px).
    """

    camera: Camera
    covariance: Array
    errors_px: dict[str, float]
    rms_px: float
    chi2: float
    points: dict[str, tuple[float, float]] = field(default_factory=dict)


ClickSd: TypeAlias = "float | Mapping[str, float]"


def click_of(sd_px: ClickSd, name: str) -> float:
    """How well one landmark is known (px at 1280); a careful hand where nothing is said of it."""
    return sd_px.get(name, CLICK_SD_PX) if isinstance(sd_px, Mapping) else sd_px


def maker_sd_mm(name: str) -> float:
    """How much makers differ in the place of a landmark (one sd, mm)."""
    return MAKER_SD_MM[name.split("_")[0]]


def swapped(points: Mapping[str, tuple[float, float]]) -> dict[str, tuple[float, float]]:
    """The same landmarks with low-string and high-string side exchanged."""
    out = {}
    for name, xy in points.items():
        stem, _, side = name.rpartition("_")
        out[f"{stem}_{_SWAP[side]}" if side in _SWAP else name] = xy
    return out


def check_landmarks(points: Mapping[str, tuple[float, float]], size: tuple[int, int]) -> None:
    """Refuse landmarks that cannot describe an instrument, with a sentence. Raises LandmarkError."""
    unknown = [n for n in points if n not in LANDMARK_NAMES]
    if unknown:
        raise LandmarkError(f"'{unknown[0]}' is not a place on the instrument.", f"Known: {', '.join(LANDMARK_NAMES)}.")
    missing = [n for n in REQUIRED_LANDMARKS if n not in points]
    if missing:
        words = ", ".join(LANDMARK_WORDS[n] for n in missing)
        raise LandmarkError(f"The instrument is not marked yet: {len(missing)} of the first four landmarks missing.", f"Set: {words}.")
    xy = np.array([points[n] for n in REQUIRED_LANDMARKS], float)
    if not np.isfinite(xy).all():
        raise LandmarkError("A landmark has no place in the picture.", "Set it again.")
    for name, (x, y) in points.items():
        margin = 0.5
        if not (-margin * size[0] <= x <= (1 + margin) * size[0] and -margin * size[1] <= y <= (1 + margin) * size[1]):
            raise LandmarkError(f"The landmark '{LANDMARK_WORDS[name]}' lies far outside the picture.", "Set it on the instrument.")
    if len(points) >= ENOUGH_BESIDES:
        # seen along the strings bridge and fingerboard lie in one line: the rest of the instrument tells its pose
        xy = np.array(list(points.values()), float)
    spread = np.linalg.svd(xy - xy.mean(0), compute_uv=False)
    if spread[1] < 0.004 * max(size) or spread[1] < 0.03 * spread[0]:
        raise LandmarkError(
            "The four landmarks lie in one line or on one spot.",
            "Mark both ends of the bridge and both corners of the fingerboard's end.",
        )


PlacedLine: TypeAlias = tuple[Array, SeenLine]
"""A line seen, after the places (m, 3) mm of the instrument that lie on it."""


def _of_lines(rows: Array, lines: Sequence[PlacedLine]) -> list[tuple[Array, SeenLine]]:
    """The rows of each line's places."""
    ends = np.cumsum([0, *(len(placed) for placed, _ in lines)])
    return [(rows[a:b], line) for a, b, (_, line) in zip(ends, ends[1:], lines, strict=False)]


def _residuals(
    q: Array, world: Array, xy: Array, weight: Array, center: Array, log_prior: float, log_sd: float, lines: Sequence[PlacedLine] = ()
) -> Array:  # fmt: skip
    places = np.concatenate([world, *(placed for placed, _ in lines)])
    cam = places @ cv2.Rodrigues(q[:3])[0].T + q[3:6]
    z = np.maximum(cam[:, 2:3], 1.0)
    seen = np.exp(q[6]) * cam[:, :2] / z + center
    n = len(world)
    off = [line.weigh(own - line.points) for own, line in _of_lines(seen[n:], lines)]
    return np.concatenate([((seen[:n] - xy) * weight[:, None]).ravel(), *off, [(q[6] - log_prior) / log_sd]])


def _slopes(
    q: Array, world: Array, xy: Array, weight: Array, center: Array, log_prior: float, log_sd: float, lines: Sequence[PlacedLine] = ()
) -> Array:  # fmt: skip
    """(m, 7) of ``_residuals`` by pose and logarithm of the focal length; OpenCV has the projection's derivatives."""
    places = np.concatenate([world, *(placed for placed, _ in lines)])
    focal = float(np.exp(q[6]))
    lens = np.array([[focal, 0, center[0]], [0, focal, center[1]], [0, 0, 1.0]])
    seen, by = cv2.projectPoints(places, q[:3], q[3:6], lens, None)
    by = by.reshape(len(places), 2, -1)[:, :, :6]
    by = np.concatenate([by, (seen[:, 0] - center)[:, :, None]], axis=2)
    n = len(world)
    own = (by[:n] * weight[:, None, None]).reshape(-1, 7)
    off = [line.weigh(own) for own, line in _of_lines(by[n:], lines)]
    return np.concatenate([own, *off, [[0, 0, 0, 0, 0, 0, 1 / log_sd]]])


def _descend(start: Array, args: tuple[object, ...]) -> OptimizeResult:
    scale = [0.1] * 3 + [50.0] * 3 + [0.1]
    return scipy.optimize.least_squares(_residuals, start, jac=_slopes, args=args, method="lm", max_nfev=60, x_scale=scale)


def _starts(world: Array, xy: Array, center: Array, focal: float) -> list[Array]:
    out = []
    for f in (0.8 * focal, 1.1 * focal, 1.5 * focal):
        k = np.array([[f, 0, center[0]], [0, f, center[1]], [0, 0, 1.0]])
        flat = world - [0, 0, world[:, 2].mean()]
        for pts, flag in ((world, cv2.SOLVEPNP_SQPNP), (flat * [1, 1, 0], cv2.SOLVEPNP_IPPE)):
            try:
                _, rv, tv, _ = cv2.solvePnPGeneric(pts, xy, k, None, flags=flag)
            except cv2.error:
                continue
            for r, t in zip(rv, tv, strict=True):
                if np.isfinite(r).all() and t[2] > 0:
                    out.append(np.concatenate([r.ravel(), t.ravel(), [np.log(f)]]))
    return out


def _solve(
    model: InstrumentModel, points: Mapping[str, tuple[float, float]], size: tuple[int, int], focal: float, focal_sd: float,
    lines: Sequence[SeenLine] = (), near: Camera | None = None, seen: Sequence[SeenPoint] = (), click_sd_px: ClickSd = CLICK_SD_PX,
) -> tuple[list[str], Array, Array, Array, list[tuple[float, OptimizeResult]], list[tuple[float, OptimizeResult]]]:  # fmt: skip
    """Names, places and pixels of what is marked, the picture's middle, and the fits (cost, fit) seen from the front and from behind."""
    names = [n for n in LANDMARK_NAMES if n in points]
    world = np.array([model.landmarks[n] for n in names])
    xy = np.array([points[n] for n in names], float)
    center = np.array(size, float) / 2
    click = [click_of(click_sd_px, n) * max(size) / 1280.0 for n in names]
    span_px = np.linalg.norm(xy[0] - xy[1]) + np.linalg.norm(xy[2] - xy[3])
    span_mm = np.linalg.norm(world[0] - world[1]) + np.linalg.norm(world[2] - world[3])
    scale = span_px / span_mm
    maker = scale * np.array([maker_sd_mm(n) for n in (*names, *(p.name for p in seen))])
    sd = np.hypot(click + [p.sd_px for p in seen], maker)
    if seen:
        world, xy = np.vstack([world, [model.landmarks[p.name] for p in seen]]), np.vstack([xy, [p.place for p in seen]])
    placed = [(line.places(model), line) for line in lines]
    args = (world, xy, 1 / sd, center, float(np.log(focal)), focal_sd, placed)
    found: list[tuple[float, OptimizeResult]] = []
    starts = _starts(world, xy, center, focal) if near is None else [np.concatenate([near.rvec, near.tvec, [np.log(near.focal)]])]
    for start in starts:
        rough = _residuals(start, *args)
        if found and rough @ rough > 1e7:
            continue
        fit = _descend(start, args)
        # a Rodrigues vector longer than half a turn is another name for a shorter one; the covariance is told for that
        short = np.concatenate([cv2.Rodrigues(cv2.Rodrigues(fit.x[:3])[0])[0].ravel(), fit.x[3:]])
        if np.linalg.norm(short[:3] - fit.x[:3]) > 1e-6:
            fit = _descend(short, args)
        found.append((2 * fit.cost, fit))
    front: list[tuple[float, OptimizeResult]] = []
    behind: list[tuple[float, OptimizeResult]] = []
    for cost, fit in found:
        place = -cv2.Rodrigues(fit.x[:3])[0].T @ fit.x[3:6]
        (front if place[2] > 0 else behind).append((cost, fit))
    return names, world, xy, center, front, behind


def fit_moments(
    model: InstrumentModel,
    moments: Sequence[Mapping[str, tuple[float, float]]],
    *,
    size: tuple[int, int],
    focal: float | None = None,
    lines: Sequence[Sequence[SeenLine]] | None = None,
    near: Sequence[Camera] | None = None,
    seen: Sequence[Sequence[SeenPoint]] | None = None,
    click_sd_px: Sequence[ClickSd] | None = None,
) -> list[LandmarkFit]:
    """Fit several moments of one take, which share one lens; ``focal`` px where the file tells it.

    Each is fitted alone; then all again with the focal length they agree on (weighted by how well each knows it). Raises
    LandmarkError as ``fit_landmarks`` does. For each moment: ``lines``, straight parts found in its picture; ``near``, a pose known to be
    close; ``seen``, landmarks found in its picture; ``click_sd_px``, how well its landmarks are known (px at 1280).
    """
    n = len(moments)
    found = lines if lines is not None else [()] * n
    there = seen if seen is not None else [()] * n
    hand = click_sd_px if click_sd_px is not None else [CLICK_SD_PX] * n
    known = FILE_FOCAL_LOG_SD if focal else FOCAL_LOG_SD
    close = near if near is not None else [None] * len(moments)
    alone = [
        fit_landmarks(model, points, size=size, focal=focal, focal_sd=known, lines=own, near=camera, seen=shown, click_sd_px=sd)
        for points, own, camera, shown, sd in zip(moments, found, close, there, hand, strict=True)
    ]
    if len(alone) == 1:
        return alone
    weight = np.array([1 / fit.covariance[6, 6] for fit in alone])
    shared = float(np.exp((weight * np.log([fit.camera.focal for fit in alone])).sum() / weight.sum()))
    lens_sd = float(1 / np.sqrt(weight.sum()))
    together = [
        fit_landmarks(
            model, points, size=size, focal=shared, focal_sd=SHARED_LOG_SD, lines=own, near=fit.camera, seen=shown, click_sd_px=sd
        )
        for points, own, fit, shown, sd in zip(moments, found, alone, there, hand, strict=True)
    ]
    # the shared lens is held while fitting, but it is only known to ``lens_sd``
    return [replace(fit, covariance=_loosened(fit.covariance, lens_sd)) for fit in together]


def _loosened(covariance: Array, focal_sd: float) -> Array:
    """The same covariance (7, 7) with the log focal length known only to ``focal_sd`` instead of exactly."""
    information = np.linalg.inv(covariance)
    information[6, 6] += 1 / focal_sd**2 - 1 / SHARED_LOG_SD**2
    return np.linalg.inv(information)


def fit_landmarks(
    model: InstrumentModel,
    points: Mapping[str, tuple[float, float]],
    *,
    size: tuple[int, int],
    focal: float | None = None,
    focal_sd: float = FOCAL_LOG_SD,
    lines: Sequence[SeenLine] = (),
    near: Camera | None = None,
    seen: Sequence[SeenPoint] = (),
    click_sd_px: ClickSd = CLICK_SD_PX,
) -> LandmarkFit:
    """Pose of ``model`` from landmarks in pixels of the upright picture of ``size`` (width, height).

    ``lines``: straight parts of the instrument found in the picture besides; ``seen``: landmarks found in it. ``near``: a pose known to be
    close. ``click_sd_px``: how well the landmarks are known (px at 1280), all alike or by name.

    ``focal`` px: expected focal length where the file tells it, else a phone's; ``focal_sd``: sd of its logarithm.
    Raises LandmarkError with a sentence for
    landmarks that are too few, in a line, exchanged between the sides, or do not fit the instrument.
    """
    check_landmarks(points, size)
    prior = focal if focal else prior_focal(*size)
    names, world, xy, center, front, behind = _solve(model, points, size, prior, focal_sd, lines, near, seen, click_sd_px)
    best = min(front, key=lambda c: c[0]) if front else None
    count = len(world) + len(lines)
    allowed = 9.0 * 2 * count
    if best is None or best[0] > allowed:
        other = _solve(model, swapped(points), size, prior, focal_sd)[4]
        better = min((c[0] for c in other), default=np.inf)
        if better < 0.25 * (best[0] if best else np.inf) and better < 2 * allowed:
            raise LandmarkError(
                "The low-string and the high-string side are exchanged, or the picture is mirrored.",
                "Swap the sides, or tick 'mirrored' for a selfie video.", swap=True,
            )  # fmt: skip
        if best is None:
            raise LandmarkError("The landmarks show the instrument from behind.", "Check which landmark is which.", swap=bool(behind))
    if best[0] > 8 * allowed:
        px = np.sqrt(best[0] / (2 * count))
        raise LandmarkError(
            f"The landmarks do not fit {model.spec.name}: they miss it by about {px:.0f} times what a careful hand does.",
            "Check the worst landmark, or choose the instrument's size again.",
        )
    return _told(best, names, world, xy, center, 2 * count, focal_sd)


def best_pose(
    model: InstrumentModel, points: Mapping[str, tuple[float, float]], *, size: tuple[int, int], sd_px: float, near: Camera | None = None
) -> LandmarkFit | None:
    """The pose from the front that misses ``points`` (four of them at least) the least, however much that is; None where there is none.
    ``sd_px`` at 1280: how well they are known; ``near``: a pose known to be close."""
    names, world, xy, center, front, _ = _solve(model, points, size, prior_focal(*size), FOCAL_LOG_SD, near=near, click_sd_px=sd_px)
    if not front:
        return None
    return _told(min(front, key=lambda c: c[0]), names, world, xy, center, 2 * len(names), FOCAL_LOG_SD)


def _told(
    best: tuple[float, OptimizeResult], names: list[str], world: Array, xy: Array, center: Array, numbers: int, focal_sd: float
) -> LandmarkFit:  # fmt: skip
    """What a solution says: the camera, its covariance, and by how much it misses what a hand set (the first of ``world`` and ``xy``)."""
    cost, fit = best
    q, n = fit.x, len(names)
    camera = Camera(q[:3].copy(), q[3:6].copy(), float(np.exp(q[6])), (float(center[0]), float(center[1])))
    errors = np.linalg.norm(camera.project(world[:n]) - xy[:n], axis=1)
    dof = max(1, numbers + 1 - 7)
    spread = max(1.0, cost / dof) if dof > 3 and focal_sd > SHARED_LOG_SD else 1.0
    covariance = np.linalg.inv(fit.jac.T @ fit.jac + 1e-12 * np.eye(7)) * spread
    return LandmarkFit(
        camera=camera, covariance=covariance, rms_px=float(np.sqrt((errors**2).mean())), chi2=float(cost),
        errors_px=dict(zip(names, errors.tolist(), strict=True)),
        points={name: (float(x), float(y)) for name, (x, y) in zip(names, xy[:n], strict=True)},
    )  # fmt: skip
