"""How far each joint of the bow arm moves: degrees a tenth of the bow, by third of the bow and by its speed.

The upper arm's direction, the elbow's angle and the wrist's are followed over each passage of a stroke through a part of the bow; their
slope against the place on the bow is what a joint does there.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.arm.joint_contributions import BANDS_CM_S, JOINTS
from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import Stroke

THIRDS = {"frog": (0.0, 1 / 3), "middle": (1 / 3, 2 / 3), "tip": (2 / 3, 1.0)}
LEAST_WAY = 0.12
"""A passage that uses less of the hair tells nothing of the joints."""
FEWEST_FRAMES = 6
FLOOR_DEG = (0.4, 0.4, 1.0)
"""What the trunk's own turn and the picture's noise put into each joint's degrees a tenth of the bow (one sd)."""
SHARE = (0.15, 0.1, 0.3)
"""How well the arm in space gives the size of a turn (one sd, share of it): the wrist is told from few points."""


@dataclass(frozen=True)
class JointWork:
    """Degrees a tenth of the bow of shoulder, elbow and wrist with one sd each, from so many ``strokes``."""

    degrees: tuple[float, float, float]
    sd: tuple[float, float, float]
    strokes: tuple[int, ...]

    def leads(self, joint: int) -> bool:
        """Whether a joint surely moves more than each of the others."""
        return all(self.degrees[joint] - self.degrees[k] > 2 * float(np.hypot(self.sd[joint], self.sd[k])) for k in range(3) if k != joint)

    def surely_led_by(self) -> str:
        """The joint that surely moves most; "" where none does."""
        return next((JOINTS[k] for k in range(3) if self.leads(k)), "")


def work_by_third(series: BowSeries, strokes: Sequence[Stroke]) -> dict[str, JointWork | None]:
    """The joints' work in each third of the bow; None where too little was seen."""
    return {name: _work(series, strokes, ends, None) for name, ends in THIRDS.items()}


def work_by_speed(series: BowSeries, strokes: Sequence[Stroke]) -> dict[str, JointWork | None]:
    """The joints' work of slow, medium and fast strokes, by their mean speed."""
    low, high = BANDS_CM_S
    bands = {"slow": (0.0, low), "medium": (low, high), "fast": (high, np.inf)}
    return {name: _work(series, strokes, (0.0, 1.0), band) for name, band in bands.items()}


def _work(
    series: BowSeries, strokes: Sequence[Stroke], ends: tuple[float, float], band: tuple[float, float] | None
) -> JointWork | None:  # fmt: skip
    place = series["bow_position"]
    told = np.isfinite(place)
    angles = [series[name] for name in ("elbow_level_deg", "upper_arm_swing_deg", "forearm_angle_deg", "wrist_angle_deg")]
    for values in angles:
        told &= np.isfinite(values)
    rows, numbers = [], []
    for s in strokes:
        if band is not None and not band[0] <= s.mean_speed_cm_s < band[1]:
            continue
        inside = np.flatnonzero(told & (series.t >= s.start_s) & (series.t <= s.end_s) & (place >= ends[0]) & (place <= ends[1]))
        if len(inside) < FEWEST_FRAMES or np.ptp(place[inside]) < LEAST_WAY:
            continue
        rows.append(_slopes(place[inside], *(values[inside] for values in angles)))
        numbers.append(s.number)
    if not rows:
        return None
    each = np.array(rows)
    mean = each.mean(axis=0)
    between = each.std(axis=0, ddof=1) / np.sqrt(len(each)) if len(each) > 1 else 0.5 * mean
    sd = np.sqrt(between**2 + np.square(FLOOR_DEG) + (np.array(SHARE) * mean) ** 2)
    a, b, c = mean.tolist()
    x, y, z = sd.tolist()
    return JointWork((a, b, c), (x, y, z), tuple(numbers))


def _slopes(place: Array, level: Array, swing: Array, elbow: Array, wrist: Array) -> Array:
    """Degrees a tenth of the bow of the three joints over one passage (n,)."""
    up, round_ = np.radians(level), np.radians(swing)
    arm = np.column_stack([np.sin(up) * np.cos(round_), np.sin(up) * np.sin(round_), np.cos(up)])
    way = place - place.mean()
    slope = way / (way @ way)
    shoulder = np.degrees(np.linalg.norm(slope @ (arm - arm.mean(axis=0))))
    return np.asarray(0.1 * np.abs([shoulder, slope @ elbow, slope @ wrist]))
