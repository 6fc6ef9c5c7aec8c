"""What a measurement leaves behind on the cache, so that a part of the take can be measured again at once: lines, poses, sound, arm."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.arm.figures import ArmSeries
from dolcezza.core.base.arrays import Array
from dolcezza.core.body.points import BodySeen
from dolcezza.core.bowing.known_bias import NO_BIAS, KnownBias
from dolcezza.core.bowing.measure import MOMENT_SD_S, Measured, measure_bow
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.bowing.zero import Zero
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.pipeline.sound_pass import Heard
from dolcezza.core.strokes.edits import EditKind, StrokeEdit
from dolcezza.core.strokes.figures import find_spans
from dolcezza.core.tracking.bow_path import BowLines

EITHER_HAND = 0.35
"""The bow is seen no more plainly than this, while it is not known which hand holds it: in the mirror's picture every figure is another."""
FORCED = 1e3
"""What a string costs that the teacher says is not the one."""


@dataclass(frozen=True)
class MeasurementCache:
    """n frames at ``t_s`` (n,) s. ``take_covariance`` (22, 22) of the take's unknowns, ``pose_covariance`` (n, 6, 6) of every frame's own
    pose, ``lean_deg`` (4,) off the strings' planes, ``instrument_confidence`` (n,); ``scale_px`` and ``length_px`` as the
    tracking takes them; ``zero``: what was taken off every angle; ``keys_s``: the marked moments (s)
    from which the instrument was followed; ``whole_bow``: the hair did not stand out, its lines are those of whole bows;
    ``known``: what the phone adds from where it stands; ``moment_sd_s``: how well a picture's moment is known; ``handed_told``: whether it
    is known which hand bows; ``held``: in which share of the looks that hand is where the frog is (NaN: nobody was seen)."""

    t_s: Array
    lines: BowLines
    poses: Poses
    take_covariance: Array
    pose_covariance: Array
    lean_deg: Array
    instrument_confidence: Array
    scale_px: float
    length_px: float
    zero: Zero | None = None
    heard: Heard | None = None
    body: BodySeen | None = None
    arm: ArmSeries | None = None
    keys_s: tuple[float, ...] = ()
    whole_bow: bool = False
    known: KnownBias = NO_BIAS
    moment_sd_s: float = MOMENT_SD_S
    handed_told: bool = True
    held: float = float("nan")

    def part(self, rows: slice) -> MeasurementCache:
        """The same for some frames only (without the arm)."""
        lines, poses = self.lines.rows(rows), self.poses.rows(rows)
        return replace(
            self, t_s=self.t_s[rows], lines=lines, poses=poses, instrument_confidence=self.instrument_confidence[rows],
            pose_covariance=self.pose_covariance[rows], arm=None,
        )  # fmt: skip


def solve(
    cache: MeasurementCache, model: InstrumentModel, spec: InstrumentSpec, *, zero_s: tuple[float, ...] = (), edits: tuple[StrokeEdit,
    ...] = (), more: Array | None = None,
) -> Measured:  # fmt: skip
    """Measure the bow in all frames of the cache; strings that the teacher has said are taken for granted. ``more`` (n, 7): what
    each string and pair costs besides, by what else is known.

    Raises TrackingError if the record does not hang together.
    """
    heard, t_s = cache.heard, cache.t_s
    hint = heard.string_costs(t_s, spec.family) if heard is not None else None
    if more is not None:
        hint = more if hint is None else hint + more

    def measured(costs: Array | None) -> Measured:
        found = measure_bow(
            model, cache.lines, cache.poses, t_s, cache.take_covariance, scale_px=cache.scale_px, lean_deg=cache.lean_deg,
            pose_covariance=cache.pose_covariance,
            instrument_confidence=cache.instrument_confidence, hint=costs,
            silent=heard.silence(t_s, spec) if heard is not None else None, zero_s=zero_s, zero=cache.zero, known=cache.known,
            moment_sd_s=cache.moment_sd_s,
        )  # fmt: skip
        return found if cache.handed_told else replace(found, series=of_either_hand(found.series))

    found = measured(hint)
    told = _told_strings(found.series, heard, edits, spec)
    if not told:
        return found
    costs = np.zeros((len(t_s), len(model.stops))) if hint is None else hint.copy()
    for start, end, string in told:
        inside = (t_s >= start) & (t_s <= end)
        costs[inside] = FORCED
        costs[np.flatnonzero(inside), spec.strings.index(string)] = 0.0
    return measured(costs)


def of_either_hand(series: BowSeries) -> BowSeries:
    """The record of a take of which it is not known which hand bows."""
    return series.with_columns({"confidence": np.minimum(series["confidence"], EITHER_HAND)})


def _told_strings(
    series: BowSeries, heard: Heard | None, edits: tuple[StrokeEdit, ...], spec: InstrumentSpec
) -> list[tuple[float, float, str]]:  # fmt: skip
    """Stretches (s) in which the teacher has said another string than was found."""
    if not any(e.what is EditKind.STRING for e in edits):
        return []
    spans = find_spans(series, heard.loud if heard is not None else None, edits)
    return [(e.span.start_s, e.span.end_s, e.string) for e in spans if e.string and e.string in spec.strings]
