"""How long the parts of a body are, and where a player's shoulder is when the instrument is in place.

Lengths are shares of stature (Drillis and Contini 1964, as tabled by Winter; from memory): upper arm 0.186, forearm 0.146,
hand 0.108, shoulder breadth 0.259. The stature that goes with an instrument is common practice of fitting sizes, no source.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.model import InstrumentModel

UPPER_ARM, FOREARM, HAND, SHOULDER_BREADTH = 0.186, 0.146, 0.108, 0.259
JOINTS_APART = 0.22
"""Distance of the two shoulder joints (share of stature): the breadth less the muscle outside (from memory)."""
TRUNK, EARS_ABOVE = 0.29, 0.13
"""From the middle of the shoulder joints to that of the hips', and up to that of the ears (share of stature, from memory)."""
STATURE_LOG_SD = 0.1
ARM_RATIO_LOG_SD = 0.06
"""How much the ratio of upper arm to forearm differs between people."""
_GROWN_UP = 1680.0
_STATURE = {
    "violin": ((0.65, 1020.0), (0.72, 1130.0), (0.80, 1230.0), (0.87, 1330.0), (0.94, 1480.0), (1.0, _GROWN_UP)),
    "viola": ((0.86, 1330.0), (0.94, 1480.0), (1.01, 1600.0), (1.08, _GROWN_UP)),
    "cello": ((0.68, 1150.0), (0.77, 1280.0), (0.85, 1420.0), (0.92, 1540.0), (1.0, _GROWN_UP)),
}


@dataclass(frozen=True)
class Build:
    """What is known of a player's body before looking. Lengths in mm, directions in the instrument's frame.

    ``shoulder`` (3,) of the bow arm; ``down`` (3,) unit vector along the trunk to the hips; ``ahead`` (3,) the way the player
    faces; ``wrist`` (3,): from the
    frog's end of the hair, along the bow to the tip, along the string to the nut, and away from the top; ``elbow_slope`` (rad): by how much
    more the elbow hangs at the tip than at the frog, as a turn about the line from shoulder to wrist.
    """

    stature: float
    upper_arm: float
    forearm: float
    shoulder: Array
    down: Array
    ahead: Array
    wrist: Array
    elbow_slope: float


def stature(family: str, body_scale: float) -> float:
    """Usual stature (mm) of a player of this size of instrument."""
    scale, height = np.array(_STATURE[family]).T
    return float(np.interp(body_scale, scale, height))


def build(model: InstrumentModel) -> Build:
    """A player of usual build with this instrument in place.

    Violin and viola: the neck is level with the floor, the top tilted some 20 degrees to the treble side; with the
    instrument half left of straight ahead, the bow arm's shoulder lies as far behind the end button as beside it, a little lower. The
    wrist is behind the stick on the player's side, three quarters of a hand's length from where the hair begins; the elbow hangs more at
    the tip than at the frog, where it rises with the wrist (common practice, no source; the figures fit the rendered players). Cello:
    the strings lean back some 30 degrees, the bow arm's shoulder is above and behind the bow's side of the upper bout.
    """
    height = stature(model.spec.family, model.spec.body_scale)
    arms = UPPER_ARM * height, FOREARM * height
    if model.spec.family == "cello":
        down = np.array([-0.87, -0.1, -0.48])
        shoulder = np.array([0.17, 0.102, 0.1]) * height
        wrist = np.array([-0.016, 0.052, 0.018]) * height
        ahead = np.array([0.0, 0.0, 1.0])
        slope = 0.0
    else:
        tilt = np.radians(20.0)
        down = np.array([0.0, -np.sin(tilt), -np.cos(tilt)])
        shoulder = model.landmarks["end_button"] + np.array([-0.10, -0.105, -0.015]) * height
        wrist = np.array([-0.018, -0.064, 0.042]) * height
        ahead = np.array([1.0, -1.0, 0.0])
        slope = 0.3
    down /= np.linalg.norm(down)
    ahead -= (ahead @ down) * down
    return Build(height, *arms, shoulder, down, ahead / np.linalg.norm(ahead), wrist, slope)
