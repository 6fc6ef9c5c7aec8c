"""How much of the hair the bow hand hides because it stands out towards the camera.

Fingers lie on the frog behind the place where the hair begins, and stand out from the stick. Seen square to the bow they hide nothing of
the hair; the more the bow points away from the camera, the more of it lies behind them (parallax). It is the place on the bow that this
puts right; what the take's lengths are is told by other frames and other ends better than by a hand of usual size.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_ends import FROG_SEEN_SD_PX
from dolcezza.core.tracking.bow_path import BowLines

STANDS_OUT_MM, BEHIND_MM = 14.0, 5.0
"""How far fingers stand out from the hair's middle, and lie behind its beginning; from memory of hands: a finger is some 15 mm thick."""
KNOWN_SHARE = 0.6
"""One sd of what is hidden, as a share of it: hands differ."""


def from_behind_hand(model: InstrumentModel, lines: BowLines, poses: Poses, params: Array, string: Array, *, scale_px: float) -> BowLines:
    """The lines with the hair's beginning where it is behind the hand, by a first solution ``params`` (n, 4) on ``string`` (n,), -1 = none.

    An end that was marked (by a sticker, or by hand) stays where it is."""
    known = (string >= 0) & np.isfinite(params).all(axis=1) & np.isfinite(lines.frog) & (lines.frog_sd >= FROG_SEEN_SD_PX)
    if not known.any():
        return lines
    ends = hair_ends(model, np.where(known[:, None], params, 0.0), np.maximum(string, 0))
    frog, head = (np.einsum("nij,nj->ni", poses.rotation, ends[:, k]) + poses.translation for k in (0, 1))
    hidden = np.where(known, hidden_mm(frog, head) * poses.focal / np.maximum(frog[:, 2], 1.0), 0.0)
    return replace(lines, frog=lines.frog - hidden, frog_sd=np.hypot(lines.frog_sd, KNOWN_SHARE * hidden / scale_px))


def hidden_mm(frog: Array, head: Array) -> Array:
    """How much of the hair lies behind the hand, as wide as it looks there (n,) mm square to the line of sight; ``frog`` and ``head``
    (n, 3) mm in camera space."""
    along = (head - frog) / np.linalg.norm(head - frog, axis=1, keepdims=True)
    away = np.einsum("ni,ni->n", along, frog) / np.linalg.norm(frog, axis=1)
    hidden = STANDS_OUT_MM * away - BEHIND_MM * np.sqrt(np.maximum(0.0, 1 - away**2))
    return np.asarray(np.maximum(0.0, hidden))
