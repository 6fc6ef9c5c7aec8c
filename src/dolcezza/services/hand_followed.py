"""The bow hand followed through a measured take: looked at some times in every stroke, in the part of the picture that is around the frog.

Nothing of it is kept but the figures. A hand that is too small in the picture is not guessed at: it is to be filmed.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError, ModelsMissing
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.hold.fit import hand_size
from dolcezza.core.hold.followed import FEWEST_LOOKS, Followed, HandLook, follow_hand
from dolcezza.core.media.video import FrameStore
from dolcezza.core.models.asked import Models
from dolcezza.core.strokes.figures import Stroke
from dolcezza.services.body_model import BodyModel
from dolcezza.services.hand_frames import part_around

LOOKS_A_STROKE, MOST_LOOKS = 10, 240
AROUND_SHARE = 0.8
"""A hand is found more surely with the arm it belongs to: so much around it, as a share of the bow's length in the picture."""
NETS_PX = 512
"""The part with the hand is shown to the models so large."""
SMALLEST_PX = 28
"""A hand of fewer pixels (across the palm) shows nothing of its fingers."""
NEAR_FROG = 0.17
"""The hand's middle lies within this share of the bow's length from the frog, or it is another hand."""
SEEN_SHARE = 0.4
"""In fewer of the looks than this a hand was found: it cannot be followed."""


def hand_over_take(
    video: Path, series: BowSeries, strokes: Sequence[Stroke], size: tuple[int, int], hair_mm: float, *, models: Models | None = None
) -> Work[list[Followed]]:  # fmt: skip
    """What the bow hand does over a take. Raises MediaError where the hand is too small or too seldom seen."""
    chosen = _chosen(series, strokes)
    models = models or BodyModel()
    models.warm("hands")
    looks: list[HandLook] = []
    store = FrameStore(video)
    try:
        for k, (frame, stroke) in enumerate(chosen):
            yield Progress(Stage.HANDS, k, len(chosen))
            look = _look(store, series, frame, stroke, size, models)
            if look is not None:
                looks.append(look)
    except ModelsMissing as error:
        raise MediaError(str(error), "Analyse the take with the models, or look at the hand by eye.") from error
    finally:
        store.close()
    if not chosen:
        raise MediaError("No stroke was measured in this take.", "Analyse a take in which the whole bow is seen.")
    across = float(np.median([hand_size(look.points) for look in looks])) if looks else 0.0
    if len(looks) < max(FEWEST_LOOKS, SEEN_SHARE * len(chosen)) or across < SMALLEST_PX:
        raise MediaError(
            f"The bow hand was seen in {len(looks)} of {len(chosen)} looks ({across:.0f} px across): too little to follow it.",
            "Film the hand alone, as large as the picture.",
        )
    return follow_hand(looks, hair_mm)


def _chosen(series: BowSeries, strokes: Sequence[Stroke]) -> list[tuple[int, Stroke]]:
    """Frames, evenly over the middle of every stroke, in which the bow was measured."""
    each = max(2, min(LOOKS_A_STROKE, MOST_LOOKS // max(1, len(strokes))))
    every = max(1, -(-len(strokes) * each // MOST_LOOKS))
    seen = np.isfinite(series["frog_x_px"]) & np.isfinite(series["head_x_px"]) & np.isfinite(series["bow_position"])
    out = []
    # of a long take some strokes, two after each other: both ways of the bow
    for stroke in (s for k, s in enumerate(strokes) if k // 2 % every == 0):
        inside = np.flatnonzero(seen & (series.t > stroke.start_s) & (series.t < stroke.end_s))
        if len(inside) >= each:
            picked = inside[np.linspace(0, len(inside) - 1, each + 2)[1:-1].round().astype(int)]
            out += [(int(k), stroke) for k in picked]
    return out


def _look(store: FrameStore, series: BowSeries, k: int, stroke: Stroke, size: tuple[int, int], models: Models) -> HandLook | None:
    frog, head = (np.array([series[f"{end}_x_px"][k], series[f"{end}_y_px"][k]]) for end in ("frog", "head"))
    part = part_around(frog, head, size, AROUND_SHARE)
    if part is None:
        return None
    x, y, w, h = part
    t_s = float(series.t[k])
    picture = np.ascontiguousarray(store.at(t_s).image[y : y + h, x : x + w])
    larger = NETS_PX / max(w, h)
    way = cv2.INTER_CUBIC if larger > 1 else cv2.INTER_AREA
    found = models.hands(cv2.resize(picture, None, fx=larger, fy=larger, interpolation=way)).result()
    points = _bow_hand([p / larger + [x, y] for p, _ in found], frog, NEAR_FROG * float(np.linalg.norm(head - frog)))
    if points is None:
        return None
    return HandLook(t_s, points, frog, head, float(series["bow_position"][k]), stroke.number, stroke.direction == "down", stroke.string)


def _bow_hand(hands: Sequence[Array], frog: Array, reach: float) -> Array | None:
    """The hand that is nearest to the frog; None where none is near."""
    near = min(hands, key=lambda p: float(np.linalg.norm(p.mean(axis=0) - frog)), default=None)
    return near if near is not None and float(np.linalg.norm(near.mean(axis=0) - frog)) < reach else None
