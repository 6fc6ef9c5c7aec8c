"""What a second phone's video of the same playing was for."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.pipeline.fit_file import Fit


@dataclass(frozen=True)
class SecondPhone:
    """What the second phone's video was for. ``offset_s`` and ``drift``: a moment t of the first is t + offset + drift t in it, ± ``sd_s``;
    ``between_deg``: how far apart the two stood as the instrument (else the player) sees them; ``alone`` and ``together``: the median ± of
    angle (deg) and contact (mm) from the first phone alone and from both, NaN where it shows the player and not the instrument;
    ``series``: the record on the second one's clock, px as filmed, None there; ``elbow``: the median ± (deg) of the elbow's level alone and
    together."""

    path: Path
    fit: Fit
    offset_s: float
    drift: float
    sd_s: float
    between_deg: float
    alone: tuple[float, float]
    together: tuple[float, float]
    series: BowSeries | None
    elbow: tuple[float, float] = (float("nan"), float("nan"))
