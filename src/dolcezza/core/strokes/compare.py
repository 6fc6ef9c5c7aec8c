"""Two groups of strokes set beside each other."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.strokes.figures import Stroke


def ratio(first: Sequence[Stroke], second: Sequence[Stroke], field: str) -> tuple[float, float] | None:
    """Mean of a stroke's ``field`` in the second group over that in the first, and its sd by how strokes differ; None where fewer than two
    of either are known."""
    x, y = (np.array([v for s in group if np.isfinite(v := float(getattr(s, field)))]) for group in (first, second))
    if min(len(x), len(y)) < 2:
        return None
    told = float(y.mean() / x.mean())
    return told, told * float(np.hypot(*(np.std(v, ddof=1) / np.sqrt(len(v)) / v.mean() for v in (x, y))))
