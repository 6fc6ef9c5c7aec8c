"""What was measured drawn into a frame that leaves the program: bow, straight line, figures; heads hidden unless asked for."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.reports.faces import hide_faces
from dolcezza.reports.language import Language

BOW, STRAIGHT, EDGE, WORDS = (0, 0, 0), (255, 255, 255), (40, 40, 40), (255, 255, 255)
"""Lines on a picture: the bow black in white, the straight line white in black."""


def draw_bow(image: Array, series: BowSeries, k: int) -> None:
    """The bow of frame ``k`` and where it would be if it were straight, into the picture (h, w, 3)."""
    scale = max(image.shape[1] / 1280, 0.5)
    for a, b, inner, outer in (("frog", "straight", STRAIGHT, EDGE), ("frog", "head", BOW, STRAIGHT)):
        ends = [(float(series[f"{n}_x_px"][k]), float(series[f"{n}_y_px"][k])) for n in (a, b)]
        if np.isfinite(ends).all():
            p, q = (tuple(round(v) for v in e) for e in ends)
            cv2.line(image, p, q, outer, max(2, round(7 * scale)), cv2.LINE_AA)
            cv2.line(image, p, q, inner, max(1, round(3 * scale)), cv2.LINE_AA)


def drawn(
    image: Array, series: BowSeries, k: int, heads: Sequence[tuple[float, float, float]] | None, words: Language,
    others: Sequence[tuple[float, float, float]] = (),
) -> Array:  # fmt: skip
    """A frame (h, w, 3) with what was measured at ``k``; the player's ``heads`` are hidden, and those of ``others``; None = shown."""
    out = image.copy()
    if heads is not None:
        bow = [(float(series[f"{n}_x_px"][k]), float(series[f"{n}_y_px"][k])) for n in ("frog", "head")]
        out = np.ascontiguousarray(hide_faces(out, heads, bow, others))
    draw_bow(out, series, k)
    told = [
        words.show(name, float(series[column][k]))
        for name, column in (("bow_angle", "bow_angle_deg"), ("contact_point", "contact_point_mm")) if np.isfinite(series[column][k])
    ]  # fmt: skip
    if told:
        size = max(out.shape[1] / 1280, 0.5)
        # the drawn letters know no sign for degrees
        line = "   ".join(told).replace("°", " deg").replace("−", "-").replace("±", "+-")
        at = (round(16 * size), out.shape[0] - round(18 * size))
        for colour, width in ((EDGE, 5), (WORDS, 2)):
            cv2.putText(out, line, at, cv2.FONT_HERSHEY_SIMPLEX, 0.9 * size, colour, max(1, round(width * size)), cv2.LINE_AA)
    return np.asarray(out)
