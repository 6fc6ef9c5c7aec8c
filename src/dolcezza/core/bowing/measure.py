"""From followed instrument and chosen bow lines to the per-frame record with its ±."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import fill_gaps
from dolcezza.core.bowing.end_on import end_on
from dolcezza.core.bowing.faint import faintly_seen, may_be_stick
from dolcezza.core.bowing.hair import uncover_hair
from dolcezza.core.bowing.known_bias import NO_BIAS, KnownBias
from dolcezza.core.bowing.lifted import lifted
from dolcezza.core.bowing.parts import Parts
from dolcezza.core.bowing.series import COLUMNS, BowSeries, check, speed_cm_s
from dolcezza.core.bowing.short_hair import left_open
from dolcezza.core.bowing.smooth import smooth_bow, take_problem
from dolcezza.core.bowing.solve import ACROSS, FROG, HEAD, Solved, seen_gain, take_gain
from dolcezza.core.bowing.strings import BowSolution, solve_bow
from dolcezza.core.bowing.undrawn import astray, spikes, undrawn
from dolcezza.core.bowing.zero import Zero, find_zero
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.precision import BRIDGE_SD_DEG, FROG_TAKE_SD_PX, HEAD_TAKE_SD_PX
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.core.tracking.bow_space import MAX_BOW_ANGLE_DEG

MOST_POSITION_SD, UNKNOWN_SD = 0.12, 1.0
"""A place on the bow known worse than this (share of the hair) is missing: neither end was seen; it is then anywhere."""
MOMENT_SD_S = 0.006
"""A picture's time is known so well: it is stamped at the beginning of its exposure or at its end, and read out in up to a fiftieth of a
second, from memory."""
FORCED_MARGIN = 99.0
"""A string that the teacher has said is beyond any doubt."""
FEWEST_CONFIDENCE = 0.12
"""A frame with less is missing, never guessed."""


@dataclass(frozen=True)
class Measured:
    """What the bowing room gives: the record, the chosen solution behind it (for checks and for corrections), what its ± is made of, the
    zero if any."""

    series: BowSeries
    solution: BowSolution
    parts: Parts
    zero: Zero | None = None


def measure_bow(
    model: InstrumentModel, lines: BowLines, poses: Poses, t_s: Array, take_covariance: Array, *,
    scale_px: float, instrument_confidence: Array, hint: Array | None = None, silent: Array | None = None,
    zero_s: Sequence[float] = (), zero: Zero | None = None, lean_deg: Array | None = None, pose_covariance: Array | None = None,
    known: KnownBias = NO_BIAS, moment_sd_s: float = MOMENT_SD_S,
) -> Measured:  # fmt: skip
    """Solve, choose strings, smooth, leave out the lifted bow, and add the ±.

    Args: t_s (n,), take_covariance (22, 22) of the take's unknowns, instrument_confidence (n,), hint (n, strings) as in ``solve_bow``,
    silent (n,) as in ``lifted``; zero_s: moments at which the bow is straight, or a ``zero`` that is known
    already; lean_deg (4,) off the strings' planes; pose_covariance
    (n, 6, 6) of each frame's own turn and move in the instrument's frame; ``known``: what the phone is known to add (a zero stands before
    its angle); ``moment_sd_s``: how well a picture's moment is known. Raises TrackingError if the record does not hang together.
    """
    n = len(t_s)
    solution = solve_bow(
        model, lines, poses, scale_px=scale_px, rate_hz=1 / float(np.median(np.diff(t_s))), hint=hint, lean_deg=lean_deg
    )  # fmt: skip
    by_hand = lines.set_by_hand
    uncovered = uncover_hair(model, lines, poses, solution.params, solution.string)
    lines = uncovered.lines
    smoothed, covariance = smooth_bow(
        model, lines, poses, solution.string, solution.params, t_s, scale_px=scale_px, lean_deg=lean_deg
    )  # fmt: skip
    problem, _ = take_problem(model, lines, poses, solution.string, np.asarray(t_s, float), scale_px=scale_px, lean_deg=lean_deg)
    solved = Solved(smoothed, solution.cost, covariance, np.zeros(n))
    # three more unknowns of the take: how far the middle of what is seen of the hair lies beside the hair's, and its ends from their places
    beside = seen_gain(problem, solved, ACROSS) * uncovered.sd_px[:, None]
    before = seen_gain(problem, solved, HEAD) * HEAD_TAKE_SD_PX * scale_px
    hidden = seen_gain(problem, solved, FROG) * FROG_TAKE_SD_PX * scale_px
    gain = np.concatenate([take_gain(problem, solved), np.stack([beside, before, hidden], axis=2)], axis=2)
    if faintly_seen(lines):
        gain = np.concatenate([gain, may_be_stick(problem, solved)], axis=2)
    take_covariance = scipy.linalg.block_diag(take_covariance, np.eye(gain.shape[2] - len(take_covariance)))
    if pose_covariance is not None:
        own = gain[:, :, :6]
        covariance = covariance + np.einsum("nak,nkl,nbl->nab", own, pose_covariance, own)
    sd = _sd(covariance, gain, take_covariance)
    sd[:, 1] = np.hypot(sd[:, 1], BRIDGE_SD_DEG)
    solved_at = (solution.string >= 0) & np.isfinite(smoothed).all(axis=1)
    sd[:, 3] = np.hypot(sd[:, 3], left_open(problem, smoothed, solved_at, np.asarray(t_s, float)))
    confidence = lines.confidence * np.clip(instrument_confidence / 0.3, 0.3, 1.0)
    measured = solved_at & (confidence >= FEWEST_CONFIDENCE)
    # lines are looked for in the directions of bows; what comes out far beyond is something else
    measured &= np.abs(smoothed[:, 1]) <= MAX_BOW_ANGLE_DEG + 2 * sd[:, 1]
    measured &= ~end_on(model, poses, smoothed, solution.string)
    leapt = spikes(np.where(measured & (sd[:, 3] < MOST_POSITION_SD), smoothed[:, 3], np.nan), np.asarray(t_s, float)) & ~by_hand
    if leapt.any():
        smoothed[leapt, 3] = np.interp(t_s[leapt], t_s[~leapt], smoothed[~leapt, 3])
        sd[leapt, 3] = np.hypot(sd[leapt, 3], UNKNOWN_SD)
    speed = speed_cm_s(fill_gaps(smoothed[:, 3], longest=3), np.asarray(t_s, float), model.spec.hair_length)
    sd[:, 3] = np.hypot(sd[:, 3], moment_sd_s * np.nan_to_num(10.0 * np.abs(speed)) / model.spec.hair_length)
    contact, angle = (np.where(measured, smoothed[:, k], np.nan) for k in (0, 1))
    contact_alone = np.sqrt(np.maximum(covariance[:, 0, 0], 0.0))
    off = measured & lifted(model, contact, sd[:, 0], angle, speed, np.asarray(t_s, float), silent, contact_alone)
    measured &= ~off
    measured &= ~astray(np.where(measured, smoothed[:, 0], np.nan), np.asarray(t_s, float), by_hand)
    told = np.where(measured & (sd[:, 3] < MOST_POSITION_SD), smoothed[:, 3], np.nan)
    measured &= ~undrawn(told, smoothed[:, 0], np.asarray(t_s, float), silent) | by_hand
    if zero is None and len(zero_s):
        angle_alone = np.sqrt(np.maximum(covariance[:, 1, 1], 1e-12))
        zero = find_zero(np.where(measured, smoothed[:, 1], np.nan), angle_alone, np.asarray(t_s, float), zero_s, gain[:, 1])
    if zero is not None:
        # what the landmarks put into the angle at the zero has gone; what they put in elsewhere besides stays
        gain[:, 1] -= zero.gain
        sd[:, 1] = np.hypot(_sd(covariance, gain, take_covariance)[:, 1], zero.sd_deg)
    else:
        sd[:, 1] = np.hypot(sd[:, 1], known.angle_sd_deg)
    sd[:, 0] = np.hypot(sd[:, 0], known.contact_sd_mm)
    bias, bias_sd = (zero.bias_deg, zero.sd_deg) if zero else (known.angle_deg, known.angle_sd_deg)
    off_mm = known.contact_mm
    take_sd = np.minimum(_sd(0 * covariance, gain, take_covariance)[:, 1], sd[:, 1])
    values = bow_columns(
        model, poses, smoothed, sd, take_sd, np.maximum(solution.string, 0), measured, np.asarray(t_s, float), bias, off_mm
    )
    values["string_margin"] = np.where(measured, np.clip(solution.margin, -FORCED_MARGIN, FORCED_MARGIN), np.nan)
    values["lifted"] = off.astype(float)
    values["moment_sd_s"] = np.full(n, moment_sd_s)
    values["confidence"] = np.where(measured, confidence, 0.0)
    values["instrument_confidence"] = np.asarray(instrument_confidence, float)
    names = [model.stops[s] if ok else "" for s, ok in zip(solution.string, measured, strict=True)]
    series = BowSeries(values, names)
    check(series)
    straightened = smoothed - [off_mm, bias, 0.0, 0.0]
    own = covariance + np.diag([known.contact_sd_mm**2, bias_sd**2, 0.0, 0.0])
    parts = Parts(
        np.asarray(t_s, float), straightened, own, gain, take_covariance, solution.string, measured, problem.prior_sd, solution.cost
    )
    return Measured(series, solution, parts, zero)


def bow_columns(
    model: InstrumentModel, poses: Poses, params: Array, sd: Array, take_sd: Array, string: Array, measured: Array, t_s: Array, bias: float,
    off_mm: float = 0.0,
) -> dict[str, Array]:  # fmt: skip
    """The record's columns that come from the bow, (n,) each, NaN where not ``measured`` (n,).

    ``params`` and ``sd`` (n, 4), ``take_sd`` (n,) the angle's share of ± that is the same all through the take, ``string`` (n,) index,
    ``bias`` deg to take off the angle, ``off_mm`` off the contact point.
    """
    told = sd[:, 3] <= MOST_POSITION_SD
    speed = speed_cm_s(fill_gaps(params[:, 3], longest=3), t_s, model.spec.hair_length)
    values = {name: np.full(len(t_s), np.nan) for name in COLUMNS if name != "string"}

    def put(name: str, column: Array) -> None:
        values[name] = np.where(measured, column, np.nan)

    values["t_s"] = t_s
    put("bow_angle_deg", params[:, 1] - bias)
    put("bow_angle_sd_deg", sd[:, 1])
    put("bow_angle_take_sd_deg", take_sd)
    put("contact_point_mm", params[:, 0] - off_mm)
    put("contact_point_sd_mm", sd[:, 0])
    put("bow_position", np.where(told, np.clip(params[:, 3], 0.0, 1.0), np.nan))
    put("bow_position_sd", sd[:, 3])
    put("contact_fraction", (params[:, 0] - off_mm) / model.spec.bridge_to_fingerboard)
    put("inclination_deg", params[:, 2])
    put("inclination_sd_deg", sd[:, 2])
    put("bow_speed_cm_s", np.where(told, speed, np.nan))
    _place_in_picture(model, values, params, bias, string, poses, measured)
    return values


def _sd(covariance: Array, gain: Array, take_covariance: Array) -> Array:
    """Standard deviations (n, 4) of the parameters: the picture's noise and the priors, and what is not known of the take."""
    total = covariance + np.einsum("nak,kl,nbl->nab", gain, take_covariance, gain)
    return np.asarray(np.sqrt(np.maximum(np.einsum("naa->na", total), 1e-12)))


def _place_in_picture(
    model: InstrumentModel, values: dict[str, Array], params: Array, bias: float, string: Array, poses: Poses, measured: Array
) -> None:
    ends = hair_ends(model, params, string)
    touch = model.string_point(string, params[:, 0])
    straight = hair_ends(model, params * [1.0, 0.0, 1.0, 1.0] + [0.0, bias, 0.0, 0.0], string)[:, 1]
    seen = poses.see(np.stack([ends[:, 0], ends[:, 1], touch, straight], axis=1))
    for k, what in enumerate(("frog", "head", "contact", "straight")):
        for axis, letter in enumerate("xy"):
            values[f"{what}_{letter}_px"] = np.where(measured, seen[:, k, axis], np.nan)
    bridge = np.array([model.landmarks["bridge_bass"], model.landmarks["bridge_treble"]])
    at = poses.see(np.repeat(bridge[None], len(params), axis=0))
    for k, what in enumerate(("bridge_bass", "bridge_treble")):
        for axis, letter in enumerate("xy"):
            values[f"{what}_{letter}_px"] = at[:, k, axis]
