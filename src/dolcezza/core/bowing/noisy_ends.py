"""How well the hair's ends are seen in this very take: as well as they usually are, or only as well as they keep from leaping about.

A bow moves smoothly, and both its ends alike. Ends that leap from frame to frame cling to what lies behind the bow, dull hair, strings,
folds, and are off by as much for longer.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import noise_of_bends
from dolcezza.core.tracking.bow_path import BowLines

USUAL_PX = 1.3
"""An end leaps by so much (px of a picture 1280 wide, one sd) where it is seen well: the steps in which it is looked for."""
FOR_LONGER = 2.0
"""An end that clings to what it passes errs by so many times as much as it leaps, for some frames. From memory of rendered takes."""
FEWEST = 12
"""Fewer frames say nothing of it."""


def as_noisy_as_seen(lines: BowLines, *, scale_px: float) -> BowLines:
    """The lines with ``head_sd`` and ``frog_sd`` as wide as the ends leap about in this take; those that the teacher has set stay."""
    point, way = lines.point, lines.direction
    head, frog = (point + way * end[:, None] for end in (lines.head, lines.frog))
    leaps = [_leap(end, way) for end in (head, frog)]
    apart = _leap(head - frog, way)
    sds = []
    for leap, sd in zip(leaps, (lines.head_sd, lines.frog_sd), strict=True):
        # what both ends do together the bow does
        own = np.nanmin([leap, apart]) / scale_px if np.isfinite(leap) else 0.0
        more = FOR_LONGER * np.sqrt(max(0.0, own**2 - USUAL_PX**2))
        sds.append(np.where(lines.set_by_hand, sd, np.maximum(sd, more)))
    return replace(lines, head_sd=sds[0], frog_sd=sds[1])


def _leap(end: Array, way: Array) -> float:
    """By how much (px, one sd) an end (n, 2) leaps along the bow (``way`` (n, 2)) from frame to frame; NaN if too little is seen of it."""
    bend = (np.diff(end, n=2, axis=0) * way[1:-1]).sum(axis=1)
    bend = bend[np.isfinite(bend)]
    return noise_of_bends(bend) if len(bend) >= FEWEST else float("nan")
