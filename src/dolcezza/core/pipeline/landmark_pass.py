"""The instrument's landmarks while the bow is watched: some looks over the take, answered by the net beside the measuring."""

from __future__ import annotations

from concurrent.futures import Future

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.camera.seen import SeenPoint
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.core.media.video import Frame, rgb_part
from dolcezza.core.models.asked import Models
from dolcezza.core.models.crop import Square
from dolcezza.core.models.landmarks import Guess
from dolcezza.core.pipeline.find_instrument import (
    CLOSE_PX,
    DETAIL_PX,
    Look,
    agreed,
    close_square,
    closeup,
    detail_square,
    look_closely,
    with_detail,
)
from dolcezza.core.tracking.landmarks_seen import ONE_LOOK, LandmarkLook, learnt_sd

LOOKS = 26
MOST_PX = 1100
AROUND = tuple((wider, np.radians(turn)) for wider in (1.4, 1.0, 2.0) for turn in (0.0, -30.0, 30.0, -60.0, 60.0))
"""Where a pose shows no instrument it is looked for in squares so much wider and turned about bridge and fingerboard's end: from four
rough clicks on a small instrument the neck may be half as long and point elsewhere."""
NEAR_CLICKS = 0.15
"""Found there, bridge and fingerboard's end must lie where they were clicked, up to this share of the instrument's length."""


def seen_in_frame(model: InstrumentModel, camera: Camera, picture: Array, models: Models, *, scale_px: float) -> list[SeenPoint]:
    """The landmarks that one picture (h, w, 3) RGB shows and one instrument explains, looked for from where ``camera`` has them."""
    start = camera.project(np.array([model.landmarks[n] for n in LANDMARK_NAMES]))
    if not np.isfinite(start).all():
        return []

    def look(part: Array) -> Guess:
        return models.instrument(part).result()

    try:
        found = look_closely(model, picture, look, start) or _look_around(model, picture, look, start)
    except ModelsMissing:
        return []
    if found is None:
        return []
    guess, _, names = found
    sd = {n: ONE_LOOK * scale_px * learnt_sd(model, n) for n in names}
    return [SeenPoint(n, guess.xy[LANDMARK_NAMES.index(n)], sd[n]) for n in names]


def _look_around(model: InstrumentModel, picture: Array, look: Look, start: Array) -> tuple[Guess, LandmarkFit, list[str]] | None:
    """The clearest of the close looks from ``AROUND`` the landmarks (12, 2) px that a doubtful pose has; None where nothing is found."""
    middle = start[:4].mean(axis=0)
    best = None
    for wider, turn in AROUND:
        c, s = np.cos(turn), np.sin(turn)
        found = look_closely(model, picture, look, middle + wider * (start - middle) @ np.array([[c, s], [-s, c]]))
        if found is None:
            continue
        guess, fit, names = found
        there = fit.camera.project(np.array([model.landmarks[n] for n in LANDMARK_NAMES]))
        beside = float(np.linalg.norm(there[:4].mean(axis=0) - middle)) / close_square(there).side
        clear = float(sum(guess.share[LANDMARK_NAMES.index(n)] for n in names))
        if beside < NEAR_CLICKS and (best is None or clear > best[0]):
            best = clear, found
    return None if best is None else best[1]


class LandmarkPass:
    """Takes frames of one take and gives looks at the landmarks."""

    def __init__(self, model: InstrumentModel, duration_s: float, models: Models) -> None:
        self._model = model
        self._places = np.array([model.landmarks[n] for n in LANDMARK_NAMES])
        self._size = (0, 0)
        self._models = models
        self._apart = duration_s / LOOKS
        self._next = 0.0
        self._asked: list[tuple[float, int, list[tuple[Array, Future[Guess]]]]] = []
        self._models.warm("instrument")

    def look(self, frame: Frame, camera: Camera, number: int) -> None:
        """Have a frame looked at if it is time for one; ``number`` of the look at the instrument that found ``camera``."""
        if frame.t_s < self._next:
            return
        places = camera.project(self._places)
        square = close_square(places)
        h, w = frame.image.shape[:2]
        self._size = (w, h)
        half = 0.75 * square.side
        if not np.isfinite([*square.middle, half]).all() or half > 2 * max(h, w):
            return
        x0, y0 = (int(np.clip(v - half, 0, n - 1)) for v, n in zip(square.middle, (w, h), strict=True))
        x1, y1 = (int(np.clip(v + half, 0, n)) for v, n in zip(square.middle, (w, h), strict=True))
        if x1 - x0 < 40 or y1 - y0 < 40:
            return
        self._next = frame.t_s + self._apart
        part, scale = rgb_part(frame, (x0, y0, x1, y1), MOST_PX)
        answers = []
        for each, px in ((square, CLOSE_PX), (detail_square(places), DETAIL_PX)):
            own = Square((each.middle - [x0, y0]) * scale, each.side * scale, each.angle)
            picture, way = closeup(part, own, px)
            way = way / scale
            way[:, 2] += [x0, y0]
            answers.append((way, self._models.instrument(picture)))
        self._asked.append((frame.t_s, number, answers))

    def seen(self, cameras: list[Camera]) -> list[LandmarkLook]:
        """Wait for the last answers; ``cameras``: the pose of each look at the instrument, by number. Of each look only what one instrument
        explains."""
        out = []
        for t_s, number, answers in self._asked:
            try:
                guess = with_detail(*(answer.result().moved(way) for way, answer in answers))
            except ModelsMissing:
                return []
            told = agreed(self._model, guess, self._size, cameras[number])
            if told is not None:
                good = np.isin(LANDMARK_NAMES, told[1])
                out.append(LandmarkLook(t_s, cameras[number], guess.xy[:12], np.where(good, guess.share[:12], 0.0)))
        return out
