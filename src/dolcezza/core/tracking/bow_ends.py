"""Where the hair ends along the bow's line, over the whole take.

Every frame has a strip of ridge contrast along its line. The hair reaches as far as there is ridge; a bright picture on
the wall or a white shirt can hide its last part for some frames, the fingers hide its beginning. The head's end is
therefore the best path through all strips, and the frog's end is told as "here at the latest".
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.tracking.bow_find import RIDGE_FLOOR, Candidate

Array = np.ndarray

HAND_GAP_COST = 0.2
"""Hair is likely to come out again beyond the fingers near the frog: a gap there costs less than elsewhere."""
GAP_COST = 0.6
MOST_FRAME_COST = 10.0
"""What one frame may weigh against its neighbours: a burst of frames that lose the head must not drag it along."""
EASY_STEP_SHARE = 0.025
"""How far the head may move between two frames at no great cost, as a share of the hair seen (at 30 frames/s about half
a metre a second)."""
PICTURE_EDGE_SAMPLES = 4


def _evidence(strip: Array) -> Array:
    typical = float(np.percentile(strip, 80))
    return np.clip((strip - max(RIDGE_FLOOR, 0.3 * typical)) / max(8.0, 0.3 * typical), -GAP_COST, 1.0)


def _frog(evidence: Array, zero: int) -> float:
    behind = np.cumsum(np.maximum(evidence[:zero][::-1], -HAND_GAP_COST))
    return float(zero - 2 - int(behind.argmax())) + 0.0 if len(behind) and behind.max() > 0 else np.nan


def hair_ends_along(chosen: list[Candidate | None]) -> tuple[Array, Array]:
    """Frog end and head end of every frame, two arrays (n,) in px along the line from its crossing; NaN = not found.

    An end that lies at the edge of the picture was not seen.
    """
    n = len(chosen)
    frog, head = np.full(n, np.nan), np.full(n, np.nan)
    known = [k for k, c in enumerate(chosen) if c is not None and len(c.strip) > 20]
    if not known:
        return frog, head
    lines = {k: c for k, c in enumerate(chosen) if c is not None}
    step = lines[known[0]].step
    reach = max(int((lines[k].strip_start / step) + len(lines[k].strip)) for k in known) + 1
    costs, limits = np.zeros((n, reach)), np.zeros(n, int)
    spans = []
    for k in known:
        line = lines[k]
        evidence = _evidence(line.strip)
        zero = int(np.clip(round(-line.strip_start / step), 1, len(evidence) - 1))
        at = _frog(evidence, zero)
        if at > PICTURE_EDGE_SAMPLES:
            frog[k] = line.strip_start + step * at
        ahead = np.cumsum(evidence[zero:])
        limits[k] = min(len(ahead), reach)
        row = np.full(reach, MOST_FRAME_COST)
        row[: limits[k]] = np.minimum(0.35 * (ahead.max() - ahead[: limits[k]]), MOST_FRAME_COST)
        costs[k] = row
        spans.append(ahead.argmax() + zero - (at if np.isfinite(at) else zero))
    easy = max(3.0, EASY_STEP_SHARE * float(np.median(spans)) / 1.0)
    path = _best_path(costs, easy)
    for k in known:
        if path[k] < limits[k] - PICTURE_EDGE_SAMPLES:
            zero = int(np.clip(round(-lines[k].strip_start / step), 1, len(lines[k].strip) - 1))
            head[k] = lines[k].strip_start + step * (zero + path[k] + 1)
    return frog, head


def _best_path(costs: Array, easy: float) -> Array:
    """Cheapest path (n,) of column numbers through costs (n, m); a step of ``easy`` columns costs a half."""
    n, m = costs.shape
    window = int(min(m - 1, np.ceil(8 * easy)))
    moves = np.arange(-window, window + 1)
    price = 0.5 * (moves / easy) ** 2
    total = costs[0].copy()
    back = np.zeros((n, m), np.int32)
    padded = np.full(m + 2 * window, np.inf)
    columns = np.arange(m)
    for k in range(1, n):
        padded[window : window + m] = total
        reach = np.lib.stride_tricks.sliding_window_view(padded, 2 * window + 1) + price
        best = reach.argmin(axis=1)
        back[k] = columns + best - window
        total = reach[columns, best] + costs[k]
    path = np.zeros(n, int)
    path[-1] = int(total.argmin())
    for k in range(n - 1, 0, -1):
        path[k - 1] = back[k, path[k]]
    return path
