"""The bow arm told by two phones: each elbow by how well its view tells it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from dolcezza.core.arm.figures import ArmSeries
from dolcezza.core.arm.trunk import TRUNK_SD_DEG
from dolcezza.core.base.arrays import Array

OF_SPACE = ("elbow_level_deg", "elbow_to_bow_plane_mm", "forearm_angle_deg", "wrist_angle_deg", "upper_arm_swing_deg")
"""Figures that are the same whoever looks; heights and places in a picture are each picture's own."""


def arms_joined(first: ArmSeries | None, second: ArmSeries | None, t_second: Array, at_s: Array) -> ArmSeries | None:
    """The first phone's arm, put right by the second's. ``at_s`` (n,): the first one's moments on the second's clock. Where only one has
    seen the arm it is told by that one; None where neither has."""
    if first is None and second is None:
        return None
    if second is None:
        return first
    there = _at(second, t_second, at_s)
    if first is None:
        # the second picture's places mean nothing in the first
        mine = {name: np.full_like(column, np.nan) if name.endswith("_px") else column for name, column in there.columns.items()}
        return replace(there, columns=mine, posture={})
    own, other = first.columns["elbow_level_sd_deg"], there.columns["elbow_level_sd_deg"]
    share = np.where(np.isfinite(other), np.where(np.isfinite(own), own**2 / (own**2 + other**2), 1.0), 0.0)
    columns = dict(first.columns)
    for name in OF_SPACE:
        columns[name] = _mixed(first.columns[name], there.columns[name], share)
    error = np.concatenate([(1 - share)[:, None] * first.level_error, share[:, None] * there.level_error], axis=1)
    columns["elbow_level_sd_deg"] = np.where(
        np.isfinite(own) | np.isfinite(other), np.sqrt((error**2).sum(axis=1) + TRUNK_SD_DEG**2), np.nan
    )
    joints = _mixed(first.joints_mm, there.joints_mm, share[:, None, None])
    return replace(first, columns=columns, joints_mm=joints, level_error=error)


def _mixed(own: Array, other: Array, share: Array) -> Array:
    """So much of the other as its share says, where both are known."""
    return np.where(np.isfinite(own) & np.isfinite(other), (1 - share) * own + share * other, np.where(np.isfinite(own), own, other))


def _at(arm: ArmSeries, t_s: Array, at_s: Array) -> ArmSeries:
    """An arm at other moments of its own clock; outside of what was filmed it is not known."""
    inside = (at_s >= t_s[0]) & (at_s <= t_s[-1])
    near = np.clip(np.searchsorted(0.5 * (t_s[1:] + t_s[:-1]), at_s), 0, len(t_s) - 1)
    columns = {name: np.where(inside, column[near], np.nan) for name, column in arm.columns.items()}
    joints = np.where(inside[:, None, None], arm.joints_mm[near], np.nan)
    return replace(arm, columns=columns, joints_mm=joints, down=arm.down[near], level_error=arm.level_error[near])
